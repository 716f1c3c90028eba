// The car on its springs: against statics, the textbook's split of load transfer, finite differences of energy, and its
// own mirror image.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/io/car_file.hpp"
#include "core/load/balance.hpp"
#include "core/load/bar.hpp"
#include "core/load/damper.hpp"
#include "core/load/scales.hpp"
#include "core/measure/sweep.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

TEST(Spring, HasTheRateOfItsWire) {
  // Shigley, Mechanical Engineering Design, ex. 10-1 (from memory): d 0.037 in, D 0.400 in, 10.5 active coils,
  // G 11.85 Mpsi: 4.131 lbf/in = 0.72347 N/mm.
  constexpr double in = 25.4;
  const double psi = 4.4482216152605 / (in * in);
  EXPECT_NEAR(helical_rate(0.037 * in, 0.400 * in, 10.5, 11.85e6 * psi), 0.72347, 2e-4);
  EXPECT_NEAR(newton_per_mm_of_lbf_per_in(4.131), 0.72347, 5e-5);
  EXPECT_NEAR(newton_per_mm_of_gf_per_mm(50.0), 0.4903325, 1e-9);
}

TEST(Spring, WithTwoRatesIsItsOwnInverse) {
  const SpringLaw s{0.4, 0.9, 6.0};
  EXPECT_EQ(s.force(-1.0), 0.0) << "a loose spring does not pull";
  EXPECT_DOUBLE_EQ(s.force(6.0), 2.4);
  EXPECT_DOUBLE_EQ(s.force(8.0), 2.4 + 1.8);
  EXPECT_EQ(s.rate(7.0), 0.9);
  for (const double f : {0.5, 2.4, 5.0}) EXPECT_NEAR(s.force(s.compression(f)), f, 1e-12);
}

TEST(BarWire, TwistsAsRoarkSays) {
  // Roark's formulas, torsion of a round bar (from memory): G J / L for a wire of 1.2 mm, 60 mm long, G 81.5 GPa.
  EXPECT_NEAR(bar_stiffness(1.2, 60.0, 0.0), 276.52, 0.01);
  EXPECT_NEAR(bar_stiffness(1.2, 60.0, 18.0) / bar_stiffness(1.1, 60.0, 18.0), 1.4163, 1e-4) << "the fourth power";
  EXPECT_LT(bar_stiffness(1.2, 60.0, 18.0), bar_stiffness(1.2, 60.0, 0.0)) << "its arms bend";
}

class BalanceTest : public testing::Test {
 protected:
  void use(const Car& car, const CarSetup& setup) {
    car_ = car;
    auto built = build_model(car_, setup);
    ASSERT_TRUE(built);
    model_ = std::move(*built);
    auto loaded = LoadedCar::of(model_);
    ASSERT_TRUE(loaded) << loaded.error();
    loaded_.emplace(std::move(*loaded));
  }
  void SetUp() override {
    const auto car = load_car(data_path("cars/heron-tc190.kite-car.json"));
    ASSERT_TRUE(car);
    use(*car, kit_setup(*car));
  }
  Balance at_g(double lateral, double longitudinal = 0.0) {
    auto b = loaded_->balance(loaded_->level_collars(), {lateral, longitudinal});
    EXPECT_TRUE(b) << b.error();
    return *b;
  }
  double weight() const { return car_.mass_kg * gravity_m_s2; }
  Car car_;
  CarModel model_;
  std::optional<LoadedCar> loaded_;
};

TEST_F(BalanceTest, AtRestTheCarStandsAsItIsSetUp) {
  const Balance b = at_g(0.0);
  for (const End end : both_ends) EXPECT_NEAR(b.attitude.ride_height_mm[at(end)], model_.ride_height_mm[at(end)], 1e-5);
  EXPECT_NEAR(b.attitude.roll_rad, 0.0, 1e-8);
  EXPECT_NEAR(b.total_n(), weight(), 1e-4);
  EXPECT_NEAR(b.cross(), 0.5, 1e-6);
  // The same as the scales of the bench are told.
  const auto figures = figures_at(model_, static_attitude(model_));
  const auto scales = wheel_loads(model_, *figures);
  const auto collar = collar_place(model_, *figures, End::rear, Side::right);
  ASSERT_TRUE(scales && collar);
  for (const End end : both_ends)
    for (const Side side : both_sides)
      EXPECT_NEAR(b.wheel[at(end)][at(side)].load_n, (*scales)[at(end)][at(side)], 2e-3);
  EXPECT_NEAR(loaded_->level_collars()[at(End::rear)][at(Side::right)], *collar, 0.02);
}

TEST_F(BalanceTest, CarriesTheLoadTransferOfTheTextbook) {
  // Gillespie; Milliken & Milliken ch. 18 (from memory): m a h = sum of transfer times track, whatever the springs.
  for (const double g : {0.2, 0.8, 1.4}) {
    const Balance b = at_g(g);
    double moment = 0.0;
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const CornerPose& p = b.pose.axle[at(end)].corner[at(side)];
        const Ground ground = side == Side::left ? b.pose.ground : b.pose.ground.mirrored_frame();
        Vec3 contact = contact_point(model_.corner(end, side).tyre, p.wheel_centre, p.spin_axis, ground.up);
        if (side == Side::right) contact = mirrored(contact);
        moment -= b.wheel[at(end)][at(side)].load_n * contact.dot(b.pose.ground.left);
      }
    const Vec3 cg(*car_.cg_x_mm, car_.cg_y_mm, car_.cg_height_mm);
    const double expected = weight() * (g * b.pose.ground.height(cg) - cg.dot(b.pose.ground.left));
    EXPECT_NEAR(moment, expected, 1e-2 * g);
  }
}

TEST_F(BalanceTest, SharesItBetweenTheAxlesAsStiffnessAndRollCentresSay) {
  // Milliken & Milliken ch. 18 (from memory), small accelerations: each axle carries its share of the lateral force
  // over its roll centre's height at once, the rest by its share of the roll stiffness.
  constexpr double g = 0.02;
  const Balance b = at_g(g);
  const auto f = figures_at(model_, static_attitude(model_));
  ASSERT_TRUE(f);
  const auto x = [&](End e) {
    return 0.5 * (f->axle[at(e)].wheel[0].contact.x() + f->axle[at(e)].wheel[1].contact.x());
  };
  const double front = (*car_.cg_x_mm - x(End::rear)) / (x(End::front) - x(End::rear));
  const PerEnd<double> force{weight() * g * front, weight() * g * (1.0 - front)};
  PerEnd<double> centre{}, stiffness{};
  for (const End e : both_ends) {
    centre[at(e)] = f->axle[at(e)].roll_centre.moving->height;
    stiffness[at(e)] = loaded_->rates(e).roll_n_mm_per_deg;
  }
  const double cg = b.pose.ground.height({*car_.cg_x_mm, 0.0, car_.cg_height_mm});
  const double axis = front * centre[0] + (1.0 - front) * centre[1];
  const double rolling = weight() * g * (cg - axis);
  for (const End e : both_ends) {
    const double expected =
        (force[at(e)] * centre[at(e)] + rolling * stiffness[at(e)] / (stiffness[0] + stiffness[1])) /
        f->axle[at(e)].track_mm;
    EXPECT_NEAR(b.transfer_n(e) / expected, 1.0, 0.06) << name_of(e);
  }
  // Roll follows from the same two; gravity rolls the car on over its own height.
  const double roll = rolling / (stiffness[0] + stiffness[1] - weight() * (cg - axis) * radians(1.0));
  EXPECT_NEAR(degrees(b.attitude.roll_rad) / roll, 1.0, 0.06);
}

// Springs in series, any text: what an axle's tyres give is the load that moved, over their rate and half the track. A
// second model of such a car, with tyres, had 5 % more roll at 8 N/mm and 10 % at 4.
TEST_F(BalanceTest, TyresThatGiveLeanItFurther) {
  const double rigid = *loaded_->roll_gradient_deg_per_g();
  const auto on = [&](const TyreRate& rate) {
    for (Axle& axle : car_.axles) axle.tyre.rate = rate;
    return *loaded_->roll_on_tyres_deg_per_g();
  };
  const auto usual = on({8.0, 4.0, 1e9});
  EXPECT_NEAR(usual.on_hard, rigid, 1e-6);
  EXPECT_NEAR(usual.likely / rigid, 1.05, 0.02);
  EXPECT_NEAR((usual.on_soft - rigid) / (usual.likely - rigid), 2.0, 1e-6);
  const auto turn = loaded_->balance(loaded_->level_collars(), {0.05, 0.0});
  ASSERT_TRUE(turn);
  double leans = 0.0;
  for (const End end : both_ends) {
    const double track = 2.0 * turn->pose.axle[at(end)].corner[0].wheel_centre.y();
    leans += 0.5 * degrees(2.0 * turn->transfer_n(end) / 8.0 / track) / 0.05;
  }
  EXPECT_NEAR(usual.likely - rigid, leans, 0.02 * leans);
}

TEST_F(BalanceTest, TurningTheOtherWayIsTheMirrorImage) {
  const Balance left = at_g(1.1, -0.3);
  const Balance right = at_g(-1.1, -0.3);
  EXPECT_NEAR(left.attitude.roll_rad, -right.attitude.roll_rad, 1e-7);
  for (const End end : both_ends) {
    EXPECT_NEAR(left.attitude.ride_height_mm[at(end)], right.attitude.ride_height_mm[at(end)], 1e-4);
    EXPECT_NEAR(left.wheel[at(end)][0].load_n, right.wheel[at(end)][1].load_n, 1e-4);
  }
}

TEST_F(BalanceTest, WheelLoadsAreTheSlopeOfTheSpringsEnergy) {
  // Virtual work against finite differences: the car pressed down a hair stores the springs' and bars' work.
  const Collars& collars = loaded_->level_collars();
  const auto energy = [&](double down) {
    Attitude a = static_attitude(model_);
    for (double& h : a.ride_height_mm) h -= down;
    const auto pose = pose_car(model_, a);
    EXPECT_TRUE(pose);
    double sum = 0.0;
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const CornerModel& c = model_.corner(end, side);
        const CornerPose& p = pose->axle[at(end)].corner[at(side)];
        const double length = distance_between(c, p, attachment::shock_upper, attachment::shock_lower);
        const double in = c.geometry.size_of(Size::spring_free) -
                          (length - car_.axle(end).spring_seat_mm - collars[at(end)][at(side)]);
        sum += 0.5 * spring_of(c).rate_n_per_mm * in * in;
        // What the wheel's own weight gains against the chassis, which stays.
        sum += car_.axle(end).unsprung_kg * gravity_m_s2 * (p.wheel_centre.z());
      }
    return sum;
  };
  constexpr double h = 1e-3;
  const double slope = (energy(h) - energy(-h)) / (2.0 * h);
  EXPECT_NEAR(slope, weight(), 2e-3 * weight()) << "all four together carry the car";
}

// Of a system at rest, the energy changes with what a hand moves by that hand's work alone (Castigliano; any text): a
// collar that is turned on by a millimetre does its spring's force times a millimetre, wherever the car then stands.
TEST_F(BalanceTest, ATurnedCollarDoesTheWorkThatTheCarThenHolds) {
  Car bare = car_;
  for (Axle& axle : bare.axles) axle.bar.reset();
  use(bare, kit_setup(bare));
  const CarPose set_up = *pose_car(model_, static_attitude(model_));
  const auto energy = [&](const Collars& collars) {
    const auto stand = loaded_->balance(collars, {});
    EXPECT_TRUE(stand);
    const Ground& ground = stand->pose.ground;
    double sum = weight() * ground.height(*model_.mass.cg);
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const CornerModel& c = model_.corner(end, side);
        const CornerPose& p = stand->pose.axle[at(end)].corner[at(side)];
        const double length = distance_between(c, p, attachment::shock_upper, attachment::shock_lower);
        const double in = c.geometry.size_of(Size::spring_free) -
                          (length - car_.axle(end).spring_seat_mm - collars[at(end)][at(side)]);
        sum += 0.5 * spring_of(c).rate_n_per_mm * in * in;
        // The wheels count to the car's weight where they are as it is set up; from there each moves in the chassis.
        const Vec3 moved = p.wheel_centre - set_up.axle[at(end)].corner[at(side)].wheel_centre;
        sum += car_.axle(end).unsprung_kg * gravity_m_s2 * ground_of(ground, side).up.dot(moved);
      }
    return sum;
  };
  for (const double cross : {0.0, 1.5})
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        Collars collars = loaded_->level_collars();
        collars[0][0] += cross;  // a car that is twisted, too
        const auto stand = loaded_->balance(collars, {});
        ASSERT_TRUE(stand);
        constexpr double h = 0.05;
        double& turned = collars[at(end)][at(side)];
        turned += h;
        const double more = energy(collars);
        turned -= 2.0 * h;
        const double less = energy(collars);
        const double force = stand->wheel[at(end)][at(side)].spring_n;
        EXPECT_NEAR((more - less) / (2.0 * h), force, 2e-3 * force) << name_of(end) << ' ' << name_of(side);
      }
}

TEST_F(BalanceTest, BrakingLoadsTheFrontAndASofterBarRollsMore) {
  const Balance rest = at_g(0.0);
  const Balance braking = at_g(0.0, -0.5);
  EXPECT_GT(braking.axle_n(End::front), rest.axle_n(End::front));
  EXPECT_GT(braking.pitch_rad, 0.0);
  EXPECT_NEAR(braking.total_n(), weight(), 1e-3);
  // Common practice, no source: a softer bar at one end leaves more of the transfer to the other.
  const Balance stiff = at_g(1.0);
  Car soft = car_;
  soft.axles[0].size_of(Size::bar_wire) = 0.9;
  use(soft, kit_setup(soft));
  const Balance rolled = at_g(1.0);
  EXPECT_GT(rolled.attitude.roll_rad, stiff.attitude.roll_rad);
  EXPECT_LT(rolled.transfer_n(End::front), stiff.transfer_n(End::front));
  EXPECT_GT(rolled.transfer_n(End::rear), stiff.transfer_n(End::rear));
}

TEST_F(BalanceTest, AThirdSpringHoldsHeaveAndLeavesRollAlone) {
  const double roll = loaded_->rates(End::rear).roll_n_mm_per_deg;
  const double heave = loaded_->rates(End::rear).wheel_n_per_mm;
  Car third = car_;
  third.axles[1].size_of(Size::heave_rate) = 1.0;
  use(third, kit_setup(third));
  EXPECT_NEAR(loaded_->rates(End::rear).roll_n_mm_per_deg, roll, 0.02 * roll);
  EXPECT_GT(loaded_->rates(End::rear).wheel_n_per_mm, heave + 0.05);
}

// Before, half of it was told both ways: 0.347 where it is 0.463 pressed and 0.231 going out.
TEST_F(BalanceTest, AThirdSpringIsToldPressedAndGoingOut) {
  const AxleRates without = loaded_->rates(End::rear);
  EXPECT_FALSE(without.wheel_n_per_mm_going_out);
  Car third = car_;
  third.axles[1].size_of(Size::heave_rate) = 0.8;
  use(third, kit_setup(third));
  const AxleRates with = loaded_->rates(End::rear);
  ASSERT_TRUE(with.wheel_n_per_mm_going_out);
  EXPECT_NEAR(*with.wheel_n_per_mm_going_out, without.wheel_n_per_mm, 0.02 * without.wheel_n_per_mm);
  EXPECT_NEAR(with.wheel_n_per_mm, without.wheel_n_per_mm + with.heave_n_per_mm, 0.02 * with.wheel_n_per_mm);
  // Half a swing on each rate: the frequency lies between those of the two.
  EXPECT_GT(with.ride_hz, without.ride_hz);
  EXPECT_LT(with.ride_hz, without.ride_hz * std::sqrt(with.wheel_n_per_mm / *with.wheel_n_per_mm_going_out));
}

TEST_F(BalanceTest, OneCollarTurnedShowsAsCrossWeightAndComesBack) {
  Collars twisted = loaded_->level_collars();
  twisted[at(End::front)][at(Side::left)] += 0.5;
  const auto b = loaded_->balance(twisted, {});
  ASSERT_TRUE(b) << b.error();
  EXPECT_GT(b->cross(), 0.5) << "that corner and the one across carry more";
  EXPECT_GT(b->wheel[1][1].load_n, at_g(0.0).wheel[1][1].load_n);
  EXPECT_NEAR(b->total_n(), weight(), 1e-3);
  // The collars for what it stands at now, level, are not those; for the plan they are.
  const auto back = loaded_->collars_for(model_.ride_height_mm, 0.5);
  ASSERT_TRUE(back);
  EXPECT_EQ(*back, loaded_->level_collars());
  const auto crossed = loaded_->collars_for(model_.ride_height_mm, 0.52);
  ASSERT_TRUE(crossed);
  const auto stands = loaded_->balance(*crossed, {});
  ASSERT_TRUE(stands);
  EXPECT_NEAR(stands->cross(), 0.52, 1e-5);
  EXPECT_NEAR(stands->attitude.roll_rad, 0.0, 1e-6);
}

TEST_F(BalanceTest, AWheelLiftsOnItsDroopScrewAndComesBackDown) {
  Balance b = at_g(0.0);
  bool lifted = false;
  for (double g = 0.1; g < 2.2; g += 0.1) {
    const auto next = loaded_->balance(loaded_->level_collars(), {g, 0.6}, 0.0, &b);
    if (!next) break;
    b = *next;
    EXPECT_GT(b.wheel[0][1].load_n, 0.0) << "the outer wheel never";
    lifted = lifted || b.wheel[0][0].lifted;
    EXPECT_NEAR(b.total_n() + b.plate_n, weight(), 1e-3);
  }
  EXPECT_TRUE(lifted) << "the inner front wheel on power";
  EXPECT_FALSE(at_g(0.3, 0.0).wheel[0][0].lifted);
}

TEST_F(BalanceTest, ScalesSayWhichCollarAndHowFar) {
  Collars twisted = loaded_->level_collars();
  twisted[at(End::front)][at(Side::left)] += 0.7;
  const auto grams_of = [&](const Collars& collars) {
    const auto b = loaded_->balance(collars, {});
    EXPECT_TRUE(b);
    PerEnd<PerSide<double>> g{};
    for (const End end : both_ends)
      for (const Side side : both_sides) g[at(end)][at(side)] = grams(b->wheel[at(end)][at(side)].load_n);
    return g;
  };
  const auto advice = explain_scales(*loaded_, grams_of(twisted));
  ASSERT_TRUE(advice);
  EXPECT_GT(advice->cross, 0.503);
  EXPECT_LT(advice->collar_mm[at(End::front)], 0.0) << "the left collar comes back up";
  EXPECT_NEAR(advice->aside_mm, 0.0, 0.05) << "a collar moves no weight";
  EXPECT_NEAR(advice->ahead_mm, 0.0, 0.3);
  for (const End end : both_ends) {
    Collars mended = twisted;
    mended[at(end)][at(Side::left)] += advice->collar_mm[at(end)];
    mended[at(end)][at(Side::right)] -= advice->collar_mm[at(end)];
    const auto b = loaded_->balance(mended, {});
    ASSERT_TRUE(b);
    EXPECT_NEAR(b->cross(), 0.5, 0.0015) << name_of(end);
  }
  // Statics: 10 g more on both left wheels is a centre of gravity to the left.
  auto heavy = grams_of(loaded_->level_collars());
  for (auto& axle : heavy) axle[at(Side::left)] += 10.0;
  const double half_track = 0.5 * 165.5;
  EXPECT_NEAR(explain_scales(*loaded_, heavy)->aside_mm, 20.0 * half_track / 1370.0, 0.02);
  EXPECT_FALSE(explain_scales(*loaded_, {}));
}

TEST_F(BalanceTest, DampingAtTheWheelIsThePistonsThroughTheMotionRatio) {
  const auto f = figures_at(model_, static_attitude(model_));
  for (const End end : both_ends) {
    const AxleRates r = loaded_->rates(end);
    ASSERT_TRUE(r.damping_n_s_per_mm && r.damping_ratio);
    const double ratio = f->axle[at(end)].parts[0].shock->motion_ratio;
    EXPECT_NEAR(*r.damping_n_s_per_mm / (damper_rate({10.0, 3.0, 1.1, 2.0}, {400.0}) * ratio * ratio), 1.0, 0.02);
    // sqrt(k/m)/2 pi and c / 2 sqrt(k m), any vibration text: the two share k and m.
    const double k = 1000.0 * r.wheel_n_per_mm;
    const double mass = k / std::pow(2.0 * std::numbers::pi * r.ride_hz, 2);
    EXPECT_NEAR(*r.damping_ratio, 1000.0 * *r.damping_n_s_per_mm / (2.0 * std::sqrt(k * mass)), 1e-9);
  }
}

TEST_F(BalanceTest, TipsOverWhereNoTrackHoldsIt) {
  const auto b = loaded_->balance(loaded_->level_collars(), {3.0, 0.0});
  ASSERT_FALSE(b);
  EXPECT_NE(b.error().message.find("tip"), std::string::npos);
}

// Milliken & Milliken ch. 16 to 18 (from memory): springs alone resist roll as k t^2 / 2, with the track at the ground;
// and what they carry hangs about the roll centre. With the track of the wheel centres it would be 0.5 to 1.2 % less.
TEST(Balance, RollStiffnessIsThatOfSpringsATrackApart) {
  for (const Car& car : every_shipped_car()) {
    const auto model = build_model(car, kit_setup(car));
    ASSERT_TRUE(model);
    const auto loaded = LoadedCar::of(*model);
    ASSERT_TRUE(loaded) << loaded.error();
    const auto f = figures_at(*model, static_attitude(*model));
    const auto rest = loaded->balance(loaded->level_collars(), {});
    ASSERT_TRUE(f && rest);
    for (const End end : both_ends) {
      if (!model->corner(end, Side::left).spec->independent) continue;
      const AxleRates r = loaded->rates(end);
      const double track = f->axle[at(end)].track_mm;
      const double springs = r.roll_n_mm_per_deg - r.roll_by_bar_n_mm_per_deg;
      const double carried = rest->wheel[at(end)][0].load_n + rest->wheel[at(end)][1].load_n;
      const double expected =
          0.5 * r.wheel_n_per_mm * track * track + carried * f->axle[at(end)].roll_centre.moving->height;
      EXPECT_NEAR(springs / radians(1.0) / expected, 1.0, 0.003) << car.name << ", " << name_of(end);
    }
  }
}

TEST(Balance, SaysWhatACarFileDoesNotTell) {
  const auto refused = [](const Car& car) {
    const auto model = build_model(car, kit_setup(car));
    EXPECT_TRUE(model);
    const auto loaded = LoadedCar::of(*model);
    return loaded ? CarFailure{} : loaded.error();
  };
  Car pan = shipped("sanderling-12");
  pan.axles[0].size_of(Size::kingpin_spring) = 0.0;
  EXPECT_EQ(refused(pan).message, "the car file tells no spring on the front axle");
  EXPECT_EQ(refused(pan).end, End::front) << "and where that is";
  pan = shipped("sanderling-12");
  pan.axles[1].size_of(Size::side_rate) = 0.0;
  EXPECT_NE(refused(pan).message.find("no side springs on the rear axle"), std::string::npos);
  EXPECT_EQ(refused(pan).end, End::rear);
  pan = shipped("sanderling-12");
  pan.mass_kg = 0.0;
  EXPECT_NE(refused(pan).message.find("no mass"), std::string::npos);
  EXPECT_FALSE(refused(pan).end) << "that is of the whole car";
}

TEST(AThirdDamper, WorksInHeaveAndNotInRoll) {
  Car car = test::touring();
  for (Axle& axle : car.axles) axle.size_of(Size::heave_damping) = 0.0;
  const auto rates = [&] {
    const auto model = build_model(car, kit_setup(car));
    const auto loaded = LoadedCar::of(*model);
    return std::pair(loaded->rates(End::front), loaded->roll_motion()->damping_ratio);
  };
  const auto [plain, roll_before] = rates();
  ASSERT_TRUE(plain.damping_n_s_per_mm && plain.roll_damping_n_s_per_mm);
  EXPECT_NEAR(*plain.damping_n_s_per_mm, *plain.roll_damping_n_s_per_mm, 1e-12);
  car.axles[0].size_of(Size::heave_damping) = 0.2;
  const auto [third, roll_after] = rates();
  const auto model = build_model(car, kit_setup(car));
  const auto pose = pose_car(*model, static_attitude(*model));
  const double ratio = *shock_per_contact(model->corner(End::front, Side::left), pose->axle[0].corner[0], pose->ground);
  EXPECT_NEAR(*third.damping_n_s_per_mm - *plain.damping_n_s_per_mm, 0.5 * 0.2 * ratio * ratio, 1e-12)
      << "half of it at each wheel, through the motion ratio twice";
  EXPECT_EQ(*third.roll_damping_n_s_per_mm, *plain.roll_damping_n_s_per_mm);
  EXPECT_GT(*third.damping_ratio, *plain.damping_ratio);
  EXPECT_EQ(*roll_after, *roll_before);
}

}  // namespace
}  // namespace lowkite::test
