// Where combinations of parts put the points of a corner, looked up and added instead of worked out.
//
// A shim, hole or insert moves points by so much whatever the others do, so what each value of each part does is worked
// out once and combinations are sums of it. Parts that turn points about one another are the exception: for each
// combination of those the sums are worked out anew, when it first comes up.
#pragma once

#include <map>
#include <optional>
#include <span>
#include <vector>

#include "core/plan/lanes/lanes.hpp"

namespace lowkite {

class PartMoves {
 public:
  /// `parts`: adjusters of the axle. Left side.
  PartMoves(const Car& car, const Setup& start, End end, std::vector<PartHandle> parts);

  /// A corner's points and lengths as parts have them.
  struct Geometry {
    ByLinkagePoint<Vec3> set{};
    LinkLengths length{};
    double tyre_radius = 0.0;
  };

  /// Writes where a combination puts points (those that `moved` tells), links and tyre into a lane. `values`: one for
  /// each part. False: one is no value that the part stops at; nothing is written.
  bool write(std::span<const double> values, std::size_t lane, LaneInput& in);
  /// Points that some combination moves, a bit each.
  [[nodiscard]] std::uint32_t moved() const { return moved_; }
  [[nodiscard]] const Geometry& start() const { return start_geometry_; }

 private:
  struct Change {
    std::vector<std::pair<PointHandle, Vec3>> moves;
    LinkLengths longer{};
    double tyre_radius = 0.0;
    bool only_moves = true;
  };
  struct Sums {
    Geometry base;
    std::vector<std::vector<Change>> change;  ///< by part and value; empty for parts that turn points
  };

  bool look_up(std::span<const double> values);
  [[nodiscard]] Geometry geometry_of(const Setup& setup) const;
  [[nodiscard]] Sums sums_with(const std::vector<std::uint16_t>& turning) const;

  const Car& car_;
  Setup start_;
  End end_;
  std::vector<PartHandle> parts_;
  std::vector<std::vector<double>> values_;  ///< of each part, the present one first
  std::vector<bool> turns_;                  ///< whether it turns points
  std::vector<std::size_t> turning_;         ///< the parts that do
  Geometry start_geometry_;
  std::uint32_t moved_ = 0;
  std::vector<PointHandle> moved_points_;
  std::map<std::vector<std::uint16_t>, Sums> sums_;  ///< by the values of the turning parts
  // The combination before: the next one is like it but for a part or two.
  std::vector<double> last_values_;
  std::vector<std::uint16_t> index_;  ///< of each part's value
  std::vector<std::uint16_t> key_;
  const Sums* last_sums_ = nullptr;
};

}  // namespace lowkite
