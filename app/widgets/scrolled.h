// A widget that may be taller than its place.
#pragma once

#include <QScrollArea>

namespace lowkite::app {

/// `widget` in an area that scrolls up and down where there is less room than it needs.
inline QScrollArea* scrolled(QWidget* widget, QWidget* parent) {
  auto* area = new QScrollArea(parent);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setWidget(widget);
  return area;
}

}  // namespace lowkite::app
