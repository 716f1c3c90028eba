#include "core/load/static_load.hpp"

namespace lowkite {
double shock_length(const CornerModel& corner, const CornerPose& pose) {
  return distance_between(corner, pose, attachment::shock_upper, attachment::shock_lower);
}

double shock_per_arm(const CornerModel& corner, const CornerPose& pose) {
  const Vec3 upper = point_in_chassis(corner, pose, attachment::shock_upper);
  const Vec3 lower = point_in_chassis(corner, pose, attachment::shock_lower);
  const Body carrier = corner.spec->point_spec(attachment::shock_lower).body;
  return pose.twist(carrier).at(lower).dot((upper - lower).normalized());
}

Ground ground_of(const Ground& ground, Side side) {
  return side == Side::left ? ground : ground.mirrored_frame();
}

std::optional<Piston> piston_of(const CornerModel& corner) {
  const CornerGeometry& g = corner.geometry;
  const Piston p{g.size_of(Size::damper_bore), g.size_of(Size::piston_holes), g.size_of(Size::piston_hole),
                 g.size_of(Size::piston_thickness)};
  const bool whole = p.bore_mm > 0.0 && p.holes >= 1.0 && p.hole_mm > 0.0 && p.thickness_mm > 0.0;
  return whole && g.size_of(Size::oil_cst) > 0.0 ? std::optional(p) : std::nullopt;
}

SpringLaw spring_of(const CornerModel& corner) {
  const CornerGeometry& g = corner.geometry;
  const double rate = g.size_of(Size::spring_rate);
  return {rate, g.size_of(Size::spring_rate_2), g.size_of(Size::spring_transition), corner.spring_table,
          rate - corner.kit_spring_rate};
}

std::optional<double> shock_per_contact(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  if (!corner.geometry.has(attachment::shock_upper) || !corner.geometry.has(attachment::shock_lower))
    return std::nullopt;
  const Vec3 rise = contact_velocity(corner.tyre, pose.wheel_centre, pose.spin_axis, ground.up, pose.wheel_by_arm());
  return shock_per_arm(corner, pose) / rise.dot(ground.up);
}

std::optional<PerEnd<PerSide<double>>> wheel_loads(const CarModel& model, const CarFigures& standing) {
  const MassState& mass = model.mass;
  if (!(mass.kg > 0.0) || !mass.cg) return std::nullopt;
  const auto x = [&](End e) {
    const auto& wheels = standing.axle[at(e)].wheel;
    return 0.5 * (wheels[0].contact.x() + wheels[1].contact.x());
  };
  const double weight = mass.kg * gravity_m_s2;
  const double front = (mass.cg->x() - x(End::rear)) / (x(End::front) - x(End::rear));
  PerEnd<PerSide<double>> loads;
  for (const End e : both_ends) {
    const double on_axle = weight * (e == End::front ? front : 1.0 - front);
    const double left = 0.5 + mass.cg->y() / standing.axle[at(e)].track_mm;
    loads[at(e)] = {on_axle * left, on_axle * (1.0 - left)};
  }
  return loads;
}

std::optional<SpringState> spring_under(const CarModel& model, End end, Side side, const CornerPose& pose,
                                        const Ground& corner_ground, double wheel_load_n) {
  const CornerModel& corner = model.corner(end, side);
  const Axle& axle = model.car->axle(end);
  const SpringLaw spring = spring_of(corner);
  const auto ratio = shock_per_contact(corner, pose, corner_ground);
  if (!(spring.rate_n_per_mm > 0.0) || !ratio) return std::nullopt;
  SpringState s;
  s.motion_ratio = *ratio;
  s.force_n = (wheel_load_n - axle.unsprung_kg * gravity_m_s2) / *ratio;
  s.length_mm = corner.geometry.size_of(Size::spring_free) - spring.compression(s.force_n);
  s.collar_mm = shock_length(corner, pose) - axle.spring_seat_mm - s.length_mm;
  return s;
}

std::optional<double> collar_place(const CarModel& model, const CarFigures& standing, End end, Side side) {
  const auto loads = wheel_loads(model, standing);
  const auto pose = pose_axle(model, end, static_attitude(model));
  if (!loads || !pose) return std::nullopt;
  const Ground ground = ground_under(*model.car, static_attitude(model));
  const auto spring =
      spring_under(model, end, side, pose->corner[at(side)], ground_of(ground, side), (*loads)[at(end)][at(side)]);
  return spring ? std::optional(spring->collar_mm) : std::nullopt;
}

std::optional<double> axle_push(const CarModel& model, const CarFigures& standing, End end, double down_mm) {
  const auto loads = wheel_loads(model, standing);
  const Attitude level = static_attitude(model);
  const auto stands = pose_axle(model, end, level);
  Attitude pulled = level;
  for (double& h : pulled.ride_height_mm) h -= down_mm;
  const auto down = pose_axle(model, end, pulled);
  if (!loads || !stands || !down) return std::nullopt;
  const Ground ground = ground_under(*model.car, level);
  const Ground lower = ground_under(*model.car, pulled);
  double sum = 0.0;
  for (const Side side : both_sides) {
    const CornerModel& corner = model.corner(end, side);
    const CornerPose& before = stands->corner[at(side)];
    const CornerPose& after = down->corner[at(side)];
    const auto spring = spring_under(model, end, side, before, ground_of(ground, side), (*loads)[at(end)][at(side)]);
    const auto ratio = shock_per_contact(corner, after, ground_of(lower, side));
    if (!spring || !ratio) return std::nullopt;
    const double compressed = corner.geometry.size_of(Size::spring_free) - spring->length_mm;
    const double force =
        spring_of(corner).force(compressed + shock_length(corner, before) - shock_length(corner, after));
    sum += force * *ratio + model.car->axle(end).unsprung_kg * gravity_m_s2;
  }
  return sum;
}

}  // namespace lowkite
