// What cannot be right about the car as it is set up, as a list that leads to the place.
#pragma once

#include <vector>

#include <QFrame>
#include <QTimer>

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
  void led(End end, PartHandle adjuster);  ///< a finding was clicked; there may be no adjuster to it
  void counted(int findings);              ///< how much is found, whether the page is seen or not

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void look();
  void lead(int row);

  PlanModel& model_;
  QTimer soon_;  ///< the count may lag behind a hand that steps
  QLabel* heading_;
  QListWidget* list_;
  std::vector<Finding> findings_;
};

}  // namespace lowkite::app
