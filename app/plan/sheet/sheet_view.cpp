#include "app/plan/sheet/sheet_view.h"

#include <algorithm>

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QWheelEvent>

#include "app/drawing/drawing_view.h"
#include "app/look/theme.h"

namespace lowkite::app {
namespace {

constexpr double gap = 12.0;            // px between pages
constexpr double most = 4.0;            // times its own dots
constexpr double readableShare = 0.42;  // of the view's width that a page's field should stand in at least
constexpr double step = 1.25;

}  // namespace

SheetView::SheetView(SheetWork& work, QWidget* parent) : QAbstractScrollArea(parent), work_(work) {
  setObjectName(QStringLiteral("sheet.view"));
  setAccessibleName(tr("The sheet"));
  setFrameShape(QFrame::NoFrame);
  setFocusPolicy(Qt::StrongFocus);
  viewport()->setCursor(Qt::OpenHandCursor);
  connect(&work_, &SheetWork::opened, this, [this] {
    scale_ = 0.0;
    field_ = -1;
    fit();
  });
  connect(&work_, &SheetWork::changed, viewport(), qOverload<>(&QWidget::update));
}

QSizeF SheetView::roll() const {
  QSizeF size(0.0, gap);
  if (!work_.isOpen()) return size;
  for (const QImage& page : work_.file().pages) {
    size.setWidth(std::max(size.width(), page.width() * scale_ + 2.0 * gap));
    size.setHeight(size.height() + page.height() * scale_ + gap);
  }
  return size;
}

QRectF SheetView::pageRect(std::size_t page) const {
  double y = gap;
  const auto& pages = work_.file().pages;
  for (std::size_t i = 0; i < page; ++i) y += pages[i].height() * scale_ + gap;
  const double wide = pages[page].width() * scale_;
  const double room = std::max<double>(viewport()->width(), roll().width());
  return {(room - wide) / 2.0, y, wide, pages[page].height() * scale_};
}

QRectF SheetView::fieldRect(const FormField& f) const {
  if (f.page < 0 || f.page >= static_cast<int>(work_.file().pages.size())) return {};
  const QRectF page = pageRect(at(f.page));
  return {page.left() + f.at.left * page.width(), page.top() + f.at.top * page.height(),
          (f.at.right - f.at.left) * page.width(), (f.at.bottom - f.at.top) * page.height()};
}

QPointF SheetView::onRoll(const QPointF& inView) const {
  return inView + QPointF(horizontalScrollBar()->value(), verticalScrollBar()->value());
}

void SheetView::place() {
  const QSizeF size = roll();
  horizontalScrollBar()->setRange(0, std::max(0, static_cast<int>(size.width()) - viewport()->width()));
  verticalScrollBar()->setRange(0, std::max(0, static_cast<int>(size.height()) - viewport()->height()));
  horizontalScrollBar()->setPageStep(viewport()->width());
  verticalScrollBar()->setPageStep(viewport()->height());
  viewport()->update();
}

void SheetView::fit() {
  if (!work_.isOpen() || work_.file().pages.empty() || work_.file().pages.front().isNull()) return;
  const QImage& page = work_.file().pages.front();
  scale_ = std::clamp((viewport()->width() - 2.0 * gap) / page.width(), 0.05, most);
  place();
  horizontalScrollBar()->setValue(0);
  verticalScrollBar()->setValue(0);
}

void SheetView::zoom(double factor, const QPointF& about) {
  if (!work_.isOpen() || scale_ <= 0.0) return;
  const QPointF before = onRoll(about);
  const QSizeF was = roll();
  scale_ = std::clamp(scale_ * factor, 0.05, most);
  place();
  const QSizeF is = roll();
  horizontalScrollBar()->setValue(static_cast<int>(before.x() * is.width() / was.width() - about.x()));
  verticalScrollBar()->setValue(static_cast<int>(before.y() * is.height() / was.height() - about.y()));
}

void SheetView::showField(int field) {
  field_ = field;
  if (work_.isOpen() && field >= 0 && field < static_cast<int>(work_.fields().size())) {
    const FormField& f = work_.fields()[at(field)];
    if (f.at.right > f.at.left && f.page < static_cast<int>(work_.file().pages.size())) {
      // Words before the field are read along with it.
      const QImage& page = work_.file().pages[at(f.page)];
      const double wanted = viewport()->width() / (readableShare * std::max(1, page.width()));
      if (page.width() > 0 && scale_ < 0.75 * std::min(wanted, most)) scale_ = std::min(wanted, most);
      place();
      const QPointF middle = fieldRect(f).center();
      horizontalScrollBar()->setValue(static_cast<int>(middle.x() - 0.7 * viewport()->width()));
      verticalScrollBar()->setValue(static_cast<int>(middle.y() - 0.5 * viewport()->height()));
    }
  }
  viewport()->update();
}

void SheetView::paintEvent(QPaintEvent*) {
  QPainter p(viewport());
  const Tokens& t = tokens(palette());
  p.fillRect(viewport()->rect(), faint(t.ink, 0.08));
  if (!work_.isOpen()) {
    p.setPen(t.soft);
    p.setFont(textFont(textSize));
    p.drawText(viewport()->rect().adjusted(16, 16, -16, -16), Qt::AlignCenter | Qt::TextWordWrap,
               tr("Open a filled-in sheet: a PDF form, or a scan or photograph of one (PNG, JPEG, PDF)."));
    return;
  }
  p.translate(-horizontalScrollBar()->value(), -verticalScrollBar()->value());
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  for (std::size_t i = 0; i < work_.file().pages.size(); ++i) {
    const QRectF at = pageRect(i);
    if (work_.file().pages[i].isNull()) continue;
    p.drawImage(at, work_.file().pages[i]);
  }
  // The paper is white in the dark look too: what is drawn on it is drawn as on paper.
  const Tokens& onPaper = tokens(Shade::light);
  for (int i = 0; i < static_cast<int>(work_.fields().size()); ++i) {
    const FormField& f = work_.fields()[at(i)];
    if (!(f.at.right > f.at.left)) continue;
    const bool contradicts = work_.taken() && work_.taken()->lines[at(i)].contradicts;
    if (i == field_)
      p.setPen(QPen(onPaper.kite, 2.5));
    else if (contradicts)
      p.setPen(QPen(onPaper.bad, 2.0, Qt::DashLine));
    else
      continue;
    p.setBrush(Qt::NoBrush);
    p.drawRect(fieldRect(f).adjusted(-2, -2, 2, 2));
  }
}

void SheetView::resizeEvent(QResizeEvent*) {
  if (scale_ <= 0.0)
    fit();
  else
    place();
}

void SheetView::wheelEvent(QWheelEvent* event) {
  const int turned = event->angleDelta().y();
  if (turned != 0) zoom(turned > 0 ? step : 1.0 / step, event->position());
  event->accept();
}

void SheetView::mousePressEvent(QMouseEvent* event) {
  pressed_ = event->position();
  scrolled_ = QPointF(horizontalScrollBar()->value(), verticalScrollBar()->value());
  dragged_ = false;
}

void SheetView::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & (Qt::LeftButton | Qt::RightButton))) return;
  const QPointF by = event->position() - pressed_;
  if (!dragged_ && by.manhattanLength() < QApplication::startDragDistance()) return;
  dragged_ = true;
  viewport()->setCursor(Qt::ClosedHandCursor);
  horizontalScrollBar()->setValue(static_cast<int>(scrolled_.x() - by.x()));
  verticalScrollBar()->setValue(static_cast<int>(scrolled_.y() - by.y()));
}

void SheetView::mouseReleaseEvent(QMouseEvent* event) {
  viewport()->setCursor(Qt::OpenHandCursor);
  if (dragged_ || !work_.isOpen()) return;
  const QPointF at = onRoll(event->position());
  if (!work_.isPicture()) {
    for (int i = 0; i < static_cast<int>(work_.fields().size()); ++i)
      if (fieldRect(work_.fields()[static_cast<std::size_t>(i)]).contains(at)) {
        Q_EMIT fieldChosen(i);
        return;
      }
    return;
  }
  for (std::size_t i = 0; i < work_.file().pages.size(); ++i) {
    const QRectF page = pageRect(i);
    if (page.contains(at))
      Q_EMIT placeChosen(static_cast<int>(i),
                         {(at.x() - page.left()) / page.width(), (at.y() - page.top()) / page.height()});
  }
}

void SheetView::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Equal)
    magnify(step);
  else if (event->key() == Qt::Key_Minus)
    magnify(1.0 / step);
  else if (event->key() == Qt::Key_F)
    fit();
  else
    QAbstractScrollArea::keyPressEvent(event);
}

}  // namespace lowkite::app
