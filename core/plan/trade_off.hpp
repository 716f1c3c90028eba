// Two wants against each other: how much of the one the other costs.
#pragma once

#include "core/plan/recipe.hpp"

namespace lowkite {

struct TradeOff {
  std::size_t first = 0, second = 0;  ///< the two wants, by their places in the order's aims
  /// From the nearest to the first want to the nearest to the second: none is as near to both as another and nearer to
  /// one. Each is a whole result, as of `find_recipe`.
  std::vector<RecipeResult> points;
  bool stopped = false;
  bool complete = true;  ///< of the searches it is made of
};

/// The places of the wants of an order, when it has exactly two and the driver wishes nothing beside.
std::optional<std::pair<std::size_t, std::size_t>> two_wants(const RecipeOrder& order);

/// The front of the two wants, point by point: the nearest to the first want; then of those that are nearer to the
/// second than the last point the nearest to the first, and so on to the nearest to the second (the epsilon-constraint
/// method; Haimes, Lasdon and Wismer 1971, from memory). So no candidate is nearer to both than a told one, and none
/// lies between two that is worth telling: what is the same to a tenth of a tolerance is left out, and where the front
/// is long, to a part of it. Fails as `find_recipe` does, and where there are not exactly two wants.
tl::expected<TradeOff, CarFailure> find_trade_off(const Car& car, const Setup& before, const Setup& start,
                                                  const RecipeOrder& order,
                                                  const std::function<bool(double)>& progress = {});

}  // namespace lowkite
