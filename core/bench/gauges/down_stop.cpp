// Down-stop gauge: underside of the arm above the bench, plate on blocks, wheels off.
#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec down_stop{.id = "down_stop",
                          .label = marked("down-stop gauge"),
                          .unit = Unit::mm,
                          .wording = Wording::plain,
                          .decimals = 1,
                          .resolution = 0.1,
                          .per_wheel = true,
                          .takes_over = TakesOver::parts,
                          .means_something =
                              [](const Car& car, End end) {
                                return car.axle(end).mechanism->independent && car.axle(end).has(attachment::arm_gauge);
                              },
                          .read = [](const GaugeView& v) -> std::optional<double> {
                            const auto& hangs =
                                v.source.travel.corner[at(v.gauge.end)][at(v.side)].stops.hanging_arm_gauge_mm;
                            return hangs ? std::optional(v.bench.down_stop_blocks_mm + *hangs) : std::nullopt;
                          },
                          .parts = laid_on::droop_parts};

}  // namespace lowkite::gauge
