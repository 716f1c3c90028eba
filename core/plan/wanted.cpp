#include "core/plan/wanted.hpp"

#include <fmt/format.h>

namespace lowkite {
namespace {

std::optional<double>& wanted(Setup& setup, End end, Side side, LinkHolds angle) {
  WantedAngles& w = setup.wanted[at(end)][at(side)];
  return angle == LinkHolds::camber ? w.camber_deg : w.toe_deg;
}
const std::optional<double>& wanted(const Setup& setup, End end, Side side, LinkHolds angle) {
  const WantedAngles& w = setup.wanted[at(end)][at(side)];
  return angle == LinkHolds::camber ? w.camber_deg : w.toe_deg;
}

double angle_of(const WheelFigures& wheel, LinkHolds angle) {
  return degrees(angle == LinkHolds::camber ? wheel.camber_rad : wheel.toe_rad);
}

}  // namespace

Setup with_wanted_angles(const Car& car, const Setup& baseline, const Setup& before, Setup after, int adjuster) {
  const End end = car.adjusters[static_cast<std::size_t>(adjuster)].end;
  for (const LinkHolds angle : {LinkHolds::camber, LinkHolds::toe}) {
    const std::vector<int> parts = car.turnbuckles_holding(end, angle);
    if (std::find(parts.begin(), parts.end(), adjuster) == parts.end()) continue;
    const auto model = build_model(car, after);
    const auto stands = model ? figures_at(*model, static_attitude(*model))
                              : tl::expected<CarFigures, CornerFailure>(tl::unexpect, model.error());
    for (const Side side : both_sides) {
      if (before.at_index(adjuster).on(side) == after.at_index(adjuster).on(side)) continue;
      const bool as_baseline = std::all_of(parts.begin(), parts.end(), [&](int part) {
        return after.at_index(part).on(side) == baseline.at_index(part).on(side);
      });
      if (as_baseline)
        wanted(after, end, side, angle) = wanted(baseline, end, side, angle);
      else if (stands)
        wanted(after, end, side, angle) = angle_of(stands->axle[at(end)].wheel[at(side)], angle);
    }
  }
  return after;
}

CarTargets wanted_targets(const CarFigures& baseline_figures, const Setup& baseline, const Setup& changed) {
  CarTargets targets = targets_of(baseline_figures);
  for (const End end : both_ends)
    for (const Side side : both_sides)
      for (const LinkHolds angle : {LinkHolds::camber, LinkHolds::toe}) {
        const auto& now = wanted(changed, end, side, angle);
        const auto& then = wanted(baseline, end, side, angle);
        if (!now && !then) continue;
        WheelTarget& t = targets[at(end)][at(side)];
        (angle == LinkHolds::camber ? t.camber_rad : t.toe_rad) = radians(now ? *now : *then);
      }
  return targets;
}

tl::expected<Setup, std::string> turned_to_angle(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                                 LinkHolds angle, double deg) {
  const bool camber = angle == LinkHolds::camber;
  if (!can_hold(car, end, angle))
    return tl::unexpected(fmt::format("no turnbuckle sets the {} {}", name_of(end), camber ? "camber" : "toe"));
  const auto model = build_model(car, setup);
  const auto stands = model ? figures_at(*model, static_attitude(*model))
                            : tl::expected<CarFigures, CornerFailure>(tl::unexpect, model.error());
  if (!stands) return tl::unexpected(stands.error().message);
  CarTargets targets = targets_of(*stands);
  Setup wish = setup;
  for (const Side side : both_sides) {
    if (!sides[at(side)]) continue;
    WheelTarget& t = targets[at(end)][at(side)];
    (camber ? t.camber_rad : t.toe_rad) = radians(deg);
    wanted(wish, end, side, angle) = deg;
  }
  const auto turned = reset_alignment(car, wish, targets,
                                      {.hold_camber = camber,
                                       .hold_toe = !camber,
                                       .hold_droop = false,
                                       .hold_caster = false,
                                       .hold_ride_height = true,
                                       .hold_end_points = false});
  if (!turned) return tl::unexpected(turned.error().message);
  // Only what was asked for turns: another wheel's link stays as it is, however its rounding would fall.
  for (const ResetStep& s : turned->steps)
    if (car.adjusters[static_cast<std::size_t>(s.adjuster)].end == end && sides[at(s.side)] && s.thread_ends)
      return tl::unexpected(fmt::format(
          "the thread of the {} {} {} ends before that: {:.2f} turns would be needed", name_of(end), name_of(s.side),
          car.adjusters[static_cast<std::size_t>(s.adjuster)].name, std::abs(s.exact_turns)));
  for (const int part : car.turnbuckles_holding(end, angle))
    for (const Side side : both_sides)
      if (sides[at(side)]) wish.at_index(part).on(side) = turned->setup.at_index(part).on(side);
  return wish;
}

}  // namespace lowkite
