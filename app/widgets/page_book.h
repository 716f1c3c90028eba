// Pages of which one is shown, with the bar that chooses it and the entries of the View menu that do. A page is one
// line where the book is made.
#pragma once

#include <vector>

#include <QKeySequence>
#include <QStackedWidget>

#include "app/widgets/segmented.h"

class QMenu;

namespace lowkite::app {

class PageBook : public QStackedWidget {
  Q_OBJECT
 public:
  struct Page {
    QString tab;       ///< on the bar
    QString said;      ///< in the menu and the list of keys
    QKeySequence key;  ///< may be empty
    QWidget* widget;   ///< owned by the book from then on
  };

  /// `name`: object name of the bar; its buttons are name.0, name.1, ... `perRow` as in Segmented.
  PageBook(const QString& name, const std::vector<Page>& pages, QWidget* parent, int perRow = 0);

  /// The bar; to be laid out by whoever made the book.
  [[nodiscard]] Segmented* bar() { return bar_; }
  void showPage(int page);
  /// An entry a page; chosen while the book is hidden it does nothing unless `fromAnywhere`.
  void fillMenu(QMenu& menu, bool fromAnywhere);

 Q_SIGNALS:
  void pageShown(int page);

 private:
  std::vector<Page> pages_;
  Segmented* bar_;
};

}  // namespace lowkite::app
