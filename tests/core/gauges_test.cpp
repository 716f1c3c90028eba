// What the bench gauges read, and the way back from a reading to the part.
#include "core/bench/gauges.hpp"

#include <gtest/gtest.h>

#include "core/load/bar.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

const Gauge& gauge(const std::vector<Gauge>& all, GaugeKind kind, End end, LinkHandle link = {}) {
  for (const Gauge& g : all)
    if (g.kind == kind && g.end == end && g.link == link) return g;
  throw std::logic_error("no such gauge on this car");
}

struct Bench {
  explicit Bench(Car of) : car(std::move(of)), setup(kit_setup(car)), all(gauges_of(car)) {}
  double read(const Gauge& g, const BenchKit& kit = {}, Side side = Side::left) const {
    const auto v = evaluate(car, setup, {}, 5);
    return *reading(g, v->model, v->source, kit, side);
  }
  Car car;
  test::CarSetup setup;
  std::vector<Gauge> all;
};

TEST(EveryGauge, ReadsSomethingOnEveryCar) {
  for (const Car& car : test::every_shipped_car()) {
    const Bench b(car);
    EXPECT_GE(b.all.size(), 6u) << car.id;
    const auto v = evaluate(car, b.setup, {}, 5);
    ASSERT_TRUE(v);
    for (const Gauge& g : b.all)
      for (const Side side : both_sides) {
        const auto r = reading(g, v->model, v->source, {}, side);
        if (bar_left_out(car, b.setup, g.end) && g.spec().id == "bar_lift") {
          EXPECT_FALSE(r) << car.id << ": there is no bar to lift";
          continue;
        }
        ASSERT_TRUE(r) << car.id << ": " << g.label;
        EXPECT_TRUE(std::isfinite(*r)) << car.id << ": " << g.label;
        EXPECT_GT(g.spec().resolution, 0.0);
      }
  }
}

TEST(TheDownStopGauge, ReadsTheBlocksAndTheArm) {
  const Bench b(test::touring());
  const Gauge& g = gauge(b.all, &gauge::down_stop, End::front);
  BenchKit low;
  low.down_stop_blocks_mm = 6.0;
  EXPECT_NEAR(b.read(g) - b.read(g, low), 4.0, 1e-12) << "higher blocks, higher reading";
  const auto v = evaluate(b.car, b.setup, {}, 5);
  EXPECT_NEAR(b.read(g), 10.0 + *v->source.travel.corner[0][0].stops.hanging_arm_gauge_mm, 1e-12);
}

// Common practice, no source: with taller blocks the scale shifts by the difference (-1.4 on 6 mm blocks and -3.4 on
// 8 mm blocks is the same car), and the droop is the reading on the line of the plate less the ride height.
TEST(DroopAtTheTyre, ShiftsWithTheBlocks) {
  const Bench b(test::touring());
  const Gauge& g = gauge(b.all, &gauge::tyre_droop, End::rear);
  const auto on = [&](double blocks) {
    BenchKit kit;
    kit.droop_from = DroopFrom::line;
    kit.droop_blocks_mm = blocks;
    return b.read(g, kit);
  };
  EXPECT_NEAR(on(6.0) - on(8.0), 2.0, 1e-12);
  const auto v = evaluate(b.car, b.setup, {}, 5);
  // The wheel's camber changes as it hangs, and with it its lowest point: to a few hundredths.
  EXPECT_NEAR(on(0.0) - b.setup.ride_height_mm[1], v->source.travel.corner[1][0].stops.droop.from_ride_height_mm, 0.1);
  // Against the plate the blocks do not matter; against a line they count from there.
  BenchKit plate;
  plate.droop_blocks_mm = 33.0;
  EXPECT_NEAR(b.read(g, plate), on(0.0), 1e-12);
  BenchKit line;
  line.droop_from = DroopFrom::line;
  line.droop_blocks_mm = 20.0;
  line.droop_line_mm = 12.5;
  EXPECT_NEAR(b.read(g, line), on(0.0) - 7.5, 1e-12);
  BenchKit loose;
  loose.slop_mm = 0.2;
  EXPECT_NEAR(b.read(g, loose) - b.read(g), 0.2, 1e-12) << "0.2 mm of play reads as 0.2 mm of droop";
}

TEST(ACaliper, ReadsBetweenOverAndCentresByConstants) {
  BenchKit kit;
  kit.cup_mm = 6.5;
  for (const auto& [caliper, reads] :
       {std::pair(Caliper::between, 33.5), std::pair(Caliper::over, 46.5), std::pair(Caliper::centres, 40.0)}) {
    kit.caliper = caliper;
    EXPECT_NEAR(caliper_reading(40.0, kit), reads, 1e-12);
    EXPECT_NEAR(centres_from_caliper(reads, kit), 40.0, 1e-12);
  }
}

/// The gauge is read on a car whose part is off by `change`; the answer must be to turn it back.
void expect_turned_back(const Car& car, GaugeKind kind, End end, double change, LinkHandle link = {}) {
  const Bench b(car);
  const Gauge& g = gauge(b.all, kind, end, link);
  const auto first = answer(car, b.setup, g, Side::left, b.read(g) + 3.0, {});
  ASSERT_TRUE(first) << g.label;
  ASSERT_FALSE(first->adjusters.empty()) << g.label;
  Bench off = b;
  for (const PartHandle part : first->adjusters) off.setup.of(part).left += change;
  const double read = off.read(g);
  const auto a = answer(car, b.setup, g, Side::left, read, {});
  ASSERT_TRUE(a);
  EXPECT_EQ(a->verdict, GaugeAnswer::Verdict::turn) << g.label;
  EXPECT_NEAR(a->change, -change, 1e-6) << g.label;
  EXPECT_NEAR(a->target, b.read(g), 1e-12) << g.label;
}

TEST(AReading, LeadsBackToThePartThatIsOff) {
  expect_turned_back(test::touring(), &gauge::camber, End::front, 1.25);
  expect_turned_back(test::touring(), &gauge::toe, End::front, -0.75);
  expect_turned_back(test::touring(), &gauge::camber, End::rear, 0.5);
  expect_turned_back(test::touring(), &gauge::down_stop, End::front, 0.75);
  expect_turned_back(test::touring(), &gauge::tyre_droop, End::rear, -0.5);
  expect_turned_back(test::touring(), &gauge::link_length, End::front, 1.5, LinkHandle(0));
  expect_turned_back(test::buggy(), &gauge::shock_droop, End::rear, 1.0);
  expect_turned_back(test::shipped("godwit-ta"), &gauge::camber, End::front, 1.0);
  expect_turned_back(test::shipped("godwit-ta"), &gauge::toe, End::rear, 0.5);
  expect_turned_back(test::shipped("sanderling-12"), &gauge::camber, End::front, 0.5);
}

TEST(AReadingWithinWhatTheGaugeTells, AsksForNothing) {
  const Bench b(test::touring());
  const Gauge& g = gauge(b.all, &gauge::camber, End::front);
  const auto a = answer(b.car, b.setup, g, Side::left, b.read(g) + 0.2, {});
  ASSERT_TRUE(a);
  EXPECT_EQ(a->verdict, GaugeAnswer::Verdict::as_it_should);
}

TEST(AReadingThatNoPartWouldGive, IsOutOfReach) {
  const Bench b(test::touring());
  const Gauge& g = gauge(b.all, &gauge::down_stop, End::front);
  const auto a = answer(b.car, b.setup, g, Side::left, 95.0, {});
  ASSERT_TRUE(a);
  EXPECT_EQ(a->verdict, GaugeAnswer::Verdict::out_of_reach);
}

TEST(ATooLowRideHeight, IsAnsweredByTheCollars) {
  const Bench b(test::touring());
  const Gauge& g = gauge(b.all, &gauge::ride_height, End::front);
  const auto a = answer(b.car, b.setup, g, Side::left, b.setup.ride_height_mm[0] - 0.5, {});
  ASSERT_TRUE(a);
  EXPECT_TRUE(a->collars);
  const auto v = evaluate(b.car, b.setup, {}, 5);
  EXPECT_NEAR(a->change, 0.5 * v->source.standing.axle[0].parts[0].shock->motion_ratio, 2e-3)
      << "by the contact's rise, which camber gain sets a hair apart from the wheel centre's";
}

TEST(LockGauges, ReadTheInsideWheelAtTheEndPoint) {
  const Bench b(test::touring());
  const auto v = evaluate(b.car, b.setup, {}, 5);
  const Gauge& inside = gauge(b.all, &gauge::lock_inside, End::front);
  const Gauge& outside = gauge(b.all, &gauge::lock_outside, End::front);
  for (const Side way : both_sides) {
    Attitude a = static_attitude(v->model);
    a.servo_rad = (way == Side::left ? 1.0 : -1.0) * v->source.travel.lock->usable[at(way)].servo_rad;
    const auto f = figures_at(v->model, a);
    EXPECT_NEAR(*reading(inside, v->model, v->source, {}, way), degrees(f->steering->ackermann->inner_rad), 0.05);
    EXPECT_NEAR(*reading(outside, v->model, v->source, {}, way), degrees(f->steering->ackermann->outer_rad), 0.05);
  }
}

}  // namespace
}  // namespace lowkite
