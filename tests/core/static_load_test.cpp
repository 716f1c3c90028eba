// Weights on the wheels, springs under them, the push of an axle that is pulled down, and the lift of a bar.
#include "core/load/static_load.hpp"

#include <gtest/gtest.h>

#include "core/bench/gauges.hpp"
#include "core/load/bar.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

Variant standing(const Car& car, const std::vector<std::tuple<const char*, double, double>>& values = {}) {
  test::CarSetup s = kit_setup(car);
  for (const auto& [id, left, right] : values) s.of(car.find_adjuster(id)) = {left, right};
  auto v = evaluate(car, s, {}, 5);
  if (!v) throw std::runtime_error(v.error().message);
  return std::move(*v);
}

double read(const Car& car, const Variant& v, GaugeKind kind, End end, Side side = Side::left) {
  for (const Gauge& g : gauges_of(car))
    if (g.kind == kind && g.end == end) return *reading(g, v.model, v.source, {}, side);
  throw std::logic_error("no such gauge on this car");
}

// Statics, Milliken ch. 18 (from memory): forces add up to the weight, their moments about any axle vanish.
TEST(WheelLoads, BalanceTheWeightAtItsCentreOfGravity) {
  for (Car car : test::every_shipped_car()) {
    car.cg_y_mm = 1.5;
    const Variant v = standing(car);
    const auto loads = wheel_loads(v.model, v.source.standing);
    ASSERT_TRUE(loads) << car.id;
    double sum = 0.0, pitch = 0.0, roll = 0.0;
    for (const End e : both_ends)
      for (const Side s : both_sides) {
        const double n = (*loads)[at(e)][at(s)];
        const Vec3& c = v.source.standing.axle[at(e)].wheel[at(s)].contact;
        sum += n;
        pitch += n * (c.x() - *car.cg_x_mm);
        roll += n * ((s == Side::left ? c.y() : -c.y()) - car.cg_y_mm);
      }
    EXPECT_NEAR(sum, car.mass_kg * gravity_m_s2, 1e-9);
    EXPECT_NEAR(pitch, 0.0, 0.05) << car.id;
    EXPECT_NEAR(roll, 0.0, 0.05) << car.id;
    EXPECT_GT((*loads)[0][0], (*loads)[0][1]) << "the weight lies to the left";
  }
}

TEST(TheSpring, HoldsTheWheelByVirtualWork) {
  const Car car = test::touring();
  const Variant v = standing(car);
  const CornerModel& corner = v.model.corner(End::front, Side::left);
  const auto pose = pose_axle(v.model, End::front, static_attitude(v.model));
  const Ground ground = ground_under(car, static_attitude(v.model));
  const auto s = spring_under(v.model, End::front, Side::left, pose->corner[0], ground, 4.0);
  ASSERT_TRUE(s);
  // The shock's shortening against the contact's rise, by differences over the arm's angle.
  const auto lengths = [&](double arm_angle) {
    const auto p = corner.linkage->solve(arm_angle, {});
    return std::pair(distance_between(corner, *p, attachment::shock_upper, attachment::shock_lower),
                     ground.height(contact_point(corner.tyre, p->wheel_centre, p->spin_axis, ground.up)));
  };
  const double angle = pose->corner[0].arm_angle;
  const double shortens = -test::slope_of([&](double a) { return lengths(a).first; }, angle, 1e-3);
  const double rises = test::slope_of([&](double a) { return lengths(a).second; }, angle, 1e-3);
  EXPECT_NEAR(s->motion_ratio, shortens / rises, 1e-8);
  EXPECT_NEAR(s->force_n * shortens, (4.0 - car.axles[0].unsprung_kg * gravity_m_s2) * rises, 1e-6);
  EXPECT_NEAR(s->length_mm, 22.0 - s->force_n / 0.49, 1e-9);
}

TEST(AHarderSpring, NeedsItsCollarHigherForTheSameHeight) {
  const Car car = test::touring();
  const double medium = read(car, standing(car), &gauge::collar, End::front);
  const double hard = read(car, standing(car, {{"front_spring", 2, 2}}), &gauge::collar, End::front);
  const double soft = read(car, standing(car, {{"front_spring", 0, 0}}), &gauge::collar, End::front);
  EXPECT_LT(hard, medium) << "pressed less, it stays longer, and its collar stands nearer to the upper pin";
  EXPECT_GT(soft, medium);
}

TEST(AnAxle, CarriesItsWeightAndPushesHarderWhenPulledDown) {
  const Car car = test::touring();
  const Variant v = standing(car);
  const auto loads = wheel_loads(v.model, v.source.standing);
  for (const End e : both_ends) {
    const double still = *axle_push(v.model, v.source.standing, e, 0.0);
    EXPECT_NEAR(still, (*loads)[at(e)][0] + (*loads)[at(e)][1], 1e-9);
    const double pulled = *axle_push(v.model, v.source.standing, e, 2.0);
    // Two springs through their motion ratios: 2 k MR^2 a millimetre, the ratio's own change aside.
    const double mr = v.source.standing.axle[at(e)].parts[0].shock->motion_ratio;
    const double k = v.model.corner(e, Side::left).geometry.size_of(Size::spring_rate);
    EXPECT_NEAR(pulled - still, 2.0 * 2.0 * k * mr * mr, 0.12);
  }
}

// Common practice, no source: the bar's two sides must lift at the same height; a longer link on one side makes them
// differ, and quarter turns of its ball put them right.
TEST(ABarWithEqualLinks, LiftsAtTheSameHeightAndUnequalOnesDoNot) {
  const Car car = test::touring();
  const Variant equal = standing(car);
  const double left = read(car, equal, &gauge::bar_lift, End::front, Side::left);
  EXPECT_NEAR(left, read(car, equal, &gauge::bar_lift, End::front, Side::right), 1e-9);
  EXPECT_GT(left, read(car, equal, &gauge::down_stop, End::front)) << "the links' play is lifted through first";
  const Variant uneven = standing(car, {{"front_bar_link", 0.5, 0.0}});
  const double l = read(car, uneven, &gauge::bar_lift, End::front, Side::left);
  const double r = read(car, uneven, &gauge::bar_lift, End::front, Side::right);
  EXPECT_GT(std::abs(l - r), 0.1);
}

TEST(ABarWithoutPlay, LiftsTheOtherArmAtOnce) {
  Car car = test::touring();
  car.axles[0].bar->play_mm = 0.0;
  const Variant v = standing(car);
  EXPECT_NEAR(read(car, v, &gauge::bar_lift, End::front), read(car, v, &gauge::down_stop, End::front), 1e-6);
}

TEST(TheBarsAngle, KeepsItsLinksLength) {
  const Car car = test::touring();
  const Variant v = standing(car, {{"front_bar_link", 1.0, 1.0}});
  const CornerModel& corner = v.model.corner(End::front, Side::left);
  for (const double travel : {-3.0, 0.0, 4.0}) {
    const auto pose = pose_at_travel(corner, travel, {});
    const auto angle = bar_angle(v.model, End::front, Side::left, *pose);
    ASSERT_TRUE(angle);
    const BarHolder& bar = *car.axles[0].bar;
    const Vec3 pivot(bar.pivot_x_mm, 0, bar.pivot_z_mm);
    const Vec3& kit = corner.geometry.kit[attachment::bar_end];
    const Vec3 end = pivot + Eigen::AngleAxisd(*angle, Vec3::UnitY()) * (kit - pivot);
    const double kit_link = (kit - corner.geometry.kit[attachment::bar_arm]).norm();
    EXPECT_NEAR((end - point_in_chassis(corner, *pose, attachment::bar_arm)).norm(), kit_link + 0.5, 1e-9)
        << "a whole turn of half a millimetre pitch";
  }
}

}  // namespace
}  // namespace lowkite
