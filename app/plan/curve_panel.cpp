#include "app/plan/curve_panel.h"

#include <algorithm>
#include <cmath>

#include <QChart>
#include <QChartView>
#include <QEvent>
#include <QGraphicsLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineSeries>
#include <QVBoxLayout>
#include <QValueAxis>

#include "app/shared/theme.h"
#include "app/shared/wording.h"

namespace lowkite::app {
namespace {

using Read = std::optional<double> (*)(const CurvePoint&, Side);

constexpr std::array<Read, 3> reads{
    [](const CurvePoint& p, Side s) -> std::optional<double> { return degrees(p.camber_rad[at(s)]); },
    [](const CurvePoint& p, Side s) -> std::optional<double> { return degrees(p.toe_rad[at(s)]); },
    [](const CurvePoint& p, Side) { return p.roll_centre_mm; }};

/// A round distance between ticks (1, 2 or 5 times a power of ten) that gives about `ticks` of them.
double tickStep(double span, int ticks) {
  const double raw = span / ticks;
  const double power = std::pow(10.0, std::floor(std::log10(raw)));
  for (const double round : {1.0, 2.0, 5.0})
    if (raw <= round * power * 1.001) return round * power;
  return 10.0 * power;
}

/// Puts an axis on a range with round ticks counted from zero. A range that still fits stays, so that the eye keeps its
/// measure from step to step - and laying out an axis is the dearest thing that a chart does.
void setAxis(QValueAxis& axis, double low, double high, int ticks) {
  const bool fits = axis.min() <= low && axis.max() >= high && axis.max() - axis.min() <= 1.8 * (high - low);
  if (fits && axis.tickType() == QValueAxis::TicksDynamic) return;
  const double step = tickStep(high - low, ticks);
  const double half = step / 2.0;
  low = std::floor(low / half) * half;
  high = std::ceil(high / half) * half;
  axis.setTickType(QValueAxis::TicksDynamic);
  axis.setTickAnchor(0.0);
  axis.setTickInterval(step);
  axis.setLabelFormat(step < 0.0999  ? QStringLiteral("%.2f")
                      : step < 0.999 ? QStringLiteral("%.1f")
                                     : QStringLiteral("%.0f"));
  axis.setRange(low, high);
}

void setPoints(QLineSeries& line, const QList<QPointF>& points) {
  if (line.points() != points) line.replace(points);
}

}  // namespace

CurvePanel::CurvePanel(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("curves"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(4, 2, 4, 2);
  column->setSpacing(0);
  legend_ = new QLabel(this);
  legend_->setObjectName(QStringLiteral("curves.legend"));
  legend_->setContentsMargins(8, 0, 8, 0);
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  plots_ = {makePlot(QStringLiteral("curve.camber"), tr("camber, deg")),
            makePlot(QStringLiteral("curve.toe"), tr("toe-in, deg")),
            makePlot(QStringLiteral("curve.rollCentre"), tr("roll centre, mm"))};
  for (const Plot& plot : plots_) row->addWidget(plot.view, 1);
  column->addWidget(legend_);
  column->addLayout(row, 1);
  connect(&model_, &PlanModel::comparisonChanged, this, &CurvePanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &CurvePanel::refresh);
  restyle();
}

CurvePanel::Plot CurvePanel::makePlot(const QString& name, const QString& title) {
  Plot plot;
  plot.chart = new QChart;
  plot.chart->setTitle(title);
  plot.chart->legend()->hide();
  plot.chart->setMargins(QMargins(0, 0, 4, 0));
  plot.chart->setBackgroundVisible(false);
  plot.chart->layout()->setContentsMargins(0, 0, 0, 0);
  plot.x = new QValueAxis;
  plot.y = new QValueAxis;
  plot.chart->addAxis(plot.x, Qt::AlignBottom);
  plot.chart->addAxis(plot.y, Qt::AlignLeft);
  for (QLineSeries*& line : plot.lines) {
    line = new QLineSeries;
    plot.chart->addSeries(line);
    line->attachAxis(plot.x);
    line->attachAxis(plot.y);
  }
  plot.view = new QChartView(plot.chart, this);
  plot.view->setObjectName(name);
  plot.view->setRenderHint(QPainter::Antialiasing);
  plot.view->setViewportUpdateMode(QGraphicsView::FullViewportUpdate);
  plot.view->setOptimizationFlags(QGraphicsView::DontSavePainterState | QGraphicsView::DontAdjustForAntialiasing);
  plot.view->setFrameShape(QFrame::NoFrame);
  plot.view->setFocusPolicy(Qt::NoFocus);
  plot.view->setMinimumHeight(110);
  return plot;
}

void CurvePanel::restyle() {
  const Tokens& t = tokens(palette());
  for (Plot& plot : plots_) {
    plot.view->setBackgroundBrush(t.surface);
    plot.chart->setTitleBrush(t.ink);
    plot.chart->setTitleFont(textFont(labelSize, true));
    for (QValueAxis* axis : {plot.x, plot.y}) {
      axis->setLabelsBrush(t.soft);
      axis->setLabelsFont(figureFont(labelSize));
      axis->setGridLineColor(t.line);
      axis->setLinePenColor(t.soft);
      axis->setGridLineVisible(axis == plot.y);
    }
    plot.lines[baselineLine]->setPen(QPen(t.base, 1.5, Qt::DashLine));
    plot.lines[changedLine]->setPen(QPen(t.ink, 1.5, Qt::DotLine));
    plot.lines[resetLine]->setPen(QPen(t.kite, 2.0));
    plot.lines[readingLine]->setPen(QPen(t.soft, 1.0));
  }
  refresh();
}

void CurvePanel::changeEvent(QEvent* event) {
  if (event->type() == QEvent::PaletteChange) restyle();
  QWidget::changeEvent(event);
}

void CurvePanel::refresh() {
  const Comparison* c = model_.comparison();
  if (!c) return;
  const Tokens& t = tokens(palette());
  const Side side = model_.shownSide();
  const std::size_t end = at(model_.end());
  const QString legend =
      tr("<span style='color:%1'>\u254D baseline</span> &nbsp; <span style='color:%2'>\u22EF as changed</span> &nbsp; "
         "<span style='color:%3'>\u2501 after re-set</span> &nbsp; <span style='color:%4'>%5 wheel over travel, mm of "
         "bump</span>")
          .arg(t.base.name(), t.ink.name(), t.kite.name(), t.soft.name(), sideTitle(side));
  if (legend_->text() != legend) legend_->setText(legend);
  const std::array<const AxleCurve*, 3> curves{&c->baseline->source.curve[end], &c->changed->source.curve[end],
                                               &c->reset->source.curve[end]};
  for (std::size_t i = 0; i < plots_.size(); ++i) {
    Plot& plot = plots_[i];
    double low = 1e9, high = -1e9, from = 1e9, to = -1e9;
    for (std::size_t k = 0; k < curves.size(); ++k) {
      QList<QPointF> points;
      for (const CurvePoint& p : curves[k]->points) {
        const auto value = reads[i](p, side);
        if (!value || std::abs(*value) > 1e4) continue;
        points << QPointF(p.bump_mm, *value);
        low = std::min(low, *value);
        high = std::max(high, *value);
        from = std::min(from, p.bump_mm);
        to = std::max(to, p.bump_mm);
      }
      setPoints(*plot.lines[k], points);
    }
    if (low > high) continue;
    // Some least span, so that a flat curve looks flat.
    constexpr std::array<double, 3> leastSpan{1.0, 0.4, 4.0};
    const double margin = 0.5 * std::max(0.08 * (high - low), leastSpan[i] - (high - low));
    const double yLow = low - margin;
    const double yHigh = high + margin;
    setAxis(*plot.x, from, to, 3);
    setAxis(*plot.y, yLow, yHigh, 3);
    const double bump = std::clamp(model_.attitude().bump_mm, from, to);
    setPoints(*plot.lines[readingLine], {QPointF(bump, plot.y->min()), QPointF(bump, plot.y->max())});
  }
}

}  // namespace lowkite::app
