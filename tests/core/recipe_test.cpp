// Recipes: against brute force by the program's common way, holds that are really held in the file that comes out, the
// box of shims, the bound, the stop.
#include <gtest/gtest.h>

#include <algorithm>
#include <thread>

#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
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
    o.end = end;
    for (const char* id : parts) {
      o.parts.push_back(car_.find_adjuster(id));
      EXPECT_GE(o.parts.back(), 0) << id;
    }
    o.most_parts = most;
    o.results = 1000;
    return o;
  }
  void want(RecipeOrder& o, const char* id, double by, double tolerance) {
    o.aims.push_back({find_figure(id), read_figure(car_, kit_, id, o.end) + by, tolerance, false});
  }
  void hold(RecipeOrder& o, const char* id, double tolerance) {
    o.aims.push_back({find_figure(id), read_figure(car_, kit_, id, o.end), tolerance, true});
  }
  CarTargets targets() { return targets_of(evaluate(car_, kit_, {}, 9)->source.standing); }

  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);
};

TEST_F(RecipeTest, JudgesAsTheCommonWayDoes) {
  // Every single change of every part of both axles: the quick judge against re-set and full evaluation.
  for (const End end : both_ends) {
    RecipeOrder o;
    o.end = end;
    o.parts = recipe_parts(car_, end);
    for (const char* id : {"roll_centre", "camber_gain", "track", "wheelbase", "bump_steer", "motion_ratio", "droop"})
      want(o, id, 0.0, 0.1);
    if (end == End::front) want(o, "caster", 0.0, 0.1);
    AxleJudge judge(car_, kit_, targets(), o);
    int compared = 0;
    for (std::size_t i = 0; i < o.parts.size(); ++i) {
      const Adjuster& a = car_.adjusters[static_cast<std::size_t>(o.parts[i])];
      for (const int step : test::runs_a_share() ? std::vector{1} : std::vector{-2, -1, 1, 2}) {
        const double value = a.stepped(a.kit, step);
        if (value == a.kit) continue;
        std::vector<double> values;
        for (const int part : o.parts) values.push_back(kit_.at_index(part).left);
        values[i] = value;
        CarSetup stepped = kit_;
        stepped.at_index(o.parts[i]) = {value, value};
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
  const int last = o.parts[2];
  if (test::runs_a_share()) o.parts.pop_back();
  want(o, "roll_centre", 1.0, 0.1);
  hold(o, "camber_gain", 0.02);
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found) << found.error();
  EXPECT_EQ(found->judged, found->of);
  // All combinations by hand.
  std::vector<std::pair<double, CarSetup>> good;
  std::uint64_t all = 0;
  const auto stops = [&](int part) { return car_.adjusters[static_cast<std::size_t>(part)].range()->stops; };
  for (const double a : stops(o.parts[0]))
    for (const double b : stops(o.parts[1]))
      for (const double c : test::runs_a_share() ? std::vector{kit_.at_index(last).left} : stops(last)) {
        CarSetup s = kit_;
        s.at_index(o.parts[0]) = {a, a};
        s.at_index(o.parts[1]) = {b, b};
        s.at_index(last) = {c, c};
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
  o.end = End::rear;
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
  o.end = End::front;
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
  const int hub = car_.find_adjuster("rear_hub_shims");
  CarSetup wanted = kit_;
  wanted.at_index(hub) = {kit_.at_index(hub).left + 0.5, kit_.at_index(hub).left + 0.5};
  const auto back = reset_alignment(car_, wanted, targets(), {.step_turns = 0.0});
  ASSERT_TRUE(back);
  o.aims.push_back({find_figure("roll_centre"), read_figure(car_, back->setup, "roll_centre", End::rear), 0.02, false});
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found);
  ASSERT_FALSE(found->results.empty());
  const RecipeResult& r = found->results.front();
  ASSERT_EQ(r.changes.size(), 1U);
  EXPECT_NEAR(r.changes[0].to - r.changes[0].from, 0.5, 1e-9);
  EXPECT_LT(r.miss, 1e-3);
  ASSERT_EQ(r.bench.droop.size(), 2U);
  EXPECT_LT(r.bench.droop[0].turns, 0.0) << "the screw comes out: the down-stop goes down";
  EXPECT_GT(*r.bench.collar_mm[at(End::rear)][0], 0.2) << "and the collar goes down to lift the car";
}

TEST_F(RecipeTest, TheBoxDecides) {
  RecipeOrder o = order(End::rear, {"rear_link_inner_shims"}, 1);
  want(o, "camber_gain", 0.03, 0.01);
  const int part = o.parts[0];
  const double now = kit_.at_index(part).left;
  const auto free_hand = find_recipe(car_, kit_, kit_, o);
  o.box = ShimBox{};
  const auto empty = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(free_hand && empty);
  EXPECT_GT(free_hand->allowed, empty->allowed);
  for (const RecipeResult& r : empty->results) EXPECT_LT(r.changes[0].to, now) << "only what was under the ball before";
  o.box = ShimBox{{0.5, 2}};
  const auto two = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(two);
  EXPECT_TRUE(std::any_of(two->results.begin(), two->results.end(),
                          [&](const RecipeResult& r) { return std::abs(r.changes[0].to - now - 0.5) < 1e-9; }));
  EXPECT_FALSE(std::any_of(two->results.begin(), two->results.end(),
                           [&](const RecipeResult& r) { return r.changes[0].to > now + 0.5 + 1e-9; }));
}

TEST_F(RecipeTest, ShimsThatAreFreedMayGoElsewhere) {
  const int inner = car_.find_adjuster("rear_link_inner_shims");
  const int outer = car_.find_adjuster("rear_link_outer_shims");
  // 1 mm out from under one ball on both sides and under the other: the box stays shut.
  EXPECT_TRUE(box_makes(car_, {{inner, 2.0, 1.0}, {outer, 1.0, 2.0}}, {}));
  EXPECT_FALSE(box_makes(car_, {{outer, 1.0, 2.0}}, {}));
  EXPECT_FALSE(box_makes(car_, {{outer, 1.0, 2.0}}, {{1.0, 1}})) << "one for each side is needed";
  EXPECT_TRUE(box_makes(car_, {{outer, 1.0, 2.0}}, {{1.0, 2}}));
  EXPECT_TRUE(box_makes(car_, {{outer, 1.0, 2.0}}, {{0.5, 4}})) << "two halves make a whole";
}

TEST_F(RecipeTest, ChangesThatDoNothingAreNotTold) {
  RecipeOrder o = order(End::rear, {"rear_hub_shims", "rear_spring", "rear_shock_upper_hole"}, 3);
  want(o, "roll_centre", 1.0, 0.2);
  const auto found = find_recipe(car_, kit_, kit_, o);
  ASSERT_TRUE(found) << found.error();
  ASSERT_FALSE(found->results.empty());
  for (const RecipeResult& r : found->results) EXPECT_EQ(r.changes.size(), 1u) << "a spring moves no roll centre";
}

TEST_F(RecipeTest, PartsThatMoveNoFigureAreCountedAsIfJudged) {
  RecipeOrder hubs = order(End::rear, {"rear_link_inner_shims"}, 2);
  want(hubs, "roll_centre", 1.0, 0.2);
  hold(hubs, "camber_gain", 0.02);
  RecipeOrder both = order(End::rear, {"rear_spring", "rear_link_inner_shims"}, 2);
  both.aims = hubs.aims;
  const auto few = find_recipe(car_, kit_, kit_, hubs);
  const auto more = find_recipe(car_, kit_, kit_, both);
  ASSERT_TRUE(few && more);
  ASSERT_GT(few->allowed, 0u);
  EXPECT_LT(few->allowed, few->of) << "some leave what is held";
  // Two other springs: by themselves, and with every stack of shims.
  EXPECT_EQ(more->of, few->of + 2 + 2 * few->of);
  EXPECT_EQ(more->judged, more->of);
  EXPECT_EQ(more->allowed, few->allowed + 2 + 2 * few->allowed);
  EXPECT_EQ(more->results.front().changes.front().adjuster, few->results.front().changes.front().adjuster);
}

TEST(ShimBoxText, IsReadInAnyOrderAndRefusedWhenItIsNone) {
  const auto box = parse_shim_box("1x6; 0,5x4  0.5 x 2 2mm*1");
  ASSERT_TRUE(box);
  EXPECT_EQ(*box, (ShimBox{{0.5, 6}, {1.0, 6}, {2.0, 1}}));
  EXPECT_TRUE(parse_shim_box("")->empty());
  for (const char* wrong : {"1", "x4", "some 1x2", "1x2 and 3", "-1x2"}) EXPECT_FALSE(parse_shim_box(wrong)) << wrong;
}

TEST_F(RecipeTest, StopsWhenAskedTo) {
  RecipeOrder o;
  o.end = End::front;
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
  o.end = End::rear;
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
  const int mount = car_.find_adjuster("rear_arm_shims");
  other.at_index(mount) = {1.0, 1.0};
  RecipeOrder o = order(End::rear, {"rear_link_inner_shims", "rear_link_outer_shims", "rear_hub_shims"}, 3);
  o.aims.push_back({find_figure("roll_centre"), read_figure(car_, kit_, "roll_centre", End::rear), 0.15, false});
  const double without = std::abs(read_figure(car_, other, "roll_centre", End::rear) - o.aims[0].value);
  const auto found = find_recipe(car_, kit_, other, o);
  ASSERT_TRUE(found) << found.error();
  ASSERT_FALSE(found->results.empty());
  EXPECT_GT(without, 0.15);
  EXPECT_LT(found->results.front().miss, without / 0.15);
  for (const RecipeResult& r : found->results) EXPECT_EQ(r.setup.at_index(mount).left, 1.0) << "the other part stays";
}

TEST_F(RecipeTest, AnOrderWithoutSenseSaysSo) {
  RecipeOrder o = order(End::rear, {"rear_hub_shims"}, 1);
  EXPECT_EQ(find_recipe(car_, kit_, kit_, o).error(),
            "nothing is wanted; choose a figure and the value it should have");
  o.aims.push_back({find_figure("caster"), 4.0, 0.5, false});
  EXPECT_NE(find_recipe(car_, kit_, kit_, o).error().find("means nothing on the rear axle"), std::string::npos);
  o.aims.clear();
  want(o, "roll_centre", 1.0, 0.0);
  EXPECT_NE(find_recipe(car_, kit_, kit_, o).error().find("more than 0"), std::string::npos);
  o.aims[0].tolerance = 0.1;
  o.parts.clear();
  EXPECT_NE(find_recipe(car_, kit_, kit_, o).error().find("no part may be changed"), std::string::npos);
}

}  // namespace
}  // namespace lowkite::test
