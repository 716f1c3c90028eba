// What is believed about tyres, as data that can be edited: data/tyres, and a racer's own file beside it
// (docs/formats/tyres.schema.json).
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "core/handling/family.hpp"
#include "core/io/fault.hpp"

namespace lowkite {

struct TyreBook {
  std::vector<TyreFamily> families;

  [[nodiscard]] const TyreFamily* find(std::string_view id) const;
  /// The first family for a kind of surface, by its id in the log; the first of all where none is for it. Precondition:
  /// there is one.
  [[nodiscard]] const TyreFamily& for_surface(std::string_view surface) const;
};

/// Every fault found, or the families.
tl::expected<TyreBook, Faults> read_tyres(const std::string& text, const std::string& file);
/// The shipped families and, where there is one, the racer's own file, whose families come first and take the place of
/// those with the same id.
tl::expected<TyreBook, Faults> load_tyres(const std::filesystem::path& shipped, const std::filesystem::path& own = {});
/// The text of a file with these families.
std::string write_tyres(const std::vector<TyreFamily>& families);

}  // namespace lowkite
