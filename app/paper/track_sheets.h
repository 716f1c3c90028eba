// Track on paper: a race day on one page, and the history of a setup.
#pragma once

#include "app/paper/sheet.h"
#include "core/log/log_exchange.hpp"

namespace lowkite {
struct Car;
}

namespace lowkite::app {

/// `car`: the open one, for the names of its parts; nullptr: told by ids.
Sheet daySheet(const LoggedDay& day, const Car* car, const LapRule& rule);
/// Every run of a car, oldest first: what was changed, what came of it.
Sheet historySheet(const std::vector<LoggedDay>& days, const Car& car, const LapRule& rule);

}  // namespace lowkite::app
