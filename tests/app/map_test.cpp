// The map of a figure over two parts: every field against the program's common way, taken over and undone.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QPushButton>
#include <QTableWidget>

#include "app/plan/read/map_panel.h"
#include "app/plan/read/sensitivity_panel.h"
#include "core/plan/car_judge.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class Map : public WindowTest {
 protected:
  void openMap() {
    openPage(PlanWorkspace::Page::movers);
    panel_ = find<SensitivityPanel>(QStringLiteral("sensitivity"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return panel_->result().has_value() && !panel_->busy(); }, 20000));
    if (!find<QPushButton>(QStringLiteral("sensitivity.asMap"))->isChecked())
      click(QStringLiteral("sensitivity.asMap"));
    ready();
  }
  void ready() {
    ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->map().busy(); }, 20000));
  }
  PartHandle partIn(const QString& box) { return PartHandle::numbered(find<QComboBox>(box)->currentData().toInt()); }
  SensitivityPanel* panel_ = nullptr;
};

TEST_F(Map, EveryFieldIsWhatTheCommonWayGives) {
  for (const char* id : {"heron-tc190", "plover-2wd", "dunlin-4wd"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(id)))));
    settle();
    openMap();
    const auto* table = find<QTableWidget>(QStringLiteral("map.table"));
    ASSERT_GT(table->rowCount() * table->columnCount(), 8) << id;
    const lowkite::Setup kit = document().setup();
    const CarTargets targets = targets_of(evaluate(document().car(), kit, {}, coarse_curve)->source.standing);
    int compared = 0;
    for (int r = 0; r < table->rowCount(); r += 2)
      for (int c = 0; c < table->columnCount(); c += 3) {
        const auto told = panel_->map().at(r, c);
        lowkite::Setup s = kit;
        const double down = panel_->map().downValue(r), across = panel_->map().acrossValue(c);
        s.of(partIn(QStringLiteral("map.down"))) = {down, down};
        s.of(partIn(QStringLiteral("map.across"))) = {across, across};
        const auto back = reset_alignment(document().car(), s, targets, {.hold_caster = false, .step_turns = 0.0});
        if (!told || !back) continue;
        const auto then = evaluate(document().car(), back->setup, {}, coarse_curve);
        ASSERT_TRUE(then);
        EXPECT_NEAR(*told, *find_figure("roll_centre")->read(then->source, model().end(), Side::left), 1e-5) << id;
        ++compared;
      }
    EXPECT_GT(compared, 4) << id;
    putAway();
  }
}

TEST_F(Map, AFieldIsTakenOverAsOneStepAndUndone) {
  click(QStringLiteral("axle.1"));
  openMap();
  auto* table = find<QTableWidget>(QStringLiteral("map.table"));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("map.take"))->isEnabled());
  const lowkite::Setup before = document().setup();
  const PartHandle down = partIn(QStringLiteral("map.down")), across = partIn(QStringLiteral("map.across"));
  int row = 0, column = 0;
  while (!panel_->map().at(row, column) || panel_->map().downValue(row) == before.of(down).left ||
         panel_->map().acrossValue(column) == before.of(across).left) {
    if (++column == table->columnCount()) {
      column = 0;
      ASSERT_LT(++row, table->rowCount());
    }
  }
  table->setCurrentCell(row, column);
  const double promised = *panel_->map().at(row, column);
  EXPECT_TRUE(text(QStringLiteral("map.news")).contains(QStringLiteral("mm")));
  click(QStringLiteral("map.take"));
  settle();
  EXPECT_EQ(document().setup().of(down).left, document().setup().of(down).right);
  EXPECT_NEAR(*find_figure("roll_centre")->read(model().comparison()->reset->source, End::rear, Side::left), promised,
              0.1)
      << "with turns as a hand does them";
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 20000));
  ready();
  click(QStringLiteral("undo"));
  EXPECT_EQ(document().setup(), before);
}

// Of the car on its springs the parts of both axles are offered, springs too, and every field is the common way's.
TEST_F(Map, OfTheSpringsIsOverPartsOfBothAxles) {
  openMap();
  const Car& car = document().car();
  const FigureSpec& transfer = *find_figure("front_transfer");
  panel_->setFigure(FigurePlace{&transfer, std::nullopt, std::nullopt});
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel_->busy(); }, 30000));
  auto* down = find<QComboBox>(QStringLiteral("map.down"));
  auto* across = find<QComboBox>(QStringLiteral("map.across"));
  const auto choose = [&](QComboBox* box, const char* id) {
    const int row = box->findData(car.find_adjuster(id).number());
    ASSERT_GE(row, 0) << id;
    box->setCurrentIndex(row);
    Q_EMIT box->activated(row);
  };
  const HeldTurn under{{find<QDoubleSpinBox>(QStringLiteral("sensitivity.lateral"))->value(), 0.0},
                       find<QDoubleSpinBox>(QStringLiteral("sensitivity.radius"))->value()};
  EXPECT_GT(under.radius_m, 0.0);
  for (const auto& [one, other] :
       {std::pair("front_spring", "rear_spring"), std::pair("front_spring", "rear_arm_shims")}) {
    choose(down, one);
    choose(across, other);
    ready();
    const auto* table = find<QTableWidget>(QStringLiteral("map.table"));
    ASSERT_GT(table->rowCount() * table->columnCount(), 8);
    const lowkite::Setup kit = document().setup();
    const CarTargets targets = targets_of(evaluate(car, kit, {}, coarse_curve)->source.standing);
    int compared = 0;
    for (int r = 0; r < table->rowCount(); r += 2)
      for (int c = 0; c < table->columnCount(); c += 2) {
        lowkite::Setup s = kit;
        const double d = panel_->map().downValue(r), a = panel_->map().acrossValue(c);
        s.of(car.find_adjuster(one)) = {d, d};
        s.of(car.find_adjuster(other)) = {a, a};
        const auto back = reset_alignment(car, s, targets, {.hold_caster = false, .step_turns = 0.0});
        const auto then = back ? put_on_springs(car, back->setup, under)
                               : tl::expected<LoadSource, CarFailure>(tl::unexpect, CarFailure{});
        const auto told = panel_->map().at(r, c);
        if (!then || !told) continue;
        EXPECT_NEAR(*told, *transfer.read(*then, End::front, Side::left), 1e-3) << one << " " << d << " " << a;
        ++compared;
      }
    EXPECT_GT(compared, 3);
  }
  // Back to a figure of the axle, its own parts alone.
  panel_->setFigure("track");
  ready();
  EXPECT_LT(down->findData(car.find_adjuster("rear_spring").number()), 0);
}

TEST_F(Map, IsOfTheFigureTheAxleAndThePartsThatAreChosen) {
  openMap();
  auto* down = find<QComboBox>(QStringLiteral("map.down"));
  auto* across = find<QComboBox>(QStringLiteral("map.across"));
  across->setCurrentIndex(down->currentIndex());
  Q_EMIT across->activated(across->currentIndex());
  EXPECT_EQ(text(QStringLiteral("map.news")), QStringLiteral("Choose two parts."));
  across->setCurrentIndex(down->currentIndex() == 0 ? 1 : 0);
  Q_EMIT across->activated(across->currentIndex());
  ready();
  const auto first = panel_->map().at(0, 0);
  panel_->setFigure("track");
  ready();
  EXPECT_NE(panel_->map().at(0, 0), first) << "another figure";
  click(QStringLiteral("axle.1"));
  settle();
  ASSERT_TRUE(QTest::qWaitFor([&] { return panel_->result().has_value() && !panel_->busy(); }, 20000));
  ready();
  EXPECT_EQ(document().car().adjusters[partIn(QStringLiteral("map.down"))].end, End::rear);
}

// Tints are mixed for the shade, and what stands on them can be read in either.
TEST_F(Map, FieldsAreReadInEitherShade) {
  openMap();
  const auto* table = find<QTableWidget>(QStringLiteral("map.table"));
  const auto tints = [&] {
    std::vector<QRgb> all;
    for (int r = 0; r < table->rowCount(); ++r)
      for (int c = 0; c < table->columnCount(); ++c) {
        const QTableWidgetItem* item = table->item(r, c);
        all.push_back(item->background().color().rgb());
        const int ground = item->background().color().lightness(), ink = item->foreground().color().lightness();
        EXPECT_GT(std::abs(ground - ink), 70) << r << ", " << c;
      }
    return all;
  };
  const std::vector<QRgb> light = tints();
  ASSERT_GT(light.size(), 8U);
  window_->setShade(Shade::dark);
  settle();
  for (const QRgb tint : tints()) EXPECT_LT(QColor(tint).lightness(), 170);
  window_->setShade(Shade::light);
  settle();
  EXPECT_EQ(tints(), light);
}

}  // namespace
}  // namespace lowkite::app
