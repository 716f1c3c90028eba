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

}  // namespace
}  // namespace lowkite
