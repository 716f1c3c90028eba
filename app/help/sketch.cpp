#include "app/help/sketch.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <string_view>

#include <QBuffer>
#include <QCoreApplication>
#include <QHash>
#include <QPainter>
#include <QPainterPath>
#include <QPixmap>

#include "app/look/marks.h"

namespace lowkite::app {
namespace {

struct SketchWords {
  Q_DECLARE_TR_FUNCTIONS(SketchWords)
};

constexpr double ground = 92.0;
constexpr double middle = sketchWidth / 2.0;

/// A hand that draws on a card of 168 by 104; y down.
class Pencil {
 public:
  Pencil(QPainter& p, const Tokens& t) : p_(p), t_(t) {
    p_.setRenderHint(QPainter::Antialiasing);
    p_.setFont(textFont(11));
  }

  // What a car is made of: quiet.
  void floor(double from = 6.0, double to = sketchWidth - 6.0, double y = ground) {
    pen(t_.ink, 1.5);
    p_.drawLine(QPointF(from, y), QPointF(to, y));
  }
  /// A tyre seen from the front: its tread's middle on the ground, or `lifted` over it; leaning its top by `lean` deg
  /// to the right.
  void wheelFront(double x, double lean = 0.0, double lifted = 0.0, double strength = 1.0) {
    tyre(QPointF(x, ground - lifted), QRectF(-10.0, -52.0, 20.0, 52.0), lean, strength);
  }
  /// Seen from above; its front turned by `turn` deg to the right.
  void wheelTop(double x, double y, double turn = 0.0, double strength = 1.0) {
    tyre(QPointF(x, y), QRectF(-8.0, -21.0, 16.0, 42.0), turn, strength);
  }
  void wheelSide(double x, double r = 26.0) {
    pen(t_.soft, 1.5);
    p_.setBrush(faint(t_.soft, 0.12));
    p_.drawEllipse(QPointF(x, ground - r), r, r);
    p_.drawEllipse(QPointF(x, ground - r), 0.5 * r, 0.5 * r);
  }
  void plate(double from, double to, double underside) {
    p_.setPen(Qt::NoPen);
    p_.setBrush(t_.ink);
    p_.drawRect(QRectF(from, underside - 4.0, to - from, 4.0));
  }
  void block(double x, double top, double width = 18.0) {
    pen(t_.soft, 1.5);
    p_.setBrush(faint(t_.soft, 0.25));
    p_.drawRect(QRectF(x - 0.5 * width, top, width, ground - top));
  }
  void link(const QPointF& a, const QPointF& b) {
    pen(t_.ink, 2.0);
    p_.drawLine(a, b);
    p_.setBrush(t_.surface);
    for (const QPointF& ball : {a, b}) p_.drawEllipse(ball, 3.0, 3.0);
  }
  void shock(const QPointF& a, const QPointF& b, double body = 0.55) {
    const QPointF d = b - a;
    const double length = std::hypot(d.x(), d.y());
    const QPointF u = d / length;
    const QPointF n(-u.y(), u.x());
    p_.setPen(QPen(faint(t_.soft, 0.6), 9.0, Qt::SolidLine, Qt::FlatCap));
    p_.drawLine(a, a + d * body);
    pen(t_.ink, 2.0);
    p_.drawLine(a + d * body, b);
    QPainterPath coil(a + d * 0.2 + n * 7.0);
    for (int i = 1; i <= 8; ++i) coil.lineTo(a + d * (0.2 + 0.7 * i / 8.0) + n * (i % 2 ? -7.0 : 7.0));
    pen(t_.soft, 1.5);
    p_.setBrush(Qt::NoBrush);
    p_.drawPath(coil);
    pen(t_.ink, 1.5);
    p_.setBrush(t_.surface);
    for (const QPointF& eye : {a, b}) p_.drawEllipse(eye, 3.5, 3.5);
  }
  void dashed(const QPointF& a, const QPointF& b) {
    p_.setPen(QPen(t_.soft, 1.2, Qt::DashLine));
    p_.drawLine(a, b);
  }
  void solid(const QPointF& a, const QPointF& b, double width = 1.5) {
    pen(t_.soft, width);
    p_.drawLine(a, b);
  }

  // What is meant: kite.
  void axis(const QPointF& a, const QPointF& b) {
    pen(t_.kite, 2.0);
    p_.drawLine(a, b);
  }
  void dot(const QPointF& at) {
    pen(t_.kite, 2.0);
    p_.setBrush(t_.surface);
    p_.drawPath(lozenge(at, 6.0));
    p_.setBrush(t_.kite);
    p_.drawEllipse(at, 1.5, 1.5);
  }
  void arrow(const QPointF& a, const QPointF& b) {
    axis(a, b);
    head(b, b - a);
  }
  /// A dimension: arrows at both ends.
  void between(const QPointF& a, const QPointF& b) {
    axis(a, b);
    head(b, b - a);
    head(a, a - b);
  }
  /// An angle between two directions, deg, counted from upwards to the right.
  void angle(const QPointF& centre, double radius, double from, double to) {
    pen(t_.kite, 2.0);
    p_.setBrush(Qt::NoBrush);
    const QRectF box(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius);
    p_.drawArc(box, static_cast<int>(std::lround((90.0 - from) * 16)), static_cast<int>(std::lround((from - to) * 16)));
    // Its head, where there is room for one.
    const double a = to * std::numbers::pi / 180.0;
    const double way = to > from ? 1.0 : -1.0;
    if (std::abs(to - from) * radius > 300.0)
      head(centre + radius * QPointF(std::sin(a), -std::cos(a)), way * QPointF(std::cos(a), std::sin(a)));
  }
  void jaws(const QPointF& a, const QPointF& b, double reach) {
    const QPointF d = (b - a) / std::hypot(b.x() - a.x(), b.y() - a.y());
    const QPointF n(d.y() * reach, -d.x() * reach);
    pen(t_.kite, 2.0);
    p_.drawLine(a, a + n);
    p_.drawLine(b, b + n);
    between(a + n, b + n);
  }
  void say(const QPointF& at, const QString& text) {
    p_.setPen(t_.soft);
    QRectF box(0, 0, QFontMetricsF(p_.font()).horizontalAdvance(text) + 4.0, 16.0);
    box.moveCenter(at);
    box.moveLeft(std::clamp(box.left(), 0.0, std::max(0.0, sketchWidth - box.width())));
    p_.drawText(box, Qt::AlignCenter, text);
  }
  void gauge(const QRectF& body) {
    pen(t_.kite, 2.0);
    p_.setBrush(faint(t_.kite, 0.15));
    p_.drawRect(body);
  }
  /// Steps that rise to the right.
  void steps(double x, double bottom, double step = 5.0) {
    QPainterPath path(QPointF(x, bottom));
    for (int i = 0; i < 4; ++i) {
      path.lineTo(x + 9.0 * i, bottom - step * (i + 1));
      path.lineTo(x + 9.0 * (i + 1), bottom - step * (i + 1));
    }
    path.lineTo(x + 36.0, bottom);
    path.closeSubpath();
    pen(t_.kite, 1.5);
    p_.setBrush(faint(t_.kite, 0.15));
    p_.drawPath(path);
  }
  void circle(const QPointF& c, double r) {
    pen(t_.ink, 1.5);
    p_.setBrush(Qt::NoBrush);
    p_.drawEllipse(c, r, r);
  }

 private:
  void pen(const QColor& colour, double width) { p_.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap)); }
  void tyre(const QPointF& at, const QRectF& box, double turn, double strength) {
    p_.save();
    p_.translate(at);
    p_.rotate(turn);
    p_.setPen(QPen(faint(t_.soft, strength), 1.5, strength < 1.0 ? Qt::DashLine : Qt::SolidLine));
    p_.setBrush(faint(t_.soft, 0.12 * strength));
    p_.drawRoundedRect(box, 4.0, 4.0);
    p_.restore();
  }
  void head(const QPointF& tip, const QPointF& way) {
    const double length = std::hypot(way.x(), way.y());
    if (!(length > 0.0)) return;
    const QPointF u = way / length;
    const QPointF n(-u.y(), u.x());
    const QPointF corners[3] = {tip, tip - 7.0 * u + 3.0 * n, tip - 7.0 * u - 3.0 * n};
    p_.setPen(Qt::NoPen);
    p_.setBrush(t_.kite);
    p_.drawPolygon(corners, 3);
  }

  QPainter& p_;
  const Tokens& t_;
};

using P = QPointF;

/// The front view of an axle: two wheels, a plate between, arms and camber links.
void axle(Pencil& d, double lean = 0.0) {
  d.floor();
  d.wheelFront(22.0, lean);
  d.wheelFront(sketchWidth - 22.0, -lean);
  d.plate(62.0, sketchWidth - 62.0, 84.0);
  for (const double s : {-1.0, 1.0}) {
    d.link(P(middle + s * 24.0, 76.0), P(middle + s * 51.0, 80.0));
    d.link(P(middle + s * 24.0, 58.0), P(middle + s * 52.0, 54.0));
  }
}

/// A hanging wheel at the right of a plate that stands on blocks.
void hanging(Pencil& d) {
  d.floor();
  d.block(28.0, 62.0);
  d.block(66.0, 62.0);
  d.plate(14.0, 80.0, 62.0);
}

void draw(Pencil& d, Sketch sketch) {
  switch (sketch) {
    case Sketch::camber:
      d.floor();
      d.wheelFront(84.0, -12.0);
      d.dashed(P(84, ground), P(84, 18));
      d.axis(P(84, ground), P(84 - 15.3, 20));
      d.angle(P(84, ground), 68.0, 0.0, -12.0);
      d.say(P(130, 30), SketchWords::tr("top in"));
      break;
    case Sketch::toe:
    case Sketch::toePressed:
      d.wheelTop(44.0, 60.0, 10.0);
      d.wheelTop(124.0, 60.0, -10.0);
      d.dashed(P(44, 98), P(44, 14));
      d.dashed(P(124, 98), P(124, 14));
      d.axis(P(44, 60), P(44 + 7.6, 17));
      d.axis(P(124, 60), P(124 - 7.6, 17));
      d.angle(P(44, 60), 42.0, 0.0, 10.0);
      d.angle(P(124, 60), 42.0, 0.0, -10.0);
      d.say(P(middle, 12), SketchWords::tr("ahead"));
      if (sketch == Sketch::toePressed) {
        d.plate(68.0, 100.0, 66.0);
        d.arrow(P(middle, 34), P(middle, 58));
        d.say(P(middle, 78), SketchWords::tr("pressed"));
      }
      break;
    case Sketch::caster:
    case Sketch::trail: {
      d.floor();
      d.wheelSide(84.0, 32.0);
      d.dashed(P(84, ground), P(84, 14));
      d.axis(P(100, 14), P(100 - (ground - 14) * 0.36, ground));
      if (sketch == Sketch::caster)
        d.angle(P(84, 60), 38.0, 0.0, 20.0);
      else
        d.between(P(100 - (ground - 14) * 0.36, ground + 6), P(84, ground + 6));
      d.say(P(26, 30), SketchWords::tr("ahead \u2190"));
      break;
    }
    case Sketch::kingpin:
    case Sketch::scrub:
      d.floor();
      d.wheelFront(104.0);
      d.link(P(44, 78), P(90, 80));
      d.link(P(50, 52), P(84, 48));
      d.axis(P(78.9, 20), P(93.3, ground));
      if (sketch == Sketch::kingpin) {
        d.dashed(P(90, 80), P(90, 20));
        d.angle(P(90, 80), 52.0, 0.0, -11.0);
      } else {
        d.dashed(P(104, ground), P(104, 30));
        d.between(P(93.3, ground + 6), P(104, ground + 6));
      }
      break;
    case Sketch::rideHeight:
      axle(d);
      d.between(P(middle, 84), P(middle, ground));
      d.say(P(middle, 40), SketchWords::tr("under the plate"));
      break;
    case Sketch::track:
      axle(d);
      d.between(P(22, ground + 7), P(sketchWidth - 22, ground + 7));
      break;
    case Sketch::wheelbase:
      d.floor();
      d.wheelSide(36.0, 22.0);
      d.wheelSide(132.0, 22.0);
      d.plate(40.0, 128.0, 78.0);
      d.between(P(36, ground + 7), P(132, ground + 7));
      break;
    case Sketch::rollCentre:
      axle(d);
      for (const double s : {-1.0, 1.0}) d.dashed(P(middle + s * 62.0, ground), P(middle - s * 78.0, 70));
      d.dot(P(middle, 80.0));
      d.say(P(middle, 40), SketchWords::tr("roll centre"));
      break;
    case Sketch::swingArm:
      d.floor();
      d.wheelFront(144.0);
      d.link(P(92, 74), P(130, 80));
      d.link(P(96, 60), P(130, 54));
      d.dashed(P(130, 80), P(22, 63));
      d.dashed(P(130, 54), P(22, 73));
      d.dot(P(48, 68.0));
      d.between(P(48, ground + 7), P(144, ground + 7));
      break;
    case Sketch::antiDive:
      d.floor();
      d.wheelSide(36.0, 22.0);
      d.wheelSide(132.0, 22.0);
      d.plate(40.0, 128.0, 78.0);
      d.dot(P(96, 46));
      d.arrow(P(96, 46), P(66, 46));
      d.axis(P(36, ground), P(90, 74));
      d.arrow(P(24, 34), P(24, 52));
      d.say(P(126, 30), SketchWords::tr("braking"));
      break;
    case Sketch::camberGain:
      d.floor();
      d.wheelFront(84.0, -3.0, 0.0, 0.5);
      d.wheelFront(84.0, -14.0, 16.0);
      d.arrow(P(128, 84), P(128, 58));
      d.angle(P(84, ground - 16), 60.0, -3.0, -14.0);
      break;
    case Sketch::bumpSteer:
      d.wheelTop(62.0, 56.0, 0.0, 0.5);
      d.wheelTop(62.0, 56.0, 14.0);
      d.angle(P(62, 56), 40.0, 0.0, 14.0);
      d.wheelFront(136.0, 0.0, 0.0, 0.5);
      d.wheelFront(136.0, 0.0, 14.0);
      d.arrow(P(112, 84), P(112, 58));
      break;
    case Sketch::contactPath:
      d.floor();
      d.wheelFront(84.0, 0.0, 0.0, 0.5);
      d.wheelFront(94.0, -4.0, 16.0);
      d.arrow(P(128, 84), P(128, 58));
      d.between(P(84, ground + 6), P(96, ground + 6));
      break;
    case Sketch::ackermann:
      d.wheelTop(40.0, 34.0, 30.0);
      d.wheelTop(104.0, 34.0, 42.0);
      d.solid(P(40, 34), P(104, 34));
      d.solid(P(40, 88), P(104, 88));
      d.dashed(P(40, 34), P(40 + 110 * 0.9, 34 + 63 * 0.9));
      d.dashed(P(104, 34), P(104 + 46, 34 + 51));
      d.dot(P(136, 90));
      d.dashed(P(40, 88), P(150, 88));
      break;
    case Sketch::lock:
      d.wheelTop(84.0, 56.0, 0.0, 0.5);
      d.wheelTop(84.0, 56.0, 30.0);
      d.dashed(P(84, 96), P(84, 10));
      d.axis(P(84, 56), P(84 + 22, 18));
      d.angle(P(84, 56), 42.0, 0.0, 30.0);
      break;
    case Sketch::steering:
      d.wheelTop(22.0, 50.0, 8.0);
      d.wheelTop(146.0, 50.0, 8.0);
      d.link(P(30, 66), P(66, 70));
      d.link(P(138, 66), P(102, 70));
      d.solid(P(66, 70), P(102, 70), 3.0);
      d.circle(P(84, 34), 6.0);
      d.link(P(84, 34), P(84, 58));
      d.angle(P(84, 34), 30.0, 150.0, 205.0);
      break;
    case Sketch::travel:
      axle(d);
      d.between(P(sketchWidth - 5, 88), P(sketchWidth - 5, 50));
      d.say(P(middle, 34), SketchWords::tr("bump up, droop down"));
      break;
    case Sketch::shock:
      d.shock(P(60, 18), P(96, 84));
      d.jaws(P(60, 18), P(96, 84), 24.0);
      break;
    case Sketch::shaftOut:
      d.shock(P(40, 52), P(140, 52), 0.5);
      d.jaws(P(94, 56), P(136, 56), -22.0);
      d.say(P(middle, 20), SketchWords::tr("pulled fully out"));
      break;
    case Sketch::strokeLeft:
      d.shock(P(40, 40), P(124, 40), 0.68);
      d.jaws(P(98, 44), P(120, 44), -24.0);
      d.say(P(84, 92), SketchWords::tr("left to push in"));
      break;
    case Sketch::motionRatio:
      d.floor();
      d.wheelFront(142.0);
      d.link(P(36, 76), P(128, 80));
      d.shock(P(72, 16), P(92, 76));
      d.arrow(P(160, 84), P(160, 56));
      d.arrow(P(112, 56), P(104, 32));
      break;
    case Sketch::collar:
      d.shock(P(84, 14), P(84, 90), 0.6);
      d.gauge(QRectF(73, 44, 22, 6));
      d.jaws(P(78, 14), P(78, 44), -22.0);
      break;
    case Sketch::spring:
      d.floor();
      d.shock(P(50, 40), P(50, ground), 0.4);
      d.shock(P(118, 40), P(118, ground), 0.4);
      d.plate(30.0, 138.0, 38.0);
      d.arrow(P(middle, 8), P(middle, 30));
      break;
    case Sketch::roll:
      d.floor();
      d.wheelFront(22.0);
      d.wheelFront(146.0);
      d.solid(P(52, 66), P(116, 82), 5.0);
      d.dot(P(88, 44));
      d.arrow(P(88, 44), P(124, 44));
      d.angle(P(84, 74), 40.0, 60.0, 100.0);
      break;
    case Sketch::bar:
      hanging(d);
      d.link(P(78, 58), P(126, 46));
      d.link(P(78, 52), P(126, 66));
      d.steps(108.0, ground, 9.0);
      d.say(P(58, 24), SketchWords::tr("lift until the other moves"));
      d.arrow(P(146, 60), P(146, 38));
      break;
    case Sketch::scales:
      axle(d);
      d.gauge(QRectF(6, ground - 1, 34, 8));
      d.gauge(QRectF(sketchWidth - 40, ground - 1, 34, 8));
      break;
    case Sketch::pullDown:
      axle(d);
      d.gauge(QRectF(6, ground - 1, 34, 8));
      d.gauge(QRectF(sketchWidth - 40, ground - 1, 34, 8));
      d.arrow(P(middle, 20), P(middle, 76));
      break;
    case Sketch::shaftCup:
      d.solid(P(20, 38), P(62, 38), 2.0);
      d.solid(P(20, 66), P(62, 66), 2.0);
      d.solid(P(20, 38), P(20, 66), 2.0);
      d.solid(P(46, 52), P(150, 44), 4.0);
      d.axis(P(45, 43), P(47, 61));
      d.between(P(46, 80), P(62, 80));
      d.dashed(P(46, 62), P(46, 86));
      d.dashed(P(62, 66), P(62, 86));
      d.say(P(46, 24), SketchWords::tr("cup"));
      break;
    case Sketch::downStop:
      hanging(d);
      d.link(P(78, 58), P(132, 74));
      d.steps(108.0, ground, 4.5);
      break;
    case Sketch::tyreDroop:
      d.floor();
      d.block(28.0, 50.0);
      d.block(66.0, 50.0);
      d.plate(14.0, 80.0, 50.0);
      d.link(P(78, 46), P(116, 58));
      d.wheelFront(130.0, 4.0, 6.0);
      d.dashed(P(80, 50), P(164, 50));
      d.dashed(P(110, 86), P(164, 86));
      d.between(P(156, 50), P(156, 86));
      break;
    case Sketch::shockDroop:
      hanging(d);
      d.link(P(78, 58), P(140, 82));
      d.shock(P(88, 14), P(118, 72));
      d.jaws(P(88, 14), P(118, 72), 22.0);
      break;
    case Sketch::linkLength:
      d.link(P(34, 60), P(134, 60));
      d.solid(P(66, 60), P(102, 60), 6.0);
      d.jaws(P(34, 56), P(134, 56), 26.0);
      break;
    case Sketch::wheelPlay:
      hanging(d);
      d.link(P(78, 58), P(116, 64));
      d.wheelFront(132.0, 0.0, 4.0);
      d.between(P(156, 56), P(156, 76));
      d.say(P(48, 36), SketchWords::tr("before the arm moves"));
      break;
    case Sketch::endFloat:
      d.solid(P(20, 56), P(148, 56), 6.0);
      d.gauge(QRectF(66, 40, 12, 32));
      d.gauge(QRectF(94, 40, 12, 32));
      d.solid(P(124, 36), P(124, 76), 4.0);
      d.between(P(108, 84), P(122, 84));
      d.between(P(28, 36), P(56, 36));
      break;
    case Sketch::post:
      d.circle(P(84, 56), 14.0);
      d.circle(P(84, 56), 24.0);
      d.solid(P(74, 56), P(94, 56), 3.0);
      d.angle(P(84, 56), 36.0, 60.0, -120.0);
      d.say(P(84, 98), SketchWords::tr("half a turn back"));
      break;
  }
}

template <std::size_t n>
std::optional<Sketch> among(const std::array<std::pair<std::string_view, Sketch>, n>& rows, std::string_view id) {
  for (const auto& [name, sketch] : rows)
    if (name == id) return sketch;
  return std::nullopt;
}

using Row = std::pair<std::string_view, Sketch>;
using S = Sketch;

constexpr std::array figure_rows = std::to_array<Row>({
    {"camber", S::camber},
    {"toe", S::toe},
    {"track", S::track},
    {"wheelbase", S::wheelbase},
    {"ride_height", S::rideHeight},
    {"camber_gain", S::camberGain},
    {"contact_path", S::contactPath},
    {"scrub_radius", S::scrub},
    {"trail", S::trail},
    {"roll_centre", S::rollCentre},
    {"roll_centre_locked", S::rollCentre},
    {"roll_centre_drawn", S::rollCentre},
    {"roll_centre_across", S::rollCentre},
    {"roll_centre_shift", S::rollCentre},
    {"roll_centre_then", S::rollCentre},
    {"swing_arm", S::swingArm},
    {"caster", S::caster},
    {"caster_gain", S::caster},
    {"kingpin_inclination", S::kingpin},
    {"bump_steer", S::bumpSteer},
    {"bump_steer_total", S::bumpSteer},
    {"bump_steer_at_lock", S::bumpSteer},
    {"tie_to_arm", S::bumpSteer},
    {"tie_to_steering_arm", S::steering},
    {"tie_rods_differ", S::steering},
    {"steering_ratio", S::steering},
    {"usable_servo", S::steering},
    {"end_point", S::steering},
    {"lock_lost", S::steering},
    {"horn_from_square", S::steering},
    {"servo_trim", S::steering},
    {"camber_in_roll", S::roll},
    {"side_swing_arm", S::antiDive},
    {"anti_braking", S::antiDive},
    {"anti_power", S::antiDive},
    {"steer_angle", S::lock},
    {"lock_inside", S::lock},
    {"lock_outside", S::lock},
    {"ackermann", S::ackermann},
    {"ackermann_error", S::ackermann},
    {"ackermann_at_lock", S::ackermann},
    {"ackermann_error_at_lock", S::ackermann},
    {"turning_radius", S::ackermann},
    {"droop", S::travel},
    {"bump", S::travel},
    {"shock_length", S::shock},
    {"shock_lean", S::motionRatio},
    {"motion_ratio", S::motionRatio},
    {"motion_ratio_change", S::motionRatio},
    {"shock_left_bump", S::strokeLeft},
    {"shock_left_droop", S::strokeLeft},
    {"stroke", S::strokeLeft},
    {"shaft_depth", S::shaftCup},
    {"shaft_hold", S::shaftCup},
    {"shaft_room", S::shaftCup},
    {"shaft_angle", S::shaftCup},
    {"roll", S::roll},
    {"roll_gradient", S::roll},
    {"roll_on_tyres", S::roll},
    {"roll_on_hard_tyres", S::roll},
    {"roll_on_soft_tyres", S::roll},
    {"front_transfer", S::roll},
    {"rise", S::roll},
    {"roll_frequency", S::roll},
    {"roll_damping_ratio", S::roll},
    {"roll_damping", S::roll},
    {"roll_stiffness", S::roll},
    {"bar_stiffness", S::roll},
    {"pitch", S::antiDive},
    {"front_weight", S::scales},
    {"left_weight", S::scales},
    {"cross_weight", S::scales},
    {"wheel_load", S::scales},
    {"height", S::rideHeight},
    {"camber_under_load", S::camber},
    {"toe_under_load", S::toe},
    {"wheel_rate", S::spring},
    {"wheel_rate_out", S::spring},
    {"wheel_rate_pressed", S::spring},
    {"preload", S::spring},
    {"third_in", S::spring},
    {"third_spring", S::spring},
    {"third_ratio", S::spring},
    {"ride_frequency", S::spring},
    {"damping", S::spring},
    {"damping_ratio", S::spring},
    {"sag", S::spring},
});

constexpr std::array gauge_rows = std::to_array<Row>({
    {"ride_height", S::rideHeight}, {"shock_length", S::shock},     {"shock_pulled_out", S::shaftOut},
    {"shaft_exposed", S::shaftOut}, {"stroke_left", S::strokeLeft}, {"collar", S::collar},
    {"down_stop", S::downStop},     {"tyre_droop", S::tyreDroop},   {"shock_droop", S::shockDroop},
    {"link_length", S::linkLength}, {"camber", S::camber},          {"toe", S::toe},
    {"toe_pressed", S::toePressed}, {"lock_hanging", S::lock},      {"lock_level", S::lock},
    {"lock_pressed", S::lock},      {"lock_inside", S::lock},       {"lock_outside", S::lock},
    {"bar_lift", S::bar},           {"corner_scale", S::scales},    {"pull_down", S::pullDown},
    {"wheel_play", S::wheelPlay},   {"end_float", S::endFloat},     {"axle_float", S::endFloat},
    {"post_play", S::post},
});

}  // namespace

void paintSketch(QPainter& p, const QRectF& into, Sketch sketch, const Tokens& tokens) {
  p.save();
  const double scale = std::min(into.width() / sketchWidth, into.height() / sketchHeight);
  p.translate(into.center() - 0.5 * scale * QPointF(sketchWidth, sketchHeight));
  p.scale(scale, scale);
  Pencil pencil(p, tokens);
  draw(pencil, sketch);
  p.restore();
}

std::optional<Sketch> sketchOf(const FigureSpec& figure) {
  return among(figure_rows, figure.id);
}

std::optional<Sketch> sketchOf(GaugeKind gauge) {
  return among(gauge_rows, gauge->id);
}

QString sketchHtml(Sketch sketch, const QPalette& palette) {
  const bool dark = &tokens(palette) == &tokens(Shade::dark);
  static QHash<int, QString> made;
  QString& html = made[2 * static_cast<int>(sketch) + (dark ? 1 : 0)];
  if (!html.isEmpty()) return html;
  QPixmap picture(QSizeF(1.5 * sketchWidth, 1.5 * sketchHeight).toSize());
  const Tokens& t = tokens(palette);
  picture.fill(t.surface);
  {
    QPainter p(&picture);
    paintSketch(p, QRectF(picture.rect()), sketch, t);
  }
  QByteArray png;
  QBuffer buffer(&png);
  buffer.open(QIODevice::WriteOnly);
  picture.save(&buffer, "PNG");
  html = QStringLiteral("<img src='data:image/png;base64,%1'>").arg(QString::fromLatin1(png.toBase64()));
  return html;
}

SketchLabel::SketchLabel(const QString& name, QWidget* parent) : QWidget(parent) {
  setObjectName(name);
  setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
  setFixedSize(sizeHint());
  hide();
}

QSize SketchLabel::sizeHint() const {
  return (times_ * QSizeF(sketchWidth, sketchHeight)).toSize();
}

void SketchLabel::setEnlarged(double times) {
  times_ = times;
  setFixedSize(sizeHint());
}

void SketchLabel::show(const std::optional<Sketch>& sketch) {
  sketch_ = sketch;
  setVisible(sketch.has_value());
  update();
}

void SketchLabel::paintEvent(QPaintEvent*) {
  if (!sketch_) return;
  QPainter p(this);
  paintSketch(p, QRectF(rect()), *sketch_, tokens(palette()));
}

}  // namespace lowkite::app
