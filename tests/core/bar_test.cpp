// Anti-roll bars that may be left out: nothing is computed, asked or told of a bar that is not there, and all of it
// once a wire is in; there and back.
#include <gtest/gtest.h>

#include "core/bench/run.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/car_edit.hpp"
#include "core/io/json_document.hpp"
#include "core/load/balance.hpp"
#include "core/load/bar.hpp"
#include "core/parts/part_maker.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/idle_fields.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

using test::CarSetup;

constexpr std::array buggies{"plover-2wd", "dunlin-4wd"};

CarSetup with_wires(const Car& car, double front, double rear) {
  CarSetup setup = kit_setup(car);
  setup.of(car.find_adjuster("front_bar")) = {front, front};
  setup.of(car.find_adjuster("rear_bar")) = {rear, rear};
  return setup;
}

double roll_in_a_turn(const Car& car, const CarSetup& setup) {
  const auto model = build_model(car, setup);
  EXPECT_TRUE(model);
  const auto loaded = LoadedCar::of(*model);
  EXPECT_TRUE(loaded);
  const auto stand = loaded->balance(loaded->level_collars(), {0.6, 0.0});
  EXPECT_TRUE(stand);
  return degrees(stand->attitude.roll_rad);
}

std::vector<std::string> steps_of_bars(const Car& car, const CarSetup& setup) {
  const BenchRun run = start_run(car, setup, BenchList::full, BenchKit{}, "2026-11-28T10:00:00");
  std::vector<std::string> bars;
  for (const BenchStep& s : steps_of(car, run))
    if (s.id.starts_with("bar")) bars.push_back(s.id);
  return bars;
}

TEST(ABarThatMayBeLeftOut, HoldsNothingUntilAWireIsInAndEachThickerOneMore) {
  for (const char* id : buggies) {
    const Car car = test::shipped(id);
    EXPECT_TRUE(idle_fields(car).empty()) << id << ": " << idle_fields(car).front().what;
    double before = roll_in_a_turn(car, kit_setup(car));
    const double bare = before;
    for (const End end : both_ends) {
      const auto model = build_model(car, kit_setup(car));
      ASSERT_TRUE(model);
      EXPECT_EQ(bar_stiffness(*model, end), 0.0);
      EXPECT_TRUE(bar_left_out(car, kit_setup(car), end));
    }
    for (double wire = 1.0; wire <= 3.0; wire += 1.0) {
      const CarSetup setup = with_wires(car, wire, wire);
      const double roll = roll_in_a_turn(car, setup);
      EXPECT_LT(std::abs(roll), std::abs(before) - 0.01) << id << " " << wire;
      before = roll;
      for (const End end : both_ends) EXPECT_FALSE(bar_left_out(car, setup, end));
    }
    EXPECT_EQ(roll_in_a_turn(car, with_wires(car, 0.0, 0.0)), bare) << "there and back";
  }
}

TEST(ABarThatMayBeLeftOut, IsOnTheBenchOnlyWhereItIsIn) {
  for (const char* id : buggies) {
    const Car car = test::shipped(id);
    EXPECT_TRUE(steps_of_bars(car, kit_setup(car)).empty()) << id;
    const auto front = steps_of_bars(car, with_wires(car, 2.0, 0.0));
    const auto both = steps_of_bars(car, with_wires(car, 2.0, 2.0));
    EXPECT_FALSE(front.empty());
    EXPECT_EQ(both.size(), 2 * front.size());
    for (const std::string& step : front) EXPECT_NE(step.find("front"), std::string::npos) << step;
    const Car touring = test::touring();
    EXPECT_EQ(steps_of_bars(touring, kit_setup(touring)).size(), both.size()) << "what has no choice is always there";
  }
}

TEST(ABarThatMayBeLeftOut, LiftsEvenlyWithEqualLinksAndNotWithUnequalOnes) {
  for (const char* id : buggies) {
    const Car car = test::shipped(id);
    for (const End end : both_ends) {
      const PartHandle link = car.find_adjuster(end == End::front ? "front_bar_link" : "rear_bar_link");
      const auto lift = [&](const CarSetup& setup, Side side) -> std::optional<double> {
        const auto v = evaluate(car, setup, {}, coarse_curve);
        if (!v) return std::nullopt;
        const auto hanging = [&](Side s) { return v->source.travel.corner[at(end)][at(s)].stops.droop.arm_angle; };
        return lift_until_other_moves(v->model, end, side, hanging(side),
                                      hanging(side == Side::left ? Side::right : Side::left));
      };
      CarSetup setup = with_wires(car, 2.0, 2.0);
      const auto left = lift(setup, Side::left), right = lift(setup, Side::right);
      ASSERT_TRUE(left && right) << id;
      EXPECT_NEAR(*left, *right, 1e-9);
      setup.of(link) = {1.0, 0.0};
      const auto unlike = lift(setup, Side::left), other = lift(setup, Side::right);
      ASSERT_TRUE(unlike && other);
      EXPECT_GT(std::abs(*unlike - *other), 1e-3) << id << ": one link is half a millimetre longer";
      EXPECT_FALSE(lift(kit_setup(car), Side::left)) << "there is no bar to lift";
    }
  }
}

TEST(ABarThatMayBeLeftOut, ReachesOverTheWholeTravel) {
  for (const char* id : buggies) {
    const Car car = test::shipped(id);
    for (const double turns : {-3.0, 0.0, 3.0}) {
      CarSetup setup = with_wires(car, 2.0, 2.0);
      for (const char* link : {"front_bar_link", "rear_bar_link"}) setup.of(car.find_adjuster(link)) = {turns, turns};
      const auto v = evaluate(car, setup, {}, coarse_curve);
      ASSERT_TRUE(v);
      for (const End end : both_ends) {
        const CornerTravel& t = v->source.travel.corner[at(end)][0];
        const CornerModel& corner = v->model.corner(end, Side::left);
        const auto steered = steer(v->model, 0.0);
        const double low = t.stops.droop.arm_angle, high = t.stops.bump.arm_angle;
        for (int i = 0; i <= 20; ++i) {
          const auto pose = corner.linkage->solve(low + (high - low) * i / 20.0,
                                                  corner.spec->steered && steered ? steered->corner[0] : SteerInput{});
          ASSERT_TRUE(pose);
          EXPECT_TRUE(bar_angle(v->model, end, Side::left, *pose)) << id << " " << name_of(end) << " " << i;
        }
      }
    }
  }
}

TEST(ABarThatMayBeLeftOut, IsMadeInTheWindowsWordsAsByHand) {
  auto file = read_car_file(*read_file(test::data_path("cars/plover-2wd.kite-car.json")), "plover");
  ASSERT_TRUE(file);
  Json source = file->source;
  const PartHandle by_hand = file->car->find_adjuster("front_bar");
  const Adjuster meant = file->car->adjusters[by_hand];
  remove_adjuster(source, by_hand);
  const auto without = recheck(source, "own");
  ASSERT_TRUE(without);
  const PartForm& form = *find_part_form("bar_wires");
  const auto places = places_for(form, *without->car);
  ASSERT_FALSE(places.empty());
  const auto make = [&](const char* list, const char* now) {
    auto questions = questions_for(form, places.front(), *without->car);
    for (PartQuestion& q : questions) {
      if (q.id == "list") q.answer = list;
      if (q.id == "now") q.answer = now;
      if (q.id == "labels") q.answer = "";
    }
    Json made = without->source;
    const auto added = add_part(made, *without->car, form, places.front(), questions);
    return added ? recheck(made, "own") : tl::unexpected(Faults{added.error()});
  };
  const auto made = make("none 1.2 1.4 1.6", "none");
  ASSERT_TRUE(made) << made.error().front().line();
  const Adjuster& is = made->car->adjusters.back();
  ASSERT_EQ(is.positions()->list.size(), meant.positions()->list.size());
  for (std::size_t p = 0; p < is.positions()->list.size(); ++p) {
    EXPECT_EQ(is.positions()->list[p].label, meant.positions()->list[p].label);
    const auto& now = is.positions()->list[p].effect.sizes;
    const auto& then = meant.positions()->list[p].effect.sizes;
    ASSERT_EQ(now.size(), then.size());
    for (std::size_t c = 0; c < now.size(); ++c) EXPECT_NEAR(now[c].by, then[c].by, 1e-9);
  }
  EXPECT_EQ(is.kit, meant.kit);
  EXPECT_FALSE(make("none 1.2", "1.3"));
  // Only what may be left out may be none.
  const PartForm& springs = *find_part_form("springs");
  auto questions = questions_for(springs, places_for(springs, *without->car).front(), *without->car);
  for (PartQuestion& q : questions) {
    if (q.id == "list") q.answer = "none 0.3";
    if (q.id == "now") q.answer = "0.3";
  }
  Json refused = without->source;
  for (const char* old : {"front_spring"}) {
    const auto car = recheck(refused, "own");
    remove_adjuster(refused, car->car->find_adjuster(old));
  }
  EXPECT_FALSE(add_part(refused, *without->car, springs, places_for(springs, *without->car).front(), questions));
}

}  // namespace
}  // namespace lowkite
