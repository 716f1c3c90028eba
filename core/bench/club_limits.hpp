// What a club or federation asks of a car, entered once by the racer. Its rules come before anything the program says.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/measure/car_figures.hpp"

namespace lowkite {

struct ClubLimits {
  std::optional<double> least_mass_g{};
  std::optional<double> least_ride_height_mm{};
  std::optional<double> most_width_mm{};
  /// Where the battery's middle may lie, behind the nominal front axle.
  std::optional<double> least_battery_behind_mm{};
  std::optional<double> most_battery_behind_mm{};

  bool operator==(const ClubLimits&) const = default;
};

enum class LimitKind : std::uint8_t { mass, ride_height, width, battery_ahead, battery_back };

struct LimitBroken {
  LimitKind kind = LimitKind::mass;
  double is = 0.0;
  double allowed = 0.0;
  End end = End::front;  ///< for ride height and width
};

/// Across the outermost edges of an axle's tyres, wheels as they stand, mm.
double overall_width_mm(const CarModel& model, const CarPose& pose, End end);

/// Every limit that the car breaks as it stands. Limits on what the car file does not tell (a mass) are passed over.
std::vector<LimitBroken> broken_limits(const CarModel& model, const CarPose& standing, const ClubLimits& limits);

}  // namespace lowkite
