// What a change costs on the bench: balls popped off, wheels and shocks off, minutes. Times are common practice, no
// source: they rank, they promise nothing.
#pragma once

#include <span>

#include "core/car/setup.hpp"

namespace lowkite {

struct BenchWork {
  int parts = 0;  ///< pairs count once
  int balls = 0;  ///< ball joints to be opened, both sides
  bool wheels_off = false;
  bool shocks_off = false;
  double minutes = 0.0;        ///< all of it
  double wheel_minutes = 0.0;  ///< of them for wheels off and on
  double shock_minutes = 0.0;  ///< and for shocks off and on
};

/// Changing these adjusters on both sides. `turned`: turnbuckles and screws turned after it.
BenchWork work_for(const Car& car, std::span<const PartHandle> changed, int turned);

}  // namespace lowkite
