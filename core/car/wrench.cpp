#include "core/car/wrench.hpp"

#include <cmath>

namespace lowkite {
namespace {

constexpr double least_across = 0.4;  ///< of a rod's length, to have a left and a right end

}  // namespace

std::optional<WrenchTurn> wrench_turn(const Car& car, PartHandle turnbuckle, Side side, bool lengthen) {
  const Adjuster& part = car.adjusters[turnbuckle];
  const Range* r = part.range();
  if (car.left_hand_ends == LeftHandEnds::unknown || part.kind != AdjusterKind::turnbuckle || !r || !r->link ||
      part.steering)
    return std::nullopt;
  const LinkSpec& link = car.axle(part.end).mechanism->links[r->link];
  if (link.pin) return std::nullopt;
  const auto& points = car.axle(part.end).points[at(side)];
  Vec3 outward = points[link.outer] - points[link.inner];
  if (std::abs(outward.y()) < least_across * outward.norm()) return std::nullopt;
  if (side == Side::right) outward = mirrored(outward);
  outward.normalize();
  const bool left_hand_outer = car.left_hand_ends == LeftHandEnds::wheels ||
                               (car.left_hand_ends == LeftHandEnds::left && outward.y() > 0.0) ||
                               (car.left_hand_ends == LeftHandEnds::right && outward.y() < 0.0);
  // Seen from its left-hand end a rod that turns clockwise screws itself into both cups.
  const Vec3 turn = (left_hand_outer ? 1.0 : -1.0) * (lengthen ? 1.0 : -1.0) * outward;
  return WrenchTurn{turn.dot(outward) < 0.0, turn.cross(Vec3::UnitZ()).x() > 0.0};
}

}  // namespace lowkite
