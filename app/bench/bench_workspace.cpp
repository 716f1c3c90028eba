#include "app/bench/bench_workspace.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QStyle>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/bench/step_card.h"
#include "app/document/write_file.h"
#include "app/kept/kept.h"
#include "app/look/theme.h"
#include "app/paper/bench_sheet.h"
#include "app/settings/club_rules.h"
#include "app/widgets/kept_splitter.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/segmented.h"
#include "app/words/gauge_words.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int stepHeight = 40;
const QString socketKey = QStringLiteral("bench/socket");

QString sign(const StepRecord& r) {
  switch (r.state) {
    case StepState::done:
    case StepState::measured:
      return QStringLiteral("\u2713");
    case StepState::left:
      return QStringLiteral("!");
    case StepState::unmeasured:
      return QStringLiteral("?");
    case StepState::skipped:
      return QStringLiteral("\u2013");
    case StepState::open:
      break;
  }
  if (!r.moved_by.empty()) return QStringLiteral("\u21BB");
  return r.readings[0].empty() && r.readings[1].empty() ? QStringLiteral("\u25CB") : QStringLiteral("\u25D0");
}

QString stateText(const StepRecord& r) {
  switch (r.state) {
    case StepState::done:
      return BenchWorkspace::tr("done");
    case StepState::measured:
      return BenchWorkspace::tr("measured, as it should");
    case StepState::left:
      return BenchWorkspace::tr("measured, left as it is");
    case StepState::unmeasured:
      return BenchWorkspace::tr("ticked, not measured");
    case StepState::skipped:
      return BenchWorkspace::tr("skipped: %1").arg(QString::fromStdString(r.reason));
    case StepState::open:
      break;
  }
  return r.moved_by.empty() ? BenchWorkspace::tr("open") : BenchWorkspace::tr("to be read again: a turn has moved it");
}

constexpr int listWidth = 330;

}  // namespace

BenchWorkspace::BenchWorkspace(Document& document, ClubRules& club, const UsualRanges& usual, const QString& folder,
                               QWidget* parent)
    : Workspace(parent), model_(document, folder), club_(club) {
  setObjectName(QStringLiteral("bench"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 8);
  column->setSpacing(8);
  QWidget* left = makeLeft();
  card_ = new StepCard(model_, instruments_, usual, this);
  column->addWidget(new KeptSplitter(QStringLiteral("bench.columns"), left, card_, listWidth, this), 1);
  column->addWidget(makeOlder());
  column->addWidget(makeFoot());
  connect(&model_, &BenchModel::changed, this, &BenchWorkspace::refresh);
  connect(&model_, &BenchModel::told, this, &BenchWorkspace::told);
  connect(&model_.document(), &Document::inputsChanged, this, &BenchWorkspace::refresh);
  connect(&instruments_, &Instruments::changed, this, &BenchWorkspace::refreshInstruments);
  connect(&club_, &ClubRules::changed, this, &BenchWorkspace::refresh);
  refresh();
}

QWidget* BenchWorkspace::makeLeft() {
  auto* panel = new QFrame(this);
  panel->setProperty("panel", true);
  auto* column = new QVBoxLayout(panel);
  column->setContentsMargins(8, 8, 8, 8);
  lists_ =
      new Segmented(QStringLiteral("bench.list"),
                    {tr("All of it"), tr("After a crash"), tr("Between rounds"), tr("Build the shocks")}, panel, 2);
  auto* starts = new QVBoxLayout;
  start_ = new QPushButton(tr("Start"), panel);
  start_->setObjectName(QStringLiteral("bench.start"));
  start_->setProperty("primary", true);
  start_->setProperty("bench", true);
  connect(start_, &QPushButton::clicked, this, [this] { model_.start(static_cast<BenchList>(lists_->current())); });
  resume_ = new QPushButton(tr("Go on with the last run"), panel);
  resume_->setObjectName(QStringLiteral("bench.resume"));
  resume_->setProperty("bench", true);
  connect(resume_, &QPushButton::clicked, this, [this] { model_.resume(model_.unfinished()); });
  starts->addWidget(start_);
  starts->addWidget(resume_);
  shocks_ = new QLabel(panel);
  shocks_->setObjectName(QStringLiteral("bench.shocks"));
  shocks_->setWordWrap(true);
  shocks_->setFont(textFont(labelSize));
  starts->addWidget(shocks_);
  steps_ = new QListWidget(panel);
  steps_->setObjectName(QStringLiteral("bench.steps"));
  steps_->setFrameShape(QFrame::NoFrame);
  steps_->setFont(textFont(14));
  steps_->setMinimumHeight(stepHeight);  // with room it takes all there is
  connect(steps_, &QListWidget::currentRowChanged, this, [this](int row) { model_.goTo(row); });
  auto* below = new Segmented(QStringLiteral("bench.below"), {tr("Bench kit"), tr("Club limits"), tr("Gauges")}, panel);
  auto* pages = new QStackedWidget(panel);
  pages->addWidget(scrolled(makeKit(), this));
  pages->addWidget(scrolled(makeClub(), this));
  pages->addWidget(makeInstruments());
  pages->setFixedHeight(160);
  connect(below, &Segmented::chosen, pages, &QStackedWidget::setCurrentIndex);
  column->addWidget(lists_, 0, Qt::AlignLeft);
  column->addLayout(starts);
  column->addWidget(steps_, 1);
  column->addWidget(below, 0, Qt::AlignLeft);
  column->addWidget(pages);
  return panel;
}

namespace {

QDoubleSpinBox* numberField(QWidget* parent, const QString& name, double most, double step, const QString& suffix) {
  auto* s = new QDoubleSpinBox(parent);
  s->setObjectName(name);
  s->setRange(0.0, most);
  s->setSingleStep(step);
  s->setDecimals(step < 1.0 ? 1 : 0);
  s->setSuffix(suffix);
  s->setButtonSymbols(QAbstractSpinBox::NoButtons);
  s->setMinimumHeight(targetHeight);
  return s;
}

}  // namespace

QWidget* BenchWorkspace::makeKit() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(4);
  const auto spin = [&](const QString& name, const QString& what, double most, double step, int row, int column,
                        int span = 1) {
    QDoubleSpinBox* s = numberField(box, name, most, step, tr(" mm"));
    auto* text = new QLabel(what, box);
    text->setWordWrap(true);
    text->setBuddy(s);
    grid->addWidget(text, row, column, 1, span);
    grid->addWidget(s, row, column + span);
    connect(s, &QDoubleSpinBox::valueChanged, this, &BenchWorkspace::takeKit);
    return s;
  };
  const auto choice = [&](const QString& name, const QString& what, const QStringList& items) {
    auto* c = new QComboBox(box);
    c->setObjectName(name);
    c->setAccessibleName(what);
    c->addItems(items);
    c->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    c->setMinimumContentsLength(8);
    c->setMinimumHeight(targetHeight);
    connect(c, &QComboBox::currentIndexChanged, this, &BenchWorkspace::takeKit);
    return c;
  };
  blocks_ = spin(QStringLiteral("kit.blocks"), tr("Blocks"), 60.0, 0.5, 0, 0);
  play_ = spin(QStringLiteral("kit.play"), tr("Play"), 3.0, 0.1, 0, 2);
  cup_ = spin(QStringLiteral("kit.cup"), tr("Cup"), 15.0, 0.5, 1, 0);
  caliper_ =
      choice(QStringLiteral("kit.caliper"), tr("How the caliper is laid"), {tr("between"), tr("over"), tr("centres")});
  grid->addWidget(caliper_, 1, 2, 1, 2);
  points_ = spin(QStringLiteral("kit.points"), tr("Ride height at two points, apart"), 200.0, 1.0, 2, 0, 3);
  points_->setSpecialValueText(tr("middle"));
  points_->setToolTip(tr("How far apart the two points are at which you read it; 0: one point in the middle"));
  droopFrom_ = choice(QStringLiteral("kit.droopFrom"), tr("What droop at the tyre is read against"),
                      {tr("below plate"), tr("below a line")});
  grid->addWidget(droopFrom_, 3, 0, 1, 2);
  line_ = spin(QStringLiteral("kit.line"), tr("Line"), 60.0, 0.5, 3, 2);
  line_->setToolTip(tr("Height of the line on the block over the bench"));
  return box;
}

QWidget* BenchWorkspace::makeClub() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(2);
  const auto spin = [&](const QString& name, const QString& what, double most, double step, const QString& suffix,
                        double value, int row) {
    QDoubleSpinBox* s = numberField(box, name, most, step, suffix);
    s->setSpecialValueText(tr("no limit"));
    s->setValue(value);
    auto* text = new QLabel(what, box);
    text->setBuddy(s);
    grid->addWidget(text, row, 0);
    grid->addWidget(s, row, 1);
    connect(s, &QDoubleSpinBox::valueChanged, this, &BenchWorkspace::takeClub);
    return s;
  };
  const ClubLimits& l = club_.limits();
  leastMass_ =
      spin(QStringLiteral("club.mass"), tr("Weight at least"), 20000.0, 5.0, tr(" g"), l.least_mass_g.value_or(0.0), 0);
  leastHeight_ = spin(QStringLiteral("club.height"), tr("Ride height at least"), 60.0, 0.1, tr(" mm"),
                      l.least_ride_height_mm.value_or(0.0), 1);
  mostWidth_ =
      spin(QStringLiteral("club.width"), tr("Width at most"), 500.0, 0.5, tr(" mm"), l.most_width_mm.value_or(0.0), 2);
  leastBattery_ = spin(QStringLiteral("club.battery.least"), tr("Battery behind front axle, at least"), 400.0, 1.0,
                       tr(" mm"), l.least_battery_behind_mm.value_or(0.0), 3);
  mostBattery_ = spin(QStringLiteral("club.battery.most"), tr("and at most"), 400.0, 1.0, tr(" mm"),
                      l.most_battery_behind_mm.value_or(0.0), 4);
  return box;
}

QWidget* BenchWorkspace::makeInstruments() {
  auto* box = new QWidget(this);
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(4);
  socket_ = new QLineEdit(box);
  socket_->setObjectName(QStringLiteral("gauges.socket"));
  socket_->setAccessibleName(tr("Local socket of the gauges"));
  socket_->setText(Kept().value(socketKey, QStringLiteral("lowkite-bench")).toString());
  socket_->setMinimumHeight(targetHeight);
  listen_ = new QPushButton(tr("Listen"), box);
  listen_->setObjectName(QStringLiteral("gauges.listen"));
  listen_->setMinimumHeight(targetHeight);
  gauges_ = new QLabel(box);
  gauges_->setObjectName(QStringLiteral("gauges.status"));
  gauges_->setWordWrap(true);
  gauges_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  connect(listen_, &QPushButton::clicked, this, [this] {
    if (instruments_.listening()) return instruments_.stop();
    Kept().setValue(socketKey, socket_->text());
    instruments_.listen(socket_->text());
  });
  connect(socket_, &QLineEdit::returnPressed, listen_, &QPushButton::click);
  grid->addWidget(socket_, 0, 0);
  grid->addWidget(listen_, 0, 1);
  grid->addWidget(gauges_, 1, 0, 1, 2);
  grid->setRowStretch(1, 1);
  refreshInstruments();
  return box;
}

void BenchWorkspace::refreshInstruments() {
  listen_->setText(instruments_.listening() ? tr("Stop") : tr("Listen"));
  socket_->setEnabled(!instruments_.listening());
  gauges_->setText(instruments_.status());
}

void BenchWorkspace::takeClub() {
  const auto limit = [](const QDoubleSpinBox* s) {
    return s->value() > 0.0 ? std::optional(s->value()) : std::nullopt;
  };
  club_.setLimits(
      {limit(leastMass_), limit(leastHeight_), limit(mostWidth_), limit(leastBattery_), limit(mostBattery_)});
}

QWidget* BenchWorkspace::makeOlder() {
  auto* panel = new QFrame(this);
  panel->setObjectName(QStringLiteral("bench.older"));
  panel->setProperty("panel", true);
  auto* row = new QHBoxLayout(panel);
  row->setContentsMargins(16, 6, 8, 6);
  auto* text = new QLabel(
      tr("The setup in Plan has changed since this run began: the targets here are those of the older one."), panel);
  text->setWordWrap(true);
  auto* follow = new QPushButton(tr("Follow the setup"), panel);
  follow->setObjectName(QStringLiteral("bench.follow"));
  follow->setProperty("bench", true);
  connect(follow, &QPushButton::clicked, this, [this] { model_.followSetup(); });
  row->addWidget(text, 1);
  row->addWidget(follow);
  panel->hide();
  older_ = panel;
  return panel;
}

QWidget* BenchWorkspace::makeFoot() {
  auto* panel = new QFrame(this);
  panel->setProperty("panel", true);
  auto* row = new QHBoxLayout(panel);
  row->setContentsMargins(16, 8, 8, 8);
  progress_ = new QLabel(panel);
  progress_->setObjectName(QStringLiteral("bench.progress"));
  progress_->setFont(textFont(14, true));
  progress_->setWordWrap(true);
  measured_ = new QPushButton(tr("Car as measured to Plan"), panel);
  measured_->setObjectName(QStringLiteral("bench.measured"));
  measured_->setProperty("bench", true);
  measured_->setToolTip(
      tr("Puts ride heights, links and droop screws as they were read into the setup; one undo step"));
  connect(measured_, &QPushButton::clicked, this, [this] { model_.takeAsMeasured(); });
  sheet_ = new QToolButton(panel);
  sheet_->setObjectName(QStringLiteral("bench.sheet"));
  sheet_->setText(tr("Bench sheet"));
  sheet_->setProperty("bench", true);
  sheet_->setPopupMode(QToolButton::InstantPopup);
  auto* pages = new QMenu(sheet_);
  pages->setObjectName(QStringLiteral("menu.benchSheet"));
  pages->addAction(tr("A4"), this, [this] { writeSheet(QPageSize::A4); });
  pages->addAction(tr("Letter"), this, [this] { writeSheet(QPageSize::Letter); });
  pages->addAction(tr("Print..."), this, [this] {
    const auto printer = std::make_shared<QPrinter>(QPrinter::HighResolution);
    if (askPrinter(*printer))
      print(benchSheet(model_.document().car(), model_.run()), printer, this,
            [this](const QString& l) { Q_EMIT told(l); });
  });
  sheet_->setMenu(pages);
  askPrinter = [this](QPrinter& printer) { return QPrintDialog(&printer, this).exec() == QDialog::Accepted; };
  askSheetPath = [this] {
    return QFileDialog::getSaveFileName(this, tr("Bench sheet"), tr("bench-sheet.pdf"), QStringLiteral("*.pdf"));
  };
  auto* undo = new QPushButton(tr("Undo"), panel);
  undo->setObjectName(QStringLiteral("bench.undo"));
  undo->setProperty("bench", true);
  undo->setToolTip(tr("Takes back the last reading, turn or tick"));
  undo->setEnabled(false);
  connect(undo, &QPushButton::clicked, &model_.undoStack(), &QUndoStack::undo);
  connect(&model_.undoStack(), &QUndoStack::canUndoChanged, undo, &QPushButton::setEnabled);
  row->addWidget(progress_, 1);
  row->addWidget(undo);
  row->addWidget(sheet_);
  row->addWidget(measured_);
  return panel;
}

void BenchWorkspace::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void BenchWorkspace::writeSheet(QPageSize::PageSizeId page) {
  const QString path = askSheetPath();
  if (path.isEmpty()) return;
  Q_EMIT told(toldOf(writePdf(benchSheet(model_.document().car(), model_.run()), page, path), path));
}

void BenchWorkspace::takeKit() {
  if (!model_.hasRun()) return;
  BenchKit kit = model_.run().bench;
  kit.down_stop_blocks_mm = kit.droop_blocks_mm = blocks_->value();
  kit.slop_mm = play_->value();
  kit.cup_mm = cup_->value();
  kit.caliper = static_cast<Caliper>(caliper_->currentIndex());
  kit.droop_from = static_cast<DroopFrom>(droopFrom_->currentIndex());
  kit.droop_line_mm = line_->value();
  kit.ride_points_apart_mm = points_->value();
  model_.setBench(kit);
}

void BenchWorkspace::refresh() {
  if (!isVisible()) return;
  const bool car = model_.document().hasCar();
  start_->setEnabled(car);
  // One thing to do next: once a run is going, that is its step.
  if (const bool first = model_.steps().empty(); start_->property("primary").toBool() != first) {
    start_->setProperty("primary", first);
    start_->setFont(textFont(textSize, first));
  }
  resume_->setEnabled(car && !model_.unfinished().isEmpty());
  measured_->setEnabled(model_.hasRun());
  sheet_->setEnabled(model_.hasRun());
  for (QWidget* w : std::initializer_list<QWidget*>{blocks_, play_, cup_, caliper_, droopFrom_, line_, points_})
    w->setEnabled(model_.hasRun());
  older_->setVisible(model_.planIsOlder());
  refreshList();
  tellShocks();
  QString against;
  if (car) {
    // The car as it was measured counts, where something was measured.
    const Setup setup =
        model_.hasRun() ? as_measured(model_.document().car(), model_.run()) : model_.document().setup();
    if (const auto built = build_model(model_.document().car(), setup)) against = club_.warning(*built);
    if (!against.isEmpty())
      against = QStringLiteral(" <span style='color:%1'>! %2</span>")
                    .arg(tokens(palette()).warn.name(), against.toHtmlEscaped());
  }
  if (!model_.hasRun()) {
    progress_->setText(car ? tr("Nothing is being measured. The targets will be those of the setup in Plan.") + against
                           : tr("No car is open."));
    return;
  }
  const QSignalBlocker a(blocks_), b(play_), c(cup_), d(caliper_), e(droopFrom_), f(line_), g(points_);
  const BenchKit& kit = model_.run().bench;
  blocks_->setValue(kit.down_stop_blocks_mm);
  play_->setValue(kit.slop_mm);
  cup_->setValue(kit.cup_mm);
  caliper_->setCurrentIndex(static_cast<int>(kit.caliper));
  droopFrom_->setCurrentIndex(static_cast<int>(kit.droop_from));
  line_->setValue(kit.droop_line_mm);
  line_->setEnabled(kit.droop_from == DroopFrom::line);
  points_->setValue(kit.ride_points_apart_mm);
  const int all = static_cast<int>(model_.steps().size());
  QStringList counts;
  const auto count = [&](StepState state, const QString& words) {
    if (const int n = model_.stepsIn(state); n > 0) counts << words.arg(n);
  };
  count(StepState::measured, tr("%1 measured"));
  count(StepState::left, tr("%1 left as it is"));
  count(StepState::unmeasured, tr("%1 not measured"));
  count(StepState::skipped, tr("%1 skipped"));
  QString text = tr("%1 of %2 steps done").arg(model_.stepsDone()).arg(all);
  if (!counts.isEmpty()) text += tr(": %1").arg(counts.join(tr(", ")));
  progress_->setText(text + QLatin1Char('.') + against);
}

void BenchWorkspace::tellShocks() {
  QStringList lines;
  bool due = false;
  const BenchModel::LastBuilt last = model_.lastBuilt();
  const auto tell = [&](const QString& what, const std::optional<BenchModel::Built>& built) {
    if (!built) {
      lines << tr("%1: not built here yet").arg(what);
      return;
    }
    QString line = tr("%1: built %2").arg(what, built->when.left(10));
    if (!built->with.isEmpty()) line += tr(", %1").arg(built->with.join(tr(", ")));
    if (runsSince) {
      const int runs = runsSince(model_.document().car().id, built->when);
      line += tr("; %1 since").arg(counted(runs, "%1 run", "%1 runs"));
      // Common practice, no source: oil darkens and takes air over about so many.
      constexpr int manyRuns = 20;
      due |= runs >= manyRuns;
    }
    lines << line;
  };
  using Dampers = BenchModel::Dampers;
  if (model_.document().hasCar()) {
    for (const End end : both_ends)
      if (model_.hasDampers(Dampers::shocks, end)) tell(tr("Shocks, %1").arg(endTitle(end)), last[0][at(end)]);
    for (const End end : both_ends)
      if (model_.hasDampers(Dampers::third, end)) tell(tr("Third damper, %1").arg(endTitle(end)), last[1][at(end)]);
  }
  if (due) lines << tr("! Time to look into them again.");
  shocks_->setText(lines.join(QLatin1Char('\n')));
  shocks_->setVisible(!lines.isEmpty());
}

void BenchWorkspace::refreshList() {
  const QSignalBlocker quiet(steps_);
  if (!model_.hasRun()) {
    steps_->clear();
    return;
  }
  const auto& steps = model_.steps();
  while (steps_->count() > static_cast<int>(steps.size())) delete steps_->takeItem(steps_->count() - 1);
  while (steps_->count() < static_cast<int>(steps.size())) {
    auto* item = new QListWidgetItem(steps_);
    item->setSizeHint(QSize(0, stepHeight));
  }
  const Tokens& t = tokens(palette());
  for (int i = 0; i < steps_->count(); ++i) {
    const BenchStep& s = steps[at(i)];
    const StepRecord r = model_.record(s.id);
    QListWidgetItem* item = steps_->item(i);
    item->setText(tr("%1  %2").arg(sign(r), fromCore(s.title)));
    item->setForeground(r.state == StepState::open ? t.ink : t.soft);
    item->setToolTip(stateText(r));
  }
  steps_->setCurrentRow(model_.current());
}

void BenchWorkspace::fillViewMenu(QMenu& menu) {
  menu.addAction(tr("Next bench step"), QKeySequence(Qt::CTRL | Qt::Key_N), this,
                 [this] { model_.goTo(model_.current() + 1); });
  menu.addAction(tr("Take what the gauges show"), QKeySequence(Qt::CTRL | Qt::Key_J), this, [this] {
    if (!card_->takeFromGauges()) Q_EMIT told(tr("No gauge stands still for this step. Readings can be typed."));
  });
  menu.addAction(tr("Bench step before"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_N), this,
                 [this] { model_.goTo(model_.current() - 1); });
}

QString BenchWorkspace::figuresAsText() const {
  QStringList lines{QStringList{tr("Step"), tr("Left"), tr("Right"), tr("State")}.join(QLatin1Char('\t'))};
  if (!model_.hasRun()) return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
  for (const BenchStep& s : model_.steps()) {
    const StepRecord r = model_.record(s.id);
    const auto told = [&](Side side) {
      const auto read = known_reading(r, side);
      return read && s.gauge ? gaugeText(s.gauge->spec(), *read) : QString();
    };
    lines << QStringList{QString::fromStdString(s.title), told(Side::left), told(Side::right), stateText(r)}.join(
        QLatin1Char('\t'));
  }
  return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
}

}  // namespace lowkite::app
