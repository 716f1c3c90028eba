#include "app/track/track_model.h"

#include <algorithm>

#include <QDate>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <QUndoCommand>

#include "app/document/open_files.h"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

const QString schoolsKey = QStringLiteral("track/schools");
const QString slowerKey = QStringLiteral("track/slower_share");
constexpr std::uintmax_t largestLog = 512u << 20;

}  // namespace

/// One change of the log. It was done before it was pushed.
class LogCommand : public QUndoCommand {
 public:
  LogCommand(TrackModel& model, const QString& what, TrackModel::Change redo, TrackModel::Change undo, int merge)
      : QUndoCommand(what), model_(model), redo_(std::move(redo)), undo_(std::move(undo)), merge_(merge) {}

  void redo() override {
    if (first_) {
      first_ = false;
      return;
    }
    if (!model_.apply(redo_)) setObsolete(true);
  }
  void undo() override {
    if (!model_.apply(undo_)) setObsolete(true);
  }
  [[nodiscard]] int id() const override { return merge_ == 0 ? -1 : merge_; }
  bool mergeWith(const QUndoCommand* next) override {
    redo_ = dynamic_cast<const LogCommand*>(next)->redo_;
    return true;
  }

 private:
  TrackModel& model_;
  TrackModel::Change redo_, undo_;
  int merge_;
  bool first_ = true;
};

TrackModel::TrackModel(Document& document, const QString& path, QObject* parent)
    : QObject(parent), document_(document), path_(path) {
  const QSettings s;
  rule_.slower_share = s.value(slowerKey, rule_.slower_share).toDouble();
  const QVariantMap kept = s.value(schoolsKey).toMap();
  for (auto it = kept.begin(); it != kept.end(); ++it)
    schools_[it.key().toStdString()] = it.value().toString().toStdString();
  const auto anew = [this] {
    score_.reset();
    Q_EMIT chosen();
  };
  connect(&document_, &Document::replaced, this, anew);
  connect(&document_, &Document::carEdited, this, anew);
}

bool TrackModel::open() {
  if (store_) return true;
  QDir().mkpath(QFileInfo(path_).path());
  auto opened = LogStore::open(path_.toStdString());
  if (!opened) {
    failure_ = QString::fromStdString(opened.error().line());
    Q_EMIT told(failure_);
    return false;
  }
  failure_.clear();
  store_.emplace(std::move(*opened));
  const auto kept = keep_backups(*store_, QFileInfo(path_).dir().filePath(QStringLiteral("backups")).toStdString(),
                                 QDate::currentDate().toString(Qt::ISODate).toStdString());
  if (!kept) Q_EMIT told(QString::fromStdString(kept.error().line()));
  refresh();
  if (day_ == 0 && !days_.empty()) chooseDay(days_.front().day.id);
  return true;
}

std::optional<Day> TrackModel::day() const {
  for (const DaySummary& d : days_)
    if (d.day.id == day_) return d.day;
  return std::nullopt;
}

void TrackModel::refresh() {
  if (!store_) return;
  everything_.reset();
  score_.reset();
  auto days = store_->days();
  if (!days) {
    Q_EMIT told(QString::fromStdString(days.error().line()));
    return;
  }
  days_ = std::move(*days);
  if (!day()) day_ = days_.empty() ? 0 : days_.front().day.id;
  runs_.clear();
  if (day_ != 0)
    if (auto runs = store_->runs(day_)) runs_ = std::move(*runs);
  const std::int64_t wanted = run_ ? run_->run.id : 0;
  run_.reset();
  const bool there = std::any_of(runs_.begin(), runs_.end(), [&](const RunSummary& r) { return r.run.id == wanted; });
  if (there)
    run_ = fetch(wanted);
  else if (!runs_.empty())
    run_ = fetch(runs_.back().run.id);
  Q_EMIT daysChanged();
  Q_EMIT runsChanged();
  Q_EMIT chosen();
}

std::optional<RunRecord> TrackModel::fetch(std::int64_t id) const {
  if (!store_) return std::nullopt;
  auto found = store_->run(id);
  return found ? std::move(*found) : std::nullopt;
}

std::optional<Day> TrackModel::dayOf(const Run& run) const {
  for (const DaySummary& d : days_)
    if (d.day.id == run.day) return d.day;
  return std::nullopt;
}

std::optional<RunRecord> TrackModel::runBefore() const {
  if (!run_) return std::nullopt;
  std::optional<std::int64_t> before;
  for (const RunSummary& r : runs_) {
    if (r.run.id == run_->run.id) break;
    if (r.run.car_id == run_->run.car_id) before = r.run.id;
  }
  return before ? fetch(*before) : std::nullopt;
}

void TrackModel::chooseDay(std::int64_t id) {
  if (!store_ || id == day_) return;
  day_ = id;
  run_.reset();
  runs_.clear();
  if (auto runs = store_->runs(day_)) runs_ = std::move(*runs);
  if (!runs_.empty()) run_ = fetch(runs_.back().run.id);
  Q_EMIT runsChanged();
  Q_EMIT chosen();
}

void TrackModel::chooseRun(std::int64_t id) {
  if (run_ && run_->run.id == id) return;
  run_ = fetch(id);
  Q_EMIT chosen();
}

void TrackModel::lookAgain() {
  if (!store_ || !store_->changed_elsewhere()) return;
  // What could be undone here was done to what is there no more.
  undo_.clear();
  refresh();
  Q_EMIT told(tr("The log was changed in another window of Low Kite: it was read again."));
}

bool TrackModel::mayWrite() {
  if (!store_->still_there()) {
    Q_EMIT told(tr("The log's file was removed or replaced by another program while it was open: %1. Nothing was "
                   "written. File, Log, Back it up writes what is known here to a new file.")
                    .arg(path_));
    return false;
  }
  if (!store_->changed_elsewhere()) return true;
  const auto run = run_;
  const auto day = this->day();
  // Not at once: this may be a step of that very stack.
  QMetaObject::invokeMethod(&undo_, &QUndoStack::clear, Qt::QueuedConnection);
  refresh();
  if (run_ == run && this->day() == day) return true;
  Q_EMIT told(
      tr("The log was changed in another window of Low Kite: it was read again, and nothing was overwritten. "
         "Look at it and do it once more."));
  return false;
}

bool TrackModel::apply(const Change& change) {
  if (!store_ || !mayWrite()) return false;
  if (const auto done = change(*store_); !done) {
    Q_EMIT told(QString::fromStdString(done.error().line()));
    refresh();
    return false;
  }
  refresh();
  return true;
}

void TrackModel::edit(const QString& what, Change redo, Change undo, int merge) {
  if (!open() || !apply(redo)) return;
  undo_.push(new LogCommand(*this, what, std::move(redo), std::move(undo), merge));
}

QString TrackModel::carName(const std::string& id) const {
  if (document_.hasCar() && document_.car().id == id) return QString::fromStdString(document_.car().name);
  if (names_.empty()) {
    for (const OwnCar& own : ownCars()) names_[own.car->id] = own.title;
    for (const ShippedFile& file : shippedFiles()) names_[file.car->id] = QString::fromStdString(file.car->name);
  }
  const auto found = names_.find(id);
  return found != names_.end() ? found->second : QString::fromStdString(id);
}

void TrackModel::addDay(const QString& date) {
  if (!open()) return;
  Day fresh = day().value_or(Day{});
  fresh.id = 0;
  fresh.date = date.toStdString();
  fresh.notes.clear();
  // What has to be measured is another today.
  fresh.air_celsius.reset();
  fresh.ground_celsius.reset();
  fresh.humidity_percent.reset();
  // The id that the store gives is kept, so that an undo and a redo bring back the same day.
  auto given = std::make_shared<std::int64_t>(0);
  edit(
      tr("New day"),
      [this, fresh, given](LogStore& log) -> tl::expected<void, Fault> {
        Day d = fresh;
        d.id = *given;
        const auto id = log.put(d);
        if (!id) return tl::unexpected(id.error());
        *given = *id;
        day_ = *id;
        return {};
      },
      [given](LogStore& log) { return log.remove_day(*given); });
}

void TrackModel::putDay(const Day& next, const QString& what) {
  const auto before = day();
  if (!before || *before == next) return;
  const auto put = [](const Day& d) {
    return [d](LogStore& log) -> tl::expected<void, Fault> {
      const auto id = log.put(d);
      if (!id) return tl::unexpected(id.error());
      return {};
    };
  };
  edit(what, put(next), put(*before));
}

void TrackModel::removeDay() {
  const auto gone = day();
  if (!gone || !store_) return;
  std::vector<RunRecord> records;
  for (const RunSummary& r : runs_)
    if (auto whole = fetch(r.run.id)) records.push_back(std::move(*whole));
  edit(
      tr("Remove the day"), [id = gone->id](LogStore& log) { return log.remove_day(id); },
      [this, day = *gone, records](LogStore& log) {
        return log.together([&]() -> tl::expected<void, Fault> {
          if (const auto id = log.put(day); !id) return tl::unexpected(id.error());
          for (const RunRecord& r : records)
            if (const auto id = log.put(r); !id) return tl::unexpected(id.error());
          day_ = day.id;
          return {};
        });
      });
}

void TrackModel::addRun(const QString& started) {
  if (!open()) return;
  if (!day()) addDay(QDate::currentDate().toString(Qt::ISODate));
  const auto today = day();
  if (!today) return;
  RunRecord fresh;
  fresh.run.day = today->id;
  fresh.run.started = started.toStdString();
  if (document_.hasCar()) {
    fresh.run.car_id = document_.car().id;
    fresh.run.setup = write_setup(document_.setup(), document_.car(), document_.state().file.source);
  }
  if (!runs_.empty()) {
    const Run& last = runs_.back().run;
    fresh.run.tyres = last.tyres;
    if (last.tyre_runs) fresh.run.tyre_runs = *last.tyre_runs + 1;
    fresh.run.additive = last.additive;
    fresh.run.battery = last.battery;
    fresh.run.length_s = last.length_s;
    fresh.run.marked_by = last.marked_by;
  }
  auto given = std::make_shared<std::int64_t>(0);
  edit(
      tr("New run"),
      [this, fresh, given](LogStore& log) -> tl::expected<void, Fault> {
        RunRecord r = fresh;
        r.run.id = *given;
        const auto id = log.put(r);
        if (!id) return tl::unexpected(id.error());
        *given = *id;
        r.run.id = *id;
        run_ = r;
        return {};
      },
      [given](LogStore& log) { return log.remove_run(*given); });
}

void TrackModel::putRun(const RunRecord& next, const QString& what, int merge) {
  if (!run_ || *run_ == next) return;
  const auto put = [](const RunRecord& r) {
    return [r](LogStore& log) -> tl::expected<void, Fault> {
      const auto id = log.put(r);
      if (!id) return tl::unexpected(id.error());
      return {};
    };
  };
  edit(what, put(next), put(*run_), merge);
}

void TrackModel::removeRun() {
  if (!run_) return;
  edit(
      tr("Remove the run"), [id = run_->run.id](LogStore& log) { return log.remove_run(id); },
      [r = *run_](LogStore& log) -> tl::expected<void, Fault> {
        const auto id = log.put(r);
        if (!id) return tl::unexpected(id.error());
        return {};
      });
}

void TrackModel::takeSetup() {
  if (!run_ || !document_.hasCar()) return;
  RunRecord next = *run_;
  next.run.car_id = document_.car().id;
  next.run.setup = write_setup(document_.setup(), document_.car(), document_.state().file.source);
  putRun(next, tr("Setup of the run"));
}

void TrackModel::setLapRule(const LapRule& rule) {
  if (rule == rule_) return;
  rule_ = rule;
  QSettings().setValue(slowerKey, rule.slower_share);
  Q_EMIT chosen();
}

QString TrackModel::ownRulesPath() const {
  return QFileInfo(path_).dir().filePath(QStringLiteral("my-rules.json"));
}

const RuleBook& TrackModel::book() {
  if (book_) return *book_;
  const auto shipped = data_folder() / "rules" / "rules.json";
  auto read = load_rules(shipped, ownRulesPath().toStdString());
  if (!read) {
    Q_EMIT told(QString::fromStdString(read.error().front().line()));
    read = load_rules(shipped);
  }
  book_ = read ? std::move(*read) : RuleBook{};
  return *book_;
}

void TrackModel::rereadRules() {
  book_.reset();
  score_.reset();
  Q_EMIT rulesChanged();
}

void TrackModel::addOwnRule(const Rule& rule) {
  std::vector<Rule> own;
  for (const Rule& r : book().rules)
    if (r.own && r.id != rule.id) own.push_back(r);
  own.push_back(rule);
  const auto written = replace_file(ownRulesPath().toStdString(), write_own_rules(own));
  if (!written) {
    Q_EMIT told(QString::fromStdString(written.error().line()));
    return;
  }
  rereadRules();
  Q_EMIT told(tr("Your rule stands in %1.").arg(QDir::toNativeSeparators(ownRulesPath())));
}

void TrackModel::setSchool(const QString& question, const QString& school) {
  if (school.isEmpty())
    schools_.erase(question.toStdString());
  else
    schools_[question.toStdString()] = school.toStdString();
  QVariantMap kept;
  for (const auto& [q, s] : schools_) kept[QString::fromStdString(q)] = QString::fromStdString(s);
  QSettings().setValue(schoolsKey, kept);
  Q_EMIT rulesChanged();
}

const std::vector<LoggedDay>& TrackModel::everything() {
  if (!everything_) {
    everything_.emplace();
    if (store_) {
      auto all = everything_in(*store_);
      if (all)
        *everything_ = std::move(*all);
      else
        Q_EMIT told(QString::fromStdString(all.error().line()));
    }
  }
  return *everything_;
}

std::vector<LoggedDay> TrackModel::runsWithoutLaps(const std::string& car_id) const {
  std::vector<LoggedDay> list;
  if (!store_) return list;
  auto runs = store_->runs_of_car(car_id);
  if (!runs) return list;
  std::map<std::int64_t, Day> days;
  for (const DaySummary& d : days_) days[d.day.id] = d.day;
  for (RunSummary& r : *runs) {
    if (list.empty() || list.back().day.id != r.run.day) list.push_back({days[r.run.day], {}});
    list.back().runs.push_back({std::move(r.run), {}});
  }
  return list;
}

int TrackModel::runsSince(const std::string& car_id, const QString& since) {
  if (!open()) return 0;
  const std::string from = since.toStdString();
  int runs = 0;
  for (const LoggedDay& d : runsWithoutLaps(car_id))
    for (const RunRecord& r : d.runs) {
      // A run without a time counts from the day after on.
      const std::string when = d.day.date + "T" + r.run.started;
      runs += r.run.started.empty() ? d.day.date > from.substr(0, 10) : when >= from.substr(0, when.size());
    }
  return runs;
}

const ScoreBook& TrackModel::score() {
  if (!score_ || scoredFor_ != document_.sharedCar()) {
    scoredFor_ = document_.sharedCar();
    score_ = scoredFor_ ? keep_score(runsWithoutLaps(scoredFor_->id), book(), *scoredFor_) : ScoreBook{};
  }
  return *score_;
}

bool TrackModel::exportTo(const QString& path, Export what) {
  if (!open()) return false;
  if (what == Export::copy) {
    const auto done = store_->back_up(path.toStdString());
    Q_EMIT told(done ? tr("Backed up: %1").arg(path) : QString::fromStdString(done.error().line()));
    return done.has_value();
  }
  const auto& days = everything();
  const std::string text = what == Export::everything ? write_log(days)
                           : what == Export::laps     ? laps_as_csv(days, rule_)
                                                      : runs_as_csv(days, rule_);
  const auto done = replace_file(path.toStdString(), text);
  Q_EMIT told(done ? tr("Written: %1").arg(path) : QString::fromStdString(done.error().line()));
  return done.has_value();
}

bool TrackModel::importFrom(const QString& path) {
  if (!open() || !mayWrite()) return false;
  const auto text = read_file(path.toStdString(), largestLog);
  if (!text) {
    Q_EMIT told(QString::fromStdString(text.error().line()));
    return false;
  }
  const std::string name = QFileInfo(path).fileName().toStdString();
  const bool table = path.endsWith(QStringLiteral(".csv"), Qt::CaseInsensitive);
  const auto days = table ? read_log_csv(*text, name) : read_log(*text, name);
  if (!days) {
    Q_EMIT told(QString::fromStdString(days.error().front().line()));
    return false;
  }
  auto merged = merge_into(*store_, *days);
  if (!merged) {
    Q_EMIT told(QString::fromStdString(merged.error().line()));
    return false;
  }
  refresh();
  const auto count = [](const auto& list) { return static_cast<int>(list.size()); };
  const QString came = tr("Days added: %1, runs added to known days: %2, days and runs filled in: %3. What the log had "
                          "was left as it is.")
                           .arg(count(merged->new_days))
                           .arg(count(merged->new_runs))
                           .arg(count(merged->days_before) + count(merged->runs_before));
  if (const auto& m = *merged;
      count(m.new_days) + count(m.new_runs) + count(m.days_before) + count(m.runs_before) > 0) {
    // What came is taken back by an undo, and comes again with a redo.
    auto last = std::make_shared<Merged>(std::move(*merged));
    undo_.push(new LogCommand(
        *this, tr("Import"),
        [days = *days, last](LogStore& log) -> tl::expected<void, Fault> {
          auto again = merge_into(log, days);
          if (!again) return tl::unexpected(again.error());
          *last = std::move(*again);
          return {};
        },
        [last](LogStore& log) { return undo_merge(log, *last); }, 0));
  }
  Q_EMIT told(came);
  return true;
}

void TrackModel::fillWithDemo() {
  if (!open() || !days_.empty()) return;
  const auto text = read_file(data_folder() / "log" / "season.json", largestLog);
  const auto days = text ? read_log(*text, "season.json") : tl::unexpected(Faults{text.error()});
  if (!days) {
    Q_EMIT told(QString::fromStdString(days.error().front().line()));
    return;
  }
  if (const auto added = merge_into(*store_, *days); !added) Q_EMIT told(QString::fromStdString(added.error().line()));
  day_ = 0;
  refresh();
  Q_EMIT told(
      tr("An invented season: what is felt in it follows from one hidden tyre on each ground, one word in seven "
         "from chance. Advice, Your tyres, finds some of it out."));
}

}  // namespace lowkite::app
