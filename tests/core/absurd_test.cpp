// Numbers that no car has: each is refused with the name of its field, and none is computed with.
#include <gtest/gtest.h>

#include "core/io/atomic_file.hpp"
#include "core/io/bench_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/log/log_exchange.hpp"
#include "tests/core/samples.hpp"
#include "tests/sweeps.hpp"

namespace lowkite::test {
namespace {

void numbers_in(const Json& j, const Json::json_pointer& at, std::vector<Json::json_pointer>& found) {
  if (j.is_number()) found.push_back(at);
  if (j.is_object())
    for (auto it = j.begin(); it != j.end(); ++it) numbers_in(*it, at / it.key(), found);
  if (j.is_array())
    for (std::size_t i = 0; i < j.size(); ++i) numbers_in(j[i], at / i, found);
}

/// The last step of a path that is a name and no place in a list.
std::string field_of(Json::json_pointer at) {
  while (!at.empty() && std::isdigit(static_cast<unsigned char>(at.back().front())) != 0) at.pop_back();
  return at.empty() ? std::string() : at.back();
}

template <class Read>
int refuse_each(const Json& document, double value, int every, const Read& read) {
  std::vector<Json::json_pointer> all;
  numbers_in(document, Json::json_pointer(), all);
  int tried = 0;
  for (std::size_t i = 0; i < all.size(); i += at(every)) {
    // A setup in a log stays as it was written: it is checked when it is put on its car.
    if (all[i].to_string().find("/setup/") != std::string::npos) continue;
    Json broken = document;
    broken[all[i]] = value;
    const auto result = read(broken.dump());
    ++tried;
    if (result) {
      ADD_FAILURE() << all[i].to_string() << " = " << value << " was taken";
      continue;
    }
    const Faults& faults = result.error();
    EXPECT_TRUE(std::any_of(
        faults.begin(), faults.end(),
        [&](const Fault& f) { return f.place.find(field_of(all[i])) != std::string::npos && !f.allowed.empty(); }))
        << all[i].to_string() << ": " << faults.front().line();
  }
  return tried;
}

TEST(AbsurdValues, EveryNumberOfACarIsRefusedByItsName) {
  int tried = 0;
  for (const char* name : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    const Json car = Json::parse(*read_file(data_path(std::string("cars/") + name + ".kite-car.json")));
    for (const double value : {1e308, -1e308})
      tried += refuse_each(car, value, runs_a_share() ? 16 : 1,
                           [&](const std::string& text) { return read_car(text, name); });
  }
  EXPECT_GT(tried, runs_a_share() ? 250 : 4000);
}

TEST(AbsurdValues, ATyreOfNoSizeIsNoTyre) {
  const Json car = Json::parse(*read_file(data_path("cars/heron-tc190.kite-car.json")));
  std::vector<Json::json_pointer> all;
  numbers_in(car, Json::json_pointer(), all);
  int tyres = 0;
  for (const auto& at : all) {
    if (!at.to_string().ends_with("tyre/radius_mm")) continue;
    for (const double size : {0.0, -30.0}) {
      Json broken = car;
      broken[at] = size;
      const auto read = read_car(broken.dump(), "no tyre");
      ++tyres;
      ASSERT_FALSE(read) << at.to_string();
      EXPECT_NE(read.error().front().place.find("radius_mm"), std::string::npos) << read.error().front().line();
    }
  }
  EXPECT_EQ(tyres, 4) << "two axles";
}

TEST(AbsurdValues, EveryNumberOfASetupIsRefusedByItsName) {
  const Car car = touring();
  const Json setup = Json::parse(*read_file(data_path("setups/heron-club-carpet.kite-setup.json")));
  for (const double value : {1e9, -1e9, 1e308})
    refuse_each(setup, value, 1, [&](const std::string& text) { return read_setup(text, "setup", car); });
}

TEST(AbsurdValues, EveryNumberOfARunOnTheBenchIsRefusedByItsName) {
  const Car car = touring();
  BenchRun run = start_run(car, kit_setup(car), BenchList::full, BenchKit{}, "2026-11-27T10:00:00");
  for (const BenchStep& step : steps_of(car, run))
    if (step.gauge) run.records[step.id].readings = {{{1.5, 2.0}, {1.0}}};
  refuse_each(Json::parse(write_run(run, car)), 1e308, 1,
              [&](const std::string& text) { return read_run(text, "run", car); });
}

TEST(AbsurdValues, EveryNumberOfALogIsRefusedByItsName) {
  const auto season = read_log(*read_file(data_path("log/season.json"), 64u << 20), "season");
  ASSERT_TRUE(season);
  std::vector<LoggedDay> days(season->begin(), season->begin() + 1);
  days[0].runs.resize(1);
  days[0].runs[0].laps.resize(3);
  refuse_each(Json::parse(write_log(days)), 1e308, 1, [](const std::string& text) { return read_log(text, "log"); });
}

TEST(AbsurdValues, AnIdNeverLeavesItsFolder) {
  Json car = Json::parse(*read_file(data_path("cars/heron-tc190.kite-car.json")));
  for (const char* id : {"../../up", "/etc/passwd", "a/b", "..", ".hidden", "a b", "a\nb", "<b>"}) {
    car["id"] = id;
    const auto read = read_car(car.dump(), "id");
    ASSERT_FALSE(read) << id;
    EXPECT_NE(read.error().front().line().find("id"), std::string::npos);
  }
}

}  // namespace
}  // namespace lowkite::test
