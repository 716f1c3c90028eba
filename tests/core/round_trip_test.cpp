// There and back: a part changed, its re-set done on the bench, the part put back and that re-set done too, and every
// part and height is where it was. A figure that depends on the way one came is wrong.
#include <gtest/gtest.h>

#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

class RoundTrip : public testing::TestWithParam<const char*> {};

/// "Done on the bench": what the re-set makes of a change.
std::optional<test::CarSetup> done_on_the_bench(const Car& car, const test::CarSetup& before,
                                                const test::CarSetup& changed) {
  const auto c = compare(car, before, changed, {}, {}, 5);
  return c ? std::optional(c->reset->setup) : std::nullopt;
}

TEST_P(RoundTrip, OfAnyPartLeavesEveryPartAndHeightAsItWas) {
  const Car car = test::shipped(GetParam());
  const test::CarSetup kit = kit_setup(car);
  int trips = 0;
  // Under the sanitizers one part in sixteen.
  for (const PartHandle i : car.adjusters.handles()) {
    if (test::runs_a_share() && i.place() % 16 != 0) continue;
    const Adjuster& part = car.adjusters[i];
    std::vector<double> values = part.threaded() ? std::vector{kit.values[i].left + 1.0, kit.values[i].left - 0.5}
                                                 : part.values_besides(kit.values[i].left);
    if (values.size() > 2) values = {values.front(), values.back()};
    for (const double value : values) {
      if (!part.can_be(value)) continue;
      test::CarSetup changed = kit;
      changed.values[i] = {value, value};
      // Twice over: nothing wanders off.
      std::optional<test::CarSetup> back = kit;
      bool stands = true;
      for (int trip = 0; trip < 2 && stands; ++trip) {
        test::CarSetup out = *back;
        out.values[i] = {value, value};
        const auto there = done_on_the_bench(car, *back, out);
        stands = there.has_value();
        if (!stands) break;  // that part cannot stand there by itself
        test::CarSetup put_back = *there;
        put_back.values[i] = kit.values[i];
        back = done_on_the_bench(car, *there, put_back);
        ASSERT_TRUE(back) << part.id;
      }
      if (!stands) continue;
      // What a held angle needed of another part's thread may have been more than it gives: then it is not put back.
      const auto c = compare(car, kit, changed, {}, {}, 5);
      // Of two links that hold one angle, the one that was changed by hand is turned again by the re-set: it is not
      // back.
      bool thread_ended = false;
      for (const ResetStep& s : c->work.steps)
        thread_ended = thread_ended || s.thread_ends || (s.adjuster == i && c->work.steps.size() > 2);
      // Spacers that came out so that the screw stops the wheel first may stay out.
      bool let_go = false;
      for (const DroopStep& s : c->bench->droop) {
        thread_ended = thread_ended || s.ends || s.other_stop;
        const auto& was = c->baseline->source.travel.corner[at(part.end)][at(s.side)].stops.droop.kind;
        let_go = let_go || (s.stop == StopKind::shock_extended && was == StopKind::droop_screw);
      }
      if (thread_ended || let_go) continue;
      ++trips;
      for (const PartHandle j : car.adjusters.handles())
        for (const Side side : both_sides)
          // Each way is told in eighths of a turn: one of them may be left over.
          EXPECT_NEAR(back->values[j].on(side), kit.values[j].on(side), car.adjusters[j].threaded() ? 0.1251 : 1e-9)
              << car.id << ": " << part.id << " to " << value << " and back leaves " << car.adjusters[j].id;
      for (const End end : both_ends)
        EXPECT_NEAR(back->ride_height_mm[at(end)], kit.ride_height_mm[at(end)], 1e-5)
            << car.id << ": " << part.id << " to " << value << " and back";
    }
  }
  EXPECT_GT(trips, test::runs_a_share() ? 1 : 16);
}

INSTANTIATE_TEST_SUITE_P(EveryShippedCar, RoundTrip,
                         testing::Values("heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12",
                                         "wren-28"));

TEST(ARodTurnedAndPutBackByTheToe, MovesNoRideHeight) {
  for (const char* name : {"sanderling-12", "wren-28"}) {
    const Car car = test::shipped(name);
    test::CarSetup setup = kit_setup(car);
    PartHandle rod = car.find_adjuster("front_tie_rod");
    if (!rod) rod = car.find_adjuster("front_upper_ball");
    for (int i = 0; i < 3; ++i) {
      test::CarSetup changed = setup;
      changed.of(rod).left += 1.0;
      changed.of(rod).right += 1.0;
      const auto c = compare(car, setup, changed, {}, {}, 5);
      ASSERT_TRUE(c);
      setup = c->reset->setup;
      EXPECT_EQ(setup.values, kit_setup(car).values) << name << ": the toe is put back by the same rod";
      EXPECT_EQ(setup.ride_height_mm, kit_setup(car).ride_height_mm) << name;
    }
    const auto same = compare(car, setup, setup, {}, {}, 5);
    EXPECT_EQ(same->reset->setup, same->changed->setup) << name << ": nothing changed, nothing to be done";
  }
}

}  // namespace
}  // namespace lowkite
