#include "core/handling/diagrams.hpp"

#include <cmath>

#include "core/threads/crew.hpp"

namespace lowkite {
namespace {

constexpr double step_g = 0.1;
constexpr std::array<double, 5> servo_deg{0.0, 4.0, 8.0, 14.0, 22.0};
constexpr std::array<double, 6> slip_deg{-4.0, -2.0, 0.0, 2.0, 5.0, 9.0};
constexpr double fine_deg = 1.0;

}  // namespace

std::vector<GripPoint> grip_over_lateral(const SetupTable& table, std::span<const TyreDraw> tyres, CornerPhase phase,
                                         std::span<const double> weights, unsigned threads) {
  const int most = static_cast<int>(std::floor(table.last_g(phase) / step_g + 1e-9));
  // By tyre and step; none: no balance there.
  std::vector<std::vector<std::optional<PerEnd<double>>>> left(tyres.size());
  for_each_by_hands(tyres.size(), threads, [&](std::size_t i) {
    const Trimmer trimmer(table, tyres[i]);
    std::optional<Trim> last;
    for (int k = 1; k <= most; ++k) {
      auto t = trimmer.trim(phase, k * step_g, last ? &*last : nullptr);
      if (!t) break;
      left[i].push_back(trimmer.left(phase, k * step_g, *t));
      last = std::move(t);
    }
  });
  std::vector<GripPoint> points;
  for (int k = 0; k < most; ++k) {
    Handling there(tyres.size());
    for (std::size_t i = 0; i < tyres.size(); ++i)
      if (!left[i].empty()) {
        // A tyre that no longer holds the car has nothing left.
        there[i].emplace();
        const bool holds = static_cast<int>(left[i].size()) > k && left[i][at(k)];
        there[i]->phase[at(phase)].left = holds ? *left[i][at(k)] : PerEnd<double>{};
      }
    GripPoint p{(k + 1) * step_g, {}};
    p.left[0] = spread_of(spec_of(HandlingFigure::front_left), phase, there, weights);
    p.left[1] = spread_of(spec_of(HandlingFigure::rear_left), phase, there, weights);
    if (!p.left[0] || !p.left[1]) break;
    points.push_back(p);
    if (p.left[0]->median <= 0.0 && p.left[1]->median <= 0.0) break;
  }
  return points;
}

MomentDiagram moment_diagram(const SetupTable& table, const TyreDraw& tyres) {
  const Trimmer trimmer(table, tyres);
  MomentDiagram d;
  const auto add = [&](MomentDiagram::Line& line, double servo, double slip) {
    if (const auto p = trimmer.moment_at(radians(servo), radians(slip))) line.points.push_back({p->first, p->second});
  };
  for (const double servo : servo_deg) {
    MomentDiagram::Line line{servo, {}};
    for (double slip = slip_deg.front(); slip <= slip_deg.back() + 1e-9; slip += fine_deg) add(line, servo, slip);
    if (line.points.size() > 1) d.steer.push_back(std::move(line));
  }
  for (const double slip : slip_deg) {
    MomentDiagram::Line line{slip, {}};
    for (double servo = servo_deg.front(); servo <= servo_deg.back() + 1e-9; servo += fine_deg) add(line, servo, slip);
    if (line.points.size() > 1) d.slip.push_back(std::move(line));
  }
  return d;
}

}  // namespace lowkite
