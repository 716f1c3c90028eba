// A search for what the driver wishes, beside figures that are held, followed to its end: what it says is worked out
// again from its setups alone.
#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/figures/variant.hpp"
#include "core/io/library.hpp"
#include "core/io/tyre_file.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/recipe.hpp"
#include "core/plan/trade_off.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using HF = HandlingFigure;
using HW = HandlingWant;
using CP = CornerPhase;

std::vector<TyreDraw> few_tyres() {
  static const TyreBook b = *load_tyres(test::data_path("tyres/tyres.json"));
  return draw_tyres(b.for_surface("carpet"), test::runs_a_share() ? 5 : 16);
}

std::vector<PartHandle> parts_called(const Car& car, std::initializer_list<const char*> ids) {
  std::vector<PartHandle> parts;
  for (const char* id : ids)
    if (const PartHandle part = car.find_adjuster(id)) parts.push_back(part);
  return parts;
}

RecipeOrder wishing(std::vector<HandlingWish> wishes, std::vector<PartHandle> parts, int most = 2) {
  RecipeOrder order;
  order.wishes.wishes = std::move(wishes);
  order.wishes.tyres = few_tyres();
  order.parts = std::move(parts);
  order.most_parts = most;
  order.results = 200;
  return order;
}

std::vector<HandlingWish> entry_and_exit() {
  return {{HF::front_left, CP::entry, HW::more}, {HF::rear_left, CP::exit, HW::not_less}};
}

/// The share of the tyres for which each wish holds, of the wish that holds for fewest; by the setups alone.
double share_by(const Car& car, const Setup& before, const Setup& after, const WishOrder& order) {
  const auto was = tabulate(car, before, order.ask), now = tabulate(car, after, order.ask);
  if (!was || !now) return -1.0;
  const Handling there = handling_over(*was, order.tyres), here = handling_over(*now, order.tyres);
  double least = 1.0;
  for (const HandlingWish& w : order.wishes) {
    int holding = 0;
    const auto p = at(w.phase);
    for (std::size_t i = 0; i < order.tyres.size(); ++i) {
      if (!there[i] || !here[i]) continue;
      const auto a = spec_of(w.figure).read(there[i]->phase[p]), b = spec_of(w.figure).read(here[i]->phase[p]);
      holding += a && b && holds(w, *b - *a);
    }
    least = std::min(least, static_cast<double>(holding) / static_cast<double>(order.tyres.size()));
  }
  return least;
}

TEST(Wishes, WhatIsToldIsSoWhenItsSetupIsTried) {
  for (const char* id : {"heron-tc190", "plover-2wd", "sanderling-12"}) {
    if (test::runs_a_share() && std::string_view(id) != "plover-2wd") continue;
    const Car car = test::shipped(id);
    const test::CarSetup kit = kit_setup(car);
    const RecipeOrder order =
        wishing(entry_and_exit(),
                parts_called(car, {"front_bar", "rear_bar", "front_link_inner_shims", "rear_link_inner_shims",
                                   "front_spring", "rear_spring", "battery_place", "rear_track_spacers", "rear_tyre"}));
    const auto found = find_recipe(car, kit, kit, order);
    ASSERT_TRUE(found) << found.error().message;
    ASSERT_FALSE(found->results.empty()) << id;
    EXPECT_GE(found->read_whole, found->results.size());
    EXPECT_GT(found->foretold, found->read_whole) << id;
    const auto straight = evaluate(car, kit, {}, coarse_curve);
    int tried = 0;
    for (const RecipeResult& r : found->results) {
      ASSERT_FALSE(r.changes.empty());
      EXPECT_LE(r.changes.size(), 2u);
      for (const PartChange& c : r.changes) {
        EXPECT_NE(std::find(order.parts.begin(), order.parts.end(), c.adjuster), order.parts.end());
        EXPECT_TRUE(car.adjusters[c.adjuster].can_be(c.to));
        EXPECT_EQ(c.from, kit.of(c.adjuster).left);
        EXPECT_EQ(r.setup.of(c.adjuster).right, c.to);
      }
      ASSERT_TRUE(r.felt);
      // Whoever meets it does so for the share that was asked, and nobody else does.
      EXPECT_EQ(r.meets(), r.felt->share >= order.wishes.share - 1e-9) << id << ' ' << r.felt->share;
      if (++tried > test::share_of(16)) continue;
      EXPECT_DOUBLE_EQ(r.felt->share, share_by(car, kit, r.setup, order.wishes)) << id;
      // Camber is what it was, to an eighth of a turn of the link.
      const auto now = evaluate(car, r.setup, {}, coarse_curve);
      ASSERT_TRUE(straight && now);
      for (const End end : both_ends)
        if (car.find_adjuster(std::string(name_of(end)) + "_camber_link")) {
          EXPECT_NEAR(*find_figure("camber")->read(now->source, end, Side::left),
                      *find_figure("camber")->read(straight->source, end, Side::left), 0.25)
              << id;
        }
    }
    // Those that reach the share stand first, and of them those that are done soonest; then the nearest.
    for (std::size_t i = 1; i < found->results.size(); ++i) {
      const RecipeResult &a = found->results[i - 1], &b = found->results[i];
      EXPECT_GE(a.meets(), b.meets());
      if (a.meets() && b.meets()) {
        EXPECT_LE(a.work.minutes, b.work.minutes);
      }
      if (!a.meets() && !b.meets()) {
        EXPECT_LE(a.told_miss, b.told_miss);
      }
    }
  }
}

// Few enough to be read whole: then it is all there is, and says so.
TEST(Wishes, OfOnePartFindWhatTryingEveryValueFinds) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const RecipeOrder order =
      wishing(entry_and_exit(), parts_called(car, {"rear_bar", "rear_differential_oil", "front_caster_block"}), 1);
  const auto found = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(found);
  EXPECT_TRUE(found->complete);
  double told = 0.0, best = 0.0;
  for (const RecipeResult& r : found->results) told = std::max(told, r.felt->share);
  for (const PartHandle part : order.parts)
    for (const double to : car.adjusters[part].values_besides(kit.of(part).left)) {
      test::CarSetup s = kit;
      s.of(part) = {to, to};
      best = std::max(best, share_by(car, kit, put_back_by_hand(car, kit, s), order.wishes));
    }
  EXPECT_DOUBLE_EQ(told, best);
}

TEST(Wishes, MakeUpForOtherSpringsAndSayWhereNothingNeedsToBeDone) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const PartHandle spring = car.find_adjuster("front_spring");
  ASSERT_TRUE(spring);
  test::CarSetup sprung = kit;
  const double other = car.adjusters[spring].stepped(sprung.of(spring).left, 1);
  sprung.of(spring) = {other, other};
  std::vector<HandlingWish> wishes;
  for (const CP phase : corner_phases)
    for (const HF figure : {HF::front_left, HF::rear_left}) wishes.push_back({figure, phase, HW::same});
  RecipeOrder order =
      wishing(wishes, parts_called(car, {"front_bar", "rear_bar", "rear_link_inner_shims", "rear_droop_screw"}));
  const auto found = find_recipe(car, kit, sprung, order);
  ASSERT_TRUE(found) << found.error().message;
  double as_it_is = -1.0, best = 0.0;
  for (const RecipeResult& r : found->results) {
    if (r.changes.empty()) as_it_is = r.felt->share;
    best = std::max(best, r.felt->share);
    EXPECT_EQ(r.setup.of(spring).left, other) << "the spring stays";
  }
  ASSERT_GE(as_it_is, 0.0) << "what is changed already is told, too";
  EXPECT_GT(best, as_it_is);
  // Back to where it was by hand: as it is now is then the whole answer.
  const auto idle = find_recipe(car, kit, kit, order);
  ASSERT_FALSE(idle);
  EXPECT_NE(idle.error().message.find("nothing is changed against the baseline"), std::string::npos);
  order.wishes.wishes.clear();
  EXPECT_FALSE(find_recipe(car, kit, sprung, order));
}

TEST(Wishes, AreTheSameByAnyNumberOfThreadsAndStopWhenTold) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  RecipeOrder order = wishing(entry_and_exit(), parts_called(car, {"rear_bar", "rear_differential_oil"}));
  order.threads = 1;
  const auto one = find_recipe(car, kit, kit, order);
  order.threads = 2;
  const auto two = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(one && two);
  ASSERT_EQ(one->results.size(), two->results.size());
  for (std::size_t i = 0; i < one->results.size(); ++i) {
    EXPECT_EQ(one->results[i].setup, two->results[i].setup);
    EXPECT_EQ(one->results[i].felt->share, two->results[i].felt->share);
  }
  // Told to stop once something was read, it tells that.
  std::uint64_t read = 0;
  const auto stopped = find_recipe(
      car, kit, kit, order, [&](double) { return read == 0; }, [&](const Recipe& so_far) { read = so_far.read_whole; });
  ASSERT_TRUE(stopped);
  EXPECT_TRUE(stopped->stopped);
  EXPECT_GT(stopped->read_whole, 0u);
  EXPECT_LT(stopped->read_whole, two->read_whole);
  const auto at_once = find_recipe(car, kit, kit, order, [](double) { return false; });
  ASSERT_TRUE(at_once);
  EXPECT_TRUE(at_once->stopped && at_once->results.empty() && !at_once->complete);
  // Tyres that weigh nothing have no say.
  order.wishes.weights.assign(order.wishes.tyres.size(), 0.0);
  order.wishes.weights[3] = 1.0;
  const auto weighed = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(weighed);
  EXPECT_FALSE(weighed->results.empty());
  for (const RecipeResult& r : weighed->results) EXPECT_TRUE(r.felt->share == 0.0 || r.felt->share == 1.0);
}

// The question of a racer: more front grip at entry, the roll centres where they are, from these parts. On every car,
// and on setups that are no kit.
TEST(Wishes, BesideFiguresThatAreHeldKeepThem) {
  std::mt19937 random(21);
  int told = 0, met = 0;
  for (const Car& car : test::every_shipped_car()) {
    if (test::runs_a_share() && car.id != "dunlin-4wd") continue;
    for (int draw = 0; draw < (test::runs_a_share() ? 1 : 2); ++draw) {
      const test::CarSetup start = draw == 0 ? kit_setup(car) : test::random_setup(car, random);
      const auto now = evaluate(car, start, {}, coarse_curve);
      if (!now) continue;
      RecipeOrder order =
          wishing({{HF::front_left, CP::entry, HW::more}}, {}, car.id == "godwit-ta" && draw == 0 ? 2 : 1);
      order.results = 12;
      order.wishes.tyres.resize(5);
      for (const End end : both_ends) {
        std::vector<PartHandle> of_end = recipe_parts(car, end);
        if (test::runs_a_share()) of_end.resize(std::min<std::size_t>(of_end.size(), 4));
        order.parts.insert(order.parts.end(), of_end.begin(), of_end.end());
        for (const char* id : {"roll_centre", "ride_height"})
          if (const FigureSpec& f = *find_figure(id); applies(f, car, end))
            if (const auto v = f.read(now->source, end, Side::left))
              order.aims.push_back(RecipeAim::of(f, end, *v, 0.5, true));
      }
      const auto found = find_recipe(car, start, start, order);
      if (!found) continue;  // a car on random parts may stand on no springs
      for (const RecipeResult& r : found->results) {
        ++told;
        met += r.meets();
        const auto then = evaluate(car, r.setup, {}, coarse_curve);
        ASSERT_TRUE(then) << car.id;
        for (std::size_t i = 0; i < order.aims.size(); ++i) {
          const RecipeAim& a = order.aims[i];
          EXPECT_DOUBLE_EQ(r.gives[i], *a.read(then->source)) << car.id << ' ' << a.figure->id;
          // Held with exact turns; eighths of a turn may leave a little of it.
          EXPECT_NEAR(r.reached[i], a.value, a.tolerance) << car.id << ' ' << a.figure->id;
          EXPECT_NEAR(r.gives[i], a.value, a.tolerance + 0.25) << car.id << ' ' << a.figure->id;
        }
        EXPECT_DOUBLE_EQ(r.felt->share, share_by(car, start, r.setup, order.wishes)) << car.id;
        EXPECT_EQ(r.meets(), r.felt->share >= order.wishes.share - 1e-9) << car.id;
      }
    }
  }
  EXPECT_GE(told, test::runs_a_share() ? 1 : 40);
  EXPECT_GE(met, test::runs_a_share() ? 0 : 10);
}

TEST(Wishes, ThatAreHeldLeaveNothingElse) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  RecipeOrder order = wishing({{HF::front_left, CP::middle, HW::more}, {HF::rear_left, CP::middle, HW::more}},
                              parts_called(car, {"rear_bar", "front_bar", "front_caster_block", "rear_spring"}));
  const auto any = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(any);
  order.wishes.wishes[1].hold = true;
  const auto held = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(any && held);
  WishOrder rear = order.wishes;
  rear.wishes.erase(rear.wishes.begin());
  int left_out = 0;
  for (const RecipeResult& r : any->results) left_out += share_by(car, kit, r.setup, rear) < rear.share;
  EXPECT_GT(left_out, 0) << "or the test says nothing";
  for (const RecipeResult& r : held->results) EXPECT_GE(share_by(car, kit, r.setup, rear), rear.share);
  EXPECT_FALSE(two_wants(order)) << "what is felt is not weighed against a figure";
}

TEST(Wishes, AreMoreLessOrTheSameByWhatCanBeFelt) {
  const double felt = spec_of(HF::front_left).felt;
  const auto is = [&](HW want, double d) { return holds({HF::front_left, CP::middle, want}, d * felt); };
  for (const double d : {-2.0, -0.5, 0.0, 0.5, 2.0}) {
    EXPECT_EQ(is(HW::more, d), d > 1.0);
    EXPECT_EQ(is(HW::less, d), d < -1.0);
    EXPECT_EQ(is(HW::same, d), std::abs(d) < 1.0);
    EXPECT_EQ(is(HW::not_less, d), d > -1.0);
    EXPECT_EQ(is(HW::not_more, d), d < 1.0);
    EXPECT_FALSE(is(HW::more, d) && is(HW::not_more, d));
  }
}

// A reading goes no farther than the wishes need; it says what reading everything says.
TEST(Wishes, AreReadNoFartherThanNeededWithTheSameAnswers) {
  std::mt19937 random(31);
  for (const Car& car : test::every_shipped_car()) {
    if (test::runs_a_share() && car.id != "wren-28") continue;
    const test::CarSetup kit = kit_setup(car);
    WishOrder order;
    order.tyres = few_tyres();
    order.tyres.resize(5);
    for (const CP phase : corner_phases)
      for (const HandlingFigureSpec& f : handling_figures())
        if (std::bernoulli_distribution(0.3)(random)) order.wishes.push_back({f.figure, phase, HW::same});
    const auto judge = WishJudge::of(car, kit, order, 1);
    ASSERT_TRUE(judge) << car.id;
    const Handling was = handling_over(*tabulate(car, kit, {}), order.tyres);
    for (int draw = 0; draw < test::share_of(4); ++draw) {
      const test::CarSetup other = test::random_setup(car, random);
      const auto reading = judge->read(other);
      const auto table = tabulate(car, other, {});
      ASSERT_EQ(reading.has_value(), table.has_value()) << car.id;
      if (!table) continue;
      const Handling now = handling_over(*table, order.tyres);
      for (std::size_t k = 0; k < order.wishes.size(); ++k)
        for (std::size_t i = 0; i < order.tyres.size(); ++i) {
          if (!was[i] || !now[i]) continue;
          const auto phase = at(order.wishes[k].phase);
          const HandlingFigureSpec& f = spec_of(order.wishes[k].figure);
          const auto a = f.read(was[i]->phase[phase]), b = f.read(now[i]->phase[phase]);
          const double by = reading->by[k * order.tyres.size() + i];
          ASSERT_EQ(a && b, std::isfinite(by)) << car.id << ' ' << f.id;
          if (a && b) {
            EXPECT_NEAR(by, *b - *a, 1e-6 * (1.0 + std::abs(*b))) << car.id << ' ' << f.id;
          }
        }
    }
  }
}

TEST(Wishes, FallShortByNothingWhereTheyHoldForTheShare) {
  std::mt19937 random(5);
  std::normal_distribution<double> by(0.0, 2.0);
  std::uniform_real_distribution<double> weight(0.0, 1.0);
  constexpr std::size_t tyres = 24;
  for (int draw = 0; draw < 400; ++draw) {
    HandlingWish wish{HF::rear_left, CP::exit, static_cast<HW>(draw % handling_want_count)};
    const double felt = spec_of(wish.figure).felt, share = 0.5 + 0.1 * (draw % 6);
    std::vector<double> differences, weights;
    for (std::size_t i = 0; i < tyres; ++i) {
      differences.push_back(felt * by(random));
      weights.push_back(weight(random));
    }
    if (draw % 7 == 0) differences[3] = std::nan("");
    double holding = 0.0, all = 0.0;
    for (std::size_t i = 0; i < tyres; ++i) {
      all += weights[i];
      if (holds(wish, differences[i])) holding += weights[i];
    }
    const double off = shortfall_of(wish, differences, weights, share);
    EXPECT_EQ(off == 0.0, holding >= share * all);
    // So much more on every tyre, and it does hold (what is to stay the same has two sides, and no answer is none).
    if (off == 0.0 || off >= 6.0 || wish.want == HW::same) continue;
    const double way = wish.want == HW::more || wish.want == HW::not_less ? 1.0 : -1.0;
    for (const double enough : {0.99, 1.01}) {
      std::vector<double> moved = differences;
      for (double& d : moved) d += way * enough * off * felt;
      EXPECT_EQ(shortfall_of(wish, moved, weights, share) == 0.0, enough > 1.0) << off;
    }
  }
}

}  // namespace
}  // namespace lowkite
