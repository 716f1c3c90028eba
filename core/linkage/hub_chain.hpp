// The chain of a pinned arm with a carrier on its outer hinge pin, held upright by one camber link. The wheel turns in
// the carrier itself, or in a knuckle on a kingpin that a tie rod or toe link holds.
#pragma once

#include "core/linkage/steered_wheel.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace hub {

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

enum : int { camber_link, tie_rod };

inline constexpr std::array<LinkSpec, 2> front_links{{
    {"camber_link", marked("camber link"), link_inner, link_outer, LinkHolds::camber},
    {"tie_rod", marked("tie rod"), tie_inner, tie_outer, LinkHolds::toe},
}};
inline constexpr std::array<LinkSpec, 2> toe_link_links{{
    front_links[camber_link],
    {"toe_link", marked("toe link"), tie_inner, tie_outer, LinkHolds::toe},
}};

/// What tells the variants apart: what the rod is called, and whether there is one.
struct Variant {
  std::span<const LinkSpec> links;
  [[nodiscard]] bool has_knuckle() const { return links.size() > tie_rod; }
};
inline constexpr Variant front{front_links};
inline constexpr Variant toe_link{toe_link_links};
inline constexpr Variant solid{std::span<const LinkSpec>(front_links).first(1)};

struct Assembly {
  using Variant = hub::Variant;
  const Variant* variant = nullptr;
  Branch carrier = Branch::rising;
  Branch knuckle = Branch::rising;
};

}  // namespace hub

template <class N>
class HubChain {
 public:
  using Assembly = hub::Assembly;
  struct State {
    PlacementOf<N> arm;
    typename RodHingeOf<N>::Solution carrier;
    typename RodHingeOf<N>::Solution wheel;  ///< where there is a knuckle
  };

  static tl::expected<Assembly, LinkageFailure> assembly_of(const hub::Variant& v, KitPoints kit) {
    Assembly a{&v};
    const double slope = slope_of(kit, hub::arm_outer_rear, hub::arm_outer_front, v.links[hub::camber_link]);
    if (std::abs(slope) < least_slope) return tl::unexpected(holds_nothing(v.links[hub::camber_link]));
    a.carrier = branch_of(slope);
    if (!v.has_knuckle()) return a;
    const double tie_slope = slope_of(kit, hub::kingpin_lower, hub::kingpin_upper, v.links[hub::tie_rod]);
    if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(v.links[hub::tie_rod]));
    a.knuckle = branch_of(tie_slope);
    return a;
  }

  HubChain(const ChainGeometry<N>& g, const Assembly& a, Closes<N>&)
      : variant_(a.variant),
        length_(g.length),
        arm_inner_front_(g.set[hub::arm_inner_front]),
        arm_inner_rear_(g.set[hub::arm_inner_rear]),
        arm_outer_front_(g.set[hub::arm_outer_front]),
        arm_outer_rear_(g.set[hub::arm_outer_rear]),
        link_inner_(g.set[hub::link_inner]),
        wheel_centre_(g.set[hub::wheel_centre]),
        spin_axis_(wide<N>(g.spin_axis)),
        arm_(g.kit_point(hub::arm_inner_front), g.kit_point(hub::arm_inner_rear), arm_inner_front_, arm_inner_rear_),
        carrier_(hinge(g, hub::arm_outer_rear, hub::arm_outer_front, hub::camber_link, a.carrier)) {
    if (!variant_->has_knuckle()) return;
    kingpin_lower_ = g.set[hub::kingpin_lower];
    kingpin_upper_ = g.set[hub::kingpin_upper];
    wheel_.emplace(g, hinge(g, hub::kingpin_lower, hub::kingpin_upper, hub::tie_rod, a.knuckle),
                   variant_->links[hub::tie_rod], hub::wheel_centre);
  }

  void set_lengths(const ByLink<N>& length, Closes<N>&) {
    length_ = length;
    carrier_.set_length(length[hub::camber_link]);
    if (wheel_) wheel_->set_rod(length[hub::tie_rod]);
  }

  [[nodiscard]] State close(const N& arm_angle, const SteerInputOf<N>& steer, Closes<N>& closing) const {
    State s;
    s.arm = arm_.at_angle(arm_angle);
    s.carrier = carrier_.fit(s.arm, link_inner_, closing, blame_camber_link());
    if (wheel_ && any(closing.closes())) s.wheel = wheel_->turned(s.carrier.body, steer, closing);
    return s;
  }

  [[nodiscard]] WheelPoseOf<N> wheel(const State& s, const SteerInputOf<N>& steer) const {
    const TwistOf<N> carrier = carrier_twist(s);
    if (wheel_) {
      WheelPoseOf<N> w = wheel_->pose(s.wheel, carrier, steer);
      w.kingpin_lower = s.carrier.body.point(kingpin_lower_);
      w.kingpin_upper = s.carrier.body.point(kingpin_upper_);
      return w;
    }
    WheelPoseOf<N> w;
    w.by_arm = w.locked_by_arm = carrier;
    w.carrier_turn = carrier.angular;
    w.centre = s.carrier.body.point(wheel_centre_);
    w.spin_axis = s.carrier.body.direction(spin_axis_);
    return w;
  }

  [[nodiscard]] HeldLinks<N> hold(const N& arm_angle, const SteerInputOf<N>& steer, const WheelHold& wanted,
                                  Closes<N>& closing) const {
    const PlacementOf<N> arm = arm_.at_angle(arm_angle);
    PlacementOf<N> start;
    if (wanted.camber && (wanted.toe || !wheel_)) {
      // The link is open and the tilt follows in closed form: the untouched position is as good a start as any.
      start = carrier_.unturned(arm);
    } else if (wanted.camber) {
      Closes<N> reaches;
      const auto fitted = carrier_.fit(arm, link_inner_, reaches, blame_camber_link());
      start = select_placement(reaches.closes(), fitted.body, carrier_.unturned(arm));
    } else {
      start = carrier_.fit(arm, link_inner_, closing, blame_camber_link()).body;
    }
    const HeldWheel<N> held = hold_by_tilting<N>(carrier_.axis_on(arm), start, wheel_ ? &*wheel_ : nullptr, spin_axis_,
                                                 steer, wanted, variant_->links[hub::camber_link], closing);
    HeldLinks<N> links{length_, held.wheel};
    if (wanted.camber) links.length[hub::camber_link] = length_between(held.carrier.point(carrier_.ball()));
    if (wanted.toe && wheel_) links.length[hub::tie_rod] = wheel_->rod_length(held.wheel, steer);
    return links;
  }

  [[nodiscard]] VectorOf<N> centre_of(const PlacementOf<N>& wheel) const { return wheel.point(wheel_centre_); }
  [[nodiscard]] VectorOf<N> spin_of(const PlacementOf<N>& wheel) const { return wheel.direction(spin_axis_); }

  [[nodiscard]] FrontViewLinksOf<N> front_view(const State& s, const N& x) const {
    return {cut_at<N>(arm_inner_rear_, arm_inner_front_, x),
            cut_at<N>(s.arm.point(arm_outer_rear_), s.arm.point(arm_outer_front_), x), link_inner_,
            s.carrier.body.point(carrier_.ball())};
  }

  void place(CornerPose& pose, const State& s) const {
    pose.body[at(Body::arm)] = s.arm;
    pose.by_arm[at(Body::arm)] = arm_.twist();
    pose.body[at(Body::carrier)] = s.carrier.body;
    pose.by_arm[at(Body::carrier)] = pose.wheel_locked_by_arm;
    pose.body[at(Body::knuckle)] = wheel_ ? s.wheel.body : s.carrier.body;
  }
  [[nodiscard]] State state_of(const CornerPose& pose) const {
    State s;
    s.arm = pose.placement(Body::arm);
    s.carrier.body = pose.placement(Body::carrier);
    return s;
  }

 private:
  static double slope_of(KitPoints kit, PointHandle pin_a, PointHandle pin_b, const LinkSpec& link) {
    return RodHinge::design_slope(axis_through(kit[pin_a], kit[pin_b]), kit[link.outer], kit[link.inner]);
  }
  [[nodiscard]] auto blame_camber_link() const {
    return [this](const RodMisfit& m) { return blame(variant_->links[hub::camber_link], m); };
  }
  [[nodiscard]] RodHingeOf<N> hinge(const ChainGeometry<N>& g, PointHandle pin_a, PointHandle pin_b, LinkHandle link,
                                    Branch branch) const {
    const LinkSpec& l = variant_->links[link.place()];
    return {axis_through<N>(g.set[pin_a], g.set[pin_b]),
            seated<N>(g.kit_point(pin_a), g.kit_point(pin_b), g.set[pin_a], g.set[pin_b]),
            g.set[l.outer],
            g.kit_point(l.outer) - g.kit_point(l.inner),
            g.length[link],
            branch};
  }
  [[nodiscard]] TwistOf<N> carrier_twist(const State& s) const {
    return carrier_.twist(s.carrier, arm_.twist(), VectorOf<N>::Zero());
  }
  [[nodiscard]] N length_between(const VectorOf<N>& link_outer) const {
    using std::sqrt;
    return sqrt((link_outer - link_inner_).squaredNorm());
  }

  const hub::Variant* variant_;
  ByLink<N> length_;
  VectorOf<N> arm_inner_front_, arm_inner_rear_, arm_outer_front_, arm_outer_rear_, link_inner_;
  VectorOf<N> wheel_centre_, spin_axis_;
  VectorOf<N> kingpin_lower_, kingpin_upper_;
  PinnedArmOf<N> arm_;
  RodHingeOf<N> carrier_;
  std::optional<SteeredWheelOf<N>> wheel_;  ///< none: a solid hub
};

}  // namespace lowkite
