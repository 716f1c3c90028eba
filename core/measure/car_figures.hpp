// All figures of a car in one attitude, and what they do over travel.
#pragma once

#include <vector>

#include "core/measure/corner_parts.hpp"
#include "core/measure/roll_centre.hpp"
#include "core/measure/steering_figures.hpp"

namespace lowkite {

/// One wheel's linkage from the side. With v the velocity of the wheel centre (torque held on the chassis through drive
/// shafts) or of the locked wheel's material point at the ground (torque held on the hub), along the ground and up:
///   front, anti = share . v_x / v_z . wheelbase / cg height;   rear, the same with -v_x
/// in braking (share of the braking force) and under power (share of the driving force). 100 % = the load that moves
/// between the axles passes through the links alone (Milliken ch. 17 and Gillespie ch. 7, from memory).
struct SideViewFigures {
  std::optional<FrontPoint>
      swing_centre;  ///< `across`: ahead of the wheel centre, `height`: over the ground; none: at infinity
  std::optional<double>
      anti_braking_percent;                  ///< front: anti-dive, rear: anti-lift; none without a cg height and share
  std::optional<double> anti_power_percent;  ///< front: anti-lift, rear: anti-squat
};

struct AxleFigures {
  PerSide<WheelFigures> wheel;
  PerSide<CornerParts> parts;
  PerSide<SideViewFigures> side_view;
  RollCentre roll_centre;
  double track_mm = 0.0;  ///< between the tyres' lowest points, along the ground
};

struct CarFigures {
  Attitude attitude;
  PerEnd<AxleFigures> axle;
  PerSide<double> wheelbase_mm{};           ///< between the wheel centres, along the ground
  std::optional<SteeringFigures> steering;  ///< of a steered front axle
};

CarFigures read_car(const CarModel& model, const CarPose& pose, const Attitude& attitude);

/// Poses and reads in one go.
tl::expected<CarFigures, CarFailure> figures_at(const CarModel& model, const Attitude& attitude);

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
  int samples = 0;  ///< as asked for; points are fewer where the linkage does not close
};

/// `samples` points from full droop to full bump of the axle around `attitude`. Precondition: samples >= 2.
AxleCurve sweep_axle(const CarModel& model, End end, const Attitude& attitude, int samples);

}  // namespace lowkite
