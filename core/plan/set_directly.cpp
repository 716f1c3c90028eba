#include "core/plan/set_directly.hpp"

#include <algorithm>
#include <cmath>

#include "core/plan/bench_reset.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

using By = DirectlySet::By;

constexpr double least_lock_deg = 5.0;
constexpr double most_lock_deg = 60.0;

/// The lock of the inside wheel with which a figure of full lock is as asked, deg; none: with no lock between the least
/// and all there is. Such figures go one way as the lock grows.
std::optional<double> lock_for(const Car& car, const Setup& setup, const FigureSpec& figure, double value) {
  const auto read = [&](const std::optional<double>& lock_deg) -> std::optional<double> {
    Setup there = setup;
    there.wanted_lock_deg = lock_deg;
    const auto v = evaluate(car, there, {}, coarse_curve);
    return v ? figure.read(v->source, End::front, Side::left) : std::nullopt;
  };
  Setup all = setup;
  all.wanted_lock_deg.reset();
  const auto whole = evaluate(car, all, {}, coarse_curve);
  if (!whole || !whole->source.travel.lock) return std::nullopt;
  double low = least_lock_deg;
  double high = degrees(whole->source.travel.lock->most_inside_rad[at(Side::left)]);
  const auto at_low = read(low);
  const auto at_high = read(std::nullopt);
  if (!at_low || !at_high || (value - *at_low) * (value - *at_high) > 0.0) return std::nullopt;
  constexpr double fine_deg = 0.01;
  while (high - low > fine_deg) {
    const double middle = 0.5 * (low + high);
    const auto v = read(middle);
    if (!v) return std::nullopt;
    ((value - *v) * (value - *at_high) <= 0.0 ? low : high) = middle;
  }
  return 0.5 * (low + high);
}

}  // namespace

std::optional<DirectlySet> set_directly(const FigureSpec& figure, const Car& car, End end) {
  constexpr double widest_deg = 15.0;
  const auto angle = [&](WheelAngle a, double least, double most) {
    return can_set(car, end, a) ? std::optional(DirectlySet{By::links, a, least, most}) : std::nullopt;
  };
  if (figure.id == "camber") return angle(WheelAngle::camber, -widest_deg, widest_deg);
  if (figure.id == "toe") return angle(WheelAngle::toe, -widest_deg, widest_deg);
  if (figure.id == "caster") return angle(WheelAngle::caster, -10.0, 45.0);
  if (figure.id == "ride_height") return DirectlySet{By::collars, {}, 0.0, 60.0};
  if (figure.id == "droop" && can_set_droop(car, end)) return DirectlySet{By::droop_stop, {}, 0.0, 40.0};
  if (!car.steering.spec || end != End::front) return std::nullopt;
  if (figure.id == "lock_inside") return DirectlySet{By::end_points, {}, least_lock_deg, most_lock_deg};
  if (figure.id == "lock_outside") return DirectlySet{By::end_points, {}, 0.0, most_lock_deg};
  if (figure.id == "turning_radius") return DirectlySet{By::end_points, {}, 0.0, 1e5};
  return std::nullopt;
}

bool is_held(const DirectlySet& direct, const ResetOptions& holds) {
  switch (direct.by) {
    case By::links:
      return direct.angle == WheelAngle::camber ? holds.hold_camber
             : direct.angle == WheelAngle::toe  ? holds.hold_toe
                                                : holds.hold_caster;
    case By::collars:
      return holds.hold_ride_height;
    case By::droop_stop:
      return holds.hold_droop;
    case By::end_points:
      break;
  }
  return holds.hold_end_points;
}

tl::expected<Setup, std::string> with_figure_set(const Car& car, Setup wish, const Variant& now,
                                                 const FigureSpec& figure, End end, const DirectlySet& direct,
                                                 double value) {
  if (!(value >= direct.least && value <= direct.most))
    return tl::unexpected(say("{} of the {} axle: {:.{}f} {} is asked for; allowed: {:.0f} to {:.0f}",
                              word(figure.label), word(end), value, figure.decimals, symbol(figure.unit), direct.least,
                              direct.most));
  switch (direct.by) {
    case By::links:
      for (const Side side : both_sides) want(wish, end, side, *direct.angle, value);
      break;
    case By::collars:
      wish.ride_height_mm[at(end)] = value;
      break;
    case By::droop_stop:
      for (const Side side : both_sides) {
        const auto low = hanging_with_droop(now, end, side, value);
        if (!low) return tl::unexpected(say("the {} {} wheel does not hang so low", word(end), word(side)));
        wish.wanted[at(end)][at(side)].hanging_mm = low;
      }
      break;
    case By::end_points:
      if (figure.id == "lock_inside")
        wish.wanted_lock_deg = value;
      else if (const auto lock = lock_for(car, wish, figure, value))
        wish.wanted_lock_deg = lock;
      break;
  }
  return wish;
}

}  // namespace lowkite
