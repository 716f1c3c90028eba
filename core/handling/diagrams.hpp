// What a setup's handling looks like over lateral acceleration, and as a diagram of yaw moments.
#pragma once

#include <vector>

#include "core/handling/over_tyres.hpp"

namespace lowkite {

/// Grip left at one lateral acceleration, in %.
struct GripPoint {
  double lateral_g = 0.0;
  PerEnd<std::optional<Spread>> left;
};
/// From gentle turning on, in steps of a tenth of a g, until half of the tyres no longer hold the car.
std::vector<GripPoint> grip_over_lateral(const SetupTable& table, std::span<const TyreDraw> tyres, CornerPhase phase,
                                         std::span<const double> weights = {}, unsigned threads = 2);

/// One point of the moment-method diagram (Milliken & Milliken, ch. 8; from memory): the car held at a body slip with
/// the servo at an angle, its speed that of the corner that was asked.
struct MomentPoint {
  double lateral_g = 0.0;
  double moment = 0.0;  ///< yaw moment over weight times wheelbase, positive turns further in
};
struct MomentDiagram {
  /// Lines of one servo angle each, over body slip; and of one body slip each, over the servo.
  struct Line {
    double deg = 0.0;  ///< servo, or body slip with the nose into the turn
    std::vector<MomentPoint> points;
  };
  std::vector<Line> steer, slip;
};
/// On one draw of tyres, in the middle of a corner; what lies on the other side of straight ahead is left out.
MomentDiagram moment_diagram(const SetupTable& table, const TyreDraw& tyres);

}  // namespace lowkite
