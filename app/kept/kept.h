// What the program keeps of its hand's choices between two starts: widths, folds, kits, limits.
#pragma once

#include <functional>

#include <QObject>
#include <QString>
#include <QVariant>

namespace lowkite::app {

/// A view of all that is kept, used as one would QSettings; any number of them see the same. What is put in is there at
/// once and goes to the settings file on a thread of its own, in the order it came: a slow card keeps no hand waiting.
/// What another program wrote to the file is seen at the next look, as long as nothing of ours is on its way.
class Kept {
 public:
  [[nodiscard]] QVariant value(const QString& key, const QVariant& otherwise = {}) const;
  [[nodiscard]] bool contains(const QString& key) const;
  void setValue(const QString& key, const QVariant& value);
  void remove(const QString& key);
  void clear();

  /// Has `tell` called in the window's thread, as long as `owner` is there, with the name of the settings file when it
  /// cannot be written; once until it could be again.
  static void tellFailures(QObject* owner, std::function<void(const QString& path)> tell);

  /// Waits until all that was put in so far is in the file, or could not be written. The program's end does so.
  static void settle();
};

}  // namespace lowkite::app
