#include "app/track/tyre_log_page.h"

#include <QApplication>
#include <QCheckBox>
#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

const QString sinceKey = QStringLiteral("tyres/learnedSince");

/// The surface that a family is for, when it is for one.
Surface surfaceOf(const TyreFamily& family) {
  return family.surfaces.empty() ? Surface::unknown
                                 : value_of(surfaces(), family.surfaces.front()).value_or(Surface::unknown);
}

}  // namespace

TyreLogPage::TyreLogPage(TrackModel& model, TyreChoice& tyres, QWidget* parent)
    : QWidget(parent), model_(model), choice_(tyres), background_(this) {
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
  foot->addWidget(over_);
  foot->addWidget(weigh_);
  column->addLayout(foot);
  connect(uses_, &QCheckBox::toggled, this, [this](bool on) { choice_.setUsesLog(on); });
  connect(weigh_, &QPushButton::clicked, this, &TyreLogPage::weigh);
  connect(over_, &QPushButton::clicked, this, [this] {
    // A second press takes it back.
    QSettings settings;
    if (settings.contains(sinceKey))
      settings.remove(sinceKey);
    else
      settings.setValue(sinceKey, QDate::currentDate().toString(Qt::ISODate));
    choice_.setWeighed(std::nullopt);
    refresh();
  });
  connect(&choice_, &TyreChoice::changed, this, &TyreLogPage::refresh);
}

void TyreLogPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

std::vector<LoggedDay> TyreLogPage::counting() {
  const std::string since = QSettings().value(sinceKey).toString().toStdString();
  std::vector<LoggedDay> days;
  for (const LoggedDay& d : model_.everything())
    if (d.day.date >= since) days.push_back(d);
  return days;
}

void TyreLogPage::refresh() {
  if (!isVisible()) return;
  over_->setText(QSettings().contains(sinceKey)
                     ? tr("Count all runs again (since %1 now)").arg(QSettings().value(sinceKey).toString())
                     : tr("Start over from today"));
  fill();
}

void TyreLogPage::weigh() {
  const Document& d = model_.document();
  if (!d.hasCar() || !choice_.any() || background_.busy()) return;
  const TyreFamily family = choice_.family(d.car());
  TyreChoice::Weighed weighed{
      d.car().id, family.id, choice_.warmth(), draw_tyres(family, usual_draws, choice_.warmth()), {}};
  weigh_->setEnabled(false);
  progress_->setValue(0);
  progress_->show();
  background_.start(
      [days = counting(), car = d.sharedCar(), surface = surfaceOf(family), ask = choice_.ask(),
       weighed = std::move(weighed), self = QPointer<TyreLogPage>(this)](const std::atomic<bool>& cancelled) mutable {
        const auto evidence = tyre_evidence(days, *car, surface, {}, ask, weighed.tyres, 2, [&](double share) {
          QMetaObject::invokeMethod(
              qApp,
              [self, share] {
                if (self) self->progress_->setValue(static_cast<int>(1000.0 * share));
              },
              Qt::QueuedConnection);
          return !cancelled;
        });
        if (evidence) weighed.weights = weigh_tyres(*evidence, weighed.tyres.size());
        return std::move(weighed);
      },
      [this](TyreChoice::Weighed found) {
        progress_->hide();
        weigh_->setEnabled(true);
        if (found.weights.weight.empty()) return;
        choice_.setWeighed(std::move(found));
      });
}

void TyreLogPage::fill() {
  table_->setRowCount(0);
  const Document& d = model_.document();
  if (!d.hasCar() || !choice_.any()) {
    news_->setText(tr("There is no car open."));
    return;
  }
  const TyreFamily& family = choice_.family(d.car());
  const auto& w = choice_.weighed();
  if (!w || w->car_id != d.car().id || w->family != family.id || w->warmth != choice_.warmth()) {
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
      auto* item = new QTableWidgetItem(cells[static_cast<std::size_t>(c)]);
      item->setFont(c == 0 ? textFont(13) : figureFont(13, c == 2 && tells));
      item->setForeground(c == 2 && !tells ? t.soft : t.ink);
      item->setTextAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      item->setToolTip(cells[static_cast<std::size_t>(c)]);
      table_->setItem(row, c, item);
    }
    table_->setRowHeight(row, 28);
  }
}

}  // namespace lowkite::app
