// The kernels by instruction set; one source each.
#pragma once

#include <span>

namespace lowkite {

struct LaneTask;
struct LaneInput;
struct LaneReading;

#ifdef LOWKITE_X86
void run_sse2(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings);
void run_avx2(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings);
void run_avx512(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings);
#else
extern const std::size_t lanes_of_native;
void run_native(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings);
#endif

}  // namespace lowkite
