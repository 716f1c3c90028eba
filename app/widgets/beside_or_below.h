// Things that stand side by side where their words are short enough, and below each other where they are not.
#pragma once

#include <QAbstractButton>
#include <QBoxLayout>
#include <QWidget>

namespace lowkite::app {

/// Lays `row` out downwards where what stands in it needs more than `width` px, across where it does not.
inline void besideOrBelow(QBoxLayout& row, int width) {
  int needed = 0;
  for (int i = 0; i < row.count(); ++i) {
    QLayoutItem* item = row.itemAt(i);
    int least = item->minimumSize().width();
    if (QWidget* w = item->widget()) {
      // Its size is known once the style has dressed it; a button has a least width that is less than its words need.
      for (QWidget* inside : w->findChildren<QWidget*>()) inside->ensurePolished();
      w->ensurePolished();
      if (w->layout()) w->layout()->invalidate();
      least = qobject_cast<QAbstractButton*>(w) ? w->sizeHint().width() : item->minimumSize().width();
    }
    needed += least + (i > 0 ? row.spacing() : 0);
  }
  row.setDirection(needed > width ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
}

}  // namespace lowkite::app
