// Through a corner: on the brake, in the middle, out on power; how the car stands and what each wheel carries on the
// way. What that means for the driver is told on the page on handling.
#pragma once

#include <vector>

#include <QWidget>

#include "app/plan/springs/sprung_cars.h"
#include "core/load/corner_path.hpp"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QTableWidget;

namespace lowkite::app {

class LineChart;
class Segmented;

class CornerPage : public QWidget {
  Q_OBJECT
 public:
  explicit CornerPage(SprungCars& cars, QWidget* parent = nullptr);

  [[nodiscard]] CornerPath path() const;
  /// The stands on the way, of the car with everything put back.
  [[nodiscard]] const std::vector<PathPoint>& now() const { return now_; }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void showPlace();
  [[nodiscard]] std::size_t place() const;

  SprungCars& cars_;
  QDoubleSpinBox* lateral_;
  QDoubleSpinBox* braking_;
  QDoubleSpinBox* power_;
  QDoubleSpinBox* radius_;
  Segmented* way_;
  Segmented* phase_;
  QComboBox* what_;
  LineChart* chart_;
  QTableWidget* table_;
  QLabel* notes_;
  std::vector<PathPoint> now_, before_;
};

}  // namespace lowkite::app
