// What the main window knows of a workspace: a page with a name, its entries in the View menu, its undo stack, and what
// it asks of the window. A new workspace edits no existing one.
#pragma once

#include <QUndoStack>
#include <QWidget>

#include "core/car/setup.hpp"

class QMenu;

namespace lowkite::app {

/// A setup of the open car to be looked at in Plan, as one edit.
struct PlanRequest {
  Setup setup;
  QString what;                          ///< as Undo calls it
  std::optional<Setup> baseline;         ///< what to compare it with; none: the baseline stays
  LinkHolds letGo = LinkHolds::nothing;  ///< the angle that the change is about, and that is not put back
};

class Workspace : public QWidget {
  Q_OBJECT
 public:
  using QWidget::QWidget;

  [[nodiscard]] virtual QString title() const = 0;
  /// Adds the workspace's own entries to the View menu. The list of keys is made from them and from the page's actions.
  virtual void fillViewMenu(QMenu& menu) = 0;
  /// The figures on show as tab-separated text, for the clipboard.
  [[nodiscard]] virtual QString figuresAsText() const = 0;
  /// What Undo takes back while this workspace is shown.
  [[nodiscard]] virtual QUndoStack& undoStack() = 0;
  /// Keeps what a hand is typing where that waits until it rests.
  virtual void keepTyped() {}

 Q_SIGNALS:
  void told(const QString& news);
  void openWanted(const QString& path);
  void ownCopyWanted(const QString& name);
  void planWanted(const PlanRequest& request);
  void benchWanted();  ///< a full run on the bench
  void boxesWanted();  ///< the racer's boxes
  void undoStackChanged();
};

}  // namespace lowkite::app
