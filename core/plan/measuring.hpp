// The measuring guide: what to measure on a real car, in which order and how, so that every point can be computed.
//
// Which distances may be measured follows from the linkage itself: two points whose distance does not change while the
// wheel travels and steers sit on one part (or on the two ends of a link), and a caliper may be laid on them however
// the arm hangs. Points that stand still are measured from the plate, the centre plane and each other.
#pragma once

#include "core/plan/fit.hpp"

namespace lowkite {

struct GuideStep {
  CaliperReading reading;  ///< its value is what the car file would give
  std::string title;       ///< "Front: arm's inner pin, front end - height"
  std::string how;         ///< where the jaws go
};

/// Every step for a car, front axle, rear axle, steering, from the plate outward. Empty when the car cannot stand.
std::vector<GuideStep> measuring_guide(const Car& car);

/// Most distances asked for one point: three place it, more would only check.
constexpr int distances_a_point = 3;

}  // namespace lowkite
