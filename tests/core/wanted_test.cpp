// Angles changed on purpose are not put back, and a typed angle becomes turns of the right part.
#include "core/plan/wanted.hpp"
#include "core/load/spring_place.hpp"

#include <gtest/gtest.h>

#include "core/bench/gauges.hpp"
#include "core/car/wrench.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/io/setup_table.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/car_check.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/recipe.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

double camber(const Variant& v, End end, Side side) {
  return degrees(v.source.standing.axle[at(end)].wheel[at(side)].camber_rad);
}
double toe(const Variant& v, End end, Side side) {
  return degrees(v.source.standing.axle[at(end)].wheel[at(side)].toe_rad);
}

/// A part changed by hand on both sides, as the window does it.
test::CarSetup by_hand(const Car& car, const test::CarSetup& from, const char* part, double by,
                       const test::CarSetup& baseline) {
  test::CarSetup to = from;
  const PartHandle i = car.find_adjuster(part);
  to.of(i).left += by;
  to.of(i).right += by;
  return with_what_is_wanted(car, baseline, from, to, i);
}

// Before, the re-set lengthened again what a hand had just shortened.
TEST(ALinkTurnedByHand, IsNotTurnedBack) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const test::CarSetup shorter = by_hand(car, kit, "front_camber_link", -0.75, kit);
  const auto c = compare(car, kit, shorter, {}, {}, 5);
  ASSERT_TRUE(c);
  const PartHandle link = car.find_adjuster("front_camber_link");
  EXPECT_EQ(c->reset->setup.of(link), shorter.of(link));
  for (const Side side : both_sides) {
    EXPECT_LT(camber(*c->reset, End::front, side), camber(*c->baseline, End::front, side) - 0.5);
    EXPECT_NEAR(toe(*c->reset, End::front, side), toe(*c->baseline, End::front, side), 0.1)
        << "only what it drags along is put back";
  }
  // A shim after it: the camber that is wanted now is put back, not the one of the baseline.
  const test::CarSetup shimmed = by_hand(car, shorter, "front_link_inner_shims", -1.0, kit);
  const auto after = compare(car, kit, shimmed, {}, {}, 5);
  ASSERT_TRUE(after);
  EXPECT_NEAR(camber(*after->reset, End::front, Side::left), camber(*c->reset, End::front, Side::left), 0.2)
      << "to what an eighth of a turn makes";
  // Stepped back by hand it is as if nothing had been.
  EXPECT_EQ(by_hand(car, shorter, "front_camber_link", 0.75, kit), kit);
}

TEST(ATypedAngle, BecomesTurnsOfTheLinkThatHoldsIt) {
  for (const Car& car : test::every_shipped_car()) {
    const test::CarSetup kit = kit_setup(car);
    const auto stands = evaluate(car, kit, {}, 5);
    for (const End end : both_ends)
      for (const WheelAngle angle : {WheelAngle::camber, WheelAngle::toe}) {
        const bool is_camber = angle == WheelAngle::camber;
        const double was = is_camber ? camber(*stands, end, Side::left) : toe(*stands, end, Side::left);
        const auto turned = turned_to_angle(car, kit, end, {true, false}, angle, was - 0.6);
        EXPECT_EQ(turned.has_value(), can_set(car, end, angle)) << car.id;
        if (!turned) continue;
        const auto there = evaluate(car, *turned, {}, 5);
        ASSERT_TRUE(there);
        const double is = is_camber ? camber(*there, end, Side::left) : toe(*there, end, Side::left);
        EXPECT_NEAR(is, was - 0.6, 0.2) << car.id << ": to what an eighth of a turn makes";
        EXPECT_NE(turned->values, kit.values);
        for (const PartHandle i : kit.values.handles())
          EXPECT_EQ(turned->values[i].right, kit.values[i].right) << car.id << ": the other wheel was not asked for";
      }
  }
}

TEST(ATypedAngle, BeyondTheThreadIsRefusedWithItsTurns) {
  Car car = test::touring();
  Range& thread = std::get<Range>(car.adjusters[car.find_adjuster("front_camber_link")].part);
  thread.stops = {-0.25, 0.0, 0.25};
  const auto turned = turned_to_angle(car, kit_setup(car), End::front, {true, true}, WheelAngle::camber, -4.0);
  ASSERT_FALSE(turned);
  EXPECT_NE(turned.error().message.find("turns would be needed"), std::string::npos) << turned.error();
}

TEST(WantedAngles, AreKeptInTheSetupsFile) {
  const Car car = test::touring();
  test::CarSetup setup = kit_setup(car);
  setup.wanted[at(End::front)][at(Side::left)].camber_deg = -2.0;
  setup.wanted[at(End::rear)][at(Side::right)].toe_deg = 2.5;
  setup.wanted[at(End::front)][at(Side::right)].caster_deg = 4.5;
  setup.wanted_lock_deg = 27.5;
  const auto back = read_setup(write_setup(setup, car, {}), "x.kite-setup.json", car);
  ASSERT_TRUE(back) << back.error().front().line();
  EXPECT_EQ(back->setup.wanted, setup.wanted);
  EXPECT_EQ(back->setup.wanted_lock_deg, setup.wanted_lock_deg);
  // And in the table that spreadsheets read.
  const auto table = read_setup_table(write_setup_table(setup, car), "x.csv", car);
  ASSERT_TRUE(table) << table.error().front().line();
  EXPECT_EQ(table->setup.wanted, setup.wanted);
  EXPECT_EQ(table->setup.wanted_lock_deg, setup.wanted_lock_deg);
  const auto wrong = read_setup_table("part,axle,left,right\nwanted_camber_deg,front,much,\n", "x.csv", car);
  ASSERT_FALSE(wrong);
  EXPECT_NE(wrong.error().front().line().find("camber"), std::string::npos) << wrong.error().front().line();
}

double caster(const Variant& v, Side side) {
  return degrees(v.source.standing.axle[0].wheel[at(side)].kingpin->caster_rad);
}

// Two upper links turned against each other: the caster comes, the camber stays, and nothing turns them back.
TEST(ATypedCaster, TurnsTwoUpperLinksAgainstEachOther) {
  const Car car = test::shipped("godwit-ta");
  const test::CarSetup kit = kit_setup(car);
  for (double wish = 2.0; wish <= 6.0; wish += 0.5) {
    const auto turned = turned_to_angle(car, kit, End::front, {true, true}, WheelAngle::caster, wish);
    ASSERT_TRUE(turned) << turned.error();
    const auto c = compare(car, kit, *turned, {}, {}, 5);
    ASSERT_TRUE(c);
    for (const Side side : both_sides) {
      EXPECT_NEAR(caster(*c->reset, side), wish, 0.2) << "to what eighths of two links make";
      EXPECT_NEAR(camber(*c->reset, End::front, side), camber(*c->baseline, End::front, side), 0.2);
    }
  }
  EXPECT_FALSE(
      turned_to_angle(test::touring(), kit_setup(test::touring()), End::front, {true, true}, WheelAngle::caster, 6.0))
      << "one camber link and blocks: the links set no caster";
  EXPECT_FALSE(turned_to_angle(car, kit, End::front, {true, true}, WheelAngle::caster, 40.0)) << "no thread is so long";
}

// One of two upper links turned by hand moves camber and caster on purpose: neither is put back by the other.
TEST(OneOfTwoUpperLinks, IsNotTurnedBackByTheOther) {
  const Car car = test::shipped("godwit-ta");
  const test::CarSetup kit = kit_setup(car);
  const PartHandle link = car.turnbuckles_holding(End::front, LinkHolds::camber).front();
  const test::CarSetup turned = by_hand(car, kit, car.adjusters[link].id.c_str(), 0.5, kit);
  const auto c = compare(car, kit, turned, {}, {}, 5);
  ASSERT_TRUE(c);
  for (const PartHandle each : car.turnbuckles_holding(End::front, LinkHolds::camber))
    EXPECT_EQ(c->reset->setup.of(each), turned.of(each));
}

// Every link of every car set to lengths over its thread: the caliper reads them, to half an eighth of a turn.
TEST(ATypedLength, IsWhatTheCaliperReads) {
  for (const Car& car : test::every_shipped_car()) {
    const test::CarSetup kit = kit_setup(car);
    for (const PartHandle part : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[part];
      if (a.kind != AdjusterKind::turnbuckle) continue;
      const double now = link_length_mm(car, kit, part, Side::left);
      const double per_turn = std::abs(a.range()->link_mm_per_unit);
      for (const double by : {-0.6, -0.2, 0.3, 0.7}) {
        if (test::runs_a_share() && by != 0.3) continue;
        const auto set = turned_to_length(car, kit, kit, {true, true}, part, now + by);
        if (!set) continue;  // its thread, or the wheel, does not reach: said below
        for (const Side side : both_sides)
          EXPECT_NEAR(link_length_mm(car, *set, part, side), now + by, per_turn / 16.0 + 1e-9) << car.id << ' ' << a.id;
        const auto c = compare(car, kit, *set, {}, {}, 5);
        // On spacers the car comes to stand at another height, and is put right there.
        const bool settles = spring_holder(car, a.end) == SpringHolder::spacers;
        EXPECT_TRUE(!c || settles || c->reset->setup.of(part) == set->of(part))
            << car.id << ' ' << a.id << " by " << by << ": it is not turned back";
      }
      const auto beyond = turned_to_length(car, kit, kit, {true, true}, part, now + 80.0);
      ASSERT_FALSE(beyond) << a.id;
      EXPECT_NE(beyond.error().message.find("thread"), std::string::npos) << beyond.error();
    }
  }
}

// The wanted lock is a part of the setup: end points, outside wheel, radius and the bench's target follow it.
TEST(TheWantedLock, SetsTheEndPointsAndAllThatFollows) {
  for (const Car& car : test::every_shipped_car()) {
    if (!car.steering.spec) continue;
    const test::CarSetup kit = kit_setup(car);
    const auto all = evaluate(car, kit, {}, 5);
    ASSERT_TRUE(all);
    const LockFigures& most = *all->source.travel.lock;
    const double least = degrees(std::min(most.most_inside_rad[0], most.most_inside_rad[1]));
    double radius = 0.0;
    for (const double share : {0.5, 0.7, 0.9}) {
      test::CarSetup wish = kit;
      wish.wanted_lock_deg = share * least;
      const auto v = evaluate(car, wish, {}, 5);
      ASSERT_TRUE(v);
      const LockFigures& lock = *v->source.travel.lock;
      for (const Side way : both_sides) {
        EXPECT_NEAR(degrees(lock.inside_rad[at(way)]), share * least, 0.05) << car.id;
        EXPECT_NEAR(lock.usable[at(way)].servo_rad, most.usable[at(way)].servo_rad, 1e-9) << "what there is stays";
        EXPECT_LT(lock.end_point_rad[at(way)], most.end_point_rad[at(way)]);
        EXPECT_LT(lock.outside_rad[at(way)], most.outside_rad[at(way)]);
        // Read off the car posed with that servo angle, by another way.
        const auto pose = figures_at(v->model, [&] {
          Attitude a = static_attitude(v->model);
          a.servo_rad = (way == Side::left ? 1.0 : -1.0) * lock.end_point_rad[at(way)];
          return a;
        }());
        ASSERT_TRUE(pose);
        EXPECT_NEAR(std::abs(degrees(pose->steering->steer_rad[at(way)])), share * least, 0.05) << car.id;
        EXPECT_NEAR(*read_gauge(car, wish, {&gauge::lock_inside, End::front, {}, ""}, way, {}), share * least, 0.05);
      }
      const double r = std::abs(*v->source.travel.at_left_lock->turning_radius_mm);
      EXPECT_TRUE(radius == 0.0 || r < radius) << "more lock, a tighter turn";
      radius = r;
      // Against the baseline the end points are told as a change.
      const auto c = compare(car, kit, wish, {}, {}, 5);
      ASSERT_TRUE(c && c->bench->end_point_rad);
      EXPECT_NEAR((*c->bench->end_point_rad)[0], lock.end_point_rad[0] - most.end_point_rad[0], 1e-9);
    }
    // More than there is: what there is, and Check says so.
    test::CarSetup more = kit;
    more.wanted_lock_deg = 59.0;
    const auto v = evaluate(car, more, {}, 5);
    EXPECT_EQ(v->source.travel.lock->end_point_rad[0], most.end_point_rad[0]);
    const auto found = check_car(car, more);
    EXPECT_TRUE(std::any_of(found.begin(), found.end(), [](const Finding& f) {
      return f.what.find("59.0 deg of lock are wanted") == 0;
    })) << car.id;
  }
}

// A link's end seen from the wheel, in the text-book's way: a right-hand thread that turns clockwise goes away from
// whoever looks (any handbook of machine elements).
TEST(TheWrench, LengthensARodByTurningItOutOfBothCups) {
  Car car = test::touring();
  const PartHandle link = car.find_adjuster("front_camber_link");
  car.left_hand_ends = LeftHandEnds::unknown;
  EXPECT_FALSE(wrench_turn(car, link, Side::left, true)) << "nobody knows where the marks are";
  for (const LeftHandEnds ends : {LeftHandEnds::left, LeftHandEnds::right, LeftHandEnds::wheels, LeftHandEnds::middle})
    for (const Side side : both_sides)
      for (const bool lengthen : {true, false}) {
        car.left_hand_ends = ends;
        const auto t = wrench_turn(car, link, side, lengthen);
        ASSERT_TRUE(t);
        const bool left_hand_outer = ends == LeftHandEnds::wheels ||
                                     (ends == LeftHandEnds::left && side == Side::left) ||
                                     (ends == LeftHandEnds::right && side == Side::right);
        // The cup at the wheel, looked at along the rod from outside: the rod's end points at whoever looks. Turned
        // counter-clockwise a rod comes out of a left-hand cup, clockwise out of a right-hand one.
        EXPECT_EQ(t->clockwise_from_outer, lengthen != left_hand_outer);
        // From the left wheel the front of the car is to the left, so that what turns clockwise goes to the rear on
        // top.
        EXPECT_EQ(t->top_forward, side == Side::left ? !t->clockwise_from_outer : t->clockwise_from_outer);
      }
}

TEST(ASearchForAHeldAngle, MovesItsLinkFirst) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const FigureSpec& figure = *find_figure("camber");
  RecipeOrder order;
  order.aims = {RecipeAim::of(figure, End::front, -2.2, 0.1, false)};
  order.parts = recipe_parts(car, End::front);
  order.most_parts = 1;
  const auto found = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(found) << found.error();
  ASSERT_EQ(found->results.size(), 1u) << "the link does it; no part need be changed";
  EXPECT_TRUE(found->results[0].changes.empty());
  EXPECT_TRUE(found->results[0].meets());
  const auto there = evaluate(car, found->results[0].setup, {}, 5);
  EXPECT_NEAR(camber(*there, End::front, Side::left), -2.2, 0.15);
  // Taken over, nothing turns it back.
  const auto c = compare(car, kit, found->results[0].setup, {}, {}, 5);
  EXPECT_EQ(c->reset->setup.of(car.find_adjuster("front_camber_link")),
            found->results[0].setup.of(car.find_adjuster("front_camber_link")));
  // With a roll centre wanted besides, parts are moved for that, the camber still by its link.
  const FigureSpec& roll_centre = *find_figure("roll_centre");
  const double now = *roll_centre.read(there->source, End::front, Side::left);
  order.aims.push_back(RecipeAim::of(roll_centre, End::front, now + 2.0, 0.5, false));
  const auto both = find_recipe(car, kit, kit, order);
  ASSERT_TRUE(both && !both->results.empty());
  EXPECT_FALSE(both->results[0].changes.empty());
  EXPECT_NEAR(both->results[0].reached[0], -2.2, 1e-6);
}

}  // namespace
}  // namespace lowkite
