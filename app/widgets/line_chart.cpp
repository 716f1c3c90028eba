#include "app/widgets/line_chart.h"

#include <algorithm>
#include <cmath>

#include <QChart>
#include <QEvent>
#include <QGraphicsLayout>
#include <QLineSeries>
#include <QScatterSeries>
#include <QValueAxis>

#include "app/look/theme.h"

namespace lowkite::app {

double tickStep(double span, int ticks) {
  const double raw = span / ticks;
  const double power = std::pow(10.0, std::floor(std::log10(raw)));
  for (const double round : {1.0, 2.0, 5.0})
    if (raw <= round * power * 1.001) return round * power;
  return 10.0 * power;
}

void setAxis(QValueAxis& axis, double low, double high, int ticks) {
  const bool fits = axis.min() <= low && axis.max() >= high && axis.max() - axis.min() <= 1.8 * (high - low);
  if (fits && axis.tickType() == QValueAxis::TicksDynamic) return;
  if (!std::isfinite(high - low)) return;
  if (low > high) std::swap(low, high);
  // A curve of one point has no length. Ticks of no length, or finer than a double can count at that place, never end:
  // the chart would lay them out until there is no memory left.
  const double least = 1e-6 * std::max({1.0, std::abs(low), std::abs(high)});
  if (high - low < least) {
    const double middle = 0.5 * (low + high);
    low = middle - least;
    high = middle + least;
  }
  const double step = tickStep(high - low, ticks);
  const double half = step / 2.0;
  low = std::floor(low / half) * half;
  high = std::ceil(high / half) * half;
  axis.setTickAnchor(0.0);
  // As many decimals as tell one tick from the next.
  const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(1.001 * step))), 0, 6);
  axis.setLabelFormat(QStringLiteral("%.%1f").arg(decimals));
  // At no moment a fine step over the wide range of before, whatever the axis makes of it.
  if (step > axis.tickInterval()) axis.setTickInterval(step);
  axis.setRange(low, high);
  axis.setTickInterval(step);
  axis.setTickType(QValueAxis::TicksDynamic);
}

LineChart::LineChart(const QString& name, QWidget* parent)
    : QChartView(parent), x_(new QValueAxis), y_(new QValueAxis) {
  setObjectName(name);
  setRenderHint(QPainter::Antialiasing);
  setFrameShape(QFrame::NoFrame);
  setFocusPolicy(Qt::NoFocus);
  setMinimumHeight(120);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);  // as high as there is room for
  viewport()->setAutoFillBackground(false);
  auto* chart = new QChart;
  chart->legend()->hide();
  chart->setMargins(QMargins(0, 18, 6, 0));
  chart->setBackgroundVisible(false);
  chart->layout()->setContentsMargins(0, 0, 0, 0);
  chart->addAxis(x_, Qt::AlignBottom);
  chart->addAxis(y_, Qt::AlignLeft);
  setChart(chart);
  restyle();
}

void LineChart::show(const QString& xTitle, const QString& yTitle, const std::vector<ChartLine>& lines, double least) {
  lines_ = lines;
  chart()->removeAllSeries();
  x_->setTitleText(xTitle);
  yTitle_ = yTitle;
  double left = 1e300, right = -1e300, low = 1e300, high = -1e300;
  const Tokens& t = tokens(palette());
  for (const ChartLine& l : lines) {
    if (l.points.isEmpty()) continue;
    QXYSeries* series = nullptr;
    if (l.kind == LineKind::points) {
      auto* dots = new QScatterSeries;
      dots->setMarkerSize(7);
      dots->setColor(t.ink);
      dots->setBorderColor(t.ink);
      series = dots;
    } else {
      auto* line = new QLineSeries;
      line->setPen(l.kind == LineKind::now      ? QPen(t.kite, 2.0)
                   : l.kind == LineKind::before ? QPen(t.base, 1.5, Qt::DashLine)
                   : l.kind == LineKind::second ? QPen(t.ink, 1.5, Qt::DashDotLine)
                                                : QPen(t.soft, 1.0));
      series = line;
    }
    for (const QPointF& p : l.points)
      if (std::isfinite(p.x()) && std::isfinite(p.y())) series->append(p);
    chart()->addSeries(series);
    series->attachAxis(x_);
    series->attachAxis(y_);
    for (const QPointF& p : l.points) {
      if (!std::isfinite(p.x()) || !std::isfinite(p.y())) continue;
      left = std::min(left, p.x());
      right = std::max(right, p.x());
      low = std::min(low, p.y());
      high = std::max(high, p.y());
    }
  }
  if (left > right) return;
  if (right - left < 1e-9) right = left + 1.0;
  const double span = std::max({high - low, least, 1e-6});
  const double middle = 0.5 * (low + high);
  constexpr int narrow = 300;  // px: fewer ticks, or their numbers run into each other
  setAxis(*x_, left, right, width() < narrow ? 3 : 6);
  setAxis(*y_, middle - 0.54 * span, middle + 0.54 * span, 4);
  viewport()->update();
}

void LineChart::mark(std::optional<double> x) {
  mark_ = x;
  viewport()->update();
}

void LineChart::drawForeground(QPainter* painter, const QRectF& rect) {
  QChartView::drawForeground(painter, rect);
  const Tokens& t = tokens(palette());
  const QRectF area = chart()->plotArea();
  if (chart()->series().isEmpty()) return;
  painter->save();
  if (mark_ && *mark_ >= x_->min() && *mark_ <= x_->max()) {
    const double x = chart()->mapToPosition({*mark_, y_->min()}, chart()->series().front()).x();
    painter->setPen(QPen(t.ink, 1.0));
    painter->drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
  }
  painter->setFont(textFont(labelSize));
  painter->setPen(t.soft);
  painter->drawText(QRectF(area.left() + 4.0, area.top() - 19.0, area.width(), 16.0), Qt::AlignLeft | Qt::AlignVCenter,
                    yTitle_);
  // Names stand at the lines' ends, or at the mark, spread apart where the lines lie close.
  struct Label {
    double y;
    const ChartLine* line;
  };
  std::vector<Label> labels;
  for (const ChartLine& l : lines_) {
    if (l.name.isEmpty() || l.points.isEmpty()) continue;
    QPointF at = l.points.back();
    if (mark_)
      at = *std::min_element(l.points.begin(), l.points.end(), [&](const QPointF& a, const QPointF& b) {
        return std::abs(a.x() - *mark_) < std::abs(b.x() - *mark_);
      });
    labels.push_back({chart()->mapToPosition(at, chart()->series().front()).y(), &l});
  }
  std::sort(labels.begin(), labels.end(), [](const Label& a, const Label& b) { return a.y < b.y; });
  constexpr double apart = 14.0;
  for (std::size_t i = 1; i < labels.size(); ++i) labels[i].y = std::max(labels[i].y, labels[i - 1].y + apart);
  if (!labels.empty()) {
    // What was pushed below the plot moves everything above it up again.
    double lowest = area.bottom() - 8.0;
    for (std::size_t i = labels.size(); i-- > 0; lowest = labels[i].y - apart)
      labels[i].y = std::min(labels[i].y, lowest);
  }
  const double right =
      mark_ ? chart()->mapToPosition({*mark_, y_->min()}, chart()->series().front()).x() - 6.0 : area.right() - 4.0;
  painter->setFont(textFont(labelSize, true));
  for (const Label& l : labels) {
    painter->setPen(l.line->kind == LineKind::now ? t.kite : l.line->kind == LineKind::before ? t.base : t.ink);
    const QRectF place(area.left(), l.y - 8.0, right - area.left(), 16.0);
    const QRectF words = painter->boundingRect(place, Qt::AlignRight | Qt::AlignVCenter, l.line->name);
    painter->fillRect(words.adjusted(-2, 0, 2, 0), t.surface);
    painter->drawText(place, Qt::AlignRight | Qt::AlignVCenter, l.line->name);
  }
  painter->restore();
}

void LineChart::restyle() {
  const Tokens& t = tokens(palette());
  for (QValueAxis* axis : {x_, y_}) {
    axis->setLabelsBrush(t.soft);
    axis->setTitleBrush(t.soft);
    axis->setLabelsFont(figureFont(labelSize));
    axis->setTitleFont(textFont(labelSize));
    axis->setGridLineColor(t.line);
    axis->setLinePenColor(t.soft);
    axis->setGridLineVisible(axis == y_);
  }
  if (!lines_.empty()) show(x_->titleText(), yTitle_, lines_);
}

void LineChart::changeEvent(QEvent* event) {
  if (event->type() == QEvent::PaletteChange) restyle();
  QChartView::changeEvent(event);
}

}  // namespace lowkite::app
