// Caliper on a link, as the bench kit lays it.
#include "core/bench/gauges/laid_on.hpp"

namespace lowkite::gauge {

const GaugeSpec link_length{.id = "link_length",
                            .label = marked("caliper"),
                            .unit = Unit::mm,
                            .wording = Wording::plain,
                            .decimals = 2,
                            .resolution = 0.05,
                            .per_wheel = true,
                            .takes_over = TakesOver::parts,
                            .means_something = nullptr,
                            .each_link = true,
                            .read = [](const GaugeView& v) -> std::optional<double> {
                              const auto& length = v.model.corner(v.gauge.end, v.side).geometry.length;
                              return caliper_reading(length[v.gauge.link], v.bench);
                            },
                            .parts =
                                [](const Car& car, const Gauge& g, StopKind) {
                                  const PartHandle turnbuckle = car.turnbuckle_of(g.end, g.link);
                                  return turnbuckle ? std::vector{turnbuckle} : std::vector<PartHandle>{};
                                }};

}  // namespace lowkite::gauge
