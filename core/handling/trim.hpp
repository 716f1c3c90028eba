// A car in a corner on one draw of tyres, forces in balance: how far the servo and the car are turned, what each tyre
// does, how much grip is left at each end, where the limit lies and how the car answers there.
//
// Steady, or slowly changing: given are lateral and lengthways acceleration, the radius and how fast the turning itself
// comes or goes. Unknown are the servo, the angle between the car and its way, the speed of the drive and what a
// differential lets its wheels differ by. Sums of forces sideways, lengthways and of yaw moments vanish (Newton's
// method, derivatives by dual numbers). Left out: aligning moments, tyre temperature, air, bumps, a chassis that
// flexes.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "core/handling/car_on_tyres.hpp"

namespace lowkite {

struct Trim {
  CornerPhase phase = CornerPhase::middle;
  double lateral_g = 0.0;      ///< positive in the sense of the turn
  double servo_rad = 0.0;      ///< positive to the left, like all that follows
  double body_slip_rad = 0.0;  ///< of the car's way against its nose, at the centre of gravity
  double speed_m_s = 0.0;
  double yaw_rate = 0.0;         ///< rad/s
  double servo_rad_per_g = 0.0;  ///< of lateral acceleration, the radius held; only of trims that are to be told
  double drive_slip = 0.0;       ///< of the tread over the car's speed; 0 where nothing drives
  PerEnd<double> apart{};        ///< half of what the two wheels of an axle run apart, over the car's speed
  PerWheel<WheelTrim> wheel;
  std::array<double, 3> shared{};  ///< how its lateral forces differ from being shared by load: N, N, N m (see Sharing)
  double yaw_by_drive_nm = 0.0;    ///< what driving and braking forces turn the car with
};

/// Answers of the car near a trim, loads and leans following at once: two-wheel-model terms (Gillespie, ch. 6; Milliken
/// & Milliken, ch. 5; from memory).
struct Answers {
  double static_margin =
      0.0;  ///< share of the wheelbase that the neutral steer point lies behind the centre of gravity
  double yaw_damping_nms = 0.0;  ///< N m per rad/s, positive holds back
  std::optional<double>
      rise_s;  ///< until the yaw rate is at nine tenths after a sudden turn of the servo; none: it runs away
};

/// How far two trims lie apart: 1 is a fifth of a g, or the slips that take its place near the limit.
double way_between(const Trim& a, const Trim& b);

class Trimmer {
 public:
  /// Keeps references to both.
  Trimmer(const SetupTable& table, const TyreDraw& tyres);

  /// How near to balance: to what is told of a trim, or to 1e-5 of the weight, from which the next one is sought.
  enum class Care { to_be_told, on_way };
  /// None where there is no balance, or the car finds no stand. `near`: a trim of the same phase to start from.
  [[nodiscard]] std::optional<Trim> trim(CornerPhase phase, double lateral_g, const Trim* near = nullptr,
                                         Care care = Care::to_be_told) const;

  /// A trim on the way that two or three others (`known`, in order, of one phase) lie on: `place` counts from the
  /// first, along the chords between them (`way_between`), and may lie beyond the last. None where there is none, or
  /// the steering is at its end.
  [[nodiscard]] std::optional<Trim> on_way(std::span<const Trim> known, double place) const;

  /// How much more lateral force an axle could hold than it is asked for at a lateral acceleration, as a share of that;
  /// negative: less. The lengthways slips are those of `like`. None where the car finds no stand.
  [[nodiscard]] std::optional<PerEnd<double>> left(CornerPhase phase, double lateral_g, const Trim& like) const;
  /// The end that has least left, and of its most what it still holds when it slides six degrees beyond.
  struct LettingGo {
    End end{};
    double keeps = 1.0;
  };
  [[nodiscard]] std::optional<LettingGo> letting_go(const Trim& at_limit) const;
  [[nodiscard]] std::optional<Answers> answers(const Trim& trim) const;
  /// Lateral acceleration, g, and yaw moment over weight times wheelbase with servo and nose turned so far into the
  /// turn (rad), at the speed of the corner that was asked, coasting. None where the car would turn the other way, or
  /// stands nowhere.
  [[nodiscard]] std::optional<std::pair<double, double>> moment_at(double servo_rad, double nose_rad) const;

  [[nodiscard]] const SetupTable& table() const { return table_; }

 private:
  struct Held;
  [[nodiscard]] std::optional<Trim> trim(const DriveLayout& layout, double lateral_g, const Trim* near,
                                         Care care) const;
  /// Where along a row of trims the next one is looked for.
  struct Way {
    std::array<double, 3> along{};
    double to = 0.0;
  };
  [[nodiscard]] std::optional<Trim> solve(const DriveLayout& layout, std::array<double, 8> unknown,
                                          std::array<double, 3> shared, const Way* way, Care care, int rounds) const;
  [[nodiscard]] std::optional<Held> held(CornerPhase phase, double lateral_g, const Trim& like) const;

  const SetupTable& table_;
  CarOnTyres car_;
};

/// One phase of a corner on one draw of tyres.
struct PhaseHandling {
  double limit_g = 0.0;       ///< the most lateral acceleration
  End lets_go{};              ///< which end has none left there
  bool by_its_stand = false;  ///< no end lets go: the car has no stand beyond (it lifts its wheels, it tips)
  double keeps = 1.0;         ///< of its most, six degrees beyond: how gently that end lets go
  double read_at_g = 0.0;     ///< where what follows is read: as asked, or just below a limit that is less
  PerEnd<double> left{};      ///< grip left at the acceleration that was asked, a share; negative: it is not reached
  std::optional<double> servo_deg;             ///< in the sense of the turn
  std::optional<double> heading_deg;           ///< the front wheels' mean
  std::optional<double> understeer_deg_per_g;  ///< of the servo
  std::optional<double> body_slip_deg;         ///< nose into the turn positive
  std::optional<Answers> answers;
  double least_load_n = 0.0;  ///< of the four
};

struct TyreHandling {
  std::array<PhaseHandling, phase_count> phase;
};

/// None where the car does not even turn gently on these tyres.
std::optional<TyreHandling> handling_on(const SetupTable& table, const TyreDraw& tyres);
/// How far a table must reach for what `phase_on` tells without limits.
PhaseReach reach_without_limits(const CornerAsk& ask);
/// One phase of it. Without `limits` what is told of the limit is left out, and half of the work: the rest is the same.
std::optional<PhaseHandling> phase_on(const SetupTable& table, const TyreDraw& tyres, CornerPhase phase,
                                      bool limits = true);

/// The same on every draw, shared out between threads. `go_on` false stops: what was not reached is none.
std::vector<std::optional<TyreHandling>> handling_over(const SetupTable& table, std::span<const TyreDraw> tyres,
                                                       unsigned threads = 2, const std::function<bool()>& go_on = {});

}  // namespace lowkite
