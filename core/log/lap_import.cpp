#include "core/log/lap_import.hpp"

#include <algorithm>
#include <array>
#include <cctype>

#include "core/io/atomic_file.hpp"
#include "core/io/csv.hpp"
#include "core/io/encoding.hpp"
#include "core/io/json_document.hpp"
#include "core/io/typed_text.hpp"
#include "core/linkage/at.hpp"
#include "core/log/laps.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::uintmax_t most_bytes = 32u << 20;

std::string lower(std::string text) {
  for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

std::optional<int> whole_number(const std::string& cell) {
  const std::string t = trimmed(cell);
  if (t.empty() || t.size() > 5 || !std::all_of(t.begin(), t.end(), [](unsigned char c) { return std::isdigit(c); }))
    return std::nullopt;
  return std::stoi(t);
}

/// A lap time that no lap number could be: with decimals or minutes.
bool looks_like_time(const std::string& cell) {
  return cell.find_first_of(".,:'") != std::string::npos && lap_from_text(cell).has_value();
}

bool has_word(const std::string& cell, std::initializer_list<std::string_view> words) {
  const std::string text = lower(cell);
  return std::any_of(words.begin(), words.end(), [&](std::string_view w) { return text.find(w) != std::string::npos; });
}

bool is_heading(const std::vector<std::string>& row) {
  return std::none_of(row.begin(), row.end(), [](const std::string& c) { return looks_like_time(c); }) &&
         std::any_of(row.begin(), row.end(), [](const std::string& c) {
           return std::any_of(c.begin(), c.end(), [](unsigned char x) { return std::isalpha(x); });
         });
}

}  // namespace

std::size_t TimingTable::columns() const {
  std::size_t most = 0;
  for (const auto& row : rows) most = std::max(most, row.size());
  return most;
}

std::string TimingTable::signature() const {
  if (rows.empty() || !is_heading(rows.front())) return say("{} columns", columns());
  std::string text;
  for (const std::string& cell : rows.front()) text += lower(trimmed(cell)) + "|";
  return text;
}

std::vector<std::string> TimingTable::different(int column, bool heading) const {
  std::vector<std::string> list;
  for (std::size_t i = heading ? 1 : 0; i < rows.size(); ++i) {
    if (column < 0 || at(column) >= rows[i].size()) continue;
    std::string cell = trimmed(rows[i][at(column)]);
    if (!cell.empty() && std::find(list.begin(), list.end(), cell) == list.end()) list.push_back(std::move(cell));
  }
  return list;
}

tl::expected<TimingTable, Fault> read_timing(const std::string& bytes, const std::string& file) {
  const std::string text = to_utf8(bytes);
  // Titles may stand over the table: the delimiter is the one of the line that has most of them.
  std::string_view best = text;
  std::size_t most = 0;
  for (std::size_t from = 0, lines = 0; from < text.size() && lines < 40; ++lines) {
    const std::size_t end = std::min(text.find('\n', from), text.size());
    const std::string_view line = std::string_view(text).substr(from, end - from);
    const char d = csv_delimiter(line);
    // A decimal comma is no delimiter where semicolons or tabs part the fields.
    const auto count = at(std::count(line.begin(), line.end(), d)) * (d == ',' ? 1 : 3);
    if (count > most) {
      most = count;
      best = line;
    }
    from = end + 1;
  }
  TimingTable table;
  table.rows = parse_csv(text, most > 0 ? csv_delimiter(best) : ';');
  // What stands above the widest rows is a title.
  const std::size_t width = table.columns();
  while (table.rows.size() > 1 && width > 1 && table.rows.front().size() == 1) table.rows.erase(table.rows.begin());
  if (table.rows.empty())
    return tl::unexpected(Fault{file, "", say("the file is empty"), say("a table with lap times")});
  return table;
}

tl::expected<TimingTable, Fault> load_timing(const std::filesystem::path& path) {
  const auto text = read_file(path, most_bytes);
  if (!text) return tl::unexpected(text.error());
  return read_timing(*text, path.filename().string());
}

std::optional<LapMapping> guess_mapping(const TimingTable& table) {
  LapMapping m;
  m.heading = is_heading(table.rows.front());
  const std::size_t first = m.heading ? 1 : 0;
  const auto width = static_cast<int>(table.columns());
  const auto share = [&](int column, const auto& test) {
    std::size_t yes = 0, all = 0;
    for (std::size_t i = first; i < table.rows.size(); ++i) {
      if (at(column) >= table.rows[i].size()) continue;
      const std::string& cell = table.rows[i][at(column)];
      if (trimmed(cell).empty()) continue;
      ++all;
      yes += test(cell);
    }
    return all == 0 ? 0.0 : static_cast<double>(yes) / static_cast<double>(all);
  };
  const auto named = [&](int column, std::initializer_list<std::string_view> words) {
    return m.heading && at(column) < table.rows.front().size() && has_word(table.rows.front()[at(column)], words);
  };
  // Sums and gaps are times too; a column that says "lap" comes before one that does not.
  int best = -1;
  double rank = 0.0;
  for (int c = 0; c < width; ++c) {
    double r = share(c, looks_like_time);
    if (r < 0.5) continue;
    if (named(c, {"lap", "runde", "tour", "vuelta", "giro"})) r += 2.0;
    if (named(c, {"time", "zeit", "temps", "tiempo", "tempo"})) r += 1.0;
    if (named(c, {"total", "gesamt", "gap", "diff", "best", "abstand", "cumul"})) r -= 2.5;
    if (r > rank || best < 0) {
      best = c;
      rank = r;
    }
  }
  if (best < 0) return std::nullopt;
  m.time_column = best;
  for (int c = 0; c < width && m.number_column < 0; ++c) {
    if (c == best || share(c, [](const std::string& s) { return whole_number(s).has_value(); }) < 0.9) continue;
    if (!m.heading || named(c, {"lap", "runde", "no", "nr", "#", "tour", "vuelta", "giro"})) m.number_column = c;
  }
  for (int c = 0; c < width && m.driver_column < 0; ++c)
    if (c != best && named(c, {"driver", "fahrer", "name", "pilot", "transponder"})) m.driver_column = c;
  if (m.driver_column >= 0) {
    const auto drivers = table.different(m.driver_column, m.heading);
    if (!drivers.empty()) m.driver = drivers.front();
  }
  return m;
}

tl::expected<ImportedLaps, Fault> import_laps(const TimingTable& table, const LapMapping& m, const std::string& file) {
  const auto width = static_cast<int>(table.columns());
  const auto wrong = [&](std::string what, std::string allowed) {
    return tl::unexpected(Fault{file, "", std::move(what), std::move(allowed)});
  };
  if (m.time_column < 0 || m.time_column >= width || m.number_column >= width || m.driver_column >= width)
    return wrong(say("a column that is asked for is not there"), say("columns 1 to {}", width));
  ImportedLaps in;
  const auto cell = [](const std::vector<std::string>& row, int column) -> std::string {
    return column >= 0 && at(column) < row.size() ? row[at(column)] : "";
  };
  int last = 0;
  for (std::size_t i = m.heading ? 1 : 0; i < table.rows.size(); ++i) {
    const auto& row = table.rows[i];
    if (m.driver_column >= 0 && trimmed(cell(row, m.driver_column)) != m.driver) continue;
    const std::string text = cell(row, m.time_column);
    const auto seconds = lap_from_text(text);
    const auto number = whole_number(cell(row, m.number_column));
    if (!seconds) {
      ++in.skipped;
      if (!trimmed(text).empty() && in.remarks.size() < 5)
        in.remarks.push_back(say("row {row}: \"{found}\" is no lap time", "row"_a = i + 1, "found"_a = trimmed(text)));
      // A row that was there and holds no time is a lap that is missing.
      if (m.number_column < 0) ++last;
      continue;
    }
    const int n = number.value_or(last + 1);
    if (n <= last && in.remarks.size() < 5)
      in.remarks.push_back(
          say("row {row}: lap {lap} comes after lap {last}", "row"_a = i + 1, "lap"_a = n, "last"_a = last));
    if (!in.laps.empty()) in.missing += std::max(0, n - in.laps.back().number - 1);
    in.laps.push_back({n, *seconds, LapMark::ordinary});
    last = n;
  }
  if (in.laps.empty())
    return wrong(m.driver_column >= 0 ? say("no lap time of \"{}\"", m.driver) : say("no lap time"),
                 say("lap times such as 14.83, 14,83 or 1:02.34 in the column chosen"));
  return in;
}

std::string write_mappings(const std::map<std::string, LapMapping>& mappings) {
  Json j = Json::object();
  for (const auto& [signature, m] : mappings)
    j[signature] = {{"time", m.time_column},
                    {"number", m.number_column},
                    {"driver_column", m.driver_column},
                    {"driver", m.driver},
                    {"heading", m.heading}};
  return j.dump();
}

std::map<std::string, LapMapping> read_mappings(const std::string& text) {
  std::map<std::string, LapMapping> mappings;
  const Json j = Json::parse(text, nullptr, false);
  if (!j.is_object()) return mappings;
  for (const auto& [signature, m] : j.items()) {
    if (!m.is_object()) continue;
    try {
      mappings[signature] = {m.value("time", -1), m.value("number", -1), m.value("driver_column", -1),
                             m.value("driver", std::string()), m.value("heading", true)};
    } catch (const Json::exception&) {
      continue;  // remembered by another version, or by nobody
    }
  }
  return mappings;
}

}  // namespace lowkite
