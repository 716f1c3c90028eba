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

#include "core/linkage/at.hpp"
#include "core/linkage/number.hpp"

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

  [[nodiscard]] double operator[](TyreParameter p) const { return value[at(p)]; }
  double& operator[](TyreParameter p) { return value[at(p)]; }
  bool operator==(const TyreDraw&) const = default;
};

/// A number without derivatives: one double, or a register of several.
template <class T>
concept PlainNumber = requires {
  typename NumberTraits<T>::Mask;
};

template <PlainNumber T>
T value_of(const T& x) {
  return x;
}
/// Of a number that carries derivatives (`a` and `v`, as Ceres names them).
template <class T>
auto value_of(const T& x) -> decltype(x.a) {
  return x.a;
}
/// A function of one number, given by its value and slope there.
template <PlainNumber T>
T through(const T&, const T& value, const T&) {
  return value;
}
template <class T>
T through(const T& x, const decltype(T::a)& value, const decltype(T::a)& slope) {
  return T(value, slope * x.v);
}
/// Lane by lane one or the other, with its derivatives.
template <class M, PlainNumber T>
T whichever(const M& mask, const T& yes, const T& no) {
  return select(mask, yes, no);
}
template <class M, class T>
T whichever(const M& mask, const T& yes, const T& no) {
  T out(select(mask, yes.a, no.a));
  for (int i = 0; i < T::DIMENSION; ++i) out.v[i] = select(mask, yes.v[i], no.v[i]);
  return out;
}

/// The curve: force over friction for a slip in its own unit. Odd, slope 1 at 0, top 1, falling beyond its peak as far
/// as `shape` is over 1 (Pacejka's sine of an arctangent). `T`: a plain number, or one that carries derivatives.
template <class T, class V>
T slip_curve(const T& slip, const V& shape) {
  using std::atan;
  using std::cos;
  using std::sin;
  const V x = value_of(slip) / shape;
  const V angle = shape * atan(x);
  return through(slip, V(sin(angle)), V(cos(angle) / (V(1.0) + x * x)));
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

/// What a tyre at one end of the car works with, units as in the parameters.
enum class TyreConstant : std::uint8_t {
  reference_n,  ///< load at which grip and stiffness are given
  grip,
  grip_falls,
  stiffness,
  stiffness_falls,
  lean_steers,
  best_lean,
  lean_loss,
  shape,
  lengthways
};
constexpr int tyre_constant_count = 10;

/// The law of a tyre, in `V`: one tyre, or one in each lane of a register.
template <class V>
class TyreLaw {
 public:
  explicit TyreLaw(const std::array<V, tyre_constant_count>& constants) : constant_(constants) {}

  [[nodiscard]] const V& operator[](TyreConstant c) const { return constant_[at(c)]; }

  /// A tyre under a load, ready for many slips.
  template <class T>
  struct Loaded {
    T friction_n{};
    T over{};  ///< what turns a slip into the curve's own unit
  };
  template <class T>
  [[nodiscard]] Loaded<T> loaded(const T& load_n) const {
    using C = TyreConstant;
    using std::exp;
    using std::log;
    const TyreLaw& is = *this;
    const auto carries = value_of(load_n) > V(1e-9);
    const V load = select(carries, value_of(load_n), is[C::reference_n]);
    const V by = log(load / is[C::reference_n]);
    const V friction = is[C::grip] * exp(-is[C::grip_falls] * by);
    const V falls = is[C::grip_falls] - is[C::stiffness_falls];
    const V over = is[C::stiffness] / is[C::grip] * exp(falls * by);
    const T none(V(0.0));
    return {whichever(carries, through(load_n, V(friction * load), V(friction * (V(1.0) - is[C::grip_falls]))), none),
            whichever(carries, through(load_n, over, V(over * falls / load)), none)};
  }
  template <class T>
  [[nodiscard]] TyreForce<T> force(const TyreState<T>& s) const {
    return force(loaded(s.load_n), s);
  }
  template <class T>
  [[nodiscard]] TyreForce<T> force(const Loaded<T>& under, const TyreState<T>& s) const {
    using C = TyreConstant;
    using std::sqrt;
    const TyreLaw& is = *this;
    const T sideways = under.over * (s.slip + is[C::lean_steers] * s.lean);
    const T along = under.over * is[C::lengthways] * s.lengthways;
    const T squared = sideways * sideways + along * along;
    // Near nothing the curve is its own slope.
    const auto slips = value_of(squared) > V(1e-16);
    const T slip = sqrt(whichever(slips, squared, T(V(1.0))));
    // Best it leans into where it pushes; upright where it only drives or brakes.
    const T off = V(180.0 / std::numbers::pi) * s.lean - is[C::best_lean] * (sideways / slip);
    const T leans = V(1.0) - is[C::lean_loss] * off * off;
    const T left = whichever(value_of(leans) < V(least_left), T(V(least_left)), leans);
    const T share = whichever(slips, under.friction_n * left * slip_curve(slip, is[C::shape]) / slip, under.friction_n);
    return {share * along, share * sideways};
  }

 private:
  static constexpr double least_left = 0.3;  ///< of its grip, however a tyre leans

  std::array<V, tyre_constant_count> constant_;
};

/// A tyre at one end of the car, made ready for many questions.
class TyreAt : public TyreLaw<double> {
 public:
  /// `reference_n`: the load at which `grip` and `stiffness` are given.
  TyreAt(const TyreDraw& draw, bool rear, double reference_n);

  /// The slip, in the curve's own unit, where the curve is highest; none: it has no peak.
  [[nodiscard]] std::optional<double> peak() const;
  [[nodiscard]] double friction(double load_n) const;
  /// N per rad at no slip, upright.
  [[nodiscard]] double stiffness(double load_n) const;
};

}  // namespace lowkite
