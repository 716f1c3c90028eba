// The figures beside the drawing: what moved stands out, what stayed is quiet.
#pragma once

#include <QFrame>

#include "app/plan/read/figure_model.h"

class QTableView;

namespace lowkite::app {

class FigurePanel : public QFrame {
  Q_OBJECT
 Q_SIGNALS:
  void told(const QString& news);

 public:
  explicit FigurePanel(PlanModel& model, QWidget* parent = nullptr);

  [[nodiscard]] const FigureModel& figures() const { return *figures_; }

 private:
  FigureModel* figures_;
  QTableView* table_;
};

}  // namespace lowkite::app
