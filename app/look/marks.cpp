#include "app/look/marks.h"

namespace lowkite::app {

QPainterPath lozenge(const QPointF& centre, double r) {
  QPainterPath path;
  path.moveTo(centre + QPointF(0, -r));
  path.lineTo(centre + QPointF(r, 0));
  path.lineTo(centre + QPointF(0, r));
  path.lineTo(centre + QPointF(-r, 0));
  path.closeSubpath();
  return path;
}

QColor faint(QColor c, double alpha) {
  c.setAlphaF(static_cast<float>(alpha));
  return c;
}

}  // namespace lowkite::app
