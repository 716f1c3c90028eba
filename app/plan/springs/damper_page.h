// Dampers, of an axle's two shocks or of its third: force over shaft speed, damping against critical, and which oil
// keeps the same damping with another piston or in another heat.
#pragma once

#include <QWidget>

#include "app/plan/springs/sprung_cars.h"

class QDoubleSpinBox;
class QLabel;
class QTableWidget;

namespace lowkite::app {

class LineChart;
class Segmented;

class DamperPage : public QWidget {
  Q_OBJECT
 public:
  explicit DamperPage(SprungCars& cars, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void tellOil();
  [[nodiscard]] End end() const;
  /// Whether the third damper is looked at, where the axle has one.
  [[nodiscard]] bool third() const;
  void tellShocks();
  void tellThird();
  void add(const QString& what, const QString& before, const QString& now);

  SprungCars& cars_;
  Segmented* end_;
  Segmented* which_;
  LineChart* chart_;
  QTableWidget* table_;
  QDoubleSpinBox* holes_;
  QDoubleSpinBox* hole_;
  QDoubleSpinBox* celsius_;
  QDoubleSpinBox* thenCelsius_;
  QLabel* oil_;
};

/// "400 cSt (about 35 weight)".
QString oilText(double cst);

}  // namespace lowkite::app
