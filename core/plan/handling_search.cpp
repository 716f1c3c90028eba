#include "core/plan/handling_search.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>

#include "core/plan/bench_reset.hpp"
#include "core/plan/bench_work.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr int farthest_step = 4;
constexpr std::size_t worked_out_each = 24;  ///< of those with one part, with two, with three
constexpr std::size_t pairs_extended = 150;
constexpr int alike = 3;              ///< settings of the same parts that are worked out
constexpr double strongest = 6.0;     ///< beyond it more is no better
constexpr double says_little = 0.25;  ///< of what can just be felt: less than that of every wish is no help to others

constexpr std::array<std::string_view, handling_want_count> want_ids{"more", "not_less", "same", "not_more", "less"};

double unknown() {
  return std::numeric_limits<double>::quiet_NaN();
}

/// What a wish is about, tyre by tyre; not a number where a tyre has no answer.
std::vector<double> read(const HandlingWish& wish, const Handling& handling) {
  std::vector<double> values(handling.size(), unknown());
  for (std::size_t i = 0; i < handling.size(); ++i)
    if (handling[i])
      values[i] =
          spec_of(wish.figure).read(handling[i]->phase[static_cast<std::size_t>(wish.phase)]).value_or(unknown());
  return values;
}

/// By wish and tyre.
using Differences = std::vector<std::vector<double>>;

struct Judged {
  double share = 1.0, strong = 0.0;
};

class Judge {
 public:
  Judge(const std::vector<HandlingWish>& wishes, std::span<const double> weights, std::size_t tyres)
      : wishes_(wishes), weights_(weights.begin(), weights.end()) {
    if (weights_.empty()) weights_.assign(tyres, 1.0);
    weights_.resize(tyres, 0.0);
    for (const double w : weights_) total_ += w;
  }
  [[nodiscard]] Judged judge(const Differences& by) const {
    Judged j;
    int wanted = 0;
    for (std::size_t k = 0; k < wishes_.size(); ++k) {
      const HandlingWish& wish = wishes_[k];
      const double felt = spec_of(wish.figure).felt;
      double holding = 0.0, far = 0.0;
      for (std::size_t i = 0; i < weights_.size(); ++i) {
        const double d = by[k][i];
        if (!std::isfinite(d)) continue;
        if (holds(wish, d)) holding += weights_[i];
        far += weights_[i] * std::clamp(d / felt, -strongest, strongest);
      }
      j.share = std::min(j.share, holding / total_);
      if (wish.want == HandlingWant::more || wish.want == HandlingWant::less) {
        j.strong += (wish.want == HandlingWant::more ? far : -far) / total_;
        ++wanted;
      }
    }
    if (wanted > 0) j.strong /= wanted;
    return j;
  }

 private:
  std::vector<HandlingWish> wishes_;
  std::vector<double> weights_;
  double total_ = 0.0;
};

/// A part moved to a value, and what that is foretold to move.
struct Move {
  PartHandle adjuster;
  double to = 0.0;
  Differences by;
  bool helps = false;  ///< moves something that is wished about, so that it may be worth combining
};
struct Candidate {
  std::array<int, 3> move{-1, -1, -1};  ///< places in the list of moves
  Judged judged;
  double minutes = 0.0;
};

}  // namespace

std::string_view id_of(HandlingWant want) {
  return want_ids[static_cast<std::size_t>(want)];
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

tl::expected<HandlingFinds, CarFailure> search_handling(
    const Car& car, const Setup& before, const Setup& from, const CornerAsk& ask, std::span<const TyreDraw> tyres,
    std::span<const double> weights, const HandlingSearch& search, unsigned threads,
    const std::function<bool(double, const HandlingFinds&)>& go_on) {
  HandlingFinds finds;
  const bool moved = before != from;
  const auto wants = [](const HandlingWish& w) { return w.want == HandlingWant::more || w.want == HandlingWant::less; };
  if (search.wishes.empty() || (!moved && std::none_of(search.wishes.begin(), search.wishes.end(), wants)))
    return cannot(moved ? say("nothing is wished")
                        : say("nothing is changed against the baseline: wish something to be more or less"));
  const auto table = tabulate(car, from, ask, threads);
  if (!table) return tl::unexpected(table.error());
  const Handling here = handling_over(*table, tyres, threads);
  Handling there = here;
  if (moved) {
    const auto pinned = tabulate(car, before, ask, threads);
    if (!pinned) return tl::unexpected(pinned.error());
    there = handling_over(*pinned, tyres, threads);
  }
  const Judge judge(search.wishes, weights, tyres.size());
  std::vector<std::vector<double>> now, was;
  for (const HandlingWish& w : search.wishes) {
    now.push_back(read(w, here));
    was.push_back(read(w, there));
  }

  // One step of every part, each way; further steps in proportion.
  std::vector<Move> moves;
  constexpr double half = 0.6;
  const bool whole = each_step(
      car, from, ask, *table, tyres, search.may, true, threads,
      [&](double share) { return !go_on || go_on(half * share, finds); },
      [&](const PartStep& step) {
        const Adjuster& a = car.adjusters[step.adjuster];
        const int way = step.to > step.from ? 1 : -1;
        double last = step.from;
        for (int n = 1; n <= farthest_step; ++n) {
          const double to = a.stepped(step.from, way * n);
          if (to == last) break;
          last = to;
          Move m{step.adjuster, to, {}};
          for (std::size_t k = 0; k < search.wishes.size(); ++k) {
            auto by = read(search.wishes[k], step.after);
            for (std::size_t i = 0; i < by.size(); ++i) by[i] = n * (by[i] - now[k][i]);
            const double little = says_little * spec_of(search.wishes[k].figure).felt;
            m.helps = m.helps || std::count_if(by.begin(), by.end(), [&](double d) { return std::abs(d) > little; }) >
                                     static_cast<std::ptrdiff_t>(by.size() / 4);
            m.by.push_back(std::move(by));
          }
          moves.push_back(std::move(m));
        }
      });
  if (!whole) return finds;

  // What is foretold of combinations.
  std::array<std::vector<Candidate>, 3> candidates;
  Differences sum(search.wishes.size(), std::vector<double>(tyres.size()));
  std::vector<PartHandle> changed;
  const auto foretell = [&](std::array<int, 3> of) {
    changed.clear();
    for (std::size_t k = 0; k < sum.size(); ++k)
      for (std::size_t i = 0; i < tyres.size(); ++i) {
        double d = now[k][i] - was[k][i];
        for (const int m : of)
          if (m >= 0) d += moves[static_cast<std::size_t>(m)].by[k][i];
        sum[k][i] = d;
      }
    for (const int m : of)
      if (m >= 0) changed.push_back(moves[static_cast<std::size_t>(m)].adjuster);
    ++finds.foretold;
    return Candidate{of, judge.judge(sum), work_for(car, changed, 0).minutes};
  };
  const auto better = [&](const Candidate& a, const Candidate& b) {
    const double sa = std::min(a.judged.share, search.share), sb = std::min(b.judged.share, search.share);
    return sa != sb ? sa > sb : a.judged.strong > b.judged.strong;
  };
  const auto count = static_cast<int>(moves.size());
  for (int i = 0; i < count; ++i) candidates[0].push_back(foretell({i, -1, -1}));
  const auto other = [&](int a, int b) {
    const Move &one = moves[static_cast<std::size_t>(a)], &two = moves[static_cast<std::size_t>(b)];
    return one.adjuster != two.adjuster && one.helps && two.helps;
  };
  if (search.most_parts >= 2)
    for (int i = 0; i < count; ++i) {
      if (go_on && i % 16 == 0 && !go_on(half, finds)) return finds;
      for (int k = i + 1; k < count; ++k)
        if (other(i, k)) candidates[1].push_back(foretell({i, k, -1}));
    }
  std::stable_sort(candidates[0].begin(), candidates[0].end(), better);
  std::stable_sort(candidates[1].begin(), candidates[1].end(), better);
  if (search.most_parts >= 3)
    for (std::size_t p = 0; p < std::min(pairs_extended, candidates[1].size()); ++p) {
      if (go_on && p % 16 == 0 && !go_on(half, finds)) return finds;
      const auto of = candidates[1][p].move;
      for (int k = 0; k < count; ++k)
        if (other(of[0], k) && other(of[1], k)) candidates[2].push_back(foretell({of[0], of[1], k}));
    }
  std::stable_sort(candidates[2].begin(), candidates[2].end(), better);

  // The best of them are worked out whole: half of them the strongest, half the quickest on the bench.
  std::vector<Candidate> chosen;
  for (auto& list : candidates) {
    const std::size_t strongest_ones = std::min(list.size(), worked_out_each / 2);
    std::stable_sort(list.begin() + static_cast<std::ptrdiff_t>(strongest_ones), list.end(),
                     [&](const Candidate& a, const Candidate& b) {
                       const bool ra = a.judged.share >= search.share, rb = b.judged.share >= search.share;
                       if (ra != rb) return ra;
                       return ra ? a.minutes < b.minutes : better(a, b);
                     });
    std::map<std::array<PartHandle, 3>, int> known;
    for (std::size_t i = 0, taken = 0; i < list.size() && taken < worked_out_each; ++i) {
      std::array<PartHandle, 3> parts;
      for (std::size_t k = 0; k < 3; ++k)
        if (list[i].move[k] >= 0) parts[k] = moves[static_cast<std::size_t>(list[i].move[k])].adjuster;
      std::sort(parts.begin(), parts.end());
      if (++known[parts] > alike) continue;
      chosen.push_back(list[i]);
      ++taken;
    }
  }
  // A part more that brings nothing is none.
  const auto idle_beside = [&](const HandlingFind& more, const HandlingFind& less) {
    return less.steps.size() < more.steps.size() && less.strong >= more.strong - 0.5 &&
           less.share >= std::min(more.share, search.share) &&
           std::all_of(less.steps.begin(), less.steps.end(), [&](const HandlingFind::Step& s) {
             return std::any_of(more.steps.begin(), more.steps.end(),
                                [&](const HandlingFind::Step& t) { return t.adjuster == s.adjuster && t.to == s.to; });
           });
  };
  const auto told_of = [&](HandlingFind& f, const Handling& after) {
    Differences by;
    for (std::size_t k = 0; k < search.wishes.size(); ++k) {
      const HandlingWish& wish = search.wishes[k];
      auto d = read(wish, after);
      for (std::size_t i = 0; i < d.size(); ++i) d[i] -= was[k][i];
      by.push_back(std::move(d));
      const auto difference = difference_of(spec_of(wish.figure), wish.phase, there, after, tyres, weights);
      if (!difference) return false;
      f.by.push_back(*difference);
    }
    const Judged judged = judge.judge(by);
    f.share = judged.share;
    f.strong = judged.strong;
    return true;
  };
  // What is changed already may do.
  if (HandlingFind as_it_is; moved) {
    as_it_is.setup = from;
    if (told_of(as_it_is, here)) finds.found.push_back(std::move(as_it_is));
  }
  const auto order = [&](const HandlingFind& a, const HandlingFind& b) {
    const bool ra = a.share >= search.share, rb = b.share >= search.share;
    if (ra != rb) return ra;
    if (!ra) return a.share > b.share;
    return a.minutes != b.minutes ? a.minutes < b.minutes : a.strong > b.strong;
  };
  for (std::size_t c = 0; c < chosen.size(); ++c) {
    if (go_on && !go_on(half + (1.0 - half) * static_cast<double>(c) / static_cast<double>(chosen.size()), finds))
      return finds;
    HandlingFind f;
    Setup stepped = from;
    for (const int m : chosen[c].move)
      if (m >= 0) {
        const Move& move = moves[static_cast<std::size_t>(m)];
        f.steps.push_back({move.adjuster, from.of(move.adjuster).left, move.to});
        stepped.of(move.adjuster) = {move.to, move.to};
      }
    if (std::any_of(finds.found.begin(), finds.found.end(), [&](const HandlingFind& known) {
          return known.steps.size() == f.steps.size() &&
                 std::equal(known.steps.begin(), known.steps.end(), f.steps.begin(),
                            [](const auto& a, const auto& b) { return a.adjuster == b.adjuster && a.to == b.to; });
        }))
      continue;
    f.setup = put_back_by_hand(car, before, stepped);
    const auto made = tabulate(car, f.setup, ask, threads);
    if (!made) continue;
    const Handling after = handling_over(*made, tyres, threads);
    if (!told_of(f, after)) continue;
    f.minutes = chosen[c].minutes;
    ++finds.worked_out;
    if (std::any_of(finds.found.begin(), finds.found.end(),
                    [&](const HandlingFind& known) { return idle_beside(f, known); }))
      continue;
    std::erase_if(finds.found, [&](const HandlingFind& known) { return idle_beside(known, f); });
    finds.found.insert(std::upper_bound(finds.found.begin(), finds.found.end(), f, order), std::move(f));
  }
  return finds;
}

}  // namespace lowkite
