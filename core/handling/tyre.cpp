#include "core/handling/tyre.hpp"

#include <numbers>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

using P = TyreParameter;

constexpr std::array parameter_rows = std::to_array<TyreParameterSpec>({
    {P::grip, "grip", marked("friction"), "", 2, 0.2, 4.0},
    {P::grip_falls, "grip_falls_with_load", marked("fall of friction with load"), "", 3, -0.1, 0.6},
    {P::stiffness, "stiffness", marked("cornering stiffness over load"), "1/rad", 1, 1.0, 80.0},
    {P::stiffness_falls, "stiffness_falls_with_load", marked("fall of stiffness with load"), "", 3, -0.2, 0.8},
    {P::lean_steers, "lean_steers", marked("slip that a lean is worth"), "deg/deg", 3, -0.2, 1.5},
    {P::best_lean, "best_lean_deg", marked("best lean into the turn"), "deg", 1, -5.0, 10.0},
    {P::lean_loss, "lean_loss_per_deg2", marked("loss for a squared degree off that lean"), "1/deg2", 4, 0.0, 0.05},
    {P::past_peak, "past_peak", marked("sharpness of letting go (1 = no peak)"), "", 2, 1.0, 1.9},
    {P::lengthways_stiffness, "lengthways_stiffness", marked("stiffness lengthways over sideways"), "", 2, 0.3, 4.0},
    {P::rear_grip, "rear_grip", marked("rear tyres' friction over the front's"), "", 3, 0.5, 2.0},
    {P::rear_stiffness, "rear_stiffness", marked("rear tyres' stiffness over the front's"), "", 2, 0.3, 3.0},
    {P::oil_drag, "oil_drag", marked("drag of 1000 cSt in a differential"), "N mm s/rad", 2, 0.0, 20.0},
    {P::differential_friction, "differential_friction", marked("friction of a differential's gears"), "N mm", 1, 0.0,
     200.0},
});
static_assert(parameter_rows.size() == tyre_parameter_count, "every parameter has its row");

}  // namespace

std::span<const TyreParameterSpec> tyre_parameters() {
  return parameter_rows;
}

const TyreParameterSpec& spec_of(TyreParameter parameter) {
  return parameter_rows[at(parameter)];
}

TyreAt::TyreAt(const TyreDraw& d, bool rear, double reference_n)
    : TyreLaw({reference_n, d[P::grip] * (rear ? d[P::rear_grip] : 1.0), d[P::grip_falls],
               d[P::stiffness] * (rear ? d[P::rear_stiffness] : 1.0), d[P::stiffness_falls], d[P::lean_steers],
               d[P::best_lean], d[P::lean_loss], d[P::past_peak], d[P::lengthways_stiffness]}) {}

std::optional<double> TyreAt::peak() const {
  const double shape = (*this)[TyreConstant::shape];
  // Sin is highest a quarter turn from 0, which an arctangent times the shape reaches only beyond 1.
  if (shape < 1.0 + 1e-9) return std::nullopt;
  return shape * std::tan(0.5 * std::numbers::pi / shape);
}

double TyreAt::friction(double load_n) const {
  return (*this)[TyreConstant::grip] *
         std::pow(load_n / (*this)[TyreConstant::reference_n], -(*this)[TyreConstant::grip_falls]);
}

double TyreAt::stiffness(double load_n) const {
  return (*this)[TyreConstant::stiffness] *
         std::pow(load_n / (*this)[TyreConstant::reference_n], -(*this)[TyreConstant::stiffness_falls]) * load_n;
}

}  // namespace lowkite
