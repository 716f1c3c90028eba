// Corners in the lanes of a register, as a search puts them there.
#pragma once

#include "core/measure/wheel.hpp"
#include "core/plan/lanes/lanes.hpp"

namespace lowkite::test {

/// The task of corners that are of one kit; their points and links are all put in by lane.
inline LaneTask lane_task(const CornerModel& corner, const Ground& ground) {
  LaneTask task;
  task.assembly = *chain_assembly(*corner.spec, corner.geometry);
  std::copy_n(corner.geometry.kit.begin(), task.kit.size(), task.kit.begin());
  task.set = task.kit;
  task.moved = (1u << max_linkage_points) - 1u;
  task.spin_axis = corner.geometry.spin_axis;
  const TyreShape<double> tyre = shape_of(corner.tyre);
  task.crown_mm = tyre.crown;
  task.half_width_mm = tyre.half_width;
  task.least_change.fill(-1e9);
  task.most_change.fill(1e9);
  task.rise = slide_mm_per_rad;
  task.ground = ground;
  return task;
}

inline void put_in_lane(LaneInput& in, std::size_t lane, const CornerGeometry& g, double tyre_radius,
                        const SteerInput& steer) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const auto a = static_cast<Eigen::Index>(axis);
    for (const PointHandle p : in.set.handles()) in.set[p][axis].of[lane] = g.set[p](a);
    in.shift[axis].of[lane] = steer.shift(a);
    in.rate[axis].of[lane] = steer.rate(a);
  }
  for (const LinkHandle l : g.length.handles()) in.length[l].of[lane] = g.length[l];
  in.tyre_radius.of[lane] = tyre_radius;
}

/// `like`: figures of the same mechanism, with a kingpin or without.
inline WheelFigures wheel_in_lane(const LaneReading& reading, std::size_t lane, WheelFigures like) {
  std::size_t next = 0;
  each_number([&](double& n) { n = reading.number[next++].of[lane]; }, like);
  return like;
}

/// The farthest that two wheels' numbers are apart; those above one in parts of themselves.
inline double farthest_apart(WheelFigures a, WheelFigures b) {
  double farthest = 0.0;
  each_number(
      [&](const double& x, const double& y) {
        const double off = std::abs(x - y) / std::max(1.0, std::abs(y));
        farthest = off <= farthest ? farthest : off;
      },
      a, b);
  return farthest;
}

}  // namespace lowkite::test
