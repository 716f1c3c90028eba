// Advice followed to its end: what a recipe says is done on the model and read again, on every car and on random ones.
// Nothing that was held is left behind for the next comparison to put back, and nothing is told that does not help.
#include <gtest/gtest.h>

#include <algorithm>
#include <random>

#include "core/load/spring_place.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/load_sensitivity.hpp"
#include "core/plan/part_map.hpp"
#include "core/plan/recipe.hpp"
#include "core/plan/set_directly.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

using By = DirectlySet::By;

std::optional<double> read_of(const Car& car, const CarSetup& setup, const FigureSpec& figure, End end) {
  const auto v = evaluate(car, setup, {}, coarse_curve);
  return v ? figure.read(v->source, end, Side::left) : std::nullopt;
}

/// Parts drawn at random, then aligned as on the bench.
std::optional<CarSetup> aligned_at_random(const Car& car, std::mt19937& random) {
  const CarSetup kit = kit_setup(car);
  CarSetup setup = random_setup(car, random);
  for (const PartHandle i : car.adjusters.handles())
    if (car.adjusters[i].threaded()) setup.values[i] = kit.values[i];
  const auto c = compare(car, kit, setup, {}, {}, coarse_curve);
  if (!c) return std::nullopt;
  // Links that come to their ends, or a wheel that cannot hang as it did, are other tests' matter.
  const auto ends = [](const auto& s) { return s.thread_ends; };
  if (std::any_of(c->work.steps.begin(), c->work.steps.end(), ends)) return std::nullopt;
  return c->bench->setup;
}

RecipeOrder one_part_for(const Car& car, const FigureSpec& figure, End end, double value, double tolerance) {
  RecipeOrder order;
  order.most_parts = 1;
  order.results = 3;
  order.parts = recipe_parts(car, end);
  if (figure.is(between_ends)) {
    const auto others = recipe_parts(car, end == End::front ? End::rear : End::front);
    order.parts.insert(order.parts.end(), others.begin(), others.end());
  }
  order.aims = {RecipeAim::of(figure, end, value, tolerance, false)};
  return order;
}

/// Taken over, the next comparison finds nothing to turn, to hang or to lift.
void nothing_is_left(const Car& car, const CarSetup& before, const CarSetup& taken, const std::string& where) {
  const auto c = compare(car, before, taken, {}, {}, coarse_curve);
  ASSERT_TRUE(c) << where;
  for (const PartHandle i : car.adjusters.handles())
    EXPECT_EQ(c->bench->setup.values[i], taken.values[i]) << where << ": " << car.adjusters[i].id;
  for (const End end : both_ends)
    EXPECT_NEAR(c->reset->setup.ride_height_mm[at(end)], taken.ride_height_mm[at(end)], 1e-4) << where;
}

// A racer who wants another droop turns the droop screw, not the shock's hole: what sets a figure by itself sets it.
TEST(WhatAHandSetsByItself, IsSetSoAndNoPartIsChanged) {
  struct Wish {
    const char* figure;
    double by;
    double tolerance;
    double rounding;  ///< what eighths of a turn and whole spacers may leave
  };
  constexpr std::array wishes{
      Wish{"camber", -0.5, 0.1, 0.2},      Wish{"toe", 0.4, 0.1, 0.2},           Wish{"caster", 0.8, 0.3, 0.5},
      Wish{"ride_height", 0.6, 0.1, 1e-9}, Wish{"droop", -0.8, 0.1, 0.6},        Wish{"droop", 0.8, 0.1, 0.6},
      Wish{"lock_inside", -3.0, 0.2, 0.3}, Wish{"lock_outside", -2.0, 0.2, 0.3}, Wish{"turning_radius", 60.0, 5.0, 8.0},
      Wish{"trail", 0.4, 0.1, 0.25},       Wish{"trail", -0.3, 0.1, 0.25}};
  std::map<By, int> alone;
  std::mt19937 random(19);
  for (const Car& car : every_shipped_car()) {
    if (runs_a_share() && car.id != "godwit-ta" && car.id != "dunlin-4wd") continue;
    for (int draw = 0; draw < (runs_a_share() ? 1 : 4); ++draw) {
      const auto start = draw == 0 ? std::optional(kit_setup(car)) : aligned_at_random(car, random);
      if (!start) continue;
      for (const End end : both_ends)
        for (const Wish& w : wishes) {
          const FigureSpec& figure = *find_figure(w.figure);
          if (!applies(figure, car, end)) continue;
          const auto direct = set_directly(figure, car, end);
          const auto now = read_of(car, *start, figure, end);
          if (!direct || !now) continue;
          if (direct->by == By::collars && settles(car, end, {})) continue;
          const std::string where = car.id + " " + std::string(name_of(end)) + " " + w.figure;
          const auto found = find_recipe(car, *start, *start, one_part_for(car, figure, end, *now + w.by, w.tolerance));
          if (!found) continue;  // it cannot be asked for: a wheel that does not hang so low
          // A stop, a thread or spacers in whole millimetres may not let it, and then parts are looked for.
          if (found->results.empty() || !found->results.front().changes.empty()) continue;
          ASSERT_EQ(found->results.size(), 1u) << where;
          const RecipeResult& r = found->results.front();
          ++alone[direct->by];
          const auto then = read_of(car, r.setup, figure, end);
          ASSERT_TRUE(then) << where;
          EXPECT_EQ(r.gives[0], *then) << where;
          EXPECT_NEAR(*then, *now + w.by, w.rounding) << where;
          for (const PartHandle i : car.adjusters.handles())
            EXPECT_TRUE(r.setup.values[i] == start->values[i] || car.adjusters[i].threaded() || may_stop_droop(car, i))
                << where << " moves " << car.adjusters[i].id;
          if (draw == 0) nothing_is_left(car, *start, r.setup, where);
        }
    }
  }
  const int least = runs_a_share() ? 1 : 6;
  EXPECT_GE(alone[By::links], 2 * least);
  EXPECT_GE(alone[By::collars], least);
  EXPECT_GE(alone[By::droop_stop], least);
  EXPECT_GE(alone[By::end_points], 2 * least);
}

// Every figure of every car, up and down: what is told is what the setup gives, it helps, and it stays so.
TEST(EveryRecipe, HelpsAsToldAndNothingOfItIsPutBack) {
  int told = 0;
  std::size_t turn = 0;
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    const auto now = evaluate(car, kit, {}, coarse_curve);
    for (const End end : both_ends)
      for (const FigureSpec& figure : geometry_figures()) {
        if (!applies(figure, car, end) || (figure.per == Per::car && end == End::rear)) continue;
        // Figures of the whole travel cost a hundred times as much.
        if (runs_a_share() && figure.whole_travel) continue;
        const std::size_t every = runs_a_share() ? 24 : figure.whole_travel ? 5 : 1;
        if (++turn % every != 0) continue;
        const auto was = figure.read(now->source, end, Side::left);
        if (!was) continue;
        for (const double by : {10.0, -10.0}) {
          const double wanted = *was + 2.0 * by * figure.resolution();
          const auto found =
              find_recipe(car, kit, kit, one_part_for(car, figure, end, wanted, 4.0 * figure.resolution()));
          const std::string where = car.id + " " + std::string(name_of(end)) + " " + std::string(figure.id);
          if (!found) continue;
          EXPECT_EQ(found->results.empty(), !why_none(*found, {}).empty()) << where;
          for (const RecipeResult& r : found->results) {
            ++told;
            const auto then = read_of(car, r.setup, figure, end);
            ASSERT_TRUE(then) << where;
            EXPECT_EQ(*then, r.gives[0]) << where;
            EXPECT_LT(std::abs(*then - wanted), std::abs(*was - wanted)) << where << " by " << by;
            nothing_is_left(car, kit, r.setup, where);
          }
        }
      }
  }
  EXPECT_GT(told, runs_a_share() ? 10 : 800);
}

/// Rear less front, of geometry or of the car on its springs.
std::optional<double> apart(const Car& car, const CarSetup& setup, const FigureSpec& figure, const HeldTurn& under) {
  const auto between = [&](const auto& source) -> std::optional<double> {
    const auto front = figure.read(source, End::front, Side::left);
    const auto rear = figure.read(source, End::rear, Side::left);
    return front && rear ? std::optional(*rear - *front) : std::nullopt;
  };
  if (figure.of_load()) {
    const auto load = put_on_springs(car, setup, under);
    return load ? between(*load) : std::nullopt;
  }
  const auto v = evaluate(car, setup, {}, coarse_curve);
  return v ? between(v->source) : std::nullopt;
}

// Front and rear as one: whatever is told brings them nearer, by as much as is told, and stays so.
TEST(FrontAndRearAlike, ComeNearerAsToldAndStaySo) {
  const HeldTurn under{{0.8, 0.0}, 3.0};
  int told = 0;
  std::mt19937 random(46);
  for (const Car& car : every_shipped_car()) {
    if (runs_a_share() && car.id != "heron-tc190") continue;
    for (int draw = 0; draw < (runs_a_share() ? 1 : 2); ++draw) {
      const auto start = draw == 0 ? std::optional(kit_setup(car)) : aligned_at_random(car, random);
      if (!start) continue;
      for (const char* id :
           {"roll_centre", "camber_gain", "bump_steer", "ride_frequency", "roll_stiffness", "stroke"}) {
        const FigureSpec& figure = *find_figure(id);
        if (!can_be_alike(figure, car)) continue;
        const auto was = apart(car, *start, figure, under);
        if (!was) continue;
        RecipeOrder order = one_part_for(car, figure, End::front, 0.0, 2.0 * figure.resolution());
        const auto rear = recipe_parts(car, End::rear);
        order.parts.insert(order.parts.end(), rear.begin(), rear.end());
        order.aims[0].kind = RecipeAim::Kind::alike;
        order.under = under;
        const auto found = find_recipe(car, *start, *start, order);
        const std::string where = car.id + " " + id + (draw == 0 ? "" : ", at random");
        ASSERT_TRUE(found) << where << ": " << found.error();
        EXPECT_EQ(found->results.empty(), !why_none(*found, order).empty()) << where;
        for (const RecipeResult& r : found->results) {
          ++told;
          const auto then = apart(car, r.setup, figure, under);
          ASSERT_TRUE(then) << where;
          EXPECT_NEAR(*then, r.gives[0], 1e-4 * figure.resolution() + (figure.of_load() ? 1e-5 : 0.0)) << where;
          EXPECT_TRUE(std::abs(*then) < std::abs(*was) || std::abs(*then) <= order.aims[0].tolerance) << where;
          nothing_is_left(car, *start, r.setup, where);
        }
      }
    }
  }
  EXPECT_GT(told, runs_a_share() ? 3 : 60);
}

// Which axle would follow the other is not for the program to say.
TEST(FrontAndRearAlike, AreRefusedWhereAHandSetsThem) {
  for (const Car& car : every_shipped_car())
    for (const char* id : {"camber", "toe", "ride_height", "wheelbase", "roll", "lock_inside"}) {
      const FigureSpec& figure = *find_figure(id);
      const bool set_somewhere = set_directly(figure, car, End::front) || set_directly(figure, car, End::rear);
      const bool one_of_the_car = figure.per == Per::car || figure.is(adds_up);
      const bool on_both = applies(figure, car, End::front) && applies(figure, car, End::rear);
      if (!set_somewhere && !one_of_the_car && (figure.of_load() || on_both)) continue;
      EXPECT_FALSE(can_be_alike(figure, car)) << car.id << " " << id;
      RecipeOrder order = one_part_for(car, figure, End::front, 0.0, 0.1);
      order.aims[0].kind = RecipeAim::Kind::alike;
      const auto found = find_recipe(car, kit_setup(car), kit_setup(car), order);
      ASSERT_FALSE(found) << car.id << " " << id;
      EXPECT_NE(found.error().message.find(figure.label), std::string::npos) << found.error();
    }
}

TEST(ADroopThatTheScrewGives, IsKeptWhilePartsMoveSomethingElse) {
  const Car car = shipped("godwit-ta");
  const CarSetup kit = kit_setup(car);
  const FigureSpec& droop = *find_figure("droop");
  const FigureSpec& roll_centre = *find_figure("roll_centre");
  const double droop_now = *read_of(car, kit, droop, End::front);
  RecipeOrder order =
      one_part_for(car, roll_centre, End::front, *read_of(car, kit, roll_centre, End::front) + 0.5, 0.2);
  order.aims.push_back(RecipeAim::of(droop, End::front, droop_now - 1.0, 0.2, false));
  const auto found = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(found) << found.error();
  ASSERT_FALSE(found->results.empty());
  EXPECT_TRUE(found->results.front().meets());
  for (const RecipeResult& r : found->results) {
    if (!r.meets()) continue;
    ASSERT_FALSE(r.changes.empty());
    EXPECT_FALSE(may_stop_droop(car, r.changes.front().adjuster));
    EXPECT_NEAR(*read_of(car, r.setup, droop, End::front), droop_now - 1.0, 0.2);
    nothing_is_left(car, kit, r.setup, "droop and roll centre");
  }
}

// Held for once, droop is not what the shock's new hole makes of it: the screw gives it back.
TEST(FiguresOfTheWholeTravel, AreJudgedWithTheDroopPutBack) {
  for (const char* id : {"godwit-ta", "dunlin-4wd"}) {
    const Car car = shipped(id);
    const CarSetup kit = kit_setup(car);
    const auto before = evaluate(car, kit, {}, coarse_curve);
    const CarTargets targets = targets_of(before->source.standing);
    for (const End end : both_ends) {
      AxleOrder order;
      order.end = end;
      order.parts = recipe_parts(car, end);
      order.hung_as = &*before;
      order.reset.hold_caster = false;
      for (const char* figure : {"droop", "bump_steer_total", "motion_ratio_change", "roll_centre"})
        if (applies(*find_figure(figure), car, end))
          order.aims.push_back(RecipeAim::of(*find_figure(figure), end, 0.0, 1.0, false));
      AxleJudge judge(car, kit, targets, order);
      int compared = 0;
      for (std::size_t i = 0; i < order.parts.size(); i += runs_a_share() ? 7 : 1) {
        const Adjuster& part = car.adjusters[order.parts[i]];
        const double value = part.stepped(part.kit, part.stepped(part.kit, 1) == part.kit ? -1 : 1);
        std::vector<double> values, quick;
        for (const PartHandle p : order.parts) values.push_back(kit.of(p).left);
        values[i] = value;
        const std::vector<PartChange> changes{{order.parts[i], part.kit, value}};
        if (!judge.judge(values, quick)) continue;
        const auto back =
            put_back_exactly(car, *before, changed_for_droop(car, kit, kit, changes), targets, order.reset);
        ASSERT_TRUE(back) << part.id;
        for (std::size_t f = 0; f < order.aims.size(); ++f)
          EXPECT_NEAR(quick[f], *read_of(car, *back, *order.aims[f].figure, end), 2e-6) << part.id;
        // Spacers inside the shock are changed for the droop; whatever else is, the droop is as it was.
        if (!may_stop_droop(car, order.parts[i]) && !parts_of_stop(car, end, StopKind::droop_screw).empty()) {
          EXPECT_NEAR(quick[0], *order.aims[0].figure->read(before->source, end, Side::left),
                      std::string(id) == "godwit-ta" ? 0.15 : 1.15)
              << part.id << ": as near as a twist, or half a spacer";
        }
        ++compared;
      }
      EXPECT_GT(compared, runs_a_share() ? 1 : 10) << id;
    }
  }
}

TEST(WhatNoPartMoves, IsSaidAndNotSearchedIn) {
  const Car car = shipped("godwit-ta");
  const CarSetup kit = kit_setup(car);
  const auto search = [&](const char* figure, double by) {
    const FigureSpec& f = *find_figure(figure);
    RecipeOrder order = one_part_for(car, f, End::front, *read_of(car, kit, f, End::front) + by, 0.1);
    if (runs_a_share()) order.parts.resize(2);
    return find_recipe(car, kit, kit, order);
  };
  // Both rods are the same whatever both sides do alike.
  const auto rods = search("tie_rods_differ", 1.0);
  ASSERT_TRUE(rods);
  EXPECT_TRUE(rods->results.empty());
  EXPECT_NE(why_none(*rods, {}).find("no part that may change comes closer"), std::string::npos);
  RecipeOrder cross = one_part_for(car, *find_figure("cross_weight"), End::front, 51.0, 0.2);
  const auto weighed = find_recipe(car, kit, kit, cross);
  ASSERT_FALSE(weighed);
  EXPECT_NE(weighed.error().message.find("spring collars"), std::string::npos);
  // Beyond what a setup may say.
  const auto high = search("ride_height", 80.0);
  ASSERT_FALSE(high);
  EXPECT_NE(high.error().message.find("allowed: 0 to 60"), std::string::npos) << high.error();
}

// The screw alone comes as near as it can be set, and is told as that.
TEST(ADroopBeyondTheShock, IsNotPromised) {
  for (const Car& car : every_shipped_car()) {
    if (runs_a_share() && car.id != "dunlin-4wd") continue;
    const CarSetup kit = kit_setup(car);
    for (const End end : both_ends) {
      const FigureSpec& droop = *find_figure("droop");
      if (!applies(droop, car, end) || !can_set_droop(car, end)) continue;
      const double now = *read_of(car, kit, droop, end);
      for (const double by : {3.0, 6.0, 9.0}) {
        const auto found = find_recipe(car, kit, kit, one_part_for(car, droop, end, now + by, 0.2));
        if (!found) continue;
        for (const RecipeResult& r : found->results) {
          const double then = *read_of(car, r.setup, droop, end);
          EXPECT_EQ(r.gives[0], then) << car.id;
          EXPECT_LT(std::abs(then - now - by), by) << car.id << " comes closer";
          if (r.meets()) {
            EXPECT_NEAR(then, now + by, 0.6) << car.id;
          }
        }
        if (runs_a_share()) break;
      }
    }
  }
}

// Both axles' parts in one map: what hears of both is read off the whole car, field by field as by the common way.
TEST(AMapOverBothAxles, IsTheCommonWays) {
  for (const char* id : {"heron-tc190", "godwit-ta"}) {
    const Car car = shipped(id);
    const CarSetup kit = kit_setup(car);
    const CarTargets targets = targets_of(evaluate(car, kit, {}, coarse_curve)->source.standing);
    for (const char* name : {"anti_braking", "wheelbase", "ackermann_at_lock", "roll_axis_slope"}) {
      const FigureSpec& figure = *find_figure(name);
      MapAsk ask{{&figure, std::nullopt, std::nullopt}, End::front, {}, {}, true, {0.7, 0.0}};
      const std::vector<PartHandle> parts = map_parts(car, ask.place, ask.end);
      for (const PartHandle p : parts) {
        const Adjuster& a = car.adjusters[p];
        if (!a.moves_geometry() || a.positions()) continue;
        if (a.end == End::front && !a.steering && !ask.down) ask.down = p;
        if (a.end == End::rear && !ask.across) ask.across = p;
      }
      ASSERT_TRUE(ask.down && ask.across) << id << " " << name;
      auto map = PartMap::of(car, kit, ask);
      ASSERT_TRUE(map) << map.error();
      const auto ends_of = [&](PartHandle part) {
        const Adjuster& a = car.adjusters[part];
        return std::vector{a.kit, a.stepped(a.kit, 1)};
      };
      int compared = 0;
      for (const double down : ends_of(ask.down)) {
        const auto across = ends_of(ask.across);
        const auto fields = map->row(down, across);
        ASSERT_EQ(fields.size(), across.size());
        for (std::size_t i = 0; i < fields.size(); ++i) {
          CarSetup s = kit;
          s.of(ask.down) = {down, down};
          s.of(ask.across) = {across[i], across[i]};
          const auto back = reset_alignment(car, s, targets, {.hold_caster = false, .step_turns = 0.0});
          if (!back || !fields[i]) continue;
          std::optional<double> then;
          if (figure.of_load()) {
            const auto on_springs = put_on_springs(car, back->setup, ask.under);
            if (on_springs) then = figure.read(*on_springs, End::front, Side::left);
          } else {
            then = read_of(car, back->setup, figure, End::front);
          }
          ASSERT_TRUE(then) << id << " " << name;
          EXPECT_NEAR(*fields[i], *then, 1e-4 * (1.0 + std::abs(*then))) << id << " " << name;
          ++compared;
        }
      }
      EXPECT_GE(compared, 2) << id << " " << name;
    }
  }
}

// A pan car's front stands on spacers: no collar gives its height back, and a recipe that moves it says so.
class OnSpacers : public testing::Test {
 protected:
  Car car_ = shipped("sanderling-12");
  CarSetup kit_ = kit_setup(car_);
  PartHandle shims_ = car_.find_adjuster("front_ride_shims");
};

TEST_F(OnSpacers, TheHeightThatAReSetLeavesIsNotAddedAgain) {
  ASSERT_EQ(spring_holder(car_, End::front), SpringHolder::spacers);
  for (const double shims : car_.adjusters[shims_].values_besides(kit_.of(shims_).left)) {
    CarSetup changed = kit_;
    changed.of(shims_) = {shims, shims};
    const auto once = compare(car_, kit_, changed, {}, {}, coarse_curve);
    ASSERT_TRUE(once);
    EXPECT_GT(std::abs(once->reset->setup.ride_height_mm[at(End::front)] - kit_.ride_height_mm[at(End::front)]), 0.3);
    nothing_is_left(car_, kit_, once->reset->setup, std::to_string(shims));
  }
}

TEST_F(OnSpacers, AHeightOfItsOwnGoesWithThePartsThereAndBack) {
  const PartHandle spring = car_.find_adjuster("front_spring_spacers");
  const auto step = [&](const CarSetup& from, PartHandle part, int by) {
    CarSetup after = from;
    const double v = car_.adjusters[part].stepped(from.of(part).left, by);
    after.of(part) = {v, v};
    return with_heights_of_parts(car_, kit_, from, after);
  };
  // Still the baseline's: the comparison sees to it.
  EXPECT_EQ(step(kit_, shims_, 1).ride_height_mm, kit_.ride_height_mm);
  CarSetup measured = kit_;
  measured.ride_height_mm[at(End::front)] = 4.4;
  const CarSetup one = step(step(measured, shims_, 1), spring, 1);
  const CarSetup other = step(step(measured, spring, 1), shims_, 1);
  EXPECT_EQ(one.values, other.values);
  EXPECT_NEAR(one.ride_height_mm[0], other.ride_height_mm[0], 1e-6);
  EXPECT_GT(std::abs(one.ride_height_mm[0] - 4.4), 0.05);
  EXPECT_NEAR(step(step(one, spring, -1), shims_, -1).ride_height_mm[0], 4.4, 1e-6);
  // A height that comes with the parts is taken as it is.
  CarSetup both = one;
  both.ride_height_mm[at(End::front)] = 5.1;
  EXPECT_EQ(with_heights_of_parts(car_, kit_, measured, both).ride_height_mm[0], 5.1);
}

// A softer spring lets the front down: what is ranked on the springs is the car as it then stands.
TEST_F(OnSpacers, OneStepOfASpringIsReadWhereTheCarThenStands) {
  const HeldTurn under{{0.6, 0.0}, 4.0};
  const auto before = evaluate_stand(car_, kit_);
  const auto base = put_on_springs(car_, kit_, under);
  const auto steps = load_sensitivity(car_, kit_, under);
  ASSERT_TRUE(before && base && steps);
  const std::vector<FigurePlace> places = places_of(load_figures());
  const PartHandle spring = car_.find_adjuster("front_spring");
  const auto step = std::find_if(steps->begin(), steps->end(), [&](const LoadStep& s) { return s.adjuster == spring; });
  ASSERT_TRUE(step != steps->end() && step->possible);
  CarSetup stepped = kit_;
  stepped.of(spring) = {step->value, step->value};
  const auto sits =
      reset_where_it_sits(car_, *before, stepped, targets_of(before->source.standing), {.step_turns = 0.0});
  ASSERT_TRUE(sits);
  EXPECT_GT(std::abs(sits->setup.ride_height_mm[at(End::front)] - kit_.ride_height_mm[at(End::front)]), 0.02);
  const auto then = put_on_springs(car_, sits->setup, under);
  ASSERT_TRUE(then);
  for (std::size_t i = 0; i < places.size(); ++i) {
    // Of the whole travel's end, the droop that is put back besides would be read.
    if (places[i].figure->id == "preload" || places[i].figure->id == "sag") continue;
    const auto x = places[i].read(*base), y = places[i].read(*then);
    if (!x || !y || !step->change[i]) continue;
    EXPECT_NEAR(*step->change[i], *y - *x, 1e-3 * (1.0 + std::abs(*y))) << places[i].figure->id;
  }
}

TEST_F(OnSpacers, TheRideHeightIsSearchedForInTheParts) {
  const FigureSpec& height = *find_figure("ride_height");
  const auto found = find_recipe(car_, kit_, kit_, one_part_for(car_, height, End::front, 4.5, 0.1));
  ASSERT_TRUE(found) << found.error();
  ASSERT_FALSE(found->results.empty());
  const RecipeResult& r = found->results.front();
  EXPECT_TRUE(r.meets());
  ASSERT_EQ(r.changes.size(), 1u);
  EXPECT_NEAR(r.setup.ride_height_mm[at(End::front)], 4.5, 0.1);
  nothing_is_left(car_, kit_, r.setup, "ride height");
}

}  // namespace
}  // namespace lowkite::test
