#include "core/io/setup_file.hpp"
#include "core/io/json_document.hpp"

#include <functional>
#include <random>

#include <gtest/gtest.h>

#include "core/io/atomic_file.hpp"
#include "core/io/library.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

std::string good_setup_text() {
  return *read_file(test::data_path("setups/heron-club-carpet.kite-setup.json"));
}

struct SetupDefect {
  const char* name;
  std::function<void(Json&)> spoil;
  const char* said;
};

const std::vector<SetupDefect>& setup_defects() {
  static const std::vector<SetupDefect> all{
      {"FormatOfACar", [](Json& j) { j["format"] = "lowkite-car"; }, "lowkite-setup"},
      {"VersionNewer", [](Json& j) { j["version"] = 99; }, "newer than this program"},
      {"CarMissing", [](Json& j) { j.erase("car"); }, "car: missing"},
      {"CarOfAnother", [](Json& j) { j["car"] = "plover-2wd"; }, "the setup is for the car \"plover-2wd\""},
      {"NameEmpty", [](Json& j) { j["name"] = ""; }, "name"},
      {"RideHeightMissing", [](Json& j) { j["ride_height_mm"].erase("rear"); }, "rear: missing"},
      {"RideHeightNegative", [](Json& j) { j["ride_height_mm"]["front"] = -2; }, "from 0"},
      {"ValuesAList", [](Json& j) { j["values"] = Json::array(); }, "values"},
      {"AdjusterUnknown", [](Json& j) { j["values"]["front_wing"] = 1; }, "no such adjuster"},
      {"ShimThatNoBoxMakes", [](Json& j) { j["values"]["front_link_inner_shims"] = 2.6; }, "0.25, 0.5, 1, 2"},
      {"ShimStackTooThick", [](Json& j) { j["values"]["front_link_inner_shims"] = 8; }, "0 to 5"},
      {"ShimAWord", [](Json& j) { j["values"]["front_link_inner_shims"] = "two"; }, "\"two\""},
      {"ShimNull", [](Json& j) { j["values"]["front_link_inner_shims"] = nullptr; }, "null"},
      {"OneSideOnly",
       [](Json& j) {
         j["values"]["front_link_inner_shims"] = {{"left", 1}};
       },
       "right: missing"},
      {"OneSideWrong",
       [](Json& j) {
         j["values"]["front_link_inner_shims"] = {{"left", 1}, {"right", 1.1}};
       },
       "right"},
      {"HoleThatIsNotThere", [](Json& j) { j["values"]["front_link_hole"] = "7"; }, "one of 1, 2, 3"},
      {"HoleHalfway", [](Json& j) { j["values"]["front_link_hole"] = 1.5; }, "one of 1, 2, 3"},
      {"ThreadTooLong", [](Json& j) { j["values"]["front_camber_link"] = 40; }, "turns from -6 to 6"},
  };
  return all;
}

class BrokenSetupFile : public testing::TestWithParam<std::size_t> {};

TEST_P(BrokenSetupFile, IsRefusedWithPlaceAndRemedy) {
  const SetupDefect& d = setup_defects()[GetParam()];
  Json j = Json::parse(good_setup_text());
  d.spoil(j);
  const auto file = read_setup(j.dump(), "broken.kite-setup.json", test::touring());
  ASSERT_FALSE(file);
  std::string lines;
  for (const Fault& f : file.error()) lines += f.line() + "\n";
  EXPECT_NE(lines.find(d.said), std::string::npos) << lines;
}

INSTANTIATE_TEST_SUITE_P(Defects, BrokenSetupFile, testing::Range(std::size_t{0}, setup_defects().size()),
                         [](const auto& sample) { return setup_defects()[sample.param].name; });

TEST(ASavedSetup, ReadsBackEqual) {
  std::mt19937 random(5);
  for (const Car& car : {test::touring(), test::buggy()})
    for (int i = 0; i < 30; ++i) {
      test::CarSetup s = kit_setup(car);
      s.name = "Trial";
      s.notes = "line one\nline two \"quoted\" \xc3\xbc";
      for (const PartHandle a : s.values.handles()) {
        for (const Side side : both_sides)
          s.values[a].on(side) = car.adjusters[a].stepped(s.values[a].on(side), static_cast<int>(random() % 7) - 3);
        if (car.adjusters[a].steering) s.values[a].right = s.values[a].left;  // there is only one of it
      }
      const auto back = read_setup(write_setup(s, car, {}), "back.json", car);
      ASSERT_TRUE(back) << back.error()[0].line();
      EXPECT_EQ(back->setup, s);
    }
}

TEST(FieldsOfOthers, SurviveALoadAndSave) {
  const Car car = test::touring();
  Json j = Json::parse(good_setup_text());
  j["weather"] = {{"air_deg", 19.5}, {"sky", {"clear", "windy"}}};
  j["ride_height_mm"]["measured_with"] = "stepped gauge";
  auto file = read_setup(j.dump(), "mine.json", car);
  ASSERT_TRUE(file);
  file->setup.of(car.find_adjuster("front_link_inner_shims")) = {1.0, 1.5};
  const Json saved = Json::parse(write_setup(file->setup, car, file->source));
  EXPECT_EQ(saved["weather"], j["weather"]);
  EXPECT_EQ(saved["ride_height_mm"]["measured_with"], "stepped gauge");
  EXPECT_EQ(saved["values"]["front_link_inner_shims"]["right"], 1.5);
  EXPECT_EQ(saved.begin().key(), "format") << "the order of fields is kept";
}

TEST(AHoleNumber, MayBeWrittenWithoutQuotes) {
  Json j = Json::parse(good_setup_text());
  j["values"]["front_link_hole"] = 3;
  const Car car = test::touring();
  const auto file = read_setup(j.dump(), "n.json", car);
  ASSERT_TRUE(file);
  EXPECT_EQ(file->setup.of(car.find_adjuster("front_link_hole")).left, 2.0);
}

TEST(TheCarOfASetup, IsFoundInTheShippedData) {
  const std::string path = test::data_path("setups/plover-loose-dirt.kite-setup.json");
  const auto id = car_id_of_setup(*read_file(path), path);
  ASSERT_TRUE(id);
  const auto found = find_car_file(*id, car_folders_for(path, test::data_path("")));
  ASSERT_TRUE(found);
  EXPECT_EQ(found->filename(), "plover-2wd.kite-car.json");
  EXPECT_FALSE(find_car_file("nobodys-car", car_folders_for(path, test::data_path(""))));
}

TEST(TheGoldenSetupOfVersionOne, StillOpens) {
  const std::string folder = LOWKITE_TEST_SAMPLES;
  const auto car = load_car(folder + "/golden-v1.kite-car.json");
  ASSERT_TRUE(car);
  const auto setup = load_setup(folder + "/golden-v1.kite-setup.json", *car);
  ASSERT_TRUE(setup) << setup.error()[0].line();
  EXPECT_EQ(setup->setup.of(car->find_adjuster("shims")), (Setting{1.5, 2.0}));
  EXPECT_EQ(setup->setup.of(car->find_adjuster("block")).left, 1.0);
  EXPECT_EQ(setup->setup.of(car->find_adjuster("link")).left, -0.375);
}

}  // namespace
}  // namespace lowkite
