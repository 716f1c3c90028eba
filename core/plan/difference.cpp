#include "core/plan/difference.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

/// Two readings by side, told once where the sides are alike in both.
template <typename Row, typename Read>
void add_rows(std::vector<Row>& rows, Row row, bool per_wheel, double tells, const Read& read) {
  PerSide<std::optional<double>> a, b;
  for (const Side side : both_sides) {
    a[at(side)] = read(0, side);
    b[at(side)] = read(1, side);
  }
  const auto alike = [&](const std::optional<double>& x, const std::optional<double>& y) {
    return x.has_value() == y.has_value() && (!x || std::abs(*x - *y) < tells);
  };
  row.both_sides = !per_wheel || (alike(a[0], a[1]) && alike(b[0], b[1]));
  for (const Side side : both_sides) {
    if (side == Side::right && row.both_sides) break;
    row.side = side;
    row.a = a[at(side)];
    row.b = b[at(side)];
    if (!row.a && !row.b) continue;
    row.told = !alike(row.a, row.b);
    rows.push_back(row);
  }
}

}  // namespace

std::vector<PartHandle> differing_parts(const Car& car, const Setup& a, const Setup& b) {
  std::vector<PartHandle> parts;
  for (const PartHandle i : car.adjusters.handles())
    if (a.of(i) != b.of(i)) parts.push_back(i);
  return parts;
}

std::vector<FigureDifference> figure_differences(const EvaluatedSetup& a, const EvaluatedSetup& b) {
  std::vector<FigureDifference> rows;
  for (const End end : both_ends)
    for (const FigureSpec& f : geometry_figures()) {
      const std::array<bool, 2> has{applies(f, a.car, end), applies(f, b.car, end)};
      if (!has[0] && !has[1]) continue;
      FigureDifference row;
      row.figure = &f;
      row.end = end;
      add_rows(rows, row, f.per_wheel(), f.resolution(), [&](std::size_t which, Side side) {
        const EvaluatedSetup& s = which == 0 ? a : b;
        return has[which] ? f.read(s.variant.source, end, side) : std::nullopt;
      });
    }
  return rows;
}

std::vector<GaugeDifference> gauge_differences(const EvaluatedSetup& a, const EvaluatedSetup& b,
                                               const BenchKit& bench) {
  std::vector<GaugeDifference> rows;
  const std::vector<Gauge> others = gauges_of(b.car);
  for (const Gauge& g : gauges_of(a.car)) {
    const auto other = std::find_if(others.begin(), others.end(), [&](const Gauge& o) {
      return o.kind == g.kind && o.end == g.end && o.label == g.label;
    });
    if (other == others.end()) continue;
    GaugeDifference row;
    row.gauge = g;
    add_rows(rows, row, g.spec().per_wheel, g.spec().resolution, [&](std::size_t which, Side side) {
      const EvaluatedSetup& s = which == 0 ? a : b;
      return reading(which == 0 ? g : *other, s.variant.model, s.variant.source, bench, side);
    });
  }
  return rows;
}

}  // namespace lowkite
