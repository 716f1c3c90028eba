// Things that stand side by side where their words are short enough, and below each other where they are not.
#pragma once

#include <algorithm>

#include <QBoxLayout>

namespace lowkite::app {

/// Lays `row` out downwards where what stands in it needs more than `width` px. Asked once, when all of it is there.
inline void besideOrBelow(QBoxLayout& row, int width) {
  int needed = 0;
  for (int i = 0; i < row.count(); ++i)
    needed +=
        std::max(row.itemAt(i)->minimumSize().width(), row.itemAt(i)->sizeHint().width()) + (i > 0 ? row.spacing() : 0);
  if (needed > width) row.setDirection(QBoxLayout::TopToBottom);
}

}  // namespace lowkite::app
