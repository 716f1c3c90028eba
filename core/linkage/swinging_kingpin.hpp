// A kingpin that slides through a ball in a fixed lower arm while a swinging upper arm leads its upper end: pan cars.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

/// Caster and camber change as the upper arm swings. The corner's coordinate is the upper arm's angle.
extern const MechanismSpec swinging_kingpin;

}  // namespace lowkite
