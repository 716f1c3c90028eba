#include "app/plan/attitude_bar.h"

#include <cmath>

#include <QGridLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QSlider>
#include <QToolButton>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

/// What one step of a slider means, and where its value lives.
struct Degree {
  const char* name;
  double step;  ///< mm or degrees
  double (*get)(const ViewAttitude&);
  void (*set)(ViewAttitude&, double);
};

constexpr std::array<Degree, 4> degreesOfFreedom{{
    {"bump", 0.5, [](const ViewAttitude& a) { return a.bump_mm; }, [](ViewAttitude& a, double v) { a.bump_mm = v; }},
    {"roll", 0.1, [](const ViewAttitude& a) { return degrees(a.roll_rad); },
     [](ViewAttitude& a, double v) { a.roll_rad = radians(v); }},
    {"steer", 1.0, [](const ViewAttitude& a) { return degrees(a.servo_rad); },
     [](ViewAttitude& a, double v) { a.servo_rad = radians(v); }},
    {"pitch", 0.1, [](const ViewAttitude& a) { return degrees(a.pitch_rad); },
     [](ViewAttitude& a, double v) { a.pitch_rad = radians(v); }},
}};
/// Steering of a car whose steering linkage is not described: the tie rods' balls are moved sideways.
constexpr Degree byRack{"steer", 0.25, [](const ViewAttitude& a) { return a.rack_mm; },
                        [](ViewAttitude& a, double v) { a.rack_mm = v; }};

QString told(AttitudeBar::Slider which, double value, bool rack) {
  const auto tr = [](const char* text) { return AttitudeBar::tr(text); };
  const QString size = number(std::abs(value), 1);
  const bool none = std::abs(value) < 0.05;
  switch (which) {
    case AttitudeBar::bump:
      return value < 0 ? tr("droop %1 mm").arg(size) : tr("bump %1 mm").arg(size);
    case AttitudeBar::roll:
      return none        ? tr("roll 0.0 deg")
             : value > 0 ? tr("roll %1 deg right").arg(size)
                         : tr("roll %1 deg left").arg(size);
    case AttitudeBar::steer:
      if (rack)
        return none        ? tr("rack 0.0 mm")
               : value > 0 ? tr("rack %1 mm left").arg(size)
                           : tr("rack %1 mm right").arg(size);
      return none        ? tr("servo 0.0 deg")
             : value > 0 ? tr("servo %1 deg left").arg(size)
                         : tr("servo %1 deg right").arg(size);
    case AttitudeBar::pitch:
      return none        ? tr("pitch 0.0 deg")
             : value > 0 ? tr("pitch %1 deg nose down").arg(size)
                         : tr("pitch %1 deg nose up").arg(size);
    case AttitudeBar::sliderCount:
      break;
  }
  return {};
}

}  // namespace

AttitudeBar::AttitudeBar(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(12, 0, 8, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(0);
  const std::array<QString, sliderCount> names{tr("Bump"), tr("Roll"), tr("Steering"), tr("Pitch")};
  for (int i = 0; i < sliderCount; ++i) {
    const auto k = static_cast<std::size_t>(i);
    auto* s = new QSlider(Qt::Horizontal, this);
    const QString name = QString::fromLatin1(degreesOfFreedom[k].name);
    s->setObjectName(name);
    s->setAccessibleName(names[k]);
    s->setMinimumHeight(targetHeight);
    auto* text = new QLabel(this);
    text->setObjectName(name + QStringLiteral(".text"));
    text->setFont(figureFont(12));
    text->setFixedWidth(i % 2 == 0 ? 122 : 144);
    const int row = i / 2;
    const int column = (i % 2) * 2;
    grid->addWidget(text, row, column);
    grid->addWidget(s, row, column + 1);
    grid->setColumnStretch(column + 1, 1);
    connect(s, &QSlider::valueChanged, this, &AttitudeBar::apply);
    sliders_[k] = s;
    texts_[k] = text;
  }
  auto* level = new QToolButton(this);
  level->setObjectName(QStringLiteral("level"));
  level->setText(tr("Level"));
  level->setToolTip(tr("Back to ride height, level and straight ahead (Ctrl+L)"));
  connect(level, &QToolButton::clicked, this, [this] { model_.setAttitude({}); });
  grid->addWidget(level, 0, 4, 2, 1);
  connect(&model_, &PlanModel::comparisonChanged, this, &AttitudeBar::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &AttitudeBar::refresh);
  refresh();
}

void AttitudeBar::apply() {
  ViewAttitude a = model_.attitude();
  const bool rack = model_.reach().rack_mm > 0.0;
  for (std::size_t i = 0; i < sliders_.size(); ++i) {
    const Degree& d = i == steer && rack ? byRack : degreesOfFreedom[i];
    // A place between two steps, reached by dragging, stays until its own slider moves.
    if (std::lround(d.get(a) / d.step) != sliders_[i]->value()) d.set(a, sliders_[i]->value() * d.step);
  }
  model_.setAttitude(a);
}

void AttitudeBar::refresh() {
  const PlanModel::Reach reach = model_.reach();
  const bool rack = reach.rack_mm > 0.0;
  const std::array<std::pair<double, double>, sliderCount> range{
      std::pair(-reach.droop_mm, reach.bump_mm), std::pair(-degrees(reach.roll_rad), degrees(reach.roll_rad)),
      rack ? std::pair(-reach.rack_mm, reach.rack_mm) : std::pair(-degrees(reach.servo_rad), degrees(reach.servo_rad)),
      std::pair(-degrees(reach.pitch_rad), degrees(reach.pitch_rad))};
  for (std::size_t i = 0; i < sliders_.size(); ++i) {
    const Degree& d = i == steer && rack ? byRack : degreesOfFreedom[i];
    const QSignalBlocker quiet(sliders_[i]);
    sliders_[i]->setRange(static_cast<int>(std::lround(range[i].first / d.step)),
                          static_cast<int>(std::lround(range[i].second / d.step)));
    const double value = d.get(model_.attitude());
    sliders_[i]->setValue(static_cast<int>(std::lround(value / d.step)));
    texts_[i]->setText(told(static_cast<Slider>(i), value, rack));
  }
}

}  // namespace lowkite::app
