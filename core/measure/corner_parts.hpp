// What is read off the parts of a corner besides the wheel: the shock, the drive shaft, the joints of its links.
#pragma once

#include <array>
#include <optional>

#include "core/pose/pose.hpp"

namespace lowkite {

struct ShockFigures {
  double length_mm = 0.0;     ///< between its mounts
  double lean_rad = 0.0;      ///< from upright in the front view, positive = top leans inward
  double motion_ratio = 0.0;  ///< mm of shock per mm of wheel travel in the chassis, positive = bump shortens it
  std::optional<double> left_in_bump_mm;  ///< of the shock's own stroke
  std::optional<double> left_in_droop_mm;
};

struct ShaftFigures {
  double depth_mm = 0.0;           ///< of the pin in the cup, from its mouth
  double to_falling_out_mm = 0.0;  ///< how much less depth the cup allows; negative = fallen out
  double to_bottoming_mm = 0.0;    ///< how much more; negative = the pin would be through the bottom
  double outer_angle_rad = 0.0;    ///< between the shaft and the wheel's spin axis
  double inner_angle_rad = 0.0;    ///< between the shaft and the cup
};

/// How far a link leans out of the plane across its ball's stud, at either end, rad.
struct JointAngles {
  double inner_rad = 0.0;
  double outer_rad = 0.0;
};

struct CornerParts {
  std::optional<ShockFigures> shock;
  std::optional<ShaftFigures> shaft;
  ByLink<JointAngles> joint{};  ///< a stud stands upright unless the car says otherwise
  std::optional<double>
      tie_to_arm_rad;  ///< front view: tie rod or toe link against the lower arm, + = rises more outboard
  std::optional<double> tie_to_steering_arm_rad;  ///< plan view: between the tie rod and the knuckle's steering arm
};

CornerParts read_parts(const CarModel& model, End end, Side side, const CornerPose& pose, const Ground& corner_ground);

/// The angle by which `rod` (any length) leans out of the plane across `stud` (unit), rad, 0 to 90 degrees.
double lean_out_of_plane(const Vec3& rod, const Vec3& stud);

/// The drive shaft in a pose; none when the car describes none or the shaft is too short to reach its cup's line.
std::optional<ShaftFigures> read_shaft(const CarModel& model, End end, Side side, const CornerPose& pose);

}  // namespace lowkite
