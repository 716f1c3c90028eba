#include "core/plan/bench_work.hpp"

#include <algorithm>

namespace lowkite {
namespace {

// Minutes for a pair, left and right.
constexpr double at_a_ball = 4.0;
constexpr double behind_a_hub = 10.0;
constexpr double under_arm_mounts = 12.0;
constexpr double elsewhere = 6.0;
constexpr double a_thread = 1.5;
constexpr double a_shock_hole = 4.0;
constexpr double a_third_spring = 4.0;  // it lies over everything, between its levers
// Off and on once, however much is done behind them.
constexpr double an_axles_wheels = 2.0;
constexpr double an_axles_shocks = 4.0;

bool is_ball(const MechanismSpec& m, PointHandle point) {
  return std::any_of(m.links.begin(), m.links.end(),
                     [&](const LinkSpec& l) { return l.inner == point || l.outer == point; });
}

}  // namespace

BenchWork work_for(const Car& car, std::span<const PartHandle> changed, int turned) {
  BenchWork w;
  w.minutes = a_thread * turned;
  PerEnd<bool> wheels{};
  PerEnd<bool> shocks{};
  for (const PartHandle i : changed) {
    const Adjuster& a = car.adjusters[i];
    ++w.parts;
    if (a.threaded()) {
      w.minutes += a_thread;
      continue;
    }
    const PointHandle point = a.place();
    if (a.steering || !point) {
      w.minutes += elsewhere;
      continue;
    }
    const MechanismSpec& m = *car.axle(a.end).mechanism;
    const Body body = m.point_spec(point).body;
    const bool at_shock = point == attachment::shock_upper || point == attachment::shock_lower;
    if (point >= attachment::third_arm && point <= attachment::third_pivot) {
      w.minutes += a_third_spring;
      continue;
    }
    if (at_shock) {
      shocks[at(a.end)] = true;
      w.minutes += a_shock_hole;
    } else if (is_ball(m, point)) {
      w.balls += 2;
      w.minutes += at_a_ball;
    } else if (body == Body::chassis) {
      shocks[at(a.end)] = true;  // the arm comes down with its mounts
      w.minutes += under_arm_mounts;
    } else {
      w.minutes += behind_a_hub;
    }
    wheels[at(a.end)] = wheels[at(a.end)] || (body != Body::chassis && !at_shock);
  }
  for (const End end : both_ends) {
    w.wheels_off = w.wheels_off || wheels[at(end)];
    w.shocks_off = w.shocks_off || shocks[at(end)];
    w.wheel_minutes += wheels[at(end)] ? an_axles_wheels : 0.0;
    w.shock_minutes += shocks[at(end)] ? an_axles_shocks : 0.0;
  }
  w.minutes += w.wheel_minutes + w.shock_minutes;
  return w;
}

}  // namespace lowkite
