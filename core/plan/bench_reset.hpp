// Re-set beyond the alignment: droop by what stops the hanging wheel, ride height by the collars, end points by the
// transmitter. What each part has to do so that the car hangs, stands and locks as it did before the change - and what
// cannot be.
#pragma once

#include "core/plan/settling.hpp"

namespace lowkite {

/// A part that gives the droop back: a droop screw turned, or spacers put into a shock and taken out.
struct DroopStep {
  PartHandle adjuster;
  Side side = Side::left;
  StopKind stop = StopKind::droop_screw;  ///< or shock_extended
  double exact = 0.0;       ///< what would meet it: turns further in, or mm of spacers more; positive = less droop
  double by = 0.0;          ///< what a hand can do of it
  double value = 0.0;       ///< of the part afterwards
  bool ends = false;        ///< the thread, or the spacers, end before the droop is back
  bool other_stop = false;  ///< something else stops the wheel before this can, and no part at hand lets it go
};

struct BenchReset {
  Setup setup;                   ///< with the screws turned and the spacers changed
  std::vector<DroopStep> droop;  ///< only those that do something or cannot
  /// How far the spring collar goes down its shock (+) so that the ride height is held, mm; where springs are
  /// described.
  PerEnd<PerSide<std::optional<double>>> collar_mm;
  /// Change of the transmitter's end points, steering left and right, rad of servo; positive = more.
  std::optional<PerSide<double>> end_point_rad;
};

/// `before`: how it should hang, stand and lock; `after`: the changed car with its alignment done. The tyre's lowest
/// point under the plate is what droop is held by, as on blocks (see wanted_hanging).
///
/// Droop is given back by what stops the wheel: by the screw where a screw stops it before or after the change, by the
/// spacers inside the shock where the shock does. A shock is opened only where that leaves less than half of what the
/// droop is off by. The other stop is moved out of the way where it is in it: spacers come out so far that the screw
/// stops the wheel first, the screw comes out so far that the shock does.
BenchReset reset_on_bench(const Car& car, const Variant& before, const Variant& after, const ResetOptions& options);

/// The setup with its links, and what stops its hanging wheels, brought to what is wanted to the last hair, as far as
/// threads and spacers go: what a patient hand reaches. `before`: as above.
tl::expected<Setup, CarFailure> put_back_exactly(const Car& car, const Variant& before, const Setup& changed,
                                                 const CarTargets& targets, const ResetOptions& options);

/// What a hand leaves of `like` with parts changed: angles and droop put back in eighths of a turn and whole spacers,
/// standing as it then sits. The droop that a changed screw or spacer gives on purpose stays. `changed` itself where it
/// cannot be put back.
Setup put_back_by_hand(const Car& car, const Setup& like, const Setup& changed);

/// Whether a part at hand sets the droop of this end: a droop screw, or spacers inside the shocks.
bool can_set_droop(const Car& car, End end);
/// The setup with some wheels hanging so low, mm from the plate's underside down to the tyre's lowest point: by the
/// droop screw where it reaches that (no shock is opened), else by spacers, as near as they come; that is wanted from
/// then on. Fails with a sentence where no part reaches it.
tl::expected<Setup, CarFailure> set_to_hang(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                            double low_mm);
/// Where the tyre hangs with so much droop at the wheel from ride height, mm under the plate's underside; none: the
/// linkage does not reach there.
std::optional<double> hanging_with_droop(const Variant& now, End end, Side side, double droop_mm);
/// The same as set_to_hang by droop at the wheel from ride height, mm.
tl::expected<Setup, CarFailure> set_to_droop(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                             double droop_mm);

}  // namespace lowkite
