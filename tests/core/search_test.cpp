// The search over parts, with a judge whose figures are known by heart.
#include "core/plan/search.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

/// Two figures: the sum of the values and their greatest.
class SumJudge {
 public:
  bool judge(const std::vector<double>& values, std::vector<double>& figures) const {
    double sum = 0.0;
    double most = 0.0;
    for (const double v : values) {
      sum += v;
      most = std::max(most, v);
    }
    figures = {sum, most};
    return sum < 6.0;  // beyond it "the car cannot stand"
  }
};

class SearchTest : public testing::Test {
 protected:
  SearchTest() : car_(touring()), start_(kit_setup(car_)) {
    for (const char* id : {"rear_link_inner_shims", "rear_link_outer_shims", "rear_arm_shims"})
      space_.parts.push_back(car_.find_adjuster(id));
    space_.most_parts = 3;
    order_.aims = {{3.0, 0.25, false}, {1.0, 1.0, true}};
  }
  SearchResult search() {
    return search_parts<SumJudge>(car_, start_, space_, order_, [] { return SumJudge(); }, {});
  }
  [[nodiscard]] std::vector<double> values_of(const std::vector<RecipeChange>& changes) const {
    std::vector<double> values;
    for (const int p : space_.parts) {
      double v = start_.at_index(p).left;
      for (const RecipeChange& c : changes)
        if (c.adjuster == p) v = c.to;
      values.push_back(v);
    }
    return values;
  }

  Car car_;
  CarSetup start_;
  SearchSpace space_;
  SearchOrder order_;
};

TEST_F(SearchTest, JudgesEveryCandidateOnceAndCountsThem) {
  const SearchResult r = search();
  EXPECT_EQ(r.judged, r.of);
  EXPECT_EQ(r.of, candidates_in(car_, start_, space_));
  std::uint64_t all = 1;
  for (const int p : space_.parts)
    all *= 1 + car_.adjusters[static_cast<std::size_t>(p)].values_besides(start_.at_index(p).left).size();
  EXPECT_EQ(r.of, all - 1) << "all combinations but the one with nothing changed";
}

TEST_F(SearchTest, KeepsTheBestInOrderAndOnlyWhatIsHeld) {
  const SearchResult r = search();
  ASSERT_FALSE(r.best.empty());
  EXPECT_TRUE(std::is_sorted(r.best.begin(), r.best.end()));
  std::vector<double> figures;
  for (const Found& f : r.best) {
    ASSERT_TRUE(SumJudge().judge(values_of(f.changes), figures));
    EXPECT_EQ(f.reached, figures);
    EXPECT_NEAR(f.miss, std::abs(figures[0] - 3.0) / 0.25, 1e-12);
    EXPECT_LE(figures[1], 2.0);
  }
}

TEST_F(SearchTest, IsTheSameHoweverManyThreads) {
  order_.threads = 1;
  const SearchResult one = search();
  order_.threads = 4;
  const SearchResult four = search();
  ASSERT_EQ(one.best.size(), four.best.size());
  EXPECT_EQ(one.allowed, four.allowed);
  for (std::size_t i = 0; i < one.best.size(); ++i)
    EXPECT_EQ(values_of(one.best[i].changes), values_of(four.best[i].changes));
}

TEST_F(SearchTest, TellsNothingThatChangesNothingAndNothingThatTheBoxCannotMake) {
  std::vector<double> now;
  ASSERT_TRUE(SumJudge().judge(values_of({}), now));
  order_.aims = {{now[0], 100.0, false}, {now[1], 100.0, true}};
  order_.unchanged = now;
  const int forbidden = space_.parts[0];
  order_.allowed = [forbidden](const std::vector<RecipeChange>& changes) {
    return std::none_of(changes.begin(), changes.end(), [&](const RecipeChange& c) { return c.adjuster == forbidden; });
  };
  const SearchResult r = search();
  ASSERT_FALSE(r.best.empty());
  for (const Found& f : r.best) {
    EXPECT_NE(f.reached, now);
    for (const RecipeChange& c : f.changes) EXPECT_NE(c.adjuster, forbidden);
  }
}

}  // namespace
}  // namespace lowkite::test
