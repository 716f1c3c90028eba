#include "core/plan/lanes/kernel.hpp"

namespace lowkite {

void run_avx2(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings) {
  run_lanes<xsimd::batch<double, xsimd::fma3<xsimd::avx2>>>(task, input, readings);
}

}  // namespace lowkite
