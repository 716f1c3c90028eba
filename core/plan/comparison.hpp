// A change tried on the model: the baseline, the car as changed, and the car once its alignment is put back.
#pragma once

#include <memory>
#include <optional>

#include "core/measure/figures.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

/// Where the axles are held while figures are read: against each setup's own ride height.
struct ViewAttitude {
  double bump_mm = 0.0;  ///< chassis lowered at both ends; negative = lifted
  double roll_rad = 0.0;
  double rack_mm = 0.0;

  bool operator==(const ViewAttitude&) const = default;
};

/// One setup of a car, posed and read.
struct Variant {
  Setup setup;
  CarModel model;
  CarPose pose;
  FigureSource source;
};

tl::expected<Variant, CornerFailure> evaluate(const Car& car, const Setup& setup, const ViewAttitude& view,
                                              int curve_samples);

struct Comparison {
  ViewAttitude view;
  std::shared_ptr<const Variant> baseline;
  std::shared_ptr<const Variant> changed;
  std::shared_ptr<const Variant> reset;  ///< the same as `changed` when nothing needs turning
  ResetResult work;
  PerEnd<std::optional<double>> sits_lower_mm;  ///< after the alignment, with the collars left alone
};

/// Why there is nothing to compare: the setup in question and the corner that does not close.
struct ComparisonFailure {
  enum class Which : std::uint8_t { baseline, changed, reset } which = Which::changed;
  CornerFailure corner;
};

/// `previous`: an earlier comparison of the same car with as many samples; a baseline that has not changed is taken
/// from it.
tl::expected<Comparison, ComparisonFailure> compare(const Car& car, const Setup& baseline, const Setup& changed,
                                                    const ViewAttitude& view, const ResetOptions& options,
                                                    int curve_samples, const Comparison* previous = nullptr);

}  // namespace lowkite
