#include "app/plan/springs/damper_page.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/springs/fields.h"
#include "app/widgets/form_column.h"
#include "app/widgets/line_chart.h"
#include "app/widgets/segmented.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"
#include "core/figures/figures.hpp"
#include "core/load/damper.hpp"
#include "core/load/third_element.hpp"

namespace lowkite::app {
namespace {

constexpr double fastest_mm_s = 600.0;

struct Filled {
  Piston piston;
  Oil oil;
};

std::optional<Filled> filledOf(const SprungCar& sprung, End end, bool third) {
  if (!sprung.variant) return std::nullopt;
  if (third) {
    const ThirdLaw law = third_law(sprung.variant->model, end);
    return law.piston ? std::optional(Filled{*law.piston, law.oil}) : std::nullopt;
  }
  const CornerModel& corner = sprung.variant->model.corner(end, Side::left);
  const auto piston = piston_of(corner);
  if (!piston) return std::nullopt;
  return Filled{*piston, Oil{corner.geometry.size_of(Size::oil_cst)}};
}

bool hasThird(const SprungCar& sprung, End end) {
  return sprung.variant && third_law(sprung.variant->model, end).damping_n_s_per_mm > 0.0;
}

/// "3 × 1.2 mm".
QString pistonText(const std::optional<Filled>& f) {
  return f ? DamperPage::tr("%1 \u00D7 %2 mm").arg(number(f->piston.holes, 0), number(f->piston.hole_mm, 1))
           : DamperPage::tr("none");
}

QString scaled(const std::optional<double>& value, double scale, int decimals) {
  return value ? number(scale * *value, decimals) : DamperPage::tr("none");
}

/// Of the damping with both wheels moving alike: either wheel has half of what the third damper gives.
std::optional<double> thirdShare(const ThirdLaw& third, const AxleRates& axle) {
  if (!axle.third_per_wheel || !axle.damping_n_s_per_mm || !(third.damping_n_s_per_mm > 0.0)) return std::nullopt;
  const double at_a_wheel = 0.5 * third.damping_n_s_per_mm * *axle.third_per_wheel * *axle.third_per_wheel;
  return at_a_wheel / *axle.damping_n_s_per_mm;
}

}  // namespace

QString oilText(double cst) {
  const QString plain = DamperPage::tr("%1 cSt").arg(number(cst, 0));
  const auto weight = weight_of(Oil{cst});
  return weight ? DamperPage::tr("%1 (about %2 \u201Cweight\u201D)").arg(plain).arg(*weight) : plain;
}

DamperPage::DamperPage(SprungCars& cars, QWidget* parent) : QWidget(parent), cars_(cars) {
  setObjectName(QStringLiteral("damper"));
  const auto [column, across] = formColumn(this);
  end_ = new Segmented(QStringLiteral("damper.end"), {tr("Front"), tr("Rear")}, this);
  end_->setCurrent(0);
  connect(end_, &Segmented::chosen, this, &DamperPage::refresh);
  which_ = new Segmented(QStringLiteral("damper.which"), {tr("Both shocks"), tr("Third damper")}, this);
  which_->setCurrent(0);
  connect(which_, &Segmented::chosen, this, &DamperPage::refresh);
  auto* top = new QHBoxLayout;
  top->setSpacing(8);
  top->addWidget(end_);
  top->addWidget(which_);
  top->addStretch(1);
  column->addLayout(top);
  chart_ = new LineChart(QStringLiteral("damper.chart"), this);
  across->addWidget(chart_, 3);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("damper.table"));
  dressTable(*table_,
             {{tr("Oil at 25 \u00B0C")}, {tr("Baseline"), 84, Qt::AlignRight}, {tr("Re-set"), 84, Qt::AlignRight}});
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setWordWrap(true);
  table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  table_->setMinimumWidth(430);
  across->addWidget(table_, 2);
  auto* heading = new QLabel(tr("Which oil keeps the same damping?"), this);
  heading->setFont(textFont(textSize, true));
  column->addWidget(heading);
  holes_ =
      numberField(this, QStringLiteral("damper.holes"), tr("Holes in the other piston"), 1, 12, 3, 0, 1, tr(" holes"));
  hole_ = numberField(this, QStringLiteral("damper.hole"), tr("Their diameter"), 0.5, 3.0, 1.1, 1, 0.1, tr(" mm"));
  celsius_ =
      numberField(this, QStringLiteral("damper.celsius"), tr("Temperature now"), -10, 60, 25, 0, 5, tr(" \u00B0C now"));
  thenCelsius_ =
      numberField(this, QStringLiteral("damper.then"), tr("Temperature then"), -10, 60, 25, 0, 5, tr(" \u00B0C then"));
  auto* row = new QGridLayout;
  row->setSpacing(6);
  int i = 0;
  for (QDoubleSpinBox* s : {holes_, hole_, celsius_, thenCelsius_}) {
    row->addWidget(s, i / 2, i % 2);
    ++i;
    connect(s, &QDoubleSpinBox::valueChanged, this, &DamperPage::tellOil);
  }
  column->addLayout(row);
  oil_ = new QLabel(this);
  oil_->setObjectName(QStringLiteral("damper.oil"));
  oil_->setWordWrap(true);
  column->addWidget(oil_);
  QStringList labels;
  for (const OilWeight& w : oil_weights()) labels << tr("%1 = %2").arg(w.weight).arg(number(w.cst, 0));
  column->addWidget(quietLabel(
      tr("\u201CWeight\u201D = cSt, approximate and different from maker to maker: %1. Left out: the gap round the "
         "piston, valves, bladders and air, friction, foam. Compare two fillings of one shock with it, not two shocks.")
          .arg(labels.join(QStringLiteral(", "))),
      this));
  column->addStretch(1);
  connect(&cars_, &SprungCars::changed, this, &DamperPage::refresh);
}

void DamperPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

End DamperPage::end() const {
  return end_->current() == 0 ? End::front : End::rear;
}

bool DamperPage::third() const {
  return which_->current() == 1 && (hasThird(cars_.now(), end()) || hasThird(cars_.before(), end()));
}

void DamperPage::refresh() {
  if (!isVisible()) return;
  which_->setVisible(hasThird(cars_.now(), end()) || hasThird(cars_.before(), end()));
  const auto now = filledOf(cars_.now(), end(), third());
  const auto before = filledOf(cars_.before(), end(), third());
  std::vector<ChartLine> lines;
  const auto line = [&](const std::optional<Filled>& f, LineKind kind) {
    if (!f) return;
    ChartLine l{kind, {}, {}};
    for (int i = 0; i <= 60; ++i) {
      const double v = fastest_mm_s * i / 60.0;
      l.points << QPointF(v, damper_force(f->piston, f->oil, v));
    }
    lines.push_back(std::move(l));
  };
  if (cars_.differ()) line(before, LineKind::before);
  line(now, LineKind::now);
  chart_->show(tr("shaft speed, mm/s"), third() ? tr("force in the third damper, N") : tr("force in one shock, N"),
               lines, 1.0);
  table_->setRowCount(0);
  if (!cars_.now().car || !cars_.before().car) {
    oil_->setText(cars_.now().wrong);
    return;
  }
  if (third())
    tellThird();
  else if (now && before)
    tellShocks();
  if (now && (third() || before))
    tellOil();
  else
    oil_->setText(third() ? tr("No piston and oil of the third damper are told: nothing to compare.")
                          : tr("The car file tells no piston or oil on this axle: put them in under Car, Parts."));
}

void DamperPage::add(const QString& what, const QString& before, const QString& now) {
  table_->insertRow(table_->rowCount());
  putRow(*table_, table_->rowCount() - 1, {what, before, now}, tokens(palette()), before != now);
}

void DamperPage::tellShocks() {
  const SprungCar& is = cars_.now();
  const SprungCar& was = cars_.before();
  const auto now = filledOf(is, end(), false);
  const auto before = filledOf(was, end(), false);
  add(tr("piston"), pistonText(before), pistonText(now));
  add(tr("oil, cSt"), number(before->oil.cst, 0), number(now->oil.cst, 0));
  const AxleRates x = was.car->rates(end());
  const AxleRates y = is.car->rates(end());
  add(tr("slow in heave, at the wheel, N s/m"), scaled(x.damping_n_s_per_mm, 1000.0, 1),
      scaled(y.damping_n_s_per_mm, 1000.0, 1));
  add(tr("slow in roll, at the wheel, N s/m"), scaled(x.roll_damping_n_s_per_mm, 1000.0, 1),
      scaled(y.roll_damping_n_s_per_mm, 1000.0, 1));
  add(tr("in heave, times critical"), scaled(x.damping_ratio, 1.0, 1), scaled(y.damping_ratio, 1.0, 1));
  const auto rolls = [&](const SprungCar& c) {
    const auto m = c.car->roll_motion();
    return m ? scaled(m->damping_ratio, 1.0, 1) : tr("none");
  };
  add(tr("whole car in roll, times critical"), rolls(was), rolls(is));
  add(tr("fast: force at 500 mm/s, N"), number(damper_force(before->piston, before->oil, 500.0), 1),
      number(damper_force(now->piston, now->oil, 500.0), 1));
  add(tr("packs up above, mm/s"), number(packing_speed(before->piston, before->oil), 0),
      number(packing_speed(now->piston, now->oil), 0));
}

void DamperPage::tellThird() {
  const SprungCar& is = cars_.now();
  const SprungCar& was = cars_.before();
  const ThirdLaw x = third_law(was.variant->model, end());
  const ThirdLaw y = third_law(is.variant->model, end());
  const auto now = filledOf(is, end(), true);
  const auto before = filledOf(was, end(), true);
  const auto known = [](double value, double scale, int decimals) {
    return scaled(value > 0.0 ? std::optional(value) : std::nullopt, scale, decimals);
  };
  const auto of_filling = [](const std::optional<Filled>& f, double (*what)(const Filled&), int decimals) {
    return f ? number(what(*f), decimals) : tr("none");
  };
  add(tr("piston"), pistonText(before), pistonText(now));
  const auto row = [&](const QString& what, double (*read)(const Filled&), int decimals) {
    add(what, of_filling(before, read, decimals), of_filling(now, read, decimals));
  };
  row(
      tr("oil, cSt"), [](const Filled& f) { return f.oil.cst; }, 0);
  add(tr("slow, at its shaft, N s/m"), known(x.damping_n_s_per_mm, 1000.0, 1), known(y.damping_n_s_per_mm, 1000.0, 1));
  const AxleRates axle_was = was.car->rates(end());
  const AxleRates axle_is = is.car->rates(end());
  add(tr("shortens per mm of both wheels, mm"), scaled(axle_was.third_per_wheel, 1.0, 2),
      scaled(axle_is.third_per_wheel, 1.0, 2));
  add(tr("its share of the damping in heave, %"), scaled(thirdShare(x, axle_was), 100.0, 0),
      scaled(thirdShare(y, axle_is), 100.0, 0));
  add(tr("in heave, all together, times critical"), scaled(axle_was.damping_ratio, 1.0, 1),
      scaled(axle_is.damping_ratio, 1.0, 1));
  add(tr("goes in from rest until its end, mm"), known(x.stroke_mm, 1.0, 1), known(y.stroke_mm, 1.0, 1));
  row(
      tr("fast: force at 500 mm/s, N"), [](const Filled& f) { return damper_force(f.piston, f.oil, 500.0); }, 1);
  row(
      tr("packs up above, mm/s"), [](const Filled& f) { return packing_speed(f.piston, f.oil); }, 0);
}

void DamperPage::tellOil() {
  const auto now = filledOf(cars_.now(), end(), third());
  if (!now) return;
  Piston other = now->piston;
  other.holes = holes_->value();
  other.hole_mm = hole_->value();
  const Oil same = same_damping(now->piston, now->oil, celsius_->value(), other, thenCelsius_->value());
  oil_->setText(tr("Slow damping as now: <b>%1</b> in the %2 \u00D7 %3 mm piston at %4 \u00B0C. It packs up above %5 "
                   "mm/s (now %6).")
                    .arg(oilText(same.cst), number(other.holes, 0), number(other.hole_mm, 1),
                         number(thenCelsius_->value(), 0), number(packing_speed(other, same, thenCelsius_->value()), 0),
                         number(packing_speed(now->piston, now->oil, celsius_->value()), 0)));
}

}  // namespace lowkite::app
