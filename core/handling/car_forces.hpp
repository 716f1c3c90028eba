// The forces of a car on its tyres, for plain numbers and for numbers that carry derivatives. Only for the sources that
// compute with them.
#pragma once

#include <algorithm>
#include <cmath>
#include <tuple>
#include <utility>

#include <ceres/jet.h>

#include "core/handling/car_on_tyres.hpp"
#include "core/handling/lanes/wheels.hpp"

namespace lowkite {

/// Forces, N; the moment about the centre of gravity, N m; each differential's law, N; where on the way, N.
enum TrimSum : int { sideways, yaw, lengthways, front_law, rear_law, way };

/// rad/s over which a differential's friction comes in.
constexpr double friction_turns = 1.0;

/// A number with its derivatives by the unknowns: by those that are solved for, or by all.
using Jet = ceres::Jet<double, solved_count>;
using WholeJet = ceres::Jet<double, unknown_count>;
/// Cosine and sine, which are each other's slopes.
template <class T>
std::pair<T, T> cos_sin(const T& angle) {
  const double c = std::cos(value_of(angle));
  const double s = std::sin(value_of(angle));
  return {through(angle, c, -s), through(angle, s, c)};
}

/// Of how many unknowns a number carries derivatives.
template <class T>
constexpr int slopes_of = 0;
template <int n>
constexpr int slopes_of<ceres::Jet<double, n>> = n;

/// `n` taken from the number; a number from what it stands in.
template <int n, class T>
WithSlopes<n> with_slopes(const T& x) {
  WithSlopes<n> all;
  all[0] = value_of(x);
  if constexpr (n > 0)
    for (int i = 0; i < n; ++i) all[1 + at(i)] = x.v[i];
  return all;
}
template <class T, class Read>
T from_slopes(const Read& read) {
  T x(read(0));
  if constexpr (slopes_of < T >> 0)
    for (int i = 0; i < slopes_of<T>; ++i) x.v[i] = read(1 + at(i));
  return x;
}

template <class T>
TyreForces<T> CarOnTyres::forces(const DriveLayout& layout, const SetupTable::Node& node, const std::array<T, 8>& u,
                                 const std::array<T, 3>& shift, const T& speed) const {
  constexpr int n = slopes_of<T>;
  TyreForces<T> f;
  WheelsAsk<n> ask;
  ask.node = &node;
  ask.steering = &table_->steering_near(value_of(u[servo]));
  ask.tyre = &tyre_rows_;
  ask.drive = &layout;
  ask.x_m = &table_->x_m();
  ask.y_m = &table_->y_m();
  ask.servo_rad = value_of(u[servo]);
  ask.more_g = value_of(u[lateral]) - node.at_g;
  std::tie(f.body_cos, f.body_sin) = cos_sin(u[body_slip]);
  ask.vx = with_slopes<n>(speed * f.body_cos);
  ask.vy = with_slopes<n>(speed * f.body_sin);
  ask.turns = with_slopes<n>(u[yaw_rate]);
  ask.tread = with_slopes<n>(speed * (1.0 + u[drive_slip]));
  PerEnd<T> apart{};  // half of what its treads differ by, m/s
  for (const End end : both_ends) {
    if (layout.gives_way(end)) apart[at(end)] = speed * u[end == End::front ? front_apart : rear_apart];
    ask.apart[at(end)] = with_slopes<n>(apart[at(end)]);
  }
  for (std::size_t k = 0; k < 3; ++k) ask.shift[k] = with_slopes<n>(shift[k]);
  WheelsTold<n> told;
  wheels_kernel()(ask, told);
  const auto of_wheel = [&](const WheelsWithSlopes<n>& all, std::size_t w) {
    return from_slopes<T>([&](std::size_t k) { return all[k][w]; });
  };
  const auto of_all = [&](const WheelsWithSlopes<n>& all, const PerWheel<double>& times) {
    return from_slopes<T>([&](std::size_t k) {
      return all[k][0] * times[0] + all[k][1] * times[1] + all[k][2] * times[2] + all[k][3] * times[3];
    });
  };
  constexpr PerWheel<double> once{1.0, 1.0, 1.0, 1.0};
  PerWheel<T> loads{};
  for (std::size_t w = 0; w < wheel_count; ++w) {
    loads[w] = of_wheel(told.load_n, w);
    f.sideways_body[w] = of_wheel(told.y_n, w);
    f.slip[w] = told.slip[w];
    const double along = told.lengthways_n[0][w];
    f.wheel[w] = {told.load_n[0][w], 0.0, told.lean[w], told.heading[w], told.sideways_n[w], along};
    f.yaw_by_drive_nm += along * (table_->x_m()[w] * told.heading_sin[w] - table_->y_m()[w] * told.heading_cos[w]);
  }
  f.sum[sideways] = of_all(told.y_n, once);
  f.sum[lengthways] = of_all(told.x_n, once);
  f.sum[yaw] = of_all(told.y_n, table_->x_m()) - of_all(told.x_n, table_->y_m());
  for (const End end : both_ends) {
    if (!layout.gives_way(end)) continue;
    const Differential& d = table_->differential()[at(end)];
    const double radius = table_->radius_m()[at(end)];
    const double rubs =
        layout.rubs * (d.friction_n_mm > 0.0 ? d.friction_n_mm : draw_[TyreParameter::differential_friction]);
    const double drags =
        layout.kind[at(end)] == DifferentialKind::oil
            ? draw_[TyreParameter::oil_drag] * 1e-3 * d.oil_cst * (d.gears > 0.0 ? 0.25 * d.gears : 1.0)
            : 0.0;
    // The faster wheel hands torque over to the slower one.
    const T faster = 2.0 * apart[at(end)] / radius;
    // A hyperbolic tangent.
    const double comes = 1.0 - 2.0 / (std::exp(2.0 / friction_turns * value_of(faster)) + 1.0);
    const T friction = through(faster, rubs * comes, rubs / friction_turns * (1.0 - comes * comes));
    const T handed = (1e-3 / radius) * (friction + drags * faster);
    const auto left = at(wheel_of(end, Side::left));
    f.sum[end == End::front ? front_law : rear_law] =
        of_wheel(told.lengthways_n, left) - of_wheel(told.lengthways_n, left + 1) - handed;
  }
  const double weight = table_->mass_kg() * gravity_m_s2;
  for (const End end : both_ends) {
    const auto l = at(wheel_of(end, Side::left));
    const auto r = l + 1;
    const T both = f.sideways_body[l] + f.sideways_body[r];
    const T load = loads[l] + loads[r];
    if (load > 1e-3 * weight) {
      f.shift[at(end)] = f.sideways_body[l];
      if (loads[l] > 0.0) f.shift[at(end)] -= both * loads[l] / load;
    } else {
      f.shift[at(end)] = T(0.0);
    }
    f.shift[2] += table_->x_m()[l] * f.sideways_body[l] + table_->x_m()[r] * f.sideways_body[r];
  }
  return f;
}

}  // namespace lowkite
