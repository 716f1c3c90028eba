// Two cranks joined by a plate, the first one drawn by the servo's horn through a drag link.
#pragma once

#include "core/linkage/steering.hpp"

namespace lowkite {

extern const SteeringSpec crank_pair;   ///< tie rods on the cranks
extern const SteeringSpec crank_plate;  ///< tie rods on the plate that joins them

}  // namespace lowkite
