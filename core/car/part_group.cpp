#include "core/car/part_group.hpp"

#include <algorithm>
#include <array>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::array<std::string_view, part_group_count> labels{
    marked("Wheel and hub"),    marked("Links"),         marked("Arms and pins"),
    marked("Shock and spring"), marked("Anti-roll bar"), marked("Steering"),
    marked("Differential"),     marked("Weights"),       marked("Others")};
static_assert(static_cast<int>(PartGroup::other) + 1 == part_group_count, "every group has a label");

bool is_bar(Size s) {
  return s == Size::bar_link || s == Size::bar_wire;
}

/// Every size that some value of the part changes.
std::vector<Size> sizes_of(const Adjuster& part) {
  std::vector<Size> found;
  if (const Range* r = part.range())
    for (const SizeChange& s : r->sizes_per_unit) found.push_back(s.size);
  if (const Positions* p = part.positions())
    for (const Position& each : p->list)
      for (const SizeChange& s : each.effect.sizes) found.push_back(s.size);
  return found;
}

bool is_link_end(const MechanismSpec& m, PointHandle point) {
  return std::any_of(m.links.begin(), m.links.end(),
                     [&](const LinkSpec& l) { return !l.pin && (l.inner == point || l.outer == point); });
}

}  // namespace

std::string_view label_of(PartGroup group) {
  return labels[at(group)];
}

PartGroup group_of(const Car& car, const Adjuster& part) {
  if (part.only_kept()) return PartGroup::other;
  if (part.steering) return PartGroup::steering;
  const MechanismSpec& m = *car.axle(part.end).mechanism;
  if (const Range* r = part.range(); r && r->link) {
    const LinkSpec& link = m.links[r->link];
    return !link.pin ? PartGroup::links : PartGroup::arms;
  }
  const std::vector<Size> sizes = sizes_of(part);
  if (part.in_the_differential()) return PartGroup::drive;
  // What moves no point is what it weighs or pushes, wherever it sits.
  if (!part.moves_geometry()) {
    if (std::any_of(sizes.begin(), sizes.end(), is_bar)) return PartGroup::bar;
    if (!sizes.empty()) return PartGroup::shock;
    return part.moves_weight() ? PartGroup::weights : PartGroup::other;
  }
  const PointHandle place = part.place();
  if (place == attachment::shock_upper || place == attachment::shock_lower || place == attachment::side_upper ||
      place == attachment::side_lower || (place >= attachment::third_arm && place <= attachment::third_pivot))
    return PartGroup::shock;
  if (place && place < attachment::first) {
    if (is_link_end(m, place)) return PartGroup::links;
    const Body body = m.point_spec(place).body;
    return body == Body::carrier || body == Body::knuckle ? PartGroup::wheel : PartGroup::arms;
  }
  if (place == attachment::bar_arm || place == attachment::bar_end || std::any_of(sizes.begin(), sizes.end(), is_bar))
    return PartGroup::bar;
  if (std::any_of(sizes.begin(), sizes.end(), [](Size s) { return s == Size::tyre_radius || s == Size::shaft_length; }))
    return PartGroup::wheel;
  if (place) return PartGroup::arms;  // a droop screw and its like
  if (!sizes.empty()) return PartGroup::shock;
  return part.moves_weight() ? PartGroup::weights : PartGroup::other;
}

std::vector<PartHandle> parts_by_group(const Car& car, End end) {
  std::vector<PartHandle> order = car.adjusters_from_the_wheel(end);
  const auto group = [&](PartHandle part) { return group_of(car, car.adjusters[part]); };
  std::stable_sort(order.begin(), order.end(), [&](PartHandle a, PartHandle b) { return group(a) < group(b); });
  return order;
}

}  // namespace lowkite
