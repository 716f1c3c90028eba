// One corner driven in time: brake, turn in, through, out on power, along a line that is given, by a driver who looks
// ahead. To see what the trims say, and to check them; it tells no time, as no such tyre is anybody's own.
//
// Left out as in the trims (aligning moments, heat, air, bumps, a chassis that flexes), and the tyre's way to build up
// its force. Loads and leans follow the accelerations as the body rolls: as one swing of the car's roll frequency and
// damping. Driver, servo and turning masses are assumptions, told below.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "core/handling/trim.hpp"

namespace lowkite {

/// The line of a corner: straight, ever tighter over the way of the turn-in, round, and out the same way. m and rad,
/// from where the film begins, x ahead and y to the left.
class CornerLine {
 public:
  /// As the radius, the lateral acceleration and the turn-in of a corner ask. Preconditions: those are positive.
  static CornerLine of(const CornerAsk& ask);

  struct Point {
    double x_m = 0.0, y_m = 0.0;
    double heading_rad = 0.0;
    double bends = 0.0;  ///< 1/m, positive to the left
  };
  /// Beyond its ends it goes straight on.
  [[nodiscard]] Point at(double along_m) const;
  [[nodiscard]] double length_m() const { return step_m_ * static_cast<double>(points_.size() - 1); }
  [[nodiscard]] double middle_from_m() const { return middle_from_m_; }
  [[nodiscard]] double middle_to_m() const { return middle_to_m_; }
  [[nodiscard]] CornerPhase phase_at(double along_m) const;
  /// The speed there, m/s: what brake and power of the corner leave or have made of the middle's.
  [[nodiscard]] double speed_at(double along_m) const;

 private:
  double step_m_ = 0.01;
  double middle_from_m_ = 0.0, middle_to_m_ = 0.0;
  double middle_speed_ = 0.0;
  double braking_ = 0.0, power_ = 0.0;  ///< m/s^2
  std::vector<Point> points_;
};

/// The car at one moment.
struct CornerMoment {
  double t_s = 0.0;
  double along_m = 0.0;     ///< of the line
  double off_line_m = 0.0;  ///< positive to the outside of the turn
  double x_m = 0.0, y_m = 0.0, heading_rad = 0.0;
  double speed_m_s = 0.0;
  double body_slip_rad = 0.0;  ///< of the car's way against its nose, positive to the left
  double yaw_rate = 0.0;       ///< rad/s
  double servo_rad = 0.0;
  double lateral_g = 0.0;     ///< positive in the sense of the turn
  double lengthways_g = 0.0;  ///< positive when it goes faster
  PerWheel<WheelTrim> wheel;
  PerWheel<double> used{};    ///< of what friction the tyre has under its load, upright
  PerEnd<double> end_used{};  ///< the same of both wheels of an axle together
};

enum class FilmEnd : std::uint8_t {
  through,    ///< to the end of the line
  off_line,   ///< it ran too far off it
  spun,       ///< it turned round
  off_wheels  ///< there is no stand any more: it leaves its wheels
};

struct CornerFilm {
  std::vector<CornerMoment> moments;  ///< `film_step_s` apart
  FilmEnd end = FilmEnd::through;
  bool damping_assumed = false;  ///< the car file does not tell how the body's roll is damped, or how it rolls

  /// The moment at a place of the line; the nearest where the film is shorter. Precondition: there is one.
  [[nodiscard]] const CornerMoment& at(double along_m) const;
};
constexpr double film_step_s = 1.0 / 120.0;

/// Drives along the line. `go_on` false stops with what was driven so far.
CornerFilm drive_corner(const SetupTable& table, const TyreDraw& tyres, const CornerLine& line,
                        const std::function<bool()>& go_on = {});

/// The servo held and the speed kept where a trim of the middle has them, after the car's way was turned by `push_rad`:
/// a car that is stable comes back to the trim.
CornerFilm let_settle(const SetupTable& table, const TyreDraw& tyres, const Trim& trim, double push_rad,
                      double seconds);

/// What turns and moves a car that is as a trim says, in the first moment: lateral acceleration in the sense of the
/// turn and lengthways acceleration, m/s^2, and yaw acceleration to the left, rad/s^2. For checks.
std::array<double, 3> accelerations_at(const SetupTable& table, const TyreDraw& tyres, const Trim& trim);

/// The tyre in the middle of these, by weight (empty: all alike). Precondition: there is one.
TyreDraw middle_of(std::span<const TyreDraw> tyres, std::span<const double> weights = {});

}  // namespace lowkite
