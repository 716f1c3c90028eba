// A number field that says in and out for toe, and is a plain one for all else.
#pragma once

#include <cmath>
#include <optional>

#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QRegularExpression>

namespace lowkite::app {

class ToeSpin : public QDoubleSpinBox {
  Q_DECLARE_TR_FUNCTIONS(ToeSpin)

 public:
  using QDoubleSpinBox::QDoubleSpinBox;

  /// Toe is told as an amount and a side, with its unit between them; positive = in. Precondition: no suffix then.
  void setToe(bool toe, const QString& unit) {
    toe_ = toe;
    unit_ = unit;
    setSuffix(toe ? QString() : QLatin1Char(' ') + unit);
  }

  QString textFromValue(double v) const override {
    if (!toe_) return QDoubleSpinBox::textFromValue(v);
    const QString amount = tr("%1 %2").arg(QDoubleSpinBox::textFromValue(std::abs(v)), unit_);
    if (v != 0.0) out_ = v < 0.0;
    const double least = 0.5 * std::pow(10.0, -decimals());
    return std::abs(v) < least ? amount : tr("%1 %2").arg(amount, v > 0.0 ? tr("in") : tr("out"));
  }
  /// A bare number is on the side where the field stands.
  double valueFromText(const QString& text) const override {
    if (!toe_) return QDoubleSpinBox::valueFromText(text);
    const double amount = number(text).value_or(0.0);
    if (text.contains(tr("out"))) return -amount;
    if (text.contains(tr("in"))) return amount;
    return out_ ? -amount : amount;
  }
  QValidator::State validate(QString& text, int& at) const override {
    if (!toe_) return QDoubleSpinBox::validate(text, at);
    return number(text) ? QValidator::Acceptable : QValidator::Intermediate;
  }

 private:
  static std::optional<double> number(const QString& text) {
    static const QRegularExpression figure(QStringLiteral("\\d+([.,]\\d*)?|[.,]\\d+"));
    const auto found = figure.match(text);
    if (!found.hasMatch()) return std::nullopt;
    return found.captured().replace(QLatin1Char(','), QLatin1Char('.')).toDouble();
  }

  bool toe_ = false;
  mutable bool out_ = false;  ///< the side of the last value that was not zero
  QString unit_;
};

}  // namespace lowkite::app
