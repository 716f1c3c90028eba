// What a run's readings say: how each compares with what the setup should give, what to turn, and what else that moves.
#pragma once

#include "core/bench/run.hpp"
#include "core/load/scales.hpp"

namespace lowkite {

struct SideVerdict {
  std::optional<double> target;    ///< what the planned setup gives at the real ride height
  std::optional<double> expected;  ///< what the car as measured so far should give
  std::optional<Average> read;
  std::optional<GaugeAnswer> answer;
  /// The reading lies on the other side of zero from its target, by more than the gauge can miss: was the side of the
  /// gauge mistaken? There is no answer until the racer has said.
  bool asks_side = false;
};

/// As it should read, or as near as a hand can put it.
bool near_enough(const SideVerdict& side);

struct StepVerdict {
  PerSide<SideVerdict> side;
  std::optional<double> apart;  ///< left less right, once both are read
  bool even = true;             ///< to what the gauge can tell
  [[nodiscard]] bool good() const;
};

tl::expected<StepVerdict, CarFailure> judge(const Car& car, const BenchRun& run, const BenchStep& step);

/// The end point that the lock readings over the travel allow, one way.
struct EndPoint {
  /// The reading that leaves the servo least; nullptr: they leave more than the setup wants.
  GaugeKind decides = &gauge::lock_level;
  double servo_rad = 0.0;   ///< from the middle, positive
  double inside_rad = 0.0;  ///< what the inside wheel then reads at ride height
};
/// None until at least one of the three was read that way. Readings that no servo angle gives are passed over.
std::optional<EndPoint> end_point(const Car& car, const BenchRun& run, Side way);

/// How the plate stands where ride height is read left and right at both axles.
struct LeanAnswer {
  PerEnd<double> lean_mm{};  ///< left less right, over the points' distance
  double twist_mm = 0.0;     ///< front lean less rear lean
  bool twisted = false;      ///< more than two gauges can miss: the plate, or the board; no collar mends it
  bool leans = false;        ///< what both axles share is more than a gauge can miss
  /// By so much each axle's left collar goes down its shock (positive = that side higher) and its right one up, so that
  /// the car stands level and the cross weight stays. None where springs are not described, or the plate is twisted.
  std::optional<PerEnd<double>> collar_mm;
};
/// None until both axles were read left and right.
std::optional<LeanAnswer> lean_answer(const Car& car, const BenchRun& run);

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

/// Cross weight within this of 50 % is square (common practice, no source).
constexpr double square_percent = 0.5;
struct WeightAnswer {
  WeightSummary sum;
  bool square = true;
  /// None where the car file describes no springs.
  std::optional<ScaleAdvice> advice;
  double tells_percent = square_percent;  ///< or, of a light car, what its scales can tell
  bool aside_matters = false;  ///< the weight lies aside by more than scales can miss; no collar changes that
};
std::optional<WeightAnswer> weight_answer(const Car& car, const BenchRun& run);

/// A figure that moves when the answer's change is made.
struct SideEffect {
  const FigureSpec* figure = nullptr;
  double from = 0.0;
  double to = 0.0;
};
/// What turning the parts of an answer moves besides, for one wheel; the largest against their resolution first.
std::vector<SideEffect> side_effects(const Car& car, const Setup& setup, const Gauge& gauge, Side side,
                                     const GaugeAnswer& answer, std::size_t most);

/// The racer did what the verdict on this step told, on one side or (none) on both: a new state of the car begins. What
/// was read of the turned parts, and of what they move by more than its gauge can tell, becomes history; a step that
/// had ended and is now off its target is open again. Nothing happens where nothing was told.
/// `when`: ISO date and time. False: nothing was told.
bool turned(const Car& car, BenchRun& run, const BenchStep& step, std::optional<Side> side, const std::string& when);
/// The same for what four scales told (one axle's collars), and for a lean: every scale, ride height and, where the car
/// now leans otherwise, camber is to be read again.
void collars_turned(const Car& car, BenchRun& run, const BenchStep& step, const PerEnd<double>& left_down_mm,
                    const std::string& when);

/// Play at a wheel was read, or its reading taken back: where the droop at that axle's tyres had ended and is now off
/// its target, it is open again.
void play_read(const Car& car, BenchRun& run, const BenchStep& step);

/// How a step ends that is ticked now.
StepState state_when_ticked(const Car& car, const BenchRun& run, const BenchStep& step);

/// Whether the run sets the car to another setup than this one: parts and ride heights, not names.
bool targets_differ(const BenchRun& run, const Setup& setup);
/// The run sets the car to this setup from now on; steps that had ended and are now off their target are open again.
void follow_setup(const Car& car, BenchRun& run, const Setup& setup);

/// Of the tyre hanging on blocks, what stands besides its reading.
struct HangingTyre {
  double droop_mm = 0.0;         ///< the reading, as droop from ride height
  double least_blocks_mm = 0.0;  ///< lower ones let the tyre stand on the bench
  bool blocks_too_low = false;
};
/// `read`: in the gauge's unit, of the car as it is planned; `step`: of the droop at the tyre.
std::optional<HangingTyre> hanging_tyre(const Car& car, const BenchRun& run, const BenchStep& step, Side side,
                                        double read);

}  // namespace lowkite
