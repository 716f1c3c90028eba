// What ends the travel and the lock of a car besides its links: knuckle stops, joints, parts that meet, shafts; and the
// holders of the anti-roll bar.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/linkage/corner.hpp"

namespace lowkite {

/// How far a knuckle turns about its kingpin before it meets its stop, from the design position, rad.
struct KnuckleStops {
  double inside_rad = 0.0;   ///< as the inside wheel of a turn
  double outside_rad = 0.0;  ///< as the outside wheel
};

/// How far a ball joint lets its link lean out of the plane across the ball's stud.
struct JointLimit {
  LinkHandle link = {};
  bool outer = true;          ///< the ball at the wheel's end of the link
  Vec3 stud = Vec3::UnitZ();  ///< unit, in the design coordinates of the body that carries the ball
  double most_rad = radians(30);
};

/// An end of a part in space: a named point of the corner, one of the steering, or a place on a body.
struct PartEnd {
  enum class Of : std::uint8_t { corner, steering, place } of = Of::corner;
  PointHandle point = {};
  Body body = Body::chassis;  ///< for a place
  Vec3 place = Vec3::Zero();  ///< design coordinates of that body; corner frame
};

/// A part as a capsule: everything within `radius_mm` of the line between its ends.
struct Capsule {
  std::string name;
  PartEnd from, to;
  double radius_mm = 1.5;
};

/// Two parts that must not meet.
struct Clearance {
  Capsule a, b;
};

struct AxleLimits {
  std::optional<KnuckleStops> knuckle;
  std::vector<JointLimit> joints;
  std::vector<Clearance> clearances;
};

/// A drive shaft's pin in the differential's cup. The cup lies along y; its mouth is at the point `shaft_cup`.
struct ShaftCup {
  double depth_mm = 8.0;       ///< from the mouth to the bottom
  double least_hold_mm = 2.0;  ///< with less of the pin inside, the shaft falls out
};

/// Where an anti-roll bar turns: about an axis along y through this point. `play_mm`: of its links, at the bar's ball.
struct BarHolder {
  double pivot_x_mm = 0.0;
  double pivot_z_mm = 0.0;
  double play_mm = 0.0;
  double wire_length_mm = 0.0;  ///< of wire that twists, between its arms; 0 = not described
  /// The kit's bar as measured, one arm against the other; 0: by its wire. Other wires differ by their fourth power.
  double rate_n_mm_per_rad = 0.0;
};

/// Nearest distance between two segments, mm (Ericson, Real-Time Collision Detection, 5.1.9; from memory).
double segment_distance(const Vec3& a0, const Vec3& a1, const Vec3& b0, const Vec3& b1);

}  // namespace lowkite
