// What would be worth having for what is wanted: searches with and without the boxes, held against each other.
#pragma once

#include <vector>

#include "core/plan/recipe.hpp"

namespace lowkite {

struct WorthBuying {
  std::vector<Lack> lacks;  ///< what has to be had together
  RecipeResult result;      ///< what is then done, and what it reaches
};

/// Of the results of a search without boxes those that come closer than any with what is at hand: the fewest pieces
/// first among those that meet what is wanted, then the closest. One for each list of things to buy. Empty where what
/// is at hand does it.
std::vector<WorthBuying> worth_buying(const Recipe& at_hand, const Recipe& with_all, const Stock& stock,
                                      std::size_t most = 6);

}  // namespace lowkite
