// The list of figures: what each is called, its unit, how finely it is worth telling, and where it is read.
//
// Reports, the window and exports all walk this list. A new figure is a row in figures.cpp.
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/measure/car_figures.hpp"

namespace lowkite {

enum class FigureGroup : std::uint8_t { stance, tyre, roll, steering };

enum class Unit : std::uint8_t { mm, deg, deg_per_mm };
std::string_view symbol(Unit unit);

/// How a signed value is put into words: toe is "in" or "out", the rest keeps its sign.
enum class Wording : std::uint8_t { plain, toe };

/// Everything a figure may be read from.
struct FigureSource {
  CarFigures car;
  PerEnd<AxleCurve> curve;  ///< around the ride height, without roll
};

struct FigureSpec {
  std::string_view id;
  std::string_view label;
  FigureGroup group;
  Unit unit;
  Wording wording;
  int decimals;    ///< what a gauge, or a racer's use of the figure, can tell
  bool per_wheel;  ///< false: one value for the axle or the car
  bool needs_kingpin;
  /// In display units (degrees, mm). None: does not exist here (no kingpin) or lies at infinity.
  std::optional<double> (*read)(const FigureSource&, End, Side);

  /// Half of the last decimal shown: a smaller difference is "the same".
  [[nodiscard]] double resolution() const;
};

std::span<const FigureSpec> figure_specs();
const FigureSpec* find_figure(std::string_view id);

/// True when the figure has a meaning for this axle.
bool applies(const FigureSpec& figure, const Car& car, End end);

}  // namespace lowkite
