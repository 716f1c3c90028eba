// Any figure over travel, roll, pitch or steering.
#pragma once

#include <optional>
#include <vector>

#include "core/measure/car_figures.hpp"

namespace lowkite {

enum class SweepOver : std::uint8_t { travel, roll, pitch, steer };

struct SweepSpec {
  SweepOver over;
  std::string_view id;
  std::string_view label;
  std::string_view unit;
};
std::span<const SweepSpec> sweep_specs();
const SweepSpec& spec_of(SweepOver over);

/// From `from` to `to`, both included: mm of bump for travel, degrees for roll (+ = right), pitch (+ = nose down) and
/// steering (of the servo, or mm of rack on a car without a steering linkage; + = left).
struct Sweep {
  SweepOver over = SweepOver::travel;
  double from = -5.0;
  double to = 5.0;
  int samples = 25;  ///< at least 2
};

struct SweepPoint {
  double x = 0.0;
  std::optional<CarFigures> figures;  ///< none: the car cannot stand like that
};

/// The attitude with one of its inputs replaced (travel: ride heights of `level` less x; the others as given).
Attitude swept(const CarModel& model, const Attitude& level, SweepOver over, double x);

/// The car swept around `attitude`.
std::vector<SweepPoint> sweep(const CarModel& model, const Attitude& attitude, const Sweep& sweep);

/// The chassis pitched nose down by `pitch_rad` about the middle between its gauge points.
Attitude pitched(const Car& car, const Attitude& level, double pitch_rad);

}  // namespace lowkite
