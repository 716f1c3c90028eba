// The report: every figure, stop, end point and gauge of one setup at ride height.
#include <cmath>
#include <iostream>

#include <fmt/format.h>

#include "calc/commands.hpp"
#include "calc/inputs.hpp"
#include "core/bench/gauges.hpp"
#include "core/figures/variant.hpp"
#include "core/io/json_document.hpp"
#include "core/plan/bump_steer.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

constexpr int report_curve_samples = 41;

Json stop_json(const Stop& s) {
  return {{"by", name_of(s.kind)}, {"wheel_mm", s.from_ride_height_mm}};
}

Json lock_json(const LockFigures& lock) {
  Json j;
  for (const Side way : both_sides) {
    const auto end_json = [](const LockEnd& e) {
      return Json{{"servo_deg", degrees(e.servo_rad)},
                  {"ended_by", e.what},
                  {"wheel", name_of(e.wheel)},
                  {"travel_mm", e.travel_mm}};
    };
    Json& out = j[std::string(name_of(way))];
    out = end_json(lock.usable[at(way)]);
    out["at_ride_height_deg"] = degrees(lock.at_ride_height[at(way)].servo_rad);
    for (const LockSample& s : lock.over_travel) out["over_travel"].push_back(end_json(s.end[at(way)]));
  }
  return j;
}

/// Beside the figures: what they cannot say in one number.
void add_stops_and_gauges(const Car& car, const Variant& v, Json& j) {
  for (const End end : both_ends) {
    Json& axle = j["axles"][std::string(name_of(end))];
    for (const Side side : both_sides) {
      const CornerStops& stops = v.source.travel.corner[at(end)][at(side)].stops;
      Json& out = axle["stops"][std::string(name_of(side))];
      out["droop"] = stop_json(stops.droop);
      out["bump"] = stop_json(stops.bump);
      for (const Stop& s : stops.all) out["all"].push_back(stop_json(s));
    }
    for (const BumpSteerShim& s : least_bump_steer(car, v.setup, end))
      axle["least_bump_steer"].push_back({{"adjuster", car.adjusters[s.adjuster].id},
                                          {"shims_mm", s.best_mm},
                                          {"total_deg", degrees(s.span_best_rad)}});
  }
  if (v.source.travel.lock) j["lock"] = lock_json(*v.source.travel.lock);
  const BenchKit bench;
  j["bench"] = {
      {"blocks_mm", bench.down_stop_blocks_mm}, {"caliper", name_of(bench.caliper)}, {"play_mm", bench.slop_mm}};
  for (const Gauge& g : gauges_of(car)) {
    const auto value = [&](Side s) {
      const auto x = reading(g, v.model, v.source, bench, s);
      return x ? Json(*x) : Json(nullptr);
    };
    j["gauges"].push_back({{"gauge", g.label},
                           {"axle", name_of(g.end)},
                           {"unit", symbol(g.spec().unit)},
                           {"resolution", g.spec().resolution},
                           {"left", value(Side::left)},
                           {"right", value(Side::right)}});
  }
}

/// How far a wheel's droop stop holds it over the ground at ride height, mm; none: it stands.
std::optional<double> hangs_over_the_ground(const Variant& v, End end, Side side) {
  if (!v.model.corner(end, side).spec->independent) return std::nullopt;
  const double droop = v.source.travel.corner[at(end)][at(side)].stops.droop.from_ride_height_mm;
  return droop < -0.05 ? std::optional(-droop) : std::nullopt;
}

Json report_json(const Car& car, const Variant& v) {
  Json j;
  j["car"] = car.name;
  j["setup"] = v.setup.name;
  j["attitude"] = say("ride height");
  for (const End end : both_ends) {
    Json& axle = j["axles"][std::string(name_of(end))];
    for (const FigureSpec& f : geometry_figures()) {
      if (!applies(f, car, end)) continue;
      const auto value = [&](Side s) {
        const auto x = f.read(v.source, end, s);
        return x ? Json(*x) : Json(nullptr);
      };
      Json& out = axle[std::string(f.id)];
      out["unit"] = symbol(f.unit);
      if (f.per_wheel()) {
        out["left"] = value(Side::left);
        out["right"] = value(Side::right);
      } else {
        out["value"] = value(Side::left);
      }
    }
  }
  for (const End end : both_ends)
    for (const Side side : both_sides)
      if (const auto over = hangs_over_the_ground(v, end, side))
        j["axles"][std::string(name_of(end))]["hangs_over_the_ground_mm"][std::string(name_of(side))] = *over;
  add_stops_and_gauges(car, v, j);
  return j;
}

std::string in_words(const FigureSpec& f, const std::optional<double>& value) {
  if (!value) return word(f.without());
  if (f.wording == Wording::toe)
    return say("{angle:.{decimals}f} deg {way}", "angle"_a = std::abs(*value), "decimals"_a = f.decimals + 1,
               "way"_a = *value < 0 ? say("out") : say("in"));
  return fmt::format("{:.{}f} {}", *value, f.decimals + 1, symbol(f.unit));
}

void print_stops(const Variant& v, End end) {
  const auto told = [](const Stop& s) {
    return say("{travel:.2f} mm ({stop})", "travel"_a = s.from_ride_height_mm, "stop"_a = word(s.kind));
  };
  for (const bool droop : {true, false}) {
    const auto first = [&](Side side) {
      const CornerStops& stops = v.source.travel.corner[at(end)][at(side)].stops;
      return told(droop ? stops.droop : stops.bump);
    };
    const std::string left = first(Side::left);
    const std::string right = first(Side::right);
    const std::string label = droop ? say("ends in droop") : say("ends in bump");
    std::cout << (left == right ? fmt::format("  {:<30} {}\n", label, left)
                                : say("  {what:<30} left {left}, right {right}\n", "what"_a = label, "left"_a = left,
                                      "right"_a = right));
  }
}

void print_lock(const LockFigures& lock) {
  std::cout << say("\nend points over the whole travel\n");
  for (const Side way : both_sides) {
    const LockEnd& e = lock.usable[at(way)];
    std::cout << say("  {way:<30} {servo:.2f} deg of servo; ended at {travel:+.1f} mm by: {stop} ({wheel} wheel)\n",
                     "way"_a = word(way), "servo"_a = degrees(e.servo_rad), "travel"_a = e.travel_mm, "stop"_a = e.what,
                     "wheel"_a = word(e.wheel));
  }
}

void print_gauges(const Car& car, const Variant& v) {
  const BenchKit bench;
  std::cout << say("\ngauges (blocks {blocks:g} mm, caliper {caliper})\n", "blocks"_a = bench.down_stop_blocks_mm,
                   "caliper"_a = word(bench.caliper));
  for (const Gauge& g : gauges_of(car)) {
    const auto told = [&](Side s) -> std::string {
      const auto x = reading(g, v.model, v.source, bench, s);
      if (!x) return say("none here");
      if (g.spec().wording == Wording::toe)
        return say("{angle:.{decimals}f} deg {way}", "angle"_a = std::abs(*x), "decimals"_a = g.spec().decimals,
                   "way"_a = *x < 0 ? say("out") : say("in"));
      return fmt::format("{:.{}f} {}", *x, g.spec().decimals, symbol(g.spec().unit));
    };
    std::cout << say("  {axle:<6}{gauge:<32} left {left}, right {right} (tells {tells:g})\n", "axle"_a = word(g.end),
                     "gauge"_a = word(g.label), "left"_a = told(Side::left), "right"_a = told(Side::right),
                     "tells"_a = g.spec().resolution);
  }
}

void print_report(const Car& car, const Variant& v) {
  std::cout << say("{car} - {setup} - at ride height\n", "car"_a = car.name, "setup"_a = v.setup.name);
  for (const End end : both_ends) {
    std::cout << say("\n{axle} axle ({linkage})\n", "axle"_a = word(end),
                     "linkage"_a = word(car.axle(end).mechanism->label));
    for (const FigureSpec& f : geometry_figures()) {
      if (!applies(f, car, end)) continue;
      const std::string left = in_words(f, f.read(v.source, end, Side::left));
      const std::string right = in_words(f, f.read(v.source, end, Side::right));
      std::cout << (f.per_wheel() && left != right ? say("  {figure:<30} left {left}, right {right}\n",
                                                         "figure"_a = word(f.label), "left"_a = left, "right"_a = right)
                                                   : fmt::format("  {:<30} {}\n", word(f.label), left));
    }
    if (car.axle(end).mechanism->independent) print_stops(v, end);
    for (const Side side : both_sides)
      if (const auto over = hangs_over_the_ground(v, end, side))
        std::cout << say(
            "  note: the {axle} {side} wheel hangs {gap:.1f} mm over the ground at this ride height; its figures "
            "are those of a wheel held down\n",
            "axle"_a = word(end), "side"_a = word(side), "gap"_a = *over);
    for (const BumpSteerShim& s : least_bump_steer(car, v.setup, end))
      std::cout << say("  {what:<30} {size:g} mm: {angle:.3f} deg in all ({part})\n",
                       "what"_a = say("least bump steer with"), "size"_a = s.best_mm,
                       "angle"_a = degrees(s.span_best_rad), "part"_a = car.adjusters[s.adjuster].name);
  }
  if (v.source.travel.lock) print_lock(*v.source.travel.lock);
  print_gauges(car, v);
}

/// The car on its springs at rest, by the list that the window shows; nothing where the car file does not describe it.
std::optional<LoadSource> at_rest(const Variant& v) {
  const auto loaded = LoadedCar::of(v.model);
  if (!loaded) return std::nullopt;
  auto source = read_load(*loaded, {});
  return source ? std::optional(std::move(*source)) : std::nullopt;
}

void print_springs(const LoadSource& s) {
  std::cout << say("\non its springs, at rest\n");
  for (const FigurePlace& p : places_of(load_figures())) {
    const auto x = p.read(s);
    const std::string where = fmt::format("{}{}", p.end ? fmt::format("{} ", word(*p.end)) : "",
                                          p.side ? fmt::format("{} ", word(*p.side)) : "");
    std::cout << fmt::format("  {:<36} {}\n", where + word(p.figure->label),
                             x ? fmt::format("{:.{}f} {}", *x, p.figure->decimals, symbol(p.figure->unit)) : "none");
  }
}

}  // namespace

int report(const Inputs& inputs, Format format) {
  const auto both = load(inputs);
  if (!both) return refuse(both.error());
  const auto v = evaluate(both->car, both->setup, {}, report_curve_samples);
  if (!v) return refuse({fault_of(inputs, "", v.error().message, say("a setup with which the car can stand"))});
  const auto springs = at_rest(*v);
  if (format == Format::json) {
    Json j = report_json(both->car, *v);
    if (springs) j["on_springs"] = load_figures_json(*springs);
    std::cout << j.dump(2) << "\n";
  } else {
    print_report(both->car, *v);
    if (springs) print_springs(*springs);
  }
  return done;
}

}  // namespace lowkite::calc
