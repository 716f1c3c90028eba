// Broken car files: each is one good file with one defect. Every one must be refused with the place, what was found and
// what is allowed, and none may crash.
#include "core/io/car_file.hpp"

#include <functional>

#include <gtest/gtest.h>

#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

std::string good_text() {
  return *read_file(test::data_path("cars/heron-tc190.kite-car.json"));
}

struct Defect {
  const char* name;
  std::function<void(Json&)> spoil;
  const char* place;  ///< must be part of some fault's place
  const char* said;   ///< must be part of that fault's line
};

Json& front(Json& j) {
  return j["axles"]["front"];
}
Json& adjuster(Json& j, const char* id) {
  for (Json& a : j["adjusters"])
    if (a["id"] == id) return a;
  throw std::logic_error("no such adjuster in the sample");
}

const std::vector<Defect>& defects() {
  static const std::vector<Defect> all{
      {"FormatMissing", [](Json& j) { j.erase("format"); }, "format", "lowkite-car"},
      {"FormatOfASetup", [](Json& j) { j["format"] = "lowkite-setup"; }, "format", "lowkite-car"},
      {"FormatANumber", [](Json& j) { j["format"] = 7; }, "format", "7"},
      {"VersionMissing", [](Json& j) { j.erase("version"); }, "version", "missing"},
      {"VersionNewer", [](Json& j) { j["version"] = 2; }, "version", "newer than this program"},
      {"VersionZero", [](Json& j) { j["version"] = 0; }, "version", "whole number"},
      {"VersionAWord", [](Json& j) { j["version"] = "one"; }, "version", "whole number"},
      {"VersionHuge", [](Json& j) { j["version"] = 18446744073709551615u; }, "version", "newer"},
      {"IdMissing", [](Json& j) { j.erase("id"); }, "id", "missing"},
      {"IdEmpty", [](Json& j) { j["id"] = ""; }, "id", "short name"},
      {"NameANumber", [](Json& j) { j["name"] = 12; }, "name", "12"},
      {"AxlesMissing", [](Json& j) { j.erase("axles"); }, "axles", "missing"},
      {"RearAxleMissing", [](Json& j) { j["axles"].erase("rear"); }, "rear", "missing"},
      {"AxlesAList", [](Json& j) { j["axles"] = Json::array(); }, "axles", "group"},
      {"MechanismUnknown", [](Json& j) { front(j)["mechanism"] = "leaf_spring"; }, "mechanism", "hub_carrier"},
      {"MechanismMissing", [](Json& j) { front(j).erase("mechanism"); }, "mechanism", "missing"},
      {"PointMissing", [](Json& j) { front(j)["points"].erase("link_inner"); }, "link_inner", "missing"},
      {"PointUnknown",
       [](Json& j) {
         front(j)["points"]["link_middle"] = {1, 2, 3};
       },
       "link_middle", "no such point"},
      {"PointOfTwoNumbers",
       [](Json& j) {
         front(j)["points"]["link_inner"] = {1, 2};
       },
       "link_inner", "three numbers"},
      {"PointAWord", [](Json& j) { front(j)["points"]["link_inner"] = "here"; }, "link_inner", "three numbers"},
      {"PointWithAWordInside", [](Json& j) { front(j)["points"]["link_inner"][1] = "x"; }, "link_inner", "mm"},
      {"PointNull", [](Json& j) { front(j)["points"]["link_inner"] = nullptr; }, "link_inner", "three numbers"},
      {"PointAKilometreAway", [](Json& j) { front(j)["points"]["link_inner"][0] = 1e6; }, "link_inner", "1000"},
      {"WheelOnTheOtherSide", [](Json& j) { front(j)["points"]["wheel_centre"][1] = -82; }, "wheel_centre",
       "other side"},
      {"RightWheelOnTheLeft",
       [](Json& j) {
         front(j)["right_points"]["wheel_centre"] = {0, 82, 26};
       },
       "right_points", "right is negative"},
      {"RightPointUnknown",
       [](Json& j) {
         front(j)["right_points"]["nose"] = {0, -82, 26};
       },
       "nose", "no such point"},
      {"PinOutboardOfTheWheel", [](Json& j) { front(j)["points"]["arm_inner_front"][1] = 90; }, "arm_inner_front",
       "outboard"},
      {"LinkOfNoLength", [](Json& j) { front(j)["points"]["link_outer"] = front(j)["points"]["link_inner"]; }, "points",
       "no length"},
      {"TieRodOfNoLength", [](Json& j) { front(j)["points"]["tie_outer"] = front(j)["points"]["tie_inner"]; }, "points",
       "tie rod"},
      {"PinOfNoLength", [](Json& j) { front(j)["points"]["arm_outer_front"] = front(j)["points"]["arm_outer_rear"]; },
       "points", "no length"},
      {"PinFrontBehindRear",
       [](Json& j) { std::swap(front(j)["points"]["arm_inner_front"], front(j)["points"]["arm_inner_rear"]); },
       "arm_inner_front", "not ahead"},
      {"KingpinUpsideDown",
       [](Json& j) { std::swap(front(j)["points"]["kingpin_lower"], front(j)["points"]["kingpin_upper"]); },
       "kingpin_upper", "not above"},
      {"LinkThroughItsHinge",
       [](Json& j) {
         front(j)["points"]["link_inner"] = {0, 30, 7.2};
         front(j)["points"]["link_outer"] = {0, 60, 7.2};
       },
       "front", "points straight at"},
      {"TyreOfNoRadius", [](Json& j) { front(j)["tyre"]["radius_mm"] = 0; }, "radius_mm", "from 5"},
      {"TyreOfNegativeWidth", [](Json& j) { front(j)["tyre"]["width_mm"] = -3; }, "width_mm", "-3"},
      {"TyreRateOfNoTyre", [](Json& j) { front(j)["tyre"]["rate_least_n_per_mm"] = 0.01; }, "rate_least_n_per_mm",
       "0.5 to 100"},
      {"TyreRateUnderItsLeast",
       [](Json& j) {
         front(j)["tyre"]["rate_n_per_mm"] = 5;
         front(j)["tyre"]["rate_least_n_per_mm"] = 6;
       },
       "rate_n_per_mm", "between its least and its most"},
      {"TyreCrownTooSharp", [](Json& j) { front(j)["tyre"]["crown_radius_mm"] = 5; }, "crown_radius_mm",
       "half the tyre"},
      {"CamberOutOfRange", [](Json& j) { front(j)["wheel"]["camber_deg"] = 40; }, "camber_deg", "15"},
      {"TravelMissing", [](Json& j) { front(j).erase("travel"); }, "travel", "missing"},
      {"TravelNegative", [](Json& j) { front(j)["travel"]["bump_mm"] = -1; }, "bump_mm", "above 0"},
      {"GaugePointsSwapped",
       [](Json& j) { std::swap(j["gauge_points"]["front_x_mm"], j["gauge_points"]["rear_x_mm"]); }, "gauge_points",
       "ahead"},
      {"RideHeightAWord", [](Json& j) { j["kit"]["ride_height_mm"]["front"] = "low"; }, "front", "ride height"},
      {"FrontBehindRear",
       [](Json& j) {
         for (auto& [id, p] : j["axles"]["rear"]["points"].items()) p[0] = p[0].get<double>() + 600;
       },
       "axles", "not ahead"},
      {"CannotStandAtKitRideHeight",
       [](Json& j) {
         j["kit"]["ride_height_mm"] = {{"front", 60}, {"rear", 60}};
       },
       "axles", "cannot stand"},
      {"AdjustersAGroup", [](Json& j) { j["adjusters"] = Json::object(); }, "adjusters", "list"},
      {"AdjusterKindUnknown", [](Json& j) { j["adjusters"][0]["kind"] = "magic"; }, "kind", "shim_stack"},
      {"AdjusterWithoutId", [](Json& j) { j["adjusters"][0].erase("id"); }, "id", "missing"},
      {"AdjusterTwice", [](Json& j) { j["adjusters"].push_back(j["adjusters"][0]); }, "front_link_inner_shims",
       "two adjusters"},
      {"SteeringUnknown", [](Json& j) { j["steering"]["mechanism"] = "tiller"; }, "steering", "crank_plate"},
      {"SteeringPointMissing", [](Json& j) { j["steering"]["points"].erase("horn_ball"); }, "horn_ball", "missing"},
      {"SteeringPointUnknown",
       [](Json& j) {
         j["steering"]["points"]["wheel"] = {1, 2, 3};
       },
       "wheel", "no such point"},
      {"SteeringWithoutAShaft",
       [](Json& j) { j["steering"]["points"]["servo_shaft_rear"] = j["steering"]["points"]["servo_shaft_front"]; },
       "steering", "no length"},
      {"SteeringPostOfNoLength",
       [](Json& j) { j["steering"]["points"]["first_post_upper"] = j["steering"]["points"]["first_post_lower"]; },
       "steering", "no length"},
      {"SteeringHornThroughItsDragLink",
       [](Json& j) {
         j["steering"]["points"]["horn_ball"] = {-48, -2, 17.642857};
       },
       "steering", "points straight"},
      {"SteeringAdjusterAtTheRear", [](Json& j) { adjuster(j, "rear_camber_link")["on"] = "steering"; },
       "rear_camber_link", "no steering"},
      {"SteeringAdjusterOfAnAxlesPoint", [](Json& j) { adjuster(j, "front_arm_shims")["on"] = "steering"; },
       "front_arm_shims", "no point"},
      {"SizeUnknown", [](Json& j) { front(j)["sizes"]["shock_colour_mm"] = 3; }, "shock_colour_mm", "no size"},
      {"SpacersLessThanNothing", [](Json& j) { front(j)["sizes"]["spring_spacer_mm"] = -0.5; }, "spring_spacer_mm",
       "0 or more"},
      {"SideSpringOfNoLength",
       [](Json& j) {
         front(j)["points"]["side_upper"] = {0, 20, 30};
         front(j)["points"]["side_lower"] = {0, 20, 30};
       },
       "points", "side spring"},
      {"ShockShorterOutThanIn", [](Json& j) { front(j)["sizes"]["shock_compressed_mm"] = 70; }, "shock_compressed_mm",
       "not shorter"},
      {"ShockOfNoLength", [](Json& j) { front(j)["points"]["shock_upper"] = front(j)["points"]["shock_lower"]; },
       "front", "no length"},
      {"JointOfNoLink", [](Json& j) { front(j)["limits"]["joints"][0]["link"] = "chain"; }, "joints", "no link"},
      {"JointOfTooManyDegrees", [](Json& j) { front(j)["limits"]["joints"][0]["most_deg"] = 200; }, "most_deg",
       "degrees"},
      {"JointStudOfNoLength",
       [](Json& j) {
         front(j)["limits"]["joints"][0]["stud"] = {0, 0, 0};
       },
       "stud", "no length"},
      {"ClearanceToNowhere", [](Json& j) { front(j)["limits"]["clearances"][0]["a"]["from"] = "moon"; }, "clearances",
       "no point"},
      {"KnuckleStopOneSided", [](Json& j) { front(j)["limits"]["knuckle_stop_deg"].erase("outside"); }, "outside",
       "missing"},
      {"ScrewThatMovesNothing", [](Json& j) { adjuster(j, "front_droop_screw")["move"] = Json::object(); },
       "front_droop_screw", "no point"},
      {"ScrewWithoutAPitch", [](Json& j) { adjuster(j, "front_droop_screw").erase("pitch_mm"); }, "pitch_mm",
       "missing"},
      {"SpacersThatChangeNothing", [](Json& j) { adjuster(j, "front_shock_spacers").erase("change"); },
       "front_shock_spacers", "change no size"},
      {"ShareAboveOne", [](Json& j) { front(j)["driven_share"] = 1.5; }, "driven_share", "share"},
      {"CentreOfGravityUnderTheRoad", [](Json& j) { j["centre_of_gravity"]["height_mm"] = -4; }, "height_mm", "height"},
      {"AdjusterOnNoAxle", [](Json& j) { j["adjusters"][0]["axle"] = "middle"; }, "axle", "front, rear"},
      {"ShimsMoveAnUnknownPoint",
       [](Json& j) {
         adjuster(j, "front_link_inner_shims")["move"] = {{"nose", {0, 0, 1}}};
       },
       "nose", "no point"},
      {"PartSitsNowhere", [](Json& j) { adjuster(j, "front_hub_shims")["at"] = "nose"; }, "at", "no point"},
      {"ShimsMoveNothing", [](Json& j) { adjuster(j, "front_link_inner_shims")["move"] = Json::object(); }, "move",
       "move no point"},
      {"ShimsMoveNowhere",
       [](Json& j) {
         adjuster(j, "front_link_inner_shims")["move"]["link_inner"] = {0, 0, 0};
       },
       "move", "no length"},
      {"ShimOfNoThickness",
       [](Json& j) {
         adjuster(j, "front_link_inner_shims")["shims_mm"] = {0.0, 1.0};
       },
       "shims_mm", "0.05"},
      {"ShimsMissing", [](Json& j) { adjuster(j, "front_link_inner_shims").erase("shims_mm"); }, "shims_mm", "missing"},
      {"ShimRangeUpsideDown", [](Json& j) { adjuster(j, "front_link_inner_shims")["min_mm"] = 9; }, "min_mm",
       "above max_mm"},
      {"ShimKitImpossible", [](Json& j) { adjuster(j, "front_link_inner_shims")["kit_mm"] = 2.1; }, "kit_mm",
       "cannot make"},
      {"ShimKitOutOfRange", [](Json& j) { adjuster(j, "front_link_inner_shims")["kit_mm"] = 7; }, "kit_mm",
       "cannot make"},
      {"TurnbuckleOfAnUnknownLink", [](Json& j) { adjuster(j, "front_camber_link")["link"] = "toe_link"; }, "link",
       "camber_link"},
      {"TwoTurnbucklesOnALink", [](Json& j) { adjuster(j, "front_tie_rod")["link"] = "camber_link"; }, "link",
       "two turnbuckles"},
      {"TurnbuckleWithoutPitch", [](Json& j) { adjuster(j, "front_camber_link").erase("pitch_mm"); }, "pitch_mm",
       "missing"},
      {"TurnbuckleThreadsUnknown", [](Json& j) { adjuster(j, "front_camber_link")["threads"] = "left"; }, "threads",
       "opposed"},
      {"HoleKitUnknown", [](Json& j) { adjuster(j, "front_link_hole")["kit"] = "9"; }, "kit", "no position"},
      {"HoleLabelTwice", [](Json& j) { adjuster(j, "front_link_hole")["positions"][1]["label"] = "1"; }, "positions",
       "two positions"},
      {"OnlyOneHole",
       [](Json& j) {
         adjuster(j, "front_link_hole")["positions"] = {{{"label", "2"}}};
       },
       "positions", "two positions"},
      {"BlockTurnsAboutNothing",
       [](Json& j) { adjuster(j, "front_caster_block")["positions"][0]["turn"]["about"] = "nose"; }, "turn",
       "no point"},
      {"BlockTurnsAboutNoAxis",
       [](Json& j) { adjuster(j, "front_caster_block")["positions"][0]["turn"]["axis"] = "w"; }, "axis", "x, y, z"},
  };
  return all;
}

class BrokenCarFile : public testing::TestWithParam<std::size_t> {};

TEST_P(BrokenCarFile, IsRefusedWithPlaceAndRemedy) {
  const Defect& d = defects()[GetParam()];
  Json j = Json::parse(good_text());
  d.spoil(j);
  const auto car = read_car(j.dump(), "broken.kite-car.json");
  ASSERT_FALSE(car) << "a broken file was accepted";
  bool found = false;
  for (const Fault& f : car.error()) {
    EXPECT_EQ(f.file, "broken.kite-car.json");
    EXPECT_FALSE(f.wrong.empty()) << f.line();
    EXPECT_FALSE(f.allowed.empty()) << f.line();
    EXPECT_EQ(f.line().find('\n'), std::string::npos);
    found |= f.place.find(d.place) != std::string::npos && f.line().find(d.said) != std::string::npos;
  }
  std::string lines;
  for (const Fault& f : car.error()) lines += f.line() + "\n";
  EXPECT_TRUE(found) << "wanted a fault at '" << d.place << "' that says '" << d.said << "', got:\n" << lines;
}

INSTANTIATE_TEST_SUITE_P(Defects, BrokenCarFile, testing::Range(std::size_t{0}, defects().size()),
                         [](const auto& sample) { return defects()[sample.param].name; });

TEST(ACutFile, IsRefusedWhereverItWasCut) {
  const std::string text = good_text();
  for (std::size_t length = 0; length + 3 < text.size(); length += 97) {
    const auto car = read_car(text.substr(0, length), "cut.json");
    ASSERT_FALSE(car) << "cut at " << length;
    EXPECT_EQ(car.error().size(), 1u);
  }
  EXPECT_NE(read_car(text.substr(0, 900), "cut.json").error()[0].line().find("cut short"), std::string::npos);
}

TEST(TextThatIsNotJson, IsRefusedWithTheLine) {
  const auto car = read_car("{\n  \"format\": \"lowkite-car\",\n  oops\n}", "x.json");
  ASSERT_FALSE(car);
  EXPECT_EQ(car.error()[0].place, "line 3, column 3");
}

TEST(OddInput, NeverCrashes) {
  const std::string deep = std::string(5000, '[') + std::string(5000, ']');
  for (const std::string& text :
       {std::string(), std::string("null"), std::string("[]"), std::string("3"), std::string("\"x\""),
        std::string("{}"), deep, std::string("{\"a\":1e999}"), std::string("\xff\xfe{}"),
        std::string("{\"format\":\"lowkite-car\",\"format\":\"lowkite-car\"}"), std::string(3, '\0')}) {
    const auto car = read_car(text, "odd.json");
    EXPECT_FALSE(car);
    EXPECT_FALSE(car.error().empty());
  }
}

TEST(AFieldGivenTwice, IsSaid) {
  std::string text = good_text();
  text.replace(text.find("\"name\""), 0, "\"name\": \"Another\", ");
  const auto car = read_car(text, "twice.json");
  ASSERT_FALSE(car);
  EXPECT_NE(car.error()[0].line().find("given twice"), std::string::npos);
}

TEST(EveryFault, IsToldAtOnce) {
  Json j = Json::parse(good_text());
  front(j)["points"]["link_inner"] = {1, 2};
  front(j)["tyre"]["radius_mm"] = 0;
  j["name"] = 3;
  const auto car = read_car(j.dump(), "three.json");
  ASSERT_FALSE(car);
  EXPECT_EQ(car.error().size(), 3u);
}

TEST(UnknownFields, AreNoFault) {
  Json j = Json::parse(good_text());
  j["colour"] = "sand";
  front(j)["tyre"]["compound"] = "soft";
  EXPECT_TRUE(read_car(j.dump(), "more.json"));
}

TEST(RightPoints, ReplaceTheMirrorImage) {
  Json j = Json::parse(good_text());
  front(j)["right_points"]["link_inner"] = {-6, -31.0, 34.7};
  const auto car = read_car(j.dump(), "right.json");
  ASSERT_TRUE(car) << car.error()[0].line();
  const PointHandle i = car->axles[0].mechanism->point("link_inner");
  EXPECT_EQ(car->axles[0].points[at(Side::right)][i], Vec3(-6, 31.0, 34.7));
  EXPECT_EQ(car->axles[0].points[at(Side::left)][i], Vec3(-6, 31.5, 33.7));
}

TEST(AMissingFile, IsAFaultOfItsOwn) {
  const auto car = load_car("/nowhere/at/all.kite-car.json");
  ASSERT_FALSE(car);
  EXPECT_NE(car.error()[0].line().find("no such file"), std::string::npos);
  const auto folder = load_car(test::data_path("cars"));
  ASSERT_FALSE(folder);
  EXPECT_NE(folder.error()[0].line().find("folder"), std::string::npos);
}

// The golden file of format version 1: whatever the program becomes, it must open as it did.
TEST(TheGoldenCarOfVersionOne, StillOpens) {
  const auto car = load_car(std::string(LOWKITE_TEST_SAMPLES) + "/golden-v1.kite-car.json");
  ASSERT_TRUE(car) << car.error()[0].line();
  EXPECT_EQ(car->id, "golden-one");
  EXPECT_EQ(car->adjusters.size(), 5u);
  const auto model = build_model(*car, kit_setup(*car));
  const auto f = figures_at(*model, static_attitude(*model));
  ASSERT_TRUE(f);
  EXPECT_NEAR(degrees(f->axle[0].wheel[0].camber_rad), -1.0, 0.05);
}

TEST(AnUpperArmOnItsOwnPin, IsRefused) {
  Json j = Json::parse(*read_file(test::data_path("cars/wren-28.kite-car.json")));
  front(j)["points"]["upper_ball"] = {0.0, 15, 11.4};
  const auto car = read_car(j.dump(), "arm.json");
  ASSERT_FALSE(car);
  bool said = false;
  for (const Fault& f : car.error()) said = said || f.line().find("lies on its pin") != std::string::npos;
  EXPECT_TRUE(said);
}

}  // namespace
}  // namespace lowkite
