#include "core/load/grip.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace lowkite {

double lean_into_turn(double camber_rad, Side side, double lateral_g) {
  // In a left turn the right wheel is the outer one; its top towards the car is towards the centre of the turn.
  const bool outer = (lateral_g > 0.0) == (side == Side::right);
  return outer ? -camber_rad : camber_rad;
}

PerEnd<double> grip_lost(const Balance& balance, double lateral_g, const TyreAssumption& tyre) {
  PerEnd<double> lost{};
  for (const End end : both_ends) {
    const auto& wheels = balance.wheel[at(end)];
    const double even = 0.5 * balance.axle_n(end);
    if (!(even > 0.0)) continue;
    double grip = 0.0;
    for (const Side side : both_sides) {
      const WheelState& w = wheels[at(side)];
      if (!(w.load_n > 0.0)) continue;
      const double off =
          lateral_g == 0.0 ? 0.0 : degrees(lean_into_turn(w.camber_rad, side, lateral_g)) - tyre.best_lean_deg;
      const double leans = std::max(0.0, 1.0 - tyre.lean_loss_per_deg2 * off * off);
      grip += w.load_n * std::pow(w.load_n / even, -tyre.load_exponent) * leans;
    }
    lost[at(end)] = 1.0 - grip / (2.0 * even);
  }
  return lost;
}

GripBalance grip_balance(const Balance& balance, const TyreAssumption& tyre) {
  constexpr double steady_g = 0.02;  // no driver holds his speed better
  const double lateral_g = balance.under.lateral_g;
  GripBalance g;
  g.lost = grip_lost(balance, lateral_g, tyre);
  g.rear_more = g.lost[at(End::rear)] - g.lost[at(End::front)];
  g.least = g.most = g.rear_more;
  constexpr std::array corners{-1.0, 0.0, 1.0};
  for (const double load : corners)
    for (const double lean : corners)
      for (const double loss : corners) {
        TyreAssumption other = tyre;
        other.load_exponent = std::max(0.0, tyre.load_exponent + load * tyre.load_exponent_band);
        other.best_lean_deg = tyre.best_lean_deg + lean * tyre.best_lean_band_deg;
        other.lean_loss_per_deg2 = std::max(0.0, tyre.lean_loss_per_deg2 + loss * tyre.lean_loss_band);
        const auto lost = grip_lost(balance, lateral_g, other);
        const double rear_more = lost[at(End::rear)] - lost[at(End::front)];
        g.least = std::min(g.least, rear_more - tyre.friction_ratio_band);
        g.most = std::max(g.most, rear_more + tyre.friction_ratio_band);
      }
  if (std::abs(balance.under.longitudinal_g) > steady_g) {
    g.verdict = GripVerdict::not_with_braking_or_power;
    return g;
  }
  if (g.least > 0.0) g.verdict = GripVerdict::rear_gives_up_more;
  if (g.most < 0.0) g.verdict = GripVerdict::front_gives_up_more;
  return g;
}

}  // namespace lowkite
