// The line along the top: menus, the car, its setup, the workspaces, undo and redo, and what Check found.
#pragma once

#include <QWidget>

class QMenu;
class QMenuBar;
class QToolButton;
class QUndoGroup;

namespace lowkite::app {

class Segmented;

class TopLine : public QWidget {
  Q_OBJECT
 public:
  /// `undo`: what can be undone and redone.
  TopLine(const QStringList& workspaces, const QUndoGroup& undo, QWidget* parent);

  [[nodiscard]] QMenuBar& menus() { return *menus_; }
  [[nodiscard]] Segmented& workspaces() { return *workspaces_; }
  /// Filled by the window when they open.
  [[nodiscard]] QMenu& cars() { return *cars_; }
  [[nodiscard]] QMenu& setups() { return *setups_; }
  /// Names as they are; what is not saved is said beside them. Empty: nothing is open.
  void tell(const QString& car, bool carUnsaved, const QString& setup, bool setupUnsaved);
  void tellCheck(int findings);

 Q_SIGNALS:
  void checkWanted();
  void undoWanted();
  void redoWanted();

 private:
  QMenuBar* menus_;
  QToolButton* car_;
  QToolButton* setup_;
  QMenu* cars_;
  QMenu* setups_;
  Segmented* workspaces_;
  QToolButton* check_;
};

}  // namespace lowkite::app
