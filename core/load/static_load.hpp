// Springs and weights of a car that stands still: what stands on each wheel, where its collars are, how hard an axle
// pushes back when the chassis is pulled down.
//
// Left and right of an axle share its load by the centre of gravity's place across the car; a twist in the collars is
// not part of it (see balance.hpp for that). By virtual work along the arm's motion: N v = F s, with v the contact's
// speed up and s the shock's shortening.
#pragma once

#include <optional>

#include "core/load/spring_place.hpp"
#include "core/measure/car_figures.hpp"

namespace lowkite {

constexpr double gravity_m_s2 = 9.80665;
/// Grams-force of a force in N: what a scale shows.
constexpr double grams(double newton) {
  return newton / gravity_m_s2 * 1000.0;
}

/// What each wheel carries as the car stands, N; none without a mass and a centre of gravity.
std::optional<PerEnd<PerSide<double>>> wheel_loads(const CarModel& model, const CarFigures& standing);

struct SpringState {
  double force_n = 0.0;       ///< in the spring, or the half of it that holds this wheel (see `spring_share`)
  double length_mm = 0.0;     ///< of the spring as it stands
  double collar_mm = 0.0;     ///< from the shock's upper mount down to the collar; of a spring without one: its spacers
  double motion_ratio = 0.0;  ///< shock against the contact's rise over the ground
};

/// The spring of a corner under a wheel load; none when the car describes no spring or shock there.
std::optional<SpringState> spring_under(const CarModel& model, End end, Side side, const CornerPose& pose,
                                        const Ground& corner_ground, double wheel_load_n);

/// How far the collar sits below the shock's upper mount with the car at ride height, mm; none where the springs or the
/// weights are not described.
std::optional<double> collar_place(const CarModel& model, const CarFigures& standing, End end, Side side);

/// How much further down the shocks, mm, an end's collars are where `after` stands than where `before` has them, in the
/// mean; spacers count as what they are in either setup. None where springs or weights are not described.
std::optional<double> collars_moved(const CarModel& before, const CarFigures& stood, const CarModel& after,
                                    const CarFigures& stands, End end);

/// How much lower an end of the car comes to stand, mm, when another setup's parts are put in and every collar and
/// side-spring screw is left where it was; spacers count as what they are in either setup. Positive = lower. The other
/// end is taken to stay. None where springs or weights are not described, or no such height is found.
std::optional<double> sinks_by(const CarModel& before, const CarFigures& stood, const CarModel& after,
                               const CarFigures& stands, End end);

/// What the scales under one axle show together with the chassis lowered by `down_mm` and the collars where they hold
/// the ride height, N. None where the springs are not described or the car cannot stand like that.
std::optional<double> axle_push(const CarModel& model, const CarFigures& standing, End end, double down_mm);

}  // namespace lowkite
