// The parts of the axle, in the order in which a hand meets them from the wheel inward, and its ride height.
#pragma once

#include <QFrame>

#include "app/compute/plan_model.h"

class QDoubleSpinBox;
class QScrollArea;

namespace lowkite::app {

class AdjusterRow;
class Segmented;

class AdjusterPanel : public QFrame {
  Q_OBJECT
 public:
  explicit AdjusterPanel(PlanModel& model, QWidget* parent = nullptr);

  void refresh();

 Q_SIGNALS:
  void told(const QString& news);  ///< what was typed cannot be

 private:
  void rebuild();
  void followSelection();

  PlanModel& model_;
  Segmented* sides_;
  QDoubleSpinBox* rideHeight_;
  QScrollArea* scroll_;
  std::vector<AdjusterRow*> rows_;
  std::shared_ptr<const Car> builtFor_;
  End builtEnd_ = End::front;
};

}  // namespace lowkite::app
