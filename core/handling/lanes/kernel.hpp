// What each kernel of the wheels does, a template over the register. Only for the sources that are compiled for one.
#pragma once

#include <ceres/jet.h>

#include "core/linkage/lanes.hpp"
// The number comes first: what follows is written in it.
#include "core/handling/lanes/wheels.hpp"

namespace lowkite {

/// The wheels of a register from one on, with slopes by `n` unknowns.
template <class V, int n>
class WheelsOfRegister {
 public:
  using T = std::conditional_t<n == 0, V, ceres::Jet<V, n == 0 ? 1 : n>>;

  WheelsOfRegister(const WheelsAsk<n>& ask, std::size_t first) : ask_(ask), first_(first) {}

  [[gnu::flatten]] void tell(WheelsTold<n>& told) const {
    const SetupTable::Node& node = *ask_.node;
    const V steered(ask_.servo_rad), more(ask_.more_g);
    const auto follows = [&](const PerWheel<double>& at, const PerWheel<double>& per_g, const PerWheel<double>& per_rad,
                             const std::array<V, 2>& alone) {
      const V by_servo = row(per_rad), by_lateral = row(per_g);
      return number(row(at) + by_lateral * more + by_servo * steered + alone[0], by_servo + alone[1], by_lateral);
    };
    const SetupTable::SteeringPiece& piece = *ask_.steering;
    const V part((ask_.servo_rad - piece.from_rad) / piece.step_rad), per_rad(1.0 / piece.step_rad);
    const auto curve = [&](const std::array<PerWheel<double>, 4>& c) -> std::array<V, 2> {
      const V c1 = row(c[1]), c2 = row(c[2]), c3 = row(c[3]);
      return {row(c[0]) + part * (c1 + part * (c2 + part * c3)),
              (c1 + part * (V(2.0) * c2 + V(3.0) * part * c3)) * per_rad};
    };
    const T heading = follows(node.heading, node.heading_per_g, node.heading_per_rad, curve(piece.heading));
    TyreState<T> s;
    s.lean = follows(node.lean, node.lean_per_g, node.lean_per_rad, curve(piece.lean));
    s.load_n = follows(node.load_n, node.load_per_g, node.load_per_rad, {V(0.0), V(0.0)});
    for (std::size_t k = 0; k < 3; ++k) {
      const T shift = wide(ask_.shift[k]);
      s.load_n += row(node.load_by[k]) * shift;
      s.lean += row(node.lean_by[k]) * shift;
    }
    const T turns = wide(ask_.turns);
    const T wx = wide(ask_.vx) - turns * row(*ask_.y_m);
    const T wy = wide(ask_.vy) + turns * row(*ask_.x_m);
    const auto [sine, cosine] = xsimd::sincos(value_of(heading));
    const T c = through(heading, cosine, -sine);
    const T sn = through(heading, sine, cosine);
    const T forward = wx * c + wy * sn;
    s.slip = (wx * sn - wy * c) / forward;
    const V right = row({-1.0, 1.0, -1.0, 1.0});
    const V front = row({1.0, 1.0, 0.0, 0.0}), rear = row({0.0, 0.0, 1.0, 1.0});
    const T tread =
        wide(ask_.tread) + right * (front * wide(ask_.apart[at(End::front)]) + rear * wide(ask_.apart[at(End::rear)]));
    const auto runs_on = (row(ask_.drive->one_way) > V(0.5)) & (value_of(tread) < value_of(forward));
    s.lengthways = whichever((row(ask_.drive->driven) > V(0.5)) & !runs_on, (tread - forward) / forward, T(V(0.0)));
    std::array<V, tyre_constant_count> constants;
    for (std::size_t k = 0; k < constants.size(); ++k) constants[k] = row((*ask_.tyre)[k]);
    const TyreForce<T> force = TyreLaw<V>(constants).force(s);
    put(s.load_n, told.load_n);
    put(force.lengthways * c - force.sideways * sn, told.x_n);
    put(force.lengthways * sn + force.sideways * c, told.y_n);
    put(force.lengthways, told.lengthways_n);
    put(value_of(s.slip), told.slip);
    put(value_of(s.lean), told.lean);
    put(value_of(heading), told.heading);
    put(value_of(force.sideways), told.sideways_n);
    put(cosine, told.heading_cos);
    put(sine, told.heading_sin);
  }

 private:
  [[nodiscard]] V row(const PerWheel<double>& of) const { return V::load_unaligned(of.data() + first_); }
  /// The same for every wheel.
  static T wide(const WithSlopes<n>& of) {
    if constexpr (n == 0) {
      return V(of[0]);
    } else {
      T x;
      x.a = V(of[0]);
      for (int i = 0; i < n; ++i) x.v[i] = V(of[at(1 + i)]);
      return x;
    }
  }
  /// What answers the servo and the lateral acceleration alone.
  static T number(const V& value, const V& by_servo, const V& by_lateral) {
    if constexpr (n == 0) {
      return value;
    } else {
      T x(value);
      x.v[servo] = by_servo;
      x.v[lateral] = by_lateral;
      return x;
    }
  }
  void put(const V& x, PerWheel<double>& into) const { x.store_unaligned(into.data() + first_); }
  void put(const T& x, WheelsWithSlopes<n>& into) const {
    if constexpr (n == 0) {
      put(x, into[0]);
    } else {
      put(x.a, into[0]);
      for (int i = 0; i < n; ++i) put(x.v[i], into[at(1 + i)]);
    }
  }

  const WheelsAsk<n>& ask_;
  std::size_t first_;
};

/// A place in each lane.
template <class V>
[[gnu::flatten]] void push_axle(const AxleAsk& ask, const AxlePlaces& further, AxlePlaces& pushes) {
  static_assert(axle_places % V::size == 0);
  std::array<V, tyre_constant_count> constants;
  for (std::size_t k = 0; k < constants.size(); ++k) constants[k] = V((*ask.tyre)[static_cast<TyreConstant>(k)]);
  const TyreLaw<V> law(constants);
  for (std::size_t first = 0; first < axle_places; first += V::size) {
    const V turned = V(ask.sense) * V::load_unaligned(further.data() + first);
    V sum(0.0);
    for (std::size_t side = 0; side < 2; ++side) {
      const AxleAsk::Wheel& w = ask.wheel[side];
      const typename TyreLaw<V>::template Loaded<V> under{V(w.under.friction_n), V(w.under.over)};
      const TyreState<V> s{V(0.0), xsimd::tan(V(w.slip_rad) + turned), V(w.lean_rad), V(w.lengthways)};
      sum += law.force(under, s).sideways * V(w.heading_cos);
    }
    (V(ask.sense) * sum).store_unaligned(pushes.data() + first);
  }
}

template <class V, int n>
void tell_wheels(const WheelsAsk<n>& ask, WheelsTold<n>& told) {
  static_assert(wheel_count % V::size == 0);
  for (std::size_t first = 0; first < wheel_count; first += V::size) WheelsOfRegister<V, n>(ask, first).tell(told);
}

}  // namespace lowkite
