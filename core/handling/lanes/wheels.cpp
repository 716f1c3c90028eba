#include "core/handling/lanes/wheels.hpp"

#include "core/handling/lanes/kernels.hpp"

namespace lowkite {

std::span<const WheelsKernel> wheels_kernels() {
#ifdef LOWKITE_X86
  static const std::array<WheelsKernel, 2> kernels{{
      {"SSE2", [] { return true; }, run_sse2, run_sse2, run_sse2, run_sse2},
      {"AVX2", [] { return __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma"); }, run_avx2, run_avx2,
       run_avx2, run_avx2},
  }};
#else
  static const std::array<WheelsKernel, 1> kernels{
      {{"native", [] { return true; }, run_native, run_native, run_native, run_native}}};
#endif
  return kernels;
}

const WheelsKernel& wheels_kernel() {
  static const WheelsKernel& widest = []() -> const WheelsKernel& {
    const WheelsKernel* best = &wheels_kernels().front();
    for (const WheelsKernel& k : wheels_kernels())
      if (k.here()) best = &k;
    return *best;
  }();
  return widest;
}

}  // namespace lowkite
