#include "core/measure/roll_centre.hpp"

#include <cmath>

namespace lowkite {
namespace {

constexpr double one_line_mm = 1e-6;

/// A point or direction of a corner, in the chassis.
Vec3 to_chassis(Side side, const Vec3& v) {
  return side == Side::left ? v : mirrored(v);
}

FrontPoint to_front(const Ground& ground, const Vec3& p) {
  return {ground.left.dot(p), ground.height(p)};
}

}  // namespace

FrontLine line_through(const FrontPoint& a, const FrontPoint& b) {
  return Eigen::Vector3d(a.across, a.height, 1.0).cross(Eigen::Vector3d(b.across, b.height, 1.0));
}

FrontLine line_across(const FrontPoint& p, double v_across, double v_up) {
  return {v_across, v_up, -(v_across * p.across + v_up * p.height)};
}

std::optional<FrontPoint> crossing(const FrontLine& a, const FrontLine& b) {
  const Eigen::Vector3d x = a.cross(b);
  if (std::abs(x.z()) <= parallel_sine * a.head<2>().norm() * b.head<2>().norm()) return std::nullopt;
  return FrontPoint{x.x() / x.z(), x.y() / x.z()};
}

namespace {

/// Where the two wheels' lines meet. Level lines at one height are one line: every point of it would do, and the one on
/// the centre plane is meant.
std::optional<FrontPoint> meet(const PerSide<FrontLine>& lines) {
  if (const auto met = crossing(lines[0], lines[1])) return met;
  const auto height_in_the_middle = [](const FrontLine& l) { return -l.z() / l.y(); };
  const double left = height_in_the_middle(lines[0]);
  const double right = height_in_the_middle(lines[1]);
  if (!(std::abs(left - right) < one_line_mm)) return std::nullopt;
  return FrontPoint{0.0, 0.5 * (left + right)};
}

}  // namespace

namespace {

/// Where a solid axle that tilts under the body stands still, in the plane across the car at `x`.
Vec3 centre_of_tilt(const Twist& tilt, double x) {
  const Vec3& w = tilt.angular;
  return {x, (w.y() * x - tilt.linear.z()) / w.x(), (tilt.linear.y() + w.z() * x) / w.x()};
}

}  // namespace

RollCentre read_roll_centre(const CarModel& model, End end, const AxlePose& pose, const PerSide<WheelFigures>& wheels,
                            const Ground& ground) {
  RollCentre rc;
  PerSide<FrontLine> moving;
  PerSide<FrontLine> locked;
  PerSide<FrontLine> drawn;
  for (const Side side : both_sides) {
    const WheelFigures& w = wheels[at(side)];
    const FrontPoint contact = to_front(ground, to_chassis(side, w.contact));
    const auto across_path = [&](const Vec3& velocity) {
      const Vec3 v = to_chassis(side, velocity);
      return line_across(contact, ground.left.dot(v), ground.up.dot(v));
    };
    moving[at(side)] = across_path(w.contact_per_travel);
    locked[at(side)] = across_path(w.locked_contact_per_travel);

    const CornerPose& corner = pose.corner[at(side)];
    const FrontViewLinks links = model.corner(end, side).linkage->front_view(corner, corner.wheel_centre.x());
    WheelConstruction& c = rc.construction[at(side)];
    c.lower_inner = to_front(ground, to_chassis(side, links.lower_inner));
    c.lower_outer = to_front(ground, to_chassis(side, links.lower_outer));
    c.upper_inner = to_front(ground, to_chassis(side, links.upper_inner));
    c.upper_outer = to_front(ground, to_chassis(side, links.upper_outer));
    c.contact = contact;
    const FrontLine lower = line_through(c.lower_inner, c.lower_outer);
    const FrontLine upper = line_through(c.upper_inner, c.upper_outer);
    c.instant_centre = crossing(lower, upper);
    // Parallel links: the instant centre lies at infinity in their direction, and the line from the tyre runs along
    // them.
    drawn[at(side)] =
        c.instant_centre ? line_through(contact, *c.instant_centre) : line_across(contact, lower.x(), lower.y());
  }
  if (!model.corner(end, Side::left).spec->independent) {
    const CornerPose& left = pose.corner[at(Side::left)];
    rc.moving = rc.locked = rc.drawn =
        to_front(ground, centre_of_tilt(left.wheel_by_steer, wheels[at(Side::left)].contact.x()));
    return rc;
  }
  rc.moving = meet(moving);
  rc.locked = meet(locked);
  rc.drawn = meet(drawn);
  return rc;
}

}  // namespace lowkite
