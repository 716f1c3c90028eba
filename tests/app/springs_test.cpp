// Plan's springs, driven by real widgets: through a corner, over bumps, dampers, collars, and what leads on from there.
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/plan/read/sensitivity_panel.h"
#include "app/plan/search/recipe_panel.h"
#include "app/plan/springs/corner_page.h"
#include "app/plan/springs/motion_page.h"
#include "app/plan/springs/springs_panel.h"
#include "app/widgets/line_chart.h"
#include "app/words/wording.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Springs : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    openPage(PlanWorkspace::Page::springs);
    click(QStringLiteral("springs.page.1"));
  }
  template <class Page>
  bool waitFor(const Page& page) {
    return QTest::qWaitFor([&] { return !page.busy(); }, 60000);
  }
  /// A cell of a table by the text of its first column.
  QString cell(const QString& table, const QString& row, int column) {
    auto* t = find<QTableWidget>(table);
    for (int i = 0; i < t->rowCount(); ++i)
      if (t->item(i, 0)->text() == row) return t->item(i, column)->text();
    ADD_FAILURE() << "no row " << row.toStdString();
    return {};
  }
  void setValue(const QString& field, double v) {
    auto* s = find<QDoubleSpinBox>(field);
    s->setFocus();
    s->selectAll();
    QTest::keyClicks(s, QString::number(v));
    QTest::keyClick(s, Qt::Key_Return);
    settle();
  }
  void stepPart(const char* id, int by) {
    model().setPart(part(id));
    model().stepPart(by);
    settle();
  }
};

TEST_F(Springs, ThroughACornerEveryFigureStandsBesideTheBaseline) {
  SpringsPanel& panel = window_->plan().springs();
  ASSERT_FALSE(panel.corner().now().empty());
  for (const PathPoint& p : panel.corner().now()) EXPECT_TRUE(p.balance) << p.along;
  const QString was = cell(QStringLiteral("corner.table"), QStringLiteral("roll, deg"), 2);
  EXPECT_EQ(was, cell(QStringLiteral("corner.table"), QStringLiteral("roll, deg"), 1));
  stepPart("front_bar", 1);
  EXPECT_EQ(cell(QStringLiteral("corner.table"), QStringLiteral("roll, deg"), 1), was);
  EXPECT_LT(cell(QStringLiteral("corner.table"), QStringLiteral("roll, deg"), 2).toDouble(), was.toDouble());
  // The same figures as the core's.
  const auto& now = panel.corner().now();
  EXPECT_EQ(cell(QStringLiteral("corner.table"), QStringLiteral("roll, deg"), 2),
            number(degrees(now[now.size() / 2].balance->attitude.roll_rad), 2));
  EXPECT_TRUE(text(QStringLiteral("corner.notes")).contains(QStringLiteral("no lap time")));
}

TEST_F(Springs, EntryAndExitAreOtherPlaces) {
  click(QStringLiteral("corner.phase.0"));
  const double entry = cell(QStringLiteral("corner.table"), QStringLiteral("front height, mm"), 2).toDouble();
  click(QStringLiteral("corner.phase.2"));
  const double exit = cell(QStringLiteral("corner.table"), QStringLiteral("front height, mm"), 2).toDouble();
  EXPECT_LT(entry, exit) << "on the brake the nose is lower than on power";
  click(QStringLiteral("corner.way.1"));
  EXPECT_FALSE(window_->plan().springs().corner().path().to_the_left);
}

TEST_F(Springs, OverABumpTheCarIsIntegratedBesideTheWindow) {
  click(QStringLiteral("springs.page.2"));
  MotionPage& motion = window_->plan().springs().motion();
  ASSERT_TRUE(waitFor(motion));
  ASSERT_TRUE(motion.now());
  EXPECT_GT(motion.now()->samples.size(), 300u);
  EXPECT_FALSE(find<LineChart>(QStringLiteral("motion.chart"))->lines().empty());
  motion.setEvent(RoadEvent::landing);
  ASSERT_TRUE(waitFor(motion));
  setValue(QStringLiteral("motion.drop"), 600);
  ASSERT_TRUE(waitFor(motion));
  EXPECT_TRUE(text(QStringLiteral("motion.news")).contains(QStringLiteral("slaps")))
      << text(QStringLiteral("motion.news")).toStdString();
  EXPECT_NE(cell(QStringLiteral("motion.table"), QStringLiteral("Plate touches after"), 2), QStringLiteral("never"));
}

TEST_F(Springs, ATurnThatTheCarCannotHoldIsToldAndTheTyresInUse) {
  click(QStringLiteral("springs.page.2"));
  MotionPage& motion = window_->plan().springs().motion();
  motion.setEvent(RoadEvent::steer_step);
  ASSERT_TRUE(waitFor(motion));
  ASSERT_TRUE(motion.now());
  EXPECT_TRUE(
      text(QStringLiteral("motion.tyres")).contains(QStringLiteral("8.0 N/mm front and 8.0 rear, as the car has")))
      << text(QStringLiteral("motion.tyres")).toStdString();
  setValue(QStringLiteral("motion.lateral"), 4.0);
  ASSERT_TRUE(waitFor(motion));
  EXPECT_FALSE(motion.now());
  EXPECT_TRUE(text(QStringLiteral("motion.news")).contains(QStringLiteral("steady turn")))
      << text(QStringLiteral("motion.news")).toStdString();
}

TEST_F(Springs, ThickerOilIsSeenInTheMotionAndTheDampers) {
  click(QStringLiteral("springs.page.3"));
  const QString slow = QStringLiteral("slow in heave, at the wheel, N s/m");
  const double before = cell(QStringLiteral("damper.table"), slow, 2).toDouble();
  stepPart("front_oil", 1);
  EXPECT_GT(cell(QStringLiteral("damper.table"), slow, 2).toDouble(), before);
  EXPECT_EQ(cell(QStringLiteral("damper.table"), slow, 1).toDouble(), before);
  // The same piston in the same heat asks for the same oil.
  setValue(QStringLiteral("damper.holes"), 3);
  setValue(QStringLiteral("damper.hole"), 1.1);
  EXPECT_TRUE(text(QStringLiteral("damper.oil")).contains(QStringLiteral("450 cSt")))
      << text(QStringLiteral("damper.oil")).toStdString();
  setValue(QStringLiteral("damper.then"), 40);
  EXPECT_FALSE(text(QStringLiteral("damper.oil")).contains(QStringLiteral(" 450 cSt"))) << "hotter oil must be thicker";
}

// The third damper is on the page where one is in, and its oil is compared by itself.
TEST_F(Springs, AThirdDamperIsLookedAtByItself) {
  click(QStringLiteral("springs.page.3"));
  EXPECT_FALSE(find<QWidget>(QStringLiteral("damper.which"))->isVisible()) << "this car has none";
  ASSERT_TRUE(window_->open(dataPath("cars/godwit-ta.kite-car.json")));
  settle();
  document().setValue(part("rear_third_piston"), Sides::both, 1.0);
  settle();
  EXPECT_FALSE(find<QWidget>(QStringLiteral("damper.which"))->isVisible()) << "none at the front";
  click(QStringLiteral("damper.end.1"));
  ASSERT_TRUE(find<QWidget>(QStringLiteral("damper.which"))->isVisible());
  click(QStringLiteral("damper.which.1"));
  const QString slow = QStringLiteral("slow, at its shaft, N s/m");
  const QString share = QStringLiteral("its share of the damping in heave, %");
  EXPECT_EQ(cell(QStringLiteral("damper.table"), slow, 1), QStringLiteral("none")) << "the baseline has none";
  const double before = cell(QStringLiteral("damper.table"), slow, 2).toDouble();
  const double part_of_it = cell(QStringLiteral("damper.table"), share, 2).toDouble();
  EXPECT_GT(before, 0.0);
  EXPECT_GT(part_of_it, 0.0);
  EXPECT_LT(part_of_it, 100.0);
  EXPECT_FALSE(find<LineChart>(QStringLiteral("damper.chart"))->lines().empty());
  stepPart("rear_third_oil", 1);
  EXPECT_GT(cell(QStringLiteral("damper.table"), slow, 2).toDouble(), before);
  EXPECT_GT(cell(QStringLiteral("damper.table"), share, 2).toDouble(), part_of_it);
  EXPECT_TRUE(text(QStringLiteral("damper.oil")).contains(QStringLiteral("Slow damping as now")));
  // Back to the two shocks: their table again.
  click(QStringLiteral("damper.which.0"));
  EXPECT_FALSE(cell(QStringLiteral("damper.table"), QStringLiteral("slow in heave, at the wheel, N s/m"), 2).isEmpty());
  // Taken out again nothing is left of it.
  document().setValue(part("rear_third_piston"), Sides::both, 0.0);
  settle();
  EXPECT_FALSE(find<QWidget>(QStringLiteral("damper.which"))->isVisible());
  while (document().undoStack().canUndo()) document().undoStack().undo();
}

TEST_F(Springs, OneCollarMovesCrossWeightAndWantedHeightsMoveCollars) {
  click(QStringLiteral("springs.page.4"));
  auto* table = find<QTableWidget>(QStringLiteral("collar.turns"));
  ASSERT_EQ(table->rowCount(), 4);
  EXPECT_TRUE(table->item(0, 1)->text().startsWith(QLatin1Char('+'))) << "front left down loads front left";
  EXPECT_TRUE(table->item(0, 4)->text().startsWith(QLatin1Char('+'))) << "and rear right";
  EXPECT_FALSE(table->item(0, 2)->text().startsWith(QLatin1Char('+')));
  setValue(QStringLiteral("collar.front"), 6.2);
  EXPECT_TRUE(text(QStringLiteral("collar.wanted")).contains(QStringLiteral("down")))
      << text(QStringLiteral("collar.wanted")).toStdString();
}

TEST_F(Springs, TheHeightOfTheWeightComesFromTheScales) {
  click(QStringLiteral("springs.page.4"));
  setValue(QStringLiteral("collar.level"), 667);
  setValue(QStringLiteral("collar.raised"), 700);
  setValue(QStringLiteral("collar.lift"), 100);
  EXPECT_TRUE(text(QStringLiteral("collar.height")).contains(QStringLiteral("by the scales")))
      << text(QStringLiteral("collar.height")).toStdString();
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("collar.take"))->isEnabled()) << "a shipped car stays as it is";
}

TEST_F(Springs, TheRecipeGoesOnFromTheTurnOnShow) {
  click(QStringLiteral("springs.page.0"));
  find<QSlider>(QStringLiteral("load.lateral"))->setValue(-12);
  find<QSlider>(QStringLiteral("load.longitudinal"))->setValue(3);
  settle();
  click(QStringLiteral("springs.recipe"));
  settle();
  const auto* panel = find<RecipePanel>(QStringLiteral("recipe"));
  EXPECT_TRUE(panel->isVisible());
  EXPECT_EQ(panel->under(), (HeldTurn{{1.2, 0.3}, 4.0})) << "the springs hear of no side";
  const auto lineOf = [&](int line, const char* what) {
    return find<QWidget>(QStringLiteral("recipe.aim%1.").arg(line) + QLatin1String(what));
  };
  EXPECT_EQ(static_cast<QComboBox*>(lineOf(0, "figure"))->currentData().toByteArray(), "car.roll");
  EXPECT_FALSE(static_cast<QToolButton*>(lineOf(0, "hold"))->isChecked());
  EXPECT_EQ(static_cast<QComboBox*>(lineOf(1, "figure"))->currentData().toByteArray(), "car.front_transfer");
  EXPECT_TRUE(static_cast<QToolButton*>(lineOf(1, "hold"))->isChecked());
  const auto now = put_on_springs(document().car(), document().setup(), panel->under());
  ASSERT_TRUE(now);
  EXPECT_NEAR(static_cast<QDoubleSpinBox*>(lineOf(0, "value"))->value(),
              *find_figure("roll")->read(*now, End::front, Side::left), 0.006);
  // Asked already, the lines stay, and the turn follows: what was typed stays, what is held is read anew.
  setValue(lineOf(0, "value")->objectName(), 3.21);
  const double held = static_cast<QDoubleSpinBox*>(lineOf(1, "value"))->value();
  openPage(PlanWorkspace::Page::springs);
  find<QSlider>(QStringLiteral("load.lateral"))->setValue(8);
  setValue(QStringLiteral("load.radius"), 2.0);
  settle();
  click(QStringLiteral("springs.recipe"));
  settle();
  EXPECT_EQ(panel->under(), (HeldTurn{{0.8, 0.3}, 2.0}));
  EXPECT_EQ(static_cast<QDoubleSpinBox*>(lineOf(0, "value"))->value(), 3.21);
  EXPECT_NE(static_cast<QDoubleSpinBox*>(lineOf(1, "value"))->value(), held);
  EXPECT_EQ(static_cast<QComboBox*>(lineOf(0, "figure"))->currentData().toByteArray(), "car.roll");
}

TEST_F(Springs, TheRecipeAsksBesidesWhatTheRacerHasAsked) {
  openPage(PlanWorkspace::Page::recipe);
  settle();
  const auto asked = [&](int line) {
    return find<QComboBox>(QStringLiteral("recipe.aim%1.figure").arg(line))->currentData().toByteArray();
  };
  const QByteArray first = asked(0), second = asked(1);
  auto* value = find<QDoubleSpinBox>(QStringLiteral("recipe.aim0.value"));
  setValue(QStringLiteral("recipe.aim0.value"), value->value() + 2.0);
  const double typed = value->value();
  openPage(PlanWorkspace::Page::springs);
  click(QStringLiteral("springs.recipe"));
  settle();
  EXPECT_EQ(asked(0), first);
  EXPECT_EQ(asked(1), second);
  EXPECT_EQ(asked(2), "car.roll");
  EXPECT_EQ(asked(3), "car.front_transfer");
  EXPECT_EQ(find<QDoubleSpinBox>(QStringLiteral("recipe.aim0.value"))->value(), typed);
}

TEST_F(Springs, FrontAndRearAlikeIsSearchedTakenOverAndUndone) {
  openPage(PlanWorkspace::Page::recipe);
  settle();
  auto* panel = find<RecipePanel>(QStringLiteral("recipe"));
  panel->setAlike(0, "ride_frequency", false, 0.05);
  EXPECT_FALSE(find<QWidget>(QStringLiteral("recipe.aim0.value"))->isVisible()) << "nothing to be put in";
  EXPECT_TRUE(find<QWidget>(QStringLiteral("recipe.aim0.tolerance"))->isVisible());
  click(QStringLiteral("recipe.aim1.remove"));
  find<QAction>(QStringLiteral("recipe.lightParts"))->trigger();
  const auto before = document().setup();
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(waitFor(*panel));
  ASSERT_TRUE(panel->result());
  ASSERT_FALSE(panel->result()->results.empty());
  EXPECT_EQ(panel->result()->judged, panel->result()->of);
  for (const PartChange& c : panel->result()->results[0].changes)
    EXPECT_FALSE(document().car().adjusters[c.adjuster].moves_geometry());
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  EXPECT_TRUE(table->item(0, 1)->text().contains(QStringLiteral("Hz apart")))
      << table->item(0, 1)->text().toStdString();
  table->setCurrentCell(0, 0);
  EXPECT_TRUE(text(QStringLiteral("recipe.steps")).contains(QStringLiteral("front = rear")))
      << text(QStringLiteral("recipe.steps")).toStdString();
  click(QStringLiteral("recipe.try"));
  EXPECT_NE(document().setup(), before);
  EXPECT_EQ(document().setup(), panel->result()->results[0].setup);
  const auto now = put_on_springs(document().car(), document().setup(), panel->under());
  ASSERT_TRUE(now);
  const FigureSpec& frequency = *find_figure("ride_frequency");
  EXPECT_NEAR(*frequency.read(*now, End::rear, Side::left), *frequency.read(*now, End::front, Side::left),
              std::abs(panel->result()->results[0].gives[0]) + 1e-5);
  document().undoStack().undo();
  settle();
  EXPECT_EQ(document().setup(), before);
  find<QAction>(QStringLiteral("recipe.allParts"))->trigger();
  EXPECT_FALSE(panel->busy());
  const QString count = find<QToolButton>(QStringLiteral("recipe.parts"))->text();
  EXPECT_EQ(count.section(QLatin1Char(' '), 0, 0), count.section(QLatin1Char(' '), 2, 2)) << count.toStdString();
}

// From the turn to the recipe, on to the setup, and back to the turn: on every car what was told is what then stands
// there.
TEST_F(Springs, WhatTheRecipeTellsStandsInTheTurnOnEveryCar) {
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  int followed = 0;
  for (const char* car : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(car)))));
    openPage(PlanWorkspace::Page::springs);
    click(QStringLiteral("springs.page.0"));
    find<QSlider>(QStringLiteral("load.lateral"))->setValue(6);
    find<QSlider>(QStringLiteral("load.longitudinal"))->setValue(0);
    click(QStringLiteral("springs.recipe"));
    settle();
    auto* panel = find<RecipePanel>(QStringLiteral("recipe"));
    const auto roll = [&]() -> std::optional<double> {
      const auto load = put_on_springs(document().car(), document().setup(), panel->under());
      return load ? find_figure("roll")->read(*load, End::front, Side::left) : std::nullopt;
    };
    const auto was = roll();
    ASSERT_TRUE(was) << car;
    panel->setAim(0, "roll", false, 0.8 * *was, 0.02);
    panel->setAim(1, "front_transfer", true, find<QDoubleSpinBox>(QStringLiteral("recipe.aim1.value"))->value(), 5.0);
    find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(0);
    click(QStringLiteral("recipe.search"));
    ASSERT_TRUE(waitFor(*panel)) << car;
    settle();
    ASSERT_TRUE(panel->result()) << car << ": " << text(QStringLiteral("recipe.news")).toStdString();
    const auto before = document().setup();
    auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
    if (table->rowCount() == 0) continue;
    ++followed;
    const RecipeResult told = panel->result()->results.front();
    table->setCurrentCell(0, 0);
    click(QStringLiteral("recipe.try"));
    settle();
    const auto then = roll();
    ASSERT_TRUE(then) << car;
    EXPECT_NEAR(*then, told.gives[0], 1e-6) << car;
    EXPECT_LT(std::abs(*then - 0.8 * *was), std::abs(0.2 * *was)) << car << " comes nearer";
    openPage(PlanWorkspace::Page::springs);
    EXPECT_EQ(cell(QStringLiteral("load.table"), QStringLiteral("roll, deg"), 2), number(*then, 2)) << car;
    document().undoStack().undo();
    settle();
    EXPECT_EQ(document().setup(), before) << car;
  }
  EXPECT_GE(followed, 5);
}

// A radius asks a car for nothing that does not steer.
TEST_F(Springs, ACarWithoutASteeringIsReadWithItsWheelsStraightAndTheFieldSaysSo) {
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  QFile shipped(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json")));
  ASSERT_TRUE(shipped.open(QIODevice::ReadOnly));
  QJsonObject car = QJsonDocument::fromJson(shipped.readAll()).object();
  car.remove(QStringLiteral("steering"));
  QJsonArray kept;
  for (const auto& part : car[QStringLiteral("adjusters")].toArray())
    if (part.toObject()[QStringLiteral("on")].toString() != QStringLiteral("steering")) kept.append(part);
  car[QStringLiteral("adjusters")] = kept;
  const QTemporaryDir folder;
  QFile mine(folder.filePath(QStringLiteral("mine.kite-car.json")));
  ASSERT_TRUE(mine.open(QIODevice::WriteOnly));
  mine.write(QJsonDocument(car).toJson());
  mine.close();
  const auto asked = [&] {
    openPage(PlanWorkspace::Page::springs);
    click(QStringLiteral("springs.recipe"));
    settle();
    return find<RecipePanel>(QStringLiteral("recipe"))->under();
  };
  ASSERT_TRUE(window_->open(mine.fileName()));
  EXPECT_EQ(asked().radius_m, 0.0);
  const auto* radius = find<QDoubleSpinBox>(QStringLiteral("recipe.radius"));
  EXPECT_FALSE(radius->isEnabled());
  EXPECT_TRUE(radius->toolTip().contains(QStringLiteral("no steering"))) << radius->toolTip().toStdString();
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(waitFor(*find<RecipePanel>(QStringLiteral("recipe"))));
  EXPECT_TRUE(find<RecipePanel>(QStringLiteral("recipe"))->result());
  openPage(PlanWorkspace::Page::springs);
  click(QStringLiteral("springs.moves"));
  settle();
  EXPECT_FALSE(find<QDoubleSpinBox>(QStringLiteral("sensitivity.radius"))->isEnabled());
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  EXPECT_GT(asked().radius_m, 0.0);
  EXPECT_TRUE(radius->isEnabled());
}

TEST_F(Springs, OneStepOfEveryPartIsRankedInTheTurnOnShow) {
  click(QStringLiteral("springs.page.0"));
  find<QSlider>(QStringLiteral("load.lateral"))->setValue(10);
  find<QSlider>(QStringLiteral("load.longitudinal"))->setValue(-5);
  settle();
  click(QStringLiteral("springs.moves"));
  auto* panel = find<SensitivityPanel>(QStringLiteral("sensitivity"));
  ASSERT_TRUE(waitFor(*panel));
  settle();
  EXPECT_TRUE(panel->isVisible());
  EXPECT_NEAR(find<QDoubleSpinBox>(QStringLiteral("sensitivity.lateral"))->value(), 1.0, 1e-9);
  EXPECT_NEAR(find<QDoubleSpinBox>(QStringLiteral("sensitivity.longitudinal"))->value(), -0.5, 1e-9);
  EXPECT_EQ(find<QDoubleSpinBox>(QStringLiteral("sensitivity.radius"))->value(),
            find<QDoubleSpinBox>(QStringLiteral("load.radius"))->value());
  auto* table = find<QTableWidget>(QStringLiteral("sensitivity.table"));
  ASSERT_GT(table->rowCount(), 4);
  const auto size = [&](int row) {
    return std::abs(QString(table->item(row, 1)->text())
                        .section(QLatin1Char(' '), 0, 0)
                        .replace(QChar(0x2212), QLatin1Char('-'))
                        .toDouble());
  };
  for (int i = 1; i < table->rowCount(); ++i) EXPECT_GE(size(i - 1), size(i)) << i;
  // Braking is part of it: the nose goes down by another amount without.
  panel->setFigure(FigurePlace{find_figure("pitch"), std::nullopt, std::nullopt});
  ASSERT_TRUE(waitFor(*panel));
  settle();
  const QString braked = table->item(0, 1)->text();
  find<QDoubleSpinBox>(QStringLiteral("sensitivity.longitudinal"))->setValue(0.0);
  ASSERT_TRUE(waitFor(*panel));
  settle();
  EXPECT_NE(table->item(0, 1)->text(), braked);
}

TEST_F(Springs, ASearchIsStoppedAndClosingIsHarmless) {
  click(QStringLiteral("springs.recipe"));
  settle();
  auto* panel = find<RecipePanel>(QStringLiteral("recipe"));
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(2);
  click(QStringLiteral("recipe.search"));
  EXPECT_TRUE(panel->busy());
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(waitFor(*panel));
  click(QStringLiteral("recipe.search"));
  window_.reset();
  QTest::qWait(200);
}

TEST_F(Springs, TheDrawingsShowTheForces) {
  click(QStringLiteral("springs.page.0"));
  find<QSlider>(QStringLiteral("load.lateral"))->setValue(10);
  settle();
  EXPECT_EQ(model().forces(), nullptr);
  QTest::mouseClick(find<QCheckBox>(QStringLiteral("load.show")), Qt::LeftButton, {}, QPoint(8, 18));
  settle();
  ASSERT_NE(model().forces(), nullptr);
  const auto& f = *model().forces();
  double up = 0.0, aside = 0.0;
  for (const End e : both_ends)
    for (const Side s : both_sides) {
      up += f[at(e)][at(s)].z();
      aside += f[at(e)][at(s)].y();
    }
  EXPECT_NEAR(up, document().car().mass_kg * gravity_m_s2, 1e-3);
  EXPECT_NEAR(aside, up, 0.05) << "one g to the left";
  QTest::mouseClick(find<QCheckBox>(QStringLiteral("load.show")), Qt::LeftButton, {}, QPoint(8, 18));
  settle();
  EXPECT_EQ(model().forces(), nullptr) << "held by hand, the car is under no acceleration";
}

TEST_F(Springs, APodHasACollarInTheMiddleAndScrewsAndItsFrontStandsOnSpacers) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/sanderling-12.kite-car.json"))));
  click(QStringLiteral("springs.page.4"));
  auto* table = find<QTableWidget>(QStringLiteral("collar.turns"));
  ASSERT_EQ(table->rowCount(), 4);
  EXPECT_EQ(table->item(2, 0)->text(), QStringLiteral("rear mid"));
  EXPECT_EQ(table->item(3, 0)->text(), QStringLiteral("rear side"));
  EXPECT_FALSE(table->item(3, 0)->toolTip().isEmpty());
  setValue(QStringLiteral("collar.front"), 4.5);
  setValue(QStringLiteral("collar.cross"), 51.0);
  const QString wanted = text(QStringLiteral("collar.wanted"));
  EXPECT_TRUE(wanted.contains(QStringLiteral("more spacers"), Qt::CaseInsensitive)) << wanted.toStdString();
  EXPECT_TRUE(wanted.contains(QStringLiteral("left screw"))) << wanted.toStdString();
}

TEST_F(Springs, MorePreloadOnAMiniIsToldAsHeightAndDroop) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/wren-28.kite-car.json"))));
  settle();
  stepPart("front_spring_spacers", 1);
  const QString told = work();
  EXPECT_TRUE(told.contains(QStringLiteral("higher on its springs, droop"))) << told.toStdString();
  EXPECT_GT(model().comparison()->reset->setup.ride_height_mm[0], 3.05);
}

TEST_F(Springs, ACarWithoutSpringsSaysSo) {
  ASSERT_TRUE(window_->open(samplePath(QStringLiteral("golden-v1.kite-car.json"))));
  settle();
  EXPECT_FALSE(text(QStringLiteral("corner.notes")).isEmpty());
  for (int page = 1; page < 5; ++page) click(QStringLiteral("springs.page.%1").arg(page));
  for (const char* leads : {"springs.moves", "springs.recipe"})
    EXPECT_FALSE(find<QWidget>(QLatin1String(leads))->isEnabled()) << "to nothing that could be asked";
}

}  // namespace
}  // namespace lowkite::app
