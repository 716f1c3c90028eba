#include "core/bench/run.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include <fmt/format.h>

#include "core/figures/variant.hpp"

namespace lowkite {
namespace {

/// The step whose readings set a link before angles do.
bool caliper_took(const Car& car, const BenchRun& run, End end, LinkHolds what, Side side) {
  const auto& links = car.axle(end).mechanism->links;
  for (std::size_t i = 0; i < links.size(); ++i) {
    if (links[i].holds != what) continue;
    const auto found = run.records.find("links:" + std::string(name_of(end)) + ":" + std::string(links[i].id));
    if (found != run.records.end() && !found->second.readings[at(side)].empty()) return true;
  }
  return false;
}

void put_measured(const Car& car, const BenchRun& run, const BenchStep& step, Side side, double read, Setup& setup) {
  const Gauge& g = *step.gauge;
  switch (g.spec().takes_over) {
    case TakesOver::nothing:
      return;
    case TakesOver::ride_height:
      setup.ride_height_mm[at(g.end)] = read;
      return;
    case TakesOver::unless_camber_link:
      if (caliper_took(car, run, g.end, LinkHolds::camber, side)) return;
      break;
    case TakesOver::unless_toe_link:
      if (caliper_took(car, run, g.end, LinkHolds::toe, side)) return;
      break;
    case TakesOver::parts:
      break;
  }
  const auto a = answer(car, setup, g, side, read, run.bench);
  if (!a || a->verdict != GaugeAnswer::Verdict::turn) return;
  // Where the part must stand to read like this: the change that would put it right, undone.
  for (const int part : a->adjusters) {
    const Adjuster& adjuster = car.adjusters[static_cast<std::size_t>(part)];
    if (!adjuster.threaded()) continue;  // a shim is what it is
    double& value = setup.at_index(part).on(side);
    value = std::clamp(value - a->change, adjuster.least(), adjuster.most());
  }
}

}  // namespace

BenchRun start_run(const Car& car, const Setup& planned, BenchList list, const BenchKit& bench, std::string started) {
  BenchRun run;
  run.car_id = car.id;
  run.list = list;
  run.started = std::move(started);
  run.planned = planned;
  run.bench = bench;
  for (const BenchStep& s : bench_steps(car, list)) run.order.push_back(s.id);
  return run;
}

std::vector<BenchStep> steps_of(const Car& car, const BenchRun& run) {
  const std::vector<BenchStep> all = bench_steps(car, BenchList::full);
  std::vector<BenchStep> steps;
  for (const std::string& id : run.order) {
    const auto found = std::find_if(all.begin(), all.end(), [&](const BenchStep& s) { return s.id == id; });
    if (found != all.end()) steps.push_back(*found);
  }
  return steps;
}

std::optional<Average> average(const std::vector<double>& readings) {
  if (readings.empty()) return std::nullopt;
  const auto [low, high] = std::minmax_element(readings.begin(), readings.end());
  const double sum = std::accumulate(readings.begin(), readings.end(), 0.0);
  return Average{sum / static_cast<double>(readings.size()), *high - *low, static_cast<int>(readings.size())};
}

Setup as_measured(const Car& car, const BenchRun& run, const std::string& before) {
  Setup setup = run.planned;
  for (const BenchStep& step : steps_of(car, run)) {
    if (step.id == before) break;
    const auto found = run.records.find(step.id);
    if (!step.gauge || found == run.records.end() || found->second.state == StepState::skipped) continue;
    for (const Side side : both_sides)
      if (const auto read = average(found->second.readings[at(side)]))
        put_measured(car, run, step, side, read->mean, setup);
  }
  return setup;
}

bool StepVerdict::good() const {
  bool any = false;
  for (const SideVerdict& s : side) {
    if (!s.read) continue;
    any = true;
    if (!s.answer || s.answer->verdict != GaugeAnswer::Verdict::as_it_should) return false;
  }
  return any && even;
}

tl::expected<StepVerdict, CornerFailure> judge(const Car& car, const BenchRun& run, const BenchStep& step) {
  StepVerdict verdict;
  if (!step.gauge) return verdict;
  const Gauge& g = *step.gauge;
  const Setup so_far = as_measured(car, run, step.id);
  // Wanted is the plan; where the car really stands lower or higher, the angles of the plan are those at that height.
  Setup wanted = run.planned;
  if (g.kind != &gauge::ride_height) wanted.ride_height_mm = so_far.ride_height_mm;
  const auto plan = evaluate(car, wanted, {}, 5);
  if (!plan) return tl::unexpected(plan.error());
  const auto real = evaluate(car, so_far, {}, 5);
  const auto record = run.records.find(step.id);
  for (const Side side : both_sides) {
    SideVerdict& s = verdict.side[at(side)];
    s.target = reading(g, plan->model, plan->source, run.bench, side);
    const auto allowed = g.kind == &gauge::lock_inside ? end_point(car, run, side) : std::nullopt;
    if (allowed) s.target = degrees(allowed->inside_rad);
    if (real) s.expected = reading(g, real->model, real->source, run.bench, side);
    if (record == run.records.end()) continue;
    s.read = average(record->second.readings[at(side)]);
    if (!s.read) continue;
    const auto a = answer(car, wanted, g, side, s.read->mean, run.bench);
    if (!a) return tl::unexpected(a.error());
    s.answer = *a;
    if (!allowed) continue;
    // What was found over the travel counts, not what the plan has there.
    s.answer->target = *s.target;
    s.answer->difference = s.read->mean - *s.target;
    s.answer->change = -s.answer->difference;
    s.answer->end_point = true;
    s.answer->verdict = std::abs(s.answer->difference) <= g.spec().resolution ? GaugeAnswer::Verdict::as_it_should
                                                                              : GaugeAnswer::Verdict::turn;
  }
  const auto& left = verdict.side[0];
  const auto& right = verdict.side[1];
  if (g.spec().per_wheel && left.read && right.read && left.target && right.target) {
    // Where the plan itself differs left and right, what differs from the plan counts.
    verdict.apart = (left.read->mean - *left.target) - (right.read->mean - *right.target);
    verdict.even = std::abs(*verdict.apart) <= g.spec().resolution;
  }
  return verdict;
}

std::optional<EndPoint> end_point(const Car& car, const BenchRun& run, Side way) {
  const auto found = evaluate(car, as_measured(car, run), {}, 5);
  if (!found || !found->model.steering) return std::nullopt;
  const CarModel& model = found->model;
  const auto standing = pose_axle(model, End::front, static_attitude(model));
  if (!standing) return std::nullopt;
  PerSide<CornerStops> stops;
  for (const Side side : both_sides) stops[at(side)] = found->source.travel.corner[at(End::front)][at(side)].stops;
  const CornerStops& wheel = stops[at(way)];
  std::optional<EndPoint> least;
  for (const auto& [kind, travel] :
       {std::pair(&gauge::lock_hanging, -wheel.droop.from_ride_height_mm), std::pair(&gauge::lock_level, 0.0),
        std::pair(&gauge::lock_pressed, wheel.bump.from_ride_height_mm)}) {
    const auto record = run.records.find(fmt::format("{}:front", kind->id));
    if (record == run.records.end()) continue;
    const auto read = average(record->second.readings[at(way)]);
    if (!read) continue;
    const auto servo = servo_for_inside(model, *standing, stops, way, travel, radians(read->mean));
    if (!servo || (least && *servo >= least->servo_rad)) continue;
    least = EndPoint{kind, *servo, inside_heading(model, *standing, stops, way, 0.0, *servo).value_or(0.0)};
  }
  return least;
}

std::optional<WeightSummary> weight_summary(const BenchRun& run) {
  PerEnd<PerSide<double>> g{};
  for (const End end : both_ends) {
    const auto found = run.records.find("weight:" + std::string(name_of(end)));
    if (found == run.records.end()) return std::nullopt;
    for (const Side side : both_sides) {
      const auto read = average(found->second.readings[at(side)]);
      if (!read) return std::nullopt;
      g[at(end)][at(side)] = read->mean;
    }
  }
  WeightSummary w;
  w.grams = g;
  w.total_g = g[0][0] + g[0][1] + g[1][0] + g[1][1];
  if (!(w.total_g > 0.0)) return std::nullopt;
  w.front_percent = 100.0 * (g[0][0] + g[0][1]) / w.total_g;
  w.left_percent = 100.0 * (g[0][0] + g[1][0]) / w.total_g;
  w.cross_percent = 100.0 * (g[0][0] + g[1][1]) / w.total_g;
  return w;
}

std::vector<SideEffect> side_effects(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                     const GaugeAnswer& a, std::size_t most) {
  std::vector<SideEffect> effects;
  if (a.verdict != GaugeAnswer::Verdict::turn || a.adjusters.empty()) return effects;
  // The reading says that the part stands off by the opposite of the change: from there to the plan.
  Setup off = setup;
  for (const int part : a.adjusters) off.at_index(part).on(side) -= a.change;
  const auto from = evaluate(car, off, {}, 21);
  const auto to = evaluate(car, setup, {}, 21);
  if (!from || !to) return effects;
  for (const FigureSpec& f : geometry_figures()) {
    if (!applies(f, car, gauge.end) || f.id == gauge.spec().id) continue;
    const auto x = f.read(from->source, gauge.end, side);
    const auto y = f.read(to->source, gauge.end, side);
    if (x && y && std::abs(*y - *x) >= 2.0 * f.resolution()) effects.push_back({&f, *x, *y});
  }
  std::stable_sort(effects.begin(), effects.end(), [](const SideEffect& p, const SideEffect& q) {
    return std::abs(p.to - p.from) / p.figure->resolution() > std::abs(q.to - q.from) / q.figure->resolution();
  });
  if (effects.size() > most) effects.resize(most);
  return effects;
}

}  // namespace lowkite
