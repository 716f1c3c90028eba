#include "core/load/spring_place.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

constexpr double middle_mm = 0.5;  ///< nearer to the centre plane than this, a pod's shock is the only one

bool has_mounts(const CornerGeometry& g) {
  return g.has(attachment::shock_upper) && g.has(attachment::shock_lower);
}

bool in_the_middle(const CornerGeometry& g) {
  return std::abs(g.set[attachment::shock_upper].y()) < middle_mm &&
         std::abs(g.set[attachment::shock_lower].y()) < middle_mm;
}

/// Whether a part of the axle's box changes a size.
PartHandle part_that_changes(const Car& car, End end, Size size) {
  const auto among = [&](const std::vector<SizeChange>& changes) {
    return std::any_of(changes.begin(), changes.end(), [&](const SizeChange& c) { return c.size == size; });
  };
  const auto found = std::find_if(car.adjusters.begin(), car.adjusters.end(), [&](const Adjuster& a) {
    if (a.end != end || a.steering) return false;
    if (const Range* r = a.range()) return among(r->sizes_per_unit);
    const auto& list = a.positions()->list;
    return std::any_of(list.begin(), list.end(), [&](const Position& p) { return among(p.effect.sizes); });
  });
  return found == car.adjusters.end() ? PartHandle() : PartHandle(at(found - car.adjusters.begin()));
}

}  // namespace

SpringPlace spring_place(const CornerModel& corner) {
  if (has_mounts(corner.geometry)) return corner.spec->independent ? SpringPlace::shock : SpringPlace::pod;
  return corner.geometry.size_of(Size::kingpin_spring) > 0.0 ? SpringPlace::kingpin : SpringPlace::none;
}

double spring_share(const CornerModel& corner) {
  return spring_place(corner) == SpringPlace::pod && in_the_middle(corner.geometry) ? 0.5 : 1.0;
}

SpringLaw spring_of(const CornerModel& corner) {
  const CornerGeometry& g = corner.geometry;
  const double rate = g.size_of(Size::spring_rate);
  return {.rate_n_per_mm = rate,
          .second_rate_n_per_mm = g.size_of(Size::spring_rate_2),
          .transition_mm = g.size_of(Size::spring_transition),
          .table = corner.spring_table,
          .beside_table_n_per_mm = rate - corner.kit_spring_rate,
          .share = spring_share(corner)};
}

std::optional<Piston> piston_of(const CornerModel& corner) {
  const CornerGeometry& g = corner.geometry;
  const Piston p{g.size_of(Size::damper_bore), g.size_of(Size::piston_holes), g.size_of(Size::piston_hole),
                 g.size_of(Size::piston_thickness)};
  const bool whole = p.bore_mm > 0.0 && p.holes >= 1.0 && p.hole_mm > 0.0 && p.thickness_mm > 0.0;
  return whole && g.size_of(Size::oil_cst) > 0.0 ? std::optional(p) : std::nullopt;
}

double shortening(const CornerModel& corner, const CornerPose& pose, PointHandle upper, PointHandle lower,
                  const Twist& twist) {
  const Vec3 top = point_in_chassis(corner, pose, upper);
  const Vec3 foot = point_in_chassis(corner, pose, lower);
  return twist.at(foot).dot((top - foot).normalized());
}

double shock_at(const CornerModel& corner, const CornerPose& pose) {
  return spring_place(corner) == SpringPlace::kingpin
             ? pose.slide_mm
             : distance_between(corner, pose, attachment::shock_upper, attachment::shock_lower);
}

double shock_length(const CornerModel& corner, double at_mm) {
  return spring_place(corner) == SpringPlace::kingpin ? corner.geometry.size_of(Size::kingpin_spring) - at_mm : at_mm;
}

double shock_length(const CornerModel& corner, const CornerPose& pose) {
  return shock_length(corner, shock_at(corner, pose));
}

double shock_per_arm(const CornerModel& corner, const CornerPose& pose) {
  if (spring_place(corner) == SpringPlace::kingpin) return pose.slide_per_arm;
  const Body carrier = corner.spec->point_spec(attachment::shock_lower).body;
  return shortening(corner, pose, attachment::shock_upper, attachment::shock_lower, pose.twist(carrier));
}

std::optional<double> stroke_left(const CornerModel& corner, double at_mm) {
  const CornerGeometry& g = corner.geometry;
  if (spring_place(corner) == SpringPlace::kingpin) {
    const double most = g.size_of(Size::slide_bump);
    return most > 0.0 ? std::optional(most - at_mm) : std::nullopt;
  }
  const double shortest = g.size_of(Size::shock_compressed);
  return shortest > 0.0 ? std::optional(at_mm - shortest) : std::nullopt;
}

std::optional<double> stroke_left(const CornerModel& corner, const CornerPose& pose) {
  return stroke_left(corner, shock_at(corner, pose));
}

double spring_seat(const Axle& axle, const CornerModel& corner) {
  const double kit = axle.size_of(Size::shock_compressed);
  return axle.spring_seat_mm + corner.geometry.size_of(Size::shock_compressed) - kit;
}

std::optional<double> shock_per_contact(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  if (spring_place(corner) == SpringPlace::none) return std::nullopt;
  const Vec3 rise = contact_velocity(corner.tyre, pose.wheel_centre, pose.spin_axis, ground.up, pose.wheel_by_arm());
  return shock_per_arm(corner, pose) / rise.dot(ground.up);
}

double side_per_contact(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  const Vec3 rise = contact_velocity(corner.tyre, pose.wheel_centre, pose.spin_axis, ground.up, pose.wheel_by_arm());
  return shortening(corner, pose, attachment::side_upper, attachment::side_lower, pose.wheel_by_arm()) /
         rise.dot(ground.up);
}

bool has_side_spring(const CornerModel& corner) {
  const CornerGeometry& g = corner.geometry;
  return !corner.spec->independent && g.has(attachment::side_upper) && g.has(attachment::side_lower) &&
         g.size_of(Size::side_rate) > 0.0;
}

double side_spring_n(const CornerModel& corner, double pressed_mm) {
  const CornerGeometry& g = corner.geometry;
  return g.size_of(Size::side_rate) * std::max(0.0, g.size_of(Size::side_preload) + pressed_mm);
}

double side_length(const CornerModel& corner, const CornerPose& pose) {
  return distance_between(corner, pose, attachment::side_upper, attachment::side_lower);
}

SpringHolder spring_holder(const Car& car, End end) {
  if (!car.axle(end).mechanism->independent) return SpringHolder::pod;
  return spacers_under_springs(car, end) ? SpringHolder::spacers : SpringHolder::collars;
}

PartHandle spacers_under_springs(const Car& car, End end) {
  return part_that_changes(car, end, Size::spring_spacer);
}

}  // namespace lowkite
