// Pinned arm, carrier on its outer pin, one camber link: steered front and solid rear hub.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

extern const MechanismSpec hub_carrier_front;
extern const MechanismSpec solid_hub;

}  // namespace lowkite
