#include "core/load/scales.hpp"

namespace lowkite {
namespace {

constexpr double by_mm = 0.25;

/// The car at rest with an axle's collars turned against each other, the left one down.
tl::expected<Balance, CarFailure> turned_against(const LoadedCar& car, End end, const Balance& rest) {
  Collars turned = car.level_collars();
  turned[at(end)][at(Side::left)] += by_mm;
  turned[at(end)][at(Side::right)] -= by_mm;
  return car.balance(turned, {}, 0.0, &rest);
}

}  // namespace

std::optional<ScaleAdvice> explain_scales(const LoadedCar& car, const PerEnd<PerSide<double>>& grams) {
  const double total = grams[0][0] + grams[0][1] + grams[1][0] + grams[1][1];
  for (const auto& axle : grams)
    for (const double g : axle)
      if (!(g > 0.0)) return std::nullopt;
  const auto rest = car.balance(car.level_collars(), {});
  if (!rest) return std::nullopt;
  ScaleAdvice advice;
  advice.cross = (grams[0][0] + grams[1][1]) / total;
  for (const End end : both_ends) {
    const auto b = turned_against(car, end, *rest);
    if (!b) return std::nullopt;
    advice.collar_mm[at(end)] = (0.5 - advice.cross) / ((b->cross() - rest->cross()) / by_mm);
  }
  // Moments of the four readings about the ground under the middle of the front axle.
  Vec3 place = Vec3::Zero();
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const CornerPose& p = rest->pose.axle[at(end)].corner[at(side)];
      const Ground ground = ground_of(rest->pose.ground, side);
      Vec3 contact = contact_point(car.model().corner(end, side).tyre, p.wheel_centre, p.spin_axis, ground.up);
      if (side == Side::right) contact = mirrored(contact);
      place += grams[at(end)][at(side)] / total * contact;
    }
  advice.aside_mm = place.dot(rest->pose.ground.left);
  advice.ahead_mm = (place - *car.model().mass.cg).dot(rest->pose.ground.forward);
  return advice;
}

std::optional<PerEnd<double>> level_by_collars(const LoadedCar& car, double left_higher_rad) {
  const auto rest = car.balance(car.level_collars(), {});
  if (!rest) return std::nullopt;
  // Columns: front, rear. Rows: how far the left side rises over the right one, and the cross weight.
  Eigen::Matrix2d moves;
  for (const End end : both_ends) {
    const auto b = turned_against(car, end, *rest);
    if (!b) return std::nullopt;
    moves(0, static_cast<Eigen::Index>(at(end))) = (b->attitude.roll_rad - rest->attitude.roll_rad) / by_mm;
    moves(1, static_cast<Eigen::Index>(at(end))) = (b->cross() - rest->cross()) / by_mm;
  }
  // A longer left shock lifts the left side, whichever way roll is counted.
  if (moves(0, 0) < 0.0) moves.row(0) *= -1.0;
  const Eigen::Vector2d mm = moves.fullPivLu().solve(Eigen::Vector2d(-left_higher_rad, 0.0));
  return mm.allFinite() ? std::optional(PerEnd<double>{mm[0], mm[1]}) : std::nullopt;
}

}  // namespace lowkite
