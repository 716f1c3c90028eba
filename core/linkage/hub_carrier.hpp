// Pinned arm, carrier on its outer pin, one camber link: steered front, solid rear hub, rear hub with a toe link.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

extern const MechanismSpec hub_carrier_front;
extern const MechanismSpec solid_hub;
extern const MechanismSpec toe_link_hub;

}  // namespace lowkite
