#include "calc/inputs.hpp"

#include <array>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <iostream>

#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"
#include "core/io/setup_file.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {

int refuse(const Faults& faults) {
  for (const Fault& f : faults) std::cerr << f.line() << "\n";
  return wrong_input;
}

tl::expected<CarAndSetup, Faults> load(const Inputs& inputs) {
  auto car = load_car(inputs.car);
  if (!car) return tl::unexpected(car.error());
  CarAndSetup both{std::move(*car), {}};
  both.setup = kit_setup(both.car);
  if (inputs.setup.empty()) return both;
  auto setup = load_setup(inputs.setup, both.car);
  if (!setup) return tl::unexpected(setup.error());
  both.setup = std::move(setup->setup);
  return both;
}

tl::expected<std::unique_ptr<const OnSprings>, Faults> put_on_springs(const Inputs& inputs) {
  auto files = load(inputs);
  if (!files) return tl::unexpected(files.error());
  // The car lies where it stays before anything points into it.
  auto on = std::make_unique<OnSprings>();
  on->files = std::move(*files);
  auto model = build_model(on->files.car, on->files.setup);
  if (!model)
    return tl::unexpected(
        Faults{fault_of(inputs, "values", model.error().message, say("values with which it closes"))});
  on->model = std::move(*model);
  auto loaded = LoadedCar::of(on->model);
  if (!loaded)
    return tl::unexpected(Faults{fault_of(inputs, "", loaded.error().message, say("a car with springs and weights"))});
  on->loaded.emplace(std::move(*loaded));
  return on;
}

Fault fault_of(const Inputs& inputs, const std::string& place, const std::string& wrong, const std::string& allowed) {
  const std::string& file = inputs.setup.empty() ? inputs.car : inputs.setup;
  return {std::filesystem::path(file).filename().string(), place, wrong, allowed};
}

std::optional<Steps> parse_steps(const std::string& text) {
  Steps s;
  std::array<double*, 3> parts{&s.from, &s.to, &s.step};
  const char* at = text.c_str();
  for (std::size_t i = 0; i < parts.size(); ++i) {
    char* end = nullptr;
    *parts[i] = std::strtod(at, &end);
    if (end == at || !std::isfinite(*parts[i]) || *end != (i < 2 ? ':' : '\0')) return std::nullopt;
    at = end + 1;
  }
  return s.step > 0.0 && s.to >= s.from ? std::optional(s) : std::nullopt;
}

long count_of(const Steps& s) {
  return static_cast<long>(std::floor((s.to - s.from) / s.step + 1e-9)) + 1;
}

tl::expected<Car, Faults> car_for_setup(const std::string& file, const std::string& id,
                                        const std::vector<std::string>& files) {
  for (const std::string& other : files) {
    const auto car = load_car(other);
    if (car && car->id == id) return *car;
  }
  if (const auto found = find_car_file(id, car_folders_for(file, data_folder()))) return load_car(*found);
  return tl::unexpected(Faults{
      {std::filesystem::path(file).filename().string(), "car", say("no car file with the id \"{}\" was found", id),
       say("a car beside the setup, in a cars folder beside its own, or among the files given")}});
}

tl::expected<CarAndSetup, Faults> load_either(const std::string& file, const std::vector<std::string>& others) {
  const std::string name = std::filesystem::path(file).filename().string();
  const auto text = read_file(file);
  if (!text) return tl::unexpected(Faults{text.error()});
  const auto document = parse_json(*text, name);
  if (!document) return tl::unexpected(document.error());
  if (!document->is_object() || document->value("format", Json()) != Json("lowkite-setup")) return load({file, ""});
  const auto id = car_id_of_setup(*text, name);
  if (!id) return tl::unexpected(id.error());
  auto car = car_for_setup(file, *id, others);
  if (!car) return tl::unexpected(car.error());
  auto setup = read_setup(*text, name, *car);
  if (!setup) return tl::unexpected(setup.error());
  return CarAndSetup{std::move(*car), std::move(setup->setup)};
}

}  // namespace lowkite::calc
