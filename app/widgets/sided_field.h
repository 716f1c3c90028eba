// A number with a side of zero: toe is put in as an amount and in or out, camber as an amount and minus or plus. What
// has no sides is a plain number. Large steppers stand beside it, for wet hands.
#pragma once

#include <QWidget>

#include "core/bench/gauges.hpp"

class QDoubleSpinBox;

namespace lowkite::app {

class Segmented;

class SidedField : public QWidget {
  Q_OBJECT
 public:
  /// `name`: the number's object name is name + "field", the steppers' name + "less" and name + "more", the sides' name
  /// + "side". `targetPx`: how large the steppers are.
  SidedField(const QString& name, int targetPx, QWidget* parent = nullptr);

  /// How the gauge is read, and its unit behind the number. Precondition of `setValue`.
  void setGauge(const GaugeSpec& gauge, const QString& unit);
  /// With its sign; the side follows from it. Zero leaves the side as it is. Tells nobody.
  void setValue(double value);
  /// With its sign, as typed so far.
  [[nodiscard]] double value() const;
  [[nodiscard]] QDoubleSpinBox* spin() const { return spin_; }

 Q_SIGNALS:
  void changed();  ///< by the user

 private:
  QDoubleSpinBox* spin_;
  Segmented* sides_;
  ZeroSides zero_ = ZeroSides::none;
};

}  // namespace lowkite::app
