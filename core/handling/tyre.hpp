// One tyre: what it holds with under a load, at a slip, leaning, driven.
//
// Similarity form (Milliken & Milliken, Race Car Vehicle Dynamics, ch. 2 and 14; Pacejka, Tyre and Vehicle Dynamics,
// ch. 3; both from memory): friction and stiffness follow the load by powers, slip is told in units of what would use
// up the friction if the tyre stayed linear, and one curve serves all loads. Slip lengthways and sideways combine as
// one vector, so the friction circle is never left. Lean works as slip (camber thrust) and takes grip away from its
// best.
#pragma once

#include <array>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <optional>
#include <span>
#include <string_view>

namespace lowkite {

/// What a tyre, and what else no car file tells, is described by.
enum class TyreParameter : std::uint8_t {
  grip,                   ///< friction at the car's mean wheel load, front
  grip_falls,             ///< power by which friction falls as load grows
  stiffness,              ///< cornering stiffness over load, 1/rad, at the mean wheel load, front
  stiffness_falls,        ///< power by which it falls as load grows
  lean_steers,            ///< slip that a lean is worth, rad/rad
  best_lean,              ///< into the turn, deg
  lean_loss,              ///< of grip for each squared degree off that
  past_peak,              ///< shape: 1 = no peak, 1.6 = lets go sharply
  lengthways_stiffness,   ///< over cornering stiffness
  rear_grip,              ///< friction of the rear tyres over the front's
  rear_stiffness,         ///< stiffness of the rear tyres over the front's
  oil_drag,               ///< N mm per rad/s that an oil-filled differential of 1000 cSt and four small gears passes
  differential_friction,  ///< N mm between the sides of any differential with gears or balls
};
constexpr int tyre_parameter_count = 13;

struct TyreParameterSpec {
  TyreParameter parameter;
  std::string_view id;     ///< as in files
  std::string_view label;  ///< as told to a racer
  std::string_view unit;
  int decimals;
  double least, most;  ///< what a file may hold
};
std::span<const TyreParameterSpec> tyre_parameters();
const TyreParameterSpec& spec_of(TyreParameter parameter);

/// One value each.
struct TyreDraw {
  std::array<double, tyre_parameter_count> value{};

  [[nodiscard]] double operator[](TyreParameter p) const { return value[static_cast<std::size_t>(p)]; }
  double& operator[](TyreParameter p) { return value[static_cast<std::size_t>(p)]; }
  bool operator==(const TyreDraw&) const = default;
};

/// A function of one number, given by its value and slope there.
inline double through(double, double value, double) {
  return value;
}
/// The same for a number that carries derivatives (`a` and `v`, as Ceres names them).
template <class T>
T through(const T& x, double value, double slope) {
  return T(value, slope * x.v);
}
inline double value_of(double x) {
  return x;
}
template <class T>
double value_of(const T& x) {
  return x.a;
}

/// The curve: force over friction for a slip in its own unit. Odd, slope 1 at 0, top 1, falling beyond its peak as far
/// as `shape` is over 1 (Pacejka's sine of an arctangent). `T`: double, or a number that carries derivatives.
template <class T>
T slip_curve(const T& slip, double shape) {
  const double x = value_of(slip) / shape;
  const double angle = shape * std::atan(x);
  return through(slip, std::sin(angle), std::cos(angle) / (1.0 + x * x));
}

template <class T>
struct TyreForce {
  T lengthways{};  ///< N, along the wheel's heading, forward
  T sideways{};    ///< N, to the left of it
};

/// What a tyre is asked; angles in rad, positive to the left.
template <class T>
struct TyreState {
  T load_n{};
  T slip{};        ///< tangent of the angle from where the wheel goes to where it points
  T lean{};        ///< its top to the left of the upright
  T lengthways{};  ///< how much faster the tread runs than the ground, over the ground's speed
};

/// A tyre at one end of the car, made ready for many questions.
class TyreAt {
 public:
  /// `reference_n`: the load at which `grip` and `stiffness` are given.
  TyreAt(const TyreDraw& draw, bool rear, double reference_n);

  /// A tyre under a load, ready for many slips.
  template <class T>
  struct Loaded {
    T friction_n{};
    T over{};  ///< what turns a slip into the curve's own unit
  };
  template <class T>
  [[nodiscard]] Loaded<T> loaded(const T& load_n) const {
    const double load = value_of(load_n);
    if (!(load > 1e-9)) return {};
    const double by = std::log(load / reference_n_);
    const double friction = grip_ * std::exp(-grip_falls_ * by);
    const double over = stiffness_ / grip_ * std::exp((grip_falls_ - stiffness_falls_) * by);
    return {through(load_n, friction * load, friction * (1.0 - grip_falls_)),
            through(load_n, over, over * (grip_falls_ - stiffness_falls_) / load)};
  }
  template <class T>
  [[nodiscard]] TyreForce<T> force(const TyreState<T>& s) const {
    return force(loaded(s.load_n), s);
  }
  template <class T>
  [[nodiscard]] TyreForce<T> force(const Loaded<T>& under, const TyreState<T>& s) const {
    using std::sqrt;
    const T sideways = under.over * (s.slip + lean_steers_ * s.lean);
    const T along = under.over * lengthways_ * s.lengthways;
    const T squared = sideways * sideways + along * along;
    // Near nothing the curve is its own slope.
    if (!(squared > 1e-16)) return {under.friction_n * along, under.friction_n * sideways};
    const T slip = sqrt(squared);
    // Best it leans into where it pushes; upright where it only drives or brakes.
    const T off = (180.0 / std::numbers::pi) * s.lean - best_lean_ * (sideways / slip);
    T leans = 1.0 - lean_loss_ * off * off;
    if (leans < least_left) leans = T(least_left);
    const T holds = under.friction_n * leans;
    const T share = holds * slip_curve(slip, shape_) / slip;
    return {share * along, share * sideways};
  }
  /// The slip, in the curve's own unit, where the curve is highest; none: it has no peak.
  [[nodiscard]] std::optional<double> peak() const;
  [[nodiscard]] double friction(double load_n) const;
  /// N per rad at no slip, upright.
  [[nodiscard]] double stiffness(double load_n) const;

 private:
  static constexpr double least_left = 0.3;  ///< of its grip, however a tyre leans

  double reference_n_, grip_, grip_falls_, stiffness_, stiffness_falls_, lean_steers_, best_lean_, lean_loss_, shape_,
      lengthways_;
};

}  // namespace lowkite
