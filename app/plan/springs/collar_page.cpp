#include "app/plan/springs/collar_page.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/plan/springs/fields.h"
#include "app/widgets/form_column.h"
#include "app/widgets/scrolled.h"
#include "app/widgets/tables.h"
#include "app/words/wording.h"
#include "core/load/mass_figures.hpp"

namespace lowkite::app {
namespace {

QString moveName(const CollarMove& move) {
  switch (move.what) {
    case CollarMove::What::left:
      return CollarPage::tr("%1 L").arg(endTitle(move.end));
    case CollarMove::What::right:
      return CollarPage::tr("%1 R").arg(endTitle(move.end));
    case CollarMove::What::middle:
      return CollarPage::tr("%1 mid").arg(endTitle(move.end));
    case CollarMove::What::side_screws:
      return CollarPage::tr("%1 side").arg(endTitle(move.end));
  }
  return {};
}

QString explained(const CollarMove& move) {
  if (move.what == CollarMove::What::middle) return CollarPage::tr("The pod's collar in the middle, down");
  if (move.what == CollarMove::What::side_screws)
    return CollarPage::tr("The pod's side springs: left screw down, right one as much up");
  return move.holder == SpringHolder::spacers ? CollarPage::tr("As much more of spacers on this spring")
                                              : CollarPage::tr("This collar, down");
}

/// Height of the plate's edge at a corner over the ground.
double edgeHeight(const CarModel& model, const Balance& b, End end, Side side) {
  const double y = (side == Side::left ? 1.0 : -1.0) * model.car->plate_half_width_mm[at(end)];
  return b.pose.ground.height({model.car->gauge_x_mm[at(end)], y, 0.0});
}

}  // namespace

CollarPage::CollarPage(SprungCars& cars, QWidget* parent) : QWidget(parent), cars_(cars) {
  setObjectName(QStringLiteral("collar"));
  const auto [column, across] = formColumn(this, 440);
  auto* other = new QWidget(this);
  auto* beside = new QVBoxLayout(other);
  beside->setContentsMargins(0, 0, 6, 0);
  QVBoxLayout* in = column;
  const auto heading = [&](const QString& text) {
    auto* l = new QLabel(text, this);
    l->setFont(textFont(textSize, true));
    in->addWidget(l);
  };
  summary_ = new QLabel(this);
  summary_->setObjectName(QStringLiteral("collar.summary"));
  summary_->setWordWrap(true);
  column->addWidget(summary_);
  auto* top = new QHBoxLayout;
  auto* title = new QLabel(tr("One turn of one collar down"), this);
  title->setFont(textFont(textSize, true));
  pitch_ = numberField(this, QStringLiteral("collar.pitch"), tr("Thread of the collars"), 0.2, 3.0, 1.0, 2, 0.25,
                       tr(" mm a turn"));
  top->addWidget(title, 1);
  top->addWidget(pitch_);
  column->addLayout(top);
  turns_ = new QTableWidget(this);
  turns_->setObjectName(QStringLiteral("collar.turns"));
  dressTable(*turns_, {{tr("Collar")},
                       {tr("FL\ng"), 34, Qt::AlignRight},
                       {tr("FR\ng"), 34, Qt::AlignRight},
                       {tr("RL\ng"), 34, Qt::AlignRight},
                       {tr("RR\ng"), 34, Qt::AlignRight},
                       {tr("FL\nmm"), 42, Qt::AlignRight},
                       {tr("FR\nmm"), 42, Qt::AlignRight},
                       {tr("RL\nmm"), 42, Qt::AlignRight},
                       {tr("RR\nmm"), 42, Qt::AlignRight}});
  turns_->setSelectionMode(QAbstractItemView::NoSelection);
  turns_->setFixedHeight(134);
  column->addWidget(turns_);
  heading(tr("Collars for these heights and this cross weight"));
  front_ = numberField(this, QStringLiteral("collar.front"), tr("Front ride height wanted"), 1, 60, 5, 1, 0.1,
                       tr(" mm front"));
  rear_ =
      numberField(this, QStringLiteral("collar.rear"), tr("Rear ride height wanted"), 1, 60, 5, 1, 0.1, tr(" mm rear"));
  cross_ = numberField(this, QStringLiteral("collar.cross"), tr("Front left and rear right together, of all four"), 40,
                       60, 50, 1, 0.5, tr(" % cross"));
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  for (QDoubleSpinBox* s : {front_, rear_, cross_}) {
    row->addWidget(s);
    connect(s, &QDoubleSpinBox::valueChanged, this, &CollarPage::tellWanted);
  }
  column->addLayout(row);
  wanted_ = new QLabel(this);
  wanted_->setObjectName(QStringLiteral("collar.wanted"));
  wanted_->setWordWrap(true);
  column->addWidget(wanted_);
  across->addWidget(scrolled(other, this), 1);
  in = beside;
  heading(tr("Height of the centre of gravity"));
  in->addWidget(
      quietLabel(tr("Suspension blocked. Read the front scales with the car level, then with the rear wheels raised on "
                    "blocks; or tilt the car "
                    "sideways on a board until it is about to fall, a hand ready to catch it. Battery strapped in."),
                 this));
  level_ = numberField(this, QStringLiteral("collar.level"), tr("Both front scales, car level"), 0, 20000, 0, 0, 10,
                       tr(" g level"));
  raised_ = numberField(this, QStringLiteral("collar.raised"), tr("Both front scales, rear raised"), 0, 20000, 0, 0, 10,
                        tr(" g raised"));
  lift_ = numberField(this, QStringLiteral("collar.lift"), tr("How far the rear wheels were raised"), 0, 300, 100, 0,
                      10, tr(" mm raised"));
  tilt_ = numberField(this, QStringLiteral("collar.tilt"), tr("Angle at which it tips over; 0 = not tried"), 0, 85, 0,
                      1, 1, tr("\u00B0 tipped"));
  auto* grid = new QGridLayout;
  grid->setSpacing(6);
  int i = 0;
  for (QDoubleSpinBox* s : {level_, raised_, lift_, tilt_}) {
    grid->addWidget(s, i / 2, i % 2);
    ++i;
    connect(s, &QDoubleSpinBox::valueChanged, this, &CollarPage::tellHeight);
  }
  in->addLayout(grid);
  height_ = new QLabel(this);
  height_->setObjectName(QStringLiteral("collar.height"));
  height_->setWordWrap(true);
  take_ = new QPushButton(tr("Put it into the car"), this);
  take_->setObjectName(QStringLiteral("collar.take"));
  take_->setMinimumHeight(targetHeight);
  take_->setEnabled(false);
  auto* foot = new QHBoxLayout;
  foot->addWidget(height_, 1);
  foot->addWidget(take_);
  in->addLayout(foot);
  in->addStretch(1);
  column->addStretch(1);
  connect(take_, &QPushButton::clicked, this, [this] {
    if (found_mm_) Q_EMIT cgHeightFound(*found_mm_);
  });
  connect(pitch_, &QDoubleSpinBox::valueChanged, this, &CollarPage::refresh);
  connect(&cars_, &SprungCars::changed, this, &CollarPage::refresh);
  connect(&cars_.model().document(), &Document::replaced, this, [this] { filled_ = false; });
}

void CollarPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void CollarPage::refresh() {
  if (!isVisible()) return;
  const SprungCar& sprung = cars_.now();
  turns_->setRowCount(0);
  wanted_->clear();
  summary_->setText(sprung.wrong);
  if (!sprung.car) return;
  const LoadedCar& car = *sprung.car;
  const CarModel& model = sprung.variant->model;
  const auto rest = car.balance(car.level_collars(), {});
  if (!rest) {
    summary_->setText(QString::fromStdString(rest.error().message));
    return;
  }
  const auto standing = pose_car(model, static_attitude(model));
  QStringList facts;
  facts << tr("%1 g, %2 % front, %3 % left")
               .arg(number(1000.0 * model.mass.kg, 0), number(100.0 * rest->axle_n(End::front) / rest->total_n(), 1),
                    number(100.0 * rest->left(), 1));
  facts << tr("centre of gravity %1 mm high, %2 mm behind the front axle")
               .arg(number(rest->pose.ground.height(*model.mass.cg), 1), number(-model.mass.cg->x(), 0));
  if (const auto inertia = standing ? inertia_of(model, *standing) : std::nullopt)
    facts << tr("inertia about %1 roll, %2 pitch, %3 yaw, kg mm\u00B2 (estimated)")
                 .arg(number(inertia->roll_kg_mm2, 0), number(inertia->pitch_kg_mm2, 0),
                      number(inertia->yaw_kg_mm2, 0));
  QString left_alone;
  if (const SprungCar& before = cars_.before(); before.car && cars_.differ())
    if (const auto b = car.balance(before.car->level_collars(), {}))
      left_alone =
          tr(" <b>With the baseline's collars left alone</b>: cross weight %1 %, front %2 mm, rear %3 mm, roll %4 deg.")
              .arg(number(100.0 * b->cross(), 1), number(b->attitude.ride_height_mm[0], 1),
                   number(b->attitude.ride_height_mm[1], 1), number(degrees(b->attitude.roll_rad), 2));
  summary_->setText(facts.join(tr("; ")) + QLatin1Char('.') + left_alone);
  const Tokens& t = tokens(palette());
  for (const CollarMove& move : collar_moves(*model.car)) {
    Collars turned = car.level_collars();
    for (const Side side : both_sides) turned[at(move.end)][at(side)] += pitch_->value() * move.per_mm[at(side)];
    const auto b = car.balance(turned, {}, 0.0, &*rest);
    QStringList cells{moveName(move)};
    for (const End e : both_ends)
      for (const Side s : both_sides)
        cells << (b ? signedNumber(grams(b->wheel[at(e)][at(s)].load_n - rest->wheel[at(e)][at(s)].load_n), 0)
                    : tr("?"));
    for (const End e : both_ends)
      for (const Side s : both_sides)
        cells << (b ? signedNumber(edgeHeight(model, *b, e, s) - edgeHeight(model, *rest, e, s), 2) : tr("?"));
    const int row = turns_->rowCount();
    turns_->insertRow(row);
    putRow(*turns_, row, cells, t, false);
    turns_->item(row, 0)->setToolTip(explained(move));
    for (int i = 1; i < cells.size(); ++i) turns_->item(row, i)->setForeground(t.ink);
  }
  if (!filled_) {
    filled_ = true;
    const QSignalBlocker f(front_), r(rear_), l(level_);
    front_->setValue(model.ride_height_mm[0]);
    rear_->setValue(model.ride_height_mm[1]);
    level_->setValue(grams(rest->axle_n(End::front)));
  }
  tellWanted();
  tellHeight();
}

void CollarPage::tellWanted() {
  const SprungCar& sprung = cars_.now();
  if (!sprung.car) return;
  const auto wanted = sprung.car->collars_for({front_->value(), rear_->value()}, cross_->value() / 100.0);
  if (!wanted) {
    wanted_->setText(tr("That cannot be: %1.").arg(QString::fromStdString(wanted.error().message)));
    return;
  }
  QStringList moves;
  const Collars& level = sprung.car->level_collars();
  const CarModel& model = sprung.variant->model;
  for (const CollarMove& move : collar_moves(*model.car)) {
    // Collars are told against where they are for the setup's heights, spacers against what is in.
    PerSide<double> change{};
    for (const Side side : both_sides)
      change[at(side)] =
          (*wanted)[at(move.end)][at(side)] - (move.holder == SpringHolder::spacers
                                                   ? model.corner(move.end, side).geometry.size_of(Size::spring_spacer)
                                                   : level[at(move.end)][at(side)]);
    const double by = move.part_of(change);
    // A pod's side springs are stiff: a hundredth of a millimetre is told.
    if (std::abs(by) < (move.what == CollarMove::What::side_screws ? 0.01 : 0.05)) continue;
    const QString words = collarMoveWords(move, by);
    moves << (move.holder == SpringHolder::spacers
                  ? words
                  : tr("%1 (%2 turns)").arg(words, number(std::abs(by) / pitch_->value(), 2)));
  }
  QString told = moves.join(tr("; ")) + QLatin1Char('.');
  told[0] = told[0].toUpper();
  wanted_->setText(moves.isEmpty() ? tr("The collars as the setup has them: level, 50 % cross weight.") : told);
}

void CollarPage::tellHeight() {
  const SprungCar& sprung = cars_.now();
  found_mm_.reset();
  take_->setEnabled(false);
  if (!sprung.variant) return;
  const CarModel& model = sprung.variant->model;
  const CarFigures& f = sprung.variant->source.standing;
  const auto pose = pose_car(model, static_attitude(model));
  if (!pose) return;
  const Ground& g = pose->ground;
  QStringList texts;
  std::optional<double> over_ground;
  const double axle = g.height(pose->axle[0].corner[0].wheel_centre);
  if (const auto h = cg_height_from_raised_end(1000.0 * model.mass.kg, level_->value(), raised_->value(),
                                               f.wheelbase_mm[0], lift_->value(), axle)) {
    texts << tr("by the scales %1 mm over the ground").arg(number(*h, 1));
    over_ground = h;
  }
  if (const auto h = cg_height_from_tilt(
          0.25 * (f.axle[0].track_mm + f.axle[1].track_mm) + 0.5 * model.corner(End::front, Side::left).tyre.width_mm,
          tilt_->value())) {
    texts << tr("by the tilt %1 mm over the ground").arg(number(*h, 1));
    over_ground = over_ground ? 0.5 * (*over_ground + *h) : *h;
  }
  if (!over_ground) {
    height_->setText(tr("Put in what you read; the raised reading is the larger one."));
    return;
  }
  found_mm_ = *over_ground - 0.5 * (model.ride_height_mm[0] + model.ride_height_mm[1]);
  const double assumed = model.mass.cg ? model.mass.cg->z() : 0.0;
  height_->setText(tr("%1; %2 mm over the plate's underside, where the car file has %3 mm.")
                       .arg(texts.join(tr(", ")), number(*found_mm_, 1), number(assumed, 1)));
  take_->setEnabled(*found_mm_ > 1.0 && *found_mm_ < 200.0 && !cars_.model().document().carIsShipped());
  take_->setToolTip(cars_.model().document().carIsShipped()
                        ? tr("A car that comes with the program stays as it is: make it your own under Car.")
                        : QString());
}

}  // namespace lowkite::app
