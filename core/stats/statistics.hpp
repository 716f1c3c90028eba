// Means, deviations and straight lines through readings, with what few readings leave open.
#pragma once

#include <optional>
#include <span>

namespace lowkite {

struct Summary {
  int count = 0;
  double mean = 0.0;
  double deviation = 0.0;  ///< sample standard deviation (n - 1); 0 for one reading
  double least = 0.0;
  double most = 0.0;

  [[nodiscard]] double spread() const { return most - least; }
};
/// None without values.
std::optional<Summary> summarise(std::span<const double> values);

/// y = intercept + slope x by least squares.
struct StraightLine {
  int count = 0;
  double slope = 0.0;
  double intercept = 0.0;
  double residual_deviation = 0.0;  ///< of the points about the line (n - 2); 0 for two points
  double slope_error = 0.0;         ///< one standard deviation, from the scatter
  double intercept_error = 0.0;

  [[nodiscard]] double at(double x) const { return intercept + slope * x; }
};
/// None for fewer than two different x. Precondition: as many x as y.
std::optional<StraightLine> fit_line(std::span<const double> x, std::span<const double> y);

}  // namespace lowkite
