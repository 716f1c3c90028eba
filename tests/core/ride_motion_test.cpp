// The car in motion: against vibration theory, energy, statics and its own mirror image.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include <fmt/format.h>

#include "core/load/mass_figures.hpp"
#include "core/load/ride_motion.hpp"
#include "core/load/spring_place.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

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
    for (Axle& a : car_.axles) a.size_of(Size::oil_cst) = 0.0;
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

/// A long low bump on all but rigid tyres without damping: after it the body swings freely on its springs.
const RoadCase swell{.event = RoadEvent::bump,
                     .seconds = 2.0,
                     .speed_m_s = 20.0,
                     .height_mm = 1.0,
                     .length_mm = 400.0,
                     .tyre_n_per_mm = 100.0,
                     .tyre_n_s_per_mm = 0.0};

TEST_F(MotionTest, WithoutOilItSwingsAtItsRideFrequency) {
  // Any vibration text: sqrt(k/m)/2 pi. Springs and tyres are in series here, so the tyre is made all but rigid.
  drain();
  const Motion m = over(swell);
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

TEST_F(MotionTest, ASwingDiesAwayAsItsDampingSays) {
  // Any vibration text: the logarithm of two tops in a row is 2 pi zeta / sqrt(1 - zeta^2). In thin oil, so that there
  // are tops to see; on all but rigid tyres, whose give would be another spring.
  for (Axle& a : car_.axles) a.size_of(Size::oil_cst) *= 0.08;
  use_setup(kit_setup(car_));
  const double zeta = 0.5 * (*loaded_->rates(End::front).damping_ratio + *loaded_->rates(End::rear).damping_ratio);
  const Motion m = over(swell);
  std::vector<double> tops;
  for (std::size_t i = 100; i + 1 < m.samples.size(); ++i) {
    const double here = m.samples[i].heave_mm;
    if (here > m.samples[i - 1].heave_mm && here >= m.samples[i + 1].heave_mm && here > 1e-3) tops.push_back(here);
  }
  ASSERT_GE(tops.size(), 3u);
  const double expected = 2.0 * std::numbers::pi * zeta / std::sqrt(1.0 - zeta * zeta);
  for (std::size_t i = 1; i < 3; ++i) EXPECT_NEAR(std::log(tops[i - 1] / tops[i]) / expected, 1.0, 0.1) << i;
}

TEST_F(MotionTest, WithOilItComesToRestAndMoreOilSooner) {
  const RoadCase road{.event = RoadEvent::bump, .seconds = 1.5, .height_mm = 2.0};
  const Motion m = over(road);
  EXPECT_NEAR(m.samples.back().heave_mm, 0.0, 0.02);
  drain();
  EXPECT_GT(over(road).summary.settled_s, m.summary.settled_s);
}

/// N mm: what the weight of all parts has given from the first moment of a landing to its deepest, and where it is
/// then.
struct Account {
  double given = 0.0;
  double moving = 0.0;  ///< in the speeds of body and wheels
  double tyres = 0.0;
  double springs = 0.0;  ///< more than when the wheels hung
};

Account account_of(const LoadedCar& car, const Motion& m, double drop_mm) {
  const CarModel& model = car.model();
  const auto figures = figures_at(model, static_attitude(model));
  const auto body = sprung_mass(model, *pose_car(model, static_attitude(model)));
  const auto rest = car.balance(car.level_collars(), {});
  constexpr std::size_t reach = 3;
  std::size_t k = reach;
  for (std::size_t i = reach; i + reach < m.samples.size(); ++i)
    if (m.samples[i].heave_mm < m.samples[k].heave_mm) k = i;
  // A millisecond is long for a wheel on its tyre: central differences of the sixth order (any handbook).
  const auto speed = [&](auto&& of) {
    const auto apart = [&](std::size_t n) { return of(m.samples[k + n]) - of(m.samples[k - n]); };
    return (45.0 * apart(1) - 9.0 * apart(2) + apart(3)) / 60.0 / 0.001;
  };
  const auto half_square = [](double mass, double v) { return 0.5e-3 * mass * v * v; };
  const MotionSample& hung = m.samples.front();
  const MotionSample& now = m.samples[k];
  Account a;
  a.given = body->kg * gravity_m_s2 * (drop_mm + hung.heave_mm - now.heave_mm);
  a.moving = half_square(body->kg, speed([](const MotionSample& s) { return s.heave_mm; })) +
             half_square(body->inertia.pitch_kg_mm2, speed([](const MotionSample& s) { return radians(s.pitch_deg); }));
  a.springs = m.summary.springs_n_mm;
  for (const End end : both_ends) {
    const double kg = unsprung_kg(model.car->axle(end), model.corner(end, Side::left));
    const double tyre = model.car->axle(end).tyre.gives().likely;
    const double rate = car.rates(end).wheel_n_per_mm;
    for (const Side side : both_sides) {
      const double ahead = figures->axle[at(end)].wheel[at(side)].contact.x() - body->cg.x();
      const auto height = [&](const MotionSample& s) {
        return s.heave_mm + s.travel_mm[at(end)][at(side)] - ahead * radians(s.pitch_deg);
      };
      a.given += kg * gravity_m_s2 * (drop_mm + height(hung) - height(now));
      a.moving += half_square(kg, speed(height));
      const double load = now.load_n[at(end)][at(side)];
      a.tyres += 0.5 * load * load / tyre;
      // Springs count from rest; going out to where the wheels hung they gave this.
      const double out = hung.travel_mm[at(end)][at(side)];
      const double carried = rest->wheel[at(end)][at(side)].load_n - kg * gravity_m_s2;
      a.springs -= carried * out + 0.5 * rate * out * out;
    }
  }
  return a;
}

// Conservation of energy in a landing: all that the weights have given is in the springs, stops, tyres and speeds, or
// has become warmth in the oil. Masses, springs' rates and loads are the balance's, not those of the motion's tables.
TEST_F(MotionTest, EnergyIsKept) {
  for (const Car& car : every_shipped_car()) {
    use(car);
    // The wheels of a small pod swing faster than samples are apart: only where they do next to nothing.
    const bool pod = !model_.corner(End::rear, Side::left).spec->independent;
    for (const bool oil : {false, true})
      for (const double drop : pod ? std::vector{1.0} : std::vector{2.0, 8.0, 20.0}) {
        if (pod && oil) continue;
        use(car);
        if (!oil) drain();
        const Motion m = over({.event = RoadEvent::landing, .seconds = 0.3, .drop_mm = drop, .tyre_n_s_per_mm = 0.0});
        const Account a = account_of(*loaded_, m, drop);
        const MotionSummary& s = m.summary;
        EXPECT_NEAR((a.moving + a.tyres + a.springs + s.stops_n_mm + s.dampers_n_mm) / a.given, 1.0, 0.008)
            << car.name << (oil ? ", with oil, " : ", without, ") << drop << " mm";
        if (oil)
          EXPECT_GT(s.dampers_n_mm, 0.2 * a.given) << car.name << ", " << drop << " mm";
        else
          EXPECT_EQ(s.dampers_n_mm, 0.0);
      }
  }
}

TEST_F(MotionTest, AHigherLandingUsesMoreStrokeUntilThePlateSlaps) {
  double before = 0.0;
  for (const double drop : {20.0, 40.0, 60.0}) {
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
  EXPECT_NEAR(end.roll_deg / degrees(steady->attitude.roll_rad), 1.0, 0.02);
  for (const End e : both_ends) {
    const double moved = 0.5 * (end.load_n[at(e)][1] - end.load_n[at(e)][0]);
    EXPECT_NEAR(moved / steady->transfer_n(e), 1.0, 0.001) << name_of(e);
  }
  double all = 0.0;
  for (const End e : both_ends) all += end.load_n[at(e)][0] + end.load_n[at(e)][1];
  EXPECT_NEAR(all, car_.mass_kg * gravity_m_s2, 0.05) << "a steady car weighs what it weighs";
}

TEST_F(MotionTest, DrivesOnTheTyresOfTheCarFile) {
  const auto most_load = [&](std::optional<double> rate) {
    return over({.event = RoadEvent::kerb, .height_mm = 5.0, .tyre_n_per_mm = rate}).summary.most_load_n[0];
  };
  for (Axle& axle : car_.axles) axle.tyre.rate = TyreRate{6.5, 4.0, 9.0};
  EXPECT_EQ(most_load(std::nullopt), most_load(6.5));
  EXPECT_GT(most_load(std::nullopt), most_load(4.0)) << "a softer tyre takes more of it";
  for (Axle& axle : car_.axles) axle.tyre.rate.reset();
  EXPECT_EQ(most_load(std::nullopt), most_load(TyreRate{}.likely)) << "not described: the usual one";
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
  for (Axle& a : car_.axles) a.size_of(Size::heave_rate) = 0.6;
  for (Axle& a : car_.axles) a.size_of(Size::heave_damping) = 0.02;
  use_setup(kit_setup(car_));
  EXPECT_NEAR(over(step).summary.most_roll_deg / roll, 1.0, 0.02);
  EXPECT_LT(over(bump).summary.most_stroke_mm[0], stroke);
}

TEST_F(MotionTest, RefusesWhatMakesNoSense) {
  EXPECT_NE(drive_over(*loaded_, {.seconds = -1.0}).error().message.find("a time of -1"), std::string::npos);
  EXPECT_NE(drive_over(*loaded_, {.speed_m_s = 0.0}).error().message.find("speed"), std::string::npos);
  EXPECT_NE(drive_over(*loaded_, {.drop_mm = 1e6}).error().message.find("drop"), std::string::npos);
  car_.axles[0].unsprung_kg = 0.0;
  use_setup(kit_setup(car_));
  EXPECT_NE(drive_over(*loaded_, {}).error().message.find("unsprung"), std::string::npos);
}

TEST_F(MotionTest, StopsWhenAsked) {
  int asked = 0;
  const auto m = drive_over(*loaded_, {.seconds = 2.0}, [&] { return ++asked < 4; });
  ASSERT_TRUE(m);
  EXPECT_LT(m->samples.size(), 2000u);
  EXPECT_EQ(asked, 4);
}

/// How far the body leans on tyres that give, where an axle's wheels stand apart like that, deg.
double lean_by_tyres(const Balance& stand, const Balance& rest, const RoadCase& step) {
  double lean = 0.0;
  for (const End end : both_ends) {
    const double track = stand.pose.axle[at(end)].corner[0].wheel_centre.y() * 2.0;
    lean += 0.5 * degrees(2.0 * (stand.transfer_n(end) - rest.transfer_n(end)) / *step.tyre_n_per_mm / track);
  }
  return lean;
}

/// A step of the steering driven to its end, held to the stand that the balance finds.
void expect_to_end_in_balance(const LoadedCar& loaded, double g, double rise_s, const std::string& told) {
  const RoadCase step{
      .event = RoadEvent::steer_step, .seconds = 5.0, .lateral_g = g, .rise_s = rise_s, .tyre_n_per_mm = 100.0};
  const auto m = drive_over(loaded, step);
  const auto rest = loaded.balance(loaded.level_collars(), {});
  const auto steady = loaded.balance(loaded.level_collars(), {g, 0.0});
  ASSERT_TRUE(rest);
  if (!m && m.error().message.find("stands on its droop stop") != std::string::npos) return;
  if (!steady) {
    ASSERT_FALSE(m) << told;
    EXPECT_NE(m.error().message.find("no steady turn"), std::string::npos) << m.error();
    return;
  }
  ASSERT_TRUE(m) << told << ": " << m.error();
  // Without a damper that works in roll a pod swings on about its stand.
  constexpr std::size_t settled = 2000;
  MotionSample end;
  for (std::size_t i = settled; i < m->samples.size(); ++i) {
    const double part = 1.0 / static_cast<double>(m->samples.size() - settled);
    end.roll_deg += part * m->samples[i].roll_deg;
    for (const End e : both_ends)
      for (const Side side : both_sides) end.load_n[at(e)][at(side)] += part * m->samples[i].load_n[at(e)][at(side)];
  }
  const double leans = degrees(steady->attitude.roll_rad - rest->attitude.roll_rad);
  EXPECT_NEAR(end.roll_deg, leans + lean_by_tyres(*steady, *rest, step), 0.02 * std::abs(leans) + 0.002) << told;
  for (const End e : both_ends)
    for (const Side side : both_sides)
      EXPECT_NEAR(end.load_n[at(e)][at(side)], steady->wheel[at(e)][at(side)].load_n, 0.002 * steady->total_n())
          << told << ", " << name_of(e) << ' ' << name_of(side);
  for (const End e : both_ends) {
    double least = 1e9, most = 0.0;
    for (const MotionSample& each : m->samples)
      for (const double n : each.load_n[at(e)]) {
        least = std::min(least, n);
        most = std::max(most, n);
      }
    EXPECT_EQ(m->summary.least_load_n[at(e)], least);
    EXPECT_EQ(m->summary.most_load_n[at(e)], most);
  }
}

TEST(Motion, AStepOfTheSteeringEndsAsTheSteadyCarStandsOnEveryCar) {
  for (const Car& car : every_shipped_car()) {
    const CarSetup kit = kit_setup(car);
    const auto model = build_model(car, kit);
    const auto loaded = LoadedCar::of(*model);
    ASSERT_TRUE(loaded) << loaded.error();
    for (int tenths = 2; tenths <= 14; tenths += runs_a_share() ? 6 : 2)
      for (const double sense : {1.0, -1.0})
        expect_to_end_in_balance(*loaded, sense * tenths / 10.0, 0.1,
                                 fmt::format("{}, {} tenths", car.id, sense * tenths));
    expect_to_end_in_balance(*loaded, 0.6, 1.5, car.id + ", slowly");
  }
}

TEST(Motion, AStepOfTheSteeringEndsAsTheSteadyCarStandsWithAnySetup) {
  std::mt19937 random(20261130);
  for (const Car& car : every_shipped_car())
    for (int i = 0; i < share_of(8); ++i) {
      const CarSetup setup = random_setup(car, random);
      const auto model = build_model(car, setup);
      if (!model) continue;
      const auto loaded = LoadedCar::of(*model);
      if (!loaded || !loaded->balance(loaded->level_collars(), {})) continue;
      expect_to_end_in_balance(*loaded, 0.2 + 0.15 * i, 0.1, fmt::format("{} {}", car.id, i));
    }
}

// The end of a shock's stroke is where the shock's end is, not at the next node of a table over its travel.
TEST(Motion, TheShockEndsWhereItIsPushedIn) {
  int ends = 0;
  for (const Car& car : every_shipped_car()) {
    std::mt19937 random(7);
    for (int n = 0; n < 6; ++n) {
      const auto model = build_model(car, n == 0 ? kit_setup(car) : random_setup(car, random));
      if (!model) continue;
      const auto loaded = LoadedCar::of(*model);
      const auto standing = pose_car(*model, static_attitude(*model));
      if (!loaded || !standing) continue;
      const auto m = drive_over(*loaded, {.event = RoadEvent::landing, .seconds = 0.2});
      if (!m) continue;
      for (const End end : both_ends) {
        const double share = m->summary.stroke_share[at(end)];
        if (!(share > 0.0)) continue;
        const auto left = stroke_left(model->corner(end, Side::left), standing->axle[at(end)].corner[0]);
        ASSERT_TRUE(left);
        EXPECT_NEAR(m->summary.most_stroke_mm[at(end)] / share, *left, 0.01) << car.name << ", " << name_of(end);
        ++ends;
      }
    }
  }
  EXPECT_GT(ends, 20);
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
