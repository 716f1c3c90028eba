// Anti-roll bar: how high one arm is lifted until the other starts to move; shocks off, plate on blocks.
#include <cmath>

#include <boost/math/tools/toms748_solve.hpp>

#include "core/bench/gauges/laid_on.hpp"
#include "core/load/bar.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

namespace {

/// A lifted arm's reading follows from how far the two links differ and from their play: the links alone decide how far
/// the readings are apart, the play how high both are.
std::optional<double> apart(const Car& car, const Setup& setup, const Gauge& g, const PerSide<double>& read,
                            const BenchKit& bench) {
  constexpr double farthest = 8.0;     // turns, each way
  constexpr double loosest_mm = 1.5;   // of play that lets both lift later than told
  constexpr double tightest_mm = 0.3;  // that both may lift earlier: less than no play cannot be
  const std::vector<PartHandle> parts = parts_answering(car, setup, g, Side::left);
  if (parts.empty()) return std::nullopt;
  const auto both = [&](double turns) -> std::optional<PerSide<double>> {
    Setup moved = setup;
    for (const PartHandle p : parts) {
      moved.of(p).left += turns;
      moved.of(p).right -= turns;
    }
    const auto left = read_gauge(car, moved, g, Side::left, bench);
    const auto right = read_gauge(car, moved, g, Side::right, bench);
    if (!left || !right) return std::nullopt;
    return PerSide<double>{*left, *right};
  };
  const double wanted = read[0] - read[1];
  const auto off = [&](double turns) {
    const auto r = both(turns);
    return r ? (*r)[0] - (*r)[1] - wanted : std::nan("");
  };
  const double here = off(0.0);
  double found = 0.0;
  if (here != 0.0) {
    std::optional<double> crossed;
    double there = 0.0;
    for (double step = 0.25; step <= farthest && !crossed; step *= 2.0)
      for (const double turns : {step, -step}) {
        there = off(turns);
        if (!(there * here <= 0.0)) continue;
        crossed = turns;
        break;
      }
    if (!crossed) return std::nullopt;
    std::uintmax_t rounds = 60;
    const auto settled = boost::math::tools::eps_tolerance<double>(40);
    const auto bracket = *crossed > 0.0
                             ? boost::math::tools::toms748_solve(off, 0.0, *crossed, here, there, settled, rounds)
                             : boost::math::tools::toms748_solve(off, *crossed, 0.0, there, here, settled, rounds);
    found = 0.5 * (bracket.first + bracket.second);
  }
  const auto told = both(found);
  if (!told) return std::nullopt;
  const double later = 0.5 * (read[0] + read[1] - (*told)[0] - (*told)[1]);
  return later < -tightest_mm || later > loosest_mm ? std::nullopt : std::optional(found);
}

}  // namespace

const GaugeSpec bar_lift{
    .id = "bar_lift",
    .label = marked("bar lift, under the arm"),
    .unit = Unit::mm,
    .wording = Wording::plain,
    .decimals = 1,
    .resolution = 0.1,
    .per_wheel = true,
    .parts_of_a_turn = 4,
    .needs = GaugeNeeds::both_stops,
    .takes_over = TakesOver::pair,
    .means_something =
        [](const Car& car, End end) {
          return car.axle(end).bar && car.axle(end).has(attachment::bar_arm) &&
                 car.axle(end).has(attachment::bar_end) && car.axle(end).has(attachment::arm_gauge);
        },
    .read = [](const GaugeView& v) -> std::optional<double> {
      const PerSide<CornerTravel>& corner = v.source.travel.corner[at(v.gauge.end)];
      const Side other = v.side == Side::left ? Side::right : Side::left;
      const auto lifted = lift_until_other_moves(v.model, v.gauge.end, v.side, corner[at(v.side)].stops.droop.arm_angle,
                                                 corner[at(other)].stops.droop.arm_angle);
      const auto steered = steer(v.model, 0.0);
      const CornerModel& of = v.model.corner(v.gauge.end, v.side);
      if (!lifted || !steered) return std::nullopt;
      const auto pose = of.linkage->solve(*lifted, of.spec->steered ? steered->corner[at(v.side)] : SteerInput{});
      if (!pose) return std::nullopt;
      return v.bench.down_stop_blocks_mm + point_in_chassis(of, *pose, attachment::arm_gauge).z();
    },
    .parts =
        [](const Car& car, const Gauge& g, StopKind) {
          std::vector<PartHandle> parts;
          for (const PartHandle i : car.adjusters.handles()) {
            const Range* r = car.adjusters[i].range();
            if (r && car.adjusters[i].end == g.end && r->sizes_per_unit.size() == 1 &&
                r->sizes_per_unit[0].size == Size::bar_link)
              parts.push_back(i);
          }
          return parts;
        },
    .pair_off_by = apart};

}  // namespace lowkite::gauge
