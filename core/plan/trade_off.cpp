#include "core/plan/trade_off.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

/// Of the second want against the first.
constexpr std::array weights{1e-6, 1.0 / 8.0, 1.0 / 3.0, 1.0, 3.0, 8.0, 1e6};
/// So small that nothing is near enough: what is near enough would be told by its work.
constexpr double never_near_enough = 1e-6;
constexpr double the_same = 0.1;

}  // namespace

std::optional<std::pair<std::size_t, std::size_t>> two_wants(const RecipeOrder& order) {
  if (order.wishes.asked()) return std::nullopt;  // what is felt is too long to be read for each weight
  std::vector<std::size_t> wants;
  for (std::size_t i = 0; i < order.aims.size(); ++i)
    if (!order.aims[i].hold) wants.push_back(i);
  if (wants.size() != 2) return std::nullopt;
  return std::pair(wants[0], wants[1]);
}

tl::expected<TradeOff, CarFailure> find_trade_off(const Car& car, const Setup& before, const Setup& start,
                                                  const RecipeOrder& order,
                                                  const std::function<bool(double)>& progress) {
  const auto wants = two_wants(order);
  if (!wants) return cannot(say("a trade-off is of two figures that are wanted; hold the others"));
  TradeOff t;
  std::tie(t.first, t.second) = *wants;
  std::vector<RecipeResult> all;
  for (std::size_t k = 0; k < weights.size() && !t.stopped; ++k) {
    RecipeOrder weighed = order;
    // A want counts by its tolerance: the wider, the less.
    weighed.aims[t.first].tolerance *= never_near_enough * std::sqrt(weights[k]);
    weighed.aims[t.second].tolerance *= never_near_enough / std::sqrt(weights[k]);
    const auto part = [&](double share) {
      return !progress || progress((static_cast<double>(k) + share) / static_cast<double>(weights.size()));
    };
    auto found = find_recipe(car, before, start, weighed, part);
    if (!found) return tl::unexpected(found.error());
    t.stopped = found->stopped;
    t.complete = t.complete && found->complete;
    for (RecipeResult& r : found->results) all.push_back(std::move(r));
  }
  const auto off_by = [&](double figure, std::size_t aim) {
    return std::abs(figure - order.aims[aim].range().value) / order.aims[aim].tolerance;
  };
  const auto off = [&](const RecipeResult& r, std::size_t aim) { return off_by(r.reached[aim], aim); };
  std::stable_sort(all.begin(), all.end(), [&](const RecipeResult& a, const RecipeResult& b) {
    if (off(a, t.first) != off(b, t.first)) return off(a, t.first) < off(b, t.first);
    if (off(a, t.second) != off(b, t.second)) return off(a, t.second) < off(b, t.second);
    return a.work.minutes < b.work.minutes;
  });
  // From the nearest to the first want on, each must come nearer to the second than all before it.
  for (RecipeResult& r : all) {
    const bool nearer = t.points.empty() || off(r, t.second) < off(t.points.back(), t.second) - the_same;
    if (!nearer) continue;
    // As near to the first as the one before, and nearer to the second: that one is no point of its own.
    while (!t.points.empty() && off(r, t.first) - off(t.points.back(), t.first) < the_same) t.points.pop_back();
    r.miss = std::hypot(off(r, t.first), off(r, t.second));
    r.told_miss = std::hypot(off_by(r.gives[t.first], t.first), off_by(r.gives[t.second], t.second));
    t.points.push_back(std::move(r));
  }
  return t;
}

}  // namespace lowkite
