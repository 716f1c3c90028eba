#include "core/linkage/rod_hinge.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {

tl::expected<Turn, RodMisfit> turn_until_rod_fits(const Axis& axis, const Vec3& p, const Vec3& q, double length,
                                                  Branch branch, const Vec3& rod_reference) {
  const Vec3& u = axis.direction;
  const Vec3 op = p - axis.point;
  const Vec3 oq = q - axis.point;
  const double sp = u.dot(op);
  const double sq = u.dot(oq);
  const Vec3 d = op - u * sp;
  const Vec3 e = oq - u * sq;
  const double h = sp - sq;
  const Vec3 ud = u.cross(d);
  const double a = d.dot(e);
  const double b = ud.dot(e);
  const double free = d.squaredNorm() + e.squaredNorm() + h * h;
  const double k = 0.5 * (free - length * length);
  const double reach_squared = a * a + b * b;
  const double discriminant = reach_squared - k * k;
  if (!(discriminant > 0.0)) {
    const double reach = std::sqrt(reach_squared);
    const double nearest = std::sqrt(std::max(0.0, free - 2.0 * reach));
    const double farthest = std::sqrt(free + 2.0 * reach);
    return tl::unexpected(RodMisfit{k > 0.0 ? nearest - length : farthest - length});
  }
  const double s = static_cast<double>(branch) * std::sqrt(discriminant);
  const Turn t{(a * k + b * s) / reach_squared, (b * k - a * s) / reach_squared};
  // With both roots real, a turn past 90 degrees or a rod that points the other way is the far side of a dead centre.
  const Vec3 rod = d * t.cos + ud * t.sin + u * sp - oq;
  if (t.cos <= 0.0 || rod.dot(rod_reference) <= 0.0) return tl::unexpected(RodMisfit{0.0});
  return t;
}

tl::expected<Turn, RodMisfit> turn_until_component(const Vec3& u, const Vec3& a, const Vec3& w, double value) {
  const double along = u.dot(a);
  const Vec3 across = a - u * along;
  const double ca = across.dot(w);
  const double cb = u.cross(across).dot(w);
  const double k = value - along * u.dot(w);
  const double reach_squared = ca * ca + cb * cb;
  const double discriminant = reach_squared - k * k;
  if (!(discriminant >= 0.0) || reach_squared == 0.0) return tl::unexpected(RodMisfit{});
  const double s = std::sqrt(discriminant);
  const Turn one{(ca * k + cb * s) / reach_squared, (cb * k - ca * s) / reach_squared};
  const Turn two{(ca * k - cb * s) / reach_squared, (cb * k + ca * s) / reach_squared};
  return one.cos >= two.cos ? one : two;
}

double RodHinge::design_slope(const Axis& axis, const Vec3& ball, const Vec3& anchor) {
  return axis.direction.cross(ball - axis.point).dot(anchor - axis.point);
}

RodHinge::Solution RodHinge::place(const Placement& before, const Axis& axis, Turn t, const Vec3& ball,
                                   const Vec3& anchor) {
  const Mat3 r = rotation_about(axis.direction, t);
  Solution s;
  s.axis = axis;
  s.body.rotation = r * before.rotation;
  s.body.translation = axis.point + r * (before.translation - axis.point);
  const Vec3 end = s.body.point(ball);
  s.rod = end - anchor;
  s.lever = axis.direction.cross(end - axis.point);
  return s;
}

tl::expected<RodHinge::Solution, RodMisfit> RodHinge::fit(const Placement& parent, const Vec3& anchor) const {
  const Placement before = unturned(parent);
  const Axis axis = parent.axis(axis_);
  const auto t = turn_until_rod_fits(axis, before.point(ball_), anchor, length_, branch_, design_rod_);
  if (!t) return tl::unexpected(t.error());
  return place(before, axis, *t, ball_, anchor);
}

RodHinge::Solution RodHinge::turned(const Placement& parent, Turn t, const Vec3& anchor) const {
  return place(unturned(parent), parent.axis(axis_), t, ball_, anchor);
}

}  // namespace lowkite
