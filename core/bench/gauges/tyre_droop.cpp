// Droop at the tyre: how far its lowest point hangs below the plate, or below a line on the block; plate on blocks.
#include "core/bench/gauges/laid_on.hpp"

namespace lowkite::gauge {

const GaugeSpec tyre_droop{
    .id = "tyre_droop",
    .label = "droop at the tyre",
    .unit = Unit::mm,
    .wording = Wording::plain,
    .decimals = 1,
    .resolution = 0.2,
    .per_wheel = true,
    .takes_over = TakesOver::parts,
    .means_something = [](const Car& car, End end) { return car.axle(end).mechanism->independent; },
    .read = [](const GaugeView& v) -> std::optional<double> {
      const double low =
          v.source.travel.corner[at(v.gauge.end)][at(v.side)].stops.hanging_wheel_low_mm + v.bench.slop_mm;
      return v.bench.droop_from == DroopFrom::plate ? low : low - (v.bench.droop_blocks_mm - v.bench.droop_line_mm);
    },
    .parts = laid_on::droop_parts};

}  // namespace lowkite::gauge
