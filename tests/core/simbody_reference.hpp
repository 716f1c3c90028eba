// One wheel's linkage in Simbody, behind plain types: Simbody's headers are C++17 and ours are C++20.
#pragma once

#include <array>
#include <map>
#include <string>
#include <vector>

namespace lowkite::reference {

using Point = std::array<double, 3>;

struct Corner {
  std::string mechanism;  ///< as in car files; any but the live axle
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

struct Steering {
  std::string mechanism;  ///< as in car files
  std::map<std::string, Point> points;
  double drag_link = 0.0;           ///< mm
  std::array<Point, 2> tie_ball{};  ///< left, right, with the linkage as its points have it
};

/// The tie rods' balls with the horn turned by `horn_turn` rad from where its points have it. `guess` as above.
std::array<Point, 2> steer(const Steering& steering, double horn_turn, std::vector<double>& guess);

}  // namespace lowkite::reference
