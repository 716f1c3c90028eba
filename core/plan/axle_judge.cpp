#include "core/plan/axle_judge.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>

#include "core/figures/variant.hpp"

namespace lowkite {
namespace {

constexpr int most_judge_steps = 12;  // of the search for the wheel's place; three or four are usual
constexpr double on_the_ground_mm = 1e-7;
/// True when a part moves the tie rod's inner ball: the steering is then trimmed anew.
bool moves_steering(const Car& car, const Adjuster& a) {
  if (a.steering) return true;
  const int ball = car.axle(a.end).mechanism->point("tie_inner");
  const auto touches = [&](const std::vector<PointMove>& moves) {
    return std::any_of(moves.begin(), moves.end(), [&](const PointMove& m) { return m.point == ball; });
  };
  if (const Range* r = a.range()) return touches(r->moves_per_unit);
  const auto& list = a.positions()->list;
  return std::any_of(list.begin(), list.end(), [&](const Position& p) { return touches(p.effect.moves); });
}

}  // namespace

struct AxleJudge::Work {
  const Car& car;
  const AxleOrder& order;
  Setup setup;
  CarModel model;
  Ground ground;
  Attitude attitude;
  SteerInput steered;  ///< of the left corner, steering in the middle
  bool trims = false;  ///< some part moves the steering
  std::map<std::vector<double>, std::optional<SteerInput>> trimmed;
  std::vector<std::size_t> trimming;  ///< which of the order's parts do
  WheelHold wanted;
  int toe_link = no_point;  ///< index of the link that holds toe
  struct Case {
    Disturbance by;
    Attitude attitude;
    Ground ground;
  };
  std::vector<Case> disturbances;
  std::array<int, max_links> turnbuckle{};
  CarTargets targets;
  std::vector<AimRange> ranges;
  FigureSource source;
  CarPose pose;
  /// Of the candidate before: its neighbours stand nearly alike.
  double arm_angle = 0.0;
  double rise = 0.0;          ///< of the contact over the arm's angle, links at what is held
  bool whole_car = false;     ///< some figure asks for more than the wheels
  bool whole_travel = false;  ///< some figure asks for the whole travel

  Work(const Car& c, const Setup& start, const CarTargets& t, const AxleOrder& o)
      : car(c), order(o), setup(start), targets(t), ranges(ranges_of(o.aims)) {}

  std::optional<SteerInput> input(const std::vector<double>& values) {
    if (!trims) return steered;
    std::vector<double> key;
    for (const std::size_t i : trimming) key.push_back(values[i]);
    const auto known = trimmed.find(key);
    if (known != trimmed.end()) return known->second;
    std::optional<SteerInput> found;
    if (const auto built = build_model(car, setup))
      if (const auto centred = steer(*built, 0.0)) found = centred->corner[at(Side::left)];
    return trimmed.emplace(std::move(key), found).first->second;
  }

  /// The left corner on the ground with its links at what is held; its linkage and pose stay in the model.
  bool stand(const SteerInput& input) {
    CornerModel& corner = model.corners[at(order.end)][at(Side::left)];
    corner.geometry = corner_geometry(car, setup, order.end, Side::left);
    corner.tyre.radius_mm = corner.geometry.size_of(Size::tyre_radius);
    const std::array<double, max_links> before = corner.geometry.length;
    return put_on_ground(input, true, arm_angle) && threads_reach(before, corner.geometry.length);
  }

  /// `hold`: its links are set to what is held on the way; else they stay. `angle`: of the arm, where it is looked for
  /// first and where it then is.
  bool put_on_ground(const SteerInput& input, bool hold, double& angle) {
    CornerModel& corner = model.corners[at(order.end)][at(Side::left)];
    auto built = corner.spec->build(corner.geometry);
    if (!built) return false;
    corner.linkage = std::move(*built);
    CornerPose& p = pose.axle[at(order.end)].corner[at(Side::left)];
    double there = angle;
    double last_angle = 0.0;
    double last_height = 0.0;
    for (int step = 0; step < most_judge_steps; ++step) {
      if (hold && (wanted.camber || wanted.toe)) {
        const auto length = corner.linkage->hold(there, input, wanted);
        if (!length) return false;
        corner.geometry.length = *length;
        built = corner.spec->build(corner.geometry);
        if (!built) return false;
        corner.linkage = std::move(*built);
      }
      auto solved = corner.linkage->solve(there, input);
      if (!solved) return false;
      p = std::move(*solved);
      const double height = ground.height(contact_point(corner.tyre, p.wheel_centre, p.spin_axis, ground.up));
      if (std::abs(height) < on_the_ground_mm) {
        angle = there;
        return true;
      }
      if (step > 0)
        rise = (height - last_height) / (there - last_angle);
      else if (rise == 0.0 || !hold)
        rise = contact_velocity(corner.tyre, p.wheel_centre, p.spin_axis, ground.up, p.wheel_by_arm()).dot(ground.up);
      if (!(std::abs(rise) > 1e-3)) {
        rise = 0.0;
        return false;
      }
      last_angle = there;
      last_height = height;
      there -= height / rise;
      if (!(std::abs(there) < 1.0)) return false;
    }
    return false;
  }

  /// The figures that are farthest from what they are to be, of the car as set (in `figures`) and of each disturbance.
  /// False: with one of them it cannot stand.
  bool read_worst(const SteerInput& input, std::vector<double>& figures) {
    CornerModel& corner = model.corners[at(order.end)][at(Side::left)];
    const std::array<double, max_links> length_as_set = corner.geometry.length;
    const Ground ground_as_set = ground;
    const Attitude attitude_as_set = attitude;
    const double rise_as_set = rise;
    bool stands = true;
    for (std::size_t d = 0; d < disturbances.size() && stands; ++d) {
      const Case& c = disturbances[d];
      corner.geometry.length = length_as_set;
      if (c.by.toe_link_turns != 0.0) {
        if (toe_link == no_point) continue;
        const auto link = static_cast<std::size_t>(toe_link);
        if (turnbuckle[link] < 0) continue;
        const Adjuster& a = car.adjusters[static_cast<std::size_t>(turnbuckle[link])];
        corner.geometry.length[link] += c.by.toe_link_turns * a.range()->link_mm_per_unit;
      }
      ground = c.ground;
      pose.ground = c.ground;
      attitude = c.attitude;
      double angle = arm_angle;
      stands = put_on_ground(input, false, angle);
      if (!stands) break;
      read();
      for (std::size_t i = 0; i < figures.size() && stands; ++i) {
        const RecipeAim& aim = order.aims[i];
        if (aim.figure->whole_travel || aim.figure->is(adds_up)) continue;
        const auto v = aim.read(source);
        stands = v.has_value();
        if (v && std::abs(*v - aim.value) > std::abs(figures[i] - aim.value)) figures[i] = *v;
      }
    }
    corner.geometry.length = length_as_set;
    ground = pose.ground = ground_as_set;
    attitude = attitude_as_set;
    rise = rise_as_set;
    return stands;
  }

  [[nodiscard]] bool threads_reach(const std::array<double, max_links>& before,
                                   const std::array<double, max_links>& after) const {
    for (std::size_t i = 0; i < before.size(); ++i) {
      if (turnbuckle[i] < 0 || before[i] == after[i]) continue;
      const Adjuster& a = car.adjusters[static_cast<std::size_t>(turnbuckle[i])];
      const double value = setup.at_index(turnbuckle[i]).left + (after[i] - before[i]) / a.range()->link_mm_per_unit;
      if (value < a.least() || value > a.most()) return false;
    }
    return true;
  }

  void read() {
    const End end = order.end;
    CornerModel& left = model.corners[at(end)][at(Side::left)];
    CornerModel& right = model.corners[at(end)][at(Side::right)];
    right.geometry = left.geometry;
    right.linkage = left.linkage;
    right.tyre = left.tyre;
    AxlePose& axle = pose.axle[at(end)];
    axle.corner[at(Side::right)] = axle.corner[at(Side::left)];
    if (whole_car) {
      source.car = read_car(model, pose, attitude);
      return;
    }
    AxleFigures& f = source.car.axle[at(end)];
    f.wheel[at(Side::left)] = read_wheel(left, axle.corner[at(Side::left)], ground);
    f.wheel[at(Side::right)] = f.wheel[at(Side::left)];
    f.roll_centre = read_roll_centre(model, end, axle, f.wheel, ground);
    const auto& c = f.roll_centre.construction;
    f.track_mm = c[at(Side::left)].contact.across - c[at(Side::right)].contact.across;
    const Vec3 apart = pose.axle[at(End::front)].corner[at(Side::left)].wheel_centre -
                       pose.axle[at(End::rear)].corner[at(Side::left)].wheel_centre;
    source.car.wheelbase_mm = {apart.dot(ground.forward), apart.dot(ground.forward)};
  }

  /// The figures that ask for the whole travel, by the program's common way.
  bool read_travel(std::vector<double>& figures) {
    ResetOptions exact = order.reset;
    exact.step_turns = 0.0;
    const auto back = reset_alignment(car, setup, targets, exact);
    if (!back) return false;
    const auto after = evaluate(car, back->setup, {}, coarse_curve);
    if (!after) return false;
    for (std::size_t i = 0; i < order.aims.size(); ++i) {
      if (!order.aims[i].figure->whole_travel) continue;
      const auto v = order.aims[i].read(after->source);
      if (!v) return false;
      figures[i] = *v;
    }
    return true;
  }
};

AxleJudge::AxleJudge(const Car& car, const Setup& start, const CarTargets& targets, const AxleOrder& order)
    : work_(std::make_unique<Work>(car, start, targets, order)) {
  Work& w = *work_;
  w.turnbuckle.fill(-1);
  const auto& links = car.axle(order.end).mechanism->links;
  for (std::size_t i = 0; i < links.size(); ++i) w.turnbuckle[i] = car.turnbuckle_of(order.end, static_cast<int>(i));
  for (std::size_t i = 0; i < order.parts.size(); ++i)
    if (car.axle(order.end).mechanism->steered && car.steering.spec &&
        moves_steering(car, car.adjusters[static_cast<std::size_t>(order.parts[i])]))
      w.trimming.push_back(i);
  w.trims = !w.trimming.empty();
  for (const RecipeAim& a : order.aims) {
    w.whole_travel = w.whole_travel || a.figure->whole_travel;
    w.whole_car = w.whole_car || (!a.figure->whole_travel && !(*a.figure).is(by_wheels));
  }
  // Both sides alike, as they will be.
  for (const int part : order.parts) w.setup.at_index(part).right = w.setup.at_index(part).left;
  auto model = build_model(car, w.setup);
  if (!model) return;
  w.model = std::move(*model);
  w.attitude = static_attitude(w.model);
  w.ground = ground_under(car, w.attitude);
  const auto posed = pose_car(w.model, w.attitude);
  const auto centred = steer(w.model, 0.0);
  if (!posed || !centred) return;
  w.pose = *posed;
  w.arm_angle = posed->axle[at(order.end)].corner[at(Side::left)].arm_angle;
  if (car.axle(order.end).mechanism->steered) w.steered = centred->corner[at(Side::left)];
  w.source.standing = read_car(w.model, w.pose, w.attitude);
  w.source.car = w.source.standing;
  for (std::size_t i = 0; i < links.size(); ++i)
    if (links[i].holds == LinkHolds::toe) w.toe_link = static_cast<int>(i);
  for (const Disturbance& by : order.also_good_with) {
    Attitude lower = w.attitude;
    for (const End end : both_ends) lower.ride_height_mm[at(end)] -= by.lower_mm;
    w.disturbances.push_back({by, lower, ground_under(car, lower)});
  }
  w.wanted.up = w.ground.up;
  w.wanted.forward = w.ground.forward;
  const WheelTarget& target = targets[at(order.end)][at(Side::left)];
  if (order.reset.hold_camber && can_hold(car, order.end, LinkHolds::camber)) w.wanted.camber = target.camber_rad;
  if (order.reset.hold_toe && can_hold(car, order.end, LinkHolds::toe)) w.wanted.toe = target.toe_rad;
}

std::vector<Disturbance> usual_disturbances() {
  return {{0.5, 0.0}, {0.0, 0.5}, {0.0, -0.5}};
}

Setup disturbed(const Car& car, Setup setup, const Disturbance& by) {
  for (const End end : both_ends) {
    setup.ride_height_mm[at(end)] -= by.lower_mm;
    const auto& links = car.axle(end).mechanism->links;
    for (std::size_t i = 0; i < links.size(); ++i) {
      const int turned = links[i].holds == LinkHolds::toe ? car.turnbuckle_of(end, static_cast<int>(i)) : -1;
      if (turned < 0) continue;
      for (const Side side : both_sides) setup.at_index(turned).on(side) += by.toe_link_turns;
    }
  }
  return setup;
}

AxleJudge::~AxleJudge() = default;
AxleJudge::AxleJudge(AxleJudge&&) noexcept = default;

bool AxleJudge::judge(const std::vector<double>& values, std::vector<double>& figures) {
  Work& w = *work_;
  for (std::size_t i = 0; i < values.size(); ++i) {
    Setting& s = w.setup.at_index(w.order.parts[i]);
    s.left = s.right = values[i];
  }
  const auto input = w.input(values);
  if (!input || !w.stand(*input)) return false;
  w.read();
  figures.resize(w.order.aims.size());
  for (std::size_t i = 0; i < figures.size(); ++i) {
    const FigureSpec& f = *w.order.aims[i].figure;
    if (f.whole_travel) {
      figures[i] = w.order.aims[i].value;  // until the quick ones have passed
      continue;
    }
    const auto v = w.order.aims[i].read(w.source);
    if (!v) return false;
    figures[i] = *v;
  }
  if (!w.disturbances.empty() && !(keeps_what_is_held(w.ranges, figures) && w.read_worst(*input, figures)))
    return false;
  if (!w.whole_travel) return true;
  return keeps_what_is_held(w.ranges, figures) && w.read_travel(figures);
}

}  // namespace lowkite
