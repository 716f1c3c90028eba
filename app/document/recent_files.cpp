#include "app/document/recent_files.h"

#include <QFileInfo>

#include "app/kept/kept.h"

namespace lowkite::app {
namespace {
const QString key = QStringLiteral("recent/files");

/// A path holds slashes, which part the groups of the settings.
QString usedKey(const QString& path) {
  return QStringLiteral("recent/used/") + QString::fromLatin1(QFileInfo(path).absoluteFilePath().toUtf8().toHex());
}

}  // namespace

QStringList RecentFiles::list() {
  QStringList found;
  for (const QString& path : Kept().value(key).toStringList())
    if (QFileInfo::exists(path)) found << path;
  return found;
}

void RecentFiles::add(const QString& path) {
  QStringList all = list();
  const QString absolute = QFileInfo(path).absoluteFilePath();
  all.removeAll(absolute);
  all.prepend(absolute);
  while (all.size() > most) all.removeLast();
  Kept().setValue(key, all);
  Kept().setValue(usedKey(path), QDateTime::currentDateTime());
}

QDateTime RecentFiles::lastUsed(const QString& path) {
  return Kept().value(usedKey(path)).toDateTime();
}

}  // namespace lowkite::app
