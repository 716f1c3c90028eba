#include "core/words/say.hpp"

#include <fmt/format.h>

namespace lowkite {
namespace {

std::unique_ptr<const Language>& spoken() {
  static std::unique_ptr<const Language> language;
  return language;
}

/// A translator's slip must not cost the racer the message: what does not fit its arguments is said in English.
std::string fit(const std::string& translated, std::string_view english, fmt::format_args arguments) {
  try {
    return fmt::vformat(translated, arguments);
  } catch (const fmt::format_error&) {
    return fmt::vformat(english, arguments);
  }
}

}  // namespace

void speak(std::unique_ptr<const Language> language) {
  spoken() = std::move(language);
}

std::string word(std::string_view english) {
  return spoken() && !english.empty() ? spoken()->of(std::string(english)) : std::string(english);
}

std::string word(std::string_view one, std::string_view many, unsigned long n) {
  return spoken() ? spoken()->of(std::string(one), std::string(many), n) : std::string(n == 1 ? one : many);
}

namespace saying {

std::string filled(std::string_view english, fmt::format_args arguments) {
  return fit(word(english), english, arguments);
}

std::string filled(std::string_view one, std::string_view many, unsigned long n, fmt::format_args arguments) {
  return fit(word(one, many, n), n == 1 ? one : many, arguments);
}

}  // namespace saying
}  // namespace lowkite
