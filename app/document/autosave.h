// Autosave: a copy of the unsaved work in the user's data folder, offered again after a crash.
//
// Each running program has its own copy with a lock; a copy whose lock is free was left by a program that did not end
// properly. The copy is written whole or not at all.
#pragma once

#include <memory>
#include <vector>

#include <QLockFile>
#include <QObject>
#include <QTimer>

#include "app/document/document.h"

namespace lowkite::app {

class Autosave : public QObject {
  Q_OBJECT
 public:
  /// `folder` is made when needed.
  Autosave(Document& document, const QString& folder, QObject* parent = nullptr);
  ~Autosave() override;

  /// Work that a crashed program left behind, newest first.
  [[nodiscard]] QStringList leftBehind() const;
  /// Opens such a copy; the document counts as unsaved until the racer saves it.
  static tl::expected<DocumentState, Faults> recover(const QString& copy);
  static void discard(const QString& copy);

  /// Clears what killed programs left beside the copies: locks that nobody holds and whose copy is gone, files half
  /// written. Copies stay: they are offered. Returns how many files went.
  int clearLeftovers() const;

  /// Writes the copy now, if there is unsaved work; removes it when all is saved.
  void writeNow();

  static constexpr int delayMs = 800;  ///< after the last edit

 Q_SIGNALS:
  /// The copy cannot be written; told once until it can be again.
  void failed(const QString& why);

 private:
  Document& document_;
  QString folder_;
  QString copy_;
  std::unique_ptr<QLockFile> lock_;
  QTimer timer_;
  bool failing_ = false;
};

}  // namespace lowkite::app
