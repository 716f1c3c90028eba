// The order of work on the bench: every step with its reason, its way, its gauge and the caution that belongs to it.
//
// The list is common practice, no source. A step is a row; what it means on a car follows from the car's gauges.
#pragma once

#include <array>

#include "core/bench/gauges.hpp"

namespace lowkite {

enum class BenchPhase : std::uint8_t {
  prepare,
  shocks,
  links,
  ride_height,
  droop,
  camber,
  caster,
  toe,
  steering,
  bars,
  weight,
  final_look
};
std::string_view name_of(BenchPhase phase);

/// Which steps are done: all of them, what a crash may have moved, what is looked at between rounds, or the building of
/// the shocks.
enum class BenchList : std::uint8_t { full, after_crash, between_rounds, shocks };
inline constexpr std::array bench_lists{BenchList::full, BenchList::after_crash, BenchList::between_rounds,
                                        BenchList::shocks};
std::string_view id_of(BenchList list);

/// What a step without a gauge is done for.
enum class StepFor : std::uint8_t { car, shocks, third_damper, bars };

struct StepSpec {
  std::string_view id;
  BenchPhase phase;
  std::string_view title;
  std::string_view why;
  std::string_view how;
  std::string_view caution;        ///< empty: none
  std::optional<GaugeKind> gauge;  ///< none: nothing is read, the step is ticked
  bool after_crash;
  bool between_rounds;
  bool full = true;
  bool building = false;  ///< of the shocks
  StepFor each = StepFor::car;
  /// The parts whose places in the setup are told at the step; nullptr: none.
  bool (*names)(const Adjuster& part) = nullptr;
};
std::span<const StepSpec> step_specs();

/// A step on one car: a gauge is laid on each axle, a caliper on each link.
struct BenchStep {
  const StepSpec* spec = nullptr;
  std::optional<Gauge> gauge;
  std::optional<End> end;  ///< of a gauge, or of a step that is done for each axle
  std::string id;          ///< of its own, kept in files: "camber:front", "links:rear:toe_link"
  std::string title;       ///< "Camber, front"
};

/// The parts whose places in the setup the step is about: "piston 3 x 1.1", "caster block 4 deg".
std::vector<PartHandle> parts_named(const Car& car, const BenchStep& step);

/// Every step that any list has, in bench order.
std::vector<BenchStep> every_step(const Car& car);
/// Whether an axle of the car can have a third damper.
bool may_have_third_damper(const Car& car, End end);

/// The steps that apply to the car, in bench order.
std::vector<BenchStep> bench_steps(const Car& car, BenchList list);

}  // namespace lowkite
