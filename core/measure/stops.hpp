// What ends a wheel's travel: the droop screw, the shock, the plate on the ground - and which of them comes first.
#pragma once

#include <optional>
#include <vector>

#include "core/pose/pose.hpp"

namespace lowkite {

enum class StopKind : std::uint8_t {
  droop_screw,
  shock_extended,
  slide_low,    ///< the stub axle at the lower end of its kingpin
  range_droop,  ///< nothing described stops it: the car file's own range
  shock_compressed,
  plate_on_ground,
  slide_high,
  range_bump,
  linkage  ///< the linkage closes no further
};
std::string_view name_of(StopKind kind);

/// One thing that would stop the wheel, and where.
struct Stop {
  StopKind kind = StopKind::range_droop;
  double travel_mm = 0.0;            ///< wheel centre against the design position
  double from_ride_height_mm = 0.0;  ///< positive in both directions; negative = already past it as the car stands
  double arm_angle = 0.0;
};

/// Everything that was found for one wheel, steering in the middle. `droop` and `bump` are the ones that act first.
struct CornerStops {
  std::vector<Stop> all;
  Stop droop;
  Stop bump;
  double ride_travel_mm = 0.0;  ///< of the wheel as the car stands
  double hanging_wheel_low_mm =
      0.0;  ///< the tyre's lowest point under the plate's underside, wheel hanging, positive down
  std::optional<double> hanging_arm_gauge_mm;  ///< height of the arm's gauge point over the plate's underside
  std::optional<double> hanging_shock_mm;      ///< the shock's length with the wheel hanging

  /// The stop of a kind, or nullptr when the car has none.
  [[nodiscard]] const Stop* find(StopKind kind) const;
};

/// The parts with which a hand moves this stop: the droop screws, or the spacers inside the shocks. Empty: none.
std::vector<PartHandle> parts_of_stop(const Car& car, End end, StopKind stop);
/// True for a part that may be what ends a wheel's droop, whether it does so now or not.
bool may_stop_droop(const Car& car, PartHandle adjuster);

/// Precondition: `standing` is the corner's pose at ride height with the steering in the middle.
CornerStops find_stops(const CarModel& model, End end, Side side, const CornerPose& standing,
                       const SteerInput& centred);
/// The same for one wheel of a setup; none where the car cannot stand so.
std::optional<CornerStops> stops_of(const Car& car, const Setup& setup, End end, Side side);

}  // namespace lowkite
