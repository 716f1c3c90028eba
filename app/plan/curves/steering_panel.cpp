#include "app/plan/curves/steering_panel.h"

#include <algorithm>
#include <cmath>

#include <QHBoxLayout>
#include <QImage>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolTip>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int mapTravels = 25;
constexpr int mapServos = 41;

QString lockSentence(const LockFigures& lock, Side way) {
  const auto tr = [](const char* text) { return SteeringPanel::tr(text); };
  const LockEnd& end = lock.usable[at(way)];
  const QString where = std::abs(end.travel_mm) < 0.05 ? tr("at ride height")
                        : end.travel_mm > 0            ? tr("at %1 mm of bump").arg(number(end.travel_mm, 1))
                                                       : tr("at %1 mm of droop").arg(number(-end.travel_mm, 1));
  const double lost = degrees(lock.at_ride_height[at(way)].servo_rad - end.servo_rad);
  QString text = tr("<b>%1: %2 deg of servo.</b> Ends%3: %4 (%5 wheel).")
                     .arg(way == Side::left ? tr("Left") : tr("Right"), number(degrees(end.servo_rad), 1),
                          lost >= 0.05 ? QLatin1Char(' ') + where : QString(),
                          QString::fromStdString(end.what).toHtmlEscaped(), sideTitle(end.wheel));
  text += lost >= 0.05 ? tr(" Set at ride height only it would be %1 deg more, and the servo would stall there.")
                             .arg(number(lost, 1))
                       : tr(" Travel takes nothing from it.");
  if (lock.end_point_rad[at(way)] < end.servo_rad - lock_alike_rad)
    text += tr(" End point set to %1 deg for the lock that is wanted.")
                .arg(number(degrees(lock.end_point_rad[at(way)]), 1));
  return text;
}

QString remedyText(const Car& car, const LockRemedy& r) {
  const auto tr = [](const char* text) { return SteeringPanel::tr(text); };
  const Adjuster& a = car.adjusters[r.adjuster];
  const QString name = QString::fromStdString(a.name).toLower().toHtmlEscaped();
  const QString then = tr("both ways then %1 deg of servo").arg(number(degrees(r.least_rad), 1));
  if (a.steering && a.threaded()) {
    const double turns = r.to.left - r.from.left;
    return tr("%1 the %2 %3: %4").arg(turns > 0.0 ? tr("lengthen") : tr("shorten"), name, turnsText(turns), then);
  }
  if (a.steering) return tr("%1 to %2: %3").arg(name, valueText(a, r.to.left), then);
  return tr("%1 alike left and right, at %2: %3").arg(name, valueText(a, r.to.left), then);
}

}  // namespace

QString SteeringPanel::whyTheyDiffer(const LockFigures& lock) {
  const double apart = lock_apart(lock);
  if (std::abs(apart) < lock_alike_rad) {
    background_.giveUp();
    askedWhy_.reset();
    return {};
  }
  const auto car = model_.document().sharedCar();
  const Setup& setup = model_.comparison()->changed->setup;
  const QString differ = tr("Left and right differ by %1 deg of servo").arg(number(degrees(std::abs(apart)), 1));
  if (askedWhy_ != setup || askedCar_ != car) {
    askedWhy_ = setup;
    askedCar_ = car;
    why_.reset();
    background_.start(
        [car, setup](const std::atomic<bool>& cancelled) {
          return explain_lock(*car, setup, [&] { return !cancelled; });
        },
        [this](std::optional<LockExplanation> found) {
          why_ = std::move(found);
          refresh();
        });
  }
  if (background_.busy()) return tr("%1; looking for the part ...").arg(differ);
  if (!why_ || why_->remedies.empty())
    return tr("%1. No single part of the steering, and none that stands unlike left and right, makes them alike: "
              "measure the cranks' and tie rods' points, or look for something bent.")
        .arg(differ);
  QStringList ways;
  for (const LockRemedy& r : why_->remedies) {
    if (ways.size() == 2) break;
    ways << remedyText(*car, r);
  }
  return tr("%1. Alike by one change: %2.").arg(differ, ways.join(tr("; or ")));
}

LockMapView::LockMapView(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("lockMap"));
  setAccessibleName(tr("Map over travel and steering"));
  setMouseTracking(true);
  setMinimumSize(200, 110);
  connect(&model_, &PlanModel::comparisonChanged, this, &LockMapView::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &LockMapView::refresh);
}

void LockMapView::setShows(Shows shows) {
  shows_ = shows;
  update();
}

void LockMapView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void LockMapView::refresh() {
  const Comparison* c = model_.comparison();
  if (!c || !isVisible()) return;
  update();
  const std::shared_ptr<const Variant>& v = c->changed;
  if (v == mapped_ && model_.shownSide() == mappedSide_) return;
  mapped_ = v;
  mappedSide_ = model_.shownSide();
  map_ = {};
  if (!v->model.steering || !v->source.travel.lock) return;
  const auto standing = pose_axle(v->model, End::front, static_attitude(v->model));
  if (!standing) return;
  const LockFigures& lock = *v->source.travel.lock;
  const double most = 1.12 * std::max(lock.usable[0].servo_rad, lock.usable[1].servo_rad);
  map_ = map_lock(v->model, mappedSide_, standing->corner[at(mappedSide_)],
                  v->source.travel.corner[0][at(mappedSide_)].stops, most, mapTravels, mapServos);
  level_ = static_cast<std::size_t>(std::min_element(map_.travel_mm.begin(), map_.travel_mm.end(),
                                                     [](double a, double b) { return std::abs(a) < std::abs(b); }) -
                                    map_.travel_mm.begin());
}

QRectF LockMapView::frame() const {
  return QRectF(rect()).adjusted(44, 6, -8, -32);
}

QPointF LockMapView::toScreen(double servo_rad, double travel_mm) const {
  const QRectF f = frame();
  const double most = map_.servo_rad.back();
  const double low = map_.travel_mm.front();
  const double high = map_.travel_mm.back();
  // A car that has next to no travel, or a servo no throw, would put it thousands of screens away: filled to there, the
  // window would stand still for half a minute.
  static constexpr double farthest = 20.0;  // frames
  const auto near = [](double share) { return std::isfinite(share) ? std::clamp(share, -farthest, farthest) : 0.0; };
  return {f.center().x() - 0.5 * f.width() * near(servo_rad / most),
          f.bottom() - f.height() * near((travel_mm - low) / (high - low))};
}

std::optional<double> LockMapView::cell(std::size_t travel, std::size_t servo) const {
  const LockMap::Cell& c = map_.at(travel, servo);
  if (!c.closes) return std::nullopt;
  switch (shows_) {
    case Shows::toe:
      return degrees(c.toe_rad);
    case Shows::camber:
      return degrees(c.camber_rad);
    case Shows::toeChange: {
      const LockMap::Cell& level = map_.at(level_, servo);
      return level.closes ? std::optional(degrees(c.toe_rad - level.toe_rad)) : std::nullopt;
    }
  }
  return std::nullopt;
}

std::optional<double> LockMapView::valueAt(const QPointF& where) const {
  const QRectF f = frame();
  if (map_.cells.empty() || !f.contains(where)) return std::nullopt;
  const auto index = [](double part, std::size_t count) {
    return static_cast<std::size_t>(std::lround(part * static_cast<double>(count - 1)));
  };
  return cell(index((f.bottom() - where.y()) / f.height(), map_.travel_mm.size()),
              index((f.right() - where.x()) / f.width(), map_.servo_rad.size()));
}

void LockMapView::paintEvent(QPaintEvent*) {
  const Tokens& t = tokens(palette());
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.setFont(figureFont(labelSize));
  if (map_.cells.empty()) {
    p.setPen(t.soft);
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
               tr("This car describes no steering linkage, so there is no lock to map."));
    return;
  }
  const auto rows = map_.travel_mm.size();
  const auto columns = map_.servo_rad.size();
  double most = 1e-6;
  double low = 1e9, high = -1e9;
  for (std::size_t i = 0; i < rows; ++i)
    for (std::size_t j = 0; j < columns; ++j)
      if (const auto v = cell(i, j)) {
        most = std::max(most, std::abs(*v));
        low = std::min(low, *v);
        high = std::max(high, *v);
      }
  // Two colours by sign, deeper with size; the figures written in say the same.
  QImage image(static_cast<int>(columns), static_cast<int>(rows), QImage::Format_RGB32);
  const QColor ground = palette().color(QPalette::Base);
  const auto mix = [](const QColor& a, const QColor& b, double f) {
    return qRgb(int(a.red() + f * (b.red() - a.red())), int(a.green() + f * (b.green() - a.green())),
                int(a.blue() + f * (b.blue() - a.blue())));
  };
  for (std::size_t i = 0; i < rows; ++i)
    for (std::size_t j = 0; j < columns; ++j) {
      const auto v = cell(i, j);
      const QRgb colour =
          v ? mix(ground, *v < 0 ? t.base : t.kite, 0.75 * std::sqrt(std::abs(*v) / most)) : t.line.rgb();
      image.setPixel(static_cast<int>(columns - 1 - j), static_cast<int>(rows - 1 - i), colour);
    }
  const QRectF f = frame();
  p.drawImage(f, image);
  p.setPen(QPen(t.soft, 1.0));
  p.drawRect(f);
  // Figures on a coarse grid.
  const int decimals = high - low < 3.0 ? 2 : 1;
  p.setPen(t.ink);
  for (const double y : {0.1, 0.5, 0.9})
    for (const double x : {0.2, 0.35, 0.5, 0.65, 0.8}) {
      const QPointF at(f.left() + x * f.width(), f.top() + y * f.height());
      if (const auto v = valueAt(at))
        p.drawText(QRectF(at.x() - 30, at.y() - 8, 60, 16), Qt::AlignCenter, signedNumber(*v, decimals));
    }
  // End points over the travel, and the smallest of them.
  const LockFigures& lock = *mapped_->source.travel.lock;
  p.save();
  p.setClipRect(f);
  for (const Side way : both_sides) {
    const double sign = way == Side::left ? 1.0 : -1.0;
    QPolygonF line;
    for (const LockSample& s : lock.over_travel) line << toScreen(sign * s.end[at(way)].servo_rad, s.travel_mm);
    QPolygonF outside = line;
    const double edge = way == Side::left ? f.left() : f.right();
    outside << QPointF(edge, f.top()) << QPointF(edge, f.bottom());
    p.setPen(Qt::NoPen);
    p.setBrush(QBrush(t.ink, Qt::BDiagPattern));
    p.setOpacity(0.35);
    p.drawPolygon(outside);
    p.setOpacity(1.0);
    p.setPen(QPen(t.ink, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    p.setPen(QPen(t.bad, 1.5, Qt::DashLine));
    const double x = toScreen(sign * lock.end_point_rad[at(way)], 0.0).x();
    p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
  }
  p.restore();
  // Where the drawing stands.
  const ViewAttitude& a = model_.attitude();
  p.setPen(QPen(t.soft, 1.0));
  const QPointF here = toScreen(std::clamp(a.servo_rad, -map_.servo_rad.back(), map_.servo_rad.back()),
                                std::clamp(a.bump_mm, map_.travel_mm.front(), map_.travel_mm.back()));
  p.drawLine(QPointF(here.x(), f.top()), QPointF(here.x(), f.bottom()));
  p.drawLine(QPointF(f.left(), here.y()), QPointF(f.right(), here.y()));
  // Axes.
  p.setPen(t.soft);
  for (const double deg : {-30.0, -15.0, 0.0, 15.0, 30.0}) {
    if (std::abs(radians(deg)) > map_.servo_rad.back()) continue;
    const double x = toScreen(radians(deg), 0.0).x();
    p.drawLine(QPointF(x, f.bottom()), QPointF(x, f.bottom() + 3));
    p.drawText(QRectF(x - 24, f.bottom() + 3, 48, 14), Qt::AlignCenter, number(std::abs(deg), 0));
  }
  p.drawText(QRectF(f.left(), f.bottom() + 16, f.width(), 14), Qt::AlignLeft, tr("\u2190 left"));
  p.drawText(QRectF(f.left(), f.bottom() + 16, f.width(), 14), Qt::AlignCenter, tr("servo, deg"));
  p.drawText(QRectF(f.left(), f.bottom() + 16, f.width(), 14), Qt::AlignRight, tr("right \u2192"));
  for (const double mm : {map_.travel_mm.front(), 0.0, map_.travel_mm.back()}) {
    const double y = toScreen(0.0, mm).y();
    p.drawText(QRectF(0, y - 8, f.left() - 4, 16), Qt::AlignRight | Qt::AlignVCenter, signedNumber(mm, 1));
  }
}

void LockMapView::takeAttitudeFrom(const QPointF& where) {
  const QRectF f = frame();
  if (map_.cells.empty() || !f.contains(where)) return;
  ViewAttitude a = model_.attitude();
  a.servo_rad = radians(std::round(degrees((f.center().x() - where.x()) / (0.5 * f.width()) * map_.servo_rad.back())));
  const double low = map_.travel_mm.front();
  const double high = map_.travel_mm.back();
  a.bump_mm = std::round((low + (high - low) * (f.bottom() - where.y()) / f.height()) * 2.0) / 2.0;
  model_.setAttitude(a);
}

void LockMapView::mousePressEvent(QMouseEvent* event) {
  takeAttitudeFrom(event->position());
}

void LockMapView::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) takeAttitudeFrom(event->position());
  if (const auto v = valueAt(event->position()))
    QToolTip::showText(event->globalPosition().toPoint(), tr("%1 deg").arg(signedNumber(*v, 2)), this);
}

SteeringPanel::SteeringPanel(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model), background_(this) {
  setObjectName(QStringLiteral("steering"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(4, 0, 8, 2);
  auto* left = new QVBoxLayout;
  left->setSpacing(2);
  shows_ = new Segmented(QStringLiteral("map"), {tr("Toe against level"), tr("Toe"), tr("Camber")}, this);
  map_ = new LockMapView(model, this);
  connect(shows_, &Segmented::chosen, this, [this](int i) { map_->setShows(static_cast<LockMapView::Shows>(i)); });
  left->addWidget(shows_, 0, Qt::AlignLeft);
  left->addWidget(map_, 1);
  words_ = new QLabel(this);
  words_->setObjectName(QStringLiteral("steering.words"));
  words_->setWordWrap(true);
  words_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  words_->setFont(textFont(12));
  shimWords_ = new QLabel(this);
  shimWords_->setObjectName(QStringLiteral("steering.shimWords"));
  shimWords_->setWordWrap(true);
  shimWords_->setFont(textFont(12));
  shim_ = new QPushButton(tr("Find the bump-steer shim"), this);
  shim_->setObjectName(QStringLiteral("steering.shim"));
  shim_->setToolTip(tr("Tries every shim under the balls of the tie rod or toe link, toe re-set each time"));
  connect(shim_, &QPushButton::clicked, this, &SteeringPanel::findShim);
  auto* right = new QVBoxLayout;
  right->setSpacing(4);
  auto* scroll = new QScrollArea(this);
  scroll->setWidget(words_);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setFixedWidth(330);
  right->addWidget(scroll, 1);
  right->addWidget(shimWords_);
  right->addWidget(shim_);
  row->addLayout(left, 1);
  row->addLayout(right);
  connect(&model_, &PlanModel::comparisonChanged, this, &SteeringPanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &SteeringPanel::refresh);
}

void SteeringPanel::findShim() {
  if (!model_.document().hasCar()) return;
  const Car& car = model_.document().car();
  if (found_) {
    const BumpSteerShim shim = *found_;
    model_.setPart(shim.adjuster);
    model_.document().setValue(shim.adjuster, Sides::both, shim.best_mm);
    return;
  }
  const auto all = least_bump_steer(car, model_.document().setup(), model_.end());
  if (all.empty()) {
    shimWords_->setText(tr("The %1 axle has no shims under such a ball.").arg(endTitle(model_.end())));
    return;
  }
  const BumpSteerShim& best = all.front();
  const Adjuster& part = car.adjusters[best.adjuster];
  if (best.best_mm == best.now_mm) {
    shimWords_->setText(tr("No shim makes less: %1 deg in all.").arg(number(degrees(best.span_now_rad), 2)));
    return;
  }
  shimWords_->setText(tr("%1: <b>%2 mm</b>, %3 deg in all instead of %4.")
                          .arg(QString::fromStdString(part.name).toHtmlEscaped(), QString::number(best.best_mm),
                               number(degrees(best.span_best_rad), 2), number(degrees(best.span_now_rad), 2)));
  found_ = best;
  shim_->setText(tr("Try it"));
}

void SteeringPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void SteeringPanel::refresh() {
  const Comparison* c = model_.comparison();
  if (!c) return;
  // What was found was found for another setup or axle.
  if (!told_ || *told_ != std::pair(c->changed->setup, model_.end())) {
    found_.reset();
    shimWords_->clear();
    shim_->setText(tr("Find the bump-steer shim"));
    told_ = std::pair(c->changed->setup, model_.end());
  }
  const auto& lock = c->changed->source.travel.lock;
  QStringList parts;
  if (lock) {
    parts << lockSentence(*lock, Side::left) << lockSentence(*lock, Side::right);
    if (const QString why = whyTheyDiffer(*lock); !why.isEmpty()) parts << why;
  }
  const QString text = parts.join(QStringLiteral("<br>"));
  if (words_->text() != text) words_->setText(text);
}

}  // namespace lowkite::app
