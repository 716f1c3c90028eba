// Pieces that several mechanisms share: the lower arm on its chassis pin, whom to blame, the search for held
// directions.
#pragma once

#include <cmath>

#include "core/linkage/corner.hpp"
#include "core/linkage/rod_hinge.hpp"

namespace lowkite {

constexpr std::size_t at(int index) {
  return static_cast<std::size_t>(index);
}
constexpr std::size_t at(Body body) {
  return static_cast<std::size_t>(body);
}

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
class PinnedArm {
 public:
  PinnedArm(const CornerGeometry& g, int pin_front, int pin_rear)
      : pin_(axis_through(g.set[at(pin_rear)], g.set[at(pin_front)])),
        seat_(seated(g.kit[at(pin_rear)], g.kit[at(pin_front)], g.set[at(pin_rear)], g.set[at(pin_front)])),
        moved_(g.kit[at(pin_rear)] != g.set[at(pin_rear)] || g.kit[at(pin_front)] != g.set[at(pin_front)]) {}

  [[nodiscard]] Placement at_angle(double angle) const {
    const Placement turn = turned_about(pin_, Turn::by(angle));
    return moved_ ? turn * seat_ : turn;
  }
  [[nodiscard]] Twist twist() const { return turning_about(pin_, 1.0); }
  [[nodiscard]] const Axis& pin() const { return pin_; }

 private:
  Axis pin_;
  Placement seat_;
  bool moved_;  ///< the seat is not the identity
};

/// The point of a line at the transverse plane x = `x`; the line's middle when it runs within the plane.
inline Vec3 cut_at(const Vec3& a, const Vec3& b, double x) {
  const double run = b.x() - a.x();
  if (std::abs(run) < 1e-9) return 0.5 * (a + b);
  return a + (b - a) * ((x - a.x()) / run);
}

/// The turns about two hinges in series (first the camber hinge, then the kingpin) that give a wheel its held
/// directions. Each condition alone is closed form; the loop settles their coupling, which is weak (a factor of some
/// 0.1 a round).
struct HoldLoop {
  static constexpr int most_rounds = 60;
  static constexpr double settled = 1e-14;  ///< rad

  /// The direction whose dot product with the spin axis must vanish for the wheel to have this toe.
  static Vec3 toe_normal(const WheelHold& w) {
    const Vec3 left = w.up.cross(w.forward);
    return w.forward * std::cos(*w.toe) - left * std::sin(*w.toe);
  }
};

}  // namespace lowkite
