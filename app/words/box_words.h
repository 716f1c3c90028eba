// What is not in the boxes, in words.
#pragma once

#include <QString>

#include "core/boxes/stock.hpp"

namespace lowkite::app {

/// "2 x spring 0.55 N/mm (Front: spring, hard)"; `nearest`: with what comes nearest to it in the boxes.
QString lackText(const Car& car, const Lack& lack, bool nearest = false);
/// All of them with "; " between them.
QString lacksText(const Car& car, const std::vector<Lack>& lacks, bool nearest = false);

}  // namespace lowkite::app
