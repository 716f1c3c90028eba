// The anti-roll bar as a lever: it turns in its holders about an axis across the car; a link joins each of its arms to
// a suspension arm. Lifted by hand its wire does not twist: an arm weighs next to nothing.
#pragma once

#include <optional>

#include "core/pose/pose.hpp"

namespace lowkite {

/// The bar's angle that a side's link asks for in a pose, rad, 0 in the kit's design position, positive = bar's arm up.
/// None when the car has no bar there or its link cannot reach.
std::optional<double> bar_angle(const CarModel& model, End end, Side side, const CornerPose& pose);

/// The bar's arm on one side: its angle and how it turns with the suspension arm, rad per rad; the link's ball on it
/// and the line that it turns about at that ball's side, in the corner's frame.
struct BarArm {
  double angle = 0.0;
  double per_arm = 0.0;
  Vec3 ball = Vec3::Zero();
  Vec3 turns_about = Vec3::Zero();
};
std::optional<BarArm> bar_arm(const CarModel& model, End end, Side side, const CornerPose& pose);

/// Whether a part of the car lets the bar be left out, and the setup does: the wire that it chooses has no diameter.
bool bar_left_out(const Car& car, const Setup& setup, End end);

/// Of the wire between its two arms, N mm per rad; 0 where the wire is not described.
double bar_stiffness(const CarModel& model, End end);

/// Arm angle of `side` at which the other arm, hanging at `other_hanging`, starts to be lifted by the bar. Wheels hang
/// on their stops at `hanging` and `other_hanging`; the links' play counts at the bar's ball. None without a bar, or
/// where it is left out.
std::optional<double> lift_until_other_moves(const CarModel& model, End end, Side side, double hanging,
                                             double other_hanging);

}  // namespace lowkite
