// Spring pressure at the tyre: known springs read back from their own curve, by the gram.
#include <gtest/gtest.h>

#include <random>

#include "core/bench/pull_down.hpp"
#include "core/bench/verdict.hpp"
#include "core/io/bench_file.hpp"
#include "core/load/static_load.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

const std::vector<double> depths{0.0, 1.0, 2.0, 3.0, 4.0};

std::vector<PullPoint> pulled(const Car& car, const CarSetup& setup, End end) {
  const auto model = build_model(car, setup);
  EXPECT_TRUE(model);
  return modelled_pull(*model, end, depths);
}

TEST(PullDown, StartsAtWhatTheAxleCarries) {
  const Car car = touring();
  const auto front = pulled(car, kit_setup(car), End::front);
  const auto rear = pulled(car, kit_setup(car), End::rear);
  ASSERT_EQ(front.size(), depths.size());
  EXPECT_NEAR(front[0].grams + rear[0].grams, 1000.0 * car.mass_kg, 1e-6);
  for (std::size_t i = 1; i < front.size(); ++i) EXPECT_GT(front[i].grams, front[i - 1].grams);
}

TEST(PullDown, ALineThroughExactReadingsHasTheirRate) {
  // Two springs of 1 N/mm at the tyre each: 2 N more on the axle's scales for each mm.
  std::vector<PullPoint> points;
  for (const double d : depths) points.push_back({d, grams(7.0 + 2.0 * d)});
  const auto line = pull_line(points, 2.5, 10.0);
  ASSERT_TRUE(line);
  EXPECT_NEAR(line->wheel_rate_n_mm, 1.0, 1e-12);
  EXPECT_NEAR(line->at_ride_height_g, grams(7.0), 1e-9);
  EXPECT_NEAR(line->hanging_g, grams(2.0), 1e-9);
  EXPECT_NEAR(line->wheel_rate_error, 0.0, 1e-9);
  EXPECT_FALSE(line->bends);
  EXPECT_FALSE(pull_line(std::span(points).first(1), 2.5, 10.0)) << "one depth has no rate";
}

TEST(PullDown, AProgressiveSpringIsNoticed) {
  std::vector<PullPoint> points;
  for (const double d : depths) points.push_back({d, 700.0 + 150.0 * d + 20.0 * d * d});
  EXPECT_TRUE(pull_line(points, 2.0, 10.0)->bends);
}

class KnownSprings : public testing::TestWithParam<End> {};

TEST_P(KnownSprings, ReadAsWhatTheyAre) {
  // The scales stand under a car with the hard springs; the setup says medium.
  const Car car = touring();
  const End end = GetParam();
  const CarSetup said = kit_setup(car);
  CarSetup real = said;
  const PartHandle spring = car.find_adjuster(std::string(name_of(end)) + "_spring");
  ASSERT_TRUE(spring);
  real.of(spring) = {2.0, 2.0};
  const auto model = build_model(car, real);
  ASSERT_TRUE(model);
  const double truth = model->corner(end, Side::left).geometry.size_of(Size::spring_rate);
  std::vector<PullPoint> points = pulled(car, real, end);
  const auto exact = spring_said(car, said, end, points);
  ASSERT_TRUE(exact);
  EXPECT_NEAR(exact->read_n_mm, truth, 1e-6 * truth);
  EXPECT_FALSE(exact->agrees);
  const auto same = spring_said(car, real, end, points);
  ASSERT_TRUE(same);
  EXPECT_TRUE(same->agrees);
  // Scales that scatter by 5 g: within three of its own standard deviations, nearly always.
  std::mt19937 random(3);
  std::normal_distribution<double> noise(0.0, 5.0);
  int within = 0;
  for (int i = 0; i < 200; ++i) {
    std::vector<PullPoint> noisy = points;
    for (PullPoint& p : noisy) p.grams += noise(random);
    const auto read = spring_said(car, said, end, noisy);
    ASSERT_TRUE(read);
    within += std::abs(read->read_n_mm - truth) < 3.2 * read->error_n_mm ? 1 : 0;  // 95 % with 3 degrees of freedom
  }
  EXPECT_NEAR(within, 190, 12);
}

INSTANTIATE_TEST_SUITE_P(BothEnds, KnownSprings, testing::Values(End::front, End::rear),
                         [](const auto& p) { return std::string(name_of(p.param)); });

// A spring that gets 40 % stiffer was told as the linear one that is fitted.
TEST(PullDown, FitsAProgressionWhenTheReadingsAskForOne) {
  const Car car = touring();
  Car real = car;
  const double rate = car.axles[0].size_of(Size::spring_rate);
  real.axles[0].spring_table.clear();
  for (int i = 0; i <= 40; ++i) {
    const double x = 0.5 * i;  // its rate grows with the square of its compression
    real.axles[0].spring_table.push_back({x, rate * x * x * x / 243.0});
  }
  const auto fitted = build_model(car, kit_setup(car));
  const auto pressed = build_model(real, kit_setup(real));
  const std::vector<double> deep{0.0, 1.0, 2.0, 3.0, 4.0, 5.0};
  std::vector<PullPoint> points = modelled_pull(*pressed, End::front, deep);
  for (PullPoint& p : points) p.grams = std::round(p.grams);
  const auto said = progression_said(*fitted, End::front, points, gauge::pull_down.resolution);
  ASSERT_TRUE(said);
  EXPECT_TRUE(said->differs);
  EXPECT_GT(said->read.last_n_mm, 1.3 * said->read.first_n_mm);
  EXPECT_GT(said->read.percent, 2.0 * said->read.error_percent) << "and how sure that is";
  const auto straight = progression_said(*fitted, End::front, modelled_pull(*fitted, End::front, deep), 10.0);
  ASSERT_TRUE(straight);
  EXPECT_FALSE(straight->differs) << "a spring as fitted is none";
  EXPECT_NEAR(straight->read.percent, straight->fitted_percent, 1.0);
  EXPECT_FALSE(progression_said(*fitted, End::front, std::span(points).first(3), 10.0)) << "three depths tell none";
}

TEST(PullDown, ScalesSetToNothingReadTheSameSpring) {
  const Car car = touring();
  const auto model = build_model(car, kit_setup(car));
  std::vector<PullPoint> whole = modelled_pull(*model, End::rear, depths);
  std::vector<PullPoint> tared = whole;
  for (PullPoint& p : tared) p.grams -= whole.front().grams;
  const auto back = untared(*model, End::rear, tared);
  ASSERT_EQ(back.size(), whole.size());
  for (std::size_t i = 0; i < whole.size(); ++i) EXPECT_NEAR(back[i].grams, whole[i].grams, 1e-9);
  EXPECT_GT(pull_line(back, 2.0, 10.0)->hanging_g, 0.0) << "no tyre hangs with less than nothing on it";
}

TEST(PullDown, IsKeptInTheRunAndReadWithoutItsCar) {
  const Car car = touring();
  BenchRun run = start_run(car, kit_setup(car), BenchList::full, {}, "2026-11-20T18:00:00");
  run.records["pull_down:rear"].pull = {{0.0, 712.0}, {2.0, 988.0}};
  run.records["pull_down:rear"].tared = true;
  run.records["pull_down:rear"].caliper_zero_mm = 21.37;
  const std::string text = write_run(run, car);
  const auto back = read_run(text, "x", car);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(*back, run);
  const auto kept = pulls_of_run(text, "x");
  ASSERT_TRUE(kept);
  ASSERT_EQ(kept->size(), 1U);
  EXPECT_EQ(kept->front().end, End::rear);
  EXPECT_EQ(kept->front().car_id, car.id);
  EXPECT_EQ(kept->front().points, run.records["pull_down:rear"].pull);
}

TEST(EndPoints, TheSmallestOverTheTravelIsTheOneToSet) {
  const Car car = touring();
  BenchRun run = start_run(car, kit_setup(car), BenchList::full, {}, "2026-11-20T18:00:00");
  EXPECT_FALSE(end_point(car, run, Side::left)) << "nothing was read";
  // What the model gives at each height, read back: the end point is the model's own.
  for (const char* id : {"lock_hanging:front", "lock_level:front", "lock_pressed:front"}) {
    const auto steps = steps_of(car, run);
    const auto step = std::find_if(steps.begin(), steps.end(), [&](const BenchStep& s) { return s.id == id; });
    ASSERT_NE(step, steps.end()) << id;
    const auto v = judge(car, run, *step);
    ASSERT_TRUE(v);
    for (const Side way : both_sides) {
      ASSERT_TRUE(v->side[at(way)].target) << id;
      run.records[id].readings[at(way)] = {*v->side[at(way)].target};
    }
  }
  const auto stands = evaluate(car, run.planned, {}, 5);
  ASSERT_TRUE(stands && stands->source.travel.lock);
  for (const Side way : both_sides) {
    const auto found = end_point(car, run, way);
    ASSERT_TRUE(found);
    const LockFigures& lock = *stands->source.travel.lock;
    // Between the three heights that were read there may be a smaller one; here there is none.
    const double least =
        std::min({lock.over_travel.front().end[at(way)].servo_rad, lock.at_ride_height[at(way)].servo_rad,
                  lock.over_travel.back().end[at(way)].servo_rad});
    EXPECT_NEAR(found->servo_rad, least, radians(0.05));
  }
  // A car that fouls when pressed down: five degrees less there, and that is the one.
  run.records["lock_pressed:front"].readings[0][0] -= 5.0;
  const auto fouls = end_point(car, run, Side::left);
  ASSERT_TRUE(fouls);
  EXPECT_EQ(fouls->decides, &gauge::lock_pressed);
  const auto steps = steps_of(car, run);
  const auto lock = std::find_if(steps.begin(), steps.end(), [](const BenchStep& s) { return s.id == "lock:front"; });
  ASSERT_NE(lock, steps.end());
  auto v = judge(car, run, *lock);
  ASSERT_TRUE(v);
  EXPECT_NEAR(*v->side[0].target, degrees(fouls->inside_rad), 1e-9) << "the target follows what was found";
  run.records["lock:front"].readings[0] = {*v->side[0].target + 2.0};
  v = judge(car, run, *lock);
  ASSERT_TRUE(v->side[0].answer);
  EXPECT_TRUE(v->side[0].answer->end_point);
  EXPECT_NEAR(v->side[0].answer->change, -2.0, 1e-9);
}

TEST(PullDown, GivesTheSpringItselfAsATable) {
  Car car = touring();
  const auto model = build_model(car, kit_setup(car));
  const std::vector<double> pulled{0.0, 1.0, 2.0, 3.0};
  const auto table = spring_read(*model, End::front, modelled_pull(*model, End::front, pulled));
  ASSERT_TRUE(table);
  ASSERT_EQ(table->size(), 5u);
  const double rate = car.axles[0].size_of(Size::spring_rate);
  for (std::size_t i = 1; i < table->size(); ++i)
    EXPECT_NEAR(((*table)[i].n - (*table)[i - 1].n) / ((*table)[i].mm - (*table)[i - 1].mm), rate, 0.01 * rate) << i;
  // A car with this table presses as it was read.
  car.axles[0].spring_table = *table;
  const auto again = build_model(car, kit_setup(car));
  const auto before = modelled_pull(*model, End::front, pulled);
  const auto after = modelled_pull(*again, End::front, pulled);
  for (std::size_t i = 0; i < pulled.size(); ++i) EXPECT_NEAR(after[i].grams, before[i].grams, 0.5) << i;
  EXPECT_FALSE(spring_read(*model, End::front, std::vector<PullPoint>{{0, 700}, {1, 690}})) << "it does not rise";
  EXPECT_FALSE(spring_read(*model, End::front, std::vector<PullPoint>{{0, 700}}));
}

}  // namespace
}  // namespace lowkite::test
