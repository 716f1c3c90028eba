// The car in motion: against vibration theory, energy, statics and its own mirror image.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/load/ride_motion.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

class MotionTest : public testing::Test {
 protected:
  void use(Car car) {
    car_ = std::move(car);
    use_setup(kit_setup(car_));
  }
  void use_setup(const CarSetup& setup) {
    auto built = build_model(car_, setup);
    ASSERT_TRUE(built);
    model_ = std::move(*built);
    auto loaded = LoadedCar::of(model_);
    ASSERT_TRUE(loaded) << loaded.error();
    loaded_.emplace(std::move(*loaded));
  }
  void SetUp() override { use(touring()); }
  Motion over(const RoadCase& road) {
    auto m = drive_over(*loaded_, road);
    EXPECT_TRUE(m) << m.error();
    return m ? *m : Motion{};
  }
  /// No oil in any shock, no damping in the tyres.
  void drain() {
    for (Axle& a : car_.axles) a.kit_size[static_cast<std::size_t>(Size::oil_cst)] = 0.0;
    use_setup(kit_setup(car_));
  }
  Car car_;
  CarModel model_;
  std::optional<LoadedCar> loaded_;
};

TEST_F(MotionTest, OnALevelRoadNothingMoves) {
  const Motion m = over({.event = RoadEvent::bump, .height_mm = 0.0});
  for (const MotionSample& s : m.samples) {
    EXPECT_NEAR(s.heave_mm, 0.0, 1e-6);
    EXPECT_NEAR(s.roll_deg, 0.0, 1e-6);
    EXPECT_NEAR(s.pitch_deg, 0.0, 1e-6);
  }
  EXPECT_FALSE(m.summary.plate_down_s);
}

TEST_F(MotionTest, WithoutOilItSwingsAtItsRideFrequency) {
  // Any vibration text: sqrt(k/m)/2 pi. Springs and tyres are in series here, so the tyre is made all but rigid.
  drain();
  const Motion m = over({.event = RoadEvent::bump,
                         .seconds = 2.0,
                         .speed_m_s = 20.0,
                         .height_mm = 1.0,
                         .length_mm = 400.0,
                         .tyre_n_per_mm = 100.0,
                         .tyre_n_s_per_mm = 0.0});
  int crossings = 0;
  double first = 0.0, last = 0.0;
  for (std::size_t i = 200; i + 1 < m.samples.size(); ++i) {
    const double a = m.samples[i].heave_mm, b = m.samples[i + 1].heave_mm;
    if (a < 0.0 && b >= 0.0) {
      const double t = m.samples[i].t_s + 0.001 * a / (a - b);
      if (crossings++ == 0) first = t;
      last = t;
    }
  }
  ASSERT_GT(crossings, 3);
  const double hz = (crossings - 1) / (last - first);
  const double front = loaded_->rates(End::front).ride_hz;
  const double rear = loaded_->rates(End::rear).ride_hz;
  EXPECT_GT(hz, 0.97 * std::min(front, rear) - 0.05);
  EXPECT_LT(hz, 1.03 * std::max(front, rear) + 0.05);
}

TEST_F(MotionTest, WithOilItComesToRestAndMoreOilSooner) {
  const RoadCase road{.event = RoadEvent::bump, .seconds = 1.5, .height_mm = 2.0};
  const Motion m = over(road);
  EXPECT_NEAR(m.samples.back().heave_mm, 0.0, 0.02);
  drain();
  EXPECT_GT(over(road).summary.settled_s, m.summary.settled_s);
}

TEST_F(MotionTest, EnergyIsKeptWithoutDampers) {
  // A fall onto undamped springs: what the fall gives is in springs, tyres, stops and speed; at the deepest moment of a
  // level heave there is next to no speed left.
  drain();
  const RoadCase road{.event = RoadEvent::landing, .seconds = 0.3, .drop_mm = 8.0, .tyre_n_s_per_mm = 0.0};
  const Motion m = over(road);
  EXPECT_EQ(m.summary.dampers_n_mm, 0.0);
  // It comes back up as high as it fell from: the body's swing is not lost.
  double highest_after = -100.0, lowest = 0.0;
  for (const MotionSample& s : m.samples) {
    if (s.heave_mm < lowest) {
      lowest = s.heave_mm;
      highest_after = -100.0;
    }
    highest_after = std::max(highest_after, s.heave_mm);
  }
  EXPECT_LT(lowest, -0.5);
  EXPECT_GT(highest_after, 0.5 * -lowest);
}

TEST_F(MotionTest, WorkOfFallEndsInSpringsStopsTyresAndOil) {
  const double drop = 30.0;
  const Motion m = over({.event = RoadEvent::landing, .seconds = 0.4, .drop_mm = drop});
  const auto deepest = std::min_element(m.samples.begin(), m.samples.end(),
                                        [](const auto& a, const auto& b) { return a.heave_mm < b.heave_mm; });
  const double sprung = sprung_mass(model_, *pose_car(model_, static_attitude(model_)))->kg;
  // From hanging in the air down to the deepest moment: the body's weight works over drop, droop and compression.
  const double fallen = drop + m.samples.front().heave_mm - deepest->heave_mm;
  const double given = sprung * gravity_m_s2 * fallen;
  const MotionSummary& s = m.summary;
  // Springs count from rest, where they already hold something: droop's share of their energy was there in the air.
  EXPECT_GT(s.springs_n_mm + s.stops_n_mm + s.dampers_n_mm, 0.4 * given);
  EXPECT_LT(s.springs_n_mm + s.stops_n_mm + s.dampers_n_mm, 1.1 * given);
  EXPECT_GT(s.dampers_n_mm, 0.0);
}

TEST_F(MotionTest, AHigherLandingUsesMoreStrokeUntilThePlateSlaps) {
  double before = 0.0;
  for (const double drop : {5.0, 20.0, 60.0}) {
    const Motion m = over({.event = RoadEvent::landing, .seconds = 0.4, .drop_mm = drop});
    const double used = std::max(m.summary.most_stroke_mm[0], m.summary.most_stroke_mm[1]);
    EXPECT_GT(used, before) << drop;
    before = used;
  }
  const Motion hard = over({.event = RoadEvent::landing, .seconds = 0.4, .drop_mm = 600.0});
  ASSERT_TRUE(hard.summary.plate_down_s);
  EXPECT_GT(hard.summary.plate_speed_mm_s, 100.0);
  EXPECT_GT(hard.summary.stops_n_mm, 0.0);
}

TEST_F(MotionTest, AStepOfTheSteeringEndsInTheSteadyAttitude) {
  constexpr double g = 0.4;
  const Motion m = over({.event = RoadEvent::steer_step, .seconds = 2.5, .lateral_g = g, .tyre_n_per_mm = 100.0});
  const auto steady = loaded_->balance(loaded_->level_collars(), {g, 0.0});
  ASSERT_TRUE(steady);
  const MotionSample& end = m.samples.back();
  // Jacking, and links that change as it leans, are left out in motion: alike to a tenth.
  EXPECT_NEAR(end.roll_deg / degrees(steady->attitude.roll_rad), 1.0, 0.1);
  for (const End e : both_ends) {
    const double moved = 0.5 * (end.load_n[at(e)][1] - end.load_n[at(e)][0]);
    EXPECT_NEAR(moved / steady->transfer_n(e), 1.0, 0.1) << name_of(e);
  }
  double all = 0.0;
  for (const End e : both_ends) all += end.load_n[at(e)][0] + end.load_n[at(e)][1];
  EXPECT_NEAR(all, car_.mass_kg * gravity_m_s2, 0.05) << "a steady car weighs what it weighs";
}

TEST_F(MotionTest, TheOtherSideIsTheMirrorImage) {
  const Motion left = over({.event = RoadEvent::kerb, .height_mm = 5.0, .left_side = true});
  const Motion right = over({.event = RoadEvent::kerb, .height_mm = 5.0, .left_side = false});
  ASSERT_EQ(left.samples.size(), right.samples.size());
  for (std::size_t i = 0; i < left.samples.size(); i += 20) {
    EXPECT_NEAR(left.samples[i].roll_deg, -right.samples[i].roll_deg, 1e-3);
    EXPECT_NEAR(left.samples[i].load_n[0][0], right.samples[i].load_n[0][1], 0.02);
  }
  EXPECT_GT(left.summary.most_roll_deg, 0.0) << "a kerb under the left wheels leans the car right";
}

TEST_F(MotionTest, AThirdSpringDoesNothingToASteerStep) {
  const RoadCase step{.event = RoadEvent::steer_step, .seconds = 1.0, .lateral_g = 0.5};
  const RoadCase bump{.event = RoadEvent::bump, .seconds = 0.6, .height_mm = 4.0};
  const double roll = over(step).summary.most_roll_deg;
  const double stroke = over(bump).summary.most_stroke_mm[0];
  for (Axle& a : car_.axles) a.kit_size[static_cast<std::size_t>(Size::heave_rate)] = 0.6;
  for (Axle& a : car_.axles) a.kit_size[static_cast<std::size_t>(Size::heave_damping)] = 0.02;
  use_setup(kit_setup(car_));
  EXPECT_NEAR(over(step).summary.most_roll_deg / roll, 1.0, 0.02);
  EXPECT_LT(over(bump).summary.most_stroke_mm[0], stroke);
}

TEST_F(MotionTest, RefusesWhatMakesNoSense) {
  EXPECT_NE(drive_over(*loaded_, {.seconds = -1.0}).error().find("a time of -1"), std::string::npos);
  EXPECT_NE(drive_over(*loaded_, {.speed_m_s = 0.0}).error().find("speed"), std::string::npos);
  EXPECT_NE(drive_over(*loaded_, {.drop_mm = 1e6}).error().find("drop"), std::string::npos);
  car_.axles[0].unsprung_kg = 0.0;
  use_setup(kit_setup(car_));
  EXPECT_NE(drive_over(*loaded_, {}).error().find("unsprung"), std::string::npos);
}

TEST_F(MotionTest, StopsWhenAsked) {
  int asked = 0;
  const auto m = drive_over(*loaded_, {.seconds = 2.0}, [&] { return ++asked < 4; });
  ASSERT_TRUE(m);
  EXPECT_LT(m->samples.size(), 2000u);
  EXPECT_EQ(asked, 4);
}

// Before, a pod's (and every wheel's) own mass went through the links as well: 0.193 deg of roll where 0.239 is right.
TEST(Motion, AStepOfTheSteeringEndsAsTheSteadyCarStandsOnEveryCar) {
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    const auto model = build_model(car, kit);
    const auto loaded = LoadedCar::of(*model);
    ASSERT_TRUE(loaded) << loaded.error();
    for (const double g : {0.2, 0.4}) {
      const auto m =
          drive_over(*loaded, {.event = RoadEvent::steer_step, .seconds = 3.0, .lateral_g = g, .tyre_n_per_mm = 100.0});
      const auto steady = loaded->balance(loaded->level_collars(), {g, 0.0});
      ASSERT_TRUE(m && steady) << car.id;
      EXPECT_NEAR(m->samples.back().roll_deg / degrees(steady->attitude.roll_rad), 1.0, 0.05) << car.id << ' ' << g;
      double least = 1e9, most = 0.0;
      for (const MotionSample& each : m->samples)
        for (const double n : each.load_n[0]) {
          least = std::min(least, n);
          most = std::max(most, n);
        }
      EXPECT_EQ(m->summary.least_load_n[0], least);
      EXPECT_EQ(m->summary.most_load_n[0], most);
    }
  }
}

TEST(Motion, EveryShippedCarLandsAndRuns) {
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    const auto model = build_model(car, kit);
    const auto loaded = LoadedCar::of(*model);
    ASSERT_TRUE(loaded) << loaded.error();
    for (const RoadEventSpec& e : road_events()) {
      const auto m = drive_over(*loaded, {.event = e.event, .seconds = 0.4});
      ASSERT_TRUE(m) << car.name << ", " << e.label << ": " << m.error();
      EXPECT_TRUE(std::isfinite(m->samples.back().heave_mm)) << car.name << ", " << e.label;
    }
  }
}

}  // namespace
}  // namespace lowkite::test
