// Pinned arm with a carrier on its outer hinge pin, held upright by one camber link. Three mechanisms share the chain:
// the steered front (a caster block carries a knuckle on a kingpin, held by the tie rod), the rear hub with a toe link
// (the same with the rod's inner ball on the chassis), and the solid rear hub (the wheel turns in the carrier itself;
// its toe comes from the directions of the pins).
#include "core/linkage/hub_carrier.hpp"

#include "core/linkage/chains.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace hub {
namespace {

constexpr std::array<PointSpec, point_count> front_points{{
    {"arm_inner_front", marked("arm's inner pin, front end"), Body::chassis},
    {"arm_inner_rear", marked("arm's inner pin, rear end"), Body::chassis},
    {"arm_outer_front", marked("arm's outer pin, front end"), Body::arm},
    {"arm_outer_rear", marked("arm's outer pin, rear end"), Body::arm},
    {"link_inner", marked("camber link, inner ball"), Body::chassis},
    {"link_outer", marked("camber link, outer ball"), Body::carrier},
    {"wheel_centre", marked("wheel centre"), Body::knuckle},
    {"kingpin_lower", marked("kingpin, lower end"), Body::carrier},
    {"kingpin_upper", marked("kingpin, upper end"), Body::carrier},
    {"tie_inner", marked("tie rod, inner ball"), Body::rack},
    {"tie_outer", marked("tie rod, outer ball"), Body::knuckle},
}};

constexpr auto rear_points = [] {
  std::array<PointSpec, solid_point_count> rear{};
  for (std::size_t i = 0; i < rear.size(); ++i) rear[i] = front_points[i];
  rear[wheel_centre].body = Body::carrier;
  return rear;
}();

constexpr auto toe_link_points = [] {
  auto rear = front_points;
  rear[tie_inner] = {"tie_inner", marked("toe link, inner ball"), Body::chassis};
  rear[tie_outer] = {"tie_outer", marked("toe link, outer ball"), Body::knuckle};
  return rear;
}();

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

}  // namespace
}  // namespace hub

const MechanismSpec hub_carrier_front{"hub_carrier",
                                      marked("hub carrier with camber link"),
                                      hub::front_points,
                                      hub::front_links,
                                      hub::front_strokes,
                                      hub::wheel_centre,
                                      true,
                                      true,
                                      build_chain<HubChain, hub::front>,
                                      assemble_chain<HubChain, hub::front>};
const MechanismSpec solid_hub{"solid_hub",
                              marked("solid hub with camber link"),
                              hub::rear_points,
                              hub::solid.links,
                              hub::rear_strokes,
                              hub::wheel_centre,
                              false,
                              true,
                              build_chain<HubChain, hub::solid>,
                              assemble_chain<HubChain, hub::solid>};
const MechanismSpec toe_link_hub{"toe_link_hub",
                                 marked("hub carrier with camber link and toe link"),
                                 hub::toe_link_points,
                                 hub::toe_link_links,
                                 hub::front_strokes,
                                 hub::wheel_centre,
                                 false,
                                 true,
                                 build_chain<HubChain, hub::toe_link>,
                                 assemble_chain<HubChain, hub::toe_link>};

}  // namespace lowkite
