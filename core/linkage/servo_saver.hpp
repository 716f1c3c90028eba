// A servo saver that carries both tie rods itself (pan cars, minis).
#pragma once

#include "core/linkage/steering.hpp"

namespace lowkite {

extern const SteeringSpec servo_saver;

}  // namespace lowkite
