// What the driver will feel, in the window: signs over many tyres, reasons, every part, what is believed, and the log's
// word on tyres.
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/plan/handling/handling_page.h"
#include "app/track/advice_page.h"
#include "app/track/track_workspace.h"
#include "app/widgets/line_chart.h"
#include "app/words/wording.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class HandlingWindow : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    openPage(PlanWorkspace::Page::handling);
    ready();
  }
  HandlingPage& page() { return window_->plan().handling(); }
  void ready() {
    settle();
    EXPECT_TRUE(QTest::qWaitFor([&] { return page().study() && !page().busy(); }, 60000));
  }
  QString sign(int row, int phase) { return text(QStringLiteral("handling.sign%1.%2").arg(row).arg(phase)); }
  void stepPart(const char* id, int by) {
    model().setPart(part(id));
    model().stepPart(by);
  }
};

TEST_F(HandlingWindow, AChangeIsToldAsTheCoreTellsItOverTheSameTyres) {
  ASSERT_TRUE(page().study());
  EXPECT_FALSE(page().study()->differs());
  EXPECT_TRUE(text(QStringLiteral("handling.news")).contains(QStringLiteral("Nothing is changed")));
  EXPECT_TRUE(sign(0, 1).contains(QStringLiteral("%"))) << sign(0, 1).toStdString();
  stepPart("rear_differential_oil", 2);
  settle();
  EXPECT_TRUE(page().busy());
  EXPECT_FALSE(find<QLabel>(QStringLiteral("handling.sign0.0"))->isEnabled()) << "grey until the change is known";
  ready();
  EXPECT_TRUE(find<QLabel>(QStringLiteral("handling.sign0.0"))->isEnabled());
  const HandlingStudy& s = *page().study();
  ASSERT_TRUE(s.differs());
  EXPECT_EQ(s.after_setup, model().comparison()->reset->setup);
  const auto d =
      difference_of(spec_of(HandlingFigure::steering), CornerPhase::entry, *s.over_before, *s.over_after, s.tyres);
  ASSERT_TRUE(d);
  EXPECT_GT(d->more, 0.8) << "thicker oil behind pushes at entry";
  EXPECT_TRUE(sign(2, 0).contains(QStringLiteral("more for %1 of 256").arg(std::lround(256 * d->more))))
      << sign(2, 0).toStdString();
  EXPECT_TRUE(text(QStringLiteral("handling.why")).contains(QStringLiteral("differential")));
  key(Qt::Key_Z, Qt::ControlModifier);
  ready();
  EXPECT_FALSE(page().study()->differs());
}

TEST_F(HandlingWindow, EveryViewAnswersForEveryPhase) {
  stepPart("rear_bar", 1);
  ready();
  for (int view = 0; view < 6; ++view) {
    click(QStringLiteral("handling.view.%1").arg(view));
    ready();
    if (view == 1) {
      auto* chart = find<LineChart>(QStringLiteral("handling.schools"));
      ASSERT_EQ(chart->lines().size(), 2u);
      EXPECT_EQ(chart->lines()[1].points.size(), 256);
    }
    if (view == 2 || view == 3) {
      auto* chart = find<LineChart>(view == 2 ? QStringLiteral("handling.grip") : QStringLiteral("handling.moments"));
      EXPECT_GT(chart->lines().size(), 3u);
      for (const ChartLine& l : chart->lines()) EXPECT_GT(l.points.size(), 1);
    }
    if (view < 3)
      for (int phase = 0; phase < 3; ++phase) click(QStringLiteral("handling.phase.%1").arg(phase));
  }
}

TEST_F(HandlingWindow, EveryPartIsTriedByOneStepAndTheChosenOneIsTaken) {
  click(QStringLiteral("handling.view.4"));
  ready();
  auto* table = find<QTableWidget>(QStringLiteral("handling.parts"));
  ASSERT_GT(table->rowCount(), 2);
  ASSERT_GT(page().parts().size(), 15u);
  const int adjuster = table->item(0, 0)->data(Qt::UserRole).toInt();
  const double to = table->item(0, 0)->data(Qt::UserRole + 1).toDouble();
  const lowkite::Setup before = document().setup();
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("handling.try"))->isEnabled());
  table->setCurrentCell(0, 0);
  click(QStringLiteral("handling.try"));
  EXPECT_EQ(document().setup().at_index(adjuster).left, to);
  ready();
  EXPECT_TRUE(page().study()->differs());
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(document().setup(), before);
  // Another figure, another order; none of it is worked out again.
  find<QComboBox>(QStringLiteral("handling.partFigure"))->setCurrentIndex(2);
  ready();
  EXPECT_GT(table->rowCount(), 2);
}

TEST_F(HandlingWindow, WhatIsBelievedIsTypedKeptAndTakenBack) {
  click(QStringLiteral("handling.view.5"));
  auto* table = find<QTableWidget>(QStringLiteral("handling.beliefs"));
  ASSERT_EQ(table->rowCount(), tyre_parameter_count);
  const QString least = table->item(0, 1)->text();
  const Spread was = *spread_of(spec_of(HandlingFigure::limit), CornerPhase::middle, *page().study()->over_after);
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("handling.ours"))->isEnabled());
  table->item(0, 1)->setText(QStringLiteral("1.0"));
  table->item(0, 2)->setText(QStringLiteral("1.2"));
  ready();
  EXPECT_TRUE(QFile::exists(TyreChoice::ownPath()));
  EXPECT_TRUE(find<QComboBox>(QStringLiteral("handling.family"))->currentText().contains(QStringLiteral("yours")));
  const Spread is = *spread_of(spec_of(HandlingFigure::limit), CornerPhase::middle, *page().study()->over_after);
  EXPECT_LT(is.median, was.median) << "less friction, less of a limit";
  // Nonsense is refused and the old number stands again.
  table->item(0, 1)->setText(QStringLiteral("much"));
  EXPECT_EQ(table->item(0, 1)->text(), QStringLiteral("1.00"));
  table->item(0, 1)->setText(QStringLiteral("3"));
  EXPECT_EQ(table->item(0, 1)->text(), QStringLiteral("1.00")) << "a least above the most";
  click(QStringLiteral("handling.ours"));
  ready();
  EXPECT_EQ(table->item(0, 1)->text(), least);
  EXPECT_FALSE(QFile::exists(TyreChoice::ownPath()));
}

TEST_F(HandlingWindow, ChoicesAreKeptBetweenStarts) {
  auto* corner = find<QDoubleSpinBox>(QStringLiteral("handling.lateral"));
  corner->setValue(1.4);
  click(QStringLiteral("handling.way.1"));
  click(QStringLiteral("handling.warmth.0"));
  ready();
  EXPECT_FALSE(page().study()->ask.to_the_left);
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  window_->show();
  window_->plan().open(PlanWorkspace::Page::handling);
  ready();
  EXPECT_DOUBLE_EQ(page().study()->ask.lateral_g, 1.4);
  EXPECT_FALSE(page().study()->ask.to_the_left);
}

TEST_F(HandlingWindow, ACarThatDoesNotTellEnoughSaysWhatIsMissing) {
  ASSERT_TRUE(window_->open(samplePath(QStringLiteral("golden-v1.kite-car.json"))));
  ready();
  EXPECT_TRUE(text(QStringLiteral("handling.news")).contains(QStringLiteral("cannot be told")))
      << text(QStringLiteral("handling.news")).toStdString();
  EXPECT_TRUE(sign(0, 0).isEmpty());
}

TEST_F(HandlingWindow, ClosingWhileItComputesIsHarmless) {
  stepPart("rear_bar", 1);
  settle();
  putAway();
  EXPECT_FALSE(page().busy()) << "nobody looks: nothing is worked out";
  openPage(PlanWorkspace::Page::handling);
  settle();
  EXPECT_TRUE(page().busy());
  window_.reset();
  QTest::qWait(200);
}

TEST_F(HandlingWindow, PartsThatWereGivenUpAreTriedAgainWhenThePageIsOpened) {
  click(QStringLiteral("handling.view.4"));
  settle();
  ASSERT_TRUE(page().busy());
  putAway();
  EXPECT_FALSE(page().busy());
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("handling.parts"))->rowCount(), 0);
  openPage(PlanWorkspace::Page::handling);
  ready();
  EXPECT_GT(find<QTableWidget>(QStringLiteral("handling.parts"))->rowCount(), 2);
}

TEST_F(HandlingWindow, TheLogWeighsTheTyresAndAdviceHasThreeVoices) {
  window_->showWorkspace(MainWindow::Job::track);
  settle();
  TrackWorkspace& track = window_->track();
  click(QStringLiteral("track.newRun"));
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::feel)));
  click(QStringLiteral("feel.phase.4"));
  click(QStringLiteral("feel.rear_grip.0"));
  click(QStringLiteral("track.page.%1").arg(static_cast<int>(TrackWorkspace::Page::advice)));
  AdvicePage& advice = track.advice();
  settle();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !advice.busy(); }, 120000));
  auto* table = find<QTableWidget>(QStringLiteral("advice.table"));
  ASSERT_GT(table->rowCount(), 2);
  EXPECT_TRUE(table->item(0, 3)->text().contains(QStringLiteral("mends"))) << table->item(0, 3)->text().toStdString();
  EXPECT_TRUE(text(QStringLiteral("advice.reasons")).contains(QStringLiteral("Three voices")));
  advice.showPage(AdvicePage::Page::tyres);
  EXPECT_TRUE(text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("all alike likely")));
  click(QStringLiteral("tyreLog.weigh"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !advice.busy(); }, 120000));
  EXPECT_TRUE(text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("of 256 tyres")) ||
              text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("No pair")))
      << text(QStringLiteral("tyreLog.news")).toStdString();
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("tyreLog.table"))->rowCount(), tyre_parameter_count);
  // Started over, nothing is left of it; the log itself is as it was.
  const std::size_t days = track.model().everything().size();
  click(QStringLiteral("tyreLog.over"));
  EXPECT_TRUE(text(QStringLiteral("tyreLog.news")).contains(QStringLiteral("all alike likely")));
  EXPECT_EQ(track.model().everything().size(), days);
}

}  // namespace
}  // namespace lowkite::app
