#include "core/io/fault.hpp"

namespace lowkite {

std::string Fault::line() const {
  std::string text = file;
  if (!place.empty()) text += ": " + place;
  text += ": " + wrong;
  if (!allowed.empty()) text += "; allowed: " + allowed;
  return text;
}

std::string place_of(const std::vector<std::string>& steps) {
  std::string text;
  for (const std::string& s : steps) {
    if (!text.empty()) text += " > ";
    text += s;
  }
  return text;
}

}  // namespace lowkite
