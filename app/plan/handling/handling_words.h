// What the pages about handling have in common: the signs of the driver's, and how shares and differences are written.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>

#include <QApplication>
#include <QComboBox>
#include <QSpinBox>
#include <QString>

#include "app/look/theme.h"
#include "app/words/wording.h"
#include "core/handling/over_tyres.hpp"
#include "core/plan/wishes.hpp"

namespace lowkite::app {

/// What a row of signs is read from, and which way is told as up.
struct SignRow {
  HandlingFigure figure;
  const char* title;
  const char* up;
  const char* down;
  double sense;  ///< -1: less of the figure is told as up
};
inline constexpr std::array<SignRow, 4> signRows{{
    {HandlingFigure::front_left, QT_TRANSLATE_NOOP("HandlingPage", "Front grip"),
     QT_TRANSLATE_NOOP("HandlingPage", "more"), QT_TRANSLATE_NOOP("HandlingPage", "less"), 1.0},
    {HandlingFigure::rear_left, QT_TRANSLATE_NOOP("HandlingPage", "Rear grip"),
     QT_TRANSLATE_NOOP("HandlingPage", "more"), QT_TRANSLATE_NOOP("HandlingPage", "less"), 1.0},
    {HandlingFigure::steering, QT_TRANSLATE_NOOP("HandlingPage", "Steering needed"),
     QT_TRANSLATE_NOOP("HandlingPage", "more"), QT_TRANSLATE_NOOP("HandlingPage", "less"), 1.0},
    {HandlingFigure::reaction, QT_TRANSLATE_NOOP("HandlingPage", "Reaction"),
     QT_TRANSLATE_NOOP("HandlingPage", "quicker"), QT_TRANSLATE_NOOP("HandlingPage", "later"), -1.0},
}};

inline QString handlingWords(const char* text) {
  return QApplication::translate("HandlingPage", text);
}

inline QString phaseTitle(CornerPhase phase) {
  switch (phase) {
    case CornerPhase::entry:
      return QApplication::translate("HandlingPage", "Entry, on the brake");
    case CornerPhase::middle:
      return QApplication::translate("HandlingPage", "Middle");
    case CornerPhase::exit:
      return QApplication::translate("HandlingPage", "Exit, on power");
  }
  return {};
}

/// "Front grip: middle"
inline QString feltLabel(HandlingFigure figure, CornerPhase phase) {
  const auto row = std::find_if(signRows.begin(), signRows.end(), [&](const SignRow& r) { return r.figure == figure; });
  return QApplication::translate("HandlingPage", "%1: %2").arg(handlingWords(row->title), fromCore(name_of(phase)));
}

/// What may be wished of a row of signs, told by its words; the first is more of what it calls more.
inline void fillWants(QComboBox& box, const SignRow& row) {
  using W = HandlingWant;
  const bool plain = row.sense > 0.0;
  const QString up = handlingWords(row.up), down = handlingWords(row.down);
  const QString not_that = QApplication::translate("HandlingPage", "not %1");
  box.clear();
  box.addItem(up, static_cast<int>(plain ? W::more : W::less));
  box.addItem(not_that.arg(down), static_cast<int>(plain ? W::not_less : W::not_more));
  box.addItem(QApplication::translate("HandlingPage", "the same"), static_cast<int>(W::same));
  box.addItem(not_that.arg(up), static_cast<int>(plain ? W::not_more : W::not_less));
  box.addItem(down, static_cast<int>(plain ? W::less : W::more));
}

inline int tyresOf(double share, std::size_t all) {
  return static_cast<int>(std::lround(share * static_cast<double>(all)));
}

inline QString withUnit(double value, int decimals, std::string_view unit, bool sign) {
  // No line is broken between the two.
  return QStringLiteral("%1\u00A0%2")
      .arg(sign ? signedNumber(value, decimals) : number(value, decimals), fromCore(unit));
}

/// For which share of the tyres each wish is to hold, %.
inline QSpinBox* tyreShareField(QWidget* parent, const QString& name, const QString& prefix) {
  auto* share = new QSpinBox(parent);
  share->setObjectName(name);
  share->setRange(50, 100);
  share->setSingleStep(5);
  share->setValue(80);
  share->setPrefix(prefix);
  share->setSuffix(QApplication::translate("HandlingPage", " % of tyres"));
  share->setAccessibleName(
      QApplication::translate("HandlingPage", "For which share of the tyres each wish is to hold"));
  share->setMinimumHeight(targetHeight);
  return share;
}

/// The median over the tyres: "+0.6 %".
inline QString feltDifference(HandlingFigure figure, const HandlingDifference& difference) {
  const HandlingFigureSpec& spec = spec_of(figure);
  return withUnit(difference.by.median, spec.decimals + (spec.decimals == 0 ? 0 : 1), spec.unit, true);
}

}  // namespace lowkite::app
