#include "core/bench/gauges.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>
#include <boost/math/tools/toms748_solve.hpp>

#include "core/bench/gauges/laid_on.hpp"

namespace lowkite {
namespace {

// The one list, in bench order. Resolutions in their files: what the usual gauges of each kind are marked in (common
// practice, no source).
constexpr std::array kinds_in_order{
    &gauge::ride_height,  &gauge::shock_length, &gauge::shock_pulled_out, &gauge::shaft_exposed, &gauge::collar,
    &gauge::down_stop,    &gauge::tyre_droop,   &gauge::shock_droop,      &gauge::link_length,   &gauge::camber,
    &gauge::toe,          &gauge::lock_hanging, &gauge::lock_level,       &gauge::lock_pressed,  &gauge::lock_inside,
    &gauge::lock_outside, &gauge::bar_lift,     &gauge::corner_scale,     &gauge::pull_down};

/// The setup with some adjusters of one side moved by the same amount.
Setup moved_by(const Setup& setup, const std::vector<int>& parts, Side side, double change) {
  Setup moved = setup;
  for (const int p : parts) moved.at_index(p).on(side) += change;
  return moved;
}

/// Reads a gauge without what it does not need.
tl::expected<double, CornerFailure> read_alone(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                               const BenchKit& bench) {
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const Attitude standing = static_attitude(*model);
  const auto pose = pose_car(*model, standing);
  if (!pose) return tl::unexpected(pose.error());
  FigureSource source;
  source.standing = read_car(*model, *pose, standing);
  const auto centred = steer(*model, 0.0);
  const GaugeNeeds needs = gauge.spec().needs;
  PerSide<CornerTravel>& corners = source.travel.corner[at(gauge.end)];
  for (const Side s : both_sides) {
    if (s != side && needs == GaugeNeeds::standing) continue;
    const SteerInput of_side =
        model->corner(gauge.end, s).spec->steered && centred ? centred->corner[at(s)] : SteerInput{};
    corners[at(s)].stops = find_stops(*model, gauge.end, s, pose->axle[at(gauge.end)].corner[at(s)], of_side);
  }
  if (needs == GaugeNeeds::lock && model->steering)
    source.travel.lock =
        find_lock(*model, pose->axle[at(End::front)], {corners[0].stops, corners[1].stops}, lock_samples);
  return reading(gauge, *model, source, bench, side).value_or(0.0);
}

}  // namespace

namespace laid_on {

std::vector<int> turnbuckles_holding(const Car& car, End end, LinkHolds what) {
  std::vector<int> parts;
  const auto& links = car.axle(end).mechanism->links;
  for (std::size_t i = 0; i < links.size(); ++i)
    if (links[i].holds == what)
      if (const int t = car.turnbuckle_of(end, static_cast<int>(i)); t >= 0) parts.push_back(t);
  return parts;
}

std::vector<int> droop_parts(const Car& car, const Gauge& gauge, StopKind droop) {
  std::vector<int> parts;
  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    const Adjuster& a = car.adjusters[i];
    const Range* r = a.range();
    if (a.end != gauge.end || a.steering || !r) continue;
    const bool screw = std::any_of(r->moves_per_unit.begin(), r->moves_per_unit.end(),
                                   [](const PointMove& m) { return m.point == attachment::droop_tip; });
    const bool limiter = r->sizes_per_unit.size() == 1 && r->sizes_per_unit[0].size == Size::shock_extended;
    if ((droop == StopKind::droop_screw && screw) || (droop == StopKind::shock_extended && limiter))
      parts.push_back(static_cast<int>(i));
  }
  return parts;
}

}  // namespace laid_on

std::string_view name_of(Caliper caliper) {
  switch (caliper) {
    case Caliper::between:
      return "between the cups";
    case Caliper::over:
      return "over the cups";
    case Caliper::centres:
      return "ball centre to ball centre";
  }
  return {};
}

double caliper_reading(double centres_mm, const BenchKit& bench) {
  switch (bench.caliper) {
    case Caliper::between:
      return centres_mm - bench.cup_mm;
    case Caliper::over:
      return centres_mm + bench.cup_mm;
    case Caliper::centres:
      return centres_mm;
  }
  return centres_mm;
}

double centres_from_caliper(double reading_mm, const BenchKit& bench) {
  return reading_mm - (caliper_reading(0.0, bench));
}

std::span<const GaugeKind> gauge_kinds() {
  return kinds_in_order;
}

std::vector<Gauge> gauges_of(const Car& car) {
  std::vector<Gauge> all;
  for (const End end : both_ends)
    for (const GaugeKind kind : kinds_in_order) {
      if (kind->each_link) {
        const auto& links = car.axle(end).mechanism->links;
        for (std::size_t i = 0; i < links.size(); ++i)
          if (links[i].pin == no_point && car.turnbuckle_of(end, static_cast<int>(i)) >= 0)
            all.push_back({kind, end, static_cast<int>(i), fmt::format("{}, {}", kind->label, links[i].label)});
      } else if (kind->means_something(car, end)) {
        all.push_back({kind, end, no_point, std::string(kind->label)});
      }
    }
  return all;
}

std::optional<double> reading(const Gauge& g, const CarModel& model, const FigureSource& source, const BenchKit& bench,
                              Side side) {
  return g.spec().read({g, model, source, bench, side});
}

tl::expected<GaugeAnswer, CornerFailure> answer(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                                double read, const BenchKit& bench) {
  const auto target = read_alone(car, setup, gauge, side, bench);
  if (!target) return tl::unexpected(target.error());
  GaugeAnswer a;
  a.target = *target;
  a.difference = read - *target;
  if (std::abs(a.difference) <= gauge.spec().resolution) {
    a.verdict = GaugeAnswer::Verdict::as_it_should;
    return a;
  }
  if (gauge.spec().answer) {
    if (auto done = gauge.spec().answer(car, setup, gauge, side, a); !done) return tl::unexpected(done.error());
    return a;
  }
  if (!gauge.spec().parts) return a;
  const auto model = build_model(car, setup);
  if (!model) return tl::unexpected(model.error());
  const auto pose = pose_car(*model, static_attitude(*model));
  if (!pose) return tl::unexpected(pose.error());
  const StopKind droop = find_stops(*model, gauge.end, side, pose->axle[at(gauge.end)].corner[at(side)], {}).droop.kind;
  a.adjusters = gauge.spec().parts(car, gauge, droop);
  if (a.adjusters.empty()) return a;
  // Where must the part stand to give this reading? Bracket outward from the setup's place, then close in.
  const auto off = [&](double change) -> double {
    const auto r = read_alone(car, moved_by(setup, a.adjusters, side, change), gauge, side, bench);
    return r ? *r - read : std::nan("");
  };
  constexpr double farthest = 40.0;  // turns or mm: beyond any thread
  const double at_setup = *target - read;
  for (double step = 0.25; step <= farthest; step *= 2.0)
    for (const double change : {step, -step}) {
      const double there = off(change);
      if (std::isnan(there) || there * at_setup > 0.0) continue;
      std::uintmax_t rounds = 60;
      const auto settled = boost::math::tools::eps_tolerance<double>(40);
      const auto bracket = change > 0.0
                               ? boost::math::tools::toms748_solve(off, 0.0, change, at_setup, there, settled, rounds)
                               : boost::math::tools::toms748_solve(off, change, 0.0, there, at_setup, settled, rounds);
      a.verdict = GaugeAnswer::Verdict::turn;
      a.change = -0.5 * (bracket.first + bracket.second);
      return a;
    }
  a.verdict = GaugeAnswer::Verdict::out_of_reach;
  return a;
}

}  // namespace lowkite
