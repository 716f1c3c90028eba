// Car files (.kite-car.json): reading, and checking by meaning what the schema cannot see.
#pragma once

#include <filesystem>

#include <tl/expected.hpp>

#include "core/car/car.hpp"
#include "core/io/fault.hpp"
#include "core/io/kept_json.hpp"

namespace lowkite {

constexpr int newest_car_version = 1;

/// A size by its name in car files; none when there is no such.
std::optional<Size> size_by_name(std::string_view name);
std::string_view name_of_size(Size size);

/// Parses and checks a car. `file` names it in faults. Every fault found is returned, not only the first.
tl::expected<Car, Faults> read_car(const std::string& text, const std::string& file);
tl::expected<Car, Faults> load_car(const std::filesystem::path& path);

}  // namespace lowkite
