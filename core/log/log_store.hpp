// The log on the disk: one SQLite file (SQLiteCpp). Every change is one transaction, written through before it counts
// as done, so that a kill leaves either the old state or the new one; a full disk leaves the old one and a fault.
//
// An older file is brought up to date after a copy of it was put beside it; a newer one is refused untouched.
#pragma once

#include <filesystem>
#include <functional>
#include <memory>

#include <tl/expected.hpp>

#include "core/io/fault.hpp"
#include "core/log/log.hpp"

namespace lowkite {

/// A day as it stands in a list.
struct DaySummary {
  Day day;
  int runs = 0;
  int laps = 0;
  std::vector<std::string> cars;  ///< ids of the cars that were driven
};

/// A run as it stands in a list.
struct RunSummary {
  Run run;  ///< without `measured`
  int laps = 0;
  double best_s = 0.0;  ///< of the laps marked as ordinary; 0: none
};

class LogStore {
 public:
  /// Opens the log, or makes one. Faults: not a log, a newer version, the place cannot be written.
  static tl::expected<LogStore, Fault> open(const std::filesystem::path& path);
  LogStore(LogStore&&) noexcept;
  LogStore& operator=(LogStore&&) noexcept;
  ~LogStore();

  [[nodiscard]] const std::filesystem::path& path() const;
  /// True once for every time that another program, or another window, has written to the log.
  bool changed_elsewhere();
  /// False when the file was removed, moved or replaced since it was opened: what is written now would be lost.
  [[nodiscard]] bool still_there() const;

  /// Newest day first.
  [[nodiscard]] tl::expected<std::vector<DaySummary>, Fault> days() const;
  [[nodiscard]] tl::expected<std::optional<Day>, Fault> day(std::int64_t id) const;
  /// In the order in which they were run.
  [[nodiscard]] tl::expected<std::vector<RunSummary>, Fault> runs(std::int64_t day) const;
  /// Every run of a car, oldest first.
  [[nodiscard]] tl::expected<std::vector<RunSummary>, Fault> runs_of_car(const std::string& car_id) const;
  [[nodiscard]] tl::expected<std::optional<RunRecord>, Fault> run(std::int64_t id) const;
  [[nodiscard]] tl::expected<std::vector<Lap>, Fault> laps(std::int64_t run) const;

  /// Stores a day; an id of 0 gets a new one, another replaces what is there (or comes back, after an undo). Returns
  /// the id.
  tl::expected<std::int64_t, Fault> put(const Day& day);
  /// Stores a run with its laps and feelings, whole. Its day must be there.
  tl::expected<std::int64_t, Fault> put(const RunRecord& record);
  /// A day goes with all its runs.
  tl::expected<void, Fault> remove_day(std::int64_t id);
  tl::expected<void, Fault> remove_run(std::int64_t id);

  /// Several changes as one: all of them or none. The first fault that `changes` returns undoes the rest.
  tl::expected<void, Fault> together(const std::function<tl::expected<void, Fault>()>& changes);

  /// A whole copy, atomically in place of `path`.
  tl::expected<void, Fault> back_up(const std::filesystem::path& path) const;

 private:
  struct Inside;
  explicit LogStore(std::unique_ptr<Inside> inside);
  std::unique_ptr<Inside> inside_;
};

/// Copies the log into `folder` when there is none of `today` there, and keeps the newest `keep` of them.
/// Copies are named log-YYYY-MM-DD.sqlite. `today`: ISO date. Returns true when a copy was made.
tl::expected<bool, Fault> keep_backups(const LogStore& log, const std::filesystem::path& folder,
                                       const std::string& today, int keep = 5);

}  // namespace lowkite
