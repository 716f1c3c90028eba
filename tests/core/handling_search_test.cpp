// A search for what the driver wishes, followed to its end: what it says is worked out again from its setups alone.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "core/figures/variant.hpp"
#include "core/io/library.hpp"
#include "core/io/tyre_file.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/handling_search.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using HF = HandlingFigure;
using HW = HandlingWant;
using CP = CornerPhase;

std::vector<TyreDraw> some_tyres(const char* surface = "carpet") {
  static const TyreBook b = *load_tyres(test::data_path("tyres/tyres.json"));
  return draw_tyres(b.for_surface(surface), test::runs_a_share() ? 5 : 16);
}

/// Only these parts may be changed.
ListOf<Adjuster, char> only(const Car& car, std::initializer_list<const char*> parts) {
  ListOf<Adjuster, char> may(car.adjusters.size(), 0);
  for (const char* p : parts)
    if (const PartHandle i = car.find_adjuster(p)) may[i] = 1;
  return may;
}

const HandlingSearch& entry_and_exit() {
  static const HandlingSearch s{
      {{HF::front_left, CP::entry, HW::more}, {HF::rear_left, CP::exit, HW::not_less}}, 0.8, 2, {}};
  return s;
}

TEST(HandlingSearch, WhatItTellsIsSoWhenItsSetupIsTried) {
  for (const char* id : {"heron-tc190", "plover-2wd", "sanderling-12"}) {
    if (test::runs_a_share() && std::string_view(id) != "plover-2wd") continue;
    const Car car = test::shipped(id);
    const test::CarSetup kit = kit_setup(car);
    HandlingSearch search = entry_and_exit();
    search.may = only(car, {"front_bar", "rear_bar", "front_link_inner_shims", "rear_link_inner_shims", "front_spring",
                            "rear_spring", "battery_place", "rear_track_spacers", "rear_tyre"});
    const auto tyres = some_tyres();
    const auto finds = search_handling(car, kit, kit, {}, tyres, {}, search);
    ASSERT_TRUE(finds) << finds.error();
    ASSERT_FALSE(finds->found.empty()) << id;
    EXPECT_GE(finds->worked_out, static_cast<int>(finds->found.size()));
    const SetupTable before = *tabulate(car, kit, {});
    const Handling there = handling_over(before, tyres);
    const auto straight = figures_at(*build_model(car, kit), static_attitude(*build_model(car, kit)));
    int tried = 0;
    for (const HandlingFind& f : finds->found) {
      ASSERT_FALSE(f.steps.empty());
      EXPECT_LE(f.steps.size(), 2u);
      for (const HandlingFind::Step& s : f.steps) {
        const Adjuster& a = car.adjusters[s.adjuster];
        EXPECT_TRUE(search.may[s.adjuster]) << a.id;
        EXPECT_TRUE(a.can_be(s.to)) << a.id;
        EXPECT_EQ(s.from, kit.values[s.adjuster].left);
        EXPECT_EQ(f.setup.values[s.adjuster].right, s.to);
      }
      if (f.steps.size() == 2) {
        EXPECT_NE(f.steps[0].adjuster, f.steps[1].adjuster);
      }
      if (++tried > test::share_of(16)) continue;
      const auto table = tabulate(car, f.setup, {});
      ASSERT_TRUE(table) << car.id;
      const Handling after = handling_over(*table, tyres);
      double least = 1.0;
      for (const HandlingWish& w : search.wishes) {
        int holding = 0;
        for (std::size_t i = 0; i < tyres.size(); ++i) {
          const auto p = static_cast<std::size_t>(w.phase);
          if (!there[i] || !after[i]) continue;
          const auto a = spec_of(w.figure).read(there[i]->phase[p]), b = spec_of(w.figure).read(after[i]->phase[p]);
          holding += a && b && holds(w, *b - *a);
        }
        least = std::min(least, static_cast<double>(holding) / static_cast<double>(tyres.size()));
      }
      EXPECT_DOUBLE_EQ(f.share, least) << id;
      // Camber is what it was, to an eighth of a turn of the link.
      const auto model = build_model(car, f.setup);
      const auto now = figures_at(*model, static_attitude(*model));
      ASSERT_TRUE(straight && now);
      for (const End end : both_ends) {
        const auto turns = [&](const char* what) {
          return car.find_adjuster(std::string(end == End::front ? "front_" : "rear_") + what);
        };
        if (turns("camber_link")) {
          EXPECT_NEAR(now->axle[at(end)].wheel[0].camber_rad, straight->axle[at(end)].wheel[0].camber_rad,
                      radians(0.25))
              << id;
        }
      }
    }
    // Those that reach the share stand first, and of them those that are done soonest.
    for (std::size_t i = 1; i < finds->found.size(); ++i) {
      const HandlingFind &a = finds->found[i - 1], &b = finds->found[i];
      const bool ra = a.share >= search.share, rb = b.share >= search.share;
      EXPECT_GE(ra, rb);
      if (ra && rb) {
        EXPECT_LE(a.minutes, b.minutes);
      }
      if (!ra && !rb) {
        EXPECT_GE(a.share, b.share);
      }
    }
  }
}

TEST(HandlingSearch, OfOnePartItFindsWhatTryingEveryStepFinds) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  HandlingSearch search = entry_and_exit();
  search.most_parts = 1;
  search.may = only(car, {"rear_bar", "rear_differential_oil", "front_caster_block"});
  const auto tyres = some_tyres();
  const auto finds = search_handling(car, kit, kit, {}, tyres, {}, search);
  ASSERT_TRUE(finds);
  double found = 0.0, best = 0.0;
  for (const HandlingFind& f : finds->found) found = std::max(found, f.share);
  const Handling there = handling_over(*tabulate(car, kit, {}), tyres);
  for (const PartHandle i : car.adjusters.handles()) {
    if (!search.may[i]) continue;
    for (int n = -4; n <= 4; ++n) {
      test::CarSetup s = kit;
      const double to = car.adjusters[i].stepped(kit.values[i].left, n);
      s.values[i] = {to, to};
      const auto table = tabulate(car, put_back_by_hand(car, kit, s), {});
      if (!table) continue;
      const Handling after = handling_over(*table, tyres);
      double least = 1.0;
      for (const HandlingWish& w : search.wishes) {
        int holding = 0;
        for (std::size_t k = 0; k < tyres.size(); ++k) {
          const auto p = static_cast<std::size_t>(w.phase);
          const auto a = spec_of(w.figure).read(there[k]->phase[p]), b = spec_of(w.figure).read(after[k]->phase[p]);
          holding += a && b && holds(w, *b - *a);
        }
        least = std::min(least, static_cast<double>(holding) / static_cast<double>(tyres.size()));
      }
      best = std::max(best, least);
    }
  }
  EXPECT_DOUBLE_EQ(found, best);
}

TEST(HandlingSearch, MakesUpForOtherSpringsAndSaysWhereNothingNeedsToBeDone) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  const PartHandle spring = car.find_adjuster("front_spring");
  ASSERT_TRUE(spring);
  test::CarSetup sprung = kit;
  const double other = car.adjusters[spring].stepped(sprung.of(spring).left, 1);
  sprung.of(spring) = {other, other};
  HandlingSearch search;
  for (const CP phase : corner_phases)
    for (const HF figure : {HF::front_left, HF::rear_left}) search.wishes.push_back({figure, phase, HW::same});
  search.may = only(car, {"front_bar", "rear_bar", "rear_link_inner_shims", "rear_droop_screw"});
  const auto tyres = some_tyres();
  const auto finds = search_handling(car, kit, sprung, {}, tyres, {}, search);
  ASSERT_TRUE(finds) << finds.error();
  double as_it_is = -1.0, best = 0.0;
  for (const HandlingFind& f : finds->found) {
    if (f.steps.empty()) as_it_is = f.share;
    best = std::max(best, f.share);
    EXPECT_EQ(f.setup.of(spring).left, other) << "the spring stays";
  }
  ASSERT_GE(as_it_is, 0.0) << "what is changed already is told, too";
  EXPECT_GT(best, as_it_is);
  // Back to where it was by hand: as it is now is then the whole answer.
  const auto idle = search_handling(car, kit, kit, {}, tyres, {}, search);
  ASSERT_FALSE(idle);
  EXPECT_NE(idle.error().message.find("nothing is changed against the baseline"), std::string::npos);
  search.wishes.clear();
  EXPECT_FALSE(search_handling(car, kit, sprung, {}, tyres, {}, search));
}

TEST(HandlingSearch, IsTheSameByAnyNumberOfThreadsAndStopsWhenTold) {
  const Car car = test::touring();
  const test::CarSetup kit = kit_setup(car);
  HandlingSearch search = entry_and_exit();
  search.may = only(car, {"rear_bar", "rear_differential_oil"});
  const auto tyres = some_tyres();
  const auto one = search_handling(car, kit, kit, {}, tyres, {}, search, 1);
  const auto two = search_handling(car, kit, kit, {}, tyres, {}, search, 2);
  ASSERT_TRUE(one && two);
  ASSERT_EQ(one->found.size(), two->found.size());
  for (std::size_t i = 0; i < one->found.size(); ++i) {
    EXPECT_EQ(one->found[i].setup, two->found[i].setup);
    EXPECT_EQ(one->found[i].share, two->found[i].share);
  }
  double last = 0.0;
  const auto stopped =
      search_handling(car, kit, kit, {}, tyres, {}, search, 2, [&](double share, const HandlingFinds& so_far) {
        EXPECT_GE(share, last - 1e-12);
        last = share;
        return so_far.worked_out < 2;
      });
  ASSERT_TRUE(stopped);
  EXPECT_EQ(stopped->worked_out, 2);
  // Tyres that weigh nothing have no say.
  std::vector<double> weights(tyres.size(), 0.0);
  weights[3] = 1.0;
  const auto weighed = search_handling(car, kit, kit, {}, tyres, weights, search);
  ASSERT_TRUE(weighed);
  for (const HandlingFind& f : weighed->found) EXPECT_TRUE(f.share == 0.0 || f.share == 1.0) << f.share;
}

TEST(HandlingSearch, AWishIsMoreLessOrTheSameByWhatCanBeFelt) {
  const double felt = spec_of(HF::front_left).felt;
  const auto is = [&](HW want, double d) { return holds({HF::front_left, CP::middle, want}, d * felt); };
  for (const double d : {-2.0, -0.5, 0.0, 0.5, 2.0}) {
    EXPECT_EQ(is(HW::more, d), d > 1.0);
    EXPECT_EQ(is(HW::less, d), d < -1.0);
    EXPECT_EQ(is(HW::same, d), std::abs(d) < 1.0);
    EXPECT_EQ(is(HW::not_less, d), d > -1.0);
    EXPECT_EQ(is(HW::not_more, d), d < 1.0);
    EXPECT_FALSE(is(HW::more, d) && is(HW::not_more, d));
  }
}

}  // namespace
}  // namespace lowkite
