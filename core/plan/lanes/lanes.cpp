#include "core/plan/lanes/lanes.hpp"

#include "core/measure/wheel.hpp"
#include "core/plan/lanes/kernels.hpp"

namespace lowkite {

static_assert(at(moving_across) == numbers_of_a_wheel, "the wheel's numbers come first");

std::span<const LaneKernel> lane_kernels() {
#ifdef LOWKITE_X86
  static const std::array<LaneKernel, 3> kernels{{
      {"SSE2", 2, [] { return true; }, run_sse2},
      {"AVX2", 4, [] { return __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma"); }, run_avx2},
      {"AVX-512", 8, [] { return __builtin_cpu_supports("avx512f") != 0; }, run_avx512},
  }};
#else
  static const std::array<LaneKernel, 1> kernels{{{"native", lanes_of_native, [] { return true; }, run_native}}};
#endif
  return kernels;
}

const LaneKernel& widest_kernel() {
  static const LaneKernel& widest = []() -> const LaneKernel& {
    const LaneKernel* best = &lane_kernels().front();
    for (const LaneKernel& k : lane_kernels())
      if (k.here()) best = &k;
    return *best;
  }();
  return widest;
}

}  // namespace lowkite
