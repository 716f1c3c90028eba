// The mechanisms against Simbody (libsimbody-dev), a general multibody library: the same points as bodies on pins and
// balls with rods between them, assembled numerically to the same wheel height and rack. It shares no code and no
// method with ours. Tolerances: 1e-6 mm and 1e-6 degrees, over full travel and steer.
#include <gtest/gtest.h>

#include "core/load/balance.hpp"
#include "core/measure/wheel.hpp"
#include "tests/core/lane_samples.hpp"
#include "tests/core/samples.hpp"
#include "tests/core/simbody_reference.hpp"
#include "tests/sweeps.hpp"

namespace lowkite {
namespace {

using test::Proportions;

reference::Point plain(const Vec3& v) {
  return {v.x(), v.y(), v.z()};
}
Vec3 eigen(const reference::Point& v) {
  return {v[0], v[1], v[2]};
}

/// The same corner in the reference's terms. The right side is its own mirror image there: its points have negative y
/// and its rack works the other way.
reference::Corner reference_corner(const MechanismSpec& spec, const CornerGeometry& g, Side side) {
  const auto on_side = [&](const Vec3& v) { return plain(side == Side::left ? v : mirrored(v)); };
  reference::Corner c;
  c.mechanism = spec.id;
  for (const PointHandle i : spec.points.handles()) c.points[std::string(spec.points[i].id)] = on_side(g.kit[i]);
  for (const LinkHandle l : spec.links.handles()) c.lengths[std::string(spec.links[l].id)] = g.length[l];
  c.spin_axis = on_side(g.spin_axis);
  return c;
}

class AgainstSimbody : public testing::TestWithParam<std::tuple<test::LaidOut, Side>> {
 protected:
  /// The same pose in the lanes of a register, found anew from the ground that its tyre touches: the reference holds
  /// for them as well.
  void in_lanes(const CornerModel& model, const CornerPose& pose, const SteerInput& steer) {
    Ground ground;
    ground.offset = -contact_point(model.tyre, pose.wheel_centre, pose.spin_axis, ground.up).z();
    LaneTask task = test::lane_task(model, ground);
    task.arm_angle = pose.arm_angle + 0.02;
    LaneInput in{};
    for (std::size_t lane = 0; lane < most_lanes; ++lane)
      test::put_in_lane(in, lane, model.geometry, model.tyre.radius_mm, steer);
    const WheelFigures alone = read_wheel(model, pose, ground);
    for (const LaneKernel& k : lane_kernels()) {
      if (!k.here()) continue;
      std::array<LaneReading, 1> readings;
      k.run(task, in, readings);
      for (std::size_t lane = 0; lane < k.lanes; ++lane) {
        ASSERT_EQ(readings[0].stands.of[lane], 1.0) << k.name;
        EXPECT_LT(test::farthest_apart(test::wheel_in_lane(readings[0], lane, alone), alone), 1e-9) << k.name;
      }
    }
  }
};

TEST_P(AgainstSimbody, WheelCentreAndSpinAxisAgreeOverTravelAndSteer) {
  const auto& [laid_out, side] = GetParam();
  const Proportions proportions = laid_out.proportions;
  const MechanismSpec& spec = *laid_out.spec;
  const bool is_touring = proportions == Proportions::touring;
  std::mt19937 random(side == Side::left ? 101 : 202);
  double worst_mm = 0.0;
  double worst_deg = 0.0;
  int compared = 0;
  // Pan cars travel a few millimetres only.
  const bool is_pan = spec.point("wheel_centre") && !spec.point("arm_inner_front");
  const int cars = test::share_of(12);
  for (int car = 0; car < cars; ++car) {
    const CornerGeometry g = random_corner(spec, proportions, random);
    const CornerModel model = test::model_of(spec, g);
    const reference::Corner reference = reference_corner(spec, g, side);
    std::vector<double> racks{0.0};
    if (spec.steered) racks = {0.0, -3.0, -6.0, 3.0, 6.0};
    for (const double rack : racks) {
      for (const double direction : {-1.0, 1.0}) {
        std::vector<double> guess;
        const double reach = is_pan ? 3.0 : is_touring ? 6.0 : direction > 0 ? 22.0 : 15.0;
        // Reach the rack in steps at the design height first, then march over travel.
        for (int i = 0; i <= 3; ++i) (void)assemble(reference, model.design_wheel_z_mm, rack * i / 3, guess);
        for (int i = 0; i <= 3; ++i) {
          const double travel = direction * reach * i / 3;
          const auto pose = pose_at_travel(model, travel, rack_input(side, rack));
          if (!pose) break;  // beyond this random car's own end; the march stops for both
          in_lanes(model, *pose, rack_input(side, rack));
          const reference::Wheel r = assemble(reference, model.design_wheel_z_mm + travel, rack, guess);
          const Vec3 centre = side == Side::left ? pose->wheel_centre : mirrored(pose->wheel_centre);
          const Vec3 spin = side == Side::left ? pose->spin_axis : mirrored(pose->spin_axis);
          worst_mm = std::max(worst_mm, (centre - eigen(r.centre)).norm());
          worst_deg = std::max(worst_deg, degrees(std::asin(std::min(1.0, spin.cross(eigen(r.spin_axis)).norm()))));
          ++compared;
        }
      }
    }
  }
  RecordProperty("worst_mm", std::to_string(worst_mm));
  EXPECT_GE(compared, cars * 7);
  EXPECT_LT(worst_mm, 1e-6) << "over " << compared << " poses";
  EXPECT_LT(worst_deg, 1e-6) << "over " << compared << " poses";
}

INSTANTIATE_TEST_SUITE_P(Mechanisms, AgainstSimbody,
                         testing::Combine(testing::ValuesIn(test::every_layout()),
                                          testing::Values(Side::left, Side::right)),
                         [](const auto& sample) {
                           return test::name_of(std::get<0>(sample.param)) + "_" +
                                  std::string(name_of(std::get<1>(sample.param)));
                         });

// The steering chains: horn, drag link, cranks and plate, or slide, as bodies on pins and rods, over 80 degrees of
// servo.
class SteeringAgainstSimbody : public testing::TestWithParam<const char*> {};

TEST_P(SteeringAgainstSimbody, TieRodBallsAgreeOverTheServosTravel) {
  const SteeringSpec& spec = *find_steering(GetParam());
  std::mt19937 random(303);
  double worst = 0.0;
  int compared = 0;
  for (int car = 0; car < 20; ++car) {
    const SteeringGeometry g = test::random_steering(spec, random);
    const auto steering = spec.build(g);
    ASSERT_TRUE(steering);
    reference::Steering r;
    r.mechanism = spec.id;
    for (const PointHandle i : spec.points.handles()) r.points[std::string(spec.points[i].id)] = plain(g.kit[i]);
    r.drag_link = g.length.front();
    r.tie_ball = {plain(g.tie_ball[0]), plain(g.tie_ball[1])};
    for (const double way : {-1.0, 1.0}) {
      std::vector<double> guess;
      for (int i = 0; i <= 8; ++i) {
        const double servo = way * radians(5.0) * i;
        const auto pose = (*steering)->solve(servo);
        if (!pose) break;
        const auto balls = reference::steer(r, pose->horn_turn, guess);
        for (std::size_t side = 0; side < 2; ++side)
          worst = std::max(worst, (g.tie_ball[side] + pose->tie_shift[side] - eigen(balls[side])).norm());
        ++compared;
      }
    }
  }
  EXPECT_GE(compared, 20 * 12);
  EXPECT_LT(worst, 1e-6) << "mm, over " << compared << " poses";
}

INSTANTIATE_TEST_SUITE_P(Chains, SteeringAgainstSimbody,
                         testing::Values("crank_pair", "crank_plate", "servo_saver", "slide_rack"),
                         [](const auto& sample) { return std::string(sample.param); });

Vec3 true_side(Side side, const Vec3& v) {
  return side == Side::left ? v : mirrored(v);
}

reference::SprungPod reference_pod(const CarModel& model, const LoadedCar& loaded, const Balance& b, End end) {
  const Axle& axle = model.car->axle(end);
  const auto& collars = loaded.level_collars()[at(end)];
  const auto rest = pose_car(model, static_attitude(model));
  reference::SprungPod pod;
  const CornerModel& left = model.corner(end, Side::left);
  const CornerPose& at_left = b.pose.axle[at(end)].corner[0];
  pod.pivot = plain(left.geometry.kit[left.spec->point("pod_pivot")]);
  pod.pitch = at_left.arm_angle;
  // The pod's sideways axis, turned back by the pitch, leans by the tilt.
  pod.tilt = std::asin(at_left.body[at(Body::arm)].direction(Vec3::UnitY()).z() / std::cos(pod.pitch));
  pod.springs.push_back(
      {plain(left.geometry.kit[attachment::shock_upper]), plain(left.geometry.kit[attachment::shock_lower]),
       left.geometry.size_of(Size::spring_rate),
       left.geometry.size_of(Size::spring_free) + axle.spring_seat_mm + 0.5 * (collars[0] + collars[1])});
  pod.wheel_kg = axle.unsprung_kg;
  for (const Side side : both_sides) {
    const CornerModel& corner = model.corner(end, side);
    const CornerPose& pose = b.pose.axle[at(end)].corner[at(side)];
    const auto point = [&](PointHandle i) { return plain(true_side(side, corner.geometry.kit[i])); };
    const double turned = (side == Side::left ? 0.5 : -0.5) * (collars[0] - collars[1]);
    pod.springs.push_back({point(attachment::side_upper), point(attachment::side_lower),
                           corner.geometry.size_of(Size::side_rate),
                           distance_between(corner, rest->axle[at(end)].corner[at(side)], attachment::side_upper,
                                            attachment::side_lower) +
                               corner.geometry.size_of(Size::side_preload) + turned});
    pod.wheel_centre[at(side)] = point(corner.spec->wheel_centre);
    const Vec3 up = ground_of(b.pose.ground, side).up;
    pod.contact[at(side)] = plain(true_side(side, contact_point(corner.tyre, pose.wheel_centre, pose.spin_axis, up)));
    const WheelState& w = b.wheel[at(end)][at(side)];
    pod.force[at(side)] = {w.longitudinal_n, w.lateral_n, w.load_n};
  }
  return pod;
}

/// A car on its springs in the reference's terms: our attitude, arms and ground forces, its own bodies and springs.
reference::SprungCar reference_car(const CarModel& model, const LoadedCar& loaded, const Balance& b,
                                   const Acceleration& a, const Collars& collars) {
  const Car& car = *model.car;
  reference::SprungCar r;
  const Ground& g = b.pose.ground;
  r.ground = {plain(g.forward), plain(g.left), plain(g.up)};
  r.offset_mm = g.offset;
  r.pull = plain(1000.0 * gravity_m_s2 * Vec3(-a.longitudinal_g, -a.lateral_g, -1.0));
  r.kg = model.mass.kg;
  Vec3 moment = model.mass.kg * *model.mass.cg;
  for (const End end : both_ends) {
    if (model.corner(end, Side::left).spec->independent) continue;
    r.pods.push_back(reference_pod(model, loaded, b, end));
    r.kg -= 2.0 * r.pods.back().wheel_kg;
    for (const Side side : both_sides)
      moment -= r.pods.back().wheel_kg * true_side(side, b.pose.axle[at(end)].corner[at(side)].wheel_centre);
  }
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      if (!model.corner(end, side).spec->independent) continue;
      const CornerModel& corner = model.corner(end, side);
      const CornerPose& pose = b.pose.axle[at(end)].corner[at(side)];
      const auto on_side = [&](const Vec3& v) { return side == Side::left ? v : mirrored(v); };
      reference::SprungCorner c;
      c.linkage = reference_corner(*corner.spec, corner.geometry, side);
      c.arm_turn = side == Side::left ? pose.arm_angle : -pose.arm_angle;
      c.shock_upper = plain(on_side(corner.geometry.kit[attachment::shock_upper]));
      c.shock_lower = plain(on_side(corner.geometry.kit[attachment::shock_lower]));
      c.rate = corner.geometry.size_of(Size::spring_rate);
      c.loose_mm =
          corner.geometry.size_of(Size::spring_free) + car.axle(end).spring_seat_mm + collars[at(end)][at(side)];
      c.wheel_kg = car.axle(end).unsprung_kg;
      const Ground own = side == Side::left ? g : g.mirrored_frame();
      const Vec3 contact = on_side(contact_point(corner.tyre, pose.wheel_centre, pose.spin_axis, own.up));
      c.contact = plain(contact);
      const WheelState& w = b.wheel[at(end)][at(side)];
      c.force = {w.longitudinal_n, w.lateral_n, w.load_n};
      r.kg -= c.wheel_kg;
      // Our centre of gravity moves with the chassis, wheels at their place at rest included.
      moment -= c.wheel_kg * on_side(pose.wheel_centre);
      r.corners.push_back(std::move(c));
    }
  r.cg = plain(Vec3(moment / r.kg));
  return r;
}

class StandsAgainstSimbody : public testing::TestWithParam<double> {};

TEST_P(StandsAgainstSimbody, TheBalanceFoundIsOneOfTheSameBodiesSpringsAndGroundForces) {
  // At rest and cornering, as far as no wheel hangs on its stop: put where our balance says, nothing in Simbody starts
  // to move. Without bars, which are checked by Roark's formula and by their energy.
  Car car = test::touring();
  for (Axle& axle : car.axles) axle.bar.reset();
  const CarModel model = *build_model(car, kit_setup(car));
  const auto loaded = LoadedCar::of(model);
  ASSERT_TRUE(loaded) << loaded.error();
  const Acceleration a{GetParam(), 0.0};
  const auto b = loaded->balance(loaded->level_collars(), a);
  ASSERT_TRUE(b) << b.error();
  for (const End end : both_ends)
    for (const Side side : both_sides) ASSERT_FALSE(b->wheel[at(end)][at(side)].lifted);
  const double moves = starts_to_move(reference_car(model, *loaded, *b, a, loaded->level_collars()));
  EXPECT_LT(moves, 1e-4 * 9806.65) << "mm/s^2: a ten-thousandth of gravity; the two axles' contacts lie where ours do";
  // The checker checked: half a newton less under one wheel and the car moves.
  reference::SprungCar wrong = reference_car(model, *loaded, *b, a, loaded->level_collars());
  wrong.corners[0].force[2] -= 0.5;
  EXPECT_GT(starts_to_move(wrong), 9806.65 * 0.03);
}

// The same with a third spring between two levers at the front, one lever unlike the other, pressed as the collars are
// turned down.
TEST_P(StandsAgainstSimbody, SoDoesAThirdSpringBetweenTwoLevers) {
  Car car = test::touring();
  for (Axle& axle : car.axles) axle.bar.reset();
  Axle& front = car.axles[0];
  for (const int p : {attachment::third_arm, attachment::third_rod, attachment::third_end, attachment::third_pivot})
    front.attachments |= 1u << (p - attachment::first);
  for (const Side side : both_sides) {
    auto& points = front.points[at(side)];
    const Vec3 other = side == Side::left ? Vec3(Vec3::Zero()) : Vec3(1.0, -0.8, 1.5);
    points[attachment::third_arm] = Vec3(-4.0, 44.0, 12.0) + other;
    points[attachment::third_rod] = Vec3(-6.0, 41.0, 48.0) + other;
    points[attachment::third_pivot] = Vec3(-6.0, 23.0, 47.0);
    points[attachment::third_end] = Vec3(-2.0, 20.0, 60.0) + other;
  }
  front.size_of(Size::heave_rate) = 1.3;
  const CarModel model = *build_model(car, kit_setup(car));
  const auto loaded = LoadedCar::of(model);
  ASSERT_TRUE(loaded) << loaded.error();
  const Acceleration a{GetParam(), 0.0};
  Collars collars = loaded->level_collars();
  for (double& c : collars[0]) c -= 1.0;
  const auto b = loaded->balance(collars, a);
  ASSERT_TRUE(b) << b.error();
  for (const End end : both_ends)
    for (const Side side : both_sides) ASSERT_FALSE(b->wheel[at(end)][at(side)].lifted);
  ASSERT_TRUE(b->third_in_mm[0]);
  ASSERT_GT(*b->third_in_mm[0], 0.2) << "it pushes";
  reference::SprungCar car_there = reference_car(model, *loaded, *b, a, collars);
  const auto rest = pose_car(model, static_attitude(model));
  ASSERT_TRUE(rest);
  reference::SprungLevers third;
  third.rate = 1.3;
  third.loose_mm = third_element(model, End::front, rest->axle[0].corner[0], rest->axle[0].corner[1])->length_mm;
  for (const Side side : both_sides) {
    const auto point = [&](PointHandle p) { return plain(true_side(side, front.points[at(side)][p])); };
    third.pivot[at(side)] = point(attachment::third_pivot);
    third.arm[at(side)] = point(attachment::third_arm);
    third.rod[at(side)] = point(attachment::third_rod);
    third.end[at(side)] = point(attachment::third_end);
  }
  // Without it the car would move: the check sees it.
  EXPECT_GT(starts_to_move(car_there), 9806.65 * 0.03);
  car_there.third.push_back(third);
  EXPECT_LT(starts_to_move(car_there), 1e-4 * 9806.65);
}

/// The pan car's pod behind the touring car's front axle.
Car pan_behind_touring() {
  Car car = test::touring();
  const Car pan = test::shipped("sanderling-12");
  car.axles[0].bar.reset();
  car.axles[0].driven_share = 0.0;
  car.axles[1] = pan.axles[1];
  car.gauge_x_mm = pan.gauge_x_mm;
  car.kit_ride_height_mm = {5.0, 4.0};
  car.mass_kg = pan.mass_kg;
  car.masses.clear();
  car.cg_x_mm = pan.cg_x_mm;
  car.cg_height_mm = 26.0;
  std::erase_if(car.adjusters, [](const Adjuster& a) { return a.end == End::rear || a.moves_weight(); });
  return car;
}

TEST_P(StandsAgainstSimbody, SoDoesThePodOfAPanCar) {
  // As long as its side springs stay pressed and it is off its
  // droop stop. Its motor drives it; cornering is without drive, since our balance of yaw knows the lateral forces
  // only.
  Car car = pan_behind_touring();
  // Off the middle, so that its screws are turned against each other; not while driven, when unequal wheels would yaw
  // it.
  car.cg_y_mm = GetParam() == 0.0 ? 0.0 : 1.5;
  const CarModel model = *build_model(car, kit_setup(car));
  const auto loaded = LoadedCar::of(model);
  ASSERT_TRUE(loaded) << loaded.error();
  const Acceleration a{GetParam(), GetParam() == 0.0 ? 0.2 : 0.0};
  const auto b = loaded->balance(loaded->level_collars(), a);
  ASSERT_TRUE(b) << b.error();
  EXPECT_EQ(b->plate_n, 0.0);
  EXPECT_LT(starts_to_move(reference_car(model, *loaded, *b, a, loaded->level_collars())), 1e-4 * 9806.65);
  reference::SprungCar wrong = reference_car(model, *loaded, *b, a, loaded->level_collars());
  wrong.pods[0].force[1][2] -= 0.3;
  EXPECT_GT(starts_to_move(wrong), 9806.65 * 0.03);
}

/// The linkage's own points and the ends of the springs.
std::vector<PointHandle> joints_of(const MechanismSpec& mechanism) {
  std::vector<PointHandle> joints;
  for (const PointHandle p : mechanism.points.handles()) joints.push_back(p);
  joints.insert(joints.end(), {attachment::shock_upper, attachment::shock_lower});
  return joints;
}

/// A pod somewhere else: what both wheels share on either side alike and in the middle, its side springs each by
/// itself.
void move_pod(Axle& axle, std::mt19937& random) {
  std::uniform_real_distribution<double> off(-0.8, 0.8);
  for (const PointHandle i : joints_of(*axle.mechanism)) {
    const Vec3 shared(2.0 * off(random), 0.0, off(random));
    for (const Side side : both_sides) axle.points[at(side)][i] += shared;
  }
  for (const PointHandle i : {attachment::side_upper, attachment::side_lower})
    for (const Side side : both_sides) axle.points[at(side)][i] += Vec3(off(random), off(random), off(random));
  axle.size_of(Size::side_rate) *= 1.0 + 0.2 * off(random);
}

/// A shipped car with every joint somewhere else, each side by itself, and other springs: nobody's car.
Car nobodys(Car car, std::mt19937& random) {
  std::uniform_real_distribution<double> off(-0.8, 0.8);
  for (Axle& axle : car.axles) {
    axle.bar.reset();
    if (!axle.mechanism->independent)
      move_pod(axle, random);
    else
      for (const Side side : both_sides)
        for (const PointHandle i : joints_of(*axle.mechanism))
          axle.points[at(side)][i] += Vec3(off(random), off(random), off(random));
    axle.size_of(Size::spring_rate) *= 1.0 + 0.3 * off(random);
  }
  return car;
}

/// Whether a wheel stands on what our balance has and the reference has not: a stop, the plate, a spring that has come
/// off its seat.
bool on_its_own(const CarModel& model, const LoadedCar& loaded, const Balance& b) {
  bool held = b.plate_n != 0.0;
  const auto steered = steer(model, 0.0);
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const WheelState& w = b.wheel[at(end)][at(side)];
      held |= w.lifted || w.spring_n <= 0.0 || w.stroke_left_mm < 0.0;
      const CornerModel& corner = model.corner(end, side);
      const CornerPose& pose = b.pose.axle[at(end)].corner[at(side)];
      const bool solid = !corner.spec->independent;
      const CornerStops stops = find_stops(model, end, side, pose, solid ? SteerInput{} : steered->corner[at(side)]);
      held |= pose.arm_angle < stops.droop.arm_angle + 0.02;
      if (!solid) continue;
      const auto& collars = loaded.level_collars()[at(end)];
      held |= side_length(corner, pose) >
              side_length(corner, pose_car(model, static_attitude(model))->axle[at(end)].corner[at(side)]) +
                  corner.geometry.size_of(Size::side_preload) +
                  (side == Side::left ? 0.5 : -0.5) * (collars[0] - collars[1]);
    }
  return held;
}

TEST(StandsOfNobodysCars, AreBalancesOfTheSameBodiesSpringsAndGroundForces) {
  std::mt19937 random(20261130);
  std::uniform_real_distribution<double> part(-1.0, 1.0);
  std::vector<Car> kinds{pan_behind_touring()};
  for (const char* id : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd"}) kinds.push_back(test::shipped(id));
  for (const Car& kind : kinds) {
    int compared = 0;
    for (int tried = 0; compared < test::share_of(24) && tried < 400; ++tried) {
      Car car = nobodys(kind, random);
      car.cg_y_mm = part(random);
      const auto model = build_model(car, kit_setup(car));
      if (!model) continue;
      const auto loaded = LoadedCar::of(*model);
      if (!loaded) continue;
      const Acceleration a{0.8 * part(random), 0.0};
      const auto b = loaded->balance(loaded->level_collars(), a);
      if (!b || on_its_own(*model, *loaded, *b)) continue;
      ++compared;
      const reference::SprungCar there = reference_car(*model, *loaded, *b, a, loaded->level_collars());
      EXPECT_LT(starts_to_move(there), 2e-4 * 9806.65) << kind.id << ", try " << tried << ", " << a.lateral_g << " g";
    }
    EXPECT_GE(compared, test::share_of(24)) << kind.id;
  }
}

INSTANTIATE_TEST_SUITE_P(Cornering, StandsAgainstSimbody, testing::Values(0.0, 0.3, -0.6), [](const auto& sample) {
  return "At" + std::to_string(std::lround(100 * sample.param) + 100);
});

}  // namespace
}  // namespace lowkite
