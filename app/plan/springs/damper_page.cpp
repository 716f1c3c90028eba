#include "app/plan/springs/damper_page.h"

#include <QGridLayout>
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
#include "core/load/damper.hpp"

namespace lowkite::app {
namespace {

constexpr double fastest_mm_s = 600.0;

struct Filled {
  Piston piston;
  Oil oil;
};

std::optional<Filled> filledOf(const SprungCar& sprung, End end) {
  if (!sprung.variant) return std::nullopt;
  const CornerModel& corner = sprung.variant->model.corner(end, Side::left);
  const auto piston = piston_of(corner);
  if (!piston) return std::nullopt;
  return Filled{*piston, Oil{corner.geometry.size_of(Size::oil_cst)}};
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
  column->addWidget(end_, 0, Qt::AlignLeft);
  chart_ = new LineChart(QStringLiteral("damper.chart"), this);
  across->addWidget(chart_, 3);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("damper.table"));
  dressTable(*table_,
             {{tr("Oil at 25 \u00B0C")}, {tr("Baseline"), 84, Qt::AlignRight}, {tr("Re-set"), 84, Qt::AlignRight}});
  table_->setSelectionMode(QAbstractItemView::NoSelection);
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

void DamperPage::refresh() {
  if (!isVisible()) return;
  const auto now = filledOf(cars_.now(), end());
  const auto before = filledOf(cars_.before(), end());
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
  chart_->show(tr("shaft speed, mm/s"), tr("force in one shock, N"), lines, 1.0);
  table_->setRowCount(0);
  const SprungCar& is = cars_.now();
  const SprungCar& was = cars_.before();
  if (!now || !before || !is.car || !was.car) {
    oil_->setText(is.wrong.isEmpty()
                      ? tr("The car file tells no piston or oil on this axle: put them in under Car, Parts.")
                      : is.wrong);
    return;
  }
  const Tokens& t = tokens(palette());
  const auto add = [&](const QString& what, const QString& x, const QString& y) {
    table_->insertRow(table_->rowCount());
    putRow(*table_, table_->rowCount() - 1, {what, x, y}, t, x != y);
  };
  const auto none = tr("none");
  const auto piston = [](const Filled& f) {
    return tr("%1 \u00D7 %2 mm").arg(number(f.piston.holes, 0), number(f.piston.hole_mm, 1));
  };
  add(tr("piston"), piston(*before), piston(*now));
  add(tr("oil, cSt"), number(before->oil.cst, 0), number(now->oil.cst, 0));
  const AxleRates x = was.car->rates(end());
  const AxleRates y = is.car->rates(end());
  const auto value = [&](const std::optional<double>& v, double scale, int decimals) {
    return v ? number(scale * *v, decimals) : none;
  };
  add(tr("slow in heave, at the wheel, N s/m"), value(x.damping_n_s_per_mm, 1000.0, 1),
      value(y.damping_n_s_per_mm, 1000.0, 1));
  add(tr("slow in roll, at the wheel, N s/m"), value(x.roll_damping_n_s_per_mm, 1000.0, 1),
      value(y.roll_damping_n_s_per_mm, 1000.0, 1));
  add(tr("in heave, % of critical"), value(x.damping_ratio, 100.0, 0), value(y.damping_ratio, 100.0, 0));
  const auto rolls = [&](const SprungCar& c) {
    const auto m = c.car->roll_motion();
    return m ? value(m->damping_ratio, 100.0, 0) : none;
  };
  add(tr("whole car in roll, % of critical"), rolls(was), rolls(is));
  add(tr("fast: force at 500 mm/s, N"), number(damper_force(before->piston, before->oil, 500.0), 1),
      number(damper_force(now->piston, now->oil, 500.0), 1));
  add(tr("packs up above, mm/s"), number(packing_speed(before->piston, before->oil), 0),
      number(packing_speed(now->piston, now->oil), 0));
  tellOil();
}

void DamperPage::tellOil() {
  const auto now = filledOf(cars_.now(), end());
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
