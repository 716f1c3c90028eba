#include "app/car/points_view.h"

#include <algorithm>
#include <cmath>

#include <QCoreApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPainterPathStroker>

#include "app/drawing/drawing_view.h"
#include "app/look/theme.h"
#include "app/words/wording.h"
#include "core/load/third_element.hpp"

namespace lowkite::app {
namespace {

constexpr double reachPx = 16.0;
constexpr double ballPx = 5.0;
constexpr double jawPx = 24.0, jawBelowPx = 8.0;  // of a caliper, over and under what it measures

/// Where a reading is laid.
std::pair<Vec3, Vec3> endsOf(const Car& car, const CaliperReading& r) {
  const Vec3 a = place_of(car, r.a);
  switch (r.kind) {
    case ReadingKind::distance:
      return {a, place_of(car, r.b)};
    case ReadingKind::height:
      return {a, Vec3(a.x(), a.y(), 0.0)};
    case ReadingKind::across:
      return {a, Vec3(a.x(), -a.y(), a.z())};
    case ReadingKind::along:
      return {a, Vec3(place_of(car, r.b).x(), a.y(), a.z())};
  }
  return {a, a};
}

double rounded(double mm) {
  return std::round(mm / PointsView::nudge_mm) * PointsView::nudge_mm;
}

}  // namespace

PointsView::PointsView(CarEditor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
  setObjectName(QStringLiteral("pointsView"));
  setAccessibleName(tr("Drawing of the car's points"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAttribute(Qt::WA_OpaquePaintEvent);
  setMinimumSize(360, 240);
  connect(&editor_, &CarEditor::changed, this, [this] {
    if (!dragFrom_) rescale();  // the paper stays still while a hand is on it
    update();
  });
  connect(&editor_, &CarEditor::spotsChanged, this, qOverload<>(&QWidget::update));
  connect(&editor_, &CarEditor::selectionChanged, this, [this] {
    rescale();
    update();
  });
}

void PointsView::setFrom(From from) {
  from_ = from;
  rescale();
  update();
}

PointsView::From PointsView::bestFor(const Car& car, const CaliperReading& reading, From now) {
  constexpr double wellSeen = 0.6;  // of its length, where it is seen longest
  const std::pair<Vec3, Vec3> ends = endsOf(car, reading);
  const auto seen = [&](From from) {
    const QPointF d = projected(ends.second, from) - projected(ends.first, from);
    return std::hypot(d.x(), d.y());
  };
  From best = now;
  for (const From from : {From::front, From::above, From::side})
    if (seen(from) > seen(best)) best = from;
  return seen(now) >= wellSeen * seen(best) ? now : best;
}

QPointF PointsView::project(const Vec3& p) const {
  return projected(p, from_);
}

QPointF PointsView::projected(const Vec3& p, From from) {
  switch (from) {
    case From::front:
      return {-p.y(), p.z()};
    case From::above:
      return {-p.y(), p.x()};
    case From::side:
      return {-p.x(), p.z()};
  }
  return {};
}

QPointF PointsView::toScreen(const Vec3& mm) const {
  const QPointF p = project(mm);
  return origin_ + QPointF(p.x() * scale_, -p.y() * scale_);
}

Vec3 PointsView::movedBy(const Vec3& mm, const QPointF& px) const {
  const double right = px.x() / scale_;
  const double up = -px.y() / scale_;
  switch (from_) {
    case From::front:
      return mm + Vec3(0.0, -right, up);
    case From::above:
      return mm + Vec3(up, -right, 0.0);
    case From::side:
      return mm + Vec3(-right, 0.0, up);
  }
  return mm;
}

void PointsView::rescale() {
  if (!editor_.document().hasCar()) return;
  QRectF all;
  const auto take = [&](const Vec3& v) {
    const QRectF p(project(v), QSizeF(1e-3, 1e-3));
    all = all.isNull() ? p : all.united(p);
  };
  const Car& car = editor_.document().car();
  for (const PointRef& ref : editor_.points()) {
    take(editor_.place(ref, Side::left));
    if (!ref.steering) take(editor_.place(ref, Side::right));
  }
  if (editor_.group() != CarEditor::Group::steering) {
    const End end = editor_.group() == CarEditor::Group::front ? End::front : End::rear;
    const Axle& axle = car.axle(end);
    const Vec3 wheel = axle.points[0][axle.mechanism->wheel_centre];
    const double r = axle.tyre.radius_mm;
    for (const double side : {-1.0, 1.0}) {
      take(Vec3(wheel.x() + r, side * (wheel.y() + 0.5 * axle.tyre.width_mm), wheel.z() + r));
      take(Vec3(wheel.x() - r, side * (wheel.y() + 0.5 * axle.tyre.width_mm), wheel.z() - r));
    }
  }
  constexpr double margin = 36.0;
  scale_ = std::min((width() - 2 * margin) / std::max(1.0, all.width()),
                    (height() - 2 * margin) / std::max(1.0, all.height()));
  const QPointF middle = all.center();
  origin_ = QPointF(width() / 2.0 - middle.x() * scale_, height() / 2.0 + middle.y() * scale_);
}

void PointsView::resizeEvent(QResizeEvent*) {
  rescale();
}

void PointsView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setBackground(palette().color(QPalette::Base));
  p.fillRect(rect(), palette().color(QPalette::Base));
  p.setRenderHint(QPainter::Antialiasing);
  const Tokens& t = tokens(palette());
  if (!editor_.document().hasCar()) {
    p.setPen(t.soft);
    p.drawText(rect(), Qt::AlignCenter, tr("No car is open"));
    return;
  }
  // The plate's underside and the centre plane: what coordinates are counted from.
  p.setPen(QPen(faint(t.soft, 0.6), 1.0, Qt::DashLine));
  p.setFont(textFont(labelSize));
  if (from_ != From::above) {
    const double y = toScreen(Vec3::Zero()).y();
    p.drawLine(QPointF(0, y), QPointF(width(), y));
    p.drawText(QPointF(8, y + 14), tr("z = 0, underside of the plate"));
  }
  if (from_ != From::side) {
    const double x = toScreen(Vec3::Zero()).x();
    p.drawLine(QPointF(x, 0), QPointF(x, height()));
    p.drawText(QPointF(x + 4, 14), tr("y = 0"));
  }
  if (editor_.group() == CarEditor::Group::steering) {
    paintSteering(p);
  } else {
    paintSide(p, editor_.side() == Side::left ? Side::right : Side::left);
    paintSide(p, editor_.side());
  }
  paintPickable(p);
  paintBodies(p);
  paintSpots(p);
  if (editor_.point() && editor_.spots().empty() && editor_.bodies().empty()) paintName(p, *editor_.point());
  paintDimension(p);
  // A scale bar, and what the signs at the points mean.
  double mm = 20.0;
  for (const double round : {5.0, 10.0, 20.0, 50.0, 100.0})
    if (round * scale_ < 0.16 * width()) mm = round;
  const QPointF left(20.0, height() - 14.0);
  p.setPen(QPen(t.soft, 1.5));
  p.drawLine(left, left + QPointF(mm * scale_, 0));
  for (const double x : {0.0, mm * scale_}) p.drawLine(left + QPointF(x, -4), left + QPointF(x, 4));
  p.setFont(textFont(labelSize));
  p.drawText(QPointF(left.x() + mm * scale_ + 8, left.y() + 4), tr("%1 mm").arg(number(mm, 0)));
  p.drawText(QRectF(0, height() - 26, width() - 12, 18), Qt::AlignRight | Qt::AlignVCenter,
             tr("\u25CF measured   \u25CB car file or template   \u25D0 by hand"));
}

void PointsView::paintSide(QPainter& p, Side side) const {
  const Tokens& t = tokens(palette());
  const End end = editor_.group() == CarEditor::Group::front ? End::front : End::rear;
  const Axle& axle = editor_.document().car().axle(end);
  const bool active = side == editor_.side();
  const auto place = [&](PointHandle point) { return editor_.place({end, false, point}, side); };
  const double strength = active ? 1.0 : 0.35;
  // The wheel in the kit: a rectangle seen from the front or above, a circle from the side.
  const Vec3 wheel = place(axle.mechanism->wheel_centre);
  const double r = axle.tyre.radius_mm;
  const double w = axle.tyre.width_mm;
  p.setPen(QPen(faint(t.soft, 0.7 * strength), 1.5));
  p.setBrush(Qt::NoBrush);
  if (from_ == From::side) {
    p.drawEllipse(toScreen(wheel), r * scale_, r * scale_);
  } else {
    const double high = 2.0 * r * scale_;
    p.save();
    p.translate(toScreen(wheel));
    // Camber and toe of the kit, so that the drawing is the car that the file describes.
    const double lean = from_ == From::front ? axle.camber_deg : axle.toe_deg;
    p.rotate(side == Side::left ? -lean : lean);
    p.drawRoundedRect(QRectF(-0.5 * w * scale_, -0.5 * high, w * scale_, high), 6, 6);
    p.restore();
  }
  const auto line = [&](PointHandle from, PointHandle to, Stroke stroke) {
    p.setOpacity(strength);
    paintPart(p, toScreen(place(from)), toScreen(place(to)), stroke, t, scale_);
    p.setOpacity(1.0);
  };
  for (const StrokeSpec& s : axle.mechanism->strokes) line(s.from, s.to, s.stroke);
  for (const auto& [from, to, stroke] : {std::tuple(attachment::shock_upper, attachment::shock_lower, Stroke::shock),
                                         std::tuple(attachment::side_upper, attachment::side_lower, Stroke::shock),
                                         std::tuple(attachment::shaft_cup, attachment::shaft_joint, Stroke::shaft),
                                         std::tuple(attachment::bar_arm, attachment::bar_end, Stroke::link),
                                         std::tuple(attachment::third_arm, attachment::third_rod, Stroke::link),
                                         std::tuple(attachment::third_rod, attachment::third_pivot, Stroke::crank),
                                         std::tuple(attachment::third_pivot, attachment::third_end, Stroke::crank)})
    if (axle.has(from) && axle.has(to)) line(from, to, stroke);
  if (!active) return;
  if (has_third_levers(axle))
    paintPart(p, toScreen(editor_.place({end, false, attachment::third_end}, Side::left)),
              toScreen(editor_.place({end, false, attachment::third_end}, Side::right)), Stroke::shock, t, scale_);
  for (const PointRef& ref : editor_.points()) paintPoint(p, ref, toScreen(editor_.place(ref, side)));
}

void PointsView::paintSteering(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const SteeringSpec& spec = *editor_.document().car().steering.spec;
  for (const StrokeSpec& s : spec.strokes)
    paintPart(p, toScreen(editor_.place({End::front, true, s.from}, Side::left)),
              toScreen(editor_.place({End::front, true, s.to}, Side::left)), s.stroke, t, scale_);
  for (const PointRef& ref : editor_.points()) paintPoint(p, ref, toScreen(editor_.place(ref, Side::left)));
}

void PointsView::paintPoint(QPainter& p, const PointRef& ref, const QPointF& at) const {
  const Tokens& t = tokens(palette());
  const PointOrigin origin = origin_of(editor_.source(), editor_.document().car(), ref);
  p.setPen(QPen(t.ink, 1.5));
  p.setBrush(origin == PointOrigin::measured ? QBrush(t.ink) : QBrush(palette().color(QPalette::Base)));
  p.drawEllipse(at, ballPx, ballPx);
  if (origin == PointOrigin::by_hand) {
    p.setBrush(t.ink);
    p.drawPie(QRectF(at.x() - ballPx, at.y() - ballPx, 2 * ballPx, 2 * ballPx), 90 * 16, 180 * 16);
  }
  if (editor_.point() != ref) return;
  p.setPen(QPen(t.kite, 2.5));
  p.setBrush(faint(t.kite, 0.15));
  p.drawPath(lozenge(at, 13.0));
}

void PointsView::paintName(QPainter& p, const PointRef& ref) const {
  const Tokens& t = tokens(palette());
  const QPointF at = toScreen(editor_.place(ref, editor_.side()));
  const std::string_view label = spec_of(editor_.document().car(), ref).label;
  const QString text = fromCore(label);
  p.setPen(t.kite);
  p.setFont(textFont(textSize, true));
  const QFontMetrics metrics(p.font());
  const double wide = metrics.horizontalAdvance(text) + 12;
  QRectF box(at.x() + 16, at.y() - 28, wide, 20);
  if (box.right() > width() - 4) box.moveRight(at.x() - 16);
  if (box.top() < 4) box.moveTop(at.y() + 10);
  p.fillRect(box, faint(palette().color(QPalette::Base), 0.9));
  p.drawText(box, Qt::AlignCenter, text);
}

void PointsView::paintDimension(QPainter& p) const {
  const auto& r = editor_.shownReading();
  if (!r) return;
  const Tokens& t = tokens(palette());
  const Car& car = editor_.document().car();
  const auto [a, b] = endsOf(car, *r);
  QPointF from = toScreen(a);
  QPointF to = toScreen(b);
  p.setPen(QPen(t.kite, 2.5));
  p.setBrush(t.kite);
  const QPointF along = to - from;
  const double length = std::hypot(along.x(), along.y());
  QPointF textAt = 0.5 * (from + to) + QPointF(0, r->kind == ReadingKind::height ? 0.0 : -20.0);
  if (length < 4.0) {
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(from, 12, 12);  // the dimension points at the eye
  } else {
    const QPointF u = along / length;
    const QPointF n(-u.y(), u.x());
    if (r->kind != ReadingKind::height) {
      // The caliper as it is laid: its jaws over the cups, or between them, and its beam above.
      const QPointF outward = u * (0.5 * editor_.shownOffset() * scale_);
      from -= outward;
      to += outward;
      const QPointF up = n.y() > 0.0 ? -n : n;
      p.setPen(QPen(t.kite, 3.5, Qt::SolidLine, Qt::FlatCap));
      for (const QPointF& jaw : {from, to}) p.drawLine(jaw - up * jawBelowPx, jaw + up * jawPx);
      p.drawLine(from + up * jawPx, to + up * jawPx);
      p.setPen(QPen(t.kite, 2.5));
      textAt = 0.5 * (from + to) + up * (jawPx + 18.0);
    }
    p.drawLine(from, to);
    for (const auto& [tip, way] : {std::pair(from, 1.0), std::pair(to, -1.0)}) {
      const QPointF arrow[3] = {tip, tip + u * (way * 10) + n * 4, tip + u * (way * 10) - n * 4};
      p.drawPolygon(arrow, 3);
    }
  }
  const auto read = editor_.readingAt(*r);
  const QString text = read ? tr("read %1 mm").arg(number(*read + editor_.shownOffset(), 2))
                            : tr("%1 mm?").arg(number(expected_reading(car, *r) + editor_.shownOffset(), 1));
  p.setFont(figureFont(16, true));
  const QFontMetrics metrics(p.font());
  QRectF box(0, 0, metrics.horizontalAdvance(text) + 14, 26);
  box.moveCenter(textAt);
  if (r->kind == ReadingKind::height) box.moveLeft(std::max(from.x(), to.x()) + 14.0);  // beside the arrow
  box.moveLeft(std::clamp(box.left(), 4.0, std::max(4.0, width() - box.width() - 4.0)));
  box.moveTop(std::clamp(box.top(), 4.0, std::max(4.0, height() - box.height() - 30.0)));
  p.setPen(Qt::NoPen);
  p.setBrush(faint(palette().color(QPalette::Base), 0.92));
  p.drawRoundedRect(box, 4, 4);
  p.setPen(t.kite);
  p.drawText(box, Qt::AlignCenter, text);
}

QPainterPath PointsView::outline(const DrawnBody& b) const {
  const bool right = editor_.side() == Side::right;
  const QPointF from = toScreen(right ? mirrored(b.from) : b.from), to = toScreen(right ? mirrored(b.to) : b.to);
  QPainterPath line(from);
  line.lineTo(to == from ? to + QPointF(0.01, 0.0) : to);
  QPainterPathStroker stroker;
  stroker.setWidth(std::max(3.0, 2.0 * b.radius_mm * scale_));
  stroker.setCapStyle(Qt::RoundCap);
  return stroker.createStroke(line);
}

bool PointsView::looksAt(const FoundAt& part) const {
  if (editor_.group() == CarEditor::Group::steering) return part.steering;
  return !part.steering && part.end == (editor_.group() == CarEditor::Group::front ? End::front : End::rear);
}

std::vector<int> PointsView::partsAt(const QPointF& where) const {
  std::vector<int> at_a_point, along;
  const auto near_point = [&](const PointRef& ref) {
    const QPointF d = toScreen(editor_.place(ref, ref.steering ? Side::left : editor_.side())) - where;
    return std::hypot(d.x(), d.y()) < reachPx;
  };
  const auto under = [&](const DrawnBody& b) { return outline(b).contains(where); };
  const auto& parts = editor_.pickable();
  for (std::size_t i = 0; i < parts.size(); ++i) {
    const FoundAt& f = parts[i];
    if (!looksAt(f)) continue;
    if (std::any_of(f.points.begin(), f.points.end(), near_point))
      at_a_point.push_back(static_cast<int>(i));
    else if (std::any_of(f.lines.begin(), f.lines.end(), under) || std::any_of(f.bodies.begin(), f.bodies.end(), under))
      along.push_back(static_cast<int>(i));
  }
  // A ball is a finer aim than the link that it ends.
  at_a_point.insert(at_a_point.end(), along.begin(), along.end());
  return at_a_point;
}

void PointsView::paintPickable(QPainter& p) const {
  const Tokens& t = tokens(palette());
  p.setPen(QPen(faint(t.soft, 0.8), 1.0, Qt::DotLine));
  p.setBrush(Qt::NoBrush);
  for (const FoundAt& f : editor_.pickable())
    if (looksAt(f))
      for (const DrawnBody& b : f.bodies) p.drawPath(outline(b));
}

void PointsView::paintBodies(QPainter& p) const {
  const Tokens& t = tokens(palette());
  for (const DrawnBody& b : editor_.bodies()) {
    if (editor_.group() != (b.end == End::front ? CarEditor::Group::front : CarEditor::Group::rear)) continue;
    const bool right = editor_.side() == Side::right;
    const QPointF from = toScreen(right ? mirrored(b.from) : b.from), to = toScreen(right ? mirrored(b.to) : b.to);
    p.setPen(QPen(t.kite, 2.0));
    p.setBrush(faint(t.kite, 0.15));
    p.drawPath(outline(b));
    p.setFont(textFont(labelSize, true));
    const QString text = fromCore(b.name);
    QRectF box(0, 0, QFontMetrics(p.font()).horizontalAdvance(text) + 8, 16);
    box.moveCenter(0.5 * (from + to) + QPointF(0.0, &b == &editor_.bodies().front() ? -16.0 : 16.0));
    box.moveLeft(std::clamp(box.left(), 4.0, std::max(4.0, width() - box.width() - 4.0)));
    p.fillRect(box, faint(palette().color(QPalette::Base), 0.85));
    p.drawText(box, Qt::AlignCenter, text);
  }
  p.setBrush(Qt::NoBrush);
}

void PointsView::paintSpots(QPainter& p) const {
  constexpr double tick = 5.0, high = 15.0, legible = 60.0, lens = 96.0;
  const Tokens& t = tokens(palette());
  struct Cross {
    QPointF at;
    QString label;
    bool kit;
  };
  std::vector<Cross> named;  // of the part's first point; its others go along
  const auto cross = [&](const QPointF& at, bool kit) {
    p.setPen(QPen(t.kite, kit ? 3.0 : 2.0));
    p.drawLine(at + QPointF(-tick, -tick), at + QPointF(tick, tick));
    p.drawLine(at + QPointF(-tick, tick), at + QPointF(tick, -tick));
  };
  const auto& spots = editor_.spots();
  for (const PartSpot& s : spots) {
    if (s.ref.steering != (editor_.group() == CarEditor::Group::steering)) continue;
    if (!s.ref.steering && s.ref.end != (editor_.group() == CarEditor::Group::front ? End::front : End::rear)) continue;
    const QPointF at = toScreen(editor_.side() == Side::right && !s.ref.steering ? mirrored(s.mm) : s.mm);
    if (s.named || s.ref == spots.front().ref)
      named.push_back({at, QString::fromStdString(s.label), s.kit});
    else
      cross(at, s.kit);
  }
  if (named.empty()) return;
  QRectF all(named.front().at, QSizeF(1e-6, 1e-6));
  for (const Cross& c : named) all = all.united(QRectF(c.at, QSizeF(1e-6, 1e-6)));
  const double spread = std::max(all.width(), all.height());
  // Tenths of a millimetre are seen under a lens, away from the place.
  const double grows = spread > 0.5 && spread < legible ? std::floor(1.15 * lens / spread) : 1.0;
  QPointF middle = all.center();
  if (grows > 1.0) {
    middle = QPointF(all.center().x() < 0.5 * width() ? lens + 16.0 : width() - lens - 16.0, lens + 34.0);
    for (const Cross& c : named) cross(c.at, c.kit);
    p.setPen(QPen(t.kite, 1.0));
    const QPointF way = middle - all.center();
    p.drawLine(all.center(), middle - way / std::hypot(way.x(), way.y()) * lens);
    p.setBrush(palette().color(QPalette::Base));
    p.drawEllipse(middle, lens, lens);
    p.setBrush(Qt::NoBrush);
    p.setFont(textFont(labelSize));
    p.drawText(QRectF(middle.x() - lens, middle.y() + lens - 22.0, 2 * lens, 16), Qt::AlignCenter,
               tr("%1 times").arg(number(grows, 0)));
  }
  std::vector<QRectF> taken;
  p.setFont(textFont(labelSize, true));
  const QFontMetrics metrics(p.font());
  for (const Cross& c : named) {
    const QPointF at = middle + (c.at - all.center()) * grows;
    cross(at, c.kit);
    QRectF box(0, 0, metrics.horizontalAdvance(c.label) + 6, high);
    box.moveCenter(at + QPointF(0.5 * box.width() + 8.0, -9.0));
    // What would lie over a name that is there keeps its cross.
    if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& other) { return other.intersects(box); })) continue;
    taken.push_back(box);
    p.fillRect(box, faint(palette().color(QPalette::Base), 0.8));
    p.setPen(t.kite);
    p.drawText(box, Qt::AlignCenter, c.label);
  }
}

std::optional<PointRef> PointsView::pointNear(const QPointF& where) const {
  std::optional<PointRef> best;
  double nearest = reachPx;
  for (const PointRef& ref : editor_.points()) {
    const QPointF d = toScreen(editor_.place(ref, editor_.side())) - where;
    // Several points may lie behind each other: clicking again takes the next one.
    const double distance = std::hypot(d.x(), d.y()) + (editor_.point() == ref && !dragFrom_ ? 4.0 : 0.0);
    if (distance >= nearest) continue;
    nearest = distance;
    best = ref;
  }
  return best;
}

void PointsView::mousePressEvent(QMouseEvent* event) {
  setFocus(Qt::MouseFocusReason);
  const auto near = pointNear(event->position());
  editor_.setPoint(near);
  if (const auto parts = partsAt(event->position()); !parts.empty()) Q_EMIT editor_.partsClicked(parts);
  if (!near) return;
  dragFrom_ = event->position();
  dragged_ = editor_.place(*near, editor_.side());
  moved_ = false;
}

void PointsView::mouseMoveEvent(QMouseEvent* event) {
  if (!dragFrom_) {
    const bool found = pointNear(event->position()) || !partsAt(event->position()).empty();
    setCursor(found ? Qt::PointingHandCursor : Qt::ArrowCursor);
    return;
  }
  const QPointF by = event->position() - *dragFrom_;
  if (!editor_.point() || (!moved_ && std::hypot(by.x(), by.y()) < 4.0)) return;  // a click is no drag
  moved_ = true;
  Vec3 to = movedBy(dragged_, by);
  for (int i = 0; i < 3; ++i)
    if (to[i] != dragged_[i]) to[i] = rounded(to[i]);
  editor_.movePoint(*editor_.point(), to, true);
}

void PointsView::mouseReleaseEvent(QMouseEvent*) {
  dragFrom_.reset();
  if (moved_) {
    moved_ = false;
    rescale();
    update();
  }
}

void PointsView::nudge(const QPointF& mm) {
  if (!editor_.point()) return;
  const Vec3 here = editor_.place(*editor_.point(), editor_.side());
  editor_.movePoint(*editor_.point(), movedBy(here, QPointF(mm.x() * scale_, -mm.y() * scale_)), true);
}

void PointsView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 1.0 : nudge_mm;
  switch (event->key()) {
    case Qt::Key_Left:
      return nudge({-step, 0});
    case Qt::Key_Right:
      return nudge({step, 0});
    case Qt::Key_Up:
      return nudge({0, step});
    case Qt::Key_Down:
      return nudge({0, -step});
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace lowkite::app
