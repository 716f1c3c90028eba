// What a field of a sheet can stand for on a car: a part, a ride height, a gauge, an angle with its sign, a word, or
// nothing that the car knows, which is kept as it is written.
#pragma once

#include "core/bench/gauges.hpp"
#include "core/sheets/form.hpp"

namespace lowkite {

enum class SheetPlaceKind : std::uint8_t {
  name,
  date,
  track,
  notes,
  ride_height,
  part,
  gauge,         ///< a link, droop, lock or shock as a gauge reads it
  camber,        ///< with its sign
  camber_minus,  ///< the sheet leaves the minus out
  toe,           ///< in or out as it is written with the number
  toe_in,        ///< positive numbers are toe-in
  toe_out,       ///< positive numbers are toe-out
  caster,        ///< where two upper links set it
  noted          ///< no place on the car: kept under the field's own name
};

struct SheetPlace {
  std::string id;  ///< kept in files: "part/front_spring", "gauge/link_length/front/tie_rod"
  SheetPlaceKind kind = SheetPlaceKind::noted;
  std::optional<End> end;
  PartHandle adjuster;              ///< parts
  Gauge gauge;                      ///< gauges and angles
  bool sides = false;               ///< left and right can differ
  std::optional<double> kit_reads;  ///< gauges: on the kit, left side; tells a likely number from another
  std::string label;                ///< "Front: camber link, inner ball"
  std::string unit;                 ///< "mm", "deg" or ""
};

/// Every place of the car, words first, then front to rear.
std::vector<SheetPlace> sheet_places(const Car& car);
/// Index of the place with this id, or -1.
int find_place(const std::vector<SheetPlace>& places, const std::string& id);

/// A number as sheets have it: "1,5", "1.5mm", "-1.5 deg", "1+0.5" (shims on each other). None where there is none, or
/// more than one.
std::optional<double> sheet_number(const std::string& text);
/// "1.5 / 2" and "1.5 | 2" are left and right; else the text on both sides.
PerSide<std::string> sheet_sides(const std::string& text);
/// The position that the text names: its label, but for spaces, units and words such as "hole", or else the only one
/// with that number.
std::optional<int> sheet_position(const Positions& positions, const std::string& text);

}  // namespace lowkite
