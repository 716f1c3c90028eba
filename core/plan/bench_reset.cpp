#include "core/plan/bench_reset.hpp"

#include <algorithm>
#include <cmath>

#include "core/load/static_load.hpp"

namespace lowkite {
namespace {

constexpr double same_droop_mm = 0.02;
constexpr double same_turns = 1e-6;
constexpr double past_stop_mm = 0.05;  ///< another stop that acts this much earlier has taken the droop over

/// The screw whose tip stops the arm, or -1.
int droop_screw(const Car& car, End end) {
  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    const Range* r = car.adjusters[i].range();
    if (!r || car.adjusters[i].end != end || !car.adjusters[i].threaded()) continue;
    if (std::any_of(r->moves_per_unit.begin(), r->moves_per_unit.end(),
                    [](const PointMove& m) { return m.point == attachment::droop_tip; }))
      return static_cast<int>(i);
  }
  return -1;
}

Vec3 tip_per_turn(const Adjuster& screw) {
  for (const PointMove& m : screw.range()->moves_per_unit)
    if (m.point == attachment::droop_tip) return m.mm;
  return Vec3::Zero();
}

class DroopReset {
 public:
  DroopReset(const Car& car, const Variant& before, const Variant& after, const ResetOptions& options)
      : car_(car), before_(before), after_(after), options_(options) {}

  void run(End end, Side side, BenchReset& result) const {
    const int index = droop_screw(car_, end);
    const CornerStops& was = before_.source.travel.corner[at(end)][at(side)].stops;
    const CornerStops& is = after_.source.travel.corner[at(end)][at(side)].stops;
    if (index < 0 || was.droop.kind != StopKind::droop_screw ||
        std::abs(was.hanging_wheel_low_mm - is.hanging_wheel_low_mm) < same_droop_mm)
      return;
    const CornerModel& corner = after_.model.corner(end, side);
    const auto centred = steer(after_.model, 0.0);
    if (!centred) return;
    const SteerInput input = corner.spec->steered ? centred->corner[at(side)] : SteerInput{};
    // The wheel hangs over a board that stands as far under the plate as its tyre did.
    const Ground board{Vec3::UnitZ(), was.hanging_wheel_low_mm, Vec3::UnitX(), Vec3::UnitY()};
    const auto hanging = pose_on_ground(corner, board, input, is.droop.arm_angle);
    if (!hanging) return;
    const Adjuster& screw = car_.adjusters[static_cast<std::size_t>(index)];
    const Body body = corner.spec->point_spec(attachment::droop_tip).body;
    const double per_turn = hanging->placement(body).direction(tip_per_turn(screw)).z();
    if (std::abs(per_turn) < 1e-6) return;
    const double pad = car_.axle(end).droop_pad_z_mm;
    DroopStep step;
    step.adjuster = index;
    step.side = side;
    step.exact_turns = (pad - point_in_chassis(corner, *hanging, attachment::droop_tip).z()) / per_turn;
    step.turns = options_.step_turns > 0.0 ? std::round(step.exact_turns / options_.step_turns) * options_.step_turns
                                           : step.exact_turns;
    double& value = result.setup.at_index(index).on(side);
    const double wanted = value + step.turns;
    step.value = std::clamp(wanted, screw.least(), screw.most());
    step.screw_ends = step.value != wanted;
    step.turns = step.value - value;
    // Droop from ride height grows with how low the wheel hangs: a stop that acts before that takes over.
    const double needed = is.droop.from_ride_height_mm + was.hanging_wheel_low_mm - is.hanging_wheel_low_mm;
    step.other_stop = std::any_of(is.all.begin(), is.all.end(), [&](const Stop& s) {
      return (s.kind == StopKind::shock_extended || s.kind == StopKind::slide_low) &&
             s.from_ride_height_mm < needed - past_stop_mm;
    });
    value = step.value;
    if (std::abs(step.turns) > same_turns || step.screw_ends || step.other_stop) result.droop.push_back(step);
  }

 private:
  const Car& car_;
  const Variant& before_;
  const Variant& after_;
  const ResetOptions& options_;
};

}  // namespace

BenchReset reset_on_bench(const Car& car, const Variant& before, const Variant& after, const ResetOptions& options) {
  BenchReset result;
  result.setup = after.setup;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      if (options.hold_droop) DroopReset(car, before, after, options).run(end, side, result);
      const auto was = collar_place(before.model, before.source.standing, end, side);
      const auto is = collar_place(after.model, after.source.standing, end, side);
      const auto spacer = [&](const Variant& v) {
        return v.model.corner(end, side).geometry.size_of(Size::spring_spacer);
      };
      if (was && is) result.collar_mm[at(end)][at(side)] = *is - *was - (spacer(after) - spacer(before));
    }
  const auto& was = before.source.travel.lock;
  const auto& is = after.source.travel.lock;
  if (was && is)
    result.end_point_rad =
        PerSide<double>{is->end_point_rad[0] - was->end_point_rad[0], is->end_point_rad[1] - was->end_point_rad[1]};
  return result;
}

}  // namespace lowkite
