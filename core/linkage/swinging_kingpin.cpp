// The kingpin is led by a swinging upper arm: its upper ball goes with the arm, its lower end slides through a ball
// that stands still, and the stub axle on it turns about its line until the tie rod fits.
#include "core/linkage/swinging_kingpin.hpp"

#include "core/linkage/chains.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace swinger {
namespace {

constexpr std::array<PointSpec, point_count> points{{
    {"kingpin_lower", marked("kingpin's ball in the lower arm"), Body::chassis},
    {"upper_inner_front", marked("upper arm's pin, front end"), Body::chassis},
    {"upper_inner_rear", marked("upper arm's pin, rear end"), Body::chassis},
    {"kingpin_upper", marked("kingpin's ball in the upper arm"), Body::upper_arm},
    {"tie_inner", marked("tie rod, inner ball"), Body::rack},
    {"tie_outer", marked("tie rod, outer ball"), Body::knuckle},
    {"wheel_centre", marked("wheel centre"), Body::knuckle},
}};

constexpr std::array<StrokeSpec, 6> strokes{{
    {upper_inner_front, upper_inner_rear, Stroke::pin},
    {upper_inner_front, kingpin_upper, Stroke::arm},
    {upper_inner_rear, kingpin_upper, Stroke::arm},
    {kingpin_lower, kingpin_upper, Stroke::kingpin},
    {tie_inner, tie_outer, Stroke::link},
    {wheel_centre, tie_outer, Stroke::axle},
}};

}  // namespace
}  // namespace swinger

const MechanismSpec swinging_kingpin{"swinging_kingpin",
                                     marked("sliding kingpin, swinging upper arm"),
                                     swinger::points,
                                     swinger::links,
                                     swinger::strokes,
                                     swinger::wheel_centre,
                                     true,
                                     true,
                                     build_chain<SwingingChain, swinger::only>,
                                     assemble_chain<SwingingChain, swinger::only>};

}  // namespace lowkite
