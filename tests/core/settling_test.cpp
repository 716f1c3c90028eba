#include "core/plan/settling.hpp"

#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "core/load/balance.hpp"
#include "core/load/static_load.hpp"
#include "core/plan/axle_judge.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/recipe.hpp"
#include "core/plan/wanted.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

const ResetOptions let_go{.hold_ride_height = false, .step_turns = 0.0};

/// The kit and a random setup of it, with every part at both ends of what it can be.
template <class Try>
void with_every_part_at_its_ends(const Car& car, unsigned seed, const Try& each) {
  std::mt19937 random(seed);
  for (const test::CarSetup& start : {test::CarSetup(kit_setup(car)), test::random_setup(car, random)}) {
    const auto before = evaluate(car, start, {}, coarse_curve);
    if (!before) continue;
    for (const PartHandle part : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[part];
      if (a.threaded() || (test::runs_a_share() && part.place() % 7 != seed % 7)) continue;
      for (const double value : {a.least(), a.most()}) {
        Setup changed = start;
        changed.of(part) = {value, value};
        if (changed.values != start.values) each(*before, changed, car.id + " " + a.id);
      }
    }
  }
}

TEST(ACarLetDown, StandsWhereItsSpringsHoldItWithItsLinksPutBack) {
  int stood = 0, on_stops = 0;
  unsigned seed = 0;
  for (const Car& car : test::every_shipped_car())
    with_every_part_at_its_ends(
        car, ++seed, [&](const Variant& before, const test::CarSetup& changed, const std::string& what) {
          const CarTargets targets = targets_of(before.source.standing);
          const auto work = reset_where_it_sits(car, before, changed, targets, let_go);
          if (!work) return;
          const auto stands = evaluate_stand(car, work->setup);
          ASSERT_TRUE(stands) << what;
          for (const End end : both_ends) {
            const auto lower = sits_lower(car, before, *stands, end);
            if (!lower) continue;
            EXPECT_NEAR(work->setup.ride_height_mm[at(end)], before.setup.ride_height_mm[at(end)] - *lower, 2e-6)
                << what << " " << name_of(end);
            const auto freely =
                sinks_by(before.model, before.source.standing, stands->model, stands->source.standing, end);
            ++(freely && *freely < *lower - 1e-3 ? on_stops : stood);
          }
        });
  EXPECT_GT(stood, test::runs_a_share() ? 40 : 400);
  EXPECT_GT(on_stops, 0) << "no end rose onto its stops";
}

TEST(ACarLetDown, ComesBackWithThePart) {
  unsigned seed = 50;
  int back = 0;
  for (const Car& car : test::every_shipped_car())
    with_every_part_at_its_ends(
        car, ++seed, [&](const Variant& before, const test::CarSetup& changed, const std::string& what) {
          const CarTargets targets = targets_of(before.source.standing);
          const auto there = reset_where_it_sits(car, before, changed, targets, let_go);
          const auto stands = there ? evaluate(car, there->setup, {}, coarse_curve)
                                    : tl::expected<Variant, CarFailure>(tl::unexpect, there.error());
          if (!stands) return;
          for (const End end : both_ends) {
            // A start that stands past its droop stops does not come back to it.
            for (const CornerTravel& c : before.source.travel.corner[at(end)])
              if (c.stops.droop.from_ride_height_mm < 0.0) return;
            // On its stops it has forgotten where it was.
            const auto freely =
                sinks_by(before.model, before.source.standing, stands->model, stands->source.standing, end);
            const auto lower = sits_lower(car, before, *stands, end);
            if (!freely || !lower || std::abs(*freely - *lower) > 1e-4) return;
          }
          test::CarSetup put_back = there->setup;
          for (const PartHandle part : car.adjusters.handles())
            if (!car.adjusters[part].threaded()) put_back.values[part] = before.setup.values[part];
          const auto again = reset_where_it_sits(car, *stands, put_back, targets, let_go);
          if (!again) return;
          for (const End end : both_ends)
            EXPECT_NEAR(again->setup.ride_height_mm[at(end)], before.setup.ride_height_mm[at(end)], 1e-5)
                << what << " " << name_of(end);
          ++back;
        });
  EXPECT_GT(back, test::runs_a_share() ? 20 : 200);
}

TEST(LinksOfWheelsThatAreAlike, AreThoseThatEachSideFindsByItself) {
  unsigned seed = 100;
  for (const Car& car : test::every_shipped_car())
    for (const double step : {0.0, 0.125})
      with_every_part_at_its_ends(
          car, ++seed, [&](const Variant& before, const test::CarSetup& changed, const std::string& what) {
            const CarTargets targets = targets_of(before.source.standing);
            CarTargets apart = targets;  // by less than moves anything, so that nothing is taken from the other side
            for (const End end : both_ends) apart[at(end)][at(Side::right)].camber_rad += 1e-11;
            const ResetOptions options{.step_turns = step};
            const auto alike = reset_alignment(car, changed, targets, options);
            const auto each = reset_alignment(car, changed, apart, options);
            ASSERT_EQ(alike.has_value(), each.has_value()) << what;
            if (!alike) return;
            ASSERT_EQ(alike->steps.size(), each->steps.size()) << what;
            for (std::size_t i = 0; i < alike->steps.size(); ++i) {
              const ResetStep &a = alike->steps[i], &b = each->steps[i];
              EXPECT_TRUE(a.adjuster == b.adjuster && a.side == b.side && a.holds == b.holds) << what;
              EXPECT_NEAR(a.turns, b.turns, 1e-7) << what;
              EXPECT_NEAR(a.value, b.value, 1e-7) << what;
              EXPECT_EQ(a.thread_ends, b.thread_ends) << what;
            }
            for (const PartHandle part : car.adjusters.handles())
              for (const Side side : both_sides)
                EXPECT_NEAR(alike->setup.of(part).on(side), each->setup.of(part).on(side), 1e-7) << what;
            for (const End end : both_ends)
              for (const Side side : both_sides) {
                const WheelError &a = alike->left_over[at(end)][at(side)], &b = each->left_over[at(end)][at(side)];
                EXPECT_NEAR(a.camber_rad, b.camber_rad, 1e-9) << what;
                EXPECT_NEAR(a.toe_rad, b.toe_rad, 1e-9) << what;
              }
          });
}

TEST(AnAxleThatSettles, IsJudgedAsTheCommonWayReadsIt) {
  // Figures that ask for no travel are read without it, and the droop is not put back for them.
  for (const Car& car : test::every_shipped_car()) {
    const test::CarSetup kit = kit_setup(car);
    const auto before = evaluate(car, kit, {}, coarse_curve);
    ASSERT_TRUE(before);
    const CarTargets targets = targets_of(before->source.standing);
    for (const End end : both_ends)
      for (const std::vector<const char*>& asked :
           std::vector<std::vector<const char*>>{{"roll_centre", "track"},
                                                 {"roll_centre", "camber_gain", "droop"},
                                                 {"shock_left_droop", "roll_centre"}}) {
        AxleOrder order{end, {}, recipe_parts(car, end), let_go};
        order.hung_as = &*before;
        for (const char* id : asked)
          if (const FigureSpec* f = find_figure(id); f && f->read(before->source, end, Side::left))
            order.aims.push_back(RecipeAim::of(*f, end, 0.0, 0.1, false));
        AxleJudge judge(car, kit, targets, order);
        for (std::size_t i = 0; i < order.parts.size(); i += test::runs_a_share() ? 5 : 1) {
          const Adjuster& a = car.adjusters[order.parts[i]];
          std::vector<double> values;
          for (const PartHandle part : order.parts) values.push_back(kit.of(part).left);
          values[i] = a.kit == a.most() ? a.least() : a.most();
          const std::vector<PartChange> changes{{order.parts[i], a.kit, values[i]}};
          std::vector<double> quick;
          const bool stands = judge.judge(values, quick);
          const auto back = put_back_exactly(car, *before, changed_for_droop(car, kit, kit, changes), targets, let_go);
          const auto common = back ? evaluate(car, *back, {}, coarse_curve)
                                   : tl::expected<Variant, CarFailure>(tl::unexpect, back.error());
          ASSERT_EQ(stands, common.has_value()) << car.id << " " << a.id;
          for (std::size_t k = 0; stands && k < quick.size(); ++k)
            EXPECT_NEAR(quick[k], *order.aims[k].read(common->source), 1e-6)
                << car.id << " " << a.id << " " << order.aims[k].figure->id;
        }
      }
  }
}

TEST(Figures, AreReadFromNoMoreOfTheTravelThanTheyAskFor) {
  // Judges read as much of it as is asked for, and of a car that is only known as it stands take nothing.
  std::mt19937 random(49);
  for (const Car& car : test::every_shipped_car())
    for (const test::CarSetup& setup : {test::CarSetup(kit_setup(car)), test::random_setup(car, random)}) {
      const auto whole = evaluate(car, setup, {}, coarse_curve);
      const auto as_it_stands = evaluate_stand(car, setup);
      if (!whole || !as_it_stands) continue;
      for (const TravelRead travel : {TravelRead::none, TravelRead::straight, TravelRead::and_lock})
        for (const std::vector<const Variant*>& known : {std::vector<const Variant*>{}, {&*whole}, {&*as_it_stands}}) {
          const auto source = figure_source(car, setup, travel, known);
          ASSERT_TRUE(source) << car.id;
          int read = 0;
          for (const FigurePlace& p : places_of(geometry_figures())) {
            if (p.figure->travel_read() > travel) continue;
            EXPECT_EQ(p.read(*source), p.read(whole->source)) << car.id << " " << p.figure->id;
            read += p.read(*source).has_value();
          }
          EXPECT_GT(read, 20) << car.id;
        }
    }
}

// Springs, bars and oils: what a car that differs in them takes from another is what it would have found by itself.
/// All that is told of the whole travel and of the car as it stands, to the last bit.
void expect_the_same(const Variant& a, const Variant& b, const std::string& where) {
  for (const FigurePlace& p : places_of(geometry_figures()))
    EXPECT_EQ(p.read(a.source), p.read(b.source)) << where << " " << p.figure->id;
  for (const End end : both_ends) {
    EXPECT_EQ(a.source.travel.roll_centre_per_degree_mm[at(end)], b.source.travel.roll_centre_per_degree_mm[at(end)]);
    ASSERT_EQ(a.source.curve[at(end)].points.size(), b.source.curve[at(end)].points.size()) << where;
    for (const Side side : both_sides) {
      const CornerTravel &c = a.source.travel.corner[at(end)][at(side)], &d = b.source.travel.corner[at(end)][at(side)];
      EXPECT_EQ(c.stops.droop.arm_angle, d.stops.droop.arm_angle) << where;
      EXPECT_EQ(c.stops.bump.arm_angle, d.stops.bump.arm_angle) << where;
      EXPECT_EQ(c.shaft_most_angle_rad, d.shaft_most_angle_rad) << where;
    }
  }
  ASSERT_EQ(a.source.travel.lock.has_value(), b.source.travel.lock.has_value()) << where;
  if (!a.source.travel.lock) return;
  for (std::size_t i = 0; i < a.source.travel.lock->over_travel.size(); ++i)
    for (const Side way : both_sides)
      EXPECT_EQ(a.source.travel.lock->over_travel[i].end[at(way)].servo_rad,
                b.source.travel.lock->over_travel[i].end[at(way)].servo_rad)
          << where;
}

TEST(AnAxleThatIsAlike, IsTakenFromWhereItWasReadWhateverTheOtherIs) {
  std::mt19937 random(48);
  int shared = 0;
  for (const Car& car : test::every_shipped_car())
    for (int i = 0; i < test::share_of(40); ++i) {
      const test::CarSetup first = test::random_setup(car, random);
      test::CarSetup second = test::random_setup(car, random);
      second.ride_height_mm = first.ride_height_mm;
      // The front of the one and the rear of the other, in a car of which neither is the whole.
      test::CarSetup mixed = second;
      mixed.wanted_lock_deg = first.wanted_lock_deg;
      for (const PartHandle part : car.adjusters.handles())
        if (car.adjusters[part].steering || car.adjusters[part].end == End::front) mixed.of(part) = first.of(part);
      const auto a = evaluate(car, first, {}, coarse_curve);
      const auto b = evaluate(car, second, {}, i % 2 ? coarse_curve : coarse_curve + 2);
      const auto by_itself = evaluate(car, mixed, {}, coarse_curve);
      if (!a || !b || !by_itself) continue;
      const PerEnd<bool> front = axles_alike(car, first, mixed), rear = axles_alike(car, second, mixed);
      EXPECT_TRUE(front[0] && rear[1]) << car.id;
      const auto of_both = evaluate(car, mixed, {}, coarse_curve, {&*a, &*b});
      ASSERT_TRUE(of_both) << car.id;
      expect_the_same(*of_both, *by_itself, car.id + " " + std::to_string(i));
      ++shared;
      // Every part in turn, one step on: what it does not reach is as it was.
      for (const PartHandle part : car.adjusters.handles()) {
        if (part.place() % at(test::share_of(40)) != at(i)) continue;
        test::CarSetup stepped = mixed;
        for (const Side side : both_sides)
          stepped.of(part).on(side) = car.adjusters[part].stepped(mixed.of(part).on(side), 1);
        const auto alone = evaluate(car, stepped, {}, coarse_curve);
        const auto from_it = evaluate(car, stepped, {}, coarse_curve, {&*by_itself});
        ASSERT_EQ(alone.has_value(), from_it.has_value()) << car.id;
        if (alone) expect_the_same(*from_it, *alone, car.id + " " + car.adjusters[part].id);
      }
    }
  EXPECT_GT(shared, test::runs_a_share() ? 5 : 100);
}

TEST(CarsThatAreAlikeInGeometry, ShareWhatGeometryAloneDecides) {
  int alike = 0, of_one_axle = 0;
  for (const Car& car : test::every_shipped_car())
    with_every_part_at_its_ends(
        car, 47, [&](const Variant& before, const test::CarSetup& changed, const std::string& where) {
          const PerEnd<bool> axles = axles_alike(car, before.setup, changed);
          const auto by_itself = evaluate(car, changed, {}, coarse_curve);
          const auto shared = evaluate(car, changed, {}, coarse_curve, {&before});
          ASSERT_EQ(by_itself.has_value(), shared.has_value()) << where;
          if (!by_itself) return;
          expect_the_same(*shared, *by_itself, where);
          if (!axles[0] || !axles[1]) {
            of_one_axle += axles[0] || axles[1];
            return;
          }
          ++alike;
          // So does a comparison from the one before it, in whatever attitude it is looked at.
          const ViewAttitude rolled{.roll_rad = 0.02};
          const auto was = compare(car, before.setup, before.setup, {}, {}, coarse_curve);
          const auto from_it = compare(car, before.setup, changed, rolled, {}, coarse_curve, &*was);
          const auto anew = compare(car, before.setup, changed, rolled, {}, coarse_curve);
          ASSERT_EQ(from_it.has_value(), anew.has_value()) << where;
          for (const FigurePlace& p : places_of(geometry_figures())) {
            if (!anew) break;
            EXPECT_EQ(p.read(from_it->changed->source), p.read(anew->changed->source)) << where << " " << p.figure->id;
            EXPECT_EQ(p.read(from_it->reset->source), p.read(anew->reset->source)) << where << " " << p.figure->id;
          }
          const auto base = LoadedCar::of(before.model);
          const auto alone = LoadedCar::of(by_itself->model);
          ASSERT_EQ(base.has_value(), alone.has_value()) << where;
          if (!base) return;
          // Asked of the other car first, and of this one first.
          for (const bool other_first : {true, false}) {
            const auto fresh = LoadedCar::of(before.model);
            if (other_first) (void)fresh->springs_only_stiffen();
            const auto like = LoadedCar::of(by_itself->model, &*fresh);
            ASSERT_TRUE(like) << where;
            EXPECT_EQ(like->level_collars(), alone->level_collars()) << where;
            EXPECT_EQ(like->springs_only_stiffen(), alone->springs_only_stiffen()) << where;
            EXPECT_EQ(fresh->springs_only_stiffen(), base->springs_only_stiffen()) << where;
            const Acceleration turn{0.6, -0.2};
            const auto a = like->balance(like->level_collars(), turn);
            const auto b = alone->balance(alone->level_collars(), turn);
            ASSERT_EQ(a.has_value(), b.has_value()) << where;
            if (!a) continue;
            for (const End end : both_ends)
              for (const Side side : both_sides)
                EXPECT_NEAR(a->wheel[at(end)][at(side)].load_n, b->wheel[at(end)][at(side)].load_n, 1e-9) << where;
          }
        });
  EXPECT_GT(alike, test::runs_a_share() ? 10 : 100);
  EXPECT_GT(of_one_axle, test::runs_a_share() ? 20 : 200);
}

}  // namespace
}  // namespace lowkite
