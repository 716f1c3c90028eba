// How a car comes to stand where nobody holds an end's height: on its springs where they are described, else with its
// shocks as long as before.
#pragma once

#include <optional>

#include "core/figures/variant.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

/// How much lower an end stands when its collars are left where `before` has them, mm, positive = lower: by its springs
/// and weights where they are described, else with its shocks as long as before. None where neither can be told.
std::optional<double> sits_lower(const Car& car, const Variant& before, const Variant& after, End end);

/// Whether an end stands as its parts let it: nobody holds its height, or its springs stand on spacers and no collar
/// can.
bool settles(const Car& car, End end, const ResetOptions& options);
bool settles_anywhere(const Car& car, const ResetOptions& options);

/// Brings every wheel back to its target where the car then stands: at an end that settles, the height that `changed`
/// has and `baseline` has, too, is where it stood before its parts were changed; any other height is where it stands
/// now, as it was measured. How it sits follows from the parts as they are once the angles stand, so the two are
/// brought together step by step.
tl::expected<ResetResult, CarFailure> reset_where_it_sits(const Car& car, const Variant& baseline, const Setup& changed,
                                                          const CarTargets& targets, const ResetOptions& options);

/// `after`: `before` with parts changed. A height that `before` has of its own, at an end whose springs stand on
/// spacers, goes with the parts; one that is still the baseline's is left to the comparison.
Setup with_heights_of_parts(const Car& car, const Setup& baseline, const Setup& before, Setup after);

}  // namespace lowkite
