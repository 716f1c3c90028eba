// The bench sheet on paper: every step with its target, what its gauge can tell, and empty boxes for what is read.
#pragma once

#include "app/paper/sheet.h"
#include "core/bench/run.hpp"

namespace lowkite::app {

/// Targets from the plan, readings that were taken filled in.
Sheet benchSheet(const Car& car, const BenchRun& run);

}  // namespace lowkite::app
