#include "core/load/corner_path.hpp"

#include <cmath>
#include <numbers>

namespace lowkite {

std::string_view name_of(CornerPhase phase) {
  switch (phase) {
    case CornerPhase::entry:
      return "entry";
    case CornerPhase::middle:
      return "middle";
    case CornerPhase::exit:
      return "exit";
  }
  return {};
}

Acceleration asked_at(const CornerPath& path, double along) {
  constexpr double quarter = 0.5 * std::numbers::pi;
  const double sense = path.to_the_left ? 1.0 : -1.0;
  if (along < middle_from) {
    const double turn = quarter * along / middle_from;
    return {sense * path.lateral_g * std::sin(turn), -path.braking_g * std::cos(turn)};
  }
  if (along <= middle_to) return {sense * path.lateral_g, 0.0};
  const double turn = quarter * (along - middle_to) / (1.0 - middle_to);
  return {sense * path.lateral_g * std::cos(turn), path.power_g * std::sin(turn)};
}

std::vector<PathPoint> through_corner(const LoadedCar& car, const Collars& collars, const CornerPath& path,
                                      int samples) {
  std::vector<PathPoint> points;
  const Balance* near = nullptr;
  points.reserve(static_cast<std::size_t>(samples));  // `near` points into it
  for (int i = 0; i < samples; ++i) {
    PathPoint p;
    p.along = static_cast<double>(i) / (samples - 1);
    p.phase = p.along < middle_from    ? CornerPhase::entry
              : p.along <= middle_to ? CornerPhase::middle
                                     : CornerPhase::exit;
    p.a = asked_at(path, p.along);
    auto stand = car.balance(collars, p.a, 0.0, near);
    if (!stand && near) stand = car.balance(collars, p.a);
    if (stand) p.balance = std::move(*stand);
    points.push_back(std::move(p));
    near = points.back().balance ? &*points.back().balance : nullptr;
  }
  return points;
}

}  // namespace lowkite
