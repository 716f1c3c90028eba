#include "core/parts/fittings.hpp"

#include <algorithm>
#include <optional>

#include "core/parts/answers.hpp"
#include "core/parts/form_rows.hpp"
#include "core/words/say.hpp"

namespace lowkite {

using namespace parts;

namespace {

using Kind = CarField::Kind;

/// What a fitting is told by besides its points. The usual values are what a 1/10 touring car has about (common
/// practice, no source).
struct FittingField {
  const char* pointer;  ///< below the axle
  const char* label;
  const char* unit;
  double usual;
  std::optional<Size> size{};  ///< of which the car may know something already
};

struct FittingRow {
  const char* form;
  const char* label;
  bool (*fits)(const Axle&);
  std::vector<PointHandle> points;
  std::vector<FittingField> fields;
  std::vector<const char*> groups;  ///< of the axle's document, that go with it
};

bool on_arms(const Axle& a) {
  return a.mechanism->independent;
}
bool has_arm_body(const Axle& a) {
  return a.mechanism->point("arm_inner_front") || !a.mechanism->independent;
}

const std::vector<FittingRow>& rows() {
  using namespace attachment;
  static const std::vector<FittingRow> all{
      {"fit_bar",
       marked("anti-roll bar"),
       on_arms,
       {bar_arm, bar_end},
       {{"/bar/pivot_x_mm", marked("its holder, x"), "mm", 20.0},
        {"/bar/pivot_z_mm", marked("its holder, z"), "mm", 30.0},
        {"/bar/play_mm", marked("play of its links"), "mm", 0.1},
        {"/sizes/bar_wire_mm", marked("wire, diameter"), "mm", 1.2, Size::bar_wire},
        {"/bar/wire_length_mm", marked("wire that twists, length"), "mm", 62.0}},
       {"bar"}},
      {"fit_third",
       marked("third spring between levers"),
       on_arms,
       {third_arm, third_rod, third_pivot, third_end},
       {{"/sizes/heave_rate_n_per_mm", marked("its rate"), "N/mm", 0.4, Size::heave_rate}},
       {}},
      {"fit_droop_screw",
       marked("droop screw"),
       has_arm_body,
       {droop_tip, arm_gauge},
       {{"/droop_pad_z_mm", marked("what it presses on, over the underside"), "mm", 2.0}},
       {}},
      {"fit_shock",
       marked("shock"),
       has_arm_body,
       {shock_upper, shock_lower},
       {{"/sizes/shock_extended_mm", marked("pulled out, pin to pin"), "mm", 60.0, Size::shock_extended},
        {"/sizes/shock_compressed_mm", marked("pushed in, pin to pin"), "mm", 50.0, Size::shock_compressed},
        {"/sizes/spring_rate_n_per_mm", marked("spring, rate"), "N/mm", 0.49, Size::spring_rate},
        {"/sizes/spring_free_mm", marked("spring, free length"), "mm", 20.0, Size::spring_free},
        {"/spring_seat_mm", marked("spring's seat above the lower pin"), "mm", 14.0}},
       {}},
      {"fit_collar",
       marked("spring collar"),
       [](const Axle& a) { return has(a, attachment::shock_upper) && has(a, attachment::shock_lower); },
       {},
       {{"/collar_pitch_mm", marked("its thread, a turn"), "mm", 1.0}},
       {}},
      {"fit_shaft",
       marked("drive shaft"),
       [](const Axle& a) { return a.driven() && a.mechanism->independent; },
       {shaft_cup, shaft_joint},
       {{"/sizes/shaft_length_mm", marked("joint to pin"), "mm", 50.0, Size::shaft_length},
        {"/cup/depth_mm", marked("cup, mouth to bottom"), "mm", 9.0},
        {"/cup/least_hold_mm", marked("pin must stay in by"), "mm", 2.0}},
       {"cup"}},
      {"fit_side_springs",
       marked("side springs"),
       [](const Axle& a) { return !a.mechanism->independent; },
       {side_upper, side_lower},
       {{"/sizes/side_rate_n_per_mm", marked("rate of each"), "N/mm", 0.4, Size::side_rate},
        {"/sizes/side_preload_mm", marked("pressed as the car stands"), "mm", 1.5, Size::side_preload}},
       {}},
      {"fit_knuckle_stops",
       marked("knuckle stops"),
       [](const Axle& a) { return a.mechanism->steered; },
       {},
       {{"/limits/knuckle_stop_deg/inside", marked("inside wheel stops at"), "deg", 30.0},
        {"/limits/knuckle_stop_deg/outside", marked("outside wheel stops at"), "deg", 30.0}},
       {}},
  };
  return all;
}

/// Sizes that stay behind without a fitting, besides those it is asked with.
std::vector<const char*> more_sizes(const std::string_view form) {
  if (form == "fit_third")
    return {
        "heave_damping_n_s_per_mm", "third_gap_mm", "third_stroke_mm", "third_bore_mm", "third_holes", "third_hole_mm",
        "third_thickness_mm",       "third_oil_cst"};
  if (form == "fit_shock")
    return {"spring_rate_2_n_per_mm", "spring_transition_mm", "damper_bore_mm", "piston_holes",
            "piston_hole_mm",         "piston_thickness_mm",  "oil_cst"};
  if (form == "fit_bar") return {"bar_link_mm"};
  return {};
}

const FittingRow* row_named(std::string_view form) {
  const auto found = std::find_if(rows().begin(), rows().end(), [&](const FittingRow& r) { return r.form == form; });
  return found == rows().end() ? nullptr : &*found;
}

std::string axle_pointer(End end) {
  return "/axles/" + std::string(name_of(end));
}
std::string id_of(PointHandle attached) {
  return std::string(attachment_points()[attached.place() - attachment::first].id);
}
std::string label_of(PointHandle attached) {
  return std::string(attachment_points()[attached.place() - attachment::first].label);
}

/// Whether any of it is there.
bool is_on(const Axle& axle, const FittingRow& row) {
  if (row.form == std::string_view("fit_knuckle_stops")) return axle.limits.knuckle.has_value();
  if (row.points.empty()) return axle.collar_pitch_mm > 0.0;
  return std::any_of(row.points.begin(), row.points.end(), [&](PointHandle p) { return has(axle, p); });
}

Vec3 middle_of(const Axle& axle, std::initializer_list<const char*> ids, const Vec3& otherwise) {
  Vec3 sum = Vec3::Zero();
  int n = 0;
  for (const char* id : ids)
    if (const PointHandle p = axle.mechanism->point(id)) {
      sum += axle.points[0][p];
      ++n;
    }
  return n > 0 ? Vec3(sum / n) : otherwise;
}

/// Where a point lies about, to start from: on the arm, over it, beside the differential.
Vec3 proposed(const Car& car, End end, PointHandle attached) {
  const Axle& axle = car.axle(end);
  const Vec3 wheel = axle.points[0][axle.mechanism->wheel_centre];
  const Vec3 in = middle_of(axle, {"arm_inner_front", "arm_inner_rear"}, {wheel.x(), 0.25 * wheel.y(), 8.0});
  const Vec3 out =
      middle_of(axle, {"arm_outer_front", "arm_outer_rear", "lower_ball"}, {wheel.x(), 0.85 * wheel.y(), 8.0});
  const auto along = [&](double part) -> Vec3 { return in + part * (out - in); };
  const Vec3 rod_foot = along(0.5) + Vec3(-5.0, 0.0, 4.0);
  const Vec3 rod_head = rod_foot + Vec3(0.0, -3.0, 33.0);
  const Vec3 bar_foot = along(0.5) + Vec3(4.0, 0.0, 4.0);
  switch (attached.number()) {
    case attachment::bar_arm:
      return bar_foot;
    case attachment::bar_end:
      return bar_foot + Vec3(0.0, 0.0, 21.0);
    case attachment::third_arm:
      return rod_foot;
    case attachment::third_rod:
      return rod_head;
    case attachment::third_pivot:
      return rod_head - Vec3(0.0, std::min(18.0, 0.5 * rod_head.y()), 0.0);
    case attachment::third_end:
      return rod_head + Vec3(0.0, -std::min(20.0, 0.5 * rod_head.y() + 2.0), 12.0);
    case attachment::droop_tip:
      return {along(0.3).x(), along(0.3).y(), car.plate_thickness_mm + 1.0};
    case attachment::arm_gauge:
      return along(0.9) - Vec3(0.0, 0.0, 3.0);
    case attachment::shock_upper:
      return {along(0.6).x(), 0.42 * wheel.y(), wheel.z() + 35.0};
    case attachment::shock_lower:
      return along(0.7) + Vec3(0.0, 0.0, 3.0);
    case attachment::shaft_cup:
      return {wheel.x(), 0.28 * wheel.y(), wheel.z() - 0.6};
    case attachment::shaft_joint:
      return {wheel.x(), 0.85 * wheel.y(), wheel.z()};
    case attachment::side_upper:
      return {wheel.x() + 30.0, 0.3 * wheel.y(), wheel.z() + 10.0};
    case attachment::side_lower:
      return {wheel.x() + 30.0, 0.3 * wheel.y(), wheel.z() - 8.0};
    default:
      return wheel;
  }
}

std::string numbers_text(const Vec3& v) {
  const auto tenths = [](double x) { return text_of(std::round(10.0 * x) / 10.0); };
  return tenths(v.x()) + " " + tenths(v.y()) + " " + tenths(v.z());
}

/// What stands on an axle's document for a field of a fitting.
double proposed_value(const Car& car, End end, const FittingField& f) {
  if (f.size)
    if (const double is = kit_size(car, end, *f.size); is > 0.0) return is;
  const std::string_view pointer = f.pointer;
  const Vec3 bar = proposed(car, end, attachment::bar_end);
  if (pointer == "/bar/pivot_x_mm") return std::round(bar.x() + 20.0);
  if (pointer == "/bar/pivot_z_mm") return std::round(bar.z());
  if (pointer == "/droop_pad_z_mm") return car.plate_thickness_mm;
  if (pointer == "/sizes/shaft_length_mm")
    return std::round(proposed(car, end, attachment::shaft_joint).y() - proposed(car, end, attachment::shaft_cup).y() +
                      4.0);
  return f.usual;
}

/// A part that may touch another: how it is called, its ends as a car file gives them, and about how thick it is.
struct Touching {
  std::string label;
  Json from, to;
  double radius_mm;
};

std::vector<Touching> parts_that_may_touch(const Car& car, End end) {
  const Axle& axle = car.axle(end);
  const MechanismSpec& m = *axle.mechanism;
  std::vector<Touching> all;
  const auto id = [&](PointHandle p) { return std::string(m.point_spec(p).id); };
  const auto named = [&](const std::string& a, const std::string& b) {
    return say("{first} to {second}", "first"_a = a, "second"_a = b);
  };
  for (const LinkSpec& l : m.links)
    if (!l.pin) all.push_back({std::string(l.label), id(l.inner), id(l.outer), 1.6});
  for (const StrokeSpec& s : m.strokes)
    if (s.stroke == Stroke::arm || s.stroke == Stroke::kingpin)
      all.push_back({named(std::string(m.point_spec(s.from).label), std::string(m.point_spec(s.to).label)), id(s.from),
                     id(s.to), s.stroke == Stroke::arm ? 3.0 : 4.0});
  using namespace attachment;
  for (const auto& [label, from, to, radius] : {std::tuple(say("shock"), shock_lower, shock_upper, 6.0),
                                                std::tuple(say("drive shaft"), shaft_cup, shaft_joint, 2.0),
                                                std::tuple(say("anti-roll bar's link"), bar_arm, bar_end, 1.5),
                                                std::tuple(say("third spring's rod"), third_arm, third_rod, 1.5)})
    if (has(axle, from) && has(axle, to)) all.push_back({label, id(from), id(to), radius});
  if (end == End::front && car.steering.spec) {
    const SteeringSpec& s = *car.steering.spec;
    const auto point = [&](PointHandle p) { return s.points[p]; };
    for (const LinkSpec& l : s.links)
      all.push_back({std::string(l.label), std::string(point(l.inner).id), std::string(point(l.outer).id), 1.6});
    for (const StrokeSpec& stroke : s.strokes)
      if (stroke.stroke == Stroke::crank || stroke.stroke == Stroke::pin)
        all.push_back({named(std::string(point(stroke.from).label), std::string(point(stroke.to).label)),
                       std::string(point(stroke.from).id), std::string(point(stroke.to).id), 3.0});
  }
  const Vec3 wheel = axle.points[0][m.wheel_centre];
  for (const auto& [label, ahead] : {std::pair(say("wheel rim, its inner edge ahead"), 1.0),
                                     std::pair(say("wheel rim, its inner edge behind"), -1.0)}) {
    const auto edge = [&, ahead = ahead](double up) {
      Json j;
      j["body"] = "knuckle";
      j["at"] = json_of(
          Vec3(wheel.x() + ahead * 0.74 * axle.tyre.radius_mm, wheel.y() - 0.44 * axle.tyre.width_mm, wheel.z() + up));
      return j;
    };
    all.push_back({label, edge(-12.0), edge(12.0), 0.6});
  }
  return all;
}

/// Where an end of a part lies on the kit car.
Vec3 kit_place(const Car& car, End end, const PartEnd& e) {
  switch (e.of) {
    case PartEnd::Of::corner:
      return car.axle(end).points[0][e.point];
    case PartEnd::Of::steering:
      return car.steering.points[e.point];
    case PartEnd::Of::place:
      return e.place;
  }
  return Vec3::Zero();
}

PointHandle ball_of(const Car& car, End end, const JointLimit& j) {
  const LinkSpec& link = car.axle(end).mechanism->links[j.link];
  return j.outer ? link.outer : link.inner;
}

/// Whether a value anywhere in a document is this word, or a key is.
bool speaks_of(const Json& j, const std::string& word) {
  if (j.is_string()) return j.get<std::string>() == word;
  if (j.is_object())
    return std::any_of(j.items().begin(), j.items().end(),
                       [&](const auto& item) { return item.key() == word || speaks_of(item.value(), word); });
  return j.is_array() && std::any_of(j.begin(), j.end(), [&](const Json& each) { return speaks_of(each, word); });
}

std::string size_named_in(std::string_view pointer) {
  constexpr std::string_view sizes = "/sizes/";
  return pointer.starts_with(sizes) ? std::string(pointer.substr(sizes.size())) : std::string();
}

void erase_at(Json& axle, const std::string& pointer) {
  const Json::json_pointer at(pointer);
  if (axle.contains(at)) axle[at.parent_pointer()].erase(at.back());
}

Fitting fitting_of(const Car& car, End end, const FittingRow& row) {
  Fitting f{row.form, row.label, end, -1, {}, {}, {}};
  for (const PointHandle p : row.points) {
    f.fields.push_back(
        {axle_pointer(end) + "/points/" + id_of(p), say("Point"), label_of(p) + ", x y z", "mm", Kind::numbers, {}});
    if (has(car.axle(end), p))
      f.spots.push_back({PointRef{end, false, p}, car.axle(end).points[0][p], label_of(p), false, true});
  }
  for (const FittingField& field : row.fields)
    f.fields.push_back({axle_pointer(end) + field.pointer, say("Size"), field.label, field.unit, Kind::number, {}});
  return f;
}

}  // namespace

std::vector<Fitting> fittings_of(const Car& car) {
  std::vector<Fitting> all;
  for (const End end : both_ends) {
    const Axle& axle = car.axle(end);
    for (const FittingRow& row : rows())
      if (is_on(axle, row)) all.push_back(fitting_of(car, end, row));
    const std::string limits = axle_pointer(end) + "/limits";
    for (std::size_t i = 0; i < axle.limits.joints.size(); ++i) {
      const JointLimit& j = axle.limits.joints[i];
      const PointHandle ball = ball_of(car, end, j);
      const LinkSpec& link = axle.mechanism->links[j.link];
      Fitting f{"joint",
                say("{link}, {which} ball binds", "link"_a = word(link.label),
                    "which"_a = j.outer ? say("outer") : say("inner")),
                end,
                static_cast<int>(i),
                {},
                {},
                {}};
      f.fields.push_back({fmt::format("{}/joints/{}/most_deg", limits, i),
                          say("Joint"),
                          say("leans at most"),
                          "deg",
                          Kind::number,
                          {}});
      f.fields.push_back({fmt::format("{}/joints/{}/stud", limits, i),
                          say("Joint"),
                          say("its stud points (x y z), empty: upright"),
                          "",
                          Kind::numbers,
                          {}});
      f.spots.push_back({PointRef{end, false, ball}, axle.points[0][ball],
                         say("binds at {:.0f} deg", degrees(j.most_rad)), true, true});
      all.push_back(std::move(f));
    }
    for (std::size_t i = 0; i < axle.limits.clearances.size(); ++i) {
      const Clearance& c = axle.limits.clearances[i];
      Fitting f{"touch", say("{first} against {second}", "first"_a = c.a.name, "second"_a = c.b.name),
                end,     static_cast<int>(i),
                {},      {},
                {}};
      for (const auto& [key, part] : {std::pair("a", &c.a), std::pair("b", &c.b)}) {
        const std::string at = fmt::format("{}/clearances/{}/{}", limits, i, key);
        f.fields.push_back({at + "/name", say("Part"), "name", "", Kind::text, {}});
        f.fields.push_back({at + "/radius_mm", part->name, say("half its thickness"), "mm", Kind::number, {}});
        for (const auto& [id, place] : {std::pair("from", &part->from), std::pair("to", &part->to)})
          if (place->of == PartEnd::Of::place)
            f.fields.push_back(
                {fmt::format("{}/{}/at", at, id), part->name, say("one end, x y z"), "mm", Kind::numbers, {}});
        f.bodies.push_back(
            {part->name, kit_place(car, end, part->from), kit_place(car, end, part->to), part->radius_mm, end});
      }
      all.push_back(std::move(f));
    }
  }
  return all;
}

std::optional<Fault> take_off(Json& source, const Fitting& fitting) {
  const std::string name(name_of(fitting.end));
  if (fitting.index >= 0) {
    Json& limits = source["axles"][name]["limits"];
    const char* list = fitting.form == "joint" ? "joints" : "clearances";
    limits[list].erase(limits[list].begin() + fitting.index);
    if (limits[list].empty()) limits.erase(list);
    return std::nullopt;
  }
  const FittingRow& row = *row_named(fitting.form);
  std::vector<std::string> words;
  for (const PointHandle p : row.points) words.push_back(id_of(p));
  for (const FittingField& f : row.fields)
    if (const std::string size = size_named_in(f.pointer); !size.empty()) words.push_back(size);
  for (const char* size : more_sizes(row.form)) words.emplace_back(size);
  for (const Json& a : source["adjusters"]) {
    if (a["axle"] != name || a.value("on", "axle") == "steering") continue;
    if (std::any_of(words.begin(), words.end(), [&](const std::string& w) { return speaks_of(a, w); }))
      return Fault{"", row.label, say("the part \"{}\" sits on it", a["name"].get<std::string>()),
                   say("take that part out first")};
  }
  Json after = source;
  Json& axle = after["axles"][name];
  if (axle.contains("limits") && axle["limits"].contains("clearances"))
    for (const Json& pair : axle["limits"]["clearances"])
      for (const PointHandle p : row.points)
        if (speaks_of(pair, id_of(p)))
          return Fault{
              "", row.label,
              say("\"{first} against {second}\" is told by its points",
                  "first"_a = pair["a"]["name"].get<std::string>(), "second"_a = pair["b"]["name"].get<std::string>()),
              say("take that out first")};
  for (const PointHandle p : row.points)
    for (const char* group : {"points", "right_points", "origins"})
      erase_at(axle, fmt::format("/{}/{}", group, id_of(p)));
  for (const FittingField& f : row.fields) erase_at(axle, f.pointer);
  for (const char* size : more_sizes(row.form)) erase_at(axle, std::string("/sizes/") + size);
  for (const char* group : row.groups) axle.erase(group);
  if (row.form == std::string_view("fit_knuckle_stops")) erase_at(axle, "/limits/knuckle_stop_deg");
  if (row.form == std::string_view("fit_shock"))
    for (const char* key : {"spring_table", "collar_pitch_mm"}) axle.erase(key);
  source = std::move(after);
  return std::nullopt;
}

bool parts::is_fitting(const PartForm& form) {
  const Make make = row_of(form).make;
  return make == Make::fitting || make == Make::joint || make == Make::touch;
}

std::vector<PartPlace> parts::places_for_fitting(const PartForm& form, const Car& car) {
  std::vector<PartPlace> places;
  for (const End end : both_ends) {
    const Axle& axle = car.axle(end);
    const MechanismSpec& m = *axle.mechanism;
    if (form.id == "joint") {
      for (const LinkHandle l : m.links.handles()) {
        if (m.links[l].pin) continue;
        for (const bool outer : {false, true}) {
          const auto& all = axle.limits.joints;
          if (std::any_of(all.begin(), all.end(), [&](const JointLimit& j) { return j.link == l && j.outer == outer; }))
            continue;
          PartPlace p{say("{link}, {which} ball", "link"_a = word(m.links[l].label),
                          "which"_a = outer ? say("outer") : say("inner")),
                      end,
                      false,
                      {outer ? m.links[l].outer : m.links[l].inner}};
          p.link = l;
          places.push_back(std::move(p));
        }
      }
    } else if (form.id == "touch") {
      places.push_back({say("of this axle"), end, false, {}});
    } else if (const FittingRow* row = row_named(form.id); row && row->fits(axle)) {
      if (!is_on(axle, *row)) places.push_back({say("of this axle"), end, false, row->points});
    }
  }
  return places;
}

std::vector<PartQuestion> parts::questions_for_fitting(const PartForm& form, const PartPlace& place, const Car& car) {
  std::vector<PartQuestion> q;
  if (form.id == "joint") {
    q.push_back({"most", say("leans at most"), "deg", Kind::number, {}, "25"});
    q.push_back({"stud", say("its stud stands"), "", Kind::choice, {"upright", "lengthways", "across"}, "upright"});
    return q;
  }
  if (form.id == "touch") {
    std::vector<std::string> names;
    const auto all = parts_that_may_touch(car, place.end);
    for (const Touching& t : all) names.push_back(t.label);
    q.push_back({"a", say("one of them"), "", Kind::choice, names, names.front()});
    q.push_back({"a_radius", say("half its thickness; empty: as usual"), "mm", Kind::number, {}, ""});
    q.push_back({"b", say("the other"), "", Kind::choice, names, names.back()});
    q.push_back({"b_radius", say("half its thickness; empty: as usual"), "mm", Kind::number, {}, ""});
    return q;
  }
  const FittingRow& row = *row_named(form.id);
  for (const PointHandle p : row.points)
    q.push_back(
        {id_of(p), label_of(p) + ", x y z", "mm", Kind::numbers, {}, numbers_text(proposed(car, place.end, p))});
  for (const FittingField& f : row.fields)
    q.push_back({f.pointer, f.label, f.unit, Kind::number, {}, text_of(proposed_value(car, place.end, f))});
  return q;
}

std::optional<Fault> parts::put_on(Json& source, const Car& car, const PartForm& form, const PartPlace& place,
                                   std::span<const PartQuestion> answered) {
  Answers answers(answered);
  Json after = source;
  Json& axle = after["axles"][std::string(name_of(place.end))];
  if (form.id == "joint") {
    Json j;
    j["link"] = std::string(car.axle(place.end).mechanism->links[place.link].id);
    j["ball"] = car.axle(place.end).mechanism->links[place.link].outer == place.points.front() ? "outer" : "inner";
    j["most_deg"] = answers.number("most");
    if (!answers.fault() && !(answers.number("most") > 0.0 && answers.number("most") <= 90.0))
      answers.wrong("most", say("an angle above 0 and up to 90 deg"));
    if (const std::string stud = answers.text("stud"); stud != "upright")
      j["stud"] = json_of(stud == "lengthways" ? Vec3(Vec3::UnitX()) : Vec3(Vec3::UnitY()));
    axle["limits"]["joints"].push_back(j);
  } else if (form.id == "touch") {
    const auto all = parts_that_may_touch(car, place.end);
    Json pair;
    std::vector<std::string> names;
    for (const Touching& t : all) names.push_back(t.label);
    PerSide<std::size_t> chosen{answers.which("a", names), answers.which("b", names)};
    if (!answers.fault() && chosen[0] == chosen[1]) answers.wrong("b", say("another part than the first one"));
    for (const auto& [key, radius, which] :
         {std::tuple("a", "a_radius", chosen[0]), std::tuple("b", "b_radius", chosen[1])}) {
      const double r = answers.given(radius) ? answers.number(radius) : all[which].radius_mm;
      if (!answers.fault() && !(r > 0.0)) answers.wrong(radius, say("a number above 0"));
      pair[key] = {{"name", all[which].label}, {"from", all[which].from}, {"to", all[which].to}, {"radius_mm", r}};
    }
    axle["limits"]["clearances"].push_back(pair);
  } else {
    const FittingRow& row = *row_named(form.id);
    for (const PointHandle p : row.points) {
      const std::vector<double> mm = answers.numbers(id_of(p));
      if (!answers.fault() && mm.size() != 3)
        answers.wrong(id_of(p), say("three numbers: x forward, y to the left, z up"));
      if (answers.fault()) break;
      axle["points"][id_of(p)] = json_of(Vec3(mm[0], mm[1], mm[2]));
      if (axle.contains("origins")) axle["origins"][id_of(p)] = "by_hand";
    }
    for (const FittingField& f : row.fields) axle[Json::json_pointer(f.pointer)] = answers.number(f.pointer);
  }
  if (answers.fault()) return answers.fault();
  source = std::move(after);
  return std::nullopt;
}

}  // namespace lowkite
