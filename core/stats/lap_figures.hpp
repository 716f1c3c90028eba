// What the laps of a run say in figures.
#pragma once

#include <optional>

#include "core/stats/statistics.hpp"

namespace lowkite {

struct LapFigures {
  int counted = 0;
  int set_aside = 0;
  int missing = 0;  ///< gaps in the timing system's numbers
  double best_s = 0.0;
  double mean_s = 0.0;
  double median_s = 0.0;
  double deviation_s = 0.0;          ///< of one lap; 0 for a single one
  double middle_half_s = 0.0;        ///< between the quarter and three quarters: how steady, whatever the odd lap
  std::optional<StraightLine> fade;  ///< seconds a lap over the lap's place in the run; none for fewer than three laps
  /// What laps took beyond the median of those that count, by why they are set aside: marked as a crash, as traffic,
  /// and unmarked ones that were too slow.
  double lost_to_crashes_s = 0.0;
  double lost_to_traffic_s = 0.0;
  double lost_otherwise_s = 0.0;
  /// Best sum of so many laps in a row, all counting, none missing between them; none where there is no such row.
  std::optional<double> best_in_a_row_s;
  int row = 5;

  /// True when the fade is more than its own error could make: two standard errors.
  [[nodiscard]] bool fades() const;
};

}  // namespace lowkite
