// A search for parts in words.
#pragma once

#include <QStringList>

#include "core/plan/recipe.hpp"

namespace lowkite::app {

/// What was looked at and what was left out, and why; one or two sentences.
QString judgedText(const Recipe& recipe);
/// "camber link, inner ball: 2 -> 2.5 mm", the axle before it where the search is of both.
QString changeText(const Car& car, const PartChange& change);
/// What is set after the changes, in bench order: heights and their collars, droop, links, end points. `start`: what
/// the search started from. `wrench`: with the way to turn it.
QStringList settingLines(const Car& car, const Setup& start, const RecipeResult& result, bool wrench);

}  // namespace lowkite::app
