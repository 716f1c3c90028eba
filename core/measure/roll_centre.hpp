// The roll centre of an axle, three ways.
//
// By velocity: the lowest point of each tyre moves along a path in the chassis; the line across that path in the front
// view goes through the wheel's instant centre; the two wheels' lines meet in the roll centre. With the whole linkage
// moving, the tie rod included, bump steer on a wheel with trail moves the contact point sideways and shifts the
// centre; with the kingpin joint held it does not. By drawing: the two-line construction that racers know (Kennedy's
// theorem), exact for planar cars, blind to kick-up, caster and bump steer.
#pragma once

#include <optional>

#include "core/measure/wheel.hpp"

namespace lowkite {

/// A point of the front view: `across` to the left of the chassis' centre plane along the ground, `height` over it. mm.
struct FrontPoint {
  double across = 0.0;
  double height = 0.0;
};

/// One wheel's part of the drawing, in the front view of the ground.
struct WheelConstruction {
  FrontPoint lower_inner, lower_outer, upper_inner, upper_outer, contact;
  std::optional<FrontPoint> instant_centre;  ///< none: the links are parallel
};

struct RollCentre {
  /// By velocity, whole linkage; none: at infinity. Of a solid axle: about which it tilts under the body.
  std::optional<FrontPoint> moving;
  std::optional<FrontPoint> locked;  ///< by velocity, kingpin joint held
  std::optional<FrontPoint> drawn;   ///< by the two-line drawing
  PerSide<WheelConstruction> construction;
};

/// A straight line of the front view, n.(across, height) = c, by its coefficients (n1, n2, -c).
using FrontLine = Eigen::Vector3d;

FrontLine line_through(const FrontPoint& a, const FrontPoint& b);
/// The line through `p` that stands across the velocity (v_across, v_up).
FrontLine line_across(const FrontPoint& p, double v_across, double v_up);
/// Where two lines meet; none when they are parallel to within `parallel_sine`.
std::optional<FrontPoint> crossing(const FrontLine& a, const FrontLine& b);

/// Below this sine of the angle between them, lines count as parallel: their crossing is farther off than 100 km would
/// be for a car a metre wide.
constexpr double parallel_sine = 1e-8;

RollCentre read_roll_centre(const CarModel& model, End end, const AxlePose& pose, const PerSide<WheelFigures>& wheels,
                            const Ground& ground);

}  // namespace lowkite
