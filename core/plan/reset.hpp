// Re-set: after a change, what brings camber and toe back as on the bench, in turns of the turnbuckles.
//
// The angles are chosen first and the link lengths read off them (closed form, see Corner::hold); what is iterated is
// only their coupling through the tyre's contact with the ground. Then the turns are rounded to what a hand can do,
// camber first and toe after it, as on the bench, so that the toe answers to the camber that was really reached.
#pragma once

#include <optional>
#include <vector>

#include "core/measure/car_figures.hpp"

namespace lowkite {

struct WheelTarget {
  double camber_rad = 0.0;
  double toe_rad = 0.0;
  std::optional<double> caster_rad{};  ///< of wheels with a kingpin
};
using CarTargets = PerEnd<PerSide<WheelTarget>>;

/// The camber, toe and caster of a car as it stands.
CarTargets targets_of(const CarFigures& figures);

struct ResetOptions {
  bool hold_camber = true;
  bool hold_toe = true;
  bool hold_droop = true;        ///< by what stops the hanging wheel (see bench_reset.hpp)
  bool hold_caster = true;       ///< by two upper links turned against each other, where a car has them
  bool hold_ride_height = true;  ///< by the collars; else the car sits as it comes to (see comparison.hpp)
  bool hold_end_points = true;   ///< by the transmitter: whether their change is told
  double step_turns = 0.125;     ///< least twist of a hand; 0 = exact
};

/// One turnbuckle to turn.
struct ResetStep {
  PartHandle adjuster;
  Side side = Side::left;
  LinkHolds holds = LinkHolds::nothing;
  double exact_turns = 0.0;  ///< what would meet the target exactly; positive = lengthen
  double turns = 0.0;        ///< what to do, a whole number of steps
  double mm = 0.0;           ///< change of the link's length
  double value = 0.0;        ///< the adjuster's value afterwards
  bool thread_ends = false;  ///< the thread ends before the target is met
};

/// Something that was to be held and cannot be.
struct ResetGap {
  End end = End::front;
  LinkHolds what = LinkHolds::nothing;
};

struct WheelError {
  double camber_rad = 0.0;  ///< reached less wanted
  double toe_rad = 0.0;
};

struct ResetResult {
  Setup setup;                   ///< the changed setup with the turnbuckles turned
  std::vector<ResetStep> steps;  ///< only those that turn, front to rear, camber before toe
  std::vector<ResetGap> gaps;    ///< held angles for which the car has no turnbuckle
  PerEnd<PerSide<WheelError>> left_over;
};

/// Brings every wheel of `changed` back to its target at the changed setup's ride height.
tl::expected<ResetResult, CarFailure> reset_alignment(const Car& car, const Setup& changed, const CarTargets& targets,
                                                      const ResetOptions& options);

/// True when two upper links can be turned against each other under a wheel with a kingpin.
bool can_hold_caster(const Car& car, End end);

/// True when every link that sets this angle can be turned, and there is one.
bool can_hold(const Car& car, End end, LinkHolds what);

/// How much lower an end stands when its shocks keep the length they have in `before` (collars untouched), mm; positive
/// = lower. None when the mechanism names no shock mounts or the pose cannot be reached. Both sides averaged.
std::optional<double> sits_lower_by(const Car& car, const Setup& before, const Setup& after, End end);

}  // namespace lowkite
