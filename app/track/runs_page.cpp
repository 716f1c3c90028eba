#include "app/track/runs_page.h"

#include <cmath>

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/line_chart.h"
#include "app/words/wording.h"

namespace lowkite::app {

QString effectText(const std::optional<Interval>& i) {
  if (!i) return RunsPage::tr("too few laps to say anything");
  const QString seconds = number(std::abs(i->estimate), 2);
  const double least = i->estimate < 0.0 ? -i->high : i->low;
  const double most = i->estimate < 0.0 ? -i->low : i->high;
  const QString way = i->estimate < 0.0 ? RunsPage::tr("faster") : RunsPage::tr("slower");
  // Signs only where the range holds both.
  const QString range = least >= 0.0 ? RunsPage::tr("%1 to %2").arg(number(least, 2), number(most, 2))
                                     : RunsPage::tr("%1 to %2").arg(signedNumber(least, 2), signedNumber(most, 2));
  return i->holds(0.0) ? RunsPage::tr("%1 s a lap %2, but it may be nothing (%3)").arg(seconds, way, range)
                       : RunsPage::tr("%1 s a lap %2 (%3)").arg(seconds, way, range);
}

RunsPage::RunsPage(TrackModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("runsPage"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 8, 12, 8);
  column->setSpacing(8);
  const auto choice = [&](const QString& name, const QString& said) {
    auto* b = new QComboBox(this);
    b->setObjectName(name);
    b->setAccessibleName(said);
    b->setMinimumHeight(44);
    connect(b, &QComboBox::currentIndexChanged, this, [this] {
      if (!filling_) compare();
    });
    return b;
  };
  a_ = choice(QStringLiteral("runs.a"), tr("The run to compare with"));
  b_ = choice(QStringLiteral("runs.b"), tr("The run that is compared"));
  auto* row = new QHBoxLayout;
  row->addWidget(new QLabel(tr("A"), this));
  row->addWidget(a_, 1);
  row->addWidget(new QLabel(tr("B"), this));
  row->addWidget(b_, 1);
  column->addLayout(row);
  const auto label = [&](const QString& name, int size, bool bold) {
    auto* l = new QLabel(this);
    l->setObjectName(name);
    l->setWordWrap(true);
    l->setFont(textFont(size, bold));
    column->addWidget(l);
    return l;
  };
  verdict_ = label(QStringLiteral("runs.verdict"), 20, true);
  changes_ = label(QStringLiteral("runs.changes"), 14, false);
  cautions_ = label(QStringLiteral("runs.cautions"), 13, false);
  chart_ = new LineChart(QStringLiteral("runs.chart"), this);
  column->addWidget(chart_, 1);
  back_ = label(QStringLiteral("runs.back"), 14, false);
  connect(&model_, &TrackModel::runsChanged, this, &RunsPage::fill);
  connect(&model_, &TrackModel::chosen, this, &RunsPage::fill);
}

void RunsPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  fill();
}

void RunsPage::fill() {
  if (!isVisible()) return;
  filling_ = true;
  const auto was_a = a_->currentData().toLongLong();
  const auto was_b = b_->currentData().toLongLong();
  a_->clear();
  b_->clear();
  const auto& run = model_.run();
  // Runs of this car on any day; those of the day in hand come first, the newest before the older ones.
  std::vector<std::pair<QString, std::int64_t>> list;
  const auto all = run ? model_.runsWithoutLaps(run->run.car_id) : std::vector<LoggedDay>{};
  const auto day = model_.day();
  constexpr std::size_t longest = 400;
  for (const bool today : {true, false})
    for (auto d = all.rbegin(); d != all.rend() && list.size() < longest; ++d) {
      if ((day && d->day.id == day->id) != today) continue;
      for (auto r = d->runs.rbegin(); r != d->runs.rend(); ++r)
        list.emplace_back(tr("%1 %2, %3")
                              .arg(QString::fromStdString(d->day.date), QString::fromStdString(r->run.started),
                                   QString::fromStdString(d->day.track)),
                          r->run.id);
    }
  for (const auto& [text, id] : list)
    for (QComboBox* b : {a_, b_}) b->addItem(text, QVariant::fromValue<qlonglong>(id));
  const auto choose = [](QComboBox* b, qlonglong id) {
    const int at = b->findData(QVariant::fromValue<qlonglong>(id));
    if (at >= 0) b->setCurrentIndex(at);
    return at >= 0;
  };
  const bool same_day = run && std::any_of(model_.runs().begin(), model_.runs().end(),
                                           [&](const RunSummary& r) { return r.run.id == was_b; });
  if (run && !(same_day && choose(b_, was_b) && choose(a_, was_a))) {
    choose(b_, run->run.id);
    if (const auto before = model_.runBefore())
      choose(a_, before->run.id);
    else if (a_->count() > 1)
      a_->setCurrentIndex(1);
  }
  filling_ = false;
  compare();
}

void RunsPage::compare() {
  comparison_.reset();
  const auto a = model_.fetch(a_->currentData().toLongLong());
  const auto b = model_.fetch(b_->currentData().toLongLong());
  const auto day_a = a ? model_.dayOf(a->run) : std::nullopt;
  const auto day_b = b ? model_.dayOf(b->run) : std::nullopt;
  if (!a || !b || !day_a || !day_b || a->run.id == b->run.id) {
    verdict_->setText(tr("Two runs are needed to compare."));
    changes_->clear();
    cautions_->clear();
    back_->clear();
    chart_->show({}, {}, {});
    return;
  }
  const Document& d = model_.document();
  const Car* car = d.hasCar() && d.car().id == b->run.car_id ? &d.car() : nullptr;
  comparison_ = compare_runs({*day_a, *a}, {*day_b, *b}, car, model_.lapRule());
  const RunComparison& c = *comparison_;
  verdict_->setText(tr("B is %1").arg(effectText(c.mean_s)));
  const Tokens& t = tokens(palette());
  const QColor colour = c.verdict == LapVerdict::faster ? t.good : c.verdict == LapVerdict::slower ? t.bad : t.ink;
  setInk(*verdict_, colour);
  QString text;
  if (c.a && c.b)
    text = tr("Mean %1 s and %2 s, best %3 s and %4 s. By the medians, resampled: %5. 95 % intervals; laps are taken "
              "as independent of each other. ")
               .arg(QString::fromStdString(lap_text(c.a->mean_s)), QString::fromStdString(lap_text(c.b->mean_s)),
                    QString::fromStdString(lap_text(c.a->best_s)), QString::fromStdString(lap_text(c.b->best_s)),
                    effectText(c.median_s));
  QStringList lines;
  for (const SetupChange& s : c.changes)
    lines << tr("%1: %2 \u2192 %3")
                 .arg(QString::fromStdString(s.what), QString::fromStdString(s.from), QString::fromStdString(s.to));
  text += lines.isEmpty() ? tr("<b>The same setup.</b>")
                          : tr("<b>Changed: %1.</b>").arg(lines.join(QStringLiteral("; ")).toHtmlEscaped());
  changes_->setText(text);
  QStringList warnings;
  for (const Caution& w : c.cautions) warnings << QStringLiteral("\u26A0 ") + QString::fromStdString(w.text);
  cautions_->setText(warnings.isEmpty() ? tr("Nothing else that the log knows of was different.")
                                        : warnings.join(QStringLiteral("  ")));
  setInk(*cautions_, warnings.isEmpty() ? t.ink : t.warn);
  const auto line = [&](const RunRecord& r, LineKind kind, const QString& name) {
    ChartLine l{kind, {}, name};
    const auto standing = standings(r.laps, model_.lapRule());
    for (std::size_t i = 0; i < r.laps.size(); ++i)
      if (standing[i] == LapStanding::counts) l.points << QPointF(r.laps[i].number, r.laps[i].seconds);
    return l;
  };
  chart_->show(tr("lap"), tr("seconds"), {line(*a, LineKind::before, tr("A")), line(*b, LineKind::now, tr("B"))}, 0.2);
  // There and back within the day of B.
  std::vector<RunRecord> of_day;
  if (const auto runs = model_.store()->runs(b->run.day))
    for (const RunSummary& r : *runs)
      if (auto whole = model_.fetch(r.run.id)) of_day.push_back(std::move(*whole));
  QStringList backs;
  for (const auto& [i, k, m] : back_to_backs(of_day, car)) {
    const auto r = back_to_back(of_day[i], of_day[k], of_day[m], model_.lapRule());
    if (!r) continue;
    backs << tr("%1 \u2013 %2 \u2013 %3: the middle one %4; meanwhile the day %5.")
                 .arg(QString::fromStdString(of_day[i].run.started), QString::fromStdString(of_day[k].run.started),
                      QString::fromStdString(of_day[m].run.started), effectText(r->effect_s),
                      r->drifted ? tr("got %1 s a lap %2")
                                       .arg(number(std::abs(r->drift_s.estimate), 2),
                                            r->drift_s.estimate < 0 ? tr("faster") : tr("slower"))
                                 : tr("stayed as it was"));
  }
  if (!backs.isEmpty())
    back_->setText(tr("There and back (A \u2013 B \u2013 A). ") + backs.join(QLatin1Char(' ')));
  else if (!c.changes.empty() && day_a->id == day_b->id)
    back_->setText(
        tr("To be sure, go back: put A's setup on again and run once more. A \u2013 B \u2013 A takes out what the "
           "track and the tyres did meanwhile."));
  else
    back_->clear();
}

}  // namespace lowkite::app
