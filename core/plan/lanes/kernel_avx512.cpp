#include "core/plan/lanes/kernel.hpp"

namespace lowkite {

void run_avx512(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings) {
  run_lanes<xsimd::batch<double, xsimd::avx512f>>(task, input, readings);
}

}  // namespace lowkite
