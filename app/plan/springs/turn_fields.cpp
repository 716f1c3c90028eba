#include "app/plan/springs/turn_fields.h"

#include <cmath>

#include <QHBoxLayout>
#include <QSignalBlocker>

#include "app/plan/springs/fields.h"

namespace lowkite::app {

TurnFields::TurnFields(const QString& name, QWidget* parent) : QWidget(parent) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  lateral_ = numberField(this, name + QStringLiteral(".lateral"), tr("Cornering in which springs are read"), 0.0, 3.0,
                         0.8, 1, 0.1, tr(" g corner"));
  longitudinal_ = numberField(this, name + QStringLiteral(".longitudinal"),
                              tr("Speeding up (+) or braking (-) in which springs are read"), -1.5, 1.5, 0.0, 1, 0.1,
                              tr(" g power"));
  radius_ = radiusField(this, name + QStringLiteral(".radius"));
  asksForSteering_ = radius_->toolTip();
  for (QDoubleSpinBox* field : {lateral_, longitudinal_, radius_}) {
    field->setFixedWidth(field == radius_ ? 142 : 124);
    row->addWidget(field);
    connect(field, &QDoubleSpinBox::valueChanged, this, &TurnFields::changed);
  }
}

HeldTurn TurnFields::turn() const {
  return {{lateral_->value(), longitudinal_->value()}, steers_ ? radius_->value() : 0.0};
}

void TurnFields::setSteers(bool steers) {
  steers_ = steers;
  radius_->setEnabled(steers);
  radius_->setToolTip(steers ? asksForSteering_ : tr("The car file describes no steering: the wheels stay straight."));
}

void TurnFields::setTurn(const HeldTurn& turn) {
  const QSignalBlocker quiet(this);
  lateral_->setValue(std::abs(turn.lateral_g));
  longitudinal_->setValue(turn.longitudinal_g);
  radius_->setValue(turn.radius_m);
}

}  // namespace lowkite::app
