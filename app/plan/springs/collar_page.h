// Collars and weights: what one collar does to every corner, collars for wanted heights and cross weight, and the
// height of the centre of gravity from scales or a tilt.
#pragma once

#include <QWidget>

#include "app/plan/springs/sprung_cars.h"

class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class CollarPage : public QWidget {
  Q_OBJECT
 public:
  explicit CollarPage(SprungCars& cars, QWidget* parent = nullptr);

 Q_SIGNALS:
  void cgHeightFound(double mm);  ///< over the plate's underside; to be put into the car

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void tellWanted();
  void tellHeight();

  SprungCars& cars_;
  QDoubleSpinBox* pitch_;
  QTableWidget* turns_;
  QDoubleSpinBox* front_;
  QDoubleSpinBox* rear_;
  QDoubleSpinBox* cross_;
  QLabel* wanted_;
  QLabel* summary_;
  QDoubleSpinBox* level_;
  QDoubleSpinBox* raised_;
  QDoubleSpinBox* lift_;
  QDoubleSpinBox* tilt_;
  QLabel* height_;
  QPushButton* take_;
  std::optional<double> found_mm_;
  bool filled_ = false;
};

}  // namespace lowkite::app
