// The chain of a ball-joint double wishbone. The lower arm swings on its pin; the two upper links, or the upper arm,
// carry the upper ball round a circle; the upright's height between the balls stops it there; the tie rod (at a rear
// axle the toe link) stops the upright from turning about the line of the balls.
#pragma once

#include "core/linkage/steered_wheel.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace wishbone {

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

inline constexpr std::array<LinkSpec, 3> links{{
    {"upper_front_link", marked("upper front link"), upper_inner_front, upper_ball, LinkHolds::camber},
    {"upper_rear_link", marked("upper rear link"), upper_inner_rear, upper_ball, LinkHolds::camber},
    {"tie_rod", marked("tie rod"), tie_inner, tie_outer, LinkHolds::toe},
}};
inline constexpr std::array<LinkSpec, 2> arm_links{{
    {"upper_arm", marked("upper arm's ball"), upper_inner_front, upper_ball, LinkHolds::camber, upper_inner_rear},
    links[2],
}};
inline constexpr std::array<LinkSpec, 3> rear_links{{
    links[0],
    links[1],
    {"toe_link", marked("toe link"), tie_inner, tie_outer, LinkHolds::toe},
}};

/// What tells the variants apart: which links there are, and whether the ball hangs on two of them or on an arm.
struct Variant {
  std::span<const LinkSpec> links;
  bool rigid_arm;

  [[nodiscard]] LinkHandle tie() const { return LinkHandle(links.size() - 1); }
  [[nodiscard]] const LinkSpec& tie_link() const { return links.back(); }
};
inline constexpr Variant two_links{links, false};
inline constexpr Variant one_arm{arm_links, true};
inline constexpr Variant rear_two_links{rear_links, false};
enum : int { upper_front_link, upper_rear_link, upper_arm = upper_front_link };

inline constexpr LinkSpec upright_as_link{"upright", marked("upright between its two ball joints"), lower_ball,
                                          upper_ball, LinkHolds::nothing};

struct Assembly {
  using Variant = wishbone::Variant;
  const Variant* variant = nullptr;
  Branch upper = Branch::rising;
  Branch tie = Branch::rising;
};

}  // namespace wishbone

template <class N>
class WishboneChain {
 public:
  using Assembly = wishbone::Assembly;
  struct State {
    PlacementOf<N> arm;
    typename RodHingeOf<N>::Solution upper;  ///< the upper arm, or the links as one
    VectorOf<N> lower_ball, upper_ball;
    PlacementOf<N> carried;  ///< the upright, not yet turned about the line of its balls
    typename RodHingeOf<N>::Solution wheel;
  };

  static tl::expected<Assembly, LinkageFailure> assembly_of(const wishbone::Variant& v, KitPoints kit) {
    using namespace wishbone;
    const Axis kit_upper = axis_through(kit[upper_inner_rear], kit[upper_inner_front]);
    const double upper_slope = RodHinge::design_slope(kit_upper, kit[wishbone::upper_ball], kit[wishbone::lower_ball]);
    if (std::abs(upper_slope) < least_slope) return tl::unexpected(holds_nothing(upright_as_link));
    const Axis kit_balls = axis_through(kit[wishbone::lower_ball], kit[wishbone::upper_ball]);
    const double tie_slope = RodHinge::design_slope(kit_balls, kit[tie_outer], kit[tie_inner]);
    if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(v.tie_link()));
    return Assembly{&v, branch_of(upper_slope), branch_of(tie_slope)};
  }

  WishboneChain(const ChainGeometry<N>& g, const Assembly& a, Closes<N>& closing)
      : variant_(a.variant),
        length_(g.length),
        arm_inner_front_(g.set[wishbone::arm_inner_front]),
        arm_inner_rear_(g.set[wishbone::arm_inner_rear]),
        lower_ball_(g.set[wishbone::lower_ball]),
        upper_ball_(g.set[wishbone::upper_ball]),
        upper_inner_front_(g.set[wishbone::upper_inner_front]),
        upper_inner_rear_(g.set[wishbone::upper_inner_rear]),
        kit_upper_ball_(g.kit_point(wishbone::upper_ball)),
        kit_upright_(kit_upper_ball_ - g.kit_point(wishbone::lower_ball)),
        ball_of_arm_(seated<N>(g.kit_point(wishbone::upper_inner_rear), g.kit_point(wishbone::upper_inner_front),
                               upper_inner_rear_, upper_inner_front_)
                         .point(upper_ball_)),
        wheel_centre_(g.set[wishbone::wheel_centre]),
        spin_axis_(wide<N>(g.spin_axis)),
        arm_(g.kit_point(wishbone::arm_inner_front), g.kit_point(wishbone::arm_inner_rear), arm_inner_front_,
             arm_inner_rear_),
        upper_axis_(axis_through<N>(upper_inner_rear_, upper_inner_front_)),
        upper_branch_(a.upper),
        upright_height_(norm(upper_ball_ - g.kit_point(wishbone::lower_ball))),
        ball_line_(axis_through<N>(g.kit_point(wishbone::lower_ball), upper_ball_)),
        wheel_(g,
               RodHingeOf<N>(ball_line_, {}, g.set[wishbone::tie_outer],
                             g.kit_point(wishbone::tie_outer) - g.kit_point(wishbone::tie_inner),
                             g.length[a.variant->tie()], a.tie),
               a.variant->tie_link(), wishbone::wheel_centre) {
    lay_circle(closing);
  }

  void set_lengths(const ByLink<N>& length, Closes<N>& closing) {
    length_ = length;
    wheel_.set_rod(length[variant_->tie()]);
    lay_circle(closing);
  }

  [[nodiscard]] State close(const N& arm_angle, const SteerInputOf<N>& steer, Closes<N>& closing) const {
    State s;
    carry(s, arm_angle, closing);
    if (any(closing.closes())) s.wheel = wheel_.turned(s.carried, steer, closing);
    return s;
  }

  [[nodiscard]] WheelPoseOf<N> wheel(const State& s, const SteerInputOf<N>& steer) const {
    const TwistOf<N> arm = arm_.twist();
    const TwistOf<N> upper = upper_twist(s);
    // Moves both balls as their arms do, with no part about the line between them.
    const VectorOf<N> k = s.upper_ball - s.lower_ball;
    const VectorOf<N> lower_velocity = arm.at(s.lower_ball);
    const VectorOf<N> w = k.cross(upper.at(s.upper_ball) - lower_velocity) / k.squaredNorm();
    WheelPoseOf<N> pose = wheel_.pose(s.wheel, {w, lower_velocity - w.cross(s.lower_ball)}, steer);
    pose.kingpin_lower = s.lower_ball;
    pose.kingpin_upper = s.upper_ball;
    return pose;
  }

  [[nodiscard]] HeldLinks<N> hold(const N& arm_angle, const SteerInputOf<N>& steer, const WheelHold& wanted,
                                  Closes<N>& closing) const {
    using namespace wishbone;
    State s;
    carry(s, arm_angle, closing);
    // Both upper links turned alike keep the ball in its plane across the upper axis, and with it the caster: the
    // upright tilts about a line through the lower ball, parallel to that axis.
    const HeldWheel<N> held = hold_by_tilting<N>({s.lower_ball, upper_axis_.direction}, s.carried, &wheel_, spin_axis_,
                                                 steer, wanted, variant_->links.front(), closing);
    HeldLinks<N> links{length_, held.wheel};
    const VectorOf<N> upper = held.wheel.point(upper_ball_);
    if (wanted.camber && variant_->rigid_arm) {
      links.length[upper_arm] = norm(across_upper_axis(upper));
    } else if (wanted.camber) {
      links.length[upper_front_link] = norm(upper - upper_inner_front_);
      links.length[upper_rear_link] = norm(upper - upper_inner_rear_);
    }
    if (wanted.toe) links.length[variant_->tie()] = wheel_.rod_length(held.wheel, steer);
    return links;
  }

  [[nodiscard]] VectorOf<N> centre_of(const PlacementOf<N>& wheel) const { return wheel.point(wheel_centre_); }
  [[nodiscard]] VectorOf<N> spin_of(const PlacementOf<N>& wheel) const { return wheel.direction(spin_axis_); }

  [[nodiscard]] FrontViewLinksOf<N> front_view(const State& s, const N& x) const {
    return {cut_at<N>(arm_inner_rear_, arm_inner_front_, x), s.lower_ball,
            cut_at<N>(upper_inner_rear_, upper_inner_front_, x), s.upper_ball};
  }

  void place(CornerPose& pose, const State& s) const {
    pose.body[at(Body::arm)] = s.arm;
    pose.by_arm[at(Body::arm)] = arm_.twist();
    pose.body[at(Body::upper_arm)] = s.upper.body;
    pose.by_arm[at(Body::upper_arm)] = upper_twist(s);
    pose.body[at(Body::carrier)] = s.carried;
    pose.by_arm[at(Body::carrier)] = pose.wheel_locked_by_arm;
    pose.body[at(Body::knuckle)] = s.wheel.body;
  }
  [[nodiscard]] State state_of(const CornerPose& pose) const {
    State s;
    s.lower_ball = pose.kingpin_lower;
    s.upper_ball = pose.kingpin_upper;
    return s;
  }

 private:
  static N norm(const VectorOf<N>& v) {
    using std::sqrt;
    return sqrt(v.squaredNorm());
  }
  [[nodiscard]] VectorOf<N> across_upper_axis(const VectorOf<N>& p) const {
    const VectorOf<N> out = p - upper_axis_.point;
    return out - upper_axis_.direction * upper_axis_.direction.dot(out);
  }

  /// The circle on which two links, or a rigid arm, let the upper ball move; the ball on it, seen from the upper axis
  /// in the same direction as on the kit car.
  void lay_circle(Closes<N>& closing) {
    using namespace wishbone;
    const VectorOf<N> bearing = unit<N>(across_upper_axis(kit_upper_ball_));
    N station(0.0);
    N radius(0.0);
    if (variant_->rigid_arm) {
      station = upper_axis_.direction.dot(ball_of_arm_ - upper_inner_rear_);
      radius = length_[wishbone::upper_arm];
    } else {
      using std::sqrt;
      const N front = length_[upper_front_link];
      const N rear = length_[upper_rear_link];
      const N spread = norm(upper_inner_front_ - upper_inner_rear_);
      station = (rear * rear - front * front + spread * spread) / (N(2.0) * spread);
      const N r2 = rear * rear - station * station;
      const Mask<N> meet = r2 > N(0.0);
      closing.demand(meet, [&] {
        if constexpr (std::is_same_v<N, double>) {
          const LinkSpec& blamed = station > 0 ? links[upper_rear_link] : links[upper_front_link];
          return LinkageFailure{blamed.id, blamed.label, std::abs(station) - rear, false};
        } else {
          return LinkageFailure{};
        }
      });
      radius = sqrt(select(meet, r2, N(1.0)));
    }
    upper_ball_on_arm_ = upper_axis_.point + upper_axis_.direction * station + bearing * radius;
  }

  [[nodiscard]] RodHingeOf<N> swinging() const {
    return {upper_axis_, {}, upper_ball_on_arm_, kit_upright_, upright_height_, upper_branch_};
  }
  [[nodiscard]] TwistOf<N> upper_twist(const State& s) const {
    return swinging().twist(s.upper, {}, arm_.twist().at(s.lower_ball));
  }

  /// Everything but the wheel's turn about the line of the balls.
  void carry(State& s, const N& arm_angle, Closes<N>& closing) const {
    s.arm = arm_.at_angle(arm_angle);
    s.lower_ball = s.arm.point(lower_ball_);
    s.upper = swinging().fit({}, s.lower_ball, closing,
                             [](const RodMisfit& m) { return blame(wishbone::upright_as_link, m); });
    s.upper_ball = s.upper.body.point(upper_ball_on_arm_);
    const MatrixOf<N> r = least_rotation<N>(ball_line_.direction, unit<N>(s.upper_ball - s.lower_ball));
    s.carried = {r, s.lower_ball - r * ball_line_.point};
  }

  const wishbone::Variant* variant_;
  ByLink<N> length_;
  VectorOf<N> arm_inner_front_, arm_inner_rear_, lower_ball_, upper_ball_, upper_inner_front_, upper_inner_rear_;
  VectorOf<N> kit_upper_ball_, kit_upright_;
  VectorOf<N> ball_of_arm_;  ///< the upper ball as a rigid arm carries it, its pin moved by adjusters
  VectorOf<N> wheel_centre_, spin_axis_;
  PinnedArmOf<N> arm_;
  AxisOf<N> upper_axis_;
  Branch upper_branch_;
  N upright_height_;
  AxisOf<N> ball_line_;
  SteeredWheelOf<N> wheel_;
  VectorOf<N> upper_ball_on_arm_;
};

}  // namespace lowkite
