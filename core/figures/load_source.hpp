// What the figures of a car on its springs are read from.
#pragma once

#include <optional>
#include <string>

#include <tl/expected.hpp>

#include "core/figures/figures.hpp"
#include "core/load/balance.hpp"

namespace lowkite {

/// A car on its springs under one acceleration, with what its axles answer at rest.
struct LoadSource {
  Balance balance;
  PerEnd<AxleRates> rates;
  std::optional<LoadedCar::RollMotion> roll_motion;
  std::optional<double> roll_gradient_deg_per_g;
  std::optional<LoadedCar::RollOnTyres> roll_on_tyres_deg_per_g;
};

/// What of a source is worked out; the rest stays empty.
struct LoadNeeds {
  bool stand = false;
  bool rates = false;
  bool roll_motion = false;
  bool roll_gradient = false;
  bool roll_on_tyres = false;

  static LoadNeeds all() { return {true, true, true, true, true}; }
  /// What this figure of load is read from, too.
  void add(const FigureSpec& figure);
};

/// `near`: a stand to start from, see LoadedCar::balance. Fails with a sentence like it.
tl::expected<LoadSource, CarFailure> read_load(const LoadedCar& car, const Acceleration& a, double servo_rad = 0.0,
                                               const LoadNeeds& needs = LoadNeeds::all(),
                                               const Balance* near = nullptr);

}  // namespace lowkite
