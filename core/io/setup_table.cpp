#include "core/io/setup_table.hpp"

#include <algorithm>
#include <array>
#include <map>

#include <fmt/format.h>

#include "core/io/csv.hpp"
#include "core/io/encoding.hpp"
#include "core/io/json_document.hpp"
#include "core/io/typed_text.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array<const char*, 4> words{"name", "date", "track", "notes"};

std::string cell(const Json& value) {
  return value.is_string() ? value.get<std::string>() : value.dump();
}

/// What was set on purpose at a wheel, by the fields of a setup file.
struct WantedRow {
  const char* part;
  const char* name;
  const char* field;
  std::optional<double> WantedAtWheel::*value;
};
constexpr std::array wanted_rows{
    WantedRow{"wanted_camber_deg", marked("camber wanted, deg"), "camber_deg", &WantedAtWheel::camber_deg},
    WantedRow{"wanted_toe_deg", marked("toe wanted, deg in"), "toe_deg", &WantedAtWheel::toe_deg},
    WantedRow{"wanted_caster_deg", marked("caster wanted, deg"), "caster_deg", &WantedAtWheel::caster_deg},
    WantedRow{"wanted_hanging_mm", marked("tyre under the plate wanted, wheel hanging, mm"), "hanging_mm",
              &WantedAtWheel::hanging_mm}};
constexpr const char* lock_part = "wanted_lock_deg";
constexpr const char* noted_part = "noted";

std::string cell(const std::optional<double>& value) {
  return value ? fmt::format("{}", *value) : std::string();
}

Json number_or_text(const std::string& text) {
  const auto v = number_in(text);
  return v ? Json(*v) : Json(text);
}

/// As the setup file would have it: a position's label, or a number.
Json value_in(const Car& car, const std::string& part, const std::string& text) {
  const PartHandle i = car.find_adjuster(part);
  if (i && car.adjusters[i].positions()) return text;
  return number_or_text(text);
}

/// One row, as text.
struct TableRow {
  std::string part, name, axle, left, right;
};

const WantedRow* wanted_row(const std::string& part) {
  const auto row =
      std::find_if(wanted_rows.begin(), wanted_rows.end(), [&](const WantedRow& w) { return part == w.part; });
  return row == wanted_rows.end() ? nullptr : &*row;
}

bool is_word_or_angle(const std::string& part) {
  return std::find(words.begin(), words.end(), part) != words.end() || part == "ride_height_mm" || part == lock_part ||
         part == noted_part || wanted_row(part);
}

/// Within what setup files hold.
bool can_be_noted(const Setup& setup, const TableRow& row) {
  const std::string& name = row.name.empty() ? row.part : row.name;
  // What a damaged file has between its letters is no word to keep.
  const bool torn = (name + row.left + row.right).find('\0') != std::string::npos;
  return !torn && setup.noted.size() < most_noted && !name.empty() && name.size() <= longest_noted_name &&
         row.left.size() + row.right.size() < longest_noted_text - 3;
}

/// Puts what a row says into a setup file.
void put(Json& j, const TableRow& row, const Car& car) {
  if (std::find(words.begin(), words.end(), row.part) != words.end()) {
    j[row.part] = row.left;
  } else if (row.part == "ride_height_mm") {
    j["ride_height_mm"][row.axle] = number_or_text(row.left);
  } else if (const WantedRow* wanted = wanted_row(row.part)) {
    // A side without a number gives its angle as the links do.
    if (!row.left.empty()) j["wanted"][row.axle]["left"][wanted->field] = number_or_text(row.left);
    if (!row.right.empty()) j["wanted"][row.axle]["right"][wanted->field] = number_or_text(row.right);
  } else if (row.part == lock_part) {
    j["wanted"]["lock_deg"] = number_or_text(row.left);
  } else if (row.part == noted_part) {
    j["noted"].push_back({{"name", row.name}, {"text", row.left}});
  } else if (row.right.empty() || row.right == row.left) {
    j["values"][row.part] = value_in(car, row.part, row.left);
  } else {
    j["values"][row.part] = {{"left", value_in(car, row.part, row.left)},
                             {"right", value_in(car, row.part, row.right)}};
  }
}

}  // namespace

std::string write_setup_table(const Setup& setup, const Car& car) {
  std::string text = csv_row({"part", "name", "axle", "left", "right"});
  for (const auto& [key, value] : {std::pair("name", &setup.name), std::pair("date", &setup.date),
                                   std::pair("track", &setup.track), std::pair("notes", &setup.notes)})
    if (!value->empty()) text += csv_row({key, "", "", *value, ""});
  for (const End end : both_ends) {
    const std::string height = fmt::format("{}", setup.ride_height_mm[at(end)]);
    text += csv_row({"ride_height_mm", say("ride height, mm"), std::string(name_of(end)), height, height});
  }
  for (const WantedRow& row : wanted_rows)
    for (const End end : both_ends) {
      const auto& left = setup.wanted[at(end)][at(Side::left)].*row.value;
      const auto& right = setup.wanted[at(end)][at(Side::right)].*row.value;
      if (left || right)
        text += csv_row({row.part, word(row.name), std::string(name_of(end)), cell(left), cell(right)});
    }
  if (setup.wanted_lock_deg)
    text += csv_row({lock_part, say("full lock wanted, inside wheel, deg"), "front", cell(setup.wanted_lock_deg), ""});
  for (const NotedField& n : setup.noted) text += csv_row({noted_part, n.name, "", n.text, ""});
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    text += csv_row({a.id, a.name, a.steering ? "steering" : std::string(name_of(a.end)),
                     cell(value_to_json(a, setup.values[i].left)), cell(value_to_json(a, setup.values[i].right))});
  }
  return text;
}

tl::expected<ReadTable, Faults> read_setup_table(const std::string& text, const std::string& file, const Car& car) {
  const std::string utf8 = to_utf8(text);
  const CsvRows rows = parse_csv(utf8, csv_delimiter(utf8));
  std::map<std::string, std::size_t> columns;
  if (!rows.empty())
    for (std::size_t i = 0; i < rows[0].size(); ++i) columns.emplace(rows[0][i], i);
  for (const char* needed : {"part", "left"})
    if (!columns.contains(needed))
      return tl::unexpected(Faults{{file, say("the heading"), say("no column \"{}\"", needed),
                                    say("columns part, axle, left, right in the first row")}});
  ReadTable read{kit_setup(car), {}};
  read.setup.name = car.name;
  // What was taken so far, as a setup file of the kit would say it.
  Json kept = Json::parse(write_setup(read.setup, car, {}));
  kept["values"] = Json::object();
  int taken = 0;
  for (std::size_t r = 1; r < rows.size(); ++r) {
    const auto field = [&](const char* column) -> std::string {
      const auto at_column = columns.find(column);
      return at_column == columns.end() || at_column->second >= rows[r].size() ? "" : rows[r][at_column->second];
    };
    const TableRow row{field("part"), field("name"), field("axle"), field("left"), field("right")};
    if (row.left.empty() && row.right.empty()) continue;
    // Each row is judged by itself, by the rules of setup files, so that a wrong one takes no other along.
    Fault wrong{file, {}, say("this car has no such part"), say("parts of this car")};
    if ((row.part == "ride_height_mm" || wanted_row(row.part)) && row.axle != "front" && row.axle != "rear") {
      wrong.wrong = row.axle.empty() ? say("no axle") : say("the axle \"{}\"", row.axle);
      wrong.allowed = say("front or rear as the axle");
    } else if (is_word_or_angle(row.part) || car.find_adjuster(row.part)) {
      Json j = kept;
      put(j, row, car);
      auto with = read_setup(j.dump(), file, car);
      if (with) {
        read.setup = std::move(with->setup);
        kept = std::move(j);
        ++taken;
        continue;
      }
      wrong = with.error().front();
    }
    wrong.place =
        say("row {row}, {part}", "row"_a = r + 1, "part"_a = row.part.empty() ? say("without a part") : row.part);
    read.left_out.push_back(wrong);
    if (!is_word_or_angle(row.part) && can_be_noted(read.setup, row)) {
      note(read.setup, row.name.empty() ? row.part : row.name,
           row.right.empty() || row.right == row.left ? row.left : fmt::format("{} | {}", row.left, row.right));
      kept["noted"] = Json::array();
      for (const NotedField& n : read.setup.noted) kept["noted"].push_back({{"name", n.name}, {"text", n.text}});
    }
  }
  if (taken == 0)
    return tl::unexpected(!read.left_out.empty() ? read.left_out
                                                 : Faults{{file, "", say("no row with a value"),
                                                           say("a row for each part, with its value")}});
  return read;
}

}  // namespace lowkite
