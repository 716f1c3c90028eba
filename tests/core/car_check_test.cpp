// What the check of a car finds, each on a good car with one thing spoilt.
#include "core/plan/car_check.hpp"

#include <gtest/gtest.h>

#include "core/io/setup_file.hpp"
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
  s.at_index(car.find_adjuster(id)) = {left, right};
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
      EXPECT_GE(f.adjuster, 0) << "and leads to a part";
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
  double& length = car.axles[1].kit_size[static_cast<std::size_t>(Size::shaft_length)];
  length -= 4.0;
  EXPECT_TRUE(says(check_car(car, kit_setup(car)), "falls out", Severity::wrong));
  length += 9.0;
  EXPECT_TRUE(says(check_car(car, kit_setup(car)), "bottom of its cup", Severity::wrong));
}

TEST(TheCheck, NamesAJointInsideTheTyre) {
  Car car = test::touring();
  car.axles[0].tyre.width_mm = 36.0;
  for (auto& side : car.axles[0].points)
    side[static_cast<std::size_t>(car.axles[0].mechanism->point("tie_outer"))] = Vec3(-27, 70, 21);
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
         {PartEnd::Of::place, no_point, Body::chassis, Vec3(-19.5, 40, 0)},
         {PartEnd::Of::place, no_point, Body::chassis, Vec3(-19.5, 40, 40)},
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

TEST(ACarThatCannotStand, YieldsThatAlone) {
  const Car car = test::touring();
  test::CarSetup s = kit_setup(car);
  s.ride_height_mm = {60, 60};
  const auto all = check_car(car, s);
  ASSERT_EQ(all.size(), 1u);
  EXPECT_EQ(all[0].severity, Severity::wrong);
}

}  // namespace
}  // namespace lowkite
