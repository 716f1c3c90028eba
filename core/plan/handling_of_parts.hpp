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

/// A part one step on, camber, toe and droop put back.
struct PartStep {
  PartHandle adjuster;
  double from = 0.0, to = 0.0;
  Handling after;
};
/// One step of every part that may be changed (`may`; empty: all), up, or down where it stands at its upper
/// end; `both_ways`: each way that there is. Left out: links that hold camber or toe (put back they would do nothing),
/// steps that cannot be stood on and those that reach the tyres in no way. False when `go_on(share)` stopped it.
bool each_step(const Car& car, const Setup& setup, const CornerAsk& ask, const SetupTable& table,
               std::span<const TyreDraw> tyres, const ListOf<Adjuster, char>& may, bool both_ways, unsigned threads,
               const std::function<bool(double)>& go_on, const std::function<void(const PartStep&)>& take);

/// Every part of the car, both axles, each by one step with camber, toe and droop put back. In the order of the car's
/// parts; left out: links that hold camber or toe (put back they would do nothing) and parts whose step cannot be stood
/// on. Fails with a sentence when the setup itself cannot be tabulated. `go_on(share)` false stops: what was tried is
/// returned.
tl::expected<std::vector<PartHandling>, CarFailure> handling_of_parts(
    const Car& car, const Setup& setup, const CornerAsk& ask, std::span<const TyreDraw> tyres,
    std::span<const double> weights = {}, unsigned threads = 2, const std::function<bool(double)>& go_on = {});

}  // namespace lowkite
