#include "app/top_line.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QMenuBar>
#include <QToolButton>
#include <QUndoGroup>

#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int widestName = 168;  ///< px; a longer name is read in full in its menu and tool tip

}  // namespace

TopLine::TopLine(const QStringList& workspaces, const QUndoGroup& undo, QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("topLine"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(4, 1, 8, 1);
  row->setSpacing(4);
  menus_ = new QMenuBar(this);
  menus_->setSizePolicy(QSizePolicy::Minimum, QSizePolicy::Preferred);
  row->addWidget(menus_);
  const auto quiet = [&](const QString& name, const QString& text) {
    auto* b = new QToolButton(this);
    b->setObjectName(name);
    b->setText(text);
    b->setProperty("quiet", true);
    b->setFocusPolicy(Qt::TabFocus);
    row->addWidget(b);
    return b;
  };
  const auto withMenu = [&](const QString& name, const QString& said) {
    QToolButton* b = quiet(name, {});
    b->setAccessibleName(said);
    b->setPopupMode(QToolButton::InstantPopup);
    b->setFont(textFont(textSize, true));
    auto* menu = new QMenu(b);
    menu->setObjectName(name + QStringLiteral(".menu"));
    b->setMenu(menu);
    return std::pair(b, menu);
  };
  std::tie(car_, cars_) = withMenu(QStringLiteral("top.car"), tr("Choose a car"));
  std::tie(setup_, setups_) = withMenu(QStringLiteral("top.setup"), tr("Choose a setup"));
  row->addStretch(1);
  workspaces_ = new Segmented(QStringLiteral("workspace"), workspaces, this);
  row->addWidget(workspaces_);
  row->addStretch(1);
  const auto onStack = [&](const QString& name, const QString& text, const QString& tip) {
    QToolButton* b = quiet(name, text);
    b->setToolTip(tip);
    b->setEnabled(false);
    b->setFocusPolicy(Qt::NoFocus);  // a field in hand keeps what is being typed
    return b;
  };
  QToolButton* back = onStack(QStringLiteral("undo"), tr("Undo"), tr("Undo (Ctrl+Z)"));
  QToolButton* again = onStack(QStringLiteral("redo"), tr("Redo"), tr("Redo (Ctrl+Shift+Z)"));
  connect(back, &QToolButton::clicked, this, &TopLine::undoWanted);
  connect(again, &QToolButton::clicked, this, &TopLine::redoWanted);
  connect(&undo, &QUndoGroup::canUndoChanged, back, &QWidget::setEnabled);
  connect(&undo, &QUndoGroup::canRedoChanged, again, &QWidget::setEnabled);
  check_ = quiet(QStringLiteral("top.check"), tr("Check"));
  check_->setToolTip(tr("What cannot be right about the car as it is set up"));
  connect(check_, &QToolButton::clicked, this, &TopLine::checkWanted);
}

void TopLine::tell(const QString& car, bool carUnsaved, const QString& setup, bool setupUnsaved) {
  const auto put = [](QToolButton& b, const QString& name, bool unsaved, const QString& none) {
    const QString mark = unsaved ? tr(" *") : QString();
    const QString full = name.isEmpty() ? none : name + (unsaved ? tr(", not saved") : QString());
    b.setText(name.isEmpty() ? none
                             : withoutKeys(b.fontMetrics().elidedText(name, Qt::ElideMiddle, widestName)) + mark);
    b.setToolTip(full);
    b.setAccessibleDescription(full);
  };
  put(*car_, car, carUnsaved, tr("No car"));
  put(*setup_, setup, setupUnsaved, tr("No setup"));
}

void TopLine::tellCheck(int findings) {
  check_->setText(findings == 0 ? tr("Check \u2713") : tr("Check: %1").arg(findings));
}

}  // namespace lowkite::app
