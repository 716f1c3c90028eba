// What each figure means, in the guide's own words, so that guide and window cannot say different things.
#pragma once

#include <QString>

#include "core/figures/figures.hpp"

namespace lowkite::app {

/// One sentence, without its full stop; "" where the guide has none, or is not there.
QString meaningOf(const FigureSpec& figure);

}  // namespace lowkite::app
