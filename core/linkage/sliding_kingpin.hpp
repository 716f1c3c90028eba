// Stub axles that slide along a kingpin that stands still: pan cars and minis.
#pragma once

#include "core/linkage/corner.hpp"

namespace lowkite {

/// An upper link sets the kingpin's lean. The corner's coordinate is the slide (see `slide_mm_per_rad`).
extern const MechanismSpec sliding_kingpin;

}  // namespace lowkite
