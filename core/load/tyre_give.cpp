#include "core/load/tyre_give.hpp"

#include <Eigen/Dense>

namespace lowkite {

OnTyres on_tyres(const PerEnd<PerSide<double>>& ahead_mm, const PerEnd<PerSide<double>>& left_mm,
                 const PerEnd<PerSide<double>>& height_mm) {
  Eigen::Matrix<double, 4, 3> wheels;
  Eigen::Vector4d heights;
  Eigen::Index row = 0;
  for (const End end : both_ends)
    for (const Side side : both_sides) {
      wheels.row(row) << 1.0, left_mm[at(end)][at(side)], -ahead_mm[at(end)][at(side)];
      heights[row++] = height_mm[at(end)][at(side)];
    }
  const Eigen::Vector3d plane = wheels.colPivHouseholderQr().solve(heights);
  return {plane[0], plane[1], plane[2]};
}

}  // namespace lowkite
