#include "app/plan/parts/adjuster_panel.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/plan/parts/adjuster_row.h"
#include "app/widgets/segmented.h"

namespace lowkite::app {

AdjusterPanel::AdjusterPanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setProperty("panel", true);
  setObjectName(QStringLiteral("adjusters"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(1, 8, 1, 1);
  column->setSpacing(6);

  auto* top = new QHBoxLayout;
  top->setContentsMargins(8, 0, 8, 0);
  sides_ = new Segmented(QStringLiteral("sides"), {tr("Both sides"), tr("Left"), tr("Right")}, this);
  connect(sides_, &Segmented::chosen, this, [this](int i) { model_.setSides(static_cast<Sides>(i)); });
  top->addWidget(sides_);
  top->addStretch();
  column->addLayout(top);

  auto* height = new QHBoxLayout;
  height->setContentsMargins(10, 0, 8, 0);
  auto* label = new QLabel(tr("Ride height"), this);
  rideHeight_ = new QDoubleSpinBox(this);
  rideHeight_->setObjectName(QStringLiteral("rideHeight"));
  rideHeight_->setRange(0.0, 60.0);
  rideHeight_->setSingleStep(0.1);
  rideHeight_->setDecimals(1);
  rideHeight_->setSuffix(tr(" mm"));
  rideHeight_->setFixedWidth(76);
  rideHeight_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  rideHeight_->setAlignment(Qt::AlignCenter);
  rideHeight_->setKeyboardTracking(false);
  label->setBuddy(rideHeight_);
  connect(rideHeight_, &QDoubleSpinBox::valueChanged, this,
          [this](double mm) { model_.document().setRideHeight(model_.end(), mm); });
  const auto button = [&](const QString& text, const QString& name, double by) {
    auto* b = new QToolButton(this);
    b->setText(text);
    b->setObjectName(name);
    b->setFocusPolicy(Qt::NoFocus);
    b->setAutoRepeat(true);
    b->setProperty("stepper", true);
    b->setFixedSize(40, 38);
    connect(b, &QToolButton::clicked, this, [this, by] { rideHeight_->setValue(rideHeight_->value() + by); });
    return b;
  };
  height->setSpacing(6);
  height->addWidget(label, 1);
  height->addWidget(rideHeight_);
  height->addWidget(button(QStringLiteral("\u2212"), QStringLiteral("rideHeight.less"), -rideHeight_->singleStep()));
  height->addWidget(button(QStringLiteral("+"), QStringLiteral("rideHeight.more"), rideHeight_->singleStep()));
  column->addLayout(height);

  scroll_ = new QScrollArea(this);
  scroll_->setWidgetResizable(true);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setFocusPolicy(Qt::NoFocus);
  column->addWidget(scroll_, 1);

  connect(&model_, &PlanModel::selectionChanged, this, &AdjusterPanel::followSelection);
  connect(&model_.document(), &Document::inputsChanged, this, &AdjusterPanel::refresh);
}

void AdjusterPanel::rebuild() {
  builtFor_ = model_.document().sharedCar();
  builtEnd_ = model_.end();
  rows_.clear();
  auto* content = new QWidget;
  auto* column = new QVBoxLayout(content);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  for (const int i : builtFor_->adjusters_from_the_wheel(builtEnd_)) {
    auto* row = new AdjusterRow(model_, i, content);
    connect(row, &AdjusterRow::told, this, &AdjusterPanel::told);
    rows_.push_back(row);
    column->addWidget(row);
  }
  column->addStretch();
  scroll_->setWidget(content);
}

void AdjusterPanel::refresh() {
  if (!model_.document().hasCar()) return;
  if (builtFor_ != model_.document().sharedCar() || builtEnd_ != model_.end()) rebuild();
  for (AdjusterRow* row : rows_) row->refresh();
  const QSignalBlocker quiet(rideHeight_);
  rideHeight_->setValue(model_.document().setup().ride_height_mm[at(model_.end())]);
}

void AdjusterPanel::followSelection() {
  refresh();
  sides_->setCurrent(static_cast<int>(model_.sides()));
  for (AdjusterRow* row : rows_)
    if (row->adjuster() == model_.part()) scroll_->ensureWidgetVisible(row, 0, 8);
}

}  // namespace lowkite::app
