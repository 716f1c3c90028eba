// Anti-roll bar: how high one arm is lifted until the other starts to move; shocks off, plate on blocks.
#include "core/bench/gauges/laid_on.hpp"
#include "core/load/bar.hpp"

namespace lowkite::gauge {

const GaugeSpec bar_lift{
    .id = "bar_lift",
    .label = "bar lift, under the arm",
    .unit = Unit::mm,
    .wording = Wording::plain,
    .decimals = 1,
    .resolution = 0.1,
    .per_wheel = true,
    .parts_of_a_turn = 4,
    .needs = GaugeNeeds::both_stops,
    .takes_over = TakesOver::parts,
    .means_something =
        [](const Car& car, End end) {
          return car.axle(end).bar && laid_on::has(car, end, attachment::bar_arm) &&
                 laid_on::has(car, end, attachment::bar_end) && laid_on::has(car, end, attachment::arm_gauge);
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
          std::vector<int> parts;
          for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
            const Range* r = car.adjusters[i].range();
            if (r && car.adjusters[i].end == g.end && r->sizes_per_unit.size() == 1 &&
                r->sizes_per_unit[0].size == Size::bar_link)
              parts.push_back(static_cast<int>(i));
          }
          return parts;
        }};

}  // namespace lowkite::gauge
