// A third spring between levers: its motion against differences, its push as work, on both axles of the shipped car
// that has it, with left and right unlike. The multibody check is in simbody_test.
#include "core/load/third_element.hpp"

#include <gtest/gtest.h>

#include "core/boxes/boxes.hpp"
#include "core/io/car_edit.hpp"
#include "core/io/json_document.hpp"
#include "core/load/balance.hpp"
#include "core/load/ride_motion.hpp"
#include "core/parts/from_boxes.hpp"
#include "core/plan/car_check.hpp"
#include "core/plan/comparison.hpp"
#include "core/plan/idle_fields.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

Car godwit() {
  return shipped("godwit-ta");
}

CarSetup with(const Car& car, std::initializer_list<std::pair<const char*, double>> parts) {
  CarSetup setup = kit_setup(car);
  for (const auto& [id, value] : parts)
    for (const char* end : {"front_", "rear_"}) {
      const PartHandle i = car.find_adjuster(std::string(end) + id);
      EXPECT_TRUE(i) << id;
      setup.of(i) = {value, value};
    }
  return setup;
}

CornerPose at_angle(const CarModel& model, End end, Side side, double angle) {
  const CornerModel& corner = model.corner(end, side);
  auto pose = corner.linkage->solve(angle, SteerInput{});
  EXPECT_TRUE(pose);
  return *pose;
}

/// Left and right unlike: one lever's hole farther out, its pivot and rod elsewhere.
Car unlike() {
  Car car = godwit();
  for (Axle& a : car.axles) {
    a.points[1][attachment::third_end] += Vec3(2.0, 1.0, 3.0);
    a.points[1][attachment::third_pivot] += Vec3(0.0, -1.0, 0.5);
    a.points[1][attachment::third_arm] += Vec3(3.0, 2.0, 0.0);
  }
  return car;
}

TEST(AThirdSpring, ShortensAsItsTwoEndsComeNearerWhateverEitherWheelDoes) {
  for (const Car& car : {godwit(), unlike()}) {
    const auto model = build_model(car, with(car, {{"third_spring", 2.0}}));
    ASSERT_TRUE(model);
    for (const End end : both_ends)
      for (double left = -0.08; left <= 0.0801; left += 0.04)
        for (double right = -0.08; right <= 0.0801; right += 0.04) {
          const auto length = [&](double l, double r) {
            const auto e =
                third_element(*model, end, at_angle(*model, end, Side::left, l), at_angle(*model, end, Side::right, r));
            EXPECT_TRUE(e);
            return *e;
          };
          const ThirdElement here = length(left, right);
          constexpr double by = 1e-5;
          EXPECT_NEAR(here.shortens[0],
                      -(length(left + by, right).length_mm - length(left - by, right).length_mm) / (2.0 * by), 1e-4);
          EXPECT_NEAR(here.shortens[1],
                      -(length(left, right + by).length_mm - length(left, right - by).length_mm) / (2.0 * by), 1e-4);
          EXPECT_GT(here.shortens[0], 1.0) << "a wheel that goes up presses it";
        }
  }
}

TEST(AThirdSpring, HasRodsThatKeepTheirLengthAndLeversThatKeepTheirShape) {
  const Car car = unlike();
  CarSetup setup = with(car, {{"third_spring", 2.0}});
  setup.of(car.find_adjuster("front_third_lever_hole")) = {0.0, 2.0};
  const auto model = build_model(car, setup);
  ASSERT_TRUE(model);
  for (const Side side : both_sides) {
    const CornerGeometry& g = model->corner(End::front, side).geometry;
    const double rod = (g.kit[attachment::third_rod] - g.kit[attachment::third_arm]).norm();
    const double arm = (g.set[attachment::third_end] - g.set[attachment::third_pivot]).norm();
    for (double angle = -0.1; angle <= 0.1001; angle += 0.05) {
      const CornerPose pose = at_angle(*model, End::front, side, angle);
      const auto lever = third_lever(*model, End::front, side, pose);
      ASSERT_TRUE(lever);
      EXPECT_NEAR((lever->rod - point_in_chassis(model->corner(End::front, side), pose, attachment::third_arm)).norm(),
                  rod, 1e-9);
      EXPECT_NEAR((lever->end - lever->pivot).norm(), arm, 1e-9);
    }
  }
  EXPECT_NE((model->corner(End::front, Side::left).geometry.set[attachment::third_end] -
             model->corner(End::front, Side::right).geometry.set[attachment::third_end])
                .norm(),
            0.0);
}

TEST(AThirdSpring, HoldsHeaveThroughItsRatioTwiceAndLeavesRollAlone) {
  const Car car = godwit();
  const auto rates = [&](const CarSetup& setup, End end) {
    const auto model = build_model(car, setup);
    const auto loaded = LoadedCar::of(*model);
    EXPECT_TRUE(loaded);
    return loaded->rates(end);
  };
  for (const End end : both_ends) {
    const AxleRates bare = rates(kit_setup(car), end);
    EXPECT_FALSE(bare.third_per_wheel);
    EXPECT_FALSE(bare.wheel_n_per_mm_going_out);
    double before = 0.0;
    for (double hole = 0.0; hole <= 2.0; hole += 1.0) {
      const AxleRates r = rates(with(car, {{"third_spring", 3.0}, {"third_lever_hole", hole}}), end);
      ASSERT_TRUE(r.third_per_wheel && r.wheel_n_per_mm_going_out);
      EXPECT_GT(*r.third_per_wheel, before) << "a hole farther from the pivot moves more";
      before = *r.third_per_wheel;
      EXPECT_NEAR(r.heave_n_per_mm, 0.5 * 0.8 * before * before, 1e-12);
      EXPECT_NEAR(r.wheel_n_per_mm - bare.wheel_n_per_mm, r.heave_n_per_mm, 0.02 * r.heave_n_per_mm);
      EXPECT_NEAR(*r.wheel_n_per_mm_going_out, bare.wheel_n_per_mm, 1e-4);
      EXPECT_NEAR(r.roll_n_mm_per_deg, bare.roll_n_mm_per_deg, 0.02 * bare.roll_n_mm_per_deg);
    }
    const AxleRates damped = rates(with(car, {{"third_piston", 1.0}}), end);
    const Piston piston{10.0, 2.0, 1.2, 2.0};
    EXPECT_NEAR(*damped.damping_n_s_per_mm - *bare.damping_n_s_per_mm,
                0.5 * damper_rate(piston, Oil{300.0}) * *damped.third_per_wheel * *damped.third_per_wheel, 1e-12);
    EXPECT_EQ(*damped.roll_damping_n_s_per_mm, *bare.roll_damping_n_s_per_mm);
    EXPECT_EQ(damped.wheel_n_per_mm, bare.wheel_n_per_mm);
    EXPECT_FALSE(damped.wheel_n_per_mm_going_out) << "a damper alone pushes neither way";
  }
}

// Hard braking presses the front one and leaves the rear one alone; there and back is where it was.
TEST(AThirdSpring, HoldsADiveFromTheEndOfItsGapOnAndItsStrokeEndsIt) {
  const Car car = godwit();
  const auto dive = [&](Car c, const CarSetup& setup) {
    const auto model = build_model(c, setup);
    const auto loaded = LoadedCar::of(*model);
    EXPECT_TRUE(loaded);
    const auto b = loaded->balance(loaded->level_collars(), {0.0, -1.0});
    EXPECT_TRUE(b) << b.error();
    return *b;
  };
  const Balance bare = dive(car, kit_setup(car));
  EXPECT_FALSE(bare.third_in_mm[0]);
  const Balance held = dive(car, with(car, {{"third_spring", 3.0}}));
  ASSERT_TRUE(held.third_in_mm[0] && held.third_in_mm[1]);
  EXPECT_GT(*held.third_in_mm[0], 0.2);
  EXPECT_LT(*held.third_in_mm[1], 0.0);
  EXPECT_GT(held.attitude.ride_height_mm[0], bare.attitude.ride_height_mm[0] + 0.05);
  const auto gapped = [&](double gap) {
    Car c = car;
    for (Axle& a : c.axles) a.size_of(Size::third_gap) = gap;
    return dive(c, with(c, {{"third_spring", 3.0}})).attitude.ride_height_mm[0];
  };
  double before = held.attitude.ride_height_mm[0];
  for (double gap = 0.25; gap < 3.0; gap += 0.25) {
    const double now = gapped(gap);
    EXPECT_LE(now, before + 1e-9) << gap;
    EXPECT_GE(now, bare.attitude.ride_height_mm[0] - 1e-6);
    before = now;
  }
  EXPECT_NEAR(before, bare.attitude.ride_height_mm[0], 1e-6) << "a gap that is never closed is no spring";
  const auto with_stroke = [&](double stroke, double piston) {
    Car c = car;
    for (Axle& a : c.axles) a.size_of(Size::third_stroke) = stroke;
    return dive(c, with(c, {{"third_piston", piston}})).attitude.ride_height_mm[0];
  };
  EXPECT_GT(with_stroke(0.3, 1.0), bare.attitude.ride_height_mm[0] + 0.1);
  EXPECT_NEAR(with_stroke(6.0, 1.0), bare.attitude.ride_height_mm[0], 1e-6);
  EXPECT_NEAR(with_stroke(0.3, 0.0), bare.attitude.ride_height_mm[0], 1e-6) << "no damper, no end";
}

TEST(AThirdSpring, InMotionTakesWhatItsSpringAndOilTakeAndStandsWhereTheCarStands) {
  const Car car = godwit();
  const auto landing = [&](const CarSetup& setup, double drop) {
    const auto model = build_model(car, setup);
    const auto loaded = LoadedCar::of(*model);
    EXPECT_TRUE(loaded);
    auto m = drive_over(*loaded, {.event = RoadEvent::landing, .seconds = 1.2, .drop_mm = drop});
    EXPECT_TRUE(m) << m.error();
    return *m;
  };
  const CarSetup both = with(car, {{"third_spring", 3.0}, {"third_piston", 1.0}});
  const Motion bare = landing(kit_setup(car), 20.0);
  const Motion third = landing(both, 20.0);
  for (const End end : both_ends)
    EXPECT_LT(third.summary.most_stroke_mm[at(end)], bare.summary.most_stroke_mm[at(end)] - 0.05);
  EXPECT_NEAR(third.samples.back().heave_mm, 0.0, 0.02) << "it comes to rest where it stood";
  // The end of a damper's stroke is a stop: with all spacers in, the wheels go less far.
  CarSetup short_stroke = both;
  for (const char* id : {"front_third_stroke", "rear_third_stroke"})
    short_stroke.of(car.find_adjuster(id)) = {4.0, 4.0};
  Car less = car;
  for (Axle& a : less.axles) a.size_of(Size::third_stroke) = 4.5;
  const auto model = build_model(less, short_stroke);
  const auto loaded = LoadedCar::of(*model);
  const auto m = drive_over(*loaded, {.event = RoadEvent::landing, .seconds = 1.2, .drop_mm = 20.0});
  ASSERT_TRUE(m);
  EXPECT_LT(m->summary.most_stroke_mm[0], third.summary.most_stroke_mm[0]);
  EXPECT_GT(m->summary.stops_n_mm, third.summary.stops_n_mm);
}

TEST(AThirdSpring, WithoutLeversIsPressedByTheMeanOfBothShocks) {
  Car car = godwit();
  for (Axle& a : car.axles)
    for (const int p : {attachment::third_arm, attachment::third_rod, attachment::third_end, attachment::third_pivot})
      a.attachments &= ~(1u << (p - attachment::first));
  std::erase_if(car.adjusters,
                [](const Adjuster& a) { return a.place() >= attachment::third_arm && a.moves_geometry(); });
  const auto model = build_model(car, with(car, {{"third_spring", 3.0}}));
  const auto loaded = LoadedCar::of(*model);
  ASSERT_TRUE(loaded);
  const auto pose = pose_car(*model, static_attitude(*model));
  for (const End end : both_ends) {
    const double ratio =
        *shock_per_contact(model->corner(end, Side::left), pose->axle[at(end)].corner[0], pose->ground);
    EXPECT_NEAR(*loaded->rates(end).third_per_wheel, ratio, 1e-9);
  }
}

std::vector<std::string> told(const std::vector<Finding>& all) {
  std::vector<std::string> words;
  for (const Finding& f : all) words.push_back(f.what);
  return words;
}
bool says(const std::vector<std::string>& all, const std::string& what) {
  return std::any_of(all.begin(), all.end(), [&](const auto& one) { return one.find(what) != std::string::npos; });
}

TEST(AThirdSpring, IsCheckedOverTheTravel) {
  const Car car = godwit();
  const auto check = [](const Car& c, const CarSetup& setup) { return told(check_car(c, setup)); };
  const CarSetup all = with(car, {{"third_spring", 3.0}, {"third_piston", 1.0}});
  EXPECT_FALSE(says(check(car, all), "third"));
  EXPECT_FALSE(says(check(car, kit_setup(car)), "third"));
  const auto sized = [&](Size size, double v) {
    Car c = car;
    for (Axle& a : c.axles) a.size_of(size) = v;
    return c;
  };
  EXPECT_TRUE(says(check(sized(Size::third_gap, 20.0), all), "never touched"));
  EXPECT_TRUE(says(check(sized(Size::third_stroke, 1.0), all), "fully in"));
  Car pulled = car;
  for (auto& points : pulled.axles[0].points) points[attachment::third_end].z() = 34.0;
  EXPECT_TRUE(says(check(pulled, all), "pulled, not pressed"));
  // Fields without effect are told, those that a part of the box puts in are not.
  EXPECT_TRUE(idle_fields(car).empty());
  Car bare = car;
  std::erase_if(bare.adjusters, [](const Adjuster& a) { return a.of_third_element(); });
  const auto idle = told(idle_fields(bare));
  EXPECT_TRUE(says(idle, "levers of the third spring hold nothing"));
  EXPECT_TRUE(says(idle, "third damper does nothing"));
  EXPECT_TRUE(says(idle, "stroke does nothing"));
  Car half = car;
  half.axles[0].attachments &= ~(1u << (attachment::third_rod - attachment::first));
  EXPECT_TRUE(says(told(idle_fields(half)), "lever of the third spring does nothing"));
  Car twice = sized(Size::heave_damping, 0.01);
  for (Axle& a : twice.axles) a.size_of(Size::third_holes) = 2.0;
  for (Axle& a : twice.axles) a.size_of(Size::third_hole) = 1.2;
  EXPECT_TRUE(says(told(idle_fields(twice)), "as measured does nothing"));
}

TEST(AThirdSpring, IsOnePieceAnAxleAndTakesPistonsAndOilsFromTheBoxes) {
  const Car car = godwit();
  for (const char* id : {"front_third_spring", "front_third_piston", "front_third_oil", "front_third_stroke"}) {
    const Adjuster& a = car.adjusters[car.find_adjuster(id)];
    EXPECT_TRUE(a.one_piece()) << id;
    EXPECT_EQ(pieces_for(car, car.find_adjuster(id)), 1) << id;
    EXPECT_EQ(group_of(car, a), PartGroup::shock) << id;
  }
  // One that weighs something, too, is still one.
  Car heavy = car;
  Adjuster& spring = heavy.adjusters[heavy.find_adjuster("front_third_spring")];
  std::get<Positions>(spring.part).list[1].effect.masses.push_back({0, Vec3::Zero(), 12.0});
  EXPECT_TRUE(spring.one_piece());
  const Adjuster& hole = car.adjusters[car.find_adjuster("rear_third_lever_hole")];
  EXPECT_FALSE(hole.one_piece()) << "each lever has its own";
  EXPECT_EQ(group_of(car, hole), PartGroup::shock);
  const PartHandle piston = car.find_adjuster("front_third_piston");
  EXPECT_TRUE(is_nothing(piece_at(car, piston, 0)));
  EXPECT_EQ(piece_at(car, piston, 2).holes, 3);
  EXPECT_NEAR(piece_at(car, piston, 2).value, 1.2, 1e-12);
  EXPECT_NEAR(piece_at(car, car.find_adjuster("front_third_oil"), 0).value, 200.0, 1e-9);
  // A piston that lies in the box goes in as one more, and does what it is.
  auto file = read_car_file(*read_file(data_path("cars/godwit-ta.kite-car.json")), "godwit");
  ASSERT_TRUE(file);
  BoxItem own;
  own.kind = BoxKind::piston;
  own.holes = 4;
  own.value = 1.0;
  Json source = file->source;
  ASSERT_TRUE(put_into_part(source, *file->car, piston, own));
  const auto more = recheck(source, "own");
  ASSERT_TRUE(more) << more.error().front().line();
  const auto& list = more->car->adjusters[piston].positions()->list;
  ASSERT_EQ(list.size(), 4u);
  for (std::size_t i = 0; i < list.size(); ++i)
    if (alike(piece_at(*more->car, piston, static_cast<int>(i)), own)) {
      CarSetup setup = kit_setup(*more->car);
      setup.of(piston) = {static_cast<double>(i), static_cast<double>(i)};
      const auto model = build_model(*more->car, setup);
      ASSERT_TRUE(third_law(*model, End::front).piston);
      EXPECT_EQ(third_law(*model, End::front).piston->holes, 4.0);
      return;
    }
  FAIL() << "it is not in the list";
}

}  // namespace
}  // namespace lowkite::test
