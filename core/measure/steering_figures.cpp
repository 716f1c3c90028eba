#include "core/measure/steering_figures.hpp"

#include <cmath>

namespace lowkite {
namespace {
constexpr double least_into_turn_rad = radians(0.5);
}  // namespace

PerSide<double> headings(const PerSide<WheelFigures>& front) {
  return {-front[at(Side::left)].toe_rad, front[at(Side::right)].toe_rad};
}

PerSide<double> straight_ahead(const CarModel& model) {
  const auto axle = pose_axle(model, End::front, static_attitude(model));
  if (!axle) return {};
  const auto toe = [&](Side side) {
    const Vec3& spin = axle->corner[at(side)].spin_axis;
    return std::atan2(spin.x(), spin.y());
  };
  return {-toe(Side::left), toe(Side::right)};
}

bool tells_ackermann(const PerSide<WheelFigures>& front) {
  const PerSide<double> heading = headings(front);
  return std::abs(0.5 * (heading[0] + heading[1])) > least_lock_for_ackermann_rad;
}

double ideal_outer(double inner_rad, double kingpin_track, double wheelbase) {
  return std::atan2(1.0, 1.0 / std::tan(inner_rad) + kingpin_track / wheelbase);
}

std::optional<double> horn_from_square(const CarModel& model, const SteeringPose& pose) {
  const SteeringSpec& spec = *model.car->steering.spec;
  if (!spec.horn_ball) return std::nullopt;
  const auto place = [&](PointHandle point) { return point_in_chassis(model, pose, point); };
  const Vec3 shaft = place(spec.shaft);
  const Vec3 u = (place(spec.shaft_end()) - shaft).normalized();
  const Vec3 ball = place(spec.horn_ball);
  const Vec3 arm = (ball - shaft) - u * u.dot(ball - shaft);
  const Vec3 link = place(spec.drag_ball) - ball;
  const Vec3 across = link - u * u.dot(link);
  return std::asin(arm.normalized().dot(across.normalized()));
}

SteeringFigures read_steering(const CarModel& model, const PerSide<WheelFigures>& front, const SteeringPose* steering,
                              double wheelbase_mm, const PerSide<double>& straight) {
  SteeringFigures s;
  s.steer_rad = headings(front);
  const auto y = [&](Side side) {
    const WheelFigures& w = front[at(side)];
    return w.kingpin ? w.kingpin->on_ground.y() : w.contact.y();
  };
  s.kingpin_track_mm = y(Side::left) + y(Side::right);
  const double mean = 0.5 * (s.steer_rad[0] + s.steer_rad[1]);
  if (tells_ackermann(front)) {
    AckermannFigures a;
    a.inside = mean > 0.0 ? Side::left : Side::right;
    const double sign = mean > 0.0 ? 1.0 : -1.0;
    a.inner_rad = sign * s.steer_rad[at(a.inside)];
    a.outer_rad = sign * s.steer_rad[at(a.inside == Side::left ? Side::right : Side::left)];
    if (a.inner_rad > least_into_turn_rad) {
      a.ideal_outer_rad = ideal_outer(a.inner_rad, s.kingpin_track_mm, wheelbase_mm);
      a.error_rad = a.outer_rad - *a.ideal_outer_rad;
    }
    const double inner = a.inner_rad - sign * straight[at(a.inside)];
    const double outer = a.outer_rad - sign * straight[a.inside == Side::left ? 1 : 0];
    if (inner > least_into_turn_rad)
      a.percent = 100.0 * (inner - outer) / (inner - ideal_outer(inner, s.kingpin_track_mm, wheelbase_mm));
    s.ackermann = a;
    // The single wheel in the middle that would steer as the pair does (Gillespie, from memory); toe out of the turn
    // leaves the mean of the two.
    s.turning_radius_mm = std::min(a.inner_rad, a.outer_rad) > least_into_turn_rad
                              ? wheelbase_mm * 0.5 * (1.0 / std::tan(a.inner_rad) + 1.0 / std::tan(a.outer_rad))
                              : wheelbase_mm / std::tan(std::abs(mean));
  }
  if (steering) {
    const double per_servo =
        0.5 * (-front[at(Side::left)].toe_per_steer_rad + front[at(Side::right)].toe_per_steer_rad);
    if (std::abs(per_servo) > 1e-9) s.ratio = 1.0 / per_servo;
    s.horn_from_square_rad = horn_from_square(model, *steering);
  }
  return s;
}

}  // namespace lowkite
