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

#include "core/linkage/chain.hpp"
#include "core/pose/pose.hpp"

namespace lowkite {

template <class N>
struct KingpinFiguresOf {
  N caster_rad = N(0.0);
  N inclination_rad = N(0.0);
  N trail_mm = N(0.0);
  N scrub_mm = N(0.0);
  VectorOf<N> on_ground = VectorOf<N>::Zero();  ///< where its line meets the ground
};
using KingpinFigures = KingpinFiguresOf<double>;

template <class N>
struct WheelFiguresOf {
  N camber_rad = N(0.0);
  N toe_rad = N(0.0);
  std::optional<KingpinFiguresOf<N>> kingpin;  ///< only where there is one
  VectorOf<N> contact = VectorOf<N>::Zero();
  VectorOf<N> wheel_centre = VectorOf<N>::Zero();

  // Exact derivatives along the wheel centre's travel in the chassis (its z), with the steering still.
  N camber_gain_rad_per_mm = N(0.0);
  N bump_steer_rad_per_mm = N(0.0);  ///< toe per travel, positive = toes in as the wheel rises
  N caster_gain_rad_per_mm = N(0.0);
  VectorOf<N> contact_per_travel = VectorOf<N>::Zero();         ///< path of the lowest point
  VectorOf<N> locked_contact_per_travel = VectorOf<N>::Zero();  ///< the same with the kingpin joint held
  N toe_per_steer_rad = N(0.0);  ///< per unit of steering (see Steered), the tyre kept at its height over the ground
  /// Path of the wheel centre, and of the material point of a locked wheel at the ground, per travel.
  VectorOf<N> centre_per_travel = VectorOf<N>::UnitZ();
  VectorOf<N> locked_wheel_per_travel = VectorOf<N>::UnitZ();
  N pitch_per_travel_rad = N(0.0);  ///< of the wheel's body about the outboard axis, nose down positive
};
using WheelFigures = WheelFiguresOf<double>;

/// Precondition: `ground` is given in the corner's frame.
WheelFigures read_wheel(const CornerModel& corner, const CornerPose& pose, const Ground& ground);

/// The same for any number.
template <class N>
WheelFiguresOf<N> read_wheel(const TyreShape<N>& tyre, const WheelPoseOf<N>& pose, const Ground& ground) {
  using std::asin;
  using std::atan2;
  using std::sqrt;
  const VectorOf<N> up = wide<N>(ground.up);
  const VectorOf<N> forward = wide<N>(ground.forward);
  const VectorOf<N> outboard = wide<N>(ground.left);
  const VectorOf<N>& spin = pose.spin_axis;
  const N sine = spin.dot(up);
  const N fore = spin.dot(forward);
  const N out = spin.dot(outboard);
  const auto toe_rate = [&](const VectorOf<N>& spin_rate) {
    return N((out * spin_rate.dot(forward) - fore * spin_rate.dot(outboard)) / (fore * fore + out * out));
  };
  WheelFiguresOf<N> w;
  w.camber_rad = -asin(clamped(sine, -1.0, 1.0));
  w.toe_rad = atan2(fore, out);
  w.wheel_centre = pose.centre;
  w.contact = contact_point<N>(tyre, pose.centre, spin, up);

  const TwistOf<N>& free = pose.by_arm;
  const VectorOf<N> centre_rate = free.at(pose.centre);
  const N per_travel = N(1.0) / centre_rate.z();
  const VectorOf<N> spin_rate = free.angular.cross(spin) * per_travel;
  w.camber_gain_rad_per_mm = -spin_rate.dot(up) / sqrt(N(1.0) - sine * sine);
  w.bump_steer_rad_per_mm = toe_rate(spin_rate);
  w.contact_per_travel = contact_velocity<N>(tyre, pose.centre, spin, up, free) * per_travel;
  w.centre_per_travel = centre_rate * per_travel;
  w.locked_wheel_per_travel = free.at(w.contact) * per_travel;
  w.pitch_per_travel_rad = free.angular.y() * per_travel;
  const TwistOf<N>& locked = pose.locked_by_arm;
  w.locked_contact_per_travel = contact_velocity<N>(tyre, pose.centre, spin, up, locked) / locked.at(pose.centre).z();
  if (!pose.has_kingpin) return w;

  const VectorOf<N> k = pose.kingpin_upper - pose.kingpin_lower;
  const N k_fore = -k.dot(forward);
  const N k_high = k.dot(up);
  KingpinFiguresOf<N>& kingpin = w.kingpin.emplace();
  kingpin.caster_rad = atan2(k_fore, k_high);
  kingpin.inclination_rad = atan2(-k.dot(outboard), k_high);
  kingpin.on_ground = pose.kingpin_lower + k * ((w.contact - pose.kingpin_lower).dot(up) / k_high);
  const VectorOf<N> heading = unit<N>(spin.cross(up));
  const VectorOf<N> off = kingpin.on_ground - w.contact;
  kingpin.trail_mm = off.dot(heading);
  kingpin.scrub_mm = -off.dot(up.cross(heading));
  const VectorOf<N> k_rate = pose.carrier_turn.cross(k) * per_travel;
  w.caster_gain_rad_per_mm =
      (k_high * -k_rate.dot(forward) - k_fore * k_rate.dot(up)) / (k_fore * k_fore + k_high * k_high);
  // Steered, the wheel rises or sinks; on the ground its arm gives way.
  const N rises =
      contact_velocity<N>(tyre, pose.centre, spin, up, pose.by_steer).dot(up) / w.contact_per_travel.dot(up);
  w.toe_per_steer_rad = toe_rate(pose.by_steer.angular.cross(spin)) - w.bump_steer_rad_per_mm * rises;
  return w;
}

/// Tells `f` every number of wheels that are alike in having a kingpin or not, field by field of all of them.
template <class F, class... Wheel>
void each_number(const F& f, Wheel&... w) {
  const auto vector = [&](auto&... v) {
    for (int i = 0; i < 3; ++i) f(v(i)...);
  };
  f(w.camber_rad...);
  f(w.toe_rad...);
  vector(w.contact...);
  vector(w.wheel_centre...);
  f(w.camber_gain_rad_per_mm...);
  f(w.bump_steer_rad_per_mm...);
  f(w.caster_gain_rad_per_mm...);
  vector(w.contact_per_travel...);
  vector(w.locked_contact_per_travel...);
  f(w.toe_per_steer_rad...);
  vector(w.centre_per_travel...);
  vector(w.locked_wheel_per_travel...);
  f(w.pitch_per_travel_rad...);
  if (!(w.kingpin.has_value() && ...)) return;
  f(w.kingpin->caster_rad...);
  f(w.kingpin->inclination_rad...);
  f(w.kingpin->trail_mm...);
  f(w.kingpin->scrub_mm...);
  vector(w.kingpin->on_ground...);
}
constexpr std::size_t numbers_of_a_wheel = 32;

}  // namespace lowkite
