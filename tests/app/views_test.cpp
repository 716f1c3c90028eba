// The drawings from above, from the side and around; sliders, keys and dragging; curves, map, end points and gauges.
#include <cmath>

#include <QChart>
#include <QChartView>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineSeries>
#include <QListWidget>
#include <QMouseEvent>
#include <QSlider>
#include <QTableWidget>
#include <QTemporaryDir>

#include "app/drawing/car_view.h"
#include "app/plan/curves/curve_panel.h"
#include "app/plan/curves/steering_panel.h"
#include "app/plan/read/gauge_panel.h"
#include "app/plan/read/sensitivity_panel.h"
#include "app/plan/springs/load_panel.h"
#include "app/words/wording.h"
#include "core/plan/car_judge.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

using Column = FigureModel::Column;

class Views : public WindowTest {
 protected:
  void drag(QWidget* view, const QPoint& from, const QPoint& by) {
    QTest::mousePress(view, Qt::LeftButton, Qt::NoModifier, from);
    // QTest moves no pressed mouse offscreen; the event itself does.
    QMouseEvent move(QEvent::MouseMove, QPointF(from + by), view->mapToGlobal(QPointF(from + by)), Qt::NoButton,
                     Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(view, &move);
    QTest::mouseRelease(view, Qt::LeftButton, Qt::NoModifier, from + by);
    settle();
  }
  CarView* show(int view, const char* name) {
    click(QStringLiteral("view.%1").arg(view));
    auto* drawing = find<CarView>(QString::fromLatin1(name));
    EXPECT_TRUE(drawing->isVisible());
    return drawing;
  }
  void openCar(const char* id) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(id)))));
    settle();
  }
};

TEST_F(Views, FromAboveTheWheelsTurnWithTheServo) {
  CarView* top = show(1, "topView");
  find<QSlider>(QStringLiteral("steer"))->setValue(20);
  settle();
  EXPECT_NEAR(degrees(model().attitude().servo_rad), 20.0, 1e-9);
  EXPECT_TRUE(find<Ruler>(QStringLiteral("steer"))->reading().contains(QStringLiteral("left")));
  const auto& steering = model().comparison()->changed->source.car.steering;
  ASSERT_TRUE(steering && steering->ackermann);
  EXPECT_EQ(steering->ackermann->inside, Side::left);
  // The left tie rod's outer ball stands where the core has it, nose up and left on the left.
  const auto ball = top->gripAt(part("front_tie_outer_shims"), Side::left);
  const auto other = top->gripAt(part("front_tie_outer_shims"), Side::right);
  ASSERT_TRUE(ball && other);
  EXPECT_LT(ball->x(), other->x());
  const Variant& v = *model().comparison()->changed;
  const Vec3 in_car = point_in_chassis(v.model.corner(End::front, Side::left), v.pose.axle[0].corner[0],
                                       v.model.corner(End::front, Side::left).spec->point("tie_outer"));
  const QPointF expected = top->toScreen({v.pose.ground.forward.dot(in_car), v.pose.ground.left.dot(in_car), 0.0});
  EXPECT_LT(std::hypot(ball->x() - expected.x(), ball->y() - expected.y()), 1.0);
}

TEST_F(Views, DraggingFromAboveSteersAndFromTheSideMovesTheChassis) {
  CarView* top = show(1, "topView");
  drag(top, QPoint(8, 100), QPoint(60, 0));
  EXPECT_LT(model().attitude().servo_rad, radians(-5.0)) << "to the right";
  click(QStringLiteral("level"));
  EXPECT_EQ(model().attitude(), ViewAttitude{});
  CarView* side = show(2, "sideView");
  drag(side, QPoint(8, 60), QPoint(30, 20));
  EXPECT_GT(model().attitude().bump_mm, 0.5);
  EXPECT_NE(model().attitude().pitch_rad, 0.0);
  EXPECT_NE(find<Ruler>(QStringLiteral("pitch"))->reading(), QStringLiteral("pitch 0.0 deg"));
}

TEST_F(Views, DraggingInTheFrontViewBumpsAndRolls) {
  auto* view = find<AxleView>(QStringLiteral("axleView"));
  drag(view, QPoint(view->width() / 2, 30), QPoint(25, 12));
  EXPECT_GT(model().attitude().bump_mm, 0.5);
  EXPECT_GT(model().attitude().roll_rad, radians(1.0)) << "to the right";
}

TEST_F(Views, KeysSteerAndPitch) {
  focusDrawing();
  key(Qt::Key_Left, Qt::ControlModifier);
  EXPECT_NEAR(degrees(model().attitude().servo_rad), 1.0, 1e-9);
  key(Qt::Key_Down, Qt::ControlModifier);
  EXPECT_NEAR(degrees(model().attitude().pitch_rad), 0.1, 1e-9);
  EXPECT_GT(model().comparison()->changed->source.car.attitude.ride_height_mm[1],
            model().document().setup().ride_height_mm[1])
      << "nose down lifts the rear";
}

TEST_F(Views, PartsArePickedInEveryDrawing) {
  for (const auto& [index, name] : {std::pair(1, "topView"), std::pair(2, "sideView"), std::pair(3, "aroundView")}) {
    CarView* view = show(index, name);
    model().setPart({});
    const auto at = view->gripAt(part("front_tie_outer_shims"), Side::left);
    ASSERT_TRUE(at) << name;
    // Several balls may lie over each other: clicking again takes the next one.
    bool picked = false;
    for (int i = 0; i < 12 && !picked; ++i) {
      QTest::mouseClick(view, Qt::LeftButton, Qt::NoModifier, at->toPoint());
      picked = model().part() == part("front_tie_outer_shims");
    }
    EXPECT_TRUE(picked) << name;
  }
  const auto horn = find<CarView>(QStringLiteral("aroundView"))->gripAt(part("drag_link"), Side::left);
  EXPECT_TRUE(horn) << "parts of the steering can be picked too";
}

TEST_F(Views, AroundTheCarTurnsByHand) {
  CarView* view = show(3, "aroundView");
  window_->plan().stage().setZoom(DrawingView::Zoom::car);
  settle();
  const QPointF before = view->toScreen({0, 80, 20});
  drag(view, QPoint(6, 150), QPoint(40, 10));
  const QPointF after = view->toScreen({0, 80, 20});
  EXPECT_GT(std::hypot(after.x() - before.x(), after.y() - before.y()), 5.0);
  EXPECT_EQ(model().attitude(), ViewAttitude{}) << "turning the view moves no car";
}

TEST_F(Views, ASteeringPartHasOneValueWhicheverSideIsInHand) {
  model().setSides(Sides::right);
  model().setPart(part("servo_horn_hole"));
  EXPECT_TRUE(model().stepPart(1));
  EXPECT_EQ(value("servo_horn_hole", Side::left), value("servo_horn_hole", Side::right));
  EXPECT_EQ(value("servo_horn_hole"), 2.0);
}

TEST_F(Views, TheDroopScrewChangesDroopAndTheGauge) {
  openPage(PlanWorkspace::Page::gauges);
  auto* table = find<QTableWidget>(QStringLiteral("gauges.table"));
  const auto cell = [&](const char* gauge, int column) {
    for (int row = 0; row < table->rowCount(); ++row)
      if (table->item(row, 0)->text() == QLatin1String(gauge)) return table->item(row, column)->text();
    return QString();
  };
  const QString before = cell("down-stop gauge", 1);
  ASSERT_FALSE(before.isEmpty());
  model().setPart(part("front_droop_screw"));
  for (int i = 0; i < 8; ++i) model().stepPart(1);  // a whole turn in
  settle();
  EXPECT_NE(cell("down-stop gauge", 1), before);
  EXPECT_TRUE(cell("down-stop gauge", 1).startsWith(QChar(0x25C6)));
  const auto v = evaluate(document().car(), document().setup(), {}, 5);
  for (const Gauge& g : gauges_of(document().car()))
    if (g.kind == &gauge::down_stop && g.end == End::front) {
      const BenchKit& bench = find<GaugePanel>(QStringLiteral("gauges"))->bench();
      EXPECT_EQ(cell("down-stop gauge", 1),
                QStringLiteral("\u25C6 %1").arg(number(*reading(g, v->model, v->source, bench, Side::left), 1)));
    }
}

TEST_F(Views, AGaugeReadingIsAnsweredWithTurns) {
  openPage(PlanWorkspace::Page::gauges);
  auto* table = find<QTableWidget>(QStringLiteral("gauges.table"));
  for (int row = 0; row < table->rowCount(); ++row)
    if (table->item(row, 0)->text() == QStringLiteral("camber gauge")) table->setCurrentCell(row, 0);
  auto* read = find<QDoubleSpinBox>(QStringLiteral("gauge.read.field"));
  ASSERT_TRUE(read->isEnabled());
  EXPECT_TRUE(text(QStringLiteral("gauge.answer")).contains(QStringLiteral("As it should")));
  read->setValue(-2.5);
  settle();
  const QString answer = text(QStringLiteral("gauge.answer"));
  EXPECT_TRUE(answer.contains(QStringLiteral("Camber link, left: lengthen"))) << answer.toStdString();
  EXPECT_TRUE(answer.contains(QStringLiteral("turn")));
  click(QStringLiteral("gauge.side.1"));
  EXPECT_TRUE(text(QStringLiteral("gauge.answer")).contains(QStringLiteral("Camber link, right")));
}

TEST_F(Views, BlocksAndCaliperConventionsShiftTheReadings) {
  openPage(PlanWorkspace::Page::gauges);
  auto* panel = find<GaugePanel>(QStringLiteral("gauges"));
  auto* table = find<QTableWidget>(QStringLiteral("gauges.table"));
  const auto cell = [&](const char* gauge) {
    for (int row = 0; row < table->rowCount(); ++row)
      if (table->item(row, 0)->text() == QLatin1String(gauge)) return table->item(row, 1)->text().toDouble();
    return -1.0;
  };
  const double down_stop = cell("down-stop gauge");
  find<QDoubleSpinBox>(QStringLiteral("bench.blocks"))->setValue(panel->bench().down_stop_blocks_mm + 5.0);
  settle();
  EXPECT_NEAR(cell("down-stop gauge"), down_stop + 5.0, 0.051);
  const double centres = cell("caliper, camber link");
  find<QComboBox>(QStringLiteral("bench.caliper"))->setCurrentIndex(1);
  settle();
  EXPECT_NEAR(cell("caliper, camber link"), centres + panel->bench().cup_mm, 0.006);
}

TEST_F(Views, ACurveShowsAnyFigureOverAnyMotion) {
  openPage(PlanWorkspace::Page::curves);
  auto* panel = find<CurvePanel>(QStringLiteral("curves"));
  auto* choice = find<QComboBox>(QStringLiteral("curve.0.figure"));
  const int row = choice->findData(QByteArray("shock_length"));
  ASSERT_GE(row, 0);
  choice->setCurrentIndex(row);
  Q_EMIT choice->activated(row);
  find<QComboBox>(QStringLiteral("curves.over"))->setCurrentIndex(static_cast<int>(SweepOver::roll));
  settle();
  EXPECT_EQ(panel->over(), SweepOver::roll);
  const auto points =
      qobject_cast<QLineSeries*>(find<QChartView>(QStringLiteral("curve.0"))->chart()->series().at(0))->points();
  ASSERT_EQ(points.size(), PlanModel::curveSamples);
  // Against the core, in the middle of the sweep and at its end.
  const Variant& v = *model().comparison()->baseline;
  for (const qsizetype i : {qsizetype{0}, points.size() / 2}) {
    Attitude a = static_attitude(v.model);
    a.roll_rad = radians(points[i].x());
    EXPECT_NEAR(points[i].y(), figures_at(v.model, a)->axle[0].parts[0].shock->length_mm, 1e-9);
  }
  EXPECT_EQ(choice->findData(QByteArray("bump_steer_total")), -1) << "what is read over the whole travel has no curve";
}

TEST_F(Views, TheReadingLineFollowsTheDrawing) {
  openPage(PlanWorkspace::Page::curves);
  find<QComboBox>(QStringLiteral("curves.over"))->setCurrentIndex(static_cast<int>(SweepOver::steer));
  model().setAttitude({.servo_rad = radians(12.0)});
  settle();
  const auto line = qobject_cast<QLineSeries*>(find<QChartView>(QStringLiteral("curve.1"))->chart()->series().at(3));
  EXPECT_NEAR(line->points().front().x(), 12.0, 1e-9);
}

TEST_F(Views, CurvesAreExportedAsNumbersAndPictures) {
  QTemporaryDir folder;
  openPage(PlanWorkspace::Page::curves);
  auto* panel = find<CurvePanel>(QStringLiteral("curves"));
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_TRUE(panel->exportCsv(folder.filePath(QStringLiteral("c.csv"))));
  QFile csv(folder.filePath(QStringLiteral("c.csv")));
  ASSERT_TRUE(csv.open(QIODevice::ReadOnly));
  const QStringList lines = QString::fromUtf8(csv.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
  ASSERT_EQ(lines.size(), PlanModel::curveSamples + 1);
  EXPECT_TRUE(lines[0].startsWith(QStringLiteral("travel_mm,camber_deg_baseline,camber_deg_changed,camber_deg_reset")));
  EXPECT_EQ(lines[1].count(QLatin1Char(',')), 9);
  EXPECT_TRUE(panel->exportSvg(folder.filePath(QStringLiteral("c.svg"))));
  QFile svg(folder.filePath(QStringLiteral("c.svg")));
  ASSERT_TRUE(svg.open(QIODevice::ReadOnly));
  EXPECT_TRUE(svg.readAll().contains("<svg"));
  EXPECT_TRUE(panel->exportPng(folder.filePath(QStringLiteral("c.png"))));
  EXPECT_FALSE(QPixmap(folder.filePath(QStringLiteral("c.png"))).isNull());
  EXPECT_FALSE(panel->exportCsv(QStringLiteral("/nowhere/c.csv"))) << "a folder that is not there";
}

TEST_F(Views, TheMapShowsTheCarAndTakesItsAttitudeByAClick) {
  openPage(PlanWorkspace::Page::lock);
  auto* map = find<LockMapView>(QStringLiteral("lockMap"));
  ASSERT_TRUE(map->isVisible());
  ASSERT_FALSE(map->map().cells.empty());
  click(QStringLiteral("map.1"));  // toe itself
  const QPoint place(map->width() / 2 - 60, map->height() / 3);
  const auto shown = map->valueAt(place);
  ASSERT_TRUE(shown);
  QTest::mouseClick(map, Qt::LeftButton, Qt::NoModifier, place);
  settle();
  EXPECT_GT(model().attitude().servo_rad, radians(3.0)) << "left of the middle is to the left";
  // The figure table tells the same toe, to the map's coarser grid.
  const double toe = *find_figure("toe")->read(model().comparison()->changed->source, End::front, Side::left);
  EXPECT_NEAR(*shown, toe, 2.5);
}

// A polygon thousands of screens high took the window away for half a minute.
TEST_F(Views, NothingOfTheLockMapIsDrawnFarBeyondIt) {
  openPage(PlanWorkspace::Page::lock);
  const auto* map = find<LockMapView>(QStringLiteral("lockMap"));
  const auto& travel = map->map().travel_mm;
  const QRectF seen(map->rect());
  EXPECT_TRUE(seen.contains(map->toScreen(0.0, travel.front())));
  EXPECT_TRUE(seen.contains(map->toScreen(0.0, travel.back())));
  EXPECT_GT(map->toScreen(0.0, travel.front()).y(), map->toScreen(0.0, travel.back()).y()) << "bump is higher";
  for (const double servo : {-1e9, 1e9, std::nan("")})
    for (const double mm : {-1e12, 1e12, std::nan("")}) {
      const QPointF at = map->toScreen(servo, mm);
      EXPECT_LE(std::abs(at.x()), 21.0 * seen.width());
      EXPECT_LE(std::abs(at.y()), 21.0 * seen.height());
    }
}

TEST_F(Views, WhatEndsTheLockIsSaidInWords) {
  openPage(PlanWorkspace::Page::lock);
  const QString words = text(QStringLiteral("steering.words"));
  EXPECT_TRUE(words.contains(QStringLiteral("knuckle on its stop"))) << words.toStdString();
  EXPECT_TRUE(words.contains(QStringLiteral("deg of servo")));
  auto* panel = find<SteeringPanel>(QStringLiteral("steering"));
  QTRY_VERIFY_WITH_TIMEOUT(!panel->busy(), 20000);
  EXPECT_TRUE(text(QStringLiteral("steering.words")).contains(QStringLiteral("Alike by one change")))
      << text(QStringLiteral("steering.words")).toStdString();
}

TEST_F(Views, TheBumpSteerShimIsFoundAndTried) {
  openPage(PlanWorkspace::Page::lock);
  model().setPart(part("front_tie_outer_shims"));
  for (int i = 0; i < 6; ++i) model().stepPart(1);
  settle();
  const double before =
      *find_figure("bump_steer_total")->read(model().comparison()->changed->source, End::front, Side::left);
  click(QStringLiteral("steering.shim"));
  EXPECT_TRUE(text(QStringLiteral("steering.shimWords")).contains(QStringLiteral("instead of")));
  click(QStringLiteral("steering.shim"));  // now "Try it"
  settle();
  const double after =
      *find_figure("bump_steer_total")->read(model().comparison()->reset->source, End::front, Side::left);
  EXPECT_LT(after, 0.5 * before);
}

// Of the car on its springs every part of both axles is tried, and what is tried does what is told.
TEST_F(Views, WhatMovesTheCarOnItsSpringsIsRankedAndTried) {
  openPage(PlanWorkspace::Page::movers);
  auto* panel = find<SensitivityPanel>(QStringLiteral("sensitivity"));
  const auto ready = [&] {
    return QTest::qWaitFor([&] { return panel->result().has_value() && !panel->busy(); }, 30000);
  };
  ASSERT_TRUE(ready());
  auto* corner = find<QDoubleSpinBox>(QStringLiteral("sensitivity.lateral"));
  EXPECT_FALSE(corner->isVisible());
  auto* figure = find<QComboBox>(QStringLiteral("sensitivity.figure"));
  const int row = figure->findText(QStringLiteral("front transfer"), Qt::MatchStartsWith);
  ASSERT_GE(row, 0);
  figure->setCurrentIndex(row);
  Q_EMIT figure->activated(row);
  ASSERT_TRUE(ready());
  EXPECT_TRUE(corner->isVisible());
  auto* table = find<QTableWidget>(QStringLiteral("sensitivity.table"));
  ASSERT_GT(table->rowCount(), 4);
  bool front = false, rear = false;
  for (int i = 0; i < table->rowCount(); ++i) {
    front = front || table->item(i, 0)->text().startsWith(QStringLiteral("Front"));
    rear = rear || table->item(i, 0)->text().startsWith(QStringLiteral("Rear"));
  }
  EXPECT_TRUE(front && rear);
  const FigureSpec& transfer = *find_figure("front_transfer");
  const auto now = [&] {
    return *transfer.read(*put_on_springs(document().car(), document().setup(), {{corner->value(), 0.0}, 4.0}),
                          End::front, Side::left);
  };
  const double before = now();
  int spring = 0;
  while (spring < table->rowCount() && !table->item(spring, 0)->text().contains(QStringLiteral("spring"))) ++spring;
  ASSERT_LT(spring, table->rowCount());
  const double told = table->item(spring, 1)
                          ->text()
                          .section(QLatin1Char(' '), 0, 0)
                          .replace(QChar(0x2212), QLatin1Char('-'))
                          .toDouble();
  table->setCurrentCell(spring, 0);
  lowkite::Setup stepped = document().setup();
  click(QStringLiteral("sensitivity.try"));
  settle();
  EXPECT_NE(document().setup(), stepped);
  EXPECT_NEAR(now() - before, told, 0.011);
  EXPECT_GT(std::abs(told), 0.1);
  ASSERT_TRUE(ready());
}

// Why a step does so much: a shock that ends on its way is told of the row in hand.
TEST_F(Views, AStepThatPutsAShockOnItsEndSaysSo) {
  openCar("godwit-ta");
  openPage(PlanWorkspace::Page::movers);
  auto* panel = find<SensitivityPanel>(QStringLiteral("sensitivity"));
  const auto ready = [&] {
    return QTest::qWaitFor([&] { return panel->result().has_value() && !panel->busy(); }, 30000);
  };
  ASSERT_TRUE(ready());
  panel->setFigure(FigurePlace{find_figure("front_transfer"), std::nullopt, std::nullopt});
  ASSERT_TRUE(ready());
  auto* table = find<QTableWidget>(QStringLiteral("sensitivity.table"));
  const QString counts = text(QStringLiteral("sensitivity.news"));
  EXPECT_TRUE(counts.contains(QStringLiteral("parts move it"))) << counts.toStdString();
  int row = 0;
  while (row < table->rowCount() &&
         !table->item(row, 0)->text().startsWith(QStringLiteral("Front: shock, hole in the tower")))
    ++row;
  ASSERT_LT(row, table->rowCount());
  table->setCurrentCell(row, 0);
  const QString told = text(QStringLiteral("sensitivity.news"));
  EXPECT_TRUE(told.contains(QStringLiteral("shock"))) << told.toStdString();
  EXPECT_NE(told, counts);
}

TEST_F(Views, WhatMovesAFigureIsFoundBesideTheWindowAndTried) {
  openPage(PlanWorkspace::Page::movers);
  auto* panel = find<SensitivityPanel>(QStringLiteral("sensitivity"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return panel->result().has_value() && !panel->busy(); }, 20000));
  auto* figure = find<QComboBox>(QStringLiteral("sensitivity.figure"));
  const int row = figure->findText(QStringLiteral("caster"), Qt::MatchStartsWith);
  ASSERT_GE(row, 0);
  figure->setCurrentIndex(row);
  Q_EMIT figure->activated(row);
  auto* table = find<QTableWidget>(QStringLiteral("sensitivity.table"));
  ASSERT_GT(table->rowCount(), 0);
  EXPECT_TRUE(table->item(0, 0)->text().startsWith(QStringLiteral("Caster block")));
  EXPECT_FALSE(find<QWidget>(QStringLiteral("sensitivity.try"))->isEnabled()) << "nothing is chosen yet";
  table->setCurrentCell(0, 0);
  click(QStringLiteral("sensitivity.try"));
  EXPECT_EQ(value("front_caster_block"), 2.0);
  // The next answer is asked for at once; asking again and again leaves only the last one.
  for (int i = 0; i < 4; ++i) {
    model().setPart(part("front_link_inner_shims"));
    model().stepPart(-1);
    settle();
  }
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel->busy(); }, 20000));
  EXPECT_TRUE(panel->result().has_value());
  click(QStringLiteral("undo"));
  click(QStringLiteral("undo"));
  EXPECT_EQ(value("front_caster_block"), 1.0);
}

TEST_F(Views, TheCheckLeadsToThePlace) {
  openPage(PlanWorkspace::Page::check);
  const auto* heading = window_->plan().findChild<QLabel*>(QStringLiteral("check.heading"));
  EXPECT_TRUE(heading->text().contains(QStringLiteral("Nothing speaks against"))) << heading->text().toStdString();
  model().setEnd(End::front);
  model().setPart(part("front_shock_spacers"));
  for (int i = 0; i < 4; ++i) model().stepPart(1);
  model().setPart({});
  model().setEnd(End::rear);
  settle();
  auto* list = window_->plan().findChild<QListWidget*>(QStringLiteral("check.list"));
  ASSERT_EQ(list->count(), 1);
  EXPECT_TRUE(list->item(0)->text().contains(QStringLiteral("shock stops the droop")));
  list->setCurrentRow(0);
  settle();
  EXPECT_EQ(model().end(), End::front);
  EXPECT_TRUE(model().part());
}

TEST_F(Views, OnItsSpringsTheCarLeansAndTheDrawingsFollow) {
  openPage(PlanWorkspace::Page::springs);
  auto* panel = find<LoadPanel>(QStringLiteral("load"));
  ASSERT_TRUE(panel->now());
  EXPECT_NEAR(panel->now()->attitude.roll_rad, 0.0, 1e-6);
  find<QSlider>(QStringLiteral("load.lateral"))->setValue(12);
  EXPECT_TRUE(text(QStringLiteral("load.lateral.text")).contains(QStringLiteral("left turn, 1.2 g")));
  const double leans = panel->now()->attitude.roll_rad;
  EXPECT_GT(degrees(leans), 1.0);
  EXPECT_NEAR(model().attitude().roll_rad, 0.0, 1e-9) << "the drawings follow only when asked";
  click(QStringLiteral("load.show"));
  settle();
  EXPECT_NEAR(model().attitude().roll_rad, leans, 1e-9);
  // A harder bar at the front: less roll, more of the transfer there, against the baseline.
  model().setPart(part("front_bar"));
  model().stepPart(1);
  settle();
  ASSERT_TRUE(panel->now() && panel->before());
  EXPECT_LT(panel->now()->attitude.roll_rad, panel->before()->attitude.roll_rad);
  EXPECT_GT(panel->now()->transfer_n(End::front), panel->before()->transfer_n(End::front));
  EXPECT_FALSE(find<QTableWidget>(QStringLiteral("load.table"))->item(0, 2)->text().isEmpty());
  find<QSlider>(QStringLiteral("load.lateral"))->setValue(25);
  EXPECT_TRUE(text(QStringLiteral("load.news")).contains(QStringLiteral("tip over")));
  click(QStringLiteral("load.show"));
  settle();
  EXPECT_EQ(model().attitude(), ViewAttitude{});
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(window_->open(samplePath(QStringLiteral("golden-v1.kite-car.json"))));
  settle();
  EXPECT_TRUE(text(QStringLiteral("load.news")).contains(QStringLiteral("tells no")));
}

TEST_F(Views, ClosingTheWindowWhilePartsAreTriedIsHarmless) {
  openPage(PlanWorkspace::Page::movers);
  // Asked anew: what was asked by opening may be answered by now.
  find<QCheckBox>(QStringLiteral("sensitivity.putBack"))->toggle();
  EXPECT_TRUE(find<SensitivityPanel>(QStringLiteral("sensitivity"))->busy());
  window_.reset();
  QTest::qWait(300);
}

TEST_F(Views, EveryShippedCarIsDrawnInEveryView) {
  for (const char* id : {"godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    openCar(id);
    for (const int axle : {0, 1})
      for (int view = 0; view < 4; ++view)
        for (int zoom = 0; zoom < 4; ++zoom) {
          click(QStringLiteral("axle.%1").arg(axle));
          click(QStringLiteral("view.%1").arg(view));
          window_->plan().stage().setZoom(static_cast<DrawingView::Zoom>(zoom));
          settle();
          EXPECT_FALSE(window_->grab().isNull());
        }
    EXPECT_TRUE(model().failure().isEmpty()) << id;
    openPage(PlanWorkspace::Page::gauges);
    EXPECT_GT(find<QTableWidget>(QStringLiteral("gauges.table"))->rowCount(), 1) << id;
    openPage(PlanWorkspace::Page::springs);
    openPage(PlanWorkspace::Page::lock);
    openPage(PlanWorkspace::Page::rollCentre);
    openPage(PlanWorkspace::Page::curves);
    putAway();
  }
}

TEST_F(Views, AnUnlikeLockNamesTheChangeThatCuresItAndFollowingItDoes) {
  openPage(PlanWorkspace::Page::lock);
  const PartHandle link = part("drag_link");
  ASSERT_TRUE(link);
  document().setValue(link, Sides::both, document().setup().of(link).left + 2.0);
  settle();
  const auto words = [&] { return text(QStringLiteral("steering.words")); };
  ASSERT_TRUE(words().contains(QStringLiteral("Left and right differ by"))) << words().toStdString();
  QTRY_VERIFY_WITH_TIMEOUT(!find<SteeringPanel>(QStringLiteral("steering"))->busy(), 20000);
  ASSERT_TRUE(words().contains(QStringLiteral("Alike by one change"))) << words().toStdString();
  const auto found = explain_lock(document().car(), document().setup());
  ASSERT_TRUE(found && !found->remedies.empty());
  const LockRemedy& first = found->remedies.front();
  document().setValue(first.adjuster, Sides::both, first.to.left);
  settle();
  EXPECT_FALSE(words().contains(QStringLiteral("differ by"))) << words().toStdString();
}

}  // namespace
}  // namespace lowkite::app
