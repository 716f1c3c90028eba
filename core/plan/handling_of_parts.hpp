// What one step of every part does to what the driver feels: this car's own numbers in place of a rule of thumb.
#pragma once

#include <functional>
#include <vector>

#include "core/handling/over_tyres.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

struct PartHandling {
  PartHandle adjuster;
  double from = 0.0, to = 0.0;  ///< one step up, or down where it stands at its upper end
  /// By phase and figure; none: cannot be told.
  std::array<std::array<std::optional<HandlingDifference>, handling_figure_count>, phase_count> by;
};

/// Every part of the car, both axles, each by one step with camber, toe and droop put back. In the order of the car's
/// parts; left out: links that hold camber or toe (put back they would do nothing), parts whose step cannot be stood
/// on and those that reach the tyres in no way. Fails with a sentence when the setup itself cannot be tabulated.
/// `go_on(share)` false stops: what was tried is returned.
tl::expected<std::vector<PartHandling>, CarFailure> handling_of_parts(
    const Car& car, const Setup& setup, const CornerAsk& ask, std::span<const TyreDraw> tyres,
    std::span<const double> weights = {}, unsigned threads = 2, const std::function<bool(double)>& go_on = {});

}  // namespace lowkite
