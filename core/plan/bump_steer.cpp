#include "core/plan/bump_steer.hpp"

#include <algorithm>
#include <cmath>

#include "core/measure/travel_figures.hpp"

namespace lowkite {
namespace {

/// True when the part is a stack of shims that lifts a ball of the link that sets the toe.
bool lifts_the_toe_link(const Car& car, const Adjuster& a, End end) {
  const Range* r = a.range();
  if (a.end != end || a.steering || a.kind != AdjusterKind::shim_stack || !r) return false;
  // A stack that carries more than the ball (an axle-height shim) is there for something else.
  if (r->moves_per_unit.size() != 1 || std::abs(r->moves_per_unit[0].mm.z()) < 0.5) return false;
  const auto& links = car.axle(end).mechanism->links;
  return std::any_of(links.begin(), links.end(), [&](const LinkSpec& l) {
    return l.holds == LinkHolds::toe &&
           (l.inner == r->moves_per_unit[0].point || l.outer == r->moves_per_unit[0].point);
  });
}

/// The total bump steer with the angles put back; none where the car cannot stand.
std::optional<double> span_of(const Car& car, const Setup& setup, End end, const CarTargets& targets) {
  const auto put_back = reset_alignment(car, setup, targets, {.step_turns = 0.0});
  if (!put_back) return std::nullopt;
  const auto model = build_model(car, put_back->setup);
  if (!model) return std::nullopt;
  const auto axle = pose_axle(*model, end, static_attitude(*model));
  const auto centred = steer(*model, 0.0);
  if (!axle || !centred) return std::nullopt;
  const CornerModel& corner = model->corner(end, Side::left);
  const SteerInput input = corner.spec->steered ? centred->corner[at(Side::left)] : SteerInput{};
  return toe_span(corner, find_stops(*model, end, Side::left, axle->corner[at(Side::left)], input), input);
}

}  // namespace

std::vector<BumpSteerShim> least_bump_steer(const Car& car, const Setup& setup, End end) {
  std::vector<BumpSteerShim> found;
  const auto model = build_model(car, setup);
  if (!model) return found;
  const auto standing = figures_at(*model, static_attitude(*model));
  if (!standing) return found;
  const CarTargets targets = targets_of(*standing);
  const auto now = span_of(car, setup, end, targets);
  if (!now) return found;
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (!lifts_the_toe_link(car, a, end)) continue;
    BumpSteerShim best{i, setup.values[i].left, setup.values[i].left, *now, *now};
    for (const double stop : a.range()->stops) {
      Setup tried = setup;
      tried.values[i] = {stop, stop};
      const auto span = span_of(car, tried, end, targets);
      if (!span || *span >= best.span_best_rad) continue;
      best.best_mm = stop;
      best.span_best_rad = *span;
    }
    found.push_back(best);
  }
  std::stable_sort(found.begin(), found.end(),
                   [](const auto& x, const auto& y) { return x.span_best_rad < y.span_best_rad; });
  return found;
}

}  // namespace lowkite
