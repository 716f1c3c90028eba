#include "app/drawing/part_glyph.h"

#include <cmath>

#include <QMouseEvent>
#include <QPainter>

#include "app/look/theme.h"

namespace lowkite::app {

PartGlyph::PartGlyph(const Adjuster& part, QWidget* parent) : QWidget(parent), part_(part) {
  setMinimumHeight(40);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void PartGlyph::setValues(double left, double right, double baseline, bool changed) {
  left_ = left;
  right_ = right;
  baseline_ = baseline;
  changed_ = changed;
  update();
}

QRectF PartGlyph::positionRect(int index) const {
  const auto count = static_cast<double>(part_.positions()->list.size());
  const double gap = 3.0;
  const double w = (width() - gap * (count - 1)) / count;
  return {index * (w + gap), 2.0, w, height() - 4.0};
}

void PartGlyph::mousePressEvent(QMouseEvent* event) {
  if (!part_.positions()) {
    event->ignore();
    return;
  }
  for (int i = 0; i < static_cast<int>(part_.positions()->list.size()); ++i)
    if (positionRect(i).contains(event->position())) Q_EMIT picked(i);
}

void PartGlyph::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  switch (part_.kind) {
    case AdjusterKind::shim_stack:
      paintShims(p);
      break;
    case AdjusterKind::hole:
      paintHoles(p);
      break;
    case AdjusterKind::turnbuckle:
      paintTurnbuckle(p);
      break;
    case AdjusterKind::screw:
      paintScrew(p);
      break;
    case AdjusterKind::insert:
    case AdjusterKind::choice:
    case AdjusterKind::spline:
    case AdjusterKind::kept:
      paintBoxes(p);
      break;
  }
}

void PartGlyph::paintShims(QPainter& p) const {
  const Tokens& t = tokens(palette());
  // Lying discs from the base up, at one scale for the whole range, so that two stacks can be compared by eye.
  const double scale = (height() - 10.0) / std::max(1.0, part_.most());
  const double half = left_ == right_ ? 16.0 : 12.0;
  const auto stack = [&](double centre, double thickness, const QColor& colour) {
    double y = height() - 4.0;
    for (const double shim : shims_for(thickness, part_.range()->shims_mm)) {
      const double h = shim * scale;
      p.fillRect(QRectF(centre - half, y - h + 0.5, 2.0 * half, std::max(1.0, h - 1.0)), colour);
      y -= h;
    }
    p.setPen(QPen(t.ink, 2.0));
    p.drawLine(QPointF(centre - half - 3.0, height() - 3.0), QPointF(centre + half + 3.0, height() - 3.0));
  };
  const QColor now = changed_ ? t.kite : t.soft;
  // One stack while both sides are alike; two, left and right as on the car, when they are not.
  const double middle = width() / 2.0;
  if (left_ == right_) {
    stack(middle, left_, now);
  } else {
    stack(middle - 16.0, left_, now);
    stack(middle + 16.0, right_, now);
  }
  if (!changed_) return;
  // Where the baseline's stack ended.
  const double y = height() - 4.0 - baseline_ * scale;
  p.setPen(QPen(t.base, 1.5, Qt::DashLine));
  p.drawLine(QPointF(2.0, y), QPointF(width() - 2.0, y));
}

void PartGlyph::paintHoles(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const auto& list = part_.positions()->list;
  p.setFont(figureFont(labelSize));
  for (int i = 0; i < static_cast<int>(list.size()); ++i) {
    const QRectF cell = positionRect(i);
    const QPointF centre(cell.center().x(), 13.0);
    const bool used = std::lround(left_) == i || std::lround(right_) == i;
    p.setPen(QPen(changed_ && used ? t.kite : t.ink, 2.0));
    p.setBrush(used ? QBrush(changed_ ? t.kite : t.ink) : Qt::NoBrush);
    p.drawEllipse(centre, 8.0, 8.0);
    if (std::lround(baseline_) == i && !used) {
      p.setPen(QPen(t.base, 1.5, Qt::DashLine));
      p.drawEllipse(centre, 11.0, 11.0);
    }
    QString label = QString::fromStdString(list[at(i)].label);
    if (used && left_ != right_) label += std::lround(left_) == i ? tr(" L") : tr(" R");
    p.setPen(used ? t.ink : t.soft);
    p.drawText(QRectF(cell.left(), 25.0, cell.width(), 14.0), Qt::AlignCenter, label);
  }
}

void PartGlyph::paintBoxes(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const auto& list = part_.positions()->list;
  p.setFont(figureFont(labelSize));
  for (int i = 0; i < static_cast<int>(list.size()); ++i) {
    const QRectF cell = positionRect(i).adjusted(1, 3, -1, -3);
    const bool used = std::lround(left_) == i || std::lround(right_) == i;
    const QColor now = changed_ ? t.kite : t.ink;
    p.setPen(QPen(used ? now : t.soft, used ? 2.0 : 1.0));
    p.setBrush(used ? QBrush(now) : Qt::NoBrush);
    p.drawRoundedRect(cell, 4, 4);
    if (std::lround(baseline_) == i && !used) {
      p.setPen(QPen(t.base, 1.5, Qt::DashLine));
      p.drawRoundedRect(cell.adjusted(2, 2, -2, -2), 3, 3);
    }
    QString label = QString::fromStdString(list[at(i)].label);
    if (used && left_ != right_) label += std::lround(left_) == i ? tr(" L") : tr(" R");
    p.setPen(used ? t.paper : t.ink);
    p.drawText(cell, Qt::AlignCenter, label);
  }
}

void PartGlyph::paintTurnbuckle(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const double y = 14.0;
  const double middle = width() / 2.0;
  // The ball cups move apart with the turns; a mark shows where they stood on the baseline.
  const double perTurn = 3.0;
  const auto half = [&](double turns) { return std::clamp(middle - 14.0 + turns * perTurn, 16.0, middle - 7.0); };
  const double now = half(0.5 * (left_ + right_));
  p.setPen(QPen(changed_ ? t.kite : t.ink, 2.0));
  p.drawLine(QPointF(middle - now, y), QPointF(middle + now, y));
  for (double x = middle - now + 12.0; x < middle + now - 10.0; x += 5.0)
    if (std::abs(x - middle) > 9.0) p.drawLine(QPointF(x, y + 3.0), QPointF(x + 3.0, y - 3.0));
  p.setBrush(palette().color(QPalette::Base));
  p.drawRect(QRectF(middle - 6.0, y - 4.0, 12.0, 8.0));
  for (const double x : {middle - now, middle + now}) p.drawEllipse(QPointF(x, y), 6.0, 6.0);
  if (changed_) {
    const double was = half(baseline_);
    p.setPen(QPen(t.base, 1.5, Qt::DashLine));
    for (const double x : {middle - was, middle + was}) p.drawLine(QPointF(x, y - 11.0), QPointF(x, y + 11.0));
  }
  const Range& r = *part_.range();
  p.setPen(t.soft);
  p.setFont(textFont(labelSize));
  p.drawText(QRectF(0, 25.0, width(), 14.0), Qt::AlignCenter,
             tr("%1 mm a turn").arg(QString::number(r.link_mm_per_unit, 'g', 3)));
}

void PartGlyph::paintScrew(QPainter& p) const {
  const Tokens& t = tokens(palette());
  // A grub screw standing through the arm: its end goes further below the arm as it is turned in.
  const double middle = width() / 2.0;
  const double arm = 13.0;
  const auto tip = [&](double turns) { return std::clamp(arm + 12.0 + turns * 2.5, arm + 4.0, 37.0); };
  const double now = tip(0.5 * (left_ + right_));
  p.fillRect(QRectF(6.0, arm - 3.0, width() - 12.0, 6.0), t.line);
  const QColor colour = changed_ ? t.kite : t.ink;
  p.setPen(QPen(colour, 1.5));
  p.setBrush(palette().color(QPalette::Base));
  p.drawRect(QRectF(middle - 5.0, now - 24.0, 10.0, 24.0));
  for (double y = now - 21.0; y < now - 1.0; y += 4.0)
    p.drawLine(QPointF(middle - 5.0, y + 2.0), QPointF(middle + 5.0, y));
  if (!changed_) return;
  p.setPen(QPen(t.base, 1.5, Qt::DashLine));
  p.drawLine(QPointF(4.0, tip(baseline_)), QPointF(width() - 4.0, tip(baseline_)));
}

}  // namespace lowkite::app
