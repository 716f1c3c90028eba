#include "app/bench/bench_model.h"

#include <algorithm>
#include <utility>

#include <QDateTime>
#include <QDir>
#include <QFileInfo>

#include "app/settings/bench_tools.h"
#include "app/words/wording.h"
#include "core/io/bench_file.hpp"
#include "core/load/third_element.hpp"

namespace lowkite::app {
namespace {

/// Once `built` is ticked they have been built; `felt` names what the hand feels: piston and oil.
struct BuildingSteps {
  std::string_view built, felt;
};
constexpr std::array building_steps{BuildingSteps{"build_fill", "build_alike"},
                                    BuildingSteps{"third_build", "third_build"}};  // by Dampers

const QString suffix = QStringLiteral(".kite-bench.json");

std::string now() {
  return QDateTime::currentDateTime().toString(Qt::ISODate).toStdString();
}

bool isFinished(const Car& car, const BenchRun& run) {
  const auto steps = steps_of(car, run);
  return std::all_of(steps.begin(), steps.end(), [&](const BenchStep& s) {
    const auto found = run.records.find(s.id);
    return found != run.records.end() && found->second.state != StepState::open;
  });
}

/// The run's record of a step, with the time of this change.
StepRecord& recordOf(BenchRun& run, const BenchStep& step) {
  StepRecord& r = run.records[step.id];
  r.when = now();
  return r;
}

}  // namespace

/// One change of the run: it is small enough to be kept whole, before and after.
class BenchEdit : public QUndoCommand {
 public:
  BenchEdit(BenchModel& model, const QString& what, BenchRun before, BenchRun after)
      : QUndoCommand(what), model_(model), before_(std::move(before)), after_(std::move(after)) {}

  void undo() override { put(before_); }
  void redo() override {
    if (!std::exchange(done_, true)) return;  // what is pushed has been done
    put(after_);
  }

 private:
  void put(const BenchRun& run) {
    if (model_.run_->bench != run.bench) keepBench(run.bench);
    model_.run_ = run;
    model_.steps_ = steps_of(*model_.car_, run);
    model_.current_ = std::clamp(model_.current_, 0, std::max(0, static_cast<int>(model_.steps_.size()) - 1));
    model_.touch();
  }

  BenchModel& model_;
  BenchRun before_;
  BenchRun after_;
  bool done_ = false;
};

BenchModel::BenchModel(Document& document, const QString& folder, QObject* parent)
    : QObject(parent), document_(document), folder_(folder) {
  connect(&document_, &Document::replaced, this, [this] {
    // Another car, or another setup to be measured against: the run stays on the disk.
    run_.reset();
    last_.reset();
    built_.reset();
    steps_.clear();
    verdict_.reset();
    path_.clear();
    stamp_.reset();
    undo_.clear();
    Q_EMIT changed();
  });
  connect(&document_, &Document::carEdited, this, [this] {
    built_.reset();
    if (!run_) return;
    run_->planned = carried_over(*car_, run_->planned, document_.car());
    run_->standing = carried_over(*car_, run_->standing, document_.car());
    undo_.clear();  // what was done was done to another car
    car_ = document_.sharedCar();
    steps_ = steps_of(*car_, *run_);
    current_ = std::clamp(current_, 0, std::max(0, static_cast<int>(steps_.size()) - 1));
    touch();
  });
}

const BenchStep* BenchModel::step() const {
  return run_ && current_ < static_cast<int>(steps_.size()) ? &steps_[at(current_)] : nullptr;
}

StepRecord BenchModel::record(const std::string& id) const {
  const auto found = run_->records.find(id);
  return found == run_->records.end() ? StepRecord{} : found->second;
}

int BenchModel::stepsIn(StepState state) const {
  return static_cast<int>(
      std::count_if(steps_.begin(), steps_.end(), [&](const BenchStep& s) { return record(s.id).state == state; }));
}

int BenchModel::stepsDone() const {
  return static_cast<int>(steps_.size()) - stepsIn(StepState::open) - stepsSkipped();
}

int BenchModel::stepsSkipped() const {
  return stepsIn(StepState::skipped);
}

QStringList BenchModel::files() const {
  // Names begin with the time at which a run was started.
  return QDir(folder_).entryList({QLatin1Char('*') + suffix}, QDir::Files, QDir::Name | QDir::Reversed);
}

QString BenchModel::unfinished() const {
  if (!document_.hasCar()) return {};
  for (const QString& name : files()) {
    const QString path = QDir(folder_).filePath(name);
    if (path == path_) continue;
    const auto run = load_run(path.toStdString(), document_.car());
    if (run && !isFinished(document_.car(), *run)) return path;
  }
  return {};
}

void BenchModel::findLast() {
  last_.reset();
  lastStarted_.clear();
  for (const QString& name : files()) {
    const QString path = QDir(folder_).filePath(name);
    if (path == path_) continue;
    auto run = load_run(path.toStdString(), document_.car());
    if (!run || run->records.empty() || run->started >= run_->started) continue;
    lastStarted_ = QString::fromStdString(run->started);
    last_ = std::move(*run);
    return;
  }
}

bool BenchModel::hasDampers(Dampers which, End end) const {
  const Car& car = document_.car();
  if (which == Dampers::third) {
    if (!may_have_third_damper(car, end)) return false;
    const auto model = build_model(car, document_.setup());
    return model && third_law(*model, end).damping_n_s_per_mm > 0.0;
  }
  const auto steps = every_step(car);
  return std::any_of(steps.begin(), steps.end(),
                     [&](const BenchStep& s) { return s.spec->id == building_steps[at(which)].built && s.end == end; });
}

BenchModel::LastBuilt BenchModel::lastBuilt() const {
  if (!document_.hasCar()) return {};
  const Car& car = document_.car();
  const std::vector<BenchStep> steps = every_step(car);
  const auto with = [&](const BenchRun& run, std::string_view felt, End end) {
    QStringList named;
    for (const BenchStep& about : steps) {
      if (about.spec->id != felt || about.end != end) continue;
      for (const PartHandle i : parts_named(car, about)) {
        const Adjuster& a = car.adjusters[i];
        const Setting& v = run.planned.of(i);
        named << (v.left == v.right ? valueText(a, v.left)
                                    : tr("%1 | %2").arg(valueText(a, v.left), valueText(a, v.right)));
      }
    }
    return named;
  };
  const auto look = [&](const BenchRun& run, LastBuilt& found) {
    for (std::size_t which = 0; which < building_steps.size(); ++which)
      for (const BenchStep& s : steps) {
        if (s.spec->id != building_steps[which].built || !s.end || found[which][at(*s.end)]) continue;
        const StepRecord* record = run.record(s.id);
        if (!record || record->state != StepState::done) continue;
        found[which][at(*s.end)] = Built{QString::fromStdString(record->when.empty() ? run.started : record->when),
                                         with(run, building_steps[which].felt, *s.end)};
      }
  };
  // Readings are many: the files of other runs are read once a run, not once a reading.
  if (!built_) {
    built_.emplace();
    for (const QString& name : files()) {
      const QString path = QDir(folder_).filePath(name);
      if (path == path_) continue;
      if (const auto run = load_run(path.toStdString(), car)) look(*run, *built_);
    }
  }
  LastBuilt found;
  if (run_) look(*run_, found);
  for (std::size_t which = 0; which < found.size(); ++which)
    for (const End end : both_ends)
      if (!found[which][at(end)]) found[which][at(end)] = (*built_)[which][at(end)];
  return found;
}

PerSide<std::optional<double>> BenchModel::lastTime(const std::string& id) const {
  PerSide<std::optional<double>> values;
  if (!last_) return values;
  const auto found = last_->records.find(id);
  if (found == last_->records.end()) return values;
  for (const Side side : both_sides)
    if (const auto read = known_reading(found->second, side)) values[at(side)] = *read;
  return values;
}

QString BenchModel::freePath() const {
  QString stamp = QString::fromStdString(now());
  stamp.remove(QLatin1Char(':')).remove(QLatin1Char('-'));
  const QString car = QString::fromStdString(document_.car().id);
  QString path = QDir(folder_).filePath(stamp + QLatin1Char('-') + car + suffix);
  for (int i = 2; QFile::exists(path); ++i)
    path = QDir(folder_).filePath(QStringLiteral("%1-%2-%3%4").arg(stamp, car).arg(i).arg(suffix));
  return path;
}

void BenchModel::start(BenchList list) {
  if (!document_.hasCar()) return;
  QDir().mkpath(folder_);
  const BenchKit bench = run_ ? run_->bench : savedBench();
  adopt(start_run(document_.car(), document_.setup(), list, bench, now()), freePath(), std::nullopt);
  save();
}

bool BenchModel::resume(const QString& path) {
  const auto text = read_file(path.toStdString());
  auto run = text ? read_run(*text, QFileInfo(path).fileName().toStdString(), document_.car())
                  : tl::unexpected(Faults{text.error()});
  if (!run) {
    Q_EMIT told(QString::fromStdString(run.error().front().line()));
    return false;
  }
  adopt(std::move(*run), path, FileStamp::of(*text));
  return true;
}

void BenchModel::adopt(BenchRun run, const QString& path, const std::optional<FileStamp>& stamp) {
  run_ = std::move(run);
  stamp_ = stamp;
  built_.reset();  // the run before this one lies on the disk now
  car_ = document_.sharedCar();
  path_ = path;
  steps_ = steps_of(document_.car(), *run_);
  current_ = 0;
  for (std::size_t i = 0; i < steps_.size(); ++i)
    if (record(steps_[i].id).state == StepState::open) {
      current_ = static_cast<int>(i);
      break;
    }
  undo_.clear();
  findLast();
  judgeStep();
  Q_EMIT changed();
}

void BenchModel::goTo(int index) {
  if (!run_ || index < 0 || index >= static_cast<int>(steps_.size()) || index == current_) return;
  current_ = index;
  judgeStep();
  Q_EMIT changed();
}

void BenchModel::edit(const QString& what, const std::function<void(BenchRun&)>& change) {
  if (!run_) return;
  BenchRun after = *run_;
  change(after);
  if (after == *run_) return;
  BenchRun before = std::exchange(*run_, std::move(after));
  undo_.push(new BenchEdit(*this, what, std::move(before), *run_));
  touch();
}

void BenchModel::takeReading(Side side, double value) {
  if (!step() || !step()->gauge) return;
  edit(tr("Reading"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    r.readings[at(side)].push_back(value);
    if (!reads_each_side(*step()->gauge, run.bench)) r.readings[at(Side::right)] = r.readings[at(Side::left)];
    r.state = StepState::open;
    r.moved_by.clear();
    r.sure[at(side)] = false;
    play_read(document_.car(), run, *step());
  });
}

void BenchModel::takeBack(Side side) {
  if (!step()) return;
  edit(tr("Reading taken back"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    if (!r.readings[at(side)].empty()) r.readings[at(side)].pop_back();
    if (step()->gauge && !reads_each_side(*step()->gauge, run.bench))
      r.readings[at(Side::right)] = r.readings[at(Side::left)];
    r.state = StepState::open;
    r.sure[at(side)] = false;
    play_read(document_.car(), run, *step());
  });
}

void BenchModel::turnedIt(std::optional<Side> side) {
  if (!step()) return;
  edit(tr("Turned as told"), [&](BenchRun& run) { turned(document_.car(), run, *step(), side, now()); });
}

void BenchModel::collarsTurned(std::optional<End> end) {
  if (!step()) return;
  PerEnd<double> mm{};
  if (end) {
    const auto weights = weight_answer(document_.car(), *run_);
    if (!weights || !weights->advice) return;
    mm[at(*end)] = weights->advice->collar_mm[at(*end)];
  } else {
    const auto lean = lean_answer(document_.car(), *run_);
    if (!lean || !lean->collar_mm) return;
    mm = *lean->collar_mm;
  }
  edit(tr("Collars turned as told"), [&](BenchRun& run) { collars_turned(document_.car(), run, *step(), mm, now()); });
}

void BenchModel::confirmSide(Side side) {
  if (!step()) return;
  edit(tr("Side confirmed"), [&](BenchRun& run) { recordOf(run, *step()).sure[at(side)] = true; });
}

void BenchModel::otherSide(Side side) {
  if (!step()) return;
  edit(tr("Side put right"), [&](BenchRun& run) {
    for (double& reading : recordOf(run, *step()).readings[at(side)]) reading = -reading;
  });
}

bool BenchModel::planIsOlder() const {
  return run_ && document_.hasCar() && targets_differ(*run_, document_.setup());
}

void BenchModel::followSetup() {
  edit(tr("Setup followed"), [&](BenchRun& run) { follow_setup(document_.car(), run, document_.setup()); });
}

void BenchModel::takePull(const PullPoint& point) {
  if (!step()) return;
  edit(tr("Reading"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    r.pull.push_back(point);
    r.state = StepState::open;
  });
}

void BenchModel::takeBackPull() {
  if (!step()) return;
  edit(tr("Reading taken back"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    if (!r.pull.empty()) r.pull.pop_back();
    r.state = StepState::open;
  });
}

void BenchModel::setPullWay(bool tared, std::optional<double> caliperZero) {
  if (!step()) return;
  edit(tr("How the scales are read"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    r.tared = tared;
    r.caliper_zero_mm = caliperZero;
  });
}

std::vector<KeptPull> BenchModel::keptPulls() const {
  std::vector<KeptPull> all;
  for (const QString& name : files()) {
    const QString path = QDir(folder_).filePath(name);
    if (path == path_) continue;
    const auto text = read_file(path.toStdString());
    if (!text) continue;
    if (auto kept = pulls_of_run(*text, name.toStdString()))
      std::move(kept->begin(), kept->end(), std::back_inserter(all));
  }
  return all;
}

void BenchModel::finishStep() {
  if (!step()) return;
  const std::string id = step()->id;
  edit(tr("Step ticked"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    r.reason.clear();
    r.state = state_when_ticked(document_.car(), run, *step());
  });
  for (int i = 1; i <= static_cast<int>(steps_.size()); ++i) {
    const int next = (current_ + i) % static_cast<int>(steps_.size());
    if (record(steps_[at(next)].id).state != StepState::open) continue;
    goTo(next);
    break;
  }
}

void BenchModel::skipStep(const QString& reason) {
  if (!step()) return;
  edit(tr("Step skipped"), [&](BenchRun& run) {
    StepRecord& r = recordOf(run, *step());
    r.state = StepState::skipped;
    r.reason = reason.toStdString();
  });
  goTo(current_ + 1);
}

void BenchModel::moveStep(int by) {
  if (!step()) return;
  const int to = current_ + by;
  if (to < 0 || to >= static_cast<int>(steps_.size())) return;
  const std::string a = steps_[at(current_)].id;
  const std::string b = steps_[at(to)].id;
  std::swap(steps_[at(current_)], steps_[at(to)]);
  current_ = to;
  edit(tr("Step moved"), [&](BenchRun& run) {
    std::iter_swap(std::find(run.order.begin(), run.order.end(), a), std::find(run.order.begin(), run.order.end(), b));
  });
}

void BenchModel::setBench(const BenchKit& bench) {
  if (!run_ || run_->bench == bench) return;
  keepBench(bench);
  edit(tr("What the bench has"), [&](BenchRun& run) {
    const bool were_two = run.bench.ride_points_apart_mm > 0.0;
    run.bench = bench;
    if (!were_two && bench.ride_points_apart_mm > 0.0)
      // One reading in the middle stood for both points.
      for (auto& [id, record] : run.records)
        if (id.starts_with("ride_height:")) record.readings = {};
  });
}

void BenchModel::touch() {
  // On the disk before anything is made of it, and before it is shown as taken.
  save();
  judgeStep();
  Q_EMIT changed();
}

void BenchModel::judgeStep() {
  verdict_.reset();
  failure_.clear();
  if (!step() || !step()->gauge) return;
  auto verdict = judge(document_.car(), *run_, *step());
  if (verdict)
    verdict_ = std::move(*verdict);
  else
    failure_ = QString::fromStdString(verdict.error().message);
}

void BenchModel::save() {
  const std::string text = write_run(*run_, document_.car());
  if (const auto there = read_file(path_.toStdString()); stamp_ && there && FileStamp::of(*there) != *stamp_) {
    // Another window works at the same run: both go on, each in a file of its own.
    path_ = freePath();
    stamp_.reset();
    Q_EMIT told(
        tr("This run was changed in another window of Low Kite. Nothing of it was overwritten: what is done "
           "here goes on as a run of its own."));
  }
  const auto saved = replace_file(path_.toStdString(), text);
  if (saved)
    stamp_ = *saved;
  else
    Q_EMIT told(
        tr("Not on the disk yet: %1 The next reading tries again.").arg(QString::fromStdString(saved.error().line())));
}

void BenchModel::takeAsMeasured() {
  if (!run_) return;
  // Only what was measured, onto the setup at work: what was changed in Plan since the start stays.
  Setup measured = put_over(document_.setup(), measured_by(document_.car(), *run_));
  if (measured == document_.setup()) {
    Q_EMIT told(tr("The car stands as the setup says."));
    return;
  }
  document_.putSetup(measured, tr("As measured"));
  Q_EMIT told(tr("The car as measured is now in Plan. Undo brings the setup back."));
}

}  // namespace lowkite::app
