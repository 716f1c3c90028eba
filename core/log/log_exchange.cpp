#include "core/log/log_exchange.hpp"

#include <algorithm>
#include <charconv>
#include <initializer_list>
#include <map>
#include <regex>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/io/csv.hpp"
#include "core/io/schema_check.hpp"
#include "core/log/lap_import.hpp"

namespace lowkite {
namespace {

template <class E>
void put_word(Json& j, const char* key, std::span<const Named<E>> list, E value) {
  if (value != list.front().value) j[key] = std::string(id_in(list, value));
}

void put_text(Json& j, const char* key, const std::string& text) {
  if (!text.empty()) j[key] = text;
}

void put_number(Json& j, const char* key, const std::optional<double>& v) {
  if (v) j[key] = *v;
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

Json json_of(const RunRecord& record) {
  const Run& r = record.run;
  Json j = {{"started", r.started}, {"car", r.car_id}};
  put_document(j, "setup", r.setup);
  put_document(j, "measured", r.measured);
  put_text(j, "tyres", r.tyres);
  if (r.tyre_runs) j["tyre_runs"] = *r.tyre_runs;
  put_text(j, "additive", r.additive);
  put_text(j, "battery", r.battery);
  put_number(j, "length_s", r.length_s);
  put_text(j, "broke", r.broke);
  put_text(j, "marked_by", r.marked_by);
  put_text(j, "notes", r.notes);
  put_word(j, "verdict", verdicts(), r.verdict);
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

std::optional<double> number_in(const Json& j, const char* key) {
  const auto found = j.find(key);
  return found == j.end() ? std::nullopt : std::optional(found->get<double>());
}

RunRecord run_in(const Json& j) {
  RunRecord record;
  Run& r = record.run;
  r.started = j.value("started", std::string());
  r.car_id = j["car"].get<std::string>();
  r.setup = document_text(j, "setup");
  r.measured = document_text(j, "measured");
  r.tyres = j.value("tyres", std::string());
  if (const auto n = j.find("tyre_runs"); n != j.end()) r.tyre_runs = n->get<int>();
  r.additive = j.value("additive", std::string());
  r.battery = j.value("battery", std::string());
  r.length_s = number_in(j, "length_s");
  r.broke = j.value("broke", std::string());
  r.marked_by = j.value("marked_by", std::string());
  r.notes = j.value("notes", std::string());
  r.verdict = word_in(j, "verdict", verdicts());
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

std::string number_cell(const std::optional<double>& v, int decimals = 1) {
  return v ? fmt::format("{:.{}f}", *v, decimals) : std::string();
}

}  // namespace

std::string write_log(const std::vector<LoggedDay>& days) {
  Json j = {{"format", "lowkite-log"}, {"version", newest_log_file_version}, {"days", Json::array()}};
  for (const LoggedDay& d : days) {
    Json day = {{"date", d.day.date}, {"track", d.day.track}};
    put_word(day, "surface", surfaces(), d.day.surface);
    put_word(day, "grip", grips(), d.day.grip);
    put_word(day, "bumps", bump_kinds(), d.day.bumps);
    put_number(day, "air_celsius", d.day.air_celsius);
    put_number(day, "ground_celsius", d.day.ground_celsius);
    put_number(day, "humidity_percent", d.day.humidity_percent);
    put_text(day, "notes", d.day.notes);
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
  for (const Json& j : (*document)["days"]) {
    LoggedDay d;
    d.day.date = j["date"].get<std::string>();
    d.day.track = j.value("track", std::string());
    d.day.surface = word_in(j, "surface", surfaces());
    d.day.grip = word_in(j, "grip", grips());
    d.day.bumps = word_in(j, "bumps", bump_kinds());
    d.day.air_celsius = number_in(j, "air_celsius");
    d.day.ground_celsius = number_in(j, "ground_celsius");
    d.day.humidity_percent = number_in(j, "humidity_percent");
    d.day.notes = j.value("notes", std::string());
    for (const Json& r : j["runs"]) d.runs.push_back(run_in(r));
    days.push_back(std::move(d));
  }
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
  std::string text = csv_row(
      {"date",           "started",          "track",     "surface", "grip",     "bumps",       "air_celsius",
       "ground_celsius", "humidity_percent", "day_notes", "car",     "tyres",    "tyre_runs",   "additive",
       "battery",        "length_s",         "feelings",  "verdict", "broke",    "marked_by",   "notes",
       "laps",           "counted",          "best_s",    "mean_s",  "median_s", "deviation_s", "fade_s_per_lap"});
  for (const LoggedDay& d : days)
    for (const RunRecord& r : d.runs) {
      const auto f = lap_figures(r.laps, rule);
      const auto lap = [&](double LapFigures::*field) {
        return f ? fmt::format("{:.3f}", (*f).*field) : std::string();
      };
      text += csv_row({d.day.date,
                       r.run.started,
                       d.day.track,
                       std::string(id_in(surfaces(), d.day.surface)),
                       std::string(id_in(grips(), d.day.grip)),
                       std::string(id_in(bump_kinds(), d.day.bumps)),
                       number_cell(d.day.air_celsius),
                       number_cell(d.day.ground_celsius),
                       number_cell(d.day.humidity_percent),
                       d.day.notes,
                       r.run.car_id,
                       r.run.tyres,
                       r.run.tyre_runs ? std::to_string(*r.run.tyre_runs) : "",
                       r.run.additive,
                       r.run.battery,
                       number_cell(r.run.length_s),
                       feelings_cell(r.run.feelings),
                       std::string(id_in(verdicts(), r.run.verdict)),
                       r.run.broke,
                       r.run.marked_by,
                       r.run.notes,
                       std::to_string(r.laps.size()),
                       std::to_string(f ? f->counted : 0),
                       lap(&LapFigures::best_s),
                       lap(&LapFigures::mean_s),
                       lap(&LapFigures::median_s),
                       lap(&LapFigures::deviation_s),
                       f && f->fade ? fmt::format("{:.4f}", f->fade->slope) : ""});
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
  NamedTable(const std::string& text, std::string file, std::initializer_list<const char*> wanted, const char* allowed)
      : file_(std::move(file)) {
    const std::string utf8 = to_utf8(text);
    rows_ = parse_csv(utf8, csv_delimiter(utf8));
    if (!rows_.empty())
      for (std::size_t c = 0; c < rows_.front().size(); ++c) column_[rows_.front()[c]] = c;
    for (const char* name : wanted)
      if (!column_.contains(name))
        faults_.push_back({file_, "row 1", fmt::format("there is no column \"{}\"", name), allowed});
  }

  /// False at the end, or when there are too many faults to go on.
  bool next() { return faults_.size() < most_faults && (columns_missing() ? false : ++row_ < rows_.size()); }
  [[nodiscard]] std::string cell(const char* name) const {
    const auto c = column_.find(name);
    return c != column_.end() && c->second < rows_[row_].size() ? rows_[row_][c->second] : std::string();
  }
  [[nodiscard]] bool has(const char* name) const { return column_.contains(name); }
  void wrong(const char* name, const std::string& allowed) {
    faults_.push_back({file_, fmt::format("row {}", row_ + 1), fmt::format("{} \"{}\"", name, cell(name)), allowed});
  }

  std::string date() {
    static const std::regex form(R"(\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01]))");
    if (!std::regex_match(cell("date"), form)) wrong("date", "year-month-day, such as 2026-10-09");
    return cell("date");
  }
  /// Empty is none; a decimal comma is read too.
  std::optional<double> number(const char* name, double least, double most) {
    std::string text = cell(name);
    if (text.empty()) return std::nullopt;
    std::replace(text.begin(), text.end(), ',', '.');
    double v = 0.0;
    const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc() || stop != text.data() + text.size() || !(v >= least && v <= most)) {
      wrong(name, fmt::format("a number from {} to {}", least, most));
      return std::nullopt;
    }
    return v;
  }
  std::optional<int> count(const char* name, int most) {
    const std::string text = cell(name);
    if (text.empty()) return std::nullopt;
    int v = 0;
    const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc() || stop != text.data() + text.size() || v < 0 || v > most) {
      wrong(name, fmt::format("a whole number from 0 to {}", most));
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
    wrong(name, fmt::format("one of {}", fmt::join(ids, ", ")));
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
                   "a first row that names date, started, car, lap, seconds and mark");
  std::vector<LoggedDay> days;
  while (table.next()) {
    const std::string date = table.date();
    const auto seconds = lap_from_text(table.cell("seconds"));
    if (!seconds) table.wrong("seconds", "14.83 or 1:02.34");
    const auto number = table.count("lap", 99999);
    if (table.cell("lap").empty()) table.wrong("lap", "a whole number");
    const LapMark mark = table.word("mark", lap_marks());
    if (!table.in_order()) continue;
    run_of(day_of(days, date, table.cell("track")), table.cell("started"), table.cell("car"))
        .laps.push_back({*number, *seconds, mark});
  }
  if (!table.in_order()) return tl::unexpected(table.faults());
  return days;
}

tl::expected<std::vector<LoggedDay>, Faults> read_runs_csv(const std::string& text, const std::string& file) {
  NamedTable table(text, file, {"date", "car"}, "a first row that names date, car and what else there is to tell");
  std::vector<LoggedDay> days;
  while (table.next()) {
    const std::string date = table.date();
    if (table.cell("car").empty()) table.wrong("car", "the car's id, such as heron-tc190");
    Day day;
    day.surface = table.word("surface", surfaces());
    day.grip = table.word("grip", grips());
    day.bumps = table.word("bumps", bump_kinds());
    day.air_celsius = table.number("air_celsius", -40.0, 70.0);
    day.ground_celsius = table.number("ground_celsius", -40.0, 90.0);
    day.humidity_percent = table.number("humidity_percent", 0.0, 100.0);
    day.notes = table.cell("day_notes");
    Run run;
    run.tyres = table.cell("tyres");
    run.tyre_runs = table.count("tyre_runs", 9999);
    run.additive = table.cell("additive");
    run.battery = table.cell("battery");
    run.length_s = table.number("length_s", 0.0, 86400.0);
    const auto feelings = feelings_in(table.cell("feelings"));
    if (!feelings) table.wrong("feelings", "phase:sense:turn:amount, such as entry:front_grip:left:-1");
    run.verdict = table.word("verdict", verdicts());
    run.broke = table.cell("broke");
    run.marked_by = table.cell("marked_by");
    run.notes = table.cell("notes");
    if (!table.in_order()) continue;
    run.feelings = *feelings;
    LoggedDay& of = day_of(days, date, table.cell("track"));
    day.id = 0;
    day.date = of.day.date;
    day.track = of.day.track;
    if (of.runs.empty()) of.day = day;
    run.started = table.cell("started");
    run.car_id = table.cell("car");
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
    return tl::unexpected(Faults{
        {file, "row 1", "neither a table of laps nor one of runs", "columns date, lap and seconds, or date and car"}});
  return laps ? read_laps_csv(text, file) : read_runs_csv(text, file);
}

namespace {

/// Fills what is empty in `mine` from `theirs`; true when there was something.
template <class T>
bool fill(T& mine, const T& theirs) {
  if (mine != T{} || theirs == T{}) return false;
  mine = theirs;
  return true;
}

bool fill_day(Day& mine, const Day& theirs) {
  bool any = false;
  any |= fill(mine.surface, theirs.surface);
  any |= fill(mine.grip, theirs.grip);
  any |= fill(mine.bumps, theirs.bumps);
  any |= fill(mine.air_celsius, theirs.air_celsius);
  any |= fill(mine.ground_celsius, theirs.ground_celsius);
  any |= fill(mine.humidity_percent, theirs.humidity_percent);
  any |= fill(mine.notes, theirs.notes);
  return any;
}

bool fill_run(RunRecord& mine, const RunRecord& theirs) {
  Run& m = mine.run;
  const Run& t = theirs.run;
  bool any = fill(mine.laps, theirs.laps);
  any |= fill(m.setup, t.setup);
  any |= fill(m.measured, t.measured);
  any |= fill(m.tyres, t.tyres);
  any |= fill(m.tyre_runs, t.tyre_runs);
  any |= fill(m.additive, t.additive);
  any |= fill(m.battery, t.battery);
  any |= fill(m.length_s, t.length_s);
  any |= fill(m.broke, t.broke);
  any |= fill(m.marked_by, t.marked_by);
  any |= fill(m.notes, t.notes);
  any |= fill(m.verdict, t.verdict);
  any |= fill(m.feelings, t.feelings);
  return any;
}

}  // namespace

tl::expected<Merged, Fault> merge_into(LogStore& store, const std::vector<LoggedDay>& days) {
  auto there = everything_in(store);
  if (!there) return tl::unexpected(there.error());
  Merged merged;
  const auto done = store.together([&]() -> tl::expected<void, Fault> {
    for (const LoggedDay& d : days) {
      const auto known = std::find_if(there->begin(), there->end(), [&](const LoggedDay& t) {
        return t.day.date == d.day.date && (d.day.track.empty() || t.day.track == d.day.track);
      });
      const bool is_new = known == there->end();
      std::int64_t day_id = is_new ? 0 : known->day.id;
      Day day = is_new ? d.day : known->day;
      const Day was = day;
      if (is_new || fill_day(day, d.day)) {
        day.id = day_id;
        const auto id = store.put(day);
        if (!id) return tl::unexpected(id.error());
        if (is_new)
          merged.new_days.push_back(*id);
        else
          merged.days_before.push_back(was);
        day_id = *id;
      }
      std::vector<RunRecord> left = is_new ? std::vector<RunRecord>{} : known->runs;
      for (const RunRecord& r : d.runs) {
        RunRecord stored = r;
        stored.run.id = 0;
        // Each known run is met once: where no start was noted, runs of a car pair up in their order.
        const auto same = std::find_if(left.begin(), left.end(), [&](const RunRecord& k) {
          return k.run.started == r.run.started && k.run.car_id == r.run.car_id;
        });
        if (same != left.end()) {
          stored = *same;
          left.erase(same);
          const RunRecord was_run = stored;
          if (!fill_run(stored, r)) continue;
          merged.runs_before.push_back(was_run);
        }
        stored.run.day = day_id;
        const bool new_run = stored.run.id == 0;
        const auto id = store.put(stored);
        if (!id) return tl::unexpected(id.error());
        if (new_run && !is_new) merged.new_runs.push_back(*id);
      }
    }
    return {};
  });
  if (!done) return tl::unexpected(done.error());
  return merged;
}

tl::expected<void, Fault> undo_merge(LogStore& store, const Merged& merged) {
  return store.together([&]() -> tl::expected<void, Fault> {
    for (const std::int64_t id : merged.new_runs)
      if (auto done = store.remove_run(id); !done) return done;
    for (const std::int64_t id : merged.new_days)
      if (auto done = store.remove_day(id); !done) return done;
    for (const RunRecord& r : merged.runs_before)
      if (auto done = store.put(r); !done) return tl::unexpected(done.error());
    for (const Day& d : merged.days_before)
      if (auto done = store.put(d); !done) return tl::unexpected(done.error());
    return {};
  });
}

}  // namespace lowkite
