// Pinned arm with a carrier on its outer hinge pin, held upright by one camber link. Three mechanisms share the chain:
// the steered front (a caster block carries a knuckle on a kingpin, held by the tie rod), the rear hub with a toe link
// (the same with the rod's inner ball on the chassis), and the solid rear hub (the wheel turns in the carrier itself;
// its toe comes from the directions of the pins).
#include "core/linkage/hub_carrier.hpp"

#include <cmath>

#include "core/linkage/joints.hpp"

namespace lowkite {
namespace {

enum : int {
  arm_inner_front,
  arm_inner_rear,
  arm_outer_front,
  arm_outer_rear,
  link_inner,
  link_outer,
  wheel_centre,
  solid_point_count,
  kingpin_lower = solid_point_count,
  kingpin_upper,
  tie_inner,
  tie_outer,
  point_count
};

constexpr std::array<PointSpec, point_count> front_points{{
    {"arm_inner_front", "arm's inner pin, front end", Body::chassis},
    {"arm_inner_rear", "arm's inner pin, rear end", Body::chassis},
    {"arm_outer_front", "arm's outer pin, front end", Body::arm},
    {"arm_outer_rear", "arm's outer pin, rear end", Body::arm},
    {"link_inner", "camber link, inner ball", Body::chassis},
    {"link_outer", "camber link, outer ball", Body::carrier},
    {"wheel_centre", "wheel centre", Body::knuckle},
    {"kingpin_lower", "kingpin, lower end", Body::carrier},
    {"kingpin_upper", "kingpin, upper end", Body::carrier},
    {"tie_inner", "tie rod, inner ball", Body::rack},
    {"tie_outer", "tie rod, outer ball", Body::knuckle},
}};

constexpr auto rear_points = [] {
  std::array<PointSpec, solid_point_count> rear{};
  for (std::size_t i = 0; i < rear.size(); ++i) rear[i] = front_points[i];
  rear[wheel_centre].body = Body::carrier;
  return rear;
}();

constexpr auto toe_link_points = [] {
  auto rear = front_points;
  rear[tie_inner] = {"tie_inner", "toe link, inner ball", Body::chassis};
  rear[tie_outer] = {"tie_outer", "toe link, outer ball", Body::knuckle};
  return rear;
}();

constexpr int camber_link = 0;
constexpr int tie_rod = 1;

constexpr std::array<LinkSpec, 2> front_links{{
    {"camber_link", "camber link", link_inner, link_outer, LinkHolds::camber},
    {"tie_rod", "tie rod", tie_inner, tie_outer, LinkHolds::toe},
}};
constexpr std::array<LinkSpec, 2> toe_link_links{{
    front_links[camber_link],
    {"toe_link", "toe link", tie_inner, tie_outer, LinkHolds::toe},
}};

constexpr std::array<StrokeSpec, 10> front_strokes{{
    {arm_inner_front, arm_inner_rear, Stroke::pin},
    {arm_inner_front, arm_outer_front, Stroke::arm},
    {arm_inner_rear, arm_outer_rear, Stroke::arm},
    {arm_outer_front, arm_outer_rear, Stroke::pin},
    {arm_outer_front, kingpin_lower, Stroke::carrier},
    {kingpin_upper, link_outer, Stroke::carrier},
    {link_inner, link_outer, Stroke::link},
    {tie_inner, tie_outer, Stroke::link},
    {kingpin_lower, kingpin_upper, Stroke::kingpin},
    {wheel_centre, tie_outer, Stroke::axle},
}};

constexpr std::array<StrokeSpec, 7> rear_strokes{{
    {arm_inner_front, arm_inner_rear, Stroke::pin},
    {arm_inner_front, arm_outer_front, Stroke::arm},
    {arm_inner_rear, arm_outer_rear, Stroke::arm},
    {arm_outer_front, arm_outer_rear, Stroke::pin},
    {arm_outer_front, wheel_centre, Stroke::carrier},
    {wheel_centre, link_outer, Stroke::carrier},
    {link_inner, link_outer, Stroke::link},
}};

tl::expected<RodHinge, LinkageFailure> make_hinge(const CornerGeometry& g, int pin_a, int pin_b, const LinkSpec& link,
                                                  double length) {
  const Axis kit_axis = axis_through(g.kit[at(pin_a)], g.kit[at(pin_b)]);
  const double slope = RodHinge::design_slope(kit_axis, g.kit[at(link.outer)], g.kit[at(link.inner)]);
  if (std::abs(slope) < least_slope) return tl::unexpected(holds_nothing(link));
  return RodHinge(axis_through(g.set[at(pin_a)], g.set[at(pin_b)]),
                  seated(g.kit[at(pin_a)], g.kit[at(pin_b)], g.set[at(pin_a)], g.set[at(pin_b)]), g.set[at(link.outer)],
                  g.kit[at(link.outer)] - g.kit[at(link.inner)], length, branch_of(slope));
}

class HubCarrier final : public Corner {
 public:
  HubCarrier(std::span<const LinkSpec> links, const CornerGeometry& g, const RodHinge& carrier,
             const std::optional<RodHinge>& knuckle)
      : links_(links), g_(g), arm_(g, arm_inner_front, arm_inner_rear), carrier_(carrier), knuckle_(knuckle) {}

  tl::expected<CornerPose, LinkageFailure> solve(double arm_angle, const SteerInput& steer) const override {
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = arm_angle;
    const Placement arm = arm_.at_angle(arm_angle);
    const Twist arm_twist = arm_.twist();
    const auto carrier = carrier_.fit(arm, g_.set[link_inner]);
    if (!carrier) return tl::unexpected(blame(links_[camber_link], carrier.error()));
    const Twist carrier_twist = carrier_.twist(*carrier, arm_twist, Vec3::Zero());
    pose.body[at(Body::arm)] = arm;
    pose.by_arm[at(Body::arm)] = arm_twist;
    pose.body[at(Body::carrier)] = carrier->body;
    pose.by_arm[at(Body::carrier)] = carrier_twist;
    pose.wheel_locked_by_arm = carrier_twist;
    if (!knuckle_) {
      place_wheel(pose, Body::carrier);  // the wheel turns in the carrier itself
      return solved;
    }
    const Vec3 anchor = g_.set[tie_inner] + steer.shift;
    const auto knuckle = knuckle_->fit(carrier->body, anchor);
    if (!knuckle) return tl::unexpected(blame(links_[tie_rod], knuckle.error()));
    pose.body[at(Body::rack)].translation = steer.shift;
    pose.body[at(Body::knuckle)] = knuckle->body;
    pose.by_arm[at(Body::knuckle)] = knuckle_->twist(*knuckle, carrier_twist, Vec3::Zero());
    pose.wheel_by_steer = knuckle_->twist(*knuckle, Twist{}, steer.rate);
    pose.has_kingpin = true;
    pose.kingpin_lower = carrier->body.point(g_.set[kingpin_lower]);
    pose.kingpin_upper = carrier->body.point(g_.set[kingpin_upper]);
    place_wheel(pose, Body::knuckle);
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    const Placement arm = arm_.at_angle(arm_angle);
    const Vec3 tie_anchor = g_.set[tie_inner] + steer.shift;
    const bool hold_toe = wanted.toe.has_value() && knuckle_.has_value();
    auto carrier = carrier_.fit(arm, g_.set[link_inner]);
    // With its link open the carrier may start anywhere; the untouched position is as good a start as any.
    RodHinge::Solution c = carrier ? *carrier : carrier_.turned(arm, Turn{}, g_.set[link_inner]);
    if (!carrier && !wanted.camber) return tl::unexpected(blame(links_[camber_link], carrier.error()));
    RodHinge::Solution k;
    for (int round = 0; round < HoldLoop::most_rounds; ++round) {
      double moved = 0.0;
      if (knuckle_) {
        if (hold_toe) {
          const Vec3 unturned = knuckle_->unturned(c.body).direction(g_.spin_axis);
          const auto t =
              turn_until_component(knuckle_->axis_on(c.body).direction, unturned, HoldLoop::toe_normal(wanted), 0.0);
          if (!t) return tl::unexpected(blame(links_[tie_rod], t.error()));
          k = knuckle_->turned(c.body, *t, tie_anchor);
        } else {
          const auto fitted = knuckle_->fit(c.body, tie_anchor);
          if (!fitted) return tl::unexpected(blame(links_[tie_rod], fitted.error()));
          k = *fitted;
        }
      }
      if (wanted.camber) {
        const Vec3 spin = (knuckle_ ? k.body : c.body).direction(g_.spin_axis);
        const auto t =
            turn_until_component(carrier_.axis_on(arm).direction, spin, wanted.up, -std::sin(*wanted.camber));
        if (!t) return tl::unexpected(blame(links_[camber_link], t.error()));
        moved = std::abs(t->sin);
        const Placement further = turned_about(carrier_.axis_on(arm), *t);
        c.body = further * c.body;
        k.body = further * k.body;
      }
      if (moved < HoldLoop::settled) break;
    }
    std::array<double, max_links> length = g_.length;
    if (wanted.camber) length[camber_link] = (c.body.point(carrier_.ball()) - g_.set[link_inner]).norm();
    if (hold_toe) length[tie_rod] = (k.body.point(knuckle_->ball()) - tie_anchor).norm();
    return length;
  }

  FrontViewLinks front_view(const CornerPose& pose, double x) const override {
    const Placement& arm = pose.placement(Body::arm);
    return {cut_at(g_.set[arm_inner_rear], g_.set[arm_inner_front], x),
            cut_at(arm.point(g_.set[arm_outer_rear]), arm.point(g_.set[arm_outer_front]), x), g_.set[link_inner],
            pose.placement(Body::carrier).point(g_.set[link_outer])};
  }

 private:
  void place_wheel(CornerPose& pose, Body body) const {
    pose.wheel_body = Body::knuckle;
    pose.body[at(Body::knuckle)] = pose.placement(body);
    pose.by_arm[at(Body::knuckle)] = pose.twist(body);
    pose.wheel_centre = pose.placement(body).point(g_.set[wheel_centre]);
    pose.spin_axis = pose.placement(body).direction(g_.spin_axis);
  }

  std::span<const LinkSpec> links_;
  CornerGeometry g_;
  PinnedArm arm_;
  RodHinge carrier_;
  std::optional<RodHinge> knuckle_;
};

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build_with_knuckle(std::span<const LinkSpec> links,
                                                                               const CornerGeometry& g) {
  const auto carrier = make_hinge(g, arm_outer_rear, arm_outer_front, links[camber_link], g.length[camber_link]);
  if (!carrier) return tl::unexpected(carrier.error());
  const auto knuckle = make_hinge(g, kingpin_lower, kingpin_upper, links[tie_rod], g.length[tie_rod]);
  if (!knuckle) return tl::unexpected(knuckle.error());
  return std::make_unique<const HubCarrier>(links, g, *carrier, *knuckle);
}

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build_front(const CornerGeometry& g) {
  return build_with_knuckle(front_links, g);
}
tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build_toe_link(const CornerGeometry& g) {
  return build_with_knuckle(toe_link_links, g);
}

tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build_rear(const CornerGeometry& g) {
  const std::span<const LinkSpec> links = std::span(front_links).first(1);
  const auto carrier = make_hinge(g, arm_outer_rear, arm_outer_front, links[camber_link], g.length[camber_link]);
  if (!carrier) return tl::unexpected(carrier.error());
  return std::make_unique<const HubCarrier>(links, g, *carrier, std::nullopt);
}

}  // namespace

const MechanismSpec hub_carrier_front{"hub_carrier", "hub carrier with camber link",
                                      front_points,  front_links,
                                      front_strokes, wheel_centre,
                                      true,          true,
                                      build_front};
const MechanismSpec solid_hub{"solid_hub",  "solid hub with camber link",
                              rear_points,  std::span<const LinkSpec>(front_links).first(1),
                              rear_strokes, wheel_centre,
                              false,        true,
                              build_rear};
const MechanismSpec toe_link_hub{"toe_link_hub",  "hub carrier with camber link and toe link",
                                 toe_link_points, toe_link_links,
                                 front_strokes,   wheel_centre,
                                 false,           true,
                                 build_toe_link};

}  // namespace lowkite
