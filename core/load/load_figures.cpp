#include "core/load/load_figures.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace lowkite {
namespace {

using Value = std::optional<double>;

constexpr bool per_car = false;
constexpr bool per_axle = true;

const WheelState& wheel(const LoadSource& s, End e, Side side) {
  return s.balance.wheel[at(e)][at(side)];
}

constexpr auto figures = std::to_array<LoadFigure>({
    {"roll", "roll", "deg", 2, per_car, [](const LoadSource& s, End) -> Value { return degrees(s.balance.attitude.roll_rad); }},
    {"pitch", "nose down", "deg", 2, per_car, [](const LoadSource& s, End) -> Value { return degrees(s.balance.pitch_rad); }},
    {"roll_gradient", "roll per g", "deg", 2, per_car, [](const LoadSource& s, End) -> Value { return s.roll_gradient_deg_per_g; }},
    {"front_transfer", "front transfer", "%", 1, per_car,
     [](const LoadSource& s, End) -> Value {
       const double all = s.balance.transfer_n(End::front) + s.balance.transfer_n(End::rear);
       return std::abs(all) > 1e-6 ? 100.0 * s.balance.transfer_n(End::front) / all : 50.0;
     }},
    {"rise", "jacking, rise", "mm", 2, per_car, [](const LoadSource& s, End) -> Value { return s.balance.rise_mm; }},
    {"roll_frequency", "roll", "Hz", 1, per_car,
     [](const LoadSource& s, End) -> Value { return s.roll_motion ? Value(s.roll_motion->hz) : std::nullopt; }},
    {"roll_damping_ratio", "of critical in roll", "%", 0, per_car,
     [](const LoadSource& s, End) -> Value {
       return s.roll_motion && s.roll_motion->damping_ratio ? Value(100.0 * *s.roll_motion->damping_ratio) : std::nullopt;
     }},
    {"roll_axis_slope", "roll axis, rear up", "mm", 1, per_car,
     [](const LoadSource& s, End) -> Value {
       const auto& rc = s.balance.roll_centre_mm;
       return rc[0] && rc[1] ? Value(*rc[1] - *rc[0]) : std::nullopt;
     }},
    {"front_weight", "front weight", "%", 1, per_car,
     [](const LoadSource& s, End) -> Value { return 100.0 * s.balance.axle_n(End::front) / s.balance.total_n(); }},
    {"left_weight", "left weight", "%", 1, per_car, [](const LoadSource& s, End) -> Value { return 100.0 * s.balance.left(); }},
    {"cross_weight", "cross weight", "%", 1, per_car, [](const LoadSource& s, End) -> Value { return 100.0 * s.balance.cross(); }},
    {"height", "height", "mm", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return s.balance.attitude.ride_height_mm[at(e)]; }},
    {"load_left", "load L", "g", 0, per_axle,
     [](const LoadSource& s, End e) -> Value { return grams(wheel(s, e, Side::left).load_n); }},
    {"load_right", "load R", "g", 0, per_axle,
     [](const LoadSource& s, End e) -> Value { return grams(wheel(s, e, Side::right).load_n); }},
    {"camber_left", "camber L", "deg", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return degrees(wheel(s, e, Side::left).camber_rad); }},
    {"camber_right", "camber R", "deg", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return degrees(wheel(s, e, Side::right).camber_rad); }},
    {"toe_left", "toe-in L", "deg", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return degrees(wheel(s, e, Side::left).toe_rad); }},
    {"toe_right", "toe-in R", "deg", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return degrees(wheel(s, e, Side::right).toe_rad); }},
    {"roll_centre_then", "roll centre then", "mm", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return s.balance.roll_centre_mm[at(e)]; }},
    {"grip_lost", "grip lost, assumed tyre", "%", 1, per_axle,
     [](const LoadSource& s, End e) -> Value { return 100.0 * s.grip.lost[at(e)]; }},
    {"stroke", "stroke", "mm", 1, per_axle,
     [](const LoadSource& s, End e) -> Value {
       return std::min(wheel(s, e, Side::left).stroke_left_mm, wheel(s, e, Side::right).stroke_left_mm);
     }},
    {"roll_stiffness", "roll", "N mm/deg", 0, per_axle,
     [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].roll_n_mm_per_deg; }},
    {"bar_stiffness", "by its bar", "N mm/deg", 0, per_axle,
     [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].roll_by_bar_n_mm_per_deg; }},
    {"wheel_rate", "wheel", "N/mm", 3, per_axle, [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].wheel_n_per_mm; }},
    {"wheel_rate_pressed", "wheel, pressed 3 mm down", "N/mm", 3, per_axle,
     [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].wheel_n_per_mm_pressed; }},
    {"preload", "preload, wheel hanging", "N", 2, per_axle,
     [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].preload_n; }},
    {"third_spring", "by its third spring", "N/mm", 3, per_axle,
     [](const LoadSource& s, End e) -> Value {
       return s.rates[at(e)].heave_n_per_mm > 0.0 ? Value(s.rates[at(e)].heave_n_per_mm) : std::nullopt;
     }},
    {"ride_frequency", "ride", "Hz", 1, per_axle, [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].ride_hz; }},
    {"damping", "damping", "N s/m", 1, per_axle,
     [](const LoadSource& s, End e) -> Value {
       const auto& c = s.rates[at(e)].damping_n_s_per_mm;
       return c ? Value(1000.0 * *c) : std::nullopt;
     }},
    {"damping_ratio", "of critical", "%", 0, per_axle,
     [](const LoadSource& s, End e) -> Value {
       const auto& z = s.rates[at(e)].damping_ratio;
       return z ? Value(100.0 * *z) : std::nullopt;
     }},
    {"sag", "sag", "mm", 1, per_axle, [](const LoadSource& s, End e) -> Value { return s.rates[at(e)].sag_mm; }},
});

}  // namespace

tl::expected<LoadSource, std::string> read_load(const LoadedCar& loaded, const Acceleration& a,
                                                const TyreAssumption& tyre) {
  auto balance = loaded.balance(loaded.level_collars(), a);
  if (!balance) return tl::unexpected(balance.error());
  LoadSource s;
  s.balance = std::move(*balance);
  for (const End end : both_ends) s.rates[at(end)] = loaded.rates(end);
  s.roll_motion = loaded.roll_motion();
  s.grip = grip_balance(s.balance, a.lateral_g, tyre);
  s.roll_gradient_deg_per_g = loaded.roll_gradient_deg_per_g();
  return s;
}

double LoadFigure::resolution() const {
  return 0.5 * std::pow(10.0, -decimals);
}

std::span<const LoadFigure> load_figures() {
  return figures;
}

const LoadFigure* find_load_figure(std::string_view id) {
  for (const LoadFigure& f : figures)
    if (f.id == id) return &f;
  return nullptr;
}

}  // namespace lowkite
