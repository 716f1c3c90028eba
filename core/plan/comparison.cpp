#include "core/plan/comparison.hpp"

#include "core/plan/bench_reset.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {

tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous) {
  using Which = ComparisonFailure::Which;
  const auto failed = [](Which which, const CarFailure& why) { return tl::unexpected(ComparisonFailure{which, why}); };
  Comparison c;
  c.view = view;
  const auto read = [&](const Setup& setup) -> tl::expected<std::shared_ptr<const Variant>, CarFailure> {
    std::vector<const Variant*> known;
    if (previous && previous->baseline->model.car == &car)
      for (const auto& variant : {previous->baseline, previous->changed, previous->reset}) {
        if (variant->setup == setup && previous->view == view) return variant;
        known.push_back(variant.get());
      }
    for (const auto& variant : {c.baseline, c.changed})
      if (variant) known.push_back(variant.get());
    auto v = evaluate(car, setup, view, curve_samples, known);
    if (!v) return tl::unexpected(v.error());
    return std::make_shared<const Variant>(std::move(*v));
  };
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
