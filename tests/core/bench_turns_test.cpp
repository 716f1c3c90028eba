// What a racer follows blindly at the bench: readings belong to a state of the car, sides of zero are asked for, parts
// that answer together are answered together, and only what was measured goes back to the plan.
#include <gtest/gtest.h>

#include "bench_sim/bench_car.hpp"
#include "core/bench/verdict.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

class OnTheBench : public testing::Test {
 protected:
  explicit OnTheBench(Car of = test::touring())
      : car(std::move(of)), run(start_run(car, kit_setup(car), BenchList::full, {}, "2026-11-27T10:00:00")) {}

  BenchStep step(const std::string& id) const {
    for (const BenchStep& s : steps_of(car, run))
      if (s.id == id) return s;
    throw std::logic_error("no step " + id);
  }
  StepVerdict verdict(const std::string& id) const { return *judge(car, run, step(id)); }
  double target(const std::string& id, Side side = Side::left) const { return *verdict(id).side[at(side)].target; }
  void read(const std::string& id, double left, double right) {
    run.records[id].readings[0].push_back(left);
    run.records[id].readings[1].push_back(right);
  }
  bool turn(const std::string& id, std::optional<Side> side = {}) {
    return turned(car, run, step(id), side, "2026-11-27T10:05:00");
  }
  StepState tick(const std::string& id) { return run.records[id].state = state_when_ticked(car, run, step(id)); }

  Car car;
  BenchRun run;
};

TEST_F(OnTheBench, AReadingAfterATurnIsNotAveragedWithTheOneBeforeIt) {
  const std::string id = "links:front:camber_link";
  const double wanted = target(id);
  read(id, wanted + 0.50, wanted);
  const auto told = verdict(id).side[0].answer;
  ASSERT_EQ(told->verdict, GaugeAnswer::Verdict::turn);
  EXPECT_EQ(told->told, -0.5) << "half a millimetre at a millimetre a turn";
  ASSERT_TRUE(turn(id, Side::left));
  EXPECT_TRUE(run.records[id].readings[0].empty()) << "a new state of the car begins";
  ASSERT_EQ(run.records[id].earlier.size(), 1u);
  EXPECT_NEAR(run.records[id].earlier[0].readings[0][0], wanted + 0.5, 1e-12) << "the one before stays as history";
  EXPECT_EQ(run.records[id].readings[1].size(), 1u) << "the other side was not turned";
  ASSERT_TRUE(run.records[id].moved_to[0]);
  EXPECT_NEAR(*run.records[id].moved_to[0], wanted, 1e-9) << "what it should read since then";
  run.records[id].readings[0] = {wanted + 0.03, wanted + 0.01};
  const auto after = verdict(id).side[0];
  EXPECT_NEAR(after.read->mean, wanted + 0.02, 1e-12) << "repeats within a state are averaged";
  EXPECT_EQ(after.answer->verdict, GaugeAnswer::Verdict::as_it_should);
}

TEST_F(OnTheBench, ATurnOpensWhatItMovesAndWasRightBefore) {
  const double camber = target("camber:front");
  read("toe:front", target("toe:front"), target("toe:front"));
  EXPECT_EQ(tick("toe:front"), StepState::measured);
  read("camber:front", camber - 1.0, camber);
  ASSERT_TRUE(turn("camber:front"));
  EXPECT_EQ(run.records["toe:front"].state, StepState::open) << "toe after camber";
  EXPECT_EQ(run.records["toe:front"].moved_by, "camber:front");
  EXPECT_TRUE(run.records["toe:front"].readings[0].empty());
  EXPECT_EQ(run.records["toe:front"].readings[1].size(), 1u) << "the right wheel was not touched";
}

TEST_F(OnTheBench, WhatIsNotToldIsNotTurned) {
  read("camber:front", target("camber:front"), target("camber:front", Side::right));
  const BenchRun before = run;
  EXPECT_FALSE(turn("camber:front"));
  EXPECT_EQ(run, before);
}

TEST_F(OnTheBench, AReadingOnTheOtherSideOfZeroIsAskedAbout) {
  const double out = target("toe:front");
  ASSERT_LT(out, -0.5) << "this car's front wheels stand out";
  read("toe:front", -out, out);
  auto v = verdict("toe:front");
  EXPECT_TRUE(v.side[0].asks_side);
  EXPECT_FALSE(v.side[0].answer) << "a wrong turn is worse than no answer";
  EXPECT_FALSE(v.side[1].asks_side);
  EXPECT_FALSE(turn("toe:front", Side::left));
  run.records["toe:front"].sure[0] = true;
  v = verdict("toe:front");
  ASSERT_TRUE(v.side[0].answer);
  EXPECT_EQ(v.side[0].answer->verdict, GaugeAnswer::Verdict::turn);
  read("camber:front", 1.0, -1.0);
  EXPECT_TRUE(verdict("camber:front").side[0].asks_side);
  EXPECT_FALSE(verdict("camber:front").side[1].asks_side);
}

TEST_F(OnTheBench, BothLiftsOfABarAreSolvedTogether) {
  const std::string id = "bar:front";
  const BenchStep s = step(id);
  const PartHandle part = car.find_adjuster("front_bar_link");
  const auto lifts = [&](const test::CarSetup& setup) {
    return PerSide<double>{*read_gauge(car, setup, *s.gauge, Side::left, run.bench),
                           *read_gauge(car, setup, *s.gauge, Side::right, run.bench)};
  };
  for (const auto& [left_off, right_off] : {std::pair(1.0, -0.5), std::pair(0.0, 1.25), std::pair(-2.0, -0.75)}) {
    test::CarSetup off = run.planned;
    off.of(part).left += left_off;
    off.of(part).right += right_off;
    const PerSide<double> reads = lifts(off);
    run.records[id].readings = {std::vector<double>{reads[0]}, std::vector<double>{}};
    const auto alone = verdict(id).side[0].answer;
    EXPECT_TRUE(alone->verdict == GaugeAnswer::Verdict::other_side ||
                alone->verdict == GaugeAnswer::Verdict::as_it_should)
        << "one lift alone tells nothing to turn";
    run.records[id].readings[1] = {reads[1]};
    const StepVerdict v = verdict(id);
    const GaugeAnswer left = *v.side[0].answer;
    const GaugeAnswer right = *v.side[1].answer;
    ASSERT_TRUE(left.verdict == GaugeAnswer::Verdict::turn || right.verdict == GaugeAnswer::Verdict::turn);
    EXPECT_LE(std::abs(left.told + right.told), 0.25 + 1e-12) << "opposite, to a quarter turn";
    EXPECT_NEAR(left.told - right.told, right_off - left_off, 0.125 + 1e-9) << "to half a quarter turn";
    // Done on that car, both lift alike.
    off.of(part).left += left.told;
    off.of(part).right += right.told;
    const PerSide<double> after = lifts(off);
    EXPECT_LT(std::abs(after[0] - after[1]), 0.2);
    EXPECT_LT(std::abs(after[0] - after[1]), std::abs(reads[0] - reads[1]));
  }
}

TEST_F(OnTheBench, ABarThatNoLinksWouldGiveSaysSo) {
  const double wanted = target("bar:front");
  read("bar:front", wanted + 9.0, wanted + 9.0);
  EXPECT_EQ(verdict("bar:front").side[0].answer->verdict, GaugeAnswer::Verdict::out_of_reach)
      << "both far too late: something binds";
  run.records["bar:front"].readings = {std::vector<double>{wanted - 2.0}, std::vector<double>{wanted - 2.0}};
  EXPECT_EQ(verdict("bar:front").side[0].answer->verdict, GaugeAnswer::Verdict::out_of_reach)
      << "before it can touch the other arm";
}

TEST_F(OnTheBench, RideHeightIsAnsweredByBothCollarsInTurns) {
  const double wanted = target("ride_height:front");
  read("ride_height:front", wanted - 0.5, wanted - 0.5);
  const auto v = verdict("ride_height:front");
  const auto& a = *v.side[0].answer;
  ASSERT_EQ(a.verdict, GaugeAnswer::Verdict::turn);
  EXPECT_TRUE(a.collars);
  EXPECT_GT(a.told, 0.0) << "too low: the collars go down their shocks";
  const double eighths = a.told / car.axle(End::front).collar_pitch_mm * 8.0;
  EXPECT_NEAR(eighths, std::round(eighths), 1e-9);
  EXPECT_EQ(a.told, v.side[1].answer->told) << "alike, so that the cross weight stays";
  // Followed to its end on the springs.
  const auto model = build_model(car, run.planned);
  const auto loaded = LoadedCar::of(*model);
  Collars moved = loaded->level_collars();
  for (double& c : moved[0]) c += a.told;
  const auto b = loaded->balance(moved, {});
  ASSERT_TRUE(b);
  EXPECT_NEAR(b->attitude.ride_height_mm[0], wanted + 0.5, 0.12);
  EXPECT_NEAR(b->cross(), 0.5, 1e-9);
}

TEST_F(OnTheBench, AfterACollarTheOtherAxleIsReadAgain) {
  read("ride_height:front", target("ride_height:front"), target("ride_height:front"));
  EXPECT_EQ(tick("ride_height:front"), StepState::measured);
  read("ride_height:rear", target("ride_height:rear") + 0.6, target("ride_height:rear") + 0.6);
  ASSERT_TRUE(turn("ride_height:rear"));
  EXPECT_EQ(run.records["ride_height:front"].state, StepState::open);
  EXPECT_EQ(run.records["ride_height:front"].moved_by, "ride_height:rear");
}

TEST_F(OnTheBench, ALeanIsCuredByCollarsAndATwistIsToldAsATwist) {
  run.bench.ride_points_apart_mm = 60.0;
  const double front = target("ride_height:front");
  const double rear = target("ride_height:rear");
  read("ride_height:front", front + 0.3, front - 0.3);
  EXPECT_FALSE(lean_answer(car, run)) << "one axle does not tell a lean from a twist";
  read("ride_height:rear", rear + 0.3, rear - 0.3);
  auto lean = lean_answer(car, run);
  ASSERT_TRUE(lean);
  EXPECT_TRUE(lean->leans);
  EXPECT_FALSE(lean->twisted);
  ASSERT_TRUE(lean->collar_mm);
  // Done on a car that leans like that, it stands level and square.
  const auto model = build_model(car, run.planned);
  const auto loaded = LoadedCar::of(*model);
  Collars moved = loaded->level_collars();
  for (const End end : both_ends) {
    moved[at(end)][0] += (*lean->collar_mm)[at(end)];
    moved[at(end)][1] -= (*lean->collar_mm)[at(end)];
  }
  const auto b = loaded->balance(moved, {});
  ASSERT_TRUE(b);
  EXPECT_NEAR(std::abs(b->attitude.roll_rad), std::atan(0.6 / 60.0), 3e-4);
  EXPECT_NEAR(b->cross(), 0.5, 1e-3);
  EXPECT_LT((*lean->collar_mm)[0], 0.0) << "the left side is too high: its collar goes up";
  run.records["ride_height:rear"].readings = {std::vector<double>{rear - 0.3}, std::vector<double>{rear + 0.3}};
  lean = lean_answer(car, run);
  EXPECT_TRUE(lean->twisted);
  EXPECT_NEAR(lean->twist_mm, 1.2, 1e-9);
  EXPECT_FALSE(lean->collar_mm) << "collars do not mend a plate";
}

TEST_F(OnTheBench, OnlyWhatWasMeasuredGoesOntoTheSetupAtWork) {
  const std::string id = "links:front:camber_link";
  const PartHandle link = car.find_adjuster("front_camber_link");
  const PartHandle rod = car.find_adjuster("front_tie_rod");
  read(id, target(id) + 0.5, target(id));
  test::CarSetup at_work = run.planned;
  at_work.of(rod) = {1.0, 1.0};  // changed in Plan since the run began
  at_work.ride_height_mm[1] = 6.0;
  const test::CarSetup measured = put_over(at_work, measured_by(car, run));
  EXPECT_NEAR(measured.of(link).left, 0.5, 1e-6);
  EXPECT_EQ(measured.of(rod), at_work.of(rod));
  EXPECT_EQ(measured.ride_height_mm[1], 6.0);
  EXPECT_TRUE(targets_differ(run, at_work));
  follow_setup(car, run, at_work);
  EXPECT_FALSE(targets_differ(run, at_work));
}

TEST_F(OnTheBench, FollowingTheSetupOpensWhatIsNowOff) {
  read("toe:front", target("toe:front"), target("toe:front"));
  read("camber:rear", target("camber:rear"), target("camber:rear"));
  EXPECT_EQ(tick("toe:front"), StepState::measured);
  EXPECT_EQ(tick("camber:rear"), StepState::measured);
  test::CarSetup at_work = run.planned;
  at_work.of(car.find_adjuster("front_tie_rod")) = {1.0, 1.0};
  follow_setup(car, run, at_work);
  EXPECT_EQ(run.records["toe:front"].state, StepState::open);
  EXPECT_EQ(run.records["camber:rear"].state, StepState::measured);
}

TEST_F(OnTheBench, ATickSaysWhetherItWasMeasured) {
  EXPECT_EQ(tick("camber:front"), StepState::unmeasured);
  EXPECT_EQ(tick("free"), StepState::done) << "there is nothing to read";
  read("camber:front", target("camber:front") - 1.0, target("camber:front"));
  EXPECT_EQ(tick("camber:front"), StepState::left) << "against a red verdict";
  run.records["camber:front"].readings[0] = {target("camber:front")};
  EXPECT_EQ(tick("camber:front"), StepState::measured);
  run.records["camber:front"].readings[1].clear();
  EXPECT_EQ(tick("camber:front"), StepState::left) << "one wheel of two";
}

TEST_F(OnTheBench, AHangingTyreTellsDroopOnAnyBlocks) {
  const BenchStep s = step("tyre_droop:rear");
  const double reads = target("tyre_droop:rear");
  const auto plate = hanging_tyre(car, run, s, Side::left, reads);
  ASSERT_TRUE(plate);
  EXPECT_NEAR(plate->droop_mm,
              evaluate(car, run.planned, {}, 5)->source.travel.corner[1][0].stops.droop.from_ride_height_mm, 1e-9);
  EXPECT_EQ(plate->blocks_too_low, run.bench.droop_blocks_mm < reads);
  run.bench.droop_blocks_mm = 4.0;
  EXPECT_TRUE(hanging_tyre(car, run, s, Side::left, reads)->blocks_too_low) << "the tyre would stand on the bench";
  EXPECT_GE(hanging_tyre(car, run, s, Side::left, reads)->least_blocks_mm, reads);
  run.bench.droop_from = DroopFrom::line;
  run.bench.droop_blocks_mm = 30.0;
  run.bench.droop_line_mm = 22.0;
  const auto line = hanging_tyre(car, run, s, Side::left, target("tyre_droop:rear"));
  EXPECT_NEAR(line->droop_mm, plate->droop_mm, 1e-9);
  EXPECT_FALSE(line->blocks_too_low);
}

TEST_F(OnTheBench, AScrewThatDoesNotReachIsTurnedInUntilItMoves) {
  // The screw stands so far out that the shock stops the wheel.
  const BenchStep s = step("down_stop:front");
  test::CarSetup far_out = run.planned;
  far_out.of(car.find_adjuster("front_droop_screw")) = {-9.0, -9.0};
  const double reads = *read_gauge(car, far_out, *s.gauge, Side::left, run.bench);
  read("down_stop:front", reads, target("down_stop:front"));
  const auto a = *verdict("down_stop:front").side[0].answer;
  EXPECT_EQ(a.verdict, GaugeAnswer::Verdict::until_it_moves);
  EXPECT_GT(a.told, 0.0) << "in";
}

TEST_F(OnTheBench, AGaugeThatReadsNothingHasNoTargetOfNought) {
  // Links so long that no arm reaches them.
  run.planned.of(car.find_adjuster("front_bar_link")) = {80.0, 80.0};
  const BenchStep s = step("bar:front");
  EXPECT_FALSE(read_gauge(car, run.planned, *s.gauge, Side::left, run.bench));
  const auto v = judge(car, run, s);
  ASSERT_FALSE(v);
  EXPECT_NE(v.error().message.find("reads nothing"), std::string::npos) << v.error().message;
}

TEST(SmallSteps, AreOnlyToldWhenTheyBringItNearer) {
  EXPECT_EQ(in_steps(0.06, 0.125), 0.0);
  EXPECT_EQ(in_steps(-0.08, 0.125), 0.0) << "hardly nearer: nobody turns to and fro";
  EXPECT_EQ(in_steps(0.09, 0.125), 0.125);
  EXPECT_EQ(in_steps(-0.52, 0.125), -0.5);
}

TEST(ShaftExposed, IsNamedApartFromTheStrokeLeft) {
  const Car car = test::touring();
  const auto v = evaluate(car, kit_setup(car), {}, 5);
  for (const Gauge& g : gauges_of(car)) {
    if (g.kind == &gauge::shaft_exposed) {
      EXPECT_NEAR(*reading(g, v->model, v->source, {}, Side::left),
                  car.axle(g.end).size_of(Size::shock_extended) - car.axle(g.end).size_of(Size::shock_compressed), 1e-9)
          << "what sheets give: fully out";
    }
    if (g.kind == &gauge::stroke_left) {
      EXPECT_NEAR(*reading(g, v->model, v->source, {}, Side::left),
                  *v->source.standing.axle[at(g.end)].parts[0].shock->left_in_bump_mm, 1e-9);
    }
  }
}

}  // namespace
}  // namespace lowkite
