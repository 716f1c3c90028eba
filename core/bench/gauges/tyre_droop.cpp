// Droop at the tyre: how far its lowest point hangs below the plate, or below a line on the block; plate on blocks.
#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

namespace {

/// What a reading is more than the tyre's lowest point under the plate.
double more_than_low(const BenchKit& bench) {
  return bench.slop_mm - (bench.droop_from == DroopFrom::plate ? 0.0 : bench.droop_blocks_mm - bench.droop_line_mm);
}

}  // namespace

double hanging_low_from(double reading_mm, const BenchKit& bench) {
  return reading_mm - more_than_low(bench);
}

const GaugeSpec tyre_droop{
    .id = "tyre_droop",
    .label = marked("droop at the tyre"),
    .unit = Unit::mm,
    .wording = Wording::plain,
    .decimals = 1,
    .resolution = 0.2,
    .per_wheel = true,
    .takes_over = TakesOver::parts,
    .means_something =
        [](const Car& car, End end) {
          // A pod hangs as low as its shock lets it.
          return car.axle(end).mechanism->independent ||
                 (car.axle(end).has(attachment::shock_upper) && car.axle(end).has(attachment::shock_lower) &&
                  laid_on::known(car, end, Size::shock_extended));
        },
    .read = [](const GaugeView& v) -> std::optional<double> {
      return v.source.travel.corner[at(v.gauge.end)][at(v.side)].stops.hanging_wheel_low_mm + more_than_low(v.bench);
    },
    .parts = laid_on::droop_parts};

}  // namespace lowkite::gauge
