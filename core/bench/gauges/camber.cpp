// Camber gauge on the face of the wheel.
#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec camber{.id = "camber",
                       .label = marked("camber gauge"),
                       .unit = Unit::deg,
                       .wording = Wording::plain,
                       .decimals = 1,
                       .resolution = 0.25,
                       .per_wheel = true,
                       .zero = ZeroSides::minus_plus,
                       .takes_over = TakesOver::unless_camber_link,
                       .means_something = laid_on::any,
                       .read = [](const GaugeView& v) -> std::optional<double> {
                         return degrees(v.source.standing.axle[at(v.gauge.end)].wheel[at(v.side)].camber_rad);
                       },
                       .parts = [](const Car& car, const Gauge& g,
                                   StopKind) { return car.turnbuckles_holding(g.end, LinkHolds::camber); }};

}  // namespace lowkite::gauge
