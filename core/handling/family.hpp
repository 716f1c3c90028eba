// Tyres as a distribution: a family is what is believed about the tyres of one kind on one kind of surface, and a
// comparison is made over many tyres drawn from it, always the same ones.
#pragma once

#include <string>
#include <vector>

#include "core/handling/tyre.hpp"

namespace lowkite {

/// What is believed about one parameter: anything between, as likely.
struct TyreBelief {
  double least = 0.0;
  double most = 0.0;
  std::string reason;
};

/// How a tyre that is not at its temperature differs: factors on what a right one has.
enum class TyreWarmth : std::uint8_t { cold, right, hot };
struct TyreFactors {
  double grip = 1.0;
  double stiffness = 1.0;
};

struct TyreFamily {
  std::string id;
  std::string name;
  std::vector<std::string> surfaces;  ///< ids as in the log ("carpet"); empty: any
  std::array<TyreBelief, tyre_parameter_count> belief;
  std::array<TyreFactors, 3> warmth{};  ///< by TyreWarmth
  bool own = false;                     ///< the racer's, not ours
};

/// The number of tyres that everything is told over.
constexpr int usual_draws = 256;

/// `count` tyres of the family, spread evenly over all parameters at once (Sobol's sequence, by Boost.Random); the same
/// ones each time. Positive scales (stiffnesses, drags) are spread by their logarithm.
std::vector<TyreDraw> draw_tyres(const TyreFamily& family, int count = usual_draws,
                                 TyreWarmth warmth = TyreWarmth::right);

/// The family in which every parameter is what it is in the middle; for checks and examples.
TyreDraw middle_of(const TyreFamily& family);

}  // namespace lowkite
