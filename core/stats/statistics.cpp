#include "core/stats/statistics.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <random>
#include <vector>

#include <boost/math/distributions/beta.hpp>
#include <boost/math/distributions/students_t.hpp>

namespace lowkite {
namespace {

double mean_of(std::span<const double> v) {
  const double n = static_cast<double>(v.size());
  const double first = std::accumulate(v.begin(), v.end(), 0.0) / n;
  // The second pass takes back what rounding cost the first: lap times differ in their last digits.
  double left = 0.0;
  for (const double x : v) left += x - first;
  return first + left / n;
}

}  // namespace

std::optional<Summary> summarise(std::span<const double> values) {
  if (values.empty()) return std::nullopt;
  Summary s;
  s.count = static_cast<int>(values.size());
  s.mean = mean_of(values);
  const auto [least, most] = std::minmax_element(values.begin(), values.end());
  s.least = *least;
  s.most = *most;
  if (values.size() > 1) {
    double squares = 0.0;
    for (const double x : values) squares += (x - s.mean) * (x - s.mean);
    s.deviation = std::sqrt(squares / static_cast<double>(values.size() - 1));
  }
  return s;
}

std::optional<StraightLine> fit_line(std::span<const double> x, std::span<const double> y) {
  if (x.size() < 2) return std::nullopt;
  const double mx = mean_of(x);
  const double my = mean_of(y);
  double xx = 0.0;
  double xy = 0.0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    xx += (x[i] - mx) * (x[i] - mx);
    xy += (x[i] - mx) * (y[i] - my);
  }
  if (!(xx > 0.0)) return std::nullopt;
  StraightLine line;
  line.count = static_cast<int>(x.size());
  line.slope = xy / xx;
  line.intercept = my - line.slope * mx;
  if (x.size() > 2) {
    double squares = 0.0;
    for (std::size_t i = 0; i < x.size(); ++i) {
      // About the means: the line's own rounding stays out of it.
      const double off = (y[i] - my) - line.slope * (x[i] - mx);
      squares += off * off;
    }
    const double n = static_cast<double>(x.size());
    line.residual_deviation = std::sqrt(squares / (n - 2.0));
    line.slope_error = line.residual_deviation / std::sqrt(xx);
    line.intercept_error = line.residual_deviation * std::sqrt(1.0 / n + mx * mx / xx);
  }
  return line;
}

std::optional<double> quantile(std::span<const double> values, double share) {
  if (values.empty()) return std::nullopt;
  std::vector<double> sorted(values.begin(), values.end());
  std::sort(sorted.begin(), sorted.end());
  const double place = std::clamp(share, 0.0, 1.0) * static_cast<double>(sorted.size() - 1);
  const auto below = static_cast<std::size_t>(place);
  const std::size_t above = std::min(below + 1, sorted.size() - 1);
  return sorted[below] + (place - static_cast<double>(below)) * (sorted[above] - sorted[below]);
}

std::optional<double> median(std::span<const double> values) {
  return quantile(values, 0.5);
}

std::optional<Interval> contrast_of_means(std::span<const Weighed> groups, double confidence) {
  double estimate = 0.0, variance = 0.0, squares = 0.0;
  for (const Weighed& g : groups) {
    const auto s = summarise(g.values);
    if (!s || s->count < 2) return std::nullopt;
    const double v = g.weight * g.weight * s->deviation * s->deviation / s->count;
    estimate += g.weight * s->mean;
    variance += v;
    squares += v * v / (s->count - 1);
  }
  if (!(variance > 0.0)) return std::nullopt;
  const boost::math::students_t distribution(variance * variance / squares);
  const double reach = boost::math::quantile(distribution, 0.5 + 0.5 * confidence) * std::sqrt(variance);
  return Interval{estimate, estimate - reach, estimate + reach};
}

std::optional<Interval> difference_of_means(std::span<const double> a, std::span<const double> b, double confidence) {
  const std::array<Weighed, 2> groups{{{-1.0, a}, {1.0, b}}};
  return contrast_of_means(groups, confidence);
}

std::optional<Interval> difference_of_medians(std::span<const double> a, std::span<const double> b, double confidence,
                                              int resamples, std::uint32_t seed) {
  if (a.size() < 3 || b.size() < 3) return std::nullopt;
  std::mt19937 random(seed);
  std::vector<double> differences, drawn;
  const auto drawn_median = [&](std::span<const double> from) {
    drawn.clear();
    // Not std::uniform_int_distribution: what it draws differs between standard libraries.
    for (std::size_t i = 0; i < from.size(); ++i) drawn.push_back(from[random() % from.size()]);
    return *median(drawn);
  };
  for (int i = 0; i < resamples; ++i) {
    const double first = drawn_median(a);
    differences.push_back(drawn_median(b) - first);
  }
  const double tail = 0.5 * (1.0 - confidence);
  return Interval{*median(b) - *median(a), *quantile(differences, tail), *quantile(differences, 1.0 - tail)};
}

Interval share_of_successes(int successes, int trials, double confidence) {
  const boost::math::beta_distribution<> belief(successes + 1.0, trials - successes + 1.0);
  const double tail = 0.5 * (1.0 - confidence);
  return {boost::math::mean(belief), boost::math::quantile(belief, tail), boost::math::quantile(belief, 1.0 - tail)};
}

}  // namespace lowkite
