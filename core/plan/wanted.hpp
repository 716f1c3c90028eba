// What a hand set on purpose: a link that is turned is turned for its angle, so that angle is wanted from then on, and
// only what else moved is put back. And the way from a typed value to turns of the right part.
#pragma once

#include <span>

#include "core/figures/variant.hpp"
#include "core/plan/reset.hpp"

namespace lowkite {

/// An angle of a wheel that links can set.
enum class WheelAngle : std::uint8_t { camber, toe, caster };
std::string_view name_of(WheelAngle angle);
/// True where every link that sets it can be turned: caster takes two upper links.
bool can_set(const Car& car, End end, WheelAngle angle);

/// From now on the angle is wanted on this wheel, deg.
void want(Setup& setup, End end, Side side, WheelAngle angle, double deg);

/// `after`: `before` with an adjuster changed by hand. Where that is a turnbuckle that sets an angle, the angle that it
/// now gives is wanted on the sides that changed; where it is a droop screw, or spacers in a shock, that lets the wheel
/// hang otherwise, so is that. Back where `baseline` has it, what that wants.
Setup with_what_is_wanted(const Car& car, const Setup& baseline, const Setup& before, Setup after, PartHandle adjuster);

/// The setup with parts changed on both sides by hand, one after the other, as above.
Setup changed_by_hand(const Car& car, const Setup& baseline, Setup setup, std::span<const PartChange> changes);

/// The same where only the droop that changed spacers and screws give counts; for searches, which hold every angle.
Setup changed_for_droop(const Car& car, const Setup& baseline, Setup setup, std::span<const PartChange> changes);

/// How low a wheel shall hang, mm from the plate's underside down to the tyre's lowest point: what the changed setup
/// wants, else what the one before wants, else as it hung.
double wanted_hanging(const Variant& before, const Setup& changed, End end, Side side);

/// What the alignment is put back to: what the changed setup wants, else what the baseline wants, else as it stood.
CarTargets wanted_targets(const CarFigures& baseline_figures, const Setup& baseline, const Setup& changed);

/// The setup with an angle set on some wheels, deg (toe positive in): the links that set it turned by eighths of a
/// turn, nothing else, and the angle wanted from then on. With caster the camber is kept. Fails where no turnbuckle
/// sets it, where the thread ends before, or where the wheel cannot stand so, with a sentence.
tl::expected<Setup, CarFailure> turned_to_angle(const Car& car, const Setup& setup, End end, PerSide<bool> sides,
                                                WheelAngle angle, double deg);

/// The setup with a link's turnbuckle turned by eighths of a turn to a length between ball centres, mm. Angles that
/// the link sets are wanted from then on. Fails where the thread ends before, or where the wheel cannot stand so, with
/// a sentence.
tl::expected<Setup, CarFailure> turned_to_length(const Car& car, const Setup& baseline, const Setup& setup,
                                                 PerSide<bool> sides, PartHandle turnbuckle, double mm);
/// Length between ball centres that a turnbuckle gives its link on one side, mm.
double link_length_mm(const Car& car, const Setup& setup, PartHandle turnbuckle, Side side);

}  // namespace lowkite
