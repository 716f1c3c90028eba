// What is read off a steered axle: wheel angles, Ackermann, turning radius, steering ratio.
#pragma once

#include <optional>

#include "core/measure/wheel.hpp"

namespace lowkite {

/// Inner against outer wheel in a turn. Angles are headings of the wheels, static toe included, as a lock gauge reads
/// them.
struct AckermannFigures {
  Side inside = Side::left;
  double inner_rad = 0.0;  ///< positive = into the turn
  double outer_rad = 0.0;
  double ideal_outer_rad = 0.0;  ///< by cot(outer) - cot(inner) = kingpin track / wheelbase (Gillespie, from memory)
  double percent = 0.0;          ///< of the ideal difference between the two wheels; 100 = ideal, 0 = parallel
  double error_rad = 0.0;        ///< outer less ideal outer; positive = the outer wheel turns too far
};

struct SteeringFigures {
  PerSide<double> steer_rad{};                 ///< heading of each wheel, positive = to the left
  std::optional<AckermannFigures> ackermann;   ///< none while the wheels hardly turn
  std::optional<double> turning_radius_mm;     ///< of the middle of the rear axle; none straight ahead
  std::optional<double> ratio;                 ///< servo against mean wheel angle, here and now; none without a servo
  double kingpin_track_mm = 0.0;               ///< between the points where the kingpins meet the ground
  std::optional<double> horn_from_square_rad;  ///< of the horn to its drag link; 0 = square
};

/// Below this mean wheel angle Ackermann is told by its limit nowhere: the difference of the wheels is all toe.
constexpr double least_lock_for_ackermann_rad = radians(2.0);

/// The ideal outer angle for an inner angle in (0, 90) degrees. Kingpin track and wheelbase in the same unit.
double ideal_outer(double inner_rad, double kingpin_track, double wheelbase);

/// Precondition: a steered front axle. `steering` nullptr: no servo.
SteeringFigures read_steering(const CarModel& model, const PerSide<WheelFigures>& front, const SteeringPose* steering,
                              double wheelbase_mm);

/// How far the horn stands from square to its drag link in a pose, rad; none where there is no drag link.
std::optional<double> horn_from_square(const CarModel& model, const SteeringPose& pose);

}  // namespace lowkite
