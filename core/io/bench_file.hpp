// Bench runs (.kite-bench.json): reading against a car, writing whole.
#pragma once

#include <filesystem>

#include <tl/expected.hpp>

#include "core/bench/run.hpp"
#include "core/io/fault.hpp"

namespace lowkite {

constexpr int newest_bench_version = 2;

/// The id of the car that a run is of, read without the car at hand.
tl::expected<std::string, Faults> car_id_of_run(const std::string& text, const std::string& file);

/// Parses and checks a run for `car`. Steps that this program does not know are kept in the order and passed over.
tl::expected<BenchRun, Faults> read_run(const std::string& text, const std::string& file, const Car& car);
tl::expected<BenchRun, Faults> load_run(const std::filesystem::path& path, const Car& car);

/// Spring pressures that a run holds, of whatever car.
struct KeptPull {
  std::string car_id;
  std::string started;
  End end = End::front;
  std::vector<PullPoint> points;
};
tl::expected<std::vector<KeptPull>, Faults> pulls_of_run(const std::string& text, const std::string& file);

/// The text of a run's file; reading it back gives an equal run.
std::string write_run(const BenchRun& run, const Car& car);

}  // namespace lowkite
