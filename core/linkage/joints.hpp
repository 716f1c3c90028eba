// Pieces that several mechanisms share: the lower arm on its chassis pin, whom to blame, the directions that are held.
#pragma once

#include "core/linkage/corner.hpp"
#include "core/linkage/rod_hinge.hpp"

namespace lowkite {

template <class N>
using Closes = Closing<N, LinkageFailure>;

/// A rod whose ball has less leverage than this about its hinge (mm^2 per rad: a few hundredths of a millimetre) points
/// at the hinge and holds nothing.
constexpr double least_slope = 1.0;

inline LinkageFailure blame(const LinkSpec& link, RodMisfit misfit) {
  return {link.id, link.label, misfit.gap_mm, false};
}
inline LinkageFailure holds_nothing(const LinkSpec& link) {
  return {link.id, link.label, 0.0, true};
}
inline Branch branch_of(double slope) {
  return slope > 0 ? Branch::rising : Branch::falling;
}

/// A rigid arm that swings about a pin given by its front and rear end. Positive angles lift the outboard end.
template <class N>
class PinnedArmOf {
 public:
  PinnedArmOf(const VectorIn<N>& kit_front, const VectorIn<N>& kit_rear, const VectorIn<N>& set_front,
              const VectorIn<N>& set_rear)
      : pin_(axis_through<N>(set_rear, set_front)),
        seat_(seated<N>(kit_rear, kit_front, set_rear, set_front)),
        moved_(!is_identity(seat_)) {}

  [[nodiscard]] PlacementOf<N> at_angle(const N& angle) const {
    const PlacementOf<N> turn = turned_about<N>(pin_, TurnOf<N>::by(angle));
    return moved_ ? turn * seat_ : turn;
  }
  [[nodiscard]] TwistOf<N> twist() const { return turning_about<N>(pin_, N(1.0)); }
  [[nodiscard]] const AxisOf<N>& pin() const { return pin_; }

 private:
  AxisOf<N> pin_;
  PlacementOf<N> seat_;
  bool moved_;  ///< the seat is not the identity, in some lane
};

/// The point of a line at the transverse plane x = `x`; the line's middle when it runs within the plane.
template <class N = double>
VectorOf<N> cut_at(const VectorIn<N>& a, const VectorIn<N>& b, const std::type_identity_t<N>& x) {
  using std::abs;
  const N run = b.x() - a.x();
  const Mask<N> within = abs(run) < N(1e-9);
  const N share = select(within, N(0.5), (x - a.x()) / select(within, N(1.0), run));
  return a + (b - a) * share;
}

/// The direction whose dot product with the spin axis must vanish for the wheel to have the toe wanted.
template <class N>
VectorOf<N> toe_normal(const WheelHold& w) {
  const VectorOf<N> forward = wide<N>(w.forward);
  const VectorOf<N> left = wide<N>(w.up).cross(forward);
  return forward * N(std::cos(*w.toe)) - left * N(std::sin(*w.toe));
}
/// The spin axis of a wheel with the camber and the toe wanted.
template <class N>
VectorOf<N> spin_wanted(const WheelHold& w) {
  const VectorOf<N> up = wide<N>(w.up);
  const VectorOf<N> forward = wide<N>(w.forward);
  const VectorOf<N> left = up.cross(forward);
  const VectorOf<N> level = forward * N(std::sin(*w.toe)) + left * N(std::cos(*w.toe));
  return level * N(std::cos(*w.camber)) - up * N(std::sin(*w.camber));
}

/// Directions that are held one after the other, where only one of two is: the loop settles their coupling, which is
/// weak (a factor of some 0.1 a round).
constexpr int most_hold_rounds = 60;
constexpr double hold_settled = 1e-14;  ///< rad

}  // namespace lowkite
