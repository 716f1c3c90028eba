// What cannot be right about a car and its setup, or is worth a second look - each with the place to look at.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/car/setup.hpp"

namespace lowkite {

enum class Severity : std::uint8_t {
  wrong,    ///< cannot be right on a real car, or breaks it
  doubtful  ///< possible, but mostly a mistake
};

struct Finding {
  Severity severity = Severity::doubtful;
  End end = End::front;
  std::optional<Side> side;  ///< none: both, or the axle
  std::string what;          ///< one sentence with its numbers
  std::string remedy;        ///< what to do next
  PartHandle adjuster;       ///< the part to take in hand, if there is one
};

/// Everything found, what is wrong first. A car that cannot stand yields that alone.
std::vector<Finding> check_car(const Car& car, const Setup& setup);

}  // namespace lowkite
