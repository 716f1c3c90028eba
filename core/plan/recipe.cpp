#include "core/plan/recipe.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <regex>

#include <fmt/format.h>

#include "core/plan/search.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {
namespace {

constexpr int most_judge_steps = 12;  // of the search for the wheel's place; three or four are usual
constexpr double on_the_ground_mm = 1e-7;
constexpr std::uint64_t tell_every = 512;  // candidates between two words to the asker
/// More are kept than asked for: some fall out when threads and screws are looked at with whole steps.
constexpr std::size_t spare_recipes = 4;

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

std::vector<AimRange> ranges_of(const std::vector<RecipeAim>& aims) {
  std::vector<AimRange> ranges;
  for (const RecipeAim& a : aims) ranges.push_back({a.value, a.tolerance, a.hold});
  return ranges;
}

}  // namespace

struct AxleJudge::Work {
  const Car& car;
  const RecipeOrder& order;
  Setup setup;
  CarModel model;
  Ground ground;
  Attitude attitude;
  SteerInput steered;  ///< of the left corner, steering in the middle
  bool trims = false;  ///< some part moves the steering
  std::map<std::vector<double>, std::optional<SteerInput>> trimmed;
  std::vector<std::size_t> trimming;  ///< which of the order's parts do
  WheelHold wanted;
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

  Work(const Car& c, const Setup& start, const CarTargets& t, const RecipeOrder& o)
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
    auto built = corner.spec->build(corner.geometry);
    if (!built) return false;
    corner.linkage = std::move(*built);
    CornerPose& p = pose.axle[at(order.end)].corner[at(Side::left)];
    double angle = arm_angle;
    double last_angle = 0.0;
    double last_height = 0.0;
    bool stands = false;
    for (int step = 0; step < most_judge_steps && !stands; ++step) {
      if (wanted.camber || wanted.toe) {
        const auto length = corner.linkage->hold(angle, input, wanted);
        if (!length) return false;
        corner.geometry.length = *length;
        built = corner.spec->build(corner.geometry);
        if (!built) return false;
        corner.linkage = std::move(*built);
      }
      auto solved = corner.linkage->solve(angle, input);
      if (!solved) return false;
      p = std::move(*solved);
      const double height = ground.height(contact_point(corner.tyre, p.wheel_centre, p.spin_axis, ground.up));
      stands = std::abs(height) < on_the_ground_mm;
      if (stands) break;
      if (step > 0)
        rise = (height - last_height) / (angle - last_angle);
      else if (rise == 0.0)
        rise = contact_velocity(corner.tyre, p.wheel_centre, p.spin_axis, ground.up, p.wheel_by_arm()).dot(ground.up);
      if (!(std::abs(rise) > 1e-3)) {
        rise = 0.0;
        return false;
      }
      last_angle = angle;
      last_height = height;
      angle -= height / rise;
      if (!(std::abs(angle) < 1.0)) return false;
    }
    if (!stands) return false;
    arm_angle = angle;
    return threads_reach(before, corner.geometry.length);
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
      const auto v = order.aims[i].figure->read(after->source, order.end, Side::left);
      if (!v) return false;
      figures[i] = *v;
    }
    return true;
  }
};

AxleJudge::AxleJudge(const Car& car, const Setup& start, const CarTargets& targets, const RecipeOrder& order)
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
  w.wanted.up = w.ground.up;
  w.wanted.forward = w.ground.forward;
  const WheelTarget& target = targets[at(order.end)][at(Side::left)];
  if (order.reset.hold_camber && can_hold(car, order.end, LinkHolds::camber)) w.wanted.camber = target.camber_rad;
  if (order.reset.hold_toe && can_hold(car, order.end, LinkHolds::toe)) w.wanted.toe = target.toe_rad;
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
    const auto v = f.read(w.source, w.order.end, Side::left);
    if (!v) return false;
    figures[i] = *v;
  }
  if (!w.whole_travel) return true;
  return keeps_what_is_held(w.ranges, figures) && w.read_travel(figures);
}

namespace {

/// Figures this close are the same, whatever their unit.
constexpr double untouched = 1e-7;

/// True when a part moves nothing that a recipe reads: springs, bars and heavy parts change no figure of geometry with
/// the ride height held. Its candidates have the figures of those without it.
bool changes_no_figure(const Adjuster& a, const std::vector<RecipeAim>& aims) {
  const bool weights_count = std::any_of(aims.begin(), aims.end(), [](const RecipeAim& aim) {
    return aim.figure->needs == Needs::braked || aim.figure->needs == Needs::driven;
  });
  return a.positions() && !a.moves_geometry() && !(weights_count && a.moves_weight());
}

/// The figures of the aims with everything put back to the last hair; none where the car cannot stand so.
std::optional<std::vector<double>> figures_with_exact_turns(const Car& car, const std::vector<RecipeChange>& changes,
                                                            const Setup& start, const CarTargets& targets,
                                                            const RecipeOrder& order) {
  Setup setup = start;
  for (const RecipeChange& c : changes) setup.at_index(c.adjuster) = {c.to, c.to};
  ResetOptions exact = order.reset;
  exact.step_turns = 0.0;
  const auto back = reset_alignment(car, setup, targets, exact);
  const auto after = back ? evaluate(car, back->setup, {}, coarse_curve)
                          : tl::expected<Variant, CornerFailure>(tl::unexpect, back.error());
  if (!after) return std::nullopt;
  std::vector<double> figures;
  for (const RecipeAim& a : order.aims) {
    const auto v = a.figure->read(after->source, order.end, Side::left);
    if (!v) return std::nullopt;
    figures.push_back(*v);
  }
  return figures;
}

/// The angle that links hold and an aim is about; none: it is another figure, or not held.
std::optional<WheelAngle> held_angle(const Car& car, const RecipeOrder& order, const RecipeAim& aim) {
  for (const WheelAngle angle : {WheelAngle::camber, WheelAngle::toe, WheelAngle::caster}) {
    const bool held = angle == WheelAngle::camber ? order.reset.hold_camber
                      : angle == WheelAngle::toe  ? order.reset.hold_toe
                                                  : order.reset.hold_caster;
    if (!aim.hold && held && aim.figure->id == name_of(angle) && can_set(car, order.end, angle)) return angle;
  }
  return std::nullopt;
}

/// A kept candidate as it would be done on the bench; none when a thread or a screw ends before everything is back.
std::optional<RecipeResult> as_done(const Car& car, const Setup& start, const Variant& before,
                                    const CarTargets& targets, const RecipeOrder& order, const Found& s) {
  RecipeResult r;
  r.setup = start;
  for (const RecipeChange& c : s.changes) r.setup.at_index(c.adjuster) = {c.to, c.to};
  auto alignment = reset_alignment(car, r.setup, targets, order.reset);
  if (!alignment) return std::nullopt;
  r.alignment = std::move(*alignment);
  if (std::any_of(r.alignment.steps.begin(), r.alignment.steps.end(), [](const ResetStep& t) { return t.thread_ends; }))
    return std::nullopt;
  const auto after = evaluate(car, r.alignment.setup, {}, coarse_curve);
  if (!after) return std::nullopt;
  r.bench = reset_on_bench(car, before, *after, order.reset);
  if (std::any_of(r.bench.droop.begin(), r.bench.droop.end(),
                  [](const DroopStep& t) { return t.screw_ends || t.other_stop; }))
    return std::nullopt;
  r.setup = r.bench.setup;
  r.changes = s.changes;
  r.reached = s.reached;
  r.miss = s.miss;
  if (s.reached.empty() || (order.reset.hold_caster && can_hold_caster(car, order.end))) {
    // The quick judge does not turn two upper links against each other.
    auto exact = figures_with_exact_turns(car, r.changes, start, targets, order);
    const std::vector<AimRange> ranges = ranges_of(order.aims);
    if (!exact || !keeps_what_is_held(ranges, *exact)) return std::nullopt;
    r.reached = std::move(*exact);
    r.miss = miss_of(ranges, r.reached);
  }
  std::vector<int> changed;
  for (const RecipeChange& c : s.changes) changed.push_back(c.adjuster);
  r.work = work_for(car, changed, static_cast<int>(r.alignment.steps.size() + r.bench.droop.size()));
  return r;
}

}  // namespace

std::vector<int> recipe_parts(const Car& car, End end) {
  std::vector<int> parts;
  for (const int i : car.adjusters_from_the_wheel(end)) {
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(i)];
    if (!a.threaded() && !a.only_kept()) parts.push_back(i);
  }
  return parts;
}

std::uint64_t candidates_of(const Car& car, const Setup& start, const RecipeOrder& order) {
  return candidates_in(car, start, {.parts = order.parts, .most_parts = order.most_parts});
}

std::optional<ShimBox> parse_shim_box(const std::string& text) {
  static const std::regex each(R"((\d+(?:[.,]\d+)?)\s*(?:mm)?\s*[x*]\s*(\d{1,4}))");
  static const std::regex between(R"([;\s]*)");
  ShimBox box;
  auto from = text.cbegin();
  for (auto it = std::sregex_iterator(text.begin(), text.end(), each); it != std::sregex_iterator(); ++it) {
    if (!std::regex_match(from, (*it)[0].first, between)) return std::nullopt;
    std::string size = (*it)[1];
    std::replace(size.begin(), size.end(), ',', '.');
    box[std::stod(size)] += std::stoi((*it)[2]);
    from = (*it)[0].second;
  }
  if (!std::regex_match(from, text.cend(), between)) return std::nullopt;
  return box;
}

bool box_makes(const Car& car, const std::vector<RecipeChange>& changes, const ShimBox& box) {
  ShimBox left = box;
  std::vector<std::pair<double, const std::vector<double>*>> wanted;
  for (const RecipeChange& c : changes) {
    const Adjuster& a = car.adjusters[static_cast<std::size_t>(c.adjuster)];
    if (a.kind != AdjusterKind::shim_stack) continue;
    const std::vector<double>& sizes = a.range()->shims_mm;
    const int sides = a.steering ? 1 : 2;
    for (const double shim : shims_for(c.from, sizes)) left[shim] += sides;
    for (int i = 0; i < sides; ++i)
      if (c.to > 0.0) wanted.emplace_back(c.to, &sizes);
  }
  // Thickest shims first, and back where they do not work out: stacks are few and low.
  const auto make = [&](const auto& self, std::size_t stack, double rest) -> bool {
    if (stack == wanted.size()) return true;
    if (rest < 1e-6) return self(self, stack + 1, stack + 1 < wanted.size() ? wanted[stack + 1].first : 0.0);
    const auto& sizes = *wanted[stack].second;
    for (auto size = sizes.rbegin(); size != sizes.rend(); ++size) {
      const auto found = left.find(*size);
      if (*size > rest + 1e-6 || found == left.end() || found->second == 0) continue;
      --found->second;
      if (self(self, stack, rest - *size)) return true;
      ++found->second;
    }
    return false;
  };
  return wanted.empty() || make(make, 0, wanted.front().first);
}

tl::expected<Recipe, std::string> find_recipe(const Car& car, const Setup& before, const Setup& start,
                                              const RecipeOrder& order, const std::function<bool(double)>& progress) {
  if (std::none_of(order.aims.begin(), order.aims.end(), [](const RecipeAim& a) { return !a.hold; }))
    return tl::unexpected(std::string("nothing is wanted; choose a figure and the value it should have"));
  for (const RecipeAim& a : order.aims) {
    if (!applies(*a.figure, car, order.end))
      return tl::unexpected(
          fmt::format("{} means nothing on the {} axle of this car", a.figure->label, name_of(order.end)));
    if (!(a.tolerance > 0.0))
      return tl::unexpected(fmt::format("{}: the tolerance is {}; allowed: more than 0", a.figure->label, a.tolerance));
  }
  // An angle that links hold is set by those links first; parts are moved for what is then still wanted.
  const bool by_links = std::any_of(order.aims.begin(), order.aims.end(),
                                    [&](const RecipeAim& a) { return held_angle(car, order, a).has_value(); });
  if (order.parts.empty() && !by_links)
    return tl::unexpected(std::string("no part may be changed; allow at least one"));
  if (order.most_parts < 1) return tl::unexpected(std::string("at most 0 parts may be changed; allow at least one"));
  const auto base = evaluate(car, before, {}, coarse_curve);
  if (!base) return tl::unexpected(base.error().message);
  if (const auto stands = evaluate(car, start, {}, coarse_curve); !stands)
    return tl::unexpected(stands.error().message);
  Setup wish = start;
  for (const RecipeAim& a : order.aims)
    if (const auto angle = held_angle(car, order, a))
      for (const Side side : both_sides) want(wish, order.end, side, *angle, a.value);
  const CarTargets targets = wanted_targets(base->source.standing, before, wish);
  if (by_links) {
    // Less work than any other way: where it does, nothing else is looked for.
    auto alone = as_done(car, wish, *base, targets, order, {});
    if (alone && alone->meets()) return Recipe{1, 1, 1, false, {std::move(*alone)}};
    if (order.parts.empty())
      return tl::unexpected(std::string("the links alone do not reach that; allow at least one part"));
  }
  RecipeOrder searched = order;
  std::stable_partition(searched.parts.begin(), searched.parts.end(), [&](int part) {
    return !changes_no_figure(car.adjusters[static_cast<std::size_t>(part)], order.aims);
  });
  SearchSpace space{.parts = searched.parts, .most_parts = order.most_parts};
  for (const int part : searched.parts)
    space.idle.push_back(changes_no_figure(car.adjusters[static_cast<std::size_t>(part)], order.aims));
  SearchOrder wanted{.aims = ranges_of(order.aims),
                     .keep = spare_recipes * order.results,
                     .threads = order.threads,
                     .same = untouched,
                     .tell_every = tell_every};
  if (order.box)
    wanted.allowed = [&](const std::vector<RecipeChange>& changes) { return box_makes(car, changes, *order.box); };
  const auto found = search_parts<AxleJudge>(
      car, wish, space, wanted, [&] { return AxleJudge(car, wish, targets, searched); }, progress);
  Recipe recipe;
  recipe.judged = found.judged;
  recipe.of = found.of;
  recipe.allowed = found.allowed;
  recipe.stopped = found.stopped;
  for (const Found& s : found.best) {
    if (recipe.results.size() >= order.results) break;
    if (auto r = as_done(car, wish, *base, targets, order, s)) recipe.results.push_back(std::move(*r));
  }
  // Turns are part of the work: among those that meet the aims they decide too.
  std::stable_sort(recipe.results.begin(), recipe.results.end(), [](const RecipeResult& a, const RecipeResult& b) {
    if (a.meets() && b.meets()) return a.work.minutes < b.work.minutes;
    return false;
  });
  return recipe;
}

}  // namespace lowkite
