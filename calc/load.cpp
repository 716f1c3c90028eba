// How the car stands on its springs: at rest, under acceleration, and what a collar does.
#include <cmath>
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "core/figures/figures.hpp"
#include "core/io/json_document.hpp"
#include "core/load/turn.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

/// The servo angle that was asked for, rad: by itself, by a radius, or by a speed.
tl::expected<double, Fault> servo_of(const LoadOptions& options, const CarModel& model) {
  if (options.servo_deg) {
    if (!model.steering)
      return tl::unexpected(Fault{"", "--servo", say("the car file describes no steering linkage"), "none"});
    return radians(*options.servo_deg);
  }
  std::optional<double> radius_mm;
  if (options.radius_m) radius_mm = 1000.0 * *options.radius_m;
  if (options.speed_m_s) radius_mm = radius_of(*options.speed_m_s, options.lateral_g);
  const auto servo = servo_under(model, {options.lateral_g, options.longitudinal_g}, radius_mm);
  if (!servo)
    return tl::unexpected(Fault{"", options.radius_m ? "--radius" : "--speed",
                                say("a turn of {:.2f} m: the steering does not turn that far", *radius_mm / 1000.0),
                                say("a wider turn")});
  return *servo;
}

Json json_of(const Balance& b) {
  Json j{{"roll_deg", degrees(b.attitude.roll_rad)},
         {"pitch_deg", degrees(b.pitch_rad)},
         {"cross_percent", 100.0 * b.cross()},
         {"left_percent", 100.0 * b.left()},
         {"plate_g", grams(b.plate_n)}};
  for (const End end : both_ends) {
    Json& axle = j["axles"][std::string(name_of(end))];
    axle["ride_height_mm"] = b.attitude.ride_height_mm[at(end)];
    axle["transfer_g"] = grams(b.transfer_n(end));
    for (const Side side : both_sides) {
      const WheelState& w = b.wheel[at(end)][at(side)];
      axle[std::string(name_of(side))] = {{"load_g", grams(w.load_n)},
                                          {"lateral_n", w.lateral_n},
                                          {"longitudinal_n", w.longitudinal_n},
                                          {"spring_n", w.spring_n},
                                          {"shock_mm", w.shock_mm},
                                          {"stroke_left_mm", w.stroke_left_mm},
                                          {"camber_deg", degrees(w.camber_rad)},
                                          {"toe_deg", degrees(w.toe_rad)},
                                          {"lifted", w.lifted}};
    }
  }
  return j;
}

/// Rounded to what is printed, so that nothing reads as "-0.00".
double plain(double v, double step) {
  const double rounded = std::round(v / step) * step;
  return rounded == 0.0 ? 0.0 : v;
}

/// Where the parts are that hold an axle's ride height.
std::string held_by(const CarModel& model, End end, const PerSide<double>& collars) {
  switch (spring_holder(*model.car, end)) {
    case SpringHolder::collars:
      return say("collar {:.2f} mm below its pin", collars[0]);
    case SpringHolder::spacers:
      return say("{needed:.2f} mm of spacers on its springs hold this height, {there:.2f} mm are in",
                 "needed"_a = collars[0],
                 "there"_a = model.corner(end, Side::left).geometry.size_of(Size::spring_spacer));
    case SpringHolder::pod:
      return say("collar in the middle {below:.2f} mm below its pin, left side screw {down:+.2f} mm down",
                 "below"_a = 0.5 * (collars[0] + collars[1]), "down"_a = plain(0.5 * (collars[0] - collars[1]), 0.01));
  }
  return {};
}

void print(const Balance& b) {
  std::cout << say(
      "  roll {roll:.2f} deg, pitch {pitch:.2f} deg nose down, cross weight {cross:.1f} %, left {left:.1f} %\n",
      "roll"_a = plain(degrees(b.attitude.roll_rad), 0.01), "pitch"_a = plain(degrees(b.pitch_rad), 0.01),
      "cross"_a = 100.0 * b.cross(), "left"_a = 100.0 * b.left());
  for (const End end : both_ends) {
    std::cout << say("  {axle:<5} ride height {height:.2f} mm", "axle"_a = word(end),
                     "height"_a = b.attitude.ride_height_mm[at(end)]);
    for (const Side side : both_sides) {
      const WheelState& w = b.wheel[at(end)][at(side)];
      std::cout << say(", {side} {load:.0f} g{lifted} camber {camber:.1f} deg", "side"_a = word(side),
                       "load"_a = grams(w.load_n), "lifted"_a = w.lifted ? say(" (lifted)") : "",
                       "camber"_a = plain(degrees(w.camber_rad), 0.1));
    }
    std::cout << "\n";
  }
}

void print_notes(const CarModel& model, const Balance& b) {
  for (const StandNote& note : notes_on(model, b)) std::cout << "  " << in_words(note) << "\n";
}

}  // namespace

Json load_figures_json(const LoadSource& s) {
  Json j;
  const auto value = [](const std::optional<double>& v) { return v ? Json(*v) : Json(); };
  for (const FigurePlace& p : places_of(load_figures())) {
    Json* entry = &j[std::string(p.figure->id)];
    if (p.end) entry = &(*entry)[std::string(name_of(*p.end))];
    if (p.side) entry = &(*entry)[std::string(name_of(*p.side))];
    *entry = value(p.read(s));
  }
  return j;
}

int load_car_on_springs(const LoadOptions& options) {
  const auto on = put_on_springs(options.inputs);
  if (!on) return refuse(on.error());
  const LoadedCar* loaded = &*(*on)->loaded;
  const Collars& collars = loaded->level_collars();
  const auto rest = loaded->balance(collars, {});
  if (!rest) return refuse({fault_of(options.inputs, "", rest.error().message, say("a setup that stands"))});
  const auto servo = servo_of(options, loaded->model());
  if (!servo) return refuse({servo.error()});
  const auto moving = loaded->balance(collars, {options.lateral_g, options.longitudinal_g}, *servo);
  if (!moving)
    return refuse({fault_of(options.inputs, say("at {} g", options.lateral_g), moving.error().message, "less")});
  const bool text = options.format != Format::json;
  Json out{{"at_rest", json_of(*rest)}, {"moving", json_of(*moving)}};
  out["moving"]["servo_deg"] = degrees(*servo);
  for (const StandNote& note : notes_on(loaded->model(), *moving)) out["moving"]["notes"].push_back(in_words(note));
  if (const auto source = read_load(*loaded, {options.lateral_g, options.longitudinal_g}, *servo))
    out["figures"] = load_figures_json(*source);
  if (text) {
    std::cout << say("{car} - {setup}\n\nat rest\n", "car"_a = (*on)->files.car.name,
                     "setup"_a = (*on)->files.setup.name);
    print(*rest);
    print_notes(loaded->model(), *rest);
    std::cout << say("\n{left:.2f} g to the left, {forward:.2f} g forward, servo {servo:.1f} deg to the left\n",
                     "left"_a = options.lateral_g, "forward"_a = options.longitudinal_g,
                     "servo"_a = plain(degrees(*servo), 0.1));
    print(*moving);
    print_notes(loaded->model(), *moving);
    std::cout << "\n";
  }
  for (const End end : both_ends) {
    const AxleRates r = loaded->rates(end);
    if (text)
      std::cout << say(
          "{axle:<5} at the wheel {rate:.3f} N/mm, {frequency:.1f} Hz; roll {roll:.0f} N mm/deg, {bar:.0f} of it by "
          "the bar; sag {sag:.1f} mm; "
          "{held}\n",
          "axle"_a = word(end), "rate"_a = r.wheel_n_per_mm, "frequency"_a = r.ride_hz, "roll"_a = r.roll_n_mm_per_deg,
          "bar"_a = r.roll_by_bar_n_mm_per_deg, "sag"_a = r.sag_mm,
          "held"_a = held_by(loaded->model(), end, collars[at(end)]));
    out["rates"][std::string(name_of(end))] = {
        {"wheel_n_per_mm", r.wheel_n_per_mm},
        {"ride_hz", r.ride_hz},
        {"roll_n_mm_per_deg", r.roll_n_mm_per_deg},
        {"roll_by_bar_n_mm_per_deg", r.roll_by_bar_n_mm_per_deg},
        {"sag_mm", r.sag_mm},
        {"damping_n_s_per_mm", r.damping_n_s_per_mm ? Json(*r.damping_n_s_per_mm) : Json()},
        {"roll_damping_n_s_per_mm", r.roll_damping_n_s_per_mm ? Json(*r.roll_damping_n_s_per_mm) : Json()},
        {"wheel_n_per_mm_going_out", r.wheel_n_per_mm_going_out ? Json(*r.wheel_n_per_mm_going_out) : Json()},
        {"damping_ratio", r.damping_ratio ? Json(*r.damping_ratio) : Json()},
        {"collar_mm", collars[at(end)][0]}};
  }
  const auto gradient = loaded->roll_gradient_deg_per_g();
  out["roll_gradient_deg_per_g"] = gradient ? Json(*gradient) : Json();
  const auto on_tyres = loaded->roll_on_tyres_deg_per_g();
  out["roll_on_tyres_deg_per_g"] =
      on_tyres ? Json{{"likely", on_tyres->likely}, {"on_hard", on_tyres->on_hard}, {"on_soft", on_tyres->on_soft}}
               : Json();
  if (text && gradient) std::cout << say("roll gradient {:.2f} deg/g", *gradient);
  if (text && gradient && on_tyres)
    std::cout << say(
        ", {likely:.2f} with tyres that give ({hard:.2f} on the hardest they may be, {soft:.2f} on the softest)",
        "likely"_a = on_tyres->likely, "hard"_a = on_tyres->on_hard, "soft"_a = on_tyres->on_soft);
  if (text && gradient) std::cout << "\n\n";
  if (text) std::cout << say("one collar 1 mm further down (or as much more spacer)\n");
  for (const CollarMove& move : collar_moves((*on)->files.car)) {
    Collars turned = collars;
    for (const Side side : both_sides) turned[at(move.end)][at(side)] += move.per_mm[at(side)];
    const auto b = loaded->balance(turned, {}, 0.0, &*rest);
    if (!b) continue;
    if (text) {
      std::cout << say(
          "  {axle:<5} {what:<11} cross {cross:+.2f} %, ride height front {front:+.2f} rear {rear:+.2f} mm; ",
          "axle"_a = word(move.end), "what"_a = word(move.what), "cross"_a = 100.0 * (b->cross() - rest->cross()),
          "front"_a = b->attitude.ride_height_mm[0] - rest->attitude.ride_height_mm[0],
          "rear"_a = b->attitude.ride_height_mm[1] - rest->attitude.ride_height_mm[1]);
      for (const End e : both_ends)
        for (const Side s : both_sides)
          std::cout << fmt::format("{}{} {:+.0f} g", e == End::front && s == Side::left ? "" : ", ",
                                   e == End::front ? (s == Side::left ? "FL" : "FR") : (s == Side::left ? "RL" : "RR"),
                                   grams(b->wheel[at(e)][at(s)].load_n - rest->wheel[at(e)][at(s)].load_n));
      std::cout << "\n";
    }
    out["one_mm_of_collar"][std::string(name_of(move.end))][std::string(name_of(move.what))] = json_of(*b);
  }
  if (!text) std::cout << out.dump(2) << "\n";
  return done;
}

}  // namespace lowkite::calc
