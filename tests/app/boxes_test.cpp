// My boxes in the window: filled by hand, kept, undone, put into a car, and heard of by searches, work, advice and
// packing.
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>

#include "app/car/boxes_page.h"
#include "app/car/car_workspace.h"
#include "app/document/open_files.h"
#include "app/kept/kept.h"
#include "app/plan/search/recipe_panel.h"
#include "app/track/ahead_page.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "core/io/box_file.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class BoxesTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    show();
  }
  void show() {
    click(QStringLiteral("workspace.0"));
    click(QStringLiteral("car.page.5"));
  }
  QString path() { return folder_.filePath(QStringLiteral("my-boxes.json")); }
  Boxes kept() {
    const auto boxes = read_boxes(contentOf(path()).toStdString(), "my-boxes.json");
    EXPECT_TRUE(boxes) << contentOf(path()).toStdString();
    return boxes ? *boxes : Boxes{};
  }
  void putIn(const char* kind) {
    find<QAction>(QStringLiteral("boxes.add.%1").arg(QLatin1String(kind)))->trigger();
    settle();
  }
  void type(const char* name, const QString& text) {
    auto* line = find<QLineEdit>(QStringLiteral("boxes.%1").arg(QLatin1String(name)));
    ASSERT_TRUE(line->isVisible()) << name;
    line->setFocus();
    line->selectAll();
    QTest::keyClick(line, Qt::Key_Delete);
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Return);
    settle();
  }
  void choose(const char* name, const QString& part) {
    auto* box = find<QComboBox>(QStringLiteral("boxes.%1").arg(QLatin1String(name)));
    for (int i = 0; i < box->count(); ++i)
      if (box->itemText(i).contains(part)) {
        box->setCurrentIndex(i);
        Q_EMIT box->activated(i);
        settle();
        return;
      }
    ADD_FAILURE() << part.toStdString();
  }
  int rowOf(const QString& text) {
    auto* list = find<QTableWidget>(QStringLiteral("boxes.list"));
    for (int row = 0; row < list->rowCount(); ++row)
      if (list->item(row, 0)->text().contains(text)) return row;
    ADD_FAILURE() << text.toStdString();
    return -1;
  }
  void pick(const QString& text) {
    find<QTableWidget>(QStringLiteral("boxes.list"))->setCurrentCell(rowOf(text), 0);
    settle();
  }
};

TEST_F(BoxesTest, SpringsArePutInAsTheyAreMeasuredAndKept) {
  EXPECT_TRUE(find<QPushButton>(QStringLiteral("boxes.example"))->isVisible());
  putIn("spring");
  type("label", QStringLiteral("yellow"));
  type("maker", QStringLiteral("Brackwater"));
  type("value", QStringLiteral("3.1 lbf/in"));
  type("length", QStringLiteral("21,5"));
  ASSERT_EQ(kept().items.size(), 1u);
  EXPECT_NEAR(kept().items[0].value, 3.1 * 4.4482216 / 25.4, 1e-5);
  EXPECT_EQ(kept().items[0].length_mm, 21.5);
  EXPECT_TRUE(text(QStringLiteral("boxes.derived")).contains(QStringLiteral("3.10 lbf/in")));
  EXPECT_EQ(kept().items[0].count, 2) << "springs come in pairs";
  click(QStringLiteral("boxes.more.0"));
  click(QStringLiteral("boxes.more.0"));
  EXPECT_EQ(kept().items[0].count, 4);
  // Two rates: half of them typed is asked for, not taken.
  type("second", QStringLiteral("0.8"));
  EXPECT_TRUE(text(QStringLiteral("boxes.wrong")).contains(QStringLiteral("begins")));
  EXPECT_EQ(kept().items[0].second_rate, 0.0);
  type("from", QStringLiteral("5"));
  EXPECT_EQ(kept().items[0].second_rate, 0.8);
  EXPECT_EQ(kept().items[0].transition_mm, 5.0);
  type("table", QStringLiteral("2 1.1; 4 2.2; 6 3.6; 8 5.0"));
  EXPECT_EQ(kept().items[0].table.size(), 5u);
  EXPECT_EQ(kept().items[0].second_rate, 0.0);
  EXPECT_TRUE(text(QStringLiteral("boxes.derived")).contains(QStringLiteral("two rates")));
  type("table", QStringLiteral("2 1.1; 1 2.2"));
  EXPECT_TRUE(text(QStringLiteral("boxes.wrong")).contains(QStringLiteral("rise")));
  EXPECT_EQ(kept().items[0].table.size(), 5u) << "what cannot be is not kept";
  // The next start has it all.
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json")))));
  window_->show();
  show();
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("boxes.list"))->rowCount(), 1);
  EXPECT_EQ(find<QLineEdit>(QStringLiteral("boxes.maker"))->text(), QStringLiteral("Brackwater"));
}

TEST_F(BoxesTest, EveryEditIsUndoneAndDoneAgainAndTheSetupsUndoIsItsOwn) {
  putIn("shim");
  type("several", QStringLiteral("0.25x4 0.5x8 1x6"));
  putIn("bar_wire");
  click(QStringLiteral("boxes.more.0"));
  click(QStringLiteral("boxes.more.0"));
  const Boxes all = kept();
  ASSERT_EQ(all.items.size(), 4u);
  EXPECT_EQ(all.items[0].count, 8) << "the shim that was there is counted anew";
  click(QStringLiteral("boxes.remove"));
  EXPECT_EQ(kept().items.size(), 3u);
  click(QStringLiteral("undo"));
  EXPECT_EQ(kept(), all);
  click(QStringLiteral("undo"));
  EXPECT_EQ(kept().items.back().count, all.items.back().count - 2) << "a row of presses is one edit";
  click(QStringLiteral("undo"));
  click(QStringLiteral("undo"));
  click(QStringLiteral("undo"));
  EXPECT_TRUE(kept().items.empty());
  for (int i = 0; i < 4; ++i) click(QStringLiteral("redo"));
  EXPECT_EQ(kept(), all);
  // A setup's edit is undone where it was made, whatever was done to the boxes since.
  click(QStringLiteral("workspace.2"));
  click(QStringLiteral("adjuster.front_link_inner_shims.more"));
  show();
  click(QStringLiteral("boxes.more.0"));
  click(QStringLiteral("workspace.2"));
  const double before = value("front_link_inner_shims");
  click(QStringLiteral("undo"));
  EXPECT_LT(value("front_link_inner_shims"), before);
  EXPECT_NE(kept(), all);
  // And on another page of Car, too.
  click(QStringLiteral("workspace.0"));
  click(QStringLiteral("car.page.0"));
  click(QStringLiteral("redo"));
  EXPECT_EQ(value("front_link_inner_shims"), before);
}

TEST_F(BoxesTest, WhatCannotBeIsRefusedWithASentence) {
  putIn("piston");
  for (const auto& [field, typed, said] :
       {std::tuple("value", "thick", "a number"), std::tuple("value", "0", "0.1 to 10"),
        std::tuple("value", "1e400", "a number"), std::tuple("holes", "2.5", "1 to 20"),
        std::tuple("holes", "0", "1 to 20")}) {
    const Boxes before = kept();
    type(field, QLatin1String(typed));
    EXPECT_TRUE(text(QStringLiteral("boxes.wrong")).contains(QLatin1String(said)))
        << text(QStringLiteral("boxes.wrong")).toStdString();
    EXPECT_EQ(kept(), before);
    window_->carWorkspace().boxesPage().take(0);
  }
  putIn("shim");
  type("several", QStringLiteral("a few"));
  EXPECT_TRUE(text(QStringLiteral("boxes.wrong")).contains(QStringLiteral("ound \"a few\"")));
  putIn("spring");
  type("value", QStringLiteral("soft"));
  EXPECT_TRUE(text(QStringLiteral("boxes.wrong")).contains(QStringLiteral("lbf/in")));
}

TEST_F(BoxesTest, AnItemBecomesAChoiceOfTheRacersOwnCar) {
  putIn("spring");
  type("label", QStringLiteral("mint"));
  type("value", QStringLiteral("0.52"));
  EXPECT_FALSE(find<QToolButton>(QStringLiteral("boxes.putIn"))->isVisible()) << "a shipped car stays as it is";
  EXPECT_TRUE(text(QStringLiteral("boxes.onCar")).contains(QStringLiteral("make the car your own")));
  const QString name = QStringLiteral("Boxed heron %1").arg(QCoreApplication::applicationPid());
  auto* own = find<QLineEdit>(QStringLiteral("car.ownName"));
  own->setFocus();
  QTest::keyClicks(own, name);
  click(QStringLiteral("car.own"));
  ASSERT_FALSE(document().carIsShipped());
  const auto positions = [&] { return document().car().adjusters[part("front_spring")].positions()->list.size(); };
  ASSERT_EQ(positions(), 3u);
  const double was = value("front_spring");
  find<QAction>(QStringLiteral("boxes.putIn.front_spring"))->trigger();
  settle();
  ASSERT_EQ(positions(), 4u);
  EXPECT_EQ(document().car().adjusters[part("front_spring")].positions()->list[2].label, "mint")
      << "between medium and hard";
  EXPECT_EQ(value("front_spring"), was) << "the setup keeps its spring";
  EXPECT_TRUE(text(QStringLiteral("boxes.onCar")).contains(QStringLiteral("mint")));
  // Plan steps to it, and the model hears of it.
  click(QStringLiteral("workspace.2"));
  click(QStringLiteral("adjuster.front_spring.more"));
  EXPECT_EQ(value("front_spring"), 2.0);
  EXPECT_NEAR(spring_of(model().comparison()->changed->model.corner(End::front, Side::left)).rate_n_per_mm, 0.52, 1e-9);
  click(QStringLiteral("undo"));
  click(QStringLiteral("undo"));
  EXPECT_EQ(positions(), 3u);
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  // Another car is opened while the item is in hand: nothing on the page means the old one.
  ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/sanderling-12.kite-car.json")))));
  show();
  for (const QAction* a : find<QMenu>(QStringLiteral("boxes.putInMenu"))->actions()) {
    EXPECT_EQ(a->objectName(), QStringLiteral("boxes.putIn.rear_spring")) << "the pan car's only spring on a shock";
  }
  EXPECT_FALSE(find<QToolButton>(QStringLiteral("boxes.putIn"))->isVisible()) << "and it is no car of his own";
  window_.reset();
  QFile::remove(ownCarPath(name));
}

TEST_F(BoxesTest, TheRecipeKeepsToWhatIsOwnedAndSaysWhatIsWorthBuying) {
  putIn("shim");
  type("several", QStringLiteral("0.25x0 0.5x0 1x0 2x0"));
  click(QStringLiteral("workspace.2"));
  click(QStringLiteral("axle.1"));
  openPage(PlanWorkspace::Page::recipe);
  auto* panel = find<RecipePanel>(QStringLiteral("recipe"));
  const auto search = [&] {
    click(QStringLiteral("recipe.search"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !panel->busy(); }, 60000));
    settle();
  };
  // Only shims under one ball may change: with none in the box it can only go down.
  for (const char* end : {"front", "rear"})
    find<QMenu>(QStringLiteral("recipe.partMenu.") + QLatin1String(end))->actions()[1]->trigger();
  for (QAction* one : find<QMenu>(QStringLiteral("recipe.partMenu.rear"))->actions())
    if (one->text() == QStringLiteral("Camber link, inner ball")) one->setChecked(true);
  const double now = value("rear_link_inner_shims");
  const auto target = [&](double mm) {
    auto setup = document().setup();
    setup.of(part("rear_link_inner_shims")) = {mm, mm};
    const auto v = evaluate(document().car(), setup, {}, 9);
    return *find_figure("camber_gain")->read(v->source, End::rear, Side::left);
  };
  panel->setAim(0, "camber_gain", false, target(now + 1.0), 0.002);
  panel->setAim(1, "toe", true, *find_figure("toe")->read(model().comparison()->changed->source, End::rear, Side::left),
                0.2);
  search();
  ASSERT_TRUE(panel->result());
  ASSERT_FALSE(panel->result()->results.empty());
  EXPECT_TRUE(panel->toBuy().empty());
  auto* table = find<QTableWidget>(QStringLiteral("recipe.table"));
  EXPECT_TRUE(table->item(0, 0)->text().contains(QStringLiteral("not there"))) << "told even when all is searched";
  click(QStringLiteral("recipe.boxOnly"));
  search();
  ASSERT_FALSE(panel->toBuy().empty());
  for (const RecipeResult& r : panel->result()->results)
    for (const PartChange& c : r.changes) EXPECT_LT(c.to, now);
  const WorthBuying first = panel->toBuy().front();
  EXPECT_TRUE(first.result.meets());
  // It is bought, and then it is what is owned.
  table->setCurrentCell(table->rowCount() - static_cast<int>(panel->toBuy().size()), 0);
  EXPECT_TRUE(text(QStringLiteral("recipe.steps")).contains(QStringLiteral("Not in your boxes")));
  QString bought;
  for (const Lack& l : first.lacks) bought += QStringLiteral("%1x%2 ").arg(l.piece.value).arg(l.count);
  click(QStringLiteral("recipe.boxes"));
  EXPECT_TRUE(window_->carWorkspace().boxesPage().isVisible());
  type("several", bought);
  click(QStringLiteral("workspace.2"));
  search();
  ASSERT_FALSE(panel->result()->results.empty());
  EXPECT_TRUE(panel->result()->results.front().meets());
  EXPECT_TRUE(panel->toBuy().empty());
}

TEST_F(BoxesTest, TheWorkSaysWhatIsNotThereAndNoLongerOnceItIs) {
  putIn("spring");
  type("value", QStringLiteral("0.55"));
  for (int i = 0; i < 2; ++i) click(QStringLiteral("boxes.less.0"));
  click(QStringLiteral("workspace.2"));
  EXPECT_FALSE(work().contains(QStringLiteral("boxes"))) << "what is on the car need not lie in a box";
  click(QStringLiteral("adjuster.front_spring.more"));
  EXPECT_TRUE(work().contains(QStringLiteral("Not in your boxes: 2 \u00D7 spring 0.55 N/mm"))) << work().toStdString();
  show();
  for (int i = 0; i < 2; ++i) click(QStringLiteral("boxes.more.0"));
  click(QStringLiteral("workspace.2"));
  EXPECT_FALSE(work().contains(QStringLiteral("boxes"))) << work().toStdString();
}

// What the re-set asks for is looked up like what the hand changed.
TEST_F(BoxesTest, SpacersForTheDroopAreLookedUpToo) {
  window_->open(dataPath("cars/dunlin-4wd.kite-car.json"));
  settle();
  show();
  putIn("shim");
  type("value", QStringLiteral("1"));
  choose("fits", QStringLiteral("Rear: spacers inside the shock"));
  for (int i = 0; i < 20 && kept().items[0].count > 0; ++i) click(QStringLiteral("boxes.less.0"));
  ASSERT_EQ(kept().items.size(), 1u);
  EXPECT_EQ(kept().items[0].part, "rear_shock_spacers");
  EXPECT_EQ(kept().items[0].count, 0);
  click(QStringLiteral("workspace.2"));
  EXPECT_FALSE(work().contains(QStringLiteral("boxes")));
  const double before = value("rear_shock_spacers");
  bool asked = false;
  for (const int by : {1, -1, -1}) {
    model().setPart(part("rear_shock_upper_hole"));
    model().stepPart(by);
    settle();
    const bool more = model().comparison()->reset->setup.of(part("rear_shock_spacers")).left > before + 1e-9;
    asked = asked || more;
    EXPECT_EQ(work().contains(QStringLiteral("Not in your boxes")), more) << work().toStdString();
  }
  EXPECT_TRUE(asked);
}

TEST_F(BoxesTest, ThePackingListKnowsWhatIsThereAndWhatToBuy) {
  putIn("bar_wire");
  type("value", QStringLiteral("9"));
  window_->track().model().fillWithDemo();
  click(QStringLiteral("workspace.3"));
  window_->track().showPage(TrackWorkspace::Page::ahead);
  settle();
  auto* plans = find<QListWidget>(QStringLiteral("ahead.plans"));
  for (int i = 0; i < plans->count(); ++i)
    if (!plans->item(i)->data(Qt::UserRole).toBool())
      QTest::mouseClick(plans->viewport(), Qt::LeftButton, {}, plans->visualItemRect(plans->item(i)).center());
  settle();
  const QString packed = text(QStringLiteral("ahead.packing"));
  EXPECT_TRUE(packed.contains(QStringLiteral("missing"))) << packed.toStdString();
  EXPECT_TRUE(packed.contains(QStringLiteral("To buy or to borrow"))) << packed.toStdString();
}

TEST_F(BoxesTest, AFileThatIsBrokenIsLeftAsItIs) {
  putIn("tyre");
  window_.reset();
  writeTo(path(),
          "{ \"format\": \"lowkite-boxes\", \"version\": 1, \"items\": [ {\"kind\": \"shoe\", \"count\": 1} ] }");
  const QByteArray broken = contentOf(path());
  window_ = newWindow();
  ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")))));
  window_->show();
  EXPECT_TRUE(window_->banner().text().contains(QStringLiteral("my-boxes.json")));
  show();
  EXPECT_FALSE(find<QToolButton>(QStringLiteral("boxes.add"))->isEnabled());
  putIn("shim");
  EXPECT_EQ(contentOf(path()), broken);
  // Mended by hand, it is read again when the page is looked at.
  writeTo(path(), QByteArray::fromStdString(write_boxes(*shims_in("0.5x3"))));
  click(QStringLiteral("car.page.0"));
  click(QStringLiteral("car.page.5"));
  EXPECT_EQ(find<QTableWidget>(QStringLiteral("boxes.list"))->rowCount(), 1);
  // What another program wrote meanwhile is not written over.
  writeTo(path(), QByteArray::fromStdString(write_boxes(*shims_in("0.5x9 1x1"))));
  click(QStringLiteral("boxes.more.0"));
  EXPECT_EQ(kept(), *shims_in("0.5x9 1x1"));
  EXPECT_FALSE(window_->banner().text().isEmpty());
}

TEST_F(BoxesTest, ShimsTypedBeforeThereWereBoxesAreTakenOver) {
  window_.reset();
  Kept().setValue(QStringLiteral("recipe/box"), QStringLiteral("0.5x2 1x3"));
  window_ = newWindow();
  EXPECT_EQ(kept(), *shims_in("0.5x2 1x3"));
  EXPECT_FALSE(Kept().contains(QStringLiteral("recipe/box")));
}

TEST_F(BoxesTest, APartOfOneCarIsKnownByItsNameAndFits) {
  putIn("part");
  choose("part", QStringLiteral("aster block"));
  choose("position", QStringLiteral("6 deg"));
  ASSERT_EQ(kept().items.size(), 1u);
  EXPECT_EQ(kept().items[0].label, "6 deg");
  EXPECT_EQ(kept().items[0].part, "front_caster_block");
  EXPECT_EQ(kept().items[0].cars, std::vector<std::string>{"heron-tc190"});
  putIn("insert");
  choose("fits", QStringLiteral("rm pin, rear insert"));
  EXPECT_FALSE(kept().items[1].part.empty());
  putIn("tyre");
  const QString counted = text(QStringLiteral("boxes.counted"));
  EXPECT_TRUE(counted.contains(QStringLiteral("aster block"))) << counted.toStdString();
}

TEST_F(BoxesTest, TheExampleIsOneEdit) {
  click(QStringLiteral("boxes.example"));
  EXPECT_GT(kept().items.size(), 15u);
  auto* list = find<QTableWidget>(QStringLiteral("boxes.list"));
  EXPECT_EQ(list->rowCount(), static_cast<int>(kept().items.size()));
  find<QComboBox>(QStringLiteral("boxes.kind"))->setCurrentIndex(1 + static_cast<int>(BoxKind::shim));
  EXPECT_EQ(list->rowCount(), 4);
  pick(QStringLiteral("0.5 mm"));
  EXPECT_TRUE(text(QStringLiteral("boxes.title")).contains(QStringLiteral("0.5")));
  click(QStringLiteral("undo"));
  EXPECT_TRUE(kept().items.empty());
  EXPECT_TRUE(find<QPushButton>(QStringLiteral("boxes.example"))->isVisible());
}

}  // namespace
}  // namespace lowkite::app
