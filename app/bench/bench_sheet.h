// The bench sheet on paper: every step with its target, what its gauge can tell, and empty boxes for what is read.
#pragma once

#include <QPageSize>
#include <QString>

#include "core/bench/run.hpp"

namespace lowkite::app {

/// The sheet as a document: targets from the plan, readings that were taken filled in.
QString benchSheetHtml(const Car& car, const BenchRun& run);

/// Writes the sheet as PDF; false when the file cannot be written, which is then left as it was.
bool writeBenchSheet(const Car& car, const BenchRun& run, QPageSize::PageSizeId page, const QString& path);

}  // namespace lowkite::app
