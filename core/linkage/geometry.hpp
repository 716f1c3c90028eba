// Rigid-body geometry shared by every mechanism: axes, placements and twists.
//
// Frame: ISO 8855 axes fixed in the chassis: x forward, y left, z up, z = 0 on the underside of the chassis plate.
// Lengths are mm, angles rad. Mechanisms are solved for the left side; a right corner is mirrored (y -> -y) before it
// gets here and mirrored back for drawing, so inside this folder "outboard" is always +y.
//
// Everything is a template over the number (see number.hpp). The names without `Of` are those of one double, and so are
// functions that are called without naming a number.
#pragma once

#include <type_traits>

#include <Eigen/Core>
#include <Eigen/Geometry>

#include "core/linkage/number.hpp"

namespace lowkite {

template <class N>
using VectorOf = Eigen::Matrix<N, 3, 1>;
template <class N>
using MatrixOf = Eigen::Matrix<N, 3, 3>;
/// Takes any expression for a vector, and leaves the number to be named.
template <class N>
using VectorIn = std::type_identity_t<VectorOf<N>>;

using Vec3 = VectorOf<double>;
using Mat3 = MatrixOf<double>;

/// The same vector in every lane.
template <class N>
VectorOf<N> wide(const Vec3& v) {
  return {N(v.x()), N(v.y()), N(v.z())};
}

/// Of nothing, nothing.
template <class N = double>
VectorOf<N> unit(const VectorIn<N>& v) {
  using std::sqrt;
  const N squared = v.squaredNorm();
  return v / sqrt(select(squared > N(0.0), squared, N(1.0)));
}

template <class N = double>
VectorOf<N> select(const Mask<std::type_identity_t<N>>& mask, const VectorIn<N>& yes, const VectorIn<N>& no) {
  return {select(mask, yes.x(), no.x()), select(mask, yes.y(), no.y()), select(mask, yes.z(), no.z())};
}

/// A directed line. `direction` is a unit vector; turning is positive by the right-hand rule.
template <class N>
struct AxisOf {
  VectorOf<N> point = VectorOf<N>::Zero();
  VectorOf<N> direction = VectorOf<N>::UnitX();
};
using Axis = AxisOf<double>;

/// The axis from `from` to `to`. Precondition: the two points differ.
template <class N = double>
AxisOf<N> axis_through(const VectorIn<N>& from, const VectorIn<N>& to) {
  return {from, unit<N>(to - from)};
}

/// The cosine and sine of a turn. Kept instead of the angle: the closed form yields them and the rotation needs them.
template <class N>
struct TurnOf {
  N cos = N(1.0);
  N sin = N(0.0);

  static TurnOf by(const N& angle_rad) {
    using std::cos;
    using std::sin;
    return {cos(angle_rad), sin(angle_rad)};
  }
  [[nodiscard]] N angle() const {
    using std::atan2;
    return atan2(sin, cos);
  }
  [[nodiscard]] TurnOf back() const { return {cos, -sin}; }
};
using Turn = TurnOf<double>;

/// Where a body is: maps coordinates of the body in its design position to coordinates in the chassis.
template <class N>
struct PlacementOf {
  MatrixOf<N> rotation = MatrixOf<N>::Identity();
  VectorOf<N> translation = VectorOf<N>::Zero();

  [[nodiscard]] VectorOf<N> point(const VectorOf<N>& p) const { return rotation * p + translation; }
  [[nodiscard]] VectorOf<N> direction(const VectorOf<N>& d) const { return rotation * d; }
  [[nodiscard]] AxisOf<N> axis(const AxisOf<N>& a) const { return {point(a.point), direction(a.direction)}; }
  [[nodiscard]] PlacementOf operator*(const PlacementOf& inner) const {
    return {rotation * inner.rotation, rotation * inner.translation + translation};
  }
};
using Placement = PlacementOf<double>;

/// In every lane, to the last bit.
template <class N>
bool is_identity(const PlacementOf<N>& p) {
  for (int row = 0; row < 3; ++row) {
    if (!all(p.translation(row) == N(0.0))) return false;
    for (int column = 0; column < 3; ++column)
      if (!all(p.rotation(row, column) == N(row == column ? 1.0 : 0.0))) return false;
  }
  return true;
}

template <class N>
PlacementOf<N> select_placement(const Mask<N>& mask, const PlacementOf<N>& yes, const PlacementOf<N>& no) {
  PlacementOf<N> p;
  for (int row = 0; row < 3; ++row) {
    p.translation(row) = select(mask, yes.translation(row), no.translation(row));
    for (int column = 0; column < 3; ++column)
      p.rotation(row, column) = select(mask, yes.rotation(row, column), no.rotation(row, column));
  }
  return p;
}

/// The matrix of Rodrigues' formula for a turn about a unit direction.
template <class N = double>
MatrixOf<N> rotation_about(const VectorIn<N>& u, const TurnOf<std::type_identity_t<N>>& t) {
  const N v = N(1.0) - t.cos;
  const VectorOf<N> vu = v * u;
  const VectorOf<N> su = t.sin * u;
  MatrixOf<N> m;
  m << t.cos + vu.x() * u.x(), vu.x() * u.y() - su.z(), vu.x() * u.z() + su.y(),  //
      vu.y() * u.x() + su.z(), t.cos + vu.y() * u.y(), vu.y() * u.z() - su.x(),   //
      vu.z() * u.x() - su.y(), vu.z() * u.y() + su.x(), t.cos + vu.z() * u.z();
  return m;
}

/// The placement that turns space about `axis`.
template <class N = double>
PlacementOf<N> turned_about(const AxisOf<std::type_identity_t<N>>& axis, const TurnOf<std::type_identity_t<N>>& t) {
  const MatrixOf<N> r = rotation_about<N>(axis.direction, t);
  return {r, axis.point - r * axis.point};
}

/// The least rotation that carries unit direction `from` into unit direction `to`.
/// Precondition: the two are not opposite (adjusters move a pin by a few degrees).
template <class N = double>
MatrixOf<N> least_rotation(const VectorIn<N>& from, const VectorIn<N>& to) {
  const VectorOf<N> axis = from.cross(to);
  const N c = from.dot(to);
  const N zero(0.0);
  MatrixOf<N> k;
  k << zero, -axis.z(), axis.y(), axis.z(), zero, -axis.x(), -axis.y(), axis.x(), zero;
  return MatrixOf<N>::Identity() + k + k * k / (N(1.0) + c);
}

/// How a body rides along when its pin is moved by an adjuster: the segment `from_a`-`from_b` is laid on the line
/// `to_a`-`to_b`, middle on middle, by the least rotation. Identity when nothing moved.
template <class N = double>
PlacementOf<N> seated(const VectorIn<N>& from_a, const VectorIn<N>& from_b, const VectorIn<N>& to_a,
                      const VectorIn<N>& to_b) {
  if (all(from_a.x() == to_a.x()) && all(from_a.y() == to_a.y()) && all(from_a.z() == to_a.z()) &&
      all(from_b.x() == to_b.x()) && all(from_b.y() == to_b.y()) && all(from_b.z() == to_b.z()))
    return {};
  const MatrixOf<N> r = least_rotation<N>(unit<N>(from_b - from_a), unit<N>(to_b - to_a));
  const N half(0.5);
  return {r, half * (to_a + to_b) - r * (half * (from_a + from_b))};
}

/// Velocity of a rigid body per unit of some input: angular velocity and the velocity of its point at the origin.
template <class N>
struct TwistOf {
  VectorOf<N> angular = VectorOf<N>::Zero();
  VectorOf<N> linear = VectorOf<N>::Zero();

  [[nodiscard]] VectorOf<N> at(const VectorOf<N>& p) const { return linear + angular.cross(p); }
  [[nodiscard]] TwistOf operator+(const TwistOf& o) const { return {angular + o.angular, linear + o.linear}; }
  [[nodiscard]] TwistOf operator*(const N& k) const { return {angular * k, linear * k}; }
};
using Twist = TwistOf<double>;

/// The twist of a body that turns about `axis` at `rate`.
template <class N = double>
TwistOf<N> turning_about(const AxisOf<std::type_identity_t<N>>& axis, const std::type_identity_t<N>& rate) {
  const VectorOf<N> w = axis.direction * rate;
  return {w, axis.point.cross(w)};
}

template <class N = double>
VectorOf<N> mirrored(const VectorIn<N>& p) {
  return {p.x(), -p.y(), p.z()};
}

constexpr double pi = 3.14159265358979323846;
constexpr double degrees(double rad) {
  return rad * (180.0 / pi);
}
constexpr double radians(double deg) {
  return deg * (pi / 180.0);
}

}  // namespace lowkite
