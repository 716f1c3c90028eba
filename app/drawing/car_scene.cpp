#include "app/drawing/car_scene.h"

#include <cmath>

#include <fmt/format.h>

#include "core/load/bar.hpp"
#include "core/load/third_element.hpp"

namespace lowkite::app {
namespace {

/// Maps points of the chassis, or of a corner, to the ground's axes.
class OnGround {
 public:
  OnGround(const Ground& ground, Side side) : ground_(ground), side_(side) {}

  [[nodiscard]] Vec3 place(const Vec3& corner) const {
    const Vec3 p = inCar(corner);
    return {ground_.forward.dot(p), ground_.left.dot(p), ground_.height(p)};
  }
  [[nodiscard]] Vec3 direction(const Vec3& corner) const {
    const Vec3 d = inCar(corner);
    return {ground_.forward.dot(d), ground_.left.dot(d), ground_.up.dot(d)};
  }

 private:
  [[nodiscard]] Vec3 inCar(const Vec3& v) const { return side_ == Side::left ? v : mirrored(v); }
  const Ground& ground_;
  Side side_;
};

void addGrips(const Car& car, const Variant& v, End end, Side side, const OnGround& onGround, SceneCorner& s) {
  const CornerModel& corner = v.model.corner(end, side);
  const CornerPose& pose = v.pose.axle[at(end)].corner[at(side)];
  const MechanismSpec& spec = *corner.spec;
  const auto place = [&](PointHandle point) { return onGround.place(point_in_chassis(corner, pose, point)); };
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (a.end != end || a.steering) continue;
    const Range* range = a.range();
    if (range && range->link) {
      const LinkSpec& link = spec.links[range->link];
      s.grips.push_back(
          {i, 0.5 * (place(link.inner) + place(link.outer)), false, place(link.outer) - place(link.inner)});
      continue;
    }
    const PointHandle point = a.place();
    if (!point || (point >= attachment::first && !corner.geometry.has(point))) continue;
    s.grips.push_back({i, place(point), true, Vec3::Zero()});
    if (a.kind != AdjusterKind::shim_stack || range->moves_per_unit.empty()) continue;
    const PointMove& move = range->moves_per_unit.front();
    const double value = v.setup.values[i].on(side);
    SceneStack stack;
    stack.adjuster = i;
    stack.direction = onGround.direction(pose.placement(spec.point_spec(point).body).direction(move.mm.normalized()));
    stack.discs_mm = shims_for(value, range->shims_mm);
    stack.foot = place(point) - stack.direction * (ballRadius_mm + value);
    s.stacks.push_back(std::move(stack));
  }
}

/// A drive shaft's pin in its cup, and joints near the angle at which they bind.
void addLimits(const Car& car, const Variant& v, End end, Side side, const OnGround& onGround, SceneCorner& s) {
  constexpr double near_mm = 0.5;
  constexpr double near_rad = radians(3.0);
  const CornerModel& corner = v.model.corner(end, side);
  const CornerPose& pose = v.pose.axle[at(end)].corner[at(side)];
  const CornerParts& parts = v.source.car.axle[at(end)].parts[at(side)];
  const auto place = [&](PointHandle point) { return onGround.place(point_in_chassis(corner, pose, point)); };
  if (parts.shaft) {
    const Vec3 cup = place(attachment::shaft_cup);
    const Vec3 joint = place(attachment::shaft_joint);
    const Vec3 outboard = (joint - cup).normalized();
    const double deep = car.axle(end).cup ? car.axle(end).cup->depth_mm : 0.0;
    const Vec3 inboard = onGround.direction(-Vec3::UnitY());
    s.cup = SceneCup{cup, cup + deep * inboard, cup - outboard * parts.shaft->depth_mm, outboard};
    for (const auto& [left, what] : {std::pair(parts.shaft->to_falling_out_mm, "out of its cup"),
                                     std::pair(parts.shaft->to_bottoming_mm, "on the cup's bottom")})
      if (left < near_mm)
        s.limits.push_back({s.cup->pin,
                            left < 0.0 ? fmt::format("drive shaft {}", what)
                                       : fmt::format("drive shaft {:.1f} mm from {}", left, what),
                            left < 0.0});
  }
  const MechanismSpec& spec = *corner.spec;
  for (const JointLimit& limit : car.axle(end).limits.joints) {
    const LinkSpec& link = spec.links[limit.link];
    const JointAngles& angles = parts.joint[limit.link];
    const double leans = limit.outer ? angles.outer_rad : angles.inner_rad;
    if (leans < limit.most_rad - near_rad) continue;
    s.limits.push_back({place(limit.outer ? link.outer : link.inner),
                        fmt::format("joint {:.0f} of {:.0f} deg", degrees(leans), degrees(limit.most_rad)),
                        leans > limit.most_rad});
  }
}

/// What joins the two sides as it stands, as far as this one's: the bar with its link, and the third spring's lever.
void addJoining(const Car& car, const Variant& v, End end, Side side, const OnGround& onGround, SceneCorner& s) {
  const CornerPose& pose = v.pose.axle[at(end)].corner[at(side)];
  const CornerModel& corner = v.model.corner(end, side);
  if (const auto lever = third_law(v.model, end).fitted() ? third_lever(v.model, end, side, pose) : std::nullopt) {
    const Vec3 rod = onGround.place(lever->rod);
    const Vec3 pivot = onGround.place(lever->pivot);
    const Vec3 own = onGround.place(lever->end);
    const Vec3 arm = onGround.place(point_in_chassis(corner, pose, attachment::third_arm));
    s.lines.push_back({arm, rod, Stroke::link});
    s.lines.push_back({rod, pivot, Stroke::crank});
    s.lines.push_back({pivot, own, Stroke::crank});
    for (const Vec3& ball : {arm, rod, own}) s.balls.push_back(ball);
    s.third_end = own;
    s.on_chassis.push_back(pivot);
  }
  if (const auto bar = bar_left_out(car, v.setup, end) ? std::nullopt : bar_arm(v.model, end, side, pose)) {
    const Vec3 ball = onGround.place(bar->ball);
    const Vec3 arm = onGround.place(point_in_chassis(corner, pose, attachment::bar_arm));
    s.bar = onGround.place(bar->turns_about);
    s.lines.push_back({arm, ball, Stroke::shaft});
    s.lines.push_back({ball, *s.bar, Stroke::shaft});
  }
}

SceneCorner cornerOf(const Car& car, const Variant& v, End end, Side side) {
  const CornerModel& corner = v.model.corner(end, side);
  const CornerPose& pose = v.pose.axle[at(end)].corner[at(side)];
  const MechanismSpec& spec = *corner.spec;
  const OnGround onGround(v.pose.ground, side);
  const auto place = [&](PointHandle point) { return onGround.place(point_in_chassis(corner, pose, point)); };
  SceneCorner s;
  for (const StrokeSpec& stroke : spec.strokes)
    s.lines.push_back({place(stroke.from), place(stroke.to), stroke.stroke});
  for (const auto& [from, to, stroke] : {std::tuple(attachment::shock_upper, attachment::shock_lower, Stroke::shock),
                                         std::tuple(attachment::side_upper, attachment::side_lower, Stroke::shock),
                                         std::tuple(attachment::shaft_cup, attachment::shaft_joint, Stroke::shaft)})
    if (corner.geometry.has(from) && corner.geometry.has(to)) s.lines.push_back({place(from), place(to), stroke});
  for (const LinkSpec& link : spec.links) {
    if (!link.pin) s.balls.push_back(place(link.inner));
    s.balls.push_back(place(link.outer));
  }
  for (const PointHandle p : spec.points.handles()) {
    const Body body = spec.points[p].body;
    if (body == Body::carrier || body == Body::knuckle) s.hub.push_back(place(p));
    if (body == Body::chassis) s.on_chassis.push_back(place(p));
  }
  if (corner.geometry.has(attachment::shock_upper)) s.on_chassis.push_back(place(attachment::shock_upper));
  for (const char* id : {"arm_outer_front", "arm_outer_rear", "lower_ball"})
    if (const PointHandle p = spec.point(id)) s.hub.push_back(place(p));
  s.wheel = {onGround.place(pose.wheel_centre), onGround.direction(pose.spin_axis), corner.tyre};
  addJoining(car, v, end, side, onGround, s);
  addGrips(car, v, end, side, onGround, s);
  addLimits(car, v, end, side, onGround, s);
  return s;
}

SceneSteering steeringOf(const Car& car, const Variant& v) {
  const SteeringSpec& spec = *car.steering.spec;
  const SteeringPose& pose = *v.pose.steering;
  const OnGround onGround(v.pose.ground, Side::left);
  const auto place = [&](PointHandle point) { return onGround.place(point_in_chassis(v.model, pose, point)); };
  SceneSteering s;
  for (const StrokeSpec& stroke : spec.strokes)
    s.lines.push_back({place(stroke.from), place(stroke.to), stroke.stroke});
  // From what carries them out to the tie rods' balls.
  for (const Side side : both_sides) {
    const Vec3 ball = onGround.place(v.model.steering_geometry.tie_ball[at(side)] + pose.tie_shift[at(side)]);
    // The nearest point that moves; a servo saver has none but its shaft.
    PointHandle near = spec.shaft;
    for (const PointHandle p : spec.points.handles())
      if (spec.points[p].body != Body::chassis &&
          (near == spec.shaft || (place(p) - ball).norm() < (place(near) - ball).norm()))
        near = p;
    s.lines.push_back({place(near), ball, Stroke::crank});
  }
  for (const LinkSpec& link : spec.links)
    for (const PointHandle p : {link.inner, link.outer}) s.balls.push_back(place(p));
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (!a.steering) continue;
    if (const Range* range = a.range(); range && range->link) {
      const LinkSpec& link = spec.links[range->link];
      s.grips.push_back(
          {i, 0.5 * (place(link.inner) + place(link.outer)), false, place(link.outer) - place(link.inner)});
    } else if (const PointHandle point = a.place()) {
      s.grips.push_back({i, place(point), true, Vec3::Zero()});
    }
  }
  return s;
}

}  // namespace

std::optional<double> rollAxisAt(const CarScene& scene, double x) {
  const auto& front = scene.roll_centre[0];
  const auto& rear = scene.roll_centre[1];
  if (!front || !rear || std::abs(front->x() - rear->x()) < 1.0) return std::nullopt;
  return rear->z() + (x - rear->x()) / (front->x() - rear->x()) * (front->z() - rear->z());
}

CarScene carSceneOf(const Car& car, const Variant& v) {
  CarScene scene;
  for (const End end : both_ends)
    for (const Side side : both_sides) scene.corner[at(end)][at(side)] = cornerOf(car, v, end, side);
  for (auto& sides : scene.corner) {
    if (sides[0].third_end && sides[1].third_end)
      sides[0].lines.push_back({*sides[0].third_end, *sides[1].third_end, Stroke::shock});
    if (sides[0].bar && sides[1].bar) sides[0].lines.push_back({*sides[0].bar, *sides[1].bar, Stroke::shaft});
  }
  if (v.pose.steering) scene.steering = steeringOf(car, v);
  const OnGround onGround(v.pose.ground, Side::left);
  const double front = v.pose.axle[0].corner[0].wheel_centre.x();
  const double rear = v.pose.axle[1].corner[0].wheel_centre.x();
  const double overhang = 0.09 * (front - rear);
  for (const auto& [x, half] : {std::pair(front + overhang, 1.0), std::pair(rear - overhang, -1.0)}) {
    const double width = car.plate_half_width_mm[half > 0 ? 0 : 1];
    scene.plate.push_back(onGround.place({x, half * width, 0.0}));
    scene.plate.push_back(onGround.place({x, -half * width, 0.0}));
  }
  scene.plate_thickness_mm = car.plate_thickness_mm;
  if (v.model.mass.cg) scene.gravity = onGround.place(*v.model.mass.cg);
  for (const End end : both_ends) {
    if (!car.axle(end).mechanism->independent) continue;
    const auto& rc = v.source.car.axle[at(end)].roll_centre.moving;
    const auto& c = scene.corner[at(end)];
    if (rc)
      scene.roll_centre[at(end)] = Vec3(0.5 * (c[0].wheel.centre.x() + c[1].wheel.centre.x()), rc->across, rc->height);
  }
  if (const auto& steering = v.source.car.steering; steering && steering->turning_radius_mm) {
    const double mean = steering->steer_rad[0] + steering->steer_rad[1];
    const double axle = 0.5 * (scene.corner[1][0].wheel.centre.x() + scene.corner[1][1].wheel.centre.x());
    scene.turn_centre = Vec3(axle, (mean > 0.0 ? 1.0 : -1.0) * std::abs(*steering->turning_radius_mm), 0.0);
  }
  return scene;
}

}  // namespace lowkite::app
