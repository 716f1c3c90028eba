// Means, deviations and lines against the reference data sets of the National Institute of Standards and Technology,
// Statistical Reference Datasets (data and certified values from memory, checked in exact arithmetic).
#include <gtest/gtest.h>

#include <array>
#include <vector>

#include "core/stats/statistics.hpp"

namespace lowkite {
namespace {

TEST(Statistics, MichelsoHasTheCertifiedMeanAndDeviation) {
  // Univariate summary statistics, "Michelso": speed of light, thousands of km/s.
  constexpr std::array<double, 100> data{
      299.85, 299.74, 299.90, 300.07, 299.93, 299.85, 299.95, 299.98, 299.98, 299.88, 300.00, 299.98, 299.93,
      299.65, 299.76, 299.81, 300.00, 300.00, 299.96, 299.96, 299.96, 299.94, 299.96, 299.94, 299.88, 299.80,
      299.85, 299.88, 299.90, 299.84, 299.83, 299.79, 299.81, 299.88, 299.88, 299.83, 299.80, 299.79, 299.76,
      299.80, 299.88, 299.88, 299.88, 299.86, 299.72, 299.72, 299.62, 299.86, 299.97, 299.95, 299.88, 299.91,
      299.85, 299.87, 299.84, 299.84, 299.85, 299.84, 299.84, 299.84, 299.89, 299.81, 299.81, 299.82, 299.80,
      299.77, 299.76, 299.74, 299.75, 299.76, 299.91, 299.92, 299.89, 299.86, 299.88, 299.72, 299.84, 299.85,
      299.85, 299.78, 299.89, 299.84, 299.78, 299.81, 299.76, 299.81, 299.79, 299.81, 299.82, 299.85, 299.87,
      299.87, 299.81, 299.74, 299.81, 299.94, 299.95, 299.80, 299.81, 299.87};
  const auto s = summarise(data);
  ASSERT_TRUE(s);
  EXPECT_EQ(s->count, 100);
  EXPECT_NEAR(s->mean, 299.852400000000, 1e-12);
  EXPECT_NEAR(s->deviation, 0.0790105478190518, 1e-13);
  EXPECT_NEAR(s->spread(), 0.45, 1e-12);
}

TEST(Statistics, NorrisHasTheCertifiedLine) {
  // Linear regression, "Norris": calibration of ozone monitors.
  constexpr std::array<double, 36> y{0.1, 338.8, 118.1, 888.0, 9.2,   228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3,
                                     0.1, 778.1, 668.8, 339.3, 448.9, 10.8,  557.7, 228.3, 998.0, 888.8, 119.6, 0.3,
                                     0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2,  117.6, 228.9, 668.4, 449.2, 0.2};
  constexpr std::array<double, 36> x{0.2, 337.4, 118.2, 884.6, 10.1,  226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4,
                                     0.6, 775.5, 666.9, 338.0, 447.5, 11.6,  556.0, 228.1, 995.8, 887.6, 120.2, 0.3,
                                     0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1,  118.3, 229.2, 669.1, 448.9, 0.5};
  const auto line = fit_line(x, y);
  ASSERT_TRUE(line);
  EXPECT_NEAR(line->slope, 1.00211681802045, 1e-13);
  EXPECT_NEAR(line->intercept, -0.262323073774029, 1e-11);
  EXPECT_NEAR(line->slope_error, 0.429796848199937e-3, 1e-14);
  EXPECT_NEAR(line->intercept_error, 0.232818234301152, 1e-11);
  EXPECT_NEAR(line->residual_deviation, 0.884796396144373, 1e-11);
}

TEST(Statistics, TooLittleTellsNothing) {
  EXPECT_FALSE(summarise({}));
  const std::vector<double> one{4.0};
  EXPECT_EQ(summarise(one)->deviation, 0.0);
  EXPECT_FALSE(fit_line(one, one));
  const std::vector<double> same{2.0, 2.0, 2.0};
  const std::vector<double> any{1.0, 5.0, 9.0};
  EXPECT_FALSE(fit_line(same, any)) << "a line straight up has no slope";
}

// Two rows of lap times for what follows; reference values from SciPy 1.10.1 on the same numbers.
const std::vector<double> first_laps{14.83, 14.71, 14.92, 14.66, 14.75, 14.80, 14.69, 14.95};
const std::vector<double> second_laps{14.52, 14.61, 14.49, 14.70, 14.58, 14.55};
const std::vector<double> third_laps{14.70, 14.74, 14.62, 14.81, 14.68};

TEST(Statistics, QuantilesAreThoseOfSciPy) {
  // numpy.quantile, its usual method.
  EXPECT_NEAR(*quantile(first_laps, 0.25), 14.705, 1e-12);
  EXPECT_NEAR(*median(first_laps), 14.775, 1e-12);
  EXPECT_NEAR(*quantile(first_laps, 0.75), 14.8525, 1e-12);
  EXPECT_NEAR(*quantile(second_laps, 0.9), 14.655, 1e-12);
  EXPECT_EQ(*quantile(first_laps, 0.0), 14.66);
  EXPECT_EQ(*quantile(first_laps, 1.0), 14.95);
  EXPECT_FALSE(median({}));
}

TEST(Statistics, TheDifferenceOfMeansIsWelchs) {
  // scipy.stats: t.ppf with Satterthwaite's degrees of freedom, 11.978.
  const auto i = difference_of_means(first_laps, second_laps);
  ASSERT_TRUE(i);
  EXPECT_NEAR(i->estimate, -0.21375, 1e-12);
  EXPECT_NEAR(i->low, -0.31910657061870934, 1e-9);
  EXPECT_NEAR(i->high, -0.10839342938129619, 1e-9);
  EXPECT_FALSE(i->holds(0.0));
  const auto other_way = difference_of_means(second_laps, first_laps);
  EXPECT_NEAR(other_way->low, -i->high, 1e-12);
}

TEST(Statistics, AContrastOfThreeRunsIsSatterthwaites) {
  const std::array<Weighed, 3> groups{{{-0.5, first_laps}, {1.0, second_laps}, {-0.5, third_laps}}};
  const auto i = contrast_of_means(groups);
  ASSERT_TRUE(i);
  EXPECT_NEAR(i->estimate, -0.174375, 1e-12);
  EXPECT_NEAR(i->low, -0.26003273097397583, 1e-9);
  EXPECT_NEAR(i->high, -0.08871726902603028, 1e-9);
}

TEST(Statistics, TheBootstrapIsNearSciPysAndAlwaysTheSame) {
  // scipy.stats.bootstrap, percentile, 99,999 resamples: -0.340 to -0.095. Medians of few laps come in steps.
  const auto i = difference_of_medians(first_laps, second_laps, 0.95, 20000);
  ASSERT_TRUE(i);
  EXPECT_NEAR(i->low, -0.340, 0.011);
  EXPECT_NEAR(i->high, -0.095, 0.011);
  const auto again = difference_of_medians(first_laps, second_laps, 0.95, 20000);
  EXPECT_EQ(i->low, again->low);
}

TEST(Statistics, FewTrialsLeaveMuchOpen) {
  // scipy.stats.beta(s + 1, n - s + 1): mean, ppf(0.1), ppf(0.9).
  const Interval none = share_of_successes(0, 0);
  EXPECT_NEAR(none.estimate, 0.5, 1e-12);
  EXPECT_NEAR(none.low, 0.1, 1e-9);
  const Interval three = share_of_successes(3, 4);
  EXPECT_NEAR(three.estimate, 2.0 / 3.0, 1e-12);
  EXPECT_NEAR(three.low, 0.4161096253804711, 1e-9);
  EXPECT_NEAR(three.high, 0.8877650414541415, 1e-9);
  const Interval seven = share_of_successes(7, 10);
  EXPECT_NEAR(seven.low, 0.48923896259342803, 1e-9);
  EXPECT_LT(seven.high - seven.low, three.high - three.low);
}

TEST(Statistics, IntervalsOfTooLittleAreNone) {
  const std::vector<double> one{14.0};
  const std::vector<double> same{14.0, 14.0, 14.0};
  EXPECT_FALSE(difference_of_means(one, second_laps));
  EXPECT_FALSE(difference_of_means(same, same)) << "no scatter, no interval";
  EXPECT_FALSE(difference_of_medians(one, second_laps));
}

}  // namespace
}  // namespace lowkite
