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

}  // namespace

Wheel assemble(const Corner& corner, double wheel_z, double rack, std::vector<double>& guess) {
  SimTK::MultibodySystem system;
  SimTK::SimbodyMatterSubsystem matter(system);
  const SimTK::Body::Rigid body(SimTK::MassProperties(1.0, SimTK::Vec3(0), SimTK::Inertia(1)));
  const auto p = [&](const char* id) { return simtk(corner.points.at(id)); };
  const auto pin = [&](SimTK::MobilizedBody& parent, const char* a, const char* b) {
    const SimTK::Transform frame = hinge_frame(corner.points.at(a), corner.points.at(b));
    return SimTK::MobilizedBody::Pin(parent, frame, body, frame);
  };
  SimTK::MobilizedBody& ground = matter.updGround();
  const auto tie_rod_to = [&](SimTK::MobilizedBody& wheel) {
    SimTK::Constraint::Rod(ground, p("tie_inner") + SimTK::Vec3(0, rack, 0), wheel, p("tie_outer"),
                           corner.lengths.at("tie_rod"));
  };
  SimTK::MobilizedBody::Pin arm = pin(ground, "arm_inner_rear", "arm_inner_front");
  SimTK::MobilizedBody wheel;
  if (corner.mechanism == "double_wishbone") {
    SimTK::MobilizedBody::Pin upper = pin(ground, "upper_inner_rear", "upper_inner_front");
    const SimTK::Transform socket(p("lower_ball"));
    SimTK::MobilizedBody::Ball upright(arm, socket, body, socket);
    SimTK::Constraint::Ball(upper, p("upper_ball"), upright, p("upper_ball"));
    tie_rod_to(upright);
    wheel = upright;
  } else {
    SimTK::MobilizedBody::Pin carrier = pin(arm, "arm_outer_rear", "arm_outer_front");
    SimTK::Constraint::Rod(ground, p("link_inner"), carrier, p("link_outer"), corner.lengths.at("camber_link"));
    wheel = carrier;
    if (corner.mechanism == "hub_carrier") {
      SimTK::MobilizedBody::Pin knuckle = pin(carrier, "kingpin_lower", "kingpin_upper");
      tie_rod_to(knuckle);
      wheel = knuckle;
    }
  }
  SimTK::Constraint::PointInPlane(ground, SimTK::UnitVec3(0, 0, 1), wheel_z, wheel, p("wheel_centre"));
  SimTK::State state = system.realizeTopology();
  system.realizeModel(state);
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
  return {plain(wheel.findStationLocationInGround(state, p("wheel_centre"))),
          plain(wheel.expressVectorInGroundFrame(state, simtk(corner.spin_axis)))};
}

}  // namespace lowkite::reference
