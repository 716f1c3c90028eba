// Dampers: oil pressed through a piston's holes, laminar and orifice flow together.
//
// Left out, and it matters: the gap between piston and body, valves and bent discs, bladders and the air in the oil,
// friction of seals and shafts, foam. Compare two fillings of the same shock with it, not two shocks.
#pragma once

#include <optional>
#include <span>

namespace lowkite {

/// A shock's piston and body. Lengths in mm.
struct Piston {
  double bore_mm = 0.0;  ///< inside diameter of the body
  double holes = 0.0;    ///< how many, all alike
  double hole_mm = 0.0;
  double thickness_mm = 0.0;  ///< length of a hole
};

/// Silicone oil: kinematic viscosity at 25 deg C.
struct Oil {
  double cst = 0.0;

  /// At a temperature: falls by about 1.5 % a degree (viscosity-temperature coefficient 0.6, from memory).
  [[nodiscard]] double cst_at(double celsius) const;
};

constexpr double oil_density = 970.0;  ///< kg/m^3, silicone oil (from memory)
constexpr double discharge_coefficient =
    0.7;  ///< of a short hole with sharp edges (White, Fluid Mechanics; from memory)

/// Force at a shaft speed, N; the sign of the speed. Slow drop in the holes and the orifices' drop add up (White, Fluid
/// Mechanics; from memory).
double damper_force(const Piston& piston, const Oil& oil, double mm_per_s, double celsius = 25.0);

/// Slope at low speed, N s/mm: Hagen-Poiseuille's drop along the holes, and what creeping flow loses where it draws
/// together and spreads at their ends, which is that of 3 pi/16 of a diameter more length (Sampson 1891; joined to a
/// length by Weissberg 1962 and Dagan, Weinbaum and Pfeffer 1982; from memory).
double damper_rate(const Piston& piston, const Oil& oil, double celsius = 25.0);

/// The oil, cSt at 25 deg C, with which `other` gives at `other_celsius` the low-speed damping that `piston` gives with
/// `oil` at `celsius`.
Oil same_damping(const Piston& piston, const Oil& oil, double celsius, const Piston& other, double other_celsius);

/// Shaft speed above which the orifices' drop is larger than the laminar one, mm/s: where small holes "pack up".
double packing_speed(const Piston& piston, const Oil& oil, double celsius = 25.0);

/// What bottles call "weight", and about how many cSt that is. Approximate and different from maker to maker: common
/// practice, no source.
struct OilWeight {
  int weight;
  double cst;
};
std::span<const OilWeight> oil_weights();
/// The nearest weight on a bottle; none far outside the table.
std::optional<int> weight_of(const Oil& oil);

}  // namespace lowkite
