// The files opened last, kept in the user's settings.
#pragma once

#include <QDateTime>
#include <QStringList>

namespace lowkite::app {

class RecentFiles {
 public:
  static constexpr int most = 8;

  /// Newest first; files that are gone are left out.
  [[nodiscard]] static QStringList list();
  static void add(const QString& path);
  /// When a file was opened last on this machine; not valid: never.
  [[nodiscard]] static QDateTime lastUsed(const QString& path);
};

}  // namespace lowkite::app
