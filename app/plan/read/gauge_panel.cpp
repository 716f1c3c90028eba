#include "app/plan/read/gauge_panel.h"

#include <cmath>

#include <QComboBox>
#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/help/explain.h"
#include "app/help/sketch.h"
#include "app/look/theme.h"
#include "app/settings/bench_tools.h"
#include "app/widgets/form_column.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/segmented.h"
#include "app/widgets/sided_field.h"
#include "app/widgets/tables.h"
#include "app/words/gauge_words.h"
#include "app/words/wording.h"
#include "core/plan/bench_reset.hpp"

namespace lowkite::app {
namespace {

constexpr int gaugeTarget = 44;

struct GaugeColumn {
  enum : int { label, left, right, band, count };
};

}  // namespace

GaugePanel::GaugePanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model), bench_(savedBench()) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("gauges"));
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(8, 2, 8, 4);
  across->setSpacing(12);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("gauges.table"));
  dressTable(*table_, {{tr("Gauge")},
                       {tr("Left"), 110, Qt::AlignRight},
                       {tr("Right"), 110, Qt::AlignRight},
                       {tr("It can tell"), 110, Qt::AlignRight}});
  table_->setMinimumWidth(560);
  table_->setMaximumWidth(640);
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) { selectRow(row); });
  across->addWidget(table_, 1);
  auto* asked = new QWidget(this);
  auto* column = new QVBoxLayout(asked);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(makeReading());
  column->addWidget(makeBench());
  column->addStretch(1);
  QScrollArea* area = scrolled(asked, this);
  asked->setMinimumWidth(formWidth);
  area->setMaximumWidth(560);
  across->addWidget(area, 1);
  across->addStretch(1);
  connect(&model_, &PlanModel::comparisonChanged, this, &GaugePanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &GaugePanel::refresh);
}

QWidget* GaugePanel::makeBench() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(10, 0, 10, 0);
  grid->setHorizontalSpacing(8);
  const auto spin = [&](const QString& name, double value, double most, const QString& what, int row, int at) {
    auto* s = new QDoubleSpinBox(box);
    s->setObjectName(name);
    s->setRange(0.0, most);
    s->setDecimals(1);
    s->setSingleStep(0.5);
    s->setSuffix(tr(" mm"));
    s->setValue(value);
    s->setButtonSymbols(QAbstractSpinBox::NoButtons);
    s->setMinimumHeight(targetHeight);
    auto* text = new QLabel(what, box);
    text->setBuddy(s);
    grid->addWidget(text, row, at);
    grid->addWidget(s, row, at + 1);
    connect(s, &QDoubleSpinBox::valueChanged, this, [this] {
      bench_.down_stop_blocks_mm = bench_.droop_blocks_mm = blocks_->value();
      bench_.slop_mm = slop_->value();
      bench_.cup_mm = cup_->value();
      keepBench(bench_);
      Q_EMIT benchChanged();
      refresh();
    });
    return s;
  };
  caliper_ = new QComboBox(box);
  caliper_->setObjectName(QStringLiteral("bench.caliper"));
  caliper_->addItems({tr("between the cups"), tr("over the cups"), tr("ball centres")});
  caliper_->setCurrentIndex(static_cast<int>(bench_.caliper));
  caliper_->setMinimumHeight(targetHeight);
  connect(caliper_, &QComboBox::currentIndexChanged, this, [this](int i) {
    bench_.caliper = static_cast<Caliper>(i);
    keepBench(bench_);
    Q_EMIT benchChanged();
    refresh();
  });
  blocks_ = spin(QStringLiteral("bench.blocks"), bench_.down_stop_blocks_mm, 40.0, tr("Blocks"), 0, 0);
  slop_ = spin(QStringLiteral("bench.slop"), bench_.slop_mm, 3.0, tr("Play"), 0, 2);
  slop_->setSingleStep(0.1);
  grid->addWidget(new QLabel(tr("Caliper"), box), 1, 0);
  grid->addWidget(caliper_, 1, 1);
  cup_ = spin(QStringLiteral("bench.cup"), bench_.cup_mm, 15.0, tr("Cup"), 1, 2);
  grid->setColumnStretch(1, 1);
  return box;
}

QWidget* GaugePanel::makeReading() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(10, 4, 10, 0);
  asks_ = new QLabel(tr("Choose a gauge, then put in what you read."), box);
  asks_->setObjectName(QStringLiteral("gauge.asks"));
  asks_->setFont(textFont(textSize, true));
  side_ = new Segmented(QStringLiteral("gauge.side"), {tr("Left"), tr("Right")}, box);
  connect(side_, &Segmented::chosen, this, [this] { takeReading(); });
  read_ = new SidedField(QStringLiteral("gauge.read."), gaugeTarget, box);
  read_->spin()->setMinimumHeight(44);
  read_->spin()->setFont(figureFont(20));
  read_->setEnabled(false);
  connect(read_, &SidedField::changed, this, [this] { takeReading(); });
  answer_ = new QLabel(box);
  answer_->setObjectName(QStringLiteral("gauge.answer"));
  answer_->setWordWrap(true);
  answer_->setMinimumHeight(52);
  answer_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  make_ = new QPushButton(box);
  make_->setObjectName(QStringLiteral("gauge.make"));
  make_->setToolTip(tr("Turns the links that set it, in Plan, so that the gauge reads what was put in"));
  make_->hide();
  connect(make_, &QPushButton::clicked, this, &GaugePanel::makeItRead);
  sketch_ = new SketchLabel(QStringLiteral("gauge.sketch"), box);
  grid->addWidget(sketch_, 0, 1, 4, 1, Qt::AlignTop | Qt::AlignRight);
  grid->setColumnStretch(0, 1);
  grid->addWidget(asks_, 0, 0);
  grid->addWidget(side_, 1, 0, Qt::AlignLeft);
  grid->addWidget(read_, 2, 0);
  grid->addWidget(answer_, 3, 0);
  grid->addWidget(make_, 4, 0, Qt::AlignLeft);
  return box;
}

void GaugePanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  refresh();
}

void GaugePanel::refresh() {
  const Comparison* c = model_.comparison();
  if (!c || !isVisible() || !model_.document().hasCar()) return;
  if (builtFor_ != model_.document().sharedCar() || builtEnd_ != model_.end()) rebuildRows();
  fillRows(*c);
  takeReading();
}

void GaugePanel::rebuildRows() {
  builtFor_ = model_.document().sharedCar();
  builtEnd_ = model_.end();
  gauges_.clear();
  for (Gauge& g : gauges_of(*builtFor_))
    if (g.end == builtEnd_) gauges_.push_back(std::move(g));
  const QSignalBlocker quiet(table_);
  table_->setRowCount(static_cast<int>(gauges_.size()));
  for (int row = 0; row < table_->rowCount(); ++row) {
    const Gauge& g = gauges_[at(row)];
    table_->setRowHeight(row, 30);
    for (int i = 0; i < GaugeColumn::count; ++i) {
      auto* item = new QTableWidgetItem;
      item->setTextAlignment(i == GaugeColumn::label ? Qt::AlignLeft | Qt::AlignVCenter
                                                     : Qt::AlignRight | Qt::AlignVCenter);
      if (i != GaugeColumn::label) item->setFont(figureFont(textSize, i != GaugeColumn::band));
      table_->setItem(row, i, item);
    }
    const QString unit = unitText(g.spec().unit);
    table_->item(row, GaugeColumn::label)->setText(fromCore(g.label));
    table_->item(row, GaugeColumn::band)
        ->setText(QStringLiteral("\u00B1 %1 %2").arg(QString::number(g.spec().resolution), unit));
    table_->item(row, GaugeColumn::band)->setToolTip(tr("A smaller difference this gauge cannot tell"));
  }
  explainRows();
  read_->setEnabled(false);
  asks_->setText(tr("Choose a gauge, then put in what you read."));
  sketch_->show(std::nullopt);
  answer_->clear();
  table_->setCurrentCell(-1, -1);
}

/// In the colours of the shade: the small drawings are pictures.
void GaugePanel::explainRows() {
  const QSignalBlocker quiet(table_);
  for (int row = 0; row < table_->rowCount(); ++row) {
    const QString explained = explainGauge(gauges_[at(row)], palette());
    for (int i = 0; i < GaugeColumn::count; ++i) table_->item(row, i)->setWhatsThis(explained);
    table_->item(row, GaugeColumn::label)->setToolTip(explained);
  }
}

void GaugePanel::changeEvent(QEvent* event) {
  if (event->type() == QEvent::PaletteChange && table_) explainRows();
  QFrame::changeEvent(event);
}

void GaugePanel::fillRows(const Comparison& c) {
  const Tokens& t = tokens(palette());
  for (int row = 0; row < table_->rowCount(); ++row) {
    const Gauge& g = gauges_[at(row)];
    for (const Side side : both_sides) {
      QTableWidgetItem* item = table_->item(row, side == Side::left ? GaugeColumn::left : GaugeColumn::right);
      const auto is = reading(g, c.changed->model, c.changed->source, bench_, side);
      const auto was = reading(g, c.baseline->model, c.baseline->source, bench_, side);
      const bool moved = is && was && std::abs(*is - *was) >= 0.5 * std::pow(10.0, -g.spec().decimals);
      const bool told_ = is && was && std::abs(*is - *was) >= g.spec().resolution;
      item->setText(is ? (moved ? QStringLiteral("\u25C6 ") : QString()) + gaugeNumber(g.spec(), *is) : tr("none"));
      item->setForeground(told_ ? t.kite : moved ? t.soft : t.ink);
      item->setToolTip(
          moved ? (told_ ? tr("Baseline: %1").arg(gaugeNumber(g.spec(), *was))
                         : tr("Baseline: %1. The gauge cannot tell the difference.").arg(gaugeNumber(g.spec(), *was)))
                : QString());
    }
  }
}

void GaugePanel::selectRow(int row) {
  if (row < 0 || row >= static_cast<int>(gauges_.size())) return;
  const Gauge& g = gauges_[at(row)];
  const Comparison* c = model_.comparison();
  if (!c) return;
  const Side side = model_.shownSide();
  side_->setCurrent(static_cast<int>(at(side)));
  read_->setGauge(g.spec(), unitText(g.spec().unit));
  read_->setValue(reading(g, c->changed->model, c->changed->source, bench_, side).value_or(0.0));
  read_->setEnabled(true);
  sketch_->show(sketchOf(g.kind));
  asks_->setText(tr("%1: what does it read?").arg(fromCore(g.label)));
  takeReading();
}

const Gauge* GaugePanel::gaugeInHand() const {
  const int row = table_->currentRow();
  if (row < 0 || row >= static_cast<int>(gauges_.size()) || !read_->isEnabled()) return nullptr;
  return &gauges_[at(row)];
}

void GaugePanel::makeItRead() {
  const Gauge* g = gaugeInHand();
  if (!g) return;
  const double value = read_->value();
  tl::expected<void, QString> done;
  if (g->kind == &gauge::ride_height)
    model_.document().setRideHeight(g->end, value);
  else if (g->kind == &gauge::lock_inside)
    model_.typeLock(value);
  else if (g->kind == &gauge::link_length)
    done =
        model_.typeLength(model_.document().car().turnbuckle_of(g->end, g->link), centres_from_caliper(value, bench_));
  else if (g->kind == &gauge::tyre_droop)
    done = model_.typeHanging(gauge::hanging_low_from(value, bench_));
  else
    done = model_.typeAngle(g->kind == &gauge::camber ? WheelAngle::camber : WheelAngle::toe, value);
  if (!done) Q_EMIT told(tr("%1: %2.").arg(fromCore(g->label), done.error()));
}

void GaugePanel::takeReading() {
  const Gauge* in_hand = gaugeInHand();
  if (!in_hand) {
    make_->hide();
    return;
  }
  const Gauge& g = *in_hand;
  const Side side = side_->current() == 0 ? Side::left : Side::right;
  const Car& car = model_.document().car();
  const bool once = g.kind == &gauge::ride_height || g.kind == &gauge::lock_inside;
  make_->setVisible(once || g.kind == &gauge::link_length ||
                    (g.kind == &gauge::tyre_droop && can_set_droop(car, g.end)) ||
                    (g.kind == &gauge::camber && can_set(car, g.end, WheelAngle::camber)) ||
                    (g.kind == &gauge::toe && can_set(car, g.end, WheelAngle::toe)));
  make_->setText(once || model_.sides() == Sides::both
                     ? tr("Make it read this in Plan")
                     : tr("Make it read this in Plan, %1 only").arg(sideTitle(model_.shownSide())));
  const auto a = answer(car, model_.document().setup(), g, side, read_->value(), bench_);
  if (!a) {
    answer_->setText(QString::fromStdString(a.error().message));
    return;
  }
  answer_->setText(answerText(car, g, side, *a, tokens(palette())));
}

}  // namespace lowkite::app
