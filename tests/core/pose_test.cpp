// Standing on the ground: attitude, mirror symmetry, roll.
#include <random>

#include <gtest/gtest.h>

#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

constexpr double mm = 1e-9;

CarModel model_of_kit(const Car& car) {
  return std::move(*build_model(car, kit_setup(car)));
}

TEST(GroundPlane, StandsAtTheRideHeightsUnderTheGaugePoints) {
  const Car car = test::touring();
  const Ground g = ground_under(car, {{5.0, 6.5}, radians(1.5), 0});
  EXPECT_NEAR(g.height({car.gauge_x_mm[0], 0, 0}), 5.0, mm);
  EXPECT_NEAR(g.height({car.gauge_x_mm[1], 0, 0}), 6.5, mm);
  EXPECT_NEAR(g.up.norm(), 1.0, 1e-12);
  EXPECT_GT(g.height({0, 50, 0}), g.height({0, -50, 0})) << "roll is positive when the chassis leans to the right";
  EXPECT_NEAR(g.forward.dot(g.up), 0.0, 1e-12);
  EXPECT_GT(g.left.y(), 0.99);
}

TEST(EveryTyre, TouchesTheGroundInEveryAttitude) {
  for (const Car& car : {test::touring(), test::buggy()}) {
    const CarModel model = model_of_kit(car);
    const double h = car.kit_ride_height_mm[0];
    for (const double roll : {0.0, 1.5, -1.0})
      for (const double bump : {-2.0, 0.0, 3.0}) {
        const Attitude a{.ride_height_mm = {h - bump, h + 0.4 - bump}, .roll_rad = radians(roll), .rack_mm = 0.5};
        const auto pose = pose_car(model, a);
        ASSERT_TRUE(pose) << pose.error().message;
        for (const End e : both_ends)
          for (const Side s : both_sides) {
            const CornerPose& c = pose->axle[at(e)].corner[at(s)];
            const Ground g = s == Side::left ? pose->ground : pose->ground.mirrored_frame();
            EXPECT_NEAR(g.height(contact_point(car.axle(e).tyre, c.wheel_centre, c.spin_axis, g.up)), 0.0, mm);
          }
      }
  }
}

TEST(AMirroredAttitude, MirrorsEveryFigure) {
  const Car car = test::touring();
  const CarModel model = model_of_kit(car);
  const auto a = figures_at(model, {.ride_height_mm = {5.0, 5.5}, .roll_rad = radians(1.2), .rack_mm = 2.0});
  const auto b = figures_at(model, {.ride_height_mm = {5.0, 5.5}, .roll_rad = radians(-1.2), .rack_mm = -2.0});
  ASSERT_TRUE(a && b);
  for (const End e : both_ends) {
    for (const Side s : both_sides) {
      const Side other = s == Side::left ? Side::right : Side::left;
      const WheelFigures& x = a->axle[at(e)].wheel[at(s)];
      const WheelFigures& y = b->axle[at(e)].wheel[at(other)];
      EXPECT_NEAR(x.camber_rad, y.camber_rad, 1e-12);
      EXPECT_NEAR(x.toe_rad, y.toe_rad, 1e-12);
      EXPECT_LT((x.contact - y.contact).norm(), mm);
    }
    ASSERT_TRUE(a->axle[at(e)].roll_centre.moving);
    EXPECT_NEAR(a->axle[at(e)].roll_centre.moving->across, -b->axle[at(e)].roll_centre.moving->across, 1e-6);
    EXPECT_NEAR(a->axle[at(e)].roll_centre.moving->height, b->axle[at(e)].roll_centre.moving->height, 1e-6);
  }
}

TEST(AMirroredCar, MirrorsEveryFigure) {
  Car car = test::touring();
  // A car that is not symmetric: the left front inner link ball stands 1 mm higher.
  const PointHandle ball = car.axle(End::front).mechanism->point("link_inner");
  car.axles[0].points[at(Side::left)][ball].z() += 1.0;
  Car other = car;
  for (Axle& axle : other.axles) std::swap(axle.points[0], axle.points[1]);
  const CarModel a = model_of_kit(car);
  const CarModel b = model_of_kit(other);
  const auto fa = figures_at(a, static_attitude(a));
  const auto fb = figures_at(b, static_attitude(b));
  ASSERT_TRUE(fa && fb);
  EXPECT_NE(fa->axle[0].wheel[0].camber_gain_rad_per_mm, fa->axle[0].wheel[1].camber_gain_rad_per_mm);
  for (const Side s : both_sides) {
    const Side o = s == Side::left ? Side::right : Side::left;
    EXPECT_NEAR(fa->axle[0].wheel[at(s)].camber_gain_rad_per_mm, fb->axle[0].wheel[at(o)].camber_gain_rad_per_mm,
                1e-14);
  }
  EXPECT_NEAR(fa->axle[0].roll_centre.moving->across, -fb->axle[0].roll_centre.moving->across, 1e-7);
}

TEST(SteeringToTheLeft, TurnsBothWheelsTheSameWay) {
  const Car car = test::touring();
  const CarModel model = model_of_kit(car);
  Attitude a = static_attitude(model);
  const auto centre = figures_at(model, a);
  a.rack_mm = 3.0;
  const auto turned = figures_at(model, a);
  ASSERT_TRUE(centre && turned);
  const double left = turned->axle[0].wheel[0].toe_rad - centre->axle[0].wheel[0].toe_rad;
  const double right = turned->axle[0].wheel[1].toe_rad - centre->axle[0].wheel[1].toe_rad;
  EXPECT_LT(left * right, 0.0) << "one wheel toes in while the other toes out";
  EXPECT_NEAR(std::abs(left), std::abs(right), radians(1.5));
}

TEST(TravelRows, MatchTheAxlesPose) {
  const Car car = test::touring();
  const CarModel model = model_of_kit(car);
  const auto standing = pose_axle(model, End::front, static_attitude(model));
  ASSERT_TRUE(standing);
  const CornerModel& corner = model.corner(End::front, Side::left);
  const double travel = standing->corner[0].wheel_centre.z() - corner.design_wheel_z_mm;
  const auto same = pose_at_travel(corner, travel, {});
  ASSERT_TRUE(same);
  EXPECT_NEAR(same->arm_angle, standing->corner[0].arm_angle, 1e-12);
}

TEST(AShockOfGivenLength, PlacesTheArm) {
  const Car car = test::buggy();
  const CarModel model = model_of_kit(car);
  const CornerModel& c = model.corner(End::rear, Side::left);
  const PointHandle upper = c.spec->point("shock_upper");
  const PointHandle lower = c.spec->point("shock_lower");
  const double at_design = distance_between(c, *c.linkage->solve(0, {}), upper, lower);
  const auto longer = pose_at_distance(c, upper, lower, at_design + 2.0, {});
  ASSERT_TRUE(longer);
  EXPECT_NEAR(distance_between(c, *longer, upper, lower), at_design + 2.0, mm);
  EXPECT_LT(longer->arm_angle, 0.0) << "a longer shock lets the arm hang lower";
}

TEST(AnAttitudeOutOfReach, NamesTheCornerAndTheReason) {
  const Car car = test::touring();
  const CarModel model = model_of_kit(car);
  const auto pose = pose_car(model, {{-60, -60}, 0, 0});
  ASSERT_FALSE(pose);
  EXPECT_EQ(pose.error().end, End::front);
  EXPECT_NE(pose.error().message.find("front left"), std::string::npos);
}

TEST(AxleCurve, RunsFromDroopToBumpAndEndsWhereTheLinkageEnds) {
  Car car = test::touring();
  car.axles[0].travel = {6.0, 4.0};
  const CarModel model = model_of_kit(car);
  const AxleCurve curve = sweep_axle(model, End::front, static_attitude(model), 21);
  ASSERT_EQ(curve.points.size(), 21u);
  EXPECT_TRUE(curve.stopped_by.empty());
  EXPECT_NEAR(curve.points.front().bump_mm, -4.0, 1e-12);
  EXPECT_NEAR(curve.points.back().bump_mm, 6.0, 1e-12);
  EXPECT_LT(curve.points.back().camber_rad[0], curve.points.front().camber_rad[0]) << "camber grows negative in bump";
  car.axles[0].travel = {80.0, 4.0};
  const AxleCurve cut = sweep_axle(model_of_kit(car), End::front, static_attitude(model), 21);
  EXPECT_LT(cut.points.size(), 21u);
  EXPECT_FALSE(cut.stopped_by.empty());
}

// Before, a pose was refused when the design height did not close with the rack as far over.
TEST(APoseThatExists, IsFoundThoughTheDesignHeightDoesNotClose) {
  int refused_at_design = 0;
  std::mt19937 random(7);
  for (const Car& car : test::every_shipped_car())
    for (int setup = 0; setup < test::share_of(24); ++setup) {
      const auto model = build_model(car, setup ? test::random_setup(car, random) : kit_setup(car));
      if (!model) continue;
      const CornerModel& corner = model->corner(End::front, Side::left);
      const TravelRange& range = car.axle(End::front).travel;
      for (double travel = -range.droop_mm; travel <= range.bump_mm; travel += 2.0)
        for (const double way : {-1.0, 1.0}) {
          // A hand brings the wheel to its height first and steers from there, a tenth of a millimetre of rack at a
          // time.
          auto pose = pose_at_travel(corner, travel, rack_input(Side::left, 0.0));
          for (double rack = 0.1; pose && rack <= 25.0; rack += 0.1) {
            const SteerInput input = rack_input(Side::left, way * rack);
            pose = pose_at_travel(corner, travel, input, pose->arm_angle);
            if (!pose || std::abs(std::round(rack) - rack) > 1e-6) continue;
            const auto at_once = pose_at_travel(corner, travel, input);
            refused_at_design += !corner.linkage->solve(0.0, input);
            ASSERT_TRUE(at_once) << car.id << " travel " << travel << " rack " << way * rack << ": "
                                 << at_once.error().message();
            EXPECT_NEAR((at_once->spin_axis - pose->spin_axis).norm(), 0.0, 1e-8) << car.id;
          }
        }
    }
  EXPECT_GT(refused_at_design, 0) << "the case itself occurs";
}

}  // namespace
}  // namespace lowkite
