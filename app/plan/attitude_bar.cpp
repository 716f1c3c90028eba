#include "app/plan/attitude_bar.h"

#include <cmath>

#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QSlider>
#include <QToolButton>

#include "app/shared/theme.h"
#include "app/shared/wording.h"

namespace lowkite::app {
namespace {

constexpr double bumpStep_mm = 0.5;  ///< of one slider step
constexpr double rollStep_deg = 0.1;
constexpr int mostRollSteps = 40;

}  // namespace

AttitudeBar::AttitudeBar(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 0, 12, 4);
  row->setSpacing(8);
  const auto slider = [&](const QString& name, const QString& what) {
    auto* s = new QSlider(Qt::Horizontal, this);
    s->setObjectName(name);
    s->setAccessibleName(what);
    s->setMinimumHeight(targetHeight);
    auto* text = new QLabel(this);
    text->setObjectName(name + QStringLiteral(".text"));
    text->setFont(figureFont(textSize));
    text->setMinimumWidth(112);
    row->addWidget(text);
    row->addWidget(s, 1);
    connect(s, &QSlider::valueChanged, this, &AttitudeBar::apply);
    return std::pair(s, text);
  };
  std::tie(bump_, bumpText_) = slider(QStringLiteral("bump"), tr("Bump"));
  std::tie(roll_, rollText_) = slider(QStringLiteral("roll"), tr("Roll"));
  roll_->setRange(-mostRollSteps, mostRollSteps);
  auto* level = new QToolButton(this);
  level->setObjectName(QStringLiteral("level"));
  level->setText(tr("Level"));
  level->setToolTip(tr("Back to ride height without roll"));
  connect(level, &QToolButton::clicked, this, [this] { model_.setAttitude({}); });
  row->addWidget(level);
  connect(&model_, &PlanModel::comparisonChanged, this, &AttitudeBar::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &AttitudeBar::refresh);
  refresh();
}

void AttitudeBar::apply() {
  model_.setAttitude({bump_->value() * bumpStep_mm, radians(roll_->value() * rollStep_deg), model_.attitude().rack_mm});
}

void AttitudeBar::refresh() {
  const QSignalBlocker quietBump(bump_);
  const QSignalBlocker quietRoll(roll_);
  if (model_.document().hasCar()) {
    const TravelRange& travel = model_.document().car().axle(model_.end()).travel;
    bump_->setRange(static_cast<int>(std::lround(-travel.droop_mm / bumpStep_mm)),
                    static_cast<int>(std::lround(travel.bump_mm / bumpStep_mm)));
  }
  const ViewAttitude& a = model_.attitude();
  bump_->setValue(static_cast<int>(std::lround(a.bump_mm / bumpStep_mm)));
  roll_->setValue(static_cast<int>(std::lround(degrees(a.roll_rad) / rollStep_deg)));
  const double roll = degrees(a.roll_rad);
  bumpText_->setText(a.bump_mm < 0 ? tr("droop %1 mm").arg(number(-a.bump_mm, 1))
                                   : tr("bump %1 mm").arg(number(a.bump_mm, 1)));
  rollText_->setText(std::abs(roll) < 0.05 ? tr("roll 0.0 deg")
                     : roll > 0            ? tr("roll %1 deg right").arg(number(roll, 1))
                                           : tr("roll %1 deg left").arg(number(-roll, 1)));
}

}  // namespace lowkite::app
