#include "app/plan/reset_strip.h"

#include <cmath>

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/settings/club_rules.h"
#include "app/widgets/two_lines.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

constexpr int stripHeight = 66;
constexpr double leastRide_mm = 0.05;  ///< what a ride-height gauge can tell

}  // namespace

ResetStrip::ResetStrip(PlanModel& model, ClubRules& club, QWidget* parent)
    : QFrame(parent), model_(model), club_(club) {
  setProperty("panel", true);
  setObjectName(QStringLiteral("reset"));
  setFixedHeight(stripHeight);  // whatever the words, nothing else in the window moves
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 6, 10, 6);
  row->setSpacing(16);
  auto* holds = new QVBoxLayout;
  holds->setSpacing(0);
  auto* heading = new QLabel(tr("PUT BACK AFTER THE CHANGE"), this);
  heading->setProperty("role", QStringLiteral("heading"));
  auto* boxes = new QHBoxLayout;
  const auto box = [&](const QString& name, const QString& text) {
    auto* b = new QCheckBox(text, this);
    b->setObjectName(name);
    b->setChecked(true);
    boxes->addWidget(b);
    return b;
  };
  camber_ = box(QStringLiteral("hold.camber"), tr("camber"));
  toe_ = box(QStringLiteral("hold.toe"), tr("toe"));
  droop_ = box(QStringLiteral("hold.droop"), tr("droop"));
  for (QCheckBox* b : {camber_, toe_, droop_})
    connect(b, &QCheckBox::toggled, this, [this] {
      model_.setHolds(camber_->isChecked(), toe_->isChecked());
      model_.setHoldsDroop(droop_->isChecked());
    });
  // The rest of what a change may move: less often let go.
  auto* more = new QToolButton(this);
  more->setObjectName(QStringLiteral("hold.more"));
  more->setText(tr("more"));
  more->setToolTip(tr("Ride height by the collars, caster by the links, end points"));
  more->setPopupMode(QToolButton::InstantPopup);
  auto* menu = new QMenu(more);
  menu->setObjectName(QStringLiteral("hold.menu"));
  const auto entry = [&](const QString& name, const QString& text, auto set) {
    QAction* a = menu->addAction(text);
    a->setObjectName(name);
    a->setCheckable(true);
    a->setChecked(true);
    connect(a, &QAction::toggled, this, set);
  };
  entry(QStringLiteral("hold.ride"), tr("ride height, by the collars"),
        [this](bool on) { model_.setHoldsRideHeight(on); });
  entry(QStringLiteral("hold.caster"), tr("caster, by two upper links where there are"),
        [this](bool on) { model_.setHoldsCaster(on); });
  entry(QStringLiteral("hold.endPoints"), tr("end points, at the transmitter"),
        [this](bool on) { model_.setHoldsEndPoints(on); });
  more->setMenu(menu);
  boxes->addWidget(more);
  holds->addWidget(heading);
  holds->addLayout(boxes);
  row->addLayout(holds);
  words_ = new TwoLines(this);
  words_->first().setObjectName(QStringLiteral("reset.work"));
  words_->first().setFont(textFont(15, true));
  words_->first().setTextInteractionFlags(Qt::TextSelectableByMouse);
  words_->second().setObjectName(QStringLiteral("reset.rest"));
  row->addWidget(words_, 1);
  apply_ = new QPushButton(tr("Done on the bench"), this);
  apply_->setObjectName(QStringLiteral("reset.apply"));
  apply_->setProperty("primary", true);
  apply_->setToolTip(tr("Takes these turns over into the setup (Ctrl+Return)"));
  apply_->setMinimumHeight(44);
  connect(apply_, &QPushButton::clicked, &model_, &PlanModel::applyReset);
  row->addWidget(apply_);
  connect(&model_, &PlanModel::comparisonChanged, this, &ResetStrip::refresh);
  connect(&club_, &ClubRules::changed, this, &ResetStrip::refresh);
}

/// How an end stands whose springs are held by spacers, and what that leaves of its droop.
QString ResetStrip::spacerSentence(const Comparison& c, End end, double lower) {
  const FigureSpec& droop = *find_figure("droop");
  const auto was = droop.read(c.baseline->source, end, Side::left);
  const auto is = droop.read(c.reset->source, end, Side::left);
  const QString stands = lower > 0 ? tr("%1 stands %2 mm lower on its springs").arg(endTitle(end), number(lower, 2))
                                   : tr("%1 stands %2 mm higher on its springs").arg(endTitle(end), number(-lower, 2));
  return was && is ? tr("%1, droop %2 mm").arg(stands, number(*is, 2)) : stands;
}

void ResetStrip::refresh() {
  const Comparison* c = model_.comparison();
  const bool valid = c && model_.failure().isEmpty();
  apply_->setEnabled(valid && c->reset->setup != c->changed->setup);
  const QSignalBlocker quietCamber(camber_);
  const QSignalBlocker quietToe(toe_);
  camber_->setChecked(model_.holds().hold_camber);
  toe_->setChecked(model_.holds().hold_toe);
  const QSignalBlocker quietDroop(droop_);
  droop_->setChecked(model_.holds().hold_droop);
  if (!valid) {
    words_->tell(model_.failure(), tr("Step the last part back, or undo."));
    return;
  }
  const Car& car = *c->changed->model.car;
  const QStringList sentences = resetSentences(car, c->work) + droopSentences(car, *c->bench);
  const bool anyHold = model_.holds().hold_camber || model_.holds().hold_toe || model_.holds().hold_droop;
  const QString work = !sentences.isEmpty() ? sentences.join(QStringLiteral(".  ")) + QLatin1Char('.')
                       : c->baseline->setup == c->changed->setup
                           ? tr("Nothing is changed. Step a part, and the work that follows stands here.")
                       : anyHold ? tr("No turnbuckle or droop screw needs turning.")
                                 : tr("Nothing is held, so nothing is put back.");

  QStringList rest;
  for (const End end : both_ends)
    if (const QString left = leftOverSentence(*c, end); anyHold && !left.isEmpty() && !sentences.isEmpty())
      rest << left;
  for (const End end : both_ends) {
    // The collars where the springs are described; else what the car does without them.
    const bool held = model_.holds().hold_ride_height;
    if (const QString collars = collarSentence(model_.document().car(), *c->bench, end); held && !collars.isEmpty()) {
      rest << collars;
      continue;
    }
    const auto& lower = c->sits_lower_mm[at(end)];
    if (!lower || std::abs(*lower) < leastRide_mm) continue;
    const QString by = number(std::abs(*lower), 1);
    if (spring_holder(model_.document().car(), end) == SpringHolder::spacers)
      rest << spacerSentence(*c, end, *lower);
    else if (!held)
      rest << (*lower > 0 ? tr("%1 sits %2 mm lower, collars left alone").arg(endTitle(end), by)
                          : tr("%1 sits %2 mm higher, collars left alone").arg(endTitle(end), by));
    else
      rest << (*lower > 0 ? tr("%1 sits about %2 mm lower until the collars are turned").arg(endTitle(end), by)
                          : tr("%1 sits about %2 mm higher until the collars are turned").arg(endTitle(end), by));
  }
  for (const End end : both_ends)
    if (const QString lost = lostDroopSentence(*c, end); model_.holds().hold_droop && !lost.isEmpty()) rest << lost;
  if (const QString points = endPointSentence(*c->bench); model_.holds().hold_end_points && !points.isEmpty())
    rest << points;
  for (const ResetGap& gap : c->work.gaps)
    if (gap.end == model_.end() && gap.what == LinkHolds::toe && !sentences.isEmpty())
      rest << tr("%1 toe sits in the pins: no turnbuckle holds it").arg(endTitle(gap.end));
  QString second = rest.isEmpty() ? QString() : rest.join(QStringLiteral("; ")) + QLatin1Char('.');
  if (!second.isEmpty()) second[0] = second[0].toUpper();
  if (const QString against = club_.warning(c->reset->model); !against.isEmpty())
    second = QStringLiteral("<span style='color:%1'>! %2</span> %3")
                 .arg(tokens(palette()).warn.name(), against.toHtmlEscaped(), second.toHtmlEscaped());
  words_->tell(work, second);
  words_->setToolTip(resetSentences(car, c->work, true).join(QLatin1Char('\n')));
}

}  // namespace lowkite::app
