// Means, deviations and straight lines through readings, with what few readings leave open.
#pragma once

#include <cstdint>
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

/// The value below which that share of the values lies, between neighbours in proportion (type 7 of Hyndman and Fan,
/// The American Statistician 50, 1996, from memory; what SciPy and R give). None without values.
std::optional<double> quantile(std::span<const double> values, double share);
std::optional<double> median(std::span<const double> values);

/// An estimate with the interval that holds it at a stated confidence.
struct Interval {
  double estimate = 0.0;
  double low = 0.0;
  double high = 0.0;

  [[nodiscard]] bool holds(double x) const { return low <= x && x <= high; }
};

/// Values whose mean counts with a weight.
struct Weighed {
  double weight = 1.0;
  std::span<const double> values;
};
/// Sum of the weighed means, deviations unlike: t interval with Satterthwaite's degrees of freedom (Biometrics Bulletin
/// 2, 1946, from memory). None for fewer than two values in a group or no scatter at all.
std::optional<Interval> contrast_of_means(std::span<const Weighed> groups, double confidence = 0.95);

/// Mean of `b` less mean of `a`: the contrast of two, Welch's interval (Biometrika 34, 1947, from memory).
std::optional<Interval> difference_of_means(std::span<const double> a, std::span<const double> b,
                                            double confidence = 0.95);

/// Median of `b` less median of `a` by resampling both with replacement: percentile interval (Efron and Tibshirani, An
/// Introduction to the Bootstrap, from memory). The same `seed` gives the same interval. None for fewer than three
/// values on a side.
std::optional<Interval> difference_of_medians(std::span<const double> a, std::span<const double> b,
                                              double confidence = 0.95, int resamples = 4000, std::uint32_t seed = 1);

/// Share of successes among `trials`, each share as likely beforehand: mean of the beta distribution and its middle
/// `confidence` (Bayes and Laplace; any text). Precondition: 0 <= successes <= trials.
Interval share_of_successes(int successes, int trials, double confidence = 0.8);

}  // namespace lowkite
