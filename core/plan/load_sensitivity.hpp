// What one step of every part does to the car on its springs.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/figures/load_source.hpp"
#include "core/load/turn.hpp"

namespace lowkite {

/// Parts that may move a load figure: all but turnbuckles, droop screws and steering.
std::vector<PartHandle> load_parts(const Car& car);
/// Springs, bar wires, bar links' places, heavy parts: those that move no point of the linkage.
std::vector<PartHandle> light_load_parts(const Car& car);

/// One step of one part, both sides, and what it does to every load figure.
struct LoadStep {
  PartHandle adjuster;
  double value = 0.0;  ///< after the step
  bool possible = true;
  /// Parallel to places_of(load_figures()); none where it has no value.
  std::vector<std::optional<double>> change;
};

/// Every part's step, up where it can be, else down, with camber and toe put back. Fails with a sentence where the
/// setup cannot stand on its springs.
tl::expected<std::vector<LoadStep>, CarFailure> load_sensitivity(const Car& car, const Setup& setup,
                                                                 const HeldTurn& under,
                                                                 const std::function<bool()>& go_on = {});

}  // namespace lowkite
