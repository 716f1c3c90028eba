// A pod that pitches about a pivot ahead of (or behind) its axle and tilts about the forward axis through that pivot,
// so that both wheels stand on the ground. Asked of it: track, toe, wheelbase, and how it stands on its springs.
#include "core/linkage/live_axle.hpp"

#include <cmath>

#include "core/linkage/joints.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {
namespace pod {  // every mechanism has points, links and strokes

enum : int { pod_pivot, wheel_centre, point_count };

constexpr std::array<PointSpec, point_count> points{{
    {"pod_pivot", marked("pod's pivot on the chassis"), Body::chassis},
    {"wheel_centre", marked("wheel centre"), Body::knuckle},
}};

constexpr std::array<StrokeSpec, 1> strokes{{{pod_pivot, wheel_centre, Stroke::axle}}};

class LiveAxle final : public Corner {
 public:
  explicit LiveAxle(const CornerGeometry& g)
      : g_(g), rises_(g.set[pod_pivot].x() > g.set[wheel_centre].x() ? 1.0 : -1.0) {}

  tl::expected<CornerPose, LinkageFailure> solve(double angle, const SteerInput& imposed) const override {
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = angle;
    const Axis pitch{g_.set[pod_pivot], Vec3(0.0, rises_, 0.0)};
    // The pivot stands on the centre plane, about which the axle tilts.
    const Axis tilt{{g_.set[pod_pivot].x(), 0.0, g_.set[pod_pivot].z()}, Vec3::UnitX()};
    const Placement pitched = turned_about(pitch, Turn::by(angle));
    const Placement pod = pitched * turned_about(tilt, Turn::by(imposed.axle_tilt));
    const Twist twist = turning_about(pitch, 1.0);
    for (const Body b : {Body::arm, Body::carrier, Body::knuckle}) {
      pose.body[at(b)] = pod;
      pose.by_arm[at(b)] = twist;
    }
    pose.wheel_locked_by_arm = twist;
    pose.wheel_by_steer = turning_about({pitched.point(tilt.point), pitched.direction(tilt.direction)}, 1.0);
    pose.wheel_body = Body::knuckle;
    pose.wheel_centre = pod.point(g_.set[wheel_centre]);
    pose.spin_axis = pod.direction(g_.spin_axis);
    return solved;
  }

  /// Nothing on a solid axle can be turned.
  tl::expected<LinkLengths, LinkageFailure> hold(double, const SteerInput&, const WheelHold&) const override {
    return g_.length;
  }

  FrontViewLinks front_view(const CornerPose& pose, double) const override {
    const Vec3 level = Vec3(0.0, 30.0, 0.0);
    return {pose.wheel_centre - level, pose.wheel_centre, pose.wheel_centre - level, pose.wheel_centre};
  }

 private:
  CornerGeometry g_;
  double rises_;
};

constexpr LinkSpec pod_as_link{"pod", "pod", pod_pivot, wheel_centre, LinkHolds::nothing};

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build(const CornerGeometry& g) {
  // A pivot straight above or below the axle gives the wheel no way to rise.
  if (std::abs(g.set[pod_pivot].x() - g.set[wheel_centre].x()) < 1.0) return tl::unexpected(holds_nothing(pod_as_link));
  return std::make_unique<const LiveAxle>(g);
}

}  // namespace pod
}  // namespace

const MechanismSpec live_axle{
    "live_axle", marked("solid rear axle in a pod"), pod::points, {}, pod::strokes, pod::wheel_centre, false, false,
    pod::build};

}  // namespace lowkite
