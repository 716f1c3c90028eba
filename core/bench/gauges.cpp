#include "core/bench/gauges.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>
#include <boost/math/tools/toms748_solve.hpp>

#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

// The one list, in bench order. Resolutions in their files: what the usual gauges of each kind are marked in (common
// practice, no source).
constexpr std::array kinds_in_order{
    &gauge::ride_height,  &gauge::shock_length, &gauge::shock_pulled_out, &gauge::shaft_exposed, &gauge::stroke_left,
    &gauge::collar,       &gauge::down_stop,    &gauge::tyre_droop,       &gauge::shock_droop,   &gauge::link_length,
    &gauge::camber,       &gauge::toe,          &gauge::toe_pressed,      &gauge::lock_hanging,  &gauge::lock_level,
    &gauge::lock_pressed, &gauge::lock_inside,  &gauge::lock_outside,     &gauge::bar_lift,      &gauge::corner_scale,
    &gauge::pull_down};
constexpr std::array play_in_order{&gauge::wheel_play, &gauge::end_float, &gauge::axle_float, &gauge::post_play};

/// The setup with some adjusters of one side moved by the same amount.
Setup moved_by(const Setup& setup, const std::vector<PartHandle>& parts, Side side, double change) {
  Setup moved = setup;
  for (const PartHandle p : parts) moved.of(p).on(side) += change;
  return moved;
}

}  // namespace

namespace laid_on {

std::vector<PartHandle> droop_parts(const Car& car, const Gauge& gauge, StopKind droop) {
  return parts_of_stop(car, gauge.end, droop);
}

}  // namespace laid_on

std::string_view name_of(Caliper caliper) {
  switch (caliper) {
    case Caliper::between:
      return marked("between the cups");
    case Caliper::over:
      return marked("over the cups");
    case Caliper::centres:
      return marked("ball centre to ball centre");
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
        for (const LinkHandle l : links.handles())
          if (!links[l].pin && car.turnbuckle_of(end, l))
            all.push_back({kind, end, l, fmt::format("{}, {}", word(kind->label), word(links[l].label))});
      } else if (kind->means_something(car, end)) {
        all.push_back({kind, end, {}, std::string(kind->label)});
      }
    }
  return all;
}

std::vector<Gauge> play_of(const Car& car) {
  std::vector<Gauge> all;
  for (const End end : both_ends)
    for (const GaugeKind kind : play_in_order)
      if (kind->means_something(car, end)) all.push_back({kind, end, {}, std::string(kind->label)});
  return all;
}

std::optional<double> reading(const Gauge& g, const CarModel& model, const FigureSource& source, const BenchKit& bench,
                              Side side) {
  return g.spec().read({g, model, source, bench, side});
}

tl::expected<double, CarFailure> read_gauge(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
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
  if (const auto reads = reading(gauge, *model, source, bench, side)) return *reads;
  return cannot(say("{axle} {side}: the {gauge} reads nothing on this setup", "axle"_a = word(gauge.end),
                    "side"_a = word(side), "gauge"_a = word(gauge.spec().label)),
                gauge.end, side);
}

double in_steps(double change, double step) {
  constexpr double hardly_nearer = 0.65;  // of a step; at a half it is as far off afterwards
  return std::abs(change) < hardly_nearer * step ? 0.0 : std::round(change / step) * step;
}

bool reads_each_side(const Gauge& gauge, const BenchKit& bench) {
  return gauge.spec().per_wheel || (gauge.kind == &gauge::ride_height && bench.ride_points_apart_mm > 0.0);
}

std::vector<PartHandle> parts_answering(const Car& car, const Setup& setup, const Gauge& gauge, Side side) {
  if (!gauge.spec().parts) return {};
  const auto model = build_model(car, setup);
  const auto pose = model ? pose_car(*model, static_attitude(*model))
                          : tl::expected<CarPose, CarFailure>(tl::unexpect, model.error());
  if (!pose) return {};
  const StopKind droop = find_stops(*model, gauge.end, side, pose->axle[at(gauge.end)].corner[at(side)], {}).droop.kind;
  return gauge.spec().parts(car, gauge, droop);
}

namespace {

/// Where must the parts stand to read this? Bracket outward from the setup's place, then close in.
std::optional<double> place_of_reading(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                       const std::vector<PartHandle>& parts, double read, const BenchKit& bench) {
  const auto off = [&](double change) -> double {
    const auto r = read_gauge(car, moved_by(setup, parts, side, change), gauge, side, bench);
    return r ? *r - read : std::nan("");
  };
  constexpr double farthest = 40.0;  // turns or mm: beyond any thread
  const double at_setup = off(0.0);
  if (std::isnan(at_setup)) return std::nullopt;
  if (at_setup == 0.0) return 0.0;
  // Each way for itself: where it can no longer be read, or no longer moves, nothing further is found.
  PerSide<double> inside{};
  PerSide<double> inside_off{at_setup, at_setup};
  PerSide<bool> goes_on{true, true};
  for (double step = 0.25; step <= farthest; step *= 2.0)
    for (const std::size_t way : {0u, 1u}) {
      if (!goes_on[way]) continue;
      const double change = way == 0 ? step : -step;
      const double there = off(change);
      goes_on[way] = !std::isnan(there);
      if (std::isnan(there)) continue;
      if (there * at_setup > 0.0) {
        inside[way] = change;
        inside_off[way] = there;
        continue;
      }
      const double a = inside[way];
      std::uintmax_t rounds = 60;
      const auto settled = boost::math::tools::eps_tolerance<double>(40);
      const auto bracket =
          a < change ? boost::math::tools::toms748_solve(off, a, change, inside_off[way], there, settled, rounds)
                     : boost::math::tools::toms748_solve(off, change, a, there, inside_off[way], settled, rounds);
      return 0.5 * (bracket.first + bracket.second);
    }
  return std::nullopt;
}

/// Puts `told` and `thread_ends`, in what a hand can do from where the part is taken to stand now.
void tell_in_steps(const Car& car, const Setup& setup, Side side, double stands_off, int parts_of_a_turn,
                   GaugeAnswer& a) {
  const Adjuster& first = car.adjusters[a.adjusters.front()];
  if (first.threaded()) {
    const double step = 1.0 / parts_of_a_turn;
    a.told = in_steps(a.change, step);
    for (const PartHandle part : a.adjusters) {
      const Adjuster& adjuster = car.adjusters[part];
      const double now = setup.of(part).on(side) + stands_off;
      const double can = std::clamp(now + a.told, adjuster.least(), adjuster.most()) - now;
      if (std::abs(can - a.told) < step) continue;
      a.thread_ends = true;
      a.told = std::trunc(can / step) * step;
    }
  } else {
    const double now = first.nearest_stop(setup.of(a.adjusters.front()).on(side) + stands_off);
    const double wanted = now + a.change;
    a.told = first.nearest_stop(wanted) - now;
    a.thread_ends = wanted < first.least() - 1e-9 || wanted > first.most() + 1e-9;
  }
  const bool nothing = std::abs(a.told) < 1e-9;
  a.verdict = nothing && a.thread_ends ? GaugeAnswer::Verdict::out_of_reach
              : nothing                ? GaugeAnswer::Verdict::closest
                                       : GaugeAnswer::Verdict::turn;
}

}  // namespace

std::optional<double> parts_off_by(const Car& car, const Setup& setup, const Gauge& gauge, Side side, double read,
                                   const BenchKit& bench) {
  const std::vector<PartHandle> parts = parts_answering(car, setup, gauge, side);
  if (parts.empty()) return std::nullopt;
  return place_of_reading(car, setup, gauge, side, parts, read, bench);
}

tl::expected<GaugeAnswer, CarFailure> answer_towards(const Car& car, const Setup& standing, double target,
                                                     const Gauge& gauge, Side side, double read, const BenchKit& bench,
                                                     double within) {
  using Verdict = GaugeAnswer::Verdict;
  GaugeAnswer a;
  a.target = target;
  a.difference = read - target;
  if (std::abs(a.difference) <= within) {
    a.verdict = Verdict::as_it_should;
    return a;
  }
  if (gauge.spec().answer) {
    if (auto done = gauge.spec().answer(car, standing, gauge, side, a); !done) return tl::unexpected(done.error());
    return a;
  }
  if (gauge.spec().pair_off_by) {
    a.verdict = Verdict::other_side;
    return a;
  }
  a.adjusters = parts_answering(car, standing, gauge, side);
  if (a.adjusters.empty()) return a;
  const auto place = [&](double reads) {
    return place_of_reading(car, standing, gauge, side, a.adjusters, reads, bench);
  };
  constexpr double slack = 0.5;  // a thread's middle is known to about half a turn
  const auto on_the_part = [&](double off) {
    return std::all_of(a.adjusters.begin(), a.adjusters.end(), [&](PartHandle part) {
      const Adjuster& adjuster = car.adjusters[part];
      const double value = standing.of(part).on(side) + off;
      const double spare = adjuster.threaded() ? slack : gauge.spec().resolution;
      return value > adjuster.least() - spare && value < adjuster.most() + spare;
    });
  };
  // Something else ends the travel before the screw does: it may stand anywhere beyond that.
  if (gauge.spec().parts == laid_on::droop_parts && place(target)) {
    constexpr double far_out = 8.0;  // turns
    const auto out = read_gauge(car, moved_by(standing, a.adjusters, side, -far_out), gauge, side, bench);
    const auto further = read_gauge(car, moved_by(standing, a.adjusters, side, -1.5 * far_out), gauge, side, bench);
    if (out && further && std::abs(*out - *further) < 1e-6 && std::abs(*out - read) <= gauge.spec().resolution) {
      a.verdict = Verdict::until_it_moves;
      a.change = a.told = 1.0;
      return a;
    }
  }
  const auto stands = place(read);
  const auto wanted = place(target);
  if (!stands || !wanted || !on_the_part(*stands)) {
    a.verdict = Verdict::out_of_reach;
    return a;
  }
  a.change = *wanted - *stands;
  tell_in_steps(car, standing, side, *stands, gauge.spec().parts_of_a_turn, a);
  return a;
}

tl::expected<PerSide<GaugeAnswer>, CarFailure> answer_pair(const Car& car, const Setup& standing,
                                                           const PerSide<double>& target, const Gauge& gauge,
                                                           const PerSide<double>& read, const BenchKit& bench) {
  using Verdict = GaugeAnswer::Verdict;
  PerSide<GaugeAnswer> both;
  bool even = true;
  for (const Side side : both_sides) {
    GaugeAnswer& a = both[at(side)];
    a.target = target[at(side)];
    a.difference = read[at(side)] - a.target;
    a.adjusters = parts_answering(car, standing, gauge, side);
    even = even && std::abs(a.difference) <= gauge.spec().resolution;
  }
  const auto tell = [&](Verdict verdict) {
    for (GaugeAnswer& a : both) a.verdict = verdict;
    return both;
  };
  if (even) return tell(Verdict::as_it_should);
  if (both[0].adjusters.size() != 1 || both[1].adjusters != both[0].adjusters) return tell(Verdict::no_part);
  const Adjuster& part = car.adjusters[both[0].adjusters.front()];
  const Setting& now = standing.of(both[0].adjusters.front());
  const auto stands = gauge.spec().pair_off_by(car, standing, gauge, read, bench);
  const auto wanted = gauge.spec().pair_off_by(car, standing, gauge, target, bench);
  if (!stands || !wanted) return tell(Verdict::out_of_reach);
  // Only how far the two stand apart is known: each is taken to be as far from where it was believed as the other.
  const PerSide<double> at_now{now.left + *stands, now.right - *stands};
  const double slack = 0.5 + 0.5 * std::abs(*stands);
  for (const double value : at_now)
    if (value < part.least() - slack || value > part.most() + slack) return tell(Verdict::out_of_reach);
  const double step = 1.0 / gauge.spec().parts_of_a_turn;
  const double change = *wanted - *stands;
  const double steps = std::round(in_steps(2.0 * change, step) / step);
  PerSide<double> told{std::ceil(std::abs(steps) / 2.0), std::floor(std::abs(steps) / 2.0)};
  for (double& t : told) t = std::copysign(t * step, steps);
  told[1] = -told[1];
  // What one side's thread no longer gives, the other side turns.
  for (const Side side : both_sides) {
    const std::size_t i = at(side);
    const double value = std::clamp(at_now[i], part.least(), part.most());
    const double can = std::trunc((std::clamp(value + told[i], part.least(), part.most()) - value) / step) * step;
    told[1 - i] -= told[i] - can;
    told[i] = can;
  }
  for (const Side side : both_sides) {
    GaugeAnswer& a = both[at(side)];
    a.change = side == Side::left ? change : -change;
    a.told = told[at(side)];
    a.verdict = steps == 0.0 ? Verdict::closest : a.told == 0.0 ? Verdict::as_it_should : Verdict::turn;
  }
  return both;
}

tl::expected<GaugeAnswer, CarFailure> answer(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                             double read, const BenchKit& bench) {
  const auto target = read_gauge(car, setup, gauge, side, bench);
  if (!target) return tl::unexpected(target.error());
  return answer_towards(car, setup, *target, gauge, side, read, bench, gauge.spec().resolution);
}

}  // namespace lowkite
