#include "core/io/fault.hpp"

#include "core/words/say.hpp"

namespace lowkite {

std::string Fault::line() const {
  const std::string where = place.empty() ? file : file + ": " + place;
  return allowed.empty()
             ? where + ": " + wrong
             : say("{where}: {wrong}; allowed: {allowed}", "where"_a = where, "wrong"_a = wrong, "allowed"_a = allowed);
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
