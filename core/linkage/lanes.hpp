// Several candidates at once: a register of doubles as the number that linkages are computed in. Only for sources that
// are compiled for the instruction set that they name (see plan/lanes).
#pragma once

#include <Eigen/Core>
#include <xsimd/xsimd.hpp>

#include "core/linkage/number.hpp"

namespace lowkite {

template <class Arch>
struct NumberTraits<xsimd::batch<double, Arch>> {
  using Mask = xsimd::batch_bool<double, Arch>;
};

}  // namespace lowkite

template <class Arch>
struct Eigen::NumTraits<xsimd::batch<double, Arch>> : Eigen::NumTraits<double> {
  using Real = xsimd::batch<double, Arch>;
  using NonInteger = Real;
  using Nested = Real;
  using Literal = double;
};
