// Where a rigid tyre touches the ground.
#pragma once

#include "core/linkage/geometry.hpp"

namespace lowkite {

/// How the tyre is round: mm. A crown of 0: a disc without width.
template <class N>
struct TyreShape {
  N radius;
  double crown = 0.0;
  double half_width = 0.0;
};

/// The tyre's lowest point: perpendicular to `up`, the point of the rigid tyre farthest down. Leaning past the tread's
/// edge the tyre stands on its shoulder.
template <class N>
VectorOf<N> contact_point(const TyreShape<N>& tyre, const VectorOf<N>& wheel_centre, const VectorOf<N>& spin_axis,
                          const VectorOf<N>& up) {
  using std::abs;
  const N tilt = spin_axis.dot(up);
  const VectorOf<N> down = -unit<N>(up - spin_axis * tilt);
  if (tyre.crown <= 0.0) return wheel_centre + tyre.radius * down;
  const N crown(tyre.crown);
  const N half_width(tyre.half_width);
  const VectorOf<N> on_tread = wheel_centre + (tyre.radius - crown) * down - crown * up;
  const Mask<N> on_its_tread = abs(tilt) * crown <= half_width;
  if (all(on_its_tread)) return on_tread;
  const N shoulder = tyre.radius - crown + N(std::sqrt(tyre.crown * tyre.crown - tyre.half_width * tyre.half_width));
  const N sideways = select(tilt < N(0.0), -half_width, half_width);
  return select<N>(on_its_tread, on_tread, wheel_centre + shoulder * down - sideways * spin_axis);
}

/// Velocity of that lowest point as the wheel moves with `wheel` (the path that a track on the ground follows, not the
/// velocity of the rubber that happens to be there).
template <class N>
VectorOf<N> contact_velocity(const TyreShape<N>& tyre, const VectorOf<N>& wheel_centre, const VectorOf<N>& spin_axis,
                             const VectorOf<N>& up, const TwistOf<N>& wheel) {
  using std::abs;
  using std::sqrt;
  const VectorOf<N> spin_rate = wheel.angular.cross(spin_axis);
  const N tilt = spin_axis.dot(up);
  const N tilt_rate = spin_rate.dot(up);
  const VectorOf<N> in_plane = up - spin_axis * tilt;
  const N n = sqrt(in_plane.squaredNorm());
  const VectorOf<N> plane_unit = in_plane / n;
  const VectorOf<N> in_plane_rate = -spin_rate * tilt - spin_axis * tilt_rate;
  const VectorOf<N> down_rate = (in_plane_rate - plane_unit * plane_unit.dot(in_plane_rate)) / -n;
  const VectorOf<N> centre_rate = wheel.at(wheel_centre);
  if (tyre.crown <= 0.0) return centre_rate + tyre.radius * down_rate;
  const N crown(tyre.crown);
  const N half_width(tyre.half_width);
  const VectorOf<N> on_tread = centre_rate + (tyre.radius - crown) * down_rate;
  const Mask<N> on_its_tread = abs(tilt) * crown <= half_width;
  if (all(on_its_tread)) return on_tread;
  const N shoulder = tyre.radius - crown + N(std::sqrt(tyre.crown * tyre.crown - tyre.half_width * tyre.half_width));
  const N sideways = select(tilt < N(0.0), -half_width, half_width);
  return select<N>(on_its_tread, on_tread, centre_rate + shoulder * down_rate - sideways * spin_rate);
}

}  // namespace lowkite
