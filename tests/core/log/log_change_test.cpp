// Changes of the log that are made, taken back and made again, by two programs at one file.
#include <gtest/gtest.h>

#include <sys/resource.h>
#include <unistd.h>

#include <csignal>
#include <filesystem>
#include <map>
#include <random>

#include <fmt/format.h>

#include "core/log/log_change.hpp"
#include "tests/core/log/log_samples.hpp"

namespace lowkite::test {
namespace {

namespace fs = std::filesystem;

class LogChangeTest : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = fs::temp_directory_path() / fmt::format("lowkite-change-{}-{}", getpid(), counter_++);
    fs::create_directories(folder_);
  }
  void TearDown() override { fs::remove_all(folder_); }
  LogStore store() {
    auto s = LogStore::open(folder_ / "log.sqlite");
    if (!s) throw std::runtime_error(s.error().line());
    return std::move(*s);
  }
  RunRecord run(std::int64_t day, const std::string& started) const { return sample_run(day, started, car_, kit_); }
  static std::string all(const LogStore& s) { return write_log(*everything_in(s)); }

  fs::path folder_;
  Car car_ = touring();
  CarSetup kit_ = kit_setup(car_);
  static inline int counter_ = 0;
};

TEST_F(LogChangeTest, IsMadeTakenBackAndMadeAgainWithTheSameIds) {
  LogStore log = store();
  LogChange day;
  day.days.push_back({std::nullopt, sample_day()});
  ASSERT_TRUE(make(log, day));
  const std::int64_t id = day.days[0].after->id;
  ASSERT_NE(id, 0);
  LogChange added;
  added.runs.push_back({std::nullopt, run(id, "10:00")});
  ASSERT_TRUE(make(log, added));
  const std::string both = all(log);
  ASSERT_TRUE(make(log, added)) << "twice is once";
  EXPECT_EQ(all(log), both);
  ASSERT_TRUE(take_back(log, added));
  ASSERT_TRUE(take_back(log, added));
  ASSERT_TRUE(take_back(log, day));
  EXPECT_TRUE(log.days()->empty());
  ASSERT_TRUE(make(log, day));
  ASSERT_TRUE(make(log, added));
  EXPECT_EQ(all(log), both);
  EXPECT_EQ(log.runs(id)->front().run.id, added.runs[0].after->run.id);
}

TEST_F(LogChangeTest, NothingIsWrittenOverWhatSomebodyElseChanged) {
  LogStore mine = store(), theirs = store();
  LogChange day, made, edited, gone;
  day.days.push_back({std::nullopt, sample_day()});
  ASSERT_TRUE(make(mine, day));
  const std::int64_t id = day.days[0].after->id;
  made.runs.push_back({std::nullopt, run(id, "10:00")});
  ASSERT_TRUE(make(mine, made));
  RunRecord noted = *made.runs[0].after;
  noted.run.notes = "mine";
  edited.runs.push_back({made.runs[0].after, noted});
  ASSERT_TRUE(make(mine, edited));

  // Somebody else at another run is in nobody's way.
  ASSERT_TRUE(theirs.put(run(id, "11:00")));
  ASSERT_TRUE(take_back(mine, edited));
  ASSERT_TRUE(make(mine, edited));

  RunRecord other = noted;
  other.run.notes = "theirs";
  ASSERT_TRUE(theirs.put(other));
  const std::string before = all(mine);
  const auto refused = [&](const tl::expected<void, LogRefusal>& done, const char* what) {
    ASSERT_FALSE(done);
    EXPECT_TRUE(done.error().overtaken);
    EXPECT_NE(done.error().fault.line().find(what), std::string::npos) << done.error().fault.line();
    EXPECT_EQ(all(mine), before);
  };
  refused(take_back(mine, edited), "the run of 10:00");
  refused(take_back(mine, made), "the run of 10:00");
  // The day does not take along a run that it was not known to have.
  refused(take_back(mine, day), "the day 2026-10-09");
  gone.runs.push_back({*mine.run(noted.run.id), std::nullopt});
  gone.days.push_back({day.days[0].after, std::nullopt});
  refused(make(mine, gone), "the day 2026-10-09");

  // A run that was removed there does not come back by an edit, nor a run to a day that is gone.
  ASSERT_TRUE(theirs.remove_run(noted.run.id));
  EXPECT_TRUE(take_back(mine, edited).error().overtaken);
  ASSERT_TRUE(theirs.remove_day(id));
  const auto late = make(mine, made);
  ASSERT_FALSE(late);
  EXPECT_TRUE(late.error().overtaken);
  EXPECT_NE(late.error().fault.line().find("the day of"), std::string::npos) << late.error().fault.line();
}

TEST_F(LogChangeTest, AnIdThatWasGivenAnewIsNotWrittenOver) {
  LogStore mine = store(), theirs = store();
  const std::int64_t day = *mine.put(sample_day());
  LogChange made;
  made.runs.push_back({std::nullopt, run(day, "10:00")});
  ASSERT_TRUE(make(mine, made));
  ASSERT_TRUE(take_back(mine, made));
  EXPECT_EQ(*theirs.put(run(day, "12:00")), made.runs[0].after->run.id) << "the database numbers on from what it has";
  const auto again = make(mine, made);
  ASSERT_FALSE(again);
  EXPECT_TRUE(again.error().overtaken);
  EXPECT_EQ((*mine.runs(day))[0].run.started, "12:00");
}

TEST_F(LogChangeTest, AFullDiskIsNoReasonToForgetAChange) {
  LogStore log = store();
  const std::int64_t day = *log.put(sample_day());
  LogChange made;
  made.runs.push_back({std::nullopt, run(day, "10:00")});
  ASSERT_TRUE(make(log, made));
  RunRecord noted = *made.runs[0].after;
  noted.run.notes = std::string(3'900, 'n');
  LogChange edited;
  edited.runs.push_back({made.runs[0].after, noted});
  const auto before = std::signal(SIGXFSZ, SIG_IGN);
  rlimit limit{};
  ::getrlimit(RLIMIT_FSIZE, &limit);
  const rlimit small{64, limit.rlim_max};
  ::setrlimit(RLIMIT_FSIZE, &small);
  const auto full = make(log, edited);
  ::setrlimit(RLIMIT_FSIZE, &limit);
  std::signal(SIGXFSZ, before);
  ASSERT_FALSE(full);
  EXPECT_FALSE(full.error().overtaken);
  EXPECT_NE(full.error().fault.line().find("disk"), std::string::npos) << full.error().fault.line();
  EXPECT_EQ(**log.run(noted.run.id), *made.runs[0].after);
  const auto later = make(log, edited);
  ASSERT_TRUE(later) << later.error().fault.line();
  EXPECT_EQ(**log.run(noted.run.id), noted);
}

/// What stands in a log, thing by thing.
using Items = std::map<std::pair<char, std::int64_t>, std::string>;

std::string text_of(const Day& day) {
  return write_log({{day, {}}});
}
std::string text_of(const RunRecord& record) {
  return std::to_string(record.run.day) + write_log({{{}, {record}}});
}
Items look(const LogStore& s) {
  Items items;
  const std::vector<LoggedDay> days = *everything_in(s);
  for (const LoggedDay& d : days) {
    items[{'d', d.day.id}] = text_of(d.day);
    for (const RunRecord& r : d.runs) items[{'r', r.run.id}] = text_of(r);
  }
  return items;
}

/// Three programs at one log, each with a stack of what it did, each going by what it has last looked at.
TEST_F(LogChangeTest, OfManyProgramsNoneWritesOverWhatItHasNotSeen) {
  struct Program {
    LogStore log;
    std::vector<LoggedDay> seen = {};
    std::vector<LogChange> stack = {};
    std::size_t done = 0;
  };
  std::mt19937 random(20261130);
  const auto below = [&](std::size_t n) { return n == 0 ? 0 : random() % n; };
  std::vector<Program> programs;
  for (int i = 0; i < 3; ++i) programs.push_back({store()});
  int made = 0, refused = 0, taken_back = 0;
  for (int step = 0; step < 600; ++step) {
    Program& p = programs[below(programs.size())];
    const Items before = look(p.log);
    const std::size_t what = below(8);
    const bool back = what < 2 && p.done > 0;
    const bool again = what == 2 && p.done < p.stack.size();
    LogChange c;
    if (back) {
      c = p.stack[p.done - 1];
    } else if (again) {
      c = p.stack[p.done];
    } else {
      const LoggedDay* day = p.seen.empty() ? nullptr : &p.seen[below(p.seen.size())];
      const RunRecord* r = !day || day->runs.empty() ? nullptr : &day->runs[below(day->runs.size())];
      if (!day || (what == 3 && p.seen.size() < 4)) {
        c.days.push_back({std::nullopt, sample_day(fmt::format("2026-{:02}-{:02}", 1 + step % 12, 1 + step % 28))});
      } else if (what == 4) {
        for (const RunRecord& each : day->runs) c.runs.push_back({each, std::nullopt});
        c.days.push_back({day->day, std::nullopt});
      } else if (what == 5 || !r) {
        c.runs.push_back({std::nullopt, run(day->day.id, fmt::format("{:02}:{:02}", step % 24, step % 60))});
      } else if (what == 6) {
        c.runs.push_back({*r, std::nullopt});
      } else {
        RunRecord next = *r;
        next.run.notes = std::to_string(step);
        c.runs.push_back({*r, next});
      }
    }
    const auto done = back ? take_back(p.log, c) : make(p.log, c);
    const Items after = look(p.log);
    p.seen = *everything_in(p.log);
    if (back) --p.done;
    const auto at = p.stack.begin() + static_cast<std::ptrdiff_t>(p.done);
    if (!done) {
      ++refused;
      EXPECT_TRUE(done.error().overtaken) << done.error().fault.line();
      ASSERT_EQ(after, before) << "step " << step;
      if (back || again) p.stack.erase(at);
      continue;
    }
    made += !back;
    taken_back += back;
    if (!back && !again) {
      p.stack.erase(at, p.stack.end());
      p.stack.push_back(c);
    }
    if (!back) ++p.done;
    // All that differs is what the change names, and it stood as the change left it.
    Items expected = before;
    const auto apply = [&](const auto& item, char kind) {
      const auto& from = back ? item.after : item.before;
      const auto& to = back ? item.before : item.after;
      const auto id = [](const auto& record) {
        if constexpr (requires { record.id; })
          return record.id;
        else
          return record.run.id;
      };
      const std::pair<char, std::int64_t> key{kind, id(to ? *to : *from)};
      const auto stood = before.find(key);
      const std::string was = stood == before.end() ? "" : stood->second;
      const std::string is = to ? text_of(*to) : "";
      ASSERT_TRUE(was == (from ? text_of(*from) : "") || was == is) << "step " << step << ": written over unseen";
      if (to)
        expected[key] = is;
      else
        expected.erase(key);
    };
    for (const auto& item : c.days) apply(item, 'd');
    for (const auto& item : c.runs) apply(item, 'r');
    ASSERT_EQ(after, expected) << "step " << step;
  }
  EXPECT_GT(made, 100);
  EXPECT_GT(refused, 20);
  EXPECT_GT(taken_back, 20);
}

}  // namespace
}  // namespace lowkite::test
