#include "core/handling/lanes/kernel.hpp"
#include "core/handling/lanes/kernels.hpp"

namespace lowkite {

using V = xsimd::batch<double, xsimd::default_arch>;

void run_native(const WheelsAsk<0>& ask, WheelsTold<0>& told) {
  tell_wheels<V>(ask, told);
}
void run_native(const WheelsAsk<solved_count>& ask, WheelsTold<solved_count>& told) {
  tell_wheels<V>(ask, told);
}
void run_native(const WheelsAsk<unknown_count>& ask, WheelsTold<unknown_count>& told) {
  tell_wheels<V>(ask, told);
}
void run_native(const AxleAsk& ask, const AxlePlaces& further, AxlePlaces& pushes) {
  push_axle<V>(ask, further, pushes);
}

}  // namespace lowkite
