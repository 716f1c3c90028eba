#include "app/bench/pull_page.h"

#include <algorithm>
#include <cmath>

#include <QChart>
#include <QChartView>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineSeries>
#include <QPushButton>
#include <QScatterSeries>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <QValueAxis>

#include "app/look/theme.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"
#include "core/plan/comparison.hpp"

namespace lowkite::app {
namespace {

constexpr int modelPoints = 9;
constexpr double depthStep = 2.0;

std::vector<double> depthsOf(const std::vector<PullPoint>& read) {
  double deepest = 3.0 * depthStep;
  for (const PullPoint& p : read) deepest = std::max(deepest, p.depth_mm);
  std::vector<double> depths;
  for (int i = 0; i < modelPoints; ++i) depths.push_back(deepest * i / (modelPoints - 1));
  return depths;
}

QList<QPointF> pointsOf(const std::vector<PullPoint>& some) {
  QList<QPointF> points;
  for (const PullPoint& p : some) points << QPointF(p.depth_mm, p.grams);
  std::sort(points.begin(), points.end(), [](const QPointF& a, const QPointF& b) { return a.x() < b.x(); });
  return points;
}

QDoubleSpinBox* field(QWidget* parent, const QString& name, double most, double step, int decimals,
                      const QString& suffix) {
  auto* s = new QDoubleSpinBox(parent);
  s->setObjectName(name);
  s->setRange(0.0, most);
  s->setSingleStep(step);
  s->setDecimals(decimals);
  s->setSuffix(suffix);
  s->setFont(figureFont(18));
  s->setAlignment(Qt::AlignCenter);
  s->setProperty("bench", true);
  s->setButtonSymbols(QAbstractSpinBox::NoButtons);
  return s;
}

}  // namespace

PullPage::PullPage(BenchModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("pull"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  depth_ = field(this, QStringLiteral("pull.depth"), 300.0, 1.0, 2, tr(" mm down"));
  depth_->setMinimum(-300.0);
  depth_->setAccessibleName(tr("How far the chassis is pulled down"));
  grams_ = field(this, QStringLiteral("pull.grams"), 30000.0, 10.0, 0, tr(" g"));
  grams_->setAccessibleName(tr("What both scales read together"));
  add_ = new QPushButton(tr("Take reading"), this);
  add_->setObjectName(QStringLiteral("pull.add"));
  add_->setProperty("bench", true);
  back_ = new QPushButton(tr("Take back"), this);
  back_->setObjectName(QStringLiteral("pull.back"));
  back_->setProperty("bench", true);
  keep_ = new QPushButton(tr("Keep it as this car's spring"), this);
  keep_->setObjectName(QStringLiteral("pull.keep"));
  other_ = new QComboBox(this);
  other_->setObjectName(QStringLiteral("pull.other"));
  other_->setAccessibleName(tr("Another pull-down to compare with"));
  other_->setMinimumHeight(targetHeight);
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  row->addWidget(depth_, 1);
  row->addWidget(grams_, 1);
  row->addWidget(add_);
  row->addWidget(back_);
  words_ = new QLabel(this);
  words_->setObjectName(QStringLiteral("pull.words"));
  words_->setWordWrap(true);
  words_->setFont(textFont(14));
  column->addLayout(row);
  caliper_ = new QCheckBox(tr("Caliper's own readings"), this);
  caliper_->setObjectName(QStringLiteral("pull.caliper"));
  caliper_->setToolTip(tr("Type what the caliper shows, at ride height first: the program subtracts"));
  tared_ = new QCheckBox(tr("Scales set to 0"), this);
  tared_->setObjectName(QStringLiteral("pull.tared"));
  tared_->setToolTip(tr("They were set to nothing under the standing car"));
  for (QCheckBox* box : {caliper_, tared_}) box->setMinimumHeight(targetHeight);
  connect(caliper_, &QCheckBox::toggled, this,
          [this] { depth_->setSuffix(caliper_->isChecked() ? tr(" mm on the caliper") : tr(" mm down")); });
  connect(tared_, &QCheckBox::clicked, this, [this](bool on) {
    const StepRecord r = model_.step() ? model_.record(model_.step()->id) : StepRecord{};
    model_.setPullWay(on, r.caliper_zero_mm);
  });
  makeChart();
  auto* view = new QChartView(chart_, this);
  view->setRenderHint(QPainter::Antialiasing);
  view->setFrameShape(QFrame::NoFrame);
  view->setMinimumHeight(60);
  view->viewport()->setAutoFillBackground(false);
  view->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
  keys_ = new QLabel(this);
  column->addWidget(keys_);
  column->addWidget(view, 1);
  auto* foot = new QHBoxLayout;
  foot->addWidget(other_);
  foot->addWidget(caliper_);
  foot->addWidget(tared_);
  foot->addStretch(1);
  foot->addWidget(keep_);
  column->addLayout(foot);
  column->addWidget(words_);
  connect(add_, &QPushButton::clicked, this, &PullPage::addPoint);
  connect(back_, &QPushButton::clicked, this, [this] { model_.takeBackPull(); });
  connect(keep_, &QPushButton::clicked, this, &PullPage::keepSpring);
  connect(other_, &QComboBox::currentIndexChanged, this, [this] {
    if (model_.step()) show(*model_.step());
  });
}

void PullPage::addPoint() {
  if (!model_.step()) return;
  depth_->interpretText();
  grams_->interpretText();
  const double typed = depth_->value();
  double deep = typed;
  if (caliper_->isChecked()) {
    const StepRecord r = model_.record(model_.step()->id);
    if (!r.caliper_zero_mm || r.pull.empty()) model_.setPullWay(r.tared, typed);
    // Whichever way the caliper counts, pulled down is down.
    deep = std::abs(typed - *model_.record(model_.step()->id).caliper_zero_mm);
  }
  model_.takePull({deep, grams_->value()});
  if (!caliper_->isChecked()) depth_->setValue(typed + depthStep);
  grams_->setFocus();
  grams_->selectAll();
}

std::vector<PullPoint> PullPage::whole(const std::vector<PullPoint>& read) const {
  if (!model_.step() || !model_.record(model_.step()->id).tared) return read;
  const auto car = build_model(model_.document().car(), as_measured(model_.document().car(), model_.run()));
  return car ? untared(*car, end_, read) : read;
}

void PullPage::makeChart() {
  chart_ = new QChart;
  chart_->setBackgroundVisible(false);
  chart_->setMargins(QMargins(0, 0, 0, 0));
  x_ = new QValueAxis;
  y_ = new QValueAxis;
  x_->setTitleText(tr("chassis pulled down, mm"));
  y_->setTitleText(tr("both scales, g"));
  y_->setLabelFormat(QStringLiteral("%.0f"));
  x_->setLabelFormat(QStringLiteral("%.0f"));
  chart_->addAxis(x_, Qt::AlignBottom);
  chart_->addAxis(y_, Qt::AlignLeft);
  read_ = new QScatterSeries;
  line_ = new QLineSeries;
  modelled_ = new QLineSeries;
  compared_ = new QLineSeries;
  read_->setMarkerShape(QScatterSeries::MarkerShapeRectangle);
  read_->setMarkerSize(11);
  for (QXYSeries* s : {static_cast<QXYSeries*>(modelled_), static_cast<QXYSeries*>(compared_),
                       static_cast<QXYSeries*>(line_), static_cast<QXYSeries*>(read_)}) {
    chart_->addSeries(s);
    s->attachAxis(x_);
    s->attachAxis(y_);
  }
  chart_->legend()->hide();
}

void PullPage::fillOthers() {
  if (runPath_ == model_.path()) return;
  runPath_ = model_.path();
  others_ = model_.keptPulls();
  const QSignalBlocker quiet(other_);
  other_->clear();
  other_->addItem(tr("compare with: nothing"));
  for (const KeptPull& k : others_)
    other_->addItem(
        tr("%1, %2, %3")
            .arg(QString::fromStdString(k.car_id), endTitle(k.end), QString::fromStdString(k.started).left(10)));
  other_->setEnabled(!others_.empty());
}

void PullPage::show(const BenchStep& step) {
  end_ = step.gauge->end;
  fillOthers();
  const StepRecord record = model_.record(step.id);
  const std::vector<PullPoint> read = whole(record.pull);
  tared_->setChecked(record.tared);
  back_->setEnabled(!read.empty());
  const bool own = model_.document().hasCar() && !model_.document().carIsShipped();
  keep_->setEnabled(own && read.size() >= 2);
  keep_->setToolTip(own ? QString()
                        : tr("A car that comes with the program stays as it is: make it your own under Car."));
  std::vector<PullPoint> modelled;
  const Setup setup = as_measured(model_.document().car(), model_.run());
  if (const auto car = build_model(model_.document().car(), setup))
    modelled = modelled_pull(*car, end_, depthsOf(read));
  if (read.empty() && !modelled.empty() && grams_->value() == 0.0) {
    depth_->setValue(0.0);
    grams_->setValue(record.tared ? 0.0 : modelled.front().grams);
  }
  draw(read, modelled);
  words_->setText(words(read, end_));
}

void PullPage::keepSpring() {
  Document& d = model_.document();
  if (!model_.step() || !d.hasCar()) return;
  const Setup setup = as_measured(d.car(), model_.run());
  const auto car = build_model(d.car(), setup);
  const auto table = car ? spring_read(*car, end_, whole(model_.record(model_.step()->id).pull)) : std::nullopt;
  if (!table) {
    Q_EMIT model_.told(tr("The readings do not rise from depth to depth: a spring cannot be read from them."));
    return;
  }
  const CornerModel& corner = car->corner(end_, Side::left);
  if (corner.geometry.size_of(Size::spring_rate) != corner.kit_spring_rate) {
    Q_EMIT model_.told(
        tr("Measure the kit's spring for this: the setup has another one fitted, and all others are told by their "
           "difference to it."));
    return;
  }
  Json source = d.state().carSource;
  Json rows = Json::array();
  for (const SpringPoint& p : *table)
    rows.push_back({std::round(1000.0 * p.mm) / 1000.0, std::round(1000.0 * p.n) / 1000.0});
  source["axles"][std::string(name_of(end_))]["spring_table"] = rows;
  const auto done = d.editCar(std::move(source), tr("Spring as measured"));
  Q_EMIT model_.told(
      done ? tr("The %1 spring is the measured one now, in Plan too. Undo brings back what was.").arg(endTitle(end_))
           : QString::fromStdString(done.error().front().line()));
}

void PullPage::draw(const std::vector<PullPoint>& read, const std::vector<PullPoint>& modelled) {
  const Tokens& t = tokens(palette());
  read_->setColor(t.ink);
  read_->setBorderColor(t.ink);
  line_->setPen(QPen(t.ink, 2.0));
  modelled_->setPen(QPen(t.kite, 2.0, Qt::DashLine));
  compared_->setPen(QPen(t.soft, 2.0, Qt::DotLine));
  const auto key = [](const QColor& c, const QString& sign, const QString& what) {
    return QStringLiteral("<span style='color:%1'>%2 %3</span>").arg(c.name(), sign, what);
  };
  QStringList keys{key(t.ink, QStringLiteral("\u25A0 \u2014"), tr("read, with a straight line through the readings")),
                   key(t.kite, QStringLiteral("- -"), tr("the spring fitted, computed"))};
  if (other_->currentIndex() > 0) keys << key(t.soft, QStringLiteral("\u00B7\u00B7\u00B7"), tr("compared with"));
  keys_->setText(keys.join(QStringLiteral("&nbsp;&nbsp;&nbsp;")));
  for (QValueAxis* axis : {x_, y_}) {
    axis->setLabelsColor(t.ink);
    axis->setTitleBrush(t.ink);
    axis->setGridLineColor(t.line);
    axis->setLabelsFont(textFont(11));
    axis->setTitleFont(textFont(11));
  }
  read_->replace(pointsOf(read));
  modelled_->replace(pointsOf(modelled));
  const int chosen = other_->currentIndex() - 1;
  compared_->replace(chosen >= 0 ? pointsOf(others_[at(chosen)].points) : QList<QPointF>());
  QList<QPointF> straight;
  const std::vector<double> depths = depthsOf(read);
  if (const auto line = pull_line(read, 0.0, gauge::pull_down.resolution))
    straight = {QPointF(0.0, line->line.at(0.0)), QPointF(depths.back(), line->line.at(depths.back()))};
  line_->replace(straight);
  double most = 0.0;
  double least = 1e9;
  for (const QXYSeries* s : {static_cast<QXYSeries*>(read_), static_cast<QXYSeries*>(modelled_),
                             static_cast<QXYSeries*>(compared_), static_cast<QXYSeries*>(line_)})
    for (const QPointF& p : s->points()) {
      most = std::max(most, p.y());
      least = std::min(least, p.y());
    }
  x_->setTickType(QValueAxis::TicksDynamic);
  x_->setTickInterval(depths.back() > 8.0 ? 2.0 : 1.0);
  x_->setRange(0.0, depths.back());
  const double room = std::max(10.0, 0.1 * (most - least));
  y_->setRange(most > 0.0 ? std::max(0.0, least - room) : 0.0, most > 0.0 ? most + room : 100.0);
  y_->applyNiceNumbers();
}

QString PullPage::words(const std::vector<PullPoint>& read, End end) const {
  const Tokens& t = tokens(palette());
  const Car& car = model_.document().car();
  const Setup setup = as_measured(car, model_.run());
  double droop = 0.0;
  if (const auto found = evaluate(car, setup, {}, 5))
    droop = found->source.travel.corner[at(end)][at(Side::left)].stops.droop.from_ride_height_mm;
  const auto line = pull_line(read, droop, gauge::pull_down.resolution);
  if (!line)
    return QStringLiteral("<span style='color:%1'>%2</span>")
        .arg(t.soft.name(), tr("Two depths at least; four or five tell how straight the spring is."));
  const bool tared = model_.step() && model_.record(model_.step()->id).tared;
  QStringList lines{tr("At one tyre %1 \u00B1 %2 N/mm. Both tyres: %3 g at ride height, %4 g just before they hang "
                       "(%5 mm up).")
                        .arg(number(line->wheel_rate_n_mm, 2), number(line->wheel_rate_error, 2),
                             number(line->at_ride_height_g, 0), number(line->hanging_g, 0), number(droop, 1))};
  if (tared) lines << tr("The load of the standing car is the computed one: the scales were set to 0.");
  if (line->bends)
    lines << QStringLiteral("<span style='color:%1'>! %2</span>")
                 .arg(t.warn.name(),
                      tr("They do not lie on a line: a progressive spring, something that rubs, or a slip."));
  const auto built = build_model(car, setup);
  const auto progression = built ? progression_said(*built, end, read, gauge::pull_down.resolution) : std::nullopt;
  const bool another_kind = progression && progression->differs;
  if (another_kind)
    lines << QStringLiteral("<span style='color:%1'>\u2715 %2</span>")
                 .arg(
                     t.bad.name(),
                     tr("It is no spring as fitted: %1 N/mm where the reading begins, %2 where it ends, %3 \u00B1 %4 % "
                        "(fitted: %5 %). Look which spring it is, or keep it as read.")
                         .arg(number(progression->read.first_n_mm, 2), number(progression->read.last_n_mm, 2),
                              signedNumber(progression->read.percent, 0), number(progression->read.error_percent, 0),
                              signedNumber(progression->fitted_percent, 0)));
  if (const auto said = another_kind ? std::nullopt : spring_said(car, setup, end, read)) {
    const QString figures =
        tr("reads as a spring of %1 \u00B1 %2 N/mm; %3 N/mm is said to be fitted")
            .arg(number(said->read_n_mm, 2), number(said->error_n_mm, 2), number(said->fitted_n_mm, 2));
    lines << (said->agrees ? QStringLiteral("<span style='color:%1'>\u2713 %2.</span>")
                                 .arg(t.good.name(), tr("It %1").arg(figures))
                           : QStringLiteral("<span style='color:%1'>\u2715 %2.</span>")
                                 .arg(t.bad.name(), tr("It %1: look which spring it is").arg(figures)));
  }
  if (const int chosen = other_->currentIndex() - 1; chosen >= 0)
    if (const auto there = pull_line(others_[at(chosen)].points, droop, gauge::pull_down.resolution))
      lines << tr("Compared with: %1 N/mm at one tyre there, %2 %; %3 g at ride height.")
                   .arg(number(there->wheel_rate_n_mm, 2),
                        signedNumber(100.0 * (line->wheel_rate_n_mm / there->wheel_rate_n_mm - 1.0), 0),
                        number(there->at_ride_height_g, 0));
  return lines.join(QStringLiteral("<br>"));
}

}  // namespace lowkite::app
