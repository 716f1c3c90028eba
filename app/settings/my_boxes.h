// What lies in the racer's boxes: entered once, for all cars; kept after every edit, each of which can be undone.
#pragma once

#include <optional>

#include <QObject>
#include <QString>
#include <QUndoStack>

#include "app/settings/own_file.h"
#include "core/boxes/boxes.hpp"

namespace lowkite::app {

class MyBoxes : public QObject {
  Q_OBJECT
 public:
  /// `path`: their file; it need not be there.
  explicit MyBoxes(QString path, QObject* parent = nullptr);

  [[nodiscard]] const Boxes& boxes() const { return boxes_; }
  /// What searches, advice and packing go by; none while nothing was ever put in.
  [[nodiscard]] std::optional<Boxes> known() const;
  /// What is wrong with the file; empty: nothing. It is then left as it is, and nothing can be put in.
  [[nodiscard]] const QString& fault() const { return fault_; }
  [[nodiscard]] QUndoStack& undoStack() { return undo_; }

  /// One edit. A sentence when it cannot be kept; nothing is changed then. Edits with the same `merge` > 0, one after
  /// the other, are undone as one.
  QString put(Boxes next, const QString& what, int merge = 0);
  /// Reads the file again where another window, or a hand, has changed it.
  void look();

 Q_SIGNALS:
  void changed();
  void news(const QString& what);

 private:
  friend class BoxesCommand;
  void read();
  QString keep(const Boxes& next);

  OwnFile file_;
  Boxes boxes_;
  QString fault_;
  QUndoStack undo_;
};

}  // namespace lowkite::app
