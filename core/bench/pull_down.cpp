#include "core/bench/pull_down.hpp"

#include <algorithm>
#include <cmath>

#include "core/load/static_load.hpp"

namespace lowkite {
namespace {

/// What a maker's spread and a bent reading allow.
constexpr double like_share = 0.05;

void unzip(std::span<const PullPoint> points, std::vector<double>& x, std::vector<double>& y) {
  for (const PullPoint& p : points) {
    x.push_back(p.depth_mm);
    y.push_back(p.grams);
  }
}

std::optional<StraightLine> line_of(std::span<const PullPoint> points) {
  std::vector<double> x;
  std::vector<double> y;
  unzip(points, x, y);
  return fit_line(x, y);
}

}  // namespace

std::vector<PullPoint> modelled_pull(const CarModel& model, End end, std::span<const double> depths_mm) {
  std::vector<PullPoint> points;
  const auto standing = figures_at(model, static_attitude(model));
  if (!standing) return points;
  for (const double depth : depths_mm)
    if (const auto push = axle_push(model, *standing, end, depth)) points.push_back({depth, grams(*push)});
  return points;
}

std::optional<PullLine> pull_line(std::span<const PullPoint> points, double droop_mm, double scale_resolution_g) {
  const auto line = line_of(points);
  if (!line) return std::nullopt;
  PullLine p;
  p.line = *line;
  const double newton_per_gram = gravity_m_s2 / 1000.0;
  p.wheel_rate_n_mm = 0.5 * line->slope * newton_per_gram;
  p.wheel_rate_error = 0.5 * line->slope_error * newton_per_gram;
  p.at_ride_height_g = line->at(0.0);
  p.hanging_g = line->at(-droop_mm);
  p.bends = std::any_of(points.begin(), points.end(), [&](const PullPoint& q) {
    return std::abs(q.grams - line->at(q.depth_mm)) > 2.0 * scale_resolution_g;
  });
  return p;
}

std::optional<SpringSaid> spring_said(const Car& car, const Setup& setup, End end, std::span<const PullPoint> points) {
  const auto read = line_of(points);
  auto model = build_model(car, setup);
  if (!read || !model) return std::nullopt;
  const double fitted = model->corner(end, Side::left).geometry.size_of(Size::spring_rate);
  if (!(fitted > 0.0)) return std::nullopt;
  std::vector<double> depths;
  for (const PullPoint& p : points) depths.push_back(p.depth_mm);
  // The slope is that of the spring and of a motion ratio that changes under the same force: it is straight in the
  // rate, so two rates tell all.
  const auto slope_at = [&](double rate) -> std::optional<double> {
    for (const Side side : both_sides)
      model->corners[at(end)][at(side)].geometry.size[static_cast<std::size_t>(Size::spring_rate)] = rate;
    const auto line = line_of(modelled_pull(*model, end, depths));
    return line ? std::optional(line->slope) : std::nullopt;
  };
  const auto as_fitted = slope_at(fitted);
  const auto stiffer = slope_at(1.5 * fitted);
  if (!as_fitted || !stiffer || !(*stiffer > *as_fitted)) return std::nullopt;
  const double per_slope = 0.5 * fitted / (*stiffer - *as_fitted);
  SpringSaid s;
  s.fitted_n_mm = fitted;
  s.read_n_mm = fitted + (read->slope - *as_fitted) * per_slope;
  s.error_n_mm = read->slope_error * per_slope;
  s.agrees = std::abs(s.read_n_mm - fitted) <= std::max(2.0 * s.error_n_mm, like_share * fitted);
  return s;
}

}  // namespace lowkite
