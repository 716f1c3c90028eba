// The elementary step of every linkage in these cars: a body turns about an axis until a rod fits.
//
// A point P of the body turns about the axis (O, u) until its distance to an anchor Q is L. With d and e the parts of
// P-O and Q-O across u, and h = u.(P-O) - u.(Q-O):
//
//   A cos t + B sin t = K,   A = d.e,   B = (u x d).e,   K = (|d|^2 + |e|^2 + h^2 - L^2) / 2
//
// There are two roots. They differ in the sign of the left side's slope, so the branch is that sign, fixed at the
// design position. No iteration; no failure near parallel pins. (Circle-sphere intersection, any kinematics text.)
#pragma once

#include <tl/expected.hpp>

#include "core/linkage/geometry.hpp"

namespace lowkite {

/// Which of the two assemblies of a hinge and its rod is meant: the sign of (u x d).e at the design position.
enum class Branch : signed char { falling = -1, rising = 1 };

/// Why a rod does not fit. `gap_mm` > 0: the rod is too short by that much; < 0: too long by that much; exactly 0: the
/// lengths would fit, but only in the other assembly, past a dead centre, where a real car never gets.
struct RodMisfit {
  double gap_mm = 0.0;
};

/// Turns `p` about `axis` until it is `length` from `q`.
/// Returns the turn from the given position of `p`, or by how much the rod misses. Only turns within 90 degrees that
/// keep the rod within 90 degrees of `rod_reference` (the design direction from q to p) are accepted: beyond lies
/// another assembly that continuity cannot reach.
tl::expected<Turn, RodMisfit> turn_until_rod_fits(const Axis& axis, const Vec3& p, const Vec3& q, double length,
                                                  Branch branch, const Vec3& rod_reference);

/// Turns direction `a` about `u` until its component along `w` is `value`: a(t).w = value. This is the inverse used to
/// *hold* camber or toe. Of the two roots the smaller turn is returned; fails when no turn reaches the value.
tl::expected<Turn, RodMisfit> turn_until_component(const Vec3& u, const Vec3& a, const Vec3& w, double value);

/// A body that hangs on a hinge of its parent and is kept from turning by one rod.
///
/// Everything is stored in design coordinates. `seat` carries the body along when an adjuster moved the hinge in its
/// parent (see `seated`).
class RodHinge {
 public:
  struct Solution {
    Placement body;  ///< where the turned body is
    Axis axis;       ///< the hinge in the chassis
    Vec3 rod;        ///< anchor to ball, in the chassis
    Vec3 lever;      ///< velocity of the ball per rad about the hinge
  };

  /// `axis`: hinge in the parent's design coordinates; `ball`: rod end on the body in the body's design coordinates;
  /// `design_rod`: anchor to ball with the kit car in its design position; `length`: of the rod, mm.
  RodHinge(const Axis& axis, const Placement& seat, const Vec3& ball, const Vec3& design_rod, double length,
           Branch branch)
      : axis_(axis),
        seat_(seat),
        moved_(seat.rotation != Mat3::Identity() || seat.translation != Vec3::Zero()),
        ball_(ball),
        design_rod_(design_rod),
        length_(length),
        branch_(branch) {}

  /// The branch of a hinge, from the kit car's design position. `slope` (mm^2 per rad) close to zero means that the rod
  /// points straight at the hinge, so that it holds nothing.
  static double design_slope(const Axis& axis, const Vec3& ball, const Vec3& anchor);

  /// Where the body is when its rod reaches `anchor`.
  [[nodiscard]] tl::expected<Solution, RodMisfit> fit(const Placement& parent, const Vec3& anchor) const;

  /// Where the body is after a given turn from its untouched position on the parent; the rod is left open.
  [[nodiscard]] Solution turned(const Placement& parent, Turn t, const Vec3& anchor) const;

  /// The body's twist once the parent's twist and the anchor's velocity are known: the rod keeps its length.
  [[nodiscard]] Twist twist(const Solution& s, const Twist& parent, const Vec3& anchor_velocity) const {
    const Vec3 ball = s.body.point(ball_);
    const double rate = s.rod.dot(anchor_velocity - parent.at(ball)) / s.rod.dot(s.lever);
    return parent + turning_about(s.axis, rate);
  }

  [[nodiscard]] Axis axis_on(const Placement& parent) const { return parent.axis(axis_); }
  [[nodiscard]] Placement unturned(const Placement& parent) const { return moved_ ? parent * seat_ : parent; }
  [[nodiscard]] const Vec3& ball() const { return ball_; }

 private:
  static Solution place(const Placement& before, const Axis& axis, Turn t, const Vec3& ball, const Vec3& anchor);

  Axis axis_;
  Placement seat_;
  bool moved_;  ///< the seat is not the identity
  Vec3 ball_;
  Vec3 design_rod_;
  double length_;
  Branch branch_;
};

}  // namespace lowkite
