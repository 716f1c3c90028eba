// The forces of a car on its tyres, for plain numbers and for numbers that carry derivatives. Only for the sources that
// compute with them.
#pragma once

#include <algorithm>
#include <cmath>
#include <utility>

#include <ceres/jet.h>

#include "core/handling/car_on_tyres.hpp"

namespace lowkite {

/// Unknowns, in this order. The yaw rate follows from the speed, but derivatives by it are wanted; lateral acceleration
/// is one only on the way along a row of trims.
enum TrimUnknown : int { servo, body_slip, drive_slip, front_apart, rear_apart, lateral, yaw_rate };
constexpr int unknown_count = 8;  // one is spare
constexpr int solved_count = 6;   ///< those before the yaw rate
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

template <class T>
[[gnu::flatten]] TyreForces<T> CarOnTyres::forces(const DriveLayout& layout, const SetupTable::Node& node,
                                                  const std::array<T, 8>& u, const std::array<T, 3>& shift,
                                                  const T& speed) const {
  using std::tanh;
  TyreForces<T> f;
  const auto [body_cos, body_sin] = cos_sin(u[body_slip]);
  const T vx = speed * body_cos;
  const T vy = speed * body_sin;
  T x_sum(0.0), y_sum(0.0), yaw_sum(0.0);
  PerWheel<T> loads{};
  for (const End end : both_ends) {
    PerSide<T> along{}, tread{};
    for (const Side side : both_sides) {
      const auto w = static_cast<std::size_t>(wheel_of(end, side));
      const T more = u[lateral] - node.at_g;
      T heading = node.heading[w] + node.heading_per_g[w] * more + node.heading_per_rad[w] * u[servo];
      TyreState<T> s;
      s.lean = node.lean[w] + node.lean_per_g[w] * more + node.lean_per_rad[w] * u[servo];
      s.load_n = node.load_n[w] + node.load_per_g[w] * more + node.load_per_rad[w] * u[servo];
      for (std::size_t k = 0; k < 3; ++k) {
        s.load_n += node.load_by[k][w] * shift[k];
        s.lean += node.lean_by[k][w] * shift[k];
      }
      if (end == End::front) {
        const SetupTable::Steered alone = table_->steered(side, value_of(u[servo]));
        heading += through(u[servo], alone.heading, alone.heading_per_rad);
        s.lean += through(u[servo], alone.lean, alone.lean_per_rad);
      }
      const T wx = vx - u[yaw_rate] * table_->y_m()[w];
      const T wy = vy + u[yaw_rate] * table_->x_m()[w];
      const auto [c, sn] = cos_sin(heading);
      const T forward = wx * c + wy * sn;
      s.slip = -(wy * c - wx * sn) / forward;
      if (layout.engaged[at(end)]) {
        T runs = speed * (1.0 + u[drive_slip]);
        const double way = side == Side::left ? -1.0 : 1.0;
        switch (layout.kind[at(end)]) {
          case DifferentialKind::spool:
            break;
          case DifferentialKind::one_way:
            if (runs < forward) runs = forward;
            break;
          case DifferentialKind::undescribed:
          case DifferentialKind::open:
          case DifferentialKind::oil:
          case DifferentialKind::ball:
            runs += way * speed * u[end == End::front ? front_apart : rear_apart];
            break;
        }
        tread[at(side)] = runs;
        s.lengthways = (runs - forward) / forward;
      }
      loads[w] = s.load_n;
      const TyreForce<T> force = tyre_[at(end)].force(s);
      along[at(side)] = force.lengthways;
      const T x = force.lengthways * c - force.sideways * sn;
      const T y = force.lengthways * sn + force.sideways * c;
      x_sum += x;
      y_sum += y;
      yaw_sum += table_->x_m()[w] * y - table_->y_m()[w] * x;
      f.yaw_by_drive += table_->x_m()[w] * force.lengthways * sn - table_->y_m()[w] * force.lengthways * c;
      f.sideways_body[w] = y;
      f.slip[w] = value_of(s.slip);
      f.wheel[w] = {value_of(s.load_n),        0.0, value_of(s.lean), value_of(heading), value_of(force.sideways),
                    value_of(force.lengthways)};
    }
    const DifferentialKind kind = layout.kind[at(end)];
    if (!layout.engaged[at(end)] || kind == DifferentialKind::spool || kind == DifferentialKind::one_way) continue;
    const Differential& d = table_->differential()[at(end)];
    const double radius = table_->radius_m()[at(end)];
    const double rubs =
        layout.rubs * (d.friction_n_mm > 0.0 ? d.friction_n_mm : draw_[TyreParameter::differential_friction]);
    const double drags = kind == DifferentialKind::oil ? draw_[TyreParameter::oil_drag] * 1e-3 * d.oil_cst *
                                                             (d.gears > 0.0 ? 0.25 * d.gears : 1.0)
                                                       : 0.0;
    // The faster wheel hands torque over to the slower one.
    const T apart = (tread[1] - tread[0]) / radius;
    const T handed = 1e-3 * (rubs * tanh(apart / friction_turns) + drags * apart) / radius;
    f.sum[end == End::front ? front_law : rear_law] = along[0] - along[1] - handed;
  }
  const double weight = table_->mass_kg() * gravity_m_s2;
  f.sum[sideways] = y_sum;
  f.sum[yaw] = yaw_sum;
  f.sum[lengthways] = x_sum;
  for (const End end : both_ends) {
    const auto l = static_cast<std::size_t>(wheel_of(end, Side::left));
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
