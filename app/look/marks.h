// Signs that mean the same wherever something is drawn.
#pragma once

#include <QColor>
#include <QPainterPath>

namespace lowkite::app {

/// What is in hand, changed, or meant.
QPainterPath lozenge(const QPointF& centre, double r);
QColor faint(QColor c, double alpha);

}  // namespace lowkite::app
