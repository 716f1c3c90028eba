#include "core/load/corner_path.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/threads/crew.hpp"

namespace lowkite {
std::string_view name_of(CornerPhase phase) {
  switch (phase) {
    case CornerPhase::entry:
      return marked("entry");
    case CornerPhase::middle:
      return marked("middle");
    case CornerPhase::exit:
      return marked("exit");
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

std::optional<double> servo_at(const CarModel& model, const CornerPath& path, const Acceleration& a) {
  if (!(path.radius_m > 0.0) || a.lateral_g == 0.0) return 0.0;
  return servo_for_radius(model, 1000.0 * path.radius_m * path.lateral_g / std::abs(a.lateral_g), a.lateral_g > 0.0);
}

std::vector<std::optional<Balance>> stands_under(const LoadedCar& car, const Collars& collars,
                                                 std::span<const Acceleration> accelerations, unsigned threads,
                                                 std::span<const double> servo_rad) {
  std::vector<std::optional<Balance>> stands(accelerations.size());
  const bool from_neighbours = car.springs_only_stiffen();
  const auto work = [&](std::size_t from, std::size_t to) {
    const Balance* near = nullptr;
    for (std::size_t i = from; i < to; ++i) {
      auto stand = car.balance(collars, accelerations[i], servo_rad.empty() ? 0.0 : servo_rad[i], near);
      if (stand) stands[i] = std::move(*stand);
      near = from_neighbours && stands[i] ? &*stands[i] : nullptr;
    }
  };
  // Each its own stretch: neighbours are near each other.
  const unsigned hands = hands_of(threads);
  by_hands(hands, [&](unsigned h) { work(stands.size() * h / hands, stands.size() * (h + 1) / hands); });
  return stands;
}

std::vector<PathPoint> through_corner(const LoadedCar& car, const Collars& collars, const CornerPath& path,
                                      int samples) {
  std::vector<PathPoint> points;
  std::vector<Acceleration> asked;
  std::vector<double> servo;
  for (int i = 0; i < samples; ++i) {
    PathPoint p;
    p.along = static_cast<double>(i) / (samples - 1);
    p.phase = p.along < middle_from  ? CornerPhase::entry
              : p.along <= middle_to ? CornerPhase::middle
                                     : CornerPhase::exit;
    p.a = asked_at(path, p.along);
    p.servo_rad = servo_at(car.model(), path, p.a).value_or(0.0);
    asked.push_back(p.a);
    servo.push_back(p.servo_rad);
    points.push_back(std::move(p));
  }
  auto stands = stands_under(car, collars, asked, 1, servo);
  for (std::size_t i = 0; i < points.size(); ++i) points[i].balance = std::move(stands[i]);
  return points;
}

}  // namespace lowkite
