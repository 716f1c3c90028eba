// Camber, toe and roll centre over the axle's travel: baseline, as changed, after the re-set.
#pragma once

#include <array>

#include <QWidget>

#include "app/plan/plan_model.h"

class QLabel;
class QLineSeries;
class QValueAxis;
class QChart;
class QChartView;

namespace lowkite::app {

class CurvePanel : public QWidget {
  Q_OBJECT
 public:
  explicit CurvePanel(PlanModel& model, QWidget* parent = nullptr);

 protected:
  void changeEvent(QEvent* event) override;

 private:
  enum Line { baselineLine, changedLine, resetLine, readingLine, lineCount };
  struct Plot {
    QChart* chart = nullptr;
    QChartView* view = nullptr;
    std::array<QLineSeries*, lineCount> lines{};
    QValueAxis* x = nullptr;
    QValueAxis* y = nullptr;
  };
  Plot makePlot(const QString& name, const QString& title);
  void refresh();
  void restyle();

  PlanModel& model_;
  std::array<Plot, 3> plots_;
  QLabel* legend_;
};

}  // namespace lowkite::app
