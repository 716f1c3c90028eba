#include "core/io/tyre_file.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr int newest_tyres_version = 1;
constexpr std::array<const char*, 3> warmths{"cold", "right", "hot"};

}  // namespace

const TyreFamily* TyreBook::find(std::string_view id) const {
  for (const TyreFamily& f : families)
    if (f.id == id) return &f;
  return nullptr;
}

const TyreFamily& TyreBook::for_surface(std::string_view surface) const {
  for (const TyreFamily& f : families)
    if (std::find(f.surfaces.begin(), f.surfaces.end(), surface) != f.surfaces.end()) return f;
  return families.front();
}

tl::expected<TyreBook, Faults> read_tyres(const std::string& text, const std::string& file) {
  const auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-tyres", newest_tyres_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::tyres); !f.empty()) return tl::unexpected(f);
  TyreBook book;
  Faults faults;
  for (const Json& j : (*document)["families"]) {
    TyreFamily family;
    family.id = j["id"].get<std::string>();
    family.name = j["name"].get<std::string>();
    if (const auto list = j.find("surfaces"); list != j.end())
      for (const Json& s : *list) family.surfaces.push_back(s.get<std::string>());
    for (const TyreParameterSpec& spec : tyre_parameters()) {
      const std::string id(spec.id);
      const std::string place = fmt::format("families.{}.{}", family.id, id);
      const auto found = j["beliefs"].find(id);
      if (found == j["beliefs"].end()) {
        faults.push_back(
            {file, place, say("nothing is said about it"),
             say("least, most and reason, between {least} and {most}", "least"_a = spec.least, "most"_a = spec.most)});
        continue;
      }
      TyreBelief& b = family.belief[at(spec.parameter)];
      b = {(*found)["least"].get<double>(), (*found)["most"].get<double>(), found->value("reason", "")};
      if (b.most < b.least)
        faults.push_back({file, place,
                          say("the most, {most}, is below the least, {least}", "most"_a = b.most, "least"_a = b.least),
                          say("a most that is not below the least")});
      else if (b.least < spec.least || b.most > spec.most)
        faults.push_back({file, place, say("{least} to {most} is out of reach", "least"_a = b.least, "most"_a = b.most),
                          say("between {least} and {most}", "least"_a = spec.least, "most"_a = spec.most)});
    }
    for (const auto& [id, value] : j["beliefs"].items())
      if (std::none_of(tyre_parameters().begin(), tyre_parameters().end(),
                       [&, &name = id](const TyreParameterSpec& s) { return s.id == name; }))
        faults.push_back({file, fmt::format("families.{}.{}", family.id, id), say("no tyre has such a property"),
                          say("one of those that the shipped file has")});
    if (const auto warmth = j.find("warmth"); warmth != j.end())
      for (std::size_t i = 0; i < warmths.size(); ++i)
        if (const auto w = warmth->find(warmths[i]); w != warmth->end())
          family.warmth[i] = {w->value("grip", 1.0), w->value("stiffness", 1.0)};
    book.families.push_back(std::move(family));
  }
  if (!faults.empty()) return tl::unexpected(faults);
  return book;
}

tl::expected<TyreBook, Faults> load_tyres(const std::filesystem::path& shipped, const std::filesystem::path& own) {
  const auto read = [](const std::filesystem::path& path) -> tl::expected<TyreBook, Faults> {
    const auto text = read_file(path);
    if (!text) return tl::unexpected(Faults{text.error()});
    return read_tyres(*text, path.filename().string());
  };
  auto book = read(shipped);
  std::error_code none;
  if (!book || own.empty() || !std::filesystem::exists(own, none)) return book;
  auto mine = read(own);
  if (!mine) return mine;
  for (TyreFamily& f : mine->families) f.own = true;
  for (TyreFamily& theirs : book->families)
    if (!mine->find(theirs.id)) mine->families.push_back(std::move(theirs));
  return mine;
}

std::string write_tyres(const std::vector<TyreFamily>& families) {
  Json document{{"format", "lowkite-tyres"}, {"version", newest_tyres_version}, {"families", Json::array()}};
  for (const TyreFamily& f : families) {
    Json beliefs = Json::object();
    for (const TyreParameterSpec& spec : tyre_parameters()) {
      const TyreBelief& b = f.belief[at(spec.parameter)];
      beliefs[std::string(spec.id)] = {{"least", b.least}, {"most", b.most}, {"reason", b.reason}};
    }
    Json warmth = Json::object();
    for (std::size_t i = 0; i < warmths.size(); ++i)
      if (f.warmth[i].grip != 1.0 || f.warmth[i].stiffness != 1.0)
        warmth[warmths[i]] = {{"grip", f.warmth[i].grip}, {"stiffness", f.warmth[i].stiffness}};
    Json j{{"id", f.id}, {"name", f.name}, {"surfaces", f.surfaces}, {"beliefs", beliefs}};
    if (!warmth.empty()) j["warmth"] = warmth;
    document["families"].push_back(std::move(j));
  }
  return document.dump(1) + "\n";
}

}  // namespace lowkite
