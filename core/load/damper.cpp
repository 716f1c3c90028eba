#include "core/load/damper.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace lowkite {
namespace {

constexpr double per_degree = 0.015;
constexpr double m(double mm) {
  return mm / 1000.0;
}

double area(double diameter_mm) {
  return std::numbers::pi / 4.0 * m(diameter_mm) * m(diameter_mm);
}

/// N s^2/m^2 of the orifices.
double square_law(const Piston& p) {
  const double through = discharge_coefficient * p.holes * area(p.hole_mm);
  return area(p.bore_mm) * 0.5 * oil_density * std::pow(area(p.bore_mm) / through, 2);
}

}  // namespace

double Oil::cst_at(double celsius) const {
  return cst * std::exp(-per_degree * (celsius - 25.0));
}

double damper_rate(const Piston& p, const Oil& oil, double celsius) {
  const double viscosity = 1e-6 * oil.cst_at(celsius) * oil_density;
  const double length = m(p.thickness_mm) + 3.0 * std::numbers::pi / 16.0 * m(p.hole_mm);
  const double laminar = 128.0 * viscosity * length / (std::numbers::pi * p.holes * std::pow(m(p.hole_mm), 4));
  return laminar * std::pow(area(p.bore_mm), 2) / 1000.0;
}

double damper_force(const Piston& p, const Oil& oil, double mm_per_s, double celsius) {
  const double v = mm_per_s / 1000.0;
  return 1000.0 * damper_rate(p, oil, celsius) * v + std::copysign(square_law(p) * v * v, v);
}

Oil same_damping(const Piston& piston, const Oil& oil, double celsius, const Piston& other, double other_celsius) {
  // At low speed damping is in proportion to viscosity.
  const double wanted = damper_rate(piston, oil, celsius);
  const double per_cst = damper_rate(other, Oil{1.0}, other_celsius);
  return Oil{wanted / per_cst};
}

double packing_speed(const Piston& piston, const Oil& oil, double celsius) {
  return 1000.0 * (1000.0 * damper_rate(piston, oil, celsius)) / square_law(piston);
}

std::span<const OilWeight> oil_weights() {
  static constexpr std::array<OilWeight, 8> table{
      {{20, 200.0}, {25, 275.0}, {30, 350.0}, {35, 425.0}, {40, 500.0}, {45, 575.0}, {50, 650.0}, {60, 800.0}}};
  return table;
}

std::optional<int> weight_of(const Oil& oil) {
  const auto table = oil_weights();
  if (oil.cst < 0.8 * table.front().cst || oil.cst > 1.2 * table.back().cst) return std::nullopt;
  return std::min_element(table.begin(), table.end(),
                          [&](const OilWeight& a, const OilWeight& b) {
                            return std::abs(a.cst - oil.cst) < std::abs(b.cst - oil.cst);
                          })
      ->weight;
}

}  // namespace lowkite
