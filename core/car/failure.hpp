// Why a car, or what was asked of it, cannot be computed. What solves a linkage says only what does not fit there
// (LinkageFailure, PoseFailure); from where the end and the side are known on, it is this.
#pragma once

#include <optional>
#include <string>
#include <utility>

#include <tl/expected.hpp>

#include "core/car/car.hpp"

namespace lowkite {

struct CarFailure {
  std::string message;       ///< one sentence with the numbers, for people
  std::optional<End> end{};  ///< where on the car it is, as far as that is known
  std::optional<Side> side{};
  bool steering = false;  ///< it is in the steering's own linkage
};

/// A failure to return.
inline tl::unexpected<CarFailure> cannot(std::string message, std::optional<End> end = {},
                                         std::optional<Side> side = {}) {
  return tl::unexpected(CarFailure{std::move(message), end, side});
}

}  // namespace lowkite
