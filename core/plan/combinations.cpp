#include "core/plan/combinations.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <mutex>
#include <unordered_map>

#include "core/plan/bench_work.hpp"
#include "core/threads/crew.hpp"

namespace lowkite {
namespace {

constexpr std::uint64_t tell_every = 512;     // candidates between two words to the asker
constexpr std::uint64_t ask_every = 1 << 16;  // picks looked at between two questions whether to go on
constexpr std::size_t judged_at_once = 64;    // combinations handed to a group's judge together
constexpr std::size_t picks_at_once = 48;     // handed to the judge together
constexpr int index_bits = 21;                // of a candidate in its list: a pick is one number
constexpr double infinite = std::numeric_limits<double>::infinity();

/// Combinations of one group, walked by several threads that share out the first change.
class GroupWalk {
 public:
  GroupWalk(const Car& car, const ChangeGroup& group, const std::vector<double>& start, const GroupSearch& search)
      : car_(car), group_(group), start_(start), search_(search) {
    for (std::size_t i = 0; i < group.parts.size(); ++i)
      for (std::size_t j = 0; j < group.values[i].size(); ++j) tasks_.emplace_back(i, j);
  }

  CombinationList run(const std::function<GroupJudge()>& make) {
    const std::size_t crew_size = std::clamp<std::size_t>(search_.threads, 1, std::max<std::size_t>(1, tasks_.size()));
    by_hands(static_cast<unsigned>(crew_size), [&](unsigned) { work(make, crew_size); });
    list_.judged = judged_;
    list_.stopped = stop_;
    std::erase_if(list_.all,
                  [&](const Combination& c) { return is_deepest(c) && c.squared_miss > list_.least_left_out; });
    // However the threads shared them out.
    std::sort(list_.all.begin(), list_.all.end(), [](const Combination& a, const Combination& b) {
      return std::tie(a.count, a.part, a.value) < std::tie(b.count, b.part, b.value);
    });
    return std::move(list_);
  }

 private:
  struct Hand {
    GroupJudge judge;
    std::size_t room = 0;
    std::vector<double> values;
    Combination now;
    /// Walked to, and not judged yet; a combination comes after the one it adds a change to.
    std::vector<Combination> waiting;
    std::vector<double> waiting_values;
    std::vector<GroupJudgement> judgements;
    std::vector<Combination> kept;
    std::vector<PartHandle> changed;
    double least_left_out = infinite;
    std::uint64_t judged = 0;
    std::array<GroupJudgement, most_changes + 1> found;  ///< by number of changes, the last that was judged
  };

  void work(const std::function<GroupJudge()>& make, std::size_t crew_size) {
    Hand hand;
    hand.judge = make();
    constexpr std::size_t most_room = (std::size_t{1} << index_bits) - 2;
    hand.room = std::max<std::size_t>(1, std::min(search_.room, most_room) / crew_size);
    hand.values = start_;
    hand.judge(hand.values, std::span(hand.found).first(1));
    for (std::size_t task = next_++; task < tasks_.size() && !stop_; task = next_++)
      change(hand, tasks_[task].first, tasks_[task].second);
    judge(hand);
    tell(hand);
    const std::scoped_lock lock(lock_);
    if (!begun_) {
      begun_ = true;
      if (hand.found[0].stands) {
        Combination start;
        start.squared_miss = hand.found[0].squared_miss;
        start.added = hand.found[0].added;
        list_.all.push_back(start);
      }
    }
    list_.all.insert(list_.all.end(), hand.kept.begin(), hand.kept.end());
    list_.least_left_out = std::min(list_.least_left_out, hand.least_left_out);
  }

  void change(Hand& hand, std::size_t part, std::size_t value) {
    const double before = hand.values[part];
    const std::size_t depth = hand.now.count;
    hand.values[part] = group_.values[part][value];
    hand.now.part[depth] = static_cast<std::uint8_t>(part);
    hand.now.value[depth] = static_cast<std::uint16_t>(value);
    ++hand.now.count;
    hand.waiting.push_back(hand.now);
    hand.waiting_values.insert(hand.waiting_values.end(), hand.values.begin(), hand.values.end());
    if (hand.waiting.size() == judged_at_once) judge(hand);
    if (hand.now.count < search_.most)
      for (std::size_t next = part + 1; next < group_.parts.size() && !stop_; ++next)
        for (std::size_t v = 0; v < group_.values[next].size() && !stop_; ++v) change(hand, next, v);
    --hand.now.count;
    hand.now.part[depth] = 0;
    hand.now.value[depth] = 0;
    hand.values[part] = before;
  }

  /// Judges what waits.
  void judge(Hand& hand) {
    const std::size_t count = hand.waiting.size();
    if (count == 0) return;
    if (hand.judgements.size() < count) hand.judgements.resize(count);
    hand.judge(hand.waiting_values, std::span(hand.judgements).first(count));
    for (std::size_t i = 0; i < count; ++i) keep(hand, hand.waiting[i], hand.judgements[i]);
    hand.waiting.clear();
    hand.waiting_values.clear();
    hand.judged += count;
    if (hand.judged >= tell_every) tell(hand);
  }

  void keep(Hand& hand, Combination& c, GroupJudgement& judgement) {
    GroupJudgement& found = hand.found[c.count];
    std::swap(found, judgement);
    if (!found.stands) return;
    // The last change moves nothing here: the combination without it is as good, and nobody need see it again.
    const GroupJudgement& without = hand.found[c.count - 1u];
    if (!search_.idle_counts && without.stands && alike(found, without)) return;
    if (is_deepest(c) && found.squared_miss > hand.least_left_out) return;
    c.squared_miss = found.squared_miss;
    c.added = found.added;
    hand.changed.clear();
    for (std::size_t k = 0; k < c.count; ++k) hand.changed.push_back(group_.parts[c.part[k]]);
    c.minutes = work_for(car_, hand.changed, 0).minutes;
    hand.kept.push_back(c);
    if (hand.kept.size() > hand.room) make_room(hand);
  }

  /// Of as many changes as may be: by far the most of them.
  [[nodiscard]] bool is_deepest(const Combination& c) const { return c.count == search_.most; }

  /// The half stays that has fewer changes (what little work can do is told, however far off) or comes closest.
  void make_room(Hand& hand) const {
    const auto half = hand.kept.begin() + static_cast<std::ptrdiff_t>(hand.kept.size() / 2);
    std::nth_element(hand.kept.begin(), half, hand.kept.end(), [&](const Combination& a, const Combination& b) {
      return std::pair(is_deepest(a), a.squared_miss) < std::pair(is_deepest(b), b.squared_miss);
    });
    for (auto c = half; c != hand.kept.end(); ++c) hand.least_left_out = std::min(hand.least_left_out, c->squared_miss);
    hand.kept.erase(half, hand.kept.end());
  }

  [[nodiscard]] bool alike(const GroupJudgement& a, const GroupJudgement& b) const {
    if (std::abs(a.added - b.added) >= search_.same) return false;
    for (std::size_t i = 0; i < a.figures.size(); ++i)
      if (!(std::abs(a.figures[i] - b.figures[i]) < search_.same)) return false;
    return true;
  }

  void tell(Hand& hand) {
    const std::scoped_lock lock(lock_);
    judged_ += std::exchange(hand.judged, 0);
    if (!stop_ && search_.progress && !search_.progress(judged_)) stop_ = true;
  }

  const Car& car_;
  const ChangeGroup& group_;
  const std::vector<double>& start_;
  const GroupSearch& search_;
  std::vector<std::pair<std::size_t, std::size_t>> tasks_;
  std::atomic<std::size_t> next_ = 0;
  std::atomic<bool> stop_ = false;
  std::mutex lock_;
  bool begun_ = false;
  std::uint64_t judged_ = 0;
  CombinationList list_;
};

/// Candidates of a group with the same number of changes and the same work, the closest first.
struct WorkClass {
  int count = 0;
  double minutes = 0.0;
  std::vector<std::uint32_t> members;
};

class Join {
 public:
  Join(std::span<const CombinationList> groups, const JoinOrder& order) : groups_(groups), order_(order) {
    for (std::size_t g = 0; g < most_groups; ++g) classes_[g] = classes_of(g);
    for (std::size_t a = 0; a < classes_[0].size(); ++a)
      for (std::size_t b = 0; b < classes_[1].size(); ++b)
        for (std::size_t c = 0; c < classes_[2].size(); ++c) {
          const int count = classes_[0][a].count + classes_[1][b].count + classes_[2][c].count;
          if (count < 1 || count > order.most) continue;
          Row row{{a, b, c}, 0.0, 0.0};
          for (std::size_t g = 0; g < most_groups; ++g) {
            const WorkClass& k = classes_[g][row.of[g]];
            row.minutes += k.minutes;
            row.least += miss(g, k.members.front());
          }
          rows_.push_back(row);
        }
    std::stable_sort(rows_.begin(), rows_.end(), [](const Row& a, const Row& b) {
      return std::pair(a.minutes, a.least) < std::pair(b.minutes, b.least);
    });
  }

  JoinResult run() {
    find_front();
    find_meeting();
    if (meeting_.size() < order_.keep) find_near();
    result_.best = std::move(meeting_);
    for (Joined& j : near_)
      if (result_.best.size() < order_.keep) result_.best.push_back(j);
    result_.stopped = stopped_;
    if (stopped_ || spent_) result_.complete = false;
    // What found no room in a list may belong to what is told.
    const bool full = result_.best.size() >= order_.keep;
    const double reached = full ? std::max(1.0, result_.best.back().squared_miss) : infinite;
    for (std::size_t g = 0; g < groups_.size(); ++g)
      if (groups_[g].least_left_out < reached) result_.complete = false;
    return std::move(result_);
  }

 private:
  static constexpr double any = -1.0;  ///< below every squared miss

  /// One class from each group.
  struct Row {
    std::array<std::size_t, most_groups> of{};
    double minutes = 0.0;
    double least = 0.0;  ///< no pick of it has a smaller squared miss
  };

  [[nodiscard]] const Combination& candidate(std::size_t g, std::uint32_t i) const {
    static const Combination unchanged;
    return g < groups_.size() ? groups_[g].all[i] : unchanged;
  }
  [[nodiscard]] double miss(std::size_t g, std::uint32_t i) const { return candidate(g, i).squared_miss; }

  [[nodiscard]] std::vector<WorkClass> classes_of(std::size_t g) const {
    std::map<std::pair<int, double>, WorkClass> by_work;
    const std::size_t n = g < groups_.size() ? groups_[g].all.size() : 1;
    for (std::uint32_t i = 0; i < n; ++i) {
      const Combination& c = candidate(g, i);
      WorkClass& k = by_work[{c.count, c.minutes}];
      k.count = c.count;
      k.minutes = c.minutes;
      k.members.push_back(i);
    }
    std::vector<WorkClass> all;
    for (auto& [key, k] : by_work) {
      std::stable_sort(k.members.begin(), k.members.end(),
                       [&](std::uint32_t a, std::uint32_t b) { return miss(g, a) < miss(g, b); });
      all.push_back(std::move(k));
    }
    return all;
  }

  bool over() {
    if (stopped_ || spent_) return true;
    if (++looked_ % ask_every == 0 && order_.go_on && !order_.go_on()) stopped_ = true;
    return stopped_;
  }

  /// Every pick of a row whose sum is at most what `limit` says at that moment, closest first in each list.
  template <class Limit, class Sink>
  void visit(const Row& row, const Limit& limit, const Sink& sink) {
    const auto& as = classes_[0][row.of[0]].members;
    const auto& bs = classes_[1][row.of[1]].members;
    const auto& cs = classes_[2][row.of[2]].members;
    const double least_c = miss(2, cs.front());
    const double least_bc = miss(1, bs.front()) + least_c;
    for (const std::uint32_t a : as) {
      const double ma = miss(0, a);
      if (ma + least_bc > limit() || over()) return;
      for (const std::uint32_t b : bs) {
        const double mb = ma + miss(1, b);
        if (mb + least_c > limit() || over()) break;
        for (const std::uint32_t c : cs) {
          const double m = mb + miss(2, c);
          if (m > limit() || over()) break;
          const auto added = with_added(a, b, c);
          if (added && m + *added <= limit()) sink(Joined{{a, b, c}, m + *added, row.minutes});
        }
      }
    }
  }

  /// What the figure that adds up adds to the squared miss; none: it leaves what is held.
  [[nodiscard]] std::optional<double> with_added(std::uint32_t a, std::uint32_t b, std::uint32_t c) const {
    if (order_.added.empty()) return 0.0;
    const double v = order_.added_at_start + candidate(0, a).added + candidate(1, b).added + candidate(2, c).added;
    double sum = 0.0;
    for (const AimRange& aim : order_.added) {
      const double off = (v - aim.value) / aim.tolerance;
      if (aim.hold && !(std::abs(off) <= 1.0)) return std::nullopt;
      if (!aim.hold) sum += off * off;
    }
    return sum;
  }

  /// Judges picks that only a look at the whole car can tell, several at once; what is known already is not asked
  /// again. `then` is told those that can be, with all of their miss.
  template <class Then>
  void judged(std::vector<Joined>& waiting, const Then& then) {
    std::vector<Pick> asked;
    for (const Joined& j : waiting)
      if (!known_.contains(key(j.pick))) asked.push_back(j.pick);
    if (!asked.empty()) {
      if (order_.go_on && !order_.go_on()) stopped_ = true;
      if (stopped_) {
        waiting.clear();
        return;
      }
      const auto more = order_.judge(asked);
      for (std::size_t i = 0; i < asked.size(); ++i) known_.emplace(key(asked[i]), more[i]);
      result_.judged += asked.size();
      if (result_.judged >= order_.most_judged) spent_ = true;
    }
    for (Joined& j : waiting) {
      const std::optional<double>& more = known_.at(key(j.pick));
      if (!more) continue;
      j.squared_miss += *more;
      then(j);
    }
    waiting.clear();
  }

  static std::uint64_t key(const Pick& p) {
    return (static_cast<std::uint64_t>(p[0]) << 2 * index_bits) | (static_cast<std::uint64_t>(p[1]) << index_bits) |
           p[2];
  }

  /// The picks of a row whose sum lies over `least`, each with all of its miss.
  template <class Limit, class Then>
  void walk(const Row& row, double least, const Limit& limit, const Then& then) {
    std::vector<Joined> waiting;
    visit(row, limit, [&](const Joined& j) {
      if (!(j.squared_miss > least)) return;
      if (!order_.judge) {
        then(j);
        return;
      }
      waiting.push_back(j);
      if (waiting.size() >= picks_at_once) judged(waiting, then);
    });
    if (!waiting.empty()) judged(waiting, then);
  }

  /// One that may not be told is asked about once; most are told at once or never come up.
  bool accepted(const Joined& j) {
    if (!order_.accept) return true;
    const auto [place, fresh] = accepted_.try_emplace(key(j.pick), false);
    if (fresh) place->second = order_.accept(j.pick);
    return place->second;
  }

  /// Infinite where the unchanged start leaves what is held.
  [[nodiscard]] double unchanged_miss() {
    Joined start;
    for (std::size_t g = 0; g < groups_.size(); ++g) {
      if (groups_[g].all.empty() || groups_[g].all.front().count > 0) return infinite;
      start.squared_miss += groups_[g].all.front().squared_miss;
    }
    const auto added = with_added(0, 0, 0);
    if (!added) return infinite;
    start.squared_miss += *added;
    if (!order_.judge) return start.squared_miss;
    std::vector<Joined> waiting{start};
    double miss = infinite;
    judged(waiting, [&](const Joined& j) { miss = j.squared_miss; });
    result_.judged = 0;  // the start is no candidate
    return miss;
  }

  void keep(const Joined& j) {
    if (j.squared_miss > 1.0)
      insert(near_, j, by_miss);
    else
      insert(meeting_, j, by_work);
  }

  void find_front() {
    // Doing nothing is where the front begins, where that is allowed.
    double best = unchanged_miss();
    double minutes = -1.0;
    for (const Row& row : rows_) {
      if ((best <= 1.0 && row.minutes > minutes) || over()) return;
      // Strictly closer: the same with more work is no point of a front.
      walk(
          row, any, [&] { return std::nextafter(best, 0.0); },
          [&](const Joined& j) {
            keep(j);
            if (!(j.squared_miss < best) || !accepted(j)) return;
            best = j.squared_miss;
            if (row.minutes == minutes) result_.front.pop_back();
            minutes = row.minutes;
            result_.front.push_back(j);
          });
    }
  }

  void find_meeting() {
    for (const Row& row : rows_) {
      const bool full = meeting_.size() >= order_.keep;
      if (over() || (full && row.minutes > meeting_.back().minutes)) return;
      if (row.least > 1.0) continue;
      const auto limit = [&] {
        const bool crowded = meeting_.size() >= order_.keep && row.minutes >= meeting_.back().minutes;
        return crowded ? meeting_.back().squared_miss : 1.0;
      };
      walk(row, any, limit, [&](const Joined& j) { keep(j); });
    }
  }

  void find_near() {
    std::vector<Row> rows = rows_;
    std::stable_sort(rows.begin(), rows.end(), [](const Row& a, const Row& b) { return a.least < b.least; });
    const std::size_t wanted = order_.keep - meeting_.size();
    const auto limit = [&] { return near_.size() >= wanted ? near_[wanted - 1].squared_miss : infinite; };
    for (const Row& row : rows) {
      if (over() || row.least > limit()) return;
      // Those whose sum alone would meet have been looked at already.
      walk(row, 1.0, limit, [&](const Joined& j) { keep(j); });
    }
  }

  static bool by_miss(const Joined& a, const Joined& b) {
    return std::tie(a.squared_miss, a.minutes, a.pick) < std::tie(b.squared_miss, b.minutes, b.pick);
  }
  static bool by_work(const Joined& a, const Joined& b) {
    return std::tie(a.minutes, a.squared_miss, a.pick) < std::tie(b.minutes, b.squared_miss, b.pick);
  }
  template <class Less>
  void insert(std::vector<Joined>& list, const Joined& j, const Less& less) {
    const auto place = std::lower_bound(list.begin(), list.end(), j, less);
    if (list.size() >= order_.keep && place == list.end()) return;
    if ((place != list.end() && place->pick == j.pick) || !accepted(j)) return;
    list.insert(place, j);
    if (list.size() > order_.keep) list.pop_back();
  }

  std::span<const CombinationList> groups_;
  const JoinOrder& order_;
  std::array<std::vector<WorkClass>, most_groups> classes_;
  std::vector<Row> rows_;
  std::vector<Joined> meeting_;
  std::vector<Joined> near_;
  std::unordered_map<std::uint64_t, std::optional<double>> known_;
  std::unordered_map<std::uint64_t, bool> accepted_;
  JoinResult result_;
  std::uint64_t looked_ = 0;
  bool stopped_ = false;
  bool spent_ = false;
};

}  // namespace

double squared_miss_of(std::span<const AimRange> aims, std::span<const double> figures) {
  double sum = 0.0;
  for (std::size_t i = 0; i < aims.size(); ++i)
    if (!aims[i].hold) sum += std::pow((figures[i] - aims[i].value) / aims[i].tolerance, 2);
  return sum;
}

bool keeps_what_is_held(std::span<const AimRange> aims, std::span<const double> figures) {
  for (std::size_t i = 0; i < aims.size(); ++i)
    if (aims[i].hold && !(std::abs(figures[i] - aims[i].value) <= aims[i].tolerance)) return false;
  return true;
}

ChangeGroup ChangeGroup::of(const Car& car, const Setup& start, std::vector<PartHandle> parts) {
  ChangeGroup group;
  group.parts = std::move(parts);
  for (const PartHandle part : group.parts)
    group.values.push_back(car.adjusters[part].values_besides(start.of(part).left));
  return group;
}

std::uint64_t ChangeGroup::combinations(int most) const {
  // Sums of products of the numbers of values: the elementary symmetric polynomials, by their recursion.
  std::vector<std::uint64_t> ways(at(std::max(0, most)) + 1, 0);
  ways[0] = 1;
  for (const auto& v : values)
    for (std::size_t k = ways.size() - 1; k > 0; --k) ways[k] += v.size() * ways[k - 1];
  std::uint64_t sum = 0;
  for (std::size_t k = 1; k < ways.size(); ++k) sum += ways[k];
  return sum;
}

CombinationList judge_group(const Car& car, const ChangeGroup& group, const std::vector<double>& start_values,
                            const std::function<GroupJudge()>& make, const GroupSearch& search) {
  return GroupWalk(car, group, start_values, search).run(make);
}

JoinResult join_groups(std::span<const CombinationList> groups, const JoinOrder& order) {
  return Join(groups, order).run();
}

}  // namespace lowkite
