#include "core/plan/recipe_trial.hpp"

#include <algorithm>
#include <cmath>

#include "core/plan/bench_reset.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {
namespace {

/// Settings and angles this close are the same.
constexpr double same_setting = 1e-7;

/// The right side will stand as the left one does. Links that are turned to what is alike on both do not count.
bool are_sides_alike(const Car& car, const Setup& start, const CarTargets& targets, const ResetOptions& reset) {
  const bool links_follow = reset.hold_camber && reset.hold_toe && reset.hold_caster &&
                            std::all_of(targets.begin(), targets.end(), [](const PerSide<WheelTarget>& wheel) {
                              const auto &l = wheel[at(Side::left)], &r = wheel[at(Side::right)];
                              return std::abs(l.camber_rad - r.camber_rad) < same_setting &&
                                     std::abs(l.toe_rad - r.toe_rad) < same_setting &&
                                     std::abs(l.caster_rad.value_or(0.0) - r.caster_rad.value_or(0.0)) < same_setting;
                            });
  for (const PartHandle part : car.adjusters.handles()) {
    const Range* range = car.adjusters[part].range();
    const bool alike = std::abs(start.of(part).left - start.of(part).right) < same_setting;
    if (!alike && !(links_follow && range && range->link)) return false;
  }
  return true;
}

}  // namespace

RecipeTrial::RecipeTrial(const RecipeCase& of, std::vector<bool> settled)
    : of_(of),
      settled_(std::move(settled)),
      any_settled_(std::find(settled_.begin(), settled_.end(), true) != settled_.end()),
      ranges_(ranges_of(of.order.aims)) {
  const ResetOptions& reset = of.order.reset;
  // The quick judge does not turn two upper links against each other, takes the other axle's height as it is, and the
  // right side as the left.
  sides_alike_ = are_sides_alike(of.car, of.start.setup, of.targets, reset);
  judges_exactly_ = sides_alike_ && !settles_anywhere(of.car, reset) &&
                    std::none_of(both_ends.begin(), both_ends.end(),
                                 [&](End end) { return reset.hold_caster && can_hold_caster(of.car, end); });
  for (const RecipeAim& a : of.order.aims) {
    hears_of_load_ = hears_of_load_ || a.figure->of_load();
    if (a.figure->of_load()) load_needs_.add(*a.figure);
    hears_of_stops_ =
        hears_of_stops_ || (!a.figure->of_load() && (a.figure->whole_travel || a.figure->needs == Needs::shock_ends));
    for (const End end : both_ends)
      hung_otherwise_[at(end)] =
          hung_otherwise_[at(end)] || (!a.hold && a.figure->id == "droop" && (a.of_one_axle() ? a.end == end : true));
  }
}

/// The figures of the aims, read off a setup by the program's common way, those of geometry of one axle the worst
/// case; of load none are read (`load`: where they are read from). Empty where one has no value.
std::vector<double> RecipeTrial::figures_in(const Variant& variant, const LoadSource* load) const {
  std::vector<double> figures;
  for (const RecipeAim& a : of_.order.aims) {
    const auto v = !a.figure->of_load() ? a.read(variant.source) : load ? a.read(*load) : std::optional(0.0);
    if (!v) return {};
    figures.push_back(*v);
  }
  for (const Disturbance& by : of_.order.also_good_with) {
    const auto then = evaluate(of_.car, disturbed(of_.car, variant.setup, by), {}, coarse_curve);
    if (!then) return {};
    for (std::size_t i = 0; i < figures.size(); ++i) {
      const RecipeAim& a = of_.order.aims[i];
      // What is set directly is set; that it is lost is what the others are to be good with.
      if (!a.of_one_axle() || a.figure->whole_travel || settled_[i]) continue;
      const auto v = a.read(then->source);
      if (!v) return {};
      if (std::abs(*v - a.value) > std::abs(figures[i] - a.value)) figures[i] = *v;
    }
  }
  return figures;
}

/// The same with everything put back to the last hair.
std::vector<double> RecipeTrial::figures_with_exact_turns(const std::vector<PartChange>& changes) const {
  const auto back =
      put_back_exactly(of_.car, of_.before, changed_for_droop(of_.car, of_.before.setup, of_.start.setup, changes),
                       of_.targets, of_.order.reset);
  if (!back) return {};
  const auto after = evaluate(of_.car, *back, {}, coarse_curve, {&of_.start});
  return after ? figures_in(*after, nullptr) : std::vector<double>{};
}

std::optional<RecipeTrial::ByHand> RecipeTrial::by_hand(const std::vector<PartChange>& changes) const {
  // A spacer in a shock that the search itself changes is changed for the droop: that is not put back.
  auto alignment =
      reset_where_it_sits(of_.car, of_.before, changed_by_hand(of_.car, of_.before.setup, of_.start.setup, changes),
                          of_.targets, of_.order.reset);
  if (!alignment) return std::nullopt;
  auto after = evaluate(of_.car, alignment->setup, {}, coarse_curve, {&of_.start});
  if (!after) return std::nullopt;
  BenchReset bench = reset_on_bench(of_.car, of_.before, *after, of_.order.reset);
  return ByHand{std::move(*alignment), std::move(*after), std::move(bench)};
}

std::optional<RecipeResult> RecipeTrial::done(const std::vector<PartChange>& changes,
                                              const std::vector<double>& figures) const {
  RecipeResult r;
  auto hand = by_hand(changes);
  if (!hand) return std::nullopt;
  r.alignment = std::move(hand->alignment);
  if (std::any_of(r.alignment.steps.begin(), r.alignment.steps.end(), [](const ResetStep& t) { return t.thread_ends; }))
    return std::nullopt;
  const Variant& after = hand->after;
  r.bench = std::move(hand->bench);
  // Where droop itself is wanted, how near it comes is told.
  if (std::any_of(r.bench.droop.begin(), r.bench.droop.end(), [&](const DroopStep& t) {
        const End end = of_.car.adjusters[t.adjuster].end;
        return (t.ends || t.other_stop) && !hung_otherwise_[at(end)];
      }))
    return std::nullopt;
  r.setup = r.bench.setup;
  // Spacers that the droop asks for have to be there, too.
  if (of_.stock && !of_.stock->makes(r.setup)) return std::nullopt;
  r.changes = changes;
  std::optional<LoadSource> load;
  if (hears_of_load_) {
    auto on_springs = put_on_springs(of_.car, r.setup, of_.order.under, load_needs_);
    if (!on_springs) return std::nullopt;
    load = std::move(*on_springs);
  }
  std::optional<Variant> hung;
  if (hears_of_stops_ && r.setup != after.setup) {
    auto there = evaluate(of_.car, r.setup, {}, coarse_curve, {&after, &of_.start});
    if (!there) return std::nullopt;
    hung = std::move(*there);
  }
  r.gives = figures_in(hung ? *hung : after, load ? &*load : nullptr);
  if (r.gives.size() != of_.order.aims.size()) return std::nullopt;
  r.reached = figures;
  if (!of_.order.aims.empty() && (figures.empty() || !judges_exactly_ || any_settled_))
    r.reached = figures_with_exact_turns(changes);
  if (r.reached.size() != of_.order.aims.size()) return std::nullopt;
  for (std::size_t i = 0; i < of_.order.aims.size(); ++i)
    if (of_.order.aims[i].figure->of_load()) r.reached[i] = r.gives[i];
  if (!keeps_what_is_held(ranges_, r.reached)) return std::nullopt;
  double wished = 0.0;
  if (of_.wishes) {
    const auto reading = of_.wishes->read(r.setup);
    if (!reading || !of_.wishes->keeps_what_is_held(reading->by)) return std::nullopt;
    r.felt = of_.wishes->told(*reading);
    if (!r.felt) return std::nullopt;
    wished = of_.wishes->squared_miss(reading->by);
  }
  r.miss = std::sqrt(squared_miss_of(ranges_, r.reached) + wished);
  r.told_miss = std::sqrt(squared_miss_of(ranges_, r.gives) + wished);
  r.work = work_of(r);
  return r;
}

BenchWork RecipeTrial::work_of(const RecipeResult& r) const {
  std::vector<PartHandle> changed;
  for (const PartChange& c : r.changes) changed.push_back(c.adjuster);
  auto turned = static_cast<int>(r.alignment.steps.size());
  for (const DroopStep& s : r.bench.droop) {
    if (s.stop == StopKind::droop_screw)
      ++turned;
    else if (std::find(changed.begin(), changed.end(), s.adjuster) == changed.end())
      changed.push_back(s.adjuster);
  }
  // Collars are threads, too, and so is the end point at the radio, about.
  for (const End end : both_ends)
    if (!settles(of_.car, end, of_.order.reset) &&
        r.setup.ride_height_mm[at(end)] != of_.before.setup.ride_height_mm[at(end)])
      turned += 2;
  if (r.setup.wanted_lock_deg != of_.before.setup.wanted_lock_deg) ++turned;
  return work_for(of_.car, changed, turned);
}

}  // namespace lowkite
