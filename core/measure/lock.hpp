// How far the steering can be turned, at every travel between full droop and full bump, and what ends it: knuckle
// stops, ball joints out of angle, parts that meet, links that no longer close, the servo's own end.
//
// Travel here is that of the ground against where it is at ride height: the tyre stays on it as the wheel is steered,
// and a wheel goes no further than its stops.
//
// The end point to set is the smallest one found over the whole travel: set at ride height only, it stalls the servo
// where bump steer moves the knuckles on (common practice, no source).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/measure/stops.hpp"

namespace lowkite {

enum class LockCause : std::uint8_t { knuckle_stop, joint, clearance, linkage, servo };

/// What ends the lock at some place.
struct LockEnd {
  double servo_rad = 0.0;  ///< from the middle, always positive
  LockCause cause = LockCause::servo;
  std::string what;  ///< the part to blame, in words
  Side wheel = Side::left;
  double travel_mm = 0.0;  ///< of that wheel from ride height, positive = bump
};

/// The servo angle at which one wheel's travel ends the lock, each way.
struct LockSample {
  double travel_mm = 0.0;        ///< from ride height, positive = bump
  PerSide<LockEnd> end;          ///< steering to the left, to the right
  PerSide<double> inside_rad{};  ///< heading of the inside wheel there
};

struct LockFigures {
  std::vector<LockSample> over_travel;  ///< ascending travel
  PerSide<LockEnd> usable;              ///< the smallest over the whole travel, steering to the left, to the right
  PerSide<LockEnd> at_ride_height;      ///< what a racer would set who looks at ride height only
  /// What the transmitter is to be set to, servo from the middle, positive: the usable angle, or less where the setup
  /// wants less lock than there is.
  PerSide<double> end_point_rad{};
  PerSide<double> inside_rad{};       ///< heading of the inside wheel at ride height and the end point
  PerSide<double> most_inside_rad{};  ///< and at the usable angle
  PerSide<double> outside_rad{};      ///< of the outside wheel at ride height and the end point
  PerSide<double> toe_span_rad{};     ///< toe of the inside wheel over the travel at that end point
  double horn_from_square_rad = 0.0;  ///< in the middle
  double trim_rad =
      0.0;  ///< of the servo's shaft in the middle, positive = to the left; it takes as much lock that way
  double tie_rods_differ_mm = 0.0;  ///< left less right
};

/// How much room is left in a pose before something ends the lock; the first thing to be negative ends it.
struct LockMargin {
  double left = 0.0;  ///< rad for angles, mm over `mm_per_rad` for clearances; negative = over
  LockCause cause = LockCause::servo;
  int index = -1;  ///< which joint or clearance of the axle's limits
};
/// Margins in mm count as angles at this radius, so that one search serves both.
constexpr double clearance_mm_per_rad = 30.0;

/// Room left in one corner's pose. `left_lock`: the wheels are steered to the left.
LockMargin margin_of(const CarModel& model, Side side, const CornerPose& pose, const SteeringPose& steering,
                     bool left_lock);

/// A front wheel with its tyre on level ground `travel_mm` nearer to the chassis than at ride height, or on the stop
/// that ends its travel before; none where the linkage does not close. `start`: arm angle of a pose near.
std::optional<CornerPose> wheel_on_ground(const CarModel& model, Side side, const CornerStops& stops, double travel_mm,
                                          const SteerInput& steer, double start);

/// How far the inside wheel heads into the turn at some travel and servo angle (from the middle, positive). None where
/// the linkage does not close. `way`: which way is steered.
std::optional<double> inside_heading(const CarModel& model, const AxlePose& standing, const PerSide<CornerStops>& stops,
                                     Side way, double travel_mm, double servo_rad);
/// The servo angle at which it heads so; none where no angle does.
std::optional<double> servo_for_inside(const CarModel& model, const AxlePose& standing,
                                       const PerSide<CornerStops>& stops, Side way, double travel_mm,
                                       double heading_rad);

/// Travels at which end points are looked for between full droop and full bump, besides ride height.
constexpr int lock_samples = 7;

/// Precondition: the car has a steering linkage. `samples` >= 2 travels between each wheel's stops; ride height is
/// added.
LockFigures find_lock(const CarModel& model, const AxlePose& standing, const PerSide<CornerStops>& stops, int samples);

/// Toe and camber of one front wheel over travel and steering, for a map. Cells where the linkage does not close are
/// empty.
struct LockMap {
  std::vector<double> travel_mm;  ///< from ride height, ascending
  std::vector<double> servo_rad;  ///< positive = to the left, ascending
  struct Cell {
    double camber_rad = 0.0;
    double toe_rad = 0.0;
    bool closes = false;
  };
  std::vector<Cell> cells;  ///< row by row: travel outer, servo inner

  [[nodiscard]] const Cell& at(std::size_t travel, std::size_t servo) const {
    return cells[travel * servo_rad.size() + servo];
  }
};

LockMap map_lock(const CarModel& model, Side side, const CornerPose& standing, const CornerStops& stops,
                 double most_servo_rad, int travels, int servos);

}  // namespace lowkite
