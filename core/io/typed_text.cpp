#include "core/io/typed_text.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace lowkite {

std::string trimmed(const std::string& text) {
  constexpr const char* blank = " \t\r\n";
  const auto first = text.find_first_not_of(blank);
  return first == std::string::npos ? std::string() : text.substr(first, text.find_last_not_of(blank) - first + 1);
}

std::optional<double> number_in(std::string text) {
  std::replace(text.begin(), text.end(), ',', '.');
  if (text.starts_with("\xE2\x88\x92")) text = "-" + text.substr(3);  // a real minus sign, as the program shows it
  double v = 0.0;
  const char* end = text.data() + text.size();
  const char* begin = text.data() + (text.starts_with('+') ? 1 : 0);
  const auto [stop, error] = std::from_chars(begin, end, v);
  if (error != std::errc() || stop != end || !std::isfinite(v)) return std::nullopt;
  return v;
}

std::vector<std::string> words_in(const std::string& text) {
  std::vector<std::string> words(1);
  for (const char c : text) {
    if (c == ' ' || c == ';' || c == '\t')
      words.emplace_back();
    else
      words.back() += c;
  }
  for (std::string& w : words)
    while (!w.empty() && w.back() == ',') w.pop_back();
  std::erase_if(words, [](const std::string& w) { return w.empty(); });
  return words;
}

}  // namespace lowkite
