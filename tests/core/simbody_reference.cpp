#include "tests/core/simbody_reference.hpp"

#include <Simbody.h>

namespace lowkite::reference {
namespace {

SimTK::Vec3 simtk(const Point& p) {
  return {p[0], p[1], p[2]};
}
Point plain(const SimTK::Vec3& v) {
  return {v[0], v[1], v[2]};
}

/// A pin's frame: its z along the hinge, its origin on it.
SimTK::Transform hinge_frame(const Point& a, const Point& b) {
  return {SimTK::Rotation(SimTK::UnitVec3(simtk(b) - simtk(a)), SimTK::ZAxis), simtk(a)};
}

/// Assembles and keeps the coordinates for the next call.
void assemble_near(SimTK::MultibodySystem& system, SimTK::State& state, std::vector<double>& guess) {
  const int coordinates = state.getNQ();
  if (static_cast<int>(guess.size()) == coordinates)
    for (int i = 0; i < coordinates; ++i) state.updQ()[i] = guess[static_cast<std::size_t>(i)];
  SimTK::Assembler assembler(system);
  assembler.setErrorTolerance(1e-10);
  assembler.assemble(state);
  system.projectQ(state, 1e-12);
  system.realize(state, SimTK::Stage::Position);
  guess.assign(static_cast<std::size_t>(coordinates), 0.0);
  for (int i = 0; i < coordinates; ++i) guess[static_cast<std::size_t>(i)] = state.getQ()[i];
}

}  // namespace

namespace {

/// A corner's linkage between some body and its wheel.
struct LinkedUp {
  SimTK::MobilizedBody first;  ///< what turns about the pins on that body, or slides there
  SimTK::MobilizedBody wheel;
};

/// `light`: of what lies between. The tie rod's inner ball is moved by `rack` to the left.
LinkedUp link_up(SimTK::SimbodyMatterSubsystem& matter, SimTK::MobilizedBody& on, const Corner& corner, double rack,
                 const SimTK::Body::Rigid& light, const SimTK::Body::Rigid& wheel_body) {
  const auto p = [&](const char* id) { return simtk(corner.points.at(id)); };
  const auto has = [&](const char* id) { return corner.points.count(id) > 0; };
  const auto pin = [&](SimTK::MobilizedBody& parent, const char* a, const char* b, const SimTK::Body::Rigid& body) {
    const SimTK::Transform frame = hinge_frame(corner.points.at(a), corner.points.at(b));
    return SimTK::MobilizedBody::Pin(parent, frame, body, frame);
  };
  const char* toe_rod = corner.lengths.count("toe_link") ? "toe_link" : "tie_rod";
  const auto tie_rod_to = [&](SimTK::MobilizedBody& wheel) {
    SimTK::Constraint::Rod(on, p("tie_inner") + SimTK::Vec3(0, rack, 0), wheel, p("tie_outer"),
                           corner.lengths.at(toe_rod));
  };
  if (corner.mechanism == "sliding_kingpin") {
    const SimTK::Transform frame = hinge_frame(corner.points.at("kingpin_lower"), corner.points.at("kingpin_upper"));
    SimTK::MobilizedBody::Cylinder stub(on, frame, wheel_body, frame);
    tie_rod_to(stub);
    return {stub, stub};
  }
  if (corner.mechanism == "swinging_kingpin") {
    SimTK::MobilizedBody::Pin upper = pin(on, "upper_inner_rear", "upper_inner_front", light);
    const SimTK::Transform socket(p("kingpin_upper"));
    SimTK::MobilizedBody::Ball stub(upper, socket, wheel_body, socket);
    SimTK::Constraint::PointOnLine(stub, SimTK::UnitVec3(p("kingpin_upper") - p("kingpin_lower")), p("kingpin_upper"),
                                   on, p("kingpin_lower"));
    tie_rod_to(stub);
    return {upper, stub};
  }
  SimTK::MobilizedBody::Pin arm = pin(on, "arm_inner_rear", "arm_inner_front", light);
  if (has("lower_ball")) {
    SimTK::MobilizedBody::Pin upper = pin(on, "upper_inner_rear", "upper_inner_front", light);
    const SimTK::Transform socket(p("lower_ball"));
    SimTK::MobilizedBody::Ball upright(arm, socket, wheel_body, socket);
    SimTK::Constraint::Ball(upper, p("upper_ball"), upright, p("upper_ball"));
    tie_rod_to(upright);
    return {arm, upright};
  }
  const bool knuckle = has("kingpin_lower");
  SimTK::MobilizedBody::Pin carrier = pin(arm, "arm_outer_rear", "arm_outer_front", knuckle ? light : wheel_body);
  SimTK::Constraint::Rod(on, p("link_inner"), carrier, p("link_outer"), corner.lengths.at("camber_link"));
  if (!knuckle) return {arm, carrier};
  SimTK::MobilizedBody::Pin turned = pin(carrier, "kingpin_lower", "kingpin_upper", wheel_body);
  tie_rod_to(turned);
  return {arm, turned};
}

}  // namespace

Wheel assemble(const Corner& corner, double wheel_z, double rack, std::vector<double>& guess) {
  SimTK::MultibodySystem system;
  SimTK::SimbodyMatterSubsystem matter(system);
  const SimTK::Body::Rigid body(SimTK::MassProperties(1.0, SimTK::Vec3(0), SimTK::Inertia(1)));
  const SimTK::Vec3 centre = simtk(corner.points.at("wheel_centre"));
  SimTK::MobilizedBody& ground = matter.updGround();
  SimTK::MobilizedBody wheel = link_up(matter, ground, corner, rack, body, body).wheel;
  SimTK::Constraint::PointInPlane(ground, SimTK::UnitVec3(0, 0, 1), wheel_z, wheel, centre);
  SimTK::State state = system.realizeTopology();
  system.realizeModel(state);
  assemble_near(system, state, guess);
  return {plain(wheel.findStationLocationInGround(state, centre)),
          plain(wheel.expressVectorInGroundFrame(state, simtk(corner.spin_axis)))};
}

std::array<Point, 2> steer(const Steering& steering, double horn_turn, std::vector<double>& guess) {
  SimTK::MultibodySystem system;
  SimTK::SimbodyMatterSubsystem matter(system);
  const SimTK::Body::Rigid body(SimTK::MassProperties(1.0, SimTK::Vec3(0), SimTK::Inertia(1)));
  const auto p = [&](const char* id) { return simtk(steering.points.at(id)); };
  SimTK::MobilizedBody& ground = matter.updGround();
  const auto pin = [&](SimTK::MobilizedBody& parent, const char* a, const char* b) {
    const SimTK::Transform frame = hinge_frame(steering.points.at(a), steering.points.at(b));
    return SimTK::MobilizedBody::Pin(parent, frame, body, frame);
  };
  SimTK::MobilizedBody::Pin horn = pin(ground, "servo_shaft_front", "servo_shaft_rear");
  std::array<SimTK::MobilizedBody, 2> carrier{horn, horn};
  if (steering.mechanism == "slide_rack") {
    const SimTK::UnitVec3 along(p("rail_left") - p("rail_right"));
    const SimTK::Transform rail(SimTK::Rotation(along, SimTK::XAxis), p("rail_right"));
    SimTK::MobilizedBody::Slider slide(ground, rail, body, rail);
    SimTK::Constraint::Rod(horn, p("horn_ball"), slide, p("slide_ball"), steering.drag_link);
    carrier = {slide, slide};
  } else if (steering.mechanism != "servo_saver") {
    SimTK::MobilizedBody::Pin first = pin(ground, "first_post_lower", "first_post_upper");
    SimTK::MobilizedBody::Pin second = pin(ground, "second_post_lower", "second_post_upper");
    SimTK::Constraint::Rod(horn, p("horn_ball"), first, p("drag_ball"), steering.drag_link);
    const SimTK::UnitVec3 post(p("first_post_upper") - p("first_post_lower"));
    const SimTK::Transform hole(SimTK::Rotation(post, SimTK::ZAxis), p("plate_first"));
    SimTK::MobilizedBody::Pin plate(first, hole, body, hole);
    // The plate's far hole stays on the second crank's pin.
    SimTK::Constraint::PointOnLine(plate, post, p("plate_second"), second, p("plate_second"));
    if (steering.mechanism == "crank_pair")
      carrier = {first, second};
    else
      carrier = {plate, plate};
  }
  SimTK::State state = system.realizeTopology();
  system.realizeModel(state);
  horn.setOneQ(state, 0, horn_turn);
  horn.lock(state);
  if (!guess.empty()) guess[0] = horn_turn;
  if (state.getNQ() > 1)
    assemble_near(system, state, guess);
  else
    system.realize(state, SimTK::Stage::Position);  // a horn alone leaves nothing to assemble
  return {plain(carrier[0].findStationLocationInGround(state, simtk(steering.tie_ball[0]))),
          plain(carrier[1].findStationLocationInGround(state, simtk(steering.tie_ball[1])))};
}

double starts_to_move(const SprungCar& car) {
  constexpr double light = 1e-7;     // kg: arms and carriers weigh nothing in the model
  constexpr double newton = 1000.0;  // kg mm/s^2
  SimTK::MultibodySystem system;
  SimTK::SimbodyMatterSubsystem matter(system);
  SimTK::GeneralForceSubsystem forces(system);
  SimTK::Force::UniformGravity(forces, matter, simtk(car.pull));
  const auto body_of = [](double kg, const SimTK::Vec3& at, double radius) {
    return SimTK::Body::Rigid(
        SimTK::MassProperties(kg, at, SimTK::Inertia(kg * radius * radius).shiftFromMassCenter(at, kg)));
  };
  SimTK::MobilizedBody::Free chassis(matter.updGround(), SimTK::Transform(), body_of(car.kg, simtk(car.cg), 80.0),
                                     SimTK::Transform());
  std::vector<SimTK::MobilizedBody> arms;
  std::vector<SimTK::MobilizedBody> wheels;
  for (const SprungCorner& c : car.corners) {
    const SimTK::Vec3 centre = simtk(c.linkage.points.at("wheel_centre"));
    LinkedUp corner =
        link_up(matter, chassis, c.linkage, 0.0, body_of(light, centre, 10.0), body_of(c.wheel_kg, centre, 20.0));
    SimTK::Force::TwoPointLinearSpring(forces, chassis, simtk(c.shock_upper), corner.first, simtk(c.shock_lower),
                                       c.rate * newton, c.loose_mm);
    arms.push_back(corner.first);
    wheels.push_back(corner.wheel);
  }
  for (const SprungLevers& third : car.third) {
    std::vector<SimTK::MobilizedBody> levers;
    for (std::size_t i = 0; i < 2; ++i) {
      const Point& pivot = third.pivot[i];
      const SimTK::Transform line = hinge_frame(pivot, {pivot[0] + 1.0, pivot[1], pivot[2]});
      SimTK::MobilizedBody::Pin lever(chassis, line, body_of(light, simtk(third.end[i]), 10.0), line);
      const SimTK::Vec3 arm = simtk(third.arm[i]), rod = simtk(third.rod[i]);
      SimTK::Constraint::Rod(arms[i], arm, lever, rod, (rod - arm).norm());
      levers.push_back(lever);
    }
    SimTK::Force::TwoPointLinearSpring(forces, levers[0], simtk(third.end[0]), levers[1], simtk(third.end[1]),
                                       third.rate * newton, third.loose_mm);
  }
  std::vector<SimTK::MobilizedBody> pitches, tilts;
  for (const SprungPod& pod : car.pods) {
    const auto line = [&](double x, double y) {
      return hinge_frame(pod.pivot, {pod.pivot[0] + x, pod.pivot[1] + y, pod.pivot[2]});
    };
    const SimTK::Transform across = line(0.0, 1.0);
    const SimTK::Transform along = line(1.0, 0.0);
    SimTK::MobilizedBody::Pin pitched(chassis, across, body_of(light, simtk(pod.pivot), 10.0), across);
    SimTK::Vec3 middle(0.0);
    for (const Point& centre : pod.wheel_centre) middle += 0.5 * simtk(centre);
    const double half = 0.5 * (simtk(pod.wheel_centre[0]) - simtk(pod.wheel_centre[1])).norm();
    SimTK::MobilizedBody::Pin axle(pitched, along, body_of(2.0 * pod.wheel_kg, middle, half), along);
    for (const Spring& s : pod.springs)
      SimTK::Force::TwoPointLinearSpring(forces, chassis, simtk(s.upper), axle, simtk(s.lower), s.rate * newton,
                                         s.loose_mm);
    pitches.push_back(pitched);
    tilts.push_back(axle);
  }
  SimTK::Force::DiscreteForces ground(forces, matter);
  SimTK::State state = system.realizeTopology();
  system.realizeModel(state);
  // The chassis stands where it is told; the linkages close about their arms.
  const SimTK::Mat33 rows(SimTK::Row3(car.ground[0][0], car.ground[0][1], car.ground[0][2]),
                          SimTK::Row3(car.ground[1][0], car.ground[1][1], car.ground[1][2]),
                          SimTK::Row3(car.ground[2][0], car.ground[2][1], car.ground[2][2]));
  chassis.setQToFitTransform(state, SimTK::Transform(SimTK::Rotation(rows, true), SimTK::Vec3(0, 0, car.offset_mm)));
  for (std::size_t i = 0; i < arms.size(); ++i) arms[i].setOneQ(state, 0, car.corners[i].arm_turn);
  for (std::size_t i = 0; i < pitches.size(); ++i) {
    pitches[i].setOneQ(state, 0, car.pods[i].pitch);
    tilts[i].setOneQ(state, 0, car.pods[i].tilt);
  }
  SimTK::Assembler assembler(system);
  assembler.setErrorTolerance(1e-10);
  assembler.lockMobilizer(chassis);
  for (const auto& hinges : {arms, pitches, tilts})
    for (const auto& hinge : hinges) assembler.lockMobilizer(hinge);
  assembler.assemble(state);
  system.realize(state, SimTK::Stage::Position);
  const auto push = [&](const SimTK::MobilizedBody& body, const Point& contact, const Point& force) {
    const SimTK::Vec3 at = chassis.findStationLocationInGround(state, simtk(contact));
    ground.addForceToBodyPoint(state, body, body.findStationAtGroundPoint(state, at), newton * simtk(force));
  };
  for (std::size_t i = 0; i < tilts.size(); ++i)
    for (std::size_t k = 0; k < 2; ++k) push(tilts[i], car.pods[i].contact[k], car.pods[i].force[k]);
  for (std::size_t i = 0; i < wheels.size(); ++i) push(wheels[i], car.corners[i].contact, car.corners[i].force);
  system.realize(state, SimTK::Stage::Acceleration);
  double worst = 0.0;
  const SimTK::SpatialVec moves = chassis.getBodyAcceleration(state);
  for (int i = 0; i < 3; ++i) worst = std::max({worst, 100.0 * std::abs(moves[0][i]), std::abs(moves[1][i])});
  for (const auto& hinges : {arms, pitches, tilts})
    for (const auto& hinge : hinges) worst = std::max(worst, 40.0 * std::abs(hinge.getOneUDot(state, 0)));
  return worst;
}

}  // namespace lowkite::reference
