#include "core/log/log_exchange.hpp"

#include <algorithm>
#include <cctype>
#include <map>
#include <regex>

#include <fmt/format.h>

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

bool same_day(const LoggedDay& a, const LoggedDay& b) {
  if (a.day.date != b.day.date || a.day.track != b.day.track || a.runs.size() != b.runs.size()) return false;
  for (std::size_t i = 0; i < a.runs.size(); ++i)
    if (a.runs[i].run.started != b.runs[i].run.started || a.runs[i].run.car_id != b.runs[i].run.car_id ||
        a.runs[i].laps != b.runs[i].laps)
      return false;
  return true;
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

tl::expected<int, Fault> add_to(LogStore& store, const std::vector<LoggedDay>& days) {
  const auto there = everything_in(store);
  if (!there) return tl::unexpected(there.error());
  int added = 0;
  const auto done = store.together([&]() -> tl::expected<void, Fault> {
    for (const LoggedDay& d : days) {
      if (std::any_of(there->begin(), there->end(), [&](const LoggedDay& t) { return same_day(t, d); })) continue;
      Day day = d.day;
      day.id = 0;
      const auto id = store.put(day);
      if (!id) return tl::unexpected(id.error());
      for (RunRecord r : d.runs) {
        r.run.id = 0;
        r.run.day = *id;
        if (const auto stored = store.put(r); !stored) return tl::unexpected(stored.error());
      }
      ++added;
    }
    return {};
  });
  if (!done) return tl::unexpected(done.error());
  return added;
}

std::string runs_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule) {
  std::string text = csv_row({"date", "started", "track", "surface", "grip", "air_celsius", "ground_celsius", "car",
                              "tyres", "tyre_runs", "laps", "counted", "best_s", "mean_s", "median_s", "deviation_s",
                              "fade_s_per_lap", "verdict", "notes"});
  for (const LoggedDay& d : days)
    for (const RunRecord& r : d.runs) {
      const auto f = lap_figures(r.laps, rule);
      const auto lap = [&](double LapFigures::*field) {
        return f ? fmt::format("{:.3f}", (*f).*field) : std::string();
      };
      text += csv_row({d.day.date, r.run.started, d.day.track, std::string(id_in(surfaces(), d.day.surface)),
                       std::string(id_in(grips(), d.day.grip)), number_cell(d.day.air_celsius),
                       number_cell(d.day.ground_celsius), r.run.car_id, r.run.tyres,
                       r.run.tyre_runs ? std::to_string(*r.run.tyre_runs) : "", std::to_string(r.laps.size()),
                       std::to_string(f ? f->counted : 0), lap(&LapFigures::best_s), lap(&LapFigures::mean_s),
                       lap(&LapFigures::median_s), lap(&LapFigures::deviation_s),
                       f && f->fade ? fmt::format("{:.4f}", f->fade->slope) : "",
                       std::string(id_in(verdicts(), r.run.verdict)), r.run.notes});
    }
  return text;
}

std::string laps_as_csv(const std::vector<LoggedDay>& days, const LapRule& rule) {
  std::string text = csv_row({"date", "started", "car", "lap", "seconds", "mark", "counts"});
  for (const LoggedDay& d : days)
    for (const RunRecord& r : d.runs) {
      const auto standing = standings(r.laps, rule);
      for (std::size_t i = 0; i < r.laps.size(); ++i) {
        const Lap& l = r.laps[i];
        text += csv_row({d.day.date, r.run.started, r.run.car_id, std::to_string(l.number),
                         fmt::format("{:.3f}", l.seconds), std::string(id_in(lap_marks(), l.mark)),
                         standing[i] == LapStanding::counts ? "yes" : "no"});
      }
    }
  return text;
}

tl::expected<std::vector<LoggedDay>, Faults> read_laps_csv(const std::string& text, const std::string& file) {
  static const std::regex date(R"(\d{4}-\d{2}-\d{2})");
  const std::string utf8 = to_utf8(text);
  const CsvRows rows = parse_csv(utf8, csv_delimiter(utf8));
  Faults faults;
  std::map<std::string, std::size_t> column;
  if (!rows.empty())
    for (std::size_t c = 0; c < rows.front().size(); ++c) column[rows.front()[c]] = c;
  for (const char* wanted : {"date", "lap", "seconds"})
    if (!column.contains(wanted))
      faults.push_back({file, "row 1", fmt::format("there is no column \"{}\"", wanted),
                        "a first row that names date, started, car, lap, seconds and mark"});
  if (!faults.empty()) return tl::unexpected(faults);
  std::vector<LoggedDay> days;
  for (std::size_t i = 1; i < rows.size(); ++i) {
    const auto cell = [&](const char* name) {
      const auto c = column.find(name);
      return c != column.end() && c->second < rows[i].size() ? rows[i][c->second] : std::string();
    };
    const std::string place = fmt::format("row {}", i + 1);
    const auto seconds = lap_from_text(cell("seconds"));
    const std::string number = cell("lap");
    const bool counted = !number.empty() && number.size() < 6 &&
                         std::all_of(number.begin(), number.end(), [](unsigned char c) { return std::isdigit(c); });
    if (!std::regex_match(cell("date"), date))
      faults.push_back({file, place, fmt::format("date \"{}\"", cell("date")), "year-month-day, such as 2026-10-09"});
    if (!seconds) faults.push_back({file, place, fmt::format("seconds \"{}\"", cell("seconds")), "14.83 or 1:02.34"});
    if (!counted) faults.push_back({file, place, fmt::format("lap \"{}\"", number), "a whole number"});
    if (!faults.empty()) {
      if (faults.size() > 20) break;
      continue;
    }
    if (days.empty() || days.back().day.date != cell("date")) {
      days.push_back({});
      days.back().day.date = cell("date");
    }
    auto& runs = days.back().runs;
    if (runs.empty() || runs.back().run.started != cell("started") || runs.back().run.car_id != cell("car")) {
      runs.push_back({});
      runs.back().run.started = cell("started");
      runs.back().run.car_id = cell("car");
    }
    runs.back().laps.push_back(
        {std::stoi(number), *seconds, value_of(lap_marks(), cell("mark")).value_or(LapMark::ordinary)});
  }
  if (!faults.empty()) return tl::unexpected(faults);
  return days;
}

}  // namespace lowkite
