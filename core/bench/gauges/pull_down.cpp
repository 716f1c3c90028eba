// Scales under an axle with the chassis pulled down over them.
#include "core/bench/gauges/laid_on.hpp"
#include "core/load/static_load.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec pull_down{.id = "pull_down",
                          .label = marked("axle scale, pulled down"),
                          .unit = Unit::g,
                          .wording = Wording::plain,
                          .decimals = 0,
                          .resolution = 10.0,
                          .per_wheel = false,
                          .means_something = laid_on::sprung,
                          .read = [](const GaugeView& v) -> std::optional<double> {
                            const auto push = axle_push(v.model, v.source.standing, v.gauge.end, v.bench.pull_down_mm);
                            return push ? std::optional(grams(*push)) : std::nullopt;
                          }};

}  // namespace lowkite::gauge
