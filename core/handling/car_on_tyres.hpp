// A car on one draw of tyres: what its four wheels do to it when it moves in some way, and what its differentials hand
// over. Steady states are sought with it (trim.cpp) and corners driven (corner_film.cpp).
#pragma once

#include <cmath>

#include "core/handling/setup_table.hpp"
#include "core/handling/tyre.hpp"

namespace lowkite {

struct WheelTrim {
  double load_n = 0.0;
  double slip_rad = 0.0;  ///< where it points against where it goes, positive to the left
  double lean_rad = 0.0;  ///< top to the left
  double heading_rad = 0.0;
  double sideways_n = 0.0;  ///< in the wheel's frame, to the left
  double lengthways_n = 0.0;
};

/// Which wheels are driven together, and which unknowns that leaves.
struct DriveLayout {
  CornerPhase phase{};
  double sense = 1.0;  ///< of the turn, positive to the left
  PerEnd<bool> engaged{};
  PerEnd<DifferentialKind> kind{};
  PerWheel<double> driven{}, one_way{};  ///< 1: it is
  bool drives = false;
  double rubs = 1.0;             ///< of the differentials' friction, what counts
  std::array<int, 6> unknown{};  ///< those that are solved for
  int count = 0;

  /// Nothing drives, nothing brakes.
  void coast() {
    engaged = {};
    driven = one_way = {};
  }
  /// Whether an axle is driven through something that lets its wheels run apart.
  [[nodiscard]] bool gives_way(End end) const {
    const DifferentialKind k = kind[at(end)];
    return engaged[at(end)] && k != DifferentialKind::spool && k != DifferentialKind::one_way;
  }
};

/// The constants of the tyres, wheel by wheel.
using TyreRows = std::array<PerWheel<double>, tyre_constant_count>;

template <class T>
struct TyreForces {
  std::array<T, 6> sum{};
  PerWheel<T> sideways_body{};  ///< to the left, in the car's frame
  double yaw_by_drive_nm = 0.0;
  T body_cos{}, body_sin{};   ///< of the body slip
  PerWheel<double> slip{};    ///< tangents
  PerWheel<WheelTrim> wheel;  ///< but for the slip angle, which only the last of many rounds asks for
  std::array<T, 3> shift{};   ///< how these forces differ from being shared by load (see Sharing)

  [[nodiscard]] PerWheel<WheelTrim> wheels() const {
    PerWheel<WheelTrim> all = wheel;
    for (std::size_t w = 0; w < all.size(); ++w) all[w].slip_rad = std::atan(slip[w]);
    return all;
  }
};

class CarOnTyres {
 public:
  /// Keeps a reference to the table.
  CarOnTyres(const SetupTable& table, const TyreDraw& tyres);

  [[nodiscard]] const SetupTable& table() const { return *table_; }
  [[nodiscard]] const TyreDraw& draw() const { return draw_; }
  [[nodiscard]] const TyreAt& tyre(End end) const { return tyre_[at(end)]; }
  [[nodiscard]] DriveLayout layout(CornerPhase phase) const;

  /// The forces while it moves so: `u` as in TrimUnknown (car_forces.hpp, where this is defined), `speed` in m/s at the
  /// centre of gravity, `shift` how forces are shared otherwise than by load (see Sharing), `node` how the wheels
  /// stand.
  template <class T>
  [[nodiscard]] TyreForces<T> forces(const DriveLayout& layout, const SetupTable::Node& node, const std::array<T, 8>& u,
                                     const std::array<T, 3>& shift, const T& speed) const;

 private:
  const SetupTable* table_;
  TyreDraw draw_;
  PerEnd<TyreAt> tyre_;
  TyreRows tyre_rows_{};
};

}  // namespace lowkite
