// Text as other programs write it.
#pragma once

#include <string>

namespace lowkite {

/// Text of any of the usual encodings as UTF-8: by its byte-order mark, else UTF-8 where it is, else Windows-1252.
std::string to_utf8(const std::string& bytes);

}  // namespace lowkite
