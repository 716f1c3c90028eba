// Numbers as files of ours hold them: without the noise of the last digits.
#pragma once

#include <cmath>

#include "core/io/json_document.hpp"
#include "core/linkage/geometry.hpp"

namespace lowkite {

/// To a millionth; no minus zero.
inline double rounded_for_file(double v) {
  return std::round(v * 1e6) / 1e6 + 0.0;
}

inline Json json_of(const Vec3& v) {
  return Json::array({rounded_for_file(v.x()), rounded_for_file(v.y()), rounded_for_file(v.z())});
}

}  // namespace lowkite
