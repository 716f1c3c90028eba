// What a chain of joints takes and gives, whatever number it is computed in, and the corner made of one.
//
// Each mechanism is one chain, a template over the number: with one double it is a corner of a car, with a register of
// several it judges as many candidates of a search at once. A chain has
//   Assembly                    what the kit car's design position decides (branches), and which variant it is
//   State                       its bodies, closed
//   assembly_of(variant, kit)   fails when a link holds nothing in the design position
//   a constructor               from geometry and assembly
//   close(angle, steer)         the bodies at an arm angle
//   wheel(state, steer)         the wheel of it, and how it moves
//   hold(angle, steer, wanted)  the lengths that give the wheel the held directions, and where the wheel then is
//   front_view(state, x)        the links as the front view shows them
//   place(pose, state)          the other bodies, for one number
#pragma once

#include "core/linkage/joints.hpp"

namespace lowkite {

/// The points of a linkage as the kit has them.
using KitPoints = SpanOf<PointSpec, Vec3>;

/// Points and lengths of a linkage as the adjusters have them, the kit beside.
template <class N>
struct ChainGeometry {
  ByLinkagePoint<VectorOf<N>> set;
  ByLink<N> length;
  KitPoints kit;  ///< the same points in every lane
  Vec3 spin_axis;

  [[nodiscard]] VectorOf<N> kit_point(PointHandle point) const { return wide<N>(kit[point]); }
};

inline ChainGeometry<double> chain_geometry(const CornerGeometry& g) {
  ChainGeometry<double> c;
  for (const PointHandle p : c.set.handles()) c.set[p] = g.set[p];
  c.length = g.length;
  c.kit = g.kit;
  c.spin_axis = g.spin_axis;
  return c;
}

/// The wheel of a solved corner, and how it moves. As in CornerPose.
template <class N>
struct WheelPoseOf {
  TwistOf<N> by_arm;
  TwistOf<N> locked_by_arm;
  TwistOf<N> by_steer;
  VectorOf<N> carrier_turn;  ///< angular velocity of the kingpin, per rad of arm angle
  VectorOf<N> centre;
  VectorOf<N> spin_axis;
  bool has_kingpin = false;
  VectorOf<N> kingpin_lower = VectorOf<N>::Zero();
  VectorOf<N> kingpin_upper = VectorOf<N>::Zero();
};

/// Links set to what is held.
template <class N>
struct HeldLinks {
  ByLink<N> length;
  PlacementOf<N> wheel;  ///< the wheel's body with them
};

inline WheelPoseOf<double> wheel_of(const CornerPose& p) {
  return {p.wheel_by_arm(), p.wheel_locked_by_arm, p.wheel_by_steer, p.twist(Body::carrier).angular,
          p.wheel_centre,   p.spin_axis,           p.has_kingpin,    p.kingpin_lower,
          p.kingpin_upper};
}

// All of a chain in one piece; under the sanitizers that would be compiled for minutes.
#ifdef __SANITIZE_ADDRESS__
#define LOWKITE_IN_ONE_PIECE
#else
#define LOWKITE_IN_ONE_PIECE [[gnu::flatten]]
#endif

/// A corner of one chain.
template <template <class> class Chain>
class ChainCorner final : public Corner {
 public:
  using Assembly = typename Chain<double>::Assembly;

  static tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build(const typename Assembly::Variant& variant,
                                                                           const CornerGeometry& g) {
    const auto assembly = Chain<double>::assembly_of(variant, g.kit);
    if (!assembly) return tl::unexpected(assembly.error());
    Closes<double> closing;
    Chain<double> chain(chain_geometry(g), *assembly, closing);
    if (!closing.closes()) return tl::unexpected(*closing.failure());
    return std::make_unique<const ChainCorner>(chain);
  }

  explicit ChainCorner(const Chain<double>& chain) : chain_(chain) {}

  LOWKITE_IN_ONE_PIECE tl::expected<CornerPose, LinkageFailure> solve(double arm_angle,
                                                                      const SteerInput& steer) const override {
    Closes<double> closing;
    const auto state = chain_.close(arm_angle, steer, closing);
    if (!closing.closes()) return tl::unexpected(*closing.failure());
    tl::expected<CornerPose, LinkageFailure> solved(tl::in_place);
    CornerPose& pose = *solved;
    pose.arm_angle = arm_angle;
    pose.body[at(Body::rack)].translation = steer.shift;
    const WheelPoseOf<double> wheel = chain_.wheel(state, steer);
    pose.by_arm[at(Body::knuckle)] = wheel.by_arm;
    pose.wheel_locked_by_arm = wheel.locked_by_arm;
    pose.wheel_by_steer = wheel.by_steer;
    pose.wheel_centre = wheel.centre;
    pose.spin_axis = wheel.spin_axis;
    pose.has_kingpin = wheel.has_kingpin;
    if (wheel.has_kingpin) {
      pose.kingpin_lower = wheel.kingpin_lower;
      pose.kingpin_upper = wheel.kingpin_upper;
    }
    chain_.place(pose, state);
    return solved;
  }

  tl::expected<LinkLengths, LinkageFailure> hold(double arm_angle, const SteerInput& steer,
                                                 const WheelHold& wanted) const override {
    Closes<double> closing;
    const auto held = chain_.hold(arm_angle, steer, wanted, closing);
    if (!closing.closes()) return tl::unexpected(*closing.failure());
    return held.length;
  }

  FrontViewLinks front_view(const CornerPose& pose, double x) const override {
    return chain_.front_view(chain_.state_of(pose), x);
  }

 private:
  Chain<double> chain_;
};

}  // namespace lowkite
