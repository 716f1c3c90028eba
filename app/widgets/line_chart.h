// A chart of lines over a number, with axes that say their unit and round ticks.
#pragma once

#include <optional>
#include <vector>

#include <QChartView>
#include <QPointF>

class QLineSeries;
class QScatterSeries;
class QValueAxis;

namespace lowkite::app {

/// What a line stands for decides how it is drawn, so that no meaning hangs on colour alone.
enum class LineKind {
  now,     ///< thick
  before,  ///< the baseline: dashed
  quiet,   ///< thin
  second,  ///< another one beside `now`: dots and dashes
  points   ///< single values
};

struct ChartLine {
  LineKind kind = LineKind::now;
  QList<QPointF> points;
  QString name;  ///< shown at its end; empty: none
};

class LineChart : public QChartView {
  Q_OBJECT
 public:
  LineChart(const QString& name, QWidget* parent);

  /// `least`: the smallest span of the upright axis, so that what is flat looks flat.
  void show(const QString& xTitle, const QString& yTitle, const std::vector<ChartLine>& lines, double least = 0.0);
  [[nodiscard]] const std::vector<ChartLine>& lines() const { return lines_; }
  /// An upright line at x; none when it lies outside.
  void mark(std::optional<double> x);

 protected:
  void changeEvent(QEvent* event) override;
  void drawForeground(QPainter* painter, const QRectF& rect) override;

 private:
  void restyle();

  QValueAxis* x_;
  QValueAxis* y_;
  std::vector<ChartLine> lines_;
  QString yTitle_;
  std::optional<double> mark_;
};

/// A round distance between ticks (1, 2 or 5 times a power of ten) that gives about `ticks` of them.
double tickStep(double span, int ticks);
/// Puts an axis on a range with round ticks counted from zero. A range that still fits stays, so that the eye keeps its
/// measure from step to step - and laying out an axis is the dearest thing that a chart does.
void setAxis(QValueAxis& axis, double low, double high, int ticks);

}  // namespace lowkite::app
