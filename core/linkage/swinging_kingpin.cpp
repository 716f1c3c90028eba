// The kingpin is led by a swinging upper arm: its upper ball goes with the arm, its lower end slides through a ball
// that stands still, and the stub axle on it turns about its line until the tie rod fits.
#include "core/linkage/swinging_kingpin.hpp"

#include <cmath>

#include "core/linkage/steered_wheel.hpp"

namespace lowkite {
namespace {
namespace swinger {  // every mechanism has points, links and strokes

enum : int {
  kingpin_lower,
  upper_inner_front,
  upper_inner_rear,
  kingpin_upper,
  tie_inner,
  tie_outer,
  wheel_centre,
  point_count
};

constexpr std::array<PointSpec, point_count> points{{
    {"kingpin_lower", "kingpin's ball in the lower arm", Body::chassis},
    {"upper_inner_front", "upper arm's pin, front end", Body::chassis},
    {"upper_inner_rear", "upper arm's pin, rear end", Body::chassis},
    {"kingpin_upper", "kingpin's ball in the upper arm", Body::upper_arm},
    {"tie_inner", "tie rod, inner ball", Body::rack},
    {"tie_outer", "tie rod, outer ball", Body::knuckle},
    {"wheel_centre", "wheel centre", Body::knuckle},
}};

enum : int { upper_arm, tie_rod };
constexpr std::array<LinkSpec, 2> links{{
    {"upper_arm", "upper arm's ball", upper_inner_front, kingpin_upper, LinkHolds::camber, upper_inner_rear},
    {"tie_rod", "tie rod", tie_inner, tie_outer, LinkHolds::toe},
}};

constexpr std::array<StrokeSpec, 6> strokes{{
    {upper_inner_front, upper_inner_rear, Stroke::pin},
    {upper_inner_front, kingpin_upper, Stroke::arm},
    {upper_inner_rear, kingpin_upper, Stroke::arm},
    {kingpin_lower, kingpin_upper, Stroke::kingpin},
    {tie_inner, tie_outer, Stroke::link},
    {wheel_centre, tie_outer, Stroke::axle},
}};

class SwingingKingpin final : public Corner {
 public:
  SwingingKingpin(const CornerGeometry& g, Branch tie)
      : g_(g),
        arm_(g, upper_inner_front, upper_inner_rear),
        foot_(foot_of(g)),
        ball_(ball_at_length(g, foot_)),
        line_(axis_through(g.kit[kingpin_upper], g.kit[kingpin_lower])),
        design_reach_((g.kit[kingpin_upper] - g.kit[kingpin_lower]).norm()),
        wheel_(g, RodHinge(line_, {}, g.set[tie_outer], g.kit[tie_outer] - g.kit[tie_inner], g.length[tie_rod], tie),
               links[tie_rod], wheel_centre) {}

  tl::expected<CornerPose, LinkageFailure> solve(double arm_angle, const SteerInput& steer) const override {
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = arm_angle;
    const Placement arm = arm_.at_angle(arm_angle);
    const Twist arm_twist = arm_.twist();
    const Vec3 upper = arm.point(ball_);
    const Vec3& lower = g_.set[kingpin_lower];
    const Placement carried = hung(upper);
    const Vec3 k = upper - lower;
    const Vec3 velocity = arm_twist.at(upper);
    const Vec3 spin = k.cross(velocity) / k.squaredNorm();
    const Twist carried_twist{spin, velocity - spin.cross(upper)};
    if (const auto placed = wheel_.place(pose, carried, carried_twist, steer); !placed)
      return tl::unexpected(placed.error());
    pose.body[at(Body::upper_arm)] = arm;
    pose.by_arm[at(Body::upper_arm)] = arm_twist;
    pose.kingpin_lower = lower;
    pose.kingpin_upper = upper;
    pose.slide_mm = k.norm() - design_reach_;
    pose.slide_per_arm = velocity.dot(k) / k.norm();
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    const Placement arm = arm_.at_angle(arm_angle);
    const Vec3 foot = arm.point(foot_);
    const Vec3 outward = (arm.point(ball_) - foot).normalized();
    const Vec3& lower = g_.set[kingpin_lower];
    double reach = (arm.point(ball_) - foot).norm();
    Placement stub;
    for (int round = 0; round < HoldLoop::most_rounds; ++round) {
      const auto settled = wheel_.settle(hung(foot + outward * reach), steer, wanted);
      if (!settled) return tl::unexpected(settled.error());
      stub = *settled;
      if (!wanted.camber) break;
      // A longer or shorter arm leans the kingpin in the plane of its line and the arm's reach.
      const Vec3 k = (foot + outward * reach - lower).normalized();
      const Vec3 normal = k.cross(outward).normalized();
      const auto t = turn_until_component(normal, stub.direction(g_.spin_axis), wanted.up, -std::sin(*wanted.camber));
      if (!t) return tl::unexpected(blame(links[upper_arm], t.error()));
      const Vec3 across = normal.cross(rotation_about(normal, *t) * k);
      reach = across.dot(lower - foot) / across.dot(outward);
      if (std::abs(t->sin) < HoldLoop::settled) break;
    }
    std::array<double, max_links> length = g_.length;
    if (wanted.camber) length[upper_arm] = reach;
    if (wanted.toe) length[tie_rod] = wheel_.rod_length(stub, steer);
    return length;
  }

  /// The lower "link" stands across the kingpin at the ball through which it slides (three-centre theorem: a slider's
  /// centre lies across its path).
  FrontViewLinks front_view(const CornerPose& pose, double x) const override {
    const Vec3 k = pose.kingpin_upper - pose.kingpin_lower;
    const Vec3 across = Vec3(0.0, k.z(), -k.y()).normalized() * 30.0;
    return {pose.kingpin_lower - across, pose.kingpin_lower,
            cut_at(g_.set[upper_inner_rear], g_.set[upper_inner_front], x), pose.kingpin_upper};
  }

 private:
  /// Where the stub axle hangs on its kingpin, not yet turned about it, once the upper ball is known.
  [[nodiscard]] Placement hung(const Vec3& upper) const {
    const Mat3 r = least_rotation(line_.direction, (g_.set[kingpin_lower] - upper).normalized());
    return {r, upper - r * g_.kit[kingpin_upper]};
  }
  /// The point of the pin nearest to the ball, in the arm's design coordinates.
  static Vec3 foot_of(const CornerGeometry& g) {
    const Axis pin = axis_through(g.kit[upper_inner_rear], g.kit[upper_inner_front]);
    return pin.point + pin.direction * pin.direction.dot(g.set[kingpin_upper] - pin.point);
  }
  static Vec3 ball_at_length(const CornerGeometry& g, const Vec3& foot) {
    return foot + (g.set[kingpin_upper] - foot).normalized() * g.length[upper_arm];
  }

  CornerGeometry g_;
  PinnedArm arm_;
  Vec3 foot_;
  Vec3 ball_;
  Axis line_;            ///< from the upper to the lower ball, design coordinates
  double design_reach_;  ///< between the two in the kit's design position
  SteeredWheel wheel_;
};

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build(const CornerGeometry& g) {
  const Axis kit_line = axis_through(g.kit[kingpin_upper], g.kit[kingpin_lower]);
  const double tie_slope = RodHinge::design_slope(kit_line, g.kit[tie_outer], g.kit[tie_inner]);
  if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(links[tie_rod]));
  return std::make_unique<const SwingingKingpin>(g, branch_of(tie_slope));
}

}  // namespace swinger
}  // namespace

const MechanismSpec swinging_kingpin{"swinging_kingpin",
                                     "sliding kingpin, swinging upper arm",
                                     swinger::points,
                                     swinger::links,
                                     swinger::strokes,
                                     swinger::wheel_centre,
                                     true,
                                     true,
                                     swinger::build};

}  // namespace lowkite
