#include "app/help/tour.h"

#include <algorithm>

#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/look/theme.h"

namespace lowkite::app {
namespace {

constexpr int wide = 360;
constexpr int apart = 12;

}  // namespace

Tour::Tour(std::vector<Stop> stops, QWidget* window) : QFrame(window), stops_(std::move(stops)) {
  setObjectName(QStringLiteral("tour"));
  setAccessibleName(tr("Tour"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 16, 12);
  text_ = new QLabel(this);
  text_->setObjectName(QStringLiteral("tour.text"));
  text_->setWordWrap(true);
  text_->setFont(textFont(15));
  count_ = new QLabel(this);
  count_->setProperty("role", QStringLiteral("quiet"));
  const auto button = [&](const QString& name, const QString& text) {
    auto* b = new QPushButton(text, this);
    b->setObjectName(name);
    b->setProperty("quiet", true);
    return b;
  };
  back_ = button(QStringLiteral("tour.back"), tr("Back"));
  next_ = button(QStringLiteral("tour.next"), tr("Next"));
  auto* end = button(QStringLiteral("tour.end"), tr("End the tour"));
  connect(back_, &QPushButton::clicked, this, [this] { goTo(stop_ - 1); });
  connect(next_, &QPushButton::clicked, this, [this] { goTo(stop_ + 1); });
  connect(end, &QPushButton::clicked, this, &QObject::deleteLater);
  column->addWidget(text_);
  auto* row = new QHBoxLayout;
  row->addWidget(count_);
  row->addStretch(1);
  row->addWidget(end);
  row->addWidget(back_);
  row->addWidget(next_);
  column->addLayout(row);
  window->installEventFilter(this);
  goTo(0);
}

void Tour::goTo(int stop) {
  if (stop >= static_cast<int>(stops_.size())) {
    deleteLater();
    return;
  }
  stop_ = std::max(0, stop);
  const Stop& s = stops_[at(stop_)];
  if (s.before) s.before();
  about_ = parentWidget()->findChild<QWidget*>(s.about);
  text_->setText(s.text);
  count_->setText(tr("%1 of %2").arg(stop_ + 1).arg(stops_.size()));
  back_->setEnabled(stop_ > 0);
  next_->setText(stop_ + 1 == static_cast<int>(stops_.size()) ? tr("Done") : tr("Next"));
  show();
  raise();
  place();
  next_->setFocus();
}

void Tour::place() {
  setFixedWidth(wide);
  adjustSize();
  setFixedHeight(std::max(sizeHint().height(), layout()->heightForWidth(wide)));
  const QRect all = parentWidget()->rect().adjusted(apart, apart, -apart, -apart);
  QRect mine(QPoint(), size());
  if (about_) {
    const QRect it(about_->mapTo(parentWidget(), QPoint()), about_->size());
    // Beside it, else over or under it, else on it: wherever there is room.
    if (it.right() + apart + width() < all.right())
      mine.moveTopLeft({it.right() + apart, it.top() + apart});
    else if (it.left() - apart - width() > all.left())
      mine.moveTopLeft({it.left() - apart - width(), it.top() + apart});
    else if (it.top() - apart - height() > all.top())
      mine.moveTopLeft({it.center().x() - width() / 2, it.top() - apart - height()});
    else
      mine.moveTopLeft({it.center().x() - width() / 2, it.bottom() + apart});
  } else {
    mine.moveCenter(all.center());
  }
  mine.moveLeft(std::clamp(mine.left(), all.left(), std::max(all.left(), all.right() - width())));
  mine.moveTop(std::clamp(mine.top(), all.top(), std::max(all.top(), all.bottom() - height())));
  move(mine.topLeft());
}

bool Tour::eventFilter(QObject* watched, QEvent* event) {
  if (watched == parentWidget() && event->type() == QEvent::Resize) place();
  return QFrame::eventFilter(watched, event);
}

void Tour::paintEvent(QPaintEvent*) {
  const Tokens& t = tokens(palette());
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.kite, 2.0));
  p.setBrush(t.surface);
  p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 8.0, 8.0);
}

}  // namespace lowkite::app
