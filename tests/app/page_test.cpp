// Books of pages and the list of keys: what the menu, the bar and the keys say of a page is one and the same.
#include <map>

#include <QAbstractButton>
#include <QAction>
#include <QLineEdit>
#include <QTableWidget>

#include "app/key_list.h"
#include "app/widgets/page_book.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Pages : public WindowTest {
 protected:
  QTableWidget* keys() {
    key(Qt::Key_F1, Qt::ControlModifier);
    return find<QTableWidget>(QStringLiteral("keyList.table"));
  }
  static QString keyOf(const QTableWidget& table, const QString& what) {
    for (int row = 0; row < table.rowCount(); ++row)
      if (table.item(row, 1)->text() == what) return table.item(row, 0)->text();
    return {};
  }
};

TEST_F(Pages, EveryActionWithAKeyIsInTheListAndNothingElse) {
  const QTableWidget& table = *keys();
  int actions = 0;
  for (const QAction* a : window_->findChildren<QAction*>())
    if (!a->shortcut().isEmpty() && !a->text().isEmpty()) ++actions;
  EXPECT_EQ(table.rowCount(), actions);
  EXPECT_GT(actions, 50);
  EXPECT_EQ(keyOf(table, QStringLiteral("Take the next part in hand")), QStringLiteral("PgDown"));
  EXPECT_EQ(keyOf(table, QStringLiteral("How it felt")), QStringLiteral("Alt+Shift+F"));
}

TEST_F(Pages, NoTwoActionsOfTheWindowShareAKey) {
  std::map<QString, QString> taken;
  for (const QAction* a : window_->findChildren<QAction*>()) {
    if (a->shortcut().isEmpty()) continue;
    const QString keys = a->shortcut().toString();
    EXPECT_TRUE(taken.try_emplace(keys, a->text()).second)
        << keys.toStdString() << ": " << taken[keys].toStdString() << " and " << a->text().toStdString();
  }
}

TEST_F(Pages, WhatIsTypedFindsKeys) {
  QTableWidget* table = keys();
  auto* words = find<QLineEdit>(QStringLiteral("keyList.words"));
  QTest::keyClicks(words, QStringLiteral("roll centre"));
  int shown = 0;
  for (int row = 0; row < table->rowCount(); ++row) shown += !table->isRowHidden(row);
  EXPECT_EQ(shown, 1);
}

TEST_F(Pages, AKeyShowsItsPageAndTheBarSaysSo) {
  EXPECT_FALSE(window_->plan().drawer().isOpen());
  key(Qt::Key_G, Qt::ControlModifier);
  EXPECT_TRUE(find<QWidget>(QStringLiteral("gauges"))->isVisible());
  auto* tab = find<QAbstractButton>(QStringLiteral("drawer.9"));
  EXPECT_TRUE(tab->isChecked());
  key(Qt::Key_F9);
  EXPECT_FALSE(window_->plan().drawer().isOpen());
  EXPECT_FALSE(tab->isChecked());
  key(Qt::Key_F9);
  EXPECT_TRUE(find<QWidget>(QStringLiteral("gauges"))->isVisible()) << "the page of last time";
}

TEST_F(Pages, LessonsThatNobodySeesComputeNothing) {
  PlanModel asleep(document());
  asleep.setAwake(false);
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_EQ(asleep.comparison(), nullptr);
  asleep.setAwake(true);
  QTRY_VERIFY(asleep.comparison() != nullptr);
  EXPECT_EQ(asleep.comparison()->changed->setup, document().setup());
}

}  // namespace
}  // namespace lowkite::app
