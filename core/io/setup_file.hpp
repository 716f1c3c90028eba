// Setup files (.kite-setup.json): reading against a car, and writing without losing what we do not know.
#pragma once

#include <filesystem>

#include <tl/expected.hpp>

#include "core/car/setup.hpp"
#include "core/io/fault.hpp"
#include "core/io/kept_json.hpp"

namespace lowkite {

constexpr int newest_setup_version = 1;
/// What a setup file holds of what is noted, as its schema has it.
constexpr std::size_t most_noted = 500;
constexpr std::size_t longest_noted_name = 120;
constexpr std::size_t longest_noted_text = 4000;

/// A setup together with the document it came from, so that fields of other programs, or of the racer, survive a save.
struct SetupFile {
  Setup setup;
  KeptJson source;
};

/// The id of the car that a setup is for, read without the car at hand.
tl::expected<std::string, Faults> car_id_of_setup(const std::string& text, const std::string& file);

/// Parses and checks a setup for `car`. Every fault found is returned.
tl::expected<SetupFile, Faults> read_setup(const std::string& text, const std::string& file, const Car& car);
tl::expected<SetupFile, Faults> load_setup(const std::filesystem::path& path, const Car& car);

/// The text of a setup file: `source` with everything that the setup says brought up to date.
/// `source` may be empty (a new file). Reading the text back gives an equal setup.
std::string write_setup(const Setup& setup, const Car& car, const Json& source);

/// How one value is written in files: a number, or a position's label.
Json value_to_json(const Adjuster& adjuster, double value);

}  // namespace lowkite
