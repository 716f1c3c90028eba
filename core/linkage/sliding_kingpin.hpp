// Stub axles that slide with or along their kingpin: pan cars and minis.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

/// The stub axle slides up a kingpin that stands still; an upper link sets the kingpin's lean. The corner's coordinate
/// is the slide (see `slide_mm_per_rad`).
extern const MechanismSpec sliding_kingpin;

/// The kingpin slides through a ball in a fixed lower arm while a swinging upper arm leads its upper end; the stub axle
/// sits on it. Caster and camber change as the upper arm swings. The corner's coordinate is the upper arm's angle.
extern const MechanismSpec swinging_kingpin;

}  // namespace lowkite
