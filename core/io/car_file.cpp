#include "core/io/car_file.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/io/atomic_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/pose/pose.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

LeftHandEnds left_hand_ends_in(const std::string& text) {
  return text == "left"     ? LeftHandEnds::left
         : text == "right"  ? LeftHandEnds::right
         : text == "wheels" ? LeftHandEnds::wheels
         : text == "middle" ? LeftHandEnds::middle
                            : LeftHandEnds::unknown;
}

constexpr double least_length_mm = 0.5;  // pins and links shorter than a shim's hole are slips of the pen

const std::array<std::pair<std::string_view, Size>, size_count> size_names{{
    {"shock_extended_mm", Size::shock_extended},
    {"shock_compressed_mm", Size::shock_compressed},
    {"tyre_radius_mm", Size::tyre_radius},
    {"shaft_length_mm", Size::shaft_length},
    {"slide_droop_mm", Size::slide_droop},
    {"slide_bump_mm", Size::slide_bump},
    {"spring_rate_n_per_mm", Size::spring_rate},
    {"spring_free_mm", Size::spring_free},
    {"bar_link_mm", Size::bar_link},
    {"bar_wire_mm", Size::bar_wire},
    {"spring_rate_2_n_per_mm", Size::spring_rate_2},
    {"spring_transition_mm", Size::spring_transition},
    {"heave_rate_n_per_mm", Size::heave_rate},
    {"damper_bore_mm", Size::damper_bore},
    {"piston_holes", Size::piston_holes},
    {"piston_hole_mm", Size::piston_hole},
    {"piston_thickness_mm", Size::piston_thickness},
    {"oil_cst", Size::oil_cst},
    {"heave_damping_n_s_per_mm", Size::heave_damping},
    {"kingpin_spring_mm", Size::kingpin_spring},
    {"spring_spacer_mm", Size::spring_spacer},
    {"side_rate_n_per_mm", Size::side_rate},
    {"side_preload_mm", Size::side_preload},
    {"differential_kind", Size::differential_kind},
    {"differential_oil_cst", Size::differential_oil},
    {"differential_gears", Size::differential_gears},
    {"differential_friction_n_mm", Size::differential_friction},
    {"unsprung_more_g", Size::unsprung_more},
    {"third_gap_mm", Size::third_gap},
    {"third_stroke_mm", Size::third_stroke},
    {"third_bore_mm", Size::third_bore},
    {"third_holes", Size::third_holes},
    {"third_hole_mm", Size::third_hole},
    {"third_thickness_mm", Size::third_thickness},
    {"third_oil_cst", Size::third_oil},
}};

template <class Specs>
std::string names_of(const Specs& specs) {
  std::vector<std::string_view> ids;
  for (const auto& s : specs) ids.push_back(s.id);
  return say("one of {}", fmt::join(ids, ", "));
}

Vec3 vec(const Json& j) {
  return {j[0].get<double>(), j[1].get<double>(), j[2].get<double>()};
}

/// Reads one car; collects faults as it goes. Precondition: the document has passed the schema.
class CarReader {
 public:
  CarReader(const Json& document, std::string file) : doc_(document), file_(std::move(file)) {}

  tl::expected<Car, Faults> read() {
    read_header();
    for (const End end : both_ends) read_axle(end);
    if (faults_.empty()) read_steering();
    if (faults_.empty())
      for (const End end : both_ends) read_limits(end);
    if (faults_.empty()) read_masses();
    if (faults_.empty()) read_adjusters();
    if (faults_.empty()) check_as_a_whole();
    if (!faults_.empty()) return tl::unexpected(faults_);
    return std::move(car_);
  }

 private:
  void fault(std::vector<std::string> place, std::string wrong, std::string allowed) {
    faults_.push_back({file_, place_of(place), std::move(wrong), std::move(allowed)});
  }

  void read_header() {
    car_.id = doc_["id"].get<std::string>();
    car_.name = doc_["name"].get<std::string>();
    car_.vehicle_class = doc_.value("class", "");
    car_.notes = doc_.value("notes", "");
    car_.gauge_x_mm = {doc_["gauge_points"]["front_x_mm"].get<double>(),
                       doc_["gauge_points"]["rear_x_mm"].get<double>()};
    const Json& height = doc_["kit"]["ride_height_mm"];
    car_.kit_ride_height_mm = {height["front"].get<double>(), height["rear"].get<double>()};
    if (car_.gauge_x_mm[0] - car_.gauge_x_mm[1] < 20.0)
      fault({"gauge_points"},
            say("front_x_mm {front} is not well ahead of rear_x_mm {rear}", "front"_a = car_.gauge_x_mm[0],
                "rear"_a = car_.gauge_x_mm[1]),
            say("two points at least 20 mm apart, the front one with the larger x"));
    if (const auto plate = doc_.find("plate"); plate != doc_.end()) {
      car_.plate_thickness_mm = plate->value("thickness_mm", car_.plate_thickness_mm);
      car_.plate_half_width_mm[0] = plate->value("front_half_width_mm", car_.plate_half_width_mm[0]);
      car_.plate_half_width_mm[1] = plate->value("rear_half_width_mm", car_.plate_half_width_mm[1]);
    }
    car_.left_hand_ends = left_hand_ends_in(doc_.value("left_hand_threads", "unknown"));
    car_.brakes = doc_.value("brakes", "shafts") == "hubs" ? Brakes::hubs : Brakes::shafts;
    if (const auto cg = doc_.find("centre_of_gravity"); cg != doc_.end()) {
      car_.cg_height_mm = (*cg)["height_mm"].get<double>();
      if (cg->contains("x_mm")) car_.cg_x_mm = (*cg)["x_mm"].get<double>();
      car_.cg_y_mm = cg->value("y_mm", 0.0);
    }
    car_.mass_kg = doc_.value("mass_g", 0.0) / 1000.0;
  }

  void read_steering() {
    const auto found = doc_.find("steering");
    if (found == doc_.end()) return;
    const Json& j = *found;
    CarSteering& steering = car_.steering;
    const auto id = j["mechanism"].get<std::string>();
    const SteeringSpec* spec = find_steering(id);
    if (!spec) {
      std::vector<std::string_view> ids;
      for (const SteeringSpec* known : steerings()) ids.push_back(known->id);
      fault({"steering", "mechanism"}, say("there is no steering \"{}\"", id), say("one of {}", fmt::join(ids, ", ")));
      return;
    }
    if (!car_.axle(End::front).mechanism->steered) {
      fault({"steering"}, say("the front axle's mechanism is not steered"),
            say("a steered front axle, or no steering"));
      return;
    }
    steering.spec = spec;
    steering.servo_most_rad = radians(j.value("servo_most_deg", 60.0));
    steering.points.fill(Vec3::Zero());
    for (const auto& [name, value] : j["points"].items())
      if (!spec->point(name))
        fault({"steering", "points", name}, say("{} has no such point", word(spec->label)), names_of(spec->points));
    for (const PointHandle i : spec->points.handles()) {
      const std::string name(spec->points[i].id);
      if (j["points"].contains(name))
        steering.points[i] = vec(j["points"][name]);
      else
        fault({"steering", "points", name}, say("missing ({})", word(spec->points[i].label)),
              say("three numbers [x, y, z] in mm"));
    }
    if (!faults_.empty()) return;
    const auto place = [&](PointHandle p) { return steering.points[p]; };
    check_distance({"steering", "points"}, place(spec->shaft), place(spec->shaft_end()), say("the servo's shaft"));
    for (const LinkSpec& link : spec->links)
      check_distance({"steering", "points"}, place(link.inner), place(link.outer), say("the {}", word(link.label)));
    for (const StrokeSpec& stroke : spec->strokes)
      if (stroke.stroke == Stroke::pin || stroke.stroke == Stroke::crank)
        check_distance({"steering", "points"}, place(stroke.from), place(stroke.to),
                       say("{from} to {to}", "from"_a = word(spec->points[stroke.from].label),
                           "to"_a = word(spec->points[stroke.to].label)));
  }

  void read_limits(End end) {
    const std::string name(name_of(end));
    const auto found = doc_["axles"][name].find("limits");
    if (found == doc_["axles"][name].end()) return;
    AxleLimits& limits = car_.axles[at(end)].limits;
    const MechanismSpec& spec = *car_.axle(end).mechanism;
    if (const auto stop = found->find("knuckle_stop_deg"); stop != found->end())
      limits.knuckle =
          KnuckleStops{radians((*stop)["inside"].get<double>()), radians((*stop)["outside"].get<double>())};
    if (const auto joints = found->find("joints"); joints != found->end())
      for (const Json& j : *joints) {
        JointLimit limit;
        const auto link = j["link"].get<std::string>();
        limit.link = spec.link(link);
        limit.outer = j["ball"].get<std::string>() == "outer";
        limit.most_rad = radians(j["most_deg"].get<double>());
        if (const auto stud = j.find("stud"); stud != j.end()) limit.stud = vec(*stud);
        if (!limit.link)
          fault({"axles", name, "limits", "joints"},
                say("the {axle} axle has no link \"{link}\"", "axle"_a = name, "link"_a = link), names_of(spec.links));
        else if (limit.stud.norm() < 1e-6)
          fault({"axles", name, "limits", "joints", link, "stud"}, say("a direction of no length"),
                say("a direction such as [0, 0, 1]"));
        else
          limits.joints.push_back({limit.link, limit.outer, limit.stud.normalized(), limit.most_rad});
      }
    if (const auto all = found->find("clearances"); all != found->end())
      for (const Json& j : *all) limits.clearances.push_back({read_capsule(end, j["a"]), read_capsule(end, j["b"])});
  }

  Capsule read_capsule(End end, const Json& j) {
    Capsule c;
    c.name = j["name"].get<std::string>();
    c.radius_mm = j["radius_mm"].get<double>();
    c.from = read_part_end(end, c.name, j["from"]);
    c.to = read_part_end(end, c.name, j["to"]);
    return c;
  }

  PartEnd read_part_end(End end, const std::string& part, const Json& j) {
    const std::vector<std::string> place{"axles", std::string(name_of(end)), "limits", "clearances", part};
    PartEnd e;
    if (!j.is_string()) {
      static const std::map<std::string, Body> bodies{{"chassis", Body::chassis},
                                                      {"arm", Body::arm},
                                                      {"upper_arm", Body::upper_arm},
                                                      {"carrier", Body::carrier},
                                                      {"knuckle", Body::knuckle}};
      e.of = PartEnd::Of::place;
      e.body = bodies.at(j["body"].get<std::string>());
      e.place = vec(j["at"]);
      return e;
    }
    const auto id = j.get<std::string>();
    const Axle& axle = car_.axle(end);
    e.point = axle.mechanism->point(id);
    if (e.point && (e.point < attachment::first || axle.has(e.point))) return e;
    if (const SteeringSpec* steering = car_.steering.spec; steering && steering->point(id)) {
      e.of = PartEnd::Of::steering;
      e.point = steering->point(id);
      return e;
    }
    fault(place, say("there is no point \"{}\"", id),
          say("{}, a point of the steering, or {{ body, at }}", names_of(axle.mechanism->points)));
    return e;
  }

  /// What is not told is in the usual proportion to what is.
  void read_tyre_rate(const Json& j, const std::string& axle, Tyre& tyre) {
    const double likely = j.value("rate_n_per_mm", 0.0);
    const double least = j.value("rate_least_n_per_mm", 0.0);
    const double most = j.value("rate_most_n_per_mm", 0.0);
    if (!(likely > 0.0 || least > 0.0 || most > 0.0)) return;
    constexpr TyreRate usual;
    TyreRate rate;
    rate.likely = likely > 0.0 ? likely
                  : least > 0.0 && most > 0.0
                      ? 0.5 * (least + most)
                      : std::max(least * usual.likely / usual.least, most * usual.likely / usual.most);
    rate.least = least > 0.0 ? least : rate.likely * usual.least / usual.likely;
    rate.most = most > 0.0 ? most : rate.likely * usual.most / usual.likely;
    for (const auto& [field, told] : {std::pair("rate_n_per_mm", likely), std::pair("rate_least_n_per_mm", least),
                                      std::pair("rate_most_n_per_mm", most)})
      if (told > 0.0 && told < 0.5)
        fault({"axles", axle, "tyre", field}, say("found {}", told), say("0 for not known, or 0.5 to 100 N/mm"));
    if (!(rate.least <= rate.likely && rate.likely <= rate.most))
      fault({"axles", axle, "tyre", "rate_n_per_mm"},
            say("{likely} with at least {least} and at most {most}", "likely"_a = likely, "least"_a = least,
                "most"_a = most),
            say("a rate between its least and its most"));
    tyre.rate = rate;
  }

  void read_axle(End end) {
    const std::string name(name_of(end));
    const Json& j = doc_["axles"][name];
    Axle& axle = car_.axles[at(end)];
    const auto mechanism_id = j["mechanism"].get<std::string>();
    axle.mechanism = find_mechanism(mechanism_id);
    if (!axle.mechanism) {
      std::vector<std::string_view> ids;
      for (const MechanismSpec* m : mechanisms()) ids.push_back(m->id);
      fault({"axles", name, "mechanism"}, say("there is no mechanism \"{}\"", mechanism_id),
            say("one of {}", fmt::join(ids, ", ")));
      return;
    }
    axle.camber_deg = j["wheel"]["camber_deg"].get<double>();
    axle.toe_deg = j["wheel"]["toe_deg"].get<double>();
    const Json& tyre = j["tyre"];
    axle.tyre = {tyre["radius_mm"].get<double>(), tyre["width_mm"].get<double>(), tyre.value("crown_radius_mm", 0.0)};
    if (axle.tyre.crown_radius_mm > 0.0 && axle.tyre.crown_radius_mm < 0.5 * axle.tyre.width_mm)
      fault({"axles", name, "tyre", "crown_radius_mm"},
            say("{} is smaller than half the tyre's width", axle.tyre.crown_radius_mm),
            say("0 for a flat disc, or at least {}", 0.5 * axle.tyre.width_mm));
    read_tyre_rate(tyre, name, axle.tyre);
    axle.size_of(Size::tyre_radius) = axle.tyre.radius_mm;
    if (const auto sizes = j.find("sizes"); sizes != j.end())
      for (const auto& [id, value] : sizes->items())
        if (const auto size = size_named({"axles", name, "sizes", id}, id)) axle.size_of(*size) = value.get<double>();
    const auto kit_size = [&](Size size) { return axle.size_of(size); };
    if (const double shortest = kit_size(Size::shock_compressed), longest = kit_size(Size::shock_extended);
        longest > 0.0 && shortest >= longest)
      fault({"axles", name, "sizes", "shock_compressed_mm"},
            say("{shortest} is not shorter than shock_extended_mm {longest}", "shortest"_a = shortest,
                "longest"_a = longest),
            say("a shorter length"));
    for (const auto& [size, field] :
         {std::pair(Size::spring_spacer, "spring_spacer_mm"), std::pair(Size::side_rate, "side_rate_n_per_mm"),
          std::pair(Size::side_preload, "side_preload_mm"), std::pair(Size::kingpin_spring, "kingpin_spring_mm"),
          std::pair(Size::third_gap, "third_gap_mm"), std::pair(Size::third_stroke, "third_stroke_mm")})
      if (kit_size(size) < 0.0)
        fault({"axles", name, "sizes", field}, say("{} is less than nothing", kit_size(size)), say("0 or more"));
    axle.droop_pad_z_mm = j.value("droop_pad_z_mm", car_.plate_thickness_mm);
    axle.driven_share = j.value("driven_share", 0.0);
    axle.braked_share = j.value("braked_share", 0.0);
    if (const auto kind = j.find("differential"); kind != j.end())
      axle.size_of(Size::differential_kind) = static_cast<double>(*differential_kind_of(kind->get<std::string>()));
    if (const auto cup = j.find("cup"); cup != j.end())
      axle.cup = ShaftCup{(*cup)["depth_mm"].get<double>(), cup->value("least_hold_mm", 2.0)};
    axle.spring_seat_mm = j.value("spring_seat_mm", 0.0);
    axle.collar_pitch_mm = j.value("collar_pitch_mm", 0.0);
    if (const auto table = j.find("spring_table"); table != j.end()) read_spring_table(*table, name, axle);
    axle.unsprung_kg = j.value("unsprung_g", 0.0) / 1000.0;
    if (const auto bar = j.find("bar"); bar != j.end())
      axle.bar =
          BarHolder{(*bar)["pivot_x_mm"].get<double>(), (*bar)["pivot_z_mm"].get<double>(), bar->value("play_mm", 0.0),
                    bar->value("wire_length_mm", 0.0), bar->value("rate_n_mm_per_rad", 0.0)};
    axle.travel = {j["travel"]["bump_mm"].get<double>(), j["travel"]["droop_mm"].get<double>()};
    read_points(end, j, name, axle);
  }

  /// Points of compression and force, both rising from nothing.
  void read_spring_table(const Json& j, const std::string& name, Axle& axle) {
    std::vector<SpringPoint> points;
    for (const Json& row : j) points.push_back({row[0].get<double>(), row[1].get<double>()});
    for (std::size_t i = 0; i < points.size(); ++i) {
      const SpringPoint before = i == 0 ? SpringPoint{} : points[i - 1];
      const bool rises =
          i == 0 ? points[i].mm == 0.0 && points[i].n == 0.0 : points[i].mm > before.mm && points[i].n > before.n;
      if (rises) continue;
      fault({"axles", name, "spring_table", fmt::format("{}", i + 1)},
            say("{travel} mm and {force} N after {before_travel} mm and {before_force} N", "travel"_a = points[i].mm,
                "force"_a = points[i].n, "before_travel"_a = before.mm, "before_force"_a = before.n),
            say("rows of compression in mm and force in N, from [0, 0] on, both rising"));
      return;
    }
    axle.spring_table = std::move(points);
    double& rate = axle.size_of(Size::spring_rate);
    if (rate <= 0.0) rate = axle.spring_table[1].n / axle.spring_table[1].mm;
  }

  std::optional<Size> size_named(std::vector<std::string> place, const std::string& id) {
    const auto found = std::find_if(size_names.begin(), size_names.end(), [&](const auto& n) { return n.first == id; });
    if (found != size_names.end()) return found->second;
    std::vector<std::string_view> ids;
    for (const auto& n : size_names) ids.push_back(n.first);
    fault(std::move(place), say("there is no size \"{}\"", id), say("one of {}", fmt::join(ids, ", ")));
    return std::nullopt;
  }

  void read_points(End end, const Json& j, const std::string& name, Axle& axle) {
    const auto faults_before = faults_.size();
    const MechanismSpec& spec = *axle.mechanism;
    for (auto& side : axle.points) side.fill(Vec3::Zero());
    const Json& points = j["points"];
    for (const auto& [id, value] : points.items())
      if (!spec.point(id))
        fault({"axles", name, "points", id}, say("a {} has no such point", word(spec.label)), names_of(spec.points));
    for (const PointHandle i : spec.points.handles()) {
      const std::string id(spec.points[i].id);
      if (!points.contains(id)) {
        fault({"axles", name, "points", id}, say("missing ({})", word(spec.points[i].label)),
              say("three numbers [x, y, z] in mm"));
        continue;
      }
      const Vec3 p = vec(points[id]);
      for (const Side side : both_sides) axle.points[at(side)][i] = p;
    }
    const auto attached = attachment_points();
    for (std::size_t i = 0; i < attached.size(); ++i) {
      const auto found = points.find(std::string(attached[i].id));
      if (found == points.end()) continue;
      axle.attachments |= 1u << i;
      for (const Side side : both_sides) axle.points[at(side)][PointHandle(attachment::first + i)] = vec(*found);
    }
    if (const auto right = j.find("right_points"); right != j.end())
      for (const auto& [id, value] : right->items()) {
        const PointHandle index = spec.point(id);
        if (!index) {
          fault({"axles", name, "right_points", id}, say("a {} has no such point", word(spec.label)),
                names_of(spec.points));
          continue;
        }
        axle.points[at(Side::right)][index] = mirrored(vec(value));
      }
    if (faults_.size() == faults_before) check_points(end, name, axle);
  }

  void check_points(End, const std::string& name, const Axle& axle) {
    const MechanismSpec& spec = *axle.mechanism;
    const auto find = [&](std::string_view id) { return spec.point(id); };
    for (const Side side : both_sides) {
      const auto& p = axle.points[at(side)];
      const std::string group = side == Side::left ? "points" : "right_points";
      const auto at_point = [&](PointHandle i) { return p[i]; };
      const auto label = [&](PointHandle i) { return std::string(spec.points[i].label); };
      const auto id = [&](PointHandle i) { return std::string(spec.points[i].id); };
      const auto faults_before = faults_.size();

      if (at_point(spec.wheel_centre).y() <= 0.0)
        fault({"axles", name, group, "wheel_centre"},
              say("the {side} wheel is on the other side of the car (y = {y} mm)", "side"_a = word(side),
                  "y"_a = side == Side::left ? at_point(spec.wheel_centre).y() : -at_point(spec.wheel_centre).y()),
              side == Side::left ? say("y above 0: left is positive") : say("y below 0: right is negative"));
      const PointHandle pin = find("arm_inner_front");
      if (pin && at_point(pin).y() >= at_point(spec.wheel_centre).y())
        fault({"axles", name, group, id(pin)}, say("the arm's inner pin is outboard of the wheel"),
              say("a pin between the centre plane and the wheel"));
      for (const LinkSpec& link : spec.links)
        check_distance({"axles", name, group}, at_point(link.inner), at_point(link.outer),
                       say("the {link} ({from} to {to})", "link"_a = word(link.label), "from"_a = id(link.inner),
                           "to"_a = id(link.outer)));
      for (const LinkSpec& link : spec.links)
        if (link.pin && link.length_in(p) < least_length_mm)
          fault({"axles", name, group, id(link.outer)}, say("the {} lies on its pin", word(link.label)),
                say("a ball at least {} mm away from the pin", least_length_mm));
      if (axle.has(attachment::shock_upper) && axle.has(attachment::shock_lower))
        check_distance({"axles", name, group}, at_point(attachment::shock_upper), at_point(attachment::shock_lower),
                       say("shock, upper mount to shock, lower mount"));
      if (axle.has(attachment::side_upper) && axle.has(attachment::side_lower))
        check_distance({"axles", name, group}, at_point(attachment::side_upper), at_point(attachment::side_lower),
                       say("side spring, chassis end to side spring, pod end"));
      for (const StrokeSpec& s : spec.strokes)
        if (s.stroke == Stroke::pin || s.stroke == Stroke::kingpin)
          check_distance({"axles", name, group}, at_point(s.from), at_point(s.to),
                         say("{from} to {to}", "from"_a = word(label(s.from)), "to"_a = word(label(s.to))));
      for (const std::string_view pair : {"arm_inner", "arm_outer", "upper_inner"}) {
        const PointHandle front = find(std::string(pair) + "_front");
        const PointHandle rear = find(std::string(pair) + "_rear");
        if (front && at_point(front).x() <= at_point(rear).x())
          fault({"axles", name, group, id(front)}, say("the front end of the pin is not ahead of its rear end"),
                say("an x above {} (the rear end's)", at_point(rear).x()));
      }
      for (const auto& [low, high] :
           {std::pair("kingpin_lower", "kingpin_upper"), std::pair("lower_ball", "upper_ball")})
        if (const PointHandle l = find(low), u = find(high); l && at_point(u).z() <= at_point(l).z())
          fault({"axles", name, group, high}, say("the upper end is not above the lower end"),
                say("a z above {} (the lower end's)", at_point(l).z()));
      if (side == Side::left && faults_.size() != faults_before) return;  // the mirrored side would say it all again
    }
  }

  void check_distance(const std::vector<std::string>& place, const Vec3& a, const Vec3& b, const std::string& what) {
    if ((a - b).norm() < least_length_mm)
      fault(place, say("{what} has no length ({length:.3f} mm)", "what"_a = what, "length"_a = (a - b).norm()),
            say("ends at least {} mm apart", least_length_mm));
  }

  void read_masses() {
    const auto found = doc_.find("masses");
    if (found == doc_.end()) return;
    double sum = 0.0;
    for (const Json& j : *found) {
      MassPart m{j["id"].get<std::string>(), j["name"].get<std::string>(), j["g"].get<double>(), vec(j["at"])};
      for (const MassPart& other : car_.masses)
        if (other.id == m.id)
          fault({"masses", m.id}, say("two parts have this id"), say("an id of its own for each part"));
      m.weighed = j.value("weighed", true);
      if (const auto then = j.find("weighed_at"); then != j.end()) m.weighed_at = vec(*then);
      sum += m.weighed ? m.grams : 0.0;
      car_.masses.push_back(std::move(m));
    }
    if (!(car_.mass_kg > 0.0))
      fault({"masses"}, say("the car's own mass_g is missing"), say("mass_g: the car as it was weighed"));
    else if (sum > 1000.0 * car_.mass_kg)
      fault({"masses"},
            say("the parts weigh {sum} g together, the car {car} g", "sum"_a = sum, "car"_a = 1000.0 * car_.mass_kg),
            say("parts that were on the car when it was weighed; \"weighed\": false for those that come on top"));
  }

  std::vector<MassChange> read_mass_changes(const Json& j, const std::vector<std::string>& place) {
    std::vector<MassChange> changes;
    for (const auto& [id, value] : j.items()) {
      const auto part =
          std::find_if(car_.masses.begin(), car_.masses.end(), [&id = id](const MassPart& m) { return m.id == id; });
      if (part == car_.masses.end()) {
        auto here = place;
        here.push_back(id);
        fault(here, say("the car has no part \"{}\" among its masses", id),
              car_.masses.empty() ? say("a list \"masses\" in the car") : names_of(car_.masses));
        continue;
      }
      MassChange c{static_cast<int>(part - car_.masses.begin()), Vec3::Zero(), value.value("add_g", 0.0)};
      if (value.contains("move")) c.move_mm = vec(value["move"]);
      changes.push_back(c);
    }
    return changes;
  }

  void read_adjusters() {
    std::set<std::string> seen;
    for (const Json& j : doc_["adjusters"]) {
      Adjuster a;
      a.id = j["id"].get<std::string>();
      a.name = j["name"].get<std::string>();
      a.end = j["axle"].get<std::string>() == "front" ? End::front : End::rear;
      const auto kind = j["kind"].get<std::string>();
      for (const AdjusterKindSpec& k : adjuster_kinds())
        if (k.id == kind) a.kind = k.kind;
      if (!seen.insert(a.id).second) {
        fault({"adjusters", a.id, "id"}, say("two adjusters have this id"), say("an id of its own for each adjuster"));
        continue;
      }
      const auto faults_before = faults_.size();
      a.steering = j.value("on", "axle") == "steering";
      if (a.steering && (!car_.steering.spec || a.end != End::front)) {
        fault({"adjusters", a.id, "on"},
              a.end == End::front ? say("the car has no steering") : say("the rear axle has no steering"),
              say("\"axle\", or a group \"steering\" in the car"));
        continue;
      }
      if (j.contains("at")) a.at = point_named(a, j["at"].get<std::string>(), {"adjusters", a.id, "at"});
      if (spec_of(a.kind).positions)
        read_positions(j, a);
      else if (a.kind == AdjusterKind::turnbuckle)
        read_turnbuckle(j, a);
      else if (a.kind == AdjusterKind::screw)
        read_screw(j, a);
      else
        read_shims(j, a);
      if (faults_.size() != faults_before) continue;
      // A third spring without levers is found at the shocks.
      const Axle& axle = car_.axle(a.end);
      if (!a.at && !a.steering && a.of_third_element() && !axle.has(attachment::third_end) &&
          axle.has(attachment::shock_upper))
        a.at = attachment::shock_upper;
      const PointHandle place = a.place();
      a.once = !a.steering && (place == attachment::shock_upper || place == attachment::shock_lower) &&
               axle.has(place) && axle.one_shock();
      car_.adjusters.push_back(std::move(a));
    }
  }

  [[nodiscard]] const MechanismSpec& spec(const Adjuster& a) const { return *car_.axle(a.end).mechanism; }
  [[nodiscard]] std::span<const LinkSpec> links_of(const Adjuster& a) const {
    return a.steering ? car_.steering.spec->links : spec(a).links;
  }
  [[nodiscard]] std::string carrier_of(const Adjuster& a) const {
    return a.steering ? say("the steering") : say("the {} axle", word(a.end));
  }

  PointHandle point_named(const Adjuster& a, const std::string& id, std::vector<std::string> place) {
    PointHandle p = a.steering ? car_.steering.spec->point(id) : spec(a).point(id);
    if (!a.steering && p >= attachment::first && !car_.axle(a.end).has(p)) p = {};
    if (!p)
      fault(std::move(place), say("{carrier} has no point \"{point}\"", "carrier"_a = carrier_of(a), "point"_a = id),
            names_of(a.steering ? car_.steering.spec->points : spec(a).points));
    return p;
  }

  std::vector<SizeChange> read_changes(const Json& j, const Adjuster& a, const std::vector<std::string>& place) {
    std::vector<SizeChange> changes;
    if (a.steering && !j.empty()) fault(place, say("the steering has no sizes"), say("points to move"));
    for (const auto& [id, value] : j.items()) {
      auto here = place;
      here.push_back(id);
      if (const auto size = size_named(here, id)) changes.push_back({*size, value.get<double>()});
    }
    return changes;
  }

  void read_screw(const Json& j, Adjuster& a) {
    Range r;
    const double pitch = j["pitch_mm"].get<double>();
    if (j.contains("move")) r.moves_per_unit = read_moves(j["move"], a, {"adjusters", a.id, "move"});
    if (j.contains("change")) r.sizes_per_unit = read_changes(j["change"], a, {"adjusters", a.id, "change"});
    for (SizeChange& c : r.sizes_per_unit) c.by *= pitch;
    for (PointMove& m : r.moves_per_unit) {
      if (m.mm.norm() < 1e-6)
        fault({"adjusters", a.id, "move"}, say("a direction of no length"), say("a direction such as [0, 0, -1]"));
      else
        m.mm *= pitch / m.mm.norm();
    }
    if (r.moves_per_unit.empty() && r.sizes_per_unit.empty())
      fault({"adjusters", a.id, "move"}, say("the screw moves no point and changes no size"),
            say("at least one point with its direction"));
    r.stops = eighths(j["min_turns"].get<double>(), j["max_turns"].get<double>());
    a.part = std::move(r);
  }

  /// The stops of a thread: eighths of a turn, as a hand can tell them.
  static std::vector<double> eighths(double from, double to) {
    constexpr double step = 0.125;
    const double least = std::ceil(from / step) * step;
    std::vector<double> stops;
    for (int i = 0; least + i * step <= to; ++i) stops.push_back(least + i * step);
    return stops;
  }

  std::vector<PointMove> read_moves(const Json& j, const Adjuster& a, const std::vector<std::string>& place) {
    std::vector<PointMove> moves;
    for (const auto& [id, value] : j.items()) {
      auto here = place;
      here.push_back(id);
      const PointHandle p = point_named(a, id, here);
      if (p) moves.push_back({p, value.is_object() ? along(value, a, here) : vec(value)});
    }
    return moves;
  }

  /// A move that follows a part: along a pin, a kingpin or whatever else two of the car's points lie on. Both sides
  /// alike, by the left side's points.
  Vec3 along(const Json& j, const Adjuster& a, const std::vector<std::string>& place) {
    std::array<Vec3, 2> ends;
    for (std::size_t i = 0; i < 2; ++i) {
      const PointHandle p = point_named(a, j["along"][i].get<std::string>(), place);
      if (!p) return Vec3::UnitZ();
      ends[i] = a.steering ? car_.steering.points[p] : car_.axle(a.end).points[0][p];
    }
    const Vec3 line = ends[1] - ends[0];
    if (line.norm() < least_length_mm) {
      fault(place, say("the two points of \"along\" lie on one spot"), say("two points that a line goes through"));
      return Vec3::UnitZ();
    }
    return j["mm"].get<double>() * line.normalized();
  }

  void read_shims(const Json& j, Adjuster& a) {
    Range r;
    for (const Json& s : j["shims_mm"]) r.shims_mm.push_back(s.get<double>());
    const double least = j["min_mm"].get<double>();
    const double most = j["max_mm"].get<double>();
    a.kit = j["kit_mm"].get<double>();
    if (j.contains("move")) r.moves_per_unit = read_moves(j["move"], a, {"adjusters", a.id, "move"});
    if (j.contains("change")) r.sizes_per_unit = read_changes(j["change"], a, {"adjusters", a.id, "change"});
    if (r.moves_per_unit.empty() && r.sizes_per_unit.empty())
      fault({"adjusters", a.id, "move"}, say("the shims move no point and change no size"),
            say("at least one point with its direction"));
    for (const PointMove& m : r.moves_per_unit)
      if (m.mm.norm() < 1e-6)
        fault({"adjusters", a.id, "move"}, say("a direction of no length"), say("a direction such as [0, 0, 1]"));
    if (least > most) {
      fault({"adjusters", a.id, "min_mm"}, say("{least} is above max_mm {most}", "least"_a = least, "most"_a = most),
            say("a value up to max_mm"));
      return;
    }
    r.stops = shim_stops(r.shims_mm, least, most);
    if (r.stops.empty()) {
      fault({"adjusters", a.id, "shims_mm"}, say("these shims make no stack between min_mm and max_mm"),
            say("shims that make at least one stack in the range"));
      return;
    }
    a.part = std::move(r);
    if (!a.can_be(a.kit))
      fault({"adjusters", a.id, "kit_mm"}, say("the shims listed cannot make {} mm", a.kit),
            say("one of {} mm", fmt::join(a.range()->stops, ", ")));
  }

  void read_turnbuckle(const Json& j, Adjuster& a) {
    Range r;
    const auto link = j["link"].get<std::string>();
    r.link = a.steering ? car_.steering.spec->link(link) : spec(a).link(link);
    if (!r.link) {
      fault({"adjusters", a.id, "link"},
            say("{carrier} has no link \"{link}\"", "carrier"_a = carrier_of(a), "link"_a = link),
            names_of(links_of(a)));
      return;
    }
    if (!a.steering && car_.turnbuckle_of(a.end, r.link))
      fault({"adjusters", a.id, "link"}, say("the {} has two turnbuckles", link), say("one turnbuckle a link"));
    // A left-hand and a right-hand thread move both ends at once.
    r.link_mm_per_unit = j["pitch_mm"].get<double>() * (j["threads"].get<std::string>() == "opposed" ? 2.0 : 1.0);
    r.stops = eighths(j["min_turns"].get<double>(), j["max_turns"].get<double>());
    a.part = std::move(r);
  }

  void read_positions(const Json& j, Adjuster& a) {
    Positions list;
    std::set<std::string> labels;
    for (const Json& p : j["positions"]) {
      Position position;
      position.label = p["label"].get<std::string>();
      if (!labels.insert(position.label).second)
        fault({"adjusters", a.id, "positions", position.label}, say("two positions have this label"),
              say("a label of its own for each position"));
      if (a.only_kept())
        for (const char* effect : {"move", "change", "turn", "masses", "differential"})
          if (p.contains(effect))
            fault({"adjusters", a.id, "positions", position.label, effect},
                  say("a part that is only kept has no effect"), say("positions with a label alone, or another kind"));
      if (const auto move = p.find("move"); move != p.end())
        position.effect.moves = read_moves(*move, a, {"adjusters", a.id, "positions", position.label, "move"});
      if (const auto change = p.find("change"); change != p.end())
        position.effect.sizes = read_changes(*change, a, {"adjusters", a.id, "positions", position.label, "change"});
      if (const auto kind = p.find("differential"); kind != p.end())
        position.effect.sizes.push_back(
            {Size::differential_kind, static_cast<double>(*differential_kind_of(kind->get<std::string>())) -
                                          car_.axle(a.end).size_of(Size::differential_kind)});
      if (const auto masses = p.find("masses"); masses != p.end())
        position.effect.masses = read_mass_changes(*masses, {"adjusters", a.id, "positions", position.label, "masses"});
      if (const auto turn = p.find("turn"); turn != p.end()) read_turn(*turn, a, position);
      list.list.push_back(std::move(position));
    }
    const auto kit = j["kit"].get<std::string>();
    const auto found = std::find_if(list.list.begin(), list.list.end(), [&](const auto& p) { return p.label == kit; });
    if (found == list.list.end())
      fault({"adjusters", a.id, "kit"}, say("there is no position \"{}\"", kit),
            say("one of {}", fmt::join(labels, ", ")));
    else
      a.kit = static_cast<double>(found - list.list.begin());
    a.part = std::move(list);
  }

  void read_turn(const Json& j, const Adjuster& a, Position& position) {
    const std::vector<std::string> place{"adjusters", a.id, "positions", position.label, "turn"};
    PointTurn t;
    for (const Json& p : j["points"]) {
      const PointHandle point = point_named(a, p.get<std::string>(), place);
      if (point) t.points.push_back(point);
    }
    t.about = point_named(a, j["about"].get<std::string>(), place);
    const auto axis = j["axis"].get<std::string>();
    t.direction = axis == "x" ? Vec3::UnitX() : axis == "y" ? Vec3::UnitY() : Vec3::UnitZ();
    t.angle_rad = radians(j["deg"].get<double>());
    if (t.about) position.effect.turns.push_back(std::move(t));
  }

  static std::string end_of(const CarFailure& failure) {
    return std::string(name_of(failure.end.value_or(End::front)));
  }

  void check_as_a_whole() {
    const auto x = [&](End e) {
      const Axle& a = car_.axle(e);
      return a.points[0][a.mechanism->wheel_centre].x();
    };
    if (x(End::front) <= x(End::rear)) {
      fault({"axles"},
            say("the front wheel (x = {front}) is not ahead of the rear wheel (x = {rear})", "front"_a = x(End::front),
                "rear"_a = x(End::rear)),
            say("a front axle with the larger x"));
      return;
    }
    const auto model = build_model(car_, kit_setup(car_));
    if (!model) {
      fault(model.error().steering ? std::vector<std::string>{"steering", "points"}
                                   : std::vector<std::string>{"axles", end_of(model.error()), "points"},
            model.error().message, say("points with which the linkage closes"));
      return;
    }
    if (const auto stands = pose_car(*model, static_attitude(*model)); !stands)
      fault({"axles", end_of(stands.error())},
            say("the car cannot stand at its kit ride height: {}", stands.error().message),
            say("points, tyre and kit ride height that fit together"));
  }

  const Json& doc_;
  std::string file_;
  Car car_;
  Faults faults_;
};

}  // namespace

std::optional<Size> size_by_name(std::string_view name) {
  for (const auto& [known, size] : size_names)
    if (known == name) return size;
  return std::nullopt;
}

std::string_view name_of_size(Size size) {
  for (const auto& [name, known] : size_names)
    if (known == size) return name;
  return {};
}

tl::expected<Car, Faults> read_car(const std::string& text, const std::string& file) {
  const auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-car", newest_car_version); !f.empty()) return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::car); !f.empty()) return tl::unexpected(f);
  return CarReader(*document, file).read();
}

tl::expected<Car, Faults> load_car(const std::filesystem::path& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(Faults{text.error()});
  return read_car(*text, path.filename().string());
}

}  // namespace lowkite
