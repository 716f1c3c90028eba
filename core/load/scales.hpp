// What four scales say about collars and weights: which collar, how far, and what no collar can change.
#pragma once

#include <optional>

#include "core/load/balance.hpp"

namespace lowkite {

struct ScaleAdvice {
  double cross = 0.5;  ///< front left and rear right, of all four
  /// By this axle alone to 50 %: its left collar so many mm further down, its right one as much up (negative: the other
  /// way). Ride heights stay, as both are turned against each other.
  PerEnd<double> collar_mm{};
  double ahead_mm = 0.0;  ///< of the weight against where the car file has it, positive forward
  double aside_mm = 0.0;  ///< of the weight from the centre plane, positive to the left; no collar changes that
};

/// `grams`: what each scale shows. None when a scale shows nothing.
std::optional<ScaleAdvice> explain_scales(const LoadedCar& car, const PerEnd<PerSide<double>>& grams);

/// A car that stands with its left side higher by this angle, rad: by so many mm each axle's left collar goes further
/// down (positive lifts the left side) and its right one as much up, so that it stands level and the cross weight
/// stays. None when it cannot stand so.
std::optional<PerEnd<double>> level_by_collars(const LoadedCar& car, double left_higher_rad);

}  // namespace lowkite
