#include "core/plan/axle_judge.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>

#include "core/plan/bench_reset.hpp"
#include "core/plan/car_judge.hpp"
#include "core/plan/lanes/part_moves.hpp"
#include "core/plan/settling.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {
namespace {

constexpr int most_judge_steps = 12;  // of the search for the wheel's place; three or four are usual
constexpr double on_the_ground_mm = 1e-9;
/// True when a part moves the tie rod's inner ball: the steering is then trimmed anew.
bool moves_steering(const Car& car, const Adjuster& a) {
  if (a.steering) return true;
  const PointHandle ball = car.axle(a.end).mechanism->point("tie_inner");
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
  const Setup& start;
  Setup setup;
  CarModel model;
  Ground ground;
  Attitude attitude;
  SteerInput steered;  ///< of the left corner, steering in the middle
  bool trims = false;  ///< some part moves the steering
  std::map<std::vector<double>, std::optional<SteerInput>> trimmed;
  std::vector<std::size_t> trimming;  ///< which of the order's parts do
  std::vector<double> last_key;       ///< what was asked last, and what was found
  std::optional<SteerInput> last_input;
  WheelHold wanted;
  LinkHandle toe_link;  ///< index of the link that holds toe
  struct Case {
    Disturbance by;
    Attitude attitude;
    Ground ground;
  };
  std::vector<Case> disturbances;
  ByLink<PartHandle> turnbuckle;
  CarTargets targets;
  std::vector<AimRange> ranges;
  FigureSource source;
  CarPose pose;
  /// Of the candidate before: its neighbours stand nearly alike.
  double arm_angle = 0.0;
  double rise = 0.0;                     ///< of the contact over the arm's angle, links at what is held
  bool whole_car = false;                ///< some figure asks for more than the wheels
  TravelRead travel = TravelRead::none;  ///< how much of the whole travel figures ask for
  bool reads_right = false;              ///< some figure is asked of the right wheel
  bool hangs = false;                    ///< some figure asks how the wheels hang
  bool settling = false;                 ///< the axle stands as its parts let it, at another height with each candidate
  /// Several at once.
  struct Lanes {
    const LaneKernel* kernel;
    LaneTask task;
    PartMoves moves;
    LaneInput input;
    std::vector<LaneReading> readings;
    FigureSource source;
    bool tells_all = true;  ///< every figure is read off the wheels
  };
  std::optional<Lanes> lanes;
  std::vector<double> start_values;  ///< of the order's parts

  Work(const Car& c, const Setup& s, const CarTargets& t, const AxleOrder& o)
      : car(c), order(o), start(s), setup(s), targets(t), ranges(ranges_of(o.aims)) {
    for (const PartHandle part : o.parts) start_values.push_back(s.of(part).left);
  }

  void set(std::span<const double> values) {
    for (std::size_t i = 0; i < values.size(); ++i) setup.of(order.parts[i]) = {values[i], values[i]};
  }

  std::optional<SteerInput> input(std::span<const double> values) {
    if (!trims) return steered;
    const auto as_before = [&](std::size_t k) { return last_key[k] == values[trimming[k]]; };
    std::size_t same = 0;
    while (same < last_key.size() && as_before(same)) ++same;
    if (same == trimming.size()) return last_input;
    std::vector<double> key;
    for (const std::size_t i : trimming) key.push_back(values[i]);
    last_key = key;
    const auto known = trimmed.find(key);
    if (known != trimmed.end()) return last_input = known->second;
    set(values);
    std::optional<SteerInput> found;
    if (const auto built = build_model(car, setup))
      if (const auto centred = steer(*built, 0.0)) found = centred->corner[at(Side::left)];
    return last_input = trimmed.emplace(std::move(key), found).first->second;
  }

  /// The left corner on the ground with its links at what is held; its linkage and pose stay in the model.
  bool stand(const SteerInput& input) {
    CornerModel& corner = model.corners[at(order.end)][at(Side::left)];
    corner.geometry = corner_geometry(car, setup, order.end, Side::left);
    corner.tyre.radius_mm = corner.geometry.size_of(Size::tyre_radius);
    const LinkLengths before = corner.geometry.length;
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
    const LinkLengths length_as_set = corner.geometry.length;
    const Ground ground_as_set = ground;
    const Attitude attitude_as_set = attitude;
    const double rise_as_set = rise;
    bool stands = true;
    for (std::size_t d = 0; d < disturbances.size() && stands; ++d) {
      const Case& c = disturbances[d];
      corner.geometry.length = length_as_set;
      if (c.by.toe_link_turns != 0.0) {
        if (!toe_link) continue;
        if (!turnbuckle[toe_link]) continue;
        const Adjuster& a = car.adjusters[turnbuckle[toe_link]];
        corner.geometry.length[toe_link] += c.by.toe_link_turns * a.range()->link_mm_per_unit;
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

  [[nodiscard]] bool threads_reach(const LinkLengths& before, const LinkLengths& after) const {
    for (const LinkHandle i : before.handles()) {
      if (!turnbuckle[i] || before[i] == after[i]) continue;
      const Adjuster& a = car.adjusters[turnbuckle[i]];
      const double value = setup.of(turnbuckle[i]).left + (after[i] - before[i]) / a.range()->link_mm_per_unit;
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

  /// Read off the wheels alone, so by lanes too.
  static bool is_of_wheels(const RecipeAim& aim) { return !aim.figure->whole_travel && aim.figure->is(by_wheels); }

  void open_lanes(const LaneKernel& kernel) {
    const CornerModel& corner = model.corner(order.end, Side::left);
    const CornerPose& posed = pose.axle[at(order.end)].corner[at(Side::left)];
    const auto assembly = chain_assembly(*corner.spec, corner.geometry);
    if (!assembly || std::none_of(order.aims.begin(), order.aims.end(), is_of_wheels)) return;
    PartMoves moves(car, setup, order.end, order.parts);
    LaneTask task;
    task.assembly = *assembly;
    std::copy_n(corner.geometry.kit.begin(), task.kit.size(), task.kit.begin());
    task.set = moves.start().set;
    task.moved = moves.moved();
    task.spin_axis = corner.geometry.spin_axis;
    const TyreShape<double> tyre = shape_of(corner.tyre);
    task.crown_mm = tyre.crown;
    task.half_width_mm = tyre.half_width;
    task.wanted = wanted;
    for (const LinkHandle i : turnbuckle.handles()) {
      task.least_change[i] = -std::numeric_limits<double>::infinity();
      task.most_change[i] = std::numeric_limits<double>::infinity();
      if (!turnbuckle[i]) continue;
      const Adjuster& a = car.adjusters[turnbuckle[i]];
      const double now = setup.of(turnbuckle[i]).left;
      const double per_turn = a.range()->link_mm_per_unit;
      std::tie(task.least_change[i], task.most_change[i]) =
          std::minmax((a.least() - now) * per_turn, (a.most() - now) * per_turn);
    }
    task.arm_angle = posed.arm_angle;
    task.rise = held_rise(corner, posed.arm_angle);
    task.ground = ground;
    for (const Case& c : disturbances) {
      LaneTask::Case each{c.ground, {}, 0.0};
      const PartHandle turned = !toe_link ? PartHandle() : turnbuckle[toe_link];
      if (c.by.toe_link_turns != 0.0) {
        if (!turned) continue;
        each.link = toe_link;
        each.longer_mm = c.by.toe_link_turns * car.adjusters[turned].range()->link_mm_per_unit;
      }
      task.cases.push_back(each);
    }
    lanes.emplace(Lanes{&kernel,
                        std::move(task),
                        std::move(moves),
                        {},
                        {},
                        source,
                        std::all_of(order.aims.begin(), order.aims.end(), is_of_wheels)});
    lanes->readings.resize(lanes->task.cases.size() + 1);
  }

  /// How the tyre's lowest point rises with the arm, links set to what is held at every angle.
  [[nodiscard]] double held_rise(const CornerModel& corner, double angle) const {
    constexpr double step = 1e-3;
    const auto height = [&](double there) -> std::optional<double> {
      CornerGeometry g = corner.geometry;
      if (const auto length = corner.linkage->hold(there, steered, wanted)) g.length = *length;
      const auto built = corner.spec->build(g);
      if (!built) return std::nullopt;
      const auto p = (*built)->solve(there, steered);
      if (!p) return std::nullopt;
      return ground.height(contact_point(corner.tyre, p->wheel_centre, p->spin_axis, ground.up));
    };
    const auto low = height(angle - step);
    const auto high = height(angle + step);
    // A first step of some length; the search for the ground corrects it.
    return low && high ? (*high - *low) / (2.0 * step) : slide_mm_per_rad;
  }

  /// As many as the kernel has lanes, or fewer. Each of `rows` has a value for each part.
  void judge_in_lanes(std::span<const std::span<const double>> rows, std::span<char> stands, double* figures) {
    Lanes& l = *lanes;
    std::array<bool, most_lanes> alone{};
    for (std::size_t i = 0; i < rows.size(); ++i) {
      alone[i] = !l.moves.write(rows[i], i, l.input);
      const auto steer = input(rows[i]);
      stands[i] = steer.has_value();
      steer_lane(i, steer.value_or(steered));
    }
    // What is computed for lanes that nobody has is dropped; it is to be an ordinary car all the same.
    for (std::size_t i = rows.size(); i < l.kernel->lanes; ++i) {
      l.moves.write(start_values, i, l.input);
      steer_lane(i, steered);
    }
    l.kernel->run(l.task, l.input, l.readings);
    for (std::size_t i = 0; i < rows.size(); ++i) {
      double* const own = figures + i * order.aims.size();
      if (alone[i])
        stands[i] = judge_alone(rows[i], own);
      else
        stands[i] = stands[i] != 0 && tell(i, own) && (l.tells_all || (keeps(own) && judge_alone(rows[i], own)));
    }
  }

  void steer_lane(std::size_t lane, const SteerInput& steer) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
      lanes->input.shift[axis].of[lane] = steer.shift(static_cast<Eigen::Index>(axis));
      lanes->input.rate[axis].of[lane] = steer.rate(static_cast<Eigen::Index>(axis));
    }
  }

  /// What a lane found: the figures read off the wheels, the worst of all cases. False: it does not stand.
  bool tell(std::size_t lane, double* figures) {
    Lanes& l = *lanes;
    for (std::size_t c = 0; c < l.readings.size(); ++c) {
      if (l.readings[c].stands.of[lane] == 0.0) return false;
      unpack(l.readings[c], lane);
      for (std::size_t i = 0; i < order.aims.size(); ++i) {
        const RecipeAim& aim = order.aims[i];
        if (c == 0) figures[i] = aim.value;
        if (!is_of_wheels(aim) || (c > 0 && aim.figure->is(adds_up))) continue;
        const auto v = aim.read(l.source);
        if (!v) return false;
        if (c == 0 || std::abs(*v - aim.value) > std::abs(figures[i] - aim.value)) figures[i] = *v;
      }
      if (c == 0 && l.readings.size() > 1 && !keeps(figures)) return false;
    }
    return true;
  }

  /// A lane's numbers to where figures are read from.
  void unpack(const LaneReading& reading, std::size_t lane) {
    AxleFigures& f = lanes->source.car.axle[at(order.end)];
    WheelFigures& left = f.wheel[at(Side::left)];
    std::size_t next = 0;
    each_number([&](double& n) { n = reading.number[next++].of[lane]; }, left);
    if (reads_right) f.wheel[at(Side::right)] = left;
    const auto point = [&](LaneNumber across, LaneNumber height) -> std::optional<FrontPoint> {
      const FrontPoint p{reading.number[across].of[lane], reading.number[height].of[lane]};
      return std::isnan(p.height) ? std::nullopt : std::optional(p);
    };
    f.roll_centre.moving = point(moving_across, moving_height);
    f.roll_centre.locked = point(locked_across, locked_height);
    f.roll_centre.drawn = point(drawn_across, drawn_height);
    f.track_mm = reading.number[track].of[lane];
    const End other = order.end == End::front ? End::rear : End::front;
    const Vec3& there = pose.axle[at(other)].corner[at(Side::left)].wheel_centre;
    const Vec3 apart = order.end == End::front ? Vec3(left.wheel_centre - there) : Vec3(there - left.wheel_centre);
    lanes->source.car.wheelbase_mm = {apart.dot(ground.forward), apart.dot(ground.forward)};
  }

  [[nodiscard]] bool keeps(const double* figures) const {
    return keeps_what_is_held(ranges, std::span(figures, order.aims.size()));
  }

  bool judge_alone(std::span<const double> values, double* figures) {
    if (!judge(values, alone_)) return false;
    std::copy(alone_.begin(), alone_.end(), figures);
    return true;
  }
  std::vector<double> alone_;

  bool judge(std::span<const double> values, std::vector<double>& figures);

  /// What the candidate in hand changes.
  [[nodiscard]] std::vector<PartChange> changes() const {
    std::vector<PartChange> all;
    for (std::size_t i = 0; i < order.parts.size(); ++i)
      if (const double now = setup.of(order.parts[i]).left; now != start_values[i])
        all.push_back({order.parts[i], start_values[i], now});
    return all;
  }

  /// By the program's common way: the figures that ask for the whole travel, or all of them. The worst case counts for
  /// those that do not.
  bool read_by_common_way(std::vector<double>& figures, bool travel_only) {
    ResetOptions exact = order.reset;
    exact.step_turns = 0.0;
    std::vector<const Variant*> known;
    if (order.hung_as) known.push_back(order.hung_as);
    const auto setup_of = [](ResetResult r) { return std::move(r.setup); };
    tl::expected<Setup, CarFailure> back;
    if (!order.hung_as)
      back = reset_alignment(car, setup, targets, exact).map(setup_of);
    else if (hangs)
      back = put_back_exactly(car, *order.hung_as, changed_for_droop(car, order.hung_as->setup, start, changes()),
                              targets, order.reset);
    else
      back = reset_where_it_sits(car, *order.hung_as, changed_by(start, changes()), targets, exact).map(setup_of);
    if (!back) return false;
    const auto after = figure_source(car, *back, travel, known);
    if (!after) return false;
    for (std::size_t i = 0; i < order.aims.size(); ++i) {
      if (travel_only && !order.aims[i].figure->whole_travel) continue;
      const auto v = order.aims[i].read(*after);
      if (!v) return false;
      figures[i] = *v;
    }
    if (travel_only) return true;
    for (const Case& c : disturbances) {
      const auto then = figure_source(car, disturbed(car, *back, c.by), TravelRead::none);
      if (!then) return false;
      for (std::size_t i = 0; i < order.aims.size(); ++i) {
        const RecipeAim& aim = order.aims[i];
        if (aim.figure->whole_travel || aim.figure->is(adds_up)) continue;
        const auto v = aim.read(*then);
        if (!v) return false;
        if (std::abs(*v - aim.value) > std::abs(figures[i] - aim.value)) figures[i] = *v;
      }
    }
    return true;
  }
};

AxleJudge::AxleJudge(const Car& car, const Setup& start, const CarTargets& targets, const AxleOrder& order,
                     const LaneKernel* kernel)
    : work_(std::make_unique<Work>(car, start, targets, order)) {
  Work& w = *work_;
  w.turnbuckle.fill({});
  const auto& links = car.axle(order.end).mechanism->links;
  for (const LinkHandle l : links.handles()) w.turnbuckle[l] = car.turnbuckle_of(order.end, l);
  for (std::size_t i = 0; i < order.parts.size(); ++i)
    if (car.axle(order.end).mechanism->steered && car.steering.spec &&
        moves_steering(car, car.adjusters[order.parts[i]]))
      w.trimming.push_back(i);
  w.trims = !w.trimming.empty();
  for (const RecipeAim& a : order.aims) {
    w.travel = std::max(w.travel, a.figure->travel_read());
    w.hangs = w.hangs || a.figure->whole_travel || a.figure->needs == Needs::shock_ends;
    w.reads_right = w.reads_right || a.side == Side::right;
    w.whole_car = w.whole_car || (!a.figure->whole_travel && !(*a.figure).is(by_wheels));
  }
  // Both sides alike, as they will be.
  for (const PartHandle part : order.parts) w.setup.of(part).right = w.setup.of(part).left;
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
  for (const LinkHandle l : links.handles())
    if (links[l].holds == LinkHolds::toe) w.toe_link = l;
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
  w.settling = order.hung_as && settles(car, order.end, order.reset);
  if (kernel && !w.settling) w.open_lanes(*kernel);
}

std::vector<Disturbance> disturbances(double lower_mm, double toe_link_turns) {
  std::vector<Disturbance> all;
  if (lower_mm != 0.0) all.push_back({lower_mm, 0.0});
  if (toe_link_turns == 0.0) return all;
  for (const double way : {1.0, -1.0}) all.push_back({0.0, way * toe_link_turns});
  return all;
}

Setup disturbed(const Car& car, Setup setup, const Disturbance& by) {
  for (const End end : both_ends) {
    setup.ride_height_mm[at(end)] -= by.lower_mm;
    const auto& links = car.axle(end).mechanism->links;
    for (const LinkHandle l : links.handles()) {
      const PartHandle turned = links[l].holds == LinkHolds::toe ? car.turnbuckle_of(end, l) : PartHandle();
      if (!turned) continue;
      for (const Side side : both_sides) setup.of(turned).on(side) += by.toe_link_turns;
    }
  }
  return setup;
}

AxleJudge::~AxleJudge() = default;
AxleJudge::AxleJudge(AxleJudge&&) noexcept = default;

bool AxleJudge::Work::judge(std::span<const double> values, std::vector<double>& figures) {
  set(values);
  if (settling) {
    figures.resize(order.aims.size());
    return read_by_common_way(figures, false);
  }
  const auto steer = input(values);
  if (!steer || !stand(*steer)) return false;
  read();
  figures.resize(order.aims.size());
  for (std::size_t i = 0; i < figures.size(); ++i) {
    if (order.aims[i].figure->whole_travel) {
      figures[i] = order.aims[i].value;  // until the quick ones have passed
      continue;
    }
    const auto v = order.aims[i].read(source);
    if (!v) return false;
    figures[i] = *v;
  }
  if (!disturbances.empty() && !(keeps_what_is_held(ranges, figures) && read_worst(*steer, figures))) return false;
  if (travel == TravelRead::none) return true;
  return keeps_what_is_held(ranges, figures) && read_by_common_way(figures, true);
}

bool AxleJudge::judge(std::span<const double> values, std::vector<double>& figures) {
  return work_->judge(values, figures);
}

void AxleJudge::judge_all(std::span<const double> values, std::vector<char>& stands, std::vector<double>& figures) {
  Work& w = *work_;
  const std::size_t parts = w.order.parts.size();
  const std::size_t aims = w.order.aims.size();
  const std::size_t count = parts == 0 ? 1 : values.size() / parts;
  stands.assign(count, 0);
  figures.resize(count * aims);
  const auto row = [&](std::size_t i) { return values.subspan(i * parts, parts); };
  if (!w.lanes) {
    for (std::size_t i = 0; i < count; ++i) stands[i] = w.judge_alone(row(i), figures.data() + i * aims);
    return;
  }
  std::array<std::span<const double>, most_lanes> rows;
  for (std::size_t i = 0; i < count; i += w.lanes->kernel->lanes) {
    const std::size_t n = std::min(w.lanes->kernel->lanes, count - i);
    for (std::size_t k = 0; k < n; ++k) rows[k] = row(i + k);
    w.judge_in_lanes(std::span(rows).first(n), std::span(stands).subspan(i, n), figures.data() + i * aims);
  }
}

}  // namespace lowkite
