// The log on the disk: what goes in comes out; killed, full, damaged, old and new files.
#include <gtest/gtest.h>

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <filesystem>
#include <fstream>

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/log/log_store.hpp"
#include "tests/core/log/log_samples.hpp"

namespace lowkite::test {
namespace {

namespace fs = std::filesystem;

class LogTest : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = fs::temp_directory_path() / fmt::format("lowkite-log-{}-{}", getpid(), counter_++);
    fs::create_directories(folder_);
  }
  void TearDown() override { fs::remove_all(folder_); }
  [[nodiscard]] fs::path path() const { return folder_ / "log.sqlite"; }
  LogStore store() {
    auto s = LogStore::open(path());
    if (!s) throw std::runtime_error(s.error().line());
    return std::move(*s);
  }
  fs::path folder_;
  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);
  static inline int counter_ = 0;
};

TEST_F(LogTest, WhatGoesInComesOut) {
  LogStore log = store();
  Day day = sample_day();
  day.id = *log.put(day);
  RunRecord record = sample_run(day.id, "14:35", car_, kit_);
  record.laps[3].mark = LapMark::traffic;
  record.run.verdict = Verdict::better;
  record.run.measured = "{}";
  record.run.id = *log.put(record);
  EXPECT_EQ(**log.day(day.id), day);
  EXPECT_EQ(**log.run(record.run.id), record);
  const auto days = *log.days();
  ASSERT_EQ(days.size(), 1u);
  EXPECT_EQ(days[0].runs, 1);
  EXPECT_EQ(days[0].laps, 16);
  const auto runs = *log.runs(day.id);
  ASSERT_EQ(runs.size(), 1u);
  EXPECT_EQ(runs[0].run.feelings, record.run.feelings);
  double best = 99.0;
  for (const Lap& l : record.laps)
    if (l.mark == LapMark::ordinary) best = std::min(best, l.seconds);
  EXPECT_DOUBLE_EQ(runs[0].best_s, best);
  EXPECT_FALSE(*log.run(99));
  EXPECT_FALSE(*log.day(99));
}

TEST_F(LogTest, DaysAreNewestFirstAndRunsInTheirOrder) {
  LogStore log = store();
  for (const char* date : {"2026-03-01", "2026-10-09", "2026-05-05"}) log.put(sample_day(date));
  const auto days = *log.days();
  EXPECT_EQ(days[0].day.date, "2026-10-09");
  EXPECT_EQ(days[2].day.date, "2026-03-01");
  const std::int64_t day = days[0].day.id;
  for (const char* t : {"15:10", "09:20", "12:00"}) log.put(sample_run(day, t, car_, kit_));
  const auto runs = *log.runs(day);
  ASSERT_EQ(runs.size(), 3u);
  EXPECT_EQ(runs[0].run.started, "09:20");
  EXPECT_EQ(runs[2].run.started, "15:10");
}

TEST_F(LogTest, PuttingAgainReplacesAndUndoBringsBackUnderTheSameId) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  RunRecord r = sample_run(day, "10:00", car_, kit_);
  r.run.id = *log.put(r);
  RunRecord changed = r;
  changed.laps.resize(5);
  changed.run.feelings.clear();
  EXPECT_EQ(*log.put(changed), r.run.id);
  EXPECT_EQ(**log.run(r.run.id), changed);
  ASSERT_TRUE(log.remove_run(r.run.id));
  EXPECT_FALSE(*log.run(r.run.id));
  EXPECT_TRUE(log.laps(r.run.id)->empty());
  EXPECT_EQ(*log.put(r), r.run.id);
  EXPECT_EQ(**log.run(r.run.id), r);
}

TEST_F(LogTest, ADayGoesWithItsRunsAndARunNeedsItsDay) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  const std::int64_t run = *log.put(sample_run(day, "10:00", car_, kit_));
  ASSERT_TRUE(log.remove_day(day));
  EXPECT_FALSE(*log.run(run));
  EXPECT_TRUE(log.laps(run)->empty());
  EXPECT_FALSE(log.put(sample_run(77, "10:00", car_, kit_)));
}

TEST_F(LogTest, SeveralChangesAreAllOrNone) {
  LogStore log = store();
  const auto done = log.together([&]() -> tl::expected<void, Fault> {
    log.put(sample_day());
    const auto run = log.put(sample_run(1234, "10:00", car_, kit_));
    if (!run) return tl::unexpected(run.error());
    return {};
  });
  EXPECT_FALSE(done);
  EXPECT_TRUE(log.days()->empty());
}

TEST_F(LogTest, AnOlderLogIsBroughtUpToDateAndKept) {
  {
    // Version 1, as it was first written.
    SQLite::Database db(path().string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    std::ifstream file(std::string(LOWKITE_TEST_SAMPLES) + "/log-v1.sql");
    const std::string sql((std::istreambuf_iterator<char>(file)), {});
    ASSERT_FALSE(sql.empty());
    db.exec(sql);
  }
  LogStore log = store();
  const auto days = *log.days();
  ASSERT_EQ(days.size(), 1u);
  EXPECT_EQ(days[0].day.track, "Brickworks yard");
  EXPECT_FALSE(days[0].day.humidity_percent);
  EXPECT_EQ(days[0].laps, 3);
  const auto runs = *log.runs(days[0].day.id);
  EXPECT_DOUBLE_EQ(runs[0].best_s, 21.4);
  EXPECT_EQ(runs[0].run.marked_by, "");
  EXPECT_EQ((*log.run(runs[0].run.id))->laps[1].mark, LapMark::crash);
  EXPECT_TRUE(fs::exists(folder_ / "log.sqlite.version-1"));
}

// What a program has once written is opened by every later one: each version's log is kept as it was.
TEST_F(LogTest, ALogOfEveryVersionIsReadWhole) {
  int opened = 0;
  for (const auto& entry : fs::directory_iterator(LOWKITE_TEST_SAMPLES)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with("log-v") || !name.ends_with(".sql")) continue;
    for (const char* more : {"", "-wal", "-shm"}) fs::remove(path().string() + more);
    {
      SQLite::Database db(path().string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
      std::ifstream file(entry.path());
      db.exec(std::string((std::istreambuf_iterator<char>(file)), {}));
    }
    LogStore log = store();
    const auto days = everything_in(log);
    ASSERT_TRUE(days) << name << ": " << days.error().line();
    ASSERT_EQ(days->size(), 1u) << name;
    ASSERT_EQ(days->front().runs.size(), 1u) << name;
    EXPECT_EQ(days->front().runs[0].laps.size(), 3u) << name;
    EXPECT_EQ(days->front().runs[0].run.tyres, "pins") << name;
    ++opened;
  }
  // A log that is written today is of the newest: where another column came, the one before is to be kept here, too.
  fs::remove(path());
  store();
  SQLite::Database now(path().string(), SQLite::OPEN_READONLY);
  EXPECT_EQ(now.execAndGet("PRAGMA user_version").getInt(), opened) << "tests/data/log-v*.sql";
}

TEST_F(LogTest, ANewerLogIsRefusedUntouched) {
  store();
  {
    SQLite::Database db(path().string(), SQLite::OPEN_READWRITE);
    db.exec("PRAGMA user_version = 99");
  }
  const auto before = fs::file_size(path());
  const auto log = LogStore::open(path());
  ASSERT_FALSE(log);
  EXPECT_NE(log.error().line().find("newer Low Kite (version 99)"), std::string::npos) << log.error().line();
  EXPECT_EQ(fs::file_size(path()), before);
}

TEST_F(LogTest, WhatIsNoLogIsRefused) {
  std::ofstream(path()) << "this is a shopping list, and a long one at that; nothing here is a database at all";
  auto log = LogStore::open(path());
  ASSERT_FALSE(log);
  EXPECT_NE(log.error().wrong.find("no log"), std::string::npos) << log.error().line();
  fs::remove(path());
  {
    SQLite::Database db(path().string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    db.exec("CREATE TABLE song (name TEXT)");
  }
  log = LogStore::open(path());
  ASSERT_FALSE(log);
  EXPECT_NE(log.error().wrong.find("no log of Low Kite"), std::string::npos);
  EXPECT_FALSE(LogStore::open("/proc/no/such/place/log.sqlite"));
}

TEST_F(LogTest, AFileCutShortIsSaidOrReadsWhole) {
  {
    LogStore log = store();
    const std::int64_t day = *log.put(sample_day());
    for (int i = 0; i < 20; ++i) log.put(sample_run(day, fmt::format("{:02}:00", i), car_, kit_));
  }
  const std::string whole = *read_file(path(), 64u << 20);
  for (const double share : {0.9, 0.5, 0.1}) {
    std::ofstream(path(), std::ios::binary | std::ios::trunc)
        .write(whole.data(), static_cast<std::streamsize>(share * static_cast<double>(whole.size())));
    auto log = LogStore::open(path());
    if (!log) continue;
    const auto days = log->days();
    if (!days) continue;
    for (const DaySummary& d : *days)
      if (const auto runs = log->runs(d.day.id))
        for (const RunSummary& r : *runs) (void)log->run(r.run.id);
  }
}

TEST_F(LogTest, KilledInMidWriteItHoldsTheOldOrTheNewWhole) {
  {
    LogStore log = store();
    log.put(sample_day());
  }
  std::mt19937 random(3);
  int whole = 0;
  for (int round = 0; round < 40; ++round) {
    const pid_t child = fork();
    if (child == 0) {
      auto log = LogStore::open(path());
      if (!log) _exit(1);
      for (int i = 0;; ++i) {
        RunRecord r = sample_run(1, "10:00", car_, kit_);
        r.laps = sample_laps(200, 15.0, static_cast<std::uint32_t>(i));
        if (!log->put(r)) _exit(2);
      }
    }
    usleep(static_cast<useconds_t>(500 + random() % 12000));
    kill(child, SIGKILL);
    waitpid(child, nullptr, 0);
    auto log = LogStore::open(path());
    ASSERT_TRUE(log) << log.error().line();
    const auto runs = log->runs(1);
    ASSERT_TRUE(runs);
    if (!runs->empty()) {
      const auto last = log->run(runs->back().run.id);
      ASSERT_TRUE(last && *last);
      EXPECT_EQ((*last)->laps.size(), 200u) << "a run is stored with all its laps or not at all";
      EXPECT_EQ((*last)->run.feelings.size(), 2u);
      ++whole;
    }
  }
  EXPECT_GT(whole, 0) << "no run was ever stored before the kill: the test tests nothing";
}

TEST_F(LogTest, AFullDiskKeepsTheOldStateAndSaysSo) {
  {
    LogStore log = store();
    log.put(sample_day());
  }
  const pid_t child = fork();
  if (child == 0) {
    // A disk that is full: no file may grow beyond what there is and a little more.
    signal(SIGXFSZ, SIG_IGN);
    const rlimit limit{96 * 1024, 96 * 1024};
    setrlimit(RLIMIT_FSIZE, &limit);
    auto log = LogStore::open(path());
    if (!log) _exit(10);
    bool refused = false;
    for (int i = 0; i < 60 && !refused; ++i) {
      RunRecord r = sample_run(1, "10:00", car_, kit_);
      r.laps = sample_laps(300, 15.0);
      const auto stored = log->put(r);
      refused = !stored;
    }
    if (!refused) _exit(11);
    // What was there is still there, and whole.
    const auto runs = log->runs(1);
    if (!runs) _exit(12);
    for (const RunSummary& s : *runs) {
      const auto r = log->run(s.run.id);
      if (!r || !*r || (*r)->laps.size() != 300) _exit(13);
    }
    _exit(0);
  }
  int status = 0;
  waitpid(child, &status, 0);
  EXPECT_TRUE(WIFEXITED(status));
  EXPECT_EQ(WEXITSTATUS(status), 0);
}

TEST_F(LogTest, ItIsNoticedWhenAnotherProgramWrites) {
  LogStore mine = store();
  LogStore theirs = store();
  EXPECT_FALSE(mine.changed_elsewhere());
  Day day;
  day.date = "2026-11-27";
  ASSERT_TRUE(mine.put(day));
  EXPECT_FALSE(mine.changed_elsewhere()) << "what one wrote oneself is no news";
  EXPECT_TRUE(theirs.changed_elsewhere());
  EXPECT_FALSE(theirs.changed_elsewhere()) << "and it is news once";
  EXPECT_EQ(theirs.days()->size(), 1u);
}

TEST_F(LogTest, ALogThatWasRemovedOrReplacedIsNotWrittenIntoNothing) {
  LogStore log = store();
  EXPECT_TRUE(log.still_there());
  fs::rename(path(), folder_ / "moved.sqlite");
  EXPECT_FALSE(log.still_there());
  { LogStore another = store(); }
  EXPECT_FALSE(log.still_there()) << "another file of the same name is another log";
}

TEST_F(LogTest, ACopyOverTheLogItselfIsRefused) {
  LogStore log = store();
  Day day;
  day.date = "2026-11-27";
  ASSERT_TRUE(log.put(day));
  const auto copied = log.back_up(path());
  ASSERT_FALSE(copied);
  EXPECT_NE(copied.error().line().find("the log itself"), std::string::npos);
  EXPECT_TRUE(log.still_there());
  EXPECT_EQ(store().days()->size(), 1u);
}

TEST_F(LogTest, BackupsAreWholeKeptAndRotated) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  log.put(sample_run(day, "10:00", car_, kit_));
  const fs::path folder = folder_ / "backups";
  for (int i = 1; i <= 7; ++i) {
    const auto made = keep_backups(log, folder, fmt::format("2026-10-{:02}", i), 5);
    ASSERT_TRUE(made) << made.error().line();
    EXPECT_TRUE(*made);
  }
  EXPECT_FALSE(*keep_backups(log, folder, "2026-10-07", 5)) << "one a day";
  int copies = 0;
  for (const auto& e : fs::directory_iterator(folder)) {
    ++copies;
    EXPECT_NE(e.path().filename().string(), "log-2026-10-01.sqlite");
  }
  EXPECT_EQ(copies, 5);
  auto copy = LogStore::open(folder / "log-2026-10-07.sqlite");
  ASSERT_TRUE(copy);
  EXPECT_EQ(copy->runs(day)->size(), 1u);
  EXPECT_FALSE(log.back_up("/proc/no/such/place/log.sqlite"));
}

TEST_F(LogTest, GoesToJsonAndComesBackOnce) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  RunRecord r = sample_run(day, "10:00", car_, kit_);
  r.laps[2].mark = LapMark::crash;
  log.put(r);
  log.put(sample_run(day, "11:00", car_, kit_));
  log.put(sample_day("2026-11-01"));
  const auto all = *everything_in(log);
  ASSERT_EQ(all.size(), 2u);
  const std::string text = write_log(all);
  auto read = read_log(text, "log.json");
  ASSERT_TRUE(read) << read.error().front().line();
  EXPECT_EQ(write_log(*read), text);
  auto other = LogStore::open(folder_ / "other.sqlite");
  EXPECT_EQ(merge_into(*other, *read)->days.size(), 2u);
  EXPECT_TRUE(merge_into(*other, *read)->empty()) << "what is there already is not added again";
  const auto copied = *everything_in(*other);
  ASSERT_EQ(copied.size(), 2u);
  EXPECT_EQ(copied[0].runs.size(), 2u);
  EXPECT_EQ(copied[0].runs[0].laps, r.laps);
  EXPECT_EQ(copied[0].runs[0].run.feelings, r.run.feelings);
  // The setup comes back as the same setup, whatever its spaces.
  EXPECT_TRUE(read_setup(copied[0].runs[0].run.setup, "", car_));
}

TEST_F(LogTest, FaultsOfALogFileNamePlaceAndRemedy) {
  const auto fault = [](const std::string& text) {
    const auto read = read_log(text, "log.json");
    return read ? std::string() : read.error().front().line();
  };
  const std::string head = R"({"format": "lowkite-log", "version": 1, "days": [{"date": "2026-10-09", "runs": [)";
  EXPECT_NE(fault(R"({"format": "lowkite-log", "version": 9, "days": []})").find("version"), std::string::npos);
  EXPECT_NE(fault(R"({"format": "lowkite-log", "version": 1, "days": [{"date": "soon", "runs": []}]})").find("date"),
            std::string::npos);
  EXPECT_NE(fault(head + R"({"car": "x", "laps": [{"number": 1, "seconds": -2}]}]}]})").find("seconds"),
            std::string::npos);
  EXPECT_NE(
      fault(head + R"({"car": "x", "feelings": [{"phase": "pit", "sense": "roll", "amount": 1}]}]}]})").find("phase"),
      std::string::npos);
  EXPECT_NE(fault("{").size(), 0u);
}

TEST_F(LogTest, TablesForSpreadsheetsHaveARowARunAndARowALap) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  RunRecord r = sample_run(day, "10:00", car_, kit_);
  r.laps[0].seconds = 30.0;
  log.put(r);
  const auto all = *everything_in(log);
  const std::string runs = runs_as_csv(all);
  EXPECT_EQ(std::count(runs.begin(), runs.end(), '\n'), 2);
  EXPECT_NE(runs.find("heron-tc190"), std::string::npos);
  const std::string laps = laps_as_csv(all);
  EXPECT_EQ(std::count(laps.begin(), laps.end(), '\n'), 17);
  EXPECT_NE(laps.find("30.000,ordinary,no"), std::string::npos) << "a lap that is set aside says so";
}

TEST_F(LogTest, ATableOfLapsComesBackAsDaysAndRuns) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  RunRecord r = sample_run(day, "10:00", car_, kit_);
  r.laps[2].mark = LapMark::crash;
  for (Lap& l : r.laps) l.seconds = std::round(1000.0 * l.seconds) / 1000.0;
  log.put(r);
  r.run.started = "11:00";
  log.put(r);
  const auto back = read_laps_csv(laps_as_csv(*everything_in(log)), "laps.csv");
  ASSERT_TRUE(back) << back.error().front().line();
  ASSERT_EQ(back->size(), 1u);
  ASSERT_EQ((*back)[0].runs.size(), 2u);
  EXPECT_EQ((*back)[0].runs[1].laps, r.laps);
  EXPECT_EQ((*back)[0].runs[1].run.car_id, car_.id);
  // From a spreadsheet of another country, columns in another order.
  const auto other = read_laps_csv("seconds;lap;date\n14,83;1;2026-10-09\n1:02,5;2;2026-10-09\n", "x.csv");
  ASSERT_TRUE(other);
  EXPECT_DOUBLE_EQ((*other)[0].runs[0].laps[1].seconds, 62.5);
  const auto wrong = read_laps_csv("date,lap,seconds\nsoon,1,14\n2026-10-09,one,fast\n", "x.csv");
  ASSERT_FALSE(wrong);
  EXPECT_EQ(wrong.error().size(), 3u);
  EXPECT_EQ(wrong.error()[0].place, "row 2");
  EXPECT_FALSE(read_laps_csv("a,b\n1,2\n", "x.csv"));
}

TEST_F(LogTest, ATableOfRunsComesBackWithAllButItsLaps) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  RunRecord r = sample_run(day, "10:00", car_, kit_);
  r.run.feelings = {{Phase::entry, Sense::front_grip, TurnWay::left, -1},
                    {Phase::bumps, Sense::ride, TurnWay::both, 2}};
  r.run.additive = "by the club's rule, none";
  r.run.broke = "left \"front\" link; ball torn";
  r.run.marked_by = "number 7";
  r.run.length_s = 300.0;
  r.run.verdict = Verdict::better;
  log.put(r);
  const auto all = *everything_in(log);
  const auto back = read_log_csv(runs_as_csv(all), "runs.csv");
  ASSERT_TRUE(back) << back.error().front().line();
  ASSERT_EQ(back->size(), 1u);
  Day expected_day = all[0].day;
  expected_day.id = 0;
  EXPECT_EQ((*back)[0].day, expected_day);
  lowkite::Run expected = all[0].runs[0].run;
  expected.id = expected.day = 0;
  expected.setup.clear();
  expected.measured.clear();
  ASSERT_EQ((*back)[0].runs.size(), 1u);
  EXPECT_EQ((*back)[0].runs[0].run, expected);
  EXPECT_TRUE((*back)[0].runs[0].laps.empty());
}

TEST_F(LogTest, ATableOfRunsFromAnotherCountryAndItsFaults) {
  const auto read = read_log_csv(
      "\xEF\xBB\xBF"
      "car;date;air_celsius;tyre_runs\nheron-tc190;2026-10-09;21,5;3\n",
      "x.csv");
  ASSERT_TRUE(read) << read.error().front().line();
  EXPECT_DOUBLE_EQ(*(*read)[0].day.air_celsius, 21.5);
  EXPECT_EQ(*(*read)[0].runs[0].run.tyre_runs, 3);
  const auto wrong = read_log_csv(
      "date,car,air_celsius,grip,feelings,tyre_runs\n2026-13-09,a,900,sticky,entry:front,two\n2026-10-09,,1,low,,\n",
      "x.csv");
  ASSERT_FALSE(wrong);
  EXPECT_EQ(wrong.error().size(), 6u);
  EXPECT_EQ(wrong.error().back().place, "row 3");
  EXPECT_NE(wrong.error()[1].line().find("one of unknown, low, medium, high"), std::string::npos)
      << wrong.error()[1].line();
  EXPECT_FALSE(read_log_csv("", "x.csv"));
  EXPECT_FALSE(read_log_csv("a,b\n1,2\n", "x.csv"));
}

TEST_F(LogTest, TheTwoTablesGoTogetherAndAnUndoTakesBackWhatCame) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  RunRecord r = sample_run(day, "10:00", car_, kit_);
  r.run.setup.clear();
  r.run.measured.clear();
  for (Lap& l : r.laps) l.seconds = std::round(1000.0 * l.seconds) / 1000.0;
  log.put(r);
  r.run.started = "11:00";
  log.put(r);
  const auto all = *everything_in(log);
  auto other = LogStore::open(folder_ / "other.sqlite");
  const auto without_ids = [](std::vector<LoggedDay> days) {
    for (LoggedDay& d : days) {
      d.day.id = 0;
      for (RunRecord& run : d.runs) run.run.id = run.run.day = 0;
    }
    return write_log(days);
  };
  const auto merge = [&](const std::string& table) {
    const auto read = read_log_csv(table, "t.csv");
    EXPECT_TRUE(read);
    const auto m = merge_into(*other, *read);
    EXPECT_TRUE(m);
    return *m;
  };
  LogChange first = merge(runs_as_csv(all));
  EXPECT_EQ(first.days.size(), 1u);
  LogChange second = merge(laps_as_csv(all));
  EXPECT_TRUE(second.days.empty());
  ASSERT_EQ(second.runs.size(), 2u) << "the laps go to the runs that are there";
  EXPECT_TRUE(second.runs[0].before && second.runs[1].before);
  EXPECT_EQ(without_ids(*everything_in(*other)), without_ids(all));
  EXPECT_TRUE(merge(laps_as_csv(all)).empty());
  ASSERT_TRUE(take_back(*other, second));
  EXPECT_TRUE((*everything_in(*other))[0].runs[1].laps.empty());
  EXPECT_EQ((*everything_in(*other))[0].runs[1].run.tyres, r.run.tyres);
  ASSERT_TRUE(take_back(*other, first));
  EXPECT_TRUE(everything_in(*other)->empty());
  ASSERT_TRUE(make(*other, first));
  ASSERT_TRUE(make(*other, second));
  EXPECT_EQ(without_ids(*everything_in(*other)), without_ids(all)) << "and comes again";
}

TEST_F(LogTest, ATableThatNamesADayTwiceFillsItOnceAndIsTakenBackWhole) {
  LogStore log = store();
  log.put(sample_day());
  const std::string before = write_log(*everything_in(log));
  LoggedDay once;
  once.day.date = sample_day().date;
  once.day.track = sample_day().track;
  once.runs.push_back(sample_run(0, "10:00", car_, kit_));
  once.runs[0].run.marked_by.clear();
  LoggedDay again = once;
  again.runs[0].run.marked_by = "somebody";
  LoggedDay unknown = once;
  unknown.day.date = "2020-02-02";
  LogChange merged = *merge_into(log, {once, again, unknown, unknown});
  const auto all = *everything_in(log);
  ASSERT_EQ(all.size(), 2u);
  EXPECT_EQ(all[0].runs.size(), 1u);
  ASSERT_EQ(all[1].runs.size(), 1u);
  EXPECT_EQ(all[1].runs[0].run.marked_by, "somebody");
  ASSERT_TRUE(take_back(log, merged));
  EXPECT_EQ(write_log(*everything_in(log)), before);
  ASSERT_TRUE(make(log, merged));
  EXPECT_EQ(write_log(*everything_in(log)), write_log(all));
}

}  // namespace
}  // namespace lowkite::test
