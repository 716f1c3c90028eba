// A slide that the servo's horn draws left and right; it carries both tie rods.
#pragma once

#include "core/linkage/steering.hpp"

namespace lowkite {

extern const SteeringSpec slide_rack;

}  // namespace lowkite
