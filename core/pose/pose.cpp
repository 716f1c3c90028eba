#include "core/pose/pose.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double settled_mm = 1e-12;
constexpr double reached_mm = 1e-9;  // where rounding keeps Newton from settling; still far below any gauge
constexpr double least_step_rad = 1e-15;
constexpr int most_steps = 200;
constexpr double unforeseen_rad = 0.01;    // healthy corners curve by a few thousandths over the longest step
constexpr double longest_step_rad = 0.12;  // short enough that a linkage cannot slip past a dead centre unseen
// The wheel no longer rises with its arm; a real arm of 40 mm gives some 40 mm per rad.
constexpr double least_rise_mm_per_rad = 1e-3;

/// True when a pose continues another: each one's velocity foretells the other's spin axis. Between two that do not,
/// the linkage may have come apart and closed again in another assembly.
bool follows(const CornerPose& a, const CornerPose& b) {
  const double step = b.arm_angle - a.arm_angle;
  const Vec3 turned = b.spin_axis - a.spin_axis;
  const auto foretold = [&](const CornerPose& p) -> Vec3 { return p.wheel_by_arm().angular.cross(p.spin_axis) * step; };
  return (turned - foretold(a)).squaredNorm() < unforeseen_rad * unforeseen_rad &&
         (turned - foretold(b)).squaredNorm() < unforeseen_rad * unforeseen_rad;
}

struct ValueAndSlope {
  double value;
  double slope;  ///< per rad of arm angle
};

/// Where a quantity that has these values and slopes at two angles is zero, from the second on: the cubic that its
/// inverse goes by (Hermite's, by divided differences).
double zero_beyond(double angle_0, const ValueAndSlope& at_0, double angle_1, const ValueAndSlope& at_1) {
  const double apart = at_0.value - at_1.value;
  const double chord = (angle_0 - angle_1) / apart;
  const double second = (chord - 1.0 / at_1.slope) / apart;
  const double third = ((1.0 / at_0.slope - chord) / apart - second) / apart;
  return angle_1 + at_1.value * (-1.0 / at_1.slope + at_1.value * (second - third * at_0.value));
}

/// Finds the arm angle at which `quantity` is zero, from the design position, by Newton's method, from the second step
/// on by what the two last places tell, kept within a bracket and within `longest_step_rad`. `sign` is +1 when the
/// quantity must grow with the arm angle all the way and -1 when it must fall; where it no longer does, a dead centre
/// lies between, and that place counts as closed. `at_start`: the pose there, where it is known.
template <class Quantity>
tl::expected<CornerPose, PoseFailure> find_pose_from(double start, const CornerModel& corner, const SteerInput& steer,
                                                     double sign, const Quantity& quantity,
                                                     const CornerPose* at_start = nullptr) {
  // Poses are large: two places change their roles, so that none is copied from one to the other.
  struct Place {
    tl::expected<CornerPose, LinkageFailure> pose = tl::unexpected(LinkageFailure{});
    ValueAndSlope is{};
    std::optional<PoseFailure> failure;
  };
  const auto read = [&](Place& place) {
    place.is = quantity(*place.pose);
    if (sign * place.is.slope < least_rise_mm_per_rad) place.failure = PoseFailure{{}, true, std::nullopt};
  };
  const auto look = [&](double angle, Place& into) {
    into.pose = corner.linkage->solve(angle, steer);
    into.failure.reset();
    if (into.pose)
      read(into);
    else
      into.failure = PoseFailure{into.pose.error(), false, std::nullopt};
  };
  // A slope that doubles or halves within a step may have passed through zero and back on its way.
  const auto continues = [](const Place& a, const Place& b) {
    const double ratio = a.is.slope / b.is.slope;
    return ratio > 0.5 && ratio < 2.0 && follows(*a.pose, *b.pose);
  };
  std::array<Place, 2> places;
  Place *here = &places[0], *moved = &places[1];
  if (at_start) {
    here->pose = *at_start;
    read(*here);
  } else {
    look(start, *here);
  }
  if (here->failure) return tl::unexpected(*here->failure);
  double below = -pi;
  double above = pi;
  double angle = start;
  std::optional<PoseFailure> blocked;  // why there is no way on at `blocked_at`
  double blocked_at = 0.0;
  double angle_before = start;
  std::optional<ValueAndSlope> before;
  for (int i = 0; i < most_steps; ++i) {
    const auto [value, slope] = here->is;
    if (std::abs(value) < settled_mm) return *std::move(here->pose);
    (sign * value < 0.0 ? below : above) = angle;
    const bool comes_on = before && std::abs(value) < std::abs(before->value);
    const double zero = comes_on ? zero_beyond(angle_before, *before, angle, here->is) : angle - value / slope;
    double next = angle + std::clamp(zero - angle, -longest_step_rad, longest_step_rad);
    if (blocked && std::abs(next - start) >= std::abs(blocked_at - start)) next = 0.5 * (angle + blocked_at);
    if (!(next > below && next < above)) next = 0.5 * (below + above);
    if (std::abs(next - angle) < least_step_rad) break;
    look(next, *moved);
    if (moved->failure && !blocked) {
      // What is missing is told for about the place that was asked for, not for the first step that failed.
      const auto there = corner.linkage->solve(angle - value / slope, steer);
      blocked = there ? *moved->failure : PoseFailure{there.error(), false, std::nullopt};
    }
    // Where there is no way on, feel for the edge between the last good place and there; where the step was too long to
    // be sure of the way between, take a shorter one.
    const auto lost = [&] { return moved->failure || !continues(*here, *moved); };
    while (lost() && std::abs(next - angle) >= least_step_rad) {
      if (moved->failure) blocked_at = next;
      next = 0.5 * (angle + next);
      look(next, *moved);
    }
    if (lost()) break;
    before = here->is;
    angle_before = angle;
    std::swap(here, moved);
    angle = next;
  }
  const double missing = here->is.value;
  if (std::abs(missing) < reached_mm) return *std::move(here->pose);
  PoseFailure failure = blocked.value_or(PoseFailure{{}, true, std::nullopt});
  failure.missing_mm = missing;
  return tl::unexpected(failure);
}

/// The same; where there is no way from the design position as the wheel is steered, it is brought to its place
/// straight and steered there, as a hand would. Whoever knows a start has done so.
template <class Quantity>
tl::expected<CornerPose, PoseFailure> find_pose(const CornerModel& corner, const SteerInput& steer, double sign,
                                                const Quantity& quantity, double start = 0.0) {
  constexpr double steer_step_mm = 0.1;
  auto at_once = find_pose_from(start, corner, steer, sign, quantity);
  if (at_once || start != 0.0 || steer.shift.squaredNorm() == 0.0) return at_once;
  const int steer_steps = static_cast<int>(std::ceil(steer.shift.norm() / steer_step_mm));
  SteerInput part = steer;
  part.shift = Vec3::Zero();
  auto pose = find_pose_from(start, corner, part, sign, quantity);
  for (int i = 1; i <= steer_steps && pose; ++i) {
    part.shift = steer.shift * i / steer_steps;
    pose = find_pose_from(pose->arm_angle, corner, part, sign, quantity);
  }
  return pose ? pose : at_once;
}

/// How far the tyre is over the ground.
auto over_ground(const CornerModel& corner, const Ground& ground) {
  return [&](const CornerPose& p) {
    const Vec3 contact = contact_point(corner.tyre, p.wheel_centre, p.spin_axis, ground.up);
    const Vec3 velocity = contact_velocity(corner.tyre, p.wheel_centre, p.spin_axis, ground.up, p.wheel_by_arm());
    return ValueAndSlope{ground.height(contact), ground.up.dot(velocity)};
  };
}

}  // namespace

std::string PoseFailure::message() const {
  if (dead_centre)
    return say("the arm is at the end of its useful swing, {:.2f} mm short of what was asked",
               std::abs(missing_mm.value_or(0.0)));
  if (!missing_mm) return sentence(linkage);
  return say("{linkage}; the linkage closes up to {gap:.2f} mm short of that", "linkage"_a = sentence(linkage),
             "gap"_a = std::abs(*missing_mm));
}

Ground Ground::mirrored_frame() const {
  return {mirrored(up), offset, mirrored(forward), -mirrored(left)};
}

Ground ground_of(const Ground& ground, Side side) {
  return side == Side::left ? ground : ground.mirrored_frame();
}

Ground ground_under(const Car& car, const Attitude& attitude) {
  const double xf = car.gauge_x_mm[at(End::front)];
  const double xr = car.gauge_x_mm[at(End::rear)];
  const double hf = attitude.ride_height_mm[at(End::front)];
  const double hr = attitude.ride_height_mm[at(End::rear)];
  Ground g;
  const double ux = (hf - hr) / (xf - xr);
  const double uy = std::sin(attitude.roll_rad);
  g.up = Vec3(ux, uy, std::sqrt(1.0 - ux * ux - uy * uy));
  g.offset = hf - ux * xf;
  g.forward = (Vec3::UnitX() - g.up * g.up.x()).normalized();
  g.left = g.up.cross(g.forward);
  return g;
}

Vec3 contact_point(const Tyre& tyre, const Vec3& wheel_centre, const Vec3& spin_axis, const Vec3& up) {
  return contact_point<double>(shape_of(tyre), wheel_centre, spin_axis, up);
}

Vec3 contact_velocity(const Tyre& tyre, const Vec3& wheel_centre, const Vec3& spin_axis, const Vec3& up,
                      const Twist& wheel) {
  return contact_velocity<double>(shape_of(tyre), wheel_centre, spin_axis, up, wheel);
}

SteerInput rack_input(Side side, double rack_mm) {
  const double outboard = side == Side::left ? 1.0 : -1.0;
  return {Vec3(0.0, outboard * rack_mm, 0.0), Vec3(0.0, outboard, 0.0)};
}

tl::expected<CornerPose, PoseFailure> pose_at_travel(const CornerModel& corner, double travel_mm,
                                                     const SteerInput& steer, double start) {
  const double target = corner.design_wheel_z_mm + travel_mm;
  return find_pose(
      corner, steer, 1.0,
      [&](const CornerPose& p) {
        return ValueAndSlope{p.wheel_centre.z() - target, p.wheel_by_arm().at(p.wheel_centre).z()};
      },
      start);
}

tl::expected<CornerPose, PoseFailure> pose_at_height(const CornerModel& corner, PointHandle point, double z_mm,
                                                     const SteerInput& steer) {
  const Body body = corner.spec->point_spec(point).body;
  const auto quantity = [&](const CornerPose& p) {
    const Vec3 place = point_in_chassis(corner, p, point);
    return ValueAndSlope{place.z() - z_mm, p.twist(body).at(place).z()};
  };
  const auto design = corner.linkage->solve(0.0, steer);
  if (!design) return tl::unexpected(PoseFailure{design.error(), false, std::nullopt});
  return find_pose(corner, steer, quantity(*design).slope < 0.0 ? -1.0 : 1.0, quantity);
}

tl::expected<CornerPose, PoseFailure> pose_at_slide(const CornerModel& corner, double slide_mm,
                                                    const SteerInput& steer) {
  return find_pose(corner, steer, 1.0, [&](const CornerPose& p) {
    return ValueAndSlope{p.slide_mm - slide_mm, p.slide_per_arm};
  });
}

tl::expected<CornerPose, PoseFailure> pose_on_ground(const CornerModel& corner, const Ground& ground,
                                                     const SteerInput& steer, double start) {
  return find_pose(corner, steer, 1.0, over_ground(corner, ground), start);
}

tl::expected<CornerPose, PoseFailure> pose_on_ground(const CornerModel& corner, const Ground& ground,
                                                     const SteerInput& steer, const CornerPose& near) {
  return find_pose_from(near.arm_angle, corner, steer, 1.0, over_ground(corner, ground), &near);
}

Vec3 point_in_chassis(const CornerModel& corner, const CornerPose& pose, PointHandle point) {
  return pose.placement(corner.spec->point_spec(point).body).point(corner.geometry.set[point]);
}

Vec3 point_in_chassis(const CarModel& model, const SteeringPose& pose, PointHandle point) {
  const Body body = model.car->steering.spec->points[point].body;
  const Vec3& set = model.steering_geometry.set[point];
  return body == Body::chassis ? set : pose.placement(body).point(set);
}

double distance_between(const CornerModel& corner, const CornerPose& pose, PointHandle point_a, PointHandle point_b) {
  return (point_in_chassis(corner, pose, point_a) - point_in_chassis(corner, pose, point_b)).norm();
}

tl::expected<CornerPose, PoseFailure> pose_at_distance(const CornerModel& corner, PointHandle point_a,
                                                       PointHandle point_b, double distance_mm,
                                                       const SteerInput& steer) {
  const auto body = [&](PointHandle p) { return corner.spec->point_spec(p).body; };
  return find_pose(corner, steer, -1.0, [&](const CornerPose& p) {
    const Vec3 a = point_in_chassis(corner, p, point_a);
    const Vec3 b = point_in_chassis(corner, p, point_b);
    const Vec3 apart = a - b;
    const double distance = apart.norm();
    const Vec3 rate = p.twist(body(point_a)).at(a) - p.twist(body(point_b)).at(b);
    return ValueAndSlope{distance - distance_mm, apart.dot(rate) / distance};
  });
}

tl::expected<Steered, LinkageFailure> steer(const CarModel& model, double servo_rad, double rack_mm) {
  Steered s;
  for (const Side side : both_sides) s.corner[at(side)] = rack_input(side, rack_mm);
  if (!model.steering) return s;
  auto solved = model.steering->solve(model.servo_sense * servo_rad);
  if (!solved) return tl::unexpected(solved.error());
  for (const Side side : both_sides) {
    SteerInput& input = s.corner[at(side)];
    const Vec3 shift = solved->tie_shift[at(side)];
    const Vec3 rate = solved->tie_rate[at(side)] * model.servo_sense;
    input.shift += side == Side::left ? shift : mirrored(shift);
    input.rate = side == Side::left ? rate : mirrored(rate);
  }
  s.linkage = std::move(*solved);
  return s;
}

CarFailure failure_at(End end, Side side, const PoseFailure& failure) {
  return {fmt::format("{} {}: {}", word(end), word(side), failure.message()), end, side};
}

Twist tilting(const CornerPose& pose, Side side) {
  const double sign = side == Side::left ? 1.0 : -1.0;
  return {pose.wheel_by_steer.angular * sign, pose.wheel_by_steer.linear * sign};
}

tl::expected<AxlePose, CarFailure> pose_solid_axle(const CarModel& model, End end, const Ground& ground,
                                                   double pitch_rad) {
  constexpr int most_rounds = 50;
  constexpr double farthest_rad = 0.1;  // of one step
  const PerSide<CornerModel>& corners = model.corners[at(end)];
  double pitch = pitch_rad;
  double tilt = std::atan2(-ground.up.y(), ground.up.z());
  for (int round = 0; round < most_rounds; ++round) {
    AxlePose axle;
    Eigen::Vector2d off;
    Eigen::Matrix2d slope;
    for (const Side side : both_sides) {
      const CornerModel& corner = corners[at(side)];
      auto pose = corner.linkage->solve(pitch, {.axle_tilt = (side == Side::left ? 1.0 : -1.0) * tilt});
      if (!pose) return tl::unexpected(failure_at(end, side, pose.error()));
      const Ground g = ground_of(ground, side);
      const Vec3 contact = contact_point(corner.tyre, pose->wheel_centre, pose->spin_axis, g.up);
      const auto rise = [&](const Twist& t) {
        return contact_velocity(corner.tyre, pose->wheel_centre, pose->spin_axis, g.up, t).dot(g.up);
      };
      const auto row = static_cast<Eigen::Index>(at(side));
      off[row] = g.height(contact);
      slope(row, 0) = rise(pose->wheel_by_arm());
      slope(row, 1) = rise(tilting(*pose, side));
      axle.corner[at(side)] = std::move(*pose);
    }
    if (off.cwiseAbs().maxCoeff() < reached_mm * 0.01) return axle;
    const Eigen::Vector2d step = -slope.fullPivLu().solve(off);
    if (!step.allFinite()) break;
    pitch += std::clamp(step[0], -farthest_rad, farthest_rad);
    tilt += std::clamp(step[1], -farthest_rad, farthest_rad);
  }
  return cannot(say("the {} pod does not reach the ground with both wheels", word(end)), end);
}

tl::expected<AxlePose, CarFailure> pose_axle(const CarModel& model, End end, const Ground& ground,
                                             const Steered& steered, const AxlePose* near) {
  const PerSide<CornerModel>& corners = model.corners[at(end)];
  const MechanismSpec& spec = *corners[0].spec;
  if (!spec.independent)
    return pose_solid_axle(model, end, ground,
                           near ? 0.5 * (near->corner[0].arm_angle + near->corner[1].arm_angle) : 0.0);
  AxlePose axle;
  for (const Side side : both_sides) {
    SteerInput input;
    if (spec.steered) input = steered.corner[at(side)];
    const auto pose = pose_on_ground(corners[at(side)], side == Side::left ? ground : ground.mirrored_frame(), input,
                                     near ? near->corner[at(side)].arm_angle : 0.0);
    if (!pose) return tl::unexpected(failure_at(end, side, pose.error()));
    axle.corner[at(side)] = *pose;
  }
  return axle;
}

tl::expected<AxlePose, CarFailure> pose_axle(const CarModel& model, End end, const Attitude& attitude) {
  const auto steered = steer(model, attitude.servo_rad, attitude.rack_mm);
  if (!steered) return tl::unexpected(failure_of_steering(steered.error()));
  return pose_axle(model, end, ground_under(*model.car, attitude), *steered);
}

tl::expected<CarPose, CarFailure> pose_car(const CarModel& model, const Attitude& attitude) {
  CarPose car;
  car.ground = ground_under(*model.car, attitude);
  auto steered = steer(model, attitude.servo_rad, attitude.rack_mm);
  if (!steered) return tl::unexpected(failure_of_steering(steered.error()));
  for (const End end : both_ends) {
    const auto axle = pose_axle(model, end, car.ground, *steered);
    if (!axle) return tl::unexpected(axle.error());
    car.axle[at(end)] = *axle;
  }
  car.steering = std::move(steered->linkage);
  return car;
}

}  // namespace lowkite
