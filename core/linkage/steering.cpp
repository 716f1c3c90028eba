// The one list of steerings. A new steering is a file of its own and a line here.
#include "core/linkage/steering.hpp"

#include "core/linkage/crank_pair.hpp"
#include "core/linkage/servo_saver.hpp"
#include "core/linkage/slide_rack.hpp"

namespace lowkite {

std::span<const SteeringSpec* const> steerings() {
  static const std::array<const SteeringSpec*, 4> all{&crank_pair, &crank_plate, &servo_saver, &slide_rack};
  return all;
}

const SteeringSpec* find_steering(std::string_view id) {
  for (const SteeringSpec* s : steerings())
    if (s->id == id) return s;
  return nullptr;
}

PointHandle SteeringSpec::point(std::string_view point_id) const {
  for (const PointHandle each : points.handles())
    if (points[each].id == point_id) return each;
  return {};
}

LinkHandle SteeringSpec::link(std::string_view link_id) const {
  for (const LinkHandle each : links.handles())
    if (links[each].id == link_id) return each;
  return {};
}

}  // namespace lowkite
