#include "core/plan/bench_reset.hpp"

#include <algorithm>
#include <cmath>

#include "core/load/static_load.hpp"
#include "core/plan/wanted.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double same_droop_mm = 0.02;
constexpr double same_value = 1e-6;           ///< turns, or mm of spacers
constexpr double past_stop_mm = 0.05;         ///< another stop that acts this much earlier has taken the droop over
constexpr double near_as_typed_mm = 0.1;      ///< less than a gauge at the tyre tells
constexpr double spacers_may_leave_mm = 0.1;  // about what an eighth of a turn does
constexpr double worth_opening = 0.5;         ///< of what the droop is off by, what an opened shock may leave

Vec3 tip_per_turn(const Adjuster& screw) {
  for (const PointMove& m : screw.range()->moves_per_unit)
    if (m.point == attachment::droop_tip) return m.mm;
  return Vec3::Zero();
}

/// One wheel's droop, given back.
class DroopReset {
 public:
  DroopReset(const Car& car, const Variant& before, const Variant& after, const ResetOptions& options, End end,
             Side side, double wanted_mm)
      : car_(car),
        options_(options),
        end_(end),
        side_(side),
        was_(before.source.travel.corner[at(end)][at(side)].stops),
        is_(after.source.travel.corner[at(end)][at(side)].stops),
        corner_(after.model.corner(end, side)),
        wanted_mm_(wanted_mm) {
    const auto first = [&](StopKind kind) {
      const std::vector<PartHandle> parts = parts_of_stop(car, end, kind);
      return parts.empty() ? PartHandle() : parts.front();
    };
    screw_ = first(StopKind::droop_screw);
    limiter_ = first(StopKind::shock_extended);
    if (std::abs(wanted_mm_ - is_.hanging_wheel_low_mm) < same_droop_mm) return;
    const auto centred = steer(after.model, 0.0);
    if (!centred) return;
    off_ = true;
    // The wheel hangs over a board that stands as far under the plate as its tyre shall.
    const Ground board{Vec3::UnitZ(), wanted_mm_, Vec3::UnitX(), Vec3::UnitY()};
    if (corner_.spec->steered) input_ = centred->corner[at(side)];
    if (auto hanging = pose_on_ground(corner_, board, input_, is_.droop.arm_angle)) hanging_ = *hanging;
  }

  void run(BenchReset& result) const {
    if (!off_) return;
    const auto stops = [&](StopKind kind) { return was_.droop.kind == kind || is_.droop.kind == kind; };
    std::vector<DroopStep> steps;
    if (screw_ && stops(StopKind::droop_screw)) {
      by_screw(result.setup, steps);
    } else if (limiter_ && stops(StopKind::shock_extended)) {
      by_spacers(result.setup, steps);
    }
    for (const DroopStep& s : steps) {
      result.setup.of(s.adjuster).on(side_) = s.value;
      if (std::abs(s.by) > same_value || s.ends || s.other_stop) result.droop.push_back(s);
    }
  }

  [[nodiscard]] bool off() const { return off_; }
  /// Where the droop screw would stop the wheel as wanted; none: no screw does.
  [[nodiscard]] std::optional<double> screw_that_meets(const Setup& setup) const {
    if (!screw_ || !hanging_) return std::nullopt;
    const auto step = screw_to_the_pad(setup);
    return step ? std::optional(step->value) : std::nullopt;
  }
  [[nodiscard]] PartHandle screw() const { return screw_; }
  [[nodiscard]] PartHandle limiter() const { return limiter_; }

 private:
  [[nodiscard]] const Adjuster& part(PartHandle which) const { return car_.adjusters[which]; }
  [[nodiscard]] bool acts_before_wanted(const Stop& s) const {
    return s.from_ride_height_mm < is_.droop.from_ride_height_mm + wanted_mm_ - is_.hanging_wheel_low_mm - past_stop_mm;
  }
  [[nodiscard]] double tip_over_pad_mm() const {
    return point_in_chassis(corner_, *hanging_, attachment::droop_tip).z() - car_.axle(end_).droop_pad_z_mm;
  }
  /// How many mm of spacers more make the shock just as long as it is with the wheel hanging as wanted; none where it
  /// has no length of its own.
  [[nodiscard]] std::optional<double> spacers_exact() const {
    const CornerGeometry& g = corner_.geometry;
    const double longest = g.size_of(Size::shock_extended);
    const double per_mm = part(limiter_).range()->sizes_per_unit[0].by;
    if (!(longest > 0.0) || per_mm == 0.0) return std::nullopt;
    return (distance_between(corner_, *hanging_, attachment::shock_upper, attachment::shock_lower) - longest) / per_mm;
  }

  [[nodiscard]] std::optional<DroopStep> screw_to_the_pad(const Setup& setup) const {
    const Adjuster& screw = part(screw_);
    const Body body = corner_.spec->point_spec(attachment::droop_tip).body;
    const double per_turn = hanging_->placement(body).direction(tip_per_turn(screw)).z();
    if (std::abs(per_turn) < 1e-6) return std::nullopt;
    DroopStep step{screw_, side_, StopKind::droop_screw};
    step.exact = -tip_over_pad_mm() / per_turn;
    const double by =
        options_.step_turns > 0.0 ? std::round(step.exact / options_.step_turns) * options_.step_turns : step.exact;
    const double now = setup.of(screw_).on(side_);
    step.value = std::clamp(now + by, screw.least(), screw.most());
    step.ends = step.value != now + by;
    step.by = step.value - now;
    return step;
  }

  void by_screw(const Setup& setup, std::vector<DroopStep>& steps) const {
    if (!hanging_) {  // the linkage itself ends before
      DroopStep stuck{screw_, side_, StopKind::droop_screw};
      stuck.value = setup.of(screw_).on(side_);
      stuck.other_stop = true;
      steps.push_back(stuck);
      return;
    }
    auto turned = screw_to_the_pad(setup);
    if (!turned) return;
    for (const Stop& s : is_.all) {
      if (s.kind != StopKind::shock_extended && s.kind != StopKind::slide_low) continue;
      if (!acts_before_wanted(s)) continue;
      const auto out = s.kind == StopKind::shock_extended ? spacers_out(setup) : std::nullopt;
      if (out) steps.push_back(*out);
      // A screw that stops nothing is left where it is.
      if (out && out->ends) return;
      turned->other_stop = turned->other_stop || !out;
    }
    steps.push_back(*turned);
  }

  /// So many spacers less that the shock does not stop the wheel first, or all of them; none: it takes no spacers.
  [[nodiscard]] std::optional<DroopStep> spacers_out(const Setup& setup) const {
    if (!limiter_) return std::nullopt;
    const auto exact = spacers_exact();
    if (!exact) return std::nullopt;
    const double now = setup.of(limiter_).on(side_);
    DroopStep step{limiter_, side_, StopKind::shock_extended, *exact};
    step.value = part(limiter_).least();
    step.ends = step.value > now + *exact + same_value;
    for (const double stop : part(limiter_).range()->stops)
      if (stop <= now + *exact + same_value) step.value = stop;
    step.by = step.value - now;
    return step;
  }

  struct Hanging {
    double travel_mm = 0.0;
    double low_mm = 0.0;
  };
  [[nodiscard]] Hanging as(const CornerPose& pose) const {
    return {pose.wheel_centre.z() - corner_.design_wheel_z_mm,
            -contact_point(corner_.tyre, pose.wheel_centre, pose.spin_axis, Vec3::UnitZ()).z()};
  }
  /// How the wheel hangs with so many mm of spacers; none: then the shock does not stop it.
  [[nodiscard]] std::optional<Hanging> with_spacers(double now, double value) const {
    const double longest =
        corner_.geometry.size_of(Size::shock_extended) + part(limiter_).range()->sizes_per_unit[0].by * (value - now);
    const auto pose = pose_at_distance(corner_, attachment::shock_upper, attachment::shock_lower, longest, input_);
    return pose ? std::optional(as(*pose)) : std::nullopt;
  }
  /// How it would hang on what else stops it; none: on nothing else.
  [[nodiscard]] std::optional<Hanging> without_the_shock() const {
    std::optional<Hanging> first;
    for (const Stop& s : is_.all) {
      if (s.kind != StopKind::droop_screw && s.kind != StopKind::slide_low) continue;
      const auto pose = corner_.linkage->solve(s.arm_angle, input_);
      if (pose && (!first || s.travel_mm > first->travel_mm)) first = as(*pose);
    }
    return first;
  }

  struct Spacers {
    double value = 0.0;
    double low_mm = 0.0;
    bool shock_stops = true;
  };
  /// The spacers with which the wheel hangs nearest to what is wanted, the fewest changes among like ones; none: with
  /// none of them does the shock stop it. Every number of them is tried: near a shock's dead centre more spacers may
  /// even let the wheel down.
  [[nodiscard]] std::optional<Spacers> nearest_spacers(double now, const std::optional<Hanging>& other) const {
    std::optional<Spacers> best;
    for (const double value : part(limiter_).range()->stops) {
      const auto on_the_shock = with_spacers(now, value);
      if (!on_the_shock) continue;
      const bool shock_first = !other || on_the_shock->travel_mm >= other->travel_mm;
      const Spacers s{value, shock_first ? on_the_shock->low_mm : other->low_mm, shock_first};
      const double nearer = best ? std::abs(best->low_mm - wanted_mm_) - std::abs(s.low_mm - wanted_mm_) : 1.0;
      const bool as_near = std::abs(nearer) <= same_droop_mm;
      if (as_near ? std::abs(value - now) < std::abs(best->value - now) : nearer > 0.0) best = s;
    }
    return best;
  }

  void by_spacers(const Setup& setup, std::vector<DroopStep>& steps) const {
    const Adjuster& limiter = part(limiter_);
    const double now = setup.of(limiter_).on(side_);
    auto best = nearest_spacers(now, without_the_shock());
    // A screw that would stop the wheel first comes out as far as the droop that is wanted.
    const auto alone = nearest_spacers(now, std::nullopt);
    const auto left_by = [&](const std::optional<Spacers>& s) { return std::abs(s->low_mm - wanted_mm_); };
    std::optional<DroopStep> screw;
    if (best && alone && hanging_ && screw_ && left_by(alone) + same_droop_mm < left_by(best)) {
      screw = screw_to_the_pad(setup);
      if (screw && !screw->ends) {
        best = alone;
        // It is turned anyway, and finer than spacers are: where they leave something, it stops the wheel.
        const auto out = spacers_out(setup);
        if (out && !out->ends && left_by(alone) > spacers_may_leave_mm) best = Spacers{out->value, wanted_mm_, false};
      }
    }
    if (!best) return;
    DroopStep step{limiter_, side_, StopKind::shock_extended};
    step.value = best->value;
    step.exact = (hanging_ ? spacers_exact() : std::nullopt).value_or(step.value - now);
    // At their end they leave more than half of what one step is worth.
    const bool least = step.value == limiter.least();
    const double per_step = std::abs(limiter.stepped(step.value, least ? 1 : -1) - step.value);
    step.ends = best->shock_stops && std::abs(now + step.exact - step.value) > 0.5 * per_step &&
                ((least && best->low_mm < wanted_mm_) || (step.value == limiter.most() && best->low_mm > wanted_mm_));
    const bool worth = left_by(best) < worth_opening * std::abs(is_.hanging_wheel_low_mm - wanted_mm_);
    if (!step.ends && !worth) return;
    step.by = step.value - now;
    steps.push_back(step);
    if (screw && !screw->ends) steps.push_back(*screw);
  }

  const Car& car_;
  ResetOptions options_;
  End end_;
  Side side_;
  const CornerStops& was_;
  const CornerStops& is_;
  const CornerModel& corner_;
  double wanted_mm_;
  PartHandle screw_, limiter_;
  bool off_ = false;                   ///< it hangs otherwise than wanted
  SteerInput input_{};                 ///< steering in the middle
  std::optional<CornerPose> hanging_;  ///< as wanted; none: its linkage does not reach there
};

}  // namespace

BenchReset reset_on_bench(const Car& car, const Variant& before, const Variant& after, const ResetOptions& options) {
  BenchReset result;
  result.setup = after.setup;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      if (options.hold_droop)
        DroopReset(car, before, after, options, end, side, wanted_hanging(before, after.setup, end, side)).run(result);
      const auto was = collar_place(before.model, before.source.standing, end, side);
      const auto is = collar_place(after.model, after.source.standing, end, side);
      const auto spacer = [&](const Variant& v) {
        return v.model.corner(end, side).geometry.size_of(Size::spring_spacer);
      };
      if (was && is) result.collar_mm[at(end)][at(side)] = *is - *was - (spacer(after) - spacer(before));
    }
  const auto& was = before.source.travel.lock;
  const auto& is = after.source.travel.lock;
  if (was && is)
    result.end_point_rad =
        PerSide<double>{is->end_point_rad[0] - was->end_point_rad[0], is->end_point_rad[1] - was->end_point_rad[1]};
  return result;
}

tl::expected<Setup, CarFailure> put_back_exactly(const Car& car, const Variant& before, const Setup& changed,
                                                 const CarTargets& targets, const ResetOptions& options) {
  ResetOptions exact = options;
  exact.step_turns = 0.0;
  auto aligned = reset_where_it_sits(car, before, changed, targets, exact);
  if (!aligned) return tl::unexpected(aligned.error());
  if (!options.hold_droop) return std::move(aligned->setup);
  const auto after = evaluate_stand(car, aligned->setup);
  if (!after) return std::move(aligned->setup);
  BenchReset hung{aligned->setup, {}, {}, {}};
  for (const End end : both_ends)
    for (const Side side : both_sides)
      DroopReset(car, before, *after, exact, end, side, wanted_hanging(before, after->setup, end, side)).run(hung);
  return std::move(hung.setup);
}

Setup put_back_by_hand(const Car& car, const Setup& like, const Setup& changed) {
  const auto before = evaluate_stand(car, like);
  if (!before) return changed;
  Setup without = changed;
  std::vector<PartChange> for_droop;
  for (const PartHandle part : car.adjusters.handles()) {
    if (changed.values[part] == like.values[part] || !may_stop_droop(car, part)) continue;
    for_droop.push_back({part, like.values[part].left, changed.values[part].left});
    without.values[part] = like.values[part];
  }
  const Setup wished = changed_for_droop(car, like, without, for_droop);
  const auto aligned =
      reset_where_it_sits(car, *before, wished, wanted_targets(before->source.standing, like, wished), {});
  if (!aligned) return changed;
  const auto after = evaluate_stand(car, aligned->setup);
  return after ? reset_on_bench(car, *before, *after, {}).setup : aligned->setup;
}

std::optional<double> hanging_with_droop(const Variant& now, End end, Side side, double droop_mm) {
  const CornerModel& corner = now.model.corner(end, side);
  const auto centred = steer(now.model, 0.0);
  if (!centred) return std::nullopt;
  const CornerStops& stops = now.source.travel.corner[at(end)][at(side)].stops;
  const SteerInput input = corner.spec->steered ? centred->corner[at(side)] : SteerInput{};
  const auto pose = pose_at_travel(corner, stops.ride_travel_mm - droop_mm, input);
  if (!pose) return std::nullopt;
  return -contact_point(corner.tyre, pose->wheel_centre, pose->spin_axis, Vec3::UnitZ()).z();
}

bool can_set_droop(const Car& car, End end) {
  return !parts_of_stop(car, end, StopKind::droop_screw).empty() ||
         !parts_of_stop(car, end, StopKind::shock_extended).empty();
}

namespace {

struct Hung {
  Setup setup;
  double low_mm = 0.0;
};
/// One wheel's screw and spacers as near as they come to how low it shall hang, the least work among like ones (a
/// shock stays closed where the screw does it): every number of spacers is tried with the screw where it is, where it
/// meets that, and out. None: all that they reach lies to one side of it.
std::optional<Hung> nearest_hang(const Car& car, const Setup& setup, End end, Side side, double low_mm,
                                 const DroopReset& reset) {
  struct Try {
    Setup setup;
    double low_mm;
    double work;  ///< 1: the screw; 2 and a little for each mm: spacers
  };
  std::vector<Try> tries;
  const auto add = [&](const Setup& there, double work) {
    if (const auto stops = stops_of(car, there, end, side)) tries.push_back({there, stops->hanging_wheel_low_mm, work});
  };
  const auto with_screw = [&](const Setup& there, double work) {
    add(there, work);
    if (!reset.screw()) return;
    const double now = setup.of(reset.screw()).on(side);
    const Adjuster& screw = car.adjusters[reset.screw()];
    // The twists on either side of where it meets that, too: what lies between them is reached.
    const double meets = reset.screw_that_meets(setup).value_or(now), twist = ResetOptions{}.step_turns;
    for (const double value : {meets, std::clamp(meets - twist, screw.least(), screw.most()),
                               std::clamp(meets + twist, screw.least(), screw.most()), screw.least()}) {
      if (std::abs(value - now) < same_value) continue;
      Setup turned = there;
      turned.of(reset.screw()).on(side) = value;
      add(turned, work + 1.0);
    }
  };
  with_screw(setup, 0.0);
  if (reset.limiter())
    for (const double value : car.adjusters[reset.limiter()].values_besides(setup.of(reset.limiter()).on(side))) {
      constexpr double per_mm = 0.05;
      Setup opened = setup;
      opened.of(reset.limiter()).on(side) = value;
      with_screw(opened, 2.0 + per_mm * std::abs(value - setup.of(reset.limiter()).on(side)));
    }
  if (tries.empty()) return std::nullopt;
  const auto off = [&](const Try& t) { return std::abs(t.low_mm - low_mm); };
  const auto [lowest, highest] =
      std::minmax_element(tries.begin(), tries.end(), [](const Try& a, const Try& b) { return a.low_mm < b.low_mm; });
  const double best =
      off(*std::min_element(tries.begin(), tries.end(), [&](const Try& a, const Try& b) { return off(a) < off(b); }));
  const bool between = lowest->low_mm <= low_mm && low_mm <= highest->low_mm;
  if (!between && best > near_as_typed_mm) return std::nullopt;
  const Try* chosen = nullptr;
  for (const Try& t : tries) {
    if (off(t) > best + near_as_typed_mm) continue;
    if (!chosen || t.work < chosen->work || (t.work == chosen->work && off(t) < off(*chosen))) chosen = &t;
  }
  return Hung{chosen->setup, chosen->low_mm};
}

/// `low_of`: where the tyre shall hang, of a wheel as it is; none: its linkage does not reach there.
template <class LowOf>
tl::expected<Setup, CarFailure> hung(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                     const LowOf& low_of) {
  if (!can_set_droop(car, end)) return cannot(say("no screw and no spacer sets the {} droop", word(end)), end);
  const auto now = evaluate(car, setup, {}, coarse_curve);
  if (!now) return tl::unexpected(now.error());
  Setup hangs = setup;
  for (const Side side : both_sides) {
    if (!sides[at(side)]) continue;
    const std::optional<double> low = low_of(*now, side);
    if (!low)
      return cannot(say("the {axle} {side} wheel does not hang so low", "axle"_a = word(end), "side"_a = word(side)),
                    end, side);
    hangs.wanted[at(end)][at(side)].hanging_mm = low;
    const DroopReset reset(car, *now, *now, {}, end, side, *low);
    if (!reset.off()) continue;
    const auto nearest = nearest_hang(car, hangs, end, side, *low, reset);
    if (!nearest)
      return cannot(say("what stops the {axle} {side} wheel ends before that, or something else stops it",
                        "axle"_a = word(end), "side"_a = word(side)),
                    end, side);
    hangs = nearest->setup;
    // As near as it comes is what is wanted: there is nothing left to do.
    hangs.wanted[at(end)][at(side)].hanging_mm = nearest->low_mm;
  }
  return hangs;
}

}  // namespace

tl::expected<Setup, CarFailure> set_to_hang(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                            double low_mm) {
  return hung(car, setup, end, sides, [&](const Variant&, Side) { return std::optional(low_mm); });
}

tl::expected<Setup, CarFailure> set_to_droop(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                             double droop_mm) {
  return hung(car, setup, end, sides,
              [&](const Variant& now, Side side) { return hanging_with_droop(now, end, side, droop_mm); });
}

}  // namespace lowkite
