#include "core/plan/idle_fields.hpp"

#include <algorithm>
#include <cmath>

#include "core/load/third_element.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

bool has_bar(const Axle& a) {
  return a.bar && a.has(attachment::bar_arm) && a.has(attachment::bar_end);
}
bool bar_twists(const Axle& a) {
  return a.bar && (a.bar->rate_n_mm_per_rad > 0.0 || (a.size_of(Size::bar_wire) > 0.0 && a.bar->wire_length_mm > 0.0));
}
bool has_shock(const Axle& a) {
  return a.has(attachment::shock_upper) && a.has(attachment::shock_lower);
}
bool has_spring_place(const Axle& a) {
  return has_shock(a) || a.size_of(Size::kingpin_spring) > 0.0;
}
bool has_side_springs(const Axle& a) {
  return !a.mechanism->independent && a.has(attachment::side_upper) && a.has(attachment::side_lower);
}
bool any_damper(const Axle& a) {
  return a.size_of(Size::damper_bore) > 0.0 || a.size_of(Size::piston_holes) > 0.0 ||
         a.size_of(Size::piston_hole) > 0.0 || a.size_of(Size::piston_thickness) > 0.0 ||
         a.size_of(Size::oil_cst) > 0.0;
}
bool whole_damper(const Axle& a) {
  return a.size_of(Size::damper_bore) > 0.0 && a.size_of(Size::piston_holes) > 0.0 &&
         a.size_of(Size::piston_hole) > 0.0 && a.size_of(Size::piston_thickness) > 0.0 &&
         a.size_of(Size::oil_cst) > 0.0;
}

bool third_damper(const Axle& a) {
  return third_piston(a.kit_size).has_value();
}
bool any_third_lever(const Axle& a) {
  return a.has(attachment::third_arm) || a.has(attachment::third_rod) || a.has(attachment::third_end) ||
         a.has(attachment::third_pivot);
}
bool third_has_a_place(const Axle& a) {
  return has_shock(a) || has_third_levers(a);
}
bool third_fitted(const Axle& a) {
  return a.size_of(Size::heave_rate) > 0.0 || a.size_of(Size::heave_damping) > 0.0 || third_damper(a);
}

DifferentialKind kind(const Axle& a) {
  return static_cast<DifferentialKind>(std::lround(a.size_of(Size::differential_kind)));
}
bool differential_numbers(const Axle& a) {
  return a.size_of(Size::differential_oil) > 0.0 || a.size_of(Size::differential_gears) > 0.0 ||
         a.size_of(Size::differential_friction) > 0.0;
}

/// A field of an axle, and what it waits for.
struct Idle {
  bool (*told)(const Axle&);
  bool (*counts)(const Axle&);
  const char* what;
  const char* remedy;
};

constexpr std::array idle_rows = std::to_array<Idle>({
    {[](const Axle& a) { return a.size_of(Size::bar_wire) > 0.0; }, has_bar,
     marked("the bar's wire does nothing: the axle has no bar with a holder and both its balls"),
     marked("put in the bar: its holder, its balls on the arm and on the bar, and its wire or the rate as measured")},
    {[](const Axle& a) { return a.bar.has_value(); }, has_bar,
     marked("the bar does nothing: its balls on the arm and on the bar are not described"),
     marked("put in both balls of its link")},
    {[](const Axle& a) { return has_bar(a); }, bar_twists,
     marked("the bar has no stiffness: neither its wire with its length nor its rate is described"),
     marked("put in the wire's diameter and the length that twists, or the rate as measured")},
    {[](const Axle& a) { return a.size_of(Size::spring_rate) > 0.0 || a.size_of(Size::spring_free) > 0.0; },
     has_spring_place, marked("the spring does nothing: the axle has no shock and no kingpin that it stands on"),
     marked("put in both mounts of the shock, or the room on the kingpin")},
    {[](const Axle& a) { return a.size_of(Size::spring_free) > 0.0; },
     [](const Axle& a) { return a.size_of(Size::spring_rate) > 0.0; },
     marked("the spring's free length does nothing: its rate is not described"), marked("put in the spring's rate")},
    {[](const Axle& a) { return a.size_of(Size::spring_rate_2) > 0.0 || a.size_of(Size::spring_transition) > 0.0; },
     [](const Axle& a) {
       return a.size_of(Size::spring_rate_2) > 0.0 && a.size_of(Size::spring_transition) > 0.0 &&
              a.spring_table.empty();
     },
     marked(
         "the spring's second rate does nothing: it takes both the rate and where it begins, and no measured spring"),
     marked("put in both, or take the measured spring out")},
    {[](const Axle& a) { return any_damper(a); }, whole_damper,
     marked("the damper does nothing: bore, holes, their diameter, the piston's thickness and the oil are not all "
            "described"),
     marked("put in the ones that are missing")},
    {any_damper, has_shock, marked("the damper does nothing: the axle has no shock between two mounts"),
     marked("put in both mounts of the shock")},
    {third_fitted, third_has_a_place,
     marked("the third spring and its damper do nothing: the axle has neither levers that they lie between nor shocks"),
     marked("put in the levers of the third spring, or both mounts of the shocks")},
    {any_third_lever, has_third_levers,
     marked("the lever of the third spring does nothing: it takes its pivot, both balls of its rod and the spring's "
            "end, on "
            "an "
            "axle whose wheels move by themselves"),
     marked("put in the points that are missing, or take it off")},
    {has_third_levers, third_fitted,
     marked("the levers of the third spring hold nothing: neither spring nor damper is described"),
     marked("put in its rate, or its damper")},
    {[](const Axle& a) { return a.size_of(Size::third_gap) > 0.0; },
     [](const Axle& a) { return a.size_of(Size::heave_rate) > 0.0; },
     marked("the gap before the third spring does nothing: its rate is not described"),
     marked("put in the third spring's rate")},
    {[](const Axle& a) {
       return a.size_of(Size::third_bore) > 0.0 || a.size_of(Size::third_holes) > 0.0 ||
              a.size_of(Size::third_hole) > 0.0 || a.size_of(Size::third_thickness) > 0.0 ||
              a.size_of(Size::third_oil) > 0.0;
     },
     third_damper,
     marked(
         "the third damper does nothing: bore, holes, their diameter, the piston's thickness and the oil are not all "
         "described"),
     marked("put in the ones that are missing")},
    {[](const Axle& a) { return a.size_of(Size::third_stroke) > 0.0; },
     [](const Axle& a) { return third_damper(a) || a.size_of(Size::heave_damping) > 0.0; },
     marked("the third damper's stroke does nothing: the damper is not described"),
     marked("describe the damper, or take it out")},
    {[](const Axle& a) { return a.size_of(Size::heave_damping) > 0.0; }, [](const Axle& a) { return !third_damper(a); },
     marked("the third damper's damping as measured does nothing: it is computed from its piston and oil"),
     marked("take it out, or take the piston out")},
    {[](const Axle& a) { return a.size_of(Size::side_rate) > 0.0 || a.size_of(Size::side_preload) > 0.0; },
     has_side_springs, marked("the side springs do nothing: only a pod that tells where both their ends are has them"),
     marked("put in their ends, or take the rate out")},
    {[](const Axle& a) { return a.size_of(Size::shaft_length) > 0.0; },
     [](const Axle& a) { return a.cup && a.has(attachment::shaft_cup) && a.has(attachment::shaft_joint); },
     marked("the drive shaft's length does nothing: its cup and joint are not described"),
     marked("put in the cup's mouth, its depth and the outer joint")},
    {[](const Axle& a) { return a.cup.has_value(); }, [](const Axle& a) { return a.size_of(Size::shaft_length) > 0.0; },
     marked("the cup does nothing: the drive shaft's length is not described"), marked("put in the shaft's length")},
    {[](const Axle& a) { return a.size_of(Size::differential_kind) > 0.0 || differential_numbers(a); },
     [](const Axle& a) { return a.driven(); },
     marked("the differential does nothing: this axle is neither driven nor braked"),
     marked("put in the axle's share of driving or braking, or take the differential out")},
    {differential_numbers, [](const Axle& a) { return a.size_of(Size::differential_kind) > 0.0; },
     marked("the differential's oil, gears and friction do nothing: its kind is not described"),
     marked("say which kind it is")},
    {[](const Axle& a) { return a.size_of(Size::differential_oil) > 0.0 && kind(a) != DifferentialKind::undescribed; },
     [](const Axle& a) { return kind(a) == DifferentialKind::oil || kind(a) == DifferentialKind::spool; },
     marked("the oil in the differential does nothing: it is none that is filled with oil"), marked("take it out")},
    {[](const Axle& a) { return a.limits.knuckle.has_value(); }, [](const Axle& a) { return a.mechanism->steered; },
     marked("the knuckle's stops do nothing: this axle does not steer"), marked("take them out")},
    {[](const Axle& a) { return a.collar_pitch_mm > 0.0; }, has_shock,
     marked("the collar's thread does nothing: the axle has no shock with a collar"), marked("take it out")},
});

/// The axle with the most of what may be left out: a bar or a third spring that the kit does not have is none without
/// effect where a part puts it in.
Axle with_all_put_in(const Car& car, End end) {
  constexpr std::array left_out{Size::bar_wire, Size::heave_rate, Size::third_holes, Size::third_hole};
  constexpr double thinnest_wire_mm = 0.5;
  Axle most = car.axle(end);
  for (const Adjuster& a : car.adjusters) {
    if (a.end != end || a.steering || !a.positions()) continue;
    for (const Position& p : a.positions()->list)
      for (const SizeChange& c : p.effect.sizes) {
        if (std::find(left_out.begin(), left_out.end(), c.size) == left_out.end()) continue;
        const double there = car.axle(end).size_of(c.size) + c.by;
        if (c.size == Size::bar_wire && there < thinnest_wire_mm) continue;
        double& value = most.size_of(c.size);
        value = std::max(value, there);
      }
  }
  return most;
}

/// Whether some value of a part moves a point, a link, a size or a weight.
bool does_something(const Adjuster& a) {
  return a.moves_geometry() || a.moves_load() || a.moves_weight();
}

}  // namespace

std::vector<Finding> idle_fields(const Car& car) {
  std::vector<Finding> found;
  const auto add = [&](End end, std::string what, std::string remedy, PartHandle part = {}) {
    found.push_back({Severity::doubtful, end, std::nullopt, std::move(what), std::move(remedy), part});
  };
  for (const End end : both_ends) {
    const Axle& axle = car.axle(end);
    const Axle most = with_all_put_in(car, end);
    for (const Idle& row : idle_rows)
      if (row.told(axle) && !row.counts(axle) && !row.counts(most)) add(end, row.what, row.remedy);
    if ((axle.driven_share > 0.0 || axle.braked_share > 0.0) && !(car.cg_height_mm > 0.0))
      add(end,
          say("the shares of driving and braking do nothing: the height of the centre of gravity is not described"),
          say("put in the centre of gravity"));
    if (axle.unsprung_kg > 0.0 && !(car.mass_kg > 0.0))
      add(end, say("the weight of the wheels does nothing: the car's own weight is not described"),
          say("put in the weight, ready to race"));
  }
  if (car.mass_kg > 0.0 && !car.cg_x_mm)
    add(End::front, say("the car's weight does nothing: the place of its centre of gravity is not described"),
        say("put in x and height of the centre of gravity"));
  if (car.cg_x_mm && !(car.mass_kg > 0.0))
    add(End::front, say("the centre of gravity does little: the car's weight is not described"),
        say("put in the weight, ready to race"));
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if (!a.only_kept() && !does_something(a))
      add(a.end, say("the part \"{}\" changes nothing, whatever is chosen", a.name),
          say("describe what its places move, or take it out"), i);
    const Range* r = a.range();
    const bool of_bar = r && std::any_of(r->sizes_per_unit.begin(), r->sizes_per_unit.end(), [](const SizeChange& c) {
                          return c.size == Size::bar_link || c.size == Size::bar_wire;
                        });
    if (of_bar && !has_bar(car.axle(a.end)))
      add(a.end, say("the part \"{}\" does nothing: the axle has no bar with a holder and both its balls", a.name),
          say("describe the bar's holder and its points"), i);
  }
  return found;
}

}  // namespace lowkite
