#include "core/parts/form_rows.hpp"

#include "core/io/typed_text.hpp"
#include "core/parts/fittings.hpp"
#include "core/words/say.hpp"

namespace lowkite {

using namespace parts;

namespace {

using Kind = CarField::Kind;

constexpr PointHandle nowhere;
const std::array form_rows = std::to_array<FormRow>({
    {{"shims", marked("Shims under a ball or a mount"),
      marked("Have the shims at hand, and count what is under it now.")},
     Make::shims},
    {{"axle_height", marked("Shims that set the axle's height in the hub"),
      marked("They move the wheel against the arm.")},
     Make::shims},
    {{"holes", marked("Row of holes"), marked("Measure from the middle of one hole to the next.")}, Make::row},
    {{"places", marked("Positions one by one"), marked("For what is no even row: say where each lies.")}, Make::table},
    {{"arm", marked("Another arm, hub or knuckle"),
      marked("Say by how much its ball or pin lies elsewhere than on the one in the car.")},
     Make::table},
    {{"insert", marked("Insert of a pin, in and out, up and down"),
      marked("How far off its middle the hole of the insert lies, each way.")},
     Make::grid},
    {{"block", marked("Block with an angle"), marked("The angles that blocks are had with, as they are marked.")},
     Make::block},
    {{"turnbuckle", marked("Turnbuckle"), marked("Count the turns to the end of the thread, each way.")},
     Make::turnbuckle},
    {{"droop_screw", marked("Droop screw"), marked("Turned in, it holds the arm up.")}, Make::screw},
    {{"bar_link", marked("Ball of an anti-roll bar's link"), marked("Turned out, it makes the link longer.")},
     Make::size_screw,
     {"bar_link_mm", Size::bar_link, 1.0, "mm", "", "", attachment::bar_arm, attachment::bar_end}},
    {{"wheelbase", marked("Spacers on the arm's pin, for wheelbase"),
      marked("Those before the arm: they push it back.")},
     Make::along_pin},
    {{"limiter_inside", marked("Spacers inside the shock, on its shaft"),
      marked("They keep it from pulling out: less droop.")},
     Make::size_stack,
     {"shock_extended_mm", Size::shock_extended, -1.0, "mm", "", "0.5 1", attachment::shock_upper,
      attachment::shock_upper}},
    {{"limiter_outside", marked("Spacers outside the shock, on its shaft"),
      marked("They keep it from pushing in: less bump travel.")},
     Make::size_stack,
     {"shock_compressed_mm", Size::shock_compressed, 1.0, "mm", "", "0.5 1", attachment::shock_upper,
      attachment::shock_upper}},
    {{"spring_spacers", marked("Spacers that press a spring"), marked("For springs without a collar.")},
     Make::size_stack,
     {"spring_spacer_mm", Size::spring_spacer, 1.0, "mm", "", "0.1 0.2 0.5", nowhere, nowhere}},
    {{"eyelet", marked("Shock eyelets of other lengths"),
      marked("Their length from end to eye, against the one in the car.")},
     Make::eyelet},
    {{"springs", marked("Springs"),
      marked("Their rates as they are marked or measured: 0.49, 2.8 lbf/in, or wire, coil and turns.")},
     Make::size_list,
     {"spring_rate_n_per_mm", Size::spring_rate, 1.0, "N/mm", "{} N/mm", "", attachment::shock_upper,
      attachment::shock_upper}},
    {{"third_springs", marked("Third springs"), marked("Their rates; none, where it may be left out.")},
     Make::size_list,
     {"heave_rate_n_per_mm", Size::heave_rate, 1.0, "N/mm", "{} N/mm", "", attachment::third_end,
      attachment::third_end}},
    {{"third_gaps", marked("Gaps before a third spring"),
      marked("Pressed by so much from rest before it pushes; 0: it touches.")},
     Make::size_list,
     {"third_gap_mm", Size::third_gap, 1.0, "mm", marked("{} mm"), "0 0.5 1", attachment::third_end,
      attachment::third_end}},
    {{"third_pistons", marked("Pistons of a third damper"),
      marked("Holes and their diameter: 2 x 1.2; none, where it may be left out.")},
     Make::piston,
     {"third_holes", Size::third_holes, 1.0, "", "", "", attachment::third_end, attachment::third_end}},
    {{"third_oils", marked("Oils of a third damper"), marked("In cSt at 25 deg C, as bottles say.")},
     Make::size_list,
     {"third_oil_cst", Size::third_oil, 1.0, "cSt", marked("{} cSt"), "200 300 400", attachment::third_end,
      attachment::third_end}},
    {{"third_stroke", marked("Spacers on the shaft of a third damper"),
      marked("They end its way in: both wheels together stop sooner.")},
     Make::size_stack,
     {"third_stroke_mm", Size::third_stroke, -1.0, "mm", "", "0.5 1", attachment::third_end, attachment::third_end}},
    {{"side_springs", marked("Side springs of a pod"), marked("Their rates.")},
     Make::size_list,
     {"side_rate_n_per_mm", Size::side_rate, 1.0, "N/mm", "{} N/mm", "", attachment::side_upper,
      attachment::side_upper}},
    {{"pistons", marked("Pistons"), marked("Holes and their diameter: 3 x 1.1.")},
     Make::piston,
     {"piston_holes", Size::piston_holes, 1.0, "", "", "", attachment::shock_upper, attachment::shock_upper}},
    {{"shock_oils", marked("Shock oils"), marked("In cSt at 25 deg C, as bottles say.")},
     Make::size_list,
     {"oil_cst", Size::oil_cst, 1.0, "cSt", marked("{} cSt"), "", attachment::shock_upper, attachment::shock_upper}},
    {{"bar_wires", marked("Wires of an anti-roll bar"),
      marked("Their diameters; none, where the bar may be left out.")},
     Make::size_list,
     {"bar_wire_mm", Size::bar_wire, 1.0, "mm", marked("{} mm"), "", attachment::bar_end, attachment::bar_end}},
    {{"differential", marked("Differentials of another kind"), marked("Those that fit into this axle.")},
     Make::differentials},
    {{"differential_oils", marked("Differential oils"), marked("In cSt, as bottles say.")},
     Make::size_list,
     {"differential_oil_cst", Size::differential_oil, 1.0, "cSt", marked("{} cSt"), "3000 5000 7000 10000"}},
    {{"tyres", marked("Tyres of other diameters"), marked("Measured on the car, standing on its wheels.")},
     Make::size_list,
     {"tyre_radius_mm", Size::tyre_radius, 0.5, "mm", marked("{} mm")}},
    {{"horn_holes", marked("Servo horn: its holes"), marked("From the middle of the servo's shaft to each.")},
     Make::horn_row},
    {{"horn_spline", marked("Servo horn: teeth of its spline"), marked("Count the teeth of the servo's shaft.")},
     Make::spline},
    {{"ballast", marked("Ballast"), marked("Where its middle lies, and the weights that you have.")}, Make::ballast},
    {{"heavy_part", marked("Places of a heavy part"),
      marked("Say by how much each lies ahead, to the left and above.")},
     Make::heavy_places},
    {{"fit_bar", marked("Anti-roll bar: its balls and holder"),
      marked(
          "x forward, y to the left, z over the plate's underside. Wires of other thickness are a part of their own.")},
     Make::fitting},
    {{"fit_third", marked("Third spring: its levers"),
      marked("Each lever turns about a line lengthways through its pivot; a rod from the arm turns it. Damper, other "
             "springs "
             "and holes are parts of their own.")},
     Make::fitting},
    {{"fit_droop_screw", marked("Droop screw: where it is"),
      marked("Its lower end, and where a down-stop gauge touches the arm.")},
     Make::fitting},
    {{"fit_shock", marked("Shock: its mounts, lengths and spring"), marked("Measured on the car, from pin to pin.")},
     Make::fitting},
    {{"fit_collar", marked("Spring collar: its thread"),
      marked("With it, collars are told in turns; without, in millimetres.")},
     Make::fitting},
    {{"fit_shaft", marked("Drive shaft and its cup"), marked("Where it may fall out, or go to the bottom.")},
     Make::fitting},
    {{"fit_side_springs", marked("Side springs of a pod: their ends"),
      marked("One on each side; the places are those of the left.")},
     Make::fitting},
    {{"fit_knuckle_stops", marked("Stops of the knuckles"),
      marked("How far each wheel turns until its knuckle meets its stop.")},
     Make::fitting},
    {{"joint", marked("Ball joint that binds"),
      marked("How far its link leans out of the plane across the ball's stud until it binds.")},
     Make::joint},
    {{"touch", marked("Two parts that may touch"),
      marked("Each as a round bar: half its thickness where they come near each other.")},
     Make::touch},
    {{"tyres_kept", marked("Tyres: tread, compound, insert"),
      marked("Each that you have, as you call it. Kept for sheets, comparisons and the log; how tyres behave is "
             "believed in "
             "Handling, Tyres, and learned from the log.")},
     Make::kept_by_axle,
     {},
     marked("Tyres"),
     marked("set 1; set 2")},
    {{"tyre_care", marked("Tyres: additive, warmer, age"),
      marked("Kept for sheets, comparisons and the log; not computed.")},
     Make::kept_by_axle,
     {},
     marked("Tyre care"),
     marked("dry; additive 10 min; additive 30 min")},
    {{"stiffness", marked("Stiffness or material of arms, hubs, carriers"),
      marked(
          "Kept, not computed: parts of the model do not bend. Where the other part has its balls elsewhere, add it as "
          "another arm.")},
     Make::kept_by_axle,
     {},
     marked("Arm, material"),
     marked("hard; soft")},
    {{"flex", marked("Chassis flex: posts, screws, top deck"),
      marked("Kept, not computed: the chassis of the model does not bend.")},
     Make::kept_once,
     {},
     marked("Chassis screws"),
     marked("all; middle ones out")},
    {{"body", marked("Body and wing"), marked("Kept, not computed: the model has no air.")},
     Make::kept_once,
     {},
     marked("Body"),
     "A; B"},
    {{"gearing", marked("Gearing"), marked("Kept, not computed: what drives the wheels is asked in g.")},
     Make::kept_once,
     {},
     marked("Gearing"),
     "5.0; 5.2; 5.4"},
    {{"motor", marked("Motor and its timing"), marked("Kept, not computed.")},
     Make::kept_once,
     {},
     marked("Motor"),
     marked("0 deg; 10 deg; 20 deg")},
    {{"own_field", marked("Anything else that you write down"),
      marked("Kept for sheets, comparisons and the log; not computed.")},
     Make::kept_once,
     {},
     marked("My note"),
     marked("no; yes")},
});

bool of_third(const FormRow& row) {
  return row.size.at == attachment::third_end;
}
bool has_shock(const Axle& axle) {
  return has(axle, attachment::shock_upper) && has(axle, attachment::shock_lower);
}
/// A third spring lies between its levers, or at the shocks' mounts where none are described.
bool has_place(const Axle& axle, const SizeRow& size) {
  return has(axle, size.needs) || (size.needs == attachment::third_end && has_shock(axle));
}

/// The points that have these names, where all of them are there.
std::vector<PointHandle> named(const MechanismSpec& m, std::initializer_list<std::string_view> ids) {
  std::vector<PointHandle> points;
  for (const std::string_view id : ids)
    if (const PointHandle p = m.point(id)) points.push_back(p);
  if (points.size() != ids.size()) points.clear();
  return points;
}

/// A differential with gears in oil, or a part that may be one.
bool may_hold_oil(const Car& car, End end) {
  constexpr auto oil = static_cast<double>(DifferentialKind::oil);
  const double kit = car.axle(end).size_of(Size::differential_kind);
  if (!car.axle(end).driven()) return false;
  return kit == oil || std::any_of(car.adjusters.begin(), car.adjusters.end(), [&](const Adjuster& a) {
           if (a.end != end || !a.positions()) return false;
           return std::any_of(a.positions()->list.begin(), a.positions()->list.end(), [&](const Position& p) {
             return std::any_of(p.effect.sizes.begin(), p.effect.sizes.end(), [&](const SizeChange& c) {
               return c.size == Size::differential_kind && kit + c.by == oil;
             });
           });
         });
}

/// Pins lie between two points of one name: "..._front" and "..._rear".
bool ends_a_pin(const MechanismSpec& m, std::string_view id) {
  for (const auto& [mine, other] : {std::pair("_front", "_rear"), std::pair("_rear", "_front")})
    if (id.ends_with(mine)) {
      const std::string partner = std::string(id.substr(0, id.size() - std::string_view(mine).size())) + other;
      return bool(m.point(partner));
    }
  return false;
}

PartQuestion number(const char* id, std::string label, const char* unit, std::string first) {
  return {id, std::move(label), unit, Kind::number, {}, std::move(first)};
}
PartQuestion numbers(const char* id, std::string label, const char* unit, std::string first) {
  return {id, std::move(label), unit, Kind::numbers, {}, std::move(first)};
}
PartQuestion asked_in_words(const char* id, std::string label, std::string first) {
  return {id, std::move(label), "", Kind::text, {}, std::move(first)};
}

void ask_stack(std::vector<PartQuestion>& q, const std::string& box, const std::string& most, const std::string& now) {
  q.push_back(numbers("box", say("thicknesses in the box"), "mm", box));
  q.push_back(number("least", say("thinnest stack"), "mm", "0"));
  q.push_back(number("most", say("thickest stack"), "mm", most));
  q.push_back(number("now", say("in the car now"), "mm", now));
}

std::string name_for(const FormRow& row, const PartPlace& place, const Car& car) {
  switch (row.make) {
    case Make::shims:
      if (row.form.id == "axle_height") return say("Axle height");
      return say("Shims, {}", place.label);
    case Make::row:
      return say("Hole, {}", place.label);
    case Make::table:
      return row.form.id == "arm" ? say("Arm or hub") : say("Position, {}", place.label);
    case Make::grid:
      return say("Insert, {}", place.label);
    case Make::block:
      return place.label;
    case Make::turnbuckle: {
      std::string name = place.label;
      if (!name.empty()) name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(name[0])));
      return name;
    }
    case Make::screw:
      return say("Droop screw");
    case Make::size_screw:
      return say("Bar link, ball");
    case Make::eyelet:
      return say("Shock eyelet");
    case Make::piston:
      return of_third(row) ? say("Third damper, piston") : say("Piston");
    case Make::horn_row:
      return say("Servo horn, hole");
    case Make::spline:
      return say("Servo horn on its spline");
    case Make::along_pin:
      return say("Spacers ahead of the arm");
    case Make::ballast:
      return say("Ballast");
    case Make::heavy_places:
      return place.mass >= 0 ? say("{} place", car.masses[at(place.mass)].name) : say("Place");
    case Make::differentials:
      return say("Differential");
    case Make::kept_by_axle:
    case Make::kept_once:
      return row.name;
    case Make::size_stack:
    case Make::size_list:
    case Make::fitting:
    case Make::joint:
    case Make::touch:
      break;
  }
  for (const auto& [id, name] :
       {std::pair("limiter_inside", say("Spacers inside the shock")),
        std::pair("limiter_outside", say("Spacers outside the shock")),
        std::pair("spring_spacers", say("Spacers that press the spring")), std::pair("springs", say("Spring")),
        std::pair("third_springs", say("Third spring")), std::pair("third_gaps", say("Gap before the third spring")),
        std::pair("third_oils", say("Third damper, oil")),
        std::pair("third_stroke", say("Spacers in the third damper")), std::pair("side_springs", say("Side spring")),
        std::pair("shock_oils", say("Shock oil")), std::pair("bar_wires", say("Bar wire")),
        std::pair("differential_oils", say("Differential oil")), std::pair("tyres", say("Tyre diameter"))})
    if (row.form.id == id) return name;
  return std::string(row.form.label);
}

/// A row around what is in the car, to start from.
std::string around(double now, double step) {
  if (!(now > 0.0)) return {};
  const std::string up = text_of(now) + " " + text_of(now + step);
  return now > step ? text_of(now - step) + " " + up : up;
}
double step_about(const SizeRow& s, double now) {
  if (s.size == Size::oil_cst || s.size == Size::third_oil) return 50.0;
  if (s.size == Size::differential_oil) return 1000.0;
  if (s.size == Size::bar_wire) return 0.1;
  if (s.size == Size::tyre_radius) return 1.0;
  return std::max(0.01, std::round(10.0 * now) / 100.0);
}

}  // namespace

const FormRow& parts::row_of(const PartForm& form) {
  return *std::find_if(form_rows.begin(), form_rows.end(), [&](const FormRow& r) { return r.form.id == form.id; });
}

std::span<const PartForm> part_forms() {
  static const std::vector<PartForm> forms = [] {
    std::vector<PartForm> all;
    for (const FormRow& r : form_rows) all.push_back(r.form);
    return all;
  }();
  return forms;
}

const PartForm* find_part_form(std::string_view id) {
  for (const PartForm& f : part_forms())
    if (f.id == id) return &f;
  return nullptr;
}

std::vector<PartPlace> places_for(const PartForm& form, const Car& car) {
  if (is_fitting(form)) return places_for_fitting(form, car);
  const FormRow& row = row_of(form);
  std::vector<PartPlace> places;
  const auto label = [](std::string_view text) { return word(text); };
  for (const End end : both_ends) {
    const Axle& axle = car.axle(end);
    const MechanismSpec& m = *axle.mechanism;
    const auto add = [&](std::string text, std::vector<PointHandle> points) -> PartPlace& {
      return places.emplace_back(PartPlace{std::move(text), end, false, std::move(points)});
    };
    const auto each_point = [&](auto&& wanted) {
      for (const PointRef& ref : points_of(car))
        if (!ref.steering && ref.end == end && wanted(spec_of(car, ref)))
          add(label(spec_of(car, ref).label), {ref.point});
    };
    switch (row.make) {
      case Make::shims:
        if (form.id == "axle_height") {
          // A steered hub's axle slides along its kingpin; a fixed hub is lifted off the arm's outer pin.
          const bool kingpin = m.point("kingpin_lower") && m.point("arm_outer_front");
          if (!kingpin && !m.point("arm_outer_front")) break;
          std::vector<PointHandle> points{m.wheel_centre};
          for (const char* id : {"tie_outer", "link_outer"})
            if (const PointHandle p = m.point(id); p && !(kingpin && std::string_view(id) == "link_outer"))
              points.push_back(p);
          if (has(axle, attachment::shaft_joint)) points.push_back(attachment::shaft_joint);
          add(kingpin ? say("under the knuckle, along its kingpin") : say("under the hub"), points).about =
              m.point(kingpin ? "kingpin_lower" : "arm_outer_front");
          break;
        }
        if (auto both = named(m, {"arm_inner_front", "arm_inner_rear"}); !both.empty())
          add(say("under both mounts of the arm's pin"), both);
        if (auto both = named(m, {"upper_inner_front", "upper_inner_rear"}); !both.empty())
          add(say("under both mounts of the upper arm or links"), both);
        each_point([&](const PointSpec& s) { return s.id != "wheel_centre"; });
        break;
      case Make::row:
      case Make::table:
        each_point([&](const PointSpec& s) {
          return s.id != "wheel_centre" && (form.id != "arm" || s.body != Body::chassis);
        });
        break;
      case Make::grid:
        each_point([&](const PointSpec& s) { return ends_a_pin(m, s.id); });
        break;
      case Make::block:
        if (auto pin = named(m, {"kingpin_lower", "kingpin_upper"}); !pin.empty() && m.steered) {
          PartPlace& p = add(say("Caster block"), pin);
          p.about = m.wheel_centre;
        }
        if (const auto pin = named(m, {"arm_inner_front", "arm_inner_rear"}); !pin.empty())
          for (const auto& [text, axis] : {std::pair(say("Toe-in of the arm's pin"), 'z'),
                                           std::pair(say("Climb of the arm's pin, front end up"), 'y')}) {
            PartPlace& p = add(text, {pin[0]});
            p.about = pin[1];
            p.axis = axis;
          }
        break;
      case Make::turnbuckle:
        for (const LinkHandle l : m.links.handles())
          if (!m.links[l].pin && !car.turnbuckle_of(end, l)) add(label(m.links[l].label), {}).link = l;
        break;
      case Make::screw:
        if (has(axle, attachment::droop_tip) && has(axle, attachment::arm_gauge))
          add(say("on the arm"), {attachment::droop_tip});
        break;
      case Make::size_stack:
        // What no field of this axle has would be a part without effect.
        if (row.size.size == Size::spring_spacer &&
            !(kit_size(car, end, Size::kingpin_spring) > 0.0 || kit_size(car, end, Size::spring_spacer) > 0.0))
          break;
        [[fallthrough]];
      case Make::size_screw:
        if (has_place(axle, row.size)) add(say("of this axle"), {});
        break;
      case Make::size_list:
        if (!has_place(axle, row.size)) break;
        if (row.size.size == Size::differential_oil && !may_hold_oil(car, end)) break;
        add(say("of this axle"), {});
        break;
      case Make::piston:
        if (of_third(row)) {
          if (has_place(axle, row.size)) add(say("of this axle"), {});
          break;
        }
        [[fallthrough]];
      case Make::eyelet:
        if (has_shock(axle)) add(say("of this axle's shocks"), {});
        break;
      case Make::along_pin:
        if (auto both = named(m, {"arm_inner_front", "arm_inner_rear"}); !both.empty())
          add(say("on the arm's inner pin"), both);
        if (auto both = named(m, {"arm_outer_front", "arm_outer_rear"}); !both.empty())
          add(say("on the arm's outer pin"), both);
        break;
      case Make::ballast:
        add(end == End::front ? say("found from the front") : say("found from the rear"), {});
        break;
      case Make::heavy_places:
        // Once: it belongs to the car, and is found from the nearer end.
        for (std::size_t i = 0; i < car.masses.size(); ++i) {
          const double middle = 0.5 * (car.gauge_x_mm[0] + car.gauge_x_mm[1]);
          const bool ahead = car.masses[i].place.x() >= middle;
          if (ahead == (end == End::front)) add(car.masses[i].name, {}).mass = static_cast<int>(i);
        }
        break;
      case Make::differentials:
        if (axle.driven()) add(say("of this axle"), {});
        break;
      case Make::kept_by_axle:
        add(say("of this axle"), {});
        break;
      case Make::kept_once:
        if (end == End::rear) add(say("once for the car"), {});
        break;
      case Make::horn_row:
      case Make::spline:
      case Make::fitting:
      case Make::joint:
      case Make::touch:
        break;
    }
  }
  if (!car.steering.spec) return places;
  const SteeringSpec& s = *car.steering.spec;
  const auto add = [&](std::string text, std::vector<PointHandle> points) -> PartPlace& {
    return places.emplace_back(PartPlace{std::move(text), End::front, true, std::move(points)});
  };
  const bool horn = s.point("horn_ball") && s.point("servo_shaft_front") && s.point("servo_shaft_rear");
  if (row.make == Make::shims && form.id != "axle_height" && horn)
    add(say("the servo on its posts, horn and all"),
        {s.point("servo_shaft_front"), s.point("servo_shaft_rear"), s.point("horn_ball")});
  if ((row.make == Make::shims && form.id != "axle_height") || row.make == Make::row ||
      (row.make == Make::table && form.id != "arm"))
    for (const PointHandle p : s.points.handles()) add(label(s.points[p].label), {p});
  if (row.make == Make::turnbuckle)
    for (const LinkHandle l : s.links.handles()) {
      const bool taken = std::any_of(car.adjusters.begin(), car.adjusters.end(), [&](const Adjuster& a) {
        return a.steering && a.kind == AdjusterKind::turnbuckle && a.range()->link == l;
      });
      if (!taken && s.links[l].id == "drag_link") add(label(s.links[l].label), {}).link = l;
    }
  if (row.make == Make::horn_row && horn && horn_arm(car).norm() > 1.0)
    add(say("of the servo horn"), {s.point("horn_ball")});
  if (row.make == Make::spline && horn) {
    const auto shaft = [&](const char* id) { return car.steering.points[s.point(id)]; };
    int most = 0;
    (shaft("servo_shaft_rear") - shaft("servo_shaft_front")).cwiseAbs().maxCoeff(&most);
    PartPlace& p = add(say("of the servo horn"), {s.point("horn_ball")});
    p.about = s.point("servo_shaft_front");
    p.axis = "xyz"[most];
  }
  return places;
}

std::vector<PartQuestion> questions_for(const PartForm& form, const PartPlace& place, const Car& car) {
  if (is_fitting(form)) return questions_for_fitting(form, place, car);
  const FormRow& row = row_of(form);
  std::vector<PartQuestion> q{asked_in_words("name", say("what you call it"), name_for(row, place, car))};
  const auto positions = [&](const std::string& first, const char* out, const std::string& out_label) {
    q.push_back(asked_in_words("labels", say("positions, as they are marked; with ; between them"), first));
    q.push_back(numbers(out, out_label, "mm", ""));
    q.push_back(numbers("up", say("each higher by"), "mm", ""));
    q.push_back(numbers("ahead", say("each further forward by"), "mm", ""));
  };
  switch (row.make) {
    case Make::shims: {
      if (form.id == "axle_height") {
        ask_stack(q, "0.5", "1", "0.5");
        break;
      }
      PartQuestion way{"way", say("more of them moves it"), "", Kind::choice, {}, "up"};
      for (const Way& w : ways(place.steering)) way.choices.emplace_back(w.id);
      q.push_back(way);
      ask_stack(q, "0.25 0.5 1 2", "3", "1");
      break;
    }
    case Make::row:
      q.push_back(number("count", "holes", "", "3"));
      q.push_back(number("now", say("the one in use, counted from the first"), "", "2"));
      q.push_back(number(
          "out", place.steering ? say("from each to the next, to the left") : say("from each to the next, outwards"),
          "mm", "0"));
      q.push_back(number("up", say("from each to the next, up"), "mm", "0"));
      q.push_back(number("ahead", say("from each to the next, forwards"), "mm", "0"));
      break;
    case Make::table:
      positions(form.id == "arm" ? say("in the car; other") : "A; B", "out",
                place.steering ? say("each further left by") : say("each further out by"));
      q.push_back(asked_in_words("now", say("in the car now"), form.id == "arm" ? say("in the car") : "A"));
      break;
    case Make::grid:
      q.push_back(numbers("out", say("out of its middle (minus: in)"), "mm", "-0.7 0 0.7"));
      q.push_back(numbers("up", say("above its middle (minus: below)"), "mm", "-0.7 0 0.7"));
      q.push_back({"corners", say("both at once, too"), "", Kind::choice, {"no", "yes"}, "no"});
      q.push_back(asked_in_words("now", say("in the car now (0, in, out, up, down, or \"in, up\")"), "0"));
      break;
    case Make::block: {
      const bool caster = place.axis == 'y' && place.points.size() == 2;
      q.push_back(numbers("list", say("angles to be had"), "deg", caster ? "2 4 6" : "0 1 2 3"));
      q.push_back(number("now", say("in the car now"), "deg", caster ? "4" : "0"));
      break;
    }
    case Make::turnbuckle:
      q.push_back(number("pitch", say("thread pitch (M3: 0.5)"), "mm", "0.5"));
      q.push_back({"threads", "threads", "", Kind::choice, {"opposed", "single"}, "opposed"});
      q.push_back(number("shorter", say("turns it can be made shorter"), "turns", "6"));
      q.push_back(number("longer", say("turns it can be made longer"), "turns", "6"));
      break;
    case Make::screw:
    case Make::size_screw:
      q.push_back(number("pitch", say("thread pitch (M3: 0.5)"), "mm", "0.5"));
      q.push_back(number("out_turns", say("turns it can be turned out"), "turns", "4"));
      q.push_back(number("in_turns", say("turns it can be turned in"), "turns", "4"));
      break;
    case Make::size_stack:
      ask_stack(q, row.size.first, "3", "0");
      if (row.size.size == Size::spring_spacer)
        q.back().answer = text_of(kit_size(car, place.end, Size::spring_spacer));
      break;
    case Make::size_list: {
      const SizeRow& s = row.size;
      const double now = kit_size(car, place.end, s.size) / s.per;
      const std::string proposal =
          std::string_view(s.first).empty() || now > 0.0 ? around(now, step_about(s, now)) : s.first;
      const bool rates = std::string_view(s.unit) == "N/mm";
      PartQuestion list{"list", say("those that you have"), s.unit, rates ? Kind::text : Kind::numbers, {}, proposal};
      q.push_back(list);
      PartQuestion in{"now", say("the one in the car now"), s.unit, rates ? Kind::text : Kind::number, {}, ""};
      if (now > 0.0 || s.size == Size::third_gap) in.answer = text_of(now);
      // A damper that was not described yet is filled with something.
      if (s.size == Size::third_oil && !(now > 0.0)) in.answer = "300";
      q.push_back(in);
      q.push_back(asked_in_words("labels", say("what they are called; with ; between them (may stay empty)"), ""));
      break;
    }
    case Make::eyelet:
      q.push_back(asked_in_words("labels", say("eyelets; with ; between them"), say("short; long")));
      q.push_back(numbers("longer", say("each longer by"), "mm", "0 2"));
      q.push_back(asked_in_words("now", say("in the car now"), "short"));
      break;
    case Make::piston: {
      if (of_third(row)) {
        q.push_back(
            asked_in_words("list", say("pistons, holes x mm; with ; between them"), say("none; 2 x 1.2; 3 x 1.2")));
        q.push_back(asked_in_words("now", say("in the car now"), "none"));
        const auto or_usual = [&](Size s, double usual) {
          const double is = kit_size(car, place.end, s);
          return text_of(is > 0.0 ? is : usual);
        };
        q.push_back(number("bore", say("bore of its body"), "mm", or_usual(Size::third_bore, 10.0)));
        q.push_back(number("thickness", say("thickness of the piston"), "mm", or_usual(Size::third_thickness, 2.0)));
        q.push_back(number("oil", say("oil at 25 deg C"), "cSt", or_usual(Size::third_oil, 300.0)));
        break;
      }
      const double holes = kit_size(car, place.end, Size::piston_holes);
      const double mm = kit_size(car, place.end, Size::piston_hole);
      const std::string now = holes > 0.0 && mm > 0.0 ? fmt::format("{} x {}", text_of(holes), text_of(mm)) : "3 x 1.1";
      q.push_back(asked_in_words("list", say("pistons, holes x mm; with ; between them"),
                                 holes > 0.0 && mm > 0.0
                                     ? fmt::format("{0}; {1} x {2}", now, text_of(holes), text_of(mm + 0.1))
                                     : "2 x 1.3; 3 x 1.1; 4 x 1"));
      q.push_back(asked_in_words("now", say("in the car now"), now));
      break;
    }
    case Make::horn_row: {
      const double now = rounded_for_file(std::round(horn_arm(car).norm() * 10.0) / 10.0);
      q.push_back(numbers("list", say("holes, from the middle of the shaft"), "mm", around(now, 2.0)));
      q.push_back(number("now", say("the one in use"), "mm", text_of(now)));
      break;
    }
    case Make::spline:
      q.push_back(number("teeth", say("teeth of the shaft"), "", "25"));
      q.push_back(number("each_way", say("teeth that are of use, each way"), "", "1"));
      break;
    case Make::along_pin:
      ask_stack(q, "0.5 1", "2", "1");
      break;
    case Make::ballast: {
      q.front().answer = place.end == End::front ? say("Ballast at the front") : say("Ballast at the rear");
      q.push_back(numbers("amounts", say("weights that you have"), "g", "5 10 20"));
      q.push_back(number("ahead", say("its middle, x (forward)"), "mm", text_of(car.gauge_x_mm[at(place.end)])));
      q.push_back(number("left", say("its middle, y (left)"), "mm", "0"));
      q.push_back(number("up", say("its middle, z (over the plate's underside)"), "mm", "5"));
      break;
    }
    case Make::heavy_places:
      q.push_back(asked_in_words("labels", say("places; with ; between them"), say("forward; middle; back")));
      q.push_back(numbers("ahead", say("each further forward by"), "mm", "8 0 -8"));
      q.push_back(numbers("left", say("each further left by"), "mm", ""));
      q.push_back(numbers("up", say("each higher by"), "mm", ""));
      q.push_back(asked_in_words("now", say("in the car now"), "middle"));
      break;
    case Make::kept_by_axle:
    case Make::kept_once: {
      const std::string labels = row.labels;
      q.push_back(asked_in_words("labels", say("what it may be; with ; between them"), labels));
      q.push_back(asked_in_words("now", say("on the car now"), labels.substr(0, labels.find(';'))));
      break;
    }
    case Make::differentials: {
      std::string is = say("gears in oil");
      const auto kind =
          static_cast<DifferentialKind>(static_cast<int>(kit_size(car, place.end, Size::differential_kind)));
      for (const auto& [id, name] : differential_names)
        if (id == id_of(kind)) is = name;
      q.push_back(asked_in_words("list", say("those that fit; with ; between them"),
                                 is == "spool" ? say("spool; gears in oil") : say("{}; spool", is)));
      break;
    }
    case Make::fitting:
    case Make::joint:
    case Make::touch:
      break;
  }
  return q;
}

}  // namespace lowkite
