#include "core/plan/lanes/kernel.hpp"

namespace lowkite {

using Native = xsimd::batch<double, xsimd::default_arch>;
const std::size_t lanes_of_native = Native::size;
static_assert(Native::size <= most_lanes);

void run_native(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings) {
  run_lanes<Native>(task, input, readings);
}

}  // namespace lowkite
