// What is read off a pose and off the whole travel.
#include "core/figures/figure_columns.hpp"
#include "core/words/say.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {
namespace {

using namespace figure_columns;

const WheelFigures& wheel(const FigureSource& s, End e, Side side) {
  return s.car.axle[at(e)].wheel[at(side)];
}
const RollCentre& roll_centre(const FigureSource& s, End e) {
  return s.car.axle[at(e)].roll_centre;
}
Value height(const std::optional<FrontPoint>& p) {
  return p ? Value(p->height) : std::nullopt;
}

template <double KingpinFigures::*member>
Value kingpin_mm(const FigureSource& s, End e, Side side) {
  const auto& k = wheel(s, e, side).kingpin;
  return k ? Value((*k).*member) : std::nullopt;
}
template <double KingpinFigures::*member>
Value kingpin_deg(const FigureSource& s, End e, Side side) {
  const auto& k = wheel(s, e, side).kingpin;
  return k ? Value(degrees((*k).*member)) : std::nullopt;
}
template <double WheelFigures::*member>
Value wheel_deg(const FigureSource& s, End e, Side side) {
  return degrees(wheel(s, e, side).*member);
}

Value swing_arm(const FigureSource& s, End e, Side side) {
  const WheelConstruction& c = roll_centre(s, e).construction[at(side)];
  if (!c.instant_centre) return std::nullopt;
  constexpr double as_good_as_parallel_mm = 20000.0;
  const double outboard = side == Side::left ? 1.0 : -1.0;
  const double arm = outboard * (c.contact.across - c.instant_centre->across);
  return std::abs(arm) < as_good_as_parallel_mm ? Value(arm) : std::nullopt;
}

const SideViewFigures& side_view(const FigureSource& s, End e, Side side) {
  return s.car.axle[at(e)].side_view[at(side)];
}
const CornerParts& parts(const FigureSource& s, End e, Side side) {
  return s.car.axle[at(e)].parts[at(side)];
}
const CornerTravel& travel(const FigureSource& s, End e, Side side) {
  return s.travel.corner[at(e)][at(side)];
}
Value in_degrees(const std::optional<double>& rad) {
  return rad ? Value(degrees(*rad)) : std::nullopt;
}

template <auto member>
Value of_shock(const FigureSource& s, End e, Side side) {
  const auto& shock = parts(s, e, side).shock;
  return shock ? Value((*shock).*member) : std::nullopt;
}
template <auto member>
Value of_shaft(const FigureSource& s, End e, Side side) {
  const auto& shaft = parts(s, e, side).shaft;
  return shaft ? Value((*shaft).*member) : std::nullopt;
}
template <auto member>
Value of_lock(const FigureSource& s, End, Side way) {
  return s.travel.lock ? Value(degrees(((*s.travel.lock).*member)[at(way)])) : std::nullopt;
}
const std::optional<SteeringFigures>& at_lock(const FigureSource& s, Side way) {
  return way == Side::left ? s.travel.at_left_lock : s.travel.at_right_lock;
}
Value ackermann_at_lock(const FigureSource& s, End, Side way) {
  const auto& f = at_lock(s, way);
  return f && f->ackermann ? f->ackermann->percent : std::nullopt;
}
Value outer_off_at_lock(const FigureSource& s, End, Side way) {
  const auto& f = at_lock(s, way);
  return f && f->ackermann ? in_degrees(f->ackermann->error_rad) : std::nullopt;
}

/// The largest lean of the joints of the link that sets the toe.
Value toe_link_joint(const FigureSource& s, End e, Side side) {
  const auto& joints = parts(s, e, side).joint;
  double most = 0.0;
  for (const JointAngles& j : joints) most = std::max({most, j.inner_rad, j.outer_rad});
  return degrees(most);
}

constexpr auto geometry_rows = std::to_array<FigureSpec>({
    {"camber", marked("camber"), G::stance, U::deg, W::plain, 1, per_wheel, N::wheel, here, by_wheels | watched | first_curve, L::camber | L::caster, wheel_deg<&WheelFigures::camber_rad>},
    {"toe", marked("toe"), G::stance, U::deg, W::toe, 1, per_wheel, N::wheel, here, by_wheels | watched | first_curve, L::toe | L::bump_steer, wheel_deg<&WheelFigures::toe_rad>},
    {"track", marked("track at the ground"), G::stance, U::mm, W::plain, 1, per_axle, N::wheel, here, by_wheels | watched | in_quiz, no_lesson,
     [](const FigureSource& s, End e, Side) -> Value { return s.car.axle[at(e)].track_mm; }},
    {"wheelbase", marked("wheelbase"), G::stance, U::mm, W::plain, 1, per_wheel, N::wheel, here, by_wheels | watched | in_quiz | from_the_side | between_ends | adds_up, no_lesson,
     [](const FigureSource& s, End, Side side) -> Value { return s.car.wheelbase_mm[at(side)]; }},
    {"ride_height", marked("ride height"), G::stance, U::mm, W::plain, 1, per_axle, N::wheel, here, no_flag, L::droop | L::heave,
     [](const FigureSource& s, End e, Side) -> Value { return s.car.attitude.ride_height_mm[at(e)]; }},

    {"camber_gain", marked("camber gain"), G::tyre, U::deg_per_mm, W::plain, 3, per_wheel, N::linkage, here, by_wheels | watched | in_quiz | kept, only(L::camber),
     wheel_deg<&WheelFigures::camber_gain_rad_per_mm>},
    {"contact_path", marked("scrub per mm of bump"), G::tyre, U::mm, W::plain, 3, per_wheel, N::linkage, here, by_wheels, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value { return wheel(s, e, side).contact_per_travel.y(); }},
    {"scrub_radius", marked("scrub radius"), G::tyre, U::mm, W::plain, 1, per_wheel, N::kingpin, here, by_wheels, only(L::kingpin), kingpin_mm<&KingpinFigures::scrub_mm>},
    {"trail", marked("mechanical trail"), G::tyre, U::mm, W::plain, 1, per_wheel, N::kingpin, here, by_wheels | watched | in_quiz | from_the_side, L::caster | L::kingpin | L::trail, kingpin_mm<&KingpinFigures::trail_mm>},

    {"roll_centre", marked("roll centre, moving"), G::roll, U::mm, W::plain, 1, per_axle, N::linkage, here, by_wheels | watched | in_quiz | kept | first_curve, L::roll_centre | L::roll_stiffness,
     [](const FigureSource& s, End e, Side) { return height(roll_centre(s, e).moving); }},
    {"roll_centre_locked", marked("roll centre, locked"), G::roll, U::mm, W::plain, 1, per_axle, N::kingpin, here, by_wheels, only(L::roll_centre),
     [](const FigureSource& s, End e, Side) { return height(roll_centre(s, e).locked); }},
    {"roll_centre_drawn", marked("roll centre, drawn"), G::roll, U::mm, W::plain, 1, per_axle, N::linkage, here, by_wheels, only(L::roll_centre),
     [](const FigureSource& s, End e, Side) { return height(roll_centre(s, e).drawn); }},
    {"roll_centre_across", marked("roll centre, to the left"), G::roll, U::mm, W::plain, 1, per_axle, N::linkage, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side) -> Value {
       const auto& rc = roll_centre(s, e).moving;
       return rc ? Value(rc->across) : std::nullopt;
     }},
    {"swing_arm", marked("swing arm, drawn"), G::roll, U::mm, W::plain, 0, per_wheel, N::linkage, here, no_flag, no_lesson, swing_arm},

    {"caster", marked("caster"), G::steering, U::deg, W::plain, 1, per_wheel, N::kingpin, here, by_wheels | watched | in_quiz | from_the_side, L::caster | L::trail, kingpin_deg<&KingpinFigures::caster_rad>},
    {"kingpin_inclination", marked("kingpin inclination"), G::steering, U::deg, W::plain, 1, per_wheel, N::kingpin, here, by_wheels, only(L::kingpin),
     kingpin_deg<&KingpinFigures::inclination_rad>},
    {"caster_gain", marked("caster gain"), G::steering, U::deg_per_mm, W::plain, 3, per_wheel, N::kingpin, here, by_wheels, no_lesson,
     wheel_deg<&WheelFigures::caster_gain_rad_per_mm>},
    {"bump_steer", marked("bump steer, toe-in"), G::steering, U::deg_per_mm, W::plain, 3, per_wheel, N::linkage, here, by_wheels | watched | in_quiz | kept | from_above, L::toe | L::bump_steer,
     wheel_deg<&WheelFigures::bump_steer_rad_per_mm>},
    {"bump_steer_total", marked("bump steer in all"), G::steering, U::deg, W::plain, 2, per_wheel, N::linkage, over_all, no_flag, L::toe | L::bump_steer,
     [](const FigureSource& s, End e, Side side) -> Value { return degrees(travel(s, e, side).toe_span_rad); }},

    {"tie_to_arm", marked("tie rod against the arm"), G::steering, U::deg, W::plain, 1, per_wheel, N::toe_link, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) { return in_degrees(parts(s, e, side).tie_to_arm_rad); }},
    {"tie_to_steering_arm", marked("tie rod to steering arm"), G::steering, U::deg, W::plain, 1, per_wheel, N::toe_link, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) { return in_degrees(parts(s, e, side).tie_to_steering_arm_rad); }},
    {"joint_angle", marked("steepest ball joint"), G::steering, U::deg, W::plain, 1, per_wheel, N::linkage, here, no_flag, no_lesson, toe_link_joint},

    {"roll_centre_shift", marked("roll centre aside in roll"), G::roll, U::mm_per_deg, W::plain, 1, per_axle, N::linkage, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side) { return s.travel.roll_centre_per_degree_mm[at(e)]; }},
    {"camber_in_roll", marked("outer camber in roll"), G::roll, U::deg_per_deg, W::plain, 2, per_wheel, N::linkage, over_all, no_flag, only(L::camber),
     [](const FigureSource& s, End e, Side side) -> Value {
       return degrees(travel(s, e, side).camber_per_degree_of_roll_rad);
     }},

    {"side_swing_arm", marked("side-view swing arm"), G::side, U::mm, W::plain, 0, per_wheel, N::linkage, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value {
       const auto& c = side_view(s, e, side).swing_centre;
       return c ? Value(c->across) : std::nullopt;
     }},
    {"anti_braking", marked("anti-dive / lift, braking"), G::side, U::percent, W::plain, 0, per_wheel, N::braked, here, watched | in_quiz | from_the_side | between_ends, only(L::anti),
     [](const FigureSource& s, End e, Side side) -> Value { return side_view(s, e, side).anti_braking_percent; }},
    {"anti_power", marked("anti-lift / squat, power"), G::side, U::percent, W::plain, 0, per_wheel, N::driven, here, between_ends, only(L::anti),
     [](const FigureSource& s, End e, Side side) -> Value { return side_view(s, e, side).anti_power_percent; }},

    {"steer_angle", marked("wheel steered to the left"), G::lock, U::deg, W::plain, 1, per_wheel, N::kingpin, here, no_flag, only(L::ackermann),
     [](const FigureSource& s, End, Side side) -> Value {
       return s.car.steering ? Value(degrees(s.car.steering->steer_rad[at(side)])) : std::nullopt;
     }},
    {"ackermann_error", marked("outer wheel against ideal"), G::lock, U::deg, W::plain, 1, per_car, N::kingpin, here, between_ends, no_lesson,
     [](const FigureSource& s, End, Side) -> Value {
       return s.car.steering && s.car.steering->ackermann ? in_degrees(s.car.steering->ackermann->error_rad) : std::nullopt;
     }},
    {"ackermann", marked("Ackermann, toe taken off"), G::lock, U::percent, W::plain, 0, per_car, N::kingpin, here, kept | between_ends, only(L::ackermann),
     [](const FigureSource& s, End, Side) -> Value {
       return s.car.steering && s.car.steering->ackermann ? s.car.steering->ackermann->percent : std::nullopt;
     }},
    {"steering_ratio", marked("servo to wheel, middle"), G::lock, U::deg_per_deg, W::plain, 2, per_car, N::servo, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End, Side) -> Value { return s.travel.ratio_in_the_middle; }},
    {"usable_servo", marked("usable servo angle"), G::lock, U::deg, W::plain, 1, per_wheel, N::servo, over_all, watched, no_lesson,
     [](const FigureSource& s, End, Side way) -> Value {
       return s.travel.lock ? Value(degrees(s.travel.lock->usable[at(way)].servo_rad)) : std::nullopt;
     }},
    {"end_point", marked("servo at the end point"), G::lock, U::deg, W::plain, 1, per_wheel, N::servo, over_all, no_flag, no_lesson,
     of_lock<&LockFigures::end_point_rad>},
    {"lock_lost", marked("servo lost to travel"), G::lock, U::deg, W::plain, 1, per_wheel, N::servo, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End, Side way) -> Value {
       if (!s.travel.lock) return std::nullopt;
       const LockFigures& l = *s.travel.lock;
       return degrees(l.at_ride_height[at(way)].servo_rad - l.usable[at(way)].servo_rad);
     }},
    {"lock_inside", marked("inside wheel at the end point"), G::lock, U::deg, W::plain, 1, per_wheel, N::servo, over_all, no_flag, no_lesson,
     of_lock<&LockFigures::inside_rad>},
    {"lock_outside", marked("outside wheel there"), G::lock, U::deg, W::plain, 1, per_wheel, N::servo, over_all, no_flag, no_lesson,
     of_lock<&LockFigures::outside_rad>},
    {"ackermann_at_lock", marked("Ackermann at the end point"), G::lock, U::percent, W::plain, 0, per_wheel, N::servo, over_all, between_ends, no_lesson,
     ackermann_at_lock},
    {"ackermann_error_at_lock", marked("outer wheel against ideal there"), G::lock, U::deg, W::plain, 1, per_wheel, N::servo, over_all, between_ends, no_lesson,
     outer_off_at_lock},
    {"turning_radius", marked("turning radius there"), G::lock, U::mm, W::plain, 0, per_wheel, N::servo, over_all, between_ends, no_lesson,
     [](const FigureSource& s, End, Side way) -> Value {
       const auto& f = at_lock(s, way);
       return f && f->turning_radius_mm ? Value(std::abs(*f->turning_radius_mm)) : std::nullopt;
     }},
    {"bump_steer_at_lock", marked("bump steer at the end point"), G::lock, U::deg, W::plain, 2, per_wheel, N::servo, over_all, no_flag, no_lesson,
     of_lock<&LockFigures::toe_span_rad>},
    {"horn_from_square", marked("horn away from square"), G::lock, U::deg, W::plain, 1, per_car, N::servo, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End, Side) -> Value {
       return s.travel.lock ? Value(degrees(s.travel.lock->horn_from_square_rad)) : std::nullopt;
     }},
    {"servo_trim", marked("servo trim, to the left"), G::lock, U::deg, W::plain, 1, per_car, N::servo, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End, Side) -> Value {
       return s.travel.lock ? Value(degrees(s.travel.lock->trim_rad)) : std::nullopt;
     }},
    {"tie_rods_differ", marked("tie rods, left less right"), G::lock, U::mm, W::plain, 2, per_car, N::servo, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End, Side) -> Value {
       return s.travel.lock ? Value(s.travel.lock->tie_rods_differ_mm) : std::nullopt;
     }},

    {"droop", marked("droop at the wheel"), G::travel, U::mm, W::plain, 1, per_wheel, N::stops, over_all, watched | in_quiz, only(L::droop),
     [](const FigureSource& s, End e, Side side) -> Value {
       return travel(s, e, side).stops.droop.from_ride_height_mm;
     }},
    {"bump", marked("bump to the first stop"), G::travel, U::mm, W::plain, 1, per_wheel, N::stops, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value { return travel(s, e, side).stops.bump.from_ride_height_mm; }},

    {"shock_length", marked("shock length"), G::shock, U::mm, W::plain, 1, per_wheel, N::shock, here, no_flag, no_lesson,
     of_shock<&ShockFigures::length_mm>},
    {"shock_lean", marked("shock leans in by"), G::shock, U::deg, W::plain, 1, per_wheel, N::shock, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value {
       const auto& shock = parts(s, e, side).shock;
       return shock ? Value(degrees(shock->lean_rad)) : std::nullopt;
     }},
    {"motion_ratio", marked("motion ratio"), G::shock, U::mm_per_mm, W::plain, 3, per_wheel, N::shock, here, watched | in_quiz, L::roll_stiffness | L::heave,
     of_shock<&ShockFigures::motion_ratio>},
    {"motion_ratio_change", marked("its change over the travel"), G::shock, U::mm_per_mm, W::plain, 3, per_wheel, N::shock, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value {
       const CornerTravel& t = travel(s, e, side);
       if (!t.motion_ratio_in_bump || !t.motion_ratio_in_droop) return std::nullopt;
       return *t.motion_ratio_in_bump - *t.motion_ratio_in_droop;
     }},
    {"shock_left_bump", marked("stroke left in bump"), G::shock, U::mm, W::plain, 1, per_wheel, N::shock_ends, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value {
       const auto& shock = parts(s, e, side).shock;
       return shock ? shock->left_in_bump_mm : std::nullopt;
     }},
    {"shock_left_droop", marked("stroke left in droop"), G::shock, U::mm, W::plain, 1, per_wheel, N::shock_ends, here, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value {
       const auto& shock = parts(s, e, side).shock;
       return shock ? shock->left_in_droop_mm : std::nullopt;
     }},

    {"shaft_depth", marked("pin in the cup"), G::shaft, U::mm, W::plain, 1, per_wheel, N::shaft, here, no_flag, no_lesson,
     of_shaft<&ShaftFigures::depth_mm>},
    {"shaft_hold", marked("least hold to spare"), G::shaft, U::mm, W::plain, 1, per_wheel, N::shaft, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) { return travel(s, e, side).shaft_least_to_falling_out_mm; }},
    {"shaft_room", marked("least room to the bottom"), G::shaft, U::mm, W::plain, 1, per_wheel, N::shaft, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) { return travel(s, e, side).shaft_least_to_bottoming_mm; }},
    {"shaft_angle", marked("steepest outer joint"), G::shaft, U::deg, W::plain, 1, per_wheel, N::shaft, over_all, no_flag, no_lesson,
     [](const FigureSource& s, End e, Side side) -> Value {
       return degrees(travel(s, e, side).shaft_most_angle_rad);
     }},
});

}  // namespace

std::span<const FigureSpec> geometry_figures() {
  return geometry_rows;
}

}  // namespace lowkite
