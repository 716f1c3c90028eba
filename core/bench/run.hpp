// A run on the bench: what was read at which step, what was turned, and the car as it was really measured.
//
// Readings belong to a state of the car. Turning a part begins a new state: what was read of that part, and of what it
// moves, becomes history; repeats within a state are averaged.
#pragma once

#include <map>

#include "core/bench/pull_down.hpp"
#include "core/bench/steps.hpp"
#include "core/car/setup.hpp"

namespace lowkite {

/// How a step ended.
enum class StepState : std::uint8_t {
  open,
  done,        ///< ticked: there was nothing to read
  measured,    ///< read, and as it should
  left,        ///< read, and left as it is
  unmeasured,  ///< ticked without a reading
  skipped
};

struct EarlierReadings {
  PerSide<std::vector<double>> readings;
  std::string when;  ///< ISO date and time at which the car was turned on

  bool operator==(const EarlierReadings&) const = default;
};

struct StepRecord {
  PerSide<std::vector<double>> readings;  ///< of the car as it is now, in the gauge's unit, as taken; averaged
  StepState state = StepState::open;
  std::string reason;             ///< why it was skipped
  std::string when;               ///< ISO date and time of the last change
  std::vector<PullPoint> pull{};  ///< spring pressure: grams over depth, in the order in which they were taken
  bool tared = false;             ///< the scales were set to nothing under the standing car
  /// What the caliper showed at ride height, where its own readings are typed.
  std::optional<double> caliper_zero_mm{};
  PerSide<bool> sure{};                    ///< a reading on the other side of zero from its target was confirmed
  std::vector<EarlierReadings> earlier{};  ///< of the car as it was before a turn, oldest first
  std::string moved_by{};                  ///< the step whose turn took this one's readings; empty: none did
  /// What it should read since then: the last reading, moved on by what every turn does on the model.
  PerSide<std::optional<double>> moved_to{};

  bool operator==(const StepRecord&) const = default;
};

/// What is known of the car on the bench by readings and by what was turned since; the rest is as planned.
struct Measured {
  PerEnd<std::optional<double>> ride_height_mm{};
  ListOf<Adjuster, PerSide<std::optional<double>>> parts;

  bool operator==(const Measured&) const = default;
  [[nodiscard]] bool any() const;
};
/// `setup` with what was measured put in its place.
Setup put_over(const Setup& setup, const Measured& measured);
/// By the parts' ids (see carried_over of setups).
Measured carried_over(const Car& from, const Measured& measured, const Car& to);

/// One thing that the racer did: a part turned, a collar moved, an end point set.
struct PartTurn {
  std::string part;  ///< an adjuster's id, or "collar", "end_point" or "play"
  Side side = Side::left;
  double by = 0.0;  ///< turns or mm; degrees for an end point; of play positive = looser

  bool operator==(const PartTurn&) const = default;
};
struct BenchTurn {
  std::string step;
  std::string when;  ///< ISO date and time
  std::vector<PartTurn> parts;

  bool operator==(const BenchTurn&) const = default;
};

struct BenchRun {
  std::string car_id;
  BenchList list = BenchList::full;
  std::string started;  ///< ISO date and time
  Setup planned;        ///< what the car is being set to
  BenchKit bench;
  std::vector<std::string> order;             ///< step ids as the racer wants them
  std::map<std::string, StepRecord> records;  ///< by step id
  Measured standing;                          ///< the car after the last turn; readings since then come on top
  std::vector<BenchTurn> turns;               ///< oldest first

  bool operator==(const BenchRun&) const = default;
  [[nodiscard]] const StepRecord* record(const std::string& step) const;
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
/// The mean of what was read of the car as it is now, else what it was moved to; none when it was never read.
std::optional<double> known_reading(const StepRecord& record, Side side);

/// The bench kit as it counts at one wheel: with the play that was read there.
BenchKit kit_at(const BenchRun& run, End end, Side side);

/// What was measured: ride heights, link lengths (calipers before angles), droop screws, bar links. Readings that no
/// part would give, and those of skipped steps, tell nothing. `but`: a step whose readings do not count.
Measured measured_by(const Car& car, const BenchRun& run, const std::string& but = {});
/// The planned setup with that put in its place.
Setup as_measured(const Car& car, const BenchRun& run, const std::string& but = {});

}  // namespace lowkite
