// The chain of a kingpin that is led by a swinging upper arm: its upper ball goes with the arm, its lower end slides
// through a ball that stands still, and the stub axle on it turns about its line until the tie rod fits.
#pragma once

#include "core/linkage/steered_wheel.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace swinger {

enum : int {
  kingpin_lower,
  upper_inner_front,
  upper_inner_rear,
  kingpin_upper,
  tie_inner,
  tie_outer,
  wheel_centre,
  point_count
};
enum : int { upper_arm, tie_rod };

inline constexpr std::array<LinkSpec, 2> links{{
    {"upper_arm", marked("upper arm's ball"), upper_inner_front, kingpin_upper, LinkHolds::camber, upper_inner_rear},
    {"tie_rod", marked("tie rod"), tie_inner, tie_outer, LinkHolds::toe},
}};

struct Variant {};
inline constexpr Variant only{};

struct Assembly {
  using Variant = swinger::Variant;
  Branch tie = Branch::rising;
};

}  // namespace swinger

template <class N>
class SwingingChain {
 public:
  using Assembly = swinger::Assembly;
  struct State {
    PlacementOf<N> arm;
    VectorOf<N> upper;
    PlacementOf<N> carried;
    typename RodHingeOf<N>::Solution wheel;
  };

  static tl::expected<Assembly, LinkageFailure> assembly_of(const swinger::Variant&, KitPoints kit) {
    using namespace swinger;
    const Axis kit_line = axis_through(kit[kingpin_upper], kit[kingpin_lower]);
    const double tie_slope = RodHinge::design_slope(kit_line, kit[tie_outer], kit[tie_inner]);
    if (std::abs(tie_slope) < least_slope) return tl::unexpected(holds_nothing(links[tie_rod]));
    return Assembly{branch_of(tie_slope)};
  }

  SwingingChain(const ChainGeometry<N>& g, const Assembly& a, Closes<N>&)
      : length_(g.length),
        kingpin_lower_(g.set[swinger::kingpin_lower]),
        upper_inner_front_(g.set[swinger::upper_inner_front]),
        upper_inner_rear_(g.set[swinger::upper_inner_rear]),
        set_upper_(g.set[swinger::kingpin_upper]),
        kit_upper_(g.kit_point(swinger::kingpin_upper)),
        wheel_centre_(g.set[swinger::wheel_centre]),
        spin_axis_(wide<N>(g.spin_axis)),
        arm_(g.kit_point(swinger::upper_inner_front), g.kit_point(swinger::upper_inner_rear), upper_inner_front_,
             upper_inner_rear_),
        line_(axis_through<N>(kit_upper_, g.kit_point(swinger::kingpin_lower))),
        design_reach_(norm(kit_upper_ - g.kit_point(swinger::kingpin_lower))),
        wheel_(g,
               RodHingeOf<N>(line_, {}, g.set[swinger::tie_outer],
                             g.kit_point(swinger::tie_outer) - g.kit_point(swinger::tie_inner),
                             g.length[swinger::tie_rod], a.tie),
               swinger::links[swinger::tie_rod], swinger::wheel_centre) {
    // The point of the pin nearest to the ball, in the arm's design coordinates.
    const AxisOf<N> pin =
        axis_through<N>(g.kit_point(swinger::upper_inner_rear), g.kit_point(swinger::upper_inner_front));
    foot_ = pin.point + pin.direction * pin.direction.dot(set_upper_ - pin.point);
    lay_ball();
  }

  void set_lengths(const ByLink<N>& length, Closes<N>&) {
    length_ = length;
    wheel_.set_rod(length[swinger::tie_rod]);
    lay_ball();
  }

  [[nodiscard]] State close(const N& arm_angle, const SteerInputOf<N>& steer, Closes<N>& closing) const {
    State s;
    s.arm = arm_.at_angle(arm_angle);
    s.upper = s.arm.point(ball_);
    s.carried = hung(s.upper);
    s.wheel = wheel_.turned(s.carried, steer, closing);
    return s;
  }

  [[nodiscard]] WheelPoseOf<N> wheel(const State& s, const SteerInputOf<N>& steer) const {
    const VectorOf<N> k = s.upper - kingpin_lower_;
    const VectorOf<N> velocity = arm_.twist().at(s.upper);
    const VectorOf<N> spin = k.cross(velocity) / k.squaredNorm();
    WheelPoseOf<N> pose = wheel_.pose(s.wheel, {spin, velocity - spin.cross(s.upper)}, steer);
    pose.kingpin_lower = kingpin_lower_;
    pose.kingpin_upper = s.upper;
    return pose;
  }

  [[nodiscard]] HeldLinks<N> hold(const N& arm_angle, const SteerInputOf<N>& steer, const WheelHold& wanted,
                                  Closes<N>& closing) const {
    using std::abs;
    const auto no_reach = [] { return blame(swinger::links[swinger::upper_arm], RodMisfit{}); };
    const PlacementOf<N> arm = arm_.at_angle(arm_angle);
    const VectorOf<N> foot = arm.point(foot_);
    const VectorOf<N> ball = arm.point(ball_);
    const VectorOf<N> outward = unit<N>(ball - foot);
    // A longer or shorter arm leans the kingpin in the plane of its line and the arm's reach.
    const VectorOf<N> normal = unit<N>((foot - kingpin_lower_).cross(outward));
    const auto reach_of = [&](const VectorOf<N>& k) {
      const VectorOf<N> across = normal.cross(k);
      return N(across.dot(kingpin_lower_ - foot) / across.dot(outward));
    };
    N reach = norm(ball - foot);
    PlacementOf<N> stub;
    if (wanted.camber && wanted.toe) {
      // Turning about the kingpin leaves the spin axis' component along it (see hold_by_tilting).
      const VectorOf<N> k = unit<N>(ball - kingpin_lower_);
      const FoundTurn<N> t =
          turn_until_component<N>(normal, k, spin_wanted<N>(wanted), -line_.direction.dot(spin_axis_));
      closing.demand(t.found, no_reach);
      reach = reach_of(rotation_about<N>(normal, t.turn) * k);
      stub = wheel_.settle(hung(foot + outward * reach), steer, wanted, closing);
    } else {
      for (int round = 0; round < most_hold_rounds; ++round) {
        stub = wheel_.settle(hung(foot + outward * reach), steer, wanted, closing);
        if (!wanted.camber) break;
        const VectorOf<N> k = unit<N>(foot + outward * reach - kingpin_lower_);
        const FoundTurn<N> t = turn_until_component<N>(normal, stub.direction(spin_axis_), wide<N>(wanted.up),
                                                       N(-std::sin(*wanted.camber)));
        if (!closing.demand(t.found, no_reach)) break;
        reach = reach_of(rotation_about<N>(normal, t.turn) * k);
        if (!any(both(closing.closes(), abs(t.turn.sin) >= N(hold_settled)))) break;
      }
    }
    HeldLinks<N> links{length_, stub};
    if (wanted.camber) links.length[swinger::upper_arm] = reach;
    if (wanted.toe) links.length[swinger::tie_rod] = wheel_.rod_length(stub, steer);
    return links;
  }

  [[nodiscard]] VectorOf<N> centre_of(const PlacementOf<N>& wheel) const { return wheel.point(wheel_centre_); }
  [[nodiscard]] VectorOf<N> spin_of(const PlacementOf<N>& wheel) const { return wheel.direction(spin_axis_); }

  /// The lower "link" stands across the kingpin at the ball through which it slides (three-centre theorem: a slider's
  /// centre lies across its path).
  [[nodiscard]] FrontViewLinksOf<N> front_view(const State& s, const N& x) const {
    const VectorOf<N> k = s.upper - kingpin_lower_;
    const VectorOf<N> across = unit<N>({N(0.0), k.z(), -k.y()}) * N(30.0);
    return {kingpin_lower_ - across, kingpin_lower_, cut_at<N>(upper_inner_rear_, upper_inner_front_, x), s.upper};
  }

  void place(CornerPose& pose, const State& s) const {
    pose.body[at(Body::upper_arm)] = s.arm;
    pose.by_arm[at(Body::upper_arm)] = arm_.twist();
    pose.body[at(Body::carrier)] = s.carried;
    pose.by_arm[at(Body::carrier)] = pose.wheel_locked_by_arm;
    pose.body[at(Body::knuckle)] = s.wheel.body;
    const VectorOf<N> k = s.upper - kingpin_lower_;
    pose.slide_mm = norm(k) - design_reach_;
    pose.slide_per_arm = arm_.twist().at(s.upper).dot(k) / norm(k);
  }
  [[nodiscard]] State state_of(const CornerPose& pose) const {
    State s;
    s.upper = pose.kingpin_upper;
    return s;
  }

 private:
  static N norm(const VectorOf<N>& v) {
    using std::sqrt;
    return sqrt(v.squaredNorm());
  }
  void lay_ball() { ball_ = foot_ + unit<N>(set_upper_ - foot_) * length_[swinger::upper_arm]; }
  /// Where the stub axle hangs on its kingpin, not yet turned about it, once the upper ball is known.
  [[nodiscard]] PlacementOf<N> hung(const VectorOf<N>& upper) const {
    const MatrixOf<N> r = least_rotation<N>(line_.direction, unit<N>(kingpin_lower_ - upper));
    return {r, upper - r * kit_upper_};
  }

  ByLink<N> length_;
  VectorOf<N> kingpin_lower_, upper_inner_front_, upper_inner_rear_, set_upper_, kit_upper_, wheel_centre_, spin_axis_;
  PinnedArmOf<N> arm_;
  AxisOf<N> line_;  ///< from the upper to the lower ball, design coordinates
  N design_reach_;  ///< between the two in the kit's design position
  SteeredWheelOf<N> wheel_;
  VectorOf<N> foot_, ball_;
};

}  // namespace lowkite
