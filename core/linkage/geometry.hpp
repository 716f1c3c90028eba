// Rigid-body geometry shared by every mechanism: axes, placements and twists.
//
// Frame: ISO 8855 axes fixed in the chassis: x forward, y left, z up, z = 0 on the underside of the chassis plate.
// Lengths are mm, angles rad. Mechanisms are solved for the left side; a right corner is mirrored (y -> -y) before it
// gets here and mirrored back for drawing, so inside this folder "outboard" is always +y.
#pragma once

#include <Eigen/Core>
#include <Eigen/Geometry>

namespace lowkite {

using Vec3 = Eigen::Vector3d;
using Mat3 = Eigen::Matrix3d;

/// A directed line. `direction` is a unit vector; turning is positive by the right-hand rule.
struct Axis {
  Vec3 point = Vec3::Zero();
  Vec3 direction = Vec3::UnitX();
};

/// The axis from `from` to `to`. Precondition: the two points differ.
inline Axis axis_through(const Vec3& from, const Vec3& to) {
  return {from, (to - from).normalized()};
}

/// The cosine and sine of a turn. Kept instead of the angle: the closed form yields them and the rotation needs them.
struct Turn {
  double cos = 1.0;
  double sin = 0.0;

  static Turn by(double angle_rad) { return {std::cos(angle_rad), std::sin(angle_rad)}; }
  [[nodiscard]] double angle() const { return std::atan2(sin, cos); }
};

/// Where a body is: maps coordinates of the body in its design position to coordinates in the chassis.
struct Placement {
  Mat3 rotation = Mat3::Identity();
  Vec3 translation = Vec3::Zero();

  [[nodiscard]] Vec3 point(const Vec3& p) const { return rotation * p + translation; }
  [[nodiscard]] Vec3 direction(const Vec3& d) const { return rotation * d; }
  [[nodiscard]] Axis axis(const Axis& a) const { return {point(a.point), direction(a.direction)}; }
  [[nodiscard]] Placement operator*(const Placement& inner) const {
    return {rotation * inner.rotation, rotation * inner.translation + translation};
  }
};

/// The matrix of Rodrigues' formula for a turn about a unit direction.
inline Mat3 rotation_about(const Vec3& u, Turn t) {
  const double v = 1.0 - t.cos;
  Mat3 m;
  m << t.cos + v * u.x() * u.x(), v * u.x() * u.y() - t.sin * u.z(), v * u.x() * u.z() + t.sin * u.y(),
      v * u.y() * u.x() + t.sin * u.z(), t.cos + v * u.y() * u.y(), v * u.y() * u.z() - t.sin * u.x(),
      v * u.z() * u.x() - t.sin * u.y(), v * u.z() * u.y() + t.sin * u.x(), t.cos + v * u.z() * u.z();
  return m;
}

/// The placement that turns space about `axis`.
inline Placement turned_about(const Axis& axis, Turn t) {
  const Mat3 r = rotation_about(axis.direction, t);
  return {r, axis.point - r * axis.point};
}

/// The least rotation that carries unit direction `from` into unit direction `to`.
/// Precondition: the two are not opposite (adjusters move a pin by a few degrees).
inline Mat3 least_rotation(const Vec3& from, const Vec3& to) {
  const Vec3 axis = from.cross(to);
  const double c = from.dot(to);
  Mat3 k;
  k << 0, -axis.z(), axis.y(), axis.z(), 0, -axis.x(), -axis.y(), axis.x(), 0;
  return Mat3::Identity() + k + k * k / (1.0 + c);
}

/// How a body rides along when its pin is moved by an adjuster: the segment `from_a`-`from_b` is laid on the line
/// `to_a`-`to_b`, middle on middle, by the least rotation. Identity when nothing moved.
inline Placement seated(const Vec3& from_a, const Vec3& from_b, const Vec3& to_a, const Vec3& to_b) {
  if (from_a == to_a && from_b == to_b) return {};
  const Mat3 r = least_rotation((from_b - from_a).normalized(), (to_b - to_a).normalized());
  return {r, 0.5 * (to_a + to_b) - r * (0.5 * (from_a + from_b))};
}

/// Velocity of a rigid body per unit of some input: angular velocity and the velocity of its point at the origin.
struct Twist {
  Vec3 angular = Vec3::Zero();
  Vec3 linear = Vec3::Zero();

  [[nodiscard]] Vec3 at(const Vec3& p) const { return linear + angular.cross(p); }
  [[nodiscard]] Twist operator+(const Twist& o) const { return {angular + o.angular, linear + o.linear}; }
  [[nodiscard]] Twist operator*(double k) const { return {angular * k, linear * k}; }
};

/// The twist of a body that turns about `axis` at `rate`.
inline Twist turning_about(const Axis& axis, double rate) {
  const Vec3 w = axis.direction * rate;
  return {w, axis.point.cross(w)};
}

inline Vec3 mirrored(const Vec3& p) {
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
