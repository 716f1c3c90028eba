#include "core/load/balance.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <mutex>
#include <numbers>

#include "core/load/bar.hpp"
#include "core/load/mass_figures.hpp"
#include "core/load/tyre_give.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

/// One unit of each unknown is worth about the same: mm, mm, and what lifts a wheel about a millimetre.
constexpr double roll_unit = 1.0 / 80.0;
constexpr double close_enough_n = 1e-6;
constexpr double good_enough_n = 1e-4;  ///< where a kink keeps the last digits from settling
constexpr double on_the_way_n = 1e-3;   ///< while the acceleration is still being laid on
constexpr double least_step = 0.25;     ///< of those by which the acceleration is laid on
/// From where the step before let expect it, mm: what moves further is another stand. With a wheel in the air a car may
/// answer 0.001 g by half a millimetre.
constexpr double most_moved = 2.5;
// Of a car that leaves its stand by itself: how far a step goes, mm, over which its slopes are taken, the first step's
// time (mm per N), and how many there may be.
constexpr double let_go_farthest = 1.0;
constexpr double let_go_reach = 1e-5;
constexpr double let_go_time = 0.5;
constexpr int let_go_serves = 4;         ///< steps by the same slopes, while
constexpr double let_go_foretold = 0.3;  ///< no more than that of a step was not foretold
constexpr int most_let_go_steps = 150;
constexpr double tipped_over = 40.0;  ///< in the unit of roll: half a radian
constexpr int most_share_rounds = 40;
constexpr double same_share = 1e-12;   ///< of the lateral force that an axle takes
constexpr double light_share = 0.03;   ///< of all load, on a wheel that is about to leave the ground
constexpr double lifted_n = 0.02;      ///< less than a scale could show
constexpr double good_progress = 0.2;  ///< of what was off, after a step with slopes that still serve
/// Of the load that more acceleration takes off the inner wheels of a car that would stand as it does: the body's own
/// rising and leaning inward give no more back.
constexpr double surely_taken = 0.85;
constexpr double surely_tipped = 0.005;  ///< of the weight, less than nothing on the inner wheels
constexpr double end_within_g = 0.004;   ///< where a row's last stand is looked for
constexpr int most_balance_steps = 30;
constexpr int most_halvings = 8;
constexpr double farthest = 4.0;  ///< of one step, mm
/// Over which the slopes are taken, mm: the first while all is smooth.
constexpr std::array<double, 9> slope_reach{1e-5, 0.01, -0.01, 0.05, -0.05, 0.2, -0.2, 0.8, -0.8};
/// Arms over which a car's wheels answer roll and pitch, mm: they weigh the three sums alike.
constexpr double roll_arm = 80.0;
constexpr double pitch_arm = 130.0;

/// A point of the corner's frame in the car's.
Vec3 in_car(Side side, const Vec3& p) {
  return side == Side::left ? p : mirrored(p);
}

/// Not on the wheels of one side.
bool stands_up(const Balance& b) {
  return std::none_of(both_sides.begin(), both_sides.end(),
                      [&](Side s) { return b.wheel[0][at(s)].lifted && b.wheel[1][at(s)].lifted; });
}

/// On the way from one to another, a share of it.
Acceleration between(const Acceleration& from, const Acceleration& to, double share) {
  return {from.lateral_g + share * (to.lateral_g - from.lateral_g),
          from.longitudinal_g + share * (to.longitudinal_g - from.longitudinal_g)};
}

/// No wheel is in the air, or so light that the car may also stand with it there.
bool firmly_on_four_wheels(const Balance& b) {
  const double light = light_share * b.total_n();
  return std::all_of(both_ends.begin(), both_ends.end(),
                     [&](End e) { return b.wheel[at(e)][0].load_n > light && b.wheel[at(e)][1].load_n > light; });
}

}  // namespace

double CollarMove::part_of(const PerSide<double>& change) const {
  switch (what) {
    case What::left:
      return change[0];
    case What::right:
      return change[1];
    case What::middle:
      return 0.5 * (change[0] + change[1]);
    case What::side_screws:
      return 0.5 * (change[0] - change[1]);
  }
  return 0.0;
}

std::string_view name_of(CollarMove::What what) {
  switch (what) {
    case CollarMove::What::left:
      return "left";
    case CollarMove::What::right:
      return "right";
    case CollarMove::What::middle:
      return "middle";
    case CollarMove::What::side_screws:
      return marked("side screws");
  }
  return {};
}

std::array<CollarMove, 4> collar_moves(const Car& car) {
  using What = CollarMove::What;
  std::array<CollarMove, 4> moves;
  std::size_t i = 0;
  for (const End end : both_ends) {
    const SpringHolder holder = spring_holder(car, end);
    const bool pod = holder == SpringHolder::pod;
    moves[i++] = {pod ? What::middle : What::left, end, holder, {1.0, pod ? 1.0 : 0.0}};
    moves[i++] = {pod ? What::side_screws : What::right, end, holder, {pod ? 1.0 : 0.0, pod ? -1.0 : 1.0}};
  }
  return moves;
}

double Balance::cross() const {
  return (wheel[0][0].load_n + wheel[1][1].load_n) / total_n();
}

double Balance::left() const {
  return (wheel[0][0].load_n + wheel[1][0].load_n) / total_n();
}

/// What springs, bars, oils and weights do not move.
struct LoadedCar::Linked {
  SteerInput steer_left, steer_right;  ///< the servo in the middle
  PerEnd<AxlePose> hanging;            ///< the arms on their droop stops, steered so; a pod has none

  /// Where a shock is as its wheel rises from the droop stop, place by place up to its end or the linkage's.
  struct Pressed {
    double shock_at_mm = 0.0;
    std::optional<double> per_contact;
  };
  PerEnd<PerSide<std::vector<Pressed>>> pressed;  ///< read when first asked for
  std::once_flag read;
};

struct LoadedCar::Inputs {
  const Collars* collars = nullptr;
  Acceleration a;
  Sharing sharing;
  SteerInput steer_left, steer_right;
  const PerEnd<AxlePose>* hanging = nullptr;       ///< as Linked's, steered so
  std::unique_ptr<PerEnd<AxlePose>> hang_steered;  ///< they, where the servo is not in the middle
  const CarPose* near = nullptr;                   ///< a stand of this car, steered so, to look from
  const CarPose* beside = nullptr;                 ///< else one of a car that is much alike
};

double LoadedCar::inner_n(const Balance& b, const Acceleration& a) const {
  const Side outer = a.lateral_g > 0.0 ? Side::right : Side::left;
  const Ground& ground = b.pose.ground;
  const auto contact = [&](End end, Side side) {
    const CornerPose& p = b.pose.axle[at(end)].corner[at(side)];
    return in_car(
        side, contact_point(model_->corner(end, side).tyre, p.wheel_centre, p.spin_axis, ground_of(ground, side).up));
  };
  // Moments about the line through the two outer contacts, on which the car would tip.
  const Vec3 from = contact(End::rear, outer);
  const Vec3 line = (contact(End::front, outer) - from).normalized();
  const auto moment = [&](const Vec3& place, const Vec3& force) { return (place - from).cross(force).dot(line); };
  const Side inner = outer == Side::left ? Side::right : Side::left;
  const Vec3 between_inner = 0.5 * (contact(End::front, inner) + contact(End::rear, inner));
  const Vec3 weighs = -ground.up - a.lateral_g * ground.left - a.longitudinal_g * ground.forward;
  return -model_->mass.kg * gravity_m_s2 * moment(*model_->mass.cg, weighs) / moment(between_inner, ground.up);
}

bool LoadedCar::surely_tips(const Balance& stand, const Acceleration& from, const Acceleration& to) const {
  if (std::abs(to.lateral_g) <= std::abs(from.lateral_g) || to.lateral_g * from.lateral_g < 0.0) return false;
  const double will_have = inner_n(stand, to);
  const double has = inner_n(stand, {std::copysign(from.lateral_g, to.lateral_g), from.longitudinal_g});
  return has - surely_taken * (has - will_have) < 0.0;
}

/// What pushes on the car in one attitude, and the three sums that must vanish.
struct LoadedCar::Forces {
  Balance balance;
  Eigen::Vector3d off = Eigen::Vector3d::Zero();  ///< N, N (roll over a half track), N (pitch over a half wheelbase)
};

tl::expected<LoadedCar, CarFailure> LoadedCar::of(const CarModel& model, const LoadedCar* alike) {
  if (!(model.mass.kg > 0.0) || !model.mass.cg)
    return cannot(say("the car file tells no mass or no centre of gravity"));
  for (const End end : both_ends) {
    const CornerModel& corner = model.corner(end, Side::left);
    if (spring_place(corner) == SpringPlace::none || !(corner.geometry.size_of(Size::spring_rate) > 0.0))
      return cannot(say("the car file tells no spring on the {} axle", word(end)), end);
    if (spring_place(corner) == SpringPlace::pod && bar_stiffness(model, end) > 0.0)
      return cannot(say("a bar on the {} axle's pod is not modelled", word(end)), end);
  }
  LoadedCar loaded(model);
  for (const End end : both_ends) loaded.bar_[at(end)] = bar_stiffness(model, end);
  if (alike) {
    loaded.standing_ = alike->standing_;
    loaded.droop_angle_ = alike->droop_angle_;
    loaded.linked_ = alike->linked_;
  } else {
    auto standing = pose_car(model, static_attitude(model));
    if (!standing) return tl::unexpected(standing.error());
    loaded.standing_ = std::move(*standing);
    const auto steered = steer(model, 0.0);
    if (!steered) return cannot(say("the steering cannot stand in the middle"));
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const SteerInput input = model.corner(end, side).spec->steered ? steered->corner[at(side)] : SteerInput{};
        loaded.droop_angle_[at(end)][at(side)] =
            find_stops(model, end, side, loaded.standing_.axle[at(end)].corner[at(side)], input).droop.arm_angle;
      }
    loaded.linked_ = std::make_shared<Linked>();
    loaded.linked_->steer_left = steered->corner[0];
    loaded.linked_->steer_right = steered->corner[1];
    auto hanging = loaded.hang(steered->corner[0], steered->corner[1]);
    if (!hanging) return tl::unexpected(hanging.error());
    loaded.linked_->hanging = std::move(*hanging);
  }
  for (const End end : both_ends) {
    loaded.third_[at(end)] = third_law(model, end);
    if (!loaded.third_[at(end)].fitted()) continue;
    const auto& corner = loaded.standing_.axle[at(end)].corner;
    const auto third = third_element(model, end, corner[0], corner[1]);
    if (!third) return cannot(say("the rod of the {} third spring's lever does not reach its ball", word(end)), end);
    loaded.third_standing_mm_[at(end)] = third->length_mm;
  }
  auto level = loaded.collars_at(loaded.standing_, 0.5);
  if (!level) return tl::unexpected(level.error());
  loaded.level_ = *level;
  return loaded;
}

tl::expected<PerEnd<AxlePose>, CarFailure> LoadedCar::hang(const SteerInput& left, const SteerInput& right) const {
  PerEnd<AxlePose> hanging;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const CornerModel& corner = model_->corner(end, side);
      if (!corner.spec->independent) continue;
      const SteerInput input = !corner.spec->steered ? SteerInput{} : side == Side::left ? left : right;
      auto pose = corner.linkage->solve(droop_angle_[at(end)][at(side)], input);
      if (!pose) return tl::unexpected(failure_at(end, side, pose.error()));
      hanging[at(end)].corner[at(side)] = std::move(*pose);
    }
  return hanging;
}

tl::expected<LoadedCar::Inputs, CarFailure> LoadedCar::inputs_at(const Collars& collars, double servo_rad) const {
  Inputs inputs;
  inputs.collars = &collars;
  if (servo_rad == 0.0) {
    inputs.steer_left = linked_->steer_left;
    inputs.steer_right = linked_->steer_right;
    inputs.hanging = &linked_->hanging;
    return inputs;
  }
  const auto steered = steer(*model_, servo_rad);
  if (!steered) return cannot(say("the steering does not turn that far"));
  inputs.steer_left = steered->corner[0];
  inputs.steer_right = steered->corner[1];
  auto hanging = hang(inputs.steer_left, inputs.steer_right);
  if (!hanging) return tl::unexpected(hanging.error());
  inputs.hang_steered = std::make_unique<PerEnd<AxlePose>>(std::move(*hanging));
  inputs.hanging = inputs.hang_steered.get();
  return inputs;
}

AxleCase LoadedCar::axle_case(End end, const Ground& ground, const Inputs& inputs) const {
  AxleCase c;
  c.model = model_;
  c.end = end;
  c.standing = &standing_.axle[at(end)];
  c.near = inputs.near ? &inputs.near->axle[at(end)] : nullptr;
  c.beside = inputs.beside ? &inputs.beside->axle[at(end)] : nullptr;
  c.ground = ground;
  if (model_->corner(end, Side::left).spec->steered) c.steer = {inputs.steer_left, inputs.steer_right};
  c.droop_angle = droop_angle_[at(end)];
  c.hanging = &(*inputs.hanging)[at(end)];
  c.collar_mm = (*inputs.collars)[at(end)];
  c.bar_n_mm_per_rad = bar_[at(end)];
  c.third = third_[at(end)];
  c.third_standing_mm = third_standing_mm_[at(end)];
  c.a = inputs.a;
  return c;
}

tl::expected<LoadedCar::Forces, CarFailure> LoadedCar::forces(const Attitude& attitude, const Inputs& inputs,
                                                              bool with_poses) const {
  const Car& car = *model_->car;
  // Poses are large: none is moved about that need not be.
  tl::expected<Forces, CarFailure> told(tl::in_place);
  Forces& f = *told;
  Balance& b = f.balance;
  b.attitude = attitude;
  const Ground ground = ground_under(car, attitude);
  b.pose.ground = ground;
  if (with_poses) b.pose.steering = standing_.steering;
  const double weight = model_->mass.kg * gravity_m_s2;
  const Vec3 cg = *model_->mass.cg;
  const double lateral = weight * inputs.a.lateral_g;
  const double lengthways = weight * inputs.a.longitudinal_g;
  PerEnd<std::optional<AxleStand>> unloaded;  // of a pod, whose stand changes as one of its wheels lifts
  const PerEnd<AxleCase> cases{axle_case(End::front, ground, inputs), axle_case(End::rear, ground, inputs)};
  PerEnd<tl::expected<AxleStand, CarFailure>> stands{stand_axle(cases[0]), stand_axle(cases[1])};
  for (const End end : both_ends) {
    if (!stands[at(end)]) return tl::unexpected(stands[at(end)].error());
    if (!model_->corner(end, Side::left).spec->independent) unloaded[at(end)] = *stands[at(end)];
  }
  const auto lengthways_share = [&](End end) {
    const auto part = [&](End e) { return lengthways < 0.0 ? car.axle(e).braked_share : car.axle(e).driven_share; };
    const double total = part(End::front) + part(End::rear);
    return total > 0.0 ? part(end) / total : 0.5;
  };
  const double x_cg = cg.dot(ground.forward);
  // Yaw: the axles share the lateral force as the centre of gravity lies between the places where it works on them,
  // which is where their wheels carry the load. The loads follow from the shares in turn.
  PerEnd<PerSide<double>> carried{};
  double front_share = 0.5;
  const auto along = [&](End end) {
    const PerSide<double>& n = carried[at(end)];
    const double sum = n[0] + n[1];
    double x = 0.0;
    for (const Side side : both_sides)
      x += (sum > 0.0 ? n[at(side)] / sum : 0.5) *
           in_car(side, (*stands[at(end)])[at(side)].contact).dot(ground.forward);
    return x;
  };
  const auto shared = [&] { return (x_cg - along(End::rear)) / (along(End::front) - along(End::rear)); };
  const double turns = inputs.sharing.yaw_n_mm / (along(End::front) - along(End::rear));
  const auto side_force_of = [&](End end) {
    return end == End::front ? lateral * front_share + turns : lateral * (1.0 - front_share) - turns;
  };
  front_share = shared();
  for (int round = 0; round < most_share_rounds; ++round) {
    for (const End end : both_ends) {
      if (round > 0 && unloaded[at(end)]) *stands[at(end)] = *unloaded[at(end)];
      const auto loads = load_axle(cases[at(end)], *stands[at(end)], side_force_of(end),
                                   lengthways * lengthways_share(end), inputs.sharing.outward_n[at(end)]);
      if (!loads) return tl::unexpected(loads.error());
      carried[at(end)] = *loads;
    }
    const double next = shared();
    const bool settled = std::abs(next - front_share) < same_share;
    front_share = next;
    if (settled) break;
  }
  double up_sum = 0.0, roll_sum = 0.0, pitch_sum = 0.0;
  for (const End end : both_ends) {
    const double side_force = side_force_of(end);
    const double share = lengthways_share(end);
    const PerSide<double>& loads = carried[at(end)];
    const double sum = loads[0] + loads[1];
    for (const Side side : both_sides) {
      const WheelStand& k = (*stands[at(end)])[at(side)];
      const CornerModel& corner = model_->corner(end, side);
      WheelState& w = b.wheel[at(end)][at(side)];
      w.load_n = loads[at(side)];
      w.lifted = w.load_n < lifted_n;
      w.lateral_n = (sum > 0.0 ? side_force * w.load_n / sum : 0.0) + sign_of(side) * inputs.sharing.outward_n[at(end)];
      w.longitudinal_n = sum > 0.0 ? lengthways * share * w.load_n / sum : 0.0;
      w.spring_n = k.spring_n / spring_share(corner);
      w.shock_mm = k.shock_mm;
      w.stroke_left_mm = stroke_left(corner, k.pose).value_or(0.0);
      if (with_poses) b.pose.axle[at(end)].corner[at(side)] = k.pose;
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
  return told;
}

/// A stand while it is looked for.
struct LoadedCar::Stand {
  Eigen::Vector3d u = Eigen::Vector3d::Zero();  ///< ride heights, mm, and roll in its unit
  double servo_rad = 0.0;
  std::optional<Forces> forces;  ///< there; none: not looked at yet
  Eigen::Matrix3d slope = Eigen::Matrix3d::Zero();
  Eigen::Vector3d per_lateral_g = Eigen::Vector3d::Zero();  ///< how it came on last; zero: not known
  bool usable = false;                                      ///< the slope serves for the next step
  bool jumped = false;
  bool lets_go = true;  ///< where it ends, another one is looked for that the car falls to

  [[nodiscard]] Attitude attitude(const Eigen::Vector3d& at) const {
    return {.ride_height_mm = {at[0], at[1]}, .roll_rad = at[2] * roll_unit, .servo_rad = servo_rad};
  }
};

/// How long a stand is looked for.
struct LoadedCar::Effort {
  std::size_t reaches;  ///< of slope_reach
  int patience;         ///< steps over which what is off does not halve
  /// Where nothing else is left to try, and where there is.
  static constexpr Effort all() { return {slope_reach.size(), 6}; }
  static constexpr Effort little() { return {3, 2}; }
};

bool LoadedCar::settle(Stand& stand, Inputs& inputs, double near_n, const Effort& effort) const {
  inputs.near = stand.forces ? &stand.forces->balance.pose : nullptr;
  auto now = forces(stand.attitude(stand.u), inputs);
  if (!now) return false;
  // Newton's steps, shorter until they help. Slopes are dear: they serve for the next step too while steps with them
  // still come on well, brought up to date by what each step has found (Broyden 1965). At a kink (a wheel lifts, a stop
  // is met) the slope on this side may lead nowhere: then slopes are taken over wider steps, which see both sides.
  std::size_t reach = 0;
  inputs.near = &now->balance.pose;
  bool fresh = false;
  double halved_from = now->off.norm();
  int since = 0;
  for (int step = 0; step < most_balance_steps && now->off.norm() > near_n && reach < effort.reaches; ++step) {
    if (now->off.norm() < 0.5 * halved_from) {
      halved_from = now->off.norm();
      since = 0;
    } else if (since++ >= effort.patience) {
      break;
    }
    fresh = !stand.usable;
    bool whole = true;
    for (int i = 0; i < 3 && whole && fresh; ++i) {
      Eigen::Vector3d moved = stand.u;
      moved[i] += slope_reach[reach];
      const auto there = forces(stand.attitude(moved), inputs, false);
      if (there)
        stand.slope.col(i) = (there->off - now->off) / slope_reach[reach];
      else
        whole = false;
    }
    Eigen::Vector3d go = whole ? Eigen::Vector3d(-stand.slope.fullPivLu().solve(now->off)) : Eigen::Vector3d::Zero();
    if (const double far = go.cwiseAbs().maxCoeff(); far > farthest) go *= farthest / far;
    bool better = false;
    double share = 1.0;
    const double before = now->off.norm();
    bool full = false;
    for (int half = 0; half < most_halvings && !better && whole && go.allFinite(); ++half, share *= 0.5) {
      auto there = forces(stand.attitude(stand.u + share * go), inputs);
      if (!there || there->off.norm() > now->off.norm() * (1.0 - 1e-4 * share)) continue;
      stand.u += share * go;
      const Eigen::Vector3d found = there->off - now->off - stand.slope * (share * go);
      stand.slope += found * go.transpose() / (share * go.squaredNorm());
      *now = std::move(*there);
      better = true;
      full = half == 0;
    }
    stand.usable = full && now->off.norm() < good_progress * before;
    if (better || fresh) reach = better ? 0 : reach + 1;
  }
  inputs.near = nullptr;
  const bool settled = now->off.norm() <= std::max(near_n, good_enough_n);
  stand.forces = std::move(*now);
  return settled;
}

bool LoadedCar::let_go(Stand& stand, Inputs& inputs) const {
  inputs.near = &stand.forces->balance.pose;
  auto now = forces(stand.attitude(stand.u), inputs);
  if (!now) return false;
  // Moments about the ground under the origin, as forces on the two ends' heights and on roll.
  const PerEnd<double>& x = model_->car->gauge_x_mm;
  const double apart = x[0] - x[1];
  Eigen::Matrix3d work;
  work << -x[1] / apart, 0.0, pitch_arm / apart, x[0] / apart, 0.0, -pitch_arm / apart, 0.0, 1.0, 0.0;
  const double weight = model_->mass.kg * gravity_m_s2;
  double time = let_go_time;
  Eigen::Matrix3d slope;
  int served = 0;  // steps by the slope
  for (int step = 0; step < most_let_go_steps; ++step) {
    inputs.near = &now->balance.pose;
    const double off = now->off.norm();
    if (off < good_enough_n) break;
    // On its outer wheels, and its weight beyond them: it goes on falling.
    if (!stands_up(now->balance) && inner_n(now->balance, inputs.a) < -surely_tipped * weight) return false;
    for (int i = 0; i < 3 && served == 0; ++i) {
      Eigen::Vector3d moved = stand.u;
      moved[i] += let_go_reach;
      const auto there = forces(stand.attitude(moved), inputs, false);
      if (!there) return false;
      slope.col(i) = (there->off - now->off) / let_go_reach;
    }
    const Eigen::Vector3d push = work * now->off;
    Eigen::Vector3d go;
    // With too long a time the way out of an unstable place would be taken backwards.
    for (int shorter = 0; shorter < most_halvings; ++shorter, time *= 0.25) {
      go = (Eigen::Matrix3d::Identity() / time - work * slope).fullPivLu().solve(push);
      if (go.allFinite() && go.dot(push) > 0.0) break;
    }
    if (!go.allFinite()) return false;
    const double far = go.cwiseAbs().maxCoeff();
    if (far > let_go_farthest) {
      time *= 0.5;
      go *= let_go_farthest / far;
    }
    auto there = forces(stand.attitude(stand.u + go), inputs);
    if (!there) return false;
    // Over a kink and beyond a stand: not that far.
    if (there->off.norm() > 2.0 * off && go.cwiseAbs().maxCoeff() > let_go_reach) {
      if (served == 0) time *= 0.2;
      served = 0;
      continue;
    }
    // Slopes serve for a few steps where they foretell them (Broyden's update, as in settle).
    const Eigen::Vector3d foretold = slope * go, found = there->off - now->off - foretold;
    slope += found * go.transpose() / go.squaredNorm();
    served = served + 1 < let_go_serves && found.norm() < let_go_foretold * foretold.norm() ? served + 1 : 0;
    stand.u += go;
    if (std::abs(stand.u[2]) > tipped_over) return false;
    // Longer steps while all goes smoothly, shorter ones over a kink.
    time *= there->off.norm() < 1.5 * off ? 1.6 : 0.3;
    *now = std::move(*there);
  }
  inputs.near = nullptr;
  stand.usable = false;
  stand.forces = std::move(*now);
  if (!settle(stand, inputs, close_enough_n, Effort::all())) return false;
  return stands_up(stand.forces->balance);
}

double LoadedCar::lay_on(Stand& stand, Inputs& inputs, const Acceleration& from, const Acceleration& to) const {
  const double far = std::hypot(to.lateral_g - from.lateral_g, to.longitudinal_g - from.longitudinal_g);
  double done = 0.0;
  const double longest = far > laid_on_by_g_ ? laid_on_by_g_ / far : 1.0;
  double step = longest;
  int came_on = 2;  // steps since one was too long
  const double lateral = from.longitudinal_g == to.longitudinal_g ? to.lateral_g - from.lateral_g : 0.0;
  Eigen::Vector3d per_step = stand.per_lateral_g * lateral;  // of the last step, over the whole way
  while (done < 1.0) {
    const double next = done + step > 1.0 - 1e-9 ? 1.0 : done + step;
    Stand tried = stand;
    const Eigen::Vector3d expected = stand.u + per_step * (next - done);
    tried.u = expected;
    inputs.a = between(from, to, next);
    const double g = (next - done) * far;
    const bool may_halve = 0.5 * g >= least_step * laid_on_by_g_;
    const bool tips = stand.forces && surely_tips(stand.forces->balance, between(from, to, done), inputs.a);
    // One far from where it was to be is another stand: on a stop, or on the plate's edge.
    const bool found =
        !tips &&
        settle(tried, inputs, next < 1.0 ? on_the_way_n : close_enough_n,
               may_halve ? Effort::little() : Effort::all()) &&
        (g == 0.0 || ((tried.u - expected).cwiseAbs().maxCoeff() <= most_moved && stands_up(tried.forces->balance)));
    if (!found) {
      per_step.setZero();
      came_on = 0;
      if (may_halve) {
        step = 0.5 * (next - done);
        continue;
      }
      // No stand lies next to this one: the car leaves it by itself, and comes to rest on another or tips over.
      tried = stand;
      if (tips || !stand.lets_go || !let_go(tried, inputs)) return done;
      tried.jumped = true;
    }
    // A jump foretells nothing.
    per_step = found ? Eigen::Vector3d((tried.u - stand.u) / (next - done)) : Eigen::Vector3d::Zero();
    stand = std::move(tried);
    stand.per_lateral_g = lateral != 0.0 ? Eigen::Vector3d(per_step / lateral) : Eigen::Vector3d::Zero();
    done = next;
    if (++came_on >= 2) step = std::min(2.0 * step, longest);
  }
  return 1.0;
}

Acceleration LoadedCar::go_to_the_end(Stand& stand, Inputs& inputs, const Acceleration& from,
                                      const Acceleration& to) const {
  const double far = std::hypot(to.lateral_g - from.lateral_g, to.longitudinal_g - from.longitudinal_g);
  double stands = 0.0, falls = 1.0;
  inputs.a = from;
  settle(stand, inputs, close_enough_n, Effort::all());
  while ((falls - stands) * far > end_within_g) {
    const double next = 0.5 * (stands + falls);
    Stand tried = stand;
    inputs.a = between(from, to, next);
    const bool found = !surely_tips(stand.forces->balance, between(from, to, stands), inputs.a) &&
                       settle(tried, inputs, close_enough_n, Effort::little()) &&
                       (tried.u - stand.u).cwiseAbs().maxCoeff() <= most_moved && stands_up(tried.forces->balance);
    if (found) stand = std::move(tried);
    (found ? stands : falls) = next;
  }
  return between(from, to, stands);
}

Balance LoadedCar::read_stand(Stand&& stand, const Acceleration& a) const {
  Balance b = std::move(stand.forces->balance);
  b.under = a;
  b.by_a_jump = stand.jumped;
  if (stand.usable) b.slope = stand.slope;
  b.per_lateral_g = stand.per_lateral_g;
  for (const End end : both_ends) {
    const AxlePose& axle = b.pose.axle[at(end)];
    PerSide<WheelFigures> read;
    for (const Side side : both_sides) {
      read[at(side)] = read_wheel(model_->corner(end, side), axle.corner[at(side)], ground_of(b.pose.ground, side));
      b.wheel[at(end)][at(side)].camber_rad = read[at(side)].camber_rad;
      b.wheel[at(end)][at(side)].toe_rad = read[at(side)].toe_rad;
    }
    if (const auto centre = read_roll_centre(*model_, end, axle, read, b.pose.ground).moving)
      b.roll_centre_mm[at(end)] = centre->height;
    if (third_[at(end)].fitted())
      if (const auto third = third_element(*model_, end, axle.corner[0], axle.corner[1]))
        b.third_in_mm[at(end)] = third_standing_mm_[at(end)] - third->length_mm;
  }
  b.rise_mm = b.pose.ground.height(*model_->mass.cg) - standing_.ground.height(*model_->mass.cg);
  const Car& car = *model_->car;
  const auto pitch_of = [&](const PerEnd<double>& h) {
    return std::atan2(h[1] - h[0], car.gauge_x_mm[0] - car.gauge_x_mm[1]);
  };
  b.pitch_rad = pitch_of(b.attitude.ride_height_mm) - pitch_of(model_->ride_height_mm);
  return b;
}

tl::expected<Balance, CarFailure> LoadedCar::balance(const Collars& collars, const Acceleration& a, double servo_rad,
                                                     const Balance* near) const {
  auto inputs = inputs_at(collars, servo_rad);
  if (!inputs) return tl::unexpected(inputs.error());
  const auto from = [&](const Attitude& attitude) {
    Stand s;
    s.u = {attitude.ride_height_mm[0], attitude.ride_height_mm[1], attitude.roll_rad / roll_unit};
    s.servo_rad = servo_rad;
    return s;
  };
  if (near && !near->by_a_jump && firmly_on_four_wheels(*near)) {
    Stand stand = from(near->attitude);
    if (near->slope) stand.slope = *near->slope;
    stand.usable = near->slope.has_value();
    stand.per_lateral_g = near->per_lateral_g;
    inputs->beside = &near->pose;
    // With a wheel next to the air, or after a jump, there may be two stands: only the one reached from rest is told.
    if (lay_on(stand, *inputs, near->under, a) == 1.0 && !stand.jumped && firmly_on_four_wheels(stand.forces->balance))
      return read_stand(std::move(stand), a);
    inputs->beside = nullptr;
  }
  Stand stand = from(static_attitude(*model_));
  inputs->a = {};
  const bool rests = settle(stand, *inputs, a == Acceleration{} ? close_enough_n : on_the_way_n, Effort::all());
  if (!rests || !(a == Acceleration{} || lay_on(stand, *inputs, {}, a) == 1.0))
    return cannot(say("the car finds no steady stand at this acceleration: it would tip over or run up its own links"));
  return read_stand(std::move(stand), a);
}

LoadedCar::Row LoadedCar::row(const Collars& collars, double longitudinal_g, std::span<const double> lateral_g,
                              double servo_rad) const {
  Row row;
  auto inputs = inputs_at(collars, servo_rad);
  if (!inputs || lateral_g.empty()) return row;
  const bool on_a_pod = !model_->corner(End::front, Side::left).spec->independent ||
                        !model_->corner(End::rear, Side::left).spec->independent;
  const auto start = balance(collars, {lateral_g.front(), longitudinal_g}, servo_rad);
  if (!start) return row;
  inputs->beside = &start->pose;
  Stand stand;
  stand.servo_rad = servo_rad;
  stand.u = {start->attitude.ride_height_mm[0], start->attitude.ride_height_mm[1],
             start->attitude.roll_rad / roll_unit};
  stand.jumped = start->by_a_jump;
  stand.per_lateral_g = start->per_lateral_g;
  // A pod that its side springs hold no longer tips over; looking where else it might come to rest takes seconds.
  stand.lets_go = !on_a_pod;
  row.stands.push_back(*start);
  for (std::size_t i = 1; i < lateral_g.size(); ++i) {
    const Acceleration from{lateral_g[i - 1], longitudinal_g}, to{lateral_g[i], longitudinal_g};
    const double came = lay_on(stand, *inputs, from, to);
    if (came < 1.0) {
      const double fails = came + least_step * laid_on_by_g_ / std::abs(to.lateral_g - from.lateral_g);
      const Acceleration last =
          go_to_the_end(stand, *inputs, between(from, to, came), between(from, to, std::min(1.0, fails)));
      row.last = read_stand(std::move(stand), last);
      break;
    }
    row.stands.push_back(read_stand(Stand(stand), to));
  }
  return row;
}

std::optional<Balance> LoadedCar::shared_otherwise(const Collars& collars, const Balance& there,
                                                   const Sharing& sharing) const {
  auto inputs = inputs_at(collars, there.attitude.servo_rad);
  if (!inputs) return std::nullopt;
  inputs->a = there.under;
  inputs->sharing = sharing;
  inputs->beside = &there.pose;
  Stand stand;
  stand.servo_rad = there.attitude.servo_rad;
  stand.u = {there.attitude.ride_height_mm[0], there.attitude.ride_height_mm[1], there.attitude.roll_rad / roll_unit};
  if (there.slope) stand.slope = *there.slope;
  stand.usable = there.slope.has_value();
  const Eigen::Vector3d before = stand.u;
  if (!settle(stand, *inputs, close_enough_n, Effort::all()) || (stand.u - before).cwiseAbs().maxCoeff() > most_moved)
    return std::nullopt;
  return read_stand(std::move(stand), there.under);
}

tl::expected<Collars, CarFailure> LoadedCar::collars_for(const PerEnd<double>& ride_height_mm, double cross) const {
  const Attitude level{.ride_height_mm = ride_height_mm};
  const auto pose = pose_car(*model_, level);
  if (!pose) return tl::unexpected(pose.error());
  return collars_at(*pose, cross);
}

tl::expected<Collars, CarFailure> LoadedCar::collars_at(const CarPose& level, double cross) const {
  const Vec3 cg = *model_->mass.cg;
  const double weight = model_->mass.kg * gravity_m_s2;
  // Four loads from four conditions: weight, roll, pitch, cross weight.
  Eigen::Matrix4d m;
  Eigen::Vector4d want(weight, weight * cg.dot(level.ground.left), weight * cg.dot(level.ground.forward),
                       cross * weight);
  int column = 0;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const CornerModel& corner = model_->corner(end, side);
      const CornerPose& p = level.axle[at(end)].corner[at(side)];
      const Ground g = ground_of(level.ground, side);
      const Vec3 contact = in_car(side, contact_point(corner.tyre, p.wheel_centre, p.spin_axis, g.up));
      const bool crossed = (end == End::front) == (side == Side::left);
      m.col(column++) << 1.0, contact.dot(level.ground.left), contact.dot(level.ground.forward), crossed ? 1.0 : 0.0;
    }
  const Eigen::Vector4d loads = m.fullPivLu().solve(want);
  Collars collars{};  // of no account yet: what they add is taken off again
  auto asked = inputs_at(collars, 0.0);
  if (!asked) return tl::unexpected(asked.error());
  asked->near = &level;
  column = 0;
  for (const End end : both_ends) {
    const PerSide<double> carries{loads[column], loads[column + 1]};
    column += 2;
    const AxleCase c = axle_case(end, level.ground, *asked);
    const auto stand = stand_axle(c);
    if (!stand) return tl::unexpected(stand.error());
    const auto down = collars_under(c, *stand, carries);
    if (!down) return tl::unexpected(down.error());
    collars[at(end)] = *down;
  }
  return collars;
}

bool LoadedCar::springs_only_stiffen() const {
  constexpr int places = 25;
  constexpr double most_arm_rad = 0.6;
  const auto pressed_at = [&](End end, Side side, int place) -> std::optional<Linked::Pressed> {
    const CornerModel& corner = model_->corner(end, side);
    const SteerInput steer = !corner.spec->steered ? SteerInput{}
                             : side == Side::left  ? linked_->steer_left
                                                   : linked_->steer_right;
    const auto pose =
        corner.linkage->solve(droop_angle_[at(end)][at(side)] + most_arm_rad * place / (places - 1), steer);
    if (!pose) return std::nullopt;
    return Linked::Pressed{shock_at(corner, *pose),
                           shock_per_contact(corner, *pose, ground_of(standing_.ground, side))};
  };
  std::call_once(linked_->read, [&] {
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const CornerModel& corner = model_->corner(end, side);
        auto& known = linked_->pressed[at(end)][at(side)];
        for (int i = 0; i < places && corner.spec->independent; ++i) {
          const auto pressed = pressed_at(end, side, i);
          if (!pressed) break;
          known.push_back(*pressed);
          if (stroke_left(corner, pressed->shock_at_mm).value_or(1.0) < 0.0 || !(pressed->per_contact > 0.0)) break;
        }
      }
  });
  for (const End end : both_ends) {
    // A pod's springs are driven by both wheels together.
    if (!model_->corner(end, Side::left).spec->independent) continue;
    for (const Side side : both_sides) {
      const CornerModel& corner = model_->corner(end, side);
      const auto& known = linked_->pressed[at(end)][at(side)];
      double before = 0.0;
      for (int i = 0; i < places; ++i) {
        // The stroke of a car that stands alike may end later.
        const auto pressed = at(i) < known.size() ? std::optional(known[at(i)]) : pressed_at(end, side, i);
        if (!pressed || stroke_left(corner, pressed->shock_at_mm).value_or(1.0) < 0.0) break;
        if (!(pressed->per_contact > 0.0)) return false;
        const double length = shock_length(corner, pressed->shock_at_mm);
        const double by = corner.geometry.size_of(Size::spring_free) -
                          (length - spring_seat(model_->car->axle(end), corner) - level_[at(end)][at(side)]);
        const double push = spring_of(corner).force(by) * *pressed->per_contact;
        if (push < before) return false;
        before = push;
      }
    }
  }
  return true;
}

AxleRates LoadedCar::rates(End end) const {
  // Finite steps of the whole axle: what a hand pressing or twisting the chassis would find.
  constexpr double by_mm = 0.05;
  constexpr double by_rad = 0.002;
  const auto asked = inputs_at(level_, 0.0);
  if (!asked) return {};
  const Inputs& inputs = *asked;
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
  // A car that stands lower than that would lie on its plate.
  if (model_->ride_height_mm[at(end)] > pressed_mm + by_mm) {
    const auto deeper = loads(*this, pressed_mm + by_mm, 0.0);
    const auto less_deep = loads(*this, pressed_mm - by_mm, 0.0);
    r.wheel_n_per_mm_pressed = (deeper[0] + deeper[1] - less_deep[0] - less_deep[1]) / (4.0 * by_mm);
  }
  const auto low = loads(*this, by_mm, 0.0);
  const auto high = loads(*this, -by_mm, 0.0);
  const auto rest_loads = loads(*this, 0.0, 0.0);
  r.wheel_n_per_mm = (low[0] + low[1] - high[0] - high[1]) / (4.0 * by_mm);
  const CornerModel& corner = model_->corner(end, Side::left);
  const ThirdLaw& law = third_[at(end)];
  if (law.rate_n_per_mm > 0.0 && !(law.gap_mm > 0.0)) {
    // A third spring pushes only: pressed from rest it works, going out it does not.
    const auto one_sided = [&](const PerSide<double>& more, const PerSide<double>& less) {
      return (more[0] + more[1] - less[0] - less[1]) / (2.0 * by_mm);
    };
    r.wheel_n_per_mm = one_sided(low, rest_loads);
    r.wheel_n_per_mm_going_out = one_sided(rest_loads, high);
  }
  const Car& car = *model_->car;
  const auto& axle = standing_.axle[at(end)];
  double track = 0.0;
  for (const Side side : both_sides) {
    const CornerPose& p = axle.corner[at(side)];
    track +=
        contact_point(model_->corner(end, side).tyre, p.wheel_centre, p.spin_axis, ground_of(standing_.ground, side).up)
            .y();
  }
  LoadedCar no_bar = *this;
  no_bar.bar_[at(end)] = 0.0;
  const auto stiffness = [&](const LoadedCar& c) {
    const auto right = loads(c, 0.0, by_rad);
    const auto left = loads(c, 0.0, -by_rad);
    return (right[1] - right[0] - (left[1] - left[0])) * 0.5 * track / 2.0 / degrees(by_rad);
  };
  r.roll_n_mm_per_deg = stiffness(*this);
  r.roll_by_bar_n_mm_per_deg = r.roll_n_mm_per_deg - stiffness(no_bar);
  const double sprung_kg = 0.5 * (rest_loads[0] + rest_loads[1]) / gravity_m_s2 -
                           0.5 * (unsprung_kg(car.axle(end), model_->corner(end, Side::left)) +
                                  unsprung_kg(car.axle(end), model_->corner(end, Side::right)));
  const auto hz = [&](double rate) { return std::sqrt(1000.0 * rate / sprung_kg) / (2.0 * std::numbers::pi); };
  const double in = hz(r.wheel_n_per_mm);
  const double out = hz(r.wheel_n_per_mm_going_out.value_or(r.wheel_n_per_mm));
  // Half a swing on each rate.
  r.ride_hz = 2.0 * in * out / (in + out);
  // Off its springs, on its stops, an axle swings at no rate.
  if (!(r.ride_hz > 0.0)) r.ride_hz = 0.0;
  if (law.fitted()) {
    const auto third = third_element(*model_, end, axle.corner[0], axle.corner[1]);
    double per_mm = 0.0;
    for (const Side side : both_sides) {
      const CornerPose& p = axle.corner[at(side)];
      const CornerModel& c = model_->corner(end, side);
      const Vec3 up = ground_of(standing_.ground, side).up;
      per_mm += third->shortens[at(side)] /
                contact_velocity(c.tyre, p.wheel_centre, p.spin_axis, up, p.wheel_by_arm()).dot(up);
    }
    r.third_per_wheel = per_mm;
  }
  if (const auto piston = piston_of(corner)) {
    const double ratio = *shock_per_contact(corner, axle.corner[0], standing_.ground);
    const double shock = damper_rate(*piston, Oil{corner.geometry.size_of(Size::oil_cst)}) * ratio * ratio;
    const double by_third = r.third_per_wheel.value_or(0.0);
    const double third = 0.5 * law.damping_n_s_per_mm * by_third * by_third;
    r.damping_n_s_per_mm = spring_share(corner) * shock + third;
    if (spring_share(corner) == 1.0) r.roll_damping_n_s_per_mm = shock;
    // N/mm and N s/mm: 1000 times as much a metre.
    if (r.ride_hz > 0.0)
      r.damping_ratio = 1000.0 * *r.damping_n_s_per_mm / (2.0 * sprung_kg * 2.0 * std::numbers::pi * r.ride_hz);
  }
  if (law.rate_n_per_mm > 0.0) r.heave_n_per_mm = 0.5 * law.rate_n_per_mm * *r.third_per_wheel * *r.third_per_wheel;
  const double hanging = droop_angle_[at(end)][0];
  if (const auto low_pose = model_->corner(end, Side::left)
                                .linkage->solve(hanging, end == End::front ? inputs.steer_left : SteerInput{})) {
    r.sag_mm = axle.corner[0].wheel_centre.z() - low_pose->wheel_centre.z();
    const bool pod = spring_place(corner) == SpringPlace::pod;
    const double collar = pod ? 0.5 * (level_[at(end)][0] + level_[at(end)][1]) : level_[at(end)][0];
    const double compressed = corner.geometry.size_of(Size::spring_free) -
                              (shock_length(corner, *low_pose) - spring_seat(car.axle(end), corner) - collar);
    r.preload_n = spring_of(corner).force(compressed) / spring_share(corner);
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
    // What friction holds a pod in roll is not described.
    damped &= r.roll_damping_n_s_per_mm.has_value();
    damping += 2.0 * r.roll_damping_n_s_per_mm.value_or(0.0) * half_track * half_track;
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

namespace {
constexpr double little_g = 0.05;
}  // namespace

std::optional<LoadedCar::RollOnTyres> LoadedCar::roll_on_tyres_deg_per_g() const {
  const auto rest = balance(level_, {});
  const auto there = balance(level_, {little_g, 0.0});
  if (!rest || !there) return std::nullopt;
  PerEnd<PerSide<double>> ahead{}, left{};
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const CornerPose& pose = standing_.axle[at(end)].corner[at(side)];
      const Vec3 contact = contact_point(model_->corner(end, side).tyre, pose.wheel_centre, pose.spin_axis,
                                         ground_of(standing_.ground, side).up);
      ahead[at(end)][at(side)] = contact.x();
      left[at(end)][at(side)] = side == Side::left ? contact.y() : -contact.y();
    }
  const auto with = [&](double TyreRate::*rate) {
    PerEnd<PerSide<double>> rises{};
    for (const End end : both_ends)
      for (const Side side : both_sides)
        rises[at(end)][at(side)] = (rest->wheel[at(end)][at(side)].load_n - there->wheel[at(end)][at(side)].load_n) /
                                   (model_->car->axle(end).tyre.gives().*rate);
    return degrees(there->attitude.roll_rad + on_tyres(ahead, left, rises).roll_rad) / little_g;
  };
  return RollOnTyres{with(&TyreRate::likely), with(&TyreRate::most), with(&TyreRate::least)};
}

std::optional<double> LoadedCar::roll_gradient_deg_per_g() const {
  const auto there = balance(level_, {little_g, 0.0});
  return there ? std::optional(degrees(there->attitude.roll_rad) / little_g) : std::nullopt;
}

}  // namespace lowkite
