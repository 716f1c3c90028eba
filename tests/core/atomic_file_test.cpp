// Saving under bad luck: a killed process, a full disk, a folder without permission, somebody else's edit.
#include "core/io/atomic_file.hpp"

#include <csignal>
#include <random>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <gtest/gtest.h>

namespace lowkite {
namespace {

namespace fs = std::filesystem;

class Saving : public testing::Test {
 protected:
  void SetUp() override {
    std::string pattern = (fs::temp_directory_path() / "lowkite-save-XXXXXX").string();
    folder_ = ::mkdtemp(pattern.data());
    file_ = folder_ / "a.kite-setup.json";
  }
  void TearDown() override { fs::remove_all(folder_); }

  [[nodiscard]] long files() const { return std::distance(fs::directory_iterator(folder_), fs::directory_iterator{}); }

  fs::path folder_;
  fs::path file_;
};

TEST_F(Saving, WritesWhatIsReadBack) {
  const std::string content = "one\ntwo\0three";
  ASSERT_TRUE(replace_file(file_, content));
  EXPECT_EQ(*read_file(file_), content);
  EXPECT_EQ(files(), 1) << "no temporary file stays behind";
}

TEST_F(Saving, KeepsTheFilesModeAndFollowsALink) {
  ASSERT_TRUE(replace_file(file_, "old"));
  fs::permissions(file_, fs::perms::owner_read | fs::perms::owner_write);
  const fs::path link = folder_ / "link";
  fs::create_symlink(file_, link);
  ASSERT_TRUE(replace_file(link, "new"));
  EXPECT_TRUE(fs::is_symlink(link));
  EXPECT_EQ(*read_file(file_), "new");
  EXPECT_EQ(fs::status(file_).permissions(), fs::perms::owner_read | fs::perms::owner_write);
}

TEST_F(Saving, KilledAtAnyMomentLeavesTheOldOrTheNewFileWhole) {
  const std::string old_content(200'000, 'o');
  const std::string new_content(300'000, 'n');
  std::mt19937 random(9);
  int kept_old = 0;
  int got_new = 0;
  for (int i = 0; i < 120; ++i) {
    ASSERT_TRUE(replace_file(file_, old_content));
    const pid_t child = ::fork();
    ASSERT_GE(child, 0);
    if (child == 0) {
      for (;;) {
        if (!replace_file(file_, new_content)) ::_exit(1);
        if (!replace_file(file_, old_content)) ::_exit(1);
      }
    }
    ::usleep(static_cast<useconds_t>(random() % 8000));
    ::kill(child, SIGKILL);
    int status = 0;
    ::waitpid(child, &status, 0);
    ASSERT_TRUE(WIFSIGNALED(status)) << "the child failed to save";
    const auto found = read_file(file_);
    ASSERT_TRUE(found);
    ASSERT_TRUE(*found == old_content || *found == new_content) << "half a file after kill no. " << i;
    ++(*found == old_content ? kept_old : got_new);
  }
  EXPECT_GT(kept_old, 0);
  EXPECT_GT(got_new, 0);
}

TEST_F(Saving, OnAFullDiskSaysSoAndLeavesTheOldFile) {
  ASSERT_TRUE(replace_file(file_, "precious"));
  const pid_t child = ::fork();
  ASSERT_GE(child, 0);
  if (child == 0) {
    // A limit on file size makes the kernel refuse the write half-way, like a full disk.
    ::signal(SIGXFSZ, SIG_IGN);
    const rlimit small{4096, 4096};
    ::setrlimit(RLIMIT_FSIZE, &small);
    const auto saved = replace_file(file_, std::string(100'000, 'x'));
    ::_exit(!saved && saved.error().line().find("could not be written") != std::string::npos ? 42 : 1);
  }
  int status = 0;
  ::waitpid(child, &status, 0);
  ASSERT_TRUE(WIFEXITED(status));
  EXPECT_EQ(WEXITSTATUS(status), 42);
  EXPECT_EQ(*read_file(file_), "precious");
  EXPECT_EQ(files(), 1);
}

TEST_F(Saving, WhatAKilledProgramLeftHalfWrittenIsClearedAndWhatIsBeingWrittenStays) {
  ASSERT_TRUE(replace_file(file_, "whole"));
  int pipe_ends[2];
  ASSERT_EQ(::pipe(pipe_ends), 0);
  const pid_t child = ::fork();
  ASSERT_GE(child, 0);
  if (child == 0) {
    const int held = ::open((folder_ / ".lowkite-part-held").c_str(), O_CREAT | O_RDWR, 0600);
    ::flock(held, LOCK_EX);
    const char said = ::write(pipe_ends[1], "x", 1) == 1 ? 'y' : 'n';
    for (;;) ::pause();
    ::_exit(said);
  }
  char said = 0;
  ASSERT_EQ(::read(pipe_ends[0], &said, 1), 1);
  ASSERT_TRUE(replace_file(folder_ / ".lowkite-part-dead1", "ha"));
  ASSERT_TRUE(replace_file(folder_ / ".lowkite-part-new", "ha"));
  ASSERT_TRUE(replace_file(folder_ / "somebody's.part", "mine"));
  // As if written a while ago, one of them by a clock that has been set back since.
  const auto now = fs::file_time_type::clock::now();
  fs::last_write_time(folder_ / ".lowkite-part-dead1", now + std::chrono::hours(3));
  fs::last_write_time(folder_ / ".lowkite-part-held", now - std::chrono::minutes(1));
  EXPECT_EQ(clear_half_written(folder_), 1);
  EXPECT_FALSE(fs::exists(folder_ / ".lowkite-part-dead1"));
  EXPECT_TRUE(fs::exists(folder_ / ".lowkite-part-held")) << "its writer lives";
  EXPECT_TRUE(fs::exists(folder_ / ".lowkite-part-new")) << "its writer may be about to lock it";
  EXPECT_TRUE(fs::exists(folder_ / "somebody's.part"));
  EXPECT_EQ(*read_file(file_), "whole");
  ::kill(child, SIGKILL);
  ::waitpid(child, nullptr, 0);
  EXPECT_EQ(clear_half_written(folder_), 1) << "and goes once its writer is dead";
  EXPECT_EQ(clear_half_written(folder_ / "not there"), 0);
  ::close(pipe_ends[0]);
  ::close(pipe_ends[1]);
}

TEST_F(Saving, UnderANameAsLongAsNamesMayBe) {
  const fs::path longest = folder_ / (std::string(240, 'n') + ".kite-car.json");
  EXPECT_TRUE(replace_file(longest, "x")) << "what it is written to first must not be longer than a name may be";
  EXPECT_EQ(*read_file(longest), "x");
}

TEST_F(Saving, IntoAFolderThatIsNotThereSaysSo) {
  const auto saved = replace_file(folder_ / "gone" / "a.json", "x");
  ASSERT_FALSE(saved);
  EXPECT_NE(saved.error().line().find("cannot write in this folder"), std::string::npos);
}

TEST_F(Saving, RefusesToOverwriteWhatSomebodyElseChanged) {
  const auto stamp = replace_file(file_, "mine");
  ASSERT_TRUE(stamp);
  ASSERT_TRUE(replace_file(file_, "theirs"));
  const auto saved = replace_file(file_, "mine again", *stamp);
  ASSERT_FALSE(saved);
  EXPECT_NE(saved.error().line().find("changed by somebody else"), std::string::npos);
  EXPECT_EQ(*read_file(file_), "theirs");
  EXPECT_TRUE(replace_file(file_, "mine again", FileStamp::of("theirs")));
}

TEST_F(Saving, MakesAFileAgainThatSomebodyElseRemoved) {
  const auto stamp = replace_file(file_, "mine");
  fs::remove(file_);
  EXPECT_TRUE(replace_file(file_, "mine", *stamp));
}

TEST_F(Saving, ReadingStopsAtTheLimit) {
  ASSERT_TRUE(replace_file(file_, std::string(1000, 'x')));
  EXPECT_TRUE(read_file(file_, 1000));
  EXPECT_FALSE(read_file(file_, 999));
}

}  // namespace
}  // namespace lowkite
