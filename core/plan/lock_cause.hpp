// Why the servo may turn further one way than the other: found by trying, not by rules. What single part, moved by
// itself, makes both ways alike, and by how much.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/car/setup.hpp"
#include "core/measure/lock.hpp"

namespace lowkite {

/// Usable servo angles that are closer than this are alike: finer than an end point can be set.
constexpr double lock_alike_rad = radians(0.25);

/// The lock of a model as it stands at ride height; none without a steering linkage or where the car cannot stand.
std::optional<LockFigures> lock_of(const CarModel& model);

/// Usable servo angle to the left less that to the right, rad.
double lock_apart(const LockFigures& lock);

/// One part moved, and the lock that it then gives.
struct LockRemedy {
  PartHandle adjuster;
  Setting from;
  Setting to;
  double apart_rad = 0.0;  ///< left less right after it
  double least_rad = 0.0;  ///< the smaller of the two after it
};

struct LockExplanation {
  double apart_rad = 0.0;  ///< left less right as it is
  double least_rad = 0.0;  ///< the smaller of the two as it is
  /// Parts that make both ways alike by themselves, the least work first; empty: none does, or they are alike.
  std::vector<LockRemedy> remedies;

  [[nodiscard]] bool alike() const { return std::abs(apart_rad) < lock_alike_rad; }
};

/// Tries, each by itself: every thread of the steering in eighths of a turn, every position of its other parts, and
/// every part of the front axle that stands unlike left and right put alike. None where there is no lock to speak of.
/// `go_on` is asked between parts; false stops with what was found so far.
std::optional<LockExplanation> explain_lock(const Car& car, const Setup& setup,
                                            const std::function<bool()>& go_on = {});

}  // namespace lowkite
