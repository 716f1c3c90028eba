#include "app/track/track_model.h"

#include <algorithm>
#include <utility>

#include <QDate>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QScopedValueRollback>
#include <QUndoCommand>

#include "app/document/open_files.h"
#include "app/kept/kept.h"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/library.hpp"

namespace lowkite::app {
namespace {

const QString schoolsKey = QStringLiteral("track/schools");
const QString slowerKey = QStringLiteral("track/slower_share");
constexpr std::uintmax_t largestLog = 512u << 20;

}  // namespace

/// One change of the log. It was made before it was pushed.
class LogCommand : public QUndoCommand {
 public:
  LogCommand(TrackModel& model, const QString& what, LogChange change, int merge)
      : QUndoCommand(what), model_(model), change_(std::move(change)), merge_(merge) {}

  void redo() override {
    if (!std::exchange(pushed_, true)) return;
    go(TrackModel::Way::make, &QUndoStack::undo);
  }
  void undo() override { go(TrackModel::Way::takeBack, &QUndoStack::redo); }
  [[nodiscard]] int id() const override { return merge_ == 0 ? -1 : merge_; }
  bool mergeWith(const QUndoCommand* next) override {
    const LogChange& theirs = dynamic_cast<const LogCommand*>(next)->change_;
    if (change_.runs.front().after != theirs.runs.front().before) return false;  // another run
    change_.runs.front().after = theirs.runs.front().after;
    return true;
  }

 private:
  void go(TrackModel::Way way, void (QUndoStack::*back)()) {
    if (model_.puttingBack_) return;
    const auto outcome = model_.apply(change_, way);
    if (outcome == TrackModel::Outcome::overtaken) setObsolete(true);
    if (outcome != TrackModel::Outcome::failed) return;
    // The stack counts it as done: it is put back to where the log is.
    QMetaObject::invokeMethod(
        &model_,
        [&model = model_, back] {
          const QScopedValueRollback putting(model.puttingBack_, true);
          (model.undo_.*back)();
        },
        Qt::QueuedConnection);
  }

  TrackModel& model_;
  LogChange change_;
  int merge_;
  bool pushed_ = false;
};

TrackModel::TrackModel(Document& document, const QString& path, QObject* parent)
    : QObject(parent),
      document_(document),
      path_(path),
      ownRules_(QFileInfo(path).dir().filePath(QStringLiteral("my-rules.json"))) {
  const Kept s;
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
  keepTyped();
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
  keepTyped();
  run_ = fetch(id);
  Q_EMIT chosen();
}

void TrackModel::lookAgain() {
  if (!store_ || !store_->changed_elsewhere()) return;
  refresh();
  Q_EMIT told(tr("The log was changed in another window of Low Kite: it was read again."));
}

bool TrackModel::mayWrite() {
  if (store_->still_there()) return true;
  Q_EMIT told(tr("The log's file was removed or replaced by another program while it was open: %1. Nothing was "
                 "written. File, Log, Back it up writes what is known here to a new file.")
                  .arg(path_));
  return false;
}

TrackModel::Outcome TrackModel::apply(LogChange& change, Way way) {
  if (!store_ || !mayWrite()) return Outcome::failed;
  const bool elsewhere = store_->changed_elsewhere();
  const auto done = way == Way::make ? make(*store_, change) : take_back(*store_, change);
  if (done) {
    const auto now = [way](const auto& items) {
      return items.size() != 1 ? std::nullopt : way == Way::make ? items.front().after : items.front().before;
    };
    if (const auto run = now(change.runs)) {
      day_ = run->run.day;
      run_ = *run;
    } else if (const auto day = now(change.days)) {
      day_ = day->id;
    }
  }
  refresh();
  if (!done && done.error().overtaken)
    Q_EMIT told(
        (way == Way::make
             ? tr("Nothing was overwritten: %1. You see it as it stands now; do yours once more if it still holds.")
             : tr("Nothing was undone: %1. You see it as it stands now."))
            .arg(QString::fromStdString(done.error().fault.wrong)));
  else if (!done)
    Q_EMIT told(QString::fromStdString(done.error().fault.line()));
  else if (elsewhere)
    Q_EMIT told(tr("The log was changed in another window of Low Kite: it was read again."));
  return done ? Outcome::done : done.error().overtaken ? Outcome::overtaken : Outcome::failed;
}

void TrackModel::edit(const QString& what, LogChange change, int merge) {
  if (!open() || apply(change, Way::make) != Outcome::done) return;
  undo_.push(new LogCommand(*this, what, std::move(change), merge));
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
  keepTyped();
  Day fresh = day().value_or(Day{});
  fresh.id = 0;
  fresh.date = date.toStdString();
  fresh.notes.clear();
  // What has to be measured is another today.
  fresh.air_celsius.reset();
  fresh.ground_celsius.reset();
  fresh.humidity_percent.reset();
  LogChange change;
  change.days.push_back({std::nullopt, fresh});
  edit(tr("New day"), std::move(change));
}

void TrackModel::putDay(const Day& next, const QString& what) {
  const auto before = day();
  if (!before || *before == next) return;
  LogChange change;
  change.days.push_back({before, next});
  edit(what, std::move(change));
}

void TrackModel::removeDay() {
  if (!day() || !store_) return;
  keepTyped();
  if (store_->changed_elsewhere()) {
    refresh();
    Q_EMIT told(
        tr("The log was changed in another window of Low Kite: it was read again, and nothing was removed. Look "
           "at the day and do it once more."));
    return;
  }
  const auto gone = day();
  LogChange change;
  change.days.push_back({gone, std::nullopt});
  for (const RunSummary& r : runs_)
    if (auto whole = fetch(r.run.id)) change.runs.push_back({std::move(whole), std::nullopt});
  edit(tr("Remove the day"), std::move(change));
}

void TrackModel::addRun(const QString& started) {
  if (!open()) return;
  keepTyped();
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
  LogChange change;
  change.runs.push_back({std::nullopt, fresh});
  edit(tr("New run"), std::move(change));
}

void TrackModel::putRun(const RunRecord& next, const QString& what, int merge) {
  if (!run_ || *run_ == next) return;
  LogChange change;
  change.runs.push_back({run_, next});
  edit(what, std::move(change), merge);
}

void TrackModel::removeRun() {
  keepTyped();
  if (!run_) return;
  LogChange change;
  change.runs.push_back({run_, std::nullopt});
  edit(tr("Remove the run"), std::move(change));
}

void TrackModel::takeSetup() {
  keepTyped();
  if (!run_ || !document_.hasCar()) return;
  RunRecord next = *run_;
  next.run.car_id = document_.car().id;
  next.run.setup = write_setup(document_.setup(), document_.car(), document_.state().file.source);
  putRun(next, tr("Setup of the run"));
}

void TrackModel::setLapRule(const LapRule& rule) {
  if (rule == rule_) return;
  rule_ = rule;
  Kept().setValue(slowerKey, rule.slower_share);
  Q_EMIT chosen();
}

const RuleBook& TrackModel::book() {
  if (!book_) readRules();
  return *book_;
}

QString TrackModel::readRules() {
  const auto shipped = data_folder() / "rules" / "rules.json";
  (void)ownRules_.read();  // marks what is read below as seen
  QString wrong;
  auto read = load_rules(shipped, ownRulesPath().toStdString());
  if (!read) {
    wrong = QString::fromStdString(read.error().front().line());
    Q_EMIT told(wrong);
    read = load_rules(shipped);
  }
  book_ = read ? std::move(*read) : RuleBook{};
  return wrong;
}

void TrackModel::rereadRules() {
  book_.reset();
  score_.reset();
  Q_EMIT rulesChanged();
}

void TrackModel::addOwnRule(const Rule& rule) {
  // Another window, or a hand, may have written to them.
  if (const QString wrong = readRules(); !wrong.isEmpty()) {
    Q_EMIT told(tr("Your rules are left as they are until their file is mended: %1").arg(wrong));
    return;
  }
  std::vector<Rule> own;
  for (const Rule& r : book().rules)
    if (r.own && r.id != rule.id) own.push_back(r);
  own.push_back(rule);
  const auto written = ownRules_.write(write_own_rules(own));
  rereadRules();
  Q_EMIT told(written ? tr("Your rule stands in %1.").arg(QDir::toNativeSeparators(ownRulesPath()))
                      : QString::fromStdString(written.error().line()));
}

void TrackModel::setSchool(const QString& question, const QString& school) {
  if (school.isEmpty())
    schools_.erase(question.toStdString());
  else
    schools_[question.toStdString()] = school.toStdString();
  QVariantMap kept;
  for (const auto& [q, s] : schools_) kept[QString::fromStdString(q)] = QString::fromStdString(s);
  Kept().setValue(schoolsKey, kept);
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
  keepTyped();
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
  keepTyped();
  const auto text = read_file(path.toStdString(), largestLog);
  if (!text) {
    Q_EMIT told(QString::fromStdString(text.error().line()));
    return false;
  }
  const std::string name = QFileInfo(path).fileName().toStdString();
  const auto days = log_import_for(name).read(*text, name);
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
  const auto isNew = [](const auto& item) { return !item.before; };
  const auto newDays = std::count_if(merged->days.begin(), merged->days.end(), isNew);
  const auto newRuns = std::count_if(merged->runs.begin(), merged->runs.end(), [&](const auto& item) {
    const auto ofIt = [&](const auto& d) { return isNew(d) && d.after->id == item.after->run.day; };
    return isNew(item) && std::none_of(merged->days.begin(), merged->days.end(), ofIt);
  });
  const auto filled = static_cast<std::ptrdiff_t>(merged->days.size() + merged->runs.size()) - newDays -
                      std::count_if(merged->runs.begin(), merged->runs.end(), isNew);
  const QString came = tr("Days added: %1, runs added to known days: %2, days and runs filled in: %3. What the log had "
                          "was left as it is.")
                           .arg(newDays)
                           .arg(newRuns)
                           .arg(filled);
  // What came is taken back by an undo, and comes again with a redo.
  if (!merged->empty()) undo_.push(new LogCommand(*this, tr("Import"), std::move(*merged), 0));
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
