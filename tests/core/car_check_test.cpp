// What the check of a car finds, each on a good car with one thing spoilt.
#include "core/plan/car_check.hpp"

#include <gtest/gtest.h>

#include "core/figures/variant.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/idle_fields.hpp"
#include "core/plan/part_directions.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

bool says(const std::vector<Finding>& all, const char* words, Severity severity) {
  return std::any_of(all.begin(), all.end(), [&](const Finding& f) {
    return f.severity == severity && f.what.find(words) != std::string::npos && !f.remedy.empty();
  });
}

test::CarSetup with(const Car& car, const char* id, double left, double right) {
  test::CarSetup s = kit_setup(car);
  s.of(car.find_adjuster(id)) = {left, right};
  return s;
}

TEST(TheShippedCars, HaveNothingWrong) {
  for (const Car& car : test::every_shipped_car())
    for (const Finding& f : check_car(car, kit_setup(car)))
      EXPECT_NE(f.severity, Severity::wrong) << car.id << ": " << f.what;
}

TEST(TheCheck, NamesTheShockThatStopsBeforeTheScrew) {
  const Car car = test::touring();
  const auto all = check_car(car, with(car, "front_shock_spacers", 3, 3));
  EXPECT_TRUE(says(all, "shock stops the droop", Severity::doubtful));
  for (const Finding& f : all)
    if (f.what.find("shock stops") != std::string::npos) {
      EXPECT_FALSE(f.side) << "the same on both sides is said once";
      EXPECT_TRUE(f.adjuster) << "and leads to a part";
    }
}

TEST(TheCheck, NamesAWheelThatDoesNotReachTheGround) {
  const Car car = test::touring();
  test::CarSetup s = with(car, "front_droop_screw", 4, 4);
  s.ride_height_mm = {7.5, 7.5};
  EXPECT_TRUE(says(check_car(car, s), "before it reaches the ground", Severity::wrong));
}

TEST(TheCheck, NamesAShaftThatFallsOutOrBottoms) {
  Car car = test::touring();
  double& length = car.axles[1].size_of(Size::shaft_length);
  length -= 4.0;
  EXPECT_TRUE(says(check_car(car, kit_setup(car)), "falls out", Severity::wrong));
  length += 9.0;
  EXPECT_TRUE(says(check_car(car, kit_setup(car)), "bottom of its cup", Severity::wrong));
}

TEST(TheCheck, NamesAJointInsideTheTyre) {
  Car car = test::touring();
  car.axles[0].tyre.width_mm = 36.0;
  for (auto& side : car.axles[0].points) side[car.axles[0].mechanism->point("tie_outer")] = Vec3(-27, 70, 21);
  EXPECT_TRUE(says(check_car(car, kit_setup(car)), "inside the tyre", Severity::wrong));
}

TEST(TheCheck, NamesPartsThatMeetStraightAhead) {
  Car car = test::touring();
  Clearance c;
  c.a = {"tie rod",
         {PartEnd::Of::corner, car.axles[0].mechanism->point("tie_inner"), Body::chassis, {}},
         {PartEnd::Of::corner, car.axles[0].mechanism->point("tie_outer"), Body::chassis, {}},
         1.5};
  c.b = {"post",
         {PartEnd::Of::place, {}, Body::chassis, Vec3(-19.5, 40, 0)},
         {PartEnd::Of::place, {}, Body::chassis, Vec3(-19.5, 40, 40)},
         1.0};
  car.axles[0].limits.clearances.push_back(c);
  EXPECT_TRUE(says(check_car(car, kit_setup(car)), "tie rod meets post", Severity::wrong));
}

TEST(TheCheck, NamesUnequalTieRodsAndLittleBump) {
  const Car car = test::touring();
  EXPECT_TRUE(says(check_car(car, with(car, "front_tie_rod", 2, 0)), "tie rods differ", Severity::doubtful));
  test::CarSetup low = kit_setup(car);
  low.ride_height_mm = {0.6, 0.6};
  EXPECT_TRUE(says(check_car(car, low), "of bump are left", Severity::wrong));
}

TEST(TheCheck, TellsLeftAgainstRightBeyondWhatAGaugeTells) {
  const Car car = test::touring();
  EXPECT_TRUE(says(check_car(car, with(car, "front_camber_link", 1.0, 0.0)), "camber differs", Severity::doubtful));
  EXPECT_TRUE(says(check_car(car, with(car, "front_tie_rod", 0.5, 0.0)), "toe differs", Severity::doubtful));
  EXPECT_TRUE(says(check_car(car, with(car, "front_droop_screw", 1.0, 0.0)), "droop differs", Severity::doubtful));
  EXPECT_FALSE(says(check_car(car, with(car, "front_camber_link", 0.125, 0.0)), "differs", Severity::doubtful))
      << "no gauge could tell an eighth";
}

TEST(TheCheck, TellsAThreadAtItsEndAndSteeringInBump) {
  const Car car = test::touring();
  const Adjuster& rod = car.adjusters[car.find_adjuster("front_tie_rod")];
  EXPECT_TRUE(says(check_car(car, with(car, "front_tie_rod", rod.most(), rod.most())), "end of its thread",
                   Severity::doubtful));
  const Adjuster& shims = car.adjusters[car.find_adjuster("front_tie_outer_shims")];
  EXPECT_TRUE(says(check_car(car, with(car, "front_tie_outer_shims", shims.most(), shims.most())),
                   "deg within 4 mm of travel", Severity::doubtful));
}

TEST(TheShippedCars, HaveNoFieldWithoutEffect) {
  for (const Car& car : test::every_shipped_car())
    for (const Finding& f : idle_fields(car)) ADD_FAILURE() << car.id << ": " << f.what;
}

// Each of these was accepted in silence before: "nothing speaks against this car".
TEST(AFieldWithoutEffect, IsTold) {
  const auto size = [](Car& car, Size s) -> double& { return car.axles[0].size_of(s); };
  const auto bit = [](int attached) { return 1u << (attached - attachment::first); };
  const auto told = [](const Car& car, const char* words) {
    return says(check_car(car, kit_setup(car)), words, Severity::doubtful);
  };
  Car bare = test::shipped("godwit-ta");
  size(bare, Size::bar_wire) = 1.3;
  EXPECT_TRUE(told(bare, "wire does nothing"));
  Car bar = test::touring();
  bar.axles[0].attachments &= ~bit(attachment::bar_arm);
  EXPECT_TRUE(told(bar, "bar does nothing"));
  EXPECT_TRUE(told(bar, "\"Bar link, ball\" does nothing"));
  Car soft = test::touring();
  size(soft, Size::bar_wire) = 0.0;
  soft.axles[0].bar->rate_n_mm_per_rad = 0.0;
  EXPECT_TRUE(told(soft, "no stiffness"));
  Car half = test::touring();
  size(half, Size::piston_hole) = 0.0;
  EXPECT_TRUE(told(half, "damper does nothing"));
  Car rate = test::touring();
  size(rate, Size::spring_rate_2) = 0.8;
  EXPECT_TRUE(told(rate, "second rate does nothing"));
  Car shaft = test::touring();
  shaft.axles[0].cup = ShaftCup{};
  size(shaft, Size::shaft_length) = 0.0;
  EXPECT_TRUE(told(shaft, "cup does nothing"));
  Car side = test::touring();
  size(side, Size::side_rate) = 0.2;
  EXPECT_TRUE(told(side, "side springs do nothing"));
  Car light = test::touring();
  light.mass_kg = 0.0;
  light.masses.clear();
  for (Adjuster& a : light.adjusters)
    if (Positions* p = std::get_if<Positions>(&a.part))
      for (Position& position : p->list) position.effect.masses.clear();
  EXPECT_TRUE(told(light, "centre of gravity does little"));
  EXPECT_TRUE(told(light, "changes nothing, whatever is chosen")) << "places for weights that no longer weigh";
}

TEST(ACarThatCannotStand, YieldsThatAlone) {
  const Car car = test::touring();
  test::CarSetup s = kit_setup(car);
  s.ride_height_mm = {60, 60};
  const auto all = check_car(car, s);
  ASSERT_EQ(all.size(), 1u);
  EXPECT_EQ(all[0].severity, Severity::wrong);
}

// Before, the shipped cars' spacers went along x and their axles straight up, whatever pin they sit on.
TEST(PartDirections, FollowThePartThatTheySitOnByConstruction) {
  for (const Car& car : test::every_shipped_car()) {
    const auto found = part_directions(car);
    EXPECT_TRUE(found.empty()) << car.id << ": " << found.front().what;
  }
  // An axle that slides on a leaning kingpin leaves the wheelbase alone when it is put straight up no longer.
  Car car = test::shipped("plover-2wd");
  auto& height = std::get<Range>(car.adjusters[car.find_adjuster("front_axle_height")].part);
  for (PointMove& m : height.moves_per_unit) m.mm = Vec3::UnitZ();
  const auto up = part_directions(car);
  ASSERT_EQ(up.size(), 1u);
  EXPECT_NE(up[0].what.find("deg off the kingpin"), std::string::npos) << up[0].what;
  Car spaced = test::shipped("heron-tc190");
  auto& spacers = std::get<Range>(spaced.adjusters[spaced.find_adjuster("rear_wheelbase_spacers")].part);
  for (PointMove& m : spacers.moves_per_unit) m.mm = {-1.0, 0.2, 0.0};
  ASSERT_EQ(part_directions(spaced).size(), 1u);
  EXPECT_NE(part_directions(spaced)[0].what.find("off the pin"), std::string::npos);
}

// The whole hub goes with the pin's insert: what an independent model has, +2.70 and +3.39 mm of roll centre.
TEST(PartDirections, TheHubsInsertTakesAllOfTheHubAlong) {
  for (const auto& [id, by] : {std::pair("plover-2wd", 2.70), std::pair("dunlin-4wd", 3.39)}) {
    const Car car = test::shipped(id);
    test::CarSetup up = kit_setup(car);
    const PartHandle part = car.find_adjuster("rear_hub_insert");
    up.of(part) = {2.0, 2.0};
    const auto kit = evaluate(car, kit_setup(car), {}, 5);
    const auto raised = evaluate(car, up, {}, 5);
    ASSERT_TRUE(kit && raised);
    const FigureSpec& rc = *find_figure("roll_centre");
    EXPECT_NEAR(*rc.read(raised->source, End::rear, Side::left) - *rc.read(kit->source, End::rear, Side::left), by,
                0.05)
        << id;
  }
}

}  // namespace
}  // namespace lowkite
