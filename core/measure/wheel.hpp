// What an engineer reads off one wheel.
//
// All in the corner frame, so that "outboard" is the same for both sides. Angles in rad. Definitions, with a the
// outward unit spin axis, e the ground's upward normal, f and l its forward and outboard directions, k the kingpin from
// lower to upper end (ISO 8855 and SAE J670, from memory):
//   camber = -asin(a.e)              negative = top leans inward
//   toe    = atan2(a.f, a.l)         positive = toe-in
//   caster = atan2(-k.f, k.e), kingpin inclination = atan2(-k.l, k.e)
//   trail and scrub: where the kingpin's line meets the ground, against the contact point, in the *wheel's* directions;
//   trail positive = kingpin ahead, scrub positive = contact outboard of the kingpin.
#pragma once

#include <optional>

#include "core/pose/pose.hpp"

namespace lowkite {

struct KingpinFigures {
  double caster_rad = 0.0;
  double inclination_rad = 0.0;
  double trail_mm = 0.0;
  double scrub_mm = 0.0;
  Vec3 on_ground = Vec3::Zero();  ///< where its line meets the ground
};

struct WheelFigures {
  double camber_rad = 0.0;
  double toe_rad = 0.0;
  std::optional<KingpinFigures> kingpin;  ///< only where there is one
  Vec3 contact = Vec3::Zero();
  Vec3 wheel_centre = Vec3::Zero();

  // Exact derivatives along the wheel centre's travel in the chassis (its z), with the steering still.
  double camber_gain_rad_per_mm = 0.0;
  double bump_steer_rad_per_mm = 0.0;  ///< toe per travel, positive = toes in as the wheel rises
  double caster_gain_rad_per_mm = 0.0;
  Vec3 contact_per_travel = Vec3::Zero();         ///< path of the lowest point
  Vec3 locked_contact_per_travel = Vec3::Zero();  ///< the same with the kingpin joint held
  double toe_per_steer_rad = 0.0;                 ///< per unit of steering (see Steered)
  /// Path of the wheel centre, and of the material point of a locked wheel at the ground, per travel.
  Vec3 centre_per_travel = Vec3::UnitZ();
  Vec3 locked_wheel_per_travel = Vec3::UnitZ();
  double pitch_per_travel_rad = 0.0;  ///< of the wheel's body about the outboard axis, nose down positive
};

/// Precondition: `ground` is given in the corner's frame.
WheelFigures read_wheel(const CornerModel& corner, const CornerPose& pose, const Ground& ground);

}  // namespace lowkite
