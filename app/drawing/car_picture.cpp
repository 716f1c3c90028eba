#include "app/drawing/car_picture.h"

#include <algorithm>
#include <cmath>

#include <QPainter>
#include <QPixmap>

#include "app/look/theme.h"

namespace lowkite::app {

QIcon carPicture(const Car& car, const QPalette& palette) {
  constexpr int wide = 56;
  constexpr int high = 28;
  constexpr double sharper = 2.0;
  const Tokens& t = tokens(palette);
  QPixmap pixmap(QSize(wide, high) * sharper);
  pixmap.setDevicePixelRatio(sharper);
  pixmap.fill(Qt::transparent);
  QPainter p(&pixmap);
  p.setRenderHint(QPainter::Antialiasing);
  // Nose to the right, in millimetres about the middle between the axles.
  const auto wheel = [&](End end) {
    const Axle& a = car.axle(end);
    return a.points[0][a.mechanism->wheel_centre];
  };
  const Vec3 front = wheel(End::front);
  const Vec3 rear = wheel(End::rear);
  const double length = front.x() - rear.x() + car.axle(End::front).tyre.radius_mm + car.axle(End::rear).tyre.radius_mm;
  const double width = 2.0 * std::max(front.y(), rear.y()) + car.axle(End::front).tyre.width_mm;
  const double scale = std::min((wide - 2.0) / length, (high - 2.0) / width);
  const double middle = 0.5 * (front.x() + rear.x());
  p.translate(0.5 * wide, 0.5 * high);
  p.scale(scale, -scale);
  p.setPen(Qt::NoPen);
  p.setBrush(t.line);
  QPolygonF plate;
  for (const auto& [x, half] :
       {std::pair(front.x(), car.plate_half_width_mm[0]), std::pair(front.x(), -car.plate_half_width_mm[0]),
        std::pair(rear.x(), -car.plate_half_width_mm[1]), std::pair(rear.x(), car.plate_half_width_mm[1])})
    plate << QPointF(x - middle, half);
  p.drawPolygon(plate);
  p.setBrush(t.ink);
  for (const End end : both_ends) {
    const Vec3 c = wheel(end);
    const Tyre& tyre = car.axle(end).tyre;
    for (const double side : {-1.0, 1.0})
      p.drawRoundedRect(QRectF(c.x() - middle - tyre.radius_mm, side * c.y() - 0.5 * tyre.width_mm,
                               2.0 * tyre.radius_mm, tyre.width_mm),
                        4.0, 4.0);
  }
  return QIcon(pixmap);
}

}  // namespace lowkite::app
