#include "core/stats/statistics.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

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

}  // namespace lowkite
