#include "bench_sim/bench_car.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/figures/variant.hpp"

namespace lowkite {
namespace {

constexpr int draws = 40;
constexpr double collar_off_mm = 1.2;
constexpr double servo_least_rad = 0.2;
constexpr double servo_most_rad = 0.5;
constexpr double hand_misses = 0.4;  ///< of what a gauge can tell
constexpr double far_out_turns = 12.0;

bool is_thread_of_an_axle(const Adjuster& a) {
  return a.threaded() && !a.steering;
}

}  // namespace

tl::expected<BenchCar, std::string> BenchCar::wrongly_set(const Car& car, const Setup& planned, unsigned seed,
                                                          double turns) {
  BenchCar made(car, seed);
  std::uniform_real_distribution<double> off(-1.0, 1.0);
  std::string trouble = "no wrongly set car of this kind can stand";
  for (int i = 0; i < draws; ++i) {
    made.setup_ = planned;
    const auto built = build_model(car, planned);
    const auto loaded = built ? LoadedCar::of(*built) : cannot("it cannot be built");
    if (!loaded) return tl::unexpected(loaded.error().message);
    made.collars_ = loaded->level_collars();
    for (const PartHandle a : car.adjusters.handles()) {
      const Adjuster& adjuster = car.adjusters[a];
      if (!is_thread_of_an_axle(adjuster)) continue;
      for (const Side side : both_sides) {
        double& value = made.setup_.values[a].on(side);
        value = std::clamp(value + turns * off(made.random_), adjuster.least(), adjuster.most());
      }
    }
    for (const CollarMove& move : collar_moves(car)) {
      double mm = collar_off_mm * off(made.random_);
      if (move.holder == SpringHolder::spacers) {
        // Both sides alike, by whole shims of the box.
        const Adjuster& spacers = car.adjusters[spacers_under_springs(car, move.end)];
        if (move.what == CollarMove::What::right) continue;
        mm = spacers.nearest_stop(planned.of(spacers_under_springs(car, move.end)).left + 0.4 * mm) -
             planned.of(spacers_under_springs(car, move.end)).left;
        for (const Side side : both_sides) made.turn_collar(move.end, side, mm);
        continue;
      }
      for (const Side side : both_sides) made.collars_[at(move.end)][at(side)] += mm * move.per_mm[at(side)];
    }
    std::uniform_real_distribution<double> servo(servo_least_rad, servo_most_rad);
    made.end_point_rad_ = {servo(made.random_), servo(made.random_)};
    const auto done = made.settle();
    if (done) return made;
    trouble = done.error();
  }
  return tl::unexpected(trouble);
}

tl::expected<void, std::string> BenchCar::settle() {
  const auto model = build_model(*car_, setup_);
  if (!model) return tl::unexpected(model.error().message);
  const auto loaded = LoadedCar::of(*model);
  if (!loaded) return tl::unexpected(loaded.error().message);
  const auto b = loaded->balance(collars_, {});
  if (!b) return tl::unexpected(b.error().message);
  setup_.ride_height_mm = b->attitude.ride_height_mm;
  roll_rad_ = b->attitude.roll_rad;
  for (const End end : both_ends)
    for (const Side side : both_sides) grams_[at(end)][at(side)] = grams(b->wheel[at(end)][at(side)].load_n);
  stands_.reset();
  return {};
}

const Variant* BenchCar::stands() const {
  if (!stands_) {
    auto read = evaluate(*car_, setup_, {.roll_rad = roll_rad_}, 2);
    if (!read) return nullptr;
    read->source.standing = read->source.car;  // gauges are read on the car as it leans
    stands_ = std::make_shared<const Variant>(std::move(*read));
  }
  return stands_.get();
}

std::optional<double> BenchCar::servo_now(Side way, double inside_deg) const {
  const Variant* v = stands();
  const auto standing = v ? pose_axle(v->model, End::front, static_attitude(v->model))
                          : tl::expected<AxlePose, CarFailure>(tl::unexpect, CarFailure{});
  if (!standing) return std::nullopt;
  return servo_for_inside(v->model, *standing, stops(), way, 0.0, radians(inside_deg));
}

PerSide<CornerStops> BenchCar::stops() const {
  PerSide<CornerStops> both;
  for (const Side s : both_sides) both[at(s)] = stands()->source.travel.corner[at(End::front)][at(s)].stops;
  return both;
}

std::optional<double> BenchCar::truth(const Gauge& gauge, const BenchKit& bench, Side side) const {
  if (gauge.kind == &gauge::corner_scale) return grams_[at(gauge.end)][at(side)];
  if (gauge.kind == &gauge::ride_height) {
    // The roll that its own collars give it, read at two points across the plate.
    const double lean = 0.5 * bench.ride_points_apart_mm * std::sin(roll_rad_);
    const Attitude rolled{.ride_height_mm = {0.0, 0.0}, .roll_rad = 0.01};
    const Ground ground = ground_under(*car_, rolled);
    const double sign = ground.height(Vec3(0.0, 10.0, 0.0)) > ground.height(Vec3(0.0, -10.0, 0.0)) ? 1.0 : -1.0;
    return setup_.ride_height_mm[at(gauge.end)] + sign * (side == Side::left ? lean : -lean);
  }
  const Variant* v = stands();
  if (!v) return std::nullopt;
  if (gauge.kind == &gauge::lock_inside) {
    const auto standing = pose_axle(v->model, End::front, static_attitude(v->model));
    if (!standing) return std::nullopt;
    const auto heading = inside_heading(v->model, *standing, stops(), side, 0.0, end_point_rad_[at(side)]);
    return heading ? std::optional(degrees(*heading)) : std::nullopt;
  }
  return reading(gauge, v->model, v->source, bench, side);
}

std::optional<double> BenchCar::read(const Gauge& gauge, const BenchKit& bench, Side side) {
  std::uniform_real_distribution<double> misses(-hand_misses, hand_misses);
  const auto value = truth(gauge, bench, side);
  return value ? std::optional(*value + gauge.spec().resolution * misses(random_)) : std::nullopt;
}

bool BenchCar::turn(std::string_view part, Side side, double by) {
  const PartHandle index = car_->find_adjuster(part);
  if (!index) return false;
  const Adjuster& adjuster = car_->adjusters[index];
  const Setup before = setup_;
  double& value = setup_.of(index).on(side);
  const double wanted = value + by;
  value = std::clamp(wanted, adjuster.least(), adjuster.most());
  const bool whole = std::abs(value - wanted) < 1e-9;
  if (settle()) return whole;
  setup_ = before;
  return false;
}

void BenchCar::turn_collar(End end, Side side, double mm) {
  collars_[at(end)][at(side)] += mm;
  if (spring_holder(*car_, end) != SpringHolder::spacers) return;
  setup_.of(spacers_under_springs(*car_, end)).on(side) += mm;
}

void BenchCar::obey(const Gauge& gauge, Side side, const GaugeAnswer& a, const BenchKit& bench) {
  if (a.end_point) {
    const auto now = truth(gauge, bench, side);
    const auto servo = now ? servo_now(side, *now + a.told) : std::nullopt;
    if (servo) end_point_rad_[at(side)] = *servo;
    return;
  }
  if (a.collars) {
    if (side == Side::right) return;  // both were turned with the left one
    for (const Side s : both_sides) turn_collar(gauge.end, s, a.told);
    if (const auto done = settle(); done) return;
    for (const Side s : both_sides) turn_collar(gauge.end, s, -a.told);
    (void)settle();
    return;
  }
  if (a.verdict == GaugeAnswer::Verdict::until_it_moves) {
    const auto before = truth(gauge, bench, side);
    for (double turned = 0.0; turned < far_out_turns; turned += 0.125) {
      for (const PartHandle part : a.adjusters) turn(car_->adjusters[part].id, side, 0.125 * a.told);
      const auto now = truth(gauge, bench, side);
      if (before && now && std::abs(*now - *before) > gauge.spec().resolution) return;
    }
    return;
  }
  for (const PartHandle part : a.adjusters) turn(car_->adjusters[part].id, side, a.told);
}

namespace {

constexpr int most_rounds = 8;  ///< at one step
constexpr int most_passes = 6;
const std::string clock_stands_still = "2026-11-27T10:00:00";

class Rehearser {
 public:
  Rehearser(BenchCar& car, BenchRun& run) : car_(car), run_(run) {}

  Rehearsal play() {
    for (int pass = 0; pass < most_passes && any_open(); ++pass)
      for (const BenchStep& step : steps_of(car_.car(), run_))
        if (record(step).state == StepState::open) do_step(step);
    result_.ended = !any_open();
    look_at_the_end();
    return std::move(result_);
  }

 private:
  StepRecord& record(const BenchStep& step) { return run_.records[step.id]; }
  bool any_open() {
    const auto steps = steps_of(car_.car(), run_);
    return std::any_of(steps.begin(), steps.end(),
                       [&](const BenchStep& s) { return record(s).state == StepState::open; });
  }

  void read(const BenchStep& step) {
    const bool each = reads_each_side(*step.gauge, run_.bench);
    for (const Side side : both_sides) {
      if (!record(step).readings[at(side)].empty()) continue;
      std::optional<double> value = each || side == Side::left ? car_.read(*step.gauge, run_.bench, side)
                                                               : std::optional(record(step).readings[0].back());
      if (value) record(step).readings[at(side)].push_back(*value);
      record(step).sure[at(side)] = true;  // the stand-in knows its sides
    }
  }

  void do_step(const BenchStep& step) {
    if (step.gauge)
      for (int round = 0; round < most_rounds; ++round) {
        read(step);
        if (step.gauge->kind == &gauge::corner_scale ? !square() : !answered(step)) break;
      }
    record(step).state = state_when_ticked(car_.car(), run_, step);
  }

  /// What a step's verdict is about: of an axle that is read at two points, its height between them.
  std::optional<double> counts(const BenchStep& step, Side side) const {
    const auto own = car_.truth(*step.gauge, run_.bench, side);
    if (step.gauge->kind != &gauge::ride_height) return own;
    const auto other = car_.truth(*step.gauge, run_.bench, side == Side::left ? Side::right : Side::left);
    return own && other ? std::optional(0.5 * (*own + *other)) : std::nullopt;
  }

  /// True when something was told, and done.
  bool answered(const BenchStep& step) {
    if (step.gauge->kind == &gauge::ride_height && levelled(step)) return true;
    const auto verdict = judge(car_.car(), run_, step);
    if (!verdict) {
      result_.wrong.push_back(fmt::format("{}: {}", step.id, verdict.error().message));
      return false;
    }
    const auto truth = [&](Side side) { return counts(step, side); };
    PerSide<std::optional<double>> was;
    bool any = false;
    for (const Side side : both_sides) {
      const auto& a = verdict->side[at(side)].answer;
      if (!a || (a->verdict != GaugeAnswer::Verdict::turn && a->verdict != GaugeAnswer::Verdict::until_it_moves))
        continue;
      was[at(side)] = truth(side);
      any = true;
    }
    if (!any) return false;
    for (const Side side : both_sides)
      if (was[at(side)]) car_.obey(*step.gauge, side, *verdict->side[at(side)].answer, run_.bench);
    ++result_.turns;
    for (const Side side : both_sides) {
      // Of a pair that is turned against each other how far they are apart counts: see look_at_the_end.
      if (!was[at(side)] || !verdict->side[at(side)].target || step.gauge->spec().pair_off_by) continue;
      const auto is = truth(side);
      const double target = *verdict->side[at(side)].target;
      const double spec = step.gauge->spec().resolution;
      // Half of the least turn may be more than the gauge can tell.
      if (verdict->side[at(side)].answer->verdict == GaugeAnswer::Verdict::turn && is &&
          std::abs(*is - target) > std::abs(*was[at(side)] - target) + spec)
        result_.wrong.push_back(fmt::format("{} {}: told {:.3f}, went from {:.3f} to {:.3f}, target {:.3f}", step.id,
                                            name_of(side), verdict->side[at(side)].answer->told, *was[at(side)], *is,
                                            target));
    }
    return turned(car_.car(), run_, step, std::nullopt, clock_stands_still);
  }

  bool levelled(const BenchStep& step) {
    const auto lean = lean_answer(car_.car(), run_);
    if (!lean || !lean->collar_mm) return false;
    turn_against(*lean->collar_mm);
    collars_turned(car_.car(), run_, step, *lean->collar_mm, clock_stands_still);
    return true;
  }

  /// The cross weight, at the front alone. False: it is square, or nothing is told.
  bool square() {
    const auto weights = weight_answer(car_.car(), run_);
    if (!weights || weights->square || !weights->advice) return false;
    PerEnd<double> mm{};
    const End end = spring_holder(car_.car(), End::front) == SpringHolder::collars ? End::front : End::rear;
    mm[at(end)] = weights->advice->collar_mm[at(end)];
    turn_against(mm);
    const BenchStep* step = nullptr;
    const auto steps = steps_of(car_.car(), run_);
    for (const BenchStep& s : steps)
      if (s.id == "weight:" + std::string(name_of(end))) step = &s;
    collars_turned(car_.car(), run_, *step, mm, clock_stands_still);
    return true;
  }

  void turn_against(const PerEnd<double>& left_down_mm) {
    for (const End end : both_ends) {
      car_.turn_collar(end, Side::left, left_down_mm[at(end)]);
      car_.turn_collar(end, Side::right, -left_down_mm[at(end)]);
    }
    (void)car_.settle();
    ++result_.turns;
  }

  /// What half of the least turn of the part changes: nearer no hand can put it.
  double half_a_step(const BenchStep& step, Side side) const {
    const Gauge& g = *step.gauge;
    const std::vector<PartHandle> parts = parts_answering(car_.car(), run_.planned, g, side);
    if (g.kind == &gauge::ride_height) {
      const PartHandle spacers = spacers_under_springs(car_.car(), g.end);
      if (!spacers) return 0.1;
      const Adjuster& part = car_.car().adjusters[spacers];
      const double now = run_.planned.of(spacers).on(side);
      return std::max(part.stepped(now, 1) - now, now - part.stepped(now, -1));  // a spring moves less than its wheel
    }
    if (parts.empty()) return 0.0;
    const Adjuster& part = car_.car().adjusters[parts.front()];
    Setup moved = run_.planned;
    const double least = part.threaded() ? 1.0 / g.spec().parts_of_a_turn : 0.25;
    for (const PartHandle p : parts) moved.of(p).on(side) += 0.5 * least;
    const auto at = read_gauge(car_.car(), run_.planned, g, side, run_.bench);
    const auto there = read_gauge(car_.car(), moved, g, side, run_.bench);
    return at && there ? std::abs(*there - *at) : 0.0;
  }

  /// Two gauges of one part do not agree to a hair: the one that was read last has it.
  bool another_reads_its_part(const BenchStep& step) {
    const auto parts = parts_answering(car_.car(), run_.planned, *step.gauge, Side::left);
    for (const BenchStep& other : steps_of(car_.car(), run_))
      if (other.gauge && other.id != step.id && record(other).state == StepState::measured && !parts.empty() &&
          parts_answering(car_.car(), run_.planned, *other.gauge, Side::left) == parts)
        return true;
    return false;
  }

  void look_at_the_end() {
    for (const BenchStep& step : steps_of(car_.car(), run_)) {
      // A length gives way to the angle that it was to give.
      if (!step.gauge || step.gauge->spec().each_link) continue;
      if (record(step).state == StepState::left && another_reads_its_part(step)) continue;
      const auto verdict = judge(car_.car(), run_, step);
      if (!verdict) continue;
      const bool answered = step.gauge->spec().parts || step.gauge->spec().answer;
      PerSide<double> off{};
      for (const Side side : both_sides) {
        const auto& s = verdict->side[at(side)];
        const auto is = counts(step, side);
        if (!s.target || !is || !answered) continue;
        if (parts_answering(car_.car(), run_.planned, *step.gauge, side).empty() && step.gauge->spec().parts) continue;
        off[at(side)] = *is - *s.target;
        const double tells = step.gauge->spec().resolution;
        const double may = std::max(1.75 * tells, half_a_step(step, side) + tells);
        if (!step.gauge->spec().pair_off_by && std::abs(off[at(side)]) > may)
          result_.wrong.push_back(fmt::format(
              "{} {}: ends at {:.3f} for {:.3f}{}", step.id, name_of(side), *is, *s.target,
              s.answer ? fmt::format(", verdict {}", static_cast<int>(s.answer->verdict)) : ", not read again"));
      }
      if (step.gauge->spec().pair_off_by &&
          std::abs(off[0] - off[1]) > 2.5 * step.gauge->spec().resolution + 2.0 * half_a_step(step, Side::left))
        result_.wrong.push_back(fmt::format("{}: ends {:.3f} apart", step.id, off[0] - off[1]));
    }
  }

  BenchCar& car_;
  BenchRun& run_;
  Rehearsal result_;
};

}  // namespace

Rehearsal rehearse(BenchCar& on_the_bench, BenchRun& run) {
  return Rehearser(on_the_bench, run).play();
}

}  // namespace lowkite
