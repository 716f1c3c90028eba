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

/// One wheel of a whole car: its linkage in the chassis, true sides.
struct SprungCorner {
  Corner linkage;         ///< of a pinned arm
  double arm_turn = 0.0;  ///< rad about the arm's pin, from rear to front
  Point shock_upper{};    ///< on the chassis
  Point shock_lower{};    ///< on the arm, as its points have it
  double rate = 0.0;      ///< N/mm
  double loose_mm = 0.0;  ///< between the shock's mounts at which the spring pushes nothing
  double wheel_kg = 0.0;
  Point contact{};  ///< in the chassis
  Point force{};    ///< of the ground there, N, in the ground's axes
};
struct Spring {
  Point upper{};  ///< on the chassis
  Point lower{};  ///< on what moves, as its points have it
  double rate = 0.0;
  double loose_mm = 0.0;
};
/// A pod that pitches about the sideways line through its pivot and then tilts about the forward one.
struct SprungPod {
  Point pivot{};
  double pitch = 0.0;  ///< rad, positive = what lies behind goes up
  double tilt = 0.0;   ///< rad, positive = the left end up
  std::vector<Spring> springs;
  std::array<Point, 2> wheel_centre{};  ///< as its points have it
  double wheel_kg = 0.0;                ///< of each
  std::array<Point, 2> contact{};       ///< in the chassis
  std::array<Point, 2> force{};
};
/// A third spring between two levers over the first two corners; each turns about a line lengthways. True sides.
struct SprungLevers {
  std::array<Point, 2> pivot{}, arm{}, rod{}, end{};  ///< `arm`: the rod's ball on the suspension arm
  double rate = 0.0;
  double loose_mm = 0.0;  ///< between its ends at which it pushes nothing
};
struct SprungCar {
  double kg = 0.0;                ///< without the wheels
  Point cg{};                     ///< of that, in the chassis
  std::array<Point, 3> ground{};  ///< forward, left, up in the chassis
  double offset_mm = 0.0;         ///< height of the chassis' origin over the ground
  Point pull{};                   ///< of gravity and of what accelerates the car, mm/s^2, in the ground's axes
  std::vector<SprungCorner> corners;
  std::vector<SprungPod> pods;
  std::vector<SprungLevers> third;  ///< one or none
};
/// How hard the car would start to move from there: the largest acceleration of any of its coordinates, as mm/s^2
/// (turns of the chassis over 100 mm, of arms and pods over 40 mm). 0: it stands.
double starts_to_move(const SprungCar& car);

}  // namespace lowkite::reference
