#include "core/io/json_document.hpp"

#include <algorithm>
#include <set>
#include <vector>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

std::string line_and_column(const std::string& text, std::size_t byte) {
  const std::size_t end = std::min(byte > 0 ? byte - 1 : 0, text.size());
  const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(end), '\n');
  const std::size_t start = end == 0 ? std::string::npos : text.rfind('\n', end - 1);
  const std::size_t column = start == std::string::npos ? end + 1 : end - start;
  return say("line {line}, column {column}", "line"_a = line, "column"_a = column);
}

struct TooDeep {};

/// Watches a parse for what the library lets pass: nesting without end and fields given twice.
class Watcher {
 public:
  bool operator()(int depth, Json::parse_event_t event, Json& parsed) {
    using Event = Json::parse_event_t;
    if (depth > deepest_nesting) throw TooDeep{};
    switch (event) {
      case Event::object_start:
        keys_.emplace_back();
        break;
      case Event::object_end:
        keys_.pop_back();
        break;
      case Event::key:
        if (!keys_.back().insert(parsed.get<std::string>()).second) twice_.insert(parsed.get<std::string>());
        break;
      case Event::array_start:
      case Event::array_end:
      case Event::value:
        break;
    }
    return true;
  }
  [[nodiscard]] const std::set<std::string>& twice() const { return twice_; }

 private:
  std::vector<std::set<std::string>> keys_;
  std::set<std::string> twice_;
};

}  // namespace

tl::expected<Json, Faults> parse_json(const std::string& text, const std::string& file) {
  Watcher watcher;
  Json document;
  try {
    document = Json::parse(text, std::ref(watcher));
  } catch (const Json::parse_error& e) {
    const bool cut = e.byte > text.size();
    return tl::unexpected(
        Faults{{file, line_and_column(text, e.byte),
                cut ? say("the file ends in the middle: it was cut short") : say("this is not JSON from here on"),
                say("a complete JSON file as Low Kite writes it")}});
  } catch (const Json::exception&) {
    return tl::unexpected(Faults{{file, "", say("a number is too large"), say("numbers below 1e308")}});
  } catch (const TooDeep&) {
    return tl::unexpected(Faults{{file, "", say("nested more than {} levels deep", deepest_nesting),
                                  say("a car or setup file as described in docs/formats")}});
  }
  Faults faults;
  for (const std::string& key : watcher.twice())
    faults.push_back(
        {file, key.substr(0, 60), say("the field is given twice in the same place"), say("each field once")});
  if (!faults.empty()) return tl::unexpected(faults);
  return document;
}

Faults check_header(const Json& document, const std::string& file, std::string_view format, int newest_version) {
  if (!document.is_object()) return {{file, "", say("found {}", shown(document)), say("a JSON object {{ ... }}")}};
  const auto has = document.find("format");
  if (has == document.end() || !has->is_string() || has->get<std::string>() != format)
    return {{file, "format", has == document.end() ? say("missing") : say("found {}", shown(*has)),
             fmt::format("\"{}\"", format)}};
  const auto version = document.find("version");
  if (version == document.end() || !version->is_number_integer() || version->get<double>() < 1)
    return {{file, "version", version == document.end() ? say("missing") : say("found {}", shown(*version)),
             say("a whole number from 1 to {}", newest_version)}};
  if (version->get<double>() > newest_version)
    return {{file, "version", say("version {} is newer than this program", shown(*version)),
             say("up to {}; update Low Kite to open this file", newest_version)}};
  return {};
}

std::string shown(const Json& value) {
  if (value.is_object()) return say("a group {{ ... }}");
  std::string text = value.dump(-1, ' ', false, Json::error_handler_t::replace);
  constexpr std::size_t longest = 48;
  if (text.size() > longest) text = text.substr(0, longest - 3) + "...";
  return text;
}

}  // namespace lowkite
