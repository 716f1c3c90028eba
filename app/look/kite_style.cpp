#include "app/look/kite_style.h"

#include <algorithm>

#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QCheckBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPainter>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStyleFactory>
#include <QStyleOption>
#include <QTableView>
#include <QTextEdit>
#include <QToolButton>
#include <QTreeView>

#include "app/look/theme.h"

// What is not named below is Fusion's, also what later versions of Qt add.
#pragma GCC diagnostic ignored "-Wswitch-enum"

namespace lowkite::app {
namespace {

constexpr double corner = 6.0;    ///< radius of a frame's corners
constexpr int benchHeight = 48;   ///< least height of what wet hands must hit
constexpr int fieldPadding = 8;   ///< beside the text of a line edit
constexpr int numberPadding = 4;  ///< beside the text of a number
constexpr int arrowRoom = 18;     ///< of a choice's arrow
constexpr int barExtent = 12;     ///< of a scroll bar
constexpr int leastHandle = 36;   ///< of a scroll bar's handle
constexpr int sliderHandle = 22;
constexpr int tick = 20;  ///< of a check box
constexpr int menuPadding = 8;
constexpr int cellInset = 3;     ///< beside the text of a cell, as Qt has it
constexpr int headerMargin = 2;  ///< round the text of a header, and so above and below that of a row

bool is(const QWidget* w, const char* property) {
  return w && w->property(property).toBool();
}

/// A field that a table opens for a while has the height of its row.
bool isInCell(const QWidget& w) {
  const auto* view =
      w.parentWidget() ? qobject_cast<const QAbstractItemView*>(w.parentWidget()->parentWidget()) : nullptr;
  return view && view->viewport() == w.parentWidget();
}

void least(QWidget& w, int width, int height) {
  w.setMinimumSize(std::max(w.minimumWidth(), width), std::max(w.minimumHeight(), height));
}

/// The room of a button beside its text, its least size and its text.
struct ButtonShape {
  int besides = 20;  ///< px, both sides together
  int leastWidth = 52, leastHeight = targetHeight;
  int squeezedTo = -1;  ///< where there is no room for its least width; -1: nothing less
  int text = textSize;
  bool bold = false;
};

ButtonShape shapeOf(const QWidget& w) {
  ButtonShape s;
  if (is(&w, "segment")) s.besides = 17, s.leastWidth = 34;
  if (is(&w, "quiet")) s.besides = 22, s.leastWidth = 54;
  if (is(&w, "stepper")) s.besides = 2, s.leastWidth = 40, s.text = 20;
  if (is(&w, "tight")) s.besides = 4, s.leastWidth = 38;
  if (is(&w, "slim")) s.besides = 2, s.leastWidth = 0;
  if (is(&w, "bench")) s.leastHeight = benchHeight;
  if (is(&w, "big")) s.leastWidth = 104, s.squeezedTo = 64, s.leastHeight = 56, s.text = 16;
  if (is(&w, "scale")) s.leastWidth = 104, s.squeezedTo = 60, s.leastHeight = benchHeight, s.text = 16;
  s.bold = is(&w, "primary");
  return s;
}

struct ButtonLook {
  QColor fill, frame, text;  ///< a fill or a frame that is not valid is not drawn
  double frameWidth = 1.0;
};

ButtonLook lookOf(const QStyleOption& option, const QWidget* w) {
  const QPalette& c = option.palette;
  const QColor paper = c.color(QPalette::Window), surface = c.color(QPalette::Base),
               soft = c.color(QPalette::BrightText), ink = c.color(QPalette::Active, QPalette::WindowText),
               line = c.color(QPalette::Mid), kite = c.color(QPalette::Highlight);
  const bool enabled = option.state & QStyle::State_Enabled, down = option.state & QStyle::State_Sunken,
             on = option.state & QStyle::State_On, over = enabled && (option.state & QStyle::State_MouseOver),
             focus = option.state & QStyle::State_HasFocus;
  ButtonLook look{{}, {}, enabled ? ink : soft, 2.0};
  if (is(w, "segment")) {
    look.text = !enabled ? line : on || over ? ink : soft;
    if (on || down) look.fill = line;
    if (on || over || is(w, "boxed")) look.frame = line;
  } else if (is(w, "quiet")) {
    if (enabled && (on || down)) look.fill = line;
    if (over) look.frame = line;
  } else if (is(w, "primary") && enabled) {
    look = {kite, kite, paper, 2.0};
  } else {
    look = {!enabled ? paper
            : on     ? ink
            : down   ? line
                     : surface,
            on && enabled ? ink
            : over        ? soft
                          : line,
            !enabled ? soft
            : on     ? paper
                     : ink,
            1.0};
  }
  if (focus) {
    look.frame = is(w, "primary") ? ink : kite;
    look.frameWidth = 2.0;
  }
  return look;
}

void box(QPainter& p, const QRect& rect, const QColor& fill, const QColor& frame, double width) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(fill.isValid() ? QBrush(fill) : QBrush(Qt::NoBrush));
  p.setPen(frame.isValid() ? QPen(frame, width) : QPen(Qt::NoPen));
  const double inset = frame.isValid() ? 0.5 * width : 0.0;
  p.drawRoundedRect(QRectF(rect).adjusted(inset, inset, -inset, -inset), corner, corner);
  p.restore();
}

void drawButton(QPainter& p, const QStyle& style, const QStyleOption& option, const QWidget* w, const QString& text) {
  const ButtonLook look = lookOf(option, w);
  box(p, option.rect, look.fill, look.frame, look.frameWidth);
  const int side = w ? shapeOf(*w).besides / 2 : 0;
  const int across = is(w, "leftward") ? Qt::AlignLeft : Qt::AlignHCenter;
  p.setPen(look.text);
  style.drawItemText(&p, option.rect.adjusted(side, 0, -side, 0), across | Qt::AlignVCenter | Qt::TextShowMnemonic,
                     option.palette, true, text);
}

/// What is typed into, or chosen in.
void fieldBox(QPainter& p, const QStyleOption& option) {
  const QPalette& c = option.palette;
  const bool focus = option.state & QStyle::State_HasFocus;
  box(p, option.rect, c.color(QPalette::Base), c.color(focus ? QPalette::Highlight : QPalette::Mid), focus ? 2.0 : 1.0);
}

bool isSheet(const QWidget* w) {
  return is(w, "panel") || qobject_cast<const QPlainTextEdit*>(w) || qobject_cast<const QTextEdit*>(w);
}

/// Where a scroll bar's handle is.
QRect handleOf(const QStyleOptionSlider& bar) {
  const bool across = bar.orientation == Qt::Horizontal;
  const int all = across ? bar.rect.width() : bar.rect.height();
  const qint64 range = static_cast<qint64>(bar.maximum) - bar.minimum;
  const int length =
      range > 0 ? std::clamp(static_cast<int>(static_cast<qint64>(all) * bar.pageStep / (range + bar.pageStep)),
                             std::min(leastHandle, all), all)
                : all;
  const int from =
      QStyle::sliderPositionFromValue(bar.minimum, bar.maximum, bar.sliderPosition, all - length, bar.upsideDown);
  const QRect handle = across ? QRect(from, 0, length, bar.rect.height()) : QRect(0, from, bar.rect.width(), length);
  return handle.translated(bar.rect.topLeft());
}

}  // namespace

KiteStyle::KiteStyle() : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))) {}

void KiteStyle::polish(QWidget* widget) {
  QProxyStyle::polish(widget);
  QWidget& w = *widget;
  if (auto* label = qobject_cast<QLabel*>(widget)) {
    if (const QString role = label->property("role").toString(); !role.isEmpty()) {
      label->setForegroundRole(QPalette::BrightText);
      label->setFont(textFont(labelSize, role == QStringLiteral("heading")));
    }
  } else if (qobject_cast<QToolButton*>(widget) || qobject_cast<QPushButton*>(widget)) {
    const ButtonShape shape = shapeOf(w);
    least(w, shape.squeezedTo < 0 ? shape.leastWidth : shape.squeezedTo, shape.leastHeight);
    w.setAttribute(Qt::WA_Hover);
    if (shape.text != textSize || shape.bold) w.setFont(textFont(shape.text, shape.bold));
  } else if (qobject_cast<QCheckBox*>(widget)) {
    least(w, 0, targetHeight);
  } else if (qobject_cast<QAbstractSpinBox*>(widget) || qobject_cast<QComboBox*>(widget)) {
    if (!isInCell(w)) least(w, 0, is(widget, "bench") ? benchHeight : targetHeight);
  } else if (const auto* field = qobject_cast<QLineEdit*>(widget)) {
    if (field->hasFrame() && !isInCell(w)) least(w, 0, is(widget, "bench") ? benchHeight : targetHeight);
  } else if (auto* view = qobject_cast<QAbstractItemView*>(widget)) {
    // The sheet it lies on is seen through it.
    view->viewport()->setAutoFillBackground(false);
    if (!qobject_cast<QTreeView*>(widget)) view->setFrameShape(QFrame::NoFrame);
  } else if (auto* area = qobject_cast<QScrollArea*>(widget)) {
    area->setFrameShape(QFrame::NoFrame);
    area->viewport()->setAutoFillBackground(false);
    if (area->widget()) area->widget()->setAutoFillBackground(false);
  } else if (auto* frame = qobject_cast<QFrame*>(widget); frame && isSheet(widget)) {
    frame->setFrameShape(QFrame::StyledPanel);
    if (auto* text = qobject_cast<QAbstractScrollArea*>(widget)) text->viewport()->setAutoFillBackground(false);
  } else if (is(widget, "stage")) {
    w.setBackgroundRole(QPalette::Base);
    w.setAutoFillBackground(true);
  }
}

void KiteStyle::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p,
                              const QWidget* widget) const {
  const QPalette& c = option->palette;
  switch (element) {
    case PE_IndicatorCheckBox: {
      const Tokens& t = tokens(c);
      const QRectF square = QRectF(option->rect).adjusted(1.5, 1.5, -1.5, -1.5);
      const bool on = option->state & State_On;
      p->save();
      p->setRenderHint(QPainter::Antialiasing);
      p->setPen(QPen(option->state & State_HasFocus ? t.kite : t.soft, 1.5));
      p->setBrush(on ? t.ink : t.surface);
      p->drawRoundedRect(square, 4.0, 4.0);
      if (on) {
        const auto at = [&](double x, double y) {
          return square.topLeft() + QPointF(x * square.width(), y * square.height());
        };
        p->setPen(QPen(t.surface, 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p->drawPolyline(QPolygonF{at(0.22, 0.52), at(0.43, 0.73), at(0.8, 0.28)});
      }
      p->restore();
      return;
    }
    case PE_Frame:
      if (isSheet(widget)) {
        box(*p, option->rect, c.color(QPalette::Base), c.color(QPalette::Mid), 1.0);
        return;
      }
      if (qobject_cast<const QTreeView*>(widget)) {
        box(*p, option->rect, {}, c.color(QPalette::Mid), 1.0);
        return;
      }
      break;
    case PE_PanelLineEdit:
      if (const auto* field = qstyleoption_cast<const QStyleOptionFrame*>(option); field && field->lineWidth > 0) {
        fieldBox(*p, *option);
        return;
      }
      break;
    case PE_FrameFocusRect:
      // In a list or a tree the row that is chosen says it; in a table the cell is told.
      if (qobject_cast<const QListView*>(widget) || qobject_cast<const QTreeView*>(widget)) return;
      break;
    case PE_PanelTipLabel:
      p->fillRect(option->rect, c.color(QPalette::ToolTipBase));
      p->setPen(c.color(QPalette::BrightText));
      p->setBrush(Qt::NoBrush);
      p->drawRect(option->rect.adjusted(0, 0, -1, -1));
      return;
    case PE_PanelScrollAreaCorner:
      return;
    default:
      break;
  }
  QProxyStyle::drawPrimitive(element, option, p, widget);
}

void KiteStyle::drawControl(ControlElement element, const QStyleOption* option, QPainter* p,
                            const QWidget* widget) const {
  const QPalette& c = option->palette;
  switch (element) {
    case CE_PushButton:
      if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option)) {
        drawButton(*p, *proxy(), *option, widget, button->text);
        return;
      }
      break;
    case CE_MenuBarItem:
      if (const auto* item = qstyleoption_cast<const QStyleOptionMenuItem*>(option)) {
        if (item->state & (State_Selected | State_Sunken)) box(*p, item->rect, c.color(QPalette::Mid), {}, 0.0);
        p->setPen(c.color(item->state & State_Enabled ? QPalette::Active : QPalette::Disabled, QPalette::WindowText));
        proxy()->drawItemText(p, item->rect, Qt::AlignCenter | Qt::TextShowMnemonic, c, true, item->text);
        return;
      }
      break;
    case CE_MenuBarEmptyArea:
    case CE_HeaderSection:
    case CE_HeaderEmptyArea:
      return;  // the sheet below is seen
    case CE_HeaderLabel:
      if (const auto* header = qstyleoption_cast<const QStyleOptionHeader*>(option)) {
        // Below each other with the cells; a table that paints its cells by hand says how far from the right they end.
        const int wanted = header->textAlignment & Qt::AlignRight && widget ? widget->property("inset").toInt() : 0;
        const int inset = std::max(cellInset, wanted) - headerMargin;
        QStyleOptionHeader moved = *header;
        moved.rect.adjust(inset, 0, -inset, 0);
        QProxyStyle::drawControl(element, &moved, p, widget);
        return;
      }
      break;
    case CE_ItemViewItem:
      QProxyStyle::drawControl(element, option, p, widget);
      if (qobject_cast<const QListView*>(widget) && option->state & State_Selected) {
        const QRect mark(option->rect.topLeft(), QSize(4, option->rect.height()));
        p->fillRect(mark, QGuiApplication::palette().color(QPalette::Highlight));
      }
      return;
    case CE_Splitter: {
      const bool over = option->state & State_MouseOver;
      if (!is(widget, "kept"))
        p->fillRect(option->rect, c.color(over ? QPalette::BrightText : QPalette::Mid));
      else if (over)
        p->fillRect(option->rect, c.color(QPalette::Mid));
      return;
    }
    default:
      break;
  }
  QProxyStyle::drawControl(element, option, p, widget);
}

void KiteStyle::drawComplexControl(ComplexControl control, const QStyleOptionComplex* option, QPainter* p,
                                   const QWidget* widget) const {
  const QPalette& c = option->palette;
  switch (control) {
    case CC_ToolButton:
      if (const auto* button = qstyleoption_cast<const QStyleOptionToolButton*>(option)) {
        const bool plain = button->icon.isNull();
        p->setFont(button->font);
        drawButton(*p, *proxy(), *option, widget, plain ? button->text : QString());
        if (!plain) QProxyStyle::drawControl(CE_ToolButtonLabel, option, p, widget);
        return;
      }
      break;
    case CC_SpinBox:
      fieldBox(*p, *option);
      return;
    case CC_ComboBox: {
      fieldBox(*p, *option);
      const QRectF arrow = subControlRect(control, option, SC_ComboBoxArrow, widget);
      const QPointF middle = arrow.center();
      p->save();
      p->setRenderHint(QPainter::Antialiasing);
      p->setPen(QPen(c.color(option->state & State_Enabled ? QPalette::Active : QPalette::Disabled, QPalette::Text),
                     1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
      p->drawPolyline(QPolygonF{middle + QPointF(-4, -2), middle + QPointF(0, 2), middle + QPointF(4, -2)});
      p->restore();
      return;
    }
    case CC_ScrollBar:
      if (const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option)) {
        if (bar->maximum <= bar->minimum) return;
        const bool held = bar->state & State_MouseOver && bar->activeSubControls & SC_ScrollBarSlider;
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(Qt::NoPen);
        p->setBrush(c.color(held ? QPalette::BrightText : QPalette::Mid));
        p->drawRoundedRect(QRectF(handleOf(*bar)).adjusted(2, 2, -2, -2), 4.0, 4.0);
        p->restore();
        return;
      }
      break;
    case CC_Slider:
      if (const auto* slider = qstyleoption_cast<const QStyleOptionSlider*>(option)) {
        const QRectF all = slider->rect;
        const QRectF handle = subControlRect(control, option, SC_SliderHandle, widget);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(Qt::NoPen);
        p->setBrush(c.color(QPalette::Mid));
        p->drawRoundedRect(slider->orientation == Qt::Horizontal
                               ? QRectF(all.left(), all.center().y() - 2.0, all.width(), 4.0)
                               : QRectF(all.center().x() - 2.0, all.top(), 4.0, all.height()),
                           2.0, 2.0);
        const bool enabled = slider->state & State_Enabled;
        p->setPen(QPen(c.color(!enabled                         ? QPalette::BrightText
                               : slider->state & State_HasFocus ? QPalette::Highlight
                                                                : QPalette::WindowText),
                       2.0));
        p->setBrush(c.color(QPalette::Base));
        const double r = 0.5 * std::min(handle.width(), handle.height()) - 1.0;
        p->drawEllipse(handle.center(), r, r);
        p->restore();
        return;
      }
      break;
    default:
      break;
  }
  QProxyStyle::drawComplexControl(control, option, p, widget);
}

QRect KiteStyle::subControlRect(ComplexControl control, const QStyleOptionComplex* option, SubControl part,
                                const QWidget* widget) const {
  const QRect& r = option->rect;
  if (control == CC_SpinBox) {
    if (part == SC_SpinBoxFrame) return r;
    if (part == SC_SpinBoxEditField) return r.adjusted(numberPadding + 1, 1, -numberPadding - 1, -1);
    return {};  // stepped by the keys, the wheel or the buttons beside it
  }
  if (control == CC_ComboBox && part == SC_ComboBoxEditField) return r.adjusted(fieldPadding, 1, -arrowRoom, -1);
  if (control == CC_ComboBox && part == SC_ComboBoxArrow)
    return {r.right() - arrowRoom - 1, r.top(), arrowRoom, r.height()};
  if (control == CC_ScrollBar)
    if (const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option)) {
      const QRect handle = handleOf(*bar);
      const bool across = bar->orientation == Qt::Horizontal;
      if (part == SC_ScrollBarSlider) return handle;
      if (part == SC_ScrollBarGroove) return r;
      if (part == SC_ScrollBarSubPage)
        return across ? QRect(r.topLeft(), QPoint(handle.left() - 1, r.bottom()))
                      : QRect(r.topLeft(), QPoint(r.right(), handle.top() - 1));
      if (part == SC_ScrollBarAddPage)
        return across ? QRect(QPoint(handle.right() + 1, r.top()), r.bottomRight())
                      : QRect(QPoint(r.left(), handle.bottom() + 1), r.bottomRight());
      return {};
    }
  return QProxyStyle::subControlRect(control, option, part, widget);
}

QRect KiteStyle::subElementRect(SubElement element, const QStyleOption* option, const QWidget* widget) const {
  if (element == SE_LineEditContents)
    if (const auto* field = qstyleoption_cast<const QStyleOptionFrame*>(option); field && field->lineWidth > 0)
      return option->rect.adjusted(fieldPadding + 1, 1, -fieldPadding - 1, -1);
  return QProxyStyle::subElementRect(element, option, widget);
}

QSize KiteStyle::sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& contents,
                                  const QWidget* widget) const {
  switch (type) {
    case CT_PushButton:
    case CT_ToolButton:
      if (widget) {
        const ButtonShape s = shapeOf(*widget);
        return QSize(contents.width() + s.besides, contents.height() + 2).expandedTo({s.leastWidth, s.leastHeight});
      }
      break;
    case CT_LineEdit:
      if (const auto* field = qstyleoption_cast<const QStyleOptionFrame*>(option); field && field->lineWidth > 0)
        return {contents.width() + 2 * (fieldPadding + 1),
                std::max(contents.height() + 2, is(widget, "bench") ? benchHeight : targetHeight)};
      break;
    case CT_SpinBox:
      return {contents.width() + 2 * (numberPadding + 1),
              std::max(contents.height() + 2, is(widget, "bench") ? benchHeight : targetHeight)};
    case CT_ComboBox:
      return {contents.width() + fieldPadding + arrowRoom + 4, std::max(contents.height() + 2, targetHeight)};
    case CT_MenuBarItem:
      return contents + QSize(2 * menuPadding, 2 * menuPadding);
    case CT_MenuItem: {
      const QSize fusion = QProxyStyle::sizeFromContents(type, option, contents, widget);
      const auto* item = qstyleoption_cast<const QStyleOptionMenuItem*>(option);
      if (item && item->menuItemType == QStyleOptionMenuItem::Separator) return fusion;
      return {fusion.width() + menuPadding, std::max(fusion.height(), targetHeight - 4)};
    }
    default:
      break;
  }
  return QProxyStyle::sizeFromContents(type, option, contents, widget);
}

int KiteStyle::pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const {
  switch (metric) {
    case PM_CheckBoxLabelSpacing:
      return 8;
    case PM_IndicatorWidth:
    case PM_IndicatorHeight:
      return tick;
    case PM_ScrollBarExtent:
      return barExtent;
    case PM_ScrollBarSliderMin:
      return leastHandle;
    case PM_SliderThickness:
    case PM_SliderControlThickness:
    case PM_SliderLength:
      return sliderHandle;
    case PM_SpinBoxFrameWidth:
    case PM_ButtonShiftHorizontal:
    case PM_ButtonShiftVertical:
    case PM_MenuBarPanelWidth:
    case PM_MenuBarHMargin:
    case PM_MenuBarVMargin:
    case PM_MenuBarItemSpacing:
      return 0;
    case PM_FocusFrameHMargin:  // beside the text of a row; in a list the mark of the chosen one stands there
      if (qobject_cast<const QListView*>(widget)) return 5;
      return QProxyStyle::pixelMetric(metric, option, widget);
    case PM_HeaderMargin:
      return headerMargin;
    case PM_ToolTipLabelFrameWidth:
      return 5;
    default:
      return QProxyStyle::pixelMetric(metric, option, widget);
  }
}

}  // namespace lowkite::app
