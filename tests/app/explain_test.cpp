// What things are, told where they stand: the small drawings, the notes of "What is this?", and views that stay as the
// hand left them.
#include <set>

#include <QApplication>
#include <QHeaderView>
#include <QHelpEvent>
#include <QImage>
#include <QListWidget>
#include <QPainter>
#include <QSplitter>
#include <QTableView>
#include <QTableWidget>
#include <QTextDocument>
#include <QWhatsThis>

#include "app/background/workers.h"
#include "app/bench/bench_workspace.h"
#include "app/car/car_workspace.h"
#include "app/document/open_files.h"
#include "app/help/explain.h"
#include "app/help/sketch.h"
#include "app/plan/parts/adjuster_row.h"
#include "app/words/wording.h"
#include "core/bench/steps.hpp"
#include "core/io/car_file.hpp"
#include "core/io/library.hpp"
#include "core/plan/sensitivity.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

/// A sketch in the middle of a larger sheet, so that what runs over its card is seen.
QImage sheetWith(Sketch sketch, Shade shade) {
  constexpr int edge = 30;
  QImage sheet(QSizeF(sketchWidth + 2 * edge, sketchHeight + 2 * edge).toSize(), QImage::Format_RGB32);
  sheet.fill(tokens(shade).surface);
  QPainter p(&sheet);
  paintSketch(p, QRectF(edge, edge, sketchWidth, sketchHeight), sketch, tokens(shade));
  return sheet;
}

TEST(Sketches, EachIsAnotherAndStaysOnItsCard) {
  for (const Shade shade : {Shade::light, Shade::dark}) {
    const QRgb paper = tokens(shade).surface.rgb();
    const QRgb kite = tokens(shade).kite.rgb();
    std::vector<QImage> seen;
    for (int i = 0; i < sketch_count; ++i) {
      const QImage sheet = sheetWith(static_cast<Sketch>(i), shade);
      const QRect card(26, 26, sheet.width() - 52, sheet.height() - 52);
      int over = 0, drawn = 0, meant = 0;
      for (int y = 0; y < sheet.height(); ++y)
        for (int x = 0; x < sheet.width(); ++x) {
          if (sheet.pixel(x, y) == paper) continue;
          ++drawn;
          over += card.contains(x, y) ? 0 : 1;
          meant += sheet.pixel(x, y) == kite ? 1 : 0;
        }
      EXPECT_GT(drawn, 300) << i;
      EXPECT_GT(meant, 10) << i << ": what is meant stands out";
      EXPECT_EQ(over, 0) << i;
      seen.push_back(sheet);
    }
    // Toe and caster differ from their kin by little, but they differ.
    for (std::size_t i = 0; i < seen.size(); ++i)
      for (std::size_t j = i + 1; j < seen.size(); ++j) EXPECT_NE(seen[i], seen[j]) << i << " " << j;
  }
}

TEST(Sketches, EveryGaugeAndEveryFigureOfTheCarHasOne) {
  for (const GaugeKind kind : gauge_kinds()) EXPECT_TRUE(sketchOf(kind)) << kind->id;
  for (const GaugeKind kind : {&gauge::wheel_play, &gauge::end_float, &gauge::axle_float, &gauge::post_play})
    EXPECT_TRUE(sketchOf(kind)) << kind->id;
  std::set<Sketch> used;
  for (const GaugeKind kind : gauge_kinds()) used.insert(*sketchOf(kind));
  for (const GaugeKind kind : {&gauge::wheel_play, &gauge::end_float, &gauge::post_play}) used.insert(*sketchOf(kind));
  // Of a joint's lean, a slope or what is counted a drawing would say nothing that its name does not.
  const std::set<std::string_view> without{"joint_angle", "roll_axis_slope"};
  for (const FigureSpec& f : geometry_figures()) {
    EXPECT_EQ(sketchOf(f).has_value(), !without.contains(f.id)) << f.id;
    if (const auto s = sketchOf(f)) used.insert(*s);
  }
  for (const FigureSpec& f : load_figures()) {
    EXPECT_EQ(sketchOf(f).has_value(), !without.contains(f.id)) << f.id;
    if (const auto s = sketchOf(f)) used.insert(*s);
  }
  EXPECT_EQ(static_cast<int>(used.size()), sketch_count) << "none is drawn for nothing";
}

QString plain(const QString& html) {
  QTextDocument text;
  text.setHtml(html);
  return text.toPlainText();
}

TEST(Explained, AFigureIsDrawnAndTold) {
  const QPalette palette = QGuiApplication::palette();
  for (const FigureSpec& f : geometry_figures()) {
    const QString html = explainFigure(f, palette);
    EXPECT_TRUE(plain(html).contains(figureLabel(f))) << f.id;
    EXPECT_EQ(html.contains(QStringLiteral("<img")), sketchOf(f).has_value()) << f.id;
    if (!sketchOf(f)) continue;
    // What stands in the note is a picture that can be read.
    const QString data = html.section(QStringLiteral("base64,"), 1).section(QLatin1Char('\''), 0, 0);
    const QImage image = QImage::fromData(QByteArray::fromBase64(data.toLatin1()));
    EXPECT_GT(image.width(), sketchWidth) << f.id;
  }
}

// What a note says of a part is what one step of it does on the model, read again.
TEST(Explained, APartsStepIsComputedOnTheCarAsItIsSet) {
  int told = 0;
  for (const char* file : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    const auto car = load_car((data_folder() / "cars" / (std::string(file) + ".kite-car.json")).string());
    ASSERT_TRUE(car);
    lowkite::Setup setup = kit_setup(*car);
    for (const PartHandle i : car->adjusters.handles()) {
      const Adjuster& a = car->adjusters[i];
      const QString text = plain(explainPart(*car, setup, i));
      EXPECT_TRUE(text.startsWith(QString::fromStdString(a.name))) << a.id;
      EXPECT_FALSE(text.contains(QString::fromStdString(a.id)) && a.id.find('_') != std::string::npos) << a.id;
      EXPECT_GT(text.size(), static_cast<qsizetype>(a.name.size()) + 20) << a.id << " is told nothing of";
      if (a.only_kept()) {
        EXPECT_TRUE(text.contains(QStringLiteral("Nothing is computed"))) << a.id;
        continue;
      }
      const auto all = sensitivity(*car, setup, a.end, true);
      ASSERT_TRUE(all);
      const auto row =
          std::find_if(all->rows.begin(), all->rows.end(), [&](const SensitivityRow& r) { return r.adjuster == i; });
      ASSERT_NE(row, all->rows.end()) << a.id;
      if (!row->possible) continue;
      const auto drags = all->drags(*row, -1);
      for (std::size_t k = 0; k < std::min<std::size_t>(6, drags.size()); ++k) {
        const FigureSpec& f = *all->figures[at(drags[k])];
        const QString line =
            QStringLiteral("%1, %2: %3")
                .arg(figureLabel(f), unitText(f.unit), differenceText(f, 0.0, *row->change[at(drags[k])], 0));
        EXPECT_TRUE(text.contains(line)) << a.id << ": " << line.toStdString() << " in " << text.toStdString();
        ++told;
      }
    }
  }
  EXPECT_GT(told, 300);
}

class ExplainTest : public WindowTest {
 protected:
  void restart() {
    window_.reset();
    window_ = newWindow();
    ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")))));
    window_->resize(1280, 800);
    window_->show();
    // Who has the focus is drawn.
    QApplication::setActiveWindow(window_.get());
    ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    settle();
    focusDrawing();
  }
  /// What a click says in the mode of asking; empty where nothing answers.
  QString ask(QWidget* on, const QPoint& at) {
    QHelpEvent asked(QEvent::WhatsThis, at, on->mapToGlobal(at));
    QApplication::sendEvent(on, &asked);
    QString said;
    for (QWidget* w : QApplication::topLevelWidgets())
      if (w->inherits("QWhatsThat")) said = QStringLiteral("shown");
    QWhatsThis::hideText();
    settle();
    return said;
  }
};

TEST_F(ExplainTest, WhatIsThisAnswersOnPartsFiguresAndGauges) {
  ASSERT_NE(window_->findChild<QAction*>(QStringLiteral("action.whatIsThis")), nullptr);
  auto* row = find<QWidget>(QStringLiteral("adjuster.front_link_inner_shims"));
  EXPECT_FALSE(ask(row, QPoint(10, 10)).isEmpty());
  QHelpEvent may(QEvent::QueryWhatsThis, QPoint(10, 10), row->mapToGlobal(QPoint(10, 10)));
  may.ignore();
  QApplication::sendEvent(row, &may);
  EXPECT_TRUE(may.isAccepted());
  auto* figures = find<QTableView>(QStringLiteral("figures.table"));
  QModelIndex camber;
  for (int r = 0; r < figures->model()->rowCount() && !camber.isValid(); ++r)
    if (const QModelIndex at = figures->model()->index(r, 0); at.data().toString() == QStringLiteral("camber"))
      camber = at;
  ASSERT_TRUE(camber.isValid());
  EXPECT_TRUE(camber.data(Qt::WhatsThisRole).toString().contains(QStringLiteral("<img")));
  EXPECT_FALSE(ask(figures->viewport(), figures->visualRect(camber).center()).isEmpty());
}

// A cell that has no answer leaves the asking to the release of the button. Were it left within the press, as views do
// by themselves, Qt would write into what it has just deleted.
TEST_F(ExplainTest, ACellWithoutAnAnswerEndsTheAskingInOrder) {
  int asked = 0;
  for (int page = 0; page < 4; ++page) {
    window_->showWorkspace(static_cast<MainWindow::Job>(page));
    if (page == static_cast<int>(MainWindow::Job::plan)) openPage(PlanWorkspace::Page::setups);
    settle();
    for (auto* view : window_->findChildren<QAbstractItemView*>()) {
      if (!view->isVisible() || !view->model() || qobject_cast<QHeaderView*>(view)) continue;
      const QRect cell = view->visualRect(view->model()->index(0, 0));
      for (const QPoint at : {cell.center(), QPoint(view->viewport()->width() - 2, view->viewport()->height() - 2)}) {
        if (!view->viewport()->rect().contains(at)) continue;
        if (!view->indexAt(at).data(Qt::WhatsThisRole).toString().isEmpty()) continue;
        QWhatsThis::enterWhatsThisMode();
        QTest::mousePress(view->viewport(), Qt::LeftButton, {}, at);
        EXPECT_TRUE(QWhatsThis::inWhatsThisMode()) << view->objectName().toStdString();
        QTest::mouseRelease(view->viewport(), Qt::LeftButton, {}, at);
        EXPECT_FALSE(QWhatsThis::inWhatsThisMode()) << view->objectName().toStdString();
        QWhatsThis::leaveWhatsThisMode();
        settle();
        ++asked;
      }
    }
  }
  EXPECT_GT(asked, 8);
}

TEST_F(ExplainTest, TheBenchDrawsHowEachGaugeIsLaid) {
  click(QStringLiteral("workspace.1"));
  click(QStringLiteral("bench.start"));
  BenchModel& bench = window_->bench().model();
  auto* sketch = find<SketchLabel>(QStringLiteral("step.sketch"));
  for (int i = 0; i < static_cast<int>(bench.steps().size()); ++i) {
    bench.goTo(i);
    settle();
    const BenchStep& step = *bench.step();
    EXPECT_EQ(sketch->isVisible(), step.gauge.has_value()) << step.id;
    if (!step.gauge) continue;
    EXPECT_EQ(sketch->sketch(), sketchOf(step.gauge->kind)) << step.id;
    EXPECT_FALSE(sketch->accessibleName().isEmpty());
    // It stands beside the words and over none of them.
    for (const char* words : {"step.title", "step.why", "step.how"}) {
      auto* label = find<QWidget>(QLatin1String(words));
      EXPECT_FALSE(label->geometry().intersects(sketch->geometry())) << step.id << " " << words;
    }
  }
}

TEST_F(ExplainTest, ThePlansGaugesAreDrawnOnceOneIsChosen) {
  openPage(PlanWorkspace::Page::gauges);
  auto* sketch = find<SketchLabel>(QStringLiteral("gauge.sketch"));
  EXPECT_FALSE(sketch->isVisible());
  auto* table = find<QTableWidget>(QStringLiteral("gauges.table"));
  std::set<Sketch> seen;
  for (int row = 0; row < table->rowCount(); ++row) {
    table->setCurrentCell(row, 0);
    settle();
    ASSERT_TRUE(sketch->isVisible()) << row;
    seen.insert(*sketch->sketch());
    EXPECT_TRUE(table->item(row, 0)->toolTip().contains(QStringLiteral("<img"))) << row;
  }
  EXPECT_GT(seen.size(), 10U);
}

// Where the hand left a view, a column or a drawer, the next start finds it.
TEST_F(ExplainTest, ViewsAndColumnsStayAsTheHandLeftThem) {
  auto& front = *find<AxleView>(QStringLiteral("axleView"));
  front.magnify(4.0, QPointF(200, 150));
  front.pan(QPointF(12.0, -7.0));
  const DrawingView::Look left = front.look();
  EXPECT_GT(left.magnified, 2.0);
  click(QStringLiteral("workspace.0"));
  auto* columns = find<QSplitter>(QStringLiteral("car.columns"));
  const int wide = columns->sizes().front() + 60;
  QTest::mousePress(columns->handle(1), Qt::LeftButton, {}, QPoint(4, 50));
  QTest::mouseMove(columns->handle(1), QPoint(64, 50));
  QTest::mouseRelease(columns->handle(1), Qt::LeftButton, {}, QPoint(64, 50));
  settle();
  ASSERT_NEAR(columns->sizes().front(), wide, 12);
  const int kept = columns->sizes().front();
  restart();
  auto& again = *find<AxleView>(QStringLiteral("axleView"));
  EXPECT_DOUBLE_EQ(again.look().magnified, left.magnified);
  EXPECT_DOUBLE_EQ(again.look().panned.x(), left.panned.x());
  click(QStringLiteral("workspace.0"));
  EXPECT_NEAR(find<QSplitter>(QStringLiteral("car.columns"))->sizes().front(), kept, 2);
  // One key has all of it in sight again, and that is kept too.
  click(QStringLiteral("workspace.2"));
  again.fit();
  restart();
  EXPECT_EQ(find<AxleView>(QStringLiteral("axleView"))->look().magnified, 1.0);
}

// The views of another car are not looked at where this one's were; back at this one they are.
TEST_F(ExplainTest, EachCarsViewsStayAsTheHandLeftThem) {
  auto& front = *find<AxleView>(QStringLiteral("axleView"));
  front.magnify(4.0, QPointF(200, 150));
  front.pan(QPointF(12.0, -7.0));
  const DrawingView::Look left = front.look();
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/wren-28.kite-car.json"))));
  settle();
  EXPECT_EQ(front.look().magnified, 1.0);
  EXPECT_EQ(front.look().panned, QPointF());
  front.magnify(1.0, QPointF(100, 100));
  ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json"))));
  settle();
  EXPECT_DOUBLE_EQ(front.look().magnified, left.magnified);
  EXPECT_DOUBLE_EQ(front.look().panned.y(), left.panned.y());
  front.fit();
}

// What a change of shade leaves is what a window shows that was made in it.
TEST_F(ExplainTest, TheDarkIsTheSameHoweverOneCameToIt) {
  restart();
  for (const auto job : {MainWindow::Job::plan, MainWindow::Job::bench}) {
    window_->setShade(Shade::light);
    window_->showWorkspace(job);
    settle();
    window_->setShade(Shade::dark);
    settle();
    ASSERT_TRUE(waitElsewhere(20000));
    const QImage changed = window_->grab().toImage();
    restart();
    window_->resize(1280, 800);
    window_->showWorkspace(job);
    settle();
    ASSERT_TRUE(waitElsewhere(20000));
    const QImage made = window_->grab().toImage();
    ASSERT_EQ(changed.size(), made.size());
    int apart = 0;
    QRect where;
    constexpr int topLine = 42;  // where the count of what Check found comes when it will
    for (int y = topLine; y < made.height(); ++y)
      for (int x = 0; x < made.width(); ++x)
        if (changed.pixel(x, y) != made.pixel(x, y)) {
          ++apart;
          where |= QRect(x, y, 1, 1);
        }
    EXPECT_LT(apart, 200) << "on view " << static_cast<int>(job) << ", from " << where.left() << ", " << where.top()
                          << " to " << where.right() << ", " << where.bottom();
  }
  window_->setShade(Shade::light);
}

// On a large screen what is read from an arm's length is larger; a smaller window has it as it was.
TEST_F(ExplainTest, TheBenchUsesTheRoomThatThereIs) {
  click(QStringLiteral("workspace.1"));
  click(QStringLiteral("bench.start"));
  const auto heights = [&](const QSize& size) {
    window_->resize(size);
    settle();
    return std::pair(find<QLabel>(QStringLiteral("step.left.target"))->font().pixelSize(),
                     find<SketchLabel>(QStringLiteral("step.sketch"))->width());
  };
  const auto usual = heights({1280, 800});
  const auto large = heights({1920, 1080});
  EXPECT_GT(large.first, 1.3 * usual.first);
  EXPECT_GT(large.second, 1.3 * usual.second);
  EXPECT_EQ(heights({1280, 800}), usual);
  EXPECT_EQ(heights({1100, 640}), usual);
}

// Settings that another hand wrote are no reason to draw nothing.
TEST_F(ExplainTest, ALookThatIsNoNumberIsTheFit) {
  auto& front = *find<AxleView>(QStringLiteral("axleView"));
  front.setLook({std::nan(""), QPointF(0, 0)});
  EXPECT_EQ(front.look().magnified, 1.0);
  front.setLook({1e9, QPointF(0, 0)});
  EXPECT_LE(front.look().magnified, 16.0);
  front.fit();
}

// A reading that comes into hand is drawn where it is seen; after that the view is the hand's.
TEST_F(ExplainTest, AReadingIsShownInTheViewWhereItIsSeen) {
  click(QStringLiteral("workspace.0"));
  CarWorkspace& car = window_->carWorkspace();
  CarEditor& editor = car.editor();
  auto* view = find<PointsView>(QStringLiteral("pointsView"));
  int along = 0;
  for (const GuideStep& step : editor.guide()) {
    editor.setShownReading(step.reading);
    settle();
    const PointsView::From from = view->from();
    EXPECT_EQ(PointsView::bestFor(document().car(), step.reading, from), from) << step.title;
    if (step.reading.kind == ReadingKind::along) {
      EXPECT_NE(from, PointsView::From::front) << step.title;
      ++along;
    }
    if (step.reading.kind == ReadingKind::height) {
      EXPECT_NE(from, PointsView::From::above) << step.title;
    }
  }
  EXPECT_GT(along, 0);
  car.showFrom(PointsView::From::front);
  settle();
  editor.setPoint(std::nullopt);
  EXPECT_EQ(view->from(), PointsView::From::front) << "chosen by hand, it stays";
}

// The pin stands in the cup, as deep as the figure says, on both sides alike.
TEST_F(ExplainTest, ThePinIsDrawnInItsCup) {
  const Comparison* c = model().comparison();
  ASSERT_NE(c, nullptr);
  const CarScene scene = carSceneOf(document().car(), *c->changed);
  int cups = 0;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const auto& cup = scene.corner[at(end)][at(side)].cup;
      const auto& shaft = c->changed->source.car.axle[at(end)].parts[at(side)].shaft;
      ASSERT_EQ(cup.has_value(), shaft.has_value());
      if (!cup) continue;
      ++cups;
      EXPECT_NEAR((cup->mouth - cup->pin).norm(), shaft->depth_mm, 1e-6);
      EXPECT_NEAR((cup->bottom - cup->mouth).norm(), document().car().axle(end).cup->depth_mm, 1e-6);
      EXPECT_GT((cup->pin - cup->mouth).dot(cup->bottom - cup->mouth), 0.0) << "inside, not before the mouth";
      EXPECT_GT(std::abs(cup->mouth.y()), std::abs(cup->bottom.y())) << "it opens outwards";
    }
  EXPECT_GT(cups, 0);
}

}  // namespace
}  // namespace lowkite::app
