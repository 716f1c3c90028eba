// The car on its springs: how it stands and what each wheel carries, still or under acceleration.
//
// A corner's wheel load follows from virtual work along its arm's motion: what the ground pushes with (up, sideways,
// lengthways) against spring, bar, third spring and the wheel's own weight. So roll centres, jacking, anti-dive and
// anti-squat come out by themselves. Three balances of the whole car (vertical, roll, pitch) give its attitude.
//
// Lateral force is shared between the axles by the balance of yaw (of the lateral forces alone, each working where the
// axle's load is) and within an axle by load, unless it is told otherwise (`Sharing`: by slip, see handling); driving
// and braking force by the car's shares and within an axle by load. Driving is held by the chassis through the shafts,
// so the path of the wheel's centre counts; braking likewise unless the car brakes on its hubs. A pod carries its motor
// and holds both. The centre of gravity moves with the chassis. A rigid tyre; a wheel on its droop screw takes up its
// load over `contact_rate`. Left out: the tyre's own spring and slip, damping (a steady state has none), friction in
// the joints, play in the bar's links.
#pragma once

#include <array>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/load/axle_load.hpp"
#include "core/load/static_load.hpp"
#include "core/measure/stops.hpp"

namespace lowkite {

/// Where the collars sit: mm from the shock's upper mount down, or of spacers where springs have no collars. One more
/// millimetre lifts that corner. Of a pod see `collars_under`.
using Collars = PerEnd<PerSide<double>>;

/// One thing that a hand can turn or put in to move an axle's springs.
struct CollarMove {
  enum class What : std::uint8_t { left, right, middle, side_screws } what{};
  End end{};
  SpringHolder holder{};
  PerSide<double> per_mm{};  ///< of the axle's collars, per mm of this

  /// How much of this a change of the axle's collars is made of, mm.
  [[nodiscard]] double part_of(const PerSide<double>& change) const;
};
std::string_view name_of(CollarMove::What what);
/// Front to rear: the collar or spacers of either side, or of a pod the collar in the middle and its side springs'
/// screws against each other (left down, right up).
std::array<CollarMove, 4> collar_moves(const Car& car);

/// How the ground's lateral forces differ from being shared by load, with the car's yaw in balance.
struct Sharing {
  PerEnd<double> outward_n{};  ///< on either wheel of an axle, outward: what the one side takes more of, the other less
  double yaw_n_mm = 0.0;       ///< what the axles' lateral forces turn the car with, positive to the left

  bool operator==(const Sharing&) const = default;
};

struct WheelState {
  double load_n = 0.0;          ///< what a scale under it shows; 0 when it is lifted
  double lateral_n = 0.0;       ///< from the ground, positive to the left
  double longitudinal_n = 0.0;  ///< positive forward
  double spring_n = 0.0;
  double shock_mm = 0.0;        ///< between its mounts
  double stroke_left_mm = 0.0;  ///< of the shock, until it is pushed in; 0 where its lengths are not described
  double camber_rad = 0.0;      ///< to the ground
  double toe_rad = 0.0;         ///< to the car
  bool lifted = false;
};

struct Balance {
  Acceleration under;
  Attitude attitude;  ///< ride heights are negative where the plate would be in the ground
  CarPose pose;
  PerEnd<PerSide<WheelState>> wheel;
  bool by_a_jump = false;  ///< on the way from rest the car left a stand that held it no longer
  double plate_n = 0.0;    ///< what the ground carries through the plate; 0 while it is clear
  double pitch_rad = 0.0;  ///< nose down, against the attitude at rest
  double rise_mm = 0.0;    ///< of the centre of gravity over the ground, against rest: jacking is positive
  PerEnd<std::optional<double>> roll_centre_mm;  ///< height over the ground as it stands; none: at infinity
  PerEnd<std::optional<double>> third_in_mm;     ///< how much shorter the third spring is than at rest; none: no such
  /// How the three sums change with the attitude there: where a balance that lies near starts from.
  std::optional<Eigen::Matrix3d> slope;
  /// How ride heights (mm) and roll (in the unit of its slope) came on with the lateral acceleration last: where one
  /// under a little more is looked for. Zero: not known.
  Eigen::Vector3d per_lateral_g = Eigen::Vector3d::Zero();

  [[nodiscard]] double axle_n(End e) const { return wheel[at(e)][0].load_n + wheel[at(e)][1].load_n; }
  /// Load moved from the inner to the outer wheel of an axle, N; positive to the right.
  [[nodiscard]] double transfer_n(End e) const { return 0.5 * (wheel[at(e)][1].load_n - wheel[at(e)][0].load_n); }
  /// Front left and rear right together, of all four; 0.5 = not twisted.
  [[nodiscard]] double cross() const;
  [[nodiscard]] double left() const;  ///< both left wheels, of all four
  [[nodiscard]] double total_n() const { return axle_n(End::front) + axle_n(End::rear); }
};

/// How far the car is pressed down where a rate's change over travel is told.
constexpr double pressed_mm = 3.0;

/// How an axle pushes back at rest.
struct AxleRates {
  double wheel_n_per_mm = 0.0;  ///< at one wheel, both moving alike; with a third spring: pressed from rest
  std::optional<double> wheel_n_per_mm_going_out;  ///< with a third spring that is touched at rest; it does not pull
  double roll_n_mm_per_deg = 0.0;                  ///< springs and bar, at the ground
  double roll_by_bar_n_mm_per_deg = 0.0;
  double ride_hz = 0.0;  ///< of the mass that the axle carries over its wheels
  /// At low speed at one wheel, N s/mm, oil at 25 deg C; none where pistons and oil are not described. With both wheels
  /// moving alike, a third damper with it; and in roll, where that does nothing and neither does one in a pod's middle.
  std::optional<double> damping_n_s_per_mm;
  std::optional<double> roll_damping_n_s_per_mm;
  std::optional<double> damping_ratio;  ///< to critical, both wheels moving alike
  /// Of the wheel rate, what the third spring gives once it is touched; roll knows nothing of it.
  double heave_n_per_mm = 0.0;
  std::optional<double> third_per_wheel;  ///< how fast it shortens, mm per mm of both wheels; none: none is fitted
  double preload_n = 0.0;                 ///< of one spring with its wheel hanging on the droop stop
  /// The wheel rate with the car pressed down by `pressed_mm`; none where it stands lower than that.
  std::optional<double> wheel_n_per_mm_pressed;
  double sag_mm = 0.0;  ///< from the wheel hanging free to ride height, at the wheel; what the droop screw leaves of it
};

/// A model ready to be balanced. Keeps a reference to it.
class LoadedCar {
 public:
  /// `alike`: a car whose linkage stands the same, only springs, bars, oils or weights differ: what those do not move
  /// is taken from it. Fails with a sentence that says what the car file does not describe.
  static tl::expected<LoadedCar, CarFailure> of(const CarModel& model, const LoadedCar* alike = nullptr);

  /// Collars that hold the setup's ride heights, level, with 50 % cross weight.
  [[nodiscard]] const Collars& level_collars() const { return level_; }
  /// Collars that hold these ride heights level with that share on front left and rear right together. Fails when the
  /// car cannot stand like that.
  [[nodiscard]] tl::expected<Collars, CarFailure> collars_for(const PerEnd<double>& ride_height_mm,
                                                              double cross = 0.5) const;

  /// How the car stands on these collars under this acceleration: the stand that is reached from rest when the
  /// acceleration is laid on little by little. `near`: a stand from which it is reached sooner; of a car whose springs
  /// do not only stiffen it may be another one. Fails with a sentence when there is none.
  [[nodiscard]] tl::expected<Balance, CarFailure> balance(const Collars& collars, const Acceleration& a,
                                                          double servo_rad = 0.0, const Balance* near = nullptr) const;

  /// How the car stands under a row of lateral accelerations, ascending from 0 and laid on one after the other, after
  /// `longitudinal_g`: as `balance` finds them, at a fraction of the price.
  struct Row {
    std::vector<Balance> stands;  ///< as many as there are
    std::optional<Balance> last;  ///< where there are fewer than were asked for: the last one, to within 0.004 g
  };
  [[nodiscard]] Row row(const Collars& collars, double longitudinal_g, std::span<const double> lateral_g,
                        double servo_rad = 0.0) const;
  /// How the car stands there with its lateral forces shared otherwise. None where it leaves that stand.
  [[nodiscard]] std::optional<Balance> shared_otherwise(const Collars& collars, const Balance& stand,
                                                        const Sharing& sharing) const;

  /// By how much of an acceleration is laid on at once, g. Finer steps reach the same stands; for checks.
  void lay_on_by(double g) { laid_on_by_g_ = g; }

  /// False where a wheel's spring pushes it down less as it is pressed further somewhere between its stops: such a car
  /// snaps through, and may have two stands at one acceleration.
  [[nodiscard]] bool springs_only_stiffen() const;

  [[nodiscard]] AxleRates rates(End end) const;
  /// How the body rolls on its springs about its roll axis, as one mass on both axles. None without a whole description
  /// of the masses.
  struct RollMotion {
    double hz = 0.0;
    std::optional<double> damping_ratio;  ///< to critical, at low speed; none where an axle's pistons are not described
  };
  [[nodiscard]] std::optional<RollMotion> roll_motion() const;
  [[nodiscard]] const CarModel& model() const { return *model_; }
  /// Degrees of roll per g sideways, from rest, on rigid tyres; none where no stand is found.
  [[nodiscard]] std::optional<double> roll_gradient_deg_per_g() const;
  /// The same on the car's tyres as they are believed to give, and as hard and as soft as they may be.
  struct RollOnTyres {
    double likely = 0.0, on_hard = 0.0, on_soft = 0.0;
  };
  [[nodiscard]] std::optional<RollOnTyres> roll_on_tyres_deg_per_g() const;

 private:
  struct Linked;
  struct Inputs;
  struct Forces;
  struct Stand;
  struct Effort;
  explicit LoadedCar(const CarModel& model) : model_(&model) {}
  /// `with_poses`: the balance's are filled in.
  tl::expected<Forces, CarFailure> forces(const Attitude& attitude, const Inputs& inputs, bool with_poses = true) const;
  /// Brings a stand to rest under the inputs' acceleration, to `near_n`, with no more effort than that. False: it does
  /// not come to rest.
  bool settle(Stand& stand, Inputs& inputs, double near_n, const Effort& effort) const;
  /// The car let go from a stand that holds it no longer, heavily damped, to where it comes to rest (pseudo-transient
  /// continuation: Kelley and Keyes, from memory). False: nowhere, or on the wheels of one side.
  bool let_go(Stand& stand, Inputs& inputs) const;
  /// From a stand at rest to one under another acceleration, little by little. Returns the share of the way up to which
  /// there is one, 1 for all of it; less is told in steps of a quarter of those by which it is laid on.
  double lay_on(Stand& stand, Inputs& inputs, const Acceleration& from, const Acceleration& to) const;
  /// From a stand at rest to the last one before another acceleration, under which there is none. Returns where.
  Acceleration go_to_the_end(Stand& stand, Inputs& inputs, const Acceleration& from, const Acceleration& to) const;
  /// What the wheels on the inside of a turn carry together, N, if the car stood like that under such an acceleration:
  /// by statics, less than nothing where it would have to be held down.
  [[nodiscard]] double inner_n(const Balance& stand, const Acceleration& a) const;
  /// Whether a car that stands under one lateral acceleration surely tips over under a greater one.
  [[nodiscard]] bool surely_tips(const Balance& stand, const Acceleration& from, const Acceleration& to) const;
  /// Those that hold the car as it stands there, level.
  [[nodiscard]] tl::expected<Collars, CarFailure> collars_at(const CarPose& level, double cross) const;
  [[nodiscard]] Balance read_stand(Stand&& stand, const Acceleration& a) const;
  [[nodiscard]] tl::expected<Inputs, CarFailure> inputs_at(const Collars& collars, double servo_rad) const;
  [[nodiscard]] tl::expected<PerEnd<AxlePose>, CarFailure> hang(const SteerInput& left, const SteerInput& right) const;
  [[nodiscard]] AxleCase axle_case(End end, const Ground& ground, const Inputs& inputs) const;

  const CarModel* model_;
  std::shared_ptr<Linked> linked_;         ///< of all cars that stand alike
  PerEnd<PerSide<double>> droop_angle_{};  ///< of the arm on its droop stop
  PerEnd<double> bar_{};                   ///< N mm per rad
  PerEnd<ThirdLaw> third_;
  PerEnd<double> third_standing_mm_{};  ///< its length as the car stands
  CarPose standing_;
  Collars level_{};
  double laid_on_by_g_ = 0.1;
};

}  // namespace lowkite
