#include "core/advice/usual.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr int newest_usual_version = 1;

bool for_class(const UsualSet& set, const Car& car) {
  return car.vehicle_class.find(set.vehicle_class) != std::string::npos;
}

}  // namespace

const UsualRange* UsualBook::find(const Car& car, Surface surface, End end, const FigureSpec& figure) const {
  for (const UsualSet& set : sets) {
    if (!for_class(set, car)) continue;
    if (!set.surfaces.empty() && std::find(set.surfaces.begin(), set.surfaces.end(), surface) == set.surfaces.end())
      continue;
    for (const UsualRange& r : set.ranges)
      if (r.figure == &figure && r.end == end) return &r;
  }
  return nullptr;
}

std::vector<Surface> UsualBook::surfaces_for(const Car& car) const {
  std::vector<Surface> found;
  for (const auto& named : surfaces())
    for (const UsualSet& set : sets) {
      if (named.value == Surface::unknown || !for_class(set, car)) continue;
      if (!set.surfaces.empty() &&
          std::find(set.surfaces.begin(), set.surfaces.end(), named.value) == set.surfaces.end())
        continue;
      found.push_back(named.value);
      break;
    }
  return found;
}

tl::expected<UsualBook, Faults> read_usual(const std::string& text, const std::string& file) {
  const auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-usual", newest_usual_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::usual); !f.empty()) return tl::unexpected(f);
  UsualBook book;
  Faults faults;
  for (const Json& j : (*document)["sets"]) {
    UsualSet set{j["id"].get<std::string>(), j["class"].get<std::string>(), {}, j.value("source", ""), {}};
    if (const auto list = j.find("surfaces"); list != j.end())
      for (const Json& s : *list) set.surfaces.push_back(*value_of(surfaces(), s.get<std::string>()));
    for (const Json& r : j["ranges"]) {
      const std::string id = r["figure"].get<std::string>();
      UsualRange range{find_figure(id), r["end"] == "rear" ? End::rear : End::front, r["least"].get<double>(),
                       r["most"].get<double>()};
      const std::string place = fmt::format("sets.{}.{}", set.id, id);
      if (!range.figure)
        faults.push_back({file, place, say("there is no figure \"{}\"", id),
                          say("the id of a figure, such as camber, toe, caster, ride_height or droop")});
      else if (range.most < range.least)
        faults.push_back(
            {file, place,
             say("the most, {most}, is below the least, {least}", "most"_a = range.most, "least"_a = range.least),
             say("a most that is not below the least")});
      set.ranges.push_back(range);
    }
    book.sets.push_back(std::move(set));
  }
  if (!faults.empty()) return tl::unexpected(faults);
  return book;
}

tl::expected<UsualBook, Faults> load_usual(const std::filesystem::path& shipped, const std::filesystem::path& own) {
  const auto read = [](const std::filesystem::path& path) -> tl::expected<UsualBook, Faults> {
    const auto text = read_file(path);
    if (!text) return tl::unexpected(Faults{text.error()});
    return read_usual(*text, path.filename().string());
  };
  auto book = read(shipped);
  std::error_code none;
  if (!book || own.empty() || !std::filesystem::exists(own, none)) return book;
  auto mine = read(own);
  if (!mine) return mine;
  // The racer's come first: what he has of a class and surface is told, and ours where he has nothing.
  for (UsualSet& theirs : book->sets)
    if (std::none_of(mine->sets.begin(), mine->sets.end(), [&](const UsualSet& s) { return s.id == theirs.id; }))
      mine->sets.push_back(std::move(theirs));
  return mine;
}

}  // namespace lowkite
