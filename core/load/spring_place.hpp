// Where the springs of a corner stand and how the wheel's motion presses them: on a shock between two mounts, on a
// kingpin under a sliding stub axle, or on a pod that carries both wheels.
//
// A pod with its shock in the middle has one spring for two wheels: each corner then counts half of it. A pod's side
// springs stand beside it and hold the roll.
#pragma once

#include <cstdint>
#include <optional>

#include "core/load/damper.hpp"
#include "core/load/spring.hpp"
#include "core/pose/pose.hpp"

namespace lowkite {

enum class SpringPlace : std::uint8_t { none, shock, kingpin, pod };
SpringPlace spring_place(const CornerModel& corner);

/// Of the spring and damper at a corner, what works on this wheel: a half where one stands in the middle of a pod, else
/// the whole.
double spring_share(const CornerModel& corner);

/// The spring that a wheel stands on (see `spring_share`); a rate of 0 where none is described.
SpringLaw spring_of(const CornerModel& corner);
/// The damper's inside on a corner's shock; none where the car file does not tell all of it.
std::optional<Piston> piston_of(const CornerModel& corner);

/// What bears the spring, mm: between the shock's mounts, or between the spring's seats on a kingpin; and how fast that
/// shortens per rad of arm. Precondition: the corner has a place for a spring.
double shock_length(const CornerModel& corner, const CornerPose& pose);
/// What of it the linkage alone decides, mm: how far the mounts are apart, or how far a kingpin has slid; and the
/// length there, whatever spring it is.
double shock_at(const CornerModel& corner, const CornerPose& pose);
double shock_length(const CornerModel& corner, double at_mm);
double shock_per_arm(const CornerModel& corner, const CornerPose& pose);

/// Of the shock, or of a stub axle's slide, until it meets its end in bump, mm; none where that is not described.
std::optional<double> stroke_left(const CornerModel& corner, const CornerPose& pose);
std::optional<double> stroke_left(const CornerModel& corner, double at_mm);

/// From the shock's lower mount up to the spring's lower end, mm; a longer eyelet takes it along.
double spring_seat(const Axle& axle, const CornerModel& corner);

/// Shortening of the shock per rise of the contact over the ground, all given in the corner's frame; none without a
/// place for a spring.
std::optional<double> shock_per_contact(const CornerModel& corner, const CornerPose& pose, const Ground& corner_ground);

/// How fast the distance of two points shortens while the body that carries `lower` moves with `twist`, mm per unit.
double shortening(const CornerModel& corner, const CornerPose& pose, PointHandle upper, PointHandle lower,
                  const Twist& twist);

/// How fast a pod's side spring shortens per rise of the contact while both wheels move alike, in the corner's frame.
double side_per_contact(const CornerModel& corner, const CornerPose& pose, const Ground& corner_ground);

/// Whether the corner belongs to a pod with described side springs, and what one of them pushes with, N, when it is
/// `pressed_mm` shorter than with the car at rest.
bool has_side_spring(const CornerModel& corner);
double side_spring_n(const CornerModel& corner, double pressed_mm);
double side_length(const CornerModel& corner, const CornerPose& pose);

/// The parts that hold an axle's springs up.
enum class SpringHolder : std::uint8_t {
  collars,  ///< one on each shock
  spacers,  ///< in steps, under springs without a collar: ride height and droop follow from them
  pod       ///< one collar in the middle, and the side springs' screws against each other
};
SpringHolder spring_holder(const Car& car, End end);
/// The part of the box that is the spacers under an axle's springs, if there is one.
PartHandle spacers_under_springs(const Car& car, End end);

}  // namespace lowkite
