// Scale under one wheel.
#include "core/bench/gauges/laid_on.hpp"
#include "core/load/static_load.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec corner_scale{.id = "corner_scale",
                             .label = marked("corner scale"),
                             .unit = Unit::g,
                             .wording = Wording::plain,
                             .decimals = 0,
                             .resolution = 5.0,
                             .per_wheel = true,
                             .means_something = [](const Car& car, End) { return laid_on::weighed(car); },
                             .read = [](const GaugeView& v) -> std::optional<double> {
                               const auto loads = wheel_loads(v.model, v.source.standing);
                               return loads ? std::optional(grams((*loads)[at(v.gauge.end)][at(v.side)]))
                                            : std::nullopt;
                             }};

}  // namespace lowkite::gauge
