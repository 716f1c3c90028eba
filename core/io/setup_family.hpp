// The setups of a car in order: the kit, and each setup under the one it was made from.
#pragma once

#include <filesystem>
#include <vector>

#include "core/car/setup.hpp"
#include "core/io/fault.hpp"

namespace lowkite {

struct FamilyMember {
  Setup setup;
  std::filesystem::path path;  ///< empty: the kit
  int parent = -1;             ///< index in the family; the kit has none
  int depth = 0;
};

/// Reads every setup for `car` in the folders (nothing below them; a folder named twice counts once). The kit comes
/// first, then depth first each setup with those based on it, by name. One whose parent is not there, or that is its
/// own ancestor, hangs on the kit. Files that cannot be read are passed over.
std::vector<FamilyMember> setup_family(const Car& car, const std::vector<std::filesystem::path>& folders);

/// A setup of one car as a file for another.
struct CopiedSetup {
  std::string name;
  std::string file_name;  ///< "my-car-club-carpet.kite-setup.json"
  std::string text;
};
struct CopiedSetups {
  std::vector<CopiedSetup> fit;
  Faults left;  ///< setups that do not fit `from` any more, or with which the copy cannot stand, by the file's name
};
/// Every setup of `from` in the folders, for its copy `to`: what belongs to the day, and fields of others, go along.
CopiedSetups copied_setups(const Car& from, const Car& to, const std::vector<std::filesystem::path>& folders);

/// Files in the folders that say they are for this car and cannot be read as a setup of it, with the first fault of
/// each.
Faults setups_that_do_not_fit(const Car& car, const std::vector<std::filesystem::path>& folders);

/// From the kit down to `member`.
std::vector<int> line_to(const std::vector<FamilyMember>& family, int member);

}  // namespace lowkite
