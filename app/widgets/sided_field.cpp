#include "app/widgets/sided_field.h"

#include <cmath>

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QToolButton>

#include "app/widgets/segmented.h"

namespace lowkite::app {
namespace {

constexpr double widest = 10000.0;
constexpr int sideWidth = 50;
constexpr int fieldWidth = 102;  ///< at least: "12.5 deg" in the bench's letters

}  // namespace

SidedField::SidedField(const QString& name, int targetPx, QWidget* parent) : QWidget(parent) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  spin_ = new QDoubleSpinBox(this);
  spin_->setObjectName(name + QStringLiteral("field"));
  spin_->setRange(-widest, widest);
  spin_->setAlignment(Qt::AlignCenter);
  spin_->setMinimumWidth(fieldWidth);
  spin_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  spin_->setAccessibleName(tr("What was read"));
  sides_ = new Segmented(name + QStringLiteral("side"), {tr("minus"), tr("plus")}, this);
  for (QToolButton* b : sides_->findChildren<QToolButton*>()) {
    b->setProperty("bench", true);
    b->setMinimumWidth(sideWidth);
    b->setFocusPolicy(Qt::NoFocus);
  }
  const auto stepper = [&](const QString& text, const QString& id, int by) {
    auto* b = new QToolButton(this);
    b->setObjectName(name + id);
    b->setText(text);
    b->setAccessibleName(by < 0 ? tr("less") : tr("more"));
    b->setAutoRepeat(true);
    b->setFocusPolicy(Qt::NoFocus);
    b->setProperty("stepper", true);
    b->setFixedSize(targetPx, targetPx);
    connect(b, &QToolButton::clicked, this, [this, by] { spin_->stepBy(by); });
    return b;
  };
  row->addWidget(stepper(QStringLiteral("\u2212"), QStringLiteral("less"), -1));
  row->addWidget(spin_, 1);
  row->addWidget(stepper(QStringLiteral("+"), QStringLiteral("more"), 1));
  row->addSpacing(4);
  row->addWidget(sides_);
  connect(sides_, &Segmented::chosen, this, &SidedField::changed);
  connect(spin_, &QDoubleSpinBox::valueChanged, this, [this](double v) {
    // A minus that is typed all the same says the side.
    if (zero_ == ZeroSides::minus_plus && v < 0.0) {
      const QSignalBlocker quiet(spin_);
      spin_->setValue(-v);
      sides_->setCurrent(0);
    }
    Q_EMIT changed();
  });
}

void SidedField::setGauge(const GaugeSpec& gauge, const QString& unit) {
  const QSignalBlocker quiet(spin_);
  zero_ = gauge.zero;
  spin_->setDecimals(gauge.decimals);
  spin_->setSingleStep(gauge.resolution);
  spin_->setSuffix(QLatin1Char(' ') + unit);
  spin_->setMinimum(zero_ == ZeroSides::in_out || gauge.play ? 0.0 : -widest);
  sides_->setVisible(zero_ != ZeroSides::none);
  const auto buttons = sides_->findChildren<QToolButton*>();
  const bool toe = zero_ == ZeroSides::in_out;
  buttons[0]->setText(toe ? tr("in") : tr("minus"));
  buttons[1]->setText(toe ? tr("out") : tr("plus"));
  buttons[0]->setAccessibleName(toe ? tr("toe in") : tr("minus: the top leans in"));
  buttons[1]->setAccessibleName(toe ? tr("toe out") : tr("plus: the top leans out"));
}

void SidedField::setValue(double value) {
  const QSignalBlocker quiet(spin_);
  if (zero_ == ZeroSides::none) {
    spin_->setValue(value);
    return;
  }
  spin_->setValue(std::abs(value));
  // Toe counts inwards: its first side is plus. Camber's first side is minus.
  if (value != 0.0) sides_->setCurrent((value > 0.0) == (zero_ == ZeroSides::in_out) ? 0 : 1);
}

double SidedField::value() const {
  spin_->interpretText();
  if (zero_ == ZeroSides::none) return spin_->value();
  const bool plus = (sides_->current() == 0) == (zero_ == ZeroSides::in_out);
  return plus ? spin_->value() : -spin_->value();
}

}  // namespace lowkite::app
