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
  return differential_ids[static_cast<std::size_t>(kind)];
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

int Car::find_adjuster(std::string_view adjuster_id) const {
  for (std::size_t i = 0; i < adjusters.size(); ++i)
    if (adjusters[i].id == adjuster_id) return static_cast<int>(i);
  return -1;
}

int Car::turnbuckle_of(End end, int link) const {
  for (std::size_t i = 0; i < adjusters.size(); ++i) {
    const Range* r = adjusters[i].range();
    if (adjusters[i].end == end && !adjusters[i].steering && r && r->link == link) return static_cast<int>(i);
  }
  return -1;
}

std::vector<int> Car::turnbuckles_holding(End end, LinkHolds angle) const {
  std::vector<int> parts;
  const auto& links = axle(end).mechanism->links;
  for (std::size_t i = 0; i < links.size(); ++i)
    if (links[i].holds == angle)
      if (const int part = turnbuckle_of(end, static_cast<int>(i)); part >= 0) parts.push_back(part);
  return parts;
}

std::vector<int> Car::adjusters_from_the_wheel(End end) const {
  const Axle& ax = axle(end);
  const auto outboard = [&](int index) {
    const Adjuster& a = adjusters[static_cast<std::size_t>(index)];
    if (a.steering) return 0.0;  // after everything on the wheel's side
    const auto y = [&](int point) { return ax.points[0][static_cast<std::size_t>(point)].y(); };
    if (const Range* r = a.range(); r && r->link != no_point) {
      const LinkSpec& link = ax.mechanism->links[static_cast<std::size_t>(r->link)];
      return 0.5 * (y(link.inner) + y(link.outer));
    }
    const int place = a.place();
    if (place != no_point) return y(place);
    const Positions* p = a.positions();
    const bool heavy = p && std::any_of(p->list.begin(), p->list.end(),
                                        [](const Position& each) { return !each.effect.masses.empty(); });
    return heavy ? -1.0 : 0.0;  // what lies on the plate comes last
  };
  std::vector<int> order;
  for (std::size_t i = 0; i < adjusters.size(); ++i)
    if (adjusters[i].end == end) order.push_back(static_cast<int>(i));
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return outboard(a) > outboard(b); });
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
    const int old = from.find_adjuster(a.id);
    for (const Side side : both_sides) {
      if (old < 0) continue;
      const Adjuster& was = from.adjusters[static_cast<std::size_t>(old)];
      const double v = setup.at_index(old).on(side);
      const Positions* then = was.positions();
      const Positions* now = a.positions();
      if (!then != !now) continue;
      if (now) {
        const std::string& label = then->list[static_cast<std::size_t>(std::lround(v))].label;
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
