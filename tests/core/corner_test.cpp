// What must hold for every mechanism, whatever its joints: identities on seeded random corners.
#include <cmath>

#include <algorithm>

#include <gtest/gtest.h>

#include "core/measure/wheel.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using test::Proportions;
using test::random_corner;

constexpr double length_tolerance_mm = 1e-9;
constexpr double angle_tolerance_rad = 1e-11;

class EveryMechanism : public testing::TestWithParam<test::LaidOut> {
 protected:
  const MechanismSpec& spec() const { return *GetParam().spec; }
  bool slides() const { return !spec().point("arm_inner_front"); }
  double reach() const { return slides() ? 2.5 : GetParam().proportions == Proportions::touring ? 5.0 : 15.0; }
  bool holds_toe() const {
    const auto links = spec().links;
    return std::any_of(links.begin(), links.end(), [](const LinkSpec& l) { return l.holds == LinkHolds::toe; });
  }

  template <class F>
  void for_random_corners(int count, unsigned seed, const F& check) {
    std::mt19937 random(seed);
    for (int i = 0; i < count; ++i) {
      const CornerGeometry g = random_corner(spec(), GetParam().proportions, random);
      check(g, test::model_of(spec(), g));
    }
  }
};

TEST_P(EveryMechanism, HasNoMorePointsThanThereIsRoomFor) {
  EXPECT_LE(spec().points.size(), at(max_linkage_points));
  EXPECT_LE(spec().links.size(), at(max_links));
}

TEST_P(EveryMechanism, AtZeroTravelStandsInTheDesignPosition) {
  for_random_corners(50, 11, [&](const CornerGeometry& g, const CornerModel& m) {
    const auto pose = pose_at_travel(m, 0.0, {});
    ASSERT_TRUE(pose);
    for (const PointHandle p : spec().points.handles())
      EXPECT_LT((point_in_chassis(m, *pose, p) - g.kit[p]).norm(), length_tolerance_mm);
    EXPECT_LT((pose->spin_axis - g.spin_axis).norm(), angle_tolerance_rad);
  });
}

TEST_P(EveryMechanism, KeepsEveryLinkAndBodyRigid) {
  for_random_corners(30, 12, [&](const CornerGeometry& g, const CornerModel& m) {
    for (const double travel : {-reach(), -1.0, 2.0, reach()}) {
      const auto pose = pose_at_travel(m, travel, rack_input(Side::left, spec().steered ? 2.0 : 0.0));
      ASSERT_TRUE(pose) << pose.error().message();
      EXPECT_NEAR(pose->wheel_centre.z(), m.design_wheel_z_mm + travel, length_tolerance_mm);
      for (const LinkHandle l : spec().links.handles())
        if (!spec().links[l].pin) {
          EXPECT_NEAR(distance_between(m, *pose, spec().links[l].inner, spec().links[l].outer), g.length[l],
                      length_tolerance_mm);
        }
      for (const Placement& body : pose->body) {
        EXPECT_LT((body.rotation * body.rotation.transpose() - Mat3::Identity()).norm(), 1e-12);
        EXPECT_NEAR(body.rotation.determinant(), 1.0, 1e-12);
      }
    }
  });
}

TEST_P(EveryMechanism, HasExactDerivativesAlongTravel) {
  for_random_corners(10, 13, [&](const CornerGeometry&, const CornerModel& m) {
    const SteerInput steer = rack_input(Side::left, spec().steered ? 1.5 : 0.0);
    const auto figures = [&](double travel) { return read_wheel(m, *pose_at_travel(m, travel, steer), Ground{}); };
    for (const double travel : {-0.7 * reach(), 0.0, 0.7 * reach()}) {
      const WheelFigures w = figures(travel);
      const double h = 0.05;
      const auto check = [&](const char* what, double exact, const auto& member) {
        EXPECT_NEAR(exact, test::slope_of([&](double t) { return member(figures(t)); }, travel, h), 2e-8) << what;
      };
      check("camber", w.camber_gain_rad_per_mm, [](const WheelFigures& f) { return f.camber_rad; });
      check("toe", w.bump_steer_rad_per_mm, [](const WheelFigures& f) { return f.toe_rad; });
      check("contact y", w.contact_per_travel.y(), [](const WheelFigures& f) { return f.contact.y(); });
      check("contact x", w.contact_per_travel.x(), [](const WheelFigures& f) { return f.contact.x(); });
      check("contact z", w.contact_per_travel.z(), [](const WheelFigures& f) { return f.contact.z(); });
      if (w.kingpin)
        check("caster", w.caster_gain_rad_per_mm, [](const WheelFigures& f) { return f.kingpin->caster_rad; });
    }
  });
}

TEST_P(EveryMechanism, HasExactDerivativesAlongSteering) {
  if (!spec().steered) GTEST_SKIP() << "not steered";
  for_random_corners(10, 14, [&](const CornerGeometry&, const CornerModel& m) {
    // The ground that the tyre stands on there.
    const auto standing = pose_at_travel(m, 1.0, rack_input(Side::left, 2.0));
    ASSERT_TRUE(standing);
    Ground ground;
    ground.offset = -contact_point(m.tyre, standing->wheel_centre, standing->spin_axis, ground.up).z();
    const auto steered = [&](double rack) {
      return read_wheel(m, *pose_on_ground(m, ground, rack_input(Side::left, rack), standing->arm_angle), ground);
    };
    const auto toe = [&](double rack) { return steered(rack).toe_rad; };
    EXPECT_NEAR(steered(2.0).toe_per_steer_rad, test::slope_of(toe, 2.0, 0.05), 1e-7);
  });
}

TEST_P(EveryMechanism, DoesNotMindWhereTheCarStands) {
  for_random_corners(20, 15, [&](const CornerGeometry& g, const CornerModel& m) {
    const Vec3 shift(-257, 0, 3.5);  // along the car and up: the frame's origin is a convention
    CornerGeometry moved = g;
    for (Vec3& p : moved.kit) p += shift;
    moved.set = moved.kit;
    const CornerModel other = test::model_of(spec(), moved);
    const auto a = pose_at_travel(m, 0.6 * reach(), {});
    const auto b = pose_at_travel(other, 0.6 * reach(), {});
    ASSERT_TRUE(a && b);
    EXPECT_LT((a->wheel_centre + shift - b->wheel_centre).norm(), length_tolerance_mm);
    EXPECT_LT((a->spin_axis - b->spin_axis).norm(), angle_tolerance_rad);
  });
}

TEST_P(EveryMechanism, HoldsCamberAndToeByLinkLengths) {
  for_random_corners(30, 16, [&](const CornerGeometry& g, const CornerModel& m) {
    WheelHold wanted{.camber = radians(-1.7), .toe = {}, .up = Vec3::UnitZ(), .forward = Vec3::UnitX()};
    if (holds_toe()) wanted.toe = radians(0.8);
    const double angle = 0.03;
    const auto length = m.linkage->hold(angle, {}, wanted);
    ASSERT_TRUE(length);
    CornerGeometry held = g;
    held.length = *length;
    const CornerModel other = test::model_of(spec(), held);
    const auto pose = other.linkage->solve(angle, {});
    ASSERT_TRUE(pose);
    const WheelFigures w = read_wheel(other, *pose, Ground{});
    EXPECT_NEAR(w.camber_rad, *wanted.camber, angle_tolerance_rad);
    if (wanted.toe) {
      EXPECT_NEAR(w.toe_rad, *wanted.toe, angle_tolerance_rad);
    }
  });
}

TEST_P(EveryMechanism, HoldingWhatItHasChangesNoLink) {
  for_random_corners(30, 17, [&](const CornerGeometry& g, const CornerModel& m) {
    const WheelFigures w = read_wheel(m, *m.linkage->solve(0.02, {}), Ground{});
    WheelHold wanted{.camber = w.camber_rad, .toe = {}, .up = Vec3::UnitZ(), .forward = Vec3::UnitX()};
    if (holds_toe()) wanted.toe = w.toe_rad;
    const auto length = m.linkage->hold(0.02, {}, wanted);
    ASSERT_TRUE(length);
    for (const LinkHandle l : spec().links.handles()) EXPECT_NEAR((*length)[l], g.length[l], length_tolerance_mm);
  });
}

TEST_P(EveryMechanism, NeverJumpsToAnotherAssembly) {
  // March far past the end of the useful travel: each pose that is given follows from the one before.
  for_random_corners(test::share_of(5), 18, [&](const CornerGeometry&, const CornerModel& m) {
    for (const double direction : {-1.0, 1.0}) {
      Vec3 before = m.linkage->solve(0, {})->spin_axis;
      bool ended = false;
      std::string last;
      for (double travel = 0; travel < 110; travel += 0.05) {
        const auto pose = pose_at_travel(m, direction * travel, {});
        if (!pose) {
          ended = true;
          last = pose.error().message();
          continue;
        }
        EXPECT_FALSE(ended) << "the linkage closed again beyond its end at " << direction * travel
                            << " mm, after: " << last;
        EXPECT_GT(pose->spin_axis.dot(before), std::cos(0.35)) << "at " << direction * travel << " mm";
        before = pose->spin_axis;
      }
      EXPECT_TRUE(ended);
    }
  });
}

TEST_P(EveryMechanism, ALinkThatCannotReachIsNamedWithItsGap) {
  for_random_corners(5, 19, [&](const CornerGeometry& g, const CornerModel&) {
    CornerGeometry broken = g;
    broken.length[LinkHandle(spec().links.size() - 1)] *= 0.2;
    const auto built = spec().build(broken);
    const auto failure = built ? (*built)->solve(0.0, {}).error() : built.error();
    EXPECT_FALSE(failure.link.empty());
    EXPECT_NE(failure.gap_mm, 0.0);
  });
}

TEST_P(EveryMechanism, TheReachIsReportedWhenTravelIsTooFar) {
  for_random_corners(5, 20, [&](const CornerGeometry&, const CornerModel& m) {
    const auto pose = pose_at_travel(m, 500.0, {});
    ASSERT_FALSE(pose);
    ASSERT_TRUE(pose.error().missing_mm);
    const double reached = 500.0 - std::abs(*pose.error().missing_mm);
    EXPECT_TRUE(pose_at_travel(m, reached - 1e-3, {}));
    EXPECT_FALSE(pose.error().message().empty());
  });
}

INSTANTIATE_TEST_SUITE_P(Mechanisms, EveryMechanism, testing::ValuesIn(test::every_layout()),
                         [](const auto& sample) { return test::name_of(sample.param); });

TEST(DerivativeChecker, WouldNoticeAWrongFunction) {
  const auto wrong = [](double x) { return std::sin(x) + 1e-4 * x; };
  EXPECT_GT(std::abs(test::slope_of(wrong, 0.3, 0.05) - std::cos(0.3)), 5e-5);
}

TEST(ASolidAxle, StandsWithBothTyresOnTheGroundInRoll) {
  const Car car = test::shipped("sanderling-12");
  test::CarSetup s = kit_setup(car);
  // One tyre of 42 mm and one of 44 mm: the axle leans towards the smaller one.
  s.of(car.find_adjuster("rear_tyre")) = {0, 2};
  const auto model = build_model(car, s);
  ASSERT_TRUE(model);
  for (const double roll : {0.0, 1.5, -1.0}) {
    Attitude a = static_attitude(*model);
    a.roll_rad = radians(roll);
    const auto f = figures_at(*model, a);
    ASSERT_TRUE(f) << f.error().message;
    const PerSide<WheelFigures>& rear = f->axle[at(End::rear)].wheel;
    const double width = rear[0].wheel_centre.y() + rear[1].wheel_centre.y();
    // The left end stands 1 mm lower: its wheel's top leans outward, the other's inward, by the same small angle.
    EXPECT_NEAR(rear[0].camber_rad, std::asin(1.0 / width), 1e-4) << "roll " << roll;
    EXPECT_NEAR(rear[0].camber_rad, -rear[1].camber_rad, 1e-9);
    EXPECT_NEAR(rear[0].toe_rad, 0.0, 2e-4);
  }
}

TEST(ASlidingStubAxle, MovesAlongItsKingpinOnly) {
  const MechanismSpec& spec = *find_mechanism("sliding_kingpin");
  std::mt19937 random(9);
  for (int i = 0; i < 20; ++i) {
    const CornerGeometry g = random_corner(spec, Proportions::touring, random);
    const CornerModel m = test::model_of(spec, g);
    const auto pose = m.linkage->solve(2.0 / slide_mm_per_rad, {});
    ASSERT_TRUE(pose);
    const Vec3 k = (pose->kingpin_upper - pose->kingpin_lower).normalized();
    // Whatever the tie rod turns, a point on the kingpin's line has slid by two millimetres along it.
    const Vec3 on_line = g.kit[spec.point("kingpin_upper")];
    EXPECT_LT((pose->placement(Body::knuckle).point(on_line) - (on_line + 2.0 * k)).norm(), 1e-9);
  }
}

TEST(ALinkThroughItsHinge, IsRefusedBecauseItHoldsNothing) {
  test::PlanarCorner l;
  l.link_inner = l.arm_outer + Eigen::Vector2d(-30, 0);
  l.link_outer = l.arm_outer + Eigen::Vector2d(-5, 0);
  const auto built = find_mechanism("hub_carrier")->build(test::planar_front(l));
  ASSERT_FALSE(built);
  EXPECT_TRUE(built.error().holds_nothing);
  EXPECT_EQ(built.error().link, "camber_link");
}

TEST(AMovedPin, CarriesItsArmAlongUnchanged) {
  const MechanismSpec& spec = *find_mechanism("hub_carrier");
  CornerGeometry g = test::planar_front({});
  const Vec3 lift(0, 0.7, 1.3);
  for (const char* end : {"arm_inner_front", "arm_inner_rear"}) g.set[spec.point(end)] += lift;
  const CornerModel m = test::model_of(spec, g);
  const auto pose = m.linkage->solve(0.0, {});
  ASSERT_TRUE(pose);
  const PointHandle outer = spec.point("arm_outer_front");
  EXPECT_LT((point_in_chassis(m, *pose, outer) - (g.kit[outer] + lift)).norm(), 1e-12);
}

}  // namespace
}  // namespace lowkite
