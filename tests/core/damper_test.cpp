// Dampers: the laws of flow through holes, by dimension and by their limits.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/load/damper.hpp"

namespace lowkite::test {
namespace {

const Piston piston{10.0, 3.0, 1.1, 2.0};
const Oil oil{400.0};

constexpr double pi = std::numbers::pi;
const double bore_area = pi / 4.0 * 0.010 * 0.010;
const double viscosity = 400e-6 * oil_density;

TEST(Damper, AtLowSpeedIsHagenPoiseuilleWithTheLossAtTheEnds) {
  // White, Fluid Mechanics (from memory): dp = 128 mu L Q / (n pi d^4); Sampson 1891 (from memory): dp = 3 mu Q / r^3
  // through a hole without length. All in SI units.
  const double flow = bore_area * 0.001 / 3.0;
  const double along = 128.0 * viscosity * 0.002 * flow / (pi * std::pow(0.0011, 4));
  const double ends = 3.0 * viscosity * flow / std::pow(0.00055, 3);
  const double force = (along + ends) * bore_area;
  EXPECT_NEAR(damper_force(piston, oil, 1.0), force, 2e-3 * force) << "the orifices do next to nothing yet";
  EXPECT_NEAR(damper_rate(piston, oil), force, 1e-12) << "N s/mm";
  EXPECT_NEAR(ends / along, 0.32, 0.005) << "what the ends are worth on a piston of this size";
}

TEST(Damper, AHoleWithoutLengthIsSampsonsAndALongOneAPipe) {
  const Piston plate{10.0, 3.0, 1.1, 1e-9};
  EXPECT_NEAR(damper_rate(plate, oil), 3.0 * viscosity / std::pow(0.00055, 3) * bore_area * bore_area / 3.0 / 1000.0,
              1e-9);
  const Piston pipe{10.0, 3.0, 1.1, 2000.0};
  EXPECT_NEAR(damper_rate(pipe, oil),
              128.0 * viscosity * 2.0 / (3.0 * pi * std::pow(0.0011, 4)) * bore_area * bore_area / 1000.0,
              1e-3 * damper_rate(pipe, oil));
}

TEST(Damper, AtHighSpeedTheOrificesTakeOver) {
  const double v = packing_speed(piston, oil);
  const double laminar = damper_rate(piston, oil) * v;
  EXPECT_NEAR(damper_force(piston, oil, v), 2.0 * laminar, 1e-9 * laminar);
  // Bernoulli through a hole, far above: four times the force at twice the speed.
  EXPECT_NEAR(damper_force(piston, oil, 2000.0 * v) / damper_force(piston, oil, 1000.0 * v), 4.0, 0.01);
  EXPECT_EQ(damper_force(piston, oil, -50.0), -damper_force(piston, oil, 50.0));
}

TEST(Damper, AtTheSameLowSpeedDampingTheSmallerHoleAreaPacksUpFirst) {
  const Piston wide{10.0, 6.0, 0.9, 2.0};    // 3.8 mm^2 of holes
  const Piston narrow{10.0, 2.0, 1.4, 2.0};  // 3.1 mm^2
  const Oil same = same_damping(wide, oil, 25.0, narrow, 25.0);
  EXPECT_NEAR(damper_rate(wide, oil), damper_rate(narrow, same), 1e-12);
  EXPECT_GT(packing_speed(wide, oil), packing_speed(narrow, same));
}

TEST(Damper, OilGetsThinInTheHeat) {
  EXPECT_DOUBLE_EQ(oil.cst_at(25.0), 400.0);
  EXPECT_NEAR(oil.cst_at(99.0) / oil.cst_at(38.0), 0.4, 0.01) << "viscosity-temperature coefficient 0.6 (from memory)";
  const Oil hot = same_damping(piston, oil, 25.0, piston, 40.0);
  EXPECT_GT(hot.cst, oil.cst) << "a thicker bottle for a hot day";
  EXPECT_NEAR(damper_rate(piston, hot, 40.0), damper_rate(piston, oil, 25.0), 1e-12);
}

TEST(Damper, WeightsAreLabels) {
  EXPECT_EQ(weight_of(Oil{360.0}), 30);
  EXPECT_FALSE(weight_of(Oil{5000.0}));
}

}  // namespace
}  // namespace lowkite::test
