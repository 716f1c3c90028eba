#include "app/track/track_workspace.h"

#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTime>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/track/advice_page.h"
#include "app/track/ahead_page.h"
#include "app/track/feel_page.h"
#include "app/track/laps_page.h"
#include "app/track/learn_page.h"
#include "app/track/run_page.h"
#include "app/track/runs_page.h"
#include "app/track/tyre_weigher.h"
#include "app/widgets/kept_splitter.h"
#include "app/widgets/page_book.h"
#include "app/widgets/scrolled.h"
#include "app/words/wording.h"

namespace lowkite::app {

TrackWorkspace::TrackWorkspace(Document& document, TyreChoice& tyres, MyBoxes& boxes, const QString& logPath,
                               QWidget* parent)
    : Workspace(parent), document_(document), model_(document, logPath) {
  setObjectName(QStringLiteral("track"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 4, 8, 8);
  auto* side = new QFrame(this);
  side->setProperty("panel", true);
  auto* left = new QVBoxLayout(side);
  left->setContentsMargins(8, 8, 8, 8);
  left->setSpacing(6);
  const auto heading = [&](const QString& text) {
    auto* l = new QLabel(text, side);
    l->setFont(textFont(15, true));
    return l;
  };
  const auto button = [&](const QString& name, const QString& text, const auto& run) {
    auto* b = new QPushButton(text, side);
    b->setObjectName(name);
    b->setProperty("bench", true);
    connect(b, &QPushButton::clicked, this, run);
    return b;
  };
  days_ = new QListWidget(side);
  days_->setObjectName(QStringLiteral("track.days"));
  days_->setAccessibleName(tr("Days"));
  runs_ = new QListWidget(side);
  runs_->setObjectName(QStringLiteral("track.runs"));
  runs_->setAccessibleName(tr("Runs of the day"));
  whose_ = new Segmented(QStringLiteral("track.whose"), {tr("All cars"), tr("This car")}, side);
  connect(whose_, &Segmented::chosen, this, [this] {
    days_->clear();
    fillDays();
    fillRuns();
  });
  left->addWidget(whose_, 0, Qt::AlignLeft);
  left->addWidget(heading(tr("Days")));
  left->addWidget(days_, 3);
  auto* dayButtons = new QHBoxLayout;
  dayButtons->addWidget(button(QStringLiteral("track.newDay"), tr("New day"),
                               [this] { model_.addDay(QDate::currentDate().toString(Qt::ISODate)); }));
  dayButtons->addWidget(button(QStringLiteral("track.removeDay"), tr("Remove"), [this] { model_.removeDay(); }));
  left->addLayout(dayButtons);
  left->addWidget(heading(tr("Runs of the day")));
  left->addWidget(runs_, 4);
  auto* runButtons = new QHBoxLayout;
  auto* fresh = button(QStringLiteral("track.newRun"), tr("New run"),
                       [this] { model_.addRun(QTime::currentTime().toString(QStringLiteral("HH:mm"))); });
  fresh->setFont(textFont(textSize, true));
  runButtons->addWidget(fresh);
  runButtons->addWidget(button(QStringLiteral("track.removeRun"), tr("Remove"), [this] { model_.removeRun(); }));
  left->addLayout(runButtons);
  auto* main = new QFrame(this);
  main->setProperty("panel", true);
  auto* right = new QVBoxLayout(main);
  right->setContentsMargins(4, 8, 4, 4);
  right->setSpacing(4);
  wrong_ = new QLabel(main);
  wrong_->setObjectName(QStringLiteral("track.wrong"));
  wrong_->setWordWrap(true);
  wrong_->setMargin(12);
  wrong_->hide();
  auto* run = new RunPage(model_, main);
  laps_ = new LapsPage(model_, main);
  weigher_ = new TyreWeigher(model_, tyres, this);
  advice_ = new AdvicePage(model_, tyres, *weigher_, boxes, main);
  ahead_ = new AheadPage(model_, tyres, *weigher_, boxes, main);
  learn_ = new LearnPage(model_, main);
  const auto key = [](Qt::Key k) { return QKeySequence(Qt::ALT | Qt::SHIFT | k); };
  pages_ = new PageBook(
      QStringLiteral("track.page"),
      {{tr("Day and run"), tr("Day and run"), key(Qt::Key_D), scrolled(run, main)},
       {tr("Feel"), tr("How it felt"), key(Qt::Key_F), scrolled(new FeelPage(model_, main), main)},
       {tr("Laps"), tr("Laps"), key(Qt::Key_L), scrolled(laps_, main)},
       {tr("Compare runs"), tr("Compare runs"), key(Qt::Key_C), scrolled(new RunsPage(model_, main), main)},
       {tr("Advice"), tr("Advice"), key(Qt::Key_A), scrolled(advice_, main)},
       {tr("Day ahead"), tr("The day ahead"), key(Qt::Key_N), scrolled(ahead_, main)},
       {tr("Learn"), tr("Learn"), key(Qt::Key_R), scrolled(learn_, main)}},
      main);
  for (auto* b : pages_->bar()->findChildren<QAbstractButton*>()) b->setProperty("bench", true);
  auto* tabs = new QHBoxLayout;
  tabs->setContentsMargins(8, 0, 8, 0);
  tabs->addWidget(pages_->bar());
  tabs->addStretch(1);
  right->addLayout(tabs);
  right->addWidget(wrong_);
  right->addWidget(pages_, 1);
  constexpr int daysWidth = 286;
  row->addWidget(new KeptSplitter(QStringLiteral("track.columns"), side, main, daysWidth, this));

  const auto toPlan = [this](const Setup& s, const QString& what) { Q_EMIT planWanted({s, what, {}, {}}); };
  connect(run, &RunPage::openInPlan, this, [this, toPlan](const Setup& s) { toPlan(s, tr("Setup of a run")); });
  connect(advice_, &AdvicePage::tryInPlan, this,
          [this](const Setup& s, const Setup& baseline, const QString& what, LinkHolds letGo) {
            Q_EMIT planWanted({s, what, baseline, letGo});
          });
  connect(ahead_, &AheadPage::openInPlan, this, toPlan);
  connect(ahead_, &AheadPage::benchWanted, this, &TrackWorkspace::benchWanted);
  connect(learn_, &LearnPage::openInPlan, this, toPlan);
  connect(&model_, &TrackModel::told, this, &TrackWorkspace::told);
  connect(&model_, &TrackModel::daysChanged, this, &TrackWorkspace::fillDays);
  connect(&model_, &TrackModel::runsChanged, this, &TrackWorkspace::fillRuns);
  connect(&model_, &TrackModel::chosen, this, [this] {
    fillDays();
    fillRuns();
  });
  connect(days_, &QListWidget::currentRowChanged, this, [this](int i) {
    if (!filling_ && i >= 0) model_.chooseDay(days_->item(i)->data(Qt::UserRole).toLongLong());
  });
  connect(runs_, &QListWidget::currentRowChanged, this, [this](int i) {
    if (!filling_ && i >= 0) model_.chooseRun(runs_->item(i)->data(Qt::UserRole).toLongLong());
  });
  connect(&document, &Document::replaced, this, [this] {
    fillDays();
    fillRuns();
  });
  showPage(Page::run);
}

void TrackWorkspace::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  const bool open = model_.open();
  wrong_->setVisible(!open);
  wrong_->setText(tr("The log cannot be opened. %1").arg(model_.failure()));
  pages_->setEnabled(open);
}

void TrackWorkspace::showPage(Page page) {
  pages_->showPage(static_cast<int>(page));
}

bool TrackWorkspace::isAsked(const std::string& car) const {
  const Document& d = document_;
  return whose_->current() == 0 || !d.hasCar() || car.empty() || car == d.car().id;
}

void TrackWorkspace::fillDays() {
  filling_ = true;
  const auto& list = model_.days();
  const auto today = model_.day();
  std::vector<const DaySummary*> shown;
  for (const DaySummary& d : list)
    // A day without runs is nobody's yet.
    if (d.cars.empty() || std::any_of(d.cars.begin(), d.cars.end(), [&](const std::string& c) { return isAsked(c); }))
      shown.push_back(&d);
  // The rows are kept where only the choice moved: a long log is not filled anew for a click.
  while (days_->count() > static_cast<int>(shown.size())) delete days_->takeItem(days_->count() - 1);
  for (int i = 0; i < static_cast<int>(shown.size()); ++i) {
    const DaySummary& d = *shown[at(i)];
    QStringList under{counted(d.runs, "%1 run", "%1 runs")};
    if (d.day.surface != Surface::unknown) under << fromCore(label_in(surfaces(), d.day.surface));
    for (const std::string& car : d.cars) under << model_.carName(car);
    const QString text =
        tr("%1  %2\n%3")
            .arg(QString::fromStdString(d.day.date), QString::fromStdString(d.day.track), under.join(tr(", ")));
    QListWidgetItem* item = days_->item(i);
    if (!item) {
      item = new QListWidgetItem(days_);
      item->setSizeHint({0, 46});
    }
    if (item->text() != text) item->setText(text);
    item->setToolTip(text);
    item->setData(Qt::UserRole, QVariant::fromValue<qlonglong>(d.day.id));
    if (today && d.day.id == today->id) days_->setCurrentRow(i);
  }
  filling_ = false;
}

void TrackWorkspace::fillRuns() {
  filling_ = true;
  runs_->clear();
  for (const RunSummary& r : model_.runs()) {
    if (!isAsked(r.run.car_id)) continue;
    QString text = tr("%1  %2").arg(QString::fromStdString(r.run.started), counted(r.laps, "%1 lap", "%1 laps"));
    if (r.best_s > 0.0) text += tr(", best %1 s").arg(QString::fromStdString(lap_text(r.best_s)));
    QStringList more;
    if (!r.run.car_id.empty()) more << model_.carName(r.run.car_id);
    if (!r.run.tyres.empty()) more << QString::fromStdString(r.run.tyres);
    if (r.run.verdict != Verdict::none) more << fromCore(label_in(verdicts(), r.run.verdict));
    text += QLatin1Char('\n') + (more.isEmpty() ? tr("nothing said yet") : more.join(tr(", ")));
    auto* item = new QListWidgetItem(text, runs_);
    item->setSizeHint({0, 46});
    item->setData(Qt::UserRole, QVariant::fromValue<qlonglong>(r.run.id));
    if (model_.run() && model_.run()->run.id == r.run.id) runs_->setCurrentItem(item);
  }
  filling_ = false;
}

void TrackWorkspace::fillViewMenu(QMenu& menu) {
  pages_->fillMenu(menu, false);
}

QString TrackWorkspace::figuresAsText() const {
  QStringList head{tr("run"), tr("laps")};
  for (const FigureSpec& f : lap_time_figures()) head << placeLabel({&f, {}, {}});
  QString text = head.join(QLatin1Char('\t')) + QLatin1Char('\n');
  for (const RunSummary& r : model_.runs()) {
    const auto whole = model_.fetch(r.run.id);
    const auto laps = whole ? lap_figures(whole->laps, model_.lapRule()) : std::nullopt;
    QStringList row{QString::fromStdString(r.run.started), QString::number(r.laps)};
    for (const FigureSpec& f : lap_time_figures()) {
      const auto v = laps ? f.read(*laps) : std::nullopt;
      row << (v ? QString::number(*v, 'f', f.decimals == 0 ? 0 : f.decimals + 1) : QString());
    }
    text += row.join(QLatin1Char('\t')) + QLatin1Char('\n');
  }
  return text;
}

}  // namespace lowkite::app
