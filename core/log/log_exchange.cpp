#include "core/log/log_exchange.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <initializer_list>
#include <map>
#include <regex>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/figures/figures.hpp"
#include "core/io/csv.hpp"
#include "core/io/encoding.hpp"
#include "core/io/schema_check.hpp"
#include "core/log/fields.hpp"
#include "core/log/lap_import.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

template <class E>
void put_word(Json& j, const char* key, std::span<const Named<E>> list, E value) {
  if (value != list.front().value) j[key] = std::string(id_in(list, value));
}

/// A setup or a bench run as the document that it is, or as text where it is none.
void put_document(Json& j, const char* key, const std::string& text) {
  if (text.empty()) return;
  Json parsed = Json::parse(text, nullptr, false);
  if (parsed.is_object())
    j[key] = std::move(parsed);
  else
    j[key] = text;
}

std::string document_text(const Json& j, const char* key) {
  const auto found = j.find(key);
  if (found == j.end()) return {};
  return found->is_string() ? found->get<std::string>() : found->dump(2) + "\n";
}

template <class Record>
Json fields_json(std::span<const LogField<Record>> fields, const Record& record) {
  Json j = Json::object();
  for (const LogField<Record>& f : fields) {
    if (!f.always && f.empty(record)) continue;
    const std::string key(f.column);
    const FieldValue v = f.get(record);
    if (f.kind == FieldKind::document)
      put_document(j, key.c_str(), std::get<std::string>(v));
    else if (const auto* said = std::get_if<std::string>(&v))
      j[key] = *said;
    else if (f.kind == FieldKind::count)
      j[key] = static_cast<std::int64_t>(std::get<double>(v));
    else
      j[key] = std::get<double>(v);
  }
  return j;
}

/// What a checked document holds of a record's fields; those it does not have stay as they are. What the schema cannot
/// see is told in `faults`.
template <class Record>
void read_fields(const Json& j, std::span<const LogField<Record>> fields, Record& record, const std::string& file,
                 const std::vector<std::string>& place, Faults& faults) {
  for (const LogField<Record>& f : fields) {
    const std::string key(f.column);
    const auto found = j.find(key);
    if (found == j.end()) continue;
    FieldValue v;
    if (f.kind == FieldKind::document)
      v = document_text(j, key.c_str());
    else if (found->is_string())
      v = found->template get<std::string>();
    else
      v = found->template get<double>();
    if (auto allowed = wrong_with(f, v)) {
      std::vector<std::string> here = place;
      here.push_back(key);
      faults.push_back({file, place_of(here), say("found {}", shown(*found)), *allowed});
      continue;
    }
    f.set(record, v);
  }
}

Json json_of(const RunRecord& record) {
  const Run& r = record.run;
  Json j = fields_json(run_fields(), r);
  for (const Feeling& f : r.feelings) {
    Json feeling = {{"phase", std::string(id_in(phases(), f.phase))},
                    {"sense", std::string(words_of(f.sense).id)},
                    {"amount", f.amount}};
    put_word(feeling, "turn", turn_ways(), f.turn);
    j["feelings"].push_back(std::move(feeling));
  }
  for (const Lap& l : record.laps) {
    Json lap = {{"number", l.number}, {"seconds", l.seconds}};
    put_word(lap, "mark", lap_marks(), l.mark);
    j["laps"].push_back(std::move(lap));
  }
  return j;
}

template <class E>
E word_in(const Json& j, const char* key, std::span<const Named<E>> list) {
  return value_of(list, j.value(key, std::string())).value_or(list.front().value);
}

RunRecord run_in(const Json& j, const std::string& file, const std::vector<std::string>& place, Faults& faults) {
  RunRecord record;
  Run& r = record.run;
  read_fields(j, run_fields(), r, file, place, faults);
  if (const auto list = j.find("feelings"); list != j.end())
    for (const Json& f : *list)
      r.feelings.push_back({word_in(f, "phase", phases()),
                            sense_of_id(f["sense"].get<std::string>()).value_or(Sense::front_grip),
                            word_in(f, "turn", turn_ways()), f["amount"].get<int>()});
  if (const auto list = j.find("laps"); list != j.end())
    for (const Json& l : *list)
      record.laps.push_back({l["number"].get<int>(), l["seconds"].get<double>(), word_in(l, "mark", lap_marks())});
  return record;
}

}  // namespace

std::string write_log(const std::vector<LoggedDay>& days) {
  Json j = {{"format", "lowkite-log"}, {"version", newest_log_file_version}, {"days", Json::array()}};
  for (const LoggedDay& d : days) {
    Json day = fields_json(day_fields(), d.day);
    day["runs"] = Json::array();
    for (const RunRecord& r : d.runs) day["runs"].push_back(json_of(r));
    j["days"].push_back(std::move(day));
  }
  return j.dump(1) + "\n";
}

tl::expected<std::vector<LoggedDay>, Faults> read_log(const std::string& text, const std::string& file) {
  auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-log", newest_log_file_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::log); !f.empty()) return tl::unexpected(f);
  std::vector<LoggedDay> days;
  Faults faults;
  for (const Json& j : (*document)["days"]) {
    LoggedDay d;
    const std::vector<std::string> place{"days", say("no. {}", days.size() + 1)};
    read_fields(j, day_fields(), d.day, file, place, faults);
    for (const Json& r : j["runs"]) {
      std::vector<std::string> of_run = place;
      of_run.insert(of_run.end(), {"runs", say("no. {}", d.runs.size() + 1)});
      d.runs.push_back(run_in(r, file, of_run, faults));
    }
    days.push_back(std::move(d));
  }
  if (!faults.empty()) return tl::unexpected(faults);
  return days;
}

tl::expected<std::vector<LoggedDay>, Fault> everything_in(const LogStore& store) {
  const auto days = store.days();
  if (!days) return tl::unexpected(days.error());
  std::vector<LoggedDay> all;
  for (auto d = days->rbegin(); d != days->rend(); ++d) {
    LoggedDay logged{d->day, {}};
    const auto runs = store.runs(d->day.id);
    if (!runs) return tl::unexpected(runs.error());
    for (const RunSummary& r : *runs) {
      auto record = store.run(r.run.id);
      if (!record) return tl::unexpected(record.error());
      if (*record) logged.runs.push_back(std::move(**record));
    }
    all.push_back(std::move(logged));
  }
  return all;
}

namespace {

/// "entry:front_grip:left:-1", parted by blanks.
std::string feelings_cell(const std::vector<Feeling>& feelings) {
  std::vector<std::string> words;
  for (const Feeling& f : feelings)
    words.push_back(fmt::format("{}:{}:{}:{:+d}", id_in(phases(), f.phase), words_of(f.sense).id,
                                id_in(turn_ways(), f.turn), f.amount));
  return fmt::format("{}", fmt::join(words, " "));
}

std::optional<std::vector<Feeling>> feelings_in(const std::string& cell) {
  static const std::regex one(R"((\w+):(\w+):(\w+):([+-]?[0-2]))");
  std::vector<Feeling> feelings;
  std::istringstream words(cell);
  for (std::string word; words >> word;) {
    std::smatch part;
    if (!std::regex_match(word, part, one)) return std::nullopt;
    const auto phase = value_of(phases(), part[1].str());
    const auto sense = sense_of_id(part[2].str());
    const auto turn = value_of(turn_ways(), part[3].str());
    if (!phase || !sense || !turn) return std::nullopt;
    feelings.push_back({*phase, *sense, *turn, std::stoi(part[4].str())});
  }
  return feelings;
}

}  // namespace

std::string runs_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule) {
  std::vector<std::string> head;
  for (const LogField<Day>& f : day_fields()) head.emplace_back(f.csv);
  for (const LogField<Run>& f : run_fields())
    if (!f.csv.empty()) head.emplace_back(f.csv);
  head.insert(head.end(), {"feelings", "laps"});
  for (const FigureSpec& f : lap_time_figures()) head.emplace_back(f.id);
  std::string text = csv_row(head);
  for (const LoggedDay& d : days)
    for (const RunRecord& r : d.runs) {
      std::vector<std::string> row;
      for (const LogField<Day>& f : day_fields()) row.push_back(cell_of(f, f.get(d.day)));
      for (const LogField<Run>& f : run_fields())
        if (!f.csv.empty()) row.push_back(cell_of(f, f.get(r.run)));
      row.push_back(feelings_cell(r.run.feelings));
      row.push_back(std::to_string(r.laps.size()));
      const auto laps = lap_figures(r.laps, rule);
      for (const FigureSpec& f : lap_time_figures()) {
        // One decimal more than is told: tables are computed with.
        const auto v = laps ? f.read(*laps) : std::nullopt;
        row.push_back(v ? fmt::format("{:.{}f}", *v, f.decimals == 0 ? 0 : f.decimals + 1) : std::string());
      }
      text += csv_row(row);
    }
  return text;
}

std::string laps_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule) {
  std::string text = csv_row({"date", "started", "track", "car", "lap", "seconds", "mark", "counts"});
  for (const LoggedDay& d : days)
    for (const RunRecord& r : d.runs) {
      const auto standing = standings(r.laps, rule);
      for (std::size_t i = 0; i < r.laps.size(); ++i) {
        const Lap& l = r.laps[i];
        text += csv_row({d.day.date, r.run.started, d.day.track, r.run.car_id, std::to_string(l.number),
                         fmt::format("{:.3f}", l.seconds), std::string(id_in(lap_marks(), l.mark)),
                         standing[i] == LapStanding::counts ? "yes" : "no"});
      }
    }
  return text;
}

namespace {

constexpr std::size_t most_faults = 20;

/// A table whose first row names its columns, read row by row; what is wrong is gathered.
class NamedTable {
 public:
  NamedTable(const std::string& text, std::string file, std::initializer_list<const char*> wanted,
             const std::string& allowed)
      : file_(std::move(file)) {
    const std::string utf8 = to_utf8(text);
    rows_ = parse_csv(utf8, csv_delimiter(utf8));
    if (!rows_.empty())
      for (std::size_t c = 0; c < rows_.front().size(); ++c) column_[rows_.front()[c]] = c;
    for (const char* name : wanted)
      if (!column_.contains(name))
        faults_.push_back({file_, say("row 1"), say("there is no column \"{}\"", name), allowed});
  }

  /// False at the end, or when there are too many faults to go on.
  bool next() { return faults_.size() < most_faults && (columns_missing() ? false : ++row_ < rows_.size()); }
  [[nodiscard]] std::string cell(const char* name) const {
    const auto c = column_.find(name);
    return c != column_.end() && c->second < rows_[row_].size() ? rows_[row_][c->second] : std::string();
  }
  [[nodiscard]] bool has(const char* name) const { return column_.contains(name); }
  void wrong(const char* name, const std::string& allowed) {
    faults_.push_back({file_, say("row {}", row_ + 1), fmt::format("{} \"{}\"", name, cell(name)), allowed});
  }

  /// The record's field from its column; empty cells leave it as it is, wrong ones are told.
  template <class Record>
  void read(const LogField<Record>& field, Record& record) {
    const std::string name(field.csv);
    const std::string said = cell(name.c_str());
    if (said.empty() && field.kind != FieldKind::date) return;
    const auto value = value_in(field, said);
    if (auto allowed = wrong_with(field, value.value_or(FieldValue(said))))
      wrong(name.c_str(), *allowed);
    else
      field.set(record, *value);
  }
  std::optional<int> count(const char* name, int most) {
    const std::string text = cell(name);
    if (text.empty()) return std::nullopt;
    int v = 0;
    const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc() || stop != text.data() + text.size() || v < 0 || v > most) {
      wrong(name, say("a whole number from 0 to {}", most));
      return std::nullopt;
    }
    return v;
  }
  template <class E>
  E word(const char* name, std::span<const Named<E>> list) {
    const std::string text = cell(name);
    if (text.empty()) return list.front().value;
    if (const auto v = value_of(list, text)) return *v;
    std::vector<std::string_view> ids;
    for (const Named<E>& n : list) ids.push_back(n.id);
    wrong(name, say("one of {}", fmt::join(ids, ", ")));
    return list.front().value;
  }
  [[nodiscard]] bool in_order() const { return faults_.empty(); }
  [[nodiscard]] const Faults& faults() const { return faults_; }

 private:
  [[nodiscard]] bool columns_missing() const { return row_ == 0 && !faults_.empty(); }

  std::string file_;
  CsvRows rows_;
  std::map<std::string, std::size_t> column_;
  std::size_t row_ = 0;
  Faults faults_;
};

/// The day of a date and track among those read so far, a new one where there is none.
LoggedDay& day_of(std::vector<LoggedDay>& days, const std::string& date, const std::string& track) {
  for (LoggedDay& d : days)
    if (d.day.date == date && d.day.track == track) return d;
  days.push_back({});
  days.back().day.date = date;
  days.back().day.track = track;
  return days.back();
}

RunRecord& run_of(LoggedDay& day, const std::string& started, const std::string& car) {
  for (RunRecord& r : day.runs)
    if (r.run.started == started && r.run.car_id == car) return r;
  day.runs.push_back({});
  day.runs.back().run.started = started;
  day.runs.back().run.car_id = car;
  return day.runs.back();
}

}  // namespace

tl::expected<std::vector<LoggedDay>, Faults> read_laps_csv(const std::string& text, const std::string& file) {
  NamedTable table(text, file, {"date", "lap", "seconds"},
                   say("a first row that names date, started, car, lap, seconds and mark"));
  std::vector<LoggedDay> days;
  while (table.next()) {
    Day day;
    table.read(day_field("date"), day);
    const auto seconds = lap_from_text(table.cell("seconds"));
    if (!seconds) table.wrong("seconds", say("14.83 or 1:02.34"));
    const auto number = table.count("lap", 99999);
    if (table.cell("lap").empty()) table.wrong("lap", say("a whole number"));
    const LapMark mark = table.word("mark", lap_marks());
    if (!table.in_order()) continue;
    run_of(day_of(days, day.date, table.cell("track")), table.cell("started"), table.cell("car"))
        .laps.push_back({*number, *seconds, mark});
  }
  if (!table.in_order()) return tl::unexpected(table.faults());
  return days;
}

tl::expected<std::vector<LoggedDay>, Faults> read_runs_csv(const std::string& text, const std::string& file) {
  NamedTable table(text, file, {"date", "car"}, say("a first row that names date, car and what else there is to tell"));
  std::vector<LoggedDay> days;
  while (table.next()) {
    if (table.cell("car").empty()) table.wrong("car", say("the car's id, such as heron-tc190"));
    Day day;
    for (const LogField<Day>& f : day_fields()) table.read(f, day);
    Run run;
    for (const LogField<Run>& f : run_fields())
      if (!f.csv.empty()) table.read(f, run);
    const auto feelings = feelings_in(table.cell("feelings"));
    if (!feelings) table.wrong("feelings", say("phase:sense:turn:amount, such as entry:front_grip:left:-1"));
    if (!table.in_order()) continue;
    run.feelings = *feelings;
    LoggedDay& of = day_of(days, day.date, day.track);
    if (of.runs.empty()) of.day = day;
    of.runs.push_back({run, {}});
  }
  if (!table.in_order()) return tl::unexpected(table.faults());
  return days;
}

tl::expected<std::vector<LoggedDay>, Faults> read_log_csv(const std::string& text, const std::string& file) {
  const std::string utf8 = to_utf8(text);
  const std::string head = utf8.substr(0, utf8.find('\n'));
  const CsvRows first = parse_csv(head + "\n", csv_delimiter(utf8));
  const bool laps =
      !first.empty() && std::find(first.front().begin(), first.front().end(), "seconds") != first.front().end();
  const bool runs =
      !first.empty() && std::find(first.front().begin(), first.front().end(), "car") != first.front().end();
  if (!laps && !runs)
    return tl::unexpected(Faults{{file, say("row 1"), say("neither a table of laps nor one of runs"),
                                  say("columns date, lap and seconds, or date and car")}});
  return laps ? read_laps_csv(text, file) : read_runs_csv(text, file);
}

namespace {

/// Fills the fields that are empty in `mine` from `theirs`; true when there was something.
template <class Record>
bool fill(std::span<const LogField<Record>> fields, Record& mine, const Record& theirs) {
  bool any = false;
  for (const LogField<Record>& f : fields) {
    if (!f.empty(mine) || f.empty(theirs)) continue;
    f.set(mine, f.get(theirs));
    any = true;
  }
  return any;
}

template <class T>
bool fill_list(std::vector<T>& mine, const std::vector<T>& theirs) {
  if (!mine.empty() || theirs.empty()) return false;
  mine = theirs;
  return true;
}

bool fill_run(RunRecord& mine, const RunRecord& theirs) {
  bool any = fill(run_fields(), mine.run, theirs.run);
  any |= fill_list(mine.laps, theirs.laps);
  any |= fill_list(mine.run.feelings, theirs.run.feelings);
  return any;
}

}  // namespace

tl::expected<LogChange, Fault> merge_into(LogStore& store, const std::vector<LoggedDay>& days) {
  LogChange merged;
  const auto put_day = [&](const std::optional<Day>& was, Day day) -> tl::expected<std::int64_t, Fault> {
    auto id = store.put(day);
    if (!id) return id;
    day.id = *id;
    merged.days.push_back({was, std::move(day)});
    return id;
  };
  const auto put_run = [&](const std::optional<RunRecord>& was, RunRecord run) -> tl::expected<void, Fault> {
    const auto id = store.put(run);
    if (!id) return tl::unexpected(id.error());
    run.run.id = *id;
    merged.runs.push_back({was, std::move(run)});
    return {};
  };
  const auto done = store.together([&]() -> tl::expected<void, Fault> {
    // Kept up to date as it goes: a table may name a day twice.
    auto there = everything_in(store);
    if (!there) return tl::unexpected(there.error());
    for (const LoggedDay& d : days) {
      auto known = std::find_if(there->begin(), there->end(), [&](const LoggedDay& t) {
        return t.day.date == d.day.date && (d.day.track.empty() || t.day.track == d.day.track);
      });
      std::optional<Day> was_day;
      if (known == there->end()) {
        known = there->insert(known, LoggedDay{d.day, {}});
        known->day.id = 0;
      } else {
        was_day = known->day;
      }
      if (!was_day || fill(day_fields(), known->day, d.day)) {
        const auto id = put_day(was_day, known->day);
        if (!id) return tl::unexpected(id.error());
        known->day.id = *id;
      }
      // Each known run is met once: where no start was noted, runs of a car pair up in their order.
      const std::size_t known_runs = known->runs.size();
      std::vector<bool> met(known_runs, false);
      for (const RunRecord& r : d.runs) {
        std::size_t i = 0;
        while (i < known_runs &&
               (met[i] || known->runs[i].run.started != r.run.started || known->runs[i].run.car_id != r.run.car_id))
          ++i;
        if (i == known_runs) {
          RunRecord fresh = r;
          fresh.run.id = 0;
          fresh.run.day = known->day.id;
          if (auto put = put_run(std::nullopt, fresh); !put) return put;
          known->runs.push_back(merged.runs.back().after.value());
          continue;
        }
        met[i] = true;
        const RunRecord was = known->runs[i];
        if (!fill_run(known->runs[i], r)) continue;
        if (auto put = put_run(was, known->runs[i]); !put) return put;
      }
    }
    return {};
  });
  if (!done) return tl::unexpected(done.error());
  return merged;
}

std::span<const LogImport> log_imports() {
  static constexpr auto all = std::to_array<LogImport>({{".json", read_log}, {".csv", read_log_csv}});
  return all;
}

const LogImport& log_import_for(std::string_view file) {
  std::string name(file);
  std::transform(name.begin(), name.end(), name.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  for (const LogImport& each : log_imports())
    if (name.ends_with(each.suffix)) return each;
  return log_imports().front();
}

}  // namespace lowkite
