// What the figures of a car on its springs are read from.
#pragma once

#include <optional>
#include <string>

#include <tl/expected.hpp>

#include "core/load/balance.hpp"

namespace lowkite {

/// A car on its springs under one acceleration, with what its axles answer at rest.
struct LoadSource {
  Balance balance;
  PerEnd<AxleRates> rates;
  std::optional<LoadedCar::RollMotion> roll_motion;
  std::optional<double> roll_gradient_deg_per_g;
};

/// Fails with a sentence like LoadedCar::balance.
tl::expected<LoadSource, std::string> read_load(const LoadedCar& car, const Acceleration& a, double servo_rad = 0.0);

}  // namespace lowkite
