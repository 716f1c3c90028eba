#include "core/bench/steps.hpp"

#include <fmt/format.h>

namespace lowkite {
namespace {

using P = BenchPhase;

constexpr bool yes = true;
constexpr bool no = false;

constexpr std::array step_rows = std::to_array<StepSpec>({
    {"free", P::prepare, "Everything falls freely", "A part that binds hides what every later step should show.",
     "Take the shocks off. Lift each arm and let it go: it must fall under its own weight. Turn each hub and steering "
     "part "
     "by hand. Replace what is worn or bent.",
     "Wheels off the bench: put the car on a stand, clear of fingers and hair. Eye protection for grinding or "
     "drilling.",
     std::nullopt, yes, no},
    {"play", P::prepare, "Play felt and written down",
     "Play sets the floor of what any gauge can tell: 0.2 mm of slop reads as 0.2 mm of droop.",
     "Rock each wheel. A little play is wanted; put what you find into the bench kit as play.", "", std::nullopt, no,
     no},
    {"shock_pair", P::shocks, "Shocks as a pair",
     "Shocks of unequal length make unequal droop before any screw is touched.",
     "Rebuilt and bled, pulled out as far as they go: measure between the two mounting eyes.",
     "Gloves and a tray for the fluid: it makes floors and hands slippery.", &gauge::shock_pulled_out, yes, no},
    {"links", P::links, "Link length", "Angles can only be equal when the links are.",
     "Measure with the caliper as set in the bench kit. All turnbuckles with the marked thread on the same side.", "",
     &gauge::link_length, yes, yes},
    {"ride_height", P::ride_height, "Ride height", "Camber, toe and droop are all counted from here.",
     "On a flat board, tyres on, battery and body in, bounced first. Under the plate at the gauge point, not under a "
     "part "
     "that may tilt. Same collar left and right.",
     "Lithium packs only as their maker says; never crushed by a plate or pierced by a long screw.",
     &gauge::ride_height, yes, yes},
    {"down_stop", P::droop, "Down-stop",
     "The screws stop both wheels at the same height, or the car turns differently left and right.",
     "Plate on the blocks, wheels off. Read the stepped gauge under the arm's outer end. A higher number is less "
     "droop.",
     "", &gauge::down_stop, no, no},
    {"tyre_droop", P::droop, "Droop at the tyre", "What the wheel really does, hub and arm included.",
     "Plate on blocks that keep the tyres off the bench, wheels on and hanging. Read how far the tyre's lowest point "
     "hangs below the underside of the plate, or below the line on the block, as set in the bench kit.",
     "", &gauge::tyre_droop, yes, no},
    {"shock_droop", P::droop, "Shock with the wheel hanging", "Tells whether the screw or the shock stops the arm.",
     "Measure between the shock's mounts with the arm hanging.", "", &gauge::shock_droop, no, no},
    {"camber", P::camber, "Camber", "It sets how the tyre stands in the corner and on the straight.",
     "At ride height, with tyres or set-up wheels, gauge on the wheel's face. Turn the camber link.", "",
     &gauge::camber, yes, yes},
    {"caster", P::caster, "Caster blocks or links",
     "Left and right must carry the same block; links set to the same turns.",
     "Look at the marks of both blocks, or compare the two upper links on each side.", "", std::nullopt, yes, no},
    {"toe", P::toe, "Toe", "It was moved by every step before this one.",
     "At ride height, steering in the middle, on the toe plate. Turn the tie rod or toe link.", "", &gauge::toe, yes,
     yes},
    {"square", P::steering, "Servo horn square", "A horn that is not square steers further to one side.",
     "Steering in the middle: the horn stands square to its link, both tie rods are equal.",
     "Battery out, or motor unplugged and pinion off mesh, before the servo is moved under power.", std::nullopt, yes,
     no},
    {"lock_hanging", P::steering, "Lock with the wheels hanging",
     "Bump steer moves the knuckle on as the car lifts: the room at full lock is another there.",
     "Car on a stand, wheels hanging. Turn slowly until something touches or the servo begins to strain, back a hair, "
     "and read the inside wheel. Left column: lock to the left.",
     "Battery out, or motor unplugged and pinion off mesh.", &gauge::lock_hanging, yes, no},
    {"lock_level", P::steering, "Lock at ride height", "The one that everybody looks at; seldom the smallest.",
     "On the board at ride height. Turn slowly until something touches or the servo begins to strain, back a hair, and "
     "read the inside wheel.",
     "Battery out, or motor unplugged and pinion off mesh.", &gauge::lock_level, yes, no},
    {"lock_pressed", P::steering, "Lock with the car pressed down",
     "In bump the knuckle, a link or the horn may meet something that it misses at ride height.",
     "Press the front down onto its stop and hold it. Turn slowly until something touches or the servo begins to "
     "strain, back a hair, and read the inside wheel.",
     "Battery out, or motor unplugged and pinion off mesh. Fingers clear of the knuckles.", &gauge::lock_pressed, yes,
     no},
    {"lock", P::steering, "End point, inside wheel",
     "An end point set only at ride height stalls the servo where bump steer moves the knuckle on: the smallest of the "
     "three counts.",
     "At ride height, set the transmitter's end points so that the inside wheel reads this at full lock, each way; "
     "then "
     "press the car down and let it hang at full lock: the servo must not strain anywhere.",
     "Battery out, or motor unplugged and pinion off mesh.", &gauge::lock_inside, yes, no},
    {"bar", P::bars, "Anti-roll bar lifts evenly", "A bar with unequal links is a spring on one side.",
     "Shocks off, plate on the blocks. Lift one arm with the stepped gauge until the other starts to move; then the "
     "other "
     "side.",
     "Eye protection when spring wire is bent or cut.", &gauge::bar_lift, yes, no},
    {"pull_down", P::weight, "Spring pressure, pulled down",
     "Equal numbers from two makers are not equal springs: what presses the tyre is what counts, and it can be read.",
     "Scales under this axle's wheels, a block of the same height under the other axle's. Pull the chassis down with a "
     "caliper clamped over the bench's edge, a few depths from 0 on; both scales together.",
     "Fingers clear of the shocks; a spring under load jumps when its cup slips.", &gauge::pull_down, no, no},
    {"weight", P::weight, "Corner weights", "Left must equal right on each axle; cross weight is then 50 %.",
     "Four scales on a level board, car bounced, battery and body in.", "", &gauge::corner_scale, no, no},
    {"final", P::final_look, "Final look", "A loose screw undoes all of it.",
     "Every ball cup closed, every screw tight, nothing rubs at full lock and full bump, the rules of your club or "
     "federation kept.",
     "", std::nullopt, yes, yes},
});

bool in_list(const StepSpec& s, BenchList list) {
  switch (list) {
    case BenchList::full:
      return true;
    case BenchList::after_crash:
      return s.after_crash;
    case BenchList::between_rounds:
      return s.between_rounds;
  }
  return true;
}

/// Steps without a gauge that a car may not have.
bool applies(const StepSpec& s, const Car& car) {
  if (s.id == "caster") return car.axle(End::front).mechanism->steered;
  if (s.id == "square") return car.steering.spec && car.steering.spec->horn_ball != no_point;
  return true;
}

}  // namespace

std::string_view name_of(BenchPhase phase) {
  switch (phase) {
    case P::prepare:
      return "prepare";
    case P::shocks:
      return "shocks";
    case P::links:
      return "links";
    case P::ride_height:
      return "ride height";
    case P::droop:
      return "droop";
    case P::camber:
      return "camber";
    case P::caster:
      return "caster";
    case P::toe:
      return "toe";
    case P::steering:
      return "steering";
    case P::bars:
      return "bars";
    case P::weight:
      return "weight";
    case P::final_look:
      return "final look";
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
  }
  return {};
}

std::span<const StepSpec> step_specs() {
  return step_rows;
}

std::vector<BenchStep> bench_steps(const Car& car, BenchList list) {
  const std::vector<Gauge> gauges = gauges_of(car);
  std::vector<BenchStep> steps;
  for (const StepSpec& s : step_rows) {
    if (!in_list(s, list) || !applies(s, car)) continue;
    if (!s.gauge) {
      steps.push_back({&s, std::nullopt, std::string(s.id), std::string(s.title)});
      continue;
    }
    for (const Gauge& g : gauges) {
      if (g.kind != *s.gauge) continue;
      const MechanismSpec& mechanism = *car.axle(g.end).mechanism;
      if (g.link == no_point) {
        steps.push_back(
            {&s, g, fmt::format("{}:{}", s.id, name_of(g.end)), fmt::format("{}, {}", s.title, name_of(g.end))});
      } else {
        const LinkSpec& link = mechanism.links[static_cast<std::size_t>(g.link)];
        steps.push_back({&s, g, fmt::format("{}:{}:{}", s.id, name_of(g.end), link.id),
                         fmt::format("Link, {} {}", name_of(g.end), link.label)});
      }
    }
  }
  return steps;
}

}  // namespace lowkite
