// One wheel's linkage in Simbody, behind plain types: Simbody's headers are C++17 and ours are C++20.
#pragma once

#include <array>
#include <map>
#include <string>
#include <vector>

namespace lowkite::reference {

using Point = std::array<double, 3>;

struct Corner {
  std::string mechanism;  ///< "hub_carrier", "solid_hub" or "double_wishbone"
  std::map<std::string, Point> points;
  std::map<std::string, double> lengths;  ///< of the links, mm
  Point spin_axis{};
};

struct Wheel {
  Point centre{};
  Point spin_axis{};
};

/// Assembles the linkage with the wheel centre at height `wheel_z` and the tie rod's inner ball moved by `rack` to the
/// left. `guess` holds the generalised coordinates of the last assembly and takes those of this one, so that a march
/// over travel starts each assembly next to its solution. Throws when Simbody cannot assemble.
Wheel assemble(const Corner& corner, double wheel_z, double rack, std::vector<double>& guess);

}  // namespace lowkite::reference
