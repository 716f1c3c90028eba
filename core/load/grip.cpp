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

GripBalance grip_balance(const Balance& balance, double lateral_g, const TyreAssumption& tyre) {
  GripBalance g;
  g.lost = grip_lost(balance, lateral_g, tyre);
  g.rear_more = g.lost[at(End::rear)] - g.lost[at(End::front)];
  g.least = g.most = g.rear_more;
  constexpr std::array corners{-1.0, 0.0, 1.0};
  for (const double load : corners)
    for (const double lean : corners) {
      TyreAssumption other = tyre;
      other.load_exponent = std::max(0.0, tyre.load_exponent + load * tyre.load_exponent_band);
      other.best_lean_deg = tyre.best_lean_deg + lean * tyre.best_lean_band_deg;
      const auto lost = grip_lost(balance, lateral_g, other);
      const double rear_more = lost[at(End::rear)] - lost[at(End::front)];
      g.least = std::min(g.least, rear_more);
      g.most = std::max(g.most, rear_more);
    }
  if (g.least > 0.0) g.verdict = GripVerdict::rear_gives_up_more;
  if (g.most < 0.0) g.verdict = GripVerdict::front_gives_up_more;
  return g;
}

}  // namespace lowkite
