#include "core/linkage/steered_wheel.hpp"

namespace lowkite {

tl::expected<void, LinkageFailure> SteeredWheel::place(CornerPose& pose, const Placement& carrier,
                                                       const Twist& carrier_twist, const SteerInput& steer) const {
  const auto turned = hinge_.fit(carrier, inner_ + steer.shift);
  if (!turned) return tl::unexpected(blame(rod_, turned.error()));
  pose.body[at(Body::rack)].translation = steer.shift;
  pose.body[at(Body::carrier)] = carrier;
  pose.by_arm[at(Body::carrier)] = carrier_twist;
  pose.body[at(Body::knuckle)] = turned->body;
  pose.by_arm[at(Body::knuckle)] = hinge_.twist(*turned, carrier_twist, Vec3::Zero());
  pose.wheel_locked_by_arm = carrier_twist;
  pose.wheel_by_steer = hinge_.twist(*turned, Twist{}, steer.rate);
  pose.has_kingpin = true;
  point_wheel(pose, wheel_centre_, spin_axis_);
  return {};
}

tl::expected<Placement, LinkageFailure> SteeredWheel::settle(const Placement& carrier, const SteerInput& steer,
                                                             const WheelHold& wanted) const {
  const Vec3 anchor = inner_ + steer.shift;
  if (!wanted.toe) {
    const auto fitted = hinge_.fit(carrier, anchor);
    if (!fitted) return tl::unexpected(blame(rod_, fitted.error()));
    return fitted->body;
  }
  const auto t = turn_until_component(hinge_.axis_on(carrier).direction, hinge_.unturned(carrier).direction(spin_axis_),
                                      HoldLoop::toe_normal(wanted), 0.0);
  if (!t) return tl::unexpected(blame(rod_, t.error()));
  return hinge_.turned(carrier, *t, anchor).body;
}

tl::expected<HeldWheel, LinkageFailure> hold_by_tilting(const Axis& tilt, const Placement& carrier,
                                                        const SteeredWheel* wheel, const Vec3& spin_axis,
                                                        const SteerInput& steer, const WheelHold& wanted,
                                                        const LinkSpec& camber_link) {
  HeldWheel held{carrier, carrier};
  for (int round = 0; round < HoldLoop::most_rounds; ++round) {
    held.wheel = held.carrier;
    if (wheel) {
      const auto settled = wheel->settle(held.carrier, steer, wanted);
      if (!settled) return tl::unexpected(settled.error());
      held.wheel = *settled;
    }
    if (!wanted.camber) break;
    const auto t =
        turn_until_component(tilt.direction, held.wheel.direction(spin_axis), wanted.up, -std::sin(*wanted.camber));
    if (!t) return tl::unexpected(blame(camber_link, t.error()));
    const Placement further = turned_about(tilt, *t);
    held = {further * held.carrier, further * held.wheel};
    if (std::abs(t->sin) < HoldLoop::settled) break;
  }
  return held;
}

}  // namespace lowkite
