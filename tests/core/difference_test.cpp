// Two setups side by side, and the setups of a car as a family.
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>

#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_family.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/difference.hpp"
#include "tests/core/samples.hpp"

namespace lowkite::test {
namespace {

namespace fs = std::filesystem;

Variant evaluated(const Car& car, const CarSetup& setup) {
  auto v = evaluate(car, setup, {}, 9);
  EXPECT_TRUE(v);
  return std::move(*v);
}

TEST(Difference, OfASetupWithItselfIsNothing) {
  const Car car = touring();
  const CarSetup kit = kit_setup(car);
  EXPECT_TRUE(differing_parts(car, kit, kit).empty());
  const Variant v = evaluated(car, kit);
  const auto figures = figure_differences({car, v}, {car, v});
  EXPECT_GT(figures.size(), 40u);
  for (const FigureDifference& d : figures) EXPECT_FALSE(d.told) << d.figure->id;
  for (const GaugeDifference& d : gauge_differences({car, v}, {car, v}, BenchKit{})) EXPECT_FALSE(d.told);
}

TEST(Difference, TellsWhatAReadingCanTellAndNoMore) {
  const Car car = touring();
  const CarSetup kit = kit_setup(car);
  CarSetup other = kit;
  const PartHandle shims = car.find_adjuster("rear_link_inner_shims");
  for (const Side side : both_sides) other.of(shims).on(side) = car.adjusters[shims].stepped(kit.of(shims).on(side), 2);
  EXPECT_EQ(differing_parts(car, kit, other), std::vector<PartHandle>{shims});
  const Variant a = evaluated(car, kit);
  const Variant b = evaluated(car, other);
  for (const FigureDifference& d : figure_differences({car, a}, {car, b})) {
    if (d.end == End::front && d.figure->group != FigureGroup::side) {
      EXPECT_FALSE(d.told) << d.figure->id << " of the other axle";
    }
    ASSERT_EQ(d.told, d.a.has_value() != d.b.has_value() || (d.a && std::abs(*d.b - *d.a) >= d.figure->resolution()));
    EXPECT_EQ(d.a, d.figure->read(a.source, d.end, d.side));
    if (d.figure->id == "roll_centre" && d.end == End::rear) {
      EXPECT_TRUE(d.told);
    }
  }
}

TEST(Difference, SidesAreToldApartOnlyWhereTheyDiffer) {
  const Car car = touring();
  CarSetup crooked = kit_setup(car);
  const PartHandle link = car.find_adjuster("front_camber_link");
  crooked.of(link).left += 0.5;
  const Variant a = evaluated(car, kit_setup(car));
  const Variant b = evaluated(car, crooked);
  int camber = 0, caster = 0;
  for (const FigureDifference& d : figure_differences({car, a}, {car, b})) {
    camber += d.figure->id == "camber" && d.end == End::front;
    caster += d.figure->id == "caster" && d.end == End::front;
  }
  EXPECT_EQ(camber, 2);
  EXPECT_EQ(caster, 1);
}

TEST(Difference, TwoCarsAreComparedByWhatBothHave) {
  const auto one = load_car(data_path("cars/heron-tc190.kite-car.json"));
  const auto two = load_car(data_path("cars/sanderling-12.kite-car.json"));
  ASSERT_TRUE(one && two);
  const Variant a = evaluated(*one, kit_setup(*one));
  const Variant b = evaluated(*two, kit_setup(*two));
  bool oneSided = false;
  for (const FigureDifference& d : figure_differences({*one, a}, {*two, b}))
    if (d.a && !d.b) oneSided = d.told || oneSided;
  EXPECT_TRUE(oneSided) << "a pan car's rear axle has no roll centre by links";
  for (const GaugeDifference& d : gauge_differences({*one, a}, {*two, b}, BenchKit{})) EXPECT_TRUE(d.a || d.b);
}

class FamilyTest : public testing::Test {
 protected:
  void SetUp() override { fs::create_directories(folder_); }
  void TearDown() override { fs::remove_all(folder_); }
  void put(const std::string& name, const std::string& basedOn) {
    CarSetup s = kit_setup(car_);
    s.name = name;
    s.based_on = basedOn;
    std::ofstream(folder_ / (name + ".kite-setup.json")) << write_setup(s, car_, {});
  }
  std::vector<std::string> names() {
    std::vector<std::string> all;
    for (const FamilyMember& m : setup_family(car_, {folder_, folder_, folder_ / "gone"}))
      all.push_back(std::string(at(m.depth), '-') + m.setup.name);
    return all;
  }
  Car car_ = touring();
  fs::path folder_ = fs::temp_directory_path() / ("lowkite-family-" + std::to_string(::getpid()));
};

TEST_F(FamilyTest, StandsUnderWhatItWasMadeFrom) {
  put("b wet", "a base");
  put("a base", "");
  put("c final", "b wet");
  put("d alone", "lost");
  EXPECT_EQ(names(), (std::vector<std::string>{"Kit", "-a base", "--b wet", "---c final", "-d alone"}));
  const auto family = setup_family(car_, {folder_});
  EXPECT_EQ(line_to(family, 3), (std::vector<int>{0, 1, 2, 3}));
  EXPECT_EQ(family[2].setup.based_on, "a base") << "written and read back";
}

TEST_F(FamilyTest, SetupsBasedOnEachOtherAndOnThemselvesHangOnTheKit) {
  put("a", "b");
  put("b", "a");
  put("own", "own");
  const auto all = names();
  ASSERT_EQ(all.size(), 4u);
  EXPECT_EQ(std::count_if(all.begin(), all.end(), [](const std::string& n) { return n.starts_with("--"); }), 1);
}

TEST_F(FamilyTest, PassesOverWhatCannotBeRead) {
  put("good", "");
  std::ofstream(folder_ / "cut.kite-setup.json") << "{\"format\": \"lowkite-se";
  std::ofstream(folder_ / "other.kite-setup.json")
      << R"({"format": "lowkite-setup", "version": 1, "car": "another", "name": "x", "ride_height_mm": {"front": 5, "rear": 5}, "values": {}})";
  EXPECT_EQ(names(), (std::vector<std::string>{"Kit", "-good"}));
}

}  // namespace
}  // namespace lowkite::test
