// What racers usually have, by class and surface, as data that can be edited: told beside figures, never held against
// anybody.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/figures/figures.hpp"
#include "core/io/fault.hpp"
#include "core/log/log.hpp"

namespace lowkite {

/// From least to most, in the figure's display unit (toe: positive = in).
struct UsualRange {
  const FigureSpec* figure = nullptr;
  End end = End::front;
  double least = 0.0;
  double most = 0.0;
};

struct UsualSet {
  std::string id;
  std::string vehicle_class;      ///< words that stand in the car's class
  std::vector<Surface> surfaces;  ///< empty: any
  std::string source;
  std::vector<UsualRange> ranges;
};

struct UsualBook {
  std::vector<UsualSet> sets;

  /// The first set for cars of this class on this surface that has the figure; nullptr: none has.
  [[nodiscard]] const UsualRange* find(const Car& car, Surface surface, End end, const FigureSpec& figure) const;
  /// Surfaces that some set for cars of this class names, in their usual order.
  [[nodiscard]] std::vector<Surface> surfaces_for(const Car& car) const;
};

/// Every fault found, or the sets.
tl::expected<UsualBook, Faults> read_usual(const std::string& text, const std::string& file);
/// The shipped sets and, where there is one, the racer's own file, whose sets take the place of those with the same id.
tl::expected<UsualBook, Faults> load_usual(const std::filesystem::path& shipped, const std::filesystem::path& own = {});

}  // namespace lowkite
