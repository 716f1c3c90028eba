// Facts of the trade, reproduced on the shipped cars. All of them are common practice, no source.
#include <gtest/gtest.h>

#include "core/bench/gauges.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

using Values = std::vector<std::pair<const char*, double>>;

test::CarSetup setup_of(const Car& car, const Values& values) {
  test::CarSetup s = kit_setup(car);
  for (const auto& [id, value] : values) {
    const PartHandle i = car.find_adjuster(id);
    if (!i) throw std::runtime_error(id);
    s.of(i) = {value, value};
  }
  return s;
}

/// The kit against the kit with these parts, angles put back exactly.
Comparison changed(const Car& car, const Values& values) {
  auto c = compare(car, kit_setup(car), setup_of(car, values), {}, {.step_turns = 0}, 41);
  if (!c) throw std::runtime_error(c.error().why.message);
  return std::move(*c);
}

double figure(const Variant& v, const char* id, End end) {
  return *find_figure(id)->read(v.source, end, Side::left);
}

double read(const Car& car, const Variant& v, GaugeKind kind, End end) {
  for (const Gauge& g : gauges_of(car))
    if (g.kind == kind && g.end == end) return *reading(g, v.model, v.source, {}, Side::left);
  throw std::logic_error("no such gauge");
}

/// Tie rod, left, in the plan view: its angle against straight across, rad.
double plan_angle(const Variant& v) {
  const CornerModel& corner = v.model.corner(End::front, Side::left);
  const CornerPose& pose = v.pose.axle[0].corner[0];
  const Vec3 rod = point_in_chassis(corner, pose, corner.spec->point("tie_outer")) -
                   point_in_chassis(corner, pose, corner.spec->point("tie_inner"));
  return std::atan2(rod.x(), rod.y());
}

double toe_over_compression(const Variant& v, End end) {
  double at_ride_height = 0.0, compressed = 0.0;
  for (const CurvePoint& p : v.source.curve[at(end)].points) {
    if (std::abs(p.bump_mm) < 0.13) at_ride_height = p.toe_rad[0];
    compressed = p.toe_rad[0];
  }
  return degrees(compressed - at_ride_height);
}

TEST(HalfAMillimetreMoreAxleHeight, TakesThatMuchDroopAndTheDownStopGivesItBack) {
  const Car car = test::touring();
  const Comparison c = changed(car, {{"rear_hub_shims", 1.0}});
  EXPECT_NEAR(figure(*c.baseline, "droop", End::rear) - figure(*c.aligned, "droop", End::rear), 0.5, 0.08);
  // Screw out until the droop is back, and read the gauge.
  double low = -4.0, high = 0.0;
  const PartHandle screw = car.find_adjuster("rear_droop_screw");
  std::shared_ptr<const Variant> found;
  for (int i = 0; i < 30; ++i) {
    test::CarSetup s = c.aligned->setup;
    const double turns = 0.5 * (low + high);
    s.of(screw) = {turns, turns};
    auto v = evaluate(car, s, {}, 5);
    ASSERT_TRUE(v);
    (figure(*v, "droop", End::rear) > figure(*c.baseline, "droop", End::rear) ? low : high) = turns;
    found = std::make_shared<const Variant>(std::move(*v));
  }
  const double down =
      read(car, *c.baseline, &gauge::down_stop, End::rear) - read(car, *found, &gauge::down_stop, End::rear);
  EXPECT_NEAR(down, 0.5, 0.12) << "a little less than half: the gauge stands inboard of the wheel";
  // The re-set finds the same place of the screw by itself, to the eighth of a turn that a hand can do.
  ASSERT_EQ(c.bench->droop.size(), 2U);
  for (const DroopStep& s : c.bench->droop) {
    EXPECT_NEAR(s.exact, 0.5 * (low + high), 0.03) << "droop by the tyre's lowest point, not by the hub";
    EXPECT_NEAR(s.by, s.exact, 0.0626);
  }
  EXPECT_NEAR(figure(*c.reset, "droop", End::rear), figure(*c.baseline, "droop", End::rear), 0.1);
  // The collars have to lift what the hub let down, through the shock's motion ratio.
  ASSERT_TRUE(c.bench->collar_mm[at(End::rear)][0]);
  EXPECT_NEAR(*c.bench->collar_mm[at(End::rear)][0], 0.5 * figure(*c.baseline, "motion_ratio", End::rear), 0.12)
      << "and a little more: the spring is pressed by another lever";
}

TEST(AThinnerArm, ReadsHigherForTheSameDroop) {
  const Car car = test::touring();
  const Comparison c = changed(car, {{"front_arm", 1}});
  EXPECT_NEAR(figure(*c.changed, "droop", End::front), figure(*c.baseline, "droop", End::front), 1e-12);
  const double higher =
      read(car, *c.changed, &gauge::down_stop, End::front) - read(car, *c.baseline, &gauge::down_stop, End::front);
  EXPECT_GE(higher, 0.2);
  EXPECT_LE(higher, 0.3);
}

TEST(AToeLink, GainsALittleToeWithoutShimsAndLosesMoreWithTwoMillimetres) {
  for (const char* name : {"godwit-ta"}) {
    const Car car = test::shipped(name);
    const Comparison c = changed(car, {{"rear_toe_outer_shims", 2.0}});
    const double without = toe_over_compression(*c.baseline, End::rear);
    const double with = toe_over_compression(*c.reset, End::rear);
    EXPECT_GT(without, 0.0) << name;
    EXPECT_LT(without, 0.2) << name;
    EXPECT_LT(with, -0.2) << name;
    EXPECT_GT(with, -0.5) << name;
    EXPECT_NEAR(figure(*c.reset, "toe", End::rear), figure(*c.baseline, "toe", End::rear), 1e-6) << "static toe re-set";
  }
}

TEST(TwoMillimetresOfWheelbase, AreTwoMillimetresOfShimAtADirectServoSaver) {
  const Car car = test::shipped("sanderling-12");
  const Comparison moved = changed(car, {{"front_wheelbase", 1}});
  EXPECT_GT(std::abs(plan_angle(*moved.changed) - plan_angle(*moved.baseline)), radians(1.5)) << "the links swing";
  const Comparison shimmed = changed(car, {{"front_wheelbase", 1}, {"front_saver_shims", 6.0}});
  EXPECT_NEAR(plan_angle(*shimmed.changed), plan_angle(*shimmed.baseline), 1e-9) << "and are put back";
  EXPECT_NEAR(figure(*shimmed.changed, "toe", End::front), figure(*shimmed.baseline, "toe", End::front), 1e-9);
}

TEST(TheOtherSteeringHole, NeedsFiveMillimetresShorterLinksAndThreeLessShim) {
  const Car car = test::shipped("sanderling-12");
  const Comparison c = changed(car, {{"front_tie_outer_hole", 1}, {"front_saver_shims", 1.0}});
  double shorter = 0.0;
  for (const ResetStep& s : c.work.steps)
    if (s.holds == LinkHolds::toe && s.side == Side::left) shorter = -s.mm;
  EXPECT_NEAR(shorter, 5.0, 0.1);
  EXPECT_NEAR(plan_angle(*c.reset), plan_angle(*c.baseline), radians(0.5));
}

TEST(AServoOneMillimetreHigher, NeedsOneMillimetreMoreShimAgainstBumpSteer) {
  const Car car = test::shipped("sanderling-12");
  const Comparison raised = changed(car, {{"servo_height", 2.0}});
  const Comparison shimmed = changed(car, {{"servo_height", 2.0}, {"front_tie_outer_shims", 2.0}});
  const double kit = figure(*raised.baseline, "bump_steer", End::front);
  EXPECT_GT(std::abs(figure(*raised.reset, "bump_steer", End::front) - kit), 0.05);
  EXPECT_NEAR(figure(*shimmed.reset, "bump_steer", End::front), kit, 0.012);
}

TEST(MovingTheShockOutward, TakesDroopAndALongerEyeletGivesItBack) {
  const Car car = test::buggy();
  const auto inner = changed(car, {{"rear_shock_lower_hole", 0}}).changed;
  const auto outer = changed(car, {{"rear_shock_lower_hole", 1}}).changed;
  const auto longer = changed(car, {{"rear_shock_lower_hole", 1}, {"rear_shock_eyelet", 1}}).changed;
  EXPECT_LT(figure(*outer, "droop", End::rear), figure(*inner, "droop", End::rear) - 1.0);
  EXPECT_GT(figure(*longer, "droop", End::rear), figure(*outer, "droop", End::rear) + 1.0);
}

TEST(LayingTheShockDown, SoftensItAndMakesItMoreProgressive) {
  const Car car = test::touring();
  const Comparison c = changed(car, {{"front_shock_upper_hole", 0}});
  EXPECT_LT(figure(*c.changed, "motion_ratio", End::front), figure(*c.baseline, "motion_ratio", End::front));
  EXPECT_GT(figure(*c.changed, "motion_ratio_change", End::front),
            figure(*c.baseline, "motion_ratio_change", End::front));
}

TEST(InboardToe, AlsoMovesTheShockAndOutboardToeDoesNot) {
  const Car car = test::touring();
  const Comparison inboard = changed(car, {{"rear_pin_rear_insert", 4}});  // "out"
  EXPECT_GT(std::abs(figure(*inboard.changed, "motion_ratio", End::rear) -
                     figure(*inboard.baseline, "motion_ratio", End::rear)),
            5e-4);
  EXPECT_GT(figure(*inboard.changed, "track", End::rear), figure(*inboard.baseline, "track", End::rear) + 0.2);
  // Outboard, by the toe link of another car: track and shock stay.
  const Car linked = test::shipped("godwit-ta");
  const Comparison outboard = changed(linked, {});
  test::CarSetup s = kit_setup(linked);
  s.of(linked.find_adjuster("rear_toe_link")) = {1.0, 1.0};
  const auto v = evaluate(linked, s, {}, 5);
  ASSERT_TRUE(v);
  EXPECT_GT(std::abs(figure(*v, "toe", End::rear) - figure(*outboard.baseline, "toe", End::rear)), 1.0);
  EXPECT_NEAR(figure(*v, "motion_ratio", End::rear), figure(*outboard.baseline, "motion_ratio", End::rear), 1e-3);
}

TEST(SpacersAheadOfTheArm, MakeTheWheelbaseLonger) {
  const Car car = test::touring();
  const Comparison c = changed(car, {{"rear_wheelbase_spacers", 2.0}});
  EXPECT_NEAR(figure(*c.changed, "wheelbase", End::rear) - figure(*c.baseline, "wheelbase", End::rear), 1.0, 0.05);
}

TEST(CasterByTwoUpperLinks, FollowsTheTurnbuckles) {
  const Car car = test::shipped("godwit-ta");
  const Comparison c = changed(car, {{"front_upper_front_link", 1.0}, {"front_upper_rear_link", -1.0}});
  EXPECT_GT(figure(*c.changed, "caster", End::front), figure(*c.baseline, "caster", End::front) + 1.0)
      << "front link longer, rear link shorter: the upper ball goes back";
}

TEST(ASwingingUpperArm, ChangesItsCasterWithTravel) {
  const Car car = test::shipped("sanderling-12");
  const auto v = evaluate(car, kit_setup(car), {}, 5);
  ASSERT_TRUE(v);
  EXPECT_GT(std::abs(figure(*v, "caster_gain", End::front)), 0.02);
}

TEST(MoreKickUp, IsLessAntiDive) {
  Car car = test::buggy();
  car.axles[0].braked_share = 0.4;  // as with front brakes
  const Comparison c = changed(car, {{"front_kick_up", 2}});
  EXPECT_LT(figure(*c.changed, "anti_braking", End::front), figure(*c.baseline, "anti_braking", End::front));
}

}  // namespace
}  // namespace lowkite
