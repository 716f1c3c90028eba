#include "core/bench/run.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include <fmt/format.h>

#include "core/load/bar.hpp"
#include "core/load/third_element.hpp"

namespace lowkite {
namespace {

/// The step whose readings set a link before angles do.
bool caliper_took(const Car& car, const BenchRun& run, End end, LinkHolds what, Side side, const std::string& but) {
  const auto& links = car.axle(end).mechanism->links;
  for (const LinkSpec& link : links) {
    if (link.holds != what) continue;
    const std::string id = "links:" + std::string(name_of(end)) + ":" + std::string(link.id);
    const StepRecord* record = run.record(id);
    if (id != but && record && !record->readings[at(side)].empty()) return true;
  }
  return false;
}

void put_part(const Car& car, PartHandle part, Side side, double value, Measured& measured) {
  const Adjuster& adjuster = car.adjusters[part];
  if (!adjuster.threaded()) return;  // a shim is what it is
  measured.parts[part][at(side)] = std::clamp(value, adjuster.least(), adjuster.most());
}

void put_reading(const Car& car, const BenchRun& run, const BenchStep& step,
                 const PerSide<std::optional<Average>>& read, const std::string& but, Measured& measured) {
  const Gauge& g = *step.gauge;
  const TakesOver how = g.spec().takes_over;
  if (how == TakesOver::nothing) return;
  if (how == TakesOver::ride_height) {
    // Read at two points, the axle stands as high as between them.
    if (read[0] && read[1]) measured.ride_height_mm[at(g.end)] = 0.5 * (read[0]->mean + read[1]->mean);
    return;
  }
  const Setup setup = put_over(run.planned, measured);
  if (how == TakesOver::pair) {
    if (!read[0] || !read[1]) return;
    const auto off = g.spec().pair_off_by(car, setup, g, {read[0]->mean, read[1]->mean}, run.bench);
    if (!off) return;
    for (const PartHandle part : parts_answering(car, setup, g, Side::left)) {
      put_part(car, part, Side::left, setup.of(part).left + *off, measured);
      put_part(car, part, Side::right, setup.of(part).right - *off, measured);
    }
    return;
  }
  for (const Side side : both_sides) {
    if (!read[at(side)]) continue;
    if (how == TakesOver::unless_camber_link && caliper_took(car, run, g.end, LinkHolds::camber, side, but)) continue;
    if (how == TakesOver::unless_toe_link && caliper_took(car, run, g.end, LinkHolds::toe, side, but)) continue;
    const auto off = parts_off_by(car, setup, g, side, read[at(side)]->mean, kit_at(run, g.end, side));
    if (!off) continue;
    for (const PartHandle part : parts_answering(car, setup, g, side))
      put_part(car, part, side, setup.of(part).on(side) + *off, measured);
  }
}

}  // namespace

bool Measured::any() const {
  const auto known = [](const auto& pair) { return pair[0].has_value() || pair[1].has_value(); };
  return known(ride_height_mm) || std::any_of(parts.begin(), parts.end(), known);
}

Setup put_over(const Setup& setup, const Measured& measured) {
  Setup over = setup;
  for (const End end : both_ends)
    if (const auto& h = measured.ride_height_mm[at(end)]) over.ride_height_mm[at(end)] = *h;
  for (const PartHandle part : measured.parts.handles()) {
    if (part.place() >= over.values.size()) break;
    for (const Side side : both_sides)
      if (const auto& value = measured.parts[part][at(side)]) over.of(part).on(side) = *value;
  }
  return over;
}

Measured carried_over(const Car& from, const Measured& measured, const Car& to) {
  Measured carried;
  carried.ride_height_mm = measured.ride_height_mm;
  carried.parts.resize(to.adjusters.size());
  for (const PartHandle part : measured.parts.handles()) {
    if (part.place() >= from.adjusters.size()) break;
    if (const PartHandle there = to.find_adjuster(from.adjusters[part].id)) carried.parts[there] = measured.parts[part];
  }
  return carried;
}

const StepRecord* BenchRun::record(const std::string& step) const {
  const auto found = records.find(step);
  return found == records.end() ? nullptr : &found->second;
}

BenchRun start_run(const Car& car, const Setup& planned, BenchList list, const BenchKit& bench, std::string started) {
  BenchRun run;
  run.car_id = car.id;
  run.list = list;
  run.started = std::move(started);
  run.planned = planned;
  run.bench = bench;
  run.standing.parts.resize(car.adjusters.size());
  const auto model = build_model(car, planned);
  // A bar or a third damper that is left out is not set.
  const auto left_out = [&](const BenchStep& s, End end) {
    if (s.spec->each == StepFor::third_damper) return model && !(third_law(*model, end).damping_n_s_per_mm > 0.0);
    const bool of_a_bar = s.spec->each == StepFor::bars || (s.gauge && s.gauge->kind == &gauge::bar_lift);
    return of_a_bar && bar_left_out(car, planned, end);
  };
  for (const BenchStep& s : bench_steps(car, list)) {
    const std::optional<End> end = s.gauge ? std::optional(s.gauge->end) : s.end;
    if (!end || !left_out(s, *end)) run.order.push_back(s.id);
  }
  return run;
}

std::vector<BenchStep> steps_of(const Car& car, const BenchRun& run) {
  const std::vector<BenchStep> all = every_step(car);
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

std::optional<double> known_reading(const StepRecord& record, Side side) {
  const auto read = average(record.readings[at(side)]);
  return read ? std::optional(read->mean) : record.moved_to[at(side)];
}

BenchKit kit_at(const BenchRun& run, End end, Side side) {
  BenchKit kit = run.bench;
  const StepRecord* play = run.record(fmt::format("play:{}", name_of(end)));
  if (play && play->state != StepState::skipped) kit.slop_mm = known_reading(*play, side).value_or(kit.slop_mm);
  return kit;
}

Measured measured_by(const Car& car, const BenchRun& run, const std::string& but) {
  Measured measured = run.standing;
  measured.parts.resize(car.adjusters.size());
  for (const BenchStep& step : steps_of(car, run)) {
    const StepRecord* record = run.record(step.id);
    if (!step.gauge || !record || step.id == but || record->state == StepState::skipped) continue;
    const PerSide<std::optional<Average>> read{average(record->readings[0]), average(record->readings[1])};
    if (read[0] || read[1]) put_reading(car, run, step, read, but, measured);
  }
  return measured;
}

Setup as_measured(const Car& car, const BenchRun& run, const std::string& but) {
  return put_over(run.planned, measured_by(car, run, but));
}

}  // namespace lowkite
