#include "app/car/measure_page.h"

#include <algorithm>
#include <cmath>

#include <QComboBox>
#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>

#include "app/car/field_model.h"
#include "app/car/field_table.h"
#include "app/kept/kept.h"
#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/bench/gauges.hpp"

namespace lowkite::app {
namespace {

constexpr int most_contradictions = 4;
const QString orderKey = QStringLiteral("car/measureInOrder");  // of the two orders of the readings

}  // namespace

MeasurePage::MeasurePage(CarEditor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  order_ =
      new Segmented(QStringLiteral("measure.order"), {tr("Whole car"), tr("Most useful first"), tr("In order")}, this);
  order_->setCurrent(1 + Kept().value(orderKey).toInt());
  connect(order_, &Segmented::chosen, this, [this](int i) { go(static_cast<Way>(i)); });
  pages_ = new QStackedWidget(this);
  pages_->addWidget(makeWhole());
  pages_->addWidget(makeReadings());
  column->addWidget(order_, 0, Qt::AlignLeft);
  column->addWidget(pages_, 1);
  connect(&editor_, &CarEditor::changed, this, &MeasurePage::refresh);
  connect(&editor_, &CarEditor::selectionChanged, this, [this] {
    if (!filling_) refresh();
  });
}

QWidget* MeasurePage::makeWhole() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* how =
      new QLabel(tr("A tape and a scale do. Wheelbase and track move whole axles with all that hangs on them, so "
                    "no arm is stretched; every later reading then tells more."),
                 box);
  how->setObjectName(QStringLiteral("measure.wholeHow"));
  how->setWordWrap(true);
  whole_ = new FieldModel(
      editor_, [this] { return whole_car_fields(editor_.source()); }, this);
  QTableView* table = fieldTable(whole_, QStringLiteral("measure.whole"), box);
  table->horizontalHeader()->setSectionResizeMode(FieldModel::name, QHeaderView::Stretch);
  table->setColumnWidth(FieldModel::value, 180);
  table->setColumnWidth(FieldModel::unit, 50);
  auto* on = new QPushButton(tr("Then the readings that tell most"), box);
  on->setObjectName(QStringLiteral("measure.wholeDone"));
  on->setProperty("bench", true);
  on->setProperty("primary", true);
  connect(on, &QPushButton::clicked, this, [this] {
    order_->setCurrent(static_cast<int>(Way::useful));
    go(Way::useful);
  });
  column->addWidget(how);
  column->addWidget(table, 1);
  column->addWidget(on);
  return box;
}

QWidget* MeasurePage::makeReadings() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  list_ = new QListWidget(this);
  list_->setObjectName(QStringLiteral("measure.list"));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setTextElideMode(Qt::ElideRight);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  title_ = new QLabel(this);
  title_->setObjectName(QStringLiteral("measure.title"));
  title_->setFont(textFont(16, true));
  title_->setWordWrap(true);
  how_ = new QLabel(this);
  how_->setObjectName(QStringLiteral("measure.how"));
  how_->setWordWrap(true);
  expected_ = new QLabel(this);
  expected_->setObjectName(QStringLiteral("measure.expected"));
  expected_->setWordWrap(true);
  expected_->setProperty("role", QStringLiteral("soft"));
  field_ = new QDoubleSpinBox(this);
  field_->setObjectName(QStringLiteral("measure.field"));
  field_->setRange(-999.0, 999.0);
  field_->setDecimals(2);
  field_->setSingleStep(0.05);
  field_->setSuffix(tr(" mm"));
  field_->setFont(figureFont(20));
  field_->setProperty("bench", true);
  field_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  field_->setAlignment(Qt::AlignCenter);
  take_ = new QPushButton(tr("Take, next"), this);
  take_->setObjectName(QStringLiteral("measure.take"));
  take_->setProperty("bench", true);
  take_->setProperty("primary", true);
  back_ = new QPushButton(tr("Take back"), this);
  back_->setObjectName(QStringLiteral("measure.back"));
  back_->setProperty("bench", true);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->addWidget(field_, 1);
  row->addWidget(take_);
  row->addWidget(back_);
  known_ = new QLabel(this);
  known_->setObjectName(QStringLiteral("measure.known"));
  known_->setWordWrap(true);
  known_->setTextFormat(Qt::PlainText);
  fit_ = new QLabel(this);
  fit_->setObjectName(QStringLiteral("measure.fit"));
  fit_->setWordWrap(true);
  fit_->setTextFormat(Qt::RichText);
  apply_ = new QPushButton(tr("Move the points to where the readings have them"), this);
  apply_->setObjectName(QStringLiteral("measure.apply"));
  apply_->setProperty("bench", true);
  column->addWidget(known_);
  column->addWidget(list_, 1);
  column->addWidget(title_);
  column->addWidget(how_);
  column->addWidget(expected_);
  column->addWidget(makeConventions());
  column->addLayout(row);
  column->addWidget(fit_);
  column->addWidget(apply_);
  connect(list_, &QListWidget::currentRowChanged, this, &MeasurePage::show);
  connect(take_, &QPushButton::clicked, this, &MeasurePage::take);
  connect(back_, &QPushButton::clicked, this, [this] {
    const int at = list_->currentRow();
    if (at >= 0) editor_.takeBack(steps_[at].reading);
  });
  connect(apply_, &QPushButton::clicked, &editor_, &CarEditor::takeFit);
  return box;
}

void MeasurePage::go(Way way) {
  if (way != Way::whole) Kept().setValue(orderKey, static_cast<int>(way) - 1);
  refresh();
  if (way == Way::useful) goToNext();
}

QWidget* MeasurePage::makeConventions() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(6);
  caliper_ = new QComboBox(box);
  caliper_->setObjectName(QStringLiteral("measure.caliper"));
  caliper_->setAccessibleName(tr("How the caliper is laid"));
  caliper_->addItems({tr("between"), tr("over"), tr("centres")});
  caliper_->setCurrentIndex(static_cast<int>(Caliper::over));
  caliper_->setMinimumHeight(targetHeight);
  const auto size = [&](const QString& name, double value, double most) {
    auto* s = new QDoubleSpinBox(box);
    s->setObjectName(name);
    s->setRange(0.0, most);
    s->setDecimals(2);
    s->setSingleStep(0.1);
    s->setValue(value);
    s->setSuffix(tr(" mm"));
    s->setButtonSymbols(QAbstractSpinBox::NoButtons);
    s->setMinimumHeight(targetHeight);
    connect(s, &QDoubleSpinBox::valueChanged, this, [this] { show(list_->currentRow()); });
    return s;
  };
  cup_ = size(QStringLiteral("measure.cup"), 3.0, 20.0);
  blocks_ = size(QStringLiteral("measure.blocks"), 20.0, 80.0);
  cup_->setAccessibleName(tr("Size of the balls' cups"));
  blocks_->setAccessibleName(tr("Height of the blocks"));
  int column = 0;
  for (const auto& [name, field] :
       {std::pair<QString, QWidget*>(tr("Caliper"), caliper_), {tr("Pin or ball"), cup_}, {tr("Blocks"), blocks_}}) {
    auto* label = new QLabel(name, box);
    label->setWordWrap(true);
    grid->addWidget(label, 0, column++);
    grid->addWidget(field, 0, column++);
  }
  connect(caliper_, &QComboBox::currentIndexChanged, this, [this] { show(list_->currentRow()); });
  return box;
}

double MeasurePage::conventionOffset() const {
  const int at = list_->currentRow();
  if (at < 0 || at >= static_cast<int>(steps_.size())) return 0.0;
  switch (steps_[at].reading.kind) {
    case ReadingKind::height:
      return blocks_->value();
    case ReadingKind::along:
      return 0.0;
    case ReadingKind::distance:
    case ReadingKind::across:
      break;
  }
  // Two half pins or balls lie between the jaws and the centres.
  BenchKit kit;
  kit.caliper = static_cast<Caliper>(caliper_->currentIndex());
  kit.cup_mm = cup_->value();
  return caliper_reading(0.0, kit);
}

void MeasurePage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void MeasurePage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  editor_.setShownReading(std::nullopt);
}

void MeasurePage::refresh() {
  if (!isVisible()) return;
  const Document& document = editor_.document();
  // A car of one's own of which nothing was measured yet begins as a whole.
  if (document.hasCar() && document.car().id != startedFor_) {
    startedFor_ = document.car().id;
    const bool fresh_car = editor_.editable() && editor_.readings().empty();
    order_->setCurrent(fresh_car ? static_cast<int>(Way::whole) : 1 + Kept().value(orderKey).toInt());
  }
  pages_->setCurrentIndex(way() == Way::whole ? 0 : 1);
  if (way() == Way::whole) {
    whole_->refresh();
    filling_ = true;
    editor_.setShownReading(std::nullopt);
    filling_ = false;
    return;
  }
  filling_ = true;
  steps_ = editor_.guide();
  const int before = list_->currentRow();
  const bool fresh = list_->count() != static_cast<int>(steps_.size());
  {
    const QSignalBlocker quiet(list_);
    if (fresh) list_->clear();
    while (list_->count() < static_cast<int>(steps_.size())) new QListWidgetItem(list_);
    int taken = 0;
    for (std::size_t i = 0; i < steps_.size(); ++i) {
      const auto read = editor_.readingAt(steps_[i].reading);
      taken += read ? 1 : 0;
      list_->item(static_cast<int>(i))
          ->setText(tr("%1  %2").arg(read                                             ? QStringLiteral("\u2713")
                                     : editor_.readingPlan().next == std::optional(i) ? QStringLiteral("\u25C6")
                                                                                      : QStringLiteral("\u25CB"),
                                     fromCore(steps_[i].title)));
      list_->item(static_cast<int>(i))->setSizeHint(QSize(0, 30));
    }
  }
  for (QWidget* w : {static_cast<QWidget*>(field_), static_cast<QWidget*>(take_), static_cast<QWidget*>(back_)})
    w->setEnabled(editor_.editable() && !steps_.empty());
  const auto& next = editor_.readingPlan().next;
  const int first = way() == Way::useful && next ? static_cast<int>(*next) : 0;
  const int row = std::clamp(fresh ? first : before, 0, std::max(0, static_cast<int>(steps_.size()) - 1));
  if (!steps_.empty()) {
    const QSignalBlocker quiet(list_);
    list_->setCurrentRow(row);
  }
  show(steps_.empty() ? -1 : row);
  fit_->setText(fitText());
  known_->setText(knownText());
  // The text below may take lines from the list: the step in hand stays in sight.
  QTimer::singleShot(0, list_, [list = list_] { list->scrollToItem(list->currentItem()); });
  apply_->setEnabled(editor_.editable() && editor_.fit().has_value());
  filling_ = false;
}

void MeasurePage::show(int row) {
  if (row < 0 || row >= static_cast<int>(steps_.size())) {
    title_->setText(editor_.document().hasCar() ? tr("Nothing to measure here.") : tr("No car is open."));
    how_->clear();
    expected_->clear();
    return;
  }
  const GuideStep& step = steps_[at(row)];
  title_->setText(fromCore(step.title));
  how_->setText(fromCore(step.how));
  const double offset = conventionOffset();
  const auto read = editor_.readingAt(step.reading);
  expected_->setText(read ? tr("Read: %1 mm. The car file gives %2 mm, laid like this.")
                                .arg(number(*read + offset, 2), number(step.reading.mm + offset, 2))
                          : tr("The car file gives %1 mm, laid like this.").arg(number(step.reading.mm + offset, 2)));
  back_->setEnabled(editor_.editable() && read.has_value());
  {
    const QSignalBlocker quiet(field_);
    field_->setValue(read.value_or(step.reading.mm) + offset);
  }
  const bool was = filling_;
  filling_ = true;
  editor_.setShownReading(step.reading, offset);
  filling_ = was;
}

void MeasurePage::take() {
  const int row = list_->currentRow();
  if (row < 0 || row >= static_cast<int>(steps_.size())) return;
  field_->interpretText();
  const double mm = field_->value() - conventionOffset();
  editor_.takeReading(steps_[at(row)].reading, mm);
  if (way() == Way::useful)
    goToNext();
  else if (row + 1 < list_->count())
    list_->setCurrentRow(row + 1);
  field_->setFocus();
  field_->selectAll();
}

MeasurePage::Way MeasurePage::way() const {
  return static_cast<Way>(order_->current());
}

void MeasurePage::goToNext() {
  if (const auto& next = editor_.readingPlan().next) list_->setCurrentRow(static_cast<int>(*next));
}

QString MeasurePage::knownText() {
  if (steps_.empty()) return {};
  const ReadingPlan& plan = editor_.readingPlan();
  const auto band = [](const KnownFigure& f, double sigma) {
    // Two deviations: what nineteen of twenty lie within.
    return number(2.0 * sigma, f.decimals);
  };
  QStringList known, by;
  for (const KnownFigure& f : plan.figures) {
    known << tr("%1 %2 \u00B1 %3 %4")
                 .arg(fromCore(f.label), number(f.value, f.decimals), band(f, f.now), fromCore(f.unit));
    if (f.next < 0.95 * f.now) by << tr("%1 \u00B1 %2").arg(fromCore(f.label), band(f, f.next));
  }
  QStringList lines;
  if (!known.isEmpty()) {
    const QString list = known.join(QStringLiteral(", "));
    lines << tr("Known so far: %1.").arg(list);
    const auto& fit = editor_.fit();
    const bool agree = !fit || std::none_of(fit->readings.begin(), fit->readings.end(),
                                            [](const FittedReading& r) { return r.contradicts; });
    if (!agree)
      lines << tr("That holds once the readings agree: see below.");
    else if (plan.enough())
      lines << tr("That is good enough to plan with; more readings check each other.");
  }
  if (!plan.next)
    lines << tr("Everything here is measured.");
  else if (!by.isEmpty())
    lines << tr("The reading marked \u25C6 tells most: then %1.").arg(by.join(QStringLiteral(", ")));
  return lines.join(QLatin1Char(' '));
}

QString MeasurePage::fitText() const {
  const Tokens& t = tokens(palette());
  const auto& fit = editor_.fit();
  if (!fit) return tr("Nothing measured yet. Readings may be taken in any order; each helps.");
  std::vector<FittedReading> bad;
  for (const FittedReading& r : fit->readings)
    if (r.contradicts) bad.push_back(r);
  int known = 0;
  for (const FittedPoint& p : fit->points) known += p.sigma_mm.maxCoeff() <= known_mm ? 1 : 0;
  QStringList lines{tr("%1 readings; %2 of %3 points known to %4 mm.")
                        .arg(fit->readings.size())
                        .arg(known)
                        .arg(fit->points.size())
                        .arg(known_mm)};
  if (bad.empty()) {
    lines << QStringLiteral("<span style='color:%1'>\u2713 %2</span>")
                 .arg(t.good.name(), tr("They agree with each other."));
  } else {
    std::stable_sort(bad.begin(), bad.end(), [](const auto& a, const auto& b) {
      return std::abs(a.residual_mm()) > std::abs(b.residual_mm());
    });
    for (std::size_t i = 0; i < bad.size() && i < most_contradictions; ++i) {
      const CaliperReading& r = bad[i].reading;
      const Car& car = editor_.document().car();
      QString what = QString::fromStdString(std::string(spec_of(car, r.a).label));
      if (r.kind == ReadingKind::distance || r.kind == ReadingKind::along)
        what = tr("%1 to %2").arg(what, QString::fromStdString(std::string(spec_of(car, r.b).label)));
      lines << QStringLiteral("<span style='color:%1'>\u2715 %2</span>")
                   .arg(t.bad.name(), tr("%1, %2: read %3, the others say %4 mm")
                                          .arg(what, QString::fromStdString(std::string(id_of(r.kind))),
                                               number(r.mm, 2), number(bad[i].explained_mm, 2)));
    }
  }
  return lines.join(QStringLiteral("<br>"));
}

}  // namespace lowkite::app
