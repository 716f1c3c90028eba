// How the chassis is held and the wheels are steered while one looks: bump, roll, steering and pitch, by slider.
#pragma once

#include <array>

#include <QWidget>

#include "app/compute/plan_model.h"

class QLabel;
class QSlider;

namespace lowkite::app {

class AttitudeBar : public QWidget {
  Q_OBJECT
 public:
  enum Slider { bump, roll, steer, pitch, sliderCount };

  explicit AttitudeBar(PlanModel& model, QWidget* parent = nullptr);

 private:
  void apply();
  void refresh();

  PlanModel& model_;
  std::array<QSlider*, sliderCount> sliders_{};
  std::array<QLabel*, sliderCount> texts_{};
};

}  // namespace lowkite::app
