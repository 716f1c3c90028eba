// Notices when another program changes or removes the files that the open car and setup came from.
//
// Told by the system where it can, and looked at again whenever the window comes to the front: a network drive tells
// nothing.
#pragma once

#include <QFileSystemWatcher>
#include <QMap>
#include <QObject>
#include <QTimer>

#include "app/document/document.h"

namespace lowkite::app {

class FileWatch : public QObject {
  Q_OBJECT
 public:
  explicit FileWatch(Document& document, QObject* parent = nullptr);

  /// Compares what lies on the disk with what was opened or last saved. Each change is told once.
  void look();

 Q_SIGNALS:
  void changed(const QString& path);
  void gone(const QString& path);

 private:
  void watch();

  Document& document_;
  QFileSystemWatcher watcher_;
  QTimer soon_;                    ///< a file that is replaced is gone for a moment
  QMap<QString, FileStamp> told_;  ///< what each was found to be when it was last told
};

}  // namespace lowkite::app
