#include "core/measure/travel_figures.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

SteerInput centred_input(const CarModel& model, End end, Side side, const Steered& steered) {
  return model.corner(end, side).spec->steered ? steered.corner[at(side)] : SteerInput{};
}

std::optional<double> motion_ratio_at(const CarModel& model, End end, Side side, double arm_angle,
                                      const SteerInput& input) {
  const auto pose = model.corner(end, side).linkage->solve(arm_angle, input);
  if (!pose) return std::nullopt;
  const auto shock = read_parts(model, end, side, *pose, Ground{}).shock;
  return shock ? std::optional(shock->motion_ratio) : std::nullopt;
}

/// Reads the shaft over the travel with the steering as it is and takes the worst.
void add_shaft(const CarModel& model, End end, Side side, const SteerInput& input, CornerTravel& t) {
  const CornerModel& corner = model.corner(end, side);
  constexpr int places = 5;
  for (int i = 0; i < places; ++i) {
    const double travel =
        t.stops.droop.travel_mm + (t.stops.bump.travel_mm - t.stops.droop.travel_mm) * i / (places - 1);
    const auto pose = pose_at_travel(corner, travel, input);
    if (!pose) continue;
    const auto shaft = read_shaft(model, end, side, *pose);
    if (!shaft) continue;
    const auto least = [](std::optional<double>& kept, double v) { kept = kept ? std::min(*kept, v) : v; };
    least(t.shaft_least_to_falling_out_mm, shaft->to_falling_out_mm);
    least(t.shaft_least_to_bottoming_mm, shaft->to_bottoming_mm);
    t.shaft_most_angle_rad = std::max(t.shaft_most_angle_rad, shaft->outer_angle_rad);
  }
}

void add_roll(const CarModel& model, End end, const Steered& centred, const AxleFigures& level,
              TravelFigures& figures) {
  for (const Side outer : both_sides) {
    Attitude rolled = static_attitude(model);
    rolled.roll_rad = radians(outer == Side::right ? 1.0 : -1.0);
    const Ground ground = ground_under(*model.car, rolled);
    const auto pose = pose_axle(model, end, ground, centred);
    if (!pose) continue;
    const AxleFigures leaning = read_axle(model, end, *pose, ground);
    figures.corner[at(end)][at(outer)].camber_per_degree_of_roll_rad =
        leaning.wheel[at(outer)].camber_rad - level.wheel[at(outer)].camber_rad;
    if (outer == Side::right && leaning.roll_centre.moving && level.roll_centre.moving)
      figures.roll_centre_per_degree_mm[at(end)] =
          leaning.roll_centre.moving->across - level.roll_centre.moving->across;
  }
}

std::optional<SteeringFigures> steering_at(const CarModel& model, double servo_rad) {
  Attitude a = static_attitude(model);
  a.servo_rad = servo_rad;
  const auto f = figures_at(model, a);
  return f ? f->steering : std::nullopt;
}

}  // namespace

double toe_span(const CornerModel& corner, const CornerStops& stops, const SteerInput& input) {
  constexpr int places = 15;
  double least = pi, most = -pi;
  for (int i = 0; i < places; ++i) {
    const double angle = stops.droop.arm_angle + (stops.bump.arm_angle - stops.droop.arm_angle) * i / (places - 1);
    const auto pose = corner.linkage->solve(angle, input);
    if (!pose) continue;
    const double toe = std::atan2(pose->spin_axis.x(), pose->spin_axis.y());
    least = std::min(least, toe);
    most = std::max(most, toe);
  }
  return std::max(0.0, most - least);
}

TravelFigures read_travel(const CarModel& model, const CarPose& standing, const CarFigures& level, int samples,
                          const PerEnd<const TravelFigures*>& known) {
  TravelFigures figures;
  const auto centred = steer(model, 0.0);
  if (!centred) return figures;
  for (const End end : both_ends) {
    if (const TravelFigures* same = known[at(end)]) {
      figures.corner[at(end)] = same->corner[at(end)];
      figures.roll_centre_per_degree_mm[at(end)] = same->roll_centre_per_degree_mm[at(end)];
      continue;
    }
    for (const Side side : both_sides) {
      CornerTravel& t = figures.corner[at(end)][at(side)];
      const SteerInput input = centred_input(model, end, side, *centred);
      t.stops = find_stops(model, end, side, standing.axle[at(end)].corner[at(side)], input);
      t.motion_ratio_in_droop = motion_ratio_at(model, end, side, t.stops.droop.arm_angle, input);
      t.motion_ratio_in_bump = motion_ratio_at(model, end, side, t.stops.bump.arm_angle, input);
      if (model.corner(end, side).spec->independent) t.toe_span_rad = toe_span(model.corner(end, side), t.stops, input);
      add_shaft(model, end, side, input, t);
    }
    add_roll(model, end, *centred, level.axle[at(end)], figures);
  }
  if (!model.steering || samples == 0) return figures;
  PerSide<CornerTravel>& front = figures.corner[at(End::front)];
  const TravelFigures* same_front = known[at(End::front)];
  figures.lock = same_front
                     ? same_front->lock
                     : find_lock(model, standing.axle[at(End::front)], {front[0].stops, front[1].stops}, samples);
  figures.at_left_lock = steering_at(model, figures.lock->end_point_rad[at(Side::left)]);
  figures.at_right_lock = steering_at(model, -figures.lock->end_point_rad[at(Side::right)]);
  if (level.steering) figures.ratio_in_the_middle = level.steering->ratio;
  if (same_front) return figures;
  for (const double servo :
       {figures.lock->end_point_rad[at(Side::left)], -figures.lock->end_point_rad[at(Side::right)]})
    if (const auto steered = steer(model, servo))
      for (const Side side : both_sides) add_shaft(model, End::front, side, steered->corner[at(side)], front[at(side)]);
  return figures;
}

}  // namespace lowkite
