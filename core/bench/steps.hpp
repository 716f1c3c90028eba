// The order of work on the bench: every step with its reason, its way, its gauge and the caution that belongs to it.
//
// The list is common practice, no source. A step is a row; what it means on a car follows from the car's gauges.
#pragma once

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

/// Which steps are done: all of them, what a crash may have moved, or what is looked at between rounds.
enum class BenchList : std::uint8_t { full, after_crash, between_rounds };
std::string_view id_of(BenchList list);

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
};
std::span<const StepSpec> step_specs();

/// A step on one car: a gauge is laid on each axle, a caliper on each link.
struct BenchStep {
  const StepSpec* spec = nullptr;
  std::optional<Gauge> gauge;
  std::string id;     ///< of its own, kept in files: "camber:front", "links:rear:toe_link"
  std::string title;  ///< "Camber, front"
};

/// The steps that apply to the car, in bench order.
std::vector<BenchStep> bench_steps(const Car& car, BenchList list);

}  // namespace lowkite
