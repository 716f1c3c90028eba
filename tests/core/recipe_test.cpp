// Recipes: against brute force by the program's common way, holds that are really held in the file that comes out, the
// box of shims, the bound, the stop.
#include <gtest/gtest.h>

#include <algorithm>
#include <random>
#include <thread>

#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/load_sensitivity.hpp"
#include "core/plan/recipe.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

double read_figure(const Car& car, const CarSetup& setup, const char* id, End end) {
  const auto v = evaluate(car, setup, {}, 9);
  EXPECT_TRUE(v);
  return *find_figure(id)->read(v->source, end, Side::left);
}

class RecipeTest : public testing::Test {
 protected:
  RecipeOrder order(End end, std::initializer_list<const char*> parts, int most) {
    RecipeOrder o;
    end_ = end;
    for (const char* id : parts) {
      o.parts.push_back(car_.find_adjuster(id));
      EXPECT_TRUE(o.parts.back()) << id;
    }
    o.most_parts = most;
    o.results = 1000;
    return o;
  }
  void want(RecipeOrder& o, const char* id, double by, double tolerance) {
    o.aims.push_back(RecipeAim::of(*find_figure(id), end_, read_figure(car_, kit_, id, end_) + by, tolerance, false));
  }
  void hold(RecipeOrder& o, const char* id, double tolerance) {
    o.aims.push_back(RecipeAim::of(*find_figure(id), end_, read_figure(car_, kit_, id, end_), tolerance, true));
  }
  CarTargets targets() { return targets_of(evaluate(car_, kit_, {}, 9)->source.standing); }

  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);
  End end_ = End::front;  ///< that aims are asked of
};

TEST_F(RecipeTest, JudgesAsTheCommonWayDoes) {
  // Every single change of every part of both axles: the quick judge against re-set and full evaluation.
  for (const End end : both_ends) {
    RecipeOrder o;
    end_ = end;
    o.parts = recipe_parts(car_, end);
    for (const char* id : {"roll_centre", "camber_gain", "track", "wheelbase", "bump_steer", "motion_ratio", "droop"})
      want(o, id, 0.0, 0.1);
    if (end == End::front) want(o, "caster", 0.0, 0.1);
    const CarTargets back_to = targets();
    const AxleOrder axle{end, o.aims, o.parts, o.reset};
    AxleJudge judge(car_, kit_, back_to, axle);
    int compared = 0;
    for (std::size_t i = 0; i < o.parts.size(); ++i) {
      const Adjuster& a = car_.adjusters[o.parts[i]];
      for (const int step : test::runs_a_share() ? std::vector{1} : std::vector{-2, -1, 1, 2}) {
        const double value = a.stepped(a.kit, step);
        if (value == a.kit) continue;
        std::vector<double> values;
        for (const PartHandle part : o.parts) values.push_back(kit_.of(part).left);
        values[i] = value;
        CarSetup stepped = kit_;
        stepped.of(o.parts[i]) = {value, value};
        const auto back = reset_alignment(car_, stepped, targets(), {.step_turns = 0.0});
        std::vector<double> quick;
        const bool good = judge.judge(values, quick);
        if (!back) {
          EXPECT_FALSE(good) << a.id;
          continue;
        }
        if (!good) {
          EXPECT_TRUE(std::any_of(back->steps.begin(), back->steps.end(), [](const auto& s) { return s.thread_ends; }))
              << a.id << " " << value;
          continue;
        }
        for (std::size_t f = 0; f < o.aims.size(); ++f)
          EXPECT_NEAR(quick[f], read_figure(car_, back->setup, std::string(o.aims[f].figure->id).c_str(), end), 2e-6)
              << a.id << " " << value << ": " << o.aims[f].figure->id;
        ++compared;
      }
    }
    EXPECT_GT(compared, test::runs_a_share() ? 10 : 20);
  }
}

TEST_F(RecipeTest, FindsWhatBruteForceFinds) {
  RecipeOrder o = order(End::rear, {"rear_link_inner_shims", "rear_link_outer_shims", "rear_arm_shims"}, 3);
  const std::vector<PartHandle> all_three = o.parts;
  if (test::runs_a_share()) o.parts.resize(1);
  want(o, "roll_centre", 1.0, 0.1);
  hold(o, "camber_gain", 0.02);
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found) << found.error();
  EXPECT_EQ(found->judged, found->of);
  // All combinations by hand.
  std::vector<std::pair<double, CarSetup>> good;
  std::uint64_t all = 0;
  const auto stops = [&](PartHandle part) { return car_.adjusters[part].range()->stops; };
  const auto tried = [&](PartHandle part) {
    const bool may = std::find(o.parts.begin(), o.parts.end(), part) != o.parts.end();
    return may ? stops(part) : std::vector{kit_.of(part).left};
  };
  for (const double a : tried(all_three[0]))
    for (const double b : tried(all_three[1]))
      for (const double c : tried(all_three[2])) {
        CarSetup s = kit_;
        s.of(all_three[0]) = {a, a};
        s.of(all_three[1]) = {b, b};
        s.of(all_three[2]) = {c, c};
        if (s == kit_) continue;
        ++all;
        const auto back = reset_alignment(car_, s, targets(), {.step_turns = 0.0});
        if (!back || std::any_of(back->steps.begin(), back->steps.end(), [](const auto& t) { return t.thread_ends; }))
          continue;
        if (std::abs(read_figure(car_, back->setup, "camber_gain", End::rear) - o.aims[1].value) > 0.02) continue;
        const double miss = std::abs(read_figure(car_, back->setup, "roll_centre", End::rear) - o.aims[0].value) / 0.1;
        good.emplace_back(miss, s);
      }
  EXPECT_EQ(found->of, all);
  EXPECT_EQ(found->allowed, good.size());
  ASSERT_FALSE(good.empty());
  ASSERT_FALSE(found->results.empty());
  std::vector<double> brute;
  for (const auto& [miss, setup] : good) brute.push_back(miss);
  std::sort(brute.begin(), brute.end());
  std::vector<double> ours;
  for (const RecipeResult& r : found->results) ours.push_back(r.miss);
  std::sort(ours.begin(), ours.end());
  EXPECT_NEAR(ours.front(), brute.front(), 1e-4);
  // Nothing that is allowed is left out but what droop screws cannot put back.
  EXPECT_LE(ours.size(), brute.size());
  for (const double miss : ours)
    EXPECT_TRUE(std::any_of(brute.begin(), brute.end(), [&](double m) { return std::abs(m - miss) < 1e-4; }));
}

TEST_F(RecipeTest, HoldsAreHeldInTheSetupThatComesOut) {
  RecipeOrder o;
  end_ = End::rear;
  o.parts = recipe_parts(car_, End::rear);
  o.most_parts = 2;
  want(o, "roll_centre", 0.8, 0.15);
  hold(o, "camber_gain", 0.02);
  hold(o, "track", 1.0);
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found) << found.error();
  ASSERT_GE(found->results.size(), 3U);
  for (const RecipeResult& r : found->results) {
    // Out into a file and back, as a racer would have it.
    const auto file = read_setup(write_setup(r.setup, car_, {}), "recipe", car_);
    ASSERT_TRUE(file) << file.error().front().line();
    const CarSetup& s = file->setup;
    EXPECT_LE(r.changes.size(), 2U);
    EXPECT_NEAR(read_figure(car_, s, "camber_gain", End::rear), o.aims[1].value, 0.021);
    EXPECT_NEAR(read_figure(car_, s, "track", End::rear), o.aims[2].value, 1.05);
    EXPECT_NEAR(read_figure(car_, s, "camber", End::rear), read_figure(car_, kit_, "camber", End::rear), 0.09)
        << "to an eighth of a turn";
    EXPECT_NEAR(read_figure(car_, s, "droop", End::rear), read_figure(car_, kit_, "droop", End::rear), 0.15);
    EXPECT_EQ(s.ride_height_mm, kit_.ride_height_mm);
    EXPECT_NEAR(r.reached[0], read_figure(car_, s, "roll_centre", End::rear), 0.1) << "rounding of turns only";
  }
}

TEST_F(RecipeTest, WhatMeetsTheWishComesFirstWithTheLeastWork) {
  RecipeOrder o;
  end_ = End::front;
  o.parts = recipe_parts(car_, End::front);
  o.most_parts = 2;
  want(o, "roll_centre", -0.7, 0.2);
  o.results = 12;
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found);
  ASSERT_GE(found->results.size(), 2U);
  EXPECT_TRUE(found->results.front().meets());
  for (std::size_t i = 1; i < found->results.size(); ++i) {
    const RecipeResult& a = found->results[i - 1];
    const RecipeResult& b = found->results[i];
    EXPECT_GE(a.meets(), b.meets());
    if (a.meets() && b.meets()) {
      EXPECT_LE(a.work.minutes, b.work.minutes);
    }
  }
}

TEST_F(RecipeTest, HalfAMillimetreUnderTheHubsIsWhatRacersDoByHand) {
  // Common practice, no source: 0.5 mm more under the rear hubs; camber, toe, droop and ride height are put back by
  // link, screw and collar, and nothing else is touched.
  RecipeOrder o = order(End::rear, {"rear_hub_shims"}, 1);
  const PartHandle hub = car_.find_adjuster("rear_hub_shims");
  CarSetup wanted = kit_;
  wanted.of(hub) = {kit_.of(hub).left + 0.5, kit_.of(hub).left + 0.5};
  const auto back = reset_alignment(car_, wanted, targets(), {.step_turns = 0.0});
  ASSERT_TRUE(back);
  o.aims.push_back(RecipeAim::of(*find_figure("roll_centre"), end_,
                                 read_figure(car_, back->setup, "roll_centre", End::rear), 0.02, false));
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found);
  ASSERT_FALSE(found->results.empty());
  const RecipeResult& r = found->results.front();
  ASSERT_EQ(r.changes.size(), 1U);
  EXPECT_NEAR(r.changes[0].to - r.changes[0].from, 0.5, 1e-9);
  EXPECT_LT(r.miss, 1e-3);
  ASSERT_EQ(r.bench.droop.size(), 2U);
  EXPECT_LT(r.bench.droop[0].by, 0.0) << "the screw comes out: the down-stop goes down";
  EXPECT_GT(*r.bench.collar_mm[at(End::rear)][0], 0.2) << "and the collar goes down to lift the car";
}

TEST_F(RecipeTest, TheBoxDecides) {
  RecipeOrder o = order(End::rear, {"rear_link_inner_shims"}, 1);
  want(o, "camber_gain", 0.03, 0.01);
  const PartHandle part = o.parts[0];
  const double now = kit_.of(part).left;
  const auto free_hand = find_recipe(car_, kit_, kit_, o);
  o.boxes = shims_in("");
  const auto empty = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(free_hand && empty);
  EXPECT_GT(*free_hand->allowed, *empty->allowed);
  for (const RecipeResult& r : empty->results) EXPECT_LT(r.changes[0].to, now) << "only what was under the ball before";
  o.boxes = shims_in("0.5x2");
  const auto two = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(two);
  EXPECT_TRUE(std::any_of(two->results.begin(), two->results.end(),
                          [&](const RecipeResult& r) { return std::abs(r.changes[0].to - now - 0.5) < 1e-9; }));
  EXPECT_FALSE(std::any_of(two->results.begin(), two->results.end(),
                           [&](const RecipeResult& r) { return r.changes[0].to > now + 0.5 + 1e-9; }));
}

TEST_F(RecipeTest, ShimsThatAreFreedMayGoElsewhere) {
  const PartHandle inner = car_.find_adjuster("rear_link_inner_shims");
  const PartHandle outer = car_.find_adjuster("rear_link_outer_shims");
  // 1 mm out from under one ball on both sides and under the other: the box stays shut.
  const auto makes = [&](const char* box, const std::vector<PartChange>& changes) {
    return Stock(*shims_in(box), car_, kit_).makes(changes);
  };
  EXPECT_TRUE(makes("", {{inner, 2.0, 1.0}, {outer, 1.0, 2.0}}));
  EXPECT_FALSE(makes("", {{outer, 1.0, 2.0}}));
  EXPECT_FALSE(makes("1x1", {{outer, 1.0, 2.0}})) << "one for each side is needed";
  EXPECT_TRUE(makes("1x2", {{outer, 1.0, 2.0}}));
  EXPECT_TRUE(makes("0.5x4", {{outer, 1.0, 2.0}})) << "two halves make a whole";
}

TEST_F(RecipeTest, ChangesThatDoNothingAreNotTold) {
  RecipeOrder o = order(End::rear, {"rear_hub_shims", "rear_spring", "rear_shock_upper_hole"}, 3);
  want(o, "roll_centre", 1.0, 0.2);
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found) << found.error();
  ASSERT_FALSE(found->results.empty());
  for (const RecipeResult& r : found->results) EXPECT_EQ(r.changes.size(), 1u) << "a spring moves no roll centre";
}

TEST_F(RecipeTest, PartsThatMoveNoFigureAreLeftOut) {
  RecipeOrder hubs = order(End::rear, {"rear_link_inner_shims"}, 2);
  want(hubs, "roll_centre", 1.0, 0.2);
  hold(hubs, "camber_gain", 0.02);
  RecipeOrder both = order(End::rear, {"rear_spring", "rear_link_inner_shims"}, 2);
  both.aims = hubs.aims;
  const auto few = find_recipe(car_, kit_, kit_, hubs);
  const auto more = find_recipe(car_, kit_, kit_, both);
  ASSERT_TRUE(few && more);
  ASSERT_GT(*few->allowed, 0u);
  EXPECT_LT(*few->allowed, few->of) << "some leave what is held";
  // Two other springs: by themselves, and with every stack of shims.
  EXPECT_EQ(more->of, few->of + 2 + 2 * few->of);
  EXPECT_EQ(more->judged, few->judged) << "nobody need look at them";
  EXPECT_EQ(more->allowed, few->allowed);
  EXPECT_EQ(more->results.front().changes.front().adjuster, few->results.front().changes.front().adjuster);
}

TEST_F(RecipeTest, StopsWhenAskedTo) {
  RecipeOrder o;
  end_ = End::front;
  o.parts = recipe_parts(car_, End::front);
  o.most_parts = 4;
  want(o, "roll_centre", 0.5, 0.1);
  double last = 0.0;
  const auto found = find_recipe(car_, kit_, kit_, o, [&](double share) {
    EXPECT_GE(share, last);
    last = share;
    return share < 0.002;
  });
  ASSERT_TRUE(found);
  EXPECT_TRUE(found->stopped);
  EXPECT_LT(found->judged, found->of);
}

TEST_F(RecipeTest, IsTheSameOnOneThreadAndOnMany) {
  RecipeOrder o;
  end_ = End::rear;
  o.parts = recipe_parts(car_, End::rear);
  o.most_parts = 2;
  o.results = 8;
  want(o, "roll_centre", 1.0, 0.1);
  o.threads = 1;
  const auto one = find_recipe(car_, kit_, kit_, o);
  o.threads = 4;
  const auto four = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(one && four);
  EXPECT_EQ(one->judged, four->judged);
  EXPECT_EQ(one->allowed, four->allowed);
  ASSERT_EQ(one->results.size(), four->results.size());
  for (std::size_t i = 0; i < one->results.size(); ++i) EXPECT_NEAR(one->results[i].miss, four->results[i].miss, 1e-4);
}

TEST_F(RecipeTest, KeepsTheSameWithAnotherPart) {
  // "Keep the same, but": the short eyelet is lost, a longer one is fitted. What puts the roll centre back?
  CarSetup other = kit_;
  const PartHandle mount = car_.find_adjuster("rear_arm_shims");
  other.of(mount) = {1.0, 1.0};
  RecipeOrder o = order(End::rear, {"rear_link_inner_shims", "rear_link_outer_shims", "rear_hub_shims"},
                        test::runs_a_share() ? 2 : 3);
  o.aims.push_back(
      RecipeAim::of(*find_figure("roll_centre"), end_, read_figure(car_, kit_, "roll_centre", End::rear), 0.15, false));
  const double without = std::abs(read_figure(car_, other, "roll_centre", End::rear) - o.aims[0].value);
  const auto found = find_recipe(car_, kit_, other, o);
  ASSERT_TRUE(found) << found.error();
  ASSERT_FALSE(found->results.empty());
  EXPECT_GT(without, 0.15);
  EXPECT_LT(found->results.front().miss, without / 0.15);
  for (const RecipeResult& r : found->results) EXPECT_EQ(r.setup.of(mount).left, 1.0) << "the other part stays";
}

TEST_F(RecipeTest, AnOrderWithoutSenseSaysSo) {
  RecipeOrder o = order(End::rear, {"rear_hub_shims"}, 1);
  EXPECT_EQ(find_recipe(car_, kit_, kit_, o).error().message,
            "nothing is wanted; choose a figure and the value it should have");
  o.aims.push_back(RecipeAim::of(*find_figure("caster"), end_, 4.0, 0.5, false));
  EXPECT_NE(find_recipe(car_, kit_, kit_, o).error().message.find("means nothing on the rear axle"), std::string::npos);
  o.aims.clear();
  want(o, "roll_centre", 1.0, 0.0);
  EXPECT_NE(find_recipe(car_, kit_, kit_, o).error().message.find("more than 0"), std::string::npos);
  o.aims[0].tolerance = 0.1;
  o.parts.clear();
  EXPECT_NE(find_recipe(car_, kit_, kit_, o).error().message.find("no part may be changed"), std::string::npos);
}

/// The whole car asked at once.
class WholeCar : public testing::Test {
 protected:
  struct Case {
    Car car;
    CarSetup start;
    RecipeOrder order;
  };
  static std::optional<double> now(const Case& c, const RecipeAim& aim) {
    if (aim.figure->of_load()) {
      const auto load = put_on_springs(c.car, c.start, c.order.under);
      return load ? aim.read(*load) : std::nullopt;
    }
    const auto v = evaluate(c.car, c.start, {}, coarse_curve);
    return v ? aim.read(v->source) : std::nullopt;
  }
  static void ask(Case& c, const char* id, End end, double by, double tolerance, bool hold) {
    RecipeAim aim = RecipeAim::of(*find_figure(id), end, 0.0, tolerance, hold);
    const auto v = now(c, aim);
    ASSERT_TRUE(v) << id;
    aim.value = *v + by;
    c.order.aims.push_back(aim);
  }
  /// All combinations of the order's parts, each by the program's common way: squared misses of those that keep what is
  /// held, with the minutes of their parts.
  static std::vector<std::pair<double, double>> by_hand(const Case& c) {
    const CarTargets targets = targets_of(evaluate(c.car, c.start, {}, coarse_curve)->source.standing);
    const auto ranges = ranges_of(c.order.aims);
    std::vector<std::pair<double, double>> kept;
    std::vector<PartChange> changes;
    const auto walk = [&](const auto& self, std::size_t next) -> void {
      if (!changes.empty()) {
        const auto back = reset_alignment(c.car, changed_by(c.start, changes), targets, {.step_turns = 0.0});
        const bool ends = back && std::any_of(back->steps.begin(), back->steps.end(),
                                              [](const ResetStep& t) { return t.thread_ends; });
        const auto after = back && !ends ? evaluate(c.car, back->setup, {}, coarse_curve)
                                         : tl::expected<Variant, CarFailure>(tl::unexpect, CarFailure{});
        if (after) {
          const auto load = put_on_springs(c.car, back->setup, c.order.under);
          std::vector<double> figures;
          for (const RecipeAim& a : c.order.aims)
            if (const auto v = a.figure->of_load() ? (load ? a.read(*load) : std::nullopt) : a.read(after->source))
              figures.push_back(*v);
          if (figures.size() == ranges.size() && keeps_what_is_held(ranges, figures)) {
            std::vector<PartHandle> changed;
            for (const PartChange& one : changes) changed.push_back(one.adjuster);
            kept.emplace_back(squared_miss_of(ranges, figures), work_for(c.car, changed, 0).minutes);
          }
        }
      }
      if (static_cast<int>(changes.size()) == c.order.most_parts) return;
      for (std::size_t i = next; i < c.order.parts.size(); ++i) {
        const PartHandle part = c.order.parts[i];
        const double from = c.start.of(part).left;
        for (const double to : c.car.adjusters[part].values_besides(from)) {
          changes.push_back({part, from, to});
          self(self, i + 1);
          changes.pop_back();
        }
      }
    };
    walk(walk, 0);
    return kept;
  }
};

TEST_F(WholeCar, BothAxlesTheWheelbaseAndTheSpringsTogetherAreWhatBruteForceFinds) {
  Case c{touring(), kit_setup(touring()), {}};
  for (const char* id :
       {"front_link_inner_shims", "rear_arm_shims", "rear_wheelbase_spacers", "rear_spring", "front_bar"})
    c.order.parts.push_back(c.car.find_adjuster(id));
  c.order.most_parts = 3;
  c.order.results = 500;
  c.order.under = {0.8, 0.0};
  if (test::runs_a_share()) {
    c.order.parts.resize(3);
    c.order.most_parts = 2;
  }
  ask(c, "roll_centre", End::rear, 0.6, 0.2, false);
  ask(c, "roll_centre", End::front, 0.3, 0.2, false);
  ask(c, "wheelbase", End::front, 0.5, 0.6, true);
  ask(c, "front_transfer", End::front, 0.0, 1.0, true);
  const auto found = find_recipe(c.car, c.start, c.start, c.order);
  ASSERT_TRUE(found) << found.error();
  EXPECT_TRUE(found->complete);
  if (!test::runs_a_share()) {
    EXPECT_LT(found->judged, found->of) << "what cannot be better is left out by proof";
  }
  std::vector<std::pair<double, double>> all = by_hand(c);
  ASSERT_GT(all.size(), 10u);
  ASSERT_FALSE(found->results.empty());
  const auto closest = std::min_element(all.begin(), all.end());
  double ours = 1e9;
  for (const RecipeResult& r : found->results) ours = std::min(ours, r.miss * r.miss);
  EXPECT_NEAR(ours, closest->first, 2e-3) << "load figures with turns as a hand does them";
  for (const RecipeResult& r : found->results) {
    const double squared = r.miss * r.miss;
    EXPECT_TRUE(std::any_of(all.begin(), all.end(), [&](const auto& a) { return std::abs(a.first - squared) < 2e-3; }));
    // Done on the model, everything that was held is held.
    const auto v = evaluate(c.car, r.setup, {}, coarse_curve);
    const auto load = put_on_springs(c.car, r.setup, c.order.under);
    ASSERT_TRUE(v && load);
    EXPECT_NEAR(*c.order.aims[2].read(v->source), c.order.aims[2].value, 0.62);
    EXPECT_NEAR(*c.order.aims[3].read(*load), c.order.aims[3].value, 1.0 + 1e-9);
    EXPECT_NEAR(r.reached[0], *c.order.aims[0].read(v->source), 0.1);
    EXPECT_NEAR(r.reached[1], *c.order.aims[1].read(v->source), 0.1);
  }
}

TEST_F(WholeCar, RandomWishesOfEveryCarAreWhatBruteForceFinds) {
  std::mt19937 dice(191);
  int compared = 0;
  int any = 0;
  const int rounds = test::runs_a_share() ? 1 : 3;
  for (const Car& car : every_shipped_car()) {
    const std::string& id = car.id;
    if (test::runs_a_share() && compared == 2) break;
    for (int round = 0; round < rounds; ++round) {
      Case c{car, kit_setup(car), {}};
      for (const End end : both_ends) {
        std::vector<PartHandle> parts = recipe_parts(c.car, end);
        std::shuffle(parts.begin(), parts.end(), dice);
        for (std::size_t i = 0; i < parts.size() && i < 2; ++i) c.order.parts.push_back(parts[i]);
      }
      c.order.most_parts = 2;
      c.order.results = 100;
      const auto base = evaluate(c.car, c.start, {}, coarse_curve);
      ASSERT_TRUE(base);
      const std::array figures{"roll_centre", "camber_gain", "bump_steer",  "track",
                               "wheelbase",   "caster",      "motion_ratio"};
      for (int line = 0; line < 3; ++line) {
        const FigureSpec& f = *find_figure(figures[dice() % figures.size()]);
        const End end = dice() % 2 ? End::front : End::rear;
        if (!applies(f, c.car, end)) continue;
        const auto v = f.read(base->source, end, Side::left);
        if (!v) continue;
        const double some = 6.0 * f.resolution();
        c.order.aims.push_back(RecipeAim::of(f, end, *v + (line == 0 ? some : 0.0), some, line == 2));
      }
      if (c.order.aims.empty() || c.order.aims.front().hold) continue;
      const auto found = find_recipe(c.car, c.start, c.start, c.order);
      ASSERT_TRUE(found) << id << ": " << found.error();
      const auto all = by_hand(c);
      for (const RecipeResult& r : found->results)
        EXPECT_TRUE(std::any_of(all.begin(), all.end(),
                                [&](const auto& a) { return std::abs(std::sqrt(a.first) - r.miss) < 1e-3; }))
            << id << " " << round;
      // Threads and droop screws that end are looked at after the search, so some find nothing that can be done.
      any += !found->results.empty();
      ++compared;
    }
  }
  EXPECT_GT(compared, test::runs_a_share() ? 1 : 12);
  EXPECT_GT(any, test::runs_a_share() ? -1 : compared / 3);
}

TEST_F(WholeCar, ShimsFreedOnOneAxleMayGoToTheOther) {
  Case c{touring(), kit_setup(touring()), {}};
  for (const char* id : {"front_link_inner_shims", "rear_link_inner_shims"})
    c.order.parts.push_back(c.car.find_adjuster(id));
  c.order.boxes = shims_in("");
  ask(c, "camber_gain", End::rear, 0.1, 0.02, false);
  c.order.results = 50;
  const auto found = find_recipe(c.car, c.start, c.start, c.order);
  ASSERT_TRUE(found) << found.error();
  bool moved_over = false;
  for (const RecipeResult& r : found->results) {
    EXPECT_TRUE(Stock(*c.order.boxes, c.car, c.start).makes(r.changes));
    for (const PartChange& change : r.changes)
      moved_over = moved_over || (change.adjuster == c.order.parts[1] && change.to > change.from);
  }
  EXPECT_TRUE(moved_over) << "the rear takes what the front gives";
}

TEST_F(WholeCar, EveryPointOfTheFrontTakesLongerAndComesCloser) {
  Case c{touring(), kit_setup(touring()), {}};
  for (const End end : both_ends)
    for (const PartHandle part : recipe_parts(c.car, end)) c.order.parts.push_back(part);
  c.order.most_parts = test::runs_a_share() ? 2 : 3;
  ask(c, "roll_centre", End::front, 0.6, 0.1, false);
  ask(c, "roll_centre", End::rear, 1.0, 0.1, false);
  const double start = std::hypot(6.0, 10.0);
  const auto found = find_recipe(c.car, c.start, c.start, c.order);
  ASSERT_TRUE(found) << found.error();
  ASSERT_GE(found->front.size(), 3u);
  EXPECT_LT(found->front.front().miss, start);
  for (std::size_t i = 1; i < found->front.size(); ++i) {
    EXPECT_GT(found->front[i].work.minutes, found->front[i - 1].work.minutes);
    EXPECT_LT(found->front[i].miss, found->front[i - 1].miss);
  }
  if (found->results.front().meets()) {
    EXPECT_TRUE(found->front.back().meets());
  }
}

TEST_F(WholeCar, MostCandidatesOverBothAxlesAreLeftOutByProof) {
  Case c{touring(), kit_setup(touring()), {}};
  for (const End end : both_ends)
    for (const PartHandle part : recipe_parts(c.car, end))
      if (c.car.adjusters[part].kind == AdjusterKind::shim_stack) c.order.parts.push_back(part);
  c.order.most_parts = test::runs_a_share() ? 2 : 4;
  ask(c, "roll_centre", End::front, 0.6, 0.1, false);
  ask(c, "roll_centre", End::rear, 1.0, 0.1, false);
  ask(c, "camber_gain", End::front, 0.0, 0.01, true);
  ask(c, "camber_gain", End::rear, 0.0, 0.01, true);
  ask(c, "wheelbase", End::front, 0.0, 0.5, true);
  const auto found = find_recipe(c.car, c.start, c.start, c.order);
  ASSERT_TRUE(found) << found.error();
  EXPECT_TRUE(found->complete);
  EXPECT_LT(found->judged, found->of / (test::runs_a_share() ? 1 : 5));
  EXPECT_FALSE(found->results.empty());
}

TEST(AWorstCase, IsTheFarthestOfTheCarAsSetLowerAndBent) {
  // The quick judge against the common way: the setup changed, put back, and then disturbed.
  int compared = 0;
  int worse = 0;
  for (const Car& car : every_shipped_car()) {
    if (test::runs_a_share() && compared > 80) break;
    const CarSetup kit = kit_setup(car);
    const auto base = evaluate(car, kit, {}, coarse_curve);
    const CarTargets targets = targets_of(base->source.standing);
    for (const End end : both_ends) {
      AxleOrder order{end, {}, recipe_parts(car, end), {.hold_caster = false}, usual_disturbances()};
      for (const char* id : {"roll_centre", "camber_gain", "bump_steer", "toe", "track", "motion_ratio"}) {
        const FigureSpec& f = *find_figure(id);
        if (!applies(f, car, end)) continue;
        if (const auto v = f.read(base->source, end, Side::left))
          order.aims.push_back(RecipeAim::of(f, end, *v, 1e6, false));
      }
      if (order.aims.empty()) continue;
      AxleJudge judge(car, kit, targets, order);
      std::vector<double> values;
      for (const PartHandle part : order.parts) values.push_back(kit.of(part).left);
      for (std::size_t i = 0; i < order.parts.size(); i += test::runs_a_share() ? 5 : 1) {
        const Adjuster& a = car.adjusters[order.parts[i]];
        const double v = a.stepped(a.kit, 1);
        CarSetup s = kit;
        s.of(order.parts[i]) = {v, v};
        values[i] = v;
        std::vector<double> quick;
        const bool stands = judge.judge(values, quick);
        values[i] = kit.of(order.parts[i]).left;
        const auto back = reset_alignment(car, s, targets, {.hold_caster = false, .step_turns = 0.0});
        if (!stands || !back) continue;
        const auto as_set = evaluate(car, back->setup, {}, coarse_curve);
        ASSERT_TRUE(as_set);
        for (std::size_t f = 0; f < order.aims.size(); ++f) {
          const RecipeAim& aim = order.aims[f];
          double worst = *aim.read(as_set->source);
          for (const Disturbance& by : order.also_good_with) {
            const auto then = evaluate(car, disturbed(car, back->setup, by), {}, coarse_curve);
            ASSERT_TRUE(then) << car.id << " " << a.id;
            const double x = *aim.read(then->source);
            if (std::abs(x - aim.value) > std::abs(worst - aim.value)) worst = x;
          }
          worse += std::abs(worst - *aim.read(as_set->source)) > 1e-6;
          EXPECT_NEAR(quick[f], worst, 2e-6) << car.id << " " << a.id << " " << aim.figure->id;
          ++compared;
        }
      }
    }
  }
  EXPECT_GT(compared, test::runs_a_share() ? 80 : 400);
  EXPECT_GT(worse, compared / 3);
}

TEST_F(WholeCar, AWorstCaseIsNeverCloserThanTheCarAsSet) {
  Case c{touring(), kit_setup(touring()), {}};
  for (const PartHandle part : recipe_parts(c.car, End::rear)) c.order.parts.push_back(part);
  c.order.most_parts = test::runs_a_share() ? 1 : 2;
  ask(c, "roll_centre", End::rear, 1.0, 0.3, false);
  const auto plain = find_recipe(c.car, c.start, c.start, c.order);
  c.order.also_good_with = usual_disturbances();
  const auto robust = find_recipe(c.car, c.start, c.start, c.order);
  ASSERT_TRUE(plain && robust);
  ASSERT_FALSE(robust->results.empty());
  const auto least = [](const Recipe& r) {
    double m = 1e9;
    for (const RecipeResult& one : r.results) m = std::min(m, one.miss);
    return m;
  };
  EXPECT_GE(least(*robust), least(*plain));
  // Followed to its end: lowered on the model, it is where it was told to be.
  for (const RecipeResult& r : robust->results) {
    double worst = 0.0;
    for (const Disturbance& by :
         {Disturbance{}, Disturbance{0.5, 0.0}, Disturbance{0.0, 0.5}, Disturbance{0.0, -0.5}}) {
      const auto then = evaluate(c.car, disturbed(c.car, r.setup, by), {}, coarse_curve);
      ASSERT_TRUE(then);
      worst = std::max(worst, std::abs(*c.order.aims[0].read(then->source) - c.order.aims[0].value));
    }
    EXPECT_NEAR(worst, std::abs(r.reached[0] - c.order.aims[0].value), 0.1) << "rounding of turns only";
  }
}

TEST(FiguresOfOneAxle, DoNotHearOfTheOther) {
  // What a search takes for granted: moving any part of one end leaves the other's figures alone, but for those that
  // say so. The wheelbase is the sum of what both do to it.
  for (const Car& car : every_shipped_car()) {
    const std::string& id = car.id;
    const CarSetup kit = kit_setup(car);
    const auto base = evaluate(car, kit, {}, coarse_curve);
    ASSERT_TRUE(base) << id;
    const auto parts = [&](End end) {
      std::vector<PartHandle> list = recipe_parts(car, end);
      if (test::runs_a_share() && list.size() > 3) list.resize(3);
      return list;
    };
    for (const End moved : both_ends)
      for (const PartHandle part : parts(moved)) {
        const Adjuster& a = car.adjusters[part];
        if (a.moves_weight()) continue;
        for (const double v : {a.stepped(a.kit, 2), a.stepped(a.kit, -2)}) {
          CarSetup s = kit;
          s.of(part) = {v, v};
          const auto then = evaluate(car, s, {}, coarse_curve);
          if (!then) continue;
          const End other = moved == End::front ? End::rear : End::front;
          for (const FigureSpec& f : geometry_figures()) {
            if (f.is(between_ends) || !applies(f, car, other)) continue;
            const auto x = f.read(base->source, other, Side::left);
            const auto y = f.read(then->source, other, Side::left);
            ASSERT_EQ(x.has_value(), y.has_value()) << id << " " << a.id << " " << f.id;
            if (x) {
              EXPECT_NEAR(*x, *y, 1e-6) << id << " " << a.id << " " << f.id;
            }
          }
        }
      }
  }
}

TEST(FiguresOfLoad, AreReadFromWhatTheySayTheyNeed) {
  for (const Car& car : every_shipped_car()) {
    const std::string& id = car.id;
    const auto whole = put_on_springs(car, kit_setup(car), {0.6, -0.2});
    if (!whole) continue;
    int nth = 0;
    for (const FigurePlace& p : places_of(load_figures())) {
      if (test::runs_a_share() && nth++ % 6 != 0) continue;
      LoadNeeds needs;
      needs.add(*p.figure);
      const auto part = put_on_springs(car, kit_setup(car), {0.6, -0.2}, needs);
      ASSERT_TRUE(part) << id;
      EXPECT_EQ(p.read(*whole), p.read(*part)) << id << " " << p.figure->id;
    }
  }
}

TEST(ACarPutOnItsSprings, IsSteeredAsItsTurnAsks) {
  int steered = 0;
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    const auto model = build_model(car, kit);
    const auto loaded = LoadedCar::of(*model);
    if (!loaded) continue;
    for (const double radius_m : {0.0, 2.5, 6.0}) {
      const HeldTurn turn{{0.6, -0.1}, radius_m};
      const auto servo = servo_in(*model, turn);
      ASSERT_TRUE(servo) << car.id << ": " << servo.error();
      EXPECT_EQ(*servo != 0.0, radius_m > 0.0 && car.steering.spec) << car.id;
      const auto put = put_on_springs(car, kit, turn);
      const auto read = read_load(*loaded, turn, *servo);
      ASSERT_EQ(put.has_value(), read.has_value()) << car.id;
      if (!put) continue;
      for (const FigurePlace& p : places_of(load_figures())) EXPECT_EQ(p.read(*put), p.read(*read)) << car.id;
      // Steered about the mean heading of a turn of that radius, as its front axle reads it.
      Attitude there = static_attitude(*model);
      there.servo_rad = *servo;
      const auto figures = figures_at(*model, there);
      if (radius_m == 0.0 || !figures || !figures->steering) continue;
      ++steered;
      const auto& heads = figures->steering->steer_rad;
      const double wheelbase = 0.5 * (figures->wheelbase_mm[0] + figures->wheelbase_mm[1]);
      EXPECT_NEAR(0.5 * (heads[0] + heads[1]), std::atan(wheelbase / (1000.0 * radius_m)), 2e-4) << car.id;
    }
    // Tighter than it steers is said, and not read with its wheels straight.
    const auto tight = put_on_springs(car, kit, {{0.6, 0.0}, 0.1});
    EXPECT_EQ(tight.has_value(), !car.steering.spec) << car.id;
    if (!tight) {
      EXPECT_NE(tight.error().message.find("0.1 m"), std::string::npos) << tight.error().message;
    }
  }
  EXPECT_GE(steered, 8);
}

TEST(ACandidateOnItsSprings, IsReadAsTheCommonWayReadsIt) {
  // The judge takes what light parts do not move from the unchanged car, and starts from how that stands.
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    const HeldTurn a{{0.6, 0.1}, 3.0};
    if (!put_on_springs(car, kit, a)) continue;
    std::vector<RecipeAim> aims;
    for (const FigurePlace& p : places_of(load_figures())) {
      aims.push_back(RecipeAim::of(*p.figure, p.end.value_or(End::front), 0.0, 1.0, false));
      aims.back().side = p.side.value_or(Side::left);
    }
    const auto now = put_on_springs(car, kit, a);
    std::erase_if(aims, [&](const RecipeAim& aim) { return !aim.read(*now); });
    const CarTargets targets = targets_of(evaluate(car, kit, {}, coarse_curve)->source.standing);
    const auto before = evaluate(car, kit, {}, coarse_curve);
    const CarJudge judge(car, *before, kit, targets, {}, a, aims);
    for (const PartHandle part : load_parts(car)) {
      const Adjuster& adjuster = car.adjusters[part];
      if (test::runs_a_share() && part.place() % 5 != 0) continue;
      for (const double v : adjuster.values_besides(adjuster.kit)) {
        if (adjuster.moves_geometry() && v != adjuster.least() && v != adjuster.most()) continue;
        const std::vector<PartChange> changes{{part, adjuster.kit, v}};
        const auto quick = judge.read(changes);
        const auto back = reset_where_it_sits(car, *before, changed_by(kit, changes), targets, {.step_turns = 0.0});
        const auto common = back ? put_on_springs(car, back->setup, a)
                                 : tl::expected<LoadSource, CarFailure>(tl::unexpect, back.error());
        if (!common || !std::all_of(aims.begin(), aims.end(), [&](const RecipeAim& x) { return x.read(*common); })) {
          EXPECT_FALSE(quick) << car.id << " " << adjuster.id << " " << v;
          continue;
        }
        ASSERT_TRUE(quick) << car.id << " " << adjuster.id << " " << v;
        for (std::size_t i = 0; i < aims.size(); ++i) {
          const double x = *aims[i].read(*common);
          EXPECT_NEAR((*quick)[i], x, 1e-5 * (1.0 + std::abs(x)))
              << car.id << " " << adjuster.id << " " << v << " " << aims[i].figure->id;
        }
      }
    }
  }
}

TEST(AStandStartedNearby, IsTheOneReachedFromRest) {
  // A candidate starts from how the unchanged car stands.
  for (const Car& car : every_shipped_car()) {
    const std::string& id = car.id;
    const CarSetup kit = kit_setup(car);
    const HeldTurn a{{0.7, -0.2}, 3.0};
    const auto now = put_on_springs(car, kit, a);
    if (!now) continue;
    for (const PartHandle part : load_parts(car)) {
      const Adjuster& adjuster = car.adjusters[part];
      if (test::runs_a_share() && part.place() % 5 != 0) continue;
      for (const double v : {adjuster.least(), adjuster.most()}) {
        CarSetup s = kit;
        s.of(part) = {v, v};
        const auto cold = put_on_springs(car, s, a);
        const auto warm = put_on_springs(car, s, a, LoadNeeds::all(), &now->balance);
        ASSERT_EQ(cold.has_value(), warm.has_value()) << id << " " << adjuster.id;
        if (!cold) continue;
        for (const FigurePlace& p : places_of(load_figures())) {
          const auto x = p.read(*cold);
          const auto y = p.read(*warm);
          ASSERT_EQ(x.has_value(), y.has_value()) << id << " " << p.figure->id;
          if (x) {
            EXPECT_NEAR(*x, *y, 1e-5 * (1.0 + std::abs(*x))) << id << " " << adjuster.id << " " << p.figure->id;
          }
        }
      }
    }
  }
}

}  // namespace
}  // namespace lowkite::test
