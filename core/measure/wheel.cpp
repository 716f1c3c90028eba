#include "core/measure/wheel.hpp"

namespace lowkite {

WheelFigures read_wheel(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  return read_wheel<double>(shape_of(corner.tyre), wheel_of(pose), ground);
}

}  // namespace lowkite
