#include "core/plan/wanted.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double eighth = 0.125;  ///< least twist of a hand
constexpr std::array all_angles{WheelAngle::camber, WheelAngle::toe, WheelAngle::caster};

std::optional<double> WantedAtWheel::*field_of(WheelAngle angle) {
  switch (angle) {
    case WheelAngle::camber:
      return &WantedAtWheel::camber_deg;
    case WheelAngle::toe:
      return &WantedAtWheel::toe_deg;
    case WheelAngle::caster:
      break;
  }
  return &WantedAtWheel::caster_deg;
}
std::optional<double>& wanted(Setup& setup, End end, Side side, WheelAngle angle) {
  return setup.wanted[at(end)][at(side)].*field_of(angle);
}
const std::optional<double>& wanted(const Setup& setup, End end, Side side, WheelAngle angle) {
  return setup.wanted[at(end)][at(side)].*field_of(angle);
}

std::optional<double> angle_of(const WheelFigures& wheel, WheelAngle angle) {
  switch (angle) {
    case WheelAngle::camber:
      return degrees(wheel.camber_rad);
    case WheelAngle::toe:
      return degrees(wheel.toe_rad);
    case WheelAngle::caster:
      break;
  }
  return wheel.kingpin ? std::optional(degrees(wheel.kingpin->caster_rad)) : std::nullopt;
}

void aim(WheelTarget& target, WheelAngle angle, double deg) {
  switch (angle) {
    case WheelAngle::camber:
      target.camber_rad = radians(deg);
      return;
    case WheelAngle::toe:
      target.toe_rad = radians(deg);
      return;
    case WheelAngle::caster:
      target.caster_rad = radians(deg);
      return;
  }
}

/// The turnbuckles whose turning changes the angle on purpose.
std::vector<PartHandle> parts_setting(const Car& car, End end, WheelAngle angle) {
  if (!can_set(car, end, angle)) return {};
  return car.turnbuckles_holding(end, angle == WheelAngle::toe ? LinkHolds::toe : LinkHolds::camber);
}

tl::expected<CarFigures, CarFailure> standing_figures(const Car& car, const Setup& setup) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  return figures_at(*model, static_attitude(*model));
}

/// The car once every angle but this one is back: what a link gives then is what it was turned for, so that putting
/// the others back does not turn it back a little.
tl::expected<CarFigures, CarFailure> with_the_others_put_back(const Car& car, const Setup& baseline, const Setup& after,
                                                              WheelAngle angle) {
  const auto was = standing_figures(car, baseline);
  if (!was) return standing_figures(car, after);
  const bool toe = angle == WheelAngle::toe;
  const auto put_back = reset_alignment(car, after, wanted_targets(*was, baseline, after),
                                        {.hold_camber = toe,
                                         .hold_toe = !toe,
                                         .hold_droop = false,
                                         .hold_caster = toe,
                                         .hold_ride_height = true,
                                         .hold_end_points = false,
                                         .step_turns = 0.0});
  return standing_figures(car, put_back ? put_back->setup : after);
}

/// How low the wheels of an axle hang once every angle is back.
std::optional<PerSide<double>> hanging(const Car& car, const Setup& baseline, const CarFigures& baseline_figures,
                                       const Setup& setup, End end) {
  const auto put_back =
      reset_alignment(car, setup, wanted_targets(baseline_figures, baseline, setup), {.step_turns = 0.0});
  PerSide<double> low{};
  for (const Side side : both_sides) {
    const auto stops = stops_of(car, put_back ? put_back->setup : setup, end, side);
    if (!stops) return std::nullopt;
    low[at(side)] = stops->hanging_wheel_low_mm;
  }
  return low;
}

Setup with_droop_wanted(const Car& car, const Setup& baseline, const Setup& before, Setup after, PartHandle adjuster) {
  constexpr double told_mm = 0.01;
  const End end = car.adjusters[adjuster].end;
  const auto was = standing_figures(car, baseline);
  if (!was) return after;
  const auto then = hanging(car, baseline, *was, before, end);
  const auto now = hanging(car, baseline, *was, after, end);
  for (const Side side : both_sides) {
    if (before.of(adjuster).on(side) == after.of(adjuster).on(side)) continue;
    bool as_baseline = true;
    for (const PartHandle i : car.adjusters.handles())
      as_baseline = as_baseline && (car.adjusters[i].end != end || !may_stop_droop(car, i) ||
                                    after.values[i].on(side) == baseline.values[i].on(side));
    std::optional<double>& wish = after.wanted[at(end)][at(side)].hanging_mm;
    if (as_baseline)
      wish = baseline.wanted[at(end)][at(side)].hanging_mm;
    else if (then && now && std::abs((*now)[at(side)] - (*then)[at(side)]) > told_mm)
      wish = (*now)[at(side)];
  }
  return after;
}

std::string thread_ends_sentence(const Adjuster& part, Side side, double exact_turns) {
  return say("the thread of the {axle} {side} {part} ends before that: {turns:.2f} turns would be needed",
             "axle"_a = word(part.end), "side"_a = word(side), "part"_a = part.name, "turns"_a = std::abs(exact_turns));
}

}  // namespace

std::string_view name_of(WheelAngle angle) {
  switch (angle) {
    case WheelAngle::camber:
      return marked("camber");
    case WheelAngle::toe:
      return marked("toe");
    case WheelAngle::caster:
      return marked("caster");
  }
  return {};
}

bool can_set(const Car& car, End end, WheelAngle angle) {
  if (angle == WheelAngle::caster) return can_hold_caster(car, end);
  return can_hold(car, end, angle == WheelAngle::camber ? LinkHolds::camber : LinkHolds::toe);
}

void want(Setup& setup, End end, Side side, WheelAngle angle, double deg) {
  wanted(setup, end, side, angle) = deg;
}

Setup with_what_is_wanted(const Car& car, const Setup& baseline, const Setup& before, Setup after,
                          PartHandle adjuster) {
  if (may_stop_droop(car, adjuster)) return with_droop_wanted(car, baseline, before, std::move(after), adjuster);
  const End end = car.adjusters[adjuster].end;
  for (const WheelAngle angle : all_angles) {
    const std::vector<PartHandle> parts = parts_setting(car, end, angle);
    if (std::find(parts.begin(), parts.end(), adjuster) == parts.end()) continue;
    const auto stands = with_the_others_put_back(car, baseline, after, angle);
    for (const Side side : both_sides) {
      if (before.of(adjuster).on(side) == after.of(adjuster).on(side)) continue;
      const bool as_baseline = std::all_of(parts.begin(), parts.end(), [&](PartHandle part) {
        return after.of(part).on(side) == baseline.of(part).on(side);
      });
      if (as_baseline)
        wanted(after, end, side, angle) = wanted(baseline, end, side, angle);
      else if (stands)
        wanted(after, end, side, angle) = angle_of(stands->axle[at(end)].wheel[at(side)], angle);
    }
  }
  return after;
}

Setup changed_by_hand(const Car& car, const Setup& baseline, Setup setup, std::span<const PartChange> changes) {
  for (const PartChange& c : changes) {
    Setup after = setup;
    after.of(c.adjuster) = {c.to, c.to};
    setup = with_what_is_wanted(car, baseline, setup, std::move(after), c.adjuster);
  }
  return setup;
}

Setup changed_for_droop(const Car& car, const Setup& baseline, Setup setup, std::span<const PartChange> changes) {
  for (const PartChange& c : changes) {
    Setup after = setup;
    after.of(c.adjuster) = {c.to, c.to};
    setup = may_stop_droop(car, c.adjuster) ? with_droop_wanted(car, baseline, setup, std::move(after), c.adjuster)
                                            : std::move(after);
  }
  return setup;
}

double wanted_hanging(const Variant& before, const Setup& changed, End end, Side side) {
  const auto& now = changed.wanted[at(end)][at(side)].hanging_mm;
  const auto& then = before.setup.wanted[at(end)][at(side)].hanging_mm;
  if (now || then) return now ? *now : *then;
  return before.source.travel.corner[at(end)][at(side)].stops.hanging_wheel_low_mm;
}

CarTargets wanted_targets(const CarFigures& baseline_figures, const Setup& baseline, const Setup& changed) {
  CarTargets targets = targets_of(baseline_figures);
  for (const End end : both_ends)
    for (const Side side : both_sides)
      for (const WheelAngle angle : all_angles) {
        const auto& now = wanted(changed, end, side, angle);
        const auto& then = wanted(baseline, end, side, angle);
        if (now || then) aim(targets[at(end)][at(side)], angle, now ? *now : *then);
      }
  return targets;
}

tl::expected<Setup, CarFailure> turned_to_angle(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                                WheelAngle angle, double deg) {
  if (!can_set(car, end, angle))
    return cannot(angle == WheelAngle::caster
                      ? say("no two upper links set the {} caster", word(end))
                      : say("no turnbuckle sets the {axle} {angle}", "axle"_a = word(end), "angle"_a = word(angle)),
                  end);
  const auto stands = standing_figures(car, setup);
  if (!stands) return tl::unexpected(stands.error());
  CarTargets targets = targets_of(*stands);
  Setup wish = setup;
  for (const Side side : both_sides) {
    if (!sides[at(side)]) continue;
    aim(targets[at(end)][at(side)], angle, deg);
    wanted(wish, end, side, angle) = deg;
    // Two links turned against each other have a camber that they keep.
    if (angle == WheelAngle::caster && !wanted(wish, end, side, WheelAngle::camber))
      wanted(wish, end, side, WheelAngle::camber) = degrees(targets[at(end)][at(side)].camber_rad);
  }
  const auto turned = reset_alignment(car, wish, targets,
                                      {.hold_camber = angle != WheelAngle::toe,
                                       .hold_toe = angle == WheelAngle::toe,
                                       .hold_droop = false,
                                       .hold_caster = angle == WheelAngle::caster,
                                       .hold_ride_height = true,
                                       .hold_end_points = false});
  if (!turned) return tl::unexpected(turned.error());
  // Only what was asked for turns: another wheel's link stays as it is, however its rounding would fall.
  const std::vector<PartHandle> parts = parts_setting(car, end, angle);
  for (const ResetStep& s : turned->steps)
    if (s.thread_ends && sides[at(s.side)] && std::find(parts.begin(), parts.end(), s.adjuster) != parts.end())
      return cannot(thread_ends_sentence(car.adjusters[s.adjuster], s.side, s.exact_turns), end, s.side);
  for (const PartHandle part : parts)
    for (const Side side : both_sides)
      if (sides[at(side)]) wish.of(part).on(side) = turned->setup.of(part).on(side);
  // Where two links move little caster, what was asked for may lie beyond what they reach.
  if (angle == WheelAngle::caster)
    if (const auto is = standing_figures(car, wish))
      for (const Side side : both_sides) {
        const auto reached = angle_of(is->axle[at(end)].wheel[at(side)], angle);
        constexpr double far_off_deg = 1.0;
        if (sides[at(side)] && reached && std::abs(*reached - deg) > far_off_deg)
          return cannot(say("the two upper links of the {axle} {side} do not reach that", "axle"_a = word(end),
                            "side"_a = word(side)),
                        end, side);
      }
  return wish;
}

double link_length_mm(const Car& car, const Setup& setup, PartHandle turnbuckle, Side side) {
  const Adjuster& part = car.adjusters[turnbuckle];
  const LinkHandle link = part.range()->link;
  if (!part.steering) return corner_geometry(car, setup, part.end, side).length[link];
  PerSide<CornerModel> front;
  for (const Side s : both_sides) {
    front[at(s)].spec = car.axle(End::front).mechanism;
    front[at(s)].geometry = corner_geometry(car, setup, End::front, s);
  }
  return steering_geometry(car, setup, front).length[link];
}

tl::expected<Setup, CarFailure> turned_to_length(const Car& car, const Setup& baseline, const Setup& setup,
                                                 PerSide<bool> sides, PartHandle turnbuckle, double mm) {
  const Adjuster& part = car.adjusters[turnbuckle];
  Setup turned = setup;
  for (const Side side : both_sides) {
    if (!sides[at(side)] && !part.steering) continue;
    const double exact = (mm - link_length_mm(car, setup, turnbuckle, side)) / part.range()->link_mm_per_unit;
    double& value = turned.of(turnbuckle).on(side);
    value += std::round(exact / eighth) * eighth;
    if (value < part.least() || value > part.most())
      return cannot(thread_ends_sentence(part, side, exact), part.end, side);
  }
  turned = with_what_is_wanted(car, baseline, setup, std::move(turned), turnbuckle);
  if (const auto stands = standing_figures(car, turned); !stands) return tl::unexpected(stands.error());
  return turned;
}

}  // namespace lowkite
