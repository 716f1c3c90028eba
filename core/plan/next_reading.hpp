// Which caliper reading tells most next about what a racer wants to know of an axle, and how well that is known so far.
//
// Points are uncertain around the template (the same prior as fit_points has); readings take that away. Near the points
// as they are known, a reading and a figure are linear in them, so the variance of a figure before and after a reading
// that nobody has taken yet can be computed: the next one is that which leaves least (optimal design, greedy: Fedorov,
// Theory of Optimal Experiments, 1972, from memory).
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "core/plan/measuring.hpp"

namespace lowkite {

/// A figure that readings are taken for.
struct KnownFigure {
  std::string_view label;  ///< "roll centre"
  std::string_view unit;
  int decimals = 1;
  double value = 0.0;
  double by_template = 0.0;  ///< one standard deviation with nothing measured
  double now = 0.0;          ///< with what is measured
  double next = 0.0;         ///< with the next reading, too
  double enough = 0.0;       ///< what is good enough to plan with
};

struct ReadingPlan {
  std::vector<KnownFigure> figures;  ///< of the axle; empty where it has none of them (a solid axle, the steering)
  std::optional<std::size_t> next;   ///< index into the steps; none: all are taken

  /// True when each figure is known well enough to plan with.
  [[nodiscard]] bool enough() const;
};

/// `car`: the template; `fit`: what the readings so far make of its points, if any; `steps`: those of one axle or the
/// steering, in the guide's order.
ReadingPlan plan_readings(const Car& car, const std::optional<Fit>& fit, std::span<const GuideStep> steps, End end,
                          const FitOptions& options = {});

/// The car with its points where a fit has them, both sides alike where they were.
Car with_points(const Car& car, const Fit& fit);

}  // namespace lowkite
