// Over a bump, a kerb, a landing or a step of the steering: how the car moves, against the baseline. Integrated beside
// the window.
#pragma once

#include <optional>

#include <QWidget>

#include "app/background/in_background.h"
#include "app/plan/springs/sprung_cars.h"
#include "core/load/ride_motion.hpp"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QTableWidget;

namespace lowkite::app {

class LineChart;

class MotionPage : public QWidget {
  Q_OBJECT
 public:
  explicit MotionPage(SprungCars& cars, QWidget* parent = nullptr);

  [[nodiscard]] RoadCase road() const;
  [[nodiscard]] bool busy() const { return background_.busy(); }
  [[nodiscard]] const std::optional<Motion>& now() const { return now_; }
  void setEvent(RoadEvent event);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  struct Both {
    std::optional<Motion> now, before;
    QString wrong;
  };
  void ask();
  void take(Both both);
  void showFields();
  void tellTyres();
  void showLines();

  SprungCars& cars_;
  QComboBox* event_;
  QComboBox* what_;
  QDoubleSpinBox* speed_;
  QDoubleSpinBox* height_;
  QDoubleSpinBox* length_;
  QDoubleSpinBox* drop_;
  QDoubleSpinBox* lateral_;
  QDoubleSpinBox* celsius_;
  LineChart* chart_;
  QTableWidget* table_;
  QLabel* news_;
  QLabel* tyres_;  ///< which rate of the tyres is in use
  InBackground background_;
  std::optional<Motion> now_, before_;
};

}  // namespace lowkite::app
