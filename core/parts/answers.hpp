// The answers to what is asked about a part, read.
#pragma once

#include <algorithm>
#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include <fmt/format.h>

#include "core/io/typed_text.hpp"
#include "core/load/spring.hpp"
#include "core/parts/part_forms.hpp"
#include "core/words/say.hpp"

namespace lowkite::parts {

/// Reads the answers and keeps the first thing that is wrong with them.
class Answers {
 public:
  explicit Answers(std::span<const PartQuestion> all) : all_(all) {}

  [[nodiscard]] const std::optional<Fault>& fault() const { return fault_; }
  [[nodiscard]] bool given(std::string_view id) const { return !text(id).empty(); }

  [[nodiscard]] std::string text(std::string_view id) const {
    const PartQuestion* q = find(id);
    return q ? trimmed(q->answer) : std::string();
  }
  double number(std::string_view id) {
    const auto v = number_in(text(id));
    if (!v) wrong(id, say("a number"));
    return v.value_or(0.0);
  }
  int count(std::string_view id, int least, int most) {
    const double v = number(id);
    if (v != std::floor(v) || v < least || v > most)
      wrong(id, say("a whole number from {least} to {most}", "least"_a = least, "most"_a = most));
    return static_cast<int>(std::clamp(v, static_cast<double>(least), static_cast<double>(most)));
  }
  /// `rates`: "2.8 lbf/in; 3.1 lbf/in" and coils count, too, with semicolons between them.
  /// `or_none`: the word "none" is 0, for what may be left out.
  std::vector<double> numbers(std::string_view id, bool rates = false, bool or_none = false) {
    std::vector<double> list;
    const std::string typed = text(id);
    const bool phrases = rates && (typed.find(';') != std::string::npos || !number_list(typed, or_none));
    for (const std::string& word : phrases ? split(typed) : words_in(typed)) {
      const auto plain = or_none && (word == "none" || word == "None") ? std::optional(0.0) : number_in(word);
      const auto v = plain || !rates ? plain : rate_from_text(word);
      if (!v) {
        wrong(id, rates ? say("rates such as 0.49 0.54, or 2.8 lbf/in; 3.1 lbf/in")
                        : say("numbers with spaces between them"));
        return {};
      }
      list.push_back(*v);
    }
    return list;
  }
  /// As many numbers as `size`; nothing typed: all are 0.
  std::vector<double> column(std::string_view id, std::size_t size) {
    if (!given(id)) return std::vector<double>(size, 0.0);
    std::vector<double> list = numbers(id);
    if (!fault_ && list.size() != size) wrong(id, say("{} numbers, one for each position", size));
    list.resize(size, 0.0);
    return list;
  }
  std::vector<std::string> phrases(std::string_view id) const { return split(text(id)); }
  /// Which of `list` an answer is; its first where it is none, with a fault.
  std::size_t which(std::string_view id, const std::vector<std::string>& list) {
    const std::string typed = text(id);
    for (std::size_t i = 0; i < list.size(); ++i)
      if (list[i] == typed) return i;
    wrong(id, say("one of {}", fmt::join(list, "; ")));
    return 0;
  }
  std::size_t which(std::string_view id, const std::vector<double>& list) {
    const double v = number(id);
    for (std::size_t i = 0; i < list.size(); ++i)
      if (std::abs(list[i] - v) < 1e-9) return i;
    std::vector<std::string> texts;
    for (const double one : list) texts.push_back(fmt::format("{}", one));
    wrong(id, say("one of {}", fmt::join(texts, ", ")));
    return 0;
  }
  void wrong(std::string_view id, std::string allowed) {
    if (fault_) return;
    const PartQuestion* q = find(id);
    const std::string typed = text(id);
    fault_ = Fault{"", q ? q->label : std::string(id),
                   typed.empty() ? say("nothing is typed") : say("found \"{}\"", typed), std::move(allowed)};
  }

 private:
  [[nodiscard]] const PartQuestion* find(std::string_view id) const {
    for (const PartQuestion& q : all_)
      if (q.id == id) return &q;
    return nullptr;
  }
  static bool number_list(const std::string& typed, bool or_none) {
    const auto words = words_in(typed);
    return std::all_of(words.begin(), words.end(), [&](const std::string& w) {
      return number_in(w).has_value() || (or_none && (w == "none" || w == "None"));
    });
  }
  /// By semicolons.
  static std::vector<std::string> split(const std::string& typed) {
    std::vector<std::string> parts;
    std::size_t from = 0;
    while (from <= typed.size()) {
      const std::size_t to = std::min(typed.find(';', from), typed.size());
      if (const std::string one = trimmed(typed.substr(from, to - from)); !one.empty()) parts.push_back(one);
      from = to + 1;
    }
    return parts;
  }

  std::span<const PartQuestion> all_;
  std::optional<Fault> fault_;
};

}  // namespace lowkite::parts
