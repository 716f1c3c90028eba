// Lower arm on its pin, upper arm or two upper links, an upright between two ball joints, a tie rod.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

extern const MechanismSpec double_wishbone;

}  // namespace lowkite
