#include "core/parts/from_boxes.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/io/file_numbers.hpp"
#include "core/parts/form_rows.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::size_t longest_label = 24;  // docs/formats/car.schema.json
constexpr double same_place_mm = 0.06;

Fault no(std::string wrong, std::string allowed) {
  return {"", "", std::move(wrong), std::move(allowed)};
}

/// Letters, not bytes: what stands on a part may be written in any script.
std::string shortened(std::string text) {
  std::size_t letters = 0;
  for (std::size_t i = 0; i < text.size(); ++i)
    if ((static_cast<unsigned char>(text[i]) & 0xC0U) != 0x80U && ++letters > longest_label) return text.substr(0, i);
  return text;
}

std::string label_for(const BoxItem& item, const Positions& there) {
  const BoxKindSpec& kind = spec_of(item.kind);
  std::string size = item.kind == BoxKind::piston ? fmt::format("{} x {:.3g}", item.holes, item.value)
                                                  : fmt::format("{:.4g} {}", item.value, kind.unit);
  std::string name = item.label;
  if (!item.maker.empty()) name = name.empty() ? item.maker : item.maker + " " + name;
  const auto taken = [&](const std::string& label) {
    return std::any_of(there.list.begin(), there.list.end(), [&](const Position& p) { return p.label == label; });
  };
  std::string label = shortened(name.empty() ? size : name);
  if (taken(label)) label = shortened(item.label.empty() ? size : item.label + " " + size);
  if (taken(label)) label = size;
  for (int n = 2; taken(label); ++n) label = fmt::format("{} ({})", size, n);
  return label;
}

Json changed(const std::string& label, std::initializer_list<std::pair<const char*, double>> by) {
  Json p;
  p["label"] = label;
  for (const auto& [key, v] : by)
    if (std::abs(v) > 1e-9) p["change"][key] = rounded_for_file(v);
  return p;
}

/// By what positions of a part are put in order.
double order_of(const BoxItem& i) {
  if (i.kind == BoxKind::spring) return law_of(i).force(5.0);
  if (i.kind == BoxKind::piston) return i.holes * i.value * i.value;
  return i.value;
}

/// Before which position it belongs, where they stand in an order; else after the last.
std::size_t place_for(const Car& car, PartHandle adjuster, const BoxItem& item) {
  const std::size_t n = car.adjusters[adjuster].positions()->list.size();
  std::vector<double> sizes;
  for (std::size_t i = 0; i < n; ++i) sizes.push_back(order_of(piece_at(car, adjuster, static_cast<int>(i))));
  const double mine = order_of(item);
  if (std::is_sorted(sizes.begin(), sizes.end()))
    return at(std::upper_bound(sizes.begin(), sizes.end(), mine) - sizes.begin());
  if (std::is_sorted(sizes.rbegin(), sizes.rend()))
    return at(std::upper_bound(sizes.begin(), sizes.end(), mine, std::greater<>()) - sizes.begin());
  return n;
}

/// Where a position puts what it moves, and that it moves all of it alike.
std::optional<Vec3> moved_by(const Position& p) {
  if (!p.effect.turns.empty() || !p.effect.sizes.empty() || !p.effect.masses.empty()) return std::nullopt;
  if (p.effect.moves.empty()) return Vec3(Vec3::Zero());
  for (const PointMove& m : p.effect.moves)
    if ((m.mm - p.effect.moves.front().mm).norm() > 1e-6) return std::nullopt;
  return p.effect.moves.front().mm;
}

struct WayRound {
  Vec3 mm;
  const char* word;
};
const std::array<WayRound, 6> ways_round{{{Vec3::UnitZ(), "up"},
                                          {-Vec3::UnitZ(), "down"},
                                          {-Vec3::UnitY(), "in"},
                                          {Vec3::UnitY(), "out"},
                                          {Vec3::UnitX(), "ahead"},
                                          {-Vec3::UnitX(), "back"}}};

/// An insert can be turned round: one position each way that the others lie in.
tl::expected<std::string, Fault> put_insert(Json& part, const Car& car, PartHandle adjuster, const BoxItem& item) {
  const Adjuster& a = car.adjusters[adjuster];
  const auto& list = a.positions()->list;
  Vec3 least = Vec3::Constant(1e9), most = Vec3::Constant(-1e9);
  std::vector<Vec3> there;
  const Position* moving = nullptr;
  for (const Position& p : list) {
    const auto at = moved_by(p);
    if (!at)
      return tl::unexpected(no(say("its positions do more than shift the pin"), say("described as a part of its own")));
    there.push_back(*at);
    least = least.cwiseMin(*at);
    most = most.cwiseMax(*at);
    if (!p.effect.moves.empty()) moving = &p;
  }
  if (!moving)
    return tl::unexpected(no(say("none of its positions shifts the pin"), say("described as a part of its own")));
  const Vec3 middle = 0.5 * (least + most);
  const Json* pattern = nullptr;
  for (const Json& p : part["positions"])
    if (p.contains("move")) pattern = &p;
  std::vector<Json> fresh;
  for (const WayRound& way : ways_round) {
    const int axis = way.mm.x() != 0.0 ? 0 : way.mm.y() != 0.0 ? 1 : 2;
    if (most[axis] - least[axis] < same_place_mm && item.value > 0.0) continue;
    const Vec3 at = middle + item.value * way.mm;
    if (std::any_of(there.begin(), there.end(), [&](const Vec3& t) { return (t - at).norm() < same_place_mm; }))
      continue;
    there.push_back(at);
    Json p;
    p["label"] = item.value > 0.0 ? shortened(fmt::format("{:.3g} {}", item.value, way.word)) : "middle";
    if (at.norm() > 1e-9)
      for (const auto& [point, mm] : (*pattern)["move"].items()) p["move"][point] = json_of(at);
    fresh.push_back(std::move(p));
  }
  for (Json& p : fresh) {
    for (const Position& old : list)
      if (old.label == p["label"].get<std::string>())
        return tl::unexpected(
            no(say("\"{}\" is there already, elsewhere", word(old.label)), say("another name for that one")));
    part["positions"].push_back(std::move(p));
  }
  return std::string();
}

}  // namespace

bool is_in(const Car& car, PartHandle adjuster, const BoxItem& item) {
  const Adjuster& a = car.adjusters[adjuster];
  if (item.kind == BoxKind::shim) {
    const auto& sizes = a.range()->shims_mm;
    return std::any_of(sizes.begin(), sizes.end(), [&](double s) { return std::abs(s - item.value) < 5e-4; });
  }
  for (std::size_t i = 0; i < a.positions()->list.size(); ++i)
    if (alike(piece_at(car, adjuster, static_cast<int>(i)), item)) return true;
  return false;
}

tl::expected<std::string, Fault> put_into_part(Json& source, const Car& car, PartHandle adjuster, const BoxItem& item) {
  const Adjuster& a = car.adjusters[adjuster];
  if (!goes_into(item, car, adjuster))
    return tl::unexpected(no(say("{item} does not go into {part}", "item"_a = measured_text(item), "part"_a = a.name),
                             say("a part that takes it")));
  if (is_in(car, adjuster, item))
    return tl::unexpected(no(say("{} is there already", measured_text(item)), say("one that is not")));
  Json& part = source["adjusters"][adjuster.place()];
  if (item.kind == BoxKind::shim) {
    std::vector<double> sizes = a.range()->shims_mm;
    sizes.push_back(item.value);
    std::sort(sizes.begin(), sizes.end());
    part["shims_mm"] = Json::array();
    for (const double s : sizes) part["shims_mm"].push_back(rounded_for_file(s));
    return std::string();
  }
  if (item.kind == BoxKind::insert) return put_insert(part, car, adjuster, item);
  if (item.kind == BoxKind::part)
    return tl::unexpected(no(say("it is known by its name alone"), say("described as a position of the part")));
  const Positions& there = *a.positions();
  const std::string label = label_for(item, there);
  const auto kit = [&](Size s) { return parts::kit_size(car, a.end, s); };
  const bool third = a.of_third_element();
  Json position;
  std::string told;
  switch (item.kind) {
    case BoxKind::spring: {
      if (item.use == SpringUse::side || item.use == SpringUse::third) {
        const bool side = item.use == SpringUse::side;
        if (item.second_rate > 0.0 || !item.table.empty())
          return tl::unexpected(no(say("a spring there has one rate in a car file"), say("a spring with one rate")));
        position = changed(label, {{side ? "side_rate_n_per_mm" : "heave_rate_n_per_mm",
                                    item.value - kit(side ? Size::side_rate : Size::heave_rate)}});
        break;
      }
      if (!car.axle(a.end).spring_table.empty())
        return tl::unexpected(
            no(say("the car's own spring is a measured table, and others are told by how much harder they are"),
               say("rates for the car's own spring, at Parts")));
      TwoRates rates{item.value, item.second_rate, item.transition_mm, 0.0};
      if (!item.table.empty()) {
        rates = two_rates(item.table);
        told =
            say("Its measured table goes in as {rate}, which misses it by {most:.2f} N at most.",
                "rate"_a = rates.second_rate > 0.0 ? say("{first:.3f} N/mm and {second:.3f} N/mm from {from:.1f} mm on",
                                                         "first"_a = rates.rate, "second"_a = rates.second_rate,
                                                         "from"_a = rates.transition_mm)
                                                   : fmt::format("{:.3f} N/mm", rates.rate),
                "most"_a = rates.off_n);
      }
      const double free = kit(Size::spring_free);
      position = changed(label, {{"spring_rate_n_per_mm", rates.rate - kit(Size::spring_rate)},
                                 {"spring_rate_2_n_per_mm", rates.second_rate - kit(Size::spring_rate_2)},
                                 {"spring_transition_mm", rates.transition_mm - kit(Size::spring_transition)},
                                 {"spring_free_mm", free > 0.0 && item.length_mm > 0.0 ? item.length_mm - free : 0.0}});
      if (free > 0.0 && !(item.length_mm > 0.0))
        told += std::string(told.empty() ? "" : " ") + say("Its length is not measured: it is taken to be the kit's.");
      break;
    }
    case BoxKind::piston:
      position = third ? changed(label, {{"third_holes", item.holes - kit(Size::third_holes)},
                                         {"third_hole_mm", item.value - kit(Size::third_hole)}})
                       : changed(label, {{"piston_holes", item.holes - kit(Size::piston_holes)},
                                         {"piston_hole_mm", item.value - kit(Size::piston_hole)}});
      break;
    case BoxKind::shock_oil:
      position = third ? changed(label, {{"third_oil_cst", item.value - kit(Size::third_oil)}})
                       : changed(label, {{"oil_cst", item.value - kit(Size::oil_cst)}});
      break;
    case BoxKind::differential_oil:
      position = changed(label, {{"differential_oil_cst", item.value - kit(Size::differential_oil)}});
      break;
    case BoxKind::bar_wire:
      position = changed(label, {{"bar_wire_mm", item.value - kit(Size::bar_wire)}});
      break;
    case BoxKind::tyre:
      position = changed(label, {{"tyre_radius_mm", 0.5 * item.value - kit(Size::tyre_radius)}});
      break;
    case BoxKind::shim:
    case BoxKind::insert:
    case BoxKind::part:
      break;
  }
  Json& list = part["positions"];
  list.insert(list.begin() + static_cast<std::ptrdiff_t>(place_for(car, adjuster, item)), std::move(position));
  return told;
}

}  // namespace lowkite
