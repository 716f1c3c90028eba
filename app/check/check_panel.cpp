#include "app/check/check_panel.h"

#include <QCoreApplication>
#include <QLabel>
#include <QListWidget>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int soonMs = 250;

}  // namespace

CheckPanel::CheckPanel(PlanModel& model, QWidget* parent) : QFrame(parent), model_(model) {
  setProperty("stage", true);
  setObjectName(QStringLiteral("check"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 10, 12, 8);
  column->setSpacing(8);
  heading_ = new QLabel(this);
  heading_->setObjectName(QStringLiteral("check.heading"));
  heading_->setFont(textFont(textSize, true));
  heading_->setWordWrap(true);
  list_ = new QListWidget(this);
  list_->setObjectName(QStringLiteral("check.list"));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setWordWrap(true);
  list_->setSpacing(4);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(list_, &QListWidget::currentRowChanged, this, &CheckPanel::lead);
  column->addWidget(heading_);
  column->addWidget(list_, 1);
  soon_.setSingleShot(true);
  soon_.setInterval(soonMs);
  connect(&soon_, &QTimer::timeout, this, &CheckPanel::look);
  connect(&model_, &PlanModel::comparisonChanged, this, [this] {
    if (isVisible())
      refresh();
    else
      soon_.start();
  });
}

void CheckPanel::look() {
  if (!model_.document().hasCar()) return;
  findings_ = check_car(model_.document().car(), model_.document().setup());
  Q_EMIT counted(static_cast<int>(findings_.size()));
}

void CheckPanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  refresh();
}

void CheckPanel::refresh() {
  if (!isVisible() || !model_.document().hasCar()) return;
  look();
  const Tokens& t = tokens(palette());
  const QSignalBlocker quiet(list_);
  list_->clear();
  int wrong = 0;
  for (const Finding& f : findings_) {
    const bool bad = f.severity == Severity::wrong;
    wrong += bad ? 1 : 0;
    const QString where = f.side ? tr("%1 %2").arg(endTitle(f.end), sideTitle(*f.side)) : endTitle(f.end);
    auto* item = new QListWidgetItem(
        tr("%1 %2: %3.\n     %4.")
            .arg(bad ? QStringLiteral("\u2715") : QStringLiteral("!"), where, fromCore(f.what), fromCore(f.remedy)),
        list_);
    item->setForeground(bad ? t.bad : t.warn);
  }
  heading_->setText(findings_.empty() ? tr("\u2713 Nothing speaks against this car as it is set up.")
                    : wrong > 0 ? tr("\u2715 %1 cannot be right, %2 worth a second look. A click leads to the place.")
                                      .arg(wrong)
                                      .arg(static_cast<int>(findings_.size()) - wrong)
                                : tr("! %1 worth a second look. A click leads to the place.").arg(findings_.size()));
}

void CheckPanel::lead(int row) {
  if (row < 0 || row >= static_cast<int>(findings_.size())) return;
  const Finding f = findings_[at(row)];
  model_.setEnd(f.end);
  if (f.side) model_.setSides(*f.side == Side::left ? Sides::left : Sides::right);
  if (f.adjuster) model_.setPart(f.adjuster);
  Q_EMIT led(f.end, f.adjuster);
}

}  // namespace lowkite::app
