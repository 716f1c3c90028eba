// The elementary step against independent mathematics: Rodrigues' formula, Freudenstein's equation, plain search.
#include "core/linkage/rod_hinge.hpp"

#include <random>

#include <gtest/gtest.h>

#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

constexpr double hinge_tolerance_mm = 1e-10;

Vec3 random_vec(std::mt19937& random, double size) {
  std::uniform_real_distribution<double> d(-size, size);
  return {d(random), d(random), d(random)};
}

TEST(RotationAboutAnAxis, AgreesWithEigensAngleAxis) {  // Rodrigues' formula, any kinematics text
  std::mt19937 random(1);
  for (int i = 0; i < 200; ++i) {
    const Vec3 u = random_vec(random, 1).normalized();
    const double t = std::uniform_real_distribution<double>(-3, 3)(random);
    const Mat3 reference = Eigen::AngleAxisd(t, u).toRotationMatrix();
    EXPECT_LT((rotation_about(u, Turn::by(t)) - reference).norm(), 1e-14);
  }
}

TEST(LeastRotation, CarriesOneDirectionIntoTheOtherWithoutTwist) {
  std::mt19937 random(2);
  for (int i = 0; i < 200; ++i) {
    const Vec3 a = random_vec(random, 1).normalized();
    const Vec3 b = (a + 0.5 * random_vec(random, 1)).normalized();
    const Mat3 r = least_rotation(a, b);
    EXPECT_LT((r * a - b).norm(), 1e-13);
    EXPECT_LT((r * r.transpose() - Mat3::Identity()).norm(), 1e-13);
    EXPECT_LT((r * a.cross(b) - a.cross(b)).norm(), 1e-13);
  }
}

TEST(Twist, IsTheRateOfTheTurn) {
  const Axis axis{Vec3(1, 2, 3), Vec3(1, 1, 0.5).normalized()};
  const Vec3 p(4, -1, 2);
  const Vec3 exact = turning_about(axis, 1.0).at(p);
  for (int c = 0; c < 3; ++c) {
    const auto moved = [&](double t) { return turned_about(axis, Turn::by(t)).point(p)[c]; };
    EXPECT_NEAR(exact[c], test::slope_of(moved, 0.0, 1e-3), 1e-9);
  }
}

TEST(TurnUntilRodFits, GivesTheRodItsLength) {
  std::mt19937 random(3);
  int closed = 0;
  for (int i = 0; i < 2000; ++i) {
    const Axis axis{random_vec(random, 20), random_vec(random, 1).normalized()};
    const Vec3 p = random_vec(random, 40);
    const Vec3 q = random_vec(random, 40);
    const double length = (p - q).norm() * std::uniform_real_distribution<double>(0.9, 1.1)(random);
    const Branch branch = RodHinge::design_slope(axis, p, q) > 0 ? Branch::rising : Branch::falling;
    const auto t = turn_until_rod_fits(axis, p, q, length, branch, p - q);
    if (!t) continue;
    ++closed;
    EXPECT_NEAR((turned_about(axis, *t).point(p) - q).norm(), length, hinge_tolerance_mm);
    EXPECT_NEAR(t->cos * t->cos + t->sin * t->sin, 1.0, 1e-12);
  }
  EXPECT_GT(closed, 1500);
}

TEST(TurnUntilRodFits, OnAFittingRodDoesNotTurn) {
  const Axis axis{Vec3::Zero(), Vec3::UnitX()};
  const Vec3 p(0, 30, 1);
  const Vec3 q(5, 10, 25);
  const Branch branch = RodHinge::design_slope(axis, p, q) > 0 ? Branch::rising : Branch::falling;
  const auto t = turn_until_rod_fits(axis, p, q, (p - q).norm(), branch, p - q);
  ASSERT_TRUE(t);
  EXPECT_NEAR(t->angle(), 0.0, 1e-14);
}

TEST(TurnUntilRodFits, SaysHowManyMillimetresAreMissing) {
  // P goes round a circle of radius 10 about the origin, Q stands 50 away: lengths from 40 to 60 fit.
  const Axis axis{Vec3::Zero(), Vec3::UnitX()};
  const Vec3 p(0, 0, 10);
  const Vec3 q(0, 50, 0);
  const auto too_short = turn_until_rod_fits(axis, p, q, 38.5, Branch::rising, p - q);
  ASSERT_FALSE(too_short);
  EXPECT_NEAR(too_short.error().gap_mm, 1.5, 1e-12);
  const auto too_long = turn_until_rod_fits(axis, p, q, 62.25, Branch::rising, p - q);
  ASSERT_FALSE(too_long);
  EXPECT_NEAR(too_long.error().gap_mm, -2.25, 1e-12);
}

TEST(TurnUntilRodFits, RefusesTheFarSideOfADeadCentre) {
  const Axis axis{Vec3::Zero(), Vec3::UnitX()};
  const Vec3 p(0, 0, 10);
  // A length of 41 fits only with P turned nearly to Q: further than 90 degrees from where this branch starts.
  const auto other = turn_until_rod_fits(axis, p, Vec3(0, 0, -50), 41, Branch::rising, Vec3(0, 0, 60));
  ASSERT_FALSE(other);
  EXPECT_EQ(other.error().gap_mm, 0.0);
}

TEST(TurnUntilRodFits, TheTwoBranchesAreTheTwoAssemblies) {
  const Axis axis{Vec3::Zero(), Vec3::UnitX()};
  const Vec3 p(0, 0, 10);
  const Vec3 q(0, 0, 40);
  const auto one = turn_until_rod_fits(axis, p, q, 31, Branch::rising, p - q);
  const auto two = turn_until_rod_fits(axis, p, q, 31, Branch::falling, p - q);
  ASSERT_TRUE(one && two);
  EXPECT_NEAR(one->angle(), -two->angle(), 1e-14);
  EXPECT_GT(std::abs(one->angle()), 0.1);
}

TEST(TurnUntilRodFits, IsTheInverseOfTurning) {
  std::mt19937 random(4);
  for (int i = 0; i < 500; ++i) {
    const Axis axis{random_vec(random, 10), random_vec(random, 1).normalized()};
    const Vec3 p = random_vec(random, 30);
    const Vec3 q = random_vec(random, 60);
    const double slope = RodHinge::design_slope(axis, p, q);
    const double angle = std::uniform_real_distribution<double>(-0.3, 0.3)(random);
    const Vec3 turned = turned_about(axis, Turn::by(angle)).point(p);
    // Only where the turned rod is still on the design branch; elsewhere the two assemblies have met in between.
    if (slope * RodHinge::design_slope(axis, turned, q) <= 0 || (turned - q).dot(p - q) <= 0) continue;
    const auto t =
        turn_until_rod_fits(axis, p, q, (turned - q).norm(), slope > 0 ? Branch::rising : Branch::falling, p - q);
    ASSERT_TRUE(t);
    EXPECT_NEAR(t->angle(), angle, 1e-7 + 1e-9 / std::abs(slope));
  }
}

TEST(TurnUntilComponent, FindsTheSmallerTurnThatGivesTheComponent) {
  std::mt19937 random(5);
  for (int i = 0; i < 500; ++i) {
    const Vec3 u = random_vec(random, 1).normalized();
    const Vec3 a = random_vec(random, 1).normalized();
    const Vec3 w = random_vec(random, 1).normalized();
    const double wanted = (rotation_about(u, Turn::by(0.2)) * a).dot(w);
    const auto t = turn_until_component(u, a, w, wanted);
    ASSERT_TRUE(t.found);
    EXPECT_NEAR((rotation_about(u, t.turn) * a).dot(w), wanted, 1e-12);
    EXPECT_LE(std::abs(t.turn.angle()), 0.2 + 1e-7);
  }
  EXPECT_FALSE(turn_until_component(Vec3::UnitZ(), Vec3::UnitX(), Vec3::UnitX(), 1.5).found);
}

TEST(FourBar, ObeysFreudensteinsEquation) {
  // K1 cos a - K2 cos b + K3 = cos(a - b) with K1 = d/c, K2 = d/a, K3 = (a^2 - b^2 + c^2 + d^2)/(2ac); Freudenstein
  // 1955, "Approximate synthesis of four-bar linkages" (form from memory). Crank a, coupler b, rocker c, ground d along
  // y.
  const double a = 44, b = 31, c = 33, d = 26;
  for (double crank = 0.55; crank < 1.2; crank += 0.01) {
    const Vec3 crank_end(0, a * std::cos(crank), a * std::sin(crank));
    const Axis rocker_pivot{Vec3(0, d, 0), Vec3::UnitX()};
    const double rocker_start = 1.9;
    const Vec3 rocker_end = rocker_pivot.point + Vec3(0, c * std::cos(rocker_start), c * std::sin(rocker_start));
    for (const Branch branch : {Branch::rising, Branch::falling}) {
      const auto t = turn_until_rod_fits(rocker_pivot, rocker_end, crank_end, b, branch, rocker_end - crank_end);
      if (!t) continue;
      const double rocker = rocker_start + t->angle();
      const double k1 = d / a, k2 = d / c, k3 = (a * a - b * b + c * c + d * d) / (2 * a * c);
      EXPECT_NEAR(k1 * std::cos(rocker) - k2 * std::cos(crank) + k3, std::cos(crank - rocker), 1e-12);
    }
  }
}

}  // namespace
}  // namespace lowkite
