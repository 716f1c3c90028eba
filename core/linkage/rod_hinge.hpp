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

#include <algorithm>

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

/// A turn that was looked for, and whether there is one.
template <class N>
struct FoundTurn {
  TurnOf<N> turn;
  Mask<N> found;
};

/// The equation of a point that turns until a rod fits, in the words of the head of this file.
template <class N>
struct RodEquation {
  VectorOf<N> d, ud;
  N along_p, along_q;
  VectorOf<N> oq;
  N a, b, k, free, reach_squared, discriminant;

  RodEquation(const AxisOf<N>& axis, const VectorOf<N>& p, const VectorOf<N>& q, const N& length) {
    const VectorOf<N>& u = axis.direction;
    const VectorOf<N> op = p - axis.point;
    oq = q - axis.point;
    along_p = u.dot(op);
    along_q = u.dot(oq);
    d = op - u * along_p;
    const VectorOf<N> e = oq - u * along_q;
    const N h = along_p - along_q;
    ud = u.cross(d);
    a = d.dot(e);
    b = ud.dot(e);
    free = d.squaredNorm() + e.squaredNorm() + h * h;
    k = N(0.5) * (free - length * length);
    reach_squared = a * a + b * b;
    discriminant = reach_squared - k * k;
  }

  /// Only turns within 90 degrees that keep the rod within 90 degrees of `rod_reference` (the design direction from q
  /// to p) are found: beyond lies another assembly that continuity cannot reach.
  [[nodiscard]] FoundTurn<N> solve(const VectorOf<N>& u, Branch branch, const VectorOf<N>& rod_reference) const {
    using std::sqrt;
    const Mask<N> reaches = discriminant > N(0.0);
    const N s = N(static_cast<double>(branch)) * sqrt(select(reaches, discriminant, N(0.0)));
    const N over = N(1.0) / select(reaches, reach_squared, N(1.0));
    const TurnOf<N> t{(a * k + b * s) * over, (b * k - a * s) * over};
    // With both roots real, a turn past 90 degrees or a rod that points the other way is the far side of a dead centre.
    const VectorOf<N> rod = d * t.cos + ud * t.sin + u * along_p - oq;
    return {t, both(reaches, both(t.cos > N(0.0), rod.dot(rod_reference) > N(0.0)))};
  }
};

/// By how much a rod misses that was found not to fit.
inline RodMisfit misfit_of(const RodEquation<double>& e, double length) {
  if (e.discriminant > 0.0) return {0.0};
  const double reach = std::sqrt(e.reach_squared);
  const double nearest = std::sqrt(std::max(0.0, e.free - 2.0 * reach));
  const double farthest = std::sqrt(e.free + 2.0 * reach);
  return {e.k > 0.0 ? nearest - length : farthest - length};
}

/// Turns `p` about `axis` until it is `length` from `q`: the turn from the given position of `p`, or by how much the
/// rod misses (see RodEquation::solve).
tl::expected<Turn, RodMisfit> turn_until_rod_fits(const Axis& axis, const Vec3& p, const Vec3& q, double length,
                                                  Branch branch, const Vec3& rod_reference);

/// Turns direction `a` about `u` until its component along `w` is `value`: a(t).w = value. This is the inverse used to
/// *hold* camber or toe. Of the two roots the smaller turn is found; none when no turn reaches the value.
template <class N = double>
FoundTurn<std::type_identity_t<N>> turn_until_component(const VectorIn<N>& u, const VectorIn<N>& a,
                                                        const VectorIn<N>& w, const std::type_identity_t<N>& value) {
  using std::sqrt;
  const N along = u.dot(a);
  const VectorOf<N> across = a - u * along;
  const N ca = across.dot(w);
  const N cb = u.cross(across).dot(w);
  const N k = value - along * u.dot(w);
  const N reach_squared = ca * ca + cb * cb;
  const N discriminant = reach_squared - k * k;
  const Mask<N> reaches = both(discriminant >= N(0.0), reach_squared > N(0.0));
  const N s = sqrt(select(reaches, discriminant, N(0.0)));
  // cos = (ca k +- cb s) / reach^2: the larger one is the smaller turn.
  const N towards = select(cb < N(0.0), -s, s);
  const N over = N(1.0) / select(reaches, reach_squared, N(1.0));
  return {{(ca * k + cb * towards) * over, (cb * k - ca * towards) * over}, reaches};
}

/// A body that hangs on a hinge of its parent and is kept from turning by one rod.
///
/// Everything is stored in design coordinates. `seat` carries the body along when an adjuster moved the hinge in its
/// parent (see `seated`).
template <class N>
class RodHingeOf {
 public:
  struct Solution {
    PlacementOf<N> body;  ///< where the turned body is
    AxisOf<N> axis;       ///< the hinge in the chassis
    VectorOf<N> rod;      ///< anchor to ball, in the chassis
    VectorOf<N> lever;    ///< velocity of the ball per rad about the hinge
  };

  /// `axis`: hinge in the parent's design coordinates; `ball`: rod end on the body in the body's design coordinates;
  /// `design_rod`: anchor to ball with the kit car in its design position; `length`: of the rod, mm.
  RodHingeOf(const AxisOf<N>& axis, const PlacementOf<N>& seat, const VectorOf<N>& ball, const VectorOf<N>& design_rod,
             const N& length, Branch branch)
      : axis_(axis),
        seat_(seat),
        moved_(!is_identity(seat)),
        ball_(ball),
        design_rod_(design_rod),
        length_(length),
        branch_(branch) {}

  /// The branch of a hinge, from the kit car's design position. `slope` (mm^2 per rad) close to zero means that the rod
  /// points straight at the hinge, so that it holds nothing.
  static double design_slope(const Axis& axis, const Vec3& ball, const Vec3& anchor) {
    return axis.direction.cross(ball - axis.point).dot(anchor - axis.point);
  }

  /// Where the body is when its rod reaches `anchor`. `blame` makes a failure of a misfit.
  template <class Failure, class Blame>
  [[nodiscard]] Solution fit(const PlacementOf<N>& parent, const VectorOf<N>& anchor, Closing<N, Failure>& closing,
                             const Blame& blame) const {
    const PlacementOf<N> before = unturned(parent);
    const AxisOf<N> axis = parent.axis(axis_);
    const RodEquation<N> equation(axis, before.point(ball_), anchor, length_);
    const FoundTurn<N> t = equation.solve(axis.direction, branch_, design_rod_);
    closing.demand(t.found, [&] {
      if constexpr (std::is_same_v<N, double>)
        return blame(misfit_of(equation, length_));
      else
        return blame(RodMisfit{});
    });
    return place(before, axis, t.turn, ball_, anchor);
  }

  /// The same for one number, where the misfit itself is asked for.
  [[nodiscard]] tl::expected<Solution, RodMisfit> fit(const PlacementOf<N>& parent, const VectorOf<N>& anchor) const {
    Closing<N, RodMisfit> closing;
    Solution s = fit(parent, anchor, closing, [](const RodMisfit& m) { return m; });
    if (!closing.closes()) return tl::unexpected(*closing.failure());
    return s;
  }

  /// Where the body is after a given turn from its untouched position on the parent; the rod is left open.
  [[nodiscard]] Solution turned(const PlacementOf<N>& parent, const TurnOf<N>& t, const VectorOf<N>& anchor) const {
    return place(unturned(parent), parent.axis(axis_), t, ball_, anchor);
  }

  /// The body's twist once the parent's twist and the anchor's velocity are known: the rod keeps its length.
  [[nodiscard]] TwistOf<N> twist(const Solution& s, const TwistOf<N>& parent,
                                 const VectorOf<N>& anchor_velocity) const {
    const VectorOf<N> ball = s.body.point(ball_);
    const N rate = s.rod.dot(anchor_velocity - parent.at(ball)) / s.rod.dot(s.lever);
    return parent + turning_about<N>(s.axis, rate);
  }

  [[nodiscard]] AxisOf<N> axis_on(const PlacementOf<N>& parent) const { return parent.axis(axis_); }
  [[nodiscard]] PlacementOf<N> unturned(const PlacementOf<N>& parent) const { return moved_ ? parent * seat_ : parent; }
  [[nodiscard]] const VectorOf<N>& ball() const { return ball_; }
  void set_length(const N& length) { length_ = length; }

 private:
  static Solution place(const PlacementOf<N>& before, const AxisOf<N>& axis, const TurnOf<N>& t,
                        const VectorOf<N>& ball, const VectorOf<N>& anchor) {
    const MatrixOf<N> r = rotation_about<N>(axis.direction, t);
    Solution s;
    s.axis = axis;
    s.body.rotation = r * before.rotation;
    s.body.translation = axis.point + r * (before.translation - axis.point);
    const VectorOf<N> end = s.body.point(ball);
    s.rod = end - anchor;
    s.lever = axis.direction.cross(end - axis.point);
    return s;
  }

  AxisOf<N> axis_;
  PlacementOf<N> seat_;
  bool moved_;  ///< the seat is not the identity, in some lane
  VectorOf<N> ball_;
  VectorOf<N> design_rod_;
  N length_;
  Branch branch_;
};
using RodHinge = RodHingeOf<double>;

}  // namespace lowkite
