// What the driver will feel: tyres, tables under load, trims and what is told over many tyres.
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/handling/over_tyres.hpp"
#include "core/io/library.hpp"
#include "core/io/tyre_file.hpp"
#include "core/log/log.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using P = TyreParameter;

const TyreBook& book() {
  static const TyreBook b = *load_tyres(test::data_path("tyres/tyres.json"));
  return b;
}

SetupTable table_of(const Car& car, const test::CarSetup& setup, const CornerAsk& ask = {}) {
  auto t = tabulate(car, setup, ask);
  EXPECT_TRUE(t) << car.id << ": " << (t ? "" : t.error().message);
  return *t;
}

/// Tyres that stay linear: all the friction in the world, stiffness in proportion to load, lean of no account.
TyreDraw linear_tyres(double stiffness, double rear_over_front = 1.0) {
  TyreDraw d;
  d[P::grip] = 1e4;
  d[P::stiffness] = stiffness;
  d[P::past_peak] = 1.2;
  d[P::lengthways_stiffness] = 1.0;
  d[P::rear_grip] = 1.0;
  d[P::rear_stiffness] = rear_over_front;
  return d;
}

/// A car reduced to what the two-wheel model knows: no lean, toe, body steer or Ackermann, differentials that pass
/// nothing.
SetupTable bare(const Car& car, const CornerAsk& ask) {
  SetupTable t = table_of(car, kit_setup(car), ask);
  for (const Channel c : {Channel::lean, Channel::toe, Channel::body_steer, Channel::steering, Channel::drive})
    t = t.without(c);
  return t;
}

TEST(Tyres, NeverHoldMoreThanTheirFrictionWhateverIsAskedOfThem) {
  for (const TyreFamily& family : book().families)
    for (const TyreDraw& draw : draw_tyres(family, 16))
      for (const bool rear : {false, true}) {
        const TyreAt tyre(draw, rear, 3.0);
        for (const double load : {0.05, 1.0, 3.0, 9.0})
          for (double slip = -1.5; slip < 1.6; slip += 0.3)
            for (double along = -1.0; along < 1.1; along += 0.25)
              for (const double lean : {-0.1, 0.0, 0.1}) {
                const auto f = tyre.force(TyreState<double>{load, slip, lean, along});
                EXPECT_LE(std::hypot(f.sideways, f.lengthways), tyre.friction(load) * load * (1.0 + 1e-12));
              }
      }
}

TEST(Tyres, SlipGivesTheStiffnessFirstAndItsMostAtThePeak) {
  TyreDraw d = middle_of(book().families.front());
  d[P::lean_steers] = 0.0;
  d[P::lean_loss] = 0.0;
  const TyreAt tyre(d, false, 3.0);
  for (const double load : {1.0, 3.0, 6.0}) {
    const auto side = [&](double slip) { return tyre.force(TyreState<double>{load, slip, 0.0, 0.0}).sideways; };
    EXPECT_NEAR(side(1e-4) / 1e-4, tyre.stiffness(load), 1e-4 * tyre.stiffness(load));
    EXPECT_DOUBLE_EQ(side(0.1), -side(-0.1));
    const double at_peak = *tyre.peak() * tyre.friction(load) * load / tyre.stiffness(load);
    EXPECT_NEAR(side(at_peak), tyre.friction(load) * load, 1e-9);
    EXPECT_LT(side(1.3 * at_peak), side(at_peak));
    EXPECT_LT(side(0.7 * at_peak), side(at_peak));
  }
  d[P::past_peak] = 1.0;
  EXPECT_FALSE(TyreAt(d, false, 3.0).peak()) << "loose dirt has no clear peak";
}

TEST(Tyres, TheSameOnesAreDrawnEachTimeAndTheirMeansAreThoseOfManyPlainDraws) {
  const TyreFamily& family = book().families.front();
  const auto draws = draw_tyres(family);
  EXPECT_EQ(draws, draw_tyres(family));
  for (const TyreParameterSpec& s : tyre_parameters()) {
    const TyreBelief& b = family.belief[at(s.parameter)];
    for (const TyreDraw& d : draws) {
      EXPECT_GE(d[s.parameter], b.least);
      EXPECT_LE(d[s.parameter], b.most);
    }
  }
  // The force of an outer tyre, which mixes seven of the parameters: 256 even draws against 100,000 plain ones.
  const auto force = [](const TyreDraw& d) {
    return TyreAt(d, true, 3.0).force(TyreState<double>{5.0, 0.12, 0.03, 0.01}).sideways;
  };
  double even = 0.0;
  for (const TyreDraw& d : draws) even += force(d) / static_cast<double>(draws.size());
  std::mt19937 random(18);
  std::uniform_real_distribution<double> share;
  double plain = 0.0, squares = 0.0;
  constexpr int many = 100'000;
  for (int i = 0; i < many; ++i) {
    TyreDraw d;
    for (const TyreParameterSpec& s : tyre_parameters()) {
      const TyreBelief& b = family.belief[at(s.parameter)];
      const bool by_ratio = b.least > 0.0 && (s.parameter == P::stiffness || s.parameter == P::rear_stiffness ||
                                              s.parameter == P::lengthways_stiffness);
      d[s.parameter] =
          by_ratio ? b.least * std::pow(b.most / b.least, share(random)) : b.least + share(random) * (b.most - b.least);
    }
    const double f = force(d);
    plain += f / many;
    squares += f * f / many;
  }
  const double deviation = std::sqrt(squares - plain * plain);
  EXPECT_NEAR(even, plain, 0.02 * deviation) << "256 plain draws would be off by " << deviation / 16.0;
}

TEST(TyreFiles, AreReadWrittenAndRefusedByFieldAndReason) {
  for (const TyreFamily& f : book().families)
    for (const TyreParameterSpec& s : tyre_parameters())
      EXPECT_FALSE(f.belief[at(s.parameter)].reason.empty()) << f.id << " " << s.id;
  const std::string text = write_tyres(book().families);
  const auto again = read_tyres(text, "tyres.json");
  ASSERT_TRUE(again);
  EXPECT_EQ(write_tyres(again->families), text);
  const auto with = [&](const std::string& from, const std::string& to) {
    std::string t = text;
    t.replace(t.find(from), from.size(), to);
    return read_tyres(t, "mine.json");
  };
  const auto upside_down = with("\"least\": 1.1,\n     \"most\": 1.7", "\"least\": 1.9,\n     \"most\": 1.7");
  if (!upside_down) {
    EXPECT_NE(upside_down.error().front().line().find("below the least"), std::string::npos);
  }
  EXPECT_FALSE(with("\"grip\":", "\"grippy\":"));
  EXPECT_FALSE(with("lowkite-tyres", "lowkite-usual"));
  EXPECT_FALSE(read_tyres(text.substr(0, text.size() / 2), "cut.json"));
  EXPECT_EQ(book().for_surface("clay").id, "clay");
  EXPECT_EQ(book().for_surface("nowhere").id, book().families.front().id);
}

// Gillespie, Fundamentals of Vehicle Dynamics, ch. 6 (from memory): K = Wf/Cf - Wr/Cr. With stiffness in proportion to
// load that is 1/cf - 1/cr, in rad per g.
TEST(TwoWheelModel, UndersteerGradientOfLinearTyresIsThatOfTheTextbook) {
  CornerAsk ask{.lateral_g = 0.3, .braking_g = 0.0, .power_g = 0.0, .radius_m = 20.0, .turn_in_s = 0.0};
  for (const Car& car : test::every_shipped_car()) {
    const SetupTable table = bare(car, ask);
    for (const double ratio : {0.8, 1.0, 1.3}) {
      const TyreDraw tyres = linear_tyres(20.0, ratio);
      const Trimmer trimmer(table, tyres);
      const auto a = trimmer.trim(CornerPhase::middle, 0.1);
      const auto b = trimmer.trim(CornerPhase::middle, 0.3);
      ASSERT_TRUE(a && b) << car.id;
      const double gradient = (b->wheel[0].heading_rad - a->wheel[0].heading_rad) / 0.2;
      EXPECT_NEAR(gradient, 1.0 / 20.0 - 1.0 / (20.0 * ratio), 4e-4) << car.id << " " << ratio;
      EXPECT_NEAR(a->wheel[0].heading_rad - 0.1 * gradient, table.wheelbase_m() / ask.radius_m, 4e-4) << car.id;
    }
  }
}

// The same book: static margin (b Cr - a Cf) / (C L), yaw damping (a^2 Cf + b^2 Cr) / V; from memory.
TEST(TwoWheelModel, MarginDampingAndCriticalSpeedAreThoseOfTheTextbook) {
  const CornerAsk ask{.lateral_g = 0.2, .braking_g = 0.0, .power_g = 0.0, .radius_m = 30.0, .turn_in_s = 0.0};
  const Car car = test::touring();
  const SetupTable table = bare(car, ask);
  const double front = 0.5 * (table.x_m()[0] + table.x_m()[1]);
  const double rear = -0.5 * (table.x_m()[2] + table.x_m()[3]);
  for (const double ratio : {0.7, 1.0, 1.4}) {
    const TyreDraw tyres = linear_tyres(18.0, ratio);
    const Trimmer trimmer(table, tyres);
    const auto t = trimmer.trim(CornerPhase::middle, 0.2);
    ASSERT_TRUE(t);
    const auto answers = trimmer.answers(*t);
    ASSERT_TRUE(answers);
    const double cf = 18.0 * (t->wheel[0].load_n + t->wheel[1].load_n);
    const double cr = 18.0 * ratio * (t->wheel[2].load_n + t->wheel[3].load_n);
    EXPECT_NEAR(answers->static_margin, (rear * cr - front * cf) / ((cf + cr) * (front + rear)), 2e-3) << ratio;
    const double damping = (front * front * cf + rear * rear * cr) / t->speed_m_s;
    EXPECT_NEAR(answers->yaw_damping_nms, damping, 0.01 * damping) << ratio;
  }
  // An oversteering car runs away beyond V = sqrt(g L / -K).
  const double ratio = 0.8;
  const TyreDraw tyres = linear_tyres(18.0, ratio);
  const double gradient = 1.0 / 18.0 - 1.0 / (18.0 * ratio);
  const double critical = std::sqrt(gravity_m_s2 * table.wheelbase_m() / -gradient);
  for (const double share : {0.6, 1.1}) {
    CornerAsk at = ask;
    at.lateral_g = 0.25;
    at.radius_m = std::pow(share * critical, 2) / (at.lateral_g * gravity_m_s2);
    const SetupTable there = bare(car, at);
    const Trimmer trimmer(there, tyres);
    const auto t = trimmer.trim(CornerPhase::middle, at.lateral_g);
    ASSERT_TRUE(t) << share;
    const auto answers = trimmer.answers(*t);
    ASSERT_TRUE(answers);
    EXPECT_EQ(answers->rise_s.has_value(), share < 1.0) << share;
  }
}

TEST(Trims, HoldTheCarOnEveryTyreAndEveryCar) {
  for (const Car& car : test::every_shipped_car()) {
    const SetupTable table = table_of(car, kit_setup(car));
    int trims = 0;
    for (const TyreDraw& tyres : draw_tyres(book().for_surface("clay"), test::share_of(64))) {
      const Trimmer trimmer(table, tyres);
      for (const CornerPhase phase : corner_phases) {
        const auto t = trimmer.trim(phase, 0.4);
        if (!t) continue;
        ++trims;
        double sideways = 0.0, lengthways = 0.0, yaw = 0.0;
        for (std::size_t w = 0; w < wheel_count; ++w) {
          const WheelTrim& k = t->wheel[w];
          const double x = k.lengthways_n * std::cos(k.heading_rad) - k.sideways_n * std::sin(k.heading_rad);
          const double y = k.lengthways_n * std::sin(k.heading_rad) + k.sideways_n * std::cos(k.heading_rad);
          lengthways += x;
          sideways += y;
          yaw += table.x_m()[w] * y - table.y_m()[w] * x;
        }
        // Across and along the way.
        const double c = std::cos(t->body_slip_rad), s = std::sin(t->body_slip_rad);
        const double weight = table.mass_kg() * gravity_m_s2;
        EXPECT_NEAR(sideways * c - lengthways * s, 0.4 * weight, 1e-7 * weight) << car.id;
        EXPECT_NEAR(lengthways * c + sideways * s, lengthways_g(table.ask(), phase) * weight, 1e-7 * weight) << car.id;
        const double comes = yaw_comes(phase) * table.yaw_inertia() * t->yaw_rate / table.ask().turn_in_s;
        EXPECT_NEAR(yaw, comes, 1e-7 * weight) << car.id;
      }
    }
    EXPECT_GT(trims, 3 * test::share_of(64) * 3 / 4) << car.id;
  }
}

TEST(Trims, ThatOthersAreSoughtFromLieWhereThoseThatAreToldLie) {
  for (const Car& car : test::every_shipped_car()) {
    const SetupTable table = table_of(car, kit_setup(car));
    for (const TyreDraw& tyres : draw_tyres(book().for_surface("asphalt"), test::share_of(16))) {
      const Trimmer trimmer(table, tyres);
      for (const CornerPhase phase : corner_phases) {
        const auto told = trimmer.trim(phase, 0.5);
        const auto way = trimmer.trim(phase, 0.5, nullptr, Trimmer::Care::on_way);
        ASSERT_EQ(told.has_value(), way.has_value()) << car.id;
        if (!told) continue;
        EXPECT_NEAR(way->servo_rad, told->servo_rad, 2e-4) << car.id;
        EXPECT_NEAR(way->body_slip_rad, told->body_slip_rad, 2e-5) << car.id;
        EXPECT_EQ(way->servo_rad_per_g, 0.0) << "only of what is told";
        EXPECT_NE(told->servo_rad_per_g, 0.0);
      }
    }
  }
}

// Near its limit a row of trims bends back, and the row on which the other end lets go passes close by: long steps must
// not cross over. Held against the row followed in very short ones.
TEST(Trims, TheLimitIsTheFirstTopOfTheRowHoweverItIsFollowed) {
  constexpr double step = 0.06;
  int asked = 0, off = 0;
  for (const Car& car : test::every_shipped_car()) {
    const SetupTable table = table_of(car, kit_setup(car));
    for (const char* surface : {"carpet", "clay"})
      for (const TyreDraw& tyres : draw_tyres(book().for_surface(surface), test::share_of(24))) {
        const auto handling = handling_on(table, tyres);
        if (!handling) continue;
        const Trimmer trimmer(table, tyres);
        for (const CornerPhase phase : corner_phases) {
          const auto first = trimmer.trim(phase, 0.2);
          if (!first) continue;
          const auto second = trimmer.trim(phase, 0.21, &*first);
          if (!second) continue;
          std::vector<Trim> row{*first, *second};
          while (row.size() < 1000) {
            const std::array<Trim, 2> last{row[row.size() - 2], row.back()};
            const auto next = trimmer.on_way(last, way_between(last[0], last[1]) + step);
            if (!next || next->lateral_g < row.back().lateral_g) break;
            row.push_back(*next);
          }
          const double top = row.back().lateral_g;
          // The next would lie beyond where the car stands, or beyond a kink shortly before: it may reach that place.
          const double end = table.last_g(phase);
          const double last = end - top < 0.5 * step && trimmer.trim(phase, end, &row.back()) ? end : top;
          ++asked;
          const double limit = handling->phase[at(phase)].limit_g;
          off += limit < top - 0.004 || limit > last + 0.004;
        }
      }
  }
  EXPECT_GT(asked, 6 * 2 * 3 * test::share_of(24) / 2);
  EXPECT_LE(off, std::max(2, asked / 100)) << "of " << asked;
}

// Tables stand in steps of 0.2 g: a car that leaves its wheels must not be told to do so at one of them, or half a
// millimetre of height would take a fifth of a g, or nothing.
TEST(Tables, EndWhereTheCarTipsSoThatALittleHeightTakesALittle) {
  for (const char* id : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd"}) {
    std::array<std::vector<double>, phase_count> last;
    for (int i = 0; i <= 12; ++i) {
      Car car = test::shipped(id);
      car.cg_height_mm += 0.5 * i;
      const SetupTable table = table_of(car, kit_setup(car));
      for (const CornerPhase phase : corner_phases) {
        const double g = table.last_g(phase);
        EXPECT_TRUE(table.node(phase, g)) << id;
        EXPECT_FALSE(table.node(phase, g + 0.01)) << id;
        last[at(phase)].push_back(g);
      }
    }
    for (const auto& g : last) {
      EXPECT_LT(g.back(), g.front() - 0.05) << id;
      // A buggy that jacks itself over on its way falls to one stand or to another.
      for (std::size_t i = 1; i < g.size(); ++i) EXPECT_NEAR(g[i], g[i - 1] - 0.02, 0.045) << id << ", step " << i;
    }
  }
}

TEST(Tables, TakeNothingOfAPhaseThatTheOtherDoesNotKnow) {
  const Car car = test::shipped("dunlin-4wd");
  const auto model = build_model(car, kit_setup(car));
  const auto loaded = LoadedCar::of(*model);
  const SetupTable whole = *SetupTable::of(*loaded, {}), part = *SetupTable::of(*loaded, {}, 2, {0.0, 1.0, 0.0});
  for (const SetupTable& mixed : {whole.with(Channel::load, part), part.with(Channel::load, whole)}) {
    EXPECT_FALSE(mixed.node(CornerPhase::entry, 0.5));
    EXPECT_EQ(mixed.last_g(CornerPhase::exit), 0.0);
    ASSERT_TRUE(mixed.node(CornerPhase::middle, 0.5));
    EXPECT_EQ(mixed.node(CornerPhase::middle, 0.5)->load_n, whole.node(CornerPhase::middle, 0.5)->load_n);
  }
  EXPECT_FALSE(whole.differs(Channel::load, part));
}

// What the tables say where the grip is more than the car can stand on.
TEST(OverTyres, TheLimitOfACarThatLeavesItsWheelsFollowsItsHeight) {
  const auto tyres = draw_tyres(book().for_surface("carpet"), 64);
  const auto limit = [&](double higher_mm) {
    Car car = test::shipped("dunlin-4wd");
    car.cg_height_mm += higher_mm;
    const auto h = handling_over(table_of(car, kit_setup(car)), tyres);
    EXPECT_GT(limit_by(CornerPhase::exit, h).stand, 16);
    return spread_of(spec_of(HandlingFigure::limit), CornerPhase::exit, h)->median;
  };
  const double low = limit(0.0), high = limit(1.0), higher = limit(2.0);
  EXPECT_NEAR(low - high, 0.02, 0.015);
  EXPECT_NEAR(high - higher, 0.02, 0.015);
}

// The table holds loads and leans to first order in how the axle's force is shared; the balance itself is asked.
TEST(Trims, StandAsTheBalanceOnSpringsSaysWithTheForcesSharedBySlip) {
  for (const Car& car : {test::touring(), test::buggy(), test::shipped("sanderling-12")}) {
    const auto model = build_model(car, kit_setup(car));
    const auto loaded = LoadedCar::of(*model);
    const SetupTable table = *SetupTable::of(*loaded, {});
    const TyreDraw tyres = middle_of(book().for_surface("asphalt"));
    const Trimmer trimmer(table, tyres);
    for (const double g : {0.4, 0.7, 0.9}) {
      const auto t = trimmer.trim(CornerPhase::middle, g);
      ASSERT_TRUE(t) << car.id << " " << g;
      const auto rest = loaded->balance(loaded->level_collars(), {g, 0.0}, t->servo_rad);
      ASSERT_TRUE(rest);
      // Little by little, as toe may push an axle's wheels against each other by as much as they carry.
      std::optional<Balance> there = *rest;
      for (int i = 1; i <= 8 && there; ++i)
        there = loaded->shared_otherwise(loaded->level_collars(), *there,
                                         {{t->shared[0] * i / 8, t->shared[1] * i / 8}, 1000.0 * t->shared[2] * i / 8});
      ASSERT_TRUE(there) << car.id << " " << g;
      for (const End end : both_ends)
        for (const Side side : both_sides) {
          const WheelTrim& w = t->wheel[at(wheel_of(end, side))];
          const WheelState& k = there->wheel[at(end)][at(side)];
          EXPECT_NEAR(w.load_n, k.load_n, 0.01 * table.mean_load_n()) << car.id << " " << g;
          EXPECT_NEAR(w.lean_rad, sign_of(side) * k.camber_rad, radians(0.15)) << car.id << " " << g;
          EXPECT_NEAR(w.heading_rad, -sign_of(side) * k.toe_rad, radians(0.08)) << car.id << " " << g;
        }
    }
  }
}

/// The same car seen in a mirror: its servo, its battery and its right arms are on the other side.
Car in_the_mirror(Car car) {
  for (Axle& axle : car.axles) std::swap(axle.points[0], axle.points[1]);
  for (Vec3& p : car.steering.points) p = mirrored(p);
  for (MassPart& m : car.masses) {
    m.place = mirrored(m.place);
    if (m.weighed_at) m.weighed_at = mirrored(*m.weighed_at);
  }
  car.cg_y_mm = -car.cg_y_mm;
  return car;
}

TEST(Trims, ARightTurnIsTheMirrorImageOfALeftOneOfTheMirroredCar) {
  int mirrored_cars = 0;
  for (const Car& car : test::every_shipped_car()) {
    CornerAsk left, right;
    right.to_the_left = false;
    const Car other = in_the_mirror(car);
    const SetupTable a = table_of(car, kit_setup(car), left);
    const SetupTable b = table_of(other, kit_setup(other), right);
    // A pair of cranks of which the first is driven is another steering in the mirror.
    if (std::abs(a.steered(Side::left, 0.3).heading + b.steered(Side::right, -0.3).heading) > 1e-10) continue;
    ++mirrored_cars;
    // A pod's two coordinates are found by bisection, to ten digits.
    const double same = car.axle(End::rear).mechanism->independent ? 1.0 : 40.0;
    int compared = 0;
    for (const TyreDraw& tyres : draw_tyres(book().for_surface("clay"), 8)) {
      const Trimmer to_left(a, tyres), to_right(b, tyres);
      for (const CornerPhase phase : corner_phases) {
        const auto l = to_left.trim(phase, 0.5);
        const auto r = to_right.trim(phase, 0.5);
        ASSERT_EQ(l.has_value(), r.has_value()) << car.id;
        if (!l) continue;
        ++compared;
        EXPECT_NEAR(l->servo_rad, -r->servo_rad, same * 1e-9) << car.id;
        EXPECT_NEAR(l->body_slip_rad, -r->body_slip_rad, same * 1e-9) << car.id;
        for (std::size_t w = 0; w < wheel_count; ++w)
          EXPECT_NEAR(l->wheel[w].load_n, r->wheel[w ^ 1U].load_n, same * 2e-8 * a.mean_load_n()) << car.id;
      }
    }
    EXPECT_GT(compared, 12) << car.id;
  }
  EXPECT_GE(mirrored_cars, 4);
}

/// The torque that is passed across an axle is what its kind says.
// What a log's words are weighed by is not looked at beyond them: half of the work, and no other answer.
TEST(Trims, WithoutLimitsTheRestIsTheSame) {
  int compared = 0;
  const auto draws = draw_tyres(book().families.front(), test::share_of(24));
  for (const Car& car : test::every_shipped_car())
    for (const double lateral_g : {0.7, 1.0, 1.3, 2.6}) {
      const CornerAsk ask{.lateral_g = lateral_g};
      const auto whole = tabulate(car, kit_setup(car), ask);
      const auto part = tabulate(car, kit_setup(car), ask, 1, reach_without_limits(ask));
      if (!whole) continue;
      ASSERT_TRUE(part) << car.id;
      for (const CornerPhase phase : corner_phases) {
        EXPECT_LE(part->last_g(phase), whole->last_g(phase));
        for (const TyreDraw& d : draws) {
          const auto all = phase_on(*whole, d, phase), some = phase_on(*part, d, phase, false);
          ASSERT_EQ(all.has_value(), some.has_value());
          if (!all) continue;
          EXPECT_EQ(some->limit_g, 0.0);
          EXPECT_NEAR(some->read_at_g, all->read_at_g, 1e-6);
          for (const End end : both_ends) EXPECT_NEAR(some->left[at(end)], all->left[at(end)], 1e-6) << car.id;
          ASSERT_EQ(some->answers.has_value(), all->answers.has_value());
          if (!all->answers) continue;
          ASSERT_EQ(some->answers->rise_s.has_value(), all->answers->rise_s.has_value());
          EXPECT_NEAR(some->answers->rise_s.value_or(0.0), all->answers->rise_s.value_or(0.0), 1e-6);
          ++compared;
        }
      }
    }
  EXPECT_GT(compared, 6 * 3 * test::share_of(24));
  const Car car = test::touring();
  EXPECT_FALSE(tabulate(car, kit_setup(car), {}, 1, {0.0, to_the_end, 0.0})->node(CornerPhase::entry, 0.2))
      << "what was not asked for has no stand";
}

TEST(Differentials, OpenPassesNothingASpoolTurnsBothAlikeAndOilLiesBetween) {
  Car car = test::touring();
  CornerAsk ask;
  double before = 1e9;
  for (const DifferentialKind kind : {DifferentialKind::spool, DifferentialKind::oil, DifferentialKind::open}) {
    for (const End end : both_ends) car.axles[at(end)].size_of(Size::differential_kind) = static_cast<double>(kind);
    for (const End end : both_ends) car.axles[at(end)].size_of(Size::differential_oil) = 20'000.0;
    test::CarSetup setup = kit_setup(car);
    // Its own part would put another kind in.
    setup.of(car.find_adjuster("front_differential")) = {0.0, 0.0};
    TyreDraw tyres = middle_of(book().families.front());
    tyres[P::differential_friction] = 0.0;
    const SetupTable table = table_of(car, setup, ask);
    const Trimmer trimmer(table, tyres);
    const auto t = trimmer.trim(CornerPhase::exit, 0.6);
    ASSERT_TRUE(t);
    double most = 0.0;
    for (const End end : both_ends) {
      const auto l = at(wheel_of(end, Side::left));
      most = std::max(most, std::abs(t->wheel[l].lengthways_n - t->wheel[l + 1].lengthways_n));
      if (kind == DifferentialKind::spool) {
        EXPECT_EQ(t->apart[at(end)], 0.0);
      }
    }
    if (kind == DifferentialKind::open) {
      EXPECT_NEAR(most, 0.0, 1e-8);
    }
    EXPECT_LT(most, before);
    before = most;
  }
}

TEST(OverTyres, TheSameSetupDiffersByNothingAndAChangeByWhatItsChannelsSay) {
  const Car car = test::touring();
  const auto tyres = draw_tyres(book().for_surface("asphalt"), 64);
  const SetupTable kit = table_of(car, kit_setup(car));
  const Handling over = handling_over(kit, tyres);
  for (const HandlingFigureSpec& f : handling_figures()) {
    const auto d = difference_of(f, CornerPhase::middle, over, over, tyres);
    ASSERT_TRUE(d) << f.id;
    EXPECT_EQ(d->by.median, 0.0);
    EXPECT_EQ(d->more + d->less, 0.0);
  }
  EXPECT_TRUE(reasons_for(kit, kit, tyres).empty()) << "two tables of one setup do not differ";
  test::CarSetup changed = kit_setup(car);
  const PartHandle oil = car.find_adjuster("rear_differential_oil");
  changed.of(oil) = {4.0, 4.0};
  const auto reasons = reasons_for(kit, table_of(car, changed), tyres);
  ASSERT_EQ(reasons.size(), 1U);
  EXPECT_EQ(reasons[0].channel, Channel::drive);
  // One threads or two: the same answers.
  const Handling alone = handling_over(kit, tyres, 1);
  for (std::size_t i = 0; i < tyres.size(); ++i) EXPECT_EQ(alone[i]->phase[1].limit_g, over[i]->phase[1].limit_g);
}

TEST(OverTyres, ToeIsSetApartWhereSteadyStatesDoNotKnowItsUse) {
  const Car car = test::touring();
  const SetupTable kit = table_of(car, kit_setup(car));
  EXPECT_EQ(kit.toe_apart_rad(kit), 0.0);
  test::CarSetup toe_in = kit_setup(car);
  const PartHandle pin = car.find_adjuster("rear_pin_front_insert");
  const Adjuster& a = car.adjusters[pin];
  for (std::size_t i = 0; i < a.positions()->list.size(); ++i)
    if (a.positions()->list[i].label == "in") toe_in.of(pin) = {static_cast<double>(i), static_cast<double>(i)};
  EXPECT_GT(table_of(car, toe_in).toe_apart_rad(kit), toe_beyond_this_rad);
  test::CarSetup oil = kit_setup(car);
  oil.of(car.find_adjuster("rear_differential_oil")) = {4.0, 4.0};
  EXPECT_LT(table_of(car, oil).toe_apart_rad(kit), 1e-9);
}

TEST(OverTyres, WhereTyresDisagreeTheOneCutFindsWhatSplitsThem) {
  // A made-up question that only load sensitivity decides, with a few that err.
  const auto tyres = draw_tyres(book().families.front());
  Handling before(tyres.size()), after(tyres.size());
  std::mt19937 random(5);
  std::bernoulli_distribution errs(0.1);
  for (std::size_t i = 0; i < tyres.size(); ++i) {
    before[i].emplace();
    after[i].emplace();
    const bool gives = (tyres[i][P::grip_falls] > 0.15) != errs(random);
    after[i]->phase[1].left[0] = gives ? 0.02 : -0.02;
  }
  const auto d = difference_of(spec_of(HandlingFigure::front_left), CornerPhase::middle, before, after, tyres);
  ASSERT_TRUE(d && d->split);
  EXPECT_EQ(d->split->parameter, P::grip_falls);
  EXPECT_NEAR(d->split->at, 0.15, 0.01);
  EXPECT_GT(d->split->above, 0.8);
  EXPECT_LT(d->split->below, 0.2);
  const auto by = difference_by_tyre(spec_of(HandlingFigure::front_left), CornerPhase::middle, before, after, tyres);
  ASSERT_TRUE(by);
  EXPECT_EQ(by->parameter, P::grip_falls);
  EXPECT_GT(by->goes_with, 0.5);
  EXPECT_EQ(by->points.size(), tyres.size());
}

/// A change of one part on one kind of ground: for how many of the tyres there is more, and less.
struct Shares {
  double more = 0.0, less = 0.0;
};
Shares change(const Car& car, const char* part, int steps, const char* surface, HandlingFigure figure,
              CornerPhase phase) {
  const CornerAsk ask{.lateral_g = off_road(*value_of<Surface>(surfaces(), surface)) ? 0.8 : 1.1};
  const auto tyres = draw_tyres(book().for_surface(surface));
  test::CarSetup a = kit_setup(car), b = a;
  const PartHandle i = car.find_adjuster(part);
  const double to = car.adjusters[i].stepped(a.of(i).left, steps);
  b.of(i) = {to, to};
  const auto d = difference_of(spec_of(figure), phase, handling_over(table_of(car, a, ask), tyres),
                               handling_over(table_of(car, b, ask), tyres), tyres);
  return {d->more, d->less};
}

// What racers say, asked of the model (practice: common practice, no source). Where it agrees for nearly all tyres the
// test holds it there; where racers disagree it must not be of one mind.
TEST(FactsOfTheTrade, AreAskedOfTheModelOverManyTyres) {
  if (test::runs_a_share()) GTEST_SKIP() << "once, in release: the same code runs in the tests above";
  const Car touring = test::touring(), buggy = test::buggy();
  using F = HandlingFigure;
  // Weight to the rear: the rear has less left, the front more; the car answers later.
  Shares s = change(touring, "battery_place", 1, "asphalt", F::rear_left, CornerPhase::middle);
  EXPECT_GT(s.less, 0.6);
  EXPECT_LT(s.more, 0.1);
  EXPECT_GT(change(touring, "battery_place", 1, "asphalt", F::reaction, CornerPhase::middle).more, 0.65);
  // More caster: steering, by leaning the outer wheel in.
  s = change(buggy, "front_caster_block", 1, "clay", F::front_left, CornerPhase::entry);
  EXPECT_GT(s.more, 0.5);
  EXPECT_LT(s.less, 0.1);
  // Thicker oil in the rear differential: it pushes at entry, the rear holds.
  s = change(buggy, "rear_differential_oil", 2, "clay", F::steering, CornerPhase::entry);
  EXPECT_GT(s.more, 0.9);
  // On power it may push or turn: racers say both, and tyres decide.
  s = change(buggy, "rear_differential_oil", 2, "clay", F::front_left, CornerPhase::exit);
  EXPECT_GT(s.more, 0.15);
  EXPECT_GT(s.less, 0.15);
  // A thicker rear bar takes a front that pushes: at exit racers and tyres disagree.
  s = change(touring, "rear_bar", 1, "asphalt", F::front_left, CornerPhase::exit);
  EXPECT_GT(s.more, 0.05);
  EXPECT_GT(s.less, 0.05);
  // Front toe, by surface. On-road toe-out is sharper at turn-in: towards toe-in the car answers later.
  constexpr int half_a_turn_in = 4;
  s = change(touring, "front_tie_rod", half_a_turn_in, "carpet", F::reaction, CornerPhase::entry);
  EXPECT_GT(s.more, 0.8);
  EXPECT_LT(s.less, 0.1);
  // Off-road toe-in bites at entry, where the loaded wheel already points in, and toe-out steers on exit.
  const Car four = test::shipped("dunlin-4wd");
  s = change(four, "front_tie_rod", half_a_turn_in, "clay", F::front_left, CornerPhase::entry);
  EXPECT_GT(s.more, 2.0 * s.less);
  s = change(four, "front_tie_rod", half_a_turn_in, "clay", F::front_left, CornerPhase::exit);
  EXPECT_GT(s.less, 0.6);
  // Shocks with their bodies down: the weight is lower, so the lightest wheel carries more. In grip hardly anybody
  // would feel it.
  s = change(four, "front_shock_way", 1, "clay", F::least_load, CornerPhase::middle);
  EXPECT_GT(s.more, 0.4);
  EXPECT_LT(s.less, 0.01);
  EXPECT_LT(change(four, "front_shock_way", 1, "clay", F::rear_left, CornerPhase::middle).less, 0.01);
  // On-road toe-out is said to steer less on exit. Here it does not: a steady state has the wheels where they point,
  // and not the driver who has turned in further than he needed.
  EXPECT_GT(change(touring, "front_tie_rod", half_a_turn_in, "asphalt", F::front_left, CornerPhase::exit).less, 0.7);
  // Droop at one end is said to give grip to the other, by letting weight move: that is a matter of the way there, and
  // not in a steady state. What is: an arm on its stop lifts its wheel, its end carries more of the roll, and the other
  // end holds more.
  s = change(touring, "front_droop_screw", 8, "asphalt", F::rear_left, CornerPhase::middle);
  EXPECT_GT(s.more, 0.7);
  EXPECT_LT(s.less, 0.1);
}

}  // namespace
}  // namespace lowkite
