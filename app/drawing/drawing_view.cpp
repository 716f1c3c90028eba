#include "app/drawing/drawing_view.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr double reach_px = 16.0;  ///< how far from a ball a click still means it

}  // namespace

std::optional<QLineF> within(const QLineF& line, const QRectF& box) {
  const double dx = line.dx(), dy = line.dy();
  if (!std::isfinite(dx) || !std::isfinite(dy)) return std::nullopt;
  double enters = 0.0, leaves = 1.0;
  const std::array<std::pair<double, double>, 4> edges{{{-dx, line.x1() - box.left()},
                                                        {dx, box.right() - line.x1()},
                                                        {-dy, line.y1() - box.top()},
                                                        {dy, box.bottom() - line.y1()}}};
  for (const auto& [towards, room] : edges) {
    if (towards == 0.0) {
      if (room < 0.0) return std::nullopt;
      continue;
    }
    const double at = room / towards;
    if (towards < 0.0)
      enters = std::max(enters, at);
    else
      leaves = std::min(leaves, at);
  }
  if (enters > leaves) return std::nullopt;
  return QLineF(line.pointAt(enters), line.pointAt(leaves));
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

void paintGravitySign(QPainter& p, const QPointF& at, const QColor& colour) {
  constexpr double r = 6.5;
  const QRectF box(at.x() - r, at.y() - r, 2.0 * r, 2.0 * r);
  p.setPen(QPen(colour, 1.5));
  p.setBrush(p.background());
  p.drawEllipse(box);
  p.setPen(Qt::NoPen);
  p.setBrush(colour);
  p.drawPie(box, 0, 90 * 16);
  p.drawPie(box, 180 * 16, 90 * 16);
}

namespace {

/// A bar with round ends, filled a shade darker than paper, with an ink edge.
void paintBar(QPainter& p, const QPointF& a, const QPointF& b, double wide, const QColor& fill, const QColor& edge) {
  QPainterPath line(a);
  line.lineTo(b);
  QPainterPathStroker stroker;
  stroker.setWidth(wide);
  stroker.setCapStyle(Qt::RoundCap);
  p.setPen(QPen(edge, 1.0));
  p.setBrush(p.background());
  const QPainterPath bar = stroker.createStroke(line);
  p.drawPath(bar);
  p.fillPath(bar, fill);
}

void paintShock(QPainter& p, const QPointF& a, const QPointF& b, const Tokens& t, double px) {
  const QPointF way = b - a;
  const double length = std::hypot(way.x(), way.y());
  if (length < 4.0) return;
  const QPointF along = way / length;
  const QPointF across(-along.y(), along.x());
  const auto at = [&](double share, double side) { return a + way * share + across * (side * px); };
  // Behind the links, so in soft ink.
  p.setPen(QPen(faint(t.soft, 0.8), std::max(1.0, 1.2 * px)));
  p.drawLine(at(0.5, 0), b);
  QPolygonF body;
  body << at(0.06, -3.6) << at(0.06, 3.6) << at(0.56, 3.6) << at(0.56, -3.6);
  p.setPen(QPen(faint(t.soft, 0.7), 1.0));
  p.setBrush(faint(t.soft, 0.18));
  p.drawPolygon(body);
  // The spring between collar and lower seat.
  constexpr int coils = 7;
  constexpr double collar = 0.2;
  constexpr double seat = 0.92;
  QPolygonF wire;
  for (int i = 0; i <= 2 * coils; ++i)
    wire << at(collar + (seat - collar) * i / (2.0 * coils), i % 2 == 0 ? -5.2 : 5.2);
  p.setPen(QPen(faint(t.soft, 0.75), std::max(1.0, 0.8 * px), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.setBrush(Qt::NoBrush);
  p.drawPolyline(wire);
  p.setPen(QPen(faint(t.soft, 0.8), std::max(1.5, 1.2 * px)));
  for (const double s : {collar, seat}) p.drawLine(at(s, -5.6), at(s, 5.6));
}

}  // namespace

void paintPart(QPainter& p, const QPointF& a, const QPointF& b, Stroke stroke, const Tokens& t, double px) {
  const auto thick = [&](double least, double mm) { return std::max(least, mm * px); };
  const auto line = [&](const QColor& colour, double wide, Qt::PenStyle style = Qt::SolidLine) {
    p.setPen(QPen(colour, wide, style, Qt::RoundCap));
    p.drawLine(a, b);
  };
  switch (stroke) {
    case Stroke::arm:
      return paintBar(p, a, b, thick(4.0, 4.2), faint(t.ink, 0.28), t.ink);
    case Stroke::link:
      return line(t.ink, thick(1.5, 0.9));
    case Stroke::carrier:
      return line(faint(t.ink, 0.5), 1.5);
    case Stroke::kingpin:
      return line(t.ink, 1.0, Qt::DashDotLine);
    case Stroke::axle:
      return line(faint(t.ink, 0.45), thick(2.0, 2.4));
    case Stroke::shock:
      return paintShock(p, a, b, t, px);
    case Stroke::shaft:
      return line(faint(t.soft, 0.55), thick(1.5, 1.2));
    case Stroke::crank:
      return paintBar(p, a, b, thick(3.0, 2.6), faint(t.ink, 0.16), faint(t.ink, 0.7));
    case Stroke::pin:
      line(t.ink, 1.5);
      p.setBrush(p.background());
      for (const QPointF& end : {a, b}) p.drawEllipse(end, thick(2.5, 1.5), thick(2.5, 1.5));
      return;
  }
}

void paintCup(QPainter& p, const SceneCup& cup, const std::function<QPointF(const Vec3&)>& toScreen, double pxPerMm,
              const Tokens& t) {
  constexpr double halfWide = 3.4, halfPin = 3.0, wall = 1.0;  // mm; their sizes are told by no car file
  const QPointF mouth = toScreen(cup.mouth);
  const QPointF bottom = toScreen(cup.bottom);
  const QPointF deep = bottom - mouth;
  const double depth = std::hypot(deep.x(), deep.y());
  if (depth > 2.0) {  // else it is looked into
    const QPointF n = QPointF(-deep.y(), deep.x()) / depth * halfWide * pxPerMm;
    QPainterPath cut(mouth + n);
    cut.lineTo(bottom + n);
    cut.lineTo(bottom - n);
    cut.lineTo(mouth - n);
    p.setPen(QPen(faint(t.ink, 0.75), std::max(1.5, wall * pxPerMm), Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(cut);
  }
  const QPointF pin = toScreen(cup.pin);
  const QPointF along = toScreen(cup.pin + cup.shaft) - pin;
  const double length = std::hypot(along.x(), along.y());
  if (length < 1e-6) return;
  const QPointF n = QPointF(-along.y(), along.x()) / length * halfPin * pxPerMm;
  p.setPen(QPen(t.ink, std::max(2.0, wall * pxPerMm), Qt::SolidLine, Qt::RoundCap));
  p.drawLine(pin - n, pin + n);
}

void paintHexagon(QPainter& p, const QPointF& at, const QPointF& way, const Tokens& t, double px) {
  const double length = std::hypot(way.x(), way.y());
  if (length < 1e-6) return;
  const QPointF along = way / length;
  const QPointF across(-along.y(), along.x());
  QPolygonF hex;
  for (const auto& [x, y] : {std::pair(-3.0, -1.5), std::pair(3.0, -1.5), std::pair(3.0, 1.5), std::pair(-3.0, 1.5)})
    hex << at + along * (x * px) + across * (y * px);
  p.setPen(QPen(t.ink, 1.0));
  p.setBrush(p.background());
  p.drawPolygon(hex);
}

constexpr double leastMagnified = 0.4, mostMagnified = 16.0;

DrawingView::DrawingView(PlanModel& model, const QString& name, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(name);
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAttribute(Qt::WA_OpaquePaintEvent);  // nothing behind the drawing is painted first
  setMinimumSize(360, 140);
}

void DrawingView::setEdges(const QMargins& edges) {
  edges_ = edges;
  rescale();
}

void DrawingView::setLook(const Look& look) {
  const bool sound = std::isfinite(look.magnified) && std::isfinite(look.panned.x()) && std::isfinite(look.panned.y());
  magnified_ = sound ? std::clamp(look.magnified, leastMagnified, mostMagnified) : 1.0;
  panned_ = sound ? look.panned : QPointF();
  rescale();
  Q_EMIT lookChanged();
}

void DrawingView::fit() {
  setLook({});
}

void DrawingView::magnify(double steps, const QPointF& about) {
  constexpr double perStep = 1.2;
  const double next = std::clamp(magnified_ * std::pow(perStep, steps), leastMagnified, mostMagnified);
  // The place under the pointer stays: its distance from the middle grows with the picture.
  const QPointF from = about - room().center();
  setLook({next, from + (panned_ - from) * (next / magnified_)});
}

void DrawingView::pan(const QPointF& px) {
  setLook({magnified_, panned_ + px});
}

void DrawingView::placeAt(double scale, const QPointF& origin) {
  scale_ = scale * magnified_;
  const QPointF middle = room().center();
  origin_ = middle + (origin - middle) * magnified_ + panned_;
}

void DrawingView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  paintOn(painter);
}

std::vector<QRectF> DrawingView::picks() const {
  std::vector<QRectF> all;
  for (const GripOnScreen& h : grips()) {
    const double r = std::max(6.0, h.radius_px);
    all.emplace_back(h.at.x() - r, h.at.y() - r, 2.0 * r, 2.0 * r);
  }
  return all;
}

std::string_view DrawingView::figureAt(const QPointF& where) const {
  for (const Written& w : written_)
    if (w.box.contains(where)) return w.figure;
  return {};
}

void DrawingView::write(QPainter& p, const QString& text, const QPointF& at, const Pen& pen) {
  p.setFont(pen.font);
  const QFontMetricsF metrics(pen.font);
  const QSizeF size(metrics.horizontalAdvance(text) + 6.0, metrics.height());
  const QRectF own = room().adjusted(2, 0, -2, 0);
  const auto boxAt = [&](const QPointF& middle) {
    QRectF box(middle.x() - 0.5 * size.width(), middle.y() - 0.5 * size.height(), size.width(), size.height());
    box.moveLeft(std::clamp(box.left(), own.left(), std::max(own.left(), own.right() - size.width())));
    box.moveTop(std::clamp(box.top(), own.top(), std::max(own.top(), own.bottom() - size.height())));
    return box;
  };
  const auto inTheWay = [&](const QRectF& box) {
    double area = 0.0;
    const auto count = [&](const QRectF& other) {
      const QRectF both = box.intersected(other);
      area += both.width() * both.height();
    };
    for (const Written& w : written_) count(w.box);
    for (const QRectF& k : keptFree_) count(k);
    return area;
  };
  QRectF best = boxAt(at);
  double least = inTheWay(best);
  // Rings of places around where it belongs, the nearest first.
  for (int ring = 1; ring <= 14 && least > 0.0; ++ring)
    for (const auto& [x, y] : {std::pair(0, -1), std::pair(0, 1), std::pair(1, 0), std::pair(-1, 0), std::pair(1, -1),
                               std::pair(-1, -1), std::pair(1, 1), std::pair(-1, 1)}) {
      const QRectF box = boxAt(at + QPointF(x * ring * 14.0, y * ring * 9.0));
      const double area = inTheWay(box);
      if (area >= least) continue;
      least = area;
      best = box;
      if (least == 0.0) break;
    }
  if (least > 0.0 && pen.may_be_left_out) return;
  p.fillRect(best, faint(palette().color(QPalette::Base), 0.82));
  p.setPen(pen.colour);
  p.drawText(best, Qt::AlignCenter, text);
  written_.push_back({best, text, pen.figure, pen.side});
}

void DrawingView::paintLimit(QPainter& p, const QPointF& at, const SceneLimit& limit) {
  if (!room().contains(at)) return;
  const Tokens& t = tokens(palette());
  const QColor colour = limit.past ? t.bad : t.warn;
  p.setPen(QPen(colour, 2.0));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(at, 9.0, 9.0);
  keepFree(QRectF(at.x() - 10, at.y() - 10, 20, 20));
  write(p, (limit.past ? QStringLiteral("\u2715 ") : QStringLiteral("! ")) + QString::fromStdString(limit.text),
        at + QPointF(0.0, -20.0), {textFont(labelSize, true), colour, true});
}

bool DrawingView::paintPaper(QPainter& p, bool anything) {
  written_.clear();
  keptFree_ = anything ? picks() : std::vector<QRectF>();
  p.setBackground(palette().color(QPalette::Base));
  p.fillRect(rect(), palette().color(QPalette::Base));
  p.setRenderHint(QPainter::Antialiasing);
  if (anything) {
    p.setClipRect(room());  // the tools and rulers along the edges stand on plain paper
    return true;
  }
  p.setPen(tokens(palette()).soft);
  p.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
             model_.failure().isEmpty() ? tr("No car is open") : model_.failure());
  return false;
}

namespace {

constexpr double beyond = 60.0;  ///< px around the picture: pens are wide and dashes begin somewhere

}  // namespace

void DrawingView::drawWithin(QPainter& p, const QPointF& a, const QPointF& b) const {
  if (const auto seen = within({a, b}, QRectF(rect()).adjusted(-beyond, -beyond, beyond, beyond))) p.drawLine(*seen);
}

void DrawingView::circleWithin(QPainter& p, const QPointF& centre, double radius) const {
  if (!std::isfinite(radius) || !std::isfinite(centre.x()) || !std::isfinite(centre.y())) return;
  const double across = std::hypot(width(), height());
  if (radius < 2.0 * across) {
    p.drawEllipse(centre, radius, radius);
    return;
  }
  // An arc as long as the picture is wide, where it passes nearest to its middle.
  const QPointF middle = QRectF(rect()).center();
  const double towards = std::atan2(middle.y() - centre.y(), middle.x() - centre.x());
  const double half = across / radius;
  QPolygonF arc;
  constexpr int steps = 48;
  for (int i = -steps; i <= steps; ++i) {
    const double angle = towards + half * i / steps;
    arc << centre + radius * QPointF(std::cos(angle), std::sin(angle));
  }
  p.drawPolyline(arc);
}

DrawingView::ScaleBar DrawingView::scaleBar(double pxPerMm) const {
  // A round length of about a tenth of the picture.
  double mm = 1.0;
  for (const double round : {2.0, 5.0, 10.0, 20.0, 50.0, 100.0})
    if (round * pxPerMm < 0.16 * width()) mm = round;
  const QRectF own = room();
  return {mm, {own.left() + 8.0, own.bottom() - 11.0, mm * pxPerMm, 10.0}};
}

void DrawingView::paintScaleBar(QPainter& p, double pxPerMm) {
  const Tokens& t = tokens(palette());
  const auto [mm, box] = scaleBar(pxPerMm);
  const double length = box.width();
  const QPointF left(box.left(), box.center().y());
  p.setPen(QPen(t.soft, 1.5));
  p.drawLine(left, left + QPointF(length, 0));
  for (const double x : {0.0, length}) p.drawLine(left + QPointF(x, -4), left + QPointF(x, 4));
  write(p, tr("%1 mm").arg(number(mm, 0)), left + QPointF(0.5 * length, -12.0), {textFont(labelSize), t.soft, true});
}

void DrawingView::paintLozenges(QPainter& p) const {
  const Tokens& t = tokens(palette());
  for (const GripOnScreen& h : grips()) {
    const bool inHand = h.adjuster == model_.part();
    if (!inHand && !model_.partChanged(h.adjuster)) continue;
    const double r = std::max(9.0, h.radius_px * 1.7);
    p.setPen(QPen(t.kite, inHand ? 2.5 : 1.5));
    p.setBrush(inHand ? QBrush(faint(t.kite, 0.15)) : Qt::NoBrush);
    p.drawPath(lozenge(h.at, inHand ? r + 3.0 : r));
  }
}

std::optional<QPointF> DrawingView::gripAt(PartHandle adjuster, Side side) const {
  for (const GripOnScreen& h : grips())
    if (h.adjuster == adjuster && (h.steering || h.side == side)) return h.at;
  return std::nullopt;
}

std::vector<PartHandle> DrawingView::partsNear(const QPointF& where) const {
  std::vector<std::pair<double, PartHandle>> found;
  for (const GripOnScreen& h : grips()) {
    const QPointF d = h.at - where;
    const double distance = std::hypot(d.x(), d.y());
    if (distance <= std::max(reach_px, h.radius_px)) found.emplace_back(distance, h.adjuster);
  }
  std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<PartHandle> adjusters;
  for (const auto& [distance, adjuster] : found) {
    // Both wheels' handles of one part may lie over each other in a view from the side.
    if (std::find(adjusters.begin(), adjusters.end(), adjuster) == adjusters.end()) adjusters.push_back(adjuster);
  }
  return adjusters;
}

void DrawingView::mousePressEvent(QMouseEvent* event) {
  setFocus(Qt::MouseFocusReason);
  panning_ = event->button() != Qt::LeftButton || (event->modifiers() & Qt::ShiftModifier);
  if (panning_) {
    dragFrom_ = event->position();
    setCursor(Qt::ClosedHandCursor);
    return;
  }
  const std::vector<PartHandle> near = partsNear(event->position());
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
    if (panning_)
      pan(event->position() - *dragFrom_);
    else
      dragged(event->position() - *dragFrom_);
    dragFrom_ = event->position();
    return;
  }
  const std::vector<PartHandle> near = partsNear(event->position());
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
  const Adjuster& a = model_.document().car().adjusters[near.front()];
  const double value = model_.document().setup().of(near.front()).on(model_.shownSide());
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
  const double notches = event->angleDelta().y() / 120.0;
  event->accept();
  if (notches == 0.0) return;
  // With Ctrl it steps the part in hand; alone it brings the eye nearer.
  if (!(event->modifiers() & Qt::ControlModifier))
    magnify(notches, event->position());
  else if (model_.part())
    model_.stepPart(notches > 0.0 ? 1 : -1);
}

}  // namespace lowkite::app
