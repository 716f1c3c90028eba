#include "core/io/car_edit.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

#include <fmt/format.h>

#include "core/io/car_file.hpp"
#include "core/io/file_numbers.hpp"
#include "core/io/json_document.hpp"
#include "core/io/typed_text.hpp"
#include "core/load/spring.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

/// An id of the file as words: "piston_holes" -> "piston holes".
std::string in_words(std::string id) {
  std::replace(id.begin(), id.end(), '_', ' ');
  return id;
}

using CarFieldKind = CarField::Kind;

/// The group of the document that gives a point.
Json::json_pointer group_of(const PointRef& ref) {
  if (ref.steering) return Json::json_pointer("/steering");
  return Json::json_pointer("/axles") / std::string(name_of(ref.end));
}

std::string id_of_point(const Car& car, const PointRef& ref) {
  return std::string(spec_of(car, ref).id);
}

std::string axle_word(const PointRef& ref) {
  return ref.steering ? "steering" : std::string(name_of(ref.end));
}

std::optional<PointRef> ref_named(const Car& car, const std::string& axle, const std::string& id) {
  for (const PointRef& ref : points_of(car))
    if (axle_word(ref) == axle && spec_of(car, ref).id == id) return ref;
  return std::nullopt;
}

/// The two answers to whether a heavy part is in the weighed total.
const std::string weighed_with_it = marked("in it");
const std::string comes_on_top = marked("on top");
bool asks_whether_weighed(const CarField& field) {
  return field.pointer.ends_with("/weighed");
}

struct AxleField {
  const char* pointer;  ///< below the axle
  const char* group;
  const char* label;
  const char* unit;
  bool alone;  ///< may be added by itself; else shown only where its group exists
};
constexpr std::array axle_fields = std::to_array<AxleField>({
    {"/tyre/radius_mm", marked("tyre"), marked("radius"), "mm", true},
    {"/tyre/width_mm", marked("tyre"), marked("width"), "mm", true},
    {"/tyre/crown_radius_mm", marked("tyre"), marked("crown radius, 0 = flat"), "mm", true},
    {"/tyre/rate_n_per_mm", marked("tyre"), marked("load that presses it in by 1 mm, 0 = not known"), "N/mm", true},
    {"/tyre/rate_least_n_per_mm", marked("tyre"), marked("at least so much, 0 = not known"), "N/mm", true},
    {"/tyre/rate_most_n_per_mm", marked("tyre"), marked("at most so much, 0 = not known"), "N/mm", true},
    {"/wheel/camber_deg", marked("wheel in the kit"), marked("camber, minus = top in"), "deg", true},
    {"/wheel/toe_deg", marked("wheel in the kit"), marked("toe, plus = in"), "deg", true},
    {"/travel/bump_mm", marked("travel shown"), marked("bump"), "mm", true},
    {"/travel/droop_mm", marked("travel shown"), marked("droop"), "mm", true},
    {"/sizes/shock_extended_mm", marked("shock"), marked("pulled out, pin to pin"), "mm", true},
    {"/sizes/shock_compressed_mm", marked("shock"), marked("pushed in, pin to pin"), "mm", true},
    {"/sizes/spring_rate_n_per_mm", marked("spring"), marked("rate"), "N/mm", true},
    {"/sizes/spring_free_mm", marked("spring"), marked("free length"), "mm", true},
    {"/sizes/spring_rate_2_n_per_mm", marked("spring"), marked("second rate, 0 = one rate"), "N/mm", true},
    {"/sizes/spring_transition_mm", marked("spring"), marked("second rate from, compressed by"), "mm", true},
    {"/sizes/heave_rate_n_per_mm", marked("third spring"), marked("rate (without levers: at the shocks' mounts)"),
     "N/mm", true},
    {"/sizes/third_gap_mm", marked("third spring"), marked("pressed by so much before it pushes"), "mm", true},
    {"/sizes/third_bore_mm", marked("third damper"), marked("bore of the body"), "mm", true},
    {"/sizes/third_holes", marked("third damper"), marked("holes in the piston, 0 = left out"), "", true},
    {"/sizes/third_hole_mm", marked("third damper"), marked("diameter of a hole"), "mm", true},
    {"/sizes/third_thickness_mm", marked("third damper"), marked("thickness of the piston"), "mm", true},
    {"/sizes/third_oil_cst", marked("third damper"), marked("oil at 25 deg C"), "cSt", true},
    {"/sizes/third_stroke_mm", marked("third damper"), marked("goes in from rest until its end, 0 = not known"), "mm",
     true},
    {"/sizes/heave_damping_n_s_per_mm", marked("third damper"), marked("damping as measured, 0 = by its piston"),
     "N s/mm", true},
    {"/spring_seat_mm", marked("spring"), marked("seat above the lower pin"), "mm", true},
    {"/collar_pitch_mm", marked("spring"), marked("collar, mm a turn (0 = not known)"), "mm", true},
    {"/sizes/kingpin_spring_mm", marked("spring"), marked("on the kingpin: room between its seats"), "mm", false},
    {"/sizes/spring_spacer_mm", marked("spring"), marked("spacers that press it, without a collar"), "mm", false},
    {"/sizes/side_rate_n_per_mm", marked("side springs of a pod"), marked("rate of each"), "N/mm", false},
    {"/sizes/side_preload_mm", marked("side springs of a pod"), marked("pressed as the car stands"), "mm", false},
    {"/sizes/damper_bore_mm", marked("damper"), marked("bore of the body"), "mm", true},
    {"/sizes/piston_holes", marked("damper"), marked("holes in the piston"), "", true},
    {"/sizes/piston_hole_mm", marked("damper"), marked("diameter of a hole"), "mm", true},
    {"/sizes/piston_thickness_mm", marked("damper"), marked("thickness of the piston"), "mm", true},
    {"/sizes/oil_cst", marked("damper"), marked("oil at 25 deg C"), "cSt", true},
    {"/sizes/slide_droop_mm", marked("stub axle"), marked("slides down"), "mm", false},
    {"/sizes/slide_bump_mm", marked("stub axle"), marked("slides up"), "mm", false},
    {"/sizes/shaft_length_mm", marked("drive shaft"), marked("joint to pin"), "mm", true},
    {"/cup/depth_mm", marked("drive shaft"), marked("cup, mouth to bottom"), "mm", true},
    {"/cup/least_hold_mm", marked("drive shaft"), marked("pin must stay in by"), "mm", false},
    {"/bar/pivot_x_mm", marked("anti-roll bar"), marked("holder, x"), "mm", false},
    {"/bar/pivot_z_mm", marked("anti-roll bar"), marked("holder, z"), "mm", false},
    {"/bar/play_mm", marked("anti-roll bar"), marked("play of its links"), "mm", false},
    {"/bar/wire_length_mm", marked("anti-roll bar"), marked("wire that twists, length"), "mm", false},
    {"/bar/rate_n_mm_per_rad", marked("anti-roll bar"), marked("rate as measured, 0 = by its wire"), "N mm/rad", false},
    {"/sizes/bar_wire_mm", marked("anti-roll bar"), marked("wire, diameter"), "mm", true},
    {"/droop_pad_z_mm", marked("droop screw"), marked("its pad over the underside"), "mm", true},
    {"/limits/knuckle_stop_deg/inside", marked("knuckle stop"), marked("inside wheel"), "deg", false},
    {"/limits/knuckle_stop_deg/outside", marked("knuckle stop"), marked("outside wheel"), "deg", false},
    {"/unsprung_g", marked("weights"), marked("wheel and what moves with it"), "g", true},
    {"/driven_share", marked("drive and brakes"), marked("share of the driving, 0 to 1"), "", true},
    {"/braked_share", marked("drive and brakes"), marked("share of the braking, 0 to 1"), "", true},
    {"/sizes/differential_oil_cst", marked("drive and brakes"), marked("oil in the differential"), "cSt", true},
    {"/sizes/differential_gears", marked("drive and brakes"), marked("small gears in the differential"), "", true},
    {"/sizes/differential_friction_n_mm", marked("drive and brakes"),
     marked("differential's friction, one side against the other"), "N mm", true},
});

// Whole-axle moves are no entries of the file: what hangs on an axle goes along, and no arm is stretched.
const std::string wheelbase_pointer = "/whole/wheelbase";
std::string track_pointer(End end) {
  return "/whole/track/" + std::string(name_of(end));
}
bool is_whole(const CarField& field) {
  return field.pointer.starts_with("/whole/");
}

const Json& wheel_centre(const Json& source, End end) {
  return source.at(Json::json_pointer("/axles/" + std::string(name_of(end)) + "/points/wheel_centre"));
}

double whole_value(const Json& source, const std::string& pointer) {
  if (pointer == wheelbase_pointer)
    return wheel_centre(source, End::front)[0].get<double>() - wheel_centre(source, End::rear)[0].get<double>();
  return 2.0 * wheel_centre(source, pointer == track_pointer(End::front) ? End::front : End::rear)[1].get<double>();
}

void move_axle(Json& source, End end, double ahead_mm, double out_mm) {
  Json& axle = source["axles"][std::string(name_of(end))];
  for (const auto& [group, side] : {std::pair("points", 1.0), std::pair("right_points", -1.0)}) {
    const auto points = axle.find(group);
    if (points == axle.end()) continue;
    for (auto& [id, p] : points->items()) {
      p[0] = rounded_for_file(p[0].get<double>() + ahead_mm);
      // The front tie rod's inner ball sits on the steering, which stays in the middle.
      if (end == End::rear || id != "tie_inner") p[1] = rounded_for_file(p[1].get<double>() + side * out_mm);
    }
  }
  if (ahead_mm == 0.0) return;
  Json& gauge = source["gauge_points"][std::string(name_of(end)) + "_x_mm"];
  gauge = rounded_for_file(gauge.get<double>() + ahead_mm);
}

void put_whole(Json& source, const std::string& pointer, double value) {
  const double by = value - whole_value(source, pointer);
  if (pointer == wheelbase_pointer)
    move_axle(source, End::rear, -by, 0.0);
  else
    move_axle(source, pointer == track_pointer(End::front) ? End::front : End::rear, 0.0, 0.5 * by);
}

/// A field is shown where the document has it, or where it may be added without anything else.
bool offered(const Json& source, const std::string& pointer, bool alone) {
  return alone || source.contains(Json::json_pointer(pointer).parent_pointer());
}

std::string number_text(double v) {
  return fmt::format("{}", rounded_for_file(v));
}

/// "link_inner" of the axle or steering that `steps` lead to, or which of its coordinates.
std::string point_label(const Json& source, const std::vector<std::string>& steps, const std::string& id) {
  for (const auto& [step, name] :
       {std::pair(say("no. 1"), "x"), std::pair(say("no. 2"), "y"), std::pair(say("no. 3"), "z")})
    if (id == step) return name;
  if (steps.front() == "steering") {
    const auto kind = Json::json_pointer("/steering/mechanism");
    const SteeringSpec* s = source.contains(kind) && source.at(kind).is_string()
                                ? find_steering(source.at(kind).get<std::string>())
                                : nullptr;
    if (s)
      for (const PointSpec& p : s->points)
        if (p.id == id) return word(p.label);
  } else if (steps.size() > 1) {
    const auto kind = Json::json_pointer("/axles") / steps[1] / "mechanism";
    const MechanismSpec* m = source.contains(kind) && source.at(kind).is_string()
                                 ? find_mechanism(source.at(kind).get<std::string>())
                                 : nullptr;
    if (m && m->point(id)) return word(m->point_spec(m->point(id)).label);
  }
  return in_words(id);
}

/// A size by the words it has among the axle's fields.
std::string size_label(const std::string& id) {
  const auto field = std::find_if(std::begin(axle_fields), std::end(axle_fields),
                                  [&](const AxleField& f) { return f.pointer == std::string("/sizes/") + id; });
  return field == std::end(axle_fields) ? in_words(id) : fmt::format("{}, {}", word(field->group), word(field->label));
}

/// Everything numeric below `at`, a field each: what a position or a stack moves, turns and changes.
void add_effects(const Json& at, const std::string& pointer, const std::string& group,
                 const std::function<std::string(const std::string&)>& point, std::vector<CarField>& fields) {
  if (const auto move = at.find("move"); move != at.end()) {
    for (const auto& [id, v] : move->items()) {
      if (v.is_object())
        fields.push_back({pointer + "/move/" + id + "/mm",
                          group,
                          say("moves {point} from {from} towards {towards}", "point"_a = point(id),
                              "from"_a = point(v["along"][0].get<std::string>()),
                              "towards"_a = point(v["along"][1].get<std::string>())),
                          "mm",
                          CarFieldKind::number,
                          {}});
      else
        fields.push_back(
            {pointer + "/move/" + id, group, say("moves {} (x y z)", point(id)), "mm", CarFieldKind::numbers, {}});
    }
  }
  if (const auto change = at.find("change"); change != at.end())
    for (const auto& [id, v] : change->items())
      fields.push_back(
          {pointer + "/change/" + id, group, say("changes {}", size_label(id)), "", CarFieldKind::number, {}});
  if (const auto masses = at.find("masses"); masses != at.end())
    for (const auto& [id, v] : masses->items()) {
      if (v.contains("move"))
        fields.push_back({pointer + "/masses/" + id + "/move",
                          group,
                          say("moves the {} (x y z)", id),
                          "mm",
                          CarFieldKind::numbers,
                          {}});
      if (v.contains("add_g"))
        fields.push_back(
            {pointer + "/masses/" + id + "/add_g", group, say("adds to the {}", id), "g", CarFieldKind::number, {}});
    }
  if (at.contains("turn"))
    fields.push_back({pointer + "/turn/deg", group, say("turns by"), "deg", CarFieldKind::number, {}});
}

}  // namespace

tl::expected<CarFile, Faults> read_car_file(const std::string& text, const std::string& file) {
  auto car = read_car(text, file);
  if (!car) return tl::unexpected(car.error());
  auto source = parse_json(text, file);
  if (!source) return tl::unexpected(source.error());
  return CarFile{std::make_shared<const Car>(std::move(*car)), std::move(*source)};
}

tl::expected<CarFile, Faults> recheck(Json source, const std::string& file) {
  auto car = read_car(source.dump(), file);
  if (!car) return tl::unexpected(car.error());
  return CarFile{std::make_shared<const Car>(std::move(*car)), std::move(source)};
}

std::string write_car(const Json& source) {
  return source.dump(2) + "\n";
}

std::string id_from_name(const std::string& name) {
  std::string id;
  for (const unsigned char c : name) {
    if (std::isalnum(c) != 0 && c < 128)
      id += static_cast<char>(std::tolower(c));
    else if (!id.empty() && id.back() != '-')
      id += '-';
  }
  while (!id.empty() && id.back() == '-') id.pop_back();
  id.resize(std::min<std::size_t>(id.size(), 60));
  // A name in another script has none of these letters; the same name gives the same id.
  if (id.empty() && std::any_of(name.begin(), name.end(), [](unsigned char c) { return c > 127; })) {
    std::uint32_t sum = 2166136261u;  // FNV-1a, 32 bit
    for (const unsigned char c : name) sum = (sum ^ c) * 16777619u;
    id = fmt::format("car-{:08x}", sum);
  }
  return id;
}

Json own_copy(const Json& source, const std::string& name) {
  Json own = source;
  own["template"] = source["id"];
  own["id"] = id_from_name(name);
  own["name"] = name;
  const auto mark = [](Json& group) {
    Json origins = Json::object();
    for (const auto& [id, place] : group["points"].items()) origins[id] = "template";
    group["origins"] = origins;
  };
  for (const End end : both_ends) mark(own["axles"][std::string(name_of(end))]);
  if (own.contains("steering")) mark(own["steering"]);
  own.erase("measurements");
  return own;
}

PointOrigin origin_of(const Json& source, const Car& car, const PointRef& ref) {
  const auto pointer = group_of(ref) / "origins" / id_of_point(car, ref);
  if (!source.contains(pointer)) return PointOrigin::described;
  const auto word = source.at(pointer).get<std::string>();
  return word == "measured"  ? PointOrigin::measured
         : word == "by_hand" ? PointOrigin::by_hand
                             : PointOrigin::from_template;
}

void put_point(Json& source, const Car& car, const PointRef& ref, const Vec3& mm, PointOrigin origin) {
  const std::string id = id_of_point(car, ref);
  Json& group = source[group_of(ref)];
  group["points"][id] = json_of(mm);
  switch (origin) {
    case PointOrigin::described:
      if (group.contains("origins")) group["origins"].erase(id);
      return;
    case PointOrigin::from_template:
      group["origins"][id] = "template";
      return;
    case PointOrigin::by_hand:
      group["origins"][id] = "by_hand";
      return;
    case PointOrigin::measured:
      group["origins"][id] = "measured";
      return;
  }
}

void put_right_point(Json& source, const Car& car, const PointRef& ref, const std::optional<Vec3>& mm) {
  if (ref.steering) return;
  Json& group = source[group_of(ref)];
  const std::string id = id_of_point(car, ref);
  if (mm) {
    group["right_points"][id] = json_of(*mm);
  } else if (group.contains("right_points")) {
    group["right_points"].erase(id);
    if (group["right_points"].empty()) group.erase("right_points");
  }
}

bool has_right_point(const Json& source, const Car& car, const PointRef& ref) {
  return !ref.steering && source.contains(group_of(ref) / "right_points" / id_of_point(car, ref));
}

std::vector<CarField> whole_car_fields(const Json& source) {
  struct Asked {
    std::string pointer;
    std::string group;
    std::string label;
  };
  const std::array asked = std::to_array<Asked>({
      {"/class", say("Car"), say("kind")},
      {wheelbase_pointer, say("Car"), say("wheelbase")},
      {track_pointer(End::front), say("Front wheels"), say("from centre to centre")},
      {track_pointer(End::rear), say("Rear wheels"), say("from centre to centre")},
      {"/axles/front/tyre/radius_mm", say("Front tyre"), say("radius, half its height")},
      {"/axles/front/tyre/width_mm", say("Front tyre"), say("width")},
      {"/axles/rear/tyre/radius_mm", say("Rear tyre"), say("radius, half its height")},
      {"/axles/rear/tyre/width_mm", say("Rear tyre"), say("width")},
      {"/mass_g", say("Car"), say("weight, ready to race")},
      {"/kit/ride_height_mm/front", say("Front"), say("ride height in the kit setup")},
      {"/kit/ride_height_mm/rear", say("Rear"), say("ride height in the kit setup")},
  });
  std::vector<CarField> all = part_fields(source);
  std::vector<CarField> whole;
  for (const Asked& a : asked)
    for (CarField& f : all)
      if (f.pointer == a.pointer) {
        f.group = a.group;
        f.label = a.label;
        whole.push_back(std::move(f));
        break;
      }
  return whole;
}

std::vector<CarField> part_fields(const Json& source) {
  std::vector<CarField> fields;
  const auto add = [&](const char* pointer, const std::string& group, const std::string& label, const char* unit,
                       bool alone = true) {
    if (offered(source, pointer, alone)) fields.push_back({pointer, group, label, unit, CarFieldKind::number, {}});
  };
  fields.push_back({"/class", say("Car"), say("class"), "", CarFieldKind::text, {}});
  fields.push_back(
      {wheelbase_pointer, say("Car"), say("wheelbase (moves the whole rear axle)"), "mm", CarFieldKind::number, {}});
  fields.push_back({track_pointer(End::front),
                    say("Front axle"),
                    say("from wheel centre to wheel centre (moves the whole axle)"),
                    "mm",
                    CarFieldKind::number,
                    {}});
  fields.push_back({track_pointer(End::rear),
                    say("Rear axle"),
                    say("from wheel centre to wheel centre (moves the whole axle)"),
                    "mm",
                    CarFieldKind::number,
                    {}});
  add("/mass_g", say("Car"), say("weight, as it was weighed"), "g");
  add("/centre_of_gravity/height_mm", say("Car"), say("centre of gravity, height"), "mm");
  add("/centre_of_gravity/x_mm", say("Car"), say("centre of gravity, x"), "mm", false);
  add("/centre_of_gravity/y_mm", say("Car"), say("centre of gravity, y (left)"), "mm", false);
  add("/gauge_points/front_x_mm", say("Car"), say("front ride-height point, x"), "mm");
  add("/gauge_points/rear_x_mm", say("Car"), say("rear ride-height point, x"), "mm");
  add("/kit/ride_height_mm/front", say("Car"), say("kit ride height, front"), "mm");
  add("/kit/ride_height_mm/rear", say("Car"), say("kit ride height, rear"), "mm");
  add("/plate/thickness_mm", say("Plate"), say("thickness"), "mm");
  add("/plate/front_half_width_mm", say("Plate"), say("half width, front"), "mm");
  add("/plate/rear_half_width_mm", say("Plate"), say("half width, rear"), "mm");
  add("/steering/servo_most_deg", say("Steering"), say("servo turns each way"), "deg", false);
  fields.push_back({"/brakes",
                    say("Car"),
                    say("braking torque is held by"),
                    "",
                    CarFieldKind::choice,
                    {marked("shafts"), marked("hubs")}});
  fields.push_back({"/left_hand_threads",
                    say("Car"),
                    say("turnbuckles: marked (left-hand) ends to the"),
                    "",
                    CarFieldKind::choice,
                    {marked("unknown"), marked("left"), marked("right"), marked("wheels"), marked("middle")}});
  if (const auto masses = source.find("masses"); masses != source.end() && masses->is_array())
    for (std::size_t i = 0; i < masses->size(); ++i) {
      const std::string at = fmt::format("/masses/{}/", i);
      const std::string group = say("Weight of {}", (*masses)[i].value("name", say("a part")));
      fields.push_back({at + "name", group, say("name"), "", CarFieldKind::text, {}});
      fields.push_back({at + "g", group, say("weight"), "g", CarFieldKind::number, {}});
      fields.push_back({at + "at", group, say("middle, x y z"), "mm", CarFieldKind::numbers, {}});
      fields.push_back({at + "weighed",
                        group,
                        say("in the weighed total, or on top of it"),
                        "",
                        CarFieldKind::choice,
                        {weighed_with_it, comes_on_top}});
      fields.push_back({at + "weighed_at",
                        group,
                        say("stood at, when weighed (if elsewhere), x y z"),
                        "mm",
                        CarFieldKind::numbers,
                        {}});
    }
  for (const End end : both_ends) {
    const std::string name(name_of(end));
    for (const AxleField& f : axle_fields) {
      const std::string pointer = "/axles/" + name + f.pointer;
      if (!offered(source, pointer, f.alone)) continue;
      fields.push_back({pointer,
                        end == End::front ? say("Front {}", word(f.group)) : say("Rear {}", word(f.group)),
                        word(f.label),
                        f.unit,
                        CarFieldKind::number,
                        {}});
    }
    if (source.value(Json::json_pointer("/axles/" + name + "/driven_share"), 0.0) > 0.0)
      fields.push_back(
          {"/axles/" + name + "/differential",
           end == End::front ? say("Front {}", word("drive and brakes")) : say("Rear {}", word("drive and brakes")),
           say("differential"),
           "",
           CarFieldKind::choice,
           {marked("open"), marked("oil"), marked("ball"), marked("one_way"), marked("spool")}});
  }
  return fields;
}

std::vector<CarField> adjuster_fields(const Json& source, PartHandle adjuster) {
  std::vector<CarField> fields;
  const Json& a = source["adjusters"][adjuster.place()];
  const std::string at = fmt::format("/adjusters/{}", adjuster.place());
  const auto number = [&](const char* key, const std::string& label, const char* unit) {
    fields.push_back({at + "/" + key, say("Part"), label, unit, CarFieldKind::number, {}});
  };
  fields.push_back({at + "/name", say("Part"), say("name"), "", CarFieldKind::text, {}});
  const bool on_steering = a.value("on", "") == "steering";
  const auto point = [&](const std::string& id) {
    return point_label(
        source,
        on_steering ? std::vector<std::string>{"steering"} : std::vector{std::string("axles"), a.value("axle", "")},
        id);
  };
  const std::string kind = a.value("kind", "");
  if (kind == "shim_stack") {
    fields.push_back({at + "/shims_mm", say("Part"), say("shims in the box"), "mm", CarFieldKind::numbers, {}});
    number("min_mm", say("thinnest stack"), "mm");
    number("max_mm", say("thickest stack"), "mm");
    number("kit_mm", say("kit stack"), "mm");
    add_effects(a, at, say("One mm of shims"), point, fields);
  } else if (kind == "turnbuckle") {
    number("pitch_mm", say("thread pitch"), "mm");
    fields.push_back({at + "/threads",
                      say("Part"),
                      say("threads"),
                      "",
                      CarFieldKind::choice,
                      {marked("opposed"), marked("single")}});
    number("min_turns", say("turns shorter than kit"), "turns");
    number("max_turns", say("turns longer than kit"), "turns");
  } else if (kind == "screw") {
    number("pitch_mm", say("thread pitch"), "mm");
    number("min_turns", say("turns out from kit"), "turns");
    number("max_turns", say("turns in from kit"), "turns");
    add_effects(a, at, say("Turned in"), point, fields);
  } else if (const auto positions = a.find("positions"); positions != a.end()) {
    CarField kit{at + "/kit", say("Part"), say("in the kit"), "", CarFieldKind::choice, {}};
    for (const Json& p : *positions) kit.choices.push_back(p["label"].get<std::string>());
    fields.push_back(kit);
    for (std::size_t i = 0; i < positions->size(); ++i) {
      const std::string place = fmt::format("{}/positions/{}", at, i);
      const std::string group = say("Position {}", i + 1);
      fields.push_back({place + "/label", group, say("label"), "", CarFieldKind::text, {}});
      add_effects((*positions)[i], place, group, point, fields);
    }
  }
  return fields;
}

std::string field_text(const Json& source, const CarField& field) {
  if (is_whole(field)) return number_text(whole_value(source, field.pointer));
  const Json::json_pointer at(field.pointer);
  if (!source.contains(at)) return asks_whether_weighed(field) ? weighed_with_it : std::string();
  const Json& v = source.at(at);
  if (v.is_boolean()) return v.get<bool>() ? weighed_with_it : comes_on_top;
  if (v.is_string()) return v.get<std::string>();
  if (v.is_number()) return number_text(v.get<double>());
  std::string text;
  if (v.is_array())
    for (const Json& x : v)
      if (x.is_number()) text += (text.empty() ? "" : " ") + number_text(x.get<double>());
  return text;
}

std::optional<Fault> put_field(Json& source, const CarField& field, const std::string& raw) {
  const Json::json_pointer at(field.pointer);
  const std::string typed = trimmed(raw);
  const auto fault = [&](const std::string& allowed) {
    return Fault{"", field.group + " > " + field.label, say("found \"{}\"", typed), allowed};
  };
  if (is_whole(field)) {
    const auto v = number_in(typed);
    if (!v || !(*v > 0.0) || *v > 2000.0) return fault(say("a length in mm"));
    put_whole(source, field.pointer, *v);
    return std::nullopt;
  }
  if (typed.empty()) {
    if (source.contains(at)) source[at.parent_pointer()].erase(at.back());
    return std::nullopt;
  }
  switch (field.kind) {
    case CarFieldKind::number: {
      // Springs come with rates in whatever unit their maker likes, or with nothing but their wire.
      const bool rate = field.unit == "N/mm";
      const auto plain = number_in(typed);
      const auto v = plain || !rate ? plain : rate_from_text(typed);
      if (!v)
        return fault(rate ? say("a rate such as 0.49, 2.8 lbf/in, 50 gf/mm, or wire 1.2 coil 13 turns 5.5")
                          : say("a number"));
      source[at] = rate ? rounded_for_file(*v) : *v;
      return std::nullopt;
    }
    case CarFieldKind::numbers: {
      Json list = Json::array();
      for (const std::string& word : words_in(typed)) {
        const auto v = number_in(word);
        if (!v) return fault(say("numbers with spaces between them"));
        list.push_back(*v);
      }
      source[at] = list;
      return std::nullopt;
    }
    case CarFieldKind::text:
      source[at] = typed;
      return std::nullopt;
    case CarFieldKind::choice:
      if (std::find(field.choices.begin(), field.choices.end(), typed) == field.choices.end())
        return fault(say("one of the choices"));
      if (asks_whether_weighed(field))
        source[at] = typed == weighed_with_it;
      else
        source[at] = typed;
      return std::nullopt;
  }
  return std::nullopt;
}

namespace {

/// "axles > front > sizes" -> its steps.
std::vector<std::string> steps_of(const std::string& place) {
  constexpr std::string_view between = " > ";
  std::vector<std::string> steps;
  std::size_t from = 0;
  while (from < place.size()) {
    const std::size_t to = std::min(place.find(between, from), place.size());
    steps.push_back(place.substr(from, to - from));
    from = to + between.size();
  }
  return steps;
}

std::string capitalised(std::string text) {
  if (!text.empty()) text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
  return text;
}

}  // namespace

Fault in_words(const Fault& fault, const Json& source) {
  Fault told = fault;
  std::vector<std::string> steps = steps_of(fault.place);
  std::string pointer;
  std::string whose;
  std::vector<CarField> fields;
  if (steps.size() >= 2 && steps[0] == "adjusters") {
    const Json& all = source["adjusters"];
    for (std::size_t i = 0; i < all.size(); ++i)
      if (all[i].value("id", "") == steps[1]) {
        whose = all[i].value("name", steps[1]);
        pointer = fmt::format("/adjusters/{}", i);
        fields = adjuster_fields(source, PartHandle(i));
        break;
      }
  } else {
    fields = part_fields(source);
  }
  const bool of_a_part = !whose.empty();
  for (std::size_t i = of_a_part ? 2 : 0; i < steps.size(); ++i) pointer += "/" + steps[i];
  const auto field =
      std::find_if(fields.begin(), fields.end(), [&](const CarField& f) { return f.pointer == pointer; });
  if (field != fields.end()) {
    told.place = of_a_part ? whose + ", " + field->label : field->group + ", " + field->label;
  } else {
    // Groups of the file say nothing to a hand: the end of the car and the last steps do, points by their labels.
    std::string rest;
    bool point = false;
    for (std::size_t i = of_a_part ? 2 : 0; i < steps.size(); ++i) {
      const bool points = steps[i] == "points" || steps[i] == "right_points";
      if (points) point = true;
      if (points || steps[i] == "axles" || steps[i] == "sizes" || steps[i] == "positions") continue;
      std::string word = point ? point_label(source, steps, steps[i]) : in_words(steps[i]);
      rest += (rest.empty() ? "" : ", ") + word;
    }
    told.place = of_a_part ? (rest.empty() ? whose : whose + ", " + rest) : capitalised(rest);
  }
  told.wrong = in_words(told.wrong);
  told.allowed = in_words(told.allowed);
  return told;
}

bool add_position(Json& source, PartHandle adjuster) {
  Json& a = source["adjusters"][adjuster.place()];
  const auto positions = a.find("positions");
  if (positions == a.end() || positions->empty()) return false;
  Json next = positions->back();
  if (positions->size() > 1) {
    // Rows of holes are mostly even: the next one lies as far on as the last one did.
    const Json& before = (*positions)[positions->size() - 2];
    const auto on = [](const Json& last, const Json& earlier) {
      return Json(rounded_for_file(2.0 * last.get<double>() - earlier.get<double>()));
    };
    if (next.contains("move"))
      for (auto& [id, v] : next["move"].items())
        for (std::size_t i = 0; i < 3; ++i)
          v[i] = on(v[i], before.contains("move") && before["move"].contains(id) ? before["move"][id][i] : Json(0.0));
    if (next.contains("change"))
      for (auto& [id, v] : next["change"].items())
        v = on(v, before.contains("change") && before["change"].contains(id) ? before["change"][id] : Json(0.0));
    if (next.contains("turn"))
      next["turn"]["deg"] = on(next["turn"]["deg"], before.contains("turn") ? before["turn"]["deg"] : Json(0.0));
  }
  const auto taken = [&](const std::string& label) {
    return std::any_of(positions->begin(), positions->end(), [&](const Json& p) { return p["label"] == label; });
  };
  std::size_t number = positions->size() + 1;
  while (taken(std::to_string(number))) ++number;
  next["label"] = std::to_string(number);
  positions->push_back(next);
  return true;
}

namespace {
constexpr std::size_t fewest_positions = 2;  // with one there is nothing to choose
}  // namespace

bool remove_position(Json& source, PartHandle adjuster) {
  Json& a = source["adjusters"][adjuster.place()];
  const auto positions = a.find("positions");
  if (positions == a.end() || positions->size() <= fewest_positions || positions->back()["label"] == a["kit"])
    return false;
  positions->erase(positions->size() - 1);
  return true;
}

void remove_adjuster(Json& source, PartHandle adjuster) {
  source["adjusters"].erase(adjuster.place());
}

std::vector<CaliperReading> readings_in(const Json& source, const Car& car) {
  std::vector<CaliperReading> readings;
  const auto all = source.find("measurements");
  if (all == source.end()) return readings;
  for (const Json& j : *all) {
    CaliperReading r;
    for (const ReadingKind kind : {ReadingKind::distance, ReadingKind::height, ReadingKind::across, ReadingKind::along})
      if (j["kind"] == std::string(id_of(kind))) r.kind = kind;
    const auto axle = j["axle"].get<std::string>();
    const auto a = ref_named(car, axle, j["a"].get<std::string>());
    if (!a) continue;
    r.a = *a;
    if (r.kind == ReadingKind::distance || r.kind == ReadingKind::along) {
      const auto b =
          j.contains("b") ? ref_named(car, j.value("b_axle", axle), j["b"].get<std::string>()) : std::nullopt;
      if (!b || *b == *a) continue;
      r.b = *b;
    }
    r.mm = j["value_mm"].get<double>();
    r.tolerance_mm = j.value("tolerance_mm", r.tolerance_mm);
    readings.push_back(r);
  }
  return readings;
}

void remove_reading(Json& source, const Car& car, const CaliperReading& reading) {
  const auto all = source.find("measurements");
  if (all == source.end()) return;
  for (std::size_t i = all->size(); i-- > 0;) {
    Json one = Json::object();
    one["measurements"] = Json::array({(*all)[i]});
    const auto read = readings_in(one, car);
    if (!read.empty() && read.front().same_place(reading)) all->erase(i);
  }
  if (all->empty()) source.erase("measurements");
}

void put_reading(Json& source, const Car& car, const CaliperReading& r, const std::string& when) {
  remove_reading(source, car, r);
  Json j;
  j["kind"] = std::string(id_of(r.kind));
  j["axle"] = axle_word(r.a);
  j["a"] = id_of_point(car, r.a);
  if (r.kind == ReadingKind::distance || r.kind == ReadingKind::along) {
    j["b"] = id_of_point(car, r.b);
    if (axle_word(r.b) != axle_word(r.a)) j["b_axle"] = axle_word(r.b);
  }
  j["value_mm"] = rounded_for_file(r.mm);
  j["tolerance_mm"] = r.tolerance_mm;
  j["when"] = when;
  source["measurements"].push_back(j);
}

}  // namespace lowkite
