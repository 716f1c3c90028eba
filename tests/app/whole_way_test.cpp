// A racer's evening and his next day, once from end to end with real events: his own buggy with a bar that he
// describes, his own springs, two sheets of others, the bench, a run, and what to try next. Then the program is started
// again, and all of it is there.
#include <QComboBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>

#include "app/bench/bench_workspace.h"
#include "app/car/car_workspace.h"
#include "app/document/open_files.h"
#include "app/plan/sheet/sheet_page.h"
#include "app/track/advice_page.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "core/load/bar.hpp"
#include "core/load/spring_place.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class WholeWay : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json")))));
    settle();
    name_ = QStringLiteral("My buggy %1").arg(QCoreApplication::applicationPid());
  }
  void TearDown() override {
    window_.reset();
    QFile::remove(ownCarPath(name_));
  }
  void type(const QString& name, const QString& text, bool enter = true) {
    auto* line = find<QLineEdit>(name);
    ASSERT_TRUE(line->isVisible()) << name.toStdString();
    line->setFocus();
    line->selectAll();
    QTest::keyClick(line, Qt::Key_Delete);
    QTest::keyClicks(line, text);
    if (enter) QTest::keyClick(line, Qt::Key_Return);
    settle();
  }
  void choose(const QString& name, const QString& part) {
    auto* box = find<QComboBox>(name);
    for (int i = 0; i < box->count(); ++i)
      if (box->itemText(i).contains(part)) {
        box->setCurrentIndex(i);
        Q_EMIT box->activated(i);
        return settle();
      }
    ADD_FAILURE() << part.toStdString();
  }
  bool readSheet(const char* name) {
    SheetPage& page = window_->plan().sheet();
    bool opened = false, failed = false;
    const auto a = QObject::connect(&page.work(), &SheetWork::opened, [&] { opened = true; });
    const auto b = QObject::connect(&page.work(), &SheetWork::failed, [&] { failed = true; });
    page.askSheetPath = [&] { return dataPath(QStringLiteral("sheets/%1").arg(QLatin1String(name))); };
    click(QStringLiteral("sheet.open"));
    EXPECT_TRUE(QTest::qWaitFor([&] { return opened || failed; }, 40'000));
    QObject::disconnect(a);
    QObject::disconnect(b);
    settle();
    return opened;
  }
  const Adjuster& partCalled(const std::string& id) { return document().car().adjusters[part(id.c_str())]; }
  std::string labelOf(const std::string& id) {
    return partCalled(id).positions()->list[static_cast<std::size_t>(value(id.c_str()))].label;
  }
  QString name_;
};

TEST_F(WholeWay, FromAShippedBuggyToTheNextChange) {
  // His own car.
  click(QStringLiteral("workspace.0"));
  type(QStringLiteral("car.ownName"), name_, false);
  click(QStringLiteral("car.own"));
  ASSERT_FALSE(document().carIsShipped());

  // The front bar as he has it: two wires, or none.
  click(QStringLiteral("car.page.2"));
  auto* adjusters = find<QListWidget>(QStringLiteral("car.adjusters"));
  adjusters->setCurrentRow(part("front_bar").number());
  click(QStringLiteral("car.removePart"));
  ASSERT_FALSE(part("front_bar"));
  click(QStringLiteral("car.addPart"));
  auto* what = find<QComboBox>(QStringLiteral("part.what"));
  what->setCurrentIndex(what->findData(QStringLiteral("bar_wires")));
  settle();
  find<QComboBox>(QStringLiteral("part.where"))->setCurrentIndex(0);
  type(QStringLiteral("part.name"), QStringLiteral("Front bar"), false);
  type(QStringLiteral("part.list"), QStringLiteral("none 1.3 1.5"), false);
  type(QStringLiteral("part.now"), QStringLiteral("none"), false);
  ASSERT_TRUE(find<QPushButton>(QStringLiteral("part.put"))->isEnabled())
      << text(QStringLiteral("part.says")).toStdString();
  click(QStringLiteral("part.put"));
  const std::string bar = document().car().adjusters.back().id;
  ASSERT_EQ(partCalled(bar).positions()->list.size(), 3u);
  EXPECT_EQ(partCalled(bar).positions()->list[0].label, "none");

  // His springs, by what he measured, and into the car.
  click(QStringLiteral("car.page.5"));
  find<QAction>(QStringLiteral("boxes.add.spring"))->trigger();
  settle();
  type(QStringLiteral("boxes.label"), QStringLiteral("teal"));
  type(QStringLiteral("boxes.value"), QStringLiteral("1.85 lbf/in"));
  type(QStringLiteral("boxes.length"), QStringLiteral("61"));
  find<QAction>(QStringLiteral("boxes.putIn.front_spring"))->trigger();
  settle();
  ASSERT_EQ(partCalled("front_spring").positions()->list.size(), 4u);
  key(Qt::Key_S, Qt::ControlModifier);
  EXPECT_TRUE(QFileInfo::exists(ownCarPath(name_)));

  // Plan: the spring and the bar in, the work along the bottom.
  click(QStringLiteral("workspace.2"));
  const lowkite::Setup bare = document().setup();
  while (labelOf("front_spring") != "teal") {
    const double before = value("front_spring");
    click(QStringLiteral("adjuster.front_spring.more"));
    ASSERT_GT(value("front_spring"), before);
  }
  click(QStringLiteral("adjuster.%1.more").arg(QString::fromStdString(bar)));
  ASSERT_EQ(labelOf(bar), "1.3 mm");
  const CarModel& now = model().comparison()->changed->model;
  EXPECT_NEAR(spring_of(now.corner(End::front, Side::left)).rate_n_per_mm, 1.85 * 4.4482216 / 25.4, 1e-5);
  EXPECT_GT(bar_stiffness(now, End::front), 0.0);
  EXPECT_TRUE(work().contains(QStringLiteral("teal"))) << work().toStdString();
  EXPECT_TRUE(work().contains(QStringLiteral("Shocks off")));
  EXPECT_FALSE(work().contains(QStringLiteral("Not in your boxes"))) << work().toStdString();

  // Two sheets of others, matched once.
  openPage(PlanWorkspace::Page::sheet);
  ASSERT_TRUE(readSheet("tannery-calm.pdf"));
  click(QStringLiteral("sheet.rest.1"));  // what it does not say stays as it is now
  click(QStringLiteral("sheet.take"));
  EXPECT_EQ(document().setup().name, "Tannery, calm");
  EXPECT_EQ(labelOf(bar), "1.3 mm") << "what the sheet does not say of this car stays";
  EXPECT_EQ(labelOf("front_spring"), "medium") << "and what it says is taken";
  const lowkite::Setup sheet = document().setup();
  ASSERT_TRUE(readSheet("tannery-sharper.pdf"));
  EXPECT_TRUE(text(QStringLiteral("sheet.news")).contains(QStringLiteral("Matched as last time")))
      << text(QStringLiteral("sheet.news")).toStdString();
  click(QStringLiteral("sheet.take"));
  EXPECT_NE(document().setup(), sheet);
  const auto taken = evaluate(document().car(), document().setup(), {}, coarse_curve);
  ASSERT_TRUE(taken) << "what a sheet says is a car that stands";
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(document().setup(), sheet);
  putAway();
  click(QStringLiteral("adjuster.front_spring.more"));
  ASSERT_EQ(labelOf("front_spring"), "teal");
  const lowkite::Setup calm = document().setup();
  const QString saved = folder_.filePath(QStringLiteral("club.kite-setup.json"));
  ASSERT_TRUE(window_->saveTo(saved));

  // The bench, to its end; one link is found off, turned as told, and read again.
  click(QStringLiteral("workspace.1"));
  BenchModel& bench = window_->bench().model();
  click(QStringLiteral("bench.start"));
  const int all = static_cast<int>(bench.steps().size());
  int bars = 0, turned = 0;
  for (int i = 0; i < all; ++i) {
    const BenchStep step = *bench.step();
    bars += step.id.starts_with("bar") ? 1 : 0;
    if (step.gauge) {
      ASSERT_TRUE(bench.verdict()) << step.id;
      if (step.id == "links:front:camber_link") {
        auto* field = find<QDoubleSpinBox>(QStringLiteral("step.left.field"));
        field->setValue(*bench.verdict()->side[0].target + 0.5);
        click(QStringLiteral("step.left.take"));
        ASSERT_TRUE(find<QPushButton>(QStringLiteral("step.left.turned"))->isVisible());
        click(QStringLiteral("step.left.turned"));
        field->setValue(*bench.verdict()->side[0].target);
        ++turned;
      }
      click(QStringLiteral("step.left.take"));
      if (reads_each_side(*step.gauge, bench.run().bench)) click(QStringLiteral("step.right.take"));
      EXPECT_TRUE(bench.verdict()->good())
          << step.id << ": " << text(QStringLiteral("step.left.verdict")).toStdString();
    }
    click(QStringLiteral("step.done"));
  }
  EXPECT_EQ(bench.stepsDone(), all);
  EXPECT_EQ(turned, 1);
  EXPECT_GT(bars, 0) << "the bar is in, so it is set";

  // The run: driven, felt, and what to try next.
  click(QStringLiteral("workspace.3"));
  click(QStringLiteral("track.newDay"));
  type(QStringLiteral("day.track"), QStringLiteral("Old Tannery field"));
  choose(QStringLiteral("day.surface"), QStringLiteral("clay"));
  click(QStringLiteral("track.newRun"));
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::laps)));
  auto* laps = find<QPlainTextEdit>(QStringLiteral("laps.typed"));
  laps->setFocus();
  QTest::keyClicks(laps, QStringLiteral("31.2 30.9 31.0 30.8 31.1 30.9 "));
  click(QStringLiteral("laps.add"));
  ASSERT_EQ(window_->track().model().run()->laps.size(), 6u);
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::feel)));
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.rear_grip.0"));
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::advice)));
  AdvicePage& advice = window_->track().advice();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !advice.busy(); }, 60'000));
  ASSERT_TRUE(advice.result());
  ASSERT_FALSE(advice.result()->list.empty());
  const Advice first = advice.result()->list.front();
  click(QStringLiteral("advice.plan"));
  settle();
  EXPECT_TRUE(window_->plan().isVisible());
  EXPECT_EQ(document().setup().values, first.stepped.values);
  EXPECT_NE(document().setup().values, calm.values);
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(document().setup(), calm);

  // The next morning.
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->open(saved)) << window_->banner().text().toStdString();
  window_->show();
  settle();
  EXPECT_EQ(document().car().name, name_.toStdString());
  EXPECT_EQ(document().setup().values, calm.values);
  EXPECT_EQ(document().setup().noted, calm.noted);
  EXPECT_EQ(labelOf("front_spring"), "teal");
  EXPECT_EQ(labelOf(bar), "1.3 mm");
  click(QStringLiteral("workspace.0"));
  click(QStringLiteral("car.page.5"));
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("boxes.list"))->rowCount(), 1);
  click(QStringLiteral("workspace.3"));
  ASSERT_EQ(window_->track().model().everything().size(), 1u);
  EXPECT_EQ(window_->track().model().everything()[0].runs[0].laps.size(), 6u);
  EXPECT_NE(bare, calm);
}

}  // namespace
}  // namespace lowkite::app
