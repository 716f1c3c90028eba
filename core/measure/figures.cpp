#include "core/measure/figures.hpp"

#include <cmath>

namespace lowkite {
namespace {

using Value = std::optional<double>;

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
  const double outboard = side == Side::left ? 1.0 : -1.0;
  return outboard * (c.contact.across - c.instant_centre->across);
}

using G = FigureGroup;
using U = Unit;
using W = Wording;

constexpr std::array<FigureSpec, 19> specs{{
    {"camber", "camber", G::stance, U::deg, W::plain, 1, true, false, wheel_deg<&WheelFigures::camber_rad>},
    {"toe", "toe", G::stance, U::deg, W::toe, 1, true, false, wheel_deg<&WheelFigures::toe_rad>},
    {"track", "track at the ground", G::stance, U::mm, W::plain, 1, false, false,
     [](const FigureSource& s, End e, Side) -> Value { return s.car.axle[at(e)].track_mm; }},
    {"wheelbase", "wheelbase", G::stance, U::mm, W::plain, 1, true, false,
     [](const FigureSource& s, End, Side side) -> Value { return s.car.wheelbase_mm[at(side)]; }},
    {"ride_height", "ride height", G::stance, U::mm, W::plain, 1, false, false,
     [](const FigureSource& s, End e, Side) -> Value { return s.car.attitude.ride_height_mm[at(e)]; }},

    {"camber_gain", "camber gain", G::tyre, U::deg_per_mm, W::plain, 3, true, false,
     wheel_deg<&WheelFigures::camber_gain_rad_per_mm>},
    {"contact_path", "scrub per mm of bump", G::tyre, U::mm, W::plain, 3, true, false,
     [](const FigureSource& s, End e, Side side) -> Value { return wheel(s, e, side).contact_per_travel.y(); }},
    {"scrub_radius", "scrub radius", G::tyre, U::mm, W::plain, 1, true, true, kingpin_mm<&KingpinFigures::scrub_mm>},
    {"trail", "mechanical trail", G::tyre, U::mm, W::plain, 1, true, true, kingpin_mm<&KingpinFigures::trail_mm>},

    {"roll_centre", "roll centre, moving", G::roll, U::mm, W::plain, 1, false, false,
     [](const FigureSource& s, End e, Side) { return height(roll_centre(s, e).moving); }},
    {"roll_centre_locked", "roll centre, locked", G::roll, U::mm, W::plain, 1, false, true,
     [](const FigureSource& s, End e, Side) { return height(roll_centre(s, e).locked); }},
    {"roll_centre_drawn", "roll centre, drawn", G::roll, U::mm, W::plain, 1, false, false,
     [](const FigureSource& s, End e, Side) { return height(roll_centre(s, e).drawn); }},
    {"roll_centre_across", "roll centre, to the left", G::roll, U::mm, W::plain, 1, false, false,
     [](const FigureSource& s, End e, Side) -> Value {
       const auto& rc = roll_centre(s, e).moving;
       return rc ? Value(rc->across) : std::nullopt;
     }},
    {"swing_arm", "swing arm, drawn", G::roll, U::mm, W::plain, 0, true, false, swing_arm},

    {"caster", "caster", G::steering, U::deg, W::plain, 1, true, true, kingpin_deg<&KingpinFigures::caster_rad>},
    {"kingpin_inclination", "kingpin inclination", G::steering, U::deg, W::plain, 1, true, true,
     kingpin_deg<&KingpinFigures::inclination_rad>},
    {"caster_gain", "caster gain", G::steering, U::deg_per_mm, W::plain, 3, true, true,
     wheel_deg<&WheelFigures::caster_gain_rad_per_mm>},
    {"bump_steer", "bump steer, toe-in", G::steering, U::deg_per_mm, W::plain, 3, true, false,
     wheel_deg<&WheelFigures::bump_steer_rad_per_mm>},
    {"bump_steer_total", "bump steer in all", G::steering, U::deg, W::plain, 2, true, false,
     [](const FigureSource& s, End e, Side side) -> Value { return degrees(s.curve[at(e)].toe_span_rad(side)); }},
}};

}  // namespace

std::string_view symbol(Unit unit) {
  switch (unit) {
    case Unit::mm:
      return "mm";
    case Unit::deg:
      return "deg";
    case Unit::deg_per_mm:
      return "deg/mm";
  }
  return {};
}

double FigureSpec::resolution() const {
  return 0.5 * std::pow(10.0, -decimals);
}

std::span<const FigureSpec> figure_specs() {
  return specs;
}

const FigureSpec* find_figure(std::string_view id) {
  for (const FigureSpec& f : specs)
    if (f.id == id) return &f;
  return nullptr;
}

bool applies(const FigureSpec& figure, const Car& car, End end) {
  return !figure.needs_kingpin || car.axle(end).mechanism->steered;
}

}  // namespace lowkite
