#include "core/car/adjuster.hpp"

#include <gtest/gtest.h>

#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

const Adjuster& part(const Car& car, const char* id) {
  return car.adjusters[car.find_adjuster(id)];
}

TEST(ShimStops, AreTheThicknessesThatTheBoxCanMake) {
  const std::vector<double> sizes{0.75, 1.0};
  EXPECT_EQ(shim_stops(sizes, 0, 2.0), (std::vector<double>{0, 0.75, 1.0, 1.5, 1.75, 2.0}));
  EXPECT_EQ(shim_stops(sizes, 0.8, 1.6), (std::vector<double>{1.0, 1.5}));
  const std::vector<double> tenths{0.1, 0.2};
  EXPECT_DOUBLE_EQ(shim_stops(tenths, 0, 0.3).back(), 0.3) << "0.1 + 0.2 is 0.3 here";
}

TEST(ShimsForAThickness, AreAsFewAsPossibleThickestFirst) {
  const std::vector<double> sizes{0.25, 0.5, 1, 2};
  EXPECT_EQ(shims_for(3.75, sizes), (std::vector<double>{2, 1, 0.5, 0.25}));
  EXPECT_TRUE(shims_for(0, sizes).empty());
  EXPECT_TRUE(shims_for(0.1, sizes).empty()) << "no shims make a tenth";
}

TEST(Stepping, GoesFromStopToStopAndStaysAtTheEnds) {
  const Car car = test::touring();
  const Adjuster& shims = part(car, "front_link_inner_shims");
  EXPECT_DOUBLE_EQ(shims.stepped(2.0, 1), 2.25);
  EXPECT_DOUBLE_EQ(shims.stepped(2.0, -1), 1.75);
  EXPECT_DOUBLE_EQ(shims.stepped(0.0, -3), 0.0);
  EXPECT_DOUBLE_EQ(shims.stepped(5.0, 1), 5.0);
  const Adjuster& hole = part(car, "front_link_hole");
  EXPECT_EQ(hole.stepped(1, 1), 2);
  EXPECT_EQ(hole.stepped(2, 1), 2);
  const Adjuster& link = part(car, "front_camber_link");
  EXPECT_DOUBLE_EQ(link.stepped(0, 1), 0.125);
  EXPECT_DOUBLE_EQ(link.stepped(0.05, 1), 0.125) << "from between two stops to the next one";
}

TEST(ValuesAllowed, AreThoseThePartsCanMake) {
  const Car car = test::touring();
  EXPECT_TRUE(part(car, "front_link_inner_shims").can_be(3.25));
  EXPECT_FALSE(part(car, "front_link_inner_shims").can_be(3.3));
  EXPECT_FALSE(part(car, "front_link_inner_shims").can_be(5.25));
  EXPECT_TRUE(part(car, "front_camber_link").can_be(1.234)) << "a thread stops anywhere";
  EXPECT_FALSE(part(car, "front_camber_link").can_be(7.0));
  EXPECT_FALSE(part(car, "front_link_hole").can_be(3));
}

TEST(EveryAdjuster, AtItsKitValueChangesNothing) {
  for (const Car& car : {test::touring(), test::buggy()}) {
    for (const End e : both_ends)
      for (const Side s : both_sides) {
        const CornerGeometry g = corner_geometry(car, kit_setup(car), e, s);
        for (const PointHandle p : car.axle(e).mechanism->points.handles())
          EXPECT_LT((g.set[p] - g.kit[p]).norm(), 1e-12);
      }
  }
}

TEST(EveryAdjuster, AtEachStopStillGivesALinkageThatStands) {
  for (const Car& car : {test::touring(), test::buggy()})
    for (const PartHandle i : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[i];
      for (const double v : {a.least(), a.most()}) {
        test::CarSetup s = kit_setup(car);
        s.values[i] = {v, v};
        const auto model = build_model(car, s);
        ASSERT_TRUE(model) << a.id;
        const auto stands = pose_car(*model, static_attitude(*model));
        EXPECT_TRUE(stands) << a.id << " at " << v << ": " << (stands ? "" : stands.error().message);
      }
    }
}

TEST(LeftAndRight, AreSetApart) {
  const Car car = test::touring();
  test::CarSetup s = kit_setup(car);
  const PartHandle i = car.find_adjuster("front_link_inner_shims");
  s.of(i).on(Side::right) = 4.0;
  const PointHandle point = car.axle(End::front).mechanism->point("link_inner");
  const CornerGeometry left = corner_geometry(car, s, End::front, Side::left);
  const CornerGeometry right = corner_geometry(car, s, End::front, Side::right);
  EXPECT_NEAR(right.set[point].z() - left.set[point].z(), 2.0, 1e-12);
}

TEST(OrderFromTheWheelInward, StartsAtTheWheelAndEndsAtTheInnerPins) {
  const Car car = test::touring();
  std::vector<PartHandle> order = car.adjusters_from_the_wheel(End::front);
  ASSERT_GT(order.size(), 5u);
  // The differential lies on the plate, too.
  std::erase_if(order, [&](PartHandle i) { return car.adjusters[i].in_the_differential(); });
  const std::string& first = car.adjusters[order.front()].id;
  EXPECT_TRUE(first == "front_hub_shims" || first == "front_caster_block") << first;
  // The steering comes after everything that hangs on the wheel; before it, the arm's inner pins.
  // What lies on the plate is last of all.
  EXPECT_EQ(car.adjusters[order.back()].id, "front_ballast");
  EXPECT_TRUE(car.adjusters[order[order.size() - 2]].steering);
  const auto wheels_side =
      std::find_if(order.rbegin() + 1, order.rend(), [&](PartHandle i) { return !car.adjusters[i].steering; });
  const std::string& last = car.adjusters[*wheels_side].id;
  EXPECT_TRUE(last.find("pin") != std::string::npos || last.find("arm") != std::string::npos) << last;
}

TEST(ACasterBlock, TurnsTheKingpinAndCarriesTheKnuckle) {
  const Car car = test::touring();
  const PartHandle block = car.find_adjuster("front_caster_block");
  const auto caster = [&](double position) {
    test::CarSetup s = kit_setup(car);
    s.of(block) = {position, position};
    const auto m = build_model(car, s);
    return degrees(figures_at(*m, static_attitude(*m))->axle[0].wheel[0].kingpin->caster_rad);
  };
  EXPECT_NEAR(caster(2) - caster(1), 2.0, 0.02);
  EXPECT_NEAR(caster(0) - caster(1), -2.0, 0.02);
}

// What they keep apart, they keep apart when it is compiled.
static_assert(std::is_convertible_v<decltype(attachment::shock_upper), PointHandle>);
static_assert(!std::is_convertible_v<decltype(attachment::shock_upper), PartHandle>);
static_assert(!std::is_convertible_v<int, PointHandle> && !std::is_convertible_v<PointHandle, int>);
static_assert(!std::is_convertible_v<PointHandle, LinkHandle> && !std::is_convertible_v<LinkHandle, PointHandle>);
static_assert(!std::is_convertible_v<PointHandle, bool>, "none is asked for, and no number comes of it");

TEST(Handles, FindTheirThingOrNone) {
  const PartHandle none;
  EXPECT_FALSE(none);
  EXPECT_EQ(none.number(), -1);
  EXPECT_EQ(PartHandle::numbered(-1), none);
  const Car car = test::touring();
  std::size_t place = 0;
  for (const PartHandle part : car.adjusters.handles()) {
    ASSERT_TRUE(part);
    EXPECT_EQ(part.place(), place++);
    EXPECT_EQ(PartHandle::numbered(part.number()), part);
    EXPECT_LT(none, part) << "none stands before every one in a sorted list";
    EXPECT_EQ(car.find_adjuster(car.adjusters[part].id), part);
  }
  EXPECT_EQ(place, car.adjusters.size());
  EXPECT_FALSE(car.find_adjuster("no_such_part"));
  EXPECT_FALSE(car.axle(End::front).mechanism->point("no_such_point"));
  EXPECT_FALSE(car.axle(End::front).mechanism->link("no_such_link"));
  // What the axle says it has is what its mechanism names.
  for (std::size_t p = attachment::first; p < attachment::end; ++p) {
    const PointHandle point(p);
    EXPECT_EQ(car.axle(End::front).mechanism->point(car.axle(End::front).mechanism->point_spec(point).id), point);
  }
}

}  // namespace
}  // namespace lowkite
