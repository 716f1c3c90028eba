#include "core/log/log.hpp"

#include <array>

#include "core/linkage/in_order.hpp"

namespace lowkite {
namespace {

constexpr auto surface_list = std::to_array<Named<Surface>>({{Surface::unknown, "unknown", "not said"},
                                                             {Surface::asphalt, "asphalt", "asphalt"},
                                                             {Surface::carpet, "carpet", "carpet"},
                                                             {Surface::clay, "clay", "clay"},
                                                             {Surface::loose_dirt, "loose_dirt", "loose dirt"},
                                                             {Surface::turf, "turf", "turf"}});
constexpr auto grip_list = std::to_array<Named<Grip>>({{Grip::unknown, "unknown", "not said"},
                                                       {Grip::low, "low", "low grip"},
                                                       {Grip::medium, "medium", "medium grip"},
                                                       {Grip::high, "high", "high grip"}});
constexpr auto bump_list = std::to_array<Named<Bumps>>({{Bumps::unknown, "unknown", "not said"},
                                                        {Bumps::smooth, "smooth", "smooth"},
                                                        {Bumps::some, "some", "some bumps"},
                                                        {Bumps::rough, "rough", "rough"}});
constexpr auto phase_list = std::to_array<Named<Phase>>({{Phase::straight, "straight", "straight"},
                                                         {Phase::braking, "braking", "braking"},
                                                         {Phase::entry, "entry", "entry"},
                                                         {Phase::middle, "middle", "middle"},
                                                         {Phase::exit, "exit", "exit"},
                                                         {Phase::bumps, "bumps", "bumps"},
                                                         {Phase::jumps, "jumps", "jumps and landings"}});
constexpr auto sense_list = std::to_array<SenseWords>({
    {Sense::front_grip, "front_grip", "Front", "pushes wide", "bites too hard"},
    {Sense::rear_grip, "rear_grip", "Rear", "steps out", "stuck"},
    {Sense::response, "response", "Response", "lazy", "nervous"},
    {Sense::roll, "roll", "Roll", "too flat", "leans too much"},
    {Sense::ride, "ride", "Ride", "harsh", "wallows"},
    {Sense::tip, "tip", "On its wheels", "", "tips over"},
    {Sense::lift, "lift", "Inside wheel", "", "lifts"},
    {Sense::fade, "fade", "Over the run", "", "grip fades"},
});
constexpr auto turn_list = std::to_array<Named<TurnWay>>({{TurnWay::both, "both", "both ways"},
                                                          {TurnWay::left, "left", "left turns"},
                                                          {TurnWay::right, "right", "right turns"}});
constexpr auto mark_list = std::to_array<Named<LapMark>>({{LapMark::ordinary, "ordinary", "counts"},
                                                          {LapMark::traffic, "traffic", "traffic"},
                                                          {LapMark::crash, "crash", "crash"},
                                                          {LapMark::out, "out", "out lap"}});
constexpr auto verdict_list = std::to_array<Named<Verdict>>({{Verdict::none, "none", "not said"},
                                                             {Verdict::worse, "worse", "worse"},
                                                             {Verdict::same, "same", "the same"},
                                                             {Verdict::better, "better", "better"}});

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
  return sense_list[static_cast<std::size_t>(sense)];
}

std::optional<Sense> sense_of_id(std::string_view id) {
  for (const SenseWords& w : sense_list)
    if (w.id == id) return w.sense;
  return std::nullopt;
}

}  // namespace lowkite
