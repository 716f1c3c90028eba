// Toe plate: each wheel by itself, positive = in.
#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec toe{
    .id = "toe",
    .label = marked("toe plate"),
    .unit = Unit::deg,
    .wording = Wording::toe,
    .decimals = 1,
    .resolution = 0.25,
    .per_wheel = true,
    .zero = ZeroSides::in_out,
    .takes_over = TakesOver::unless_toe_link,
    .means_something = laid_on::any,
    .read = [](const GaugeView& v) -> std::optional<double> {
      return degrees(v.source.standing.axle[at(v.gauge.end)].wheel[at(v.side)].toe_rad);
    },
    .parts = [](const Car& car, const Gauge& g, StopKind) { return car.turnbuckles_holding(g.end, LinkHolds::toe); }};

}  // namespace lowkite::gauge
