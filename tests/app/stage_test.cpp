// The stage and what stands around it: zoom about the pointer, rulers that go the way the car goes, parts that fold and
// are found, figures that are pinned, bench work that is ticked.
#include <limits>
#include <random>

#include <QAction>
#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QTableView>
#include <QToolButton>
#include <QWheelEvent>

#include "app/plan/work_list.h"
#include "app/words/wording.h"
#include "app/words/work_lines.h"
#include "core/car/part_group.hpp"
#include "core/plan/bench_work.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class StageTest : public WindowTest {
 protected:
  Stage& stage() { return window_->plan().stage(); }
  AxleView& front() { return *find<AxleView>(QStringLiteral("axleView")); }
  void wheel(QWidget& on, const QPointF& at, int notches, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QWheelEvent e(at, on.mapToGlobal(at), {}, QPoint(0, 120 * notches), Qt::NoButton, with, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&on, &e);
    settle();
  }
};

TEST_F(StageTest, TheWheelBringsTheEyeNearerAboutThePointer) {
  const FrontPlace place(30.0, 20.0);
  const QPointF at = front().toScreen(place);
  const double before = (front().toScreen({1, 0}) - front().toScreen({0, 0})).x();
  wheel(front(), at, 3);
  const QPointF after = front().toScreen(place);
  EXPECT_NEAR(after.x(), at.x(), 1e-6);
  EXPECT_NEAR(after.y(), at.y(), 1e-6);
  EXPECT_NEAR((front().toScreen({1, 0}) - front().toScreen({0, 0})).x(), before * 1.2 * 1.2 * 1.2, 1e-6);
  wheel(front(), at, -3);
  EXPECT_NEAR((front().toScreen({1, 0}) - front().toScreen({0, 0})).x(), before, 1e-6) << "there and back";
  EXPECT_NEAR(front().toScreen({0, 0}).x(), front().width() / 2.0, 1e-6);
}

TEST_F(StageTest, ShiftWithADragMovesThePictureAndFitBringsItBack) {
  const QPointF before = front().toScreen({0, 0});
  const ViewAttitude level = model().attitude();
  const QPoint from = front().rect().center() + QPoint(0, -120);
  QTest::mousePress(&front(), Qt::LeftButton, Qt::ShiftModifier, from);
  QTest::mouseMove(&front(), from + QPoint(40, 10));
  QTest::mouseRelease(&front(), Qt::LeftButton, Qt::ShiftModifier, from + QPoint(40, 10));
  settle();
  EXPECT_NEAR(front().toScreen({0, 0}).x() - before.x(), 40.0, 1e-6);
  EXPECT_EQ(model().attitude(), level) << "the picture was moved, not the car";
  focusDrawing();
  key(Qt::Key_F);
  EXPECT_NEAR(front().toScreen({0, 0}).x(), before.x(), 1e-6);
}

TEST_F(StageTest, RulersGoTheWayTheCarGoes) {
  struct Case {
    const char* ruler;
    QPointF towards;  ///< of the ruler's size
    double (*read)(const ViewAttitude&);
    double sign;
  };
  for (const Case& c : {Case{"bump", {0.5, 0.9}, [](const ViewAttitude& a) { return a.bump_mm; }, 1.0},
                        Case{"roll", {0.9, 0.5}, [](const ViewAttitude& a) { return a.roll_rad; }, 1.0},
                        Case{"steer", {0.8, 0.5}, [](const ViewAttitude& a) { return a.servo_rad; }, -1.0},
                        Case{"pitch", {0.5, 0.9}, [](const ViewAttitude& a) { return a.pitch_rad; }, 1.0}}) {
    auto* ruler = find<Ruler>(QString::fromLatin1(c.ruler));
    const QPoint at(static_cast<int>(c.towards.x() * ruler->width()),
                    static_cast<int>(c.towards.y() * ruler->height()));
    QTest::mouseClick(ruler, Qt::LeftButton, Qt::NoModifier, at);
    settle();
    EXPECT_GT(c.sign * c.read(model().attitude()), 0.0) << c.ruler << ": " << ruler->reading().toStdString();
    QTest::mouseDClick(ruler, Qt::LeftButton, Qt::NoModifier, at);
    settle();
    EXPECT_EQ(c.read(model().attitude()), 0.0) << c.ruler << ": a double-click goes back";
  }
  // The left wheel of a car that steers to the right toes in.
  find<Ruler>(QStringLiteral("steer"))->setValue(-10);
  settle();
  EXPECT_TRUE(find<Ruler>(QStringLiteral("steer"))->reading().contains(QStringLiteral("right")));
}

TEST_F(StageTest, WhatLiesOutsideThePictureIsPointedTo) {
  openPage(PlanWorkspace::Page::rollCentre);
  stage().setZoom(DrawingView::Zoom::leftCorner);
  settle();
  front().grab();
  QStringList texts;
  for (const DrawingView::Written& w : front().written()) texts << w.text;
  EXPECT_FALSE(texts.filter(QStringLiteral("mm away")).isEmpty()) << texts.join(QLatin1Char('\n')).toStdString();
}

TEST_F(StageTest, FrontAndRearRollCentreAreToldInOneLine) {
  stage().showView(Stage::View::side);
  stage().setZoom(DrawingView::Zoom::car);
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  stage().drawing().grab();
  const auto rc = [&](const Variant& v, End end) { return v.source.car.axle[at(end)].roll_centre.moving->height; };
  const Comparison& c = *model().comparison();
  const double apart = rc(*c.changed, End::rear) - rc(*c.changed, End::front);
  const double was = rc(*c.baseline, End::rear) - rc(*c.baseline, End::front);
  QString told;
  for (const DrawingView::Written& w : stage().drawing().written())
    if (w.text.contains(QStringLiteral("Rear roll centre"))) told = w.text;
  EXPECT_TRUE(told.contains(QString::number(std::abs(apart), 'f', 1))) << told.toStdString();
  EXPECT_TRUE(told.contains(QString::number(std::abs(was), 'f', 1))) << told.toStdString();
}

TEST_F(StageTest, PartsFoldAreFoundAndStandFirstWhenChanged) {
  auto* links = find<QAbstractButton>(QStringLiteral("parts.group.1"));
  auto* row = find<QWidget>(QStringLiteral("adjuster.front_link_inner_shims"));
  ASSERT_TRUE(row->isVisible());
  links->click();
  settle();
  EXPECT_FALSE(row->isVisible());
  EXPECT_TRUE(links->text().contains(QLatin1Char('(')));
  // Taken in hand from elsewhere it is in sight again.
  model().setPart(part("front_link_inner_shims"));
  settle();
  EXPECT_TRUE(row->isVisible());
  find<QLineEdit>(QStringLiteral("parts.find"))->setText(QStringLiteral("caster"));
  settle();
  EXPECT_FALSE(row->isVisible());
  EXPECT_TRUE(find<QWidget>(QStringLiteral("adjuster.front_caster_block"))->isVisible());
  find<QLineEdit>(QStringLiteral("parts.find"))->clear();
  settle();
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  click(QStringLiteral("parts.changedFirst"));
  EXPECT_LT(row->mapTo(window_.get(), QPoint()).y(),
            find<QWidget>(QStringLiteral("adjuster.front_caster_block"))->mapTo(window_.get(), QPoint()).y());
}

TEST_F(StageTest, ARowDoesNotLeaveTheHandThatStepsIt) {
  click(QStringLiteral("parts.changedFirst"));
  auto* more = find<QAbstractButton>(QStringLiteral("adjuster.front_caster_block.more"));
  const QPoint before = more->mapTo(window_.get(), QPoint());
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  model().setPart(part("front_caster_block"));
  more->click();
  settle();
  EXPECT_EQ(more->mapTo(window_.get(), QPoint()).x(), before.x());
  auto* list = more->parentWidget()->parentWidget();
  EXPECT_GT(find<QWidget>(QStringLiteral("adjuster.front_link_inner_shims"))->mapTo(list, QPoint()).y(),
            find<QWidget>(QStringLiteral("adjuster.front_caster_block"))->mapTo(list, QPoint()).y())
      << "what is changed since stays where it was until it is asked for again";
}

TEST_F(StageTest, OnlyWhatCanBeTypedSaysSoInTheDrawing) {
  front().grab();
  auto* figures = qobject_cast<FigureModel*>(find<QTableView>(QStringLiteral("figures.table"))->model());
  int typed = 0;
  for (const DrawingView::Written& w : front().written()) {
    if (w.figure.empty()) continue;
    ++typed;
    EXPECT_TRUE(figures->flags(figures->index(figures->rowOf(w.figure), FigureModel::changed)) & Qt::ItemIsEditable)
        << w.text.toStdString();
  }
  EXPECT_EQ(typed, 4) << "camber and toe of both wheels";
}

TEST_F(StageTest, APartAtItsEndSaysWhy) {
  model().setPart(part("front_link_inner_shims"));
  for (int i = 0; i < 40; ++i) key(Qt::Key_Down);
  auto* end = find<QLabel>(QStringLiteral("adjuster.front_link_inner_shims.end"));
  EXPECT_TRUE(end->isVisible());
  EXPECT_FALSE(end->text().isEmpty());
  EXPECT_FALSE(find<QWidget>(QStringLiteral("adjuster.front_link_inner_shims.less"))->isEnabled());
  key(Qt::Key_Up);
  EXPECT_FALSE(end->isVisible());
  // Every end of every part of every car has its words, and nothing else has.
  for (const char* car : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(car)))));
    for (const Adjuster& a : document().car().adjusters) {
      EXPECT_FALSE(endReason(a, a.most(), 1).isEmpty()) << a.id;
      EXPECT_FALSE(endReason(a, a.least(), -1).isEmpty()) << a.id;
      EXPECT_EQ(endReason(a, a.least(), 1).isEmpty(), a.stepped(a.least(), 1) != a.least()) << a.id;
    }
  }
}

TEST_F(StageTest, PinnedFiguresStandOnTopAndOnlyWhatMovedIsLeft) {
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  auto* figures = qobject_cast<FigureModel*>(table->model());
  EXPECT_LT(figures->rowOf("camber"), figures->rowOf("track"));
  EXPECT_EQ(figures->rowOf("camber"), 1) << "under the heading";
  figures->setPinned({QStringLiteral("scrub_radius"), QStringLiteral("camber")});
  EXPECT_EQ(figures->rowOf("scrub_radius"), 1);
  EXPECT_EQ(figures->rowOf("camber"), 2);
  int rows = 0;
  for (int i = 0; i < figures->rowCount(); ++i)
    rows += figures->index(i, 0).data().toString() == QStringLiteral("camber");
  EXPECT_EQ(rows, 1) << "told once";
  click(QStringLiteral("figures.onlyMoved"));
  for (int i = 0; i < figures->rowCount(); ++i) EXPECT_TRUE(table->isRowHidden(i)) << "nothing is changed";
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_FALSE(table->isRowHidden(figures->rowOf("roll_centre")));
  EXPECT_TRUE(table->isRowHidden(figures->rowOf("wheelbase")));
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")))));
  settle();
  EXPECT_EQ(
      qobject_cast<FigureModel*>(find<QTableView>(QStringLiteral("figures.table"))->model())->rowOf("scrub_radius"), 1)
      << "kept over a restart";
}

TEST_F(StageTest, BenchWorkIsNumberedTimedAndTicked) {
  document().setValue(part("front_hub_shims"), Sides::both,
                      document().car().adjusters[part("front_hub_shims")].stepped(value("front_hub_shims"), 1));
  settle();
  const QStringList lines = work().split(QLatin1Char('\n'));
  ASSERT_GT(lines.size(), 2);
  EXPECT_TRUE(lines[0].startsWith(QStringLiteral("1."))) << lines[0].toStdString();
  EXPECT_TRUE(lines[0].contains(QStringLiteral("Wheels off"))) << "first what has to come off";
  EXPECT_TRUE(lines[1].startsWith(QStringLiteral("2."))) << lines[1].toStdString();
  auto* first = find<QCheckBox>(QStringLiteral("work.tick.0"));
  QTest::mouseClick(first, Qt::LeftButton, Qt::NoModifier, first->rect().center());
  settle();
  EXPECT_TRUE(first->isChecked());
  click(QStringLiteral("sides.1"));
  EXPECT_TRUE(first->isChecked()) << "a tick stays while its line does";
  // Taken over, all of it is done.
  click(QStringLiteral("work.apply"));
  for (int i = 0; i < 3; ++i) {
    const auto* tick = window_->findChild<QCheckBox*>(QStringLiteral("work.tick.%1").arg(i));
    EXPECT_TRUE(!tick || !tick->isVisible() || tick->isChecked()) << i;
  }
  click(QStringLiteral("pin"));
  EXPECT_FALSE(first->isVisible()) << "the baseline has it: nothing is left to do";
}

/// On all cars: the lines' minutes make the whole that a search would rank by, and no change is left out.
TEST(WorkLines, TellEveryChangeOfEveryPartWithItsTime) {
  for (const char* name : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    const auto opened = openFile(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(name))));
    ASSERT_TRUE(opened);
    const Car& car = *opened->car;
    const lowkite::Setup kit = kit_setup(car);
    for (const PartHandle i : car.adjusters.handles()) {
      const Adjuster& a = car.adjusters[i];
      lowkite::Setup changed = kit;
      const double to = a.stepped(a.kit, 1) != a.kit ? a.stepped(a.kit, 1) : a.stepped(a.kit, -1);
      if (to == a.kit) continue;
      changed.values[i] = {to, to};
      const auto c = compare(car, kit, changed, {}, {}, 3);
      if (!c) continue;
      const std::vector<WorkLine> lines = workLines(car, *c, {});
      double minutes = 0.0;
      int own = 0;
      for (const WorkLine& l : lines) {
        minutes += l.minutes;
        own += l.kind == WorkLine::Kind::job && l.text.startsWith(partTitle(a) + QLatin1Char(':'));
        EXPECT_FALSE(l.text.isEmpty());
        EXPECT_EQ(l.text[0], l.text[0].toUpper()) << l.text.toStdString();
        EXPECT_TRUE(l.kind == WorkLine::Kind::job || l.minutes == 0.0) << l.text.toStdString();
      }
      EXPECT_EQ(own, 1) << name << " " << a.id;
      EXPECT_GE(minutes, work_for(car, std::array{i}, 0).minutes - 1e-9) << name << " " << a.id;
    }
  }
}

TEST(PartGroups, HoldEveryPartOnceInTheOrderOfTheHand) {
  for (const char* name : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    const auto opened = openFile(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(name))));
    ASSERT_TRUE(opened);
    const Car& car = *opened->car;
    std::size_t count = 0;
    for (const End end : both_ends) {
      const std::vector<PartHandle> order = parts_by_group(car, end);
      count += order.size();
      for (std::size_t i = 1; i < order.size(); ++i)
        EXPECT_LE(group_of(car, car.adjusters[order[i - 1]]), group_of(car, car.adjusters[order[i]]));
    }
    EXPECT_EQ(count, car.adjusters.size());
    for (const Adjuster& a : car.adjusters) {
      const PartGroup g = group_of(car, a);
      EXPECT_EQ(g == PartGroup::steering, a.steering) << a.id;
      const auto named = [&](const char* word) { return a.id.find(word) != std::string::npos; };
      EXPECT_TRUE(!named("_bar") || g == PartGroup::bar) << name << " " << a.id;
      EXPECT_TRUE(!named("_spring") || g == PartGroup::shock) << name << " " << a.id;
      EXPECT_TRUE(!named("battery") || g == PartGroup::weights) << name << " " << a.id;
    }
  }
}

TEST(LineWithin, IsThePartThatIsSeenAndNothingElse) {
  const QRectF box(0, 0, 100, 50);
  EXPECT_EQ(within({10, 10, 20, 20}, box), QLineF(10, 10, 20, 20)) << "all of it";
  EXPECT_EQ(within({-100, 25, 1e9, 25}, box), QLineF(0, 25, 100, 25)) << "both ends far away";
  EXPECT_EQ(within({50, -10, 50, 1e7}, box), QLineF(50, 0, 50, 50));
  EXPECT_FALSE(within({-10, -10, -20, 200}, box)) << "beside it";
  EXPECT_FALSE(within({0, 60, 100, 1e12}, box)) << "under it";
  EXPECT_FALSE(within({0, 0, std::numeric_limits<double>::infinity(), 1}, box));
  EXPECT_FALSE(within({0, 0, std::numeric_limits<double>::quiet_NaN(), 1}, box));
  // Held against points taken along the line: what is in the box is on the part, and the part is in the box.
  std::mt19937 random(3);
  std::uniform_real_distribution<double> at(-300.0, 300.0);
  for (int i = 0; i < 500; ++i) {
    const QLineF line(at(random), at(random), at(random), at(random));
    const auto seen = within(line, box);
    int inside = 0;
    for (int k = 0; k <= 1000; ++k) inside += box.contains(line.pointAt(k / 1000.0));
    EXPECT_NEAR(seen ? seen->length() / line.length() : 0.0, inside / 1000.0, 0.003);
  }
}

}  // namespace
}  // namespace lowkite::app
