// Figures against published forms and drawing by hand. Sources stand beside the checks.
#include <cmath>
#include <set>

#include <gtest/gtest.h>

#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

using test::PlanarCorner;

const MechanismSpec& hub_carrier() {
  return *find_mechanism("hub_carrier");
}

WheelFigures at_design(const CornerModel& m) {
  return read_wheel(m, *m.linkage->solve(0, {}), Ground{});
}

/// A car whose two front corners are the given one, standing on a ground through its contact points.
AxleFigures planar_axle(const CornerGeometry& g, double tyre_radius, double arm_angle = 0.0,
                        const MechanismSpec& spec = hub_carrier()) {
  static const Car bare = [] {
    Car car;
    car.axles[0].mechanism = find_mechanism("hub_carrier");
    return car;
  }();
  CarModel model;
  model.car = &bare;
  AxlePose pose;
  for (const Side s : both_sides) {
    model.corners[0][at(s)] = test::model_of(spec, g, tyre_radius);
    pose.corner[at(s)] = *model.corner(End::front, s).linkage->solve(arm_angle, {});
  }
  Ground ground;
  ground.offset = -read_wheel(model.corner(End::front, Side::left), pose.corner[0], ground).contact.z();
  return read_axle(model, End::front, pose, ground);
}

// ISO 8855 and SAE J670, from memory: camber negative = top inward; toe positive = toe-in.
TEST(CamberAndToe, FollowIso8855) {
  Axle wheel;
  wheel.camber_deg = -2.0;
  wheel.toe_deg = 1.5;
  const Vec3 a = wheel.spin_axis();
  EXPECT_GT(a.z(), 0) << "the left wheel's axle points up outboard when its top leans in";
  EXPECT_GT(a.x(), 0) << "and forward outboard when it toes in";
  CornerGeometry g = test::planar_front({});
  g.spin_axis = a;
  const WheelFigures w = at_design(test::model_of(hub_carrier(), g));
  EXPECT_NEAR(degrees(w.camber_rad), -2.0, 1e-12);
  EXPECT_NEAR(degrees(w.toe_rad), 1.5, 1e-12);
}

// Geometry: kingpin through the wheel centre, caster 4 degrees, radius 32 mm: trail 32 tan 4 = 2.23766 mm.
TEST(MechanicalTrail, OfFourDegreesOfCasterIsRadiusTimesTangent) {
  PlanarCorner l;
  l.caster_rad = radians(4.0);
  const WheelFigures w = at_design(test::model_of(hub_carrier(), test::planar_front(l), 32.0));
  ASSERT_TRUE(w.kingpin);
  EXPECT_NEAR(degrees(w.kingpin->caster_rad), 4.0, 1e-12);
  EXPECT_NEAR(w.kingpin->trail_mm, 2.23766, 5e-6);
  EXPECT_NEAR(w.kingpin->scrub_mm, 0.0, 1e-12);
}

// Rodrigues; small-angle form in Dixon, Suspension Geometry and Computation (from memory): caster 4 degrees, no
// inclination, 20 degrees of steer about the kingpin: 1.36710 degrees, negative on the outer wheel (small
// angle: 1.36808).
TEST(CamberFromCaster, AtTwentyDegreesOfSteerIsThePublishedValue) {
  const Vec3 kingpin(-std::sin(radians(4.0)), 0, std::cos(radians(4.0)));
  for (const double steer : {20.0, -20.0}) {
    const Vec3 spin = rotation_about(kingpin, Turn::by(radians(steer))) * Vec3::UnitY();
    const double camber = -degrees(std::asin(spin.z()));
    // Steered to the right (negative) the left wheel is the outer one and leans in.
    EXPECT_NEAR(camber, steer < 0 ? -1.36710 : 1.36710, 5e-6);
    EXPECT_NEAR(std::abs(camber), 1.36808, 2e-3);
  }
}

TEST(CamberFromCaster, ComesOutOfTheWholeLinkageToo) {
  PlanarCorner l;
  l.caster_rad = radians(4.0);
  const CornerModel m = test::model_of(hub_carrier(), test::planar_front(l), 32.0);
  // Find the rack at which the knuckle has turned 20 degrees about its kingpin.
  const Vec3 kingpin = (m.linkage->solve(0, {})->kingpin_upper - m.linkage->solve(0, {})->kingpin_lower).normalized();
  double low = 0, high = 15;
  const auto turned = [&](double rack) {
    const Vec3 spin = m.linkage->solve(0, rack_input(Side::left, rack))->spin_axis;
    const Vec3 across = (Vec3::UnitY() - kingpin * kingpin.y()).normalized();
    const Vec3 now = (spin - kingpin * kingpin.dot(spin)).normalized();
    return degrees(std::atan2(across.cross(now).dot(kingpin), across.dot(now)));
  };
  const double sign = turned(1.0) > 0 ? 1.0 : -1.0;
  for (int i = 0; i < 80; ++i) (sign * turned(0.5 * (low + high)) < 20.0 ? low : high) = 0.5 * (low + high);
  const double camber = degrees(read_wheel(m, *m.linkage->solve(0, rack_input(Side::left, low)), Ground{}).camber_rad);
  EXPECT_NEAR(std::abs(camber), 1.36710, 5e-6);
}

// Milliken & Milliken, Race Car Vehicle Dynamics; Dixon (from memory): parallel links at angle p from the horizontal
// put the roll centre at half track x tan p; parallel and level links put it on the ground.
TEST(RollCentre, OfParallelLinksIsHalfTrackTimesTangent) {
  for (const double p : {0.0, 3.0, -2.0, 8.0}) {
    const double fall = std::tan(radians(p));  // links fall outboard
    PlanarCorner l;
    l.arm_inner = {20, 12};
    l.arm_outer = {65, 12 - 45 * fall};
    l.link_inner = {30, 36};
    l.link_outer = {75, 36 - 45 * fall};
    l.tie_inner = {25, 24};
    l.tie_outer = {70, 24 - 45 * fall};
    const AxleFigures f = planar_axle(test::planar_front(l), 32.0);
    ASSERT_TRUE(f.roll_centre.moving && f.roll_centre.drawn && f.roll_centre.locked);
    EXPECT_NEAR(f.roll_centre.moving->height, l.wheel_y * fall, 1e-7);
    EXPECT_NEAR(f.roll_centre.locked->height, l.wheel_y * fall, 1e-7);
    EXPECT_NEAR(f.roll_centre.drawn->height, l.wheel_y * fall, 1e-7);
    EXPECT_FALSE(f.roll_centre.construction[0].instant_centre) << "parallel links meet at infinity";
    EXPECT_NEAR(f.wheel[0].camber_gain_rad_per_mm, 0.0, 1e-12);
  }
}

// Kennedy's theorem of three centres, any mechanism text: in a planar car the velocity of the contact point is across
// the line to the crossing of the two links, so the roll centre in 3D is the drawn one.
TEST(RollCentre, OfAPlanarCarIsTheDrawnOne) {
  std::mt19937 random(31);
  std::uniform_real_distribution<double> shake(-3, 3);
  for (int i = 0; i < 100; ++i) {
    PlanarCorner l;
    for (Eigen::Vector2d* p : {&l.arm_inner, &l.arm_outer, &l.link_inner, &l.link_outer})
      *p += Eigen::Vector2d(shake(random), shake(random));
    const MechanismSpec& spec = *find_mechanism("solid_hub");
    const AxleFigures f = planar_axle(test::planar_corner(spec, l), 32.0, 0.02, spec);
    ASSERT_TRUE(f.roll_centre.moving && f.roll_centre.drawn);
    EXPECT_NEAR(f.roll_centre.moving->height, f.roll_centre.drawn->height, 1e-7);
    EXPECT_NEAR(f.roll_centre.moving->across, 0.0, 1e-7);
  }
}

TEST(RollCentre, ByHandForOneDrawing) {
  // Lower link from (20, 10) level; upper link from (30, 34) rising 0.1 outboard: they meet at y = 30 - 24/0.1 = -210,
  // z = 10. Contact at (82, -6): the line to the instant centre rises 16 over 292, so at y = 0 it is 82 x 16/292 up.
  PlanarCorner l;
  l.arm_inner = {20, 10};
  l.arm_outer = {65, 10};
  l.link_inner = {30, 34};
  l.link_outer = {62, 37.2};
  const AxleFigures f = planar_axle(test::planar_front(l), 32.0);
  ASSERT_TRUE(f.roll_centre.drawn && f.roll_centre.construction[0].instant_centre);
  EXPECT_NEAR(f.roll_centre.construction[0].instant_centre->across, -210.0, 1e-9);
  EXPECT_NEAR(f.roll_centre.construction[0].instant_centre->height, 16.0, 1e-9);
  EXPECT_NEAR(f.roll_centre.drawn->height, 82.0 * 16.0 / 292.0, 1e-9);
  // The same swing arm gives the camber gain: 1/292 rad per mm at the contact; per wheel-centre height also, to first
  // order.
  EXPECT_NEAR(f.wheel[0].camber_gain_rad_per_mm, -1.0 / 292.0, 1e-9);
}

// Milliken, Dixon (from memory): a tie rod on the line to the instant centre has no bump steer to first order; with the
// length that makes its inner ball the matching point, none to second order.
TEST(BumpSteer, VanishesForATieRodThatAimsAtTheInstantCentre) {
  PlanarCorner l;
  l.arm_inner = {20, 10};
  l.arm_outer = {65, 10};
  l.link_inner = {30, 34};
  l.link_outer = {62, 37.2};
  const Eigen::Vector2d centre(-210, 10);
  l.tie_outer = {66, 22};
  l.tie_inner = l.tie_outer + (centre - l.tie_outer).normalized() * 38;
  const WheelFigures aimed = at_design(test::model_of(hub_carrier(), test::planar_front(l)));
  EXPECT_NEAR(aimed.bump_steer_rad_per_mm, 0.0, 1e-12);
  l.tie_outer += Eigen::Vector2d(0, 1);
  const WheelFigures off = at_design(test::model_of(hub_carrier(), test::planar_front(l)));
  EXPECT_GT(std::abs(off.bump_steer_rad_per_mm), 1e-4);
}

TEST(ContactPoint, IsTheLowestPointOfTheTyre) {
  std::mt19937 random(33);
  std::uniform_real_distribution<double> lean(-0.15, 0.15);
  for (int i = 0; i < 50; ++i) {
    const Vec3 spin = Vec3(lean(random), 1, lean(random)).normalized();
    const Vec3 up = Vec3(lean(random) / 5, lean(random), 1).normalized();
    for (const double crown : {0.0, 40.0}) {
      const Tyre tyre{32, 26, crown};
      const Vec3 c = contact_point(tyre, Vec3::Zero(), spin, up);
      // Search the whole surface: rings across the tread, each at its own radius.
      double lowest = 1e9;
      const Vec3 u = spin.unitOrthogonal();
      const Vec3 v = spin.cross(u);
      for (int ring = -50; ring <= 50; ++ring) {
        const double across = crown > 0 ? 13.0 * ring / 50 : 0.0;
        const double radius = crown > 0 ? 32 - crown + std::sqrt(crown * crown - across * across) : 32;
        for (int k = 0; k < 3600; ++k) {
          const double t = k * pi / 1800;
          lowest = std::min(lowest, (across * spin + radius * (std::cos(t) * u + std::sin(t) * v)).dot(up));
        }
      }
      EXPECT_NEAR(c.dot(up), lowest, 5e-3);
      EXPECT_LE(c.dot(up), lowest + 1e-9);
    }
  }
}

TEST(LineCrossing, OfParallelLinesIsNone) {
  const FrontLine a = line_through({0, 0}, {10, 1});
  EXPECT_FALSE(crossing(a, line_through({0, 5}, {10, 6})));
  const auto met = crossing(a, line_through({0, 5}, {10, 0}));
  ASSERT_TRUE(met);
  EXPECT_NEAR(met->height, met->across * 0.1, 1e-12);
}

TEST(FigureList, HasUniqueNamesAndReadsEveryFigureOfEveryCar) {
  std::set<std::string_view> ids;
  for (const FigureSpec& f : geometry_figures()) EXPECT_TRUE(ids.insert(f.id).second) << f.id;
  for (const Car& car : test::every_shipped_car()) {
    const auto v = evaluate(car, kit_setup(car), {.servo_rad = radians(8.0)}, 21);
    ASSERT_TRUE(v) << v.error().message;
    for (const FigureSpec& f : geometry_figures())
      for (const End e : both_ends)
        for (const Side side : both_sides)
          if (applies(f, car, e)) {
            const auto value = f.read(v->source, e, side);
            // Centres of parallel lines lie at infinity; everything else has a value.
            const bool may_be_far = f.without() == "at infinity" || f.without() == "parallel";
            ASSERT_TRUE(value || may_be_far) << car.id << ": " << f.id;
            EXPECT_TRUE(std::isfinite(value.value_or(0.0))) << car.id << ": " << f.id;
          }
  }
}

TEST(ASymmetricCar, HasTheSameFiguresLeftAndRight) {
  for (const Car& car : test::every_shipped_car()) {
    const auto v = evaluate(car, kit_setup(car), {}, 21);
    ASSERT_TRUE(v) << v.error().message;
    for (const FigureSpec& f : geometry_figures())
      for (const End e : both_ends) {
        // A servo stands on one side of the car: its lock and the wheels' headings differ for honest reasons.
        if (!applies(f, car, e) || f.group == FigureGroup::lock) continue;
        const auto left = f.read(v->source, e, Side::left);
        const auto right = f.read(v->source, e, Side::right);
        ASSERT_EQ(left.has_value(), right.has_value()) << f.id;
        // The worst over the lock is no mirror image either.
        if (left && f.group != FigureGroup::shaft) {
          EXPECT_NEAR(*left, *right, 1e-6) << car.id << ": " << f.id;
        }
      }
  }
}

}  // namespace
}  // namespace lowkite
