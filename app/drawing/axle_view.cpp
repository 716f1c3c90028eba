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
  rescale();
}

void AxleView::rebuild() {
  stale_ = !isVisible();
  if (stale_) return;
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
    const double margin = 26.0;
    const double below = 52.0;  // room for toe and ride height under the ground
    const double above = 34.0;
    const bool corner = zoom_ == Zoom::leftCorner || zoom_ == Zoom::rightCorner;
    const double halfSpan = corner ? 0.42 * now_->halfWidth : now_->halfWidth;
    const double high = corner ? 1.04 * now_->side[0].tyre.boundingRect().bottom() : now_->top;
    scale_ = std::min((width() - 2 * margin) / (2 * halfSpan), (height() - below - above) / high);
    const double middle = corner ? (zoom_ == Zoom::leftCorner ? 0.62 : -0.62) * now_->halfWidth : 0.0;
    origin_ = QPointF(width() / 2.0 + middle * scale_, height() - below);
    if (!corner) origin_.ry() = std::min(origin_.y(), height() / 2.0 + 0.5 * (high * scale_ + above - below) + 8.0);
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
  if (!paintPaper(p, now_.has_value())) return;
  paintGround(p);
  if (ghost_) paintGhost(p);
  p.setOpacity(0.35);  // it stands behind the axle and must not hide it
  paintStrokes(p, now_->steering);
  p.setOpacity(1.0);
  for (const Side side : both_sides) paintSide(p, now_->side[at(side)]);
  if (model_.constructionStep() >= 0) paintConstruction(p);
  for (const Side side : both_sides) paintShims(p, now_->side[at(side)]);
  paintLozenges(p);
  paintRollCentre(p);
  paintForces(p);
  paintLabels(p);
  paintScaleBar(p, scale_, narrow());
}

void AxleView::paintGround(QPainter& p) const {
  const Tokens& t = tokens(palette());
  p.setPen(QPen(t.ink, 1.5));
  p.drawLine(QPointF(0, origin_.y()), QPointF(width(), origin_.y()));
  p.setPen(QPen(t.line, 1.0, Qt::DashDotLine));
  p.drawLine(QPointF(origin_.x(), 22), QPointF(origin_.x(), origin_.y()));
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
  QPolygonF tyre;
  for (const QPointF& q : s.tyre) tyre << toScreen(q);
  p.setPen(QPen(t.ink, 1.5));
  p.setBrush(faint(t.ink, 0.10));
  p.drawPolygon(tyre);
  QPolygonF hub;
  for (const QPointF& q : s.hub) hub << toScreen(q);
  p.setPen(QPen(faint(t.ink, 0.5), 1.0));
  p.setBrush(faint(t.ink, 0.08));
  p.drawPolygon(hub);
  paintStrokes(p, s.strokes);
  p.setPen(QPen(t.ink, 1.5));
  p.setBrush(palette().color(QPalette::Base));
  for (const FrontPlace& ball : s.balls) p.drawEllipse(toScreen(ball), px(ballRadius_mm), px(ballRadius_mm));
}

void AxleView::paintStrokes(QPainter& p, const std::vector<SceneStroke>& strokes) const {
  const Tokens& t = tokens(palette());
  for (const SceneStroke& stroke : strokes) {
    const QPointF a = toScreen(stroke.from);
    const QPointF b = toScreen(stroke.to);
    if (stroke.stroke == Stroke::shock) {
      // Body above, shaft below: half and half, as no length of the body is asked for.
      const QPointF middle = 0.5 * (a + b);
      p.setPen(QPen(faint(t.soft, 0.35), std::max(3.0, px(4.0)), Qt::SolidLine, Qt::FlatCap));
      p.drawLine(a, middle);
      p.setPen(QPen(faint(t.soft, 0.6), std::max(1.0, px(1.0))));
      p.drawLine(middle, b);
      continue;
    }
    p.setPen(penOf(stroke.stroke, t, scale_));
    p.drawLine(a, b);
    if (stroke.stroke == Stroke::pin) {
      p.setBrush(palette().color(QPalette::Base));
      for (const QPointF& end : {a, b}) p.drawEllipse(end, std::max(2.5, px(1.5)), std::max(2.5, px(1.5)));
    }
  }
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
        p.drawLine(toScreen(stroke.from), toScreen(stroke.to));
    for (const FrontPlace& ball : s.balls) p.drawEllipse(toScreen(ball), px(ballRadius_mm), px(ballRadius_mm));
  }
  if (ghost_->rollCentreMoving) {
    const FrontPoint& rc = *ghost_->rollCentreMoving;
    p.drawPath(lozenge(toScreen({rc.across, rc.height}), 7.0));
  }
}

void AxleView::paintConstruction(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const Side shown = model_.shownSide();
  const WheelConstruction& c = now_->side[at(shown)].construction;
  const WheelConstruction& other = now_->side[at(shown == Side::left ? Side::right : Side::left)].construction;
  const int lit = model_.constructionStep();
  const auto place = [&](const FrontPoint& f) { return toScreen({f.across, f.height}); };
  const auto pen = [&](int step) { return QPen(lit == step ? t.kite : t.base, lit == step ? 2.5 : 1.0); };
  const auto mark = [&](int step, const QPointF& at) {
    const QRectF box(at.x() - 9, at.y() - 9, 18, 18);
    p.setPen(pen(step));
    p.setBrush(lit == step ? t.kite : palette().color(QPalette::Base));
    p.drawEllipse(box);
    p.setPen(lit == step ? t.paper : t.base);
    p.setFont(figureFont(labelSize, true));
    p.drawText(box, Qt::AlignCenter, QString::number(step));
  };
  // Lines run far beyond the picture; clipping ends them at its edge.
  const auto ray = [&](const FrontPoint& from, const FrontPoint& through) {
    const QPointF a = place(from);
    const QPointF d = place(through) - a;
    const double length = std::hypot(d.x(), d.y());
    if (length < 1e-9) return;
    p.drawLine(a, a + d * (4000.0 / length));
  };
  p.setBrush(Qt::NoBrush);
  p.setPen(pen(1));
  ray(c.lower_outer, c.lower_inner);
  p.setPen(pen(2));
  ray(c.upper_outer, c.upper_inner);
  if (c.instant_centre) {
    p.setPen(pen(4));
    p.drawLine(place(c.contact), place(*c.instant_centre));
  } else {
    p.setPen(pen(4));
    ray(c.contact, {c.contact.across + c.lower_inner.across - c.lower_outer.across,
                    c.contact.height + c.lower_inner.height - c.lower_outer.height});
  }
  p.setPen(pen(5));
  if (other.instant_centre) p.drawLine(place(other.contact), place(*other.instant_centre));
  const auto between = [](const FrontPoint& a, const FrontPoint& b, double f) {
    return FrontPoint{a.across + f * (b.across - a.across), a.height + f * (b.height - a.height)};
  };
  mark(1, place(between(c.lower_outer, c.lower_inner, 0.45)) + QPointF(0, 13));
  mark(2, place(between(c.upper_outer, c.upper_inner, 0.45)) + QPointF(0, -14));
  const double out = shown == Side::left ? 1.0 : -1.0;
  if (c.instant_centre) {
    QPointF at = place(*c.instant_centre);
    if (rect().adjusted(12, 12, -12, -12).contains(at.toPoint())) {
      mark(3, at);
    } else {
      // The instant centre lies outside the picture: say where.
      const double edge = out > 0 ? width() - 14.0 : 14.0;
      const bool inward = (c.contact.across - c.instant_centre->across) * out > 0;
      const QPointF spot(inward ? edge : width() - edge, std::clamp(at.y(), 60.0, origin_.y() - 46.0));
      mark(3, spot);
      p.setFont(textFont(labelSize));
      const QString far =
          tr("instant centre %1 mm away").arg(number(std::abs(c.contact.across - c.instant_centre->across), 0));
      const bool right = spot.x() > width() / 2.0;
      const double wide = p.fontMetrics().horizontalAdvance(far) + 8.0;
      const QRectF box(right ? spot.x() - 14 - wide : spot.x() + 14, spot.y() - 9, wide, 18);
      p.fillRect(box, palette().color(QPalette::Base));
      p.setPen(lit == 3 ? t.kite : t.base);
      p.drawText(box, Qt::AlignCenter, far);
    }
  }
  mark(4, place({c.contact.across, c.contact.height}) + QPointF(out * 0, -14));
  mark(5, place({other.contact.across, other.contact.height}) + QPointF(0, -14));
  if (now_->rollCentre) {
    p.setPen(pen(6));
    p.setBrush(lit == 6 ? QBrush(t.kite) : Qt::NoBrush);
    const QPointF at = place(*now_->rollCentre);
    p.drawEllipse(at, 6, 6);
    mark(6, at + QPointF(-18, -18));
  }
}

void AxleView::paintRollCentre(QPainter& p) const {
  const Tokens& t = tokens(palette());
  // Of a solid axle no roll centre is asked.
  if (!model_.document().car().axle(model_.end()).mechanism->independent) return;
  p.setFont(figureFont(textSize, true));
  if (!now_->rollCentreMoving) {
    p.setPen(t.soft);
    p.drawText(QRectF(origin_.x() - 120, origin_.y() + 8, 240, 18), Qt::AlignCenter, tr("roll centre at infinity"));
    return;
  }
  const FrontPoint& rc = *now_->rollCentreMoving;
  const FigureSpec& figure = *find_figure("roll_centre");
  const bool hasMoved = ghost_ && ghost_->rollCentreMoving &&
                        moved(figure, ghost_->rollCentreMoving->height, rc.height, model_.extraDecimals());
  const QColor colour = hasMoved ? t.kite : t.ink;
  const QPointF at = toScreen({rc.across, rc.height});
  if (at.x() < 0 || at.x() > width()) return;
  p.setPen(QPen(colour, 2.0));
  p.setBrush(palette().color(QPalette::Base));
  p.drawPath(lozenge(at, 7.0));
  p.setBrush(colour);
  p.drawEllipse(at, 2.0, 2.0);
  p.setPen(colour);
  const QString text = tr("%1roll centre %2 mm")
                           .arg(hasMoved ? QStringLiteral("\u25C6 ") : QString(),
                                number(rc.height, figure.decimals + model_.extraDecimals()));
  // Where the wheels stand close to each other on the paper, under the toes instead of between them.
  const double below = narrow() ? 27.0 : 8.0;
  p.drawText(QRectF(std::clamp(at.x() - 110, 4.0, width() - 224.0), origin_.y() + below, 220, 18), Qt::AlignCenter,
             text);
}

void AxleView::paintForces(QPainter& p) const {
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
    p.setFont(figureFont(labelSize, true));
    p.setPen(t.good);
    const auto write = [&](double y, const QString& text) {
      const double wide = p.fontMetrics().horizontalAdvance(text);
      const QPointF start(std::min(foot.x() + 6.0, width() - wide - 4.0), y);
      const double ascent = p.fontMetrics().ascent();
      // The tyre's outline would run through the figure.
      p.fillRect(QRectF(start.x() - 1.0, y - ascent + 2.0, wide + 2.0, ascent), palette().color(QPalette::Base));
      p.drawText(start, text);
    };
    // Beside a short arrow the figure goes up, clear of the one for the sideways force.
    const double clear = foot.y() - 5.0 - p.fontMetrics().ascent() - 2.0;
    write(std::min(0.5 * (foot.y() + up.y()) - 4.0, clear), tr("%1 N").arg(number(f.z(), 1)));
    if (std::abs(f.y()) > 0.05) write(foot.y() - 5.0, tr("%1 N aside").arg(number(std::abs(f.y()), 1)));
  }
}

QRectF AxleView::tyreOnScreen(Side side) const {
  QPolygonF q;
  for (const QPointF& corner : now_->side[at(side)].tyre) q << toScreen(corner);
  return q.boundingRect();
}

QRectF AxleView::placeOfFigure(std::string_view figure, Side side) const {
  if (!now_) return {};
  const QRectF tyre = tyreOnScreen(side);
  if (tyre.right() < 0 || tyre.left() > width()) return {};
  const double x = std::clamp(tyre.center().x() - 75, 4.0, width() - 154.0);
  if (figure == "camber") return {x, std::max(22.0, tyre.top() - 22), 150, 18};
  if (figure == "toe") return {x, origin_.y() + 8, 150, 18};
  return {};
}

std::string_view AxleView::figureAt(const QPointF& where) const {
  for (const std::string_view figure : {"camber", "toe"})
    for (const Side side : both_sides)
      if (placeOfFigure(figure, side).contains(where)) return figure;
  return {};
}

void AxleView::paintLabels(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const Comparison& c = *model_.comparison();
  const FigureSpec& camber = *find_figure("camber");
  const FigureSpec& toe = *find_figure("toe");
  const int extra = model_.extraDecimals();
  for (const Side side : both_sides) {
    const auto read = [&](const FigureSpec& f, const Variant& v) { return f.read(v.source, model_.end(), side); };
    const QRectF tyre = tyreOnScreen(side);
    if (tyre.right() < 0 || tyre.left() > width()) continue;
    const auto write = [&](const FigureSpec& f, const QString& what) {
      const bool differs = moved(f, read(f, *c.baseline), read(f, *c.changed), extra);
      p.setFont(figureFont(textSize, true));
      p.setPen(differs ? t.kite : t.ink);
      const QString text = (differs ? QStringLiteral("\u25C6 ") : QString()) + what + QLatin1Char(' ') +
                           figureWithUnit(f, read(f, *c.changed), extra);
      p.drawText(placeOfFigure(f.id, side), Qt::AlignCenter, text);
    };
    write(camber, tr("camber"));
    write(toe, tr("toe"));
    p.setFont(textFont(labelSize));
    p.setPen(t.soft);
    p.drawText(QRectF(std::clamp(tyre.center().x() - 75, 4.0, width() - 154.0), origin_.y() + 27, 150, 16),
               Qt::AlignCenter, side == Side::left ? tr("LEFT") : tr("RIGHT"));
  }
  p.setFont(textFont(labelSize));
  p.setPen(t.soft);
  const QString attitude =
      model_.attitude() == ViewAttitude{}
          ? tr("Front view from behind, at ride height")
          : tr("Front view from behind, bump %1 mm, roll %2 deg")
                .arg(signedNumber(model_.attitude().bump_mm, 1), signedNumber(degrees(model_.attitude().roll_rad), 1));
  p.drawText(QRectF(10, 4, width() - 20, 16), Qt::AlignLeft, attitude);
  if (ghost_) {
    p.setPen(t.base);
    p.drawText(QRectF(10, 4, width() - 20, 16), Qt::AlignRight, tr("\u25C7 dashed: baseline"));
  }
}

std::vector<DrawingView::Handle> AxleView::handles() const {
  std::vector<Handle> all;
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
