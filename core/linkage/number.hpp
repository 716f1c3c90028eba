// What a linkage is computed in: one double, or a register of several, a candidate a lane (see lanes.hpp).
//
// A question with a yes or no is answered for every lane at once, by a mask; of one double a mask is a bool. What is
// written with `select`, `both`, `any` and `all` is one source for both.
#pragma once

#include <cmath>
#include <optional>
#include <type_traits>

namespace lowkite {

template <class N>
struct NumberTraits;
template <>
struct NumberTraits<double> {
  using Mask = bool;
};
template <class N>
using Mask = typename NumberTraits<N>::Mask;

inline double select(bool mask, double yes, double no) {
  return mask ? yes : no;
}
inline bool any(bool mask) {
  return mask;
}
inline bool all(bool mask) {
  return mask;
}
template <class M>
M both(const M& a, const M& b) {
  if constexpr (std::is_same_v<M, bool>)
    return a && b;
  else
    return a & b;
}
template <class M>
M either(const M& a, const M& b) {
  if constexpr (std::is_same_v<M, bool>)
    return a || b;
  else
    return a | b;
}

template <class N>
N clamped(const N& x, double least, double most) {
  return select(x < N(least), N(least), select(x > N(most), N(most), x));
}

/// Whether a linkage closes, kept while it is solved. Of several lanes those that do not close fall out, and the rest
/// go on; of one, the reason is kept.
template <class N, class Failure>
class Closing {
 public:
  /// `why` tells the failure; it is asked for one lane only. False: nothing is left to go on with.
  template <class Why>
  bool demand(const Mask<N>& closes, const Why&) {
    closes_ = both(closes_, closes);
    return any(closes_);
  }
  [[nodiscard]] const Mask<N>& closes() const { return closes_; }

 private:
  Mask<N> closes_ = N(0.0) == N(0.0);
};

template <class Failure>
class Closing<double, Failure> {
 public:
  template <class Why>
  bool demand(bool closes, const Why& why) {
    if (!closes && !failure_) failure_ = why();
    return closes;
  }
  [[nodiscard]] bool closes() const { return !failure_; }
  [[nodiscard]] const std::optional<Failure>& failure() const { return failure_; }

 private:
  std::optional<Failure> failure_;
};

}  // namespace lowkite
