// Speed of the core against the goals of docs/architecture.md. Run: build/release/bin/core_bench
#include <benchmark/benchmark.h>

#include "core/io/car_file.hpp"
#include "core/plan/comparison.hpp"

namespace lowkite {
namespace {

const Car& car() {
  static const Car loaded = *load_car(LOWKITE_BENCH_DATA "/cars/heron-tc190.kite-car.json");
  return loaded;
}

const CarModel& model() {
  static const CarModel built = *build_model(car(), kit_setup(car()));
  return built;
}

// Goal: 0.25 us.
void CornerPoseClosedForm(benchmark::State& state) {
  const Corner& corner = *model().corner(End::front, Side::left).linkage;
  double angle = -0.05;
  for (auto _ : state) {
    auto pose = corner.solve(angle, SteerInput{});
    benchmark::DoNotOptimize(pose);
    angle = angle < 0.05 ? angle + 1e-4 : -0.05;
  }
}
BENCHMARK(CornerPoseClosedForm);

void CornerPoseAtTravel(benchmark::State& state) {
  const CornerModel& corner = model().corner(End::front, Side::left);
  double travel = -4.0;
  for (auto _ : state) {
    auto pose = pose_at_travel(corner, travel, SteerInput{});
    benchmark::DoNotOptimize(pose);
    travel = travel < 5.0 ? travel + 0.01 : -4.0;
  }
}
BENCHMARK(CornerPoseAtTravel);

void OneAxleAllFigures(benchmark::State& state) {
  const Attitude attitude = static_attitude(model());
  const Ground ground = ground_under(car(), attitude);
  for (auto _ : state) {
    const auto pose = pose_axle(model(), End::front, attitude);
    auto figures = read_axle(model(), End::front, *pose, ground);
    benchmark::DoNotOptimize(figures);
  }
}
BENCHMARK(OneAxleAllFigures);

// Goal: 20 us.
void WholeCarAllFigures(benchmark::State& state) {
  const Attitude attitude = static_attitude(model());
  for (auto _ : state) {
    auto figures = figures_at(model(), attitude);
    benchmark::DoNotOptimize(figures);
  }
}
BENCHMARK(WholeCarAllFigures);

void AxleSweep25(benchmark::State& state) {
  const Attitude attitude = static_attitude(model());
  for (auto _ : state) {
    auto curve = sweep_axle(model(), End::front, attitude, 25);
    benchmark::DoNotOptimize(curve);
  }
}
BENCHMARK(AxleSweep25);

void ResetOfAllFourWheels(benchmark::State& state) {
  Setup changed = kit_setup(car());
  changed.at_index(car().find_adjuster("front_link_inner_shims")) = {1.0, 1.0};
  const CarTargets targets = targets_of(*figures_at(model(), static_attitude(model())));
  for (auto _ : state) {
    auto result = reset_alignment(car(), changed, targets, {});
    benchmark::DoNotOptimize(result);
  }
}
BENCHMARK(ResetOfAllFourWheels);

// What the window computes for one step of a part.
void WholeComparison(benchmark::State& state) {
  Setup changed = kit_setup(car());
  changed.at_index(car().find_adjuster("front_link_inner_shims")) = {1.0, 1.0};
  for (auto _ : state) {
    auto result = compare(car(), kit_setup(car()), changed, {}, {}, 25);
    benchmark::DoNotOptimize(result);
  }
}
BENCHMARK(WholeComparison);

}  // namespace
}  // namespace lowkite

BENCHMARK_MAIN();
