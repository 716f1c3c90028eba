// Candidates in the lanes of a register, with every instruction set of this machine: against one after the other, and
// against the program's common way.
#include "core/plan/lanes/lanes.hpp"

#include <random>

#include <gtest/gtest.h>

#include "core/figures/variant.hpp"
#include "core/plan/lanes/part_moves.hpp"
#include "core/plan/recipe.hpp"
#include "tests/core/lane_samples.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

std::vector<const LaneKernel*> kernels_here() {
  std::vector<const LaneKernel*> here;
  for (const LaneKernel& k : lane_kernels())
    if (k.here()) here.push_back(&k);
  return here;
}

/// Rows of values: up to four parts at another of their places, in no order.
std::vector<double> random_rows(const Car& car, const CarSetup& start, const std::vector<PartHandle>& parts,
                                std::size_t count, std::mt19937& dice) {
  std::vector<double> rows;
  for (std::size_t i = 0; i < count; ++i) {
    std::vector<double> row;
    for (const PartHandle p : parts) row.push_back(start.of(p).left);
    for (std::size_t k = dice() % 5; k > 0; --k) {
      const std::size_t j = dice() % parts.size();
      const auto besides = car.adjusters[parts[j]].values_besides(row[j]);
      if (!besides.empty()) row[j] = besides[dice() % besides.size()];
    }
    rows.insert(rows.end(), row.begin(), row.end());
  }
  return rows;
}

std::vector<PartHandle> geometric_parts(const Car& car, End end) {
  std::vector<PartHandle> parts = recipe_parts(car, end);
  std::erase_if(parts, [&](PartHandle p) { return !car.adjusters[p].moves_geometry(); });
  return parts;
}

TEST(Lanes, TheNarrowestIsAlwaysHereAndTheWidestIsTaken) {
  ASSERT_FALSE(kernels_here().empty());
  EXPECT_EQ(kernels_here().front(), &lane_kernels().front());
  EXPECT_EQ(kernels_here().back(), &widest_kernel());
  for (const LaneKernel* k : kernels_here()) EXPECT_LE(k->lanes, most_lanes);
}

TEST(Lanes, JudgeAsOneAfterTheOtherOnEveryCarAndWithWhateverIsHeld) {
  std::mt19937 dice(31);
  int compared = 0;
  int fallen = 0;
  for (const Car& car : every_shipped_car())
    for (const End end : both_ends)
      for (int round = 0; round < 5; ++round) {
        const CarSetup start = round == 0 ? kit_setup(car) : random_setup(car, dice);
        const auto now = evaluate(car, start, {}, coarse_curve);
        if (!now) continue;
        AxleOrder order{end, {}, geometric_parts(car, end), {}};
        if (order.parts.empty()) continue;
        order.reset.hold_camber = round != 2 && round != 3;
        order.reset.hold_toe = round != 2 && round != 4;
        if (round == 1) order.also_good_with = usual_disturbances();
        for (const FigureSpec& f : geometry_figures()) {
          if (f.whole_travel || !f.is(by_wheels) || !applies(f, car, end)) continue;
          if (const auto v = f.read(now->source, end, Side::left))
            order.aims.push_back(RecipeAim::of(f, end, *v, 1e6, false));
        }
        const CarTargets targets = targets_of(now->source.standing);
        const std::vector<double> rows = random_rows(car, start, order.parts, at(share_of(150)), dice);
        std::vector<char> stands;
        std::vector<double> figures;
        AxleJudge one(car, start, targets, order, nullptr);
        one.judge_all(rows, stands, figures);
        for (const LaneKernel* k : kernels_here()) {
          std::vector<char> in_lanes;
          std::vector<double> read;
          AxleJudge many(car, start, targets, order, k);
          many.judge_all(rows, in_lanes, read);
          for (std::size_t i = 0; i < stands.size(); ++i) {
            ASSERT_EQ(in_lanes[i] != 0, stands[i] != 0) << car.id << " " << name_of(end) << " " << k->name << " " << i;
            fallen += stands[i] == 0;
            for (std::size_t a = 0; stands[i] != 0 && a < order.aims.size(); ++a) {
              const double x = figures[i * order.aims.size() + a];
              ASSERT_NEAR(read[i * order.aims.size() + a], x, 1e-8 * std::max(1.0, std::abs(x)))
                  << car.id << " " << name_of(end) << " " << k->name << ": " << order.aims[a].figure->id;
              ++compared;
            }
          }
        }
      }
  EXPECT_GT(compared, share_of(40'000));
  EXPECT_GT(fallen, 0) << "no thread ended, no link failed to reach";
}

TEST(Lanes, ReadWhatTheCommonWayReads) {
  std::mt19937 dice(17);
  int compared = 0;
  for (const Car& car : every_shipped_car())
    for (const End end : both_ends) {
      const CarSetup kit = kit_setup(car);
      const auto base = evaluate(car, kit, {}, coarse_curve);
      AxleOrder order{end, {}, geometric_parts(car, end), {.hold_caster = false}};
      for (const char* id : {"roll_centre", "roll_centre_locked", "roll_centre_drawn", "camber", "toe", "camber_gain",
                             "bump_steer", "trail", "scrub_radius", "caster_gain", "track", "wheelbase"}) {
        const FigureSpec& f = *find_figure(id);
        const auto v = applies(f, car, end) ? f.read(base->source, end, Side::left) : std::nullopt;
        if (v) order.aims.push_back(RecipeAim::of(f, end, *v, 1e6, false));
      }
      if (order.parts.empty()) continue;
      const CarTargets targets = targets_of(base->source.standing);
      const std::vector<double> rows = random_rows(car, kit, order.parts, at(share_of(16)), dice);
      AxleJudge judge(car, kit, targets, order);
      std::vector<char> stands;
      std::vector<double> figures;
      judge.judge_all(rows, stands, figures);
      for (std::size_t i = 0; i < stands.size(); ++i) {
        if (stands[i] == 0) continue;
        CarSetup changed = kit;
        for (std::size_t p = 0; p < order.parts.size(); ++p) {
          const double v = rows[i * order.parts.size() + p];
          changed.of(order.parts[p]) = {v, v};
        }
        const auto back = reset_alignment(car, changed, targets, {.hold_caster = false, .step_turns = 0.0});
        ASSERT_TRUE(back);
        const auto after = evaluate(car, back->setup, {}, coarse_curve);
        ASSERT_TRUE(after);
        for (std::size_t a = 0; a < order.aims.size(); ++a) {
          EXPECT_NEAR(figures[i * order.aims.size() + a], *order.aims[a].read(after->source), 2e-6)
              << car.id << " " << name_of(end) << ": " << order.aims[a].figure->id;
          ++compared;
        }
      }
    }
  EXPECT_GT(compared, share_of(800));
}

TEST(Lanes, PutPointsWhereThePartsDo) {
  std::mt19937 dice(5);
  int moved = 0;
  int turning = 0;
  for (const Car& car : every_shipped_car())
    for (const End end : both_ends) {
      const CarSetup start = random_setup(car, dice);
      CarSetup alike = start;
      for (Setting& s : alike.values) s.right = s.left;
      const std::vector<PartHandle> parts = geometric_parts(car, end);
      if (parts.empty()) continue;
      for (const PartHandle p : parts)
        if (const Positions* list = car.adjusters[p].positions())
          turning += std::any_of(list->list.begin(), list->list.end(),
                                 [](const Position& x) { return !x.effect.turns.empty(); });
      PartMoves moves(car, alike, end, parts);
      LaneInput in{};
      const std::size_t count = 200;
      const std::vector<double> rows = random_rows(car, alike, parts, count, dice);
      for (std::size_t i = 0; i < count; ++i) {
        const auto row = std::span<const double>(rows).subspan(i * parts.size(), parts.size());
        const std::size_t lane = i % most_lanes;
        ASSERT_TRUE(moves.write(row, lane, in));
        CarSetup s = alike;
        for (std::size_t p = 0; p < parts.size(); ++p) s.of(parts[p]) = {row[p], row[p]};
        const CornerGeometry g = corner_geometry(car, s, end, Side::left);
        EXPECT_EQ(in.tyre_radius.of[lane], g.size_of(Size::tyre_radius));
        for (const PointHandle p : in.set.handles()) {
          if ((moves.moved() >> p.place() & 1u) == 0) {
            EXPECT_EQ(moves.start().set[p], g.set[p]) << car.id << " point " << p.place() << " is said to stay";
            continue;
          }
          ++moved;
          for (std::size_t axis = 0; axis < 3; ++axis)
            ASSERT_NEAR(in.set[p][axis].of[lane], g.set[p](static_cast<Eigen::Index>(axis)), 1e-11)
                << car.id << " " << name_of(end) << " point " << p.place();
        }
      }
      std::vector<double> between(rows.begin(), rows.begin() + static_cast<std::ptrdiff_t>(parts.size()));
      between.front() += 0.123;
      EXPECT_FALSE(moves.write(between, 0, in)) << "no place that the part stops at";
    }
  EXPECT_GT(moved, 5000);
  EXPECT_GT(turning, 3) << "no part that turns points about one another";
}

TEST(Lanes, OneThatCannotCloseFallsOutAndLeavesTheOthersAlone) {
  for (const MechanismSpec* spec : mechanisms()) {
    if (!spec->chain) continue;
    std::mt19937 dice(7);
    for (int sample = 0; sample < share_of(16); ++sample) {
      const CornerModel corner = model_of(*spec, random_corner(*spec, Proportions::touring, dice));
      const auto stands = corner.linkage->solve(0.0, {});
      ASSERT_TRUE(stands);
      Ground ground;
      ground.offset = -contact_point(corner.tyre, stands->wheel_centre, stands->spin_axis, ground.up).z();
      LaneTask task = lane_task(corner, ground);
      LaneInput in{};
      for (std::size_t lane = 0; lane < most_lanes; ++lane) {
        CornerGeometry g = corner.geometry;
        if (lane % 2 == 1)
          for (double& length : g.length) length *= 0.3;
        put_in_lane(in, lane, g, corner.tyre.radius_mm, {});
      }
      const WheelFigures as_it_is = read_wheel(corner, *stands, ground);
      for (const LaneKernel* k : kernels_here()) {
        std::array<LaneReading, 1> readings;
        k->run(task, in, readings);
        for (std::size_t lane = 0; lane < k->lanes; ++lane) {
          ASSERT_EQ(readings[0].stands.of[lane] != 0.0, lane % 2 == 0) << spec->id << " " << k->name;
          if (lane % 2 == 0) {
            EXPECT_LT(farthest_apart(wheel_in_lane(readings[0], lane, as_it_is), as_it_is), 1e-9) << spec->id;
          }
        }
      }
    }
  }
}

TEST(Lanes, WhatIsHeldIsHeldOnEveryMechanism) {
  std::mt19937 dice(23);
  std::uniform_real_distribution<double> some(-1.0, 1.0);
  int held = 0;
  for (const MechanismSpec* spec : mechanisms()) {
    if (!spec->chain) continue;
    const bool sets_toe = std::any_of(spec->links.begin(), spec->links.end(),
                                      [](const LinkSpec& l) { return l.holds == LinkHolds::toe; });
    for (int sample = 0; sample < share_of(40); ++sample) {
      const CornerModel corner = model_of(*spec, random_corner(*spec, Proportions::touring, dice));
      const auto stands = corner.linkage->solve(0.0, {});
      ASSERT_TRUE(stands);
      Ground ground;
      ground.up = Vec3(0.01 * some(dice), 0.01 * some(dice), 1.0).normalized();
      ground.forward = (Vec3::UnitX() - ground.up * ground.up.x()).normalized();
      ground.left = ground.up.cross(ground.forward);
      ground.offset = 0.5 * some(dice) -
                      ground.up.dot(contact_point(corner.tyre, stands->wheel_centre, stands->spin_axis, ground.up));
      LaneTask task = lane_task(corner, ground);
      task.wanted.up = ground.up;
      task.wanted.forward = ground.forward;
      const WheelFigures like = read_wheel(corner, *stands, ground);
      if (sample % 3 != 1) task.wanted.camber = like.camber_rad + radians(some(dice));
      if (sets_toe && sample % 3 != 2) task.wanted.toe = like.toe_rad + radians(some(dice));
      LaneInput in{};
      for (std::size_t lane = 0; lane < most_lanes; ++lane) {
        CornerGeometry g = corner.geometry;
        for (const LinkSpec& l : spec->links) g.set[l.outer] += 0.2 * Vec3(some(dice), some(dice), some(dice));
        put_in_lane(in, lane, g, corner.tyre.radius_mm, {});
      }
      for (const LaneKernel* k : kernels_here()) {
        std::array<LaneReading, 1> readings;
        k->run(task, in, readings);
        for (std::size_t lane = 0; lane < k->lanes; ++lane) {
          if (readings[0].stands.of[lane] == 0.0) continue;
          const WheelFigures w = wheel_in_lane(readings[0], lane, like);
          EXPECT_NEAR(ground.height(w.contact), 0.0, 1e-8) << spec->id;
          EXPECT_NEAR(w.camber_rad, task.wanted.camber.value_or(w.camber_rad), 1e-12) << spec->id;
          EXPECT_NEAR(w.toe_rad, task.wanted.toe.value_or(w.toe_rad), 1e-12) << spec->id;
          ++held;
        }
      }
    }
  }
  EXPECT_GT(held, share_of(3000));
}

}  // namespace
}  // namespace lowkite::test
