#include "core/measure/wheel.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

struct Directions {
  Vec3 up, forward, outboard;
};

double camber_rate(const Vec3& spin, const Vec3& spin_rate, const Vec3& up) {
  const double sine = spin.dot(up);
  return -spin_rate.dot(up) / std::sqrt(1.0 - sine * sine);
}

double toe_rate(const Vec3& spin, const Vec3& spin_rate, const Directions& d) {
  const double s = spin.dot(d.forward);
  const double c = spin.dot(d.outboard);
  return (c * spin_rate.dot(d.forward) - s * spin_rate.dot(d.outboard)) / (s * s + c * c);
}

KingpinFigures read_kingpin(const CornerPose& pose, const Vec3& contact, const Directions& d) {
  const Vec3 k = pose.kingpin_upper - pose.kingpin_lower;
  KingpinFigures out;
  out.caster_rad = std::atan2(-k.dot(d.forward), k.dot(d.up));
  out.inclination_rad = std::atan2(-k.dot(d.outboard), k.dot(d.up));
  const double down = (contact - pose.kingpin_lower).dot(d.up) / k.dot(d.up);
  const Vec3 pierced = pose.kingpin_lower + k * down;
  out.on_ground = pierced;
  const Vec3 heading = pose.spin_axis.cross(d.up).normalized();
  const Vec3 sideways = d.up.cross(heading);
  out.trail_mm = (pierced - contact).dot(heading);
  out.scrub_mm = (contact - pierced).dot(sideways);
  return out;
}

}  // namespace

WheelFigures read_wheel(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  const Directions d{ground.up, ground.forward, ground.left};
  const Vec3& spin = pose.spin_axis;
  WheelFigures w;
  w.camber_rad = -std::asin(std::clamp(spin.dot(d.up), -1.0, 1.0));
  w.toe_rad = std::atan2(spin.dot(d.forward), spin.dot(d.outboard));
  w.wheel_centre = pose.wheel_centre;
  w.contact = contact_point(corner.tyre, pose.wheel_centre, spin, d.up);
  if (pose.has_kingpin) w.kingpin = read_kingpin(pose, w.contact, d);

  const Twist& free = pose.wheel_by_arm();
  const double per_travel = 1.0 / free.at(pose.wheel_centre).z();
  const Vec3 spin_rate = free.angular.cross(spin) * per_travel;
  w.camber_gain_rad_per_mm = camber_rate(spin, spin_rate, d.up);
  w.bump_steer_rad_per_mm = toe_rate(spin, spin_rate, d);
  w.contact_per_travel = contact_velocity(corner.tyre, pose.wheel_centre, spin, d.up, free) * per_travel;
  w.centre_per_travel = free.at(pose.wheel_centre) * per_travel;
  w.locked_wheel_per_travel = free.at(w.contact) * per_travel;
  w.pitch_per_travel_rad = free.angular.y() * per_travel;
  const Twist& locked = pose.wheel_locked_by_arm;
  w.locked_contact_per_travel =
      contact_velocity(corner.tyre, pose.wheel_centre, spin, d.up, locked) / locked.at(pose.wheel_centre).z();
  if (pose.has_kingpin) {
    const Vec3 k = pose.kingpin_upper - pose.kingpin_lower;
    const Vec3 k_rate = pose.twist(Body::carrier).angular.cross(k) * per_travel;
    const double fore = -k.dot(d.forward);
    const double high = k.dot(d.up);
    w.caster_gain_rad_per_mm = (high * -k_rate.dot(d.forward) - fore * k_rate.dot(d.up)) / (fore * fore + high * high);
    w.toe_per_steer_rad = toe_rate(spin, pose.wheel_by_steer.angular.cross(spin), d);
  }
  return w;
}

}  // namespace lowkite
