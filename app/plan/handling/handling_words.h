// What the pages about handling have in common: the signs of the driver's, and how shares and differences are written.
#pragma once

#include <array>
#include <cmath>

#include <QApplication>
#include <QString>

#include "app/words/wording.h"
#include "core/handling/over_tyres.hpp"

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

inline int tyresOf(double share, std::size_t all) {
  return static_cast<int>(std::lround(share * static_cast<double>(all)));
}

inline QString withUnit(double value, int decimals, std::string_view unit, bool sign) {
  return QStringLiteral("%1 %2").arg(sign ? signedNumber(value, decimals) : number(value, decimals), fromCore(unit));
}

}  // namespace lowkite::app
