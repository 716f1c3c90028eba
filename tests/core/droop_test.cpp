// Droop given back by what stops the hanging wheel: a screw, or the spacers inside the shock; both ways, on every car,
// at every step of every part.
#include <cmath>
#include <limits>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/advice/advise.hpp"
#include "core/advice/score.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/io/setup_table.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/buying.hpp"
#include "core/plan/car_check.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/recipe.hpp"
#include "core/plan/wanted.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using test::CarSetup;

const CornerStops& stops_at(const Variant& v, End end, Side side) {
  return v.source.travel.corner[at(end)][at(side)].stops;
}
std::string told(const Comparison& c, End end, Side side) {
  const CornerStops &was = stops_at(*c.baseline, end, side), &is = stops_at(*c.aligned, end, side),
                    &now = stops_at(*c.reset, end, side);
  std::string text =
      fmt::format(" ({} {:.2f}, then {} {:.2f}, now {} {:.2f}:", name_of(was.droop.kind), was.hanging_wheel_low_mm,
                  name_of(is.droop.kind), is.hanging_wheel_low_mm, name_of(now.droop.kind), now.hanging_wheel_low_mm);
  for (const DroopStep& s : c.bench->droop)
    if (s.side == side)
      text += fmt::format(" {} exact {:.3f} by {:.3f} to {:.3f}{}{};", c.changed->model.car->adjusters[s.adjuster].id,
                          s.exact, s.by, s.value, s.ends ? " ends" : "", s.other_stop ? " other stop" : "");
  return text + ")";
}
double hangs(const Variant& v, End end, Side side) {
  return stops_at(v, end, side).hanging_wheel_low_mm;
}
/// Tyre's lowest point with a part set so, read off the model anew.
std::optional<double> hangs_with(const Car& car, CarSetup setup, PartHandle part, Side side, double value) {
  setup.of(part).on(side) = value;
  const auto stops = stops_of(car, setup, car.adjusters[part].end, side);
  return stops ? std::optional(stops->hanging_wheel_low_mm) : std::nullopt;
}
CarSetup both(CarSetup setup, PartHandle part, double value) {
  setup.of(part) = {value, value};
  return setup;
}
CarSetup by_hand(const Car& car, const CarSetup& baseline, const CarSetup& from, const char* id, double value) {
  const std::array change{PartChange{car.find_adjuster(id), 0.0, value}};
  return changed_by_hand(car, baseline, from, change);
}

struct Followed {
  int screwed = 0, opened = 0, as_it_is = 0, cannot = 0;
};

/// Does what the re-set says and reads every wheel again.
void follow(const Car& car, const Comparison& c, const std::string& what, Followed& count) {
  for (const End end : both_ends) {
    const std::vector<PartHandle> screws = parts_of_stop(car, end, StopKind::droop_screw);
    const std::vector<PartHandle> limiters = parts_of_stop(car, end, StopKind::shock_extended);
    for (const Side side : both_sides) {
      const double wanted = wanted_hanging(*c.baseline, c.changed->setup, end, side);
      const double off = std::abs(hangs(*c.reset, end, side) - wanted);
      const double was_off = std::abs(hangs(*c.aligned, end, side) - wanted);
      std::vector<const DroopStep*> steps;
      for (const DroopStep& s : c.bench->droop)
        if (car.adjusters[s.adjuster].end == end && s.side == side) steps.push_back(&s);
      const auto tells = [&](auto which) { return std::any_of(steps.begin(), steps.end(), which); };
      const std::string where = car.id + ": " + what + ", " + std::string(name_of(end)) + " " +
                                std::string(name_of(side)) + told(c, end, side);
      EXPECT_LE(off, was_off + 0.02) << where << " hangs no nearer than if it had been left alone";
      if (tells([](const DroopStep* s) { return s->ends || s->other_stop; })) {
        ++count.cannot;
        // A part at its end: no value of it would have done better.
        for (const DroopStep* s : steps) {
          const Adjuster& part = car.adjusters[s->adjuster];
          if (!s->ends || part.threaded()) continue;
          for (const double v : part.values_besides(s->value)) {
            const auto low = hangs_with(car, c.reset->setup, s->adjuster, side, v);
            EXPECT_TRUE(!low || std::abs(*low - wanted) >= off - 1e-6) << where << " with " << v << " mm";
          }
        }
        continue;
      }
      if (was_off < 0.02) {
        ++count.as_it_is;
        EXPECT_TRUE(steps.empty()) << where;
        continue;
      }
      if (tells([](const DroopStep* s) { return s->stop == StopKind::droop_screw; })) {
        ++count.screwed;
        // An eighth of a turn is told; half of it may be left.
        const auto* turned = *std::find_if(steps.begin(), steps.end(),
                                           [](const DroopStep* s) { return s->stop == StopKind::droop_screw; });
        const auto low = hangs_with(car, c.reset->setup, turned->adjuster, side, turned->value + 0.125);
        ASSERT_TRUE(low) << where;
        EXPECT_LE(off, std::max(0.56 * std::abs(*low - hangs(*c.reset, end, side)), 0.03)) << where;
        continue;
      }
      if (limiters.empty()) {
        EXPECT_TRUE(steps.empty() || !screws.empty()) << where;
        continue;
      }
      const StopKind stop = stops_at(*c.reset, end, side).droop.kind;
      if (stop != StopKind::shock_extended) continue;
      // Spacers: none of their values is nearer than the one told, or none is worth opening the shock.
      const PartHandle limiter = limiters.front();
      double best = off;
      for (const double v : car.adjusters[limiter].values_besides(c.reset->setup.of(limiter).on(side)))
        if (const auto low = hangs_with(car, c.reset->setup, limiter, side, v))
          best = std::min(best, std::abs(*low - wanted));
      if (steps.empty()) {
        ++count.as_it_is;
        EXPECT_GE(best, 0.4 * was_off) << where << ": spacers would have brought it back";
      } else {
        ++count.opened;
        EXPECT_NEAR(best, off, 0.1 * off + 0.02) << where << ": other spacers come nearer";
        EXPECT_LT(off, 0.6 * was_off + 0.02) << where << ": a shock is not opened for so little";
      }
    }
  }
}

TEST(DroopAfterAnyPart, IsGivenBackByWhatStopsTheWheel) {
  PerSide<Followed> all;  // cars with their screws in use; buggies, whose shocks stop the wheel
  for (const Car& car : test::every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    Followed& count = all[car.id == "plover-2wd" || car.id == "dunlin-4wd" ? 1 : 0];
    for (const PartHandle i : car.adjusters.handles()) {
      if (test::runs_a_share() && i.place() % 24 != 0) continue;
      const Adjuster& part = car.adjusters[i];
      if (part.steering || part.threaded() || !part.moves_geometry()) continue;
      for (const double v : part.values_besides(kit.values[i].left)) {
        const auto c = compare(car, kit, both(kit, i, v), {}, {}, coarse_curve);
        if (c) follow(car, *c, part.id + " to " + std::to_string(v), count);
      }
    }
  }
  EXPECT_GT(all[0].screwed + all[1].opened, 0);
  if (test::runs_a_share()) return;  // which parts those are is chance
  EXPECT_GE(all[0].screwed, 100);
  EXPECT_GE(all[0].opened + all[0].screwed + all[0].cannot, 130);
  EXPECT_GE(all[1].opened, 40);
  EXPECT_GT(all[0].cannot + all[1].cannot, 0);
}

// Left and right unlike, screws in or out, several parts at once.
TEST(DroopOfRandomSetups, IsGivenBackOnEachSideByItself) {
  std::mt19937 random(20261129);
  Followed count;
  for (const char* name : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd"}) {
    const Car car = test::shipped(name);
    for (int n = 0; n < test::share_of(150); ++n) {
      const CarSetup before = test::random_setup(car, random);
      CarSetup after = before;
      std::vector<PartHandle> parts;
      for (const PartHandle i : car.adjusters.handles())
        if (!car.adjusters[i].threaded() && !car.adjusters[i].steering && car.adjusters[i].moves_geometry())
          parts.push_back(i);
      for (int k = 0; k < 2; ++k) {
        const PartHandle p = parts[std::uniform_int_distribution<std::size_t>(0, parts.size() - 1)(random)];
        const Adjuster& part = car.adjusters[p];
        const auto values = part.values_besides(before.of(p).left);
        if (values.empty()) continue;
        const double v = values[std::uniform_int_distribution<std::size_t>(0, values.size() - 1)(random)];
        after.of(p).left = v;
        if (part.one_piece() || k == 0) after.of(p).right = v;
      }
      const auto c = compare(car, before, after, {}, {}, coarse_curve);
      if (c) follow(car, *c, "setup " + std::to_string(n), count);
    }
  }
  EXPECT_GE(count.screwed, test::share_of(100));
  EXPECT_GE(count.opened, test::share_of(24));
}

// Before, the re-set turned a screw back that a hand had just turned.
TEST(AStopChangedByHand, IsNotPutBackAndItsDroopIsHeldFromThenOn) {
  struct Case {
    const char *car, *part, *then;
    double to, then_by;
  };
  for (const Case& k : {Case{"heron-tc190", "front_droop_screw", "front_hub_shims", 0.75, 0.5},
                        Case{"godwit-ta", "rear_droop_screw", "rear_arm_front_shims", -0.5, 0.5},
                        Case{"plover-2wd", "rear_shock_spacers", "rear_shock_eyelet", 4.0, 1.0},
                        Case{"dunlin-4wd", "front_droop_screw", "front_link_inner_shims", 6.5, 2.0}}) {
    const Car car = test::shipped(k.car);
    const CarSetup kit = kit_setup(car);
    const End end = car.adjusters[car.find_adjuster(k.part)].end;
    const CarSetup changed = by_hand(car, kit, kit, k.part, k.to);
    ASSERT_TRUE(changed.wanted[at(end)][0].hanging_mm) << k.car;
    const auto c = compare(car, kit, changed, {}, {}, coarse_curve);
    ASSERT_TRUE(c);
    EXPECT_TRUE(c->bench->droop.empty()) << k.car;
    EXPECT_EQ(c->reset->setup.values, changed.values) << k.car;
    EXPECT_GT(std::abs(hangs(*c->reset, end, Side::left) - hangs(*c->baseline, end, Side::left)), 0.5) << k.car;
    // What comes after it is held against the droop that was chosen.
    const PartHandle then = car.find_adjuster(k.then);
    const CarSetup more = by_hand(car, kit, changed, k.then, kit.of(then).left + k.then_by);
    EXPECT_EQ(more.wanted, changed.wanted) << k.car;
    const auto after = compare(car, kit, more, {}, {}, coarse_curve);
    ASSERT_TRUE(after);
    EXPECT_NEAR(hangs(*after->reset, end, Side::left), hangs(*c->reset, end, Side::left), 0.9) << k.car;
    // Taken over and done: nothing is left to be done.
    const auto done = compare(car, kit, after->reset->setup, {}, {}, coarse_curve);
    ASSERT_TRUE(done);
    EXPECT_TRUE(done->bench->droop.empty()) << k.car;
    // And back by hand it is as if nothing had been.
    EXPECT_EQ(by_hand(car, kit, changed, k.part, kit.of(car.find_adjuster(k.part)).left), kit) << k.car;
  }
}

TEST(SpacersWhereNothingFollows, AreNoWish) {
  // The touring car's screw stops the wheel: a spacer less in its shock changes no droop, and none is wanted.
  const Car car = test::touring();
  const CarSetup kit = kit_setup(car);
  EXPECT_EQ(by_hand(car, kit, kit, "front_shock_spacers", 0.0).wanted, kit.wanted);
}

TEST(TheOtherStop, IsMovedOutOfTheWay) {
  const Car car = test::shipped("plover-2wd");
  CarSetup kit = kit_setup(car);
  const PartHandle screw = car.find_adjuster("rear_droop_screw");
  const PartHandle spacers = car.find_adjuster("rear_shock_spacers");
  // The screw stands just beyond the shock's stop. A longer reach of the wheel is wanted back: spacers come out, and
  // the screw that would then stop first comes out, too.
  double turns = 0.0;
  while (stops_at(*evaluate(car, both(kit, screw, turns), {}, coarse_curve), End::rear, Side::left).droop.kind ==
         StopKind::shock_extended)
    turns += 0.125;
  kit = both(kit, screw, turns - 0.25);
  const auto c = compare(car, kit, both(kit, car.find_adjuster("rear_hub_insert"), 0.0), {}, {}, coarse_curve);
  ASSERT_TRUE(c);
  Followed count;
  follow(car, *c, "screw close by", count);
  // The screw is the stop, the shock as short as it: a lower hub wants the wheel to hang lower in the chassis.
  CarSetup close = both(kit, screw, turns + 0.125);
  close = both(close, spacers, 2.0);
  const auto lower =
      compare(car, close, both(close, car.find_adjuster("rear_shock_upper_hole"), 0.0), {}, {}, coarse_curve);
  ASSERT_TRUE(lower);
  const auto out = std::find_if(lower->bench->droop.begin(), lower->bench->droop.end(),
                                [&](const DroopStep& s) { return s.adjuster == spacers; });
  ASSERT_NE(out, lower->bench->droop.end()) << "the shock stops the wheel before the screw";
  EXPECT_LT(out->by, 0.0);
  follow(car, *lower, "screw in use", count);
}

TEST(ARecipe, GivesTheDroopBackAndLeavesWhatItChangesItself) {
  const Car car = test::shipped("dunlin-4wd");
  const CarSetup kit = kit_setup(car);
  RecipeOrder order;
  order.most_parts = 1;
  order.parts = {car.find_adjuster("rear_shock_upper_hole"), car.find_adjuster("rear_shock_lower_hole")};
  const auto now = evaluate(car, kit, {}, coarse_curve);
  const FigureSpec& ratio = *find_figure("motion_ratio");
  order.aims.push_back(
      RecipeAim::of(ratio, End::rear, *ratio.read(now->source, End::rear, Side::left) + 0.05, 0.05, false));
  const auto found = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(found);
  ASSERT_FALSE(found->results.empty());
  for (const RecipeResult& r : found->results) {
    const auto after = evaluate(car, r.setup, {}, coarse_curve);
    ASSERT_TRUE(after);
    EXPECT_FALSE(r.bench.droop.empty());
    for (const Side side : both_sides)
      EXPECT_NEAR(hangs(*after, End::rear, side), hangs(*now, End::rear, side), 1.1) << "to half a spacer";
    EXPECT_TRUE(r.work.shocks_off);
  }
  // Less droop is wanted: the spacers are the recipe, and nothing takes them out again.
  const FigureSpec& droop = *find_figure("droop");
  RecipeOrder less;
  less.most_parts = 1;
  less.parts = {car.find_adjuster("rear_shock_spacers")};
  less.aims.push_back(
      RecipeAim::of(droop, End::rear, *droop.read(now->source, End::rear, Side::left) - 3.0, 0.3, false));
  const auto shorter = find_recipe(car, kit, kit, less);
  ASSERT_TRUE(shorter);
  ASSERT_FALSE(shorter->results.empty());
  const RecipeResult& r = shorter->results.front();
  const auto after = evaluate(car, r.setup, {}, coarse_curve);
  EXPECT_NEAR(*droop.read(after->source, End::rear, Side::left), r.reached[0], 0.02);
  EXPECT_NEAR(r.reached[0], *droop.read(now->source, End::rear, Side::left) - 3.0, 0.8);
  const auto taken_over = compare(car, kit, r.setup, {}, {}, coarse_curve);
  ASSERT_TRUE(taken_over);
  EXPECT_TRUE(taken_over->bench->droop.empty());
}

TEST(ARuleOfDroop, TakesInHandWhatStopsTheWheel) {
  Rule rule;
  rule.part.kind = RulePart::Kind::hold;
  rule.part.hold = RulePart::Hold::droop;
  rule.step = 1.0;
  for (const Car& car : test::every_shipped_car()) {
    CarSetup setup = kit_setup(car);
    for (const bool screw_in : {false, true})
      for (const End end : both_ends) {
        rule.end = end;
        const std::vector<PartHandle> screws = parts_of_stop(car, end, StopKind::droop_screw);
        if (screw_in && screws.empty()) continue;
        if (screw_in && car.adjusters[screws[0]].least() == 0.0) setup.of(screws[0]) = {6.5, 6.5};
        const auto now = evaluate(car, setup, {}, coarse_curve);
        const Stop& stop = stops_at(*now, end, Side::left).droop;
        for (const double way : {1.0, -1.0}) {
          rule.part.way = way;
          const auto steps = steps_of(rule, car, setup);
          if (parts_of_stop(car, end, stop.kind).empty()) {
            EXPECT_TRUE(steps.empty()) << car.id << ": nothing that a hand reaches stops the wheel";
            continue;
          }
          ASSERT_FALSE(steps.empty()) << car.id << " " << name_of(end);
          const auto tried = try_rule(rule, steps.front(), car, setup, {});
          ASSERT_TRUE(tried) << car.id;
          const auto then = evaluate(car, tried->stepped, {}, coarse_curve);
          const double by = hangs(*then, end, Side::left) - hangs(*now, end, Side::left);
          EXPECT_GT(by * way, 0.2) << car.id << " " << name_of(end);
          EXPECT_LT(std::abs(by), 2.5) << car.id << ": about the usual step";
          // Done in Plan, it is not put back.
          const auto c = compare(car, setup, tried->stepped, {}, {}, coarse_curve);
          ASSERT_TRUE(c);
          EXPECT_TRUE(std::none_of(c->bench->droop.begin(), c->bench->droop.end(), [&](const DroopStep& s) {
            return car.adjusters[s.adjuster].end == end;
          })) << car.id;
        }
      }
  }
}

TEST(AWantedDroop, IsKeptInTheSetupsFile) {
  const Car car = test::buggy();
  CarSetup setup = kit_setup(car);
  setup.wanted[at(End::rear)][at(Side::right)].hanging_mm = 34.25;
  const auto back = read_setup(write_setup(setup, car, {}), "x.kite-setup.json", car);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(back->setup.wanted, setup.wanted);
  const auto table = read_setup_table(write_setup_table(setup, car), "x.csv", car);
  ASSERT_TRUE(table) << table.error().front().line();
  EXPECT_EQ(table->setup.wanted, setup.wanted);
}

// A field that has no effect is told.
TEST(WhatIsWantedAtAWheel, IsToldWhereNoPartOfTheCarSetsIt) {
  for (const Car& car : test::every_shipped_car()) {
    for (const End end : both_ends) {
      CarSetup setup = kit_setup(car);
      const auto told = [&](const char* what) {
        const auto found = check_car(car, setup);
        return std::count_if(found.begin(), found.end(), [&](const Finding& f) {
          return f.end == end && f.what.find(std::string("the ") + what + " that the setup wants") == 0;
        });
      };
      for (const char* what : {"camber", "toe", "caster", "droop"}) EXPECT_EQ(told(what), 0) << car.id;
      setup.wanted[at(end)] = {WantedAtWheel{-1.0, 0.5, 4.0, 20.0}, WantedAtWheel{-1.0, 0.5, 4.0, 20.0}};
      EXPECT_EQ(told("camber"), !can_set(car, end, WheelAngle::camber)) << car.id;
      EXPECT_EQ(told("toe"), !can_set(car, end, WheelAngle::toe)) << car.id;
      EXPECT_EQ(told("caster"), !can_set(car, end, WheelAngle::caster)) << car.id;
      bool stops = false;
      for (const PartHandle i : car.adjusters.handles())
        stops = stops || (car.adjusters[i].end == end && may_stop_droop(car, i));
      EXPECT_EQ(told("droop"), !stops) << car.id << " " << name_of(end);
    }
  }
}

TEST(AScrewBackedOut, IsNoFaultAndOneCloseBehindTheShockIs) {
  const Car car = test::buggy();
  const auto complains = [&](const CarSetup& setup) {
    const auto found = check_car(car, setup);
    return std::any_of(found.begin(), found.end(),
                       [](const auto& f) { return f.what.find("before the screw does") != std::string::npos; });
  };
  const CarSetup kit = kit_setup(car);
  EXPECT_FALSE(complains(kit));
  EXPECT_TRUE(complains(both(kit, car.find_adjuster("rear_droop_screw"), 0.5)));
}

/// The droops that a wheel can be given, every half turn of its screw with every number of spacers.
std::vector<double> droops_by_hand(const Car& car, CarSetup setup, End end, Side side) {
  const auto of = [&](StopKind kind) {
    const std::vector<PartHandle> parts = parts_of_stop(car, end, kind);
    return parts.empty() ? PartHandle() : parts.front();
  };
  const PartHandle screw = of(StopKind::droop_screw), spacers = of(StopKind::shock_extended);
  std::vector<double> turns{0.0}, stacks{0.0}, droops;
  if (screw) {
    const Adjuster& a = car.adjusters[screw];
    turns.clear();
    for (double v = a.least(); v <= a.most(); v += 0.5) turns.push_back(v);
  }
  if (spacers) stacks = car.adjusters[spacers].values_besides(-1.0);
  for (const double t : turns)
    for (const double s : stacks) {
      if (screw) setup.of(screw).on(side) = t;
      if (spacers) setup.of(spacers).on(side) = s;
      if (const auto stops = stops_of(car, setup, end, side)) droops.push_back(stops->droop.from_ride_height_mm);
    }
  return droops;
}

TEST(DroopAsTyped, ComesTrueOnEveryCarOrNoPartCouldDoIt) {
  std::mt19937 dice(2911);
  int set = 0, refused = 0, screwed = 0;
  for (const Car& car : test::every_shipped_car())
    for (const End end : both_ends) {
      if (!can_set_droop(car, end)) {
        const auto none = set_to_droop(car, kit_setup(car), end, {true, true}, 5.0);
        ASSERT_FALSE(none);
        EXPECT_NE(none.error().message.find("no screw"), std::string::npos) << none.error();
        continue;
      }
      for (int round = 0; round < test::share_of(6); ++round) {
        const CarSetup start = round == 0 ? kit_setup(car) : test::random_setup(car, dice);
        if (!evaluate(car, start, {}, coarse_curve)) continue;
        for (const PerSide<bool> sides : {PerSide<bool>{true, true}, PerSide<bool>{false, true}})
          for (const double mm : {1.0, 3.0, 5.5, 8.0, 11.0, 15.0, 25.0}) {
            if (test::runs_a_share() && mm != 3.0 && mm != 25.0) continue;
            const std::string where = fmt::format("{} {} to {} mm, round {}", car.id, name_of(end), mm, round);
            const auto typed = set_to_droop(car, start, end, sides, mm);
            if (!typed) {
              ++refused;
              EXPECT_FALSE(typed.error().message.empty());
              bool reached = true;
              for (const Side side : both_sides) {
                if (!sides[at(side)]) continue;
                const auto droops = droops_by_hand(car, start, end, side);
                const auto [least, most] = std::minmax_element(droops.begin(), droops.end());
                reached = reached && *least < mm - 0.2 && mm + 0.2 < *most;
              }
              EXPECT_FALSE(reached) << where << ": " << typed.error();
              continue;
            }
            ++set;
            // Nothing but what stops the wheel was touched, and only where it was asked for.
            for (const PartHandle i : car.adjusters.handles()) {
              const Setting &is = typed->of(i), &was = start.of(i);
              if (is == was) continue;
              EXPECT_TRUE(may_stop_droop(car, i)) << where;
              EXPECT_EQ(car.adjusters[i].end, end) << where;
              screwed += car.adjusters[i].threaded();
              for (const Side side : both_sides) EXPECT_TRUE(sides[at(side)] || is.on(side) == was.on(side)) << where;
            }
            for (const Side side : both_sides) {
              if (!sides[at(side)]) continue;
              const auto stops = stops_of(car, *typed, end, side);
              ASSERT_TRUE(stops) << where;
              const double off = std::abs(stops->droop.from_ride_height_mm - mm);
              const auto droops = droops_by_hand(car, start, end, side);
              double nearest = std::numeric_limits<double>::infinity();
              for (const double d : droops) nearest = std::min(nearest, std::abs(d - mm));
              EXPECT_LE(off, nearest + 0.2) << where << ", no hand comes nearer";
            }
            // It is wanted from then on: nothing is left to do.
            const auto c = compare(car, start, *typed, {}, {}, coarse_curve);
            ASSERT_TRUE(c) << where;
            for (const DroopStep& s : c->bench->droop)
              EXPECT_NEAR(s.by, 0.0, 1e-9) << where << " " << car.adjusters[s.adjuster].id;
            // There and back: as low as it hung.
            const auto was = stops_of(car, start, end, Side::right);
            const auto back = set_to_hang(car, *typed, end, sides, was->hanging_wheel_low_mm);
            if (!back || !sides[0] || start.of(PartHandle(0)).left != start.of(PartHandle(0)).right) continue;
            EXPECT_NEAR(stops_of(car, *back, end, Side::right)->hanging_wheel_low_mm, was->hanging_wheel_low_mm, 0.2)
                << where;
          }
      }
    }
  EXPECT_GT(set, test::runs_a_share() ? 5 : 150);
  EXPECT_GT(refused, 10);
  EXPECT_GT(screwed, test::share_of(60));
}

// Spacers that the droop asks for are pieces like others.
TEST(SpacersForTheDroop, HaveToBeInTheBoxes) {
  const Car car = test::shipped("dunlin-4wd");
  const CarSetup kit = kit_setup(car);
  RecipeOrder order;
  order.most_parts = 1;
  order.parts = {car.find_adjuster("rear_shock_upper_hole"), car.find_adjuster("rear_shock_lower_hole")};
  const auto now = evaluate(car, kit, {}, coarse_curve);
  const FigureSpec& ratio = *find_figure("motion_ratio");
  order.aims.push_back(
      RecipeAim::of(ratio, End::rear, *ratio.read(now->source, End::rear, Side::left) + 0.05, 0.05, false));
  const PartHandle spacers = car.find_adjuster("rear_shock_spacers");
  const double in_kit = kit.of(spacers).left;
  const auto takes_more = [&](const RecipeResult& r) { return r.setup.of(spacers).left > in_kit + 1e-9; };
  const auto all = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(all);
  ASSERT_TRUE(std::any_of(all->results.begin(), all->results.end(), takes_more));
  BoxItem thin;
  thin.value = 1.0;
  thin.part = "rear_shock_spacers";
  thin.count = 0;
  const Boxes none{{thin}};
  for (const RecipeResult& r : all->results) EXPECT_EQ(Stock(none, car, kit).makes(r.setup), !takes_more(r));
  order.boxes = none;
  const auto without = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(without);
  for (const RecipeResult& r : without->results) EXPECT_FALSE(takes_more(r)) << "there are none";
  thin.count = 40;
  order.boxes = Boxes{{thin}};
  const auto with = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(with);
  EXPECT_TRUE(std::any_of(with->results.begin(), with->results.end(), takes_more));
  // What would be worth having says it, too.
  const auto worth = worth_buying(*without, *all, Stock(none, car, kit));
  for (const WorthBuying& w : worth) EXPECT_TRUE(!w.lacks.front().adjuster || w.lacks.front().adjuster == spacers);
}

}  // namespace
}  // namespace lowkite
