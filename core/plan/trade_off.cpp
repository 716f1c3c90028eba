#include "core/plan/trade_off.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

/// So small that nothing is near enough: what is near enough would be told by its work.
constexpr double never_near_enough = 1e-6;
/// What a want weighs that only decides between those alike in the other.
constexpr double hardly = 1e-6;
/// Of its tolerance.
constexpr double the_same = 0.1;
/// Where the two lie so far apart that there would be more, points are farther from each other.
constexpr int most_points = 24;

}  // namespace

std::optional<std::pair<std::size_t, std::size_t>> two_wants(const RecipeOrder& order) {
  if (order.wishes.asked()) return std::nullopt;  // what is felt takes too long to be read for each point
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
  const auto off_by = [&](double figure, std::size_t aim) {
    return std::abs(figure - order.aims[aim].range().value) / order.aims[aim].tolerance;
  };
  const auto off = [&](const RecipeResult& r, std::size_t aim) { return off_by(r.reached[aim], aim); };
  tl::expected<void, CarFailure> said;
  // The nearest to one want, of those alike in it the nearest to the other; of those within so much of the second.
  const auto nearest_to = [&](std::size_t near, std::size_t then, std::optional<double> within, double done,
                              double part) -> std::optional<RecipeResult> {
    RecipeOrder alone = order;
    // A want counts by its tolerance: the wider, the less.
    alone.aims[near].tolerance *= never_near_enough;
    alone.aims[then].tolerance *= never_near_enough / std::sqrt(hardly);
    if (within) {
      RecipeAim bound = order.aims[t.second];
      bound.hold = true;
      bound.tolerance *= *within;
      alone.aims.push_back(bound);
    }
    auto found = find_recipe(car, before, start, alone,
                             [&](double share) { return !progress || progress(done + part * share); });
    if (!found) {
      said = tl::unexpected(found.error());
      return std::nullopt;
    }
    t.stopped = t.stopped || found->stopped;
    t.complete = t.complete && found->complete;
    const auto nearer = [&](const RecipeResult& a, const RecipeResult& b) {
      if (std::abs(off(a, near) - off(b, near)) > hardly) return off(a, near) < off(b, near);
      if (std::abs(off(a, then) - off(b, then)) > hardly) return off(a, then) < off(b, then);
      return a.work.minutes < b.work.minutes;
    };
    const auto best = std::min_element(found->results.begin(), found->results.end(), nearer);
    if (best == found->results.end()) return std::nullopt;
    best->gives.resize(order.aims.size());
    best->reached.resize(order.aims.size());
    return std::move(*best);
  };
  constexpr double of_one = 1.0 / (most_points + 2);
  auto point = nearest_to(t.first, t.second, std::nullopt, 0.0, of_one);
  const auto last = point && !t.stopped ? nearest_to(t.second, t.first, std::nullopt, of_one, of_one) : std::nullopt;
  const double to_go = point && last ? off(*point, t.second) - off(*last, t.second) : 0.0;
  const double apart = std::max(the_same, to_go / most_points);
  double alike_from = 0.0;
  const auto take = [&](RecipeResult r) {
    // As near to the first as the one before, and nearer to the second: that one is no point of its own.
    const double here = off(r, t.first);
    if (!t.points.empty() && here - alike_from < the_same)
      t.points.pop_back();
    else
      alike_from = here;
    t.points.push_back(std::move(r));
  };
  while (point) {
    const double here = off(*point, t.second);
    take(std::move(*point));
    point.reset();
    if (t.stopped || !last || here - apart < off(*last, t.second)) break;
    // The next one is nearer to the second by so much at least, and of those the nearest to the first.
    const double gone = (off(t.points.front(), t.second) - here) / to_go;
    const double done = 2.0 * of_one + (1.0 - 2.0 * of_one) * std::max(0.0, gone);
    point = nearest_to(t.first, t.second, here - apart, done, (1.0 - 2.0 * of_one) * apart / to_go);
  }
  if (!said) return tl::unexpected(said.error());
  if (last && !t.stopped && !t.points.empty() && off(*last, t.second) < off(t.points.back(), t.second) - hardly)
    take(*last);
  for (RecipeResult& r : t.points) {
    r.miss = std::hypot(off(r, t.first), off(r, t.second));
    r.told_miss = std::hypot(off_by(r.gives[t.first], t.first), off_by(r.gives[t.second], t.second));
  }
  return t;
}

}  // namespace lowkite
