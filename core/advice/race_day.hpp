// Before a race day: which setup to start from, by what the log knows of such days, or the kit with few changes; and
// what to take along for the plans that one has.
#pragma once

#include <string>
#include <vector>

#include "core/log/log_exchange.hpp"
#include "core/log/run_comparison.hpp"

namespace lowkite {

/// What is known of the day to come.
struct DayAhead {
  std::string track;
  Surface surface = Surface::unknown;
  Grip grip = Grip::unknown;
  std::optional<double> ground_celsius;
};

struct StartProposal {
  enum class From : std::uint8_t {
    log,       ///< as it was driven in the run named
    kit_first  ///< the kit with the few parts that like days agree on
  };
  From from = From::log;
  Setup setup;
  std::int64_t run = 0;  ///< 0 for the kit
  std::string date;
  double likeness = 0.0;  ///< of that day to the day ahead, 0 to 1
  double slower = 0.0;    ///< that run's median against the day's best of this car, a share; 0 = it was the best
  std::vector<std::string> reasons;  ///< in sentences
};

/// Best first: like days first, and of them the quicker runs; setups that are equal count once. The kit's proposal
/// comes last. Empty without a surface, or where the log holds no run of the car on it: then only the kit is left.
std::vector<StartProposal> starting_setups(const std::vector<LoggedDay>& days, const Car& car, const DayAhead& ahead,
                                           std::size_t most = 3, const LapRule& rule = {});

/// One thing to take along.
struct PackLine {
  std::string what;  ///< "Front: spring, hard" or "shim 0.5 mm"
  int count = 1;
  std::vector<std::string> why;  ///< names of the setups that need it
};
/// What the plans need that is not on the car as `on_the_car` has it: both sides, shims counted by thickness for the
/// plan that needs most of them.
std::vector<PackLine> packing_list(const Car& car, const Setup& on_the_car, const std::vector<Setup>& plans);

}  // namespace lowkite
