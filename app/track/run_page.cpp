#include "app/track/run_page.h"

#include <algorithm>
#include <array>

#include <QComboBox>
#include <QDir>
#include <QFileInfo>
#include <QFormLayout>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTextCursor>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/widgets/segmented.h"
#include "app/words/wording.h"
#include "core/io/bench_file.hpp"
#include "core/log/run_comparison.hpp"

namespace lowkite::app {
namespace {

QLineEdit* lineField(QWidget* parent, const QString& name, const QString& said) {
  auto* e = new QLineEdit(parent);
  e->setObjectName(name);
  e->setAccessibleName(said);
  return e;
}

QString shown(const std::optional<double>& v) {
  return v ? QString::number(*v) : QString();
}

template <class E>
QComboBox* choiceOf(QWidget* parent, const QString& name, const QString& said, std::span<const Named<E>> list) {
  auto* box = new QComboBox(parent);
  box->setObjectName(name);
  box->setAccessibleName(said);
  box->setMinimumHeight(targetHeight);
  for (const Named<E>& n : list) box->addItem(fromCore(n.label), static_cast<int>(n.value));
  return box;
}

void put(QLineEdit* e, const std::string& text) {
  if (e->hasFocus() && e->text() == QString::fromStdString(text)) return;
  e->setText(QString::fromStdString(text));
  if (!e->hasFocus()) e->setCursorPosition(0);  // what is longer than the field is read from its beginning
}

/// Notes as they are to be when `mine` were written over `before`, where `now` stand there meanwhile: nobody's line is
/// lost.
QString together(const QString& before, const QString& mine, const QString& now) {
  if (now == before) return mine;
  QStringList lines = now.split(QLatin1Char('\n'));
  const QStringList known = before.split(QLatin1Char('\n'));
  for (const QString& line : mine.split(QLatin1Char('\n')))
    if (!line.isEmpty() && !lines.contains(line) && !known.contains(line)) lines << line;
  return lines.join(QLatin1Char('\n'));
}

}  // namespace

RunPage::RunPage(TrackModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setObjectName(QStringLiteral("runPage"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 8, 12, 8);
  column->setSpacing(8);
  const auto heading = [&](const QString& text, QWidget* parentWidget) {
    auto* l = new QLabel(text, parentWidget);
    l->setFont(textFont(15, true));
    return l;
  };
  const auto cell = [](QGridLayout* grid, int row, int at, int span, const QString& text, QWidget* field) {
    auto* label = new QLabel(text, field->parentWidget());
    label->setProperty("role", "quiet");
    label->setBuddy(field);
    grid->addWidget(label, 2 * row, at, 1, span);
    grid->addWidget(field, 2 * row + 1, at, 1, span);
  };
  dayBox_ = new QWidget(this);
  auto* day = new QGridLayout(dayBox_);
  day->setContentsMargins(0, 0, 0, 0);
  day->setHorizontalSpacing(8);
  day->setVerticalSpacing(2);
  date_ = lineField(dayBox_, QStringLiteral("day.date"), tr("Date, year-month-day"));
  track_ = lineField(dayBox_, QStringLiteral("day.track"), tr("Track"));
  surface_ = choiceOf(dayBox_, QStringLiteral("day.surface"), tr("Surface"), surfaces());
  grip_ = choiceOf(dayBox_, QStringLiteral("day.grip"), tr("Grip"), grips());
  bumps_ = choiceOf(dayBox_, QStringLiteral("day.bumps"), tr("Bumps"), bump_kinds());
  air_ = lineField(dayBox_, QStringLiteral("day.air"), tr("Air, deg C"));
  ground_ = lineField(dayBox_, QStringLiteral("day.ground"), tr("Track's surface, deg C"));
  humidity_ = lineField(dayBox_, QStringLiteral("day.humidity"), tr("Humidity, per cent"));
  dayNotes_ = lineField(dayBox_, QStringLiteral("day.notes"), tr("Notes on the day"));
  cell(day, 0, 0, 1, tr("Date"), date_);
  cell(day, 0, 1, 2, tr("Track"), track_);
  cell(day, 0, 3, 1, tr("Surface"), surface_);
  cell(day, 0, 4, 1, tr("Grip"), grip_);
  cell(day, 0, 5, 1, tr("Bumps"), bumps_);
  cell(day, 1, 0, 1, tr("Air, \u00B0C"), air_);
  cell(day, 1, 1, 1, tr("Ground, \u00B0C"), ground_);
  cell(day, 1, 2, 1, tr("Humidity, %"), humidity_);
  cell(day, 1, 3, 3, tr("Notes on the day"), dayNotes_);
  column->addWidget(heading(tr("The day"), this));
  column->addWidget(dayBox_);

  runBox_ = new QWidget(this);
  auto* run = new QGridLayout(runBox_);
  run->setContentsMargins(0, 0, 0, 0);
  run->setHorizontalSpacing(8);
  run->setVerticalSpacing(2);
  started_ = lineField(runBox_, QStringLiteral("run.started"), tr("Started, hours:minutes"));
  tyres_ = lineField(runBox_, QStringLiteral("run.tyres"), tr("Tyres"));
  tyreRuns_ = lineField(runBox_, QStringLiteral("run.tyreRuns"), tr("How many runs the tyres had before"));
  additive_ = lineField(runBox_, QStringLiteral("run.additive"), tr("Tyre additive, where the class allows one"));
  battery_ = lineField(runBox_, QStringLiteral("run.battery"), tr("Battery"));
  length_ = lineField(runBox_, QStringLiteral("run.length"), tr("Length of the run, seconds"));
  broke_ = lineField(runBox_, QStringLiteral("run.broke"), tr("What broke"));
  markedBy_ = lineField(runBox_, QStringLiteral("run.markedBy"), tr("Who marked it"));
  cell(run, 0, 0, 1, tr("Started"), started_);
  cell(run, 0, 1, 2, tr("Tyres"), tyres_);
  cell(run, 0, 3, 1, tr("Runs on them"), tyreRuns_);
  cell(run, 0, 4, 1, tr("Additive"), additive_);
  cell(run, 0, 5, 1, tr("Battery"), battery_);
  cell(run, 1, 0, 1, tr("Length, s"), length_);
  cell(run, 1, 1, 3, tr("What broke"), broke_);
  cell(run, 1, 4, 2, tr("Marked by"), markedBy_);
  notes_ = new QPlainTextEdit(runBox_);
  notes_->setObjectName(QStringLiteral("run.notes"));
  notes_->setAccessibleName(tr("Notes on the run"));
  notes_->setTabChangesFocus(true);
  notes_->setFixedHeight(84);
  cell(run, 2, 0, 6, tr("Notes"), notes_);
  // What belongs to the driver and not to the car (common practice): one touch each, so that it is written at all.
  auto* habits = new QWidget(runBox_);
  auto* touch = new QHBoxLayout(habits);
  touch->setContentsMargins(0, 0, 0, 0);
  touch->setSpacing(6);
  for (const auto& [name, words] : {std::pair(QStringLiteral("run.habit.safe"), tr("safe line")),
                                    {QStringLiteral("run.habit.followed"), tr("followed a faster car")},
                                    {QStringLiteral("run.habit.hurried"), tr("hurried")},
                                    {QStringLiteral("run.habit.line"), tr("tried another line")}}) {
    auto* b = new QToolButton(habits);
    b->setObjectName(name);
    b->setText(words);
    b->setCheckable(true);
    b->setMinimumHeight(targetHeight);
    connect(b, &QToolButton::clicked, this, [this, said = words](bool on) { touchHabit(said, on); });
    touch->addWidget(b);
    habits_.push_back(b);
  }
  touch->addStretch(1);
  run->addWidget(habits, 6, 0, 1, 6);
  verdict_ = new Segmented(QStringLiteral("run.verdict"), {tr("not said"), tr("worse"), tr("the same"), tr("better")},
                           runBox_);
  column->addWidget(heading(tr("The run"), this));
  column->addWidget(runBox_);
  auto* verdictRow = new QHBoxLayout;
  verdictRow->addWidget(new QLabel(tr("Against the run before it was"), this));
  verdictRow->addWidget(verdict_);
  verdictRow->addStretch(1);
  column->addLayout(verdictRow);
  setup_ = new QLabel(this);
  setup_->setObjectName(QStringLiteral("run.setup"));
  setup_->setWordWrap(true);
  changes_ = new QLabel(this);
  changes_->setObjectName(QStringLiteral("run.changes"));
  changes_->setAccessibleName(tr("What was changed since the run before"));
  changes_->setWordWrap(true);
  changes_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  take_ = new QPushButton(tr("It ran with the setup at work"), this);
  take_->setObjectName(QStringLiteral("run.takeSetup"));
  plan_ = new QPushButton(tr("Open its setup in Plan"), this);
  plan_->setObjectName(QStringLiteral("run.openInPlan"));
  attach_ = new QPushButton(tr("Keep the last bench readings with it"), this);
  attach_->setObjectName(QStringLiteral("run.attach"));
  auto* buttons = new QHBoxLayout;
  for (QPushButton* b : {take_, plan_, attach_}) {
    b->setProperty("bench", true);
    buttons->addWidget(b);
  }
  buttons->addStretch(1);
  column->addWidget(setup_);
  column->addWidget(changes_);
  column->addLayout(buttons);
  column->addStretch(1);

  for (QLineEdit* e : {date_, track_, air_, ground_, humidity_, dayNotes_})
    connect(e, &QLineEdit::editingFinished, this, &RunPage::keepDay);
  for (QComboBox* b : {surface_, grip_, bumps_}) connect(b, &QComboBox::activated, this, &RunPage::keepDay);
  for (QLineEdit* e : {started_, tyres_, tyreRuns_, additive_, battery_, length_, broke_, markedBy_})
    connect(e, &QLineEdit::editingFinished, this, &RunPage::keepRun);
  rest_ = new QTimer(this);
  rest_->setSingleShot(true);
  rest_->setInterval(700);
  connect(rest_, &QTimer::timeout, this, &RunPage::keepNotes);
  connect(notes_, &QPlainTextEdit::textChanged, this, [this] {
    if (filling_ || !model_.run()) return;
    if (!typing_) typing_ = {model_.run()->run.id, QString::fromStdString(model_.run()->run.notes)};
    rest_->start();
  });
  notes_->installEventFilter(this);
  connect(&model_, &TrackModel::typedWanted, this, &RunPage::keepNotes);
  connect(verdict_, &Segmented::chosen, this, &RunPage::keepRun);
  connect(take_, &QPushButton::clicked, this, [this] { model_.takeSetup(); });
  connect(plan_, &QPushButton::clicked, this, [this] {
    if (!model_.run() || !model_.document().hasCar()) return;
    if (const auto setup = setup_of(model_.run()->run, model_.document().car())) Q_EMIT openInPlan(*setup);
  });
  connect(attach_, &QPushButton::clicked, this, [this] {
    if (!model_.run()) return;
    // The newest run on the bench of this car.
    const QDir folder(QFileInfo(model_.path()).dir().filePath(QStringLiteral("../autosave/bench")));
    const auto files = folder.entryInfoList({QStringLiteral("*.kite-bench.json")}, QDir::Files, QDir::Time);
    for (const QFileInfo& f : files) {
      const auto text = read_file(f.filePath().toStdString());
      const auto car = text ? car_id_of_run(*text, f.fileName().toStdString()) : tl::unexpected(Faults{text.error()});
      if (!car || *car != model_.run()->run.car_id) continue;
      RunRecord next = *model_.run();
      next.run.measured = *text;
      model_.putRun(next, tr("Bench readings of the run"));
      return;
    }
    Q_EMIT model_.told(tr("There are no bench readings of this car yet."));
  });
  connect(&model_, &TrackModel::chosen, this, &RunPage::refresh);
  refresh();
}

void RunPage::refresh() {
  filling_ = true;
  const auto day = model_.day();
  const auto& record = model_.run();
  dayBox_->setEnabled(day.has_value());
  runBox_->setEnabled(record.has_value());
  verdict_->setEnabled(record.has_value());
  take_->setEnabled(record.has_value() && model_.document().hasCar());
  attach_->setEnabled(record.has_value());
  const Day d = day.value_or(Day{});
  put(date_, d.date);
  put(track_, d.track);
  surface_->setCurrentIndex(surface_->findData(static_cast<int>(d.surface)));
  grip_->setCurrentIndex(grip_->findData(static_cast<int>(d.grip)));
  bumps_->setCurrentIndex(bumps_->findData(static_cast<int>(d.bumps)));
  air_->setText(shown(d.air_celsius));
  ground_->setText(shown(d.ground_celsius));
  humidity_->setText(shown(d.humidity_percent));
  put(dayNotes_, d.notes);
  const Run r = record ? record->run : Run{};
  put(started_, r.started);
  put(tyres_, r.tyres);
  tyreRuns_->setText(r.tyre_runs ? QString::number(*r.tyre_runs) : QString());
  put(additive_, r.additive);
  put(battery_, r.battery);
  length_->setText(shown(r.length_s));
  put(broke_, r.broke);
  put(markedBy_, r.marked_by);
  if (typing_ && typing_->run != r.id) typing_.reset();
  const QString notes = notesNow();
  if (notes_->toPlainText() != notes) {
    const int place = notes_->textCursor().position();
    notes_->setPlainText(notes);
    QTextCursor cursor = notes_->textCursor();
    cursor.setPosition(std::min(place, static_cast<int>(notes.size())));
    notes_->setTextCursor(cursor);
  }
  const QStringList noted = notes.split(QLatin1Char('\n'));
  for (QToolButton* b : habits_) b->setChecked(noted.contains(b->text()));
  verdict_->setCurrent(static_cast<int>(r.verdict));
  const Document& doc = model_.document();
  const Car* car = doc.hasCar() && doc.car().id == r.car_id ? &doc.car() : nullptr;
  const auto setup = car ? setup_of(r, *car) : std::nullopt;
  plan_->setEnabled(setup.has_value());
  if (!record)
    setup_->setText(day ? tr("No run yet. \u201CNew run\u201D takes the setup at work along.")
                        : tr("No day yet. \u201CNew day\u201D begins one."));
  else if (r.setup.empty())
    setup_->setText(tr("No setup is kept with this run."));
  else if (!car)
    setup_->setText(tr("Driven with another car than the open one: %1.").arg(QString::fromStdString(r.car_id)));
  else
    setup_->setText(
        tr("Setup: <b>%1</b>%2")
            .arg(setup ? QString::fromStdString(setup->name).toHtmlEscaped() : tr("it no longer fits the car"),
                 r.measured.empty() ? QString() : tr(", bench readings kept")));
  QString changes;
  if (const auto before = model_.runBefore(); before && record) {
    const auto list = setup_changes(before->run.setup, r.setup, car);
    QStringList lines;
    for (const SetupChange& c : list)
      lines << tr("%1: %2 \u2192 %3")
                   .arg(QString::fromStdString(c.what), QString::fromStdString(c.from), QString::fromStdString(c.to));
    changes = list.empty()
                  ? tr("Nothing was changed since the run of %1.").arg(QString::fromStdString(before->run.started))
                  : tr("Changed since the run of %1: %2.")
                        .arg(QString::fromStdString(before->run.started), lines.join(QStringLiteral("; ")));
    std::size_t parts = 0;
    for (const SetupChange& c : list) parts += !c.adjuster || !car || !car->adjusters[c.adjuster].threaded();
    if (parts > 1)
      changes += tr(" One thing at a time: with %1 changes at once nobody can tell which one worked.").arg(parts);
  }
  changes_->setText(changes);
  filling_ = false;
}

template <class Record>
void RunPage::take(QLineEdit& edit, const LogField<Record>& field, Record& record) {
  const auto value = value_in(field, edit.text().toStdString());
  const auto allowed = wrong_with(field, value.value_or(FieldValue(edit.text().toStdString())));
  if (!allowed) {
    field.set(record, *value);
    return;
  }
  Q_EMIT model_.told(
      tr("%1: \u201C%2\u201D cannot be; allowed: %3.").arg(edit.accessibleName(), edit.text(), fromCore(*allowed)));
  const FieldValue before = field.get(record);
  const auto* number = std::get_if<double>(&before);
  edit.setText(number ? QString::number(*number) : QString::fromStdString(cell_of(field, before)));
}

void RunPage::keepDay() {
  if (filling_) return;
  auto day = model_.day();
  if (!day) return;
  const std::array<std::pair<QLineEdit*, const char*>, 6> typed{{{date_, "date"},
                                                                 {track_, "track"},
                                                                 {air_, "air_celsius"},
                                                                 {ground_, "ground_celsius"},
                                                                 {humidity_, "humidity_percent"},
                                                                 {dayNotes_, "notes"}}};
  for (const auto& [edit, column] : typed) take(*edit, day_field(column), *day);
  day->surface = static_cast<Surface>(surface_->currentData().toInt());
  day->grip = static_cast<Grip>(grip_->currentData().toInt());
  day->bumps = static_cast<Bumps>(bumps_->currentData().toInt());
  model_.putDay(*day, tr("Day"));
}

bool RunPage::eventFilter(QObject* watched, QEvent* event) {
  if (watched == notes_ && event->type() == QEvent::FocusOut) keepNotes();
  return QWidget::eventFilter(watched, event);
}

QString RunPage::notesNow() const {
  const QString kept = model_.run() ? QString::fromStdString(model_.run()->run.notes) : QString();
  return typing_ ? together(typing_->over, notes_->toPlainText(), kept) : kept;
}

void RunPage::keepNotes() {
  if (!typing_) return;
  rest_->stop();
  // Refused because another has written there meanwhile: the log is read again by then, and both can stay.
  bool again = false;
  for (int tries = 0; tries < 2 && typing_; ++tries) {
    if (!model_.run() || model_.run()->run.id != typing_->run) return typing_.reset();
    RunRecord next = *model_.run();
    next.run.notes = notesNow().toStdString();
    again = tries > 0;
    constexpr int typing = 101;  // what is typed in a row is undone as one
    model_.putRun(next, tr("Run"), notes_->hasFocus() ? typing : 0);
    if (model_.run() && model_.run()->run.notes == next.run.notes) typing_.reset();
  }
  // What could not be written, which was told, stays in the field and is tried again.
  if (again && !typing_)
    Q_EMIT model_.told(tr("Another window has written notes of this run, too: yours stand below them."));
}

void RunPage::touchHabit(const QString& words, bool on) {
  keepNotes();
  if (!model_.run()) return;
  RunRecord next = *model_.run();
  QStringList lines = QString::fromStdString(next.run.notes).split(QLatin1Char('\n'));
  lines.removeAll(words);
  if (on) lines << words;
  while (!lines.isEmpty() && lines.front().isEmpty()) lines.removeFirst();
  next.run.notes = lines.join(QLatin1Char('\n')).toStdString();
  model_.putRun(next, words);
}

void RunPage::keepRun() {
  if (filling_) return;
  keepNotes();
  if (!model_.run()) return;
  RunRecord next = *model_.run();
  Run& r = next.run;
  const std::array<std::pair<QLineEdit*, const char*>, 8> typed{{{started_, "started"},
                                                                 {tyres_, "tyres"},
                                                                 {tyreRuns_, "tyre_runs"},
                                                                 {additive_, "additive"},
                                                                 {battery_, "battery"},
                                                                 {length_, "length_s"},
                                                                 {broke_, "broke"},
                                                                 {markedBy_, "marked_by"}}};
  for (const auto& [edit, column] : typed) take(*edit, run_field(column), r);
  r.verdict = static_cast<Verdict>(verdict_->current());
  model_.putRun(next, tr("Run"));
}

}  // namespace lowkite::app
