// Spring pressure on the bench: grams over depth entered one by one, drawn with the model's curve and another car's,
// and what they say about the spring.
#pragma once

#include <QWidget>

#include "app/bench/bench_model.h"
#include "core/io/bench_file.hpp"

class QChart;
class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineSeries;
class QPushButton;
class QScatterSeries;
class QValueAxis;

namespace lowkite::app {

class PullPage : public QWidget {
  Q_OBJECT
 public:
  explicit PullPage(BenchModel& model, QWidget* parent = nullptr);

  /// Shows the readings of a pull-down step.
  void show(const BenchStep& step);

 private:
  void makeChart();
  void addPoint();
  /// What was read, with the standing load where the scales were set to nothing.
  [[nodiscard]] std::vector<PullPoint> whole(const std::vector<PullPoint>& read) const;
  void draw(const std::vector<PullPoint>& read, const std::vector<PullPoint>& modelled);
  void fillOthers();
  void keepSpring();
  [[nodiscard]] QString words(const std::vector<PullPoint>& read, End end) const;

  BenchModel& model_;
  QDoubleSpinBox* depth_;
  QDoubleSpinBox* grams_;
  QCheckBox* caliper_ = nullptr;
  QCheckBox* tared_ = nullptr;
  QPushButton* add_;
  QPushButton* back_;
  QPushButton* keep_;
  QComboBox* other_;
  QLabel* words_;
  QLabel* keys_ = nullptr;
  QChart* chart_ = nullptr;
  QScatterSeries* read_ = nullptr;
  QLineSeries* line_ = nullptr;
  QLineSeries* modelled_ = nullptr;
  QLineSeries* compared_ = nullptr;
  QValueAxis* x_ = nullptr;
  QValueAxis* y_ = nullptr;
  std::vector<KeptPull> others_;
  End end_ = End::front;
  QString runPath_;
};

}  // namespace lowkite::app
