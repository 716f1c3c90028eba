// What is asked of a search: figures that are to have a value, wanted or held.
#pragma once

#include <cstdint>
#include <vector>

#include "core/figures/load_source.hpp"
#include "core/plan/combinations.hpp"

namespace lowkite {

/// A figure of geometry or of load that is to have a value, in its display unit.
struct RecipeAim {
  enum class Kind : std::uint8_t {
    value,  ///< to have this value
    alike   ///< front and rear alike; `end` and `value` do not count
  };
  const FigureSpec* figure = nullptr;
  End end = End::front;    ///< for figures that each axle has
  Side side = Side::left;  ///< and for those of each wheel
  Kind kind = Kind::value;
  double value = 0.0;
  double tolerance = 0.1;  ///< wanted: what counts as met; held: beyond it a candidate is no candidate
  bool hold = false;

  static RecipeAim of(const FigureSpec& figure, End end, double value, double tolerance, bool hold) {
    return {&figure, end, Side::left, Kind::value, value, tolerance, hold};
  }

  /// Of alike ones the difference rear less front. None where it has no value.
  template <class Source>
  [[nodiscard]] std::optional<double> read(const Source& source) const {
    if (kind == Kind::value) return figure->read(source, end, side);
    const auto front = figure->read(source, End::front, side);
    const auto rear = figure->read(source, End::rear, side);
    return front && rear ? std::optional(*rear - *front) : std::nullopt;
  }
  [[nodiscard]] AimRange range() const { return {kind == Kind::alike ? 0.0 : value, tolerance, hold}; }
  /// Parts of one axle alone move it.
  [[nodiscard]] bool of_one_axle() const {
    return kind == Kind::value && !figure->of_load() && !figure->is(between_ends);
  }
};

inline std::vector<AimRange> ranges_of(const std::vector<RecipeAim>& aims) {
  std::vector<AimRange> ranges;
  for (const RecipeAim& a : aims) ranges.push_back(a.range());
  return ranges;
}

}  // namespace lowkite
