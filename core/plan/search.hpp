// The one search over parts: every combination of allowed values of so many parts, judged by whoever knows what a
// figure of it is - geometry (recipe.cpp) or the car on its springs (load_recipe.cpp).
//
// Exhaustive within its bound. Threads share out the first change; each keeps its best, so that the list is the same
// whatever their number.
#pragma once

#include <array>
#include <atomic>
#include <cmath>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

#include "core/plan/recipe.hpp"

namespace lowkite {

/// What may be changed, and how many of it at once.
struct SearchSpace {
  std::vector<int> parts;  ///< adjusters; those that move no figure last
  int most_parts = 2;
  std::vector<bool> idle{};  ///< by part: moves no figure that is asked for; empty: none is known to
};

/// How many candidates a space has: sums of products of the numbers of values.
std::uint64_t candidates_in(const Car& car, const Setup& start, const SearchSpace& space);

/// What a figure is to be, whatever it is.
struct AimRange {
  double value = 0.0;
  double tolerance = 0.1;  ///< wanted: what counts as met; held: beyond it a candidate is none
  bool hold = false;
};

/// Root of the sum of squares of (figure - wanted) / tolerance over what is wanted.
double miss_of(const std::vector<AimRange>& aims, const std::vector<double>& figures);
bool keeps_what_is_held(const std::vector<AimRange>& aims, const std::vector<double>& figures);

struct SearchOrder {
  std::vector<AimRange> aims;
  std::size_t keep = 12;           ///< how many of the best
  unsigned threads = 0;            ///< 0: as many as the machine has
  double same = 1e-7;              ///< figures this close are the same, whatever their unit
  std::uint64_t tell_every = 512;  ///< candidates between two words to the asker
  /// Whether the parts at hand can make these changes; none: anything goes.
  std::function<bool(const std::vector<RecipeChange>&)> allowed{};
  /// The figures with nothing changed; a candidate that gives the same is not worth telling. None: it is.
  std::optional<std::vector<double>> unchanged{};
};

/// A candidate that is worth telling.
struct Found {
  double miss = 0.0;
  double minutes = 0.0;
  std::vector<RecipeChange> changes;
  std::vector<double> reached;  ///< by aim

  /// Those that meet the aims come first, least work first; the rest by how close they come.
  [[nodiscard]] std::array<double, 3> key() const {
    return miss <= 1.0 ? std::array{0.0, minutes, miss} : std::array{miss, minutes, miss};
  }
  /// By the key; those alike in it by their changes, so that the order is the same in every run.
  bool operator<(const Found& other) const;
};

struct SearchResult {
  std::vector<Found> best;  ///< sorted
  std::uint64_t judged = 0;
  std::uint64_t of = 0;
  std::uint64_t allowed = 0;  ///< that kept what is held and can be made
  bool stopped = false;
};

namespace search_detail {

/// `Judge`: `bool judge(const std::vector<double>& values, std::vector<double>& figures)`, values parallel to the
/// space's parts; false where the car cannot be like that. One is made for each thread.
template <class Judge>
class Search {
 public:
  Search(const Car& car, const Setup& start, const SearchSpace& space, const SearchOrder& order,
         const std::function<Judge()>& make, const std::function<bool(double)>& progress)
      : car_(car), start_(start), space_(space), order_(order), make_(make), progress_(progress) {
    for (const int part : space.parts)
      values_.push_back(car.adjusters[static_cast<std::size_t>(part)].values_besides(start.at_index(part).left));
    for (std::size_t i = 0; i < values_.size(); ++i)
      for (std::size_t j = 0; j < values_[i].size(); ++j) tasks_.emplace_back(i, j);
    total_ = candidates_in(car, start, space);
  }

  SearchResult run() {
    unsigned threads = order_.threads > 0 ? order_.threads : std::max(1u, std::thread::hardware_concurrency());
    threads = static_cast<unsigned>(std::min<std::size_t>(threads, std::max<std::size_t>(1, tasks_.size())));
    {
      std::vector<std::jthread> crew;
      for (unsigned i = 1; i < threads; ++i) crew.emplace_back([this] { work(); });
      work();
    }
    std::sort(best_.begin(), best_.end());
    if (best_.size() > order_.keep) best_.resize(order_.keep);
    return {std::move(best_), judged_, total_, allowed_, stop_};
  }

 private:
  /// One thread's own.
  struct Hand {
    Judge judge;
    std::vector<double> values;
    std::vector<double> figures;
    std::vector<RecipeChange> changes;
    std::vector<int> changed;
    std::vector<Found> best;
    std::vector<double> without;
    std::uint64_t judged = 0;
    std::uint64_t allowed = 0;
    bool allowed_now = false;  ///< what stands in `values`
  };

  void work() {
    Hand hand{make_(), {}, {}, {}, {}, {}, {}};
    for (const int part : space_.parts) hand.values.push_back(start_.at_index(part).left);
    for (std::size_t task = next_++; task < tasks_.size() && !stop_; task = next_++) {
      const auto [part, value] = tasks_[task];
      change(hand, part, values_[part][value]);
    }
    tell(hand);
    const std::scoped_lock lock(results_);
    std::move(hand.best.begin(), hand.best.end(), std::back_inserter(best_));
  }

  [[nodiscard]] bool idle(std::size_t part) const { return !space_.idle.empty() && space_.idle[part]; }

  void change(Hand& hand, std::size_t part, double value) {
    const int adjuster = space_.parts[part];
    const double before = hand.values[part];
    hand.values[part] = value;
    hand.changes.push_back({adjuster, before, value});
    hand.changed.push_back(adjuster);
    const bool allowed_before = hand.allowed_now;
    // With an idle part on top the figures stay, and whoever reads the list need not see it again.
    if (idle(part) && hand.changes.size() > 1) {
      if (++hand.judged % order_.tell_every == 0) tell(hand);
      if (hand.allowed_now) ++hand.allowed;
    } else {
      judge(hand);
    }
    if (hand.changes.size() < static_cast<std::size_t>(space_.most_parts))
      for (std::size_t next = part + 1; next < values_.size() && !stop_; ++next)
        for (const double v : values_[next]) {
          if (stop_) break;
          change(hand, next, v);
        }
    hand.allowed_now = allowed_before;
    hand.changed.pop_back();
    hand.changes.pop_back();
    hand.values[part] = before;
  }

  void judge(Hand& hand) {
    if (++hand.judged % order_.tell_every == 0) tell(hand);
    hand.allowed_now = false;
    if (!hand.judge.judge(hand.values, hand.figures) || !keeps_what_is_held(order_.aims, hand.figures)) return;
    if (order_.allowed && !order_.allowed(hand.changes)) return;
    ++hand.allowed;
    hand.allowed_now = true;
    if (order_.unchanged && alike(hand.figures, *order_.unchanged)) return;
    Found f{miss_of(order_.aims, hand.figures), work_for(car_, hand.changed, 0).minutes, {}, {}};
    const bool full = hand.best.size() >= order_.keep;
    if (full && f.key() > hand.best.back().key()) return;  // nearly all end here: nothing is copied for them
    f.changes = hand.changes;
    if (full && !(f < hand.best.back())) return;
    if (idles(hand)) return;
    f.reached = hand.figures;
    hand.best.insert(std::upper_bound(hand.best.begin(), hand.best.end(), f), std::move(f));
    if (hand.best.size() > order_.keep) hand.best.pop_back();
  }

  [[nodiscard]] bool alike(const std::vector<double>& a, const std::vector<double>& b) const {
    for (std::size_t i = 0; i < a.size(); ++i)
      if (!(std::abs(a[i] - b[i]) < order_.same)) return false;
    return true;
  }

  /// True when one of the changes could be left out with the same result: whoever reads the list need not see it again
  /// with every spring. Not where that change frees shims that the others need.
  bool idles(Hand& hand) {
    if (hand.changes.size() < 2) return false;
    for (std::size_t k = 0; k < hand.changes.size(); ++k) {
      const RecipeChange c = hand.changes[k];
      const auto part = static_cast<std::size_t>(std::find(space_.parts.begin(), space_.parts.end(), c.adjuster) -
                                                 space_.parts.begin());
      hand.values[part] = c.from;
      const bool stands = hand.judge.judge(hand.values, hand.without);
      hand.values[part] = c.to;
      if (!stands || !alike(hand.figures, hand.without)) continue;
      std::vector<RecipeChange> rest = hand.changes;
      rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(k));
      if (!order_.allowed || order_.allowed(rest)) return true;
    }
    return false;
  }

  void tell(Hand& hand) {
    judged_ += std::exchange(hand.judged, 0);
    allowed_ += std::exchange(hand.allowed, 0);
    if (!progress_) return;
    const std::scoped_lock lock(progress_lock_);
    if (!stop_ && !progress_(static_cast<double>(judged_) / static_cast<double>(std::max<std::uint64_t>(1, total_))))
      stop_ = true;
  }

  const Car& car_;
  const Setup& start_;
  const SearchSpace& space_;
  const SearchOrder& order_;
  const std::function<Judge()>& make_;
  const std::function<bool(double)>& progress_;
  std::vector<std::vector<double>> values_;
  std::vector<std::pair<std::size_t, std::size_t>> tasks_;
  std::uint64_t total_ = 0;
  std::atomic<std::size_t> next_ = 0;
  std::atomic<std::uint64_t> judged_ = 0;
  std::atomic<std::uint64_t> allowed_ = 0;
  std::atomic<bool> stop_ = false;
  std::mutex progress_lock_;
  std::mutex results_;
  std::vector<Found> best_;
};

}  // namespace search_detail

/// `make` makes a judge for a thread. `progress` is told the share done, from any thread; false stops.
template <class Judge>
SearchResult search_parts(const Car& car, const Setup& start, const SearchSpace& space, const SearchOrder& order,
                          const std::function<Judge()>& make, const std::function<bool(double)>& progress) {
  return search_detail::Search<Judge>(car, start, space, order, make, progress).run();
}

}  // namespace lowkite
