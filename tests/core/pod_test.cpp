// Springs on kingpins, under spacers and on a pod: against statics, the textbook's roll stiffness of two springs,
// finite differences of energy, and what racers find.
#include <gtest/gtest.h>

#include <cmath>

#include "core/bench/gauges.hpp"
#include "core/boxes/boxes.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/load/balance.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/sensitivity.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

class PanCar : public testing::Test {
 protected:
  void SetUp() override { use(shipped("sanderling-12")); }
  void use(const Car& car) {
    car_ = car;
    auto built = build_model(car_, kit_setup(car_));
    ASSERT_TRUE(built);
    model_ = std::move(*built);
    auto loaded = LoadedCar::of(model_);
    ASSERT_TRUE(loaded) << loaded.error();
    loaded_.emplace(std::move(*loaded));
  }
  Balance under(const Acceleration& a, const Collars& collars) {
    auto b = loaded_->balance(collars, a);
    EXPECT_TRUE(b) << b.error();
    return b ? *b : Balance{};
  }
  Balance under(const Acceleration& a) { return under(a, loaded_->level_collars()); }
  double weight() const { return model_.mass.kg * gravity_m_s2; }
  /// Of the left wheel's contact, in the car.
  Vec3 contact(const Balance& b, End end, Side side) const {
    const CornerPose& p = b.pose.axle[at(end)].corner[at(side)];
    const Vec3 c =
        contact_point(model_.corner(end, side).tyre, p.wheel_centre, p.spin_axis, ground_of(b.pose.ground, side).up);
    return side == Side::left ? c : mirrored(c);
  }
  Car car_;
  CarModel model_;
  std::optional<LoadedCar> loaded_;
};

TEST_F(PanCar, AtRestItStandsAsItIsSetUp) {
  const Balance b = under({});
  EXPECT_NEAR(b.total_n(), weight(), 1e-3);
  EXPECT_NEAR(b.cross(), 0.5, 1e-6);
  EXPECT_NEAR(b.attitude.roll_rad, 0.0, 1e-7);
  for (const End e : both_ends) EXPECT_NEAR(b.attitude.ride_height_mm[at(e)], model_.ride_height_mm[at(e)], 1e-4);
  for (const End e : both_ends)
    for (const Side s : both_sides) EXPECT_NEAR(b.pose.ground.height(contact(b, e, s)), 0.0, 1e-7);
}

TEST_F(PanCar, CarriesTheLoadTransferOfTheTextbook) {
  // Gillespie; Milliken & Milliken ch. 18 (from memory): m a h = sum of transfer times track, whatever the springs.
  for (const double g : {0.1, 0.5, 0.9}) {
    const Balance b = under({g, 0.0});
    double moment = 0.0;
    for (const End end : both_ends)
      for (const Side side : both_sides)
        moment -= b.wheel[at(end)][at(side)].load_n * contact(b, end, side).dot(b.pose.ground.left);
    for (const End end : both_ends)
      for (const double edge : {-1.0, 1.0}) {
        const Vec3 p(car_.gauge_x_mm[at(end)], edge * car_.plate_half_width_mm[at(end)], 0.0);
        moment += contact_rate * smooth_above_zero(-b.pose.ground.height(p), kink_mm) * -p.dot(b.pose.ground.left);
      }
    const Vec3 cg = *model_.mass.cg;
    const double expected = weight() * (g * b.pose.ground.height(cg) - cg.dot(b.pose.ground.left));
    EXPECT_NEAR(moment, expected, 1e-2 * g);
  }
}

TEST_F(PanCar, ItsSideSpringsHoldTheRollThatTwoSpringsSideBySideHold) {
  // Two springs of rate k at a distance y from the middle: 2 k y^2 (any mechanics text). Gravity takes a little off.
  const double k = car_.axles[1].size_of(Size::side_rate);
  const double y = car_.axles[1].points[0][attachment::side_upper].y();
  const double expected = 2.0 * k * y * y * radians(1.0);
  EXPECT_NEAR(loaded_->rates(End::rear).roll_n_mm_per_deg / expected, 1.0, 0.06);
  Car softer = car_;
  softer.axles[1].size_of(Size::side_rate) *= 0.5;
  const Balance before = under({0.4, 0.0});
  use(softer);
  const Balance after = under({0.4, 0.0});
  EXPECT_GT(after.attitude.roll_rad, before.attitude.roll_rad);
  EXPECT_LT(after.transfer_n(End::rear), before.transfer_n(End::rear)) << "less roll stiffness, less load transfer";
  EXPECT_GT(after.transfer_n(End::front), before.transfer_n(End::front));
}

TEST_F(PanCar, RollsOnThePodAboutTheAxisThroughItsPivot) {
  const auto f = figures_at(model_, static_attitude(model_));
  ASSERT_TRUE(f);
  // Level, that axis lies as high as the pivot does over the ground.
  const double pivot = car_.axles[1].points[0].front().z() + model_.ride_height_mm[1];
  EXPECT_NEAR(f->axle[1].roll_centre.moving->height, pivot, 0.3);
  EXPECT_NEAR(f->axle[1].roll_centre.moving->across, 0.0, 1e-9);
}

TEST_F(PanCar, TheStandFoundIsALowestPointOfItsEnergy) {
  // Screws and spacers turned against each other: no symmetry helps. Springs and weights against finite differences.
  Collars collars = loaded_->level_collars();
  collars[0][0] += 0.3;
  collars[1][0] += 0.35;
  collars[1][1] -= 0.15;
  const Balance b = under({}, collars);
  const double left_down = 0.5 * (collars[1][0] - collars[1][1]);
  const auto rest = pose_car(model_, static_attitude(model_));
  ASSERT_TRUE(rest);
  const auto energy = [&](const Attitude& a) {
    const auto pose = pose_car(model_, a);
    EXPECT_TRUE(pose);
    double sum = 0.0, wheels_kg = 0.0;
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const CornerModel& c = model_.corner(end, side);
        const CornerPose& p = pose->axle[at(end)].corner[at(side)];
        const auto size = [&](Size s) { return c.geometry.size_of(s); };
        const double collar = end == End::front ? collars[0][at(side)] : 0.5 * (collars[1][0] + collars[1][1]);
        const double length = end == End::front
                                  ? size(Size::kingpin_spring) - p.slide_mm
                                  : distance_between(c, p, attachment::shock_upper, attachment::shock_lower);
        const double in = size(Size::spring_free) - (length - car_.axle(end).spring_seat_mm - collar);
        sum += (end == End::front ? 0.5 : 0.25) * size(Size::spring_rate) * in * in;
        if (end == End::rear) {
          const auto side_mm = [&](const CornerPose& q) {
            return distance_between(c, q, attachment::side_upper, attachment::side_lower);
          };
          const double pressed = size(Size::side_preload) + side_mm(rest->axle[1].corner[at(side)]) - side_mm(p) +
                                 (side == Side::left ? left_down : -left_down);
          EXPECT_GT(pressed, 0.0);
          sum += 0.5 * size(Size::side_rate) * pressed * pressed;
        }
        const double kg = car_.axle(end).unsprung_kg;
        wheels_kg += kg;
        const Ground ground = ground_of(pose->ground, side);
        // The whole weight is counted at the centre of gravity, which goes with the chassis: what a wheel does besides
        // is its own rise against the chassis.
        sum += kg * gravity_m_s2 * ground.up.dot(p.wheel_centre - rest->axle[at(end)].corner[at(side)].wheel_centre);
      }
    return sum + weight() * pose->ground.height(*model_.mass.cg);
  };
  constexpr double h = 2e-3;
  for (int i = 0; i < 3; ++i) {
    Attitude up = b.attitude, down = b.attitude;
    if (i < 2) {
      up.ride_height_mm[at(i)] += h;
      down.ride_height_mm[at(i)] -= h;
    } else {
      up.roll_rad += h / 80.0;
      down.roll_rad -= h / 80.0;
    }
    EXPECT_NEAR((energy(up) - energy(down)) / (2.0 * h), 0.0, 0.01) << "coordinate " << i << ", N of " << weight();
  }
}

TEST_F(PanCar, TurningTheOtherWayIsTheMirrorImage) {
  const Balance left = under({0.6, 0.2});
  const Balance right = under({-0.6, 0.2});
  EXPECT_NEAR(left.attitude.roll_rad, -right.attitude.roll_rad, 1e-6);
  for (const End e : both_ends) EXPECT_NEAR(left.wheel[at(e)][0].load_n, right.wheel[at(e)][1].load_n, 1e-4);
}

TEST_F(PanCar, ThePodsInnerWheelLiftsAndComesBack) {
  Car tall = car_;
  tall.cg_height_mm = 45.0;
  tall.axles[1].size_of(Size::side_rate) *= 6.0;
  use(tall);
  const auto inner = [&](double g) { return under({g, 0.0}).wheel[1][0]; };
  double before = inner(0.0).load_n;
  bool lifted = false;
  for (double g = 0.2; g < 1.31; g += 0.1) {
    const WheelState w = inner(g);
    EXPECT_LE(w.load_n, before + 1e-6) << g;
    before = w.load_n;
    lifted |= w.lifted;
  }
  EXPECT_TRUE(lifted);
  const Balance high = under({1.3, 0.0});
  EXPECT_NEAR(high.total_n() + high.plate_n, weight(), 1e-3);
  EXPECT_EQ(high.wheel[1][0].load_n, 0.0);
  EXPECT_GT(high.pose.ground.height(contact(high, End::rear, Side::left)), 0.0) << "it hangs in the air";
  const auto down = loaded_->balance(loaded_->level_collars(), {0.1, 0.0}, 0.0, &high);
  ASSERT_TRUE(down);
  EXPECT_FALSE(down->wheel[1][0].lifted);
}

TEST_F(PanCar, TheMiddleCollarLiftsAndTheSideScrewsTwist) {  // common practice, no source
  const Balance rest = under({});
  const auto moves = collar_moves(car_);
  EXPECT_EQ(moves[0].holder, SpringHolder::spacers);
  EXPECT_EQ(moves[2].what, CollarMove::What::middle);
  EXPECT_EQ(moves[3].what, CollarMove::What::side_screws);
  const auto moved = [&](const CollarMove& m, double mm) {
    Collars c = loaded_->level_collars();
    for (const Side s : both_sides) c[at(m.end)][at(s)] += mm * m.per_mm[at(s)];
    return under({}, c);
  };
  const Balance raised = moved(moves[2], 0.5);
  EXPECT_GT(raised.attitude.ride_height_mm[1], rest.attitude.ride_height_mm[1] + 0.3);
  EXPECT_NEAR(raised.cross(), 0.5, 1e-6);
  const Balance tweaked = moved(moves[3], 0.2);
  EXPECT_GT(tweaked.wheel[1][0].load_n, rest.wheel[1][0].load_n) << "its left spring presses the left wheel down";
  EXPECT_LT(tweaked.cross(), 0.499);
  EXPECT_NEAR(moves[3].part_of({0.2, -0.2}), 0.2, 1e-12);
  EXPECT_NEAR(moves[2].part_of({0.2, -0.2}), 0.0, 1e-12);
}

TEST_F(PanCar, ATwistAskedForIsTheTwistThatComes) {
  for (const double cross : {0.49, 0.515}) {
    const auto collars = loaded_->collars_for(model_.ride_height_mm, cross);
    ASSERT_TRUE(collars) << collars.error();
    const Balance b = under({}, *collars);
    EXPECT_NEAR(b.cross(), cross, 2e-4);
    EXPECT_NEAR(b.attitude.ride_height_mm[1], model_.ride_height_mm[1], 0.02);
  }
}

// Before, unequal shims gave the halves of one axle two pitches (wheelbase 98.08 and 97.92), and roll leant its wheels
// by 0.0027 deg.
// Trigonometry in the middle plane: the pod turns about its pivot until its shock is at its full length.
TEST(APodsDroop, IsHowFarItsShockLetsItDown) {
  for (const auto& [id, length_mm] : {std::pair("sanderling-12", 69.3), std::pair("wren-28", 28.6)}) {
    const Car car = test::shipped(id);
    const test::CarSetup kit = kit_setup(car);
    const auto v = evaluate(car, kit, {}, coarse_curve);
    ASSERT_TRUE(v) << id;
    const CornerModel& corner = v->model.corner(End::rear, Side::left);
    const CornerPose& at_rest = v->pose.axle[1].corner[0];
    const Vec3 pivot = point_in_chassis(corner, at_rest, corner.spec->point("pod_pivot"));
    const Vec3 upper = point_in_chassis(corner, at_rest, attachment::shock_upper);
    const Vec3 lower = point_in_chassis(corner, at_rest, attachment::shock_lower);
    const auto turned = [&](const Vec3& p, double by) {
      const double x = p.x() - pivot.x(), z = p.z() - pivot.z();
      return Vec3(pivot.x() + x * std::cos(by) - z * std::sin(by), p.y(),
                  pivot.z() + x * std::sin(by) + z * std::cos(by));
    };
    double none = 0.0, far = 0.3;
    const bool longer_that_way = (turned(lower, 0.01) - upper).norm() > (lower - upper).norm();
    if (!longer_that_way) far = -far;
    for (int i = 0; i < 60; ++i) {
      const double middle = 0.5 * (none + far);
      ((turned(lower, middle) - upper).norm() < length_mm ? none : far) = middle;
    }
    const double low = -(turned(at_rest.wheel_centre, none).z() - corner.tyre.radius_mm);
    const auto stops = stops_of(car, kit, End::rear, Side::left);
    ASSERT_TRUE(stops);
    EXPECT_EQ(stops->droop.kind, StopKind::shock_extended) << id;
    EXPECT_NEAR(stops->hanging_wheel_low_mm, low, 1e-6) << id;
    EXPECT_NEAR(stops->droop.from_ride_height_mm, at_rest.wheel_centre.z() - turned(at_rest.wheel_centre, none).z(),
                1e-6)
        << id;
    // It is a figure, a gauge and a step of the bench, like a wheel's on an arm.
    EXPECT_TRUE(applies(*find_figure("droop"), car, End::rear));
    EXPECT_TRUE(gauge::tyre_droop.means_something(car, End::rear));
    EXPECT_FALSE(gauge::down_stop.means_something(car, End::rear)) << "there is no arm to lay it under";
    Gauge at_the_tyre;
    at_the_tyre.kind = &gauge::tyre_droop;
    at_the_tyre.end = End::rear;
    EXPECT_NEAR(*reading(at_the_tyre, v->model, v->source, {}, Side::left), low, 1e-6);
    const auto a = answer(car, kit, at_the_tyre, Side::left, low - 1.0, {});
    ASSERT_TRUE(a);
    const PartHandle spacers = car.find_adjuster("rear_shock_spacers");
    if (!spacers) {
      EXPECT_EQ(a->verdict, GaugeAnswer::Verdict::no_part) << "no screw and no spacer sets it";
      continue;
    }
    // Done as it is told, it hangs as it should.
    ASSERT_EQ(a->verdict, GaugeAnswer::Verdict::turn);
    ASSERT_EQ(a->adjusters, std::vector<PartHandle>{spacers});
    EXPECT_LT(a->told, 0.0) << "hanging too little: one comes out";
    double before = 1e9;
    for (const double mm : car.adjusters[spacers].range()->stops) {
      test::CarSetup with = kit;
      with.of(spacers) = {mm, mm};
      const auto hangs = stops_of(car, with, End::rear, Side::left);
      ASSERT_TRUE(hangs);
      EXPECT_LT(hangs->hanging_wheel_low_mm, before) << "each spacer takes droop";
      before = hangs->hanging_wheel_low_mm;
    }
  }
}

TEST(TheOnlyShockOfAPod, HasOneOfEveryPartAndAFileThatTellsTwoIsReadByItsLeft) {
  for (const char* id : {"sanderling-12", "wren-28"}) {
    const Car car = test::shipped(id);
    int once = 0;
    for (const PartHandle i : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[i];
      const bool middle = a.end == End::rear && !a.steering &&
                          (a.place() == attachment::shock_upper || a.place() == attachment::shock_lower);
      if (!middle) continue;
      ++once;
      EXPECT_TRUE(a.one_piece()) << id << " " << a.id;
      EXPECT_EQ(pieces_for(car, i), 1) << id << " " << a.id;
      test::CarSetup apart = kit_setup(car);
      apart.values[i] = {a.most(), a.least()};
      const auto read = read_setup(write_setup(apart, car, Json()), "apart", car);
      ASSERT_TRUE(read) << id << " " << a.id;
      EXPECT_EQ(read->setup.values[i].left, a.most());
      EXPECT_EQ(read->setup.values[i].right, a.most()) << id << " " << a.id;
    }
    EXPECT_GE(once, 1) << id;
    for (const Adjuster& a : car.adjusters) EXPECT_FALSE(a.once && a.end == End::front) << a.id;
  }
}

TEST(ASolidAxle, IsOneLineWhateverIsUnderIt) {
  for (const char* id : {"sanderling-12", "wren-28"}) {
    const Car car = shipped(id);
    for (const Adjuster& a : car.adjusters) {
      if (a.end != End::rear || !a.moves_geometry()) continue;
      CarSetup setup = kit_setup(car);
      Setting& s = setup.of(car.find_adjuster(a.id));
      s.left = a.stepped(a.kit, 1);
      s.right = a.stepped(a.kit, -1);
      const auto model = build_model(car, setup);
      ASSERT_TRUE(model) << a.id;
      for (const double roll_deg : {-2.0, 0.0, 1.5})
        for (const double lower : {-0.5, 0.0, 0.5}) {
          Attitude attitude = static_attitude(*model);
          attitude.roll_rad = radians(roll_deg);
          attitude.ride_height_mm[1] -= lower;
          const auto pose = pose_car(*model, attitude);
          ASSERT_TRUE(pose) << id << ' ' << a.id;
          const CornerPose& l = pose->axle[1].corner[0];
          const CornerPose& r = pose->axle[1].corner[1];
          EXPECT_EQ(l.arm_angle, r.arm_angle) << "one pod, one pitch";
          const Vec3 line = (l.wheel_centre - mirrored(r.wheel_centre)).normalized();
          EXPECT_NEAR((l.spin_axis - line).norm(), 0.0, 2e-5) << id << ' ' << a.id;
          EXPECT_NEAR((mirrored(r.spin_axis) + line).norm(), 0.0, 2e-5) << id << ' ' << a.id;
          const CarFigures f = read_car(*model, *pose, attitude);
          const bool alike = model->corner(End::rear, Side::left).tyre.radius_mm ==
                             model->corner(End::rear, Side::right).tyre.radius_mm;
          for (const Side side : both_sides)
            EXPECT_NEAR(alike ? degrees(f.axle[1].wheel[at(side)].camber_rad) : 0.0, 0.0, 1e-3)
                << id << ' ' << a.id << ": wheels of one size on level ground stand upright";
        }
    }
  }
}

TEST(AKingpinsSlide, IsItsOwnDerivativeAndMeetsItsStops) {
  const Car car = shipped("sanderling-12");
  const auto model = build_model(car, kit_setup(car));
  ASSERT_TRUE(model);
  const CornerModel& c = model->corner(End::front, Side::left);
  const auto slide = [&](double angle) { return c.linkage->solve(angle, {})->slide_mm; };
  constexpr double h = 1e-4;
  for (const double angle : {-0.05, 0.0, 0.06})
    EXPECT_NEAR((slide(angle + h) - slide(angle - h)) / (2.0 * h), c.linkage->solve(angle, {})->slide_per_arm, 1e-5);
  EXPECT_NEAR(slide(0.0), 0.0, 0.7) << "shims have moved its ends against the design";
  const auto standing = pose_car(*model, static_attitude(*model));
  ASSERT_TRUE(standing);
  const CornerStops stops = find_stops(*model, End::front, Side::left, standing->axle[0].corner[0], {});
  ASSERT_NE(stops.find(StopKind::slide_low), nullptr);
  EXPECT_NEAR(slide(stops.find(StopKind::slide_low)->arm_angle), -0.8, 1e-9);
  EXPECT_NEAR(slide(stops.find(StopKind::slide_high)->arm_angle), 2.2, 1e-9);
}

class Mini : public testing::Test {
 protected:
  double droop(const Variant& v) const { return *find_figure("droop")->read(v.source, End::front, Side::left); }
  /// Of a height at the front gauge point, with the rear one staying.
  double at_axle(double higher) const {
    return higher * car_.gauge_x_mm[1] / (car_.gauge_x_mm[1] - car_.gauge_x_mm[0]);
  }
  Comparison with(const char* id, double value) const {
    CarSetup changed = kit_setup(car_);
    Setting& s = changed.of(car_.find_adjuster(id));
    for (const Side side : both_sides) s.on(side) = value;
    auto c = compare(car_, kit_setup(car_), changed, {}, {}, 5);
    EXPECT_TRUE(c);
    return std::move(*c);
  }
  Car car_ = shipped("wren-28");
};

TEST_F(Mini, MorePreloadStandsHigherAndDroopsLessByAsMuch) {  // common practice, no source
  const Comparison c = with("front_spring_spacers", 0.7);
  const auto ratio = shock_per_contact(c.baseline->model.corner(End::front, Side::left),
                                       c.baseline->pose.axle[0].corner[0], c.baseline->pose.ground);
  const double higher = c.reset->setup.ride_height_mm[0] - c.baseline->setup.ride_height_mm[0];
  // The load stays, so does the spring's length: what is put under it lifts the end by the motion ratio.
  EXPECT_NEAR(at_axle(higher), 0.1 / *ratio, 0.01);
  EXPECT_NEAR(droop(*c.baseline) - droop(*c.reset), at_axle(higher), 0.005);
  EXPECT_NEAR(c.reset->setup.ride_height_mm[1], c.baseline->setup.ride_height_mm[1], 1e-12) << "the pod has a collar";
}

TEST_F(Mini, ASofterSpringSagsMore) {  // common practice, no source
  const Comparison c = with("front_springs", 0);
  EXPECT_LT(c.reset->setup.ride_height_mm[0], c.baseline->setup.ride_height_mm[0] - 0.1);
  EXPECT_GT(droop(*c.reset), droop(*c.baseline) + 0.1);
}

TEST_F(Mini, TooMuchPreloadLeavesNoDroopAndLiftsNoFurther) {  // common practice, no source
  const Comparison c = with("front_spring_spacers", 1.5);
  EXPECT_NEAR(droop(*c.reset), 0.0, 0.03) << "to less than a gauge could tell";
  EXPECT_NEAR(at_axle(c.reset->setup.ride_height_mm[0] - c.baseline->setup.ride_height_mm[0]), droop(*c.baseline),
              0.03);
}

TEST_F(Mini, WhatMovesItTellsTheDroopOfASpacer) {
  const auto s = sensitivity(car_, kit_setup(car_), End::front, true, {});
  ASSERT_TRUE(s);
  const int droop = s->find("droop");
  for (const SensitivityRow& row : s->rows)
    if (car_.adjusters[row.adjuster].id == "front_spring_spacers") {
      EXPECT_LT(*row.change[at(droop)], -0.05);
      return;
    }
  FAIL() << "no row for the spacers";
}

TEST(CollarsLeftAlone, ACarSitsWhereItsBalanceIs) {
  const Car car = shipped("heron-tc190");
  for (const auto& [id, end, by] :
       {std::tuple("front_spring", End::front, -1.0), std::tuple("rear_hub_shims", End::rear, 0.5)}) {
    CarSetup other = kit_setup(car);
    Setting& part = other.of(car.find_adjuster(id));
    for (const Side s : both_sides) part.on(s) += by;
    const auto c = compare(car, kit_setup(car), other, {}, {}, 5);
    ASSERT_TRUE(c);
    const auto before = LoadedCar::of(c->baseline->model);
    const auto after = LoadedCar::of(c->aligned->model);
    ASSERT_TRUE(before && after);
    const auto sits = after->balance(before->level_collars(), {});
    ASSERT_TRUE(sits);
    const double lower = c->baseline->setup.ride_height_mm[at(end)] - sits->attitude.ride_height_mm[at(end)];
    EXPECT_GT(lower, 0.2) << id;
    EXPECT_NEAR(*c->sits_lower_mm[at(end)], lower, 0.1 * lower) << id << ": the other end is taken to stay";
  }
}

TEST(ALongerEyelet, LiftsTheCarWithItsCollarsLeftAlone) {
  const Car car = shipped("heron-tc190");
  CarSetup longer = kit_setup(car);
  Setting& eyelet = longer.of(car.find_adjuster("front_shock_eyelet"));
  for (const Side s : both_sides) eyelet.on(s) = 1;
  const auto c = compare(car, kit_setup(car), longer, {}, {}, 5);
  ASSERT_TRUE(c);
  const auto ratio = shock_per_contact(c->baseline->model.corner(End::front, Side::left),
                                       c->baseline->pose.axle[0].corner[0], c->baseline->pose.ground);
  const double eyelet_mm = 1.0;
  EXPECT_NEAR(*c->sits_lower_mm[0], -eyelet_mm / *ratio, 0.15);
  const auto& collar = c->bench->collar_mm[0][0];
  ASSERT_TRUE(collar);
  EXPECT_NEAR(*collar, -eyelet_mm, 0.02) << "or its collar goes up by as much";
}

}  // namespace
}  // namespace lowkite::test
