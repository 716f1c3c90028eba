// A search for parts in words.
#pragma once

#include <QString>

#include "core/plan/recipe.hpp"

namespace lowkite::app {

/// What was looked at and what was left out, and why; one or two sentences.
QString judgedText(const Recipe& recipe);
/// "camber link, inner ball: 2 -> 2.5 mm", the axle before it where the search is of both.
QString changeText(const Car& car, const PartChange& change);

}  // namespace lowkite::app
