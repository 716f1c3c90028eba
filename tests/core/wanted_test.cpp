// Angles changed on purpose are not put back, and a typed angle becomes turns of the right part.
#include "core/plan/wanted.hpp"

#include <gtest/gtest.h>

#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

double camber(const Variant& v, End end, Side side) {
  return degrees(v.source.standing.axle[at(end)].wheel[at(side)].camber_rad);
}
double toe(const Variant& v, End end, Side side) {
  return degrees(v.source.standing.axle[at(end)].wheel[at(side)].toe_rad);
}

/// A part changed by hand on both sides, as the window does it.
test::CarSetup by_hand(const Car& car, const test::CarSetup& from, const char* part, double by,
                       const test::CarSetup& baseline) {
  test::CarSetup to = from;
  const int i = car.find_adjuster(part);
  to.at_index(i).left += by;
  to.at_index(i).right += by;
  return with_wanted_angles(car, baseline, from, to, i);
}

// Before, the re-set lengthened again what a hand had just shortened.
TEST(ALinkTurnedByHand, IsNotTurnedBack) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const test::CarSetup shorter = by_hand(car, kit, "front_camber_link", -0.75, kit);
  const auto c = compare(car, kit, shorter, {}, {}, 5);
  ASSERT_TRUE(c);
  const int link = car.find_adjuster("front_camber_link");
  EXPECT_EQ(c->reset->setup.at_index(link), shorter.at_index(link));
  for (const Side side : both_sides) {
    EXPECT_LT(camber(*c->reset, End::front, side), camber(*c->baseline, End::front, side) - 0.5);
    EXPECT_NEAR(toe(*c->reset, End::front, side), toe(*c->baseline, End::front, side), 0.1)
        << "only what it drags along is put back";
  }
  // A shim after it: the camber that is wanted now is put back, not the one of the baseline.
  const test::CarSetup shimmed = by_hand(car, shorter, "front_link_inner_shims", -1.0, kit);
  const auto after = compare(car, kit, shimmed, {}, {}, 5);
  ASSERT_TRUE(after);
  EXPECT_NEAR(camber(*after->reset, End::front, Side::left), camber(*c->reset, End::front, Side::left), 0.2)
      << "to what an eighth of a turn makes";
  // Stepped back by hand it is as if nothing had been.
  EXPECT_EQ(by_hand(car, shorter, "front_camber_link", 0.75, kit), kit);
}

TEST(ATypedAngle, BecomesTurnsOfTheLinkThatHoldsIt) {
  for (const Car& car : test::every_shipped_car()) {
    const test::CarSetup kit = kit_setup(car);
    const auto stands = evaluate(car, kit, {}, 5);
    for (const End end : both_ends)
      for (const LinkHolds angle : {LinkHolds::camber, LinkHolds::toe}) {
        const bool is_camber = angle == LinkHolds::camber;
        const double was = is_camber ? camber(*stands, end, Side::left) : toe(*stands, end, Side::left);
        const auto turned = turned_to_angle(car, kit, end, {true, false}, angle, was - 0.6);
        EXPECT_EQ(turned.has_value(), can_hold(car, end, angle)) << car.id;
        if (!turned) continue;
        const auto there = evaluate(car, *turned, {}, 5);
        ASSERT_TRUE(there);
        const double is = is_camber ? camber(*there, end, Side::left) : toe(*there, end, Side::left);
        EXPECT_NEAR(is, was - 0.6, 0.2) << car.id << ": to what an eighth of a turn makes";
        EXPECT_NE(turned->values, kit.values);
        for (std::size_t i = 0; i < kit.values.size(); ++i)
          EXPECT_EQ(turned->values[i].right, kit.values[i].right) << car.id << ": the other wheel was not asked for";
      }
  }
}

TEST(ATypedAngle, BeyondTheThreadIsRefusedWithItsTurns) {
  Car car = test::touring();
  Range& thread = std::get<Range>(car.adjusters[static_cast<std::size_t>(car.find_adjuster("front_camber_link"))].part);
  thread.stops = {-0.25, 0.0, 0.25};
  const auto turned = turned_to_angle(car, kit_setup(car), End::front, {true, true}, LinkHolds::camber, -4.0);
  ASSERT_FALSE(turned);
  EXPECT_NE(turned.error().find("turns would be needed"), std::string::npos) << turned.error();
}

TEST(WantedAngles, AreKeptInTheSetupsFile) {
  const Car car = test::touring();
  test::CarSetup setup = kit_setup(car);
  setup.wanted[at(End::front)][at(Side::left)].camber_deg = -2.0;
  setup.wanted[at(End::rear)][at(Side::right)].toe_deg = 2.5;
  const auto back = read_setup(write_setup(setup, car, {}), "x.kite-setup.json", car);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(back->setup.wanted, setup.wanted);
}

}  // namespace
}  // namespace lowkite
