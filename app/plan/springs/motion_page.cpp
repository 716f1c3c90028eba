#include "app/plan/springs/motion_page.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/springs/fields.h"
#include "app/widgets/form_column.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

QString eventText(RoadEvent e) {
  switch (e) {
    case RoadEvent::bump:
      return MotionPage::tr("a bump, both sides");
    case RoadEvent::kerb:
      return MotionPage::tr("a kerb under the left side");
    case RoadEvent::landing:
      return MotionPage::tr("a landing, level");
    case RoadEvent::steer_step:
      return MotionPage::tr("a step of the steering");
  }
  return {};
}

struct MotionCurve {
  enum : int { heave, roll, pitch, loadFront, loadRear, travelFront, travelRear, clear };
};

double motionValue(int what, const MotionSample& s) {
  switch (what) {
    case MotionCurve::heave:
      return s.heave_mm;
    case MotionCurve::roll:
      return s.roll_deg;
    case MotionCurve::pitch:
      return s.pitch_deg;
    case MotionCurve::loadFront:
      return grams(s.load_n[0][0]);
    case MotionCurve::loadRear:
      return grams(s.load_n[1][0]);
    case MotionCurve::travelFront:
      return s.travel_mm[0][0];
    case MotionCurve::travelRear:
      return s.travel_mm[1][0];
    default:
      return std::min(s.clear_mm[0], s.clear_mm[1]);
  }
}

}  // namespace

MotionPage::MotionPage(SprungCars& cars, QWidget* parent) : QWidget(parent), cars_(cars), background_(this) {
  setObjectName(QStringLiteral("motion"));
  const auto [column, across] = formColumn(this);
  event_ = new QComboBox(this);
  event_->setObjectName(QStringLiteral("motion.event"));
  event_->setAccessibleName(tr("What happens to the car"));
  event_->setMinimumHeight(targetHeight);
  for (const RoadEventSpec& e : road_events()) event_->addItem(eventText(e.event), static_cast<int>(e.event));
  what_ = new QComboBox(this);
  what_->setObjectName(QStringLiteral("motion.what"));
  what_->setAccessibleName(tr("What the chart shows"));
  what_->setMinimumHeight(targetHeight);
  what_->addItems({tr("heave, mm"), tr("roll, deg"), tr("nose down, deg"), tr("load front L, g"), tr("load rear L, g"),
                   tr("travel front L, mm"), tr("travel rear L, mm"), tr("under the plate, mm")});
  auto* top = new QHBoxLayout;
  top->addWidget(event_, 3);
  top->addWidget(what_, 2);
  column->addLayout(top);
  const RoadCase usual;
  speed_ =
      numberField(this, QStringLiteral("motion.speed"), tr("Speed"), 0.5, 30.0, usual.speed_m_s, 1, 1.0, tr(" m/s"));
  height_ = numberField(this, QStringLiteral("motion.height"), tr("Height of the bump or kerb"), 0.0, 60.0,
                        usual.height_mm, 1, 1.0, tr(" mm"));
  length_ = numberField(this, QStringLiteral("motion.length"), tr("Its length"), 5.0, 2000.0, usual.length_mm, 0, 20.0,
                        tr(" mm"));
  drop_ = numberField(this, QStringLiteral("motion.drop"), tr("How far it falls"), 0.0, 3000.0, usual.drop_mm, 0, 50.0,
                      tr(" mm"));
  lateral_ = numberField(this, QStringLiteral("motion.lateral"), tr("Cornering that it is steered into"), 0.1, 4.0,
                         usual.lateral_g, 1, 0.1, tr(" g"));
  celsius_ = numberField(this, QStringLiteral("motion.celsius"), tr("Temperature of the shock oil"), -10.0, 90.0,
                         usual.oil_celsius, 0, 5.0, tr(" \u00B0C"));
  auto* fields = new QHBoxLayout;
  fields->setSpacing(6);
  for (QDoubleSpinBox* s : {speed_, height_, length_, drop_, lateral_, celsius_}) {
    fields->addWidget(s);
    connect(s, &QDoubleSpinBox::valueChanged, this, &MotionPage::ask);
  }
  column->addLayout(fields);
  chart_ = new LineChart(QStringLiteral("motion.chart"), this);
  across->addWidget(chart_, 3);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("motion.table"));
  dressTable(*table_, {{tr("On the way")}, {tr("Baseline"), 76, Qt::AlignRight}, {tr("Re-set"), 76, Qt::AlignRight}});
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setWordWrap(true);
  table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  table_->setMinimumWidth(430);
  across->addWidget(table_, 2);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("motion.news"));
  news_->setWordWrap(true);
  column->addWidget(news_);
  tyres_ = quietLabel(QString(), this);
  tyres_->setObjectName(QStringLiteral("motion.tyres"));
  column->addWidget(tyres_);
  column->addWidget(quietLabel(
      tr("Heave, pitch and roll on springs, dampers, bars and stops. Left out: slip, drive and brake torque, "
         "friction, air in the oil; over bumps, jacking. To compare two setups, not to foretell one."),
      this));
  column->addStretch(1);
  connect(event_, &QComboBox::currentIndexChanged, this, [this] {
    showFields();
    ask();
  });
  connect(what_, &QComboBox::currentIndexChanged, this, &MotionPage::showLines);
  connect(&cars_, &SprungCars::changed, this, &MotionPage::ask);
  showFields();
}

void MotionPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  ask();
}

void MotionPage::setEvent(RoadEvent event) {
  event_->setCurrentIndex(event_->findData(static_cast<int>(event)));
}

RoadCase MotionPage::road() const {
  RoadCase r;
  r.event = static_cast<RoadEvent>(event_->currentData().toInt());
  r.speed_m_s = speed_->value();
  r.height_mm = height_->value();
  r.length_mm = length_->value();
  r.drop_mm = drop_->value();
  r.lateral_g = lateral_->value();
  r.oil_celsius = celsius_->value();
  r.seconds = r.event == RoadEvent::steer_step ? 0.8 : 0.6;
  return r;
}

void MotionPage::showFields() {
  const RoadEvent e = road().event;
  const bool road_shape = e == RoadEvent::bump || e == RoadEvent::kerb;
  for (QDoubleSpinBox* s : {speed_, height_, length_}) s->setVisible(road_shape);
  drop_->setVisible(e == RoadEvent::landing);
  lateral_->setVisible(e == RoadEvent::steer_step);
  what_->setCurrentIndex(e == RoadEvent::steer_step || e == RoadEvent::kerb ? MotionCurve::roll : MotionCurve::heave);
}

void MotionPage::ask() {
  if (!isVisible()) return;
  tellTyres();
  const SprungCar& now = cars_.now();
  const SprungCar& before = cars_.before();
  if (!now.car || !before.car) {
    background_.giveUp();
    take({std::nullopt, std::nullopt, now.car ? before.wrong : now.wrong});
    return;
  }
  news_->setText(tr("Driving ..."));
  // The variants and the car are kept alive by these copies; the loaded cars point into them.
  background_.start(
      [now = now, before = before, car = cars_.model().document().sharedCar(),
       road = road()](const std::atomic<bool>& cancelled) {
        Both both;
        const auto drive = [&](const SprungCar& c) -> std::optional<Motion> {
          auto m = drive_over(*c.car, road, [&] { return !cancelled; });
          if (m) return std::move(*m);
          both.wrong = sentenceOf(m.error());
          return std::nullopt;
        };
        both.now = drive(now);
        both.before = before.variant == now.variant ? both.now : drive(before);
        return both;
      },
      [this](Both both) { take(std::move(both)); });
}

void MotionPage::tellTyres() {
  if (!cars_.model().document().hasCar()) return;
  const Car& car = cars_.model().document().car();
  const auto rate = [&](End end) { return number(car.axle(end).tyre.gives().likely, 1); };
  const bool told = car.axle(End::front).tyre.rate && car.axle(End::rear).tyre.rate;
  tyres_->setText((told ? tr("On tyres of %1 N/mm front and %2 rear, as the car has them under Car, Parts.")
                        : tr("On tyres of %1 N/mm front and %2 rear. The car does not tell them on both axles (Car, "
                             "Parts): where it does not, usual ones count."))
                      .arg(rate(End::front), rate(End::rear)));
}

void MotionPage::take(Both both) {
  now_ = std::move(both.now);
  before_ = std::move(both.before);
  showLines();
  table_->setRowCount(0);
  if (!now_ || !before_) {
    news_->setText(both.wrong);
    return;
  }
  const MotionSummary& is = now_->summary;
  const MotionSummary& was = before_->summary;
  const Tokens& t = tokens(palette());
  const auto add = [&](const QString& what, const QString& x, const QString& y) {
    table_->insertRow(table_->rowCount());
    putRow(*table_, table_->rowCount() - 1, {what, x, y}, t, x != y);
  };
  const auto figure = [&](const QString& what, double x, double y, int decimals) {
    add(what, number(x, decimals), number(y, decimals));
  };
  for (const End e : both_ends) {
    figure(tr("%1 stroke used, mm").arg(endTitle(e)), was.most_stroke_mm[at(e)], is.most_stroke_mm[at(e)], 1);
    if (is.stroke_share[at(e)] > 0.0)
      figure(tr("%1 of its bump stroke, %").arg(endTitle(e)), 100.0 * was.stroke_share[at(e)],
             100.0 * is.stroke_share[at(e)], 0);
  }
  for (const End e : both_ends)
    figure(tr("%1 load's unrest, % of its rest").arg(endTitle(e)), 100.0 * was.load_unrest[at(e)],
           100.0 * is.load_unrest[at(e)], 0);
  for (const End e : both_ends) {
    figure(tr("%1 wheel, least load, g").arg(endTitle(e)), grams(was.least_load_n[at(e)]),
           grams(is.least_load_n[at(e)]), 0);
    figure(tr("%1 wheel, most load, g").arg(endTitle(e)), grams(was.most_load_n[at(e)]), grams(is.most_load_n[at(e)]),
           0);
  }
  for (const End e : both_ends)
    if (was.air_s[at(e)] + is.air_s[at(e)] > 0.0)
      figure(tr("%1 wheel off the ground, s").arg(endTitle(e)), was.air_s[at(e)], is.air_s[at(e)], 3);
  const RoadEvent e = road().event;
  if (e == RoadEvent::kerb || e == RoadEvent::steer_step)
    figure(tr("Most roll, deg"), was.most_roll_deg, is.most_roll_deg, 2);
  figure(tr("Settled after, s"), was.settled_s, is.settled_s, 2);
  const auto plate = [](const MotionSummary& s) {
    return s.plate_down_s ? tr("%1 s").arg(number(*s.plate_down_s, 3)) : tr("never");
  };
  add(tr("Plate touches after"), plate(was), plate(is));
  if (e == RoadEvent::landing) {
    figure(tr("Held by springs at the deepest, N mm"), was.springs_n_mm, is.springs_n_mm, 0);
    figure(tr("Held by stops and plate, N mm"), was.stops_n_mm, is.stops_n_mm, 0);
    figure(tr("Taken by the dampers until then, N mm"), was.dampers_n_mm, is.dampers_n_mm, 0);
  }
  QString news;
  if (is.plate_down_s)
    news = tr("The plate slaps the ground at %1 m/s.").arg(number(is.plate_speed_mm_s / 1000.0, 2));
  else if (!cars_.differ())
    news = tr("The car as pinned. Step a part, and the baseline is drawn beside it.");
  news_->setText(news);
}

void MotionPage::showLines() {
  std::vector<ChartLine> lines;
  const auto line = [&](const std::optional<Motion>& m, LineKind kind, const QString& name) {
    if (!m) return;
    ChartLine l{kind, {}, name};
    for (std::size_t i = 0; i < m->samples.size(); i += 2)
      l.points << QPointF(m->samples[i].t_s, motionValue(what_->currentIndex(), m->samples[i]));
    lines.push_back(std::move(l));
  };
  if (cars_.differ()) line(before_, LineKind::before, {});
  line(now_, LineKind::now, {});
  chart_->show(tr("seconds"), what_->currentText(), lines, 0.2);
}

}  // namespace lowkite::app
