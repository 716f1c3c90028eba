// Lower arm on its pin, two upper links or an upper arm, an upright between two ball joints, a tie rod or a toe link.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

extern const MechanismSpec double_wishbone;     ///< two upper links, steered
extern const MechanismSpec upper_arm_wishbone;  ///< a rigid upper arm, steered
extern const MechanismSpec ball_joint_rear;     ///< two upper links and a toe link

}  // namespace lowkite
