#include "app/car/part_assistant.h"

#include <algorithm>

#include <QComboBox>
#include <QCoreApplication>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/car/field_table.h"
#include "app/look/theme.h"
#include "app/widgets/scrolled.h"
#include "app/words/wording.h"
#include "core/io/json_document.hpp"
#include "core/plan/idle_fields.hpp"

namespace lowkite::app {
namespace {

QString whereText(const PartPlace& place) {
  const QString label = fromCore(place.label);
  return (place.steering            ? PartAssistant::tr("Steering: %1")
          : place.end == End::front ? PartAssistant::tr("Front: %1")
                                    : PartAssistant::tr("Rear: %1"))
      .arg(label);
}

QString asSentence(const QString& text) {
  return text.left(1).toUpper() + text.mid(1);
}

/// As the core knows it: a choice by its own name, not by what it is called here.
QString answerIn(const QWidget* field) {
  if (const auto* box = qobject_cast<const QComboBox*>(field)) return box->currentData().toString();
  return qobject_cast<const QLineEdit*>(field)->text();
}

}  // namespace

PartAssistant::PartAssistant(CarEditor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* title = new QLabel(tr("Add a part"), this);
  title->setFont(textFont(14, true));
  const auto box = [&](const QString& name, const QString& label) {
    auto* b = new QComboBox(this);
    b->setObjectName(name);
    b->setMinimumHeight(targetHeight);
    b->setAccessibleName(label);
    b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    b->setMaxVisibleItems(20);
    return b;
  };
  what_ = box(QStringLiteral("part.what"), tr("What kind of part"));
  where_ = box(QStringLiteral("part.where"), tr("Where it sits"));
  auto* choice = new QGridLayout;
  choice->setHorizontalSpacing(8);
  choice->addWidget(new QLabel(tr("What"), this), 0, 0);
  choice->addWidget(what_, 0, 1);
  choice->addWidget(new QLabel(tr("Where"), this), 1, 0);
  choice->addWidget(where_, 1, 1);
  choice->setColumnStretch(1, 1);
  help_ = new QLabel(this);
  help_->setObjectName(QStringLiteral("part.help"));
  help_->setWordWrap(true);
  asks_ = new QWidget(this);
  says_ = new QLabel(this);
  says_->setObjectName(QStringLiteral("part.says"));
  says_->setWordWrap(true);
  says_->setTextFormat(Qt::PlainText);
  says_->setMinimumHeight(84);
  says_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  put_ = carButton(QStringLiteral("part.put"), tr("Put it on the car"), this);
  auto* leave = carButton(QStringLiteral("part.leave"), tr("Leave it"), this);
  connect(what_, &QComboBox::currentIndexChanged, this, [this] {
    typed_.clear();
    fillPlaces();
  });
  connect(where_, &QComboBox::currentIndexChanged, this, [this] { ask(); });
  connect(put_, &QPushButton::clicked, this, &PartAssistant::put);
  connect(leave, &QPushButton::clicked, this, [this] {
    editor_.setSpots({});
    Q_EMIT left();
  });
  // A point that is taken in hand in the drawing is a place.
  connect(&editor_, &CarEditor::selectionChanged, this, [this] {
    if (!isVisible() || !editor_.point()) return;
    for (std::size_t i = 0; i < places_.size(); ++i)
      if (places_[i].end == editor_.point()->end && places_[i].steering == editor_.point()->steering &&
          places_[i].points == std::vector<PointHandle>{editor_.point()->point})
        return where_->setCurrentIndex(static_cast<int>(i));
  });
  // Undone or edited elsewhere meanwhile: places are counted anew.
  connect(&editor_, &CarEditor::changed, this, [this] {
    if (isVisible()) fillForms();
  });
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->addWidget(put_);
  row->addStretch(1);
  row->addWidget(leave);
  column->addWidget(title);
  column->addLayout(choice);
  column->addWidget(help_);
  column->addWidget(scrolled(asks_, this), 1);
  column->addWidget(says_);
  column->addLayout(row);
}

const PartForm* PartAssistant::form() const {
  return find_part_form(what_->currentData().toString().toStdString());
}

const PartPlace* PartAssistant::place() const {
  const int i = where_->currentIndex();
  return i >= 0 && i < static_cast<int>(places_.size()) ? &places_[at(i)] : nullptr;
}

void PartAssistant::begin() {
  if (!editor_.document().hasCar()) return;
  fillForms();
}

void PartAssistant::fillForms() {
  const QString before = what_->currentData().toString();
  {
    const QSignalBlocker quiet(what_);
    what_->clear();
    for (const PartForm& f : part_forms())
      if (!places_for(f, editor_.document().car()).empty())
        what_->addItem(fromCore(f.label), QString::fromLatin1(f.id.data(), static_cast<qsizetype>(f.id.size())));
    if (const int same = what_->findData(before); same >= 0) what_->setCurrentIndex(same);
  }
  fillPlaces();
}

void PartAssistant::fillPlaces() {
  const PartForm* f = form();
  if (!f) return;
  const std::vector<PartPlace> before = std::move(places_);
  const int was = where_->currentIndex();
  places_ = places_for(*f, editor_.document().car());
  // What is looked at comes first.
  const auto group = [](const PartPlace& p) {
    return p.steering            ? CarEditor::Group::steering
           : p.end == End::front ? CarEditor::Group::front
                                 : CarEditor::Group::rear;
  };
  std::stable_partition(places_.begin(), places_.end(),
                        [&](const PartPlace& p) { return group(p) == editor_.group(); });
  int now = 0;
  for (std::size_t i = 0; i < places_.size(); ++i) {
    const auto& point = editor_.point();
    if (point && places_[i].end == point->end && places_[i].steering == point->steering &&
        places_[i].points == std::vector<PointHandle>{point->point})
      now = static_cast<int>(i);
    else if (!point && was >= 0 && was < static_cast<int>(before.size()) && places_[i] == before[at(was)])
      now = static_cast<int>(i);
  }
  {
    const QSignalBlocker quiet(where_);
    where_->clear();
    for (const PartPlace& p : places_) where_->addItem(whereText(p));
    where_->setCurrentIndex(now);
  }
  help_->setText(fromCore(f->help));
  ask();
}

void PartAssistant::ask() {
  const PartForm* f = form();
  const PartPlace* p = place();
  if (!f || !p) return;
  questions_ = questions_for(*f, *p, editor_.document().car());
  fields_.clear();
  delete asks_->layout();
  qDeleteAll(asks_->findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
  auto* grid = new QGridLayout(asks_);
  grid->setContentsMargins(0, 0, 6, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(4);
  int row = 0;
  for (const PartQuestion& q : questions_) {
    const QString id = QString::fromStdString(q.id);
    const auto kept = typed_.find(q.id);
    const QString first = kept != typed_.end() ? kept->second : QString::fromStdString(q.answer);
    auto* label = new QLabel(asSentence(fromCore(q.label)), asks_);
    label->setWordWrap(true);
    label->setMinimumWidth(170);
    QWidget* field = nullptr;
    const auto took = [this, key = q.id](const QString& text) {
      typed_[key] = text;
      tell();
    };
    if (q.kind == CarField::Kind::choice) {
      auto* b = new QComboBox(asks_);
      b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
      b->setMinimumContentsLength(12);
      for (const std::string& c : q.choices) b->addItem(fromCore(c), QString::fromStdString(c));
      b->setCurrentIndex(std::max(0, b->findData(first)));
      connect(b, &QComboBox::currentIndexChanged, this, [took, b] { took(b->currentData().toString()); });
      field = b;
    } else {
      auto* line = new QLineEdit(first, asks_);
      if (q.kind != CarField::Kind::text) line->setFont(figureFont(textSize));
      connect(line, &QLineEdit::textEdited, this, took);
      connect(line, &QLineEdit::returnPressed, this, [this] {
        if (put_->isEnabled()) put();
      });
      field = line;
    }
    field->setObjectName(QStringLiteral("part.") + id);
    field->setMinimumHeight(targetHeight);
    field->setAccessibleName(label->text());
    label->setBuddy(field);
    fields_.push_back(field);
    auto* unit = new QLabel(QString::fromStdString(q.unit), asks_);
    unit->setMinimumWidth(40);
    grid->addWidget(label, row, 0);
    grid->addWidget(field, row, 1);
    grid->addWidget(unit, row, 2);
    ++row;
  }
  grid->setColumnStretch(0, 2);
  grid->setColumnStretch(1, 3);
  grid->setRowStretch(row, 1);
  editor_.setGroup(p->steering            ? CarEditor::Group::steering
                   : p->end == End::front ? CarEditor::Group::front
                                          : CarEditor::Group::rear);
  tell();
}

std::vector<PartQuestion> PartAssistant::answered() const {
  std::vector<PartQuestion> all = questions_;
  for (std::size_t i = 0; i < all.size() && i < fields_.size(); ++i) all[i].answer = answerIn(fields_[i]).toStdString();
  return all;
}

QString PartAssistant::toldOf(const Car& car, PartHandle index) const {
  const Adjuster& part = car.adjusters[index];
  QStringList lines;
  if (const Positions* list = part.positions()) {
    QStringList names;
    for (const Position& p : list->list) names << QString::fromStdString(p.label);
    lines << tr("%1 positions: %2. In the car now: %3.")
                 .arg(list->list.size())
                 .arg(names.join(QStringLiteral(", ")), names.value(static_cast<int>(part.kit)));
  } else if (part.threaded()) {
    lines
        << tr("%1 turns out to %2 turns in; in the car now: 0.").arg(number(-part.least(), 2), number(part.most(), 2));
    if (part.kind == AdjusterKind::turnbuckle)
      lines.last() =
          tr("%1 turns shorter to %2 turns longer, %3 mm a turn.")
              .arg(number(-part.least(), 2), number(part.most(), 2), number(part.range()->link_mm_per_unit, 2));
  } else {
    lines << tr("%1 stacks from %2 to %3 mm; in the car now: %4 mm.")
                 .arg(part.range()->stops.size())
                 .arg(number(part.least(), 2), number(part.most(), 2), number(part.kit, 2));
  }
  const std::vector<PartSpot> spots = spots_of(car, part);
  double most = 0.0;
  for (const PartSpot& a : spots)
    for (const PartSpot& b : spots)
      if (a.ref == b.ref) most = std::max(most, (a.mm - b.mm).norm());
  if (most > 0.0) lines << tr("From end to end %1 mm.").arg(number(most, 2));
  // Where it can stand, and what its next step does to the wheel before anything is set again.
  const lowkite::Setup kit = kit_setup(car);
  const auto figures = [&](double value) -> std::optional<CarFigures> {
    lowkite::Setup set = kit;
    set.of(index) = {value, value};
    const auto model = build_model(car, set);
    if (!model) return std::nullopt;
    auto found = figures_at(*model, static_attitude(*model));
    return found ? std::optional(std::move(*found)) : std::nullopt;
  };
  const auto named = [&](double v) {
    return part.positions()  ? QString::fromStdString(part.positions()->list[static_cast<std::size_t>(v)].label)
           : part.threaded() ? tr("%1 turns").arg(number(v, 2))
                             : tr("%1 mm").arg(number(v, 2));
  };
  for (const double v : {part.least(), part.most()})
    if (!figures(v)) lines << tr("At %1 the linkage cannot close: measure again.").arg(named(v));
  const double next = part.kit < part.most() ? part.stepped(part.kit, 1) : part.stepped(part.kit, -1);
  const auto before = figures(part.kit);
  const auto after = figures(part.threaded() ? part.kit + (part.most() >= 1.0 ? 1.0 : -1.0) : next);
  if (before && after) {
    const WheelFigures& a = before->axle[at(part.end)].wheel[0];
    const WheelFigures& b = after->axle[at(part.end)].wheel[0];
    QStringList by;
    const auto add = [&](const QString& name, double from, double to, int decimals, const QString& unit) {
      if (std::abs(to - from) >= 0.5 * std::pow(10.0, -decimals))
        by << tr("%1 %2 %3").arg(name, signedNumber(to - from, decimals), unit);
    };
    add(tr("camber"), degrees(a.camber_rad), degrees(b.camber_rad), 2, tr("deg"));
    add(tr("toe"), degrees(a.toe_rad), degrees(b.toe_rad), 2, tr("deg"));
    if (a.kingpin && b.kingpin)
      add(tr("caster"), degrees(a.kingpin->caster_rad), degrees(b.kingpin->caster_rad), 2, tr("deg"));
    const auto& ra = before->axle[at(part.end)].roll_centre.moving;
    const auto& rb = after->axle[at(part.end)].roll_centre.moving;
    if (ra && rb) add(tr("roll centre"), ra->height, rb->height, 1, tr("mm"));
    if (!by.isEmpty())
      lines << tr("To %1, before anything is set again: %2.")
                   .arg(named(part.threaded() ? part.kit + (part.most() >= 1.0 ? 1.0 : -1.0) : next),
                        by.join(QStringLiteral(", ")));
  }
  return lines.join(QLatin1Char(' '));
}

void PartAssistant::tellFitting(const Car& car, const PartForm& form, const PartPlace& place) {
  std::optional<Fitting> last;
  for (Fitting& f : fittings_of(car))
    if (f.form == form.id && f.end == place.end) last = std::move(f);
  if (!last) return;
  editor_.setSpots(last->spots, last->bodies);
  // What does nothing yet, as Check would tell it once it is on.
  const auto before = idle_fields(editor_.document().car());
  QStringList lines;
  for (const Finding& idle : idle_fields(car))
    if (idle.end == place.end &&
        std::none_of(before.begin(), before.end(), [&](const Finding& old) { return old.what == idle.what; }))
      lines << tr("So far %1: %2.").arg(fromCore(idle.what), fromCore(idle.remedy));
  if (lines.isEmpty())
    lines << (last->spots.empty() && last->bodies.empty() ? tr("Its numbers can be changed in the list afterwards.")
                                                          : tr("The drawing shows where it lies. Its numbers can be "
                                                               "changed in the list afterwards."));
  says_->setText(lines.join(QLatin1Char(' ')));
}

void PartAssistant::tell() {
  const PartForm* f = form();
  const PartPlace* p = place();
  if (!f || !p) return;
  Json after = editor_.source();
  const auto id = add_part(after, editor_.document().car(), *f, *p, answered());
  const auto wrong = [&](const Fault& fault) {
    says_->setText(tr("%1: %2. What would do: %3.")
                       .arg(asSentence(QString::fromStdString(fault.place)), QString::fromStdString(fault.wrong),
                            QString::fromStdString(fault.allowed)));
    put_->setEnabled(false);
    editor_.setSpots({});
  };
  if (!id) return wrong(id.error());
  const auto with = recheck(after, editor_.document().car().name);
  if (!with) return wrong(in_words(with.error().front(), after));
  if (id->empty()) {
    tellFitting(*with->car, *f, *p);
  } else {
    const PartHandle index = with->car->find_adjuster(*id);
    says_->setText(toldOf(*with->car, index));
    editor_.setSpots(spots_of(*with->car, with->car->adjusters[index]));
  }
  put_->setEnabled(editor_.editable());
}

void PartAssistant::put() {
  const PartForm* f = form();
  const PartPlace* p = place();
  if (!f || !p) return;
  Json after = editor_.source();
  const auto id = add_part(after, editor_.document().car(), *f, *p, answered());
  if (!id) return tell();
  const QString key = QString::fromStdString(*id);
  const QString form = QString::fromLatin1(f->id.data(), static_cast<qsizetype>(f->id.size()));
  const End end = p->end;
  typed_.clear();
  if (!editor_.edit(std::move(after), tr("Add a part"))) return;
  if (key.isEmpty())
    Q_EMIT fitted(form, end);
  else
    Q_EMIT added(key);
}

}  // namespace lowkite::app
