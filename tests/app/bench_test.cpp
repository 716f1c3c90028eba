// The bench as a racer uses it: a whole run with real clicks, killed in the middle and resumed with nothing lost.
#include <QDir>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "app/bench/bench_workspace.h"
#include "app/paper/bench_sheet.h"
#include "app/widgets/banner.h"
#include "core/io/bench_file.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class BenchTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    click(QStringLiteral("workspace.1"));
    ASSERT_TRUE(window_->bench().isVisible());
  }
  BenchModel& bench() { return window_->bench().model(); }
  void goTo(const char* id) {
    for (int i = 0; i < static_cast<int>(bench().steps().size()); ++i)
      if (bench().steps()[static_cast<std::size_t>(i)].id == id)
        find<QListWidget>(QStringLiteral("bench.steps"))->setCurrentRow(i);
    settle();
    ASSERT_EQ(bench().step()->id, id);
  }
  void read(const char* side, double value) {
    find<QDoubleSpinBox>(QStringLiteral("step.%1.field").arg(QLatin1String(side)))->setValue(value);
    click(QStringLiteral("step.%1.take").arg(QLatin1String(side)));
  }
};

TEST_F(BenchTest, NothingIsMeasuredBeforeTheStart) {
  EXPECT_FALSE(bench().hasRun());
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("bench.measured"))->isEnabled());
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("bench.resume"))->isEnabled());
  click(QStringLiteral("bench.start"));
  EXPECT_TRUE(bench().hasRun());
  EXPECT_EQ(find<QListWidget>(QStringLiteral("bench.steps"))->count(), static_cast<int>(bench().steps().size()));
  EXPECT_TRUE(QFile::exists(bench().path()));
}

TEST_F(BenchTest, AWholeRunIsDrivenToItsEnd) {
  click(QStringLiteral("bench.start"));
  const int all = static_cast<int>(bench().steps().size());
  for (int i = 0; i < all; ++i) {
    const BenchStep step = *bench().step();
    EXPECT_FALSE(text(QStringLiteral("step.why")).isEmpty()) << step.id;
    if (step.gauge) {
      ASSERT_TRUE(bench().verdict()) << step.id;
      // The field starts at the target: read it as it stands.
      click(QStringLiteral("step.left.take"));
      if (step.gauge->spec().per_wheel) click(QStringLiteral("step.right.take"));
      EXPECT_TRUE(bench().verdict()->good()) << step.id;
      EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("As it should"))) << step.id;
    }
    click(QStringLiteral("step.done"));
  }
  EXPECT_EQ(bench().stepsDone(), all);
  EXPECT_TRUE(text(QStringLiteral("bench.progress")).startsWith(QStringLiteral("%1 of %1").arg(all)));
  EXPECT_TRUE(bench().unfinished().isEmpty()) << "nothing is left to resume";
}

TEST_F(BenchTest, AReadingThatIsOffSaysPartWayAndTurns) {
  click(QStringLiteral("bench.start"));
  goTo("camber:front");
  read("left", -0.9);
  read("right", -2.2);
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).contains(QStringLiteral("Camber link, right: lengthen")));
  EXPECT_TRUE(text(QStringLiteral("step.even")).contains(QStringLiteral("apart")));
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("moves besides")));
  read("right", -2.0);
  EXPECT_TRUE(text(QStringLiteral("step.right.taken")).contains(QStringLiteral("spread")));
  click(QStringLiteral("step.right.back"));
  click(QStringLiteral("step.right.back"));
  EXPECT_TRUE(text(QStringLiteral("step.right.taken")).contains(QStringLiteral("nothing read")));
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).isEmpty());
}

TEST_F(BenchTest, AStepIsSkippedOnlyWithAReasonAndMayBeMoved) {
  click(QStringLiteral("bench.start"));
  auto* skip = find<QPushButton>(QStringLiteral("step.skip"));
  EXPECT_FALSE(skip->isEnabled());
  QTest::keyClicks(find<QLineEdit>(QStringLiteral("step.reason")), QStringLiteral("done yesterday"));
  EXPECT_TRUE(skip->isEnabled());
  click(QStringLiteral("step.skip"));
  EXPECT_EQ(bench().stepsSkipped(), 1);
  EXPECT_EQ(bench().record("free").reason, "done yesterday");
  const std::string second = bench().step()->id;
  click(QStringLiteral("step.later"));
  EXPECT_EQ(bench().step()->id, second);
  EXPECT_EQ(bench().current(), 2);
  EXPECT_EQ(bench().run().order[2], second);
}

TEST_F(BenchTest, ARunThatWasCutOffIsResumedWithNothingLost) {
  click(QStringLiteral("bench.start"));
  goTo("camber:front");
  read("left", -1.3);
  read("right", -0.7);
  const BenchRun before = bench().run();
  const QString path = bench().path();
  // As after a kill: the window is gone without a word, a new one comes up on the same folders.
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  window_->show();
  settle();
  click(QStringLiteral("workspace.1"));
  EXPECT_FALSE(bench().hasRun());
  click(QStringLiteral("bench.resume"));
  ASSERT_TRUE(bench().hasRun());
  EXPECT_EQ(bench().path(), path);
  EXPECT_EQ(bench().run(), before);
  goTo("camber:front");
  EXPECT_TRUE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("1.3")));
}

TEST_F(BenchTest, TheNextRunShowsWhatWasReadLastTime) {
  click(QStringLiteral("bench.start"));
  goTo("toe:front");
  read("left", -1.5);
  QTest::qWait(1100);  // runs are told apart by the second they were started in
  click(QStringLiteral("bench.start"));
  goTo("toe:front");
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("Last time")));
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("1.5 deg out")));
}

TEST_F(BenchTest, TheCarAsMeasuredGoesToPlanAndIsUndone) {
  click(QStringLiteral("bench.start"));
  goTo("links:front:camber_link");
  const double target = *bench().verdict()->side[0].target;
  read("left", target + 0.5);
  read("right", target);
  click(QStringLiteral("bench.measured"));
  EXPECT_NEAR(value("front_camber_link", Side::left), 0.5, 0.02) << "half a turn of a millimetre a turn";
  EXPECT_NEAR(value("front_camber_link", Side::right), 0.0, 0.01);
  EXPECT_TRUE(window_->isWindowModified());
  click(QStringLiteral("workspace.2"));
  click(QStringLiteral("undo"));
  EXPECT_EQ(value("front_camber_link", Side::left), 0.0);
}

TEST_F(BenchTest, TheBenchKitShiftsTargetsAndIsKeptWithTheRun) {
  click(QStringLiteral("bench.start"));
  goTo("down_stop:front");
  const double before = *bench().verdict()->side[0].target;
  find<QDoubleSpinBox>(QStringLiteral("kit.blocks"))->setValue(15.0);
  settle();
  EXPECT_NEAR(*bench().verdict()->side[0].target, before + 5.0, 1e-9);
  const auto kept = load_run(bench().path().toStdString(), document().car());
  ASSERT_TRUE(kept);
  EXPECT_EQ(kept->bench.down_stop_blocks_mm, 15.0);
}

TEST_F(BenchTest, TheSheetIsWrittenWithTargetsAndWhatWasRead) {
  click(QStringLiteral("bench.start"));
  goTo("camber:front");
  read("left", -1.4);
  const QString html = benchSheet(document().car(), bench().run()).html;
  EXPECT_TRUE(html.contains(QStringLiteral("Camber, front")));
  EXPECT_TRUE(html.contains(QStringLiteral("\u22121.4 deg")));
  EXPECT_TRUE(html.contains(QStringLiteral("Battery out")));
  for (const BenchStep& s : bench().steps()) EXPECT_TRUE(html.contains(QString::fromStdString(s.title))) << s.id;
  const QString pdf = folder_.filePath(QStringLiteral("sheet.pdf"));
  window_->bench().askSheetPath = [&] { return pdf; };
  find<QToolButton>(QStringLiteral("bench.sheet"))->menu()->actions().at(1)->trigger();
  QFile file(pdf);
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  EXPECT_TRUE(file.readAll().startsWith("%PDF"));
  window_->bench().askSheetPath = [] { return QStringLiteral("/nowhere/sheet.pdf"); };
  find<QToolButton>(QStringLiteral("bench.sheet"))->menu()->actions().at(0)->trigger();
  EXPECT_TRUE(window_->banner().isVisible());
}

TEST_F(BenchTest, ClubLimitsWarnHereAndInPlanAndAreRemembered) {
  click(QStringLiteral("bench.below.1"));
  find<QDoubleSpinBox>(QStringLiteral("club.mass"))->setValue(1400);
  find<QDoubleSpinBox>(QStringLiteral("club.height"))->setValue(5.0);
  settle();
  const QString here = text(QStringLiteral("bench.progress"));
  EXPECT_TRUE(here.contains(QStringLiteral("1350 g, at least 1400 g"))) << here.toStdString();
  EXPECT_FALSE(here.contains(QStringLiteral("ride height"))) << "5.4 mm is enough";
  find<QDoubleSpinBox>(QStringLiteral("club.mass"))->setValue(0);
  find<QDoubleSpinBox>(QStringLiteral("club.height"))->setValue(0);
  find<QDoubleSpinBox>(QStringLiteral("club.battery.most"))->setValue(155.0);
  document().setValue(part("battery_place"), Sides::both, 2.0);
  settle();
  click(QStringLiteral("workspace.2"));
  settle();
  const auto warned = [&] {
    for (const QLabel* l : window_->plan().findChildren<QLabel*>())
      if (l->isVisible() &&
          l->text().contains(QStringLiteral("battery 158.0 mm behind the front axle, at most 155.0 mm")))
        return true;
    return false;
  };
  EXPECT_TRUE(warned()) << "eight millimetres back is over the line";
  document().setValue(part("battery_place"), Sides::both, 1.0);
  settle();
  EXPECT_FALSE(warned());
  find<QDoubleSpinBox>(QStringLiteral("club.battery.most"))->setValue(0.0);
  click(QStringLiteral("workspace.1"));
  find<QDoubleSpinBox>(QStringLiteral("club.width"))->setValue(185.0);
  settle();
  click(QStringLiteral("workspace.2"));
  EXPECT_TRUE(text(QStringLiteral("reset.rest")).contains(QStringLiteral("at most 185.0 mm")));
  window_.reset();
  window_ = newWindow();
  EXPECT_EQ(window_->findChild<QDoubleSpinBox*>(QStringLiteral("club.width"))->value(), 185.0);
}

TEST_F(BenchTest, FourScalesSayCrossWeight) {
  click(QStringLiteral("bench.start"));
  goTo("weight:front");
  read("left", 345);
  read("right", 330);
  EXPECT_FALSE(text(QStringLiteral("step.besides")).contains(QStringLiteral("Cross weight")));
  goTo("weight:rear");
  read("left", 335);
  read("right", 350);
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("Cross weight 51.1 %")))
      << text(QStringLiteral("step.besides")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("To 50 %, at one end only")))
      << text(QStringLiteral("step.besides")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("collar")));
}

TEST_F(BenchTest, ShortListsAreShort) {
  click(QStringLiteral("bench.list.2"));
  click(QStringLiteral("bench.start"));
  EXPECT_EQ(bench().run().list, BenchList::between_rounds);
  EXPECT_LT(bench().steps().size(), bench_steps(document().car(), BenchList::full).size());
}

TEST_F(BenchTest, AFolderThatCannotBeWrittenIsSaid) {
  click(QStringLiteral("bench.start"));
  const QString path = bench().path();
  // The folder goes away under the program.
  QDir(QFileInfo(path).absolutePath()).removeRecursively();
  goTo("camber:front");
  read("left", -1.0);
  EXPECT_TRUE(window_->banner().isVisible());
  EXPECT_EQ(bench().record("camber:front").readings[0].size(), 1u) << "the reading itself is not lost";
}

TEST_F(BenchTest, EveryBenchTargetIsLargeEnoughForAHand) {
  click(QStringLiteral("bench.start"));
  goTo("camber:front");
  for (const char* name : {"step.left.take", "step.left.back", "step.left.less", "step.left.field", "step.done",
                           "step.skip", "step.earlier", "bench.start", "bench.measured"})
    EXPECT_GE(find<QWidget>(QLatin1String(name))->height(), 46) << name;
}

}  // namespace
}  // namespace lowkite::app
