// Which shims under the tie rod's or toe link's balls make the bump steer least.
#pragma once

#include "core/plan/reset.hpp"

namespace lowkite {

struct BumpSteerShim {
  PartHandle adjuster;
  double now_mm = 0.0;        ///< shims as the setup has them
  double best_mm = 0.0;       ///< shims that make it least
  double span_now_rad = 0.0;  ///< total toe change over the travel, toe re-set
  double span_best_rad = 0.0;
};

/// Tries every thickness of each stack under a ball of the link that sets the toe of `end`, toe and camber re-set
/// exactly each time, and keeps the one with the least total bump steer; best part first. Empty when the axle has no
/// such shims. Both sides are shimmed alike; the left wheel is read.
std::vector<BumpSteerShim> least_bump_steer(const Car& car, const Setup& setup, End end);

}  // namespace lowkite
