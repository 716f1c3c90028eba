// From what is wanted to what to do: combinations of allowed parts of the whole car, each with its camber and toe put
// back, and those that come closest told with their work.
//
// Parts are changed on both sides; where the start's sides differ, candidates are ranked by the left one, and what is
// told is read of the car as it is. Ride heights are held (by the collars; an end that settles stands as its parts let
// it), camber and toe by their links, droop by what stops the wheel, full lock by the end points. What one of these
// sets is set by it first (set_directly.hpp); parts are moved for what is then still wanted. Figures of geometry, of
// the car on its springs and what the driver wishes may be asked for together. The combinations of each axle are judged
// once (AxleJudge); what needs the whole car is judged for those that the rest of the order leaves open (CarJudge). The
// list is the one that judging all of them would give, or it says that it is not.
//
// What the driver would feel takes a car on its springs through three phases of a corner on each of many tyres: too
// long for every candidate. Each part is read so alone, at each of its values; of several together that is added up,
// and those for which it promises most are read whole (WishJudge). Only what was read is told.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/boxes/stock.hpp"
#include "core/plan/axle_judge.hpp"
#include "core/plan/bench_reset.hpp"
#include "core/plan/bench_work.hpp"
#include "core/plan/car_judge.hpp"
#include "core/plan/wishes.hpp"

namespace lowkite {

struct RecipeOrder {
  std::vector<RecipeAim> aims;    ///< at least one that is not held, or a wish that is not
  std::vector<PartHandle> parts;  ///< adjusters of either axle that may be changed
  int most_parts = 2;             ///< at once, over both axles; at most `most_changes`
  std::optional<Boxes> boxes;  ///< only what lies in them or is freed by the change; none: all that the car file names
  HeldTurn under;              ///< in which figures of load are read
  ResetOptions reset;
  /// What geometry of one axle is to be good with, too: the worst case counts. Other figures are told as set.
  std::vector<Disturbance> also_good_with{};
  WishOrder wishes{};  ///< against the setup that camber, toe and droop are put back to
  std::size_t results = 12;
  std::size_t most_judged_whole = 60'000;  ///< candidates that are put on their springs; then the search ends
  unsigned threads = 0;                    ///< 0: as many as the machine has
};

struct RecipeResult {
  std::vector<PartChange> changes;  ///< empty: what sets it directly does it alone
  Setup setup;                      ///< with everything put back, turns rounded as a hand does them
  ResetResult alignment;
  BenchReset bench;
  std::vector<double> gives;         ///< by aim: read off `setup` (of geometry the worst case): what is told
  std::vector<double> reached;       ///< by aim: of geometry with exact turns (the worst case), of load in that setup
  std::optional<FeltOfWishes> felt;  ///< where something is wished
  /// Root of the sum of squares of (reached - wanted) / tolerance over what is wanted; each wish that does not hold for
  /// its share of the tyres adds more than 1.
  double miss = 0.0;
  double told_miss = 0.0;  ///< the same of what it gives
  BenchWork work;

  /// Everything that was wanted is met to its tolerance, with turns as a hand does them.
  [[nodiscard]] bool meets() const { return told_miss <= 1.0; }
};

struct Recipe {
  std::uint64_t of = 0;      ///< how many candidates there are within the bound
  std::uint64_t judged = 0;  ///< combinations of one axle, and candidates judged whole; the rest is left out by proof
  /// How many keep what is held, the threads and the boxes; none: not all were counted.
  std::optional<std::uint64_t> allowed;
  /// Where something is wished: of how many what the driver would feel was foretold, and how many were read whole.
  std::uint64_t foretold = 0, read_whole = 0;
  bool stopped = false;  ///< by the asker
  bool complete = true;  ///< no candidate that is not told comes closer, or as close with less work
  /// Those that meet the aims first, least work first; then by closeness. One that would reach the same without one of
  /// its changes is left out.
  /// One that leaves the car as far from what is wanted as it is without is none.
  std::vector<RecipeResult> results;
  /// What more work buys: each takes longer and comes closer than the one before, up to the first that meets the aims.
  std::vector<RecipeResult> front;
};

/// Why nothing is told, as a sentence, and what would help; empty: something is.
std::string why_none(const Recipe& recipe, const RecipeOrder& asked);

/// How many candidates an order has.
std::uint64_t candidates_of(const Car& car, const Setup& start, const RecipeOrder& order);

/// How many of an axle's combinations have to be judged for it, at most: what a search costs.
std::uint64_t axle_combinations_of(const Car& car, const Setup& start, const RecipeOrder& order);

/// Whether front and rear may be asked to be alike in it: both axles have it, and nothing sets it by itself (which of
/// the two would follow the other is for the racer to say, with a value at that axle).
bool can_be_alike(const FigureSpec& figure, const Car& car);

/// Parts of an end that a recipe may change: all but what the re-set turns.
std::vector<PartHandle> recipe_parts(const Car& car, End end);

/// `before`: what camber, toe, droop and end points are put back to; `start`: the setup that is changed. `progress` is
/// told the share done, from any thread; false stops. `so_far`: where something is wished, what was read until then.
/// Fails with a sentence when the order makes no sense or `start` cannot stand.
tl::expected<Recipe, CarFailure> find_recipe(const Car& car, const Setup& before, const Setup& start,
                                             const RecipeOrder& order, const std::function<bool(double)>& progress = {},
                                             const std::function<void(const Recipe&)>& so_far = {});

}  // namespace lowkite
