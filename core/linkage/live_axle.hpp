// A rear pod or live axle: both wheels on one solid axle.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

extern const MechanismSpec live_axle;

}  // namespace lowkite
