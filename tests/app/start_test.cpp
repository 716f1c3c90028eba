// The start: what was open last time, the three questions, where cars and setups are chosen, and what the window keeps.
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableView>
#include <QTextBrowser>
#include <QToolButton>

#include "app/document/open_files.h"
#include "app/document/recent_files.h"
#include "app/help/guide_window.h"
#include "app/help/meanings.h"
#include "app/help/tour.h"
#include "app/kept/kept.h"
#include "app/plan/springs/springs_panel.h"
#include "app/welcome.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Start : public WindowTest {
 protected:
  /// As after a restart of the program.
  void restart() {
    window_.reset();
    window_ = newWindow();
    window_->resize(1280, 800);
    window_->show();
    window_->openLast();
    settle();
  }
};

TEST_F(Start, TheCarAndSetupOfLastTimeComeBack) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("setups/plover-loose-dirt.kite-setup.json"))));
  restart();
  EXPECT_EQ(document().car().id, "plover-2wd");
  EXPECT_FALSE(find<QToolButton>(QStringLiteral("top.setup"))->text().isEmpty());
  EXPECT_EQ(window_->findChild<Welcome*>(), nullptr) << "asked only where nothing was ever opened";
}

TEST_F(Start, WithoutAnythingTheDemoStandsThereAndThreeQuestionsAreAskedOnce) {
  Kept().clear();
  restart();
  ASSERT_NE(window_->findChild<Welcome*>(), nullptr);
  EXPECT_TRUE(window_->findChild<Welcome*>()->isVisible());
  key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);  // behind the questions stands Plan
  click(QStringLiteral("welcome.skip"));
  EXPECT_TRUE(window_->plan().isVisible());
  EXPECT_EQ(document().car().id, "heron-tc190");
  RecentFiles::add(QStringLiteral("/nowhere/gone.kite-car.json"));
  Kept().remove(QStringLiteral("recent/files"));
  restart();
  EXPECT_EQ(window_->findChild<Welcome*>(), nullptr);
}

TEST_F(Start, TheAnswersLeadToTheShortestWayIn) {
  struct Case {
    const char* tool;
    MainWindow::Job job;
  };
  for (const Case& c :
       {Case{"", MainWindow::Job::plan}, Case{"welcome.caliper", MainWindow::Job::car},
        Case{"welcome.gauges", MainWindow::Job::bench}, Case{"welcome.scales", MainWindow::Job::plan}}) {
    Kept().clear();
    restart();
    click(QStringLiteral("welcome.kind.1"));
    if (*c.tool) click(QString::fromLatin1(c.tool));
    click(QStringLiteral("welcome.begin"));
    EXPECT_EQ(find<QStackedWidget>(QStringLiteral("workspaces"))->currentIndex(), static_cast<int>(c.job)) << c.tool;
    EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("of your kind"))) << c.tool;
    EXPECT_NE(document().car().id, "dunlin-4wd");
    if (c.job == MainWindow::Job::plan) {
      EXPECT_EQ(window_->plan().drawer().isOpen(), *c.tool != 0) << c.tool;
    }
  }
}

TEST_F(Start, MyOwnCarsStandFirstWithTheirSetups) {
  window_->makeOwn(QStringLiteral("Evening car"));
  ASSERT_EQ(document().car().name, "Evening car");
  auto* menu = find<QMenu>(QStringLiteral("top.car.menu"));
  Q_EMIT menu->aboutToShow();
  QStringList entries;
  for (const QAction* a : menu->actions())
    if (!a->isSeparator()) entries << a->text();
  ASSERT_FALSE(entries.isEmpty());
  EXPECT_TRUE(entries.front().startsWith(QStringLiteral("Evening car"))) << entries.front().toStdString();
  EXPECT_EQ(entries.filter(QStringLiteral("Heron")).size(), 1);
  QFile::remove(ownCarPath(QStringLiteral("Evening car")));
}

TEST_F(Start, WhatIsNotSavedIsSaidInTheTopLine) {
  auto* setup = find<QToolButton>(QStringLiteral("top.setup"));
  EXPECT_FALSE(setup->text().contains(QLatin1Char('*')));
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_TRUE(setup->text().contains(QLatin1Char('*')));
  EXPECT_TRUE(setup->toolTip().contains(QStringLiteral("not saved")));
  click(QStringLiteral("undo"));
  EXPECT_FALSE(setup->text().contains(QLatin1Char('*')));
}

TEST_F(Start, TheDrawerIsDrawnTornOffAndBroughtBack) {
  openPage(PlanWorkspace::Page::recipe);
  Drawer& drawer = window_->plan().drawer();
  EXPECT_EQ(drawer.window(), window_.get());
  click(QStringLiteral("drawer.apart"));
  EXPECT_TRUE(drawer.isTornOff());
  EXPECT_FALSE(drawer.isBelow()) << "the bench work may have the room again";
  EXPECT_NE(drawer.window(), window_.get());
  EXPECT_TRUE(find<QWidget>(QStringLiteral("recipe"))->isVisible());
  // Keys go on working there.
  QTest::keyClick(drawer.window(), Qt::Key_G, Qt::ControlModifier);
  settle();
  drawer.window()->close();
  settle();
  EXPECT_FALSE(drawer.isTornOff());
  EXPECT_EQ(drawer.window(), window_.get());
  EXPECT_TRUE(drawer.isOpen());
  click(QStringLiteral("drawer.away"));
  EXPECT_FALSE(drawer.isOpen());
}

TEST_F(Start, ADrawnDrawerKeepsItsHeight) {
  openPage(PlanWorkspace::Page::curves);
  Drawer& drawer = window_->plan().drawer();
  auto* rows = qobject_cast<QSplitter*>(drawer.parentWidget());
  ASSERT_NE(rows, nullptr);
  QWidget* handle = rows->handle(1);
  const int before = drawer.height();
  QTest::mousePress(handle, Qt::LeftButton, Qt::NoModifier, handle->rect().center());
  QTest::mouseMove(handle, handle->rect().center() + QPoint(0, 60));
  QTest::mouseRelease(handle, Qt::LeftButton, Qt::NoModifier, handle->rect().center() + QPoint(0, 60));
  settle();
  const int drawn = drawer.height();
  EXPECT_LT(drawn, before);
  putAway();
  openPage(PlanWorkspace::Page::curves);
  EXPECT_NEAR(drawer.height(), drawn, 2);
}

TEST_F(Start, F1OpensTheGuideAtWhatHasTheFocus) {
  openPage(PlanWorkspace::Page::recipe);
  find<QWidget>(QStringLiteral("recipe.search"))->setFocus();
  key(Qt::Key_F1);
  auto* guide = find<GuideWindow>(QStringLiteral("guide"));
  EXPECT_TRUE(guide->isVisible());
  EXPECT_EQ(guide->section(), QStringLiteral("Recipe"));
  EXPECT_TRUE(find<QTextBrowser>(QStringLiteral("guide.page"))->toPlainText().contains(QStringLiteral("Ctrl+I")));
  find<QLineEdit>(QStringLiteral("guide.words"))->setText(QStringLiteral("bleed"));
  auto* list = find<QListWidget>(QStringLiteral("guide.sections"));
  for (int i = 0; i < list->count(); ++i)
    if (!list->item(i)->isHidden()) {
      list->setCurrentRow(i);
      EXPECT_TRUE(find<QTextBrowser>(QStringLiteral("guide.page"))
                      ->toPlainText()
                      .contains(QStringLiteral("bleed"), Qt::CaseInsensitive));
    }
}

TEST_F(Start, EverySectionThatAWidgetLeadsToIsInTheGuide) {
  GuideWindow guide(window_.get());
  QStringList headings;
  const auto* list = guide.findChild<QListWidget*>(QStringLiteral("guide.sections"));
  for (int i = 0; i < list->count(); ++i) headings << list->item(i)->text();
  EXPECT_GT(headings.size(), 10);
  for (const QWidget* w : window_->findChildren<QWidget*>()) {
    const QString section = GuideWindow::sectionFor(w);
    EXPECT_TRUE(section.isEmpty() || headings.contains(section)) << section.toStdString();
  }
}

TEST_F(Start, EveryFigureIsExplainedWhereItStands) {
  for (const FigureSpec& f : geometry_figures())
    EXPECT_GT(meaningOf(f).size(), 15) << f.id << ": a row in the guide's table, under its label";
  auto* figures = qobject_cast<FigureModel*>(find<QTableView>(QStringLiteral("figures.table"))->model());
  const QString tip =
      figures->index(figures->rowOf("camber_gain"), FigureModel::label).data(Qt::ToolTipRole).toString();
  EXPECT_TRUE(tip.contains(QStringLiteral("per millimetre that the wheel rises"))) << tip.toStdString();
}

TEST_F(Start, TheTourLeadsThroughTheWindowAndEnds) {
  window_->startTour();
  settle();
  QPointer<Tour> tour = window_->findChild<Tour*>();
  ASSERT_TRUE(tour);
  for (int stops = 0; tour && stops < 10; ++stops) {
    EXPECT_TRUE(window_->rect().contains(tour->geometry())) << tour->stop();
    EXPECT_TRUE(tour->isVisible());
    click(QStringLiteral("tour.next"));
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  }
  EXPECT_FALSE(tour) << "it ends by itself";
  EXPECT_TRUE(document().isModified()) << "it took a shim out to show what moves";
  document().undoStack().undo();
}

}  // namespace
}  // namespace lowkite::app
