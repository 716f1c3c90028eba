// JSON text to a document, with faults that name the line, and the header that every file of ours carries.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include <nlohmann/json.hpp>
#include <tl/expected.hpp>

#include "core/io/fault.hpp"
#include "core/io/kept_json.hpp"

namespace lowkite {

/// Nesting deeper than this is not a file of ours.
constexpr int deepest_nesting = 24;

/// Parses `text`. Faults: not JSON (with line and column), a field given twice, nesting too deep, numbers out of range.
tl::expected<Json, Faults> parse_json(const std::string& text, const std::string& file);

/// Checks "format" and "version" and brings older versions up to date. Newer ones are refused.
Faults check_header(const Json& document, const std::string& file, std::string_view format, int newest_version);

/// How a value is shown in a fault: short, and never a screenful.
std::string shown(const Json& value);

}  // namespace lowkite
