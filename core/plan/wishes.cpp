#include "core/plan/wishes.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>

#include "core/threads/crew.hpp"

namespace lowkite {
namespace {

constexpr std::array<std::string_view, handling_want_count> want_ids{"more", "not_less", "same", "not_more", "less"};
/// Of what can just be felt: less than that is no help to others.
constexpr double says_little = 0.25;
/// In units of what can just be felt: beyond it a wish is no farther away.
constexpr double farthest = 6.0;
constexpr double at_the_edge = 1e-9;
/// Shares are sums of weights.
constexpr double same_share = 1e-9;

double unknown() {
  return std::numeric_limits<double>::quiet_NaN();
}

/// How far a difference is on the side that is wished, in units of what can just be felt: `edge` and beyond holds.
struct Wished {
  double by = 0.0, edge = 0.0;
};
Wished as_wished(HandlingWant want, double d) {
  switch (want) {
    case HandlingWant::more:
      return {d, 1.0};
    case HandlingWant::not_less:
      return {d, -1.0};
    case HandlingWant::same:
      return {-std::abs(d), -1.0};
    case HandlingWant::not_more:
      return {-d, -1.0};
    case HandlingWant::less:
      return {-d, 1.0};
  }
  return {};
}

bool wants_change(HandlingWant want) {
  return want == HandlingWant::more || want == HandlingWant::less;
}

/// `margin`: so many times more than can be felt is asked of more and less, and so many times less allowed of others.
double shortfall(const HandlingWish& wish, std::span<const double> by, std::span<const double> weights, double total,
                 double share, double margin) {
  const double edge_by = wants_change(wish.want) ? 1.0 + margin : 1.0 / (1.0 + margin);
  const double enough = (share - same_share) * total;
  const auto does_hold = [&](double d) { return holds(wish, d / edge_by); };
  double holding = 0.0;
  for (std::size_t i = 0; i < by.size(); ++i)
    if (does_hold(by[i])) holding += weights[i];
  if (holding >= enough) return 0.0;
  // The others fall short by so much; the wish would hold for the share with the nearest of them.
  std::vector<std::pair<double, double>> short_by;
  short_by.reserve(by.size());
  for (std::size_t i = 0; i < by.size(); ++i) {
    if (does_hold(by[i])) continue;
    const Wished w = as_wished(wish.want, by[i] / spec_of(wish.figure).felt);
    const double off = std::isfinite(by[i]) ? std::clamp(w.edge * edge_by - w.by, at_the_edge, farthest) : farthest;
    short_by.emplace_back(off, weights[i]);
  }
  std::sort(short_by.begin(), short_by.end());
  for (const auto& [off, weight] : short_by) {
    holding += weight;
    if (holding >= enough) return off;
  }
  return farthest;
}

/// It is told of the limit, which takes longer.
bool is_of_the_limit(HandlingFigure figure) {
  return figure == HandlingFigure::limit || figure == HandlingFigure::keeps;
}

double sum_of(std::span<const double> values) {
  return std::accumulate(values.begin(), values.end(), 0.0);
}

}  // namespace

std::string_view id_of(HandlingWant want) {
  return want_ids[at(want)];
}

bool holds(const HandlingWish& wish, double d) {
  const double felt = spec_of(wish.figure).felt;
  switch (wish.want) {
    case HandlingWant::more:
      return d >= felt;
    case HandlingWant::not_less:
      return d > -felt;
    case HandlingWant::same:
      return std::abs(d) < felt;
    case HandlingWant::not_more:
      return d < felt;
    case HandlingWant::less:
      return d <= -felt;
  }
  return false;
}

bool WishOrder::asks_for_change() const {
  return std::any_of(wishes.begin(), wishes.end(), [](const HandlingWish& w) { return wants_change(w.want); });
}

double shortfall_of(const HandlingWish& wish, std::span<const double> by, std::span<const double> weights,
                    double share) {
  return shortfall(wish, by, weights, sum_of(weights), share, 0.0);
}

WishJudge::WishJudge(const Car& car, const WishOrder& order)
    : car_(&car), order_(&order), weights_(order.weights.begin(), order.weights.end()) {
  if (weights_.empty()) weights_.assign(order.tyres.size(), 1.0);
  weights_.resize(order.tyres.size(), 0.0);
  total_ = sum_of(weights_);
  for (const HandlingWish& w : order.wishes) {
    const auto phase = at(w.phase);
    wished_[phase] = true;
    to_the_limit_[phase] = to_the_limit_[phase] || is_of_the_limit(w.figure);
  }
  const PhaseReach short_of_it = reach_without_limits(order.ask);
  for (std::size_t i = 0; i < phase_count; ++i)
    reach_[i] = to_the_limit_[i] ? to_the_end : wished_[i] ? short_of_it[i] : 0.0;
}

tl::expected<Handling, CarFailure> WishJudge::over_tyres(const Setup& setup, unsigned threads) const {
  const auto table = tabulate(*car_, setup, order_->ask, threads, reach_);
  if (!table) return tl::unexpected(table.error());
  Handling over(order_->tyres.size());
  for_each_by_hands(over.size(), hands_of(threads), [&](std::size_t i) {
    TyreHandling on;
    for (std::size_t p = 0; p < phase_count; ++p) {
      if (!wished_[p]) continue;
      auto phase = phase_on(*table, order_->tyres[i], corner_phases[p], to_the_limit_[p]);
      if (!phase) return;
      on.phase[p] = std::move(*phase);
    }
    over[i] = std::move(on);
  });
  return over;
}

tl::expected<WishJudge, CarFailure> WishJudge::of(const Car& car, const Setup& before, const WishOrder& order,
                                                  unsigned threads) {
  WishJudge judge(car, order);
  auto over = judge.over_tyres(before, threads);
  if (!over) return tl::unexpected(over.error());
  judge.before_ = std::move(*over);
  judge.was_.assign(order.wishes.size() * order.tyres.size(), 0.0);
  judge.was_ = judge.differences_of(judge.before_);
  return judge;
}

WishJudge::Differences WishJudge::differences_of(const Handling& over) const {
  Differences by(was_.size(), unknown());
  const std::size_t tyres = order_->tyres.size();
  for (std::size_t k = 0; k < order_->wishes.size(); ++k) {
    const HandlingWish& wish = order_->wishes[k];
    for (std::size_t i = 0; i < tyres; ++i)
      if (over[i])
        by[k * tyres + i] =
            spec_of(wish.figure).read(over[i]->phase[at(wish.phase)]).value_or(unknown()) - was_[k * tyres + i];
  }
  return by;
}

std::optional<WishJudge::Reading> WishJudge::read(const Setup& setup) const {
  auto over = over_tyres(setup, 1);
  if (!over) return std::nullopt;
  Reading reading{std::move(*over), {}};
  reading.by = differences_of(reading.over);
  return reading;
}

std::optional<FeltOfWishes> WishJudge::told(const Reading& reading) const {
  FeltOfWishes felt;
  felt.share = 1.0;
  for (std::size_t k = 0; k < order_->wishes.size(); ++k) {
    const HandlingWish& wish = order_->wishes[k];
    const auto difference =
        difference_of(spec_of(wish.figure), wish.phase, before_, reading.over, order_->tyres, order_->weights);
    if (!difference) return std::nullopt;
    felt.by.push_back(*difference);
    double holding = 0.0;
    const auto by = of_wish(reading.by, k);
    for (std::size_t i = 0; i < by.size(); ++i)
      if (holds(wish, by[i])) holding += weights_[i];
    felt.share = std::min(felt.share, holding / total_);
  }
  return felt;
}

double WishJudge::squared_miss(std::span<const double> by, double margin) const {
  double sum = 0.0;
  for (std::size_t k = 0; k < order_->wishes.size(); ++k) {
    const double off = shortfall(order_->wishes[k], of_wish(by, k), weights_, total_, order_->share, margin);
    if (off > 0.0) sum += (1.0 + off) * (1.0 + off);
  }
  return sum;
}

bool WishJudge::keeps_what_is_held(std::span<const double> by) const {
  for (std::size_t k = 0; k < order_->wishes.size(); ++k)
    if (order_->wishes[k].hold && shortfall_of(order_->wishes[k], of_wish(by, k), weights_, order_->share) > 0.0)
      return false;
  return true;
}

bool WishJudge::says_something(std::span<const double> effect) const {
  for (std::size_t k = 0; k < order_->wishes.size(); ++k) {
    const double little = says_little * spec_of(order_->wishes[k].figure).felt;
    const auto by = of_wish(effect, k);
    if (std::count_if(by.begin(), by.end(), [&](double d) { return std::abs(d) > little; }) >
        static_cast<std::ptrdiff_t>(by.size() / 4))
      return true;
  }
  return false;
}

void WishForetelling::learn(const Part& part, const WishJudge::Differences& alone) {
  WishJudge::Differences effect(start_.size());
  for (std::size_t i = 0; i < effect.size(); ++i) effect[i] = alone[i] - start_[i];
  effect_.insert_or_assign(part, std::move(effect));
}

bool WishForetelling::says_something(const Part& part) const {
  const auto found = effect_.find(part);
  return found != effect_.end() && judge_->says_something(found->second);
}

std::optional<double> WishForetelling::squared_miss(std::span<const Part> parts, double margin) const {
  sum_ = start_;
  for (const Part& part : parts) {
    const auto found = effect_.find(part);
    if (found == effect_.end()) return std::nullopt;
    for (std::size_t i = 0; i < sum_.size(); ++i) sum_[i] += found->second[i];
  }
  return judge_->squared_miss(sum_, margin);
}

}  // namespace lowkite
