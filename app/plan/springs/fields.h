// Number fields and tables as the pages about springs have them.
#pragma once

#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QTableWidget>

#include "app/look/theme.h"

namespace lowkite::app {

inline QDoubleSpinBox* numberField(QWidget* parent, const QString& name, const QString& said, double least, double most,
                                   double value, int decimals, double step, const QString& suffix) {
  auto* s = new QDoubleSpinBox(parent);
  s->setObjectName(name);
  s->setAccessibleName(said);
  s->setToolTip(said);
  s->setRange(least, most);
  s->setDecimals(decimals);
  s->setSingleStep(step);
  s->setSuffix(suffix);
  s->setValue(value);
  s->setMinimumHeight(targetHeight);
  s->setAlignment(Qt::AlignRight);
  s->setKeyboardTracking(false);
  return s;
}

/// Of a turn: at its least the wheels stay straight.
inline QDoubleSpinBox* radiusField(QWidget* parent, const QString& name) {
  auto* s = numberField(parent, name, QCoreApplication::translate("Fields", "Radius of the turn"), 0.0, 50.0, 4.0, 1,
                        0.5, QCoreApplication::translate("Fields", " m"));
  s->setToolTip(QCoreApplication::translate(
      "Fields", "Radius of the turn: it asks for steering. At its least the wheels stay straight."));
  s->setPrefix(QCoreApplication::translate("Fields", "radius "));
  s->setSpecialValueText(QCoreApplication::translate("Fields", "wheels straight"));
  return s;
}

inline QLabel* quietLabel(const QString& text, QWidget* parent) {
  auto* l = new QLabel(text, parent);
  l->setProperty("role", "quiet");
  l->setWordWrap(true);
  return l;
}

/// Puts a row of cells; the last column is lit where it differs from the one before.
inline void putRow(QTableWidget& table, int row, const QStringList& cells, const Tokens& t, bool lit) {
  for (int i = 0; i < cells.size(); ++i) {
    auto* item = new QTableWidgetItem(cells[i]);
    const bool last = i + 1 == cells.size();
    item->setFont(i == 0 ? textFont(12) : figureFont(12, last && lit));
    item->setTextAlignment((i == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    item->setForeground(last && lit ? t.kite : i > 0 && !last ? t.base : t.ink);
    item->setToolTip(cells[i]);
    table.setItem(row, i, item);
  }
  table.setRowHeight(row, 22);
}

}  // namespace lowkite::app
