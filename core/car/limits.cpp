#include "core/car/limits.hpp"

#include <algorithm>
#include <cmath>

namespace lowkite {

double segment_distance(const Vec3& a0, const Vec3& a1, const Vec3& b0, const Vec3& b1) {
  constexpr double point_like = 1e-18;  // mm^2: a segment of no length
  const Vec3 d1 = a1 - a0;
  const Vec3 d2 = b1 - b0;
  const Vec3 r = a0 - b0;
  const double a = d1.squaredNorm();
  const double e = d2.squaredNorm();
  const double f = d2.dot(r);
  double s = 0.0;
  double t = 0.0;
  if (a > point_like && e > point_like) {
    const double c = d1.dot(r);
    const double b = d1.dot(d2);
    const double across = a * e - b * b;
    if (across > 0.0) s = std::clamp((b * f - c * e) / across, 0.0, 1.0);
    t = (b * s + f) / e;
    if (t < 0.0) {
      t = 0.0;
      s = std::clamp(-c / a, 0.0, 1.0);
    } else if (t > 1.0) {
      t = 1.0;
      s = std::clamp((b - c) / a, 0.0, 1.0);
    }
  } else if (a > point_like) {
    s = std::clamp(-d1.dot(r) / a, 0.0, 1.0);
  } else if (e > point_like) {
    t = std::clamp(f / e, 0.0, 1.0);
  }
  return (r + d1 * s - d2 * t).norm();
}

}  // namespace lowkite
