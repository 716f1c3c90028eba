// How the car felt, in a few touches: a phase, which turns, and five scales with words at both ends.
#pragma once

#include <array>

#include <QWidget>

#include "app/track/track_model.h"

class QButtonGroup;
class QLabel;

namespace lowkite::app {

class Segmented;

class FeelPage : public QWidget {
  Q_OBJECT
 public:
  explicit FeelPage(TrackModel& model, QWidget* parent = nullptr);

  static constexpr int senseCount = 8;

 private:
  void refresh();
  void feel(int sense, int amount);
  [[nodiscard]] Phase phase() const;
  [[nodiscard]] TurnWay turn() const;

  TrackModel& model_;
  Segmented* phase_;
  Segmented* turn_;
  std::array<QButtonGroup*, senseCount> scale_{};
  QLabel* summary_;
  bool filling_ = false;  ///< from the log, which is no touch
};

}  // namespace lowkite::app
