// A change tried on the model: the baseline, the car as changed, and the car once its alignment is put back.
#pragma once

#include <memory>
#include <optional>

#include "core/figures/variant.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

struct BenchReset;

struct Comparison {
  ViewAttitude view;
  std::shared_ptr<const Variant> baseline;
  std::shared_ptr<const Variant> changed;
  std::shared_ptr<const Variant> reset;  ///< the same as `changed` when nothing needs turning
  ResetResult work;
  std::shared_ptr<const BenchReset> bench;  ///< droop, collars and end points after the alignment
  std::shared_ptr<const Variant> aligned;   ///< with camber and toe put back, droop as it fell
  bool holds_droop = true;
  PerEnd<std::optional<double>> sits_lower_mm;  ///< after the alignment, with the collars left alone
};

/// Why there is nothing to compare: which setup cannot stand, and why.
struct ComparisonFailure {
  enum class Which : std::uint8_t { baseline, changed, reset } which = Which::changed;
  CarFailure why;
};

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

/// At an end that settles `reset` stands as it comes to with its collars left alone.
/// `previous`: an earlier comparison of the same car with as many samples; what has not changed is taken from it.
tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous = nullptr);

}  // namespace lowkite
