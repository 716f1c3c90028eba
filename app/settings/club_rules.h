// The limits of the racer's club or federation: entered once, remembered, warned of in every workspace.
#pragma once

#include <QObject>
#include <QString>

#include "core/bench/club_limits.hpp"

namespace lowkite::app {

class ClubRules : public QObject {
  Q_OBJECT
 public:
  explicit ClubRules(QObject* parent = nullptr);

  [[nodiscard]] const ClubLimits& limits() const { return limits_; }
  void setLimits(const ClubLimits& limits);

  /// What a car breaks as it stands, in a sentence; empty when it breaks nothing or cannot stand.
  [[nodiscard]] QString warning(const CarModel& model) const;

 Q_SIGNALS:
  void changed();

 private:
  ClubLimits limits_;
};

}  // namespace lowkite::app
