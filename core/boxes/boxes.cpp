#include "core/boxes/boxes.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <regex>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array kinds = std::to_array<BoxKindSpec>({
    {BoxKind::spring, "spring", marked("Springs"), marked("spring"), marked("rate"), "N/mm", 0.001, 100.0, 2,
     marked("pieces")},
    {BoxKind::piston, "piston", marked("Pistons"), marked("piston"), marked("hole diameter"), "mm", 0.1, 10.0, 2,
     marked("pieces")},
    {BoxKind::shock_oil, "shock_oil", marked("Shock oils"), marked("shock oil"), marked("viscosity"), "cSt", 1.0, 1e6,
     1, marked("bottles")},
    {BoxKind::differential_oil, "differential_oil", marked("Differential oils"), marked("differential oil"),
     marked("viscosity"), "cSt", 1.0, 1e8, 1, marked("bottles")},
    {BoxKind::bar_wire, "bar_wire", marked("Bar wires"), marked("bar wire"), marked("diameter"), "mm", 0.1, 10.0, 1,
     marked("pieces")},
    {BoxKind::shim, "shim", marked("Shims"), marked("shim"), marked("thickness"), "mm", 0.01, 20.0, 10,
     marked("pieces")},
    {BoxKind::insert, "insert", marked("Inserts"), marked("insert"), marked("off its middle"), "mm", 0.0, 10.0, 2,
     marked("pieces")},
    {BoxKind::tyre, "tyre", marked("Tyres"), marked("tyre"), marked("diameter"), "mm", 10.0, 300.0, 2,
     marked("pieces")},
    {BoxKind::part, "part", marked("Parts of one car"), marked("part"), "", "", 0.0, 0.0, 2, marked("pieces")},
});
static_assert(kinds.size() == box_kind_count, "every kind has a row");

constexpr double springs_alike = 0.015;
constexpr double springs_up_to_mm = 10.0;
constexpr double oils_alike = 0.02;

double kit_size(const Car& car, End end, Size size) {
  if (size == Size::tyre_radius) return car.axle(end).tyre.radius_mm;
  return car.axle(end).size_of(size);
}

bool any_position_changes(const Positions& p, Size size) {
  return std::any_of(p.list.begin(), p.list.end(), [&](const Position& each) {
    return std::any_of(each.effect.sizes.begin(), each.effect.sizes.end(),
                       [&](const SizeChange& c) { return c.size == size; });
  });
}

double size_at(const Car& car, End end, const Position& p, Size size) {
  double v = kit_size(car, end, size);
  for (const SizeChange& c : p.effect.sizes)
    if (c.size == size) v += c.by;
  return v;
}

/// Where the middle of an insert lies: it can be turned round, so its positions lie about it.
Vec3 middle_of(const Positions& p) {
  Vec3 least = Vec3::Constant(1e9), most = Vec3::Constant(-1e9);
  for (const Position& each : p.list) {
    Vec3 at = Vec3::Zero();
    if (!each.effect.moves.empty()) at = each.effect.moves.front().mm;
    least = least.cwiseMin(at);
    most = most.cwiseMax(at);
  }
  return 0.5 * (least + most);
}

std::string lower(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return std::tolower(c); });
  return text;
}

}  // namespace

std::span<const BoxKindSpec> box_kinds() {
  return kinds;
}

const BoxKindSpec& spec_of(BoxKind kind) {
  return kinds[at(kind)];
}

std::optional<BoxKind> box_kind_of(std::string_view id) {
  for (const BoxKindSpec& k : kinds)
    if (k.id == id) return k.kind;
  return std::nullopt;
}

bool BoxItem::operator==(const BoxItem& o) const {
  const auto same_table = [&] {
    return std::equal(table.begin(), table.end(), o.table.begin(), o.table.end(),
                      [](const SpringPoint& a, const SpringPoint& b) { return a.mm == b.mm && a.n == b.n; });
  };
  return kind == o.kind && label == o.label && maker == o.maker && count == o.count && value == o.value &&
         holes == o.holes && use == o.use && second_rate == o.second_rate && transition_mm == o.transition_mm &&
         length_mm == o.length_mm && cars == o.cars && part == o.part && note == o.note && same_table();
}

bool BoxItem::fits(const Car& car) const {
  return cars.empty() || std::find(cars.begin(), cars.end(), car.id) != cars.end();
}

SpringLaw law_of(const BoxItem& s) {
  return {.rate_n_per_mm = s.value,
          .second_rate_n_per_mm = s.second_rate,
          .transition_mm = s.transition_mm,
          .table = s.table};
}

TwoRates two_rates(std::span<const SpringPoint> table) {
  TwoRates best;
  best.off_n = 1e300;
  if (table.size() < 2) return {};
  const double end = table.back().mm;
  // Least squares of r1 min(x, knee) + r2 max(x - knee, 0) for each knee of a fine row; a straight line where there
  // are too few points for two.
  constexpr int knees = 1000;
  const int tried = table.size() > 2 ? knees : 1;
  double least = 1e300;
  for (int k = tried; k >= 1; --k) {
    const double knee = end * k / tried;
    double aa = 0, ab = 0, bb = 0, ay = 0, by = 0;
    for (const SpringPoint& p : table) {
      const double a = std::min(p.mm, knee), b = std::max(p.mm - knee, 0.0);
      aa += a * a, ab += a * b, bb += b * b, ay += a * p.n, by += b * p.n;
    }
    const double det = aa * bb - ab * ab;
    TwoRates r;
    r.transition_mm = knee;
    if (det > 1e-9 * aa * aa) {
      r.rate = (ay * bb - by * ab) / det;
      r.second_rate = (by * aa - ay * ab) / det;
    } else if (aa > 0.0) {
      r.rate = ay / aa;
      r.transition_mm = 0.0;
    }
    if (!(r.rate > 0.0) || r.second_rate < 0.0) continue;
    double squares = 0.0;
    const SpringLaw law{
        .rate_n_per_mm = r.rate, .second_rate_n_per_mm = r.second_rate, .transition_mm = r.transition_mm};
    for (const SpringPoint& p : table) {
      const double off = law.force(p.mm) - p.n;
      squares += off * off;
      r.off_n = std::max(r.off_n, std::abs(off));
    }
    // One rate where a second one brings nothing.
    if (squares < 0.999 * least - 1e-12) {
      least = squares;
      best = r;
    }
  }
  return best;
}

std::string measured_text(const BoxItem& i) {
  const BoxKindSpec& k = spec_of(i.kind);
  switch (i.kind) {
    case BoxKind::spring:
      if (!i.table.empty()) return say("spring, measured to {:g} mm", i.table.back().mm);
      if (i.second_rate > 0.0)
        return say("spring {first:.3g} N/mm, {second:.3g} from {from:g} mm on", "first"_a = i.value,
                   "second"_a = i.second_rate, "from"_a = i.transition_mm);
      return say("spring {:.3g} N/mm", i.value);
    case BoxKind::piston:
      return say("piston {holes} x {diameter:.3g} mm", "holes"_a = i.holes, "diameter"_a = i.value);
    case BoxKind::part:
      return i.label.empty() ? std::string(k.one) : i.label;
    case BoxKind::shock_oil:
    case BoxKind::differential_oil:
      return say("{what} {viscosity:.0f} cSt", "what"_a = k.one, "viscosity"_a = i.value);
    case BoxKind::bar_wire:
    case BoxKind::shim:
    case BoxKind::insert:
    case BoxKind::tyre:
      break;
  }
  return fmt::format("{} {:.3g} {}", k.one, i.value, k.unit);
}

std::string full_text(const BoxItem& i) {
  std::string more = i.kind == BoxKind::part ? std::string() : i.label;
  if (!i.maker.empty()) more += (more.empty() ? "" : ", ") + i.maker;
  return more.empty() ? measured_text(i) : fmt::format("{} ({})", measured_text(i), more);
}

std::optional<Boxes> shims_in(const std::string& text) {
  static const std::regex each(R"((\d+(?:[.,]\d+)?)\s*(?:mm)?\s*[x*]\s*(\d{1,4}))");
  static const std::regex between(R"([;\s]*)");
  Boxes box;
  auto from = text.cbegin();
  for (auto it = std::sregex_iterator(text.begin(), text.end(), each); it != std::sregex_iterator(); ++it) {
    if (!std::regex_match(from, (*it)[0].first, between)) return std::nullopt;
    std::string size = (*it)[1];
    std::replace(size.begin(), size.end(), ',', '.');
    BoxItem shim;
    shim.value = std::stod(size);
    shim.count = std::stoi((*it)[2]);
    if (!(shim.value > 0.0)) return std::nullopt;
    box.items.push_back(std::move(shim));
    from = (*it)[0].second;
  }
  if (!std::regex_match(from, text.cend(), between)) return std::nullopt;
  // Counted, and none there.
  if (box.items.empty()) box.items.push_back(BoxItem{.kind = BoxKind::shim, .count = 0, .value = 1.0});
  return box;
}

std::optional<BoxPlace> box_place(const Car& car, PartHandle adjuster) {
  const Adjuster& a = car.adjusters[adjuster];
  BoxPlace place;
  place.once = a.one_piece();
  switch (a.kind) {
    case AdjusterKind::shim_stack:
      place.kind = BoxKind::shim;
      return place;
    case AdjusterKind::insert:
      place.kind = BoxKind::insert;
      return place;
    case AdjusterKind::choice:
      break;
    case AdjusterKind::kept:
      return place;
    case AdjusterKind::hole:
    case AdjusterKind::turnbuckle:
    case AdjusterKind::screw:
    case AdjusterKind::spline:
      return std::nullopt;
  }
  const Positions& p = *a.positions();
  const auto changes = [&](std::initializer_list<Size> sizes) {
    return std::any_of(sizes.begin(), sizes.end(), [&](Size s) { return any_position_changes(p, s); });
  };
  if (changes({Size::spring_rate, Size::spring_rate_2, Size::spring_transition})) {
    place.kind = BoxKind::spring;
    const bool kingpin = kit_size(car, a.end, Size::kingpin_spring) > 0.0;
    place.use = kingpin ? SpringUse::kingpin : SpringUse::shock;
  } else if (changes({Size::side_rate})) {
    place.kind = BoxKind::spring;
    place.use = SpringUse::side;
  } else if (changes({Size::heave_rate})) {
    place.kind = BoxKind::spring;
    place.use = SpringUse::third;
  } else if (changes({Size::third_holes, Size::third_hole})) {
    place.kind = BoxKind::piston;
  } else if (changes({Size::third_oil})) {
    place.kind = BoxKind::shock_oil;
  } else if (changes({Size::third_gap, Size::third_stroke})) {
    return std::nullopt;
  } else if (changes({Size::piston_holes, Size::piston_hole, Size::piston_thickness})) {
    place.kind = BoxKind::piston;
  } else if (changes({Size::oil_cst})) {
    place.kind = BoxKind::shock_oil;
    place.once = true;
  } else if (changes({Size::differential_oil})) {
    place.kind = BoxKind::differential_oil;
    place.once = true;
  } else if (changes({Size::bar_wire})) {
    place.kind = BoxKind::bar_wire;
  } else if (changes({Size::tyre_radius})) {
    place.kind = BoxKind::tyre;
  } else {
    // Another place for what is on the car anyway, or a bolt turned, takes nothing out of a box.
    const bool another = std::any_of(p.list.begin(), p.list.end(), [](const Position& each) {
      const Effect& e = each.effect;
      return !e.moves.empty() || !e.turns.empty() ||
             std::any_of(e.sizes.begin(), e.sizes.end(), [](const SizeChange& c) {
               return c.size != Size::unsprung_more && c.size != Size::differential_friction;
             });
    });
    if (!another) return std::nullopt;
  }
  return place;
}

int pieces_for(const Car& car, PartHandle adjuster) {
  const auto place = box_place(car, adjuster);
  if (!place) return car.adjusters[adjuster].one_piece() ? 1 : 2;
  return place->once ? 1 : 2;
}

BoxItem piece_at(const Car& car, PartHandle adjuster, int position) {
  const Adjuster& a = car.adjusters[adjuster];
  const auto place = box_place(car, adjuster);
  const Positions& all = *a.positions();
  const Position& p = all.list[at(position)];
  const auto size = [&](Size s) { return size_at(car, a.end, p, s); };
  const bool third = a.of_third_element();
  BoxItem i;
  i.kind = place->kind;
  i.label = p.label;
  switch (i.kind) {
    case BoxKind::spring: {
      i.use = place->use;
      i.value = size(i.use == SpringUse::side    ? Size::side_rate
                     : i.use == SpringUse::third ? Size::heave_rate
                                                 : Size::spring_rate);
      if (i.use == SpringUse::side || i.use == SpringUse::third) break;
      i.second_rate = size(Size::spring_rate_2);
      i.transition_mm = size(Size::spring_transition);
      i.length_mm = size(Size::spring_free);
      const double beside = i.value - kit_size(car, a.end, Size::spring_rate);
      for (const SpringPoint& t : car.axle(a.end).spring_table) i.table.push_back({t.mm, t.n + beside * t.mm});
      break;
    }
    case BoxKind::piston:
      i.holes = static_cast<int>(std::lround(size(third ? Size::third_holes : Size::piston_holes)));
      i.value = size(third ? Size::third_hole : Size::piston_hole);
      break;
    case BoxKind::shock_oil:
      i.value = size(third ? Size::third_oil : Size::oil_cst);
      break;
    case BoxKind::differential_oil:
      i.value = size(Size::differential_oil);
      break;
    case BoxKind::bar_wire:
      i.value = size(Size::bar_wire);
      break;
    case BoxKind::tyre:
      i.value = 2.0 * size(Size::tyre_radius);
      break;
    case BoxKind::insert: {
      const Vec3 at = p.effect.moves.empty() ? Vec3(Vec3::Zero()) : p.effect.moves.front().mm;
      i.value = (at - middle_of(all)).norm();
      break;
    }
    case BoxKind::part:
      i.part = a.id;
      i.cars = {car.id};
      break;
    case BoxKind::shim:
      break;
  }
  return i;
}

bool is_nothing(const BoxItem& p) {
  return (p.kind == BoxKind::bar_wire || p.kind == BoxKind::piston ||
          (p.kind == BoxKind::spring && p.use == SpringUse::third)) &&
         !(p.value > 0.0);
}

std::optional<double> apart(const BoxItem& a, const BoxItem& b) {
  if (a.kind != b.kind) return std::nullopt;
  switch (a.kind) {
    case BoxKind::spring: {
      if (a.use != b.use) return std::nullopt;
      const SpringLaw one = law_of(a), other = law_of(b);
      double most = 0.0;
      for (double mm = 1.0; mm <= springs_up_to_mm; mm += 1.0) {
        const double f = one.force(mm), g = other.force(mm);
        if (!(f > 0.0) || !(g > 0.0)) return std::nullopt;
        most = std::max(most, std::abs(f - g) / std::max(f, g));
      }
      return most / springs_alike;
    }
    case BoxKind::piston: {
      if (!(a.value > 0.0) || !(b.value > 0.0)) return std::nullopt;
      // By the area that oil goes through, where the numbers of holes differ: never alike then.
      const double area = a.holes * a.value * a.value, other = b.holes * b.value * b.value;
      if (a.holes != b.holes) return 1.0 + std::abs(area - other) / std::max(area, other) / 0.05;
      return std::abs(a.value - b.value) / 0.03;
    }
    case BoxKind::shock_oil:
    case BoxKind::differential_oil:
      if (!(a.value > 0.0) || !(b.value > 0.0)) return std::nullopt;
      return std::abs(a.value - b.value) / std::max(a.value, b.value) / oils_alike;
    case BoxKind::bar_wire:
      return std::abs(a.value - b.value) / 0.03;
    case BoxKind::insert:
      return std::abs(a.value - b.value) / 0.06;
    case BoxKind::tyre:
      return std::abs(a.value - b.value) / 0.2;
    case BoxKind::shim:
      return std::abs(a.value - b.value) / 0.005;
    case BoxKind::part:
      if (a.part != b.part || lower(a.label) != lower(b.label)) return std::nullopt;
      return 0.0;
  }
  return std::nullopt;
}

bool goes_into(const BoxItem& item, const Car& car, PartHandle adjuster) {
  const auto place = box_place(car, adjuster);
  const Adjuster& a = car.adjusters[adjuster];
  if (!place || place->kind != item.kind || !item.fits(car)) return false;
  if (!item.part.empty() && item.part != a.id) return false;
  if (item.kind == BoxKind::part) return item.part == a.id;
  // Rings for a shock's shaft or a spring are no shims for a ball.
  if (item.kind == BoxKind::shim && a.range()->moves_per_unit.empty()) return item.part == a.id;
  return item.kind != BoxKind::spring || item.use == place->use;
}

}  // namespace lowkite
