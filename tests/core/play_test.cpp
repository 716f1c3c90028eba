// Play, place by place: what is wanted, what brings it there, and what it does to a droop reading.
#include <set>

#include <gtest/gtest.h>

#include "core/bench/verdict.hpp"
#include "core/io/bench_file.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

BenchRun run_of(const Car& car, const test::CarSetup& setup) {
  return start_run(car, setup, BenchList::full, {}, "2026-11-29T18:00:00");
}

std::optional<BenchStep> step_named(const Car& car, const std::string& id) {
  for (const BenchStep& s : every_step(car))
    if (s.id == id) return s;
  return std::nullopt;
}

void read(BenchRun& run, const BenchStep& step, Side side, double value) {
  StepRecord& r = run.records[step.id];
  r.readings[at(side)].push_back(value);
  if (!reads_each_side(*step.gauge, run.bench)) r.readings[at(Side::right)] = r.readings[at(Side::left)];
}

TEST(Play, IsFeltWhereTheCarHasThePlace) {
  for (const Car& car : test::every_shipped_car()) {
    std::set<std::string> places;
    for (const Gauge& g : play_of(car)) places.insert(std::string(g.kind->id) + ":" + std::string(name_of(g.end)));
    const bool pod = !car.axle(End::rear).mechanism->independent;
    const bool cranks = car.steering.spec && car.steering.spec->id.starts_with("crank");
    std::set<std::string> wanted{"wheel_play:front", "wheel_play:rear", pod ? "axle_float:rear" : "end_float:rear"};
    if (cranks) wanted.insert("post_play:front");
    EXPECT_EQ(places, wanted) << car.id;
    // No setup changes it: sheets and comparisons of setups know nothing of it.
    for (const Gauge& g : gauges_of(car)) EXPECT_FALSE(g.spec().play) << car.id << " " << g.label;
    std::size_t steps = 0;
    for (const BenchStep& s : bench_steps(car, BenchList::full)) steps += s.gauge && s.gauge->spec().play ? 1 : 0;
    EXPECT_EQ(steps, wanted.size()) << car.id;
  }
}

// Common practice, no source: 0.2 to 0.3 mm along a rear axle, half a turn at a post.
TEST(Play, WantedIsCommonPractice) {
  for (const GaugeKind kind : {&gauge::end_float, &gauge::axle_float}) {
    EXPECT_EQ(kind->play->least, 0.2);
    EXPECT_EQ(kind->play->most, 0.3);
  }
  EXPECT_EQ(0.5 * (gauge::post_play.play->least + gauge::post_play.play->most), 0.5);
  // A wheel's is no more than what its droop reading tells anyway.
  EXPECT_EQ(gauge::wheel_play.play->most, gauge::tyre_droop.resolution);
}

// Every reading's answer followed to its end: what is told brings it where it is wanted, at once, on that side alone.
TEST(Play, DoneAsToldItIsAsMuchAsIsWanted) {
  int followed = 0;
  for (const Car& car : test::every_shipped_car())
    for (const Gauge& g : play_of(car)) {
      const WantedPlay& wanted = *g.spec().play;
      std::optional<BenchStep> found;
      for (const BenchStep& s : every_step(car))
        if (s.gauge && s.gauge->kind == g.kind && s.end == g.end) found = s;
      ASSERT_TRUE(found) << g.label;
      const BenchStep& step = *found;
      const bool each = reads_each_side(g, {});
      for (int i = 0; i <= 40; ++i)
        for (const Side side : both_sides) {
          if (side == Side::right && !each) continue;
          const double is = i * (g.spec().unit == Unit::turns ? 0.125 : 0.05);
          BenchRun run = run_of(car, kit_setup(car));
          read(run, step, side, is);
          const auto verdict = judge(car, run, step);
          ASSERT_TRUE(verdict) << verdict.error().message;
          const auto& answer = verdict->side[at(side)].answer;
          ASSERT_TRUE(answer);
          const bool good = is > wanted.least - 1e-9 && is < wanted.most + 1e-9;
          EXPECT_EQ(answer->verdict == GaugeAnswer::Verdict::as_it_should, good) << g.label << " " << is;
          if (good) continue;
          if (!(wanted.step > 0.0)) {
            EXPECT_EQ(answer->verdict, GaugeAnswer::Verdict::no_part);
            continue;
          }
          ASSERT_EQ(answer->verdict, GaugeAnswer::Verdict::turn) << g.label << " " << is;
          const double told = answer->told;
          ASSERT_TRUE(turned(car, run, step, each ? std::optional(side) : std::nullopt, "2026-11-29T18:10:00"));
          ASSERT_EQ(run.turns.back().parts.size(), 1u) << g.label;
          EXPECT_NEAR(*run.records[step.id].moved_to[at(side)], is + told, 1e-9);
          read(run, step, side, is + told);
          const auto after = judge(car, run, step);
          EXPECT_TRUE(near_enough(after->side[at(side)])) << g.label << " " << is << " told " << told;
          // A shim at a bearing is no part of the setup.
          EXPECT_EQ(as_measured(car, run).values, run.planned.values);
          const auto back = read_run(write_run(run, car), "run.json", car);
          ASSERT_TRUE(back) << back.error().front().line();
          EXPECT_EQ(*back, run);
          ++followed;
        }
    }
  EXPECT_GT(followed, 500);
}

// What is read at a wheel is taken off that wheel's droop, and no other's; taken back, everything is as it was.
TEST(Play, AtAWheelIsTakenOffItsDroop) {
  for (const Car& car : test::every_shipped_car()) {
    const test::CarSetup setup = kit_setup(car);
    for (const End end : both_ends) {
      const auto play = step_named(car, "play:" + std::string(name_of(end)));
      const auto droop = step_named(car, "tyre_droop:" + std::string(name_of(end)));
      ASSERT_TRUE(play) << car.id;
      if (!droop) continue;
      BenchRun run = run_of(car, setup);
      run.bench.slop_mm = 0.1;
      const auto target = [&](Side side) { return *judge(car, run, *droop)->side[at(side)].target; };
      const PerSide<double> before{target(Side::left), target(Side::right)};
      for (const Side side : both_sides) read(run, *droop, side, before[at(side)]);
      run.records[droop->id].state = StepState::measured;
      const test::CarSetup as_it_was = as_measured(car, run);
      const BenchRun unread = run;
      read(run, *play, Side::right, 0.6);
      play_read(car, run, *play);
      EXPECT_NEAR(target(Side::right), before[1] + 0.5, 1e-9) << car.id;
      EXPECT_EQ(target(Side::left), before[0]) << car.id;
      EXPECT_EQ(run.records[droop->id].state, StepState::open) << "it hangs half a millimetre less than was thought";
      EXPECT_NE(judge(car, run, *droop)->side[1].answer->verdict, GaugeAnswer::Verdict::as_it_should);
      // Read again with that play, the car is what it was taken to be without.
      run.records[droop->id].readings[1] = {before[1] + 0.5};
      EXPECT_TRUE(near_enough(judge(car, run, *droop)->side[1]));
      const test::CarSetup with_play = as_measured(car, run);
      for (const PartHandle i : with_play.values.handles())
        EXPECT_NEAR(with_play.values[i].right, as_it_was.values[i].right, 1e-6) << car.adjusters[i].id;
      const auto hangs = hanging_tyre(car, run, *droop, Side::right, before[1] + 0.5);
      const auto hung = hanging_tyre(car, unread, *droop, Side::right, before[1]);
      ASSERT_TRUE(hangs && hung);
      EXPECT_NEAR(hangs->droop_mm, hung->droop_mm, 1e-6);
      run = unread;
      play_read(car, run, *play);
      EXPECT_EQ(run, unread) << "nothing was read: nothing is opened";
      EXPECT_EQ(target(Side::right), before[1]);
      // Skipped, it tells nothing.
      read(run, *play, Side::right, 0.6);
      run.records[play->id].state = StepState::skipped;
      EXPECT_EQ(target(Side::right), before[1]);
    }
  }
}

// The third damper is built where the setup has one, and only there.
TEST(BuildingTheThirdDamper, IsAskedForWhereItIsIn) {
  for (const Car& car : test::every_shipped_car()) {
    const auto asks = [&](const test::CarSetup& setup, End end) {
      const BenchRun run = start_run(car, setup, BenchList::shocks, {}, "2026-11-29T18:00:00");
      return std::count_if(run.order.begin(), run.order.end(), [&](const std::string& id) {
        return id == "third_build:" + std::string(name_of(end)) || id == "third_free:" + std::string(name_of(end));
      });
    };
    test::CarSetup setup = kit_setup(car);
    for (const End end : both_ends) EXPECT_EQ(asks(setup, end), 0) << car.id << ": none in the kit";
    const PartHandle piston = car.find_adjuster("rear_third_piston");
    EXPECT_EQ(piston != PartHandle(), car.id == "godwit-ta") << car.id;
    if (!piston) continue;
    for (std::size_t i = 1; i < car.adjusters[piston].positions()->list.size(); ++i) {
      setup.of(piston) = {static_cast<double>(i), static_cast<double>(i)};
      EXPECT_EQ(asks(setup, End::rear), 2);
      EXPECT_EQ(asks(setup, End::front), 0);
    }
    for (const char* id : {"third_build:rear", "third_free:rear"}) {
      const auto step = step_named(car, id);
      ASSERT_TRUE(step) << id;
      const std::vector<PartHandle> named = parts_named(car, *step);
      EXPECT_FALSE(named.empty()) << id;
      for (const PartHandle part : named) {
        EXPECT_TRUE(car.adjusters[part].of_third_element()) << id;
        EXPECT_EQ(car.adjusters[part].end, End::rear) << id;
      }
    }
  }
}

}  // namespace
}  // namespace lowkite
