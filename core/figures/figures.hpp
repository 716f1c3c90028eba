// The one list of figures: what each is called, its unit, how finely it is worth telling, what it is read from, and
// what else the program does with it.
//
// Reports, the window, searches and exports all walk this list. A new figure is a row in one of the *_rows.cpp files.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <variant>
#include <vector>

#include "core/measure/travel_figures.hpp"

namespace lowkite {

struct LapFigures;
struct LoadSource;

enum class FigureGroup : std::uint8_t { stance, tyre, roll, side, steering, lock, travel, shock, shaft, springs, laps };
std::span<const FigureGroup> figure_groups();  ///< in the order in which they are told

enum class Unit : std::uint8_t {
  mm,
  deg,
  deg_per_mm,
  mm_per_deg,
  deg_per_deg,
  mm_per_mm,
  percent,
  g,
  hz,
  n,
  n_per_mm,
  n_s_per_m,
  n_mm_per_deg,
  s,
  s_per_lap,
  turns,
  count
};
/// As it stands behind a number; empty for a count.
std::string_view symbol(Unit unit);

/// How a signed value is put into words: toe is "in" or "out", the rest keeps its sign.
enum class Wording : std::uint8_t { plain, toe };

/// What geometry is read from.
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
  stops,       ///< the same, or a pod whose shock's longest length is known
  kingpin,     ///< steered wheels
  servo,       ///< the steered axle of a car with a steering linkage
  toe_link,    ///< a tie rod or a toe link
  shock,       ///< a shock between two mounts
  shock_ends,  ///< whose longest and shortest length are known
  shaft,       ///< a drive shaft in a cup
  braked,      ///< a share of the braking, and a known centre of gravity
  driven       ///< a share of the driving, and a known centre of gravity
};

/// How many values a figure has. Figures of lock `per_wheel` have one for each way to steer, left and right.
enum class Per : std::uint8_t { wheel, axle, car };

/// What else the program does with a figure.
enum FigureFlag : std::uint16_t {
  no_flag = 0,
  by_wheels = 1,         ///< follows from where the wheels are: a search need not pose the whole car
  watched = 1 << 1,      ///< a racer notices it being dragged along
  in_quiz = 1 << 2,      ///< practice asks about it
  kept = 1 << 3,         ///< what "keep the same, but ..." keeps
  first_curve = 1 << 4,  ///< drawn as a curve until the racer chooses others
  on_path = 1 << 5,      ///< told along the way through a corner
  from_above = 1 << 6,   ///< seen best from above; without either of these two from the front
  from_the_side = 1 << 7,
  between_ends = 1 << 8,  ///< parts of either axle move it; all other figures of geometry hear of their own axle alone
  adds_up = 1 << 9,       ///< and what the two axles do to it adds up
  of_rates = 1 << 10,     ///< of load: read from what an axle answers at rest, no stand needed
  of_roll_motion = 1 << 11,  ///< of load: read from how the body rolls
  of_roll_gradient = 1 << 12,
  of_roll_on_tyres = 1 << 13
};

/// What a lesson explains; a figure may belong to several, as a sum.
enum class Lesson : std::uint16_t {
  toe = 1,
  camber = 1 << 1,
  caster = 1 << 2,
  kingpin = 1 << 3,
  trail = 1 << 4,
  roll_centre = 1 << 5,
  ackermann = 1 << 6,
  bump_steer = 1 << 7,
  anti = 1 << 8,
  droop = 1 << 9,
  roll_stiffness = 1 << 10,
  heave = 1 << 11
};

/// In display units (degrees, mm). None: does not exist here (no kingpin, not described) or lies at infinity.
using GeometryRead = std::optional<double> (*)(const FigureSource&, End, Side);
using LoadRead = std::optional<double> (*)(const LoadSource&, End, Side);
using LapRead = std::optional<double> (*)(const LapFigures&);

/// How much of the whole travel is read.
enum class TravelRead : std::uint8_t {
  none,
  straight,  ///< between the stops, the steering in the middle
  and_lock   ///< and with the steering turned as far as it goes, over all of it
};

struct FigureSpec {
  std::string_view id;
  std::string_view label;
  FigureGroup group;
  Unit unit;
  Wording wording;
  int decimals;  ///< what a gauge, or a racer's use of the figure, can tell
  Per per;
  Needs needs;
  bool whole_travel;  ///< read over the whole travel or lock: no curve can be drawn of it
  unsigned flags;     ///< sum of FigureFlag
  unsigned lessons;   ///< sum of Lesson
  std::variant<GeometryRead, LoadRead, LapRead> from;

  /// None, too, where the figure is not read from such a source. What an axle or the car has once is the same whatever
  /// side (and end) is asked.
  [[nodiscard]] std::optional<double> read(const FigureSource& source, End end, Side side) const;
  [[nodiscard]] std::optional<double> read(const LoadSource& source, End end, Side side) const;
  [[nodiscard]] std::optional<double> read(const LapFigures& laps) const;

  [[nodiscard]] bool per_wheel() const { return per == Per::wheel; }
  [[nodiscard]] bool is(FigureFlag flag) const { return (flags & flag) != 0; }
  [[nodiscard]] bool explains(Lesson lesson) const { return (lessons & static_cast<unsigned>(lesson)) != 0; }
  /// Read off a car on its springs.
  [[nodiscard]] bool of_load() const { return std::holds_alternative<LoadRead>(from); }
  /// Parallel lines take it there: a difference of two such values may mean nothing.
  [[nodiscard]] bool runs_to_infinity() const;
  /// What to say where there is no value.
  [[nodiscard]] std::string_view without() const;
  /// From how much of it this one is read.
  [[nodiscard]] TravelRead travel_read() const;
  /// Half of the last decimal shown: a smaller difference is "the same".
  [[nodiscard]] double resolution() const;
};

/// Read off a pose and off the whole travel.
std::span<const FigureSpec> geometry_figures();
/// Read off a car on its springs.
std::span<const FigureSpec> load_figures();
/// Read off the laps of a run.
std::span<const FigureSpec> lap_time_figures();
/// Of the whole list; nullptr when there is none of that id.
const FigureSpec* find_figure(std::string_view id);
/// Those of a list that carry a flag, in its order.
std::vector<const FigureSpec*> flagged(std::span<const FigureSpec> list, FigureFlag flag);

/// True when a figure of geometry has a meaning for this axle.
bool applies(const FigureSpec& figure, const Car& car, End end);

/// A figure of load or geometry with the axle and side that it is asked of, as lists tell them: the car's, then the
/// front's, then the rear's.
struct FigurePlace {
  const FigureSpec* figure = nullptr;
  std::optional<End> end;    ///< none: of the car
  std::optional<Side> side;  ///< none: of the axle or the car

  template <class Source>
  [[nodiscard]] std::optional<double> read(const Source& source) const {
    return figure->read(source, end.value_or(End::front), side.value_or(Side::left));
  }
  bool operator==(const FigurePlace&) const = default;
};
std::vector<FigurePlace> places_of(std::span<const FigureSpec> list);

}  // namespace lowkite
