// Re-set: what the turnbuckles must do after a change, and that it really puts camber and toe back.
#include <gtest/gtest.h>

#include <random>

#include "core/load/balance.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

constexpr double held_rad = 1e-9;

Setup with(const Car& car, const char* id, double change) {
  test::CarSetup s = kit_setup(car);
  Setting& v = s.of(car.find_adjuster(id));
  v.left += change;
  v.right += change;
  return s;
}

CarTargets kit_targets(const Car& car) {
  const auto model = build_model(car, kit_setup(car));
  return targets_of(*figures_at(*model, static_attitude(*model)));
}

TEST(AnExactReset, RestoresCamberAndToeOfEveryWheelAfterEveryChange) {
  for (const Car& car : {test::touring(), test::buggy()}) {
    const CarTargets targets = kit_targets(car);
    for (const Adjuster& a : car.adjusters) {
      if (a.kind == AdjusterKind::turnbuckle) continue;
      for (const double v : {a.stepped(a.kit, 1), a.stepped(a.kit, -1)}) {
        test::CarSetup s = kit_setup(car);
        s.of(car.find_adjuster(a.id)) = {v, v};
        const auto result = reset_alignment(car, s, targets, {.step_turns = 0});
        ASSERT_TRUE(result) << a.id;
        const auto model = build_model(car, result->setup);
        ASSERT_TRUE(model);
        const auto f = figures_at(*model, static_attitude(*model));
        ASSERT_TRUE(f);
        for (const End e : both_ends)
          for (const Side side : both_sides) {
            const WheelTarget& t = targets[at(e)][at(side)];
            EXPECT_NEAR(f->axle[at(e)].wheel[at(side)].camber_rad, t.camber_rad, held_rad) << a.id;
            if (car.axle(e).mechanism->steered) {
              EXPECT_NEAR(f->axle[at(e)].wheel[at(side)].toe_rad, t.toe_rad, held_rad) << a.id;
            }
          }
      }
    }
  }
}

TEST(ARoundedReset, TurnsInEighthsAndTellsWhatIsLeft) {
  const Car car = test::touring();
  const auto result = reset_alignment(car, with(car, "front_link_inner_shims", -1.0), kit_targets(car), {});
  ASSERT_TRUE(result);
  ASSERT_FALSE(result->steps.empty());
  for (const ResetStep& s : result->steps) {
    EXPECT_DOUBLE_EQ(s.turns * 8, std::round(s.turns * 8));
    EXPECT_LE(std::abs(s.turns - s.exact_turns), 0.0625 + 1e-12);
    EXPECT_DOUBLE_EQ(s.mm, s.turns * 1.0) << "0.5 mm of pitch with opposed threads is 1 mm a turn";
    EXPECT_FALSE(s.thread_ends);
  }
  const auto model = build_model(car, result->setup);
  const auto f = figures_at(*model, static_attitude(*model));
  const CarTargets targets = kit_targets(car);
  const double left_over = f->axle[0].wheel[0].camber_rad - targets[0][0].camber_rad;
  EXPECT_NEAR(result->left_over[0][0].camber_rad, left_over, 1e-12);
  EXPECT_LT(std::abs(degrees(left_over)), 0.16) << "a sixteenth of a turn is a sixteenth of a millimetre";
}

TEST(ARoundedReset, OfACarThatWasPutBackTurnsNothing) {
  std::mt19937 random(2611);
  int put_back = 0;
  for (const Car& car : test::every_shipped_car())
    for (int round = 0; round < test::share_of(40); ++round) {
      const test::CarSetup stood = test::random_setup(car, random);
      const auto model = build_model(car, stood);
      const auto figures = model ? figures_at(*model, static_attitude(*model))
                                 : tl::expected<CarFigures, CarFailure>(tl::unexpect, CarFailure{});
      if (!figures) continue;
      const test::CarSetup changed = test::random_setup(car, random);
      const auto once = reset_alignment(car, changed, targets_of(*figures), {});
      if (!once) continue;
      const auto twice = reset_alignment(car, once->setup, targets_of(*figures), {});
      ASSERT_TRUE(twice) << car.id << ' ' << round;
      for (const ResetStep& s : twice->steps)
        EXPECT_TRUE(s.turns == 0.0 && s.thread_ends)
            << car.id << ' ' << round << ": " << car.adjusters[s.adjuster].id << ' ' << s.turns;
      ++put_back;
    }
  EXPECT_GT(put_back, test::share_of(40));
}

TEST(AReset, OfAnUntouchedCarTurnsNothing) {
  for (const double step : {0.0, 0.125}) {
    const Car car = test::buggy();
    const auto result = reset_alignment(car, kit_setup(car), kit_targets(car), {.step_turns = step});
    ASSERT_TRUE(result);
    EXPECT_TRUE(result->steps.empty());
    EXPECT_EQ(result->setup, kit_setup(car));
  }
}

TEST(BothSides, AreResetAlikeOnASymmetricCarAndApartOnAnother) {
  const Car car = test::touring();
  test::CarSetup s = kit_setup(car);
  const PartHandle shims = car.find_adjuster("front_link_inner_shims");
  s.of(shims).left = 1.0;
  const auto result = reset_alignment(car, s, kit_targets(car), {});
  ASSERT_TRUE(result);
  for (const ResetStep& step : result->steps) EXPECT_EQ(step.side, Side::left) << "only the changed side is touched";
}

TEST(EachHold, CanBeSwitchedOff) {
  const Car car = test::touring();
  const test::CarSetup s = with(car, "front_link_inner_shims", -1.0);
  const auto none = reset_alignment(car, s, kit_targets(car), {.hold_camber = false, .hold_toe = false});
  ASSERT_TRUE(none);
  EXPECT_TRUE(none->steps.empty());
  const auto toe = reset_alignment(car, s, kit_targets(car), {.hold_camber = false, .step_turns = 0});
  ASSERT_TRUE(toe);
  for (const ResetStep& step : toe->steps) EXPECT_EQ(step.holds, LinkHolds::toe);
  EXPECT_NEAR(toe->left_over[0][0].toe_rad, 0.0, held_rad);
  EXPECT_GT(std::abs(toe->left_over[0][0].camber_rad), radians(0.05));
}

TEST(CasterByTwoUpperLinks, IsPutBackWhereACarHasThem) {
  const Car car = test::shipped("godwit-ta");
  ASSERT_TRUE(can_hold_caster(car, End::front));
  EXPECT_FALSE(can_hold_caster(car, End::rear));
  EXPECT_FALSE(can_hold_caster(test::touring(), End::front)) << "one camber link and blocks";
  const CarTargets targets = kit_targets(car);
  const auto caster = [&](const test::CarSetup& s) {
    const auto model = build_model(car, s);
    return degrees(figures_at(*model, static_attitude(*model))->axle[0].wheel[0].kingpin->caster_rad);
  };
  const double kit = caster(kit_setup(car));
  int tried = 0;
  for (const Adjuster& a : car.adjusters) {
    if (a.end != End::front || a.threaded() || a.steering || !a.moves_geometry()) continue;
    test::CarSetup s = kit_setup(car);
    const double v = a.stepped(a.kit, a.stepped(a.kit, 1) != a.kit ? 1 : -1);
    s.of(car.find_adjuster(a.id)) = {v, v};
    const auto without = reset_alignment(car, s, targets, {.hold_caster = false, .step_turns = 0.0});
    const auto held = reset_alignment(car, s, targets, {.step_turns = 0.0});
    ASSERT_TRUE(without && held) << a.id;
    if (std::abs(caster(without->setup) - kit) < 0.05) continue;
    ++tried;
    EXPECT_NEAR(caster(held->setup), kit, 1e-6) << a.id;
    // Camber and toe are held along with it.
    EXPECT_NEAR(held->left_over[0][0].camber_rad, 0.0, held_rad) << a.id;
    EXPECT_NEAR(held->left_over[0][0].toe_rad, 0.0, held_rad) << a.id;
    const auto by_hand = reset_alignment(car, s, targets, {});
    EXPECT_NEAR(caster(by_hand->setup), kit, 0.2) << a.id << ", in eighths";
  }
  EXPECT_GT(tried, 0) << "no part of this car moves its caster";
}

TEST(RideHeightLetGo, TheCarSitsAsItsShocksLeaveIt) {
  // Common practice, no source: half a millimetre under the rear hubs, and the car sits about that much lower.
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const test::CarSetup changed = with(car, "rear_hub_shims", 0.5);
  const auto held = compare(car, kit, changed, {}, {}, 9);
  const auto let_go = compare(car, kit, changed, {}, {.hold_ride_height = false}, 9);
  ASSERT_TRUE(held && let_go);
  EXPECT_EQ(held->reset->setup.ride_height_mm, kit.ride_height_mm);
  // The motion ratio changes by half a per cent on the way, which soft springs answer with another tenth or two.
  EXPECT_NEAR(kit.ride_height_mm[1] - let_go->reset->setup.ride_height_mm[1], 0.6, 0.2);
  // Both ends at once, as the whole balance has it: the plate pitches, and the front rises a little.
  const auto before = LoadedCar::of(let_go->baseline->model);
  const auto after = LoadedCar::of(let_go->reset->model);
  ASSERT_TRUE(before && after);
  const auto sits = after->balance(before->level_collars(), {});
  ASSERT_TRUE(sits);
  for (const End end : both_ends)
    EXPECT_NEAR(let_go->reset->setup.ride_height_mm[at(end)], sits->attitude.ride_height_mm[at(end)], 0.02);
  // Camber is put back at the height at which it then stands.
  const auto camber = [](const Comparison& c) { return degrees(c.reset->source.standing.axle[1].wheel[0].camber_rad); };
  EXPECT_NEAR(camber(*let_go), camber(*held), 0.15);
}

TEST(TheWorkOrder, IsFrontToRearAndCamberBeforeToe) {
  const Car car = test::touring();
  test::CarSetup s = with(car, "front_link_inner_shims", -2.0);
  s.of(car.find_adjuster("rear_link_inner_shims")) = {0, 0};
  const auto result = reset_alignment(car, s, kit_targets(car), {});
  ASSERT_TRUE(result);
  std::vector<std::pair<End, LinkHolds>> order;
  for (const ResetStep& step : result->steps) order.emplace_back(car.adjusters[step.adjuster].end, step.holds);
  EXPECT_TRUE(std::is_sorted(order.begin(), order.end()));
  EXPECT_EQ(order.front(), std::pair(End::front, LinkHolds::camber));
}

TEST(AThreadThatEnds, IsSaid) {
  Car car = test::touring();
  Adjuster& link = car.adjusters[car.find_adjuster("front_camber_link")];
  std::get<Range>(link.part).stops = {-0.125, 0.0, 0.125};
  const auto result = reset_alignment(car, with(car, "front_link_hole", 1), kit_targets(car), {});
  ASSERT_TRUE(result);
  const auto ended =
      std::find_if(result->steps.begin(), result->steps.end(), [](const auto& s) { return s.thread_ends; });
  ASSERT_NE(ended, result->steps.end());
  EXPECT_EQ(std::abs(ended->value), 0.125);
  EXPECT_GT(std::abs(ended->exact_turns), 0.125);
}

TEST(AHeldAngleWithoutATurnbuckle, IsAGap) {
  const Car car = test::touring();
  const auto result = reset_alignment(car, kit_setup(car), kit_targets(car), {});
  ASSERT_TRUE(result);
  ASSERT_EQ(result->gaps.size(), 1u) << "the rear toe sits in the inserts";
  EXPECT_EQ(result->gaps[0].end, End::rear);
  EXPECT_EQ(result->gaps[0].what, LinkHolds::toe);
}

TEST(ALongerTurnbuckle, MovesTheWheelTheWayItMustOnTheBench) {
  const Car car = test::touring();
  const auto figures = [&](const test::CarSetup& s) {
    const auto m = build_model(car, s);
    return *figures_at(*m, static_attitude(*m));
  };
  const CarFigures kit = figures(kit_setup(car));
  EXPECT_GT(figures(with(car, "front_camber_link", 1)).axle[0].wheel[0].camber_rad, kit.axle[0].wheel[0].camber_rad)
      << "a longer upper link pushes the top of the wheel out";
  EXPECT_GT(figures(with(car, "front_tie_rod", 1)).axle[0].wheel[0].toe_rad, kit.axle[0].wheel[0].toe_rad)
      << "a longer tie rod behind the axle pushes the back of the wheel out: toe-in";
}

TEST(Comparison, OfASetupWithItselfShowsNoDifference) {
  const Car car = test::buggy();
  const auto c = compare(car, kit_setup(car), kit_setup(car), {.bump_mm = 4, .roll_rad = 0.02}, {}, 11);
  ASSERT_TRUE(c);
  for (const FigureSpec& f : geometry_figures())
    for (const End e : both_ends)
      for (const Side s : both_sides) {
        const auto a = f.read(c->baseline->source, e, s);
        const auto b = f.read(c->reset->source, e, s);
        ASSERT_EQ(a.has_value(), b.has_value());
        if (a) {
          EXPECT_DOUBLE_EQ(*a, *b) << f.id;
        }
      }
  for (const auto& lower : c->sits_lower_mm) EXPECT_NEAR(lower.value_or(1), 0.0, 1e-9);
}

TEST(Comparison, AimsAtTheBenchReadingsWhateverAttitudeIsShown) {
  const Car car = test::touring();
  const test::CarSetup changed = with(car, "front_link_inner_shims", -1);
  const auto level = compare(car, kit_setup(car), changed, {}, {}, 5);
  const auto rolled = compare(car, kit_setup(car), changed, {.bump_mm = 2, .roll_rad = 0.03}, {}, 5);
  ASSERT_TRUE(level && rolled);
  EXPECT_EQ(level->work.setup, rolled->work.setup);
}

TEST(Comparison, TakesAnUnchangedBaselineFromTheLastOne) {
  const Car car = test::touring();
  const test::CarSetup changed = with(car, "front_link_inner_shims", -1);
  const auto first = compare(car, kit_setup(car), changed, {}, {}, 5);
  ASSERT_TRUE(first);
  const auto again = compare(car, kit_setup(car), with(car, "front_link_inner_shims", -2), {}, {}, 5, &*first);
  ASSERT_TRUE(again);
  EXPECT_EQ(again->baseline, first->baseline);
  EXPECT_NE(again->changed, first->changed);
  const auto rolled = compare(car, kit_setup(car), changed, {.roll_rad = 0.02}, {}, 5, &*first);
  ASSERT_TRUE(rolled);
  EXPECT_NE(rolled->baseline, first->baseline) << "another attitude is another reading";
  const auto pinned = compare(car, changed, changed, {}, {}, 5, &*first);
  ASSERT_TRUE(pinned);
  EXPECT_EQ(pinned->baseline->setup, changed);
  EXPECT_EQ(pinned->reset, pinned->changed) << "nothing to turn";
}

TEST(Comparison, SaysWhichSetupCannotStand) {
  const Car car = test::touring();
  test::CarSetup sunk = kit_setup(car);
  sunk.ride_height_mm = {-70, -70};
  const auto c = compare(car, kit_setup(car), sunk, {}, {}, 5);
  ASSERT_FALSE(c);
  EXPECT_EQ(c.error().which, ComparisonFailure::Which::changed);
  // And where: one end alone too low is that end.
  for (const End end : both_ends) {
    test::CarSetup one = kit_setup(car);
    one.ride_height_mm[at(end)] = -70;
    const auto at_one = compare(car, one, kit_setup(car), {}, {}, 5);
    ASSERT_FALSE(at_one);
    EXPECT_EQ(at_one.error().which, ComparisonFailure::Which::baseline);
    EXPECT_EQ(at_one.error().why.end, end);
    EXPECT_TRUE(at_one.error().why.side);
    EXPECT_FALSE(at_one.error().why.steering);
  }
}

}  // namespace
}  // namespace lowkite
