// A candidate of the whole car read for what no axle knows alone: figures of geometry that hear of both ends, and the
// car on its springs.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/figures/variant.hpp"
#include "core/load/turn.hpp"
#include "core/plan/aims.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

/// A setup with changes made on both sides.
Setup changed_by(Setup setup, const std::vector<PartChange>& changes);

/// Any of them moves a point or a size of the linkage.
bool any_geometric(const Car& car, const std::vector<PartChange>& changes);

/// A setup on its springs: collars at its ride heights, level, with 50 % cross weight; steered as the turn asks.
/// `near`, `alike`: see LoadedCar::balance and LoadedCar::of. Fails with a sentence.
tl::expected<LoadSource, CarFailure> put_on_springs(const Car& car, const Setup& setup, const HeldTurn& under,
                                                    const LoadNeeds& needs = LoadNeeds::all(),
                                                    const Balance* near = nullptr, const LoadedCar* alike = nullptr);

/// Keeps references to what it is made from. Reading does not change it: several threads may share one.
class CarJudge {
 public:
  /// `aims`: those that are not of one axle. `before`: how the wheels hang where nothing else is wanted.
  CarJudge(const Car& car, const Variant& before, const Setup& start, const CarTargets& targets,
           const ResetOptions& reset, const HeldTurn& under, std::vector<RecipeAim> aims);

  [[nodiscard]] bool asked() const { return !aims_.empty(); }
  [[nodiscard]] const std::vector<RecipeAim>& aims() const { return aims_; }
  /// The figures of the aims with camber, toe, and for figures of the whole travel the droop, put back exactly. None
  /// where the car cannot stand so, or where one has no value.
  [[nodiscard]] std::optional<std::vector<double>> read(const std::vector<PartChange>& changes) const;

 private:
  const Car& car_;
  const Variant& before_;
  const Setup& start_;
  const CarTargets& targets_;
  ResetOptions exact_;
  HeldTurn under_;
  std::vector<RecipeAim> aims_;
  LoadNeeds needs_;
  bool of_load_ = false;
  bool of_geometry_ = false;
  TravelRead travel_ = TravelRead::none;
  std::optional<Setup> put_back_;  ///< the start with its links at the targets
  std::optional<Balance> near_;    ///< a stand of it to start from
  CarModel model_;                 ///< of it
  std::optional<LoadedCar> loaded_;
};

}  // namespace lowkite
