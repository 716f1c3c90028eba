#include "app/plan/springs/corner_page.h"

#include <cmath>

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/springs/fields.h"
#include "app/widgets/form_column.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int samples = 31;

struct CornerCurve {
  enum : int { loads, roll, heights, camber };
};

double cornerValue(int what, const Balance& b, End end, Side side) {
  switch (what) {
    case CornerCurve::loads:
      return grams(b.wheel[at(end)][at(side)].load_n);
    case CornerCurve::heights:
      return b.attitude.ride_height_mm[at(end)];
    case CornerCurve::camber:
      return degrees(b.wheel[at(end)][at(side)].camber_rad);
    default:
      return degrees(b.attitude.roll_rad);
  }
}

QString wheelName(End end, Side side) {
  return CornerPage::tr("%1 %2").arg(endTitle(end), sideTitle(side).toLower());
}

}  // namespace

CornerPage::CornerPage(SprungCars& cars, QWidget* parent) : QWidget(parent), cars_(cars) {
  setObjectName(QStringLiteral("corner"));
  const auto [column, across] = formColumn(this);
  lateral_ = numberField(this, QStringLiteral("corner.lateral"), tr("Most cornering"), 0.1, 3.0, 1.2, 1, 0.1, tr(" g"));
  braking_ =
      numberField(this, QStringLiteral("corner.braking"), tr("Braking on the way in"), 0.0, 1.5, 0.4, 1, 0.1, tr(" g"));
  power_ =
      numberField(this, QStringLiteral("corner.power"), tr("Power on the way out"), 0.0, 1.5, 0.3, 1, 0.1, tr(" g"));
  radius_ = numberField(this, QStringLiteral("corner.radius"),
                        tr("Radius of the turn where it is tightest: it asks for steering; 0 = wheels straight"), 0.0,
                        50.0, 4.0, 1, 0.5, tr(" m"));
  auto* asked = new QGridLayout;
  asked->setHorizontalSpacing(6);
  asked->setVerticalSpacing(1);
  int i = 0;
  for (const auto& [field, text] : {std::pair(braking_, tr("brake")), std::pair(lateral_, tr("corner")),
                                    std::pair(power_, tr("power")), std::pair(radius_, tr("radius"))}) {
    asked->addWidget(quietLabel(text, this), 0, i);
    asked->addWidget(field, 1, i++);
    connect(field, &QDoubleSpinBox::valueChanged, this, &CornerPage::refresh);
  }
  way_ = new Segmented(QStringLiteral("corner.way"), {tr("Left"), tr("Right")}, this);
  way_->setCurrent(0);
  connect(way_, &Segmented::chosen, this, &CornerPage::refresh);
  asked->addWidget(way_, 1, i);
  column->addLayout(asked);
  auto* row = new QHBoxLayout;
  phase_ = new Segmented(QStringLiteral("corner.phase"), {tr("Entry"), tr("Middle"), tr("Exit")}, this);
  phase_->setCurrent(1);
  connect(phase_, &Segmented::chosen, this, &CornerPage::showPlace);
  what_ = new QComboBox(this);
  what_->setObjectName(QStringLiteral("corner.what"));
  what_->setAccessibleName(tr("What the chart shows"));
  what_->setMinimumHeight(targetHeight);
  what_->addItems({tr("wheel loads, g"), tr("roll, deg"), tr("ride heights, mm"), tr("camber to the ground, deg")});
  connect(what_, &QComboBox::currentIndexChanged, this, &CornerPage::showPlace);
  row->addWidget(phase_);
  row->addWidget(what_, 1);
  column->addLayout(row);
  chart_ = new LineChart(QStringLiteral("corner.chart"), this);
  across->addWidget(chart_, 3);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("corner.table"));
  dressTable(*table_, {{tr("There")}, {tr("Baseline"), 70, Qt::AlignRight}, {tr("Re-set"), 64, Qt::AlignRight}});
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  table_->setMinimumWidth(430);
  across->addWidget(table_, 2);
  notes_ = new QLabel(this);
  notes_->setObjectName(QStringLiteral("corner.notes"));
  notes_->setWordWrap(true);
  column->addWidget(notes_);
  column->addStretch(1);
  connect(&cars_, &SprungCars::changed, this, &CornerPage::refresh);
}

void CornerPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

CornerPath CornerPage::path() const {
  return {lateral_->value(), braking_->value(), power_->value(), way_->current() == 0, radius_->value()};
}

std::size_t CornerPage::place() const {
  // The middle of each part of the way.
  constexpr std::array places{0.5 * middle_from, 0.5, 0.5 * (1.0 + middle_to)};
  return static_cast<std::size_t>(std::lround(places[at(phase_->current())] * (samples - 1)));
}

void CornerPage::refresh() {
  if (!isVisible()) return;
  const SprungCar& now = cars_.now();
  const SprungCar& before = cars_.before();
  now_.clear();
  before_.clear();
  if (now.car) now_ = through_corner(*now.car, now.car->level_collars(), path(), samples);
  if (before.car)
    before_ = cars_.differ() ? through_corner(*before.car, before.car->level_collars(), path(), samples) : now_;
  showPlace();
}

void CornerPage::showPlace() {
  const int what = what_->currentIndex();
  std::vector<ChartLine> lines;
  const auto add = [&](const std::vector<PathPoint>& way, LineKind kind, End end, Side side, const QString& name) {
    ChartLine l{kind, {}, name};
    for (const PathPoint& p : way)
      if (p.balance) l.points << QPointF(100.0 * p.along, cornerValue(what, *p.balance, end, side));
    lines.push_back(std::move(l));
  };
  const Side outer = path().to_the_left ? Side::right : Side::left;
  const Side inner = path().to_the_left ? Side::left : Side::right;
  const bool differ = cars_.differ();
  const auto both = [&](End end, Side side, const QString& name) {
    if (differ) add(before_, LineKind::before, end, side, {});
    add(now_, end == End::front ? LineKind::now : LineKind::second, end, side, name);
  };
  if (what == CornerCurve::roll) {
    both(End::front, outer, tr("car"));
  } else if (what == CornerCurve::heights) {
    for (const End e : both_ends) both(e, outer, endTitle(e));
  } else {
    for (const End e : both_ends) both(e, outer, wheelName(e, outer));
    if (what == CornerCurve::loads)
      for (const End e : both_ends) both(e, inner, wheelName(e, inner));
  }
  chart_->show(tr("% of the way through"), what_->currentText(), lines, what == CornerCurve::loads ? 100.0 : 0.5);
  table_->setRowCount(0);
  if (now_.empty() || before_.empty()) {
    notes_->setText(cars_.now().wrong);
    chart_->mark(std::nullopt);
    return;
  }
  const PathPoint& there = now_[place()];
  const PathPoint& then = before_[place()];
  chart_->mark(100.0 * there.along);
  if (!there.balance || !then.balance) {
    notes_->setText(tr("The car finds no steady stand there: it would tip over or run up its own links."));
    return;
  }
  const Tokens& t = tokens(palette());
  const auto source = [&](const Balance& b, const SprungCar& sprung) {
    LoadSource s;
    s.balance = b;
    for (const End e : both_ends) s.rates[at(e)] = sprung.car->rates(e);
    return s;
  };
  const LoadSource is = source(*there.balance, cars_.now());
  const LoadSource was = source(*then.balance, cars_.before());
  for (const FigurePlace& p : places_of(load_figures())) {
    if (!p.figure->is(on_path)) continue;
    const auto x = p.read(was);
    const auto y = p.read(is);
    if (!x && !y) continue;
    const auto text = [&](const std::optional<double>& v) { return v ? number(*v, p.figure->decimals) : tr("none"); };
    table_->insertRow(table_->rowCount());
    putRow(*table_, table_->rowCount() - 1, {placeLabel(p), text(x), text(y)}, t, text(x) != text(y));
  }
  QString text = tr("What the driver feels of it over many tyres, and no lap time, is told under <b>Handling</b>.");
  if (radius_->value() > 0.0 && there.servo_rad == 0.0 && there.a.lateral_g != 0.0)
    text += cars_.now().car->model().steering ? tr(" <b>The steering does not turn that far: wheels straight.</b>")
                                              : tr(" The car file describes no steering: wheels straight.");
  if (const QString notes = standNotes(cars_.now().car->model(), *there.balance); !notes.isEmpty())
    text += tr(" <b>%1.</b>").arg(notes.toHtmlEscaped());
  notes_->setText(text);
}

}  // namespace lowkite::app
