// The setup sheet on paper: both axles drawn to scale, every part's place, what the gauges should read and the figures.
#pragma once

#include "app/paper/sheet.h"
#include "core/bench/gauges.hpp"
#include "core/plan/comparison.hpp"

namespace lowkite::app {

/// Parts that are not as in the kit are marked. `bench`: what lies on the racer's bench.
Sheet setupSheet(const Car& car, const Variant& variant, const BenchKit& bench);

}  // namespace lowkite::app
