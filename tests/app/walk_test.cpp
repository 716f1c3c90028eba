// Every view at five sizes and in both shades: nothing cut, nothing over another, nothing beyond the window, every
// control reached by the keyboard. With QT_SCALE_FACTOR=2 the same on a fine screen.
#include <set>

#include <QAbstractButton>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QButtonGroup>
#include <QChart>
#include <QChartView>
#include <QComboBox>
#include <QHeaderView>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QRegularExpression>
#include <QScrollArea>
#include <QTableView>
#include <QTableWidget>
#include <QToolTip>
#include <QXYSeries>

#include "app/bench/bench_workspace.h"
#include "app/car/car_workspace.h"
#include "app/help/sketch.h"
#include "app/look/theme.h"
#include "app/plan/springs/springs_panel.h"
#include "app/track/advice_page.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "core/io/json_document.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

using Job = MainWindow::Job;

class Walk : public WindowTest {
 protected:
  /// Every view by its name, and what shows it.
  std::vector<std::pair<QString, std::function<void()>>> views() {
    std::vector<std::pair<QString, std::function<void()>>> all;
    const auto plan = [this](auto then) {
      return [this, then] {
        window_->showWorkspace(Job::plan);
        then(window_->plan());
      };
    };
    for (const auto& [view, name] : {std::pair(Stage::View::front, "front"), std::pair(Stage::View::above, "top"),
                                     std::pair(Stage::View::side, "side"), std::pair(Stage::View::around, "around")})
      for (const auto zoom : {DrawingView::Zoom::axle, DrawingView::Zoom::leftCorner, DrawingView::Zoom::car})
        all.emplace_back(QStringLiteral("plan %1 %2").arg(QLatin1String(name)).arg(static_cast<int>(zoom)),
                         plan([view = view, zoom](PlanWorkspace& p) {
                           p.drawer().putAway();
                           p.stage().showView(view);
                           p.stage().setZoom(zoom);
                         }));
    for (int page = 0; page < 10; ++page)
      all.emplace_back(QStringLiteral("drawer %1").arg(page), plan([page](PlanWorkspace& p) {
                         p.stage().showView(Stage::View::front);
                         p.stage().setZoom(DrawingView::Zoom::axle);
                         p.open(static_cast<PlanWorkspace::Page>(page));
                       }));
    for (int page = 0; page < 6; ++page)
      all.emplace_back(QStringLiteral("springs %1").arg(page), plan([page](PlanWorkspace& p) {
                         p.open(PlanWorkspace::Page::springs);
                         p.springs().showPage(static_cast<SpringsPanel::Page>(page));
                       }));
    for (int page = 0; page < 5; ++page)
      all.emplace_back(QStringLiteral("car %1").arg(page), [this, page] {
        window_->plan().drawer().putAway();
        window_->showWorkspace(Job::car);
        window_->carWorkspace().showPage(static_cast<CarWorkspace::Page>(page));
      });
    all.emplace_back(QStringLiteral("bench"), [this] { window_->showWorkspace(Job::bench); });
    for (int page = 0; page < 7; ++page)
      all.emplace_back(QStringLiteral("track %1").arg(page), [this, page] {
        window_->showWorkspace(Job::track);
        window_->track().showPage(static_cast<TrackWorkspace::Page>(page));
      });
    return all;
  }

  /// True where a widget, or part of it, lies outside an area that scrolls: it is looked at when scrolled to.
  static bool scrolledAway(const QWidget& w) {
    for (const QWidget* up = w.parentWidget(); up; up = up->parentWidget())
      // An area within another may itself be scrolled away.
      if (const auto* area = qobject_cast<const QAbstractScrollArea*>(up);
          area && area->viewport() != &w && area->viewport()->isAncestorOf(&w)) {
        const QRect seen(QPoint(), area->viewport()->size());
        if (!seen.contains(QRect(w.mapTo(area->viewport(), QPoint()), w.size()))) return true;
      }
    return false;
  }
  static QString called(const QWidget& w) {
    return w.objectName().isEmpty() ? QString::fromLatin1(w.metaObject()->className()) : w.objectName();
  }

  /// What is written in a widget for a racer to read.
  static QStringList wordsOf(QWidget& w) {
    QStringList words{w.toolTip(), w.whatsThis()};
    if (const auto* label = qobject_cast<const QLabel*>(&w)) words << label->text();
    if (const auto* button = qobject_cast<const QAbstractButton*>(&w)) words << button->text();
    if (const auto* box = qobject_cast<const QComboBox*>(&w))
      for (int i = 0; i < box->count(); ++i) words << box->itemText(i);
    if (auto* drawing = qobject_cast<DrawingView*>(&w))
      for (const auto& written : drawing->written()) words << written.text;
    if (const auto* items = qobject_cast<const QAbstractItemView*>(&w); items && items->model())
      for (int row = 0; row < items->model()->rowCount(); ++row)
        for (int column = 0; column < items->model()->columnCount(); ++column)
          for (const int role : {Qt::DisplayRole, Qt::ToolTipRole})
            words << items->model()->index(row, column).data(role).toString();
    return words;
  }
  /// What the program calls a thing for itself, in words meant for a racer; empty: nothing of the kind.
  static QString idIn(QString text) {
    static const QRegularExpression picture(QStringLiteral("<[^>]*>"));
    static const QRegularExpression id(QStringLiteral("\\b[a-z]+[a-z0-9]*_[a-z0-9_]+\\b|\\b[LR]/[LR] |\\b[a-z]+ -1$"));
    return id.match(text.remove(picture)).captured();
  }

  void lookAt(const QString& view) {
    // What came from the background as the last thing has its place by now.
    QApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
    const auto wrong = [&](const QString& what) { found_.insert(QStringLiteral("%1: %2").arg(view, what)); };
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      if (!w->isVisible() || w->size().isEmpty()) continue;
      for (const QString& text : wordsOf(*w))
        if (const QString id = idIn(text); !id.isEmpty())
          wrong(QStringLiteral("an id: %1 in \"%2\" of %3").arg(id, text.left(60), called(*w)));
      if (!scrolledAway(*w) && !window_->rect().contains(QRect(w->mapTo(window_.get(), QPoint()), w->size())))
        wrong(QStringLiteral("beyond the window: %1 of %2, %3 px high from %4")
                  .arg(called(*w), called(*w->parentWidget()))
                  .arg(w->height())
                  .arg(w->mapTo(window_.get(), QPoint()).y()));
      // What a screen reader is told, as the accessibility bus gets it.
      const auto* around = qobject_cast<QAbstractScrollArea*>(w->parentWidget());
      const bool control = w->isEnabled() && w->focusPolicy() != Qt::NoFocus &&
                           !qobject_cast<QAbstractScrollArea*>(w) && !(around && around->viewport() == w);
      if (control) {
        QAccessibleInterface* told = QAccessible::queryAccessibleInterface(w);
        if (!told || told->role() == QAccessible::NoRole)
          wrong(QStringLiteral("no role: %1").arg(called(*w)));
        else if (told->text(QAccessible::Name).isEmpty() && !w->objectName().startsWith(QStringLiteral("qt_")))
          wrong(QStringLiteral("no name: %1 in %2").arg(called(*w), called(*w->parentWidget())));
      }
      // A name is shown as it is written: where it is taken for markup, it is not.
      if (const auto* label = qobject_cast<const QLabel*>(w);
          label && label->text().contains(QStringLiteral("<img")) &&
          (label->textFormat() == Qt::RichText ||
           (label->textFormat() == Qt::AutoText && Qt::mightBeRichText(label->text()))))
        wrong(QStringLiteral("markup in %1: %2").arg(called(*w), label->text().left(60)));
      if (const auto* label = qobject_cast<const QLabel*>(w)) {
        if (label->text().isEmpty()) continue;
        // What stands by itself in an area that scrolls may be higher than its place.
        const bool scrolls = qobject_cast<const QScrollArea*>(label->parentWidget()->parentWidget()) != nullptr;
        const bool cut = label->wordWrap() ? !scrolls && label->heightForWidth(label->width()) > label->height() + 2
                                           : label->sizeHint().width() > label->width() + 1 ||
                                                 label->sizeHint().height() > label->height() + 2;
        if (cut) wrong(QStringLiteral("cut: %1 \"%2\"").arg(called(*w), label->text().left(40)));
      } else if (const auto* button = qobject_cast<const QAbstractButton*>(w)) {
        if (button->text().isEmpty()) continue;
        int wide = 0;
        for (const QString& line : button->text().split(QLatin1Char('\n')))
          wide = std::max(wide, button->fontMetrics().horizontalAdvance(QString(line).remove(QLatin1Char('&'))));
        if (wide > button->width() - 4) wrong(QStringLiteral("cut: %1 \"%2\"").arg(called(*w), button->text()));
        if (!button->isEnabled() || button->objectName().isEmpty()) continue;
        // Steppers go with the arrow keys of their row or field, undo and redo with theirs.
        static const QStringList byKey{QStringLiteral("less"), QStringLiteral("more"), QStringLiteral("undo"),
                                       QStringLiteral("redo")};
        // Of choices that exclude each other the chosen one is reached; arrow keys go on from there.
        if (!(button->focusPolicy() & Qt::TabFocus) && !(button->group() && button->group()->exclusive()) &&
            !byKey.contains(button->objectName().section(QLatin1Char('.'), -1)))
          wrong(QStringLiteral("no key reaches %1").arg(button->objectName()));
      } else if (const auto* box = qobject_cast<const QComboBox*>(w)) {
        if (box->fontMetrics().horizontalAdvance(box->currentText()) > box->width() - 26)
          wrong(QStringLiteral("cut: %1 \"%2\"").arg(called(*w), box->currentText()));
      } else if (const auto* spin = qobject_cast<const QAbstractSpinBox*>(w)) {
        if (spin->fontMetrics().horizontalAdvance(spin->text()) > spin->width() - 8)
          wrong(QStringLiteral("cut: %1 \"%2\"").arg(called(*w), spin->text()));
      } else if (const auto* table = qobject_cast<const QTableWidget*>(w)) {
        for (int row = 0; row < table->rowCount(); ++row)
          for (int column = 0; column < table->columnCount(); ++column) {
            const QTableWidgetItem* item = table->item(row, column);
            if (!item || item->text().isEmpty() || table->isRowHidden(row) || table->columnSpan(row, column) > 1)
              continue;
            const QFontMetrics metrics(item->font());
            const QRect text = metrics.boundingRect(QRect(0, 0, table->columnWidth(column) - 6, 10000),
                                                    table->wordWrap() ? Qt::TextWordWrap : 0, item->text());
            if (text.width() > table->columnWidth(column) - 6 || text.height() > table->rowHeight(row) + 2)
              wrong(QStringLiteral("cut: %1 \"%2\"").arg(called(*w), item->text().left(40)));
          }
      } else if (const auto* figures = qobject_cast<const QTableView*>(w);
                 figures && figures->objectName() == QStringLiteral("figures.table")) {
        // Painted by hand: the widest line of a cell, bold where it moved, beside its lozenge.
        for (int row = 0; row < figures->model()->rowCount(); ++row)
          for (int column = FigureModel::baseline; column <= FigureModel::reset; ++column) {
            const QModelIndex cell = figures->model()->index(row, column);
            const QString difference = cell.data(FigureModel::differenceRole).toString();
            const QStringList lines = cell.data().toString().split(QLatin1Char('\n'));
            const QFontMetrics metrics(figureFont(lines.size() > 1 ? labelSize : textSize, !difference.isEmpty()));
            int wide = 0;
            for (const QString& line : lines) wide = std::max(wide, metrics.horizontalAdvance(line));
            if (lines.size() > 1 && !difference.isEmpty()) wide += metrics.horizontalAdvance(QChar(0x25C6));
            if (lines.size() == 1 && !difference.isEmpty())
              wide = std::max(
                  wide, QFontMetrics(figureFont(labelSize)).horizontalAdvance(QStringLiteral("\u25C6 ") + difference));
            if (wide > figures->columnWidth(column) - 8)
              wrong(QStringLiteral("cut figure: %1").arg(cell.data(Qt::AccessibleTextRole).toString()));
          }
      } else if (auto* drawing = qobject_cast<DrawingView*>(w)) {
        const auto& texts = drawing->written();
        const QRectF inside = QRectF(drawing->rect()).adjusted(-1, -1, 1, 1);
        for (std::size_t i = 0; i < texts.size(); ++i) {
          if (!inside.contains(texts[i].box)) wrong(QStringLiteral("drawn outside: %1").arg(texts[i].text));
          for (std::size_t j = i + 1; j < texts.size(); ++j)
            if (texts[i].box.adjusted(1, 1, -1, -1).intersects(texts[j].box))
              wrong(QStringLiteral("drawn over each other: %1 / %2").arg(texts[i].text, texts[j].text));
          for (const QRectF& pick : drawing->picks())
            if (texts[i].box.adjusted(1, 1, -1, -1).intersects(pick))
              wrong(QStringLiteral("drawn over a ball: %1").arg(texts[i].text));
        }
      }
    }
  }

  /// What still has a colour, or a small drawing, of a shade.
  void lookFor(Shade shade, const QString& view) {
    QPalette other;
    other.setColor(QPalette::WindowText, tokens(shade).ink);
    const Tokens& t = tokens(shade);
    std::set<QRgb> colours;
    for (const QColor* c : {&t.paper, &t.surface, &t.ink, &t.soft, &t.line, &t.kite, &t.base, &t.good, &t.warn, &t.bad})
      colours.insert(c->rgb());
    const auto wrong = [&](const QWidget& w, const QString& what) {
      found_.insert(QStringLiteral("%1: %2 of %3").arg(view, what, called(w)));
    };
    const auto has = [&](const QColor& c) { return colours.count(c.rgb()) > 0; };
    const auto of = [&](const QVariant& v) {
      return (v.canConvert<QBrush>() && v.value<QBrush>().style() != Qt::NoBrush && has(v.value<QBrush>().color())) ||
             (v.userType() == QMetaType::QColor && has(v.value<QColor>()));
    };
    const auto text = [&](const QString& html) {
      for (const QRgb c : colours)
        if (html.contains(QColor(c).name(), Qt::CaseInsensitive)) return true;
      for (int i = 0; i < sketch_count; ++i)
        if (html.contains(sketchHtml(static_cast<Sketch>(i), other))) return true;
      return false;
    };
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      if (!w->isVisible()) continue;
      if (text(w->toolTip()) || text(w->whatsThis())) wrong(*w, QStringLiteral("the tip"));
      if (w->testAttribute(Qt::WA_SetPalette))
        for (const auto role : {QPalette::Window, QPalette::WindowText, QPalette::Base, QPalette::Text})
          if (w->palette().isBrushSet(QPalette::Active, role) && has(w->palette().color(role)))
            wrong(*w, QStringLiteral("the palette"));
      if (const auto* label = qobject_cast<const QLabel*>(w); label && text(label->text()))
        wrong(*w, QStringLiteral("\"%1\"").arg(label->text().left(60)));
      if (const auto* items = qobject_cast<const QAbstractItemView*>(w); items && items->model())
        for (int row = 0; row < items->model()->rowCount(); ++row)
          for (int column = 0; column < items->model()->columnCount(); ++column) {
            const QModelIndex cell = items->model()->index(row, column);
            if (of(cell.data(Qt::ForegroundRole)) || of(cell.data(Qt::BackgroundRole)))
              wrong(*w, QStringLiteral("cell %1, %2").arg(row).arg(column));
            if (text(cell.data(Qt::ToolTipRole).toString()) || text(cell.data(Qt::WhatsThisRole).toString()))
              wrong(*w, QStringLiteral("a cell's tip"));
          }
      if (const auto* view_ = qobject_cast<const QChartView*>(w)) {
        for (const QAbstractSeries* s : view_->chart()->series())
          if (const auto* line = qobject_cast<const QXYSeries*>(s); line && has(line->pen().color()))
            wrong(*w, QStringLiteral("a line"));
        for (QAbstractAxis* a : view_->chart()->axes())
          if (has(a->labelsColor()) || has(a->gridLineColor())) wrong(*w, QStringLiteral("an axis"));
      }
    }
  }

  void tell() const {
    std::string all;
    for (const QString& f : found_) all += f.toStdString() + "\n";
    EXPECT_TRUE(found_.empty()) << found_.size() << " things:\n" << all;
  }

  void walk(const QSize& size) {
    window_->resize(size);
    for (const auto& [name, show] : views()) {
      show();
      settle();
      window_->grab();  // paints what tells where it wrote
      lookAt(QStringLiteral("%1x%2 %3").arg(size.width()).arg(size.height()).arg(name));
    }
  }

  std::set<QString> found_;
};

class WalkAt : public Walk, public testing::WithParamInterface<QSize> {};

TEST_P(WalkAt, NothingIsCutAndNothingLiesOverAnother) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  // Long words in the rows: a link turned, unlike left and right.
  document().setValue(part("front_camber_link"), Sides::left, -0.375);
  document().setValue(part("rear_camber_link"), Sides::both, 1.125);
  settle();
  walk(GetParam());
  tell();
}

INSTANTIATE_TEST_SUITE_P(FiveSizes, WalkAt,
                         testing::Values(QSize(1100, 640), QSize(1280, 800), QSize(1366, 768), QSize(1920, 1080),
                                         QSize(3840, 2160)));

// Every step of a run on the bench, with a reading that is off on both sides, in the least window and in the usual one.
TEST_F(Walk, EveryStepOfTheBench) {
  window_->showWorkspace(Job::bench);
  settle();
  click(QStringLiteral("bench.start"));
  BenchModel& bench = window_->bench().model();
  for (int i = 0; i < static_cast<int>(bench.steps().size()); ++i) {
    bench.goTo(i);
    if (bench.step()->gauge)
      for (const Side side : both_sides) {
        const auto& target = bench.verdict()->side[at(side)].target;
        bench.takeReading(side, target.value_or(0.0) + 4.0 * bench.step()->gauge->spec().resolution);
      }
    for (const QSize size : {QSize(1100, 640), QSize(1280, 800)}) {
      window_->resize(size);
      settle();
      lookAt(QStringLiteral("%1x%2 %3")
                 .arg(size.width())
                 .arg(size.height())
                 .arg(QString::fromStdString(bench.step()->id)));
    }
  }
  tell();
}

// While it is on show each view takes the other shade, and takes the first again.
TEST_F(Walk, AnotherShadeLeavesNothingOfTheOneBefore) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  document().setValue(part("rear_camber_link"), Sides::left, 1.125);
  for (const auto& [name, show] : views()) {
    show();
    settle();
    for (const auto& [now, before] : {std::pair(Shade::dark, Shade::light), std::pair(Shade::light, Shade::dark)}) {
      window_->setShade(now);
      settle();
      lookFor(before, name);
    }
  }
  tell();
}

TEST_F(Walk, EveryCarInTheDarkAtTheLeastSize) {
  window_->setShade(Shade::dark);
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  window_->resize(1100, 640);
  for (const char* car : {"heron-tc190", "godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(car)))));
    for (const End end : both_ends) {
      model().setEnd(end);
      // Steered and leaning, so that left and right are told apart.
      if (end == End::front) find<Ruler>(QStringLiteral("steer"))->setValue(-12);
      find<Ruler>(QStringLiteral("roll"))->setValue(15);
      for (const auto& [name, show] : views()) {
        if (!name.startsWith(QStringLiteral("plan")) && !name.startsWith(QStringLiteral("drawer"))) continue;
        show();
        settle();
        window_->grab();
        lookAt(QStringLiteral("%1 %2 %3").arg(QLatin1String(car), QLatin1String(name_of(end).data()), name));
      }
    }
  }
  window_->setShade(Shade::light);
  tell();
}

TEST_F(Walk, NamesAreShownAsTheyAreWritten) {
  // A car, parts, a setup, notes, a day and a run whose names a browser would draw.
  const QString hostile = QStringLiteral("<img src=x>");
  QFile file(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  Json car = Json::parse(file.readAll().toStdString());
  car["name"] = "<img src=x> car";
  car["class"] = "<img src=x> class";
  for (Json& a : car["adjusters"]) a["name"] = "<img src=x> " + a["name"].get<std::string>();
  const QString path = folder_.filePath(QStringLiteral("hostile.kite-car.json"));
  ASSERT_TRUE(replace_file(path.toStdString(), car.dump()));
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  ASSERT_TRUE(window_->open(path));
  lowkite::Setup s = document().setup();
  s.name = s.notes = hostile.toStdString();
  document().putSetup(s, hostile);
  document().step(part("front_link_inner_shims"), Sides::both, -2);
  window_->track().model().open();
  window_->track().model().addDay(QStringLiteral("2026-11-27"));
  ASSERT_TRUE(window_->track().model().day()) << window_->banner().text().toStdString();
  Day day = *window_->track().model().day();
  day.track = day.notes = hostile.toStdString();
  window_->track().model().putDay(day, hostile);
  window_->track().model().addRun(QStringLiteral("10:00"));
  ASSERT_TRUE(window_->track().model().run()) << window_->banner().text().toStdString();
  RunRecord run = *window_->track().model().run();
  run.run.notes = run.run.tyres = hostile.toStdString();
  window_->track().model().putRun(run, hostile);
  window_->bench().model().start(BenchList::full);
  window_->banner().tell(hostile + hostile);
  settle();
  // Only what is taken for markup is looked for here; long names may be cut.
  for (const auto& [name, show] : views()) {
    show();
    settle();
    lookAt(name);
  }
  std::erase_if(found_, [](const QString& f) { return !f.contains(QStringLiteral("markup")); });
  tell();
  // Tips, of widgets and of rows, as they are shown.
  const auto tip = [](QWidget* on, const QPoint& at) {
    QToolTip::hideText();
    QHelpEvent ask(QEvent::ToolTip, at, on->mapToGlobal(at));
    QApplication::sendEvent(on, &ask);
    return QToolTip::text();
  };
  EXPECT_TRUE(tip(find<QWidget>(QStringLiteral("top.setup")), {5, 5}).contains(QStringLiteral("&lt;img")));
  window_->showWorkspace(Job::plan);
  QTableWidget table(1, 1, window_.get());
  table.setItem(0, 0, new QTableWidgetItem(hostile));
  table.item(0, 0)->setToolTip(hostile);
  table.show();
  EXPECT_TRUE(
      tip(table.viewport(), table.visualItemRect(table.item(0, 0)).center()).contains(QStringLiteral("&lt;img")));
  QToolTip::hideText();
}

TEST_F(Walk, FaultsAndNewsDoNotGrowTheWindow) {
  window_->resize(1100, 640);
  Faults many;
  for (int i = 0; i < 60; ++i)
    many.push_back({"my-car.kite-car.json", "axles.front.points", "is not a number", "a number, mm"});
  window_->faultPanel().show(many);
  window_->banner().tell(QStringLiteral("Something long was said. ").repeated(8));
  for (int page = 0; page < 10; ++page) {
    window_->plan().open(static_cast<PlanWorkspace::Page>(page));
    settle();
    EXPECT_EQ(window_->size(), QSize(1100, 640)) << page;
  }
  for (const Job job : {Job::car, Job::bench, Job::track}) {
    window_->showWorkspace(job);
    settle();
    EXPECT_EQ(window_->size(), QSize(1100, 640));
  }
}

TEST_F(Walk, WhatAScreenReaderTogglesIsChosenAsByAClick) {
  const auto act = [&](const QString& name) {
    QAccessibleInterface* told = QAccessible::queryAccessibleInterface(find<QAbstractButton>(name));
    ASSERT_TRUE(told && told->actionInterface());
    told->actionInterface()->doAction(QAccessibleActionInterface::toggleAction());
    settle();
  };
  act(QStringLiteral("workspace.3"));
  EXPECT_TRUE(window_->track().isVisible());
  act(QStringLiteral("workspace.2"));
  act(QStringLiteral("drawer.2"));
  EXPECT_TRUE(find<QWidget>(QStringLiteral("recipe"))->isVisible());
  click(QStringLiteral("drawer.2"));
  EXPECT_FALSE(window_->plan().drawer().isOpen()) << "a click on the open page's button puts it away";
  act(QStringLiteral("axle.1"));
  EXPECT_EQ(model().end(), End::rear);
}

TEST_F(Walk, TheStageHasTwoFifthsOfTheWindow) {
  const QWidget& stage = window_->plan().stage();
  EXPECT_GE(1.0 * stage.width() * stage.height(), 0.4 * window_->width() * window_->height());
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  EXPECT_GE(1.0 * stage.width() * stage.height(), 0.4 * window_->width() * window_->height())
      << "and with a change to be put back";
  std::printf("stage: %.1f %% of the window\n",
              100.0 * stage.width() * stage.height() / (window_->width() * window_->height()));
}

/// How many buttons a view shows; printed for the notes.
TEST_F(Walk, ViewsShowFewButtons) {
  window_->grab();
  for (const auto& [name, show] : views()) {
    show();
    settle();
    int shown = 0;
    for (const QAbstractButton* b : window_->findChildren<QAbstractButton*>())
      shown += b->isVisible() && !scrolledAway(*b);
    std::printf("%s: %d buttons\n", name.toStdString().c_str(), shown);
    EXPECT_LT(shown, 80) << name.toStdString();
  }
}

}  // namespace
}  // namespace lowkite::app
