// Two setups side by side, of one car or of two: which parts differ, and which figures and gauges a racer could tell
// apart.
#pragma once

#include <optional>
#include <vector>

#include "core/bench/gauges.hpp"
#include "core/figures/variant.hpp"

namespace lowkite {

/// A setup evaluated on its car; both outlive what is read from them.
struct EvaluatedSetup {
  const Car& car;
  const Variant& variant;
};

/// One figure in both, in its display unit.
struct FigureDifference {
  const FigureSpec* figure = nullptr;
  End end = End::front;
  Side side = Side::left;
  bool both_sides = true;  ///< left and right are alike in both, and told once
  std::optional<double> a, b;
  bool told = false;  ///< the difference is one that a reading can tell, or only one of them has the figure
};

/// One gauge in both, in its unit.
struct GaugeDifference {
  Gauge gauge;
  Side side = Side::left;
  bool both_sides = true;
  std::optional<double> a, b;
  bool told = false;  ///< by at least what the gauge can tell
};

/// Adjusters that the two setups of `car` have at different values.
std::vector<PartHandle> differing_parts(const Car& car, const Setup& a, const Setup& b);

/// Every figure that means something on an axle of either car, front axle first.
std::vector<FigureDifference> figure_differences(const EvaluatedSetup& a, const EvaluatedSetup& b);

/// Every gauge that both cars have. Link lengths are compared by their label.
std::vector<GaugeDifference> gauge_differences(const EvaluatedSetup& a, const EvaluatedSetup& b, const BenchKit& bench);

}  // namespace lowkite
