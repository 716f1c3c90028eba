#include "core/log/log.hpp"

#include <array>

#include "core/linkage/at.hpp"
#include "core/linkage/in_order.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr auto surface_list = std::to_array<Named<Surface>>({{Surface::unknown, "unknown", marked("not said")},
                                                             {Surface::asphalt, "asphalt", marked("asphalt")},
                                                             {Surface::carpet, "carpet", marked("carpet")},
                                                             {Surface::clay, "clay", marked("clay")},
                                                             {Surface::loose_dirt, "loose_dirt", marked("loose dirt")},
                                                             {Surface::turf, "turf", marked("turf")}});
constexpr auto grip_list = std::to_array<Named<Grip>>({{Grip::unknown, "unknown", marked("not said")},
                                                       {Grip::low, "low", marked("low grip")},
                                                       {Grip::medium, "medium", marked("medium grip")},
                                                       {Grip::high, "high", marked("high grip")}});
constexpr auto bump_list = std::to_array<Named<Bumps>>({{Bumps::unknown, "unknown", marked("not said")},
                                                        {Bumps::smooth, "smooth", marked("smooth")},
                                                        {Bumps::some, "some", marked("some bumps")},
                                                        {Bumps::rough, "rough", marked("rough")}});
constexpr auto phase_list = std::to_array<Named<Phase>>({{Phase::straight, "straight", marked("straight")},
                                                         {Phase::braking, "braking", marked("braking")},
                                                         {Phase::entry, "entry", marked("entry")},
                                                         {Phase::middle, "middle", marked("middle")},
                                                         {Phase::exit, "exit", marked("exit")},
                                                         {Phase::bumps, "bumps", marked("bumps")},
                                                         {Phase::jumps, "jumps", marked("jumps and landings")}});
constexpr auto sense_list = std::to_array<SenseWords>({
    {Sense::front_grip, "front_grip", marked("Front"), marked("pushes wide"), marked("bites too hard")},
    {Sense::rear_grip, "rear_grip", marked("Rear"), marked("steps out"), marked("stuck")},
    {Sense::response, "response", marked("Response"), marked("lazy"), marked("nervous")},
    {Sense::roll, "roll", marked("Roll"), marked("too flat"), marked("leans too much")},
    {Sense::ride, "ride", marked("Ride"), marked("harsh"), marked("wallows")},
    {Sense::tip, "tip", marked("On its wheels"), "", marked("tips over")},
    {Sense::lift, "lift", marked("Inside wheel"), "", marked("lifts")},
    {Sense::fade, "fade", marked("Over the run"), "", marked("grip fades")},
});
constexpr auto turn_list = std::to_array<Named<TurnWay>>({{TurnWay::both, "both", marked("both ways")},
                                                          {TurnWay::left, "left", marked("left turns")},
                                                          {TurnWay::right, "right", marked("right turns")}});
constexpr auto mark_list = std::to_array<Named<LapMark>>({{LapMark::ordinary, "ordinary", marked("counts")},
                                                          {LapMark::traffic, "traffic", marked("traffic")},
                                                          {LapMark::crash, "crash", marked("crash")},
                                                          {LapMark::out, "out", marked("out lap")}});
constexpr auto verdict_list = std::to_array<Named<Verdict>>({{Verdict::none, "none", marked("not said")},
                                                             {Verdict::worse, "worse", marked("worse")},
                                                             {Verdict::same, "same", marked("the same")},
                                                             {Verdict::better, "better", marked("better")}});

static_assert(in_order(sense_list, &SenseWords::sense));

}  // namespace

std::span<const Named<Surface>> surfaces() {
  return surface_list;
}
std::span<const Named<Grip>> grips() {
  return grip_list;
}
std::span<const Named<Bumps>> bump_kinds() {
  return bump_list;
}
std::span<const Named<Phase>> phases() {
  return phase_list;
}
std::span<const SenseWords> senses() {
  return sense_list;
}
std::span<const Named<TurnWay>> turn_ways() {
  return turn_list;
}
std::span<const Named<LapMark>> lap_marks() {
  return mark_list;
}
std::span<const Named<Verdict>> verdicts() {
  return verdict_list;
}

const SenseWords& words_of(Sense sense) {
  return sense_list[at(sense)];
}

std::optional<Sense> sense_of_id(std::string_view id) {
  for (const SenseWords& w : sense_list)
    if (w.id == id) return w.sense;
  return std::nullopt;
}

}  // namespace lowkite
