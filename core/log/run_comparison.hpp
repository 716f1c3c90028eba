// Two runs side by side: is the difference real, and what else was different? And the planned A-B-A.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/car/setup.hpp"
#include "core/log/laps.hpp"

namespace lowkite {

/// One thing that two setups have differently.
struct SetupChange {
  std::string what;  ///< "Front: camber link, inner ball", or the part's id where the car is not at hand
  std::string from, to;
  PartHandle adjuster;  ///< of the car, where it is at hand; none for ride heights
};
/// What was changed between two setups' texts. `car` nullptr: told by ids. Texts that cannot be read yield nothing.
std::vector<SetupChange> setup_changes(const std::string& before, const std::string& after, const Car* car);
/// The setup that a run was driven with; none where its text does not belong to `car`.
std::optional<Setup> setup_of(const Run& run, const Car& car);

/// What else differed, or weakens the comparison.
enum class CautionKind : std::uint8_t {
  other_car,
  other_day,
  other_track,
  other_surface,
  temperature,
  tyres,
  tyre_age,
  additive,
  battery,
  several_changes,
  few_laps,
  broke
};
struct Caution {
  CautionKind kind;
  std::string text;  ///< one sentence with what differed
};

enum class LapVerdict : std::uint8_t { faster, slower, cannot_be_told };

struct RunComparison {
  std::optional<LapFigures> a, b;
  std::optional<Interval> mean_s;    ///< b less a, 95 %; negative = b is faster
  std::optional<Interval> median_s;  ///< the same of the medians, by resampling
  LapVerdict verdict = LapVerdict::cannot_be_told;
  std::vector<SetupChange> changes;
  std::vector<Caution> cautions;
};

/// Whether two runs' laps differ by more than chance, by the interval of their means.
LapVerdict laps_say(const RunRecord& a, const RunRecord& b, const LapRule& rule = {});

struct DatedRun {
  const Day& day;
  const RunRecord& record;
};

/// Effect first: seconds a lap with their interval. Laps of a run are taken as independent of each other, which a
/// fading tyre is not: a difference of less than the fade is to be doubted.
RunComparison compare_runs(const DatedRun& a, const DatedRun& b, const Car* car, const LapRule& rule = {});

/// A - B - A: the middle run against the mean of the two round it.
struct BackToBack {
  Interval effect_s;        ///< B less A; negative = B is faster
  Interval drift_s;         ///< second A less first: what the track, the tyres and the driver did meanwhile
  bool drifted = false;     ///< the drift is more than chance could make
  bool same_setups = true;  ///< the two A runs had the same setup
  LapVerdict verdict = LapVerdict::cannot_be_told;
};
/// None with fewer than two counting laps in any of the three.
std::optional<BackToBack> back_to_back(const RunRecord& first, const RunRecord& middle, const RunRecord& last,
                                       const LapRule& rule = {});

/// Runs of a day that stand as A, B, A: the first and third with one setup, the middle one with another. Indices into
/// `runs`, in their order.
std::vector<std::array<std::size_t, 3>> back_to_backs(const std::vector<RunRecord>& runs, const Car* car);

/// Fewer counting laps than this say little.
constexpr int few_laps = 5;
/// Degrees of track or air temperature that make a difference: common practice, no source.
constexpr double other_temperature = 4.0;

}  // namespace lowkite
