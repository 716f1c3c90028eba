// Files against their published JSON Schema (docs/formats), with faults in a racer's words.
#pragma once

#include "core/io/json_document.hpp"

namespace lowkite {

enum class FileKind { car, setup, bench, log, rules, usual, tyres, sheet, boxes };

/// The published schema's text.
std::string_view schema_text(FileKind kind);

/// Every place where the document departs from the schema.
Faults check_schema(const Json& document, const std::string& file, FileKind kind);

}  // namespace lowkite
