// The list of figures of a car on its springs: what each is called, its unit and how finely it is worth telling.
//
// The window, comparisons and reports walk this list. A new figure is a row in load_figures.cpp.
#pragma once

#include <span>
#include <string_view>

#include "core/load/grip.hpp"

namespace lowkite {

/// A car on its springs under one acceleration, with what its axles answer at rest.
struct LoadSource {
  Balance balance;
  PerEnd<AxleRates> rates;
  std::optional<LoadedCar::RollMotion> roll_motion;
  GripBalance grip;
  std::optional<double> roll_gradient_deg_per_g;
};

/// Fails with a sentence like LoadedCar::balance.
tl::expected<LoadSource, std::string> read_load(const LoadedCar& car, const Acceleration& a,
                                                const TyreAssumption& tyre = {});

struct LoadFigure {
  std::string_view id;
  std::string_view label;
  std::string_view unit;
  int decimals;                                           ///< what is worth telling; half of the last one is "the same"
  bool per_axle;                                          ///< false: one for the car
  std::optional<double> (*read)(const LoadSource&, End);  ///< none: the car file does not describe it

  [[nodiscard]] double resolution() const;
};

std::span<const LoadFigure> load_figures();
/// By id; nullptr when there is none.
const LoadFigure* find_load_figure(std::string_view id);

}  // namespace lowkite
