#include "core/pose/model.hpp"

#include <cmath>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {

CornerGeometry corner_geometry(const Car& car, const Setup& setup, End end, Side side) {
  const Axle& axle = car.axle(end);
  CornerGeometry g;
  g.kit = axle.points[at(side)];
  g.set = g.kit;
  g.length = kit_lengths(axle.mechanism->links, g.kit);
  g.size = axle.kit_size;
  g.present = axle.attachments;
  g.spin_axis = axle.spin_axis();
  for (const PartHandle i : car.adjusters.handles())
    if (car.adjusters[i].end == end && !car.adjusters[i].steering) car.adjusters[i].apply(setup.values[i].on(side), g);
  return g;
}

namespace {

tl::expected<CornerModel, CarFailure> assemble(const MechanismSpec& spec, const CornerGeometry& g, const Tyre& tyre,
                                               End end, Side side) {
  auto linkage = spec.build(g);
  if (!linkage) return tl::unexpected(failure_at(end, side, linkage.error()));
  CornerModel model;
  model.spec = &spec;
  model.geometry = g;
  model.linkage = std::move(*linkage);
  model.tyre = tyre;
  model.design_wheel_z_mm = g.kit[spec.wheel_centre].z();
  return model;
}

}  // namespace

namespace {

/// One axle has one line: shims that are unlike left and right tilt it for both wheels.
Vec3 spin_of_solid_axle(const MechanismSpec& spec, const CornerGeometry& own, const CornerGeometry& other) {
  const PointHandle centre = spec.wheel_centre;
  const auto line = [&](const Vec3& mine, const Vec3& theirs) { return (mine - mirrored(theirs)).normalized(); };
  return (own.spin_axis + line(own.set[centre], other.set[centre]) - line(own.kit[centre], other.kit[centre]))
      .normalized();
}

}  // namespace

tl::expected<CornerModel, CarFailure> build_corner(const Car& car, const Setup& setup, End end, Side side) {
  const Axle& axle = car.axle(end);
  CornerGeometry g = corner_geometry(car, setup, end, side);
  if (!axle.mechanism->independent)
    g.spin_axis = spin_of_solid_axle(*axle.mechanism, g,
                                     corner_geometry(car, setup, end, side == Side::left ? Side::right : Side::left));
  Tyre tyre = axle.tyre;
  tyre.radius_mm = g.size_of(Size::tyre_radius);
  auto model = assemble(*axle.mechanism, g, tyre, end, side);
  if (model) {
    model->spring_table = axle.spring_table;
    model->kit_spring_rate = axle.size_of(Size::spring_rate);
  }
  return model;
}

SteeringGeometry steering_geometry(const Car& car, const Setup& setup, const PerSide<CornerModel>& front) {
  SteeringGeometry g;
  g.kit = car.steering.points;
  g.set = g.kit;
  g.length = kit_lengths(car.steering.spec->links, g.kit);
  for (const PartHandle i : car.adjusters.handles())
    if (car.adjusters[i].steering) car.adjusters[i].apply(setup.values[i].left, g);
  for (const Side side : both_sides) {
    const CornerModel& corner = front[at(side)];
    const Vec3& ball = corner.geometry.set[corner.spec->point("tie_inner")];
    g.tie_ball[at(side)] = side == Side::left ? ball : mirrored(ball);
  }
  return g;
}

namespace {

/// Which way of the servo steers to the left: there the left wheel toes out.
tl::expected<double, LinkageFailure> sense_of(const Steering& steering, const CornerModel& left) {
  const auto centred = steering.solve(0.0);
  if (!centred) return tl::unexpected(centred.error());
  const auto wheel = left.linkage->solve(0.0, {centred->tie_shift[0], centred->tie_rate[0]});
  if (!wheel) return tl::unexpected(wheel.error());
  return wheel->wheel_by_steer.angular.cross(wheel->spin_axis).x() > 0.0 ? -1.0 : 1.0;
}

tl::expected<void, LinkageFailure> add_steering(CarModel& model, const Setup& setup) {
  const PerSide<CornerModel>& front = model.corners[at(End::front)];
  model.steering_geometry = steering_geometry(*model.car, setup, front);
  auto steering = model.car->steering.spec->build(model.steering_geometry);
  if (!steering) return tl::unexpected(steering.error());
  const auto sense = sense_of(**steering, front[at(Side::left)]);
  if (!sense) return tl::unexpected(sense.error());
  model.steering = std::move(*steering);
  model.servo_sense = *sense;
  return {};
}

}  // namespace

tl::expected<CornerModel, CarFailure> with_lengths(const CornerModel& corner, End end, Side side,
                                                   const LinkLengths& length) {
  CornerGeometry g = corner.geometry;
  g.length = length;
  auto model = assemble(*corner.spec, g, corner.tyre, end, side);
  if (model) {
    model->spring_table = corner.spring_table;
    model->kit_spring_rate = corner.kit_spring_rate;
  }
  return model;
}

MassState masses_of(const Car& car, const Setup& setup) {
  MassState m;
  m.kg = car.mass_kg;
  if (car.cg_x_mm && car.cg_height_mm > 0.0) m.cg = Vec3(*car.cg_x_mm, car.cg_y_mm, car.cg_height_mm);
  for (const MassPart& part : car.masses) m.part.push_back(part.place);
  for (const MassPart& part : car.masses) m.grams.push_back(part.grams);
  if (!(car.mass_kg > 0.0) || car.masses.empty()) return m;
  std::vector<double>& grams = m.grams;
  for (const PartHandle i : car.adjusters.handles()) {
    const Positions* positions = car.adjusters[i].positions();
    if (!positions) continue;
    const auto add = [&](double value, double share) {
      for (const MassChange& c : positions->list[at(std::lround(value))].effect.masses) {
        m.part[at(c.mass)] += share * c.move_mm;
        grams[at(c.mass)] += share * c.add_g;
      }
    };
    for (const Side side : both_sides) {
      add(setup.values[i].on(side), 0.5);
      add(car.adjusters[i].kit, -0.5);
    }
  }
  double total = 1000.0 * car.mass_kg;
  Vec3 moment = m.cg ? Vec3(total * *m.cg) : Vec3::Zero();
  for (std::size_t k = 0; k < grams.size(); ++k) {
    // What was on the scales has its weight there, at the place where it then was; the rest comes on top.
    const MassPart& part = car.masses[k];
    const double there = part.weighed ? part.grams : 0.0;
    total += grams[k] - there;
    moment += grams[k] * m.part[k] - there * part.weighed_at.value_or(part.place);
  }
  m.kg = total / 1000.0;
  if (m.cg) m.cg = moment / total;
  return m;
}

tl::expected<CarModel, CarFailure> build_model(const Car& car, const Setup& setup) {
  CarModel model;
  model.car = &car;
  model.mass = masses_of(car, setup);
  model.ride_height_mm = setup.ride_height_mm;
  if (setup.wanted_lock_deg) model.wanted_lock_rad = radians(*setup.wanted_lock_deg);
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      auto corner = build_corner(car, setup, end, side);
      if (!corner) return tl::unexpected(corner.error());
      model.corners[at(end)][at(side)] = std::move(*corner);
    }
  if (car.steering.spec)
    if (const auto added = add_steering(model, setup); !added) {
      return tl::unexpected(failure_of_steering(added.error()));
    }
  return model;
}

std::string sentence(const LinkageFailure& f) {
  if (f.holds_nothing)
    return say("the {} points straight at the hinge that it should hold; move one of its balls", word(f.label));
  if (f.gap_mm > 0.0)
    return say("the {link} is {gap:.2f} mm too short to reach", "link"_a = word(f.label), "gap"_a = f.gap_mm);
  if (f.gap_mm < 0.0)
    return say("the {link} is {gap:.2f} mm too long to fit", "link"_a = word(f.label), "gap"_a = -f.gap_mm);
  return say("the {} would only fit on the far side of a dead centre", word(f.label));
}

CarFailure failure_at(End end, Side side, const LinkageFailure& failure) {
  return {fmt::format("{} {}: {}", word(end), word(side), sentence(failure)), end, side};
}

CarFailure failure_of_steering(const LinkageFailure& failure) {
  return {say("steering: {}", sentence(failure)), End::front, {}, true};
}

}  // namespace lowkite
