#include "core/bench/steps.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <initializer_list>

#include <fmt/format.h>

#include "core/words/say.hpp"

namespace lowkite {
namespace {

using P = BenchPhase;

constexpr bool yes = true;
constexpr bool no = false;

bool changes_size(const Adjuster& a, std::initializer_list<Size> sizes) {
  const auto among = [&](const SizeChange& c) { return std::find(sizes.begin(), sizes.end(), c.size) != sizes.end(); };
  if (const Range* r = a.range()) return std::any_of(r->sizes_per_unit.begin(), r->sizes_per_unit.end(), among);
  return std::any_of(a.positions()->list.begin(), a.positions()->list.end(), [&](const Position& p) {
    return std::any_of(p.effect.sizes.begin(), p.effect.sizes.end(), among);
  });
}

bool shock_hardware(const Adjuster& a) {
  return changes_size(a, {Size::piston_holes, Size::piston_hole, Size::piston_thickness, Size::shock_extended,
                          Size::shock_compressed, Size::spring_rate, Size::spring_free});
}
bool shock_damping(const Adjuster& a) {
  return changes_size(a, {Size::piston_holes, Size::piston_hole, Size::piston_thickness, Size::oil_cst});
}
bool shock_oil(const Adjuster& a) {
  return changes_size(a, {Size::oil_cst});
}
bool third_damping(const Adjuster& a) {
  return changes_size(a, {Size::third_holes, Size::third_hole, Size::third_thickness, Size::third_oil,
                          Size::third_stroke, Size::heave_damping});
}
bool third_lever(const Adjuster& a) {
  return a.of_third_element() && !third_damping(a);
}
bool bar_wire(const Adjuster& a) {
  return changes_size(a, {Size::bar_wire});
}
/// What leans a front carrier back and forth: a block, or an insert of one.
bool caster_part(const Adjuster& a) {
  const Positions* positions = a.positions();
  return positions && a.end == End::front &&
         std::any_of(positions->list.begin(), positions->list.end(), [](const Position& p) {
           return std::any_of(p.effect.turns.begin(), p.effect.turns.end(),
                              [](const PointTurn& t) { return std::abs(t.direction.y()) > 0.9; });
         });
}

constexpr std::array step_rows = std::to_array<StepSpec>({
    {"free", P::prepare, marked("Everything falls freely"),
     marked("A part that binds hides what every later step should show."),
     marked("Take the shocks off. Lift each arm and let it go: it must fall under its own weight. Turn each hub and "
            "steering "
            "part "
            "by hand. Replace what is worn or bent."),
     marked("Wheels off the bench: put the car on a stand, clear of fingers and hair. Eye protection for grinding or "
            "drilling."),
     std::nullopt, yes, no},
    {"play", P::prepare, marked("Play at the wheel"),
     marked("Play sets the floor of what any gauge can tell: 0.2 mm of slop reads as 0.2 mm of droop."),
     marked("Shocks off, chassis held down. Lift the wheel until something resists, let it hang, and read at the tyre "
            "by how "
            "much "
            "it moves before the arm does. What is read here is taken off this wheel's droop readings."),
     "", &gauge::wheel_play, no, no},
    {"end_float", P::prepare, marked("End float at the hub"),
     marked("Too tight binds and costs speed, too loose wanders."),
     marked("Push the axle in and out through its hub and read how far it goes. About 0.2 to 0.3 mm is wanted (common "
            "practice)."),
     "", &gauge::end_float, no, no},
    {"axle_float", P::prepare, marked("End float of the axle"),
     marked("Too tight binds and costs speed, too loose wanders."),
     marked(
         "Push the axle to the left and to the right and read how far it goes. About 0.2 to 0.3 mm is wanted (common "
         "practice)."),
     "", &gauge::axle_float, no, no},
    {"posts", P::prepare, marked("Steering posts"),
     marked("Cranks that are clamped do not come back to the middle; loose ones wander."),
     marked("Turn each post's screw in until the crank just binds, counting, then back off: half a turn from tight "
            "(common "
            "practice). Read how far it is out from tight."),
     marked("Battery out, or motor unplugged and pinion off mesh."), &gauge::post_play, no, no},
    {"build_open", P::shocks, marked("Shocks apart and clean"),
     marked("A scratched shaft or a swollen seal undoes all that follows."),
     marked("Springs off, oil out, body, shaft, piston and seals cleaned and looked at. What is scratched, bent or "
            "swollen is "
            "replaced, on both sides."),
     marked("Gloves and a tray for the fluid: it makes floors and hands slippery. A spring jumps when its cup slips."),
     std::nullopt, no, no, no, yes, StepFor::shocks},
    {"build_parts", P::shocks, marked("The same parts left and right"),
     marked("A piston or a spacer that differs is a shock that differs, whatever the oil."),
     marked("Lay both out side by side: piston, spacers on the shaft, eyelet, spring. Seals greased, spacers and seals "
            "stacked, "
            "the lower cap first finger-tight so that nothing binds. A spacer under the piston makes the stroke "
            "shorter; one "
            "above the eyelet changes the length and leaves the stroke."),
     "", std::nullopt, no, no, no, yes, StepFor::shocks, shock_hardware},
    {"build_exposed", P::shocks, marked("Shaft exposed, pulled out"),
     marked("Both shafts must come out alike, or the droop is unlike before any screw is touched."),
     marked(
         "Hold the shaft in soft jaws in its middle while the eyelet goes on. Pull it fully out and measure from the "
         "body's "
         "lower end to the eyelet's top."),
     marked("Never grip a shaft with bare pliers: a scratch leaks."), &gauge::shaft_exposed, no, no, no, yes},
    {"build_fill", P::shocks, marked("Filled, air let rise"),
     marked("Air in the oil makes a shock that changes while it is driven."),
     marked(
         "Fill to the rim with the shaft out, work the shaft slowly a few times, and wait some minutes until no bubble "
         "rises."),
     marked("Gloves and a tray; keep the fluid from eyes and tyres, as its maker says."), std::nullopt, no, no, no, yes,
     StepFor::shocks, shock_oil},
    {"build_bleed", P::shocks, marked("Bled twice"), marked("What is too much comes out here, not on the track."),
     marked(
         "Bleed screw out, a cup under the eyelet so that the piston stays in the oil. Push the shaft slowly in: the "
         "surplus "
         "comes out. Screw in, work the shaft, open again and push once more."),
     marked("Eye protection: oil may squirt from the bleed hole."), std::nullopt, no, no, no, yes, StepFor::shocks},
    {"build_rebound", P::shocks, marked("Rebound alike"),
     marked("Too much oil pushes the shaft out and works like a spring of its own."),
     marked("Push both shafts in, let go: each should come out about half way by itself (common practice). All the way "
            "is too "
            "much oil: bleed again. Both must come as far."),
     "", std::nullopt, no, no, no, yes, StepFor::shocks},
    {"build_alike", P::shocks, marked("Feel and pack, left against right"),
     marked("The hand tells a difference of oil or piston that no caliper shows."),
     marked(
         "One shock in each hand, push both slowly, then fast. Slow tells the oil and the holes; where one goes hard "
         "earlier "
         "on a fast push it packs earlier: another piston, or air. What differs is opened again."),
     "", std::nullopt, no, no, no, yes, StepFor::shocks, shock_damping},
    {"third_build", P::shocks, marked("Third damper apart, filled and bled"),
     marked("It bears what both wheels do together: air in it is felt on every landing and at the brakes."),
     marked("Apart and clean, the piston and spacers of the setup on its shaft. Fill to the rim with the shaft out, "
            "work it, "
            "let "
            "the air rise for some minutes, close it and bleed it as the others. There is no second one to feel it "
            "against: "
            "note how far the shaft comes out by itself."),
     marked("Gloves and a tray for the fluid: it makes floors and hands slippery. Eye protection at the bleed hole."),
     std::nullopt, no, no, no, yes, StepFor::third_damper, third_damping},
    {"third_free", P::shocks, marked("Levers free, third element works in heave alone"),
     marked("A lever that binds is a bar: the car then rolls on what should only work when both wheels move."),
     marked("Rods on, shocks off. Both levers turn freely on their pivots. Lift both arms alike: the shaft goes in. "
            "Lift one "
            "and "
            "lower the other as far: the shaft stays where it is. The rods are equal left and right."),
     marked("Fingers clear of the levers; a spring jumps when its cup slips."), std::nullopt, no, no, no, yes,
     StepFor::third_damper, third_lever},
    {"shock_pair", P::shocks, marked("Shocks as a pair"),
     marked("Shocks of unequal length make unequal droop before any screw is touched."),
     marked("Rebuilt and bled, pulled out as far as they go: measure between the two mounting eyes."),
     marked("Gloves and a tray for the fluid: it makes floors and hands slippery."), &gauge::shock_pulled_out, yes, no},
    {"links", P::links, marked("Link length"), marked("Angles can only be equal when the links are."),
     marked(
         "Measure with the caliper as set in the bench kit. All turnbuckles with the marked thread on the same side."),
     "", &gauge::link_length, yes, yes},
    {"ride_height", P::ride_height, marked("Ride height"), marked("Camber, toe and droop are all counted from here."),
     marked("On a flat board, tyres on, battery and body in, bounced first. Under the plate at the gauge point, not "
            "under a "
            "part "
            "that may tilt. Same collar left and right."),
     marked("Lithium packs only as their maker says; never crushed by a plate or pierced by a long screw."),
     &gauge::ride_height, yes, yes},
    {"collars", P::ride_height, marked("Collars alike"),
     marked("Unequal collars are unequal springs, and twist the car."),
     marked(
         "From the shock's upper pin down to the collar. Collars set ride height and corner weights; they never cure a "
         "twisted chassis."),
     "", &gauge::collar, no, no},
    {"down_stop", P::droop, marked("Down-stop"),
     marked("Both wheels must stop at the same height, or the car turns differently left and right."),
     marked(
         "Plate on the blocks, wheels off. Read the stepped gauge under the arm's outer end. A higher number is less "
         "droop."),
     "", &gauge::down_stop, no, no},
    {"tyre_droop", P::droop, marked("Droop at the tyre"), marked("What the wheel really does, hub and arm included."),
     marked("Plate on blocks that keep the tyres off the bench, wheels on and hanging. Read how far the tyre's lowest "
            "point "
            "hangs below the underside of the plate, or below the line on the block, as set in the bench kit."),
     "", &gauge::tyre_droop, yes, no},
    {"shock_droop", P::droop, marked("Shock with the wheel hanging"),
     marked("Tells what stops the arm first: a screw, or the shock itself."),
     marked("Measure between the shock's mounts with the arm hanging."), "", &gauge::shock_droop, no, no},
    {"camber", P::camber, marked("Camber"), marked("It sets how the tyre stands in the corner and on the straight."),
     marked("At ride height, with tyres or set-up wheels, gauge on the wheel's face. Turn the camber link."), "",
     &gauge::camber, yes, yes},
    {"caster", P::caster, marked("Caster blocks or links"),
     marked("Left and right must carry the same block; links set to the same turns."),
     marked("Look at the marks of both blocks, or compare the two upper links on each side."), "", std::nullopt, yes,
     no, yes, no, StepFor::car, caster_part},
    {"toe", P::toe, marked("Toe"), marked("It was moved by every step before this one."),
     marked("At ride height, steering in the middle, on the toe plate. Turn the tie rod or toe link."), "", &gauge::toe,
     yes, yes},
    {"toe_pressed", P::toe, marked("Rear toe with the car pressed down"),
     marked(
         "A rear that loses toe-in as it squats lets go where it should hold: it is seen only with the car pressed."),
     marked("Press the rear down onto its stop, hold it, and read the toe plate again, each wheel by itself."),
     marked("Fingers clear of arms and plate."), &gauge::toe_pressed, no, no},
    {"square", P::steering, marked("Servo horn square"),
     marked("A horn that is not square steers further to one side."),
     marked("Steering in the middle: the horn stands square to its link, both tie rods are equal."),
     marked("Battery out, or motor unplugged and pinion off mesh, before the servo is moved under power."),
     std::nullopt, yes, no},
    {"lock_hanging", P::steering, marked("Lock with the wheels hanging"),
     marked("Bump steer moves the knuckle on as the car lifts: the room at full lock is another there."),
     marked("Car on a stand, wheels hanging. Turn slowly until something touches or the servo begins to strain, back a "
            "hair, "
            "and read the inside wheel. Left column: lock to the left."),
     marked("Battery out, or motor unplugged and pinion off mesh."), &gauge::lock_hanging, yes, no},
    {"lock_level", P::steering, marked("Lock at ride height"),
     marked("The one that everybody looks at; seldom the smallest."),
     marked("On the board at ride height. Turn slowly until something touches or the servo begins to strain, back a "
            "hair, and "
            "read the inside wheel."),
     marked("Battery out, or motor unplugged and pinion off mesh."), &gauge::lock_level, yes, no},
    {"lock_pressed", P::steering, marked("Lock with the car pressed down"),
     marked("In bump the knuckle, a link or the horn may meet something that it misses at ride height."),
     marked(
         "Press the front down onto its stop and hold it. Turn slowly until something touches or the servo begins to "
         "strain, back a hair, and read the inside wheel."),
     marked("Battery out, or motor unplugged and pinion off mesh. Fingers clear of the knuckles."),
     &gauge::lock_pressed, yes, no},
    {"lock", P::steering, marked("End point, inside wheel"),
     marked("An end point set only at ride height stalls the servo where bump steer moves the knuckle on: the smallest "
            "of the "
            "three counts."),
     marked(
         "At ride height, set the transmitter's end points so that the inside wheel reads this at full lock, each way; "
         "then "
         "press the car down and let it hang at full lock: the servo must not strain anywhere."),
     marked("Battery out, or motor unplugged and pinion off mesh."), &gauge::lock_inside, yes, no},
    {"bar_flat", P::bars, marked("Bar flat and alike"),
     marked("A twisted wire presses on one wheel before the car has rolled."),
     marked("Wire out, on a flat plate: both arms touch along their length. What stands off is bent back, or the wire "
            "replaced."),
     marked("Eye protection when spring wire is bent or cut."), std::nullopt, no, no, yes, no, StepFor::bars, bar_wire},
    {"bar_free", P::bars, marked("Bar centred and free"),
     marked("A bar that binds in its holders is a spring without a number."),
     marked(
         "Links off: the bar falls by its own weight from any place, with a little play to the sides, as much left as "
         "right."),
     "", std::nullopt, no, no, yes, no, StepFor::bars},
    {"bar_links", P::bars, marked("Bar links upright and of one length"),
     marked("A link that leans pulls unevenly; one that is longer presses on one wheel."),
     marked("At ride height both links stand upright from the side and from the front, ball to ball the same length."),
     "", std::nullopt, no, no, yes, no, StepFor::bars},
    {"bar", P::bars, marked("Anti-roll bar lifts evenly"), marked("A bar with unequal links is a spring on one side."),
     marked("Shocks off, plate on the blocks. Lift one arm with the stepped gauge until the other starts to move; then "
            "the "
            "other "
            "side."),
     marked("Eye protection when spring wire is bent or cut."), &gauge::bar_lift, yes, no},
    {"pull_down", P::weight, marked("Spring pressure, pulled down"),
     marked("Equal numbers from two makers are not equal springs: what presses the tyre is what counts, and it can be "
            "read."),
     marked("Scales under this axle's wheels, a block of the same height under the other axle's. Pull the chassis down "
            "with a "
            "caliper clamped over the bench's edge, a few depths from 0 on; both scales together."),
     marked("Fingers clear of the shocks; a spring under load jumps when its cup slips."), &gauge::pull_down, no, no},
    {"weight", P::weight, marked("Corner weights"),
     marked("Left must equal right on each axle; cross weight is then 50 %."),
     marked("Four scales on a level board, car bounced, battery and body in."), "", &gauge::corner_scale, no, no},
    {"final", P::final_look, marked("Final look"), marked("A loose screw undoes all of it."),
     marked(
         "Every ball cup closed, every screw tight, nothing rubs at full lock and full bump, the rules of your club or "
         "federation kept."),
     "", std::nullopt, yes, yes},
});

bool in_list(const StepSpec& s, BenchList list) {
  switch (list) {
    case BenchList::full:
      return s.full;
    case BenchList::after_crash:
      return s.after_crash;
    case BenchList::between_rounds:
      return s.between_rounds;
    case BenchList::shocks:
      return s.building || s.id == "shock_pair";
  }
  return true;
}

/// Steps without a gauge that a car may not have.
bool applies(const StepSpec& s, const Car& car) {
  if (s.id == "caster") return car.axle(End::front).mechanism->steered;
  if (s.id == "square") return car.steering.spec && car.steering.spec->horn_ball;
  return true;
}

/// Whether a step without a gauge is done at this end.
bool done_at(const StepSpec& s, const Car& car, End end) {
  const Axle& axle = car.axle(end);
  if (s.each == StepFor::bars) return axle.has(attachment::bar_arm) && axle.has(attachment::bar_end);
  if (s.each == StepFor::third_damper) return may_have_third_damper(car, end);
  return axle.has(attachment::shock_upper) && axle.has(attachment::shock_lower);
}

std::vector<BenchStep> steps_where(const Car& car, const std::function<bool(const StepSpec&)>& wanted) {
  std::vector<Gauge> gauges = gauges_of(car);
  const std::vector<Gauge> play = play_of(car);
  gauges.insert(gauges.end(), play.begin(), play.end());
  std::vector<BenchStep> steps;
  for (const StepSpec& s : step_rows) {
    if (!wanted(s) || !applies(s, car)) continue;
    if (!s.gauge && s.each == StepFor::car) {
      steps.push_back({&s, std::nullopt, std::nullopt, std::string(s.id), std::string(s.title)});
      continue;
    }
    if (!s.gauge) {
      for (const End end : both_ends)
        if (done_at(s, car, end))
          steps.push_back({&s, std::nullopt, end, fmt::format("{}:{}", s.id, name_of(end)),
                           fmt::format("{}, {}", s.title, word(end))});
      continue;
    }
    for (const Gauge& g : gauges) {
      if (g.kind != *s.gauge) continue;
      const MechanismSpec& mechanism = *car.axle(g.end).mechanism;
      if (!g.link) {
        steps.push_back(
            {&s, g, g.end, fmt::format("{}:{}", s.id, name_of(g.end)), fmt::format("{}, {}", s.title, word(g.end))});
      } else {
        const LinkSpec& link = mechanism.links[g.link];
        steps.push_back({&s, g, g.end, fmt::format("{}:{}:{}", s.id, name_of(g.end), link.id),
                         say("Link, {axle} {link}", "axle"_a = word(g.end), "link"_a = word(link.label))});
      }
    }
  }
  return steps;
}

}  // namespace

std::string_view name_of(BenchPhase phase) {
  switch (phase) {
    case P::prepare:
      return marked("prepare");
    case P::shocks:
      return marked("shocks");
    case P::links:
      return marked("links");
    case P::ride_height:
      return marked("ride height");
    case P::droop:
      return marked("droop");
    case P::camber:
      return marked("camber");
    case P::caster:
      return marked("caster");
    case P::toe:
      return marked("toe");
    case P::steering:
      return marked("steering");
    case P::bars:
      return marked("bars");
    case P::weight:
      return marked("weight");
    case P::final_look:
      return marked("final look");
  }
  return {};
}

std::string_view id_of(BenchList list) {
  switch (list) {
    case BenchList::full:
      return "full";
    case BenchList::after_crash:
      return "after_crash";
    case BenchList::between_rounds:
      return "between_rounds";
    case BenchList::shocks:
      return "shocks";
  }
  return {};
}

std::span<const StepSpec> step_specs() {
  return step_rows;
}

bool may_have_third_damper(const Car& car, End end) {
  const auto known = [&](Size size) { return car.axle(end).size_of(size) > 0.0; };
  return known(Size::heave_damping) || known(Size::third_holes) ||
         std::any_of(car.adjusters.begin(), car.adjusters.end(), [&](const Adjuster& a) {
           return a.end == end && changes_size(a, {Size::third_holes, Size::heave_damping});
         });
}

std::vector<PartHandle> parts_named(const Car& car, const BenchStep& step) {
  std::vector<PartHandle> parts;
  if (!step.spec->names) return parts;
  for (const PartHandle i : car.adjusters.handles()) {
    const Adjuster& a = car.adjusters[i];
    if ((!step.end || a.end == *step.end) && step.spec->names(a)) parts.push_back(i);
  }
  return parts;
}

std::vector<BenchStep> every_step(const Car& car) {
  return steps_where(car, [](const StepSpec&) { return true; });
}

std::vector<BenchStep> bench_steps(const Car& car, BenchList list) {
  return steps_where(car, [list](const StepSpec& s) { return in_list(s, list); });
}

}  // namespace lowkite
