// The car on its springs: accelerations by slider, what each wheel carries, how it leans and what is left; the drawings
// follow when asked.
#pragma once

#include <memory>
#include <optional>

#include <QWidget>

#include "app/compute/plan_model.h"
#include "app/plan/springs/sprung_cars.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QSlider;
class QTableWidget;

namespace lowkite::app {

class WheelLoadView;

class LoadPanel : public QWidget {
  Q_OBJECT
 public:
  explicit LoadPanel(SprungCars& cars, QWidget* parent = nullptr);
  ~LoadPanel() override;

  [[nodiscard]] const Balance* now() const { return now_.source ? &now_.source->balance : nullptr; }
  [[nodiscard]] const Balance* before() const { return before_.source ? &before_.source->balance : nullptr; }
  [[nodiscard]] Acceleration acceleration() const;
  [[nodiscard]] HeldTurn turn() const;

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  /// One setup under the acceleration asked for, kept while both stay the same.
  struct Read {
    std::shared_ptr<const Variant> variant;
    std::optional<LoadSource> source;
    Acceleration under;
    double radius_m = 0.0;
    QString wrong;
  };
  void refresh();
  void solve(Read& read, const SprungCar& sprung);
  void fillTable();
  void hold();

  SprungCars& cars_;
  PlanModel& model_;
  QSlider* lateral_;
  QSlider* longitudinal_;
  QLabel* lateralText_;
  QLabel* longitudinalText_;
  QDoubleSpinBox* radius_;
  QCheckBox* show_;
  WheelLoadView* wheels_;
  QTableWidget* table_;
  QLabel* news_;
  Read now_, before_;
};

}  // namespace lowkite::app
