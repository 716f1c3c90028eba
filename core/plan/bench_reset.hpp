// Re-set beyond the alignment: droop by its screws, ride height by the collars, end points by the transmitter. What
// each part has to do so that the car hangs, stands and locks as it did before the change - and what cannot be.
#pragma once

#include "core/plan/comparison.hpp"

namespace lowkite {

/// One droop screw to turn.
struct DroopStep {
  int adjuster = -1;
  Side side = Side::left;
  double exact_turns = 0.0;  ///< positive = further in, less droop
  double turns = 0.0;        ///< a whole number of steps
  double value = 0.0;        ///< of the screw afterwards
  bool screw_ends = false;   ///< its thread ends before the droop is back
  bool other_stop = false;   ///< something else stops the wheel before the screw can
};

struct BenchReset {
  Setup setup;                   ///< with the screws turned
  std::vector<DroopStep> droop;  ///< only those that turn or cannot
  /// How far the spring collar goes down its shock (+) so that the ride height is held, mm; where springs are
  /// described.
  PerEnd<PerSide<std::optional<double>>> collar_mm;
  /// Change of the transmitter's end points, steering left and right, rad of servo; positive = more.
  std::optional<PerSide<double>> end_point_rad;
};

/// `before`: how it should hang, stand and lock; `after`: the changed car with its alignment done. The tyre's lowest
/// point under the plate is what droop is held by, as on blocks.
BenchReset reset_on_bench(const Car& car, const Variant& before, const Variant& after, const ResetOptions& options);

}  // namespace lowkite
