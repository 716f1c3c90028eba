// The car as a heavy body: where its weight is, how hard it is to turn, and how a racer finds the height of its centre
// of gravity.
#pragma once

#include <optional>

#include "core/pose/pose.hpp"

namespace lowkite {

/// Moments of inertia about the centre of gravity, kg mm^2: about the forward, the sideways and the upward axis.
struct Inertia {
  double roll_kg_mm2 = 0.0;
  double pitch_kg_mm2 = 0.0;
  double yaw_kg_mm2 = 0.0;
};

/// What the springs carry, and how it is spread.
struct SprungMass {
  double kg = 0.0;
  Vec3 cg = Vec3::Zero();  ///< in the chassis
  Inertia inertia;         ///< about that centre
};

/// Heavy parts count as points, wheels as rings at their centres, and what is left as an even box over the plate from
/// axle to axle, as high as its own centre asks for (parallel axes, any mechanics text). So it is an estimate: a tenth
/// or two off for a common car. None where the car file tells no mass or no centre of gravity, or less than its parts
/// and wheels weigh.
std::optional<SprungMass> sprung_mass(const CarModel& model, const CarPose& standing);
/// The whole car, wheels included.
std::optional<Inertia> inertia_of(const CarModel& model, const CarPose& standing);

/// Height of the centre of gravity over the ground, mm, from scales with one end raised: `level_g` and `raised_g` are
/// what the axle that stays down shows, `total_g` the whole car, `lift_mm` how far the other axle's wheel centres were
/// raised. Suspension blocked. Both axles' centres are taken to be `axle_height_mm` over what they stand on.
/// Statics; Milliken & Milliken, Race Car Vehicle Dynamics, ch. 18 (from memory). None when the readings make no sense:
/// a lift that is no angle, or no weight moved.
std::optional<double> cg_height_from_raised_end(double total_g, double level_g, double raised_g, double wheelbase_mm,
                                                double lift_mm, double axle_height_mm);

/// The same from the angle at which the car tips over its side, suspension blocked: the centre then stands over the
/// tyres' outer line, `half_track_mm` from it. None for an angle outside 5 to 85 degrees.
std::optional<double> cg_height_from_tilt(double half_track_mm, double tilt_deg);

}  // namespace lowkite
