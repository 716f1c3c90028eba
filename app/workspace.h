// What the main window knows of a workspace: a page with a name. A new workspace edits no existing one.
#pragma once

#include <QString>

class QWidget;
class QMenu;

namespace lowkite::app {

class Workspace {
 public:
  virtual ~Workspace() = default;

  [[nodiscard]] virtual QString title() const = 0;
  /// The page; owned by the window that shows it.
  [[nodiscard]] virtual QWidget* page() = 0;
  /// Adds the workspace's own entries to the View menu.
  virtual void fillViewMenu(QMenu& menu) = 0;
  /// The figures on show as tab-separated text, for the clipboard.
  [[nodiscard]] virtual QString figuresAsText() const = 0;
};

}  // namespace lowkite::app
