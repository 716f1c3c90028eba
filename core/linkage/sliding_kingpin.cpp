// Sliding kingpins. In both variants the kingpin's line is known first - standing still, or through the fixed ball and
// the upper arm's ball - and the stub axle then turns about it until the tie rod fits.
#include "core/linkage/sliding_kingpin.hpp"

#include <cmath>

#include "core/linkage/joints.hpp"

namespace lowkite {
namespace {

// ---- The kingpin that stands still ----------------------------------------------------------------------------------

namespace still {

enum : int { kingpin_lower, kingpin_upper, upper_inner, tie_inner, tie_outer, wheel_centre, point_count };

constexpr std::array<PointSpec, point_count> points{{
    {"kingpin_lower", "kingpin, lower end", Body::chassis},
    {"kingpin_upper", "kingpin, upper end", Body::carrier},
    {"upper_inner", "upper link, inner end", Body::chassis},
    {"tie_inner", "tie rod, inner ball", Body::rack},
    {"tie_outer", "tie rod, outer ball", Body::knuckle},
    {"wheel_centre", "wheel centre", Body::knuckle},
}};

enum : int { upper_link, tie_rod };
constexpr std::array<LinkSpec, 2> links{{
    {"upper_link", "upper link", upper_inner, kingpin_upper, LinkHolds::camber},
    {"tie_rod", "tie rod", tie_inner, tie_outer, LinkHolds::toe},
}};

constexpr std::array<StrokeSpec, 4> strokes{{
    {upper_inner, kingpin_upper, Stroke::arm},
    {kingpin_lower, kingpin_upper, Stroke::kingpin},
    {tie_inner, tie_outer, Stroke::link},
    {wheel_centre, tie_outer, Stroke::axle},
}};

class SlidingKingpin final : public Corner {
 public:
  SlidingKingpin(const CornerGeometry& g, const RodHinge& lean, const Placement& leant, Branch tie)
      : g_(g),
        lean_(lean),
        leant_(leant),
        line_(axis_through(g.kit[kingpin_lower], g.kit[kingpin_upper])),
        stub_(line_, {}, g.set[tie_outer], g.kit[tie_outer] - g.kit[tie_inner], g.length[tie_rod], tie) {}

  tl::expected<CornerPose, LinkageFailure> solve(double slide, const SteerInput& steer) const override {
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = slide;
    const Vec3 up = leant_.direction(line_.direction);
    Placement carried = leant_;
    carried.translation += up * (slide * slide_mm_per_rad);
    const Twist sliding{Vec3::Zero(), up * slide_mm_per_rad};
    const auto turned = stub_.fit(carried, g_.set[tie_inner] + steer.shift);
    if (!turned) return tl::unexpected(blame(links[tie_rod], turned.error()));
    pose.body[at(Body::rack)].translation = steer.shift;
    pose.body[at(Body::carrier)] = leant_;  // the kingpin itself stays where it is
    pose.body[at(Body::knuckle)] = turned->body;
    pose.by_arm[at(Body::knuckle)] = stub_.twist(*turned, sliding, Vec3::Zero());
    pose.wheel_locked_by_arm = sliding;
    pose.wheel_by_steer = stub_.twist(*turned, Twist{}, steer.rate);
    pose.has_kingpin = true;
    pose.kingpin_lower = leant_.point(g_.kit[kingpin_lower]);
    pose.kingpin_upper = leant_.point(g_.kit[kingpin_upper]);
    pose.wheel_body = Body::knuckle;
    pose.wheel_centre = turned->body.point(g_.set[wheel_centre]);
    pose.spin_axis = turned->body.direction(g_.spin_axis);
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double slide, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    const Vec3 anchor = g_.set[tie_inner] + steer.shift;
    const Axis tilt = lean_.axis_on({});
    Placement leant = leant_;
    Placement stub;
    for (int round = 0; round < HoldLoop::most_rounds; ++round) {
      double moved = 0.0;
      Placement carried = leant;
      carried.translation += leant.direction(line_.direction) * (slide * slide_mm_per_rad);
      if (wanted.toe) {
        const auto t = turn_until_component(stub_.axis_on(carried).direction, carried.direction(g_.spin_axis),
                                            HoldLoop::toe_normal(wanted), 0.0);
        if (!t) return tl::unexpected(blame(links[tie_rod], t.error()));
        stub = stub_.turned(carried, *t, anchor).body;
      } else {
        const auto fitted = stub_.fit(carried, anchor);
        if (!fitted) return tl::unexpected(blame(links[tie_rod], fitted.error()));
        stub = fitted->body;
      }
      if (wanted.camber) {
        const auto t =
            turn_until_component(tilt.direction, stub.direction(g_.spin_axis), wanted.up, -std::sin(*wanted.camber));
        if (!t) return tl::unexpected(blame(links[upper_link], t.error()));
        moved = std::abs(t->sin);
        const Placement further = turned_about(tilt, *t);
        leant = further * leant;
        stub = further * stub;
      }
      if (moved < HoldLoop::settled) break;
    }
    std::array<double, max_links> length = g_.length;
    if (wanted.camber) length[upper_link] = (leant.point(lean_.ball()) - g_.set[upper_inner]).norm();
    if (wanted.toe) length[tie_rod] = (stub.point(g_.set[tie_outer]) - anchor).norm();
    return length;
  }

  /// A wheel that moves along a line swings about no point: both "links" stand across the kingpin, which puts the
  /// instant centre at infinity, where the two-line drawing has it for parallel links.
  FrontViewLinks front_view(const CornerPose& pose, double) const override {
    const Vec3 k = pose.kingpin_upper - pose.kingpin_lower;
    const Vec3 across = Vec3(0.0, k.z(), -k.y()).normalized() * 30.0;
    return {pose.kingpin_lower - across, pose.kingpin_lower, pose.kingpin_upper - across, pose.kingpin_upper};
  }

 private:
  CornerGeometry g_;
  RodHinge lean_;
  Placement leant_;  ///< the kingpin once its upper link fits
  Axis line_;        ///< the kingpin in its design coordinates
  RodHinge stub_;
};

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build(const CornerGeometry& g) {
  const Axis kit_tilt{g.kit[kingpin_lower], Vec3::UnitX()};
  const double lean_slope = RodHinge::design_slope(kit_tilt, g.kit[kingpin_upper], g.kit[upper_inner]);
  if (std::abs(lean_slope) < least_slope) return tl::unexpected(holds_nothing(links[upper_link]));
  const Axis kit_line = axis_through(g.kit[kingpin_lower], g.kit[kingpin_upper]);
  const double tie_slope = RodHinge::design_slope(kit_line, g.kit[tie_outer], g.kit[tie_inner]);
  if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(links[tie_rod]));
  // Caster shims move the kingpin's ends together with the arm that holds them; the stub axle rides along.
  const Axis tilt{g.set[kingpin_lower], Vec3::UnitX()};
  const Placement seat = seated(g.kit[kingpin_lower], g.kit[kingpin_upper], g.set[kingpin_lower], g.set[kingpin_upper]);
  const RodHinge lean(tilt, seat, g.kit[kingpin_upper], g.kit[kingpin_upper] - g.kit[upper_inner], g.length[upper_link],
                      branch_of(lean_slope));
  const auto leant = lean.fit({}, g.set[upper_inner]);
  if (!leant) return tl::unexpected(blame(links[upper_link], leant.error()));
  return std::make_unique<const SlidingKingpin>(g, lean, leant->body, branch_of(tie_slope));
}

}  // namespace still

// ---- The kingpin led by a swinging upper arm ------------------------------------------------------------------------

namespace swung {

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
        stub_(line_, {}, g.set[tie_outer], g.kit[tie_outer] - g.kit[tie_inner], g.length[tie_rod], tie) {}

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
    const auto turned = stub_.fit(carried, g_.set[tie_inner] + steer.shift);
    if (!turned) return tl::unexpected(blame(links[tie_rod], turned.error()));
    pose.body[at(Body::rack)].translation = steer.shift;
    pose.body[at(Body::upper_arm)] = arm;
    pose.by_arm[at(Body::upper_arm)] = arm_twist;
    pose.body[at(Body::carrier)] = carried;
    pose.by_arm[at(Body::carrier)] = carried_twist;
    pose.body[at(Body::knuckle)] = turned->body;
    pose.by_arm[at(Body::knuckle)] = stub_.twist(*turned, carried_twist, Vec3::Zero());
    pose.wheel_locked_by_arm = carried_twist;
    pose.wheel_by_steer = stub_.twist(*turned, Twist{}, steer.rate);
    pose.has_kingpin = true;
    pose.kingpin_lower = lower;
    pose.kingpin_upper = upper;
    pose.wheel_body = Body::knuckle;
    pose.wheel_centre = turned->body.point(g_.set[wheel_centre]);
    pose.spin_axis = turned->body.direction(g_.spin_axis);
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    const Placement arm = arm_.at_angle(arm_angle);
    const Vec3 foot = arm.point(foot_);
    const Vec3 outward = (arm.point(ball_) - foot).normalized();
    const Vec3& lower = g_.set[kingpin_lower];
    const Vec3 anchor = g_.set[tie_inner] + steer.shift;
    double reach = (arm.point(ball_) - foot).norm();
    Placement stub;
    for (int round = 0; round < HoldLoop::most_rounds; ++round) {
      const Placement carried = hung(foot + outward * reach);
      if (wanted.toe) {
        const auto t = turn_until_component(stub_.axis_on(carried).direction, carried.direction(g_.spin_axis),
                                            HoldLoop::toe_normal(wanted), 0.0);
        if (!t) return tl::unexpected(blame(links[tie_rod], t.error()));
        stub = stub_.turned(carried, *t, anchor).body;
      } else {
        const auto fitted = stub_.fit(carried, anchor);
        if (!fitted) return tl::unexpected(blame(links[tie_rod], fitted.error()));
        stub = fitted->body;
      }
      if (!wanted.camber) break;
      // A longer or shorter arm leans the kingpin in the plane of its line and the arm's reach.
      const Vec3 k = (foot + outward * reach - lower).normalized();
      const Vec3 normal = k.cross(outward).normalized();
      const auto t =
          turn_until_component(normal, stub.direction(g_.spin_axis), wanted.up, -std::sin(*wanted.camber));
      if (!t) return tl::unexpected(blame(links[upper_arm], t.error()));
      const Vec3 across = normal.cross(rotation_about(normal, *t) * k);
      reach = across.dot(lower - foot) / across.dot(outward);
      if (std::abs(t->sin) < HoldLoop::settled) break;
    }
    std::array<double, max_links> length = g_.length;
    if (wanted.camber) length[upper_arm] = reach;
    if (wanted.toe) length[tie_rod] = (stub.point(g_.set[tie_outer]) - anchor).norm();
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
  Axis line_;  ///< from the upper to the lower ball, design coordinates
  RodHinge stub_;
};

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build(const CornerGeometry& g) {
  const Axis kit_line = axis_through(g.kit[kingpin_upper], g.kit[kingpin_lower]);
  const double tie_slope = RodHinge::design_slope(kit_line, g.kit[tie_outer], g.kit[tie_inner]);
  if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(links[tie_rod]));
  return std::make_unique<const SwingingKingpin>(g, branch_of(tie_slope));
}

}  // namespace swung
}  // namespace

const MechanismSpec sliding_kingpin{"sliding_kingpin", "sliding kingpin, fixed arms",
                                    still::points,     still::links,
                                    still::strokes,    still::wheel_centre,
                                    true,              true,
                                    still::build};
const MechanismSpec swinging_kingpin{"swinging_kingpin", "sliding kingpin, swinging upper arm",
                                     swung::points,      swung::links,
                                     swung::strokes,     swung::wheel_centre,
                                     true,               true,
                                     swung::build};

}  // namespace lowkite
