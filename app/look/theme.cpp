#include "app/look/theme.h"

#include <QApplication>
#include <QPainter>
#include <QPolygonF>
#include <QProxyStyle>
#include <QStyleFactory>
#include <QStyleOption>

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

namespace {

QString styleSheet(const Tokens& t) {
  return QStringLiteral(R"(
    QMainWindow, QDialog { background: %paper; }
    QToolTip { color: %ink; background: %surface; border: 1px solid %soft; padding: 4px; }
    QFrame[panel="true"] { background: %surface; border: 1px solid %line; border-radius: 6px; }
    QLabel[role="heading"] { color: %soft; font-size: 12px; font-weight: 600; }
    QLabel[role="quiet"] { color: %soft; font-size: 12px; }
    QToolButton, QPushButton {
      color: %ink; background: %surface; border: 1px solid %line; border-radius: 6px;
      min-height: 34px; min-width: 34px; padding: 0 8px; }
    QToolButton[stepper="true"] { padding: 0; min-width: 38px; font-size: 20px; }
    QToolButton:hover, QPushButton:hover { border-color: %soft; }
    QToolButton:pressed, QPushButton:pressed { background: %line; }
    QToolButton:checked { background: %ink; color: %paper; border-color: %ink; }
    QToolButton[segment="true"] { background: transparent; color: %soft; border: 2px solid transparent; min-width: 20px;
                                  min-height: 32px; padding: 0 5px; }
    QToolButton[boxed="true"] { border-color: %line; }
    QToolButton[segment="true"]:hover { color: %ink; border-color: %line; }
    QToolButton[segment="true"]:checked { background: %line; color: %ink; border-color: %line; }
    QToolButton[segment="true"]:focus { border: 2px solid %kite; }
    QToolButton[segment="true"]:disabled { color: %line; background: transparent; }
    QToolButton[tight="true"] { padding: 0; min-width: 34px; }
    QToolButton[quiet="true"], QPushButton[quiet="true"] { background: transparent; border: 2px solid transparent;
                                                           min-height: 32px; }
    QToolButton[quiet="true"]:hover, QPushButton[quiet="true"]:hover { border-color: %line; }
    QToolButton[quiet="true"]:checked { background: %line; color: %ink; }
    QToolButton[quiet="true"]:focus, QPushButton[quiet="true"]:focus { border: 2px solid %kite; }
    QToolButton[quiet="true"]:disabled, QPushButton[quiet="true"]:disabled { color: %soft; background: transparent; }
    QToolButton:focus, QPushButton:focus { border: 2px solid %kite; }
    QToolButton:disabled, QPushButton:disabled { color: %soft; background: %paper; }
    QPushButton[primary="true"] { background: %kite; color: %paper; border-color: %kite; font-weight: 600; }
    QPushButton[primary="true"]:focus { border: 2px solid %ink; }
    QPushButton[primary="true"]:disabled { background: %paper; color: %soft; border-color: %line; }
    QMenuBar { background: %paper; color: %ink; }
    QScrollBar:vertical { background: transparent; width: 12px; margin: 0; }
    QScrollBar:horizontal { background: transparent; height: 12px; margin: 0; }
    QScrollBar::handle { background: %line; border-radius: 4px; margin: 2px; }
    QScrollBar::handle:vertical { min-height: 36px; }
    QScrollBar::handle:horizontal { min-width: 36px; }
    QScrollBar::handle:hover { background: %soft; }
    QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
    QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
    QSplitter::handle { background: %line; }
    QSplitter::handle:hover { background: %soft; }
    QSplitter[kept="true"]::handle { background: transparent; }
    QSplitter[kept="true"]::handle:hover { background: %line; }
    QMenuBar::item { padding: 8px 8px; background: transparent; }
    QMenuBar::item:selected { background: %line; border-radius: 4px; }
    QMenu { background: %surface; color: %ink; border: 1px solid %line; }
    QMenu::item { padding: 8px 28px 8px 20px; }
    QMenu::item:selected { background: %line; }
    QMenu::item:disabled { color: %soft; }
    QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
    QTableView { background: transparent; border: none; gridline-color: transparent; color: %ink;
                 selection-background-color: %line; selection-color: %ink; }
    QToolButton::menu-indicator { image: none; }
    QFrame[stage="true"] { background: %surface; }
    QCheckBox { color: %ink; spacing: 8px; min-height: 36px; }
    QCheckBox::indicator { width: 20px; height: 20px; }
    QSlider::groove:horizontal { height: 4px; background: %line; border-radius: 2px; }
    QSlider::handle:horizontal { width: 22px; height: 22px; margin: -10px 0; border-radius: 11px;
                                 background: %surface; border: 2px solid %ink; }
    QSlider::handle:horizontal:focus { border-color: %kite; }
    QPushButton[bench="true"], QToolButton[bench="true"] { min-height: 46px; }
    QPushButton[big="true"], QToolButton[big="true"] { min-height: 54px; min-width: 86px; font-size: 16px; }
    QToolButton[scale="true"] { min-height: 46px; min-width: 86px; font-size: 16px; }
    QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { width: 0; border: none; }
    QListView::item:selected { background: %line; color: %ink; border-left: 4px solid %kite; }
    QDoubleSpinBox[bench="true"], QLineEdit[bench="true"] { min-height: 46px; }
    QLineEdit { background: %surface; color: %ink; border: 1px solid %line; border-radius: 6px; min-height: 34px; padding: 0 8px; }
    QLineEdit:focus { border: 2px solid %kite; }
    QToolButton[slim="true"] { padding: 0; min-width: 0; }
    QPlainTextEdit { background: %surface; color: %ink; border: 1px solid %line; border-radius: 6px; }
    QTreeView { background: transparent; color: %ink; border: 1px solid %line; border-radius: 6px; outline: none;
                selection-background-color: %line; selection-color: %ink; }
    QTreeView::item:selected { background: %line; color: %ink; }
    QTreeView QHeaderView::section { background: transparent; border: none; padding-left: 6px; }
    QListView { background: transparent; color: %ink; outline: none; }
    QSpinBox, QDoubleSpinBox { background: %surface; color: %ink; border: 1px solid %line; border-radius: 6px; min-height: 34px; padding: 0 4px; }
  )")
      .replace("%paper", t.paper.name())
      .replace("%surface", t.surface.name())
      .replace("%ink", t.ink.name())
      .replace("%soft", t.soft.name())
      .replace("%line", t.line.name())
      .replace("%kite", t.kite.name());
}

}  // namespace

namespace {

/// Fusion with ticks that are seen in both shades.
class KiteStyle : public QProxyStyle {
 public:
  KiteStyle() : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))) {}

  void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p,
                     const QWidget* widget) const override {
    if (element != PE_IndicatorCheckBox) return QProxyStyle::drawPrimitive(element, option, p, widget);
    const Tokens& t = tokens(option->palette);
    const QRectF box = QRectF(option->rect).adjusted(1.5, 1.5, -1.5, -1.5);
    const bool on = option->state & State_On;
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(QPen(option->state & State_HasFocus ? t.kite : t.soft, 1.5));
    p->setBrush(on ? t.ink : t.surface);
    p->drawRoundedRect(box, 4.0, 4.0);
    if (on) {
      const auto at = [&](double x, double y) { return box.topLeft() + QPointF(x * box.width(), y * box.height()); };
      p->setPen(QPen(t.surface, 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
      p->drawPolyline(QPolygonF{at(0.22, 0.52), at(0.43, 0.73), at(0.8, 0.28)});
    }
    p->restore();
  }
};

}  // namespace

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
  // Every step below visits every widget: the style is the same in both shades.
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
  p.setColor(QPalette::ToolTipBase, t.surface);
  p.setColor(QPalette::ToolTipText, t.ink);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    p.setColor(QPalette::Disabled, role, t.soft);
  app.setPalette(p);
  app.setStyleSheet(styleSheet(t));
}

QString coloured(const QColor& colour, const QString& text) {
  return QStringLiteral("<span style='color:%1'>%2</span>").arg(colour.name(), text);
}

}  // namespace lowkite::app
