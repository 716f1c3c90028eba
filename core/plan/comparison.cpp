#include "core/plan/comparison.hpp"

#include <algorithm>

#include "core/load/static_load.hpp"
#include "core/plan/bench_reset.hpp"

namespace lowkite {

std::optional<double> sits_lower(const Car& car, const Variant& before, const Variant& after, End end) {
  const auto by_springs = sinks_by(before.model, before.source.standing, after.model, after.source.standing, end);
  if (!by_springs) return sits_lower_by(car, before.setup, after.setup, end);
  // However hard its springs press, an end rises no further than onto its droop stops.
  double droop = 0.0;
  for (const CornerTravel& c : after.source.travel.corner[at(end)]) droop += 0.5 * c.stops.droop.from_ride_height_mm;
  // Heights are read at the gauge points; the other end stays.
  const double here = car.gauge_x_mm[at(end)];
  const double there = car.gauge_x_mm[1 - at(end)];
  const double axle = after.source.standing.axle[at(end)].wheel[0].wheel_centre.x();
  droop *= (here - there) / (axle - there);
  const double higher = after.setup.ride_height_mm[at(end)] - before.setup.ride_height_mm[at(end)];
  return std::max(*by_springs, -(droop + higher));
}

tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous) {
  using Which = ComparisonFailure::Which;
  const auto failed = [](Which which, const CornerFailure& corner) {
    return tl::unexpected(ComparisonFailure{which, corner});
  };
  const auto read = [&](const Setup& setup) -> tl::expected<std::shared_ptr<const Variant>, CornerFailure> {
    const Variant* known = nullptr;
    if (previous && previous->baseline->model.car == &car)
      for (const auto& variant : {previous->baseline, previous->changed, previous->reset}) {
        if (variant->setup != setup) continue;
        if (previous->view == view) return variant;
        known = variant.get();
      }
    auto v = evaluate(car, setup, view, curve_samples, known);
    if (!v) return tl::unexpected(v.error());
    return std::make_shared<const Variant>(std::move(*v));
  };
  Comparison c;
  c.view = view;
  auto base = read(baseline);
  if (!base) return failed(Which::baseline, base.error());
  c.baseline = *base;
  auto now = changed == baseline ? base : read(changed);
  if (!now) return failed(Which::changed, now.error());
  c.changed = *now;

  // Targets are what the gauges read on the board, whatever attitude is being looked at.
  // Collars left alone, the car sits as its springs let it, and angles are put back at that height.
  Setup sitting = changed;
  for (const End end : both_ends)
    if (!options.hold_ride_height || spring_holder(car, end) == SpringHolder::spacers)
      if (const auto lower = sits_lower(car, *c.baseline, *c.changed, end)) sitting.ride_height_mm[at(end)] -= *lower;
  auto work = reset_alignment(car, sitting, targets_of(c.baseline->source.standing), options);
  if (!work) return failed(Which::reset, work.error());
  c.work = std::move(*work);
  auto after = c.work.setup == changed ? now : read(c.work.setup);
  if (!after) return failed(Which::reset, after.error());
  c.reset = *after;
  if (previous && previous->bench && previous->baseline == c.baseline && previous->aligned == c.reset &&
      previous->holds_droop == options.hold_droop) {
    c.bench = previous->bench;
  } else {
    c.bench = std::make_shared<const BenchReset>(reset_on_bench(car, *c.baseline, **after, options));
  }
  c.aligned = c.reset;
  c.holds_droop = options.hold_droop;
  if (c.bench->setup != c.work.setup) {
    auto hung = previous && previous->reset && previous->reset->setup == c.bench->setup && previous->view == view
                    ? tl::expected<std::shared_ptr<const Variant>, CornerFailure>(previous->reset)
                    : read(c.bench->setup);
    if (!hung) return failed(Which::reset, hung.error());
    c.reset = *hung;
  }
  for (const End end : both_ends) c.sits_lower_mm[at(end)] = sits_lower(car, *c.baseline, *c.aligned, end);
  return c;
}

}  // namespace lowkite
