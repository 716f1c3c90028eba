#include "core/io/box_file.hpp"

#include <algorithm>
#include <cmath>

#include "core/io/file_numbers.hpp"
#include "core/io/schema_check.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr int newest_boxes_version = 1;
/// The number of a kind as files call it; empty: it has none.
std::string key_of(BoxKind kind) {
  switch (kind) {
    case BoxKind::spring:
      return "rate_n_per_mm";
    case BoxKind::piston:
      return "hole_mm";
    case BoxKind::shock_oil:
    case BoxKind::differential_oil:
      return "cst";
    case BoxKind::bar_wire:
    case BoxKind::tyre:
      return "diameter_mm";
    case BoxKind::shim:
      return "thickness_mm";
    case BoxKind::insert:
      return "off_middle_mm";
    case BoxKind::part:
      break;
  }
  return {};
}

}  // namespace

std::optional<Fault> fault_in(const BoxItem& i) {
  const BoxKindSpec& k = spec_of(i.kind);
  const auto wrong = [](std::string place, std::string what, std::string allowed) {
    return Fault{"", std::move(place), std::move(what), std::move(allowed)};
  };
  if (i.count < 0 || i.count > 9999) return wrong(say("how many"), say("found {}", i.count), say("0 to 9999"));
  if (!i.table.empty()) {
    if (i.kind != BoxKind::spring) return wrong("measured", say("only a spring is measured so"), "nothing");
    bool rising = i.table.size() >= 2 && i.table.front().mm == 0.0 && i.table.front().n == 0.0;
    for (std::size_t p = 1; p < i.table.size(); ++p)
      rising = rising && i.table[p].mm > i.table[p - 1].mm && i.table[p].n > i.table[p - 1].n;
    if (!rising)
      return wrong("measured", say("force and compression do not rise together from nothing"),
                   say("compressions and forces that rise: 0 0; 2 1.1; 4 2.4"));
  }
  if (!k.value.empty() && (!std::isfinite(i.value) || i.value < k.least || i.value > k.most))
    return wrong(std::string(k.value), say("found {:g}", i.value),
                 say("{least:g} to {most:g} {unit}", "least"_a = k.least, "most"_a = k.most, "unit"_a = k.unit));
  if (i.kind == BoxKind::piston && (i.holes < 1 || i.holes > 20))
    return wrong("holes", say("found {}", i.holes), say("1 to 20"));
  if (i.kind == BoxKind::part && (i.part.empty() || i.label.empty() || i.cars.size() != 1))
    return wrong("part", say("it does not say of which car and which part"),
                 say("one car, a part of it and one of its positions"));
  if (!i.part.empty() && i.cars.size() != 1)
    return wrong("part", say("a part alone is a part of one car"), say("one car, or no part"));
  if (i.second_rate > 0.0 && !(i.transition_mm > 0.0))
    return wrong(say("second rate"), say("it does not say from where on"),
                 say("the compression at which it begins, above 0 mm"));
  return std::nullopt;
}

tl::expected<Boxes, Faults> read_boxes(const std::string& text, const std::string& file) {
  const auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-boxes", newest_boxes_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::boxes); !f.empty()) return tl::unexpected(f);
  Boxes boxes;
  Faults faults;
  const Json& list = (*document)["items"];
  for (std::size_t n = 0; n < list.size(); ++n) {
    const Json& j = list[n];
    BoxItem i;
    i.kind = *box_kind_of(j["kind"].get<std::string>());
    i.label = j.value("label", "");
    i.maker = j.value("maker", "");
    i.count = j.value("count", 0);
    i.holes = j.value("holes", 0);
    i.second_rate = rounded_for_file(j.value("second_rate_n_per_mm", 0.0));
    i.transition_mm = rounded_for_file(j.value("transition_mm", 0.0));
    i.length_mm = rounded_for_file(j.value("length_mm", 0.0));
    i.part = j.value("part", "");
    i.note = j.value("note", "");
    if (const auto cars = j.find("cars"); cars != j.end())
      for (const Json& car : *cars) i.cars.push_back(car.get<std::string>());
    const std::string use = j.value("use", "shock");
    i.use =
        static_cast<SpringUse>(std::find(spring_use_ids.begin(), spring_use_ids.end(), use) - spring_use_ids.begin());
    if (const auto table = j.find("table"); table != j.end())
      for (const Json& p : *table)
        i.table.push_back({rounded_for_file(p[0].get<double>()), rounded_for_file(p[1].get<double>())});
    const std::string key = key_of(i.kind);
    const auto fault = [&](std::string place, std::string wrong, std::string allowed) {
      faults.push_back(
          {file, place_of({"items", std::to_string(n + 1), std::move(place)}), std::move(wrong), std::move(allowed)});
    };
    if (const auto value = key.empty() ? j.end() : j.find(key); value != j.end()) {
      i.value = rounded_for_file(value->get<double>());
    } else if (!i.table.empty()) {
      i.value = two_rates(i.table).rate;
    } else if (!key.empty()) {
      fault(key, say("it is not there"), say("a number, {}", spec_of(i.kind).unit));
      continue;
    }
    if (const auto wrong = fault_in(i))
      fault(wrong->place, wrong->wrong, wrong->allowed);
    else
      boxes.items.push_back(std::move(i));
  }
  if (!faults.empty()) return tl::unexpected(faults);
  return boxes;
}

std::string write_boxes(const Boxes& boxes) {
  Json document{{"format", "lowkite-boxes"}, {"version", newest_boxes_version}, {"items", Json::array()}};
  for (const BoxItem& i : boxes.items) {
    Json j{{"kind", spec_of(i.kind).id}, {"count", i.count}};
    const auto text = [&](const char* key, const std::string& v) {
      if (!v.empty()) j[key] = v;
    };
    const auto size = [&](const std::string& key, double v) {
      if (v != 0.0) j[key] = rounded_for_file(v);
    };
    text("label", i.label);
    text("maker", i.maker);
    if (const std::string key = key_of(i.kind); !key.empty()) j[key] = rounded_for_file(i.value);
    if (i.kind == BoxKind::piston) j["holes"] = i.holes;
    if (i.kind == BoxKind::spring) {
      j["use"] = spring_use_ids[at(i.use)];
      size("second_rate_n_per_mm", i.second_rate);
      size("transition_mm", i.transition_mm);
      size("length_mm", i.length_mm);
      for (const SpringPoint& p : i.table) j["table"].push_back({rounded_for_file(p.mm), rounded_for_file(p.n)});
    }
    if (!i.cars.empty()) j["cars"] = i.cars;
    text("part", i.part);
    text("note", i.note);
    document["items"].push_back(std::move(j));
  }
  return document.dump(1) + "\n";
}

}  // namespace lowkite
