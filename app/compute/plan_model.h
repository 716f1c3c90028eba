// What the Plan workspace shows: which axle, which part is in hand, how the chassis is held - and the comparison that
// follows from the document. Nothing of this is saved or undone.
//
// Edits mark the comparison dirty; it is computed once when the event loop comes round, however many edits there were.
#pragma once

#include <memory>
#include <optional>

#include <QObject>
#include <QTimer>

#include "app/document/document.h"
#include "core/plan/comparison.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite::app {

/// What the ground pushes with on one tyre, N: up, to the left, forward.
using GroundForce = Vec3;

class PlanModel : public QObject {
  Q_OBJECT
 public:
  static constexpr int curveSamples = 25;

  explicit PlanModel(Document& document, QObject* parent = nullptr);

  [[nodiscard]] Document& document() { return document_; }
  [[nodiscard]] const Document& document() const { return document_; }

  [[nodiscard]] End end() const { return end_; }
  [[nodiscard]] Sides sides() const { return sides_; }
  /// The side that is read where only one can be shown.
  [[nodiscard]] Side shownSide() const { return sides_ == Sides::right ? Side::right : Side::left; }
  [[nodiscard]] PartHandle part() const { return part_; }  ///< in hand, if one is
  [[nodiscard]] const ViewAttitude& attitude() const { return attitude_; }
  [[nodiscard]] const ResetOptions& holds() const { return holds_; }
  void setHoldsDroop(bool droop);
  void setHoldsCaster(bool caster);
  void setHoldsRideHeight(bool height);
  void setHoldsEndPoints(bool points);
  [[nodiscard]] int constructionStep() const { return constructionStep_; }  ///< -1: hidden, 0: all, 1...: that one lit
  [[nodiscard]] int extraDecimals() const { return extraDecimals_; }

  void setEnd(End end);
  void setSides(Sides sides);
  void setPart(PartHandle adjuster);
  void setAttitude(const ViewAttitude& attitude);
  /// Forces that go with the attitude as it is held; none once it is held otherwise.
  [[nodiscard]] const PerEnd<PerSide<GroundForce>>* forces() const {
    return forces_ && forcesFor_ == attitude_ ? &*forces_ : nullptr;
  }
  void setForces(const std::optional<PerEnd<PerSide<GroundForce>>>& forces);
  /// Moves the chassis and the steering on by this much, as far as they go.
  void nudge(const ViewAttitude& by);
  /// How far bump, roll, pitch and steering go either way. Bump: between `bump_mm` of `low` and `high`.
  struct Reach {
    double droop_mm = 5.0, bump_mm = 5.0;
    double roll_rad = radians(4.0), pitch_rad = radians(3.0);
    double servo_rad = 0.0, rack_mm = 0.0;  ///< one of them is 0: what the car has not
  };
  [[nodiscard]] Reach reach() const;
  void setHolds(bool camber, bool toe);
  void setConstructionStep(int step);
  void setExtraDecimals(int extra);

  /// Steps the part in hand; true when it moved.
  bool stepPart(int steps);
  /// An angle of the wheels on show as typed, deg (toe positive in): the links that set it are turned. A sentence when
  /// they cannot.
  tl::expected<void, QString> typeAngle(WheelAngle angle, double deg);
  /// Droop at the wheel from ride height as typed, mm, or the tyre's lowest point under the plate with the wheel
  /// hanging: by screw or spacers, on the wheels on show.
  tl::expected<void, QString> typeDroop(double mm);
  tl::expected<void, QString> typeHanging(double mm);
  /// A link's length between ball centres as typed, mm, on the wheels on show.
  tl::expected<void, QString> typeLength(PartHandle turnbuckle, double mm);
  /// Full lock of the inside wheel as typed, deg; none: all that there is.
  void typeLock(const std::optional<double>& deg);
  /// Takes the next or previous part of this axle in hand.
  void walkParts(int by);
  /// The setup with everything put back, as it would be taken over; none: nothing is compared, or it cannot be.
  [[nodiscard]] std::optional<Setup> asReset() const;
  void applyReset();

  /// The latest comparison that could be computed, or nullptr. While `failure` is not empty it is not of the present
  /// setup.
  [[nodiscard]] const Comparison* comparison() const { return comparison_.get(); }
  [[nodiscard]] const QString& failure() const { return failure_; }
  /// The axle that it is at, as far as that is known.
  [[nodiscard]] std::optional<End> failedAt() const { return failedAt_; }
  /// Compares these two from now on in place of the document's baseline and setup; none: the document's again.
  struct Pair {
    Setup baseline, changed;
  };
  void compareInstead(const std::optional<Pair>& pair);
  /// True when the value of an adjuster differs from the baseline's.
  [[nodiscard]] bool partChanged(PartHandle adjuster) const;

  /// Asleep, edits are only noted: what nobody sees is computed when it is looked at. Awake at first.
  void setAwake(bool awake);
  /// Computes now if anything is pending.
  void flush();

 Q_SIGNALS:
  void compared();  ///< just before `comparisonChanged`: for what works in the background while the window repaints
  void comparisonChanged();
  void selectionChanged();  ///< end, sides or part
  void constructionChanged();
  void forcesChanged();
  void precisionChanged();

 private:
  [[nodiscard]] PerSide<bool> onShow() const { return {sides_ != Sides::right, sides_ != Sides::left}; }
  tl::expected<void, QString> putDroop(const tl::expected<Setup, CarFailure>& set);
  void markDirty();
  void compute();

  Document& document_;
  End end_ = End::front;
  Sides sides_ = Sides::both;
  PartHandle part_;
  ViewAttitude attitude_;
  std::optional<PerEnd<PerSide<GroundForce>>> forces_;
  ViewAttitude forcesFor_;
  ResetOptions holds_;
  std::optional<Pair> instead_;
  int constructionStep_ = -1;
  int extraDecimals_ = 0;
  std::unique_ptr<const Comparison> comparison_;
  std::shared_ptr<const Car> comparedCar_;  ///< kept alive: the comparison points into it
  QString failure_;
  std::optional<End> failedAt_;
  QTimer timer_;
  bool awake_ = true;
  bool dirty_ = false;
};

}  // namespace lowkite::app
