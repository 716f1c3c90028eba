// What every bench gauge should read on this setup, and what to do about a reading that differs.
#pragma once

#include <vector>

#include <QFrame>

#include "app/compute/plan_model.h"
#include "core/bench/gauges.hpp"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace lowkite::app {

class Segmented;
class SidedField;
class SketchLabel;

class GaugePanel : public QFrame {
  Q_OBJECT
 public:
  explicit GaugePanel(PlanModel& model, QWidget* parent = nullptr);

  [[nodiscard]] const std::vector<Gauge>& gauges() const { return gauges_; }
  [[nodiscard]] const BenchKit& bench() const { return bench_; }

 Q_SIGNALS:
  void benchChanged();             ///< what lies on the racer's bench
  void told(const QString& news);  ///< what was typed cannot be

 protected:
  void showEvent(QShowEvent* event) override;
  void changeEvent(QEvent* event) override;

 private:
  QWidget* makeBench();
  QWidget* makeReading();
  void refresh();
  void rebuildRows();
  void explainRows();
  void fillRows(const Comparison& c);
  void selectRow(int row);
  void takeReading();
  /// The gauge in hand; nullptr: none.
  [[nodiscard]] const Gauge* gaugeInHand() const;
  void makeItRead();

  PlanModel& model_;
  BenchKit bench_;
  std::vector<Gauge> gauges_;
  std::shared_ptr<const Car> builtFor_;
  End builtEnd_ = End::front;
  QTableWidget* table_ = nullptr;
  QDoubleSpinBox* blocks_ = nullptr;
  SketchLabel* sketch_ = nullptr;
  QDoubleSpinBox* slop_ = nullptr;
  QComboBox* caliper_ = nullptr;
  QDoubleSpinBox* cup_ = nullptr;
  Segmented* side_ = nullptr;
  SidedField* read_ = nullptr;
  QLabel* asks_ = nullptr;
  QLabel* answer_ = nullptr;
  QPushButton* make_ = nullptr;
};

}  // namespace lowkite::app
