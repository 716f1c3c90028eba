// Candidates of one axle, as many at once as a register holds doubles: links set to what is held, the wheel put on the
// ground, its figures read. The left wheel; the right one is its mirror.
//
// The chains are those of core/linkage, computed in registers (core/linkage/lanes.hpp). Each instruction set has a
// source of its own, compiled for it; which of them this machine has is asked when it runs. What those sources share
// with the rest of the program is plain data and functions that are always inlined: a test looks at their symbols.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/linkage/chains.hpp"
#include "core/pose/pose.hpp"

namespace lowkite {

constexpr std::size_t most_lanes = 8;
/// One number of each candidate.
struct alignas(64) LaneRow {
  std::array<double, most_lanes> of{};
};

/// Numbers that are read of a candidate: those of its wheel, and then these.
enum LaneNumber : std::size_t {
  moving_across = 32,
  moving_height,
  locked_across,
  locked_height,
  drawn_across,
  drawn_height,
  track,
  lane_number_count
};

/// What all candidates have in common.
struct LaneTask {
  ChainAssembly assembly;
  ByLinkagePoint<Vec3> kit{};
  Vec3 spin_axis;
  ByLinkagePoint<Vec3> set{};  ///< as the start has them
  std::uint32_t moved = 0;     ///< points that candidates move, a bit each
  double crown_mm = 0.0;
  double half_width_mm = 0.0;
  WheelHold wanted;
  /// By how much each link may change from where a candidate's parts leave it before its thread ends.
  LinkLengths least_change{};
  LinkLengths most_change{};
  double arm_angle = 0.0;  ///< of the start, where the ground is looked for first
  double rise = 0.0;       ///< there: of the tyre's lowest point per rad, links at what is held
  Ground ground;
  /// A ground that lies otherwise, with a link that much longer and no link set anew. Read besides the car as set.
  struct Case {
    Ground ground;
    LinkHandle link = {};
    double longer_mm = 0.0;
  };
  std::vector<Case> cases;
};

/// What candidates differ in; only moved points are looked at.
struct LaneInput {
  ByLinkagePoint<std::array<LaneRow, 3>> set;
  ByLink<LaneRow> length;
  LaneRow tyre_radius;
  std::array<LaneRow, 3> shift;  ///< as in SteerInput
  std::array<LaneRow, 3> rate;
};

/// One reading of the candidates: of the car as set, or of a case.
struct LaneReading {
  std::array<LaneRow, lane_number_count> number;  ///< not a number: there is no such point
  LaneRow stands;                                 ///< 1: it does; 0: a link or a thread does not reach
};

/// Judges as many candidates as it has lanes.
struct LaneKernel {
  const char* name = nullptr;
  std::size_t lanes = 1;
  bool (*here)() = nullptr;  ///< whether this machine has the instruction set
  /// `readings`: one, and one for each case.
  void (*run)(const LaneTask& task, const LaneInput& input, std::span<LaneReading> readings) = nullptr;
};

/// Those that were compiled, the narrowest first; the first is always here.
std::span<const LaneKernel> lane_kernels();
/// The widest that this machine has.
const LaneKernel& widest_kernel();

}  // namespace lowkite
