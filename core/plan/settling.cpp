#include "core/plan/settling.hpp"

#include <algorithm>
#include <cmath>

#include <Eigen/LU>

#include "core/load/static_load.hpp"

namespace lowkite {

namespace {

constexpr int most_settlings = 8;
constexpr double settled_mm = 1e-6;
/// Against what the springs say of it.
constexpr double longest_step = 3.0;

Eigen::Index row(End end) {
  return end == End::front ? 0 : 1;
}

/// A car that stands; what its travel is like is not asked.
struct Stands {
  const Setup& setup;
  const CarModel& model;
  const CarFigures& figures;
};
Stands as_it_stands(const Variant& v) {
  return {v.setup, v.model, v.source.standing};
}
struct Stood {
  Setup setup;
  CarModel model;
  CarFigures figures;
  operator Stands() const { return {setup, model, figures}; }
};

tl::expected<Stood, CarFailure> stand(const Car& car, const Setup& setup) {
  auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  auto figures = figures_at(*model, static_attitude(*model));
  if (!figures) return tl::unexpected(figures.error());
  return Stood{setup, std::move(*model), std::move(*figures)};
}

/// However far its stops would let it rise.
std::optional<double> sinks_on_its_springs(const Car& car, const Stands& before, const Stands& after, End end) {
  const auto by_springs = sinks_by(before.model, before.figures, after.model, after.figures, end);
  return by_springs ? by_springs : sits_lower_by(car, before.setup, after.setup, end);
}

/// However hard its springs press, an end rises no further than onto its droop stops: so much lower it then sits.
double lower_on_its_stops(const Car& car, const Setup& before, const Variant& after, End end) {
  double droop = 0.0;
  for (const CornerTravel& c : after.source.travel.corner[at(end)]) droop += 0.5 * c.stops.droop.from_ride_height_mm;
  // Heights are read at the gauge points; the other end stays.
  const double here = car.gauge_x_mm[at(end)];
  const double there = car.gauge_x_mm[1 - at(end)];
  const double axle = after.source.standing.axle[at(end)].wheel[0].wheel_centre.x();
  droop *= (here - there) / (axle - there);
  // Both may stand at heights of their own.
  const double higher = after.setup.ride_height_mm[at(end)] - before.ride_height_mm[at(end)];
  return -(droop + higher);
}

std::optional<double> sits_lower_by_springs(const Car& car, const Variant& before, const Variant& after, End end) {
  const auto by_springs = sinks_by(before.model, before.source.standing, after.model, after.source.standing, end);
  return by_springs ? std::max(*by_springs, lower_on_its_stops(car, before.setup, after, end))
                    : sits_lower_by(car, before.setup, after.setup, end);
}

Setup at_the_kits_heights(const Car& car, Setup parts) {
  parts.ride_height_mm = car.kit_ride_height_mm;
  return parts;
}

/// Where an end comes to stand whose springs stand on spacers: it follows from the parts alone, counted from the kit,
/// so that a part that is put back brings the height back, whatever was done in between.
std::optional<double> height_on_spacers(const Car& car, const Setup& setup, End end) {
  const Setup kit = kit_setup(car);
  if (setup.values == kit.values) return car.kit_ride_height_mm[at(end)];
  const auto as_kit = evaluate_stand(car, kit);
  const auto as_set = evaluate_stand(car, at_the_kits_heights(car, setup));
  if (!as_kit || !as_set) return std::nullopt;
  const auto lower = sits_lower_by_springs(car, *as_kit, *as_set, end);
  return lower ? std::optional(car.kit_ride_height_mm[at(end)] - *lower) : std::nullopt;
}

/// How much lower the ends sit that are asked for.
using Sinking = PerEnd<std::optional<double>>;

/// The same as sits_lower() where no end rises onto its droop stops, which takes most of its time to find.
class FreeSinking {
 public:
  FreeSinking(const Car& car, const Variant& baseline, PerEnd<bool> ends)
      : car_(car), ends_(ends), baseline_(as_it_stands(baseline)) {
    if (std::none_of(both_ends.begin(), both_ends.end(), [&](End end) { return ends_[at(end)] && on_spacers(end); }))
      return;
    if (auto kit = stand(car, kit_setup(car))) kit_ = std::move(*kit);
    if (kit_)
      if (const auto at_kit = stand(car, at_the_kits_heights(car, baseline.setup)))
        for (const End end : both_ends)
          if (ends_[at(end)] && on_spacers(end))
            lower_than_kit_[at(end)] = sinks_on_its_springs(car, *kit_, *at_kit, end);
  }

  [[nodiscard]] tl::expected<Sinking, CarFailure> operator()(const Setup& setup) {
    const auto stands = stand(car_, setup);
    if (!stands) return tl::unexpected(stands.error());
    Sinking lower;
    std::optional<Stood> at_kit;
    for (const End end : both_ends) {
      if (!ends_[at(end)]) continue;
      if (!on_spacers(end)) {
        lower[at(end)] = lower_on_collars(*stands, end);
        continue;
      }
      if (!kit_ || !lower_than_kit_[at(end)]) continue;
      if (!at_kit) {
        auto there = stand(car_, at_the_kits_heights(car_, setup));
        if (!there) continue;
        at_kit = std::move(*there);
      }
      if (const auto than_kit = sinks_on_its_springs(car_, *kit_, *at_kit, end))
        lower[at(end)] = *than_kit - *lower_than_kit_[at(end)];
    }
    return lower;
  }

 private:
  /// The first time it is found; from there on a step along what it told of the collars is as good where the car comes
  /// to rest, and a tenth of the time.
  std::optional<double> lower_on_collars(const Stood& now, End end) {
    const double lower_now = baseline_.setup.ride_height_mm[at(end)] - now.setup.ride_height_mm[at(end)];
    const auto moved = collars_moved(baseline_.model, baseline_.figures, now.model, now.figures, end);
    auto& per_mm = collars_per_mm_[at(end)];
    if (moved && per_mm) return lower_now + *moved / *per_mm;
    const auto lower = sinks_on_its_springs(car_, baseline_, now, end);
    if (moved && lower && std::abs(*lower - lower_now) > settled_mm) per_mm = *moved / (*lower - lower_now);
    return lower;
  }

  [[nodiscard]] bool on_spacers(End end) const { return spring_holder(car_, end) == SpringHolder::spacers; }

  const Car& car_;
  PerEnd<bool> ends_;
  Stands baseline_;
  std::optional<Stood> kit_;
  Sinking lower_than_kit_;                        ///< the baseline, at an end on spacers
  PerEnd<std::optional<double>> collars_per_mm_;  ///< that the end sits lower
};

struct Settled {
  ResetResult work;
  Sinking lower;  ///< as it then stands
};
/// Links put back and heights that follow from them, brought together. `how_low`: of a setup, by end.
template <class HowLow>
tl::expected<Settled, CarFailure> settled(const Car& car, const Setup& baseline, const Setup& changed,
                                          const CarTargets& targets, const ResetOptions& options, HowLow&& how_low) {
  auto work = reset_alignment(car, changed, targets, options);
  if (!work) return tl::unexpected(work.error());
  Setup sitting = changed;
  Sinking lower;
  Eigen::Matrix2d away = Eigen::Matrix2d::Identity();  // of what an end moves, what is then less to move, of both
  Eigen::Vector2d off_before = Eigen::Vector2d::Zero(), step = Eigen::Vector2d::Zero();
  for (int i = 0; i < most_settlings; ++i) {
    const tl::expected<Sinking, CarFailure> now = how_low(work->setup);
    if (!now) return tl::unexpected(now.error());
    lower = *now;
    Eigen::Vector2d off = Eigen::Vector2d::Zero();
    for (const End end : both_ends)
      if (const auto& low = lower[at(end)])
        off(row(end)) = baseline.ride_height_mm[at(end)] - *low - sitting.ride_height_mm[at(end)];
    if (off.lpNorm<Eigen::Infinity>() < settled_mm) break;
    // Broyden's method: an end that moves turns the links of its wheels, and leans on the other end.
    if (i > 0) away += (off_before - off - away * step) * step.transpose() / step.squaredNorm();
    step = away.partialPivLu().solve(off);
    if (!(step.norm() < longest_step * off.norm())) step = off;
    off_before = off;
    for (const End end : both_ends) sitting.ride_height_mm[at(end)] += step(row(end));
    work = reset_alignment(car, sitting, targets, options);
    if (!work) return tl::unexpected(work.error());
  }
  return Settled{std::move(*work), lower};
}

bool rises_onto_its_stops(const Car& car, const Variant& baseline, const Settled& found) {
  const auto stands = evaluate_stand(car, found.work.setup);
  return !stands || std::any_of(both_ends.begin(), both_ends.end(), [&](End end) {
    const auto& lower = found.lower[at(end)];
    if (spring_holder(car, end) != SpringHolder::spacers)
      return lower && *lower < lower_on_its_stops(car, baseline.setup, *stands, end);
    const auto really = sits_lower(car, baseline, *stands, end);
    return lower && (!really || std::abs(*really - *lower) > settled_mm);
  });
}

}  // namespace

std::optional<double> sits_lower(const Car& car, const Variant& before, const Variant& after, End end) {
  if (spring_holder(car, end) != SpringHolder::spacers) return sits_lower_by_springs(car, before, after, end);
  if (before.setup.values == after.setup.values) return 0.0;
  const auto was = height_on_spacers(car, before.setup, end);
  const auto is = height_on_spacers(car, after.setup, end);
  return was && is ? std::optional(*was - *is) : std::nullopt;
}

bool settles(const Car& car, End end, const ResetOptions& options) {
  return !options.hold_ride_height || spring_holder(car, end) == SpringHolder::spacers;
}

bool settles_anywhere(const Car& car, const ResetOptions& options) {
  return settles(car, End::front, options) || settles(car, End::rear, options);
}

tl::expected<ResetResult, CarFailure> reset_where_it_sits(const Car& car, const Variant& baseline, const Setup& changed,
                                                          const CarTargets& targets, const ResetOptions& options) {
  PerEnd<bool> moves{};
  for (const End end : both_ends)
    moves[at(end)] =
        settles(car, end, options) && changed.ride_height_mm[at(end)] == baseline.setup.ride_height_mm[at(end)];
  if (!moves[at(End::front)] && !moves[at(End::rear)]) return reset_alignment(car, changed, targets, options);
  const auto onto_its_stops = [&](const Setup& setup) -> tl::expected<Sinking, CarFailure> {
    const auto stands = evaluate_stand(car, setup);
    if (!stands) return tl::unexpected(stands.error());
    Sinking lower;
    for (const End end : both_ends)
      if (moves[at(end)]) lower[at(end)] = sits_lower(car, baseline, *stands, end);
    return lower;
  };
  const auto work_of = [](Settled found) { return std::move(found.work); };
  auto freely = settled(car, baseline.setup, changed, targets, options, FreeSinking(car, baseline, moves));
  if (freely && !rises_onto_its_stops(car, baseline, *freely)) return std::move(freely).map(work_of);
  return settled(car, baseline.setup, changed, targets, options, onto_its_stops).map(work_of);
}

Setup with_heights_of_parts(const Car& car, const Setup& baseline, const Setup& before, Setup after) {
  for (const End end : both_ends) {
    const double height = before.ride_height_mm[at(end)];
    if (spring_holder(car, end) != SpringHolder::spacers || height == baseline.ride_height_mm[at(end)] ||
        height != after.ride_height_mm[at(end)] || before.values == after.values)
      continue;
    const auto was = height_on_spacers(car, before, end);
    const auto is = height_on_spacers(car, after, end);
    if (was && is) after.ride_height_mm[at(end)] = height + *is - *was;
  }
  return after;
}

}  // namespace lowkite
