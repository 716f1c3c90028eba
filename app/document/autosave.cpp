#include "app/document/autosave.h"

#include <algorithm>
#include <utility>

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QUuid>

#include "core/io/car_edit.hpp"
#include "core/io/json_document.hpp"

namespace lowkite::app {
namespace {

const QString suffix = QStringLiteral(".kite-recovery.json");

QString lockOf(const QString& copy) {
  return copy + QStringLiteral(".lock");
}

}  // namespace

Autosave::Autosave(Document& document, const QString& folder, QObject* parent)
    : QObject(parent), document_(document), folder_(folder) {
  QDir().mkpath(folder_);
  copy_ = QDir(folder_).filePath(QUuid::createUuid().toString(QUuid::WithoutBraces) + suffix);
  lock_ = std::make_unique<QLockFile>(lockOf(copy_));
  lock_->setStaleLockTime(0);  // a lock is stale when its process is gone, however long that process has run
  lock_->tryLock();
  timer_.setSingleShot(true);
  timer_.setInterval(delayMs);
  connect(&timer_, &QTimer::timeout, this, &Autosave::writeNow);
  connect(&document_, &Document::inputsChanged, this, [this] { timer_.start(); });
  connect(&document_, &Document::fileChanged, this, [this] { timer_.start(); });
}

Autosave::~Autosave() {
  // A proper end: whatever was not saved was given up on purpose.
  QFile::remove(copy_);
}

void Autosave::writeNow() {
  timer_.stop();
  if (!document_.hasCar() || (!document_.isModified() && !document_.carModified())) {
    QFile::remove(copy_);
    return;
  }
  const DocumentState& s = document_.state();
  Json j;
  j["format"] = "lowkite-recovery";
  j["version"] = 1;
  j["car_path"] = s.carPath.toStdString();
  // A car that was edited, or that lies on no disk yet, is kept whole.
  if (document_.carModified()) j["car"] = write_car(s.carSource);
  j["setup_path"] = s.setupPath.toStdString();
  j["setup"] = write_setup(s.file.setup, *s.car, s.file.source);
  j["baseline"] = write_setup(s.baseline, *s.car, {});
  if (s.stamp) j["stamp"] = {{"size", s.stamp->size}, {"hash", s.stamp->hash}};
  const auto written = replace_file(copy_.toStdString(), j.dump());
  if (!written && !std::exchange(failing_, true)) Q_EMIT failed(QString::fromStdString(written.error().line()));
  if (written) failing_ = false;
}

QStringList Autosave::leftBehind() const {
  QStringList found;
  const QDir folder(folder_);
  for (const QString& name : folder.entryList({QStringLiteral("*") + suffix}, QDir::Files, QDir::Time)) {
    const QString copy = folder.filePath(name);
    if (copy == copy_) continue;
    QLockFile lock(lockOf(copy));
    lock.setStaleLockTime(0);
    if (lock.tryLock(0)) found << copy;
  }
  return found;
}

int Autosave::clearLeftovers() const {
  int cleared = clear_half_written(folder_.toStdString());
  const QDir folder(folder_);
  for (const QString& name : folder.entryList({QStringLiteral("*") + suffix + QStringLiteral(".lock")}, QDir::Files)) {
    const QString path = folder.filePath(name);
    if (path == lockOf(copy_) || QFile::exists(path.chopped(5))) continue;
    QLockFile lock(path);
    lock.setStaleLockTime(0);
    if (!lock.tryLock(0)) continue;
    lock.unlock();  // and with it the file goes
    ++cleared;
  }
  return cleared;
}

tl::expected<DocumentState, Faults> Autosave::recover(const QString& copy) {
  const auto text = read_file(copy.toStdString());
  if (!text) return tl::unexpected(Faults{text.error()});
  const std::string name = copy.toStdString();
  const auto document = parse_json(*text, name);
  if (!document) return tl::unexpected(document.error());
  const auto field = [&](const char* key) {
    const auto found = document->is_object() ? document->find(key) : document->end();
    return document->is_object() && found != document->end() && found->is_string() ? found->get<std::string>()
                                                                                   : std::string();
  };
  const std::string path = field("car_path");
  auto on_disk = read_file(path);
  const std::string edited = field("car");
  if (!on_disk && edited.empty()) return tl::unexpected(Faults{on_disk.error()});
  auto file = read_car_file(edited.empty() ? *on_disk : edited, path.empty() ? name : path);
  if (!file) return tl::unexpected(file.error());
  const Car* car = file->car.get();
  auto setup = read_setup(field("setup"), name, *car);
  if (!setup) return tl::unexpected(setup.error());
  auto baseline = read_setup(field("baseline"), name, *car);
  if (!baseline) return tl::unexpected(baseline.error());
  DocumentState state;
  state.car = file->car;
  state.carSource = std::move(file->source);
  if (edited.empty()) state.carStamp = FileStamp::of(*on_disk);
  state.carPath = QString::fromStdString(path);
  state.file = std::move(*setup);
  state.baseline = std::move(baseline->setup);
  state.setupPath = QString::fromStdString(field("setup_path"));
  if (const auto stamp = document->find("stamp"); stamp != document->end() && stamp->is_object())
    state.stamp = FileStamp{stamp->value("size", std::uintmax_t{0}), stamp->value("hash", std::size_t{0})};
  return state;
}

void Autosave::discard(const QString& copy) {
  QFile::remove(copy);
  QFile::remove(lockOf(copy));
}

}  // namespace lowkite::app
