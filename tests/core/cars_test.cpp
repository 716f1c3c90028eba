// The shipped cars behave as such cars do. What is marked "common practice" has no published source.
#include <gtest/gtest.h>

#include "core/io/setup_file.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

Comparison changed_by(const Car& car, const char* id, double steps, const ResetOptions& options = {.step_turns = 0}) {
  test::CarSetup s = kit_setup(car);
  const PartHandle i = car.find_adjuster(id);
  const Adjuster& a = car.adjusters[i];
  const double v = a.positions() ? a.kit + steps : a.nearest_stop(a.kit + steps);
  s.of(i) = {v, v};
  auto c = compare(car, kit_setup(car), s, {}, options, 21);
  if (!c) throw std::runtime_error(c.error().why.message);
  return std::move(*c);
}

double kit_figure(const Variant& v, const char* id, End end) {
  return *find_figure(id)->read(v.source, end, Side::left);
}

TEST(TheTouringCar, ShowsFiguresOfItsClass) {  // common practice, no source
  const Car car = test::touring();
  const auto v = evaluate(car, kit_setup(car), {}, 41);
  ASSERT_TRUE(v);
  for (const End e : both_ends) {
    EXPECT_NEAR(kit_figure(*v, "track", e), 165, 3);
    EXPECT_GT(kit_figure(*v, "camber_gain", e), -0.35);
    EXPECT_LT(kit_figure(*v, "camber_gain", e), -0.1);
    EXPECT_GT(kit_figure(*v, "roll_centre", e), 0);
    EXPECT_LT(kit_figure(*v, "roll_centre", e), 12);
  }
  EXPECT_NEAR(kit_figure(*v, "wheelbase", End::front), 257, 1);
  EXPECT_NEAR(kit_figure(*v, "caster", End::front), 4, 0.3);
  EXPECT_LT(std::abs(kit_figure(*v, "bump_steer", End::front)), 0.05);
  EXPECT_NEAR(kit_figure(*v, "toe", End::rear), 3.0, 0.05);
  EXPECT_GT(kit_figure(*v, "roll_centre", End::rear), kit_figure(*v, "roll_centre", End::front))
      << "a rear half a millimetre or more higher is a common choice on asphalt";
}

TEST(TheBuggy, ShowsFiguresOfItsClass) {  // common practice, no source
  const Car car = test::buggy();
  const auto v = evaluate(car, kit_setup(car), {}, 41);
  ASSERT_TRUE(v);
  EXPECT_NEAR(kit_figure(*v, "caster", End::front), 25, 1);
  EXPECT_GT(kit_figure(*v, "trail", End::front), 15);
  for (const End e : both_ends) {
    EXPECT_LT(kit_figure(*v, "camber_gain", e), -0.05);
    EXPECT_GT(kit_figure(*v, "camber_gain", e), -0.25);
  }
  EXPECT_LT(kit_figure(*v, "bump_steer_total", End::front), 1.8);
}

TEST(TheBuggysRollCentres, DifferByTheWayTheyAreFound) {
  const Car car = test::buggy();
  const auto v = evaluate(car, kit_setup(car), {}, 41);
  ASSERT_TRUE(v);
  EXPECT_GT(std::abs(kit_figure(*v, "roll_centre", End::front) - kit_figure(*v, "roll_centre_locked", End::front)), 0.5)
      << "with this much trail, bump steer moves the contact sideways";
  EXPECT_GT(
      std::abs(kit_figure(*v, "roll_centre_drawn", End::front) - kit_figure(*v, "roll_centre_locked", End::front)), 0.5)
      << "the front-view drawing is blind to kick-up";
}

// Common practice, no source: raising the camber link's inner ball, or lowering its outer one, gives less camber gain
// and a lower roll centre; raising the arm's inner pin raises the roll centre.
TEST(RaisingTheInnerBall, LowersTheRollCentreAndTheCamberGain) {
  for (const auto& [car, end, id] : {std::tuple(test::touring(), End::front, "front_link_inner_shims"),
                                     std::tuple(test::touring(), End::rear, "rear_link_inner_shims"),
                                     std::tuple(test::buggy(), End::front, "front_link_inner_shims"),
                                     std::tuple(test::buggy(), End::rear, "rear_link_inner_shims")}) {
    const Comparison c = changed_by(car, id, 1.0);
    EXPECT_LT(kit_figure(*c.reset, "roll_centre", end), kit_figure(*c.baseline, "roll_centre", end) - 0.2) << id;
    EXPECT_LT(std::abs(kit_figure(*c.reset, "camber_gain", end)), std::abs(kit_figure(*c.baseline, "camber_gain", end)))
        << id;
  }
}

TEST(LoweringTheOuterBall, DoesTheSame) {  // common practice, no source
  const Car car = test::touring();
  const Comparison c = changed_by(car, "front_link_outer_shims", -1.0);
  EXPECT_LT(kit_figure(*c.reset, "roll_centre", End::front), kit_figure(*c.baseline, "roll_centre", End::front));
  EXPECT_LT(std::abs(kit_figure(*c.reset, "camber_gain", End::front)),
            std::abs(kit_figure(*c.baseline, "camber_gain", End::front)));
}

TEST(RaisingTheArmsInnerPin, RaisesTheRollCentre) {  // common practice, no source
  const Car car = test::touring();
  for (const auto& [end, id] : {std::pair(End::front, "front_arm_shims"), std::pair(End::rear, "rear_arm_shims")}) {
    const Comparison c = changed_by(car, id, 0.5);
    EXPECT_GT(kit_figure(*c.reset, "roll_centre", end), kit_figure(*c.baseline, "roll_centre", end)) << id;
  }
}

// Common practice, no source: half a millimetre more axle height at the hub lets the car sit half a millimetre lower.
TEST(RaisingTheAxleByHalfAMillimetre, LowersTheCarByAsMuch) {
  const Car car = test::touring();
  const Comparison c = changed_by(car, "rear_hub_shims", 0.5);
  ASSERT_TRUE(c.sits_lower_mm[at(End::rear)]);
  // With its shocks as long as before it is a little more than half: the camber is re-set at the proper ride height,
  // and the arm first hangs half a millimetre lower. The springs then find a motion ratio that is half a per cent off.
  EXPECT_NEAR(*sits_lower_by(car, c.baseline->setup, c.aligned->setup, End::rear), 0.5, 0.06);
  EXPECT_NEAR(*c.sits_lower_mm[at(End::rear)], 0.6, 0.2);
  EXPECT_NEAR(*c.sits_lower_mm[at(End::front)], 0.0, 1e-3);
}

// Common practice, no source: inboard toe by the inserts also changes track and wheelbase.
TEST(InsertsAtTheRearPin, MoveToeTrackAndWheelbaseTogether) {
  const Car car = test::touring();
  const Comparison c = changed_by(car, "rear_pin_rear_insert", 2);  // "out"
  EXPECT_GT(kit_figure(*c.changed, "toe", End::rear), kit_figure(*c.baseline, "toe", End::rear) + 0.5);
  EXPECT_GT(kit_figure(*c.changed, "track", End::rear), kit_figure(*c.baseline, "track", End::rear) + 0.2);
  EXPECT_NE(kit_figure(*c.changed, "wheelbase", End::rear), kit_figure(*c.baseline, "wheelbase", End::rear));
}

TEST(AShimUnderTheTieRod, ChangesBumpSteerAndLeavesTheRollCentreNearlyAlone) {
  const Car car = test::touring();
  const Comparison c = changed_by(car, "front_tie_outer_shims", 1.0);
  EXPECT_GT(
      std::abs(kit_figure(*c.reset, "bump_steer", End::front) - kit_figure(*c.baseline, "bump_steer", End::front)),
      0.02);
  EXPECT_NEAR(kit_figure(*c.reset, "roll_centre_drawn", End::front),
              kit_figure(*c.baseline, "roll_centre_drawn", End::front), 0.05);
}

TEST(TheShippedSetups, StandWithTheirCars) {
  for (const auto& [car, name] :
       {std::pair(test::touring(), "heron-club-carpet"), std::pair(test::buggy(), "plover-loose-dirt")}) {
    const auto file = load_setup(test::data_path(std::string("setups/") + name + ".kite-setup.json"), car);
    ASSERT_TRUE(file) << file.error().front().line();
    const auto v = evaluate(car, file->setup, {}, 21);
    ASSERT_TRUE(v) << v.error().message;
    EXPECT_NEAR(kit_figure(*v, "camber", End::front), -1.0, 0.25) << "set as on the bench";
  }
}

}  // namespace
}  // namespace lowkite
