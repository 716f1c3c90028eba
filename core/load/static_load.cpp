#include "core/load/static_load.hpp"

#include <cmath>

#include <boost/math/tools/toms748_solve.hpp>

namespace lowkite {
namespace {

constexpr double farthest_sink_mm = 20.0;

/// The mean of an axle's two collars that hold the car with this end at `height`.
std::optional<double> collars_at(const CarModel& model, const PerEnd<PerSide<double>>& loads, End end, double height) {
  Attitude level = static_attitude(model);
  level.ride_height_mm[at(end)] = height;
  const auto pose = pose_axle(model, end, level);
  if (!pose) return std::nullopt;
  const Ground ground = ground_under(*model.car, level);
  double sum = 0.0;
  for (const Side side : both_sides) {
    const auto spring =
        spring_under(model, end, side, pose->corner[at(side)], ground_of(ground, side), loads[at(end)][at(side)]);
    if (!spring) return std::nullopt;
    sum += 0.5 * spring->collar_mm;
  }
  return sum;
}

/// The mean of an axle's spring spacers.
double spacers_of(const CarModel& model, End end) {
  double sum = 0.0;
  for (const Side side : both_sides) sum += 0.5 * model.corner(end, side).geometry.size_of(Size::spring_spacer);
  return sum;
}

/// Where the collars are in `after` that were left as in `before`.
std::optional<double> collars_left(const CarModel& before, const CarFigures& stood, const CarModel& after, End end) {
  const auto loads = wheel_loads(before, stood);
  const auto was = loads ? collars_at(before, *loads, end, before.ride_height_mm[at(end)]) : std::nullopt;
  return was ? std::optional(*was + spacers_of(after, end) - spacers_of(before, end)) : std::nullopt;
}

}  // namespace

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
  double at_wheel = wheel_load_n - unsprung_kg(axle, corner) * gravity_m_s2;
  if (has_side_spring(corner)) at_wheel -= side_spring_n(corner, 0.0) * side_per_contact(corner, pose, corner_ground);
  s.force_n = at_wheel / *ratio;
  s.length_mm = corner.geometry.size_of(Size::spring_free) - spring.compression(s.force_n);
  s.collar_mm = shock_length(corner, pose) - spring_seat(axle, corner) - s.length_mm;
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

std::optional<double> collars_moved(const CarModel& before, const CarFigures& stood, const CarModel& after,
                                    const CarFigures& stands, End end) {
  const auto loads = wheel_loads(after, stands);
  const auto left = collars_left(before, stood, after, end);
  const auto now = loads ? collars_at(after, *loads, end, after.ride_height_mm[at(end)]) : std::nullopt;
  return left && now ? std::optional(*now - *left) : std::nullopt;
}

std::optional<double> sinks_by(const CarModel& before, const CarFigures& stood, const CarModel& after,
                               const CarFigures& stands, End end) {
  const auto loads_after = wheel_loads(after, stands);
  const auto left = collars_left(before, stood, after, end);
  if (!left || !loads_after) return std::nullopt;
  const double wanted = *left;
  const double height = before.ride_height_mm[at(end)];
  const auto off = [&](double lower) -> std::optional<double> {
    const auto there = collars_at(after, *loads_after, end, height - lower);
    return there ? std::optional(*there - wanted) : std::nullopt;
  };
  // A lower car has its collars higher up: look on both sides, further and further.
  auto here = off(0.0);
  if (!here) return std::nullopt;
  if (*here == 0.0) return 0.0;
  double inside = 0.0;
  for (double reach = *here > 0.0 ? 0.5 : -0.5; std::abs(reach) < farthest_sink_mm; reach *= 2.0) {
    const auto there = off(reach);
    if (!there) return std::nullopt;
    if (*here * *there <= 0.0) {
      std::uintmax_t rounds = 40;
      const auto found = boost::math::tools::toms748_solve(
          [&](double lower) { return off(lower).value_or(*there); }, std::min(inside, reach), std::max(inside, reach),
          inside < reach ? *here : *there, inside < reach ? *there : *here,
          boost::math::tools::eps_tolerance<double>(36), rounds);
      return 0.5 * (found.first + found.second);
    }
    inside = reach;
    here = there;
  }
  return std::nullopt;
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
    sum += force * *ratio + unsprung_kg(model.car->axle(end), corner) * gravity_m_s2;
    if (has_side_spring(corner))
      sum += side_spring_n(corner, side_length(corner, before) - side_length(corner, after)) *
             side_per_contact(corner, after, ground_of(lower, side));
  }
  return sum;
}

}  // namespace lowkite
