// Where the collar stands below its shock's upper pin.
#include "core/bench/gauges/laid_on.hpp"
#include "core/load/static_load.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec collar{
    .id = "collar",
    .label = marked("collar, below its pin"),
    .unit = Unit::mm,
    .wording = Wording::plain,
    .decimals = 1,
    .resolution = 0.2,
    .per_wheel = true,
    .means_something = laid_on::sprung,
    .read = [](const GaugeView& v) { return collar_place(v.model, v.source.standing, v.gauge.end, v.side); }};

}  // namespace lowkite::gauge
