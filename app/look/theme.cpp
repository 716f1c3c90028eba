#include "app/look/theme.h"

#include <QApplication>
#include <QToolTip>
#include <QWidget>

#include "app/look/kite_style.h"
#include "app/look/recolour.h"

namespace lowkite::app {

const Tokens& tokens(Shade shade) {
  static const Tokens light{QColor("#F6F3EC"), QColor("#FFFFFF"), QColor("#1B2430"), QColor("#55606E"),
                            QColor("#D5D0C4"), QColor("#B83A0E"), QColor("#4F6580"), QColor("#1B6E45"),
                            QColor("#8A5A00"), QColor("#A61B1B")};
  static const Tokens dark{QColor("#12161C"), QColor("#1B212A"), QColor("#ECE8E0"), QColor("#A7B0BC"),
                           QColor("#39424F"), QColor("#FF9A57"), QColor("#93A9C4"), QColor("#63CB95"),
                           QColor("#F0B94E"), QColor("#FF8577")};
  return shade == Shade::light ? light : dark;
}

const Tokens& tokens(const QPalette& palette) {
  // Judged by the ink: style sheets make backgrounds transparent, and transparent is black to a palette.
  return tokens(palette.color(QPalette::WindowText).lightness() < 128 ? Shade::light : Shade::dark);
}

QFont textFont(int size, bool bold) {
  QFont font(QStringList{QStringLiteral("Inter"), QStringLiteral("DejaVu Sans")});
  font.setPixelSize(size);
  font.setWeight(bold ? QFont::DemiBold : QFont::Normal);
  // Kerning is not seen at these sizes, and shaping was a fifth of what a step costs the window. Scripts that need it
  // are shaped all the same.
  font.setStyleStrategy(QFont::PreferNoShaping);
  return font;
}

QFont figureFont(int size, bool bold) {
  return textFont(size, bold);
}

void applyTheme(QApplication& app, Shade shade) {
  const Tokens& t = tokens(shade);
  // The style is the same in both shades.
  if (!app.property("kiteStyle").toBool()) {
    app.setStyle(new KiteStyle);
    app.setFont(textFont(textSize));
    app.setProperty("kiteStyle", true);
  }
  QPalette p;
  p.setColor(QPalette::Window, t.paper);
  p.setColor(QPalette::WindowText, t.ink);
  p.setColor(QPalette::Base, t.surface);
  p.setColor(QPalette::AlternateBase, t.paper);
  p.setColor(QPalette::Text, t.ink);
  p.setColor(QPalette::Button, t.surface);
  p.setColor(QPalette::ButtonText, t.ink);
  p.setColor(QPalette::Highlight, t.kite);
  p.setColor(QPalette::HighlightedText, t.paper);
  p.setColor(QPalette::PlaceholderText, t.soft);
  p.setColor(QPalette::Mid, t.line);
  p.setColor(QPalette::BrightText, t.soft);
  p.setColor(QPalette::ToolTipBase, t.surface);
  p.setColor(QPalette::ToolTipText, t.ink);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    p.setColor(QPalette::Disabled, role, t.soft);
  app.setPalette(p);
  // Rows that are chosen are quiet, what is in hand is not: it has its own mark.
  QPalette rows = p;
  rows.setColor(QPalette::Highlight, t.line);
  rows.setColor(QPalette::HighlightedText, t.ink);
  QApplication::setPalette(rows, "QAbstractItemView");
  rows.setColor(QPalette::Window, t.surface);
  QApplication::setPalette(rows, "QMenu");
  QToolTip::setPalette(p);
  // At once: what is filled before the widgets hear of it would have the colours of the shade before.
  QCoreApplication::sendPostedEvents(nullptr, QEvent::ApplicationPaletteChange);
  const QVariant before = app.property("shade");
  app.setProperty("shade", static_cast<int>(shade));
  if (before.isValid() && before.toInt() != static_cast<int>(shade))
    recolour(tokens(static_cast<Shade>(before.toInt())), t);
}

void setInk(QWidget& widget, const QColor& colour) {
  QPalette palette;
  palette.setColor(QPalette::WindowText, colour);
  widget.setPalette(palette);
}

QString coloured(const QColor& colour, const QString& text) {
  return QStringLiteral("<span style='color:%1'>%2</span>").arg(colour.name(), text);
}

}  // namespace lowkite::app
