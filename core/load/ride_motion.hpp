// The car in motion over a bump, a kerb, a landing or a step of the steering: heave, pitch and roll of the body and the
// four wheels, integrated over time (Boost.Odeint, Dormand-Prince with step control).
//
// For comparing dampers, springs and bars between two setups, not for telling how a car drives. What stands in it: the
// spring's and damper's force through the linkage's motion ratio over the whole travel, droop screw, end of the shock's
// stroke, bars and third element, a pod's side springs (taken to stay pressed), wheels as masses on tyres that push but
// do not pull, the plate on the ground, load that goes through the links at once by the roll centres' heights at rest.
// In a step of the steering, what jacking and links that change as the car leans do besides is what they do in the
// steady turns on the way (`LoadedCar::balance`), so that it ends where the car is in balance.
// What is left out: slip and grip, the car's speed changing, the engine's and brakes' torque (so no anti-squat),
// friction, air in the oil, a tyre that shortens over an edge (a bump is met at one point).
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/load/balance.hpp"
#include "core/load/mass_figures.hpp"

namespace lowkite {

enum class RoadEvent : std::uint8_t { bump, kerb, landing, steer_step };

struct RoadEventSpec {
  RoadEvent event;
  std::string_view id;
  std::string_view label;
};
std::span<const RoadEventSpec> road_events();

/// What happens to the car. Only what belongs to the event counts.
struct RoadCase {
  RoadEvent event = RoadEvent::bump;
  double seconds = 0.8;
  double speed_m_s = 8.0;    ///< bump, kerb: how soon the rear wheels follow
  double height_mm = 4.0;    ///< bump: of its top, a raised cosine; kerb: its height
  double length_mm = 120.0;  ///< bump: from level to level; kerb: of its top, with ramps of 20 mm
  bool left_side = true;     ///< kerb: which wheels run over it
  double drop_mm = 150.0;    ///< landing: free fall of the wheels, level
  double lateral_g = 1.0;    ///< steer step: built up over `rise_s`, positive to the left
  double rise_s = 0.1;
  std::optional<double> tyre_n_per_mm{};  ///< of all four; none: as likely as the car file has them
  double tyre_n_s_per_mm = 0.004;         ///< its damping; a guess
  double oil_celsius = 25.0;

  bool operator==(const RoadCase&) const = default;
};

/// The car at one moment, against how it stands at rest.
struct MotionSample {
  double t_s = 0.0;
  double heave_mm = 0.0;                ///< of the body's centre of gravity, positive up
  double roll_deg = 0.0;                ///< positive to the right
  double pitch_deg = 0.0;               ///< positive nose down
  PerEnd<PerSide<double>> load_n{};     ///< on each tyre
  PerEnd<PerSide<double>> travel_mm{};  ///< of the wheel against the body, positive in bump
  PerEnd<double> clear_mm{};            ///< under the plate at the gauge points, over level ground
};

struct MotionSummary {
  PerEnd<double> most_stroke_mm{};  ///< deepest of either shock, from where it stands
  PerEnd<double> stroke_share{};    ///< of what there is in bump; 0 where the shock's lengths are not described
  PerEnd<double> load_unrest{};     ///< root mean square of a wheel's load about its load at rest, over that load
  PerEnd<double> least_load_n{};    ///< of either wheel
  PerEnd<double> most_load_n{};
  PerEnd<double> air_s{};              ///< how long a wheel of the axle is off the ground, the longer of the two
  std::optional<double> plate_down_s;  ///< when the plate first touches; none: never
  double plate_speed_mm_s = 0.0;       ///< how fast it comes down then
  double most_roll_deg = 0.0;
  double most_pitch_deg = 0.0;
  double settled_s = 0.0;  ///< after which heave, pitch and roll stay within a twentieth of their largest swing
  /// Energies at the deepest moment and until then, N mm: what springs, bars and third springs hold, what the end stops
  /// and the plate hold, what the dampers have taken.
  double springs_n_mm = 0.0;
  double stops_n_mm = 0.0;
  double dampers_n_mm = 0.0;
};

struct Motion {
  std::vector<MotionSample> samples;  ///< a millisecond apart
  MotionSummary summary;
};

/// Fails with a sentence where the car file does not describe enough, the case makes no sense or the car has no stand
/// in that turn. `go_on` is asked now and then; false stops with what was integrated so far.
tl::expected<Motion, CarFailure> drive_over(const LoadedCar& car, const RoadCase& road,
                                            const std::function<bool()>& go_on = {});

}  // namespace lowkite
