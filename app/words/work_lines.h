// The bench work that a change asks for, line by line in the order of the bench.
#pragma once

#include <vector>

#include <QString>

#include "core/plan/bench_reset.hpp"
#include "core/plan/comparison.hpp"

namespace lowkite::app {

struct WorkLine {
  enum class Kind {
    job,     ///< to be done, and ticked
    stays,   ///< what the rounding to eighths, or spacers, leave
    cannot,  ///< what no turn puts back
  };
  Kind kind = Kind::job;
  QString text;
  QString tip;           ///< which way to turn the wrench, or ""
  double minutes = 0.0;  ///< common practice, no source
};

/// What is not held is not put back, and no line asks for it.
std::vector<WorkLine> workLines(const Car& car, const Comparison& comparison, const ResetOptions& holds);

}  // namespace lowkite::app
