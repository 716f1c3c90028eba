#include "app/widgets/drawer.h"

#include <algorithm>

#include <QAction>
#include <QCloseEvent>
#include <QFrame>
#include <QHBoxLayout>
#include <QMenu>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/kept/kept.h"

namespace lowkite::app {
namespace {

constexpr int barHeight = 38;
constexpr int leastPage = 168;
constexpr int leastAbove = 300;  ///< px that the drawing keeps where there is room for that and as much again

QStringList tabsOf(const std::vector<DrawerPage>& pages) {
  QStringList tabs;
  for (const DrawerPage& p : pages) tabs << p.tab;
  return tabs;
}

}  // namespace

Drawer::Drawer(const QString& name, const QString& key, std::vector<DrawerPage> pages, QSplitter* in)
    : QWidget(in),
      pages_(std::move(pages)),
      made_(pages_.size(), nullptr),
      in_(in),
      key_(key),
      head_(new QWidget(this)),
      bar_(new Segmented(name, tabsOf(pages_), head_)),
      book_(new QStackedWidget(this)) {
  setObjectName(name + QStringLiteral(".frame"));
  height_ = Kept().value(key_ + QStringLiteral("/height"), 0).toInt();
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto* row = new QHBoxLayout(head_);
  row->setContentsMargins(4, 1, 4, 1);
  row->setSpacing(4);
  row->addWidget(bar_);
  row->addStretch(1);
  const auto button = [&](const QString& what, const QString& text, const QString& tip) {
    auto* b = new QToolButton(head_);
    b->setObjectName(name + what);
    b->setText(text);
    b->setAccessibleName(text);
    b->setToolTip(tip);
    b->setProperty("quiet", true);
    row->addWidget(b);
    return b;
  };
  apartButton_ = button(QStringLiteral(".apart"), tr("Apart"),
                        tr("Into a window of its own, for a second screen; closing it brings it back"));
  away_ = button(QStringLiteral(".away"), tr("Put away"), tr("Gives the room back to the drawing (F9)"));
  connect(apartButton_, &QToolButton::clicked, this, &Drawer::tearOff);
  connect(away_, &QToolButton::clicked, this, &Drawer::putAway);
  head_->setFixedHeight(barHeight);
  column->addWidget(head_);
  column->addWidget(book_, 1);
  for (std::size_t i = 0; i < pages_.size(); ++i) {
    auto* place = new QFrame(book_);
    place->setProperty("stage", true);
    auto* inside = new QVBoxLayout(place);
    inside->setContentsMargins(0, 0, 0, 0);
    book_->addWidget(place);
  }
  connect(bar_, &Segmented::chosen, this, &Drawer::chosen);
  connect(in_, &QSplitter::splitterMoved, this, [this] {
    if (!open_ || apart_) return;
    height_ = std::max(leastPage, height() - barHeight);
    Kept().setValue(key_ + QStringLiteral("/height"), height_);
  });
  in_->addWidget(this);
  in_->setCollapsible(in_->indexOf(this), false);
  place();
}

QWidget* Drawer::widget(int page) {
  QWidget*& made = made_[at(page)];
  if (!made) {
    QWidget* place = book_->widget(page);
    made = pages_[at(page)].make(place);
    place->layout()->addWidget(made);
  }
  return made;
}

void Drawer::chosen(int page) {
  // The open page's own button puts it away.
  if (open_ && page == book_->currentIndex() && !apart_)
    putAway();
  else
    openPage(page);
}

void Drawer::openPage(int page) {
  open_ = true;
  widget(page);
  bar_->setCurrent(page);
  book_->setCurrentIndex(page);
  place();
  Kept().setValue(key_ + QStringLiteral("/page"), page);
  if (apart_) apart_->raise();
  Q_EMIT pageChanged(page);
}

void Drawer::putAway() {
  if (apart_) bringBack();
  if (!open_) return;
  open_ = false;
  place();
  Q_EMIT pageChanged(-1);
}

void Drawer::toggle() {
  if (open_)
    putAway();
  else
    openPage(std::clamp(Kept().value(key_ + QStringLiteral("/page"), 0).toInt(), 0, book_->count() - 1));
}

void Drawer::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  shortenButtons();
}

void Drawer::shortenButtons() {
  // Where the pages' names leave no room for words, signs stand for them; tips and names say the words.
  int words = 0;
  for (QToolButton* b : {apartButton_, away_}) {
    b->setText(b->accessibleName());
    words += b->sizeHint().width();
  }
  const bool signs = bar_->sizeHint().width() + words + 24 > head_->width();
  if (!signs) return;
  apartButton_->setText(QStringLiteral("\u2197"));
  away_->setText(QStringLiteral("\u2715"));
}

void Drawer::place() {
  putInPlace();
  Q_EMIT placed();
}

void Drawer::putInPlace() {
  book_->setVisible(open_);
  away_->setVisible(open_ && !apart_);
  apartButton_->setVisible(open_ && !apart_);
  if (!open_) bar_->clearCurrent();
  if (apart_) {
    setMinimumHeight(0);
    setMaximumHeight(QWIDGETSIZE_MAX);
    return;
  }
  setMinimumHeight(open_ ? barHeight + leastPage : barHeight);
  setMaximumHeight(open_ ? QWIDGETSIZE_MAX : barHeight);
  const QList<int> now = in_->sizes();
  if (now.size() < 2) return;
  const int all = now[0] + now[1];
  const int page = height_ > 0 ? std::max(height_, leastPage) : open_ ? pages_[at(book_->currentIndex())].height : 0;
  const int mine = open_ ? std::min(page + barHeight, all - std::min(leastAbove, all / 2)) : barHeight;
  in_->setSizes({all - mine, mine});
}

void Drawer::tearOff() {
  if (apart_ || !open_) return;
  apart_ = new QWidget(in_->window(), Qt::Window);
  apart_->setObjectName(objectName() + QStringLiteral(".window"));
  apart_->setAttribute(Qt::WA_DeleteOnClose, false);
  apart_->setWindowTitle(in_->window()->windowTitle());
  auto* all = new QVBoxLayout(apart_);
  all->setContentsMargins(0, 0, 0, 0);
  all->addWidget(this);
  // What a key does it does here too.
  for (QAction* action : in_->window()->findChildren<QAction*>())
    if (!action->shortcut().isEmpty()) apart_->addAction(action);
  apart_->resize(1000, barHeight + 420);
  apart_->installEventFilter(this);
  show();
  place();
  apart_->show();
}

void Drawer::bringBack() {
  QWidget* window = apart_;
  apart_ = nullptr;
  in_->addWidget(this);
  in_->setCollapsible(in_->indexOf(this), false);
  show();
  place();
  window->removeEventFilter(this);
  window->deleteLater();
}

bool Drawer::eventFilter(QObject* watched, QEvent* event) {
  if (watched == apart_ && event->type() == QEvent::Close) {
    bringBack();
    return false;
  }
  return QWidget::eventFilter(watched, event);
}

void Drawer::fillMenu(QMenu& menu) {
  for (int i = 0; i < book_->count(); ++i) {
    const DrawerPage& p = pages_[at(i)];
    menu.addAction(p.said, p.key, this, [this, i] { openPage(i); });
  }
  menu.addAction(tr("Put the drawer a&way, or open it"), QKeySequence(Qt::Key_F9), this, &Drawer::toggle)
      ->setObjectName(objectName() + QStringLiteral(".toggle"));
  menu.addAction(tr("Drawer in a window of its &own"), QKeySequence(Qt::SHIFT | Qt::Key_F9), this, [this] {
    if (apart_) {
      apart_->close();
      return;
    }
    if (!open_) toggle();
    tearOff();
  });
}

}  // namespace lowkite::app
