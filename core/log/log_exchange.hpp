// The log as files: JSON both ways (docs/formats/log.schema.json), runs and laps as CSV for spreadsheets.
#pragma once

#include <vector>

#include "core/io/json_document.hpp"
#include "core/log/laps.hpp"
#include "core/log/log_store.hpp"

namespace lowkite {

constexpr int newest_log_file_version = 1;

/// A day with its runs, ids left out: they belong to a store.
struct LoggedDay {
  Day day;
  std::vector<RunRecord> runs;
};

std::string write_log(const std::vector<LoggedDay>& days);
/// Every fault found, or the days.
tl::expected<std::vector<LoggedDay>, Faults> read_log(const std::string& text, const std::string& file);

/// Everything in a store, oldest day first.
tl::expected<std::vector<LoggedDay>, Fault> everything_in(const LogStore& store);
/// Adds days with their runs as new ones, all or none. A day that is there already with the same date and track and the
/// same runs is left out. Returns how many were added.
tl::expected<int, Fault> add_to(LogStore& store, const std::vector<LoggedDay>& days);

/// One row a run: day, track, conditions, tyres, what the laps say.
std::string runs_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule = {});
/// One row a lap, with whether it counts.
std::string laps_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule = {});

/// Days and runs from such a table of laps: date, started, car, lap, seconds, mark, in any order, from any spreadsheet.
/// Every row that is wrong is a fault with its number.
tl::expected<std::vector<LoggedDay>, Faults> read_laps_csv(const std::string& text, const std::string& file);

}  // namespace lowkite
