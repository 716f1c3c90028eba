#include "core/measure/roll_centre.hpp"

#include <cmath>

namespace lowkite {
namespace {

/// A point or direction of a corner, in the chassis.
Vec3 to_chassis(Side side, const Vec3& v) {
  return side == Side::left ? v : mirrored(v);
}

FrontPoint to_front(const Ground& ground, const Vec3& p) {
  return {ground.left.dot(p), ground.height(p)};
}

std::optional<FrontPoint> point_of(const FoundPoint<double>& p) {
  return p.found ? std::optional(FrontPoint{p.across, p.height}) : std::nullopt;
}

/// Where a solid axle that tilts under the body stands still, in the plane across the car at `x`.
Vec3 centre_of_tilt(const Twist& tilt, double x) {
  const Vec3& w = tilt.angular;
  return {x, (w.y() * x - tilt.linear.z()) / w.x(), (tilt.linear.y() + w.z() * x) / w.x()};
}

}  // namespace

std::optional<FrontPoint> crossing(const FrontLine& a, const FrontLine& b) {
  return point_of(crossing_of<double>(a, b));
}

RollCentre read_roll_centre(const CarModel& model, End end, const AxlePose& pose, const PerSide<WheelFigures>& wheels,
                            const Ground& ground) {
  RollCentre rc;
  PerSide<WheelLines<double>> lines;
  for (const Side side : both_sides) {
    const CornerPose& corner = pose.corner[at(side)];
    const FrontViewLinks links = model.corner(end, side).linkage->front_view(corner, corner.wheel_centre.x());
    lines[at(side)] = lines_of_wheel<double>(wheels[at(side)], links, ground, side == Side::left ? 1.0 : -1.0);
    WheelConstruction& c = rc.construction[at(side)];
    c.lower_inner = to_front(ground, to_chassis(side, links.lower_inner));
    c.lower_outer = to_front(ground, to_chassis(side, links.lower_outer));
    c.upper_inner = to_front(ground, to_chassis(side, links.upper_inner));
    c.upper_outer = to_front(ground, to_chassis(side, links.upper_outer));
    c.contact = to_front(ground, to_chassis(side, wheels[at(side)].contact));
    c.instant_centre = point_of(lines[at(side)].instant_centre);
  }
  if (!model.corner(end, Side::left).spec->independent) {
    const CornerPose& left = pose.corner[at(Side::left)];
    rc.moving = rc.locked = rc.drawn =
        to_front(ground, centre_of_tilt(left.wheel_by_steer, wheels[at(Side::left)].contact.x()));
    return rc;
  }
  rc.moving = point_of(meeting_of<double>(lines[0].moving, lines[1].moving));
  rc.locked = point_of(meeting_of<double>(lines[0].locked, lines[1].locked));
  rc.drawn = point_of(meeting_of<double>(lines[0].drawn, lines[1].drawn));
  return rc;
}

}  // namespace lowkite
