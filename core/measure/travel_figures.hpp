// What is read off a car over its whole travel and lock, not at one attitude: stops, end points, shafts, roll.
#pragma once

#include <optional>

#include "core/measure/car_figures.hpp"
#include "core/measure/lock.hpp"

namespace lowkite {

struct CornerTravel {
  CornerStops stops;
  std::optional<double> motion_ratio_in_droop;          ///< of the shock with the wheel hanging
  std::optional<double> motion_ratio_in_bump;           ///< and at the bump stop
  std::optional<double> shaft_least_to_falling_out_mm;  ///< over travel and lock; negative = the shaft falls out
  std::optional<double> shaft_least_to_bottoming_mm;    ///< negative = the pin meets the bottom
  double shaft_most_angle_rad = 0.0;                    ///< of the outer joint
  double toe_span_rad = 0.0;                            ///< greatest less least toe between the stops
  /// This wheel's camber to the ground as the outer wheel with one degree of roll, less its camber without; rad.
  double camber_per_degree_of_roll_rad = 0.0;
};

struct TravelFigures {
  PerEnd<PerSide<CornerTravel>> corner;
  /// How far the moving roll centre goes sideways with one degree of roll to the right, mm, + = to the left.
  PerEnd<std::optional<double>> roll_centre_per_degree_mm;
  std::optional<LockFigures> lock;              ///< of a car with a steering linkage
  std::optional<SteeringFigures> at_left_lock;  ///< at the end points, at ride height
  std::optional<SteeringFigures> at_right_lock;
  std::optional<double> ratio_in_the_middle;
};

/// Greatest less least toe of a wheel to the car between its stops, rad: the total bump steer.
double toe_span(const CornerModel& corner, const CornerStops& stops, const SteerInput& input);

/// `standing` is the car at ride height, level, steering in the middle. `samples`: as in find_lock; 0: with the
/// steering in the middle alone. `known`: of a car whose axle there is the same, as it stands over the ground, too;
/// what is read off that axle alone is taken from it.
TravelFigures read_travel(const CarModel& model, const CarPose& standing, const CarFigures& level, int samples,
                          const PerEnd<const TravelFigures*>& known = {});

}  // namespace lowkite
