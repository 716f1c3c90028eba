// What is read off a steered axle: wheel angles, Ackermann, turning radius, steering ratio.
#pragma once

#include <optional>

#include "core/measure/wheel.hpp"

namespace lowkite {

/// Inner against outer wheel in a turn. Angles are headings of the wheels, static toe included, as a lock gauge reads
/// them; only the percentage has the toe taken off, which at small lock would tell of nothing else.
struct AckermannFigures {
  Side inside = Side::left;
  double inner_rad = 0.0;  ///< positive = into the turn
  double outer_rad = 0.0;
  /// By cot(outer) - cot(inner) = kingpin track / wheelbase (Gillespie, from memory), and the outer wheel less it;
  /// positive = the outer wheel turns too far. None where the inner wheel does not turn into the turn.
  std::optional<double> ideal_outer_rad;
  std::optional<double> error_rad;
  /// Of the ideal difference between the two wheels, both counted from where they stand straight ahead; 100 = ideal,
  /// 0 = parallel.
  std::optional<double> percent;
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

/// Headings of the front wheels, positive to the left, static toe included.
PerSide<double> headings(const PerSide<WheelFigures>& front);

/// Headings of the front wheels, positive to the left, as the car stands with its steering in the middle; straight
/// ahead where it cannot stand so. Precondition: a steered front axle.
PerSide<double> straight_ahead(const CarModel& model);

/// Precondition: a steered front axle. `steering` nullptr: no servo. `straight`: as above.
SteeringFigures read_steering(const CarModel& model, const PerSide<WheelFigures>& front, const SteeringPose* steering,
                              double wheelbase_mm, const PerSide<double>& straight = {});

/// True where the wheels are steered far enough for Ackermann to be told: only then `straight` counts.
bool tells_ackermann(const PerSide<WheelFigures>& front);

/// How far the horn stands from square to its drag link in a pose, rad; none where there is no drag link.
std::optional<double> horn_from_square(const CarModel& model, const SteeringPose& pose);

}  // namespace lowkite
