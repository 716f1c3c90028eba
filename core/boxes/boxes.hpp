// What lies in a racer's boxes beside his cars, entered once for all of them: springs, pistons, oils, wires, shims,
// inserts, tyres, and parts of one car by their names.
//
// What is in a box is known by what can be measured of it, never by what stands on it: two makers' "medium" are two
// springs.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/car/car.hpp"
#include "core/load/spring.hpp"

namespace lowkite {

enum class BoxKind : std::uint8_t {
  spring,
  piston,
  shock_oil,
  differential_oil,
  bar_wire,
  shim,
  insert,
  tyre,
  part  ///< one position of one part of a car, by its name: "caster block, 6 deg"
};
constexpr int box_kind_count = 9;

struct BoxKindSpec {
  BoxKind kind;
  std::string_view id;     ///< as in files
  std::string_view label;  ///< "Springs"
  std::string_view one;    ///< "spring"
  std::string_view value;  ///< what its number is: "rate"; empty: it has none
  std::string_view unit;
  double least, most;    ///< of the number
  int usual_count;       ///< how many come together
  std::string_view are;  ///< "pieces", "bottles"
};
std::span<const BoxKindSpec> box_kinds();
const BoxKindSpec& spec_of(BoxKind kind);
std::optional<BoxKind> box_kind_of(std::string_view id);

/// Where a spring goes. One does not fit into the place of another.
enum class SpringUse : std::uint8_t { shock, kingpin, side, third };
constexpr std::array<std::string_view, 4> spring_use_ids{"shock", "kingpin", "side", "third"};

struct BoxItem {
  BoxKind kind = BoxKind::shim;
  std::string label{};  ///< what stands on it, or what the racer calls it
  std::string maker{};
  int count = 0;  ///< pieces; a pair is two. Bottles of oil
  /// Of a spring N/mm; a piston's holes mm; oil cSt at 25 deg C; a wire's diameter, a shim's thickness mm; how far an
  /// insert's hole is off its middle mm; a tyre's diameter mm.
  double value = 0.0;
  int holes = 0;  ///< of a piston
  SpringUse use = SpringUse::shock;
  double second_rate = 0.0;          ///< N/mm, of a spring with two rates; 0: it has one
  double transition_mm = 0.0;        ///< its compression where the second rate begins
  std::vector<SpringPoint> table{};  ///< as measured, from {0, 0} on, both rising; in place of the rates
  double length_mm = 0.0;            ///< a spring's free length; 0: not measured
  std::vector<std::string> cars{};   ///< ids of the cars that it fits; empty: every one that takes its kind
  std::string part{};                ///< id of the only part that it fits; empty: any
  std::string note{};

  bool operator==(const BoxItem&) const;
  [[nodiscard]] bool fits(const Car& car) const;
};

struct Boxes {
  std::vector<BoxItem> items;
  bool operator==(const Boxes&) const = default;
};

/// What a spring of the boxes pushes with. The law looks into the item's table: the item outlives it.
SpringLaw law_of(const BoxItem& spring);
/// A measured table as the two rates that come nearest to it, and by how many N they miss it at most.
struct TwoRates {
  double rate = 0.0, second_rate = 0.0, transition_mm = 0.0, off_n = 0.0;
};
TwoRates two_rates(std::span<const SpringPoint> table);

/// "spring 0.52 N/mm", "piston 3 x 1.1 mm", "shim 0.5 mm": what it is, without what stands on it.
std::string measured_text(const BoxItem& item);
/// The same with label and maker: "spring 0.52 N/mm (yellow, Brightwell)".
std::string full_text(const BoxItem& item);

/// "0.5x4 1x2": four of a half and two whole ones, in any order, parted by spaces or semicolons. None when it is not
/// that. Nothing at all is a box with no shims in it.
std::optional<Boxes> shims_in(const std::string& text);

/// What a part of a car takes out of a box.
struct BoxPlace {
  BoxKind kind = BoxKind::part;
  SpringUse use = SpringUse::shock;
  bool once = false;  ///< one piece, or one bottle, for both sides
};
/// None where nothing has to be at hand: holes, threads, splines, places of weights.
std::optional<BoxPlace> box_place(const Car& car, PartHandle adjuster);
/// How many pieces a value takes with both sides alike, or bottles.
int pieces_for(const Car& car, PartHandle adjuster);

/// What one position of a part is, as an item without a maker, so that it can be held against those in the boxes.
/// Precondition: the part takes something other than shims.
BoxItem piece_at(const Car& car, PartHandle adjuster, int position);
/// A position that stands for nothing: no bar, no third spring.
bool is_nothing(const BoxItem& piece);
/// How far two pieces are apart, in what can be told apart with a scale or a caliper: up to 1 they are alike. None: of
/// unlike kinds, or one is not known. Springs: 1.5 % of force over the first 10 mm; pistons the same number of holes
/// and 0.03 mm; oil 2 %; wires 0.03 mm; inserts 0.06 mm; tyres 0.2 mm (common practice, no source); parts by their
/// names.
std::optional<double> apart(const BoxItem& a, const BoxItem& b);
inline bool alike(const BoxItem& a, const BoxItem& b) {
  const auto d = apart(a, b);
  return d && *d <= 1.0;
}
/// Whether an item goes into a part of a car at all, whatever its size.
bool goes_into(const BoxItem& item, const Car& car, PartHandle adjuster);

}  // namespace lowkite
