// The one list of mechanisms. A new mechanism is a file of its own and a line here.
#include "core/linkage/corner.hpp"
#include "core/linkage/double_wishbone.hpp"
#include "core/linkage/hub_carrier.hpp"

namespace lowkite {

std::span<const MechanismSpec* const> mechanisms() {
  static const std::array<const MechanismSpec*, 3> all{&hub_carrier_front, &solid_hub, &double_wishbone};
  return all;
}

const MechanismSpec* find_mechanism(std::string_view id) {
  for (const MechanismSpec* m : mechanisms())
    if (m->id == id) return m;
  return nullptr;
}

int MechanismSpec::point(std::string_view point_id) const {
  for (std::size_t i = 0; i < points.size(); ++i)
    if (points[i].id == point_id) return static_cast<int>(i);
  return no_point;
}

int MechanismSpec::link(std::string_view link_id) const {
  for (std::size_t i = 0; i < links.size(); ++i)
    if (links[i].id == link_id) return static_cast<int>(i);
  return no_point;
}

std::array<double, max_links> kit_lengths(const MechanismSpec& spec, const std::array<Vec3, max_points>& kit) {
  std::array<double, max_links> length{};
  for (std::size_t i = 0; i < spec.links.size(); ++i) {
    const LinkSpec& link = spec.links[i];
    length[i] = (kit[static_cast<std::size_t>(link.outer)] - kit[static_cast<std::size_t>(link.inner)]).norm();
  }
  return length;
}

}  // namespace lowkite
