// What the program says, in the racer's language. Texts stand in the code in English: as the first argument of say()
// and counted(), or in marked() where a table keeps them. tools/update-texts collects them all; a catalogue gives them
// back in another language. Nothing is decided by comparing what was said.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <utility>

#include <fmt/format.h>

namespace lowkite {

/// Names what goes into a place: say("{axle} {side}", "axle"_a = a, "side"_a = s). A text with more than one place has
/// all of them named, so that a translator knows what each holds and may put them in any order.
using fmt::literals::operator""_a;

/// Marks a text that a table keeps; it is shown with word(). Gives it back as it is.
consteval const char* marked(const char* english) {
  return english;
}

/// A language. What it does not know it gives back in English.
class Language {
 public:
  Language() = default;
  Language(const Language&) = delete;
  Language& operator=(const Language&) = delete;
  virtual ~Language() = default;
  [[nodiscard]] virtual std::string of(const std::string& english) const = 0;
  /// Of a text about `n` things, which are one or many in English.
  [[nodiscard]] virtual std::string of(const std::string& one, const std::string& many, unsigned long n) const = 0;
};

/// The language from now on; none: English. Called before anything is said, or while no other thread says anything.
void speak(std::unique_ptr<const Language> language);

/// What the catalogue says of a text from a table or of a name; the text itself where it knows nothing.
std::string word(std::string_view english);

/// The same about `n` things.
std::string word(std::string_view one, std::string_view many, unsigned long n);

/// The word for a value of a list that has names.
template <class Named>
requires requires(Named n) {
  name_of(n);
}
std::string word(Named n) {
  return word(std::string_view(name_of(n)));
}

namespace saying {
std::string filled(std::string_view english, fmt::format_args arguments);
std::string filled(std::string_view one, std::string_view many, unsigned long n, fmt::format_args arguments);
}  // namespace saying

/// A text with its places filled in, as fmt does it; the compiler checks the names, too. The arguments are put in as
/// they are: pass what is itself a text through word().
template <class... Args>
std::string say(fmt::format_string<Args...> english, Args&&... arguments) {
  const fmt::string_view text = english;
  return saying::filled({text.data(), text.size()}, fmt::make_format_args(arguments...));
}

/// The same about `n` things: English knows one and many, other languages what their catalogue says.
template <class... Args>
std::string say_counted(unsigned long n, fmt::format_string<Args...> one, fmt::format_string<Args...> many,
                        Args&&... arguments) {
  const fmt::string_view first = one;
  const fmt::string_view second = many;
  return saying::filled({first.data(), first.size()}, {second.data(), second.size()}, n,
                        fmt::make_format_args(arguments...));
}

}  // namespace lowkite
