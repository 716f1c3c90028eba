#include "core/bench/verdict.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/figures/variant.hpp"

namespace lowkite {
namespace {

constexpr int few_samples = 5;              ///< of curves that no gauge reads
constexpr double still_the_same = 0.1;      ///< of what a gauge can tell: what was read still counts
constexpr double two_gauges = 2.0;          ///< a difference of two readings misses by up to two resolutions
constexpr double aside_matters_mm = 0.4;    ///< of the weight: what four scales to a gram or two can tell
constexpr double clear_of_the_bench = 1.0;  ///< mm under a hanging tyre

/// Wanted is the plan; where the car really stands lower or higher, the angles of the plan are those at that height.
Setup wanted_setup(const BenchRun& run, const Setup& stands, const Gauge& gauge) {
  Setup wanted = run.planned;
  if (gauge.kind != &gauge::ride_height) wanted.ride_height_mm = stands.ride_height_mm;
  return wanted;
}

/// Calipers and shafts are read of parts, not of how the car stands: an angle that was preferred to a length leaves it.
bool of_a_part(const Gauge& gauge) {
  return gauge.spec().each_link;
}

/// Whether one of the parts that answer the gauge was turned.
bool reads_a_turned_part(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                         const std::vector<PartTurn>& turn) {
  const std::vector<PartHandle> parts = parts_answering(car, setup, gauge, side);
  return std::any_of(parts.begin(), parts.end(), [&](PartHandle part) {
    const std::string& id = car.adjusters[part].id;
    return std::any_of(turn.begin(), turn.end(), [&](const PartTurn& p) { return p.part == id && p.side == side; });
  });
}

/// What a turn has moved: steps, each with its sides.
using Moved = std::map<std::string, PerSide<bool>>;

/// Steps that had ended and whose target is no longer met are open again; but those that read the same part another way
/// are left as they are: the gauge that was read last has it.
/// `moved`: only these are looked at; none: all.
void open_what_is_off(const Car& car, BenchRun& run, const std::string& but, const std::vector<PartTurn>& turn,
                      const std::optional<Moved>& moved) {
  const Setup stands = as_measured(car, run);
  for (const BenchStep& other : steps_of(car, run)) {
    const auto found = run.records.find(other.id);
    if (!other.gauge || other.id == but || found == run.records.end() || of_a_part(*other.gauge)) continue;
    StepRecord& r = found->second;
    if (r.state != StepState::measured && r.state != StepState::left) continue;
    for (const Side side : both_sides) {
      const auto of_turn = moved ? moved->find(other.id) : Moved::const_iterator{};
      if (moved && (of_turn == moved->end() || !of_turn->second[at(side)])) continue;
      const auto is = known_reading(r, side);
      const auto wanted = read_gauge(car, wanted_setup(run, stands, *other.gauge), *other.gauge, side,
                                     kit_at(run, other.gauge->end, side));
      if (!is || !wanted || std::abs(*is - *wanted) <= other.gauge->spec().resolution + 1e-9) continue;
      r.state = reads_a_turned_part(car, stands, *other.gauge, side, turn) ? StepState::left : StepState::open;
      if (r.state == StepState::open) break;
    }
  }
}

/// What the lock is read off: the front axle as it stands, and its wheels' stops.
struct LockStand {
  CarModel model;
  AxlePose standing;
  PerSide<CornerStops> stops;
};
std::optional<LockStand> lock_stand(const Car& car, const Setup& setup) {
  auto found = evaluate(car, setup, {}, few_samples);
  if (!found || !found->model.steering) return std::nullopt;
  const auto standing = pose_axle(found->model, End::front, static_attitude(found->model));
  if (!standing) return std::nullopt;
  LockStand stand{std::move(found->model), *standing, {}};
  for (const Side side : both_sides)
    stand.stops[at(side)] = found->source.travel.corner[at(End::front)][at(side)].stops;
  return stand;
}

/// How the car stands once its collars (or what holds its springs) went on by this, mm.
struct StandAfter {
  PerEnd<double> ride_height_mm{};
  double roll_rad = 0.0;  ///< against before
};
/// None where springs are not described.
std::optional<StandAfter> stand_after(const Car& car, const Setup& before, const Collars& by_mm) {
  const auto model = build_model(car, before);
  const auto loaded = model ? LoadedCar::of(*model) : tl::unexpected(model.error());
  if (!loaded) return std::nullopt;
  Collars moved = loaded->level_collars();
  for (const End end : both_ends)
    for (const Side side : both_sides) moved[at(end)][at(side)] += by_mm[at(end)][at(side)];
  const auto b = loaded->balance(moved, {});
  if (!b) return std::nullopt;
  return StandAfter{b->attitude.ride_height_mm, b->attitude.roll_rad};
}

void to_history(StepRecord& r, Side side, const std::string& when) {
  if (r.readings[at(side)].empty()) return;
  if (r.earlier.empty() || r.earlier.back().when != when || !r.earlier.back().readings[at(side)].empty())
    r.earlier.push_back({{}, when});
  r.earlier.back().readings[at(side)] = std::move(r.readings[at(side)]);
  r.readings[at(side)].clear();
  r.sure[at(side)] = false;
}

/// What a gauge that read `known` on the one setup reads on the other. None where it cannot be read.
std::optional<double> moved_reading(const Car& car, const Setup& before, const Setup& after, const Gauge& gauge,
                                    Side side, double known, const BenchKit& bench) {
  if (gauge.kind == &gauge::lock_inside) {
    // The transmitter stays where it was set.
    const auto was = lock_stand(car, before);
    const auto is = lock_stand(car, after);
    const auto servo =
        was ? servo_for_inside(was->model, was->standing, was->stops, side, 0.0, radians(known)) : std::nullopt;
    const auto heading =
        servo && is ? inside_heading(is->model, is->standing, is->stops, side, 0.0, *servo) : std::nullopt;
    return heading ? std::optional(degrees(*heading)) : std::nullopt;
  }
  const auto x = read_gauge(car, before, gauge, side, bench);
  const auto y = read_gauge(car, after, gauge, side, bench);
  return x && y ? std::optional(known + *y - *x) : std::nullopt;
}

/// What was read of a figure that the turn has moved, or of a part that was turned, is of the car before it.
Moved begin_state(const Car& car, BenchRun& run, const BenchStep& step, const Setup& before, const BenchTurn& turn,
                  PerSide<bool> sides) {
  const Setup after = put_over(run.planned, run.standing);
  Moved all_moved;
  for (const BenchStep& other : steps_of(car, run)) {
    const auto found = run.records.find(other.id);
    if (!other.gauge || found == run.records.end()) continue;
    StepRecord& r = found->second;
    for (const Side side : both_sides) {
      const auto known = known_reading(r, side);
      if (!known) continue;
      auto to = moved_reading(car, before, after, *other.gauge, side, *known, run.bench);
      if (other.id == step.id && other.gauge->spec().play)
        for (const PartTurn& p : turn.parts)
          if (p.side == side || !reads_each_side(*other.gauge, run.bench)) to = *known + p.by;
      const bool own = other.id == step.id && sides[at(side)];
      const bool moved = to && std::abs(*to - *known) > still_the_same * other.gauge->spec().resolution;
      if (!own && !moved && !reads_a_turned_part(car, after, *other.gauge, side, turn.parts)) continue;
      if (other.id != step.id && !r.readings[at(side)].empty()) r.moved_by = step.id;
      to_history(r, side, turn.when);
      r.moved_to[at(side)] = to;
      all_moved[other.id][at(side)] = true;
    }
    // Where a pair answers, half of it tells nothing.
    if (other.id == step.id && other.gauge->spec().pair_off_by)
      for (const Side side : both_sides) to_history(r, side, turn.when);
  }
  return all_moved;
}

/// Where an end hangs on a stop its collars move neither axle, and no reading so far tells: the other axle's height is
/// read again after any collar was turned.
void read_other_axle_again(const Car& car, BenchRun& run, const BenchStep& step, const std::string& when) {
  for (const BenchStep& other : steps_of(car, run)) {
    const auto found = run.records.find(other.id);
    if (!other.gauge || other.gauge->kind != &gauge::ride_height || other.id == step.id || found == run.records.end())
      continue;
    StepRecord& r = found->second;
    if (r.state != StepState::measured && r.state != StepState::left) continue;
    for (const Side side : both_sides) to_history(r, side, when);
    r.moved_by = step.id;
    r.state = StepState::open;
  }
}

}  // namespace

bool near_enough(const SideVerdict& side) {
  return side.answer && (side.answer->verdict == GaugeAnswer::Verdict::as_it_should ||
                         side.answer->verdict == GaugeAnswer::Verdict::closest);
}

bool StepVerdict::good() const {
  bool any = false;
  for (const SideVerdict& s : side) {
    if (!s.read) continue;
    any = true;
    if (!near_enough(s)) return false;
  }
  return any && even;
}

tl::expected<StepVerdict, CarFailure> judge(const Car& car, const BenchRun& run, const BenchStep& step) {
  StepVerdict verdict;
  if (!step.gauge) return verdict;
  const Gauge& g = *step.gauge;
  const Setup stands = as_measured(car, run, step.id);
  const Setup wanted = wanted_setup(run, stands, g);
  const StepRecord* record = run.record(step.id);
  const bool each = reads_each_side(g, run.bench);
  PerSide<std::optional<Average>> read{};
  if (record)
    for (const Side side : both_sides) read[at(side)] = average(record->readings[at(side)]);
  for (const Side side : both_sides) {
    SideVerdict& s = verdict.side[at(side)];
    const BenchKit kit = kit_at(run, g.end, side);
    const auto planned = read_gauge(car, wanted, g, side, kit);
    if (!planned) return tl::unexpected(planned.error());
    s.target = *planned;
    if (const auto is = read_gauge(car, stands, g, side, kit)) s.expected = *is;
    const auto allowed = g.kind == &gauge::lock_inside ? end_point(car, run, side) : std::nullopt;
    if (allowed) s.target = degrees(allowed->inside_rad);
    s.read = read[at(side)];
    if (!s.read || !s.target) continue;
    const double resolution = g.spec().resolution;
    s.asks_side = !record->sure[at(side)] && std::abs(*s.target) > resolution && s.read->mean * *s.target < 0.0 &&
                  std::abs(s.read->mean) > resolution && g.spec().zero != ZeroSides::none;
    if (s.asks_side) continue;
    // Read at two points, the axle stands as high as between them; what they differ by is a lean (see lean_answer).
    if (g.kind == &gauge::ride_height && each && !(read[0] && read[1])) {
      s.answer = GaugeAnswer{};
      s.answer->verdict = GaugeAnswer::Verdict::other_side;
      s.answer->target = *s.target;
      s.answer->difference = s.read->mean - *s.target;
      continue;
    }
    const double told = g.kind == &gauge::ride_height && each ? 0.5 * (read[0]->mean + read[1]->mean) : s.read->mean;
    const auto a = answer_towards(car, stands, *s.target, g, side, told, kit, resolution + 1e-9);
    if (!a) return tl::unexpected(a.error());
    s.answer = *a;
  }
  const auto& left = verdict.side[0];
  const auto& right = verdict.side[1];
  if (g.spec().pair_off_by && read[0] && read[1] && left.target && right.target) {
    const auto both =
        answer_pair(car, stands, {*left.target, *right.target}, g, {read[0]->mean, read[1]->mean}, run.bench);
    if (!both) return tl::unexpected(both.error());
    for (const Side side : both_sides) verdict.side[at(side)].answer = (*both)[at(side)];
  }
  if (each && !g.spec().play && left.read && right.read && left.target && right.target) {
    // Where the plan itself differs left and right, what differs from the plan counts.
    verdict.apart = (left.read->mean - *left.target) - (right.read->mean - *right.target);
    const bool answers_each =
        !g.spec().pair_off_by && g.kind != &gauge::ride_height && (g.spec().parts || g.spec().answer);
    const double may_miss = g.spec().resolution * (answers_each ? 1.0 : two_gauges);
    verdict.even = std::abs(*verdict.apart) <= may_miss;
    // Each near enough, but to different sides: the one that is further off is brought on, if a hand can.
    if (!verdict.even && near_enough(left) && near_enough(right) && answers_each) {
      const Side worse =
          std::abs(left.answer->difference) > std::abs(right.answer->difference) ? Side::left : Side::right;
      SideVerdict& s = verdict.side[at(worse)];
      const auto a = answer_towards(car, stands, *s.target, g, worse, s.read->mean, kit_at(run, g.end, worse), 0.0);
      if (a && a->verdict == GaugeAnswer::Verdict::turn) s.answer = *a;
      verdict.even = !a || a->verdict == GaugeAnswer::Verdict::closest;
    }
  }
  return verdict;
}

std::optional<EndPoint> end_point(const Car& car, const BenchRun& run, Side way) {
  const auto stand = lock_stand(car, as_measured(car, run));
  if (!stand) return std::nullopt;
  const auto& [model, standing, stops] = *stand;
  const CornerStops& wheel = stops[at(way)];
  std::optional<EndPoint> least;
  for (const auto& [kind, travel] :
       {std::pair(&gauge::lock_hanging, -wheel.droop.from_ride_height_mm), std::pair(&gauge::lock_level, 0.0),
        std::pair(&gauge::lock_pressed, wheel.bump.from_ride_height_mm)}) {
    const StepRecord* record = run.record(fmt::format("{}:front", kind->id));
    const auto read = record ? known_reading(*record, way) : std::nullopt;
    if (!read) continue;
    const auto servo = servo_for_inside(model, standing, stops, way, travel, radians(*read));
    if (!servo || (least && *servo >= least->servo_rad)) continue;
    least = EndPoint{kind, *servo, inside_heading(model, standing, stops, way, 0.0, *servo).value_or(0.0)};
  }
  if (least && model.wanted_lock_rad && *model.wanted_lock_rad < least->inside_rad)
    if (const auto servo = servo_for_inside(model, standing, stops, way, 0.0, *model.wanted_lock_rad))
      least = EndPoint{nullptr, *servo, *model.wanted_lock_rad};
  return least;
}

std::optional<LeanAnswer> lean_answer(const Car& car, const BenchRun& run) {
  if (!(run.bench.ride_points_apart_mm > 0.0)) return std::nullopt;
  LeanAnswer lean;
  for (const End end : both_ends) {
    const StepRecord* record = run.record("ride_height:" + std::string(name_of(end)));
    if (!record) return std::nullopt;
    const auto left = known_reading(*record, Side::left);
    const auto right = known_reading(*record, Side::right);
    if (!left || !right) return std::nullopt;
    lean.lean_mm[at(end)] = *left - *right;
  }
  const double tells = gauge::ride_height.resolution;
  lean.twist_mm = lean.lean_mm[0] - lean.lean_mm[1];
  lean.twisted = std::abs(lean.twist_mm) > two_gauges * tells + 1e-9;
  const double shared = 0.5 * (lean.lean_mm[0] + lean.lean_mm[1]);
  lean.leans = std::abs(shared) > tells + 1e-9;
  if (!lean.leans || lean.twisted) return lean;
  const auto model = build_model(car, as_measured(car, run));
  const auto loaded = model ? LoadedCar::of(*model) : tl::unexpected(model.error());
  if (loaded) lean.collar_mm = level_by_collars(*loaded, std::atan(shared / run.bench.ride_points_apart_mm));
  return lean;
}

std::optional<WeightSummary> weight_summary(const BenchRun& run) {
  PerEnd<PerSide<double>> g{};
  for (const End end : both_ends) {
    const StepRecord* record = run.record("weight:" + std::string(name_of(end)));
    if (!record) return std::nullopt;
    for (const Side side : both_sides) {
      const auto read = average(record->readings[at(side)]);
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

std::optional<WeightAnswer> weight_answer(const Car& car, const BenchRun& run) {
  const auto sum = weight_summary(run);
  if (!sum) return std::nullopt;
  WeightAnswer a;
  a.sum = *sum;
  // Light cars on coarse scales: what they cannot tell is not chased.
  a.tells_percent = std::max(square_percent, 100.0 * gauge::corner_scale.resolution / sum->total_g);
  a.square = std::abs(sum->cross_percent - 50.0) < a.tells_percent;
  const auto model = build_model(car, as_measured(car, run));
  const auto loaded = model ? LoadedCar::of(*model) : tl::unexpected(model.error());
  if (loaded) a.advice = explain_scales(*loaded, sum->grams);
  a.aside_matters = a.advice && std::abs(a.advice->aside_mm) > aside_matters_mm;
  return a;
}

std::vector<SideEffect> side_effects(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                     const GaugeAnswer& a, std::size_t most) {
  std::vector<SideEffect> effects;
  if (a.verdict != GaugeAnswer::Verdict::turn || a.adjusters.empty() || a.collars) return effects;
  // The reading says that the part stands off by the opposite of the change: from there to the plan.
  Setup off = setup;
  for (const PartHandle part : a.adjusters) off.of(part).on(side) -= a.told;
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

bool turned(const Car& car, BenchRun& run, const BenchStep& step, std::optional<Side> only, const std::string& when) {
  const auto verdict = judge(car, run, step);
  if (!verdict || !step.gauge) return false;
  const Measured measured = measured_by(car, run);
  const Setup before = put_over(run.planned, measured);
  BenchTurn turn{step.id, when, {}};
  Measured after = measured;
  PerSide<bool> sides{};
  for (const Side side : both_sides) {
    const auto& s = verdict->side[at(side)];
    const bool told = s.answer && (s.answer->verdict == GaugeAnswer::Verdict::turn ||
                                   s.answer->verdict == GaugeAnswer::Verdict::until_it_moves);
    if (!told || (only && *only != side && !step.gauge->spec().pair_off_by && !s.answer->collars)) continue;
    sides[at(side)] = true;
    if (s.answer->collars) {
      turn.parts.push_back({"collar", side, s.answer->told});
      Collars by{};
      by[at(step.gauge->end)] = {s.answer->told, s.answer->told};
      after.ride_height_mm[at(step.gauge->end)] = s.target;
      if (const auto stands = stand_after(car, before, by))
        for (const End end : both_ends) after.ride_height_mm[at(end)] = stands->ride_height_mm[at(end)];
      continue;
    }
    if (s.answer->end_point) {
      turn.parts.push_back({"end_point", side, s.answer->told});
      continue;
    }
    if (s.answer->play) {
      if (side == Side::right && !reads_each_side(*step.gauge, run.bench)) continue;
      turn.parts.push_back({"play", side, s.answer->told});
      continue;
    }
    const bool unknown = s.answer->verdict == GaugeAnswer::Verdict::until_it_moves;
    for (const PartHandle part : s.answer->adjusters) {
      const Adjuster& adjuster = car.adjusters[part];
      turn.parts.push_back({adjuster.id, side, s.answer->told});
      if (unknown) continue;  // where it then stands the next reading tells
      const double now = measured.parts[part][at(side)].value_or(before.of(part).on(side));
      after.parts[part][at(side)] = std::clamp(now + s.answer->told, adjuster.least(), adjuster.most());
    }
  }
  if (turn.parts.empty()) return false;
  if (!reads_each_side(*step.gauge, run.bench)) sides = {true, true};
  run.standing = after;
  run.turns.push_back(turn);
  run.records[step.id].state = StepState::open;
  const Moved moved = begin_state(car, run, step, before, turn, sides);
  if (step.gauge->kind == &gauge::ride_height) read_other_axle_again(car, run, step, when);
  open_what_is_off(car, run, step.id, turn.parts, moved);
  return true;
}

void collars_turned(const Car& car, BenchRun& run, const BenchStep& step, const PerEnd<double>& left_down_mm,
                    const std::string& when) {
  BenchTurn turn{step.id, when, {}};
  run.standing = measured_by(car, run);
  const Setup before = put_over(run.planned, run.standing);
  Collars by{};
  for (const End end : both_ends) {
    const double mm = left_down_mm[at(end)];
    if (mm == 0.0) continue;
    by[at(end)] = {mm, -mm};
    turn.parts.push_back({"collar", Side::left, mm});
    turn.parts.push_back({"collar", Side::right, -mm});
  }
  run.turns.push_back(turn);
  // Turned against each other they lean the car: every scale, both sides' heights and every camber are other ones now.
  const auto stands = stand_after(car, before, by);
  if (stands)
    for (const End end : both_ends)
      if (std::abs(stands->ride_height_mm[at(end)] - before.ride_height_mm[at(end)]) >
          still_the_same * gauge::ride_height.resolution)
        run.standing.ride_height_mm[at(end)] = stands->ride_height_mm[at(end)];
  const bool camber_moved = stands && std::abs(degrees(stands->roll_rad)) > still_the_same * gauge::camber.resolution;
  for (const BenchStep& other : steps_of(car, run)) {
    const auto found = run.records.find(other.id);
    if (!other.gauge || found == run.records.end()) continue;
    StepRecord& r = found->second;
    const GaugeKind kind = other.gauge->kind;
    const bool leans = kind == &gauge::camber && camber_moved;
    if (kind != &gauge::corner_scale && kind != &gauge::ride_height && !leans) continue;
    if (other.id != step.id && (!r.readings[0].empty() || !r.readings[1].empty())) r.moved_by = step.id;
    for (const Side side : both_sides) to_history(r, side, when);
    r.moved_to = {};
    if (r.state == StepState::measured || r.state == StepState::left) r.state = StepState::open;
  }
}

void play_read(const Car& car, BenchRun& run, const BenchStep& step) {
  if (!step.gauge || step.gauge->kind != &gauge::wheel_play) return;
  const std::string droop = fmt::format("{}:{}", gauge::tyre_droop.id, name_of(step.gauge->end));
  open_what_is_off(car, run, step.id, {}, Moved{{droop, {true, true}}});
}

StepState state_when_ticked(const Car& car, const BenchRun& run, const BenchStep& step) {
  if (!step.gauge) return StepState::done;
  const StepRecord* record = run.record(step.id);
  if (record && !record->pull.empty()) return StepState::measured;
  if (!record || (record->readings[0].empty() && record->readings[1].empty())) return StepState::unmeasured;
  const auto verdict = judge(car, run, step);
  if (!verdict) return StepState::left;
  const bool each = reads_each_side(*step.gauge, run.bench);
  if (each && (record->readings[0].empty() || record->readings[1].empty())) return StepState::left;
  if (step.gauge->kind == &gauge::corner_scale) {
    // What a scale should read follows from the weight's place; square is what can be set.
    const auto weights = weight_answer(car, run);
    return !weights || weights->square ? StepState::measured : StepState::left;
  }
  return verdict->good() ? StepState::measured : StepState::left;
}

bool targets_differ(const BenchRun& run, const Setup& setup) {
  return run.planned.values != setup.values || run.planned.ride_height_mm != setup.ride_height_mm ||
         run.planned.wanted_lock_deg != setup.wanted_lock_deg;
}

void follow_setup(const Car& car, BenchRun& run, const Setup& setup) {
  run.planned = setup;
  open_what_is_off(car, run, {}, {}, std::nullopt);
}

std::optional<HangingTyre> hanging_tyre(const Car& car, const BenchRun& run, const BenchStep& step, Side side,
                                        double read) {
  if (!step.gauge || step.gauge->kind != &gauge::tyre_droop) return std::nullopt;
  const auto stands = evaluate(car, as_measured(car, run), {}, few_samples);
  if (!stands) return std::nullopt;
  const End end = step.gauge->end;
  const CornerStops& stops = stands->source.travel.corner[at(end)][at(side)].stops;
  const double low =
      run.bench.droop_from == DroopFrom::plate ? read : read + run.bench.droop_blocks_mm - run.bench.droop_line_mm;
  HangingTyre tyre;
  tyre.droop_mm = low - kit_at(run, end, side).slop_mm - stops.hanging_wheel_low_mm + stops.droop.from_ride_height_mm;
  tyre.least_blocks_mm = std::ceil(std::max(low, stops.hanging_wheel_low_mm) + clear_of_the_bench);
  tyre.blocks_too_low = run.bench.droop_blocks_mm < std::max(low, stops.hanging_wheel_low_mm);
  return tyre;
}

}  // namespace lowkite
