// A corner driven in time: it settles on the trims, its first moments are Newton's, its line is what was asked.
#include <cmath>

#include <gtest/gtest.h>

#include "core/handling/corner_film.hpp"
#include "core/handling/family.hpp"
#include "core/io/library.hpp"
#include "core/io/tyre_file.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

const TyreBook& film_tyres() {
  static const TyreBook b = *load_tyres(test::data_path("tyres/tyres.json"));
  return b;
}

CornerAsk asked(bool left) {
  CornerAsk ask;
  ask.to_the_left = left;
  return ask;
}

TEST(CornerLine, BendsAsTheCornerAsksAndGoesStraightOnBeyondItsEnds) {
  for (const bool left : {true, false}) {
    const CornerAsk ask = asked(left);
    const CornerLine line = CornerLine::of(ask);
    const double sense = left ? 1.0 : -1.0;
    double turned = 0.0;
    constexpr int steps = 4000;
    const double ds = line.length_m() / steps;
    for (int i = 0; i < steps; ++i) {
      const auto a = line.at(i * ds), b = line.at((i + 1) * ds);
      EXPECT_LE(sense * a.bends, 1.0 / ask.radius_m + 1e-12);
      EXPECT_GE(sense * a.bends, 0.0);
      // What is drawn is as long as it is told, and heads where it is told.
      EXPECT_NEAR(std::hypot(b.x_m - a.x_m, b.y_m - a.y_m), ds, 1e-5 * ds);
      EXPECT_NEAR(std::atan2(b.y_m - a.y_m, b.x_m - a.x_m) - a.heading_rad, 0.5 * ds * a.bends, 3e-3);
      turned += ds * a.bends;
    }
    EXPECT_NEAR(sense * turned, 2.0 * std::numbers::pi / 3.0, 1e-3);
    EXPECT_NEAR(line.at(line.length_m()).heading_rad, turned, 1e-3);
    const double speed = std::sqrt(gravity_m_s2 * ask.lateral_g * ask.radius_m);
    const double middle = 0.5 * (line.middle_from_m() + line.middle_to_m());
    EXPECT_DOUBLE_EQ(line.speed_at(middle), speed);
    EXPECT_DOUBLE_EQ(line.at(middle).bends, sense / ask.radius_m);
    EXPECT_GT(line.speed_at(0.0), speed) << "it is braked";
    EXPECT_GT(line.speed_at(line.length_m()), speed) << "it goes out on power";
    EXPECT_EQ(line.phase_at(0.0), CornerPhase::entry);
    EXPECT_EQ(line.phase_at(middle), CornerPhase::middle);
    EXPECT_EQ(line.phase_at(line.length_m()), CornerPhase::exit);
    const auto before = line.at(-2.0), after = line.at(line.length_m() + 2.0), end = line.at(line.length_m());
    EXPECT_NEAR(before.x_m, -2.0, 1e-12);
    EXPECT_NEAR(std::hypot(after.x_m - end.x_m, after.y_m - end.y_m), 2.0, 1e-12);
  }
}

// Newton and Euler in the plane: a car that is as a trim says moves as the trim was asked to.
TEST(CornerInTime, StartsFromATrimWithTheAccelerationsThatTheTrimWasAskedFor) {
  for (const Car& car : test::every_shipped_car())
    for (const bool left : {true, false}) {
      const CornerAsk ask = asked(left);
      const auto table = tabulate(car, kit_setup(car), ask);
      ASSERT_TRUE(table) << car.id;
      int compared = 0;
      for (const TyreDraw& tyres : draw_tyres(film_tyres().for_surface("asphalt"), test::share_of(32))) {
        const Trimmer trimmer(*table, tyres);
        for (const CornerPhase phase : corner_phases)
          for (const double g : {0.3, 0.6}) {
            const auto t = trimmer.trim(phase, g);
            if (!t) continue;
            ++compared;
            const auto a = accelerations_at(*table, tyres, *t);
            EXPECT_NEAR(a[0], g * gravity_m_s2, 1e-5) << car.id;
            EXPECT_NEAR(a[1], lengthways_g(ask, phase) * gravity_m_s2, 1e-5) << car.id;
            EXPECT_NEAR(a[2], yaw_comes(phase) * t->yaw_rate / ask.turn_in_s, 2e-4) << car.id;
          }
      }
      EXPECT_GT(compared, 5 * test::share_of(32)) << car.id;
    }
}

TEST(CornerInTime, AStableCarComesBackToItsTrimAndAnUnstableOneLeavesIt) {
  int settled = 0, left_it = 0;
  for (const Car& car : test::every_shipped_car())
    for (const bool left : {true, false}) {
      const auto table = tabulate(car, kit_setup(car), asked(left));
      ASSERT_TRUE(table) << car.id;
      for (const char* surface : {"asphalt", "clay"})
        for (const TyreDraw& tyres : draw_tyres(film_tyres().for_surface(surface), test::share_of(8))) {
          const Trimmer trimmer(*table, tyres);
          for (const double g : {0.4, 0.8}) {
            const auto t = trimmer.trim(CornerPhase::middle, g);
            const auto answers = t ? trimmer.answers(*t) : std::nullopt;
            if (!answers) continue;
            // Between the two it takes longer than anybody waits.
            const bool stable = answers->rise_s && *answers->rise_s < 0.6 && answers->static_margin > 0.02;
            const bool runs_away = !answers->rise_s && answers->static_margin < -0.1;
            if (!stable && !runs_away) continue;
            const CornerFilm film = let_settle(*table, tyres, *t, 0.02, stable ? 5.0 : 3.0);
            const CornerMoment& end = film.moments.back();
            const double off = std::max({std::abs(end.body_slip_rad - t->body_slip_rad),
                                         std::abs(end.yaw_rate - t->yaw_rate), std::abs(end.lateral_g - g)});
            if (stable) {
              EXPECT_LT(off, 1e-5) << car.id << " " << surface << " " << g << " " << answers->static_margin;
              for (std::size_t w = 0; w < wheel_count; ++w)
                EXPECT_NEAR(end.wheel[w].load_n, t->wheel[w].load_n, 1e-4) << car.id;
              ++settled;
            } else {
              EXPECT_GT(off, 0.02) << car.id << " " << surface << " " << g << " " << answers->static_margin;
              ++left_it;
            }
          }
        }
    }
  EXPECT_GT(settled, 12 * test::share_of(8));
  if (!test::runs_a_share()) {
    EXPECT_GT(left_it, 2);
  }
}

TEST(CornerInTime, IsDrivenAlongItsLineWhereTheTyresHoldItAndSaysWhereTheyDoNot) {
  for (const Car& car : test::every_shipped_car())
    for (const bool left : {true, false}) {
      CornerAsk ask = asked(left);
      ask.lateral_g = 0.8;
      const auto table = tabulate(car, kit_setup(car), ask);
      ASSERT_TRUE(table) << car.id;
      const CornerLine line = CornerLine::of(ask);
      const auto tyres = draw_tyres(*film_tyres().find("carpet_rubber"), test::share_of(16));
      for (const TyreDraw& tyre : tyres) {
        const auto film = drive_corner(*table, tyre, line);
        for (const CornerMoment& m : film.moments) {
          for (const double used : m.used) EXPECT_LE(used, 1.0 + 1e-9) << "the friction circle is never left";
          for (const double used : m.end_used) EXPECT_LE(used, 1.0 + 1e-9);
        }
        const Trimmer trimmer(*table, tyre);
        const auto trim = trimmer.trim(CornerPhase::middle, ask.lateral_g);
        if (!trim || film.end != FilmEnd::through) continue;
        for (const CornerMoment& m : film.moments) EXPECT_LT(std::abs(m.off_line_m), 0.25) << car.id;
        EXPECT_GE(film.moments.back().along_m, line.length_m());
        // By the end of the middle it is nearly what the steady state says.
        const CornerMoment& late = film.at(0.2 * line.middle_from_m() + 0.8 * line.middle_to_m());
        EXPECT_NEAR(late.lateral_g, ask.lateral_g, 0.06) << car.id;
        EXPECT_NEAR(late.body_slip_rad, trim->body_slip_rad, radians(0.8)) << car.id;
        EXPECT_NEAR(late.servo_rad, trim->servo_rad, radians(2.0)) << car.id;
        const CornerMoment& braking = film.at(0.5 * line.middle_from_m());
        EXPECT_LT(braking.lengthways_g, 0.0) << car.id;
        EXPECT_GT(film.moments.back().lengthways_g, 0.0) << car.id;
      }
      // More than any tyre holds.
      CornerAsk much = ask;
      much.lateral_g = 2.2;
      const auto wide = tabulate(car, kit_setup(car), much);
      ASSERT_TRUE(wide);
      TyreDraw ice = tyres.front();
      ice[TyreParameter::grip] = 0.6;
      const auto film = drive_corner(*wide, ice, CornerLine::of(much));
      EXPECT_NE(film.end, FilmEnd::through) << car.id;
      EXPECT_FALSE(film.moments.empty());
    }
}

TEST(CornerInTime, IsTheSameEachTimeAndStopsWhenItIsToldTo) {
  const Car car = test::touring();
  const auto table = tabulate(car, kit_setup(car), {});
  const TyreDraw tyre = middle_of(film_tyres().for_surface("carpet"));
  const CornerLine line = CornerLine::of({});
  const auto one = drive_corner(*table, tyre, line), two = drive_corner(*table, tyre, line);
  ASSERT_EQ(one.moments.size(), two.moments.size());
  EXPECT_EQ(one.moments.back().x_m, two.moments.back().x_m);
  int asked_for = 0;
  const auto part = drive_corner(*table, tyre, line, [&] { return ++asked_for < 10; });
  EXPECT_EQ(part.moments.size(), 10u);
  EXPECT_EQ(part.at(1e9).along_m, part.moments.back().along_m) << "nothing beyond its end";
}

TEST(CornerInTime, ThePlaceBetweenTwoPhasesIsBetweenTheirStands) {
  const Car car = test::touring();
  const SetupTable table = *tabulate(car, kit_setup(car), {});
  const CornerAsk& ask = table.ask();
  for (const double g : {0.0, 0.5, 1.1}) {
    const auto same = [&](double lengthways, CornerPhase phase) {
      const SetupTable::Node a = table.node_at(lengthways, g), b = *table.node(phase, g);
      for (std::size_t w = 0; w < wheel_count; ++w) {
        EXPECT_NEAR(a.load_n[w], b.load_n[w], 1e-12);
        EXPECT_NEAR(a.lean[w], b.lean[w], 1e-15);
        EXPECT_NEAR(a.heading[w], b.heading[w], 1e-15);
      }
    };
    same(-ask.braking_g, CornerPhase::entry);
    same(-2.0 * ask.braking_g, CornerPhase::entry);
    same(0.0, CornerPhase::middle);
    same(ask.power_g, CornerPhase::exit);
    const auto half = table.node_at(0.5 * ask.power_g, g);
    double sum = 0.0;
    for (const double n : half.load_n) sum += n;
    EXPECT_NEAR(sum, table.mass_kg() * gravity_m_s2, 1e-3 * table.mass_kg() * gravity_m_s2);
  }
}

TEST(TyreInTheMiddle, IsBetweenTheDrawsAndFollowsTheirWeights) {
  const auto tyres = draw_tyres(film_tyres().for_surface("clay"), 32);
  const TyreDraw even = middle_of(tyres);
  std::vector<double> one(tyres.size(), 0.0);
  one[7] = 3.0;
  for (const TyreParameterSpec& p : tyre_parameters())
    EXPECT_NEAR(middle_of(tyres, one)[p.parameter], tyres[7][p.parameter], 1e-12);
  for (const TyreParameterSpec& p : tyre_parameters()) {
    const TyreBelief& b = film_tyres().for_surface("clay").belief[at(p.parameter)];
    EXPECT_GE(even[p.parameter], b.least);
    EXPECT_LE(even[p.parameter], b.most);
  }
}

}  // namespace
}  // namespace lowkite
