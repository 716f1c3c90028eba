// Parts by where a hand meets them, so that a list of them can be folded.
#pragma once

#include <string_view>
#include <vector>

#include "core/car/car.hpp"

namespace lowkite {

/// From the wheel inward, then what belongs to the whole axle or car.
enum class PartGroup : std::uint8_t { wheel, links, arms, shock, bar, steering, drive, weights, other };
constexpr int part_group_count = 9;

/// "Wheel and hub", "Links", ...
std::string_view label_of(PartGroup group);

/// By what the part moves or sizes; `other`: nothing that is computed.
PartGroup group_of(const Car& car, const Adjuster& part);

/// The parts of an axle group by group, in each from the wheel inward.
std::vector<PartHandle> parts_by_group(const Car& car, End end);

}  // namespace lowkite
