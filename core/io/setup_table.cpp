#include "core/io/setup_table.hpp"

#include <algorithm>
#include <array>
#include <map>

#include <fmt/format.h>

#include "core/io/csv.hpp"
#include "core/io/encoding.hpp"
#include "core/io/json_document.hpp"
#include "core/io/typed_text.hpp"

namespace lowkite {
namespace {

constexpr std::array<const char*, 4> words{"name", "date", "track", "notes"};

std::string cell(const Json& value) {
  return value.is_string() ? value.get<std::string>() : value.dump();
}

/// Angles set on purpose, by the fields of a setup file.
struct WantedRow {
  const char* part;
  const char* name;
  const char* field;
  std::optional<double> WantedAngles::*angle;
};
constexpr std::array wanted_rows{
    WantedRow{"wanted_camber_deg", "camber wanted, deg", "camber_deg", &WantedAngles::camber_deg},
    WantedRow{"wanted_toe_deg", "toe wanted, deg in", "toe_deg", &WantedAngles::toe_deg},
    WantedRow{"wanted_caster_deg", "caster wanted, deg", "caster_deg", &WantedAngles::caster_deg}};
constexpr const char* lock_part = "wanted_lock_deg";

std::string cell(const std::optional<double>& value) {
  return value ? fmt::format("{}", *value) : std::string();
}

Json number_or_text(const std::string& text) {
  const auto v = number_in(text);
  return v ? Json(*v) : Json(text);
}

/// As the setup file would have it: a position's label, or a number.
Json value_in(const Car& car, const std::string& part, const std::string& text) {
  const int i = car.find_adjuster(part);
  if (i >= 0 && car.adjusters[static_cast<std::size_t>(i)].positions()) return text;
  return number_or_text(text);
}

}  // namespace

std::string write_setup_table(const Setup& setup, const Car& car) {
  std::string text = csv_row({"part", "name", "axle", "left", "right"});
  for (const auto& [key, value] : {std::pair("name", &setup.name), std::pair("date", &setup.date),
                                   std::pair("track", &setup.track), std::pair("notes", &setup.notes)})
    if (!value->empty()) text += csv_row({key, "", "", *value, ""});
  for (const End end : both_ends) {
    const std::string height = fmt::format("{}", setup.ride_height_mm[at(end)]);
    text += csv_row({"ride_height_mm", "ride height, mm", std::string(name_of(end)), height, height});
  }
  for (const WantedRow& row : wanted_rows)
    for (const End end : both_ends) {
      const auto& left = setup.wanted[at(end)][at(Side::left)].*row.angle;
      const auto& right = setup.wanted[at(end)][at(Side::right)].*row.angle;
      if (left || right) text += csv_row({row.part, row.name, std::string(name_of(end)), cell(left), cell(right)});
    }
  if (setup.wanted_lock_deg)
    text += csv_row({lock_part, "full lock wanted, inside wheel, deg", "front", cell(setup.wanted_lock_deg), ""});
  for (std::size_t i = 0; i < car.adjusters.size(); ++i) {
    const Adjuster& a = car.adjusters[i];
    text += csv_row({a.id, a.name, a.steering ? "steering" : std::string(name_of(a.end)),
                     cell(value_to_json(a, setup.values[i].left)), cell(value_to_json(a, setup.values[i].right))});
  }
  return text;
}

tl::expected<Setup, Faults> read_setup_table(const std::string& text, const std::string& file, const Car& car) {
  const std::string utf8 = to_utf8(text);
  const CsvRows rows = parse_csv(utf8, csv_delimiter(utf8));
  std::map<std::string, std::size_t> columns;
  if (!rows.empty())
    for (std::size_t i = 0; i < rows[0].size(); ++i) columns.emplace(rows[0][i], i);
  for (const char* needed : {"part", "left"})
    if (!columns.contains(needed))
      return tl::unexpected(Faults{{file, "the heading", fmt::format("no column \"{}\"", needed),
                                    "columns part, axle, left, right in the first row"}});
  Json j{{"format", "lowkite-setup"}, {"version", newest_setup_version}, {"car", car.id}, {"name", car.name}};
  for (const End end : both_ends) j["ride_height_mm"][std::string(name_of(end))] = car.kit_ride_height_mm[at(end)];
  j["values"] = Json::object();
  for (std::size_t r = 1; r < rows.size(); ++r) {
    const auto field = [&](const char* column) -> std::string {
      const auto at_column = columns.find(column);
      return at_column == columns.end() || at_column->second >= rows[r].size() ? "" : rows[r][at_column->second];
    };
    const std::string part = field("part");
    const std::string left = field("left");
    const std::string right = field("right");
    const auto wanted =
        std::find_if(wanted_rows.begin(), wanted_rows.end(), [&](const WantedRow& row) { return part == row.part; });
    if (std::find(words.begin(), words.end(), part) != words.end()) {
      j[part] = left;
    } else if (part == "ride_height_mm") {
      j["ride_height_mm"][field("axle")] = number_or_text(left);
    } else if (wanted != wanted_rows.end()) {
      // A side without a number gives its angle as the links do.
      if (!left.empty()) j["wanted"][field("axle")]["left"][wanted->field] = number_or_text(left);
      if (!right.empty()) j["wanted"][field("axle")]["right"][wanted->field] = number_or_text(right);
    } else if (part == lock_part) {
      if (!left.empty()) j["wanted"]["lock_deg"] = number_or_text(left);
    } else if (!part.empty() && !(left.empty() && right.empty())) {
      if (right.empty() || right == left)
        j["values"][part] = value_in(car, part, left);
      else
        j["values"][part] = {{"left", value_in(car, part, left)}, {"right", value_in(car, part, right)}};
    }
  }
  auto setup = read_setup(j.dump(), file, car);
  if (!setup) return tl::unexpected(setup.error());
  return std::move(setup->setup);
}

}  // namespace lowkite
