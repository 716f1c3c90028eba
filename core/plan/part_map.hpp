// A figure over every step of two parts of the car, whichever axles they are of: of geometry, of the whole travel, or
// of the car on its springs.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/figures/load_source.hpp"
#include "core/load/turn.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

struct MapAsk {
  FigurePlace place;
  End end = End::front;  ///< that a figure of an axle is read of where the place names none
  PartHandle down;
  PartHandle across;
  bool put_back = true;  ///< camber and toe; else links stay as they are
  HeldTurn under{};      ///< in which figures of load are read
};

/// The parts that may move a figure of a map: those of its own axle, for what hears of the other axle or of the springs
/// those of the whole car.
std::vector<PartHandle> map_parts(const Car& car, const FigurePlace& place, End end);

/// Reads fields of one map. `car` and `setup` are kept by reference. Not for several threads at once.
class PartMap {
 public:
  /// Fails with a sentence where the setup cannot stand.
  static tl::expected<PartMap, CarFailure> of(const Car& car, const Setup& setup, const MapAsk& ask);
  PartMap(PartMap&&) noexcept;
  ~PartMap();

  /// One row: the part that goes down at `down`, the other at each of `across`; both sides alike. None in a field where
  /// the car cannot stand so, a thread ends, or the figure has no value.
  [[nodiscard]] std::vector<std::optional<double>> row(double down, std::span<const double> across);

 private:
  struct Work;
  explicit PartMap(std::unique_ptr<Work> work);
  std::unique_ptr<Work> work_;
};

}  // namespace lowkite
