#include "core/plan/comparison.hpp"

#include <algorithm>
#include <cmath>

#include "core/load/static_load.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {

namespace {

constexpr int most_settlings = 8;
constexpr double settled_mm = 1e-6;

std::optional<double> sits_lower_by_springs(const Car& car, const Variant& before, const Variant& after, End end) {
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
  // Both may stand at heights of their own.
  const double higher = after.setup.ride_height_mm[at(end)] - before.setup.ride_height_mm[at(end)];
  return std::max(*by_springs, -(droop + higher));
}

/// Where an end comes to stand whose springs stand on spacers: it follows from the parts alone, counted from the kit,
/// so that a part that is put back brings the height back, whatever was done in between.
std::optional<double> height_on_spacers(const Car& car, const Setup& setup, End end) {
  const Setup kit = kit_setup(car);
  Setup parts = setup;
  parts.ride_height_mm = kit.ride_height_mm;
  if (parts.values == kit.values) return car.kit_ride_height_mm[at(end)];
  const auto as_kit = evaluate_stand(car, kit);
  const auto as_set = evaluate_stand(car, parts);
  if (!as_kit || !as_set) return std::nullopt;
  const auto lower = sits_lower_by_springs(car, *as_kit, *as_set, end);
  return lower ? std::optional(car.kit_ride_height_mm[at(end)] - *lower) : std::nullopt;
}

}  // namespace

std::optional<double> sits_lower(const Car& car, const Variant& before, const Variant& after, End end) {
  if (spring_holder(car, end) != SpringHolder::spacers) return sits_lower_by_springs(car, before, after, end);
  if (before.setup.values == after.setup.values) return 0.0;
  const auto was = height_on_spacers(car, before.setup, end);
  const auto is = height_on_spacers(car, after.setup, end);
  return was && is ? std::optional(*was - *is) : std::nullopt;
}

bool settles(const Car& car, End end, const ResetOptions& options) {
  return !options.hold_ride_height || spring_holder(car, end) == SpringHolder::spacers;
}

bool settles_anywhere(const Car& car, const ResetOptions& options) {
  return settles(car, End::front, options) || settles(car, End::rear, options);
}

tl::expected<ResetResult, CarFailure> reset_where_it_sits(const Car& car, const Variant& baseline, const Setup& changed,
                                                          const CarTargets& targets, const ResetOptions& options) {
  auto work = reset_alignment(car, changed, targets, options);
  const auto stays = [&](End end) {
    return !settles(car, end, options) || changed.ride_height_mm[at(end)] != baseline.setup.ride_height_mm[at(end)];
  };
  if (!work || (stays(End::front) && stays(End::rear))) return work;
  Setup sitting = changed;
  for (int i = 0; i < most_settlings; ++i) {
    const auto stands = evaluate_stand(car, work->setup);
    if (!stands) return tl::unexpected(stands.error());
    double moved = 0.0;
    for (const End end : both_ends) {
      if (stays(end)) continue;
      const auto lower = sits_lower(car, baseline, *stands, end);
      if (!lower) continue;
      const double height = baseline.setup.ride_height_mm[at(end)] - *lower;
      moved = std::max(moved, std::abs(height - sitting.ride_height_mm[at(end)]));
      sitting.ride_height_mm[at(end)] = height;
    }
    if (moved < settled_mm) break;
    work = reset_alignment(car, sitting, targets, options);
    if (!work) return work;
  }
  return work;
}

Setup with_heights_of_parts(const Car& car, const Setup& baseline, const Setup& before, Setup after) {
  for (const End end : both_ends) {
    const double height = before.ride_height_mm[at(end)];
    if (spring_holder(car, end) != SpringHolder::spacers || height == baseline.ride_height_mm[at(end)] ||
        height != after.ride_height_mm[at(end)] || before.values == after.values)
      continue;
    const auto was = height_on_spacers(car, before, end);
    const auto is = height_on_spacers(car, after, end);
    if (was && is) after.ride_height_mm[at(end)] = height + *is - *was;
  }
  return after;
}

tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous) {
  using Which = ComparisonFailure::Which;
  const auto failed = [](Which which, const CarFailure& why) { return tl::unexpected(ComparisonFailure{which, why}); };
  const auto read = [&](const Setup& setup) -> tl::expected<std::shared_ptr<const Variant>, CarFailure> {
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
  const CarTargets targets = wanted_targets(c.baseline->source.standing, baseline, changed);
  auto work = reset_where_it_sits(car, *c.baseline, changed, targets, options);
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
                    ? tl::expected<std::shared_ptr<const Variant>, CarFailure>(previous->reset)
                    : read(c.bench->setup);
    if (!hung) return failed(Which::reset, hung.error());
    c.reset = *hung;
  }
  for (const End end : both_ends) c.sits_lower_mm[at(end)] = sits_lower(car, *c.baseline, *c.aligned, end);
  return c;
}

}  // namespace lowkite
