// The path through a corner, and the car as a heavy body.
#include <gtest/gtest.h>

#include <cmath>

#include "core/figures/figures.hpp"
#include "core/figures/load_source.hpp"
#include "core/load/bar.hpp"
#include "core/load/corner_path.hpp"
#include "core/load/mass_figures.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

class OnSprings : public testing::Test {
 protected:
  void SetUp() override {
    car_ = touring();
    setup_ = kit_setup(car_);
    fresh();
  }
  void fresh() {
    auto built = build_model(car_, setup_);
    ASSERT_TRUE(built);
    model_ = std::move(*built);
    auto loaded = LoadedCar::of(model_);
    ASSERT_TRUE(loaded) << loaded.error();
    loaded_.emplace(std::move(*loaded));
  }
  LoadSource at_g(double lateral, double longitudinal = 0.0) {
    auto s = read_load(*loaded_, {lateral, longitudinal});
    EXPECT_TRUE(s) << s.error();
    return *s;
  }
  void set(const char* id, int steps) {
    const PartHandle i = car_.find_adjuster(id);
    for (const Side side : both_sides) {
      double& v = setup_.of(i).on(side);
      v = car_.adjusters[i].stepped(v, steps);
    }
    fresh();
  }
  Car car_;
  CarSetup setup_;
  CarModel model_;
  std::optional<LoadedCar> loaded_;
};

TEST_F(OnSprings, AShockLaidDownSoftensRoll) {
  // Common practice, no source: laying a shock down softens it in roll.
  const double before = loaded_->rates(End::front).roll_n_mm_per_deg;
  set("front_shock_upper_hole", -1);
  EXPECT_LT(loaded_->rates(End::front).roll_n_mm_per_deg, before);
}

TEST_F(OnSprings, WeightBackLoadsTheRear) {
  // Common practice, no source: motor and battery moved back for traction on loose ground.
  const double before = at_g(0.0).balance.axle_n(End::rear);
  set("battery_place", 1);
  EXPECT_GT(at_g(0.0).balance.axle_n(End::rear), before);
}

TEST_F(OnSprings, AHigherAxleCarriesMoreThroughItsLinks) {
  // Common practice, no source: a higher axle lowers the car on it until the collars are turned; less grip at that end.
  const double before = *at_g(0.0).balance.roll_centre_mm[at(End::rear)];
  set("rear_arm_shims", 2);
  EXPECT_GT(*at_g(0.0).balance.roll_centre_mm[at(End::rear)], before);
}

TEST_F(OnSprings, FiguresUnderLoadBelongTogether) {
  const LoadSource s = at_g(0.8);
  const auto value = [&](const char* id, End end = End::front) { return find_figure(id)->read(s, end, Side::left); };
  EXPECT_NEAR(*value("front_weight"), 100.0 * s.balance.axle_n(End::front) / s.balance.total_n(), 1e-9);
  EXPECT_NEAR(*value("roll_axis_slope"), *value("roll_centre_then", End::rear) - *value("roll_centre_then"), 1e-9);
  EXPECT_NEAR(*value("left_weight"), 100.0 * s.balance.left(), 1e-9);
  ASSERT_TRUE(value("roll_frequency") && value("roll_damping_ratio"));
  EXPECT_GT(*value("roll_frequency"), s.rates[0].ride_hz) << "two bars beside the springs";
  EXPECT_EQ(find_figure("lap_time"), nullptr);
}

TEST_F(OnSprings, ThroughACornerTheLoadGoesWhereTheCarIsAsked) {
  const auto path = through_corner(*loaded_, loaded_->level_collars(), {1.0, 0.4, 0.3, true}, 21);
  ASSERT_EQ(path.size(), 21u);
  EXPECT_EQ(path.front().phase, CornerPhase::entry);
  EXPECT_EQ(path.back().phase, CornerPhase::exit);
  EXPECT_NEAR(path.front().a.longitudinal_g, -0.4, 1e-12);
  EXPECT_NEAR(path.back().a.longitudinal_g, 0.3, 1e-12);
  for (const PathPoint& p : path) ASSERT_TRUE(p.balance) << p.along;
  const Balance& entry = *path[0].balance;
  const Balance& middle = *path[10].balance;
  const Balance& exit = *path[20].balance;
  EXPECT_GT(entry.axle_n(End::front), middle.axle_n(End::front));
  EXPECT_LT(exit.axle_n(End::front), middle.axle_n(End::front));
  EXPECT_GT(middle.attitude.roll_rad, radians(0.2));
  EXPECT_GT(entry.pitch_rad, exit.pitch_rad);
  // The same stand as asked for by itself.
  const auto alone = loaded_->balance(loaded_->level_collars(), path[7].a);
  EXPECT_NEAR(alone->attitude.roll_rad, path[7].balance->attitude.roll_rad, 1e-6);
}

TEST_F(OnSprings, AMeasuredBarStandsInPlaceOfItsWire) {
  const double by_wire = loaded_->rates(End::front).roll_by_bar_n_mm_per_deg;
  const double stiffness = bar_stiffness(model_, End::front);
  car_.axles[0].bar->rate_n_mm_per_rad = 2.0 * stiffness;
  fresh();
  EXPECT_NEAR(loaded_->rates(End::front).roll_by_bar_n_mm_per_deg / by_wire, 2.0, 1e-3);
  set("front_bar", 1);
  EXPECT_NEAR(bar_stiffness(model_, End::front) / (2.0 * stiffness), std::pow(1.3 / 1.2, 4), 1e-9);
}

TEST_F(OnSprings, PreloadAndTheRateOverTravelAreToldOfAnAxle) {
  const AxleRates r = loaded_->rates(End::front);
  EXPECT_GT(r.preload_n, 0.0);
  const auto rest = loaded_->balance(loaded_->level_collars(), {});
  EXPECT_LT(r.preload_n, rest->wheel[0][0].spring_n) << "hanging, the spring pushes less than under the car";
  // A second rate that begins just past ride height shows when the car is pressed down, and not before.
  const double in = rest->wheel[0][0].spring_n / car_.axles[0].size_of(Size::spring_rate);
  car_.axles[0].size_of(Size::spring_rate_2) = 1.5;
  car_.axles[0].size_of(Size::spring_transition) = in + 0.6;
  fresh();
  const AxleRates two = loaded_->rates(End::front);
  EXPECT_NEAR(two.wheel_n_per_mm, r.wheel_n_per_mm, 0.01 * r.wheel_n_per_mm);
  ASSERT_TRUE(two.wheel_n_per_mm_pressed && r.wheel_n_per_mm_pressed);
  EXPECT_GT(*two.wheel_n_per_mm_pressed, 2.0 * *r.wheel_n_per_mm_pressed);
}

TEST_F(OnSprings, AnUnequalSpringWithItsCollarsLeftAloneShowsAsCrossWeight) {
  const Collars as_they_were = loaded_->level_collars();
  setup_.of(car_.find_adjuster("front_spring")).left = 2.0;
  fresh();
  const auto stands = loaded_->balance(as_they_were, {});
  ASSERT_TRUE(stands);
  EXPECT_GT(stands->cross(), 0.503) << "a harder spring at the front left loads front left and rear right";
  EXPECT_NEAR(loaded_->balance(loaded_->level_collars(), {})->cross(), 0.5, 1e-6) << "until the collars are turned";
}

TEST_F(OnSprings, AMapIsTheSameOnOneThreadAndOnTwo) {
  std::vector<Acceleration> map;
  for (int i = 0; i < 12; ++i) map.push_back({0.1 * i, -0.3});
  const auto one = stands_under(*loaded_, loaded_->level_collars(), map, 1);
  const auto two = stands_under(*loaded_, loaded_->level_collars(), map, 2);
  ASSERT_EQ(one.size(), map.size());
  for (std::size_t i = 0; i < map.size(); ++i) {
    ASSERT_TRUE(one[i] && two[i]) << i;
    EXPECT_NEAR(one[i]->attitude.roll_rad, two[i]->attitude.roll_rad, 1e-7) << i;
  }
}

TEST_F(OnSprings, TheOtherWayRoundIsTheMirrorImage) {
  const auto left = through_corner(*loaded_, loaded_->level_collars(), {.to_the_left = true}, 5);
  const auto right = through_corner(*loaded_, loaded_->level_collars(), {.to_the_left = false}, 5);
  for (std::size_t i = 0; i < left.size(); ++i)
    EXPECT_NEAR(left[i].balance->wheel[0][0].load_n, right[i].balance->wheel[0][1].load_n, 1e-3);
}

TEST_F(OnSprings, InertiaIsOfParallelAxes) {
  const auto standing = pose_car(model_, static_attitude(model_));
  const auto body = sprung_mass(model_, *standing);
  const auto whole = inertia_of(model_, *standing);
  ASSERT_TRUE(body && whole);
  EXPECT_NEAR(body->kg, 1.350 - 4 * 0.060, 1e-9);
  // Twenty grams at the front add m x^2 to pitch, about (any mechanics text).
  const double before = whole->pitch_kg_mm2;
  car_.masses.push_back({"test", "test", 20.0, Vec3(120.0, 0.0, model_.mass.cg->z())});
  car_.mass_kg += 0.020;
  const double x = *car_.cg_x_mm;
  car_.cg_x_mm = (1.350 * x + 0.020 * 120.0) / 1.370;
  fresh();
  const auto heavier = inertia_of(model_, *pose_car(model_, static_attitude(model_)));
  const double reduced = 1.350 * 0.020 / 1.370;
  EXPECT_NEAR(heavier->pitch_kg_mm2 - before, reduced * (120.0 - x) * (120.0 - x), 0.02 * before);
  EXPECT_GT(whole->yaw_kg_mm2, whole->roll_kg_mm2);
}

TEST(CgHeight, ComesBackFromScalesUnderARaisedEnd) {
  // Statics written out for a car whose centre of gravity is known (Milliken ch. 18, from memory).
  const double total = 1350, wheelbase = 257, behind_rear = 130, height = 41, axle = 31.75;
  for (const double lift : {20.0, 80.0, 150.0}) {
    const double sine = lift / wheelbase, cosine = std::sqrt(1 - sine * sine);
    const double level = total * behind_rear / wheelbase;
    const double raised = total * (behind_rear * cosine + (height - axle) * sine) / (wheelbase * cosine);
    EXPECT_NEAR(*cg_height_from_raised_end(total, level, raised, wheelbase, lift, axle), height, 1e-9);
  }
  EXPECT_FALSE(cg_height_from_raised_end(total, 700, 700, wheelbase, 50, axle));
  EXPECT_FALSE(cg_height_from_raised_end(total, 700, 720, wheelbase, 300, axle));
  EXPECT_FALSE(cg_height_from_raised_end(0, 700, 720, wheelbase, 50, axle));
}

TEST(CgHeight, ComesBackFromTheAngleAtWhichItTips) {
  EXPECT_NEAR(*cg_height_from_tilt(82.5, 45.0), 82.5, 1e-9);
  EXPECT_NEAR(*cg_height_from_tilt(82.5, degrees(std::atan2(82.5, 40.0))), 40.0, 1e-9);
  EXPECT_FALSE(cg_height_from_tilt(82.5, 2.0));
  EXPECT_FALSE(cg_height_from_tilt(-1.0, 45.0));
}

TEST(SpringTable, IsFollowedAndGoesOnAsItEnds) {
  const std::vector<SpringPoint> points{{0, 0}, {4, 2}, {8, 6}};
  const SpringLaw s{0.5, 0.0, 0.0, points, 0.1};
  EXPECT_EQ(s.force(-1.0), 0.0);
  EXPECT_DOUBLE_EQ(s.force(2.0), 1.0 + 0.2);
  EXPECT_DOUBLE_EQ(s.force(6.0), 4.0 + 0.6);
  EXPECT_DOUBLE_EQ(s.force(10.0), 8.0 + 1.0);
  EXPECT_DOUBLE_EQ(s.rate(6.0), 1.1);
  for (const double f : {0.3, 2.5, 7.0, 12.0}) EXPECT_NEAR(s.force(s.compression(f)), f, 1e-12);
}

TEST_F(OnSprings, ATableThatIsALineIsTheSameCar) {
  const double before = at_g(0.9).balance.attitude.roll_rad;
  const double rate = car_.axles[0].size_of(Size::spring_rate);
  car_.axles[0].spring_table = {{0, 0}, {5, 5 * rate}, {9, 9 * rate}};
  fresh();
  EXPECT_NEAR(at_g(0.9).balance.attitude.roll_rad, before, 1e-9);
  set("front_spring", 1);
  EXPECT_LT(at_g(0.9).balance.attitude.roll_rad, before)
      << "a harder spring of the list is harder beside the table too";
}

TEST(SpringText, IsReadInEveryUnitThatRacersMeet) {
  EXPECT_DOUBLE_EQ(*rate_from_text("0.49"), 0.49);
  EXPECT_DOUBLE_EQ(*rate_from_text("0,49 N/mm"), 0.49);
  EXPECT_NEAR(*rate_from_text("2.8 lbf/in"), 2.8 * 4.4482216152605 / 25.4, 1e-12);
  EXPECT_NEAR(*rate_from_text("50 gf/mm"), 0.4903325, 1e-12);
  EXPECT_NEAR(*rate_from_text("wire 1.2 coil 13 turns 5.5"), helical_rate(1.2, 13.0, 5.5, wire_shear), 1e-12);
  for (const char* wrong : {"", "soft", "0", "-1", "2 kg", "wire 1.2 coil 1 turns 5", "wire 1.2 coil 13", "1 2 3"})
    EXPECT_FALSE(rate_from_text(wrong)) << wrong;
}

}  // namespace
}  // namespace lowkite::test
