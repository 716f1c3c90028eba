// The stands of a car under acceleration: those that are reached from rest when it is laid on little by little, by
// whatever way one came, and none where there is none.
#include <cmath>
#include <cstdlib>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/load/corner_path.hpp"
#include "core/measure/car_figures.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

/// Greatest difference of a wheel's load, N.
double apart(const Balance& a, const Balance& b) {
  double most = 0.0;
  for (const End end : both_ends)
    for (const Side side : both_sides)
      most = std::max(most, std::abs(a.wheel[at(end)][at(side)].load_n - b.wheel[at(end)][at(side)].load_n));
  return most;
}

constexpr double same_n = 5e-3;  // half a gram; a car on three wheels may be soft

// Published before it was mended: an independent model's stands (own constraint equations, virtual work) of two
// buggies, to a gram. One was refused, the other told with both inner wheels in the air.
TEST(StandsUnderAcceleration, OfBothBuggiesAreThoseOfAnIndependentModel) {
  const auto expect = [](const char* id, const Acceleration& a, double roll_deg, const PerEnd<PerSide<double>>& grams) {
    const Car car = test::shipped(id);
    const auto model = build_model(car, kit_setup(car));
    const auto l = LoadedCar::of(*model);
    const auto b = l->balance(l->level_collars(), a);
    ASSERT_TRUE(b) << id << ": " << b.error();
    EXPECT_NEAR(degrees(b->attitude.roll_rad), roll_deg, 0.01) << id;
    for (const End end : both_ends)
      for (const Side side : both_sides)
        EXPECT_NEAR(1000.0 * b->wheel[at(end)][at(side)].load_n / gravity_m_s2, grams[at(end)][at(side)], 0.6) << id;
  };
  expect("plover-2wd", {0.8, -0.4}, 5.36, {{{271, 517}, {110, 683}}});
  expect("dunlin-4wd", {1.2, -0.25}, 7.25, {{{209, 686}, {15, 709}}});
}

/// A grid of accelerations for one car and setup: steps of a fifth reach the same stands, neighbours in either order
/// reach them, the sums of loads and moments are those of the textbook.
void expect_one_stand_each(const Car& car, const test::CarSetup& setup, const std::vector<Acceleration>& grid) {
  const auto model = build_model(car, setup);
  if (!model) return;
  const auto l = LoadedCar::of(*model);
  if (!l) return;  // such parts hold no car up
  LoadedCar fine = *l;
  fine.lay_on_by(0.02);
  const auto forth = stands_under(*l, l->level_collars(), grid);
  const auto back = stands_under(*l, l->level_collars(), std::vector<Acceleration>(grid.rbegin(), grid.rend()));
  for (std::size_t i = 0; i < grid.size(); ++i) {
    const Acceleration& a = grid[i];
    const std::string where = fmt::format("{} at {} {} g", car.id, a.lateral_g, a.longitudinal_g);
    const auto alone = l->balance(l->level_collars(), a);
    const auto slowly = fine.balance(fine.level_collars(), a);
    const auto& after_it = back[grid.size() - 1 - i];
    ASSERT_EQ(alone.has_value(), slowly.has_value()) << where;
    ASSERT_EQ(alone.has_value(), forth[i].has_value()) << where;
    ASSERT_EQ(alone.has_value(), after_it.has_value()) << where;
    if (!alone) continue;
    EXPECT_LT(apart(*alone, *slowly), same_n) << where;
    for (const auto* other : {&forth[i], &after_it}) EXPECT_LT(apart(*alone, **other), same_n) << where;
    // Weight, and the moments about the line where the ground is met (any textbook of statics).
    const double weight = model->mass.kg * gravity_m_s2;
    EXPECT_NEAR(alone->total_n() + alone->plate_n, weight, 1e-4) << where;
    double lateral = 0.0, yaw = 0.0;
    const Ground& ground = alone->pose.ground;
    const double x_cg = model->mass.cg->dot(ground.forward);
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const CornerPose& p = alone->pose.axle[at(end)].corner[at(side)];
        const Ground g = side == Side::left ? ground : ground.mirrored_frame();
        Vec3 contact = contact_point(model->corner(end, side).tyre, p.wheel_centre, p.spin_axis, g.up);
        if (side == Side::right) contact = mirrored(contact);
        const double force = alone->wheel[at(end)][at(side)].lateral_n;
        lateral += force;
        yaw += force * (contact.dot(ground.forward) - x_cg);
      }
    EXPECT_NEAR(lateral, weight * a.lateral_g, 1e-9 * weight) << where;
    EXPECT_NEAR(yaw / 100.0, 0.0, 1e-9 * weight) << where << ": the lateral forces balance in yaw";
  }
}

std::vector<Acceleration> grid_of(int lateral, int lengthways, double most_lateral, double most_lengthways) {
  std::vector<Acceleration> grid;
  for (int i = 0; i < lateral; ++i)
    for (int j = 0; j < lengthways; ++j) {
      const int k = i % 2 == 0 ? j : lengthways - 1 - j;  // neighbours in a row
      grid.push_back(
          {most_lateral * (2.0 * i / (lateral - 1) - 1.0), most_lengthways * (2.0 * k / (lengthways - 1) - 1.0)});
    }
  return grid;
}

TEST(StandsUnderAcceleration, AreOneEachOverAGrid) {
  // 2,009 points of every shipped car in the long run.
  const bool all = std::getenv("LOWKITE_LONG_TESTS") != nullptr;
  const auto grid = all                    ? grid_of(49, 41, 1.5, 0.8)
                    : test::runs_a_share() ? grid_of(5, 5, 1.5, 0.8)
                                           : grid_of(17, 13, 1.5, 0.8);
  for (const Car& car : test::every_shipped_car()) expect_one_stand_each(car, kit_setup(car), grid);
}

TEST(StandsUnderAcceleration, AreOneEachWithRandomParts) {
  std::mt19937 random(15);
  const int each = test::share_of(8);
  for (const Car& car : test::every_shipped_car())
    for (int i = 0; i < each; ++i) expect_one_stand_each(car, test::random_setup(car, random), grid_of(5, 4, 1.4, 0.7));
}

// A row is a short cut to what is found from rest. It ends where the car does, wherever that lies between its steps.
TEST(StandsUnderAcceleration, OfARowAreThoseFromRestUpToTheLastOne) {
  constexpr double step_g = 0.2, beyond_g = 0.03;
  int ends = 0, found_beyond = 0;
  for (const Car& car : test::every_shipped_car()) {
    const auto model = build_model(car, kit_setup(car));
    const auto l = LoadedCar::of(*model);
    for (const double sense : {1.0, -1.0})
      for (const double lengthways : {-0.25, 0.0, 0.2})
        for (const double servo : {0.0, 0.2}) {
          std::vector<double> asked;
          for (int i = 0; i < 13; ++i) asked.push_back(sense * step_g * i);
          const auto row = l->row(l->level_collars(), lengthways, asked, servo);
          const std::string where = fmt::format("{} {:+.0f} {} g, servo {}", car.id, sense, lengthways, servo);
          ASSERT_GE(row.stands.size(), 4U) << where;
          ASSERT_EQ(row.last.has_value(), row.stands.size() < asked.size()) << where;
          for (std::size_t i = 0; i < row.stands.size(); i += 3) {
            const auto alone = l->balance(l->level_collars(), {asked[i], lengthways}, servo);
            ASSERT_TRUE(alone) << where << " at " << asked[i];
            EXPECT_LT(apart(*alone, row.stands[i]), same_n) << where << " at " << asked[i];
          }
          if (!row.last) continue;
          ++ends;
          const double last = std::abs(row.last->under.lateral_g), before = step_g * double(row.stands.size() - 1);
          EXPECT_EQ(row.last->under.longitudinal_g, lengthways) << where;
          EXPECT_GE(last, before) << where;
          EXPECT_LT(last, before + step_g) << where;
          EXPECT_NEAR(row.last->total_n() + row.last->plate_n, model->mass.kg * gravity_m_s2, 1e-3) << where;
          found_beyond += l->balance(l->level_collars(), {sense * (last + beyond_g), lengthways}, servo).has_value();
        }
  }
  EXPECT_GE(ends, 40);
  EXPECT_LE(found_beyond, ends / 20) << "of " << ends;
}

// Half the track over the height of the weight (the static stability factor, NHTSA, 49 CFR 575, from memory): a car
// that leans tips sooner than a block of wood, and one on stiff springs hardly sooner.
TEST(StandsUnderAcceleration, EndALittleBeforeARigidCarWouldTip) {
  for (const char* id : {"heron-tc190", "godwit-ta"})
    for (const double higher_mm : {0.0, 3.0, 6.0}) {
      Car car = test::shipped(id);
      car.cg_height_mm += higher_mm;
      const auto model = build_model(car, kit_setup(car));
      const auto l = LoadedCar::of(*model);
      const auto row = l->row(l->level_collars(), 0.0, std::vector{0.0, 0.5, 1.0, 1.5, 2.0, 2.5, 3.0});
      ASSERT_TRUE(row.last) << id;
      const auto rest = l->balance(l->level_collars(), {});
      const auto f = read_car(*model, rest->pose, rest->attitude);
      const double rigid = 0.25 * (f.axle[0].track_mm + f.axle[1].track_mm) / rest->pose.ground.height(*model->mass.cg);
      EXPECT_LT(row.last->under.lateral_g, rigid) << id << " " << higher_mm;
      EXPECT_GT(row.last->under.lateral_g, 0.85 * rigid) << id << " " << higher_mm;
    }
}

TEST(SteeringUnderLoad, FollowsFromTheRadius) {
  for (const Car& car : test::every_shipped_car()) {
    if (!car.steering.spec) continue;
    const auto model = build_model(car, kit_setup(car));
    for (const double radius_mm : {2500.0, 4000.0, 12000.0})
      for (const bool left : {true, false}) {
        const auto servo = servo_for_radius(*model, radius_mm, left);
        ASSERT_TRUE(servo) << car.id;
        Attitude a = static_attitude(*model);
        a.servo_rad = *servo;
        const auto f = figures_at(*model, a);
        ASSERT_TRUE(f);
        // The bicycle's angle (Gillespie, from memory).
        const double mean = 0.5 * (f->steering->steer_rad[0] + f->steering->steer_rad[1]);
        EXPECT_NEAR(f->wheelbase_mm[0] / std::tan(std::abs(mean)), radius_mm, 0.01 * radius_mm) << car.id;
        EXPECT_EQ(mean > 0.0, left);
      }
    EXPECT_FALSE(servo_for_radius(*model, 50.0, true)) << car.id << ": no car turns on the spot";
  }
  EXPECT_NEAR(*radius_of(6.0, 1.2), 1000.0 * 36.0 / (1.2 * gravity_m_s2), 1e-9);
}

// An independent model's figures: at 3.9 deg of steer the front outer camber changes by 1.55 deg.
TEST(SteeringUnderLoad, LeansTheFrontWheels) {
  const Car car = test::shipped("plover-2wd");
  const auto model = build_model(car, kit_setup(car));
  const auto l = LoadedCar::of(*model);
  const auto servo = servo_for_radius(*model, 284.0 / std::tan(radians(3.9)), true);
  ASSERT_TRUE(servo);
  const auto straight = l->balance(l->level_collars(), {0.8, 0.0});
  const auto steered = l->balance(l->level_collars(), {0.8, 0.0}, *servo);
  ASSERT_TRUE(straight && steered);
  const double by = degrees(steered->wheel[0][1].camber_rad - straight->wheel[0][1].camber_rad);
  EXPECT_NEAR(std::abs(by), 1.55, 0.25);
  EXPECT_NEAR(steered->total_n(), straight->total_n(), 1e-4);
  // A corner page's middle is that stand, and the way back the other way its mirror image.
  const CornerPath path{.lateral_g = 0.8, .braking_g = 0.0, .power_g = 0.0, .radius_m = 4.0};
  const auto left = through_corner(*l, l->level_collars(), path, 11);
  CornerPath other = path;
  other.to_the_left = false;
  const auto right = through_corner(*l, l->level_collars(), other, 11);
  ASSERT_TRUE(left[5].balance && right[5].balance);
  EXPECT_NE(left[5].servo_rad, 0.0);
  EXPECT_NEAR(left[5].balance->wheel[0][1].camber_rad, right[5].balance->wheel[0][0].camber_rad, 1e-6);
}

TEST(NotesOnAStand, TellStopsAndThePlate) {
  const Car car = test::shipped("dunlin-4wd");
  const auto model = build_model(car, kit_setup(car));
  const auto l = LoadedCar::of(*model);
  const auto rest = l->balance(l->level_collars(), {});
  EXPECT_TRUE(notes_on(*model, *rest).empty());
  bool lifted = false, near = false;
  for (double g = 0.0; g <= 1.6; g += 0.1)
    if (const auto b = l->balance(l->level_collars(), {g, 0.6}))
      for (const StandNote& n : notes_on(*model, *b)) {
        lifted |= n.what == StandNote::What::lifted;
        near |= n.what == StandNote::What::shock_nearly_in || n.what == StandNote::What::shock_in;
        EXPECT_FALSE(in_words(n).empty());
      }
  EXPECT_TRUE(lifted);
  // A car so low that it lies on its plate.
  test::CarSetup low = kit_setup(car);
  low.ride_height_mm = {1.0, 1.0};
  const auto low_model = build_model(car, low);
  const auto on = LoadedCar::of(*low_model);
  ASSERT_TRUE(on) << on.error();
  Collars collars = on->level_collars();
  for (auto& end : collars)
    for (double& c : end) c -= 3.0;
  const auto down = on->balance(collars, {});
  ASSERT_TRUE(down) << down.error();
  const auto notes = notes_on(*low_model, *down);
  EXPECT_TRUE(std::any_of(notes.begin(), notes.end(),
                          [](const StandNote& n) { return n.what == StandNote::What::plate_down; }));
}

}  // namespace
}  // namespace lowkite
