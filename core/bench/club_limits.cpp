#include "core/bench/club_limits.hpp"

#include <cmath>

namespace lowkite {

double overall_width_mm(const CarModel& model, const CarPose& pose, End end) {
  double width = 0.0;
  for (const Side side : both_sides) {
    const CornerPose& corner = pose.axle[at(end)].corner[at(side)];
    const Tyre& tyre = model.corner(end, side).tyre;
    const Ground ground = side == Side::left ? pose.ground : pose.ground.mirrored_frame();
    // A cylinder reaches outboard by its half width along its axle and by its radius across it.
    const double along = corner.spin_axis.dot(ground.left);
    width += corner.wheel_centre.dot(ground.left) + 0.5 * tyre.width_mm * std::abs(along) +
             tyre.radius_mm * std::sqrt(std::max(0.0, 1.0 - along * along));
  }
  return width;
}

std::vector<LimitBroken> broken_limits(const CarModel& model, const CarPose& standing, const ClubLimits& limits) {
  // A limit is met to what its gauge can tell; a hundredth of a millimetre breaks nothing.
  constexpr double tolerance = 0.005;
  std::vector<LimitBroken> broken;
  const double mass_g = 1000.0 * model.mass.kg;
  if (limits.least_mass_g && mass_g > 0.0 && mass_g < *limits.least_mass_g - tolerance)
    broken.push_back({LimitKind::mass, mass_g, *limits.least_mass_g, End::front});
  for (std::size_t i = 0; i < model.car->masses.size(); ++i) {
    if (model.car->masses[i].id != "battery") continue;
    const double behind = -model.mass.part[i].x();
    if (limits.least_battery_behind_mm && behind < *limits.least_battery_behind_mm - tolerance)
      broken.push_back({LimitKind::battery_ahead, behind, *limits.least_battery_behind_mm, End::front});
    if (limits.most_battery_behind_mm && behind > *limits.most_battery_behind_mm + tolerance)
      broken.push_back({LimitKind::battery_back, behind, *limits.most_battery_behind_mm, End::rear});
  }
  for (const End end : both_ends) {
    const double height = model.ride_height_mm[at(end)];
    if (limits.least_ride_height_mm && height < *limits.least_ride_height_mm - tolerance)
      broken.push_back({LimitKind::ride_height, height, *limits.least_ride_height_mm, end});
    const double width = overall_width_mm(model, standing, end);
    if (limits.most_width_mm && width > *limits.most_width_mm + tolerance)
      broken.push_back({LimitKind::width, width, *limits.most_width_mm, end});
  }
  return broken;
}

}  // namespace lowkite
