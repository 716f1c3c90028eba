#include "app/shared/segmented.h"

#include <QHBoxLayout>
#include <QToolButton>

namespace lowkite::app {

Segmented::Segmented(const QString& name, const QStringList& labels, QWidget* parent) : QWidget(parent) {
  setObjectName(name);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  for (int i = 0; i < labels.size(); ++i) {
    auto* button = new QToolButton(this);
    button->setText(labels[i]);
    button->setCheckable(true);
    button->setObjectName(QStringLiteral("%1.%2").arg(name).arg(i));
    button->setFocusPolicy(Qt::StrongFocus);
    group_.addButton(button, i);
    row->addWidget(button);
  }
  group_.setExclusive(true);
  setCurrent(0);
  connect(&group_, &QButtonGroup::idClicked, this, &Segmented::chosen);
}

void Segmented::setCurrent(int index) {
  if (auto* button = group_.button(index)) button->setChecked(true);
}

}  // namespace lowkite::app
