// Recipes and sensitivity of the car on its springs, against brute force and against what the figures are by
// themselves.
#include <gtest/gtest.h>

#include <cmath>

#include "core/plan/load_sensitivity.hpp"
#include "core/plan/recipe.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

class LoadRecipeTest : public testing::Test {
 protected:
  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);

  double figure(const CarSetup& setup, const char* id, End end, const Acceleration& a) {
    const auto model = build_model(car_, setup);
    const auto loaded = LoadedCar::of(*model);
    const auto source = read_load(*loaded, a);
    return *find_figure(id)->read(*source, end, Side::left);
  }
  PartHandle part(const char* id) { return car_.find_adjuster(id); }
};

TEST_F(LoadRecipeTest, SameRollStiffnessWithOtherSpringsIsFound) {
  // Softer front springs and no bar as yet: how near to the old roll stiffness do the parts come?
  const double wanted = figure(kit_, "roll_stiffness", End::front, {});
  CarSetup start = kit_;
  start.of(part("front_spring")) = {0.0, 0.0};
  start.of(part("front_bar")) = {0.0, 0.0};
  RecipeOrder order;
  order.aims = {
      {find_figure("roll_stiffness"), End::front, Side::left, RecipeAim::Kind::value, wanted, 0.05 * wanted, false}};
  order.parts = {part("front_bar"), part("rear_bar")};
  const auto recipe = find_recipe(car_, start, start, order);
  ASSERT_TRUE(recipe) << recipe.error();
  EXPECT_TRUE(recipe->complete);
  EXPECT_EQ(recipe->of, 2u + 3u + 2u * 3u);
  // Brute force over the front bar alone: the rear one moves nothing there.
  double best = 1e9, value = -1.0;
  for (const double v : {1.0, 2.0}) {
    CarSetup s = start;
    s.of(part("front_bar")) = {v, v};
    const double off = std::abs(figure(s, "roll_stiffness", End::front, {}) - wanted);
    if (off < best) {
      best = off;
      value = v;
    }
  }
  ASSERT_FALSE(recipe->results.empty());
  ASSERT_EQ(recipe->results[0].changes.size(), 1u) << "a bar that moves nothing is not told";
  EXPECT_EQ(recipe->results[0].changes[0].adjuster, part("front_bar"));
  EXPECT_EQ(recipe->results[0].changes[0].to, value);
  EXPECT_NEAR(recipe->results[0].reached[0], figure(recipe->results[0].setup, "roll_stiffness", End::front, {}), 1e-6);
}

TEST_F(LoadRecipeTest, FrontAndRearAlikeAndHoldsHeld) {
  RecipeOrder order;
  order.under = {0.8, 0.0};
  order.aims = {{find_figure("ride_frequency"), End::front, Side::left, RecipeAim::Kind::alike, 0.0, 0.1, false},
                {find_figure("roll"), End::front, Side::left, RecipeAim::Kind::value,
                 figure(kit_, "roll", End::front, order.under), 0.15, true}};
  order.parts = light_load_parts(car_);
  if (runs_a_share()) order.most_parts = 1;
  const auto recipe = find_recipe(car_, kit_, kit_, order);
  ASSERT_TRUE(recipe) << recipe.error();
  ASSERT_FALSE(recipe->results.empty());
  EXPECT_TRUE(recipe->complete);
  const double roll = figure(kit_, "roll", End::front, order.under);
  for (const RecipeResult& r : recipe->results) {
    const double f = figure(r.setup, "ride_frequency", End::front, order.under);
    const double b = figure(r.setup, "ride_frequency", End::rear, order.under);
    EXPECT_NEAR(r.reached[0], b - f, 1e-6);
    EXPECT_NEAR(figure(r.setup, "roll", End::front, order.under), roll, 0.1501);
  }
  for (std::size_t i = 1; i < recipe->results.size(); ++i)
    if (!recipe->results[i - 1].meets()) {
      EXPECT_FALSE(recipe->results[i].meets()) << "what meets the wish comes first";
    }
}

TEST_F(LoadRecipeTest, FiftyFiftyByMovingParts) {
  RecipeOrder order;
  const double now = figure(kit_, "front_weight", End::front, {});
  order.aims = {{find_figure("front_weight"), End::front, Side::left, RecipeAim::Kind::value, now + 1.0, 0.3, false}};
  order.parts = light_load_parts(car_);
  const auto recipe = find_recipe(car_, kit_, kit_, order);
  ASSERT_TRUE(recipe);
  ASSERT_FALSE(recipe->results.empty());
  EXPECT_GT(recipe->results[0].reached[0], now + 0.5);
  bool weights = false;
  for (const PartChange& c : recipe->results[0].changes) weights |= car_.adjusters[c.adjuster].moves_weight();
  EXPECT_TRUE(weights);
}

TEST_F(LoadRecipeTest, GeometryIsPutBackBeforeItIsJudged) {
  RecipeOrder order;
  order.aims = {{find_figure("roll_centre_then"), End::rear, Side::left, RecipeAim::Kind::value,
                 figure(kit_, "roll_centre_then", End::rear, {}) + 1.0, 0.3, false}};
  order.parts = {part("rear_link_inner_shims"), part("rear_arm_shims")};
  order.most_parts = 1;
  const auto recipe = find_recipe(car_, kit_, kit_, order);
  ASSERT_TRUE(recipe);
  ASSERT_FALSE(recipe->results.empty());
  EXPECT_FALSE(recipe->results[0].alignment.steps.empty()) << "camber is put back";
  EXPECT_NEAR(figure(recipe->results[0].setup, "camber_under_load", End::rear, {}),
              figure(kit_, "camber_under_load", End::rear, {}), 0.1);
}

TEST_F(LoadRecipeTest, StopsWhenAskedAndIsTheSameOnOneThread) {
  RecipeOrder order;
  order.aims = {{find_figure("roll"), End::front, Side::left, RecipeAim::Kind::value, 1.0, 0.05, false}};
  order.under = {1.0, 0.0};
  order.parts = light_load_parts(car_);
  order.most_parts = 1;
  order.threads = 1;
  const auto one = find_recipe(car_, kit_, kit_, order);
  order.threads = 3;
  const auto three = find_recipe(car_, kit_, kit_, order);
  ASSERT_TRUE(one && three);
  ASSERT_EQ(one->results.size(), three->results.size());
  for (std::size_t i = 0; i < one->results.size(); ++i) EXPECT_EQ(one->results[i].setup, three->results[i].setup) << i;
  const auto stopped = find_recipe(car_, kit_, kit_, order, [](double) { return false; });
  ASSERT_TRUE(stopped);
  EXPECT_TRUE(stopped->stopped);
  EXPECT_LT(stopped->judged, stopped->of);
}

TEST_F(LoadRecipeTest, AnOrderWithoutSenseSaysSo) {
  RecipeOrder order;
  EXPECT_NE(find_recipe(car_, kit_, kit_, order).error().message.find("nothing is wanted"), std::string::npos);
  order.aims = {{find_figure("roll"), End::front, Side::left, RecipeAim::Kind::alike, 0.0, 0.1, false}};
  order.parts = load_parts(car_);
  EXPECT_NE(find_recipe(car_, kit_, kit_, order).error().message.find("cannot be alike"), std::string::npos);
  order.aims[0].kind = RecipeAim::Kind::value;
  order.most_parts = 7;
  EXPECT_NE(find_recipe(car_, kit_, kit_, order).error().message.find("at most 6"), std::string::npos);
  order.most_parts = 1;
  order.parts.clear();
  EXPECT_NE(find_recipe(car_, kit_, kit_, order).error().message.find("no part"), std::string::npos);
}

TEST_F(LoadRecipeTest, AStepOfEveryPartDoesWhatItDoesAlone) {
  const HeldTurn a{{1.0, 0.0}};
  const auto steps = load_sensitivity(car_, kit_, a);
  ASSERT_TRUE(steps) << steps.error();
  const auto places = places_of(load_figures());
  const auto index =
      at(std::find(places.begin(), places.end(), FigurePlace{find_figure("roll"), {}, {}}) - places.begin());
  bool found = false;
  for (const LoadStep& s : *steps) {
    if (s.adjuster != part("front_bar")) continue;
    found = true;
    CarSetup stepped = kit_;
    stepped.of(s.adjuster) = {s.value, s.value};
    EXPECT_NEAR(*s.change[index], figure(stepped, "roll", End::front, a) - figure(kit_, "roll", End::front, a), 1e-9);
    EXPECT_LT(*s.change[index], 0.0) << "a thicker bar rolls less";
  }
  EXPECT_TRUE(found);
}

}  // namespace
}  // namespace lowkite::test
