#include "app/plan/handling/sign_cell.h"

#include <algorithm>

#include <QEvent>
#include <QFontMetrics>
#include <QPainter>

namespace lowkite::app {
namespace {

constexpr int leastCellWidth = 128;
constexpr int cellHeight = 44;
constexpr int largeSize = 17;

QFont largeFont() {
  static const QFont font = textFont(largeSize, true);
  return font;
}
QFont smallFont() {
  static const QFont font = textFont(labelSize);
  return font;
}

}  // namespace

SignCell::SignCell(QWidget* parent) : QWidget(parent), wide_(leastCellWidth) {}

void SignCell::tell(const QString& large, QColor Tokens::*colour, const QString& small) {
  if (large == large_ && small == small_ && colour == colour_) return;
  large_ = large;
  small_ = small;
  colour_ = colour;
  setAccessibleName(text());
  const int wide = std::max(QFontMetrics(largeFont()).horizontalAdvance(large_),
                            QFontMetrics(smallFont()).horizontalAdvance(small_));
  if (wide + 1 > wide_) {
    wide_ = wide + 1;
    updateGeometry();
  }
  update();
}

QString SignCell::text() const {
  return small_.isEmpty() ? large_ : QStringLiteral("%1\n%2").arg(large_, small_);
}

QSize SignCell::sizeHint() const {
  return {wide_, cellHeight};
}

void SignCell::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Tokens& t = tokens(palette());
  // Grey while a new answer is worked out: what stands here is the one before.
  const QColor faded = palette().color(QPalette::Disabled, QPalette::WindowText);
  const QRect above(0, 0, width(), height() / 2 + 2), below(0, above.bottom() + 1, width(), height() - above.height());
  p.setFont(largeFont());
  p.setPen(isEnabled() ? t.*colour_ : faded);
  p.drawText(above, Qt::AlignLeft | Qt::AlignBottom, large_);
  p.setFont(smallFont());
  p.setPen(isEnabled() ? t.soft : faded);
  p.drawText(below, Qt::AlignLeft | Qt::AlignTop, small_);
}

void SignCell::changeEvent(QEvent* event) {
  QWidget::changeEvent(event);
  if (event->type() == QEvent::EnabledChange || event->type() == QEvent::PaletteChange) update();
}

}  // namespace lowkite::app
