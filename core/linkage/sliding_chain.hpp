// The chain of a kingpin that stands still: an upper link leans it once and for all, the stub axle slides up and down
// it and turns about it until the tie rod fits.
#pragma once

#include "core/linkage/steered_wheel.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace slider {

enum : int { kingpin_lower, kingpin_upper, upper_inner, tie_inner, tie_outer, wheel_centre, point_count };
enum : int { upper_link, tie_rod };

inline constexpr std::array<LinkSpec, 2> links{{
    {"upper_link", marked("upper link"), upper_inner, kingpin_upper, LinkHolds::camber},
    {"tie_rod", marked("tie rod"), tie_inner, tie_outer, LinkHolds::toe},
}};

struct Variant {};
inline constexpr Variant only{};

struct Assembly {
  using Variant = slider::Variant;
  Branch lean = Branch::rising;
  Branch tie = Branch::rising;
};

}  // namespace slider

template <class N>
class SlidingChain {
 public:
  using Assembly = slider::Assembly;
  struct State {
    typename RodHingeOf<N>::Solution wheel;
    N slide;
    PlacementOf<N> kingpin;
  };

  static tl::expected<Assembly, LinkageFailure> assembly_of(const slider::Variant&, KitPoints kit) {
    using namespace slider;
    const Axis kit_tilt{kit[kingpin_lower], Vec3::UnitX()};
    const double lean_slope = RodHinge::design_slope(kit_tilt, kit[kingpin_upper], kit[upper_inner]);
    if (std::abs(lean_slope) < least_slope) return tl::unexpected(holds_nothing(links[upper_link]));
    const Axis kit_line = axis_through(kit[kingpin_lower], kit[kingpin_upper]);
    const double tie_slope = RodHinge::design_slope(kit_line, kit[tie_outer], kit[tie_inner]);
    if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(links[tie_rod]));
    return Assembly{branch_of(lean_slope), branch_of(tie_slope)};
  }

  SlidingChain(const ChainGeometry<N>& g, const Assembly& a, Closes<N>& closing)
      : length_(g.length),
        upper_inner_(g.set[slider::upper_inner]),
        kingpin_lower_(g.kit_point(slider::kingpin_lower)),
        kingpin_upper_(g.kit_point(slider::kingpin_upper)),
        wheel_centre_(g.set[slider::wheel_centre]),
        spin_axis_(wide<N>(g.spin_axis)),
        // Caster shims move the kingpin's ends together with the arm that holds them; the stub axle rides along.
        lean_({g.set[slider::kingpin_lower], VectorOf<N>::UnitX()},
              seated<N>(kingpin_lower_, kingpin_upper_, g.set[slider::kingpin_lower], g.set[slider::kingpin_upper]),
              kingpin_upper_, kingpin_upper_ - g.kit_point(slider::upper_inner), g.length[slider::upper_link], a.lean),
        line_(axis_through<N>(kingpin_lower_, kingpin_upper_)),
        wheel_(g,
               RodHingeOf<N>(line_, {}, g.set[slider::tie_outer],
                             g.kit_point(slider::tie_outer) - g.kit_point(slider::tie_inner), g.length[slider::tie_rod],
                             a.tie),
               slider::links[slider::tie_rod], slider::wheel_centre) {
    lean(closing);
  }

  void set_lengths(const ByLink<N>& length, Closes<N>& closing) {
    length_ = length;
    lean_.set_length(length[slider::upper_link]);
    wheel_.set_rod(length[slider::tie_rod]);
    lean(closing);
  }

  [[nodiscard]] State close(const N& slide, const SteerInputOf<N>& steer, Closes<N>& closing) const {
    return {wheel_.turned(slid(leant_, slide), steer, closing), slide, leant_};
  }

  [[nodiscard]] WheelPoseOf<N> wheel(const State& s, const SteerInputOf<N>& steer) const {
    const TwistOf<N> sliding{VectorOf<N>::Zero(), leant_.direction(line_.direction) * N(slide_mm_per_rad)};
    WheelPoseOf<N> pose = wheel_.pose(s.wheel, sliding, steer);
    pose.kingpin_lower = leant_.point(kingpin_lower_);
    pose.kingpin_upper = leant_.point(kingpin_upper_);
    return pose;
  }

  [[nodiscard]] HeldLinks<N> hold(const N& slide, const SteerInputOf<N>& steer, const WheelHold& wanted,
                                  Closes<N>& closing) const {
    // The slid stub axle leans with its kingpin about one and the same line.
    const HeldWheel<N> held = hold_by_tilting<N>(lean_.axis_on({}), slid(leant_, slide), &wheel_, spin_axis_, steer,
                                                 wanted, slider::links[slider::upper_link], closing);
    HeldLinks<N> links{length_, held.wheel};
    if (wanted.camber) {
      using std::sqrt;
      const PlacementOf<N> kingpin = slid(held.carrier, -slide);
      links.length[slider::upper_link] = sqrt((kingpin.point(lean_.ball()) - upper_inner_).squaredNorm());
    }
    if (wanted.toe) links.length[slider::tie_rod] = wheel_.rod_length(held.wheel, steer);
    return links;
  }

  [[nodiscard]] VectorOf<N> centre_of(const PlacementOf<N>& wheel) const { return wheel.point(wheel_centre_); }
  [[nodiscard]] VectorOf<N> spin_of(const PlacementOf<N>& wheel) const { return wheel.direction(spin_axis_); }

  /// A wheel that moves along a line swings about no point: both "links" stand across the kingpin, which puts the
  /// instant centre at infinity, where the two-line drawing has it for parallel links.
  [[nodiscard]] FrontViewLinksOf<N> front_view(const State& s, const N&) const {
    const VectorOf<N> lower = s.kingpin.point(kingpin_lower_);
    const VectorOf<N> upper = s.kingpin.point(kingpin_upper_);
    const VectorOf<N> k = upper - lower;
    const VectorOf<N> across = unit<N>({N(0.0), k.z(), -k.y()}) * N(30.0);
    return {lower - across, lower, upper - across, upper};
  }

  void place(CornerPose& pose, const State& s) const {
    // The kingpin itself stays where it is.
    pose.body[at(Body::carrier)] = leant_;
    pose.by_arm[at(Body::carrier)] = {};
    pose.body[at(Body::knuckle)] = s.wheel.body;
    pose.slide_mm = s.slide * slide_mm_per_rad;
    pose.slide_per_arm = slide_mm_per_rad;
  }
  [[nodiscard]] State state_of(const CornerPose& pose) const {
    State s;
    s.kingpin = pose.placement(Body::carrier);
    return s;
  }

 private:
  void lean(Closes<N>& closing) {
    leant_ = lean_
                 .fit({}, upper_inner_, closing,
                      [](const RodMisfit& m) { return blame(slider::links[slider::upper_link], m); })
                 .body;
  }
  /// A body on the kingpin, slid up along it.
  [[nodiscard]] PlacementOf<N> slid(PlacementOf<N> body, const N& slide) const {
    body.translation += body.direction(line_.direction) * (slide * N(slide_mm_per_rad));
    return body;
  }

  ByLink<N> length_;
  VectorOf<N> upper_inner_, kingpin_lower_, kingpin_upper_, wheel_centre_, spin_axis_;
  RodHingeOf<N> lean_;
  AxisOf<N> line_;  ///< the kingpin in its design coordinates
  SteeredWheelOf<N> wheel_;
  PlacementOf<N> leant_;  ///< the kingpin once its upper link fits
};

}  // namespace lowkite
