// Two setups side by side: parts, figures and gauges.
#include <cmath>
#include <filesystem>
#include <iostream>

#include <fmt/format.h>

#include "calc/inputs.hpp"
#include "core/figures/load_source.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_file.hpp"
#include "core/plan/difference.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {
namespace {

Json setting_json(const Adjuster& a, const Setting& s) {
  if (s.left == s.right) return value_to_json(a, s.left);
  return {{"left", value_to_json(a, s.left)}, {"right", value_to_json(a, s.right)}};
}

Json number_or_null(const std::optional<double>& v) {
  return v ? Json(*v) : Json(nullptr);
}

std::string text_of(const std::optional<double>& v, int decimals) {
  return v ? fmt::format("{:.{}f}", *v, decimals) : "none";
}

/// A figure or a gauge, told alike.
struct Line {
  std::string_view id;
  std::string label;
  std::string_view unit;
  End end{};
  Side side{};
  bool both_sides = true;
  std::optional<double> a, b;
  int decimals = 0;
  bool told = false;
};

Json json_of(const Line& l) {
  Json j{{"id", l.id},     {"axle", name_of(l.end)}, {"a", number_or_null(l.a)}, {"b", number_or_null(l.b)},
         {"unit", l.unit}, {"differs", l.told}};
  if (!l.both_sides) j["side"] = name_of(l.side);
  return j;
}

void print(const Line& l) {
  const std::string where = l.both_sides ? word(l.end) : fmt::format("{} {}", word(l.end), word(l.side));
  std::cout << fmt::format("  {:<12} {:<30} {:>10} {:>10} {}", where, l.label, text_of(l.a, l.decimals),
                           text_of(l.b, l.decimals), l.unit);
  if (l.a && l.b) std::cout << fmt::format("  {:+.{}f}", *l.b - *l.a, l.decimals + (l.told ? 0 : 1));
  std::cout << (l.told ? "\n" : say("  (no reading could tell)\n"));
}

}  // namespace

int compare(const CompareOptions& options) {
  const std::vector<std::string> files{options.a, options.b};
  std::vector<CarAndSetup> sheets;
  std::vector<Variant> variants;
  for (const std::string& file : files) {
    auto sheet = load_either(file, files);
    if (!sheet) return refuse(sheet.error());
    sheets.push_back(std::move(*sheet));
  }
  for (std::size_t i = 0; i < sheets.size(); ++i) {  // once they lie where they stay: a model points into its car
    auto variant = evaluate(sheets[i].car, sheets[i].setup, {}, fine_curve);
    if (!variant)
      return refuse({{std::filesystem::path(files[i]).filename().string(), "values", variant.error().message,
                      say("a setup with which the car can stand")}});
    variants.push_back(std::move(*variant));
  }
  const EvaluatedSetup a{sheets[0].car, variants[0]};
  const EvaluatedSetup b{sheets[1].car, variants[1]};
  const bool one_car = a.car.id == b.car.id;
  Json out{{"a", {{"car", a.car.name}, {"setup", sheets[0].setup.name}}},
           {"b", {{"car", b.car.name}, {"setup", sheets[1].setup.name}}},
           {"parts", Json::array()},
           {"figures", Json::array()},
           {"gauges", Json::array()}};
  const bool text = options.format != Format::json;
  if (text)
    std::cout << fmt::format("A: {} - {}\nB: {} - {}\n", a.car.name, sheets[0].setup.name, b.car.name,
                             sheets[1].setup.name);
  if (text) std::cout << (one_car ? say("\nparts\n") : say("\ntwo cars: compared by figures and gauges\n"));
  if (one_car) {
    for (const End end : both_ends) {
      const double x = sheets[0].setup.ride_height_mm[at(end)];
      const double y = sheets[1].setup.ride_height_mm[at(end)];
      if (x == y && !options.all) continue;
      if (text)
        std::cout << say("  {axle:<12} {what:<30} {was:>10} {is:>10} mm\n", "axle"_a = word(end),
                         "what"_a = say("ride height"), "was"_a = x, "is"_a = y);
      out["ride_height_mm"][std::string(name_of(end))] = {{"a", x}, {"b", y}};
    }
    for (const PartHandle i : differing_parts(a.car, sheets[0].setup, sheets[1].setup)) {
      const Adjuster& part = a.car.adjusters[i];
      const Json x = setting_json(part, sheets[0].setup.of(i));
      const Json y = setting_json(part, sheets[1].setup.of(i));
      if (text)
        std::cout << fmt::format("  {:<12} {:<30} {:>10} {:>10}\n", word(part.end), part.name, x.dump(), y.dump());
      out["parts"].push_back({{"adjuster", part.id}, {"a", x}, {"b", y}});
    }
  }
  const auto tell = [&](const Line& l, const char* list) {
    if (!options.all && !l.told) return;
    if (text)
      print(l);
    else
      out[list].push_back(json_of(l));
  };
  if (text) std::cout << say("\nfigures\n");
  for (const FigureDifference& d : figure_differences(a, b))
    tell({d.figure->id, word(d.figure->label), symbol(d.figure->unit), d.end, d.side, d.both_sides, d.a, d.b,
          d.figure->decimals, d.told},
         "figures");
  if (text) std::cout << say("\ngauges\n");
  for (const GaugeDifference& d : gauge_differences(a, b, BenchKit{})) {
    const GaugeSpec& g = d.gauge.spec();
    tell({g.id, word(d.gauge.label), symbol(g.unit), d.gauge.end, d.side, d.both_sides, d.a, d.b, g.decimals, d.told},
         "gauges");
  }
  std::vector<LoadSource> sources;
  for (const Variant& v : variants)
    if (const auto loaded = LoadedCar::of(v.model))
      if (auto source = read_load(*loaded, {1.0, 0.0})) sources.push_back(std::move(*source));
  if (sources.size() == 2) {
    if (text) std::cout << say("\non its springs, 1 g to the left\n");
    out["under_1_g"] = Json::array();
    for (const FigurePlace& p : places_of(load_figures())) {
      const FigureSpec& f = *p.figure;
      const auto x = p.read(sources[0]);
      const auto y = p.read(sources[1]);
      if (!x && !y) continue;
      const bool differs = !x || !y || std::abs(*y - *x) >= f.resolution();
      tell({f.id, word(f.label), symbol(f.unit), p.end.value_or(End::front), p.side.value_or(Side::left), !p.side, x, y,
            f.decimals, differs},
           "under_1_g");
    }
  }
  if (!text) std::cout << out.dump(2) << "\n";
  return done;
}

}  // namespace lowkite::calc
