#include "core/load/spring.hpp"

#include <cmath>
#include <numbers>

namespace lowkite {

double SpringLaw::force(double x) const {
  if (x <= 0.0) return 0.0;
  if (second_rate_n_per_mm <= 0.0 || x <= transition_mm) return rate_n_per_mm * x;
  return rate_n_per_mm * transition_mm + second_rate_n_per_mm * (x - transition_mm);
}

double SpringLaw::rate(double x) const {
  if (x <= 0.0) return 0.0;
  return second_rate_n_per_mm <= 0.0 || x <= transition_mm ? rate_n_per_mm : second_rate_n_per_mm;
}

double SpringLaw::compression(double f) const {
  const double knee = rate_n_per_mm * transition_mm;
  if (second_rate_n_per_mm <= 0.0 || f <= knee) return f / rate_n_per_mm;
  return transition_mm + (f - knee) / second_rate_n_per_mm;
}

double helical_rate(double wire_mm, double coil_mm, double active_coils, double shear_n_per_mm2) {
  return shear_n_per_mm2 * std::pow(wire_mm, 4) / (8.0 * std::pow(coil_mm, 3) * active_coils);
}

double bar_stiffness(double wire_mm, double length_mm, double arm_mm) {
  const double fourth = std::pow(wire_mm, 4);
  const double twist = length_mm / (wire_shear * std::numbers::pi * fourth / 32.0);
  const double bend = 2.0 * arm_mm / (3.0 * wire_young * std::numbers::pi * fourth / 64.0);
  return 1.0 / (twist + bend);
}

}  // namespace lowkite
