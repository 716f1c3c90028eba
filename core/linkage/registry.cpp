// The one list of mechanisms. A new mechanism is a file of its own and a line here.
#include "core/linkage/corner.hpp"
#include "core/linkage/double_wishbone.hpp"
#include "core/linkage/hub_carrier.hpp"
#include "core/linkage/live_axle.hpp"
#include "core/linkage/sliding_kingpin.hpp"
#include "core/linkage/swinging_kingpin.hpp"
#include "core/words/say.hpp"

namespace lowkite {

std::span<const MechanismSpec* const> mechanisms() {
  static const std::array all{&hub_carrier_front, &solid_hub,          &toe_link_hub,
                              &double_wishbone,   &upper_arm_wishbone, &ball_joint_rear,
                              &sliding_kingpin,   &swinging_kingpin,   &live_axle};
  return all;
}

const MechanismSpec* find_mechanism(std::string_view id) {
  for (const MechanismSpec* m : mechanisms())
    if (m->id == id) return m;
  return nullptr;
}

std::span<const PointSpec> attachment_points() {
  static constexpr std::array<PointSpec, attachment::end - attachment::first> all{{
      {"shock_upper", marked("shock, upper mount"), Body::chassis},
      {"shock_lower", marked("shock, lower mount"), Body::arm},
      {"droop_tip", marked("droop screw, lower end"), Body::arm},
      {"arm_gauge", marked("arm's underside, down-stop gauge"), Body::arm},
      {"shaft_cup", marked("differential cup, middle of its mouth"), Body::chassis},
      {"shaft_joint", marked("drive shaft, outer joint"), Body::knuckle},
      {"bar_arm", marked("anti-roll bar's link, ball on the arm"), Body::arm},
      {"bar_end", marked("anti-roll bar's link, ball on the bar"), Body::chassis},
      {"side_upper", marked("side spring, end on the chassis"), Body::chassis},
      {"side_lower", marked("side spring, end on the pod"), Body::arm},
      {"third_arm", marked("third spring's rod, ball on the arm"), Body::arm},
      {"third_rod", marked("third spring's rod, ball on the lever"), Body::chassis},
      {"third_end", marked("third spring, end on the lever"), Body::chassis},
      {"third_pivot", marked("third spring's lever, pivot"), Body::chassis},
  }};
  return all;
}

PointHandle MechanismSpec::point(std::string_view point_id) const {
  for (const PointHandle each : points.handles())
    if (points[each].id == point_id) return each;
  const auto attached = attachment_points();
  for (std::size_t i = 0; i < attached.size(); ++i)
    if (attached[i].id == point_id) return PointHandle(attachment::first + i);
  return {};
}

const PointSpec& MechanismSpec::point_spec(PointHandle which) const {
  return which < attachment::first ? points[which] : attachment_points()[which.place() - attachment::first];
}

LinkHandle MechanismSpec::link(std::string_view link_id) const {
  for (const LinkHandle each : links.handles())
    if (links[each].id == link_id) return each;
  return {};
}

LinkLengths kit_lengths(SpanOf<LinkSpec> links, const PointPlaces& kit) {
  LinkLengths length{};
  for (const LinkHandle l : links.handles()) length[l] = links[l].length_in(kit);
  return length;
}

}  // namespace lowkite
