// From what is wanted to what to do: every combination of allowed parts is judged on the model with its camber and toe
// put back, and those that come closest are told with their work.
//
// One axle at a time, both sides alike; the left wheel is read. Ride height is held (by the collars), camber and toe by
// their links, droop by its screws. An angle that is asked for and held by links is set by them first; parts are moved
// for what is then still wanted. The search is exhaustive within its bound.
#pragma once

#include <atomic>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/plan/bench_reset.hpp"
#include "core/plan/bench_work.hpp"

namespace lowkite {

/// A figure that is to have a value, in its display unit.
struct RecipeAim {
  const FigureSpec* figure = nullptr;
  double value = 0.0;
  double tolerance = 0.1;  ///< wanted: what counts as met; held: beyond it a candidate is no candidate
  bool hold = false;
};

/// Shims that lie in the box beside the car, by thickness in mm; those freed by the change count too.
using ShimBox = std::map<double, int>;

/// "0.5x4 1x2": four of a half and two whole ones, in any order, parted by spaces or semicolons. None when it is not
/// that.
std::optional<ShimBox> parse_shim_box(const std::string& text);

struct RecipeOrder {
  End end = End::front;
  std::vector<RecipeAim> aims;  ///< at least one that is not held
  std::vector<int> parts;       ///< adjusters of this end that may be changed
  int most_parts = 2;
  std::optional<ShimBox> box;  ///< none: as many shims as wanted, of the sizes that the car file names
  ResetOptions reset;
  std::size_t results = 12;
  unsigned threads = 0;  ///< 0: as many as the machine has
};

struct RecipeChange {
  int adjuster = -1;
  double from = 0.0;
  double to = 0.0;
};

struct RecipeResult {
  std::vector<RecipeChange> changes;  ///< empty: the links alone do it
  Setup setup;                        ///< with everything put back, turns rounded as a hand does them
  ResetResult alignment;
  BenchReset bench;
  std::vector<double> reached;  ///< by aim, with exact turns
  double miss = 0.0;            ///< root of the sum of squares of (reached - wanted) / tolerance over what is wanted
  BenchWork work;

  /// Everything that was wanted is met to its tolerance.
  [[nodiscard]] bool meets() const { return miss <= 1.0; }
};

struct Recipe {
  std::uint64_t judged = 0;   ///< candidates, each with its re-set
  std::uint64_t of = 0;       ///< how many there are within the bound
  std::uint64_t allowed = 0;  ///< that kept what is held, the threads and the box
  bool stopped = false;       ///< by the asker: not exhaustive then
  /// Those that meet the aims first, least work first; then by closeness. One that would reach the same without one of
  /// its changes is left out.
  std::vector<RecipeResult> results;
};

/// How many candidates an order has.
std::uint64_t candidates_of(const Car& car, const Setup& start, const RecipeOrder& order);

/// Parts of an end that a recipe may change: all but what the re-set turns.
std::vector<int> recipe_parts(const Car& car, End end);

/// `before`: what camber, toe, droop and end points are put back to; `start`: the setup that is changed. `progress` is
/// told the share done, from any thread; false stops. Fails with a sentence when the order makes no sense or `start`
/// cannot stand.
tl::expected<Recipe, std::string> find_recipe(const Car& car, const Setup& before, const Setup& start,
                                              const RecipeOrder& order,
                                              const std::function<bool(double)>& progress = {});

/// True when the shims of the box, with those freed, make the new stacks on both sides.
bool box_makes(const Car& car, const std::vector<RecipeChange>& changes, const ShimBox& box);

/// One candidate judged as the search does it, for benchmarks and checks: the figures of the aims with exact turns.
/// None when the car cannot stand like that.
class AxleJudge {
 public:
  AxleJudge(const Car& car, const Setup& start, const CarTargets& targets, const RecipeOrder& order);
  ~AxleJudge();
  AxleJudge(AxleJudge&&) noexcept;

  /// `values`: one for each of the order's parts, in its order. False: cannot be, or a thread ends.
  bool judge(const std::vector<double>& values, std::vector<double>& figures);

 private:
  struct Work;
  std::unique_ptr<Work> work_;
};

}  // namespace lowkite
