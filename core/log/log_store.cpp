#include "core/log/log_store.hpp"

#include <algorithm>
#include <array>
#include <sstream>
#include <system_error>

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <sqlite3.h>
#include <sys/stat.h>
#include <unistd.h>

#include "core/linkage/at.hpp"
#include "core/log/fields.hpp"
#include "core/words/say.hpp"

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

/// What brings a log from each version to the next, an empty one to the first. What is here has been written by
/// programs that racers have: another column is another step.
constexpr std::array steps{version_1, to_version_2};
constexpr auto newest_log_version = static_cast<int>(steps.size());

Fault fault_at(const fs::path& path, std::string wrong, std::string allowed) {
  return {path.filename().string(), "", std::move(wrong), std::move(allowed)};
}

Fault fault_of(const fs::path& path, const SQLite::Exception& e) {
  switch (e.getErrorCode()) {
    case SQLITE_FULL:
      return fault_at(path, say("the disk is full; nothing of this change was kept"), say("room on the disk"));
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      return fault_at(path, say("another program holds the log"), say("one Low Kite at a time on one log; try again"));
    case SQLITE_READONLY:
    case SQLITE_CANTOPEN:
    case SQLITE_PERM:
      return fault_at(path, say("the log cannot be written there"), say("a folder that can be written to"));
    case SQLITE_NOTADB:
    case SQLITE_CORRUPT:
      return fault_at(path, say("this is no log, or it is damaged"), say("a log of Low Kite, or one of its backups"));
    default:
      return fault_at(path, e.what(), say("a log of Low Kite on a disk that can be written to"));
  }
}

/// 0 is a row not stored yet: the database numbers it.
void bind_id(SQLite::Statement& s, std::int64_t id) {
  if (id == 0)
    s.bind(":id");
  else
    s.bind(":id", id);
}

template <class E>
E word_from(std::span<const Named<E>> list, const SQLite::Column& c) {
  return value_of(list, c.getString()).value_or(list.front().value);
}

/// Documents can be large: lists leave them out that ask for nothing but what is shown.
template <class Record>
bool listed(const LogField<Record>& f) {
  return f.column != "measured";
}

/// The columns of a record as a list for SELECT, each with its table's name.
template <class Record>
std::string columns_of(std::string_view table, std::span<const LogField<Record>> fields, bool whole = true) {
  std::string list;
  for (const LogField<Record>& f : fields)
    if (whole || listed(f)) list += fmt::format("{}{}.{}", list.empty() ? "" : ", ", table, f.column);
  return list;
}

FieldValue value_from(const SQLite::Column& c) {
  if (c.isNull()) return {};
  if (c.isText()) return c.getString();
  return c.getDouble();
}

/// Fills a record from the columns from `at` on; returns the column after them.
template <class Record>
int read_columns(SQLite::Statement& s, int at, std::span<const LogField<Record>> fields, Record& record,
                 bool whole = true) {
  for (const LogField<Record>& f : fields)
    if (whole || listed(f)) f.set(record, value_from(s.getColumn(at++)));
  return at;
}

/// "INSERT ... ON CONFLICT (id) DO UPDATE ..." for a record with `more` columns before its fields.
template <class Record>
std::string upsert(std::string_view table, std::span<const LogField<Record>> fields,
                   std::span<const std::string_view> more) {
  std::vector<std::string> names;
  for (const std::string_view m : more) names.emplace_back(m);
  for (const LogField<Record>& f : fields) names.emplace_back(f.column);
  std::vector<std::string> sets;
  for (const std::string& n : names) sets.push_back(fmt::format("{} = :{}", n, n));
  return fmt::format("INSERT INTO {} (id, {}) VALUES (:id, :{}) ON CONFLICT (id) DO UPDATE SET {}", table,
                     fmt::join(names, ", "), fmt::join(names, ", :"), fmt::join(sets, ", "));
}

template <class Record>
void bind_fields(SQLite::Statement& s, std::span<const LogField<Record>> fields, const Record& record) {
  for (const LogField<Record>& f : fields) {
    const std::string name = ":" + std::string(f.column);
    const FieldValue v = f.get(record);
    if (const auto* said = std::get_if<std::string>(&v))
      s.bind(name, *said);
    else if (const auto* n = std::get_if<double>(&v); n && f.kind == FieldKind::count)
      s.bind(name, static_cast<std::int64_t>(*n));
    else if (n)
      s.bind(name, *n);
    else
      s.bind(name);
  }
}

template <class Record>
tl::expected<void, Fault> check_fields(const fs::path& path, std::string_view what,
                                       std::span<const LogField<Record>> fields, const Record& record) {
  const auto wrong = first_wrong(fields, record);
  if (!wrong) return {};
  const auto field =
      std::find_if(fields.begin(), fields.end(), [&](const LogField<Record>& f) { return f.column == wrong->first; });
  const std::string found = cell_of(*field, field->get(record));
  return tl::unexpected(Fault{path.filename().string(), place_of({std::string(what), std::string(wrong->first)}),
                              say("found {}", found.empty() ? "nothing" : found.substr(0, 40)), wrong->second});
}

Day day_from(SQLite::Statement& s) {
  Day d;
  d.id = s.getColumn(0).getInt64();
  read_columns(s, 1, day_fields(), d);
  return d;
}

}  // namespace

struct LogStore::Inside {
  Inside(fs::path p, SQLite::Database opened) : path(std::move(p)), db(std::move(opened)) {}
  fs::path path;
  mutable SQLite::Database db;
  std::int64_t version = 0;  ///< SQLite's count of what other connections have committed
  std::pair<dev_t, ino_t> file{};

  [[nodiscard]] std::int64_t version_now() const { return db.execAndGet("PRAGMA data_version").getInt64(); }
  [[nodiscard]] std::pair<dev_t, ino_t> file_now() const {
    struct stat info {};
    return ::stat(path.c_str(), &info) == 0 ? std::pair(info.st_dev, info.st_ino) : std::pair<dev_t, ino_t>{};
  }

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
      f.phase = word_from(phases(), s.getColumn(0));
      f.sense = sense_of_id(s.getColumn(1).getString()).value_or(Sense::front_grip);
      f.turn = word_from(turn_ways(), s.getColumn(2));
      f.amount = s.getColumn(3).getInt();
      run.feelings.push_back(f);
    }
  }

  std::vector<RunSummary> summaries(const std::string& where,
                                    const std::function<void(SQLite::Statement&)>& bind) const {
    SQLite::Statement s(db, fmt::format("SELECT run.id, run.day, run.laps, run.best_s, {} FROM run {}",
                                        columns_of("run", run_fields(), false), where));
    bind(s);
    std::vector<RunSummary> list;
    while (s.executeStep()) {
      RunSummary r{{}, s.getColumn(2).getInt(), s.getColumn(3).getDouble()};
      r.run.id = s.getColumn(0).getInt64();
      r.run.day = s.getColumn(1).getInt64();
      read_columns(s, 4, run_fields(), r.run, false);
      list.push_back(std::move(r));
    }
    for (RunSummary& r : list) read_feelings(r.run);
    return list;
  }

  [[nodiscard]] std::vector<Lap> laps_of(std::int64_t run) const {
    SQLite::Statement s(db, "SELECT number, seconds, mark FROM lap WHERE run = ? ORDER BY place");
    s.bind(1, run);
    std::vector<Lap> list;
    while (s.executeStep())
      list.push_back({s.getColumn(0).getInt(), s.getColumn(1).getDouble(), word_from(lap_marks(), s.getColumn(2))});
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
      return tl::unexpected(
          fault_at(path, say("this is a database, but no log of Low Kite"), say("a log, or a new name")));
    if (version > newest_log_version)
      return tl::unexpected(
          fault_at(path, say("the log was written by a newer Low Kite (version {})", version),
                   say("a log of version {} or older; this one was not touched", newest_log_version)));
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
      for (std::size_t step = at(version); step < steps.size(); ++step) db.exec(steps[step]);
      db.exec(fmt::format("PRAGMA application_id = {}", application));
      db.exec(fmt::format("PRAGMA user_version = {}", newest_log_version));
      transaction.commit();
    }
    auto inside = std::make_unique<Inside>(path, std::move(db));
    inside->version = inside->version_now();
    inside->file = inside->file_now();
    return LogStore(std::move(inside));
  } catch (const SQLite::Exception& e) {
    return tl::unexpected(fault_of(path, e));
  }
}

tl::expected<std::vector<DaySummary>, Fault> LogStore::days() const {
  return inside_->guarded([&] {
    SQLite::Statement s(inside_->db,
                        fmt::format("SELECT day.id, {}, count(run.id), coalesce(sum(run.laps), 0), "
                                    "coalesce(group_concat(DISTINCT run.car), '') FROM day LEFT JOIN "
                                    "run ON run.day = day.id GROUP BY day.id ORDER BY day.date DESC, day.id DESC",
                                    columns_of("day", day_fields())));
    const int after = 1 + static_cast<int>(day_fields().size());
    std::vector<DaySummary> list;
    while (s.executeStep()) {
      DaySummary d{day_from(s), s.getColumn(after).getInt(), s.getColumn(after + 1).getInt(), {}};
      // Ids hold no comma.
      std::istringstream cars(s.getColumn(after + 2).getString());
      for (std::string id; std::getline(cars, id, ',');)
        if (!id.empty()) d.cars.push_back(id);
      list.push_back(std::move(d));
    }
    return list;
  });
}

tl::expected<std::optional<Day>, Fault> LogStore::day(std::int64_t id) const {
  return inside_->guarded([&]() -> std::optional<Day> {
    SQLite::Statement s(inside_->db,
                        fmt::format("SELECT day.id, {} FROM day WHERE id = ?", columns_of("day", day_fields())));
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
    SQLite::Statement s(inside_->db,
                        fmt::format("SELECT run.day, {} FROM run WHERE id = ?", columns_of("run", run_fields())));
    s.bind(1, id);
    if (!s.executeStep()) return std::nullopt;
    RunRecord r;
    r.run.id = id;
    r.run.day = s.getColumn(0).getInt64();
    read_columns(s, 1, run_fields(), r.run);
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
  return inside_->guarded([&] { return inside_->laps_of(run); });
}

tl::expected<std::int64_t, Fault> LogStore::put(const Day& day) {
  if (auto good = check_fields(inside_->path, "day", day_fields(), day); !good) return tl::unexpected(good.error());
  return inside_->guarded([&] {
    SQLite::Statement s(inside_->db, upsert("day", day_fields(), {}));
    bind_id(s, day.id);
    bind_fields(s, day_fields(), day);
    s.exec();
    return day.id == 0 ? inside_->db.getLastInsertRowid() : day.id;
  });
}

tl::expected<std::int64_t, Fault> LogStore::put(const RunRecord& record) {
  const Run& run = record.run;
  if (auto good = check_fields(inside_->path, "run", run_fields(), run); !good) return tl::unexpected(good.error());
  std::int64_t id = run.id;
  const auto stored = together([&]() -> tl::expected<void, Fault> {
    return inside_->guarded([&] {
      SQLite::Database& db = inside_->db;
      static constexpr std::array<std::string_view, 3> besides{"day", "laps", "best_s"};
      SQLite::Statement s(db, upsert("run", run_fields(), besides));
      bind_id(s, run.id);
      s.bind(":day", run.day);
      bind_fields(s, run_fields(), run);
      double best = 0.0;
      for (const Lap& l : record.laps)
        if (l.mark == LapMark::ordinary && (best == 0.0 || l.seconds < best)) best = l.seconds;
      s.bind(":laps", static_cast<int>(record.laps.size()));
      s.bind(":best_s", best);
      s.exec();
      if (id == 0) id = db.getLastInsertRowid();
      const bool same_laps = run.id != 0 && inside_->laps_of(run.id) == record.laps;
      for (const char* table : {"lap", "feeling"}) {
        if (same_laps && table == std::string_view("lap")) continue;
        SQLite::Statement clear(db, fmt::format("DELETE FROM {} WHERE run = ?", table));
        clear.bind(1, id);
        clear.exec();
      }
      SQLite::Statement lap(db, "INSERT INTO lap (run, place, number, seconds, mark) VALUES (?, ?, ?, ?, ?)");
      for (std::size_t i = 0; !same_laps && i < record.laps.size(); ++i) {
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
    // Others wait from the first look on, not from the first write: what is read here is what is changed.
    SQLite::Transaction transaction(inside_->db, SQLite::TransactionBehavior::IMMEDIATE);
    if (auto done = changes(); !done) return done;  // rolled back as it goes
    transaction.commit();
    return {};
  } catch (const SQLite::Exception& e) {
    return tl::unexpected(fault_of(inside_->path, e));
  }
}

bool LogStore::changed_elsewhere() {
  const auto now = inside_->guarded([&] { return inside_->version_now(); });
  return now && std::exchange(inside_->version, *now) != *now;
}

bool LogStore::still_there() const {
  return inside_->file_now() == inside_->file;
}

tl::expected<void, Fault> LogStore::back_up(const fs::path& path) const {
  std::error_code error;
  if (fs::equivalent(path, this->path(), error))
    return tl::unexpected(
        fault_at(path, say("this is the log itself"), say("another name: a copy over itself would be none")));
  const fs::path partial = path.parent_path() / fmt::format(".lowkite-part-{}", ::getpid());
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
  if (error) return tl::unexpected(fault_at(path, error.message(), say("a place that can be written to")));
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
  for (std::size_t i = 0; i + at(keep) < copies.size(); ++i) fs::remove(copies[i], error);
  return true;
}

}  // namespace lowkite
