#include "app/track/tyre_log_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
TyreLogPage::TyreLogPage(TrackModel& model, TyreChoice& tyres, TyreWeigher& weigher, QWidget* parent)
    : QWidget(parent), model_(model), choice_(tyres), weigher_(weigher) {
  setObjectName(QStringLiteral("tyreLog"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  news_ = new QLabel(this);
  news_->setObjectName(QStringLiteral("tyreLog.news"));
  news_->setWordWrap(true);
  table_ = new QTableWidget(this);
  table_->setObjectName(QStringLiteral("tyreLog.table"));
  dressTable(*table_, {{tr("Property of the tyres")},
                       {tr("believed"), 170, Qt::AlignRight},
                       {tr("your runs point to"), 190, Qt::AlignRight},
                       {tr("narrower by"), 100, Qt::AlignRight}});
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  progress_ = new QProgressBar(this);
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setMaximumHeight(6);
  progress_->hide();
  uses_ = new QCheckBox(tr("Advice and Handling count the tyres by this"), this);
  uses_->setObjectName(QStringLiteral("tyreLog.uses"));
  uses_->setMinimumHeight(targetHeight);
  uses_->setChecked(choice_.usesLog());
  compound_ = new QComboBox(this);
  compound_->setObjectName(QStringLiteral("tyreLog.compound"));
  compound_->setAccessibleName(tr("Which runs count, by their tyres"));
  compound_->setMinimumHeight(44);
  weigh_ = new QPushButton(tr("Weigh the tyres by this log"), this);
  weigh_->setObjectName(QStringLiteral("tyreLog.weigh"));
  weigh_->setMinimumHeight(44);
  over_ = new QPushButton(tr("Start over from today"), this);
  over_->setObjectName(QStringLiteral("tyreLog.over"));
  over_->setToolTip(tr("Runs before today no longer count here; the log itself stays as it is"));
  over_->setMinimumHeight(44);
  column->addWidget(news_);
  column->addWidget(table_, 1);
  column->addWidget(progress_);
  auto* foot = new QHBoxLayout;
  foot->addWidget(uses_, 1);
  foot->addWidget(compound_);
  foot->addWidget(over_);
  foot->addWidget(weigh_);
  column->addLayout(foot);
  connect(uses_, &QCheckBox::toggled, this, [this](bool on) { choice_.setUsesLog(on); });
  connect(weigh_, &QPushButton::clicked, &weigher_, [this] { weigher_.weigh(); });
  connect(over_, &QPushButton::clicked, &weigher_, &TyreWeigher::startOver);
  connect(compound_, &QComboBox::activated, this,
          [this] { weigher_.setCompound(compound_->currentData().toString()); });
  connect(&weigher_, &TyreWeigher::progress, this, [this](double share) {
    weigh_->setEnabled(false);
    progress_->setValue(static_cast<int>(1000.0 * share));
    progress_->show();
  });
  connect(&weigher_, &TyreWeigher::done, this, [this] {
    progress_->hide();
    weigh_->setEnabled(true);
    refresh();
  });
  connect(&choice_, &TyreChoice::changed, this, &TyreLogPage::refresh);
}

void TyreLogPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void TyreLogPage::refresh() {
  if (!isVisible()) return;
  const QString since = weigher_.since();
  over_->setText(since.isEmpty() ? tr("Start over from today") : tr("Count all runs again (since %1 now)").arg(since));
  compound_->clear();
  compound_->addItem(tr("runs on any tyres"), QString());
  for (const QString& name : weigher_.compounds()) compound_->addItem(tr("only on \u201C%1\u201D").arg(name), name);
  // Tyres that no run is on any more still are what is asked for.
  const QString asked = weigher_.compound();
  if (compound_->findData(asked) < 0) compound_->addItem(tr("only on \u201C%1\u201D").arg(asked), asked);
  compound_->setCurrentIndex(compound_->findData(asked));
  fill();
}

void TyreLogPage::fill() {
  table_->setRowCount(0);
  const Document& d = model_.document();
  if (!d.hasCar() || !choice_.any()) {
    news_->setText(tr("There is no car open."));
    return;
  }
  const TyreFamily& family = choice_.family(d.car());
  const TyreChoice::Weighed* w = choice_.weighed(d.car(), family.id);
  if (!w) {
    news_->setText(tr("Handling is told over %1 tyres of the family \u201C%2\u201D, all alike likely. Runs of this "
                      "car, one after the "
                      "other with another setup and with what was felt, make some of them likelier.")
                       .arg(usual_draws)
                       .arg(fromCore(family.name)));
    return;
  }
  const TyreWeights& weights = w->weights;
  news_->setText(
      weights.pairs == 0
          ? tr("No pair of runs on this surface says anything yet: all %1 tyres are alike likely.").arg(usual_draws)
          : tr("%1 pairs of runs with %2 felt changes leave %3 of %4 tyres. %5 Runs count half after a year; so far "
               "it fits best that %6 % of what was felt meant nothing.")
                .arg(weights.pairs)
                .arg(weights.felt)
                .arg(std::lround(weights.left))
                .arg(w->tyres.size())
                .arg(weights.says_much(w->tyres.size()) ? QString() : tr("That is little: the weights are near even."))
                .arg(std::lround(100.0 * weights.wrong_share)));
  const Tokens& t = tokens(palette());
  for (const LearnedProperty& p : learned(w->tyres, weights)) {
    const TyreParameterSpec& spec = spec_of(p.parameter);
    const auto band = [&](const Spread& s) {
      return tr("%1 to %2").arg(number(s.low, spec.decimals), number(s.high, spec.decimals));
    };
    const int row = table_->rowCount();
    table_->insertRow(row);
    const QString unit = fromCore(spec.unit);
    const bool tells = p.narrower() > 0.15;
    const std::array<QString, 4> cells{
        unit.isEmpty() ? fromCore(spec.label) : tr("%1, %2").arg(fromCore(spec.label), unit), band(p.even),
        tells ? band(p.now) : tr("nothing yet"), tells ? tr("%1 %").arg(number(100.0 * p.narrower(), 0)) : QString()};
    for (int c = 0; c < 4; ++c) {
      auto* item = new QTableWidgetItem(cells[at(c)]);
      item->setFont(c == 0 ? textFont(13) : figureFont(13, c == 2 && tells));
      item->setForeground(c == 2 && !tells ? t.soft : t.ink);
      item->setTextAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      item->setToolTip(cells[at(c)]);
      table_->setItem(row, c, item);
    }
    table_->setRowHeight(row, 28);
  }
}

}  // namespace lowkite::app
