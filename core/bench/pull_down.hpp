// Spring pressure at the tyre: scales under an axle, the chassis pulled down step by step, grams read at each depth.
//
// A straight line through the readings gives the rate and what presses the tyres at ride height and with the wheels
// hanging; the model's own curve over the same depths tells what spring would read like that.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/car/car.hpp"
#include "core/car/setup.hpp"
#include "core/stats/statistics.hpp"

namespace lowkite {

struct CarModel;

struct PullPoint {
  double depth_mm = 0.0;  ///< the chassis below ride height
  double grams = 0.0;     ///< both scales of the axle together

  bool operator==(const PullPoint&) const = default;
};

/// What the model reads at these depths; points that the car cannot reach are left out.
std::vector<PullPoint> modelled_pull(const CarModel& model, End end, std::span<const double> depths_mm);

/// The straight line of a pull-down, in a racer's units.
struct PullLine {
  StraightLine line;              ///< grams over mm
  double wheel_rate_n_mm = 0.0;   ///< of one wheel
  double wheel_rate_error = 0.0;  ///< one standard deviation
  double at_ride_height_g = 0.0;  ///< both tyres, chassis at ride height
  double hanging_g = 0.0;  ///< both tyres just before they leave the scales: preload, with the wheels' own weight
  bool bends = false;      ///< more than the scale's resolution off the line: a progressive spring, or a slip
};
/// None for fewer than two depths. `droop_mm`: how far the wheels hang below ride height.
std::optional<PullLine> pull_line(std::span<const PullPoint> points, double droop_mm, double scale_resolution_g);

/// The spring that would read like the points, all else as the model has it.
struct SpringSaid {
  double fitted_n_mm = 0.0;  ///< as the setup says
  double read_n_mm = 0.0;    ///< as the scales say
  double error_n_mm = 0.0;   ///< one standard deviation
  bool agrees = false;       ///< to two standard deviations or five percent, whichever is more
};
/// None where the setup's springs are not described or the depths are too few. Linear springs.
std::optional<SpringSaid> spring_said(const Car& car, const Setup& setup, End end, std::span<const PullPoint> points);

/// Readings of scales that were set to nothing under the standing car, with its modelled load put back on.
std::vector<PullPoint> untared(const CarModel& model, End end, std::span<const PullPoint> points);

/// How a spring's rate goes on with its compression, over what was read.
struct Progression {
  double first_n_mm = 0.0;
  double last_n_mm = 0.0;
  double percent = 0.0;        ///< of the last over the first
  double error_percent = 0.0;  ///< one standard deviation, from the scatter or what the scale can tell
};
/// The readings against the fitted spring over the same depths. None for fewer than four depths, or where they do not
/// rise.
struct ProgressionSaid {
  Progression read;
  double fitted_percent = 0.0;
  bool differs = false;  ///< by more than two standard deviations and ten per cent
};
std::optional<ProgressionSaid> progression_said(const CarModel& model, End end, std::span<const PullPoint> points,
                                                double scale_resolution_g);

/// The spring itself, as the scales say it: compression and force at each depth, brought through the motion ratio, from
/// {0, 0} on; below the least force read it is taken to be straight. None where the car describes no shock, or where
/// the readings do not rise. A car file takes it as its `spring_table`.
std::optional<std::vector<SpringPoint>> spring_read(const CarModel& model, End end, std::span<const PullPoint> points);

}  // namespace lowkite
