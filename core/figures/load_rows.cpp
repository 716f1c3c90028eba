// What is read off a car on its springs.
#include "core/figures/load_source.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/figures/figure_columns.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

using namespace figure_columns;

const WheelState& wheel(const LoadSource& s, End e, Side side) {
  return s.balance.wheel[at(e)][at(side)];
}

Value on_tyres(const LoadSource& s, double LoadedCar::RollOnTyres::*which) {
  return s.roll_on_tyres_deg_per_g ? Value((*s.roll_on_tyres_deg_per_g).*which) : std::nullopt;
}

constexpr auto load_rows = std::to_array<FigureSpec>({
    {"roll", marked("roll"), G::springs, U::deg, W::plain, 2, per_car, N::wheel, here, on_path, no_lesson, [](const LoadSource& s, End, Side) -> Value { return degrees(s.balance.attitude.roll_rad); }},
    {"pitch", marked("nose down"), G::springs, U::deg, W::plain, 2, per_car, N::wheel, here, on_path, no_lesson, [](const LoadSource& s, End, Side) -> Value { return degrees(s.balance.pitch_rad); }},
    {"roll_gradient", marked("roll per g"), G::springs, U::deg, W::plain, 2, per_car, N::wheel, here, of_roll_gradient, no_lesson, [](const LoadSource& s, End, Side) -> Value { return s.roll_gradient_deg_per_g; }},
    {"roll_on_tyres", marked("roll per g, tyres giving"), G::springs, U::deg, W::plain, 2, per_car, N::wheel, here, of_roll_on_tyres, no_lesson, [](const LoadSource& s, End, Side) -> Value { return on_tyres(s, &LoadedCar::RollOnTyres::likely); }},
    {"roll_on_hard_tyres", marked("roll per g, tyres at their hardest"), G::springs, U::deg, W::plain, 2, per_car, N::wheel, here, of_roll_on_tyres, no_lesson, [](const LoadSource& s, End, Side) -> Value { return on_tyres(s, &LoadedCar::RollOnTyres::on_hard); }},
    {"roll_on_soft_tyres", marked("roll per g, tyres at their softest"), G::springs, U::deg, W::plain, 2, per_car, N::wheel, here, of_roll_on_tyres, no_lesson, [](const LoadSource& s, End, Side) -> Value { return on_tyres(s, &LoadedCar::RollOnTyres::on_soft); }},
    {"front_transfer", marked("front transfer"), G::springs, U::percent, W::plain, 1, per_car, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End, Side) -> Value {
       const double all = s.balance.transfer_n(End::front) + s.balance.transfer_n(End::rear);
       return std::abs(all) > 1e-6 ? 100.0 * s.balance.transfer_n(End::front) / all : 50.0;
     }},
    {"rise", marked("jacking, rise"), G::springs, U::mm, W::plain, 2, per_car, N::wheel, here, on_path, no_lesson, [](const LoadSource& s, End, Side) -> Value { return s.balance.rise_mm; }},
    {"roll_frequency", marked("roll frequency"), G::springs, U::hz, W::plain, 1, per_car, N::wheel, here, of_roll_motion, no_lesson,
     [](const LoadSource& s, End, Side) -> Value { return s.roll_motion ? Value(s.roll_motion->hz) : std::nullopt; }},
    // One decimal: 5 % on a hole's diameter is 20 % of damping.
    {"roll_damping_ratio", marked("roll damping, times critical"), G::springs, U::count, W::plain, 1, per_car, N::wheel, here, of_roll_motion, no_lesson,
     [](const LoadSource& s, End, Side) -> Value {
       return s.roll_motion ? s.roll_motion->damping_ratio : std::nullopt;
     }},
    {"roll_axis_slope", marked("roll axis, rear up"), G::springs, U::mm, W::plain, 1, per_car, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End, Side) -> Value {
       const auto& rc = s.balance.roll_centre_mm;
       return rc[0] && rc[1] ? Value(*rc[1] - *rc[0]) : std::nullopt;
     }},
    {"front_weight", marked("front weight"), G::springs, U::percent, W::plain, 1, per_car, N::wheel, here, no_flag, no_lesson,
     [](const LoadSource& s, End, Side) -> Value { return 100.0 * s.balance.axle_n(End::front) / s.balance.total_n(); }},
    {"left_weight", marked("left weight"), G::springs, U::percent, W::plain, 1, per_car, N::wheel, here, no_flag, no_lesson, [](const LoadSource& s, End, Side) -> Value { return 100.0 * s.balance.left(); }},
    {"cross_weight", marked("cross weight"), G::springs, U::percent, W::plain, 1, per_car, N::wheel, here, no_flag, no_lesson, [](const LoadSource& s, End, Side) -> Value { return 100.0 * s.balance.cross(); }},
    {"height", marked("height"), G::springs, U::mm, W::plain, 1, per_axle, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.balance.attitude.ride_height_mm[at(e)]; }},
    {"wheel_load", marked("load"), G::springs, U::g, W::plain, 0, per_wheel, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side side) -> Value { return grams(wheel(s, e, side).load_n); }},
    {"camber_under_load", marked("camber"), G::springs, U::deg, W::plain, 1, per_wheel, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side side) -> Value { return degrees(wheel(s, e, side).camber_rad); }},
    {"toe_under_load", marked("toe-in"), G::springs, U::deg, W::plain, 1, per_wheel, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side side) -> Value { return degrees(wheel(s, e, side).toe_rad); }},
    {"roll_centre_then", marked("roll centre then"), G::springs, U::mm, W::plain, 1, per_axle, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.balance.roll_centre_mm[at(e)]; }},
    {"stroke", marked("stroke"), G::springs, U::mm, W::plain, 1, per_axle, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value {
       return std::min(wheel(s, e, Side::left).stroke_left_mm, wheel(s, e, Side::right).stroke_left_mm);
     }},
    {"third_in", marked("third spring pressed by"), G::springs, U::mm, W::plain, 1, per_axle, N::wheel, here, on_path, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.balance.third_in_mm[at(e)]; }},
    {"roll_stiffness", marked("roll stiffness"), G::springs, U::n_mm_per_deg, W::plain, 0, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].roll_n_mm_per_deg; }},
    {"bar_stiffness", marked("of it by the bar"), G::springs, U::n_mm_per_deg, W::plain, 0, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].roll_by_bar_n_mm_per_deg; }},
    {"wheel_rate", marked("wheel rate"), G::springs, U::n_per_mm, W::plain, 3, per_axle, N::wheel, here, of_rates, no_lesson, [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].wheel_n_per_mm; }},
    {"wheel_rate_out", marked("wheel rate, going out"), G::springs, U::n_per_mm, W::plain, 3, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].wheel_n_per_mm_going_out; }},
    {"wheel_rate_pressed", marked("wheel rate, 3 mm down"), G::springs, U::n_per_mm, W::plain, 3, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].wheel_n_per_mm_pressed; }},
    {"preload", marked("preload, wheel hanging"), G::springs, U::n, W::plain, 2, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].preload_n; }},
    {"third_spring", marked("by its third spring"), G::springs, U::n_per_mm, W::plain, 3, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value {
       return s.rates[at(e)].heave_n_per_mm > 0.0 ? Value(s.rates[at(e)].heave_n_per_mm) : std::nullopt;
     }},
    {"third_ratio", marked("third spring per mm of wheel"), G::springs, U::mm_per_mm, W::plain, 2, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].third_per_wheel; }},
    {"ride_frequency", marked("ride frequency"), G::springs, U::hz, W::plain, 1, per_axle, N::wheel, here, of_rates, no_lesson, [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].ride_hz > 0.0 ? Value(s.rates[at(e)].ride_hz) : std::nullopt; }},
    {"damping", marked("damping in heave"), G::springs, U::n_s_per_m, W::plain, 1, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value {
       const auto& c = s.rates[at(e)].damping_n_s_per_mm;
       return c ? Value(1000.0 * *c) : std::nullopt;
     }},
    {"roll_damping", marked("damping in roll"), G::springs, U::n_s_per_m, W::plain, 1, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value {
       const auto& c = s.rates[at(e)].roll_damping_n_s_per_mm;
       return c ? Value(1000.0 * *c) : std::nullopt;
     }},
    {"damping_ratio", marked("heave damping, times critical"), G::springs, U::count, W::plain, 1, per_axle, N::wheel, here, of_rates, no_lesson,
     [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].damping_ratio; }},
    {"sag", marked("sag"), G::springs, U::mm, W::plain, 1, per_axle, N::wheel, here, of_rates, no_lesson, [](const LoadSource& s, End e, Side) -> Value { return s.rates[at(e)].sag_mm; }},
});

}  // namespace

void LoadNeeds::add(const FigureSpec& figure) {
  constexpr unsigned at_rest = of_rates | of_roll_motion | of_roll_gradient | of_roll_on_tyres;
  stand = stand || (figure.flags & at_rest) == 0;
  rates = rates || figure.is(of_rates);
  roll_motion = roll_motion || figure.is(of_roll_motion);
  roll_gradient = roll_gradient || figure.is(of_roll_gradient);
  roll_on_tyres = roll_on_tyres || figure.is(of_roll_on_tyres);
}

tl::expected<LoadSource, CarFailure> read_load(const LoadedCar& loaded, const Acceleration& a, double servo_rad,
                                               const LoadNeeds& needs, const Balance* near) {
  LoadSource s;
  if (needs.stand) {
    auto balance = loaded.balance(loaded.level_collars(), a, servo_rad, near);
    if (!balance) return tl::unexpected(balance.error());
    s.balance = std::move(*balance);
  }
  if (needs.rates)
    for (const End end : both_ends) s.rates[at(end)] = loaded.rates(end);
  if (needs.roll_motion) s.roll_motion = loaded.roll_motion();
  if (needs.roll_gradient) s.roll_gradient_deg_per_g = loaded.roll_gradient_deg_per_g();
  if (needs.roll_on_tyres) s.roll_on_tyres_deg_per_g = loaded.roll_on_tyres_deg_per_g();
  return s;
}

std::span<const FigureSpec> load_figures() {
  return load_rows;
}

}  // namespace lowkite
