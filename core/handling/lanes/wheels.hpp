// What the four tyres do to a car, the wheels in the lanes of a register: by far most of the work of a trim. Each
// instruction set has its kernel, a source of its own (see plan/lanes).
#pragma once

#include <span>
#include <string_view>

#include "core/handling/car_on_tyres.hpp"

namespace lowkite {

/// Unknowns, in this order. The yaw rate follows from the speed, but derivatives by it are wanted; lateral acceleration
/// is one only on the way along a row of trims.
enum TrimUnknown : int { servo, body_slip, drive_slip, front_apart, rear_apart, lateral, yaw_rate };
constexpr int unknown_count = 8;  // one is spare
constexpr int solved_count = 6;   ///< those before the yaw rate

/// A number of the whole car, or of each wheel: [0] its value, [1 + i] how it answers the i-th unknown.
template <int n>
using WithSlopes = std::array<double, 1 + n>;
template <int n>
using WheelsWithSlopes = std::array<PerWheel<double>, 1 + n>;

/// How a car moves and stands. SI units, car's frame, angles positive to the left. `n`: of how many unknowns slopes are
/// carried, in the order of TrimUnknown; 0: plain numbers. What is pointed to is read only.
template <int n>
struct WheelsAsk {
  const SetupTable::Node* node;
  const SetupTable::SteeringPiece* steering;
  const TyreRows* tyre;
  const DriveLayout* drive;
  const PerWheel<double>*x_m, *y_m;
  double servo_rad, more_g;            ///< more than the node's
  WithSlopes<n> vx, vy, turns;         ///< m/s, m/s, rad/s
  WithSlopes<n> tread;                 ///< m/s, of what is driven
  PerEnd<WithSlopes<n>> apart;         ///< by which the right tread runs faster than that, and the left one slower
  std::array<WithSlopes<n>, 3> shift;  ///< see Sharing
};

/// Not set to anything before a kernel does.
template <int n>
struct WheelsTold {
  WheelsWithSlopes<n> load_n;
  WheelsWithSlopes<n> x_n, y_n;      ///< forward and to the left in the car's frame
  WheelsWithSlopes<n> lengthways_n;  ///< in the wheel's frame
  PerWheel<double> slip;             ///< tangent
  PerWheel<double> lean, heading, sideways_n;
  PerWheel<double> heading_cos, heading_sin;
};

/// The two wheels of an axle, each under its load and with its lean and lengthways slip, turned to several places.
struct AxleAsk {
  struct Wheel {
    TyreLaw<double>::Loaded<double> under;
    double slip_rad = 0.0, lean_rad = 0.0, lengthways = 0.0;  ///< slip: before it is turned
    double heading_cos = 1.0;
  };
  const TyreLaw<double>* tyre = nullptr;
  PerSide<Wheel> wheel;
  double sense = 1.0;
};
/// At once, whatever a register holds.
constexpr std::size_t axle_places = 4;
using AxlePlaces = std::array<double, axle_places>;

/// One of the program's kernels. Slopes by none, by those that are solved for, and by all unknowns.
struct WheelsKernel {
  std::string_view name;
  bool (*here)();  ///< whether this machine has it
  void (*plain)(const WheelsAsk<0>&, WheelsTold<0>&);
  void (*solving)(const WheelsAsk<solved_count>&, WheelsTold<solved_count>&);
  void (*all)(const WheelsAsk<unknown_count>&, WheelsTold<unknown_count>&);

  /// What an axle pushes across the car in the sense of the turn, N, its wheels turned further by so much, rad.
  void (*axle)(const AxleAsk&, const AxlePlaces& further, AxlePlaces& pushes);

  void operator()(const WheelsAsk<0>& ask, WheelsTold<0>& told) const { plain(ask, told); }
  void operator()(const WheelsAsk<solved_count>& ask, WheelsTold<solved_count>& told) const { solving(ask, told); }
  void operator()(const WheelsAsk<unknown_count>& ask, WheelsTold<unknown_count>& told) const { all(ask, told); }
};
/// The narrowest first, which is always here.
std::span<const WheelsKernel> wheels_kernels();
/// The widest that this machine has.
const WheelsKernel& wheels_kernel();

}  // namespace lowkite
