// The Car workspace driven with real events: a car of one's own, its points, parts and adjusters, measuring, the check.
#include <set>

#include <QAbstractItemModelTester>
#include <QComboBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableView>

#include "app/car/car_workspace.h"
#include "app/car/field_model.h"
#include "app/car/point_model.h"
#include "app/document/open_files.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "core/load/balance.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

class CarTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    name_ = QStringLiteral("Test heron %1").arg(QCoreApplication::applicationPid());
    click(QStringLiteral("workspace.0"));
  }
  void TearDown() override {
    window_.reset();
    QFile::remove(ownCarPath(name_));
  }

  void makeOwn() {
    auto* name = find<QLineEdit>(QStringLiteral("car.ownName"));
    name->setFocus();
    QTest::keyClicks(name, name_);
    click(QStringLiteral("car.own"));
    ASSERT_FALSE(document().carIsShipped());
  }
  CarEditor& editor() { return window_->carWorkspace().editor(); }
  PointRef point(const char* id) {
    for (const PointRef& ref : editor().points())
      if (spec_of(document().car(), ref).id == id) return ref;
    ADD_FAILURE() << id;
    return {};
  }
  QTableView* table(const char* name) { return find<QTableView>(QLatin1String(name)); }
  /// Types into a cell as a racer does: double click, type, Enter.
  void type(QTableView* view, int row, int column, const QString& text) {
    const QModelIndex index = view->model()->index(row, column);
    view->scrollTo(index);
    view->setCurrentIndex(index);
    view->setFocus();
    QTest::keyClick(view, Qt::Key_F2);
    auto* line = view->findChild<QLineEdit*>();
    ASSERT_NE(line, nullptr);
    line->selectAll();
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Return);
    settle();
  }
  int rowOf(QTableView* view, const QString& label) {
    for (int row = 0; row < view->model()->rowCount(); ++row)
      if (view->model()->index(row, 0).data().toString() == label) return row;
    ADD_FAILURE() << label.toStdString();
    return -1;
  }
  int pointRow(const char* id) { return qobject_cast<PointModel*>(table("car.points")->model())->rowOf(point(id)); }
  [[nodiscard]] Vec3 place(const char* id, Side side = Side::left) { return editor().place(point(id), side); }
  QString news() { return text(QStringLiteral("banner.text")); }
  void drag(const QPointF& from, const QPointF& by) {
    auto* view = find<QWidget>(QStringLiteral("pointsView"));
    QTest::mousePress(view, Qt::LeftButton, {}, from.toPoint());
    for (int i = 1; i <= 5; ++i) QTest::mouseMove(view, (from + by * i / 5.0).toPoint());
    QTest::mouseRelease(view, Qt::LeftButton, {}, (from + by).toPoint());
    settle();
  }

  QString name_;
};

TEST_F(CarTest, AShippedCarIsNotChangedButCopied) {
  const QString shipped = document().state().carPath;
  auto* view = table("car.points");
  EXPECT_FALSE(view->model()->flags(view->model()->index(0, PointModel::y)).testFlag(Qt::ItemIsEditable));
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("car.own"))->isEnabled()) << "not without a name";
  makeOwn();
  EXPECT_TRUE(QFile::exists(ownCarPath(name_)));
  EXPECT_NE(document().state().carPath, shipped);
  EXPECT_EQ(document().car().name, name_.toStdString());
  EXPECT_FALSE(document().carModified());
  EXPECT_EQ(view->model()->index(0, PointModel::origin).data().toString(), QStringLiteral("template"));
  EXPECT_TRUE(text(QStringLiteral("car.name")).contains(QStringLiteral("your own car")));
}

TEST_F(CarTest, ANameIsTakenOnlyOnce) {
  makeOwn();
  const auto before = document().sharedCar();
  auto* name = find<QLineEdit>(QStringLiteral("car.ownName"));
  name->clear();
  QTest::keyClicks(name, name_);
  click(QStringLiteral("car.own"));
  EXPECT_TRUE(news().contains(QStringLiteral("There is a car of that name already"))) << news().toStdString();
  EXPECT_EQ(document().sharedCar(), before);
}

TEST_F(CarTest, ATypedPointMovesTheModelAndIsUndone) {
  makeOwn();
  const Vec3 before = place("link_inner");
  click(QStringLiteral("workspace.2"));
  const QString centre = figure("roll_centre", FigureModel::changed);
  click(QStringLiteral("workspace.0"));
  type(table("car.points"), pointRow("link_inner"), PointModel::z, QStringLiteral("36,5"));
  EXPECT_DOUBLE_EQ(place("link_inner").z(), 36.5);
  EXPECT_DOUBLE_EQ(place("link_inner", Side::right).z(), 36.5) << "the right side is the mirror image";
  EXPECT_EQ(table("car.points")->model()->index(pointRow("link_inner"), PointModel::origin).data().toString(),
            QStringLiteral("by hand"));
  EXPECT_NE(figure("roll_centre", FigureModel::changed), centre);
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(place("link_inner"), before);
  EXPECT_EQ(figure("roll_centre", FigureModel::changed), centre);
}

TEST_F(CarTest, AnImpossiblePlaceIsRefusedWithItsReason) {
  makeOwn();
  const auto before = document().sharedCar();
  type(table("car.points"), pointRow("link_inner"), PointModel::z, QStringLiteral("5000"));
  EXPECT_EQ(document().sharedCar(), before);
  EXPECT_TRUE(news().contains(QStringLiteral("Front, camber link, inner ball, z"))) << news().toStdString();
  EXPECT_TRUE(news().contains(QStringLiteral("allowed"))) << news().toStdString();
  type(table("car.points"), pointRow("link_inner"), PointModel::z, QStringLiteral("high"));
  EXPECT_TRUE(news().contains(QStringLiteral("no number"))) << news().toStdString();
  EXPECT_FALSE(document().undoStack().canUndo());
}

TEST_F(CarTest, ABallIsDraggedAndTheTableFollows) {
  makeOwn();
  auto* view = qobject_cast<PointsView*>(find<QWidget>(QStringLiteral("pointsView")));
  const Vec3 before = place("link_inner");
  drag(view->toScreen(before), QPointF(0, -24));
  const Vec3 after = place("link_inner");
  EXPECT_GT(after.z(), before.z() + 1.0) << "up on the screen is up on the car";
  EXPECT_EQ(after.x(), before.x());
  EXPECT_EQ(editor().point(), point("link_inner"));
  EXPECT_EQ(table("car.points")->currentIndex().row(), pointRow("link_inner"));
  EXPECT_EQ(table("car.points")->model()->index(pointRow("link_inner"), PointModel::z).data().toString(),
            QString::number(after.z(), 'f', 2));
  document().undoStack().undo();
  EXPECT_EQ(place("link_inner"), before) << "one drag is one step back";
}

TEST_F(CarTest, ArrowKeysMoveThePointByATenth) {
  makeOwn();
  editor().setPoint(point("link_inner"));
  auto* view = find<QWidget>(QStringLiteral("pointsView"));
  view->setFocus();
  const Vec3 before = place("link_inner");
  QTest::keyClick(view, Qt::Key_Up);
  EXPECT_NEAR(place("link_inner").z(), before.z() + PointsView::nudge_mm, 1e-9);
  QTest::keyClick(view, Qt::Key_Right, Qt::ShiftModifier);
  EXPECT_NEAR(std::abs(place("link_inner").y() - before.y()), 1.0, 1e-9);
}

TEST_F(CarTest, TheRightSideStandsApartUntilMirroredAgain) {
  makeOwn();
  click(QStringLiteral("car.side.1"));
  const double left = place("link_inner").y();
  type(table("car.points"), pointRow("link_inner"), PointModel::y, QString::number(-left - 0.8));
  EXPECT_DOUBLE_EQ(place("link_inner").y(), left);
  EXPECT_NEAR(place("link_inner", Side::right).y(), -left - 0.8, 1e-9);
  const auto index = table("car.points")->model()->index(pointRow("link_inner"), PointModel::origin);
  EXPECT_EQ(index.data().toString(), QStringLiteral("its own"));
  click(QStringLiteral("car.mirror"));
  EXPECT_NEAR(place("link_inner", Side::right).y(), -left, 1e-9);
  EXPECT_EQ(index.data().toString(), QStringLiteral("mirrored"));
}

TEST_F(CarTest, APartIsTypedAndAWrongOneRefused) {
  makeOwn();
  click(QStringLiteral("car.page.1"));
  auto* view = table("car.parts");
  const double before = document().car().axle(End::front).tyre.radius_mm;
  int row = -1;
  for (int i = 0; i < view->model()->rowCount() && row < 0; ++i)
    if (view->model()->index(i, FieldModel::name).data().toString().contains(QStringLiteral("Front tyre")) &&
        view->model()->index(i, FieldModel::name).data().toString().contains(QStringLiteral("radius")))
      row = i;
  ASSERT_GE(row, 0);
  type(view, row, FieldModel::value, QStringLiteral("31.2"));
  EXPECT_DOUBLE_EQ(document().car().axle(End::front).tyre.radius_mm, 31.2);
  type(view, row, FieldModel::value, QStringLiteral("-4"));
  EXPECT_DOUBLE_EQ(document().car().axle(End::front).tyre.radius_mm, 31.2);
  EXPECT_TRUE(news().contains(QStringLiteral("radius"))) << news().toStdString();
  document().undoStack().undo();
  EXPECT_DOUBLE_EQ(document().car().axle(End::front).tyre.radius_mm, before);
}

TEST_F(CarTest, PositionsAndPartsComeAndGo) {
  makeOwn();
  click(QStringLiteral("car.page.2"));
  auto* list = find<QListWidget>(QStringLiteral("car.adjusters"));
  const auto& adjusters = document().car().adjusters;
  const auto holes = std::find_if(adjusters.begin(), adjusters.end(), [](const Adjuster& a) { return a.positions(); });
  ASSERT_NE(holes, adjusters.end());
  const std::string id = holes->id;
  list->setCurrentRow(static_cast<int>(holes - adjusters.begin()));
  const std::size_t before = holes->positions()->list.size();
  click(QStringLiteral("car.morePositions"));
  EXPECT_EQ(document().car().adjusters[part(id.c_str())].positions()->list.size(), before + 1);
  click(QStringLiteral("car.fewerPositions"));
  EXPECT_EQ(document().car().adjusters[part(id.c_str())].positions()->list.size(), before);
  const std::size_t parts = document().car().adjusters.size();
  click(QStringLiteral("car.removePart"));
  EXPECT_EQ(document().car().adjusters.size(), parts - 1);
  EXPECT_EQ(document().setup().values.size(), parts - 1) << "the setup follows";
  editor().setPoint(point("wheel_centre"));
  settle();
  click(QStringLiteral("car.addPart"));
  click(QStringLiteral("part.put"));
  EXPECT_EQ(document().car().adjusters.size(), parts);
  for (int i = 0; i < 4; ++i) document().undoStack().undo();
  EXPECT_TRUE(part(id.c_str()));
}

TEST_F(CarTest, APartIsDescribedSeenInTheDrawingAndPutOn) {
  makeOwn();
  click(QStringLiteral("car.page.2"));
  const std::size_t parts = document().car().adjusters.size();
  click(QStringLiteral("car.addPart"));
  auto* what = find<QComboBox>(QStringLiteral("part.what"));
  auto* where = find<QComboBox>(QStringLiteral("part.where"));
  what->setCurrentIndex(what->findText(QStringLiteral("Row of holes")));
  // A ball that is taken in hand in the drawing is the place.
  editor().setGroup(CarEditor::Group::front);
  editor().setPoint(point("link_outer"));
  settle();
  EXPECT_TRUE(where->currentText().contains(QStringLiteral("camber link, outer ball")))
      << where->currentText().toStdString();
  auto* put = find<QPushButton>(QStringLiteral("part.put"));
  EXPECT_FALSE(put->isEnabled()) << "holes that lie on one another are none";
  EXPECT_TRUE(text(QStringLiteral("part.says")).contains(QStringLiteral("a distance")));
  EXPECT_TRUE(editor().spots().empty());
  const auto type = [&](const char* field, const QString& typed) {
    auto* line = find<QLineEdit>(QStringLiteral("part.") + QString::fromLatin1(field));
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, typed);
    settle();
  };
  type("out", QStringLiteral("1,5"));
  type("count", QStringLiteral("4"));
  type("name", QStringLiteral("Hub, hole"));
  ASSERT_TRUE(put->isEnabled()) << text(QStringLiteral("part.says")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("part.says")).contains(QStringLiteral("4 positions: 1, 2, 3, 4. In the car now: 2")))
      << text(QStringLiteral("part.says")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("part.says")).contains(QStringLiteral("camber")))
      << "what a step does is said at once";
  ASSERT_EQ(editor().spots().size(), 4U);
  EXPECT_NEAR(editor().spots()[3].mm.y() - editor().spots()[0].mm.y(), 4.5, 1e-9);
  EXPECT_TRUE(editor().spots()[1].kit);
  // What was typed stays when the place becomes another, and comes back to it.
  where->setCurrentIndex(where->currentIndex() == 0 ? 1 : 0);
  EXPECT_EQ(find<QLineEdit>(QStringLiteral("part.count"))->text(), QStringLiteral("4"));
  editor().setPoint(std::nullopt);
  editor().setGroup(CarEditor::Group::front);
  editor().setPoint(point("link_outer"));
  settle();
  click(QStringLiteral("part.put"));
  ASSERT_EQ(document().car().adjusters.size(), parts + 1);
  EXPECT_EQ(document().setup().values.size(), parts + 1) << "the setup has it, as the kit has it";
  const Adjuster& made = document().car().adjusters.back();
  EXPECT_EQ(made.name, "Hub, hole");
  EXPECT_EQ(made.kind, AdjusterKind::hole);
  auto* list = find<QListWidget>(QStringLiteral("car.adjusters"));
  EXPECT_EQ(list->currentRow(), static_cast<int>(parts)) << "and is looked at";
  // Its order is the racer's; undo takes all of it back.
  const std::string id = made.id;
  click(QStringLiteral("car.partUp"));
  EXPECT_LT(part(id.c_str()).number(), static_cast<int>(parts));
  EXPECT_EQ(list->currentRow(), part(id.c_str()).number());
  document().undoStack().undo();
  document().undoStack().undo();
  EXPECT_FALSE(part(id.c_str()));
  EXPECT_EQ(document().car().adjusters.size(), parts);
}

// A four-link car without bars gets one, a joint that binds and two parts that may touch; all of it stands below the
// adjusters, is changed there, taken off and undone.
TEST_F(CarTest, ABarAJointAndTwoPartsThatMayTouchArePutOnChangedAndTakenOff) {
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/godwit-ta.kite-car.json"))));
  settle();
  click(QStringLiteral("workspace.0"));
  makeOwn();
  click(QStringLiteral("car.page.2"));
  auto* list = find<QListWidget>(QStringLiteral("car.adjusters"));
  auto* what = find<QComboBox>(QStringLiteral("part.what"));
  auto* where = find<QComboBox>(QStringLiteral("part.where"));
  const std::string before = write_car(document().state().carSource);
  const int rows = list->count();
  ASSERT_FALSE(document().car().axle(End::front).bar);
  const auto choose = [&](const char* form, const char* place) {
    click(QStringLiteral("car.addPart"));
    what->setCurrentIndex(what->findText(QString::fromLatin1(form)));
    ASSERT_EQ(what->currentText(), QString::fromLatin1(form));
    for (int i = 0; i < where->count() && !where->currentText().contains(QString::fromLatin1(place)); ++i)
      where->setCurrentIndex(i);
    ASSERT_TRUE(where->currentText().contains(QString::fromLatin1(place))) << where->currentText().toStdString();
  };
  choose("Anti-roll bar: its balls and holder", "Front");
  EXPECT_EQ(editor().spots().size(), 2U) << "the drawing shows both balls while they are described";
  auto* ball = find<QLineEdit>(QStringLiteral("part.bar_arm"));
  ball->setFocus();
  ball->selectAll();
  QTest::keyClicks(ball, QStringLiteral("4 45,5"));
  settle();
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("part.put"))->isEnabled());
  EXPECT_TRUE(text(QStringLiteral("part.says")).contains(QStringLiteral("three numbers")))
      << text(QStringLiteral("part.says")).toStdString();
  QTest::keyClicks(ball, QStringLiteral(" 12"));
  settle();
  EXPECT_EQ(editor().spots().front().mm, Vec3(4.0, 45.5, 12.0));
  click(QStringLiteral("part.put"));
  ASSERT_TRUE(document().car().axle(End::front).bar);
  EXPECT_EQ(list->count(), rows + 1);
  EXPECT_EQ(list->currentItem()->text(), QStringLiteral("Front: anti-roll bar")) << "and is looked at";
  // Its numbers are the list's; a wrong one is refused.
  QTableView* fields = table("car.adjusterFields");
  type(fields, rowOf(fields, QStringLiteral("Size: wire, diameter")), FieldModel::value, QStringLiteral("1,4"));
  EXPECT_DOUBLE_EQ(document().car().axle(End::front).size_of(Size::bar_wire), 1.4);
  // Wires sit on it now: it stays until they are taken out.
  choose("Wires of an anti-roll bar", "Front");
  click(QStringLiteral("part.put"));
  const PartHandle wires = part("front_bar_wire");
  ASSERT_TRUE(wires);
  for (int i = 0; i < list->count(); ++i)
    if (list->item(i)->text() == QStringLiteral("Front: anti-roll bar")) list->setCurrentRow(i);
  click(QStringLiteral("car.removePart"));
  EXPECT_TRUE(document().car().axle(End::front).bar);
  EXPECT_TRUE(news().contains(QStringLiteral("Bar wire"))) << news().toStdString();
  // In Plan the bar is there: roll stiffness has a part by it.
  const auto stiffness = [&] {
    const auto model = build_model(document().car(), document().setup());
    const auto loaded = LoadedCar::of(*model);
    return loaded->rates(End::front).roll_by_bar_n_mm_per_deg;
  };
  EXPECT_GT(stiffness(), 10.0);
  list->setCurrentRow(part("front_bar_wire").number());
  click(QStringLiteral("car.removePart"));
  for (int i = 0; i < list->count(); ++i)
    if (list->item(i)->text() == QStringLiteral("Front: anti-roll bar")) list->setCurrentRow(i);
  click(QStringLiteral("car.removePart"));
  EXPECT_FALSE(document().car().axle(End::front).bar);
  EXPECT_EQ(list->count(), rows);

  // The ball in hand is the place of a joint that binds.
  editor().setGroup(CarEditor::Group::rear);
  editor().setPoint(PointRef{End::rear, false, document().car().axle(End::rear).mechanism->point("upper_ball")});
  settle();
  choose("Ball joint that binds", "outer ball");
  EXPECT_TRUE(where->currentText().startsWith(QStringLiteral("Rear"))) << where->currentText().toStdString();
  click(QStringLiteral("part.put"));
  ASSERT_EQ(document().car().axle(End::rear).limits.joints.size(), 1U);
  type(fields, rowOf(fields, QStringLiteral("Joint: leans at most")), FieldModel::value, QStringLiteral("18"));
  EXPECT_NEAR(degrees(document().car().axle(End::rear).limits.joints[0].most_rad), 18.0, 1e-9);
  choose("Two parts that may touch", "Front");
  auto* other = find<QComboBox>(QStringLiteral("part.b"));
  other->setCurrentIndex(other->findText(QStringLiteral("Drive shaft"), Qt::MatchFixedString));
  EXPECT_EQ(editor().bodies().size(), 2U) << "both are drawn, as thick as they are said to be";
  const std::size_t pairs = document().car().axle(End::front).limits.clearances.size();
  click(QStringLiteral("part.put"));
  EXPECT_EQ(document().car().axle(End::front).limits.clearances.size(), pairs + 1);
  EXPECT_TRUE(list->currentItem()->text().contains(QStringLiteral("against")))
      << list->currentItem()->text().toStdString();
  EXPECT_EQ(editor().bodies().size(), 2U);
  while (document().undoStack().canUndo()) document().undoStack().undo();
  settle();
  EXPECT_EQ(write_car(document().state().carSource), before);
}

// A part is picked where it is seen: every one that has a place is reached by clicking there, often enough, on either
// side; what is not on paper is left alone, and elsewhere a click picks a point and nothing else.
TEST_F(CarTest, APartIsPickedByAClickWhereItIsSeen) {
  makeOwn();
  auto* view = qobject_cast<PointsView*>(find<QWidget>(QStringLiteral("pointsView")));
  auto* list = find<QListWidget>(QStringLiteral("car.adjusters"));
  const auto clickAt = [&](const Vec3& mm) {
    QTest::mouseClick(view, Qt::LeftButton, {}, view->toScreen(mm).toPoint());
    settle();
  };
  clickAt(place("link_inner"));
  EXPECT_TRUE(editor().pickable().empty()) << "the points are on show, not the parts";
  click(QStringLiteral("car.page.2"));
  ASSERT_EQ(static_cast<int>(editor().pickable().size()), list->count());
  for (const Side side : both_sides) {
    int reached = 0;
    for (int row = 0; row < list->count(); ++row) {
      const FoundAt f = editor().pickable()[at(row)];
      editor().setGroup(f.steering            ? CarEditor::Group::steering
                        : f.end == End::front ? CarEditor::Group::front
                                              : CarEditor::Group::rear);
      if (!f.steering) editor().setSide(side);  // the steering has none
      const auto middle = [&](const DrawnBody& b) {
        const Vec3 left = 0.5 * (b.from + b.to);
        return editor().side() == Side::right ? Vec3(left.x(), -left.y(), left.z()) : left;
      };
      std::optional<Vec3> where;
      if (!f.points.empty())
        where = editor().place(f.points.front(), editor().side());
      else if (!f.bodies.empty())
        where = middle(f.bodies.front());
      else if (!f.lines.empty())
        where = middle(f.lines.front());
      if (!where) continue;
      for (int n = 0; n < 40 && list->currentRow() != row; ++n) clickAt(*where);
      EXPECT_EQ(list->currentRow(), row) << list->item(row)->text().toStdString();
      ++reached;
    }
    EXPECT_GT(reached, 30);
  }
  // What was picked is changed where it stands.
  click(QStringLiteral("car.side.0"));
  editor().setGroup(CarEditor::Group::front);
  const FoundAt link = editor().pickable()[part("front_camber_link").place()];
  ASSERT_EQ(link.lines.size(), 1U);
  const Vec3 middle = 0.5 * (link.lines[0].from + link.lines[0].to);
  for (int n = 0; n < 10 && list->currentRow() != part("front_camber_link").number(); ++n) clickAt(middle);
  ASSERT_EQ(list->currentRow(), part("front_camber_link").number());
  type(table("car.adjusterFields"), rowOf(table("car.adjusterFields"), QStringLiteral("Part: name")), 1,
       QStringLiteral("My upper link"));
  EXPECT_EQ(document().car().adjusters[part("front_camber_link")].name, "My upper link");
  EXPECT_EQ(static_cast<int>(editor().pickable().size()), list->count());
  // Nothing there: what was chosen stays.
  QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(3, 60));
  EXPECT_EQ(list->currentRow(), part("front_camber_link").number());
  // While a part is described, a click chooses none.
  click(QStringLiteral("car.addPart"));
  EXPECT_TRUE(editor().pickable().empty());
  clickAt(middle);
  EXPECT_EQ(list->currentRow(), part("front_camber_link").number());
}

TEST_F(CarTest, APartThatIsOnlyKeptIsChosenInPlanAndMovesNothing) {
  makeOwn();
  click(QStringLiteral("car.page.2"));
  click(QStringLiteral("car.addPart"));
  auto* what = find<QComboBox>(QStringLiteral("part.what"));
  what->setCurrentIndex(what->findText(QStringLiteral("Body and wing")));
  auto* labels = find<QLineEdit>(QStringLiteral("part.labels"));
  labels->setFocus();
  labels->selectAll();
  QTest::keyClicks(labels, QStringLiteral("A; B, high wing"));
  click(QStringLiteral("part.put"));
  const PartHandle body = part("rear_body");
  ASSERT_TRUE(body);
  click(QStringLiteral("workspace.2"));
  window_->plan().model().setEnd(End::rear);
  settle();
  const QString centre = figure("roll_centre", FigureModel::changed);
  EXPECT_TRUE(text(QStringLiteral("adjuster.rear_body.title")).contains(QStringLiteral("not computed")));
  click(QStringLiteral("adjuster.rear_body.more"));
  EXPECT_EQ(document().setup().values[body].left, 1.0);
  EXPECT_EQ(document().setup().values[body].right, 1.0) << "the car has one";
  EXPECT_EQ(figure("roll_centre", FigureModel::changed), centre);
  document().undoStack().undo();
  EXPECT_EQ(document().setup().values[body].left, 0.0);
}

TEST_F(CarTest, EveryFormAtEveryPlaceSaysWhatComesOfItOrWhatIsMissing) {
  makeOwn();
  click(QStringLiteral("car.page.2"));
  click(QStringLiteral("car.addPart"));
  auto* what = find<QComboBox>(QStringLiteral("part.what"));
  auto* where = find<QComboBox>(QStringLiteral("part.where"));
  EXPECT_GT(what->count(), 20);
  int asked = 0, ready = 0;
  for (int f = 0; f < what->count(); ++f) {
    what->setCurrentIndex(f);
    EXPECT_FALSE(text(QStringLiteral("part.help")).isEmpty());
    for (int p = 0; p < where->count(); ++p) {
      where->setCurrentIndex(p);
      const QString says = text(QStringLiteral("part.says"));
      EXPECT_FALSE(says.isEmpty());
      // Fields of the file are nothing to a hand.
      EXPECT_FALSE(says.contains(QLatin1Char('_'))) << says.toStdString();
      EXPECT_FALSE(says.contains(QStringLiteral(" > "))) << says.toStdString();
      ++asked;
      ready += find<QPushButton>(QStringLiteral("part.put"))->isEnabled();
    }
  }
  EXPECT_GT(asked, 100);
  EXPECT_GT(ready, asked / 3);
  // A heavy part that is undone while its places are being described.
  what->setCurrentIndex(what->findText(QStringLiteral("Ballast")));
  find<QLineEdit>(QStringLiteral("part.name"))->setFocus();
  click(QStringLiteral("part.put"));
  click(QStringLiteral("car.addPart"));
  what->setCurrentIndex(what->findText(QStringLiteral("Places of a heavy part")));
  for (int p = 0; p < where->count(); ++p)
    if (where->itemText(p).contains(QStringLiteral("Ballast"))) where->setCurrentIndex(p);
  EXPECT_TRUE(where->currentText().contains(QStringLiteral("Ballast"))) << where->currentText().toStdString();
  const int places = where->count();
  document().undoStack().undo();
  settle();
  EXPECT_EQ(where->count(), places - 1);
  // Another car: what was being described is gone with the one before.
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/plover-2wd.kite-car.json"))));
  settle();
  EXPECT_FALSE(what->isVisible());
}

// A car of one's own begins as a whole: what is typed moves axles with all that hangs on them; then the readings come.
TEST_F(CarTest, TheGuideBeginsWithTheWholeCar) {
  click(QStringLiteral("car.page.3"));
  EXPECT_FALSE(find<QWidget>(QStringLiteral("measure.whole"))->isVisible()) << "a shipped car is not measured";
  makeOwn();
  auto* whole = table("measure.whole");
  ASSERT_TRUE(whole->isVisible());
  EXPECT_EQ(whole->model()->rowCount(), 11);
  const auto arm = [&] { return (place("arm_outer_front") - place("arm_inner_front")).norm(); };
  editor().setGroup(CarEditor::Group::rear);
  const auto front = document().car().axle(End::front).points[0];
  const double length = arm();
  const double x = place("wheel_centre").x();
  int row = rowOf(whole, QStringLiteral("Car: wheelbase"));
  const double was = whole->model()->index(row, 1).data(Qt::EditRole).toDouble();
  type(whole, row, 1, QString::number(was + 3.0));
  EXPECT_NEAR(place("wheel_centre").x(), x - 3.0, 1e-6);
  EXPECT_NEAR(arm(), length, 1e-6) << "no arm is stretched";
  EXPECT_TRUE(document().car().axle(End::front).points[0] == front);
  row = rowOf(whole, QStringLiteral("Car: weight, ready to race"));
  type(whole, row, 1, QStringLiteral("1395"));
  EXPECT_NEAR(document().car().mass_kg, 1.395, 1e-9);
  click(QStringLiteral("measure.wholeDone"));
  EXPECT_FALSE(whole->isVisible());
  EXPECT_TRUE(find<QListWidget>(QStringLiteral("measure.list"))->isVisible());
  EXPECT_TRUE(text(QStringLiteral("measure.known")).contains(QStringLiteral("Known so far")));
  // Once chosen, the way stays chosen for this car.
  click(QStringLiteral("car.page.2"));
  click(QStringLiteral("car.page.3"));
  EXPECT_FALSE(whole->isVisible());
  while (document().undoStack().canUndo()) document().undoStack().undo();
}

TEST_F(CarTest, ReadingsFindThePointAndShowASlip) {
  makeOwn();
  click(QStringLiteral("car.page.3"));
  click(QStringLiteral("measure.order.1"));
  auto* list = find<QListWidget>(QStringLiteral("measure.list"));
  auto* field = find<QDoubleSpinBox>(QStringLiteral("measure.field"));
  const std::vector<GuideStep> guide = editor().guide();
  ASSERT_EQ(list->count(), static_cast<int>(guide.size()));
  // The real car's inner camber-link ball sits 1 mm higher than the template's; its heights and distances say so.
  const PointRef ball = point("link_inner");
  Car real = document().car();
  for (auto& side : real.axles[at(End::front)].points) side[ball.point].z() += 1.0;
  int taken = 0;
  for (int row = 0; row < list->count(); ++row) {
    const CaliperReading& r = guide[at(row)].reading;
    if (r.a != ball && r.b != ball) continue;
    list->setCurrentRow(row);
    const double offset = field->value() - r.mm;  // blocks, or how the caliper is laid
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, QString::number(expected_reading(real, r) + offset, 'f', 2));
    click(QStringLiteral("measure.take"));
    ++taken;
  }
  ASSERT_GE(taken, 4);
  EXPECT_TRUE(text(QStringLiteral("measure.fit")).contains(QStringLiteral("They agree")))
      << text(QStringLiteral("measure.fit")).toStdString();
  // Once the neighbours are measured too, a slip of the hand shows, with its size.
  for (const GuideStep& step : guide)
    if (!editor().readingAt(step.reading)) editor().takeReading(step.reading, expected_reading(real, step.reading));
  const auto slip = std::find_if(guide.begin(), guide.end(), [&](const GuideStep& s) {
    return s.reading.kind == ReadingKind::distance && s.reading.b == ball;
  });
  ASSERT_NE(slip, guide.end());
  editor().takeReading(slip->reading, expected_reading(real, slip->reading) + 2.0);
  EXPECT_TRUE(text(QStringLiteral("measure.fit")).contains(QStringLiteral("the others say")))
      << text(QStringLiteral("measure.fit")).toStdString();
  editor().takeReading(slip->reading, expected_reading(real, slip->reading));
  const Vec3 before = place("link_inner");
  click(QStringLiteral("measure.apply"));
  EXPECT_NEAR(place("link_inner").z(), before.z() + 1.0, 0.1);
  EXPECT_EQ(origin_of(editor().source(), document().car(), ball), PointOrigin::measured);
  document().undoStack().undo();
  EXPECT_EQ(place("link_inner"), before) << "one step back";
}

TEST_F(CarTest, TheGuideGoesToTheReadingThatTellsMostAndSaysWhatIsKnown) {
  makeOwn();
  click(QStringLiteral("car.page.3"));
  click(QStringLiteral("measure.order.1"));
  auto* list = find<QListWidget>(QStringLiteral("measure.list"));
  const auto known = [&] { return text(QStringLiteral("measure.known")); };
  ASSERT_TRUE(editor().readingPlan().next);
  EXPECT_EQ(list->currentRow(), static_cast<int>(*editor().readingPlan().next));
  EXPECT_TRUE(known().contains(QStringLiteral("roll centre"))) << known().toStdString();
  EXPECT_TRUE(known().contains(QStringLiteral("tells most"))) << known().toStdString();
  const double before = editor().readingPlan().figures.at(0).now;
  std::set<int> rows;
  for (int i = 0; i < 12; ++i) {
    EXPECT_TRUE(rows.insert(list->currentRow()).second) << "each once";
    click(QStringLiteral("measure.take"));
    EXPECT_EQ(list->currentRow(), static_cast<int>(*editor().readingPlan().next));
  }
  EXPECT_LT(editor().readingPlan().figures.at(0).now, 0.5 * before);
  // A slip is not good enough, whatever the numbers say.
  const auto guide = editor().guide();
  for (const GuideStep& step : guide)
    if (!editor().readingAt(step.reading)) editor().takeReading(step.reading, step.reading.mm);
  EXPECT_TRUE(known().contains(QStringLiteral("good enough"))) << known().toStdString();
  EXPECT_TRUE(known().contains(QStringLiteral("Everything"))) << known().toStdString();
  const auto length = std::find_if(guide.begin(), guide.end(),
                                   [](const GuideStep& s) { return s.reading.kind == ReadingKind::distance; });
  editor().takeReading(length->reading, length->reading.mm + 3.0);
  EXPECT_FALSE(known().contains(QStringLiteral("good enough"))) << known().toStdString();
  document().undoStack().undo();
  // In order, as the guide has it.
  click(QStringLiteral("measure.order.2"));
  list->setCurrentRow(3);
  click(QStringLiteral("measure.take"));
  EXPECT_EQ(list->currentRow(), 4);
  click(QStringLiteral("measure.order.1"));
  // The steering has no such figures and is still asked for in a useful order.
  editor().setGroup(CarEditor::Group::steering);
  settle();
  EXPECT_FALSE(known().contains(QStringLiteral("roll centre"))) << known().toStdString();
}

TEST_F(CarTest, WhatWasMeasuredIsKeptInTheFile) {
  makeOwn();
  click(QStringLiteral("car.page.3"));
  click(QStringLiteral("measure.order.1"));
  click(QStringLiteral("measure.take"));
  EXPECT_TRUE(document().carModified());
  const auto readings = editor().readings();
  ASSERT_EQ(readings.size(), 1U);
  key(Qt::Key_S, Qt::ControlModifier);
  EXPECT_FALSE(document().carModified());
  const QString path = document().state().carPath;
  window_.reset();
  window_ = newWindow();
  ASSERT_TRUE(window_->take(openFile(path)));
  ASSERT_EQ(editor().readings().size(), 1U);
  EXPECT_TRUE(editor().readings().front().same_place(readings.front()));
  click(QStringLiteral("workspace.0"));
}

TEST_F(CarTest, AnEditedCarSurvivesAKill) {
  makeOwn();
  const QString folder = folder_.filePath(QStringLiteral("autosave"));
  type(table("car.points"), pointRow("link_inner"), PointModel::z, QStringLiteral("35"));
  const auto copies = [&] { return QDir(folder).entryList({QStringLiteral("*.kite-recovery.json")}, QDir::Files); };
  ASSERT_TRUE(QTest::qWaitFor([&] { return copies().size() == 1; }, 5 * Autosave::delayMs));
  const QString crashed = folder + QStringLiteral("/crashed.kite-recovery.json");
  ASSERT_TRUE(QFile::copy(folder + QLatin1Char('/') + copies().front(), crashed));
  window_.reset();
  window_ = newWindow();
  window_->show();
  window_->offerRecovery();
  click(QStringLiteral("banner.action.0"));
  EXPECT_DOUBLE_EQ(place("link_inner").z(), 35.0);
  EXPECT_TRUE(document().carModified()) << "it is not on the disk yet";
}

// What is looked at changes the axle on show, and with it the page that tells of it.
TEST_F(CarTest, WhatIsShownOfAFittingIsOfThatFittingWhereverOneComesFrom) {
  int looked = 0;
  for (const char* car : {"heron-tc190", "plover-2wd", "dunlin-4wd", "godwit-ta"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(car)))));
    settle();
    const std::vector<Fitting> fittings = fittings_of(document().car());
    for (std::size_t i = 0; i < fittings.size(); ++i)
      for (const auto group : {CarEditor::Group::front, CarEditor::Group::rear, CarEditor::Group::steering}) {
        window_->showWorkspace(MainWindow::Job::car);
        window_->carWorkspace().showPage(CarWorkspace::Page::adjusters);
        find<QListWidget>(QStringLiteral("car.adjusters"))
            ->setCurrentRow(static_cast<int>(document().car().adjusters.size() + i));
        window_->carWorkspace().showPage(CarWorkspace::Page::points);
        editor().setGroup(group);
        window_->showWorkspace(MainWindow::Job::bench);
        window_->showWorkspace(MainWindow::Job::car);
        window_->carWorkspace().showPage(CarWorkspace::Page::adjusters);
        ASSERT_EQ(editor().bodies().size(), fittings[i].bodies.size()) << car << ", " << fittings[i].label;
        for (std::size_t b = 0; b < fittings[i].bodies.size(); ++b) {
          EXPECT_EQ(editor().bodies()[b].name, fittings[i].bodies[b].name);
          EXPECT_EQ(editor().bodies()[b].from, fittings[i].bodies[b].from);
          EXPECT_EQ(editor().bodies()[b].to, fittings[i].bodies[b].to);
        }
        ASSERT_EQ(editor().spots().size(), fittings[i].spots.size());
        for (std::size_t s = 0; s < fittings[i].spots.size(); ++s)
          EXPECT_EQ(editor().spots()[s].mm, fittings[i].spots[s].mm);
        EXPECT_EQ(editor().group(), fittings[i].end == End::front ? CarEditor::Group::front : CarEditor::Group::rear);
        ++looked;
      }
  }
  EXPECT_GT(looked, 12);
}

TEST_F(CarTest, TheCheckLeadsToThePart) {
  makeOwn();
  click(QStringLiteral("car.page.4"));
  auto* list = window_->carWorkspace().findChild<QListWidget*>(QStringLiteral("check.list"));
  ASSERT_NE(list, nullptr);
  lowkite::Setup bad = document().setup();
  bad.of(part("front_shock_spacers")) = {4.0, 4.0};
  document().putSetup(bad, QStringLiteral("spacers"));
  settle();
  ASSERT_GE(list->count(), 1);
  list->setCurrentRow(0);
  settle();
  EXPECT_EQ(editor().group(), CarEditor::Group::front);
}

TEST_F(CarTest, ModelsKeepTheRulesOfItemModels) {
  makeOwn();
  for (const char* name : {"car.points", "car.parts", "car.adjusterFields"})
    new QAbstractItemModelTester(table(name)->model(), QAbstractItemModelTester::FailureReportingMode::Fatal,
                                 window_.get());
  click(QStringLiteral("car.group.1"));
  click(QStringLiteral("car.group.2"));
  click(QStringLiteral("car.page.2"));
  find<QListWidget>(QStringLiteral("car.adjusters"))->setCurrentRow(2);
  settle();
  click(QStringLiteral("car.removePart"));
  document().undoStack().undo();
  settle();
}

TEST_F(CarTest, AWeightIsInTheTotalOrOnTopAndCounts) {
  makeOwn();
  click(QStringLiteral("car.page.1"));
  auto* view = table("car.parts");
  EXPECT_TRUE(text(QStringLiteral("car.weights")).contains(QStringLiteral("1350 g in all")));
  const QString mass = QStringLiteral("Weight of servo: weight");
  type(view, rowOf(view, mass), 1, QStringLiteral("60"));
  EXPECT_TRUE(text(QStringLiteral("car.weights")).contains(QStringLiteral("1350 g in all")))
      << "it was weighed with it";
  const int asks = rowOf(view, QStringLiteral("Weight of servo: in the weighed total, or on top of it"));
  EXPECT_EQ(view->model()->index(asks, 1).data().toString(), QStringLiteral("in it"));
  ASSERT_TRUE(view->model()->setData(view->model()->index(asks, 1), QStringLiteral("on top")));
  settle();
  EXPECT_TRUE(text(QStringLiteral("car.weights")).contains(QStringLiteral("1410 g in all")))
      << text(QStringLiteral("car.weights")).toStdString();
  EXPECT_TRUE(text(QStringLiteral("car.weights")).contains(QStringLiteral("60 g on top")));
}

}  // namespace
}  // namespace lowkite::app
