#include "core/advice/advise.hpp"

#include <algorithm>
#include <cmath>

#include "core/plan/sensitivity.hpp"
#include "core/plan/settling.hpp"
#include "core/plan/wanted.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double nothing = 1e-6;
constexpr double least_droop_mm = 0.2;  ///< what a hand can tell

/// How far a position or a value moves what a rule takes in hand, against the adjuster's kit value.
double moved_by(const Rule& rule, const Car& car, const Adjuster& a, double value) {
  const RulePart& p = rule.part;
  const auto in_effect = [&](const Effect& e) {
    double sum = 0.0;
    switch (p.kind) {
      case RulePart::Kind::point: {
        const PointHandle point = a.steering ? PointHandle() : car.axle(rule.end).mechanism->point(p.point);
        for (const PointMove& m : e.moves)
          if (m.point == point && point) sum += m.mm[p.axis];
        break;
      }
      case RulePart::Kind::size:
        for (const SizeChange& c : e.sizes)
          if (c.size == p.size) sum += c.by;
        break;
      case RulePart::Kind::caster: {
        const PointHandle upper = a.steering ? PointHandle() : car.axle(rule.end).mechanism->point("kingpin_upper");
        for (const PointTurn& t : e.turns)
          if (upper && std::find(t.points.begin(), t.points.end(), upper) != t.points.end())
            sum -= degrees(t.angle_rad) * t.direction.y();
        break;
      }
      case RulePart::Kind::weight:
        // Millimetres of the car's centre of gravity.
        for (const MassChange& m : e.masses) {
          const MassPart& part = car.masses[at(m.mass)];
          const Vec3 cg(car.cg_x_mm.value_or(0.0), car.cg_y_mm, car.cg_height_mm);
          sum += (part.grams * m.move_mm[p.axis] + m.add_g * (part.place[p.axis] - cg[p.axis])) /
                 std::max(1.0, 1000.0 * car.mass_kg);
        }
        break;
      case RulePart::Kind::hold:
      case RulePart::Kind::told:
        break;
    }
    return sum;
  };
  if (const Positions* list = a.positions()) return in_effect(list->list[at(std::lround(value))].effect);
  const Range& r = *a.range();
  return (value - a.kit) * in_effect({r.moves_per_unit, {}, r.sizes_per_unit, {}});
}

/// Of the inside wheel: what is wanted, or the least of both ways that there is. None without a steering.
std::optional<double> full_lock_deg(const Variant& v) {
  if (!v.source.travel.lock) return std::nullopt;
  const PerSide<double>& inside = v.source.travel.lock->inside_rad;
  const double there = degrees(std::min(inside[0], inside[1]));
  return v.setup.wanted_lock_deg ? std::min(*v.setup.wanted_lock_deg, there) : there;
}

double deg_or_mm(const Rule& rule, const Variant& v, End end) {
  switch (rule.part.hold) {
    case RulePart::Hold::camber:
      return degrees(v.source.standing.axle[at(end)].wheel[0].camber_rad);
    case RulePart::Hold::toe:
      return degrees(v.source.standing.axle[at(end)].wheel[0].toe_rad);
    case RulePart::Hold::ride_height:
      return v.setup.ride_height_mm[at(end)];
    case RulePart::Hold::lock:
      return full_lock_deg(v).value_or(0.0);
    case RulePart::Hold::droop:
      return v.source.travel.corner[at(end)][0].stops.droop.from_ride_height_mm;
  }
  return 0.0;
}

std::optional<LoadSource> load_of(const CarModel& model, const Acceleration& under) {
  const auto loaded = LoadedCar::of(model);
  if (!loaded) return std::nullopt;
  auto source = read_load(*loaded, under);
  return source ? std::optional(std::move(*source)) : std::nullopt;
}

ClaimVerdict judged(const TriedClaim& c) {
  if (!c.before || !c.after) return ClaimVerdict::not_here;
  const double resolution = c.claim.figure->resolution();
  const double change = *c.after - *c.before;
  if (std::abs(change) < resolution) return ClaimVerdict::too_small;
  return (change > 0.0) == (c.claim.way > 0.0) ? ClaimVerdict::confirmed : ClaimVerdict::contradicted;
}

/// What a step on both sides would need that is not at hand.
std::vector<Lack> lacks_for(const RuleStep& s, const std::optional<Stock>& stock) {
  return !s.adjuster || !stock ? std::vector<Lack>{}
                               : stock->lacks(std::vector<PartChange>{{s.adjuster, s.from, s.to}});
}

/// A setup tried before and kept: many rules start from the same one.
struct Base {
  Variant variant;
  std::map<std::pair<double, double>, std::optional<LoadSource>> loads;

  const std::optional<LoadSource>& load(const Acceleration& a) {
    const auto [it, fresh] = loads.try_emplace({a.lateral_g, a.longitudinal_g});
    if (fresh) it->second = load_of(variant.model, a);
    return it->second;
  }
};

std::optional<Advice> tried(const Rule& rule, const RuleStep& step, const Car& car, Base& base,
                            const Acceleration& under) {
  Advice advice;
  advice.rule = &rule;
  advice.step = step;
  Setup setup = base.variant.setup;
  CarTargets targets = targets_of(base.variant.source.standing);
  if (step.adjuster) {
    const Adjuster& a = car.adjusters[step.adjuster];
    Setting& s = setup.of(step.adjuster);
    // Both sides by as much as the left one: sides that were set apart stay apart.
    const double by = step.to - step.from;
    s.left = step.to;
    s.right = a.positions() ? step.to : a.nearest_stop(s.right + by);
    setup = with_what_is_wanted(car, base.variant.setup, base.variant.setup, std::move(setup), step.adjuster);
  } else if (rule.part.kind == RulePart::Kind::told) {
    advice.setup = advice.stepped = setup;
    return advice;
  } else if (rule.part.hold == RulePart::Hold::ride_height) {
    setup.ride_height_mm[at(rule.end)] = step.to;
  } else if (rule.part.hold == RulePart::Hold::lock) {
    setup.wanted_lock_deg = step.to;
  } else {
    for (const Side side : both_sides) {
      WheelTarget& t = targets[at(rule.end)][at(side)];
      const double by = radians(step.to - step.from);
      (rule.part.hold == RulePart::Hold::toe ? t.toe_rad : t.camber_rad) += by;
    }
  }
  advice.stepped = setup;
  auto alignment = reset_where_it_sits(car, base.variant, setup, targets, {});
  if (!alignment) return std::nullopt;
  advice.alignment = std::move(*alignment);
  if (std::any_of(advice.alignment.steps.begin(), advice.alignment.steps.end(),
                  [](const ResetStep& t) { return t.thread_ends; }))
    return std::nullopt;
  advice.setup = advice.alignment.setup;
  if (!step.adjuster) advice.stepped = advice.setup;
  const auto after = evaluate(car, advice.setup, {}, coarse_curve, {&base.variant});
  if (!after) return std::nullopt;
  const bool loads =
      std::any_of(rule.claims.begin(), rule.claims.end(), [](const RuleClaim& c) { return c.figure->of_load(); });
  const auto load_after = loads ? load_of(after->model, under) : std::nullopt;
  for (const RuleClaim& c : rule.claims) {
    TriedClaim t{c, {}, {}, ClaimVerdict::not_here};
    if (c.figure->of_load()) {
      const auto& load_before = base.load(under);
      if (load_before) t.before = c.figure->read(*load_before, c.end, Side::left);
      if (load_after) t.after = c.figure->read(*load_after, c.end, Side::left);
    } else if (applies(*c.figure, car, c.end)) {
      t.before = c.figure->read(base.variant.source, c.end, Side::left);
      t.after = c.figure->read(after->source, c.end, Side::left);
    }
    t.verdict = judged(t);
    advice.claims.push_back(std::move(t));
  }
  for (const FigureSpec* each : flagged(geometry_figures(), watched)) {
    const FigureSpec& f = *each;
    const bool claimed = std::any_of(rule.claims.begin(), rule.claims.end(),
                                     [&](const RuleClaim& c) { return c.figure == &f && c.end == rule.end; });
    if (claimed || !applies(f, car, rule.end)) continue;
    const auto x = f.read(base.variant.source, rule.end, Side::left);
    const auto y = f.read(after->source, rule.end, Side::left);
    if (!x || !y) continue;
    const double steps = std::abs(*y - *x) / (2.0 * f.resolution());
    if (steps >= 0.5) advice.drags.emplace_back(&f, steps);
  }
  std::stable_sort(advice.drags.begin(), advice.drags.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  return advice;
}

/// What of the felt a rule answers: amounts that it promises to move towards nothing, and those it moves away.
void weigh(const Rule& rule, const std::vector<Feeling>& feelings, Advice& advice) {
  for (const Feeling& f : feelings)
    for (const RuleHelp& h : rule.helps) {
      if (h.sense != f.sense || f.amount == 0) continue;
      if (std::find(h.phases.begin(), h.phases.end(), f.phase) == h.phases.end()) continue;
      if ((f.amount < 0) == (h.way > 0.0)) {
        advice.mends += std::abs(f.amount);
        advice.for_what.push_back(f);
      } else {
        advice.worsens += std::abs(f.amount);
      }
    }
}

bool same_step(const Advice& a, const Advice& b) {
  if (a.rule->part.kind == RulePart::Kind::told || b.rule->part.kind == RulePart::Kind::told) return false;
  if (a.step.adjuster != b.step.adjuster || a.step.to != b.step.to) return false;
  return a.step.adjuster || (a.rule->end == b.rule->end && a.rule->part.hold == b.rule->part.hold);
}

/// One row for what a hand would do once, however many rules say so. Precondition: best first.
void join_same_steps(std::vector<Advice>& list) {
  std::vector<Advice> joined;
  for (Advice& a : list) {
    const auto there =
        std::find_if(joined.begin(), joined.end(), [&](const Advice& other) { return same_step(other, a); });
    if (there == joined.end())
      joined.push_back(std::move(a));
    else
      there->also.push_back(a.rule);
  }
  list = std::move(joined);
}

double scored(const Advice& a, bool surface_named) {
  const double told = a.confirmed() + a.contradicted();
  const double model = told > 0.0 ? (a.confirmed() - a.contradicted()) / told : 0.0;
  double score = (a.mends - a.worsens) * (1.0 + 0.4 * model) * (0.5 + a.tally.share().estimate);
  if (surface_named) score *= 1.2;
  if (!a.lacks.empty()) score *= 0.5;
  return score;
}

}  // namespace

int Advice::confirmed() const {
  return static_cast<int>(std::count_if(claims.begin(), claims.end(),
                                        [](const TriedClaim& c) { return c.verdict == ClaimVerdict::confirmed; }));
}

int Advice::contradicted() const {
  return static_cast<int>(std::count_if(claims.begin(), claims.end(),
                                        [](const TriedClaim& c) { return c.verdict == ClaimVerdict::contradicted; }));
}

Acceleration typical(Phase phase) {
  switch (phase) {
    case Phase::braking:
      return {0.0, -0.5};
    case Phase::entry:
      return {0.7, -0.3};
    case Phase::middle:
      return {1.0, 0.0};
    case Phase::exit:
      return {0.7, 0.3};
    case Phase::straight:
    case Phase::bumps:
    case Phase::jumps:
      return {};
  }
  return {};
}

double moves_for(const Rule& rule, const Car& car, PartHandle adjuster, double value) {
  const Adjuster& a = car.adjusters[adjuster];
  if (rule.part.kind == RulePart::Kind::hold) return 0.0;
  if (rule.part.kind != RulePart::Kind::weight && a.end != rule.end) return 0.0;
  return moved_by(rule, car, a, value);
}

namespace {

/// An angle that no link sets (the toe of a solid hub): the parts that move it, found by trying each of their values
/// with the other angle put back.
std::vector<RuleStep> parts_for_angle(const Rule& rule, const Car& car, const Setup& setup) {
  std::vector<RuleStep> steps;
  const auto base = evaluate(car, setup, {}, coarse_curve);
  if (!base) return steps;
  const CarTargets targets = targets_of(base->source.standing);
  const double before = deg_or_mm(rule, *base, rule.end);
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (a.end != rule.end || a.steering || a.threaded() || a.kind == AdjusterKind::shim_stack || !a.moves_geometry())
      continue;
    std::optional<RuleStep> best;
    for (const double v : a.values_besides(setup.values[i].left)) {
      Setup changed = setup;
      changed.values[i] = {v, v};
      const auto work = reset_alignment(car, changed, targets, {.step_turns = 0.0});
      const auto model =
          work ? build_model(car, work->setup) : tl::expected<CarModel, CarFailure>(tl::unexpect, work.error());
      const auto f = model ? figures_at(*model, static_attitude(*model))
                           : tl::expected<CarFigures, CarFailure>(tl::unexpect, CarFailure{});
      if (!f) continue;
      const WheelFigures& w = f->axle[at(rule.end)].wheel[0];
      const double by = degrees(rule.part.hold == RulePart::Hold::toe ? w.toe_rad : w.camber_rad) - before;
      if (by * rule.part.way < 0.05) continue;
      if (!best || std::abs(std::abs(by) - rule.step) < std::abs(std::abs(best->amount) - rule.step))
        best = RuleStep{i, setup.values[i].left, v, by};
    }
    if (best) steps.push_back(*best);
  }
  return steps;
}

/// Droop: the parts that stop the hanging wheel as the car is set up, at the value that changes it about as much as
/// usual.
std::vector<RuleStep> parts_for_droop(const Rule& rule, const Car& car, const Setup& setup) {
  std::vector<RuleStep> steps;
  const auto now = stops_of(car, setup, rule.end, Side::left);
  if (!now) return steps;
  for (const PartHandle i : parts_of_stop(car, rule.end, now->droop.kind)) {
    const Adjuster& a = car.adjusters[i];
    std::optional<RuleStep> best;
    for (const double v : a.values_besides(setup.of(i).left)) {
      Setup changed = setup;
      changed.of(i).left = v;
      const auto then = stops_of(car, changed, rule.end, Side::left);
      if (!then) continue;
      const double by = then->droop.from_ride_height_mm - now->droop.from_ride_height_mm;
      if (by * rule.part.way < least_droop_mm) continue;
      if (!best || std::abs(std::abs(by) - rule.step) < std::abs(std::abs(best->amount) - rule.step))
        best = RuleStep{i, setup.of(i).left, v, by};
    }
    if (best) steps.push_back(*best);
  }
  return steps;
}

void nearest_first(std::vector<RuleStep>& steps, double usual) {
  std::stable_sort(steps.begin(), steps.end(), [&](const RuleStep& x, const RuleStep& y) {
    return std::abs(std::abs(x.amount) - usual) < std::abs(std::abs(y.amount) - usual);
  });
}

}  // namespace

void take_in_hand(Rule& rule, const Car& car, PartHandle adjuster) {
  const Adjuster& a = car.adjusters[adjuster];
  const double up = a.stepped(a.kit, 1);
  const double next = up != a.kit ? up : a.stepped(a.kit, -1);
  std::vector<RulePart> offers{{RulePart::Kind::caster}};
  const auto offer = [&](const std::vector<PointMove>& moves, const std::vector<SizeChange>& sizes) {
    for (const PointMove& m : moves)
      for (int axis = 0; axis < 3 && !a.steering; ++axis) {
        RulePart p{RulePart::Kind::point};
        p.point = car.axle(a.end).mechanism->point_spec(m.point).id;
        p.axis = axis;
        offers.push_back(p);
      }
    for (const SizeChange& s : sizes) {
      RulePart p{RulePart::Kind::size};
      p.size = s.size;
      offers.push_back(p);
    }
  };
  if (const Range* r = a.range()) {
    offer(r->moves_per_unit, r->sizes_per_unit);
  } else {
    for (const double v : {a.kit, next}) {
      const Effect& e = a.positions()->list[at(std::lround(v))].effect;
      offer(e.moves, e.sizes);
    }
  }
  for (int axis = 0; axis < 3; ++axis) {
    RulePart p{RulePart::Kind::weight};
    p.axis = axis;
    offers.push_back(p);
  }
  rule.end = a.end;
  std::optional<RulePart> best;
  double most = 0.0;
  for (const RulePart& p : offers) {
    // Kinds come in order: a later one counts only where none before it moved.
    if (best && best->kind != p.kind) break;
    rule.part = p;
    const double by = std::abs(moved_by(rule, car, a, next) - moved_by(rule, car, a, a.kit));
    if (by <= std::max(most, nothing)) continue;
    best = p;
    most = by;
  }
  if (!best) {
    best = RulePart{RulePart::Kind::told};
    best->told = a.name;
    most = 1.0;
  }
  rule.part = *best;
  rule.step = most;
}

LinkHolds held_by(const RulePart& part) {
  if (!part.is_wheel_angle()) return LinkHolds::nothing;
  return part.hold == RulePart::Hold::toe ? LinkHolds::toe : LinkHolds::camber;
}

std::vector<RuleStep> steps_of(const Rule& rule, const Car& car, const Setup& setup) {
  std::vector<RuleStep> steps;
  if (rule.part.kind == RulePart::Kind::told) return {RuleStep{}};
  if (rule.part.kind == RulePart::Kind::hold) {
    RuleStep s;
    if (rule.part.hold == RulePart::Hold::ride_height) {
      s.from = setup.ride_height_mm[at(rule.end)];
    } else if (rule.part.hold == RulePart::Hold::droop) {
      steps = parts_for_droop(rule, car, setup);
      nearest_first(steps, rule.step);
      return steps;
    } else if (rule.part.is_wheel_angle() && !can_hold(car, rule.end, held_by(rule.part))) {
      steps = parts_for_angle(rule, car, setup);
      nearest_first(steps, rule.step);
      return steps;
    } else {
      const auto v = evaluate(car, setup, {}, coarse_curve);
      if (!v) return steps;
      if (rule.part.hold == RulePart::Hold::lock) {
        const auto lock = full_lock_deg(*v);
        // More than there is nobody can have.
        if (!lock || (rule.part.way > 0.0 && !setup.wanted_lock_deg)) return steps;
        s.from = std::round(2.0 * *lock) / 2.0;
      } else {
        s.from = deg_or_mm(rule, *v, rule.end);
      }
    }
    s.amount = rule.part.way * rule.step;
    s.to = s.from + s.amount;
    const double least = rule.part.hold == RulePart::Hold::ride_height ? 0.5
                         : rule.part.hold == RulePart::Hold::lock      ? 5.0
                                                                       : -90.0;
    if (s.to > least) steps.push_back(s);
    return steps;
  }
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    // A weight's part may be found at either end; links are what the re-set turns.
    if (rule.part.kind != RulePart::Kind::weight && a.end != rule.end) continue;
    if (a.range() && a.range()->link) continue;
    const double now = setup.values[i].left;
    const double here = moved_by(rule, car, a, now);
    std::optional<RuleStep> best;
    for (const double v : a.values_besides(now)) {
      const double by = moved_by(rule, car, a, v) - here;
      if (by * rule.part.way < nothing) continue;
      if (!best || std::abs(std::abs(by) - rule.step) < std::abs(std::abs(best->amount) - rule.step))
        best = RuleStep{i, now, v, by};
    }
    if (best) steps.push_back(*best);
  }
  nearest_first(steps, rule.step);
  return steps;
}

std::optional<Advice> try_rule(const Rule& rule, const RuleStep& step, const Car& car, const Setup& setup,
                               const Acceleration& under) {
  auto v = evaluate(car, setup, {}, coarse_curve);
  if (!v) return std::nullopt;
  Base base{std::move(*v), {}};
  return tried(rule, step, car, base, under);
}

tl::expected<Advices, CarFailure> advise(const RuleBook& book, const Car& car, const Setup& setup, const AdviceAsk& ask,
                                         const std::function<bool()>& go_on) {
  auto v = evaluate(car, setup, {}, coarse_curve);
  if (!v) return tl::unexpected(v.error());
  Base base{std::move(*v), {}};
  Advices out;
  std::optional<Stock> stock;
  if (ask.boxes) stock.emplace(*ask.boxes, car, setup);
  for (const Rule& rule : book.rules) {
    if (go_on && !go_on()) break;
    Advice fits;
    weigh(rule, ask.feelings, fits);
    if (!(fits.mends > fits.worsens)) continue;
    const auto pass = [&](std::string why) { out.passed.push_back({&rule, std::move(why)}); };
    if (ask.surface != Surface::unknown && !rule.surfaces.empty() &&
        std::find(rule.surfaces.begin(), rule.surfaces.end(), ask.surface) == rule.surfaces.end()) {
      pass(say("said for other surfaces than {}", word(label_in(surfaces(), ask.surface))));
      continue;
    }
    if (ask.grip != Grip::unknown && !rule.grip.empty() &&
        std::find(rule.grip.begin(), rule.grip.end(), ask.grip) == rule.grip.end()) {
      pass(say("said for other grip than {}", word(label_in(grips(), ask.grip))));
      continue;
    }
    if (const auto chosen = ask.schools.find(rule.question);
        !rule.question.empty() && chosen != ask.schools.end() && chosen->second != rule.school) {
      pass(say("the other school says so"));
      continue;
    }
    const auto steps = steps_of(rule, car, setup);
    if (steps.empty()) {
      pass(say("this car has no part for it, or it stands at its end"));
      continue;
    }
    // Of several parts that do it, the one at hand; else the nearest to the usual step.
    const auto had =
        std::find_if(steps.begin(), steps.end(), [&](const RuleStep& s) { return lacks_for(s, stock).empty(); });
    const RuleStep& step = had != steps.end() ? *had : steps.front();
    const Phase phase = fits.for_what.front().phase;
    auto advice = tried(rule, step, car, base, typical(phase));
    if (!advice) {
      pass(say("the car cannot stand like that, or a thread ends before camber and toe are back"));
      continue;
    }
    advice->mends = fits.mends;
    advice->worsens = fits.worsens;
    advice->for_what = fits.for_what;
    advice->lacks = lacks_for(step, stock);
    if (const auto t = ask.tallies.find(rule.id); t != ask.tallies.end()) advice->tally = t->second;
    advice->score = scored(*advice, ask.surface != Surface::unknown && !rule.surfaces.empty());
    out.list.push_back(std::move(*advice));
  }
  std::stable_sort(out.list.begin(), out.list.end(),
                   [](const Advice& a, const Advice& b) { return a.score > b.score; });
  join_same_steps(out.list);
  if (out.list.size() > ask.most) out.list.resize(ask.most);
  for (std::size_t i = 0; i < out.list.size(); ++i)
    for (std::size_t k = 0; k < out.list.size(); ++k) {
      const Advice& a = out.list[i];
      const Advice& b = out.list[k];
      const bool same_part = a.step.adjuster
                                 ? a.step.adjuster == b.step.adjuster
                                 : !b.step.adjuster && a.rule->end == b.rule->end &&
                                       a.rule->part.kind == b.rule->part.kind && a.rule->part.hold == b.rule->part.hold;
      if (i != k && same_part && a.step.amount * b.step.amount < 0.0) out.list[i].against.push_back(k);
    }
  return out;
}

}  // namespace lowkite
