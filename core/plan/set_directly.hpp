// Figures that a hand sets without changing another part: angles by the links that hold them, ride height by the
// collars, droop by what stops the hanging wheel, full lock by the transmitter's end points.
#pragma once

#include "core/figures/variant.hpp"
#include "core/plan/reset.hpp"
#include "core/plan/wanted.hpp"

namespace lowkite {

struct DirectlySet {
  enum class By : std::uint8_t { links, collars, droop_stop, end_points };
  By by = By::links;
  std::optional<WheelAngle> angle{};  ///< by links
  double least = 0.0;                 ///< what may be asked for, in the figure's unit
  double most = 0.0;
  bool through_another = false;  ///< it follows from a figure that is set: trail from caster, the outside wheel's lock
};

/// None: the figure follows from the parts, and nothing sets it by itself.
std::optional<DirectlySet> set_directly(const FigureSpec& figure, const Car& car, End end);
/// Whether these holds leave it to be set: what is not put back is not set either.
bool is_held(const DirectlySet& direct, const ResetOptions& holds);

/// The setup with a figure wanted on both wheels, in its unit: the ride height is that at once, links, droop and end
/// points are brought there by putting back what is wanted (reset_alignment, reset_on_bench). `now`: the car as it
/// stands at the setup's ride heights. Fails with a sentence where that cannot be asked for.
tl::expected<Setup, CarFailure> with_figure_set(const Car& car, Setup wish, const Variant& now,
                                                const FigureSpec& figure, End end, const DirectlySet& direct,
                                                double value);

}  // namespace lowkite
