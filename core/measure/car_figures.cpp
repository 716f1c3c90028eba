#include "core/measure/car_figures.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {

namespace {

constexpr double parallel_per_mm = 1e-4;  ///< less pitch than this over a millimetre: the swing centre is 10 m away

SideViewFigures read_side_view(const Car& car, End end, const WheelFigures& w, const Ground& corner_ground,
                               double wheelbase_mm, double cg_over_ground_mm) {
  SideViewFigures s;
  const auto along = [&](const Vec3& v) { return v.dot(corner_ground.forward) / v.dot(corner_ground.up); };
  if (std::abs(w.pitch_per_travel_rad) > parallel_per_mm) {
    // The centre about which the wheel's body swings in the side view: v = omega x r.
    const double ahead = -w.centre_per_travel.dot(corner_ground.up) / -w.pitch_per_travel_rad;
    const double above = -w.centre_per_travel.dot(corner_ground.forward) / w.pitch_per_travel_rad;
    s.swing_centre = FrontPoint{ahead, corner_ground.height(w.wheel_centre) + above};
  }
  if (!(cg_over_ground_mm > 0.0)) return s;
  const Axle& axle = car.axle(end);
  const double toward_middle = end == End::front ? 1.0 : -1.0;
  const double per_share = 100.0 * toward_middle * wheelbase_mm / cg_over_ground_mm;
  const Vec3& braked = car.brakes == Brakes::hubs ? w.locked_wheel_per_travel : w.centre_per_travel;
  if (axle.braked_share > 0.0) s.anti_braking_percent = axle.braked_share * per_share * along(braked);
  if (axle.driven_share > 0.0) s.anti_power_percent = axle.driven_share * per_share * along(w.centre_per_travel);
  return s;
}

}  // namespace

AxleFigures read_axle(const CarModel& model, End end, const AxlePose& pose, const Ground& ground) {
  AxleFigures figures;
  for (const Side side : both_sides) {
    const Ground corner_ground = side == Side::left ? ground : ground.mirrored_frame();
    figures.wheel[at(side)] = read_wheel(model.corner(end, side), pose.corner[at(side)], corner_ground);
    figures.parts[at(side)] = read_parts(model, end, side, pose.corner[at(side)], corner_ground);
  }
  figures.roll_centre = read_roll_centre(model, end, pose, figures.wheel, ground);
  const auto& c = figures.roll_centre.construction;
  figures.track_mm = c[at(Side::left)].contact.across - c[at(Side::right)].contact.across;
  return figures;
}

CarFigures read_car(const CarModel& model, const CarPose& pose, const Attitude& attitude) {
  CarFigures car;
  car.attitude = attitude;
  for (const End end : both_ends) car.axle[at(end)] = read_axle(model, end, pose.axle[at(end)], pose.ground);
  for (const Side side : both_sides) {
    const Vec3 apart = pose.axle[at(End::front)].corner[at(side)].wheel_centre -
                       pose.axle[at(End::rear)].corner[at(side)].wheel_centre;
    const Vec3 along = side == Side::left ? pose.ground.forward : mirrored(pose.ground.forward);
    car.wheelbase_mm[at(side)] = apart.dot(along);
  }
  const double wheelbase = 0.5 * (car.wheelbase_mm[0] + car.wheelbase_mm[1]);
  const double middle_x = 0.5 * (pose.axle[0].corner[0].wheel_centre.x() + pose.axle[1].corner[0].wheel_centre.x());
  const double cg_z = model.mass.cg ? model.mass.cg->z() : model.car->cg_height_mm;
  const double cg = cg_z > 0.0 ? pose.ground.height({middle_x, 0.0, cg_z}) : 0.0;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      AxleFigures& axle = car.axle[at(end)];
      if (!model.corner(end, side).spec->independent) continue;
      axle.side_view[at(side)] =
          read_side_view(*model.car, end, axle.wheel[at(side)],
                         side == Side::left ? pose.ground : pose.ground.mirrored_frame(), wheelbase, cg);
    }
  if (model.car->axle(End::front).mechanism->steered)
    car.steering =
        read_steering(model, car.axle[at(End::front)].wheel, pose.steering ? &*pose.steering : nullptr, wheelbase,
                      tells_ackermann(car.axle[at(End::front)].wheel) ? straight_ahead(model) : PerSide<double>{});
  return car;
}

tl::expected<CarFigures, CarFailure> figures_at(const CarModel& model, const Attitude& attitude) {
  const auto pose = pose_car(model, attitude);
  if (!pose) return tl::unexpected(pose.error());
  return read_car(model, *pose, attitude);
}

AxleCurve sweep_axle(const CarModel& model, End end, const Attitude& attitude, int samples) {
  const TravelRange& travel = model.car->axle(end).travel;
  AxleCurve curve;
  curve.samples = samples;
  curve.points.reserve(at(samples));
  const auto steered = steer(model, attitude.servo_rad, attitude.rack_mm);
  if (!steered) {
    curve.stopped_by = sentence(steered.error());
    return curve;
  }
  for (int i = 0; i < samples; ++i) {
    const double bump = -travel.droop_mm + (travel.bump_mm + travel.droop_mm) * i / (samples - 1);
    Attitude moved = attitude;
    for (double& h : moved.ride_height_mm) h -= bump;
    const Ground ground = ground_under(*model.car, moved);
    const auto pose = pose_axle(model, end, ground, *steered);
    if (!pose) {
      curve.stopped_by = pose.error().message;
      continue;
    }
    const AxleFigures f = read_axle(model, end, *pose, ground);
    CurvePoint p;
    p.bump_mm = bump;
    for (const Side side : both_sides) {
      p.camber_rad[at(side)] = f.wheel[at(side)].camber_rad;
      p.toe_rad[at(side)] = f.wheel[at(side)].toe_rad;
      p.half_track_mm[at(side)] = std::abs(f.roll_centre.construction[at(side)].contact.across);
    }
    if (f.roll_centre.moving) p.roll_centre_mm = f.roll_centre.moving->height;
    curve.points.push_back(p);
  }
  return curve;
}

}  // namespace lowkite
