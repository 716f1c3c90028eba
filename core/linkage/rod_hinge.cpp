#include "core/linkage/rod_hinge.hpp"

namespace lowkite {

tl::expected<Turn, RodMisfit> turn_until_rod_fits(const Axis& axis, const Vec3& p, const Vec3& q, double length,
                                                  Branch branch, const Vec3& rod_reference) {
  const RodEquation<double> equation(axis, p, q, length);
  const FoundTurn<double> t = equation.solve(axis.direction, branch, rod_reference);
  if (!t.found) return tl::unexpected(misfit_of(equation, length));
  return t.turn;
}

}  // namespace lowkite
