// Finding the car that a setup is for.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lowkite {

/// Looks for a car file with this id in the given folders, in their order; nothing below them is searched.
std::optional<std::filesystem::path> find_car_file(const std::string& car_id,
                                                   const std::vector<std::filesystem::path>& folders);

/// Where the car of a setup file usually lies: beside it, in a "cars" folder beside its own, and in `data`/cars.
std::vector<std::filesystem::path> car_folders_for(const std::filesystem::path& setup_file,
                                                   const std::filesystem::path& data);

/// The shipped data: LOWKITE_DATA from the environment, else beside the installed program, else the source tree's.
std::filesystem::path data_folder();

}  // namespace lowkite
