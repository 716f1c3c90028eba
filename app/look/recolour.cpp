#include "app/look/recolour.h"

#include <array>
#include <utility>
#include <vector>

#include <QAbstractItemView>
#include <QApplication>
#include <QBrush>
#include <QLabel>
#include <QListWidget>
#include <QPointer>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QTreeWidget>

namespace lowkite::app {
namespace {

class Dye {
 public:
  Dye(const Tokens& from, const Tokens& to) {
    std::size_t i = 0;
    for (const auto token : {&Tokens::paper, &Tokens::surface, &Tokens::ink, &Tokens::soft, &Tokens::line,
                             &Tokens::kite, &Tokens::base, &Tokens::good, &Tokens::warn, &Tokens::bad})
      pairs_[i++] = {from.*token, to.*token};
  }

  /// True where something was changed.
  bool take(QColor& colour) const {
    for (const auto& [from, to] : pairs_)
      if (colour.rgb() == from.rgb()) {
        const int alpha = colour.alpha();
        colour = to;
        colour.setAlpha(alpha);
        return true;
      }
    return false;
  }
  bool take(QString& text) const {
    if (!text.contains(QLatin1Char('#'))) return false;
    const QString before = text;
    for (const auto& [from, to] : pairs_) text.replace(from.name(), to.name());
    return text != before;
  }
  bool take(QVariant& value) const {
    if (value.userType() == QMetaType::QBrush) {
      auto brush = value.value<QBrush>();
      QColor colour = brush.color();
      if (brush.style() == Qt::NoBrush || !take(colour)) return false;
      brush.setColor(colour);
      value = brush;
      return true;
    }
    if (value.userType() == QMetaType::QColor) {
      auto colour = value.value<QColor>();
      if (!take(colour)) return false;
      value = colour;
      return true;
    }
    if (value.userType() == QMetaType::QString) {
      QString text = value.toString();
      if (!take(text)) return false;
      value = text;
      return true;
    }
    return false;
  }

 private:
  std::array<std::pair<QColor, QColor>, 10> pairs_;
};

void dyePalette(QWidget& w, const Dye& dye) {
  QPalette own = w.palette();
  const QPalette whole = QApplication::palette(&w);
  QPalette kept;  // only what was set: the rest follows the program's
  bool any = false;
  for (const auto role : {QPalette::Window, QPalette::WindowText, QPalette::Base, QPalette::Text}) {
    QColor colour = own.color(QPalette::Active, role);
    if (!own.isBrushSet(QPalette::Active, role) || colour == whole.color(QPalette::Active, role)) continue;
    if (dye.take(colour)) any = true;
    kept.setColor(role, colour);
  }
  if (any) w.setPalette(kept);
}

/// Models of our own ask the palette each time.
bool keepsItsCells(const QAbstractItemView& view) {
  return qobject_cast<const QTableWidget*>(&view) || qobject_cast<const QListWidget*>(&view) ||
         qobject_cast<const QTreeWidget*>(&view);
}

void dyeCells(QAbstractItemModel& model, const QModelIndex& under, const Dye& dye) {
  for (int row = 0; row < model.rowCount(under); ++row)
    for (int column = 0; column < model.columnCount(under); ++column) {
      const QModelIndex cell = model.index(row, column, under);
      for (const int role : {Qt::ForegroundRole, Qt::BackgroundRole, Qt::ToolTipRole, Qt::WhatsThisRole})
        if (QVariant value = cell.data(role); value.isValid() && dye.take(value)) model.setData(cell, value, role);
      if (column == 0 && model.hasChildren(cell)) dyeCells(model, cell, dye);
    }
}

}  // namespace

void recolour(const Tokens& from, const Tokens& to) {
  const Dye dye(from, to);
  // What hears of another palette may make its parts anew: whoever is gone by then is left out.
  std::vector<QPointer<QWidget>> all;
  for (QWidget* w : QApplication::allWidgets()) all.emplace_back(w);
  for (const QPointer<QWidget>& w : all) {
    if (!w) continue;
    if (QString tip = w->toolTip(); dye.take(tip)) w->setToolTip(tip);
    if (QString text = w->whatsThis(); dye.take(text)) w->setWhatsThis(text);
    if (w->testAttribute(Qt::WA_SetPalette)) dyePalette(*w, dye);
    if (!w) continue;
    if (auto* label = qobject_cast<QLabel*>(w.data())) {
      if (QString text = label->text(); dye.take(text)) label->setText(text);
    } else if (auto* view = qobject_cast<QAbstractItemView*>(w.data()); view && keepsItsCells(*view)) {
      const QSignalBlocker ofView(view), ofModel(view->model());
      dyeCells(*view->model(), {}, dye);
      view->viewport()->update();
    }
  }
}

}  // namespace lowkite::app
