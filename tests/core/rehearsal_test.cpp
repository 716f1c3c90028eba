// Every advice of a whole bench run followed to its end, on cars that are set wrongly and keep it to themselves: the
// run ends with the car set right, and nothing that was told made it worse.
#include <gtest/gtest.h>

#include "bench_sim/bench_car.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

class ABenchRun : public testing::TestWithParam<const char*> {};

/// tools/long-tests runs 200 of each car in the release build, as `lowkite-bench-sim --rehearse 200` does.
int cars_to_set_right() {
  if (std::getenv("LOWKITE_LONG_TESTS") && !test::under_sanitizers()) return 200;
  return test::runs_a_share() ? 1 : 12;
}

TEST_P(ABenchRun, SetsAWronglySetCarRight) {
  const Car car = test::shipped(GetParam());
  if (test::runs_a_share() && car.id != "godwit-ta" && car.id != "plover-2wd" && car.id != "wren-28")
    GTEST_SKIP() << "one car of each build under the sanitizers";
  const test::CarSetup planned = kit_setup(car);
  for (int i = 0; i < cars_to_set_right(); ++i) {
    auto wrong = BenchCar::wrongly_set(car, planned, static_cast<unsigned>(i));
    ASSERT_TRUE(wrong) << wrong.error();
    BenchKit kit;
    if (i % 2 == 1) kit.ride_points_apart_mm = 60.0;
    BenchRun run = start_run(car, planned, BenchList::full, kit, "2026-11-27T10:00:00");
    const Rehearsal done = rehearse(*wrong, run);
    EXPECT_TRUE(done.ended) << car.id << ' ' << i;
    EXPECT_GT(done.turns, 0) << car.id << ' ' << i;
    for (const std::string& line : done.wrong) ADD_FAILURE() << car.id << ' ' << i << ": " << line;
  }
}

INSTANTIATE_TEST_SUITE_P(EveryShippedCar, ABenchRun,
                         testing::Values("heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12",
                                         "wren-28"));

// The stand-in itself: it is off where it was made to be, and parts move it as on the model.
TEST(AWronglySetCar, IsWrongAndTurns) {
  const Car car = test::touring();
  const test::CarSetup planned = kit_setup(car);
  auto wrong = BenchCar::wrongly_set(car, planned, 3);
  ASSERT_TRUE(wrong);
  EXPECT_NE(wrong->setup().values, planned.values);
  EXPECT_NE(wrong->setup().ride_height_mm, planned.ride_height_mm);
  for (const Gauge& g : gauges_of(car)) {
    if (g.kind != &gauge::camber || g.end != End::front) continue;
    const double before = *wrong->truth(g, {}, Side::left);
    wrong->turn("front_camber_link", Side::left, 0.5);
    EXPECT_GT(*wrong->truth(g, {}, Side::left), before + 0.1) << "a longer camber link leans the wheel out";
    EXPECT_NEAR(*wrong->read(g, {}, Side::left), *wrong->truth(g, {}, Side::left),
                0.4 * gauge::camber.resolution + 1e-9);
  }
  EXPECT_FALSE(wrong->turn("no such part", Side::left, 0.5));
}

}  // namespace
}  // namespace lowkite
