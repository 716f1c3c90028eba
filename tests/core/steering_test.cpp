// The steering from the servo to the wheels: its links, its middle, its direction, and what is read off it.
#include "core/linkage/steering.hpp"

#include <gtest/gtest.h>

#include "core/plan/comparison.hpp"
#include "core/plan/wanted.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

class EverySteering : public testing::TestWithParam<const char*> {
 protected:
  const SteeringSpec& spec() const { return *find_steering(GetParam()); }
  template <class F>
  void for_random(int count, unsigned seed, const F& check) {
    std::mt19937 random(seed);
    for (int i = 0; i < count; ++i) {
      const SteeringGeometry g = test::random_steering(spec(), random);
      const auto built = spec().build(g);
      ASSERT_TRUE(built);
      check(g, **built);
    }
  }
};

TEST_P(EverySteering, InItsMiddleLeavesTheTieRodsWhereTheKitHasThem) {
  for_random(40, 1, [&](const SteeringGeometry&, const Steering& s) {
    EXPECT_NEAR(s.centre(), 0.0, 1e-9) << "nothing is adjusted";
    const auto pose = s.solve(0.0);
    ASSERT_TRUE(pose);
    for (const Vec3& shift : pose->tie_shift) EXPECT_LT(shift.norm(), 1e-9);
  });
}

TEST_P(EverySteering, HasExactVelocities) {
  for_random(20, 2, [&](const SteeringGeometry&, const Steering& s) {
    for (const double servo : {-0.4, 0.0, 0.3}) {
      const auto pose = s.solve(servo);
      ASSERT_TRUE(pose);
      for (std::size_t side = 0; side < 2; ++side)
        for (int axis = 0; axis < 3; ++axis)
          EXPECT_NEAR(pose->tie_rate[side][axis],
                      test::slope_of([&](double t) { return s.solve(t)->tie_shift[side][axis]; }, servo, 1e-3), 1e-7);
    }
  });
}

TEST_P(EverySteering, KeepsTheDragLinksLength) {
  if (!spec().horn_ball) GTEST_SKIP() << "no drag link";
  for_random(20, 3, [&](const SteeringGeometry& g, const Steering& s) {
    const auto pose = s.solve(0.35);
    ASSERT_TRUE(pose);
    const auto place = [&](PointHandle i) { return pose->placement(spec().points[i].body).point(g.set[i]); };
    EXPECT_NEAR((place(spec().horn_ball) - place(spec().drag_ball)).norm(), g.length.front(), 1e-9);
  });
}

TEST_P(EverySteering, IsTrimmedBackToTheMiddleWhenTheDragLinkIsTurned) {
  if (!spec().horn_ball) GTEST_SKIP() << "no drag link";
  for_random(20, 4, [&](const SteeringGeometry& g, const Steering&) {
    SteeringGeometry turned = g;
    turned.length.front() += 1.0;
    const auto built = spec().build(turned);
    ASSERT_TRUE(built);
    EXPECT_GT(std::abs((*built)->centre()), radians(2.0)) << "the horn stands elsewhere";
    const auto pose = (*built)->solve(0.0);
    ASSERT_TRUE(pose);
    for (const Vec3& shift : pose->tie_shift) EXPECT_LT(shift.norm(), 1e-9) << "the tie rods do not";
  });
}

INSTANTIATE_TEST_SUITE_P(Chains, EverySteering,
                         testing::Values("crank_pair", "crank_plate", "servo_saver", "slide_rack"),
                         [](const auto& sample) { return std::string(sample.param); });

// Freudenstein 1955 (from memory): K1 cos b - K2 cos a + K3 = cos(a - b) for a planar four-bar with the cranks at a and
// b, K1 = d/ra, K2 = d/rb, K3 = (ra^2 - c^2 + rb^2 + d^2) / (2 ra rb), c the coupler, d between the posts.
TEST(TheCrankPair, IsFreudensteinsFourBar) {
  const SteeringSpec& spec = *find_steering("crank_pair");
  SteeringGeometry g;
  g.kit.fill(Vec3::Zero());
  const auto put = [&](const char* id, const Vec3& p) { g.kit[spec.point(id)] = p; };
  put("servo_shaft_front", {-48, -12, 10});
  put("servo_shaft_rear", {-48, -12, 0});
  put("horn_ball", {-34, -12, 10});
  put("drag_ball", {-30, 8, 10});
  put("first_post_lower", {-40, 16, 0});
  put("first_post_upper", {-40, 16, 20});
  put("second_post_lower", {-38, -15, 0});
  put("second_post_upper", {-38, -15, 20});
  put("plate_first", {-22, 13, 10});
  put("plate_second", {-20, -11, 10});
  g.set = g.kit;
  g.length = kit_lengths(spec.links, g.kit);
  // The balls sit on the plate's pins, so that their places are the cranks' angles.
  g.tie_ball = {Vec3(-22, 13, 10), Vec3(-20, -11, 10)};
  const auto steering = spec.build(g);
  ASSERT_TRUE(steering);
  const Eigen::Vector2d post_a(-40, 16), post_b(-38, -15);
  const double d = (post_b - post_a).norm();
  const double ra = (Eigen::Vector2d(-22, 13) - post_a).norm();
  const double rb = (Eigen::Vector2d(-20, -11) - post_b).norm();
  const double c = Eigen::Vector2d(-2, 24).norm();
  const Eigen::Vector2d along = (post_b - post_a) / d;
  for (double servo = -0.6; servo <= 0.35; servo += 0.1) {
    const auto pose = (*steering)->solve(servo);
    ASSERT_TRUE(pose);
    const auto angle = [&](std::size_t side, const Eigen::Vector2d& post) {
      const Eigen::Vector2d arm = (g.tie_ball[side] + pose->tie_shift[side]).head<2>() - post;
      return std::atan2(along.x() * arm.y() - along.y() * arm.x(), along.dot(arm));
    };
    const double a = angle(0, post_a);
    const double b = angle(1, post_b);
    const double k3 = (ra * ra - c * c + rb * rb + d * d) / (2 * ra * rb);
    EXPECT_NEAR(d / ra * std::cos(b) - d / rb * std::cos(a) + k3, std::cos(a - b), 1e-10) << servo;
  }
}

TEST(AServoSaver, TurnsItsBallsAboutItsShaft) {  // Rodrigues' formula through Eigen
  std::mt19937 random(6);
  const SteeringSpec& spec = *find_steering("servo_saver");
  const SteeringGeometry g = test::random_steering(spec, random);
  const auto steering = spec.build(g);
  ASSERT_TRUE(steering);
  const Vec3 axis = (g.kit[PointHandle(1)] - g.kit[PointHandle(0)]).normalized();
  const auto pose = (*steering)->solve(0.5);
  for (std::size_t side = 0; side < 2; ++side) {
    const Vec3 expected =
        g.kit[PointHandle(0)] + Eigen::AngleAxisd(0.5, axis) * (g.tie_ball[side] - g.kit[PointHandle(0)]);
    EXPECT_LT((g.tie_ball[side] + pose->tie_shift[side] - expected).norm(), 1e-12);
  }
}

TEST(ADragLinkTooShort, IsNamedWithItsGap) {
  std::mt19937 random(7);
  for (const char* id : {"crank_pair", "slide_rack"}) {
    const SteeringSpec& spec = *find_steering(id);
    SteeringGeometry g = test::random_steering(spec, random);
    g.length.front() = 4.0;
    const auto built = spec.build(g);
    ASSERT_FALSE(built) << id;
    EXPECT_EQ(built.error().link, "drag_link");
    EXPECT_GT(built.error().gap_mm, 1.0);
  }
}

// Gillespie ch. 6 (from memory), checks.md: inner 28 deg, kingpin track 158, wheelbase 257 mm: outer 21.8369 deg.
TEST(Ackermann, OfTheWorkedExample) {
  EXPECT_NEAR(degrees(ideal_outer(radians(28.0), 158.0, 257.0)), 21.8369, 5e-5);
}

TEST(Ackermann, IsAHundredForAnIdealPairAndNoughtForParallelWheels) {
  CarModel model;
  static const Car bare;
  model.car = &bare;
  PerSide<WheelFigures> wheels;
  for (const Side s : both_sides) wheels[at(s)].contact = {0, 79, 0};
  const auto turn = [&](double inner_deg, double outer_deg) {
    wheels[at(Side::left)].toe_rad = -radians(inner_deg);  // to the left: out on the left wheel
    wheels[at(Side::right)].toe_rad = radians(outer_deg);  // and in on the right
    return *read_steering(model, wheels, nullptr, 257.0).ackermann;
  };
  const AckermannFigures ideal = turn(28.0, degrees(ideal_outer(radians(28.0), 158.0, 257.0)));
  EXPECT_EQ(ideal.inside, Side::left);
  EXPECT_NEAR(*ideal.percent, 100.0, 1e-9);
  EXPECT_NEAR(*ideal.error_rad, 0.0, 1e-12);
  EXPECT_NEAR(*turn(28.0, 28.0).percent, 0.0, 1e-9);
  EXPECT_GT(*turn(28.0, 28.0).error_rad, 0.0) << "the outer wheel turns too far";
  EXPECT_GT(*turn(28.0, 18.0).percent, 100.0);
  EXPECT_FALSE(*turn(28.0, 28.0).percent < 0.0);
}

// Before, the percentage told of the static toe: 478 % at 7 deg of servo, 18 % with the inner wheel out of the turn.
TEST(Ackermann, IsToldWithoutTheToeAndGuardedWhereTheInnerWheelTurnsOut) {
  for (const Car& base : test::every_shipped_car()) {
    if (!base.steering.spec) continue;
    for (const double toe : {-3.0, 0.0, 3.0}) {
      Car car = base;
      const auto turned = turned_to_angle(car, kit_setup(car), End::front, {true, true}, WheelAngle::toe, toe);
      if (!turned) continue;
      const auto model = build_model(car, *turned);
      ASSERT_TRUE(model);
      std::optional<double> before;
      for (double servo = 3.0; servo <= 24.0; servo += 1.0) {
        Attitude a = static_attitude(*model);
        a.servo_rad = radians(servo);
        const auto f = figures_at(*model, a);
        ASSERT_TRUE(f && f->steering);
        if (!f->steering->ackermann) continue;
        const AckermannFigures& ack = *f->steering->ackermann;
        EXPECT_EQ(ack.error_rad.has_value(), ack.inner_rad > radians(0.5)) << car.id;
        EXPECT_LT(std::abs(degrees(ack.error_rad.value_or(0.0))), 20.0) << car.id << ' ' << servo;
        // It comes on evenly: no leap where the wheels are hardly turned.
        EXPECT_LT(std::abs(ack.percent.value_or(0.0) - before.value_or(ack.percent.value_or(0.0))), 40.0)
            << car.id << ' ' << servo;
        before = ack.percent;
        EXPECT_GT(std::abs(*f->steering->turning_radius_mm), 100.0) << car.id;
      }
    }
  }
}

TEST(TheTurningRadius, IsWheelbaseOverTangentForParallelWheels) {
  CarModel model;
  static const Car bare;
  model.car = &bare;
  PerSide<WheelFigures> wheels;
  for (const Side s : both_sides) wheels[at(s)].contact = {0, 79, 0};
  wheels[0].toe_rad = -radians(20.0);
  wheels[1].toe_rad = radians(20.0);
  EXPECT_NEAR(*read_steering(model, wheels, nullptr, 257.0).turning_radius_mm, 257.0 / std::tan(radians(20.0)), 1e-9);
  wheels[0].toe_rad = wheels[1].toe_rad = radians(-1.0);
  const SteeringFigures straight = read_steering(model, wheels, nullptr, 257.0);
  EXPECT_FALSE(straight.ackermann);
  EXPECT_FALSE(straight.turning_radius_mm);
}

TEST(APositiveServo, SteersEveryCarToTheLeft) {
  for (const Car& car : test::every_shipped_car()) {
    const auto v = evaluate(car, kit_setup(car), {.servo_rad = radians(10.0)}, 5);
    ASSERT_TRUE(v) << v.error().message;
    for (const double heading : v->source.car.steering->steer_rad) EXPECT_GT(heading, radians(3.0)) << car.id;
    EXPECT_GT(*v->source.car.steering->ratio, 0.0) << car.id;
  }
}

TEST(TheSteeringRatio, IsTheSlopeOfTheWheelsAgainstTheServo) {
  const Car car = test::touring();
  const auto model = build_model(car, kit_setup(car));
  ASSERT_TRUE(model);
  const auto mean = [&](double servo) {
    Attitude a = static_attitude(*model);
    a.servo_rad = servo;
    const auto f = figures_at(*model, a);
    return 0.5 * (f->steering->steer_rad[0] + f->steering->steer_rad[1]);
  };
  Attitude a = static_attitude(*model);
  a.servo_rad = 0.2;
  // The wheels stay on the ground while they turn, so the arms move a little, too.
  EXPECT_NEAR(1.0 / *figures_at(*model, a)->steering->ratio, test::slope_of(mean, 0.2, 1e-3), 1e-6);
}

TEST(AHornOneToothOff, IsTrimmedBackAndTakesItsToothFromTheServosTravel) {
  const Car car = test::touring();
  const PartHandle spline = car.find_adjuster("servo_horn_spline");
  const auto lock_with = [&](double position) {
    test::CarSetup s = kit_setup(car);
    s.of(spline) = {position, position};
    const auto v = evaluate(car, s, {}, 5);
    EXPECT_TRUE(v);
    return *v->source.travel.lock;
  };
  const LockFigures square = lock_with(1);
  const LockFigures off = lock_with(2);
  EXPECT_NEAR(off.horn_from_square_rad, square.horn_from_square_rad, 1e-9) << "trimmed back it stands where it stood";
  EXPECT_NEAR(std::abs(off.trim_rad), radians(14.4), 1e-9);
  EXPECT_NEAR(square.trim_rad, 0.0, 1e-9);
}

TEST(ALongerDragLink, TurnsTheHornFromSquareAndMakesTheLocksUnequal) {
  const Car car = test::touring();
  const auto lock_with = [&](double turns) {
    test::CarSetup s = kit_setup(car);
    s.of(car.find_adjuster("drag_link")) = {turns, turns};
    const auto v = evaluate(car, s, {}, 5);
    EXPECT_TRUE(v);
    return *v->source.travel.lock;
  };
  const LockFigures kit = lock_with(0);
  const LockFigures longer = lock_with(4);
  EXPECT_GT(std::abs(longer.horn_from_square_rad - kit.horn_from_square_rad), radians(5.0));
  const auto unequal = [](const LockFigures& l) { return std::abs(l.usable[0].servo_rad - l.usable[1].servo_rad); };
  EXPECT_GT(std::abs(unequal(longer) - unequal(kit)), radians(1.0));
}

}  // namespace
}  // namespace lowkite
