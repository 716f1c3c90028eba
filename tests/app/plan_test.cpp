// The first slice as a racer uses it: take a shim out, read what it does and what to re-set.
#include <cmath>

#include <QAbstractItemModelTester>
#include <QApplication>
#include <QChart>
#include <QChartView>
#include <QClipboard>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QLineSeries>
#include <QMenu>
#include <QPushButton>
#include <QSignalSpy>
#include <QSlider>
#include <QTableView>
#include <QTableWidget>
#include <QToolButton>
#include <QWheelEvent>

#include "app/drawing/part_glyph.h"
#include "app/plan/read/gauge_panel.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

using Column = FigureModel::Column;

class Plan : public WindowTest {};

TEST_F(Plan, TakingAShimOutShowsWhatMovedAndTheTurnsThatPutItBack) {
  EXPECT_TRUE(difference("roll_centre", Column::changed).isEmpty());
  for (int i = 0; i < 4; ++i) click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 1.0);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims", Side::right), 1.0);
  for (const char* id : {"roll_centre", "camber_gain", "camber", "toe", "track", "bump_steer"})
    EXPECT_FALSE(difference(id, Column::changed).isEmpty()) << id;
  // After the re-set the angles are back, and what is left is what the shim was for.
  EXPECT_EQ(figure("camber", Column::reset), figure("camber", Column::baseline));
  EXPECT_FALSE(difference("roll_centre", Column::reset).isEmpty());
  EXPECT_TRUE(difference("roll_centre", Column::reset).startsWith(QLatin1Char('+')))
      << "less shim under the inner ball raises the roll centre";
  const QString told = work();
  EXPECT_TRUE(told.contains(QStringLiteral("both front camber links"))) << told.toStdString();
  EXPECT_TRUE(told.contains(QStringLiteral("turn (")));
}

TEST_F(Plan, TheFiguresOnScreenAreTheCoresFigures) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  const auto v = evaluate(document().car(), document().setup(), {}, PlanModel::curveSamples);
  ASSERT_TRUE(v);
  const double expected = *find_figure("roll_centre")->read(v->source, End::front, Side::left);
  EXPECT_EQ(figure("roll_centre", Column::changed), QString::number(expected, 'f', 1));
}

TEST_F(Plan, UpAndDownStepThePartInHandByOneRealStep) {
  model().setPart(part("front_link_inner_shims"));
  key(Qt::Key_Down);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 1.75);
  key(Qt::Key_Up);
  key(Qt::Key_Up);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 2.25);
}

TEST_F(Plan, AllOfItWorksByKeyboardAlone) {
  key(Qt::Key_PageDown);  // the first part from the wheel inward
  ASSERT_TRUE(model().part());
  const std::vector<PartHandle> order = document().car().adjusters_from_the_wheel(End::front);
  EXPECT_EQ(model().part(), order.front());
  while (model().part() != part("front_link_inner_shims")) key(Qt::Key_PageDown);
  key(Qt::Key_Down);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 1.75);
  key(Qt::Key_B, Qt::ControlModifier);
  EXPECT_EQ(document().baseline(), document().setup());
  key(Qt::Key_2, Qt::ControlModifier);
  EXPECT_EQ(model().end(), End::rear);
  key(Qt::Key_Down, Qt::AltModifier);
  EXPECT_DOUBLE_EQ(model().attitude().bump_mm, 0.5);
  key(Qt::Key_Right, Qt::AltModifier);
  EXPECT_NEAR(model().attitude().roll_rad, radians(0.1), 1e-12);
  key(Qt::Key_L, Qt::ControlModifier);
  EXPECT_EQ(model().attitude(), ViewAttitude{});
  key(Qt::Key_Z, Qt::ControlModifier);
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 2.0);
}

TEST_F(Plan, ABallInTheDrawingIsPickedAndStepped) {
  auto* view = find<AxleView>(QStringLiteral("axleView"));
  const auto at = view->gripAt(part("front_link_inner_shims"), Side::left);
  ASSERT_TRUE(at);
  EXPECT_LT(at->x(), view->width() / 2.0) << "the car's left is on the left of the picture";
  QTest::mouseClick(view, Qt::LeftButton, Qt::NoModifier, at->toPoint());
  settle();
  // Its shims and its hole meet in the same ball: one of them is in hand, and clicking again takes the other.
  const PartHandle first = model().part();
  EXPECT_TRUE(first == part("front_link_inner_shims") || first == part("front_link_hole"));
  QTest::mouseClick(view, Qt::LeftButton, Qt::NoModifier, at->toPoint());
  EXPECT_NE(model().part(), first);
  model().setPart(part("front_link_inner_shims"));
  const auto turn = [&](Qt::KeyboardModifiers with) {
    QWheelEvent wheel(*at, view->mapToGlobal(*at), {}, QPoint(0, -120), Qt::NoButton, with, Qt::NoScrollPhase, false);
    QApplication::sendEvent(view, &wheel);
  };
  turn(Qt::ControlModifier);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 1.75);
  turn(Qt::NoModifier);
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 1.75) << "alone the wheel only brings the eye nearer";
}

TEST_F(Plan, ABallMovesInTheDrawingOnlyAsFarAsItsShim) {
  auto* view = find<AxleView>(QStringLiteral("axleView"));
  const QPointF before = *view->gripAt(part("front_link_inner_shims"), Side::right);
  const double px = view->toScreen({0, 0}).y() - view->toScreen({0, 1}).y();
  model().setPart(part("front_link_inner_shims"));
  for (int i = 0; i < 4; ++i) key(Qt::Key_Down);
  const QPointF after = *view->gripAt(part("front_link_inner_shims"), Side::right);
  EXPECT_NEAR(after.y() - before.y(), px * 1.0, 0.25);
  EXPECT_NEAR(after.x(), before.x(), 0.25);
}

TEST_F(Plan, HolesAndBlocksAreChosenByAClickOnThem) {
  auto* holes = find<PartGlyph>(QStringLiteral("adjuster.front_link_hole.glyph"));
  QTest::mouseClick(holes, Qt::LeftButton, Qt::NoModifier, holes->positionRect(2).center().toPoint());
  settle();
  EXPECT_EQ(value("front_link_hole"), 2.0);
  auto* block = find<PartGlyph>(QStringLiteral("adjuster.front_caster_block.glyph"));
  QTest::mouseClick(block, Qt::LeftButton, Qt::NoModifier, block->positionRect(0).center().toPoint());
  settle();
  EXPECT_EQ(value("front_caster_block"), 0.0);
  EXPECT_TRUE(difference("caster", Column::changed).startsWith(QChar(0x2212)));
}

TEST_F(Plan, LeftAndRightAreSteppedTogetherOrApart) {
  click(QStringLiteral("sides.1"));
  click(QStringLiteral("adjuster.front_camber_link.more"));
  EXPECT_DOUBLE_EQ(value("front_camber_link", Side::left), 0.125);
  EXPECT_DOUBLE_EQ(value("front_camber_link", Side::right), 0.0);
  EXPECT_FALSE(difference("camber", Column::changed).isEmpty());
  click(QStringLiteral("sides.2"));
  EXPECT_TRUE(difference("camber", Column::changed).isEmpty()) << "the right wheel has not moved";
  click(QStringLiteral("sides.0"));
  EXPECT_TRUE(figure("camber", Column::changed).contains(QStringLiteral("L "))) << "both are told where they differ";
  const QString told = work();
  EXPECT_FALSE(told.contains(QStringLiteral("front camber link")))
      << "a link in hand is not turned back: " << told.toStdString();
}

TEST_F(Plan, EveryEditIsUndoneAndRedone) {
  const lowkite::Setup kit = document().setup();
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  click(QStringLiteral("adjuster.front_tie_rod.more"));
  click(QStringLiteral("rideHeight.more"));
  click(QStringLiteral("pin"));
  click(QStringLiteral("adjuster.front_link_hole.more"));
  click(QStringLiteral("work.apply"));
  const lowkite::Setup last = document().setup();
  int undone = 0;
  while (document().undoStack().canUndo()) {
    click(QStringLiteral("undo"));
    ++undone;
  }
  EXPECT_EQ(undone, 6);
  EXPECT_EQ(document().setup(), kit);
  EXPECT_EQ(document().baseline(), kit);
  while (document().undoStack().canRedo()) click(QStringLiteral("redo"));
  EXPECT_EQ(document().setup(), last);
}

TEST_F(Plan, StepsOfOnePartInARowAreOneUndo) {
  model().setPart(part("front_link_inner_shims"));
  for (int i = 0; i < 3; ++i) key(Qt::Key_Down);
  EXPECT_EQ(document().undoStack().count(), 1);
  for (int i = 0; i < 3; ++i) key(Qt::Key_Up);
  EXPECT_FALSE(document().isModified()) << "stepped there and back: nothing happened";
}

TEST_F(Plan, DoneOnTheBenchTakesTheTurnsOver) {
  for (int i = 0; i < 4; ++i) click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  const lowkite::Setup wanted = model().comparison()->reset->setup;
  click(QStringLiteral("work.apply"));
  EXPECT_EQ(document().setup(), wanted);
  EXPECT_TRUE(work().contains(QStringLiteral("Nothing has to be put back."))) << work().toStdString();
  EXPECT_EQ(figure("camber", Column::changed), figure("camber", Column::baseline));
}

TEST_F(Plan, HoldsCanBeSwitchedOffOneByOne) {
  for (int i = 0; i < 4; ++i) click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  find<QAction>(QStringLiteral("hold.camber"))->trigger();
  settle();
  EXPECT_FALSE(work().contains(QStringLiteral("front camber link")));
  EXPECT_FALSE(difference("camber", Column::reset).isEmpty());
  find<QAction>(QStringLiteral("hold.toe"))->trigger();
  settle();
  find<QAction>(QStringLiteral("hold.droop"))->trigger();
  settle();
  for (const char* rest : {"hold.ride", "hold.caster", "hold.endPoints"})
    find<QAction>(QString::fromLatin1(rest))->trigger();
  settle();
  EXPECT_TRUE(work().contains(QStringLiteral("Nothing is held, so nothing is put back."))) << work().toStdString();
}

TEST_F(Plan, PinningMakesTheseFiguresTheBaseline) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_FALSE(difference("roll_centre", Column::changed).isEmpty());
  click(QStringLiteral("pin"));
  EXPECT_TRUE(difference("roll_centre", Column::changed).isEmpty());
  EXPECT_FALSE(find<QWidget>(QStringLiteral("pin"))->isEnabled());
}

TEST_F(Plan, TheAxleMovesInBumpAndRollWithTheSliders) {
  auto* bump = find<QSlider>(QStringLiteral("bump"));
  bump->setFocus();
  for (int i = 0; i < 4; ++i) key(Qt::Key_Down);
  EXPECT_DOUBLE_EQ(model().attitude().bump_mm, 2.0);
  EXPECT_EQ(find<Ruler>(QStringLiteral("bump"))->reading(), QStringLiteral("bump 2.0 mm"));
  auto* roll = find<QSlider>(QStringLiteral("roll"));
  roll->setFocus();
  for (int i = 0; i < 10; ++i) key(Qt::Key_Right);
  EXPECT_NEAR(degrees(model().attitude().roll_rad), 1.0, 1e-9);
  EXPECT_TRUE(figure("camber", Column::baseline).contains(QStringLiteral("R "))) << "in roll the two wheels differ";
  click(QStringLiteral("level"));
  EXPECT_EQ(bump->value(), 0);
  EXPECT_EQ(roll->value(), 0);
}

TEST_F(Plan, ArrowKeysOnASliderDoNotStepAPart) {
  model().setPart(part("front_link_inner_shims"));
  find<QSlider>(QStringLiteral("bump"))->setFocus();
  key(Qt::Key_Down);  // the car goes down
  EXPECT_DOUBLE_EQ(value("front_link_inner_shims"), 2.0);
  EXPECT_DOUBLE_EQ(model().attitude().bump_mm, 0.5);
}

TEST_F(Plan, SwitchingTheAxleShowsItsOwnPartsAndFigures) {
  EXPECT_NE(window_->findChild<QWidget*>(QStringLiteral("adjuster.front_tie_rod")), nullptr);
  click(QStringLiteral("axle.1"));
  EXPECT_EQ(window_->findChild<QWidget*>(QStringLiteral("adjuster.front_tie_rod")), nullptr);
  find<QWidget>(QStringLiteral("adjuster.rear_hub_shims"));
  auto* figures = qobject_cast<FigureModel*>(find<QTableView>(QStringLiteral("figures.table"))->model());
  EXPECT_EQ(figures->rowOf("caster"), -1) << "there is no kingpin at the rear";
  click(QStringLiteral("adjuster.rear_hub_shims.more"));
  EXPECT_TRUE(work().contains(QStringLiteral("Rear collars 0.4 mm down the shock"))) << work().toStdString();
  EXPECT_TRUE(work().contains(QStringLiteral("both rear droop screws"))) << work().toStdString();
}

// A buggy, whose shocks stop the hanging wheel: another hole takes droop, spacers inside the shocks give it back, and
// what the hand changes of them itself is left.
TEST_F(Plan, DroopOfABuggyIsGivenBackBySpacersInTheShock) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/dunlin-4wd.kite-car.json"))));
  settle();
  click(QStringLiteral("axle.1"));
  const QString before = figure("droop", Column::baseline);
  click(QStringLiteral("adjuster.rear_shock_upper_hole.more"));
  EXPECT_NE(figure("droop", Column::changed), before);
  EXPECT_TRUE(work().contains(QStringLiteral("More spacers inside both rear shocks: 2 mm \u2192 6 mm")))
      << work().toStdString();
  click(QStringLiteral("work.apply"));
  EXPECT_EQ(value("rear_shock_spacers"), 6.0);
  EXPECT_EQ(value("rear_shock_spacers", Side::right), 6.0);
  EXPECT_FALSE(work().contains(QStringLiteral("More spacers"))) << work().toStdString();
  click(QStringLiteral("undo"));
  click(QStringLiteral("undo"));
  // A shock that is opened only for the droop comes off, too, and is told once.
  click(QStringLiteral("adjuster.rear_hub_insert.less"));
  EXPECT_TRUE(work().contains(QStringLiteral("spacers inside both rear shocks"))) << work().toStdString();
  EXPECT_EQ(work().count(QStringLiteral("Shocks off")), 1) << work().toStdString();
  click(QStringLiteral("undo"));
  // Less droop on purpose.
  click(QStringLiteral("adjuster.rear_shock_spacers.more"));
  EXPECT_FALSE(work().contains(QStringLiteral("Fewer spacers"))) << work().toStdString();
  EXPECT_TRUE(work().contains(QStringLiteral("Rear: spacers inside the shock: 2 mm"))) << work().toStdString();
  const QString wanted = figure("droop", Column::reset);
  EXPECT_NE(wanted, before);
  // The other hole again: the droop that was chosen is what comes back.
  click(QStringLiteral("adjuster.rear_shock_lower_hole.more"));
  EXPECT_TRUE(work().contains(QStringLiteral("Fewer spacers inside both rear shocks"))) << work().toStdString();
  // Its screws are out of use until they are turned in.
  EXPECT_FALSE(work().contains(QStringLiteral("droop screw"))) << work().toStdString();
}

TEST_F(Plan, ADroopScrewTurnedByHandIsLeft) {
  click(QStringLiteral("adjuster.front_droop_screw.more"));
  EXPECT_TRUE(work().contains(QStringLiteral("Front: droop screw"))) << work().toStdString();
  EXPECT_FALSE(work().contains(QStringLiteral("both front droop screws"))) << work().toStdString();
  EXPECT_NE(figure("droop", Column::reset), figure("droop", Column::baseline));
  click(QStringLiteral("adjuster.front_droop_screw.less"));
  EXPECT_FALSE(document().isModified());
}

TEST_F(Plan, TheRideHeightIsAnEditLikeAnyOther) {
  auto* height = find<QDoubleSpinBox>(QStringLiteral("rideHeight"));
  height->setFocus();
  height->selectAll();
  QTest::keyClicks(height, QStringLiteral("6.2"));
  QTest::keyClick(height, Qt::Key_Return);
  settle();
  EXPECT_DOUBLE_EQ(document().setup().ride_height_mm[0], 6.2);
  key(Qt::Key_Z, Qt::ControlModifier);
  document().undoStack().setIndex(0);
  settle();
  EXPECT_DOUBLE_EQ(height->value(), 5.4);
}

TEST_F(Plan, TheCurvesShowTheCarNowAgainstTheBaseline) {
  openPage(PlanWorkspace::Page::curves);
  const auto lines = [&](const char* name) {
    QList<QList<QPointF>> points;
    for (QAbstractSeries* s : find<QChartView>(QString::fromLatin1(name))->chart()->series())
      points << qobject_cast<QLineSeries*>(s)->points();
    return points;
  };
  for (const char* name : {"curve.0", "curve.1", "curve.2"}) {
    ASSERT_EQ(lines(name).size(), 4) << "baseline, as changed, after the re-set, reading line";
    EXPECT_EQ(lines(name)[0], lines(name)[1]) << name;
  }
  for (int i = 0; i < 4; ++i) click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  for (const char* name : {"curve.0", "curve.1", "curve.2"}) EXPECT_NE(lines(name)[0], lines(name)[1]) << name;
  EXPECT_EQ(lines("curve.0")[0].size(), PlanModel::curveSamples);
  EXPECT_DOUBLE_EQ(lines("curve.0")[0].front().x(), -document().car().axle(End::front).travel.droop_mm);
  key(Qt::Key_Down, Qt::AltModifier);
  EXPECT_DOUBLE_EQ(lines("curve.0")[3].front().x(), 0.5) << "the reading line follows the drawing";
}

TEST_F(Plan, TheConstructionLightsUpStepByStep) {
  EXPECT_EQ(model().constructionStep(), -1);
  openPage(PlanWorkspace::Page::rollCentre);
  EXPECT_EQ(model().constructionStep(), 0);
  click(QStringLiteral("construction.3"));
  EXPECT_EQ(model().constructionStep(), 3);
  click(QStringLiteral("construction.3"));
  EXPECT_EQ(model().constructionStep(), 0);
  EXPECT_TRUE(text(QStringLiteral("construction.verdict")).contains(figure("roll_centre_drawn", Column::changed)));
  openPage(PlanWorkspace::Page::curves);
  EXPECT_EQ(model().constructionStep(), -1);
}

TEST_F(Plan, ASetupThatCannotStandIsSaidAndLeftByUndo) {
  document().setRideHeight(End::front, 60.0);
  settle();
  EXPECT_TRUE(work().contains(QStringLiteral("cannot stand")));
  EXPECT_FALSE(find<QWidget>(QStringLiteral("work.apply"))->isEnabled());
  // From the other axle a button leads to the one that cannot be.
  auto* there = find<QPushButton>(QStringLiteral("work.there"));
  EXPECT_FALSE(there->isVisible()) << "it is in hand";
  click(QStringLiteral("axle.1"));
  EXPECT_EQ(there->text(), QStringLiteral("Show the front axle"));
  click(QStringLiteral("work.there"));
  EXPECT_EQ(model().end(), End::front);
  EXPECT_FALSE(there->isVisible());
  click(QStringLiteral("axle.1"));
  click(QStringLiteral("undo"));
  EXPECT_FALSE(there->isVisible());
  click(QStringLiteral("axle.0"));
  EXPECT_TRUE(model().failure().isEmpty());
  EXPECT_TRUE(work().contains(QStringLiteral("Nothing is changed")));
}

TEST_F(Plan, TheFigureTableKeepsTheRulesOfItemModels) {
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  QAbstractItemModelTester tester(table->model(), QAbstractItemModelTester::FailureReportingMode::Fatal);
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  click(QStringLiteral("axle.1"));
  click(QStringLiteral("sides.1"));
  click(QStringLiteral("axle.0"));
}

TEST_F(Plan, CopiedFiguresAreATable) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
  const QStringList lines = QApplication::clipboard()->text().split(QLatin1Char('\n'), Qt::SkipEmptyParts);
  ASSERT_GT(lines.size(), 15);
  EXPECT_EQ(lines.front().count(QLatin1Char('\t')), 6);
  const QStringList row = lines.filter(QStringLiteral("roll centre, moving")).value(0).split(QLatin1Char('\t'));
  ASSERT_EQ(row.size(), 7);
  EXPECT_EQ(row[1], QStringLiteral("mm"));
  EXPECT_EQ(row[3], figure("roll_centre", Column::changed));
}

TEST_F(Plan, OneMoreDecimalIsShownOnRequest) {
  const auto decimals = [&] { return figure("roll_centre", Column::baseline).section(QLatin1Char('.'), 1).size(); };
  EXPECT_EQ(decimals(), 1);
  key(Qt::Key_D, Qt::ControlModifier);
  EXPECT_EQ(decimals(), 2);
}

TEST_F(Plan, ManyEditsAreComputedOnce) {
  QSignalSpy computed(&model(), &PlanModel::comparisonChanged);
  model().setPart(part("front_link_inner_shims"));
  for (int i = 0; i < 5; ++i) model().stepPart(-1);
  settle();
  EXPECT_EQ(computed.count(), 1);
}

TEST_F(Plan, UndoTakesATypedRideHeightBack) {
  auto* height = find<QDoubleSpinBox>(QStringLiteral("rideHeight"));
  const double before = document().setup().ride_height_mm[0];
  height->setFocus();
  height->selectAll();
  QTest::keyClicks(height, QStringLiteral("9"));
  QTest::keyClick(height, Qt::Key_Return);
  settle();
  EXPECT_EQ(document().setup().ride_height_mm[0], 9.0);
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Z, Qt::ControlModifier);
  settle();
  EXPECT_EQ(document().setup().ride_height_mm[0], before);
  EXPECT_EQ(height->value(), before) << "and the field says so";
  height->selectAll();
  QTest::keyClicks(height, QStringLiteral("12"));
  QTest::keyClick(height, Qt::Key_Z, Qt::ControlModifier);
  settle();
  EXPECT_EQ(height->value(), before) << "what was only typed is let go";
}

TEST_F(Plan, KeysInAnOpenListMoveNoPartBehindIt) {
  focusDrawing();
  model().setPart(part("front_link_inner_shims"));
  const double before = value("front_link_inner_shims");
  QMenu list(&*window_);
  for (const char* entry : {"one", "two", "three"}) list.addAction(QLatin1String(entry));
  list.popup(window_->mapToGlobal(QPoint(40, 40)));
  ASSERT_TRUE(QApplication::activePopupWidget());
  QTest::keyClick(&list, Qt::Key_Down);
  QTest::keyClick(&list, Qt::Key_Up);
  settle();
  EXPECT_EQ(value("front_link_inner_shims"), before);
  list.close();
  settle();
  focusDrawing();
  key(Qt::Key_Up);
  EXPECT_NE(value("front_link_inner_shims"), before) << "without a list they do";
}

TEST_F(Plan, UndoBringsTheHoldBackThatTryingLetGo) {
  ASSERT_TRUE(model().holds().hold_toe);
  lowkite::Setup next = document().setup();
  next.of(part("front_tie_rod")) = {1.0, 1.0};
  Q_EMIT window_->plan().planWanted({next, QStringLiteral("less toe"), document().setup(), LinkHolds::toe});
  settle();
  EXPECT_FALSE(model().holds().hold_toe);
  document().undoStack().undo();
  settle();
  EXPECT_TRUE(model().holds().hold_toe);
  EXPECT_EQ(value("front_tie_rod"), 0.0);
}

TEST_F(Plan, TheCountOfCheckStandsOnItsButton) {
  const auto label = [&] { return find<QToolButton>(QStringLiteral("top.check"))->text(); };
  QTest::qWait(350);
  const QString before = label();
  EXPECT_TRUE(before.startsWith(QStringLiteral("Check"))) << before.toStdString();
  document().setValue(part("front_tie_rod"), Sides::left, 2.0);
  settle();
  QTest::qWait(350);
  EXPECT_NE(label(), before);
  EXPECT_TRUE(label().startsWith(QStringLiteral("Check: "))) << label().toStdString();
}

TEST_F(Plan, WhatAnAxleHasOnceHasNoSides) {
  document().setValue(part("front_bar"), Sides::left, 0.0);
  EXPECT_EQ(value("front_bar", Side::left), value("front_bar", Side::right)) << "a bar's wire is one piece";
}

TEST_F(Plan, ACamberIsTypedWhereItStandsAndTheLinkIsTurned) {
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  auto* figures = table->model();
  const auto row = [&](const char* id) { return qobject_cast<FigureModel*>(figures)->rowOf(id); };
  const auto type = [&](const char* id, const QString& what) {
    const QModelIndex cell = figures->index(row(id), FigureModel::changed);
    table->scrollTo(cell);
    table->setFocus();
    table->setCurrentIndex(cell);
    table->edit(cell);
    auto* line = table->findChild<QLineEdit*>();
    ASSERT_NE(line, nullptr);
    line->selectAll();
    QTest::keyClicks(line, what);
    QTest::keyClick(line, Qt::Key_Return);
    settle();
  };
  type("camber", QStringLiteral("-2"));
  EXPECT_LT(value("front_camber_link"), 0.0) << "shorter";
  EXPECT_TRUE(figure("camber", FigureModel::changed).startsWith(QStringLiteral("\u22122.0")) ||
              figure("camber", FigureModel::changed).startsWith(QStringLiteral("\u22121.9")))
      << figure("camber", FigureModel::changed).toStdString();
  EXPECT_FALSE(work().contains(QStringLiteral("front camber link")))
      << "what is wanted is not put back: " << work().toStdString();
  type("toe", QStringLiteral("0.5 out"));
  EXPECT_TRUE(figure("toe", FigureModel::changed).contains(QStringLiteral("out")));
  type("toe", QStringLiteral("sideways"));
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("0.5 out or 1 in")));
  document().undoStack().undo();
  document().undoStack().undo();
  settle();
  EXPECT_EQ(value("front_camber_link"), 0.0);
}

TEST_F(Plan, RideHeightAndFullLockAreTypedWhereTheyStand) {
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  const auto type = [&](const char* id, const QString& what) {
    const QModelIndex cell =
        table->model()->index(qobject_cast<FigureModel*>(table->model())->rowOf(id), FigureModel::changed);
    table->scrollTo(cell);
    table->setCurrentIndex(cell);
    table->edit(cell);
    auto* line = table->findChild<QLineEdit*>();
    ASSERT_NE(line, nullptr) << id;
    line->selectAll();
    QTest::keyClicks(line, what);
    QTest::keyClick(line, Qt::Key_Return);
    settle();
  };
  type("ride_height", QStringLiteral("5.7"));
  EXPECT_EQ(document().setup().ride_height_mm[0], 5.7);
  type("ride_height", QStringLiteral("much"));
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("0 to 60 mm")));
  type("lock_inside", QStringLiteral("24"));
  EXPECT_EQ(document().setup().wanted_lock_deg, 24.0);
  EXPECT_EQ(figure("lock_inside", FigureModel::changed), QStringLiteral("24.0"));
  EXPECT_TRUE(work().contains(QStringLiteral("end points")) || work().contains(QStringLiteral("end points")))
      << work().toStdString();
  type("lock_inside", QStringLiteral("all"));
  EXPECT_FALSE(document().setup().wanted_lock_deg);
  // What follows from the parts alone takes no typing.
  const QModelIndex track =
      table->model()->index(qobject_cast<FigureModel*>(table->model())->rowOf("track"), FigureModel::changed);
  EXPECT_FALSE(table->model()->flags(track) & Qt::ItemIsEditable);
}

TEST_F(Plan, DroopIsTypedWhereItStandsAndWhatStopsTheWheelIsSet) {
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  auto* figures = qobject_cast<FigureModel*>(table->model());
  const auto droop = [&] { return figures->index(figures->rowOf("droop"), FigureModel::changed); };
  const auto type = [&](const QString& what) {
    table->scrollTo(droop());
    table->setCurrentIndex(droop());
    table->edit(droop());
    auto* line = table->findChild<QLineEdit*>();
    ASSERT_NE(line, nullptr);
    line->selectAll();
    QTest::keyClicks(line, what);
    QTest::keyClick(line, Qt::Key_Return);
    settle();
  };
  const auto reads = [&] { return figure("droop", FigureModel::changed).toDouble(); };
  const double screw = value("front_droop_screw");
  const double before = reads();
  type(QString::number(before - 1.0));
  EXPECT_GT(value("front_droop_screw"), screw) << "further in";
  EXPECT_NEAR(reads(), before - 1.0, 0.2);
  EXPECT_TRUE(model().comparison()->bench->droop.empty()) << "what is wanted is not put back";
  document().undoStack().undo();
  settle();
  EXPECT_EQ(value("front_droop_screw"), screw);
  type(QStringLiteral("60"));
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("0 to 40 mm")));
  type(QStringLiteral("39"));
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("droop"), Qt::CaseInsensitive))
      << text(QStringLiteral("banner.text")).toStdString();
  EXPECT_EQ(value("front_droop_screw"), screw) << "what cannot be is not begun";
  // A buggy's shock stops the wheel: more droop is spacers out of it.
  while (document().undoStack().canUndo()) document().undoStack().undo();
  window_->open(dataPath("cars/plover-2wd.kite-car.json"));
  model().setEnd(End::rear);
  settle();
  const double spacers = value("rear_shock_spacers"), hung = reads();
  type(QString::number(hung + 3.0));
  EXPECT_LT(value("rear_shock_spacers"), spacers);
  EXPECT_NEAR(reads(), hung + 3.0, 1.2) << "to half a spacer";
  // Read at the tyre with a gauge it is the same thing.
  openPage(PlanWorkspace::Page::gauges);
  settle();
  auto* panel = find<GaugePanel>(QStringLiteral("gauges"));
  for (std::size_t i = 0; i < panel->gauges().size(); ++i)
    if (panel->gauges()[i].kind == &gauge::tyre_droop)
      find<QTableWidget>(QStringLiteral("gauges.table"))->setCurrentCell(static_cast<int>(i), 0);
  auto* field = find<QDoubleSpinBox>(QStringLiteral("gauge.read.field"));
  const double gauge_reads = field->value();
  field->setValue(gauge_reads - 4.0);
  auto* make = find<QPushButton>(QStringLiteral("gauge.make"));
  ASSERT_TRUE(make->isVisible());
  QTest::mouseClick(make, Qt::LeftButton);
  settle();
  const auto now =
      reading(panel->gauges()[at(find<QTableWidget>(QStringLiteral("gauges.table"))->currentRow())],
              model().comparison()->changed->model, model().comparison()->changed->source, panel->bench(), Side::left);
  ASSERT_TRUE(now);
  EXPECT_NEAR(*now, gauge_reads - 4.0, 0.2) << "by the screw, which reaches it: no shock is opened";
  // A pod's is set by the spacers in its shock; where there are none, by nothing.
  while (document().undoStack().canUndo()) document().undoStack().undo();
  window_->open(dataPath("cars/sanderling-12.kite-car.json"));
  model().setEnd(End::rear);
  settle();
  EXPECT_TRUE(figures->flags(droop()) & Qt::ItemIsEditable);
  window_->open(dataPath("cars/wren-28.kite-car.json"));
  model().setEnd(End::rear);
  settle();
  EXPECT_TRUE(figures->rowOf("droop") < 0 || !(figures->flags(droop()) & Qt::ItemIsEditable));
}

// The front of a pan car stands on spacers: where it comes to stand is taken over once, and goes with the parts.
TEST_F(Plan, AHeightThatFollowsFromThePartsIsTakenOverOnce) {
  window_->open(dataPath("cars/sanderling-12.kite-car.json"));
  model().setEnd(End::front);
  settle();
  const lowkite::Setup kit = document().setup();
  const auto stands = [&] {
    settle();
    return model().comparison()->reset->setup.ride_height_mm[at(End::front)];
  };
  const PartHandle shims = document().car().find_adjuster("front_ride_shims");
  ASSERT_TRUE(document().step(shims, Sides::both, 1));
  const double one = stands();
  ASSERT_TRUE(document().step(shims, Sides::both, 1));
  const double two = stands();
  EXPECT_GT(std::abs(two - one), 0.2);
  ASSERT_TRUE(document().step(shims, Sides::both, -1));
  model().applyReset();
  EXPECT_NEAR(stands(), one, 1e-6) << "not once more";
  EXPECT_EQ(document().setup().ride_height_mm[at(End::front)], one);
  ASSERT_TRUE(document().step(shims, Sides::both, 1));
  EXPECT_NEAR(stands(), two, 0.02) << "but for what the links take";
  ASSERT_TRUE(document().step(shims, Sides::both, -1));
  EXPECT_NEAR(stands(), one, 1e-6);
  // Typed, it is as it was measured.
  document().setRideHeight(End::front, 4.4);
  EXPECT_EQ(stands(), 4.4);
}

TEST_F(Plan, AFigureWrittenInTheDrawingIsTypedByADoubleClick) {
  openPage(PlanWorkspace::Page::gauges);
  settle();
  auto* drawing = window_->plan().findChild<AxleView*>();
  ASSERT_NE(drawing, nullptr);
  const QRectF place = drawing->placeOfFigure("camber", Side::right);
  ASSERT_FALSE(place.isEmpty());
  QTest::mouseDClick(drawing, Qt::LeftButton, Qt::NoModifier, place.center().toPoint());
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  EXPECT_TRUE(table->isVisible()) << "the figures come up";
  auto* line = table->findChild<QLineEdit*>();
  ASSERT_NE(line, nullptr);
  line->selectAll();
  QTest::keyClicks(line, QStringLiteral("-1.6"));
  QTest::keyClick(line, Qt::Key_Return);
  settle();
  EXPECT_NE(value("front_camber_link", Side::right), 0.0);
  EXPECT_TRUE(drawing->figureAt(QPointF(3, 60)).empty());
}

TEST_F(Plan, ALinksLengthIsTypedInItsRowAsTheCaliperReadsIt) {
  auto* value = find<QLabel>(QStringLiteral("adjuster.front_camber_link.value"));
  const double was = link_length_mm(document().car(), document().setup(), part("front_camber_link"), Side::left);
  EXPECT_TRUE(value->text().contains(QStringLiteral(" mm"))) << value->text().toStdString();
  QTest::mouseDClick(value, Qt::LeftButton);
  auto* field = find<QDoubleSpinBox>(QStringLiteral("adjuster.front_camber_link.length"));
  ASSERT_TRUE(field && field->isVisible());
  EXPECT_NEAR(field->value(), was, 0.051) << "ball centres until the caliper is laid on otherwise";
  field->selectAll();
  QTest::keyClicks(field, QString::number(was - 0.5, 'f', 1));
  QTest::keyClick(field, Qt::Key_Return);
  settle();
  EXPECT_FALSE(field->isVisible());
  EXPECT_NEAR(link_length_mm(document().car(), document().setup(), part("front_camber_link"), Side::right), was - 0.5,
              0.1);
  EXPECT_FALSE(work().contains(QStringLiteral("front camber link")))
      << "what was typed is not put back: " << work().toStdString();
  const auto typed = document().setup();
  // Escape leaves it; a length no thread has is told.
  QTest::mouseDClick(value, Qt::LeftButton);
  QTest::keyClicks(field, QStringLiteral("99"));
  QTest::keyClick(field, Qt::Key_Escape);
  EXPECT_EQ(document().setup(), typed);
  QTest::mouseDClick(value, Qt::LeftButton);
  field->selectAll();
  QTest::keyClicks(field, QStringLiteral("99"));
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_EQ(document().setup(), typed);
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("thread")));
}

TEST_F(Plan, AGaugeCanBeMadeToReadWhatWasPutIn) {
  openPage(PlanWorkspace::Page::gauges);
  settle();
  auto* table = find<QTableWidget>(QStringLiteral("gauges.table"));
  auto* make = find<QPushButton>(QStringLiteral("gauge.make"));
  auto* panel = find<GaugePanel>(QStringLiteral("gauges"));
  const auto choose = [&](const GaugeSpec& kind) {
    for (std::size_t i = 0; i < panel->gauges().size(); ++i)
      if (panel->gauges()[i].kind == &kind) table->setCurrentCell(static_cast<int>(i), 0);
  };
  choose(gauge::camber);
  ASSERT_TRUE(make->isVisible());
  find<QDoubleSpinBox>(QStringLiteral("gauge.read.field"))->setValue(1.75);
  QTest::mouseClick(make, Qt::LeftButton);
  settle();
  EXPECT_TRUE(figure("camber", FigureModel::changed).contains(QStringLiteral("1.7")) ||
              figure("camber", FigureModel::changed).contains(QStringLiteral("1.8")))
      << figure("camber", FigureModel::changed).toStdString();
  choose(gauge::corner_scale);
  EXPECT_FALSE(make->isVisible()) << "no single part sets it";
}

TEST_F(Plan, UsualRangesStandBesideFiguresForTheSurfaceThatIsChosen) {
  const auto usual = [&](const char* id) {
    auto* figures = qobject_cast<FigureModel*>(find<QTableView>(QStringLiteral("figures.table"))->model());
    return figures->data(figures->index(figures->rowOf(id), 0), FigureModel::usualRole).toString();
  };
  EXPECT_EQ(usual("toe"), QStringLiteral("usual 0.5 to 1.5 out"));
  EXPECT_TRUE(usual("track").isEmpty());
  auto* button = find<QToolButton>(QStringLiteral("figures.usual"));
  EXPECT_TRUE(button->text().contains(QStringLiteral("asphalt"), Qt::CaseInsensitive)) << button->text().toStdString();
  const auto choose = [&](const QString& what) {
    Q_EMIT button->menu()->aboutToShow();
    for (QAction* a : button->menu()->actions())
      if (a->text().contains(what, Qt::CaseInsensitive)) return a->trigger();
    FAIL() << what.toStdString();
  };
  choose(QStringLiteral("carpet"));
  EXPECT_EQ(usual("toe"), QStringLiteral("usual 0 to 1 out"));
  window_ = newWindow();
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  window_->show();
  settle();
  button = find<QToolButton>(QStringLiteral("figures.usual"));
  EXPECT_EQ(usual("toe"), QStringLiteral("usual 0 to 1 out")) << "remembered";
  choose(QStringLiteral("not told"));
  EXPECT_TRUE(usual("toe").isEmpty());
}

}  // namespace
}  // namespace lowkite::app
