#include "app/track/track_workspace.h"

#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QStackedWidget>
#include <QTime>
#include <QVBoxLayout>

#include "app/shared/scrolled.h"
#include "app/shared/segmented.h"
#include "app/shared/theme.h"
#include "app/shared/wording.h"
#include "app/track/advice_page.h"
#include "app/track/ahead_page.h"
#include "app/track/feel_page.h"
#include "app/track/laps_page.h"
#include "app/track/learn_page.h"
#include "app/track/run_page.h"
#include "app/track/runs_page.h"

namespace lowkite::app {

TrackWorkspace::TrackWorkspace(Document& document, const QString& logPath, QWidget* parent)
    : QWidget(parent), model_(document, logPath) {
  setObjectName(QStringLiteral("track"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 4, 8, 8);
  row->setSpacing(8);
  auto* side = new QFrame(this);
  side->setProperty("panel", true);
  side->setFixedWidth(286);
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
  fresh->setProperty("primary", true);
  runButtons->addWidget(fresh);
  runButtons->addWidget(button(QStringLiteral("track.removeRun"), tr("Remove"), [this] { model_.removeRun(); }));
  left->addLayout(runButtons);
  auto* edits = new QHBoxLayout;
  auto* undo = button(QStringLiteral("track.undo"), tr("Undo"), [this] { model_.undoStack().undo(); });
  auto* redo = button(QStringLiteral("track.redo"), tr("Redo"), [this] { model_.undoStack().redo(); });
  undo->setEnabled(false);
  redo->setEnabled(false);
  connect(&model_.undoStack(), &QUndoStack::canUndoChanged, undo, &QWidget::setEnabled);
  connect(&model_.undoStack(), &QUndoStack::canRedoChanged, redo, &QWidget::setEnabled);
  edits->addWidget(undo);
  edits->addWidget(redo);
  left->addLayout(edits);
  row->addWidget(side);

  auto* main = new QFrame(this);
  main->setProperty("panel", true);
  auto* right = new QVBoxLayout(main);
  right->setContentsMargins(4, 8, 4, 4);
  right->setSpacing(4);
  choice_ = new Segmented(
      QStringLiteral("track.page"),
      {tr("Day and run"), tr("Feel"), tr("Laps"), tr("Compare runs"), tr("Advice"), tr("Day ahead"), tr("Learn")},
      main);
  for (auto* b : choice_->findChildren<QAbstractButton*>()) b->setProperty("bench", true);
  connect(choice_, &Segmented::chosen, this, [this](int i) { showPage(static_cast<Page>(i)); });
  wrong_ = new QLabel(main);
  wrong_->setObjectName(QStringLiteral("track.wrong"));
  wrong_->setWordWrap(true);
  wrong_->setMargin(12);
  wrong_->hide();
  pages_ = new QStackedWidget(main);
  auto* run = new RunPage(model_, pages_);
  laps_ = new LapsPage(model_, pages_);
  advice_ = new AdvicePage(model_, pages_);
  ahead_ = new AheadPage(model_, pages_);
  learn_ = new LearnPage(model_, pages_);
  for (QWidget* page : {static_cast<QWidget*>(run), static_cast<QWidget*>(new FeelPage(model_, pages_)),
                        static_cast<QWidget*>(laps_), static_cast<QWidget*>(new RunsPage(model_, pages_)),
                        static_cast<QWidget*>(advice_), static_cast<QWidget*>(ahead_), static_cast<QWidget*>(learn_)})
    pages_->addWidget(scrolled(page, pages_));
  auto* tabs = new QHBoxLayout;
  tabs->setContentsMargins(8, 0, 8, 0);
  tabs->addWidget(choice_);
  tabs->addStretch(1);
  right->addLayout(tabs);
  right->addWidget(wrong_);
  right->addWidget(pages_, 1);
  row->addWidget(main, 1);

  connect(run, &RunPage::openInPlan, this, [this](const Setup& s) { Q_EMIT openInPlan(s, tr("Setup of a run")); });
  connect(advice_, &AdvicePage::tryInPlan, this, &TrackWorkspace::tryInPlan);
  connect(ahead_, &AheadPage::openInPlan, this, &TrackWorkspace::openInPlan);
  connect(ahead_, &AheadPage::benchWanted, this, &TrackWorkspace::benchWanted);
  connect(learn_, &LearnPage::openInPlan, this, &TrackWorkspace::openInPlan);
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
  choice_->setCurrent(static_cast<int>(page));
  pages_->setCurrentIndex(static_cast<int>(page));
}

void TrackWorkspace::fillDays() {
  filling_ = true;
  const auto& list = model_.days();
  const auto today = model_.day();
  // The rows are kept where only the choice moved: a long log is not filled anew for a click.
  while (days_->count() > static_cast<int>(list.size())) delete days_->takeItem(days_->count() - 1);
  for (int i = 0; i < static_cast<int>(list.size()); ++i) {
    const DaySummary& d = list[static_cast<std::size_t>(i)];
    const QString surface =
        d.day.surface == Surface::unknown ? QString() : tr(", %1").arg(fromCore(label_in(surfaces(), d.day.surface)));
    const QString text = tr("%1  %2\n%3%4")
                             .arg(QString::fromStdString(d.day.date), QString::fromStdString(d.day.track),
                                  counted(d.runs, tr("%1 run"), tr("%1 runs")), surface);
    QListWidgetItem* item = days_->item(i);
    if (!item) {
      item = new QListWidgetItem(days_);
      item->setSizeHint({0, 46});
    }
    if (item->text() != text) item->setText(text);
    item->setData(Qt::UserRole, QVariant::fromValue<qlonglong>(d.day.id));
    if (today && d.day.id == today->id) days_->setCurrentRow(i);
  }
  filling_ = false;
}

void TrackWorkspace::fillRuns() {
  filling_ = true;
  runs_->clear();
  for (const RunSummary& r : model_.runs()) {
    QString text =
        tr("%1  %2").arg(QString::fromStdString(r.run.started), counted(r.laps, tr("%1 lap"), tr("%1 laps")));
    if (r.best_s > 0.0) text += tr(", best %1 s").arg(QString::fromStdString(lap_text(r.best_s)));
    QStringList more;
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
  const auto entry = [&](const QString& text, const QKeySequence& key, Page page) {
    menu.addAction(text, key, this, [this, page] {
      if (isVisible()) showPage(page);
    });
  };
  entry(tr("Day and run"), Qt::ALT | Qt::SHIFT | Qt::Key_D, Page::run);
  entry(tr("How it felt"), Qt::ALT | Qt::SHIFT | Qt::Key_F, Page::feel);
  entry(tr("Laps"), Qt::ALT | Qt::SHIFT | Qt::Key_L, Page::laps);
  entry(tr("Compare runs"), Qt::ALT | Qt::SHIFT | Qt::Key_C, Page::runs);
  entry(tr("Advice"), Qt::ALT | Qt::SHIFT | Qt::Key_A, Page::advice);
  entry(tr("The day ahead"), Qt::ALT | Qt::SHIFT | Qt::Key_N, Page::ahead);
  entry(tr("Learn"), Qt::ALT | Qt::SHIFT | Qt::Key_R, Page::learn);
}

QString TrackWorkspace::figuresAsText() const {
  QString text = tr("run\tlaps\tbest s\tmean s\tmedian s\tspread s\n");
  for (const RunSummary& r : model_.runs()) {
    const auto whole = model_.fetch(r.run.id);
    const auto f = whole ? lap_figures(whole->laps, model_.lapRule()) : std::nullopt;
    text += QString::fromStdString(r.run.started) + QLatin1Char('\t') + QString::number(r.laps);
    if (f)
      for (const double v : {f->best_s, f->mean_s, f->median_s, f->deviation_s})
        text += QLatin1Char('\t') + QString::number(v, 'f', 3);
    text += QLatin1Char('\n');
  }
  return text;
}

}  // namespace lowkite::app
