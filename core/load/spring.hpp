// Springs: what a spring pushes with, and rates from the units and the wire that racers meet.
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/car/car.hpp"

namespace lowkite {

/// A coil spring on a shock: one rate, a second one from a transition on, or a measured table. A shock's spring cannot
/// pull. Beyond its table a spring goes on as it ends.
struct SpringLaw {
  double rate_n_per_mm = 0.0;
  double second_rate_n_per_mm = 0.0;     ///< beyond `transition_mm`; 0: the same rate throughout
  double transition_mm = 0.0;            ///< of compression
  std::span<const SpringPoint> table{};  ///< in place of the rates; outlives the law
  double beside_table_n_per_mm = 0.0;    ///< rate on top of the table
  double share = 1.0;                    ///< of the force that counts, where one spring holds two wheels

  /// N, for a compression in mm; 0 when the spring is loose.
  [[nodiscard]] double force(double compressed_mm) const;
  /// The rate there, N/mm; 0 when the spring is loose.
  [[nodiscard]] double rate(double compressed_mm) const;
  /// The inverse: mm of compression for a force > 0.
  [[nodiscard]] double compression(double force_n) const;
};

constexpr double newton_per_mm_of_lbf_per_in(double rate) {
  return rate * 4.4482216152605 / 25.4;
}
constexpr double newton_per_mm_of_gf_per_mm(double rate) {
  return rate * 9.80665e-3;
}

/// Rate of a helical spring of round wire, N/mm: G d^4 / (8 D^3 n). Diameters in mm (`coil` = mean diameter), `shear`
/// in N/mm^2. Shigley, Mechanical Engineering Design, helical springs (from memory).
double helical_rate(double wire_mm, double coil_mm, double active_coils, double shear_n_per_mm2);

/// A spring's rate as racers write it, N/mm: "0.49", "2.8 lbf/in", "50 gf/mm", or the wire of a coil,
/// "wire 1.2 coil 13 turns 5.5" (mm, mean diameter, active coils; music wire). None when it is none of them.
std::optional<double> rate_from_text(std::string_view text);

/// Music wire, EN 10270-1 (from memory), N/mm^2.
constexpr double wire_shear = 81500.0;
constexpr double wire_young = 206000.0;

/// Stiffness of an anti-roll bar of round wire between its two ends, N mm per rad of the one arm's turn against the
/// other: the middle twists (G J / L), both arms bend (3 E I / l). Roark's formulas (from memory). `arm_mm` 0: torsion
/// alone.
double bar_stiffness(double wire_mm, double length_mm, double arm_mm);

}  // namespace lowkite
