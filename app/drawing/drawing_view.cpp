#include "app/drawing/drawing_view.h"

#include <algorithm>
#include <cmath>

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr double reach_px = 16.0;  ///< how far from a ball a click still means it

}  // namespace

QPainterPath lozenge(const QPointF& centre, double r) {
  QPainterPath path;
  path.moveTo(centre + QPointF(0, -r));
  path.lineTo(centre + QPointF(r, 0));
  path.lineTo(centre + QPointF(0, r));
  path.lineTo(centre + QPointF(-r, 0));
  path.closeSubpath();
  return path;
}

void paintArrow(QPainter& p, const QPointF& from, const QPointF& tip, const QColor& colour) {
  const QPointF way = tip - from;
  const double length = std::hypot(way.x(), way.y());
  if (length < 5.0) return;
  const QPointF along = way / length;
  const QPointF across(-along.y(), along.x());
  const double head = std::min(9.0, 0.5 * length);
  p.setPen(QPen(colour, 3.0, Qt::SolidLine, Qt::FlatCap));
  p.drawLine(from, tip - along * head);
  p.setPen(Qt::NoPen);
  p.setBrush(colour);
  p.drawPolygon(
      QPolygonF{tip, tip - along * head + across * (0.55 * head), tip - along * head - across * (0.55 * head)});
}

QColor faint(QColor c, double alpha) {
  c.setAlphaF(static_cast<float>(alpha));
  return c;
}

QPen penOf(Stroke stroke, const Tokens& t, double pxPerMm) {
  const auto thick = [&](double least, double mm) { return std::max(least, mm * pxPerMm); };
  switch (stroke) {
    case Stroke::arm:
      return QPen(t.ink, thick(2.0, 2.2), Qt::SolidLine, Qt::FlatCap);
    case Stroke::link:
      return QPen(t.ink, thick(1.5, 0.9), Qt::SolidLine, Qt::FlatCap);
    case Stroke::carrier:
      return QPen(faint(t.ink, 0.6), 2.0);
    case Stroke::kingpin:
      return QPen(t.ink, 1.5, Qt::DashDotLine);
    case Stroke::axle:
      return QPen(faint(t.ink, 0.45), 2.0);
    case Stroke::pin:
      return QPen(t.ink, 2.0);
    case Stroke::shock:
      return QPen(faint(t.soft, 0.45), thick(2.0, 2.2), Qt::SolidLine, Qt::FlatCap);
    case Stroke::shaft:
      return QPen(faint(t.soft, 0.55), thick(1.5, 1.2), Qt::SolidLine, Qt::FlatCap);
    case Stroke::crank:
      return QPen(faint(t.ink, 0.75), thick(2.0, 1.6), Qt::SolidLine, Qt::RoundCap);
  }
  return QPen(t.ink);
}

DrawingView::DrawingView(PlanModel& model, const QString& name, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(name);
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAttribute(Qt::WA_OpaquePaintEvent);  // nothing behind the drawing is painted first
  setMinimumSize(360, 140);
}

void DrawingView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  paintOn(painter);
}

bool DrawingView::paintPaper(QPainter& p, bool anything) const {
  p.fillRect(rect(), palette().color(QPalette::Base));
  p.setRenderHint(QPainter::Antialiasing);
  if (anything) return true;
  p.setPen(tokens(palette()).soft);
  p.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
             model_.failure().isEmpty() ? tr("No car is open") : model_.failure());
  return false;
}

void DrawingView::paintScaleBar(QPainter& p, double pxPerMm, bool atTheLeft) const {
  const Tokens& t = tokens(palette());
  // A round length of about a tenth of the picture.
  double mm = 20.0;
  for (const double round : {5.0, 10.0, 20.0, 50.0, 100.0})
    if (round * pxPerMm < 0.16 * width()) mm = round;
  const double length = mm * pxPerMm;
  const QPointF left(atTheLeft ? 20.0 : width() / 2.0 - length / 2.0, height() - 12.0);
  p.setPen(QPen(t.soft, 1.5));
  p.drawLine(left, left + QPointF(length, 0));
  for (const double x : {0.0, length}) p.drawLine(left + QPointF(x, -4), left + QPointF(x, 4));
  p.setFont(textFont(labelSize));
  p.drawText(QRectF(left.x() + length + 6, left.y() - 8, 60, 16), Qt::AlignLeft | Qt::AlignVCenter,
             tr("%1 mm").arg(number(mm, 0)));
}

void DrawingView::paintLozenges(QPainter& p) const {
  const Tokens& t = tokens(palette());
  for (const Handle& h : handles()) {
    const bool inHand = h.adjuster == model_.part();
    if (!inHand && !model_.partChanged(h.adjuster)) continue;
    const double r = std::max(9.0, h.radius_px * 1.7);
    p.setPen(QPen(t.kite, inHand ? 2.5 : 1.5));
    p.setBrush(inHand ? QBrush(faint(t.kite, 0.15)) : Qt::NoBrush);
    p.drawPath(lozenge(h.at, inHand ? r + 3.0 : r));
  }
}

std::optional<QPointF> DrawingView::handleAt(int adjuster, Side side) const {
  for (const Handle& h : handles())
    if (h.adjuster == adjuster && (h.steering || h.side == side)) return h.at;
  return std::nullopt;
}

std::vector<int> DrawingView::handlesNear(const QPointF& where) const {
  std::vector<std::pair<double, int>> found;
  for (const Handle& h : handles()) {
    const QPointF d = h.at - where;
    const double distance = std::hypot(d.x(), d.y());
    if (distance <= std::max(reach_px, h.radius_px)) found.emplace_back(distance, h.adjuster);
  }
  std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<int> adjusters;
  for (const auto& [distance, adjuster] : found) {
    // Both wheels' handles of one part may lie over each other in a view from the side.
    if (std::find(adjusters.begin(), adjusters.end(), adjuster) == adjusters.end()) adjusters.push_back(adjuster);
  }
  return adjusters;
}

void DrawingView::mousePressEvent(QMouseEvent* event) {
  setFocus(Qt::MouseFocusReason);
  const std::vector<int> near = handlesNear(event->position());
  if (near.empty()) {
    dragFrom_ = event->position();
    setCursor(Qt::SizeAllCursor);
    return;
  }
  // Several parts may meet in one ball (its shims and its hole): clicking again takes the next one.
  const auto here = std::find(near.begin(), near.end(), model_.part());
  model_.setPart(here == near.end() || std::next(here) == near.end() ? near.front() : *std::next(here));
}

void DrawingView::mouseMoveEvent(QMouseEvent* event) {
  if (dragFrom_) {
    dragged(event->position() - *dragFrom_);
    dragFrom_ = event->position();
    return;
  }
  const std::vector<int> near = handlesNear(event->position());
  const bool written = near.empty() && !figureAt(event->position()).empty();
  setCursor(near.empty() && !written ? Qt::ArrowCursor : Qt::PointingHandCursor);
  if (written) {
    QToolTip::showText(event->globalPosition().toPoint(), tr("Double-click to type it"), this);
    return;
  }
  if (near.empty()) {
    QToolTip::hideText();
    return;
  }
  const Adjuster& a = model_.document().car().adjusters[static_cast<std::size_t>(near.front())];
  const double value = model_.document().setup().at_index(near.front()).on(model_.shownSide());
  QToolTip::showText(event->globalPosition().toPoint(),
                     tr("%1: %2").arg(QString::fromStdString(a.name), valueText(a, value)), this);
}

void DrawingView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (const std::string_view figure = figureAt(event->position()); !figure.empty())
    Q_EMIT figureAsked(figure);
  else
    mousePressEvent(event);
}

void DrawingView::mouseReleaseEvent(QMouseEvent*) {
  dragFrom_.reset();
  setCursor(Qt::ArrowCursor);
}

void DrawingView::wheelEvent(QWheelEvent* event) {
  if (model_.part() < 0 || event->angleDelta().y() == 0) {
    event->ignore();
    return;
  }
  model_.stepPart(event->angleDelta().y() > 0 ? 1 : -1);
  event->accept();
}

}  // namespace lowkite::app
