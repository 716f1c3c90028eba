// What lies on the racer's bench, entered once: kept between sessions, the same in Bench, in Plan and on paper.
#pragma once

#include "core/bench/gauges.hpp"

namespace lowkite::app {

BenchKit savedBench();
void keepBench(const BenchKit& bench);

}  // namespace lowkite::app
