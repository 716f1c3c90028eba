// Combinations of an axle's parts and how they are joined: against looking at every pick, with numbers known by heart.
#include "core/plan/combinations.hpp"

#include <algorithm>
#include <random>

#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

/// The sum of the values wanted at 3; more than 6 cannot stand.
GroupJudge sum_judge() {
  return [](std::span<const double> values, std::span<GroupJudgement> found) {
    const std::size_t parts = values.size() / found.size();
    for (std::size_t i = 0; i < found.size(); ++i) {
      double sum = 0.0;
      for (const double v : values.subspan(i * parts, parts)) sum += v;
      found[i] = {sum < 6.0, std::pow((sum - 3.0) / 0.25, 2), sum, {sum}};
    }
  };
}

class Combinations : public testing::Test {
 protected:
  Combinations() {
    std::vector<PartHandle> parts;
    for (const char* id : {"rear_link_inner_shims", "rear_link_outer_shims", "rear_arm_shims"})
      parts.push_back(car_.find_adjuster(id));
    group_ = ChangeGroup::of(car_, start_, parts);
    for (const PartHandle p : parts) values_.push_back(start_.of(p).left);
  }
  CombinationList list(GroupSearch search) { return judge_group(car_, group_, values_, sum_judge, search); }
  [[nodiscard]] double sum_of(const Combination& c) const {
    std::vector<double> v = values_;
    for (std::size_t i = 0; i < c.count; ++i) v[c.part[i]] = group_.values[c.part[i]][c.value[i]];
    return v[0] + v[1] + v[2];
  }

  Car car_ = touring();
  CarSetup start_ = kit_setup(car_);
  ChangeGroup group_;
  std::vector<double> values_;
};

TEST_F(Combinations, EveryOneIsJudgedOnceAndThoseThatStandAreKept) {
  const CombinationList all = list({.most = 3});
  std::uint64_t ways = 1;
  for (const auto& v : group_.values) ways *= 1 + v.size();
  EXPECT_EQ(all.judged, ways - 1) << "all but the one with nothing changed";
  EXPECT_EQ(group_.combinations(3), ways - 1);
  std::uint64_t stand = 0;
  auto with = [&](std::size_t i) {
    std::vector<double> v = group_.values[i];
    v.push_back(values_[i]);
    return v;
  };
  for (const double a : with(0))
    for (const double b : with(1))
      for (const double c : with(2)) stand += a + b + c < 6.0;
  EXPECT_EQ(all.all.size(), stand);
  EXPECT_EQ(all.all.front().count, 0) << "the start comes first";
  for (const Combination& c : all.all) EXPECT_NEAR(c.added, sum_of(c), 1e-12);
}

TEST_F(Combinations, AreTheSameOnOneThreadAndOnMany) {
  const CombinationList one = list({.most = 3});
  const CombinationList four = list({.most = 3, .threads = 4});
  ASSERT_EQ(one.all.size(), four.all.size());
  for (std::size_t i = 0; i < one.all.size(); ++i) {
    EXPECT_EQ(one.all[i].part, four.all[i].part);
    EXPECT_EQ(one.all[i].value, four.all[i].value);
  }
}

TEST_F(Combinations, WithoutRoomTheClosestStayAndItSaysSo) {
  const CombinationList all = list({.most = 3});
  const CombinationList few = list({.most = 3, .room = 40});
  EXPECT_LE(few.all.size(), 41u);
  EXPECT_LT(few.least_left_out, 1e9);
  EXPECT_EQ(few.judged, all.judged);
  // Nothing closer than what it says was left out.
  const auto closer = [&](const CombinationList& l) {
    return std::count_if(l.all.begin(), l.all.end(),
                         [&](const Combination& c) { return c.squared_miss < few.least_left_out; });
  };
  EXPECT_EQ(closer(few), closer(all));
}

TEST_F(Combinations, StopWhenAskedTo) {
  GroupSearch search{.most = 3};
  search.progress = [](std::uint64_t) { return false; };
  const CombinationList some = list(search);
  EXPECT_TRUE(some.stopped);
  EXPECT_LT(some.judged, group_.combinations(3));
}

/// Lists of made-up combinations, the start first.
std::vector<CombinationList> random_lists(std::mt19937& dice, std::size_t most) {
  std::vector<CombinationList> lists(3);
  std::uniform_real_distribution<double> miss(0.0, 4.0);
  for (CombinationList& l : lists) {
    const std::size_t n = 1 + dice() % most;
    for (std::size_t i = 0; i < n; ++i) {
      Combination c;
      c.count = static_cast<std::uint8_t>(i == 0 ? 0 : 1 + dice() % 3);
      c.minutes = c.count == 0 ? 0.0 : 2.0 + 2.0 * static_cast<double>(dice() % 5);
      c.squared_miss = dice() % 4 == 0 ? 0.5 : miss(dice);
      c.added = 0.25 * static_cast<double>(dice() % 9) - 1.0;
      l.all.push_back(c);
    }
  }
  return lists;
}

struct Wanted {
  JoinOrder order;
  bool whole = false;
  bool refuses = false;
};

/// What only a look at the whole could tell, made up: some cannot be, the others miss a little more.
std::optional<double> made_up(const Pick& p) {
  const unsigned mixed = (p[0] * 7919u + p[1] * 104729u + p[2] * 1299709u) % 97u;
  return mixed % 5u == 0 ? std::nullopt : std::optional(0.02 * mixed);
}

std::vector<Joined> by_hand(const std::vector<CombinationList>& lists, const Wanted& w) {
  std::vector<Joined> all;
  for (std::uint32_t a = 0; a < lists[0].all.size(); ++a)
    for (std::uint32_t b = 0; b < lists[1].all.size(); ++b)
      for (std::uint32_t c = 0; c < lists[2].all.size(); ++c) {
        const std::array<const Combination*, 3> of{&lists[0].all[a], &lists[1].all[b], &lists[2].all[c]};
        Joined j{{a, b, c}, 0.0, 0.0};
        int count = 0;
        double added = w.order.added_at_start;
        for (const Combination* one : of) {
          j.squared_miss += one->squared_miss;
          j.minutes += one->minutes;
          count += one->count;
          added += one->added;
        }
        if (count < 1 || count > w.order.most) continue;
        bool kept = true;
        for (const AimRange& aim : w.order.added) {
          const double off = (added - aim.value) / aim.tolerance;
          if (aim.hold)
            kept = kept && std::abs(off) <= 1.0;
          else
            j.squared_miss += off * off;
        }
        if (w.whole) {
          const auto more = made_up(j.pick);
          kept = kept && more;
          j.squared_miss += more.value_or(0.0);
        }
        if (w.order.accept) kept = kept && w.order.accept(j.pick);
        if (kept) all.push_back(j);
      }
  return all;
}

TEST(JoinedCombinations, AreThoseOfLookingAtEveryPick) {
  std::mt19937 dice(19);
  int told = 0;
  int met = 0;
  for (int round = 0; round < 1000; ++round) {
    const auto lists = random_lists(dice, round < 900 ? 12 : 60);
    Wanted w;
    w.order.most = 1 + static_cast<int>(dice() % 6);
    w.order.keep = 1 + dice() % 20;
    if (dice() % 3 == 0) w.order.added = {{0.25 * static_cast<double>(dice() % 9) - 1.0, 0.3, dice() % 2 == 0}};
    w.whole = dice() % 3 == 0;
    if (w.whole)
      w.order.judge = [](std::span<const Pick> picks) {
        std::vector<std::optional<double>> more;
        for (const Pick& p : picks) more.push_back(made_up(p));
        return more;
      };
    if (dice() % 3 == 0) w.order.accept = [](const Pick& p) { return (p[0] + 2 * p[1] + p[2]) % 3 != 0; };
    std::vector<Joined> all = by_hand(lists, w);
    const JoinResult found = join_groups(lists, w.order);
    ASSERT_TRUE(found.complete);
    // Those that meet by work, the rest by closeness.
    const auto key = [](const Joined& j) {
      return j.squared_miss <= 1.0 ? std::array{0.0, j.minutes, j.squared_miss}
                                   : std::array{j.squared_miss, j.minutes, j.squared_miss};
    };
    std::sort(all.begin(), all.end(), [&](const Joined& a, const Joined& b) { return key(a) < key(b); });
    ASSERT_EQ(found.best.size(), std::min(all.size(), w.order.keep)) << round;
    for (std::size_t i = 0; i < found.best.size(); ++i)
      for (std::size_t k = 0; k < 3; ++k) ASSERT_NEAR(key(found.best[i])[k], key(all[i])[k], 1e-9) << round << " " << i;
    told += !found.best.empty();
    met += !found.best.empty() && found.best.front().squared_miss <= 1.0;
    // The front: nothing takes as long and comes closer, and each comes closer than doing nothing.
    for (std::size_t i = 0; i < found.front.size(); ++i) {
      const Joined& f = found.front[i];
      for (const Joined& j : all)
        ASSERT_FALSE(j.minutes <= f.minutes && j.squared_miss < f.squared_miss - 1e-9) << round;
      if (i > 0) {
        ASSERT_GT(f.minutes, found.front[i - 1].minutes);
        ASSERT_GT(found.front[i - 1].squared_miss, 1.0) << "it ends with the first that meets";
      }
    }
    // And nothing that is worth its time is missing from it.
    double start = 0.0;
    for (const CombinationList& l : lists) start += l.all.front().squared_miss;
    for (const Joined& j : all) {
      const bool told_better = std::any_of(found.front.begin(), found.front.end(), [&](const Joined& f) {
        return f.minutes <= j.minutes && f.squared_miss <= j.squared_miss + 1e-9;
      });
      const bool after_the_end =
          !found.front.empty() && found.front.back().squared_miss <= 1.0 && j.minutes >= found.front.back().minutes;
      const bool as_good_undone = start <= 1.0 || j.squared_miss >= start - 1e-9;
      if (w.order.added.empty() && !w.whole) {
        ASSERT_TRUE(told_better || after_the_end || as_good_undone) << round;
      }
    }
  }
  EXPECT_GT(told, 900);
  EXPECT_GT(met, 60);
}

TEST(JoinedCombinations, SayWhenNotAllCouldBeLookedAt) {
  std::mt19937 dice(7);
  const auto lists = random_lists(dice, 40);
  JoinOrder order{.most = 6, .keep = 10};
  order.judge = [](std::span<const Pick> picks) {
    return std::vector<std::optional<double>>(picks.size(), 5.0);  // nothing meets: all would have to be seen
  };
  order.most_judged = 20;
  const JoinResult spent = join_groups(lists, order);
  EXPECT_FALSE(spent.complete);
  EXPECT_FALSE(spent.best.empty()) << "what was seen is told";
  order.most_judged = 1'000'000;
  order.go_on = [] { return false; };
  const JoinResult stopped = join_groups(lists, order);
  EXPECT_TRUE(stopped.stopped);
  EXPECT_FALSE(stopped.complete);
}

TEST(JoinedCombinations, ThereIsNoneWhereAnAxleHasNone) {
  std::vector<CombinationList> lists(2);
  lists[0].all.emplace_back();
  EXPECT_TRUE(join_groups(lists, {}).best.empty());
}

}  // namespace
}  // namespace lowkite::test
