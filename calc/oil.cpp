// Which oil keeps the same damping with another piston or at another temperature.
#include <iostream>
#include <regex>

#include "calc/commands.hpp"
#include "core/load/damper.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

/// "3x1.1": holes and their diameter.
std::optional<Piston> piston_in(const std::string& text, const OilOptions& options) {
  static const std::regex form(R"((\d{1,2})\s*x\s*(\d+(?:\.\d+)?))");
  std::smatch m;
  if (!std::regex_match(text, m, form)) return std::nullopt;
  const Piston p{options.bore_mm, std::stod(m[1]), std::stod(m[2]), options.thickness_mm};
  return p.holes > 0.0 && p.hole_mm > 0.0 && p.hole_mm < p.bore_mm ? std::optional(p) : std::nullopt;
}

}  // namespace

int oil(const OilOptions& options) {
  const std::string& other = options.to.empty() ? options.piston : options.to;
  const auto from = piston_in(options.piston, options);
  const auto to = piston_in(other, options);
  if (!from || !to) {
    std::cerr << say(
        "--{option}: found {found}; allowed: holes x diameter in mm, such as 3x1.1, smaller than the bore\n",
        "option"_a = from ? "to" : "piston", "found"_a = from ? other : options.piston);
    return wrong_usage;
  }
  const Oil now{options.cst};
  const Oil same = same_damping(*from, now, options.celsius, *to, options.to_celsius);
  const auto told = [](const Oil& o) {
    const auto weight = weight_of(o);
    return say("{viscosity:.0f} cSt{weight}", "viscosity"_a = o.cst,
               "weight"_a = weight ? say(" (about a {} on a bottle)", *weight) : "");
  };
  std::cout << say(
      "{piston} with {oil} at {degrees:.0f} deg C: {damping:.1f} N s/m at the shaft at low speed, packs up from "
      "{speed:.0f} mm/s\n",
      "piston"_a = options.piston, "oil"_a = told(now), "degrees"_a = options.celsius,
      "damping"_a = 1000.0 * damper_rate(*from, now, options.celsius),
      "speed"_a = packing_speed(*from, now, options.celsius));
  std::cout << say("the same with {piston} at {degrees:.0f} deg C: {oil}, packs up from {speed:.0f} mm/s\n",
                   "piston"_a = other, "degrees"_a = options.to_celsius, "oil"_a = told(same),
                   "speed"_a = packing_speed(*to, same, options.to_celsius));
  std::cout << say(
      "weights on bottles differ from maker to maker; the gap round the piston, valves and air are left out\n");
  return done;
}

}  // namespace lowkite::calc
