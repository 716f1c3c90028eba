// lowkite-calc as a shell user meets it: run as a process, judged by exit status, output and errors.
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <numbers>
#include <regex>
#include <sstream>

#include <sys/wait.h>
#include <unistd.h>

#include <gtest/gtest.h>

#include <fmt/format.h>

#include "core/bench/gauges.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/comparison.hpp"
#include "tests/core/samples.hpp"

namespace lowkite {
namespace {

namespace fs = std::filesystem;

struct Outcome {
  int status = -1;
  std::string out;
  std::string err;
};

Outcome calc(const std::string& arguments) {
  const fs::path errors = fs::temp_directory_path() / ("lowkite-calc-" + std::to_string(::getpid()) + ".err");
  const char* another = std::getenv("LOWKITE_CALC");
  const std::string command = std::string(another ? another : LOWKITE_CALC) + " " + arguments + " 2>" + errors.string();
  Outcome run;
  FILE* pipe = ::popen(command.c_str(), "r");
  std::array<char, 4096> block;
  while (const std::size_t n = std::fread(block.data(), 1, block.size(), pipe)) run.out.append(block.data(), n);
  const int status = ::pclose(pipe);
  run.status = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  std::stringstream text;
  text << std::ifstream(errors).rdbuf();
  run.err = text.str();
  fs::remove(errors);
  return run;
}

const std::string heron = test::data_path("cars/heron-tc190.kite-car.json");
const std::string carpet = test::data_path("setups/heron-club-carpet.kite-setup.json");

std::vector<std::string> lines(const std::string& text) {
  std::vector<std::string> all;
  std::istringstream in(text);
  for (std::string l; std::getline(in, l);) all.push_back(l);
  return all;
}

TEST(Pack, SaysWhatToTakeAndWhatToBuy) {
  const std::string boxes = test::data_path("boxes/example-boxes.json");
  const std::string plan = test::data_path("setups/heron-asphalt.kite-setup.json");
  const Outcome r = calc("pack " + heron + " --plan " + plan + " --boxes " + boxes + " --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  ASSERT_FALSE(j["pack"].empty());
  bool counted = false;
  for (const Json& line : j["pack"]) counted = counted || line.contains("missing");
  EXPECT_TRUE(counted);
  EXPECT_EQ(calc("pack " + heron + " --plan " + plan).status, 0) << "without boxes it is a list";
  const Outcome wrong = calc("pack " + heron + " --plan " + plan + " --boxes " + heron);
  EXPECT_EQ(wrong.status, 1);
  EXPECT_NE(wrong.err.find("heron-tc190.kite-car.json"), std::string::npos) << wrong.err;
  EXPECT_EQ(calc("pack " + heron).status, 2);
}

TEST(Recipe, KeepsToTheBoxesOfAFile) {
  const std::string want = "recipe " + heron + " " + carpet +
                           " --axle both --want front_transfer=56.9~0.1 --hold front.roll_centre~0.1 "
                           "--hold rear.roll_centre~0.1 --most 1 --lateral 0.8 --json";
  const Json all = Json::parse(calc(want).out);
  const Json own = Json::parse(calc(want + " --boxes " + test::data_path("boxes/example-boxes.json")).out);
  EXPECT_EQ(all["results"][0]["changes"][0]["adjuster"], "rear_spring");
  for (const Json& r : own["results"]) EXPECT_NE(r["changes"][0]["adjuster"], "rear_spring") << "there is none";
}

TEST(Validate, AcceptsEveryShippedFile) {
  for (const char* folder : {"cars", "setups"})
    for (const auto& entry : fs::directory_iterator(test::data_path(folder))) {
      const Outcome r = calc("validate " + entry.path().string());
      EXPECT_EQ(r.status, 0) << r.err;
      EXPECT_NE(r.out.find(": ok"), std::string::npos);
    }
}

TEST(Validate, SaysOneLineAFaultAndExitsWithOne) {
  const fs::path broken = fs::temp_directory_path() / "broken.kite-car.json";
  std::ofstream(broken) << R"({"format": "lowkite-car", "version": 1, "id": "", "name": 5})";
  const Outcome r = calc("validate " + broken.string() + " " + heron);
  EXPECT_EQ(r.status, 1);
  EXPECT_GE(lines(r.err).size(), 3u);
  for (const std::string& l : lines(r.err)) EXPECT_EQ(l.rfind("broken.kite-car.json: ", 0), 0u) << l;
  EXPECT_NE(r.out.find("heron"), std::string::npos) << "the good file is still checked";
  fs::remove(broken);
}

TEST(Validate, RefusesASetupInWhichTheCarCannotStand) {
  const fs::path sunk =
      fs::path(test::data_path("setups")).parent_path() / "setups" / "heron-club-carpet.kite-setup.json";
  std::stringstream text;
  text << std::ifstream(sunk).rdbuf();
  Json j = Json::parse(text.str());
  j["ride_height_mm"]["front"] = 59;
  const fs::path file = fs::temp_directory_path() / "sunk.kite-setup.json";
  std::ofstream(file) << j.dump();
  const Outcome r = calc("validate " + file.string() + " " + heron);
  EXPECT_EQ(r.status, 1);
  EXPECT_NE(r.err.find("ride_height_mm"), std::string::npos) << r.err;
  fs::remove(file);
}

TEST(WrongUsage, ExitsWithTwo) {
  for (const std::string& arguments :
       {std::string(), std::string("fly"), std::string("validate"), std::string("report"),
        "corner " + heron + " --axle middle --side left --travel 0:1:1",
        "corner " + heron + " --axle front --side left", "corner " + heron + " --axle front --side left --travel 0:1",
        "corner " + heron + " --axle front --side left --travel 0:1:0",
        "corner " + heron + " --axle front --side left --travel 2:1:1",
        "corner " + heron + " --axle front --side left --travel a:b:c",
        "corner " + heron + " --axle front --side left --travel 0:1e9:0.001",
        "corner " + heron + " --axle front --side left --travel 0:1:1 --csv --json"})
    EXPECT_EQ(calc(arguments).status, 2) << arguments;
}

TEST(HelpAndVersion, ExitWithZero) {
  EXPECT_EQ(calc("--help").status, 0);
  EXPECT_NE(calc("corner --help").out.find("--travel"), std::string::npos);
  EXPECT_NE(calc("--version").out.find(LOWKITE_VERSION), std::string::npos);
}

TEST(Report, GivesEveryFigureAsJson) {
  const Outcome r = calc("report " + heron + " " + carpet + " --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  EXPECT_EQ(j["setup"], "Club evening, carpet");
  EXPECT_NEAR(j["axles"]["front"]["camber"]["left"].get<double>(), -1.0, 0.3);
  EXPECT_EQ(j["axles"]["front"]["camber"]["unit"], "deg");
  EXPECT_TRUE(j["axles"]["front"].contains("caster"));
  EXPECT_FALSE(j["axles"]["rear"].contains("caster")) << "there is no kingpin at the rear";
}

TEST(Report, WritesToeInWords) {
  const Outcome r = calc("report " + heron);
  EXPECT_NE(r.out.find("deg out"), std::string::npos);
  EXPECT_NE(r.out.find("deg in"), std::string::npos);
}

TEST(Report, RefusesASetupOfAnotherCar) {
  const Outcome r = calc("report " + heron + " " + test::data_path("setups/plover-loose-dirt.kite-setup.json"));
  EXPECT_EQ(r.status, 1);
  EXPECT_NE(r.err.find("plover-2wd"), std::string::npos);
}

TEST(Corner, WritesOneRowAPose) {
  const Outcome r = calc("corner " + heron + " --axle front --side left --travel -4:4:2 --rack -1:1:1 --csv");
  ASSERT_EQ(r.status, 0) << r.err;
  const auto all = lines(r.out);
  ASSERT_EQ(all.size(), 1u + 5 * 3);
  EXPECT_EQ(all[0].rfind("travel_mm,rack_mm,wheel_centre_x_mm", 0), 0u);
  EXPECT_EQ(std::count(all[1].begin(), all[1].end(), ','), std::count(all[0].begin(), all[0].end(), ','));
}

TEST(Corner, AtZeroIsTheDesignPositionOnBothSides) {
  const auto row = [](const std::string& side, const std::string& rack) {
    const Outcome r =
        calc("corner " + heron + " --axle front --side " + side + " --travel 0:0:1 --rack " + rack + " --json");
    return Json::parse(r.out)["rows"][0];
  };
  const Json left = row("left", "0:0:1");
  EXPECT_NEAR(left["wheel_centre_y_mm"].get<double>(), 82.0, 1e-9);
  EXPECT_NEAR(left["camber_deg"].get<double>(), -1.0, 1e-9);
  EXPECT_NEAR(left["toe_deg"].get<double>(), -1.0, 1e-9);
  const Json right = row("right", "0:0:1");
  EXPECT_NEAR(right["wheel_centre_y_mm"].get<double>(), -82.0, 1e-9);
  EXPECT_NEAR(right["spin_axis_y"].get<double>(), -left["spin_axis_y"].get<double>(), 1e-12);
  // A rack to the left for one wheel is a rack to the right for the other.
  EXPECT_NEAR(row("left", "2:2:1")["toe_deg"].get<double>(), row("right", "-2:-2:1")["toe_deg"].get<double>(), 1e-9);
}

TEST(Corner, AtTheRearHasNoCaster) {
  const Outcome r = calc("corner " + heron + " --axle rear --side right --travel 0:1:1 --json");
  ASSERT_EQ(r.status, 0);
  EXPECT_TRUE(Json::parse(r.out)["rows"][0]["caster_deg"].is_null());
}

TEST(Corner, PrintsWhatClosesAndOneLineForEachPoseThatDoesNot) {
  const Outcome r = calc("corner " + heron + " --axle front --side left --travel 0:80:20");
  EXPECT_EQ(r.status, 1);
  const auto rows = lines(r.out);
  const auto faults = lines(r.err);
  EXPECT_EQ(rows.size() - 1 + faults.size(), 5u);
  ASSERT_FALSE(faults.empty());
  EXPECT_NE(faults.front().find("front left, travel"), std::string::npos);
  EXPECT_NE(faults.front().find("mm"), std::string::npos);
}

TEST(Report, TellsStopsEndPointsAndGauges) {
  const Outcome r = calc("report " + heron + " " + carpet + " --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  const auto car = load_car(heron);
  const auto setup = load_setup(carpet, *car);
  const auto v = evaluate(*car, setup->setup, {}, 41);
  ASSERT_TRUE(v);
  const CornerStops& stops = v->source.travel.corner[0][0].stops;
  EXPECT_EQ(j["axles"]["front"]["stops"]["left"]["droop"]["by"], "droop screw");
  EXPECT_NEAR(j["axles"]["front"]["stops"]["left"]["droop"]["wheel_mm"].get<double>(), stops.droop.from_ride_height_mm,
              1e-9);
  EXPECT_NEAR(j["lock"]["left"]["servo_deg"].get<double>(), degrees(v->source.travel.lock->usable[0].servo_rad), 1e-9);
  EXPECT_EQ(j["lock"]["left"]["over_travel"].size(), v->source.travel.lock->over_travel.size());
  EXPECT_EQ(j["gauges"].size(), gauges_of(*car).size());
  for (const Json& g : j["gauges"]) EXPECT_TRUE(g["left"].is_number()) << g.dump();
  EXPECT_FALSE(j["axles"]["front"]["least_bump_steer"].empty());
}

TEST(Sweep, GivesTheFiguresOfTheCoreRowByRow) {
  const Outcome r = calc("sweep " + heron + " --over steer --range=-20:20:10 --figures steer_angle,roll_centre");
  ASSERT_EQ(r.status, 0) << r.err;
  const auto all = lines(r.out);
  ASSERT_EQ(all.size(), 6u);
  EXPECT_EQ(all[0], "steer_deg,steer_angle_left,steer_angle_right,roll_centre");
  const auto car = load_car(heron);
  const auto model = build_model(*car, kit_setup(*car));
  Attitude a = static_attitude(*model);
  a.servo_rad = radians(10.0);
  const auto f = figures_at(*model, a);
  const std::string expected = fmt::format("10,{:.12g},{:.12g},{:.12g}", degrees(f->steering->steer_rad[0]),
                                           degrees(f->steering->steer_rad[1]), f->axle[0].roll_centre.moving->height);
  EXPECT_EQ(all[4], expected);
}

TEST(Sweep, OfEveryFigureWorksForEveryCarOverEverything) {
  for (const auto& entry : fs::directory_iterator(test::data_path("cars")))
    for (const char* over : {"travel", "roll", "pitch", "steer"})
      for (const char* axle : {"front", "rear"}) {
        const Outcome r =
            calc("sweep " + entry.path().string() + " --over " + over + " --range=-1:1:1 --axle " + axle + " --json");
        ASSERT_EQ(r.status, 0) << entry.path() << " " << over << ": " << r.err;
        EXPECT_EQ(Json::parse(r.out)["rows"].size(), 3u);
      }
}

TEST(SensitivityCommand, RanksThePartsThatMoveAFigure) {
  const Outcome r = calc("sensitivity " + heron + " --axle front --figure caster --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  ASSERT_FALSE(j["rows"].empty());
  EXPECT_EQ(j["rows"][0]["adjuster"], "front_caster_block");
  EXPECT_NEAR(j["rows"][0]["change"].get<double>(), 2.0, 0.05);
  EXPECT_EQ(calc("sensitivity " + heron + " --figure colour").status, 2);
  EXPECT_NE(calc("sensitivity " + heron + " --figure caster").out.find("Caster block"), std::string::npos);
}

TEST(CheckCommand, SaysWhatSpeaksAgainstASetup) {
  const Outcome good = calc("check " + heron);
  EXPECT_EQ(good.status, 0) << good.out;
  Json j = Json::parse(*read_file(carpet));
  j["ride_height_mm"] = {{"front", 0.5}, {"rear", 0.5}};
  const fs::path low = fs::temp_directory_path() / ("lowkite-low-" + std::to_string(::getpid()) + ".kite-setup.json");
  std::ofstream(low) << j.dump();
  const Outcome bad = calc("check " + heron + " " + low.string());
  EXPECT_EQ(bad.status, 1);
  EXPECT_NE(bad.out.find("of bump are left"), std::string::npos) << bad.out;
  fs::remove(low);
}

TEST(Sweep, SaysWhatIsWrongWithItsOptions) {
  EXPECT_EQ(calc("sweep " + heron + " --over yaw --range 0:1:1").status, 2);
  EXPECT_EQ(calc("sweep " + heron + " --over roll --range 1:0:1").status, 2);
  const Outcome figure = calc("sweep " + heron + " --over roll --range 0:1:1 --figures colour");
  EXPECT_EQ(figure.status, 2);
  EXPECT_NE(figure.err.find("colour"), std::string::npos);
  EXPECT_NE(figure.err.find("camber_gain"), std::string::npos) << "and what there is";
  const Outcome whole = calc("sweep " + heron + " --over roll --range 0:1:1 --figures bump_steer_total");
  EXPECT_EQ(whole.status, 2) << "read over the whole travel, it has no row";
  const Outcome far = calc("sweep " + heron + " --over roll --range 0:40:20 --figures camber");
  EXPECT_EQ(far.status, 1);
  EXPECT_NE(far.err.find("roll 40"), std::string::npos);
}

const std::string final_evening = test::data_path("setups/heron-carpet-final.kite-setup.json");

TEST(Compare, TellsPartsFiguresAndGaugesOfTwoSetups) {
  const Outcome r = calc("compare " + carpet + " " + final_evening + " --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  std::vector<std::string> parts;
  for (const Json& p : j["parts"]) parts.push_back(p["adjuster"]);
  EXPECT_EQ(parts, (std::vector<std::string>{"front_link_inner_shims", "rear_link_inner_shims", "rear_droop_screw"}));
  ASSERT_FALSE(j["figures"].empty());
  for (const Json& f : j["figures"]) EXPECT_TRUE(f["differs"]);
  // The same figures as the report of each.
  const Json a = Json::parse(calc("report " + heron + " " + carpet + " --json").out);
  const auto centre = std::find_if(j["figures"].begin(), j["figures"].end(),
                                   [](const Json& f) { return f["id"] == "roll_centre" && f["axle"] == "rear"; });
  ASSERT_NE(centre, j["figures"].end());
  ASSERT_FALSE(j["under_1_g"].empty());
  EXPECT_NE(r.out.find("down_stop"), std::string::npos) << "a droop screw shows on its gauge";
  EXPECT_NEAR((*centre)["a"].get<double>(), a["axles"]["rear"]["roll_centre"]["value"].get<double>(), 1e-9);
}

TEST(Compare, TwoCarsByTheirFigures) {
  const Outcome r = calc("compare " + carpet + " " + test::data_path("cars/godwit-ta.kite-car.json"));
  EXPECT_EQ(r.status, 0) << r.err;
  EXPECT_NE(r.out.find("two cars"), std::string::npos);
  EXPECT_EQ(r.out.find("parts\n"), std::string::npos);
}

TEST(Compare, SaysWhatItCannotRead) {
  const Outcome r = calc("compare " + carpet + " /gone/x.kite-setup.json");
  EXPECT_EQ(r.status, 1);
  EXPECT_EQ(lines(r.err).size(), 1u);
  EXPECT_EQ(calc("compare " + carpet).status, 2);
}

TEST(Recipe, WritesTheBestAsASetupThatHoldsWhatWasHeld) {
  const fs::path best = fs::temp_directory_path() / "best.kite-setup.json";
  const Outcome r = calc("recipe " + heron + " " + carpet +
                         " --axle rear --want roll_centre+1~0.1 --hold camber_gain~0.02 --json --out " + best.string());
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  ASSERT_FALSE(j["results"].empty());
  EXPECT_TRUE(j["results"][0]["meets"]);
  const auto figure = [&](const std::string& setup, const char* id) {
    return Json::parse(calc("report " + heron + " " + setup + " --json").out)["axles"]["rear"][id];
  };
  const auto of = [](const Json& v) { return v[v.contains("left") ? "left" : "value"].get<double>(); };
  EXPECT_NEAR(of(figure(best.string(), "roll_centre")), of(figure(carpet, "roll_centre")) + 1.0, 0.15);
  EXPECT_NEAR(of(figure(best.string(), "camber_gain")), of(figure(carpet, "camber_gain")), 0.021);
  EXPECT_NEAR(of(figure(best.string(), "toe")), of(figure(carpet, "toe")), 0.1);
  EXPECT_NEAR(of(figure(best.string(), "droop")), of(figure(carpet, "droop")), 0.15) << "half of an eighth of a turn";
  EXPECT_EQ(Json::parse(*read_file(best))["based_on"], "Club evening, carpet");
  fs::remove(best);
}

TEST(Recipe, AsksBothAxlesAndTheSpringsAtOnce) {
  const Outcome r = calc("recipe " + heron +
                         " --axle both --want rear.roll_centre+1~0.1 --hold front.roll_centre~0.1 --hold wheelbase~0.6 "
                         "--hold front_transfer~1 --lateral 0.8 --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  EXPECT_TRUE(j["complete"]);
  EXPECT_LT(j["judged"].get<std::uint64_t>(), j["of"].get<std::uint64_t>());
  ASSERT_FALSE(j["results"].empty());
  const Json& reached = j["results"][0]["reached"];
  for (const char* key : {"rear.roll_centre", "front.roll_centre", "wheelbase", "front_transfer"})
    EXPECT_TRUE(reached.contains(key)) << reached.dump();
  ASSERT_FALSE(j["front"].empty());
  const Outcome text =
      calc("recipe " + heron + " --axle both --want rear.roll_centre+1~0.1 --hold front.roll_centre~0.1");
  EXPECT_NE(text.out.find("rear: "), std::string::npos) << "which axle is said: " << text.out;
  const Outcome which = calc("recipe " + heron + " --axle both --want roll_centre+1");
  EXPECT_EQ(which.status, 2);
  EXPECT_NE(which.err.find("front.roll_centre or rear.roll_centre"), std::string::npos) << which.err;
}

TEST(Recipe, SetsWhatAHandSetsByItselfAndSaysWhereNothingDoes) {
  const std::string want = "recipe " + heron + " --most 1 --want front.";
  const Outcome droop = calc(want + "droop-0.8~0.2");
  ASSERT_EQ(droop.status, 0) << droop.err;
  EXPECT_NE(droop.out.find("set only"), std::string::npos) << droop.out;
  EXPECT_NE(droop.out.find("roop screw"), std::string::npos) << droop.out;
  const Json height = Json::parse(calc(want + "ride_height=5.8 --json").out);
  ASSERT_EQ(height["results"].size(), 1u);
  EXPECT_TRUE(height["results"][0]["changes"].empty());
  EXPECT_EQ(height["results"][0]["ride_height_mm"]["front"], 5.8);
  EXPECT_EQ(height["results"][0]["reached"]["front.ride_height"], 5.8);
  const Json lock = Json::parse(calc(want + "lock_inside-3~0.2 --json").out);
  ASSERT_EQ(lock["results"].size(), 1u);
  EXPECT_TRUE(lock["results"][0].contains("lock_deg")) << lock.dump();
  const Outcome nothing =
      calc("recipe " + heron + " --axle front --want tie_rods_differ+1 --most 1 --parts front_hub_shims");
  EXPECT_EQ(nothing.status, 0) << nothing.err;
  EXPECT_NE(nothing.out.find("no part that may change comes closer"), std::string::npos) << nothing.out;
  const Outcome weighed = calc("recipe " + heron + " --axle front --want cross_weight=51");
  EXPECT_EQ(weighed.status, 1);
  EXPECT_NE(weighed.err.find("spring collars"), std::string::npos) << weighed.err;
}

TEST(Recipe, IsGoodWithWhatIsSaidToHappen) {
  const std::string want =
      "recipe " + heron + " --axle rear --want rear.roll_centre+0.6~0.2 --most 1 --results 1 --json";
  const auto reached = [](const Outcome& r) {
    EXPECT_EQ(r.status, 0) << r.err;
    const Json j = Json::parse(r.out);
    return j["results"].empty() ? -1.0 : j["results"][0]["reached"]["rear.roll_centre"].get<double>();
  };
  const double as_set = reached(calc(want));
  EXPECT_EQ(reached(calc(want + " --robust --height-lost 0 --rod-off 0")), as_set) << "nothing happens to it";
  const double usual = reached(calc(want + " --robust"));
  const double more = reached(calc(want + " --robust --height-lost 1.5"));
  EXPECT_NE(usual, as_set);
  EXPECT_NE(more, usual);
  const Outcome alone = calc(want + " --rod-off 1");
  EXPECT_EQ(alone.status, 2);
  EXPECT_NE(alone.err.find("--robust"), std::string::npos) << alone.err;
}

TEST(Load, TellsWeightsAttitudeAndWhatACollarDoes) {
  const Outcome r = calc("load " + heron + " " + carpet + " --lateral 1.2 --longitudinal -0.3 --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  EXPECT_GT(j["moving"]["roll_deg"].get<double>(), 1.0);
  EXPECT_NEAR(j["at_rest"]["cross_percent"].get<double>(), 50.0, 1e-4);
  double sum = 0.0;
  for (const char* axle : {"front", "rear"})
    for (const char* side : {"left", "right"}) sum += j["moving"]["axles"][axle][side]["load_g"].get<double>();
  EXPECT_NEAR(sum, 1350.0, 0.5);
  EXPECT_GT(j["one_mm_of_collar"]["front"]["left"]["cross_percent"].get<double>(), 50.5);
  EXPECT_NE(calc("load " + heron + " " + carpet).out.find("one collar"), std::string::npos);
  const Outcome tips = calc("load " + heron + " --lateral 4");
  EXPECT_EQ(tips.status, 1);
  EXPECT_NE(tips.err.find("tip"), std::string::npos);
  EXPECT_EQ(calc("load " + heron + " --lateral lots").status, 2);
}

TEST(Oil, KeepsTheDampingInTheHeatAndRefusesNonsense) {
  const Outcome hot = calc("oil --piston 3x1.1 --oil 400 --to-celsius 35");
  ASSERT_EQ(hot.status, 0) << hot.err;
  EXPECT_NE(hot.out.find("465 cSt"), std::string::npos) << hot.out;
  const Outcome other = calc("oil --piston 3x1.1 --oil 400 --to 4x1.0");
  // Hagen-Poiseuille and Sampson (from memory): oil and n d^4 over the hole's length, with 3 pi/16 of a diameter more
  // for its ends, are in proportion.
  const auto passes = [](double holes, double mm) {
    return holes * std::pow(mm, 4) / (2.0 + 3.0 * std::numbers::pi / 16.0 * mm);
  };
  EXPECT_NE(other.out.find(fmt::format("{:.0f} cSt", 400.0 * passes(4.0, 1.0) / passes(3.0, 1.1))), std::string::npos)
      << other.out;
  EXPECT_EQ(calc("oil --piston 3by1 --oil 400").status, 2);
  EXPECT_EQ(calc("oil --piston 3x11 --oil 400").status, 2) << "a hole wider than the body";
}

TEST(Convert, TakesASetupToATableAndBack) {
  const Outcome table = calc("convert " + heron + " " + carpet);
  ASSERT_EQ(table.status, 0) << table.err;
  const fs::path csv = fs::temp_directory_path() / "lowkite-table.csv";
  std::ofstream(csv) << table.out;
  const Outcome back = calc("convert " + heron + " " + csv.string());
  ASSERT_EQ(back.status, 0) << back.err;
  const auto car = load_car(heron);
  EXPECT_EQ(read_setup(back.out, "back", *car)->setup, load_setup(carpet, *car)->setup);
  std::ofstream(csv) << "part,left\nnothing,1\n";
  EXPECT_EQ(calc("convert " + heron + " " + csv.string()).status, 1);
  fs::remove(csv);
}

TEST(Recipe, RefusesWhatIsNoOrder) {
  const auto refused = [&](const std::string& how) {
    const Outcome r = calc("recipe " + heron + " --axle rear " + how);
    EXPECT_EQ(r.status, 2) << how;
    return r.err;
  };
  EXPECT_NE(refused("--want nonsense+1").find("roll_centre"), std::string::npos);
  EXPECT_NE(refused("--want roll_centre").find("allowed"), std::string::npos);
  EXPECT_NE(refused("--want roll_centre+1 --box many").find("0.5x8"), std::string::npos);
  EXPECT_NE(refused("--want roll_centre+1 --parts front_spring").find("rear_"), std::string::npos);
  refused("--hold camber_gain~0.02");
}

}  // namespace
TEST(Motion, IsToldAsTextSummaryAndRows) {
  const Outcome text = calc("motion " + heron + " --event landing --drop 100");
  EXPECT_EQ(text.status, 0) << text.err;
  EXPECT_NE(text.out.find("taken by the dampers"), std::string::npos);
  const Outcome json = calc("motion " + heron + " --event steer_step --lateral 0.5 --json");
  EXPECT_GT(Json::parse(json.out)["most_roll_deg"].get<double>(), 0.1);
  const Outcome csv = calc("motion " + heron + " --event bump --seconds 0.1 --csv");
  EXPECT_EQ(std::count(csv.out.begin(), csv.out.end(), '\n'), 102);
  const Outcome wrong = calc("motion " + heron + " --speed 0");
  EXPECT_EQ(wrong.status, 1);
  EXPECT_NE(wrong.err.find("speed"), std::string::npos);
  EXPECT_EQ(calc("motion " + heron + " --event flight").status, 2);
}

TEST(Handling, TellsWhatEndsTheLimit) {
  const std::string car = test::data_path("cars/dunlin-4wd.kite-car.json");
  const Outcome json = calc("handling " + car + " --tyres carpet_foam --json");
  ASSERT_EQ(json.status, 0) << json.err;
  const Json told = Json::parse(json.out);
  for (const char* phase : {"entry", "middle", "exit"}) {
    const Json& by = told["phases"][phase]["limit"]["by"];
    EXPECT_EQ(by["front"].get<int>() + by["rear"].get<int>() + by["stand"].get<int>(), 256) << phase;
  }
  // A high car on much grip: it lifts its wheels on power before some tyres let go.
  const Json& exit = told["phases"]["exit"]["limit"];
  EXPECT_GT(exit["by"]["stand"].get<int>(), 16);
  EXPECT_NEAR(exit["setup"]["high"].get<double>(), 1.34, 0.05);
  const Outcome text = calc("handling " + car + " --tyres carpet_foam");
  EXPECT_NE(text.out.find("leaves its wheels"), std::string::npos);
}

TEST(Recipe, LooksForWhatTheDriverWishesBesideWhatIsHeld) {
  const std::string car = test::data_path("cars/sanderling-12.kite-car.json");
  const Outcome found = calc("recipe " + car + " --axle both --tyres carpet_foam --most 1 --share 60 --json " +
                             "--want front_left@entry=more --want rear_left@exit=not_less --hold front.camber~0.3");
  ASSERT_EQ(found.status, 0) << found.err;
  const Json told = Json::parse(found.out);
  EXPECT_GT(told["read_whole"].get<int>(), 0);
  EXPECT_GE(told["foretold"].get<int>(), told["read_whole"].get<int>());
  ASSERT_FALSE(told["results"].empty());
  const double camber =
      Json::parse(calc("report " + car + " --json").out)["axles"]["front"]["camber"]["left"].get<double>();
  for (const Json& r : told["results"]) {
    EXPECT_EQ(r["changes"].size(), 1u);
    EXPECT_EQ(r["felt"].size(), 2u);
    EXPECT_EQ(r["meets"].get<bool>(), r["share"].get<double>() >= 0.6 - 1e-9);
    EXPECT_NEAR(r["reached"]["front.camber"].get<double>(), camber, 0.3);
  }
  const Outcome text = calc("recipe " + car + " --axle front --most 1 --want front_left@entry=more");
  EXPECT_NE(text.out.find("front_left@entry +"), std::string::npos) << text.out;
  EXPECT_NE(text.out.find("of the tyres"), std::string::npos);
  for (const char* wrong :
       {"front_left@entry", "front_left@entry=better", "grip@entry=more", "front_left@start=more"}) {
    const Outcome refused = calc("recipe " + car + " --want " + wrong);
    EXPECT_EQ(refused.status, 2) << wrong;
    EXPECT_NE(refused.err.find(wrong), std::string::npos) << refused.err;
  }
  EXPECT_NE(calc("recipe " + car + " --want front_left@entry=more --tyres nonsense").err.find("carpet_foam"),
            std::string::npos);
}

TEST(Report, HoldsTheFiguresOfTheCarOnItsSprings) {
  const Json report = Json::parse(calc("report " + heron + " --json").out);
  const Json load = Json::parse(calc("load " + heron + " --json").out);
  EXPECT_EQ(report["on_springs"], load["figures"]) << "the same figures from both";
  EXPECT_NEAR(report["on_springs"]["cross_weight"].get<double>(), 50.0, 1e-3);
  EXPECT_GT(report["on_springs"]["ride_frequency"]["front"].get<double>(), 1.0);
  EXPECT_FALSE(Json::parse(calc(std::string("report ") + LOWKITE_TEST_SAMPLES + "/golden-v1.kite-car.json --json").out)
                   .contains("on_springs"))
      << "that car tells no springs";
}

TEST(Report, SaysThatAWheelHangsWhereItsDroopStopHoldsItOffTheGround) {
  const Json kit = Json::parse(calc("report " + heron + " --json").out);
  const auto of = [&](const char* end, const char* figure) {
    const Json& told = kit["axles"][end][figure];
    return (told.contains("value") ? told["value"] : told["left"]).get<double>();
  };
  // Both ends lifted alike, so that the car does not pitch: a wheel hangs by what its droop does not reach.
  constexpr double lifted = 6.0;
  Json setup{{"format", "lowkite-setup"},
             {"version", 1},
             {"car", "heron-tc190"},
             {"name", "High"},
             {"values", Json::object()}};
  for (const char* end : {"front", "rear"}) {
    EXPECT_FALSE(kit["axles"][end].contains("hangs_over_the_ground_mm")) << "it stands";
    setup["ride_height_mm"][end] = of(end, "ride_height") + lifted;
  }
  const fs::path high = fs::temp_directory_path() / ("lowkite-high-" + std::to_string(::getpid()) + ".kite-setup.json");
  std::ofstream(high) << setup.dump();
  const Outcome r = calc("report " + heron + " " + high.string() + " --json");
  ASSERT_EQ(r.status, 0) << r.err;
  const Json j = Json::parse(r.out);
  for (const char* end : {"front", "rear"})
    for (const char* side : {"left", "right"})
      EXPECT_NEAR(j["axles"][end]["hangs_over_the_ground_mm"][side].get<double>(), lifted - of(end, "droop"), 0.1)
          << end << " " << side;
  EXPECT_NE(calc("report " + heron + " " + high.string()).out.find("hangs"), std::string::npos);
  fs::remove(high);
}

namespace {

/// A catalogue of no language, made of the collected texts: every vowel outside the places has an accent.
void write_catalogue(const fs::path& folder) {
  const fs::path pot = folder / "texts.pot", po = folder / "texts.po";
  ASSERT_EQ(std::system((std::string(LOWKITE_SOURCE_DIR "/tools/update-texts ") + pot.string()).c_str()), 0);
  std::ifstream in(pot);
  std::ofstream out(po);
  const auto accented = [](const std::string& line) {
    static const std::array<const char*, 10> strange{"\u00E1", "\u00E9", "\u00ED", "\u00F3", "\u00FA",
                                                     "\u00C1", "\u00C9", "\u00CD", "\u00D3", "\u00DA"};
    std::string text;
    int place = 0;
    for (const char c : line) {
      place += c == '{' ? 1 : c == '}' ? -1 : 0;
      const std::size_t vowel = place > 0 ? std::string::npos : std::string_view("aeiouAEIOU").find(c);
      text += vowel == std::string::npos ? std::string(1, c) : strange[vowel];
    }
    return text;
  };
  std::array<std::vector<std::string>, 2> texts;  // of one, of many
  std::size_t of = 0;
  for (std::string line; std::getline(in, line);) {
    if (line.starts_with("msgid ")) texts = {}, of = 0;
    if (line.starts_with("msgid_plural ")) of = 1;
    if (line.starts_with("msgstr")) {
      const bool heading = texts[0].size() == 1 && texts[0][0] == "\"\"";
      if (heading) {
        out << "msgstr \"Content-Type: text/plain; charset=UTF-8\\nPlural-Forms: nplurals=2; plural=(n != 1);\\n\"\n";
        while (std::getline(in, line) && !line.empty()) continue;
        out << "\n";
      } else if (!line.starts_with("msgstr[1]")) {
        for (std::size_t n = 0; n <= of; ++n) {
          out << (of > 0 ? fmt::format("msgstr[{}]", n) : "msgstr");
          for (const std::string& piece : texts[n]) out << " " << accented(piece) << "\n";
        }
      }
      continue;
    }
    if (const auto quote = line.find('"'); quote != std::string::npos && line[0] != '#')
      texts[of].push_back(line.substr(quote));
    out << line << "\n";
  }
  out.close();
  const fs::path messages = folder / "share/locale/eo/LC_MESSAGES";
  fs::create_directories(messages);
  ASSERT_EQ(std::system(("msgfmt -o " + (messages / "lowkite.mo").string() + " " + po.string()).c_str()), 0);
}

/// Words of what was told that were not asked for, without names, ids and files.
std::vector<std::string> english_in(std::string text) {
  std::vector<std::string> names{"Kit", "deg", "lowkite"};
  const std::function<void(const Json&, const std::string&)> gather = [&](const Json& j, const std::string& key) {
    if (j.is_string() && (key == "name" || key == "label")) names.push_back(j.get<std::string>());
    if (j.is_structured())
      for (const auto& [k, v] : j.items()) gather(v, j.is_array() ? key : k);
  };
  for (const std::string& file : {heron, carpet, test::data_path("setups/heron-asphalt.kite-setup.json"),
                                  test::data_path("cars/sanderling-12.kite-car.json")}) {
    std::ifstream in(file);
    gather(Json::parse(in), "");
  }
  std::sort(names.begin(), names.end(), [](const auto& a, const auto& b) { return a.size() > b.size(); });
  text = std::regex_replace(text, std::regex(R"(--\w+|/\S+|\S+\.(kite|json)\S*|\b(front|rear)\.\S+|\b\w+_\w+\b)"), "");
  for (const std::string& name : names)
    for (auto at = text.find(name); name.size() > 2 && at != std::string::npos; at = text.find(name))
      text.erase(at, name.size());
  std::vector<std::string> plain;
  const std::regex word("[A-Za-z]*[aeiou][A-Za-z]*");
  for (std::sregex_iterator it(text.begin(), text.end(), word), end; it != end; ++it)
    if (it->str().size() > 2) plain.push_back(it->str());
  return plain;
}

}  // namespace

TEST(Calculator, SpeaksTheLanguageOfItsCatalogue) {
  if (std::getenv("LOWKITE_CALC")) GTEST_SKIP() << "once is enough";
  const fs::path folder = fs::temp_directory_path() / ("lowkite-language-" + std::to_string(::getpid()));
  fs::create_directories(folder / "bin");
  fs::copy_file(LOWKITE_CALC, folder / "bin/lowkite-calc");
  write_catalogue(folder);
  const std::string asphalt = test::data_path("setups/heron-asphalt.kite-setup.json");
  const fs::path lowered = folder / "low.kite-setup.json";
  Json low = Json::parse(*read_file(carpet));
  low["ride_height_mm"] = {{"front", 0.5}, {"rear", 0.5}};
  std::ofstream(lowered) << low.dump();
  for (const std::string& arguments : std::vector<std::string>{
           "report " + heron + " " + carpet,
           "load " + heron + " " + carpet + " --lateral 1",
           "sensitivity " + heron + " --figure roll_centre",
           "compare " + carpet + " " + asphalt,
           "recipe " + heron + " --axle front --want roll_centre+1",
           "handling " + heron + " " + carpet + " --against " + asphalt,
           "validate " + heron,
           "report " + heron + " /nowhere",
           "corner " + heron + " --axle front --side left --travel 0:80:20",
           "sweep " + heron + " --over roll --range 1:0:1",
           "check " + heron + " " + lowered.string(),
           "load " + heron + " --lateral 2.2",
           "load " + test::data_path("cars/sanderling-12.kite-car.json"),
           "motion " + heron + " --event landing --drop 100",
           "oil --piston 3x1.1 --oil 400 --to 4x1.0",
           "oil --piston 3by1 --oil 400",
           "pack " + heron + " --plan " + asphalt + " --boxes " + test::data_path("boxes/example-boxes.json"),
           "recipe " + heron + " --axle both --want rear.roll_centre+1 --hold front_transfer",
           "recipe " + heron + " --axle both --want ride_frequency=alike~0.1",
           "recipe " + heron + " --axle rear --want clr"}) {
    std::string told;
    const std::string command =
        "LANGUAGE=eo LC_ALL=C.UTF-8 " + (folder / "bin/lowkite-calc").string() + " " + arguments + " 2>&1";
    FILE* pipe = ::popen(command.c_str(), "r");
    std::array<char, 4096> block;
    while (const std::size_t n = std::fread(block.data(), 1, block.size(), pipe)) told.append(block.data(), n);
    ::pclose(pipe);
    EXPECT_FALSE(told.empty()) << arguments;
    EXPECT_EQ(fmt::format("{}", fmt::join(english_in(told), " ")), "") << arguments << "\n" << told;
  }
  fs::remove_all(folder);
}

}  // namespace lowkite
