// A change tried on the model: the baseline, the car as changed, and the car once its alignment is put back.
#pragma once

#include <memory>
#include <optional>

#include "core/plan/settling.hpp"

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

/// At an end that settles `reset` stands as it comes to with its collars left alone.
/// `previous`: an earlier comparison of the same car with as many samples; what has not changed is taken from it.
tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous = nullptr);

}  // namespace lowkite
