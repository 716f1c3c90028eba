// Length of the shock between its mounts with the arm hanging.
#include "core/bench/gauges/laid_on.hpp"
#include "core/words/say.hpp"

namespace lowkite::gauge {

const GaugeSpec shock_droop{
    .id = "shock_droop",
    .label = marked("shock, wheel hanging"),
    .unit = Unit::mm,
    .wording = Wording::plain,
    .decimals = 1,
    .resolution = 0.1,
    .per_wheel = true,
    .takes_over = TakesOver::parts,
    .means_something = laid_on::shock,
    .read =
        [](const GaugeView& v) { return v.source.travel.corner[at(v.gauge.end)][at(v.side)].stops.hanging_shock_mm; },
    .parts = laid_on::droop_parts};

}  // namespace lowkite::gauge
