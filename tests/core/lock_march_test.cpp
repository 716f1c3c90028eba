// End points against a dense march of the servo, for every car and many setups: an end point past a stop burns a servo.
#include <memory>

#include <gtest/gtest.h>

#include "core/measure/lock.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

constexpr double march_rad = radians(0.5);

class EndPoints : public testing::TestWithParam<const char*> {};

/// What an end point is found from.
struct OnItsWheels {
  std::unique_ptr<const CarModel> model;
  AxlePose standing;
  PerSide<CornerStops> stops;

  /// None where the car cannot stand so.
  static std::optional<OnItsWheels> of(const Car& car, const test::CarSetup& setup) {
    auto model = build_model(car, setup);
    if (!model || !model->steering) return std::nullopt;
    OnItsWheels on{std::make_unique<const CarModel>(std::move(*model)), {}, {}};
    auto standing = pose_axle(*on.model, End::front, static_attitude(*on.model));
    const auto centred = steer(*on.model, 0.0);
    if (!standing || !centred) return std::nullopt;
    on.standing = std::move(*standing);
    for (const Side side : both_sides)
      on.stops[at(side)] =
          find_stops(*on.model, End::front, side, on.standing.corner[at(side)], centred->corner[at(side)]);
    return on;
  }
  [[nodiscard]] LockFigures lock(int samples) const { return find_lock(*model, standing, stops, samples); }
};

/// The first servo angle of the march at which one wheel, on the ground at a travel, is past an end.
double first_past(const CarModel& model, const AxlePose& standing, const CornerStops& stops, Side wheel, double travel,
                  bool left, double most) {
  const double within = std::clamp(travel, -stops.droop.from_ride_height_mm, stops.bump.from_ride_height_mm);
  double start = standing.corner[at(wheel)].arm_angle;
  for (double servo = 0.0; servo < most; servo += march_rad) {
    const auto steered = steer(model, left ? servo : -servo);
    const auto pose =
        steered ? wheel_on_ground(model, wheel, stops, within, steered->corner[at(wheel)], start) : std::nullopt;
    if (!pose || margin_of(model, wheel, *pose, *steered->linkage, left).left <= 0.0) return servo;
    start = pose->arm_angle;
  }
  return most;
}

TEST_P(EndPoints, AreWhereADenseMarchFindsThem) {
  const Car car = test::shipped(GetParam());
  std::mt19937 random(14);
  int looked_at = 0;
  const int setups = test::runs_a_share() ? 20 : 500;
  for (int i = 0; i < setups; ++i) {
    const auto on = OnItsWheels::of(car, test::random_setup(car, random));
    if (!on) continue;
    ++looked_at;
    const LockFigures lock = on->lock(4);
    const double trim = on->model->servo_sense * on->model->steering->centre();
    for (const Side way : both_sides) {
      const bool left = way == Side::left;
      const double most = car.steering.servo_most_rad + (left ? -trim : trim);
      for (const LockSample& sample : lock.over_travel) {
        double first = most;
        for (const Side wheel : both_sides)
          first = std::min(
              first, first_past(*on->model, on->standing, on->stops[at(wheel)], wheel, sample.travel_mm, left, first));
        const double found = sample.end[at(way)].servo_rad;
        EXPECT_LT(found, first + radians(0.05)) << car.id << " setup " << i << " travel " << sample.travel_mm;
        EXPECT_GT(found, first - march_rad - radians(0.05)) << car.id << " setup " << i << ' ' << sample.end[0].what;
        const auto inside = inside_heading(*on->model, on->standing, on->stops, way, sample.travel_mm, found);
        if (found == 0.0 && sample.end[at(way)].cause == LockCause::linkage) continue;  // no wheel stands there at all
        ASSERT_TRUE(inside) << car.id << " setup " << i << ": it was reached, so it can be read";
        EXPECT_NEAR(sample.inside_rad[at(way)], *inside, 1e-10);
      }
    }
  }
  EXPECT_GT(looked_at, setups * 8 / 10);
}

// Each travel is looked for from the one beside it: which one that was must not be seen in what is found.
TEST_P(EndPoints, AreTheSameWhicheverTravelsLieBetween) {
  const Car car = test::shipped(GetParam());
  std::mt19937 random(15);
  int compared = 0, alike = 0;
  for (int i = 0; i < test::share_of(80); ++i) {
    const auto on = OnItsWheels::of(car, test::random_setup(car, random));
    if (!on) continue;
    const LockFigures few = on->lock(4), many = on->lock(13);
    for (const LockSample& f : few.over_travel)
      for (const LockSample& m : many.over_travel) {
        if (std::abs(f.travel_mm - m.travel_mm) > 1e-9) continue;
        for (const Side way : both_sides) {
          const double apart = std::abs(f.end[at(way)].servo_rad - m.end[at(way)].servo_rad);
          // At a corner of what ends it, and where the linkage closes no further, within what a servo can tell.
          EXPECT_LT(apart, radians(0.05)) << car.id << " setup " << i << " travel " << f.travel_mm << " "
                                          << f.end[at(way)].what << ", " << m.end[at(way)].what;
          ++compared;
          alike += apart < 1e-7;
        }
      }
  }
  EXPECT_GT(compared, test::share_of(80) * 4);
  EXPECT_GT(alike, 0.97 * compared);
}

INSTANTIATE_TEST_SUITE_P(EveryShippedCar, EndPoints,
                         testing::Values("heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12",
                                         "wren-28"));

// The case that was found first: a stop near a dead centre, where four degrees of servo jump from room to none.
TEST(AStopNearADeadCentre, IsNotJumpedOver) {
  const Car car = test::shipped("sanderling-12");
  test::CarSetup setup = kit_setup(car);
  const auto put = [&](const char* part, double value) { setup.of(car.find_adjuster(part)) = {value, value}; };
  put("front_tie_outer_hole", 1.0);
  put("front_saver_shims", 2.0);
  put("front_tie_rod", -5.0);
  const auto on = OnItsWheels::of(car, setup);
  ASSERT_TRUE(on);
  const LockFigures lock = on->lock(lock_samples);
  for (const Side way : both_sides) {
    EXPECT_EQ(lock.usable[at(way)].cause, LockCause::knuckle_stop);
    EXPECT_GT(lock.inside_rad[at(way)], radians(20.0)) << "it is read where it was found";
  }
}

}  // namespace
}  // namespace lowkite
