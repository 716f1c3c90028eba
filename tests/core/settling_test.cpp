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

TEST(FiguresOfACarThatStands, NeedNoTravelToBeRead) {
  // Judges that are asked for none of the whole travel do not read it.
  for (const Car& car : test::every_shipped_car()) {
    const test::CarSetup kit = kit_setup(car);
    const auto whole = figure_source(car, kit, true);
    const auto stands = figure_source(car, kit, false);
    ASSERT_TRUE(whole && stands);
    int read = 0;
    for (const FigurePlace& p : places_of(geometry_figures())) {
      if (p.figure->whole_travel) continue;
      EXPECT_EQ(p.read(*whole), p.read(*stands)) << car.id << " " << p.figure->id;
      read += p.read(*stands).has_value();
    }
    EXPECT_GT(read, 20) << car.id;
  }
}

// Springs, bars and oils: what a car that differs in them takes from another is what it would have found by itself.
TEST(CarsThatAreAlikeInGeometry, ShareWhatGeometryAloneDecides) {
  int alike = 0, unlike = 0;
  for (const Car& car : test::every_shipped_car())
    with_every_part_at_its_ends(
        car, 47, [&](const Variant& before, const test::CarSetup& changed, const std::string& where) {
          if (!alike_in_geometry(car, before.setup, changed)) {
            ++unlike;
            return;
          }
          ++alike;
          const auto by_itself = evaluate(car, changed, {}, coarse_curve);
          const auto shared = evaluate(car, changed, {}, coarse_curve, &before);
          ASSERT_TRUE(by_itself && shared) << where;
          for (const FigurePlace& p : places_of(geometry_figures()))
            EXPECT_EQ(p.read(shared->source), p.read(by_itself->source)) << where << " " << p.figure->id;
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
  EXPECT_GT(unlike, test::runs_a_share() ? 20 : 200);
}

}  // namespace
}  // namespace lowkite
