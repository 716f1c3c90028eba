#include "app/bench/step_card.h"

#include <algorithm>
#include <cmath>

#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/bench/pull_page.h"
#include "app/look/theme.h"
#include "app/words/gauge_words.h"
#include "app/words/wording.h"
#include "core/load/scales.hpp"

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

StepCard::StepCard(BenchModel& model, Instruments& instruments, QWidget* parent)
    : QFrame(parent), model_(model), instruments_(instruments) {
  setProperty("panel", true);
  setObjectName(QStringLiteral("step"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 16, 24, 16);
  column->setSpacing(8);
  phase_ = new QLabel(this);
  phase_->setObjectName(QStringLiteral("step.phase"));
  phase_->setProperty("role", QStringLiteral("heading"));
  title_ = wrapped(this, QStringLiteral("step.title"), 24, true);
  why_ = wrapped(this, QStringLiteral("step.why"), 14);
  how_ = wrapped(this, QStringLiteral("step.how"), 14);
  caution_ = wrapped(this, QStringLiteral("step.caution"), 14, true);
  column->addWidget(phase_);
  column->addWidget(title_);
  column->addWidget(why_);
  column->addWidget(how_);
  column->addWidget(caution_);
  auto* row = new QHBoxLayout;
  row->setSpacing(24);
  for (const Side side : both_sides) {
    sides_[at(side)] = makeSide(side);
    row->addWidget(sides_[at(side)].box, 1);
  }
  column->addLayout(row);
  pull_ = new PullPage(model_, this);
  column->addWidget(pull_, 20);
  even_ = wrapped(this, QStringLiteral("step.even"), 14, true);
  besides_ = wrapped(this, QStringLiteral("step.besides"), 13);
  column->addWidget(even_);
  column->addWidget(besides_);
  column->addStretch(1);
  column->addWidget(makeButtons());
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
  s.field = new QDoubleSpinBox(s.box);
  s.field->setObjectName(name + QStringLiteral("field"));
  s.field->setRange(-10000.0, 10000.0);
  s.field->setFont(figureFont(22));
  s.field->setProperty("bench", true);
  s.field->setAlignment(Qt::AlignCenter);
  s.field->setButtonSymbols(QAbstractSpinBox::NoButtons);
  const auto stepper = [&](const QString& text, const QString& id, int by) {
    auto* b = new QToolButton(s.box);
    b->setObjectName(name + id);
    b->setText(text);
    b->setAutoRepeat(true);
    b->setFocusPolicy(Qt::NoFocus);
    b->setProperty("stepper", true);
    b->setProperty("bench", true);
    b->setFixedSize(benchTarget + 4, benchTarget);
    connect(b, &QToolButton::clicked, this, [field = s.field, by] { field->stepBy(by); });
    return b;
  };
  auto* entry = new QHBoxLayout;
  entry->setSpacing(4);
  entry->addWidget(stepper(QStringLiteral("\u2212"), QStringLiteral("less"), -1));
  entry->addWidget(s.field, 1);
  entry->addWidget(stepper(QStringLiteral("+"), QStringLiteral("more"), 1));
  s.take = new QPushButton(tr("Take reading"), s.box);
  s.take->setObjectName(name + QStringLiteral("take"));
  s.take->setProperty("bench", true);
  s.back = new QPushButton(tr("Take back"), s.box);
  s.back->setObjectName(name + QStringLiteral("back"));
  s.back->setProperty("bench", true);
  connect(s.take, &QPushButton::clicked, this, [this, side] {
    QDoubleSpinBox* field = sides_[at(side)].field;
    field->interpretText();
    model_.takeReading(side, field->value());
  });
  connect(s.back, &QPushButton::clicked, this, [this, side] { model_.takeBack(side); });
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
  column->addWidget(s.title);
  column->addWidget(s.target);
  column->addWidget(s.expected);
  column->addLayout(entry);
  column->addLayout(takes);
  column->addWidget(s.live);
  column->addWidget(s.taken);
  column->addWidget(s.verdict);
  return s;
}

QWidget* StepCard::makeButtons() {
  auto* box = new QWidget(this);
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
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
  reason_->setProperty("bench", true);
  skip_ = button(QStringLiteral("step.skip"), tr("Skip"));
  done_ = button(QStringLiteral("step.done"), tr("Done, next step"));
  done_->setProperty("primary", true);
  done_->setMinimumWidth(180);
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

void StepCard::refresh() {
  const BenchStep* step = model_.step();
  setEnabled(step != nullptr);
  if (!step) {
    title_->setText(tr("Choose a list and start."));
    for (QLabel* l : {phase_, why_, how_, caution_, even_, besides_}) l->clear();
    for (SideBox& s : sides_) s.box->hide();
    pull_->hide();
    return;
  }
  const Tokens& t = tokens(palette());
  phase_->setText(fromCore(name_of(step->spec->phase)).toUpper());
  title_->setText(fromCore(step->title));
  why_->setText(fromCore(step->spec->why));
  how_->setText(fromCore(step->spec->how));
  caution_->setText(step->spec->caution.empty() ? QString()
                                                : coloured(t.warn, tr("\u26A0 %1").arg(fromCore(step->spec->caution))));
  caution_->setVisible(!step->spec->caution.empty());
  const bool one = step->gauge && !step->gauge->spec().per_wheel;
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
        lines << tr("Turning it back moves besides, %1: %2.").arg(sideTitle(side), moved.join(QStringLiteral("; ")));
      break;
    }
  if (step->gauge && step->gauge->kind == &gauge::corner_scale)
    if (const auto w = weight_summary(model_.run())) {
      const bool square = std::abs(w->cross_percent - 50.0) < 0.5;
      lines << coloured(square ? t.good : t.warn,
                        tr("%1 Cross weight %2 %, left %3 %, front %4 %, %5 g in all.")
                            .arg(square ? QStringLiteral("\u2713") : QStringLiteral("!"), number(w->cross_percent, 1),
                                 number(w->left_percent, 1), number(w->front_percent, 1), number(w->total_g, 0)));
      lines << scaleWords(*w, square);
    }
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

QStringList StepCard::scaleWords(const WeightSummary& w, bool square) const {
  constexpr double worth_moving_mm = 0.4;
  const auto built = build_model(model_.document().car(), model_.run().planned);
  const auto loaded = built ? LoadedCar::of(*built) : tl::unexpected(std::string());
  const auto advice = loaded ? explain_scales(*loaded, w.grams) : std::nullopt;
  QStringList lines;
  if (!advice) return lines;
  if (!square) {
    QStringList ways;
    for (const End end : both_ends) {
      const double mm = advice->collar_mm[at(end)];
      const SpringHolder holder = spring_holder(model_.document().car(), end);
      const bool pod = holder == SpringHolder::pod;
      const bool spacers = holder == SpringHolder::spacers;
      ways << (spacers ? tr("%1: %3 mm more spacers on the %2 spring, as much less on the %4 one")
               : pod   ? tr("%1: %2 side spring's screw %3 mm down, %4 one %3 mm up")
                       : tr("%1: %2 collar %3 mm down, %4 collar %3 mm up"))
                  .arg(endTitle(end), mm > 0.0 ? tr("left") : tr("right"),
                       number(std::abs(mm), holder == SpringHolder::collars ? 1 : 2),
                       mm > 0.0 ? tr("right") : tr("left"));
    }
    lines << tr("To 50 %, at one end only. %1.").arg(ways.join(tr("; or ")));
  }
  if (std::abs(advice->aside_mm) > worth_moving_mm)
    lines << tr("The weight lies %1 mm to the %2: no collar changes that. %3 g moved 100 mm across would.")
                 .arg(number(std::abs(advice->aside_mm), 1), advice->aside_mm > 0.0 ? tr("left") : tr("right"),
                      number(w.total_g * std::abs(advice->aside_mm) / 100.0, 0));
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
  const bool one = !spec.per_wheel;
  const bool lock = step.spec->phase == BenchPhase::steering;
  s.title->setText((one    ? tr("both wheels")
                    : lock ? (side == Side::left ? tr("lock to the left") : tr("lock to the right"))
                           : sideTitle(side))
                       .toUpper() +
                   tr(" SHOULD READ"));
  const auto& v = model_.verdict();
  const SideVerdict none;
  const SideVerdict& verdict = v ? v->side[at(side)] : none;
  s.target->setText(verdict.target ? gaugeText(spec, *verdict.target) : tr("no target"));
  QString expected = tr("tells \u00B1 %1 %2").arg(QString::number(spec.resolution), unitText(spec.unit));
  if (g.kind == &gauge::lock_inside)
    if (const auto allowed = end_point(model_.document().car(), model_.run(), side))
      expected += tr("; the smallest, read with %1").arg(fromCore(lockWords(allowed->decides)));
  if (verdict.expected && verdict.target && std::abs(*verdict.expected - *verdict.target) > spec.resolution)
    expected += tr("; after what was measured it should read %1 as it is").arg(gaugeText(spec, *verdict.expected));
  s.expected->setText(coloured(t.soft, expected));
  if (shownStep_ != step.id) {
    const QSignalBlocker quiet(s.field);
    s.field->setDecimals(spec.decimals);
    s.field->setSingleStep(spec.resolution);
    s.field->setSuffix(QLatin1Char(' ') + unitText(spec.unit));
    s.field->setValue(verdict.target.value_or(0.0));
  }
  const StepRecord record = model_.record(step.id);
  const auto& readings = record.readings[at(side)];
  s.back->setEnabled(!readings.empty());
  if (!verdict.read) {
    s.taken->setText(coloured(t.soft, tr("nothing read yet")));
    s.verdict->clear();
    return;
  }
  QStringList each;
  for (const double r : readings) each << number(r, spec.decimals);
  s.taken->setText(verdict.read->count == 1
                       ? tr("read %1").arg(gaugeText(spec, verdict.read->mean))
                       : tr("mean %1 of %2, spread %3")
                             .arg(gaugeText(spec, verdict.read->mean), each.join(QStringLiteral(", ")),
                                  number(verdict.read->spread, spec.decimals + 1)));
  s.verdict->setText(verdict.answer ? answerText(model_.document().car(), g, side, *verdict.answer, t) : QString());
}

}  // namespace lowkite::app
