#include "app/track/feel_page.h"

#include <algorithm>

#include <QButtonGroup>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int most = 2;

template <class E>
QStringList labels(std::span<const Named<E>> list) {
  QStringList l;
  for (const Named<E>& n : list) {
    QString t = fromCore(n.label);
    t[0] = t[0].toUpper();
    l << t;
  }
  return l;
}

}  // namespace

FeelPage::FeelPage(TrackModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("feelPage"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 8, 12, 8);
  column->setSpacing(6);
  const auto big = [](Segmented* s) {
    for (auto* b : s->findChildren<QAbstractButton*>()) {
      b->setProperty("big", true);
      // In a small window as narrow as its word.
      b->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
      b->setMinimumWidth(QFontMetrics(textFont(16)).horizontalAdvance(b->text()) + 12);
    }
    s->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
  };
  phase_ = new Segmented(QStringLiteral("feel.phase"), labels(phases()), this);
  phase_->setCurrent(static_cast<int>(Phase::middle));
  big(phase_);
  turn_ = new Segmented(QStringLiteral("feel.turn"), labels(turn_ways()), this);
  turn_->setCurrent(0);
  big(turn_);
  connect(phase_, &Segmented::chosen, this, &FeelPage::refresh);
  connect(turn_, &Segmented::chosen, this, &FeelPage::refresh);
  for (Segmented* s : {phase_, turn_}) {
    auto* row = new QHBoxLayout;
    row->addWidget(s);
    row->addStretch(1);
    column->addLayout(row);
  }
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(4);
  for (int i = 0; i < senseCount; ++i) {
    const SenseWords& w = senses()[at(i)];
    auto* name = new QLabel(fromCore(w.label), this);
    name->setFont(textFont(16, true));
    auto* minus = new QLabel(fromCore(w.minus), this);
    auto* plus = new QLabel(fromCore(w.plus), this);
    minus->setFont(textFont(14));
    plus->setFont(textFont(14));
    minus->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    grid->addWidget(name, i, 0);
    grid->addWidget(minus, i, 1);
    auto* group = new QButtonGroup(this);
    group->setExclusive(true);
    for (int amount = w.minus.empty() ? 0 : -most; amount <= most; ++amount) {
      auto* b = new QToolButton(this);
      b->setObjectName(QStringLiteral("feel.%1.%2")
                           .arg(QString::fromUtf8(w.id.data(), static_cast<qsizetype>(w.id.size())))
                           .arg(amount + most));
      b->setCheckable(true);
      b->setProperty("scale", true);
      b->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
      b->setText(amount == 0  ? tr("good")
                 : amount < 0 ? tr(amount == -most ? "\u25C0\u25C0" : "\u25C0")
                              : tr(amount == most ? "\u25B6\u25B6" : "\u25B6"));
      b->setAccessibleName(amount == 0 ? tr("%1 as it should be").arg(fromCore(w.label))
                                       : tr("%1 %2%3").arg(fromCore(w.label), fromCore(amount < 0 ? w.minus : w.plus),
                                                           std::abs(amount) > 1 ? tr(", a lot") : QString()));
      b->setToolTip(b->accessibleName());
      group->addButton(b, amount + most);
      grid->addWidget(b, i, 2 + amount + most);
    }
    // Toggled, not clicked: a screen reader does not click.
    connect(group, &QButtonGroup::idToggled, this, [this, i](int id, bool on) {
      if (on && !filling_) feel(i, id - most);
    });
    scale_[at(i)] = group;
    grid->addWidget(plus, i, 3 + 2 * most);
  }
  grid->setColumnStretch(3 + 2 * most, 1);
  column->addLayout(grid);
  summary_ = new QLabel(this);
  summary_->setObjectName(QStringLiteral("feel.summary"));
  summary_->setWordWrap(true);
  summary_->setFont(textFont(15));
  summary_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  column->addWidget(summary_, 1);
  connect(&model_, &TrackModel::chosen, this, &FeelPage::refresh);
  refresh();
}

Phase FeelPage::phase() const {
  return static_cast<Phase>(phase_->current());
}

TurnWay FeelPage::turn() const {
  return static_cast<TurnWay>(turn_->current());
}

void FeelPage::feel(int sense, int amount) {
  if (!model_.run()) return;
  RunRecord next = *model_.run();
  auto& list = next.run.feelings;
  const Sense s = senses()[at(sense)].sense;
  std::erase_if(list, [&](const Feeling& f) { return f.phase == phase() && f.sense == s && f.turn == turn(); });
  list.push_back({phase(), s, turn(), amount});
  std::stable_sort(list.begin(), list.end(), [](const Feeling& a, const Feeling& b) { return a.phase < b.phase; });
  model_.putRun(next, tr("How it felt"));
}

void FeelPage::refresh() {
  const QScopedValueRollback quiet(filling_, true);
  const auto& record = model_.run();
  for (int i = 0; i < senseCount; ++i) {
    QButtonGroup* group = scale_[at(i)];
    std::optional<int> amount;
    if (record)
      for (const Feeling& f : record->run.feelings)
        if (f.phase == phase() && f.turn == turn() && f.sense == senses()[at(i)].sense) amount = f.amount;
    group->setExclusive(false);
    for (QAbstractButton* b : group->buttons()) {
      b->setEnabled(record.has_value());
      b->setChecked(amount && group->id(b) == *amount + most);
    }
    group->setExclusive(true);
  }
  if (!record) {
    summary_->setText(tr("There is no run to speak about yet."));
    return;
  }
  QStringList list;
  for (const Feeling& f : record->run.feelings)
    if (f.amount != 0) list << feelingText(f);
  summary_->setText(
      !list.isEmpty() ? tr("The run of %1 \u2013 %2.")
                            .arg(QString::fromStdString(record->run.started), list.join(QStringLiteral("; ")))
      : record->run.feelings.empty()
          ? tr("Nothing was said of the run of %1 yet. Choose a part of the lap, then touch what was felt there.")
                .arg(QString::fromStdString(record->run.started))
          : tr("The run of %1 \u2013 all as it should be.").arg(QString::fromStdString(record->run.started)));
}

}  // namespace lowkite::app
