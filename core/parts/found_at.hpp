// Where a hand finds the parts of a car, so that they can be picked in a drawing.
#pragma once

#include <vector>

#include "core/parts/fittings.hpp"

namespace lowkite {

struct FoundAt {
  bool steering = false;
  End end{};
  std::vector<PointRef> points;   ///< balls, holes and pins that it moves or sits at, each once
  std::vector<DrawnBody> lines;   ///< links, shocks and what else lies between two points; chassis axes, left side
  std::vector<DrawnBody> bodies;  ///< those drawn as thick as they are
};
ListOf<Adjuster, FoundAt> found_adjusters(const Car& car);
/// Parallel to `fittings`.
std::vector<FoundAt> found_fittings(const Car& car, const std::vector<Fitting>& fittings);

}  // namespace lowkite
