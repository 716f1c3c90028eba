#include "app/plan/curves/construction_panel.h"

#include <cmath>

#include <QGridLayout>
#include <QLabel>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {

ConstructionPanel::ConstructionPanel(PlanModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("construction"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 4, 8, 4);
  row->setSpacing(16);
  auto* grid = new QGridLayout;
  grid->setSpacing(4);
  grid->setColumnStretch(0, 1);
  grid->setColumnStretch(1, 1);
  for (int i = 0; i < 6; ++i) {
    auto* step = new QToolButton(this);
    step->setObjectName(QStringLiteral("construction.%1").arg(i + 1));
    step->setCheckable(true);
    step->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    step->setToolButtonStyle(Qt::ToolButtonTextOnly);
    step->setProperty("leftward", true);
    step->setFont(textFont(labelSize));
    // Toggled, not clicked: a screen reader does not click.
    connect(step, &QToolButton::toggled, this, [this, i](bool on) {
      if (on)
        model_.setConstructionStep(i + 1);
      else if (model_.constructionStep() == i + 1)
        model_.setConstructionStep(0);
    });
    grid->addWidget(step, i % 3, i / 3);
    steps_.push_back(step);
  }
  auto* steps = new QVBoxLayout;
  steps->addLayout(grid);
  steps->addStretch(1);
  row->addLayout(steps, 3);
  verdict_ = new QLabel(this);
  verdict_->setObjectName(QStringLiteral("construction.verdict"));
  verdict_->setWordWrap(true);
  verdict_->setFont(textFont(12));
  verdict_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  row->addWidget(verdict_, 2);
  connect(&model_, &PlanModel::comparisonChanged, this, &ConstructionPanel::refresh);
  connect(&model_, &PlanModel::selectionChanged, this, &ConstructionPanel::refresh);
  connect(&model_, &PlanModel::constructionChanged, this, &ConstructionPanel::refresh);
}

void ConstructionPanel::showEvent(QShowEvent*) {
  refresh();
}

void ConstructionPanel::refresh() {
  const Comparison* c = model_.comparison();
  if (!c || !isVisible()) return;  // told anew when the page is shown
  const RollCentre& rc = c->changed->source.car.axle[at(model_.end())].roll_centre;
  const Side side = model_.shownSide();
  const Side other = side == Side::left ? Side::right : Side::left;
  const WheelConstruction& w = rc.construction[at(side)];
  const QString where = w.instant_centre
                            ? tr("%1 mm away").arg(number(std::abs(w.contact.across - w.instant_centre->across), 0))
                            : tr("none: parallel");
  const QStringList texts{
      tr("1  Along the %1 lower arm").arg(sideTitle(side)),
      tr("2  Along the %1 camber link").arg(sideTitle(side)),
      tr("3  Instant centre, %1").arg(where),
      tr("4  From there to the %1 tyre").arg(sideTitle(side)),
      tr("5  The same from the %1 tyre").arg(sideTitle(other)),
      tr("6  Roll centre, %1").arg(rc.drawn ? tr("%1 mm up").arg(number(rc.drawn->height, 1)) : tr("at infinity"))};
  for (int i = 0; i < 6; ++i) {
    steps_[at(i)]->setText(texts[i]);
    steps_[at(i)]->setChecked(model_.constructionStep() == i + 1);
  }
  const auto height = [](const std::optional<FrontPoint>& p) {
    return p ? tr("%1 mm").arg(number(p->height, 1)) : tr("at infinity");
  };
  QString verdict = tr("Whole linkage moving: %1. Drawing: %2.").arg(height(rc.moving), height(rc.drawn));
  if (rc.moving && rc.drawn && model_.document().car().axle(model_.end()).mechanism->steered && rc.locked) {
    verdict = tr("Whole linkage moving: %1. Knuckle locked: %2. Drawing: %3.")
                  .arg(height(rc.moving), height(rc.locked), height(rc.drawn));
    if (std::abs(rc.moving->height - rc.locked->height) >= 0.05)
      verdict += tr(" The first two differ because bump steer, with trail, carries the contact sideways.");
    if (std::abs(rc.locked->height - rc.drawn->height) >= 0.05)
      verdict += tr(" The drawing is flat: it cannot see kick-up, caster and pins that are not parallel.");
  } else if (rc.moving && rc.drawn && std::abs(rc.moving->height - rc.drawn->height) >= 0.05) {
    verdict += tr(" The drawing is flat: it cannot see pins that are not parallel.");
  }
  verdict_->setText(verdict);
}

}  // namespace lowkite::app
