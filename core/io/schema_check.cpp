#include "core/io/schema_check.hpp"

#include <algorithm>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

using Plain = nlohmann::json;  // what the schema library reads

struct Parsed {
  Plain text;
  valijson::Schema schema;
};

const Parsed& parsed(FileKind kind) {
  const auto load = [](FileKind k) {
    auto p = std::make_unique<Parsed>();
    p->text = Plain::parse(schema_text(k));
    valijson::SchemaParser(valijson::SchemaParser::kDraft7)
        .populateSchema(valijson::adapters::NlohmannJsonAdapter(p->text), p->schema);
    return p;
  };
  static const auto car = load(FileKind::car);
  static const auto setup = load(FileKind::setup);
  static const auto bench = load(FileKind::bench);
  static const auto log = load(FileKind::log);
  static const auto rules = load(FileKind::rules);
  static const auto usual = load(FileKind::usual);
  static const auto tyres = load(FileKind::tyres);
  static const auto sheet = load(FileKind::sheet);
  static const auto boxes = load(FileKind::boxes);
  switch (kind) {
    case FileKind::car:
      return *car;
    case FileKind::setup:
      return *setup;
    case FileKind::bench:
      return *bench;
    case FileKind::log:
      return *log;
    case FileKind::rules:
      return *rules;
    case FileKind::usual:
      return *usual;
    case FileKind::tyres:
      return *tyres;
    case FileKind::sheet:
      return *sheet;
    case FileKind::boxes:
      return *boxes;
  }
  return *car;
}

const Plain& resolved(const Plain& root, const Plain& schema) {
  const auto ref = schema.find("$ref");
  if (ref == schema.end()) return schema;
  return root.at(Plain::json_pointer(ref->get<std::string>().substr(1)));
}

/// The part of the schema that speaks about `step` below `schema`, or nullptr.
const Plain* below(const Plain& root, const Plain& schema_or_ref, const Plain& value, const std::string& step) {
  const Plain& schema = resolved(root, schema_or_ref);
  if (const auto properties = schema.find("properties"); properties != schema.end())
    if (const auto p = properties->find(step); p != properties->end()) return &*p;
  if (const auto all = schema.find("allOf"); all != schema.end() && value.is_object())
    for (const Plain& rule : *all) {
      if (!rule.contains("if")) continue;
      const Plain& condition = rule["if"]["properties"];
      const std::string key = condition.begin().key();
      if (value.contains(key) && value[key] == condition[key]["const"])
        if (const Plain* found = below(root, rule["then"], value, step)) return found;
    }
  if (value.is_array()) {
    if (const auto items = schema.find("items"); items != schema.end()) return &*items;
  } else if (const auto more = schema.find("additionalProperties"); more != schema.end() && more->is_object()) {
    return &*more;
  }
  return nullptr;
}

std::string number_range(const Plain& s) {
  const auto limit = [&](const char* key) { return s.contains(key) ? s[key].dump() : std::string(); };
  const std::string least = limit("minimum");
  const std::string above = limit("exclusiveMinimum");
  const std::string most = limit("maximum");
  if (!above.empty())
    return most.empty() ? say("above {}", above)
                        : say("above {least} up to {most}", "least"_a = above, "most"_a = most);
  if (!least.empty())
    return most.empty() ? say("from {}", least) : say("from {least} to {most}", "least"_a = least, "most"_a = most);
  return most.empty() ? std::string() : say("up to {}", most);
}

/// A type of the schema's language.
std::string kind_in_words(const std::string& type) {
  if (type == "integer") return say("a whole number");
  if (type == "number") return say("a number");
  if (type == "string") return say("a text");
  if (type == "boolean") return say("true or false");
  if (type == "array") return say("a list [ ... ]");
  if (type == "object") return say("a group {{ ... }}");
  return say("see docs/formats");
}

/// What a schema allows, in words. A "description" that starts with a lower-case letter is written for this purpose.
std::string allowed_words(const Plain& root, const Plain& schema_or_ref) {
  const Plain& s = resolved(root, schema_or_ref);
  if (s.contains("enum")) {
    std::vector<std::string> names;
    for (const Plain& e : s["enum"]) names.push_back(e.is_string() ? e.get<std::string>() : e.dump());
    return say("one of {}", fmt::join(names, ", "));
  }
  std::string words = word(s.value("description", ""));
  const std::string type = s.contains("type") && s["type"].is_string() ? s["type"].get<std::string>() : "";
  if (words.empty()) words = kind_in_words(type);
  if (type == "number" || type == "integer")
    if (const std::string range = number_range(s); !range.empty()) words += ", " + range;
  return words;
}

/// Turns the library's path ("<root>", "[axles]", ...) into plain steps.
std::vector<std::string> steps_of(const std::vector<std::string>& context) {
  std::vector<std::string> steps;
  for (const std::string& c : context) {
    if (c == "<root>") continue;
    steps.push_back(c.size() > 2 && c.front() == '[' && c.back() == ']' ? c.substr(1, c.size() - 2) : c);
  }
  return steps;
}

const Plain* step_into(const Plain& value, const std::string& step) {
  if (value.is_array()) {
    const auto index = static_cast<std::size_t>(std::strtoul(step.c_str(), nullptr, 10));
    return index < value.size() ? &value[index] : nullptr;
  }
  const auto found = value.is_object() ? value.find(step) : value.end();
  return found == value.end() ? nullptr : &*found;
}

/// Arrays of named things are addressed by their name, since nobody counts to the seventh adjuster.
std::string human_step(const Plain& parent, const Plain& value, const std::string& step) {
  if (!parent.is_array()) return step;
  for (const char* key : {"id", "label"})
    if (value.is_object() && value.contains(key) && value[key].is_string()) return value[key].get<std::string>();
  return say("no. {}", std::strtoul(step.c_str(), nullptr, 10) + 1);
}

constexpr std::string_view missing_prefix = "Missing required property '";

bool is_summary(const std::string& description) {
  return description.starts_with("Failed to validate") || description.starts_with("Object could not be validated") ||
         description.starts_with("Array could not be validated");
}

}  // namespace

Faults check_schema(const Json& document, const std::string& file, FileKind kind) {
  const Parsed& schema = parsed(kind);
  const Plain plain = document;
  valijson::Validator validator;
  valijson::ValidationResults results;
  validator.validate(schema.schema, valijson::adapters::NlohmannJsonAdapter(plain), &results);
  Faults faults;
  valijson::ValidationResults::Error error;
  while (results.popError(error)) {
    if (is_summary(error.description)) continue;
    std::vector<std::string> place;
    const Plain* value = &plain;
    const Plain* rule = &schema.text;
    for (const std::string& step : steps_of(error.context)) {
      const Plain* next = value ? step_into(*value, step) : nullptr;
      place.push_back(value && next ? human_step(*value, *next, step) : step);
      rule = rule && value ? below(schema.text, *rule, *value, step) : nullptr;
      value = next;
    }
    Fault fault{file, "", "", ""};
    if (error.description.starts_with(missing_prefix)) {
      const std::string name = error.description.substr(
          missing_prefix.size(), error.description.find('\'', missing_prefix.size()) - missing_prefix.size());
      place.push_back(name);
      const Plain* wanted = rule && value ? below(schema.text, *rule, *value, name) : nullptr;
      fault.wrong = say("missing");
      fault.allowed = wanted ? allowed_words(schema.text, *wanted) : say("this field must be given");
    } else {
      fault.wrong = value ? say("found {}", shown(Json(*value))) : error.description;
      fault.allowed = rule ? allowed_words(schema.text, *rule) : say("see docs/formats");
    }
    fault.place = place_of(place);
    if (std::find(faults.begin(), faults.end(), fault) == faults.end()) faults.push_back(fault);
  }
  return faults;
}

}  // namespace lowkite
