#include "core/bench/pull_down.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <Eigen/Dense>

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
    for (const Side side : both_sides) model->corners[at(end)][at(side)].geometry.size[at(Size::spring_rate)] = rate;
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

std::vector<PullPoint> untared(const CarModel& model, End end, std::span<const PullPoint> points) {
  std::vector<PullPoint> whole(points.begin(), points.end());
  if (whole.empty()) return whole;
  const auto first = std::min_element(whole.begin(), whole.end(),
                                      [](const PullPoint& a, const PullPoint& b) { return a.depth_mm < b.depth_mm; });
  const std::vector<PullPoint> load = modelled_pull(model, end, std::array{first->depth_mm});
  if (load.empty()) return {};
  const double rest = load.front().grams - first->grams;
  for (PullPoint& p : whole) p.grams += rest;
  return whole;
}

namespace {

/// A parabola through force over compression, least squares; what the scale cannot tell is no better than that.
std::optional<Progression> progression_of(const CarModel& model, End end, std::span<const PullPoint> points,
                                          double scale_resolution_g) {
  const auto table = spring_read(model, end, points);
  constexpr Eigen::Index terms = 3;
  if (!table || table->size() < 5) return std::nullopt;  // the first row is {0, 0}
  const auto n = static_cast<Eigen::Index>(table->size()) - 1;
  const double origin = (*table)[1].mm;
  Eigen::MatrixXd a(n, terms);
  Eigen::VectorXd force(n);
  for (Eigen::Index i = 0; i < n; ++i) {
    const SpringPoint& p = (*table)[at(i) + 1];
    const double x = p.mm - origin;
    a.row(i) << 1.0, x, x * x;
    force[i] = p.n;
  }
  const Eigen::MatrixXd normal = a.transpose() * a;
  const Eigen::VectorXd fitted = normal.ldlt().solve(a.transpose() * force);
  const double scatter = (force - a * fitted).squaredNorm() / static_cast<double>(std::max<Eigen::Index>(1, n - terms));
  // Both scales together, at one wheel, through the motion ratio; a step of the scale is spread evenly.
  const double ratio = (table->back().n - (*table)[1].n) / (table->back().mm - origin);
  const auto line = pull_line(points, 0.0, scale_resolution_g);
  const double per_gram = line && line->line.slope > 0.0
                              ? ratio * (table->back().mm - origin) /
                                    (line->line.slope * (points.back().depth_mm - points.front().depth_mm))
                              : 0.0;
  const double step = scale_resolution_g * std::abs(per_gram) / std::sqrt(12.0);
  const double variance = std::max(scatter, step * step);
  const double error_of_square = std::sqrt(variance * normal.inverse()(2, 2));
  const double reach = table->back().mm - origin;
  Progression p;
  p.first_n_mm = fitted[1];
  p.last_n_mm = fitted[1] + 2.0 * fitted[2] * reach;
  if (!(p.first_n_mm > 0.0)) return std::nullopt;
  p.percent = 100.0 * (p.last_n_mm / p.first_n_mm - 1.0);
  p.error_percent = 100.0 * 2.0 * reach * error_of_square / p.first_n_mm;
  return p;
}

}  // namespace

std::optional<ProgressionSaid> progression_said(const CarModel& model, End end, std::span<const PullPoint> points,
                                                double scale_resolution_g) {
  constexpr double two_errors = 2.0;
  constexpr double told_percent = 10.0;
  std::vector<PullPoint> sorted(points.begin(), points.end());
  std::sort(sorted.begin(), sorted.end(),
            [](const PullPoint& a, const PullPoint& b) { return a.depth_mm < b.depth_mm; });
  std::vector<double> depths;
  for (const PullPoint& p : sorted) depths.push_back(p.depth_mm);
  const auto read = progression_of(model, end, sorted, scale_resolution_g);
  const auto fitted = progression_of(model, end, modelled_pull(model, end, depths), 0.0);
  if (!read || !fitted) return std::nullopt;
  const double apart = std::abs(read->percent - fitted->percent);
  return ProgressionSaid{*read, fitted->percent, apart > std::max(told_percent, two_errors * read->error_percent)};
}

std::optional<std::vector<SpringPoint>> spring_read(const CarModel& model, End end, std::span<const PullPoint> points) {
  const CornerModel& corner = model.corner(end, Side::left);
  std::vector<PullPoint> sorted(points.begin(), points.end());
  std::sort(sorted.begin(), sorted.end(),
            [](const PullPoint& a, const PullPoint& b) { return a.depth_mm < b.depth_mm; });
  std::vector<SpringPoint> shortened;  // shock against its longest here, and the spring's force
  for (const PullPoint& p : sorted) {
    Attitude pulled = static_attitude(model);
    for (double& h : pulled.ride_height_mm) h -= p.depth_mm;
    const auto pose = pose_axle(model, end, pulled);
    if (!pose) return std::nullopt;
    const auto ratio = shock_per_contact(corner, pose->corner[0], ground_under(*model.car, pulled));
    if (!ratio) return std::nullopt;
    const double own_n = unsprung_kg(model.car->axle(end), corner) * gravity_m_s2;
    const SpringPoint next{-shock_length(corner, pose->corner[0]),
                           (0.5 * p.grams / 1000.0 * gravity_m_s2 - own_n) / *ratio};
    if (!(next.n > 0.0)) return std::nullopt;
    if (!shortened.empty() && !(next.mm > shortened.back().mm && next.n > shortened.back().n)) return std::nullopt;
    shortened.push_back(next);
  }
  if (shortened.size() < 2) return std::nullopt;
  // Below the least force that was read it goes straight on to nothing: how far the collar presses it needs not be
  // known.
  const double first_rate = (shortened[1].n - shortened[0].n) / (shortened[1].mm - shortened[0].mm);
  const double first_mm = shortened[0].n / first_rate;
  std::vector<SpringPoint> table{{0.0, 0.0}};
  for (const SpringPoint& p : shortened) table.push_back({first_mm + p.mm - shortened[0].mm, p.n});
  return table;
}

}  // namespace lowkite
