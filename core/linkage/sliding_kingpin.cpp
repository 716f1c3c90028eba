// The kingpin stands still: an upper link leans it once and for all, the stub axle slides up and down it and turns
// about it until the tie rod fits.
#include "core/linkage/sliding_kingpin.hpp"

#include <cmath>

#include "core/linkage/steered_wheel.hpp"

namespace lowkite {
namespace {
namespace slider {  // every mechanism has points, links and strokes

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
        wheel_(g, RodHinge(line_, {}, g.set[tie_outer], g.kit[tie_outer] - g.kit[tie_inner], g.length[tie_rod], tie),
               links[tie_rod], wheel_centre) {}

  tl::expected<CornerPose, LinkageFailure> solve(double slide, const SteerInput& steer) const override {
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = slide;
    const Twist sliding{Vec3::Zero(), leant_.direction(line_.direction) * slide_mm_per_rad};
    if (const auto placed = wheel_.place(pose, slid(leant_, slide), sliding, steer); !placed)
      return tl::unexpected(placed.error());
    // The kingpin itself stays where it is.
    pose.body[at(Body::carrier)] = leant_;
    pose.by_arm[at(Body::carrier)] = {};
    pose.kingpin_lower = leant_.point(g_.kit[kingpin_lower]);
    pose.kingpin_upper = leant_.point(g_.kit[kingpin_upper]);
    pose.slide_mm = slide * slide_mm_per_rad;
    pose.slide_per_arm = slide_mm_per_rad;
    return solved;
  }

  tl::expected<std::array<double, max_links>, LinkageFailure> hold(double slide, const SteerInput& steer,
                                                                   const WheelHold& wanted) const override {
    // The slid stub axle leans with its kingpin about one and the same line.
    const auto held = hold_by_tilting(lean_.axis_on({}), slid(leant_, slide), &wheel_, g_.spin_axis, steer, wanted,
                                      links[upper_link]);
    if (!held) return tl::unexpected(held.error());
    std::array<double, max_links> length = g_.length;
    if (wanted.camber) {
      const Placement kingpin = slid(held->carrier, -slide);
      length[upper_link] = (kingpin.point(lean_.ball()) - g_.set[upper_inner]).norm();
    }
    if (wanted.toe) length[tie_rod] = wheel_.rod_length(held->wheel, steer);
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
  /// A body on the kingpin, slid up along it.
  [[nodiscard]] Placement slid(Placement body, double slide) const {
    body.translation += body.direction(line_.direction) * (slide * slide_mm_per_rad);
    return body;
  }

  CornerGeometry g_;
  RodHinge lean_;
  Placement leant_;  ///< the kingpin once its upper link fits
  Axis line_;        ///< the kingpin in its design coordinates
  SteeredWheel wheel_;
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

}  // namespace slider
}  // namespace

const MechanismSpec sliding_kingpin{"sliding_kingpin", "sliding kingpin, fixed arms", slider::points, slider::links,
                                    slider::strokes,   slider::wheel_centre,          true,           true,
                                    slider::build};
}  // namespace lowkite
