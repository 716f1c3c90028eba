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

/// The caster with which a wheel has the trail that is asked for, camber and toe at what is wanted, deg; none where the
/// two upper links do not reach it. Trail goes with caster along next to a straight line: the secant method.
std::optional<double> caster_for(const Car& car, const Setup& setup, const Variant& now, const FigureSpec& figure,
                                 End end, Side side, double value) {
  const auto off = [&](double caster_deg) -> std::optional<double> {
    Setup there = setup;
    want(there, end, side, WheelAngle::caster, caster_deg);
    const auto turned =
        reset_alignment(car, there, wanted_targets(now.source.standing, now.setup, there), {.step_turns = 0.0});
    const auto v = turned ? evaluate(car, turned->setup, {}, coarse_curve)
                          : tl::expected<Variant, CarFailure>(tl::unexpect, turned.error());
    const auto read = v ? figure.read(v->source, end, side) : std::nullopt;
    return read ? std::optional(*read - value) : std::nullopt;
  };
  const auto& kingpin = now.source.standing.axle[at(end)].wheel[at(side)].kingpin;
  if (!kingpin) return std::nullopt;
  constexpr double probe_deg = 0.5;
  constexpr double met_mm = 1e-4;
  constexpr int most_steps = 12;
  double a = degrees(kingpin->caster_rad);
  double b = a + probe_deg;
  auto at_a = off(a);
  auto at_b = off(b);
  for (int i = 0; i < most_steps && at_a && at_b && std::abs(*at_b) > met_mm && *at_a != *at_b; ++i) {
    const double next = b - *at_b * (b - a) / (*at_b - *at_a);
    a = b;
    at_a = at_b;
    b = next;
    at_b = off(b);
  }
  return at_b && std::abs(*at_b) <= met_mm ? std::optional(b) : std::nullopt;
}

/// The lock of the inside wheel with which a figure of full lock is as asked, deg; none: with no lock between the least
/// and all there is. Such figures go one way as the lock grows.
std::optional<double> lock_for(const Car& car, const Setup& setup, const FigureSpec& figure, double value) {
  Setup all = setup;
  all.wanted_lock_deg.reset();
  const auto whole = evaluate(car, all, {}, coarse_curve);
  if (!whole || !whole->source.travel.lock) return std::nullopt;
  const auto read = [&](const std::optional<double>& lock_deg) -> std::optional<double> {
    Setup there = setup;
    there.wanted_lock_deg = lock_deg;
    const auto v = evaluate(car, there, {}, coarse_curve, {&*whole});
    return v ? figure.read(v->source, End::front, Side::left) : std::nullopt;
  };
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
  if (figure.id == "trail") {
    auto by_caster = angle(WheelAngle::caster, -30.0, 30.0);
    if (by_caster) by_caster->through_another = true;
    return by_caster;
  }
  if (figure.id == "ride_height") return DirectlySet{By::collars, {}, 0.0, 60.0};
  if (figure.id == "droop" && can_set_droop(car, end)) return DirectlySet{By::droop_stop, {}, 0.0, 40.0};
  if (!car.steering.spec || end != End::front) return std::nullopt;
  if (figure.id == "lock_inside") return DirectlySet{By::end_points, {}, least_lock_deg, most_lock_deg};
  if (figure.id == "lock_outside") return DirectlySet{By::end_points, {}, 0.0, most_lock_deg, true};
  if (figure.id == "turning_radius") return DirectlySet{By::end_points, {}, 0.0, 1e5, true};
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

tl::expected<Setup, CarFailure> with_figure_set(const Car& car, Setup wish, const Variant& now,
                                                const FigureSpec& figure, End end, const DirectlySet& direct,
                                                double value) {
  if (!(value >= direct.least && value <= direct.most))
    return cannot(
        say("{figure} of the {axle} axle: {found:.{decimals}f} {unit} is asked for; allowed: {least:.0f} to {most:.0f}",
            "figure"_a = word(figure.label), "axle"_a = word(end), "found"_a = value, "decimals"_a = figure.decimals,
            "unit"_a = symbol(figure.unit), "least"_a = direct.least, "most"_a = direct.most),
        end);
  switch (direct.by) {
    case By::links:
      for (const Side side : both_sides) {
        const auto deg =
            direct.through_another ? caster_for(car, wish, now, figure, end, side, value) : std::optional(value);
        if (deg) want(wish, end, side, *direct.angle, *deg);
      }
      break;
    case By::collars:
      wish.ride_height_mm[at(end)] = value;
      break;
    case By::droop_stop:
      for (const Side side : both_sides) {
        const auto low = hanging_with_droop(now, end, side, value);
        if (!low)
          return cannot(
              say("the {axle} {side} wheel does not hang so low", "axle"_a = word(end), "side"_a = word(side)), end,
              side);
        wish.wanted[at(end)][at(side)].hanging_mm = low;
      }
      break;
    case By::end_points:
      if (!direct.through_another)
        wish.wanted_lock_deg = value;
      else if (const auto lock = lock_for(car, wish, figure, value))
        wish.wanted_lock_deg = lock;
      break;
  }
  return wish;
}

}  // namespace lowkite
