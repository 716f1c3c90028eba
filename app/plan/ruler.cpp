#include "app/plan/ruler.h"

#include <algorithm>
#include <cmath>

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr double endRoomLying = 14.0;    ///< px beyond the last step, for the handle
constexpr double endRoomUpright = 26.0;  ///< and for the end's name
constexpr double knob = 8.0;

/// A round number of units between ticks so that they stand about `apart` px from each other.
double tickStep(double pxPerUnit, double apart) {
  for (const double step : {0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0})
    if (step * pxPerUnit >= apart) return step;
  return 100.0;
}

}  // namespace

Ruler::Ruler(Edge edge, const QString& name, const QString& said, QWidget* parent)
    : QSlider(edge == Edge::top || edge == Edge::bottom ? Qt::Horizontal : Qt::Vertical, parent), edge_(edge) {
  setObjectName(name);
  setAccessibleName(said);
  if (lying())
    setFixedHeight(thickness);
  else
    setFixedWidth(thicknessUpright);
}

void Ruler::setEnds(const QString& low, const QString& high) {
  low_ = low;
  high_ = high;
}

void Ruler::setUnit(double perStep, const QString& unit, int decimals) {
  perStep_ = perStep;
  unit_ = unit;
  decimals_ = decimals;
}

void Ruler::setMarks(std::vector<RulerMark> marks) {
  marks_ = std::move(marks);
  update();
}

void Ruler::setReading(const QString& reading) {
  if (reading == reading_) return;
  reading_ = reading;
  setAccessibleDescription(reading);
  update();
}

double Ruler::along(double steps) const {
  const double endRoom = lying() ? endRoomLying : endRoomUpright;
  const double length = (lying() ? width() : height()) - 2.0 * endRoom;
  const double span = std::max(1, maximum() - minimum());
  double share = (steps - minimum()) / span;
  // Left and up are the low end of a plain slider's line only when it lies.
  if (lying() == invertedAppearance()) share = 1.0 - share;
  return endRoom + share * length;
}

int Ruler::stepsAt(const QPointF& where) const {
  const double endRoom = lying() ? endRoomLying : endRoomUpright;
  const double length = (lying() ? width() : height()) - 2.0 * endRoom;
  double share = ((lying() ? where.x() : where.y()) - endRoom) / std::max(1.0, length);
  if (lying() == invertedAppearance()) share = 1.0 - share;
  return static_cast<int>(std::lround(minimum() + share * (maximum() - minimum())));
}

void Ruler::follow(const QPointF& where) {
  setValue(std::clamp(stepsAt(where), minimum(), maximum()));
}

void Ruler::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  setFocus(Qt::MouseFocusReason);
  setSliderDown(true);
  follow(event->position());
}

void Ruler::mouseMoveEvent(QMouseEvent* event) {
  if (isSliderDown()) follow(event->position());
}

void Ruler::mouseReleaseEvent(QMouseEvent*) {
  setSliderDown(false);
}

void Ruler::mouseDoubleClickEvent(QMouseEvent*) {
  setValue(0);
}

bool Ruler::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(e);
    for (const RulerMark& m : marks_)
      if (std::abs(along(m.at / perStep_) - (lying() ? help->pos().x() : help->pos().y())) < 8.0) {
        QToolTip::showText(help->globalPos(), m.what, this);
        return true;
      }
    QToolTip::showText(help->globalPos(), tr("%1. A double-click goes back to nought.").arg(reading_), this);
    return true;
  }
  return QSlider::event(e);
}

void Ruler::paintEvent(QPaintEvent*) {
  const Tokens& t = tokens(palette());
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(figureFont(labelSize));
  // Everything is drawn along x; an upright one is drawn with x and y exchanged.
  const double line = edge_ == Edge::top || edge_ == Edge::left ? 14.0 : (lying() ? height() : width()) - 14.0;
  const bool outwardPlus = edge_ == Edge::bottom || edge_ == Edge::right;  // the words stand away from the edge
  const auto at = [&](double x, double y) { return lying() ? QPointF(x, y) : QPointF(y, x); };
  p.setPen(QPen(t.line, 1.5));
  p.drawLine(at(along(minimum()), line), at(along(maximum()), line));
  const double pxPerUnit = std::abs(along(1.0) - along(0.0)) / perStep_;
  const double tick = tickStep(pxPerUnit, 18.0);
  p.setPen(QPen(t.soft, 1.0));
  for (double v = std::ceil(minimum() * perStep_ / tick) * tick; v <= maximum() * perStep_ + 1e-9; v += tick) {
    const double x = along(v / perStep_);
    const bool zero = std::abs(v) < 1e-9;
    p.drawLine(at(x, line - (zero ? 6.0 : 3.0)), at(x, line + (zero ? 6.0 : 3.0)));
  }
  for (const RulerMark& m : marks_) {
    const double x = along(std::clamp(m.at / perStep_, static_cast<double>(minimum()), static_cast<double>(maximum())));
    p.setPen(QPen(t.warn, 2.5));
    p.drawLine(at(x, line - 7.0), at(x, line + 7.0));
  }
  const bool held = value() != 0;
  const double x = along(value());
  p.setPen(QPen(hasFocus() ? t.kite : t.ink, 2.0));
  p.setBrush(held ? t.ink : palette().color(QPalette::Base));
  p.drawEllipse(at(x, line), knob, knob);
  // The reading goes with the handle, the names of the ends stand where it is not.
  const QFontMetricsF metrics(p.font());
  const auto write = [&](double centre, const QString& text, const QColor& colour) {
    const double wide = metrics.horizontalAdvance(text) + 2.0;
    QRectF box;
    if (lying()) {
      box = QRectF(std::clamp(centre - 0.5 * wide, 1.0, std::max(1.0, width() - wide - 1.0)),
                   outwardPlus ? 1.0 : height() - 17.0, wide, 16.0);
    } else {
      // Over the handle, or under it where there is no room.
      const double over = centre - knob - 18.0;
      box = QRectF(0.0, over < 0.0 ? centre + knob + 2.0 : over, wide, 16.0);
      box.moveLeft(edge_ == Edge::left ? 2.0 : width() - wide - 2.0);
    }
    p.setPen(colour);
    p.drawText(box, Qt::AlignCenter, text);
    return box;
  };
  const QString now = QStringLiteral("%1 %2").arg(number(std::abs(value() * perStep_), decimals_), unit_);
  QRectF taken;
  if (held || hasFocus()) taken = write(x, now, held ? t.ink : t.soft);
  for (const auto& [end, text] : {std::pair(minimum(), low_), std::pair(maximum(), high_)}) {
    const double wide = metrics.horizontalAdvance(text) + 2.0;
    const double place = along(end);
    QRectF would(std::clamp(place - 0.5 * wide, 1.0, std::max(1.0, width() - wide - 1.0)), taken.top(), wide, 16.0);
    if (!lying()) {
      const bool top = place < 0.5 * height();
      would = QRectF(edge_ == Edge::left ? 3.0 : width() - wide - 3.0, top ? 0.0 : height() - 16.0, wide, 16.0);
    }
    if (!taken.isNull() && would.adjusted(-4, -2, 4, 2).intersects(taken)) continue;
    if (lying() && taken.isNull()) would.moveTop(outwardPlus ? 1.0 : height() - 17.0);
    p.setPen(t.soft);
    p.drawText(would, Qt::AlignCenter, text);
  }
}

}  // namespace lowkite::app
