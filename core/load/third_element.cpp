#include "core/load/third_element.hpp"

#include <algorithm>

#include "core/linkage/rod_hinge.hpp"
#include "core/load/spring_place.hpp"

namespace lowkite {
namespace {

constexpr std::array lever_points{attachment::third_pivot, attachment::third_rod, attachment::third_arm,
                                  attachment::third_end};

}  // namespace

bool has_third_levers(const Axle& axle) {
  return axle.mechanism->independent &&
         std::all_of(lever_points.begin(), lever_points.end(), [&](PointHandle p) { return axle.has(p); });
}

std::optional<ThirdLever> third_lever(const CarModel& model, End end, Side side, const CornerPose& pose) {
  if (!has_third_levers(model.car->axle(end))) return std::nullopt;
  const CornerModel& corner = model.corner(end, side);
  const CornerGeometry& g = corner.geometry;
  const auto axis_at = [](const Vec3& pivot) { return Axis{pivot, Vec3::UnitX()}; };
  const Vec3 kit_rod = g.kit[attachment::third_rod] - g.kit[attachment::third_arm];
  const double slope = RodHinge::design_slope(axis_at(g.kit[attachment::third_pivot]), g.kit[attachment::third_rod],
                                              g.kit[attachment::third_arm]);
  // A pivot that is moved takes its lever along.
  const Vec3 moved = g.set[attachment::third_pivot] - g.kit[attachment::third_pivot];
  const Axis axis = axis_at(g.set[attachment::third_pivot]);
  const Vec3 ball = g.set[attachment::third_rod] + moved;
  const Vec3 anchor = point_in_chassis(corner, pose, attachment::third_arm);
  const auto turn =
      turn_until_rod_fits(axis, ball, anchor, kit_rod.norm(), slope > 0 ? Branch::rising : Branch::falling, kit_rod);
  if (!turn) return std::nullopt;
  const Placement turned = turned_about(axis, *turn);
  ThirdLever lever{axis.point, turned.point(ball), turned.point(g.set[attachment::third_end] + moved), Vec3::Zero()};
  // The rod keeps its length: both its balls move alike along it.
  const Vec3 along = (anchor - lever.rod).normalized();
  const Twist unit = turning_about(axis, 1.0);
  const Body carrier = corner.spec->point_spec(attachment::third_arm).body;
  lever.end_per_arm = unit.at(lever.end) * (pose.twist(carrier).at(anchor).dot(along) / unit.at(lever.rod).dot(along));
  return lever;
}

ThirdElement between(const ThirdLever& left, const ThirdLever& right) {
  const Vec3 across = left.end - mirrored(right.end);
  const double length = across.norm();
  return {length, {-left.end_per_arm.dot(across) / length, mirrored(right.end_per_arm).dot(across) / length}};
}

std::optional<ThirdElement> third_element(const CarModel& model, End end, const CornerPose& left,
                                          const CornerPose& right) {
  if (has_third_levers(model.car->axle(end))) {
    const auto l = third_lever(model, end, Side::left, left);
    const auto r = third_lever(model, end, Side::right, right);
    return l && r ? std::optional(between(*l, *r)) : std::nullopt;
  }
  const CornerModel& l = model.corner(end, Side::left);
  const CornerModel& r = model.corner(end, Side::right);
  if (spring_place(l) == SpringPlace::none) return std::nullopt;
  return ThirdElement{0.5 * (shock_length(l, left) + shock_length(r, right)),
                      {0.5 * shock_per_arm(l, left), 0.5 * shock_per_arm(r, right)}};
}

double ThirdLaw::push_n(double in_mm, double end_n_per_mm) const {
  const double spring = rate_n_per_mm * std::max(0.0, in_mm - gap_mm);
  return stroke_mm > 0.0 ? spring + end_n_per_mm * std::max(0.0, in_mm - stroke_mm) : spring;
}

double ThirdLaw::damper_n(double mm_per_s, double celsius) const {
  return piston ? damper_force(*piston, oil, mm_per_s, celsius) : damping_n_s_per_mm * mm_per_s;
}

std::optional<Piston> third_piston(std::span<const double, size_count> sizes) {
  const auto size = [&](Size s) { return sizes[at(s)]; };
  const Piston p{size(Size::third_bore), size(Size::third_holes), size(Size::third_hole), size(Size::third_thickness)};
  const bool whole = p.bore_mm > 0.0 && p.holes >= 1.0 && p.hole_mm > 0.0 && p.thickness_mm > 0.0;
  return whole && size(Size::third_oil) > 0.0 ? std::optional(p) : std::nullopt;
}

ThirdLaw third_law(const CarModel& model, End end) {
  const CornerGeometry& g = model.corner(end, Side::left).geometry;
  ThirdLaw law;
  law.rate_n_per_mm = g.size_of(Size::heave_rate);
  law.gap_mm = g.size_of(Size::third_gap);
  law.piston = third_piston(g.size);
  law.oil = Oil{g.size_of(Size::third_oil)};
  law.damping_n_s_per_mm = law.piston ? damper_rate(*law.piston, law.oil) : g.size_of(Size::heave_damping);
  if (law.damping_n_s_per_mm > 0.0) law.stroke_mm = g.size_of(Size::third_stroke);
  return law;
}

}  // namespace lowkite
