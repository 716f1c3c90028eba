// Runs against each other: is the difference real, what else differed; and there-and-back, A - B - A.
#pragma once

#include <optional>

#include <QWidget>

#include "app/track/track_model.h"
#include "core/log/run_comparison.hpp"

class QComboBox;
class QLabel;

namespace lowkite::app {

class LineChart;

class RunsPage : public QWidget {
  Q_OBJECT
 public:
  explicit RunsPage(TrackModel& model, QWidget* parent = nullptr);

  [[nodiscard]] const std::optional<RunComparison>& comparison() const { return comparison_; }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fill();
  void compare();

  TrackModel& model_;
  QComboBox* a_;
  QComboBox* b_;
  QLabel* verdict_;
  QLabel* changes_;
  QLabel* cautions_;
  QLabel* back_;
  LineChart* chart_;
  std::optional<RunComparison> comparison_;
  bool filling_ = false;
};

/// "0.21 s a lap faster (0.11 to 0.32)", or that it cannot be told.
QString effectText(const std::optional<Interval>& seconds);

}  // namespace lowkite::app
