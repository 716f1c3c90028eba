#include "core/figures/variant.hpp"

#include <cassert>

#include "core/measure/stops.hpp"
#include "core/measure/sweep.hpp"

namespace lowkite {

Attitude held_attitude(const CarModel& model, const ViewAttitude& view) {
  Attitude held = pitched(*model.car, static_attitude(model), view.pitch_rad);
  for (double& h : held.ride_height_mm) h -= view.bump_mm;
  held.roll_rad = view.roll_rad;
  held.servo_rad = view.servo_rad;
  held.rack_mm = view.rack_mm;
  return held;
}

PerEnd<bool> axles_alike(const Car& car, const Setup& a, const Setup& b) {
  // The ground lies under both.
  if (a.ride_height_mm != b.ride_height_mm) return {false, false};
  PerEnd<bool> alike{a.wanted_lock_deg == b.wanted_lock_deg, true};
  for (const PartHandle part : car.adjusters.handles()) {
    const Adjuster& p = car.adjusters[part];
    if (a.of(part) != b.of(part) && p.moves_geometry()) alike[at(p.steering ? End::front : p.end)] = false;
  }
  return alike;
}

namespace {

/// What is read off a model over its whole travel.
void read_whole_travel(FigureSource& source, const CarModel& model, const Setup& setup, const CarPose& stands,
                       int curve_samples, TravelRead travel, const std::vector<const Variant*>& known) {
  PerEnd<const TravelFigures*> known_travel{};
  PerEnd<const AxleCurve*> known_curve{};
  for (const Variant* other : known) {
    if (!other->whole_travel) continue;
    assert(other->model.car == model.car);
    const PerEnd<bool> alike = axles_alike(*model.car, other->setup, setup);
    for (const End end : both_ends) {
      if (!alike[at(end)]) continue;
      known_travel[at(end)] = &other->source.travel;
      if (other->source.curve[at(end)].samples == curve_samples) known_curve[at(end)] = &other->source.curve[at(end)];
    }
  }
  const Attitude standing = static_attitude(model);
  for (const End end : both_ends)
    source.curve[at(end)] =
        known_curve[at(end)] ? *known_curve[at(end)] : sweep_axle(model, end, standing, curve_samples);
  source.travel =
      read_travel(model, stands, source.standing, travel == TravelRead::and_lock ? lock_samples : 0, known_travel);
}

}  // namespace

tl::expected<Variant, CarFailure> evaluate(const Car& car, const Setup& setup, const ViewAttitude& view,
                                           int curve_samples, const std::vector<const Variant*>& known) {
  Variant v;
  v.setup = setup;
  auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  v.model = std::move(*model);
  const Attitude held = held_attitude(v.model, view);
  auto pose = pose_car(v.model, held);
  if (!pose) return tl::unexpected(pose.error());
  v.pose = std::move(*pose);
  v.source.car = read_car(v.model, v.pose, held);
  const Attitude standing = static_attitude(v.model);
  const auto stands = pose_car(v.model, standing);
  if (!stands) return tl::unexpected(stands.error());
  v.source.standing = read_car(v.model, *stands, standing);
  read_whole_travel(v.source, v.model, setup, *stands, curve_samples, TravelRead::and_lock, known);
  v.whole_travel = true;
  return v;
}

tl::expected<FigureSource, CarFailure> figure_source(const Car& car, const Setup& setup, TravelRead travel,
                                                     const std::vector<const Variant*>& known) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const Attitude standing = static_attitude(*model);
  const auto stands = pose_car(*model, standing);
  if (!stands) return tl::unexpected(stands.error());
  FigureSource source;
  source.car = read_car(*model, *stands, standing);
  source.standing = source.car;
  if (travel != TravelRead::none) read_whole_travel(source, *model, setup, *stands, coarse_curve, travel, known);
  return source;
}

tl::expected<Variant, CarFailure> evaluate_stand(const Car& car, const Setup& setup) {
  Variant v;
  v.setup = setup;
  auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  v.model = std::move(*model);
  const Attitude standing = static_attitude(v.model);
  auto pose = pose_car(v.model, standing);
  if (!pose) return tl::unexpected(pose.error());
  v.pose = std::move(*pose);
  v.source.car = read_car(v.model, v.pose, standing);
  v.source.standing = v.source.car;
  const auto centred = steer(v.model, 0.0);
  if (!centred) return tl::unexpected(failure_of_steering(centred.error()));
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const SteerInput input = v.model.corner(end, side).spec->steered ? centred->corner[at(side)] : SteerInput{};
      v.source.travel.corner[at(end)][at(side)].stops =
          find_stops(v.model, end, side, v.pose.axle[at(end)].corner[at(side)], input);
    }
  return v;
}

}  // namespace lowkite
