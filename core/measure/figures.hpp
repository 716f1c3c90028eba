// The list of figures: what each is called, its unit, how finely it is worth telling, and where it is read.
//
// Reports, the window and exports all walk this list. A new figure is a row in figures.cpp.
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/measure/travel_figures.hpp"

namespace lowkite {

enum class FigureGroup : std::uint8_t { stance, tyre, roll, side, steering, lock, travel, shock, shaft };
std::span<const FigureGroup> figure_groups();  ///< in the order in which they are told

enum class Unit : std::uint8_t { mm, deg, deg_per_mm, mm_per_deg, deg_per_deg, mm_per_mm, percent, g };
std::string_view symbol(Unit unit);

/// How a signed value is put into words: toe is "in" or "out", the rest keeps its sign.
enum class Wording : std::uint8_t { plain, toe };

/// Everything a figure may be read from.
struct FigureSource {
  CarFigures car;           ///< as it is looked at
  CarFigures standing;      ///< at ride height, level, steering in the middle
  PerEnd<AxleCurve> curve;  ///< around the ride height, without roll
  TravelFigures travel;
};

/// What an axle must have for a figure to mean something on it.
enum class Needs : std::uint8_t {
  wheel,       ///< any axle
  linkage,     ///< wheels that move apart from each other
  kingpin,     ///< steered wheels
  servo,       ///< the steered axle of a car with a steering linkage
  toe_link,    ///< a tie rod or a toe link
  shock,       ///< a shock between two mounts
  shock_ends,  ///< whose longest and shortest length are known
  shaft,       ///< a drive shaft in a cup
  braked,      ///< a share of the braking, and a known centre of gravity
  driven       ///< a share of the driving, and a known centre of gravity
};

struct FigureSpec {
  std::string_view id;
  std::string_view label;
  FigureGroup group;
  Unit unit;
  Wording wording;
  int decimals;    ///< what a gauge, or a racer's use of the figure, can tell
  bool per_wheel;  ///< false: one value for the axle or the car. Figures of lock: steering left, steering right
  Needs needs;
  bool whole_travel;  ///< read over the whole travel or lock: no curve can be drawn of it
  /// In display units (degrees, mm). None: does not exist here (no kingpin) or lies at infinity.
  std::optional<double> (*read)(const FigureSource&, End, Side);

  /// What to say where there is no value.
  [[nodiscard]] std::string_view without() const;
  /// Half of the last decimal shown: a smaller difference is "the same".
  [[nodiscard]] double resolution() const;
};

std::span<const FigureSpec> figure_specs();
const FigureSpec* find_figure(std::string_view id);

/// True when the figure has a meaning for this axle.
bool applies(const FigureSpec& figure, const Car& car, End end);

}  // namespace lowkite
