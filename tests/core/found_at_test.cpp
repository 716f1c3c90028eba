// Where parts are found in a drawing.
#include "core/parts/found_at.hpp"

#include <gtest/gtest.h>

#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

bool has_point(const FoundAt& f, PointHandle point) {
  return std::any_of(f.points.begin(), f.points.end(), [&](const PointRef& r) { return r.point == point; });
}

// Whatever has a place on the car can be picked there; what it moves is among its points.
TEST(FoundAt, EveryPartWithAPlaceIsFoundThere) {
  for (const Car& car : test::every_shipped_car()) {
    const auto all = found_adjusters(car);
    ASSERT_EQ(all.size(), car.adjusters.size());
    for (const PartHandle i : all.handles()) {
      const Adjuster& a = car.adjusters[i];
      const FoundAt& f = all[i];
      EXPECT_EQ(f.end, a.end);
      EXPECT_EQ(f.steering, a.steering);
      if (a.place()) {
        EXPECT_TRUE(has_point(f, a.place())) << car.id << " " << a.id;
      }
      for (const PartSpot& s : spots_of(car, a)) EXPECT_TRUE(has_point(f, s.ref.point)) << car.id << " " << a.id;
      if (a.kind == AdjusterKind::turnbuckle) {
        ASSERT_EQ(f.lines.size(), 1u) << a.id;
        const LinkSpec& link =
            (a.steering ? car.steering.spec->links : car.axle(a.end).mechanism->links)[a.range()->link];
        const auto& points = a.steering ? car.steering.points : car.axle(a.end).points[0];
        EXPECT_NEAR((f.lines[0].to - f.lines[0].from).norm(), (points[link.outer] - points[link.inner]).norm(), 1e-9);
      }
    }
  }
}

// A spring is looked for along the shock, a hole at its tower alone.
TEST(FoundAt, WhatIsInAShockLiesAlongIt) {
  const Car& car = test::touring();
  const auto all = found_adjusters(car);
  const auto of = [&](const char* id) { return all[car.find_adjuster(id)]; };
  for (const char* id : {"front_spring", "front_oil", "front_piston"}) {
    ASSERT_EQ(of(id).lines.size(), 1u) << id;
    const auto& points = car.axle(End::front).points[0];
    EXPECT_EQ(of(id).lines[0].from, points[attachment::shock_upper]);
    EXPECT_EQ(of(id).lines[0].to, points[attachment::shock_lower]);
  }
  EXPECT_TRUE(of("rear_link_inner_shims").lines.empty());
}

TEST(FoundAt, FittingsLieAlongTheirPoints) {
  int touching = 0;
  for (const Car& car : test::every_shipped_car()) {
    const auto fittings = fittings_of(car);
    const auto all = found_fittings(car, fittings);
    ASSERT_EQ(all.size(), fittings.size());
    for (std::size_t i = 0; i < all.size(); ++i) {
      EXPECT_EQ(all[i].end, fittings[i].end);
      EXPECT_EQ(all[i].bodies.size(), fittings[i].bodies.size());
      if (fittings[i].form == "touch") {
        EXPECT_EQ(all[i].bodies.size(), 2u) << fittings[i].label;
        ++touching;
      }
      if (fittings[i].form == "fit_bar" || fittings[i].form == "fit_shock" || fittings[i].form == "fit_shaft") {
        EXPECT_FALSE(all[i].lines.empty()) << car.id << " " << fittings[i].label;
      }
      for (const PartSpot& s : fittings[i].spots) EXPECT_TRUE(has_point(all[i], s.ref.point));
    }
  }
  EXPECT_GT(touching, 3);
}

}  // namespace
}  // namespace lowkite
