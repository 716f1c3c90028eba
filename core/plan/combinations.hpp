// Combinations of part changes, axle by axle, and how those of several groups of parts are put together.
//
// With the ride heights held, most figures hear of their own axle alone. So the combinations of each axle are judged
// once, and a combination of the whole car is a pick of one from each: its closeness is the sum of theirs, its work
// too. What stands on sorted lists is excluded by that sum without being looked at: every list that comes out is the
// one that judging each pick by itself would give (branch and bound; Land and Doig 1960, from memory).
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <limits>
#include <optional>
#include <span>
#include <vector>

#include "core/car/setup.hpp"

namespace lowkite {

constexpr int most_changes = 6;

/// What a figure is to be, whatever it is.
struct AimRange {
  double value = 0.0;
  double tolerance = 0.1;  ///< wanted: what counts as met; held: beyond it a candidate is none
  bool hold = false;
};

/// Sum of squares of (figure - wanted) / tolerance over what is wanted.
double squared_miss_of(std::span<const AimRange> aims, std::span<const double> figures);
bool keeps_what_is_held(std::span<const AimRange> aims, std::span<const double> figures);

/// Parts that are combined with each other, with the values that each may have besides the present one.
struct ChangeGroup {
  std::vector<PartHandle> parts;  ///< adjusters
  std::vector<std::vector<double>> values;

  static ChangeGroup of(const Car& car, const Setup& start, std::vector<PartHandle> parts);
  /// How many combinations of at most so many changes there are, none changed left out.
  [[nodiscard]] std::uint64_t combinations(int most) const;
};

/// One combination of a group. Indices into the group's parts and values.
struct Combination {
  double squared_miss = 0.0;  ///< of what is wanted of its own axle
  double added = 0.0;         ///< its part of a figure that adds up over the axles, against the start
  double minutes = 0.0;
  std::uint8_t count = 0;
  std::array<std::uint8_t, most_changes> part{};
  std::array<std::uint16_t, most_changes> value{};
};

/// What was found out about one combination.
struct GroupJudgement {
  bool stands = false;  ///< the car can be like that, and nothing that is held is left
  double squared_miss = 0.0;
  double added = 0.0;
  std::vector<double> figures;  ///< of its own axle
};

/// Judges combinations of one group, several at once; one is made for each thread. `values`: one for each part of the
/// group, one combination after the other; `found`: one for each.
using GroupJudge = std::function<void(std::span<const double> values, std::span<GroupJudgement> found)>;

struct GroupSearch {
  int most = 2;  ///< changes at once
  unsigned threads = 1;
  bool idle_counts = false;      ///< a change that moves no figure of its own axle is kept: somebody else may want it
  std::size_t room = 2'000'000;  ///< candidates that are kept; beyond it those that come least close fall out
  double same = 1e-7;            ///< figures this close are the same, whatever their unit
  /// Told how many were judged; false stops. From any thread, one at a time.
  std::function<bool(std::uint64_t)> progress{};
};

/// The combinations of a group that keep what is held, with the unchanged start first.
struct CombinationList {
  std::vector<Combination> all;
  std::uint64_t judged = 0;
  bool stopped = false;
  /// Squared miss of the closest one that found no room; infinite when all did.
  double least_left_out = std::numeric_limits<double>::infinity();
};

CombinationList judge_group(const Car& car, const ChangeGroup& group, const std::vector<double>& start_values,
                            const std::function<GroupJudge()>& make, const GroupSearch& search);

/// A pick of one candidate from each group, by index into its list.
constexpr int most_groups = 3;
using Pick = std::array<std::uint32_t, most_groups>;

struct Joined {
  Pick pick{};
  double squared_miss = 0.0;
  double minutes = 0.0;
};

struct JoinOrder {
  int most = 2;           ///< changes of a pick
  std::size_t keep = 12;  ///< of those that are told
  /// Aims for the figure that adds up, of `added_at_start` plus what the candidates add.
  std::vector<AimRange> added{};
  double added_at_start = 0.0;
  /// Judges picks for what no axle knows alone: what that adds to the squared miss; none: it cannot be, or what is
  /// held is left. Empty: nothing is asked that needs it.
  std::function<std::vector<std::optional<double>>(std::span<const Pick>)> judge{};
  std::size_t most_judged = 100'000;  ///< picks; beyond it the search ends, and says so
  /// Whether a pick may be told (parts at hand, no idle change). Empty: any.
  std::function<bool(const Pick&)> accept{};
  /// False stops.
  std::function<bool()> go_on{};
};

struct JoinResult {
  /// Those that meet what is wanted first, least work first; the rest by closeness.
  std::vector<Joined> best;
  /// Least work against closeness: each needs more work and comes closer than the one before; ends with the first that
  /// meets what is wanted.
  std::vector<Joined> front;
  std::uint64_t judged = 0;  ///< picks
  bool stopped = false;
  bool complete = true;  ///< by proof; false: something that comes as close may have been left out
};

/// Groups may be fewer than three. Where a group has no candidate, not even the unchanged start, there is no pick.
JoinResult join_groups(std::span<const CombinationList> groups, const JoinOrder& order);

}  // namespace lowkite
