// Laps from the CSV of a timing system, however it writes: any of the usual delimiters, decimal commas, minutes, a
// byte-order mark, UTF-16 or a western 8-bit encoding, headings or none, one driver or many.
#pragma once

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "core/io/fault.hpp"
#include "core/log/log.hpp"

namespace lowkite {

/// Which columns mean what; 0-based. A mapping is remembered by the table's heading.
struct LapMapping {
  int time_column = -1;
  int number_column = -1;  ///< -1: laps are numbered as they come
  int driver_column = -1;  ///< -1: every row is one driver's
  std::string driver{};    ///< whose rows count, where there is a driver's column
  bool heading = true;     ///< the first row names the columns

  bool operator==(const LapMapping&) const = default;
};

/// A timing system's table as text cells.
struct TimingTable {
  std::vector<std::vector<std::string>> rows;  ///< the heading included

  [[nodiscard]] std::size_t columns() const;
  /// What the mapping is remembered by: the first row's cells where it is a heading, else how many columns there are.
  [[nodiscard]] std::string signature() const;
  /// Different cells of a column, in the order in which they come; without the heading.
  [[nodiscard]] std::vector<std::string> different(int column, bool heading) const;
};

tl::expected<TimingTable, Fault> read_timing(const std::string& bytes, const std::string& file);
tl::expected<TimingTable, Fault> load_timing(const std::filesystem::path& path);

/// What the columns look like: a heading's words in several languages, else the first column that holds times. None
/// when no column holds a lap time.
std::optional<LapMapping> guess_mapping(const TimingTable& table);

struct ImportedLaps {
  std::vector<Lap> laps;
  int skipped = 0;  ///< rows without a time
  int missing = 0;  ///< gaps in the numbers
  std::vector<std::string> remarks;
};
/// Fails when the mapping does not belong to the table or no row holds a time.
tl::expected<ImportedLaps, Fault> import_laps(const TimingTable& table, const LapMapping& mapping,
                                              const std::string& file);

/// Remembered mappings, as text for a settings file and back. Nonsense yields an empty map.
std::string write_mappings(const std::map<std::string, LapMapping>& mappings);
std::map<std::string, LapMapping> read_mappings(const std::string& text);

}  // namespace lowkite
