// A car on the bench that is not set as anybody believes: it stands on springs and collars of its own, answers every
// gauge with a little scatter, and lets itself be turned. What an advice is worth shows when it is done on such a car.
#pragma once

#include <memory>
#include <random>
#include <string>
#include <vector>

#include "core/bench/verdict.hpp"
#include "core/figures/variant.hpp"

namespace lowkite {

class BenchCar {
 public:
  /// `planned` with every thread turned by up to `turns`, every collar moved, every end point elsewhere, as `seed` has
  /// it. Fails with a sentence when no such car can stand.
  static tl::expected<BenchCar, std::string> wrongly_set(const Car& car, const Setup& planned, unsigned seed,
                                                         double turns = 1.5);

  /// What the gauge would read without scatter; none where it reads nothing.
  [[nodiscard]] std::optional<double> truth(const Gauge& gauge, const BenchKit& bench, Side side) const;
  /// What a hand reads: off by up to 0.4 of what the gauge can tell.
  [[nodiscard]] std::optional<double> read(const Gauge& gauge, const BenchKit& bench, Side side);

  /// Does what an answer tells on one side.
  void obey(const Gauge& gauge, Side side, const GaugeAnswer& answer, const BenchKit& bench);
  /// Turns a part by name; false where the car has none, or its thread ends.
  bool turn(std::string_view part, Side side, double by);
  /// One collar, spacer or screw of an axle: positive makes the shock longer.
  void turn_collar(End end, Side side, double mm);

  /// Lets it find its stand after its collars were moved. Fails where there is none.
  tl::expected<void, std::string> settle();

  [[nodiscard]] const Car& car() const { return *car_; }
  [[nodiscard]] const Setup& setup() const { return setup_; }

 private:
  /// The car as it stands, read; nullptr where it cannot be.
  [[nodiscard]] const Variant* stands() const;
  [[nodiscard]] PerSide<CornerStops> stops() const;
  [[nodiscard]] std::optional<double> servo_now(Side way, double inside_deg) const;
  BenchCar(const Car& car, unsigned seed) : car_(&car), random_(seed) {}
  const Car* car_;
  std::mt19937 random_;
  Setup setup_;  ///< with the ride heights at which it stands
  Collars collars_{};
  PerSide<double> end_point_rad_{};  ///< of the servo from the middle, steering left and right
  double roll_rad_ = 0.0;
  PerEnd<PerSide<double>> grams_{};
  mutable std::shared_ptr<const Variant> stands_;  ///< made when it is asked for
};

/// What came of a whole run in which everything that was told was done.
struct Rehearsal {
  bool ended = false;  ///< no step is open
  int turns = 0;
  std::vector<std::string> wrong;  ///< sentences: an advice that made it worse, a figure that is off at the end
};
/// Runs through all steps, reads, obeys, reads again, until every step has ended or nothing more is told.
Rehearsal rehearse(BenchCar& on_the_bench, BenchRun& run);

}  // namespace lowkite
