#include "app/bench/bench_model.h"

#include <algorithm>

#include <QDateTime>
#include <QDir>

#include "app/settings/bench_tools.h"
#include "core/io/atomic_file.hpp"
#include "core/io/bench_file.hpp"

namespace lowkite::app {
namespace {

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

}  // namespace

BenchModel::BenchModel(Document& document, const QString& folder, QObject* parent)
    : QObject(parent), document_(document), folder_(folder) {
  connect(&document_, &Document::replaced, this, [this] {
    // Another car, or another setup to be measured against: the run stays on the disk.
    run_.reset();
    last_.reset();
    steps_.clear();
    verdict_.reset();
    path_.clear();
    Q_EMIT changed();
  });
  connect(&document_, &Document::carEdited, this, [this] {
    if (!run_) return;
    run_->planned = carried_over(*car_, run_->planned, document_.car());
    car_ = document_.sharedCar();
    steps_ = steps_of(*car_, *run_);
    current_ = std::clamp(current_, 0, std::max(0, static_cast<int>(steps_.size()) - 1));
    touch();
  });
}

const BenchStep* BenchModel::step() const {
  return run_ && current_ < static_cast<int>(steps_.size()) ? &steps_[static_cast<std::size_t>(current_)] : nullptr;
}

StepRecord BenchModel::record(const std::string& id) const {
  const auto found = run_->records.find(id);
  return found == run_->records.end() ? StepRecord{} : found->second;
}

StepRecord& BenchModel::recordOfStep() {
  StepRecord& r = run_->records[step()->id];
  r.when = now();
  return r;
}

int BenchModel::stepsDone() const {
  return static_cast<int>(std::count_if(steps_.begin(), steps_.end(),
                                        [&](const BenchStep& s) { return record(s.id).state == StepState::done; }));
}

int BenchModel::stepsSkipped() const {
  return static_cast<int>(std::count_if(steps_.begin(), steps_.end(),
                                        [&](const BenchStep& s) { return record(s.id).state == StepState::skipped; }));
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

PerSide<std::optional<double>> BenchModel::lastTime(const std::string& id) const {
  PerSide<std::optional<double>> values;
  if (!last_) return values;
  const auto found = last_->records.find(id);
  if (found == last_->records.end()) return values;
  for (const Side side : both_sides)
    if (const auto a = average(found->second.readings[at(side)])) values[at(side)] = a->mean;
  return values;
}

void BenchModel::start(BenchList list) {
  if (!document_.hasCar()) return;
  QDir().mkpath(folder_);
  const std::string when = now();
  QString stamp = QString::fromStdString(when);
  stamp.remove(QLatin1Char(':')).remove(QLatin1Char('-'));
  QString path = QDir(folder_).filePath(stamp + QLatin1Char('-') + QString::fromStdString(document_.car().id) + suffix);
  for (int i = 2; QFile::exists(path); ++i)
    path = QDir(folder_).filePath(
        QStringLiteral("%1-%2-%3%4").arg(stamp, QString::fromStdString(document_.car().id)).arg(i).arg(suffix));
  const BenchKit bench = run_ ? run_->bench : savedBench();
  adopt(start_run(document_.car(), document_.setup(), list, bench, when), path);
  save();
}

bool BenchModel::resume(const QString& path) {
  auto run = load_run(path.toStdString(), document_.car());
  if (!run) {
    Q_EMIT told(QString::fromStdString(run.error().front().line()));
    return false;
  }
  adopt(std::move(*run), path);
  return true;
}

void BenchModel::adopt(BenchRun run, const QString& path) {
  run_ = std::move(run);
  car_ = document_.sharedCar();
  path_ = path;
  steps_ = steps_of(document_.car(), *run_);
  current_ = 0;
  for (std::size_t i = 0; i < steps_.size(); ++i)
    if (record(steps_[i].id).state == StepState::open) {
      current_ = static_cast<int>(i);
      break;
    }
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

void BenchModel::takeReading(Side side, double value) {
  if (!step()) return;
  StepRecord& r = recordOfStep();
  r.readings[at(side)].push_back(value);
  if (!step()->gauge->spec().per_wheel) r.readings[at(Side::right)] = r.readings[at(Side::left)];
  r.state = StepState::open;
  touch();
}

void BenchModel::takeBack(Side side) {
  if (!step()) return;
  StepRecord& r = recordOfStep();
  if (!r.readings[at(side)].empty()) r.readings[at(side)].pop_back();
  if (step()->gauge && !step()->gauge->spec().per_wheel) r.readings[at(Side::right)] = r.readings[at(Side::left)];
  r.state = StepState::open;
  touch();
}

void BenchModel::takePull(const PullPoint& point) {
  if (!step()) return;
  StepRecord& r = recordOfStep();
  r.pull.push_back(point);
  r.state = StepState::open;
  touch();
}

void BenchModel::takeBackPull() {
  if (!step()) return;
  StepRecord& r = recordOfStep();
  if (!r.pull.empty()) r.pull.pop_back();
  r.state = StepState::open;
  touch();
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
  StepRecord& r = recordOfStep();
  r.state = StepState::done;
  r.reason.clear();
  for (int i = 1; i <= static_cast<int>(steps_.size()); ++i) {
    const int next = (current_ + i) % static_cast<int>(steps_.size());
    if (record(steps_[static_cast<std::size_t>(next)].id).state != StepState::open) continue;
    current_ = next;
    break;
  }
  touch();
}

void BenchModel::skipStep(const QString& reason) {
  if (!step()) return;
  StepRecord& r = recordOfStep();
  r.state = StepState::skipped;
  r.reason = reason.toStdString();
  if (current_ + 1 < static_cast<int>(steps_.size())) ++current_;
  touch();
}

void BenchModel::moveStep(int by) {
  if (!step()) return;
  const int to = current_ + by;
  if (to < 0 || to >= static_cast<int>(steps_.size())) return;
  const std::string& a = steps_[static_cast<std::size_t>(current_)].id;
  const std::string& b = steps_[static_cast<std::size_t>(to)].id;
  std::iter_swap(std::find(run_->order.begin(), run_->order.end(), a),
                 std::find(run_->order.begin(), run_->order.end(), b));
  std::swap(steps_[static_cast<std::size_t>(current_)], steps_[static_cast<std::size_t>(to)]);
  current_ = to;
  touch();
}

void BenchModel::setBench(const BenchKit& bench) {
  if (!run_ || run_->bench == bench) return;
  run_->bench = bench;
  keepBench(bench);
  touch();
}

void BenchModel::touch() {
  judgeStep();
  save();
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
  const auto saved = replace_file(path_.toStdString(), write_run(*run_, document_.car()));
  if (!saved) Q_EMIT told(QString::fromStdString(saved.error().line()));
}

void BenchModel::takeAsMeasured() {
  if (!run_) return;
  Setup measured = as_measured(document_.car(), *run_);
  if (measured == document_.setup()) {
    Q_EMIT told(tr("The car stands as the setup says."));
    return;
  }
  document_.putSetup(measured, tr("As measured"));
  Q_EMIT told(tr("The car as measured is now in Plan. Undo brings the setup back."));
}

}  // namespace lowkite::app
