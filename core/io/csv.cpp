#include "core/io/csv.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include <csv.h>

namespace lowkite {
namespace {

struct Table {
  CsvRows rows;
  std::vector<std::string> row;
};

constexpr std::string_view runs_as_formula = "=+-@\t\r";

bool is_number(const std::string& text) {
  double value = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  // Names like "-inf" are read as numbers, too.
  return error == std::errc() && end == text.data() + text.size() && std::isfinite(value);
}

void end_field(void* text, std::size_t size, void* table) {
  std::string_view field(static_cast<const char*>(text), size);
  if (field.size() > 1 && field[0] == '\'' && (field[1] == '\'' || runs_as_formula.find(field[1]) != field.npos))
    field.remove_prefix(1);
  static_cast<Table*>(table)->row.emplace_back(field);
}

void end_row(int, void* table) {
  auto* t = static_cast<Table*>(table);
  const bool empty = std::all_of(t->row.begin(), t->row.end(), [](const std::string& f) { return f.empty(); });
  if (!empty) t->rows.push_back(std::move(t->row));
  t->row.clear();
}

bool must_be_quoted(const std::string& field) {
  return field.find_first_of(",;\"\r\n\t") != std::string::npos || field.starts_with(' ') || field.ends_with(' ');
}

}  // namespace

char csv_delimiter(std::string_view text) {
  // Of what parts the first line, outside quotes, the one seen most.
  std::array<std::pair<char, int>, 3> seen{{{'\t', 0}, {';', 0}, {',', 0}}};
  bool quoted = false;
  for (const char c : text) {
    if (c == '"') quoted = !quoted;
    if (c == '\n' && !quoted) break;
    for (auto& [delimiter, count] : seen) count += !quoted && c == delimiter;
  }
  const auto most =
      std::max_element(seen.begin(), seen.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
  return most->second > 0 ? most->first : ',';
}

CsvRows parse_csv(std::string_view text, char delimiter) {
  constexpr std::string_view mark = "\xEF\xBB\xBF";
  if (text.starts_with(mark)) text.remove_prefix(mark.size());
  Table table;
  csv_parser parser;
  csv_init(&parser, 0);
  csv_set_delim(&parser, static_cast<unsigned char>(delimiter));
  csv_parse(&parser, text.data(), text.size(), end_field, end_row, &table);
  csv_fini(&parser, end_field, end_row, &table);
  csv_free(&parser);
  return std::move(table.rows);
}

std::string spreadsheet_text(const std::string& text) {
  if (text.empty() || is_number(text)) return text;
  return text[0] == '\'' || runs_as_formula.find(text[0]) != std::string_view::npos ? '\'' + text : text;
}

std::string csv_row(const std::vector<std::string>& fields) {
  std::string line;
  for (const std::string& plain : fields) {
    if (&plain != &fields.front()) line += ',';
    const std::string field = spreadsheet_text(plain);
    if (!must_be_quoted(field)) {
      line += field;
      continue;
    }
    std::string quoted(2 * field.size() + 2, '\0');
    quoted.resize(csv_write(quoted.data(), quoted.size(), field.data(), field.size()));
    line += quoted;
  }
  return line + "\n";
}

}  // namespace lowkite
