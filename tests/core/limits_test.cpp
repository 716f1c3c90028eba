// What ends travel and lock: droop screw or shock, plate or shock, knuckle stops, joints, parts that meet, shafts.
#include <gtest/gtest.h>

#include <random>

#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

Variant variant_of(const Car& car, const std::vector<std::pair<const char*, double>>& values = {}) {
  test::CarSetup s = kit_setup(car);
  for (const auto& [id, value] : values) {
    const PartHandle i = car.find_adjuster(id);
    if (!i) throw std::runtime_error(id);
    s.of(i) = {value, value};
  }
  auto v = evaluate(car, s, {}, 5);
  if (!v) throw std::runtime_error(v.error().message);
  return std::move(*v);
}

const CornerStops& stops(const Variant& v, End end) {
  return v.source.travel.corner[at(end)][0].stops;
}

TEST(TheNearestPointsOfTwoSegments, AreNeverFartherThanAnySampledPair) {
  std::mt19937 random(1);
  std::uniform_real_distribution<double> place(-10, 10);
  const auto point = [&] { return Vec3(place(random), place(random), place(random)); };
  for (int i = 0; i < 300; ++i) {
    const Vec3 a0 = point(), a1 = point(), b0 = point(), b1 = i % 7 == 0 ? b0 : point();
    const double found = segment_distance(a0, a1, b0, b1);
    double sampled = 1e9;
    for (double s = 0; s <= 1.0; s += 0.02)
      for (double t = 0; t <= 1.0; t += 0.02)
        sampled = std::min(sampled, (a0 + s * (a1 - a0) - b0 - t * (b1 - b0)).norm());
    EXPECT_LE(found, sampled + 1e-12);
    EXPECT_GT(found, sampled - 0.6) << "no farther off than the sampling is coarse";
    EXPECT_NEAR(found, segment_distance(b1, b0, a0, a1), 1e-9) << "whichever comes first";
  }
  EXPECT_NEAR(segment_distance({0, 0, 0}, {1, 0, 0}, {0.5, 2, 3}, {0.5, 2, -3}), 2.0, 1e-12);
}

TEST(TheDroopScrew, HoldsTheTipOnThePlate) {
  const Car car = test::touring();
  const Variant v = variant_of(car);
  const CornerModel& corner = v.model.corner(End::front, Side::left);
  EXPECT_EQ(stops(v, End::front).droop.kind, StopKind::droop_screw);
  const auto pose = corner.linkage->solve(stops(v, End::front).droop.arm_angle, {});
  ASSERT_TRUE(pose);
  EXPECT_NEAR(point_in_chassis(corner, *pose, attachment::droop_tip).z(), car.plate_thickness_mm, 1e-9);
}

TEST(TurningTheDroopScrewIn, TakesDroopAndRaisesTheDownStop) {
  const Car car = test::touring();
  const Variant kit = variant_of(car);
  const Variant in = variant_of(car, {{"front_droop_screw", 1.0}});
  EXPECT_LT(stops(in, End::front).droop.from_ride_height_mm, stops(kit, End::front).droop.from_ride_height_mm - 1.0);
  EXPECT_GT(*stops(in, End::front).hanging_arm_gauge_mm, *stops(kit, End::front).hanging_arm_gauge_mm + 0.5);
}

TEST(WithManySpacersInside, TheShockStopsTheDroopBeforeTheScrew) {
  const Car car = test::touring();
  const Variant v = variant_of(car, {{"front_shock_spacers", 3.0}});
  EXPECT_EQ(stops(v, End::front).droop.kind, StopKind::shock_extended);
  EXPECT_NEAR(*stops(v, End::front).hanging_shock_mm, car.axles[0].kit_size[0] - 2.0, 1e-9)
      << "two spacers more than kit, each a millimetre";
  ASSERT_NE(stops(v, End::front).find(StopKind::droop_screw), nullptr) << "the screw is still there";
  EXPECT_GT(stops(v, End::front).find(StopKind::droop_screw)->from_ride_height_mm,
            stops(v, End::front).droop.from_ride_height_mm);
}

TEST(InBump, WhicheverComesFirstIsNamed) {
  const Car car = test::touring();
  EXPECT_EQ(stops(variant_of(car), End::front).bump.kind, StopKind::plate_on_ground);
  Car stubby = car;
  stubby.axles[0].size_of(Size::shock_compressed) = 56.0;
  const Variant v = variant_of(stubby);
  EXPECT_EQ(stops(v, End::front).bump.kind, StopKind::shock_compressed);
  EXPECT_LT(stops(v, End::front).bump.from_ride_height_mm, 5.0);
}

TEST(TheMotionRatio, IsTheSlopeOfTheShocksLength) {
  for (const Car& car : {test::touring(), test::buggy()}) {
    const Variant v = variant_of(car);
    for (const End end : both_ends) {
      const CornerModel& corner = v.model.corner(end, Side::left);
      const auto length = [&](double travel) {
        const auto pose = pose_at_travel(corner, travel, {});
        return distance_between(corner, *pose, attachment::shock_upper, attachment::shock_lower);
      };
      const auto pose = pose_at_travel(corner, 1.0, {});
      const auto shock = read_parts(v.model, end, Side::left, *pose, Ground{}).shock;
      ASSERT_TRUE(shock);
      EXPECT_NEAR(shock->motion_ratio, -test::slope_of(length, 1.0, 0.1), 1e-7);
      EXPECT_NEAR(*shock->left_in_droop_mm + shock->length_mm, corner.geometry.size_of(Size::shock_extended), 1e-12);
    }
  }
}

TEST(TheShaftsPin, SlidesAsItsTriangleSays) {
  const Car car = test::touring();
  const Variant v = variant_of(car);
  const CornerModel& corner = v.model.corner(End::rear, Side::left);
  for (const double travel : {-4.0, 0.0, 5.0}) {
    const auto pose = pose_at_travel(corner, travel, {});
    const auto shaft = read_shaft(v.model, End::rear, Side::left, *pose);
    ASSERT_TRUE(shaft);
    const Vec3 joint = point_in_chassis(corner, *pose, attachment::shaft_joint);
    const Vec3 mouth = point_in_chassis(corner, *pose, attachment::shaft_cup);
    const Vec3 pin(mouth.x(), mouth.y() - shaft->depth_mm, mouth.z());
    EXPECT_NEAR((joint - pin).norm(), corner.geometry.size_of(Size::shaft_length), 1e-9);
    EXPECT_NEAR(shaft->to_falling_out_mm + shaft->to_bottoming_mm,
                car.axles[1].cup->depth_mm - car.axles[1].cup->least_hold_mm, 1e-9);
  }
  Car worn = car;
  worn.axles[1].size_of(Size::shaft_length) -= 4.0;
  EXPECT_LT(*variant_of(worn).source.travel.corner[1][0].shaft_least_to_falling_out_mm, 0.0) << "it falls out";
  worn.axles[1].size_of(Size::shaft_length) += 9.0;
  EXPECT_LT(*variant_of(worn).source.travel.corner[1][0].shaft_least_to_bottoming_mm, 0.0) << "it bottoms";
}

/// The room left in a front corner, found by standing there.
LockMargin room_at(const Variant& v, Side wheel, double travel_mm, double servo_rad) {
  const auto steered = steer(v.model, servo_rad);
  const auto pose = wheel_on_ground(v.model, wheel, v.source.travel.corner[0][at(wheel)].stops, travel_mm,
                                    steered->corner[at(wheel)], 0.0);
  return margin_of(v.model, wheel, *pose, *steered->linkage, servo_rad > 0.0);
}

TEST(TheEndPoint, LeavesNoRoomAndALittleLessLeavesSome) {
  for (const Car& car : test::every_shipped_car()) {
    const Variant v = variant_of(car);
    ASSERT_TRUE(v.source.travel.lock) << car.id;
    for (const LockSample& s : v.source.travel.lock->over_travel)
      for (const Side way : both_sides) {
        const LockEnd& end = s.end[at(way)];
        if (end.cause == LockCause::servo || end.cause == LockCause::linkage) continue;
        const double sign = way == Side::left ? 1.0 : -1.0;
        EXPECT_LT(room_at(v, end.wheel, end.travel_mm, sign * (end.servo_rad + radians(0.06))).left, 0.0) << car.id;
        EXPECT_GT(room_at(v, end.wheel, end.travel_mm, sign * (end.servo_rad - radians(0.06))).left, 0.0) << car.id;
        EXPECT_FALSE(end.what.empty());
      }
  }
}

// Common practice, no source: an end point set only at ride height stalls the servo; the smallest over the travel
// holds.
TEST(TheUsableServoAngle, IsTheSmallestOverTheWholeTravel) {
  const Car car = test::shipped("godwit-ta");
  // Shims under the tie rod make bump steer, and bump steer takes lock.
  const Variant v = variant_of(car, {{"front_tie_outer_shims", 4.0}});
  const LockFigures& lock = *v.source.travel.lock;
  for (const Side way : both_sides) {
    for (const LockSample& s : lock.over_travel)
      EXPECT_LE(lock.usable[at(way)].servo_rad, s.end[at(way)].servo_rad + radians(0.05));
    EXPECT_GT(lock.at_ride_height[at(way)].servo_rad - lock.usable[at(way)].servo_rad, radians(0.3))
        << "and it is told how much is lost";
    EXPECT_GT(std::abs(lock.usable[at(way)].travel_mm), 1.0) << "and where";
  }
}

TEST(AKnuckleStop, EndsTheLockOfTheInsideWheelAtItsAngle) {  // common practice, no source: about 30 deg, inside wheel
  const Car car = test::touring();
  const Variant v = variant_of(car);
  const LockFigures& lock = *v.source.travel.lock;
  for (const Side way : both_sides) {
    EXPECT_EQ(lock.at_ride_height[at(way)].cause, LockCause::knuckle_stop);
    EXPECT_EQ(lock.at_ride_height[at(way)].wheel, way) << "the inside wheel";
    EXPECT_NEAR(degrees(lock.inside_rad[at(way)]), 30.0 + 1.0, 1.0) << "stop and static toe-out";
  }
}

TEST(ATighterJoint, EndsTheLockEarlierAndIsNamed) {
  Car car = test::touring();
  const LockFigures before = *variant_of(car).source.travel.lock;
  for (JointLimit& j : car.axles[0].limits.joints) j.stud = Vec3(0.0, 0.5, 1.0).normalized();
  for (JointLimit& j : car.axles[0].limits.joints) j.most_rad = radians(31.0);
  const LockFigures after = *variant_of(car).source.travel.lock;
  bool named = false;
  for (const Side way : both_sides) {
    EXPECT_LE(after.usable[at(way)].servo_rad, before.usable[at(way)].servo_rad + radians(0.05));
    named = named || (after.usable[at(way)].cause == LockCause::joint &&
                      after.usable[at(way)].what.find("ball out of angle") != std::string::npos);
  }
  EXPECT_TRUE(named);
}

TEST(TwoPartsThatMeet, EndTheLockAndAreNamed) {
  Car car = test::touring();
  Clearance c;
  c.a = {"tie rod",
         {PartEnd::Of::corner, car.axles[0].mechanism->point("tie_inner"), Body::chassis, {}},
         {PartEnd::Of::corner, car.axles[0].mechanism->point("tie_outer"), Body::chassis, {}},
         1.5};
  const Vec3 post(-22.6, 38, 0);
  c.b = {"test post",
         {PartEnd::Of::place, {}, Body::chassis, post},
         {PartEnd::Of::place, {}, Body::chassis, post + Vec3(0, 0, 40)},
         1.0};
  car.axles[0].limits.clearances.push_back(c);
  const LockFigures lock = *variant_of(car).source.travel.lock;
  bool met = false;
  for (const Side way : both_sides) {
    met = met || lock.usable[at(way)].what == "tie rod meets test post";
    if (lock.usable[at(way)].cause == LockCause::clearance) {
      EXPECT_LT(lock.usable[at(way)].servo_rad, radians(30.0));
    }
  }
  EXPECT_TRUE(met);
}

TEST(TheMap, ShowsWhatTheCarShowsThere) {
  const Car car = test::touring();
  const Variant v = variant_of(car);
  const auto standing = pose_axle(v.model, End::front, static_attitude(v.model));
  const CornerStops& s = stops(v, End::front);
  const LockMap map = map_lock(v.model, Side::left, standing->corner[0], s, radians(30.0), 9, 13);
  ASSERT_EQ(map.cells.size(), 9u * 13u);
  EXPECT_NEAR(map.travel_mm.front(), -s.droop.from_ride_height_mm, 1e-12);
  int read = 0;
  for (std::size_t i = 0; i < 9; ++i)
    for (const std::size_t j : {0u, 3u, 6u, 12u}) {
      ASSERT_TRUE(map.at(i, j).closes);
      // The whole car let down or lifted by that much, its steering turned: all tyres on the ground.
      Attitude there = static_attitude(v.model);
      for (double& height : there.ride_height_mm) height -= map.travel_mm[i];
      there.servo_rad = map.servo_rad[j];
      const auto car_there = pose_car(v.model, there);
      ASSERT_TRUE(car_there);
      const CornerPose& pose = car_there->axle[0].corner[0];
      if (pose.arm_angle < s.droop.arm_angle || pose.arm_angle > s.bump.arm_angle) continue;  // there it is on its stop
      ++read;
      const WheelFigures w = read_wheel(v.model.corner(End::front, Side::left), pose, car_there->ground);
      EXPECT_NEAR(map.at(i, j).toe_rad, w.toe_rad, 1e-9);
      EXPECT_NEAR(map.at(i, j).camber_rad, w.camber_rad, 1e-9);
    }
  EXPECT_GE(read, 30);
}

TEST(FullLock, IsToldAsTheWheelsStandOnTheGround) {
  std::mt19937 random(15);
  int read = 0;
  for (const Car& car : test::every_shipped_car())
    for (int i = 0; i < test::share_of(40); ++i) {
      const auto v = evaluate(car, i == 0 ? kit_setup(car) : test::random_setup(car, random), {}, 3);
      if (!v || !v->source.travel.lock) continue;
      const LockFigures& lock = *v->source.travel.lock;
      for (const Side way : both_sides) {
        Attitude turned = static_attitude(v->model);
        turned.servo_rad = (way == Side::left ? 1.0 : -1.0) * lock.end_point_rad[at(way)];
        const auto pose = pose_car(v->model, turned);
        if (!pose) continue;  // the whole car is not followed there step by step
        bool on_a_stop = false;
        for (const Side side : both_sides) {
          const CornerStops& s = v->source.travel.corner[0][at(side)].stops;
          const double arm = pose->axle[0].corner[at(side)].arm_angle;
          on_a_stop |= arm < s.droop.arm_angle || arm > s.bump.arm_angle;
        }
        if (on_a_stop) continue;  // where its tyre hangs
        ++read;
        const auto f = read_car(v->model, *pose, turned);
        const double sign = way == Side::left ? 1.0 : -1.0;
        EXPECT_NEAR(lock.inside_rad[at(way)], sign * f.steering->steer_rad[at(way)], 1e-9) << car.id << ' ' << i;
        EXPECT_NEAR(lock.outside_rad[at(way)],
                    sign * f.steering->steer_rad[at(way == Side::left ? Side::right : Side::left)], 1e-9)
            << car.id << ' ' << i;
      }
    }
  EXPECT_GT(read, test::share_of(240));
}

// Side view by hand: both pins of a planar corner tilted by p, so that every point of the wheel moves along the same
// straight slope; anti = share . tan p . wheelbase / cg height (Milliken ch. 17, Gillespie ch. 7, from memory).
TEST(AntiDive, OfParallelPinsIsTheirSlope) {
  Car car = test::touring();
  const double p = radians(4.0);
  for (const Side side : both_sides)
    for (Vec3& point : car.axles[0].points[at(side)]) {
      const Vec3 about(0, 0, 15);
      point = about + Eigen::AngleAxisd(-p, Vec3::UnitY()) * (point - about);
    }
  car.steering.spec = nullptr;
  std::erase_if(car.adjusters, [](const Adjuster& a) { return a.end == End::front; });
  const auto model = build_model(car, kit_setup(car));
  ASSERT_TRUE(model) << model.error().message;
  const auto figures = figures_at(*model, static_attitude(*model));
  ASSERT_TRUE(figures) << figures.error().message;
  const AxleFigures& front = figures->axle[0];
  const Vec3& v = front.wheel[0].centre_per_travel;
  EXPECT_NEAR(std::abs(v.x() / v.z()), std::tan(p), 0.01)
      << "front end of the pins raised: the wheel moves back in bump";
  const double h = ground_under(car, static_attitude(*model)).height({-128.5, 0, car.cg_height_mm});
  ASSERT_TRUE(front.side_view[0].anti_braking_percent);
  EXPECT_NEAR(*front.side_view[0].anti_braking_percent, 0.5 * 100.0 * v.x() / v.z() * 257.0 / h, 0.5);
  EXPECT_LT(*front.side_view[0].anti_braking_percent, 0.0) << "pins that rise forward are kick-up: pro-dive";
}

TEST(TheSideViewSwingCentre, StandsStillInTheWheelsMotion) {
  for (const Car& car : {test::buggy(), test::shipped("godwit-ta")}) {
    const auto model = build_model(car, kit_setup(car));
    const auto pose = pose_car(*model, static_attitude(*model));
    const CarFigures f = read_car(*model, *pose, static_attitude(*model));
    for (const End end : both_ends) {
      const auto& centre = f.axle[at(end)].side_view[0].swing_centre;
      if (!centre) continue;
      const CornerPose& corner = pose->axle[at(end)].corner[0];
      // The point of the wheel's body at the swing centre moves neither forward nor up.
      const Ground& g = pose->ground;
      const Vec3 at_centre =
          corner.wheel_centre + g.forward * centre->across + g.up * (centre->height - g.height(corner.wheel_centre));
      const Vec3 v = corner.wheel_by_arm().at(at_centre);
      const double scale = corner.wheel_by_arm().at(corner.wheel_centre).norm();
      EXPECT_LT(std::abs(v.x()) / scale, 2e-2) << car.id;
      EXPECT_LT(std::abs(v.z()) / scale, 2e-2) << car.id;
    }
  }
}

}  // namespace
}  // namespace lowkite
