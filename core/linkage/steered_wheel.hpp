// The last joint of most corners: the wheel's body turns about a line of its carrier (a kingpin, or the line of two
// ball joints) until the tie rod or toe link fits; and the search for the directions that a wheel is to hold.
#pragma once

#include "core/linkage/joints.hpp"

namespace lowkite {

class SteeredWheel {
 public:
  /// `hinge`: the line in the carrier, held by `rod`.
  SteeredWheel(const CornerGeometry& g, const RodHinge& hinge, const LinkSpec& rod, int wheel_centre)
      : hinge_(hinge),
        rod_(rod),
        inner_(g.set[at(rod.inner)]),
        wheel_centre_(g.set[at(wheel_centre)]),
        spin_axis_(g.spin_axis) {}

  /// Turns the wheel on its carrier and fills in what a pose says of both.
  tl::expected<void, LinkageFailure> place(CornerPose& pose, const Placement& carrier, const Twist& carrier_twist,
                                           const SteerInput& steer) const;

  /// Where the wheel's body is on a carrier: with the wanted toe and the rod left open, or with the rod as it is.
  [[nodiscard]] tl::expected<Placement, LinkageFailure> settle(const Placement& carrier, const SteerInput& steer,
                                                               const WheelHold& wanted) const;

  /// The length that the rod has with the wheel's body there, mm.
  [[nodiscard]] double rod_length(const Placement& wheel, const SteerInput& steer) const {
    return (wheel.point(hinge_.ball()) - (inner_ + steer.shift)).norm();
  }

 private:
  RodHinge hinge_;
  const LinkSpec& rod_;
  Vec3 inner_;
  Vec3 wheel_centre_;
  Vec3 spin_axis_;
};

/// Says where the wheel is and which way it points, once its body is placed on `Body::knuckle`.
inline void point_wheel(CornerPose& pose, const Vec3& wheel_centre, const Vec3& spin_axis) {
  pose.wheel_body = Body::knuckle;
  pose.wheel_centre = pose.placement(Body::knuckle).point(wheel_centre);
  pose.spin_axis = pose.placement(Body::knuckle).direction(spin_axis);
}

struct HeldWheel {
  Placement carrier;
  Placement wheel;
};

/// Tilts a carrier about `tilt`, the wheel settled on it, until the wheel has the directions wanted. `wheel` nullptr:
/// the wheel turns in the carrier itself. `camber_link`: whom to blame when no tilt gives the camber.
tl::expected<HeldWheel, LinkageFailure> hold_by_tilting(const Axis& tilt, const Placement& carrier,
                                                        const SteeredWheel* wheel, const Vec3& spin_axis,
                                                        const SteerInput& steer, const WheelHold& wanted,
                                                        const LinkSpec& camber_link);

}  // namespace lowkite
