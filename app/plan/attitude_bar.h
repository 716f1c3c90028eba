// How the chassis is held while one looks: bump and roll, by slider or keyboard.
#pragma once

#include <QWidget>

#include "app/plan/plan_model.h"

class QLabel;
class QSlider;

namespace lowkite::app {

class AttitudeBar : public QWidget {
  Q_OBJECT
 public:
  explicit AttitudeBar(PlanModel& model, QWidget* parent = nullptr);

 private:
  void apply();
  void refresh();

  PlanModel& model_;
  QSlider* bump_;
  QSlider* roll_;
  QLabel* bumpText_;
  QLabel* rollText_;
};

}  // namespace lowkite::app
