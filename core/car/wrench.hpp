// Which way to turn the wrench on a turnbuckle: a rod with a left-hand thread in one end and a right-hand thread in the
// other, so that one turn moves both balls alike.
#pragma once

#include <optional>

#include "core/car/car.hpp"

namespace lowkite {

/// The turn of the rod, handle of the wrench up.
struct WrenchTurn {
  bool clockwise_from_outer = false;  ///< seen from the rod's outer end: the wheel's, of the steering the crank's
  bool top_forward = false;           ///< the handle's end moves towards the car's front, else to its rear
};

/// None where the car does not tell its marked ends, for other parts, and for a rod that lies too much along the car
/// for its ends to be called left and right.
std::optional<WrenchTurn> wrench_turn(const Car& car, PartHandle turnbuckle, Side side, bool lengthen);

}  // namespace lowkite
