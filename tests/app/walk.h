// Every view of the window by its name, and what can be wrong with what stands in it.
#pragma once

#include <functional>
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
#include "app/plan/handling/handling_page.h"
#include "app/plan/springs/springs_panel.h"
#include "app/track/advice_page.h"
#include "app/track/track_workspace.h"
#include "app/widgets/banner.h"
#include "app/widgets/fault_panel.h"
#include "core/io/json_document.hpp"
#include "tests/app/window_fixture.h"

namespace lowkite::app {

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
    for (int page = 0; page < 12; ++page)
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
    for (int view = 0; view < 8; ++view)
      all.emplace_back(QStringLiteral("handling %1").arg(view), plan([view](PlanWorkspace& p) {
                         p.open(PlanWorkspace::Page::handling);
                         p.handling().showView(static_cast<HandlingPage::View>(view));
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
      if (const auto* header = qobject_cast<const QHeaderView*>(w);
          header && header->orientation() == Qt::Horizontal && header->model())
        for (int column = 0; column < header->count(); ++column) {
          const QString title = header->model()->headerData(column, Qt::Horizontal).toString();
          if (!header->isSectionHidden(column) && !title.contains(QLatin1Char('\n')) &&
              header->fontMetrics().horizontalAdvance(title) > header->sectionSize(column) - 2)
            wrong(QStringLiteral("cut heading: %1 \"%2\"").arg(called(*header->parentWidget()), title));
        }
      // What stands in an area that scrolls up and down alone is not reached where it is wider.
      if (const auto* area = qobject_cast<const QScrollArea*>(w);
          area && area->widget() && area->horizontalScrollBarPolicy() == Qt::ScrollBarAlwaysOff &&
          area->widget()->width() > area->viewport()->width() + 3)
        wrong(QStringLiteral("cut at the side: %1 px of %2 in %3")
                  .arg(area->widget()->width() - area->viewport()->width())
                  .arg(called(*area->widget()), called(*area->parentWidget())));
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
        // Painted by hand: each word of a name; the widest line of a cell, bold where it moved, beside its lozenge.
        const QFontMetrics letters(textFont(textSize));
        for (int row = 0; row < figures->model()->rowCount(); ++row) {
          const QModelIndex name = figures->model()->index(row, FigureModel::label);
          if (!name.data(FigureModel::groupRole).toBool())
            for (const QString& part : name.data().toString().split(QLatin1Char(' ')))
              if (letters.horizontalAdvance(part) > figures->columnWidth(FigureModel::label) - 12)
                wrong(QStringLiteral("cut name: %1").arg(part));
          for (int column = FigureModel::baseline; column <= FigureModel::reset; ++column) {
            const QModelIndex cell = figures->model()->index(row, column);
            const QString difference = cell.data(FigureModel::differenceRole).toString();
            const QString text = cell.data().toString();
            // Words in the place of a number are small and have two lines.
            static const QRegularExpression digit(QStringLiteral("\\d"));
            const bool words = difference.isEmpty() && !text.contains(digit);
            const QStringList lines = text.split(QLatin1Char(words ? ' ' : '\n'));
            if (words && lines.size() > 2) wrong(QStringLiteral("cut figure: %1").arg(text));
            const QFontMetrics metrics(
                words ? textFont(labelSize)
                      : figureFont(lines.size() > 1 ? labelSize : textSize, !difference.isEmpty()));
            int wide = 0;
            for (const QString& line : lines) wide = std::max(wide, metrics.horizontalAdvance(line));
            if (lines.size() > 1 && !difference.isEmpty()) wide += metrics.horizontalAdvance(QChar(0x25C6));
            if (lines.size() == 1 && !difference.isEmpty())
              wide = std::max(
                  wide, QFontMetrics(figureFont(labelSize)).horizontalAdvance(QStringLiteral("\u25C6 ") + difference));
            if (wide > figures->columnWidth(column) - 8)
              wrong(QStringLiteral("cut figure: %1").arg(cell.data(Qt::AccessibleTextRole).toString()));
          }
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

  /// Goes through a run on the bench, with a reading that is off on both sides at each step that has a gauge.
  void everyStepOfTheBench(const std::function<void(const QString& step)>& look) {
    window_->showWorkspace(Job::bench);
    settle();
    click(QStringLiteral("bench.start"));
    BenchModel& bench = window_->bench().model();
    for (int i = 0; i < static_cast<int>(bench.steps().size()); ++i) {
      bench.goTo(i);
      if (bench.step()->gauge)
        for (const Side side : both_sides)
          bench.takeReading(side, bench.verdict()->side[at(side)].target.value_or(0.0) +
                                      4.0 * bench.step()->gauge->spec().resolution);
      settle();
      look(QString::fromStdString(bench.step()->id));
    }
  }

  std::set<QString> found_;
};

}  // namespace lowkite::app
