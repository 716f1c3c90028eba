// What people type into fields and tables, read forgivingly: a comma for a point, a real minus sign, spaces around.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace lowkite {

/// Without spaces, tabs and line ends at its ends.
std::string trimmed(const std::string& text);

/// "2,5", "2.5" and "+2.5" alike; none when the whole of `text` is no finite number.
std::optional<double> number_in(std::string text);

/// What stands between spaces, tabs and semicolons, without commas at a word's end: "0.25, 0.5" is a list too.
std::vector<std::string> words_in(const std::string& text);

}  // namespace lowkite
