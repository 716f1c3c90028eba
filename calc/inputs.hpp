// What the commands share: reading their inputs and refusing them.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include <tl/expected.hpp>

#include "calc/commands.hpp"
#include "core/boxes/boxes.hpp"
#include "core/car/setup.hpp"
#include "core/io/fault.hpp"
#include "core/load/balance.hpp"

namespace lowkite::calc {

constexpr long most_rows = 2'000'000;

/// Prints one line a fault and returns the exit status.
int refuse(const Faults& faults);

struct CarAndSetup {
  Car car;
  Setup setup;
};
tl::expected<CarAndSetup, Faults> load(const Inputs& inputs);

/// A car with its setup on its springs; held by a pointer, since the loaded car points into the rest.
struct OnSprings {
  CarAndSetup files;
  CarModel model;
  std::optional<LoadedCar> loaded;  ///< always there in what is returned
};
tl::expected<std::unique_ptr<const OnSprings>, Faults> put_on_springs(const Inputs& inputs);

/// The car that a setup file is for: among `files`, beside the setup, or shipped.
tl::expected<Car, Faults> car_for_setup(const std::string& file, const std::string& id,
                                        const std::vector<std::string>& files);
/// A setup file with its car, or a car file with its kit setup.
tl::expected<CarAndSetup, Faults> load_either(const std::string& file, const std::vector<std::string>& others);

tl::expected<Boxes, Faults> load_boxes(const std::string& file);

/// A fault of the setup, or of the car where no setup was given.
Fault fault_of(const Inputs& inputs, const std::string& place, const std::string& wrong, const std::string& allowed);

/// "A:B:STEP"; none when it is not that.
std::optional<Steps> parse_steps(const std::string& text);
/// How many samples lie in a range, its end included when a whole number of steps reaches it.
long count_of(const Steps& s);

}  // namespace lowkite::calc
