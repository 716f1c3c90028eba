// Ball-joint double wishbone. The lower arm swings on its pin; the two upper links, or the upper arm, carry the upper
// ball round a circle; the upright's height between the balls stops it there; the tie rod (at a rear axle the toe link)
// stops the upright from turning about the line of the balls.
#include "core/linkage/double_wishbone.hpp"

#include <cmath>

#include "core/linkage/steered_wheel.hpp"

namespace lowkite {
namespace {
namespace wishbone {  // every mechanism has points, links and strokes

enum : int {
  arm_inner_front,
  arm_inner_rear,
  lower_ball,
  upper_inner_front,
  upper_inner_rear,
  upper_ball,
  tie_inner,
  tie_outer,
  wheel_centre,
  point_count
};

constexpr std::array<PointSpec, point_count> points{{
    {"arm_inner_front", "lower arm's inner pin, front end", Body::chassis},
    {"arm_inner_rear", "lower arm's inner pin, rear end", Body::chassis},
    {"lower_ball", "lower ball joint", Body::arm},
    {"upper_inner_front", "upper front link, inner ball", Body::chassis},
    {"upper_inner_rear", "upper rear link, inner ball", Body::chassis},
    {"upper_ball", "upper ball joint", Body::knuckle},
    {"tie_inner", "tie rod, inner ball", Body::rack},
    {"tie_outer", "tie rod, outer ball", Body::knuckle},
    {"wheel_centre", "wheel centre", Body::knuckle},
}};

constexpr auto arm_points = [] {
  auto p = points;
  p[upper_inner_front].label = "upper arm's pin, front end";
  p[upper_inner_rear].label = "upper arm's pin, rear end";
  return p;
}();

constexpr auto rear_points = [] {
  auto p = points;
  p[tie_inner] = {"tie_inner", "toe link, inner ball", Body::chassis};
  p[tie_outer] = {"tie_outer", "toe link, outer ball", Body::knuckle};
  return p;
}();

constexpr std::array<LinkSpec, 3> links{{
    {"upper_front_link", "upper front link", upper_inner_front, upper_ball, LinkHolds::camber},
    {"upper_rear_link", "upper rear link", upper_inner_rear, upper_ball, LinkHolds::camber},
    {"tie_rod", "tie rod", tie_inner, tie_outer, LinkHolds::toe},
}};
constexpr std::array<LinkSpec, 2> arm_links{{
    {"upper_arm", "upper arm's ball", upper_inner_front, upper_ball, LinkHolds::camber, upper_inner_rear},
    links[2],
}};
constexpr std::array<LinkSpec, 3> rear_links{{
    links[0],
    links[1],
    {"toe_link", "toe link", tie_inner, tie_outer, LinkHolds::toe},
}};

/// What tells the variants apart: which links there are, and whether the ball hangs on two of them or on an arm.
struct Variant {
  std::span<const LinkSpec> links;
  bool rigid_arm;

  [[nodiscard]] int tie() const { return static_cast<int>(links.size()) - 1; }
  [[nodiscard]] const LinkSpec& tie_link() const { return links.back(); }
};
constexpr Variant two_links{links, false};
constexpr Variant one_arm{arm_links, true};
constexpr Variant rear_two_links{rear_links, false};
enum : int { upper_front_link, upper_rear_link };
constexpr int upper_arm = 0;

constexpr LinkSpec upright_as_link{"upright", "upright between its two ball joints", lower_ball, upper_ball,
                                   LinkHolds::nothing};

constexpr std::array<StrokeSpec, 8> strokes{{
    {arm_inner_front, arm_inner_rear, Stroke::pin},
    {arm_inner_front, lower_ball, Stroke::arm},
    {arm_inner_rear, lower_ball, Stroke::arm},
    {upper_inner_front, upper_ball, Stroke::link},
    {upper_inner_rear, upper_ball, Stroke::link},
    {lower_ball, upper_ball, Stroke::kingpin},
    {tie_inner, tie_outer, Stroke::link},
    {wheel_centre, tie_outer, Stroke::axle},
}};

constexpr auto arm_strokes = [] {
  auto all = strokes;
  for (StrokeSpec& s : all)
    if (s.to == upper_ball && s.stroke == Stroke::link) s.stroke = Stroke::arm;
  return all;
}();

/// The circle on which two links of given lengths, or a rigid arm, let their ball move.
struct UpperCircle {
  Axis axis;
  double station = 0.0;  ///< along the axis from the rear inner ball
  double radius = 0.0;
};

tl::expected<UpperCircle, LinkageFailure> upper_circle(const Variant& v, const CornerGeometry& g) {
  const Vec3& front = g.set[upper_inner_front];
  const Vec3& rear = g.set[upper_inner_rear];
  UpperCircle c;
  if (v.rigid_arm) {
    c.axis = axis_through(rear, front);
    const Placement seat = seated(g.kit[upper_inner_rear], g.kit[upper_inner_front], rear, front);
    c.station = c.axis.direction.dot(seat.point(g.set[upper_ball]) - rear);
    c.radius = g.length[upper_arm];
    return c;
  }
  const double front_length = g.length[upper_front_link];
  const double rear_length = g.length[upper_rear_link];
  c.axis = axis_through(rear, front);
  const double spread = (front - rear).norm();
  c.station = (rear_length * rear_length - front_length * front_length + spread * spread) / (2.0 * spread);
  const double r2 = rear_length * rear_length - c.station * c.station;
  if (!(r2 > 0.0)) {
    const LinkSpec& blamed = c.station > 0 ? links[upper_rear_link] : links[upper_front_link];
    return tl::unexpected(LinkageFailure{blamed.id, blamed.label, std::abs(c.station) - rear_length, false});
  }
  c.radius = std::sqrt(r2);
  return c;
}

class DoubleWishbone final : public Corner {
 public:
  DoubleWishbone(const Variant& variant, const CornerGeometry& g, const UpperCircle& circle, Branch upper, Branch tie)
      : variant_(variant),
        g_(g),
        arm_(g, arm_inner_front, arm_inner_rear),
        circle_(circle),
        upper_ball_on_arm_(ball_at_kit_bearing(g, circle)),
        upper_branch_(upper),
        upright_height_((g.set[upper_ball] - g.kit[lower_ball]).norm()),
        ball_line_(axis_through(g.kit[lower_ball], g.set[upper_ball])),
        wheel_(g,
               RodHinge(ball_line_, {}, g.set[tie_outer], g.kit[tie_outer] - g.kit[tie_inner],
                        g.length[at(variant.tie())], tie),
               variant.tie_link(), wheel_centre) {}

  tl::expected<CornerPose, LinkageFailure> solve(double arm_angle, const SteerInput& steer) const override {
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = arm_angle;
    const Placement arm = arm_.at_angle(arm_angle);
    const Twist arm_twist = arm_.twist();
    const Vec3 lower = arm.point(g_.set[lower_ball]);

    const RodHinge swinging(circle_.axis, {}, upper_ball_on_arm_, g_.kit[upper_ball] - g_.kit[lower_ball],
                            upright_height_, upper_branch_);
    const auto swung = swinging.fit({}, lower);
    if (!swung) return tl::unexpected(blame(upright_as_link, swung.error()));
    const Twist upper_twist = swinging.twist(*swung, {}, arm_twist.at(lower));
    const Vec3 upper = swung->body.point(upper_ball_on_arm_);

    const Placement carried = upright_unturned(lower, upper);
    const Twist carried_twist = twist_of_ball_line(lower, arm_twist.at(lower), upper, upper_twist.at(upper));
    if (const auto placed = wheel_.place(pose, carried, carried_twist, steer); !placed)
      return tl::unexpected(placed.error());
    pose.body[at(Body::arm)] = arm;
    pose.by_arm[at(Body::arm)] = arm_twist;
    pose.body[at(Body::upper_arm)] = swung->body;
    pose.by_arm[at(Body::upper_arm)] = upper_twist;
    pose.kingpin_lower = lower;
    pose.kingpin_upper = upper;
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    const auto start = solve(arm_angle, steer);
    if (!start) return tl::unexpected(start.error());
    const Vec3 lower = start->kingpin_lower;
    // Both upper links turned alike keep the ball in its plane across the upper axis, and with it the caster: the
    // upright tilts about a line through the lower ball, parallel to that axis.
    const auto held = hold_by_tilting({lower, circle_.axis.direction}, start->placement(Body::carrier), &wheel_,
                                      g_.spin_axis, steer, wanted, variant_.links.front());
    if (!held) return tl::unexpected(held.error());
    std::array<double, max_links> length = g_.length;
    const Vec3 upper = held->wheel.point(g_.set[upper_ball]);
    if (wanted.camber && variant_.rigid_arm) {
      const Vec3 out = upper - circle_.axis.point;
      length[upper_arm] = (out - circle_.axis.direction * circle_.axis.direction.dot(out)).norm();
    } else if (wanted.camber) {
      length[upper_front_link] = (upper - g_.set[upper_inner_front]).norm();
      length[upper_rear_link] = (upper - g_.set[upper_inner_rear]).norm();
    }
    if (wanted.toe) length[at(variant_.tie())] = wheel_.rod_length(held->wheel, steer);
    return length;
  }

  FrontViewLinks front_view(const CornerPose& pose, double x) const override {
    return {cut_at(g_.set[arm_inner_rear], g_.set[arm_inner_front], x), pose.kingpin_lower,
            cut_at(g_.set[upper_inner_rear], g_.set[upper_inner_front], x), pose.kingpin_upper};
  }

 private:
  /// The upper ball on its circle, seen from the upper axis in the same direction as on the kit car.
  static Vec3 ball_at_kit_bearing(const CornerGeometry& g, const UpperCircle& c) {
    const Vec3 out = g.kit[upper_ball] - c.axis.point;
    const Vec3 bearing = (out - c.axis.direction * c.axis.direction.dot(out)).normalized();
    return c.axis.point + c.axis.direction * c.station + bearing * c.radius;
  }

  [[nodiscard]] Placement upright_unturned(const Vec3& lower, const Vec3& upper) const {
    const Mat3 r = least_rotation(ball_line_.direction, (upper - lower).normalized());
    return {r, lower - r * ball_line_.point};
  }

  /// A twist that moves both balls as their arms do and has no part about the line between them.
  [[nodiscard]] static Twist twist_of_ball_line(const Vec3& lower, const Vec3& lower_velocity, const Vec3& upper,
                                                const Vec3& upper_velocity) {
    const Vec3 k = upper - lower;
    const Vec3 w = k.cross(upper_velocity - lower_velocity) / k.squaredNorm();
    return {w, lower_velocity - w.cross(lower)};
  }

  const Variant& variant_;
  CornerGeometry g_;
  PinnedArm arm_;
  UpperCircle circle_;
  Vec3 upper_ball_on_arm_;
  Branch upper_branch_;
  double upright_height_;
  Axis ball_line_;
  SteeredWheel wheel_;
};

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build(const Variant& v, const CornerGeometry& g) {
  const Axis kit_upper = axis_through(g.kit[upper_inner_rear], g.kit[upper_inner_front]);
  const double upper_slope = RodHinge::design_slope(kit_upper, g.kit[upper_ball], g.kit[lower_ball]);
  if (std::abs(upper_slope) < least_slope) return tl::unexpected(holds_nothing(upright_as_link));
  const Axis kit_balls = axis_through(g.kit[lower_ball], g.kit[upper_ball]);
  const double tie_slope = RodHinge::design_slope(kit_balls, g.kit[tie_outer], g.kit[tie_inner]);
  if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(v.tie_link()));
  const auto circle = upper_circle(v, g);
  if (!circle) return tl::unexpected(circle.error());
  return std::make_unique<const DoubleWishbone>(v, g, *circle, branch_of(upper_slope), branch_of(tie_slope));
}

template <const Variant& variant>
tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build_as(const CornerGeometry& g) {
  return build(variant, g);
}

}  // namespace wishbone
}  // namespace

const MechanismSpec double_wishbone{"double_wishbone",
                                    "ball-joint wishbone with two upper links",
                                    wishbone::points,
                                    wishbone::links,
                                    wishbone::strokes,
                                    wishbone::wheel_centre,
                                    true,
                                    true,
                                    wishbone::build_as<wishbone::two_links>};
const MechanismSpec upper_arm_wishbone{"upper_arm_wishbone",
                                       "ball-joint wishbone with an upper arm",
                                       wishbone::arm_points,
                                       wishbone::arm_links,
                                       wishbone::arm_strokes,
                                       wishbone::wheel_centre,
                                       true,
                                       true,
                                       wishbone::build_as<wishbone::one_arm>};
const MechanismSpec ball_joint_rear{"ball_joint_rear",
                                    "ball-joint rear with two upper links and a toe link",
                                    wishbone::rear_points,
                                    wishbone::rear_links,
                                    wishbone::strokes,
                                    wishbone::wheel_centre,
                                    false,
                                    true,
                                    wishbone::build_as<wishbone::rear_two_links>};

}  // namespace lowkite
