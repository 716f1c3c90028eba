#include "core/measure/corner_parts.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

ShockFigures read_shock(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  const Vec3 upper = point_in_chassis(corner, pose, attachment::shock_upper);
  const Vec3 lower = point_in_chassis(corner, pose, attachment::shock_lower);
  const Vec3 along = upper - lower;
  ShockFigures s;
  s.length_mm = along.norm();
  s.lean_rad = std::atan2(-along.dot(ground.left), along.dot(ground.up));
  const Body carrier = corner.spec->point_spec(attachment::shock_lower).body;
  const double shortens = pose.twist(carrier).at(lower).dot(along) / s.length_mm;
  s.motion_ratio = shortens / pose.wheel_by_arm().at(pose.wheel_centre).z();
  const double longest = corner.geometry.size_of(Size::shock_extended);
  const double shortest = corner.geometry.size_of(Size::shock_compressed);
  if (longest > 0.0) s.left_in_droop_mm = longest - s.length_mm;
  if (shortest > 0.0) s.left_in_bump_mm = s.length_mm - shortest;
  return s;
}

/// The stud of a link's ball, as the car says or upright in the body's design position.
Vec3 stud_of(const AxleLimits& limits, LinkHandle link, bool outer) {
  for (const JointLimit& j : limits.joints)
    if (j.link == link && j.outer == outer) return j.stud;
  return Vec3::UnitZ();
}

}  // namespace

double lean_out_of_plane(const Vec3& rod, const Vec3& stud) {
  return std::asin(std::min(1.0, std::abs(rod.dot(stud)) / rod.norm()));
}

std::optional<ShaftFigures> read_shaft(const CarModel& model, End end, Side side, const CornerPose& pose) {
  const CornerModel& corner = model.corner(end, side);
  const auto& cup = model.car->axle(end).cup;
  if (!cup || !corner.geometry.has(attachment::shaft_cup) || !corner.geometry.has(attachment::shaft_joint))
    return std::nullopt;
  const Vec3 mouth = point_in_chassis(corner, pose, attachment::shaft_cup);
  const Vec3 joint = point_in_chassis(corner, pose, attachment::shaft_joint);
  const double length = corner.geometry.size_of(Size::shaft_length);
  // The pin slides along the cup's line, which runs along y through the mouth.
  const Vec3 off = joint - mouth;
  const double reach = length * length - off.x() * off.x() - off.z() * off.z();
  if (!(reach > 0.0)) return std::nullopt;
  const Vec3 pin(mouth.x(), joint.y() - std::sqrt(reach), mouth.z());
  ShaftFigures s;
  s.depth_mm = mouth.y() - pin.y();
  s.to_falling_out_mm = s.depth_mm - cup->least_hold_mm;
  s.to_bottoming_mm = cup->depth_mm - s.depth_mm;
  const Vec3 along = (joint - pin) / length;
  s.outer_angle_rad = std::acos(std::clamp(along.dot(pose.spin_axis), -1.0, 1.0));
  s.inner_angle_rad = std::acos(std::clamp(along.y(), -1.0, 1.0));
  return s;
}

CornerParts read_parts(const CarModel& model, End end, Side side, const CornerPose& pose, const Ground& ground) {
  const CornerModel& corner = model.corner(end, side);
  const MechanismSpec& spec = *corner.spec;
  CornerParts parts;
  if (corner.geometry.has(attachment::shock_upper) && corner.geometry.has(attachment::shock_lower))
    parts.shock = read_shock(corner, pose, ground);
  parts.shaft = read_shaft(model, end, side, pose);
  const AxleLimits& limits = model.car->axle(end).limits;
  for (const LinkHandle l : spec.links.handles()) {
    const LinkSpec& link = spec.links[l];
    if (link.pin) continue;  // an arm's ball, no rod
    const Vec3 inner = point_in_chassis(corner, pose, link.inner);
    const Vec3 outer = point_in_chassis(corner, pose, link.outer);
    const Vec3 rod = outer - inner;
    const auto stud = [&](bool at_outer) -> Vec3 {
      const Body body = spec.point_spec(at_outer ? link.outer : link.inner).body;
      return pose.placement(body).direction(stud_of(limits, l, at_outer));
    };
    parts.joint[l] = {lean_out_of_plane(rod, stud(false)), lean_out_of_plane(rod, stud(true))};
    if (link.holds != LinkHolds::toe) continue;
    const auto slope = [&](const Vec3& v) { return std::atan2(v.dot(ground.up), v.dot(ground.left)); };
    const FrontViewLinks front = corner.linkage->front_view(pose, pose.wheel_centre.x());
    if (spec.independent) parts.tie_to_arm_rad = slope(rod) - slope(front.lower_outer - front.lower_inner);
    // The steering arm in plan: from the kingpin, at the outer ball's height, to that ball.
    const Vec3 k = pose.kingpin_upper - pose.kingpin_lower;
    const Vec3 foot = pose.kingpin_lower + k * ((outer.z() - pose.kingpin_lower.z()) / k.z());
    const Vec3 arm = outer - foot;
    const double cross = arm.x() * rod.y() - arm.y() * rod.x();
    const double dot = arm.x() * rod.x() + arm.y() * rod.y();
    parts.tie_to_steering_arm_rad = std::abs(std::atan2(cross, dot));
  }
  return parts;
}

}  // namespace lowkite
