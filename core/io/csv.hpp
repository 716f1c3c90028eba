// Comma-separated tables, by libcsv: as they come from spreadsheets and timing systems.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace lowkite {

using CsvRows = std::vector<std::vector<std::string>>;

/// The character that parts the fields, guessed from the first line: tab, semicolon or comma.
char csv_delimiter(std::string_view text);

/// Rows of fields; a byte-order mark and empty lines are left out. Quoted fields may hold anything.
CsvRows parse_csv(std::string_view text, char delimiter);

/// Fields joined with commas, quoted where they must be, with a line end.
std::string csv_row(const std::vector<std::string>& fields);

}  // namespace lowkite
