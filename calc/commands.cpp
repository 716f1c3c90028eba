#include "calc/commands.hpp"

#include <cmath>
#include <filesystem>
#include <iostream>

#include "calc/inputs.hpp"
#include "calc/rows.hpp"
#include "core/figures/variant.hpp"
#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/io/setup_table.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

Faults faults_in(const std::string& file, const std::vector<std::string>& all) {
  const std::string name = std::filesystem::path(file).filename().string();
  const auto text = read_file(file);
  if (!text) return {text.error()};
  const auto document = parse_json(*text, name);
  if (!document) return document.error();
  const std::string format = document->is_object() && document->contains("format") && (*document)["format"].is_string()
                                 ? (*document)["format"].get<std::string>()
                                 : "";
  if (format == "lowkite-setup") {
    const auto id = car_id_of_setup(*text, name);
    if (!id) return id.error();
    const auto car = car_for_setup(file, *id, all);
    if (!car) return car.error();
    const auto setup = read_setup(*text, name, *car);
    if (!setup) return setup.error();
    const auto model = build_model(*car, setup->setup);
    if (!model) return {{name, "values", model.error().message, say("values with which the linkage closes")}};
    if (const auto stands = pose_car(*model, static_attitude(*model)); !stands)
      return {{name, "ride_height_mm", stands.error().message, say("a ride height at which the car can stand")}};
    return {};
  }
  if (format == "lowkite-car") {
    const auto car = read_car(*text, name);
    return car ? Faults{} : car.error();
  }
  return {{name, "format", say("neither a car nor a setup"), say("\"lowkite-car\" or \"lowkite-setup\"")}};
}

}  // namespace

int validate(const std::vector<std::string>& files) {
  int status = done;
  for (const std::string& file : files) {
    const Faults faults = faults_in(file, files);
    if (!faults.empty()) {
      status = refuse(faults);
      continue;
    }
    std::cout << file << say(": ok\n");
  }
  return status;
}

int corner(const CornerOptions& options) {
  const auto travel = parse_steps(options.travel);
  const auto rack = options.rack.empty() ? std::optional(Steps{}) : parse_steps(options.rack);
  for (const auto& [name, steps, text] :
       {std::tuple("--travel", travel, options.travel), std::tuple("--rack", rack, options.rack)})
    if (!steps) {
      std::cerr << say("{what}: found {found}; allowed: A:B:STEP in mm with B not below A and STEP above 0\n",
                       "what"_a = name, "found"_a = text);
      return wrong_usage;
    }
  if (static_cast<double>(count_of(*travel)) * static_cast<double>(count_of(*rack)) > most_rows) {
    std::cerr << say("--travel, --rack: more than {} rows; allowed: fewer or larger steps\n", most_rows);
    return wrong_usage;
  }
  const auto both = load(options.inputs);
  if (!both) return refuse(both.error());
  const End end = options.axle == "front" ? End::front : End::rear;
  const Side side = options.side == "left" ? Side::left : Side::right;
  const auto model = build_corner(both->car, both->setup, end, side);
  if (!model)
    return refuse({fault_of(options.inputs, "", model.error().message, say("values with which the linkage closes"))});

  Faults faults;
  Json rows = Json::array();
  if (options.format == Format::csv) std::cout << csv_header();
  for (long j = 0; j < count_of(*rack); ++j)
    for (long i = 0; i < count_of(*travel); ++i) {
      const double z = travel->from + static_cast<double>(i) * travel->step;
      const double y = rack->from + static_cast<double>(j) * rack->step;
      const auto row = corner_row(*model, side, z, y);
      if (!row) {
        faults.push_back(
            fault_of(options.inputs,
                     say("{axle} {side}, travel {travel:g} mm, rack {rack:g} mm", "axle"_a = word(options.axle),
                         "side"_a = word(options.side), "travel"_a = z, "rack"_a = y),
                     row.error().message(), say("travel and rack that the linkage reaches")));
        continue;
      }
      if (options.format == Format::csv)
        std::cout << csv_line(*row);
      else
        rows.push_back(json_row(*row));
    }
  if (options.format == Format::json) std::cout << Json{{"rows", rows}}.dump(2) << "\n";
  return faults.empty() ? done : refuse(faults);
}

int convert(const Inputs& inputs) {
  const std::filesystem::path path = inputs.setup;
  if (path.extension() != ".csv") {
    const auto both = load(inputs);
    if (!both) return refuse(both.error());
    std::cout << write_setup_table(both->setup, both->car);
    return done;
  }
  const auto car = load_car(inputs.car);
  if (!car) return refuse(car.error());
  const auto text = read_file(path);
  if (!text) return refuse({text.error()});
  const auto read = read_setup_table(*text, path.filename().string(), *car);
  if (!read) return refuse(read.error());
  for (const Fault& f : read->left_out) std::cerr << say("left out: {}\n", f.line());
  std::cout << write_setup(read->setup, *car, {});
  return done;
}

}  // namespace lowkite::calc
