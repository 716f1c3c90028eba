// What to change so that the car on its springs does what is wanted: springs, bars, weights, shock holes and shims of
// both axles, by the list of load figures. And what one step of every part does to one of them.
//
// Every combination within the bound is judged with camber and toe put back and the collars at the setup's ride
// heights, level, with 50 % cross weight; both sides alike. Each candidate is a whole car put on its springs, so the
// bound is lower than that of geometry's recipes.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/figures/load_source.hpp"
#include "core/plan/bench_work.hpp"
#include "core/plan/recipe.hpp"

namespace lowkite {

/// What is wanted of a load figure.
struct LoadAim {
  enum class Kind : std::uint8_t {
    value,  ///< to have this value
    alike   ///< front and rear alike; `end` and `value` do not count
  };
  const FigureSpec* figure = nullptr;  ///< one of load_figures()
  End end = End::front;                ///< for figures that each axle has
  Side side = Side::left;              ///< and for those of each wheel
  Kind kind = Kind::value;
  double value = 0.0;
  double tolerance = 0.1;  ///< wanted: what counts as met; held: beyond it a candidate is none
  bool hold = false;
};

struct LoadOrder {
  Acceleration under;  ///< in which the figures are read
  std::vector<LoadAim> aims;
  std::vector<int> parts;  ///< adjusters of either axle that may be changed
  int most_parts = 2;
  std::size_t results = 12;
  unsigned threads = 0;  ///< 0: as many as the machine has
};

struct LoadResult {
  std::vector<RecipeChange> changes;
  Setup setup;  ///< camber and toe put back, turns rounded as a hand does them
  ResetResult alignment;
  std::vector<double> reached;  ///< by aim, of that setup; the difference rear less front where they are to be alike
  double miss = 0.0;            ///< as in RecipeResult
  BenchWork work;
  [[nodiscard]] bool meets() const { return miss <= 1.0; }
};

struct LoadRecipe {
  std::uint64_t judged = 0;
  std::uint64_t of = 0;
  std::uint64_t allowed = 0;
  bool stopped = false;
  std::vector<LoadResult> results;  ///< those that meet the aims first, least work first; then by closeness
};

/// More candidates than this are refused: choose fewer parts.
constexpr std::uint64_t most_load_candidates = 50'000;

/// Parts that may move a load figure: all but turnbuckles, droop screws and steering.
std::vector<int> load_parts(const Car& car);
/// Springs, bar wires, bar links' places, heavy parts: those that move no point of the linkage.
std::vector<int> light_load_parts(const Car& car);

std::uint64_t load_candidates(const Car& car, const Setup& start, const LoadOrder& order);

/// `progress` is told the share done; false stops. Fails with a sentence when the order makes no sense, has too many
/// candidates, or `start` cannot stand on its springs.
tl::expected<LoadRecipe, std::string> find_load_recipe(const Car& car, const Setup& start, const LoadOrder& order,
                                                       const std::function<bool(double)>& progress = {});

/// One step of one part, both sides, and what it does to every load figure.
struct LoadStep {
  int adjuster = -1;
  double value = 0.0;  ///< after the step
  bool possible = true;
  /// Parallel to places_of(load_figures()); none where it has no value.
  std::vector<std::optional<double>> change;
};

/// Every part's step, up where it can be, else down. Fails like find_load_recipe.
tl::expected<std::vector<LoadStep>, std::string> load_sensitivity(const Car& car, const Setup& setup,
                                                                  const Acceleration& under,
                                                                  const std::function<bool()>& go_on = {});

}  // namespace lowkite
