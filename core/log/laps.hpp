// What the laps of a run say: which count, how fast, how steady, and whether the run faded.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "core/log/log.hpp"
#include "core/stats/lap_figures.hpp"

namespace lowkite {

/// The rule by which laps are set aside. Marked laps never count; of the others those do not that are slower than the
/// median of the ordinary ones by more than `slower_share` (traffic, a crash), or faster by more than `faster_share` (a
/// lap counted twice).
struct LapRule {
  double slower_share = 0.12;
  double faster_share = 0.25;

  bool operator==(const LapRule&) const = default;
};

enum class LapStanding : std::uint8_t { counts, marked, too_slow, too_fast };

/// One standing a lap.
std::vector<LapStanding> standings(const std::vector<Lap>& laps, const LapRule& rule = {});
/// Seconds of the laps that count.
std::vector<double> counting(const std::vector<Lap>& laps, const LapRule& rule = {});

/// None when no lap counts. Precondition: row > 0.
std::optional<LapFigures> lap_figures(const std::vector<Lap>& laps, const LapRule& rule = {}, int row = 5);

/// "1:02.345" from a minute on, else "14.83", as racers say it.
std::string lap_text(double seconds, int decimals = 2);
/// A lap time as people and timing systems write it: "14.832", "14,832", "1:02.345", "1:02:345", "0'14\"832". None when
/// it is none.
std::optional<double> lap_from_text(std::string_view text);
/// Laps typed or pasted: one time a line or separated by spaces or semicolons; a line may begin with its number ("3
/// 14.83", "3: 14.83", "3. 14.83"). Fails with the first piece that is no time.
tl::expected<std::vector<Lap>, std::string> laps_from_text(const std::string& text);

}  // namespace lowkite
