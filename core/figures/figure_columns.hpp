// Short names for the columns of the lists of figures; for the *_rows.cpp files alone.
#pragma once

#include "core/figures/figures.hpp"

namespace lowkite::figure_columns {

using Value = std::optional<double>;
using G = FigureGroup;
using U = Unit;
using W = Wording;
using N = Needs;
using L = Lesson;

constexpr Per per_wheel = Per::wheel;
constexpr Per per_axle = Per::axle;
constexpr Per per_car = Per::car;
constexpr bool here = false;     // at the attitude
constexpr bool over_all = true;  // over the whole travel
constexpr unsigned no_lesson = 0;

constexpr unsigned operator|(Lesson a, Lesson b) {
  return static_cast<unsigned>(a) | static_cast<unsigned>(b);
}
constexpr unsigned operator|(unsigned a, Lesson b) {
  return a | static_cast<unsigned>(b);
}
constexpr unsigned only(Lesson a) {
  return static_cast<unsigned>(a);
}

}  // namespace lowkite::figure_columns
