#include "app/drawing/car_view.h"

#include <algorithm>
#include <cmath>

#include <QCoreApplication>
#include <QPainter>

#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int rimPoints = 40;

/// A circle of the tyre's outline, `across` from its middle plane.
std::vector<Vec3> rim(const SceneWheel& w, double across, double radius) {
  const Vec3 a = w.spin.cross(std::abs(w.spin.z()) < 0.9 ? Vec3::UnitZ() : Vec3::UnitX()).normalized();
  const Vec3 b = w.spin.cross(a);
  std::vector<Vec3> points;
  for (int i = 0; i < rimPoints; ++i) {
    const double t = 2.0 * pi * i / rimPoints;
    points.push_back(w.centre + w.spin * across + (a * std::cos(t) + b * std::sin(t)) * radius);
  }
  return points;
}

QString objectNameOf(CarView::From from) {
  switch (from) {
    case CarView::From::above:
      return QStringLiteral("topView");
    case CarView::From::side:
      return QStringLiteral("sideView");
    case CarView::From::around:
      return QStringLiteral("aroundView");
  }
  return {};
}

}  // namespace

CarView::CarView(PlanModel& model, From from, QWidget* parent)
    : DrawingView(model, objectNameOf(from), parent), from_(from) {
  setAccessibleName(from == From::above  ? tr("View of the car from above")
                    : from == From::side ? tr("View of the car from its left side")
                                         : tr("View of the car from any side"));
  connect(&model_, &PlanModel::forcesChanged, this, [this] { update(); });
  connect(&model_, &PlanModel::comparisonChanged, this, &CarView::rebuild);
  connect(&model_, &PlanModel::selectionChanged, this, &CarView::rebuild);
  connect(&model_, &PlanModel::precisionChanged, this, [this] { update(); });
}

void CarView::setZoom(Zoom zoom) {
  zoom_ = zoom;
  fit();
}

void CarView::rebuild() {
  stale_ = !isVisible();
  if (!stale_) build();
}

void CarView::build() {
  stale_ = false;
  const Comparison* c = model_.comparison();
  now_.reset();
  ghost_.reset();
  if (c && model_.document().hasCar()) {
    const Car& car = *c->changed->model.car;
    now_ = carSceneOf(car, *c->changed);
    if (c->baseline->setup != c->changed->setup) ghost_ = carSceneOf(car, *c->baseline);
  }
  rescale();
}

std::vector<std::pair<End, Side>> CarView::shown() const {
  switch (zoom_) {
    case Zoom::axle:
      return {{model_.end(), Side::left}, {model_.end(), Side::right}};
    case Zoom::leftCorner:
      return {{model_.end(), Side::left}};
    case Zoom::rightCorner:
      return {{model_.end(), Side::right}};
    case Zoom::car:
      break;
  }
  return {{End::front, Side::left}, {End::front, Side::right}, {End::rear, Side::left}, {End::rear, Side::right}};
}

QPointF CarView::project(const Vec3& p) const {
  switch (from_) {
    case From::above:
      return {-p.y(), p.x()};
    case From::side:
      return {-p.x(), p.z()};
    case From::around: {
      // Turned about the upright first, then tipped towards the eye.
      const double right = -p.y() * std::cos(yaw_) - p.x() * std::sin(yaw_);
      const double away = p.x() * std::cos(yaw_) - p.y() * std::sin(yaw_);
      return {right, p.z() * std::cos(tilt_) + away * std::sin(tilt_)};
    }
  }
  return {};
}

QPointF CarView::toScreen(const Vec3& place) const {
  const QPointF p = project(place);
  return origin_ + QPointF(p.x() * scale_, -p.y() * scale_);
}

void CarView::rescale() {
  if (now_) {
    QRectF all;
    const auto take = [&](const Vec3& v) {
      const QPointF p = project(v);
      all = all.isNull() ? QRectF(p, QSizeF(1e-3, 1e-3)) : all.united(QRectF(p, QSizeF(1e-3, 1e-3)));
    };
    const bool corner = zoom_ == Zoom::leftCorner || zoom_ == Zoom::rightCorner;
    for (const auto& [end, side] : shown()) {
      const SceneCorner& c = now_->corner[at(end)][at(side)];
      for (const double half : {-0.5, 0.5})
        for (const Vec3& p : rim(c.wheel, half * c.wheel.tyre.width_mm, c.wheel.tyre.radius_mm)) take(p);
      for (const SceneLine& l : c.lines) {
        take(l.from);
        take(l.to);
      }
    }
    if (!corner && now_->steering && model_.end() == End::front)
      for (const SceneLine& l : now_->steering->lines) take(l.from);
    const QRectF own = room();
    const double above = 24.0;
    // From above the figures stand under the car.
    const double below = from_ != From::above ? 30.0 : now_->turn_centre ? 112.0 : 60.0;
    const double scale = std::min((own.width() - 40.0) / all.width(), (own.height() - above - below) / all.height());
    const QPointF middle = all.center();
    QPointF origin(own.center().x() - middle.x() * scale,
                   own.top() + above + (own.height() - above - below) / 2.0 + middle.y() * scale);
    // From the side the figures stand to the left of the car, as far as there is room.
    if (from_ == From::side) origin.rx() += std::clamp((own.width() - all.width() * scale) / 2.0 - 12.0, 0.0, 120.0);
    placeAt(scale, origin);
  }
  update();
}

void CarView::resizeEvent(QResizeEvent*) {
  rescale();
}

void CarView::showEvent(QShowEvent* event) {
  DrawingView::showEvent(event);
  if (stale_) rebuild();
}

void CarView::paintOn(QPainter& p) {
  // On paper without ever having been on the screen.
  if (stale_) build();
  if (!paintPaper(p, now_.has_value())) return;
  keepFree(scaleBar(scale_).box);
  paintGround(p);
  paintPlate(p);
  if (from_ == From::above) paintTurn(p);
  const auto corners = shown();
  // From the side the far wheel stands behind everything.
  for (auto it = corners.rbegin(); it != corners.rend(); ++it)
    paintWheel(p, now_->corner[at(it->first)][at(it->second)].wheel, false);
  if (ghost_) paintGhost(p);
  if (now_->steering &&
      std::any_of(corners.begin(), corners.end(), [](const auto& c) { return c.first == End::front; })) {
    paintLines(p, now_->steering->lines);
    const Tokens& t = tokens(palette());
    p.setPen(QPen(t.ink, 1.5));
    p.setBrush(palette().color(QPalette::Base));
    for (const Vec3& ball : now_->steering->balls) p.drawEllipse(toScreen(ball), 3.0, 3.0);
  }
  for (const auto& [end, side] : corners) paintCorner(p, now_->corner[at(end)][at(side)]);
  if (from_ == From::side) {
    paintSideFigures(p);
    paintRollAxis(p);
  }
  paintForces(p);
  for (const auto& [end, side] : corners)
    for (const SceneLimit& l : now_->corner[at(end)][at(side)].limits) paintLimit(p, toScreen(l.at), l);
  paintLozenges(p);
  paintLabels(p);
  paintScaleBar(p, scale_);
}

void CarView::paintForces(QPainter& p) const {
  const auto* forces = model_.forces();
  if (!forces) return;
  const Tokens& t = tokens(palette());
  for (const auto& [end, side] : shown()) {
    const SceneWheel& w = now_->corner[at(end)][at(side)].wheel;
    const Vec3 foot(w.centre.x(), w.centre.y(), 0.0);
    const GroundForce& f = (*forces)[at(end)][at(side)];
    const QPointF from = toScreen(foot);
    paintArrow(p, from, toScreen(foot + mmPerNewton * Vec3(f.x(), f.y(), 0.0)), t.good);
    if (from_ != From::above) paintArrow(p, from, toScreen(foot + mmPerNewton * Vec3(0.0, 0.0, f.z())), t.good);
  }
}

void CarView::paintGround(QPainter& p) const {
  const Tokens& t = tokens(palette());
  if (from_ == From::side) {
    p.setPen(QPen(t.ink, 1.5));
    const double y = toScreen({0, 0, 0}).y();
    drawWithin(p, QPointF(0, y), QPointF(width(), y));
  } else if (from_ == From::around) {
    p.setPen(QPen(t.line, 1.0));
    for (int i = -8; i <= 3; ++i) drawWithin(p, toScreen({50.0 * i, -150, 0}), toScreen({50.0 * i, 150, 0}));
    for (int i = -3; i <= 3; ++i) drawWithin(p, toScreen({-400, 50.0 * i, 0}), toScreen({150, 50.0 * i, 0}));
  } else {
    p.setPen(QPen(t.line, 1.0, Qt::DashDotLine));
    drawWithin(p, toScreen({600, 0, 0}), toScreen({-900, 0, 0}));
  }
}

void CarView::paintPlate(QPainter& p) const {
  const Tokens& t = tokens(palette());
  QPolygonF plate;
  if (from_ == From::side) {
    const Vec3& front = now_->plate[0];
    const Vec3& rear = now_->plate[2];
    const Vec3 thick(0, 0, now_->plate_thickness_mm);
    plate << toScreen(front) << toScreen(rear) << toScreen(rear + thick) << toScreen(front + thick);
  } else {
    for (const Vec3& v : now_->plate) plate << toScreen(v);
  }
  p.setPen(QPen(faint(t.ink, 0.5), 1.0));
  p.setBrush(from_ == From::side ? QBrush(t.ink) : QBrush(faint(t.ink, 0.06)));
  p.drawPolygon(plate);
}

void CarView::paintWheel(QPainter& p, const SceneWheel& w, bool ghost) const {
  const Tokens& t = tokens(palette());
  const double half = 0.5 * w.tyre.width_mm;
  p.setPen(ghost ? QPen(t.base, 1.0, Qt::DashLine) : QPen(t.ink, 1.5));
  p.setBrush(ghost ? QBrush(Qt::NoBrush) : QBrush(faint(t.ink, from_ == From::around ? 0.05 : 0.08)));
  if (from_ == From::above) {
    // The outline of a cylinder seen from above: its widest chord, from face to face.
    const Vec3 along = Vec3(-w.spin.y(), w.spin.x(), 0.0).normalized() * w.tyre.radius_mm;
    QPolygonF tyre;
    for (const auto& [a, b] : {std::pair(1, 1), std::pair(1, -1), std::pair(-1, -1), std::pair(-1, 1)})
      tyre << toScreen(w.centre + w.spin * (half * a) + along * b);
    p.drawPolygon(tyre);
    return;
  }
  for (const double across : {-half, half}) {
    QPolygonF circle;
    for (const Vec3& v : rim(w, across, w.tyre.radius_mm)) circle << toScreen(v);
    p.drawPolygon(circle);
    if (from_ == From::side) break;  // both faces lie over each other
  }
}

void CarView::paintLines(QPainter& p, const std::vector<SceneLine>& lines) const {
  const Tokens& t = tokens(palette());
  for (const SceneLine& l : lines) paintPart(p, toScreen(l.from), toScreen(l.to), l.stroke, t, scale_);
}

void CarView::paintCorner(QPainter& p, const SceneCorner& c) const {
  const Tokens& t = tokens(palette());
  paintLines(p, c.lines);
  if (c.cup && from_ != From::side)  // from the side it is looked into
    paintCup(
        p, *c.cup, [this](const Vec3& v) { return toScreen(v); }, scale_, t);
  for (const SceneGrip& g : c.grips)
    if (!g.ball) paintHexagon(p, toScreen(g.at), toScreen(g.at + g.along) - toScreen(g.at), t, scale_);
  p.setPen(QPen(t.ink, 1.5));
  p.setBrush(palette().color(QPalette::Base));
  const double r = std::max(2.5, ballRadius_mm * scale_);
  for (const Vec3& ball : c.balls) p.drawEllipse(toScreen(ball), r, r);
  if (from_ != From::side && from_ != From::above) return;
  // Shims whose discs stand across the view are seen from the edge.
  constexpr double discRadius_mm = 2.6;
  for (const SceneStack& stack : c.stacks) {
    const QPointF d = project(stack.direction) - project(Vec3::Zero());
    const double seen = std::hypot(d.x(), d.y());
    if (seen < 0.3) continue;
    const Vec3 across = from_ == From::side ? Vec3(stack.direction.z(), 0, -stack.direction.x())
                                            : Vec3(-stack.direction.y(), stack.direction.x(), 0);
    double from = 0.0;
    for (const double thick : stack.discs_mm) {
      QPolygonF disc;
      const auto corner = [&](double along, double side) {
        return toScreen(stack.foot + stack.direction * along + across.normalized() * (side * discRadius_mm));
      };
      disc << corner(from, -1) << corner(from, 1) << corner(from + thick, 1) << corner(from + thick, -1);
      p.setPen(QPen(palette().color(QPalette::Base), 0.75));
      p.setBrush(model_.partChanged(stack.adjuster) ? t.kite : t.soft);
      p.drawPolygon(disc);
      from += thick;
    }
  }
}

void CarView::paintGhost(QPainter& p) const {
  const Tokens& t = tokens(palette());
  for (const auto& [end, side] : shown()) {
    const SceneCorner& c = ghost_->corner[at(end)][at(side)];
    paintWheel(p, c.wheel, true);
    p.setPen(QPen(t.base, 1.0, Qt::DashLine));
    for (const SceneLine& l : c.lines)
      if (l.stroke == Stroke::arm || l.stroke == Stroke::link || l.stroke == Stroke::kingpin)
        drawWithin(p, toScreen(l.from), toScreen(l.to));
  }
}

void CarView::paintTurn(QPainter& p) const {
  if (!now_->turn_centre) return;
  const Tokens& t = tokens(palette());
  const auto& steering = model_.comparison()->changed->source.car.steering;
  if (!steering || !steering->ackermann) return;
  const AckermannFigures& a = *steering->ackermann;
  p.setBrush(Qt::NoBrush);
  // Across each front wheel: where it wants to roll about. Dashed: where an ideal outer wheel would point.
  for (const Side side : both_sides) {
    const SceneWheel& w = now_->corner[0][at(side)].wheel;
    const Vec3 out = side == a.inside ? Vec3(w.spin) : Vec3(-w.spin);
    p.setPen(QPen(t.base, 1.25));
    drawWithin(p, toScreen(w.centre), toScreen(w.centre + out * 1500.0));
    if (side == a.inside || !a.ideal_outer_rad) continue;
    const double sign = a.inside == Side::left ? 1.0 : -1.0;
    const Vec3 ideal(-std::sin(*a.ideal_outer_rad), sign * std::cos(*a.ideal_outer_rad), 0.0);
    p.setPen(QPen(t.warn, 1.25, Qt::DashLine));
    drawWithin(p, toScreen(w.centre), toScreen(w.centre + ideal * 1500.0));
  }
  const double rear = now_->turn_centre->x();
  p.setPen(QPen(t.base, 1.25));
  drawWithin(p, toScreen({rear, 0, 0}), toScreen({rear, now_->turn_centre->y() * 3.0, 0}));
  const QPointF centre = toScreen(*now_->turn_centre);
  p.drawEllipse(centre, 5.0, 5.0);
  const double radius = std::abs(now_->turn_centre->y()) * scale_;
  p.setPen(QPen(t.base, 1.0, Qt::DotLine));
  circleWithin(p, centre, radius);
}

void CarView::paintSideFigures(QPainter& p) const {
  const Tokens& t = tokens(palette());
  const Side side = model_.shownSide();
  const Variant& v = *model_.comparison()->changed;
  for (const End end : both_ends) {
    if (zoom_ != Zoom::car && end != model_.end()) continue;
    const AxleFigures& axle = v.source.car.axle[at(end)];
    const WheelFigures& wheel = axle.wheel[at(side)];
    const SceneWheel& drawn = now_->corner[at(end)][at(side)].wheel;
    // The kingpin's line down to the ground, ahead of the contact by the trail.
    if (wheel.kingpin && v.model.corner(end, side).spec->steered)
      for (const SceneLine& l : now_->corner[at(end)][at(side)].lines) {
        if (l.stroke != Stroke::kingpin) continue;
        const Vec3 k = l.to - l.from;
        const Vec3 ground = l.from - k * (l.from.z() / k.z());
        p.setPen(QPen(t.base, 1.25, Qt::DashDotLine));
        drawWithin(p, toScreen(l.to + k), toScreen(ground));
        p.drawEllipse(toScreen(ground), 3.0, 3.0);
      }
    // The swing arm from the side, when its centre lies somewhere to be seen.
    const auto& swing = axle.side_view[at(side)].swing_centre;
    if (swing && std::abs(swing->across) < 3000.0) {
      p.setPen(QPen(t.base, 1.0, Qt::DashLine));
      drawWithin(p, toScreen(drawn.centre),
                 toScreen({drawn.centre.x() + swing->across, drawn.centre.y(), swing->height}));
    }
  }
}

void CarView::tellStops(const Comparison& c, Side side,
                        const std::function<void(const QString&, const QColor&)>& tell) const {
  if (!c.changed->model.corner(model_.end(), side).spec->independent) return;
  const Tokens& t = tokens(palette());
  const CornerTravel& now = c.changed->source.travel.corner[at(model_.end())][at(side)];
  const CornerTravel& was = c.baseline->source.travel.corner[at(model_.end())][at(side)];
  const auto named = [](StopKind kind) { return fromCore(name_of(kind)); };
  const auto line = [&](const QString& what, const Stop& is, const Stop& before) {
    const bool changed = is.kind != before.kind;
    tell((changed ? QStringLiteral("\u25C6 ") : QString()) +
             tr("%1 %2 mm: %3").arg(what, number(is.from_ride_height_mm, 1), named(is.kind)),
         changed ? t.kite : t.ink);
  };
  line(tr("droop"), now.stops.droop, was.stops.droop);
  line(tr("bump"), now.stops.bump, was.stops.bump);
  if (now.shaft_least_to_falling_out_mm && *now.shaft_least_to_falling_out_mm < 0.0)
    tell(tr("\u2715 the drive shaft falls out of its cup"), t.bad);
  if (now.shaft_least_to_bottoming_mm && *now.shaft_least_to_bottoming_mm < 0.0)
    tell(tr("\u2715 the drive shaft bottoms in its cup"), t.bad);
}

void CarView::paintRollAxis(QPainter& p) {
  const Tokens& t = tokens(palette());
  const auto draw = [&](const CarScene& scene, const QColor& colour, Qt::PenStyle style) {
    const auto& rc = scene.roll_centre;
    p.setPen(QPen(colour, 1.25, style));
    if (rc[0] && rc[1]) drawWithin(p, toScreen(*rc[0]), toScreen(*rc[1]));
    p.setBrush(palette().color(QPalette::Base));
    for (const End end : both_ends)
      if (rc[at(end)]) p.drawPath(lozenge(toScreen(*rc[at(end)]), 6.0));
    const auto axis = scene.gravity ? rollAxisAt(scene, scene.gravity->x()) : std::nullopt;
    if (axis) {
      p.setPen(QPen(colour, 2.0, style));
      drawWithin(p, toScreen(*scene.gravity), toScreen({scene.gravity->x(), scene.gravity->y(), *axis}));
    }
    if (scene.gravity) paintGravitySign(p, toScreen(*scene.gravity), colour);
  };
  if (ghost_) draw(*ghost_, t.base, Qt::DashLine);
  draw(*now_, t.ink, Qt::SolidLine);
  const QFont small = textFont(labelSize);
  const auto told = [&](const QString& text, const QString& was, const QPointF& place) {
    const bool differs = !was.isEmpty() && was != text;
    write(p, differs ? QStringLiteral("\u25C6 ") + text : text, place, {small, differs ? t.kite : t.ink, true});
  };
  for (const End end : both_ends) {
    const auto& rc = now_->roll_centre[at(end)];
    if (!rc || !room().contains(toScreen(*rc))) continue;
    const auto text = [&](const CarScene& s) {
      const auto& there = s.roll_centre[at(end)];
      return there ? tr("%1 mm").arg(number(there->z(), 1)) : QString();
    };
    told(text(*now_), ghost_ ? text(*ghost_) : QString(), toScreen(*rc) + QPointF(0, -16));
  }
  const auto lever = [&](const CarScene& s) {
    const auto axis = s.gravity ? rollAxisAt(s, s.gravity->x()) : std::nullopt;
    return axis ? tr("%1 mm over the roll axis").arg(number(s.gravity->z() - *axis, 1)) : QString();
  };
  if (now_->gravity && room().contains(toScreen(*now_->gravity)) && !lever(*now_).isEmpty())
    told(lever(*now_), ghost_ ? lever(*ghost_) : QString(), toScreen(*now_->gravity) + QPointF(0, -18));
  // Front against rear in one line.
  const auto apart = [](const CarScene& s) -> std::optional<double> {
    if (!s.roll_centre[0] || !s.roll_centre[1]) return std::nullopt;
    return s.roll_centre[1]->z() - s.roll_centre[0]->z();
  };
  const auto is = apart(*now_);
  if (!is) return;
  QString text = *is >= 0.0 ? tr("Rear roll centre %1 mm higher than the front one").arg(number(*is, 1))
                            : tr("Rear roll centre %1 mm lower than the front one").arg(number(-*is, 1));
  const auto was = ghost_ ? apart(*ghost_) : std::nullopt;
  const bool differs = was && number(*was, 1) != number(*is, 1);
  if (differs)
    text = QStringLiteral("\u25C6 ") +
           tr("%1; was %2").arg(text, *was >= 0.0 ? number(*was, 1) : tr("%1 lower").arg(number(-*was, 1)));
  const double wide = QFontMetricsF(figureFont(12, true)).horizontalAdvance(text);
  write(p, text, {room().right() - 0.5 * wide - 8.0, room().bottom() - 12.0},
        {figureFont(12, true), differs ? t.kite : t.ink});
}

void CarView::paintLabels(QPainter& p) {
  const Tokens& t = tokens(palette());
  const Comparison& c = *model_.comparison();
  const int extra = model_.extraDecimals();
  const Car& car = *c.changed->model.car;
  const QRectF own = room();
  const QFont small = textFont(labelSize);
  const auto heading = [&](const QString& text) {
    const double wide = QFontMetricsF(small).horizontalAdvance(text);
    DrawingView::write(p, text, {own.left() + 0.5 * wide + 6.0, own.top() + 8.0}, {small, t.soft, true});
  };
  // From above the wheels fill the upper corners: the figures stand in the lower left one.
  double line = from_ == From::above ? own.bottom() - (now_->turn_centre ? 100.0 : 48.0) : own.top() + 26.0;
  const auto tell = [&](const QString& text, const QColor& colour) {
    const QFont bold = figureFont(12, true);
    const double wide = QFontMetricsF(bold).horizontalAdvance(text);
    DrawingView::write(p, text, {own.left() + 0.5 * wide + 6.0, line}, {bold, colour});
    line += 17.0;
  };
  const auto write = [&](const char* id, End end, Side side, const QString& what) {
    const FigureSpec& f = *find_figure(id);
    if (!applies(f, car, end)) return;
    const auto was = f.read(c.baseline->source, end, side);
    const auto is = f.read(c.changed->source, end, side);
    const bool differs = moved(f, was, is, extra);
    tell((differs ? QStringLiteral("\u25C6 ") : QString()) + what + QLatin1Char(' ') + figureWithUnit(f, is, extra),
         differs ? t.kite : t.ink);
  };
  const Side side = model_.shownSide();
  switch (from_) {
    case From::above:
      heading(tr("From above, nose up. Drag sideways to steer."));
      if (model_.end() == End::front || zoom_ == Zoom::car) {
        if (!now_->turn_centre) {
          write("toe", End::front, Side::left, tr("left toe"));
          write("toe", End::front, Side::right, tr("right toe"));
        } else {
          for (const Side wheel : both_sides) {
            const FigureSpec& f = *find_figure("steer_angle");
            const auto was = f.read(c.baseline->source, End::front, wheel);
            const auto is = f.read(c.changed->source, End::front, wheel);
            if (!is) continue;
            const bool differs = moved(f, was, is, extra);
            const QString way = *is >= 0.0 ? tr("%1 wheel %2 deg to the left") : tr("%1 wheel %2 deg to the right");
            tell((differs ? QStringLiteral("\u25C6 ") : QString()) +
                     way.arg(sideTitle(wheel), number(std::abs(*is), f.decimals + extra)),
                 differs ? t.kite : t.ink);
          }
        }
        if (now_->turn_centre) {
          write("ackermann_error", End::front, Side::left, tr("outer wheel against ideal"));
          write("ackermann", End::front, Side::left, tr("Ackermann, toe taken off"));
          tell(tr("turning radius %1 mm").arg(number(std::abs(now_->turn_centre->y()), 0)), t.ink);
        }
      } else {
        write("toe", End::rear, Side::left, tr("left toe"));
        write("toe", End::rear, Side::right, tr("right toe"));
      }
      break;
    case From::side:
      heading(tr("From the left, %1 axle. Drag: bump and pitch.").arg(endTitle(model_.end())));
      write("caster", model_.end(), side, tr("caster"));
      write("trail", model_.end(), side, tr("trail"));
      write("anti_braking", model_.end(), side,
            model_.end() == End::front ? tr("anti-dive") : tr("anti-lift, braking"));
      write("anti_power", model_.end(), side, model_.end() == End::front ? tr("anti-lift, power") : tr("anti-squat"));
      write("shock_length", model_.end(), side, tr("shock"));
      tellStops(c, side, tell);
      break;
    case From::around:
      heading(tr("Turned around by hand. Drag to turn."));
      break;
  }
  if (ghost_)
    DrawingView::write(p, tr("\u25C7 dashed: baseline"), {own.right() - 70.0, own.top() + 8.0}, {small, t.base, true});
  if (from_ == From::side) return;
  // Left and right by their words, at the front wheels of what is drawn.
  for (const auto& [end, s] : shown()) {
    if (zoom_ == Zoom::car && end == End::rear) continue;
    const SceneWheel& w = now_->corner[at(end)][at(s)].wheel;
    const double nose = from_ == From::above ? w.tyre.radius_mm + 14.0 / scale_ : 0.0;
    const QPointF at = toScreen(w.centre + Vec3(nose, 0, from_ == From::around ? w.tyre.radius_mm + 8.0 : 0.0));
    if (own.contains(at)) DrawingView::write(p, s == Side::left ? tr("LEFT") : tr("RIGHT"), at, {small, t.soft, true});
  }
}

std::vector<DrawingView::GripOnScreen> CarView::grips() const {
  std::vector<GripOnScreen> all;
  if (!now_) return all;
  const double radius = ballRadius_mm * scale_;
  bool front = false;
  for (const auto& [end, side] : shown()) {
    front = front || end == End::front;
    for (const SceneGrip& g : now_->corner[at(end)][at(side)].grips)
      all.push_back({g.adjuster, side, false, toScreen(g.at), radius});
  }
  if (now_->steering && front)
    for (const SceneGrip& g : now_->steering->grips)
      all.push_back({g.adjuster, Side::left, true, toScreen(g.at), radius});
  return all;
}

void CarView::dragged(const QPointF& px) {
  if (!now_) return;
  switch (from_) {
    case From::above:
      model_.nudge({.servo_rad = radians(-px.x() * 0.15), .rack_mm = -px.x() * 0.02});
      break;
    case From::side:
      model_.nudge({.bump_mm = px.y() / scale_, .pitch_rad = radians(-px.x() * 0.01)});
      break;
    case From::around:
      yaw_ += px.x() * 0.01;
      tilt_ = std::clamp(tilt_ + px.y() * 0.01, radians(-10.0), radians(89.0));
      rescale();
      break;
  }
}

}  // namespace lowkite::app
