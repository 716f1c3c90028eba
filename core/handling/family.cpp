#include "core/handling/family.hpp"

#include <boost/random/sobol.hpp>

namespace lowkite {
namespace {

/// What is spread by its logarithm: a factor of two either way is as likely.
bool by_ratio(TyreParameter p, const TyreBelief& b) {
  using P = TyreParameter;
  return b.least > 0.0 && (p == P::stiffness || p == P::lengthways_stiffness || p == P::rear_stiffness ||
                           p == P::oil_drag || p == P::differential_friction);
}

double between(TyreParameter p, const TyreBelief& b, double share) {
  if (by_ratio(p, b)) return b.least * std::pow(b.most / b.least, share);
  return b.least + share * (b.most - b.least);
}

}  // namespace

std::vector<TyreDraw> draw_tyres(const TyreFamily& family, int count, TyreWarmth warmth) {
  boost::random::sobol sequence(tyre_parameter_count);
  const double whole = static_cast<double>(boost::random::sobol::max()) + 1.0;
  std::vector<TyreDraw> draws(at(count));
  const TyreFactors& factors = family.warmth[at(warmth)];
  for (TyreDraw& draw : draws) {
    for (const TyreParameterSpec& spec : tyre_parameters()) {
      const auto i = at(spec.parameter);
      draw.value[i] = between(spec.parameter, family.belief[i], static_cast<double>(sequence()) / whole);
    }
    draw[TyreParameter::grip] *= factors.grip;
    draw[TyreParameter::stiffness] *= factors.stiffness;
  }
  return draws;
}

TyreDraw middle_of(const TyreFamily& family) {
  TyreDraw draw;
  for (const TyreParameterSpec& spec : tyre_parameters()) {
    const auto i = at(spec.parameter);
    draw.value[i] = between(spec.parameter, family.belief[i], 0.5);
  }
  return draw;
}

}  // namespace lowkite
