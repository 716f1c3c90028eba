// Two wants against each other: the front is held against all candidates, one by one.
#include "core/plan/trade_off.hpp"

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using test::CarSetup;

double now_is(const Car& car, const CarSetup& setup, const char* id, End end) {
  const auto v = evaluate(car, setup, {}, coarse_curve);
  EXPECT_TRUE(v);
  return find_figure(id)->read(v->source, end, Side::left).value_or(0.0);
}

/// Two wants that pull apart, over a few parts.
RecipeOrder pulling_apart(const Car& car, const CarSetup& start, End end) {
  RecipeOrder o;
  const auto want = [&](const char* id, double by, double tolerance) {
    o.aims.push_back(RecipeAim::of(*find_figure(id), end, now_is(car, start, id, end) + by, tolerance, false));
  };
  want("roll_centre", 1.5, 0.1);
  want("camber_gain", 0.06, 0.01);
  int taken = 0;
  for (const PartHandle part : recipe_parts(car, end)) {
    const Adjuster& a = car.adjusters[part];
    if (a.moves_geometry() && taken < 4) {
      o.parts.push_back(part);
      ++taken;
    }
  }
  o.most_parts = 2;
  o.results = 12;
  return o;
}

TEST(TradeOffTest, NoCandidateBeatsAPointOfTheFrontInBothWantsAndItsEndsAreTheNearestToEach) {
  int points = 0;
  for (const char* id : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd"}) {
    const Car car = test::shipped(id);
    const CarSetup start = kit_setup(car);
    for (const End end : both_ends) {
      if (test::runs_a_share() && (end == End::rear || car.id == "godwit-ta" || car.id == "dunlin-4wd")) continue;
      const RecipeOrder order = pulling_apart(car, start, end);
      const auto front = find_trade_off(car, start, start, order);
      ASSERT_TRUE(front) << id << ": " << front.error();
      ASSERT_FALSE(front->points.empty()) << id;
      EXPECT_TRUE(front->complete);
      // Every candidate, told one by one.
      RecipeOrder all = order;
      all.results = test::runs_a_share() ? 60 : 3000;
      for (RecipeAim& a : all.aims) a.tolerance *= 1e-6;
      const auto every = find_recipe(car, start, start, all);
      ASSERT_TRUE(every) << every.error();
      const auto off = [&](const RecipeResult& r, std::size_t aim) {
        return std::abs(r.reached[aim] - order.aims[aim].value) / order.aims[aim].tolerance;
      };
      // Whatever can be done, a point of the front is as near to both wants, to what is told as the same.
      const double apart = std::max(0.1, (off(front->points.front(), 1) - off(front->points.back(), 1)) / 20.0);
      double nearest_first = 1e9, nearest_second = 1e9;
      for (const RecipeResult& c : every->results) {
        nearest_first = std::min(nearest_first, off(c, 0));
        nearest_second = std::min(nearest_second, off(c, 1));
        for (const RecipeResult& p : front->points)
          EXPECT_FALSE(off(c, 0) < off(p, 0) - 0.1 && off(c, 1) < off(p, 1) - 0.1) << id << " " << name_of(end);
      }
      for (const RecipeResult& c : every->results)
        EXPECT_TRUE(std::any_of(front->points.begin(), front->points.end(),
                                [&](const RecipeResult& p) {
                                  return off(p, 0) < off(c, 0) + 0.101 && off(p, 1) < off(c, 1) + apart + 0.001;
                                }))
            << id << " " << name_of(end) << ": " << off(c, 0) << ", " << off(c, 1);
      EXPECT_LE(off(front->points.front(), 0), nearest_first + 0.1) << id << " " << name_of(end);
      EXPECT_LE(off(front->points.back(), 1), nearest_second + 0.1) << id << " " << name_of(end);
      for (std::size_t i = 0; i < front->points.size(); ++i) {
        const RecipeResult& p = front->points[i];
        ++points;
        EXPECT_NEAR(p.miss, std::hypot(off(p, 0), off(p, 1)), 1e-9);
        if (i == 0) continue;
        EXPECT_GT(off(p, 0), off(front->points[i - 1], 0)) << "further from the first";
        EXPECT_LT(off(p, 1), off(front->points[i - 1], 1)) << "nearer to the second";
      }
      // Done on the model, a point gives what it says, to what whole steps of links leave.
      for (const RecipeResult& p : front->points) {
        EXPECT_NEAR(now_is(car, p.setup, "roll_centre", end), p.reached[0], 0.15) << id;
        EXPECT_NEAR(now_is(car, p.setup, "camber_gain", end), p.reached[1], 0.01) << id;
      }
    }
  }
  EXPECT_GT(points, test::runs_a_share() ? 3 : 16);
}

TEST(TradeOffTest, IsOfTwoWantsAndStopsWhenTold) {
  const Car car = test::touring();
  const CarSetup start = kit_setup(car);
  RecipeOrder order = pulling_apart(car, start, End::rear);
  EXPECT_EQ(two_wants(order), std::pair(std::size_t{0}, std::size_t{1}));
  order.aims.push_back(RecipeAim::of(*find_figure("roll_centre"), End::front, 4.0, 1.0, true));
  EXPECT_TRUE(two_wants(order)) << "what is held does not count";
  order.aims[1].hold = true;
  EXPECT_FALSE(two_wants(order));
  EXPECT_FALSE(find_trade_off(car, start, start, order));
  order = pulling_apart(car, start, End::rear);
  int asked = 0;
  double last = 0.0;
  const auto stopped = find_trade_off(car, start, start, order, [&](double share) {
    EXPECT_GE(share, last - 1e-9);
    last = share;
    return ++asked < 3;
  });
  ASSERT_TRUE(stopped);
  EXPECT_TRUE(stopped->stopped);
}

}  // namespace
}  // namespace lowkite
