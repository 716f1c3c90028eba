// Pinned arm with a carrier on its outer hinge pin, held upright by one camber link. Three mechanisms share the chain:
// the steered front (a caster block carries a knuckle on a kingpin, held by the tie rod), the rear hub with a toe link
// (the same with the rod's inner ball on the chassis), and the solid rear hub (the wheel turns in the carrier itself;
// its toe comes from the directions of the pins).
#include "core/linkage/hub_carrier.hpp"

#include <cmath>

#include "core/linkage/steered_wheel.hpp"

namespace lowkite {
namespace {
namespace hub {  // every mechanism has points, links and strokes

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
      : links_(links), g_(g), arm_(g, arm_inner_front, arm_inner_rear), carrier_(carrier) {
    if (knuckle) wheel_.emplace(g, *knuckle, links[tie_rod], wheel_centre);
  }

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
    if (!wheel_) {
      // The wheel turns in the carrier itself.
      for (const Body b : {Body::carrier, Body::knuckle}) {
        pose.body[at(b)] = carrier->body;
        pose.by_arm[at(b)] = carrier_twist;
      }
      pose.wheel_locked_by_arm = carrier_twist;
      point_wheel(pose, g_.set[wheel_centre], g_.spin_axis);
      return solved;
    }
    if (const auto placed = wheel_->place(pose, carrier->body, carrier_twist, steer); !placed)
      return tl::unexpected(placed.error());
    pose.kingpin_lower = carrier->body.point(g_.set[kingpin_lower]);
    pose.kingpin_upper = carrier->body.point(g_.set[kingpin_upper]);
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    const Placement arm = arm_.at_angle(arm_angle);
    const auto carrier = carrier_.fit(arm, g_.set[link_inner]);
    if (!carrier && !wanted.camber) return tl::unexpected(blame(links_[camber_link], carrier.error()));
    // With its link open the carrier may start anywhere; the untouched position is as good a start as any.
    const Placement start = carrier ? carrier->body : carrier_.turned(arm, Turn{}, g_.set[link_inner]).body;
    const auto held = hold_by_tilting(carrier_.axis_on(arm), start, wheel_ ? &*wheel_ : nullptr, g_.spin_axis, steer,
                                      wanted, links_[camber_link]);
    if (!held) return tl::unexpected(held.error());
    std::array<double, max_links> length = g_.length;
    if (wanted.camber) length[camber_link] = (held->carrier.point(carrier_.ball()) - g_.set[link_inner]).norm();
    if (wanted.toe && wheel_) length[tie_rod] = wheel_->rod_length(held->wheel, steer);
    return length;
  }

  FrontViewLinks front_view(const CornerPose& pose, double x) const override {
    const Placement& arm = pose.placement(Body::arm);
    return {cut_at(g_.set[arm_inner_rear], g_.set[arm_inner_front], x),
            cut_at(arm.point(g_.set[arm_outer_rear]), arm.point(g_.set[arm_outer_front]), x), g_.set[link_inner],
            pose.placement(Body::carrier).point(g_.set[link_outer])};
  }

 private:
  std::span<const LinkSpec> links_;
  CornerGeometry g_;
  PinnedArm arm_;
  RodHinge carrier_;
  std::optional<SteeredWheel> wheel_;  ///< none: a solid hub
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

}  // namespace hub
}  // namespace

const MechanismSpec hub_carrier_front{"hub_carrier",
                                      "hub carrier with camber link",
                                      hub::front_points,
                                      hub::front_links,
                                      hub::front_strokes,
                                      hub::wheel_centre,
                                      true,
                                      true,
                                      hub::build_front};
const MechanismSpec solid_hub{"solid_hub",
                              "solid hub with camber link",
                              hub::rear_points,
                              std::span<const LinkSpec>(hub::front_links).first(1),
                              hub::rear_strokes,
                              hub::wheel_centre,
                              false,
                              true,
                              hub::build_rear};
const MechanismSpec toe_link_hub{"toe_link_hub",
                                 "hub carrier with camber link and toe link",
                                 hub::toe_link_points,
                                 hub::toe_link_links,
                                 hub::front_strokes,
                                 hub::wheel_centre,
                                 false,
                                 true,
                                 hub::build_toe_link};

}  // namespace lowkite
