// Heavy parts that are moved and added: what the scales then show.
#include <gtest/gtest.h>

#include "core/measure/car_figures.hpp"

#include "core/load/static_load.hpp"

#include "core/car/part_group.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/load/balance.hpp"
#include "core/load/mass_figures.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

class MassTest : public testing::Test {
 protected:
  void SetUp() override {
    auto car = load_car(data_path("cars/heron-tc190.kite-car.json"));
    ASSERT_TRUE(car);
    car_ = *car;
  }
  CarSetup with(const char* part, double position) {
    CarSetup s = kit_setup(car_);
    s.of(car_.find_adjuster(part)) = {position, position};
    return s;
  }
  Balance rest(const CarSetup& s) {
    const auto model = build_model(car_, s);
    EXPECT_TRUE(model);
    const auto loaded = LoadedCar::of(*model);
    EXPECT_TRUE(loaded) << loaded.error();
    return *loaded->balance(loaded->level_collars(), {});
  }
  Car car_;
};

TEST_F(MassTest, TheKitWeighsWhatTheFileSays) {
  const MassState m = masses_of(car_, kit_setup(car_));
  EXPECT_DOUBLE_EQ(m.kg, car_.mass_kg);
  ASSERT_TRUE(m.cg);
  EXPECT_NEAR((*m.cg - Vec3(*car_.cg_x_mm, car_.cg_y_mm, car_.cg_height_mm)).norm(), 0.0, 1e-9);
}

TEST_F(MassTest, ABatteryMovedBackShowsOnTheScalesAsStaticsSays) {
  // Statics: the centre of gravity moves by m d / M, and the axles' loads by m g d over the wheelbase.
  const Balance kit = rest(kit_setup(car_));
  const Balance back = rest(with("battery_place", 2.0));
  const double moved = 0.288 * gravity_m_s2 * 8.0;
  const auto f = build_model(car_, kit_setup(car_));
  const auto figures = figures_at(*f, static_attitude(*f));
  const double wheelbase = figures->wheelbase_mm[0];
  EXPECT_NEAR(back.axle_n(End::rear) - kit.axle_n(End::rear), moved / wheelbase, 2e-3);
  EXPECT_NEAR(back.total_n(), kit.total_n(), 1e-3);
}

TEST_F(MassTest, AShockWithItsBodyBelowCarriesWeightToTheArmAndLowersTheCar) {
  for (const char* id : {"plover-2wd", "dunlin-4wd"}) {
    car_ = *load_car(data_path(std::string("cars/") + id + ".kite-car.json"));
    const CarSetup up = kit_setup(car_), down = with("rear_shock_way", 1.0);
    const MassState above = masses_of(car_, up), below = masses_of(car_, down);
    EXPECT_DOUBLE_EQ(above.kg, below.kg) << "nothing is added";
    // Two bodies of 14 g by some 20 mm: m d / M.
    const double lower = above.cg->z() - below.cg->z();
    EXPECT_GT(lower, 0.028 * 19.0 / above.kg) << id;
    EXPECT_LT(lower, 0.028 * 22.0 / above.kg) << id;
    const Balance a = rest(up), b = rest(down);
    EXPECT_NEAR(a.total_n(), b.total_n(), 1e-3) << "the scales do not see it";
    // The springs carry what no longer hangs on the chassis: 11 g a wheel less.
    const auto before = build_model(car_, up), after = build_model(car_, down);
    const CornerModel &k = before->corner(End::rear, Side::left), &m = after->corner(End::rear, Side::left);
    EXPECT_NEAR(unsprung_kg(car_.axle(End::rear), m) - unsprung_kg(car_.axle(End::rear), k), 0.011, 1e-12) << id;
    const auto sprung = sprung_mass(*before, a.pose), less = sprung_mass(*after, b.pose);
    ASSERT_TRUE(sprung && less);
    EXPECT_NEAR(sprung->kg - less->kg, 0.022, 1e-12);
    const auto stiff = LoadedCar::of(*before)->rates(End::rear), same = LoadedCar::of(*after)->rates(End::rear);
    EXPECT_GT(same.ride_hz, stiff.ride_hz) << "the same spring under less";
    EXPECT_EQ(group_of(car_, car_.adjusters[car_.find_adjuster("rear_shock_way")]), PartGroup::shock);
  }
}

TEST_F(MassTest, BallastAddsWhereItLies) {
  const CarSetup heavy = with("front_ballast", 2.0);
  const MassState m = masses_of(car_, heavy);
  EXPECT_NEAR(m.kg, car_.mass_kg + 0.020, 1e-12);
  const Balance kit = rest(kit_setup(car_));
  const Balance b = rest(heavy);
  EXPECT_NEAR(b.total_n() - kit.total_n(), 0.020 * gravity_m_s2, 1e-3);
  EXPECT_GT(b.axle_n(End::front) - kit.axle_n(End::front), 0.020 * gravity_m_s2) << "ahead of the front axle";
}

TEST_F(MassTest, FaultsNameTheField) {
  const auto text = read_file(data_path("cars/heron-tc190.kite-car.json"));
  ASSERT_TRUE(text);
  const auto broken = [&](auto change) {
    Json j = Json::parse(*text);
    change(j);
    const auto car = read_car(j.dump(), "m.json");
    EXPECT_FALSE(car);
    return car ? std::string() : car.error().front().line();
  };
  EXPECT_NE(broken([](Json& j) { j["masses"][0]["g"] = 5000; }).find("masses"), std::string::npos);
  EXPECT_NE(broken([](Json& j) { j["masses"][1]["id"] = "battery"; }).find("two parts"), std::string::npos);
  EXPECT_NE(broken([](Json& j) { j.erase("masses"); }).find("no part \"battery\""), std::string::npos);
  EXPECT_NE(broken([](Json& j) { j.erase("mass_g"); }).find("mass_g"), std::string::npos);
}

// A part that was on the scales is in the total; one that was not comes on top, at its place; one that was elsewhere
// then has moved since.
TEST(AHeavyPart, IsInTheWeighedTotalOrOnTopOfIt) {
  Car car = test::touring();
  const auto standing = [&] {
    const auto model = build_model(car, kit_setup(car));
    const auto f = figures_at(*model, static_attitude(*model));
    return std::pair(1000.0 * model->mass.kg, *wheel_loads(*model, *f));
  };
  const auto [before_g, before] = standing();
  car.masses.push_back({"lead", "lead", 60.0, Vec3(20.0, 30.0, 5.0), true, std::nullopt});
  auto [total_g, loads] = standing();
  EXPECT_NEAR(total_g, before_g, 1e-9) << "it was weighed with the car";
  car.masses.back().weighed = false;
  std::tie(total_g, loads) = standing();
  EXPECT_NEAR(total_g, before_g + 60.0, 1e-9) << "it comes on top";
  const auto gained = [&](End end, Side side) { return grams(loads[at(end)][at(side)] - before[at(end)][at(side)]); };
  EXPECT_NEAR(gained(End::front, Side::left) + gained(End::front, Side::right) + gained(End::rear, Side::left) +
                  gained(End::rear, Side::right),
              60.0, 1e-6);
  EXPECT_GT(gained(End::front, Side::left), gained(End::front, Side::right)) << "it lies on the left";
  EXPECT_LT(gained(End::rear, Side::left) + gained(End::rear, Side::right), 0.0)
      << "ahead of the axle it lifts the rear";
  car.masses.back() = {"lead", "lead", 60.0, Vec3(20.0, 30.0, 5.0), true, Vec3(20.0, -30.0, 5.0)};
  std::tie(total_g, loads) = standing();
  EXPECT_NEAR(total_g, before_g, 1e-9);
  EXPECT_GT(gained(End::front, Side::left), 1.0) << "moved from right to left since";
}

}  // namespace
}  // namespace lowkite::test
