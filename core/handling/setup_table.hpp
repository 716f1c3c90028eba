// A setup under load, tabulated once: how its wheels stand and what they carry over lateral acceleration, in each phase
// of a corner and over the steering. Many tyres are then tried on it at the price of look-ups.
//
// What depends on the tyre is only how an axle's lateral force is shared between its wheels: the table holds how loads
// and leans answer that, as slopes.
#pragma once

#include <array>
#include <cstdint>
#include <limits>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

#include "core/load/corner_path.hpp"

namespace lowkite {

/// What the driver asks of a corner. Accelerations in g, all positive.
struct CornerAsk {
  double lateral_g = 1.0;
  double braking_g = 0.25;  ///< at entry, while the car already turns
  double power_g = 0.2;     ///< at exit, while it still turns
  double radius_m = 4.0;
  double turn_in_s = 0.25;  ///< in which the car comes to turn, and ceases to
  bool to_the_left = true;

  bool operator==(const CornerAsk&) const = default;
};
constexpr int phase_count = 3;
constexpr std::array<CornerPhase, phase_count> corner_phases{CornerPhase::entry, CornerPhase::middle,
                                                             CornerPhase::exit};
/// Up to which lateral acceleration each of them is looked at, g; 0: not at all.
using PhaseReach = std::array<double, phase_count>;
constexpr double to_the_end = std::numeric_limits<double>::infinity();
constexpr PhaseReach every_phase{to_the_end, to_the_end, to_the_end};
/// Lengthways acceleration of a phase, g, and the share of the yaw rate that comes (+) or goes within `turn_in_s`.
double lengthways_g(const CornerAsk& ask, CornerPhase phase);
double yaw_comes(CornerPhase phase);

/// From so much of a difference in toe on, what is told of grip is not told as advice.
constexpr double toe_beyond_this_rad = radians(0.25);

/// Wheels in the order front left, front right, rear left, rear right.
constexpr int wheel_count = 4;
constexpr int wheel_of(End end, Side side) {
  return 2 * static_cast<int>(at(end)) + static_cast<int>(at(side));
}
template <class T>
using PerWheel = std::array<T, wheel_count>;

/// The ways by which a setup reaches its tyres. Each can be taken from another setup, or be left out.
enum class Channel : std::uint8_t {
  load,        ///< what each wheel carries
  lean,        ///< camber to the ground
  toe,         ///< at rest, straight ahead
  body_steer,  ///< headings that change as the body rolls, pitches and rises
  steering,    ///< how the two front wheels are steered apart (Ackermann)
  drive,       ///< differentials
  weight       ///< weight, its place, wheelbase and tracks
};
constexpr int channel_count = 7;
std::string_view label_of(Channel channel);

/// The differential of a driven axle.
struct Differential {
  DifferentialKind kind = DifferentialKind::undescribed;
  double oil_cst = 0.0;
  double gears = 0.0;
  double friction_n_mm = 0.0;  ///< as the car file has it; 0: as the tyre family believes

  bool operator==(const Differential&) const = default;
};

class SetupTable {
 public:
  /// Tabulates. Beyond the reach of a phase the car is said to have no stand; up to there the table is the same. Fails
  /// with a sentence where the car file does not describe enough, or there is no steering linkage.
  static tl::expected<SetupTable, CarFailure> of(const LoadedCar& car, const CornerAsk& ask, unsigned threads = 2,
                                                 const PhaseReach& reach = every_phase);

  /// The wheels at one lateral acceleration of a phase, ready to be steered.
  struct Node {
    double at_g = 0.0;
    PerWheel<double> load_n{}, load_per_rad{};  ///< with the servo in the middle, and per rad of it
    PerWheel<double> lean{}, lean_per_rad{};    ///< besides what the steering alone gives; top to the left positive
    PerWheel<double> heading{}, heading_per_rad{};
    PerWheel<double> load_per_g{}, lean_per_g{}, heading_per_g{};  ///< of lateral acceleration, servo in the middle
    /// Per N that the front wheels, the rear wheels are pushed outward more than by load, and per N m of yaw.
    std::array<PerWheel<double>, 3> load_by{}, lean_by{};
  };
  /// None where the car finds no stand.
  [[nodiscard]] std::optional<Node> node(CornerPhase phase, double lateral_g) const;
  [[nodiscard]] double last_g(CornerPhase phase) const;
  /// Between the phases by lengthways acceleration, g, positive forward; beyond them, and beyond the last stand, as
  /// there. Precondition: `lateral_g` is not negative.
  [[nodiscard]] Node node_at(double lengthways_g, double lateral_g) const;
  [[nodiscard]] double last_g_at(double lengthways_g) const;

  /// What the steering alone gives, at rest, near a servo angle: cubics in the share of a step past `from_rad`, their
  /// coefficients ascending; nothing at the rear.
  struct SteeringPiece {
    double from_rad = 0.0, step_rad = 1.0;
    std::array<PerWheel<double>, 4> heading{}, lean{};
  };
  [[nodiscard]] const SteeringPiece& steering_near(double servo_rad) const;
  /// Where a front wheel points, and how far it leans, steered at rest; rad, positive to the left. And per rad.
  struct Steered {
    double heading = 0.0, heading_per_rad = 0.0, lean = 0.0, lean_per_rad = 0.0;
  };
  [[nodiscard]] Steered steered(Side side, double servo_rad) const;
  [[nodiscard]] double mean_heading(double servo_rad) const;

  /// Whether another setup reaches its tyres otherwise by this way, by more than arithmetic's last digits.
  [[nodiscard]] bool differs(Channel channel, const SetupTable& other) const;
  /// The greatest difference of toe at rest, rad. Steady states see of toe only that two wheels pull against each
  /// other: the calm that racers have from it at the rear (common practice, no source) is not in them.
  [[nodiscard]] double toe_apart_rad(const SetupTable& other) const;
  [[nodiscard]] SetupTable with(Channel channel, const SetupTable& from) const;
  [[nodiscard]] SetupTable without(Channel channel) const;

  [[nodiscard]] const CornerAsk& ask() const { return ask_; }
  // SI units from here on, about the centre of gravity: x forward, y left.
  [[nodiscard]] double mass_kg() const { return mass_kg_; }
  [[nodiscard]] double yaw_inertia() const { return yaw_inertia_; }  ///< kg m^2
  [[nodiscard]] const PerWheel<double>& x_m() const { return x_m_; }
  [[nodiscard]] const PerWheel<double>& y_m() const { return y_m_; }
  [[nodiscard]] double wheelbase_m() const { return 0.5 * (x_m_[0] + x_m_[1] - x_m_[2] - x_m_[3]); }
  [[nodiscard]] const PerEnd<double>& radius_m() const { return radius_m_; }
  [[nodiscard]] double mean_load_n() const { return mass_kg_ * gravity_m_s2 / wheel_count; }
  [[nodiscard]] const PerEnd<Differential>& differential() const { return differential_; }
  [[nodiscard]] bool engaged(End end, bool braking) const { return (braking ? braked_ : driven_)[at(end)]; }
  /// How the body rolls on its springs; what the car file does not tell is none.
  struct BodyMotion {
    std::optional<double> hz, damping_ratio;
  };
  [[nodiscard]] const BodyMotion& body() const { return body_; }
  [[nodiscard]] double servo_most_rad() const { return servo_most_; }  ///< full lock to the side of the turn

 private:
  /// The two phases on either side of a lengthways acceleration, and how far on towards the second.
  struct Between {
    CornerPhase from{}, to{};
    double part = 0.0;
  };
  [[nodiscard]] Between between(double lengthways_g) const;
  struct Stand {
    PerWheel<double> load_n{}, lean{}, heading{};
  };
  struct Slopes {
    std::array<PerWheel<double>, 3> load{}, lean{};
  };
  struct Row {
    std::vector<double> at_g;              ///< steps of lateral acceleration, and the last stand's
    std::vector<Stand> straight, steered;  ///< there
    std::vector<double> slopes_at;         ///< g
    std::vector<Slopes> slopes;
    [[nodiscard]] double last_g() const { return at_g.empty() ? 0.0 : at_g.back(); }
    /// The same as far as that, or as it goes; where no stand was found there, one is put between its neighbours.
    [[nodiscard]] Row until(double end_g) const;
  };

  static std::pair<Row, Row> as_far_as_both(const Row& a, const Row& b);

  CornerAsk ask_;
  double mass_kg_ = 0.0, yaw_inertia_ = 0.0;
  PerWheel<double> x_m_{}, y_m_{};
  PerEnd<double> radius_m_{};
  PerEnd<Differential> differential_;
  PerEnd<bool> driven_{}, braked_{};
  BodyMotion body_;
  double servo_most_ = 0.0;
  double steered_rad_ = 0.0;  ///< at which the steered rows stand
  std::array<Row, phase_count> row_;
  void lay_steering_pieces();

  double servo_step_ = 0.0;                              ///< of the steering map, from -servo_most_ on
  PerSide<std::vector<double>> map_heading_, map_lean_;  ///< less toe and lean at rest, straight ahead
  std::vector<SteeringPiece> steering_pieces_;           ///< between the map's nodes but for the outermost
  PerSide<double> toe_{};                                ///< heading at rest, straight ahead
  PerWheel<double> rest_lean_{};
  PerSide<double> rear_toe_{};
};

/// The table of a setup on its own. Fails with a sentence, too, where the setup's linkages do not close.
tl::expected<SetupTable, CarFailure> tabulate(const Car& car, const Setup& setup, const CornerAsk& ask,
                                              unsigned threads = 2, const PhaseReach& reach = every_phase);

}  // namespace lowkite
