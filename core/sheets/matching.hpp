// Which field of a form stands for what on a car: proposed by words and numbers, decided by the racer, and remembered
// for every sheet with the same fields.
#pragma once

#include "core/io/kept_json.hpp"
#include "core/sheets/places.hpp"

namespace lowkite {

/// What a field stands for.
struct SheetMatch {
  std::string place;         ///< a place's id; empty: left alone
  std::optional<Side> side;  ///< of places whose sides can differ; none: both, or "left / right" in one field
  std::string option;        ///< tick boxes: the position of the part that a tick means

  bool operator==(const SheetMatch&) const = default;
};

/// A match for each field. What has words that no place of the car has is kept as noted; what is empty and unknown is
/// left alone. A proposal is no more than that: the racer sees it before anything is taken.
std::vector<SheetMatch> propose_matches(const SheetForm& form, const std::vector<SheetPlace>& places, const Car& car);

/// The text of a file that remembers matches, and back: those of fields that the form has, none for the others.
std::string write_matches(const SheetForm& form, const std::vector<SheetMatch>& matches);
tl::expected<std::vector<SheetMatch>, Faults> read_matches(const std::string& text, const std::string& file,
                                                           const SheetForm& form);

}  // namespace lowkite
