// One step of every part against every figure.
#include "core/plan/sensitivity.hpp"

#include <gtest/gtest.h>

#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

const SensitivityRow& row(const Car& car, const Sensitivity& s, const char* id) {
  for (const SensitivityRow& r : s.rows)
    if (car.adjusters[r.adjuster].id == id) return r;
  throw std::logic_error(id);
}

// Brute force: the same step taken by hand through the comparison gives the same change of every figure.
TEST(Sensitivity, IsWhatEachStepDoesByItself) {
  const Car car = test::touring();
  for (const End end : both_ends)
    for (const bool put_back : {false, true}) {
      const auto s = sensitivity(car, kit_setup(car), end, put_back);
      ASSERT_TRUE(s);
      EXPECT_EQ(s->rows.size(), car.adjusters_from_the_wheel(end).size());
      for (const SensitivityRow& r : s->rows) {
        const Adjuster& a = car.adjusters[r.adjuster];
        if (a.kind == AdjusterKind::turnbuckle && put_back) continue;
        test::CarSetup stepped = kit_setup(car);
        stepped.of(r.adjuster) = {r.value, r.value};
        const auto c = compare(car, kit_setup(car), stepped, {}, {.hold_droop = false, .step_turns = 0}, 9);
        ASSERT_TRUE(c) << a.id;
        const Variant& after = put_back ? *c->reset : *c->changed;
        for (std::size_t i = 0; i < s->figures.size(); ++i) {
          const auto x = s->figures[i]->read(c->baseline->source, end, Side::left);
          const auto y = s->figures[i]->read(after.source, end, Side::left);
          if (x && y && std::abs(*y - *x) < 1e4) {
            EXPECT_NEAR(*r.change[i], *y - *x, 1e-9) << a.id << ": " << s->figures[i]->id;
          }
        }
      }
    }
}

TEST(Sensitivity, WithTheResetHoldsCamberAndToe) {
  const Car car = test::touring();
  const auto s = sensitivity(car, kit_setup(car), End::front, true);
  ASSERT_TRUE(s);
  for (const SensitivityRow& r : s->rows) {
    if (car.adjusters[r.adjuster].kind == AdjusterKind::turnbuckle) continue;
    for (const char* held : {"camber", "toe"})
      EXPECT_NEAR(*r.change[at(s->find(held))], 0.0, 1e-6) << car.adjusters[r.adjuster].id;
  }
}

TEST(Ranking, PutsTheUsualPartFirst) {  // common practice, no source
  const Car car = test::touring();
  const auto s = sensitivity(car, kit_setup(car), End::front, true);
  ASSERT_TRUE(s);
  const auto first = [&](const char* figure) {
    const auto order = s->ranked(s->find(figure));
    return order.empty() ? std::string() : car.adjusters[order.front()->adjuster].id;
  };
  EXPECT_EQ(first("caster"), "front_caster_block");
  EXPECT_EQ(first("droop"), "front_droop_screw");
  const std::string bump = first("bump_steer");
  EXPECT_TRUE(bump == "front_tie_outer_shims" || bump == "front_tie_inner_shims") << bump;
  for (const SensitivityRow* r : s->ranked(s->find("roll_centre"))) EXPECT_GT(s->told(*r, s->find("roll_centre")), 0.0);
}

TEST(APartAtItsEnd, IsSteppedTheOtherWay) {
  const Car car = test::touring();
  test::CarSetup s = kit_setup(car);
  const PartHandle i = car.find_adjuster("front_hub_shims");
  s.of(i) = {1.0, 1.0};
  const auto found = sensitivity(car, s, End::front, true);
  ASSERT_TRUE(found);
  EXPECT_EQ(row(car, *found, "front_hub_shims").step, -1);
  EXPECT_EQ(row(car, *found, "front_hub_shims").value, 0.5);
}

TEST(Sensitivity, StopsWhenToldTo) {
  const Car car = test::touring();
  int asked = 0;
  const auto s = sensitivity(car, kit_setup(car), End::front, true, [&] { return ++asked <= 3; });
  ASSERT_TRUE(s);
  EXPECT_EQ(s->rows.size(), 3u);
}

TEST(Sensitivity, WorksForEveryCar) {
  for (const Car& car : test::every_shipped_car())
    for (const End end : both_ends) {
      const auto s = sensitivity(car, kit_setup(car), end, true);
      ASSERT_TRUE(s) << car.id;
      for (const SensitivityRow& r : s->rows) EXPECT_TRUE(r.possible) << car.id << ": " << car.adjusters[r.adjuster].id;
    }
}

}  // namespace
}  // namespace lowkite
