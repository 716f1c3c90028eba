// Before a race day: which setup to start from, by what the log knows of such days, or the kit with few changes; and
// what to take along for the plans that one has.
#pragma once

#include <string>
#include <vector>

#include "core/boxes/stock.hpp"
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
  /// How many of them are not in the boxes, for the plan that misses most; none: the boxes say nothing about such
  /// parts.
  std::optional<int> missing{};
};
/// What the plans need that is not on the car as `on_the_car` has it: both sides, shims counted by thickness for the
/// plan that needs most of them. `boxes`: what is there to be taken along; none: nobody has told.
std::vector<PackLine> packing_list(const Car& car, const Setup& on_the_car, const std::vector<Setup>& plans,
                                   const std::optional<Boxes>& boxes = std::nullopt);

/// Something that is not in the boxes, and what it would be good for.
struct Purchase {
  std::vector<Lack> lacks;         ///< what has to be bought together, or borrowed
  std::vector<std::string> opens;  ///< plans that can be driven with nothing more than this
  std::vector<std::string> helps;  ///< plans that want it and other things, too
};
/// What is missing for the plans, each on its own from the car as it is: what opens most plans first, then what helps
/// most, then the fewest pieces. What one plan lacks is bought together; a plan that can be driven is in none.
std::vector<Purchase> what_to_buy(const Car& car, const Setup& on_the_car, const std::vector<Setup>& plans,
                                  const Boxes& boxes);

}  // namespace lowkite
