// A car through a corner as a row of steady stands: on the brake and turning in, in the middle, out on power.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "core/load/turn.hpp"

namespace lowkite {

/// What the driver asks for, in g; all three are positive numbers.
struct CornerPath {
  double lateral_g = 1.2;
  double braking_g = 0.5;
  double power_g = 0.4;
  bool to_the_left = true;
  double radius_m = 0.0;  ///< of the turn where it is tightest, which asks for steering; 0: the wheels stay straight

  bool operator==(const CornerPath&) const = default;
};

enum class CornerPhase : std::uint8_t { entry, middle, exit };
std::string_view name_of(CornerPhase phase);

struct PathPoint {
  double along = 0.0;  ///< 0 = brakes on and straight ahead, 1 = straight again and on power
  CornerPhase phase = CornerPhase::entry;
  Acceleration a;
  double servo_rad = 0.0;
  std::optional<Balance> balance;  ///< none: the car finds no stand there
};

/// Where the middle begins and ends, along the path.
constexpr double middle_from = 0.4;
constexpr double middle_to = 0.6;

/// What the driver asks for at one place of the path: along an ellipse from braking to cornering, round the middle at
/// full cornering, and along another to full power. Steps of speed and the line itself are left out.
Acceleration asked_at(const CornerPath& path, double along);

/// The servo there: at the speed with which the middle's lateral acceleration makes its radius, the turn is as much
/// wider as that acceleration is less. None where the steering does not reach.
std::optional<double> servo_at(const CarModel& model, const CornerPath& path, const Acceleration& a);

/// The stands under a row of accelerations, those that are reached from rest, found sooner from their neighbours; none
/// where there is no stand. Shared out between so many threads (0: as many as the machine has) in rows of neighbours.
/// `servo_rad`: one for each acceleration; empty: the wheels stay straight.
std::vector<std::optional<Balance>> stands_under(const LoadedCar& car, const Collars& collars,
                                                 std::span<const Acceleration> accelerations, unsigned threads = 1,
                                                 std::span<const double> servo_rad = {});

/// The stands at `samples` (>= 2) even places of the path. Damping and the time that a car takes to lean are left out.
std::vector<PathPoint> through_corner(const LoadedCar& car, const Collars& collars, const CornerPath& path,
                                      int samples);

}  // namespace lowkite
