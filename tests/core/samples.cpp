#include "tests/core/samples.hpp"

#include <algorithm>
#include <stdexcept>

namespace lowkite::test {

CarSetup random_setup(const Car& car, std::mt19937& random) {
  std::uniform_real_distribution<double> share(0.0, 1.0);
  const auto drawn = [&](const Adjuster& a) {
    if (a.threaded()) return a.least() + (a.most() - a.least()) * share(random);
    std::vector<double> all = a.values_besides(a.kit);
    all.push_back(a.kit);
    return all[std::uniform_int_distribution<std::size_t>(0, all.size() - 1)(random)];
  };
  CarSetup setup = kit_setup(car);
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    const double value = drawn(a);
    setup.values[i] = {value, a.threaded() && !a.steering && share(random) < 0.3 ? drawn(a) : value};
  }
  return setup;
}
namespace {

using Layout = std::vector<std::pair<const char*, Vec3>>;

const Layout& layout_of(const MechanismSpec& spec, Proportions p) {
  static const Layout touring_pinned{
      {"arm_inner_front", {16, 22, 8}}, {"arm_inner_rear", {-18, 22, 8}},  {"arm_outer_front", {8, 66, 7}},
      {"arm_outer_rear", {-8, 66, 7}},  {"link_inner", {-5, 32, 34}},      {"link_outer", {-3, 62, 37}},
      {"kingpin_lower", {0.7, 71, 16}}, {"kingpin_upper", {-0.7, 69, 36}}, {"tie_inner", {-19, 26, 20}},
      {"tie_outer", {-20, 66, 21}},     {"wheel_centre", {0, 82, 26}},     {"shock_upper", {18, 34, 62}},
      {"shock_lower", {13, 56, 10}}};
  static const Layout buggy_pinned{
      {"arm_inner_front", {16, 20, 20}}, {"arm_inner_rear", {-16, 20, 8}},   {"arm_outer_front", {9, 92, 16}},
      {"arm_outer_rear", {-9, 92, 9}},   {"link_inner", {-12, 31, 37}},      {"link_outer", {-9, 85, 41}},
      {"kingpin_lower", {4, 101, 10}},   {"kingpin_upper", {-5.6, 100, 31}}, {"tie_inner", {-24, 19, 25}},
      {"tie_outer", {-25, 96, 25}},      {"wheel_centre", {0, 110, 20}},     {"shock_upper", {12, 30, 73}},
      {"shock_lower", {4, 78, 17}}};
  static const Layout touring_wishbone{
      {"arm_inner_front", {18, 20, 8}},    {"arm_inner_rear", {-18, 20, 8}},    {"lower_ball", {0.8, 70, 9}},
      {"upper_inner_front", {14, 30, 33}}, {"upper_inner_rear", {-16, 30, 33}}, {"upper_ball", {-1, 68, 37}},
      {"tie_inner", {-18, 25, 20}},        {"tie_outer", {-19, 66, 21}},        {"wheel_centre", {0, 82, 26}},
      {"shock_upper", {18, 34, 62}},       {"shock_lower", {13, 54, 10}}};
  static const Layout buggy_wishbone{
      {"arm_inner_front", {22, 22, 19}},   {"arm_inner_rear", {-22, 22, 11}},   {"lower_ball", {3, 98, 11}},
      {"upper_inner_front", {12, 34, 42}}, {"upper_inner_rear", {-20, 34, 38}}, {"upper_ball", {-4, 95, 42}},
      {"tie_inner", {-24, 22, 25}},        {"tie_outer", {-25, 94, 26}},        {"wheel_centre", {0, 110, 24}},
      {"shock_upper", {12, 36, 80}},       {"shock_lower", {6, 78, 17}}};
  static const Layout touring_toe_link = [] {
    Layout l = touring_pinned;
    for (auto& [id, place] : l) {
      if (id == std::string_view("tie_inner")) place = {-22, 26, 14};
      if (id == std::string_view("tie_outer")) place = {-23, 67, 15};
    }
    return l;
  }();
  static const Layout pan_still{{"kingpin_lower", {0.6, 60, 7}}, {"kingpin_upper", {-1.2, 59, 28}},
                                {"upper_inner", {-1, 34, 27}},   {"tie_inner", {-20, 6, 16}},
                                {"tie_outer", {-17, 57, 17}},    {"wheel_centre", {0, 70, 17}}};
  static const Layout pan_swung{{"kingpin_lower", {0.6, 60, 7}},     {"kingpin_upper", {-1.2, 59, 28}},
                                {"upper_inner_front", {10, 36, 27}}, {"upper_inner_rear", {-13, 36, 25}},
                                {"tie_inner", {-20, 6, 16}},         {"tie_outer", {-17, 57, 17}},
                                {"wheel_centre", {0, 70, 17}}};
  static const Layout pod{{"pod_pivot", {50, 0, 6}}, {"wheel_centre", {0, 70, 17}}};
  if (spec.id == "sliding_kingpin") return pan_still;
  if (spec.id == "swinging_kingpin") return pan_swung;
  if (spec.id == "live_axle") return pod;
  if (spec.id == "toe_link_hub") return touring_toe_link;
  const bool wishbone = bool(spec.point("lower_ball"));
  if (p == Proportions::touring) return wishbone ? touring_wishbone : touring_pinned;
  return wishbone ? buggy_wishbone : buggy_pinned;
}

}  // namespace

std::vector<LaidOut> every_layout() {
  std::vector<LaidOut> all;
  for (const MechanismSpec* spec : mechanisms()) {
    if (!spec->independent) continue;
    all.push_back({spec, Proportions::touring});
    if (&layout_of(*spec, Proportions::buggy) != &layout_of(*spec, Proportions::touring))
      all.push_back({spec, Proportions::buggy});
  }
  return all;
}

CornerGeometry random_corner(const MechanismSpec& spec, Proportions proportions, std::mt19937& random) {
  const double spread = proportions == Proportions::touring ? 1.5 : 2.5;  // mm: shims, inserts and another make of arm
  std::uniform_real_distribution<double> shake(-spread, spread);
  CornerGeometry g;
  g.kit.fill(Vec3::Zero());
  const Layout& layout = layout_of(spec, proportions);
  for (const PointSpec& p : spec.points)
    if (std::none_of(layout.begin(), layout.end(), [&](const auto& place) { return place.first == p.id; }))
      throw std::logic_error(std::string("tests/core/samples.cpp has no layout with the point ").append(p.id));
  for (const auto& [id, place] : layout) {
    const PointHandle i = spec.point(id);
    if (!i) continue;
    g.kit[i] = place + Vec3(shake(random), shake(random), shake(random));
    if (i >= attachment::first) g.add(i);
  }
  g.set = g.kit;
  g.length = kit_lengths(spec.links, g.kit);
  std::uniform_real_distribution<double> lean(-3.0, 3.0);
  Axle wheel;
  wheel.camber_deg = lean(random);
  wheel.toe_deg = lean(random);
  g.spin_axis = wheel.spin_axis();
  return g;
}

CornerGeometry planar_front(const PlanarCorner& l) {
  return planar_corner(*find_mechanism("hub_carrier"), l);
}

CornerGeometry planar_corner(const MechanismSpec& spec, const PlanarCorner& l) {
  CornerGeometry g;
  g.kit.fill(Vec3::Zero());
  const auto put = [&](const char* id, double x, const Eigen::Vector2d& yz) {
    const PointHandle i = spec.point(id);
    if (!i) return;
    g.kit[i] = Vec3(x, yz.x(), yz.y());
    if (i >= attachment::first) g.add(i);
  };
  put("arm_inner_front", 15, l.arm_inner);
  put("arm_inner_rear", -15, l.arm_inner);
  put("arm_outer_front", 8, l.arm_outer);
  put("arm_outer_rear", -8, l.arm_outer);
  put("link_inner", 0, l.link_inner);
  put("link_outer", 0, l.link_outer);
  const double lean = std::tan(l.caster_rad);
  put("kingpin_lower", 10 * lean, {l.wheel_y, l.wheel_z - 10});
  put("kingpin_upper", -10 * lean, {l.wheel_y, l.wheel_z + 10});
  // In the plane of the links the tie rod has no lever on the kingpin, so it stands behind the axle.
  put("tie_inner", -20, l.tie_inner);
  put("tie_outer", -20, l.tie_outer);
  put("wheel_centre", 0, {l.wheel_y, l.wheel_z});
  put("shock_upper", 15, {34, 62});
  put("shock_lower", 12, {55, 10});
  g.set = g.kit;
  g.length = kit_lengths(spec.links, g.kit);
  return g;
}

CornerModel model_of(const MechanismSpec& spec, const CornerGeometry& geometry, double tyre_radius) {
  CornerModel m;
  m.spec = &spec;
  m.geometry = geometry;
  auto linkage = spec.build(geometry);
  if (!linkage) throw std::runtime_error("the sample corner does not assemble");
  m.linkage = std::move(*linkage);
  m.tyre = {tyre_radius, 26.0, 0.0};
  m.design_wheel_z_mm = geometry.kit[spec.wheel_centre].z();
  return m;
}

SteeringGeometry random_steering(const SteeringSpec& spec, std::mt19937& random) {
  static const Layout cranks{{"servo_shaft_front", {-48, -12, 13}}, {"servo_shaft_rear", {-56, -12, 13}},
                             {"horn_ball", {-48, -12, 27}},         {"drag_ball", {-52, 16, 26}},
                             {"first_post_lower", {-38, 16, 6}},    {"first_post_upper", {-38, 16, 28}},
                             {"second_post_lower", {-38, -16, 6}},  {"second_post_upper", {-38, -16, 28}},
                             {"plate_first", {-21, 16, 18}},        {"plate_second", {-21, -16, 18}}};
  static const Layout slide{{"servo_shaft_front", {-26, -17, 7}}, {"servo_shaft_rear", {-36, -17, 7}},
                            {"horn_ball", {-26, -17, 20.5}},      {"slide_ball", {-26, 9, 20.5}},
                            {"rail_right", {-17.5, -30, 19}},     {"rail_left", {-17.5, 30, 19}}};
  static const Layout saver{{"servo_shaft_front", {-20, 0, 3}}, {"servo_shaft_rear", {-32, 0, 3}}};
  const Layout& layout = spec.id == "servo_saver" ? saver : spec.id == "slide_rack" ? slide : cranks;
  std::uniform_real_distribution<double> shake(-1.5, 1.5);
  SteeringGeometry g;
  g.kit.fill(Vec3::Zero());
  for (const auto& [id, place] : layout) {
    const Vec3 shaken = place + Vec3(shake(random), shake(random), shake(random));
    g.kit[spec.point(id)] = shaken;
  }
  // Both posts lean alike: the plate's pins must stay parallel.
  if (const PointHandle second = spec.point("second_post_upper")) {
    const auto at_id = [&](const char* id) -> Vec3& { return g.kit[spec.point(id)]; };
    at_id("second_post_upper") = at_id("second_post_lower") + (at_id("first_post_upper") - at_id("first_post_lower"));
  }
  g.set = g.kit;
  g.length = kit_lengths(spec.links, g.kit);
  g.tie_ball = {Vec3(-19 + shake(random), 26 + shake(random), 20 + shake(random)),
                Vec3(-19 + shake(random), -26 + shake(random), 20 + shake(random))};
  return g;
}

}  // namespace lowkite::test
