// Parts that slide on another one must move along it: spacers on a pin along the pin, the axle on its kingpin along the
// kingpin. Typed as x, y, z they seldom do.
#pragma once

#include "core/plan/car_check.hpp"

namespace lowkite {

/// All doubtful; none where every part moves along, or square to, what it sits on.
std::vector<Finding> part_directions(const Car& car);

}  // namespace lowkite
