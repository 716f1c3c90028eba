#include "core/load/axle_load.hpp"

#include <algorithm>
#include <cmath>

#include <boost/math/tools/toms748_solve.hpp>

#include "core/load/bar.hpp"
#include "core/load/static_load.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double kink_n = 0.2;
constexpr double settled = 1e-12;
constexpr int most_stand_rounds = 50;
constexpr int most_newton_rounds = 12;
constexpr double farthest_tilt_rad = 0.35;
constexpr double least_n_mm_per_rad = 1e-9;
constexpr double least_sum_n = 1e-6;  ///< of an axle's loads, where one is looked for

double smooth_least(double a, double b) {
  const double near = std::max(0.0, kink_n - std::abs(a - b));
  return std::max(0.0, std::min(a, b) - near * near / (4.0 * kink_n));
}

/// How it answers `a`.
double slope_of_least(double a, double b) {
  const double near = 0.5 * std::max(0.0, kink_n - std::abs(a - b)) / kink_n;
  return a < b ? 1.0 - near : near;
}

bool is_pod(const AxleCase& c) {
  return !c.model->corner(c.end, Side::left).spec->independent;
}

double height_over(const CornerModel& corner, const CornerPose& pose, const Ground& ground) {
  return ground.height(contact_point(corner.tyre, pose.wheel_centre, pose.spin_axis, ground.up));
}

double rise_of(const CornerModel& corner, const CornerPose& pose, const Ground& ground, const Twist& wheel) {
  return contact_velocity(corner.tyre, pose.wheel_centre, pose.spin_axis, ground.up, wheel).dot(ground.up);
}

/// How the wheel moves with a twist, and what its own weight, and what accelerates it along with the car, ask for.
WheelMotion motion_of(const AxleCase& c, Side side, const WheelStand& w, const Twist& twist) {
  const Car& car = *c.model->car;
  const CornerModel& corner = c.model->corner(c.end, side);
  const Vec3 rubber = twist.at(w.contact);
  const Vec3 centre = twist.at(w.pose.wheel_centre);
  // A pod carries its motor: what turns the wheel is held by the pod itself, driving and braking.
  const bool held_there = is_pod(c) || (c.a.longitudinal_g < 0.0 && car.brakes == Brakes::hubs);
  const double own = unsprung_kg(car.axle(c.end), corner) * gravity_m_s2;
  WheelMotion m;
  m.up = rise_of(corner, w.pose, w.ground, twist);
  m.out = rubber.dot(w.ground.left);
  m.forward = (held_there ? rubber : centre).dot(w.ground.forward);
  m.needs = own * (centre.dot(w.ground.up) + c.a.lateral_g * sign_of(side) * centre.dot(w.ground.left) +
                   c.a.longitudinal_g * centre.dot(w.ground.forward));
  return m;
}

/// How far down a pod's side springs are screwed against each other, and its collar in the middle.
struct PodScrews {
  double collar = 0.0;
  double left_down = 0.0;

  explicit PodScrews(const PerSide<double>& c) : collar(0.5 * (c[0] + c[1])), left_down(0.5 * (c[0] - c[1])) {}
};

double collar_of(const AxleCase& c, Side side) {
  return is_pod(c) ? PodScrews(c.collar_mm).collar : c.collar_mm[at(side)];
}

/// By how much more than at rest a side spring is pressed.
double side_pressed(const AxleCase& c, Side side, const CornerPose& pose) {
  const CornerModel& corner = c.model->corner(c.end, side);
  return side_length(corner, c.standing->corner[at(side)]) - side_length(corner, pose) +
         sign_of(side) * PodScrews(c.collar_mm).left_down;
}

/// Reads a wheel once its pose is known: contact, motions, springs.
void read_stand(const AxleCase& c, Side side, WheelStand& w) {
  const CornerModel& corner = c.model->corner(c.end, side);
  w.contact = contact_point(corner.tyre, w.pose.wheel_centre, w.pose.spin_axis, w.ground.up);
  w.by_arm = motion_of(c, side, w, w.pose.wheel_by_arm());
  w.shock_mm = shock_length(corner, w.pose);
  w.shortens = shock_per_arm(corner, w.pose);
  const double free = corner.geometry.size_of(Size::spring_free);
  const double seat = spring_seat(c.model->car->axle(c.end), corner);
  w.spring_n = spring_of(corner).force(free - (w.shock_mm - seat - collar_of(c, side)));
  const double beyond = -std::min(0.0, stroke_left(corner, w.pose).value_or(0.0));
  const double pressing = w.spring_n + contact_rate * beyond;
  w.by_arm.needs += pressing * w.shortens;
  if (!is_pod(c)) return;
  const Twist tilt = tilting(w.pose, side);
  w.by_tilt = motion_of(c, side, w, tilt);
  w.by_tilt.needs += pressing * shortening(corner, w.pose, attachment::shock_upper, attachment::shock_lower, tilt);
  if (!has_side_spring(corner)) return;
  const double push = side_spring_n(corner, side_pressed(c, side, w.pose));
  const auto along = [&](const Twist& t) {
    return shortening(corner, w.pose, attachment::side_upper, attachment::side_lower, t);
  };
  w.by_arm.needs += push * along(w.pose.wheel_by_arm());
  w.by_tilt.needs += push * along(tilt);
}

/// What joins the two sides: the bar, and the third spring.
void join_sides(const AxleCase& c, AxleStand& stand) {
  auto& [l, r] = stand;
  if (c.bar_n_mm_per_rad > 0.0) {
    const auto left = bar_arm(*c.model, c.end, Side::left, l.pose);
    const auto right = bar_arm(*c.model, c.end, Side::right, r.pose);
    if (left && right) {
      const double moment = c.bar_n_mm_per_rad * (left->angle - right->angle);
      l.by_arm.needs += moment * left->per_arm;
      r.by_arm.needs -= moment * right->per_arm;
    }
  }
  if (!c.third.fitted()) return;
  if (const auto third = third_element(*c.model, c.end, l.pose, r.pose)) {
    const double push = c.third.push_n(c.third_standing_mm - third->length_mm, contact_rate);
    for (const Side side : both_sides) stand[at(side)].by_arm.needs += push * third->shortens[at(side)];
  }
}

tl::expected<AxleStand, CarFailure> stand_on_arms(const AxleCase& c) {
  tl::expected<AxleStand, CarFailure> stand(tl::in_place);
  for (const Side side : both_sides) {
    const CornerModel& corner = c.model->corner(c.end, side);
    const SteerInput& input = c.steer[at(side)];
    WheelStand& w = (*stand)[at(side)];
    w.ground = ground_of(c.ground, side);
    const double droop = c.droop_angle[at(side)];
    const CornerPose& hanging = c.hanging->corner[at(side)];
    const double clear = height_over(corner, hanging, w.ground);
    w.lifted = clear >= 0.0;
    w.most_n = smooth_above_zero(-clear, kink_mm) * contact_rate;
    if (w.lifted) {
      w.pose = hanging;
    } else {
      const CornerPose* near = c.near ? &c.near->corner[at(side)] : nullptr;
      const CornerPose& from = near ? *near : (c.beside ? c.beside : c.standing)->corner[at(side)];
      auto pose = near && near->arm_angle >= droop
                      ? pose_on_ground(corner, w.ground, input, *near)
                      : pose_on_ground(corner, w.ground, input, std::max(droop, from.arm_angle));
      if (!pose) return tl::unexpected(failure_at(c.end, side, pose.error()));
      w.pose = *pose;
    }
    read_stand(c, side, w);
  }
  join_sides(c, *stand);
  return stand;
}

/// A pod with its two coordinates where they are.
tl::expected<void, CarFailure> place_pod(const AxleCase& c, AxleStand& stand, double arm_angle, double tilt) {
  for (const Side side : both_sides) {
    WheelStand& w = stand[at(side)];
    auto pose = c.model->corner(c.end, side).linkage->solve(arm_angle, {.axle_tilt = sign_of(side) * tilt});
    if (!pose) return tl::unexpected(failure_at(c.end, side, pose.error()));
    w.pose = std::move(*pose);
  }
  return {};
}

/// A pod's tilt, left end up: it is turned about its forward axis first and pitched after it.
double tilt_of(const AxleStand& stand) {
  const auto& r = stand[0].pose.placement(Body::knuckle).rotation;
  return std::atan2(std::copysign(std::hypot(r(0, 1), r(2, 1)), r(2, 1)), r(1, 1));
}

/// Puts both wheels on the ground.
tl::expected<void, CarFailure> ground_pod(const AxleCase& c, AxleStand& stand) {
  const AxlePose& from = c.near ? *c.near : *c.standing;
  auto axle = pose_solid_axle(*c.model, c.end, c.ground, 0.5 * (from.corner[0].arm_angle + from.corner[1].arm_angle));
  if (!axle) return tl::unexpected(axle.error());
  for (const Side side : both_sides) stand[at(side)].pose = std::move(axle->corner[at(side)]);
  return {};
}

void read_pod(const AxleCase& c, AxleStand& stand) {
  for (const Side side : both_sides) read_stand(c, side, stand[at(side)]);
  join_sides(c, stand);
}

tl::expected<AxleStand, CarFailure> stand_on_pod(const AxleCase& c) {
  tl::expected<AxleStand, CarFailure> stand(tl::in_place);
  for (const Side side : both_sides) (*stand)[at(side)].ground = ground_of(c.ground, side);
  if (auto grounded = ground_pod(c, *stand); !grounded) return tl::unexpected(grounded.error());
  // The pod hangs no lower than its stop: there its wheels take up their load as they are pressed on the ground.
  const double droop = std::max(c.droop_angle[0], c.droop_angle[1]);
  const double tilt = tilt_of(*stand);
  AxleStand hanging = *stand;
  if (auto placed = place_pod(c, hanging, droop, tilt); !placed) return tl::unexpected(placed.error());
  bool both_clear = true;
  for (const Side side : both_sides) {
    WheelStand& w = (*stand)[at(side)];
    const double clear = height_over(c.model->corner(c.end, side), hanging[at(side)].pose, w.ground);
    w.lifted = clear >= 0.0;
    both_clear &= w.lifted;
    w.most_n = smooth_above_zero(-clear, kink_mm) * contact_rate;
  }
  if (both_clear)
    for (const Side side : both_sides) (*stand)[at(side)].pose = hanging[at(side)].pose;
  read_pod(c, *stand);
  return stand;
}

/// What the ground pushes with on an axle as a whole.
struct AxleForce {
  double lateral_n = 0.0;
  double lengthways_n = 0.0;
  double outward_n = 0.0;  ///< on either wheel, besides its share by load
};

/// What one newton on a wheel does along a coordinate when the axle carries `sum`, sideways and lengthways forces being
/// shared by load.
double work_per_load(const WheelMotion& m, Side side, const AxleForce& f, double sum) {
  return m.up + (sum > 0.0 ? f.lateral_n / sum * sign_of(side) * m.out + f.lengthways_n / sum * m.forward : 0.0);
}

/// Each wheel's own virtual work: n_i (up_i + force_i / sum) = needs_i, and no more than it may carry. The share
/// sum n_i(s) / s falls as s grows, so that one sum satisfies both. A wheel that its side force presses down harder the
/// less the axle carries (a jam, below the pole of its n_i) carries all it may.
PerSide<double> loads_on_arms(const AxleStand& stand, const AxleForce& f) {
  PerSide<double> n{};
  double slope = 0.0;  // of their sum, by the sum that they are taken at
  const auto loads_at = [&](double sum) {
    slope = 0.0;
    for (const Side side : both_sides) {
      const WheelStand& w = stand[at(side)];
      const double work = work_per_load(w.by_arm, side, f, sum);
      const double needs = w.by_arm.needs - f.outward_n * w.by_arm.out;
      n[at(side)] = needs <= 0.0 ? smooth_least(0.0, w.most_n)
                    : work > 0.0 ? smooth_least(needs / work, w.most_n)
                                 : w.most_n;
      if (needs > 0.0 && work > 0.0 && sum > 0.0)
        slope += slope_of_least(needs / work, w.most_n) * needs * (work - w.by_arm.up) / (work * work * sum);
    }
    return n[0] + n[1];
  };
  double sum = loads_at(0.0);
  bool settles = !(sum > 0.0);
  const double first = sum;
  // Newton's method; where a wheel's kink or pole turns it away, plain rounds from the start.
  for (int i = 0; i < most_newton_rounds && !settles; ++i) {
    const double off = loads_at(sum) - sum;
    settles = std::abs(off) < settled * sum;
    if (settles || !(slope < 1.0)) break;
    sum += off / (1.0 - slope);
    if (!(sum > 0.0)) break;
  }
  if (!settles) sum = first;
  for (int i = 0; i < most_stand_rounds && !settles; ++i) {
    const double next = loads_at(sum);
    settles = std::abs(next - sum) < settled * sum;
    sum = next;
  }
  if (settles) return n;
  const double most = stand[0].most_n + stand[1].most_n;
  const auto over = [&](double s) { return loads_at(s) - s; };
  const double least = std::min(least_sum_n, 0.5 * most);
  const double low = over(least);
  const double high = over(most);
  if (!(low > 0.0) || !(high < 0.0)) {
    loads_at(low > 0.0 ? most : least);
    return n;
  }
  std::uintmax_t rounds = 100;
  const auto found = boost::math::tools::toms748_solve(over, least, most, low, high,
                                                       boost::math::tools::eps_tolerance<double>(46), rounds);
  loads_at(0.5 * (found.first + found.second));
  return n;
}

/// Cramer's rule, where the two lines are not nearly one: this is asked tens of thousands of times for a stand.
Eigen::Vector2d solved(const Eigen::Matrix2d& m, const Eigen::Vector2d& b) {
  constexpr double nearly_one = 1e-6;
  const double det = m(0, 0) * m(1, 1) - m(0, 1) * m(1, 0);
  if (!(std::abs(det) > nearly_one * (std::abs(m(0, 0) * m(1, 1)) + std::abs(m(0, 1) * m(1, 0)))))
    return m.fullPivLu().solve(b);
  return {(b[0] * m(1, 1) - m(0, 1) * b[1]) / det, (m(0, 0) * b[1] - b[0] * m(1, 0)) / det};
}

/// The pod's pitch and tilt hold both loads together; a negative one would have to pull.
PerSide<double> loads_on_pod(const AxleStand& stand, const AxleForce& f) {
  const auto needs = [&](const WheelMotion& m) { return m.needs - f.outward_n * m.out; };
  const double needs_pitch = needs(stand[0].by_arm) + needs(stand[1].by_arm);
  const double needs_tilt = needs(stand[0].by_tilt) + needs(stand[1].by_tilt);
  Eigen::Vector2d n = Eigen::Vector2d::Zero();
  double sum = 0.0;
  for (int i = 0; i < most_stand_rounds; ++i) {
    Eigen::Matrix2d work;
    for (const Side side : both_sides) {
      const auto column = static_cast<Eigen::Index>(at(side));
      work(0, column) = work_per_load(stand[at(side)].by_arm, side, f, sum);
      work(1, column) = work_per_load(stand[at(side)].by_tilt, side, f, sum);
    }
    n = solved(work, Eigen::Vector2d(needs_pitch, needs_tilt));
    const double next = n.sum();
    if (std::abs(next - sum) <= settled * std::abs(next)) break;
    sum = next;
  }
  return {n[0], n[1]};
}

/// Tilts the pod until the wheel on `side` carries nothing and the other one stands on the ground.
tl::expected<PerSide<double>, CarFailure> lift_one(const AxleCase& c, AxleStand& stand, const AxleForce& f, Side side) {
  const Side other = side == Side::left ? Side::right : Side::left;
  const double start = tilt_of(stand);
  const CornerModel& corner = c.model->corner(c.end, other);
  double angle = stand[at(other)].pose.arm_angle;
  PerSide<double> loads{};
  bool failed = false;
  const auto load_at = [&](double lifted_by) {
    const double tilt = start + sign_of(side) * lifted_by;
    auto pose = pose_on_ground(corner, stand[at(other)].ground, {.axle_tilt = sign_of(other) * tilt}, angle);
    if (!pose || !place_pod(c, stand, pose->arm_angle, tilt)) {
      failed = true;
      return 0.0;
    }
    read_pod(c, stand);
    loads = loads_on_pod(stand, f);
    return loads[at(side)];
  };
  const double low = load_at(0.0);
  const double high = load_at(farthest_tilt_rad);
  if (failed || !(low < 0.0) || !(high > 0.0))
    return cannot(say("the {} pod tips over: its side springs do not hold this roll", word(c.end)), c.end);
  std::uintmax_t rounds = 60;
  const auto found = boost::math::tools::toms748_solve(load_at, 0.0, farthest_tilt_rad, low, high,
                                                       boost::math::tools::eps_tolerance<double>(44), rounds);
  load_at(0.5 * (found.first + found.second));
  if (failed) return cannot(say("the {} pod does not reach the ground", word(c.end)), c.end);
  loads[at(side)] = 0.0;
  stand[at(side)].lifted = true;
  return loads;
}

}  // namespace

double smooth_above_zero(double x, double within) {
  if (std::abs(x) >= within) return std::max(0.0, x);
  return (x + within) * (x + within) / (4.0 * within);
}

tl::expected<AxleStand, CarFailure> stand_axle(const AxleCase& c) {
  return is_pod(c) ? stand_on_pod(c) : stand_on_arms(c);
}

tl::expected<PerSide<double>, CarFailure> load_axle(const AxleCase& c, AxleStand& stand, double lateral_n,
                                                    double lengthways_n, double outward_n) {
  const AxleForce f{lateral_n, lengthways_n, outward_n};
  if (!is_pod(c)) return loads_on_arms(stand, f);
  tl::expected<PerSide<double>, CarFailure> loads = loads_on_pod(stand, f);
  for (const Side side : both_sides)
    if ((*loads)[at(side)] < 0.0 && !stand[at(side)].lifted) {
      loads = lift_one(c, stand, f, side);
      if (!loads) return loads;
      break;
    }
  for (const Side side : both_sides)
    (*loads)[at(side)] = smooth_least(std::max(0.0, (*loads)[at(side)]), stand[at(side)].most_n);
  return loads;
}

tl::expected<PerSide<double>, CarFailure> collars_under(const AxleCase& c, const AxleStand& stand,
                                                        const PerSide<double>& load_n) {
  for (const double n : load_n)
    if (n <= 0.0) return cannot(say("a wheel would have to pull the car down"));
  /// What the spring itself must hold: all that the ground asks for, less what holds it besides.
  const auto lacks = [&](const AxleStand& s, Side side) {
    const WheelStand& w = s[at(side)];
    return load_n[at(side)] * w.by_arm.up - (w.by_arm.needs - w.spring_n * w.shortens);
  };
  const auto collar = [&](Side side, double force) -> tl::expected<double, CarFailure> {
    // Not a number where the spring stands across the wheel's motion.
    if (!(force > 0.0) || !std::isfinite(force))
      return cannot(say("a spring would have to pull, or stands across the wheel's motion"));
    const CornerModel& corner = c.model->corner(c.end, side);
    return stand[at(side)].shock_mm - spring_seat(c.model->car->axle(c.end), corner) -
           (corner.geometry.size_of(Size::spring_free) - spring_of(corner).compression(force));
  };
  PerSide<double> collars{};
  if (!is_pod(c)) {
    for (const Side side : both_sides) {
      const auto one = collar(side, lacks(stand, side) / stand[at(side)].shortens);
      if (!one) return tl::unexpected(one.error());
      collars[at(side)] = *one;
    }
    return collars;
  }
  // Turning the screws against each other by t presses the left side spring by t more and the right one by t less,
  // until that one is loose.
  AxleCase turned = c;
  AxleStand s = stand;
  turned.collar_mm = {};
  read_pod(turned, s);
  double lacks_tilt = 0.0, per_mm = 0.0;
  for (const Side side : both_sides) {
    const WheelStand& w = s[at(side)];
    const CornerModel& corner = c.model->corner(c.end, side);
    lacks_tilt += load_n[at(side)] * w.by_tilt.up - w.by_tilt.needs;
    if (has_side_spring(corner))
      per_mm += sign_of(side) * corner.geometry.size_of(Size::side_rate) *
                shortening(corner, w.pose, attachment::side_upper, attachment::side_lower, tilting(w.pose, side));
  }
  if (std::abs(per_mm) < least_n_mm_per_rad)
    return cannot(say("the car file tells no side springs on the {} axle: nothing holds its roll", word(c.end)), c.end);
  double left_down = lacks_tilt / per_mm;
  const double preload = c.model->corner(c.end, Side::left).geometry.size_of(Size::side_preload);
  if (std::abs(left_down) > preload) left_down = std::copysign(2.0 * std::abs(left_down) - preload, left_down);
  turned.collar_mm = {left_down, -left_down};
  read_pod(turned, s);
  const auto middle =
      collar(Side::left, (lacks(s, Side::left) + lacks(s, Side::right)) / (s[0].shortens + s[1].shortens));
  if (!middle) return tl::unexpected(middle.error());
  return PerSide<double>{*middle + left_down, *middle - left_down};
}

}  // namespace lowkite
