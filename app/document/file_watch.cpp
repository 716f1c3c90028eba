#include "app/document/file_watch.h"

#include <QFile>

namespace lowkite::app {

FileWatch::FileWatch(Document& document, QObject* parent) : QObject(parent), document_(document) {
  soon_.setSingleShot(true);
  soon_.setInterval(150);
  connect(&soon_, &QTimer::timeout, this, &FileWatch::look);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, &soon_, qOverload<>(&QTimer::start));
  connect(&document_, &Document::fileChanged, this, [this] {
    told_.clear();
    watch();
  });
}

void FileWatch::watch() {
  if (const QStringList before = watcher_.files(); !before.isEmpty()) watcher_.removePaths(before);
  for (const QString& path : {document_.state().carPath, document_.state().setupPath})
    if (!path.isEmpty() && QFile::exists(path)) watcher_.addPath(path);
}

void FileWatch::look() {
  if (!document_.hasCar()) return;
  const DocumentState& s = document_.state();
  const std::pair<QString, std::optional<FileStamp>> files[] = {{s.carPath, s.carStamp}, {s.setupPath, s.stamp}};
  for (const auto& [path, known] : files) {
    if (path.isEmpty() || !known) continue;
    const auto text = read_file(path.toStdString());
    const FileStamp now = text ? FileStamp::of(*text) : FileStamp{};
    if (now == *known) {
      told_.remove(path);
      continue;
    }
    if (told_.contains(path) && told_[path] == now) continue;
    told_[path] = now;
    if (text)
      Q_EMIT changed(path);
    else
      Q_EMIT gone(path);
  }
  watch();
}

}  // namespace lowkite::app
