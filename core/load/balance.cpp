#include "core/load/balance.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/load/bar.hpp"
#include "core/load/mass_figures.hpp"

namespace lowkite {
namespace {

/// One unit of each unknown is worth about the same: mm, mm, and what lifts a wheel about a millimetre.
constexpr double roll_unit = 1.0 / 80.0;
constexpr double close_enough_n = 1e-6;
constexpr double good_enough_n = 1e-4;  ///< where a kink keeps the last digits from settling
constexpr double kink_mm = 0.05;
constexpr double kink_n = 0.2;
constexpr double lifted_n = 0.02;      ///< less than a scale could show
constexpr double good_progress = 0.2;  ///< of what was off, after a step with slopes that still serve
constexpr int most_steps = 300;
constexpr int most_halvings = 14;
constexpr double farthest = 4.0;  ///< of one step, mm
/// Over which the slopes are taken, mm: the first while all is smooth.
constexpr std::array<double, 9> slope_reach{1e-5, 0.01, -0.01, 0.05, -0.05, 0.2, -0.2, 0.8, -0.8};
/// Arms over which a car's wheels answer roll and pitch, mm: they weigh the three sums alike.
constexpr double roll_arm = 80.0;
constexpr double pitch_arm = 130.0;

double sign_of(Side side) {
  return side == Side::left ? 1.0 : -1.0;
}

/// A point of the corner's frame in the car's.
Vec3 in_car(Side side, const Vec3& p) {
  return side == Side::left ? p : mirrored(p);
}

}  // namespace

double Balance::cross() const {
  return (wheel[0][0].load_n + wheel[1][1].load_n) / total_n();
}

double Balance::left() const {
  return (wheel[0][0].load_n + wheel[1][0].load_n) / total_n();
}

struct LoadedCar::Inputs {
  const Collars* collars;
  Acceleration a;
  SteerInput steer_left, steer_right;
  const CarPose* near = nullptr;  ///< where each wheel is looked for first
};

/// What pushes on the car in one attitude, and the three sums that must vanish.
struct LoadedCar::Forces {
  Balance balance;
  Eigen::Vector3d off = Eigen::Vector3d::Zero();  ///< N, N (roll over a half track), N (pitch over a half wheelbase)
};

namespace {

/// max(0, x) and min(a, b) with their kinks rounded within a hair, so that Newton's method sees a slope on both sides.
double smooth_above_zero(double x, double within) {
  if (std::abs(x) >= within) return std::max(0.0, x);
  return (x + within) * (x + within) / (4.0 * within);
}
double smooth_least(double a, double b) {
  const double near = std::max(0.0, kink_n - std::abs(a - b));
  return std::max(0.0, std::min(a, b) - near * near / (4.0 * kink_n));
}

/// One corner in one attitude, before its load is known.
struct CornerState {
  CornerPose pose;
  Ground ground;  ///< in the corner's frame
  Vec3 contact;
  double up = 0.0;       ///< of the contact per rad of arm
  double out = 0.0;      ///< of the rubber there, outward
  double forward = 0.0;  ///< of what the lengthways force works on
  double needs = 0.0;    ///< N mm per rad that the ground must hold
  double most_n = 0.0;   ///< what it may carry while it just touches
  double spring_n = 0.0;
  double shortens = 0.0;  ///< the shock, per rad
  double shock_mm = 0.0;
  bool lifted = false;
};

/// The loads of an axle whose lateral and lengthways forces are shared by load: each wheel's virtual work holds.
PerSide<double> shared_loads(const PerSide<CornerState>& c, double lateral_n, double lengthways_n) {
  PerSide<double> n{};
  const auto loads_at = [&](double sum) {
    for (const Side side : both_sides) {
      const CornerState& k = c[at(side)];
      const double per_load =
          k.up + (sum > 0.0 ? lateral_n / sum * sign_of(side) * k.out + lengthways_n / sum * k.forward : 0.0);
      n[at(side)] = smooth_least(std::max(0.0, k.needs / per_load), k.most_n);
    }
    return n[0] + n[1];
  };
  double sum = loads_at(0.0);
  for (int i = 0; i < 50 && sum > 0.0; ++i) {
    const double next = loads_at(sum);
    if (std::abs(next - sum) < 1e-12 * sum) break;
    sum = next;
  }
  return n;
}

}  // namespace

tl::expected<LoadedCar, std::string> LoadedCar::of(const CarModel& model) {
  if (!(model.mass.kg > 0.0) || !model.mass.cg)
    return tl::unexpected(std::string("the car file tells no mass or no centre of gravity"));
  for (const End end : both_ends) {
    const CornerModel& corner = model.corner(end, Side::left);
    if (!corner.spec->independent)
      return tl::unexpected(
          fmt::format("the {} axle carries both wheels on one beam: its springs are not modelled", name_of(end)));
    if (!corner.geometry.has(attachment::shock_upper) || !corner.geometry.has(attachment::shock_lower) ||
        !(corner.geometry.size_of(Size::spring_rate) > 0.0))
      return tl::unexpected(fmt::format("the car file tells no spring on the {} axle", name_of(end)));
  }
  LoadedCar loaded(model);
  const auto standing = pose_car(model, static_attitude(model));
  if (!standing) return tl::unexpected(standing.error().message);
  loaded.standing_ = *standing;
  const auto steered = steer(model, 0.0);
  if (!steered) return tl::unexpected(std::string("the steering cannot stand in the middle"));
  for (const End end : both_ends) {
    loaded.bar_[at(end)] = bar_stiffness(model, end);
    for (const Side side : both_sides) {
      const SteerInput input = model.corner(end, side).spec->steered ? steered->corner[at(side)] : SteerInput{};
      loaded.droop_angle_[at(end)][at(side)] =
          find_stops(model, end, side, standing->axle[at(end)].corner[at(side)], input).droop.arm_angle;
    }
  }
  auto level = loaded.collars_for(model.ride_height_mm);
  if (!level) return tl::unexpected(level.error());
  loaded.level_ = *level;
  return loaded;
}

tl::expected<LoadedCar::Forces, std::string> LoadedCar::forces(const Attitude& attitude, const Inputs& inputs) const {
  const Car& car = *model_->car;
  Forces f;
  Balance& b = f.balance;
  b.attitude = attitude;
  const Ground ground = ground_under(car, attitude);
  b.pose = standing_;
  b.pose.ground = ground;
  const double weight = model_->mass.kg * gravity_m_s2;
  const Vec3 cg = *model_->mass.cg;
  const double lateral = weight * inputs.a.lateral_g;
  const double lengthways = weight * inputs.a.longitudinal_g;
  PerEnd<PerSide<CornerState>> corners;
  for (const End end : both_ends) {
    for (const Side side : both_sides) {
      const CornerModel& corner = model_->corner(end, side);
      const SteerInput& input = !corner.spec->steered ? SteerInput{}
                                : side == Side::left  ? inputs.steer_left
                                                      : inputs.steer_right;
      CornerState& k = corners[at(end)][at(side)];
      k.ground = ground_of(ground, side);
      const double droop = droop_angle_[at(end)][at(side)];
      auto hanging = corner.linkage->solve(droop, input);
      if (!hanging) return tl::unexpected(corner_failure(end, side, hanging.error()).message);
      const double clear =
          k.ground.height(contact_point(corner.tyre, hanging->wheel_centre, hanging->spin_axis, k.ground.up));
      k.lifted = clear >= 0.0;
      k.most_n = smooth_above_zero(-clear, kink_mm) * contact_rate;
      if (k.lifted) {
        k.pose = *hanging;
      } else {
        const CarPose& from = inputs.near ? *inputs.near : standing_;
        const double start = std::max(droop, from.axle[at(end)].corner[at(side)].arm_angle);
        auto pose = pose_on_ground(corner, k.ground, input, start);
        if (!pose) return tl::unexpected(pose.error().message());
        k.pose = *pose;
      }
      k.contact = contact_point(corner.tyre, k.pose.wheel_centre, k.pose.spin_axis, k.ground.up);
      const Twist& wheel = k.pose.wheel_by_arm();
      const Vec3 rubber = wheel.at(k.contact);
      const Vec3 centre = wheel.at(k.pose.wheel_centre);
      const bool on_hubs = lengthways < 0.0 && car.brakes == Brakes::hubs;
      k.up = contact_velocity(corner.tyre, k.pose.wheel_centre, k.pose.spin_axis, k.ground.up, wheel).dot(k.ground.up);
      k.out = rubber.dot(k.ground.left);
      k.forward = (on_hubs ? rubber : centre).dot(k.ground.forward);
      k.shock_mm = shock_length(corner, k.pose);
      k.shortens = shock_per_arm(corner, k.pose);
      const double free = corner.geometry.size_of(Size::spring_free);
      const double seat = car.axle(end).spring_seat_mm;
      k.spring_n = spring_of(corner).force(free - (k.shock_mm - seat - (*inputs.collars)[at(end)][at(side)]));
      const double pushed_in = corner.geometry.size_of(Size::shock_compressed) - k.shock_mm;
      const double end_stop = pushed_in > 0.0 ? contact_rate * pushed_in : 0.0;
      // The wheel's own weight, and what accelerates it along with the car.
      const double own = car.axle(end).unsprung_kg * gravity_m_s2;
      k.needs = (k.spring_n + end_stop) * k.shortens +
                own * (centre.dot(k.ground.up) + inputs.a.lateral_g * sign_of(side) * centre.dot(k.ground.left) +
                       inputs.a.longitudinal_g * centre.dot(k.ground.forward));
    }
    // What joins the two sides.
    auto& [l, r] = corners[at(end)];
    if (bar_[at(end)] > 0.0) {
      const auto left = bar_arm(*model_, end, Side::left, l.pose);
      const auto right = bar_arm(*model_, end, Side::right, r.pose);
      if (left && right) {
        const double moment = bar_[at(end)] * (left->angle - right->angle);
        l.needs += moment * left->per_arm;
        r.needs -= moment * right->per_arm;
      }
    }
    if (const double heave = model_->corner(end, Side::left).geometry.size_of(Size::heave_rate); heave > 0.0) {
      double in = 0.0;
      for (const Side side : both_sides)
        in += 0.5 * (shock_length(model_->corner(end, side), standing_.axle[at(end)].corner[at(side)]) -
                     corners[at(end)][at(side)].shock_mm);
      const double push = heave * std::max(0.0, in);
      l.needs += 0.5 * push * l.shortens;
      r.needs += 0.5 * push * r.shortens;
    }
  }
  // Yaw: the axles share the lateral force as the centre of gravity lies between them.
  const auto along = [&](End end) {
    double x = 0.0;
    for (const Side side : both_sides) x += 0.5 * in_car(side, corners[at(end)][at(side)].contact).dot(ground.forward);
    return x;
  };
  const double x_front = along(End::front);
  const double x_rear = along(End::rear);
  const double x_cg = cg.dot(ground.forward);
  const double front_share = (x_cg - x_rear) / (x_front - x_rear);
  double up_sum = 0.0, roll_sum = 0.0, pitch_sum = 0.0;
  for (const End end : both_ends) {
    const double side_force = lateral * (end == End::front ? front_share : 1.0 - front_share);
    const Axle& axle = car.axle(end);
    const double total_share = lengthways < 0.0 ? car.axles[0].braked_share + car.axles[1].braked_share
                                                : car.axles[0].driven_share + car.axles[1].driven_share;
    const double share =
        total_share > 0.0 ? (lengthways < 0.0 ? axle.braked_share : axle.driven_share) / total_share : 0.5;
    const PerSide<double> loads = shared_loads(corners[at(end)], side_force, lengthways * share);
    const double sum = loads[0] + loads[1];
    for (const Side side : both_sides) {
      const CornerState& k = corners[at(end)][at(side)];
      const CornerModel& corner = model_->corner(end, side);
      WheelState& w = b.wheel[at(end)][at(side)];
      w.load_n = loads[at(side)];
      w.lifted = w.load_n < lifted_n;
      w.lateral_n = sum > 0.0 ? side_force * w.load_n / sum : 0.0;
      w.longitudinal_n = sum > 0.0 ? lengthways * share * w.load_n / sum : 0.0;
      w.spring_n = k.spring_n;
      w.shock_mm = k.shock_mm;
      if (const double in = corner.geometry.size_of(Size::shock_compressed); in > 0.0)
        w.stroke_left_mm = k.shock_mm - in;
      b.pose.axle[at(end)].corner[at(side)] = k.pose;
      const Vec3 contact = in_car(side, k.contact);
      up_sum += w.load_n;
      roll_sum += w.load_n * contact.dot(ground.left);
      pitch_sum += w.load_n * contact.dot(ground.forward);
    }
    for (const double edge : {-1.0, 1.0}) {
      const Vec3 p(car.gauge_x_mm[at(end)], edge * car.plate_half_width_mm[at(end)], 0.0);
      const double n = contact_rate * smooth_above_zero(-ground.height(p), kink_mm);
      b.plate_n += n;
      up_sum += n;
      roll_sum += n * p.dot(ground.left);
      pitch_sum += n * p.dot(ground.forward);
    }
  }
  // Moments about the ground under the chassis' origin, each over the arm with which a wheel answers it.
  const double h = ground.height(cg);
  f.off[0] = up_sum - weight;
  f.off[1] = (roll_sum - weight * cg.dot(ground.left) + lateral * h) / roll_arm;
  f.off[2] = (pitch_sum - weight * x_cg + lengthways * h) / pitch_arm;
  return f;
}

tl::expected<Balance, std::string> LoadedCar::balance(const Collars& collars, const Acceleration& a, double servo_rad,
                                                      const Balance* near) const {
  Inputs inputs;
  inputs.collars = &collars;
  const auto steered = steer(*model_, servo_rad);
  if (!steered) return tl::unexpected(std::string("the steering does not turn that far"));
  inputs.steer_left = steered->corner[0];
  inputs.steer_right = steered->corner[1];
  const auto attitude_at = [&](const Eigen::Vector3d& u) {
    return Attitude{.ride_height_mm = {u[0], u[1]}, .roll_rad = u[2] * roll_unit, .servo_rad = servo_rad};
  };
  const Attitude from = near ? near->attitude : static_attitude(*model_);
  Eigen::Vector3d u(from.ride_height_mm[0], from.ride_height_mm[1], from.roll_rad / roll_unit);
  // Where the acceleration is far from what `near` was for, it is laid on in steps: a wheel lifts, a stop is met.
  const int stages = near ? 1 : 1 + static_cast<int>(2.0 * std::hypot(a.lateral_g, a.longitudinal_g));
  std::string trouble = "the car finds no steady stand at this acceleration: it would tip over or run up its own links";
  for (int stage = 1; stage <= stages; ++stage) {
    inputs.a = {a.lateral_g * stage / stages, a.longitudinal_g * stage / stages};
    inputs.near = nullptr;
    auto now = forces(attitude_at(u), inputs);
    if (!now) return tl::unexpected(now.error());
    // Newton's steps, shorter until they help. At a kink (a wheel lifts, a stop is met) the slope on this side may lead
    // nowhere: then slopes are taken over wider steps, which see both sides.
    std::size_t reach = 0;
    inputs.near = &now->balance.pose;
    // Slopes are dear: they serve for the next step too while steps with them still come on well.
    Eigen::Matrix3d slope;
    bool fresh = false, usable = false;
    for (int step = 0; step < most_steps && now->off.norm() > close_enough_n && reach < slope_reach.size(); ++step) {
      fresh = !usable;
      bool whole = true;
      for (int i = 0; i < 3 && whole && fresh; ++i) {
        Eigen::Vector3d moved = u;
        moved[i] += slope_reach[reach];
        const auto there = forces(attitude_at(moved), inputs);
        if (there)
          slope.col(i) = (there->off - now->off) / slope_reach[reach];
        else
          whole = false;
      }
      Eigen::Vector3d go = whole ? Eigen::Vector3d(-slope.fullPivLu().solve(now->off)) : Eigen::Vector3d::Zero();
      if (const double far = go.cwiseAbs().maxCoeff(); far > farthest) go *= farthest / far;
      bool better = false;
      double share = 1.0;
      const double before = now->off.norm();
      bool full = false;
      for (int half = 0; half < most_halvings && !better && whole && go.allFinite(); ++half, share *= 0.5) {
        auto there = forces(attitude_at(u + share * go), inputs);
        if (!there || there->off.norm() > now->off.norm() * (1.0 - 1e-4 * share)) continue;
        u += share * go;
        *now = std::move(*there);
        better = true;
        full = half == 0;
      }
      usable = full && now->off.norm() < good_progress * before;
      if (better || fresh) reach = better ? 0 : reach + 1;
    }
    if (now->off.norm() > good_enough_n) return tl::unexpected(trouble);
    if (stage < stages) continue;
    Balance b = std::move(now->balance);
    const auto read = ::lowkite::read_car(*model_, b.pose, b.attitude);
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        b.wheel[at(end)][at(side)].camber_rad = read.axle[at(end)].wheel[at(side)].camber_rad;
        b.wheel[at(end)][at(side)].toe_rad = read.axle[at(end)].wheel[at(side)].toe_rad;
      }
    for (const End end : both_ends)
      if (const auto& centre = read.axle[at(end)].roll_centre.moving) b.roll_centre_mm[at(end)] = centre->height;
    b.rise_mm = b.pose.ground.height(*model_->mass.cg) - standing_.ground.height(*model_->mass.cg);
    const Car& car = *model_->car;
    const auto pitch_of = [&](const PerEnd<double>& h) {
      return std::atan2(h[1] - h[0], car.gauge_x_mm[0] - car.gauge_x_mm[1]);
    };
    b.pitch_rad = pitch_of(b.attitude.ride_height_mm) - pitch_of(model_->ride_height_mm);
    return b;
  }
  return tl::unexpected(trouble);
}

tl::expected<Collars, std::string> LoadedCar::collars_for(const PerEnd<double>& ride_height_mm, double cross) const {
  const Car& car = *model_->car;
  const Attitude level{.ride_height_mm = ride_height_mm};
  const auto pose = pose_car(*model_, level);
  if (!pose) return tl::unexpected(pose.error().message);
  const Vec3 cg = *model_->mass.cg;
  const double weight = model_->mass.kg * gravity_m_s2;
  // Four loads from four conditions: weight, roll, pitch, cross weight.
  Eigen::Matrix4d m;
  Eigen::Vector4d want(weight, weight * cg.dot(pose->ground.left), weight * cg.dot(pose->ground.forward),
                       cross * weight);
  int column = 0;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const CornerModel& corner = model_->corner(end, side);
      const CornerPose& p = pose->axle[at(end)].corner[at(side)];
      const Ground g = ground_of(pose->ground, side);
      const Vec3 contact = in_car(side, contact_point(corner.tyre, p.wheel_centre, p.spin_axis, g.up));
      const bool crossed = (end == End::front) == (side == Side::left);
      m.col(column++) << 1.0, contact.dot(pose->ground.left), contact.dot(pose->ground.forward), crossed ? 1.0 : 0.0;
    }
  const Eigen::Vector4d loads = m.fullPivLu().solve(want);
  Collars collars;
  column = 0;
  for (const End end : both_ends) {
    PerSide<std::optional<BarArm>> bar;
    for (const Side side : both_sides)
      bar[at(side)] = bar_arm(*model_, end, side, pose->axle[at(end)].corner[at(side)]);
    for (const Side side : both_sides) {
      const double load = loads[column++];
      if (load <= 0.0) return tl::unexpected(std::string("a wheel would have to pull the car down"));
      const CornerModel& corner = model_->corner(end, side);
      const CornerPose& p = pose->axle[at(end)].corner[at(side)];
      const Ground g = ground_of(pose->ground, side);
      const double own = car.axle(end).unsprung_kg * gravity_m_s2;
      const double up = contact_velocity(corner.tyre, p.wheel_centre, p.spin_axis, g.up, p.wheel_by_arm()).dot(g.up);
      double needs = load * up - own * p.wheel_by_arm().at(p.wheel_centre).dot(g.up);
      if (bar[0] && bar[1] && bar_[at(end)] > 0.0)
        needs -= sign_of(side) * bar_[at(end)] * (bar[0]->angle - bar[1]->angle) * bar[at(side)]->per_arm;
      const double force = needs / shock_per_arm(corner, p);
      if (force <= 0.0) return tl::unexpected(std::string("a spring would have to pull"));
      collars[at(end)][at(side)] = shock_length(corner, p) - car.axle(end).spring_seat_mm -
                                   (corner.geometry.size_of(Size::spring_free) - spring_of(corner).compression(force));
    }
  }
  return collars;
}

AxleRates LoadedCar::rates(End end) const {
  // Finite steps of the whole axle: what a hand pressing or twisting the chassis would find.
  constexpr double by_mm = 0.05;
  constexpr double by_rad = 0.002;
  Inputs inputs;
  inputs.collars = &level_;
  if (const auto steered = steer(*model_, 0.0)) {
    inputs.steer_left = steered->corner[0];
    inputs.steer_right = steered->corner[1];
  }
  const Attitude rest = static_attitude(*model_);
  const auto loads = [&](const LoadedCar& car, double down, double roll) -> PerSide<double> {
    Attitude there = rest;
    for (double& h : there.ride_height_mm) h -= down;
    there.roll_rad = roll;
    const auto f = car.forces(there, inputs);
    return f ? PerSide<double>{f->balance.wheel[at(end)][0].load_n, f->balance.wheel[at(end)][1].load_n}
             : PerSide<double>{};
  };
  AxleRates r;
  const auto deeper = loads(*this, pressed_mm + by_mm, 0.0);
  const auto less_deep = loads(*this, pressed_mm - by_mm, 0.0);
  r.wheel_n_per_mm_pressed = (deeper[0] + deeper[1] - less_deep[0] - less_deep[1]) / (4.0 * by_mm);
  const auto low = loads(*this, by_mm, 0.0);
  const auto high = loads(*this, -by_mm, 0.0);
  r.wheel_n_per_mm = (low[0] + low[1] - high[0] - high[1]) / (4.0 * by_mm);
  const Car& car = *model_->car;
  const auto& axle = standing_.axle[at(end)];
  double track = 0.0;
  for (const Side side : both_sides) track += axle.corner[at(side)].wheel_centre.y();
  LoadedCar no_bar = *this;
  no_bar.bar_[at(end)] = 0.0;
  const auto stiffness = [&](const LoadedCar& c) {
    const auto right = loads(c, 0.0, by_rad);
    const auto left = loads(c, 0.0, -by_rad);
    return (right[1] - right[0] - (left[1] - left[0])) * 0.5 * track / 2.0 / degrees(by_rad);
  };
  r.roll_n_mm_per_deg = stiffness(*this);
  r.roll_by_bar_n_mm_per_deg = r.roll_n_mm_per_deg - stiffness(no_bar);
  const auto rest_loads = loads(*this, 0.0, 0.0);
  const double sprung_kg = 0.5 * (rest_loads[0] + rest_loads[1]) / gravity_m_s2 - car.axle(end).unsprung_kg;
  r.ride_hz = std::sqrt(1000.0 * r.wheel_n_per_mm / sprung_kg) / (2.0 * std::numbers::pi);
  const CornerModel& corner = model_->corner(end, Side::left);
  if (const auto piston = piston_of(corner)) {
    const double ratio = *shock_per_contact(corner, axle.corner[0], standing_.ground);
    r.damping_n_s_per_mm = damper_rate(*piston, Oil{corner.geometry.size_of(Size::oil_cst)}) * ratio * ratio;
    // N/mm and N s/mm: 1000 times as much a metre.
    r.damping_ratio = 1000.0 * *r.damping_n_s_per_mm / (2.0 * std::sqrt(1000.0 * r.wheel_n_per_mm * sprung_kg));
  }
  if (const double third = corner.geometry.size_of(Size::heave_rate); third > 0.0) {
    const double ratio = *shock_per_contact(corner, axle.corner[0], standing_.ground);
    r.heave_n_per_mm = 0.5 * third * ratio * ratio;
  }
  const double hanging = droop_angle_[at(end)][0];
  if (const auto low_pose = model_->corner(end, Side::left)
                                .linkage->solve(hanging, end == End::front ? inputs.steer_left : SteerInput{})) {
    r.sag_mm = axle.corner[0].wheel_centre.z() - low_pose->wheel_centre.z();
    const double compressed = corner.geometry.size_of(Size::spring_free) -
                              (shock_length(corner, *low_pose) - car.axle(end).spring_seat_mm - level_[at(end)][0]);
    r.preload_n = spring_of(corner).force(compressed);
  }
  return r;
}

std::optional<LoadedCar::RollMotion> LoadedCar::roll_motion() const {
  const auto body = sprung_mass(*model_, standing_);
  const CarFigures f = ::lowkite::read_car(*model_, standing_, static_attitude(*model_));
  if (!body) return std::nullopt;
  double axis = 0.0, stiffness = 0.0, damping = 0.0;
  bool damped = true;
  const double x_front = f.axle[0].wheel[0].contact.x();
  const double x_rear = f.axle[1].wheel[0].contact.x();
  for (const End end : both_ends) {
    const auto& centre = f.axle[at(end)].roll_centre.moving;
    const double front = (body->cg.x() - x_rear) / (x_front - x_rear);
    axis += (end == End::front ? front : 1.0 - front) * (centre ? centre->height : 0.0);
    const AxleRates r = rates(end);
    stiffness += r.roll_n_mm_per_deg * degrees(1.0);
    const double half_track = 0.5 * f.axle[at(end)].track_mm;
    damped &= r.damping_n_s_per_mm.has_value();
    damping += 2.0 * r.damping_n_s_per_mm.value_or(0.0) * half_track * half_track;
  }
  const double arm = standing_.ground.height(body->cg) - axis;
  // N mm/rad over kg mm^2 is 1000 / s^2. Its own weight leans the body on.
  const double net = stiffness - body->kg * gravity_m_s2 * arm;
  const double inertia = body->inertia.roll_kg_mm2 + body->kg * arm * arm;
  if (!(net > 0.0)) return std::nullopt;
  RollMotion m;
  m.hz = std::sqrt(1000.0 * net / inertia) / (2.0 * std::numbers::pi);
  if (damped) m.damping_ratio = 1000.0 * damping / (2.0 * std::sqrt(1000.0 * net * inertia));
  return m;
}

std::optional<double> LoadedCar::roll_gradient_deg_per_g() const {
  constexpr double little_g = 0.05;
  const auto there = balance(level_, {little_g, 0.0});
  return there ? std::optional(degrees(there->attitude.roll_rad) / little_g) : std::nullopt;
}

}  // namespace lowkite
