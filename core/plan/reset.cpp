#include "core/plan/reset.hpp"

#include <algorithm>
#include <cmath>
#include <vector>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr int most_reset_rounds = 60;
constexpr int most_bench_rounds = 20;  ///< over camber and toe; two settle it, more where one of two links ends
constexpr double reset_settled_mm = 1e-11;
constexpr double same_caster_rad = 2e-4;  ///< a hundredth of a degree: no gauge tells it, and links are left alone
constexpr double least_turns = 1e-9;      // rounding noise of an exact re-set, no twist of any hand

/// What the steering, standing in its middle, does to each corner.
tl::expected<PerEnd<PerSide<SteerInput>>, CarFailure> centred(const Car& car, const Setup& setup) {
  PerEnd<PerSide<SteerInput>> inputs;
  if (!car.steering.spec) return inputs;
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const auto steered = steer(*model, 0.0);
  if (!steered) return tl::unexpected(failure_of_steering(steered.error()));
  inputs[at(End::front)] = steered->corner;
  return inputs;
}

Ground corner_ground(const Car& car, const Setup& setup, Side side) {
  const Ground ground = ground_under(car, {.ride_height_mm = setup.ride_height_mm});
  return side == Side::left ? ground : ground.mirrored_frame();
}

bool link_holds(const MechanismSpec& spec, LinkHolds what) {
  return std::any_of(spec.links.begin(), spec.links.end(), [&](const LinkSpec& l) { return l.holds == what; });
}

/// Link lengths with which the wheel stands on the ground with the held angles.
tl::expected<LinkLengths, CarFailure> held_lengths(CornerModel corner, const Ground& ground, const WheelHold& wanted,
                                                   const SteerInput& steer, End end, Side side) {
  for (int round = 0; round < most_reset_rounds; ++round) {
    const auto pose = pose_on_ground(corner, ground, steer);
    if (!pose) return tl::unexpected(failure_at(end, side, pose.error()));
    const auto length = corner.linkage->hold(pose->arm_angle, steer, wanted);
    if (!length) return tl::unexpected(failure_at(end, side, length.error()));
    double moved = 0.0;
    for (const LinkHandle l : length->handles())
      moved = std::max(moved, std::abs((*length)[l] - corner.geometry.length[l]));
    auto next = with_lengths(corner, end, side, *length);
    if (!next) return tl::unexpected(next.error());
    corner = std::move(*next);
    if (moved < reset_settled_mm) break;
  }
  return corner.geometry.length;
}

class CornerReset {
 public:
  CornerReset(const Car& car, const ResetOptions& options, End end, Side side, const SteerInput& steer,
              const WheelTarget& target, ResetResult& result)
      : car_(car), options_(options), end_(end), side_(side), steer_(steer), target_(target), result_(result) {}

  tl::expected<void, CarFailure> run() {
    const bool camber = options_.hold_camber && can_hold(car_, end_, LinkHolds::camber);
    const bool toe = options_.hold_toe && can_hold(car_, end_, LinkHolds::toe);
    const bool caster = options_.hold_caster && target_.caster_rad && can_hold_caster(car_, end_);
    // A step of one link moves what the others are exactly wanted at. Gone over until no hand would turn one again, a
    // car that was put back is not told to be put back once more.
    for (int round = 0; round < most_bench_rounds; ++round) {
      turned_ = false;
      if (camber || caster) {
        // With both held the camber link comes out right for the toe that will be set after it.
        const auto done = turn(LinkHolds::camber, camber, toe, caster);
        if (!done) return done;
      }
      if (toe) {
        const auto done = turn(LinkHolds::toe, false, toe);
        if (!done) return done;
      }
      if (options_.step_turns <= 0.0 || !turned_) break;
    }
    add_steps();
    return note_what_is_left();
  }

 private:
  tl::expected<void, CarFailure> turn(LinkHolds what, bool hold_camber, bool hold_toe, bool hold_caster = false) {
    auto corner = build_corner(car_, result_.setup, end_, side_);
    if (!corner) return tl::unexpected(corner.error());
    const LinkLengths before = corner->geometry.length;
    const Ground ground = corner_ground(car_, result_.setup, side_);
    WheelHold wanted{.camber = {}, .toe = {}, .up = ground.up, .forward = ground.forward};
    if (hold_camber) wanted.camber = target_.camber_rad;
    if (hold_toe) wanted.toe = target_.toe_rad;
    const MechanismSpec& spec = *corner->spec;
    if (hold_caster) {
      auto leant = caster_held(*corner, ground, wanted);
      if (!leant) return tl::unexpected(leant.error());
      *corner = std::move(*leant);
    }
    const auto length = held_lengths(std::move(*corner), ground, wanted, steer_, end_, side_);
    if (!length) return tl::unexpected(length.error());
    std::vector<LinkTurn> turns;
    for (const LinkHandle l : spec.links.handles())
      if (spec.links[l].holds == what) turns.push_back(turn_of(l, (*length)[l] - before[l]));
    if (hold_caster && options_.step_turns > 0.0) round_together(turns, before, ground);
    for (const LinkTurn& t : turns) set_length(t);
    return {};
  }

  /// What a link asks for, and what a hand does.
  struct LinkTurn {
    LinkHandle link;
    double exact = 0.0;  ///< turns
    double told = 0.0;
  };
  [[nodiscard]] double mm_per_turn(LinkHandle link) const {
    return car_.adjusters[car_.turnbuckle_of(end_, link)].range()->link_mm_per_unit;
  }
  [[nodiscard]] LinkTurn turn_of(LinkHandle link, double change_mm) const {
    const double exact = change_mm / mm_per_turn(link);
    const double step = options_.step_turns;
    return {link, exact, step > 0.0 ? std::round(exact / step) * step : exact};
  }

  /// Links that set two angles together are rounded together: of all ways to round each up or down, the one that
  /// leaves least of camber and caster.
  void round_together(std::vector<LinkTurn>& turns, const LinkLengths& before, const Ground& ground) const {
    const auto corner = build_corner(car_, result_.setup, end_, side_);
    if (!corner || turns.size() > 4) return;
    std::vector<LinkTurn> best = turns;
    double least = -1.0;
    for (unsigned ups = 0; ups < (1u << turns.size()); ++ups) {
      std::vector<LinkTurn> tried = turns;
      auto length = before;
      for (std::size_t i = 0; i < tried.size(); ++i) {
        LinkTurn& t = tried[i];
        const double steps = t.exact / options_.step_turns;
        t.told = ((ups >> i) & 1u ? std::ceil(steps) : std::floor(steps)) * options_.step_turns;
        length[t.link] += t.told * mm_per_turn(t.link);
      }
      const auto left = left_of_both(*corner, length, ground);
      if (!left || (least >= 0.0 && *left >= least)) continue;
      least = *left;
      best = std::move(tried);
    }
    turns = std::move(best);
  }

  /// Square sum of what is left of camber and caster with these lengths, toe as it will be; rad^2.
  [[nodiscard]] std::optional<double> left_of_both(const CornerModel& corner, const LinkLengths& length,
                                                   const Ground& ground) const {
    auto set = with_lengths(corner, end_, side_, length);
    if (!set) return std::nullopt;
    if (options_.hold_toe && can_hold(car_, end_, LinkHolds::toe)) {
      const WheelHold toe{.camber = {}, .toe = target_.toe_rad, .up = ground.up, .forward = ground.forward};
      const auto with_toe = held_lengths(*set, ground, toe, steer_, end_, side_);
      if (!with_toe) return std::nullopt;
      set = with_lengths(corner, end_, side_, *with_toe);
      if (!set) return std::nullopt;
    }
    const auto pose = pose_on_ground(*set, ground, steer_);
    if (!pose) return std::nullopt;
    const WheelFigures w = read_wheel(*set, *pose, ground);
    const double camber = options_.hold_camber ? w.camber_rad - target_.camber_rad : 0.0;
    const double caster = w.kingpin ? w.kingpin->caster_rad - *target_.caster_rad : 0.0;
    return camber * camber + caster * caster;
  }

  /// The corner with its two upper links turned against each other so that the kingpin leans as wanted once the other
  /// angles are held; as it is where it leans so already, or where they cannot do it.
  tl::expected<CornerModel, CarFailure> caster_held(const CornerModel& corner, const Ground& ground,
                                                    const WheelHold& wanted) const {
    const MechanismSpec& spec = *corner.spec;
    std::vector<LinkHandle> upper;
    for (const LinkHandle l : spec.links.handles())
      if (spec.links[l].holds == LinkHolds::camber) upper.push_back(l);
    const auto against = [&](double mm) {
      auto length = corner.geometry.length;
      length[upper[0]] += mm;
      length[upper[1]] -= mm;
      return with_lengths(corner, end_, side_, length);
    };
    const auto off = [&](double mm) -> std::optional<double> {
      const auto leant = against(mm);
      if (!leant) return std::nullopt;
      const auto length = held_lengths(*leant, ground, wanted, steer_, end_, side_);
      const auto held = length ? with_lengths(corner, end_, side_, *length)
                               : tl::expected<CornerModel, CarFailure>(tl::unexpect, length.error());
      const auto pose = held ? pose_on_ground(*held, ground, steer_)
                             : tl::expected<CornerPose, PoseFailure>(tl::unexpect, PoseFailure{});
      if (!pose) return std::nullopt;
      return read_wheel(*held, *pose, ground).kingpin->caster_rad - *target_.caster_rad;
    };
    // The secant method: a few tenths of a millimetre, and next to a straight line.
    double a = 0.0, b = 0.2;
    auto at_a = off(a);
    auto at_b = off(b);
    if (!at_a || !at_b || std::abs(*at_a) < same_caster_rad) return corner;
    for (int i = 0; i < 30 && std::abs(*at_b) > 1e-12 && *at_b != *at_a; ++i) {
      const double next = b - *at_b * (b - a) / (*at_b - *at_a);
      a = b;
      at_a = at_b;
      b = next;
      at_b = off(b);
      if (!at_b) return corner;
    }
    return std::abs(*at_b) < 1e-9 ? against(b) : corner;
  }

  /// Turns one link, and adds it to what is told of it.
  void set_length(const LinkTurn& turn) {
    const PartHandle index = car_.turnbuckle_of(end_, turn.link);
    const Adjuster& turnbuckle = car_.adjusters[index];
    ResetStep& step = step_of(index, turn.link);
    double& value = result_.setup.of(index).on(side_);
    const double wanted = std::abs(turn.told) < least_turns ? value : value + turn.told;
    step.exact_turns = step.turns + turn.exact;
    step.value = std::clamp(wanted, turnbuckle.least(), turnbuckle.most());
    step.thread_ends = step.value != wanted;
    turned_ = turned_ || step.value != value;
    step.turns += step.value - value;
    step.mm = step.turns * turnbuckle.range()->link_mm_per_unit;
    value = step.value;
  }

  ResetStep& step_of(PartHandle turnbuckle, LinkHandle link) {
    for (ResetStep& s : steps_)
      if (s.adjuster == turnbuckle) return s;
    steps_.push_back({.adjuster = turnbuckle, .side = side_, .holds = car_.axle(end_).mechanism->links[link].holds});
    return steps_.back();
  }

  void add_steps() {
    for (const ResetStep& s : steps_)
      if (std::abs(s.turns) >= least_turns || s.thread_ends) result_.steps.push_back(s);
  }

  tl::expected<void, CarFailure> note_what_is_left() {
    const auto corner = build_corner(car_, result_.setup, end_, side_);
    if (!corner) return tl::unexpected(corner.error());
    const Ground ground = corner_ground(car_, result_.setup, side_);
    const auto pose = pose_on_ground(*corner, ground, steer_);
    if (!pose) return tl::unexpected(failure_at(end_, side_, pose.error()));
    const WheelFigures w = read_wheel(*corner, *pose, ground);
    result_.left_over[at(end_)][at(side_)] = {w.camber_rad - target_.camber_rad, w.toe_rad - target_.toe_rad};
    return {};
  }

  const Car& car_;
  const ResetOptions& options_;
  End end_;
  Side side_;
  SteerInput steer_;
  WheelTarget target_;
  ResetResult& result_;
  std::vector<ResetStep> steps_;  ///< of this wheel's links
  bool turned_ = false;           ///< a link, in this round
};

/// Steering, mm of a ball, and angles this close to each other are those of one and the same wheel.
constexpr double same_input = 1e-12;

/// Both wheels of the axle are mirror images, and so is what they are brought back to.
bool sides_alike(const Car& car, const Setup& setup, const CarTargets& targets, const PerSide<SteerInput>& steer,
                 End end) {
  const auto& [left, right] = targets[at(end)];
  if (!(std::abs(left.camber_rad - right.camber_rad) < same_input &&
        std::abs(left.toe_rad - right.toe_rad) < same_input &&
        std::abs(left.caster_rad.value_or(0.0) - right.caster_rad.value_or(0.0)) < same_input))
    return false;
  // How fast the steering moves them, which differs, turns no link.
  if (!((steer[0].shift - steer[1].shift).norm() < same_input) || steer[0].axle_tilt != 0.0 ||
      steer[1].axle_tilt != 0.0)
    return false;
  for (const PartHandle part : car.adjusters.handles())
    if (car.adjusters[part].end == end && setup.of(part).left != setup.of(part).right) return false;
  return true;
}

/// `from`: the first of the axle's steps, all of them of the left wheel.
void repeat_on_the_right(const Car& car, End end, std::size_t from, ResetResult& result) {
  const std::size_t steps = result.steps.size();
  for (std::size_t i = from; i < steps; ++i) {
    ResetStep right = result.steps[i];
    right.side = Side::right;
    result.steps.push_back(right);
  }
  for (const LinkHandle l : car.axle(end).mechanism->links.handles())
    if (const PartHandle turned = car.turnbuckle_of(end, l))
      result.setup.of(turned).right = result.setup.of(turned).left;
  result.left_over[at(end)][at(Side::right)] = result.left_over[at(end)][at(Side::left)];
}

}  // namespace

bool can_hold(const Car& car, End end, LinkHolds what) {
  const MechanismSpec& spec = *car.axle(end).mechanism;
  if (!link_holds(spec, what)) return false;
  for (const LinkHandle l : spec.links.handles())
    if (spec.links[l].holds == what && !car.turnbuckle_of(end, l)) return false;
  return true;
}

bool can_hold_caster(const Car& car, End end) {
  const MechanismSpec& spec = *car.axle(end).mechanism;
  const auto uppers = std::count_if(spec.links.begin(), spec.links.end(),
                                    [](const LinkSpec& l) { return l.holds == LinkHolds::camber; });
  return spec.steered && uppers == 2 && can_hold(car, end, LinkHolds::camber);
}

CarTargets targets_of(const CarFigures& figures) {
  CarTargets targets;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const WheelFigures& w = figures.axle[at(end)].wheel[at(side)];
      targets[at(end)][at(side)] = {w.camber_rad, w.toe_rad,
                                    w.kingpin ? std::optional(w.kingpin->caster_rad) : std::nullopt};
    }
  return targets;
}

tl::expected<ResetResult, CarFailure> reset_alignment(const Car& car, const Setup& changed, const CarTargets& targets,
                                                      const ResetOptions& options) {
  const auto steer = centred(car, changed);
  if (!steer) return tl::unexpected(steer.error());
  ResetResult result;
  result.setup = changed;
  for (const End end : both_ends) {
    const std::size_t before = result.steps.size();
    const bool alike = sides_alike(car, changed, targets, (*steer)[at(end)], end);
    for (const Side side : both_sides) {
      if (side == Side::right && alike) {
        repeat_on_the_right(car, end, before, result);
        continue;
      }
      const auto done =
          CornerReset(car, options, end, side, (*steer)[at(end)][at(side)], targets[at(end)][at(side)], result).run();
      if (!done) return tl::unexpected(done.error());
    }
    if (options.hold_camber && !can_hold(car, end, LinkHolds::camber)) result.gaps.push_back({end, LinkHolds::camber});
    if (options.hold_toe && !can_hold(car, end, LinkHolds::toe)) result.gaps.push_back({end, LinkHolds::toe});
  }
  // Bench order within an axle: camber of both wheels, then toe.
  std::stable_sort(result.steps.begin(), result.steps.end(), [&](const ResetStep& a, const ResetStep& b) {
    const auto key = [&](const ResetStep& s) { return std::pair(car.adjusters[s.adjuster].end, s.holds); };
    return key(a) < key(b);
  });
  return result;
}

std::optional<double> sits_lower_by(const Car& car, const Setup& before, const Setup& after, End end) {
  constexpr PointHandle upper = attachment::shock_upper;
  constexpr PointHandle lower = attachment::shock_lower;
  const auto steer_before = centred(car, before);
  const auto steer_after = centred(car, after);
  if (!steer_before || !steer_after) return std::nullopt;
  double sum = 0.0;
  for (const Side side : both_sides) {
    const auto was = build_corner(car, before, end, side);
    const auto is = build_corner(car, after, end, side);
    if (!was || !is || !was->geometry.has(upper) || !was->geometry.has(lower)) return std::nullopt;
    const Ground ground = corner_ground(car, before, side);
    const auto stood = pose_on_ground(*was, ground, (*steer_before)[at(end)][at(side)]);
    if (!stood) return std::nullopt;
    // A longer eyelet moves both ends of the stroke and leaves the spring as it is between its seats.
    const double eyelet = is->geometry.size_of(Size::shock_compressed) - was->geometry.size_of(Size::shock_compressed);
    const double shock = distance_between(*was, *stood, upper, lower) + eyelet;
    const auto stands = pose_at_distance(*is, upper, lower, shock, (*steer_after)[at(end)][at(side)]);
    if (!stands) return std::nullopt;
    sum += ground.height(contact_point(is->tyre, stands->wheel_centre, stands->spin_axis, ground.up));
  }
  return 0.5 * sum;
}

}  // namespace lowkite
