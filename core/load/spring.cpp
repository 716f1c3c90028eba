#include "core/load/spring.hpp"

#include <cctype>
#include <cmath>
#include <locale>
#include <map>
#include <numbers>
#include <sstream>
#include <string>

namespace lowkite {

namespace {

/// The stretch of a table in which a compression lies; the last one goes on.
std::size_t stretch_at(std::span<const SpringPoint> table, double mm) {
  std::size_t i = 0;
  while (i + 2 < table.size() && table[i + 1].mm < mm) ++i;
  return i;
}

double slope_of(std::span<const SpringPoint> table, std::size_t i) {
  return (table[i + 1].n - table[i].n) / (table[i + 1].mm - table[i].mm);
}

}  // namespace

double SpringLaw::force(double x) const {
  if (x <= 0.0) return 0.0;
  if (table.size() >= 2) {
    const std::size_t i = stretch_at(table, x);
    return share * (table[i].n + slope_of(table, i) * (x - table[i].mm) + beside_table_n_per_mm * x);
  }
  if (second_rate_n_per_mm <= 0.0 || x <= transition_mm) return share * rate_n_per_mm * x;
  return share * (rate_n_per_mm * transition_mm + second_rate_n_per_mm * (x - transition_mm));
}

double SpringLaw::rate(double x) const {
  if (x <= 0.0) return 0.0;
  if (table.size() >= 2) return share * (slope_of(table, stretch_at(table, x)) + beside_table_n_per_mm);
  return share * (second_rate_n_per_mm <= 0.0 || x <= transition_mm ? rate_n_per_mm : second_rate_n_per_mm);
}

double SpringLaw::compression(double f) const {
  if (table.size() >= 2) {
    std::size_t i = 0;
    while (i + 2 < table.size() && force(table[i + 1].mm) < f) ++i;
    return table[i].mm + (f - force(table[i].mm)) / (share * (slope_of(table, i) + beside_table_n_per_mm));
  }
  const double whole = f / share;
  const double knee = rate_n_per_mm * transition_mm;
  if (second_rate_n_per_mm <= 0.0 || whole <= knee) return whole / rate_n_per_mm;
  return transition_mm + (whole - knee) / second_rate_n_per_mm;
}

double helical_rate(double wire_mm, double coil_mm, double active_coils, double shear_n_per_mm2) {
  return shear_n_per_mm2 * std::pow(wire_mm, 4) / (8.0 * std::pow(coil_mm, 3) * active_coils);
}

std::optional<double> rate_from_text(std::string_view text) {
  std::string plain;
  for (const char c : text) plain += c == ',' ? '.' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  std::istringstream in(plain);
  in.imbue(std::locale::classic());
  std::string word;
  if (double value = 0.0; in >> value) {
    in >> word;
    std::string more;
    if (in >> more || !(value > 0.0)) return std::nullopt;
    if (word.empty() || word == "n/mm") return value;
    if (word == "lbf/in" || word == "lb/in") return newton_per_mm_of_lbf_per_in(value);
    if (word == "gf/mm" || word == "g/mm") return newton_per_mm_of_gf_per_mm(value);
    return std::nullopt;
  }
  in.clear();
  in.str(plain);
  std::map<std::string, double> wire;
  double value = 0.0;
  while (in >> word) {
    if (!(in >> value) || !(value > 0.0) || wire.contains(word)) return std::nullopt;
    wire[word] = value;
  }
  if (wire.size() != 3 || !wire.contains("wire") || !wire.contains("coil") || !wire.contains("turns"))
    return std::nullopt;
  if (wire["coil"] <= wire["wire"]) return std::nullopt;
  return helical_rate(wire["wire"], wire["coil"], wire["turns"], wire_shear);
}

double bar_stiffness(double wire_mm, double length_mm, double arm_mm) {
  const double fourth = std::pow(wire_mm, 4);
  const double twist = length_mm / (wire_shear * std::numbers::pi * fourth / 32.0);
  const double bend = 2.0 * arm_mm / (3.0 * wire_young * std::numbers::pi * fourth / 64.0);
  return 1.0 / (twist + bend);
}

}  // namespace lowkite
