// The table of a day's and a run's fields: what may be in them, and that every door keeps to it.
#include <filesystem>

#include <unistd.h>

#include "core/io/json_document.hpp"
#include "core/io/schema_check.hpp"
#include "core/log/fields.hpp"
#include "core/log/log_store.hpp"
#include "tests/core/log/log_samples.hpp"

namespace lowkite {
namespace {

/// The published limits of a field, whichever way the schema writes them.
Json published(const std::string& record, std::string_view column) {
  const Json schema = Json::parse(schema_text(FileKind::log));
  Json field = schema["definitions"][record]["properties"][std::string(column)];
  if (const auto ref = field.find("$ref"); ref != field.end())
    field = schema.at(Json::json_pointer(ref->get<std::string>().substr(1)));
  return field;
}

template <class Record>
void expect_published(const std::string& record, std::span<const LogField<Record>> fields) {
  for (const LogField<Record>& f : fields) {
    const Json p = published(record, f.column);
    ASSERT_TRUE(p.is_object()) << record << " " << f.column << " is not in the schema";
    switch (f.kind) {
      case FieldKind::number:
      case FieldKind::count:
        EXPECT_EQ(p["minimum"].get<double>(), f.least) << f.column;
        EXPECT_EQ(p["maximum"].get<double>(), f.most) << f.column;
        EXPECT_EQ(p["type"], f.kind == FieldKind::count ? "integer" : "number") << f.column;
        break;
      case FieldKind::word: {
        std::vector<std::string> ids;
        for (const std::string_view w : f.words()) ids.emplace_back(w);
        EXPECT_EQ(p["enum"].get<std::vector<std::string>>(), ids) << f.column;
        break;
      }
      case FieldKind::text:
        EXPECT_EQ(p["maxLength"].get<double>(), f.most) << f.column;
        break;
      case FieldKind::date:
      case FieldKind::time:
      case FieldKind::document:
        break;
    }
  }
}

TEST(LogFields, HaveTheLimitsThatArePublished) {
  expect_published<Day>("day", day_fields());
  expect_published<lowkite::Run>("run", run_fields());
}

TEST(LogFields, GiveBackWhatWasPutIn) {
  const Day day = test::sample_day();
  Day copy;
  for (const LogField<Day>& f : day_fields()) f.set(copy, f.get(day));
  EXPECT_EQ(copy, day);
  lowkite::Run run;
  run.started = "14:35";
  run.car_id = "heron-tc190";
  run.tyre_runs = 3;
  run.length_s = 300.0;
  run.verdict = Verdict::better;
  lowkite::Run again;
  for (const LogField<lowkite::Run>& f : run_fields()) f.set(again, f.get(run));
  EXPECT_EQ(again, run);
}

TEST(LogFields, KnowTheCalendarAndTheClock) {
  const auto& date = day_field("date");
  for (const char* good : {"2026-10-09", "2028-02-29"}) EXPECT_FALSE(wrong_with(date, FieldValue(std::string(good))));
  for (const char* bad : {"2026-13-45", "2026-02-29", "2026-10-00", "9.10.2026", ""})
    EXPECT_TRUE(wrong_with(date, FieldValue(std::string(bad)))) << bad;
  const auto& time = run_field("started");
  for (const char* good : {"", "00:00", "23:59"}) EXPECT_FALSE(wrong_with(time, FieldValue(std::string(good))));
  for (const char* bad : {"24:00", "12:60", "noon"}) EXPECT_TRUE(wrong_with(time, FieldValue(std::string(bad)))) << bad;
  EXPECT_EQ(value_in(time, " 9:05 "), FieldValue(std::string("09:05")));
}

/// Each door by itself: a file, a table, and the store that the form writes to.
TEST(ADateThatIsNone, IsLetInByNoDoor) {
  const auto file =
      read_log(R"({"format": "lowkite-log", "version": 1, "days": [{"date": "2026-13-45", "runs": []}]})", "log.json");
  ASSERT_FALSE(file);
  EXPECT_EQ(file.error().front().place, "days > no. 1 > date");
  EXPECT_NE(file.error().front().allowed.find("2026-10-09"), std::string::npos);
  EXPECT_FALSE(read_runs_csv("date,car\n2026-13-45,heron-tc190\n", "runs.csv"));
  EXPECT_FALSE(read_laps_csv("date,lap,seconds\n2026-02-30,1,14.8\n", "laps.csv"));
  const auto path = std::filesystem::temp_directory_path() / ("lowkite-fields-" + std::to_string(::getpid()));
  std::filesystem::remove_all(path);
  {
    auto store = LogStore::open(path / "log.sqlite");
    ASSERT_TRUE(store);
    const auto put = store->put(test::sample_day("2026-13-45"));
    ASSERT_FALSE(put);
    EXPECT_EQ(put.error().place, "day > date");
    EXPECT_TRUE(store->days()->empty());
  }
  std::filesystem::remove_all(path);
}

TEST(ATemperatureThatIsNone, HasTheSameLimitAtEveryDoor) {
  const std::string head = R"({"format": "lowkite-log", "version": 1, "days": [{"date": "2026-10-09", "air_celsius": )";
  EXPECT_TRUE(read_log(head + R"(70, "runs": []}]})", "log.json"));
  EXPECT_FALSE(read_log(head + R"(71, "runs": []}]})", "log.json"));
  EXPECT_TRUE(read_runs_csv("date,car,air_celsius\n2026-10-09,heron-tc190,70\n", "runs.csv"));
  EXPECT_FALSE(read_runs_csv("date,car,air_celsius\n2026-10-09,heron-tc190,71\n", "runs.csv"));
  EXPECT_TRUE(wrong_with(day_field("air_celsius"), FieldValue(71.0)));
}

}  // namespace
}  // namespace lowkite
