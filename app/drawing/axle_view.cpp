#include "app/drawing/axle_view.h"

#include <algorithm>
#include <cmath>

#include <QPainter>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
AxleView::AxleView(PlanModel& model, QWidget* parent) : DrawingView(model, QStringLiteral("axleView"), parent) {
  setAccessibleName(tr("Front view of the axle"));
  connect(&model_, &PlanModel::comparisonChanged, this, &AxleView::rebuild);
  connect(&model_, &PlanModel::selectionChanged, this, &AxleView::rebuild);
  connect(&model_, &PlanModel::constructionChanged, this, [this] { update(); });
  connect(&model_, &PlanModel::forcesChanged, this, [this] { update(); });
  connect(&model_, &PlanModel::precisionChanged, this, [this] { update(); });
}

void AxleView::setZoom(Zoom zoom) {
  zoom_ = zoom;
  fit();
}

void AxleView::rebuild() {
  stale_ = !isVisible();
  if (!stale_) build();
}

void AxleView::build() {
  stale_ = false;
  const Comparison* c = model_.comparison();
  if (!c || !model_.document().hasCar()) {
    now_.reset();
    ghost_.reset();
    update();
    return;
  }
  const Car& car = *c->changed->model.car;
  now_ = axleSceneOf(car, *c->changed, carSceneOf(car, *c->changed), model_.end());
  ghost_.reset();
  if (c->baseline->setup != c->changed->setup)
    ghost_ = axleSceneOf(car, *c->baseline, carSceneOf(car, *c->baseline), model_.end());
  rescale();
}

void AxleView::rescale() {
  if (now_) {
    const QRectF own = room();
    const double margin = 26.0;
    const double below = 52.0;  // room for toe and ride height under the ground
    const double above = 34.0;
    const bool corner = zoom_ == Zoom::leftCorner || zoom_ == Zoom::rightCorner;
    const double halfSpan = corner ? 0.42 * now_->halfWidth : now_->halfWidth;
    const double high = corner ? 1.04 * now_->side[0].tyre.boundingRect().bottom() : now_->top;
    const double scale = std::min((own.width() - 2 * margin) / (2 * halfSpan), (own.height() - below - above) / high);
    const double middle = corner ? (zoom_ == Zoom::leftCorner ? 0.62 : -0.62) * now_->halfWidth : 0.0;
    QPointF origin(own.center().x() + middle * scale, own.bottom() - below);
    if (!corner) origin.ry() = std::min(origin.y(), own.center().y() + 0.5 * (high * scale + above - below) + 8.0);
    placeAt(scale, origin);
  }
  update();
}

QPointF AxleView::toScreen(const FrontPlace& place) const {
  // Seen from behind: what lies to the left of the car is on the left of the picture.
  return origin_ + QPointF(-place.x() * scale_, -place.y() * scale_);
}

void AxleView::resizeEvent(QResizeEvent*) {
  rescale();
}

void AxleView::showEvent(QShowEvent* event) {
  DrawingView::showEvent(event);
  if (stale_) rebuild();
}

void AxleView::paintOn(QPainter& p) {
  // On paper without ever having been on the screen.
  if (stale_) build();
  if (!paintPaper(p, now_.has_value())) return;
  keepFree(scaleBar(scale_).box);
  paintGround(p);
  if (ghost_) paintGhost(p);
  p.setOpacity(0.35);  // it stands behind the axle and must not hide it
  paintStrokes(p, now_->steering);
  p.setOpacity(1.0);
  for (const Side side : both_sides) paintSide(p, now_->side[at(side)]);
  if (model_.constructionStep() >= 0) paintConstruction(p);
  for (const Side side : both_sides) paintShims(p, now_->side[at(side)]);
  paintLozenges(p);
  paintLabels(p);
  paintRollCentre(p);
  paintGravity(p);
  paintForces(p);
  for (const SceneSide& s : now_->side)
    for (const SceneLimit& l : s.limits) paintLimit(p, toScreen({l.at.y(), l.at.z()}), l);
  paintSides(p);
  // Last: of all that is written it is missed least.
  paintCaption(p);
  paintScaleBar(p, scale_);
}

void AxleView::paintGround(QPainter& p) const {
  const Tokens& t = tokens(palette());
  p.setPen(QPen(t.ink, 1.5));
  drawWithin(p, QPointF(0, origin_.y()), QPointF(width(), origin_.y()));
  p.setPen(QPen(t.line, 1.0, Qt::DashDotLine));
  drawWithin(p, QPointF(origin_.x(), room().top()), QPointF(origin_.x(), origin_.y()));
  QPolygonF bulkhead;
  for (const QPointF& q : now_->bulkhead) bulkhead << toScreen(q);
  p.setPen(Qt::NoPen);
  p.setBrush(faint(t.ink, 0.05));
  p.drawPolygon(bulkhead);
  QPolygonF plate;
  for (const QPointF& q : now_->plate) plate << toScreen(q);
  p.setPen(QPen(t.ink, 1.0));
  p.setBrush(t.ink);
  p.drawPolygon(plate);
}

void AxleView::paintSide(QPainter& p, const SceneSide& s) const {
  const Tokens& t = tokens(palette());
  paintTyre(p, s);
  QPolygonF hub;
  for (const QPointF& q : s.hub) hub << toScreen(q);
  p.setPen(QPen(faint(t.ink, 0.5), 1.0));
  p.setBrush(faint(t.ink, 0.08));
  p.drawPolygon(hub);
  paintStrokes(p, s.strokes);
  for (const SceneHandle& h : s.handles)
    if (!h.ball) paintHexagon(p, toScreen(h.at), toScreen(h.at + h.along) - toScreen(h.at), t, scale_);
  if (s.cup)
    paintCup(
        p, *s.cup,
        [this](const Vec3& v) {
          return toScreen({v.y(), v.z()});
        },
        scale_, t);
  p.setPen(QPen(t.ink, 1.5));
  p.setBrush(palette().color(QPalette::Base));
  for (const FrontPlace& ball : s.balls) p.drawEllipse(toScreen(ball), px(ballRadius_mm), px(ballRadius_mm));
}

void AxleView::paintTyre(QPainter& p, const SceneSide& s) const {
  const Tokens& t = tokens(palette());
  // Corners: outer top, outer bottom, inner bottom, inner top of the section in the wheel's own axes.
  const auto in = [&](double across, double up) {
    const QPointF top = s.tyre[0] + (s.tyre[3] - s.tyre[0]) * across;
    const QPointF bottom = s.tyre[1] + (s.tyre[2] - s.tyre[1]) * across;
    return toScreen(bottom + (top - bottom) * up);
  };
  // The edge of the tread is round: by the crown where the car file tells it, else a little.
  const QPointF wide = toScreen(s.tyre[3]) - toScreen(s.tyre[0]);
  const QPointF high = toScreen(s.tyre[0]) - toScreen(s.tyre[1]);
  const double w = std::hypot(wide.x(), wide.y());
  const double h = std::hypot(high.x(), high.y());
  const double shoulder = std::min(0.12, 0.22 * w / std::max(1.0, h));
  QPainterPath outline(in(0.0, shoulder));
  outline.lineTo(in(0.0, 1.0 - shoulder));
  outline.quadTo(in(0.0, 1.0), in(0.18, 1.0));
  outline.lineTo(in(0.82, 1.0));
  outline.quadTo(in(1.0, 1.0), in(1.0, 1.0 - shoulder));
  outline.lineTo(in(1.0, shoulder));
  outline.quadTo(in(1.0, 0.0), in(0.82, 0.0));
  outline.lineTo(in(0.18, 0.0));
  outline.quadTo(in(0.0, 0.0), in(0.0, shoulder));
  p.setPen(QPen(t.ink, 1.5));
  p.setBrush(faint(t.ink, 0.16));
  p.drawPath(outline);
  // The rim inside it; where it ends no car file tells, so it is quiet.
  QPolygonF rim;
  rim << in(0.06, 0.2) << in(0.06, 0.8) << in(0.94, 0.8) << in(0.94, 0.2);
  p.setPen(Qt::NoPen);
  p.setBrush(faint(palette().color(QPalette::Base), 0.6));
  p.drawPolygon(rim);
  p.setPen(QPen(faint(t.ink, 0.35), 1.0));
  for (const double up : {0.2, 0.8}) drawWithin(p, in(0.0, up), in(1.0, up));
}

void AxleView::paintStrokes(QPainter& p, const std::vector<SceneStroke>& strokes) const {
  const Tokens& t = tokens(palette());
  // What stands behind comes first: shocks and shafts, then arms, then links.
  const auto depth = [](Stroke s) {
    return s == Stroke::shock || s == Stroke::shaft ? 0 : s == Stroke::arm || s == Stroke::crank ? 1 : 2;
  };
  for (int d = 0; d < 3; ++d)
    for (const SceneStroke& stroke : strokes)
      if (depth(stroke.stroke) == d) paintPart(p, toScreen(stroke.from), toScreen(stroke.to), stroke.stroke, t, scale_);
}

void AxleView::paintShims(QPainter& p, const SceneSide& s) const {
  const Tokens& t = tokens(palette());
  constexpr double discRadius_mm = 2.6;
  for (const SceneShims& stack : s.shims) {
    const bool changed = model_.partChanged(stack.adjuster);
    const QPointF across(-stack.direction.y(), stack.direction.x());
    double from = 0.0;
    for (const double thick : stack.discs_mm) {
      const auto corner = [&](double along, double side) {
        return toScreen(stack.foot + stack.direction * along + across * (side * discRadius_mm));
      };
      QPolygonF disc;
      disc << corner(from, -1) << corner(from, 1) << corner(from + thick, 1) << corner(from + thick, -1);
      p.setPen(QPen(palette().color(QPalette::Base), 0.75));
      p.setBrush(changed ? t.kite : t.soft);
      p.drawPolygon(disc);
      from += thick;
    }
  }
}

void AxleView::paintGhost(QPainter& p) const {
  const Tokens& t = tokens(palette());
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.base, 1.0, Qt::DashLine));
  for (const SceneSide& s : ghost_->side) {
    QPolygonF tyre;
    for (const QPointF& q : s.tyre) tyre << toScreen(q);
    p.drawPolygon(tyre);
    for (const SceneStroke& stroke : s.strokes)
      if (stroke.stroke == Stroke::arm || stroke.stroke == Stroke::link)
        drawWithin(p, toScreen(stroke.from), toScreen(stroke.to));
    for (const FrontPlace& ball : s.balls) p.drawEllipse(toScreen(ball), px(ballRadius_mm), px(ballRadius_mm));
  }
  if (ghost_->rollCentreMoving) {
    const FrontPoint& rc = *ghost_->rollCentreMoving;
    p.drawPath(lozenge(toScreen({rc.across, rc.height}), 7.0));
  }
}

/// The lines of the flat drawing of one wheel: along both links to the instant centre, and from there to the tyre.
void AxleView::drawConstruction(QPainter& p, const WheelConstruction& c, const std::function<QPen(int)>& pen) const {
  const auto place = [&](const FrontPoint& f) { return toScreen({f.across, f.height}); };
  // Lines run far beyond the picture; clipping ends them at its edge.
  const auto ray = [&](const FrontPoint& from, const FrontPoint& through) {
    const QPointF a = place(from);
    const QPointF d = place(through) - a;
    const double length = std::hypot(d.x(), d.y());
    if (length < 1e-9) return;
    drawWithin(p, a, a + d * (4000.0 / length));
  };
  p.setBrush(Qt::NoBrush);
  p.setPen(pen(1));
  ray(c.lower_outer, c.lower_inner);
  p.setPen(pen(2));
  ray(c.upper_outer, c.upper_inner);
  p.setPen(pen(4));
  if (c.instant_centre)
    drawWithin(p, place(c.contact), place(*c.instant_centre));
  else
    ray(c.contact, {c.contact.across + c.lower_inner.across - c.lower_outer.across,
                    c.contact.height + c.lower_inner.height - c.lower_outer.height});
}

void AxleView::paintConstruction(QPainter& p) {
  const Tokens& t = tokens(palette());
  const Side shown = model_.shownSide();
  const WheelConstruction& c = now_->side[at(shown)].construction;
  const WheelConstruction& other = now_->side[at(shown == Side::left ? Side::right : Side::left)].construction;
  const int lit = model_.constructionStep();
  const auto place = [&](const FrontPoint& f) { return toScreen({f.across, f.height}); };
  const auto pen = [&](int step) { return QPen(lit == step ? t.kite : t.ink, lit == step ? 2.5 : 1.0); };
  const auto mark = [&](int step, const QPointF& at) {
    const QRectF box(at.x() - 9, at.y() - 9, 18, 18);
    p.setPen(pen(step));
    p.setBrush(lit == step ? t.kite : palette().color(QPalette::Base));
    p.drawEllipse(box);
    p.setPen(lit == step ? t.paper : t.ink);
    p.setFont(figureFont(labelSize, true));
    p.drawText(box, Qt::AlignCenter, QString::number(step));
    keepFree(box);
  };
  // The baseline's construction beside the new one.
  if (ghost_ && ghost_->rollCentre) {
    drawConstruction(p, ghost_->side[at(shown)].construction, [&](int) { return QPen(t.base, 1.0, Qt::DashLine); });
    p.setPen(QPen(t.base, 1.0, Qt::DashLine));
    const WheelConstruction& was = ghost_->side[at(shown == Side::left ? Side::right : Side::left)].construction;
    if (was.instant_centre) drawWithin(p, place(was.contact), place(*was.instant_centre));
    p.drawEllipse(place(*ghost_->rollCentre), 6, 6);
  }
  drawConstruction(p, c, pen);
  p.setPen(pen(5));
  if (other.instant_centre) drawWithin(p, place(other.contact), place(*other.instant_centre));
  const auto between = [](const FrontPoint& a, const FrontPoint& b, double f) {
    return FrontPoint{a.across + f * (b.across - a.across), a.height + f * (b.height - a.height)};
  };
  mark(1, place(between(c.lower_outer, c.lower_inner, 0.45)) + QPointF(0, 13));
  mark(2, place(between(c.upper_outer, c.upper_inner, 0.45)) + QPointF(0, -14));
  if (c.instant_centre) {
    const QPointF at = place(*c.instant_centre);
    if (room().adjusted(12, 12, -12, -12).contains(at)) {
      mark(3, at);
    } else {
      const QPointF spot = pointOutside(
          p, at, tr("instant centre %1 mm away").arg(number(std::abs(c.contact.across - c.instant_centre->across), 0)),
          lit == 3 ? t.kite : t.ink);
      mark(3, spot);
    }
  }
  mark(4, place({c.contact.across, c.contact.height}) + QPointF(0, -14));
  mark(5, place({other.contact.across, other.contact.height}) + QPointF(0, -14));
  if (now_->rollCentre) {
    p.setPen(pen(6));
    p.setBrush(lit == 6 ? QBrush(t.kite) : Qt::NoBrush);
    const QPointF at = place(*now_->rollCentre);
    if (room().contains(at)) {
      p.drawEllipse(at, 6, 6);
      mark(6, at + QPointF(-18, -18));
    } else {
      mark(6, pointOutside(p, at, tr("drawn roll centre %1 mm up").arg(number(now_->rollCentre->height, 1)), t.ink));
    }
  }
}

QPointF AxleView::pointOutside(QPainter& p, const QPointF& at, const QString& text, const QColor& colour) {
  const QRectF inner = room().adjusted(16, 30, -16, -30);
  const QPointF middle = inner.center();
  const QPointF way = at - middle;
  // Where the line from the middle leaves the picture.
  const double x = std::abs(way.x()) > 1e-9 ? 0.5 * inner.width() / std::abs(way.x()) : 1e9;
  const double y = std::abs(way.y()) > 1e-9 ? 0.5 * inner.height() / std::abs(way.y()) : 1e9;
  const QPointF tip = middle + way * std::min({x, y, 1.0});
  const double length = std::max(1e-9, std::hypot(way.x(), way.y()));
  paintArrow(p, tip - way / length * 24.0, tip, colour);
  keepFree(QRectF(tip.x() - 10, tip.y() - 10, 20, 20));
  write(p, text, tip - way / length * 30.0 + QPointF(0, -18), {textFont(labelSize), colour});
  return tip - way / length * 34.0;
}

void AxleView::paintRollCentre(QPainter& p) {
  const Tokens& t = tokens(palette());
  // Of a solid axle no roll centre is asked.
  if (!model_.document().car().axle(model_.end()).mechanism->independent) return;
  const QFont bold = figureFont(textSize, true);
  const QPointF under(origin_.x(), origin_.y() + 17.0);
  if (!now_->rollCentreMoving) {
    write(p, tr("roll centre at infinity"), under, {bold, t.soft});
    return;
  }
  const FrontPoint& rc = *now_->rollCentreMoving;
  const FigureSpec& figure = *find_figure("roll_centre");
  const bool hasMoved = ghost_ && ghost_->rollCentreMoving &&
                        moved(figure, ghost_->rollCentreMoving->height, rc.height, model_.extraDecimals());
  const QColor colour = hasMoved ? t.kite : t.ink;
  const QPointF at = toScreen({rc.across, rc.height});
  const QString value = number(rc.height, figure.decimals + model_.extraDecimals());
  const QString text = (hasMoved ? QStringLiteral("\u25C6 ") : QString()) + tr("roll centre %1 mm").arg(value);
  if (!room().contains(at)) {
    if (model_.constructionStep() < 0) pointOutside(p, at, text, colour);
    return;
  }
  p.setPen(QPen(colour, 2.0));
  p.setBrush(palette().color(QPalette::Base));
  p.drawPath(lozenge(at, 7.0));
  p.setBrush(colour);
  p.drawEllipse(at, 2.0, 2.0);
  keepFree(QRectF(at.x() - 7, at.y() - 7, 14, 14));
  write(p, text, {at.x(), under.y()}, {bold, colour, true});  // it stands among the figures, too
}

void AxleView::paintGravity(QPainter& p) {
  if (!now_->gravityHeight) return;
  const Tokens& t = tokens(palette());
  if (ghost_ && ghost_->gravityHeight && std::abs(*ghost_->gravityHeight - *now_->gravityHeight) > 0.05)
    paintGravitySign(p, toScreen({0.0, *ghost_->gravityHeight}), t.base);
  const QPointF cg = toScreen({0.0, *now_->gravityHeight});
  paintGravitySign(p, cg, t.ink);
  keepFree(QRectF(cg.x() - 7, cg.y() - 7, 14, 14));
  if (!now_->lever) return;
  const bool differs = ghost_ && ghost_->lever && number(*ghost_->lever, 1) != number(*now_->lever, 1);
  const QString text = differs ? tr("\u25C6 centre of gravity %1 mm over the roll axis, was %2")
                                     .arg(number(*now_->lever, 1), number(*ghost_->lever, 1))
                               : tr("centre of gravity %1 mm over the roll axis").arg(number(*now_->lever, 1));
  // Over the car, where it lies on nothing.
  const QPointF over(cg.x(), toScreen({0.0, now_->top}).y() - 12.0);
  p.setPen(QPen(faint(t.soft, 0.6), 1.0, Qt::DotLine));
  drawWithin(p, cg + QPointF(0.0, -8.0), over + QPointF(0.0, 9.0));
  write(p, text, over, {textFont(labelSize), differs ? t.kite : t.soft, true});
}

void AxleView::paintForces(QPainter& p) {
  const auto* forces = model_.forces();
  if (!forces) return;
  const Tokens& t = tokens(palette());
  for (const Side side : both_sides) {
    const GroundForce& f = (*forces)[at(model_.end())][at(side)];
    const FrontPoint& c = now_->side[at(side)].construction.contact;
    const QPointF foot = toScreen({c.across, c.height});
    const QPointF up = toScreen({c.across, c.height + mmPerNewton * f.z()});
    paintArrow(p, foot, up, t.good);
    paintArrow(p, foot, toScreen({c.across + mmPerNewton * f.y(), c.height}), t.good);
    const Pen pen{figureFont(labelSize, true), t.good};
    write(p, tr("%1 N").arg(number(f.z(), 1)), 0.5 * (foot + up) + QPointF(28.0, 0.0), pen);
    if (std::abs(f.y()) > 0.05)
      write(p, tr("%1 N aside").arg(number(std::abs(f.y()), 1)), foot + QPointF(40.0, -12.0), pen);
  }
}

QRectF AxleView::tyreOnScreen(Side side) const {
  QPolygonF q;
  for (const QPointF& corner : now_->side[at(side)].tyre) q << toScreen(corner);
  return q.boundingRect();
}

QRectF AxleView::placeOfFigure(std::string_view figure, Side side) const {
  for (const Written& w : written())
    if (w.figure == figure && w.side == side) return w.box;
  return {};
}

void AxleView::paintLabels(QPainter& p) {
  const Tokens& t = tokens(palette());
  const Comparison& c = *model_.comparison();
  const FigureSpec& camber = *find_figure("camber");
  const FigureSpec& toe = *find_figure("toe");
  const int extra = model_.extraDecimals();
  for (const Side side : both_sides) {
    const QRectF tyre = tyreOnScreen(side);
    if (!tyre.intersects(room())) continue;
    const auto tell = [&](const FigureSpec& f, const QString& what, const QPointF& place) {
      const auto read = [&](const Variant& v) { return f.read(v.source, model_.end(), side); };
      const bool differs = moved(f, read(*c.baseline), read(*c.changed), extra);
      const QString text = (differs ? QStringLiteral("\u25C6 ") : QString()) + what + QLatin1Char(' ') +
                           figureWithUnit(f, read(*c.changed), extra);
      write(p, text, place, {figureFont(textSize, true), differs ? t.kite : t.ink, false, f.id, side});
    };
    tell(camber, tr("camber"), {tyre.center().x(), tyre.top() - 13.0});
    tell(toe, tr("toe"), {tyre.center().x(), origin_.y() + 17.0});
  }
}

void AxleView::paintCaption(QPainter& p) {
  const Tokens& t = tokens(palette());
  const QFont small = textFont(labelSize);
  const QRectF own = room();
  const QString attitude =
      model_.attitude() == ViewAttitude{}
          ? tr("%1 axle from behind, at ride height").arg(model_.end() == End::front ? tr("Front") : tr("Rear"))
          : tr("%1 axle from behind, bump %2 mm, roll %3 deg")
                .arg(model_.end() == End::front ? tr("Front") : tr("Rear"), signedNumber(model_.attitude().bump_mm, 1),
                     signedNumber(degrees(model_.attitude().roll_rad), 1));
  const QFontMetricsF metrics(small);
  // On a low stage there is room for them only across the wheels; the rulers tell the attitude, too.
  for (const Side side : both_sides) keepFree(tyreOnScreen(side));
  write(p, attitude, {own.left() + 0.5 * metrics.horizontalAdvance(attitude) + 6.0, own.top() + 8.0},
        {small, t.soft, true});
  if (ghost_) write(p, tr("\u25C7 dashed: baseline"), {own.right() - 70.0, own.top() + 8.0}, {small, t.base, true});
}

void AxleView::paintSides(QPainter& p) {
  for (const Side side : both_sides) {
    const QRectF tyre = tyreOnScreen(side);
    if (tyre.intersects(room()))
      write(p, side == Side::left ? tr("LEFT") : tr("RIGHT"), {tyre.center().x(), origin_.y() + 36.0},
            {textFont(labelSize), tokens(palette()).soft, true});
  }
}

std::vector<DrawingView::GripOnScreen> AxleView::grips() const {
  std::vector<GripOnScreen> all;
  if (!now_) return all;
  const double radius = px(ballRadius_mm);
  for (const Side side : both_sides)
    for (const SceneHandle& h : now_->side[at(side)].handles)
      all.push_back({h.adjuster, side, false, toScreen(h.at), radius});
  for (const SceneHandle& h : now_->steeringHandles)
    all.push_back({h.adjuster, Side::left, true, toScreen(h.at), radius});
  return all;
}

void AxleView::dragged(const QPointF& px) {
  if (!now_) return;
  model_.nudge({.bump_mm = px.y() / scale_, .roll_rad = px.x() / scale_ / now_->halfWidth});
}

}  // namespace lowkite::app
