// The car in motion: what each wheel and the body do over an event of the road or the steering.
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "core/io/csv.hpp"
#include "core/io/json_document.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

void print_rows(const Motion& m) {
  std::vector<std::string> heading{"t_s", "heave_mm", "roll_deg", "pitch_deg"};
  for (const char* what : {"load_n", "travel_mm"})
    for (const End e : both_ends)
      for (const Side s : both_sides) heading.push_back(fmt::format("{}_{}_{}", name_of(e), name_of(s), what));
  for (const End e : both_ends) heading.push_back(fmt::format("{}_clear_mm", name_of(e)));
  std::cout << csv_row(heading);
  for (const MotionSample& s : m.samples) {
    std::vector<std::string> row{fmt::format("{:.3f}", s.t_s), fmt::format("{:.6f}", s.heave_mm),
                                 fmt::format("{:.6f}", s.roll_deg), fmt::format("{:.6f}", s.pitch_deg)};
    for (const auto* table : {&s.load_n, &s.travel_mm})
      for (const End e : both_ends)
        for (const Side side : both_sides) row.push_back(fmt::format("{:.6f}", (*table)[at(e)][at(side)]));
    for (const End e : both_ends) row.push_back(fmt::format("{:.6f}", s.clear_mm[at(e)]));
    std::cout << csv_row(row);
  }
}

Json json_of(const MotionSummary& s) {
  Json j{{"most_roll_deg", s.most_roll_deg},
         {"most_pitch_deg", s.most_pitch_deg},
         {"settled_s", s.settled_s},
         {"plate_down_s", s.plate_down_s ? Json(*s.plate_down_s) : Json()},
         {"plate_speed_mm_s", s.plate_speed_mm_s},
         {"springs_n_mm", s.springs_n_mm},
         {"stops_n_mm", s.stops_n_mm},
         {"dampers_n_mm", s.dampers_n_mm}};
  for (const End e : both_ends)
    j["axles"][std::string(name_of(e))] = {
        {"most_stroke_mm", s.most_stroke_mm[at(e)]},  {"stroke_share", s.stroke_share[at(e)]},
        {"load_unrest", s.load_unrest[at(e)]},        {"least_load_g", grams(s.least_load_n[at(e)])},
        {"most_load_g", grams(s.most_load_n[at(e)])}, {"air_s", s.air_s[at(e)]}};
  return j;
}

void print_summary(const MotionSummary& s) {
  for (const End e : both_ends)
    std::cout << say(
        "  {axle:<5} stroke {stroke:.1f} mm ({share:.0f} %), a wheel's load {least:.0f} to {most:.0f} g, its unrest "
        "{unrest:.0f} %, in "
        "the air {air:.3f} s\n",
        "axle"_a = word(e), "stroke"_a = s.most_stroke_mm[at(e)], "share"_a = 100.0 * s.stroke_share[at(e)],
        "least"_a = grams(s.least_load_n[at(e)]), "most"_a = grams(s.most_load_n[at(e)]),
        "unrest"_a = 100.0 * s.load_unrest[at(e)], "air"_a = s.air_s[at(e)]);
  std::cout << say("  most roll {roll:.2f} deg, most pitch {pitch:.2f} deg, settled after {settled:.2f} s\n",
                   "roll"_a = s.most_roll_deg, "pitch"_a = s.most_pitch_deg, "settled"_a = s.settled_s);
  if (s.plate_down_s)
    std::cout << say("  the plate touches after {after:.3f} s at {speed:.2f} m/s\n", "after"_a = *s.plate_down_s,
                     "speed"_a = s.plate_speed_mm_s / 1000.0);
  std::cout << say(
      "  at the deepest: springs {springs:.0f}, stops and plate {stops:.0f}, taken by the dampers {dampers:.0f} N mm\n",
      "springs"_a = s.springs_n_mm, "stops"_a = s.stops_n_mm, "dampers"_a = s.dampers_n_mm);
}

}  // namespace

int motion(const MotionOptions& options) {
  const auto on = put_on_springs(options.inputs);
  if (!on) return refuse(on.error());
  RoadCase road = options.road;
  std::string event;
  for (const RoadEventSpec& e : road_events())
    if (e.id == options.event) {
      road.event = e.event;
      event = word(e.label);
    }
  const auto m = drive_over(*(*on)->loaded, road);
  if (!m)
    return refuse({fault_of(options.inputs, options.event, m.error().message, say("an event that the car can take"))});
  switch (options.format) {
    case Format::csv:
      print_rows(*m);
      break;
    case Format::json:
      std::cout << json_of(m->summary).dump(2) << "\n";
      break;
    case Format::text:
      std::cout << fmt::format("{} - {} - {}\n", (*on)->files.car.name, (*on)->files.setup.name, event);
      print_summary(m->summary);
      break;
  }
  return done;
}

}  // namespace lowkite::calc
