// How a body stands on tyres that give. The car in balance has rigid tyres; what their give adds is told beside it, to
// the first order: the load that it moves in turn is left out.
#pragma once

#include "core/car/car.hpp"

namespace lowkite {

/// How far the body rises, leans (positive to the right) and dives (nose down) with its wheels.
struct OnTyres {
  double rise_mm = 0.0;
  double roll_rad = 0.0;
  double pitch_rad = 0.0;
};

/// The plane through four wheels that stand `height_mm` higher than before, by least squares. `ahead_mm`, `left_mm`:
/// where they are from the point whose rise is told.
OnTyres on_tyres(const PerEnd<PerSide<double>>& ahead_mm, const PerEnd<PerSide<double>>& left_mm,
                 const PerEnd<PerSide<double>>& height_mm);

}  // namespace lowkite
