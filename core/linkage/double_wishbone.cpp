// Ball-joint double wishbones: with two upper links or an upper arm, in front and behind.
#include "core/linkage/double_wishbone.hpp"

#include "core/linkage/chains.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace wishbone {
namespace {

constexpr std::array<PointSpec, point_count> points{{
    {"arm_inner_front", marked("lower arm's inner pin, front end"), Body::chassis},
    {"arm_inner_rear", marked("lower arm's inner pin, rear end"), Body::chassis},
    {"lower_ball", marked("lower ball joint"), Body::arm},
    {"upper_inner_front", marked("upper front link, inner ball"), Body::chassis},
    {"upper_inner_rear", marked("upper rear link, inner ball"), Body::chassis},
    {"upper_ball", marked("upper ball joint"), Body::knuckle},
    {"tie_inner", marked("tie rod, inner ball"), Body::rack},
    {"tie_outer", marked("tie rod, outer ball"), Body::knuckle},
    {"wheel_centre", marked("wheel centre"), Body::knuckle},
}};

constexpr auto arm_points = [] {
  auto p = points;
  p[upper_inner_front].label = marked("upper arm's pin, front end");
  p[upper_inner_rear].label = marked("upper arm's pin, rear end");
  return p;
}();

constexpr auto rear_points = [] {
  auto p = points;
  p[tie_inner] = {"tie_inner", marked("toe link, inner ball"), Body::chassis};
  p[tie_outer] = {"tie_outer", marked("toe link, outer ball"), Body::knuckle};
  return p;
}();

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

}  // namespace
}  // namespace wishbone

const MechanismSpec double_wishbone{"double_wishbone",
                                    marked("ball-joint wishbone with two upper links"),
                                    wishbone::points,
                                    wishbone::links,
                                    wishbone::strokes,
                                    wishbone::wheel_centre,
                                    true,
                                    true,
                                    build_chain<WishboneChain, wishbone::two_links>,
                                    assemble_chain<WishboneChain, wishbone::two_links>};
const MechanismSpec upper_arm_wishbone{"upper_arm_wishbone",
                                       marked("ball-joint wishbone with an upper arm"),
                                       wishbone::arm_points,
                                       wishbone::arm_links,
                                       wishbone::arm_strokes,
                                       wishbone::wheel_centre,
                                       true,
                                       true,
                                       build_chain<WishboneChain, wishbone::one_arm>,
                                       assemble_chain<WishboneChain, wishbone::one_arm>};
const MechanismSpec ball_joint_rear{"ball_joint_rear",
                                    marked("ball-joint rear with two upper links and a toe link"),
                                    wishbone::rear_points,
                                    wishbone::rear_links,
                                    wishbone::strokes,
                                    wishbone::wheel_centre,
                                    false,
                                    true,
                                    build_chain<WishboneChain, wishbone::rear_two_links>,
                                    assemble_chain<WishboneChain, wishbone::rear_two_links>};

}  // namespace lowkite
