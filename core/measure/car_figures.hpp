// All figures of a car in one attitude, and what they do over travel.
#pragma once

#include <vector>

#include "core/measure/roll_centre.hpp"

namespace lowkite {

struct AxleFigures {
  PerSide<WheelFigures> wheel;
  RollCentre roll_centre;
  double track_mm = 0.0;  ///< between the tyres' lowest points, along the ground
};

struct CarFigures {
  Attitude attitude;
  PerEnd<AxleFigures> axle;
  PerSide<double> wheelbase_mm{};  ///< between the wheel centres, along the ground
};

CarFigures read_car(const CarModel& model, const CarPose& pose, const Attitude& attitude);

/// Poses and reads in one go.
tl::expected<CarFigures, CornerFailure> figures_at(const CarModel& model, const Attitude& attitude);

AxleFigures read_axle(const CarModel& model, End end, const AxlePose& pose, const Ground& ground);

/// One sample of an axle's curves: both wheels lifted by the same amount against the given attitude.
struct CurvePoint {
  double bump_mm = 0.0;  ///< chassis lowered by this much; negative = droop
  PerSide<double> camber_rad{};
  PerSide<double> toe_rad{};
  PerSide<double> half_track_mm{};       ///< contact point from the centre plane
  std::optional<double> roll_centre_mm;  ///< height over the ground, whole linkage moving
};

/// An axle over its travel. Where the linkage does not close, the curve ends; `stopped_by` then says why.
struct AxleCurve {
  std::vector<CurvePoint> points;
  std::string stopped_by;

  /// Greatest less least toe of one wheel over the curve: the total bump steer.
  [[nodiscard]] double toe_span_rad(Side side) const;
};

/// `samples` points from full droop to full bump of the axle around `attitude`. Precondition: samples >= 2.
AxleCurve sweep_axle(const CarModel& model, End end, const Attitude& attitude, int samples);

}  // namespace lowkite
