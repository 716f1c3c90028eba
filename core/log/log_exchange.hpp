// The log as files: JSON both ways (docs/formats/log.schema.json), runs and laps as CSV for spreadsheets.
#pragma once

#include <vector>

#include <tl/expected.hpp>

#include "core/io/fault.hpp"
#include "core/log/laps.hpp"
#include "core/log/log_change.hpp"
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
/// Brings tables into a store, all or nothing. A day is known by its date and track, a run of it by its start and car;
/// an empty track in the table is any track of that date. What the log has already stays as it is: a known day or run
/// gets only what it lacks, laps and conditions among it. Returns what was done, for an undo.
tl::expected<LogChange, Fault> merge_into(LogStore& store, const std::vector<LoggedDay>& days);

/// One row a run: day, track, conditions, tyres, how it felt, and what the laps say.
std::string runs_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule = {});
/// One row a lap, with whether it counts.
std::string laps_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule = {});

/// Days and runs from such a table of laps: date, started, car, lap, seconds, mark, in any order, from any spreadsheet.
/// Every row that is wrong is a fault with its number.
tl::expected<std::vector<LoggedDay>, Faults> read_laps_csv(const std::string& text, const std::string& file);
/// The same from a table of runs, without laps; columns may be missing, but for date and car. What is worked out from
/// laps is not read.
tl::expected<std::vector<LoggedDay>, Faults> read_runs_csv(const std::string& text, const std::string& file);
/// Either of them, by its columns.
tl::expected<std::vector<LoggedDay>, Faults> read_log_csv(const std::string& text, const std::string& file);

/// A kind of file whose days and runs can be brought into the log. A new one is a reader and a row of the list.
struct LogImport {
  std::string_view suffix;  ///< as names end in small letters: ".json"
  tl::expected<std::vector<LoggedDay>, Faults> (*read)(const std::string& text, const std::string& file);
};
std::span<const LogImport> log_imports();
/// By the end of a file's name; the first of the list where it ends in none of them.
const LogImport& log_import_for(std::string_view file);

}  // namespace lowkite
