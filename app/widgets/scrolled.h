// A widget that may be taller than its place.
#pragma once

#include <algorithm>

#include <QEvent>
#include <QScrollArea>
#include <QScrollBar>

namespace lowkite::app {

/// Scrolls up and down alone, and so is never narrower than what stands in it, with its scroll bar where there is one.
class UpDownArea : public QScrollArea {
 public:
  UpDownArea(QWidget* inside, QWidget* parent) : QScrollArea(parent) {
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setWidget(inside);
    connect(verticalScrollBar(), &QScrollBar::rangeChanged, this, [this] { widthChanged(); });
  }
  [[nodiscard]] int neededWidth() const {
    const bool bar = verticalScrollBar()->maximum() > 0;
    return std::max(widget()->minimumSizeHint().width(), widget()->minimumWidth()) +
           (bar ? verticalScrollBar()->sizeHint().width() : 0);
  }
  [[nodiscard]] QSize minimumSizeHint() const override {
    return {std::max(neededWidth(), QScrollArea::minimumSizeHint().width()), QScrollArea::minimumSizeHint().height()};
  }

 protected:
  virtual void widthChanged() { updateGeometry(); }
  bool eventFilter(QObject* watched, QEvent* event) override {
    const bool done = QScrollArea::eventFilter(watched, event);
    if (watched == widget() && event->type() == QEvent::LayoutRequest) widthChanged();
    return done;
  }
};

/// `widget` in an area that scrolls up and down where there is less room than it needs.
inline QScrollArea* scrolled(QWidget* widget, QWidget* parent) {
  return new UpDownArea(widget, parent);
}

}  // namespace lowkite::app
