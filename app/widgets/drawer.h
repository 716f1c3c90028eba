// What needs width, opened from below: a bar of pages, the page on show, and a way to put it away or on a second
// screen.
#pragma once

#include <functional>
#include <vector>

#include <QKeySequence>
#include <QPointer>
#include <QSplitter>
#include <QStackedWidget>

#include "app/widgets/segmented.h"

class QMenu;
class QToolButton;

namespace lowkite::app {

/// A page of the drawer: made when it is first opened, as most of them are not needed by most racers at most starts.
struct DrawerPage {
  QString tab;                             ///< on the bar
  QString said;                            ///< in the menu and the list of keys
  QKeySequence key;                        ///< may be empty
  std::function<QWidget*(QWidget*)> make;  ///< from its parent
  int height = 280;                        ///< px it opens with until the racer has drawn the drawer himself
};

/// Lives in a splitter that stands on end. Closed it is its bar alone.
class Drawer : public QWidget {
  Q_OBJECT
 public:
  /// `key`: where the settings keep height and page. `name`: object name of the bar; its buttons are name.0, ...
  Drawer(const QString& name, const QString& key, std::vector<DrawerPage> pages, QSplitter* in);

  [[nodiscard]] Segmented& bar() { return *bar_; }
  /// A page, made now if nobody has opened it yet.
  QWidget* widget(int page);
  [[nodiscard]] bool isOpen() const { return open_; }
  /// The page on show, or -1 while it is closed.
  [[nodiscard]] int page() const { return open_ ? book_->currentIndex() : -1; }
  void openPage(int page);
  void putAway();
  /// Opens the page of last time, or puts it away.
  void toggle();
  [[nodiscard]] bool isTornOff() const { return apart_ != nullptr; }
  /// True while a page stands below the drawing, where it takes room.
  [[nodiscard]] bool isBelow() const { return open_ && !apart_; }
  /// Into a window of its own, or back; its window's keys are those of the program.
  void tearOff();
  void fillMenu(QMenu& menu);

 Q_SIGNALS:
  void pageChanged(int page);  ///< -1: put away
  void placed();               ///< opened, put away, torn off or brought back

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void shortenButtons();
  void chosen(int page);
  void place();
  void putInPlace();
  void bringBack();

  std::vector<DrawerPage> pages_;
  std::vector<QWidget*> made_;  ///< by page; none: not opened yet
  QSplitter* in_;
  QString key_;
  QWidget* head_;
  Segmented* bar_;
  QStackedWidget* book_;
  QToolButton* apartButton_;
  QToolButton* away_;
  QPointer<QWidget> apart_;  ///< the window of its own
  bool open_ = false;
  int height_;  ///< of the page, as the racer has drawn it; 0: not yet
};

}  // namespace lowkite::app
