#include "core/car/car.hpp"

#include <algorithm>
#include <cmath>

#include "core/car/setup.hpp"

namespace lowkite {
namespace {

constexpr std::array<std::string_view, differential_kind_count> differential_ids{"undescribed", "open",    "oil",
                                                                                 "ball",        "one_way", "spool"};

}  // namespace

std::string_view id_of(DifferentialKind kind) {
  return differential_ids[at(kind)];
}

std::optional<DifferentialKind> differential_kind_of(std::string_view id) {
  for (std::size_t i = 1; i < differential_ids.size(); ++i)
    if (differential_ids[i] == id) return static_cast<DifferentialKind>(i);
  return std::nullopt;
}

bool Axle::one_shock() const {
  constexpr double middle_mm = 0.5;
  const auto& p = points[at(Side::left)];
  return !mechanism->independent && std::abs(p[attachment::shock_upper].y()) < middle_mm &&
         std::abs(p[attachment::shock_lower].y()) < middle_mm;
}

Vec3 Axle::spin_axis() const {
  const double camber = radians(camber_deg);
  const double toe = radians(toe_deg);
  return {std::cos(camber) * std::sin(toe), std::cos(camber) * std::cos(toe), -std::sin(camber)};
}

PartHandle Car::find_adjuster(std::string_view adjuster_id) const {
  for (const PartHandle i : adjusters.handles())
    if (adjusters[i].id == adjuster_id) return i;
  return {};
}

PartHandle Car::turnbuckle_of(End end, LinkHandle link) const {
  for (const PartHandle i : adjusters.handles()) {
    const Range* r = adjusters[i].range();
    if (adjusters[i].end == end && !adjusters[i].steering && r && r->link == link) return i;
  }
  return {};
}

std::vector<PartHandle> Car::turnbuckles_holding(End end, LinkHolds angle) const {
  std::vector<PartHandle> parts;
  const auto& links = axle(end).mechanism->links;
  for (const LinkHandle link : links.handles())
    if (links[link].holds == angle)
      if (const PartHandle part = turnbuckle_of(end, link)) parts.push_back(part);
  return parts;
}

std::vector<PartHandle> Car::adjusters_from_the_wheel(End end) const {
  const Axle& ax = axle(end);
  const auto outboard = [&](PartHandle part) {
    const Adjuster& a = adjusters[part];
    if (a.steering) return 0.0;  // after everything on the wheel's side
    const auto y = [&](PointHandle point) { return ax.points[0][point].y(); };
    if (const Range* r = a.range(); r && r->link) {
      const LinkSpec& link = ax.mechanism->links[r->link];
      return 0.5 * (y(link.inner) + y(link.outer));
    }
    const PointHandle place = a.place();
    if (place) return y(place);
    const Positions* p = a.positions();
    const bool heavy = p && std::any_of(p->list.begin(), p->list.end(),
                                        [](const Position& each) { return !each.effect.masses.empty(); });
    return heavy ? -1.0 : 0.0;  // what lies on the plate comes last
  };
  std::vector<PartHandle> order;
  for (const PartHandle i : adjusters.handles())
    if (adjusters[i].end == end) order.push_back(i);
  std::stable_sort(order.begin(), order.end(), [&](PartHandle a, PartHandle b) { return outboard(a) > outboard(b); });
  return order;
}

void note(Setup& setup, const std::string& name, const std::string& text) {
  const auto there =
      std::find_if(setup.noted.begin(), setup.noted.end(), [&](const NotedField& n) { return n.name == name; });
  if (there == setup.noted.end()) {
    if (!text.empty()) setup.noted.push_back({name, text});
  } else if (text.empty()) {
    setup.noted.erase(there);
  } else {
    there->text = text;
  }
}

Setup carried_over(const Car& from, const Setup& setup, const Car& to) {
  Setup result = setup;
  result.car_id = to.id;
  result.values.clear();
  for (const Adjuster& a : to.adjusters) {
    Setting value{a.kit, a.kit};
    const PartHandle old = from.find_adjuster(a.id);
    for (const Side side : both_sides) {
      if (!old) continue;
      const Adjuster& was = from.adjusters[old];
      const double v = setup.of(old).on(side);
      const Positions* then = was.positions();
      const Positions* now = a.positions();
      if (!then != !now) continue;
      if (now) {
        const std::string& label = then->list[at(std::lround(v))].label;
        for (std::size_t i = 0; i < now->list.size(); ++i)
          if (now->list[i].label == label) value.on(side) = static_cast<double>(i);
      } else {
        value.on(side) = a.threaded() ? std::clamp(v, a.least(), a.most()) : a.nearest_stop(v);
      }
    }
    result.values.push_back(value);
  }
  return result;
}

}  // namespace lowkite
