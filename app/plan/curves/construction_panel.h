// The roll centre by drawing, explained step by step; each step lights up in the drawing.
#pragma once

#include <vector>

#include <QWidget>

#include "app/compute/plan_model.h"

class QLabel;
class QToolButton;

namespace lowkite::app {

class ConstructionPanel : public QWidget {
  Q_OBJECT
 public:
  explicit ConstructionPanel(PlanModel& model, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();

  PlanModel& model_;
  std::vector<QToolButton*> steps_;
  QLabel* verdict_;
};

}  // namespace lowkite::app
