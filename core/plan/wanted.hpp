// Angles changed on purpose: a link that a hand turns is turned for its angle, so that angle is wanted from then on,
// and only what else moved is put back. And the way from a typed angle to turns of the right part.
#pragma once

#include "core/plan/reset.hpp"

namespace lowkite {

/// `after`: `before` with an adjuster changed by hand. Where that is a turnbuckle that holds camber or toe, the angle
/// that it now gives is wanted on the sides that changed; back where `baseline` has it, what that wants.
Setup with_wanted_angles(const Car& car, const Setup& baseline, const Setup& before, Setup after, int adjuster);

/// What the alignment is put back to: what the changed setup wants, else what the baseline wants, else as it stood.
CarTargets wanted_targets(const CarFigures& baseline_figures, const Setup& baseline, const Setup& changed);

/// The setup with an angle set on some wheels, deg (toe positive in): the links that hold it turned by eighths of a
/// turn, nothing else, and the angle wanted from then on. Fails where no turnbuckle holds it, or where the wheel cannot
/// stand so, with a sentence.
tl::expected<Setup, std::string> turned_to_angle(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                                 LinkHolds angle, double deg);

}  // namespace lowkite
