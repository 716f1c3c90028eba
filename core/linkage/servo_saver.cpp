// Direct steering: the servo saver turns with the shaft and both tie rods hang on it.
#include "core/linkage/servo_saver.hpp"

#include "core/linkage/servo_horn.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {
namespace saver {  // every mechanism has points, links and strokes

enum : int { shaft_front, shaft_rear, point_count };

constexpr std::array<PointSpec, point_count> points{{
    {"servo_shaft_front", marked("servo shaft, front end"), Body::chassis},
    {"servo_shaft_rear", marked("servo shaft, rear end"), Body::chassis},
}};

constexpr std::array<StrokeSpec, 1> strokes{{{shaft_front, shaft_rear, Stroke::pin}}};

class ServoSaver final : public Steering {
 public:
  explicit ServoSaver(const SteeringGeometry& g) : g_(g), horn_(g, shaft_front, shaft_rear) {}

  tl::expected<SteeringPose, LinkageFailure> solve(double from_centre) const override {
    tl::expected<SteeringPose, LinkageFailure> solved(tl::in_place);
    SteeringPose& pose = *solved;
    pose.horn_turn = from_centre;
    body_of(pose, Body::horn) = horn_.at_turn(from_centre);
    twist_of(pose, Body::horn) = horn_.twist();
    for (std::size_t side = 0; side < 2; ++side)
      carry_ball(pose, side, g_.tie_ball[side], body_of(pose, Body::horn), twist_of(pose, Body::horn));
    return solved;
  }

 private:
  SteeringGeometry g_;
  ServoHorn horn_;
};

tl::expected<std::unique_ptr<const Steering>, LinkageFailure> build(const SteeringGeometry& g) {
  return std::make_unique<const ServoSaver>(g);
}

}  // namespace saver
}  // namespace

const SteeringSpec servo_saver{"servo_saver",
                               marked("servo saver with both tie rods"),
                               saver::points,
                               {},
                               saver::strokes,
                               saver::shaft_front,
                               {},
                               {},
                               {Body::horn, Body::horn},
                               saver::build};

}  // namespace lowkite
