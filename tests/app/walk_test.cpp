// Every view at five sizes and in both shades: nothing cut, nothing over another, nothing beyond the window, every
// control reached by the keyboard. With QT_SCALE_FACTOR=2 the same on a fine screen.
#include <QAccessible>
#include <QHelpEvent>
#include <QTableWidget>
#include <QToolTip>

#include "app/bench/bench_workspace.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "core/io/json_document.hpp"
#include "tests/app/walk.h"

namespace lowkite::app {
namespace {

class WalkAt : public Walk, public testing::WithParamInterface<QSize> {};

TEST_P(WalkAt, NothingIsCutAndNothingLiesOverAnother) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  // Long words in the rows: a link turned, unlike left and right.
  document().setValue(part("front_camber_link"), Sides::left, -0.375);
  document().setValue(part("rear_camber_link"), Sides::both, 1.125);
  settle();
  walk(GetParam());
  tell();
}

INSTANTIATE_TEST_SUITE_P(FiveSizes, WalkAt,
                         testing::Values(QSize(1100, 640), QSize(1280, 800), QSize(1366, 768), QSize(1920, 1080),
                                         QSize(3840, 2160)));

// Every step of a run on the bench, with a reading that is off on both sides, in the least window and in the usual one.
TEST_F(Walk, EveryStepOfTheBench) {
  everyStepOfTheBench([this](const QString& step) {
    for (const QSize size : {QSize(1100, 640), QSize(1280, 800)}) {
      window_->resize(size);
      settle();
      lookAt(QStringLiteral("%1x%2 %3").arg(size.width()).arg(size.height()).arg(step));
    }
  });
  tell();
}

// While it is on show each view takes the other shade, and takes the first again.
TEST_F(Walk, AnotherShadeLeavesNothingOfTheOneBefore) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  document().setValue(part("rear_camber_link"), Sides::left, 1.125);
  for (const auto& [name, show] : views()) {
    show();
    settle();
    for (const auto& [now, before] : {std::pair(Shade::dark, Shade::light), std::pair(Shade::light, Shade::dark)}) {
      window_->setShade(now);
      settle();
      lookFor(before, name);
    }
  }
  tell();
}

TEST_F(Walk, EveryCarInTheDarkAtTheLeastSize) {
  window_->setShade(Shade::dark);
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  window_->resize(1100, 640);
  for (const char* car : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(car)))));
    for (const End end : both_ends) {
      model().setEnd(end);
      // Steered and leaning, so that left and right are told apart.
      if (end == End::front) find<Ruler>(QStringLiteral("steer"))->setValue(-12);
      find<Ruler>(QStringLiteral("roll"))->setValue(15);
      for (const auto& [name, show] : views()) {
        if (!name.startsWith(QStringLiteral("plan")) && !name.startsWith(QStringLiteral("drawer"))) continue;
        show();
        settle();
        window_->grab();
        lookAt(QStringLiteral("%1 %2 %3").arg(QLatin1String(car), QLatin1String(name_of(end).data()), name));
      }
    }
  }
  window_->setShade(Shade::light);
  tell();
}

TEST_F(Walk, NamesAreShownAsTheyAreWritten) {
  // A car, parts, a setup, notes, a day and a run whose names a browser would draw.
  const QString hostile = QStringLiteral("<img src=x>");
  QFile file(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  Json car = Json::parse(file.readAll().toStdString());
  car["name"] = "<img src=x> car";
  car["class"] = "<img src=x> class";
  for (Json& a : car["adjusters"]) a["name"] = "<img src=x> " + a["name"].get<std::string>();
  const QString path = folder_.filePath(QStringLiteral("hostile.kite-car.json"));
  ASSERT_TRUE(replace_file(path.toStdString(), car.dump()));
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(window_->open(path));
  lowkite::Setup s = document().setup();
  s.name = s.notes = hostile.toStdString();
  document().putSetup(s, hostile);
  document().step(part("front_link_inner_shims"), Sides::both, -2);
  window_->track().model().open();
  window_->track().model().addDay(QStringLiteral("2026-11-27"));
  ASSERT_TRUE(window_->track().model().day()) << window_->banner().text().toStdString();
  Day day = *window_->track().model().day();
  day.track = day.notes = hostile.toStdString();
  window_->track().model().putDay(day, hostile);
  window_->track().model().addRun(QStringLiteral("10:00"));
  ASSERT_TRUE(window_->track().model().run()) << window_->banner().text().toStdString();
  RunRecord run = *window_->track().model().run();
  run.run.notes = run.run.tyres = hostile.toStdString();
  window_->track().model().putRun(run, hostile);
  window_->bench().model().start(BenchList::full);
  window_->banner().tell(hostile + hostile);
  settle();
  // Only what is taken for markup is looked for here; long names may be cut.
  for (const auto& [name, show] : views()) {
    show();
    settle();
    lookAt(name);
  }
  std::erase_if(found_, [](const QString& f) { return !f.contains(QStringLiteral("markup")); });
  tell();
  // Tips, of widgets and of rows, as they are shown.
  const auto tip = [](QWidget* on, const QPoint& at) {
    QToolTip::hideText();
    QHelpEvent ask(QEvent::ToolTip, at, on->mapToGlobal(at));
    QApplication::sendEvent(on, &ask);
    return QToolTip::text();
  };
  EXPECT_TRUE(tip(find<QWidget>(QStringLiteral("top.setup")), {5, 5}).contains(QStringLiteral("&lt;img")));
  window_->showWorkspace(Job::plan);
  QTableWidget table(1, 1, window_.get());
  table.setItem(0, 0, new QTableWidgetItem(hostile));
  table.item(0, 0)->setToolTip(hostile);
  table.show();
  EXPECT_TRUE(
      tip(table.viewport(), table.visualItemRect(table.item(0, 0)).center()).contains(QStringLiteral("&lt;img")));
  QToolTip::hideText();
}

TEST_F(Walk, FaultsAndNewsDoNotGrowTheWindow) {
  window_->resize(1100, 640);
  Faults many;
  for (int i = 0; i < 60; ++i)
    many.push_back({"my-car.kite-car.json", "axles.front.points", "is not a number", "a number, mm"});
  window_->faultPanel().show(many);
  window_->banner().tell(QStringLiteral("Something long was said. ").repeated(8));
  for (int page = 0; page < 10; ++page) {
    window_->plan().open(static_cast<PlanWorkspace::Page>(page));
    settle();
    EXPECT_EQ(window_->size(), QSize(1100, 640)) << page;
  }
  for (const Job job : {Job::car, Job::bench, Job::track}) {
    window_->showWorkspace(job);
    settle();
    EXPECT_EQ(window_->size(), QSize(1100, 640));
  }
}

TEST_F(Walk, WhatAScreenReaderTogglesIsChosenAsByAClick) {
  const auto act = [&](const QString& name) {
    QAccessibleInterface* told = QAccessible::queryAccessibleInterface(find<QAbstractButton>(name));
    ASSERT_TRUE(told && told->actionInterface());
    told->actionInterface()->doAction(QAccessibleActionInterface::toggleAction());
    settle();
  };
  act(QStringLiteral("workspace.3"));
  EXPECT_TRUE(window_->track().isVisible());
  act(QStringLiteral("workspace.2"));
  act(QStringLiteral("drawer.2"));
  EXPECT_TRUE(find<QWidget>(QStringLiteral("recipe"))->isVisible());
  click(QStringLiteral("drawer.2"));
  EXPECT_FALSE(window_->plan().drawer().isOpen()) << "a click on the open page's button puts it away";
  act(QStringLiteral("axle.1"));
  EXPECT_EQ(model().end(), End::rear);
}

TEST_F(Walk, TheStageHasTwoFifthsOfTheWindow) {
  const QWidget& stage = window_->plan().stage();
  EXPECT_GE(1.0 * stage.width() * stage.height(), 0.4 * window_->width() * window_->height());
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_GE(1.0 * stage.width() * stage.height(), 0.4 * window_->width() * window_->height())
      << "and with a change to be put back";
  std::printf("stage: %.1f %% of the window\n",
              100.0 * stage.width() * stage.height() / (window_->width() * window_->height()));
}

/// How many buttons a view shows; printed for the notes.
TEST_F(Walk, ViewsShowFewButtons) {
  window_->grab();
  for (const auto& [name, show] : views()) {
    show();
    settle();
    int shown = 0;
    for (const QAbstractButton* b : window_->findChildren<QAbstractButton*>())
      shown += b->isVisible() && !scrolledAway(*b);
    std::printf("%s: %d buttons\n", name.toStdString().c_str(), shown);
    EXPECT_LT(shown, 80) << name.toStdString();
  }
}

}  // namespace
}  // namespace lowkite::app
