// Which parts to change so that the driver feels what he wishes: more front grip at entry and the rear no less at exit,
// for so many of the tyres; or the balance of the baseline again, with other springs.
//
// One step of every part is worked out each way. What several of them, or more steps, would do together is foretold by
// adding up, tyre by tyre; the best of what is foretold is then worked out whole, and only that is told.
#pragma once

#include <functional>
#include <vector>

#include "core/plan/handling_of_parts.hpp"

namespace lowkite {

/// A wish is against the setup that is compared with. A difference that can hardly be felt counts as none.
enum class HandlingWant : std::uint8_t { more, not_less, same, not_more, less };
struct HandlingWish {
  HandlingFigure figure = HandlingFigure::front_left;
  CornerPhase phase = CornerPhase::middle;
  HandlingWant want = HandlingWant::same;

  bool operator==(const HandlingWish&) const = default;
};
constexpr int handling_want_count = 5;
/// "more", "not_less", ...
std::string_view id_of(HandlingWant want);
/// Whether a difference, in the figure's unit, is what is wished.
bool holds(const HandlingWish& wish, double difference);

struct HandlingSearch {
  std::vector<HandlingWish> wishes;
  double share = 0.8;          ///< of the tyres, by weight, for which each wish is to hold
  int most_parts = 2;          ///< 1 to 3
  ListOf<Adjuster, char> may;  ///< whether a part may be changed; empty: every one
};

struct HandlingFind {
  struct Step {
    PartHandle adjuster;
    double from = 0.0, to = 0.0;
  };
  std::vector<Step> steps;  ///< empty: what is changed already
  Setup setup;              ///< with camber, toe and droop put back
  double share = 0.0;       ///< of the tyres for which the wish that holds for fewest holds
  double strong =
      0.0;  ///< how far it goes where more or less is wished, in units of what can just be felt, mean over wishes
  double minutes = 0.0;                ///< on the bench, re-setting not counted
  std::vector<HandlingDifference> by;  ///< parallel to the wishes
};

struct HandlingFinds {
  std::vector<HandlingFind> found;  ///< those that reach the share first, least work first; then the nearest
  int foretold = 0;                 ///< combinations that were judged by adding up
  int worked_out = 0;
};

/// `before`: what wishes are against; `from`: the setup whose parts are changed, which may be the same. `tyres`: a few
/// dozen will do. `go_on(share, so_far)` false stops: what was found is returned. Fails with a sentence where a setup
/// cannot be tabulated, or the wishes ask for nothing.
tl::expected<HandlingFinds, CarFailure> search_handling(
    const Car& car, const Setup& before, const Setup& from, const CornerAsk& ask, std::span<const TyreDraw> tyres,
    std::span<const double> weights, const HandlingSearch& search, unsigned threads = 2,
    const std::function<bool(double, const HandlingFinds&)>& go_on = {});

}  // namespace lowkite
