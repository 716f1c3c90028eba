// Fields and parts of a car that have no effect, each with what is missing: a field without effect is a lie.
#pragma once

#include "core/plan/car_check.hpp"

namespace lowkite {

/// All doubtful; none on a car whose every field does something.
std::vector<Finding> idle_fields(const Car& car);

}  // namespace lowkite
