// Comma-separated tables, by libcsv: as they come from spreadsheets and timing systems.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace lowkite {

using CsvRows = std::vector<std::vector<std::string>>;

/// The character that parts the fields, guessed from the first line: tab, semicolon or comma.
char csv_delimiter(std::string_view text);

/// Rows of fields; a byte-order mark and empty lines are left out. Quoted fields may hold anything. The mark that
/// `csv_row` puts before a text that looks like a formula is taken off.
CsvRows parse_csv(std::string_view text, char delimiter);

/// A text as a spreadsheet may have it: one that it would run as a formula (it begins with = + - @ or a control
/// character and is no number) gets an apostrophe before it, and so does one that begins with an apostrophe.
std::string spreadsheet_text(const std::string& text);

/// Fields joined with commas, quoted where they must be, as `spreadsheet_text`, with a line end.
std::string csv_row(const std::vector<std::string>& fields);

}  // namespace lowkite
