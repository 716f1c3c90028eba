#include "core/load/bar.hpp"

#include <algorithm>
#include <cmath>

#include <boost/math/tools/toms748_solve.hpp>

#include "core/linkage/rod_hinge.hpp"
#include "core/load/spring.hpp"

namespace lowkite {

namespace {

/// The bar's axis: turning about it lifts the bar's end, whichever way that points.
Axis pivot_of(const BarHolder& bar, const Vec3& kit_end) {
  const double ahead = kit_end.x() > bar.pivot_x_mm ? 1.0 : -1.0;
  return {{bar.pivot_x_mm, 0.0, bar.pivot_z_mm}, Vec3(0.0, -ahead, 0.0)};
}

/// A part whose positions change the bar's wire.
bool sets_the_wire(const Adjuster& a, End end) {
  return a.end == end && a.positions() &&
         std::any_of(a.positions()->list.begin(), a.positions()->list.end(), [](const Position& p) {
           return std::any_of(p.effect.sizes.begin(), p.effect.sizes.end(),
                              [](const SizeChange& c) { return c.size == Size::bar_wire; });
         });
}

double kit_wire(const Car& car, End end) {
  return car.axle(end).size_of(Size::bar_wire);
}

bool left_out(const CarModel& model, End end) {
  const auto& parts = model.car->adjusters;
  return !(model.corner(end, Side::left).geometry.size_of(Size::bar_wire) > 0.0) &&
         std::any_of(parts.begin(), parts.end(), [&](const Adjuster& a) { return sets_the_wire(a, end); });
}

}  // namespace

bool bar_left_out(const Car& car, const Setup& setup, End end) {
  bool chosen = false;
  double wire = kit_wire(car, end);
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (!sets_the_wire(a, end)) continue;
    chosen = true;
    for (const SizeChange& c : a.positions()->list[static_cast<std::size_t>(setup.values[i].left)].effect.sizes)
      if (c.size == Size::bar_wire) wire += c.by;
  }
  return chosen && !(wire > 0.0);
}

std::optional<double> bar_angle(const CarModel& model, End end, Side side, const CornerPose& pose) {
  const auto arm = bar_arm(model, end, side, pose);
  return arm ? std::optional(arm->angle) : std::nullopt;
}

std::optional<BarArm> bar_arm(const CarModel& model, End end, Side side, const CornerPose& pose) {
  const CornerModel& corner = model.corner(end, side);
  const CornerGeometry& g = corner.geometry;
  const auto& bar = model.car->axle(end).bar;
  if (!bar || !g.has(attachment::bar_end) || !g.has(attachment::bar_arm)) return std::nullopt;
  const Vec3& kit_end = g.kit[attachment::bar_end];
  const Vec3& kit_arm = g.kit[attachment::bar_arm];
  const Axis pivot = pivot_of(*bar, kit_end);
  const double slope = RodHinge::design_slope(pivot, kit_end, kit_arm);
  const Vec3 anchor = point_in_chassis(corner, pose, attachment::bar_arm);
  const double length = (kit_end - kit_arm).norm() + g.size_of(Size::bar_link);
  const auto turn = turn_until_rod_fits(pivot, g.set[attachment::bar_end], anchor, length,
                                        slope > 0 ? Branch::rising : Branch::falling, kit_end - kit_arm);
  if (!turn) return std::nullopt;
  // The link keeps its length: both its balls move alike along it.
  const Vec3 ball = turned_about(pivot, *turn).point(g.set[attachment::bar_end]);
  const Vec3 along = (anchor - ball).normalized();
  const Body carrier = corner.spec->point_spec(attachment::bar_arm).body;
  const double by_bar = turning_about(pivot, 1.0).at(ball).dot(along);
  return BarArm{turn->angle(), pose.twist(carrier).at(anchor).dot(along) / by_bar, ball,
                Vec3(pivot.point.x(), ball.y(), pivot.point.z())};
}

double bar_stiffness(const CarModel& model, End end) {
  const auto& bar = model.car->axle(end).bar;
  const CornerGeometry& g = model.corner(end, Side::left).geometry;
  const double wire = g.size_of(Size::bar_wire);
  if (bar && bar->rate_n_mm_per_rad > 0.0) {
    const double kit = kit_wire(*model.car, end);
    if (kit > 0.0) return bar->rate_n_mm_per_rad * std::pow(wire / kit, 4);
    return left_out(model, end) ? 0.0 : bar->rate_n_mm_per_rad;
  }
  if (!bar || !(wire > 0.0) || !(bar->wire_length_mm > 0.0)) return 0.0;
  const Vec3& ball = g.set[attachment::bar_end];
  return bar_stiffness(wire, bar->wire_length_mm, std::hypot(ball.x() - bar->pivot_x_mm, ball.z() - bar->pivot_z_mm));
}

std::optional<double> lift_until_other_moves(const CarModel& model, End end, Side side, double hanging,
                                             double other_hanging) {
  const auto& bar = model.car->axle(end).bar;
  if (!bar || left_out(model, end)) return std::nullopt;
  const Side other = side == Side::left ? Side::right : Side::left;
  const auto steered = steer(model, 0.0);
  const auto angle_at = [&](Side s, double arm_angle) -> std::optional<double> {
    const CornerModel& corner = model.corner(end, s);
    const SteerInput input = corner.spec->steered && steered ? steered->corner[at(s)] : SteerInput{};
    const auto pose = corner.linkage->solve(arm_angle, input);
    return pose ? bar_angle(model, end, s, *pose) : std::nullopt;
  };
  const auto rest = angle_at(other, other_hanging);
  const auto start = angle_at(side, hanging);
  if (!rest || !start) return std::nullopt;
  const CornerGeometry& g = model.corner(end, side).geometry;
  const Vec3& ball = g.kit[attachment::bar_end];
  const double reach = std::hypot(ball.x() - bar->pivot_x_mm, ball.z() - bar->pivot_z_mm);
  const double wanted = *rest + bar->play_mm / reach;
  if (*start >= wanted) return hanging;  // it is lifted already: the bar is under tension as the wheels hang
  double high = hanging;
  for (int i = 0; i < 40; ++i) {
    high += radians(1.0);
    const auto there = angle_at(side, high);
    if (!there) return std::nullopt;
    if (*there < wanted) continue;
    std::uintmax_t rounds = 60;
    const auto off = [&](double arm_angle) { return angle_at(side, arm_angle).value_or(wanted + 1.0) - wanted; };
    const auto found = boost::math::tools::toms748_solve(off, hanging, high, *start - wanted, *there - wanted,
                                                         boost::math::tools::eps_tolerance<double>(40), rounds);
    return 0.5 * (found.first + found.second);
  }
  return std::nullopt;
}

}  // namespace lowkite
