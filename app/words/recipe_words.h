// A search for parts in words.
#pragma once

#include <QStringList>

#include "core/plan/recipe.hpp"

namespace lowkite::app {

/// What was looked at and what was left out, and why; one or two sentences.
QString judgedText(const Recipe& recipe);
/// "roll centre, front = rear": a figure of both axles that is to be alike.
QString alikeLabel(const FigureSpec& figure);
/// What an aim is about, without its unit: "front roll centre", "wheelbase", "ride frequency, front = rear".
QString aimLabel(const RecipeAim& aim);
/// What a result gives of it, with its unit; of an alike one how far rear and front are apart.
QString givenText(const RecipeAim& aim, double value);
/// "camber link, inner ball: 2 -> 2.5 mm", the axle before it where the search is of both.
QString changeText(const Car& car, const PartChange& change);
/// What is set after the changes, in bench order: heights and their collars, droop, links, end points. `start`: what
/// the search started from. `wrench`: with the way to turn it.
QStringList settingLines(const Car& car, const Setup& start, const RecipeResult& result, bool wrench);

}  // namespace lowkite::app
