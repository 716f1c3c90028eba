// The files opened last, kept in the user's settings.
#pragma once

#include <QStringList>

namespace lowkite::app {

class RecentFiles {
 public:
  static constexpr int most = 8;

  /// Newest first; files that are gone are left out.
  [[nodiscard]] static QStringList list();
  static void add(const QString& path);
};

}  // namespace lowkite::app
