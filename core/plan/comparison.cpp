#include "core/plan/comparison.hpp"

namespace lowkite {

tl::expected<Variant, CornerFailure> evaluate(const Car& car, const Setup& setup, const ViewAttitude& view,
                                              int curve_samples) {
  Variant v;
  v.setup = setup;
  auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  v.model = std::move(*model);
  const Attitude standing = static_attitude(v.model);
  Attitude held = standing;
  for (double& h : held.ride_height_mm) h -= view.bump_mm;
  held.roll_rad = view.roll_rad;
  held.rack_mm = view.rack_mm;
  const auto pose = pose_car(v.model, held);
  if (!pose) return tl::unexpected(pose.error());
  v.pose = *pose;
  v.source.car = read_car(v.model, v.pose, held);
  for (const End end : both_ends) v.source.curve[at(end)] = sweep_axle(v.model, end, standing, curve_samples);
  return v;
}

tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous) {
  using Which = ComparisonFailure::Which;
  const auto failed = [](Which which, const CornerFailure& corner) {
    return tl::unexpected(ComparisonFailure{which, corner});
  };
  const auto read = [&](const Setup& setup) -> tl::expected<std::shared_ptr<const Variant>, CornerFailure> {
    auto v = evaluate(car, setup, view, curve_samples);
    if (!v) return tl::unexpected(v.error());
    return std::make_shared<const Variant>(std::move(*v));
  };
  Comparison c;
  c.view = view;
  const bool known = previous && previous->view == view && previous->baseline->setup == baseline &&
                     previous->baseline->model.car == &car;
  auto base = known ? tl::expected<std::shared_ptr<const Variant>, CornerFailure>(previous->baseline) : read(baseline);
  if (!base) return failed(Which::baseline, base.error());
  c.baseline = *base;
  auto now = changed == baseline ? base : read(changed);
  if (!now) return failed(Which::changed, now.error());
  c.changed = *now;

  // Targets are what the gauges read on the board, whatever attitude is being looked at.
  const auto standing = figures_at(c.baseline->model, static_attitude(c.baseline->model));
  if (!standing) return failed(Which::baseline, standing.error());
  auto work = reset_alignment(car, changed, targets_of(*standing), options);
  if (!work) return failed(Which::reset, work.error());
  c.work = std::move(*work);
  auto after = c.work.setup == changed ? now : read(c.work.setup);
  if (!after) return failed(Which::reset, after.error());
  c.reset = *after;
  for (const End end : both_ends) c.sits_lower_mm[at(end)] = sits_lower_by(car, baseline, c.work.setup, end);
  return c;
}

}  // namespace lowkite
