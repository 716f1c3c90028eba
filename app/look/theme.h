// The look: colours by meaning, palettes and fonts, in one place. Controls are drawn by kite_style.h.
#pragma once

#include <QColor>
#include <QFont>
#include <QPalette>

class QApplication;
class QWidget;

namespace lowkite::app {

/// Colours by what they mean. Contrast on paper and surface is 5:1 or better for everything that is read.
struct Tokens {
  QColor paper, surface;  ///< window, panels
  QColor ink, soft;       ///< text and lines now; labels, units, quiet figures
  QColor line;            ///< hairlines between things
  QColor kite;            ///< changed against the baseline; the part in hand
  QColor base;            ///< the pinned baseline
  QColor good, warn, bad;
};

enum class Shade { light, dark };

const Tokens& tokens(Shade shade);
/// The tokens of the shade that a palette belongs to.
const Tokens& tokens(const QPalette& palette);

/// Sets palettes, font and style of the whole program.
void applyTheme(QApplication& app, Shade shade);

/// `size` in pixels; figures in columns stand under each other.
QFont figureFont(int size, bool bold = false);
QFont textFont(int size, bool bold = false);

/// All text of a widget in one colour.
void setInk(QWidget& widget, const QColor& colour);
/// Rich text of one colour.
QString coloured(const QColor& colour, const QString& text);

constexpr int textSize = 13;
constexpr int labelSize = 12;
constexpr int targetHeight = 36;  ///< least height of what a finger must hit

}  // namespace lowkite::app
