#include "app/plan/handling/film_page.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/handling/handling_words.h"
#include "app/plan/springs/fields.h"
#include "app/widgets/tables.h"

namespace lowkite::app {
namespace {

constexpr double slipDrawn = 3.0;  ///< a slip angle is drawn so many times as wide
constexpr int pictureMs = 33;
constexpr double slowDown = 3.0;
constexpr int places = 1000;
constexpr double trackEdge = 0.05;  ///< m of nothing round the map

/// Of the screen, for a place of the corner: ahead is up, left is left.
QPointF fromAbove(double x, double y) {
  return {-y, -x};
}

QString endText(const CornerFilm& film) {
  switch (film.end) {
    case FilmEnd::through:
      return {};
    case FilmEnd::off_line:
      return FilmPage::tr("runs off its line");
    case FilmEnd::spun:
      return FilmPage::tr("spins");
    case FilmEnd::off_wheels:
      return FilmPage::tr("leaves its wheels");
  }
  return {};
}

double meanSlipDeg(const CornerMoment& m, End end, double sense) {
  const auto l = at(wheel_of(end, Side::left));
  return sense * degrees(0.5 * (m.wheel[l].slip_rad + m.wheel[l + 1].slip_rad));
}

}  // namespace

FilmView::FilmView(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("handling.film"));
  setMinimumSize(420, 150);
}

void FilmView::show(std::shared_ptr<const FilmPair> films) {
  films_ = std::move(films);
  update();
}

void FilmView::setStale(bool stale) {
  stale_ = stale;
  update();
}

void FilmView::setPlace(double along_m) {
  along_ = along_m;
  update();
}

void FilmView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (!films_) return;
  if (stale_) p.setOpacity(0.4);
  const double map = 0.42 * width();
  paintMap(p, QRectF(0.0, 0.0, map, height()));
  paintCar(p, QRectF(map, 0.0, width() - map, height()));
}

void FilmView::paintMap(QPainter& p, const QRectF& area) const {
  const Tokens& t = tokens(palette());
  const CornerLine& line = films_->line;
  constexpr int steps = 160;
  QPolygonF way;
  for (int i = 0; i <= steps; ++i) {
    const auto at = line.at(line.length_m() * i / steps);
    way << fromAbove(at.x_m, at.y_m);
  }
  const auto trail = [](const CornerFilm& film) {
    QPolygonF points;
    for (const CornerMoment& m : film.moments) points << fromAbove(m.x_m, m.y_m);
    return points;
  };
  const QRectF all = way.boundingRect().adjusted(-trackEdge, -trackEdge, trackEdge, trackEdge);
  constexpr double edge = 22.0;
  const double scale = std::min((area.width() - 2.0 * edge) / all.width(), (area.height() - 2.0 * edge) / all.height());
  const auto put = [&](const QPointF& q) { return area.center() + scale * (q - all.center()); };
  const auto putAll = [&](const QPolygonF& points) {
    QPolygonF on;
    for (const QPointF& q : points) on << put(q);
    return on;
  };
  p.save();
  p.setClipRect(area);
  p.setPen(QPen(t.line, 9.0, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.drawPolyline(putAll(way));
  if (films_->film_before) {
    p.setPen(QPen(t.base, 1.6, Qt::DashLine));
    p.drawPolyline(putAll(trail(*films_->film_before)));
  }
  p.setPen(QPen(t.kite, 2.0));
  p.drawPolyline(putAll(trail(films_->film_after)));
  // Where one phase ends and the next begins.
  p.setFont(textFont(labelSize));
  const auto border = [&](double along) {
    const auto at = line.at(along);
    const QPointF place = put(fromAbove(at.x_m, at.y_m));
    const QPointF aside = fromAbove(-std::sin(at.heading_rad), std::cos(at.heading_rad));
    p.setPen(QPen(t.soft, 1.5));
    p.drawLine(place - 9.0 * aside, place + 9.0 * aside);
  };
  border(line.middle_from_m());
  border(line.middle_to_m());
  const auto name = [&](double along, const QString& text) {
    const auto at = line.at(along);
    // Inside of the turn, where no trail lies.
    const double sense = films_->after->ask().to_the_left ? 1.0 : -1.0;
    const QPointF aside = sense * fromAbove(-std::sin(at.heading_rad), std::cos(at.heading_rad));
    const QRectF bounds = p.fontMetrics().boundingRect(text);
    const QPointF place = put(fromAbove(at.x_m, at.y_m)) + (14.0 + 0.5 * std::abs(aside.x()) * bounds.width()) * aside;
    p.setPen(t.soft);
    p.drawText(QRectF(place.x() - 0.5 * bounds.width() - 2.0, place.y() - 8.0, bounds.width() + 4.0, 16.0),
               Qt::AlignCenter, text);
  };
  name(0.5 * line.middle_from_m(), tr("entry"));
  name(0.5 * (line.middle_from_m() + line.middle_to_m()), tr("middle"));
  name(0.5 * (line.middle_to_m() + line.length_m()), tr("exit"));
  const auto car = [&](const CornerMoment& m, const QColor& colour, bool filled) {
    p.save();
    p.translate(put(fromAbove(m.x_m, m.y_m)));
    p.rotate(-degrees(m.heading_rad));
    const QPolygonF arrow({QPointF(0, -11), QPointF(6, 8), QPointF(0, 4), QPointF(-6, 8)});
    p.setPen(QPen(colour, 1.6, filled ? Qt::SolidLine : Qt::DashLine));
    p.setBrush(filled ? QBrush(colour) : QBrush(Qt::NoBrush));
    p.drawPolygon(arrow);
    p.restore();
  };
  if (films_->film_before) car(films_->film_before->at(along_), t.base, false);
  car(films_->film_after.at(along_), t.kite, true);
  p.restore();
}

void FilmView::paintCar(QPainter& p, const QRectF& area) const {
  const Tokens& t = tokens(palette());
  const CornerMoment& now = films_->film_after.at(along_);
  const SetupTable& table = *films_->after;
  double ahead = 0.0, behind = 0.0, aside = 0.0;
  for (std::size_t w = 0; w < wheel_count; ++w) {
    ahead = std::max(ahead, table.x_m()[w]);
    behind = std::min(behind, table.x_m()[w]);
    aside = std::max(aside, std::abs(table.y_m()[w]));
  }
  constexpr double numbers = 66.0;  // px beside a wheel, for what it does
  const double radius = table.radius_m()[0];
  // Ahead of the front wheels their slip is drawn.
  constexpr double above = 3.0, below = 1.3;  // in wheel radii
  const double tall = ahead - behind + (above + below) * radius, wide = 2.0 * aside + 2.0 * radius;
  const double scale = std::min((area.height() - 24.0) / tall, (area.width() - 2.0 * numbers) / wide);
  const QPointF middle = area.center() + QPointF(0.0, -6.0 + 0.5 * scale * (ahead + behind + (above - below) * radius));
  const double sense = table.ask().to_the_left ? 1.0 : -1.0;

  const auto draw = [&](const CornerMoment& m, const SetupTable& of, const QPointF& at, double turned, bool ghost) {
    const QColor colour = ghost ? t.base : t.ink;
    p.save();
    p.translate(at);
    p.rotate(-degrees(turned));
    const Qt::PenStyle style = ghost ? Qt::DashLine : Qt::SolidLine;
    // Chassis: a plate from axle to axle with a nose.
    QPainterPath body;
    const double half = 0.42 * scale * aside;
    body.moveTo(-half, -scale * (behind - 0.8 * radius));
    body.lineTo(half, -scale * (behind - 0.8 * radius));
    body.lineTo(half, -scale * ahead);
    body.quadTo(QPointF(0.0, -scale * (ahead + 2.6 * radius)), QPointF(-half, -scale * ahead));
    body.closeSubpath();
    p.setPen(QPen(colour, ghost ? 1.2 : 1.6, style));
    p.setBrush(Qt::NoBrush);
    p.drawPath(body);
    for (const End end : both_ends)
      for (const Side side : both_sides) {
        const auto w = static_cast<std::size_t>(wheel_of(end, side));
        const WheelTrim& wheel = m.wheel[w];
        const QPointF place = scale * fromAbove(of.x_m()[w], of.y_m()[w]);
        const bool carries = wheel.load_n > 0.01;
        const auto ray = [&](double angle, double length) {
          return place + scale * length * fromAbove(std::cos(angle), std::sin(angle));
        };
        // Between where it points and where it goes.
        const double way = wheel.heading_rad - slipDrawn * wheel.slip_rad;
        const double length = 2.6 * of.radius_m()[static_cast<std::size_t>(end)];
        if (!ghost && carries) {
          QColor wedge = t.kite;
          wedge.setAlpha(70);
          p.setPen(Qt::NoPen);
          p.setBrush(wedge);
          p.drawPolygon(QPolygonF({place, ray(wheel.heading_rad, length), ray(way, length)}));
          p.setPen(QPen(t.kite, 1.6));
          p.drawLine(place, ray(way, length));
        }
        p.save();
        p.translate(place);
        p.rotate(-degrees(wheel.heading_rad));
        const double r = scale * of.radius_m()[static_cast<std::size_t>(end)], b = 0.42 * r;
        p.setPen(QPen(colour, ghost ? 1.2 : 2.0, style));
        p.setBrush(ghost || !carries ? QBrush(Qt::NoBrush) : QBrush(t.line));
        p.drawRoundedRect(QRectF(-b, -r, 2.0 * b, 2.0 * r), 3.0, 3.0);
        p.restore();
        if (ghost) continue;
        const double push = wheel.sideways_n / (table.mean_load_n()) * 1.6 * radius;
        const QPointF tip =
            ray(wheel.heading_rad + std::copysign(0.5 * std::numbers::pi, wheel.sideways_n), std::abs(push));
        if (std::abs(push) * scale > 3.0) {
          p.setPen(QPen(t.good, 2.4));
          p.drawLine(place, tip);
        }
      }
    if (!ghost) {
      // Where the car goes, from its centre of gravity.
      p.setPen(QPen(t.kite, 1.6, Qt::DotLine));
      const double way = slipDrawn * m.body_slip_rad;
      p.drawLine(QPointF(), scale * 4.0 * radius * fromAbove(std::cos(way), std::sin(way)));
      p.setBrush(t.ink);
      p.setPen(Qt::NoPen);
      p.drawEllipse(QPointF(), 3.5, 3.5);
    }
    p.restore();
  };
  p.save();
  p.setClipRect(area);
  if (films_->film_before) {
    const CornerMoment& then = films_->film_before->at(along_);
    // In the frame of the car now, whose nose is up.
    const double dx = then.x_m - now.x_m, dy = then.y_m - now.y_m;
    const double c = std::cos(now.heading_rad), s = std::sin(now.heading_rad);
    draw(then, *films_->before, middle + scale * fromAbove(dx * c + dy * s, -dx * s + dy * c),
         then.heading_rad - now.heading_rad, true);
  }
  draw(now, table, middle, 0.0, false);
  p.setFont(figureFont(12));
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      const auto w = at(wheel_of(end, side));
      const QPointF place = middle + scale * fromAbove(table.x_m()[w], table.y_m()[w]);
      const bool left = side == Side::left;
      const double off = scale * 1.1 * radius;
      const QRectF box(left ? place.x() - off - numbers : place.x() + off, place.y() - 38.0, numbers, 34.0);
      p.setPen(t.ink);
      const QString slip = QStringLiteral("%1\u00B0").arg(signedNumber(sense * degrees(now.wheel[w].slip_rad), 1));
      const QString does = now.wheel[w].load_n > 0.01 ? tr("%1 %").arg(number(100.0 * now.used[w], 0)) : tr("lifted");
      p.drawText(box, (left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, slip + QLatin1Char('\n') + does);
    }
  p.setFont(textFont(11));
  p.setPen(t.soft);
  p.drawText(area.adjusted(4.0, 0.0, -4.0, 0.0), Qt::AlignBottom | Qt::AlignHCenter,
             tr("slip (drawn three times) and grip used, force across"));
  p.restore();
}

FilmPage::FilmPage(QWidget* parent) : QWidget(parent), work_(this) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  auto* across = new QHBoxLayout;
  view_ = new FilmView(this);
  across->addWidget(view_, 1);
  auto* side = new QVBoxLayout;
  where_ = new QLabel(this);
  where_->setObjectName(QStringLiteral("handling.filmWhere"));
  where_->setProperty("role", "heading");
  side->addWidget(where_);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("handling.filmFigures"));
  dressTable(*table_, {{tr("At this place")}, {tr("pinned"), 74, Qt::AlignRight}, {tr("now"), 74, Qt::AlignRight}});
  table_->setFixedWidth(330);
  side->addWidget(table_, 1);
  across->addLayout(side);
  column->addLayout(across, 1);
  auto* row = new QHBoxLayout;
  play_ = new QPushButton(tr("Play"), this);
  play_->setObjectName(QStringLiteral("handling.filmPlay"));
  play_->setCheckable(true);
  play_->setMinimumHeight(targetHeight);
  play_->setFixedWidth(84);
  place_ = new QSlider(Qt::Horizontal, this);
  place_->setObjectName(QStringLiteral("handling.filmPlace"));
  place_->setAccessibleName(tr("Place along the line of the corner"));
  place_->setRange(0, places);
  place_->setValue(places / 2);
  place_->setPageStep(places / 20);
  place_->setMinimumHeight(targetHeight);
  row->addWidget(play_);
  row->addWidget(place_, 1);
  column->addLayout(row);
  news_ = quietLabel({}, this);
  news_->setObjectName(QStringLiteral("handling.filmNews"));
  column->addWidget(news_);
  clock_.setInterval(pictureMs);
  connect(place_, &QSlider::valueChanged, this, &FilmPage::showPlace);
  connect(play_, &QPushButton::toggled, this, &FilmPage::play);
  connect(&clock_, &QTimer::timeout, this, [this] {
    if (!films_) return play_->setChecked(false);
    const double speed = films_->film_after.at(along()).speed_m_s;
    const double on = speed * pictureMs / 1000.0 / slowDown / films_->line.length_m();
    const int next = place_->value() + std::max(1, static_cast<int>(std::lround(places * on)));
    if (next >= places) play_->setChecked(false);
    place_->setValue(std::min(places, next));
  });
}

double FilmPage::along() const {
  return films_ ? films_->line.length_m() * place_->value() / places : 0.0;
}

void FilmPage::play(bool on) {
  play_->setText(on ? tr("Stop") : tr("Play"));
  if (on && place_->value() == places) place_->setValue(0);
  on ? clock_.start() : clock_.stop();
}

void FilmPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  play_->setChecked(false);
}

void FilmPage::giveUp() {
  work_.giveUp();
}

void FilmPage::clear() {
  work_.giveUp();
  films_.reset();
  view_->show({});
  showPlace();
}

void FilmPage::drive(const HandlingStudy& study) {
  if (!study.wrong.isEmpty() || !study.after) return clear();
  view_->setStale(true);
  work_.start(
      [s = study](const std::atomic<bool>& cancelled) {
        auto pair = std::make_shared<FilmPair>(FilmPair{CornerLine::of(s.ask), nullptr, s.after, {}, {}});
        const TyreDraw tyre = middle_of(s.tyres, s.weights);
        const auto goOn = [&] { return !cancelled; };
        pair->film_after = drive_corner(*s.after, tyre, pair->line, goOn);
        if (s.differs()) {
          pair->before = s.before;
          pair->film_before = drive_corner(*s.before, tyre, pair->line, goOn);
        }
        return std::shared_ptr<const FilmPair>(std::move(pair));
      },
      [this](std::shared_ptr<const FilmPair> films) {
        films_ = std::move(films);
        view_->setStale(false);
        view_->show(films_);
        showPlace();
      });
}

void FilmPage::showPlace() {
  view_->setPlace(along());
  table_->setRowCount(0);
  play_->setEnabled(films_ != nullptr);
  if (!films_) {
    where_->clear();
    news_->clear();
    return;
  }
  const double at = along();
  const CornerMoment& now = films_->film_after.at(at);
  QString where = tr("%1, %2 m along the line").arg(phaseTitle(films_->line.phase_at(at)), number(at, 1));
  const double last = films_->film_after.moments.back().along_m;
  if (at > last) where += tr("; now it came to %1 m").arg(number(last, 1));
  where_->setText(where);
  const CornerMoment* then = films_->film_before ? &films_->film_before->at(at) : nullptr;
  const double sense = films_->after->ask().to_the_left ? 1.0 : -1.0;
  const Tokens& t = tokens(palette());
  const auto row = [&](const QString& title, int decimals, bool sign, const auto& read) {
    const auto written = [&](const CornerMoment& m) {
      return sign ? signedNumber(read(m), decimals) : number(read(m), decimals);
    };
    const QString is = written(now);
    const QString was = then ? written(*then) : QString();
    table_->insertRow(table_->rowCount());
    putRow(*table_, table_->rowCount() - 1, {title, was, is}, t, then && was != is);
  };
  row(tr("servo, deg"), 1, true, [&](const CornerMoment& m) { return sense * degrees(m.servo_rad); });
  row(tr("front slip, deg"), 1, true, [&](const CornerMoment& m) { return meanSlipDeg(m, End::front, sense); });
  row(tr("rear slip, deg"), 1, true, [&](const CornerMoment& m) { return meanSlipDeg(m, End::rear, sense); });
  row(tr("front grip used, %"), 0, false, [](const CornerMoment& m) { return 100.0 * m.end_used[0]; });
  row(tr("rear grip used, %"), 0, false, [](const CornerMoment& m) { return 100.0 * m.end_used[1]; });
  row(tr("outside of its line, cm"), 1, true, [](const CornerMoment& m) { return 100.0 * m.off_line_m; });
  row(tr("nose into the turn, deg"), 1, true, [&](const CornerMoment& m) { return -sense * degrees(m.body_slip_rad); });
  row(tr("speed, m/s"), 2, false, [](const CornerMoment& m) { return m.speed_m_s; });
  row(tr("across, g"), 2, false, [](const CornerMoment& m) { return m.lateral_g; });
  row(tr("lengthways, g"), 2, true, [](const CornerMoment& m) { return m.lengthways_g; });
  QStringList news;
  if (const QString e = endText(films_->film_after); !e.isEmpty()) news << tr("Now the car %1.").arg(e);
  if (films_->film_before)
    if (const QString e = endText(*films_->film_before); !e.isEmpty()) news << tr("Pinned it %1.").arg(e);
  news << tr(
      "One tyre, in the middle of what is believed of them; the same driver, who looks ahead, for both. It goes by the "
      "place, "
      "not by the clock.");
  if (films_->film_after.damping_assumed)
    news << tr("The car file does not tell how its roll is damped: an assumption.");
  news_->setText(news.join(QLatin1Char(' ')));
}

}  // namespace lowkite::app
