// The kernels by instruction set; one source each.
#pragma once

#include "core/handling/lanes/wheels.hpp"

namespace lowkite {

#ifdef LOWKITE_X86
void run_sse2(const WheelsAsk<0>& ask, WheelsTold<0>& told);
void run_sse2(const WheelsAsk<solved_count>& ask, WheelsTold<solved_count>& told);
void run_sse2(const WheelsAsk<unknown_count>& ask, WheelsTold<unknown_count>& told);
void run_sse2(const AxleAsk& ask, const AxlePlaces& further, AxlePlaces& pushes);
void run_avx2(const WheelsAsk<0>& ask, WheelsTold<0>& told);
void run_avx2(const WheelsAsk<solved_count>& ask, WheelsTold<solved_count>& told);
void run_avx2(const WheelsAsk<unknown_count>& ask, WheelsTold<unknown_count>& told);
void run_avx2(const AxleAsk& ask, const AxlePlaces& further, AxlePlaces& pushes);
#else
void run_native(const WheelsAsk<0>& ask, WheelsTold<0>& told);
void run_native(const WheelsAsk<solved_count>& ask, WheelsTold<solved_count>& told);
void run_native(const WheelsAsk<unknown_count>& ask, WheelsTold<unknown_count>& told);
void run_native(const AxleAsk& ask, const AxlePlaces& further, AxlePlaces& pushes);
#endif

}  // namespace lowkite
