// What cannot be right about the car as it is set up, as a list that leads to the place.
#pragma once

#include <vector>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "core/plan/car_check.hpp"

class QLabel;
class QListWidget;

namespace lowkite::app {

class CheckPanel : public QFrame {
  Q_OBJECT
 public:
  explicit CheckPanel(PlanModel& model, QWidget* parent = nullptr);

  [[nodiscard]] const std::vector<Finding>& findings() const { return findings_; }

 Q_SIGNALS:
  void led(End end, int adjuster);  ///< a finding was clicked; the adjuster may be -1

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void lead(int row);

  PlanModel& model_;
  QLabel* heading_;
  QListWidget* list_;
  std::vector<Finding> findings_;
};

}  // namespace lowkite::app
