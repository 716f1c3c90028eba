// Recipes, comparing and the setups of a car in the window: searched beside it, stopped in the middle, taken over and
// undone.
#include <set>

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>

#include "app/document/open_files.h"
#include "app/plan/handling/handling_page.h"
#include "app/plan/handling/handling_study.h"
#include "app/plan/search/recipe_panel.h"
#include "app/widgets/fault_panel.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/toe_spin.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Recipes : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    click(QStringLiteral("axle.1"));
    openPage(PlanWorkspace::Page::recipe);
    settle();
    panel_ = find<RecipePanel>(QStringLiteral("recipe"));
  }
  void search() {
    click(QStringLiteral("recipe.search"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 60000));
  }
  double rollCentre(const lowkite::Setup& setup) {
    const auto v = evaluate(document().car(), setup, {}, 9);
    EXPECT_TRUE(v);
    return *find_figure("roll_centre")->read(v->source, End::rear, Side::left);
  }
  RecipePanel* panel_ = nullptr;
};

TEST_F(Recipes, WhatIsWantedIsFoundTakenOverAndUndone) {
  const lowkite::Setup before = document().setup();
  const double wanted = find<QDoubleSpinBox>(QStringLiteral("recipe.aim0.value"))->value();
  EXPECT_NEAR(wanted, rollCentre(before) + 1.0, 0.051) << "it starts with a millimetre more";
  EXPECT_TRUE(find<QToolButton>(QStringLiteral("recipe.aim1.hold"))->isChecked());
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("recipe.try"))->isEnabled());
  search();
  ASSERT_TRUE(panel_->result());
  EXPECT_TRUE(panel_->result()->complete);
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  ASSERT_GT(table->rowCount(), 0);
  EXPECT_TRUE(table->item(0, 1)->text().contains(QStringLiteral("mm")));
  table->setCurrentCell(0, 0);
  EXPECT_TRUE(text(QStringLiteral("recipe.steps")).startsWith(QStringLiteral("1. Wheels off")));
  click(QStringLiteral("recipe.try"));
  settle();
  EXPECT_EQ(document().setup(), panel_->result()->results.front().setup);
  EXPECT_NEAR(rollCentre(document().setup()), wanted, 0.15);
  EXPECT_EQ(document().baseline(), before) << "and the drawing compares with what was";
  click(QStringLiteral("undo"));
  EXPECT_EQ(document().setup(), before);
}

// The droop is the screw's and the height the collars': no hole of a shock is changed for them.
TEST_F(Recipes, WhatIsSetByItselfIsTurnedNotBuilt) {
  const auto read = [&](const char* figure) {
    const auto v = evaluate(document().car(), document().setup(), {}, coarse_curve);
    return *find_figure(figure)->read(v->source, End::rear, Side::left);
  };
  const lowkite::Setup before = document().setup();
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  const auto onlyRow = [&] {
    search();
    EXPECT_EQ(table->rowCount(), 1);
    EXPECT_TRUE(text(QStringLiteral("recipe.news")).contains(QStringLiteral("no part need be changed")))
        << text(QStringLiteral("recipe.news")).toStdString();
    table->setCurrentCell(0, 0);
    const QString told = table->item(0, 0)->text();
    EXPECT_TRUE(text(QStringLiteral("recipe.steps")).contains(told.section(QLatin1Char('\n'), 0, 0)))
        << told.toStdString() << " / " << text(QStringLiteral("recipe.steps")).toStdString();
    click(QStringLiteral("recipe.try"));
    settle();
    EXPECT_TRUE(model().comparison()->bench->droop.empty()) << "nothing turns it back";
    return told;
  };
  const double droop = read("droop");
  panel_->setAim(0, "droop", false, droop - 0.8, 0.2);
  EXPECT_TRUE(onlyRow().contains(QStringLiteral("droop screw")));
  EXPECT_NEAR(read("droop"), droop - 0.8, 0.2);
  click(QStringLiteral("undo"));
  ASSERT_EQ(document().setup(), before);
  panel_->setAim(0, "ride_height", false, before.ride_height_mm[at(End::rear)] + 0.5, 0.05);
  EXPECT_TRUE(onlyRow().contains(QStringLiteral("ride height")));
  EXPECT_EQ(document().setup().ride_height_mm[at(End::rear)], before.ride_height_mm[at(End::rear)] + 0.5);
  // What nothing sets, and no part moves, is said.
  panel_->setAim(0, "cross_weight", false, 51.0, 0.2);
  search();
  EXPECT_EQ(table->rowCount(), 0);
  EXPECT_TRUE(text(QStringLiteral("recipe.news")).contains(QStringLiteral("spring collars")))
      << text(QStringLiteral("recipe.news")).toStdString();
}

// What the racer says may happen to the car is what the worst case is of.
TEST_F(Recipes, AreGoodWithWhatIsSaidToHappen) {
  auto* lost = find<QDoubleSpinBox>(QStringLiteral("recipe.heightLost"));
  auto* off = find<QDoubleSpinBox>(QStringLiteral("recipe.rodOff"));
  EXPECT_FALSE(lost->isEnabled() || off->isEnabled());
  click(QStringLiteral("recipe.robust"));
  ASSERT_TRUE(lost->isEnabled() && off->isEnabled());
  lost->setValue(1.0);
  off->setValue(0.0);
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(0);
  const double wanted = rollCentre(document().setup()) + 0.6;
  panel_->setAim(0, "roll_centre", false, wanted, 0.5);
  panel_->setAim(1, "camber_gain", false, -0.2, 10.0);
  search();
  ASSERT_TRUE(panel_->result());
  ASSERT_FALSE(panel_->result()->results.empty());
  for (const RecipeResult& r : panel_->result()->results) {
    lowkite::Setup lower = r.setup;
    for (double& h : lower.ride_height_mm) h -= 1.0;
    const double set = rollCentre(r.setup), then = rollCentre(lower);
    EXPECT_NEAR(r.gives[0], std::abs(set - wanted) > std::abs(then - wanted) ? set : then, 1e-9);
  }
}

TEST_F(Recipes, ASearchIsStoppedInTheMiddleAndTheWindowLives) {
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(3);
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(panel_->busy());
  EXPECT_EQ(find<QPushButton>(QStringLiteral("recipe.search"))->text(), QStringLiteral("Stop"));
  // While it runs a part is stepped and the window follows.
  putAway();
  click(QStringLiteral("adjuster.rear_hub_shims.more"));
  settle();
  EXPECT_EQ(model().comparison()->changed->setup, document().setup());
  openPage(PlanWorkspace::Page::recipe);
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 10000));
  ASSERT_TRUE(panel_->result());
  EXPECT_TRUE(panel_->result()->stopped);
  EXPECT_LT(panel_->result()->judged, panel_->result()->of);
  EXPECT_TRUE(text(QStringLiteral("recipe.news")).contains(QStringLiteral("not all were judged")));
  EXPECT_EQ(find<QProgressBar>(QStringLiteral("recipe.progress"))->value(), 0);
}

TEST_F(Recipes, ClosingTheWindowWhileItSearchesIsHarmless) {
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(3);
  click(QStringLiteral("recipe.search"));
  EXPECT_TRUE(panel_->busy());
  window_.reset();
  QTest::qWait(200);
}

TEST_F(Recipes, TwoWantsAreWeighedAgainstEachOtherAndEachPointIsASetup) {
  auto* against = find<QPushButton>(QStringLiteral("recipe.against"));
  EXPECT_FALSE(against->isEnabled()) << "one is wanted, one held";
  const auto now = [&](const char* id) {
    return *find_figure(id)->read(model().comparison()->changed->source, End::rear, Side::left);
  };
  panel_->setAim(0, "roll_centre", false, now("roll_centre") + 1.5, 0.1);
  panel_->setAim(1, "camber_gain", false, now("camber_gain") + 0.06, 0.01);
  ASSERT_TRUE(against->isEnabled());
  click(QStringLiteral("recipe.against"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 120000));
  ASSERT_TRUE(panel_->tradeOff());
  const auto points = panel_->tradeOff()->points;
  ASSERT_GT(points.size(), 2u) << text(QStringLiteral("recipe.news")).toStdString();
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  ASSERT_EQ(table->rowCount(), static_cast<int>(points.size()));
  auto* chart = find<LineChart>(QStringLiteral("recipe.chart"));
  EXPECT_TRUE(chart->isVisible());
  EXPECT_EQ(chart->lines()[0].points.size(), static_cast<qsizetype>(points.size()));
  table->setCurrentCell(1, 0);
  click(QStringLiteral("recipe.try"));
  EXPECT_EQ(document().setup(), points[1].setup);
  click(QStringLiteral("undo"));
  // A search puts it away, and another one may be stopped.
  search();
  EXPECT_FALSE(panel_->tradeOff());
  EXPECT_FALSE(chart->isVisible());
  click(QStringLiteral("recipe.against"));
  click(QStringLiteral("recipe.against"));
  EXPECT_FALSE(panel_->busy());
  EXPECT_FALSE(panel_->tradeOff());
}

TEST_F(Recipes, PartsThatMayNotChangeDoNot) {
  for (const char* end : {"front", "rear"})
    find<QMenu>(QStringLiteral("recipe.partMenu.") + QLatin1String(end))->actions()[1]->trigger();  // none of them
  for (QAction* part : find<QMenu>(QStringLiteral("recipe.partMenu.rear"))->actions())
    if (part->text() == QStringLiteral("Camber link, inner ball")) part->setChecked(true);
  EXPECT_TRUE(find<QToolButton>(QStringLiteral("recipe.parts"))->text().startsWith(QStringLiteral("1 of")));
  search();
  ASSERT_TRUE(panel_->result());
  for (const RecipeResult& r : panel_->result()->results)
    for (const PartChange& c : r.changes) EXPECT_EQ(c.adjuster, part("rear_link_inner_shims"));
}

TEST_F(Recipes, KeepTheSameButWithAnotherPartLeavesThatPartAlone) {
  auto* menu = find<QMenu>(QStringLiteral("recipe.sameMenu"));
  Q_EMIT menu->aboutToShow();
  QAction* thicker = nullptr;
  for (QAction* a : menu->actions())
    if (a->menu() && a->text().contains(QStringLiteral("under the hub"))) thicker = a->menu()->actions().constLast();
  ASSERT_NE(thicker, nullptr);
  const double before = rollCentre(document().setup());
  thicker->trigger();
  settle();
  EXPECT_GT(value("rear_hub_shims"), 0.5);
  int line = 0;
  while (find<QComboBox>(QStringLiteral("recipe.aim%1.figure").arg(line))->currentData().toByteArray() !=
         "rear.roll_centre")
    ASSERT_LT(++line, 4);
  EXPECT_NEAR(find<QDoubleSpinBox>(QStringLiteral("recipe.aim%1.value").arg(line))->value(), before, 0.051);
  search();
  ASSERT_TRUE(panel_->result());
  ASSERT_FALSE(panel_->result()->results.empty());
  for (const RecipeResult& r : panel_->result()->results) {
    EXPECT_EQ(r.setup.of(part("rear_hub_shims")).left, value("rear_hub_shims"));
    for (const PartChange& c : r.changes) EXPECT_NE(c.adjuster, part("rear_hub_shims"));
  }
}

TEST_F(Recipes, AMenuDiesWithTheCarThatItWasFilledFor) {
  auto* menu = find<QMenu>(QStringLiteral("recipe.sameMenu"));
  Q_EMIT menu->aboutToShow();
  ASSERT_GT(menu->actions().size(), 4);
  QPointer<QAction> asBaseline = menu->actions().constFirst();
  QPointer<QAction> another = menu->actions()[2]->menu()->actions().constFirst();
  for (const char* id : {"plover-2wd", "sanderling-12", "dunlin-4wd"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(id)))));
    const lowkite::Setup opened = document().setup();
    // Before the event loop comes round: the panel still shows what was.
    if (another) another->trigger();
    if (asBaseline) asBaseline->trigger();
    EXPECT_EQ(document().setup(), opened);
    settle();
    Q_EMIT menu->aboutToShow();
    ASSERT_GT(menu->actions().size(), 4);
    asBaseline = menu->actions().constFirst();
    another = menu->actions()[2]->menu()->actions().constFirst();
    another->trigger();
    settle();
    EXPECT_NE(document().setup(), opened) << "its own menu works";
    document().undoStack().undo();
  }
}

TEST_F(Recipes, AResultKeepsTheFiguresThatWereAskedFor) {
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(panel_->busy());
  panel_->setAim(0, "camber", false, -2.0, 0.1);  // the line is edited while it runs
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 60000));
  const QString gives = find<QTableWidget>(QStringLiteral("recipe.table"))->item(0, 1)->text();
  EXPECT_TRUE(gives.endsWith(QStringLiteral(" mm"))) << "a roll centre, no camber: " << gives.toStdString();
}

TEST_F(Recipes, LinesThatWereEditedStayWhenTheOtherAxleIsLookedAt) {
  panel_->setAim(0, "roll_centre", false, 8.0, 0.2);
  auto* value = find<QDoubleSpinBox>(QStringLiteral("recipe.aim0.value"));
  value->setFocus();
  value->selectAll();
  QTest::keyClicks(value, QStringLiteral("8.1"));
  QTest::keyClick(value, Qt::Key_Tab);
  click(QStringLiteral("axle.0"));
  settle();
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim0.figure"))->currentData().toByteArray(),
            QByteArray("rear.roll_centre"));
  EXPECT_EQ(find<QDoubleSpinBox>(QStringLiteral("recipe.aim0.value"))->value(), 8.1);
}

TEST_F(Recipes, BothAxlesAndTheSpringsAreAskedTogetherAndFollowedToTheEnd) {
  EXPECT_FALSE(find<QDoubleSpinBox>(QStringLiteral("recipe.lateral"))->isVisible())
      << "nothing on springs is asked yet";
  const auto front = [&](const lowkite::Setup& s) {
    return *find_figure("roll_centre")->read(evaluate(document().car(), s, {}, 9)->source, End::front, Side::left);
  };
  const auto transfer = [&](const lowkite::Setup& s) {
    return *find_figure("front_transfer")
                ->read(*put_on_springs(document().car(), s, panel_->under()), End::front, Side::left);
  };
  const lowkite::Setup before = document().setup();
  panel_->setAim(1, "roll_centre", true, front(before), 0.1, End::front);
  panel_->setAim(2, "wheelbase", true, 257.0, 0.6);
  panel_->setAim(3, "front_transfer", true, transfer(before), 0.5);
  EXPECT_TRUE(find<QDoubleSpinBox>(QStringLiteral("recipe.lateral"))->isVisible());
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(2);
  search();
  ASSERT_TRUE(panel_->result() && !panel_->result()->results.empty());
  EXPECT_TRUE(panel_->result()->complete);
  EXPECT_TRUE(text(QStringLiteral("recipe.news")).contains(QStringLiteral("left out by proof")));
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  table->setCurrentCell(0, 0);
  EXPECT_TRUE(text(QStringLiteral("recipe.steps")).contains(QStringLiteral("Then: ")));
  click(QStringLiteral("recipe.try"));
  settle();
  EXPECT_NEAR(rollCentre(document().setup()), rollCentre(before) + 1.0, 0.15);
  EXPECT_NEAR(front(document().setup()), front(before), 0.11);
  EXPECT_NEAR(transfer(document().setup()), transfer(before), 0.5);
  document().undoStack().undo();
  EXPECT_EQ(document().setup(), before);
}

// What the driver wishes, beside a figure that is held: searched, taken over, and then so.
TEST_F(Recipes, WhatTheDriverWishesIsAskedBesideFiguresAndFollowedToTheEnd) {
  const lowkite::Setup before = document().setup();
  EXPECT_FALSE(find<QSpinBox>(QStringLiteral("recipe.share"))->isVisible()) << "nothing is wished yet";
  const auto choose = [&](const QString& box, const QVariant& data) {
    auto* list = find<QComboBox>(box);
    const int row = list->findData(data);
    ASSERT_GE(row, 0) << box.toStdString();
    list->setCurrentIndex(row);
    Q_EMIT list->activated(row);
  };
  choose(QStringLiteral("recipe.aim0.figure"), QByteArray("felt.front_left.entry"));
  EXPECT_TRUE(find<QSpinBox>(QStringLiteral("recipe.share"))->isVisible());
  EXPECT_FALSE(find<QDoubleSpinBox>(QStringLiteral("recipe.aim0.value"))->isVisible()) << "it has no value";
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim0.wish"))->currentText(), QStringLiteral("more"));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("recipe.against"))->isEnabled());
  panel_->setAim(1, "roll_centre", true, rollCentre(before), 0.3);
  search();
  ASSERT_TRUE(panel_->result() && !panel_->result()->results.empty());
  const RecipeResult& r = panel_->result()->results.front();
  ASSERT_TRUE(r.meets());
  EXPECT_GE(r.felt->share, 0.8);
  EXPECT_TRUE(text(QStringLiteral("recipe.news")).contains(QStringLiteral("worked out")));
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  EXPECT_TRUE(table->item(0, 1)->text().contains(QStringLiteral("%"))) << table->item(0, 1)->text().toStdString();
  table->setCurrentCell(0, 0);
  EXPECT_TRUE(text(QStringLiteral("recipe.steps")).contains(QStringLiteral("Front grip: entry")));
  click(QStringLiteral("recipe.try"));
  settle();
  EXPECT_EQ(document().setup(), r.setup);
  EXPECT_NEAR(rollCentre(document().setup()), rollCentre(before), 0.35);
  // The page of handling, over all of its tyres, says the same of the setup that is now in hand.
  openPage(PlanWorkspace::Page::handling);
  HandlingPage& handling = window_->plan().handling();
  ASSERT_TRUE(QTest::qWaitFor([&] { return handling.study() && !handling.busy(); }, 60000));
  const HandlingStudy& s = *handling.study();
  const auto d =
      difference_of(spec_of(HandlingFigure::front_left), CornerPhase::entry, *s.over_before, *s.over_after, s.tyres);
  ASSERT_TRUE(d);
  EXPECT_GE(d->more, 0.6);
  // Another corner, and what was found for this one goes; wishes come over from there.
  click(QStringLiteral("handling.view.7"));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("handling.wish.beside"))->isEnabled());
  find<QComboBox>(QStringLiteral("handling.wish.sign2.0"))->setCurrentIndex(3);
  find<QComboBox>(QStringLiteral("handling.wish.sign1.2"))->setCurrentIndex(2);
  find<QSpinBox>(QStringLiteral("handling.wish.share"))->setValue(70);
  find<QDoubleSpinBox>(QStringLiteral("handling.radius"))->setValue(5.0);
  EXPECT_FALSE(panel_->result());
  click(QStringLiteral("handling.wish.beside"));
  settle();
  EXPECT_TRUE(panel_->isVisible());
  EXPECT_EQ(find<QSpinBox>(QStringLiteral("recipe.share"))->value(), 70);
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim0.figure"))->currentData().toByteArray(),
            QByteArray("felt.steering.entry"));
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim0.wish"))->currentText(), QStringLiteral("the same"));
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim1.wish"))->currentText(), QStringLiteral("not less"));
  EXPECT_EQ(window_->findChild<QComboBox*>(QStringLiteral("recipe.aim2.figure")), nullptr);
  EXPECT_TRUE(text(QStringLiteral("recipe.feltOver")).contains(QStringLiteral("5.0 m")));
  EXPECT_FALSE(panel_->tradeOff());
  // More of one is quicker of another, not more of its time; and every wish that can be made comes over.
  find<QComboBox>(QStringLiteral("recipe.aim1.wish"))->setCurrentIndex(0);
  choose(QStringLiteral("recipe.aim1.figure"), QByteArray("felt.reaction.middle"));
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim1.wish"))->currentText(), QStringLiteral("quicker"));
  openPage(PlanWorkspace::Page::handling);
  for (int row = 0; row < 4; ++row)
    for (int phase = 0; phase < 3; ++phase)
      find<QComboBox>(QStringLiteral("handling.wish.sign%1.%2").arg(row).arg(phase))->setCurrentIndex(3);
  click(QStringLiteral("handling.wish.beside"));
  settle();
  for (int line = 0; line < 12; ++line)
    EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim%1.wish").arg(line))->currentText(),
              QStringLiteral("the same"));
  std::set<QByteArray> asked;
  for (int line = 0; line < 12; ++line)
    asked.insert(find<QComboBox>(QStringLiteral("recipe.aim%1.figure").arg(line))->currentData().toByteArray());
  EXPECT_EQ(asked.size(), 12u);
}

TEST_F(Recipes, WhatMoreWorkBuysIsALadder) {
  search();
  ASSERT_TRUE(panel_->result());
  click(QStringLiteral("recipe.byWork"));
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  ASSERT_EQ(table->rowCount(), static_cast<int>(panel_->result()->front.size()));
  ASSERT_GE(table->rowCount(), 2);
  table->setCurrentCell(0, 0);
  click(QStringLiteral("recipe.try"));
  settle();
  EXPECT_EQ(document().setup(), panel_->result()->front.front().setup);
}

TEST_F(Recipes, WhatFewChangesCanDoStandsThereWhileItSearchesOn) {
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(3);
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return panel_->result().has_value(); }, 30000));
  EXPECT_TRUE(panel_->busy()) << "four at once take longer than one";
  EXPECT_TRUE(text(QStringLiteral("recipe.news")).startsWith(QStringLiteral("So far")));
  EXPECT_GT(find<QTableWidget>(QStringLiteral("recipe.table"))->rowCount(), 0);
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 10000));
}

TEST_F(Recipes, TheOtherAxleGivesUpTheSearch) {
  find<QComboBox>(QStringLiteral("recipe.most"))->setCurrentIndex(3);
  click(QStringLiteral("recipe.search"));
  ASSERT_TRUE(panel_->busy());
  click(QStringLiteral("axle.0"));
  settle();
  EXPECT_FALSE(panel_->busy());
  QTest::qWait(200);
  EXPECT_FALSE(panel_->result()) << "what was found for the rear is not shown for the front";
  EXPECT_EQ(find<QPushButton>(QStringLiteral("recipe.search"))->text(), QStringLiteral("Search"));
}

TEST_F(Recipes, LinesComeAndGoAndTheOtherAxleHasItsOwn) {
  click(QStringLiteral("recipe.more"));
  ASSERT_NE(window_->findChild<QComboBox*>(QStringLiteral("recipe.aim2.figure")), nullptr);
  click(QStringLiteral("recipe.aim2.remove"));
  QTest::qWait(10);
  EXPECT_EQ(window_->findChild<QComboBox*>(QStringLiteral("recipe.aim2.figure")), nullptr);
  // A line taken out of the middle: those after it move up, and the next one shares its name with none.
  const QByteArray second = find<QComboBox>(QStringLiteral("recipe.aim1.figure"))->currentData().toByteArray();
  click(QStringLiteral("recipe.aim0.remove"));
  EXPECT_EQ(find<QComboBox>(QStringLiteral("recipe.aim0.figure"))->currentData().toByteArray(), second);
  click(QStringLiteral("recipe.more"));
  for (const char* name : {"recipe.aim0.figure", "recipe.aim1.figure"})
    EXPECT_EQ(window_->findChildren<QComboBox*>(QLatin1String(name)).size(), 1) << name;
  click(QStringLiteral("axle.0"));
  settle();
  auto* figures = find<QComboBox>(QStringLiteral("recipe.aim0.figure"));
  EXPECT_GE(figures->findData(QByteArray("front.caster")), 0);
  EXPECT_EQ(figures->currentData().toByteArray(), QByteArray("front.roll_centre"));
}

class Compares : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_->open(dataPath(QStringLiteral("setups/heron-carpet-final.kite-setup.json")));
    settle();
  }
  QStringList column(const QString& table, int column) {
    QStringList all;
    const auto* t = find<QTableWidget>(table);
    for (int row = 0; row < t->rowCount(); ++row)
      if (const auto* item = t->item(row, column)) all << item->text();
    return all;
  }
  void chooseIn(const QString& box, const QString& text) {
    auto* b = find<QComboBox>(box);
    int row = -1;
    for (int i = 0; i < b->count(); ++i)
      if (b->itemText(i).contains(text)) row = i;
    ASSERT_GE(row, 0) << text.toStdString();
    b->setCurrentIndex(row);
    Q_EMIT b->activated(row);
  }
};

TEST_F(Compares, PartsFiguresAndGaugesOfTwoSetupsOfTheCar) {
  openPage(PlanWorkspace::Page::compare);
  chooseIn(QStringLiteral("compare.a"), QStringLiteral("Club evening"));
  EXPECT_EQ(column(QStringLiteral("compare.table"), 0),
            (QStringList{QStringLiteral("Front: camber link, inner ball"),
                         QStringLiteral("Rear: camber link, inner ball"), QStringLiteral("Rear: droop screw")}));
  EXPECT_EQ(column(QStringLiteral("compare.table"), 1).front(), QStringLiteral("2.5 mm"));
  click(QStringLiteral("compare.page.1"));
  auto* table = find<QTableWidget>(QStringLiteral("compare.table"));
  int faint = 0, told = 0;
  for (int row = 0; row < table->rowCount(); ++row)
    if (const auto* item = table->item(row, 3)) {
      const bool reason = item->toolTip().contains(QStringLiteral("no reading could tell"));
      faint += reason;
      told += !reason && !item->text().isEmpty();
    }
  EXPECT_GT(told, 10);
  EXPECT_GT(faint, 0) << "small differences are there, with the reason";
  const auto differing = table->rowCount();
  click(QStringLiteral("compare.onlyDifferent"));
  EXPECT_GT(table->rowCount(), differing);
  click(QStringLiteral("compare.onlyDifferent"));
  click(QStringLiteral("compare.page.2"));
  EXPECT_TRUE(column(QStringLiteral("compare.table"), 0).join(QLatin1Char(' ')).contains(QStringLiteral("down-stop")));
  click(QStringLiteral("compare.page.3"));
  EXPECT_TRUE(
      column(QStringLiteral("compare.table"), 0).join(QLatin1Char(' ')).contains(QStringLiteral("front transfer, %")));
}

TEST_F(Compares, BothAreShownInTheDrawingAndUndoneInOneStep) {
  const lowkite::Setup before = document().setup();
  openPage(PlanWorkspace::Page::compare);
  chooseIn(QStringLiteral("compare.a"), QStringLiteral("Asphalt"));
  chooseIn(QStringLiteral("compare.b"), QStringLiteral("calmer"));
  click(QStringLiteral("compare.take"));
  settle();
  EXPECT_EQ(document().baseline().name, "Asphalt, warm");
  EXPECT_EQ(document().setup().name, "Carpet, calmer rear");
  EXPECT_EQ(model().comparison()->baseline->setup.name, "Asphalt, warm");
  click(QStringLiteral("undo"));
  EXPECT_EQ(document().setup(), before);
  EXPECT_EQ(document().baseline(), before);
}

TEST_F(Compares, AnotherCarIsComparedByItsFigures) {
  openPage(PlanWorkspace::Page::compare);
  chooseIn(QStringLiteral("compare.a"), QStringLiteral("Godwit TA"));
  EXPECT_TRUE(text(QStringLiteral("compare.news")).contains(QStringLiteral("Two different cars")));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("compare.take"))->isEnabled());
  click(QStringLiteral("compare.page.1"));
  EXPECT_GT(find<QTableWidget>(QStringLiteral("compare.table"))->rowCount(), 20);
}

TEST_F(Compares, TheTreeOfSetupsTellsWhatChangedAndAPartsHistory) {
  openPage(PlanWorkspace::Page::setups);
  auto* tree = find<QTreeWidget>(QStringLiteral("setups.tree"));
  ASSERT_EQ(tree->topLevelItemCount(), 1);
  EXPECT_EQ(tree->currentItem()->text(0), QStringLiteral("\u25C6 Carpet, final evening"));
  EXPECT_EQ(tree->currentItem()->parent()->text(0), QStringLiteral("Carpet, calmer rear"));
  EXPECT_EQ(tree->currentItem()->parent()->parent()->text(0), QStringLiteral("Club evening, carpet"));
  EXPECT_EQ(column(QStringLiteral("setups.changes"), 0), QStringList{QStringLiteral("Front: camber link, inner ball")});
  find<QTableWidget>(QStringLiteral("setups.changes"))->setCurrentCell(0, 0);
  const QString history = text(QStringLiteral("setups.history"));
  EXPECT_TRUE(history.contains(QStringLiteral("Kit 2 mm \u2192 Club evening, carpet 2.5 mm"))) << history.toStdString();
  EXPECT_TRUE(history.endsWith(QStringLiteral("Carpet, final evening 2 mm"))) << history.toStdString();
  // The neighbour is opened, and compared.
  tree->setCurrentItem(tree->currentItem()->parent());
  EXPECT_TRUE(find<QLineEdit>(QStringLiteral("setups.name"))->isReadOnly());
  click(QStringLiteral("setups.baseline"));
  EXPECT_EQ(document().baseline().name, "Carpet, calmer rear");
  click(QStringLiteral("setups.compare"));
  EXPECT_TRUE(find<QComboBox>(QStringLiteral("compare.a"))->currentText().contains(QStringLiteral("calmer")));
  EXPECT_EQ(column(QStringLiteral("compare.table"), 0).size(), 1);
  openPage(PlanWorkspace::Page::setups);
  tree->setCurrentItem(tree->topLevelItem(0));
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  click(QStringLiteral("setups.open"));
  EXPECT_EQ(document().setup().name, "Kit");
}

TEST_F(Compares, WordsAreKeptWithTheSetupAndUndone) {
  openPage(PlanWorkspace::Page::setups);
  auto* name = find<QLineEdit>(QStringLiteral("setups.name"));
  name->setFocus();
  name->selectAll();
  QTest::keyClicks(name, QStringLiteral("Semi final"));
  QTest::keyClick(name, Qt::Key_Return);
  EXPECT_EQ(document().setup().name, "Semi final");
  auto* why = find<QPlainTextEdit>(QStringLiteral("setups.why"));
  why->setFocus();
  why->selectAll();
  QTest::keyClicks(why, QStringLiteral("Less grip"));
  name->setFocus();
  EXPECT_EQ(document().setup().notes, "Less grip");
  click(QStringLiteral("undo"));
  click(QStringLiteral("undo"));
  EXPECT_EQ(document().setup().name, "Carpet, final evening");
  EXPECT_EQ(name->text(), QStringLiteral("Carpet, final evening"));
}

TEST_F(Compares, ASetupGoesToATableAndComesBackAsOneChange) {
  const QString path = folder_.filePath(QStringLiteral("table.csv"));
  window_->askExportPath = [&](const QString&) { return path; };
  window_->askTablePath = [&] { return path; };
  const auto actions = find<QMenu>(QStringLiteral("menu.table"))->actions();
  const lowkite::Setup before = document().setup();
  actions[0]->trigger();
  ASSERT_TRUE(QFile::exists(path));
  click(QStringLiteral("adjuster.front_link_inner_shims.more"));
  actions[1]->trigger();
  EXPECT_EQ(document().setup(), before);
  click(QStringLiteral("undo"));
  EXPECT_NE(document().setup(), before);
  QFile file(path);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write("part,left\nfront_link_inner_shims,plenty\n");
  file.close();
  const lowkite::Setup now = document().setup();
  actions[1]->trigger();
  EXPECT_TRUE(window_->faultPanel().isVisible());
  EXPECT_EQ(document().setup(), now) << "nothing is lost";
}

TEST_F(Compares, ACopyUnderANewNameKnowsWhatItWasMadeFrom) {
  const QString copy = folder_.filePath(QStringLiteral("rain.kite-setup.json"));
  click(QStringLiteral("adjuster.front_link_inner_shims.more"));
  ASSERT_TRUE(window_->saveTo(copy));
  EXPECT_EQ(document().setup().name, "rain");
  EXPECT_EQ(document().setup().based_on, "Carpet, final evening");
  openPage(PlanWorkspace::Page::setups);
  auto* tree = find<QTreeWidget>(QStringLiteral("setups.tree"));
  EXPECT_EQ(tree->currentItem()->text(0), QStringLiteral("\u25C6 rain"));
  EXPECT_EQ(tree->currentItem()->parent()->text(0), QStringLiteral("Carpet, final evening"));
}

TEST(ToeInASearch, IsPutInAsInOrOut) {
  ToeSpin field;
  field.setRange(-30.0, 30.0);
  field.setDecimals(1);
  field.setToe(true, QStringLiteral("deg"));
  field.setValue(-1.1);
  EXPECT_EQ(field.text(), QStringLiteral("1.1 deg out"));
  const auto type = [&](const QString& what) {
    field.selectAll();
    QTest::keyClicks(&field, what);
    QTest::keyClick(&field, Qt::Key_Return);
  };
  type(QStringLiteral("0.5"));
  EXPECT_EQ(field.value(), -0.5) << "a bare number stays on its side";
  type(QStringLiteral("2 in"));
  EXPECT_EQ(field.value(), 2.0);
  type(QStringLiteral("1 out"));
  EXPECT_EQ(field.value(), -1.0);
  field.setToe(false, QStringLiteral("mm"));
  field.setValue(-3.0);
  EXPECT_TRUE(field.text().endsWith(QStringLiteral(" mm")));
}

}  // namespace
}  // namespace lowkite::app
