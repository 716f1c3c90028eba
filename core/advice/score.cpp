#include "core/advice/score.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/figures/variant.hpp"
#include "core/log/run_comparison.hpp"

namespace lowkite {
namespace {

constexpr double no_change = 1e-6;
constexpr double angle_told_deg = 0.1;

/// What a run says of a sense in a phase; 0 where it was as it should be, none where nothing was said of the run.
std::optional<int> felt(const Run& run, Phase phase, Sense sense) {
  if (run.feelings.empty()) return std::nullopt;
  int sum = 0;
  for (const Feeling& f : run.feelings)
    if (f.phase == phase && f.sense == sense) sum += f.amount;
  return sum;
}

struct Outcome {
  bool agreed = false;
  bool by_verdict = false;
};

/// Did what a rule promises come true between two runs? None where neither tells.
std::optional<Outcome> outcome(const Rule& rule, const Run& before, const Run& after, bool reversed) {
  double towards = 0.0;
  bool told = false;
  for (const RuleHelp& h : rule.helps)
    for (const Phase phase : h.phases) {
      const auto a = felt(before, phase, h.sense);
      const auto b = felt(after, phase, h.sense);
      if (!a || !b || (*a == 0 && *b == 0)) continue;
      const double way = reversed ? -h.way : h.way;
      towards += way * (*b - *a);
      // A fault that the rule promises to mend and that stays is an answer too.
      told |= *a != *b || *a * way < 0.0;
    }
  if (told) return Outcome{towards > 0.0, false};
  if (reversed) return std::nullopt;
  if (after.verdict == Verdict::better) return Outcome{true, true};
  if (after.verdict == Verdict::worse) return Outcome{false, true};
  return std::nullopt;
}

double angle_of(const Car& car, const Setup& setup, const Rule& rule) {
  const auto model = build_model(car, setup);
  if (!model) return 0.0;
  const auto f = figures_at(*model, static_attitude(*model));
  if (!f) return 0.0;
  const WheelFigures& w = f->axle[at(rule.end)].wheel[0];
  return degrees(rule.part.hold == RulePart::Hold::toe ? w.toe_rad : w.camber_rad);
}

/// How low the left wheel hangs under the plate, mm; 0 where it cannot be told.
double droop_of(const Car& car, const Setup& setup, End end) {
  const auto stops = stops_of(car, setup, end, Side::left);
  return stops ? stops->hanging_wheel_low_mm : 0.0;
}

/// +1: the change is the one that the rule means; -1: the other way round; 0: it is another one.
int way_of(const Rule& rule, const Car& car, const Setup& before, const Setup& after,
           const std::vector<PartHandle>& parts) {
  // What is only told stands in no setup.
  if (rule.part.kind == RulePart::Kind::told) return 0;
  if (rule.part.kind == RulePart::Kind::hold && rule.part.hold == RulePart::Hold::droop) {
    constexpr double told_mm = 0.2;
    if (std::any_of(parts.begin(), parts.end(),
                    [&](PartHandle part) { return car.adjusters[part].end != rule.end || !may_stop_droop(car, part); }))
      return 0;
    const double by = droop_of(car, after, rule.end) - droop_of(car, before, rule.end);
    return std::abs(by) < told_mm ? 0 : by * rule.part.way > 0.0 ? 1 : -1;
  }
  if (rule.part.kind == RulePart::Kind::hold) {
    // Toe of a solid hub is set by a part; elsewhere links do it, and a part changed is another change.
    const bool by_part = rule.part.is_wheel_angle() && !can_hold(car, rule.end, held_by(rule.part));
    if (by_part ? parts.size() != 1 || car.adjusters[parts[0]].end != rule.end : !parts.empty()) return 0;
    double by = 0.0;
    bool same_height = true;
    for (const End e : both_ends)
      same_height &= std::abs(after.ride_height_mm[at(e)] - before.ride_height_mm[at(e)]) < 0.05;
    if (rule.part.hold == RulePart::Hold::ride_height) {
      by = after.ride_height_mm[at(rule.end)] - before.ride_height_mm[at(rule.end)];
      if (std::abs(by) < 0.05) return 0;
    } else if (rule.part.hold == RulePart::Hold::lock) {
      if (!same_height || !before.wanted_lock_deg || !after.wanted_lock_deg) return 0;
      by = *after.wanted_lock_deg - *before.wanted_lock_deg;
      if (std::abs(by) < angle_told_deg) return 0;
    } else {
      if (!same_height) return 0;
      by = angle_of(car, after, rule) - angle_of(car, before, rule);
      if (std::abs(by) < angle_told_deg) return 0;
    }
    return by * rule.part.way > 0.0 ? 1 : -1;
  }
  // A droop screw is a thread, and yet what a rule about droop takes in hand.
  std::vector<PartHandle> mine = parts;
  if (rule.part.kind == RulePart::Kind::point && rule.part.point == "droop_tip") {
    if (!parts.empty()) return 0;
    for (const PartHandle i : car.adjusters.handles())
      if (before.values[i] != after.values[i] && moves_for(rule, car, i, car.adjusters[i].kit + 1.0) != 0.0)
        mine.push_back(i);
  }
  if (mine.size() != 1) return 0;
  const double by =
      moves_for(rule, car, mine[0], after.of(mine[0]).left) - moves_for(rule, car, mine[0], before.of(mine[0]).left);
  if (std::abs(by) < no_change) return 0;
  return by * rule.part.way > 0.0 ? 1 : -1;
}

}  // namespace

std::vector<PartHandle> parts_changed(const Car& car, const Setup& before, const Setup& after) {
  std::vector<PartHandle> parts;
  for (const PartHandle i : car.adjusters.handles())
    if (!car.adjusters[i].threaded() && before.values[i] != after.values[i]) parts.push_back(i);
  return parts;
}

ScoreBook keep_score(const std::vector<LoggedDay>& days, const RuleBook& book, const Car& car) {
  ScoreBook score;
  for (const LoggedDay& day : days) {
    std::optional<Setup> before;
    const Run* last = nullptr;
    for (const RunRecord& record : day.runs) {
      if (record.run.car_id != car.id) continue;
      auto after = setup_of(record.run, car);
      if (before && after && last && *before != *after) {
        const std::vector<PartHandle> parts = parts_changed(car, *before, *after);
        if (parts.size() <= 1)
          for (const Rule& rule : book.rules) {
            const int way = way_of(rule, car, *before, *after, parts);
            if (way == 0) continue;
            const auto result = outcome(rule, *last, record.run, way < 0);
            if (!result) continue;
            score.trials.push_back(
                {rule.id, last->id, record.run.id, day.day.date, way < 0, result->by_verdict, result->agreed});
            for (Tally* t : {&score.rules[rule.id],
                             rule.question.empty() ? nullptr : &score.schools[rule.question + "/" + rule.school]}) {
              if (!t) continue;
              ++t->trials;
              t->agreed += result->agreed;
            }
          }
      }
      before = std::move(after);
      last = &record.run;
    }
  }
  return score;
}

}  // namespace lowkite
