// What is told of a setup over many tyres, and of two setups over the same ones: medians with bands, and for how many
// tyres a change gives more or less of something. Where tyres disagree, which of their properties splits them.
#pragma once

#include <span>
#include <string_view>
#include <vector>

#include "core/handling/family.hpp"
#include "core/handling/trim.hpp"

namespace lowkite {

enum class HandlingFigure : std::uint8_t {
  front_left,  ///< grip left at the front
  rear_left,   ///< grip left at the rear
  limit,       ///< most lateral acceleration
  steering,    ///< servo angle needed
  understeer,  ///< how that grows with lateral acceleration
  reaction,    ///< time until the car turns as asked
  margin,      ///< static margin
  damping,     ///< yaw damping
  keeps,       ///< grip kept six degrees beyond its best, at the end that lets go
  least_load   ///< on the wheel that carries least
};
constexpr int handling_figure_count = 10;

struct HandlingFigureSpec {
  HandlingFigure figure;
  std::string_view id;
  std::string_view label;
  std::string_view unit;
  int decimals;
  double felt;  ///< a difference below this counts as none
  std::string_view meaning;
  std::optional<double> (*read)(const PhaseHandling&);  ///< in its unit
};
std::span<const HandlingFigureSpec> handling_figures();
const HandlingFigureSpec& spec_of(HandlingFigure figure);
/// By id; nullptr when there is no such.
const HandlingFigureSpec* find_handling_figure(std::string_view id);

/// Answers by tyre, parallel to the draws; none where a car did not turn at all.
using Handling = std::vector<std::optional<TyreHandling>>;

/// On how many tyres which end lets go first at the limit of a phase, and on how many the car leaves its wheels before.
struct LimitBy {
  int front = 0, rear = 0, stand = 0;

  [[nodiscard]] int tyres() const { return front + rear + stand; }
};
LimitBy limit_by(CornerPhase phase, const Handling& handling);

struct Spread {
  double median = 0.0, low = 0.0, high = 0.0;  ///< the middle, and where the middle 80 % lie
  int tyres = 0;                               ///< how many had an answer
};
/// `weights`: one a tyre; empty: all alike. None where fewer than a tenth of the tyres (by weight) have an answer.
std::optional<Spread> spread_of(const HandlingFigureSpec& figure, CornerPhase phase, const Handling& handling,
                                std::span<const double> weights = {});

/// Which property of the tyres splits a question best: with it above `at`, the share `above` says more, below it
/// `below`.
struct TyreSplit {
  TyreParameter parameter{};
  double at = 0.0;
  double above = 0.0, below = 0.0;  ///< share of the tyres there for which it is more, of those that say anything
  double explains = 0.0;            ///< of the disagreement, 0 to 1
};

struct HandlingDifference {
  Spread by;                       ///< after less before
  double more = 0.0, less = 0.0;   ///< shares of the tyres, by weight; what is left feels no difference
  std::optional<TyreSplit> split;  ///< where they disagree and something explains it
};
/// Precondition: all parallel to `tyres`. None as above.
std::optional<HandlingDifference> difference_of(const HandlingFigureSpec& figure, CornerPhase phase,
                                                const Handling& before, const Handling& after,
                                                std::span<const TyreDraw> tyres, std::span<const double> weights = {});

/// A difference by tyre, over the property of theirs that goes with it most: where racers of two schools stand.
struct DifferenceByTyre {
  TyreParameter parameter{};
  double goes_with = 0.0;  ///< correlation, -1 to 1
  struct Point {
    double property = 0.0, by = 0.0;
    std::size_t tyre = 0;
  };
  std::vector<Point> points;
};
/// The split's property where there is one, else the one that the difference correlates with most. None where fewer
/// than three tyres answer.
std::optional<DifferenceByTyre> difference_by_tyre(const HandlingFigureSpec& figure, CornerPhase phase,
                                                   const Handling& before, const Handling& after,
                                                   std::span<const TyreDraw> tyres);

/// What of a difference reaches the tyres by one way: the rest of the setup as before.
struct HandlingReason {
  Channel channel{};
  std::array<std::array<std::optional<double>, handling_figure_count>, phase_count> by{};  ///< medians
};
/// In the order of the channels; only those by which the setups differ. `tyres`: a few dozen will do.
std::vector<HandlingReason> reasons_for(const SetupTable& before, const SetupTable& after,
                                        std::span<const TyreDraw> tyres, unsigned threads = 2,
                                        const std::function<bool()>& go_on = {});
/// What each channel is worth to a setup: as it is, less as it would be without it.
std::vector<HandlingReason> worth_of(const SetupTable& table, std::span<const TyreDraw> tyres, unsigned threads = 2,
                                     const std::function<bool()>& go_on = {});

}  // namespace lowkite
