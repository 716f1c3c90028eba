#include "core/measure/car_figures.hpp"

#include <algorithm>

namespace lowkite {

AxleFigures read_axle(const CarModel& model, End end, const AxlePose& pose, const Ground& ground) {
  AxleFigures figures;
  for (const Side side : both_sides)
    figures.wheel[at(side)] = read_wheel(model.corner(end, side), pose.corner[at(side)],
                                         side == Side::left ? ground : ground.mirrored_frame());
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
  return car;
}

tl::expected<CarFigures, CornerFailure> figures_at(const CarModel& model, const Attitude& attitude) {
  const auto pose = pose_car(model, attitude);
  if (!pose) return tl::unexpected(pose.error());
  return read_car(model, *pose, attitude);
}

double AxleCurve::toe_span_rad(Side side) const {
  if (points.empty()) return 0.0;
  const auto [low, high] = std::minmax_element(points.begin(), points.end(), [&](const auto& a, const auto& b) {
    return a.toe_rad[at(side)] < b.toe_rad[at(side)];
  });
  return high->toe_rad[at(side)] - low->toe_rad[at(side)];
}

AxleCurve sweep_axle(const CarModel& model, End end, const Attitude& attitude, int samples) {
  const TravelRange& travel = model.car->axle(end).travel;
  AxleCurve curve;
  curve.points.reserve(static_cast<std::size_t>(samples));
  for (int i = 0; i < samples; ++i) {
    const double bump = -travel.droop_mm + (travel.bump_mm + travel.droop_mm) * i / (samples - 1);
    Attitude moved = attitude;
    for (double& h : moved.ride_height_mm) h -= bump;
    const auto pose = pose_axle(model, end, moved);
    if (!pose) {
      curve.stopped_by = pose.error().message;
      continue;
    }
    const Ground ground = ground_under(*model.car, moved);
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
