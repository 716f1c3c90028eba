#include "app/widgets/page_book.h"

#include <QMenu>

#include "core/linkage/at.hpp"

namespace lowkite::app {
namespace {

QStringList tabsOf(const std::vector<PageBook::Page>& pages) {
  QStringList tabs;
  for (const PageBook::Page& p : pages) tabs << p.tab;
  return tabs;
}

}  // namespace

PageBook::PageBook(const QString& name, const std::vector<Page>& pages, QWidget* parent, int perRow)
    : QStackedWidget(parent), pages_(pages), bar_(new Segmented(name, tabsOf(pages), parent, perRow)) {
  for (const Page& p : pages_) addWidget(p.widget);
  connect(bar_, &Segmented::chosen, this, &PageBook::showPage);
}

void PageBook::showPage(int page) {
  bar_->setCurrent(page);
  setCurrentIndex(page);
  Q_EMIT pageShown(page);
}

void PageBook::fillMenu(QMenu& menu, bool fromAnywhere) {
  for (int i = 0; i < count(); ++i) {
    const Page& p = pages_[at(i)];
    menu.addAction(p.said, p.key, this, [this, i, fromAnywhere] {
      if (fromAnywhere || isVisible()) showPage(i);
    });
  }
}

}  // namespace lowkite::app
