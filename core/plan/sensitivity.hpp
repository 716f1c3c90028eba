// What one real step of every adjuster does to every figure, as it is changed or once camber and toe are put back.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "core/figures/figures.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

/// One step of one part. Both sides are stepped; the left wheel is read.
struct SensitivityRow {
  PartHandle adjuster;
  int step = 1;        ///< +1, or -1 where the part stands at its end
  double value = 0.0;  ///< the adjuster's value after the step
  /// Change of each figure in its display unit, parallel to Sensitivity::figures; none where a value is missing.
  std::vector<std::optional<double>> change;
  bool possible = true;  ///< false: the car cannot stand like that
};

struct Sensitivity {
  std::vector<const FigureSpec*> figures;  ///< those that mean something on the axle
  std::vector<SensitivityRow> rows;        ///< in the order from the wheel inward

  /// Index of a figure, or -1.
  [[nodiscard]] int find(std::string_view figure) const;
  /// How far a step moves a figure, in steps that its reading can tell; 0 when it does not move it.
  [[nodiscard]] double told(const SensitivityRow& row, int figure) const;
  /// The sum over the figures that racers watch, without `figure`: what the step drags along.
  [[nodiscard]] double dragged(const SensitivityRow& row, int figure) const;
  /// The figures that racers watch and that the step drags along, the most moved first, without `figure`.
  [[nodiscard]] std::vector<int> drags(const SensitivityRow& row, int figure) const;
  /// Rows that move `figure`, those first that move it most for the least that they drag along.
  [[nodiscard]] std::vector<const SensitivityRow*> ranked(int figure) const;
};

/// `put_back`: camber and toe re-set exactly after each step. `go_on` is asked between parts; false stops, and what was
/// found so far is returned. `only`: the row of this part alone.
tl::expected<Sensitivity, CarFailure> sensitivity(const Car& car, const Setup& setup, End end, bool put_back,
                                                  const std::function<bool()>& go_on = {},
                                                  std::optional<PartHandle> only = std::nullopt);

}  // namespace lowkite
