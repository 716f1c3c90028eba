// The bench as a racer uses it: a whole run with real clicks, killed in the middle and resumed with nothing lost.
#include <cmath>

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
#include "bench_sim/bench_car.hpp"
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
      if (bench().steps()[at(i)].id == id) find<QListWidget>(QStringLiteral("bench.steps"))->setCurrentRow(i);
    settle();
    ASSERT_EQ(bench().step()->id, id);
  }
  void put(const char* side, double value) {
    const QString name = QStringLiteral("step.%1.").arg(QLatin1String(side));
    const ZeroSides zero = bench().step()->gauge->spec().zero;
    if (zero != ZeroSides::none && value != 0.0)
      click(name + QStringLiteral("side.%1").arg((value > 0.0) == (zero == ZeroSides::in_out) ? 0 : 1));
    find<QDoubleSpinBox>(name + QStringLiteral("field"))->setValue(zero == ZeroSides::none ? value : std::abs(value));
  }
  void read(const char* side, double value) {
    put(side, value);
    click(QStringLiteral("step.%1.take").arg(QLatin1String(side)));
  }
};

TEST_F(BenchTest, EnterTakesAReadingAndGoesOn) {
  click(QStringLiteral("bench.start"));
  goTo("ride_height:front");
  auto* left = find<QDoubleSpinBox>(QStringLiteral("step.left.field"));
  auto* right = find<QDoubleSpinBox>(QStringLiteral("step.right.field"));
  const bool both = right->isVisible();
  left->setFocus();
  left->selectAll();
  const double target = *bench().verdict()->side[0].target;
  QTest::keyClicks(left, QString::number(target, 'f', 1));
  key(Qt::Key_Return);
  ASSERT_EQ(bench().record("ride_height:front").readings[0].size(), 1u);
  if (both) {
    EXPECT_EQ(QApplication::focusWidget(), right);
    QTest::keyClicks(right, QString::number(target, 'f', 1));
    key(Qt::Key_Return);
  }
  EXPECT_EQ(QApplication::focusWidget(), find<QPushButton>(QStringLiteral("step.done"))) << "as it should be: on";
  const std::string before = bench().step()->id;
  key(Qt::Key_Return);
  EXPECT_NE(bench().step()->id, before);
  // A reading that is off is asked for again at the same place.
  goTo("camber:front");
  left->setFocus();
  left->selectAll();
  QTest::keyClicks(left, QStringLiteral("4"));
  key(Qt::Key_Return);
  EXPECT_EQ(QApplication::focusWidget(), right);
  QTest::keyClicks(right, QStringLiteral("4"));
  key(Qt::Key_Return);
  EXPECT_EQ(QApplication::focusWidget(), right);
}

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
      if (reads_each_side(*step.gauge, bench().run().bench)) click(QStringLiteral("step.right.take"));
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
  // The marked ends of this car's links point to its left: on the right side that is the inner end.
  EXPECT_TRUE(
      text(QStringLiteral("step.right.verdict"))
          .contains(QStringLiteral("clockwise seen from the wheel, top of the wrench towards you before the car")))
      << text(QStringLiteral("step.right.verdict")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.right.expected")).contains(QStringLiteral("usual \u22122 to \u22121 deg")))
      << text(QStringLiteral("step.right.expected")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.even")).contains(QStringLiteral("apart")));
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("moves besides")));
  read("right", -2.0);
  EXPECT_TRUE(text(QStringLiteral("step.right.taken")).contains(QStringLiteral("spread")));
  click(QStringLiteral("step.right.back"));
  click(QStringLiteral("step.right.back"));
  EXPECT_TRUE(text(QStringLiteral("step.right.taken")).contains(QStringLiteral("nothing read")));
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).isEmpty());
}

TEST_F(BenchTest, TurnedAsToldTheOldReadingIsHistoryAndUndoBringsItBack) {
  click(QStringLiteral("bench.start"));
  goTo("links:front:camber_link");
  const double target = *bench().verdict()->side[0].target;
  read("left", target + 0.5);
  EXPECT_TRUE(find<QPushButton>(QStringLiteral("step.left.turned"))->isVisible());
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("step.right.turned"))->isVisible()) << "nothing was told there";
  click(QStringLiteral("step.left.turned"));
  EXPECT_TRUE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("before the turn")));
  EXPECT_TRUE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("measure again")));
  read("left", target + 0.03);
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("As it should")))
      << text(QStringLiteral("step.left.verdict")).toStdString();
  EXPECT_FALSE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("mean")));
  click(QStringLiteral("bench.undo"));
  click(QStringLiteral("bench.undo"));
  EXPECT_EQ(bench().record("links:front:camber_link").readings[0].size(), 1u);
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("shorten 1/2 turn")));
  EXPECT_EQ(load_run(bench().path().toStdString(), document().car())->turns.size(), 0u) << "the file follows";
}

TEST_F(BenchTest, ToeIsPutInAsInOrOutAndAMistakenSideIsAskedFor) {
  click(QStringLiteral("bench.start"));
  goTo("toe:front");
  ASSERT_LT(*bench().verdict()->side[0].target, 0.0) << "out";
  EXPECT_TRUE(find<QToolButton>(QStringLiteral("step.left.side.1"))->isChecked()) << "set to where the target is";
  auto* field = find<QDoubleSpinBox>(QStringLiteral("step.left.field"));
  QTest::mouseDClick(field, Qt::LeftButton);
  field->selectAll();
  QTest::keyClicks(field, QStringLiteral("1.1"));
  click(QStringLiteral("step.left.take"));
  EXPECT_EQ(bench().record("toe:front").readings[0], std::vector<double>{-1.1}) << "a bare 1.1 is on the target's side";
  read("right", 1.1);
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).contains(QStringLiteral("Which side was it?")));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("step.right.turned"))->isVisible()) << "it asks before it advises";
  click(QStringLiteral("step.right.mistaken"));
  EXPECT_EQ(bench().record("toe:front").readings[1], std::vector<double>{-1.1});
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("step.right.mistaken"))->isVisible());
  read("right", 1.3);
  click(QStringLiteral("step.right.back"));
  click(QStringLiteral("step.right.back"));
  read("right", 1.3);
  click(QStringLiteral("step.right.sure"));
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).contains(QStringLiteral("Tie rod")));
  goTo("camber:front");
  find<QDoubleSpinBox>(QStringLiteral("step.left.field"))->setValue(1.2);
  click(QStringLiteral("step.left.take"));
  EXPECT_EQ(bench().record("camber:front").readings[0], std::vector<double>{-1.2});
}

TEST_F(BenchTest, RideHeightNamesBothCollarsInTurns) {
  click(QStringLiteral("bench.start"));
  goTo("ride_height:front");
  read("left", *bench().verdict()->side[0].target - 0.5);
  const QString told = text(QStringLiteral("step.left.verdict"));
  EXPECT_TRUE(told.contains(QStringLiteral("both front spring collars down the shock, each by"))) << told.toStdString();
  EXPECT_TRUE(told.contains(QStringLiteral("turn ("))) << told.toStdString();
  find<QDoubleSpinBox>(QStringLiteral("kit.points"))->setValue(60.0);
  settle();
  EXPECT_TRUE(bench().record("ride_height:front").readings[1].empty()) << "the middle was no reading of the right side";
  read("left", 5.9);
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("Read the other side too")));
  read("right", 5.1);
  goTo("ride_height:rear");
  read("left", 5.2);
  read("right", 6.0);
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("Twisted")))
      << text(QStringLiteral("step.besides")).toStdString();
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("step.levelled"))->isVisible());
  for (const char* side : {"left", "right"}) click(QStringLiteral("step.%1.back").arg(QLatin1String(side)));
  read("left", 6.0);
  read("right", 5.2);
  EXPECT_TRUE(text(QStringLiteral("step.besides")).contains(QStringLiteral("leans")));
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("is a lean")))
      << "6.0 where 5.6 is wanted is not as it should be";
  click(QStringLiteral("step.levelled"));
  EXPECT_TRUE(bench().record("ride_height:rear").readings[0].empty());
}

TEST_F(BenchTest, OnlyWhatWasMeasuredGoesToPlanAndAnOlderPlanIsSaid) {
  click(QStringLiteral("bench.start"));
  EXPECT_FALSE(find<QWidget>(QStringLiteral("bench.older"))->isVisible());
  goTo("links:front:camber_link");
  const double target = *bench().verdict()->side[0].target;
  read("left", target + 0.5);
  document().setValue(part("front_tie_rod"), Sides::both, 1.0);
  settle();
  EXPECT_TRUE(find<QWidget>(QStringLiteral("bench.older"))->isVisible());
  click(QStringLiteral("bench.measured"));
  EXPECT_EQ(value("front_tie_rod", Side::left), 1.0) << "what was changed in Plan since the start stays";
  EXPECT_NEAR(value("front_camber_link", Side::left), 0.5, 0.02);
  click(QStringLiteral("bench.follow"));
  EXPECT_FALSE(find<QWidget>(QStringLiteral("bench.older"))->isVisible());
  EXPECT_EQ(bench().run().planned.values, document().setup().values);
}

TEST_F(BenchTest, TicksAreThreeMarksAndTheLastLineCountsThem) {
  click(QStringLiteral("bench.start"));
  auto* list = find<QListWidget>(QStringLiteral("bench.steps"));
  const auto sign = [&] { return list->item(bench().current())->text().left(1); };
  goTo("camber:front");
  const double target = *bench().verdict()->side[0].target;
  click(QStringLiteral("step.done"));
  goTo("camber:front");
  EXPECT_EQ(sign(), QStringLiteral("?"));
  read("left", target - 1.0);
  read("right", target);
  click(QStringLiteral("step.done"));
  goTo("camber:front");
  EXPECT_EQ(sign(), QStringLiteral("!"));
  goTo("camber:rear");
  read("left", *bench().verdict()->side[0].target);
  read("right", *bench().verdict()->side[1].target);
  click(QStringLiteral("step.done"));
  goTo("camber:rear");
  EXPECT_EQ(sign(), QStringLiteral("\u2713"));
  goTo("toe:rear");
  click(QStringLiteral("step.done"));
  const QString line = text(QStringLiteral("bench.progress"));
  EXPECT_TRUE(line.contains(QStringLiteral("3 of"))) << line.toStdString();
  EXPECT_TRUE(line.contains(QStringLiteral("1 measured, 1 left as it is, 1 not measured"))) << line.toStdString();
}

TEST_F(BenchTest, DroopAtTheTyreIsShownAtOnceAndLowBlocksAreSaid) {
  click(QStringLiteral("bench.start"));
  goTo("tyre_droop:rear");
  find<QDoubleSpinBox>(QStringLiteral("kit.blocks"))->setValue(30.0);
  settle();
  read("left", *bench().verdict()->side[0].target);
  EXPECT_TRUE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("Droop")));
  EXPECT_FALSE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("too low")));
  find<QDoubleSpinBox>(QStringLiteral("kit.blocks"))->setValue(3.0);
  settle();
  EXPECT_TRUE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("too low for this car")))
      << text(QStringLiteral("step.left.taken")).toStdString();
}

/// A stand-in in the window: it reads the hidden car, types what it reads, and turns what the window tells.
class BenchOfACar : public BenchTest, public testing::WithParamInterface<const char*> {};

TEST_P(BenchOfACar, IsSetRightFromTheFirstStepToTheLast) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(GetParam())))));
  settle();
  click(QStringLiteral("bench.start"));
  const Car& car = document().car();
  auto hidden = BenchCar::wrongly_set(car, document().setup(), 7);
  ASSERT_TRUE(hidden) << hidden.error();
  int told = 0;
  for (int pass = 0; pass < 4; ++pass)
    for (int i = 0; i < static_cast<int>(bench().steps().size()); ++i) {
      bench().goTo(i);
      settle();
      const BenchStep step = *bench().step();
      if (bench().record(step.id).state != StepState::open) continue;
      for (int round = 0; step.gauge && step.gauge->kind != &gauge::pull_down && round < 8; ++round) {
        for (const Side side : both_sides) {
          if (side == Side::right && !reads_each_side(*step.gauge, bench().run().bench)) continue;
          if (!bench().record(step.id).readings[at(side)].empty()) continue;
          const auto reads = hidden->read(*step.gauge, bench().run().bench, side);
          ASSERT_TRUE(reads) << step.id;
          const QString name = side == Side::left ? QStringLiteral("left") : QStringLiteral("right");
          read(qPrintable(name), *reads);
          const QString sure = QStringLiteral("step.%1.sure").arg(name);
          if (find<QPushButton>(sure)->isVisible()) click(sure);
        }
        const auto verdict = *bench().verdict();
        PerSide<QString> buttons;
        for (const Side side : both_sides)
          buttons[at(side)] =
              QStringLiteral("step.%1.turned").arg(side == Side::left ? QLatin1String("left") : QLatin1String("right"));
        bool any = false;
        for (const Side side : both_sides)
          if (const auto& a = verdict.side[at(side)].answer;
              a && (a->verdict == GaugeAnswer::Verdict::turn || a->verdict == GaugeAnswer::Verdict::until_it_moves)) {
            hidden->obey(*step.gauge, side, *a, bench().run().bench);
            any = true;
          }
        if (!any) break;
        ++told;
        for (const QString& button : buttons)
          if (find<QPushButton>(button)->isVisible()) click(button);
      }
      click(QStringLiteral("step.done"));
    }
  EXPECT_GT(told, 4);
  EXPECT_EQ(bench().stepsIn(StepState::open), 0) << text(QStringLiteral("bench.progress")).toStdString();
  for (const BenchStep& step : bench().steps()) {
    if (!step.gauge || (step.gauge->kind != &gauge::camber && step.gauge->kind != &gauge::toe)) continue;
    if (parts_answering(car, document().setup(), *step.gauge, Side::left).empty()) continue;
    const auto verdict = judge(car, bench().run(), step);
    for (const Side side : both_sides)
      EXPECT_NEAR(*hidden->truth(*step.gauge, bench().run().bench, side), *verdict->side[at(side)].target, 0.5)
          << step.id;
  }
}

INSTANTIATE_TEST_SUITE_P(Three, BenchOfACar, testing::Values("heron-tc190", "dunlin-4wd", "sanderling-12"));

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
  EXPECT_TRUE(work().contains(QStringLiteral("at most 185.0 mm")));
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

// The shocks built step by step: what the setup has is named, and when they were built is kept and told with the runs
// since.
TEST_F(BenchTest, BuiltShocksAreRemembered) {
  const auto told = [&] { return text(QStringLiteral("bench.shocks")); };
  EXPECT_TRUE(told().contains(QStringLiteral("Shocks, front: not built here yet"))) << told().toStdString();
  click(QStringLiteral("bench.list.3"));
  click(QStringLiteral("bench.start"));
  EXPECT_EQ(bench().run().list, BenchList::shocks);
  goTo("build_parts:front");
  const QString named = text(QStringLiteral("step.named"));
  EXPECT_TRUE(named.contains(QStringLiteral("Piston 3 x 1.1"))) << named.toStdString();
  EXPECT_TRUE(named.contains(QStringLiteral("Spacers inside the shock"))) << named.toStdString();
  goTo("build_exposed:front");
  read("left", *bench().verdict()->side[0].target);
  EXPECT_TRUE(text(QStringLiteral("step.caution")).contains(QStringLiteral("bare pliers")));
  goTo("build_fill:front");
  EXPECT_TRUE(text(QStringLiteral("step.named")).contains(QStringLiteral("Shock oil 400 cSt")));
  EXPECT_TRUE(text(QStringLiteral("step.caution")).contains(QStringLiteral("Gloves")));
  bench().finishStep();
  const QString today = QDate::currentDate().toString(Qt::ISODate);
  EXPECT_TRUE(told().contains(QStringLiteral("Shocks, front: built %1").arg(today))) << told().toStdString();
  EXPECT_TRUE(told().contains(QStringLiteral("400 cSt")));
  EXPECT_TRUE(told().contains(QStringLiteral("; 0 runs since"))) << told().toStdString();
  EXPECT_TRUE(told().contains(QStringLiteral("Shocks, rear: not built here yet")));
  click(QStringLiteral("bench.undo"));
  EXPECT_TRUE(told().contains(QStringLiteral("Shocks, front: not built"))) << "a tick taken back built nothing";
  goTo("build_fill:front");
  bench().finishStep();
  // In another run, on another day, with many runs in between: it is due.
  window_->bench().runsSince = [&](const std::string& car, const QString& since) {
    EXPECT_EQ(car, document().car().id);
    EXPECT_TRUE(since.startsWith(today));
    return 23;
  };
  click(QStringLiteral("bench.list.0"));
  click(QStringLiteral("bench.start"));
  EXPECT_TRUE(told().contains(QStringLiteral("23 runs since"))) << told().toStdString();
  EXPECT_TRUE(told().contains(QStringLiteral("Time to look into them again")));
  // The setup has moved on since: what they were built with stays what it was.
  document().setValue(document().car().find_adjuster("front_oil"), Sides::both, 0.0);
  settle();
  EXPECT_TRUE(told().contains(QStringLiteral("400 cSt")));
}

// Play, place by place: read, changed as told, read again; a wheel's goes into its droop, whichever was read first.
TEST_F(BenchTest, PlayIsReadPlaceByPlaceAndChangedAsTold) {
  click(QStringLiteral("bench.start"));
  goTo("end_float:rear");
  EXPECT_EQ(text(QStringLiteral("step.left.target")), QStringLiteral("0.20 to 0.30 mm"));
  EXPECT_FALSE(text(QStringLiteral("step.left.expected")).contains(QStringLiteral("tells")));
  read("left", 0.55);
  const QString told = text(QStringLiteral("step.left.verdict"));
  EXPECT_TRUE(told.contains(QStringLiteral("looser than wanted"))) << told.toStdString();
  EXPECT_TRUE(told.contains(QStringLiteral("Put in shims at the bearing: 0.30 mm"))) << told.toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).isEmpty());
  click(QStringLiteral("step.left.turned"));
  EXPECT_TRUE(text(QStringLiteral("step.left.taken")).contains(QStringLiteral("should read 0.25 mm since then")))
      << text(QStringLiteral("step.left.taken")).toStdString();
  read("left", 0.25);
  read("right", 0.1);
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("As it should be")));
  EXPECT_TRUE(text(QStringLiteral("step.right.verdict")).contains(QStringLiteral("Take out shims at the bearing")));
  EXPECT_TRUE(text(QStringLiteral("step.even")).isEmpty()) << "each within what is wanted: they need not be alike";
  goTo("posts:front");
  EXPECT_EQ(text(QStringLiteral("step.left.target")), QStringLiteral("1/2 turn"));
  read("left", 0.0);
  EXPECT_TRUE(
      text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("Back the post's screw off by 1/2 turn")))
      << text(QStringLiteral("step.left.verdict")).toStdString();
  // The droop was read before the play: its target follows, and its tick is gone.
  goTo("tyre_droop:rear");
  const double before = *bench().verdict()->side[0].target;
  read("left", before);
  read("right", *bench().verdict()->side[1].target);
  click(QStringLiteral("step.done"));
  EXPECT_EQ(bench().record("tyre_droop:rear").state, StepState::measured);
  goTo("play:rear");
  EXPECT_EQ(text(QStringLiteral("step.left.target")), QStringLiteral("up to 0.2 mm"));
  read("left", 0.5);
  EXPECT_TRUE(
      text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("taken off what this wheel's droop reads")));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("step.left.turned"))->isVisible()) << "nothing to turn";
  EXPECT_EQ(bench().record("tyre_droop:rear").state, StepState::open);
  goTo("tyre_droop:rear");
  EXPECT_NEAR(*bench().verdict()->side[0].target, before + 0.5, 1e-6);
  EXPECT_TRUE(text(QStringLiteral("step.left.verdict")).contains(QStringLiteral("off")));
  click(QStringLiteral("bench.undo"));
  EXPECT_EQ(bench().record("tyre_droop:rear").state, StepState::measured) << "the play taken back, the tick is there";
}

// A car with a third damper in: it is built in its order and remembered.
TEST_F(BenchTest, AThirdDamperIsBuiltAndRemembered) {
  ASSERT_TRUE(window_->open(dataPath("cars/godwit-ta.kite-car.json")));
  click(QStringLiteral("workspace.1"));
  const auto told = [&] { return text(QStringLiteral("bench.shocks")); };
  EXPECT_FALSE(told().contains(QStringLiteral("Third damper"))) << "none is in";
  document().setValue(part("rear_third_piston"), Sides::both, 1.0);
  settle();
  EXPECT_TRUE(told().contains(QStringLiteral("Third damper, Rear: not built here yet"), Qt::CaseInsensitive))
      << told().toStdString();
  click(QStringLiteral("bench.list.3"));
  click(QStringLiteral("bench.start"));
  goTo("third_build:rear");
  EXPECT_TRUE(text(QStringLiteral("step.named")).contains(QStringLiteral("300 cSt")))
      << text(QStringLiteral("step.named")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("step.caution")).contains(QStringLiteral("Gloves")));
  bench().finishStep();
  const QString today = QDate::currentDate().toString(Qt::ISODate);
  EXPECT_TRUE(told().contains(QStringLiteral("Third damper, Rear: built %1").arg(today), Qt::CaseInsensitive))
      << told().toStdString();
  for (const BenchStep& s : bench().steps()) EXPECT_NE(s.id, "third_build:front") << "only where it is in";
}

TEST_F(BenchTest, TheCasterStepSaysWhichBlock) {
  click(QStringLiteral("bench.start"));
  goTo("caster");
  EXPECT_EQ(text(QStringLiteral("step.named")), QStringLiteral("In the setup: Caster block 4 deg"));
  goTo("bar_flat:front");
  EXPECT_EQ(text(QStringLiteral("step.named")), QStringLiteral("In the setup: Bar wire 1.2 mm"));
  EXPECT_TRUE(text(QStringLiteral("step.caution")).contains(QStringLiteral("Eye protection")));
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
