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

int SteeringSpec::point(std::string_view point_id) const {
  for (std::size_t i = 0; i < points.size(); ++i)
    if (points[i].id == point_id) return static_cast<int>(i);
  return no_point;
}

int SteeringSpec::link(std::string_view link_id) const {
  for (std::size_t i = 0; i < links.size(); ++i)
    if (links[i].id == link_id) return static_cast<int>(i);
  return no_point;
}

}  // namespace lowkite
