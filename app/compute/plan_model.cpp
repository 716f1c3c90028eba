#include "app/compute/plan_model.h"

#include <algorithm>

#include "core/car/part_group.hpp"
#include "core/load/spring_place.hpp"
#include "core/plan/bench_reset.hpp"

namespace lowkite::app {

PlanModel::PlanModel(Document& document, QObject* parent) : QObject(parent), document_(document) {
  timer_.setSingleShot(true);
  timer_.setInterval(0);
  connect(&timer_, &QTimer::timeout, this, &PlanModel::compute);
  connect(&document_, &Document::inputsChanged, this, &PlanModel::markDirty);
  connect(&document_, &Document::carEdited, this, [this] {
    // What was compared belongs to another car: its numbers of parts mean nothing here.
    comparison_.reset();
    instead_.reset();
    part_ = {};
    Q_EMIT compared();
    Q_EMIT comparisonChanged();
    Q_EMIT selectionChanged();
  });
  connect(&document_, &Document::replaced, this, [this] {
    comparison_.reset();
    instead_.reset();
    attitude_ = {};
    part_ = {};
    Q_EMIT selectionChanged();
  });
}

void PlanModel::markDirty() {
  dirty_ = true;
  if (awake_ && !timer_.isActive()) timer_.start();
}

void PlanModel::setAwake(bool awake) {
  awake_ = awake;
  if (!awake_)
    timer_.stop();
  else if (dirty_)
    markDirty();
}

void PlanModel::flush() {
  if (!dirty_) return;
  timer_.stop();
  compute();
}

void PlanModel::compute() {
  dirty_ = false;
  if (!document_.hasCar()) return;
  // A pair that was asked for with another car open dies with it.
  if (instead_ && !(fits(instead_->baseline, document_.car()) && fits(instead_->changed, document_.car())))
    instead_.reset();
  const Setup& baseline = instead_ ? instead_->baseline : document_.baseline();
  const Setup& changed = instead_ ? instead_->changed : document_.setup();
  auto result = compare(document_.car(), baseline, changed, attitude_, holds_, curveSamples,
                        comparedCar_ == document_.sharedCar() ? comparison_.get() : nullptr);
  if (result) {
    comparedCar_ = document_.sharedCar();
    comparison_ = std::make_unique<const Comparison>(std::move(*result));
    failure_.clear();
    failedAt_.reset();
  } else {
    failedAt_ = result.error().why.end;
    const QString reason = QString::fromStdString(result.error().why.message);
    switch (result.error().which) {
      case ComparisonFailure::Which::baseline:
        failure_ = tr("The baseline cannot stand like this. %1").arg(reason);
        break;
      case ComparisonFailure::Which::changed:
        failure_ = tr("The car cannot stand like this. %1").arg(reason);
        break;
      case ComparisonFailure::Which::reset:
        failure_ = tr("The alignment cannot be put back. %1").arg(reason);
        break;
    }
  }
  Q_EMIT compared();
  Q_EMIT comparisonChanged();
}

void PlanModel::compareInstead(const std::optional<Pair>& pair) {
  instead_ = pair;
  markDirty();
}

void PlanModel::setEnd(End end) {
  if (end == end_) return;
  end_ = end;
  part_ = {};
  Q_EMIT selectionChanged();
}

void PlanModel::setSides(Sides sides) {
  if (sides == sides_) return;
  sides_ = sides;
  Q_EMIT selectionChanged();
}

void PlanModel::setPart(PartHandle adjuster) {
  if (adjuster == part_) return;
  part_ = adjuster;
  Q_EMIT selectionChanged();
}

void PlanModel::setAttitude(const ViewAttitude& attitude) {
  if (attitude == attitude_) return;
  attitude_ = attitude;
  markDirty();
}

PlanModel::Reach PlanModel::reach() const {
  Reach r;
  if (!document_.hasCar()) return r;
  const Car& car = document_.car();
  r.droop_mm = car.axle(end_).travel.droop_mm;
  r.bump_mm = car.axle(end_).travel.bump_mm;
  if (car.steering.spec)
    r.servo_rad = car.steering.servo_most_rad;
  else if (car.axle(End::front).mechanism->steered)
    r.rack_mm = 8.0;
  return r;
}

void PlanModel::nudge(const ViewAttitude& by) {
  const Reach most = reach();
  ViewAttitude a = attitude_;
  a.bump_mm = std::clamp(a.bump_mm + by.bump_mm, -most.droop_mm, most.bump_mm);
  a.roll_rad = std::clamp(a.roll_rad + by.roll_rad, -most.roll_rad, most.roll_rad);
  a.pitch_rad = std::clamp(a.pitch_rad + by.pitch_rad, -most.pitch_rad, most.pitch_rad);
  a.servo_rad = std::clamp(a.servo_rad + by.servo_rad, -most.servo_rad, most.servo_rad);
  a.rack_mm = std::clamp(a.rack_mm + by.rack_mm, -most.rack_mm, most.rack_mm);
  setAttitude(a);
}

void PlanModel::setHolds(bool camber, bool toe) {
  if (holds_.hold_camber == camber && holds_.hold_toe == toe) return;
  holds_.hold_camber = camber;
  holds_.hold_toe = toe;
  markDirty();
}

void PlanModel::setHoldsCaster(bool caster) {
  if (holds_.hold_caster == caster) return;
  holds_.hold_caster = caster;
  markDirty();
}

void PlanModel::setHoldsRideHeight(bool height) {
  if (holds_.hold_ride_height == height) return;
  holds_.hold_ride_height = height;
  markDirty();
}

void PlanModel::setHoldsEndPoints(bool points) {
  if (holds_.hold_end_points == points) return;
  holds_.hold_end_points = points;
  markDirty();
}

void PlanModel::setHoldsDroop(bool droop) {
  if (holds_.hold_droop == droop) return;
  holds_.hold_droop = droop;
  markDirty();
}

void PlanModel::setConstructionStep(int step) {
  if (step == constructionStep_) return;
  constructionStep_ = step;
  Q_EMIT constructionChanged();
}

void PlanModel::setForces(const std::optional<PerEnd<PerSide<GroundForce>>>& forces) {
  if (!forces && !forces_) return;
  forces_ = forces;
  forcesFor_ = attitude_;
  Q_EMIT forcesChanged();
}

void PlanModel::setExtraDecimals(int extra) {
  if (extra == extraDecimals_) return;
  extraDecimals_ = extra;
  Q_EMIT precisionChanged();
}

tl::expected<void, QString> PlanModel::typeAngle(WheelAngle angle, double deg) {
  const auto turned = turned_to_angle(document_.car(), document_.setup(), end_, onShow(), angle, deg);
  if (!turned) return tl::unexpected(QString::fromStdString(turned.error().message));
  document_.putSetup(*turned, angle == WheelAngle::camber ? tr("Camber as typed")
                              : angle == WheelAngle::toe  ? tr("Toe as typed")
                                                          : tr("Caster as typed"));
  return {};
}

tl::expected<void, QString> PlanModel::putDroop(const tl::expected<Setup, CarFailure>& set) {
  if (!set) return tl::unexpected(QString::fromStdString(set.error().message));
  document_.putSetup(*set, tr("Droop as typed"));
  return {};
}

tl::expected<void, QString> PlanModel::typeDroop(double mm) {
  return putDroop(set_to_droop(document_.car(), document_.setup(), end_, onShow(), mm));
}

tl::expected<void, QString> PlanModel::typeHanging(double mm) {
  return putDroop(set_to_hang(document_.car(), document_.setup(), end_, onShow(), mm));
}

tl::expected<void, QString> PlanModel::typeLength(PartHandle turnbuckle, double mm) {
  const auto turned =
      turned_to_length(document_.car(), document_.baseline(), document_.setup(), onShow(), turnbuckle, mm);
  if (!turned) return tl::unexpected(QString::fromStdString(turned.error().message));
  document_.putSetup(*turned, tr("Link length as typed"));
  return {};
}

void PlanModel::typeLock(const std::optional<double>& deg) {
  Setup wish = document_.setup();
  wish.wanted_lock_deg = deg;
  if (wish != document_.setup()) document_.putSetup(wish, tr("Full lock as typed"));
}

bool PlanModel::stepPart(int steps) {
  return part_ && document_.step(part_, sides_, steps);
}

void PlanModel::walkParts(int by) {
  if (!document_.hasCar()) return;
  const std::vector<PartHandle> order = parts_by_group(document_.car(), end_);
  if (order.empty()) return;
  const auto here = std::find(order.begin(), order.end(), part_);
  const auto count = static_cast<std::ptrdiff_t>(order.size());
  const std::ptrdiff_t next = here == order.end() ? (by > 0 ? 0 : count - 1)
                                                  : std::clamp<std::ptrdiff_t>(here - order.begin() + by, 0, count - 1);
  setPart(order[at(next)]);
}

std::optional<Setup> PlanModel::asReset() const {
  if (!comparison_ || !failure_.isEmpty()) return std::nullopt;
  Setup setup = comparison_->reset->setup;
  // Collars that are left alone: where the car comes to stand is told, not taken for a height that was set.
  for (const End end : both_ends)
    if (spring_holder(document_.car(), end) != SpringHolder::spacers)
      setup.ride_height_mm[at(end)] = comparison_->changed->setup.ride_height_mm[at(end)];
  return setup;
}

void PlanModel::applyReset() {
  flush();
  if (const auto setup = asReset()) document_.putSetup(*setup, tr("Re-set"));
}

bool PlanModel::partChanged(PartHandle adjuster) const {
  const Setup& baseline = instead_ ? instead_->baseline : document_.baseline();
  const Setup& changed = instead_ ? instead_->changed : document_.setup();
  const auto has = [&](const Setup& s) { return adjuster && adjuster.place() < s.values.size(); };
  return has(changed) && has(baseline) && changed.of(adjuster) != baseline.of(adjuster);
}

}  // namespace lowkite::app
