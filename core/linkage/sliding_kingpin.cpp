// The kingpin stands still: an upper link leans it once and for all, the stub axle slides up and down it and turns
// about it until the tie rod fits.
#include "core/linkage/sliding_kingpin.hpp"

#include "core/linkage/chains.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace slider {
namespace {

constexpr std::array<PointSpec, point_count> points{{
    {"kingpin_lower", marked("kingpin, lower end"), Body::chassis},
    {"kingpin_upper", marked("kingpin, upper end"), Body::carrier},
    {"upper_inner", marked("upper link, inner end"), Body::chassis},
    {"tie_inner", marked("tie rod, inner ball"), Body::rack},
    {"tie_outer", marked("tie rod, outer ball"), Body::knuckle},
    {"wheel_centre", marked("wheel centre"), Body::knuckle},
}};

constexpr std::array<StrokeSpec, 4> strokes{{
    {upper_inner, kingpin_upper, Stroke::arm},
    {kingpin_lower, kingpin_upper, Stroke::kingpin},
    {tie_inner, tie_outer, Stroke::link},
    {wheel_centre, tie_outer, Stroke::axle},
}};

}  // namespace
}  // namespace slider

const MechanismSpec sliding_kingpin{"sliding_kingpin",
                                    marked("sliding kingpin, fixed arms"),
                                    slider::points,
                                    slider::links,
                                    slider::strokes,
                                    slider::wheel_centre,
                                    true,
                                    true,
                                    build_chain<SlidingChain, slider::only>,
                                    assemble_chain<SlidingChain, slider::only>};
}  // namespace lowkite
