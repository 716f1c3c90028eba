#include "app/widgets/segmented.h"

#include <algorithm>

#include <QGridLayout>
#include <QScopedValueRollback>
#include <QToolButton>

namespace lowkite::app {

Segmented::Segmented(const QString& name, const QStringList& labels, QWidget* parent, int perRow) : QWidget(parent) {
  setObjectName(name);
  setSizePolicy(QSizePolicy::Minimum, QSizePolicy::Fixed);
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(2);
  const int columns = perRow > 0 ? perRow : std::max(1, static_cast<int>(labels.size()));
  for (int i = 0; i < labels.size(); ++i) {
    auto* button = new QToolButton(this);
    button->setText(labels[i]);
    button->setCheckable(true);
    button->setProperty("segment", true);
    button->setProperty("boxed", perRow > 0);  // over several rows the choices are told apart by their boxes
    button->setObjectName(QStringLiteral("%1.%2").arg(name).arg(i));
    button->setFocusPolicy(Qt::StrongFocus);
    button->setSizePolicy(QSizePolicy::Minimum, QSizePolicy::Fixed);  // never narrower than its word
    group_.addButton(button, i);
    if (perRow > 0) button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    grid->addWidget(button, i / columns, i % columns);
  }
  group_.setExclusive(true);
  setCurrent(0);
  // A screen reader toggles where a hand clicks: what a toggle has told, the click that follows it does not tell again.
  connect(&group_, &QButtonGroup::idToggled, this, [this](int id, bool on) {
    if (!on || setting_) return;
    told_ = id;
    QMetaObject::invokeMethod(
        this, [this] { told_ = -1; }, Qt::QueuedConnection);
    Q_EMIT chosen(id);
  });
  connect(&group_, &QButtonGroup::idClicked, this, [this](int id) {
    if (told_ != id) Q_EMIT chosen(id);
    told_ = -1;
  });
}

void Segmented::setCurrent(int index) {
  const QScopedValueRollback quiet(setting_, true);
  if (auto* button = group_.button(index)) button->setChecked(true);
}

void Segmented::clearCurrent() {
  group_.setExclusive(false);
  for (QAbstractButton* button : group_.buttons()) button->setChecked(false);
  group_.setExclusive(true);
}

void Segmented::setLabel(int index, const QString& label) {
  if (auto* button = group_.button(index)) button->setText(label);
}

}  // namespace lowkite::app
