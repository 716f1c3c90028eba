// The horn on the servo's shaft: shared by every steering.
#pragma once

#include "core/linkage/joints.hpp"
#include "core/linkage/steering.hpp"

namespace lowkite {

/// A body that turns with the servo's shaft. When shims raise the servo, the horn rides along.
class ServoHorn {
 public:
  ServoHorn(const SteeringGeometry& g, PointHandle shaft_a, PointHandle shaft_b)
      : shaft_(axis_through(g.set[shaft_a], g.set[shaft_b])),
        seat_(seated(g.kit[shaft_a], g.kit[shaft_b], g.set[shaft_a], g.set[shaft_b])) {}

  [[nodiscard]] Placement at_turn(double turn) const { return turned_about(shaft_, Turn::by(turn)) * seat_; }
  [[nodiscard]] Twist twist() const { return turning_about(shaft_, 1.0); }
  [[nodiscard]] const Axis& shaft() const { return shaft_; }
  [[nodiscard]] const Placement& seat() const { return seat_; }

  /// The turn at which `ball` is `length` from `anchor`; `kit_ball` and `kit_anchor` tell the assembly.
  [[nodiscard]] tl::expected<double, RodMisfit> turn_to_reach(const Vec3& ball, const Vec3& anchor, double length,
                                                              const Vec3& kit_ball, const Vec3& kit_anchor,
                                                              Branch branch) const {
    const auto t = turn_until_rod_fits(shaft_, seat_.point(ball), anchor, length, branch, kit_ball - kit_anchor);
    if (!t) return tl::unexpected(t.error());
    return t->angle();
  }

 private:
  Axis shaft_;
  Placement seat_;
};

/// Where a body of the steering carries a tie rod's ball.
inline void carry_ball(SteeringPose& pose, std::size_t side, const Vec3& ball, const Placement& body,
                       const Twist& twist) {
  const Vec3 now = body.point(ball);
  pose.tie_shift[side] = now - ball;
  pose.tie_rate[side] = twist.at(now);
}

inline Placement& body_of(SteeringPose& pose, Body b) {
  return pose.body[at(b) - at(Body::horn)];
}
inline Twist& twist_of(SteeringPose& pose, Body b) {
  return pose.by_servo[at(b) - at(Body::horn)];
}

}  // namespace lowkite
