#include "core/io/encoding.hpp"

#include <array>

#include <iconv.h>

namespace lowkite {
namespace {

/// By iconv; what cannot be read becomes a question mark.
std::string converted(const std::string& bytes, const char* from) {
  const iconv_t cd = iconv_open("UTF-8", from);
  if (cd == reinterpret_cast<iconv_t>(-1)) return bytes;  // NOLINT: iconv's own error value
  std::string out;
  std::string in = bytes;
  char* at = in.data();
  std::size_t left = in.size();
  std::array<char, 4096> piece{};
  while (left > 0) {
    char* to = piece.data();
    std::size_t room = piece.size();
    const std::size_t done = iconv(cd, &at, &left, &to, &room);
    out.append(piece.data(), piece.size() - room);
    if (done == static_cast<std::size_t>(-1) && room == piece.size()) {
      out += '?';
      ++at;
      --left;
    }
  }
  iconv_close(cd);
  return out;
}

bool is_utf8(const std::string& bytes) {
  const iconv_t cd = iconv_open("UTF-8", "UTF-8");
  if (cd == reinterpret_cast<iconv_t>(-1)) return true;  // NOLINT: iconv's own error value
  std::string in = bytes;
  std::string out(bytes.size() + 4, '\0');
  char* from = in.data();
  char* to = out.data();
  std::size_t left = in.size();
  std::size_t room = out.size();
  const bool good = iconv(cd, &from, &left, &to, &room) != static_cast<std::size_t>(-1);
  iconv_close(cd);
  return good;
}

}  // namespace

std::string to_utf8(const std::string& bytes) {
  if (bytes.starts_with("\xEF\xBB\xBF")) return bytes.substr(3);
  if (bytes.starts_with("\xFF\xFE")) return converted(bytes.substr(2), "UTF-16LE");
  if (bytes.starts_with("\xFE\xFF")) return converted(bytes.substr(2), "UTF-16BE");
  return is_utf8(bytes) ? bytes : converted(bytes, "WINDOWS-1252");
}

}  // namespace lowkite
