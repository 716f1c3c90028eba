// The turn in which the car on its springs is read, as the pages that ask about it have it: g to the side, g lengthways
// and a radius, which asks for steering.
#pragma once

#include <QDoubleSpinBox>
#include <QWidget>

#include "core/load/turn.hpp"

namespace lowkite::app {

class TurnFields : public QWidget {
  Q_OBJECT
 public:
  /// `name`: of the page; the fields are `name`.lateral, .longitudinal and .radius.
  TurnFields(const QString& name, QWidget* parent);

  /// Its radius is 0 where the car does not steer.
  [[nodiscard]] HeldTurn turn() const;
  /// Whether the car that is asked about describes a steering: without one its wheels stay straight.
  void setSteers(bool steers);
  /// Shows it without a word; to the left, whatever way it goes.
  void setTurn(const HeldTurn& turn);

 Q_SIGNALS:
  void changed();

 private:
  QDoubleSpinBox* lateral_;
  QDoubleSpinBox* longitudinal_;
  QDoubleSpinBox* radius_;
  QString asksForSteering_;  ///< what the radius is for, as its tip says
  bool steers_ = true;
};

}  // namespace lowkite::app
