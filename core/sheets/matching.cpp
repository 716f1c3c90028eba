#include "core/sheets/matching.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include <fmt/format.h>

#include "core/io/json_document.hpp"
#include "core/io/schema_check.hpp"

namespace lowkite {
namespace {

constexpr int newest_matches_version = 1;
constexpr double least_score = 0.34;  ///< of 1: fewer words in common are chance

/// Words of the trade that mean the same here. Common practice, no source.
const std::map<std::string, std::string>& same_word() {
  static const std::map<std::string, std::string> words{
      {"shims", "shim"},       {"spacer", "shim"},     {"spacers", "shim"},      {"washer", "shim"},
      {"washers", "shim"},     {"castor", "caster"},   {"springs", "spring"},    {"shocks", "shock"},
      {"damper", "shock"},     {"dampers", "shock"},   {"shockoil", "oil"},      {"pistons", "piston"},
      {"sway", "bar"},         {"roll", "bar"},        {"antiroll", "bar"},      {"stabilizer", "bar"},
      {"stabiliser", "bar"},   {"arb", "bar"},         {"diff", "differential"}, {"inside", "inner"},
      {"outside", "outer"},    {"downstop", "down"},   {"downstops", "down"},    {"holes", "hole"},
      {"position", "hole"},    {"arms", "arm"},        {"wishbone", "arm"},      {"steering", "tie"},
      {"rods", "rod"},         {"links", "link"},      {"turnbuckle", "link"},   {"event", "track"},
      {"location", "track"},   {"comments", "notes"},  {"comment", "notes"},     {"remarks", "notes"},
      {"remark", "notes"},     {"title", "name"},      {"weights", "weight"},    {"bulkhead", "bulkhead"},
      {"hub", "hub"},          {"carrier", "hub"},     {"knuckle", "knuckle"},   {"batterie", "battery"},
      {"blocks", "block"},     {"inserts", "insert"},  {"pins", "pin"},          {"hinge", "pin"},
      {"tower", "tower"},      {"stay", "tower"},      {"wire", "wire"},         {"thickness", "wire"},
      {"servosaver", "servo"}, {"limiter", "limiter"}, {"limiters", "limiter"},  {"bl", "block"}};
  return words;
}

const std::set<std::string>& small_words() {
  static const std::set<std::string> words{
      "the", "of",   "and",   "in",    "on",    "a",    "an",   "to",    "at",    "with", "its",  "mm", "deg",
      "cst", "text", "field", "no",    "front", "rear", "left", "right", "back",  "f",    "r",    "l",  "fl",
      "fr",  "rl",   "rr",    "under", "is",    "ball", "part", "box",   "sheet", "set",  "setup"};
  return words;
}

std::set<std::string> telling_words(const std::string& text) {
  std::set<std::string> telling;
  for (const std::string& word : plain_words(text)) {
    if (small_words().contains(word) || std::isdigit(static_cast<unsigned char>(word[0]))) continue;
    const auto same = same_word().find(word);
    telling.insert(same == same_word().end() ? word : same->second);
  }
  return telling;
}

/// Words by which a racer's sheet may call the place.
std::set<std::string> words_of(const SheetPlace& p, const Car& car) {
  using K = SheetPlaceKind;
  if (p.kind == K::name) return {"name"};
  if (p.kind == K::notes) return {"notes"};
  if (p.kind == K::camber || p.kind == K::camber_minus) return {"camber"};
  if (p.kind == K::toe || p.kind == K::toe_in) return {"toe"};
  if (p.kind == K::toe_out) return {"toe", "out"};
  std::set<std::string> words = telling_words(p.label);
  if (p.kind == K::gauge && p.gauge.kind == &gauge::link_length) {
    words.erase("caliper");
    words.insert("length");
  }
  if (p.kind != K::part) return words;
  const Adjuster& a = car.adjusters[p.adjuster];
  words.merge(telling_words(a.id));
  if (a.kind == AdjusterKind::shim_stack) words.insert("shim");
  if (a.kind == AdjusterKind::hole) words.insert("hole");
  return words;
}

/// Whether the place can be what is filled in.
bool can_hold(const SheetPlace& p, const Car& car, const std::string& text) {
  if (p.kind == SheetPlaceKind::name || p.kind == SheetPlaceKind::date || p.kind == SheetPlaceKind::track ||
      p.kind == SheetPlaceKind::notes || p.kind == SheetPlaceKind::noted)
    return true;
  for (const std::string& one : sheet_sides(text)) {
    if (p.kind == SheetPlaceKind::part) {
      const Adjuster& a = car.adjusters[p.adjuster];
      if (const Positions* positions = a.positions()) {
        if (!sheet_position(*positions, one)) return false;
        continue;
      }
      const auto v = sheet_number(one);
      if (!v || *v < a.least() - 0.01 || *v > a.most() + 0.01) return false;
    } else {
      const auto v = sheet_number(one);
      if (!v) return false;
      // A length of 5 mm is no shock's; a hole 5 may be.
      constexpr double likely_part = 0.3, likely_mm = 3.0;
      if (p.kind == SheetPlaceKind::gauge && p.kit_reads &&
          std::abs(*v - *p.kit_reads) > std::max(likely_mm, likely_part * std::abs(*p.kit_reads)))
        return false;
    }
  }
  return true;
}

bool is_toe(SheetPlaceKind kind) {
  return kind == SheetPlaceKind::toe || kind == SheetPlaceKind::toe_in || kind == SheetPlaceKind::toe_out;
}

/// Which way a sheet counts toe, if it says so. A rear axle has toe-in (common practice, no source); in front a bare
/// number may be either, and a guess would turn both rods the wrong way.
const char* toe_as_written(const FormField& field, End end) {
  const std::vector<std::string> words = plain_words(field.told + " " + field.label + " " + field.name);
  const bool in = std::find(words.begin(), words.end(), "in") != words.end();
  const bool out = std::find(words.begin(), words.end(), "out") != words.end();
  if (in != out) return in ? "toe_in" : "toe_out";
  return end == End::rear && !in ? "toe_in" : "toe";
}

struct Pair {
  double score;
  std::size_t field, place;
};

}  // namespace

std::vector<SheetMatch> propose_matches(const SheetForm& form, const std::vector<SheetPlace>& places, const Car& car) {
  std::vector<std::set<std::string>> words;
  std::map<std::string, int> places_with;
  for (const SheetPlace& p : places) {
    words.push_back(words_of(p, car));
    for (const std::string& w : words.back()) ++places_with[w];
  }
  // A word that few places have tells more.
  const auto weight = [&](const std::string& word) {
    const auto found = places_with.find(word);
    return std::log(1.0 + static_cast<double>(places.size()) / (found == places_with.end() ? 2.0 : found->second));
  };
  std::vector<Pair> pairs;
  for (std::size_t f = 0; f < form.fields.size(); ++f) {
    const FormField& field = form.fields[f];
    if (field.read_only) continue;
    // A field's own name may say more, or nothing ("Text 12"): the better of both counts.
    const std::array<std::set<std::string>, 2> says{telling_words(field.told + " " + field.label),
                                                    telling_words(field.name)};
    for (std::size_t p = 0; p < places.size(); ++p) {
      const SheetPlace& place = places[p];
      if (place.kind == SheetPlaceKind::noted ||
          (place.end && field.end && *place.end != *field.end && !field.end_by_heading))
        continue;
      double best = 0.0;
      for (const std::set<std::string>& told : says) {
        double both = 0.0, all = 0.0;
        for (const std::string& w : told) {
          all += weight(w);
          if (words[p].contains(w)) both += weight(w);
        }
        for (const std::string& w : words[p]) all += weight(w);
        if (all > 0.0) best = std::max(best, 2.0 * both / all);
      }
      if (place.end && !field.end) best *= 0.7;
      if (place.end && field.end && *place.end != *field.end) best *= 0.6;
      // The car has an axle's part, the sheet speaks of none: a word of the day.
      if (!place.end && field.end && place.kind != SheetPlaceKind::noted) best *= 0.6;
      if (field.kind == FormFieldKind::box) {
        const bool has = place.adjuster && car.adjusters[place.adjuster].positions() &&
                         sheet_position(*car.adjusters[place.adjuster].positions(), field.option);
        if (!has) continue;
      } else if (!field.text.empty()) {
        best *= can_hold(place, car, field.text) ? 1.15 : 0.6;
      }
      if (best >= least_score) pairs.push_back({best, f, p});
    }
  }
  std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.score > b.score; });
  std::vector<SheetMatch> matches(form.fields.size());
  std::vector<bool> has(form.fields.size(), false);
  /// By place: which sides are spoken for; boxes share a place by their options.
  std::map<std::size_t, std::set<int>> taken;
  std::map<std::size_t, std::set<std::string>> options;
  constexpr int whole = -1;
  for (const Pair& pair : pairs) {
    if (has[pair.field]) continue;
    const FormField& field = form.fields[pair.field];
    const SheetPlace& place = places[pair.place];
    SheetMatch m{place.id, place.sides ? field.side : std::nullopt, {}};
    const int side = m.side ? static_cast<int>(at(*m.side)) : whole;
    if (field.kind == FormFieldKind::box) {
      const auto& list = car.adjusters[place.adjuster].positions()->list;
      m.option = list[at(*sheet_position({list}, field.option))].label;
      if (taken[pair.place].contains(whole) ||
          !options[pair.place].insert(m.option + (m.side ? std::string(name_of(*m.side)) : "")).second)
        continue;
    } else {
      std::set<int>& sides = taken[pair.place];
      if (sides.contains(whole) || sides.contains(side) || (side == whole && !sides.empty()) ||
          !options[pair.place].empty())
        continue;
      sides.insert(side);
    }
    // Of the two ways to write an angle, the one that fits what is filled in.
    if (place.kind == SheetPlaceKind::camber || place.kind == SheetPlaceKind::camber_minus) {
      const auto v = sheet_number(field.text);
      m.place = (v && *v > 0.0 ? "camber_minus/" : "camber/") + std::string(name_of(*place.end));
      for (const char* id : {"camber/", "camber_minus/"})
        if (const int other = find_place(places, id + std::string(name_of(*place.end))); other >= 0)
          taken[at(other)].insert(side);
    }
    if (is_toe(place.kind)) {
      m.place = fmt::format("{}/{}", toe_as_written(field, *place.end), name_of(*place.end));
      for (const char* id : {"toe/", "toe_in/", "toe_out/"})
        if (const int other = find_place(places, id + std::string(name_of(*place.end))); other >= 0)
          taken[at(other)].insert(side);
    }
    matches[pair.field] = m;
    has[pair.field] = true;
  }
  for (std::size_t f = 0; f < form.fields.size(); ++f)
    if (!has[f] && form.fields[f].filled() && !form.fields[f].read_only) matches[f].place = "noted";
  return matches;
}

std::string write_matches(const SheetForm& form, const std::vector<SheetMatch>& matches) {
  Json fields = Json::array();
  for (std::size_t f = 0; f < form.fields.size() && f < matches.size(); ++f) {
    const SheetMatch& m = matches[f];
    Json j{{"field", form.fields[f].name}, {"place", m.place}};
    if (form.fields[f].kind == FormFieldKind::box) j["tick"] = form.fields[f].option;
    if (m.side) j["side"] = std::string(name_of(*m.side));
    if (!m.option.empty()) j["position"] = m.option;
    fields.push_back(std::move(j));
  }
  return Json{{"format", "lowkite-sheet"}, {"version", newest_matches_version}, {"fields", std::move(fields)}}.dump(2) +
         "\n";
}

tl::expected<std::vector<SheetMatch>, Faults> read_matches(const std::string& text, const std::string& file,
                                                           const SheetForm& form) {
  const auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-sheet", newest_matches_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::sheet); !f.empty()) return tl::unexpected(f);
  std::map<std::pair<std::string, std::string>, SheetMatch> known;
  for (const Json& j : (*document)["fields"]) {
    SheetMatch m;
    m.place = j["place"].get<std::string>();
    if (const std::string side = j.value("side", ""); !side.empty()) m.side = side == "left" ? Side::left : Side::right;
    m.option = j.value("position", "");
    known[{j["field"].get<std::string>(), j.value("tick", "")}] = m;
  }
  std::vector<SheetMatch> matches;
  for (const FormField& f : form.fields) {
    const auto found = known.find({f.name, f.kind == FormFieldKind::box ? f.option : std::string()});
    matches.push_back(found == known.end() ? SheetMatch{} : found->second);
  }
  return matches;
}

}  // namespace lowkite
