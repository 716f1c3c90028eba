#include "app/bench/step_card.h"

#include <algorithm>
#include <cmath>

#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollBar>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/bench/pull_page.h"
#include "app/help/sketch.h"
#include "app/look/theme.h"
#include "app/settings/usual_ranges.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/sided_field.h"
#include "app/words/gauge_words.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int benchTarget = 48;  ///< least height of what a hand must hit on the bench

QLabel* wrapped(QWidget* parent, const QString& name, int size, bool bold = false) {
  auto* label = new QLabel(parent);
  label->setObjectName(name);
  label->setWordWrap(true);
  label->setFont(textFont(size, bold));
  return label;
}

std::string_view lockWords(GaugeKind kind) {
  return kind == &gauge::lock_hanging   ? "the wheels hanging"
         : kind == &gauge::lock_pressed ? "the car pressed down"
                                        : "the car at ride height";
}

}  // namespace

StepCard::StepCard(BenchModel& model, Instruments& instruments, const UsualRanges& usual, QWidget* parent)
    : QFrame(parent), model_(model), instruments_(instruments), usual_(usual) {
  setProperty("panel", true);
  setObjectName(QStringLiteral("step"));
  // In a low window the step scrolls; what ends it stays in sight.
  auto* step = new QWidget(this);
  auto* column = new QVBoxLayout(step);
  column->setContentsMargins(24, 16, 24, 8);
  column->setSpacing(8);
  phase_ = new QLabel(this);
  phase_->setObjectName(QStringLiteral("step.phase"));
  phase_->setProperty("role", QStringLiteral("heading"));
  title_ = wrapped(this, QStringLiteral("step.title"), 24, true);
  why_ = wrapped(this, QStringLiteral("step.why"), 14);
  how_ = wrapped(this, QStringLiteral("step.how"), 14);
  named_ = wrapped(this, QStringLiteral("step.named"), 14, true);
  caution_ = wrapped(this, QStringLiteral("step.caution"), 14, true);
  sketch_ = new SketchLabel(QStringLiteral("step.sketch"), this);
  auto* words = new QVBoxLayout;
  words->setSpacing(8);
  for (QWidget* w : {static_cast<QWidget*>(phase_), static_cast<QWidget*>(title_), static_cast<QWidget*>(why_),
                     static_cast<QWidget*>(how_), static_cast<QWidget*>(named_)})
    words->addWidget(w);
  words->addStretch(1);
  auto* top = new QHBoxLayout;
  top->setSpacing(16);
  top->addLayout(words, 1);
  top->addWidget(sketch_, 0, Qt::AlignTop);
  column->addLayout(top);
  column->addWidget(caution_);
  auto* row = new QHBoxLayout;
  row->setSpacing(24);
  for (const Side side : both_sides) {
    sides_[at(side)] = makeSide(side);
    row->addWidget(sides_[at(side)].box, 1, Qt::AlignTop);
  }
  column->addLayout(row);
  pull_ = new PullPage(model_, this);
  column->addWidget(pull_, 20);
  even_ = wrapped(this, QStringLiteral("step.even"), 14, true);
  besides_ = wrapped(this, QStringLiteral("step.besides"), 13);
  column->addWidget(even_);
  column->addWidget(besides_);
  auto* against = new QHBoxLayout;
  against->setSpacing(8);
  const auto collars = [&](const QString& name, const QString& text, std::optional<End> end) {
    auto* b = new QPushButton(text, this);
    b->setObjectName(name);
    b->setProperty("bench", true);
    b->hide();
    connect(b, &QPushButton::clicked, this, [this, end] { model_.collarsTurned(end); });
    against->addWidget(b);
    return b;
  };
  together_[at(End::front)] = collars(QStringLiteral("step.collars.front"), tr("I turned the front ones"), End::front);
  together_[at(End::rear)] = collars(QStringLiteral("step.collars.rear"), tr("I turned the rear ones"), End::rear);
  levelled_ = collars(QStringLiteral("step.levelled"), tr("I turned all four"), std::nullopt);
  against->addStretch(1);
  column->addLayout(against);
  column->addStretch(1);
  area_ = scrolled(step, this);
  area_->setFocusPolicy(Qt::NoFocus);
  auto* all = new QVBoxLayout(this);
  all->setContentsMargins(0, 0, 0, 16);
  all->setSpacing(8);
  all->addWidget(area_, 1);
  all->addWidget(makeButtons());
  connect(&model_, &BenchModel::changed, this, &StepCard::refresh);
  connect(&instruments_, &Instruments::changed, this, &StepCard::refreshLive);
  refresh();
}

StepCard::SideBox StepCard::makeSide(Side side) {
  const QString name =
      QStringLiteral("step.%1.").arg(side == Side::left ? QLatin1String("left") : QLatin1String("right"));
  SideBox s;
  s.box = new QWidget(this);
  auto* column = new QVBoxLayout(s.box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  s.title = new QLabel(s.box);
  s.title->setProperty("role", QStringLiteral("heading"));
  s.target = wrapped(s.box, name + QStringLiteral("target"), 28, true);
  s.target->setFont(figureFont(28, true));
  s.expected = wrapped(s.box, name + QStringLiteral("expected"), 12);
  s.field = new SidedField(name, benchTarget, s.box);
  s.field->spin()->setFont(figureFont(22));
  s.field->spin()->setProperty("bench", true);
  s.take = new QPushButton(tr("Take reading"), s.box);
  s.take->setObjectName(name + QStringLiteral("take"));
  s.take->setProperty("bench", true);
  s.back = new QPushButton(tr("Take back"), s.box);
  s.back->setObjectName(name + QStringLiteral("back"));
  s.back->setProperty("bench", true);
  connect(s.take, &QPushButton::clicked, this,
          [this, side] { model_.takeReading(side, sides_[at(side)].field->value()); });
  connect(s.back, &QPushButton::clicked, this, [this, side] { model_.takeBack(side); });
  if (auto* line = s.field->spin()->findChild<QLineEdit*>())
    connect(line, &QLineEdit::returnPressed, this, [this, side] { takeByKey(side); });
  auto* takes = new QHBoxLayout;
  takes->setSpacing(4);
  takes->addWidget(s.take, 1);
  takes->addWidget(s.back);
  s.live = new QWidget(s.box);
  s.live->hide();
  auto* lives = new QHBoxLayout(s.live);
  lives->setContentsMargins(0, 0, 0, 0);
  lives->setSpacing(6);
  s.shows = new QLabel(s.live);
  s.shows->setObjectName(name + QStringLiteral("shows"));
  s.shows->setFont(figureFont(15));
  s.takeLive = new QPushButton(tr("Take from gauge"), s.live);
  s.takeLive->setObjectName(name + QStringLiteral("takeLive"));
  s.takeLive->setProperty("bench", true);
  connect(s.takeLive, &QPushButton::clicked, this, [this, side] {
    if (const auto live = liveOf(side)) model_.takeReading(side, live->mean);
  });
  lives->addWidget(s.shows, 1);
  lives->addWidget(s.takeLive);
  s.taken = wrapped(s.box, name + QStringLiteral("taken"), 13);
  s.verdict = wrapped(s.box, name + QStringLiteral("verdict"), 16, true);
  s.verdict->setMinimumHeight(44);
  s.verdict->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  s.turned = new QPushButton(s.box);
  s.turned->setObjectName(name + QStringLiteral("turned"));
  s.turned->setProperty("bench", true);
  connect(s.turned, &QPushButton::clicked, this, [this, side] {
    const BenchStep* step = model_.step();
    const bool both =
        step && step->gauge && (step->gauge->spec().pair_off_by || step->gauge->kind == &gauge::ride_height);
    model_.turnedIt(both ? std::nullopt : std::optional(side));
  });
  s.asks = new QWidget(s.box);
  auto* sure = new QHBoxLayout(s.asks);
  sure->setContentsMargins(0, 0, 0, 0);
  sure->setSpacing(4);
  s.sure = new QPushButton(s.asks);
  s.sure->setObjectName(name + QStringLiteral("sure"));
  s.mistaken = new QPushButton(s.asks);
  s.mistaken->setObjectName(name + QStringLiteral("mistaken"));
  for (QPushButton* b : {s.sure, s.mistaken}) {
    b->setProperty("bench", true);
    sure->addWidget(b);
  }
  connect(s.sure, &QPushButton::clicked, this, [this, side] { model_.confirmSide(side); });
  connect(s.mistaken, &QPushButton::clicked, this, [this, side] { model_.otherSide(side); });
  column->addWidget(s.title);
  column->addWidget(s.target);
  column->addWidget(s.expected);
  column->addWidget(s.field);
  column->addLayout(takes);
  column->addWidget(s.live);
  column->addWidget(s.taken);
  column->addWidget(s.verdict);
  column->addWidget(s.asks);
  column->addWidget(s.turned);
  return s;
}

QWidget* StepCard::makeButtons() {
  auto* box = new QWidget(this);
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(24, 0, 24, 0);
  row->setSpacing(8);
  const auto button = [&](const QString& name, const QString& text) {
    auto* b = new QPushButton(text, box);
    b->setObjectName(name);
    b->setProperty("bench", true);
    return b;
  };
  auto* earlier = button(QStringLiteral("step.earlier"), tr("Do it earlier"));
  auto* later = button(QStringLiteral("step.later"), tr("Do it later"));
  reason_ = new QLineEdit(box);
  reason_->setObjectName(QStringLiteral("step.reason"));
  reason_->setPlaceholderText(tr("Why it is skipped"));
  reason_->setAccessibleName(reason_->placeholderText());
  reason_->setProperty("bench", true);
  skip_ = button(QStringLiteral("step.skip"), tr("Skip"));
  done_ = button(QStringLiteral("step.done"), tr("Done, next step"));
  done_->setProperty("primary", true);
  done_->setMinimumWidth(180);
  done_->installEventFilter(this);
  connect(earlier, &QPushButton::clicked, this, [this] { model_.moveStep(-1); });
  connect(later, &QPushButton::clicked, this, [this] { model_.moveStep(1); });
  connect(reason_, &QLineEdit::textChanged, this,
          [this](const QString& t) { skip_->setEnabled(!t.trimmed().isEmpty()); });
  connect(skip_, &QPushButton::clicked, this, [this] {
    const QString why = reason_->text().trimmed();
    reason_->clear();
    model_.skipStep(why);
  });
  connect(done_, &QPushButton::clicked, this, [this] { model_.finishStep(); });
  skip_->setEnabled(false);
  row->addWidget(earlier);
  row->addWidget(later);
  row->addWidget(reason_, 1);
  row->addWidget(skip_);
  row->addWidget(done_);
  return box;
}

void StepCard::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  enlarge();
}

/// What is read from an arm's length uses the room that there is.
void StepCard::enlarge() {
  constexpr double usualWidth = 900.0, usualHeight = 640.0, most = 1.8;
  const double room = std::clamp(std::min(width() / usualWidth, height() / usualHeight), 1.0, most);
  const double times = std::floor(10.0 * room) / 10.0;
  if (std::abs(times - enlarged_) < 0.05) return;
  enlarged_ = times;
  const auto size = [times](int px) { return static_cast<int>(std::lround(times * px)); };
  sketch_->setEnlarged(times);
  title_->setFont(textFont(size(24), true));
  for (QLabel* l : {why_, how_}) l->setFont(textFont(size(14)));
  for (QLabel* l : {named_, caution_, even_}) l->setFont(textFont(size(14), true));
  besides_->setFont(textFont(size(13)));
  for (SideBox& s : sides_) {
    s.target->setFont(figureFont(size(28), true));
    s.expected->setFont(textFont(size(12)));
    s.field->spin()->setFont(figureFont(size(22)));
    s.shows->setFont(figureFont(size(15)));
    s.taken->setFont(textFont(size(13)));
    s.verdict->setFont(textFont(size(16), true));
  }
}

void StepCard::typeInto(Side side) {
  QDoubleSpinBox* spin = sides_[at(side)].field->spin();
  spin->setFocus(Qt::OtherFocusReason);
  spin->selectAll();
}

void StepCard::takeByKey(Side side) {
  const BenchStep* step = model_.step();
  if (!step) return;
  const std::string id = step->id;
  model_.takeReading(side, sides_[at(side)].field->value());
  const Side other = side == Side::left ? Side::right : Side::left;
  if (!model_.step() || model_.step()->id != id) return;
  if (reads(other) && model_.record(id).readings[at(other)].empty()) {
    typeInto(other);
    return;
  }
  // As it should be: the next Enter goes on. Else the same number is read again once it was turned.
  const auto& v = model_.verdict();
  const bool fine = v && std::all_of(both_sides.begin(), both_sides.end(),
                                     [&](Side s) { return !reads(s) || near_enough(v->side[at(s)]); });
  if (fine)
    done_->setFocus(Qt::OtherFocusReason);
  else
    typeInto(side);
}

bool StepCard::eventFilter(QObject* watched, QEvent* event) {
  if (watched == done_ && event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
      done_->click();
      // On with the numbers of the next step, or with Enter where it asks for none.
      if (reads(Side::left) && model_.step() && model_.step()->gauge)
        typeInto(Side::left);
      else
        done_->setFocus(Qt::OtherFocusReason);
      return true;
    }
  }
  return QFrame::eventFilter(watched, event);
}

void StepCard::refresh() {
  const BenchStep* step = model_.step();
  setEnabled(step != nullptr);
  if (!step) {
    title_->setText(tr("Choose a list and start."));
    for (QLabel* l : {phase_, why_, how_, named_, caution_, even_, besides_}) l->clear();
    for (SideBox& s : sides_) s.box->hide();
    for (QPushButton* b : {together_[0], together_[1], levelled_}) b->hide();
    pull_->hide();
    return;
  }
  const Tokens& t = tokens(palette());
  phase_->setText(fromCore(name_of(step->spec->phase)).toUpper());
  title_->setText(fromCore(step->title));
  why_->setText(fromCore(step->spec->why));
  how_->setText(fromCore(step->spec->how));
  QStringList named;
  const Car& car = model_.document().car();
  for (const PartHandle i : parts_named(car, *step)) {
    const Adjuster& a = car.adjusters[i];
    const Setting& v = model_.run().planned.of(i);
    named << tr("%1 %2").arg(
        QString::fromStdString(a.name).toHtmlEscaped(),
        (v.left == v.right ? valueText(a, v.left) : tr("%1 | %2").arg(valueText(a, v.left), valueText(a, v.right)))
            .toHtmlEscaped());
  }
  named_->setText(named.isEmpty() ? QString() : tr("In the setup: %1").arg(named.join(QStringLiteral("; "))));
  named_->setVisible(!named.isEmpty());
  caution_->setText(step->spec->caution.empty() ? QString()
                                                : coloured(t.warn, tr("\u26A0 %1").arg(fromCore(step->spec->caution))));
  caution_->setVisible(!step->spec->caution.empty());
  sketch_->show(step->gauge ? sketchOf(step->gauge->kind) : std::nullopt);
  sketch_->setAccessibleName(step->gauge ? tr("How the gauge is laid: %1").arg(fromCore(step->gauge->label))
                                         : QString());
  const bool one = step->gauge && !reads_each_side(*step->gauge, model_.run().bench);
  const bool pulled = step->gauge && step->gauge->kind == &gauge::pull_down;
  if (!pulled) pull_->hide();  // before the others come: both at once would ask for a taller window
  for (const Side side : both_sides) {
    sides_[at(side)].box->setVisible(step->gauge.has_value() && !pulled && !(one && side == Side::right));
    if (step->gauge) refreshSide(side, *step);
  }
  if (pulled) {
    pull_->show(*step);
    pull_->setVisible(true);
  }
  if (shownStep_ != step->id) area_->verticalScrollBar()->setValue(0);
  shownStep_ = step->id;
  const auto& v = model_.verdict();
  even_->setText(v && v->apart
                     ? (v->even ? coloured(t.good, tr("\u2713 Left and right are even."))
                                : coloured(t.bad, tr("\u2715 Left and right are %1 %2 apart.")
                                                      .arg(number(std::abs(*v->apart), step->gauge->spec().decimals),
                                                           unitText(step->gauge->spec().unit))))
                     : QString());
  QStringList lines;
  if (!model_.failure().isEmpty()) lines << coloured(t.bad, model_.failure());
  if (v && step->gauge)
    for (const Side side : both_sides) {
      const auto& a = v->side[at(side)].answer;
      if (!a || a->verdict != GaugeAnswer::Verdict::turn) continue;
      QStringList moved;
      for (const SideEffect& e : side_effects(model_.document().car(), model_.run().planned, *step->gauge, side, *a, 4))
        moved << tr("%1 %2 to %3")
                     .arg(figureLabel(*e.figure), figureText(*e.figure, e.from, 0), figureWithUnit(*e.figure, e.to, 0));
      if (!moved.isEmpty())
        lines << tr("Turning it moves besides, %1: %2.").arg(sideTitle(side), moved.join(QStringLiteral("; ")));
      break;
    }
  const auto weights =
      step->gauge && step->gauge->kind == &gauge::corner_scale ? weight_answer(car, model_.run()) : std::nullopt;
  if (weights) {
    const WeightSummary& w = weights->sum;
    lines << coloured(
        weights->square ? t.good : t.warn,
        tr("%1 Cross weight %2 %, left %3 %, front %4 %, %5 g in all.")
            .arg(weights->square ? QStringLiteral("\u2713") : QStringLiteral("!"), number(w.cross_percent, 1),
                 number(w.left_percent, 1), number(w.front_percent, 1), number(w.total_g, 0)));
    lines << scaleWords(*weights);
  }
  for (const End end : both_ends)
    together_[at(end)]->setVisible(weights && !weights->square && weights->advice.has_value());
  const auto lean =
      step->gauge && step->gauge->kind == &gauge::ride_height ? lean_answer(car, model_.run()) : std::nullopt;
  if (lean) lines << leanWords(*lean);
  levelled_->setVisible(lean && lean->collar_mm.has_value());
  const auto last = model_.lastTime(step->id);
  if (step->gauge && (last[0] || last[1])) {
    const auto told = [&](Side s) {
      return last[at(s)] ? gaugeText(step->gauge->spec(), *last[at(s)]) : tr("not read");
    };
    lines << coloured(t.soft, tr("Last time (%1): left %2, right %3.")
                                  .arg(model_.lastStarted().left(10), told(Side::left), told(Side::right)));
  }
  besides_->setText(lines.join(QStringLiteral("<br>")));
  refreshLive();
}

namespace {

/// "left collar 3/8 turn (0.4 mm) down, right collar as much up", whatever holds the springs there.
QString againstWords(const Car& car, End end, double left_down_mm) {
  const QString down = left_down_mm > 0.0 ? StepCard::tr("left") : StepCard::tr("right");
  const QString up = left_down_mm > 0.0 ? StepCard::tr("right") : StepCard::tr("left");
  const double mm = std::abs(left_down_mm);
  switch (spring_holder(car, end)) {
    case SpringHolder::spacers:
      return StepCard::tr("%1: %2 mm more spacers on the %3 spring, as much less on the %4 one")
          .arg(endTitle(end), number(mm, 2), down, up);
    case SpringHolder::pod:
      return StepCard::tr("%1: %2 side spring's screw %3 mm down, %4 one as much up")
          .arg(endTitle(end), down, number(mm, 2), up);
    case SpringHolder::collars:
      break;
  }
  const double pitch = car.axle(end).collar_pitch_mm;
  const QString amount = pitch > 0.0 ? StepCard::tr("%1 (%2 mm)").arg(turnsText(mm / pitch), number(mm, 1))
                                     : StepCard::tr("%1 mm").arg(number(mm, 1));
  return StepCard::tr("%1: %2 collar %3 down, %4 collar as much up").arg(endTitle(end), down, amount, up);
}

}  // namespace

QStringList StepCard::scaleWords(const WeightAnswer& weights) const {
  QStringList lines;
  if (weights.square && weights.tells_percent > square_percent)
    lines << tr("Of so light a car these scales tell cross weight to %1 % only.").arg(number(weights.tells_percent, 1));
  if (!weights.advice) return lines;
  if (!weights.square) {
    QStringList ways;
    for (const End end : both_ends)
      ways << againstWords(model_.document().car(), end, weights.advice->collar_mm[at(end)]);
    lines << tr("To 50 %, at one end only. %1. Then ride heights, camber and scales are read again.")
                 .arg(ways.join(tr("; or ")));
  }
  const double aside = weights.advice->aside_mm;
  if (weights.aside_matters)
    lines << tr("The weight lies %1 mm to the %2: no collar changes that. %3 g moved 100 mm across would.")
                 .arg(number(std::abs(aside), 1), aside > 0.0 ? tr("left") : tr("right"),
                      number(weights.sum.total_g * std::abs(aside) / 100.0, 0));
  return lines;
}

QStringList StepCard::leanWords(const LeanAnswer& lean) const {
  const Tokens& t = tokens(palette());
  const auto higher = [](double mm) {
    return tr("%1 mm higher on the %2").arg(number(std::abs(mm), 1), mm > 0.0 ? tr("left") : tr("right"));
  };
  if (lean.twisted)
    return {coloured(t.bad, tr("\u2715 Twisted: the front is %1, the rear %2. No collar mends that: loosen the plates' "
                               "screws on a flat board, look at the board itself, then read again.")
                                .arg(higher(lean.lean_mm[0]), higher(lean.lean_mm[1])))};
  if (!lean.leans) return {coloured(t.good, tr("\u2713 Level, front and rear alike."))};
  QStringList lines{coloured(
      t.warn,
      tr("! The car leans: the front is %1, the rear %2.").arg(higher(lean.lean_mm[0]), higher(lean.lean_mm[1])))};
  if (lean.collar_mm) {
    QStringList ways;
    for (const End end : both_ends) ways << againstWords(model_.document().car(), end, (*lean.collar_mm)[at(end)]);
    lines << tr("Level, with the cross weight kept: <b>%1.</b> Then measure again.").arg(ways.join(tr("; ")));
  }
  return lines;
}

std::optional<Instruments::Live> StepCard::liveOf(Side side) const {
  const BenchStep* step = model_.step();
  if (!step || !step->gauge) return std::nullopt;
  return instruments_.live({step->gauge->kind, step->gauge->end, side});
}

bool StepCard::takeFromGauges() {
  bool any = false;
  for (const Side side : both_sides)
    if (const auto live = liveOf(side); live && live->steady) {
      model_.takeReading(side, live->mean);
      any = true;
    }
  return any;
}

void StepCard::refreshLive() {
  const BenchStep* step = model_.step();
  const Tokens& t = tokens(palette());
  const auto kinds = instrument_kinds();
  const bool sent = step && step->gauge && instruments_.listening() &&
                    std::find(kinds.begin(), kinds.end(), step->gauge->kind) != kinds.end();
  for (const Side side : both_sides) {
    SideBox& s = sides_[at(side)];
    s.live->setVisible(sent);
    if (!sent) continue;
    const auto live = liveOf(side);
    s.takeLive->setEnabled(live && live->steady);
    if (!live) {
      s.shows->setText(coloured(t.soft, tr("gauge silent")));
      continue;
    }
    const GaugeSpec& spec = step->gauge->spec();
    s.shows->setText(live->steady ? coloured(t.good, tr("\u2713 %1, steady").arg(gaugeText(spec, live->mean)))
                                  : tr("%1, moving").arg(gaugeText(spec, live->latest)));
  }
}

void StepCard::refreshSide(Side side, const BenchStep& step) {
  const Tokens& t = tokens(palette());
  SideBox& s = sides_[at(side)];
  const Gauge& g = *step.gauge;
  const GaugeSpec& spec = g.spec();
  const bool one = !reads_each_side(g, model_.run().bench);
  const bool lock = step.spec->phase == BenchPhase::steering;
  s.title->setText((one    ? tr("both wheels")
                    : lock ? (side == Side::left ? tr("lock to the left") : tr("lock to the right"))
                           : sideTitle(side))
                       .toUpper() +
                   (spec.play ? tr(" WANTED") : tr(" SHOULD READ")));
  const auto& v = model_.verdict();
  const SideVerdict none;
  const SideVerdict& verdict = v ? v->side[at(side)] : none;
  s.target->setText(verdict.target ? targetText(spec, *verdict.target) : tr("no target"));
  QString expected = tellsText(spec);
  if (const FigureSpec* figure = find_figure(spec.id))
    if (const UsualRange* usual = usual_.find(model_.document().car(), g.end, *figure))
      expected += tr("; usual %1").arg(rangeWithUnit(*figure, usual->least, usual->most));
  if (g.kind == &gauge::lock_inside)
    if (const auto allowed = end_point(model_.document().car(), model_.run(), side))
      expected += allowed->decides ? tr("; the smallest, read with %1").arg(fromCore(lockWords(allowed->decides)))
                                   : tr("; the lock that is wanted, less than there is");
  if (verdict.expected && verdict.target && std::abs(*verdict.expected - *verdict.target) > spec.resolution)
    expected += tr("; after what was measured it should read %1 as it is").arg(gaugeText(spec, *verdict.expected));
  s.expected->setText(coloured(t.soft, expected));
  if (shownStep_ != step.id) {
    s.field->setGauge(spec, unitText(spec.unit));
    s.field->setValue(verdict.target.value_or(0.0));
  }
  const StepRecord record = model_.record(step.id);
  s.back->setEnabled(!record.readings[at(side)].empty());
  s.taken->setText(takenText(step, side, verdict));
  s.asks->setVisible(verdict.asks_side);
  const bool told = verdict.answer && (verdict.answer->verdict == GaugeAnswer::Verdict::turn ||
                                       verdict.answer->verdict == GaugeAnswer::Verdict::until_it_moves);
  // Where both sides are turned together one button says so.
  const bool together = spec.pair_off_by || g.kind == &gauge::ride_height;
  const auto& other = v ? v->side[side == Side::left ? 1 : 0].answer : none.answer;
  const bool other_told = other && other->verdict == GaugeAnswer::Verdict::turn;
  s.turned->setVisible(together ? side == Side::left && (told || other_told) : told);
  s.turned->setText(g.kind == &gauge::lock_inside ? tr("I set it")
                    : spec.play                   ? tr("I changed it")
                    : together                    ? tr("I turned them")
                                                  : tr("I turned it"));
  if (verdict.asks_side) {
    const auto named = [&](double value) {
      return spec.zero == ZeroSides::in_out ? (value > 0.0 ? tr("in") : tr("out"))
                                            : (value > 0.0 ? tr("plus") : tr("minus"));
    };
    s.verdict->setText(
        coloured(t.warn, tr("! You read %1; it should read %2. Which side was it?")
                             .arg(gaugeText(spec, verdict.read->mean), gaugeText(spec, *verdict.target))));
    s.sure->setText(tr("It is %1").arg(named(verdict.read->mean)));
    s.mistaken->setText(tr("No, %1").arg(named(-verdict.read->mean)));
    return;
  }
  s.verdict->setText(verdict.answer ? answerText(model_.document().car(), g, side, *verdict.answer, t) : QString());
  // Read at two points the axle is judged by both together; one by itself is not told to be right.
  if (g.kind == &gauge::ride_height && !one && verdict.read && near_enough(verdict) &&
      std::abs(verdict.read->mean - *verdict.target) > spec.resolution)
    s.verdict->setText(
        coloured(t.soft, tr("Left and right together read as they should: what they differ by is a lean.")));
  if (verdict.read)
    if (const auto tyre = hanging_tyre(model_.document().car(), model_.run(), step, side, verdict.read->mean)) {
      QString droop = tr("Droop %1 mm.").arg(number(tyre->droop_mm, 1));
      if (tyre->blocks_too_low)
        droop +=
            QLatin1Char(' ') +
            coloured(
                t.bad,
                tr("These blocks are too low for this car: at least %1 mm.").arg(number(tyre->least_blocks_mm, 0)));
      s.taken->setText(s.taken->text() + QStringLiteral("<br>") + droop);
    }
}

QString StepCard::takenText(const BenchStep& step, Side side, const SideVerdict& verdict) const {
  const Tokens& t = tokens(palette());
  const GaugeSpec& spec = step.gauge->spec();
  const StepRecord record = model_.record(step.id);
  QStringList lines;
  if (verdict.read && verdict.read->count == 1) {
    lines << tr("read %1").arg(gaugeText(spec, verdict.read->mean));
  } else if (verdict.read) {
    QStringList each;
    for (const double r : record.readings[at(side)]) each << number(r, spec.decimals);
    lines << tr("mean %1 of %2, spread %3")
                 .arg(gaugeText(spec, verdict.read->mean), each.join(QStringLiteral(", ")),
                      number(verdict.read->spread, spec.decimals + 1));
  }
  for (auto e = record.earlier.rbegin(); e != record.earlier.rend(); ++e)
    if (const auto was = average(e->readings[at(side)])) {
      lines << coloured(t.soft, tr("before the turn: %1").arg(gaugeText(spec, was->mean)));
      break;
    }
  if (!verdict.read && record.moved_to[at(side)])
    lines << tr("should read %1 since then: measure again").arg(gaugeText(spec, *record.moved_to[at(side)]));
  if (lines.isEmpty()) lines << coloured(t.soft, tr("nothing read yet"));
  return lines.join(QStringLiteral("<br>"));
}

}  // namespace lowkite::app
