#include "core/log/log_store.hpp"

#include <algorithm>
#include <system_error>

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>

namespace lowkite {
namespace {

namespace fs = std::filesystem;

/// Marks a file as a log of ours, whatever its name ("KITE").
constexpr int application = 0x4B495445;

constexpr const char* version_1 = R"sql(
  CREATE TABLE day (
    id INTEGER PRIMARY KEY, date TEXT NOT NULL, track TEXT NOT NULL, surface TEXT NOT NULL, grip TEXT NOT NULL,
    bumps TEXT NOT NULL, air_celsius REAL, ground_celsius REAL, notes TEXT NOT NULL);
  CREATE INDEX day_by_date ON day (date);
  CREATE TABLE run (
    id INTEGER PRIMARY KEY, day INTEGER NOT NULL REFERENCES day (id) ON DELETE CASCADE, started TEXT NOT NULL,
    car TEXT NOT NULL, setup TEXT NOT NULL, measured TEXT NOT NULL, tyres TEXT NOT NULL, tyre_runs INTEGER,
    additive TEXT NOT NULL, battery TEXT NOT NULL, length_s REAL, broke TEXT NOT NULL, notes TEXT NOT NULL,
    verdict TEXT NOT NULL);
  CREATE INDEX run_by_day ON run (day, started, id);
  CREATE INDEX run_by_car ON run (car);
  CREATE TABLE lap (
    run INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE, place INTEGER NOT NULL, number INTEGER NOT NULL,
    seconds REAL NOT NULL, mark TEXT NOT NULL, PRIMARY KEY (run, place)) WITHOUT ROWID;
  CREATE TABLE feeling (
    run INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE, place INTEGER NOT NULL, phase TEXT NOT NULL,
    sense TEXT NOT NULL, turn TEXT NOT NULL, amount INTEGER NOT NULL, PRIMARY KEY (run, place)) WITHOUT ROWID;
)sql";

/// What each version adds to the one before it. Lists of a day say how many laps were run: counted once, when a run is
/// stored, so that a million laps need not be read to show the days.
constexpr const char* to_version_2 = R"sql(
  ALTER TABLE day ADD COLUMN humidity_percent REAL;
  ALTER TABLE run ADD COLUMN marked_by TEXT NOT NULL DEFAULT '';
  ALTER TABLE run ADD COLUMN laps INTEGER NOT NULL DEFAULT 0;
  ALTER TABLE run ADD COLUMN best_s REAL NOT NULL DEFAULT 0;
  UPDATE run SET laps = (SELECT count(*) FROM lap WHERE lap.run = run.id),
    best_s = coalesce((SELECT min(seconds) FROM lap WHERE lap.run = run.id AND mark = 'ordinary'), 0);
)sql";

Fault fault_at(const fs::path& path, std::string wrong, std::string allowed) {
  return {path.filename().string(), "", std::move(wrong), std::move(allowed)};
}

Fault fault_of(const fs::path& path, const SQLite::Exception& e) {
  switch (e.getErrorCode()) {
    case SQLITE_FULL:
      return fault_at(path, "the disk is full; nothing of this change was kept", "room on the disk");
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      return fault_at(path, "another program holds the log", "one Low Kite at a time on one log; try again");
    case SQLITE_READONLY:
    case SQLITE_CANTOPEN:
    case SQLITE_PERM:
      return fault_at(path, "the log cannot be written there", "a folder that can be written to");
    case SQLITE_NOTADB:
    case SQLITE_CORRUPT:
      return fault_at(path, "this is no log, or it is damaged", "a log of Low Kite, or one of its backups");
    default:
      return fault_at(path, e.what(), "a log of Low Kite on a disk that can be written to");
  }
}

std::optional<double> optional_of(const SQLite::Column& c) {
  return c.isNull() ? std::nullopt : std::optional(c.getDouble());
}

/// 0 is a row not stored yet: the database numbers it.
void bind_id(SQLite::Statement& s, std::int64_t id) {
  if (id == 0)
    s.bind(":id");
  else
    s.bind(":id", id);
}

void bind_optional(SQLite::Statement& s, const char* name, const std::optional<double>& v) {
  if (v)
    s.bind(name, *v);
  else
    s.bind(name);
}

template <class E>
E value_from(std::span<const Named<E>> list, const SQLite::Column& c) {
  return value_of(list, c.getString()).value_or(list.front().value);
}

constexpr const char* day_columns =
    "day.id, date, track, surface, grip, bumps, air_celsius, ground_celsius, humidity_percent, day.notes";

Day day_from(SQLite::Statement& s) {
  Day d;
  d.id = s.getColumn(0).getInt64();
  d.date = s.getColumn(1).getString();
  d.track = s.getColumn(2).getString();
  d.surface = value_from(surfaces(), s.getColumn(3));
  d.grip = value_from(grips(), s.getColumn(4));
  d.bumps = value_from(bump_kinds(), s.getColumn(5));
  d.air_celsius = optional_of(s.getColumn(6));
  d.ground_celsius = optional_of(s.getColumn(7));
  d.humidity_percent = optional_of(s.getColumn(8));
  d.notes = s.getColumn(9).getString();
  return d;
}

constexpr const char* run_columns =
    "id, day, started, car, setup, tyres, tyre_runs, additive, battery, length_s, broke, marked_by, notes, verdict";
constexpr int after_run_columns = 14;

Run run_from(SQLite::Statement& s) {
  Run r;
  r.id = s.getColumn(0).getInt64();
  r.day = s.getColumn(1).getInt64();
  r.started = s.getColumn(2).getString();
  r.car_id = s.getColumn(3).getString();
  r.setup = s.getColumn(4).getString();
  r.tyres = s.getColumn(5).getString();
  if (!s.getColumn(6).isNull()) r.tyre_runs = s.getColumn(6).getInt();
  r.additive = s.getColumn(7).getString();
  r.battery = s.getColumn(8).getString();
  r.length_s = optional_of(s.getColumn(9));
  r.broke = s.getColumn(10).getString();
  r.marked_by = s.getColumn(11).getString();
  r.notes = s.getColumn(12).getString();
  r.verdict = value_from(verdicts(), s.getColumn(13));
  return r;
}

}  // namespace

struct LogStore::Inside {
  Inside(fs::path p, SQLite::Database opened) : path(std::move(p)), db(std::move(opened)) {}
  fs::path path;
  mutable SQLite::Database db;

  /// Runs `work`, with SQLite's exceptions as faults.
  template <class F>
  auto guarded(F&& work) const -> tl::expected<std::invoke_result_t<F>, Fault> {
    try {
      if constexpr (std::is_void_v<std::invoke_result_t<F>>) {
        work();
        return {};
      } else {
        return work();
      }
    } catch (const SQLite::Exception& e) {
      return tl::unexpected(fault_of(path, e));
    }
  }

  void read_feelings(Run& run) const {
    SQLite::Statement s(db, "SELECT phase, sense, turn, amount FROM feeling WHERE run = ? ORDER BY place");
    s.bind(1, run.id);
    while (s.executeStep()) {
      Feeling f;
      f.phase = value_from(phases(), s.getColumn(0));
      f.sense = sense_of_id(s.getColumn(1).getString()).value_or(Sense::front_grip);
      f.turn = value_from(turn_ways(), s.getColumn(2));
      f.amount = s.getColumn(3).getInt();
      run.feelings.push_back(f);
    }
  }

  std::vector<RunSummary> summaries(const std::string& where,
                                    const std::function<void(SQLite::Statement&)>& bind) const {
    SQLite::Statement s(db, fmt::format("SELECT {}, laps, best_s FROM run {}", run_columns, where));
    bind(s);
    std::vector<RunSummary> list;
    while (s.executeStep())
      list.push_back(
          {run_from(s), s.getColumn(after_run_columns).getInt(), s.getColumn(after_run_columns + 1).getDouble()});
    for (RunSummary& r : list) read_feelings(r.run);
    return list;
  }

  [[nodiscard]] bool in_transaction() const { return sqlite3_get_autocommit(db.getHandle()) == 0; }
};

LogStore::LogStore(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}
LogStore::LogStore(LogStore&&) noexcept = default;
LogStore& LogStore::operator=(LogStore&&) noexcept = default;
LogStore::~LogStore() = default;

const fs::path& LogStore::path() const {
  return inside_->path;
}

tl::expected<LogStore, Fault> LogStore::open(const fs::path& path) {
  std::error_code ignored;
  if (path.has_parent_path()) fs::create_directories(path.parent_path(), ignored);
  try {
    SQLite::Database db(path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    db.setBusyTimeout(2000);
    const int version = db.execAndGet("PRAGMA user_version").getInt();
    const int whose = db.execAndGet("PRAGMA application_id").getInt();
    const int tables = db.execAndGet("SELECT count(*) FROM sqlite_master").getInt();
    if (tables > 0 && whose != application)
      return tl::unexpected(fault_at(path, "this is a database, but no log of Low Kite", "a log, or a new name"));
    if (version > newest_log_version)
      return tl::unexpected(
          fault_at(path, fmt::format("the log was written by a newer Low Kite (version {})", version),
                   fmt::format("a log of version {} or older; this one was not touched", newest_log_version)));
    db.exec("PRAGMA journal_mode = WAL");
    db.exec("PRAGMA synchronous = FULL");
    db.exec("PRAGMA foreign_keys = ON");
    if (tables > 0 && version < newest_log_version) {
      fs::path kept = path;
      kept += fmt::format(".version-{}", version);
      SQLite::Database copy(kept.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
      SQLite::Backup(copy, db).executeStep(-1);
    }
    if (version < newest_log_version) {
      SQLite::Transaction transaction(db);
      if (version < 1) db.exec(version_1);
      if (version < 2) db.exec(to_version_2);
      db.exec(fmt::format("PRAGMA application_id = {}", application));
      db.exec(fmt::format("PRAGMA user_version = {}", newest_log_version));
      transaction.commit();
    }
    return LogStore(std::make_unique<Inside>(path, std::move(db)));
  } catch (const SQLite::Exception& e) {
    return tl::unexpected(fault_of(path, e));
  }
}

tl::expected<std::vector<DaySummary>, Fault> LogStore::days() const {
  return inside_->guarded([&] {
    SQLite::Statement s(inside_->db,
                        fmt::format("SELECT {}, count(run.id), coalesce(sum(run.laps), 0) FROM day LEFT JOIN run ON "
                                    "run.day = day.id GROUP BY day.id ORDER BY date DESC, day.id DESC",
                                    day_columns));
    std::vector<DaySummary> list;
    while (s.executeStep()) list.push_back({day_from(s), s.getColumn(10).getInt(), s.getColumn(11).getInt()});
    return list;
  });
}

tl::expected<std::optional<Day>, Fault> LogStore::day(std::int64_t id) const {
  return inside_->guarded([&]() -> std::optional<Day> {
    SQLite::Statement s(inside_->db, fmt::format("SELECT {} FROM day WHERE id = ?", day_columns));
    s.bind(1, id);
    return s.executeStep() ? std::optional(day_from(s)) : std::nullopt;
  });
}

tl::expected<std::vector<RunSummary>, Fault> LogStore::runs(std::int64_t day) const {
  return inside_->guarded([&] {
    return inside_->summaries("WHERE day = ? ORDER BY started, id", [&](SQLite::Statement& s) { s.bind(1, day); });
  });
}

tl::expected<std::vector<RunSummary>, Fault> LogStore::runs_of_car(const std::string& car_id) const {
  return inside_->guarded([&] {
    return inside_->summaries("WHERE car = ? ORDER BY (SELECT date FROM day WHERE day.id = run.day), day, started, id",
                              [&](SQLite::Statement& s) { s.bind(1, car_id); });
  });
}

tl::expected<std::optional<RunRecord>, Fault> LogStore::run(std::int64_t id) const {
  auto found = inside_->guarded([&]() -> std::optional<RunRecord> {
    SQLite::Statement s(inside_->db, fmt::format("SELECT {}, measured FROM run WHERE id = ?", run_columns));
    s.bind(1, id);
    if (!s.executeStep()) return std::nullopt;
    RunRecord r;
    r.run = run_from(s);
    r.run.measured = s.getColumn(after_run_columns).getString();
    inside_->read_feelings(r.run);
    return r;
  });
  if (!found || !*found) return found;
  auto laps_of_it = laps(id);
  if (!laps_of_it) return tl::unexpected(laps_of_it.error());
  (*found)->laps = std::move(*laps_of_it);
  return found;
}

tl::expected<std::vector<Lap>, Fault> LogStore::laps(std::int64_t run) const {
  return inside_->guarded([&] {
    SQLite::Statement s(inside_->db, "SELECT number, seconds, mark FROM lap WHERE run = ? ORDER BY place");
    s.bind(1, run);
    std::vector<Lap> list;
    while (s.executeStep())
      list.push_back({s.getColumn(0).getInt(), s.getColumn(1).getDouble(), value_from(lap_marks(), s.getColumn(2))});
    return list;
  });
}

tl::expected<std::int64_t, Fault> LogStore::put(const Day& day) {
  return inside_->guarded([&] {
    SQLite::Database& db = inside_->db;
    SQLite::Statement s(db,
                        "INSERT INTO day (id, date, track, surface, grip, bumps, air_celsius, ground_celsius, "
                        "humidity_percent, notes) VALUES (:id, :date, :track, :surface, :grip, :bumps, :air, :ground, "
                        ":humidity, :notes) ON CONFLICT (id) DO UPDATE SET date = :date, track = :track, surface = "
                        ":surface, grip = :grip, bumps = :bumps, air_celsius = :air, ground_celsius = :ground, "
                        "humidity_percent = :humidity, notes = :notes");
    bind_id(s, day.id);
    s.bind(":date", day.date);
    s.bind(":track", day.track);
    s.bind(":surface", std::string(id_in(surfaces(), day.surface)));
    s.bind(":grip", std::string(id_in(grips(), day.grip)));
    s.bind(":bumps", std::string(id_in(bump_kinds(), day.bumps)));
    bind_optional(s, ":air", day.air_celsius);
    bind_optional(s, ":ground", day.ground_celsius);
    bind_optional(s, ":humidity", day.humidity_percent);
    s.bind(":notes", day.notes);
    s.exec();
    return day.id == 0 ? db.getLastInsertRowid() : day.id;
  });
}

tl::expected<std::int64_t, Fault> LogStore::put(const RunRecord& record) {
  const Run& run = record.run;
  std::int64_t id = run.id;
  const auto stored = together([&]() -> tl::expected<void, Fault> {
    return inside_->guarded([&] {
      SQLite::Database& db = inside_->db;
      SQLite::Statement s(
          db,
          "INSERT INTO run (id, day, started, car, setup, measured, tyres, tyre_runs, additive, battery, length_s, "
          "broke, marked_by, notes, verdict, laps, best_s) VALUES (:id, :day, :started, :car, :setup, :measured, "
          ":tyres, :tyre_runs, :additive, :battery, :length, :broke, :marked_by, :notes, :verdict, :laps, :best) ON "
          "CONFLICT (id) DO UPDATE SET day = :day, started = :started, car = :car, setup = :setup, measured = "
          ":measured, tyres = :tyres, tyre_runs = :tyre_runs, additive = :additive, battery = :battery, length_s = "
          ":length, broke = :broke, marked_by = :marked_by, notes = :notes, verdict = :verdict, laps = :laps, best_s = "
          ":best");
      bind_id(s, run.id);
      s.bind(":day", run.day);
      s.bind(":started", run.started);
      s.bind(":car", run.car_id);
      s.bind(":setup", run.setup);
      s.bind(":measured", run.measured);
      s.bind(":tyres", run.tyres);
      if (run.tyre_runs)
        s.bind(":tyre_runs", *run.tyre_runs);
      else
        s.bind(":tyre_runs");
      s.bind(":additive", run.additive);
      s.bind(":battery", run.battery);
      bind_optional(s, ":length", run.length_s);
      s.bind(":broke", run.broke);
      s.bind(":marked_by", run.marked_by);
      s.bind(":notes", run.notes);
      s.bind(":verdict", std::string(id_in(verdicts(), run.verdict)));
      double best = 0.0;
      for (const Lap& l : record.laps)
        if (l.mark == LapMark::ordinary && (best == 0.0 || l.seconds < best)) best = l.seconds;
      s.bind(":laps", static_cast<int>(record.laps.size()));
      s.bind(":best", best);
      s.exec();
      if (id == 0) id = db.getLastInsertRowid();
      for (const char* table : {"lap", "feeling"}) {
        SQLite::Statement clear(db, fmt::format("DELETE FROM {} WHERE run = ?", table));
        clear.bind(1, id);
        clear.exec();
      }
      SQLite::Statement lap(db, "INSERT INTO lap (run, place, number, seconds, mark) VALUES (?, ?, ?, ?, ?)");
      for (std::size_t i = 0; i < record.laps.size(); ++i) {
        const Lap& l = record.laps[i];
        lap.bind(1, id);
        lap.bind(2, static_cast<int>(i));
        lap.bind(3, l.number);
        lap.bind(4, l.seconds);
        lap.bind(5, std::string(id_in(lap_marks(), l.mark)));
        lap.exec();
        lap.reset();
      }
      SQLite::Statement feeling(
          db, "INSERT INTO feeling (run, place, phase, sense, turn, amount) VALUES (?, ?, ?, ?, ?, ?)");
      for (std::size_t i = 0; i < run.feelings.size(); ++i) {
        const Feeling& f = run.feelings[i];
        feeling.bind(1, id);
        feeling.bind(2, static_cast<int>(i));
        feeling.bind(3, std::string(id_in(phases(), f.phase)));
        feeling.bind(4, std::string(words_of(f.sense).id));
        feeling.bind(5, std::string(id_in(turn_ways(), f.turn)));
        feeling.bind(6, f.amount);
        feeling.exec();
        feeling.reset();
      }
    });
  });
  if (!stored) return tl::unexpected(stored.error());
  return id;
}

tl::expected<void, Fault> LogStore::remove_day(std::int64_t id) {
  return inside_->guarded([&] {
    SQLite::Statement s(inside_->db, "DELETE FROM day WHERE id = ?");
    s.bind(1, id);
    s.exec();
  });
}

tl::expected<void, Fault> LogStore::remove_run(std::int64_t id) {
  return inside_->guarded([&] {
    SQLite::Statement s(inside_->db, "DELETE FROM run WHERE id = ?");
    s.bind(1, id);
    s.exec();
  });
}

tl::expected<void, Fault> LogStore::together(const std::function<tl::expected<void, Fault>()>& changes) {
  if (inside_->in_transaction()) return changes();  // the outer one holds them together
  try {
    SQLite::Transaction transaction(inside_->db);
    if (auto done = changes(); !done) return done;  // rolled back as it goes
    transaction.commit();
    return {};
  } catch (const SQLite::Exception& e) {
    return tl::unexpected(fault_of(inside_->path, e));
  }
}

tl::expected<void, Fault> LogStore::back_up(const fs::path& path) const {
  fs::path partial = path;
  partial += ".part";
  std::error_code error;
  if (path.has_parent_path()) fs::create_directories(path.parent_path(), error);
  fs::remove(partial, error);
  const auto copied = inside_->guarded([&] {
    SQLite::Database copy(partial.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    SQLite::Backup(copy, inside_->db).executeStep(-1);
  });
  if (!copied) {
    fs::remove(partial, error);
    Fault f = copied.error();
    f.file = path.filename().string();
    return tl::unexpected(f);
  }
  fs::rename(partial, path, error);
  if (error) return tl::unexpected(fault_at(path, error.message(), "a place that can be written to"));
  return {};
}

tl::expected<bool, Fault> keep_backups(const LogStore& log, const fs::path& folder, const std::string& today,
                                       int keep) {
  const fs::path newest = folder / fmt::format("log-{}.sqlite", today);
  std::error_code error;
  if (fs::exists(newest, error)) return false;
  if (const auto made = log.back_up(newest); !made) return tl::unexpected(made.error());
  std::vector<fs::path> copies;
  for (const auto& entry : fs::directory_iterator(folder, error)) {
    const std::string name = entry.path().filename().string();
    if (name.starts_with("log-") && name.ends_with(".sqlite")) copies.push_back(entry.path());
  }
  std::sort(copies.begin(), copies.end());
  for (std::size_t i = 0; i + static_cast<std::size_t>(keep) < copies.size(); ++i) fs::remove(copies[i], error);
  return true;
}

}  // namespace lowkite
