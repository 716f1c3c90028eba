// The last joint of most corners: the wheel's body turns about a line of its carrier (a kingpin, or the line of two
// ball joints) until the tie rod or toe link fits; and the directions that a wheel is to hold.
#pragma once

#include "core/linkage/chain.hpp"

namespace lowkite {

template <class N>
class SteeredWheelOf {
 public:
  using Solution = typename RodHingeOf<N>::Solution;

  /// `hinge`: the line in the carrier, held by `rod`.
  SteeredWheelOf(const ChainGeometry<N>& g, const RodHingeOf<N>& hinge, const LinkSpec& rod, PointHandle wheel_centre)
      : hinge_(hinge),
        rod_(&rod),
        inner_(g.set[rod.inner]),
        wheel_centre_(g.set[wheel_centre]),
        spin_axis_(wide<N>(g.spin_axis)) {}

  /// Turns the wheel on its carrier until its rod fits.
  [[nodiscard]] Solution turned(const PlacementOf<N>& carrier, const SteerInputOf<N>& steer, Closes<N>& closing) const {
    return hinge_.fit(carrier, inner_ + steer.shift, closing, [&](const RodMisfit& m) { return blame(*rod_, m); });
  }

  /// What a pose says of the wheel; the kingpin's ends are left to the chain.
  [[nodiscard]] WheelPoseOf<N> pose(const Solution& s, const TwistOf<N>& carrier, const SteerInputOf<N>& steer) const {
    WheelPoseOf<N> w;
    w.by_arm = hinge_.twist(s, carrier, VectorOf<N>::Zero());
    w.locked_by_arm = carrier;
    w.by_steer = hinge_.twist(s, TwistOf<N>{}, steer.rate);
    w.carrier_turn = carrier.angular;
    w.centre = s.body.point(wheel_centre_);
    w.spin_axis = s.body.direction(spin_axis_);
    w.has_kingpin = true;
    return w;
  }

  /// Where the wheel's body is on a carrier: with the wanted toe and the rod left open, or with the rod as it is.
  [[nodiscard]] PlacementOf<N> settle(const PlacementOf<N>& carrier, const SteerInputOf<N>& steer,
                                      const WheelHold& wanted, Closes<N>& closing) const {
    if (!wanted.toe) return turned(carrier, steer, closing).body;
    const FoundTurn<N> t =
        turn_until_component<N>(line_on(carrier), spin_unturned(carrier), toe_normal<N>(wanted), N(0.0));
    closing.demand(t.found, [&] { return blame(*rod_, RodMisfit{}); });
    return hinge_.turned(carrier, t.turn, inner_ + steer.shift).body;
  }

  /// The length that the rod has with the wheel's body there, mm.
  [[nodiscard]] N rod_length(const PlacementOf<N>& wheel, const SteerInputOf<N>& steer) const {
    using std::sqrt;
    return sqrt((wheel.point(hinge_.ball()) - (inner_ + steer.shift)).squaredNorm());
  }

  [[nodiscard]] VectorOf<N> line_on(const PlacementOf<N>& carrier) const { return hinge_.axis_on(carrier).direction; }
  /// The spin axis before the wheel turns about the line.
  [[nodiscard]] VectorOf<N> spin_unturned(const PlacementOf<N>& carrier) const {
    return hinge_.unturned(carrier).direction(spin_axis_);
  }
  void set_rod(const N& length) { hinge_.set_length(length); }

 private:
  RodHingeOf<N> hinge_;
  const LinkSpec* rod_;
  VectorOf<N> inner_;
  VectorOf<N> wheel_centre_;
  VectorOf<N> spin_axis_;
};

template <class N>
struct HeldWheel {
  PlacementOf<N> carrier;
  PlacementOf<N> wheel;
};

/// Tilts a carrier about `tilt`, the wheel settled on it, until the wheel has the directions wanted. `wheel` nullptr:
/// the wheel turns in the carrier itself. `camber_link`: whom to blame when no tilt gives the camber.
///
/// Both directions together say where the spin axis points, and turning about the line leaves its component along the
/// line: the tilt follows in closed form (two turns about crossing axes; Paden 1985, from memory). Else in rounds.
template <class N>
HeldWheel<N> hold_by_tilting(const AxisOf<N>& tilt, const PlacementOf<N>& carrier, const SteeredWheelOf<N>* wheel,
                             const VectorOf<N>& spin_axis, const SteerInputOf<N>& steer, const WheelHold& wanted,
                             const LinkSpec& camber_link, Closes<N>& closing) {
  using std::abs;
  const auto no_tilt = [&] { return blame(camber_link, RodMisfit{}); };
  if (wheel && wanted.camber && wanted.toe) {
    const VectorOf<N> line = wheel->line_on(carrier);
    const FoundTurn<N> back =
        turn_until_component<N>(tilt.direction, spin_wanted<N>(wanted), line, line.dot(wheel->spin_unturned(carrier)));
    closing.demand(back.found, no_tilt);
    const PlacementOf<N> tilted = turned_about<N>(tilt, back.turn.back()) * carrier;
    return {tilted, wheel->settle(tilted, steer, wanted, closing)};
  }
  HeldWheel<N> held{carrier, carrier};
  for (int round = 0; round < most_hold_rounds; ++round) {
    held.wheel = wheel ? wheel->settle(held.carrier, steer, wanted, closing) : held.carrier;
    if (!wanted.camber) break;
    const FoundTurn<N> t = turn_until_component<N>(tilt.direction, held.wheel.direction(spin_axis), wide<N>(wanted.up),
                                                   N(-std::sin(*wanted.camber)));
    if (!closing.demand(t.found, no_tilt)) break;
    const PlacementOf<N> further = turned_about<N>(tilt, t.turn);
    held = {further * held.carrier, further * held.wheel};
    if (!any(both(closing.closes(), abs(t.turn.sin) >= N(hold_settled)))) break;
  }
  return held;
}

}  // namespace lowkite
