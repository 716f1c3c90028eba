// A candidate of a search as it would be done on the bench: parts changed, everything put back as a hand does it, and
// read by the program's common way.
#pragma once

#include "core/plan/recipe.hpp"

namespace lowkite {

/// What a search is of. All of it outlives whoever is made from it.
struct RecipeCase {
  const Car& car;
  const Variant& start;  ///< with what sets what is wanted directly
  const Variant& before;
  const CarTargets& targets;
  const RecipeOrder& order;
  const WishJudge* wishes = nullptr;  ///< none: nothing is wished
  const Stock* stock = nullptr;       ///< none: whatever the car file names can be had
};

/// Trying does not change it: several threads may share one.
class RecipeTrial {
 public:
  /// `settled`: which aims are met whatever parts are changed.
  RecipeTrial(const RecipeCase& of, std::vector<bool> settled);

  /// Parts changed and everything put back as a hand does it, as far as it goes.
  struct ByHand {
    ResetResult alignment;
    Variant after;  ///< aligned
    BenchReset bench;
  };
  /// None where the car cannot stand so.
  [[nodiscard]] std::optional<ByHand> by_hand(const std::vector<PartChange>& changes) const;

  /// A candidate whole; none when a thread or a screw ends before everything is back, or when what is held is left.
  /// `figures`: of the aims with exact turns, in their order; empty: they are read here.
  [[nodiscard]] std::optional<RecipeResult> done(const std::vector<PartChange>& changes,
                                                 const std::vector<double>& figures) const;

  /// What the axles' judges say is what exact turns give.
  [[nodiscard]] bool judges_exactly() const { return judges_exactly_; }
  /// Both sides of the start will stand as the left one does, which is what the axles' judges take.
  [[nodiscard]] bool sides_alike() const { return sides_alike_; }

 private:
  [[nodiscard]] std::vector<double> figures_in(const Variant& variant, const LoadSource* load) const;
  [[nodiscard]] std::vector<double> figures_with_exact_turns(const std::vector<PartChange>& changes) const;
  [[nodiscard]] BenchWork work_of(const RecipeResult& result) const;

  RecipeCase of_;
  std::vector<bool> settled_;
  bool any_settled_;
  std::vector<AimRange> ranges_;
  PerEnd<bool> hung_otherwise_{};  ///< droop is wanted there
  bool sides_alike_ = true;
  bool judges_exactly_ = true;
  bool hears_of_stops_ = false;  ///< screws and spacers move some figure of geometry
  bool hears_of_load_ = false;
  LoadNeeds load_needs_;
};

}  // namespace lowkite
