// A run on the bench: what was read at which step, how that compares with what this setup should give, and the car as
// it was really measured.
#pragma once

#include <map>

#include "core/bench/pull_down.hpp"
#include "core/bench/steps.hpp"
#include "core/car/setup.hpp"

namespace lowkite {

enum class StepState : std::uint8_t { open, done, skipped };

struct StepRecord {
  PerSide<std::vector<double>> readings;  ///< in the gauge's unit, in the order in which they were taken; averaged
  StepState state = StepState::open;
  std::string reason;             ///< why it was skipped
  std::string when;               ///< ISO date and time of the last change
  std::vector<PullPoint> pull{};  ///< spring pressure: grams over depth, in the order in which they were taken

  bool operator==(const StepRecord&) const = default;
};

struct BenchRun {
  std::string car_id;
  BenchList list = BenchList::full;
  std::string started;  ///< ISO date and time
  Setup planned;        ///< what the car is being set to
  BenchKit bench;
  std::vector<std::string> order;             ///< step ids as the racer wants them
  std::map<std::string, StepRecord> records;  ///< by step id

  bool operator==(const BenchRun&) const = default;
};

/// A fresh run of the steps that apply.
BenchRun start_run(const Car& car, const Setup& planned, BenchList list, const BenchKit& bench, std::string started);

/// The run's steps in its order; ids that the car does not know (any more) are passed over.
std::vector<BenchStep> steps_of(const Car& car, const BenchRun& run);

struct Average {
  double mean = 0.0;
  double spread = 0.0;  ///< greatest less least
  int count = 0;
};
/// None without readings.
std::optional<Average> average(const std::vector<double>& readings);

/// The planned setup with what was measured put in its place: ride heights, link lengths (calipers before angles),
/// droop screws. Readings that no part would give leave the plan as it is. `before`: only steps ahead of this one
/// count; empty: all of them.
Setup as_measured(const Car& car, const BenchRun& run, const std::string& before = {});

struct SideVerdict {
  std::optional<double> target;    ///< what the planned setup gives at the real ride height
  std::optional<double> expected;  ///< what the car as measured so far should give
  std::optional<Average> read;
  std::optional<GaugeAnswer> answer;
};

struct StepVerdict {
  PerSide<SideVerdict> side;
  std::optional<double> apart;  ///< left less right, once both are read
  bool even = true;             ///< to what the gauge can tell
  [[nodiscard]] bool good() const;
};

/// The end point that the lock readings over the travel allow, one way.
struct EndPoint {
  GaugeKind decides = &gauge::lock_level;  ///< the reading that leaves the servo least
  double servo_rad = 0.0;                  ///< from the middle, positive
  double inside_rad = 0.0;                 ///< what the inside wheel then reads at ride height
};
/// None until at least one of the three was read that way. Readings that no servo angle gives are passed over.
std::optional<EndPoint> end_point(const Car& car, const BenchRun& run, Side way);

tl::expected<StepVerdict, CornerFailure> judge(const Car& car, const BenchRun& run, const BenchStep& step);

/// What four corner scales say together.
struct WeightSummary {
  PerEnd<PerSide<double>> grams{};
  double total_g = 0.0;
  double front_percent = 0.0;
  double left_percent = 0.0;
  double cross_percent = 0.0;  ///< left front and right rear together
};
/// None until all four wheels were read.
std::optional<WeightSummary> weight_summary(const BenchRun& run);

/// A figure that moves when the answer's change is made.
struct SideEffect {
  const FigureSpec* figure = nullptr;
  double from = 0.0;
  double to = 0.0;
};
/// What turning the parts of an answer moves besides, for one wheel; the largest against their resolution first.
std::vector<SideEffect> side_effects(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                     const GaugeAnswer& answer, std::size_t most);

}  // namespace lowkite
