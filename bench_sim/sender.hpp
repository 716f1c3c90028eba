// Electronic gauges that are not there: what each would send for a car, with the faults that real ones have.
#pragma once

#include <map>
#include <random>
#include <string>
#include <vector>

#include "bench_sim/bench_car.hpp"
#include "core/bench/instrument.hpp"

namespace lowkite {

struct SenderOptions {
  double noise = 0.3;                       ///< standard deviation, in resolutions of each gauge
  double drift = 0.0;                       ///< resolutions a second
  double drop = 0.0;                        ///< share of lines that are never sent, 0 to 1
  double damage = 0.0;                      ///< share of lines that are sent with a letter changed
  std::string wrong_unit{};                 ///< id of an instrument that is set to another unit
  std::map<InstrumentPlace, double> off{};  ///< how far the car is from its setup, in the gauge's unit
  unsigned seed = 1;
};

class Sender {
 public:
  /// Every gauge that reads something on this car. Fails when the car cannot stand.
  static tl::expected<Sender, std::string> on(const Car& car, const Setup& setup, const SenderOptions& options);

  /// Every gauge that reads something on a car that lets itself be turned; `look` again after a turn.
  static Sender on(const BenchCar& car, const SenderOptions& options);
  void look(const BenchCar& car);

  /// One line of each gauge, `seconds` after the start, each with its end.
  std::vector<std::string> lines(double seconds);
  [[nodiscard]] const std::map<InstrumentPlace, double>& truth() const { return truth_; }

 private:
  SenderOptions options_;
  std::map<InstrumentPlace, double> truth_;
  std::map<InstrumentPlace, std::uint32_t> sent_;
  std::mt19937 random_;
};

/// "camber:lf=-0.6" into a place and a value; a sentence when it is none.
tl::expected<std::pair<InstrumentPlace, double>, std::string> parse_off(std::string_view text);

}  // namespace lowkite
